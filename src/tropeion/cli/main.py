"""The command line: what the screens do, without a browser."""

from __future__ import annotations

import argparse
import contextlib
import errno
import os
import sys
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Final, get_args

if TYPE_CHECKING:
    from _typeshed import SupportsWrite

DEFAULT_PORT = 8463
DEFAULT_LAN_PORT = 8464
_OF_THE_OUTPUT = {errno.EPIPE, errno.ENOSPC, errno.EDQUOT, errno.EBADF, errno.EIO, errno.EFBIG}


class _Parser(argparse.ArgumentParser):
    """A parser whose help fails where it cannot be written; the library's own says nothing then."""

    def _print_message(self, message: str, file: SupportsWrite[str] | None = None) -> None:
        if message:
            (sys.stderr if file is None else file).write(message)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code. 1: it cannot run; 2: the input is refused."""
    if sys.stdout is None:
        # Closed by whoever started it. What is written comes to the same end as on a full disk.
        sys.stdout = os.fdopen(os.open(os.devnull, os.O_RDONLY), "w")
    try:
        try:
            options = _parser(sys.argv[1:] if arguments is None else arguments).parse_args(arguments)
            code: int = options.run(options)
        finally:
            sys.stdout.flush()
    except OSError as error:
        if error.filename is not None or error.errno not in _OF_THE_OUTPUT:
            raise
        _give_up_the_output()
        if error.errno != errno.EPIPE:
            reason = "it is closed" if error.errno == errno.EBADF else error.strerror
            print(f"tropeion: cannot write the output: {reason}", file=sys.stderr)
        return 1
    except Exception as error:
        refused = _refused(error)
        if refused is None:
            raise
        print(f"tropeion: {error}", file=sys.stderr)
        return refused
    except KeyboardInterrupt:
        # The shell shows ^C; there is nothing to add.
        return 130
    return code


def _give_up_the_output() -> None:
    """Discard pending output, so that the interpreter does not report the error again as it ends."""
    with contextlib.suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)


def _refused(error: Exception) -> int | None:
    """The exit code of what is told in words; None for anything else."""
    from tropeion.store.errors import NoBackupError, StoreError

    from .inputs import InputRefusedError

    if isinstance(error, InputRefusedError):
        return error.code
    if not isinstance(error, StoreError):
        return None
    return 2 if isinstance(error, NoBackupError) else 1


def _parser(arguments: Sequence[str]) -> argparse.ArgumentParser:
    """The parser; of the commands only the one that is asked for is told in full, and loads what it needs."""
    parser: argparse.ArgumentParser = _Parser(prog="tropeion", description="One maker's lens on another's camera.")
    commands = parser.add_subparsers(dest="command", required=True)
    asked = next((word for word in arguments if not word.startswith("-")), None)
    for name, (said, fill) in _COMMANDS.items():
        command = commands.add_parser(name, help=said)
        if name == asked:
            fill(command)
    return parser


def _serve(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_serve

    _data_option(parser)
    _listen_options(parser)
    parser.set_defaults(run=run_serve)


def _demo(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_demo

    again = parser.add_mutually_exclusive_group()
    again.add_argument("--reset", action="store_true", help="restore the sample world first")
    again.add_argument("--renew", action="store_true", help="bring in the present sample beside what was added")
    parser.add_argument("--data", type=Path, metavar="DIR", help="folder of the demo's own database")
    _listen_options(parser)
    parser.set_defaults(run=run_demo)


def _match(parser: argparse.ArgumentParser) -> None:
    from .questions import run_match

    parser.add_argument("file", metavar="FILE", help="gear file; '-' reads standard input, 'sample' the sample world")
    parser.add_argument("--lens", required=True, metavar="ID")
    parser.add_argument("--body", required=True, metavar="ID")
    parser.add_argument(
        "--via", metavar="ADAPTERS", help="judge this one chain: ids lens to body, by commas; '' is bare"
    )
    parser.add_argument("--json", action="store_true", help="print the whole report")
    parser.add_argument("--log", metavar="LOG.json", help="a log file whose trials count, as on the screen")
    parser.add_argument("--everything", action="store_true", help="with the routes that another beats in everything")
    _practice_options(parser)
    parser.set_defaults(run=run_match)


def _fits(parser: argparse.ArgumentParser) -> None:
    from .questions import run_fits

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    end = parser.add_mutually_exclusive_group(required=True)
    end.add_argument("--lens", metavar="ID")
    end.add_argument("--body", metavar="ID")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(parser)
    parser.set_defaults(run=run_fits)


def _frame(parser: argparse.ArgumentParser) -> None:
    from tropeion.core.frame.scenes import SCENES

    from .frame_command import run_frame

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    parser.add_argument("--lens", required=True, metavar="ID")
    parser.add_argument("--body", required=True, metavar="ID")
    parser.add_argument(
        "--via", metavar="ADAPTERS", help="ids lens to body, by commas; '' is bare (default: the best chain there is)"
    )
    parser.add_argument("--scene", choices=SCENES, default="facade")
    parser.add_argument("--at-m", type=float, metavar="D", help="where it is focused, in m; inf is infinity")
    parser.add_argument("--mm", type=float, metavar="F", help="a zoom's setting, as engraved")
    parser.add_argument("--aperture", type=float, metavar="N", help="marked aperture (default: the widest)")
    parser.add_argument("--mode", metavar="NAME", help="a mode of the sensor, 'full' or by its name")
    parser.add_argument("--upright", action="store_true", help="the camera turned by a quarter")
    parser.add_argument("--shift", metavar="X,Y", help="shift of the mechanism in mm, to the right and up")
    parser.add_argument("--tilt", type=float, metavar="DEG", help="tilt of the mechanism, down is positive")
    parser.add_argument("--correct", type=float, metavar="P", help="how far verticals are corrected, 0 to 1")
    parser.add_argument(
        "--subject", metavar="H,D,A", help="height and distance of the subject, height of the lens, in m"
    )
    parser.add_argument("--png", metavar="FILE", help="write the picture")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(parser)
    parser.set_defaults(run=run_frame)


def _becomes(parser: argparse.ArgumentParser) -> None:
    from .becomes_command import run_becomes

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    end = parser.add_mutually_exclusive_group(required=True)
    end.add_argument("--lens", metavar="ID", help="over bodies and all their modes")
    end.add_argument("--body", metavar="ID", help="lenses over it, and what they come to as a set")
    parser.add_argument("--view-of", type=_positive, metavar="MM", help="with --body: what gives this view")
    parser.add_argument(
        "--depth-as", type=_positive, metavar="N", help="with --view-of: and the depth of this aperture"
    )
    parser.add_argument(
        "--ref", metavar="ID", help="the camera that equivalents are taken from (default: full frame, 36 × 24)"
    )
    parser.add_argument("--everything", action="store_true", help="not only what you own")
    parser.add_argument("--csv", metavar="FILE", help="write the table")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(parser)
    parser.set_defaults(run=run_becomes)


def _setup(parser: argparse.ArgumentParser) -> None:
    from .setup_command import run_setup

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    parser.add_argument("--lens", required=True, metavar="ID")
    parser.add_argument("--body", required=True, metavar="ID")
    parser.add_argument("--via", metavar="ADAPTERS", help="ids lens to body, by commas (default: the best chain)")
    parser.add_argument("--with", dest="accessories", default="", metavar="ACCESSORIES", help="ids, by commas")
    parser.add_argument(
        "--held-by", metavar="ID", help="the piece whose foot or screw holds it (default: the foremost)"
    )
    parser.add_argument("--second-by", metavar="ID", help="a piece that is held besides: joints between the two rest")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(parser, use=("still", "stills", "film"))
    parser.set_defaults(run=run_setup)


def _code(parser: argparse.ArgumentParser) -> None:
    from .setup_command import run_code

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    parser.add_argument("--mount", required=True, metavar="ID", help="the system whose bodies read the code")
    parser.add_argument("--lens", metavar="ID", help="the lens that is to be marked")
    parser.add_argument("--via", default="", metavar="ADAPTERS", help="adapters whose frame lines count, by commas")
    parser.add_argument("--read", metavar="CODE", help="what stands on a flange, from where it starts: 1 or 0 a field")
    parser.add_argument("--svg", metavar="FILE", help="write the template at true size")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    parser.set_defaults(run=run_code)


def _device(parser: argparse.ArgumentParser) -> None:
    from .device_command import run_device_body, run_device_caliper

    devices = parser.add_subparsers(dest="device", required=True)
    body = devices.add_parser("body", help="a body of the collection, until Ctrl-C")
    body.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    body.add_argument("--body", required=True, metavar="ID")
    body.add_argument("--pictures", type=Path, metavar="DIR", help="write each frame into this folder, as JPEG")
    body.add_argument(
        "--clock-off", type=float, default=0.0, metavar="SECONDS", help="how far its clock is ahead; negative: slow"
    )
    _data_option(body)
    body.set_defaults(run=run_device_body)
    caliper = devices.add_parser("caliper", help="a simulated caliper at a pseudo-terminal, until Ctrl-C")
    caliper.add_argument("--length", type=float, required=True, metavar="MM", help="what is between its jaws")
    for name, usual, said in (
        ("wedge", 0.0, "by how much one side is longer than the other"),
        ("zero", 0.0, "what it shows closed"),
        ("resolution", 0.01, "its resolution"),
        ("repeatability", 0.008, "one standard deviation of a reading"),
        ("warm", 0.006, "by how much the piece grows in a warm hand"),
    ):
        caliper.add_argument(f"--{name}", type=float, default=usual, metavar="MM", help=f"{said} (default {usual:g})")
    _data_option(caliper)
    caliper.set_defaults(run=run_device_caliper)


def _log(parser: argparse.ArgumentParser) -> None:
    from .log_command import add_log

    add_log(parser)


def _practice(parser: argparse.ArgumentParser) -> None:
    from .practice_command import add_practice

    add_practice(parser, _practice_options)


def _measure(parser: argparse.ArgumentParser) -> None:
    from .measure_command import add_measure

    add_measure(parser)


def _bench(parser: argparse.ArgumentParser) -> None:
    from .bench_command import add_bench

    _practice_options(add_bench(parser))


def _grid(parser: argparse.ArgumentParser) -> None:
    from .grid_command import add_grid

    _practice_options(add_grid(parser))


def _plan(parser: argparse.ArgumentParser) -> None:
    from .plan_command import add_plan

    _practice_options(add_plan(parser))


def _key(parser: argparse.ArgumentParser) -> None:
    from .questions import run_key

    parser.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    parser.add_argument("--mount", required=True, metavar="ID")
    parser.add_argument("--side", choices=("lens", "body"), default="lens")
    for answer in ("yes", "no", "unknown"):
        parser.add_argument(f"--{answer}", default="", metavar="FEATURES", help="feature ids, by commas")
    parser.add_argument("--json", action="store_true", help="print the whole report")
    parser.set_defaults(run=run_key)


def _label(parser: argparse.ArgumentParser) -> None:
    from .questions import run_label

    parser.add_argument("text", metavar="TEXT", help="what is printed on it, or on a listing")
    parser.add_argument("--gear", default="sample", metavar="FILE", help="gear file, '-' or 'sample' (default)")
    parser.add_argument("--json", action="store_true", help="print both sides and the doubts")
    parser.set_defaults(run=run_label)


def _import(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_import

    parser.add_argument("file", metavar="FILE", help="gear file, CSV table, '-' or 'sample'")
    parser.add_argument(
        "--dry-run", action="store_true", help="only say what would be new, changed, the same, in conflict"
    )
    parser.add_argument("--conflicts", action="store_true", help="also take what is in conflict")
    parser.add_argument("--owned", action="store_true", help="what is new in a table that does not say so is yours")
    _data_option(parser)
    parser.set_defaults(run=run_import)


def _export(parser: argparse.ArgumentParser) -> None:
    from tropeion.core.gear.kinds import KINDS

    from .collection_command import run_export

    parser.add_argument("file", metavar="FILE", nargs="?", help="where to write it (default: standard output)")
    parser.add_argument("--table", choices=KINDS, metavar="KIND", help=f"one shelf as a table: {', '.join(KINDS)}")
    parser.add_argument("--decimal-comma", action="store_true", help="numbers as 25,80 and cells parted by semicolons")
    _data_option(parser)
    parser.set_defaults(run=run_export)


def _backup(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_backup

    parser.add_argument("file", metavar="FILE", type=Path, help="a new file")
    _data_option(parser)
    parser.set_defaults(run=run_backup)


def _pocket(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_pocket

    parser.add_argument("file", metavar="FILE", help="the HTML file, written anew; '-' is standard output")
    _data_option(parser)
    parser.set_defaults(run=run_pocket)


def _restore(parser: argparse.ArgumentParser) -> None:
    from .collection_command import run_restore

    parser.add_argument("file", metavar="FILE", type=Path)
    _data_option(parser)
    parser.set_defaults(run=run_restore)


def _schema(parser: argparse.ArgumentParser) -> None:
    from .questions import run_schema

    parser.set_defaults(run=run_schema)


def _positive(text: str) -> float:
    value = float(text)
    if not 0.1 <= value <= 10_000:
        raise argparse.ArgumentTypeError("from 0.1 to 10000")
    return value


def _data_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--data", type=Path, metavar="DIR", help="folder of the collection (default: your user data)")


def _practice_options(parser: argparse.ArgumentParser, **choices: tuple[str, ...]) -> None:
    from tropeion.core.practice import Practice

    for name, field in Practice.model_fields.items():
        known = choices.get(name, get_args(field.annotation))
        parser.add_argument(f"--{name}", choices=known, default=field.default, help=field.description)


def _listen_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--port", type=int, default=DEFAULT_PORT, help=f"0 takes any free one (default {DEFAULT_PORT})")
    parser.add_argument(
        "--caliper", action="append", default=[], metavar="PORT", help="a caliper's port that the system does not list"
    )
    parser.add_argument("--lan", action="store_true", help="also for paired phones in your own network, over TLS")
    parser.add_argument(
        "--address",
        action="append",
        default=[],
        metavar="ADDRESS",
        help="with --lan: listen at this private address of the machine (default: at all of them)",
    )
    parser.add_argument(
        "--lan-port", type=int, default=DEFAULT_LAN_PORT, help=f"with --lan: its port (default {DEFAULT_LAN_PORT})"
    )
    parser.add_argument(
        "--pictures",
        action="append",
        default=[],
        type=Path,
        metavar="DIR",
        help="a folder of pictures that may be read, with all below it",
    )


# In the order in which they are told. Each loads what it needs when it is asked for.
_COMMANDS: Final[Mapping[str, tuple[str, Callable[[argparse.ArgumentParser], None]]]] = {
    "serve": ("open your own collection in the browser", _serve),
    "demo": ("open the sample world; your own collection is not touched", _demo),
    "match": ("judge a lens on a body, from a gear file", _match),
    "fits": ("what fits one lens, or one body", _fits),
    "frame": ("what a rig would record of a scene, with its numbers", _frame),
    "becomes": ("what a lens becomes over bodies, lenses over a body, or a wanted view", _becomes),
    "setup": ("a rig as it goes out of the door: steps, entries, balance, accessories", _setup),
    "code": ("light and dark fields on a flange: what to mark, or what they say", _code),
    "device": ("a simulated camera to rehearse on, or a simulated caliper", _device),
    "log": ("what was used, and the pictures told so", _log),
    "practice": ("questions to learn from, made from your own gear", _practice),
    "measure": ("sharpness, circle, focus and a ring's error from your own pictures", _measure),
    "bench": ("measure a length, find the cause of what is seen, fit a mountless lens", _bench),
    "grid": ("every lens on every body: with what you own, and with what could be", _grid),
    "plan": ("the least money that keeps lenses in use: what to buy, and what it serves", _plan),
    "key": ("which generation of a mount it is, from what can be seen", _key),
    "label": ("read an adapter's label: both its ends, and what is doubtful", _label),
    "import": ("take a gear file or a CSV table into your collection; what is there stays", _import),
    "export": ("your collection as a gear file, or one shelf of it as a CSV table", _export),
    "backup": ("everything in one file, also while the application runs", _backup),
    "pocket": ("cards, packing lists, what would fit and the key as one page to carry", _pocket),
    "restore": ("make your collection what a backup holds; undo takes it back", _restore),
    "schema": ("print the JSON Schema of the gear file", _schema),
}
