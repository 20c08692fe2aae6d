"""The built web files: those of one build for ever, the pages themselves asked for anew each time.

A device from the network that was not let in gets the page that says how, and nothing else.
"""

from __future__ import annotations

import gzip
import hashlib
import json
import mimetypes
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, Final, cast

from fastapi import FastAPI, Request
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.responses import HTMLResponse, Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

from tropeion.core.frozen import frozen
from tropeion.store.collection import Collection

from .gates import Visit

SHELL_MARK = "__SHELL__"
_WORKER, _MANIFEST = "sw.js", "files.json"
_PAGE, _PAIR_PAGE = "index.html", "pair.html"
_MARK = "mark.svg"


# Scripts and styles are packed once; each build has a folder of its own.
_PACKED: Final = {".js": "text/javascript", ".css": "text/css"}


class _Assets(StaticFiles):
    def __init__(self, directory: Path) -> None:
        super().__init__(directory=directory)
        files = [path for path in directory.rglob("*") if path.suffix in _PACKED]
        self._files = {path.relative_to(directory).as_posix(): path for path in files}
        self._packed: dict[str, bytes] = {}

    async def get_response(self, path: str, scope: Scope) -> Response:
        file = self._files.get(path)
        if file is not None and _accepts_gzip(scope):
            if path not in self._packed:
                self._packed[path] = await run_in_threadpool(_pack, file)
            packed = {"content-encoding": "gzip", "vary": "Accept-Encoding"}
            response = Response(self._packed[path], media_type=_PACKED[file.suffix], headers=packed)
        else:
            response = await super().get_response(path, scope)
        response.headers["cache-control"] = "public, max-age=31536000, immutable"
        return response


def _accepts_gzip(scope: Scope) -> bool:
    return scope["method"] == "GET" and "gzip" in Headers(scope=scope).get("accept-encoding", "")


def _pack(file: Path) -> bytes:
    return gzip.compress(file.read_bytes(), 9, mtime=0)


@frozen
class WebFiles:
    """What was built: the files of the application, those of the page for strangers, and what both come to."""

    app: tuple[str, ...]
    strangers: frozenset[str]
    build: str


def web_files(folder: Path) -> WebFiles:
    """What stands in the bundler's manifest."""
    manifest: dict[str, dict[str, Any]] = json.loads((folder / _MANIFEST).read_text(encoding="utf-8"))
    app, strangers = (tuple(dict.fromkeys(_of(manifest, entry))) for entry in (_PAGE, _PAIR_PAGE))
    told = hashlib.sha256()
    for name in (_PAGE, _WORKER):
        told.update((folder / name).read_bytes())
    told.update("\n".join(sorted(app)).encode())
    beside = (f"/{_MARK}", "/favicon.ico")
    return WebFiles((*app, f"/{_MARK}"), frozenset((*strangers, *beside)), told.hexdigest()[:16])


def _of(manifest: Mapping[str, dict[str, Any]], entry: str) -> Iterator[str]:
    """Every file that a page may ask for."""
    waiting, seen = [entry], {entry}
    while waiting:
        chunk = manifest[waiting.pop()]
        for name in (chunk["file"], *chunk.get("css", ()), *chunk.get("assets", ())):
            yield f"/{name}"
        for next_ in (*chunk.get("imports", ()), *chunk.get("dynamicImports", ())):
            if next_ not in seen:
                seen.add(next_)
                waiting.append(next_)


def install(app: FastAPI, folder: Path) -> frozenset[str]:
    """Serve the web files in ``folder``; every path that is no file is the page. Returns the files for strangers."""
    page, pair_page = ((folder / name).read_text(encoding="utf-8") for name in (_PAGE, _PAIR_PAGE))
    worker = (folder / _WORKER).read_text(encoding="utf-8")
    found = web_files(folder)
    app.mount("/assets", _Assets(folder / "assets"), name="assets")
    pages = {_PAGE, _PAIR_PAGE, _WORKER, _MANIFEST}
    files = {path.name: path for path in folder.iterdir() if path.is_file() and path.name not in pages}

    @app.get("/sw.js", include_in_schema=False)
    def get_worker(request: Request) -> Response:
        # Another build or another collection is another worker: the browser compares it byte by byte.
        collection = cast(Collection, request.app.state.collection)
        shell = {"build": found.build, "collection": collection.id, "files": found.app}
        source = worker.replace(SHELL_MARK, json.dumps(shell))
        return Response(source, media_type="text/javascript", headers={"cache-control": "no-cache"})

    @app.get("/{path:path}", include_in_schema=False)
    def get_page(path: str, request: Request) -> Response:
        # An id may contain a dot, a page's own path does not: only paths at the root can be files.
        if path.startswith("api/") or ("." in path and "/" not in path):
            # What a browser asks for where a page names no mark of its own.
            shipped = files.get(_MARK if path == "favicon.ico" else path)
            if shipped is None:
                raise HTTPException(404, "Nothing here")
            media = _MEDIA.get(shipped.suffix) or mimetypes.guess_type(shipped.name)[0] or "text/plain"
            return HTMLResponse(shipped.read_bytes(), media_type=media)
        visit = cast(Visit | None, request.state.visit)
        return HTMLResponse(pair_page if visit is not None and visit.device is None else page)

    return found.strangers


# What the system's own table may not know, or may know otherwise.
_MEDIA = {
    ".svg": "image/svg+xml",
    ".webmanifest": "application/manifest+json",
    ".md": "text/plain",
    ".js": "text/javascript",
    ".png": "image/png",
}
