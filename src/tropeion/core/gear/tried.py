"""What trials came to: from which stop a rig is usable for a use. The trials themselves are records."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Final, Literal

from tropeion.core import written
from tropeion.core.frozen import frozen

TrialUse = Literal["paid_still", "film", "web", "play"]
USE_NAMES: Final[dict[TrialUse, str]] = {"paid_still": "paid stills", "film": "film", "web": "the web", "play": "play"}
# What a body's mode is tried for.
OF_MODE: Final[dict[Literal["still", "film"], TrialUse]] = {"still": "paid_still", "film": "film"}


@frozen
class UsableFrom:
    """The widest stop from which every trial at it and beyond meets the use's demand; None: there is none.

    ``body`` None: whichever; ``focal_length_mm`` is a zoom's mark. ``failed``: some trial does not meet it. Behind it
    are ``trials``, ``own`` of them one's own, the ``newest`` of that day.
    """

    lens: str
    via: tuple[str, ...]
    body: str | None
    focal_length_mm: float | None
    use: TrialUse
    aperture: float | None
    failed: bool
    trials: int
    own: int
    newest: str


# By lens and chain.
Tried = Mapping[tuple[str, tuple[str, ...]], tuple[UsableFrom, ...]]


def by_rig(rows: Iterable[UsableFrom]) -> Tried:
    """The rows by lens and chain."""
    found: dict[tuple[str, tuple[str, ...]], list[UsableFrom]] = {}
    for row in rows:
        found.setdefault((row.lens, row.via), []).append(row)
    return {key: tuple(of_key) for key, of_key in found.items()}


def usable_of(tried: Tried, lens: str, via: tuple[str, ...], body: str) -> tuple[UsableFrom, ...]:
    """What trials say of a rig: those on this body, then those that name none."""
    rows = tried.get((lens, via), ())
    return (*(row for row in rows if row.body == body), *(row for row in rows if row.body is None))


def left_unusable(rows: Iterable[UsableFrom], use: TrialUse) -> tuple[UsableFrom, ...]:
    """The rows that leave no usable stop for a use; empty where one does, or none speaks of it.

    Trials on this body speak first; those that name no body only where there are none.
    """
    of_use = [row for row in rows if row.use == use]
    speaking = [row for row in of_use if row.body is not None] or of_use
    if any(row.aperture is not None for row in speaking) or not any(row.failed for row in speaking):
        return ()
    return tuple(speaking)


def usable_said(row: UsableFrom) -> str:
    """What trials come to for one use, with how many they are and of when."""
    stop = "no usable stop" if row.aperture is None else f"usable from {written.aperture(row.aperture)}"
    if row.aperture is None and not row.failed:
        stop = "not known: nobody looked at the corners"
    mark = "" if row.focal_length_mm is None else f" at {row.focal_length_mm:g} mm"
    others = row.trials - row.own
    counted = [f"{row.own} own"] if row.own else []
    counted += [f"{others} of others"] if others else []
    anywhere = "" if row.body is not None else ", on whichever body"
    trials = "trial" if row.trials == 1 else "trials"
    told = f"{row.trials} {trials}: {', '.join(counted)}; the newest of {row.newest}"
    return f"{USE_NAMES[row.use].capitalize()}{mark}: {stop} ({told}{anywhere})"


def usable_lines(rows: Iterable[UsableFrom]) -> tuple[str, ...]:
    """Each use in a line."""
    return tuple(usable_said(row) for row in rows)
