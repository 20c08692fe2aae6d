"""Which mode of the stabiliser goes with which use, in the body's own words, and what it costs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.practice import Practice
from tropeion.core.rig.menus import films_alone, place_of, stabiliser_mode_of, stabiliser_modes_of, turns_to_film

Use = Literal["stills", "panning", "film", "locked-off", "electronic"]


@frozen
class Steadying:
    """A use and the mode for it; None: the body has none that anybody stated. ``where`` is its place in the menus."""

    use: Use
    mode: str | None
    where: str
    says: str


def steadying_of(body: Body, lens: Lens, practice: Practice) -> tuple[Steadying, ...]:
    """Every use of a body with a stabiliser; nothing for one without."""
    return () if body.stabiliser is None else tuple(_uses(body, lens, practice))


def _uses(body: Body, lens: Lens, practice: Practice) -> Iterator[Steadying]:
    stabiliser, modes = body.stabiliser, stabiliser_modes_of(body)
    assert stabiliser is not None
    works = {
        True: "Works while the release is half pressed.",
        False: "Works always.",
        None: "Whether it works always or half pressed is not stated.",
    }[stabiliser.half_pressed]
    if not films_alone(body):
        yield _by_use(body, "stills", Practice(use="still", menu=practice.menu), works)
        panning = "panning" if "panning" in modes else None
        said = "Steadies across the pan alone." if panning else "None stated: switch it off, or it works against a pan."
        yield Steadying("panning", panning, "", said)
    if films_alone(body) or turns_to_film(body):
        yield _by_use(body, "film", Practice(use="film", menu=practice.menu), "Works while it records.")
    locked = "locked" if "locked" in modes else None
    yield Steadying("locked-off", locked, "", "" if locked else "None stated: switch it off on a tripod.")
    crop = stabiliser.electronic_crop
    if crop is not None:
        squeezed = (
            f" With a lens that squeezes by {lens.squeeze:g} × it crops before the desqueeze: leave it off."
            if lens.squeeze > 1
            else ""
        )
        yield Steadying("electronic", "electronic", "", f"Crops by {crop:g} × more.{squeezed}")


def _by_use(body: Body, use: Use, practice: Practice, says: str) -> Steadying:
    mode = stabiliser_mode_of(body, practice)
    where = place_of(body, "stabiliser_mode", practice) if mode is not None else ""
    return Steadying(use, mode, where, says if mode else "Which mode is meant for it is not stated.")
