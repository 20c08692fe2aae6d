"""How well a pair stands: the grade of its best route, and whether that is sure."""

from __future__ import annotations

from tropeion.core.findings import GRADES, Grade, rank, works
from tropeion.core.frozen import frozen
from tropeion.core.rig.judgement import Assessment


@frozen(order=True)
class StandingGrade:
    """How well a pair stands: its best route's grade, None if nothing joins them.

    Not ``surely`` where all that is better than close-up depends on a focus travel that is not known.
    """

    level: int

    @property
    def grade(self) -> Grade | None:
        return None if self.level < 0 else _UNSURE_GRADE if self.level == _UNSURE else GRADES[self.level // 2]

    @property
    def surely(self) -> bool:
        return self.level != _UNSURE

    @property
    def works(self) -> bool:
        """Whether it takes pictures: what breaks, changes for good or is not known does not count."""
        return self.level in _WORKING


# Levels are twice the ranks of the grades: what is not known stands between two of them, below close-up.
_UNSURE = 2 * rank("close_up") - 1
_UNSURE_GRADE: Grade = "partial"
_WORKING = frozenset(2 * rank(grade) for grade in GRADES if works(grade))
NOTHING = StandingGrade(-1)


def level_of(grade: Grade | None, *, surely: bool) -> int:
    """By how much one is better than another; −1 where nothing joins them."""
    return -1 if grade is None else 2 * rank(grade) if surely else _UNSURE


def standing_of(assessed: Assessment) -> StandingGrade:
    """How well one judged rig stands."""
    return StandingGrade(level_of(assessed.grade, surely=not assessed.unsure))
