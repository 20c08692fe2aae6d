"""What would have to exist, or to be done, for a pair that nothing joins to infinity."""

from __future__ import annotations

from tropeion.core import written
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import changed_id, part_of
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import STACKED_RING_MM, has_room, smallest_ring_mm
from tropeion.core.optics import focus, register
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.words import word
from tropeion.core.working import PLAIN, tidy

from .ends import own_travel
from .report import WouldNeed
from .verdict import span_of

__all__ = ["what_would_be_needed"]


def what_would_be_needed(world: World, lens: Lens, body: Body, practice: Practice) -> tuple[WouldNeed, ...]:
    """The plain ring, correcting glass, close-up, a reversible change of mount or plate, one plate for both."""
    lens_mount, body_mount = world.mount_of(lens), world.mount_of(body)
    seat, rear = seat_of(lens, lens_mount).register_mm, seat_of(body, body_mount).register_mm
    gap = register.gap_mm(seat, rear)
    least = smallest_ring_mm(world.structure, lens_mount, body_mount)
    names = f"from {lens_mount.name} to {body_mount.name}"
    needs: list[WouldNeed] = [*_swaps(world, lens, body)]
    if gap > 0 and lens.focus == "none":
        needs.append(_helicoid(lens, gap, least, names, practice))
    elif gap > 0:
        practical = has_room(gap, least)
        text = f"A plain ring {names}, {written.millimetres(gap)} long."
        if lens.focus == "by_wire":
            text = (
                f"An active adapter {names}, {written.millimetres(gap)} long: the lens focuses by wire and needs power."
            )
        if practical is None:
            text += " Whether two couplings leave room for that is not known: their widths are not stated."
        elif not practical and least is not None:
            text += f" Two couplings leave no room for that: about {written.millimetres(least)} is the least practical."
        sold_as = _search_for(lens_mount, body_mount)
        needs.append(WouldNeed("ring", text, length_mm=gap, practical=practical, search_for=sold_as))
    if not has_room(gap, least):
        if lens_mount.joint != body_mount.joint:
            ring = STACKED_RING_MM if least is None else least
            needs.append(_close_up(lens, seat, rear + ring - seat, ring, names, practice))
            needs.append(
                WouldNeed(
                    "correcting_glass",
                    f"An adapter with correcting glass {names}: longer, darker, and softer wide open.",
                    practical=True,
                )
            )
        if tidy(abs(gap) - lens_mount.tolerance_or_usual_mm - body_mount.tolerance_or_usual_mm) <= 0 and (
            lens_mount.joint != body_mount.joint
        ):
            needs.append(
                WouldNeed(
                    "shared_plate",
                    f"{lens_mount.name} and {body_mount.name} have the same {word('flange_focal_distance')}: "
                    f"one plate could take both "
                    "bayonets. Such work belongs with a qualified repairer.",
                    practical=False,
                    reversible=False,
                )
            )
    return tuple(needs)


def _search_for(lens_mount: Mount, body_mount: Mount) -> tuple[str, ...]:
    """What a seller may call a ring between two mounts, each end by its name and by its short names."""
    front = [lens_mount.name, *lens_mount.aliases[:1]]
    rear = [body_mount.name, *body_mount.aliases[:2]]
    by_name = f"{front[0]} lens to {rear[0]} body adapter"
    short = [f"{front[-1]}–{name} adapter" for name in rear[1:] or rear]
    thread = lens_mount.thread
    screw = [] if thread is None else [f"{thread.diameter_mm:g} × {thread.pitch_mm:g} to {rear[0]} adapter"]
    return (by_name, *short, *screw)


# A helicoid takes this much more than a ring: two threads in each other.
_HELICOID_MM = 6.0
_CLOSEST_MM = 1000.0


def _helicoid(lens: Lens, gap: float, least: float | None, names: str, practice: Practice) -> WouldNeed:
    """For a lens that nothing focuses: a helicoid, and how far it has to open for a metre or ten focal lengths."""
    f = lens.focal_length_mm[0]
    near = max(_CLOSEST_MM, 10 * f)
    travel = (focus.close_magnification(near, f) or 0.0) * f
    least = STACKED_RING_MM if least is None else least
    practical = gap >= least + _HELICOID_MM
    text = (
        f"The lens has no focusing of its own: a helicoid {names}, at most {written.millimetres(gap)} closed, that "
        f"opens by {written.millimetres(travel)} for everything from {written.distance(near, practice.distances)} to "
        "infinity."
    )
    if not practical:
        text += f" There is hardly room: about {written.millimetres(least + _HELICOID_MM)} is the least practical."
    return WouldNeed("helicoid", text, length_mm=gap, practical=practical, near_mm=near)


def _close_up(
    lens: Lens, seat_mm: float, error_mm: float, length_mm: float, names: str, practice: Practice
) -> WouldNeed:
    """The shortest practical ring, and what would be sharp with it in front of the lens, if anything is."""
    f = lens.focal_length_mm[0]
    moves = lens.focus not in {"none", "by_wire"}
    travel = own_travel(lens, f, PLAIN) if moves else focus.Travel(0.0, f)
    close = f if travel is None else travel.close_mm
    grows = travel.travel_mm if travel is not None and close >= focus.EXTENDS_FROM * f else 0.0
    past = lens.past_infinity_mm if moves else 0.0
    short, long = focus.extensions(error_mm, past, None if travel is None else travel.travel_mm, 0.0, PLAIN)
    front = focus.Front(seat_mm, error_mm, lens.length_mm, grows)
    found = focus.reach(f, close, lens.f_number[0], 1.0, short, long, 0.0, front, PLAIN)
    ring = f"the shortest practical ring {names}, about {written.millimetres(length_mm)}"
    if found.state == "inside":
        text = f"No ring for close-up: with {ring}, all that would be sharp lies inside the lens."
        return WouldNeed("close_up", text, length_mm=length_mm, practical=False)
    text = f"For close-up alone, {ring}."
    if found.far_mm is not None:
        text += f" It would be sharp {span_of(found, practice)}."
    return WouldNeed("close_up", text, length_mm=length_mm, practical=True, near_mm=found.near_mm, far_mm=found.far_mm)


def _swaps(world: World, lens: Lens, body: Body) -> list[WouldNeed]:
    """Reversible changes of the lens's mount or the body's plate, after which something joins them."""
    found = []
    sides = (
        ("swap_lens_mount", lens, lens.swappable_mounts),
        ("swap_body_plate", body, body.swappable_mounts),
    )
    for kind, item, swaps in sides:
        for swap in swaps:
            other = world.mount_of(body if item is lens else lens)
            new = world.mounts[swap.mount]
            front, rear = (new, other) if item is lens else (other, new)
            if front.joint == rear.joint:
                joins = "Then they join without an adapter."
            else:
                through = [
                    adapter
                    for adapter in world.structure.adapters_by_joints.get((front.joint, rear.joint), ())
                    if not adapter.retired
                ]
                if not through:
                    continue
                joins = f"Then {through[0].name} joins them."
            part = part_of(item)
            effort = ", ".join(
                part for part in (swap.tools, f"{swap.minutes} minutes" if swap.minutes is not None else "") if part
            )
            found.append(
                WouldNeed(
                    "swap_lens_mount" if kind == "swap_lens_mount" else "swap_body_plate",
                    f"Change the {part} of {item.name} to {new.name} ({effort or 'reversible'}). {joins} Opening "
                    "down, screws crosswise, contacts matched; it can be undone.",
                    practical=True,
                    mount=new.id,
                    price=swap.price,
                    minutes=swap.minutes,
                    reversible=True,
                    lens=changed_id(lens, swap.mount) if item is lens else lens.id,
                    body=changed_id(body, swap.mount) if item is body else body.id,
                )
            )
    return found
