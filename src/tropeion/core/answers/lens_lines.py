"""Many lenses at once: a line each, as they are engraved or noted down; read, shown to be corrected, and kept."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, with_entries
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world

from .beginning import EnteredPiece, GivenMount, UnreadableError, mount_given, new_lens
from .shop import read_lens

MOST_LINES = 200

# A distance in metres: .3m, 0,45 m; not a length in mm.
_CLOSEST = re.compile(r"(?<![\w.,])(?P<m>\d{0,2}[.,]\d{1,3}|\d{1,2})\s*m\b(?!m)", re.IGNORECASE)
_STOP = re.compile(r"(?<![a-z])f\s*/\s*(?P<f>\d{1,3}(?:[.,]\d+)?)(?![\d.,]|\s*(?:mm|cm|[-–—/]))", re.IGNORECASE)
_WORDS = re.compile(r"^\W*(?P<name>[^\d:/]+?)[\s,;]*(?=(?:f\s*[/=]|t\s*/|1\s*:|\d))", re.IGNORECASE)
_KINDS = re.compile(r"\b(?:lens|mount|bayonet|macro|tele|wide|zoom|auto|automatic)\b", re.IGNORECASE)


@frozen
class LensLine:
    """What a line was read as; None where it says nothing. ``mount`` is one that is known, else ``mount_name`` says it.

    ``doubts`` are what has to be looked at before it is kept.
    """

    text: str
    mount: str | None
    mount_name: str
    focal_mm: float | None
    focal_long_mm: float | None
    f_number: float | None
    f_number_at_long_end: float | None
    smallest_f_number: float | None
    min_focus_m: float | None
    doubts: tuple[str, ...]


@frozen
class LensGiven:
    """A lens as it was read and corrected."""

    name: str
    mount: GivenMount
    focal_mm: tuple[float, float]
    f_number: float | None = None
    f_number_at_long_end: float | None = None
    smallest_f_number: float | None = None
    min_focus_m: float | None = None


def read_lens_lines(world: World, text: str) -> tuple[LensLine, ...]:
    """Every line that holds something, in order; at most ``MOST_LINES``."""
    lines = [line.strip() for line in text.splitlines()]
    return tuple(_read(world, line) for line in lines if line)[:MOST_LINES]


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _read(world: World, line: str) -> LensLine:
    # Columns of a pasted table stand apart like words.
    rest = line.replace("\t", " ").replace(";", " ")
    closest = None
    match = _CLOSEST.search(rest)
    if match is not None and _number(match["m"]) > 0:
        closest, rest = _number(match["m"]), rest[: match.start()] + " " + rest[match.end() :]
    smallest = None
    for stop in reversed(list(_STOP.finditer(rest))):
        without = f"{rest[: stop.start()]} {rest[stop.end() :]}"
        other = read_lens(world, without).f_number
        if other is not None and other < _number(stop["f"]):
            smallest, rest = _number(stop["f"]), without
            break
    read = read_lens(world, rest)
    known = world.mounts.get(read.mount or "") if read.sure else None
    name = known.name if known is not None else _system(rest)
    doubts = list(read.doubts)
    if read.focal_mm is None:
        doubts.append("which focal length?")
    if not name:
        doubts.append("which mount?")
    return LensLine(
        text=line[:400],
        mount=None if known is None else known.id,
        mount_name=name,
        focal_mm=read.focal_mm,
        focal_long_mm=read.focal_long_mm,
        f_number=read.f_number,
        f_number_at_long_end=read.f_number_at_long_end,
        smallest_f_number=smallest,
        min_focus_m=closest,
        doubts=tuple(doubts),
    )


def _system(rest: str) -> str:
    """The name of a system that is new: the words before the first number."""
    match = _WORDS.match(rest)
    words = _KINDS.sub(" ", match["name"]) if match else ""
    return re.sub(r"\s+", " ", words).strip(" -–—,")[:60]


def begin_lenses(world: World, given: Sequence[LensGiven], *, owned: bool) -> EnteredPiece:
    """Lenses and the mounts that are new, in one. Raises UnreadableError with the line, from 1, where one lacks a word.

    What is not said is usual, and kept as assumed.
    """
    entries: list[tuple[Kind, Entry]] = []
    for number, lens_given in enumerate(given, 1):
        try:
            mount, new = mount_given(world, lens_given.mount)
            lens = _lens(world, lens_given, mount, owned=owned)
        except UnreadableError as error:
            raise UnreadableError(f"lenses.{number - 1}.{error.field}", f"line {number}: {error}") from None
        added: list[tuple[Kind, Entry]] = [*new, ("lenses", lens)]
        entries += added
        # The next lens may belong to the same new system; its name must not be taken.
        world = compile_world(with_entries(world.gear, [(kind, entry.id, entry) for kind, entry in added]), world)
    return EnteredPiece(tuple(entries))


def _lens(world: World, one: LensGiven, mount: str, *, owned: bool) -> Lens:
    short, long = sorted(one.focal_mm)
    return new_lens(
        world,
        name=one.name,
        mount=mount,
        focal_mm=(short, long),
        widest=one.f_number,
        at_long_end=one.f_number_at_long_end,
        smallest=one.smallest_f_number,
        min_focus_m=one.min_focus_m,
        owned=owned,
    )
