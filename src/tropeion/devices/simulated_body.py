"""A camera that is not there: it stands as a body of its data would, and releases as that would."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, Final

from pydantic import ValidationError

from tropeion.core.camera.attached import Attached
from tropeion.core.camera.release import faults_of, release_of
from tropeion.core.camera.state import CameraState, Place, Prompt
from tropeion.core.gear.bodies import Body
from tropeion.core.optics import modes
from tropeion.core.optics.stabiliser import told_to
from tropeion.core.rig.menus import films_alone, stabiliser_modes_of, turns_to_film
from tropeion.core.working import PLAIN

from .protocol import NotDoneError, Request

# The lens that was on it before: what it left behind is what a body offers at power-on.
LAST_LENS_MM: Final = 85.0
OTHER_LENS_MM: Final = 35.0
LAST_LENS_F_NUMBER: Final = 1.4


class SimulatedBody:
    """One body, as the last lens left it. Not safe to use from several threads at once.

    ``taken`` is told of each frame: it may keep a picture of it.
    """

    def __init__(self, body: Body, taken: Callable[[CameraState], None] | None = None) -> None:
        self.body, self._taken = body, taken
        self.state = self._as_left(LAST_LENS_MM)
        self._doing: dict[str, Callable[[Any], CameraState]] = {
            "state": lambda _: self.state,
            "begin": self._begin,
            "attach": self._attach,
            "power": self._power,
            "prompt": self._prompt,
            "use": self._use,
            "release_without_lens": lambda value: self._with(release_without_lens=_yes(value)),
            "focal_length": self._focal_length,
            "travel": self._travel,
            "area": self._area,
            "exposure": self._exposure,
            "squeeze": self._squeeze,
            "stabiliser": self._stabiliser,
            "meter": lambda value: self._with(meter_f_number=_number(value, 0.1, 1_000)),
            "magnifier": self._magnifier,
            "peaking": self._peaking,
            "iris": lambda value: self._with(iris=_one_of(value, ("open", "taking"))),
            "focus": self._focus,
            "store": self._store,
            "recall": self._recall,
            "release": self._release,
        }

    def do(self, request: Request) -> CameraState:
        """Do what is asked; returns how it stands then. Raises NotDoneError where a body would not."""
        # What is off does nothing but be switched on; what is done to the lens is done by hand.
        if not self.state.power and request.do not in _BY_HAND:
            raise NotDoneError("the camera is off")
        state = self._doing[request.do](request.value)
        self.state = state.model_copy(update={"finder": faults_of(self.body, state)})
        return self.state

    def _release(self, _: Any) -> CameraState:
        released = release_of(self.body, self.state)
        if released.taken and self._taken is not None:
            self._taken(self.state)
        return self._with(last=released)

    def _with(self, **changes: Any) -> CameraState:
        try:
            return CameraState.model_validate({**dict(self.state), **changes})
        except ValidationError as error:
            first = error.errors()[0]
            raise NotDoneError(f"{'.'.join(map(str, first['loc']))}: {first['msg']}") from None

    def _as_left(self, last_mm: float) -> CameraState:
        body, known = self.body, stabiliser_modes_of(self.body)
        told = last_mm if body.stabiliser is None else told_to(body.stabiliser, last_mm, PLAIN)[0]
        return CameraState(
            body=body.id,
            use="film" if films_alone(body) else "still",
            focal_length_mm=told,
            travel=max(body.stabiliser.travel_steps, default=1.0) if body.stabiliser else 0.0,
            exposure=next(iter(body.exposure_modes), ""),
            stabiliser=known[-1] if known else "",
            meter_f_number=LAST_LENS_F_NUMBER if body.kind == "film" and body.meters else 0.0,
            release_without_lens=body.bare_release in {"on", "always"},
        )

    def _begin(self, value: Any) -> CameraState:
        """Another lens was on it before: not the one that comes now, or nothing would be learned."""
        wanted = _number(value, 0, 100_000) if value is not None else 0.0
        near = wanted > 0 and abs(wanted / LAST_LENS_MM - 1) < 0.2
        return self._as_left(OTHER_LENS_MM if near else LAST_LENS_MM)

    def _attach(self, value: Any) -> CameraState:
        try:
            lens = Attached.model_validate_json(json.dumps(value))
        except ValidationError as error:
            raise NotDoneError(f"what is attached: {error.errors()[0]['msg']}") from None
        live = self.state.power and self.body.battery
        return self._with(attached=lens, swapped_live=live, prompt=None, iris="open", focused_with="", last=None)

    def _power(self, value: Any) -> CameraState:
        on, lens = _yes(value), self.state.attached
        if on == self.state.power:
            return self.state
        changes: dict[str, Any] = {"power": on, "prompt": None, "magnifier": 0.0}
        if on and lens is not None:
            if lens.says_mm is not None:
                changes["focal_length_mm"] = lens.says_mm
            elif self.body.asks_focal_length:
                changes["prompt"] = Prompt(offered_mm=self.state.focal_length_mm)
        return self._with(**changes)

    def _prompt(self, value: Any) -> CameraState:
        """The prompt at power-on: confirmed, dismissed, or another value typed in. The first two keep the last one."""
        if self.state.prompt is None:
            raise NotDoneError("it asks nothing: it does so at power-on, when it does not know the lens")
        if isinstance(value, str) and value in {"confirm", "dismiss"}:
            return self._with(prompt=None)
        return self._focal_length(value)

    def _use(self, value: Any) -> CameraState:
        use = _one_of(value, ("still", "film"))
        if use != self.state.use and not turns_to_film(self.body):
            raise NotDoneError("this body has no switch between stills and film")
        kept = modes.mode_named(self.body, use, self.state.area) is not None
        return self._with(use=use, area=self.state.area if kept else "full")

    def _focal_length(self, value: Any) -> CameraState:
        wanted = _number(value, 0.1, 100_000)
        stabiliser = self.body.stabiliser
        if stabiliser is None:
            if not self.body.asks_focal_length:
                raise NotDoneError("this body asks for no focal length")
            return self._with(focal_length_mm=wanted, prompt=None)
        told, _ = told_to(stabiliser, wanted, PLAIN)
        if abs(told - wanted) > 1e-6:
            span = (
                f"{stabiliser.entry_mm[0]:g} to {stabiliser.entry_mm[1]:g} mm in steps of {stabiliser.entry_step_mm:g}"
            )
            presets = ", ".join(f"{value:g}" for value in stabiliser.presets_mm or ())
            raise NotDoneError(f"{wanted:g} mm: this body takes {presets or span}")
        return self._with(focal_length_mm=told, prompt=None)

    def _travel(self, value: Any) -> CameraState:
        stabiliser = self.body.stabiliser
        if stabiliser is None:
            raise NotDoneError("this body has no stabiliser")
        wanted = _number(value, 0, 1)
        if wanted not in {0.0, *stabiliser.travel_steps}:
            steps = ", ".join(f"{step:.0%}" for step in stabiliser.travel_steps)
            raise NotDoneError(f"this body has {steps}, and off")
        return self._with(travel=wanted)

    def _area(self, value: Any) -> CameraState:
        names = [mode.name for mode in modes.modes_of(self.body, self.state.use)]
        return self._with(area=_one_of(value, names))

    def _exposure(self, value: Any) -> CameraState:
        return self._with(exposure=_one_of(value, self.body.exposure_modes))

    def _squeeze(self, value: Any) -> CameraState:
        wanted = _number(value, 0.1, 10)
        if wanted not in {1.0, *self.body.desqueeze}:
            raise NotDoneError(f"this body desqueezes by {', '.join(f'{value:g} ×' for value in self.body.desqueeze)}")
        return self._with(squeeze=wanted)

    def _stabiliser(self, value: Any) -> CameraState:
        return self._with(stabiliser=_one_of(value, stabiliser_modes_of(self.body)))

    def _magnifier(self, value: Any) -> CameraState:
        if "magnifier" not in self.body.focus_aids:
            raise NotDoneError("this body has no magnifier")
        wanted = _number(value, 0, 1_000)
        levels = self.body.magnifier.levels if self.body.magnifier else ()
        if wanted and levels and wanted not in levels:
            raise NotDoneError(f"this body magnifies {', '.join(f'{level:g} ×' for level in levels)}")
        return self._with(magnifier=wanted)

    def _peaking(self, value: Any) -> CameraState:
        if "peaking" not in self.body.focus_aids:
            raise NotDoneError("this body has no peaking")
        return self._with(peaking=_yes(value))

    def _focus(self, _: Any) -> CameraState:
        """The ring is turned until it looks sharp: how sharp that is goes by what is looked at."""
        if self.state.attached is None:
            raise NotDoneError("the last lens is on it still")
        magnified = self.state.power and self.state.magnifier > 0
        return self._with(focused_with="magnifier" if magnified else "finder")

    def _store(self, value: Any) -> CameraState:
        stabiliser = self.body.stabiliser
        if stabiliser is None or not stabiliser.stored_lenses:
            raise NotDoneError("this body stores no lenses")
        said = value if isinstance(value, dict) else {}
        try:
            place = Place(
                number=said.get("number") or self._free(),
                name=said.get("name", ""),
                focal_length_mm=self.state.focal_length_mm,
                area=self.state.area,
                travel=self.state.travel,
            )
        except ValidationError:
            raise NotDoneError("a place has a name and a number") from None
        most = stabiliser.name_length
        if place.number > stabiliser.stored_lenses:
            raise NotDoneError(f"this body has {stabiliser.stored_lenses} places")
        if most is not None and len(place.name) > most:
            raise NotDoneError(f"“{place.name}”: names have at most {most} letters here")
        others = [other for other in self.state.places if other.number != place.number]
        return self._with(places=tuple(sorted([*others, place], key=lambda value: value.number)))

    def _free(self) -> int:
        stabiliser, taken = self.body.stabiliser, {place.number for place in self.state.places}
        most = stabiliser.stored_lenses if stabiliser else 1
        return next((number for number in range(1, most + 1) if number not in taken), most)

    def _recall(self, value: Any) -> CameraState:
        place = next((place for place in self.state.places if place.number == value), None)
        if place is None:
            raise NotDoneError(f"nothing is stored at place {value}")
        return self._with(focal_length_mm=place.focal_length_mm, area=place.area, travel=place.travel, prompt=None)


_BY_HAND: Final = frozenset({"state", "begin", "attach", "power", "iris", "focus", "release", "meter"})


def _yes(value: Any) -> bool:
    if not isinstance(value, bool):
        raise NotDoneError("true or false")
    return value


def _number(value: Any, least: float, most: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not least <= value <= most:
        raise NotDoneError(f"a number from {least:g} to {most:g}")
    return float(value)


def _one_of(value: Any, known: Any) -> str:
    if not isinstance(value, str) or value not in known:
        raise NotDoneError(f"one of {', '.join(known)}" if known else "this body has none")
    return value
