"""What was measured, in a sentence."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import fmean

from .frames_of_series import SeriesMeasured
from .ladder import LadderMeasured
from .lines import CircleLine, EdgeLine
from .ring_error import FlangeError, RingMeasured
from .sharpness import Place

_WHERE: tuple[tuple[Place, str], ...] = (
    ("centre", "in the middle"),
    ("between", "between"),
    ("corner", "in the corners"),
)


def edges_said(edges: Sequence[tuple[Place, EdgeLine]]) -> str:
    """How sharp it is, by place; between them only where the middle has nothing."""
    if not edges:
        return "No straight edge in it qualifies."
    count = f"{len(edges)} {'edge' if len(edges) == 1 else 'edges'}"
    known = [(place, line.mtf50_lp_per_mm) for place, line in edges if line.mtf50_lp_per_mm is not None]
    if not known:
        return f"{count} measured, in pixels: choose the body above."
    told: list[str] = []
    for place, where in _WHERE:
        here = [value for at, value in known if at == place]
        if here and (place != "between" or not told):
            told.append(f"{fmean(here):.0f} lp/mm {where}")
    return f"{', '.join(told)}: {count}."


def circle_said(line: CircleLine, unit: str) -> str:
    """How large the circle is."""
    if line.circle is not None:
        return f"The circle is {line.circle:.1f} ± {line.doubt or 0:.1f} {unit} across."
    dark = "; the corners are dark" if line.corners_dark else ""
    return f"The circle is {line.at_least or 0:.1f} {unit} at least{dark}."


def ladder_said(ladder: LadderMeasured) -> str:
    """Where it is sharpest, or why that is not told."""
    if ladder.peak is None:
        return f"Not told: {ladder.why}."
    return f"Sharpest {ladder.peak.offset_mm:+.1f} ± {ladder.peak.doubt_mm:.1f} mm from the ladder’s middle."


def ring_said(ring: RingMeasured, which: int | None = None) -> str:
    """What a blur may mean; ``which``: what a second frame agrees with."""
    if which is not None:
        return f"The second frame says which: {_error_said(ring.errors[which])}."
    if ring.in_focus:
        return "In focus as far as this camera can tell."
    blurred = f"Blurred by {1000 * ring.blur_mm:.0f} ± {1000 * ring.doubt_mm:.0f} µm: the rig is "
    return blurred + ", or ".join(_error_said(error) for error in ring.errors) + "."


def _error_said(error: FlangeError) -> str:
    way = "too long" if error.register_error_mm > 0 else "too short"
    return f"{abs(error.register_error_mm):.2f} ± {error.doubt_mm:.2f} mm {way}"


def series_said(series: SeriesMeasured) -> str:
    """What a series tells."""
    return (
        " ".join(cause.says for cause in series.causes)
        or "No wedge, no curved field and no shift of focus that these frames can tell."
    )
