"""Sidecars: our fields are put in, and nothing else is changed."""

from __future__ import annotations

import copy
from typing import Final

import pytest
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree

from tropeion.core.log.sidecar_fields import FIELDS, WROTE, Value
from tropeion.formats.xmp import NAMESPACES, NoXmpError, merged, read_fields

OURS: Final[dict[str, Value]] = {
    "exif:FocalLength": "550/10",
    "exif:FNumber": "56/10",
    "aux:Lens": "Kelvane 55/2.2",
    "exifEX:LensSpecification": ("550/10", "550/10", "22/10", "22/10"),
    "tropeion:entry": "e1",
}
RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
THEIRS = f"""<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/" x:xmptk="Somebody's tool"><!-- theirs -->
 <rdf:RDF xmlns:rdf="{RDF}">
  <rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/"
    xmlns:exif="http://ns.adobe.com/exif/1.0/" xmp:Rating="4">
   <dc:subject><rdf:Bag><rdf:li>organ</rdf:li><rdf:li>pipes &amp; cases</rdf:li></rdf:Bag></dc:subject>
   <xmp:Label><![CDATA[a < b]]></xmp:Label>
  </rdf:Description>
  <rdf:Description rdf:about="" xmlns:q="urn:q" q:kept="yes"/>
 </rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>
"""


def _without_ours(data: bytes) -> bytes:
    """The canonical form of a document with our fields taken out, and nothing put in their place."""
    root = copy.deepcopy(etree.fromstring(data))
    for field in (*FIELDS, WROTE):
        prefix, _, name = field.partition(":")
        tag = f"{{{NAMESPACES[prefix]}}}{name}"
        for element in list(root.iter(tag)):
            parent = element.getparent()
            assert parent is not None
            parent.remove(element)
        for element in root.iter(etree.Element):
            element.attrib.pop(tag, "")
    canonical: bytes = etree.tostring(root.getroottree(), method="c14n")
    return canonical


def test_everything_else_in_a_sidecar_stays() -> None:
    found = merged(THEIRS.encode(), OURS)
    assert _without_ours(found.data) == _without_ours(THEIRS.encode())
    assert {change.field for change in found.changes} == set(OURS)
    assert found.kept == ()
    assert read_fields(found.data).items() >= OURS.items()
    assert b"Somebody's tool" in found.data


def test_a_second_run_changes_nothing_and_a_third_takes_back_what_is_not_known() -> None:
    first = merged(None, OURS)
    again = merged(first.data, OURS)
    assert (again.data, again.changes) == (first.data, ())
    less = merged(first.data, {"tropeion:entry": "e2"})
    assert {(change.field, change.becomes) for change in less.changes} == {
        *((field, None) for field in OURS if field != "tropeion:entry"),
        ("tropeion:entry", "e2"),
    }
    assert set(read_fields(less.data)) == {"tropeion:entry", WROTE}


def test_what_somebody_else_wrote_is_kept_and_listed() -> None:
    theirs = THEIRS.replace('xmp:Rating="4"', 'xmp:Rating="4" exif:FNumber="4/1"')
    theirs = theirs.replace("<xmp:Label>", "<exif:FocalLength>50/1</exif:FocalLength><xmp:Label>")
    found = merged(theirs.encode(), OURS)
    assert {(kept.field, kept.was, kept.ours) for kept in found.kept} == {
        ("exif:FNumber", "4/1", "56/10"),
        ("exif:FocalLength", "50/1", "550/10"),
    }
    assert read_fields(found.data)["exif:FNumber"] == "4/1"
    ours = merged(theirs.encode(), OURS, frozenset({"exif:FNumber"}))
    assert [(c.field, c.was, c.becomes) for c in ours.changes if c.field == "exif:FNumber"] == [
        ("exif:FNumber", "4/1", "56/10")
    ]
    assert [kept.field for kept in ours.kept] == ["exif:FocalLength"]
    # Taken once it is ours: another value later needs no second leave.
    later = merged(ours.data, {**OURS, "exif:FNumber": "80/10"})
    assert read_fields(later.data)["exif:FNumber"] == "80/10"


def test_the_same_number_in_another_form_is_theirs_and_no_conflict() -> None:
    theirs = THEIRS.replace('xmp:Rating="4"', 'xmp:Rating="4" exif:FNumber="28/5"')
    found = merged(theirs.encode(), OURS)
    assert found.kept == ()
    assert read_fields(found.data)["exif:FNumber"] == "28/5"
    # It was never ours: that it is not known any more is no reason to take it out.
    assert read_fields(merged(found.data, {"tropeion:entry": "e1"}).data)["exif:FNumber"] == "28/5"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not XML"),
        (b"hello", "not XML"),
        (b"<a/>", "no XMP"),
        (b'<!DOCTYPE a [<!ENTITY e "x">]><a>&e;</a>', "DOCTYPE"),
        (b'<!DOCTYPE a SYSTEM "http://nowhere.invalid/x"><a/>', "DOCTYPE"),
        (b'<!DOCTYPE a [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;"><!ENTITY c "&b;&b;&b;">]><a>&c;</a>', "DOCTYPE"),
        (b"<a>" * 2000, "not XML"),
        (b" " * (8 * 1024 * 1024 + 1), "larger than 8 MB"),
    ],
)
def test_what_is_no_xmp_is_refused(data: bytes, said: str) -> None:
    with pytest.raises(NoXmpError, match=said):
        merged(data, OURS)


words = st.text(st.characters(codec="utf-8"), max_size=20)


@given(words, st.dictionaries(st.sampled_from(["exif:FocalLength", "tropeion:note", "aux:Lens"]), words, max_size=3))
def test_whatever_is_written_can_be_read_and_written_again(note: str, fields: dict[str, str]) -> None:
    first = merged(THEIRS.encode(), {**fields, "tropeion:note": note})
    assert _without_ours(first.data) == _without_ours(THEIRS.encode())
    again = merged(first.data, {**fields, "tropeion:note": note})
    assert (again.data, again.changes, again.kept) == (first.data, (), ())


def test_a_sidecar_of_another_encoding_stays_readable() -> None:
    wide = THEIRS.replace("organ", "Orgel ä").encode("utf-16")
    found = merged(wide, OURS)
    assert _without_ours(found.data) == _without_ours(wide)
