"""The template of a flange code as SVG, at true size on paper: 1 user unit is 1 mm."""

from __future__ import annotations

import math
from collections.abc import Iterator
from xml.sax.saxutils import escape

from tropeion.core.gear.mounts import FlangeCode, Mount
from tropeion.core.joints.flange_code import Field, fields_of

# A bar to measure with a ruler, to see whether the printer scaled the page.
BAR_MM = 50.0
_MARGIN, _FOOT = 8.0, 31.0
# A flange whose measures are not stated, drawn this far beyond its fields.
_RIM = 4.0


def template_svg(mount: Mount, digits: str) -> bytes:
    """The fields of a code where they go, dark ones filled, with the index mark, the way they are counted and a bar.

    Seen from behind, as one looks at the flange of a lens in the hand. Raises ValueError where the mount has no code,
    or the digits are none of its.
    """
    code = mount.code
    if code is None:
        raise ValueError(f"{mount.name} has no code on its flange")
    if len(digits) != code.fields or set(digits) - {"0", "1"}:
        raise ValueError(f"“{digits}”: {mount.name} has {code.fields} fields, each 0 or 1")
    edge = code.radius_mm + code.height_mm / 2
    outer = edge + _RIM if mount.outer_mm is None else max(mount.outer_mm / 2, edge)
    inner = min((mount.throat_mm or 2 * code.radius_mm) / 2, code.radius_mm - code.height_mm / 2 - 1)
    words = _captions(mount, code, digits)
    width = max(2 * outer, BAR_MM, max(len(word) for word in words) * _SIGN_MM) + 2 * _MARGIN
    height = 2 * outer + 2 * _MARGIN + _FOOT
    x, y = width / 2, outer + _MARGIN
    parts = [
        f'<circle cx="{x:g}" cy="{y:g}" r="{outer:g}"/>',
        f'<circle cx="{x:g}" cy="{y:g}" r="{inner:g}"/>',
        f'<path id="index" d="M{x:g} {y - outer + 3:.3f}l-1.5 -3h3z" fill="#000"/>',
        *(_field(field, x, y, code.radius_mm, code.width_mm, code.height_mm) for field in fields_of(code, digits)),
        *_counted(fields_of(code, digits), x, y, code.radius_mm - code.height_mm / 2 - 1.5),
        *_way(fields_of(code, digits), x, y, code.radius_mm - code.height_mm / 2 - 4.5),
        *_bar(width / 2 - BAR_MM / 2, height - 17),
    ]
    title = escape(f"{mount.name} {digits}: dark fields are to be darkened, light ones left bright")
    head = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:g}mm" height="{height:g}mm" '
        f'viewBox="0 0 {width:g} {height:g}" fill="none" stroke="#000" stroke-width="0.2" '
        f'font-family="sans-serif" font-size="2.6">'
    )
    lines = [
        f'<text x="{width / 2:g}" y="{height - 10 + 4 * number:g}" text-anchor="middle" {_INK}>{escape(line)}</text>'
        for number, line in enumerate(words)
    ]
    return "\n".join([head, f"<title>{title}</title>", *parts, *lines, "</svg>"]).encode()


# How much of a line a sign takes, in mm, at the size in which captions are written.
_SIGN_MM = 1.45


def _captions(mount: Mount, code: FlangeCode, digits: str) -> list[str]:
    size = f"{code.width_mm:g} × {code.height_mm:g} mm"
    return [
        f"{mount.name} {digits}, flange seen from behind, index mark up",
        f"dark: darken, light: leave bright; {code.fields} fields of {size}",
        f"in the groove of {2 * code.radius_mm:g} mm; first {code.start_deg:g}° clockwise from the mark",
    ]


_INK = 'fill="#000" stroke="none"'


def _field(one: Field, x: float, y: float, radius: float, width: float, height: float) -> str:
    """One field, turned to its place: its middle at ``radius`` from the axis."""
    fill = "#000" if one.dark else "none"
    place = f"rotate({one.angle_deg:g} {x:g} {y:g})"
    box = f'x="{x - width / 2:.3f}" y="{y - radius - height / 2:.3f}" width="{width:g}" height="{height:g}"'
    return f'<rect data-digit="{one.digit}" {box} transform="{place}" fill="{fill}"/>'


def _counted(fields: tuple[Field, ...], x: float, y: float, radius: float) -> Iterator[str]:
    """The numbers of the fields, on the inner side, in the order in which they are read."""
    for number, field in enumerate(fields, 1):
        turn = math.radians(field.angle_deg)
        at = f'x="{x + radius * math.sin(turn):.3f}" y="{y - radius * math.cos(turn) + 0.7:.3f}"'
        yield f'<text {at} font-size="2" text-anchor="middle" {_INK}>{number}</text>'


def _way(fields: tuple[Field, ...], x: float, y: float, radius: float) -> Iterator[str]:
    """An arrow along the fields: the way in which they are counted."""
    if len(fields) < 2:
        return
    ends = [math.radians(field.angle_deg) for field in (fields[0], fields[-1])]
    (x1, y1), (x2, y2) = ((x + radius * math.sin(turn), y - radius * math.cos(turn)) for turn in ends)
    clockwise = int(math.sin(math.radians(fields[1].angle_deg - fields[0].angle_deg)) > 0)
    yield f'<path id="way" d="M{x1:.3f} {y1:.3f}A{radius:g} {radius:g} 0 0 {clockwise} {x2:.3f} {y2:.3f}"/>'
    yield f'<circle cx="{x2:.3f}" cy="{y2:.3f}" r="0.8" fill="#000"/>'


def _bar(x: float, y: float) -> Iterator[str]:
    yield f'<path id="bar" d="M{x:g} {y:g}h{BAR_MM:g}m0 -1.5v3m-{BAR_MM:g} 0v-3"/>'
    yield f'<text x="{x + BAR_MM / 2:g}" y="{y - 1.5:g}" text-anchor="middle" {_INK}>{BAR_MM:g} mm</text>'
