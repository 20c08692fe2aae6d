"""Questions with a choice for an answer: every choice is tried, by the gear file and rules written out."""

from __future__ import annotations

import json
import math
import re
from importlib import resources

import pytest

from tests.core.exercises.asked import asked, rig_of, seeds
from tests.core.exercises.plain_gear import (
    ADAPTERS,
    BODIES,
    LENSES,
    MOUNTS,
    Item,
    chain,
    chains,
    circle,
    does_its_work,
    k_of,
    length,
    mates,
    reach,
    spoken,
    stays,
    stills_mode,
    understood,
)
from tropeion.core.exercises.question import FramesShown, PosedQuestion, SqueezedShown, StepsShown


def carried_by(ring: Item, function: str) -> str:
    link = ring.get("link", "none")
    if link in {"none", "chip"}:
        return "none"
    return str(ring.get("carries", {}).get(function, "full" if link == "pass" else "none"))


def to_blame(rig: tuple[Item, list[Item], Item], function: str) -> list[str]:
    """Every piece without which it would be carried, were the others to do their part."""
    lens, rings, body = rig
    screw = function == "autofocus" and lens.get("focus") == "screw_drive"
    offers = function in lens.get("offers", []) or (
        function == "autofocus" and lens.get("focus") in {"motor", "by_wire"}
    )
    guilty = [] if offers or lens.get("protocol") or screw else [lens["id"]]
    if screw:
        guilty += [ring["id"] for ring in rings if not ring.get("passes_screw")]
        return guilty + ([] if body.get("screw_drive") else [body["id"]])
    guilty += [ring["id"] for ring in rings if carried_by(ring, function) == "none"]
    return guilty + ([] if body.get("protocols") else [body["id"]])


def costs(ring: Item) -> float:
    slot = ring.get("filter_slot") or {}
    places = slot.get("positions", [])
    always = (places or slot.get("kind") == "variable" or slot.get("range_stops")) and not any(
        p.get("clear") for p in places
    )
    least = (
        min([*(p.get("loss_stops", 0.0) for p in places), *(slot.get("range_stops") or [])], default=0.0)
        if always
        else 0.0
    )
    return float(ring.get("light_loss_stops", 0.0) + least + (2 * math.log2(k_of(ring)) if k_of(ring) > 1 else 0.0))


@pytest.mark.parametrize("seed", seeds())
def test_links(seed: int) -> None:
    question = asked("links", seed)
    lens, rings, body = rig = rig_of(question)
    match question.trap:
        case "focus" | "data":
            function = "autofocus" if question.trap == "focus" else "identity"
            assert to_blame(rig, function) == [question.right]
        case "aperture":
            assert stays(lens, rings, body)
            driven_by = {"pin": "pin_press", "lever": "lever_ring"}.get(lens["aperture"])
            for ring in rings:
                mended = {**ring, "aperture_control": driven_by} if driven_by else {**ring, "link": "pass"}
                others = [mended if one is ring else one for one in rings]
                free = not stays(lens, others, body) if driven_by else carried_by(ring, "aperture") == "none"
                assert free == (ring["id"] == question.right)
        case "light":
            guilty = [ring["id"] for ring in rings if costs(ring) > 0]
            assert question.right == (guilty[0] if guilty else "none")
            assert len(guilty) < 2
        case "moves":
            by = {"ring": "ring", "lever": "lever", "pin": "pin", "electronic": "contacts"}[
                lens.get("aperture", "ring")
            ]
            assert question.right == ("nothing" if stays(lens, rings, body) else by)
        case other:
            pytest.fail(other)


def reaches_nowhere_near(lens: Item, rings: list[Item], body: Item) -> bool:
    """Whether a rig is none that is bought for infinity: it does not go on, or infinity is lost at every stop."""
    if not mates(lens, rings, body):
        return True
    put = chain(lens, rings, body)
    _, w, h = stills_mode(body, circle(lens, rings))
    smallest = put.k * lens["f_number"][1] * math.hypot(w, h) / 3000
    near, _ = reach(lens, rings, body)
    lost = put.error_mm - put.k**2 * lens.get("past_infinity_mm", 0.0) > smallest
    return lost or near is None or (lens.get("focus") == "by_wire" and spoken(lens, rings, body) is None)


@pytest.mark.parametrize("seed", seeds())
def test_buy(seed: int) -> None:
    question = asked("buy", seed)
    assert question.about.lens is not None
    assert question.about.body is not None
    lens, body = LENSES[question.about.lens], BODIES[question.about.body]
    if question.trap in {"which", "refuse"}:
        works = {c.id: does_its_work(lens, [ADAPTERS[c.id]], body) for c in question.choices}
        bad = {c.id: reaches_nowhere_near(lens, [ADAPTERS[c.id]], body) for c in question.choices}
        odd = works if question.trap == "which" else bad
        assert [id_ for id_, held in odd.items() if held] == [question.right]
        rest = bad if question.trap == "which" else works
        assert all(rest[c.id] for c in question.choices if c.id != question.right)
        return
    if question.trap == "leave":
        rows = [row for row in chains(lens, body) if does_its_work(lens, row, body)]
        mine = [row for row in rows if all(ring.get("owned", 0) for ring in row)]
        match question.right:
            case "fits":
                assert mine
            case "ring":
                assert rows
                assert not mine
            case _:
                assert not rows
        gap = MOUNTS[lens["mount"]]["register_mm"] - MOUNTS[body["mount"]]["register_mm"]
        for choice in question.choices:
            told = re.search(r"plain ring of ([\d.]+) mm", choice.text)
            if told is not None:
                near = abs(float(told[1]) - gap) < 0.5
                assert near == (choice.id == "look" and question.right == "look")
        return
    if lens.get("measured_register_mm") is None:
        assert question.right == "register"
        return
    fill = lens["measured_register_mm"] - MOUNTS[body["mount"]]["register_mm"]
    fits = [c.id for c in question.choices if float(c.text.split()[0]) <= fill]
    assert fits == [question.right]


@pytest.mark.parametrize("seed", seeds())
def test_cause(seed: int) -> None:
    question = asked("cause", seed)
    if question.trap == "joint":
        lens, rings, _ = rig_of(question)
        plays = [MOUNTS[lens["mount"]].get("play_mm", 0.0), *(ring.get("play_mm", 0.0) for ring in rings)]
        told = re.findall(r"gives ([\d.]+) mm|(locks)", question.asks)
        free = [0.0 if locks else play for play, (_, locks) in zip(plays, told, strict=True)]
        moved = [play * math.prod(k_of(ring) ** 2 for ring in rings[at:]) for at, play in enumerate(free)]
        assert question.right == f"joint-{moved.index(max(moved)) + 1}"
        assert sorted(moved)[-2] < max(moved)
        return
    if question.trap == "shim":
        _, rings, _ = rig_of(question)
        found = re.search(r"finds the flange distance ([\d.]+) mm too (short|long)", question.asks)
        error = 0.0 if found is None else float(found[1]) * (-1 if found[2] == "short" else 1)
        plain = [at for at, ring in enumerate(rings) if k_of(ring) == 1 and ring.get("register_in_mm") is None]
        counts = math.prod(k_of(ring) ** 2 for ring in rings[(plain[-1] + 1 if plain else 0) :])
        after = {c.id: error + counts * float(c.id[5:]) for c in question.choices if c.id.startswith("shim-")}
        after["leave"] = error
        # No longer than it should be, give or take a hundredth, and nearest to that.
        kept = {id_: abs(mm) for id_, mm in after.items() if mm <= 0.0111}
        assert question.right == (min(kept, key=kept.__getitem__) if kept else "ring")
        return
    frames = {
        f["frame"]: f
        for f in json.loads(resources.files("tropeion.core.data").joinpath("second_frames.json").read_text())
    }
    shown = question.shown
    assert isinstance(shown, FramesShown)
    at = "first"
    for seen in shown.frames:
        assert seen.frame == at
        at = next(look["next"] for look in frames[at]["looks"] if look["saw"] == seen.saw)
        assert seen.label in question.asks
    assert question.right == at


STAGES = (
    r"^Power off|auto/manual switch|^Set tilt and shift|to zero and lock",
    r" onto .*\.",
    r"^Verify every lock",
    r"^Power on\.",
    r"focal length|exposure|release without|stabiliser|desqueeze",
    r"^Focus |^Check infinity",
)


def stage_of(text: str) -> int | None:
    """In which part of the work a step is done; None where that is not told by its words."""
    return next((place for place, pattern in enumerate(STAGES) if re.search(pattern, text)), None)


@pytest.mark.parametrize("seed", seeds())
def test_setup(seed: int) -> None:
    question = asked("setup", seed)
    texts = {choice.id: choice.text for choice in question.choices}
    match question.trap:
        case "order":
            shown = question.shown
            assert isinstance(shown, StepsShown)
            assert question.by == "order"
            places = {id_: int(id_.split("-")[1]) for id_ in texts}
            assert min(places.values()) == places[question.right] == len(shown.done) + 1
            first = stage_of(texts[question.right])
            later = [
                stage for id_, text in texts.items() if id_ != question.right and (stage := stage_of(text)) is not None
            ]
            assert first is None or all(first <= stage for stage in later)
            assert not set(texts.values()) & set(shown.done)
        case "seat":
            assert isinstance(question.shown, SqueezedShown)
            lens, _, _ = rig_of(question)
            narrow, low = question.shown.wide < 1, question.shown.high < 1
            assert (narrow, low) == ((True, False) if question.right == "right" else (False, True))
            assert min(question.shown.wide, question.shown.high) == pytest.approx(1 / lens["squeeze"])
        case "filter":
            ring = ADAPTERS[question.about.adapters[0]]
            told = re.search(r"([\d.]+) stops too bright", question.asks)
            assert told is not None
            losses = [p.get("loss_stops", 0.0) for p in ring["filter_slot"]["positions"]]
            enough = [loss for loss in losses if loss >= float(told[1])]
            assert question.right == f"place-{min(enough):g}"
        case "setting":
            assert lacks(question)
        case other:
            pytest.fail(other)


def lacks(question: PosedQuestion) -> bool:
    """Whether the setting that is right is one that this body has and this lens cannot do by itself."""
    lens, rings, body = rig_of(question)
    carried = spoken(lens, rings, body)
    chip = any(ring.get("link") == "chip" for ring in rings)
    c = circle(lens, rings) if lens.get("image_circle_mm") else None
    _, w, h = stills_mode(body, c) if c else ("full", *body["sensor_mm"])
    plausible: dict[str, bool] = {
        "release_without_lens": body.get("bare_release") == "off" and carried is None and not chip,
        "focal_length": carried is None or carried["identity"] == "none" or chip,
        "exposure": bool(body.get("exposure_modes")),
        "squeeze": lens.get("squeeze", 1.0) in body.get("desqueeze", []),
        "meter": body.get("kind") == "film" and bool(rings),
        "area": c is not None and [w, h] != body["sensor_mm"],
        "iris": lens.get("aperture", "ring") != "electronic" and lens["f_number"][0] < lens["f_number"][1],
        "magnifier": "magnifier" in body.get("focus_aids", []) and body.get("kind", "digital") == "digital",
    }
    return plausible[question.right]


def test_force_tells_wrong_rings_apart() -> None:
    """The proof can fail: the ring for the other system of a thread does not do its work, its own does."""
    lens, body = LENSES["tpr-36"], BODIES["o7"]
    assert does_its_work(lens, [ADAPTERS["tpr-ost-plain"]], body)
    assert reaches_nowhere_near(lens, [ADAPTERS["tol-ost-plain"]], body)
    assert length(ADAPTERS["tpr-ost-plain"]) < length(ADAPTERS["tol-ost-plain"])
    assert understood("ost-link-2", "ost-link-1")
