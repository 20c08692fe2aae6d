"""What a finding is: code, severity, best grade still allowed, and the words; and how findings are weighed.

Everything that is said about a rig is said in ``catalogue``, once. A :func:`verdict` caps the grade; a :func:`remark`
cannot, by type. ``headline`` is the sentence when a finding decides the grade; ``gives_up`` is the phrase that tells a
lesser route from a better one.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Concatenate, Final, Literal, ParamSpec, cast, get_args

from tropeion.core.frozen import frozen
from tropeion.core.words import Word, word

P = ParamSpec("P")

Grade = Literal["danger", "none", "modify", "close_up", "partial", "manual", "full", "native"]
Severity = Literal["danger", "caution", "limit", "info"]
# In the order in which findings of equal weight are told.
Code = Literal[
    "coupling_damage",
    "generation_unknown",
    "excluded_by_maker",
    "thread_binds",
    "rear_collides",
    "clearance_unknown",
    "generation_open",
    "coupling_safe_after",
    "coupling_inspect",
    "does_not_mate",
    "rear_too_wide",
    "generations_unruled",
    "irreversible",
    "nothing_focuses",
    "focus_inside",
    "by_construction",
    "focus_perhaps_inside",
    "focus_travel_too_short",
    "focus_travel_unknown",
    "register_unknown",
    "focus_without_power",
    "no_focusing",
    "infinity_out_of_reach",
    "infinity_stopped_down",
    "passes_infinity",
    "infinity_unsure",
    "tolerance_assumed",
    "closest_focus_needs_magnification",
    "closest_focus_unknown",
    "close_figures_doubtful",
    "working_distance_unknown",
    "diffraction",
    "register_approximate",
    "covers_crop_only",
    "covers_no_mode",
    "circle_assumed",
    "circle_unknown",
    "corners_darkened",
    "corners_cut",
    "steep_corner_rays",
    "correcting_glass",
    "glass_limits_aperture",
    "iris_behind_lens",
    "iris_without_power",
    "pin_not_pressed",
    "lever_not_moved",
    "by_hand",
    "contacts_assumed",
    "contacts_unknown",
    "drives_assumed",
    "autofocus_slow",
    "extras_lost",
    "through_adapter",
    "no_metering",
    "stop_down_metering",
    "meters",
    "converted_by_maker",
    "converted_by_others",
    "converted_at_home",
    "conversion_unstated",
    "coupling_transplanted",
    "same_thread_other_register",
    "two_names",
    "ring_long_by_hundredths",
    "crop_counted_once",
    "iris_hold_and_remove",
    "chip_reports_fixed_lens",
    "firmware_matters",
    "release_needs_lens",
    "asks_at_power_on",
    "zoom_needs_entries",
    "crop_by_hand",
    "load_exceeded",
    "support_wanted",
    "play_moves_focus",
    "throw_short",
    "throw_long",
    "seats_turn_squeeze",
    "no_desqueeze",
    "reflections",
    "shake",
    "stabiliser_entry_held",
    "stabiliser_not_told",
    "helicoid_range",
    "filter_positions",
    "no_clear_position",
    "glass_avoided",
    "zoom_avoided",
    "crop_factor_unchanged",
    "not_assessed",
    "not_told",
    "contradicted",
    "tried_unusable",
    "foreign_contacts",
]

GRADES: Final[tuple[Grade, ...]] = get_args(Grade)
_RANK: Final = {grade: rank for rank, grade in enumerate(GRADES)}
_SEVERITY_RANK: Final = {severity: rank for rank, severity in enumerate(get_args(Severity))}
_PLACE: Final = {code: place for place, code in enumerate(get_args(Code))}


@frozen
class Finding:
    """One thing found about a rig. ``grade_cap`` is the best grade it still allows; ``link`` what causes it."""

    code: Code
    severity: Severity
    grade_cap: Grade | None
    link: str | None
    text: str
    headline: str
    gives_up: str


@frozen
class Remark(Finding):
    """A finding that costs no grade."""

    grade_cap: None


@frozen
class Kind:
    """An entry of the catalogue; its words are templates."""

    severity: Severity
    grade_cap: Grade | None
    text: str
    headline: str = ""
    gives_up: str = ""


_KINDS: dict[Code, Kind] = {}


def _worded(template: str) -> str:
    """A template with the glossary's words in place of ``{word.KEY}``."""
    return re.sub(r"\{word\.(\w+)\}", lambda match: word(cast(Word, match[1])), template)


def verdict(
    severity: Severity, cap: Grade, text: str, *, headline: str, gives_up: str
) -> Callable[[Callable[P, None]], Callable[Concatenate[str | None, P], Finding]]:
    """Declare a kind of finding that caps the grade; the declared function has the words' values as arguments."""

    def declare(signature: Callable[P, None]) -> Callable[Concatenate[str | None, P], Finding]:
        code = cast(Code, signature.__name__)
        parts = [_worded(part) for part in (text, headline, gives_up)]
        _KINDS[code] = Kind(severity, cap, *parts)

        def said(link: str | None, /, *args: P.args, **values: P.kwargs) -> Finding:  # noqa: ARG001  all are named
            return Finding(code, severity, cap, link, *(part.format(**values) for part in parts))

        return said

    return declare


def remark(
    severity: Severity, text: str
) -> Callable[[Callable[P, None]], Callable[Concatenate[str | None, P], Remark]]:
    """Declare a kind of finding that costs no grade."""

    def declare(signature: Callable[P, None]) -> Callable[Concatenate[str | None, P], Remark]:
        code = cast(Code, signature.__name__)
        worded = _worded(text)
        _KINDS[code] = Kind(severity, None, worded)

        def said(link: str | None, /, *args: P.args, **values: P.kwargs) -> Remark:  # noqa: ARG001  all are named
            return Remark(code, severity, None, link, worded.format(**values), "", "")

        return said

    return declare


def kinds() -> dict[Code, Kind]:
    """Every kind that is declared, in the order of :data:`Code`."""
    return {code: _KINDS[code] for code in get_args(Code)}


def works(grade: Grade) -> bool:
    """Whether anything can be photographed with it, and nothing breaks or is changed for good."""
    return rank(grade) > rank("modify")


def worst(findings: Sequence[Finding]) -> Grade:
    """The grade of a rig: its worst cap."""
    return min((f.grade_cap for f in findings if f.grade_cap), key=_RANK.__getitem__, default="native")


def decisive(findings: Sequence[Finding]) -> Finding | None:
    """The finding that decides the grade: the first with the worst cap."""
    capped = [f for f in findings if f.grade_cap]
    return min(capped, key=lambda f: _RANK[f.grade_cap or "native"], default=None)


def rank(grade: Grade) -> int:
    """0 is the worst grade."""
    return _RANK[grade]


def in_order(findings: Sequence[Finding]) -> tuple[Finding, ...]:
    """Danger first, then by grade cap; the order of the catalogue otherwise."""
    return tuple(
        sorted(
            findings,
            key=lambda f: (
                _SEVERITY_RANK[f.severity],
                _RANK[f.grade_cap] if f.grade_cap else len(GRADES),
                _PLACE[f.code],
            ),
        )
    )
