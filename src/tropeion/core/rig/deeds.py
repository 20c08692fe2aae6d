"""What a step does, where a camera can tell whether it was done."""

from __future__ import annotations

from typing import Literal

from tropeion.core.frozen import frozen

# The switches of a camera, and what is done to the lens before it.
Control = Literal[
    "power",
    "mounted",
    "use",
    "release_without_lens",
    "focal_length",
    "store",
    "travel",
    "area",
    "exposure",
    "squeeze",
    "stabiliser",
    "meter",
    "magnifier",
    "iris",
    "focus",
]


@frozen
class Deed:
    """A control and the value that it has to have; with ``or_less``, at most that."""

    control: Control
    value: bool | float | str
    or_less: bool = False
