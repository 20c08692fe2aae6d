"""Everything that a collection holds at one moment: the items, the records, the practice of its owner."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field
from typing import Final

from pydantic import TypeAdapter
from sqlalchemy import Connection, select

from tropeion.core.frozen import frozen
from tropeion.core.gear.gear import Gear
from tropeion.core.practice import Practice
from tropeion.core.records.record import Record, RecordKind
from tropeion.core.subjects import NEUTRAL, Subject

from .meta import meta, set_meta
from .records import MODELS
from .rows import read_gear
from .tables import RECORDS

_SUBJECTS: Final = TypeAdapter(tuple[Subject, ...])


@frozen
class Whole:
    """The items, the records of each kind by id, the owner's practice and the marks along the ribbon."""

    gear: Gear
    records: Mapping[RecordKind, Mapping[str, Record]] = field(default_factory=dict)
    practice: Practice = field(default_factory=Practice)
    subjects: tuple[Subject, ...] = NEUTRAL


def read_whole(connection: Connection) -> Whole:
    """All of it. Raises ValidationError where a document does not fit."""
    return Whole(read_gear(connection), read_records(connection), practice_in(connection), subjects_in(connection))


def read_records(connection: Connection) -> dict[RecordKind, dict[str, Record]]:
    """All records, by kind and id."""
    return {
        kind: {
            row.id: MODELS[kind].model_validate_json(row.document)
            for row in connection.execute(select(table.id, table.document).order_by(table.at, table.id))
        }
        for kind, table in RECORDS.items()
    }


def practice_in(connection: Connection) -> Practice:
    """The owner's practice."""
    stored = meta(connection, "practice")
    return Practice.model_validate_json(stored) if stored else Practice()


def subjects_in(connection: Connection) -> tuple[Subject, ...]:
    """What its owner photographs, along the ribbon of distances."""
    stored = meta(connection, "subjects")
    return NEUTRAL if stored is None else _SUBJECTS.validate_json(stored)


def keep_subjects(connection: Connection, subjects: Sequence[Subject]) -> None:
    """Keep what its owner photographs."""
    set_meta(connection, "subjects", _SUBJECTS.dump_json(tuple(subjects)).decode())
