"""Every number of a frame, as it is told."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.optics.movements import Hinge, Stitch, TallSubject

from .lamps import View
from .question import SubjectAt
from .scenes import Scene, SceneName


@frozen
class Blur:
    """The blur disc of a point at a distance (None: infinity), in mm at the sensor; None: it is inside the lens."""

    distance_m: float | None
    diameter_mm: float | None


@frozen
class DepthRow:
    """Depth of field at one aperture and distance, in m (None: infinity), with the blur of infinity in mm.

    ``front_share`` is how much of it lies before the subject; None where it has no end.
    """

    f_number: float
    distance_m: float
    near_m: float
    far_m: float | None
    total_m: float | None
    front_share: float | None
    hyperfocal_m: float
    infinity_blur_mm: float


@frozen
class ModeRow:
    """A mode of the sensor under this circle. None where the circle is not known.

    ``rise_mm`` is what the circle allows, ``rise_upright_mm`` with the camera turned; ``costs_megapixels`` what is
    lost against the whole sensor, ``buys_mm`` the rise that it gains.
    """

    name: str
    width_mm: float
    height_mm: float
    megapixels: float | None
    automatic: bool
    in_use: bool
    covered: bool | None
    margin_mm: float | None
    rise_mm: float | None
    rise_upright_mm: float | None
    costs_megapixels: float | None
    buys_mm: float | None


@frozen
class Movement:
    """What can be shifted or tilted in this rig: a piece, how far at the sensor, and the glass behind it."""

    link: str
    name: str
    shift_mm: float
    tilt_deg: float
    glass_behind: float
    shifts_up: bool
    shifts_across: bool


@frozen
class Caption:
    """What the picture knows, what it assumes, and what it leaves out; sentences."""

    known: tuple[str, ...]
    assumed: tuple[str, ...]
    left_out: tuple[str, ...]


@frozen
class FrameReport:
    """Every number of a frame. Lengths in mm at the sensor, distances in m from it, angles in degrees.

    ``at_m`` is where it was to be sharp, ``sharp_m`` where it is (None: infinity), which differs where the ring does
    not go there. ``reason`` says why there is no picture, else it is empty. ``moving`` is what can be moved,
    ``no_room`` says why nothing can. ``shift`` is what the subject asks for, ``shift_set_mm`` what is set at the
    sensor.
    """

    lens: str
    body: str
    adapters: tuple[str, ...]
    names: dict[str, str]
    reason: str
    sentence: str
    scene: SceneName
    at_m: float | None
    sharp_m: float | None
    extension_mm: float
    subject: SubjectAt
    magnification: float
    focal_length_mm: float
    marked_mm: tuple[float, float]
    f_number: float
    f_numbers: tuple[float, ...]
    working_f_number: float
    mode: str
    width_mm: float
    height_mm: float
    upright: bool
    squeeze: float
    desqueeze: bool
    image_circle_mm: float | None
    circle_from: str
    circle_doubt_mm: float | None
    circle_of_confusion_mm: float
    field_m: tuple[float, float]
    angles_deg: tuple[float, float] | None
    blur: tuple[Blur, ...]
    shift: TallSubject
    shift_set_mm: tuple[float, float]
    shift_fits: bool | None
    rise_mechanism_mm: float
    stitch: Stitch | None
    tilt: Hinge
    depth: tuple[DepthRow, ...]
    modes: tuple[ModeRow, ...]
    moving: tuple[Movement, ...]
    no_room: str
    stabiliser_travel_mm: float | None
    steep_from_mm: float | None
    light_stops: float
    caption: Caption
    assumed: tuple[str, ...]


@frozen
class Frame:
    """The numbers, and what is needed to draw the picture: None where the rig does not work."""

    report: FrameReport
    scene: Scene | None
    view: View | None
