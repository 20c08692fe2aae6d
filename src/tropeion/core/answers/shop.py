"""In a shop: a lens that is not owned, known by its mount and focal length, against every body at hand."""

from __future__ import annotations

import re
from dataclasses import replace

from pydantic import ValidationError

from tropeion.core.frozen import frozen
from tropeion.core.gear.kit import free_id, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice

from .engraving import read_engraving
from .fits import FitsReport, what_fits
from .labels import read_label
from .usual_fields import usual_values

_LONGEST = 400


@frozen
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


@frozen
class GenerationChoice:
    """A generation that the lens may be of."""

    id: str
    label: str
    chosen: bool


@frozen
class WouldFit:
    """Every body at hand for such a lens, best first, with what would have to be bought; what was assumed of it.

    By its ``id`` the lens can be asked for as if it were in the collection. ``generations`` are there where they decide
    what may be done, with the one that was asked for.
    """

    name: str
    id: str | None
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


@frozen
class LensSeen:
    """What is known of a lens that is not in the collection; the long end is a zoom's alone."""

    mount: str
    focal_mm: float
    f_number: float | None = None
    focal_long_mm: float | None = None
    f_number_at_long_end: float | None = None
    generation: str | None = None

    @property
    def id(self) -> str | None:
        """An id by which it can be asked for like one of the collection; None where it would be too long."""
        focal = _ends(self.focal_mm, self.focal_long_mm)
        stops = "" if self.f_number is None else _ends(self.f_number, self.f_number_at_long_end)
        id_ = _BETWEEN.join((_SEEN, self.mount, focal, stops, self.generation or "")).rstrip(".")
        return id_ if len(id_) <= _LONGEST_ID else None


# The characters that an id may hold.
_SEEN, _BETWEEN, _LONGEST_ID = "seen", "..", 64


def _ends(one: float, other: float | None) -> str:
    return f"{one:g}" if other is None or other == one else f"{one:g}-{other:g}"


def seen_of(id_: str) -> LensSeen | None:
    """The lens that a ``seen..`` id describes; None for any other id."""
    kind, *parts = id_.split(_BETWEEN)
    if kind != _SEEN or not 2 <= len(parts) <= 4:
        return None
    mount, focal, stops, generation = (*parts, "", "")[:4]
    try:
        ends = [float(part) for part in focal.split("-")]
        wide = [float(part) for part in stops.split("-")] if stops else []
    except ValueError:
        return None
    if not 1 <= len(ends) <= 2 or len(wide) > 2 or not all(0.1 <= value <= 10_000 for value in (*ends, *wide)):
        return None
    return LensSeen(
        mount,
        ends[0],
        wide[0] if wide else None,
        ends[1] if len(ends) > 1 else None,
        wide[1] if len(wide) > 1 else None,
        generation or None,
    )


def world_with(world: World, lens_id: str) -> World:
    """The world with a lens that was seen, if the id tells of one."""
    if lens_id in world.lenses or seen_of(lens_id) is None:
        return world
    return _with_seen(world, lens_id)


@kept(most=8)
def _with_seen(world: World, lens_id: str) -> World:
    seen = seen_of(lens_id)
    assert seen is not None
    return compile_world(with_entry(world.gear, "lenses", lens_id, _lens_of(world, seen, lens_id)), like=world)


def would_fit(world: World, seen: LensSeen, practice: Practice) -> WouldFit:
    """A lens of which no more is known than this, on every body at hand; all bodies, if none is.

    What is usual for the mount is assumed of it. Raises UnknownIdError for a mount that is not in the collection.
    """
    mount = world.mount(seen.mount)
    id_ = free_id("the-lens", world.lenses)
    lens = _lens_of(world, seen, id_)
    report = what_fits(
        compile_world(with_entry(world.gear, "lenses", id_, lens), like=world), lens=id_, practice=practice
    )
    at_hand = tuple(fit for fit in report.fits if fit.owned)
    choices = tuple(
        GenerationChoice(generation.id, generation.label, generation.id == seen.generation)
        for generation in mount.generations
        if mount.rules
    )
    return WouldFit(lens.name, seen.id, lens.assumed, choices, replace(report, fits=at_hand or report.fits))


def _lens_of(world: World, seen: LensSeen, id_: str) -> Lens:
    """A lens of which no more is known, with what is usual for its mount assumed."""
    mount = world.mount(seen.mount)
    if seen.generation is not None and all(generation.id != seen.generation for generation in mount.generations):
        raise UnknownIdError("generation", seen.generation, tuple(generation.id for generation in mount.generations))
    usual = usual_values(world, "lenses", mount.id)
    widest = seen.f_number or next(
        (v.value[0] for v in usual.assumed if v.field == "f_number" and isinstance(v.value, tuple)), 2.0
    )
    shortest, longest = sorted((seen.focal_mm, seen.focal_long_mm or seen.focal_mm))
    slowest = seen.f_number_at_long_end if longest != shortest else None
    bare = {
        "id": id_,
        "name": f"{mount.name[:100]} {_ends(shortest, longest).replace('-', '–')}",
        "mount": mount.id,
        "generation": seen.generation,
        "focal_length_mm": (shortest, longest),
        "f_number": (float(widest), max(16.0, float(widest), slowest or 0.0)),
        "f_number_at_long_end": slowest,
    }
    told = {
        usual_value.field: usual_value.value
        for usual_value in (*usual.sure, *usual.assumed)
        if bare.get(usual_value.field) is None
    }
    try:
        return Lens.model_validate({**bare, **told, "assumed": tuple(told)})
    except ValidationError:
        return Lens.model_validate(bare)
