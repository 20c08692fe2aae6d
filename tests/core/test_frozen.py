"""What never changes: compared and hashed by what it holds, or by itself."""

from __future__ import annotations

from dataclasses import replace

from tropeion.core.frozen import frozen


@frozen
class _Length:
    mm: float
    said: str = ""


@frozen
class _Measured(_Length):
    by: str = ""


@frozen(order=True)
class _Level:
    rank: int


@frozen(eq=False)
class _Table:
    rows: int


def test_equal_ones_are_one_key() -> None:
    one, other = _Length(2.5), _Length(2.5)
    assert one == other
    assert {one: "here"}[other] == "here"
    assert one != _Length(2.5, "stated")
    assert one != _Measured(2.5)


def test_one_is_made_of_another() -> None:
    measured = replace(_Measured(2.5, by="caliper"), mm=2.6)
    assert (measured.mm, measured.said, measured.by) == (2.6, "", "caliper")
    assert not hasattr(measured, "__dict__")


def test_they_are_ordered_where_that_is_asked() -> None:
    assert max(_Level(1), _Level(3), _Level(2)) == _Level(3)


def test_large_ones_are_compared_by_themselves() -> None:
    one = _Table(2)
    assert one != _Table(2)
    assert {one: "here"}.get(_Table(2)) is None
