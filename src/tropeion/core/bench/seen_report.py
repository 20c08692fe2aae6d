"""All that was seen of a rig, as one answer: its error, what contradicts, which piece, what to do, before and after."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

from .agreement import Term
from .blame import Blamed, WrongRing, blame, wrong_rings
from .combined import Combined, Estimate, posterior, together
from .forward import Shown, shown
from .looks import next_best
from .mending import Mend, ReachMended, after_mending, mend_for, reach_of
from .posterior import Prior
from .rig_on_bench import rig_on_bench
from .seen import Bench, Observation, Saw, implied
from .shims import USUAL_TOLERANCE_MM, Foils
from .sights import SIGHTS
from .sights import told as words_of


@frozen
class SeenAsked:
    """What is asked: what was seen, whether the ring has a name, and what is wanted of infinity.

    ``left_out`` are the places of what was seen and does not count any more.
    """

    saw: tuple[Saw, ...]
    nameless: bool = False
    past_infinity: bool = True
    foils: tuple[Foils, ...] | None = None
    left_out: frozenset[int] = frozenset()


@frozen
class Window:
    """Within ``half_mm`` of zero infinity is sharp at a full stop."""

    f_number: float
    half_mm: float


@frozen
class SightTold:
    """Something that was seen, in words, and the error that it implies; ``wrong`` where no such rig shows it.

    A band that is open to one side has None there. ``left_out``: it counts no more. ``hills_mm``: the errors that are
    as likely, where there are two, each with ``b_mm``.
    """

    kind: Term
    words: str
    form: str | None
    a_mm: float | None
    b_mm: float | None
    mean_mm: float | None
    standard_uncertainty_mm: float | None
    wrong: str = ""
    left_out: bool = False
    hills_mm: tuple[float, ...] = ()


@frozen
class SeenReport:
    """The answer of the bench for a rig. ``together`` None: nothing is known and nothing was seen.

    ``headline`` is the answer that counts; ``most_at_odds`` the place in the list of what is, ``prior_at_odds``: it is
    the stated length.
    """

    lens: str
    body: str
    adapters: tuple[str, ...]
    focal_length_mm: float
    f_number: float
    windows: tuple[Window, ...]
    nominal: Prior
    observations: tuple[SightTold, ...]
    together: Combined | None
    headline: Estimate | None
    most_at_odds: int | None
    prior_at_odds: bool
    reach: ReachMended | None
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
            foil.thickness_mm,
            foil.count,
            USUAL_TOLERANCE_MM if foil.tolerance_mm is None else foil.tolerance_mm,
            foil.material,
        )
        for foil in world.gear.foils
        if foil.count and not foil.retired
    )


def seen_report(world: World, rig: Rig, practice: Practice, asked: SeenAsked) -> SeenReport:
    """What was seen of a rig, and what it says. Raises UnknownIdError."""
    on_bench = rig_on_bench(world, rig, practice)
    bench, nominal = on_bench.bench, on_bench.nominal
    told: list[SightTold] = []
    seen: list[Observation] = []
    places: list[int] = []
    for place, saw in enumerate(asked.saw):
        out = place in asked.left_out
        try:
            observation = implied(bench, saw)
        except ValueError as error:
            told.append(SightTold(saw.kind, words_of(saw), None, None, None, None, None, str(error), out))
            continue
        mean, u = observation.as_normal or (None, None)
        a, b = observation.a_mm, observation.b_mm
        hills = tuple(middle for middle, _ in observation.hills) if observation.form == "hills" else ()
        told.append(SightTold(saw.kind, words_of(saw), observation.form, a, b, mean, u, left_out=out, hills_mm=hills))
        if not out:
            seen.append(observation)
            places.append(place)
    prior = None if asked.nameless else nominal
    combined = together(bench, prior, seen) if prior is not None or seen else None
    headline = None if combined is None else combined.headline
    best = None if combined is None else next_best(bench, posterior(prior, seen), seen)
    at_hand = foils_at_hand(world) if asked.foils is None else asked.foils
    reach = None if combined is None else reach_of(bench, combined, prior, seen)
    mend = None
    if combined is not None and headline is not None and reach is not None and seen:
        settled = combined.agrees or bool(asked.left_out)
        mend = mend_for(on_bench, headline, reach, at_hand, past_infinity=asked.past_infinity, settled=settled)
    before = None if headline is None else shown(bench, headline.mean_mm, headline.standard_uncertainty_mm)
    after = None
    if headline is not None and mend is not None:
        after = after_mending(bench, headline, mend)
    # By what was seen alone: what is stated of a ring for another system speaks for itself.
    alone = together(bench, None, seen) if seen else None
    rings = wrong_rings(world, on_bench.rig, alone) if alone is not None and alone.agrees else ()
    odd = None if combined is None or combined.most_at_odds_index is None else places[combined.most_at_odds_index]
    return SeenReport(
        lens=rig.lens,
        body=rig.body,
        adapters=rig.adapters,
        focal_length_mm=bench.focal_length_mm,
        f_number=bench.f_number,
        windows=tuple(Window(n, bench.magnification * n * bench.circle_mm) for n in bench.stops),
        nominal=nominal,
        observations=tuple(told),
        together=combined,
        headline=headline,
        most_at_odds=odd,
        prior_at_odds=combined is not None and combined.most_at_odds == "prior",
        reach=reach,
        next_best=best,
        next_says="" if best is None else SIGHTS[best].look,
        blame=() if headline is None or not seen or asked.nameless else blame(on_bench.rig, headline),
        wrong_rings=rings,
        mend=mend,
        foils=at_hand,
        before=before,
        after=None if after is None else after[0],
        after_uncertainty_mm=None if after is None else after[1],
        says=_says(bench, combined, reach, seen, rings),
        more=_more(combined, told, odd),
    )


def _says(
    bench: Bench,
    found: Combined | None,
    reach: ReachMended | None,
    seen: Sequence[Observation],
    rings: Sequence[WrongRing],
) -> str:
    if found is None or reach is None:
        return "Nothing is known yet: say what you see."
    mean, u = found.headline.mean_mm, found.headline.standard_uncertainty_mm
    if not seen:
        return f"By what is stated: {mean:+.2f} ± {u:.2f} mm. Say what you see."
    if rings:
        return f"{rings[0].says[0].upper()}{rings[0].says[1:]}"
    if not found.headline.agrees:
        return f"What was seen does not agree: {mean:+.3f} ± {u:.3f} mm by all of it together."
    way = "long" if mean > 0 else "short"
    wide = f"at f/{bench.f_number:g}"
    if reach.verdict == "not_sure":
        stop = "" if reach.from_f_number is None else f"; surely from f/{reach.from_f_number:g}"
        return (
            f"Not sure that infinity is sharp {wide} ({_percent(reach.probability)}){stop}: {mean:+.3f} ± {u:.3f} mm."
        )
    if reach.verdict == "lost":
        stop = "at no stop" if reach.from_f_number is None else f"sharp from f/{reach.from_f_number:g}"
        return f"{abs(mean):.2f} ± {u:.2f} mm too {way}: infinity is lost {wide}, {stop}."
    if mean > bench.window_mm:
        return f"{mean:.2f} mm too long, which the lens makes good: it turns past infinity by more."
    if mean < -bench.window_mm:
        return f"{abs(mean):.2f} ± {u:.2f} mm too short: it focuses past infinity."
    return f"Infinity is sharp {wide}, as it should be: {mean:+.3f} ± {u:.3f} mm."


def _percent(share: float) -> str:
    return f"{100 * share:.0f} %"


def _more(found: Combined | None, told: Sequence[SightTold], odd: int | None) -> str:
    if found is None or found.agreement_p is None:
        return ""
    if found.both_at_odds:
        return "The two contradict each other, and of two nobody can say which errs: look once more, another way."
    if found.most_at_odds is None:
        return "What was seen and what is stated agree."
    without = found.without
    if found.headline is not found:
        all_of_it = f"{found.mean_mm:+.3f} ± {found.standard_uncertainty_mm:.3f} mm"
        return f"What was seen agrees, and the stated length contradicts it. With it: {all_of_it}."
    name = "the stated length" if odd is None else told[odd].words
    rest = ""
    if without is not None:
        rest = f" Without it: {without.mean_mm:+.3f} ± {without.standard_uncertainty_mm:.3f} mm."
    return f"They contradict each other; most at odds is: {name}.{rest} Look at it again, or leave it out."
