"""Finding gear by any part of its names or of its mount's aliases."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from typing import Literal

from tropeion.core.keeping import kept

from .adapters import Adapter
from .bodies import Body
from .lenses import Lens
from .mounts import Mount
from .world import World

__all__ = ["folded", "mount_words", "search"]


def folded(text: str) -> str:
    """Lower case, no accents, × as x, one kind of space."""
    plain = unicodedata.normalize("NFKD", text.casefold().replace("×", "x").replace(",", "."))
    return re.sub(r"\s+", " ", "".join(c for c in plain if not unicodedata.combining(c)))


def mount_words(mount: Mount) -> list[str]:
    words = [mount.id, mount.name, *mount.aliases]
    if mount.thread is not None:
        words.append(f"{mount.thread.diameter_mm:g}x{mount.thread.pitch_mm:g} M{mount.thread.diameter_mm:g}")
    return words


@kept()
def _index(world: World, kind: Literal["lens", "body", "adapter"]) -> list[tuple[str, str, Lens | Body | Adapter]]:
    """Folded name and all folded words of every item that is not retired, owned ones first, then by name."""
    shelves: dict[str, Sequence[Lens | Body | Adapter]] = {
        "lens": world.gear.lenses,
        "body": world.gear.bodies,
        "adapter": world.gear.adapters,
    }
    items: list[Lens | Body | Adapter] = list(shelves[kind])
    items.sort(key=lambda item: (not item.at_hand, item.name.casefold()))
    index: list[tuple[str, str, Lens | Body | Adapter]] = []
    for item in items:
        if item.retired:
            continue
        mounts = [item.lens_mount, item.body_mount] if isinstance(item, Adapter) else [item.mount]
        words = [item.name, *item.aliases, item.id]
        for mount in mounts:
            words += mount_words(world.mounts[mount])
        index.append((folded(item.name), " " + folded(" | ".join(words)), item))
    return index


def search(
    world: World, kind: Literal["lens", "body", "adapter"], query: str, limit: int = 50
) -> tuple[tuple[Lens | Body | Adapter, ...], int]:
    """The best ``limit`` items that hold every word of the query, and how many do. An empty query finds all.

    A name that begins with the query comes first, then a word that does, then any part.
    """
    words = folded(query).split()
    index = _index(world, kind)
    if not words:
        return tuple(item for _, _, item in index[:limit]), len(index)
    hits = index
    for word in words:
        hits = [entry for entry in hits if word in entry[1]]
    whole, begins = " ".join(words), f" {words[0]}"
    ranked: tuple[list[Lens | Body | Adapter], ...] = ([], [], [])
    for name, text, item in hits:
        ranked[0 if name.startswith(whole) else 1 if begins in text else 2].append(item)
    found = [item for group in ranked for item in group]
    return tuple(found[:limit]), len(found)
