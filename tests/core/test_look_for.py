"""Rings to look for: the fewest that would meet what a plan cannot, and what is told of each."""

from __future__ import annotations

from typing import Any

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.change import Change, changed
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan.look_for import labels_of
from tropeion.core.plan.planning import plan_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion

PRACTICE = Practice()


def kit(*rings: dict[str, Any], **more: Any) -> World:
    """Two systems of lenses and two bodies; each system has room on both."""
    return compile_world(
        gear_of(
            {
                "mounts": [
                    mount("corvin", 46.3, interface="c", aliases=["CRV"]),
                    mount("delmar", 38.8, interface="d", load_rating_nm=1.0),
                    mount("zephyr", 18.0, interface="z", aliases=["ZPH", "Zeph"]),
                    mount("yarrow", 30.0, interface="y"),
                    # The same screw as Corvin at another distance.
                    mount("corvid", 44.0, interface="c"),
                ],
                "bodies": [
                    body(id="near", name="Near", mount="zephyr", owned=1),
                    body(id="far", name="Far", mount="yarrow", owned=1),
                ],
                "lenses": [
                    *(lens(id=f"c{n}", name=f"C{n}", mount="corvin", owned=1) for n in range(4)),
                    *(lens(id=f"d{n}", name=f"D{n}", mount="delmar", owned=1, **more) for n in range(3)),
                ],
                "adapters": list(rings),
            }
        )
    )


def asked(world: World, *bodies: str, **more: Any) -> PlanQuestion:
    return PlanQuestion(demands=tuple(Demand(lens=one.id, bodies=bodies, **more) for one in world.gear.lenses))


def test_two_rings_for_seven_lenses() -> None:
    world = kit()
    report = plan_of(world, asked(world, "near"), PRACTICE)
    assert (report.met, report.cost, report.bought) == (0, 0, ())
    assert len(report.unmet) == 7
    told = [(one.id, one.length_mm, len(one.serves)) for one in report.look_for]
    assert told == [("ring..corvin..zephyr..28.3", 28.3, 4), ("ring..delmar..zephyr..20.8", 20.8, 3)]


def test_where_either_body_will_do_they_are_still_the_fewest() -> None:
    world = kit()
    report = plan_of(world, asked(world, "near", "far"), PRACTICE)
    assert sorted(len(one.serves) for one in report.look_for) == [3, 4]


def test_what_is_listed_is_bought_and_not_looked_for() -> None:
    world = kit(ring("cz", 28.3, lens_mount="corvin", body_mount="zephyr", price=20.0))
    report = plan_of(world, asked(world, "near"), PRACTICE)
    assert (report.met, report.cost) == (4, 20)
    assert [one.id for one in report.look_for] == ["ring..delmar..zephyr..20.8"]


def test_with_a_price_it_is_a_piece_and_the_plan_is_met() -> None:
    """What the plan tells of is tried: bought, it does what is said."""
    world = kit()
    question = asked(world, "near")
    before = plan_of(world, question, PRACTICE)
    pieces = []
    for number, one in enumerate(before.look_for):
        found = world.adapter(one.id).model_dump() | {"id": f"found{number}", "price": 15.0}
        pieces.append(Adapter.model_validate(found))
    gear = world.gear.model_copy(update={"adapters": tuple(pieces)})
    after = plan_of(compile_world(gear), question, PRACTICE)
    assert (after.met, after.cost, after.look_for) == (7, 30, ())
    grades = {one.lens: one.grade for one in after.serves}
    assert grades == {each.lens: each.grade for one in before.look_for for each in one.serves}


def test_what_a_ring_has_to_do_is_said() -> None:
    world = kit(aperture="lever", iris_at_rest="closed", mass_g=900.0, centre_of_mass_mm=110.0)
    (ring_,) = [one for one in plan_of(world, asked(world, "near"), PRACTICE).look_for if one.lens_mount == "delmar"]
    assert ring_.id.endswith("..lever")
    # 0.9 kg · 9.80665 m/s² · (110 + 20.8) mm = 1.15 N·m on a mount rated for 1.
    assert ring_.needs == (
        "moves the aperture lever, with a ring of its own",
        "has a foot of its own, or the lens a support: D0 loads it with 1.2 N·m",
    )


def test_labels_have_every_name_and_both_orders() -> None:
    world = kit()
    labels = labels_of(world.mounts["corvin"], world.mounts["zephyr"])
    assert labels[0] == "Corvin lens to Zephyr camera"
    for one in ("Corvin", "CRV"):
        for other in ("Zephyr", "ZPH", "Zeph"):
            assert {f"{one}–{other}", f"{other}–{one}"} <= set(labels)


def test_what_looks_like_it_is_refused_and_hundredths_are_told() -> None:
    world = kit()
    found = plan_of(world, asked(world, "near"), PRACTICE).look_for
    corvin = found[0]
    assert [one.name for one in corvin.refuse] == ["Corvid"]
    # f/2 · 43.27 mm / 1500; the mounts are exact here.
    assert abs(corvin.tolerance_mm - 2 * 43.2666 / 1500) < 1e-4
    assert any("0.06 mm too long" in one for one in corvin.check)


def test_a_grade_that_no_ring_reaches_is_not_looked_for() -> None:
    world = kit()
    assert plan_of(world, asked(world, "near", grade="full"), PRACTICE).look_for == ()


def test_beside_a_listed_piece_only_where_that_is_at_hand() -> None:
    """A ring onto glass that nobody has bought yet is no ring to look for."""
    ends = {"lens_mount": "yarrow", "body_mount": "corvin"}
    glass = {"optics": "correcting", "magnification": 1.25, "register_in_mm": 30.0, "register_out_mm": 46.3}
    world = kit(ring("glass", 12.0, **ends, **glass, price=90.0))
    world = compile_world(
        world.gear.model_copy(update={"bodies": (world.bodies["near"].model_copy(update={"mount": "corvin"}),)})
    )
    question = PlanQuestion(demands=(Demand(lens="d0", bodies=("near",), grade="partial"),))
    assert plan_of(world, question, PRACTICE).look_for == ()
    (found,) = plan_of(changed(world, Change(buy=("glass",))), question, PRACTICE).look_for
    assert found.serves[0].adapters == ("ring..delmar..yarrow..8.8", "glass")


def test_what_is_asked_to_be_sure_is_met_by_no_ring_that_nobody_measured() -> None:
    """As long as the gap wants it proves nothing: with a price it would not meet the demand either."""
    world = kit()
    assert plan_of(world, asked(world, "near", probability=0.5), PRACTICE).look_for == ()


def test_a_lens_that_nobody_weighed_is_not_taken_to_be_light() -> None:
    checks = [text for one in plan_of(kit(), asked(kit(), "near"), PRACTICE).look_for for text in one.check]
    assert any("Nobody weighed D0, D1 and D2" in text for text in checks)
    weighed = kit(mass_g=100.0, centre_of_mass_mm=20.0)
    checks = [text for one in plan_of(weighed, asked(weighed, "near"), PRACTICE).look_for for text in one.check]
    assert not any("D0" in text for text in checks)
