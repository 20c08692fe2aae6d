"""What was done, and undo."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.store.folding import Keep
from tropeion.store.journal import Action

from .items_resource import Turned
from .resource import resource
from .shared import CollectionOf, Written

router = resource("/api/v1", "history")


@frozen
class History:
    """What was done, the latest first, and what undo and redo would turn.

    ``keep`` is how long it is kept; ``lets_go`` says of each choice how many actions could not be taken back any more.
    """

    actions: tuple[Action, ...]
    undo: str | None
    redo: str | None
    keep: Keep
    lets_go: dict[Keep, int]


class KeepWritten(Written):
    """How long the history is kept: all of it, the last 1,000 actions, or one year."""

    keep: Keep


@router.get("/history")
def get_history(collection: CollectionOf) -> History:
    """What was done, and what can be taken back."""
    undo, redo = collection.turnable()
    keep, lets_go = collection.keep_of_history()
    told = undo.title if undo else None, redo.title if redo else None
    return History(collection.history(), *told, keep, lets_go)


@router.put("/history/keep")
def put_keep_of_history(written: KeepWritten, collection: CollectionOf) -> History:
    """Keep the history so long. What is older can no longer be taken back; the collection stays as it is."""
    collection.keep_history(written.keep)
    return get_history(collection)


@router.post("/undo")
def post_undo(collection: CollectionOf) -> Turned:
    """Take back the latest action that stands."""
    return Turned(collection.undo())


@router.post("/redo")
def post_redo(collection: CollectionOf) -> Turned:
    """Do again what was taken back last."""
    return Turned(collection.redo())
