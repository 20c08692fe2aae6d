"""Questions made from a known truth, which the answer must give back; rules are looked up in the gear file."""

from __future__ import annotations

import math
import re

import pytest

from tests.core.exercises.asked import asked, seeds
from tests.core.exercises.plain_gear import ADAPTERS, BODIES, LENSES, MOUNTS, Item, joint
from tropeion.core.exercises.question import FieldsShown, LabelShown, MarksShown, PosedQuestion

WORST = ["damage", "safe_after", "inspect", "no_metering", "stop_down_metering", "meters"]
ANSWER = {"damage": "never", "safe_after": "after", "inspect": "inspect"}


def held(mount: Item, lens: set[str], body: set[str]) -> list[Item]:
    return [
        rule
        for rule in mount["rules"]
        if set(rule.get("lens_has", [])) <= lens
        and not set(rule.get("lens_lacks", [])) & lens
        and set(rule.get("body_has", [])) <= body
        and not set(rule.get("body_lacks", [])) & body
    ]


def may(mount: Item, lens: set[str], body: set[str]) -> str:
    rules = held(mount, lens, body)
    assert rules, "nothing is stated of this combination"
    worst = min(rules, key=lambda rule: WORST.index(rule["effect"]))["effect"]
    return ANSWER.get(worst, "as_is")


def builds(mount: Item) -> list[set[str]]:
    """The parts of every generation, and of every conversion that a lens shows."""
    whole = [set(generation["lens_features"]) for generation in mount["generations"]]
    converted = [
        set(lens["features"])
        for lens in LENSES.values()
        if lens.get("mount") == mount["id"]
        and lens.get("conversion", "none") != "none"
        and lens.get("features") is not None
    ]
    return [*whole, *converted]


@pytest.mark.parametrize("seed", seeds())
def test_generation(seed: int) -> None:
    question = asked("generation", seed)
    shown, about = question.shown, question.about
    assert isinstance(shown, MarksShown)
    assert about.mount is not None
    assert about.body is not None
    mount, body = MOUNTS[about.mount], BODIES[about.body]
    misleading = {f["id"] for f in mount["features"] if f.get("misleading")}
    honest = {f["id"] for f in mount["features"] if f["side"] == "lens"} - misleading
    seen, absent = set(shown.seen) - misleading, set(shown.absent) - misleading
    parts = {
        part
        for generation in mount["generations"]
        if generation["id"] == body["generation"]
        for part in generation["body_features"]
    }
    left = [has & honest for has in builds(mount) if seen <= has and not absent & has]
    assert left, "such a lens was never made"
    match question.trap:
        case "unknown":
            assert question.right == "unknown"
            assert len({may(mount, has, parts) for has in left}) > 1
        case "look_first":
            assert len({question.right in has for has in left}) == 2
            for choice in question.choices:
                if choice.id != question.right:
                    assert choice.id in misleading or len({choice.id in has for has in left}) == 1
        case "meter" | "modes":
            assert seen | absent == honest
            rules = [rule for rule in held(mount, seen, parts) if rule["effect"] in WORST[3:]]
            if question.trap == "meter":
                worst = min((rule["effect"] for rule in rules), key=WORST.index)
                assert (
                    question.right
                    == {"no_metering": "none", "stop_down_metering": "stop_down", "meters": "open"}[worst]
                )
            else:
                sets = [set(rule["exposure_modes"]) for rule in rules if rule.get("exposure_modes") is not None]
                assert set(question.right.split("-")) == set(body["exposure_modes"]).intersection(*sets)
        case _:
            assert seen | absent == honest
            assert question.right == may(mount, seen, parts)
            assert (question.trap == "misleading") == bool(set(shown.seen) & misleading)


@pytest.mark.parametrize("seed", seeds())
def test_label(seed: int) -> None:
    question = asked("label", seed)
    shown = question.shown
    assert isinstance(shown, LabelShown)
    ring = ADAPTERS[question.about.adapters[0]]
    front, rear = MOUNTS[ring["lens_mount"]], MOUNTS[ring["body_mount"]]
    if question.trap == "thread":
        assert question.right == "not_told"
        sharing = [mount for mount in MOUNTS.values() if joint(mount["id"]) == joint(front["id"])]
        assert len(sharing) > 1
        assert not any(
            word in shown.text for mount in sharing for word in [mount["name"], *mount["aliases"]] if "×" not in word
        )
        return
    assert question.right == f"{front['id']}.on.{rear['id']}"
    for mount in (front, rear):
        names = [mount["name"], *mount.get("aliases", [])]
        thread = mount.get("thread")
        if thread is not None:
            names.append(f"{thread['diameter_mm']:g} × {thread['pitch_mm']:g}")
        assert any(name in shown.text for name in names)
    # Nobody else's name is on it.
    others = [m for m in MOUNTS.values() if m["id"] not in {front["id"], rear["id"]}]
    for choice in question.choices:
        if choice.id not in {question.right, "not_told"}:
            ends = choice.id.split(".on.")
            assert set(ends) != {front["id"], rear["id"]} or ends == [rear["id"], front["id"]]
            assert any(end in {m["id"] for m in others} for end in ends) or ends == [rear["id"], front["id"]]


def digits_of(question: PosedQuestion, code: Item) -> str:
    shown = question.shown
    assert isinstance(shown, FieldsShown)
    dark = str(code.get("dark_is", 1))
    light = "0" if dark == "1" else "1"
    at = {round(angle, 6): is_dark for angle, is_dark in shown.fields}
    places = [round((code["start_deg"] + number * code["step_deg"]) % 360, 6) for number in range(code["fields"])]
    return "".join(dark if at[place] else light for place in places)


def away(lens: Item, profile: Item) -> float:
    f = math.log(lens["focal_length_mm"][0] / profile["focal_length_mm"]) ** 2 / 0.2**2
    n = (2 * math.log2(lens["f_number"][0] / profile["f_number"])) ** 2 / 2**2
    pupils = [lens.get("exit_pupil_mm"), profile.get("exit_pupil_mm")]
    if None in pupils:
        return float(f + n)
    one, other = (math.degrees(math.atan(21.63 / pupil)) for pupil in pupils if pupil)
    return float(f + n + ((one - other) / 8) ** 2)


@pytest.mark.parametrize("seed", seeds())
def test_code(seed: int) -> None:
    question = asked("code", seed)
    assert question.about.mount is not None
    mount = MOUNTS[question.about.mount]
    profiles = {profile["code"]: profile for profile in mount["profiles"]}
    right = next(choice.text for choice in question.choices if choice.id == question.right)
    if question.trap == "read":
        assert question.right == digits_of(question, mount["code"])
        assert profiles[question.right]["name"] in right
        assert set(digits_of(question, mount["code"])) <= {"0", "1"}
        return
    assert question.about.lens is not None
    lens = LENSES[question.about.lens]
    if question.trap == "choose":
        distances = {code: away(lens, profile) for code, profile in profiles.items()}
        assert question.right == min(distances, key=distances.__getitem__)
        nearest, second = sorted(distances.values())[:2]
        assert second > 1.2 * nearest
        return
    marked = profiles[digits_of(question, mount["code"])]
    assert holds(right, lens, marked)
    assert not any(holds(choice.text, lens, marked) for choice in question.choices if choice.id != question.right)


def holds(text: str, lens: Item, profile: Item) -> bool:
    """Whether a sentence on what is corrected wrongly is true of a lens that is marked as this profile."""
    numbers = [float(number) for number in re.findall(r"\d+(?:\.\d+)?", text)]
    if text.startswith("The log says"):
        return numbers == [profile["focal_length_mm"], lens["focal_length_mm"][0]]
    if text.startswith("Corners"):
        more = lens["f_number"][0] > profile["f_number"]
        return numbers[0] == pytest.approx(profile["f_number"], abs=0.06) and ("more" in text) == more
    if text.startswith("Colour"):
        if lens.get("exit_pupil_mm") is None or profile.get("exit_pupil_mm") is None:
            return False
        steep = [math.degrees(math.atan(21.63 / item["exit_pupil_mm"])) for item in (profile, lens)]
        apart = steep[0] - steep[1]
        return round(abs(apart)) == numbers[0] and ("steeper" in text) == (apart > 0)
    assert text.startswith("It is taken to cover")
    return numbers == [profile.get("image_circle_mm"), lens["image_circle_mm"]]


def test_a_label_that_names_other_mounts_is_found() -> None:
    """The proof can fail: a ring whose ends are exchanged gives back another answer."""
    question = asked("label", 0, trap="forward")
    ends = question.right.split(".on.")
    turned = f"{ends[1]}.on.{ends[0]}"
    assert turned != question.right
    assert turned in {choice.id for choice in question.choices}
