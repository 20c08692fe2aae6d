"""What a file says of itself, read from its head; whatever it is made of."""

from __future__ import annotations

import io
import os
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.logs import jpeg, wall
from tropeion.core.records.moments import EPOCH, SECOND_US
from tropeion.formats.picture_header import UnreadError, header_of, kind_of

TAKEN = datetime(2026, 11, 21, 14, 2, 10, tzinfo=UTC)


def _us(moment: datetime) -> int:
    return round((moment - EPOCH).total_seconds()) * SECOND_US


def test_a_header_tells_what_it_knows_and_no_more() -> None:
    data = jpeg(TAKEN, lens="Ostrel 30/1.8", focal_mm=30.0, f_number=2.8, parts="25", zone="+01:00")
    header = header_of(data, whole=True)
    assert (header.make, header.model, header.lens) == ("Ostrel", "O7", "Ostrel 30/1.8")
    assert header.taken_us == _us(TAKEN) + 250_000
    assert (header.exact, header.zone_us) == (True, 3600 * SECOND_US)
    assert (header.focal_length_mm, header.f_number) == (30.0, 2.8)


@pytest.mark.parametrize("nothing", ["", "   ", "0", "0.0", "----", "-- --", "0.0 mm f/0.0"[:3]])
def test_zero_and_blank_are_not_known(nothing: str) -> None:
    header = header_of(jpeg(TAKEN, lens=nothing, focal_mm=0.0, f_number=0.0), whole=True)
    assert (header.lens, header.focal_length_mm, header.f_number, header.zone_us) == ("", None, None, None)


def test_no_time_stands_for_another() -> None:
    # 0x0132 is when the file was changed last: it is never taken.
    data = jpeg(None, more={0x9003: "    :  :     :  :  "})
    assert header_of(data, whole=True).taken_us is None
    assert header_of(jpeg(None, more={0x9003: "2026:02:30 10:00:00"}), whole=True).taken_us is None


def test_the_kind_is_told_by_the_first_bytes() -> None:
    for kind in ("JPEG", "TIFF", "PNG", "WEBP"):
        target = io.BytesIO()
        Image.new("RGB", (8, 8)).save(target, kind)
        assert kind_of(target.getvalue()[:16]) == kind.lower()
    assert kind_of(b"\x00\x00\x00\x18ftypheic") == "heif"
    assert kind_of(b"hello, I am text") is None
    assert kind_of(bytes(16)) is None


@pytest.mark.parametrize("data", [b"", b"hello", bytes(4000), b"<x/>" * 10])
def test_what_is_no_picture_is_not_read(data: bytes) -> None:
    with pytest.raises(UnreadError, match=r"empty|no picture by its first bytes"):
        header_of(data, whole=True)


def test_a_kind_whose_claims_are_not_found_is_said_to_be_unread() -> None:
    target = io.BytesIO()
    Image.new("RGB", (8, 8)).save(target, "WEBP")
    with pytest.raises(UnreadError, match="no header that can be read in this WEBP file"):
        header_of(target.getvalue(), whole=True)
    # A JPEG without a header is a picture all the same: it claims nothing.
    plain = io.BytesIO()
    Image.new("RGB", (8, 8)).save(plain, "JPEG")
    assert header_of(plain.getvalue(), whole=True).taken_us is None


def test_a_head_that_ends_too_early_says_to_read_it_from_a_folder() -> None:
    target = io.BytesIO()
    picture = Image.new("RGB", (400, 400), (9, 9, 9))
    picture.putdata([(n % 251, n % 241, n % 239) for n in range(160_000)])
    picture.save(target, "TIFF")
    # The directory of a TIFF may stand at its end.
    with pytest.raises(UnreadError, match="read it from a folder"):
        header_of(target.getvalue()[:4096], whole=False)
    assert header_of(jpeg(TAKEN)[:900], whole=False).taken_us == _us(TAKEN)


@given(st.binary(max_size=400), st.integers(0, 600), st.sampled_from([b"\xff\xd8\xff\xe1", b"II*\x00\x08\x00\x00\x00"]))
def test_whatever_stands_in_a_file_it_is_read_or_said_to_be_unread(noise: bytes, at: int, head: bytes) -> None:
    good = jpeg(wall(0), lens="Ostrel 30/1.8", focal_mm=30.0)
    for data in (good[:at] + noise + good[at + len(noise) :], head + noise):
        try:
            header = header_of(data, whole=True)
        except UnreadError:
            continue
        assert header.focal_length_mm is None or header.focal_length_mm > 0


def test_names_that_are_no_text_break_no_line() -> None:
    header = header_of(jpeg(TAKEN, make="Ost\nrel\x00\x00", lens="A\r\nB"), whole=True)
    assert (header.make, header.lens) == ("Ost rel", "A B")
    assert os.linesep not in header.make
