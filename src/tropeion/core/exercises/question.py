"""A question, what can be answered, and what would have come of each answer.

A generator makes drafts: questions with everything but the order of their choices. Which of them is asked is decided in
``posing``.
"""

from __future__ import annotations

from typing import Final, Literal, get_args

from tropeion.core.frozen import frozen

SkillId = Literal[
    "generation",
    "label",
    "reach",
    "links",
    "equivalents",
    "stabiliser",
    "buy",
    "caliper",
    "cause",
    "setup",
    "circle",
    "code",
]
SKILLS: Final[tuple[SkillId, ...]] = get_args(SkillId)
# A key from 1 to 5 for each.
MOST_CHOICES: Final = 5


@frozen
class After:
    """What would have come of a choice: in a sentence, the rig that it means, and the money that it loses.

    ``lens`` and ``body`` None: there is no rig to draw. ``picture``: a frame of the rig shows what is wrong with it,
    in ``mode``, or in the mode that the body would be set to.
    """

    says: str
    lens: str | None = None
    adapters: tuple[str, ...] = ()
    body: str | None = None
    price: float | None = None
    picture: bool = False
    mode: str | None = None


@frozen
class AnswerChoice:
    """An answer that can be given; ``after`` is told once one was."""

    id: str
    text: str
    after: After


@frozen
class AskedAbout:
    """The pieces that a question is about, by id; adapters from the lens to the body."""

    lens: str | None = None
    body: str | None = None
    adapters: tuple[str, ...] = ()
    mount: str | None = None


@frozen
class MarksShown:
    """The mount face of a lens: coupling parts that are there, and such as were looked for and are not."""

    mount: str
    seen: tuple[str, ...]
    absent: tuple[str, ...]
    kind: Literal["marks"] = "marks"


@frozen
class LabelShown:
    """What is printed on a ring or its box."""

    text: str
    kind: Literal["label"] = "label"


@frozen
class RigShown:
    """The pieces of a rig, one behind the other at one scale, without their light."""

    lens: str
    adapters: tuple[str, ...]
    body: str
    kind: Literal["rig"] = "rig"


@frozen
class ReadingsShown:
    """What a caliper shows, closed and on the piece, in mm; ``slides``: the jaws are to be set."""

    readings_mm: tuple[float, ...]
    zero_mm: float
    slides: bool = False
    kind: Literal["caliper"] = "caliper"


@frozen
class CrestsShown:
    """A thread under the jaws, from a first crest to a last one."""

    crests: int
    length_mm: float
    kind: Literal["crests"] = "crests"


@frozen
class FrameSeen:
    """A test frame and what it showed, by their ids, with their words."""

    frame: str
    title: str
    saw: str
    label: str


@frozen
class FramesShown:
    """Test frames of a flat wall, in order."""

    frames: tuple[FrameSeen, ...]
    kind: Literal["frames"] = "frames"


@frozen
class FieldsShown:
    """Light and dark fields on the flange of a mount, where they stand."""

    mount: str
    fields: tuple[tuple[float, bool], ...]
    kind: Literal["fields"] = "fields"


@frozen
class CircleShown:
    """An image circle about the formats of a sensor, in mm; ``upright``: the camera is turned by a quarter."""

    circle_mm: float
    formats_mm: tuple[tuple[float, float], ...]
    upright: bool = False
    kind: Literal["circle"] = "circle"


@frozen
class StepsShown:
    """The steps that are done."""

    done: tuple[str, ...]
    kind: Literal["steps"] = "steps"


@frozen
class SqueezedShown:
    """A round thing as it came out: how wide and how high, 1 is as it is."""

    wide: float
    high: float
    kind: Literal["squeezed"] = "squeezed"


Shown = (
    MarksShown
    | LabelShown
    | RigShown
    | ReadingsShown
    | CrestsShown
    | FramesShown
    | FieldsShown
    | CircleShown
    | StepsShown
    | SqueezedShown
)
# How it is answered: by choosing among words, by pointing at a piece, by sliding jaws, by putting the next step.
AnsweredBy = Literal["choose", "point", "jaws", "order"]


@frozen
class Draft:
    """A question that could be asked; the right choice is the first.

    ``nearness`` is how near the nearest wrong answer is, 0 to 1. ``described`` says what is drawn, and nothing of what
    follows from it.
    """

    trap: str
    nearness: float
    asks: str
    about: AskedAbout
    choices: tuple[AnswerChoice, ...]
    why: str
    working: tuple[str, ...]
    shown: Shown
    described: str
    by: AnsweredBy = "choose"


@frozen
class PosedQuestion:
    """A question with its answer. ``seed`` and ``difficulty`` bring it again; ``helped``: from the sample world."""

    skill: SkillId
    trap: str
    difficulty: float
    asks: str
    about: AskedAbout
    choices: tuple[AnswerChoice, ...]
    right: str
    why: str
    working: tuple[str, ...]
    shown: Shown
    described: str
    by: AnsweredBy
    helped: bool


class CannotAskError(ValueError):
    """The gear at hand gives no such question, and the sample world neither."""
