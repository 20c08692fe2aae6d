"""A set of lenses over one body: its views in a row, what is missing between them, what is there twice."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Final

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.optics.equivalents import angle_of_view_deg

from .becoming import Becoming
from .reference import Reference, wide_from_deg

# From one view to the next more than this many times longer is a gap, if nobody says otherwise.
GAP_RATIO: Final = 2.0
# Two fixed views less than this apart are the same view.
ALIKE_RATIO: Final = 1.1
MOST_OVERLAPS: Final = 60
MOST_NAMES: Final = 8


@frozen
class ViewSpan:
    """The equivalent focal lengths that one lens gives, in mm; ``row`` is the key of its row."""

    row: str
    lens: str
    name: str
    low_mm: float
    high_mm: float


@frozen
class ViewGap:
    """Nothing between two equivalent focal lengths, in mm."""

    from_mm: float
    to_mm: float


@frozen
class Overlap:
    """Two lenses that give the same views, from one equivalent focal length to another, in mm."""

    rows: tuple[str, str]
    names: tuple[str, str]
    from_mm: float
    to_mm: float


@frozen
class WideLens:
    """A lens that is wide on the reference, and whether it still is here; ``here_mm`` its equivalent there."""

    row: str
    name: str
    stays: bool
    here_mm: float


@frozen
class LensSet:
    """What a set of lenses comes to on a body. ``sentences`` say it in words, the first answers first.

    ``gap_ratio`` is from how many times the longest view so far the next one leaves a gap.
    """

    spans: tuple[ViewSpan, ...]
    gaps: tuple[ViewGap, ...]
    gap_ratio: float
    overlaps: tuple[Overlap, ...]
    wides: tuple[WideLens, ...]
    sentences: tuple[str, ...]


def gaps_of(spans: Iterable[ViewSpan], ratio: float = GAP_RATIO) -> tuple[ViewGap, ...]:
    """Where the next longer view is more than ``ratio`` times as long as the longest one so far."""
    view_gaps, reached = [], 0.0
    for span in sorted(spans, key=lambda view_span: view_span.low_mm):
        if reached and span.low_mm > reached * ratio:
            view_gaps.append(ViewGap(reached, span.low_mm))
        reached = max(reached, span.high_mm)
    return tuple(view_gaps)


def overlaps_of(spans: Iterable[ViewSpan]) -> tuple[Overlap, ...]:
    """Lenses that share a part of their views, or whose one view is nearly the same; each pair once.

    A lens and the same lens behind glass are two views of one, and no overlap.
    """
    ordered = sorted(spans, key=lambda view_span: (view_span.low_mm, view_span.high_mm))
    overlaps = []
    for place, view_span in enumerate(ordered):
        mine_mm, is_fixed = view_span.high_mm, view_span.low_mm == view_span.high_mm
        last_mm = mine_mm * ALIKE_RATIO
        for other in ordered[place + 1 :]:
            # They run by their shorter ends.
            low, high = other.low_mm, min(mine_mm, other.high_mm)
            if low > last_mm:
                break
            # Zooms that only touch share no view; a fixed view within a zoom does, and so do two that are alike.
            shared = high > low or ((is_fixed or low == other.high_mm) and low <= high * ALIKE_RATIO)
            if shared and view_span.lens != other.lens:
                overlaps.append(
                    Overlap((view_span.row, other.row), (view_span.name, other.name), min(low, high), max(low, high))
                )
    return tuple(overlaps)


def set_of(rows: Sequence[Becoming], names: dict[str, str], reference: Reference, ratio: float = GAP_RATIO) -> LensSet:
    """What the lenses of these rows come to together. A fisheye has no equivalent, and is left out.

    Gaps are filled by every view that a lens gives; two lenses overlap by their views without glass, where they have
    such.
    """
    counted = [row for row in rows if row.settings[0].angles_deg is not None]
    spans = tuple(
        sorted(
            (
                ViewSpan(
                    row.key, row.lens, names[row.lens], row.settings[0].equivalent_mm, row.settings[-1].equivalent_mm
                )
                for row in counted
            ),
            key=lambda view_span: (view_span.low_mm, view_span.high_mm, view_span.name),
        )
    )
    glass_first = sorted(counted, key=lambda row: row.magnification == 1)
    first = {row.lens: row.key for row in glass_first}
    plain = [span for span in spans if first[span.lens] == span.row]
    gaps, overlaps, wides = gaps_of(spans, ratio), overlaps_of(plain), _wides(counted, names, reference)
    return LensSet(spans, gaps, ratio, overlaps[:MOST_OVERLAPS], wides, _said(spans, gaps, overlaps, wides, reference))


def _wides(rows: Sequence[Becoming], names: dict[str, str], reference: Reference) -> tuple[WideLens, ...]:
    """What is wide on the reference, the widest first. A zoom counts by its wide end."""
    limit, wides = wide_from_deg(), []
    for row in rows:
        setting = row.settings[0]
        assert setting.angles_deg is not None
        if angle_of_view_deg(reference.diagonal_mm, setting.marked_mm) < limit:
            continue
        wides.append(WideLens(row.key, names[row.lens], setting.angles_deg.diagonal >= limit, setting.equivalent_mm))
    return tuple(sorted(wides, key=lambda wide_lens: (wide_lens.here_mm, wide_lens.name)))


def _said(
    spans: Sequence[ViewSpan],
    gaps: Sequence[ViewGap],
    overlaps: Sequence[Overlap],
    wides: Sequence[WideLens],
    reference: Reference,
) -> tuple[str, ...]:
    if not spans:
        return ("No lens gives a view here.",)
    on = f"as on {reference.name}"
    low, high = _mm(spans[0].low_mm), _mm(max(span.high_mm for span in spans))
    said = [f"One view only: {low} mm, {on}." if low == high else f"From {low} to {high} mm, {on}."]
    if gaps:
        between = written.listed([f"between {_mm(gap.from_mm)} and {_mm(gap.to_mm)} mm" for gap in gaps])
        said.append(f"Nothing {between}.")
    elif len(spans) > 1:
        said.append("No gap in between.")
    if overlaps:
        said.append(_twice(spans, overlaps))
    if wides:
        stays = list(dict.fromkeys(wide.name for wide in wides if wide.stays))
        lost = list(dict.fromkeys(wide.name for wide in wides if wide.name not in stays))
        if stays:
            said.append(f"Wide on {reference.name} and wide here: {_some(stays)}.")
        if lost:
            said.append(f"Wide there, no longer here: {_some(lost)}.")
    else:
        said.append(f"None of them is wide on {reference.name}.")
    return tuple(said)


def _twice(spans: Sequence[ViewSpan], overlaps: Sequence[Overlap]) -> str:
    """Two fixed lenses of one view are worth their names; that zooms overlap goes without saying."""
    fixed = {span.row for span in spans if span.low_mm == span.high_mm}
    pairs = [" and ".join(overlap.names) for overlap in overlaps if fixed.issuperset(overlap.rows)]
    if not pairs:
        return f"{len(overlaps)} {'pair' if len(overlaps) == 1 else 'pairs'} with a zoom share a part of their views."
    rest = [f"{len(pairs) - 2} more pairs"] if len(pairs) > 2 else []
    return f"Nearly the same view: {'; '.join([*pairs[:2], *rest])}."


def _some(names: Sequence[str]) -> str:
    """Names, and how many more there are."""
    rest = len(names) - MOST_NAMES
    return written.listed(names if rest <= 0 else [*names[:MOST_NAMES], f"{rest} more"])


def _mm(value: float) -> str:
    return written.fixed(value, 0)
