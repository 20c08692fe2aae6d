"""Questions with a number for an answer: computed again from the gear file, by the formulas written out."""

from __future__ import annotations

import math
import re
import statistics

import pytest

from tests.core.exercises.asked import asked, rig_of, seeds
from tests.core.exercises.plain_gear import ADAPTERS, MOUNTS, Item, chain, circle, reach, register, spoken, stills_mode
from tropeion.core.exercises.posing import SKILL
from tropeion.core.exercises.question import SKILLS, CircleShown, CrestsShown, PosedQuestion, ReadingsShown, SkillId


def text_of(question: PosedQuestion, id_: str) -> str:
    return next(choice.text for choice in question.choices if choice.id == id_)


def number_in(text: str) -> float:
    found = re.search(r"-?\d+(?:\.\d+)?", text.replace("−", "-").replace(",", ""))
    assert found is not None, text
    return float(found[0])


def mm_said(mm: float) -> str:
    return f"{mm:.0f} mm" if mm >= 100 else f"{mm:.1f} mm"


def metres(text: str) -> list[float]:
    """The distances of a text, in mm."""
    units = {"cm": 10, "m": 1000}
    return [float(value) * units[unit] for value, unit in re.findall(r"([\d.]+) (cm|m)\b", text.replace(",", ""))]


@pytest.mark.parametrize("seed", seeds())
def test_reach(seed: int) -> None:
    question = asked("reach", seed)
    lens, rings, body = rig_of(question)
    right = text_of(question, question.right)
    if question.trap in {"ring_length", "no_room"}:
        gap = MOUNTS[lens["mount"]]["register_mm"] - MOUNTS[body["mount"]]["register_mm"]
        wanted = f"A plain ring of {gap:.2f} mm" if gap > 0 else f"No plain ring: {-gap:.2f} mm of room are missing"
        assert right == wanted
        others = [number_in(choice.text) for choice in question.choices if "plain ring of" in choice.text]
        assert sum(abs(mm - gap) <= 0.2 for mm in others) == (gap > 0)
        return
    near, far = reach(lens, rings, body)
    if near is None or far is None:
        assert question.right == "nothing"
        return
    assert ("infinity" in right) == math.isinf(far)
    told = metres(right)
    if math.isnan(near):
        assert "cannot be known" in right
        assert told == []
    else:
        assert told[0] == pytest.approx(near, rel=0.006)
        assert told[1:] == ([] if math.isinf(far) else [pytest.approx(far, rel=0.006)])
    for choice in question.choices:
        if choice.id in {question.right, "nothing"}:
            continue
        wrong = metres(choice.text)
        same_far = ("infinity" in choice.text) == math.isinf(far)
        apart = [max(a / b, b / a) for a, b in zip(wrong, [near, far], strict=False)]
        assert not same_far or math.isnan(near) or max(apart) > 1.1


@pytest.mark.parametrize("seed", seeds())
def test_equivalents(seed: int) -> None:
    question = asked("equivalents", seed)
    lens, rings, body = rig_of(question)
    k = math.prod(ring.get("magnification", 1.0) for ring in rings)
    _, w, h = stills_mode(body, circle(lens, rings))
    crop = math.hypot(36, 24) / math.hypot(w, h)
    if question.trap == "exposure":
        wanted = k * lens["f_number"][0]
        assert text_of(question, question.right) == f"f/{wanted:.1f}"
    else:
        wanted = k * lens["focal_length_mm"][0] * crop
        assert text_of(question, question.right) == mm_said(wanted)
    others = [number_in(choice.text) for choice in question.choices if choice.id != question.right]
    assert all(max(other / wanted, wanted / other) > 1.025 for other in others)


def entered(body: Item, mm: float) -> float:
    told = body["stabiliser"]
    if told.get("presets_mm"):
        return float(min(told["presets_mm"], key=lambda preset: (abs(math.log(preset / mm)), -preset)))
    low, high = told.get("entry_mm", (1.0, 9999.0))
    step = told.get("entry_step_mm", 0.1)
    return float(min(max(round(round(mm / step) * step, 6), low), high))


@pytest.mark.parametrize("seed", seeds())
def test_stabiliser(seed: int) -> None:
    question = asked("stabiliser", seed)
    lens, rings, body = rig_of(question)
    k = math.prod(ring.get("magnification", 1.0) for ring in rings)
    carried = spoken(lens, rings, body)
    heard = carried is not None and carried["identity"] != "none"
    assert heard == (question.trap == "identifies")
    mark = float(lens["focal_length_mm"][0])
    if question.trap == "zoom_mark":
        mark = number_in(question.asks[question.asks.index("stands at") :])
    wanted = entered(body, k * mark)
    match question.trap:
        case "identifies":
            assert question.right == "nothing"
        case "corners":
            c = circle(lens, rings)
            _, w, h = stills_mode(body, c)
            a, b, r = w / 2, h / 2, c / 2
            q = (math.sqrt(max(0.0, 2 * r * r - (a - b) ** 2)) - a - b) / 2 / body["stabiliser"]["travel_mm"]
            if lens.get("image_circle_from") != "measured":
                assert question.right == "look"
            else:
                allowed = [step for step in body["stabiliser"].get("travel_steps", [1.0]) if step <= q]
                assert question.right == (f"step-{max(allowed):g}" if allowed else "off")
        case "power_on":
            offered = number_in(question.asks[question.asks.index("offers") :])
            assert question.right == ("confirm" if offered == wanted else f"change-{wanted:g}")
        case _:
            assert text_of(question, question.right) == f"{wanted:g} mm"
            others = [number_in(c.text) for c in question.choices if c.id != question.right]
            assert all(max(other / wanted, wanted / other) > 1.025 for other in others)


@pytest.mark.parametrize("seed", seeds())
def test_caliper(seed: int) -> None:
    question = asked("caliper", seed)
    shown, right = question.shown, text_of(question, question.right)
    match question.trap:
        case "pitch":
            assert isinstance(shown, CrestsShown)
            assert right == f"{shown.length_mm / (shown.crests - 1):.2f} mm"
        case "datum":
            assert question.right == "faces"
        case "zero":
            assert isinstance(shown, ReadingsShown)
            assert right == f"{shown.readings_mm[0] - shown.zero_mm:.2f} mm"
        case "set":
            assert isinstance(shown, ReadingsShown)
            assert shown.slides
            assert question.by == "jaws"
            assert right == f"{ADAPTERS[question.about.adapters[0]]['length_mm'] + shown.zero_mm:.2f} mm"
            assert sorted(number_in(choice.text) for choice in question.choices) == list(shown.readings_mm)
        case "slip":
            assert isinstance(shown, ReadingsShown)
            middle = statistics.median(shown.readings_mm)
            far = [place for place, mm in enumerate(shown.readings_mm) if abs(mm - middle) > 0.25]
            assert question.right == (f"reading-{far[0] + 1}" if far else "none")
            assert len(far) < 2
        case "doubt":
            assert isinstance(shown, ReadingsShown)
            ring, values = ADAPTERS[question.about.adapters[0]], shown.readings_mm
            u2 = statistics.variance(values) / 4 + 0.01**2 / 12 + 0.02**2 / 3
            apart = (statistics.mean(values) - ring["length_mm"]) / math.sqrt(u2 + ring["tolerance_mm"] ** 2 / 3)
            assert question.right == ("same" if abs(apart) < 2 else "long" if apart > 0 else "short")
            assert not 1.9 < abs(apart) < 2.1
        case other:
            pytest.fail(other)


@pytest.mark.parametrize("seed", seeds())
def test_circle(seed: int) -> None:
    question = asked("circle", seed)
    lens, rings, body = rig_of(question)
    c, shown = circle(lens, rings), question.shown
    mode, w, h = stills_mode(body, c)
    match question.trap:
        case "rise" | "turned":
            assert isinstance(shown, CircleShown)
            assert shown.upright == (question.trap == "turned")
            across, up = (h, w) if shown.upright else (w, h)
            wanted = math.sqrt((c / 2) ** 2 - (across / 2) ** 2) - up / 2
            assert text_of(question, question.right) == f"{wanted:.1f} mm"
            others = [number_in(choice.text) for choice in question.choices if choice.id != question.right]
            assert all(abs(other - wanted) > 0.3 for other in others)
        case "mode":
            covered = math.hypot(w, h) <= c
            assert question.right == (mode.replace(" ", "") if covered else "none")
        case "rays":
            pupil = lens["exit_pupil_mm"] + chain(lens, rings, body).error_mm
            angle = math.degrees(math.atan(math.hypot(w, h) / 2 / pupil))
            assert question.right == ("smeared" if angle > body["max_ray_angle_deg"] else "clean")
        case other:
            pytest.fail(other)


def test_a_wrong_formula_is_found() -> None:
    """These proofs can fail: with δ of the wrong sign, or the crop counted twice, they do."""
    tubes = [asked("reach", seed) for seed in range(40)]
    tube = next(question for question in tubes if question.trap == "tube")
    lens, rings, body = rig_of(tube)
    near, far = reach(lens, rings, {**body, "measured_register_mm": register(body) - 3})
    assert metres(text_of(tube, tube.right)) != pytest.approx([near, far], rel=0.006)


@pytest.mark.parametrize("skill", SKILLS)
def test_every_trap_was_asked(skill: SkillId) -> None:
    """Twenty seeds that miss a trap would prove nothing of it."""
    for trap in SKILL[skill].traps:
        assert asked(skill, 0, trap=trap).trap == trap
