"""Circles: how far the picture may be shifted, which way after turning, which mode is covered, steep rays."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Final

from tropeion.core.optics.coverage import max_rise_mm
from tropeion.core.rig.judgement import Assessment, assess

from .drafting import Number, Rig, Skill, Trap, about, after, apart, named, numbers, rig_draft
from .hand import Hand, near, stated
from .question import AnswerChoice, CircleShown, Draft

_RULES: Final = {
    "rise": "The corner decides: half the width and the rise must stay inside the circle, not the middle of the edge.",
    "turned": "Turned upright, width and height change places: there is more room along the long side, or less.",
    "mode": "A mode is covered when its diagonal is no longer than the circle.",
    "rays": "The nearer the light seems to come from, the steeper it falls on the corners.",
}


def _circles(hand: Hand) -> Iterator[tuple[Rig, Assessment]]:
    """Rigs that work, whose circle is stated or measured."""
    for lens, adapters, body in hand.rigs((0, 1, 2)):
        if lens.image_circle_mm is None:
            continue
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        if judged.grade not in {"danger", "none"} and stated(judged, "lens.min_focus_m"):
            yield (lens, adapters, body), judged


def _shift(hand: Hand, *, upright: bool) -> Iterator[Draft]:
    """How far a rise goes until the corner leaves the circle, whatever the mechanism allows."""
    for rig, judged in _circles(hand):
        cover = judged.coverage
        circle, w, h = cover.image_circle_mm or 0.0, cover.width_mm, cover.height_mm
        across, up = (h, w) if upright else (w, h)
        rise = max_rise_mm(circle, across, up)
        if rise < 0.8:
            continue
        right = Number("rise", rise, f"√({circle / 2:.2f}² − {across / 2:g}²) − {up / 2:g} = {rise:.1f} mm.")
        wrong = [
            Number("turned", max_rise_mm(circle, up, across), "That is with the camera turned the other way."),
            Number(
                "edge",
                circle / 2 - up / 2,
                "That is where the middle of the edge leaves the circle: the corners are dark long before.",
            ),
            Number(
                "corner", circle / 2 - math.hypot(w, h) / 2, "That is the room along the diagonal, not straight up."
            ),
            Number("whole", circle - math.hypot(w, h), "That counts both sides."),
            Number("double", 2 * rise, "That counts it twice."),
        ]
        told = numbers(right, wrong, lambda mm: f"{mm:.1f} mm", ratio=1.06, least=0.4)
        if told is None:
            continue
        trap = "turned" if upright else "rise"
        way = "upright" if upright else "level"
        mode = f"{w:g} × {h:g} mm"
        yield Draft(
            trap=trap,
            nearness=near(told[1]),
            asks=f"{named(*rig)}. A circle of {circle:.1f} mm on {mode}, the camera {way}. How far up can the "
            f"picture be shifted until a corner goes dark?",
            about=about(*rig),
            choices=told[0],
            why=f"{_RULES[trap]} {right.says}",
            working=(right.says,),
            shown=CircleShown(circle, ((w, h),), upright),
            described="An image circle about the part of the sensor that is used, to scale.",
        )


def _modes(hand: Hand) -> Iterator[Draft]:
    """Which of a body's modes the circle covers, and gives the most pixels."""
    for rig, judged in _circles(hand):
        body, circle = rig[2], judged.coverage.image_circle_mm or 0.0
        if not body.modes:
            continue
        names = {
            "full": (body.sensor_mm, body.megapixels),
            **{m.name: (m.sensor_mm, m.megapixels) for m in body.modes if m.use in {"both", hand.practice.use}},
        }
        diagonals = {name: math.hypot(*size) for name, (size, _) in names.items()}
        # A circle that is within its doubt of a corner decides nothing.
        if any(abs(circle - diagonal) < 0.6 for diagonal in diagonals.values()):
            continue
        covered = {name for name, diagonal in diagonals.items() if diagonal <= circle}
        right_id = "none" if not covered else judged.coverage.mode
        texts = {
            name: f"{'The whole sensor' if name == 'full' else name} ({size[0]:g} × {size[1]:g} mm)"
            for name, (size, _) in names.items()
        }
        texts["none"] = "None of them: every mode has dark corners"
        says = "; ".join(f"{texts[name]}: diagonal {diagonal:.1f} mm" for name, diagonal in diagonals.items())
        chosen = {
            id_: AnswerChoice(
                id_.replace(" ", ""),
                text,
                after(
                    _mode_says(id_, covered, right_id), rig, picture=id_ != "none", mode=None if id_ == "none" else id_
                ),
            )
            for id_, text in texts.items()
        }
        if right_id not in chosen:
            continue
        choices = apart(chosen[right_id], [choice for id_, choice in chosen.items() if id_ != right_id])
        if choices is None:
            continue
        yield Draft(
            trap="mode",
            nearness=1 / (1 + min(abs(circle - diagonal) for diagonal in diagonals.values()) / 2),
            asks=f"{named(*rig)}. Its circle on the sensor is {circle:.1f} mm. Which mode gives the most picture "
            f"without dark corners?",
            about=about(*rig),
            choices=choices,
            why=f"{_RULES['mode']} {says}.",
            working=(f"C = {circle:.1f} mm", *says.split("; ")),
            shown=CircleShown(circle, tuple((size[0], size[1]) for size, _ in names.values())),
            described="An image circle and the parts of the sensor that can be used, to scale.",
        )


def _mode_says(id_: str, covered: set[str], right: str) -> str:
    if id_ == right:
        return "Its corners lie inside the circle." if covered else "Every diagonal is longer than the circle."
    if id_ in covered:
        return "It is covered, and gives away pixels."
    return "One of them is covered." if id_ == "none" else "Its corners lie outside the circle."


def _rays(hand: Hand) -> Iterator[Draft]:
    """Whether the rays are too steep for the corners of this sensor."""
    for rig, judged in _circles(hand):
        lens, _adapters, body = rig
        angle, most = judged.coverage.corner_ray_angle_deg, body.max_ray_angle_deg
        if angle is None or most is None or abs(angle - most) < 2.5 or lens.exit_pupil_mm is None:
            continue
        pupil = lens.exit_pupil_mm + judged.rig.chain.error_mm
        half = judged.rig.mode.diagonal_mm / 2
        steep = angle > most
        says = f"atan({half:.1f} / {pupil:.1f}) = {angle:.0f}°; the sensor takes {most:g}°."
        texts = {
            "smeared": "They smear: the light comes in too steeply",
            "clean": "They take the light well",
            "length": f"They smear: {lens.focal_length_mm[0]:g} mm is too short for this sensor",
            "unknown": "It cannot be known without a frame",
        }
        right_id = "smeared" if steep else "clean"
        chosen = {id_: AnswerChoice(id_, text, after(says, rig, picture=steep)) for id_, text in texts.items()}
        choices = apart(chosen[right_id], [choice for id_, choice in chosen.items() if id_ != right_id])
        if choices is None:
            continue
        yield rig_draft(
            rig,
            trap="rays",
            nearness=1 / (1 + abs(angle - most) / 8),
            asks=f"Its light comes from {pupil:.1f} mm before the sensor, whose corners are {half:.1f} mm from "
            f"the middle "
            f"and take rays of up to {most:g}°. What do the corners do?",
            choices=choices,
            why=f"{_RULES['rays']} {says}",
            working=(says,),
        )


CIRCLE = Skill(
    "Circles",
    "Does it hold?",
    "how near a wrong number, a diagonal or an angle is",
    {
        "rise": Trap("How far up", _RULES["rise"], lambda hand: _shift(hand, upright=False)),
        "turned": Trap("After turning", _RULES["turned"], lambda hand: _shift(hand, upright=True)),
        "mode": Trap("Which mode it covers", _RULES["mode"], _modes),
        "rays": Trap("Steep rays", _RULES["rays"], _rays),
    },
)
