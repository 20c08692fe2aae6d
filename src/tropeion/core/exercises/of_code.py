"""Flange codes: light and dark fields read, a code chosen for a lens, and what is then corrected wrongly."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import FlangeCode, Mount, Profile
from tropeion.core.joints.flange_code import distance_of, fields_of, nearest_profiles, read_code

from .drafting import Skill, Trap, apart
from .hand import Hand
from .question import After, AnswerChoice, AskedAbout, Draft, FieldsShown

_RULES: Final = {
    "read": "Fields are read from where the code begins, in its direction; one field misread is another lens.",
    "choose": "Take the lens that is nearest in focal length and aperture, and in how steeply its light falls.",
    "wrong": "A body corrects for the lens that it believes in: what differs from yours is corrected wrongly.",
}


def _coded(hand: Hand) -> Iterator[tuple[Mount, FlangeCode]]:
    for mount in hand.mounts():
        if mount.code is not None and len(mount.profiles) > 2:
            yield mount, mount.code


def _shown(mount: Mount, code: FlangeCode, digits: str) -> FieldsShown:
    return FieldsShown(mount.id, tuple((field.angle_deg, field.dark) for field in fields_of(code, digits)))


def _apart(one: str, other: str) -> int:
    return sum(a != b for a, b in zip(one, other, strict=True))


def _read(hand: Hand) -> Iterator[Draft]:
    """Which lens a body takes this one for; wrong ones are misread: from the wrong end, light for dark, one field."""
    for mount, code in _coded(hand):
        for profile in hand.some(mount.profiles):
            report = read_code(mount, profile.code, ())
            if report.profile != profile.name:
                continue
            inverted = "".join("1" if digit == "0" else "0" for digit in profile.code)
            tricks = {profile.code[::-1]: "read from the wrong end", inverted: "read with light for dark"}
            others = sorted(
                mount.profiles, key=lambda other: (other.code not in tricks, _apart(other.code, profile.code))
            )
            wrong = [
                AnswerChoice(
                    other.code,
                    _named(other, code),
                    After(f"Its code is {_spelt(other.code, code)}: {_how(other.code, profile.code, tricks)}."),
                )
                for other in others
                if other.code != profile.code
            ]
            choices = apart(
                AnswerChoice(profile.code, _named(profile, code), After(f"{_spelt(profile.code, code)} is its code.")),
                wrong,
            )
            if choices is None:
                continue
            nearest = min(_apart(choice.id, profile.code) for choice in choices[1:])
            yield Draft(
                trap="read",
                nearness=1 / nearest,
                asks=f"These fields are on the flange of a lens of {mount.name}. Which lens does the body take it for?",
                about=AskedAbout(mount=mount.id),
                choices=choices,
                why=f"{_RULES['read']} Here: {_spelt(profile.code, code)}.",
                working=(
                    f"It begins at {code.start_deg:g}° from the index and goes on by {code.step_deg:g}°.",
                    f"{_spelt(profile.code, code)} is {profile.name}.",
                ),
                shown=_shown(mount, code, profile.code),
                described="A flange as it is looked at, with its fields and where they begin.",
            )


def _spelt(digits: str, code: FlangeCode) -> str:
    return "".join("■" if digit == str(code.dark_is) else "□" for digit in digits)


def _named(profile: Profile, code: FlangeCode) -> str:
    """A code by its fields, ■ a dark one, and whose it is."""
    return f"{_spelt(profile.code, code)} {profile.name}"


def _how(other: str, right: str, tricks: dict[str, str]) -> str:
    apart_by = _apart(other, right)
    return tricks.get(other, "one field is another" if apart_by == 1 else f"{apart_by} fields are others")


def _lenses(hand: Hand, mount: Mount) -> Iterator[Lens]:
    """Lenses that bodies of this mount could be told of, the uncoded ones too."""
    for lens in hand.lenses():
        if not lens.is_zoom and (
            lens.mount == mount.id
            or hand.world.structure.adapters_by_joints.get((hand.world.mount_of(lens).joint, mount.joint))
        ):
            yield lens


def _ranked(lens: Lens, mount: Mount) -> list[tuple[float, Profile]]:
    return sorted(
        ((distance_of(lens, profile), profile) for profile in mount.profiles), key=lambda one: (one[0], one[1].code)
    )


def _choose(hand: Hand) -> Iterator[Draft]:
    """Which code to mark on a lens."""
    for mount, code in _coded(hand):
        for lens in _lenses(hand, mount):
            report = nearest_profiles(lens, mount)
            ranked = _ranked(lens, mount)
            # Frame lines may rule out what lies nearest; a tie is no question.
            if (
                not report.nearest
                or report.nearest[0].code != ranked[0][1].code
                or ranked[1][0] < 1.3 * ranked[0][0] + 0.05
            ):
                continue
            wrong = [AnswerChoice(p.code, _named(p, code), After(_corrects(lens, mount, p))) for _, p in ranked[1:5]]
            best = ranked[0][1]
            choices = apart(AnswerChoice(best.code, _named(best, code), After(_corrects(lens, mount, best))), wrong)
            if choices is None:
                continue
            yield Draft(
                trap="choose",
                nearness=min(1.0, (ranked[0][0] + 0.05) / (ranked[1][0] + 0.05)),
                asks=f"{lens.name} is to be marked for the bodies of {mount.name}. Which code?",
                about=AskedAbout(lens=lens.id, mount=mount.id),
                choices=choices,
                why=f"{_RULES['choose']} {best.name} is nearest.",
                working=tuple(f"{p.name}: {distance:.2f}" for distance, p in ranked[:5]),
                shown=_shown(mount, code, "0" * code.fields if code.dark_is else "1" * code.fields),
                described="A flange as it is looked at, its fields not marked yet.",
            )


def _corrects(lens: Lens, mount: Mount, profile: Profile) -> str:
    near = next((one for one in nearest_profiles(lens, mount).nearest if one.code == profile.code), None)
    if near is not None and near.wrong:
        return f"Then {'; '.join(near.wrong)}."
    return f"It is {distance_of(lens, profile):.1f} away: {profile.focal_length_mm:g} mm, f/{profile.f_number:g}."


def _wrong(hand: Hand) -> Iterator[Draft]:
    """What is corrected wrongly of a lens that is coded as another."""
    for mount, code in _coded(hand):
        for lens in _lenses(hand, mount):
            for near in nearest_profiles(lens, mount).nearest:
                profile = next(p for p in mount.profiles if p.code == near.code)
                others = [
                    one
                    for other in hand.some(mount.profiles)
                    for one in _wrongs_of(lens, mount, other)
                    if one not in near.wrong
                ]
                if not near.wrong or len(set(others)) < 2:
                    continue
                right = hand.chance.choice(near.wrong)
                wrong = [
                    AnswerChoice(
                        f"wrong-{n}",
                        _capital(text),
                        After(f"That is of another code; of this one: {'; '.join(near.wrong)}."),
                    )
                    for n, text in enumerate(dict.fromkeys(others), 1)
                ]
                choices = apart(AnswerChoice("wrong-0", _capital(right), After(f"{profile.name}: {right}.")), wrong)
                if choices is None:
                    continue
                yield Draft(
                    trap="wrong",
                    nearness=1 / (1 + near.distance),
                    asks=f"{lens.name} is marked as {profile.name}. What follows?",
                    about=AskedAbout(lens=lens.id, mount=mount.id),
                    choices=choices,
                    why=f"{_RULES['wrong']} {_capital(right)}.",
                    working=tuple(near.wrong),
                    shown=_shown(mount, code, profile.code),
                    described="A flange as it is looked at, with its fields and where they begin.",
                )
                break


def _wrongs_of(lens: Lens, mount: Mount, profile: Profile) -> tuple[str, ...]:
    near = next(
        (one for one in nearest_profiles(lens, mount.model_copy(update={"profiles": (profile,)})).nearest), None
    )
    return () if near is None else near.wrong


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


CODE = Skill(
    "Flange codes",
    "Which lens is it taken for?",
    "how few fields part a wrong code from the right one, how near the next profile is",
    {
        "read": Trap("Reading a code", _RULES["read"], _read),
        "choose": Trap("Choosing a code", _RULES["choose"], _choose),
        "wrong": Trap("What it corrects wrongly", _RULES["wrong"], _wrong),
    },
)
