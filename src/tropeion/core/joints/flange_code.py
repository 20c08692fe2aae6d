"""Light and dark fields on a lens's flange: which profile a body takes a lens for, and which to mark.

A profile's distance is (ln f/f_p)²/0.2² + (2·log₂ N/N_p)²/2², and (Δangle/8°)² more where both exit pupils are known;
the angle is that of the light at the corner of 36 × 24 mm, atan(21.63/P).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Final

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import FlangeCode, Mount, Profile
from tropeion.core.working import Symbol, formula, tidy

TOLD: Final = 3
# Half the diagonal of 36 × 24 mm, rounded as in the rule's source.
_HALF_DIAGONAL_MM: Final = 21.63


@formula(
    "code.corner_angle_deg",
    "atan(21.63/P)",
    "°",
    "S. F. Ray, Applied Photographic Optics, ch. 28: chief ray to the corner of 36 × 24 mm",
    exit_pupil_mm=Symbol("P", "mm", "exit pupil before the sensor"),
)
def corner_angle_deg(exit_pupil_mm: float) -> float:
    """How steep the light is at the corner."""
    return math.degrees(math.atan(_HALF_DIAGONAL_MM / exit_pupil_mm))


@formula(
    "code.distance",
    "(ln f/f_p)²/0.2² + (2·log₂ N/N_p)²/2² + (Δangle/8°)²",
    "",
    "Our own measure: a fifth of the focal length, two stops or 8° count alike",
    focal_mm=Symbol("f", "mm", "focal length of the lens"),
    profile_mm=Symbol("f_p", "mm", "focal length of the profile"),
    f_number=Symbol("N", "f", "widest aperture of the lens"),
    profile_f_number=Symbol("N_p", "f", "widest aperture of the profile"),
    angle_apart_deg=Symbol("Δangle", "°", "between their corner angles; left out where one is not known"),
)
def profile_distance(
    focal_mm: float, profile_mm: float, f_number: float, profile_f_number: float, angle_apart_deg: float | None
) -> float:
    """How far a profile is from a lens; 0 is the lens itself."""
    length = (math.log(focal_mm / profile_mm) / 0.2) ** 2
    speed = math.log2(f_number / profile_f_number) ** 2
    return length + speed + (0.0 if angle_apart_deg is None else (angle_apart_deg / 8) ** 2)


@frozen
class NearProfile:
    """A profile that a body may be told to take a lens for; ``wrong`` is what it would then correct wrongly."""

    code: str
    name: str
    distance: float
    wrong: tuple[str, ...]


@frozen
class NearestProfiles:
    """The nearest profiles, its own first, of ``among`` that the frame lines allow; ``notes``: what is unknown.

    ``coded``: the mount has a code at all, of so many ``fields``, in which ``dark_is`` is the dark digit. ``believed``
    is the profile that the lens's own code stands for, if it has one; ``brings_up`` the frame lines that come with the
    lens or an adapter, None where it is not stated.
    """

    lens: str
    mount: str
    coded: bool
    fields: int
    dark_is: int
    believed: str | None
    brings_up: tuple[str, ...] | None
    nearest: tuple[NearProfile, ...]
    among: int
    notes: tuple[str, ...]


@frozen
class TakenFor:
    """A lens of the collection, and how far it is from the profile that was read (None: there is none)."""

    id: str
    name: str
    distance: float | None
    marked: bool


@frozen
class ReadCode:
    """What a flange says: the profile that the body believes (None: no body knows this code), and which lens it may be.

    ``misread`` are the profiles whose codes differ in one field alone.
    """

    code: str
    profile: str | None
    lenses: tuple[TakenFor, ...]
    misread: tuple[str, ...]


@frozen
class Field:
    """One field of a code: its middle at an angle from the index mark, clockwise as the flange is looked at."""

    digit: str
    dark: bool
    angle_deg: float


def fields_of(code: FlangeCode, digits: str) -> tuple[Field, ...]:
    """The fields of a code where they stand on the flange."""
    return tuple(
        Field(digit, digit == str(code.dark_is), (code.start_deg + number * code.step_deg) % 360)
        for number, digit in enumerate(digits)
    )


def nearest_profiles(lens: Lens, mount: Mount, adapters: Sequence[Adapter] = ()) -> NearestProfiles:
    """Which profiles of a mount a lens comes nearest to, among those whose frame lines it or an adapter brings up."""
    lines = _lines_of(lens, adapters)
    allowed = [profile for profile in mount.profiles if lines is None or lines & set(profile.frame_lines)]
    own = {profile.code for profile in mount.profiles if is_own(lens, profile)}
    # A lens's own frame lines come first, even where they are stated wrongly.
    among = [*allowed, *(profile for profile in mount.profiles if profile.code in own and profile not in allowed)]
    ranked = sorted(among, key=lambda profile: (profile.code not in own, distance_of(lens, profile), profile.code))[
        :TOLD
    ]
    return NearestProfiles(
        lens=lens.id,
        mount=mount.id,
        coded=mount.code is not None,
        fields=0 if mount.code is None else mount.code.fields,
        dark_is=1 if mount.code is None else mount.code.dark_is,
        believed=next((profile.name for profile in mount.profiles if profile.code == lens.code), None),
        brings_up=None if lines is None else tuple(sorted(lines)),
        nearest=tuple(
            NearProfile(profile.code, profile.name, tidy(distance_of(lens, profile)), tuple(_wrong(lens, profile)))
            for profile in ranked
        ),
        among=len(allowed),
        notes=tuple(_notes(lens, mount, lines, allowed)),
    )


def is_own(lens: Lens, profile: Profile) -> bool:
    """Whether a profile is that of this very lens, by its name."""
    names = {name.casefold() for name in (lens.name, *lens.aliases)}
    return profile.name.casefold() in names


def distance_of(lens: Lens, profile: Profile) -> float:
    """How far a lens is from a profile."""
    apart = None
    if lens.exit_pupil_mm is not None and profile.exit_pupil_mm is not None:
        apart = corner_angle_deg(lens.exit_pupil_mm) - corner_angle_deg(profile.exit_pupil_mm)
    return profile_distance(lens.focal_length_mm[0], profile.focal_length_mm, lens.f_number[0], profile.f_number, apart)


def _lines_of(lens: Lens, adapters: Sequence[Adapter]) -> set[str] | None:
    """The frame lines that come up with a lens; None where it is not stated."""
    said = [lens.frame_lines, *(adapter.frame_lines for adapter in adapters)]
    known = [lines for lines in said if lines is not None]
    return {line for lines in known for line in lines} if known else None


def _wrong(lens: Lens, profile: Profile) -> Iterator[str]:
    """What a body would correct for that the lens is not."""
    focal, f_number = lens.focal_length_mm[0], lens.f_number[0]
    if tidy(focal - profile.focal_length_mm):
        yield f"the log says {profile.focal_length_mm:g} mm, it is {focal:g} mm"
    stops = 2 * math.log2(f_number / profile.f_number)
    if abs(stops) >= 1 / 6:
        more = "more" if stops > 0 else "less"
        yield (
            f"corners are brightened as for {written.aperture(profile.f_number)}, "
            f"{more} than {written.aperture(f_number)} wants"
        )
    if lens.exit_pupil_mm is not None and profile.exit_pupil_mm is not None:
        apart = corner_angle_deg(profile.exit_pupil_mm) - corner_angle_deg(lens.exit_pupil_mm)
        if abs(apart) >= 1:
            steep = "steeper" if apart > 0 else "less steep"
            too = "too much" if apart > 0 else "too little"
            yield f"colour at the corners is corrected for light {abs(apart):.0f}° {steep}: {too}"
    if (
        lens.image_circle_mm is not None
        and profile.image_circle_mm is not None
        and tidy(profile.image_circle_mm - lens.image_circle_mm) > 0
    ):
        yield f"it is taken to cover {profile.image_circle_mm:g} mm, and covers {lens.image_circle_mm:g} mm"


def _notes(lens: Lens, mount: Mount, lines: set[str] | None, allowed: Sequence[Profile]) -> Iterator[str]:
    if not mount.profiles:
        yield f"{mount.name} has no profiles: its bodies read no code."
    elif lines is None:
        yield "Which frame lines it brings up is not stated: all profiles are compared."
    elif not allowed:
        yield "No profile goes with the frame lines that it brings up."
    if allowed and lens.exit_pupil_mm is None:
        yield "Its exit pupil is not known: how steep its light is at the corners is left out."
    if lens.is_zoom:
        yield "A zoom is compared by its wide end; a body corrects it as one focal length."


def read_code(mount: Mount, digits: str, lenses: Sequence[Lens]) -> ReadCode:
    """What a code says, and which of these lenses it may stand on, those that are marked so first.

    Raises ValueError for what is no code of this mount.
    """
    code = mount.code
    if code is None:
        raise ValueError(f"{mount.name} has no code on its flange")
    if len(digits) != code.fields or set(digits) - {"0", "1"}:
        raise ValueError(f"“{digits}”: {mount.name} has {code.fields} fields, each 0 or 1")
    profile = next((profile for profile in mount.profiles if profile.code == digits), None)
    taken = [
        TakenFor(lens.id, lens.name, None if profile is None else tidy(distance_of(lens, profile)), lens.code == digits)
        for lens in lenses
        if lens.mount == mount.id and not lens.retired and (profile is not None or lens.code == digits)
    ]
    near = tuple(profile.name for profile in mount.profiles if _apart(profile.code, digits) == 1)
    ranked = sorted(taken, key=lambda taken_for: (not taken_for.marked, taken_for.distance or 0.0, taken_for.id))
    return ReadCode(digits, None if profile is None else profile.name, tuple(ranked), near)


def _apart(one: str, other: str) -> int:
    return sum(a != b for a, b in zip(one, other, strict=True))
