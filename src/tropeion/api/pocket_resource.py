"""What a phone carries: made once for each state of the collection, in the background."""

from __future__ import annotations

import threading
import time
from typing import Annotated, Final, Literal, cast

from fastapi import Depends, Query, Request, Response
from pydantic import BaseModel

from tropeion.core.asking import asked_by
from tropeion.core.gear.rig import Rig
from tropeion.core.pocket.gathering import Carried, gather
from tropeion.core.pocket.pocket_document import Pocket
from tropeion.core.records.outing_record import Outing
from tropeion.core.records.record import now
from tropeion.formats.pocket_json import dump_pocket
from tropeion.store.collection import Collection

from .resource import resource
from .shared import CollectionOf
from .work import Work, Works

router = resource("/api/v1/pocket", "pocket")
# Nobody waits any more: whoever waits asks every second.
_PATIENCE_S: Final = 30.0


class PocketAnswer(BaseModel):
    """What is carried, where it is not what the device has already; else how far it has come.

    ``standing`` is what the collection comes to just now. ``now`` is the clock of this machine.
    """

    state: Literal["ready", "same", "making", "failed"]
    collection: str
    standing: str
    now: str
    done: int
    total: int
    why: str = ""
    pocket: Pocket | None = None


class Pockets:
    """The latest document, and the making of the next."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._works = Works[bytes]("What is carried is being gathered already")
        self._work: Work[bytes] | None = None
        self._asked_s = 0.0

    def of(self, collection: Collection, standing: str) -> Work[bytes]:
        """The making of the document for this state, begun where nobody did."""
        with self._lock:
            self._asked_s = time.monotonic()
            work = self._work
            ended = work is not None and work.state in {"stopped", "failed"}
            if work is None or work.about != standing or (ended and work.seconds_since_end() > 1.0):
                if work is not None:
                    work.progress.stop.set()
                work = self._work = self._works.begin(lambda work: self._make(collection, work), standing)
            return work

    def _make(self, collection: Collection, work: Work[bytes]) -> bytes:
        def told(done: int, total: int) -> None:
            work.progress.done, work.progress.total = done, total

        def over() -> bool:
            return work.progress.stop.is_set() or time.monotonic() - self._asked_s > _PATIENCE_S

        with asked_by(over):
            pocket = gather(collection.world(), carried_of(collection, str(work.about)), told)
        return dump_pocket(pocket)[1]

    def close(self) -> None:
        """Stop what goes on."""
        self._works.close()


def carried_of(collection: Collection, standing: str) -> Carried:
    """What is gathered of a collection."""
    entries = collection.entries(500)
    logged = dict.fromkeys(
        Rig(kept.record.lens, kept.record.body, kept.record.via) for kept in entries if not kept.record.struck
    )
    return Carried(
        collection=collection.id,
        standing=standing,
        made_at=now(),
        practice=collection.practice(),
        outings=[kept.record for kept in collection.records_of(Outing, struck=False)],
        logged=list(logged),
    )


def _pockets(request: Request) -> Pockets:
    return cast(Pockets, request.app.state.pockets)


@router.get("", response_model=PocketAnswer)
def get_pocket(
    collection: CollectionOf,
    pockets: Annotated[Pockets, Depends(_pockets)],
    have: Annotated[str, Query(max_length=64)] = "",
) -> Response:
    """What is carried; ``have`` is the standing of what the device has. While it is made, ask again."""
    standing = collection.standing((Outing,))
    answer = PocketAnswer(
        state="same", collection=collection.id, standing=standing, now=now(), done=0, total=0, pocket=None
    )
    data = b"null"
    if have != standing:
        work = pockets.of(collection, standing)
        answer.done, answer.total = work.progress.done, work.progress.total
        answer.state = "making" if work.state == "working" else "failed"
        answer.why = "" if work.error is None else str(work.error)
        if work.state == "done" and work.answer is not None:
            answer.state, data = "ready", work.answer
    # The document is in JSON already.
    head = answer.model_dump_json(exclude={"pocket"}).encode()
    return Response(head[:-1] + b',"pocket":' + data + b"}", media_type="application/json")
