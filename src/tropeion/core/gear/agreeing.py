"""What entries say in some of their fields, as keys: equal where two of a kind agree in all of these."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from functools import cache
from operator import itemgetter
from typing import Any, get_origin

from pydantic import BaseModel

Reader = Callable[[Mapping[str, Any]], tuple[Any, ...]]


def reader_of(names: Sequence[str]) -> Reader:
    """What an entry's ``vars`` hold under these names, in their order."""
    if len(names) > 1:
        return itemgetter(*names)
    return lambda values: tuple([values[name] for name in names])


def all_but(item: BaseModel, left_out: frozenset[str] = frozenset()) -> Hashable:
    """What an entry says in all its fields but those that are ``left_out``."""
    plain, listed = _readers(type(item), left_out)
    values = vars(item)
    return (plain(values), *[tuple(sorted(mapping.items())) for mapping in listed(values)])


@cache
def _readers(kind: type[BaseModel], left_out: frozenset[str]) -> tuple[Reader, Reader]:
    """What reads the fields that can be a key as they stand, and those that hold something by name."""
    kept = [name for name in kind.model_fields if name not in left_out]
    listed = [name for name in kept if get_origin(kind.model_fields[name].annotation) is dict]
    return reader_of([name for name in kept if name not in listed]), reader_of(listed)
