"""From a rig with a known error, by a rendered frame, back to the error; and how the bench takes what a blur says."""

from __future__ import annotations

import dataclasses
import math
import random
from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.measured.rendered import Reals, edge
from tests.thorough import EVERYWHERE
from tropeion.core.bench.combined import posterior
from tropeion.core.bench.posterior import Prior
from tropeion.core.bench.seen import Bench, Saw, implied
from tropeion.core.measured.finding import RefusedAt
from tropeion.core.measured.ring_error import AstigmatismError, FlangeError, RingMeasured, likely_of, ring_of, which_of
from tropeion.core.measured.slanted import EdgeMeasured, measure_edge

RIGS = 100 if EVERYWHERE else 10
# Two standard uncertainties, of a normal doubt.
IN_95 = 1.96


@dataclass(frozen=True)
class RandomRig:
    """A rig, a frame of it, and what stands wrong. Lengths in mm."""

    bench: Bench
    pitch_mm: float
    f_number: float
    distance_mm: float
    ring_mm: float | None
    error_mm: float
    residual: tuple[str, float]
    seed: int

    @property
    def disc_px(self) -> float:
        """Of a point, by the cone of light behind a thin lens and a converter of magnification K."""
        f, k, past = self.bench.focal_length_mm, self.bench.magnification, self.bench.past_infinity_mm
        behind, ring = image_mm(f, self.distance_mm), -past if self.ring_mm is None else image_mm(f, self.ring_mm) - f
        pupil = f / self.f_number
        # What is wrong behind the converter, seen at the lens, is 1/K² of it.
        plane = f + ring + self.error_mm / k**2
        return k * pupil * abs(plane - behind) / behind / self.pitch_mm


def image_mm(focal: float, distance: float) -> float:
    """How far behind a thin lens a thing is sharp whose whole distance, thing to image, is ``distance``."""
    if math.isinf(distance):
        return focal
    # v + f·v/(v − f) = D.
    return (distance - math.sqrt(distance * distance - 4 * focal * distance)) / 2


def random_rig(seed: int) -> RandomRig:
    """One whose disc has 2 to 18 pixels."""
    chance = random.Random(seed)
    while True:
        focal = chance.choice([28.0, 35.0, 55.0, 85.0, 135.0])
        past = chance.choice([0.0, 0.0, 0.05, 0.3])
        k = chance.choice([1.0, 1.0, 0.71, 1.4])
        bench = Bench(focal, 2.0, 22.0, k, 0.03, 8.0, focal, past_infinity_mm=past)
        rig = RandomRig(
            bench=bench,
            pitch_mm=chance.uniform(0.003, 0.006),
            f_number=chance.choice([2.0, 2.8, 4.0, 5.6]),
            distance_mm=chance.choice([math.inf, math.inf, 40 * focal, 90 * focal]),
            ring_mm=chance.choice([None, math.inf, 60 * focal]),
            error_mm=chance.uniform(-0.4, 0.4),
            residual=(chance.choice(["gauss", "exponential", "disc"]), chance.uniform(0.7, 1.3)),
            seed=seed,
        )
        if 2.0 <= rig.disc_px <= 18.0:
            return rig


@dataclass(frozen=True)
class Taken:
    """A frame, as far as it was measured."""

    width: int
    height: int
    edges: tuple[EdgeMeasured, ...]
    as_sharpened: bool = False
    refused: tuple[RefusedAt, ...] = ()


def frame_of(light: Reals) -> Taken:
    return Taken(light.shape[1], light.shape[0], (measure_edge(light),))


def found_of(rig: RandomRig) -> RingMeasured:
    kind, width = rig.residual
    residual = (kind, 2.6 * width if kind == "disc" else width)
    lean = random.Random(rig.seed).choice([4.0, 5.0, -6.0, 7.0])
    soft = edge(lean, (residual, ("disc", rig.disc_px)), noise=0.004, seed=rig.seed + 1)
    focus = edge(lean, (residual,), noise=0.004, seed=rig.seed, columns=soft.shape[1])
    return ring_of(
        rig.bench,
        frame_of(soft),
        frame_of(focus),
        pitch_mm=rig.pitch_mm,
        f_number=rig.f_number,
        distance_mm=rig.distance_mm,
        ring_mm=rig.ring_mm,
    )


def test_the_error_lies_within_what_is_stated() -> None:
    within = 0
    for seed in range(RIGS):
        rig = random_rig(seed)
        found = found_of(rig)
        assert not found.astigmatism_checked
        within += any(abs(one.register_error_mm - rig.error_mm) <= IN_95 * one.doubt_mm for one in found.errors)
    assert within >= 0.9 * RIGS


def test_directions_that_differ_tell_nothing_of_the_ring() -> None:
    bench = Bench(55.0, 2.0, 22.0, 1.0, 0.03, 8.0, 55.0)
    sharp = edge(5.0, (("gauss", 1.0),), columns=60)
    soft, softer = (edge(5.0, (("gauss", 1.0), ("disc", wide)), columns=60) for wide in (4.0, 8.0))

    def crossing(upright: Reals, lying: Reals) -> Taken:
        # Both near the middle of a frame of 400 × 400.
        return Taken(400, 400, (measure_edge(upright, at=(170, 100)), measure_edge(lying, at=(100, 170))))

    def told(other: Reals) -> RingMeasured:
        return ring_of(
            bench,
            crossing(soft, other),
            crossing(sharp, sharp.T),
            pitch_mm=0.005,
            f_number=2.8,
            distance_mm=math.inf,
            ring_mm=None,
        )

    assert told(soft.T).astigmatism_checked
    with pytest.raises(AstigmatismError):
        told(softer.T)


def test_another_distance_of_the_ring_says_which() -> None:
    rig = next(
        rig
        for rig in map(random_rig, range(1000))
        if rig.ring_mm is None and math.isinf(rig.distance_mm) and abs(rig.error_mm) > 0.1
    )
    farther = dataclasses.replace(rig, ring_mm=150 * rig.bench.focal_length_mm)
    first, second = found_of(rig), found_of(farther)
    place = which_of(first, second)
    assert place is not None
    chosen = first.errors[place]
    assert abs(chosen.register_error_mm - rig.error_mm) <= 3 * chosen.doubt_mm
    # The same frame again shrinks and grows alike: it never tells.
    assert which_of(first, first) is None


BENCH = Bench(55.0, 2.2, 22.0, 1.0, 0.03, 8.0, 55.0)


@given(st.floats(0.01, 0.2), st.floats(0.002, 0.01), st.sampled_from([2.2, 4.0, 8.0]))
def test_a_blur_stands_on_the_bench_as_two_hills(blur_mm: float, doubt_mm: float, stop: float) -> None:
    seen = implied(BENCH, Saw("edge_blur", (blur_mm, doubt_mm, stop, 0.0)))
    assert seen.form == "hills"
    assert [middle for middle, _ in seen.hills] == pytest.approx([-blur_mm * stop, blur_mm * stop])
    assert all(u == pytest.approx(doubt_mm * stop) for _, u in seen.hills)
    # Nothing else known: as likely to either side.
    alone = posterior(None, [seen])
    assert alone.mean_mm == pytest.approx(0.0, abs=0.02 * blur_mm * stop + 1e-3)


def test_what_is_stated_or_measured_chooses_the_hill() -> None:
    blurred = implied(BENCH, Saw("edge_blur", (0.05, 0.004, 2.2, 0.0)))
    long = posterior(Prior(0.08, 0.03), [blurred])
    assert long.mean_mm == pytest.approx(0.11, abs=0.01)
    short = posterior(Prior(0.0, 0.05), [blurred, implied(BENCH, Saw("length", (-0.1, 0.02)))])
    assert short.mean_mm == pytest.approx(-0.11, abs=0.01)


def test_what_is_stated_may_make_one_of_two_likely() -> None:
    def two(low: float, high: float) -> RingMeasured:
        return RingMeasured(0.1, 0.004, False, True, (FlangeError(low, 0.01), FlangeError(high, 0.01)))

    assert likely_of(two(-0.2, 0.2), Prior(0.15, 0.05)) == 1
    assert likely_of(two(-0.2, 0.2), Prior(0.0, 0.05)) is None
    # Beside a far stop that lies beyond infinity, one of the two lies near to what is stated.
    assert likely_of(two(-0.02, 0.62), Prior(0.0, 0.05)) == 0
    assert likely_of(RingMeasured(0.0, 0.004, True, True, (FlangeError(0.0, 0.01),)), Prior(0.1, 0.05)) is None


def test_a_reference_that_was_sharpened_is_no_surer_than_the_cameras_own_frame() -> None:
    rig = random_rig(3)
    soft = edge(5.0, (("gauss", 1.0), ("disc", 6.0)))
    sharp = edge(5.0, (("gauss", 1.0),), columns=soft.shape[1])

    def told(frame: Taken, reference: Taken | None) -> RingMeasured:
        return ring_of(
            rig.bench, frame, reference, pitch_mm=0.005, f_number=4.0, distance_mm=math.inf, ring_mm=math.inf
        )

    plain, jpeg = frame_of(sharp), dataclasses.replace(frame_of(sharp), as_sharpened=True)
    assert told(frame_of(soft), plain).doubt_mm < 0.005
    # One pixel at least.
    assert told(frame_of(soft), jpeg).doubt_mm >= 0.005
    with pytest.raises(ValueError, match="another size"):
        told(frame_of(soft), dataclasses.replace(plain, width=plain.width + 2))
    with pytest.raises(ValueError, match="there is no edge in it"):
        told(dataclasses.replace(plain, edges=()), plain)
