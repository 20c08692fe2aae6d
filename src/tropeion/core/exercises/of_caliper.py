"""The caliper: zero and reading, datum, doubt, a reading that cannot be, and the pitch from ten crests."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from tropeion.core.bench.quantities import Quantity, bench_piece
from tropeion.core.bench.readings import measured
from tropeion.core.bench.threads import which_thread
from tropeion.core.gear.adapters import Adapter
from tropeion.core.working import tidy

from .drafting import Number, Skill, Trap, numbers
from .hand import Hand, near
from .question import After, AnswerChoice, AskedAbout, CrestsShown, Draft, ReadingsShown

_RULES: Final = {
    "zero": "What the jaws show when they are closed comes off every reading.",
    "set": "What the jaws show when they are closed is in every reading: the display shows the length with it.",
    "datum": "The length that decides focus runs from mount face to mount face, and not over the rims.",
    "slip": "A reading far from the middle of the others is a slip of the hand: take it again.",
    "doubt": "A difference that is smaller than twice its doubt is none that this caliper can tell.",
    "pitch": "From the first crest to the eleventh are ten pitches: count the steps, not the crests.",
}
# The usual caliper: a hundredth, good to two.
_RESOLUTION_MM, _ERROR_MM = 0.01, 0.02


def length_said(mm: float) -> str:
    """A length as a caliper shows it; negative with its sign."""
    return f"{'−' if mm < 0 else ''}{abs(mm):.2f} mm"


def _rings(hand: Hand) -> Iterator[Adapter]:
    for ring in hand.adapters():
        if ring.physical_length_mm > 2 and not ring.helicoid_mm:
            yield ring


def _zero(hand: Hand) -> Iterator[Draft]:
    """The length of a ring, from a reading and what the jaws show closed."""
    for ring in _rings(hand):
        off = hand.chance.choice((-1, 1)) * hand.chance.randint(3, 12) / 100
        length = tidy(ring.physical_length_mm + hand.chance.randint(-4, 4) / 100)
        reading = tidy(length + off)
        mean = measured([reading], zero_mm=off, resolution_mm=_RESOLUTION_MM, error_mm=_ERROR_MM).mean_mm
        right = Number("taken-off", mean, _taken_off(reading, off, mean))
        wrong = [
            Number("as-read", reading, "That leaves out what the jaws show closed."),
            Number("added", reading + off, "That counts it the wrong way."),
            Number("stated", ring.length_mm, "That is what is stated, not what was read."),
            Number("twice", length - off, "That takes it off twice."),
        ]
        told = numbers(right, wrong, length_said, ratio=1.0, least=0.015)
        if told is not None:
            yield _draft(
                "zero",
                ring,
                1 / (1 + abs(off) / 0.05),
                f"Closed, the jaws show {length_said(off)}; on {ring.name} they show {length_said(reading)}. How "
                f"long is it?",
                told[0],
                (_taken_off(reading, off, mean),),
                ReadingsShown((reading,), off),
                "A caliper closed, and on the ring, with its display.",
            )


def _taken_off(reading: float, off: float, mean: float) -> str:
    return f"{reading:.2f} {_sum(-off)} = {mean:.2f} mm."


def _sum(mm: float) -> str:
    return f"{'−' if mm < 0 else '+'} {abs(mm):.2f}"


def _signed(mm: float) -> str:
    return f"{'−' if mm < 0 else '+'}{abs(mm):.2f}"


def _set(hand: Hand) -> Iterator[Draft]:
    """What the jaws show on a ring whose length is known: answered by sliding them there."""
    for ring in _rings(hand):
        off = hand.chance.choice((-1, 1)) * hand.chance.randint(3, 12) / 100
        length = tidy(ring.length_mm)
        right = Number("shown", tidy(length + off), f"{length:.2f} {_sum(off)} = {length + off:.2f} mm.")
        wrong = [
            Number("length", length, "That is a caliper that shows 0.00 closed."),
            Number("turned", tidy(length - off), "That takes off what is to be added."),
            Number("twice", tidy(length + 2 * off), "That adds it twice."),
            Number("half", tidy(length - 2 * off), "That takes it off twice."),
        ]
        told = numbers(right, wrong, length_said, ratio=1.0, least=0.015)
        if told is not None:
            choices = told[0]
            yield _draft(
                "set",
                ring,
                1 / (1 + abs(off) / 0.05),
                f"Closed, the jaws show {length_said(off)}. {ring.name} is {length_said(length)} long. "
                "Slide the jaws to what they show on it.",
                choices,
                (f"{length:.2f} {_sum(off)} = {length + off:.2f} mm.",),
                ReadingsShown(tuple(sorted(float(choice.text.split()[0]) for choice in choices)), off, slides=True),
                "A caliper about the ring; its jaws can be slid.",
                by="jaws",
            )


def _draft(
    trap: str,
    ring: Adapter,
    nearness: float,
    asks: str,
    choices: tuple[AnswerChoice, ...],
    working: tuple[str, ...],
    shown: ReadingsShown | CrestsShown,
    described: str,
    by: str = "choose",
) -> Draft:
    return Draft(
        trap=trap,
        nearness=nearness,
        asks=asks,
        about=AskedAbout(adapters=(ring.id,)),
        choices=choices,
        why=f"{_RULES[trap]} {choices[0].after.says}",
        working=working,
        shown=shown,
        described=described,
        by="jaws" if by == "jaws" else "choose",
    )


def _datum(hand: Hand) -> Iterator[Draft]:
    """Between which places the length lies that decides focus."""
    for ring in _rings(hand):
        quantities = bench_piece(hand.world, "adapters", ring.id).quantities
        length = next(q for q in quantities if q.quantity == "length")
        outline = ring.bore_mm or 40.0
        right = AnswerChoice("faces", "From mount face to mount face, on the flat metal", After(f"{length.says}"))
        wrong = [
            AnswerChoice(
                "rims",
                "Over all, from rim to rim",
                After(f"A rim goes into the mount and counts nothing: it reads {_over(length)} too long."),
            ),
            AnswerChoice("glass", "From the rear glass or the contacts to the front", After(length.keep_off)),
            AnswerChoice(
                "bore",
                "Across the bore",
                After(f"That is how wide it is, about {outline:.0f} mm: it tells what passes, not where it is sharp."),
            ),
            AnswerChoice(
                "flange", "Across the flange ring", After("That tells what it is worn on, not where it is sharp.")
            ),
        ]
        yield _draft(
            "datum",
            ring,
            0.5,
            f"You want to know whether {ring.name} keeps infinity. Where do the jaws go?",
            (right, *wrong),
            (f"{length.label}: {length.says}",),
            ReadingsShown((ring.physical_length_mm,), 0.0),
            "A caliper beside the ring.",
        )


def _over(length: Quantity) -> str:
    return "some millimetres" if length.nominal_mm is None else "the height of its rims"


def _slip(hand: Hand) -> Iterator[Draft]:
    """Which of several readings cannot be; or none."""
    for ring in _rings(hand):
        length = ring.physical_length_mm
        values = [tidy(length + hand.chance.randint(-2, 2) / 100) for _ in range(4)]
        slipped = hand.chance.random() < 0.75
        far = hand.chance.choice((0.34, 0.5, 0.6, 0.9, 1.0)) * hand.chance.choice((-1, 1))
        place = hand.chance.randrange(4)
        if slipped:
            values[place] = tidy(values[place] + far)
        told = measured(values, resolution_mm=_RESOLUTION_MM, error_mm=_ERROR_MM)
        if len(set(values)) < 4 or told.slips != ((place,) if slipped else ()):
            continue
        choices = [
            AnswerChoice(f"reading-{n + 1}", f"{value:.2f} mm", After(_slip_says(values, told.slips)))
            for n, value in enumerate(values)
        ]
        choices.append(AnswerChoice("none", "All of them can be", After(_slip_says(values, told.slips))))
        right = choices[place] if slipped else choices[-1]
        yield _draft(
            "slip",
            ring,
            1 / (1 + abs(far) / 0.4) if slipped else 0.6,
            f"{ring.name}, at four places: {', '.join(f'{value:.2f}' for value in values)} mm. Which of them "
            f"cannot be?",
            (right, *(choice for choice in choices if choice is not right)),
            (
                f"The middle one: {sorted(values)[1]:.2f} to {sorted(values)[2]:.2f} mm; more than 0.25 mm from it "
                f"is a slip.",
            ),
            ReadingsShown(tuple(values), 0.0),
            "Four readings of the ring, at four places around it.",
        )


def _slip_says(values: list[float], slips: tuple[int, ...]) -> str:
    return (
        f"{values[slips[0]]:.2f} mm is far from the others." if slips else "They lie within hundredths of each other."
    )


def _doubt(hand: Hand) -> Iterator[Draft]:
    """Whether a ring is longer or shorter than stated, by more than can be told."""
    for ring in _rings(hand):
        if ring.tolerance_mm is None:
            continue
        shift = hand.chance.choice((-0.15, -0.1, -0.02, -0.01, 0.0, 0.01, 0.02, 0.1, 0.15))
        values = [tidy(ring.length_mm + shift + hand.chance.randint(-1, 1) / 100) for _ in range(4)]
        told = measured(
            values,
            resolution_mm=_RESOLUTION_MM,
            error_mm=_ERROR_MM,
            nominal_mm=ring.length_mm,
            tolerance_mm=ring.tolerance_mm,
        )
        score = told.nominal_score
        # Near the edge of what can be told there is no question.
        if score is None or 1.2 < abs(score) < 3.0:
            continue
        right_id = "same" if abs(score) < 2 else "long" if score > 0 else "short"
        texts = {
            "same": "As long as stated, as far as this caliper can tell",
            "long": "Longer than stated: infinity may be lost",
            "short": "Shorter than stated: it passes infinity",
        }
        off = told.mean_mm - ring.length_mm
        says = (
            f"{told.mean_mm:.3f} ± {told.standard_uncertainty_mm:.3f} mm against {ring.length_mm:.2f} ± "
            f"{ring.tolerance_mm:.2f} mm: {_signed(off)} mm."
        )
        choices = [AnswerChoice(id_, text, After(says)) for id_, text in texts.items()]
        choices.append(AnswerChoice("unknown", "Nothing: a caliper cannot measure a ring", After(says)))
        right = next(choice for choice in choices if choice.id == right_id)
        yield _draft(
            "doubt",
            ring,
            min(1.0, 1.2 / abs(score)) if abs(score) >= 3 else 0.5 + abs(score) / 2.4 / 2,
            f"{ring.name} is stated as {ring.length_mm:.2f} ± {ring.tolerance_mm:.2f} mm. A caliper that is good "
            f"to ± {_ERROR_MM:.2f} mm "
            f"reads {', '.join(f'{value:.2f}' for value in values)} mm. What is it?",
            (right, *(choice for choice in choices if choice is not right)),
            (says, f"Their difference over the root of both doubts: {abs(score):.1f}."),
            ReadingsShown(tuple(values), 0.0),
            "Four readings of the ring, at four places around it.",
        )


def _pitch(hand: Hand) -> Iterator[Draft]:
    """The pitch of a thread from the first to the eleventh crest."""
    mounts = [mount for mount in hand.mounts() if mount.thread is not None]
    for mount in mounts:
        thread = mount.thread
        assert thread is not None
        for steps in hand.some((10, 8, 12)):
            length = tidy(round(thread.pitch_mm * steps + hand.chance.randint(-1, 1) / 100, 2))
            told = which_thread(hand.world.gear.mounts, thread.diameter_mm - 0.16, length, steps)
            if abs(told.pitch_mm - thread.pitch_mm) > 0.01:
                continue
            right = Number(
                "steps", told.pitch_mm, f"{length:.2f} / {steps} = {told.pitch_mm:.3f} mm: {thread.pitch_mm:g} mm."
            )
            wrong = [
                Number("crests", length / (steps + 1), f"There are {steps} steps between {steps + 1} crests."),
                Number("fewer", length / (steps - 1), "That counts one step too few."),
                Number("half", told.pitch_mm / 2, "That counts both flanks."),
                Number("other", told.pitch_mm * 1.25, "A thread that is this coarse has another number of crests."),
            ]
            choices = numbers(right, wrong, lambda mm: f"{mm:.2f} mm", ratio=1.02, least=0.009)
            if choices is None:
                continue
            yield Draft(
                trap="pitch",
                nearness=near(1 + 1 / steps),
                asks=f"A thread: from the first crest to crest number {steps + 1} the jaws show {length:.2f} mm. "
                f"What is its pitch?",
                about=AskedAbout(mount=mount.id),
                choices=choices[0],
                why=f"{_RULES['pitch']} {right.says}",
                working=(
                    f"P = l / k = {length:.2f} / {steps} = {told.pitch_mm:.3f} mm, ± "
                    f"{told.pitch_uncertainty_mm:.3f} mm.",
                ),
                shown=CrestsShown(steps + 1, length),
                described="A thread between the jaws of a caliper, its crests to be counted.",
            )


CALIPER = Skill(
    "Caliper",
    "What does it say?",
    "how few hundredths part a wrong number from the right one",
    {
        "zero": Trap("What the closed jaws show", _RULES["zero"], _zero),
        "set": Trap("What the jaws will show", _RULES["set"], _set),
        "datum": Trap("Where the jaws go", _RULES["datum"], _datum),
        "slip": Trap("A reading that cannot be", _RULES["slip"], _slip),
        "doubt": Trap("How sure it is", _RULES["doubt"], _doubt),
        "pitch": Trap("Pitch from crests", _RULES["pitch"], _pitch),
    },
)
