"""What is said of infinity by how likely it is; what is to be done about an answer, and its consequence."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from tropeion.core.frozen import frozen

from .combined import Combined, Estimate, posterior
from .forward import Shown, sharp_between_mm, shown
from .posterior import Prior
from .rig_on_bench import RigOnBench
from .seen import Bench, Observation
from .shims import Foils, Shimmed, shim_at, shimmed

# From the first probability infinity is reached, up to the second it is not; between them it is unsure.
SURE, SURELY_NOT = 0.9, 0.1


@frozen
class ReachMended:
    """Whether infinity is reached at the widest aperture, how likely, and from which stop it surely is.

    ``from_f_number`` None: at no stop of the ring.
    """

    verdict: Literal["reached", "lost", "not_sure"]
    probability: float
    from_f_number: float | None


@frozen
class Mend:
    """What to do about it: nothing, shim, another ring, look again; ``off_mm`` is what a repairer would turn down.

    ``shim`` and ``off_mm`` were tried on the answer: ``SeenReport.after`` is what comes of them.
    """

    kind: Literal["nothing", "shim", "another_ring", "look_again"]
    shim: Shimmed | None
    off_mm: float | None
    where: str
    order: tuple[str, ...]
    cautions: tuple[str, ...]


def reach_of(bench: Bench, found: Combined, prior: Prior | None, seen: Sequence[Observation]) -> ReachMended:
    """Whether infinity is reached, by the answer that counts."""
    if found.headline is not found:
        prior = None
    by = posterior(prior, seen)
    surely = (stop for stop in bench.stops if by.share_between(*sharp_between_mm(bench, stop)) >= SURE)
    p = found.infinity_probability
    return ReachMended("reached" if p >= SURE else "lost" if p <= SURELY_NOT else "not_sure", p, next(surely, None))


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
_LOOK_AGAIN = "Nothing is mended on a contradiction: look at it again, or leave out what you do not trust."


def mend_for(
    on_bench: RigOnBench,
    found: Estimate,
    reach: ReachMended,
    at_hand: Sequence[Foils],
    *,
    past_infinity: bool,
    settled: bool,
) -> Mend:
    """What to do about an answer; on a contradiction nothing is mended."""
    margin = 2 * found.standard_uncertainty_mm if past_infinity else 0.0
    at = shim_at(on_bench.rig)
    if not settled:
        return Mend("look_again", None, None, at.where, (), (_LOOK_AGAIN,))
    if found.mean_mm < -margin:
        shim = shimmed(on_bench.bench, at, found, margin, at_hand)
        helps = shim.foils and abs(shim.after_mm) < abs(found.mean_mm)
        return Mend("shim", shim, None, at.where, _CROSSWISE if helps else (), _SHIMMED if helps else ())
    if reach.verdict == "lost" and found.mean_mm > 0:
        return Mend("another_ring", None, found.mean_mm + margin, at.where, (), _TURNED)
    return Mend("look_again" if reach.verdict == "not_sure" else "nothing", None, None, at.where, (), ())


def after_mending(bench: Bench, found: Estimate, mend: Mend) -> tuple[Shown, float] | None:
    """What the rig shows once it is mended, and how unsure that is; None where nothing is mended."""
    if mend.shim is not None and mend.shim.foils:
        u = mend.shim.after_uncertainty_mm
        return shown(bench, mend.shim.after_mm, u), u
    if mend.off_mm is not None:
        u = found.standard_uncertainty_mm
        return shown(bench, found.mean_mm - mend.off_mm, u), u
    return None
