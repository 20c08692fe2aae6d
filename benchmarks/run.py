"""How fast: each figure beside its bound and beside a naive way of doing the same, measured in the same run.

The machines are noisy, so these are no tests; read the ratio first.
"""

from __future__ import annotations

import gzip
import json
import random
import re
import resource
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx

from benchmarks import becomes, browser, frame, growth, history, kit, log, measured, plan, pocket
from benchmarks.market import market
from benchmarks.rings import rings_both_ways
from tropeion.api.app import WEB_FILES
from tropeion.api.server import collects_rarely
from tropeion.core.answers.route_list import route_list
from tropeion.core.answers.systems import systems_report
from tropeion.core.findings import Grade, rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.search import Wanted, search
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.grades import best_grades
from tropeion.core.routes.match import match
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes
from tropeion.store.collection import Collection


def milliseconds(action: Callable[[], object], rounds: int) -> float:
    """Median time of one call."""
    action()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return statistics.median(times) * 1000


def report(what: str, found: float, bound: float, unit: str, naive: float | None = None, by: str = "") -> None:
    mark = "ok  " if found <= bound else "OVER"
    beside = f"   {naive / found:6.1f} × faster than {by} ({naive:.2f} {unit})" if naive else ""
    print(f"{mark} {what:<58} {found:8.2f} {unit:<3} of {bound:g}{beside}", flush=True)


def many_lenses(gear: Gear, count: int) -> Gear:
    """The sample world with ``count`` lenses of made-up names."""
    dice = random.Random(46)
    syllables = ["bel", "cor", "dan", "fen", "gar", "hol", "lin", "mor", "nev", "ost", "pir", "ran", "sel", "tur"]
    lenses = []
    for number in range(count):
        model = dice.choice(gear.mounted)
        name = "".join(dice.choices(syllables, k=2)).title()
        focal = dice.choice([24, 28, 35, 50, 85, 105, 135, 200])
        lens: Lens = model.model_copy(update={"id": f"lens-{number}", "name": f"{name} {focal}/{model.f_number[0]:g}"})
        lenses.append(lens)
    return gear.model_copy(update={"lenses": tuple(lenses), "rigs": ()})


def core(world: World) -> None:
    pairs = [
        (lens, body)
        for lens in (one.id for one in world.gear.mounted)
        for body in world.bodies
        if match(world, lens, body).routes
    ]
    slowest = max(pairs, key=lambda pair: match(world, *pair).total)
    one = Practice(pieces="1")

    def from_the_file() -> object:
        return match(compile_world(gear_file.load(sample_bytes())), *slowest, one)

    names = " on ".join(slowest)
    found = milliseconds(lambda: match(world, *slowest, one), 100)
    naive = milliseconds(from_the_file, 10)
    report(f"core: {names}, one adapter at most", found, 5, "ms", naive, "reading the file each time")
    ways = match(world, *slowest).total
    report(f"core: {names}, chains of three, {ways} ways", milliseconds(lambda: match(world, *slowest), 40), 20, "ms")
    found = statistics.median(milliseconds(lambda pair=pair: match(world, *pair), 3) for pair in pairs)  # type: ignore[misc]
    report(f"core: median of all {len(pairs)} pairs that fit", found, 20, "ms")


def plain_search(world: World, lens: Lens, body: Body, most: int) -> Grade | None:
    """The best grade of a pair by a plain depth-first search that judges every chain of pieces."""
    goal = world.mounts[body.mount].joint
    best: Grade | None = None

    def walk(at: str, chain: tuple[Adapter, ...]) -> None:
        nonlocal best
        if at == goal:
            grade = assess(world, lens, chain, body, Practice()).grade
            if best is None or rank(grade) > rank(best):
                best = grade
        if len(chain) < most:
            for adapter in world.gear.adapters:
                if world.mounts[adapter.lens_mount].joint == at and adapter not in chain:
                    walk(world.mounts[adapter.body_mount].joint, (*chain, adapter))

    walk(world.mount_of(lens).joint, ())
    return best


def whole_market() -> None:
    """300 lenses × 30 bodies, 1,000 adapters in 60 systems, chains to three."""
    world = compile_world(market())
    lenses, bodies = world.gear.lenses, world.gear.bodies
    dice = random.Random(7)
    pairs = [(dice.choice(lenses), dice.choice(bodies)) for _ in range(60)]
    route_list(world, pairs[0][0].id, pairs[0][1].id, Practice())
    times = []
    for lens, body in pairs:
        start = time.perf_counter()
        route_list(world, lens.id, body.id, Practice())
        times.append((time.perf_counter() - start) * 1000)
    report("market: a new pair, as its screen asks for it, median", statistics.median(times), 5, "ms")
    again = [milliseconds(lambda pair=pair: route_list(world, pair[0].id, pair[1].id, Practice()), 1) for pair in pairs]  # type: ignore[misc]
    report("market: a pair after the first time, 95th percentile", sorted(again)[56], 20, "ms")
    sample = [(lens, body) for lens, body in pairs[:6]]
    start = time.perf_counter()
    slow = [plain_search(world, lens, body, 3) for lens, body in sample]
    naive = (time.perf_counter() - start) / len(sample) * len(lenses) * len(bodies) * 1000
    fresh = compile_world(world.gear)
    start = time.perf_counter()
    grades = best_grades(fresh, lenses, bodies, Practice())
    found = (time.perf_counter() - start) * 1000
    assert [grades[lens.id, body.id] for lens, body in sample] == slow
    report(
        f"market: best grades of {len(lenses)} × {len(bodies)}", found, 600, "ms", naive, "plain search, extrapolated"
    )
    _systems()
    _rings()
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    report("market: memory of the whole process", memory, 300, "MB")


def _systems() -> None:
    """Every system against every other: at first, and where the whole kit has been looked at."""
    world = compile_world(market(systems=100))
    start = time.perf_counter()
    systems_report(world, Practice())
    first = (time.perf_counter() - start) * 1000
    report("market: matrix of 100 systems, at first", first, 100, "ms")
    again = milliseconds(lambda: systems_report(world, Practice()), 3)
    report("market: the same, where the grid is known", again, 100, "ms", first, "judging every pair")


def _rings() -> None:
    """A hundred rings between two mounts, and as many back: a million chains of three."""
    few = compile_world(rings_both_ways(8))
    start = time.perf_counter()
    plain_search(few, few.gear.lenses[0], few.gear.bodies[0], 3)
    naive = (time.perf_counter() - start) * (100 / 8) ** 3
    world = compile_world(rings_both_ways(100))
    start = time.perf_counter()
    match(world, "l0", "b0")
    took = time.perf_counter() - start
    report("market: chains of three, 100 rings on each side", took, 1, "s", naive, "plain search, extrapolated")


def api(gear: Gear) -> None:
    with tempfile.TemporaryDirectory() as folder:
        collection = Collection(Path(folder) / "demo.sqlite")
        collection.replace(gear)
        with served(folder) as (address, _), httpx.Client(base_url=address) as client:
            query = {"lens": "kel-55", "body": "o7"}

            def afresh() -> object:
                return match(compile_world(collection.gear()), "kel-55", "o7")

            found = milliseconds(lambda: client.get("/api/v1/match", params=query).raise_for_status(), 100)
            report("API: one pair over HTTP, median", found, 10, "ms", milliseconds(afresh, 10), "reading the store")
            screen(address, gear)
        with served(folder) as (address, pid), httpx.Client(base_url=address) as client:
            memory(client, pid, gear)
        with served(folder) as (address, _), httpx.Client(base_url=address) as client:
            collection.replace(many_lenses(gear, 2000))
            found = statistics.mean(
                milliseconds(lambda q=q: keystroke(client, q), 30)  # type: ignore[misc]
                for q in ("b", "be", "bel", "klv 5", "klv 50", "m46 135")
            )
            world = collection.world()
            report("API: a keystroke over 2,000 lenses", found, 50, "ms", naive_search(world), "scanning the documents")
            nearest = Wanted(q="klv 50", sort="nearest")
            report("core: the same search", milliseconds(lambda: search(world, "lenses", nearest), 50), 50, "ms")
            if shutil.which("chromium"):
                with browser.browser() as driver:
                    found = browser.keystroke(driver, address)
                report("browser: from keystroke to the new list, median", found, 30, "ms")
        collection.close()


def keystroke(client: httpx.Client, q: str) -> None:
    """What a picker asks for each letter that is typed."""
    query: dict[str, str | int] = {"q": q, "sort": "nearest", "limit": 50, "brief": True}
    client.get("/api/v1/kit/lenses/find", params=query).raise_for_status()


def screen(address: str, gear: Gear) -> None:
    """The Light path over the sample world, in the browser."""
    if not shutil.which("chromium"):
        return
    with browser.browser() as driver:
        median, slow = browser.drawing(driver, address)
        report("browser: drawing a route whose answer is there, median", median, 30, "ms")
        report("browser: the same, 95th percentile", slow, 60, "ms")
        chosen = browser.choosing(driver, address, gear)
        report("browser: choosing a lens to its answer, median", chosen.median, 80, "ms", chosen.reloading, "reloading")
        report("browser: the same, 95th percentile", chosen.percentile_95, 150, "ms")
        for name, opened in browser.opening(driver, address):
            report(f"browser: opening {name} until its picture is there", opened, 400, "ms")


@contextmanager
def served(folder: str) -> Iterator[tuple[str, int]]:
    """A server in a process of its own, so that it shares no lock with the one that measures: address and process."""
    command = [sys.executable, "-m", "tropeion", "demo", "--data", folder, "--port", "0"]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    try:
        found = re.search(r"http://[0-9.:]+", process.stdout.readline() if process.stdout else "")
        if found is None:
            raise SystemExit("the server did not start")
        yield found.group(), process.pid
    finally:
        process.terminate()
        process.wait()


def naive_search(world: World) -> float:
    def scan() -> object:
        words = [re.compile(word, re.IGNORECASE) for word in ("klv", "50")]
        return [
            lens
            for lens in world.gear.mounted
            if all(word.search(lens.model_dump_json() + world.mount_of(lens).model_dump_json()) for word in words)
        ]

    return milliseconds(scan, 3)


def bundle() -> None:
    """What the first view loads: the page's own scripts and the view's."""
    page = WEB_FILES / "index.html"
    if not page.is_file():
        print("     the web files are not built: 'make web'")
        return
    scripts = list((WEB_FILES / "assets").rglob("*.js"))
    size = sum(_packed(path) for path in scripts) / 1000
    plain = sum(path.stat().st_size for path in scripts) / 1000
    report("web: all scripts of all views, gzipped", size, 420, "kB", plain, "the same, not compressed")


def _packed(path: Path) -> int:
    return len(gzip.compress(path.read_bytes(), 6))


def first_screen() -> None:
    """The scripts that the light path loads: the page's own, its view's, and what these import."""
    manifest = json.loads((WEB_FILES / "files.json").read_text())
    files: set[str] = set()

    def load(key: str) -> None:
        entry = manifest[key]
        if entry["file"] not in files:
            files.add(entry["file"])
            for other in entry.get("imports", []):
                load(other)

    load("index.html")
    view = "src/views/light-path/LightPath.tsx"
    # It may stand in the page's own files.
    if view in manifest:
        load(view)
    size = sum(_packed(WEB_FILES / name) for name in files) / 1000
    report(f"web: scripts of the first screen, {len(files)} of them, gzipped", size, 200, "kB")


def memory(client: httpx.Client, pid: int, gear: Gear) -> None:
    """What the server takes after two thousand pairs, and what the second thousand of them added."""
    pairs = [{"lens": lens.id, "body": body.id} for lens in gear.mounted for body in gear.bodies]
    sizes = []
    for number in range(2000):
        client.get("/api/v1/match", params=pairs[number % len(pairs)]).raise_for_status()
        if number in {999, 1999}:
            sizes.append(_resident_mb(pid))
    report("API: memory after 2,000 pairs", sizes[1], 160, "MB")
    report("API: of which the second thousand added", sizes[1] - sizes[0], 5, "MB")


def _resident_mb(pid: int) -> float:
    status = Path(f"/proc/{pid}/status").read_text()
    return int(next(line.split()[1] for line in status.splitlines() if line.startswith("VmRSS"))) / 1024


def main() -> int:
    """Run all; prints one line a figure."""
    gear = gear_file.load(sample_bytes())
    collects_rarely()
    whole_market()
    core(compile_world(gear))
    frame.measure(compile_world(gear), report, milliseconds)
    becomes.measure(report)
    plan.measure(report)
    api(gear)
    kit.measure(report, milliseconds)
    history.measure(gear, report, milliseconds)
    log.measure(report)
    pocket.measure(report)
    measured.measure(report)
    bundle()
    first_screen()
    growth.measure(compile_world(gear))
    return 0


if __name__ == "__main__":
    sys.exit(main())
