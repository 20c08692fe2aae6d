"""What commands are given: a gear file, a practice, the folder of a collection; and how they refuse."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable
from pathlib import Path

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.match import best_route
from tropeion.formats import gear_file
from tropeion.formats.gear_reading import MAX_BYTES, GearFileError
from tropeion.sample import sample_bytes


class InputRefusedError(Exception):
    """One clear line for the terminal, and the exit code."""

    def __init__(self, message: str, code: int = 1) -> None:
        super().__init__(message)
        self.code = code


def database(options: argparse.Namespace) -> Path:
    from platformdirs import user_data_path  # noqa: PLC0415  only what touches the collection needs to know where it is

    folder: Path = options.data or user_data_path("tropeion", appauthor=False)
    return folder / "collection.sqlite"


def practice_of(options: argparse.Namespace) -> Practice:
    return Practice(**{name: getattr(options, name) for name in Practice.model_fields})


def chain_of(world: World, lens_id: str, body_id: str, via: str | None, practice: Practice) -> list[str]:
    """The chain that is asked for; else the best that the collection has for the pair. Raises UnknownIdError."""
    if via is not None:
        return [part.strip() for part in via.split(",") if part.strip()]
    best, _ = best_route(world, world.lens(lens_id), world.body(body_id), practice)
    if best is None:
        raise InputRefusedError("nothing in the collection joins the two: 'tropeion match' says what would", 2)
    return list(best.adapters)


def gear_bytes(name: str) -> bytes:
    if name == "sample":
        return sample_bytes()
    if name == "-":
        return sys.stdin.buffer.read(MAX_BYTES + 1)
    try:
        return Path(name).read_bytes()
    except OSError as error:
        raise InputRefusedError(f"cannot read {name}: {error.strerror}", 2) from None


def gear_of(name: str) -> Gear:
    return refusing(name, lambda: gear_file.load(gear_bytes(name)))


def refusing(name: str, read: Callable[[], Gear]) -> Gear:
    """What is wrong with a file, a line each."""
    try:
        return read()
    except GearFileError as error:
        lines = "\n".join(f"  {problem}" for problem in error.problems)
        raise InputRefusedError(f"{name} is refused:\n{lines}", 2) from None


def world_of(name: str) -> World:
    return compile_world(gear_of(name))


def world_asked(options: argparse.Namespace) -> World:
    """The gear that ids refer to; an empty collection leaves them unresolved."""
    if options.gear is not None:
        return world_of(options.gear)
    from tropeion.store.read_only import read_only_gear  # noqa: PLC0415

    return compile_world(read_only_gear(database(options)))


def write_whole(path: Path, data: bytes) -> None:
    """Beside it first: what is there stays whole until the new one is."""
    part = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        try:
            with part.open("xb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)
    except OSError as error:
        raise InputRefusedError(f"cannot write {path}: {error.strerror}; what was there is as it was") from None
