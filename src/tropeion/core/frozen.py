"""Small objects that never change, of which one answer makes thousands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TypeVar, dataclass_transform, overload

T = TypeVar("T")


@overload
def frozen(bare: type[T], /) -> type[T]: ...


@overload
def frozen(*, eq: bool = True, order: bool = False) -> Callable[[type[T]], type[T]]: ...


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def frozen(
    bare: type[T] | None = None, /, *, eq: bool = True, order: bool = False
) -> type[T] | Callable[[type[T]], type[T]]:
    """A dataclass with slots to which nobody assigns; with ``eq`` it is compared, and hashed, by its fields.

    That nobody does the type checker sees to. Where a dataclass sees to it itself each of its fields is set by a call
    of its own, and a judgement takes a tenth longer.
    """

    def made(one: type[T]) -> type[T]:
        return dataclass(slots=True, eq=eq, order=order, unsafe_hash=eq)(one)

    return made if bare is None else made(bare)
