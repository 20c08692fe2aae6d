"""Who is let in: codes, sessions, revocation, and what is written down of it."""

from __future__ import annotations

import sqlite3
import stat
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tropeion.lan import paired as of_paired
from tropeion.lan.paired import (
    CODE_WITHIN_S,
    FILE_NAME,
    MOST_DEVICES,
    MOST_EVENTS,
    MOST_TRIES,
    UNUSED_DAYS,
    CodeRefusedError,
    Paired,
    TooManyDevicesError,
    written_code,
)

AT = "192.168.7.20"


class Clock:
    """A clock that is set."""

    def __init__(self) -> None:
        self.now = datetime(2026, 12, 1, 10, 0, tzinfo=UTC)

    def pass_(self, **span: float) -> None:
        self.now += timedelta(**span)

    def seconds(self) -> float:
        return self.now.timestamp()


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def paired(tmp_path: Path, clock: Clock) -> Iterator[Paired]:
    found = Paired(tmp_path, now=lambda: clock.now, clock_s=clock.seconds)
    yield found
    found.close()


def let_in(paired: Paired, name: str = "Phone") -> tuple[str, str]:
    device, token = paired.pair(paired.new_code("log").code, name, AT)
    return device.id, token


def test_a_code_lets_one_device_in_once(paired: Paired) -> None:
    code = paired.new_code("most").code
    device, token = paired.pair(code, "Phone", AT)
    assert (device.name, device.may) == ("Phone", "most")
    known = paired.device_of(token, AT)
    assert known is not None
    assert known[0].id == device.id
    with pytest.raises(CodeRefusedError, match="No code is open"):
        paired.pair(code, "Another", AT)
    assert paired.code() is None


def test_a_code_is_of_forty_bits(paired: Paired) -> None:
    codes = {paired.new_code("log").code for _ in range(200)}
    assert len(codes) == 200
    assert all(len(code) == 8 and set(code) <= set(of_paired._ALPHABET) for code in codes)
    assert len(set(of_paired._ALPHABET)) == 2**5


def test_a_code_is_read_as_people_type_it(paired: Paired) -> None:
    code = paired.new_code("log").code
    typed = f" {code[:4].lower()}-{code[4:]} ".replace("0", "o").replace("1", "l")
    assert paired.pair(typed, "Phone", AT)[0].name == "Phone"
    assert written_code("oIlu-0123") == "011V0123"


def test_a_code_is_void_after_five_minutes(paired: Paired, clock: Clock) -> None:
    early = paired.new_code("log").code
    clock.pass_(seconds=CODE_WITHIN_S - 0.1)
    shown = paired.code()
    assert shown is not None
    assert shown.seconds_left == pytest.approx(0.1)
    clock.pass_(seconds=0.1)
    assert paired.code() is None
    with pytest.raises(CodeRefusedError):
        paired.pair(early, "Phone", AT)


def test_a_new_code_makes_the_one_before_void(paired: Paired) -> None:
    old, new = paired.new_code("log").code, paired.new_code("log").code
    with pytest.raises(CodeRefusedError, match="4 more tries"):
        paired.pair(old, "Phone", AT)
    assert paired.pair(new, "Phone", AT)


def test_five_wrong_tries_make_it_void_even_for_who_knows_it(paired: Paired) -> None:
    code = paired.new_code("log").code
    for left in range(MOST_TRIES - 1, 0, -1):
        with pytest.raises(CodeRefusedError, match=f"{left} more"):
            paired.pair("00000000", "Guess", f"192.168.7.{left}")
    with pytest.raises(CodeRefusedError, match="the code is void"):
        paired.pair("00000000", "Guess", AT)
    with pytest.raises(CodeRefusedError, match="No code is open"):
        paired.pair(code, "Phone", AT)


@pytest.mark.parametrize("typed", ["", "\x00", "ÄÖÜ", "0" * 40, "0000000"])
def test_odd_codes_are_wrong_ones(paired: Paired, typed: str) -> None:
    paired.new_code("log")
    with pytest.raises(CodeRefusedError):
        paired.pair(typed, "Phone", AT)
    paired.withdraw_code()
    with pytest.raises(CodeRefusedError, match="No code is open"):
        paired.pair(typed, "Phone", AT)


def test_the_token_is_kept_nowhere(paired: Paired, tmp_path: Path) -> None:
    _, token = let_in(paired)
    assert len(token) >= 43  # 256 bits in base 64
    paired.close()
    for path in tmp_path.iterdir():
        assert token.encode() not in path.read_bytes()
    assert stat.S_IMODE((tmp_path / FILE_NAME).stat().st_mode) == 0o600


@given(st.text(max_size=80))
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_other_token_is_nobody(paired: Paired, token: str) -> None:
    assert paired.device_of(token, AT) is None


def test_revoking_works_at_once_and_for_good(paired: Paired, tmp_path: Path) -> None:
    id_, token = let_in(paired)
    _, other = let_in(paired, "Other")
    assert paired.revoke(id_)
    assert paired.device_of(token, AT) is None
    assert not paired.revoke(id_)
    assert paired.device_of(other, AT) is not None
    paired.close()
    again = Paired(tmp_path)
    assert again.device_of(token, AT) is None
    assert again.device_of(other, AT) is not None
    again.close()


def test_unused_for_ninety_days_it_is_forgotten(paired: Paired, clock: Clock) -> None:
    _, token = let_in(paired)
    for _ in range(3):
        clock.pass_(days=UNUSED_DAYS - 1)
        found = paired.device_of(token, AT)
        assert found is not None
        assert found[1], "its use is written down, and its cookie renewed"
    clock.pass_(days=UNUSED_DAYS + 1)
    assert paired.device_of(token, AT) is None
    assert paired.devices() == ()
    assert [one.what for one in paired.happened()] == ["expired", "paired"]


def test_use_is_written_down_once_an_hour(paired: Paired, clock: Clock) -> None:
    _, token = let_in(paired)
    told = []
    for minutes in (1, 30, 30, 5):
        clock.pass_(minutes=minutes)
        found = paired.device_of(token, AT)
        assert found is not None
        told.append(found[1])
    assert told == [False, False, True, False]


def test_what_a_device_may_is_changed(paired: Paired) -> None:
    id_, token = let_in(paired)
    assert paired.allow(id_, "Tablet", "most") is not None
    found = paired.device_of(token, AT)
    assert found is not None
    assert (found[0].name, found[0].may) == ("Tablet", "most")
    assert paired.allow("nobody", "x", "log") is None
    assert paired.happened()[0].what == "right"


def test_no_more_than_so_many_devices(paired: Paired) -> None:
    for number in range(MOST_DEVICES):
        let_in(paired, f"Phone {number}")
    with pytest.raises(TooManyDevicesError):
        let_in(paired)
    paired.revoke(paired.devices()[0].id)
    let_in(paired)


def test_refusals_are_counted_by_address_and_hour(paired: Paired, clock: Clock) -> None:
    for address, times in (("192.168.7.8", 7), ("192.168.7.9", 2)):
        for _ in range(times):
            paired.refused("unpaired", address)
    clock.pass_(hours=1)
    paired.refused("unpaired", "192.168.7.8")
    told = {(one.address, one.at): one.times for one in paired.happened()}
    assert sorted(told.values()) == [1, 2, 7]
    assert len(told) == 3


def test_a_flood_of_refusals_does_not_wash_away_who_was_let_in(
    paired: Paired, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert MOST_EVENTS == 1000
    most = examples(60)
    monkeypatch.setattr(of_paired, "MOST_EVENTS", most)
    id_, _ = let_in(paired)
    paired.revoke(id_)
    for number in range(most + 40):
        clock.pass_(seconds=2)
        paired.refused("unpaired", f"10.0.{number // 250}.{number % 250}")
    happened = paired.happened()
    assert len(happened) == most
    assert {one.what for one in happened} == {"paired", "revoked", "unpaired"}
    assert happened[0].address == f"10.0.{(most + 39) // 250}.{(most + 39) % 250}"


def test_a_damaged_file_lets_nobody_in(tmp_path: Path) -> None:
    (tmp_path / FILE_NAME).write_bytes(b"no database" * 100)
    paired = Paired(tmp_path)
    assert paired.devices() == ()
    assert paired.device_of("anything", AT) is None
    paired.close()
    assert (tmp_path / f"{FILE_NAME}.damaged").read_bytes().startswith(b"no database")
    with sqlite3.connect(tmp_path / FILE_NAME) as connection:
        assert connection.execute("SELECT count(*) FROM device").fetchone() == (0,)
    connection.close()
