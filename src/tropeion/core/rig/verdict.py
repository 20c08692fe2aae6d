"""What one rig's numbers mean: findings, and the sentence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core import catalogue, findings, words
from tropeion.core.findings import Finding
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.joints import contacts
from tropeion.core.optics.coverage import Coverage
from tropeion.core.optics.stack import Stack
from tropeion.core.practice import Practice
from tropeion.core.working import tidy

from .assembly import Assembly
from .ends import Focused

__all__ = [
    "coverage_findings",
    "exclusions",
    "function_findings",
    "glass_and_iris",
    "merged",
    "reach_findings",
    "sentence",
]


def coverage_findings(rig: Assembly, cover: Coverage) -> list[Finding]:
    """What the circle, the corners and the bores come to."""
    lens, body, mode, circle = rig.lens, rig.body, rig.mode, rig.image_circle_mm
    angle, clipping = cover.corner_ray_angle_deg, cover.clipping
    found: list[Finding] = []
    if circle is None:
        found.append(catalogue.circle_unknown(lens.id))
    elif cover.crop_to_cover is not None:
        crop = f"{cover.crop_to_cover:.2f}"
        found.append(catalogue.covers_no_mode(lens.id, circle=words.millimetres(circle), crop=crop))
    elif not mode.whole:
        found.append(catalogue.covers_crop_only(lens.id, circle=words.millimetres(circle), mode=mode.name))
    if angle is not None and body.max_ray_angle_deg is not None and angle > body.max_ray_angle_deg:
        limit = f"{body.max_ray_angle_deg:g}"
        found.append(catalogue.steep_corner_rays(lens.id, angle=f"{angle:.0f}", limit=limit))
    if clipping is not None:
        half = min(mode.diagonal_mm, circle or mode.diagonal_mm) / 2
        names = {adapter.id: adapter.name for adapter in rig.adapters}
        if tidy(clipping.centre_ray_mm - half) < 0:
            piece = names.get(clipping.centre_link, f"the throat of {body.name}")
            height = words.millimetres(max(0.0, clipping.centre_ray_mm))
            found.append(catalogue.corners_cut(clipping.centre_link, bore=_capital(piece), height=height))
        elif tidy(clipping.full_cone_mm - half) < 0:
            piece = names.get(clipping.link, f"the throat of {body.name}")
            height = words.millimetres(max(0.0, clipping.full_cone_mm))
            found.append(catalogue.corners_darkened(clipping.link, bore=_capital(piece), height=height))
    return found


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def exclusions(stack: Stack) -> list[Finding]:
    """What the lens's maker says it must not go on."""
    on = {adapter.id for adapter in stack.adapters}
    mounts = {stack.body.mount, *(adapter.body_mount for adapter in stack.adapters)}
    return [
        catalogue.excluded_by_maker(entry.adapter or stack.body.id, reason=entry.reason)
        for entry in stack.lens.not_on
        if entry.adapter in on or entry.mount in mounts
    ]


def glass_and_iris(rig: Assembly) -> list[Finding]:
    found = []
    lens, adapters = rig.lens, rig.adapters
    for adapter in adapters:
        if adapter.optics == "correcting":
            found.append(catalogue.correcting_glass(adapter.id))
        if adapter.irreversible:
            found.append(catalogue.irreversible(adapter.id))
        widest = adapter.widest_f_number
        if widest is not None and tidy(widest - lens.f_number[0] * rig.chain.magnification) > 0:
            found.append(catalogue.glass_limits_aperture(adapter.id, aperture=words.aperture(widest)))
    if rig.iris.code is not None:
        rest = {"open": "stays wide open", "closed": "stays closed down", "stays": "stays where it was"}
        found.append(_stuck(rig.iris.code, rig.iris.link, rest[rig.iris.stuck or "stays"]))
    if rig.chain.has_glass and abs(rig.chain.lens_error_mm) > 1:
        found.append(catalogue.register_approximate(None))
    return found


def _stuck(code: contacts.IrisCode, link: str | None, rest: str) -> Finding:
    match code:
        case "iris_without_power":
            return catalogue.iris_without_power(link, rest=rest)
        case "lever_not_moved":
            return catalogue.lever_not_moved(link, rest=rest)
        case "pin_not_pressed":
            return catalogue.pin_not_pressed(link)


# No lens that is not made for close-up is focused out by more of its focal length.
_MOST_TRAVEL = 0.15


def reach_findings(rig: Assembly, at: Focused) -> list[Finding]:
    """What the focus range comes to, at one focal length."""
    # From what rules out the rest to what only qualifies it: the first that holds is told, never two of them.
    lens, chain = rig.lens, rig.chain
    link = rig.adapters[-1].id if rig.adapters else lens.id
    error = words.millimetres(chain.lens_error_mm)
    found: list[Finding] = []
    if not rig.movable:
        if lens.focus == "by_wire":
            return [catalogue.focus_without_power(rig.signal.broken_at or lens.id)]
        return [catalogue.no_focusing(lens.id)]
    if at.reach.state == "none":
        return [catalogue.nothing_focuses(link, error=error)]
    infinity = at.infinity
    if infinity.reached is None:
        opened = tidy(chain.helicoid_mm / chain.magnification**2)
        beyond = tidy(-chain.lens_error_mm - opened - _MOST_TRAVEL * at.marked_mm) > 0
        return [(catalogue.focus_travel_too_short if beyond else catalogue.focus_travel_unknown)(link, error=error)]
    school = " (taken at the worst case of the tolerances)" if rig.allowance_mm else ""
    if infinity.from_f_number is None:
        near, far = at.reach.near_mm, at.reach.far_mm
        found.append(
            catalogue.infinity_out_of_reach(link, error=error, span=_span(near, far, rig.practice), school=school)
        )
    elif not infinity.reached:
        stop = words.aperture(infinity.from_f_number)
        cause, reason = _cause(rig, at)
        found.append(catalogue.infinity_stopped_down(link, cause=cause, reason=reason, aperture=stop, school=school))
    elif rig.adapters and chain.error_mm < 0 and chain.lens_error_mm < -_slack(at, rig):
        found.append(catalogue.passes_infinity(link, error=error))
    chance = infinity.probability
    if rig.adapters and infinity.reached and chance is not None and chance < 0.95:
        stop = words.aperture(at.usable[0])
        found.append(catalogue.infinity_unsure(link, aperture=stop, probability=words.percent(chance)))
    if lens.max_magnification is None:
        if lens.min_focus_m is None:
            found.append(catalogue.closest_focus_unknown(lens.id))
        elif not infinity.travel_known:
            found.append(catalogue.closest_focus_needs_magnification(lens.id))
    return found


def _slack(at: Focused, rig: Assembly) -> float:
    """Half of the widest window: less past infinity than this is not worth a word."""
    return at.window_mm(rig) / 2 / rig.chain.magnification**2


def _cause(rig: Assembly, at: Focused) -> tuple[str, str]:
    """Why infinity is late, as a clause of its own and as a reason."""
    short = at.infinity.short_end_mm
    if rig.allowance_mm and tidy(short - at.window_mm(rig)) <= 0:
        reason = f"the tolerances may add up to {words.millimetres(rig.allowance_mm)}"
    elif short > 0:
        reason = f"the lens stands {words.millimetres(short)} too far from the sensor"
    else:
        reason = "the lens stands too near to be focused out to infinity"
    return _capital(reason), reason


def _span(near: float | None, far: float | None, practice: Practice) -> str:
    def text(mm: float | None) -> str:
        return "an unknown distance" if mm is None else words.distance(mm, practice.distances)

    if far is None:
        return f"from {text(near)}"
    if near is None:
        return f"up to {text(far)}"
    return f"from {text(near)} to {text(far)}"


def merged(shared: list[Finding], wide: list[Finding], tele: list[Finding]) -> list[Finding]:
    """Findings of both ends of a zoom: the worse of two with one code, and those of one end only."""
    codes = {f.code for f in wide}
    worse = findings.worst(wide)
    extra = [
        replace(
            f,
            text=f"At the long end: {f.text[:1].lower()}{f.text[1:]}",
            headline=f"At the long end: {f.headline}",
        )
        for f in tele
        if f.code not in codes and (f.grade_cap is None or findings.rank(f.grade_cap) < findings.rank(worse))
    ]
    return [*shared, *wide, *extra]


_NAMES = {
    "autofocus": "autofocus",
    "manual_focus": "manual focus",
    "aperture": "aperture",
    "identity": "lens data",
    "focal_length": "focal length",
    "focus_distance": "focus distance",
    "stabiliser": "stabiliser in the lens",
    "control_ring": "control ring",
}
# The rest follows from these, and is listed with the functions.
_SAID = ("autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring")
_STATES = {"by_hand": "by hand", "entered": "entered by hand", "lost": "lost", "stuck": "stuck"}


def _by_hand(body: Body, left: Sequence[contacts.FunctionLeft]) -> list[str]:
    """What of focus and aperture the hand does."""
    states = {one.function: one.state for one in left}
    focus = states.get("autofocus") == "lost" or not body.protocols
    return [word for word, so in (("focus", focus), ("aperture", states.get("aperture") == "by_hand")) if so]


def function_findings(rig: Assembly, left: Sequence[contacts.FunctionLeft]) -> list[Finding]:
    lens, adapters, body = rig.lens, rig.adapters, rig.body
    said: list[Finding] = []
    if rig.signal.assumed:
        lacking = [one for one, told in ((lens, lens.protocol is not None), (body, bool(body.protocols))) if not told]
        names = words.listed([one.name for one in lacking])
        said.append(catalogue.contacts_assumed(lacking[0].id, names=names))
    if any(f.function == "autofocus" and f.state == "slow" for f in left):
        limit = next(f.link for f in left if f.function == "autofocus")
        said.append(catalogue.autofocus_slow(limit))
    if contacts.falls_short(lens, adapters, body, left):
        short = [f for f in left if f.state in _STATES and f.function in _SAID]
        listed = words.listed([f"{_NAMES[f.function]} {_STATES[f.state]}" for f in short])
        by_hand = _by_hand(body, left)
        hand = f"{words.listed(by_hand)} by hand" if by_hand else (listed or "the body drives nothing in the lens")
        link = rig.signal.broken_at if lens.protocol else (adapters[0].id if adapters else lens.id)
        said.append(
            catalogue.by_hand(
                link or next((f.link for f in short if f.link), None),
                functions=listed or "it drives nothing in this lens",
                hand=hand,
                short=hand,
            )
        )
    elif adapters:
        works = [_NAMES[f.function] for f in left if f.state in {"full", "slow"} and f.function in lens.offers]
        said.append(catalogue.through_adapter(adapters[-1].id, functions=words.listed(works) or "nothing is lost"))
    return said


def sentence(found: Sequence[Finding], adapters: Sequence[Adapter], actions: Sequence[str] = ()) -> str:
    """What a rig comes to, in one sentence; what has to be done first comes first."""
    decided = findings.decisive(found)
    danger = decided is not None and decided.grade_cap == "danger"
    first = "" if danger else "".join(f"First: {action} " for action in actions)
    if decided is not None and decided.headline:
        return f"{first}{decided.headline}"
    return first + _at_its_best(adapters)


def _at_its_best(adapters: Sequence[Adapter]) -> str:
    return "Works through the adapter." if adapters else "At home: the lens stands on its own mount, nothing is lost."
