"""What a change would do to the whole kit: a body sold or bought, lenses converted, a ring's length as measured."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from tropeion.core.findings import Grade, rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.field_types import Id, Strict
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.world import UnknownIdError, World, compile_world

from .grid import Cell, Grid, GridReport, grid_of


class GridChange(Strict):
    """One change that is thought of. ``mount`` is what a lens is converted to, ``length_mm`` what a ring measures."""

    what: Literal["sold", "bought", "converted", "measured"]
    id: Id
    mount: Id | None = None
    length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] | None = None


@frozen
class PairDiffers:
    """A lens on a body that is there, before and after: with what is at hand, and with all that is listed.

    None where the pair is not there, or nothing joins it.
    """

    lens: str
    lens_name: str
    body: str
    body_name: str
    before: Grade | None
    after: Grade | None
    could_before: Grade | None
    could_after: Grade | None


@frozen
class GridDifference:
    """Pairs that differ, the best gains first. ``stranded`` and ``freed`` are lenses at hand, by name.

    ``better`` and ``worse`` count what works with what is at hand.
    """

    pairs: tuple[PairDiffers, ...]
    better: int
    worse: int
    stranded: tuple[str, ...]
    freed: tuple[str, ...]


def change_of_grid(grid: Grid, changes: Sequence[GridChange]) -> GridDifference:
    """What some changes together would do. Raises UnknownIdError; ValueError where a change lacks its mount or length.

    Pairs of a lens and a body that are both there count.
    """
    gear = grid.world.gear
    for change in changes:
        gear = _changed(grid.world, gear, change)
    world = compile_world(gear, grid.world)
    return difference_of(grid.report, grid_of(world, grid.practice, grid).report, there=True)


def _changed(world: World, gear: Gear, change: GridChange) -> Gear:
    kinds: tuple[Kind, ...] = ("bodies", "lenses", "adapters")
    if change.what == "converted":
        lens = next((lens for lens in gear.lenses if lens.id == change.id), None) or world.lens(change.id)
        if change.mount is None:
            raise ValueError("which mount the lens is converted to")
        mount = world.mount(change.mount)
        less = {"measured_register_mm": None, "measured_tolerance_mm": None, "features": None, "generation": None}
        return with_entry(
            gear, "lenses", lens.id, lens.model_copy(update={"mount": mount.id, "conversion": "third_party", **less})
        )
    if change.what == "measured":
        adapter = next((adapter for adapter in gear.adapters if adapter.id == change.id), None) or world.adapter(
            change.id
        )
        if change.length_mm is None:
            raise ValueError("what the ring measures")
        return with_entry(
            gear, "adapters", adapter.id, adapter.model_copy(update={"measured_length_mm": change.length_mm})
        )
    for kind in kinds:
        for value in getattr(gear, kind):
            if value.id == change.id:
                if change.what == "bought":
                    return with_entry(gear, kind, value.id, value.model_copy(update={"owned": value.owned + 1}))
                left = {"owned": value.owned - 1} if value.owned else {"borrowed": max(0, value.borrowed - 1)}
                return with_entry(gear, kind, value.id, value.model_copy(update=left))
    raise UnknownIdError("body", change.id, ())


def difference_of(before: GridReport, after: GridReport, *, there: bool = False) -> GridDifference:
    """Where two grids of the same lenses and bodies differ; ``there``: pairs count that are at hand on their side."""
    was = {(cell.lens, cell.body): cell for cell in before.cells}
    names = {ends.id: ends.name for report in (before, after) for ends in (*report.lenses, *report.bodies)}
    here, then = (_present(report) if there else None for report in (before, after))
    difference = []
    for cell in after.cells:
        pair = cell.lens, cell.body
        old, new = _told(was.get(pair), here), _told(cell, then)
        if old != new:
            difference.append(
                PairDiffers(cell.lens, names[cell.lens], cell.body, names[cell.body], old[0], new[0], old[1], new[1])
            )
    gains = [_rank(differs.after) - _rank(differs.before) for differs in difference]
    difference.sort(
        key=lambda differs: (
            -(_rank(differs.after) - _rank(differs.before)),
            -(_rank(differs.could_after) - _rank(differs.could_before)),
            differs.lens_name,
            differs.body_name,
        )
    )
    lone, free = _stranded(before), _stranded(after)
    return GridDifference(
        pairs=tuple(difference),
        better=sum(gain > 0 for gain in gains),
        worse=sum(gain < 0 for gain in gains),
        stranded=tuple(sorted(names[id_] for id_ in free - lone)),
        freed=tuple(sorted(names[id_] for id_ in lone - free)),
    )


Present = tuple[frozenset[str], frozenset[str]]


def _present(report: GridReport) -> Present:
    return (
        frozenset(lens.id for lens in report.lenses if lens.at_hand),
        frozenset(body.id for body in report.bodies if body.at_hand),
    )


def _told(cell: Cell | None, present: Present | None) -> tuple[Grade | None, Grade | None]:
    if cell is None or (present is not None and not (cell.lens in present[0] and cell.body in present[1])):
        return None, None
    return cell.owned_grade, cell.market_grade


def _rank(grade: Grade | None) -> int:
    return -1 if grade is None else rank(grade)


def _stranded(report: GridReport) -> frozenset[str]:
    """Lenses at hand that work on no body that is there."""
    return frozenset(lens.id for lens in report.lenses if lens.at_hand and not lens.on_hand)


@frozen
class LensDiffers:
    """A lens on two bodies."""

    lens: str
    lens_name: str
    one: Grade | None
    other: Grade | None
    could_one: Grade | None
    could_other: Grade | None


def two_bodies(report: GridReport, one: str, other: str) -> tuple[LensDiffers, ...]:
    """The lenses that two bodies do not take alike, those that the first takes better first."""
    cells = {(cell.lens, cell.body): cell for cell in report.cells}
    difference = []
    for lens in report.lenses:
        here, there = cells[lens.id, one], cells[lens.id, other]
        told = (here.owned_grade, here.market_grade), (there.owned_grade, there.market_grade)
        if told[0] != told[1]:
            difference.append(LensDiffers(lens.id, lens.name, told[0][0], told[1][0], told[0][1], told[1][1]))
    difference.sort(
        key=lambda each: (
            _rank(each.other) - _rank(each.one),
            _rank(each.could_other) - _rank(each.could_one),
            each.lens_name,
        )
    )
    return tuple(difference)
