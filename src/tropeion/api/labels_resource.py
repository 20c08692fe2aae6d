"""A label read: both its ends, what is doubtful, what it would open."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query

from tropeion.core.answers.label_report import LabelReport, label_report

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf

router = resource("/api/v1", "labels")


@router.get("/label")
def get_label(
    text: Annotated[str, Query(max_length=400)], practice: PracticeOf, collection: CollectionOf
) -> LabelReport:
    """Read a label, and say what the piece would do for what is owned."""
    return label_report(collection.world(), text, practice)
