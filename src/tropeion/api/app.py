"""The application."""

from __future__ import annotations

from collections.abc import AsyncIterator, Sequence
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from pathlib import Path

from fastapi import Depends, FastAPI
from starlette.concurrency import run_in_threadpool
from starlette.middleware.gzip import DEFAULT_EXCLUDED_CONTENT_TYPES, GZipMiddleware

from tropeion.devices.calipers import Calipers
from tropeion.devices.cameras import Cameras
from tropeion.store.collection import Collection

from . import (
    backups,
    becomes,
    begin,
    bench,
    bench_rig,
    bench_shop,
    buying,
    caliper,
    camera,
    cards,
    corners,
    exports,
    fits,
    frame,
    gallery,
    gear,
    grid,
    guards,
    history,
    imports,
    items,
    labels,
    match,
    mounts,
    outings,
    pages,
    plans,
    problems,
    queries,
    recorded,
    rigs,
    setup,
    shelves,
    shop,
    start,
    stored,
)
from .looked import LookedAt
from .server import most_connections
from .work import Works

_RESOURCES = (
    start,
    begin,
    match,
    fits,
    frame,
    becomes,
    setup,
    camera,
    stored,
    corners,
    outings,
    bench,
    bench_rig,
    bench_shop,
    caliper,
    grid,
    plans,
    buying,
    mounts,
    labels,
    shop,
    shelves,
    items,
    rigs,
    cards,
    recorded,
    history,
    gear,
    exports,
    imports,
    backups,
)
# Databases, and progress that is told line by line.
_AS_THEY_ARE = ("application/vnd.sqlite3", "application/octet-stream", "application/x-ndjson")
WEB_FILES = Path(__file__).parent.parent / "web_dist"


def _life(
    collection: Collection, cameras: Cameras, calipers: Calipers, works: Works[plans.PlanAnswer]
) -> AbstractAsyncContextManager[None]:
    """What starts and stops with the server: whatever writes to the file ends before the file is let go."""

    @asynccontextmanager
    async def running() -> AsyncIterator[None]:
        yield
        await run_in_threadpool(works.close)
        await run_in_threadpool(cameras.close)
        await run_in_threadpool(calipers.close)
        await run_in_threadpool(collection.close)

    return running()


def create_app(
    collection: Collection, web_files: Path | None = None, *, demo: bool = False, caliper_ports: Sequence[str] = ()
) -> FastAPI:
    """The API over a collection, with the web files if a folder is given; the demo has a gallery of states.

    ``caliper_ports`` are read at the bench beside those that the system lists.
    """
    cameras, calipers = Cameras(collection.path.parent), Calipers(collection.path.parent, caliper_ports)
    works = Works[plans.PlanAnswer]()
    app = FastAPI(
        title="Tropeion",
        version="1",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/v1/openapi.json",
        generate_unique_id_function=lambda route: route.name,
        lifespan=lambda _: _life(collection, cameras, calipers, works),
    )
    app.state.collection, app.state.cameras, app.state.calipers = collection, cameras, calipers
    app.state.plans, app.state.grids = works, grid.Grids()
    app.state.previews = LookedAt[imports.Looked]()
    app.state.backups = LookedAt[backups.Looked]()
    problems.install(app)
    queries.install(app, [module.router for module in _RESOURCES])
    for module in _RESOURCES:
        app.include_router(module.router, dependencies=[Depends(queries.only_declared)])
    if demo:
        app.include_router(gallery.router)
    if web_files is not None:
        pages.install(app, web_files)
    app.add_middleware(
        GZipMiddleware,
        minimum_size=1000,
        compresslevel=5,
        exclude_content_types=(*DEFAULT_EXCLUDED_CONTENT_TYPES, *_AS_THEY_ARE),
    )
    app.add_middleware(
        guards.Guards,
        hosts=("127.0.0.1", "localhost", "[::1]"),
        most_on_their_way=most_connections() // 2,
        limits=dict.fromkeys((gear.GEAR_PATH, imports.PREVIEW_PATH, backups.RESTORE_PATH), 32 * guards.MEGABYTE),
    )
    return app
