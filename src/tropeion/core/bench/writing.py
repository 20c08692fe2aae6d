"""A measurement written to a piece, as a gear file writes the piece."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any


def with_measurement(document: Mapping[str, Any], fields: Mapping[str, float], day: str, says: str) -> dict[str, Any]:
    """The piece with what was measured, which is assumed no more, its date, and how among what is said of it."""
    said = {"claim": "measured on the bench", "verdict": "confirmed", "source": "own", "on": day, "note": says}
    return {
        **document,
        **fields,
        "assumed": [value for value in document.get("assumed", []) if value not in fields],
        "measured_on": day,
        "evidence": [*document.get("evidence", []), said],
    }
