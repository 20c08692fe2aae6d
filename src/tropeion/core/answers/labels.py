"""Reading a label: which mount is on the lens side of an adapter, which on the camera side, and what is doubtful.

A small scored grammar. Mentions of mounts are found by name, alias, thread and near spelling; words and signs around
them ("lens", "body", "to", "from", an arrow, a dash) speak for one side or the other; so do the registers, since a
plain ring needs room. All readings are weighed together: each piece of evidence is a log-odds, and the confidences of
the readings sum to one.
"""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import has_room, smallest_ring_mm
from tropeion.core.optics.register import room_mm
from tropeion.core.words import word
from tropeion.core.working import tidy

from .label_mentions import (
    ARROW,
    CERTAIN,
    COMMON,
    NOUN,
    ORDER,
    PREPOSITION,
    ROOM,
    TUBE,
    WEAK,
    Doubt,
    Mention,
    distinct_mentions,
    fold,
    mentions_in,
    merged_mentions,
)

_LONGEST = 400


@frozen
class LabelSide:
    """A mount that one side may be, and how sure that is, 0 to 1."""

    mount: str
    confidence: float


@frozen
class Label:
    """What a label says. Each side is best first, and empty where the label does not speak of it.

    ``glass`` and ``chip`` are the words that speak of them; ``unread`` what is left when all else is read.
    """

    lens_side: tuple[LabelSide, ...]
    body_side: tuple[LabelSide, ...]
    doubts: tuple[Doubt, ...]
    glass: str | None = None
    chip: str | None = None
    length_mm: float | None = None
    unread: tuple[str, ...] = ()


_LENS = (
    r"(?:lens(?:es)?|(?<!no )(?<!with )(?<!without )(?<!correcting )(?<!correction )(?<!corrective )glass"
    r"|(?<!corrective )(?<!correcting )optics?)"
)
_BODY = r"(?:camera|cam|bod(?:y|ies)|cameras)"
_NOUNS = re.compile(rf"\b(?:(?P<lens>{_LENS})|(?P<body>{_BODY}))\b")
_RING = re.compile(r"\s*(?:mount\s+)?(?:adapt[eo]rs?|rings?|converters?)\b")
_FORWARD = re.compile(r"->|=>|>|\b(?:to|onto|on|into|2|for use (?:on|with))\b")
_BACKWARD = re.compile(r"<-|<|\b(?:from|takes?|accepts?)\b")
_INTO = re.compile(r"\b(?:to(?: fit)?|onto|on|into)\s*(?:the |your |a )?$")
_OUT_OF = re.compile(r"\b(?:from|takes?|accepts?|uses?|converts?)\s*(?:the |your |a )?$")
_CODE = re.compile(r"(?<![A-Za-z0-9])[A-Z][A-Z0-9]{1,4}(?![A-Za-z0-9])")
# Capitals on a label that name no mount.
_NO_CODES = frozenset(
    {"AF", "MF", "RF", "PR", "ED", "MC", "II", "III", "IV", "VI", "MK", "LENS", "BODY", "ACTIVE", "NEW"}
)


def read_label(world: World, text: str) -> Label:
    """Both ends of an adapter's label or listing. Text beyond 400 signs is not read."""
    folded = fold(text[:_LONGEST])
    doubts: list[Doubt] = []
    mentions = merged_mentions(mentions_in(world, folded, doubts), folded)
    _hear_nouns(mentions, folded)
    _hear_prepositions(mentions, folded)
    distinct = distinct_mentions(mentions)
    if len(distinct) > 2:
        distinct = sorted(distinct, key=lambda mention: -abs(mention.evidence))[:2]
        distinct.sort(key=lambda mention: mention.start)
        doubts.append(
            Doubt("more_than_two", "More than two mounts are named: the two that are told apart best are taken.")
        )
    if not distinct:
        return Label(
            (), (), (*_strangers(text, mentions), Doubt("nothing_known", "No mount of the collection is named."))
        )
    if len(distinct) == 1:
        label = _alone(world, distinct[0], folded)
        doubts += _strangers(text, mentions)
    else:
        told = _beside(text, folded, mentions)
        length = told.length_mm if told.glass is None else None
        label = _pair(world, distinct[0], distinct[1], folded, length)
    for mention in distinct:
        doubts += _doubts_of(world, mention)
    beside = _beside(text, folded, mentions)
    if beside.glass is not None:
        said = f"“{beside.glass}”: it holds glass. What it comes to depends on its "
        f"{word('flange_focal_distance')}s, which no label tells."
        doubts.append(Doubt("glass_said", said))
    elif label.lens_side and label.body_side:
        doubts += _no_room(world, label.lens_side[0].mount, label.body_side[0].mount)
    if beside.chip is not None:
        doubts.append(Doubt("chip_said", f"“{beside.chip}”: such a chip names one lens, whatever is mounted."))
    return replace(beside, lens_side=label.lens_side, body_side=label.body_side, doubts=(*label.doubts, *doubts))


_FACTOR = r"(?<![\d.,x])[01][.,]\d{1,2}\s*x(?!\s*\d)|\bx\s?[01][.,]\d{1,2}(?![\d.,x])"
_MAKES_LONGER = r"\bexpander\b|\bteleconverter\b|\bcorrect(?:ing|ion|ive)(?: (?:glass|lens|optics?))?\b"
_GLASS = re.compile(
    rf"(?<!no )(?<!without )(?:\b(?:focal )?reduc(?:er|ing)\b|{_MAKES_LONGER}|\boptical\b|{_FACTOR}"
    r"|\bwith (?:glass|optics?|a lens)\b|\bglass (?:element|inside)\b)"
)
# Glass that moves the image back, so that no room for a ring is needed.
_LONGER = re.compile(rf"(?<!no )(?<!without )(?:{_MAKES_LONGER}|(?<![\d.,x])1[.,]\d{{1,2}}\s*x(?!\s*\d))")
_CHIP = re.compile(r"\bchip(?:ped)?\b")
_LENGTH = re.compile(r"(?<![\d.,x])(\d{1,3}(?:[.,]\d+)?)\s*mm\b")
_WORD = re.compile(r"[^\W\d_][\w&'’]*")
# Words that only join others.
_SMALL_WORDS = """
    a an and any as at by each ends for from it its i ii iii iv lets you mm in of on or other sides the these this two
    type use via with without your made fits fit also thick thin long short used like black silver metal brass set kit
    box boxed infinity manual focus focusing close macro af mf auto exact version series no hand
"""
_SMALL = frozenset(_SMALL_WORDS.split())


def _beside(text: str, folded: str, mentions: Sequence[Mention]) -> Label:
    """What a label says beside its mounts, and what of it nobody understood."""
    bare = list(folded)
    for mention in mentions:
        bare[mention.start : mention.end] = " " * (mention.end - mention.start)
    rest = "".join(bare)
    glass, chip = _GLASS.search(rest), _CHIP.search(rest)
    rest = _GLASS.sub(lambda match: " " * len(match[0]), rest)
    length = _LENGTH.search(rest)
    known = COMMON | _SMALL
    signs = (_NOUNS, _RING, _FORWARD, _BACKWARD, _CHIP, TUBE)
    unread = []
    for match in _WORD.finditer(rest):
        word = match[0]
        if word.strip("&'’") and word not in known and not any(sign.fullmatch(word) for sign in signs):
            unread.append(_as_written(text, word))
    return Label(
        (),
        (),
        (),
        glass=None if glass is None else glass[0].strip(),
        chip=None if chip is None else chip[0],
        length_mm=None if length is None else float(length[1].replace(",", ".")),
        unread=tuple(dict.fromkeys(unread)),
    )


def _as_written(text: str, word: str) -> str:
    """A folded word as the label writes it."""
    match = re.search(re.escape(word), text, re.IGNORECASE)
    return word if match is None else match[0]


def _no_room(world: World, lens: str, body: str) -> Iterator[Doubt]:
    """A reading by which there is no room, where the other way round there is."""
    front, rear = world.mounts[lens], world.mounts[body]
    room = room_mm(rear, front)
    if room is not None and room > 0:
        yield Doubt(
            "no_room_this_way",
            f"From {front.name} to {rear.name} there is no room for a ring; the other way round there are {room:.2f} "
            "mm. Compare both ends with what you own.",
        )


def _hear_nouns(mentions: list[Mention], folded: str) -> None:
    """ "X lens", "lens: X", "X (lens)": a noun belongs to the mention beside it, by the manner of the whole label."""
    # Each noun has two readings, and the manner of the label decides: both need all the limits, so they stay together.
    nouns = [noun for noun in _NOUNS.finditer(folded) if not _of_the_adapter(noun, mentions, folded)]
    if not nouns or not mentions:
        return
    leading = nouns[0].end() <= mentions[0].start
    free = list(mentions)
    for number, noun in enumerate(nouns):
        before = [mention for mention in free if mention.end <= noun.start()]
        after = [mention for mention in free if mention.start >= noun.end()]
        # A noun belongs to the nearest mention, unless another noun stands between them.
        edge = nouns[number - 1].end() if number else 0
        limit = nouns[number + 1].start() if number + 1 < len(nouns) else len(folded)
        back = before[-1] if before and before[-1].end >= edge else None
        ahead = after[0] if after and after[0].start < limit else None
        stands = re.match(r"\s*(?:mount)?\s*[:=]", folded[noun.end() :]) is not None
        first, second = (ahead, back) if leading or stands else (back, ahead)
        mention = first or second
        if mention is not None:
            mention.sides.append(NOUN if noun["lens"] else -NOUN)
            free.remove(mention)


def _of_the_adapter(noun: re.Match[str], mentions: list[Mention], folded: str) -> bool:
    """ "Lens adapter" says nothing of a side, unless a mount stands right before it."""
    if not _RING.match(folded, noun.end()):
        return False
    return not any(0 <= noun.start() - mention.end <= 2 for mention in mentions)


def _hear_prepositions(mentions: list[Mention], folded: str) -> None:
    for mention in mentions:
        before = folded[: mention.start]
        if _INTO.search(before):
            mention.sides.append(-PREPOSITION)
        elif _OUT_OF.search(before):
            mention.sides.append(PREPOSITION)


def _between(first: Mention, second: Mention, folded: str) -> float:
    """What stands between two mentions says of their order."""
    text = folded[first.end : second.start]
    if _BACKWARD.search(text):
        return -ARROW
    if _FORWARD.search(text):
        return ARROW
    return WEAK if re.search(r"\bfor\b", text) else ORDER


def _pair(world: World, first: Mention, second: Mention, folded: str, length_mm: float | None) -> Label:
    told = first.evidence - second.evidence
    order = _between(first, second, folded)
    # Nouns outrank arrows and dashes: where both ends have a noun, their order says little.
    order = order * (0.25 if first.evidence * second.evidence < 0 and abs(told) > NOUN else 1.0)
    roomy = 0.0 if _LONGER.search(folded) else 1.0
    readings: dict[tuple[str, str], float] = {}
    for (name, weight), (other, also) in itertools.product(first.mounts.items(), second.mounts.items()):
        quality = math.log(weight * also)
        for lens, body, sign in ((name, other, 1.0), (other, name, -1.0)):
            score = quality + sign * (told + order) / 2 + roomy * _room(world, lens, body)
            score += _FITS if length_mm is not None and fits_length(world, lens, body, length_mm) else 0.0
            readings[lens, body] = max(score, readings.get((lens, body), -math.inf))
    total = sum(math.exp(score) for score in readings.values())
    sure = min(max(first.mounts.values()), max(second.mounts.values()))
    chances = {pair: sure * math.exp(score) / total for pair, score in readings.items()}
    lens_side = _side((lens, chance) for (lens, _), chance in chances.items())
    body_side = _side((body, chance) for (_, body), chance in chances.items())
    doubts = []
    straight = sum(chance for (lens, _), chance in chances.items() if lens in first.mounts)
    # Read against the order in which the ends stand, because no ring goes that way: said, however likely it is.
    turned = straight < sure - straight and order > 0 and told >= 0
    if first.mounts.keys() != second.mounts.keys() and (turned or min(straight, sure - straight) > 1 - CERTAIN):
        doubts.append(
            Doubt("ends_may_be_swapped", "Which end is which is not sure: compare the two ends with what you own.")
        )
    return Label(lens_side, body_side, tuple(doubts))


# A length equal to the room between two mounts names the ring; labels round it to this, in mm.
_FITS = 4.0
ROUNDED_MM = 0.15


def fits_length(world: World, lens: str, body: str, length_mm: float) -> bool:
    """Whether a length on a label is that of a plain ring from one mount to another."""
    room = room_mm(world.mounts[lens], world.mounts[body])
    return room is not None and tidy(abs(length_mm - room) - ROUNDED_MM) <= 0


# Log-odds against a reading for which no plain ring can exist.
_NO_RING = 2.4


def _room(world: World, lens: str, body: str) -> float:
    """A plain ring needs room, and a telescope's thread is no camera's."""
    front, rear = world.mounts[lens], world.mounts[body]
    gap = room_mm(front, rear)
    score = 0.0 if gap is None else ROOM * math.tanh(gap / 4)
    if gap is not None and has_room(gap, smallest_ring_mm(world.structure, front, rear)) is False:
        # No such ring can exist.
        score -= _NO_RING
    return score - (1.0 if rear.lens_kind_or_usual == "projection" else 0.0)


def _alone(world: World, mention: Mention, folded: str) -> Label:
    total = sum(mention.mounts.values())
    if TUBE.search(folded):
        side = _side((id_, weight * weight / total) for id_, weight in mention.mounts.items())
        return Label(side, side, ())
    # Said of neither side, a mirrorless mount is more often the camera's, any other the lens's.
    mirrorless = all(world.mounts[id_].lens_kind_or_usual == "mirrorless" for id_ in mention.mounts)
    evidence = mention.evidence or (-WEAK if mirrorless else WEAK)
    chance = 1 / (1 + math.exp(-abs(evidence)))
    side = _side((id_, chance * weight * weight / total) for id_, weight in mention.mounts.items())
    doubts = [Doubt("one_end_missing", "The label names one end only.")]
    if chance < CERTAIN:
        doubts.append(
            Doubt(
                "ends_may_be_swapped",
                f"Whether it is the {word('lens_mount')} or the {word('camera_mount')} is not said.",
            )
        )
    return Label(side, (), tuple(doubts)) if evidence > 0 else Label((), side, tuple(doubts))


def _side(chances: Iterator[tuple[str, float]]) -> tuple[LabelSide, ...]:
    summed: dict[str, float] = {}
    for mount, chance in chances:
        summed[mount] = summed.get(mount, 0.0) + chance
    sides = [LabelSide(mount, round(chance, 3)) for mount, chance in summed.items() if chance > 0.02]
    return tuple(sorted(sides, key=lambda side: (-side.confidence, side.mount)))


def _doubts_of(world: World, mention: Mention) -> Iterator[Doubt]:
    if len(mention.mounts) < 2:
        return
    names = " and ".join(world.mounts[id_].name for id_ in mention.mounts)
    if mention.kind == "diameter":
        yield Doubt("pitch_unstated", f"“{mention.said}” does not say its pitch: {names} have this diameter.")
    elif mention.kind == "thread":
        yield Doubt(
            "shared_thread", f"{names} share the thread {mention.said}, but not the {word('flange_focal_distance')}."
        )
    else:
        yield Doubt("shared_name", f"“{mention.said}” may be {names}.")


def _strangers(text: str, mentions: list[Mention]) -> Iterator[Doubt]:
    """Codes that look like a mount's and are not known."""
    for match in _CODE.finditer(text):
        word = match[0]
        if word not in _NO_CODES and not any(word.casefold() in mention.said for mention in mentions):
            yield Doubt("unknown_word", f"“{word}” is no mount of the collection.")
