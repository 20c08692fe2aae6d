"""What was used: by rig, how often and when last, what it cost; and what would be lost if a lens were sold."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from tropeion.core.frozen import frozen
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.log.log_file import FiledEntry
from tropeion.core.log.log_words import name_of, rig_said

from .grid import Grid

# A lens that was not used for so long is named.
UNUSED_DAYS = 2 * 365
# Another lens gives the view where its focal length is as near as this.
_SAME_VIEW = 0.1


@frozen
class UsedRig:
    """A rig as it was used. ``price`` is what all of it cost; None: some of it has no price. ``outings`` are days."""

    lens: str
    lens_name: str
    body: str
    via: tuple[str, ...]
    rig_name: str
    body_name: str
    frames: int
    outings: int
    last: str
    price: float | None


@frozen
class LensLost:
    """What goes with a lens: kept rigs by name, bodies that it works on now, and focal lengths nothing else gives.

    ``last`` is when it was used; None: never, as far as the log knows.
    """

    lens: str
    name: str
    last: str | None
    unused: bool
    rigs: tuple[str, ...]
    bodies: tuple[str, ...]
    views: tuple[str, ...]


@frozen
class UsedReport:
    """The rigs by frames, and every lens that is owned, the longest unused first."""

    rigs: tuple[UsedRig, ...]
    lenses: tuple[LensLost, ...]
    currency: str


def used_report(grid: Grid, entries: Sequence[FiledEntry], today: date) -> UsedReport:
    """What the log says of rigs, and the whole kit of lenses."""
    world = grid.world
    rigs: dict[tuple[str, str, tuple[str, ...]], list[FiledEntry]] = {}
    for entry in entries:
        if entry.struck is None:
            rigs.setdefault((entry.lens, entry.body, entry.via), []).append(entry)
    used = [_rig(world, key, of_rig) for key, of_rig in rigs.items()]
    last: dict[str, str] = {}
    for rig in used:
        last[rig.lens] = max(rig.last, last.get(rig.lens, ""))
    owned = [lens for lens in world.gear.lenses if lens.at_hand and not lens.retired]
    lost = [_lost(grid, lens, owned, last.get(lens.id), today) for lens in owned]
    return UsedReport(
        rigs=tuple(sorted(used, key=lambda rig: (-rig.frames, rig.rig_name))),
        lenses=tuple(sorted(lost, key=lambda lens: (lens.last or "", lens.name))),
        currency=world.gear.currency,
    )


def _rig(world: World, key: tuple[str, str, tuple[str, ...]], entries: Sequence[FiledEntry]) -> UsedRig:
    lens, body, via = key
    days = {entry.at[:10] for entry in entries}
    pieces = [world.lenses.get(lens), *(world.adapters.get(id_) for id_ in via), world.bodies.get(body)]
    prices = [None if piece is None else piece.price for piece in pieces]
    known = [price for price in prices if price is not None]
    return UsedRig(
        lens=lens,
        lens_name=name_of(world, lens),
        body=body,
        via=via,
        rig_name=rig_said(world, entries[0]),
        body_name=name_of(world, body),
        frames=sum(entry.frames for entry in entries),
        outings=len(days),
        last=max(days),
        price=sum(known) if len(known) == len(prices) else None,
    )


def _lost(grid: Grid, lens: Lens, owned: Sequence[Lens], last: str | None, today: date) -> LensLost:
    world = grid.world
    works = {(cell.lens, cell.body) for cell in grid.report.cells if cell.works_now}
    bodies = [body for body in world.gear.bodies if (lens.id, body.id) in works and body.at_hand]
    views = []
    for body in bodies:
        others = [one for one in owned if one.id != lens.id and (one.id, body.id) in works]
        for mm in dict.fromkeys(lens.focal_length_mm):
            gives = any(
                one.focal_length_mm[0] * (1 - _SAME_VIEW) <= mm <= one.focal_length_mm[1] * (1 + _SAME_VIEW)
                for one in others
            )
            if not gives:
                views.append(f"{mm:g} mm on {body.name}")
    return LensLost(
        lens=lens.id,
        name=lens.name,
        last=last,
        unused=last is None or date.fromisoformat(last) < today - timedelta(days=UNUSED_DAYS),
        rigs=tuple(rig.name for rig in world.gear.rigs if rig.lens == lens.id),
        bodies=tuple(body.name for body in bodies),
        views=tuple(views),
    )
