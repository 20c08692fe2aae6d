"""From which stop a rig is usable, by its trials: what counts, what a use demands, what contradicts.

Trials are never averaged: one that fails at a stop makes it unusable until somebody strikes that trial out.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.tried import TrialUse, UsableFrom

from .trials import PieceEvent, Trial, Verdict

# A piece is another one afterwards.
OVERTAKES: Final = frozenset({"converted", "serviced", "modified"})
_GOOD: Final[dict[Verdict, int]] = {"sharp": 3, "soft": 2, "smeared": 1, "dark": 0}
# The least that the centre and the worst corner must be; None: whatever.
_DEMANDS: Final[dict[TrialUse, tuple[Verdict, Verdict | None]]] = {
    "paid_still": ("sharp", "sharp"),
    "film": ("sharp", "soft"),
    "web": ("sharp", "soft"),
    "play": ("soft", None),
}
# Noted as wanted, a ghost is no fault.
_WANTED: Final = frozenset({"ghost", "flare", "glow"})
_KINDS: Final = {"lenses": "lens", "bodies": "body", "adapters": "adapter"}


@frozen
class Dated:
    """A trial, the moment it was made at, and whether it is struck out."""

    trial: Trial
    at: str
    struck: bool = False

    @property
    def day(self) -> str:
        """The day, where it was made."""
        return self.at[:10]


def meets(trial: Trial, use: TrialUse) -> bool | None:
    """Whether a trial meets the demand of a use; None: the corner was not looked at, and decides."""
    centre, corner = _DEMANDS[use]
    if _GOOD[trial.centre] < _GOOD[centre]:
        return False
    if use == "paid_still" and trial.ghost and not _WANTED & {word.lower() for word in trial.character}:
        return False
    if corner is None:
        return True
    return None if trial.corner is None else _GOOD[trial.corner] >= _GOOD[corner]


def not_counted(
    one: Dated, events: Sequence[PieceEvent], firmware: Mapping[str, str | None], name: Callable[[str], str] = str
) -> str:
    """Why a trial does not count; empty where it speaks of the lens, and of the rig as it is today.

    What happened on the day of the trial happened before it: one tries what was just mended. ``name`` names a piece
    by its id.
    """
    trial = one.trial
    if one.struck:
        return "struck out"
    if trial.cause not in {None, "lens"}:
        return "it failed for another reason than the lens"
    pieces = {("lens", trial.lens), *(("adapter", id_) for id_ in trial.via)}
    if trial.body is not None:
        pieces.add(("body", trial.body))
    for event in events:
        kind = _KINDS.get(event.piece.kind, event.piece.kind)
        if event.what in OVERTAKES and (kind, event.piece.id) in pieces and event.on > one.day:
            return f"made before {name(event.piece.id)} was {event.what} on {event.on}"
    for id_, version in trial.firmware.items():
        now = firmware.get(id_)
        if now is not None and now != version:
            return f"made with firmware {version} of {name(id_)}, which has {now} now"
    return ""


def corner_soft(trial: Trial) -> bool:
    """Whether the centre is sharp and the corner is not: then which frames are soft tells whether it is the ring."""
    return trial.centre == "sharp" and trial.corner not in {None, "sharp"}


def usable_rows(
    trials: Iterable[Dated], events: Sequence[PieceEvent], firmware: Mapping[str, str | None]
) -> tuple[UsableFrom, ...]:
    """A row for each lens, chain, body, mark of a zoom and use that trials which count speak of."""
    groups: dict[tuple[str, tuple[str, ...], str | None, float | None, TrialUse], list[Dated]] = defaultdict(list)
    for one in trials:
        if not not_counted(one, events, firmware):
            trial = one.trial
            groups[trial.lens, trial.via, trial.body, trial.focal_length_mm, trial.use].append(one)
    order = sorted(groups, key=lambda key: (key[0], key[1], key[2] or "", key[3] or 0.0, key[4]))
    return tuple(_row(key, groups[key]) for key in order)


def _row(key: tuple[str, tuple[str, ...], str | None, float | None, TrialUse], trials: Sequence[Dated]) -> UsableFrom:
    lens, via, body, focal_length_mm, use = key
    told = [(one.trial.aperture, meets(one.trial, use)) for one in trials]
    failed = [aperture for aperture, met in told if met is False]
    worst = max(failed, default=0.0)
    usable = [aperture for aperture, met in told if met and aperture > worst]
    return UsableFrom(
        lens=lens,
        via=via,
        body=body,
        focal_length_mm=focal_length_mm,
        use=use,
        aperture=min(usable, default=None),
        failed=bool(failed),
        trials=len(trials),
        own=sum(one.trial.source == "own" for one in trials),
        newest=max(one.day for one in trials),
    )


def firmware_in(gear: Gear) -> dict[str, str | None]:
    """The firmware of every piece that has some."""
    return {piece.id: piece.firmware for piece in (*gear.lenses, *gear.adapters, *gear.bodies) if piece.firmware}
