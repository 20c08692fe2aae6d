"""Pictures: the files of one exposure put together, the body that signed them, their order."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.records.log_others import Signs
from tropeion.core.records.moments import SECOND_US, wall_of

from .header import Header, PictureFile, alike

_DIGITS = re.compile(r"(\d+)")


def natural(text: str) -> tuple[tuple[int, int, str], ...]:
    """A key that sorts numbers within names as numbers."""
    return tuple((0, int(part), "") if part.isdecimal() else (1, 0, part) for part in _DIGITS.split(text) if part)


@frozen
class Picture:
    """What one exposure left. ``taken_us`` are the digits of the camera's clock; ``zone_us`` None: none was stated.

    The first of the files that knows something tells it.
    """

    files: tuple[str, ...]
    body: str | None
    taken_us: int | None
    zone_us: int | None
    lens: str
    focal_length_mm: float | None
    f_number: float | None
    signed: tuple[str, str, str]

    @property
    def file(self) -> str:
        return self.files[0]

    @property
    def folder(self) -> str:
        return self.file.rpartition("/")[0]

    @property
    def stem(self) -> str:
        return stem_of(self.file)

    @property
    def zoned(self) -> bool:
        """Whether it is an instant; else the digits of a clock on a wall."""
        return self.zone_us is not None

    @property
    def clock_us(self) -> int | None:
        """The time of its camera to which the offset is added: an instant, or the digits read as if UTC."""
        return None if self.taken_us is None else self.taken_us - (self.zone_us or 0)

    @property
    def taken_at(self) -> str | None:
        """When its camera says that it was taken, with a zone where it states one."""
        if self.taken_us is None:
            return None
        return wall_of(self.taken_us) + ("" if self.zone_us is None else _zone(self.zone_us))

    @property
    def file_number(self) -> int:
        """The last number in its name; -1 where there is none."""
        numbers = [part for part in _DIGITS.split(self.stem) if part.isdecimal()]
        return int(numbers[-1]) if numbers else -1

    @property
    def in_file_order(self) -> tuple[object, ...]:
        """Its place by folder and name."""
        return natural(self.folder), natural(self.stem), self.file

    @property
    def in_time(self) -> tuple[int, int, str]:
        """Its place by the camera's clock, then the number in its name, then its path."""
        return self.clock_us or 0, self.file_number, self.file


def stem_of(path: str) -> str:
    """A file's name without folder and ending."""
    name = path.rpartition("/")[2]
    return name.rpartition(".")[0] or name


def _zone(zone_us: int) -> str:
    minutes = zone_us // (60 * SECOND_US)
    return f"{'-' if minutes < 0 else '+'}{abs(minutes) // 60:02d}:{abs(minutes) % 60:02d}"


def pictures_of(files: Sequence[PictureFile], cameras: Sequence[Signs], scans: frozenset[str]) -> list[Picture]:
    """Files of one folder with the same stem and time are one picture; in the order of their names.

    In the folders of ``scans`` the stem alone decides: the time there is that of the scanner.
    """
    groups: dict[tuple[str, str], list[list[PictureFile]]] = defaultdict(list)
    for file in sorted(files, key=lambda file: natural(file.path)):
        folder = file.path.rpartition("/")[0]
        same_stem = groups[folder, stem_of(file.path)]
        for group in same_stem:
            if folder in scans or _same_time(group[0].header, file.header):
                group.append(file)
                break
        else:
            same_stem.append([file])
    pictures = [_picture(group, cameras) for same_stem in groups.values() for group in same_stem]
    return sorted(pictures, key=lambda picture: picture.in_file_order)


def _same_time(one: Header, other: Header) -> bool:
    if one.taken_us is None or other.taken_us is None:
        return one.taken_us is other.taken_us
    if one.exact and other.exact:
        return one.taken_us == other.taken_us
    return one.taken_us // SECOND_US == other.taken_us // SECOND_US


def _picture(group: Sequence[PictureFile], cameras: Sequence[Signs]) -> Picture:
    headers = [file.header for file in group]
    # The most exact time, and of these the one that states its zone.
    timed = max(headers, key=lambda header: (header.taken_us is not None, header.exact, header.zone_us is not None))
    zone = next((header.zone_us for header in (timed, *headers) if header.zone_us is not None), None)
    signed = next((header for header in headers if header.make or header.model), headers[0])
    bodies = {found for header in headers if (found := body_that_signs(header, cameras)) is not None}
    return Picture(
        files=tuple(file.path for file in group),
        body=bodies.pop() if len(bodies) == 1 else None,
        taken_us=timed.taken_us,
        zone_us=zone if timed.taken_us is not None else None,
        lens=next((header.lens for header in headers if header.lens), ""),
        focal_length_mm=next((header.focal_length_mm for header in headers if header.focal_length_mm), None),
        f_number=next((header.f_number for header in headers if header.f_number), None),
        signed=(signed.make, signed.model, signed.serial),
    )


def body_that_signs(header: Header, cameras: Sequence[Signs]) -> str | None:
    """The body that signs so: by its serial number if that is known; None where none does, or two do alike."""
    if not header.make and not header.model:
        return None
    alikes = [
        one
        for one in cameras
        if (one.make or one.model) and all(not own or alike(own, said) for own, said in _claims(one, header))
    ]
    by_serial = {one.body for one in alikes if one.serial and header.serial and alike(one.serial, header.serial)}
    bodies = by_serial or {one.body for one in alikes if not one.serial or not header.serial}
    return bodies.pop() if len(bodies) == 1 else None


def _claims(camera: Signs, header: Header) -> tuple[tuple[str, str], ...]:
    return (camera.make, header.make), (camera.model, header.model)
