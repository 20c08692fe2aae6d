"""What is written beside a picture: fields of its rig with the glass, and our own. What is not known is left out."""

from __future__ import annotations

from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig

from .log_file import FiledEntry
from .rig_facts import RigFacts

# By the diagonal, whichever school counts by the width elsewhere: so the field is defined.
FULL_FRAME_DIAGONAL_MM: Final = 43.267
OWN: Final = "tropeion"
WROTE: Final = f"{OWN}:wrote"
# Every field that is ever written, by prefix and name.
FIELDS: Final = (
    "exif:FocalLength",
    "exif:FNumber",
    "exif:FocalLengthIn35mmFilm",
    "exifEX:LensModel",
    "aux:Lens",
    "exifEX:LensSpecification",
    *(f"{OWN}:{name}" for name in ("entry", "rig", "lens", "via", "focalLengthMarked", "apertureMarked")),
    *(f"{OWN}:{name}" for name in ("magnification", "squeeze", "filter", "note")),
)
Value = str | tuple[str, ...]


@frozen
class SidecarChange:
    """A field of a sidecar: what it was (None: not there), and what it becomes (None: taken out)."""

    field: str
    was: str | None
    becomes: str | None


@frozen
class FieldKept:
    """A field that somebody else wrote otherwise, and what we would have written."""

    field: str
    was: str
    ours: str


def told(value: Value) -> str:
    """A value in one line."""
    return value if isinstance(value, str) else ", ".join(value)


def fields_of(entry: FiledEntry, facts: RigFacts) -> dict[str, Value]:
    """The fields of a picture that belongs to an entry."""
    focal = facts.with_glass_mm(entry.focal_length_mm)
    aperture = facts.with_glass_f_number(entry.aperture)
    mark, k, lens = facts.mark_mm(entry.focal_length_mm), facts.k, facts.lens
    fields: dict[str, Value | None] = {
        "exif:FocalLength": None if focal is None else _tenths(focal),
        "exif:FNumber": None if aperture is None else _tenths(aperture),
        "exif:FocalLengthIn35mmFilm": _on_full_frame(focal, facts, entry.mode),
        "exifEX:LensModel": None if lens is None else lens.name,
        "aux:Lens": None if lens is None else lens.name,
        "exifEX:LensSpecification": None if lens is None else _specification(lens),
        f"{OWN}:entry": entry.id,
        f"{OWN}:rig": Rig(entry.lens, entry.body, entry.via).id,
        f"{OWN}:lens": entry.lens,
        f"{OWN}:via": ",".join(entry.via) or None,
        f"{OWN}:focalLengthMarked": None if mark is None else f"{mark:g}",
        f"{OWN}:apertureMarked": None if entry.aperture is None else f"{entry.aperture:g}",
        f"{OWN}:magnification": None if k is None else f"{k:.6g}",
        f"{OWN}:squeeze": None if lens is None else f"{lens.squeeze:g}",
        f"{OWN}:filter": entry.filter,
        f"{OWN}:note": entry.note or None,
    }
    return {name: value for name, value in fields.items() if value is not None}


def _tenths(value: float) -> str:
    return f"{int(value * 10 + 0.5)}/10"


def _on_full_frame(focal_mm: float | None, facts: RigFacts, mode_name: str | None) -> str | None:
    mode = facts.mode(mode_name)
    if focal_mm is None or mode is None:
        return None
    return str(int(focal_mm * FULL_FRAME_DIAGONAL_MM / mode.diagonal_mm + 0.5))


def _specification(lens: Lens) -> tuple[str, ...]:
    """As engraved: shortest and longest focal length, widest aperture at each."""
    short, long = lens.focal_length_mm
    return tuple(
        _tenths(value) for value in (short, long, lens.f_number[0], lens.f_number_at_long_end or lens.f_number[0])
    )
