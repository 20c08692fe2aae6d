"""Questions that need no collection: they read a gear file and print an answer."""

from __future__ import annotations

import argparse
import json
from typing import Any

from pydantic import TypeAdapter

from tropeion.core import written
from tropeion.core.answers.distance_range import distance_range
from tropeion.core.answers.fits import what_fits
from tropeion.core.answers.labels import Label, read_label
from tropeion.core.gear.world import MountlessError, UnknownIdError, World
from tropeion.core.joints.key import POSSIBLE, identify
from tropeion.core.joints.key_report import Answer, KeyReport
from tropeion.core.log.trial_rows import world_tried
from tropeion.core.rig.rig_report import MatchReport
from tropeion.core.routes.match import match
from tropeion.formats import gear_file
from tropeion.formats.match_json import fits_document, match_document

from .inputs import InputRefusedError, practice_of, world_of
from .log_input import log_in


def run_fits(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    try:
        report = what_fits(world, lens=options.lens, body=options.body, practice=practice_of(options))
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(fits_document(report), ensure_ascii=False, indent=1))
        return 0
    for fit in report.fits:
        through = " + ".join(report.pieces[id_].name for id_ in fit.adapters) or "bare"
        print(f"[{fit.grade or 'nothing'}] {fit.name}: {fit.sentence}" + (f" ({through})" if fit.grade else ""))
        for warning in fit.warnings:
            print(f"  danger: {warning}")
    return 0


def run_key(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    answers: dict[str, Answer] = {}
    given: tuple[tuple[Answer, str], ...] = (("yes", options.yes), ("no", options.no), ("unknown", options.unknown))
    for answer, ids in given:
        answers |= {part.strip(): answer for part in ids.split(",") if part.strip()}
    try:
        report = identify(world, options.mount, answers, options.side)
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    except KeyError as error:
        raise InputRefusedError(f"no {options.side} feature of '{options.mount}' has the id {error}", 2) from None
    if options.json:
        print(json.dumps(_plain(report), ensure_ascii=False, indent=1))
        return 0
    for remaining in report.remaining:
        if remaining.conversion != "none" and remaining.probability <= POSSIBLE:
            continue
        print(f"{remaining.probability:6.1%}  {remaining.label}")
    for conflict in report.conflicts:
        print(f"conflict: {conflict.text}")
    if report.question is not None:
        print(f"next: {report.question.question} [{report.question.feature}]")
    parts = {feature.id: feature.label for feature in world.mount(options.mount).features}
    for place in report.may_mount:
        unless = f" {place.unless}" if place.unless else ""
        print(f"on {place.label}{f' ({place.body})' if place.body else ''}: {place.effect}{unless}. {place.text}")
        if place.look is not None:
            print(f"  look first: {parts[place.look]} [{place.look}]")
    return 0


def run_label(options: argparse.Namespace) -> int:
    world = world_of(options.gear)
    label = read_label(world, options.text)
    if options.json:
        print(json.dumps(_plain(label), ensure_ascii=False, indent=1))
        return 0
    for name, side in (("lens side", label.lens_side), ("camera side", label.body_side)):
        said = ", ".join(f"{world.mounts[label_side.mount].name} {label_side.confidence:.0%}" for label_side in side)
        print(f"{name}: {said or 'not said'}")
    for name, words_said in (("glass", label.glass), ("chip", label.chip), ("not read", ", ".join(label.unread))):
        if words_said:
            print(f"{name}: {words_said}")
    if label.length_mm is not None:
        print(f"length: {label.length_mm:g} mm")
    for doubt in label.doubts:
        print(f"doubt: {doubt.text}")
    return 0


def run_match(options: argparse.Namespace) -> int:
    world, practice = world_of(options.file), practice_of(options)
    if options.log is not None:
        world = world_tried(world, log_in(options.log))
    via = None if options.via is None else [part.strip() for part in options.via.split(",") if part.strip()]
    try:
        report = match(world, options.lens, options.body, practice, via, everything=options.everything)
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(match_document(report), ensure_ascii=False, indent=1))
    else:
        _print_report(report)
        if report.gap_mm is None:
            _print_range(world, report)
    return 0


def _print_range(world: World, report: MatchReport) -> None:
    """What a pair may come to whose distance nobody knows."""
    said = distance_range(world, world.lens(report.lens), world.body(report.body), report.practice)
    if said is None:
        return
    print(f"\n{said.sentence}")
    for may_be in said.may_be:
        print(f"  {may_be.register_mm:.2f} mm. {may_be.text} ({may_be.why})")
    print(said.decides)
    for how in said.find_out:
        print(f"  {how}")


def _plain(report: KeyReport | Label) -> Any:
    return TypeAdapter(type(report)).dump_python(report, mode="json")


def _print_report(report: MatchReport) -> None:
    pieces = report.pieces
    gap = "the gap is not known" if report.gap_mm is None else f"gap {report.gap_mm:+.2f} mm"
    print(f"{pieces[report.lens].name} on {pieces[report.body].name}: {gap}")
    if not report.routes:
        print(report.sentence)
    for warning in report.warnings:
        print(f"danger: {warning}")
    for need in report.would_need:
        print(f"would need: {need.text}")
    if report.unlisted is not None:
        chain = " + ".join(pieces[id_].name for id_ in report.unlisted.adapters)
        print(f"\nnot listed [{report.unlisted.grade}] {chain}\n  {report.unlisted.sentence}")
    for route in report.routes:
        chain = " + ".join(pieces[id_].name for id_ in route.adapters) or "bare"
        reach = route.wide.focus
        units = report.practice.distances
        near = "?" if reach.near_mm is None else written.distance(reach.near_mm, units)
        far = (
            "infinity"
            if reach.state == "to_infinity"
            else written.distance(reach.far_mm, units)
            if reach.far_mm
            else "?"
        )
        print(f"\n[{route.grade}] {chain}: {route.purpose}\n  {route.sentence}")
        if reach.state != "none":
            error = route.register_error_mm
            off = "error not known" if error is None else f"error {error:+.3f} mm"
            print(f"  {off}, focus {near} to {far}, {route.becomes}")
        for finding in route.findings:
            print(f"  {finding.severity}: {finding.text}")
        for number, step in enumerate(route.details.steps if route.details else (), 1):
            print(f"  {number}. {step.text}")
    if report.left_out:
        print(f"\n{report.left_out} more routes are left out here: name a chain with --via, or allow fewer --pieces")
    if report.folded:
        print(f"\n{report.folded} more, no better in anything than one of these: --everything shows them")
    if report.not_judged:
        print(f"\n{report.not_judged} more are too many to try, only the most promising were: allow fewer --pieces")


def run_schema(_: argparse.Namespace) -> int:
    print(json.dumps(gear_file.json_schema(), ensure_ascii=False, indent=1))
    return 0
