"""Words as they are compared: folded, and all the words by which a mount is known."""

from __future__ import annotations

import re
import unicodedata

from .mounts import Mount


def folded(text: str) -> str:
    """Lower case, no accents, × as x, one kind of space."""
    plain = unicodedata.normalize("NFKD", text.casefold().replace("×", "x").replace(",", "."))
    return re.sub(r"\s+", " ", "".join(c for c in plain if not unicodedata.combining(c)))


def mount_words(mount: Mount) -> list[str]:
    words = [mount.id, mount.name, *mount.aliases]
    if mount.thread is not None:
        words.append(f"{mount.thread.diameter_mm:g}x{mount.thread.pitch_mm:g} M{mount.thread.diameter_mm:g}")
    return words
