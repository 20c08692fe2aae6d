"""Twenty clients at once: no fault, no lost update, and every read is a state that existed."""

from __future__ import annotations

import json
import random
import sqlite3
import threading
from collections import Counter
from contextlib import closing
from pathlib import Path

import httpx
import pytest

from tests.conftest import Serve
from tests.limits import LIMIT_S, client_of
from tests.thorough import EVERYWHERE
from tropeion.core.gear.gear import Gear
from tropeion.store.collection import Collection

LENSES = ("kel-55", "kel-45", "kel-85", "grm-98", "tpr-36")
# How many clients of a kind, and how often each does it.
CLIENTS = {"edit": 10, "read": 5, "match": 5}
ROUNDS = {"edit": 40, "read": 60, "match": 40} if EVERYWHERE else {"edit": 2, "read": 2, "match": 1}

Prices = tuple[float | None, ...]


class Clients:
    """What all clients share: the end, what they were answered, and what they did."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.together = threading.Barrier(sum(CLIENTS.values()))
        self.codes: Counter[int] = Counter()
        self.edits: Counter[str] = Counter()
        self.seen: set[Prices] = set()
        self.wrong: list[str] = []
        self.routes: dict[str, set[tuple[str, ...]]] = {}
        self._lock = threading.Lock()

    def tell(self, answer: httpx.Response) -> None:
        with self._lock:
            self.codes[answer.status_code] += 1
            # On a machine that is slow enough, a write is turned away with words, and comes again.
            if answer.status_code >= 500 and answer.json().get("type") != "busy":
                self.wrong.append(f"{answer.request.method} {answer.request.url}: {answer.text[:200]}")

    def edit(self, client: httpx.Client, chance: random.Random) -> None:
        """One more than was read, again until it is taken: a lost update shows in the sum."""
        lens = chance.choice(LENSES)
        code = None
        while code != 200:
            page = client.get(f"/kit/lenses/items/{lens}").json()
            item = {**page["item"], "price": (page["item"].get("price") or 0) + 1}
            answer = client.put(f"/kit/lenses/items/{lens}", json={"version": page["version"], "item": item})
            self.tell(answer)
            code = answer.status_code
            assert code in {200, 409, 503}, answer.text
        with self._lock:
            self.edits[lens] += 1

    def read(self, client: httpx.Client, _: random.Random) -> None:
        answer = client.get("/gear")
        self.tell(answer)
        prices = {one["id"]: one.get("price") for one in answer.json()["lenses"]}
        with self._lock:
            self.seen.add(tuple(prices[lens] for lens in LENSES))

    def match(self, client: httpx.Client, chance: random.Random) -> None:
        """The price of a lens changes none of its routes: whatever is lost, some cache lost it."""
        lens = chance.choice(LENSES)
        routes = self.routes_of(client, lens)
        with self._lock:
            self.wrong += [f"{lens} lost its routes"] if routes != self.routes[lens] else []
        self.tell(client.get("/fits", params={"lens": lens}))

    def routes_of(self, client: httpx.Client, lens: str) -> set[tuple[str, ...]]:
        answer = client.get("/match", params={"lens": lens, "body": "o7"})
        self.tell(answer)
        return {tuple(route["adapters"]) for route in answer.json()["routes"]}

    def run(self, deed: str, number: int) -> None:
        chance = random.Random(f"{deed} {number}")
        with client_of(f"{self.address}/api/v1") as client:
            self.together.wait(LIMIT_S)
            for _ in range(ROUNDS[deed]):
                getattr(self, deed)(client, chance)


@pytest.mark.attack
def test_twenty_clients_lose_nothing_and_see_what_was(serve: Serve, tmp_path: Path, sample_gear: Gear) -> None:
    collection = Collection(tmp_path / "collection.sqlite")
    priced = tuple(one.model_copy(update={"price": 0.0}) for one in sample_gear.lenses)
    collection.replace(sample_gear.model_copy(update={"lenses": priced}))
    shared = Clients(serve(collection).address)
    with client_of(f"{shared.address}/api/v1") as client:
        shared.routes = {lens: shared.routes_of(client, lens) for lens in LENSES}
    every = [(deed, number) for deed, count in CLIENTS.items() for number in range(count)]
    threads = [threading.Thread(target=shared.run, args=one) for one in every]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert shared.wrong == []
    assert set(shared.codes) <= {200, 409, 503}, shared.codes
    assert sum(shared.edits.values()) == CLIENTS["edit"] * ROUNDS["edit"]
    final = {one.id: one.price for one in collection.gear().lenses}
    assert {lens: final[lens] for lens in LENSES} == {lens: float(shared.edits[lens]) for lens in LENSES}
    existed = _states(collection.path)
    assert shared.seen <= existed


def _states(path: Path) -> set[Prices]:
    """Every state that there was, from the journal."""
    prices: dict[str, float | None] = dict.fromkeys(LENSES, 0.0)
    states = {tuple(prices[lens] for lens in LENSES)}
    with closing(sqlite3.connect(path)) as connection:
        for id_, after in connection.execute(
            "SELECT item_id, after FROM journal WHERE kind = 'lenses' ORDER BY sequence"
        ):
            if id_ in prices:
                prices[id_] = json.loads(after).get("price")
                states.add(tuple(prices[lens] for lens in LENSES))
    return states
