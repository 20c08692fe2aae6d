"""The command line: what the screens do, without a browser."""

from __future__ import annotations

import argparse
import json
import socket
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, get_args

from pydantic import TypeAdapter

from tropeion.core import words
from tropeion.core.answers.fits import what_fits
from tropeion.core.answers.labels import Label, read_label
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS
from tropeion.core.gear.kit import items
from tropeion.core.gear.merge import compare, merged
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.joints.key import Answer, KeyReport, identify
from tropeion.core.practice import Practice
from tropeion.core.rig.report import MatchReport
from tropeion.core.routes.match import match
from tropeion.formats import gear_file
from tropeion.formats.any_file import load_any
from tropeion.formats.match_json import fits_document, match_document
from tropeion.formats.tables import dump_table
from tropeion.sample import sample_bytes

if TYPE_CHECKING:
    from tropeion.store.collection import Collection

__all__ = ["main"]

DEFAULT_PORT = 8463


class _RefusedError(Exception):
    """One clear line for the terminal, and the exit code."""

    def __init__(self, message: str, code: int = 1) -> None:
        super().__init__(message)
        self.code = code


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code. 1: it cannot run; 2: the input is refused."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.run(options)
    except _RefusedError as error:
        print(f"tropeion: {error}", file=sys.stderr)
        return error.code
    except BrokenPipeError:
        return 1
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="tropeion", description="One maker's lens on another's camera.")
    commands = parser.add_subparsers(dest="command", required=True)

    serve = commands.add_parser("serve", help="open your own collection in the browser")
    _data_option(serve)
    _listen_options(serve)
    serve.set_defaults(run=_serve)

    demo = commands.add_parser("demo", help="open the sample world; your own collection is not touched")
    demo.add_argument("--reset", action="store_true", help="restore the sample world first")
    demo.add_argument("--data", type=Path, metavar="DIR", help="folder of the demo's own database")
    _listen_options(demo)
    demo.set_defaults(run=_demo)

    pair = commands.add_parser("match", help="judge a lens on a body, from a gear file")
    pair.add_argument("file", metavar="FILE", help="gear file; '-' reads standard input, 'sample' the sample world")
    pair.add_argument("--lens", required=True, metavar="ID")
    pair.add_argument("--body", required=True, metavar="ID")
    pair.add_argument("--via", metavar="ADAPTERS", help="judge this one chain: ids lens to body, by commas; '' is bare")
    pair.add_argument("--json", action="store_true", help="print the whole report")
    pair.add_argument("--everything", action="store_true", help="with the routes that another beats in everything")
    _practice_options(pair)
    pair.set_defaults(run=_match)

    fits = commands.add_parser("fits", help="what fits one lens, or one body")
    fits.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    end = fits.add_mutually_exclusive_group(required=True)
    end.add_argument("--lens", metavar="ID")
    end.add_argument("--body", metavar="ID")
    fits.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(fits)
    fits.set_defaults(run=_fits)

    key = commands.add_parser("key", help="which generation of a mount it is, from what can be seen")
    key.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    key.add_argument("--mount", required=True, metavar="ID")
    key.add_argument("--side", choices=("lens", "body"), default="lens")
    for answer in ("yes", "no", "unknown"):
        key.add_argument(f"--{answer}", default="", metavar="FEATURES", help="feature ids, by commas")
    key.add_argument("--json", action="store_true", help="print the whole report")
    key.set_defaults(run=_key)

    label = commands.add_parser("label", help="read an adapter's label: both its ends, and what is doubtful")
    label.add_argument("text", metavar="TEXT", help="what is printed on it, or on a listing")
    label.add_argument("--gear", default="sample", metavar="FILE", help="gear file, '-' or 'sample' (default)")
    label.add_argument("--json", action="store_true", help="print both sides and the doubts")
    label.set_defaults(run=_label)

    _collection_commands(commands)

    schema = commands.add_parser("schema", help="print the JSON Schema of the gear file")
    schema.set_defaults(run=_schema)
    return parser


def _collection_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """What works on your own collection without a browser."""
    take = commands.add_parser(
        "import", help="take a gear file or a CSV table into your collection; what is there stays"
    )
    take.add_argument("file", metavar="FILE", help="gear file, CSV table, '-' or 'sample'")
    take.add_argument(
        "--dry-run", action="store_true", help="only say what would be new, changed, the same, in conflict"
    )
    take.add_argument("--conflicts", action="store_true", help="also take what is in conflict")
    _data_option(take)
    take.set_defaults(run=_import)

    give = commands.add_parser("export", help="your collection as a gear file, or one shelf of it as a CSV table")
    give.add_argument("file", metavar="FILE", nargs="?", help="where to write it (default: standard output)")
    give.add_argument("--table", choices=KINDS, metavar="KIND", help=f"one shelf as a table: {', '.join(KINDS)}")
    give.add_argument("--decimal-comma", action="store_true", help="numbers as 25,80 and cells parted by semicolons")
    _data_option(give)
    give.set_defaults(run=_export)

    keep = commands.add_parser("backup", help="everything in one file, also while the application runs")
    keep.add_argument("file", metavar="FILE", type=Path, help="a new file")
    _data_option(keep)
    keep.set_defaults(run=_backup)

    back = commands.add_parser("restore", help="put a backup in the place of your collection, which is kept beside it")
    back.add_argument("file", metavar="FILE", type=Path)
    _data_option(back)
    back.set_defaults(run=_restore)


def _data_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--data", type=Path, metavar="DIR", help="folder of the collection (default: your user data)")


def _database(options: argparse.Namespace) -> Path:
    from platformdirs import user_data_path  # noqa: PLC0415  only what touches the collection needs to know where it is

    folder: Path = options.data or user_data_path("tropeion", appauthor=False)
    return folder / "collection.sqlite"


def _practice_options(parser: argparse.ArgumentParser) -> None:
    for name, field in Practice.model_fields.items():
        parser.add_argument(
            f"--{name}", choices=get_args(field.annotation), default=field.default, help=field.description
        )


def _practice_of(options: argparse.Namespace) -> Practice:
    return Practice(**{name: getattr(options, name) for name in Practice.model_fields})


def _listen_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--port", type=int, default=DEFAULT_PORT, help=f"0 takes any free one (default {DEFAULT_PORT})")


def _read_gear(name: str) -> bytes:
    if name == "sample":
        return sample_bytes()
    if name == "-":
        return sys.stdin.buffer.read(gear_file.MAX_BYTES + 1)
    try:
        return Path(name).read_bytes()
    except OSError as error:
        raise _RefusedError(f"cannot read {name}: {error.strerror}", 2) from None


def _gear(name: str) -> Gear:
    return _refusing(name, lambda: gear_file.load(_read_gear(name)))


def _refusing(name: str, read: Callable[[], Gear]) -> Gear:
    """What is wrong with a file, a line each."""
    try:
        return read()
    except gear_file.GearFileError as error:
        lines = "\n".join(f"  {problem}" for problem in error.problems)
        raise _RefusedError(f"{name} is refused:\n{lines}", 2) from None


def _world(name: str) -> World:
    return compile_world(_gear(name))


def _fits(options: argparse.Namespace) -> int:
    world = _world(options.file)
    try:
        report = what_fits(world, lens=options.lens, body=options.body, practice=_practice_of(options))
    except UnknownIdError as error:
        raise _RefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(fits_document(report), ensure_ascii=False, indent=1))
        return 0
    for fit in report.fits:
        through = " + ".join(report.pieces[id_].name for id_ in fit.adapters) or "bare"
        print(f"[{fit.grade or 'nothing'}] {fit.name}: {fit.sentence}" + (f" ({through})" if fit.grade else ""))
        for warning in fit.warnings:
            print(f"  danger: {warning}")
    return 0


def _key(options: argparse.Namespace) -> int:
    world = _world(options.file)
    answers: dict[str, Answer] = {}
    given: tuple[tuple[Answer, str], ...] = (("yes", options.yes), ("no", options.no), ("unknown", options.unknown))
    for answer, ids in given:
        answers |= {part.strip(): answer for part in ids.split(",") if part.strip()}
    try:
        report = identify(world, options.mount, answers, options.side)
    except UnknownIdError as error:
        raise _RefusedError(str(error), 2) from None
    except KeyError as error:
        raise _RefusedError(f"no {options.side} feature of '{options.mount}' has the id {error}", 2) from None
    if options.json:
        print(json.dumps(_plain(report), ensure_ascii=False, indent=1))
        return 0
    for remaining in report.remaining:
        print(f"{remaining.probability:6.1%}  {remaining.label}")
    for conflict in report.conflicts:
        print(f"conflict: {conflict.text}")
    if report.question is not None:
        print(f"next: {report.question.question} [{report.question.feature}]")
    for place in report.may_mount:
        print(f"on {place.label}{f' ({place.body})' if place.body else ''}: {place.effect}. {place.text}")
    return 0


def _label(options: argparse.Namespace) -> int:
    world = _world(options.gear)
    label = read_label(world, options.text)
    if options.json:
        print(json.dumps(_plain(label), ensure_ascii=False, indent=1))
        return 0
    for name, side in (("lens side", label.lens_side), ("camera side", label.body_side)):
        said = ", ".join(f"{world.mounts[one.mount].name} {one.confidence:.0%}" for one in side)
        print(f"{name}: {said or 'not said'}")
    for doubt in label.doubts:
        print(f"doubt: {doubt.text}")
    return 0


def _match(options: argparse.Namespace) -> int:
    world, practice = _world(options.file), _practice_of(options)
    via = None if options.via is None else [part.strip() for part in options.via.split(",") if part.strip()]
    try:
        report = match(world, options.lens, options.body, practice, via, everything=options.everything)
    except UnknownIdError as error:
        raise _RefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(match_document(report), ensure_ascii=False, indent=1))
    else:
        _print_report(report)
    return 0


def _plain(report: KeyReport | Label) -> Any:
    return TypeAdapter(type(report)).dump_python(report, mode="json")


def _print_report(report: MatchReport) -> None:
    pieces = report.pieces
    print(f"{pieces[report.lens].name} on {pieces[report.body].name}: gap {report.gap_mm:+.2f} mm")
    if not report.routes:
        print(report.sentence)
    for warning in report.warnings:
        print(f"danger: {warning}")
    for need in report.would_need:
        print(f"would need: {need.text}")
    for route in report.routes:
        chain = " + ".join(pieces[id_].name for id_ in route.adapters) or "bare"
        reach = route.wide.focus
        units = report.practice.distances
        near = "?" if reach.near_mm is None else words.distance(reach.near_mm, units)
        far = (
            "infinity" if reach.state == "to_infinity" else words.distance(reach.far_mm, units) if reach.far_mm else "?"
        )
        print(f"\n[{route.grade}] {chain}\n  {route.sentence}")
        if reach.state != "none":
            print(
                f"  error {route.register_error_mm:+.3f} mm, focus {near} to {far}, "
                f"frames like {route.wide.equivalents.focal_mm:.0f} mm"
            )
        for found in route.findings:
            print(f"  {found.severity}: {found.text}")
        for number, step in enumerate(route.details.steps if route.details else (), 1):
            print(f"  {number}. {step.text}")
    if report.folded:
        print(f"\n{report.folded} more, each beaten in everything by another: --everything shows them")


def _schema(_: argparse.Namespace) -> int:
    print(json.dumps(gear_file.json_schema(), ensure_ascii=False, indent=1))
    return 0


def _serve(options: argparse.Namespace) -> int:
    return _listen(options, _open(_database(options)))


def _import(options: argparse.Namespace) -> int:
    data = _read_gear(options.file)
    collection = _open(_database(options))
    try:
        revision, mine = collection.revision, collection.gear()
        theirs = _refusing(options.file, lambda: load_any(data, mine))
        changes = compare(mine, theirs)
        for status in ("new", "changed", "conflict", "same"):
            print(f"{sum(change.status == status for change in changes)} {status}")
        for change in changes:
            if change.status in {"changed", "conflict"}:
                print(f"{change.status}: {change.kind} {change.id}")
                for field in change.fields:
                    print(f"  {field.field}: {field.before or 'not said'} -> {field.after or 'not said'}")
        wanted = {"new", "changed", "conflict"} if options.conflicts else {"new", "changed"}
        taken = {(change.kind, change.id) for change in changes if change.status in wanted}
        gear = merged(mine, theirs, taken)
        problems = check_references(gear)
        if problems:
            lines = "\n".join(f"  {problem}" for problem in problems)
            raise _RefusedError(f"{options.file} is refused, and nothing is taken:\n{lines}", 2)
        if not options.dry_run:
            print(f"{_taken(collection, gear, options.file, revision)} written")
    finally:
        collection.close()
    return 0


def _taken(collection: Collection, gear: Gear, name: str, since: int) -> int:
    from tropeion.store.collection import MovedError  # noqa: PLC0415

    try:
        return collection.replace(gear, f"{Path(name).name} imported", since=since)
    except MovedError:
        raise _RefusedError("the collection changed meanwhile, and nothing is taken: try again") from None


def _export(options: argparse.Namespace) -> int:
    collection = _open(_database(options))
    try:
        gear = collection.gear()
        if options.table:
            decimal: Literal["point", "comma"] = "comma" if options.decimal_comma else "point"
            data = dump_table(options.table, items(gear, options.table), decimal=decimal)
        else:
            data = gear_file.dump(gear)
    finally:
        collection.close()
    if options.file is None:
        sys.stdout.write(data.decode())
        return 0
    try:
        Path(options.file).write_bytes(data)
    except OSError as error:
        raise _RefusedError(f"cannot write {options.file}: {error.strerror}") from None
    return 0


def _backup(options: argparse.Namespace) -> int:
    from tropeion.store.backup import backup  # noqa: PLC0415
    from tropeion.store.collection import StoreError  # noqa: PLC0415

    try:
        backup(_database(options), options.file)
    except StoreError as error:
        raise _RefusedError(str(error)) from None
    return 0


def _restore(options: argparse.Namespace) -> int:
    from tropeion.store.backup import restore  # noqa: PLC0415
    from tropeion.store.collection import StoreError  # noqa: PLC0415

    try:
        kept = restore(_database(options), options.file)
    except StoreError as error:
        raise _RefusedError(str(error)) from None
    if kept is not None:
        print(f"the collection as it was is kept in {kept}")
    return 0


def _demo(options: argparse.Namespace) -> int:
    from platformdirs import user_data_path  # noqa: PLC0415

    folder = options.data or user_data_path("tropeion", appauthor=False) / "demo"
    collection = _open(folder / "demo.sqlite")
    if options.reset or not collection.gear().mounts:
        collection.replace(gear_file.load(sample_bytes()), "The sample world loaded")
    return _listen(options, collection, demo=True)


def _open(path: Path) -> Collection:
    from tropeion.store.collection import Collection, StoreError  # noqa: PLC0415

    try:
        return Collection(path)
    except StoreError as error:
        raise _RefusedError(str(error)) from None


def _listen(options: argparse.Namespace, collection: Collection, *, demo: bool = False) -> int:
    import uvicorn  # noqa: PLC0415

    from tropeion.api.app import WEB_FILES, create_app  # noqa: PLC0415

    if not (WEB_FILES / "index.html").is_file():
        raise _RefusedError("the web files are not built: run 'make web' in the checkout, or install the wheel")
    # Without the protocol spelt out, asyncio leaves Nagle's algorithm on, and each answer waits 40 ms for it.
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", options.port))
        listener.listen(128)
    except (OSError, OverflowError) as error:
        listener.close()
        reason = getattr(error, "strerror", None) or str(error)
        raise _RefusedError(f"cannot listen on port {options.port}: {reason}; try --port 0") from None
    address = f"http://127.0.0.1:{listener.getsockname()[1]}/"
    config = uvicorn.Config(
        create_app(collection, WEB_FILES, demo=demo),
        log_level="warning",
        lifespan="off",
        server_header=False,
        date_header=False,
    )
    print(f"Tropeion is at {address}  (Ctrl-C stops it)", flush=True)
    try:
        uvicorn.Server(config).run(sockets=[listener])
    finally:
        collection.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
