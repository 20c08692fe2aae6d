"""The set-up of one rig: its steps, what the stabiliser is told, its balance, and what goes together."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core import written
from tropeion.core.becomes.becoming import settings_marked
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.accessories import AROUND_THE_LENS, BEFORE_THE_LENS, BRACES, Accessory
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World, nearest
from tropeion.core.joints.balance import Balance, Mass, Support, balance_of, masses_of, supports_of
from tropeion.core.joints.filters import filters_say
from tropeion.core.joints.mechanics import Play, play_of
from tropeion.core.optics.stack import Stack
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.menus import turns_to_film
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import StepLine
from tropeion.core.working import PLAIN

from .goes_together import GoesTogether, clamps, together_of
from .headline import camera_says, support_says
from .steadying import Steadying, steadying_of


@frozen
class Entry:
    """What the stabiliser is told at an engraved focal length, both in mm."""

    focal_length_mm: float
    entry_mm: float


@frozen
class SetUp:
    """What of a rig is done, entered, carried and joined. ``steps`` of a rig that fails say what stops it.

    ``uses`` are stills and film where the body takes both; ``menus_apart``: some settings are in the short or in the
    full menus alone; ``area`` is the part of the sensor in use; ``usable_says`` what trials of it came to.
    """

    lens: str
    body: str
    adapters: tuple[str, ...]
    accessories: tuple[str, ...]
    grade: Grade
    sentence: str
    usable_says: tuple[str, ...]
    camera_says: str
    support_says: str
    balance_says: str
    steps: tuple[StepLine, ...]
    entries: tuple[Entry, ...]
    steadying: tuple[Steadying, ...]
    travel_steps: tuple[float, ...]
    area: str
    balance: Balance
    supports: tuple[Support, ...]
    second_by: str | None
    play: Play
    play_says: str
    plate_says: str
    filters_say: tuple[str, ...]
    uses: tuple[str, ...]
    menus_apart: bool
    pairs: tuple[GoesTogether, ...]
    names: dict[str, str]


def accessories_in(world: World, ids: Sequence[str]) -> tuple[Accessory, ...]:
    """Accessories by their ids. Raises UnknownIdError."""
    known = {accessory.id: accessory for accessory in world.gear.accessories}
    for id_ in ids:
        if id_ not in known:
            raise UnknownIdError("accessory", id_, nearest(id_, list(known)))
    return tuple(known[id_] for id_ in ids)


def set_up_of(
    world: World,
    rig: Rig,
    practice: Practice | None = None,
    *,
    held_by: str | None = None,
    second_by: str | None = None,
) -> SetUp:
    """The set-up of a rig, held by its foremost foot or by the piece that is named.

    ``second_by`` names a piece that is held besides. Raises UnknownIdError for what is not in the collection,
    ValueError for a piece that nothing can be held by.
    """
    practice = practice or Practice()
    lens, adapters, body = world.pieces_of(rig)
    joined = accessories_in(world, rig.accessories)
    judged = assess(world, lens, adapters, body, practice)
    route = judge(world, lens, adapters, body, practice)
    stack = judged.rig.stack
    supports = _supports(stack, joined)
    held = supports[0] if held_by is None else _named(supports, held_by)
    second = None if second_by in {None, held.link} else _named(supports, second_by or "")
    balance = balance_of(stack, (*masses_of(stack), *_carried(stack, joined)), held, second, PLAIN)
    brace = next((accessory for accessory in joined if accessory.kind in BRACES), None)
    play = play_of(stack, judged.ends[0].window_mm(judged.rig), PLAIN, braced=brace is not None)
    names = {piece.id: piece.name for piece in (lens, *adapters, body, *joined)}
    settings = settings_marked(judged.rig, FULL_FRAME)
    view = route.ends[0].equivalents.angle_of_view_deg
    assert route.details is not None
    return SetUp(
        lens=lens.id,
        body=body.id,
        adapters=tuple(adapter.id for adapter in adapters),
        accessories=tuple(accessory.id for accessory in joined),
        grade=judged.grade,
        sentence=route.sentence,
        usable_says=route.usable_says,
        camera_says=camera_says(judged.grade, route.sentence, route.details.steps, body),
        support_says=support_says(balance, body, names),
        balance_says=_said(balance, names),
        steps=route.details.steps,
        entries=tuple(
            Entry(setting.marked_mm, setting.entry_mm) for setting in settings if setting.entry_mm is not None
        ),
        steadying=steadying_of(body, lens, practice),
        travel_steps=body.stabiliser.travel_steps if body.stabiliser else (),
        area=judged.rig.mode.name,
        balance=balance,
        supports=supports,
        second_by=None if second is None else second.link,
        play=play,
        play_says=_play_said(play, brace),
        plate_says=_plate_said(balance),
        filters_say=tuple(filters_say(adapters, joined, None if view is None else view.diagonal)),
        uses=("still", "film") if turns_to_film(body) else (),
        menus_apart=any(setting.menu != "both" for setting in body.settings),
        pairs=together_of(world, stack, joined),
        names=names,
    )


# What holds the body to the lens or to what carries it: it takes the play of the joint at the body.


def _named(supports: Sequence[Support], link: str) -> Support:
    support = next((offered for offered in supports if offered.link == link), None)
    if support is None:
        able = ", ".join(offered.link for offered in supports)
        raise ValueError(f"{link} has no foot and no screw: {able}")
    return support


def _play_said(play: Play, brace: Accessory | None) -> str:
    """How much play is left, and what a brace takes of it."""
    taken = f"{brace.name} takes the body's side of the play, not the lens's. " if brace is not None else ""
    if play.displacement_mm is None or play.fraction_of_window is None:
        return f"{taken}How much the joints play is not known."
    if play.displacement_mm == 0:
        return f"{taken}No play in its joints."
    share = f"{play.fraction_of_window:.0%} of the depth of focus wide open"
    return f"{taken}Its joints play {written.millimetres(play.displacement_mm)}, {share}."


def _plate_said(balance: Balance) -> str:
    """Where a plate or a foot would hold it level."""
    centre, held = balance.centre_of_mass_mm, balance.held_by
    if centre is None or abs(balance.tipping_nm or 0.0) < _LEVEL_NM:
        return ""
    way = "before" if centre >= 0 else "behind"
    further = "forward" if centre > held.at_mm else "back"
    return (
        f"It balances {abs(centre):.0f} mm {way} the sensor plane: a plate {abs(centre - held.at_mm):.0f} mm farther "
        f"{further} holds it level."
    )


# Less than this is not felt on a tripod head.
_LEVEL_NM = 0.02


def _said(balance: Balance, names: dict[str, str]) -> str:
    """How it stands on what holds it, and which joint bears too much."""
    if balance.mass_g is None or balance.centre_of_mass_mm is None or balance.tipping_nm is None:
        unweighed = written.listed([names[id_] for id_ in balance.unknown])
        return f"How it balances is not known: nobody weighed {unweighed}."
    by = names[balance.held_by.link]
    whole = f"{balance.mass_g:,.0f} g"
    if abs(balance.tipping_nm) < _LEVEL_NM:
        said = f"{whole}, level on {by}."
    else:
        way = "forward" if balance.tipping_nm > 0 else "back"
        said = f"{whole}, tips {way} on {by} by {abs(balance.tipping_nm):.2f} N·m."
    over = [names[joint.joint] for joint in balance.joints if joint.over]
    return f"{said} More than the rated load of the joint at {written.listed(over)}: support it." if over else said


def _supports(stack: Stack, accessories: Sequence[Accessory]) -> tuple[Support, ...]:
    """A foot that is clamped on holds like the lens's own, where the lens balances: assumed. One that does not fit
    holds nothing."""
    lens, *_ = masses_of(stack)
    feet = [
        Support(accessory.id, 0, lens.at_mm, True)
        for accessory in accessories
        if accessory.kind == "foot" and clamps(accessory, stack.lens)
    ]
    return (*feet, *supports_of(stack))


def _carried(stack: Stack, accessories: Sequence[Accessory]) -> tuple[Mass, ...]:
    """What accessories weigh where they sit: before the lens, around it, or with the body; that is assumed."""
    lens, *_, body = masses_of(stack)
    front = stack.seat_mm + (stack.lens.length_mm or 2 * (lens.at_mm - stack.seat_mm))
    masses = []
    for accessory in accessories:
        if accessory.kind in BEFORE_THE_LENS:
            length = accessory.length_mm or 0.0
            masses.append(Mass(accessory.id, 0, accessory.mass_g, front + length / 2, True))
            front += length
        elif accessory.kind in AROUND_THE_LENS:
            masses.append(Mass(accessory.id, 0, accessory.mass_g, lens.at_mm, True))
        else:
            masses.append(Mass(accessory.id, body.order, accessory.mass_g, body.at_mm, True))
    return tuple(masses)
