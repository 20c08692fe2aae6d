"""The choices on which people of the trade disagree. Both sides stay available; the default is not an opinion."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

from pydantic import BaseModel, ConfigDict, Field


class Practice(BaseModel):
    """One person's practice. Every answer is given under one of these."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    trust: Literal["nominal", "cautious"] = Field(
        "nominal",
        description="How far to trust a nominal length: as stated, or the worst case of the tolerances.",
    )
    crop: Literal["diagonal", "width"] = Field("diagonal", description="What the crop factor is taken from.")
    equivalence: Literal["framing", "framing_and_depth"] = Field(
        "framing", description="What 'equivalent' means: framing alone, or framing and depth of field."
    )
    distances: Literal["metric", "imperial"] = Field("metric", description="How subject distances are written.")
    glass: Literal["accept", "avoid"] = Field(
        "accept", description="Correcting glass: a route like others, or the last."
    )
    electronics: Literal["active", "plain"] = Field(
        "active", description="Electronics where they exist, or plain adapters by choice."
    )
    rings: Literal["cheapest", "price_first", "precise"] = Field(
        "cheapest",
        description="Among routes of one grade: what is owned, full speed, fewer pieces and then the cheapest; the "
        "price before all else; or the least play and tolerance.",
    )
    heavy: Literal["fine", "support"] = Field(
        "fine", description="A heavy lens on a thin ring: within the rating is fine, or always supported."
    )
    entry: Literal["essential", "skip"] = Field(
        "essential", description="Entering the focal length for the stabiliser."
    )
    zooms: Literal["use", "avoid"] = Field("use", description="Zooms on plain adapters.")
    throw: Literal["long", "short"] = Field("long", description="Focus throw: long for precision, short for speed.")
    focusing: Literal["wide_open", "taking_aperture"] = Field(
        "wide_open", description="Focus wide open and stop down, or at the taking aperture."
    )
    purpose: Literal["infinity", "close_up"] = Field(
        "infinity", description="What the rig is for: the whole range, or close-up, where a long ring is wanted."
    )
    pieces: Literal["1", "2", "3", "4"] = Field("3", description="The most adapters in a chain.")
    use: Literal["still", "film"] = Field("still", description="Which of the body's modes are chosen among.")
    menu: Literal["full", "short"] = Field("full", description="Which of the body's menus are shown.")
    blur: Literal["1500", "2000", "3000", "two_pixels"] = Field(
        "1500", description="Circle of confusion: the diagonal divided by this, or two pixels."
    )


@dataclass(frozen=True, slots=True)
class Option:
    """One answer; ``says`` is what stands beside an answer that was given under it."""

    value: str
    label: str
    says: str


@dataclass(frozen=True, slots=True)
class Choice:
    """One question on which people disagree. ``changes``: what an answer changes; ``usual``: the answer where nobody
    chose."""

    key: str
    question: str
    changes: str
    usual: str
    options: tuple[Option, ...]


def _choice(key: str, question: str, changes: str, *options: tuple[str, str, str]) -> Choice:
    usual = Practice.model_fields[key].default
    return Choice(key, question, changes, usual, tuple(Option(*option) for option in options))


# In the order in which they are asked.
CHOICES: Final[tuple[Choice, ...]] = (
    _choice(
        "trust",
        "How far to trust a nominal length",
        "Infinity is judged at the stated lengths, or at the worst that their tolerances allow.",
        ("nominal", "Nominal", "nominal lengths"),
        ("cautious", "Cautious", "worst case of the tolerances"),
    ),
    _choice(
        "equivalence",
        "What “equivalent” means",
        "Whether the full-frame equivalent comes with the aperture of equal depth of field.",
        ("framing", "Framing", "framing only"),
        ("framing_and_depth", "Framing and depth", "framing and depth of field"),
    ),
    _choice(
        "crop",
        "Crop factor taken from",
        "The crop factor, and every full-frame equivalent with it.",
        ("diagonal", "Diagonal", "crop by the diagonal"),
        ("width", "Width", "crop by the width"),
    ),
    _choice(
        "distances",
        "Distances",
        "How subject distances are written; lengths stay in millimetres.",
        ("metric", "Metric", "metric distances"),
        ("imperial", "Imperial", "imperial distances"),
    ),
    _choice(
        "use",
        "Recording modes for",
        "Which recording modes count: for coverage, crop factor and menu places.",
        ("still", "Stills", "still modes"),
        ("film", "Film", "film modes"),
    ),
    _choice(
        "menu",
        "The body's menus",
        "Which menu places the steps name, and where the full menus are needed.",
        ("full", "Full", "full menus"),
        ("short", "Short", "short menus"),
    ),
    _choice(
        "purpose",
        "What the rig is for",
        "Whether losing infinity costs a grade.",
        ("infinity", "All distances", "for all distances"),
        ("close_up", "Close-up", "for close-up"),
    ),
    _choice(
        "electronics",
        "Electronics",
        "The order of routes: those with contacts first, or plain adapters first.",
        ("active", "Where they exist", "electronics where they exist"),
        ("plain", "Plain adapters", "plain adapters by choice"),
    ),
    _choice(
        "rings",
        "Among adapters that do the same",
        "The order among routes of one grade.",
        ("cheapest", "Owned, fewest, cheapest", "owned first, then fewer pieces, then the price"),
        ("price_first", "Price first", "the price first"),
        ("precise", "The most precise", "the most precise first"),
    ),
    _choice(
        "glass",
        "Correcting glass",
        "Whether routes through correcting glass stand among the others or last.",
        ("accept", "Accept", "correcting glass accepted"),
        ("avoid", "Avoid", "correcting glass avoided"),
    ),
    _choice(
        "zooms",
        "Zooms on plain adapters",
        "Whether a zoom that the body does not recognise stands behind what tells it the focal length.",
        ("use", "Use", "zooms on plain adapters"),
        ("avoid", "Avoid", "no zooms on plain adapters"),
    ),
    _choice(
        "heavy",
        "A heavy lens on a thin ring",
        "Whether a heavy lens is advised a support even within the load rating.",
        ("fine", "Fine", "heavy lenses as rated"),
        ("support", "Support it", "heavy lenses supported"),
    ),
    _choice(
        "entry",
        "Entering the focal length",
        "Whether the steps enter the focal length, and the stabiliser is counted on.",
        ("essential", "Essential", "focal length entered"),
        ("skip", "Skip it", "focal length not entered"),
    ),
    _choice(
        "throw",
        "Focus throw",
        "Which focus throw is remarked on.",
        ("long", "Long, precise", "long focus throw"),
        ("short", "Short, quick", "short focus throw"),
    ),
    _choice(
        "focusing",
        "Focusing",
        "One step: focus wide open and stop down, or focus at the taking aperture.",
        ("wide_open", "Wide open first", "focused wide open"),
        ("taking_aperture", "As taken", "focused at the taking aperture"),
    ),
    _choice(
        "pieces",
        "Most adapters in a row",
        "How many adapters are tried in a row.",
        ("1", "1", "one adapter at most"),
        ("2", "2", "two adapters at most"),
        ("3", "3", "three adapters at most"),
        ("4", "4", "four adapters at most"),
    ),
    _choice(
        "blur",
        "Circle of confusion",
        "What passes for sharp: infinity, depth of field and depth of focus.",
        ("1500", "d/1500", "c = d/1500"),
        ("2000", "d/2000", "c = d/2000"),
        ("3000", "d/3000", "c = d/3000"),
        ("two_pixels", "2 pixels", "c = two pixels"),
    ),
)
