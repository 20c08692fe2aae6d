"""What is engraved round the front of a lens: focal lengths and widest apertures, in any of the usual orders.

``55/2.2`` · ``1:2 55mm`` · ``f/1.8 50mm`` · ``28-80mm 1:3.5-4.5`` · ``1:3.5 f=200mm`` · ``f = 5 cm`` · ``2.2/55``
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from tropeion.core.frozen import frozen


@frozen
class Engraving:
    """The numbers of an engraving, at both ends of a zoom; None where they are not said. ``rest`` is the other text.

    A T-number says how much light passes; it is no f-number.

    ``doubts`` name what may be read two ways, and numbers that were not used.
    """

    focal_mm: tuple[float, float] | None
    f_numbers: tuple[float, float] | None
    t_number: float | None
    rest: str
    doubts: tuple[str, ...]


_N = r"\d{1,4}(?:[.,]\d+)?"


def _range(name: str) -> str:
    """A number, or two with a dash between them."""
    return rf"(?P<{name}>{_N})(?:\s*[-–—]\s*(?P<{name}2>{_N}))?"


_FOCAL, _STOP = _range("mm"), _range("f")
_UNIT = r"\s*(?P<unit>mm|cm)\b"
# Threads, years and counts are neither: 46 × 1.1, M46, a serial number.
_OTHER = re.compile(
    r"(?<![\w.,])m?\s?\d{2,3}(?:[.,]\d+)?\s*[x×*]\s*\d(?:[.,]\d+)?|\bm\d{2,3}\b|(?:no?\.?|nr\.?|№)\s*\d{3,}|\b\d{5,}\b"
    r"|[ø⌀]\s*\d{2,3}(?:\s*mm)?",
    re.IGNORECASE,
)
# Each names what it reads; the surest first. Where two numbers stand by a stroke, the lesser is the aperture.
_PATTERNS = tuple(
    re.compile(pattern, re.IGNORECASE)
    for pattern in (
        rf"1\s*:\s*{_STOP}\s*/\s*{_FOCAL}(?:{_UNIT})?",
        rf"f\s*=\s*{_FOCAL}(?:{_UNIT})?",
        rf"1\s*:\s*{_STOP}",
        rf"(?<![a-z])f\s*/\s*{_STOP}(?!\s*(?:mm|cm))",
        rf"(?<![\d.,]){_FOCAL}{_UNIT}(?:\s*/\s*{_STOP})?",
        rf"(?<![a-z])f\s?{_STOP}(?![\d.,]|\s*(?:mm|cm))",
    )
)
_STROKE = re.compile(r"(?<![\d.,/])" + _range("a") + r"\s*/\s*" + _range("b") + r"(?![\d,])")
_BARE = re.compile(r"(?<![\w.,:/])" + _range("a") + r"(?![\w/:]|[.,]\d)")
_SLOWEST, _SLOWEST_BARE = 64.0, 16.0
_SHORTEST_MM, _LONGEST_MM = 3.0, 2500.0
_LIGHT = re.compile(rf"(?<![a-z])t\s?/?\s?(?P<t>{_N})(?![\d.,]|\s*(?:mm|cm))", re.IGNORECASE)


def _blank(found: re.Match[str]) -> str:
    return " " * len(found[0])


class _Reading:
    def __init__(self, text: str, names: Sequence[str]) -> None:
        self.text = _OTHER.sub(_blank, text)
        # "Graumont 6" is a system, and no six of anything.
        for name in names:
            pattern = r"[\s-]*".join(re.escape(part) for part in re.split(r"[\s-]+", name))
            self.text = re.sub(rf"(?<!\w){pattern}(?!\w)", _blank, self.text, flags=re.IGNORECASE)
        self.rest = text
        self.light: float | None = None
        self.focal: tuple[float, float] | None = None
        self.stops: tuple[float, float] | None = None

    def take(self, found: re.Match[str]) -> None:
        """Blank out what was read, so that it is not read again."""
        blank = " " * (found.end() - found.start())
        self.text = self.text[: found.start()] + blank + self.text[found.end() :]
        self.rest = self.rest[: found.start()] + blank + self.rest[found.end() :]

    def use(self, focal: tuple[float, float] | None, stops: tuple[float, float] | None) -> None:
        self.focal = self.focal or focal
        self.stops = self.stops or stops


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _ends(found: re.Match[str], name: str) -> tuple[float, float] | None:
    groups = found.groupdict()
    if groups.get(name) is None:
        return None
    first = _number(groups[name])
    return first, _number(groups[f"{name}2"]) if groups.get(f"{name}2") else first


def _focal(found: re.Match[str]) -> tuple[float, float] | None:
    ends = _ends(found, "mm")
    if ends is None:
        return None
    scale = 10.0 if (found.groupdict().get("unit") or "").lower() == "cm" else 1.0
    return ends[0] * scale, ends[1] * scale


def read_engraving(text: str, names: Sequence[str] = ()) -> Engraving:
    """Read the numbers on a lens; what they stand among is left as ``rest``. Numbers in ``names`` are not looked at."""
    reading = _Reading(text, names)
    light = _LIGHT.search(reading.text)
    if light is not None:
        reading.light = _number(light["t"])
        reading.take(light)
    for pattern in _PATTERNS:
        match = pattern.search(reading.text)
        if match is None:
            continue
        focal, stops = _focal(match), _ends(match, "f")
        if (focal and reading.focal) or (stops and reading.stops):
            continue
        reading.use(focal, stops)
        reading.take(match)
    if reading.focal is None or reading.stops is None:
        _by_stroke(reading)
    for _ in range(4):
        if not _bare(reading):
            break
    doubts = tuple(_doubts(reading))
    return Engraving(_sorted(reading.focal), reading.stops, reading.light, reading.rest, doubts)


def _by_stroke(reading: _Reading) -> None:
    """Two numbers by a stroke, in either order."""
    match = _STROKE.search(reading.text)
    if match is None or reading.focal or reading.stops:
        return
    pair, other = _ends(match, "a"), _ends(match, "b")
    assert pair is not None
    assert other is not None
    focal, stops = (pair, other) if max(pair) > max(other) else (other, pair)
    if max(stops) <= _SLOWEST and min(focal) >= _SHORTEST_MM:
        reading.use(focal, stops)
        reading.take(match)


def _bare(reading: _Reading) -> bool:
    """A number that stands alone, where a focal length or an aperture is still missing."""
    for match in _BARE.finditer(reading.text):
        ends = _ends(match, "a")
        assert ends is not None
        fraction = any(value != int(value) for value in ends)
        if reading.focal is None and not fraction and min(ends) >= _SHORTEST_MM and max(ends) <= _LONGEST_MM:
            reading.use(ends, None)
        elif reading.stops is None and min(ends) >= 0.7 and max(ends) <= _SLOWEST_BARE and (fraction or reading.focal):
            reading.use(None, ends)
        else:
            continue
        reading.take(match)
        return True
    return False


def _sorted(ends: tuple[float, float] | None) -> tuple[float, float] | None:
    return None if ends is None else (min(ends), max(ends))


def _doubts(reading: _Reading) -> Iterator[str]:
    if reading.focal is not None and reading.focal[0] > reading.focal[1]:
        first, last = reading.focal
        yield f"“{first:g}–{last:g} mm” runs from long to short: it is read as {last:g} to {first:g} mm."
    if reading.light is not None:
        yield f"T/{reading.light:g} says how much light it passes: its f-number is a little less."
    left = [match[0].strip() for match in _BARE.finditer(reading.text) if _number(match["a"]) < _LONGEST_MM]
    if left:
        yield f"Not read: {', '.join(f'“{one}”' for one in left)}."
