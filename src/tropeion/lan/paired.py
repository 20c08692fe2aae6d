"""Who was let in: the paired devices and their sessions, the code of a pairing, and what was refused.

A file of its own beside the database: in no backup, no undo and no restore, which would bring a revoked device back.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, fields
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Final, Literal

from sqlalchemy import (
    Column,
    Connection,
    Integer,
    MetaData,
    Table,
    Text,
    UniqueConstraint,
    create_engine,
    delete,
    event,
    func,
    insert,
    select,
    update,
)
from sqlalchemy.exc import DatabaseError
from sqlalchemy.pool import StaticPool

from tropeion.core.frozen import frozen

FILE_NAME: Final = "devices.sqlite"
# What a device may: read and log, or everything that is not for the machine alone.
Right = Literal["log", "most"]
Event = Literal["paired", "revoked", "expired", "right", "wrong_code", "unpaired", "not_allowed", "other_host"]
# Without letters that look like digits: 32 of them, five bits each.
_ALPHABET: Final = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"
_READ_AS: Final = str.maketrans({"O": "0", "I": "1", "L": "1", "U": "V"})
CODE_LENGTH: Final = 8
CODE_WITHIN_S: Final = 300.0
MOST_TRIES: Final = 5
UNUSED_DAYS: Final = 90
MOST_EVENTS: Final = 1000
MOST_DEVICES: Final = 50
COUNTED_EVERY_S: Final = 1.0
# How often it is written down that a device is in use.
_USED_EVERY: Final = timedelta(hours=1)
_EDITION: Final = 1

_METADATA = MetaData()
_DEVICES = Table(
    "device",
    _METADATA,
    Column("id", Text, primary_key=True),
    Column("name", Text, nullable=False),
    Column("may", Text, nullable=False),
    Column("token_sha256", Text, nullable=False, unique=True),
    Column("paired_at", Text, nullable=False),
    Column("used_at", Text, nullable=False),
    Column("address", Text, nullable=False),
)
_EVENTS = Table(
    "event",
    _METADATA,
    Column("number", Integer, primary_key=True),
    Column("hour", Text, nullable=False),
    Column("at", Text, nullable=False),
    Column("what", Text, nullable=False),
    Column("address", Text, nullable=False),
    Column("device", Text, nullable=False),
    Column("times", Integer, nullable=False),
    UniqueConstraint("hour", "what", "address", "device"),
)


@frozen
class Device:
    """A device that was let in; ``address`` is where it was seen last."""

    id: str
    name: str
    may: Right
    paired_at: str
    used_at: str
    address: str


_OF_DEVICE = [field.name for field in fields(Device)]


@frozen
class Happened:
    """What happened at the listener, counted by address and hour where it was refused; ``at`` is the last time."""

    at: str
    what: Event
    address: str
    device: str
    times: int


@frozen
class CodeShown:
    """A code that lets one device in, once; ``seconds_left`` until it is void."""

    code: str
    may: Right
    seconds_left: float


@dataclass(slots=True)
class _Code:
    text: str
    may: Right
    until_s: float
    tries: int = 0


class CodeRefusedError(Exception):
    """A code that lets nobody in, and why."""


class TooManyDevicesError(Exception):
    """As many devices as there may be are paired."""


def written_code(text: str) -> str:
    """A code as it was typed, in the letters that it was made of."""
    return "".join(text.upper().split()).replace("-", "").translate(_READ_AS)


def _hash(token: str) -> str:
    # 256 random bits need no salt and no slow function.
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).hexdigest()


class Paired:
    """The devices of one collection's folder. Safe to use from several threads."""

    def __init__(
        self,
        folder: Path,
        *,
        now: Callable[[], datetime] = lambda: datetime.now(UTC),
        clock_s: Callable[[], float] = time.monotonic,
    ) -> None:
        self._path = folder / FILE_NAME
        self._now, self._clock_s = now, clock_s
        self._turn = threading.Lock()
        self._code: _Code | None = None
        # What was refused since it was last written down.
        self._counted: Counter[tuple[Event, str, str]] = Counter()
        self._written_s = -COUNTED_EVERY_S
        try:
            self._open()
        except DatabaseError:
            # Nobody is let in by a damaged file: it is put aside, and the devices are paired again.
            self._engine.dispose()
            for beside in ("-wal", "-shm"):
                self._path.with_name(self._path.name + beside).unlink(missing_ok=True)
            self._path.replace(self._path.with_name(f"{FILE_NAME}.damaged"))
            self._open()

    def _open(self) -> None:
        # For its owner alone, before anything is in it.
        self._path.touch(mode=0o600)
        self._engine = create_engine(
            f"sqlite:///{self._path}", connect_args={"check_same_thread": False, "timeout": 10}, poolclass=StaticPool
        )
        event.listen(self._engine, "connect", _prepare)
        with self._engine.begin() as connection:
            if connection.exec_driver_sql("PRAGMA user_version").scalar() != _EDITION:
                _METADATA.drop_all(connection)
                connection.exec_driver_sql(f"PRAGMA user_version = {_EDITION}")
            _METADATA.create_all(connection)

    def close(self) -> None:
        """Release the file."""
        with self._turn, self._engine.begin() as connection:
            self._write_down(connection)
        self._engine.dispose()

    def new_code(self, may: Right) -> CodeShown:
        """A code for one device; one that was shown before is void."""
        text = "".join(secrets.choice(_ALPHABET) for _ in range(CODE_LENGTH))
        with self._turn:
            self._code = _Code(text, may, self._clock_s() + CODE_WITHIN_S)
            return CodeShown(text, may, CODE_WITHIN_S)

    def code(self) -> CodeShown | None:
        """The code that lets somebody in just now."""
        with self._turn:
            code = self._standing()
            return None if code is None else CodeShown(code.text, code.may, code.until_s - self._clock_s())

    def withdraw_code(self) -> None:
        """No code lets anybody in."""
        with self._turn:
            self._code = None

    def _standing(self) -> _Code | None:
        if self._code is not None and self._clock_s() >= self._code.until_s:
            self._code = None
        return self._code

    def pair(self, code: str, name: str, address: str) -> tuple[Device, str]:
        """Let a device in; returns it and the token of its session, which is kept nowhere.

        Raises CodeRefusedError, and TooManyDevicesError.
        """
        typed = written_code(code)
        with self._turn:
            standing = self._standing()
            right = hmac.compare_digest(standing.text.encode() if standing else b"", typed.encode())
            if standing is None or not right:
                said = self._tried(standing)
                with self._engine.begin() as connection:
                    self._tell(connection, "wrong_code", address, "")
                raise CodeRefusedError(said)
            with self._engine.begin() as connection:
                self._expire(connection)
                if (connection.scalar(select(func.count()).select_from(_DEVICES)) or 0) >= MOST_DEVICES:
                    raise TooManyDevicesError
                token, at = secrets.token_urlsafe(32), self._now().isoformat(timespec="seconds")
                device = Device(str(uuid.uuid4()), name, standing.may, at, at, address)
                row = {field: getattr(device, field) for field in _OF_DEVICE}
                connection.execute(insert(_DEVICES).values(**row, token_sha256=_hash(token)))
                self._tell(connection, "paired", address, name)
            self._code = None
            return device, token

    def _tried(self, standing: _Code | None) -> str:
        """Count a wrong try; what is told of it."""
        if standing is None:
            return "No code is open: show a new one on the machine"
        standing.tries += 1
        if standing.tries >= MOST_TRIES:
            self._code = None
            return "That was the fifth wrong try, and the code is void: show a new one on the machine"
        left = MOST_TRIES - standing.tries
        return f"That is not the code on the machine’s screen; {left} more {'try' if left == 1 else 'tries'}"

    def device_of(self, token: str, address: str) -> tuple[Device, bool] | None:
        """The device of a session, and whether its use is written down just now; None for any other token."""
        with self._turn, self._engine.begin() as connection:
            row = connection.execute(select(_DEVICES).where(_DEVICES.c.token_sha256 == _hash(token))).first()
            if row is None:
                return None
            now = self._now()
            used = datetime.fromisoformat(row.used_at)
            if now - used > timedelta(days=UNUSED_DAYS):
                self._expire(connection)
                return None
            renewed = not timedelta(0) <= now - used < _USED_EVERY or row.address != address
            if renewed:
                at = now.isoformat(timespec="seconds")
                connection.execute(update(_DEVICES).where(_DEVICES.c.id == row.id).values(used_at=at, address=address))
            return Device(row.id, row.name, row.may, row.paired_at, row.used_at, address), renewed

    def _expire(self, connection: Connection) -> None:
        long_ago = (self._now() - timedelta(days=UNUSED_DAYS)).isoformat(timespec="seconds")
        unused = _DEVICES.c.used_at < long_ago
        for row in connection.execute(select(_DEVICES).where(unused)):
            self._tell(connection, "expired", row.address, row.name)
        connection.execute(delete(_DEVICES).where(unused))

    def devices(self) -> tuple[Device, ...]:
        """Those that may come in, the one used last first."""
        with self._turn, self._engine.begin() as connection:
            self._expire(connection)
            rows = connection.execute(select(_DEVICES).order_by(_DEVICES.c.used_at.desc(), _DEVICES.c.paired_at.desc()))
            return tuple(Device(row.id, row.name, row.may, row.paired_at, row.used_at, row.address) for row in rows)

    def allow(self, id_: str, name: str, may: Right) -> Device | None:
        """Call a device so, and let it do so much from now on; None where there is no such device."""
        with self._turn, self._engine.begin() as connection:
            row = connection.execute(select(_DEVICES).where(_DEVICES.c.id == id_)).first()
            if row is None:
                return None
            connection.execute(update(_DEVICES).where(_DEVICES.c.id == id_).values(name=name, may=may))
            if may != row.may:
                self._tell(connection, "right", row.address, name)
            return Device(id_, name, may, row.paired_at, row.used_at, row.address)

    def revoke(self, id_: str) -> bool:
        """From now on a device is not known; False where it was not."""
        with self._turn, self._engine.begin() as connection:
            row = connection.execute(select(_DEVICES).where(_DEVICES.c.id == id_)).first()
            if row is None:
                return False
            connection.execute(delete(_DEVICES).where(_DEVICES.c.id == id_))
            self._tell(connection, "revoked", row.address, row.name)
            return True

    def refused(self, what: Event, address: str, device: str = "") -> None:
        """Count what was refused; it is written down once a second, so that a flood costs little."""
        with self._turn:
            self._counted[what, address, device] += 1
            if len(self._counted) > MOST_EVENTS or self._clock_s() - self._written_s >= COUNTED_EVERY_S:
                with self._engine.begin() as connection:
                    self._write_down(connection)

    def _write_down(self, connection: Connection) -> None:
        for (what, address, device), times in self._counted.items():
            self._tell(connection, what, address, device, times)
        self._counted.clear()
        self._written_s = self._clock_s()

    def happened(self) -> tuple[Happened, ...]:
        """What happened, the latest first."""
        with self._turn, self._engine.begin() as connection:
            self._write_down(connection)
            rows = connection.execute(select(_EVENTS).order_by(_EVENTS.c.at.desc(), _EVENTS.c.number.desc()))
            return tuple(Happened(row.at, row.what, row.address, row.device, row.times) for row in rows)

    def _tell(self, connection: Connection, what: Event, address: str, device: str, times: int = 1) -> None:
        now = self._now()
        at, hour = now.isoformat(timespec="seconds"), now.isoformat(timespec="hours")
        here = (
            (_EVENTS.c.hour == hour)
            & (_EVENTS.c.what == what)
            & (_EVENTS.c.address == address)
            & (_EVENTS.c.device == device)
        )
        counted = connection.execute(update(_EVENTS).where(here).values(at=at, times=_EVENTS.c.times + times))
        if counted.rowcount:
            return
        row = {"hour": hour, "at": at, "what": what, "address": address, "device": device, "times": times}
        connection.execute(insert(_EVENTS).values(**row))
        standing = connection.scalar(select(func.count()).select_from(_EVENTS)) or 0
        if standing > MOST_EVENTS:
            # A flood of refusals does not wash away who was let in.
            kept = _EVENTS.c.what.in_(("paired", "revoked", "expired", "right"))
            order = (kept, _EVENTS.c.at, _EVENTS.c.number)
            oldest = select(_EVENTS.c.number).order_by(*order).limit(standing - MOST_EVENTS)
            connection.execute(delete(_EVENTS).where(_EVENTS.c.number.in_(oldest)))


def _prepare(connection: object, _: object) -> None:
    # A revoked device stays revoked, whatever happens to the power.
    for pragma in ("journal_mode = WAL", "synchronous = FULL"):
        connection.execute(f"PRAGMA {pragma}")  # type: ignore[attr-defined]
