"""The application."""

from __future__ import annotations

import pkgutil
from collections.abc import AsyncIterator, Sequence
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from importlib import import_module
from pathlib import Path
from typing import Protocol

from fastapi import APIRouter, FastAPI
from starlette.concurrency import run_in_threadpool

from tropeion.devices.calipers import Calipers
from tropeion.devices.cameras import Cameras
from tropeion.lan.listening import Listening
from tropeion.pictures.desk import Desk
from tropeion.pictures.library import Library
from tropeion.store.collection import Collection

from . import (
    backups_resource,
    gallery_resource,
    gear_resource,
    grid_resource,
    guards,
    imports_resource,
    log_resource,
    measured_resource,
    pages,
    plans_resource,
    pocket_resource,
    practice_query,
    problems,
)
from .gates import Gate
from .looked import LookedAt
from .packing import PackedForTheNetwork
from .rights import PAIR_PATH
from .server import most_connections
from .work import Works

WEB_FILES = Path(__file__).parent.parent / "web_dist"


def _routers() -> list[APIRouter]:
    """The routers of all resource modules in this package, without the demo's gallery."""
    names = [module.name for module in pkgutil.iter_modules([str(Path(__file__).parent)])]
    resources = [name for name in names if name.endswith("_resource") and name != "gallery_resource"]
    return [import_module(f"{__package__}.{name}").router for name in resources]


def lan_gate_of(listening: Listening) -> Gate:
    """The gate of the listener in the network, with slots of its own."""
    return Gate(listening.hosts, most_connections() // 8, 1, listening=listening)


def may_strangers(method: str, path: str, files: frozenset[str]) -> bool:
    """What a device may that was not let in: see the page that says how, with its files, and send a code."""
    if path == PAIR_PATH:
        return method == "POST"
    is_file = path.startswith(("/api/", "/assets/")) or ("." in path and path.count("/") == 1)
    return method == "GET" and (path in files if is_file else True)


class _Ends(Protocol):
    def close(self) -> None: ...


def _life(
    collection: Collection, cameras: Cameras, calipers: Calipers, works: Sequence[_Ends], library: Library, desk: Desk
) -> AbstractAsyncContextManager[None]:
    """The lifespan of the server: whatever writes to the file is closed before the file."""

    @asynccontextmanager
    async def running() -> AsyncIterator[None]:
        yield
        for work in works:
            await run_in_threadpool(work.close)
        await run_in_threadpool(library.close)
        await run_in_threadpool(desk.close)
        await run_in_threadpool(cameras.close)
        await run_in_threadpool(calipers.close)
        await run_in_threadpool(collection.close)

    return running()


def create_app(
    collection: Collection,
    web_files: Path | None = None,
    *,
    demo: bool = False,
    caliper_ports: Sequence[str] = (),
    picture_roots: Sequence[Path] = (),
    lan_gate: Gate | None = None,
) -> FastAPI:
    """The API over a collection, with the web files if a folder is given; the demo has a gallery of states.

    ``lan_gate`` is that of the listener in the network, where there is one.

    ``caliper_ports`` are read at the bench beside those that the system lists; pictures below ``picture_roots`` alone.
    """
    cameras, calipers = Cameras(collection.path.parent), Calipers(collection.path.parent, caliper_ports)
    works, readings = Works[plans_resource.PlanAnswer](), Works[None]("Two folders are being read already")
    pockets = pocket_resource.Pockets()
    measurings = Works[measured_resource.MeasuredAnswer]("Two pictures are being measured already")
    desk = Desk()
    library = Library(collection.path.parent, picture_roots)
    app = FastAPI(
        title="Tropeion",
        version="1",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/v1/openapi.json",
        lifespan=lambda _: _life(collection, cameras, calipers, (works, readings, pockets, measurings), library, desk),
    )
    app.state.collection, app.state.cameras, app.state.calipers = collection, cameras, calipers
    app.state.plans, app.state.grids = works, grid_resource.Grids()
    app.state.library, app.state.readings = library, readings
    app.state.desk, app.state.measurings = desk, measurings
    app.state.previews = LookedAt[imports_resource.ImportLookedAt]()
    app.state.backups = LookedAt[backups_resource.BackupLookedAt]()
    app.state.lan_gate, app.state.pockets = lan_gate, pockets
    problems.install(app)
    practice_query.install(app)
    # As they are: to include a router builds each of its operations again, at the first request.
    for router in (*_routers(), *([gallery_resource.router] if demo else [])):
        app.router.routes.extend(router.routes)
    for_strangers = frozenset[str]() if web_files is None else pages.install(app, web_files)
    app.add_middleware(PackedForTheNetwork)
    app.add_middleware(
        guards.Guards,
        gate=Gate(("127.0.0.1", "localhost", "[::1]"), most_connections() // 2, guards.MOST_UPLOADS // 2),
        strangers_may=lambda method, path: may_strangers(method, path, for_strangers),
        limits=dict.fromkeys(
            (gear_resource.GEAR_PATH, imports_resource.PREVIEW_PATH, log_resource.LOG_FILE_PATH), 32 * guards.MEGABYTE
        )
        | {
            backups_resource.RESTORE_PATH: backups_resource.MOST_BYTES,
            measured_resource.PICTURES_PATH: measured_resource.MOST_PICTURE_BYTES,
        },
    )
    return app
