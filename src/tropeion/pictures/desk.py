"""Pictures that lie on the desk to be measured: sent ones are kept until the server ends, few and not too large.

They are decoded in a worker process of their own: a long search holds up no thumbnail.
"""

from __future__ import annotations

import os
import shutil
import tempfile
import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from typing import Any, Final

from tropeion.core.frozen import frozen

from .measuring import PictureMeasured
from .worker import Worker

MOST_PICTURES: Final = 24
MOST_BYTES: Final = 160 * 1024 * 1024
_MOST_IN_ALL: Final = 1024 * 1024 * 1024
_VIEW_PX: Final = 1600


class UnknownPictureError(LookupError):
    """A picture that does not lie here any more."""


@frozen
class DeskPicture:
    """A picture: its name as its owner knows it, and where it lies."""

    id: str
    name: str
    root: Path
    path: bytes
    sent_bytes: int


class Desk:
    """Safe to use from several threads."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pictures: OrderedDict[str, DeskPicture] = OrderedDict()
        self._folder: Path | None = None
        self._worker = Worker()

    def send(self, name: str, data: bytes) -> DeskPicture:
        """Lay a picture here that was sent."""
        id_ = str(uuid.uuid4())
        with self._lock:
            if self._folder is None:
                self._folder = Path(tempfile.mkdtemp(prefix="tropeion-pictures-"))
            folder = self._folder
        (folder / id_).write_bytes(data)
        return self._lay(DeskPicture(id_, name, folder, id_.encode(), len(data)))

    def lay(self, name: str, root: Path, path: bytes) -> DeskPicture:
        """Lay a picture here that lies in a folder: it stays where it is."""
        return self._lay(DeskPicture(str(uuid.uuid4()), name, root, path, 0))

    def _lay(self, picture: DeskPicture) -> DeskPicture:
        with self._lock:
            self._pictures[picture.id] = picture
            while len(self._pictures) > 1 and (
                len(self._pictures) > MOST_PICTURES
                or sum(one.sent_bytes for one in self._pictures.values()) > _MOST_IN_ALL
            ):
                _, gone = self._pictures.popitem(last=False)
                if gone.sent_bytes:
                    (gone.root / os.fsdecode(gone.path)).unlink(missing_ok=True)
        return picture

    def find(self, id_: str) -> DeskPicture:
        """A picture by its id. Raises UnknownPictureError."""
        with self._lock:
            picture = self._pictures.get(id_)
        if picture is None:
            raise UnknownPictureError("that picture does not lie here any more: choose it again")
        return picture

    def view(self, id_: str) -> bytes | str:
        """A JPEG of it to be looked at, or why there is none. Raises UnknownPictureError."""
        picture = self.find(id_)
        shown = self._worker.thumbnail(picture.root, picture.path, _VIEW_PX)
        if isinstance(shown, bytes):
            return shown
        found = self._worker.measure(picture.root, picture.path, {"what": "view"})
        return found if isinstance(found, str) else (found.view or b"")

    def measure(
        self,
        id_: str,
        asked: dict[str, Any],
        stopped: Callable[[], bool] = lambda: False,
        progress: Callable[[float], None] = lambda _: None,
    ) -> PictureMeasured:
        """What is measured of it. Raises UnknownPictureError, ValueError with why nothing is, StoppedError."""
        picture = self.find(id_)
        found = self._worker.measure(picture.root, picture.path, asked, stopped, progress)
        if isinstance(found, str):
            raise ValueError(f"{picture.name}: {found}")
        return found

    def close(self) -> None:
        """End the worker, and throw away what was sent."""
        self._worker.close()
        with self._lock:
            folder, self._folder = self._folder, None
            self._pictures.clear()
        if folder is not None:
            shutil.rmtree(folder, ignore_errors=True)
