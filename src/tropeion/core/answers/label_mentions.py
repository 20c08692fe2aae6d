"""The mounts that a label names: where each stands in the text, and how surely it is meant."""

from __future__ import annotations

import difflib
import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept

# From this probability an end counts as certain.
CERTAIN = 0.9
# Evidence, in log-odds that the first of two mentions is the lens side.
NOUN, ARROW, PREPOSITION, ORDER, ROOM, WEAK = 3.2, 2.4, 1.6, 1.3, 0.8, 0.3
_NEAR_SPELLING, _SHORTENED = 0.86, 0.25


@frozen
class Doubt:
    """Something about the label that should be looked at."""

    code: str
    text: str


@dataclass(slots=True)
class Mention:
    """A place in the text that names a mount, or one of several."""

    start: int
    end: int
    mounts: dict[str, float]
    said: str
    kind: str
    sides: list[float] = field(default_factory=list)

    @property
    def evidence(self) -> float:
        """For the lens side where positive."""
        return sum(self.sides)


_THREAD = re.compile(r"(?<![a-z0-9.])m?\s?(\d{2,3}(?:[.,]\d+)?)\s*x\s*(\d(?:[.,]\d+)?)(?![\d.]*[a-z0-9])")
_DIAMETER = re.compile(r"(?<![a-z0-9.])m\s?(\d{2,3})(?![\d.]*\s*x)(?![a-z0-9])")
# What follows a name that several systems share.
_KINDS_BEHIND: Final[dict[str, re.Pattern[str]]] = {
    "rangefinder": re.compile(r"[\s-]*\(?\s*(?:rf|rangefinder)\b\)?"),
    "projection": re.compile(r"[\s-]*\(?\s*(?:pr|projection|projector)\b\)?"),
}
TUBE = re.compile(r"\b(?:extension|tubes?|macro ring)\b")
# Words of the trade that are near no mount's name, however they are spelt.
_COMMON_WORDS = """
    adapter adaptor adapters camera cameras lens lenses glass bodies mount mounts ring rings extension active plain
    tripod contacts locking helicoid flange filter reducer telescope extended rangefinder projection screw second thread
    chipped autofocus smart translating passes takes accepts converts corners aperture optic tilt shift
"""
COMMON = frozenset(_COMMON_WORDS.split())


def fold(text: str) -> str:
    """Lower case, plain dashes, arrows and crosses, no accents; as long as the text, sign for sign where it can be."""
    for sign, plain in (("×", "x"), ("–", "-"), ("—", "-"), ("‑", "-"), ("→", "->"), ("⇒", "->"), ("←", "<-")):
        text = text.replace(sign, plain)
    text = unicodedata.normalize("NFKD", text)
    return re.sub(r"\s+", " ", "".join(c for c in text if not unicodedata.combining(c))).casefold().strip()


def _pattern(name: str) -> str:
    """A name as a label may write it: spaces and dashes come and go."""
    return r"[\s-]*".join(re.escape(part) for part in re.split(r"[\s-]+", fold(name)) if part)


@kept(most=1)
def _names(world: World) -> Mapping[str, dict[str, float]]:
    """Every folded name, alias and first word, with the mounts it may mean."""
    names: dict[str, dict[str, float]] = {}
    mounts = [mount for mount in world.gear.mounts if not mount.retired]
    for mount in mounts:
        for name in (mount.name, mount.id, *mount.aliases):
            if not _THREAD.fullmatch(fold(name)):
                names.setdefault(fold(name), {})[mount.id] = 1.0
    whole = set(names)
    for mount in mounts:
        first = fold(mount.name).split(" ")[0]
        # The first word alone means any system that begins with it, and most likely the one of that very name; a tube
        # is more often just a tube.
        if len(first) >= 4 and not TUBE.fullmatch(first):
            names.setdefault(first, {}).setdefault(mount.id, _SHORTENED if first in whole else 1.0)
    return names


def mentions_in(world: World, folded: str, doubts: list[Doubt]) -> list[Mention]:
    mentions: list[Mention] = []
    taken = [False] * len(folded)

    def take(start: int, end: int, mounts: dict[str, float], kind: str) -> None:
        if mounts and not any(taken[start:end]):
            taken[start:end] = [True] * (end - start)
            mentions.append(Mention(start, end, dict(mounts), folded[start:end].strip(), kind))

    mounts = [mount for mount in world.gear.mounts if not mount.retired]
    for match in _THREAD.finditer(folded):
        size, pitch = (float(number.replace(",", ".")) for number in match.groups())
        take(match.start(), match.end(), _threaded(mounts, size, pitch), "thread")
    for match in _DIAMETER.finditer(folded):
        take(match.start(), match.end(), _threaded(mounts, float(match[1]), None), "diameter")
    for name in sorted(_names(world), key=len, reverse=True):
        pattern = rf"(?<![a-z0-9]){_pattern(name)}(?![a-z0-9])"
        for match in re.finditer(pattern, folded):
            take(match.start(), match.end(), _names(world)[name], "name")
    for match in re.finditer(r"[a-z]{5,}", folded):
        if match[0] in COMMON or any(taken[match.start() : match.end()]):
            continue
        near = difflib.get_close_matches(match[0], [name for name in _names(world) if len(name) >= 5], 1, 0.82)
        if near:
            mounts_near = dict.fromkeys(_names(world)[near[0]], _NEAR_SPELLING)
            take(match.start(), match.end(), mounts_near, "name")
            doubts.append(Doubt("near_spelling", f"“{match[0]}” is read as {near[0].title()}."))
    mentions.sort(key=lambda mention: mention.start)
    _hear_kinds(world, mentions, folded)
    return mentions


def _hear_kinds(world: World, found: list[Mention], folded: str) -> None:
    """A name that several systems bear, with a kind of lens behind it, is that of the system of such lenses."""
    for mention in found:
        for lens_kind, behind in _KINDS_BEHIND.items():
            after = behind.match(folded, mention.end)
            kept = {id_: w for id_, w in mention.mounts.items() if world.mounts[id_].lens_kind_or_usual == lens_kind}
            if after and kept:
                # System and kind together name a mount in full.
                mention.mounts = dict.fromkeys(kept, 1.0) if len(kept) == 1 else kept
                mention.end = after.end()


def _threaded(mounts: Sequence[Mount], diameter_mm: float, pitch_mm: float | None) -> dict[str, float]:
    return {
        mount.id: 1.0
        for mount in mounts
        if mount.thread
        and mount.thread.diameter_mm == diameter_mm
        and (pitch_mm is None or mount.thread.pitch_mm == pitch_mm)
    }


def merged_mentions(mentions: list[Mention], folded: str) -> list[Mention]:
    """Mentions side by side that may mean one mount are one: "Tube thread 53 × 1.0", "Ostrel O-line"."""
    merged: list[Mention] = []
    for mention in mentions:
        if merged:
            last = merged[-1]
            both = {id_: weight for id_, weight in mention.mounts.items() if id_ in last.mounts}
            beside = re.fullmatch(r"[\s(,]*(?:screw|mount|thread)?[\s(,]*", folded[last.end : mention.start])
            if both and beside:
                last.mounts, last.end = both, mention.end
                continue
        merged.append(mention)
    return merged


def distinct_mentions(mentions: list[Mention]) -> list[Mention]:
    """One mention for each mount named; what is said of it twice counts together."""
    all_mentions: list[Mention] = []
    for mention in mentions:
        same = next((other for other in all_mentions if other.mounts.keys() == mention.mounts.keys()), None)
        told = same is not None and same.evidence * mention.evidence < 0
        if same is None or told:
            all_mentions.append(mention)
        else:
            same.sides += mention.sides
    return all_mentions
