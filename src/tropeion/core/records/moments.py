"""Moments: of the log, which know their zone, and of a camera's clock, which does not."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Annotated, Final

from pydantic import AfterValidator, StringConstraints

EPOCH: Final = datetime(1970, 1, 1, tzinfo=UTC)
SECOND_US: Final = 1_000_000
_MICROSECOND: Final = timedelta(microseconds=1)


def read_moment(text: str) -> datetime:
    """A moment in ISO 8601. Raises ValueError with what would be right."""
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        raise ValueError(f"“{text}” is no moment: write it as 2026-12-05T10:20:30+01:00") from None


@lru_cache(maxsize=2**18)
def instant_us(text: str) -> int:
    """A moment with its zone, in microseconds since 1970 began in UTC."""
    return (read_moment(text).astimezone(UTC) - EPOCH) // _MICROSECOND


def wall_us(text: str) -> int:
    """The digits of a clock, read as if they were UTC, in microseconds since 1970 began."""
    return (read_moment(text).replace(tzinfo=UTC) - EPOCH) // _MICROSECOND


def zone_us(text: str) -> int:
    """The UTC offset that a moment states, in microseconds; 0 where it states none."""
    offset = read_moment(text).utcoffset()
    return 0 if offset is None else offset // _MICROSECOND


def wall_of(us: int) -> str:
    """Microseconds since 1970 as the digits of a clock, with parts of a second where there are some."""
    return (EPOCH + timedelta(microseconds=us)).replace(tzinfo=None).isoformat()


def _zoned(text: str) -> str:
    if read_moment(text).tzinfo is None:
        raise ValueError(f"“{text}” states no zone: write it as 2026-12-05T10:20:30+01:00")
    return text


def _unzoned(text: str) -> str:
    if read_moment(text).tzinfo is not None:
        raise ValueError(f"“{text}” states a zone, a camera's clock has none: write it as 2026-12-05T10:20:30")
    return text


Moment = Annotated[str, StringConstraints(max_length=40), AfterValidator(_zoned)]
CameraTime = Annotated[str, StringConstraints(max_length=32), AfterValidator(_unzoned)]
