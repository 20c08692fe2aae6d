"""Why a write is refused."""

from __future__ import annotations

from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, User
from tropeion.core.gear.references import Problem

__all__ = ["InUseError", "InvalidError", "MovedError", "StaleError"]


class StaleError(Exception):
    """Somebody else changed the item since: ``current`` is as it stands, None if it is gone."""

    def __init__(self, kind: Kind, id_: str, current: Entry | None, version: int) -> None:
        self.kind, self.id, self.current, self.version = kind, id_, current, version
        super().__init__(f"{kind} '{id_}' has changed since")


class MovedError(Exception):
    """The collection is not what it was when it was read: writing all of it would undo what was done since."""


class InUseError(Exception):
    """An item that others refer to cannot go."""

    def __init__(self, kind: Kind, id_: str, users: tuple[User, ...]) -> None:
        self.kind, self.id, self.users = kind, id_, users
        super().__init__(f"{kind} '{id_}' is in use")


class InvalidError(Exception):
    """A change that would leave references to nothing."""

    def __init__(self, problems: tuple[Problem, ...]) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))
