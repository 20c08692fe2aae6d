"""What a plan says: what to buy, what that serves, what stays unmet and why, what is left over."""

from __future__ import annotations

from typing import Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.joints.signal import FunctionName
from tropeion.core.rig.cautions import Warned
from tropeion.core.rig.rig_report import NeededPiece

from .look_alikes import LookAlikeRing
from .market import Price
from .ruled_out import RuledOut

# A mount that a lens or body is given instead of its own is bought for that one.
Kind = Literal["adapters", "lenses", "bodies", "mounts"]


@frozen
class Bought:
    """A piece to buy, how many, what each costs. ``serves`` are the demands by their places in the question."""

    kind: Kind
    id: str
    name: str
    count: int
    price: Price
    serves: tuple[int, ...]


@frozen
class Served:
    """A demand, by its place in the question, and the rig that meets it, adapters from the lens to the body.

    ``slow`` are the functions that it has and has slowly; ``usable_says`` is what trials of the rig came to.
    """

    demand: int
    lens: str
    lens_name: str
    body: str
    body_name: str
    adapters: tuple[str, ...]
    adapter_names: tuple[str, ...]
    grade: Grade
    probability: float
    slow: tuple[FunctionName, ...]
    cautions: tuple[Warned, ...]
    usable_says: tuple[str, ...]
    buys: tuple[str, ...]


@frozen
class Advice:
    """A change with which more is met: tried on a copy, at least ``met`` demands in all are met then.

    By its ``kind`` one of these is what changes: ``grade`` and ``probability`` of the demand, ``money`` more than the
    budget, ``carry_g`` the most that may be carried, ``ids`` pieces that are bought, allowed or to be had again,
    ``piece`` an adapter that is not listed, ``lens`` and ``body`` with their mount or plate changed.
    """

    kind: Literal[
        "accept_grade",
        "accept_probability",
        "more_money",
        "carry_more",
        "one_after_another",
        "buy",
        "allow",
        "have_again",
        "make",
        "change_plate",
    ]
    says: str
    met: int
    grade: Grade | None = None
    probability: float | None = None
    money: float | None = None
    carry_g: float | None = None
    ids: tuple[str, ...] = ()
    piece: NeededPiece | None = None
    lens: str | None = None
    body: str | None = None


@frozen
class Unmet:
    """A demand that is not met, and the smallest change that would allow it, where one was found and tried."""

    demand: int
    name: str
    lens_name: str
    body_names: tuple[str, ...]
    why: str
    advice: Advice | None

    @property
    def change(self) -> str:
        """The advice in words; nothing where none helps."""
        return "" if self.advice is None else self.advice.says


@frozen
class Spare:
    """An adapter at hand that the plan does not use; ``doubled_by`` is one between the same ends that it does."""

    id: str
    name: str
    count: int
    resale: float | None
    doubled_by: str | None


@frozen
class Unpriced:
    """A piece that would do but that has no price: it is never bought."""

    id: str
    name: str


@frozen
class WouldServe:
    """A demand, by its place in the question, that a ring would meet; ``adapters`` is the chain by its ids."""

    demand: int
    lens: str
    lens_name: str
    body: str
    body_name: str
    grade: Grade
    adapters: tuple[str, ...]


@frozen
class LookFor:
    """A ring that is not listed. By its ``id`` it can be asked about in every room; it has no price, and meets nothing.

    ``needs`` is what it has to do besides; ``tolerance_mm`` what it may be too long or too short for the fastest lens
    that it serves; ``labels`` are what it may be sold as, ``check`` what to look at in the hand, ``refuse`` what looks
    like it and is not.
    """

    id: str
    name: str
    lens_mount: str
    body_mount: str
    length_mm: float
    needs: tuple[str, ...]
    tolerance_mm: float
    serves: tuple[WouldServe, ...]
    labels: tuple[str, ...]
    check: tuple[str, ...]
    refuse: tuple[LookAlikeRing, ...]


@frozen
class PlanReport:
    """The cheapest plan that meets as many demands as can be met. Money in the collection's currency.

    ``cost`` is what is bought less what is sold; none that meets as many costs less than ``bound``. ``carry_g`` is what
    the adapters that are used weigh in all, None where that of one is not known. ``look_for`` are rings that nobody
    lists: they have no price, and what they would meet is unmet.
    """

    status: Literal["optimal", "gap"]
    cost: float
    bound: float
    currency: str
    met: int
    demands: int
    bought: tuple[Bought, ...]
    sold: tuple[Bought, ...]
    serves: tuple[Served, ...]
    unmet: tuple[Unmet, ...]
    unpriced: tuple[Unpriced, ...]
    ruled_out: tuple[RuledOut, ...]
    spare: tuple[Spare, ...]
    carry_g: float | None
    look_for: tuple[LookFor, ...]

    @property
    def buy(self) -> dict[str, int]:
        """How many of each piece, by id."""
        numbers: dict[str, int] = {}
        for bought in self.bought:
            numbers[bought.id] = numbers.get(bought.id, 0) + bought.count
        return numbers


@frozen
class CurvePoint:
    """The cheapest way to meet at least ``met`` demands: what it buys. Not proven where ``bound`` is below ``cost``.

    ``slow`` of them work slowly.
    """

    met: int
    slow: int
    cost: float
    bound: float
    buys: tuple[Bought, ...]
    opens: tuple[str, ...]


@frozen
class Curve:
    """Money against demands met; ``without`` are plans that do without one piece of the best, dearest last."""

    steps: tuple[CurvePoint, ...]
    without: tuple[Without, ...]


@frozen
class Without:
    """What it would come to if a piece could not be had: fewer demands met, or more money; and what is bought then.

    ``near``: it meets as much for at most a twentieth more.
    """

    id: str
    name: str
    met: int
    cost: float
    proven: bool
    near: bool
    buys: tuple[str, ...]
