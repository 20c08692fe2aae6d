"""All that was seen of a rig, as one answer: its error, what contradicts, which piece, what to do, before and after."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics.infinity import FULL_STOPS
from tropeion.core.practice import Practice

from .blame import Blamed, WrongRing, blame, wrong_rings
from .forward import Shown, shown
from .rig_on_bench import RigOnBench, rig_on_bench
from .seen import Observation, Saw, implied
from .shims import USUAL_TOLERANCE_MM, Foils, Shim, shim_for
from .sights import SIGHTS
from .sights import told as words_of
from .together import Prior, Term, Together, next_best, together

__all__ = ["Asked", "Mend", "SeenReport", "Window", "foils_at_hand", "seen_report"]

# Beyond this many uncertainties a length is wrong rather than perhaps so.
SURE = 2.0


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked: what was seen, whether the ring has a name, and what is wanted of infinity."""

    saw: tuple[Saw, ...]
    nameless: bool = False
    past_infinity: bool = True
    foils: tuple[Foils, ...] | None = None


@dataclass(frozen=True, slots=True)
class Window:
    """Within ``half_mm`` of zero infinity is sharp at a full stop."""

    f_number: float
    half_mm: float


@dataclass(frozen=True, slots=True)
class Told:
    """Something that was seen, in words, and the error that it implies; ``wrong`` where no such rig shows it."""

    kind: Term
    words: str
    form: str | None
    a_mm: float | None
    b_mm: float | None
    mean_mm: float | None
    standard_uncertainty_mm: float | None
    wrong: str = ""


@dataclass(frozen=True, slots=True)
class Mend:
    """What to do about it. ``kind``: nothing, shim, another ring; ``off_mm`` is what a repairer would turn down."""

    kind: str
    shim: Shim | None
    off_mm: float | None
    where: str
    order: tuple[str, ...]
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SeenReport:
    """The answer of the bench for a rig. ``together`` None: nothing is known and nothing was seen."""

    lens: str
    body: str
    adapters: tuple[str, ...]
    focal_length_mm: float
    f_number: float
    windows: tuple[Window, ...]
    nominal: Prior
    observations: tuple[Told, ...]
    together: Together | None
    without: Together | None
    next_best: str | None
    next_says: str
    blame: tuple[Blamed, ...]
    wrong_rings: tuple[WrongRing, ...]
    mend: Mend | None
    foils: tuple[Foils, ...]
    before: Shown | None
    after: Shown | None
    after_uncertainty_mm: float | None
    says: str
    more: str


def foils_at_hand(world: World) -> tuple[Foils, ...]:
    """The foils of the collection, as far as there are any left."""
    return tuple(
        Foils(
            one.thickness_mm,
            one.count,
            USUAL_TOLERANCE_MM if one.tolerance_mm is None else one.tolerance_mm,
            one.material,
        )
        for one in world.gear.foils
        if one.count and not one.retired
    )


def seen_report(world: World, rig: Rig, practice: Practice, asked: Asked) -> SeenReport:
    """What was seen of a rig, and what it says. Raises UnknownIdError."""
    on_bench = rig_on_bench(world, rig, practice)
    bench, nominal = on_bench.bench, on_bench.nominal
    told: list[Told] = []
    seen: list[Observation] = []
    for saw in asked.saw:
        try:
            one = implied(bench, saw)
        except ValueError as error:
            told.append(Told(saw.kind, words_of(saw), None, None, None, None, None, str(error)))
            continue
        mean, u = one.as_normal or (None, None)
        told.append(Told(saw.kind, words_of(saw), one.form, one.a_mm, one.b_mm, mean, u))
        seen.append(one)
    prior = None if asked.nameless else nominal
    found = together(bench, prior, seen) if prior is not None or seen else None
    without = None
    if found is not None and found.most_at_odds is not None:
        rest = [one for one in seen if one.kind != found.most_at_odds]
        without = together(bench, None if found.most_at_odds == "prior" else prior, rest)
    best = None if found is None else next_best(bench, found, seen)
    at_hand = foils_at_hand(world) if asked.foils is None else asked.foils
    mend = None if found is None or not seen else _mend(on_bench, found, at_hand, past_infinity=asked.past_infinity)
    before = None if found is None else shown(bench, found.mean_mm, found.standard_uncertainty_mm)
    after, u_after = None, None
    if found is not None and mend is not None and mend.shim is not None and mend.shim.foils:
        u_after = math.hypot(found.standard_uncertainty_mm, mend.shim.uncertainty_mm)
        after = shown(bench, found.mean_mm + mend.shim.sum_mm, u_after)
    # By what was seen alone: what is stated of a ring for another system speaks for itself.
    rings = wrong_rings(world, on_bench.rig, together(bench, None, seen)) if seen else ()
    return SeenReport(
        lens=rig.lens,
        body=rig.body,
        adapters=rig.adapters,
        focal_length_mm=bench.focal_length_mm,
        f_number=bench.f_number,
        windows=tuple(
            Window(n, bench.magnification * n * bench.circle_mm)
            for n in (bench.f_number, *(n for n in FULL_STOPS if bench.f_number < n <= bench.smallest_f_number))
        ),
        nominal=nominal,
        observations=tuple(told),
        together=found,
        without=without,
        next_best=best,
        next_says="" if best is None else SIGHTS[best].look,
        blame=() if found is None or not seen or asked.nameless else blame(on_bench.rig, found),
        wrong_rings=rings,
        mend=mend,
        foils=at_hand,
        before=before,
        after=after,
        after_uncertainty_mm=u_after,
        says=_says(on_bench, found, seen, rings),
        more=_more(found, without),
    )


def _says(on_bench: RigOnBench, found: Together | None, seen: Sequence[Observation], rings: Sequence[WrongRing]) -> str:
    if found is None:
        return "Nothing is known yet: say what you see."
    mean, u = found.mean_mm, found.standard_uncertainty_mm
    if not seen:
        return f"By what is stated: {mean:+.2f} ± {u:.2f} mm. Say what you see."
    if rings:
        return f"{rings[0].says[0].upper()}{rings[0].says[1:]}"
    if on_bench.bench.past_infinity_mm * on_bench.bench.magnification**2 >= mean > 0:
        return f"{mean:.2f} mm too long, which the lens makes good: it turns past infinity by more."
    if abs(mean) <= SURE * u:
        return f"As long as it should be, within what is known: {mean:+.3f} ± {u:.3f} mm."
    way = "long: infinity is lost" if mean > 0 else "short: it focuses past infinity"
    return f"{abs(mean):.2f} ± {u:.2f} mm too {way}."


def _more(found: Together | None, without: Together | None) -> str:
    if found is None or found.agreement_p is None:
        return ""
    if found.both_at_odds:
        return "The two contradict each other, and of two nobody can say which errs: look once more, another way."
    if found.most_at_odds is not None and without is not None:
        name = "the nominal length" if found.most_at_odds == "prior" else SIGHTS[found.most_at_odds].name
        return (
            f"They contradict each other; most at odds is {name}. Without it:"
            f" {without.mean_mm:+.3f} ± {without.standard_uncertainty_mm:.3f} mm."
        )
    return "What was seen and what is stated agree."


_CROSSWISE = (
    "Power off, lens and body cap on, the piece alone on a clean cloth; photograph it before a screw is turned.",
    "Loosen the screws crosswise, a quarter turn each, with a driver that fills the slot; keep each with its hole.",
    "Lay the foils, cut as a full ring or as equal pieces under every screw; nothing over springs, pins or contacts.",
    "Tighten crosswise, a little each time; measure at four places again before it goes near a camera.",
)
_TURNED = (
    "Turning down cannot be taken back, and belongs with a repairer's lathe: never by hand, never without its guard.",
    "Metal dust scratches glass and shorts contacts: no camera or lens in the same room.",
)
_SHIMMED = (
    "A foil under one side alone makes a wedge: the same thickness under every screw.",
    "A plate of a body, and anything with contacts under it, belongs with a qualified repairer.",
)


def _mend(on_bench: RigOnBench, found: Together, at_hand: tuple[Foils, ...], *, past_infinity: bool) -> Mend:
    margin = 2 * found.standard_uncertainty_mm if past_infinity else 0.0
    where = on_bench.shim_at
    if found.mean_mm < -margin:
        shim = shim_for(found.mean_mm, margin, at_hand)
        return Mend("shim", shim, None, where, _CROSSWISE, _SHIMMED)
    past = on_bench.bench.magnification**2 * on_bench.bench.past_infinity_mm
    if found.mean_mm - past > found.standard_uncertainty_mm:
        return Mend("another_ring", None, found.mean_mm + margin, where, (), _TURNED)
    return Mend("nothing", None, None, where, (), ())
