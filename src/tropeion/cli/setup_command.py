"""The set-up of a rig, and the code on a flange."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from pydantic import TypeAdapter

from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError, World
from tropeion.core.joints.flange_code import NearestProfiles, ReadCode, nearest_profiles, read_code
from tropeion.core.setup.setup import SetUp, set_up_of
from tropeion.formats.flange_template import template_svg

from .inputs import InputRefusedError, chain_of, practice_of, world_of, write_whole


def _ids(text: str) -> list[str]:
    return [part.strip() for part in text.split(",") if part.strip()]


def run_setup(options: argparse.Namespace) -> int:
    # People say stills; everything else here says still.
    options.use = options.use.removesuffix("s")
    world, practice = world_of(options.file), practice_of(options)
    try:
        via = chain_of(world, options.lens, options.body, options.via, practice)
        set_up = set_up_of(
            world,
            Rig.of(options.lens, options.body, via, _ids(options.accessories)),
            practice,
            held_by=options.held_by,
            second_by=options.second_by,
        )
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    except ValueError as error:
        raise InputRefusedError(f"--held-by, --second-by: {error}", 2) from None
    if options.json:
        print(json.dumps(_document(set_up), ensure_ascii=False, indent=1))
    else:
        _print(set_up)
    return 0


def _document(found: SetUp) -> dict[str, object]:
    """The report; each joint under the names that the page gives it."""
    document: dict[str, object] = TypeAdapter(SetUp).dump_python(found, mode="json")
    balance = document["balance"]
    assert isinstance(balance, dict)
    balance["joints_nm"] = balance.pop("joints")
    return document


def _print(found: SetUp) -> None:
    names, balance = found.names, found.balance
    chain = " + ".join(names[id_] for id_ in found.adapters) or "bare"
    print(f"{names[found.lens]} on {names[found.body]}, {chain}")
    print(found.sentence)
    for number, step in enumerate(found.steps, 1):
        print(f"  {number}. {'! ' if step.caution else ''}{step.text}")
    for entry in found.entries:
        print(f"  at {entry.focal_length_mm:g} mm enter {entry.entry_mm:g} mm")
    for said in (found.camera_says, found.support_says, found.balance_says, found.plate_says, found.play_says):
        if said:
            print(f"  {said}")
    for joint in balance.joints:
        moment = "not known" if joint.moment_nm is None else f"{joint.moment_nm:.2f} N·m"
        rating = "" if joint.rating_nm is None else f" of {joint.rating_nm:.2f} N·m"
        print(f"  joint at {names[joint.joint]}: {moment}{rating}{': too much, support it' if joint.over else ''}")
    for id_ in balance.assumed:
        print(f"  assumed: where {names[id_]} has its weight or foot")
    untried = [pair for pair in found.pairs if pair.verdict == "untried"]
    if untried:
        print(f"  {len(untried)} {'pair' if len(untried) == 1 else 'pairs'} of pieces nobody has tried together")
    for pair in found.pairs:
        if pair.verdict == "untried":
            continue
        said = f": {pair.says}" if pair.says else ""
        print(f"  {names[pair.a]} with {names[pair.b]}: {pair.verdict}{said}")


def run_code(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    try:
        mount = world.mount(options.mount)
        answer: NearestProfiles | ReadCode
        if options.read is not None:
            answer = read_code(mount, options.read, world.gear.lenses)
            digits = answer.code
        else:
            if options.lens is None:
                raise InputRefusedError("--lens says which lens is to be marked, or --read what stands on a flange", 2)
            lens = world.lens(options.lens)
            answer = nearest_profiles(lens, mount, [world.adapter(id_) for id_ in _ids(options.via)])
            digits = answer.nearest[0].code if answer.nearest else ""
        if options.svg is not None:
            write_whole(Path(options.svg), template_svg(mount, digits))
    except UnknownIdError as error:
        raise InputRefusedError(str(error), 2) from None
    except ValueError as error:
        raise InputRefusedError(f"{'--read' if options.read is not None else '--svg'}: {error}", 2) from None
    if options.json:
        document = TypeAdapter(type(answer)).dump_python(answer, mode="json")
        print(json.dumps(document, ensure_ascii=False, indent=1))
    elif isinstance(answer, ReadCode):
        _print_read(answer)
    else:
        _print_nearest(world, answer)
    return 0


def _print_nearest(world: World, answer: NearestProfiles) -> None:
    print(f"{world.lenses[answer.lens].name} is nearest to, of {answer.among} profiles:")
    for near_profile in answer.nearest:
        print(f"  {near_profile.code}  {near_profile.name}, {near_profile.distance:.2f} away")
        for wrong in near_profile.wrong:
            print(f"           {wrong}")
    for note in answer.notes:
        print(f"  {note}")


def _print_read(answer: ReadCode) -> None:
    print(f"{answer.code}: {answer.profile or 'no profile: the body knows no such code'}")
    for lens in answer.lenses:
        away = "" if lens.distance is None else f", {lens.distance:.2f} away"
        print(f"  {lens.name}{', marked so' if lens.marked else ''}{away}")
    if answer.misread:
        print("  one field apart: " + ", ".join(answer.misread))
