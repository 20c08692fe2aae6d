"""What a paired device may do, route by route. A route that is not listed is for the machine alone.

``read`` and ``log`` are for every device, ``change`` for one that may do everything that is not for the machine.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Final, Literal

from tropeion.lan.paired import Right

Needs = Literal["read", "log", "change", "machine"]

# By path below /api/v1: what each method needs. Paths with fixed parts stand before those with parameters.
RIGHTS: Final[dict[str, dict[str, Needs]]] = {
    "/backup": {"GET": "machine"},
    "/restore": {"POST": "machine"},
    "/restore/{token}": {"POST": "machine"},
    "/becomes/lens": {"GET": "read"},
    "/becomes/lens/table": {"GET": "read"},
    "/becomes/body": {"GET": "read"},
    "/becomes/body/table": {"GET": "read"},
    "/becomes/wish": {"GET": "read"},
    "/becomes/rig": {"GET": "read"},
    "/becomes/closer": {"GET": "read"},
    "/becomes/beside": {"GET": "read"},
    "/becomes/view": {"GET": "read"},
    "/begin/body": {"POST": "change"},
    "/begin/lens": {"POST": "change"},
    "/begin/lenses/read": {"POST": "read"},
    "/begin/lenses": {"POST": "change"},
    "/begin/ring": {"POST": "change"},
    "/bench/piece": {"GET": "read"},
    "/bench/readings": {"POST": "read"},
    "/bench/series": {"POST": "change"},
    "/bench/series/{id}/readings/{place}": {"PUT": "change"},
    "/bench/preview": {"POST": "read"},
    "/bench/write": {"POST": "change"},
    "/bench/seen": {"POST": "read"},
    "/bench/trials": {"GET": "read", "POST": "change"},
    "/bench/causes": {"POST": "read"},
    "/bench/differences": {"GET": "read"},
    "/bench/pieces": {"GET": "read"},
    "/bench/holding": {"POST": "read"},
    "/bench/mountless": {"GET": "read"},
    "/bench/thread": {"POST": "read"},
    "/bench/throw": {"GET": "read"},
    "/bench/caliper": {"POST": "machine"},
    "/bench/ports": {"GET": "machine"},
    "/bench/port": {"POST": "machine"},
    "/buying/options": {"POST": "read"},
    "/buying/variants": {"GET": "read"},
    "/buying/filters": {"POST": "read"},
    "/camera": {"GET": "machine", "POST": "machine"},
    "/cards": {"GET": "read", "PUT": "log"},
    "/code/nearest": {"GET": "read"},
    "/code/read": {"GET": "read"},
    "/code/template": {"GET": "read"},
    "/corners": {"GET": "read", "POST": "change"},
    "/deeds": {"POST": "log"},
    "/evidence": {"GET": "read"},
    "/exercises": {"GET": "read"},
    "/exercises/question": {"GET": "read"},
    "/exercises/answers": {"POST": "log"},
    "/exercises/sheet": {"GET": "read"},
    "/exercises/table": {"GET": "read"},
    "/export": {"GET": "read", "POST": "read"},
    "/fits": {"GET": "read"},
    "/frame": {"GET": "read"},
    "/frame/picture": {"GET": "read"},
    "/frame/sighting": {"GET": "read"},
    "/gallery": {"GET": "read"},
    "/gear": {"GET": "read", "PUT": "machine"},
    "/gear/sample": {"POST": "machine"},
    "/grid": {"GET": "read"},
    "/grid/why": {"GET": "read"},
    "/grid/change": {"POST": "read"},
    "/grid/compare": {"POST": "read"},
    "/grid/bodies": {"GET": "read"},
    "/grid/csv": {"GET": "read"},
    "/history": {"GET": "read"},
    "/history/keep": {"PUT": "machine"},
    "/undo": {"POST": "change"},
    "/redo": {"POST": "change"},
    "/import": {"POST": "machine"},
    "/import/{token}": {"POST": "machine"},
    "/joints": {"GET": "read"},
    "/kit/{kind}": {"GET": "read"},
    "/kit/{kind}/find": {"GET": "read"},
    "/kit/{kind}/usual": {"GET": "read"},
    "/kit/{kind}/items/{id}": {"GET": "read", "PUT": "change", "DELETE": "machine"},
    "/kit/{kind}/items": {"POST": "change"},
    "/kit/{kind}/remove": {"POST": "machine"},
    "/kit/{kind}/retire": {"POST": "machine"},
    "/kit/{kind}/effect": {"POST": "read"},
    "/label": {"GET": "read"},
    "/lan": {"GET": "read"},
    "/lan/authority": {"GET": "read"},
    "/lan/code": {"GET": "machine", "POST": "machine", "DELETE": "machine"},
    "/lan/devices": {"GET": "machine"},
    "/lan/devices/{id}": {"PUT": "machine", "DELETE": "machine"},
    "/lan/pair": {"POST": "read"},
    "/lan/session": {"DELETE": "read"},
    "/lens-read": {"GET": "read"},
    "/log/assignments": {"POST": "machine"},
    "/log/cameras": {"POST": "machine"},
    "/log/drops": {"POST": "machine"},
    "/log/drops/{number}/files": {"POST": "machine"},
    "/log/entries": {"GET": "read", "POST": "log"},
    "/log/entries/check": {"POST": "read"},
    "/log/entries/{id}": {"PUT": "log"},
    "/log/file": {"GET": "read", "POST": "machine"},
    "/log/folders/{number}": {"GET": "machine"},
    "/log/folders/{number}/clocks": {"POST": "machine"},
    "/log/folders/{number}/pictures": {"GET": "machine"},
    "/log/folders/{number}/read": {"POST": "machine"},
    "/log/folders/{number}/sidecars": {"GET": "machine", "POST": "machine"},
    "/log/folders/{number}/table": {"GET": "machine"},
    "/log/pictures/{number}/crop": {"GET": "machine"},
    "/log/pictures/{number}/thumbnail": {"GET": "machine"},
    "/log/readings/{id}": {"GET": "machine", "DELETE": "machine"},
    "/log/rig": {"GET": "read"},
    "/log/rigs": {"GET": "read"},
    "/log/rolls": {"GET": "read", "PUT": "log"},
    "/log/schema": {"GET": "read"},
    "/log/sources": {"GET": "machine"},
    "/log/table": {"GET": "read"},
    "/match": {"GET": "read"},
    "/match/distance": {"GET": "read"},
    "/match/working": {"GET": "read"},
    "/mount-candidates": {"GET": "read"},
    "/measured/chart": {"GET": "read"},
    "/measured/compare": {"GET": "read"},
    "/measured/kept": {"GET": "read", "POST": "machine"},
    "/measured/pictures": {"POST": "machine"},
    "/measured/pictures/log/{number}": {"POST": "machine"},
    "/measured/pictures/sample": {"POST": "machine"},
    "/measured/pictures/{id}/view": {"GET": "machine"},
    "/measured/work": {"POST": "machine"},
    "/measured/work/{id}": {"GET": "machine", "DELETE": "machine"},
    "/mounts": {"GET": "read"},
    "/mounts/{id}": {"GET": "read"},
    "/mounts/{id}/key": {"GET": "read"},
    "/outings": {"GET": "read", "POST": "change"},
    "/outings/{id}": {"GET": "read", "PUT": "change"},
    "/pieces/away": {"GET": "read"},
    "/pieces/events": {"POST": "change"},
    "/pieces/used": {"GET": "read"},
    "/pieces/used/table": {"GET": "read"},
    "/pieces/{kind}/{id}/record": {"GET": "read"},
    "/plans/work": {"POST": "read"},
    "/plans/work/{id}": {"GET": "read", "DELETE": "read"},
    "/plans": {"GET": "read", "POST": "change"},
    "/plans/{id}": {"GET": "read", "PUT": "change"},
    "/plans/{id}/kept": {"PUT": "change"},
    "/pocket": {"GET": "read"},
    "/practice": {"PUT": "change"},
    "/records/{kind}": {"GET": "read"},
    "/records/{kind}/{id}": {"GET": "read"},
    "/records/log_entries/{id}/strike": {"POST": "log"},
    "/records/{kind}/{id}/strike": {"POST": "change"},
    "/rigs": {"GET": "read"},
    "/schema": {"GET": "read"},
    "/setup": {"GET": "read"},
    "/start": {"GET": "read"},
    "/stored": {"GET": "read", "PUT": "change"},
    "/subjects": {"PUT": "change"},
    "/trials": {"GET": "read", "POST": "log"},
    "/would-fit": {"GET": "read"},
}
_BASE: Final = "/api/v1"
# A device comes in by it, and has no session before.
PAIR_PATH: Final = f"{_BASE}/lan/pair"


def _patterns() -> Iterator[tuple[re.Pattern[str], dict[str, Needs]]]:
    for path, methods in RIGHTS.items():
        parts = re.split(r"\{[a-z]+\}", path)
        yield re.compile(_BASE + "[^/]+".join(re.escape(part) for part in parts)), methods


_PATTERNS: Final = tuple(_patterns())


def right_of(method: str, path: str) -> Needs | None:
    """What a request needs; None where nothing of the kind is listed."""
    return next((methods.get(method) for pattern, methods in _PATTERNS if pattern.fullmatch(path)), None)


def may(right: Right, method: str, path: str) -> bool:
    """Whether a device of this right may ask for it."""
    needs = right_of(method, path)
    return needs in {"read", "log"} or (needs == "change" and right == "most")
