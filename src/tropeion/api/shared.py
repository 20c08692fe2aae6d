"""What the resources share."""

from __future__ import annotations

from typing import Annotated, Any, TypeVar, cast

from fastapi import Depends, Request, Response
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from tropeion.core.frame.question import LIMITS
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.records.record import Record
from tropeion.store.collection import Collection
from tropeion.store.errors import UnknownRecordError
from tropeion.store.records import Kept

R = TypeVar("R", bound=Record)
# The id of a lens or body with a changed mount is longer.
Id = Annotated[str, StringConstraints(min_length=1, max_length=150)]
# Several of them, by commas: the adapters of a chain from the lens to the body, or accessories.
Ids = Annotated[str, StringConstraints(max_length=600)]
# How a body of any bytes stands in the OpenAPI document.
BYTES: dict[str, object] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


def _collection(request: Request) -> Collection:
    return cast(Collection, request.app.state.collection)


CollectionOf = Annotated[Collection, Depends(_collection)]


async def _sent(request: Request) -> bytes:
    return await request.body()


# The whole body: an endpoint that takes it this way reads and writes in a thread of its own, off the event loop.
Sent = Annotated[bytes, Depends(_sent)]


def within(name: str) -> Any:
    """The bounds of a field of a frame's question."""
    low, high = LIMITS[name]
    return Field(ge=low, le=high)


FocalLength = Annotated[float, within("focal_length_mm")]
Aperture = Annotated[float, within("f_number")]
Shift = Annotated[float, within("shift_mm")]
SubjectHeight = Annotated[float, within("subject_m")]
SubjectDistance = Annotated[float, within("distance_m")]
LensHeight = Annotated[float, within("lens_m")]


class Written(BaseModel):
    """What is sent to be kept or judged: a field that it does not have is refused."""

    model_config = ConfigDict(extra="forbid")


class OfRig(BaseModel):
    """A rig; ``via`` are ids from the lens to the body, by commas."""

    lens: Id
    body: Id
    via: Ids = ""

    @property
    def rig(self) -> Rig:
        return Rig(self.lens, self.body, ids_in(self.via))


def standing(collection: Collection, model: type[R], id_: str) -> Kept[R]:
    """A record that counts. Raises UnknownRecordError."""
    kept = collection.record_of(model, id=id_)
    if kept is None or kept.record.struck:
        raise UnknownRecordError(model.called, id_)
    return kept


def attached(data: bytes, name: str, media_type: str) -> Response:
    """Bytes to be kept as a file."""
    return Response(data, media_type=media_type, headers={"content-disposition": f'attachment; filename="{name}"'})
