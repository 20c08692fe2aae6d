"""How a computed number shows its working.

A formula is one function. Called plainly it returns its value; called through a :class:`Working`
the same function also leaves a record of its expression, its terms and its source. There is no second copy.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Final, Generic, ParamSpec, Protocol, TypeVar

from tropeion.core.frozen import frozen

P = ParamSpec("P")
R = TypeVar("R")

Shown = float | str | bool | None


def tidy(value: float) -> float:
    """Round a length to 1 nm (six decimals of a millimetre) and drop the sign of a negative zero.

    Float noise must cost no rig its infinity: 22.4 + 25.8 − 48.2 is not quite zero in binary.
    """
    nm = value * 1e6
    if -1e12 < nm < 1e12:
        # Where it is clear which nm is nearest, this is what ``round`` finds by writing the number out.
        whole = round(nm)
        if -0.49 < nm - whole < 0.49:
            return whole / 1e6
    return round(value, 6) + 0.0


@frozen
class Symbol:
    """What one argument of a formula is called on paper; ``quantity`` names the formula that yields it."""

    sign: str
    unit: str
    meaning: str
    quantity: str | None = None


@frozen
class Term:
    """One term of a worked formula. ``quantity`` is the step that yields it, if one of these does."""

    sign: str
    meaning: str
    unit: str
    values: tuple[Shown, ...]
    quantity: str | None


@frozen
class Step:
    """The working of one number."""

    quantity: str
    meaning: str
    expression: str
    unit: str
    value: Shown
    terms: tuple[Term, ...]
    source: str


class Formula(Generic[P, R]):
    """A function of the trade that knows its expression, terms and source."""

    def __init__(
        self,
        function: Callable[P, R],
        quantity: str,
        expression: str,
        unit: str,
        source: str,
        symbols: dict[str, Symbol],
    ) -> None:
        self._function = function
        self.declared_in = function.__module__
        self._names = inspect.signature(function)
        self.quantity, self.expression, self.unit = quantity, expression, unit
        self.source, self.symbols = source, symbols
        self.__doc__ = function.__doc__

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        return self._function(*args, **kwargs)

    @property
    def meaning(self) -> str:
        return (self.__doc__ or "").strip().split("\n")[0].rstrip(".")

    def record(self, scope: str, known: set[str], value: object, bound: dict[str, object]) -> Step:
        terms = []
        for name, argument in bound.items():
            symbol = self.symbols.get(name)
            if symbol is None:
                continue
            linked = symbol.quantity
            if linked is not None:
                linked = next((key for key in (scope + linked, linked) if key in known), None)
            terms.append(Term(symbol.sign, symbol.meaning, symbol.unit, _shown(argument), linked))
        shown = _shown(value)
        return Step(
            quantity=(scope + self.quantity).rstrip("."),
            meaning=self.meaning,
            expression=self.expression,
            unit=self.unit,
            value=shown[0] if shown else None,
            terms=tuple(terms),
            source=self.source,
        )


def _shown(value: object) -> tuple[Shown, ...]:
    if value is None or isinstance(value, float | str | bool):
        return (value,)
    if isinstance(value, int):
        return (float(value),)
    if isinstance(value, Sequence):
        return tuple(shown for item in value for shown in _shown(item))
    return (str(value),)


def formula(
    quantity: str, expression: str, unit: str, source: str, **symbols: Symbol
) -> Callable[[Callable[P, R]], Formula[P, R]]:
    """Declare a function as the one place that holds a formula."""

    def declare(function: Callable[P, R]) -> Formula[P, R]:
        return Formula(function, quantity, expression, unit, source, symbols)

    return declare


class Calc(Protocol):
    """Runs formulas: plainly, or keeping the record."""

    @property
    def records(self) -> bool:
        """Whether anything is kept: what is only there to be shown need not be run otherwise."""
        ...

    def __call__(self, f: Formula[P, R], *args: P.args, **kwargs: P.kwargs) -> R: ...

    def under(self, scope: str) -> Calc:
        """The same, for quantities below a heading such as ``long_end``."""
        ...


class _Plain:
    __slots__ = ()
    records: Final = False

    def __call__(self, f: Formula[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        return f._function(*args, **kwargs)

    def under(self, scope: str) -> Calc:  # noqa: ARG002
        return self


PLAIN: Calc = _Plain()


@dataclass(slots=True)
class Working:
    """Runs formulas and keeps every step, in order."""

    scope: str = ""
    steps: list[Step] = field(default_factory=list)
    _known: set[str] = field(default_factory=set)

    @property
    def records(self) -> bool:
        return True

    def __call__(self, f: Formula[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
        value = f(*args, **kwargs)
        bound = f._names.bind(*args, **kwargs)
        bound.apply_defaults()
        step = f.record(self.scope, self._known, value, dict(bound.arguments))
        self.steps.append(step)
        self._known.add(step.quantity)
        return value

    def under(self, scope: str) -> Calc:
        return Working(f"{self.scope}{scope}.", self.steps, self._known)
