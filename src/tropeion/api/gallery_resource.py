"""Every state a drawing can show, one after another. Served by the demo only, from the sample world as it ships."""

from __future__ import annotations

from functools import cache

from fastapi import Response
from pydantic import TypeAdapter

from tropeion.core.answers.fits import FitsReport, what_fits
from tropeion.core.answers.route_list import RouteList, route_list
from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import ids_in
from tropeion.core.gear.world import compile_world
from tropeion.core.practice import Practice
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes

from .resource import resource

router = resource("/api/v1", "gallery")

# State, title, lens, body, chain (None: nothing joins them).
STATES: tuple[tuple[str, str, str | None, str | None, str | None], ...] = (
    ("exact", "Exact", "kel-55", "o7", "kel-ost-lever"),
    ("long", "Long by hundredths", "kel-85", "o7", "kel-ost-long"),
    ("short", "Short on purpose", "kel-55", "o7", "kel-ost-short"),
    ("close-up", "Close-up only", "kel-55", "o7", "kel-ost-plain,ost-ost-tube"),
    ("nothing-focuses", "Nothing comes into focus", "kel-55", "lark", "kel-tol-thin,tpr-plm-plain"),
    ("glass", "Reducing glass", "grm-98", "o7", "grm-ost-reducer"),
    ("correcting", "Correcting glass", "brn-52", "o7", "brn-mrw-glass,mrw-ost-active"),
    ("chain", "Chain of three", "grm-98", "lark", "grm-kel-plain,kel-tol-thin,tol-plm-pin"),
    ("helicoid", "Helicoid", "kel-55", "o7", "kel-ost-close"),
    ("helicoid-set", "Helicoid opened for infinity", "tub-400", "o7", "tub-ost-close"),
    ("tilt", "Tilt", "kel-55", "o7", "kel-ost-tilt"),
    ("shift", "Shift", "kel-55", "o7", "kel-ost-shift"),
    ("broken-wire", "Contacts broken", "mrw-92", "o7", "mrw-ost-plain"),
    ("slow-link", "Contacts translated, slowly", "mrw-92", "o7", "mrw-ost-slow"),
    ("stuck-iris", "Aperture stuck", "kel-28-80", "o7", "kel-ost-plain"),
    ("iris-on-helicoid", "Aperture stuck, on a helicoid", "kel-28-80", "o7", "kel-ost-close"),
    ("iris-in-long-lens", "Aperture stuck in a long lens", "mrw-24-70", "o7", "mrw-ost-plain"),
    ("collision", "Collision", "lis-28", "corran", ""),
    ("damage", "Coupling parts break", "kel-55", "stave-3", ""),
    ("binds", "Threads bind", "tub-400", "o7", "tub-ost-fine"),
    ("small-circle", "Image circle too small", "ost-24", "o7", ""),
    ("sideways", "Mount in four positions", "qlk-50", "vigil", "qlk-skn-lock"),
    ("long-lens", "A long barrel", "grm-300", "nave", "grm-kel-plain,kel-vrd-plain"),
    ("long-tilt", "A long barrel that tilts and shifts", "grm-300", "o7", "grm-ost-tiltshift"),
    ("unknown", "Unknown data", "tub-400", "o7", "tub-ost-close"),
    ("nothing-fits", "Nothing fits: a ring is missing", "lis-28", "vigil", None),
    ("no-room", "Nothing fits: no room", "ost-30", "stave-3", None),
    ("no-lens", "No lens chosen", None, "o7", None),
    ("no-body", "No body chosen", "kel-55", None, None),
)


@frozen
class GalleryEntry:
    """One state, with the report that the drawing is made from."""

    id: str
    title: str
    report: RouteList | None
    fits: FitsReport | None


@frozen
class Gallery:
    """All states, in the order of the page."""

    entries: tuple[GalleryEntry, ...]


@cache
def _gallery() -> bytes:
    world, practice = compile_world(gear_file.load(sample_bytes())), Practice()
    entries = []
    for id_, title, lens, body, via in STATES:
        report = fits = None
        if lens is not None and body is not None:
            report = route_list(world, lens, body, practice, None if via is None else ids_in(via))
        else:
            fits = what_fits(world, lens=lens, body=body, practice=practice)
        entries.append(GalleryEntry(id_, title, report, fits))
    return TypeAdapter(Gallery).dump_json(Gallery(tuple(entries)))


@router.get("/gallery", response_model=Gallery)
def get_gallery() -> Response:
    """Every state with its report. The demo alone answers."""
    return Response(_gallery(), media_type="application/json")
