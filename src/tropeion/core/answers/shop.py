"""In a shop: a lens that is not owned, known by its mount and focal length, against every body at hand."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from pydantic import ValidationError

from tropeion.core.gear.kit import free_id, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice

from .engraving import read_engraving
from .fits import FitsReport, what_fits
from .labels import read_label
from .usual import usual_values

__all__ = ["GenerationChoice", "LensRead", "LensSeen", "WouldFit", "read_lens", "would_fit"]

_LONGEST = 400


@dataclass(frozen=True, slots=True)
class LensRead:
    """What is engraved on a lens: its mount, surely or perhaps; focal length and widest stop where they are said.

    Those of the long end are a zoom's alone.
    """

    mount: str | None
    sure: bool
    focal_mm: float | None
    focal_long_mm: float | None
    f_number: float | None
    f_number_at_long_end: float | None
    t_number: float | None
    doubts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class GenerationChoice:
    """A generation that the lens may be of."""

    id: str
    label: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class WouldFit:
    """Every body at hand for such a lens, best first, with what would have to be bought; what was assumed of it.

    ``generations`` are there where they decide what may be done, with the one that was asked for.
    """

    name: str
    assumed: tuple[str, ...]
    generations: tuple[GenerationChoice, ...]
    report: FitsReport


def read_lens(world: World, text: str) -> LensRead:
    """Read what is engraved on a lens, or written beside it on a shelf."""
    names = [name for mount in world.gear.mounts for name in (mount.name, *mount.aliases) if re.search(r"\d", name)]
    engraving = read_engraving(text[:_LONGEST], sorted(names, key=len, reverse=True))
    label = read_label(world, engraving.rest)
    ends = sorted((*label.lens_side, *label.body_side), key=lambda end: -end.confidence)
    known = {"one_end_missing", "ends_may_be_swapped", "unread", "length_said"}
    doubts = [doubt.text for doubt in label.doubts if doubt.code not in known and ends]
    focal, stops = engraving.focal_mm, engraving.f_numbers
    zooms = focal is not None and focal[0] != focal[1]
    return LensRead(
        mount=ends[0].mount if ends else None,
        sure=len({end.mount for end in ends}) == 1,
        focal_mm=focal[0] if focal else None,
        focal_long_mm=focal[1] if focal and zooms else None,
        f_number=stops[0] if stops else None,
        f_number_at_long_end=stops[1] if stops and zooms and stops[0] != stops[1] else None,
        t_number=engraving.t_number,
        doubts=(*engraving.doubts, *doubts),
    )


@dataclass(frozen=True, slots=True)
class LensSeen:
    """What is known of a lens that is not in the collection; the long end is a zoom's alone."""

    mount: str
    focal_mm: float
    f_number: float | None = None
    focal_long_mm: float | None = None
    f_number_at_long_end: float | None = None
    generation: str | None = None


def would_fit(world: World, seen: LensSeen, practice: Practice) -> WouldFit:
    """A lens of which no more is known than this, on every body at hand; all bodies, if none is.

    What is usual for the mount is assumed of it. Raises UnknownIdError for a mount that is not in the collection.
    """
    mount_id, focal_mm = seen.mount, seen.focal_mm
    mount = world.mount(mount_id)
    usual = usual_values(world, "lenses", mount_id)
    id_ = free_id("the-lens", world.lenses)
    widest = seen.f_number or next(
        (v.value[0] for v in usual.assumed if v.field == "f_number" and isinstance(v.value, tuple)), 2.0
    )
    if seen.generation is not None and all(one.id != seen.generation for one in mount.generations):
        raise UnknownIdError("generation", seen.generation, tuple(one.id for one in mount.generations))
    focal_mm, longest = sorted((focal_mm, seen.focal_long_mm or focal_mm))
    focal = f"{focal_mm:g}" if longest == focal_mm else f"{focal_mm:g}–{longest:g}"
    slowest = seen.f_number_at_long_end if longest != focal_mm else None
    bare = {
        "id": id_,
        "name": f"{mount.name[:100]} {focal}",
        "mount": mount_id,
        "generation": seen.generation,
        "focal_length_mm": (focal_mm, longest),
        "f_number": (float(widest), max(16.0, float(widest), slowest or 0.0)),
        "f_number_at_long_end": slowest,
    }
    told = {one.field: one.value for one in (*usual.sure, *usual.assumed) if bare.get(one.field) is None}
    try:
        lens = Lens.model_validate({**bare, **told})
    except ValidationError:
        told = {}
        lens = Lens.model_validate(bare)
    report = what_fits(
        compile_world(with_entry(world.gear, "lenses", id_, lens), like=world), lens=id_, practice=practice
    )
    at_hand = tuple(fit for fit in report.fits if fit.owned)
    choices = tuple(
        GenerationChoice(one.id, one.label, one.id == seen.generation) for one in mount.generations if mount.rules
    )
    return WouldFit(lens.name, tuple(told), choices, replace(report, fits=at_hand or report.fits))
