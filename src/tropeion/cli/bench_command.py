"""The bench: readings of a length, what is seen of a rig, lenses without a mount, threads."""

from __future__ import annotations

import argparse
import json
import re
from collections.abc import Sequence
from typing import Any, cast

from pydantic import TypeAdapter

from tropeion.core.bench.combined import Combined, posterior, together
from tropeion.core.bench.looks import next_best
from tropeion.core.bench.mountless import USUAL_MARGIN_MM, MountlessReport, mountless_of
from tropeion.core.bench.readings import MeanMeasured, measured
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import KINDS, Kind, Observation, Saw, implied, said_in_metres
from tropeion.core.bench.seen_report import foils_at_hand
from tropeion.core.bench.shims import Foils, Shimmed, shim_at, shimmed
from tropeion.core.bench.threads import ThreadReport, which_thread
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError, World, nearest

from .inputs import InputRefusedError, chain_of, practice_of, world_of


def add_bench(bench: argparse.ArgumentParser) -> argparse.ArgumentParser:
    """The commands of the bench; the one that takes a practice is returned, for its options."""
    kinds = bench.add_subparsers(dest="bench", required=True)
    readings = kinds.add_parser("readings", help="mean and uncertainty of readings of one length")
    readings.add_argument("--values", required=True, metavar="MM,MM", help="what the caliper read")
    for name, usual, said in (
        ("zero", 0.0, "what it reads closed"),
        ("resolution", 0.01, "its resolution"),
        ("error", 0.02, "the greatest error that its maker allows"),
        ("mark", 0.0, "half the width of a painted mark"),
    ):
        readings.add_argument(f"--{name}", type=float, default=usual, metavar="MM", help=f"{said} (default {usual:g})")
    readings.add_argument("--nominal", type=float, metavar="MM", help="what it is said to be")
    readings.add_argument("--tolerance", type=float, metavar="MM", help="and within what (default 0.05)")
    readings.add_argument("--json", action="store_true")
    readings.set_defaults(run=run_readings)

    seen = kinds.add_parser("seen", help="the flange error of a rig by what is seen of it")
    seen.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    seen.add_argument("--lens", required=True, metavar="ID")
    seen.add_argument("--body", required=True, metavar="ID")
    seen.add_argument("--via", metavar="ADAPTERS", help="ids lens to body, by commas (default: the best chain)")
    seen.add_argument(
        "--saw", action="append", default=[], metavar="KIND=VALUE", help=f"in m, may be repeated: {', '.join(KINDS)}"
    )
    seen.add_argument("--prior", choices=("nominal", "flat"), default="nominal", help="a ring without a name is flat")
    seen.add_argument("--foils", metavar="MMxN,MMxN", help="foils you have (default: those of the file)")
    seen.add_argument("--json", action="store_true")
    seen.set_defaults(run=run_seen)

    mountless = kinds.add_parser("mountless", help="what brings a lens without a mount into focus on a body")
    mountless.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    mountless.add_argument("--lens", required=True, metavar="ID")
    mountless.add_argument("--body", required=True, metavar="ID")
    mountless.add_argument("--near-m", type=float, metavar="D", help="how near it is to focus, in m")
    mountless.add_argument("--margin", type=float, default=USUAL_MARGIN_MM, metavar="MM", help="reach past infinity")
    mountless.add_argument("--json", action="store_true")
    mountless.set_defaults(run=run_mountless)

    thread = kinds.add_parser("thread", help="which thread of the collection a screw is")
    thread.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    across = thread.add_mutually_exclusive_group(required=True)
    across.add_argument("--outer", type=float, metavar="MM", help="over the crests of a male thread")
    across.add_argument("--bore", type=float, metavar="MM", help="across the bore of a female one")
    thread.add_argument("--crests", required=True, metavar="MM/N", help="a length over so many pitches: 11.0/10")
    thread.add_argument("--json", action="store_true")
    thread.set_defaults(run=run_thread)
    return seen


def _dumped(kind: Any, found: object) -> dict[str, Any]:
    return cast(dict[str, Any], TypeAdapter(kind).dump_python(found, mode="json"))


def _print_json(document: object) -> None:
    print(json.dumps(document, ensure_ascii=False, indent=1))


def _number(place: str, text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise InputRefusedError(f"{place}: “{text}” is no number", 2) from None
    if not abs(value) <= 1e6:
        raise InputRefusedError(f"{place}: “{text}” is no length", 2)
    return value


def _readings(text: str) -> list[float]:
    """Readings by commas; by semicolons where the comma is the decimal one. Raises RefusedError."""
    if ";" in text:
        return [_number("--values", name.strip().replace(",", ".")) for name in text.split(";") if name.strip()]
    parts = [name.strip() for name in text.split(",") if name.strip()]
    whole = all(part.isdecimal() for part in parts)
    if whole and len(parts) > 1 and len(parts) % 2 == 0 and all(len(part) <= 2 for part in parts[1::2]):
        seen = [f"{name}.{other}" for name, other in zip(parts[::2], parts[1::2], strict=True)]
        raise InputRefusedError(
            f"--values: decimal commas? Write {','.join(seen)}, or set semicolons between readings: "
            f"{';'.join(name.replace('.', ',') for name in seen)}",
            2,
        )
    return [_number("--values", part) for part in parts]


def run_readings(options: argparse.Namespace) -> int:
    values = _readings(options.values)
    for name in ("resolution", "error", "mark", "tolerance"):
        if (value := getattr(options, name)) is not None and not 0 <= value < 1e6:
            raise InputRefusedError(f"--{name}: 0 or more", 2)
    try:
        mean = measured(
            values,
            zero_mm=options.zero,
            resolution_mm=options.resolution,
            error_mm=options.error,
            mark_mm=options.mark,
            nominal_mm=options.nominal,
            tolerance_mm=options.tolerance,
        )
    except ValueError as error:
        raise InputRefusedError(f"--values: {error}", 2) from None
    if options.json:
        _print_json(_dumped(MeanMeasured, mean))
        return 0
    print(f"{mean.mean_mm:.3f} mm ± {mean.standard_uncertainty_mm:.3f} (standard), spread {mean.spread_mm:.2f} mm")
    print(f"  as a tolerance: ± {mean.measured_tolerance_mm:.3f} mm")
    for place in mean.slips:
        print(f"  {values[place]:g} mm (no. {place + 1}) is likely a slip of the hand: strike it out, or measure again")
    if mean.other_length:
        print("  far from the nominal: was it this length that was measured?")
    if mean.nominal_score is not None:
        doubt = ": one of the two is in doubt" if mean.in_doubt else ""
        print(f"  {mean.nominal_score:+.1f} standard uncertainties from the nominal{doubt}")
    return 0


def _saw(text: str) -> Saw:
    """One thing that was seen, as it is typed. Raises RefusedError."""
    place = f"--saw {text}"
    kind, _, said = text.partition("=")
    if kind not in KINDS:
        near = nearest(kind, KINDS)
        hint = f"; near it: {', '.join(near)}" if near else ""
        raise InputRefusedError(f"{place}: one of {', '.join(KINDS)}{hint}", 2)
    if kind == "edge_blur":
        return _blur(place, said)
    said, _, doubt = re.sub(r"\+-|\+/-", "±", said).partition("±")
    values = [_number(place, name) for name in said.split(":") if name]
    if kind == "length":
        if not doubt:
            raise InputRefusedError(f"{place}: with its standard uncertainty, 0.04±0.02", 2)
        values.append(_number(place, doubt))
        return Saw("length", tuple(values))
    return said_in_metres(cast(Kind, kind), values, _number(place, doubt) if doubt else None)


def _blur(place: str, said: str) -> Saw:
    """D_MM±U@N:DISTANCE_M:RING, distances in m or inf, RING far_stop, infinity_mark or the distance on the scale."""
    blur, _, rest = re.sub(r"\+-|\+/-", "±", said).partition("±")
    doubt, _, taken = rest.partition("@")
    f_number, *more = taken.split(":")
    if not (doubt and f_number) or len(more) != 2:
        right = "0.05±0.004@2.2:inf:far_stop: a blur and its doubt in mm, @ the stop, the distance in m, the ring"
        raise InputRefusedError(f"{place}: {right}", 2)
    distance, ring = more
    known = {"far_stop": [], "infinity_mark": [0.0]}
    read = known[ring] if ring in known else [_number(place, ring)]
    away = 0.0 if distance == "inf" else _number(place, distance)
    return said_in_metres(
        "edge_blur", [_number(place, blur), _number(place, doubt), _number(place, f_number), away, *read]
    )


def _foils(world: World, text: str | None) -> list[Foils]:
    if text is None:
        return list(foils_at_hand(world))
    foils = []
    for name in text.split(","):
        thickness, _, count = name.strip().partition("x")
        number = _number("--foils", count or "1")
        foils.append(Foils(_number("--foils", thickness), int(number)))
        if foils[-1].thickness_mm <= 0 or number < 0 or number != int(number):
            raise InputRefusedError(f"--foils: “{name.strip()}”: a thickness and a count, 0.05x2", 2)
    return foils


def run_seen(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    practice = practice_of(options)
    try:
        via = chain_of(world, options.lens, options.body, options.via, practice)
        rig = rig_on_bench(world, Rig.of(options.lens, options.body, via), practice)
    except (UnknownIdError, MountlessError, UnknownRegisterError) as error:
        raise InputRefusedError(str(error), 2) from None
    bench, nominal = rig.bench, rig.nominal
    seen: list[Observation] = []
    for text in options.saw:
        try:
            seen.append(implied(bench, _saw(text)))
        except ValueError as error:
            raise InputRefusedError(f"--saw {text}: {error}", 2) from None
    prior = nominal if options.prior == "nominal" else None
    foils = _foils(world, options.foils)
    try:
        combined = together(bench, prior, seen)
    except ValueError as error:
        raise InputRefusedError(f"--saw: {error}", 2) from None
    counts = combined.headline
    # Nothing is mended on a contradiction: one of what was seen is to be left out, or looked at again.
    margin = 2 * counts.standard_uncertainty_mm
    shim = shimmed(bench, shim_at(rig.rig), counts, margin, foils) if combined.agrees else None
    best = next_best(bench, posterior(prior, seen), seen)
    if options.json:
        _print_json(_document(combined, seen, shim, best))
    else:
        _print_seen(combined, seen, shim, best)
    return 0


def _document(found: Combined, seen: Sequence[Observation], shim: Shimmed | None, best: Kind | None) -> dict[str, Any]:
    told = []
    for observation in seen:
        mean, u = observation.as_normal or (None, None)
        told.append({"kind": observation.kind, "mean_mm": mean, "standard_uncertainty_mm": u})
    return {
        **_dumped(Combined, found),
        "observations": told,
        "shim": None if shim is None else _dumped(Shimmed, shim),
        "next_best": best,
    }


def _print_seen(found: Combined, seen: Sequence[Observation], shim: Shimmed | None, best: Kind | None) -> None:
    counts = found.headline
    way = "too long" if counts.mean_mm > 0 else "too short"
    print(f"{counts.mean_mm:+.3f} mm ± {counts.standard_uncertainty_mm:.3f} (standard), {way}")
    print(f"  95 %: {counts.interval_mm[0]:+.3f} to {counts.interval_mm[1]:+.3f} mm")
    print(f"  infinity at the widest aperture: {100 * found.infinity_probability:.0f} %")
    for number, observation in enumerate(seen, 1):
        normal = observation.as_normal
        low, high = ("…" if at is None else f"{at:+.3f}" for at in (observation.a_mm, observation.b_mm))
        told = f"{low} to {high} mm" if normal is None else f"{normal[0]:+.3f} mm ± {normal[1]:.3f}"
        print(f"  {number}. {observation.kind}: {told}")
    if counts is not found:
        print(f"  the stated length contradicts what was seen; with it: {found.mean_mm:+.3f} mm")
    elif found.most_at_odds is not None:
        place = "the stated length" if found.most_at_odds_index is None else f"no. {found.most_at_odds_index + 1}"
        print(f"  they contradict each other: most at odds is {found.most_at_odds} ({place})")
        if found.without is not None:
            print(f"  without it: {found.without.mean_mm:+.3f} ± {found.without.standard_uncertainty_mm:.3f} mm")
    elif found.both_at_odds:
        print("  the two contradict each other: a third would tell which")
    if shim is None:
        print("  nothing is mended on a contradiction: look again, or leave one out")
    elif shim.wanted_mm > 0:
        foils = " + ".join(f"{foil:g}" for foil in shim.foils) or "none of your foils"
        print(f"  shim of {shim.wanted_mm:.3f} mm {shim.at.where}: {foils}")
        if shim.foils:
            print(f"  after it {shim.after_mm:+.3f} mm, infinity {100 * shim.infinity_probability:.0f} %")
    if best is not None:
        print(f"  look at next: {best}")


def run_mountless(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    if options.margin < 0 or (options.near_m is not None and options.near_m <= 0):
        raise InputRefusedError("--margin: 0 or more; --near-m: more than 0", 2)
    try:
        lens, body = world.lens(options.lens), world.body(options.body)
        mountless_report = mountless_of(world, lens, body, near_m=options.near_m, margin_mm=options.margin)
    except UnknownIdError as error:
        raise InputRefusedError(str(error), 2) from None
    except ValueError as error:
        raise InputRefusedError(f"--lens: {error}", 2) from None
    if options.json:
        _print_json(_dumped(MountlessReport, mountless_report))
        return 0
    print(mountless_report.says)
    for build in mountless_report.builds:
        sleeve = "" if build.sleeve is None else f"sleeve {build.sleeve.bore_mm:g} into {build.sleeve.into} + "
        near = "fixed" if build.near_m is None else f"near {build.near_m:.2f} m"
        ahead = f", held {build.forward_mm:.2f} mm forward of its shoulder" if build.forward_mm else ""
        rest = f", {build.rest_mm:.2f} mm of spacers" if build.rest_mm else ""
        row = f"{sleeve}{' + '.join(build.pieces)}: {build.closed_mm:g} to {build.open_mm:g} mm{rest}{ahead}"
        print(f"  {row}, {near}, {build.grade}")
        for warning in build.warnings:
            print(f"    ! {warning}")
    return 0


def run_thread(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    length, _, count = options.crests.partition("/")
    side, across = ("male", options.outer) if options.outer is not None else ("female", options.bore)
    try:
        thread_report = which_thread(
            world.gear.mounts,
            across,
            _number("--crests", length),
            _number("--crests", count or "1"),
            side="male" if side == "male" else "female",
        )
    except ValueError as error:
        raise InputRefusedError(f"--{'outer' if side == 'male' else 'bore'}, --crests: {error}", 2) from None
    if options.json:
        _print_json(_dumped(ThreadReport, thread_report))
        return 0
    print(f"pitch {thread_report.pitch_mm:.3f} mm ± {thread_report.pitch_uncertainty_mm:.3f}")
    for candidate in thread_report.candidates:
        binds = (
            ""
            if candidate.turns is None or candidate.score > 0.05
            else f", binds after {candidate.turns:.1f} turns: never force it"
        )
        binds = binds if candidate.starts else ", another diameter: it does not start, or wobbles"
        print(f"  {candidate.name} ({candidate.diameter_mm:g} × {candidate.pitch_mm:g}): {candidate.score:.2g}{binds}")
    return 0
