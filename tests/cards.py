"""Cards worked through on a camera, step by step, with or without some of them."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import Any

from tropeion.core.camera.rehearsal import Rehearsal, rehearsed
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.deeds import Deed
from tropeion.core.setup.rehearse import Rehearsed, to_rehearse
from tropeion.devices.protocol import NotDoneError, Request, Verb
from tropeion.devices.simulated_body import SimulatedBody


def requests_of(deed: Deed, found: Rehearsed) -> Iterator[tuple[Verb, Any]]:
    """How a step is done on the camera."""
    magnifier = found.body.magnifier
    match deed.control:
        case "mounted":
            assert found.attached is not None
            yield "attach", found.attached.model_dump(mode="json")
        case "exposure":
            yield "exposure", str(deed.value).split(",")[0]
        case "magnifier":
            yield "magnifier", magnifier.levels[0] if magnifier and magnifier.levels else 5.0
        case "store":
            yield "store", {"name": deed.value}
        case control:
            yield control, deed.value


class Worked:
    """One rig's card on its body, some of its steps left out."""

    def __init__(
        self, world: World, lens: str, body: str, via: list[str], practice: Practice, leave_out: Collection[int] = ()
    ) -> None:
        self.found = to_rehearse(world, Rig.of(lens, body, via), practice)
        self.camera = SimulatedBody(self.found.body)
        self.practice = practice
        assert self.found.attached is not None, self.found.sentence
        self.do("begin", self.found.attached.focal_length_mm)
        self.changing: list[int] = []
        # What the camera would not do, because a step before it was left out.
        self.refusals: list[str] = []
        for number, step in enumerate(self.found.steps, 1):
            if number in leave_out:
                continue
            before = self.camera.state
            for deed in step.deeds:
                for verb, value in requests_of(deed, self.found):
                    try:
                        self.do(verb, value)
                    except NotDoneError as error:
                        if not leave_out:
                            raise
                        self.refusals.append(str(error))
            if self.camera.state != before:
                self.changing.append(number)
        self.do("release", None)

    def do(self, verb: Verb, value: Any = None) -> None:
        self.camera.do(Request(id=1, do=verb, value=value))

    @property
    def rehearsal(self) -> Rehearsal:
        return rehearsed(self.found.steps, self.camera.state, self.practice)
