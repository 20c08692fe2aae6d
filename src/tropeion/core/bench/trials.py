"""Trials of rigs: what was seen of each, and what two that differ in one end alone tell of that end."""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError, World
from tropeion.core.optics.register import Chain
from tropeion.core.optics.seats import Seat
from tropeion.core.records.bench_trial import BenchTrial, SawRecord

from .causes import cause_title
from .combined import together
from .difference import ByDifference, body_by_difference, lens_by_difference
from .rig_on_bench import rig_on_bench
from .seen import KINDS, Saw, implied
from .sights import told


@frozen
class Against:
    """Another end whose trial stands, what it gives by difference, and the fields that would be written."""

    id: str
    name: str
    day: str
    found: ByDifference
    fields: dict[str, float]
    says: str


@frozen
class Differences:
    """What of a rig's lens and of its body can be told against others."""

    lens: tuple[Against, ...] = ()
    body: tuple[Against, ...] = ()


def saw_record(saw: Saw, *, left_out: bool = False) -> SawRecord:
    """What was seen, as a trial keeps it."""
    return SawRecord(
        kind=saw.kind, values=saw.values, doubt_mm=saw.doubt_mm, from_front=saw.from_front, left_out=left_out
    )


def _seen_in(trial: BenchTrial) -> list[tuple[Saw, bool]]:
    """What a trial keeps, as far as it is known any more, and whether it was left out."""
    return [
        (Saw(kind, saw.values, saw.doubt_mm, saw.from_front), saw.left_out)
        for saw in trial.saw
        for kind in KINDS
        if kind == saw.kind
    ]


def trial_told(trial: BenchTrial) -> list[str]:
    """What was seen in a trial, in words."""
    words = [f"{told(saw)}{' (left out)' if out else ''}" for saw, out in _seen_in(trial)]
    if trial.cause is not None:
        words.append(f"the frames told: {cause_title(trial.cause)}")
    return words


@frozen
class _Alone:
    """What the latest trial of a rig saw, without what is stated of it: error and standard uncertainty."""

    trial: BenchTrial
    chain: Chain
    error_mm: tuple[float, float]


def _alone(world: World, trial: BenchTrial) -> _Alone | None:
    """None where the rig is no more, or nothing that was seen has a middle."""
    try:
        on_bench = rig_on_bench(world, Rig.read(trial.rig))
    except (MountlessError, UnknownIdError, UnknownRegisterError):
        return None
    seen = []
    for saw, out in _seen_in(trial):
        if out:
            continue
        try:
            seen.append(implied(on_bench.bench, saw))
        except ValueError:
            continue
    if not any(observation.as_normal for observation in seen):
        return None
    combined = together(on_bench.bench, None, seen)
    return _Alone(trial, on_bench.rig.chain, (combined.mean_mm, combined.standard_uncertainty_mm))


def differences(world: World, rig: Rig, trials: Sequence[BenchTrial]) -> Differences:
    """What the latest trial of a rig tells of its lens and its body, against rigs that differ in one of them alone.

    ``trials`` are those of all rigs, the latest first. Empty where the rig has none.
    """
    latest: dict[str, BenchTrial] = {}
    for bench_trial in trials:
        if not bench_trial.struck and bench_trial.saw:
            latest.setdefault(bench_trial.rig, bench_trial)
    trial = latest.get(rig.bare.id)
    own = None if trial is None else _alone(world, trial)
    if own is None:
        return Differences()
    lenses, bodies = [], []
    for bench_trial in latest.values():
        its = Rig.read(bench_trial.rig)
        if its.adapters != rig.adapters or (its.lens == rig.lens) == (its.body == rig.body):
            continue
        other = _alone(world, bench_trial)
        if other is None:
            continue
        if its.body == rig.body:
            by = lens_by_difference(_known(other.chain.lens), other.error_mm, own.error_mm, own.chain.magnification)
            lenses.append(_against(its.lens, world.lens(its.lens).name, bench_trial.day, by))
        else:
            by = body_by_difference(_known(other.chain.body), other.error_mm, own.error_mm)
            bodies.append(_against(its.body, world.body(its.body).name, bench_trial.day, by))
    return Differences(tuple(lenses), tuple(bodies))


def _known(seat: Seat) -> tuple[float, float]:
    return seat.register_mm, seat.tolerance_mm / math.sqrt(3)


def _against(id_: str, name: str, day: str, by: ByDifference) -> Against:
    fields = {
        "measured_register_mm": round(by.register_mm, 3),
        "measured_tolerance_mm": math.ceil(by.measured_tolerance_mm * 1000) / 1000,
    }
    says = f"{by.register_mm:.3f} ± {by.standard_uncertainty_mm:.3f} mm, against {name} of {day}"
    return Against(id_, name, day, by, fields, says)
