"""The log at the terminal: which pictures were taken with what, written down beside them; in and out as a file."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from contextlib import closing
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from tropeion.core.gear.tried import usable_said
from tropeion.core.gear.world import World, compile_world
from tropeion.core.log.header import readable
from tropeion.core.log.log_checks import remarks_on, unknown_in
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_words import name_of
from tropeion.core.log.matching import Matching, match_pictures
from tropeion.core.log.rig_facts import RigReader
from tropeion.core.log.sidecar_fields import FIELDS
from tropeion.core.log.trial_rows import usable_in_log
from tropeion.formats.log_file import dump_log
from tropeion.formats.log_json import matching_json
from tropeion.formats.log_table import entries_csv, pictures_csv
from tropeion.pictures.folders import FolderError, Unread
from tropeion.pictures.reading import Reading, read_folder
from tropeion.pictures.sidecars import Sidecar, names_on_disk, sidecars_for, wanted_of
from tropeion.pictures.worker import Worker

from .inputs import InputRefusedError, database, world_asked, write_whole
from .log_input import log_in


def add_log(log: argparse.ArgumentParser) -> None:
    """The commands of the log."""
    logs = log.add_subparsers(dest="log", required=True)
    match = logs.add_parser("match", help="which entry each picture in a folder belongs to")
    match.add_argument("log_file", metavar="LOG.json", help="a log file, or '-'")
    match.add_argument("folder", metavar="FOLDER", type=Path)
    match.add_argument("--csv", action="store_true", help="a row a picture, for a spreadsheet")
    match.add_argument("--json", action="store_true", help="print the whole report")
    match.set_defaults(run=run_log_match)
    write = logs.add_parser("write", help="write sidecars beside the pictures; pictures are only read")
    write.add_argument("log_file", metavar="LOG.json", help="a log file, or '-'")
    write.add_argument("folder", metavar="FOLDER", type=Path)
    write.add_argument("--naming", choices=("stem", "full"), default="stem", help="A.xmp (default) or A.JPG.xmp")
    write.add_argument("--dry-run", action="store_true", help="only say what would be written")
    write.add_argument("--also-doubtful", action="store_true", help="also beside pictures that are in doubt")
    write.add_argument(
        "--overwrite", default="", metavar="FIELDS", help="fields to take though somebody else wrote them, by commas"
    )
    write.add_argument("--json", action="store_true", help="print the whole report")
    write.set_defaults(run=run_log_write)
    usable = logs.add_parser("usable", help="from which stop each rig is usable, by the trials in a log")
    usable.add_argument("log_file", metavar="LOG.json", help="a log file, or '-'")
    usable.add_argument("--json", action="store_true", help="print the rows")
    usable.set_defaults(run=run_log_usable)
    for command in (match, write, usable):
        command.add_argument("--gear", metavar="FILE", help="gear file or 'sample' (default: your collection)")
    take = logs.add_parser("import", help="take a log file into your collection; what is there stays")
    take.add_argument("log_file", metavar="LOG.json", help="a log file, or '-'")
    take.add_argument("--dry-run", action="store_true", help="only say what would be new")
    take.add_argument("--replace", action="store_true", help="also take what is there and says otherwise")
    take.set_defaults(run=run_log_import)
    give = logs.add_parser("export", help="your log as a log file, or its entries as a table")
    give.add_argument("file", metavar="FILE", nargs="?", help="where to write it (default: standard output)")
    give.add_argument("--csv", action="store_true", help="a row an entry, for a spreadsheet")
    give.set_defaults(run=run_log_export)
    for command in (match, write, usable, take, give):
        command.add_argument(
            "--data", type=Path, metavar="DIR", help="folder of the collection (default: your user data)"
        )


def run_log_usable(options: argparse.Namespace) -> int:
    """Rows by lens, chain, body, mark and use; ids that no collection knows are told as they are."""
    world = world_asked(options)
    rows = usable_in_log(log_in(options.log_file), world)
    if options.json:
        told = [{field: value for field, value in asdict(row).items() if field != "failed"} for row in rows]
        print(json.dumps(told, indent=2))
        return 0
    for row in rows:
        pieces = " · ".join(name_of(world, id_) for id_ in (row.lens, *row.via, *([row.body] if row.body else [])))
        print(f"{pieces}. {usable_said(row)}")
    return 0


def _read(options: argparse.Namespace, log: LogFile, world: World) -> tuple[Matching, Reading]:
    folder: Path = options.folder
    worker = Worker()
    try:
        reading = read_folder(folder, worker)
    except FolderError as error:
        raise InputRefusedError(f"cannot read {error}", 2) from None
    finally:
        worker.close()
    return match_pictures(log, reading.files, world, folder.absolute().name), reading


def _unread(unread: Sequence[Unread]) -> list[dict[str, str]]:
    return [{"file": one.file, "why": one.why} for one in unread]


def _a_line(text: str) -> str:
    """A name in one line, whatever stands in it."""
    return text.encode("unicode_escape").decode() if not text.isprintable() else text


def run_log_match(options: argparse.Namespace) -> int:
    log, world = log_in(options.log_file), world_asked(options)
    matching, reading = _read(options, log, world)
    remarks = [*unknown_in(log, world), *remarks_on(log, datetime.now(UTC))]
    if options.json:
        report = matching_json(matching)
        report["warnings"] = [*remarks, *report["warnings"]]
        print(json.dumps({**report, "unread": _unread(reading.unread)}, ensure_ascii=False, indent=1))
        return 0
    if options.csv:
        print(pictures_csv(matching, world), end="")
        return 0
    for clock in matching.clocks:
        known = "" if clock.certain else ", not certain"
        where = "".join(f" {word} {at}" for word, at in (("since", clock.since), ("until", clock.until)) if at)
        print(f"{clock.body}: {clock.offset_us / 1e6:+g} s, {clock.from_}{known}{where}")
        if clock.proposal is not None:
            pairs = clock.proposal.pairs
            print(f"  {pairs} pair{'' if pairs == 1 else 's'} would agree at {clock.proposal.seconds:+g} s")
    for told in matching.pictures:
        what = "" if told.entry is None else f" {told.entry.id}"
        doubts = f" ({', '.join(told.doubts)})" if told.doubts else ""
        print(f"{_a_line(readable(told.picture.file))}: {told.state}{what}{doubts}")
    for warning in (*remarks, *matching.warnings):
        print(f"note: {_a_line(warning)}")
    for one in reading.unread:
        print(f"unread: {_a_line(one.file)}: {one.why}")
    return 0


def run_log_write(options: argparse.Namespace) -> int:
    overwrite = _fields(options.overwrite)
    log, world = log_in(options.log_file), world_asked(options)
    matching, reading = _read(options, log, world)
    folder: Path = options.folder
    wanted = wanted_of(
        matching.pictures,
        RigReader(world),
        options.naming,
        lambda below: names_on_disk(folder, below),
        doubtful=options.also_doubtful,
    )
    sidecars = sorted(
        sidecars_for(folder, wanted, dry_run=options.dry_run, overwrite=overwrite), key=lambda one: one.file
    )
    if options.json:
        report = {"sidecars": [sidecar_json(one) for one in sidecars], "unread": _unread(reading.unread)}
        print(json.dumps(report, ensure_ascii=False, indent=1))
        return 0
    for one in sidecars:
        print(f"{_a_line(readable(one.file))}: {one.action}{'' if one.why is None else f', {one.why}'}")
        for change in one.changes:
            print(f"  {change.field}: {change.was or 'not there'} -> {change.becomes or 'taken out'}")
        for kept in one.kept:
            print(f"  {kept.field}: {kept.was} stays, ours is {kept.ours}")
    return 0


def _fields(text: str) -> frozenset[str]:
    """Fields by their names, with or without the prefix. Raises InputRefusedError."""
    found: set[str] = set()
    for name in filter(None, (part.strip() for part in text.split(","))):
        of_name = {field for field in FIELDS if name in {field, field.partition(":")[2]}}
        if not of_name:
            known = ", ".join(field.partition(":")[2] for field in FIELDS)
            raise InputRefusedError(f"--overwrite: there is no field '{name}': {known}", 2)
        found |= of_name
    return frozenset(found)


def sidecar_json(sidecar: Sidecar) -> dict[str, Any]:
    """One sidecar, field by field."""
    return {
        "file": readable(sidecar.file),
        "action": sidecar.action,
        "pictures": [readable(file) for file in sidecar.pictures],
        "changes": [asdict(change) for change in sidecar.changes],
        "kept": [asdict(kept) for kept in sidecar.kept],
        "why": sidecar.why,
    }


def run_log_import(options: argparse.Namespace) -> int:
    from tropeion.core.log.log_records import records_in  # noqa: PLC0415
    from tropeion.core.records.record import now  # noqa: PLC0415
    from tropeion.store.collection import Collection  # noqa: PLC0415

    log = log_in(options.log_file)
    remarks = remarks_on(log, datetime.now(UTC))
    if remarks:
        lines = "\n".join(f"  {remark}" for remark in remarks)
        raise InputRefusedError(f"{options.log_file} is refused, and nothing is taken:\n{lines}", 2)
    try:
        records = list(records_in(log, now()))
    except ValidationError as error:
        said = error.errors(include_url=False)[0]
        reason = f"{said['input']}: ids of entries and trials are letters, digits, dots, colons, hyphens"
        raise InputRefusedError(f"{options.log_file} is refused, and nothing is taken: {reason}", 2) from None
    with closing(Collection(database(options))) as collection:
        title = f"{Path(options.log_file).name} imported"
        taken = collection.take_records(records, title, replacing=options.replace, dry_run=options.dry_run)
        unknown = unknown_in(log, collection.world())
    print(f"{len(taken.new)} new\n{len(taken.same)} same\n{len(taken.other)} other")
    for one in unknown:
        print(f"note: {_a_line(one)}")
    for record in taken.other:
        print(f"other: {record.called} {record.id}")
    if taken.other and not options.replace:
        print("what is there stays: --replace takes what says otherwise")
    return 0


def run_log_export(options: argparse.Namespace) -> int:
    from tropeion.store.read_only import read_only_log  # noqa: PLC0415

    log, gear = read_only_log(database(options))
    data = entries_csv(log, compile_world(gear)).encode() if options.csv else dump_log(log)
    if options.file is None:
        sys.stdout.write(data.decode())
    else:
        write_whole(Path(options.file), data)
    return 0
