"""The command line: what the screens do, without a browser."""

from __future__ import annotations

import argparse
import contextlib
import errno
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, get_args

from tropeion.core.frame.scenes import SCENES
from tropeion.core.gear.kinds import KINDS
from tropeion.core.practice import Practice

from .becomes_command import run_becomes
from .bench_command import add_bench
from .collection_command import run_backup, run_demo, run_export, run_import, run_pocket, run_restore, run_serve
from .device_command import run_device_body, run_device_caliper
from .frame_command import run_frame
from .grid_command import add_grid
from .inputs import InputRefusedError
from .log_command import add_log
from .measure_command import add_measure
from .plan_command import add_plan
from .practice_command import add_practice
from .questions import run_fits, run_key, run_label, run_match, run_schema
from .setup_command import run_code, run_setup

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
            options = _parser().parse_args(arguments)
            code: int = options.run(options)
        finally:
            sys.stdout.flush()
    except InputRefusedError as error:
        print(f"tropeion: {error}", file=sys.stderr)
        return error.code
    except OSError as error:
        if error.filename is not None or error.errno not in _OF_THE_OUTPUT:
            raise
        _give_up_the_output()
        if error.errno != errno.EPIPE:
            reason = "it is closed" if error.errno == errno.EBADF else error.strerror
            print(f"tropeion: cannot write the output: {reason}", file=sys.stderr)
        return 1
    except Exception as error:
        from tropeion.store.errors import NoBackupError, StoreError  # noqa: PLC0415  few commands touch the store

        if not isinstance(error, StoreError):
            raise
        print(f"tropeion: {error}", file=sys.stderr)
        return 2 if isinstance(error, NoBackupError) else 1
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


def _parser() -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = _Parser(prog="tropeion", description="One maker's lens on another's camera.")
    commands = parser.add_subparsers(dest="command", required=True)

    serve = commands.add_parser("serve", help="open your own collection in the browser")
    _data_option(serve)
    _listen_options(serve)
    serve.set_defaults(run=run_serve)

    demo = commands.add_parser("demo", help="open the sample world; your own collection is not touched")
    again = demo.add_mutually_exclusive_group()
    again.add_argument("--reset", action="store_true", help="restore the sample world first")
    again.add_argument("--renew", action="store_true", help="bring in the present sample beside what was added")
    demo.add_argument("--data", type=Path, metavar="DIR", help="folder of the demo's own database")
    _listen_options(demo)
    demo.set_defaults(run=run_demo)

    _pair_commands(commands)
    _frame_command(commands)
    _becomes_command(commands)
    _setup_commands(commands)
    _device_commands(commands)
    _judging_commands(commands)

    key = commands.add_parser("key", help="which generation of a mount it is, from what can be seen")
    key.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    key.add_argument("--mount", required=True, metavar="ID")
    key.add_argument("--side", choices=("lens", "body"), default="lens")
    for answer in ("yes", "no", "unknown"):
        key.add_argument(f"--{answer}", default="", metavar="FEATURES", help="feature ids, by commas")
    key.add_argument("--json", action="store_true", help="print the whole report")
    key.set_defaults(run=run_key)

    label = commands.add_parser("label", help="read an adapter's label: both its ends, and what is doubtful")
    label.add_argument("text", metavar="TEXT", help="what is printed on it, or on a listing")
    label.add_argument("--gear", default="sample", metavar="FILE", help="gear file, '-' or 'sample' (default)")
    label.add_argument("--json", action="store_true", help="print both sides and the doubts")
    label.set_defaults(run=run_label)

    _collection_commands(commands)

    schema = commands.add_parser("schema", help="print the JSON Schema of the gear file")
    schema.set_defaults(run=run_schema)
    return parser


def _pair_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """A pair, or one end of it."""
    pair = commands.add_parser("match", help="judge a lens on a body, from a gear file")
    pair.add_argument("file", metavar="FILE", help="gear file; '-' reads standard input, 'sample' the sample world")
    pair.add_argument("--lens", required=True, metavar="ID")
    pair.add_argument("--body", required=True, metavar="ID")
    pair.add_argument("--via", metavar="ADAPTERS", help="judge this one chain: ids lens to body, by commas; '' is bare")
    pair.add_argument("--json", action="store_true", help="print the whole report")
    pair.add_argument("--log", metavar="LOG.json", help="a log file whose trials count, as on the screen")
    pair.add_argument("--everything", action="store_true", help="with the routes that another beats in everything")
    _practice_options(pair)
    pair.set_defaults(run=run_match)

    fits = commands.add_parser("fits", help="what fits one lens, or one body")
    fits.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    end = fits.add_mutually_exclusive_group(required=True)
    end.add_argument("--lens", metavar="ID")
    end.add_argument("--body", metavar="ID")
    fits.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(fits)
    fits.set_defaults(run=run_fits)


def _frame_command(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    frame = commands.add_parser("frame", help="what a rig would record of a scene, with its numbers")
    frame.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    frame.add_argument("--lens", required=True, metavar="ID")
    frame.add_argument("--body", required=True, metavar="ID")
    frame.add_argument(
        "--via", metavar="ADAPTERS", help="ids lens to body, by commas; '' is bare (default: the best chain there is)"
    )
    frame.add_argument("--scene", choices=SCENES, default="facade")
    frame.add_argument("--at-m", type=float, metavar="D", help="where it is focused, in m; inf is infinity")
    frame.add_argument("--mm", type=float, metavar="F", help="a zoom's setting, as engraved")
    frame.add_argument("--aperture", type=float, metavar="N", help="marked aperture (default: the widest)")
    frame.add_argument("--mode", metavar="NAME", help="a mode of the sensor, 'full' or by its name")
    frame.add_argument("--upright", action="store_true", help="the camera turned by a quarter")
    frame.add_argument("--shift", metavar="X,Y", help="shift of the mechanism in mm, to the right and up")
    frame.add_argument("--tilt", type=float, metavar="DEG", help="tilt of the mechanism, down is positive")
    frame.add_argument("--correct", type=float, metavar="P", help="how far verticals are corrected, 0 to 1")
    frame.add_argument(
        "--subject", metavar="H,D,A", help="height and distance of the subject, height of the lens, in m"
    )
    frame.add_argument("--png", metavar="FILE", help="write the picture")
    frame.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(frame)
    frame.set_defaults(run=run_frame)


def _becomes_command(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    becomes = commands.add_parser(
        "becomes", help="what a lens becomes over bodies, lenses over a body, or a wanted view"
    )
    becomes.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    end = becomes.add_mutually_exclusive_group(required=True)
    end.add_argument("--lens", metavar="ID", help="over bodies and all their modes")
    end.add_argument("--body", metavar="ID", help="lenses over it, and what they come to as a set")
    becomes.add_argument("--view-of", type=_positive, metavar="MM", help="with --body: what gives this view")
    becomes.add_argument(
        "--depth-as", type=_positive, metavar="N", help="with --view-of: and the depth of this aperture"
    )
    becomes.add_argument(
        "--ref", metavar="ID", help="the camera that equivalents are taken from (default: full frame, 36 × 24)"
    )
    becomes.add_argument("--everything", action="store_true", help="not only what you own")
    becomes.add_argument("--csv", metavar="FILE", help="write the table")
    becomes.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(becomes)
    becomes.set_defaults(run=run_becomes)


def _setup_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    setup = commands.add_parser("setup", help="a rig as it goes out of the door: steps, entries, balance, accessories")
    setup.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    setup.add_argument("--lens", required=True, metavar="ID")
    setup.add_argument("--body", required=True, metavar="ID")
    setup.add_argument("--via", metavar="ADAPTERS", help="ids lens to body, by commas (default: the best chain)")
    setup.add_argument("--with", dest="accessories", default="", metavar="ACCESSORIES", help="ids, by commas")
    setup.add_argument("--held-by", metavar="ID", help="the piece whose foot or screw holds it (default: the foremost)")
    setup.add_argument("--second-by", metavar="ID", help="a piece that is held besides: joints between the two rest")
    setup.add_argument("--json", action="store_true", help="print the whole report")
    _practice_options(setup, use=("still", "stills", "film"))
    setup.set_defaults(run=run_setup)

    code = commands.add_parser("code", help="light and dark fields on a flange: what to mark, or what they say")
    code.add_argument("file", metavar="FILE", help="gear file, '-' or 'sample', as for match")
    code.add_argument("--mount", required=True, metavar="ID", help="the system whose bodies read the code")
    code.add_argument("--lens", metavar="ID", help="the lens that is to be marked")
    code.add_argument("--via", default="", metavar="ADAPTERS", help="adapters whose frame lines count, by commas")
    code.add_argument("--read", metavar="CODE", help="what stands on a flange, from where it starts: 1 or 0 a field")
    code.add_argument("--svg", metavar="FILE", help="write the template at true size")
    code.add_argument("--json", action="store_true", help="print the whole report")
    code.set_defaults(run=run_code)


def _judging_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Commands of their own modules: those that judge by a practice, and the log's."""
    add_log(commands)
    add_practice(commands, _practice_options)
    add_measure(commands)
    for add in (add_bench, add_grid, add_plan):
        _practice_options(add(commands))


def _device_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    device = commands.add_parser("device", help="a simulated camera to rehearse on, or a simulated caliper")
    devices = device.add_subparsers(dest="device", required=True)
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


def _positive(text: str) -> float:
    value = float(text)
    if not 0.1 <= value <= 10_000:
        raise argparse.ArgumentTypeError("from 0.1 to 10000")
    return value


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
    take.add_argument("--owned", action="store_true", help="what is new in a table that does not say so is yours")
    _data_option(take)
    take.set_defaults(run=run_import)

    give = commands.add_parser("export", help="your collection as a gear file, or one shelf of it as a CSV table")
    give.add_argument("file", metavar="FILE", nargs="?", help="where to write it (default: standard output)")
    give.add_argument("--table", choices=KINDS, metavar="KIND", help=f"one shelf as a table: {', '.join(KINDS)}")
    give.add_argument("--decimal-comma", action="store_true", help="numbers as 25,80 and cells parted by semicolons")
    _data_option(give)
    give.set_defaults(run=run_export)

    keep = commands.add_parser("backup", help="everything in one file, also while the application runs")
    keep.add_argument("file", metavar="FILE", type=Path, help="a new file")
    _data_option(keep)
    keep.set_defaults(run=run_backup)

    carry = commands.add_parser("pocket", help="cards, packing lists, what would fit and the key as one page to carry")
    carry.add_argument("file", metavar="FILE", help="the HTML file, written anew; '-' is standard output")
    _data_option(carry)
    carry.set_defaults(run=run_pocket)

    back = commands.add_parser("restore", help="make your collection what a backup holds; undo takes it back")
    back.add_argument("file", metavar="FILE", type=Path)
    _data_option(back)
    back.set_defaults(run=run_restore)


def _data_option(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--data", type=Path, metavar="DIR", help="folder of the collection (default: your user data)")


def _practice_options(parser: argparse.ArgumentParser, **choices: tuple[str, ...]) -> None:
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
