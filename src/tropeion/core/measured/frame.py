"""A frame whose edges were measured, as far as the rules of this package look at it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from .finding import RefusedAt
from .slanted import EdgeMeasured


class MeasuredFrame(Protocol):
    """Edges and what did not qualify, in pixels of a picture so wide and high; whether its camera sharpened it."""

    @property
    def edges(self) -> Sequence[EdgeMeasured]: ...

    @property
    def refused(self) -> Sequence[RefusedAt]: ...

    @property
    def width(self) -> int: ...

    @property
    def height(self) -> int: ...

    @property
    def as_sharpened(self) -> bool: ...
