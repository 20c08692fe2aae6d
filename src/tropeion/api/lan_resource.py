"""One's own network: where the listener stands, who was let in, and a device that comes in."""

from __future__ import annotations

import io
from datetime import UTC, datetime
from typing import Annotated, Literal, cast

import segno
from fastapi import Depends, Request, Response
from pydantic import BaseModel, Field

from tropeion.core.frozen import frozen
from tropeion.core.gear.field_types import Name
from tropeion.core.records.record import RecordId
from tropeion.lan.addresses import Place
from tropeion.lan.paired import (
    UNUSED_DAYS,
    CodeRefusedError,
    CodeShown,
    Device,
    Happened,
    Paired,
    Right,
    TooManyDevicesError,
)

from .gates import GONE, Gate, Visit, cookie_of
from .problems import Problem, RefusedError
from .resource import resource
from .shared import Written

router = resource("/api/v1/lan", "lan")


@frozen
class ThisDevice:
    """The paired device that asks."""

    id: str
    name: str
    may: Right


@frozen
class LanState:
    """Where Tropeion is in the network, and who asks: ``device`` None is the machine itself.

    ``fingerprint`` is that of the authority to install on a phone; ``failed`` says what does not listen.
    """

    listens: bool
    urls: tuple[str, ...]
    names: tuple[str, ...]
    fingerprint: str | None
    failed: tuple[str, ...]
    device: ThisDevice | None


@frozen
class CodeAt:
    """Where a code is taken: the address with the code behind ``#``, and that as a picture (SVG)."""

    url: str
    plain_url: str
    qr_svg: str


@frozen
class CodePage:
    """A code that lets one device in, as it is typed and as it is read by a camera; empty: none is open."""

    code: str
    may: Right
    seconds_left: float
    at: tuple[CodeAt, ...]


@frozen
class DevicesPage:
    """The devices that may come in, and what happened at the listener, the latest first."""

    devices: tuple[Device, ...]
    happened: tuple[Happened, ...]
    now: str
    unused_days: int


class CodeAsked(Written):
    """What the device may that comes in by it."""

    may: Right = "log"


class DeviceChanged(Written):
    """What a device is called, and what it may."""

    name: Name
    may: Right


class CodeTyped(Written):
    """A code as it was read or typed, and what the device is called."""

    code: Annotated[str, Field(max_length=40)]
    name: Name


class PairedNow(BaseModel):
    """A device that was let in."""

    name: str
    may: Right
    kind: Literal["paired"] = "paired"


def _gate(request: Request) -> Gate | None:
    return cast(Gate | None, request.app.state.lan_gate)


def _paired(request: Request) -> Paired:
    gate = _gate(request)
    if gate is None or gate.paired is None:
        raise RefusedError(
            Problem(
                type="not_known",
                title="Not in the network",
                status=404,
                detail="Tropeion was started for this machine alone: start it with --lan",
            )
        )
    return gate.paired


PairedOf = Annotated[Paired, Depends(_paired)]


def _visit(request: Request) -> Visit | None:
    return cast(Visit | None, request.state.visit)


@router.get("")
def get_lan(request: Request) -> LanState:
    """Where Tropeion is in the network, and who asks."""
    gate, visit = _gate(request), _visit(request)
    listening = None if gate is None else gate.listening
    device = visit.device if visit else None
    me = None if device is None else ThisDevice(device.id, device.name, device.may)
    if listening is None:
        return LanState(False, (), (), None, (), me)
    urls = tuple(place.url for place in listening.places)
    fingerprint = listening.authority.fingerprint if listening.authority else None
    return LanState(True, urls, listening.names, fingerprint, tuple(listening.failed), me)


@router.get("/authority", response_class=Response)
def get_authority(request: Request, _: PairedOf) -> Response:
    """The authority's certificate, as a phone installs it."""
    gate = _gate(request)
    assert gate is not None
    assert gate.listening is not None
    if gate.listening.authority is None:
        raise RefusedError(Problem(type="not_known", title="There is no authority", status=404))
    headers = {"content-disposition": 'attachment; filename="tropeion-authority.crt"'}
    return Response(gate.listening.authority.der, media_type="application/x-x509-ca-cert", headers=headers)


def _page(request: Request, shown: CodeShown | None) -> CodePage:
    gate = _gate(request)
    places = gate.listening.places if gate and gate.listening else ()
    if shown is None:
        return CodePage("", "log", 0.0, ())
    written = f"{shown.code[:4]}-{shown.code[4:]}"
    return CodePage(written, shown.may, shown.seconds_left, tuple(_at(place, shown.code) for place in places))


def _at(place: Place, code: str) -> CodeAt:
    # Behind # it is never sent: it stays in the browser, and in no log.
    url = f"{place.url}#pair={code}"
    svg = io.BytesIO()
    segno.make(url, error="m", micro=False).save(svg, kind="svg", xmldecl=False, svgns=True, border=4, scale=4)
    return CodeAt(url, place.url, svg.getvalue().decode())


@router.get("/code")
def get_code(paired: PairedOf, request: Request) -> CodePage:
    """The code that is open; empty where none is."""
    return _page(request, paired.code())


@router.post("/code")
def post_code(asked: CodeAsked, paired: PairedOf, request: Request) -> CodePage:
    """A new code for one device, once, for five minutes; the one before is void."""
    return _page(request, paired.new_code(asked.may))


@router.delete("/code")
def delete_code(paired: PairedOf, request: Request) -> CodePage:
    """The code is void."""
    paired.withdraw_code()
    return _page(request, None)


@router.get("/devices")
def get_devices(paired: PairedOf) -> DevicesPage:
    """The devices that may come in, and what happened."""
    now = datetime.now(UTC).isoformat(timespec="seconds")
    return DevicesPage(paired.devices(), paired.happened(), now, UNUSED_DAYS)


@router.put("/devices/{id}")
def put_device(id: RecordId, changed: DeviceChanged, paired: PairedOf) -> Device:
    """What a device is called, and what it may, from now on."""
    device = paired.allow(id, changed.name, changed.may)
    if device is None:
        raise _no_device(id)
    return device


@router.delete("/devices/{id}")
def delete_device(id: RecordId, paired: PairedOf, request: Request) -> DevicesPage:
    """Revoke a device: from now on it is not known, and what it waits for is not answered."""
    gate = _gate(request)
    if gate is None or not gate.revoke(id):
        raise _no_device(id)
    return get_devices(paired)


def _no_device(id_: str) -> RefusedError:
    return RefusedError(Problem(type="unknown_id", title="No such device", status=404, kind="device", id=id_))


@router.post("/pair")
def post_pair(typed: CodeTyped, paired: PairedOf, request: Request, response: Response) -> PairedNow:
    """Come in by a code that the machine shows."""
    visit = _visit(request)
    if visit is None:
        raise RefusedError(
            Problem(type="not_allowed", title="Not from the machine itself", status=403, detail="It needs no pairing")
        )
    try:
        device, token = paired.pair(typed.code, typed.name, visit.address)
    except CodeRefusedError as error:
        raise RefusedError(Problem(type="invalid", title="Not let in", status=422, detail=str(error))) from None
    except TooManyDevicesError:
        full = "As many devices as there may be are paired: revoke one first"
        raise RefusedError(Problem(type="full", title="Too many devices", status=409, detail=full)) from None
    response.headers["set-cookie"] = cookie_of(token)
    return PairedNow(name=device.name, may=device.may)


@router.delete("/session")
def delete_session(request: Request, response: Response, _: PairedOf) -> Response:
    """This device is paired no more, by its own wish."""
    gate, visit = _gate(request), _visit(request)
    if gate is None or visit is None or visit.device is None:
        raise RefusedError(Problem(type="not_allowed", title="This is no paired device", status=403))
    # Answered before it is revoked: afterwards nothing is.
    response = Response(status_code=204, headers={"set-cookie": GONE})
    assert gate.paired is not None
    gate.paired.revoke(visit.device.id)
    return response
