"""Which frame tells missed focus, soft corners, a wedge and play apart; and what numbers speak for which."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import lens, ring, world_of
from tropeion.core.bench.causes import FRAMES, CauseReport, cause_report, cause_title
from tropeion.core.bench.rig_on_bench import RigOnBench, rig_on_bench
from tropeion.core.gear.rig import Rig


def on_bench(**more: Any) -> RigOnBench:
    the_lens = lens(exit_pupil_mm=40.0)
    return rig_on_bench(world_of([ring(outer_mm=60.0, **more)], the_lens=the_lens), Rig.of("lens", "body", ["ring"]))


def told(*answers: str, spreads: dict[str, float] | None = None, **more: Any) -> CauseReport:
    return cause_report(on_bench(**more), answers, spreads)


@pytest.mark.parametrize(
    ("answers", "cause"),
    [
        (["all_soft", "one_sharp"], "missed_focus"),
        (["all_soft", "none_sharp"], "lens"),
        (["edges_soft", "edge_sharp"], "curvature"),
        (["edges_soft", "edge_still_soft"], "soft_corners"),
        (["middle_soft", "middle_sharp"], "shift_of_focus"),
        (["side_soft", "side_still_soft"], "lens"),
        (["side_soft", "side_sharp", "side_moves"], "play"),
        (["side_soft", "side_sharp", "side_stays", "goes_with_ring"], "wedge_ring"),
        (["side_soft", "side_sharp", "side_stays", "stays_with_body"], "wedge_body"),
        (["side_soft", "side_sharp", "side_stays", "goes_with_lens"], "lens"),
    ],
)
def test_frames_lead_to_a_cause(answers: list[str], cause: str) -> None:
    found = told(*answers)
    assert found.cause is not None
    assert (found.cause.cause, found.frame) == (cause, None)
    assert [one.cause for one in found.open] == [cause]
    assert len(found.path) == len(answers)
    assert found.cause.title == cause_title(cause)


def test_every_way_through_ends_within_four_frames() -> None:
    """Walked exhaustively: no frame leads back, and each answer narrows what is open or leaves it."""

    def walk(answers: list[str]) -> int:
        found = told(*answers)
        if found.frame is None:
            return len(answers)
        before = {one.cause for one in found.open}
        depths = []
        for look in found.frame.looks:
            after = {one.cause for one in told(*answers, look.saw).open}
            assert after
            assert after <= before
            depths.append(walk([*answers, look.saw]))
        return max(depths)

    assert walk([]) == 4
    reached = {frame for look in FRAMES.values() for one in look.looks if (frame := one.next) in FRAMES}
    assert reached == set(FRAMES) - {"first"}


@pytest.mark.parametrize("answers", [["soft"], ["all_soft", "edge_sharp"], ["all_soft", "one_sharp", "one_sharp"]])
def test_an_answer_that_the_frame_cannot_give_is_refused(answers: list[str]) -> None:
    with pytest.raises(ValueError, match="can show"):
        told(*answers)


def evidence(report: CauseReport, cause: str) -> str:
    return next(one.evidence for one in report.open if one.cause == cause)


def test_play_is_held_against_what_is_sharp_wide_open() -> None:
    # 0.4 mm over 60 mm tips the ends of 36 mm by 0.12 mm; f/2 at 0.029 mm is sharp within 0.058.
    much = evidence(told(play_mm=0.4), "play")
    assert "±0.120 mm" in much
    assert "enough to be seen" in much
    little = evidence(told(play_mm=0.04), "play")
    assert "±0.012 mm" in little
    assert "too little to be seen" in little
    assert "Nobody stated" in evidence(told(), "play")


def test_readings_around_the_seat_speak_for_or_against_the_ring() -> None:
    assert "four readings would tell" in evidence(told(), "wedge_ring")
    # 0.3 mm over 60 mm: 0.09 mm at the ends.
    assert "±0.090 mm" in evidence(told(spreads={"ring": 0.3}), "wedge_ring")


def test_steep_rays_are_told_with_the_corners() -> None:
    # atan(21.63/40)
    assert "28°" in evidence(told("edges_soft"), "soft_corners")
