"""What lenses become: tables of a whole market, beside judging every chain of it."""

from __future__ import annotations

import time
from collections.abc import Callable

from benchmarks.market import market
from tropeion.core.becomes.becoming_tables import lens_on_bodies, lenses_of, lenses_on_body
from tropeion.core.becomes.reference import FULL_FRAME, reference_of
from tropeion.core.becomes.wish import Wish, wish_of
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.table import table_of

__all__ = ["measure"]

# Of so many of the 300 lenses the naive way is waited for.
TRIED = 20
Report = Callable[..., None]
PLAIN = Practice()


def measure(report: Report) -> None:
    """300 lenses, 30 bodies, 1000 adapters: the first answer after a change, and one with another reference."""
    world = compile_world(market())
    lenses, bodies = lenses_of(world, "all"), world.gear.bodies
    naive = _naive_ms(world) * len(lenses) / TRIED
    asked: list[tuple[str, Callable[[str | None], object]]] = [
        ("a lens on 30 bodies", lambda ref: lens_on_bodies(world, lenses[0], bodies, reference_of(world, ref), PLAIN)),
        ("300 lenses on a body", lambda ref: lenses_on_body(world, bodies[0], lenses, reference_of(world, ref), PLAIN)),
    ]
    for name, ask in asked:
        by = "judging every chain" if name.startswith("300") else ""
        report(f"becomes: {name}, at first", _once_ms(ask, None), 100, "ms", naive if by else None, by)
        report(f"becomes: {name}, another reference", _once_ms(ask, bodies[1].id), 200, "ms")
    # A wish looks at the same ways.
    wish = Wish(50.0, 2.8)
    found = _once_ms(lambda _: wish_of(world, bodies[2].id, wish, FULL_FRAME, PLAIN, lenses), None)
    report("becomes: a wish over 300 lenses, at first", found, 200, "ms", naive, "judging every chain")


def _once_ms(ask: Callable[[str | None], object], ref: str | None) -> float:
    start = time.perf_counter()
    ask(ref)
    return (time.perf_counter() - start) * 1000


def _naive_ms(world: World) -> float:
    """Every chain of some lenses onto one body, judged."""
    start = time.perf_counter()
    body = world.gear.bodies[0]
    for lens in world.gear.mounted[:TRIED]:
        table = table_of(world, lens, body, 3)
        for row in range(len(table)):
            assess(world, lens, table.adapters(row), body, PLAIN)
    return (time.perf_counter() - start) * 1000
