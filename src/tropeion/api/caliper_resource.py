"""The caliper of the bench: a simulated one whose jaws are moved on the screen, or one at a serial port."""

from __future__ import annotations

from typing import Annotated, Literal, cast

from fastapi import Query, Request
from pydantic import BaseModel, Field

from tropeion.core.bench.quantities import bench_piece, quantity_of
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.kinds import JoinedKind
from tropeion.devices.caliper_line import CaliperError
from tropeion.devices.calipers import Calipers
from tropeion.devices.simulated_caliper import CaliperState, SimulatedCaliper, copy_of

from .resource import resource
from .shared import CollectionOf, Id, Written

router = resource("/api/v1/bench", "bench")


class _Asked(BaseModel):
    """What is between the jaws."""

    kind: JoinedKind
    id: Id
    quantity: str = Field(min_length=1, max_length=120)


class CaliperDone(Written):
    """What is done: jaws moved to an opening in mm, gone to a place in degrees, read, or closed to see its zero."""

    do: Literal["state", "jaws", "place", "read", "closed"] = "state"
    value: Annotated[float, Field(allow_inf_nan=False)] | None = None


class CaliperShown(BaseModel):
    """How the simulated caliper stands, and a reading if one was taken. ``port``: where other programs reach it."""

    state: CaliperState
    reading_mm: float | None
    port: str


class PortRead(Written):
    """The port of a caliper."""

    port: Annotated[str, Field(min_length=1, max_length=200)]


class ReadingOf(BaseModel):
    """One reading in mm."""

    reading_mm: float


class Port(BaseModel):
    """A serial port of this machine."""

    port: str
    name: str


def _calipers(request: Request) -> Calipers:
    return cast(Calipers, request.app.state.calipers)


@router.post("/caliper")
def post_caliper(
    done: CaliperDone, asked: Annotated[_Asked, Query()], collection: CollectionOf, request: Request
) -> CaliperShown:
    """Work the simulated caliper. It measures an invented copy of the piece, and says nothing of the real one."""
    calipers = _calipers(request)
    piece = bench_piece(collection.world(), asked.kind, asked.id)
    try:
        quantity = quantity_of(piece, asked.quantity)
    except ValueError as error:
        raise NotPossibleError("quantity", str(error)) from None
    nominal = quantity.nominal_mm
    if nominal is None:
        raise NotPossibleError(
            "quantity", "nobody stated this length: a simulated caliper has nothing to measure. Type, or name a port"
        )
    what = f"{asked.kind} {asked.id} {asked.quantity} {nominal}"

    def worked(caliper: SimulatedCaliper) -> CaliperShown:
        reading = None
        if done.do == "jaws" and done.value is not None:
            caliper.move_to(done.value)
        elif done.do == "place" and done.value is not None:
            caliper.turn_to(done.value)
        elif done.do == "read":
            reading = caliper.read()
        elif done.do == "closed":
            reading = caliper.close_to_zero()
        elif done.do != "state":
            raise ValueError("a value is wanted")
        return CaliperShown(state=caliper.state(), reading_mm=reading, port=calipers.port)

    def made() -> SimulatedCaliper:
        return SimulatedCaliper(copy_of(what, nominal, quantity.tolerance_or_usual_mm), quantity.jaws)

    try:
        return calipers.about(what, made, worked)
    except (ValueError, CaliperError) as error:
        raise NotPossibleError("value", str(error)) from None


@router.get("/ports")
def get_ports(request: Request) -> list[Port]:
    """Serial ports that a caliper may be at; a simulated one that was started apart stands first."""
    return [Port(port=port, name=name) for port, name in _calipers(request).ports()]


@router.post("/port")
def post_port(asked: PortRead, request: Request) -> ReadingOf:
    """One reading of the caliper at a port of those that are listed; no other device is opened."""
    try:
        return ReadingOf(reading_mm=_calipers(request).read_at(asked.port))
    except CaliperError as error:
        raise NotPossibleError("port", str(error)) from None
