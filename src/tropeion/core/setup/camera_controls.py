"""What a body is worked by: its dials, menus and buttons, by its data."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.optics import modes
from tropeion.core.rig.menus import stabiliser_modes_of, turns_to_film


@frozen
class ControlSetting:
    """Where a setting is found, by what it is for."""

    what: str
    where: str
    use: str
    menu: str


@frozen
class Area:
    """A part of the sensor; ``shape`` is width over height."""

    name: str
    shape: float


@frozen
class Controls:
    """What a body has to be worked by: its dials, menus and buttons, by its data. Lengths in mm."""

    name: str
    film: bool
    battery: bool
    width_mm: float | None
    height_mm: float | None
    exposure_modes: tuple[str, ...]
    turns_to_film: bool
    release_setting: bool
    focal_length: bool
    presets_mm: tuple[float, ...]
    travel_steps: tuple[float, ...]
    stabiliser_modes: tuple[str, ...]
    areas: tuple[Area, ...]
    desqueeze: tuple[float, ...]
    magnifier: bool
    magnifier_levels: tuple[float, ...]
    magnifier_inset: bool
    magnifier_leave: str
    peaking: bool
    meters: bool
    places: int
    settings: tuple[ControlSetting, ...]


def controls_of(body: Body, use: str) -> Controls:
    """What there is to work a body by, for stills or for film."""
    stabiliser, magnifier = body.stabiliser, body.magnifier
    digital = body.kind == "digital"
    return Controls(
        name=body.name,
        film=not digital,
        battery=body.battery,
        width_mm=body.width_mm,
        height_mm=body.height_mm,
        exposure_modes=body.exposure_modes,
        turns_to_film=turns_to_film(body),
        release_setting=digital and body.bare_release in {"off", "on"},
        focal_length=stabiliser is not None or body.asks_focal_length,
        presets_mm=(stabiliser.presets_mm or ()) if stabiliser else (),
        travel_steps=stabiliser.travel_steps if stabiliser else (),
        stabiliser_modes=stabiliser_modes_of(body),
        areas=tuple(Area(mode.name, mode.width_mm / mode.height_mm) for mode in modes.modes_of(body, use)),
        desqueeze=body.desqueeze,
        magnifier="magnifier" in body.focus_aids,
        magnifier_levels=magnifier.levels if magnifier else (),
        magnifier_inset=magnifier is not None and magnifier.view == "inset",
        magnifier_leave=magnifier.leave if magnifier else "",
        peaking="peaking" in body.focus_aids,
        meters=body.meters,
        places=stabiliser.stored_lenses if stabiliser else 0,
        settings=tuple(
            ControlSetting(setting.for_, setting.where, setting.use, setting.menu) for setting in body.settings
        ),
    )
