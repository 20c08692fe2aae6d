"""What a body writes into the file of a frame: as much as it was told of its lens, and no more."""

from __future__ import annotations

from datetime import datetime

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body

from .attached import Attached
from .state import CameraState


@frozen
class Signed:
    """The claims of a file. ``taken`` are the digits of the body's clock; zero and empty are what it does not know."""

    make: str
    model: str
    taken: datetime
    lens: str
    focal_length_mm: float
    f_number: float


def signed_by(body: Body, state: CameraState, taken: datetime) -> Signed:
    """What a body signs as it stands: of a lens on a plain ring the last focal length that was typed, and no more."""
    make, _, model = body.name.partition(" ")
    lens = state.attached
    name, focal, stop = "", state.focal_length_mm, 0.0
    if lens is not None and lens.says_mm is not None:
        # A chip is a lens to the body, and knows no name but its own.
        name = lens.name if lens.identified else f"Chip {lens.says_mm:g} mm"
        focal = lens.says_mm
    if lens is not None and lens.identified:
        stop = _stop(state, lens)
    return Signed(make, model or make, taken, name, focal, stop)


def _stop(state: CameraState, lens: Attached) -> float:
    if lens.iris == "body":
        return lens.taking_f_number
    return lens.taking_f_number if state.iris == "taking" else lens.widest_f_number
