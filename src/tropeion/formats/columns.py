"""The columns of a table: one for each field of a kind, two for a pair of numbers, with the unit in the header."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any, Final, Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import MODELS

PAIRS: Final[dict[str, tuple[str, str]]] = {
    "focal_length_mm": ("focal_length_short_mm", "focal_length_long_mm"),
    "f_number": ("f_number_widest", "f_number_smallest"),
    "sensor_mm": ("sensor_width_mm", "sensor_height_mm"),
    "mount_centre_mm": ("mount_centre_x_mm", "mount_centre_y_mm"),
}
# In the unit of the header, by the folded name (where a micro sign becomes a Greek letter).
UNITS: Final[dict[str, dict[str, float]]] = {
    "mm": {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "inches": 25.4, '"': 25.4, "μm": 0.001},
    "m": {"m": 1.0, "cm": 0.01, "mm": 0.001, "ft": 0.3048, "feet": 0.3048, "in": 0.0254, "'": 0.3048},
    "g": {"g": 1.0, "kg": 1000.0, "oz": 28.349523125, "lb": 453.59237, "lbs": 453.59237},
    "deg": {"deg": 1.0, "°": 1.0},
    "nm": {"nm": 1.0, "n·m": 1.0, "n*m": 1.0},
    "stops": {"stops": 1.0, "ev": 1.0},
}
Type = Literal["text", "number", "integer", "boolean", "words", "numbers", "json", "pair"]
# Names that screens and people use for fields of the file, folded and without the unit.
SPOKEN: Final[dict[str, tuple[str, ...]]] = {
    "register_mm": ("flange_focal_distance", "flange_distance", "flange"),
    "min_focus_m": ("nearest_focus", "closest_focus", "minimum_focus", "close_focus"),
    "max_magnification": ("greatest_magnification", "maximum_magnification"),
    "mass_g": ("weight",),
    "focal_length_mm": ("focal_length", "focal"),
    "f_number": ("f_number", "aperture_widest_to_smallest", "widest_aperture", "f"),
    "sensor_mm": ("sensor", "sensor_size", "sensor_or_gate_width_height", "format"),
    "lens_mount": ("mount_on_the_lens_side",),
    "body_mount": ("camera_mount", "mount_on_the_camera_side"),
    "aliases": ("also_called",),
    "character": ("used_for",),
    "price": ("price_new",),
    "rent_per_day": ("rent_a_day",),
    "resale": ("resale_value",),
    "owned": ("mine", "i_own", "count", "quantity"),
    "filter_thread_mm": ("filter", "filter_size"),
}


@frozen
class Column:
    """One column: its header, the field it fills and, of a pair, which half; the unit is that of the header."""

    header: str
    field: str
    half: int | None
    type: Type

    @property
    def unit(self) -> str:
        last = self.header.rsplit("_", 1)[-1]
        return last if last in UNITS and "_" in self.header else ""


@cache
def columns_of(kind: Kind) -> tuple[Column, ...]:
    """The columns of a kind's table, in the order of the gear file."""
    schema = MODELS[kind].model_json_schema(by_alias=True)
    columns = []
    for field, given in schema["properties"].items():
        place = next((value for value in given.get("anyOf", []) if value.get("type") != "null"), given)
        if field in PAIRS:
            columns += [Column(header, field, half, "number") for half, header in enumerate(PAIRS[field])]
        else:
            columns.append(Column(field, field, None, _type(place)))
    return tuple(columns)


@cache
def spoken_columns(kind: Kind) -> dict[str, Column]:
    """The columns by what people call them; both halves of a pair stand in one cell then."""
    columns = {}
    for column in columns_of(kind):
        for words in SPOKEN.get(column.field, ()):
            if column.half is None:
                columns[words] = column
            else:
                columns[words] = Column(column.field, column.field, None, "pair")
    return columns


def _type(place: Mapping[str, Any]) -> Type:
    match place.get("type"):
        case "string":
            return "text"
        case "number":
            return "number"
        case "integer":
            return "integer"
        case "boolean":
            return "boolean"
        case "array":
            inner = place.get("items", {})
            if inner.get("type") == "string" or "enum" in inner:
                return "words"
            return "numbers" if inner.get("type") == "number" else "json"
    return "text" if "enum" in place else "json"
