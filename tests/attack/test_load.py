"""Twenty clients at once: no fault, no lost update, and every read is a state that existed."""

from __future__ import annotations

import json
import random
import sqlite3
import threading
import time
from collections import Counter
from contextlib import closing
from pathlib import Path

import httpx

from tests.attack.conftest import LOAD_S
from tests.conftest import Serve
from tropeion.core.gear.gear import Gear
from tropeion.store.collection import Collection

LENSES = ("kel-55", "kel-45", "kel-85", "grm-98", "tpr-36")
CLIENTS = {"edit": 10, "read": 5, "match": 5}
EDITS = 20

Prices = tuple[float | None, ...]


class Clients:
    """What all clients share: the end, what they were answered, and what they did."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.until = time.monotonic() + LOAD_S
        self.codes: Counter[int] = Counter()
        self.edits: Counter[str] = Counter()
        self.seen: set[Prices] = set()
        self.wrong: list[str] = []
        self.routes: dict[str, set[tuple[str, ...]]] = {}
        self._lock = threading.Lock()

    def tell(self, answer: httpx.Response) -> None:
        with self._lock:
            self.codes[answer.status_code] += 1
            if answer.status_code >= 500:
                self.wrong.append(f"{answer.request.method} {answer.request.url}: {answer.text[:200]}")

    def edit(self, client: httpx.Client, chance: random.Random) -> None:
        """One more than was read: a lost update shows in the sum."""
        lens = chance.choice(LENSES)
        page = client.get(f"/kit/lenses/items/{lens}").json()
        item = {**page["item"], "price": (page["item"].get("price") or 0) + 1}
        answer = client.put(f"/kit/lenses/items/{lens}", json={"version": page["version"], "item": item})
        self.tell(answer)
        if answer.status_code == 200:
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
        with httpx.Client(base_url=f"{self.address}/api/v1", timeout=60) as client:
            while time.monotonic() < self.until or not self.enough():
                getattr(self, deed)(client, chance)

    def enough(self) -> bool:
        """Whether the clients came to something, however slow the machine; after a minute more it is told as it is."""
        return sum(self.edits.values()) > EDITS or time.monotonic() > self.until + 60


def test_twenty_clients_lose_nothing_and_see_what_was(serve: Serve, tmp_path: Path, sample_gear: Gear) -> None:
    collection = Collection(tmp_path / "collection.sqlite")
    priced = tuple(one.model_copy(update={"price": 0.0}) for one in sample_gear.lenses)
    collection.replace(sample_gear.model_copy(update={"lenses": priced}))
    shared = Clients(serve(collection).address)
    with httpx.Client(base_url=f"{shared.address}/api/v1", timeout=60) as client:
        shared.routes = {lens: shared.routes_of(client, lens) for lens in LENSES}
    shared.until = time.monotonic() + LOAD_S
    every = [(deed, number) for deed, count in CLIENTS.items() for number in range(count)]
    threads = [threading.Thread(target=shared.run, args=one) for one in every]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert shared.wrong == []
    assert set(shared.codes) <= {200, 409}, shared.codes
    # All of them came to something, and they did meet.
    assert sum(shared.edits.values()) > EDITS
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
