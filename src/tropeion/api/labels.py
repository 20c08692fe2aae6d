"""A label read: both its ends, what is doubtful, what it would open."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import Field

from tropeion.core.answers.label_report import LabelReport, label_report
from tropeion.core.practice import Practice

from .problems import RESPONSES
from .shared import CollectionOf, practice_in

__all__ = ["router"]

router = APIRouter(prefix="/api/v1", tags=["labels"], responses=RESPONSES)


class _Text(Practice):
    """What is printed, and the practice that pairs are judged by."""

    text: str = Field(max_length=400)


@router.get("/label")
def get_label(question: Annotated[_Text, Query()], collection: CollectionOf) -> LabelReport:
    """Read a label, and say what the piece would do for what is owned."""
    return label_report(collection.world(), question.text, practice_in(question))
