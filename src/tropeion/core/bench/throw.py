"""How far a focus ring turns: measured between two distances, and one lens against another.

A focus ring on a plain helicoid turns in proportion to the extension; its throw is the turn over the whole travel.
"""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.lenses import Lens
from tropeion.core.optics.defocus import extension_for_mm
from tropeion.core.rig.ends import own_travel
from tropeion.core.working import PLAIN, Symbol, formula


@formula(
    "bench.throw_deg",
    "φ = φ₁₂·e/|x(D₁) − x(D₂)|",
    "°",
    "Plain helicoid: turn in proportion to extension",
    turned_deg=Symbol("φ₁₂", "°", "turned between the two distances"),
    travel_mm=Symbol("e", "mm", "the lens's own focus travel", "focus.travel_mm"),
    first_mm=Symbol("x(D₁)", "mm", "extension for the one distance"),
    second_mm=Symbol("x(D₂)", "mm", "and for the other"),
)
def throw_deg(turned_deg: float, travel_mm: float, first_mm: float, second_mm: float) -> float:
    """The whole focus throw of a lens from a part of it."""
    return turned_deg * travel_mm / abs(first_mm - second_mm)


@frozen
class ThrowBeside:
    """A lens whose throw is known, and how far it turns between the same two distances."""

    lens: str
    name: str
    throw_deg: float
    between_deg: float


@frozen
class ThrowReport:
    """The throw by a measured part of it, in degrees; ``assumed``: by a helicoid that turns evenly."""

    throw_deg: float
    deg_per_mm: float
    beside: tuple[ThrowBeside, ...]
    fields: dict[str, float]
    says: str


def throw_report(lens: Lens, lenses: Sequence[Lens], turns: float, from_m: float, to_m: float | None) -> ThrowReport:
    """The throw of a lens turned by so many turns between two distances (None: infinity), beside other lenses.

    Raises ValueError where its travel is not known, or a distance is too near.
    """
    if turns <= 0:
        raise ValueError("turns: more than 0")
    focal = lens.focal_length_mm[0]
    own = own_travel(lens, focal, PLAIN)
    if own is None or own.travel_mm <= 0:
        raise ValueError(f"how far {lens.name} focuses out is not known: state its closest focus first")
    first, second = (_extension(focal, value) for value in (from_m, to_m))
    if first == second:
        raise ValueError("two different distances")
    whole = throw_deg(360 * turns, own.travel_mm, first, second)
    beside = sorted(
        (
            ThrowBeside(other.id, other.name, other.focus_throw_deg, between)
            for other in lenses
            if other.id != lens.id and not other.retired and other.focus_throw_deg is not None
            if (between := _between(other, from_m, to_m)) is not None
        ),
        key=lambda throw_beside: -throw_beside.between_deg,
    )
    more = sum(throw_beside.between_deg < 360 * turns for throw_beside in beside)
    held = f" It turns further than {more} of {len(beside)} lenses here that state theirs." if beside else ""
    return ThrowReport(
        throw_deg=whole,
        deg_per_mm=whole / own.travel_mm,
        beside=tuple(beside),
        fields={"focus_throw_deg": round(whole, 1)},
        says=f"{whole:.0f}° from infinity to its closest focus, {whole / own.travel_mm:.0f}° for each mm.{held}",
    )


def _extension(focal_mm: float, distance_m: float | None) -> float:
    if distance_m is None:
        return 0.0
    value = extension_for_mm(focal_mm, distance_m * 1000)
    if value is None:
        raise ValueError(f"{distance_m:g} m is too near for {focal_mm:g} mm: from {4 * focal_mm / 1000:.2f} m on")
    return value


def _between(lens: Lens, from_m: float, to_m: float | None) -> float | None:
    focal = lens.focal_length_mm[0]
    own = own_travel(lens, focal, PLAIN)
    if own is None or own.travel_mm <= 0 or lens.focus_throw_deg is None:
        return None
    try:
        first, second = (_extension(focal, value) for value in (from_m, to_m))
    except ValueError:
        return None
    if max(first, second) > own.travel_mm:
        return None
    return lens.focus_throw_deg * abs(first - second) / own.travel_mm
