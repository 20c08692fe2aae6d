"""What one rig's numbers mean: findings, and the sentence."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from tropeion.core import catalogue, findings, written
from tropeion.core.findings import Finding
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.usual import contacts_unknown, usual_circle_mm
from tropeion.core.joints import contacts
from tropeion.core.joints.iris import IrisCode
from tropeion.core.optics import focus
from tropeion.core.optics.coverage import Coverage
from tropeion.core.practice import Practice
from tropeion.core.words import capital
from tropeion.core.working import tidy

from .assembly import Assembly
from .ends import Focused
from .marks import mark_from


def coverage_findings(rig: Assembly, cover: Coverage) -> list[Finding]:
    """What the circle, the corners and the bores come to."""
    lens, body, mode, circle = rig.lens, rig.body, rig.mode, rig.image_circle_mm
    angle, clipping = cover.corner_ray_angle_deg, cover.clipping
    all_findings: list[Finding] = []
    if circle is None:
        all_findings.append(catalogue.circle_unknown(lens.id))
    else:
        all_findings += _of_the_circle(rig, cover, circle)
    if angle is not None and body.max_ray_angle_deg is not None and angle > body.max_ray_angle_deg:
        limit = f"{body.max_ray_angle_deg:g}"
        all_findings.append(catalogue.steep_corner_rays(lens.id, angle=f"{angle:.0f}", limit=limit))
    if clipping is not None:
        half = min(mode.diagonal_mm, circle or mode.diagonal_mm) / 2
        names = {adapter.id: adapter.name for adapter in rig.adapters}
        if tidy(clipping.centre_ray_mm - half) < 0:
            piece = names.get(clipping.centre_link, f"the throat of {body.name}")
            height = written.millimetres(max(0.0, clipping.centre_ray_mm))
            all_findings.append(catalogue.corners_cut(clipping.centre_link, bore=capital(piece), height=height))
        elif tidy(clipping.full_cone_mm - half) < 0:
            piece = names.get(clipping.link, f"the throat of {body.name}")
            height = written.millimetres(max(0.0, clipping.full_cone_mm))
            all_findings.append(catalogue.corners_darkened(clipping.link, bore=capital(piece), height=height))
    return all_findings


def _of_the_circle(rig: Assembly, cover: Coverage, circle_mm: float) -> Iterator[Finding]:
    """What of the sensor a circle covers, and whether anybody stated it."""
    lens, mode, circle = rig.lens, rig.mode, written.millimetres(circle_mm)
    usual = None if lens.image_circle_mm is not None else usual_circle_mm(rig.world, lens)
    if usual is not None:
        mount = rig.stack.lens_mount.name
        yield catalogue.circle_assumed(lens.id, circle=written.millimetres(usual), mount=mount)
    if cover.crop_to_cover is not None:
        yield catalogue.covers_no_mode(lens.id, circle=circle, crop=f"{cover.crop_to_cover:.2f}")
    elif not mode.whole:
        yield catalogue.covers_crop_only(lens.id, circle=circle, mode=mode.name)


def exclusions(rig: Assembly) -> list[Finding]:
    """What the lens's maker says it must not go on."""
    stack = rig.stack
    on = {adapter.id for adapter in stack.adapters}
    mounts = rig.world.mounts
    onto = {stack.body_mount.id, *(adapter.body_mount for adapter in stack.adapters)}
    # What goes onto one mount of an interface goes onto all of them, whatever they are called; its own is not meant.
    joints = {mounts[id_].joint for id_ in onto - {stack.lens_mount.id}}
    return [
        catalogue.excluded_by_maker(entry.adapter or stack.body.id, reason=entry.reason)
        for entry in stack.lens.not_on
        if entry.adapter in on
        or entry.mount in onto
        or (entry.mount is not None and mounts[entry.mount].joint in joints)
    ]


# Flange errors below this, in mm at the sensor, make no visible error in the first-order treatment of glass.
_APPROXIMATE_FROM_MM = 0.02


def glass_and_iris(rig: Assembly) -> list[Finding]:
    all_findings = []
    adapters = rig.adapters
    for adapter in adapters:
        if adapter.optics == "correcting":
            all_findings.append(catalogue.correcting_glass(adapter.id))
        if adapter.irreversible:
            all_findings.append(catalogue.irreversible(adapter.id))
    all_findings += _ceilings(rig)
    if rig.iris.in_chain:
        behind = next(adapter for adapter in adapters if adapter.aperture_control == "iris")
        all_findings.append(catalogue.iris_behind_lens(behind.id, name=behind.name))
    if rig.iris.code is not None:
        rest = {"open": "stays wide open", "closed": "stays closed down", "stays": "stays where it was"}
        all_findings.append(_stuck(rig.iris.code, rig.iris.link, rest[rig.iris.stuck or "stays"]))
    if abs(rig.chain.before_glass_mm) > _APPROXIMATE_FROM_MM:
        error = written.millimetres(rig.chain.before_glass_mm)
        all_findings.append(catalogue.register_approximate(None, error=error))
    return all_findings


def _ceilings(rig: Assembly) -> list[Finding]:
    """Glass that passes no more than a stated aperture, where that bites."""
    ceilings: list[Finding] = []
    f_number = rig.lens.f_number[0]
    for adapter in rig.adapters:
        f_number *= adapter.magnification
        widest = adapter.widest_f_number
        if widest is not None and tidy(widest - f_number) > 0:
            would = written.aperture(f_number)
            ceilings.append(catalogue.glass_limits_aperture(adapter.id, aperture=written.aperture(widest), would=would))
            f_number = widest
    return ceilings


def _stuck(code: IrisCode, link: str | None, rest: str) -> Finding:
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
    error = written.millimetres(chain.lens_error_mm)
    all_findings: list[Finding] = []
    if not rig.movable and lens.focus == "by_wire":
        return [catalogue.focus_without_power(rig.signal.broken_at or lens.id)]
    if not rig.movable and at.reach.state == "none":
        return [catalogue.no_focusing(lens.id)]
    if at.reach.state == "none":
        return [catalogue.nothing_focuses(link, error=error)]
    if at.reach.state == "inside":
        return [_inside(rig, at, link)]
    infinity = at.infinity
    if not rig.stack.known:
        return [catalogue.register_unknown(link, mounts=written.listed(unknown_mounts(rig)))]
    if at.reach.state == "unknown":
        opened = tidy(chain.helicoid_mm / chain.magnification**2)
        beyond = tidy(-chain.lens_error_mm - opened - _MOST_TRAVEL * at.marked_mm) > 0
        return [(catalogue.focus_travel_too_short if beyond else catalogue.focus_travel_unknown)(link, error=error)]
    school = " (taken at the worst case of the tolerances)" if rig.allowance_mm else ""
    if infinity.from_f_number is None:
        all_findings.append(
            catalogue.infinity_out_of_reach(link, error=error, span=span_of(at.reach, rig.practice), school=school)
        )
    elif tidy(infinity.from_f_number - at.usable[0]) > 0:
        stop = written.aperture(mark_from(lens, infinity.from_f_number))
        cause, reason = _cause(rig, at)
        all_findings.append(
            catalogue.infinity_stopped_down(link, cause=cause, reason=reason, aperture=stop, school=school)
        )
    elif rig.adapters and chain.error_mm < 0 and chain.lens_error_mm < -_slack(at, rig):
        all_findings.append(catalogue.passes_infinity(link, error=error))
    chance = infinity.probability
    if rig.by_construction:
        all_findings.append(catalogue.by_construction(link))
    if rig.adapters and infinity.reached and chance is not None and chance < 0.95:
        stop = written.aperture(at.usable[0])
        all_findings.append(catalogue.infinity_unsure(link, aperture=stop, probability=written.percent(chance)))
    all_findings += _of_the_near_end(rig, at)
    if lens.max_magnification is None or at.marked_mm != lens.focal_length_mm[1]:
        if lens.min_focus_m is None:
            all_findings.append(catalogue.closest_focus_unknown(lens.id))
        elif not infinity.travel_known:
            all_findings.append(catalogue.closest_focus_needs_magnification(lens.id))
    return all_findings


def unknown_mounts(rig: Assembly) -> list[str]:
    """The names of the mounts whose register would have to be known."""
    stack = rig.stack
    ends = ((stack.lens_seat, stack.lens_mount), (stack.body_seat, stack.body_mount))
    return list(dict.fromkeys(mount.name for seat, mount in ends if not seat.known))


# Internal focusing shortens a lens by less, and nothing lengthens it by more.
_CLOSE_FOCAL_LENGTHS = (0.5, 1.3)


def _of_the_near_end(rig: Assembly, at: Focused) -> list[Finding]:
    """What is doubtful about the near end: figures that contradict each other, a working distance that is not known."""
    lens, reach, units = rig.lens, at.reach, rig.practice.distances
    all_findings: list[Finding] = []
    least, most = _CLOSE_FOCAL_LENGTHS
    if at.travel is not None and not least <= at.travel.close_mm / at.marked_mm <= most:
        distance = written.distance((lens.min_focus_m or 0.0) * 1000, units)
        close, marked = f"{at.travel.close_mm:.0f} mm", f"{at.marked_mm:g} mm"
        scale = f"{lens.max_magnification or 0.0:g}"
        all_findings.append(
            catalogue.close_figures_doubtful(
                lens.id, distance=distance, magnification=scale, close=close, marked=marked
            )
        )
    behind = rig.chain.lens.register_mm + rig.chain.lens_error_mm + 2 * at.marked_mm + 150
    if lens.length_mm is None and reach.far_mm is not None and reach.far_mm < behind:
        all_findings.append(catalogue.focus_perhaps_inside(lens.id, far=written.distance(reach.far_mm, units)))
    elif lens.length_mm is None and reach.near_mm is not None and reach.near_mm < behind:
        all_findings.append(catalogue.working_distance_unknown(lens.id))
    return all_findings


def _inside(rig: Assembly, at: Focused, link: str) -> Finding:
    chain, units = rig.chain, rig.practice.distances
    length = rig.lens.length_mm
    front = focus.Front(chain.lens.register_mm, chain.lens_error_mm, length, 0.0)
    return catalogue.focus_inside(
        link,
        far=written.distance(at.reach.far_mm or 0.0, units),
        front=written.distance(front.least_mm, units),
        assumed="" if length is not None else " at least (its length is not stated)",
    )


def _slack(at: Focused, rig: Assembly) -> float:
    """Half of the widest window: less past infinity than this is not worth a word."""
    return at.window_mm(rig) / 2 / rig.chain.magnification**2


def _cause(rig: Assembly, at: Focused) -> tuple[str, str]:
    """Why infinity is late, as a clause of its own and as a reason."""
    short = at.infinity.short_end_mm or 0.0
    if rig.allowance_mm and tidy(short - at.window_mm(rig)) <= 0:
        reason = f"the tolerances may add up to {written.millimetres(rig.allowance_mm)}"
    elif short > 0:
        reason = f"the lens stands {written.millimetres(short)} too far from the sensor"
    else:
        reason = "the lens stands too near to be focused out to infinity"
    return capital(reason), reason


# Nearer than this it matters how much of a distance the lens itself takes up.
_CLOSE_MM = 1000.0


def span_of(reach: focus.Reach, practice: Practice) -> str:
    """The sharp distances, from the sensor; and from the front of the lens where they are short."""

    def text(mm: float | None) -> str:
        return "an unknown distance" if mm is None else written.distance(mm, practice.distances)

    near, far = reach.near_mm, reach.far_mm
    if far is None:
        return f"from {text(near)}"
    said = f"up to {text(far)}" if near is None else f"from {text(near)} to {text(far)}"
    if far > _CLOSE_MM or reach.far_from_front_mm is None or reach.near_from_front_mm is None:
        return said
    least, most = text(reach.near_from_front_mm), text(reach.far_from_front_mm)
    return f"{said} ({least if reach.near_from_front_mm else 'from contact'} to {most} before the lens)"


def merged(shared: list[Finding], wide: list[Finding], tele: list[Finding]) -> list[Finding]:
    """Findings of both ends of a zoom: the worse of two with one code, and those of one end only."""
    codes = {f.code for f in wide}
    worse = findings.worst(wide)
    extra = [
        replace(f, text=f"At the long end: {f.text[:1].lower()}{f.text[1:]}", headline=f"At the long end: {f.headline}")
        for f in tele
        if f.code not in codes and (f.grade_cap is None or findings.rank(f.grade_cap) < findings.rank(worse))
    ]
    return [*shared, *wide, *extra]


FUNCTION_NAMES = {
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
    states = {function.function: function.state for function in left}
    by_hand = states.get("autofocus") == "lost" or states.get("manual_focus") == "by_hand" or not body.protocols
    return [word for word, so in (("focus", by_hand), ("aperture", states.get("aperture") == "by_hand")) if so]


def _reaches(rig: Assembly) -> str:
    if not rig.stack.known:
        return "Whether it reaches infinity is not known"
    return "Fits by construction" if rig.by_construction else "Reaches infinity"


def function_findings(rig: Assembly, left: Sequence[contacts.FunctionLeft]) -> list[Finding]:
    lens, adapters, body = rig.lens, rig.adapters, rig.body
    said: list[Finding] = []
    if rig.signal.assumed:
        lacking = [end for end, told in ((lens, lens.protocol is not None), (body, bool(body.protocols))) if not told]
        names = written.listed([lens.name for lens in lacking])
        said.append(catalogue.contacts_assumed(lacking[0].id, names=names))
    # Through a ring that passes nothing on it makes no difference.
    touch = not any(adapter.link in {"none", "chip"} for adapter in adapters)
    pieces = ((lens, rig.stack.lens_mount), (body, rig.stack.body_mount)) if touch else ()
    said += [
        catalogue.contacts_unknown(lens.id, piece=lens.name, mount=mount.name)
        for lens, mount in pieces
        if contacts_unknown(rig.world, lens)
    ]
    if rig.drives_assumed:
        said.append(catalogue.drives_assumed(lens.id, drives=written.listed(list(rig.drives_assumed))))
    if any(f.function == "autofocus" and f.state == "slow" for f in left):
        limit = next(f.link for f in left if f.function == "autofocus")
        said.append(catalogue.autofocus_slow(limit))
    if contacts.falls_short(lens, adapters, body, left):
        short = [f for f in left if f.state in _STATES and f.function in _SAID]
        listed = written.listed([f"{FUNCTION_NAMES[f.function]} {_STATES[f.state]}" for f in short])
        by_hand = _by_hand(body, left)
        hand = f"{written.listed(by_hand)} by hand" if by_hand else (listed or "the body drives nothing in the lens")
        link = rig.signal.broken_at if lens.protocol else (adapters[0].id if adapters else lens.id)
        said.append(
            catalogue.by_hand(
                link or next((f.link for f in short if f.link), None),
                functions=listed or "it drives nothing in this lens",
                hand=hand,
                short=hand,
                reach=_reaches(rig),
            )
        )
    elif extras := contacts.extras_lost(lens, left):
        lost = written.listed([FUNCTION_NAMES[f.function] for f in extras])
        said.append(catalogue.extras_lost(extras[0].link, functions=lost))
    elif adapters:
        works = [FUNCTION_NAMES[f.function] for f in left if f.state in {"full", "slow"} and f.function in _SAID]
        said.append(catalogue.through_adapter(adapters[-1].id, functions=written.listed(works) or "nothing is lost"))
    return said


def sentence(
    found: Sequence[Finding],
    adapters: Sequence[Adapter],
    actions: Sequence[str] = (),
    opened_mm: Sequence[float | None] = (),
) -> str:
    """What a rig comes to, in one sentence; what has to be done first comes first.

    ``opened_mm``: how far each helicoid is opened for infinity.
    """
    decided = findings.decisive(found)
    danger = decided is not None and decided.grade_cap == "danger"
    first = "" if danger else "".join(f"First: {action} " for action in actions)
    said = decided.headline if decided is not None and decided.headline else _at_its_best(adapters)
    works = findings.rank(findings.worst(found)) > findings.rank("none")
    wide = next((opened for opened in opened_mm if opened and works), None)
    if any(finding.code == "by_construction" for finding in found) and works:
        said += " The length of the ring was taken from the gap: measure it, or try infinity."
    return f"{first}{said}" + (f" For infinity the helicoid is opened by {written.millimetres(wide)}." if wide else "")


def _at_its_best(adapters: Sequence[Adapter]) -> str:
    return "Works through the adapter." if adapters else "On its own mount: nothing is lost."
