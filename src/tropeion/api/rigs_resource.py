"""Saved rigs, and what is said for and against pieces."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query

from tropeion.core.answers.saved_rigs import RigsReport, kept_rigs
from tropeion.core.gear.evidence import Witnessed, evidence_on
from tropeion.core.gear.rig import ids_in

from .resource import resource
from .shared import CollectionOf

router = resource("/api/v1", "rigs")


@router.get("/rigs")
def get_rigs(collection: CollectionOf) -> RigsReport:
    """Saved rigs by the owner's practice: what each comes to today, and what it came to when it was kept."""
    return kept_rigs(collection.world(), collection.practice())


@router.get("/evidence")
def get_evidence(ids: Annotated[str, Query(max_length=400)], collection: CollectionOf) -> Witnessed:
    """What is said for and against these pieces, alone or together; ids are joined by commas."""
    return evidence_on(collection.world(), ids_in(ids))
