"""Which thread of the collection a screw is, by its diameter over the crests and its pitch over many turns.

ISO 68-1 and 724: a male thread is a little under its nominal diameter, the bore of a female one 1.0825 P under it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Mount, Thread
from tropeion.core.working import tidy

# Male: the middle of what is usual, 0.02 to 0.30 mm under nominal. Female: a tenth over the minor diameter.
MALE_UNDER_MM, FEMALE_OVER_MM, MINOR = 0.16, 0.10, 1.0825
DIAMETER_DOUBT_MM, LEAST_PITCH_DOUBT_MM = 0.08, 0.01
USUAL_PLAY_MM = 0.12
# Below this nothing of the collection is like it.
_NONE_FITS = 0.001
# What a caliper says of a length over crests.
USUAL_LENGTH_DOUBT_MM = 0.02
Outcome = Literal["freely", "binds", "no_start", "wobbles"]
# The probability that a part behaves as it should; the rest allows for a slip.
_AS_EXPECTED, _SLIP = 0.85, 0.05
# Threads of one nominal size are alike within this; one so much larger or smaller is another size.
_ONE_SIZE_MM = 0.2
_SAME_PITCH_MM = 0.005
# The uncertainty of when a thread bound, as a factor.
_TURNS_FACTOR = 1.6


@frozen
class PartTried:
    """A part of a known system that was tried on it, and what it did; ``turns`` after which it bound."""

    mount: str
    outcome: Outcome
    turns: float | None = None


@frozen
class ThreadCandidate:
    """A thread of the collection: ``score`` is 1 where diameter and pitch are just what one would expect, and every
    part that was tried did what it should; ``share`` is its probability among those of the collection.

    ``turns`` is after how many the two pitches bind, None where they are one; it ``starts`` only where the
    diameters are of one size.
    """

    mount: str
    name: str
    diameter_mm: float
    pitch_mm: float
    score: float
    turns: float | None
    share: float = 0.0
    starts: bool = True


@frozen
class ThreadReport:
    """A measured thread, and what it may be, the likeliest first."""

    pitch_mm: float
    pitch_uncertainty_mm: float
    candidates: tuple[ThreadCandidate, ...]
    says: str = ""


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
    tried: Sequence[PartTried] = (),
) -> ThreadReport:
    """What a thread may be: measured over its crests (or across its bore), and over so many pitches.

    Parts that were tried count as evidence. Raises ValueError for lengths and counts that are not positive, and for a
    part of a system that has no thread.
    """
    if min(diameter_mm, length_mm, pitches) <= 0:
        raise ValueError("a diameter, a length and a number of pitches, each more than 0")
    pitch, doubt = length_mm / pitches, length_doubt_mm / pitches
    spread = max(doubt, LEAST_PITCH_DOUBT_MM)
    threads = {mount.id: mount.thread for mount in mounts if mount.thread is not None}
    for part in tried:
        if part.mount not in threads:
            raise ValueError(f"'{part.mount}' has no thread that could have been tried")
    candidates = []
    for mount in mounts:
        thread = mount.thread
        if thread is None or mount.retired:
            continue
        under = MALE_UNDER_MM if side == "male" else MINOR * thread.pitch_mm - FEMALE_OVER_MM
        off = (diameter_mm - (thread.diameter_mm - under)) / DIAMETER_DOUBT_MM, (pitch - thread.pitch_mm) / spread
        score = math.exp(-(off[0] ** 2 + off[1] ** 2) / 2)
        for part in tried:
            score *= _likelihood(thread, threads[part.mount], part, side) / _AS_EXPECTED
        # What is another size does not start, or wobbles: it never comes to bind.
        starts = abs(off[0]) * DIAMETER_DOUBT_MM <= _ONE_SIZE_MM
        turns = turns_to_bind(pitch, thread.pitch_mm)
        candidates.append(
            ThreadCandidate(mount.id, mount.name, thread.diameter_mm, thread.pitch_mm, score, turns, starts=starts)
        )
    total = math.fsum(candidate.score for candidate in candidates)
    shared = [replace(candidate, share=candidate.score / total if total else 0.0) for candidate in candidates]
    ranked = tuple(sorted(shared, key=lambda candidate: (-candidate.score, candidate.mount)))
    return ThreadReport(pitch, doubt, ranked, _said(ranked, pitch))


def _likelihood(thread: Thread, known: Thread, part: PartTried, side: str) -> float:
    """How likely a known part does this, if the thread is that one."""
    apart = known.diameter_mm - thread.diameter_mm
    # The unknown thread is the male one, and the part that is tried goes over it; else the other way about.
    looser = apart if side == "male" else -apart
    pitch_apart = tidy(abs(known.pitch_mm - thread.pitch_mm))
    expected: Outcome
    if looser > _ONE_SIZE_MM:
        expected = "wobbles"
    elif looser < -_ONE_SIZE_MM:
        expected = "no_start"
    else:
        expected = "freely" if pitch_apart <= _SAME_PITCH_MM else "binds"
    if part.outcome != expected:
        return _SLIP
    if expected == "binds" and part.turns is not None and part.turns > 0:
        turns = turns_to_bind(thread.pitch_mm, known.pitch_mm)
        off = math.log(part.turns / turns) / math.log(_TURNS_FACTOR) if turns else 0.0
        return max(_SLIP, _AS_EXPECTED * math.exp(-(off**2) / 2))
    return _AS_EXPECTED


def _said(ranked: Sequence[ThreadCandidate], pitch: float) -> str:
    if not ranked or ranked[0].score < _NONE_FITS:
        return f"No thread of the collection fits a pitch of {pitch:.2f} mm and this diameter."
    first = ranked[0]
    others = [
        candidate
        for candidate in ranked[1:]
        if (candidate.diameter_mm, candidate.pitch_mm) != (first.diameter_mm, first.pitch_mm)
    ]
    same = [
        candidate.name
        for candidate in ranked[1:]
        if (candidate.diameter_mm, candidate.pitch_mm) == (first.diameter_mm, first.pitch_mm)
    ]
    sure = first.share * (1 + len(same))
    named = f"{first.diameter_mm:g} × {first.pitch_mm:g}: {' or '.join([first.name, *same])}"
    if others and others[0].score > first.score * 0.05:
        return f"Most likely {named}; it may be {others[0].name} ({others[0].diameter_mm:g} × {others[0].pitch_mm:g})."
    which = " One thread, two systems: their flange distances differ, so look at what it was made for." if same else ""
    return f"{named}{'' if sure >= 0.95 else ', as far as this tells'}.{which}"
