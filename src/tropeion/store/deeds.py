"""What was done away from the server and sent later: each deed counts once, however often it is sent."""

from __future__ import annotations

from sqlalchemy import Connection, insert, select

from tropeion.core.frozen import frozen

from .tables import DeedRow


@frozen
class Deed:
    """A deed by the id that it was given where it was done, and when that was, in ISO 8601 with its zone."""

    id: str
    at: str


class DoneAlreadyError(Exception):
    """A deed that was sent before; ``version`` is that of the record as the deed left it."""

    def __init__(self, id_: str, version: int) -> None:
        self.id, self.version = id_, version
        super().__init__(f"deed '{id_}' is kept already")


def check_new(connection: Connection, deed: Deed | None) -> None:
    """Raises DoneAlreadyError for a deed that is kept."""
    if deed is None:
        return
    version = connection.scalar(select(DeedRow.version).where(DeedRow.id == deed.id))
    if version is not None:
        raise DoneAlreadyError(deed.id, version)


def note(connection: Connection, deed: Deed | None, version: int) -> None:
    """The deed is done, in the same transaction as what it did."""
    if deed is not None:
        connection.execute(insert(DeedRow).values(id=deed.id, at=deed.at, version=version))
