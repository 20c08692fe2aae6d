"""Commands on your collection: serve it, bring in, give out, keep and restore."""

from __future__ import annotations

import argparse
import socket
import subprocess
import sys
from contextlib import ExitStack
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kit import items
from tropeion.core.gear.merge import STATUSES, Status, can_be_owned, chosen, compare, merged, owned_where_new
from tropeion.core.gear.references import check_references
from tropeion.core.log.log_records import records_in
from tropeion.formats import gear_file
from tropeion.formats.any_file import leaves_ownership_open, load_any
from tropeion.formats.kit_tables import dump_table
from tropeion.formats.log_file import load_log
from tropeion.sample import SAMPLE_AT, SUBJECTS, log_bytes, record_bytes, sample_bytes

from .inputs import InputRefusedError, database, gear_bytes, refusing, write_whole

if TYPE_CHECKING:
    from tropeion.lan.addresses import Address
    from tropeion.lan.listening import Listening
    from tropeion.store.collection import Collection


def run_serve(options: argparse.Namespace) -> int:
    _check_pictures(options)
    _addresses(options)
    return _listen(options, _open(database(options)))


def _check_pictures(options: argparse.Namespace) -> None:
    """Before anything is opened: a folder that is not there is a slip."""
    for folder in options.pictures:
        if not folder.is_dir():
            raise InputRefusedError(f"--pictures {folder}: there is no such folder", 2)


def _addresses(options: argparse.Namespace) -> tuple[Address, ...] | None:
    """Where to listen in the network; None: nowhere. Before anything is opened: any other address is a slip."""
    from tropeion.lan.addresses import NotPrivateError, addresses_here, private_address  # noqa: PLC0415

    if not options.lan:
        if options.address:
            raise InputRefusedError("--address goes with --lan", 2)
        return None
    try:
        named = tuple(dict.fromkeys(private_address(text) for text in options.address))
    except NotPrivateError as error:
        raise InputRefusedError(f"--address: {error}", 2) from None
    if not 0 <= options.lan_port < 65536:
        raise InputRefusedError(f"--lan-port {options.lan_port}: from 0 to 65535", 2)
    return named or addresses_here()


def run_import(options: argparse.Namespace) -> int:
    data = gear_bytes(options.file)
    collection = _open(database(options))
    try:
        revision, mine = collection.revision, collection.gear()
        theirs = refusing(options.file, lambda: load_any(data, mine))
        changes = compare(mine, theirs)
        if can_be_owned(changes) and leaves_ownership_open(data):
            if options.owned:
                theirs = owned_where_new(theirs, changes)
            else:
                print("the table does not say what you own: --owned takes what is new as yours")
        for status in STATUSES:
            print(f"{sum(change.status == status for change in changes)} {status}")
        for change in changes:
            if change.status in {"changed", "conflict"}:
                print(f"{change.status}: {change.kind} {change.id}")
                for field in change.fields:
                    print(f"  {field.field}: {field.before or 'not said'} -> {field.after or 'not said'}")
        wanted: set[Status] = {"new", "changed", "conflict"} if options.conflicts else {"new", "changed"}
        gear = merged(mine, theirs, chosen(changes, wanted))
        problems = check_references(gear)
        if problems:
            lines = "\n".join(f"  {problem}" for problem in problems)
            raise InputRefusedError(f"{options.file} is refused, and nothing is taken:\n{lines}", 2)
        if not options.dry_run:
            print(f"{_taken(collection, gear, options.file, revision)} written")
    finally:
        collection.close()
    return 0


def _taken(collection: Collection, gear: Gear, name: str, since: int) -> int:
    from tropeion.store.errors import MovedError  # noqa: PLC0415

    try:
        return collection.replace(gear, f"{Path(name).name} imported", since=since)
    except MovedError:
        raise InputRefusedError("the collection changed meanwhile, and nothing is taken: try again") from None


def run_export(options: argparse.Namespace) -> int:
    from tropeion.store.read_only import read_only_gear  # noqa: PLC0415

    # Also where nothing beside it can be written.
    gear = read_only_gear(database(options))
    if options.table:
        decimal: Literal["point", "comma"] = "comma" if options.decimal_comma else "point"
        data = dump_table(options.table, items(gear, options.table), decimal=decimal)
    else:
        data = gear_file.dump(gear)
    if options.file is None:
        sys.stdout.write(data.decode())
    else:
        write_whole(Path(options.file), data)
    return 0


def run_backup(options: argparse.Namespace) -> int:
    from tropeion.store.backup import backup  # noqa: PLC0415

    backup(database(options), options.file)
    return 0


def run_pocket(options: argparse.Namespace) -> int:
    """Write what is carried as one page; a collection that is empty or not there yet gives one that says so."""
    from tropeion.core.gear.rig import Rig  # noqa: PLC0415
    from tropeion.core.gear.world import compile_world  # noqa: PLC0415
    from tropeion.core.pocket.gathering import Carried, gather  # noqa: PLC0415
    from tropeion.core.records.outing_record import Outing  # noqa: PLC0415
    from tropeion.core.records.record import now  # noqa: PLC0415
    from tropeion.formats.pocket_html import pocket_html  # noqa: PLC0415
    from tropeion.store.read_only import read_only_whole  # noqa: PLC0415

    whole = read_only_whole(database(options))
    kept = [record for record in whole.records.get("outings", {}).values() if not record.struck]
    outings = [record for record in kept if isinstance(record, Outing)]
    carried = Carried("", "", now(), whole.practice, outings, list[Rig]())
    data = pocket_html(gather(compile_world(whole.gear), carried))
    if options.file == "-":
        sys.stdout.write(data.decode())
    else:
        write_whole(Path(options.file), data)
    return 0


def run_restore(options: argparse.Namespace) -> int:
    from tropeion.store.backup import restore  # noqa: PLC0415

    kept = restore(database(options), options.file)
    if kept is None:
        print("restored; in the application, undo takes it back")
    else:
        print(f"restored; the damaged collection is kept in {kept}")
    return 0


def run_demo(options: argparse.Namespace) -> int:
    from platformdirs import user_data_path  # noqa: PLC0415

    _check_pictures(options)
    _addresses(options)
    folder = options.data or user_data_path("tropeion", appauthor=False) / "demo"
    collection = _open(folder / "demo.sqlite")
    sample, mine = gear_file.load(sample_bytes()), collection.gear()
    if options.reset or not mine.mounts:
        from tropeion.store.records import read_document  # noqa: PLC0415
        from tropeion.store.whole import Whole  # noqa: PLC0415

        records = read_document(record_bytes())
        for record in records_in(load_log(log_bytes()), SAMPLE_AT):
            records[record.kind][record.id] = record
        collection.restore(Whole(sample, records, subjects=SUBJECTS), "The sample world loaded")
    elif any(change.status != "same" for change in compare(mine, sample)):
        if options.renew:
            _renew(collection, mine, sample)
        else:
            print(
                "This demo differs from the sample world of this version: some of it is yours, or an older edition "
                "whose coupling parts and threads were others. Nothing is taken away: 'tropeion demo --renew' brings "
                "in the present sample beside what you added, 'tropeion demo --reset' loads it alone.",
                file=sys.stderr,
            )
    pictures = folder / "pictures"
    pictures.mkdir(exist_ok=True)
    return _listen(options, collection, demo=True, sample_pictures=pictures)


def _renew(collection: Collection, mine: Gear, sample: Gear) -> None:
    """Every item of the sample as it is today; what was added stays. One action, which undo takes back."""
    gear = merged(mine, sample, chosen(compare(mine, sample), {"new", "changed", "conflict"}))
    problems = check_references(gear)
    if problems:
        lines = "\n".join(f"  {problem}" for problem in problems[:20])
        raise InputRefusedError(
            f"what was added names what the present sample has no more; nothing is changed:\n{lines}"
        )
    collection.replace(gear, "The sample world renewed")


def _open(path: Path) -> Collection:
    from tropeion.store.collection import Collection  # noqa: PLC0415

    return Collection(path)


def _listen(
    options: argparse.Namespace, collection: Collection, *, demo: bool = False, sample_pictures: Path | None = None
) -> int:
    from tropeion.api.app import WEB_FILES, create_app, lan_gate_of  # noqa: PLC0415
    from tropeion.api.server import Server, config_of, network_of  # noqa: PLC0415
    from tropeion.lan.listening import listening  # noqa: PLC0415

    if not (WEB_FILES / "index.html").is_file():
        raise InputRefusedError("the web files are not built: run 'make web' in the checkout, or install the wheel")
    addresses = _addresses(options)
    listener = _listener_at(options.port)
    address = f"http://127.0.0.1:{listener.getsockname()[1]}/"
    roots = [*options.pictures, *([] if sample_pictures is None else [sample_pictures])]
    making = None if sample_pictures is None else _in_the_background(sample_pictures)
    try:
        with ExitStack() as stack:
            network, gate = None, None
            if addresses is not None:
                found = stack.enter_context(listening(collection.path.parent, addresses, options.lan_port))
                gate = lan_gate_of(found)
                network = network_of(found, gate)
            app = create_app(
                collection, WEB_FILES, demo=demo, caliper_ports=options.caliper, picture_roots=roots, lan_gate=gate
            )
            config = config_of(app)
            print(f"Tropeion is at {address}  (Ctrl-C stops it)", flush=True)
            if gate is not None and gate.listening is not None:
                _tell_of(gate.listening, address)
            Server(config, network).run(sockets=[listener])
    finally:
        collection.close()
        if making is not None:
            making.terminate()
            making.wait()
    return 0


def _tell_of(found: Listening, address: str) -> None:
    for place in found.places:
        print(f"and in your network at {place.url}", flush=True)
    for why in found.failed:
        print(f"not in your network: {why}", file=sys.stderr, flush=True)
    if found.places:
        print(f"Pair a phone at {address}devices", flush=True)


def _listener_at(port: int) -> socket.socket:
    # Without an explicit protocol asyncio leaves Nagle's algorithm on, which delays each answer by 40 ms.
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", port))
        listener.listen(128)
    except (OSError, OverflowError) as error:
        listener.close()
        reason = getattr(error, "strerror", None) or str(error)
        raise InputRefusedError(f"cannot listen on port {port}: {reason}; try --port 0") from None
    return listener


def _in_the_background(folder: Path) -> subprocess.Popen[bytes]:
    """Make the pictures of the sample in a process of its own: the first answers need not wait for them."""
    command = [sys.executable, "-m", "tropeion.pictures.sample_pictures", str(folder)]
    return subprocess.Popen(command, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
