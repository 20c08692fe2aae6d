"""What an item names: other items of the collection, and parts of a mount. Read off the fields' own declarations."""

from __future__ import annotations

import typing
from collections.abc import Callable, Iterator
from functools import cache
from typing import Any

from pydantic import BaseModel

from tropeion.core.frozen import frozen

from .changed import change_in
from .kinds import Local, Ref
from .made import mounts_of_made


@frozen
class Named:
    """An item that a field names: where, which, and as what."""

    place: str
    id: str
    ref: Ref


@frozen
class NamePart:
    """A part of a mount that a field names; ``mount`` is the mount's id, None: the mount that names it."""

    place: str
    id: str
    mount: str | None
    local: Local


Mark = Ref | Local
# From a value to each id in it, with the place within the value.
Walk = Callable[[Any], Iterator[tuple[str, str, Mark]]]


def named_in(entry: BaseModel) -> Iterator[Named]:
    """Every item that this one names, in the order of its fields."""
    for place, id_, mark in names_in(entry):
        if isinstance(mark, Ref):
            yield Named(place, id_, mark)


def named_parts(entry: BaseModel) -> Iterator[NamePart]:
    """Every generation and coupling part that this item names."""
    for place, id_, mark in names_in(entry):
        if isinstance(mark, Local):
            yield NamePart(place, id_, None if mark.owner is None else getattr(entry, mark.owner), mark)


def names_in(entry: BaseModel) -> Iterator[tuple[str, str, Mark]]:
    """Everything that an item names, in the order of its fields: place, id, and how the field is marked."""
    for name, place, mark, walk in _walks(type(entry)):
        value = getattr(entry, name)
        if not value:
            continue
        if mark is not None:
            yield from _told(place, value, mark)
        elif walk is not None:
            for within, id_, ref in walk(value):
                yield f"{place}{within}", id_, ref


def _told(place: str, id_: str, mark: Mark) -> Iterator[tuple[str, str, Mark]]:
    """What one id names: an item; of a changed mount the item and that mount, of spacers the mount that they go in."""
    if isinstance(mark, Ref) and "adapters" in mark.kinds and (between := mounts_of_made(id_)):
        for mount in dict.fromkeys(between):
            yield place, mount, Ref(("mounts",), mark.how, mark.weak)
        return
    told = change_in(id_) if isinstance(mark, Ref) and {"lenses", "bodies"} & set(mark.kinds) else None
    if told is None or not isinstance(mark, Ref):
        yield place, id_, mark
        return
    yield place, told.item, mark
    yield place, told.mount, Ref(("mounts",), mark.how, mark.weak)


@cache
def _walks(model: type[BaseModel]) -> tuple[tuple[str, str, Mark | None, Walk | None], ...]:
    """The fields that may name something: name, place, and the mark of a single id or the way through a value."""
    walks: list[tuple[str, str, Mark | None, Walk | None]] = []
    for name, field in model.model_fields.items():
        mark, walk = _through(field.annotation, tuple(ref for ref in field.metadata if isinstance(ref, Mark)))
        if mark is not None or walk is not None:
            walks.append((name, field.alias or name, mark, walk))
    return tuple(walks)


def _through(annotation: Any, marks: tuple[Mark, ...] = ()) -> tuple[Mark | None, Walk | None]:
    """The mark of a type that is one id, or the way through its values; neither where it can name nothing."""
    marks = (*marks, *(ref for ref in getattr(annotation, "__metadata__", ()) if isinstance(ref, Mark)))
    if marks and not _is_many(annotation):
        return marks[0], None
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return None, _within if _walks(annotation) else None
    for argument in typing.get_args(annotation):
        mark, walk = _through(argument)
        if mark is None and walk is None:
            continue
        return (None, _each(mark, walk)) if _is_many(annotation) else (mark, walk)
    return None, None


def _is_many(annotation: Any) -> bool:
    return typing.get_origin(annotation) is tuple


def _within(value: BaseModel) -> Iterator[tuple[str, str, Mark]]:
    for place, id_, mark in names_in(value):
        yield f".{place}", id_, mark


def _each(mark: Mark | None, walk: Walk | None) -> Walk:
    def every(values: Any) -> Iterator[tuple[str, str, Mark]]:
        for number, value in enumerate(values):
            if mark is not None:
                yield from _told(f"[{number}]", value, mark)
            elif walk is not None:
                for place, id_, ref in walk(value):
                    yield f"[{number}]{place}", id_, ref

    return every
