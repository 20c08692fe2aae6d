"""What is carried: one document, so that whoever reads it looks up and computes nothing."""

from __future__ import annotations

from typing import Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.mounts import LookAt
from tropeion.core.joints.key_report import Meets
from tropeion.core.log.in_hand import InHand
from tropeion.core.setup.setup import Entry
from tropeion.core.words import GlossaryTerm

EDITION: Literal[1] = 1


@frozen
class PocketBody:
    """A body that is asked about, and how far its mount stands before the sensor."""

    id: str
    name: str
    mount: str
    register_mm: float | None


@frozen
class PocketRing:
    """A ring to ask for: both ends of its label, what it is sold as, what is easily taken for it.

    ``listed`` false: nobody lists it, and ``name`` says what it would be. ``price`` None: nobody said one.
    """

    id: str
    name: str
    listed: bool
    lens_end: str
    camera_end: str
    labels: tuple[str, ...]
    refuse: tuple[str, ...]
    price: float | None


@frozen
class PocketFit:
    """Such a lens on one body. ``room_mm`` is what is between the two registers, None where one is not known.

    ``rings`` are the rings to buy for the best way, ``owned`` those of it that are owned, both empty where it does not
    work; ``unlisted`` the rings to look for, one of them nobody lists, where that would do better, with the grade that
    it gives. Not ``possible``: no ring can do it.
    """

    body: str
    grade: Grade | None
    works: bool
    surely: bool
    possible: bool
    room_mm: float | None
    sentence: str
    rings: tuple[str, ...]
    owned: tuple[str, ...]
    unlisted: tuple[str, ...]
    unlisted_grade: Grade | None
    minds: tuple[str, ...]


@frozen
class PocketGeneration:
    """Lenses of one generation, or (``id`` None) of one that is not known, on every body."""

    id: str | None
    label: str
    fits: tuple[PocketFit, ...]


@frozen
class PocketChance:
    """A generation that it may be, and how likely that is."""

    label: str
    probability: float


@frozen
class PocketMeets:
    """What the lens does on a body of its own system, as far as it is known by then; ``says`` in a few words."""

    body: str
    effect: Meets
    says: str
    text: str
    unless: str


@frozen
class PocketFeature:
    """A part that is looked for, what is asked of it, and where it is seen."""

    id: str
    label: str
    question: str
    look_at: LookAt | None
    misleading: bool


@frozen
class KeyNode:
    """A place in the key: the part that is asked about next, and by each answer the node that follows (None: none).

    ``cut``: there are more questions than are carried.
    """

    asked: str | None
    yes: int | None
    no: int | None
    unknown: int | None
    cut: bool
    settled: bool
    remaining: tuple[PocketChance, ...]
    meets: tuple[PocketMeets, ...]


@frozen
class PocketSystem:
    """A mount system. ``key`` begins with its first node; empty where there is nothing to tell apart."""

    mount: str
    name: str
    aliases: tuple[str, ...]
    register_mm: float | None
    generations: tuple[PocketGeneration, ...]
    features: tuple[PocketFeature, ...]
    key: tuple[KeyNode, ...]


@frozen
class PocketDepth:
    """Depth of field in m; ``far_m`` None: to infinity."""

    f_number: float
    distance_m: float
    near_m: float
    far_m: float | None


@frozen
class PocketStep:
    """A step of a card, in the words by which it is ticked off."""

    text: str
    caution: bool


@frozen
class PocketRig:
    """A kept rig: its card, what is entered, its depth of field.

    ``usable_says`` is what trials of it came to; ``why`` says what keeps it from being judged.
    """

    id: str
    name: str
    lens: str
    body: str
    adapters: tuple[str, ...]
    pieces: str
    grade: Grade | None
    sentence: str
    camera_says: str
    support_says: str
    steps: tuple[PocketStep, ...]
    entries: tuple[Entry, ...]
    usable_says: tuple[str, ...]
    minds: tuple[str, ...]
    depth: tuple[PocketDepth, ...]
    why: str


@frozen
class PocketPacked:
    """A piece to pack, by its id, which is ticked off."""

    id: str
    name: str
    count: int
    missing: int
    says: str


@frozen
class PocketShot:
    """A shot of an outing, in the order that swaps least."""

    name: str
    rig: str
    says: str


@frozen
class PocketOuting:
    """An outing: what is shot, and what is packed. ``ticked`` are the ids that were packed by then.

    ``batteries`` and ``at_home`` are told as on its screen.
    """

    id: str
    name: str
    day: str | None
    says: str
    shots: tuple[PocketShot, ...]
    packed: tuple[PocketPacked, ...]
    ticked: tuple[str, ...]
    batteries: tuple[str, ...]
    at_home: tuple[str, ...]


@frozen
class Pocket:
    """Everything that is carried, as of ``made_at``.

    ``standing`` changes with whatever an answer rests on. ``owned``: the bodies are those that are owned; else all, as
    none is. ``assumed_mm`` is the focal length that a lens of a system is taken to have. ``left_out`` says what was
    too much.
    """

    edition: Literal[1]
    collection: str
    standing: str
    made_at: str
    currency: str
    owned: bool
    assumed_mm: float
    bodies: tuple[PocketBody, ...]
    rings: dict[str, PocketRing]
    systems: tuple[PocketSystem, ...]
    rigs: tuple[PocketRig, ...]
    hands: tuple[InHand, ...]
    outings: tuple[PocketOuting, ...]
    terms: tuple[GlossaryTerm, ...]
    left_out: tuple[str, ...]
