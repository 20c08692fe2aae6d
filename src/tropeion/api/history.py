"""What was done, and undo."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter

from tropeion.store.collection import Action

from .items import Turned
from .problems import RESPONSES
from .shared import CollectionOf

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["history"], responses=RESPONSES)


@dataclass(frozen=True, slots=True)
class History:
    """What was done, the latest first, and what undo and redo would turn."""

    actions: tuple[Action, ...]
    undo: str | None
    redo: str | None


@router.get("/history")
def get_history(collection: CollectionOf) -> History:
    """What was done, and what can be taken back."""
    undo, redo = collection.turnable()
    return History(collection.history(), undo.title if undo else None, redo.title if redo else None)


@router.post("/undo")
def post_undo(collection: CollectionOf) -> Turned:
    """Take back the latest action that stands."""
    return Turned(collection.undo())


@router.post("/redo")
def post_redo(collection: CollectionOf) -> Turned:
    """Do again what was taken back last."""
    return Turned(collection.redo())
