"""Which lens may stand in for another one."""

from __future__ import annotations

import math
from typing import Final

from tropeion.core.gear.lenses import Lens

# One lens stands in for another where their focal lengths differ by no more than this.
_NEAR: Final = math.log(1.2)


def frames_alike(lens: Lens, other: Lens) -> bool:
    """Whether some focal length of one is near some of the other: by a fifth at most."""
    short, long = lens.focal_length_mm
    near, far = other.focal_length_mm
    return math.log(near / long) <= _NEAR and math.log(short / far) <= _NEAR
