"""The built web files: hashed assets for ever, the page itself with a nonce of its own each time."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Request
from starlette.exceptions import HTTPException
from starlette.responses import HTMLResponse, Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

NONCE_MARK = "__CSP_NONCE__"


class _Assets(StaticFiles):
    async def get_response(self, path: str, scope: Scope) -> Response:
        response = await super().get_response(path, scope)
        response.headers["cache-control"] = "public, max-age=31536000, immutable"
        return response


def install(app: FastAPI, folder: Path) -> None:
    """Serve the web files in ``folder``; every path that is no file is the page."""
    page = (folder / "index.html").read_text(encoding="utf-8")
    app.mount("/assets", _Assets(directory=folder / "assets"), name="assets")
    files = {path.name: path for path in folder.iterdir() if path.is_file() and path.name != "index.html"}

    @app.get("/{path:path}", include_in_schema=False)
    def get_page(path: str, request: Request) -> Response:
        # An id may contain a dot, a page's own path does not: only paths at the root can be files.
        if path.startswith("api/") or ("." in path and "/" not in path):
            # What a browser asks for where a page names no mark of its own.
            shipped = files.get("mark.svg" if path == "favicon.ico" else path)
            if shipped is None:
                raise HTTPException(404, "Nothing here")
            media = "image/svg+xml" if shipped.suffix == ".svg" else "text/plain"
            return HTMLResponse(shipped.read_bytes(), media_type=media)
        return HTMLResponse(page.replace(NONCE_MARK, request.state.nonce))
