"""Trials in words: what one says, and whose it is."""

from __future__ import annotations

from typing import Final

from tropeion.core import written
from tropeion.core.records.trials import Trial

SOURCES: Final[dict[str, str]] = {
    "own": "your own",
    "person": "another person’s",
    "shop": "a shop’s",
    "maker": "the maker’s",
    "review": "a review’s",
}
CAUSES: Final[dict[str, str]] = {
    "lens": "the lens",
    "focus": "missed focus",
    "magnifier": "the magnifier in the way",
    "subject": "the subject moved",
    "shake": "shake",
    "play": "play in the mount",
}


def trial_said(trial: Trial) -> str:
    """What a trial found, in a line."""
    corner = "the corner was not looked at" if trial.corner is None else f"corner {trial.corner}"
    said = [f"{written.aperture(trial.aperture)}: centre {trial.centre}", corner]
    wanted = {word.lower() for word in trial.character}
    said += [
        f"{fault}{' (wanted)' if fault in wanted else ''}"
        for fault, there in (("ghost", trial.ghost), ("flare", trial.flare))
        if there
    ]
    if trial.hood is not None:
        said.append("hood on" if trial.hood else "hood off")
    if trial.cause is not None and trial.cause != "lens":
        said.append(f"failed by {CAUSES[trial.cause]}")
    said += [word for word in trial.character if word.lower() not in {"ghost", "flare"}]
    return ", ".join(said)
