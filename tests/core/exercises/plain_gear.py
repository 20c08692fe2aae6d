"""The sample gear as it stands in its file, and the formulas of the trade written out: nothing of the core is asked."""

from __future__ import annotations

import itertools
import json
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

from tropeion.sample import sample_bytes

Item = dict[str, Any]
GEAR: Final[dict[str, list[Item]]] = json.loads(sample_bytes())
MOUNTS, LENSES, BODIES, ADAPTERS, PROTOCOLS = (
    {item["id"]: item for item in GEAR[kind]} for kind in ("mounts", "lenses", "bodies", "adapters", "protocols")
)
# A tolerance that nobody stated.
USUAL_MM: Final = 0.05


def adapter(id_: str) -> Item:
    """A listed adapter, or spacers by their id."""
    if id_.startswith("spacer.."):
        _, mount, mm = id_.split("..")
        return {"id": id_, "name": "spacers", "lens_mount": mount, "body_mount": mount, "length_mm": float(mm)}
    return ADAPTERS[id_]


def joint(mount: str) -> str:
    return str(MOUNTS[mount].get("interface", mount))


def register(item: Item) -> float:
    measured = item.get("measured_register_mm")
    return float(MOUNTS[item["mount"]]["register_mm"] if measured is None else measured)


def length(ring: Item) -> float:
    measured = ring.get("measured_length_mm")
    return float(ring["length_mm"] if measured is None else measured)


def k_of(ring: Item) -> float:
    return float(ring.get("magnification", 1.0))


@dataclass(frozen=True)
class Chain:
    """δ at the sensor, K, and what open helicoids add there."""

    error_mm: float
    k: float
    helicoid_mm: float
    before_sensor_mm: float


def chain(lens: Item, rings: list[Item], body: Item) -> Chain:
    """Cut at each glass: a segment's error is what is behind it, and its lengths, less what is delivered in front."""
    segments: list[tuple[float, float]] = []
    behind, plain, squares, helicoid = register(body), 0.0, 1.0, 0.0
    for ring in reversed(rings):
        slot = ring.get("filter_slot") or {}
        glass = slot.get("glass_mm", 0.0)
        n = slot.get("refractive_index", 1.5)
        shift = glass * (n - 1) / n if glass else 0.0
        if k_of(ring) != 1 or ring.get("register_in_mm") is not None:
            if slot.get("side", "body") == "body":
                plain -= shift
                shift = 0.0
            measured = ring.get("measured_length_mm")
            plain += 0.0 if measured is None else measured - ring["length_mm"]
            segments.append((behind + plain - ring["register_out_mm"], squares))
            squares *= k_of(ring) ** 2
            behind, plain = ring["register_in_mm"], -shift
        else:
            plain += length(ring) - shift
        helicoid += squares * ring.get("helicoid_mm", 0.0)
    segments.append((behind + plain - register(lens), squares))
    error = round(sum(mm * square for mm, square in segments), 6)
    k = math.prod(k_of(ring) for ring in rings)
    offset = 0.0
    if any(k_of(ring) != 1 or ring.get("register_in_mm") is not None for ring in rings):
        offset = register(lens) + error / k**2 - register(body) - sum(length(ring) for ring in rings)
    return Chain(error, k, helicoid, offset)


def reach(lens: Item, rings: list[Item], body: Item) -> tuple[float | None, float | None]:
    """Nearest and farthest sharp distance from the sensor in mm, infinity as inf; (None, None): nothing is sharp."""
    f, put = float(lens["focal_length_mm"][0]), chain(lens, rings, body)
    d, m = lens.get("min_focus_m"), lens.get("max_magnification")
    close = f
    if d and m:
        close = d * 1000 / (2 + m + 1 / m)
    elif d:
        b = d * 1000 / f - 2
        m = (b - math.sqrt(b * b - 4)) / 2
    own = put.error_mm / put.k**2
    short = round(own - lens.get("past_infinity_mm", 0.0), 6)
    if not m:
        return (math.nan, math.inf) if short <= 0 else (math.nan, f * f / short + 2 * f + short)
    long = own + m * close + put.helicoid_mm / put.k**2
    if long <= 0:
        return (None, None)
    scale = long / close
    ends = [close * (2 + scale + 1 / scale)]
    if short > 0:
        ends.append(2 * f + f * f / short + short)
    near = min([*ends, *([4 * close] if short < close and scale > 1 else [])])
    far = math.inf if short <= 0 else max(ends)
    return near - put.before_sensor_mm, far - put.before_sensor_mm


def circle(lens: Item, rings: list[Item]) -> float:
    """The circle at the sensor: C times the glass behind it, cut where glass states its own."""
    mm = float(lens["image_circle_mm"])
    for ring in rings:
        mm *= k_of(ring)
        if ring.get("image_circle_mm"):
            mm = min(mm, float(ring["image_circle_mm"]))
    return mm


def stills_mode(body: Item, mm: float) -> tuple[str, float, float]:
    """The covered mode with the most pixels, then the larger area; the whole sensor where none is covered."""
    whole = ("full", *body["sensor_mm"], body.get("megapixels", math.inf))
    modes = [
        whole,
        *(
            (m["name"], *m["sensor_mm"], m.get("megapixels", 0.0))
            for m in body.get("modes", [])
            if m.get("use", "both") != "film"
        ),
    ]
    covered = [mode for mode in modes if mm >= math.hypot(mode[1], mode[2]) - 1e-9]
    best = max(covered, key=lambda mode: (mode[3], mode[1] * mode[2]), default=whole)
    return best[0], best[1], best[2]


def understood(host: str, guest: str) -> bool:
    return host == guest or guest in PROTOCOLS[host].get("accepts", [])


def spoken(lens: Item, rings: list[Item], body: Item) -> dict[str, str] | None:
    """What is carried of each function where the lens is heard by the body; None where the wire is broken."""
    said = lens.get("protocol")
    carried = dict.fromkeys(("identity", "autofocus", "aperture"), "full")
    for ring in rings:
        link = ring.get("link", "none")
        if said is None or link not in {"pass", "translate"}:
            return None
        if ring.get("from_protocol") and not understood(ring["from_protocol"], said):
            return None
        for function in carried:
            level = ring.get("carries", {}).get(function, "full" if link == "pass" else "none")
            carried[function] = min(carried[function], level, key=["none", "slow", "full"].index)
        if link == "translate":
            said = ring["to_protocol"]
    if said is None or not any(understood(host, said) for host in body.get("protocols", [])):
        return None
    return carried


def mates(lens: Item, rings: list[Item], body: Item) -> bool:
    ends = [
        lens["mount"],
        *itertools.chain.from_iterable((r["lens_mount"], r["body_mount"]) for r in rings),
        body["mount"],
    ]
    return all(joint(ends[at]) == joint(ends[at + 1]) for at in range(0, len(ends), 2))


def stays(lens: Item, rings: list[Item], body: Item) -> bool:
    """Whether the aperture stays where it is on these rings."""
    controls = {ring.get("aperture_control", "none") for ring in rings}
    match lens.get("aperture", "ring"):
        case "electronic":
            carried = spoken(lens, rings, body)
            return carried is None or carried["aperture"] == "none"
        case "lever":
            return bool(rings) and "lever_ring" not in controls
        case "pin":
            return bool(rings) and not lens.get("auto_manual_switch") and "pin_press" not in controls
    return False


def does_its_work(lens: Item, rings: list[Item], body: Item) -> bool:
    """Whether a rig reaches infinity wide open, is focused, covers the sensor and has its aperture."""
    if not mates(lens, rings, body):
        return False
    put = chain(lens, rings, body)
    _, w, h = stills_mode(body, circle(lens, rings))
    blur = math.hypot(w, h) / 1500
    window = put.k * lens["f_number"][0] * blur
    past = put.error_mm - put.k**2 * lens.get("past_infinity_mm", 0.0)
    near, _ = reach(lens, rings, body)
    powered = lens.get("focus", "ring") != "by_wire" or spoken(lens, rings, body) is not None
    return past <= window and near is not None and powered and not stays(lens, rings, body)


def chains(lens: Item, body: Item, pieces: int = 3) -> Iterator[list[Item]]:
    """Every row of rings that mates, each piece once."""

    def on(row: list[Item], mount: str) -> Iterator[list[Item]]:
        if joint(mount) == joint(body["mount"]) and row:
            yield row
        if len(row) < pieces:
            for ring in ADAPTERS.values():
                if joint(ring["lens_mount"]) == joint(mount) and ring not in row:
                    yield from on([*row, ring], ring["body_mount"])

    yield from on([], lens["mount"])
