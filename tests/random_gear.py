"""Random collections with any field of any kind, drawn from the JSON Schema of the gear file."""

from __future__ import annotations

import json
import unicodedata
from functools import cache
from typing import Any

from hypothesis import strategies as st
from pydantic import ValidationError

from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, PIECES, Kind
from tropeion.core.gear.kit import MODELS, Entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.references import check_references

PRINTABLE = st.characters(exclude_categories=("Cc", "Cf", "Cs", "Zl", "Zp"))
_GLASS = ("optics", "magnification", "register_in_mm", "register_out_mm")
_LINK = ("link", "chip", "from_protocol", "to_protocol")


def _of(schema: dict[str, Any], defs: dict[str, Any]) -> st.SearchStrategy[Any]:
    if "$ref" in schema:
        return _of(defs[schema["$ref"].removeprefix("#/$defs/")], defs)
    if "anyOf" in schema:
        return st.one_of(*(_of(one, defs) for one in schema["anyOf"]))
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    match schema.get("type"):
        case "null":
            return st.none()
        case "boolean":
            return st.booleans()
        case "integer":
            return st.integers(schema.get("minimum", 0), schema.get("maximum", 100))
        case "number":
            least = schema.get("minimum", schema.get("exclusiveMinimum", 0))
            most = schema.get("maximum", schema.get("exclusiveMaximum", 1000))
            return st.floats(
                least, most, exclude_min="exclusiveMinimum" in schema, exclude_max="exclusiveMaximum" in schema
            )
        case "array":
            return _many(schema, defs)
        case "object":
            return _fields(schema, defs)
    return _words(schema)


def _words(schema: dict[str, Any]) -> st.SearchStrategy[str]:
    pattern = schema.get("pattern", "")
    if pattern.startswith("^[01]"):
        return st.from_regex(r"[01]{1,8}", fullmatch=True)
    if pattern.startswith("^[a-z0-9]"):
        return st.from_regex(r"[a-z][a-z0-9._-]{0,5}", fullmatch=True)
    if r"\d{4}" in pattern:
        return st.dates().map(lambda day: day.isoformat())
    longer = schema.get("maxLength", 0) > 120
    if longer:
        return st.text(PRINTABLE | st.sampled_from("\n\t"), max_size=9)
    return st.text(PRINTABLE, min_size=schema.get("minLength", 0), max_size=9).filter(can_be_seen)


def can_be_seen(name: str) -> bool:
    """Whether something of a name leaves a mark on paper."""
    return any(unicodedata.category(c)[0] in "LNPS" for c in name)


def _many(schema: dict[str, Any], defs: dict[str, Any]) -> st.SearchStrategy[Any]:
    if "prefixItems" in schema:
        return st.tuples(*(_of(one, defs) for one in schema["prefixItems"])).map(sorted)
    return st.lists(_of(schema["items"], defs), max_size=2)


def _fields(schema: dict[str, Any], defs: dict[str, Any]) -> st.SearchStrategy[Any]:
    if "properties" not in schema:
        names, values = schema["propertyNames"]["enum"], schema["additionalProperties"]["enum"]
        return st.dictionaries(st.sampled_from(names), st.sampled_from(values), max_size=2)
    needed = set(schema.get("required", ()))
    known = {name: _of(one, defs) for name, one in schema["properties"].items()}
    return st.fixed_dictionaries(
        {name: one for name, one in known.items() if name in needed},
        optional={name: one for name, one in known.items() if name not in needed},
    )


@cache
def _items_of(kind: Kind) -> st.SearchStrategy[Any]:
    schema = MODELS[kind].model_json_schema(by_alias=True)
    return st.lists(
        _of(schema, schema.get("$defs", {})), min_size=int(kind in {"mounts", "lenses", "bodies", "rigs"}), max_size=3
    )


@st.composite
def gears(draw: st.DrawFn) -> Gear:
    """A collection whose references hold; what does not fit together is left out."""
    found: dict[str, tuple[Entry, ...]] = {}
    for kind in KINDS:
        drawn = draw(_items_of(kind))
        mended = [_mended({**item, "id": f"{kind}-{number}"}, found) for number, item in enumerate(drawn)]
        found[kind] = tuple(entry for item in mended if (entry := _valid(kind, item)) is not None)
    gear = Gear(format="tropeion-gear", version=1, currency="EUR").model_copy(update=found)
    # Whatever still refers to nothing takes its whole shelf with it.
    for kind in reversed(KINDS):
        if any(problem.place.startswith(kind) for problem in check_references(gear)):
            gear = gear.model_copy(update={kind: ()})
    return gear if not check_references(gear) else Gear(format="tropeion-gear", version=1)


def _valid(kind: Any, item: dict[str, Any]) -> Entry | None:
    try:
        return MODELS[kind].model_validate_json(json.dumps(item))
    except ValidationError:
        return None


def _mended(item: dict[str, Any], found: dict[str, tuple[Entry, ...]]) -> dict[str, Any]:
    """Names what is there, and leaves out what cannot be named."""

    def named(kind: str) -> str | None:
        return found[kind][len(item) % len(found[kind])].id if found.get(kind) else None

    if ("focal_length_mm" in item or "sensor_mm" in item) and len(item.get("name", "")) % 3:
        # Most lenses have the mount of most bodies, or there would be few rigs.
        item["mount"] = found["mounts"][0].id if found.get("mounts") else None
    for field in ("mount", "lens_mount", "body_mount"):
        if item.get(field) is not None:
            item[field] = named("mounts") or "none"
    for field, kind in (("protocol", "protocols"), ("lens", "lenses"), ("body", "bodies")):
        if item.get(field):
            item[field] = named(kind)
    if "lens" in item:
        # A rig is joined by mounts.
        lenses = [one for one in found.get("lenses", ()) if isinstance(one, Lens) and one.mount]
        bodies = [one for one in found.get("bodies", ()) if isinstance(one, Body)]
        pairs = [(lens.id, body.id) for lens in lenses for body in bodies if lens.mount == body.mount]
        item["lens"] = lenses[0].id if lenses else None
        if pairs:
            (item["lens"], item["body"]), item["adapters"] = pairs[0], []
    for field in ("generation", "lens_generation", "accepts", "generations", "rules", "lens_side_features", "assumed"):
        item.pop(field, None)
    mount = named("mounts")
    others = {"swappable_mounts": {"mount": mount}, "not_on": {"mount": mount, "adapter": None}}
    for field, known in others.items():
        if field in item:
            item[field] = [{**one, **known} for one in item[field]] if mount else None
    if "a" in item:
        pieces = [one.id for kind in PIECES for one in found.get(kind, ())]
        item["a"], item["b"] = pieces[0] if pieces else "none", pieces[-1] if pieces else "none"
    item["accessories"] = [named("accessories")] if item.get("accessories") and named("accessories") else None
    fields = (item.get("code") or {}).get("fields") if isinstance(item.get("code"), dict) else None
    profiles = item.get("profiles", ())
    item["profiles"] = [{**one, "code": ("10" * 16)[:fields]} for one in profiles] if fields else None
    if "coupling" in item:
        item.setdefault("thread", None)
        item["coupling"] = "screw" if item["thread"] else item["coupling"].replace("screw", "bayonet")
    item.pop("f_number_at_long_end", None)
    item["evidence"] = [{**one, "with": []} for one in item.get("evidence", [])] or None
    item["features"] = [] if isinstance(item.get("features"), list) and "focus" in item else item.get("features")
    item["protocols"] = [named("protocols")] if item.get("protocols") and named("protocols") else None
    item["adapters"] = [named("adapters")] if item.get("adapters") and named("adapters") else None
    if len(item.get("name", "")) % 2:
        for field in (*_GLASS, *_LINK):
            item.pop(field, None)
    if item.get("stabiliser"):
        item["stabiliser"].pop("entry_mm", None)
    return {field: value for field, value in item.items() if value is not None}
