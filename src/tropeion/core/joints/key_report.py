"""What the key to the generations of a mount says."""

from __future__ import annotations

from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Effect, LookAt

Answer = Literal["yes", "no", "unknown"]
Conversion = Literal["none", "factory", "third_party", "home", "transplanted"]
Meets = Effect | Literal["nothing_known"]


@frozen
class Remaining:
    """A generation, as it left its maker or converted, and how likely it is."""

    id: str
    generation: str
    conversion: Conversion
    label: str
    start: int | None
    to: int | None
    probability: float


@frozen
class Question:
    """What to look for next. ``gain_bits`` is what the answer is expected to tell."""

    feature: str
    label: str
    question: str
    look_at: LookAt | None
    gain_bits: float


@frozen
class Conflict:
    """An answer that does not go with the most likely generation."""

    feature: str
    label: str
    text: str


@frozen
class Verdict:
    """What this lens does on one body if it is of one generation, as it left its maker or converted."""

    id: str
    generation: str
    label: str
    probability: float
    effect: Meets
    text: str
    action: str | None


@frozen
class MayMount:
    """What this lens, as it was seen, does on one body of the system: the worst of what it may still be.

    ``verdicts`` are those of every generation still possible, the worst first; where they differ, ``unless`` says what
    decides, and ``look`` is the part whose sight settles it.
    """

    body: str | None
    generation: str
    label: str
    effect: Meets
    text: str
    action: str | None
    verdicts: tuple[Verdict, ...]
    unless: str
    look: str | None


@frozen
class Known:
    """What may be stored of this very piece: generation and parts once it is settled, till then what was seen.

    ``claim`` and ``note`` are that as evidence; empty once it is settled.
    """

    generation: str | None = None
    features: tuple[str, ...] | None = None
    conversion: Conversion = "none"
    claim: str = ""
    note: str = ""


@frozen
class KeyReport:
    """What remains, best first; the next question (None: settled, or nothing left to ask); where it may be mounted.

    ``as_seen`` are the coupling features of the likeliest generation, corrected by what was seen on this very piece.
    """

    mount: str
    side: Literal["lens", "body"]
    remaining: tuple[Remaining, ...]
    settled: bool
    question: Question | None
    conflicts: tuple[Conflict, ...]
    as_seen: tuple[str, ...]
    known: Known
    may_mount: tuple[MayMount, ...]
