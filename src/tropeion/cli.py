"""The command line: serve, demo, match, schema."""

from __future__ import annotations

import argparse
import json
import socket
import sys
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any, get_args

from tropeion.core import words
from tropeion.core.match import match
from tropeion.core.practice import Practice
from tropeion.core.world import UnknownIdError, compile_world
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes

if TYPE_CHECKING:
    from tropeion.core.report import MatchReport
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
    serve.add_argument("--data", type=Path, metavar="DIR", help="folder of the collection (default: your user data)")
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
    for name, field in Practice.model_fields.items():
        pair.add_argument(
            f"--{name}", choices=get_args(field.annotation), default=field.default, help=field.description
        )
    pair.set_defaults(run=_match)

    schema = commands.add_parser("schema", help="print the JSON Schema of the gear file")
    schema.set_defaults(run=_schema)
    return parser


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


def _match(options: argparse.Namespace) -> int:
    try:
        world = compile_world(gear_file.load(_read_gear(options.file)))
    except gear_file.GearFileError as error:
        lines = "\n".join(f"  {problem}" for problem in error.problems)
        raise _RefusedError(f"{options.file} is refused:\n{lines}", 2) from None
    practice = Practice(**{name: getattr(options, name) for name in Practice.model_fields})
    via = None if options.via is None else [part.strip() for part in options.via.split(",") if part.strip()]
    try:
        report = match(world, options.lens, options.body, practice, via)
    except UnknownIdError as error:
        raise _RefusedError(str(error), 2) from None
    if options.json:
        print(json.dumps(_plain(report), ensure_ascii=False, indent=1))
    else:
        _print_report(report)
    return 0


def _plain(report: MatchReport) -> dict[str, Any]:
    document = asdict(report)
    document["practice"] = report.practice.model_dump()
    return document


def _print_report(report: MatchReport) -> None:
    pieces = report.pieces
    print(f"{pieces[report.lens].name} on {pieces[report.body].name}: gap {report.gap_mm:+.2f} mm")
    if not report.routes:
        print(report.sentence)
    for route in report.routes:
        chain = " + ".join(pieces[id_].name for id_ in route.adapters) or "bare"
        reach = route.focus
        units = report.practice.distances
        near = "?" if reach.near_mm is None else words.distance(reach.near_mm, units)
        far = (
            "infinity" if reach.state == "to_infinity" else words.distance(reach.far_mm, units) if reach.far_mm else "?"
        )
        print(f"\n[{route.grade}] {chain}\n  {route.sentence}")
        if reach.state != "none":
            print(
                f"  error {route.register_error_mm:+.3f} mm, focus {near} to {far}, "
                f"frames like {route.equivalents.focal_mm:.0f} mm"
            )
        for found in route.findings:
            print(f"  {found.severity}: {found.text}")


def _schema(_: argparse.Namespace) -> int:
    print(json.dumps(gear_file.json_schema(), ensure_ascii=False, indent=1))
    return 0


def _serve(options: argparse.Namespace) -> int:
    from platformdirs import user_data_path  # noqa: PLC0415  the web is loaded only where it is served

    folder = options.data or user_data_path("tropeion", appauthor=False)
    return _listen(options, _open(folder / "collection.sqlite"))


def _demo(options: argparse.Namespace) -> int:
    from platformdirs import user_data_path  # noqa: PLC0415

    folder = options.data or user_data_path("tropeion", appauthor=False) / "demo"
    collection = _open(folder / "demo.sqlite")
    if options.reset or not collection.gear().mounts:
        collection.replace(gear_file.load(sample_bytes()))
    return _listen(options, collection)


def _open(path: Path) -> Collection:
    from tropeion.store.collection import Collection, StoreError  # noqa: PLC0415

    try:
        return Collection(path)
    except StoreError as error:
        raise _RefusedError(str(error)) from None


def _listen(options: argparse.Namespace, collection: Collection) -> int:
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
        create_app(collection, WEB_FILES), log_level="warning", lifespan="off", server_header=False, date_header=False
    )
    print(f"Tropeion is at {address}  (Ctrl-C stops it)", flush=True)
    try:
        uvicorn.Server(config).run(sockets=[listener])
    finally:
        collection.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
