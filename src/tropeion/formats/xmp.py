"""XMP sidecars: our fields put into a document, and nothing else of it changed. Source: ISO 16684-1."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

from lxml import etree

from tropeion.core.frozen import frozen
from tropeion.core.log.sidecar_fields import FIELDS, OWN, WROTE, FieldKept, SidecarChange, Value, told

MAX_BYTES: Final = 8 * 1024 * 1024
_RDF: Final = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
NAMESPACES: Final[Mapping[str, str]] = {
    "exif": "http://ns.adobe.com/exif/1.0/",
    "aux": "http://ns.adobe.com/exif/1.0/aux/",
    "exifEX": "http://cipa.jp/exif/1.0/",
    OWN: "https://tropeion.invalid/ns/log/1#",
}
_NEW: Final = (
    '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n'
    '<x:xmpmeta xmlns:x="adobe:ns:meta/">\n'
    f' <rdf:RDF xmlns:rdf="{_RDF}">\n'
    '  <rdf:Description rdf:about=""'
    + "".join(f'\n    xmlns:{prefix}="{uri}"' for prefix, uri in NAMESPACES.items())
    + ">\n  </rdf:Description>\n </rdf:RDF>\n</x:xmpmeta>\n"
    '<?xpacket end="w"?>\n'
).encode()
_INDENT: Final = "\n   "


class NoXmpError(ValueError):
    """A sidecar that is not ours to change, and why."""


@frozen
class Merged:
    """A sidecar with our fields: its bytes, what changed, and what somebody else wrote otherwise."""

    data: bytes
    changes: tuple[SidecarChange, ...]
    kept: tuple[FieldKept, ...]


def _name(field: str) -> str:
    prefix, _, name = field.partition(":")
    return f"{{{NAMESPACES[prefix]}}}{name}"


def _parsed(data: bytes) -> etree._Element:
    if len(data) > MAX_BYTES:
        raise NoXmpError(f"larger than {MAX_BYTES // 1024 // 1024} MB")
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, strip_cdata=False, recover=False
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise NoXmpError(f"not XML: {str(error)[:120]}") from None
    if root.getroottree().docinfo.internalDTD is not None:
        raise NoXmpError("it has a DOCTYPE, which XMP has not")
    return root


def _descriptions(root: etree._Element) -> list[etree._Element]:
    rdf = root if root.tag == f"{{{_RDF}}}RDF" else root.find(f".//{{{_RDF}}}RDF")
    if rdf is None:
        raise NoXmpError("no XMP: there is no rdf:RDF in it")
    found = [child for child in rdf if child.tag == f"{{{_RDF}}}Description"]
    return found or [etree.SubElement(rdf, f"{{{_RDF}}}Description", {f"{{{_RDF}}}about": ""})]


@dataclass(slots=True)
class _Place:
    """Where a field stands: as an attribute of a description, or as an element in it."""

    description: etree._Element
    element: etree._Element | None
    value: Value


def _place_of(descriptions: list[etree._Element], field: str) -> _Place | None:
    name = _name(field)
    for description in descriptions:
        if name in description.attrib:
            return _Place(description, None, str(description.attrib[name]))
        element = description.find(name)
        if element is not None:
            items = element.findall(f"*/{{{_RDF}}}li")
            value: Value = tuple((item.text or "").strip() for item in items) if items else (element.text or "").strip()
            return _Place(description, element, value)
    return None


def _equal(one: Value, other: Value) -> bool:
    """Whether two values are the same, numbers by what they are worth."""
    if one == other:
        return True
    parts = [(value,) if isinstance(value, str) else value for value in (one, other)]
    if len(parts[0]) != len(parts[1]):
        return False
    try:
        return [Fraction(part.replace(" ", "")) for part in parts[0]] == [Fraction(part) for part in parts[1]]
    except (ValueError, ZeroDivisionError):
        return False


def read_fields(data: bytes) -> dict[str, Value]:
    """Which of our fields a sidecar has. Raises NoXmpError."""
    descriptions = _descriptions(_parsed(data))
    places = {field: _place_of(descriptions, field) for field in (*FIELDS, WROTE)}
    return {field: place.value for field, place in places.items() if place is not None}


def merged(data: bytes | None, fields: Mapping[str, Value], overwrite: frozenset[str] = frozenset()) -> Merged:
    """A sidecar (None: a new one) with these fields; ``overwrite`` names those taken though somebody else wrote them.

    A field that still has the value of our last writing is ours: it is changed, or taken out where it is not known any
    more. Raises NoXmpError.
    """
    fields = {field: clean for field, value in fields.items() if (clean := _as_read(value))}
    root = _parsed(_NEW if data is None else data)
    descriptions = _descriptions(root)
    wrote = _wrote(descriptions)
    ours: dict[str, str] = {}
    changes: list[SidecarChange] = []
    kept: list[FieldKept] = []
    for field in FIELDS:
        place, wanted = _place_of(descriptions, field), fields.get(field)
        is_ours = place is not None and field in wrote and told(place.value) == wrote[field]
        if place is not None and wanted is not None and _equal(place.value, wanted):
            if is_ours:
                ours[field] = told(place.value)
            continue
        if place is None and wanted is None:
            continue
        if place is not None and not is_ours and field not in overwrite:
            if wanted is not None:
                kept.append(FieldKept(field, told(place.value), told(wanted)))
            continue
        if wanted is None:
            if not is_ours or place is None:
                continue
            _take_out(place, field)
        else:
            _put(descriptions[0], place, field, wanted)
            ours[field] = told(wanted)
        was = None if place is None else told(place.value)
        changes.append(SidecarChange(field, was, None if wanted is None else told(wanted)))
    if ours != wrote:
        _put(descriptions[0], _place_of(descriptions, WROTE), WROTE, json.dumps(ours, ensure_ascii=False))
    if data is not None and not changes and ours == wrote:
        return Merged(data, (), tuple(kept))
    return Merged(_written(root, data), tuple(changes), tuple(kept))


def _wrote(descriptions: list[etree._Element]) -> dict[str, str]:
    """The fields and values of our last writing."""
    place = _place_of(descriptions, WROTE)
    if place is None or not isinstance(place.value, str):
        return {}
    try:
        said = json.loads(place.value)
    except ValueError:
        return {}
    return {str(key): str(value) for key, value in said.items()} if isinstance(said, dict) else {}


def _take_out(place: _Place, field: str) -> None:
    if place.element is None:
        del place.description.attrib[_name(field)]
    else:
        place.description.remove(place.element)


def _put(description: etree._Element, place: _Place | None, field: str, value: Value) -> None:
    """Put a value where the field stands, else at the end of a description.

    A new element brings its namespace and the blanks after it along, and takes them along when it goes.
    """
    if place is not None and place.element is None:
        if isinstance(value, str):
            place.description.attrib[_name(field)] = value
            return
        del place.description.attrib[_name(field)]
    prefix = field.partition(":")[0]
    element = None if place is None else place.element
    if element is None:
        element = etree.SubElement(description, _name(field), nsmap={prefix: NAMESPACES[prefix]})
        element.tail = _INDENT
    else:
        for child in list(element):
            element.remove(child)
    if isinstance(value, str):
        element.text = value
        return
    element.text = None
    listed = etree.SubElement(element, f"{{{_RDF}}}Seq", nsmap={"rdf": _RDF})
    for item in value:
        etree.SubElement(listed, f"{{{_RDF}}}li").text = item


def _as_read(value: Value) -> Value:
    """A value as it is read again: without blanks around it, and of what XML can hold."""
    return _clean(value).strip() if isinstance(value, str) else tuple(_clean(part).strip() for part in value)


def _clean(text: str) -> str:
    """What XML can hold."""
    return "".join(c if c in "\t\n\r" or (c >= " " and c not in "\ufffe\uffff") else " " for c in text)


def _written(root: etree._Element, data: bytes | None) -> bytes:
    """The document, a line each for what stands around its root."""
    around = [*reversed(list(root.itersiblings(preceding=True))), root, *root.itersiblings()]
    lines = [etree.tostring(node, encoding="utf-8", with_tail=False) for node in around]
    if data is not None and data.removeprefix(b"\xef\xbb\xbf").startswith(b"<?xml"):
        lines.insert(0, b'<?xml version="1.0" encoding="UTF-8"?>')
    return b"\n".join([*lines, b""])
