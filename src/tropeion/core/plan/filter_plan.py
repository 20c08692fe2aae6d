"""Front filters and their rings: one size for all lenses, and which filters the light asks for."""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Iterator, Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.accessories import FILTERS, Accessory
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World


@frozen
class RingsFor:
    """A lens and the step-up rings to the one size, from the lens outwards; ``buy`` are those to be bought.

    ``depth_mm`` is how far they stand before the front thread, None where a length is not known; ``clear_to_deg`` the
    angle of view up to which surely nothing of rings and filter is seen, beside ``view_deg`` of the lens.
    """

    lens: str
    lens_name: str
    thread_mm: float | None
    rings: tuple[str, ...]
    buy: tuple[str, ...]
    depth_mm: float | None
    view_deg: float
    clear_to_deg: float | None
    sees_it: bool | None
    said: str
    hoods: tuple[str, ...]


@frozen
class FilterPlan:
    """One filter size for some lenses: rings by lens, what is bought, for how much; None where a price is not known."""

    size_mm: float
    lenses: tuple[RingsFor, ...]
    buy: dict[str, int]
    cost: float | None
    filters: tuple[str, ...]


def sizes_of(world: World, lenses: Sequence[Lens]) -> tuple[float, ...]:
    """Sizes to consider: threads of the lenses and of the filters in the collection."""
    values = {lens.filter_thread_mm for lens in lenses if lens.filter_thread_mm is not None}
    for accessory in world.gear.accessories:
        if accessory.kind in FILTERS and accessory.rear_thread_mm is not None:
            values.add(accessory.rear_thread_mm)
    return tuple(sorted(values))


def filter_plan(world: World, lenses: Sequence[Lens], size_mm: float, diagonal_mm: float) -> FilterPlan:
    """The rings that bring every lens to one filter size, on a sensor of this diagonal.

    Rings at hand are used first, then the cheapest chain; a ring goes from lens to lens.
    """
    rings = [
        accessory for accessory in world.gear.accessories if accessory.kind == "step_ring" and not accessory.retired
    ]
    filters = [
        accessory
        for accessory in world.gear.accessories
        if accessory.kind in FILTERS and accessory.rear_thread_mm == size_mm
    ]
    thickest = max((filter_.length_mm for filter_ in filters if filter_.length_mm is not None), default=None)
    rings_fors = [_rings_for(world, lens, size_mm, rings, thickest, diagonal_mm) for lens in lenses]
    buy: dict[str, int] = {}
    for rings_for in rings_fors:
        for id_ in rings_for.buy:
            buy[id_] = 1
    by_id = {ring.id: ring for ring in rings}
    prices = [by_id[id_].price for id_ in buy]
    known = [price for price in prices if price is not None]
    return FilterPlan(
        size_mm=size_mm,
        lenses=tuple(rings_fors),
        buy=buy,
        cost=math.fsum(known) if len(known) == len(prices) else None,
        filters=tuple(filter_.name for filter_ in filters),
    )


def best_size(world: World, lenses: Sequence[Lens], diagonal_mm: float) -> float | None:
    """The size that most lenses can be brought to, for the least money; None where no thread is known."""
    plans = [filter_plan(world, lenses, size, diagonal_mm) for size in sizes_of(world, lenses)]
    if not plans:
        return None

    def rank(plan: FilterPlan) -> tuple[float, ...]:
        lacking = sum(lens.depth_mm is None and not lens.rings for lens in plan.lenses)
        return lacking, float(not plan.filters), float(plan.cost is None), plan.cost or 0.0, plan.size_mm

    return min(plans, key=rank).size_mm


def _rings_for(
    world: World, lens: Lens, size_mm: float, rings: Sequence[Accessory], filter_mm: float | None, diagonal_mm: float
) -> RingsFor:
    view = 2 * math.degrees(math.atan(diagonal_mm / 2 / lens.focal_length_mm[0]))
    hoods = tuple(_hoods(world, lens))
    thread = lens.filter_thread_mm
    if thread is None:
        return RingsFor(
            lens.id, lens.name, None, (), (), None, view, None, None, "Nobody said what thread it has.", hoods
        )
    if thread > size_mm:
        said = f"Its thread is larger: a filter of {size_mm:g} mm would cut the picture."
        return RingsFor(lens.id, lens.name, thread, (), (), None, view, None, True, said, hoods)
    chain = _chain(thread, size_mm, rings)
    if chain is None:
        said = f"No ring from {thread:g} to {size_mm:g} mm is listed, alone or in a row."
        return RingsFor(lens.id, lens.name, thread, (), (), None, view, None, None, said, hoods)
    if not chain and filter_mm is None:
        return RingsFor(lens.id, lens.name, thread, (), (), 0.0, view, None, None, "", hoods)
    lengths = [accessory.length_mm for accessory in chain]
    known = [length for length in lengths if length is not None]
    depth = math.fsum(known) if len(known) == len(lengths) else None
    clear = sees = None
    said = ""
    if depth is not None and filter_mm is not None:
        clear = clear_angle_deg(thread, size_mm, depth + filter_mm)
        sees = view > clear
        if sees:
            said = f"It sees {view:.0f}°: rings and filter may show in the corners from {clear:.0f}° on."
    else:
        said = "How deep rings and filter are is not stated: look at the corners against a bright wall."
    buy = tuple(accessory.id for accessory in chain if not accessory.at_hand)
    return RingsFor(lens.id, lens.name, thread, tuple(o.id for o in chain), buy, depth, view, clear, sees, said, hoods)


def clear_angle_deg(thread_mm: float, size_mm: float, depth_mm: float) -> float:
    """The angle of view, corner to corner, up to which nothing of a stack is seen that stands before a front thread.

    A ray at half the angle of view that leaves the lens at the very edge of its thread is (S − t)/2 from the edge of
    the filter; over the depth d it moves d·tan θ outwards: 2·atan((S − t)/(2d)). The lens itself uses less than its
    thread, so that more is clear in truth.
    """
    if depth_mm <= 0:
        return 180.0
    return 2 * math.degrees(math.atan((size_mm - thread_mm) / (2 * depth_mm)))


def _chain(thread_mm: float, size_mm: float, rings: Sequence[Accessory]) -> list[Accessory] | None:
    """The cheapest row of rings upwards, at hand for nothing; a price that is not known is dearer than any."""
    waiting: list[tuple[float, int, int, float, list[Accessory]]] = [(0.0, 0, 0, thread_mm, [])]
    seen: set[float] = set()
    number = itertools.count(1)
    while waiting:
        cost, count, _, at, chain = heapq.heappop(waiting)
        if at == size_mm:
            return chain
        if at in seen:
            continue
        seen.add(at)
        for ring in rings:
            if ring.rear_thread_mm == at and ring.front_thread_mm is not None and at < ring.front_thread_mm <= size_mm:
                price = 0.0 if ring.at_hand else 1e6 if ring.price is None else ring.price
                heapq.heappush(waiting, (cost + price, count + 1, next(number), ring.front_thread_mm, [*chain, ring]))
    return None


def _hoods(world: World, lens: Lens) -> Iterator[str]:
    """Hoods that go on its thread."""
    for accessory in world.gear.accessories:
        fits = accessory.rear_thread_mm is not None and accessory.rear_thread_mm == lens.filter_thread_mm
        if fits and accessory.kind == "hood" and not accessory.retired:
            yield accessory.name


@frozen
class Light:
    """What the light asks: exposure values at ISO 100 from dim to bright, the shutter in s, the f-number, the ISO."""

    dim_ev: float
    bright_ev: float
    shutter_s: float
    f_number: float
    iso: float = 100.0

    def stops(self, ev: float) -> float:
        """The stops that have to be taken away in such light: EV + log2(ISO/100) − log2(N²/t); negative: too dark."""
        return ev + math.log2(self.iso / 100) - math.log2(self.f_number**2 / self.shutter_s)


@frozen
class FilterSet:
    """Filters for a range of stops. ``steps`` are what it can take, ascending; a variable one takes all between two.

    ``within_stops`` is how far the aperture or shutter has to give way at worst; ``never_clear`` where it cannot be out
    of the light without being taken off.
    """

    name: str
    ids: tuple[str, ...]
    variable: bool
    least: float
    most: float
    steps: tuple[float, ...]
    within_stops: float
    price: float | None
    colour_shift: str
    cross: str
    never_clear: bool
    at_hand: bool


@frozen
class StopsReport:
    """What the light asks for, and each set of filters beside it, what serves best first."""

    dim_stops: float
    bright_stops: float
    sets: tuple[FilterSet, ...]
    said: str


def stops_report(world: World, light: Light, view_deg: float | None, size_mm: float | None = None) -> StopsReport:
    """Fixed filters against variable ones for one light; ``view_deg`` is the widest angle that they stand before."""
    low, high = light.stops(light.dim_ev), light.stops(light.bright_ev)
    low, high = min(low, high), max(low, high)
    sets = [*_fixed(world, low, high, size_mm), *_variable(world, low, high, size_mm, view_deg)]
    sets.sort(
        key=lambda filter_set: (
            round(filter_set.within_stops, 3),
            filter_set.price is None,
            filter_set.price or 0.0,
            filter_set.name,
        )
    )
    said = "No filter is needed: the light is never too strong." if high <= 0 else ""
    if high > 0 and not sets:
        said = "No filter with stated stops is in the collection."
    return StopsReport(low, high, tuple(sets), said)


def _fixed(world: World, low: float, high: float, size_mm: float | None) -> Iterator[FilterSet]:
    """Single fixed filters, pairs of them, and the slots of adapters."""
    single = [
        accessory
        for accessory in world.gear.accessories
        if accessory.kind in FILTERS and accessory.loss_stops is not None and not accessory.retired
        if size_mm is None or accessory.rear_thread_mm == size_mm
    ]
    for count in (1, 2):
        for some in itertools.combinations(single, count):
            losses = [accessory.loss_stops or 0.0 for accessory in some]
            steps = sorted({0.0, *losses, math.fsum(losses)})
            prices = [0.0 if accessory.at_hand else accessory.price for accessory in some]
            known = [price for price in prices if price is not None]
            yield FilterSet(
                name=" + ".join(accessory.name for accessory in some),
                ids=tuple(accessory.id for accessory in some),
                variable=False,
                least=0.0,
                most=steps[-1],
                steps=tuple(steps),
                within_stops=_worst(steps, low, high),
                price=math.fsum(known) if len(known) == len(prices) else None,
                colour_shift="; ".join(accessory.colour_shift for accessory in some if accessory.colour_shift),
                cross="",
                never_clear=False,
                at_hand=all(accessory.at_hand for accessory in some),
            )
    for adapter in world.gear.adapters:
        slot = adapter.filter_slot
        if slot is None or slot.range_stops is not None or not slot.positions or adapter.retired:
            continue
        steps = sorted({0.0 if position.clear else position.loss_stops for position in slot.positions})
        yield FilterSet(
            name=adapter.name,
            ids=(adapter.id,),
            variable=False,
            least=steps[0],
            most=steps[-1],
            steps=tuple(steps),
            within_stops=_worst(steps, low, high),
            price=0.0 if adapter.at_hand else adapter.price,
            colour_shift=slot.colour_shift or "",
            cross="",
            never_clear=slot.never_clear,
            at_hand=bool(adapter.at_hand),
        )


def _worst(steps: Sequence[float], low: float, high: float) -> float:
    """The greatest distance, in stops, from what the light asks to the nearest step; negative demands ask for none."""
    low, high = max(0.0, low), max(0.0, high)
    between = [(value + other) / 2 for value, other in itertools.pairwise(steps)]
    asked = [low, high, *(value for value in between if low < value < high)]
    return max(min(abs(value - step) for step in steps) for value in asked)


def _variable(
    world: World, low: float, high: float, size_mm: float | None, view_deg: float | None
) -> Iterator[FilterSet]:
    for accessory in world.gear.accessories:
        if (
            accessory.range_stops is not None
            and not accessory.retired
            and (size_mm is None or accessory.rear_thread_mm == size_mm)
        ):
            cross = _cross(accessory.cross_from_deg, view_deg)
            price = 0.0 if accessory.at_hand else accessory.price
            yield _of_range(
                accessory.name,
                accessory.id,
                accessory.range_stops,
                low,
                high,
                price,
                accessory.colour_shift,
                cross,
                False,
                accessory.at_hand,
            )
    for adapter in world.gear.adapters:
        slot = adapter.filter_slot
        if slot is not None and slot.range_stops is not None and not adapter.retired:
            price = 0.0 if adapter.at_hand else adapter.price
            cross = _cross(slot.cross_from_deg, view_deg)
            yield _of_range(
                adapter.name,
                adapter.id,
                slot.range_stops,
                low,
                high,
                price,
                slot.colour_shift,
                cross,
                slot.never_clear,
                adapter.at_hand,
            )


def _of_range(
    name: str,
    id_: str,
    stops: tuple[float, float],
    low: float,
    high: float,
    price: float | None,
    colour_shift: str | None,
    cross: str,
    never_clear: bool,
    at_hand: int,
) -> FilterSet:
    least, most = stops
    # A filter that comes off takes 0 stops, else at least its minimum: nothing between.
    steps = [least, most] if never_clear else [0.0, least, most]
    asked = [max(0.0, low), max(0.0, high)]
    hole = 0.0 if never_clear else least / 2
    off = [
        max(0.0, least - value if never_clear else min(value, least - value), value - most)
        if not least <= value <= most
        else 0.0
        for value in asked
    ]
    if not never_clear and asked[0] < hole < asked[1]:
        off.append(hole)
    return FilterSet(
        name=name,
        ids=(id_,),
        variable=True,
        least=least,
        most=most,
        steps=tuple(steps),
        within_stops=max(off),
        price=price,
        colour_shift=colour_shift or "not stated",
        cross=cross,
        never_clear=never_clear,
        at_hand=bool(at_hand),
    )


def _cross(from_deg: float | None, view_deg: float | None) -> str:
    if from_deg is None:
        return "from which angle of view it shows a cross is not stated"
    if view_deg is None:
        return f"a cross at its strong end from {from_deg:g}° on"
    return f"a cross at its strong end: the view is {view_deg:.0f}°" if view_deg >= from_deg else ""
