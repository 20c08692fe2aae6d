"""What the worker measures of a picture that it has decoded, as plain values; taken up again outside."""

from __future__ import annotations

import base64
import dataclasses
import hashlib
import io
from collections.abc import Iterator, Sequence
from typing import IO, Any, Final

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.measured.finding import RefusedAt, find_edges
from tropeion.core.measured.lit import FallenTo, LitFrame, lit_frame
from tropeion.core.measured.slanted import EdgeMeasured, Mtf, RefusedEdgeError, measure_edge

from .decoding import Decoded, decoded

# The small copies in which edges are searched for, and circles found.
_SEARCH_SIDE: Final = 1600
_LIT_SIDE: Final = 1200
_VIEW_SIDE: Final = 1600
# A picture no wider than this may be one edge, cut out.
_CUT_OUT_PX: Final = 320
# More of the curve is kept of nothing: beyond it a sensor tells lies.
_KEPT_TO: Final = 0.75


@frozen
class PictureMeasured:
    """A picture with what was measured of it. ``as_sharpened``: its camera sharpened it, a JPEG."""

    width: int
    height: int
    as_sharpened: bool
    size: int
    sha256: str
    edges: tuple[EdgeMeasured, ...] = ()
    refused: tuple[RefusedAt, ...] = ()
    lit: LitFrame | None = None
    view: bytes | None = None


def measured(file: IO[bytes], asked: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """The answer of the worker, progress before it. Raises UndecodedError, ValueError."""
    size, digest = _digest(file)
    yield {"progress": 0.1}
    picture = decoded(file)
    head: dict[str, Any] = {
        "width": picture.width,
        "height": picture.height,
        "as_sharpened": picture.as_sharpened,
        "size": size,
        "sha256": digest,
    }
    yield {"progress": 0.3}
    match asked["what"]:
        case "lit":
            light, scale = picture.evenly(_LIT_SIDE)
            yield head | {"lit": _scaled(lit_frame(light), scale)}
        case "regions":
            yield head | _of_regions(picture, asked["regions"])
        case "edges":
            small, scale = picture.small(_SEARCH_SIDE)
            yield {"progress": 0.5}
            found = find_edges(small, scale, picture.region, clips_at=picture.clips_at)
            whole = None if found.edges else _as_one_edge(picture)
            if whole is not None:
                yield head | {"edges": [_plain(whole)], "refused": []}
                return
            yield head | {
                "edges": [_plain(edge) for edge in found.edges],
                "refused": [dataclasses.asdict(one) for one in found.refused],
            }
        case "view":
            yield head | {"view": _view(picture)}
        case _:
            yield head


def _as_one_edge(picture: Decoded) -> EdgeMeasured | None:
    """A cut-out that is one edge and little beside it; None where it is none, or no cut-out."""
    if min(picture.width, picture.height) > _CUT_OUT_PX or max(picture.width, picture.height) > 4 * _CUT_OUT_PX:
        return None
    try:
        return measure_edge(picture.region(0, 0, picture.width, picture.height), clips_at=picture.clips_at)
    except RefusedEdgeError:
        return None


def _view(picture: Decoded) -> str:
    """A small JPEG of the light that is measured, in greys: for pictures that no browser shows."""
    from PIL import Image  # noqa: PLC0415  what measures needs none of it

    small, _ = picture.small(_VIEW_SIDE)
    target = io.BytesIO()
    Image.fromarray(np.clip(small * 255, 0, 255).astype(np.uint8)).save(target, "JPEG", quality=85)
    return base64.b64encode(target.getvalue()).decode()


def _digest(file: IO[bytes]) -> tuple[int, str]:
    digest, size = hashlib.sha256(), 0
    file.seek(0)
    while part := file.read(1 << 20):
        digest.update(part)
        size += len(part)
    file.seek(0)
    return size, digest.hexdigest()


def _of_regions(picture: Decoded, regions: Sequence[Sequence[int]]) -> dict[str, Any]:
    edges, refused = [], []
    for x, y, width, height in regions:
        try:
            part = picture.region(x, y, width, height)
            edges.append(_plain(measure_edge(part, at=(max(0, x), max(0, y)), clips_at=picture.clips_at)))
        except RefusedEdgeError as error:
            refused.append({"x": x + width / 2, "y": y + height / 2, "why": error.why})
    return {"edges": edges, "refused": refused}


def _plain(edge: EdgeMeasured) -> dict[str, Any]:
    kept = [number for number, f in enumerate(edge.mtf.frequencies) if f <= _KEPT_TO]
    mtf = Mtf(tuple(edge.mtf.frequencies[n] for n in kept), tuple(edge.mtf.values[n] for n in kept))
    return dataclasses.asdict(dataclasses.replace(edge, mtf=mtf))


def _scaled(found: LitFrame, scale: float) -> dict[str, Any]:
    """In pixels of the picture itself."""

    def times(value: float | None) -> float | None:
        return None if value is None else value * scale

    return dataclasses.asdict(
        dataclasses.replace(
            found,
            circle_px=times(found.circle_px),
            doubt_px=times(found.doubt_px),
            at_least_px=times(found.at_least_px),
            centre=(found.centre[0] * scale, found.centre[1] * scale),
            falls=tuple(FallenTo(one.stops, one.radius_px * scale) for one in found.falls),
        )
    )


def taken_up(answer: dict[str, Any]) -> PictureMeasured:
    """The answer of the worker as what it was."""
    lit, view = answer.get("lit"), answer.get("view")
    return PictureMeasured(
        width=answer["width"],
        height=answer["height"],
        as_sharpened=answer["as_sharpened"],
        size=answer["size"],
        sha256=answer["sha256"],
        edges=tuple(_edge(one) for one in answer.get("edges", ())),
        refused=tuple(RefusedAt(**one) for one in answer.get("refused", ())),
        lit=None if lit is None else _lit(lit),
        view=None if view is None else base64.b64decode(view),
    )


def _lit(plain: dict[str, Any]) -> LitFrame:
    falls = tuple(FallenTo(**one) for one in plain["falls"])
    return LitFrame(**{**plain, "centre": tuple(plain["centre"]), "falls": falls})


def _edge(plain: dict[str, Any]) -> EdgeMeasured:
    mtf = Mtf(tuple(plain["mtf"]["frequencies"]), tuple(plain["mtf"]["values"]))
    return EdgeMeasured(**{**plain, "mtf": mtf})
