"""In a shop: a lens that is not owned, known by its mount and focal length, against every body at hand."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from pydantic import ValidationError

from tropeion.core.gear.kit import free_id, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice

from .fits import FitsReport, what_fits
from .labels import read_label
from .usual import usual_values

__all__ = ["LensRead", "WouldFit", "read_lens", "would_fit"]


@dataclass(frozen=True, slots=True)
class LensRead:
    """What is engraved on a lens: its mount, surely or perhaps; focal length and widest stop where they are said."""

    mount: str | None
    sure: bool
    focal_mm: float | None
    f_number: float | None
    doubts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class WouldFit:
    """Every body at hand for such a lens, best first, with what would have to be bought; what was assumed of it."""

    name: str
    assumed: tuple[str, ...]
    report: FitsReport


# 55/2.2 · 55 mm f/2.2 · 1:2.2/55 · 2.2/55
_PATTERNS = (
    re.compile(r"1\s*:\s*(?P<f>\d{1,2}(?:[.,]\d+)?)\s*/\s*(?P<mm>\d{1,4}(?:[.,]\d)?)"),
    re.compile(
        r"(?<![\d.,])(?P<mm>\d{1,4}(?:[.,]\d)?)\s*mm\b(?:\s*(?:f\s*/?|1\s*:|/)\s*(?P<f>\d{1,2}(?:[.,]\d+)?))?",
        re.IGNORECASE,
    ),
    re.compile(r"(?<![\d.,/])(?P<f>\d{1,2}[.,]\d+)\s*/\s*(?P<mm>\d{2,4})(?![\d.,])"),
    re.compile(r"(?<![\d.,/])(?P<mm>\d{1,4}(?:[.,]\d)?)\s*/\s*(?P<f>\d{1,2}(?:[.,]\d+)?)(?![\d,])"),
    re.compile(r"(?<![\d.,/x×*M])(?P<mm>\d{1,4})(?![\d.,]|\s*[x×*])", re.IGNORECASE),
)


def read_lens(world: World, text: str) -> LensRead:
    """Read what is engraved on a lens, or written beside it on a shelf."""
    found = next((match for pattern in _PATTERNS if (match := pattern.search(text))), None)
    rest = text if found is None else f"{text[: found.start()]} {text[found.end() :]}"
    label = read_label(world, rest)
    ends = sorted((*label.lens_side, *label.body_side), key=lambda end: -end.confidence)
    marks = {} if found is None else found.groupdict()
    numbers = {key: float(value.replace(",", ".")) if value else None for key, value in marks.items()}
    known = {"one_end_missing", "ends_may_be_swapped"}
    return LensRead(
        mount=ends[0].mount if ends else None,
        sure=len({end.mount for end in ends}) == 1,
        focal_mm=numbers.get("mm") or None,
        f_number=numbers.get("f") or None,
        doubts=tuple(doubt.text for doubt in label.doubts if doubt.code not in known and ends),
    )


def would_fit(world: World, mount_id: str, focal_mm: float, f_number: float | None, practice: Practice) -> WouldFit:
    """A lens of which no more is known than this, on every body at hand; all bodies, if none is.

    What is usual for the mount is assumed of it. Raises UnknownIdError for a mount that is not in the collection.
    """
    mount = world.mount(mount_id)
    usual = usual_values(world, "lenses", mount_id)
    id_ = free_id("the-lens", world.lenses)
    widest = f_number or next(
        (v.value[0] for v in usual.assumed if v.field == "f_number" and isinstance(v.value, tuple)), 2.0
    )
    bare = {
        "id": id_,
        "name": f"{mount.name[:100]} {focal_mm:g}",
        "mount": mount_id,
        "focal_length_mm": (focal_mm, focal_mm),
        "f_number": (float(widest), max(16.0, float(widest))),
    }
    told = {one.field: one.value for one in (*usual.sure, *usual.assumed) if one.field != "f_number"}
    try:
        lens = Lens.model_validate({**bare, **told})
    except ValidationError:
        told = {}
        lens = Lens.model_validate(bare)
    report = what_fits(
        compile_world(with_entry(world.gear, "lenses", id_, lens), like=world), lens=id_, practice=practice
    )
    at_hand = tuple(fit for fit in report.fits if fit.owned)
    return WouldFit(lens.name, tuple(told), replace(report, fits=at_hand or report.fits))
