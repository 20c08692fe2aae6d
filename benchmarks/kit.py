"""A large kit: shelves found in, imports looked through and written, a value edited."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from functools import partial
from pathlib import Path

from benchmarks.market import market
from tropeion.api.imports_resource import look
from tropeion.core.answers.effects import effect_of
from tropeion.core.gear.folded_words import folded
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind, ShelfKind
from tropeion.core.gear.kit import Entry
from tropeion.core.gear.merge import merged
from tropeion.core.gear.references import check_references
from tropeion.core.gear.search import Wanted, search
from tropeion.core.gear.shelves import shelf_of
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.formats import gear_file
from tropeion.store.collection import Collection, Edit

__all__ = ["large", "measure"]

Report = Callable[..., None]


def large() -> Gear:
    """3,000 lenses, 200 bodies, 5,000 adapters."""
    return market(systems=60, adapters=5000, lenses=3000, bodies=200)


def _naive(world: World, kind: ShelfKind, word: str) -> tuple[str, ...]:
    """Every name folded anew for each question."""
    rows = shelf_of(world, kind).rows
    return tuple(row.id for row in rows if word in folded(f"{row.name} {row.mount} {row.detail}"))


def measure(report: Report, milliseconds: Callable[[Callable[[], object], int], float]) -> None:
    """Every figure of the issue, with the data of :func:`large`."""
    gear = large()
    world = compile_world(gear)
    kinds: tuple[ShelfKind, ...] = ("lenses", "adapters")
    for kind in kinds:
        found = milliseconds(lambda kind=kind: search(world, kind, Wanted(q="5")), 20)  # type: ignore[misc]
        naive = milliseconds(lambda kind=kind: _naive(world, kind, "5"), 5)  # type: ignore[misc]
        report(f"a keystroke over {len(getattr(gear, kind))} {kind}", found, 50, "ms", naive, "folding every name")
    data = gear_file.dump(gear)
    with tempfile.TemporaryDirectory() as folder, closing(Collection(Path(folder) / "kit.sqlite")) as collection:
        start = time.perf_counter()
        looked = look(data, "large.json", collection)
        chosen = {(change.kind, change.id) for change in looked.changes}
        whole = merged(collection.world().gear, looked.theirs, chosen)
        assert not check_references(whole)
        collection.replace(whole, "imported", lambda _done, _of: None)
        report(f"import of {len(looked.changes)} items, {len(data) / 1e6:.1f} MB", time.perf_counter() - start, 10, "s")
        collection.world()
        lens = collection.world().gear.lenses[7]

        def edit() -> None:
            entry = lens.model_copy(update={"notes": f"{time.perf_counter_ns()}"})
            collection.edit([Edit("lenses", lens.id, entry, collection.version("lenses", lens.id))], "edited")

        report("one lens edited and kept", milliseconds(edit, 5), 500, "ms")
        known = collection.world()
        adapter, body = known.gear.adapters[7], known.gear.bodies[3]
        changed: tuple[tuple[str, Kind, Entry, Entry], ...] = (
            ("a lens", "lenses", lens, lens.model_copy(update={"image_circle_mm": 20.0})),
            ("an adapter", "adapters", adapter, adapter.model_copy(update={"length_mm": adapter.length_mm + 0.1})),
            ("a body", "bodies", body, body.model_copy(update={"sensor_mm": (40.0, 30.0)})),
        )
        for name, of, one, other in changed:
            effect = milliseconds(partial(effect_of, known, of, one.id, other, Practice()), 5)
            report(f"what a change to {name} does, as it is typed", effect, 80, "ms")
