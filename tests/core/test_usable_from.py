"""From which stop a rig is usable: demands by hand, what counts, what overtakes, contradictions side by side."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.prepared import sample_world
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.tried import UsableFrom, by_rig, left_unusable, usable_of
from tropeion.core.gear.world import World, compile_world, with_tried
from tropeion.core.practice import Practice
from tropeion.core.records.trials import PieceEvent, Trial
from tropeion.core.records.usable_from import Dated, corner_soft, meets, not_counted, usable_rows
from tropeion.core.routes.match import match, show_working

AT = "2026-11-20T14:00:00+01:00"
RING = ("kel-ost-plain",)


def trial(aperture: float = 4.0, centre: str = "sharp", corner: str | None = "sharp", **more: Any) -> Trial:
    fields = {"lens": "kel-55", "via": RING, "body": "o7", "use": "paid_still", **more}
    return Trial.model_validate({"aperture": aperture, "centre": centre, "corner": corner, **fields})


def rows(*trials: Trial | Dated, events: tuple[PieceEvent, ...] = (), firmware: Any = None) -> tuple[UsableFrom, ...]:
    dated = [one if isinstance(one, Dated) else Dated(one, AT) for one in trials]
    return usable_rows(dated, events, firmware or {})


def stop(*trials: Trial | Dated, **more: Any) -> float | None:
    (row,) = rows(*trials, **more)
    return row.aperture


@pytest.mark.parametrize(
    ("use", "centre", "corner", "met"),
    [
        ("paid_still", "sharp", "sharp", True),
        ("paid_still", "sharp", "soft", False),
        ("paid_still", "soft", "sharp", False),
        ("film", "sharp", "soft", True),
        ("film", "sharp", "smeared", False),
        ("film", "soft", "sharp", False),
        ("web", "sharp", "soft", True),
        ("web", "sharp", "dark", False),
        ("play", "soft", "dark", True),
        ("play", "smeared", "sharp", False),
        # The corner was not looked at: where it decides, nobody can tell.
        ("paid_still", "sharp", None, None),
        ("film", "sharp", None, None),
        ("film", "soft", None, False),
        ("play", "soft", None, True),
    ],
)
def test_what_a_use_demands(use: Any, centre: str, corner: str | None, met: bool | None) -> None:
    assert meets(trial(centre=centre, corner=corner), use) is met


def test_a_ghost_spoils_a_paid_still_unless_it_is_wanted() -> None:
    assert meets(trial(ghost=True), "paid_still") is False
    assert meets(trial(ghost=True), "film") is True
    assert meets(trial(ghost=True, character=("Flare",)), "paid_still") is True
    assert meets(trial(flare=True), "paid_still") is True


def test_every_trial_at_it_and_beyond_meets_the_demand() -> None:
    ladder = [trial(2.2, "soft", "smeared"), trial(4.0), trial(5.6), trial(8.0)]
    assert stop(*ladder) == 4.0
    # Worse again when it is stopped down: nothing beyond is usable.
    assert stop(*ladder, trial(11.0, "sharp", "soft")) is None
    assert stop(*ladder, trial(11.0, "sharp", "soft"), trial(16.0)) == 16.0
    (row,) = rows(*ladder)
    assert (row.trials, row.own, row.newest, row.failed) == (4, 4, "2026-11-20", True)


def test_contradicting_trials_are_never_averaged() -> None:
    two = [trial(4.0), trial(4.0, corner="soft", source="review"), trial(8.0)]
    assert stop(*two) == 8.0
    (row,) = rows(*two)
    assert (row.trials, row.own) == (3, 2)
    # Struck out, it counts no more.
    assert stop(two[0], Dated(two[1], AT, struck=True), two[2]) == 4.0


def test_a_corner_that_nobody_looked_at_neither_meets_nor_fails() -> None:
    assert stop(trial(4.0, corner=None), trial(5.6), trial(8.0, corner=None)) == 5.6
    (row,) = rows(trial(4.0, corner=None))
    assert (row.aperture, row.failed) == (None, False)
    assert left_unusable([row], "paid_still") == ()


@pytest.mark.parametrize("cause", ["focus", "magnifier", "subject", "shake", "play"])
def test_what_failed_for_another_reason_does_not_count_against_the_lens(cause: str) -> None:
    failed = trial(8.0, "smeared", "smeared", cause=cause)
    assert stop(trial(4.0), failed) == 4.0
    assert stop(trial(4.0), trial(8.0, "smeared", "smeared", cause="lens")) is None
    assert rows(failed) == ()


def event(what: str, on: str, kind: str = "adapters", id_: str = RING[0]) -> PieceEvent:
    return PieceEvent.model_validate({"piece": {"kind": kind, "id": id_}, "on": on, "what": what})


@pytest.mark.parametrize(
    ("happened", "counts"),
    [
        (event("converted", "2026-11-21"), False),
        (event("serviced", "2026-11-21", "lens", "kel-55"), False),
        (event("modified", "2026-11-21", "bodies", "o7"), False),
        # One tries what was just mended.
        (event("serviced", "2026-11-20"), True),
        (event("converted", "2026-11-19"), True),
        (event("measured", "2026-11-21"), True),
        (event("lent", "2026-11-21"), True),
        (event("serviced", "2026-11-21", "adapters", "kel-ost-short"), True),
        # A body of the lens's id is another piece.
        (event("serviced", "2026-11-21", "bodies", "kel-55"), True),
    ],
)
def test_what_overtakes_a_trial(happened: PieceEvent, counts: bool) -> None:
    assert bool(rows(trial(), events=(happened,))) == counts
    assert bool(not_counted(Dated(trial(), AT), (happened,), {})) != counts


def test_new_firmware_overtakes_and_firmware_that_nobody_said_does_not() -> None:
    told = trial(firmware={"o7": "1.2"})
    assert rows(told, firmware={"o7": "1.3"}) == ()
    assert rows(told, firmware={"o7": "1.2"}) != ()
    assert rows(told, firmware={}) != ()
    assert rows(trial(), firmware={"o7": "1.3"}) != ()
    assert not_counted(Dated(told, AT), (), {"o7": "1.3"}) == "made with firmware 1.2 of o7, which has 1.3 now"


def test_uses_bodies_chains_and_marks_of_a_zoom_are_rows_of_their_own() -> None:
    found = rows(
        trial(),
        trial(use="film"),
        trial(body=None),
        trial(via=()),
        trial(lens="kel-28-80", focal_length_mm=28.0),
        trial(lens="kel-28-80", focal_length_mm=80.0),
    )
    assert len(found) == 6
    own = usable_of(by_rig(found), "kel-55", RING, "o7")
    assert [(row.body, row.use) for row in own] == [("o7", "film"), ("o7", "paid_still"), (None, "paid_still")]


def test_trials_on_this_body_speak_before_those_that_name_none() -> None:
    (here,), (anywhere,) = rows(trial(4.0)), rows(trial(8.0, "soft", body=None))
    assert left_unusable([here, anywhere], "paid_still") == ()
    assert left_unusable([anywhere], "paid_still") == (anywhere,)
    (bad,), (good,) = rows(trial(8.0, "soft")), rows(trial(4.0, body=None))
    assert left_unusable([bad, good], "paid_still") == (bad,)
    assert left_unusable([bad], "film") == ()


verdicts = st.sampled_from(["sharp", "soft", "smeared", "dark"])
ladders = st.lists(
    st.tuples(st.sampled_from([2.0, 2.8, 4.0, 5.6, 8.0]), verdicts, st.one_of(st.none(), verdicts)), min_size=1
)


@given(ladders, st.sampled_from(["paid_still", "film", "web", "play"]))
def test_the_stop_is_the_widest_that_holds(ladder: list[tuple[float, str, str | None]], use: Any) -> None:
    trials = [trial(aperture, centre, corner, use=use) for aperture, centre, corner in ladder]
    found = stop(*trials)
    speak = [(one.aperture, meets(one, use)) for one in trials if meets(one, use) is not None]
    held = [aperture for aperture, _ in speak if all(met for other, met in speak if other >= aperture)]
    assert found == min(held, default=None)


def tried(*trials: Trial) -> World:
    return with_tried(sample_world(), by_rig(rows(*trials)))


def test_at_equal_grade_what_was_tried_in_vain_stands_last() -> None:
    before = match(sample_world(), "kel-55", "o7", Practice())
    first, grade = before.routes[0].adapters, before.routes[0].grade
    world = tried(trial(2.2, "soft", "soft", via=first), trial(8.0, "sharp", "soft", via=first))
    after = match(world, "kel-55", "o7", Practice())
    equal = [route.adapters for route in after.routes if route.grade == grade]
    assert after.routes[0].adapters != first
    assert equal[-1] == first
    # Another grade is another question, and so is another use.
    assert {route.grade for route in after.routes} == {route.grade for route in before.routes}
    assert match(world, "kel-55", "o7", Practice(use="film")).routes[0].adapters == first
    bad = next(route for route in after.routes if route.adapters == first)
    (said,) = [finding.text for finding in bad.findings if finding.code == "tried_unusable"]
    assert said == (
        "Tried for paid stills, and no stop was usable: 2 trials, 2 of one’s own, the newest of 2026-11-20. "
        "At equal grade it stands last."
    )
    assert [row.aperture for row in bad.usable] == [None]
    assert show_working(world, Rig("kel-55", "o7", first))


def test_a_usable_stop_changes_no_order_and_is_told() -> None:
    first = match(sample_world(), "kel-55", "o7").routes[0].adapters
    route = match(tried(trial(4.0, via=first)), "kel-55", "o7").routes[0]
    assert route.adapters == first
    assert [(row.use, row.aperture, row.trials) for row in route.usable] == [("paid_still", 4.0, 1)]
    assert all(finding.code != "tried_unusable" for finding in route.findings)


def test_what_is_compiled_anew_keeps_what_was_tried() -> None:
    world = tried(trial(4.0))
    assert compile_world(world.gear, world).tried == world.tried
    assert compile_world(world.gear).tried == {}


def test_why_one_does_not_count() -> None:
    happened = (event("serviced", "2026-11-21"),)
    assert not_counted(Dated(trial(cause="focus"), AT), (), {}) == "it failed for another reason than the lens"
    assert not_counted(Dated(trial(), AT, struck=True), happened, {}) == "struck out"
    named = not_counted(Dated(trial(), AT), happened, {}, lambda id_: f"<{id_}>")
    assert named == "made before <kel-ost-plain> was serviced on 2026-11-21"
    assert not_counted(Dated(trial(cause="lens"), AT), (), {}) == ""


@pytest.mark.parametrize(
    ("centre", "corner", "soft"),
    [("sharp", "soft", True), ("sharp", "dark", True), ("sharp", "sharp", False), ("soft", "soft", False)],
)
def test_corners_are_soft_beside_a_sharp_centre(centre: str, corner: str, soft: bool) -> None:
    assert corner_soft(trial(centre=centre, corner=corner)) is soft
    assert not corner_soft(trial(centre=centre, corner=None))
