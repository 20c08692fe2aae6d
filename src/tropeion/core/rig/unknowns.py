"""What of a rig is not known: what is assumed for it, and what cannot be assessed without it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tropeion.core import catalogue, written
from tropeion.core.findings import Remark
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.evidence import evidence_on
from tropeion.core.gear.tried import OF_MODE, USE_NAMES, UsableFrom, left_unusable, usable_of
from tropeion.core.gear.usual import taken_of
from tropeion.core.joints.mechanics import Load, clearance_unknowns, is_at_home, plays_of

from .assembly import Assembly
from .ends import Focused


def assumed_in(rig: Assembly, ends: Sequence[Focused]) -> tuple[str, ...]:
    """The paths of the values that were assumed: those that is not stated, and those that are kept as assumed."""
    return tuple(_assumed(rig, ends))


def _assumed(rig: Assembly, ends: Sequence[Focused]) -> Iterator[str]:
    stack = rig.stack
    if not (stack.known or stack.lens_seat.known):
        yield "lens.mount.register_mm"
    if stack.lens_seat.assumed:
        yield "lens.mount.tolerance_mm"
    if any(not end.infinity.travel_known for end in ends):
        yield "lens.min_focus_m"
    if rig.lens.image_circle_mm is None:
        yield "lens.image_circle_mm"
    said = rig.world.lenses.get(rig.lens.id, rig.lens)
    yield from (f"lens.{field}" for field in (*taken_of(rig.world, said), *rig.lens.assumed))
    for number, placed in enumerate(stack.placed):
        if placed.link.assumed:
            yield f"adapters[{number}].tolerance_mm"
        yield from (f"adapters[{number}].{field}" for field in placed.adapter.assumed)
    if not (stack.known or stack.body_seat.known):
        yield "body.mount.register_mm"
    if stack.body_seat.assumed:
        yield "body.mount.tolerance_mm"
    on = rig.world.bodies.get(rig.body.id, rig.body)
    if rig.body.protocols != on.protocols:
        yield "body.protocols"
    yield from (f"body.{field}" for field in rig.body.assumed)


def unknowns_of(rig: Assembly, loads: Sequence[Load]) -> list[Remark]:
    """A line for what is assumed, and one for what cannot be told."""
    assumed = list(_tolerances(rig))
    missing = [*_of_the_load(rig, loads), *_of_the_light(rig), *_of_the_rear(rig)]
    untold = [*_of_the_play(rig), *_of_the_rays(rig), *_before_the_sensor(rig)]
    return [
        *contradictions(rig),
        *_tried(rig),
        *([catalogue.tolerance_assumed(None, pieces=written.listed(assumed))] if assumed else []),
        *([catalogue.not_assessed(None, missing="; ".join(missing))] if missing else []),
        *([catalogue.not_told(None, missing="; ".join(untold))] if untold else []),
    ]


def contradictions(rig: Assembly) -> Iterator[Remark]:
    """What somebody found otherwise than it is stated, of these pieces alone or together."""
    ids = [rig.lens.id, *(adapter.id for adapter in rig.adapters), rig.body.id]
    for testimony in evidence_on(rig.world, ids).testimonies:
        if testimony.evidence.verdict == "contradicted":
            by = {"own": "you", "maker": "its maker", "shop": "a shop", "review": "a review"}[testimony.evidence.source]
            day = f", {testimony.evidence.on}" if testimony.evidence.on else ""
            claim = testimony.evidence.claim.rstrip(".")
            yield catalogue.contradicted(
                testimony.item, pieces=written.listed(testimony.about), claim=claim, by=f"{by}{day}"
            )


def _tried(rig: Assembly) -> Iterator[Remark]:
    """That trials leave no usable stop for the use in force."""
    use = OF_MODE[rig.practice.use]
    for row in left_unusable(usable_in(rig), use)[:1]:
        trials = "one trial" if row.trials == 1 else f"{row.trials} trials"
        told = f"{trials}, {row.own or 'none'} of one’s own, the newest of {row.newest}"
        yield catalogue.tried_unusable(None, use=USE_NAMES[use], trials=told)


def usable_in(rig: Assembly) -> tuple[UsableFrom, ...]:
    """What trials say of a rig."""
    return usable_of(rig.world.tried, rig.lens.id, tuple(adapter.id for adapter in rig.adapters), rig.body.id)


def _tolerances(rig: Assembly) -> Iterator[str]:
    stack = rig.stack
    seats = [(stack.lens_seat, stack.lens_mount), (stack.body_seat, stack.body_mount)]
    for mount in dict.fromkeys(mount.name for seat, mount in seats if seat.assumed):
        amount = next(seat.tolerance_mm for seat, seated in seats if seated.name == mount)
        yield f"±{written.millimetres(amount)} for the mount face of {mount}"
    for placed in stack.placed:
        if placed.link.assumed:
            yield f"±{written.millimetres(placed.link.tolerance_mm)} for {placed.adapter.name}"


def _of_the_load(rig: Assembly, loads: Sequence[Load]) -> Iterator[str]:
    stack, lens = rig.stack, rig.lens
    lacking = [f"weight of {piece.name}" for piece in (lens, *rig.adapters) if piece.mass_g is None]
    if lens.centre_of_mass_mm is None:
        lacking.append(f"centre of mass of {lens.name}")
    rated = {load.link for load in loads if load.rating_nm is not None}
    lacking += [
        f"what the joint of {joint.rear.name} may carry" for joint in stack.joints if loads and joint.link not in rated
    ]
    if lacking:
        yield f"the load on the joints ({', '.join(lacking)})"


def _of_the_play(rig: Assembly) -> Iterator[str]:
    names = [rig.stack.lens_mount.name, *(adapter.name for adapter in rig.adapters)]
    lacking = [name for name, play in zip(names, plays_of(rig.stack), strict=True) if play is None]
    if lacking:
        yield f"play (of {written.listed(lacking)})"
    taken = [adapter.name for adapter in rig.adapters if adapter.play_mm is None and adapter.name not in lacking]
    if taken:
        yield f"play of {written.listed(taken)}: that of the mount behind it is taken"


def _of_the_light(rig: Assembly) -> Iterator[str]:
    stack, lens = rig.stack, rig.lens
    if rig.chain.has_glass:
        yield "light cut off at the corners (behind glass it is not told by the exit pupil)"
        return
    lacking = [f"exit pupil of {lens.name}"] if lens.exit_pupil_mm is None else []
    lacking += [f"bore of {adapter.name}" for adapter in rig.adapters if adapter.bore_mm is None]
    if stack.body_mount.throat_mm is None:
        lacking.append(f"throat of {stack.body_mount.name}")
    if lens.exit_pupil_mm is not None:
        pupil = lens.exit_pupil_mm + rig.chain.error_mm
        before = dict.fromkeys(bore.link for bore in stack.bores if bore.at_mm >= pupil)
        lacking += [f"bore of {_named(rig, link)}, before the exit pupil" for link in before]
    if lacking:
        yield f"light cut off at the corners ({', '.join(lacking)})"


def _of_the_rays(rig: Assembly) -> Iterator[str]:
    seen = rig.lens.exit_pupil_mm is not None and not rig.chain.has_glass
    if rig.body.kind == "digital" and seen and rig.body.max_ray_angle_deg is None:
        yield f"how steep rays the sensor of {rig.body.name} takes"


def _before_the_sensor(rig: Assembly) -> Iterator[str]:
    """With nothing but the sensor in the way, no lens reaches it that can be put on by hand."""
    stack, lens = rig.stack, rig.lens
    if is_at_home(stack) or clearance_unknowns(stack) or rig.body.obstruction_mm is not None:
        return
    if lens.rear_protrusion_mm is None:
        yield f"how near the rear of {lens.name} comes to the sensor"
    else:
        yield f"how far in {rig.body.name} is free"


def _named(rig: Assembly, link: str) -> str:
    return next((adapter.name for adapter in rig.adapters if adapter.id == link), rig.body.name)


def _of_the_rear(rig: Assembly) -> Iterator[str]:
    """Clearance, where the lens is at home; and whether a rear that reaches in passes the bores."""
    stack, lens = rig.stack, rig.lens
    if is_at_home(stack):
        yield from (f"clearance behind the lens ({unknown})" for unknown in clearance_unknowns(stack))
    if lens.rear_protrusion_mm is None and lens.rear_diameter_mm is not None and not clearance_unknowns(stack):
        yield f"whether its rear passes (how far it reaches in is not stated of {lens.name})"
    if lens.rear_protrusion_mm is None or lens.rear_protrusion_mm <= 0:
        return
    vertex = stack.seat_mm - lens.rear_protrusion_mm
    reached: list[Adapter] = [placed.adapter for placed in stack.placed if vertex < placed.front_mm]
    lacking = [f"bore of {adapter.name}" for adapter in reached if adapter.bore_mm is None]
    if lens.rear_diameter_mm is None:
        lacking.insert(0, f"width of the rear of {lens.name}")
    if lacking:
        yield f"whether its rear passes ({', '.join(lacking)})"
