"""Where a body has its settings: menus of stills and film apart, short and full ones apart."""

from __future__ import annotations

from tropeion.core.gear.bodies import Body, Setting
from tropeion.core.practice import Practice


def setting_of(body: Body, what: str, practice: Practice) -> Setting | None:
    """A setting of the use at hand; of several, the one for this use alone, then the one in the menus that are shown.

    None where none is stated.
    """
    settings = [
        setting for setting in body.settings if setting.for_ == what and setting.use in {use_of(body, practice), "both"}
    ]
    return min(
        settings, key=lambda setting: (setting.use == "both", setting.menu not in {practice.menu, "both"}), default=None
    )


def place_of(body: Body, what: str, practice: Practice) -> str:
    """Where a setting is and what it is set to; what the menus at hand do not show says which menus do."""
    setting = setting_of(body, what, practice)
    if setting is None:
        return ""
    hidden = setting.menu not in {practice.menu, "both"}
    return f"{f'{setting.menu} menus: ' if hidden else ''}{setting.where}: {setting.value}"


def stabiliser_mode_of(body: Body, practice: Practice) -> str | None:
    """The mode of the stabiliser for the use at hand, in the body's own word; None where it is not stated."""
    if body.stabiliser is None:
        return None
    setting = setting_of(body, "stabiliser_mode", practice)
    if setting is not None:
        return setting.value
    modes, use = body.stabiliser.modes, use_of(body, practice)
    if use not in modes and not turns_to_film(body) and "still" in modes:
        return "still"
    return use if use in modes else None


def stabiliser_modes_of(body: Body) -> tuple[str, ...]:
    """Every mode that a body is known to have, as it is called there."""
    if body.stabiliser is None:
        return ()
    said = [setting.value for setting in body.settings if setting.for_ == "stabiliser_mode"]
    return tuple(dict.fromkeys((*body.stabiliser.modes, *said)))


def films_alone(body: Body) -> bool:
    """Whether all that is said of a body is about film."""
    return _uses(body) == {"film"}


def _uses(body: Body) -> set[str]:
    """What settings and modes of a body are for; modes of exposure beside manual are there for stills."""
    said = {str(setting.use) for setting in body.settings} | {str(mode.use) for mode in body.modes}
    return said | ({"still"} if set(body.exposure_modes) - {"M"} else set())


def use_of(body: Body, practice: Practice) -> str:
    """What a body is used for: one that films alone films, whatever is asked."""
    return "film" if films_alone(body) else practice.use


def turns_to_film(body: Body) -> bool:
    """Whether a body has a switch between stills and film: it is known to take both."""
    return body.kind == "digital" and {"film", "still"} <= _uses(body)
