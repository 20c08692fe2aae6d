"""Which thread of the collection a screw is, by its diameter over the crests and its pitch over many turns.

ISO 68-1 and 724: a male thread is a little under its nominal diameter, the bore of a female one 1.0825 P under it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tropeion.core.gear.mounts import Mount
from tropeion.core.working import tidy

__all__ = ["Candidate", "ThreadReport", "turns_to_bind", "which_thread"]

# Male: the middle of what is usual, 0.02 to 0.30 mm under nominal. Female: a tenth over the minor diameter.
MALE_UNDER_MM, FEMALE_OVER_MM, MINOR = 0.16, 0.10, 1.0825
DIAMETER_DOUBT_MM, LEAST_PITCH_DOUBT_MM = 0.08, 0.01
USUAL_PLAY_MM = 0.12
# What a caliper says of a length over crests.
USUAL_LENGTH_DOUBT_MM = 0.02


@dataclass(frozen=True, slots=True)
class Candidate:
    """A thread of the collection: ``score`` is 1 where diameter and pitch are just what one would expect.

    ``turns`` is after how many the two pitches bind; None where they do not.
    """

    mount: str
    name: str
    diameter_mm: float
    pitch_mm: float
    score: float
    turns: float | None


@dataclass(frozen=True, slots=True)
class ThreadReport:
    """A measured thread, and what it may be, the likeliest first."""

    pitch_mm: float
    pitch_uncertainty_mm: float
    candidates: tuple[Candidate, ...]


def turns_to_bind(pitch_mm: float, other_mm: float, play_mm: float = USUAL_PLAY_MM) -> float | None:
    """After how many turns two pitches bind, n ≈ j/|ΔP|; None where they are one. A bind is never forced."""
    apart = tidy(abs(pitch_mm - other_mm))
    return play_mm / apart if apart else None


def which_thread(
    mounts: Sequence[Mount],
    diameter_mm: float,
    length_mm: float,
    pitches: float,
    *,
    side: Literal["male", "female"] = "male",
    length_doubt_mm: float = USUAL_LENGTH_DOUBT_MM,
) -> ThreadReport:
    """What a thread may be: measured over its crests (or across its bore), and over so many pitches.

    Raises ValueError for lengths and counts that are not positive.
    """
    if min(diameter_mm, length_mm, pitches) <= 0:
        raise ValueError("a diameter, a length and a number of pitches, each more than 0")
    pitch, doubt = length_mm / pitches, length_doubt_mm / pitches
    spread = max(doubt, LEAST_PITCH_DOUBT_MM)
    found = []
    for mount in mounts:
        thread = mount.thread
        if thread is None or mount.retired:
            continue
        under = MALE_UNDER_MM if side == "male" else MINOR * thread.pitch_mm - FEMALE_OVER_MM
        off = (diameter_mm - (thread.diameter_mm - under)) / DIAMETER_DOUBT_MM, (pitch - thread.pitch_mm) / spread
        score = math.exp(-(off[0] ** 2 + off[1] ** 2) / 2)
        turns = turns_to_bind(pitch, thread.pitch_mm)
        found.append(Candidate(mount.id, mount.name, thread.diameter_mm, thread.pitch_mm, score, turns))
    return ThreadReport(pitch, doubt, tuple(sorted(found, key=lambda one: (-one.score, one.mount))))
