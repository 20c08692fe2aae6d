"""A caliper that is not there: jaws that close on an invented piece, with the errors that a real one has.

It says nothing of any real piece. What it measures is a copy that its maker could have delivered: stated length, plus
an error within the stated tolerance.
"""

from __future__ import annotations

import hashlib
import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from time import monotonic
from typing import Literal

from tropeion.core.frozen import frozen

# How fast a ring warms in the hand.
WARMING_S = 90.0
MOST_MM = 200.0
# The usual out-of-squareness of a seat, as a share of its tolerance.
_WEDGE_SHARE = 0.3


@frozen
class CaliperErrors:
    """``zero_mm`` is what it shows closed, ``repeatability_mm`` one standard deviation of a reading, ``warm_mm`` by how
    much a piece grows in a warm hand."""

    zero_mm: float = 0.01
    resolution_mm: float = 0.01
    repeatability_mm: float = 0.008
    warm_mm: float = 0.006


@frozen
class MeasuredCopy:
    """What is between the jaws: its length, and by how much it is longer at one side than at the other."""

    length_mm: float
    wedge_mm: float = 0.0
    wedge_at_deg: float = 0.0

    def at(self, angle_deg: float) -> float:
        """Its length at an angle around the seat."""
        return self.length_mm + self.wedge_mm / 2 * math.cos(math.radians(angle_deg - self.wedge_at_deg))


@frozen
class CaliperState:
    """How it stands; ``touching``: the jaws are on the piece. ``shows_mm`` is its display."""

    opening_mm: float
    shows_mm: float
    touching: bool
    place_deg: float


@dataclass(slots=True)
class SimulatedCaliper:
    """A caliper about a piece. ``jaws`` inside spread until they touch; else they close. ``clock`` counts seconds."""

    copy: MeasuredCopy
    jaws: Literal["along", "outside", "inside", "depth"] = "along"
    errors: CaliperErrors = field(default_factory=CaliperErrors)
    seed: int = 1
    clock: Callable[[], float] = monotonic
    place_deg: float = 0.0
    _wanted_mm: float = math.nan
    _since: float = math.nan
    _reads: int = 0

    def __post_init__(self) -> None:
        self._since = self.clock()
        self._wanted_mm = self.copy.length_mm * (0.6 if self.jaws == "inside" else 1.4)

    def move_to(self, opening_mm: float) -> None:
        """Open or close the jaws; they stop at the piece. Raises ValueError for what no caliper opens to."""
        if not 0 <= opening_mm <= MOST_MM:
            raise ValueError(f"its jaws open from 0 to {MOST_MM:.0f} mm")
        self._wanted_mm = opening_mm

    def turn_to(self, angle_deg: float) -> None:
        """Go to another place around the seat. Raises ValueError for no angle."""
        if not 0 <= angle_deg < 360:
            raise ValueError("an angle is from 0 up to 360°")
        self.place_deg = angle_deg

    @property
    def _length_mm(self) -> float:
        held = max(0.0, self.clock() - self._since)
        return self.copy.at(self.place_deg) + self.errors.warm_mm * (1 - math.exp(-held / WARMING_S))

    @property
    def opening_mm(self) -> float:
        """How far the jaws stand apart."""
        stop = self._length_mm
        return min(self._wanted_mm, stop) if self.jaws == "inside" else max(self._wanted_mm, stop)

    @property
    def touching(self) -> bool:
        return math.isclose(self.opening_mm, self._length_mm, abs_tol=1e-9)

    def state(self) -> CaliperState:
        """How it stands; looking at its display takes no reading."""
        return CaliperState(self.opening_mm, self._shown(self.opening_mm), self.touching, self.place_deg)

    def read(self) -> float:
        """One reading, in mm: what its display shows with the jaws as they are, pressed by a hand."""
        self._reads += 1
        noise = random.Random(f"{self.seed} {self._reads}").gauss(0.0, self.errors.repeatability_mm)
        return self._shown(self.opening_mm + (noise if self.touching else 0.0))

    def close_to_zero(self) -> float:
        """What it shows with the piece taken out and the jaws closed."""
        return self._shown(0.0)

    def _shown(self, mm: float) -> float:
        step = self.errors.resolution_mm
        shown = mm + self.errors.zero_mm
        return round(round(shown / step) * step, 6) if step > 0 else shown


def copy_of(what: str, nominal_mm: float, tolerance_mm: float) -> MeasuredCopy:
    """The invented copy of a piece: the same each time for the same ``what``."""
    digest = hashlib.sha256(what.encode()).digest()
    off, square, at = (int.from_bytes(digest[start : start + 4]) / 2**32 for start in (0, 4, 8))
    wedge = tolerance_mm * _WEDGE_SHARE * square
    return MeasuredCopy(nominal_mm + tolerance_mm * (2 * off - 1), wedge, 360 * at)
