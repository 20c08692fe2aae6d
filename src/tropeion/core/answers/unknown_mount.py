"""A lens whose mount is not known: bayonet or thread, a measured diameter, what is at the rear; then candidates."""

from __future__ import annotations

from typing import Final, Literal

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import taken_for
from tropeion.core.gear.world import World

RearPart = Literal["contacts", "lever", "pin", "nothing"]
REAR_PARTS: Final[tuple[RearPart, ...]] = ("contacts", "lever", "pin", "nothing")
# A caliper on a worn rim, and tabs that stand out of it.
_THREAD_MM, _BAYONET_MM = 0.6, 2.5


@frozen
class MountCandidate:
    """A mount that the lens may have, and why; ``differs_mm`` from the measured diameter, None where it is not known.

    ``rear_seen``: whether lenses of this mount that are known have such a rear; None where none is known.
    """

    mount: str
    name: str
    differs_mm: float | None
    rear_seen: bool | None
    why: str


def mount_candidates(
    world: World, coupling: Literal["thread", "bayonet"], diameter_mm: float | None, rear: RearPart | None
) -> tuple[MountCandidate, ...]:
    """The mounts that agree with what can be seen and measured, the likeliest first.

    A thread is measured over its crests; a bayonet over its ring, which passes the throat of the body. What is not
    known of a mount speaks neither for it nor against it.
    """
    all_mount_candidates = []
    for mount in world.gear.mounts:
        if mount.retired or (mount.thread is not None or mount.coupling == "screw") != (coupling == "thread"):
            continue
        known = mount.thread.diameter_mm if mount.thread is not None else mount.throat_mm
        differs = None if known is None or diameter_mm is None else abs(known - diameter_mm)
        limit = _THREAD_MM if coupling == "thread" else _BAYONET_MM
        if differs is not None and differs > limit:
            continue
        seen = _rear_seen(world, mount, rear)
        if seen is False:
            continue
        all_mount_candidates.append(
            MountCandidate(mount.id, mount.name, differs, seen, _why(mount, differs, seen, rear))
        )
    return tuple(
        sorted(
            all_mount_candidates,
            key=lambda mount_candidate: (
                mount_candidate.rear_seen is not True,
                mount_candidate.differs_mm is None,
                mount_candidate.differs_mm or 0.0,
                mount_candidate.name,
            ),
        )
    )


def _rear_seen(world: World, mount: Mount, rear: RearPart | None) -> bool | None:
    lenses = [taken_for(world, lens) for lens in world.gear.mounted if lens.mount == mount.id and not lens.retired]
    if rear is None or not lenses:
        return None
    match rear:
        case "contacts":
            return any(lens.protocol is not None or lens.aperture == "electronic" for lens in lenses)
        case "lever" | "pin":
            # A part that no known lens of this mount has may still be on an unknown one.
            return any(lens.aperture == rear for lens in lenses) or None
        case "nothing":
            return any(lens.protocol is None and lens.aperture in {"ring", "none"} for lens in lenses)


def _why(mount: Mount, differs: float | None, seen: bool | None, rear: RearPart | None) -> str:
    said = []
    if mount.thread is not None:
        said.append(f"{mount.thread.diameter_mm:g} × {mount.thread.pitch_mm:g} mm")
    elif mount.throat_mm is not None:
        said.append(f"the body is {written.millimetres(mount.throat_mm)} wide inside")
    if differs is not None:
        said.append("as measured" if differs < 0.05 else f"{written.millimetres(differs)} off what was measured")
    if seen and rear is not None:
        said.append("its lenses look so from behind")
    if rear is not None and seen is None:
        said.append("what is behind its lenses is not known")
    return "; ".join(said)
