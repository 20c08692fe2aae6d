"""The set-up of a rig (steps, entries, balance, accessories), and the code on a flange."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from fastapi import Query, Response
from pydantic import TypeAdapter

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.rig import ids_in
from tropeion.core.joints.flange_code import NearestProfiles, ReadCode, nearest_profiles, read_code
from tropeion.core.setup.setup import SetUp, set_up_of
from tropeion.formats.flange_template import template_svg

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id, Ids, OfRig, attached

router = resource("/api/v1", "setup")
_SET_UP = TypeAdapter(SetUp)
_Digits = Annotated[str, Query(max_length=32)]


class _RigHeld(OfRig):
    """A rig with its accessories; ``held_by`` is the piece whose foot or screw holds it, ``second_by`` another."""

    accessories: Ids = ""
    held_by: Id | None = None
    second_by: Id | None = None


@router.get("/setup", response_model=SetUp)
def get_setup(question: Annotated[_RigHeld, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """Steps, entries, balance and what goes together."""
    rig = replace(question.rig, accessories=ids_in(question.accessories))
    world = collection.world()
    try:
        supports = {"held_by": question.held_by, "second_by": question.second_by}
        set_up = set_up_of(world, rig, practice, **supports)
    except ValueError as error:
        raise NotPossibleError("held_by", str(error)) from None
    return Response(_SET_UP.dump_json(set_up), media_type="application/json")


@router.get("/code/nearest")
def get_nearest_profiles(lens: Id, mount: Id, collection: CollectionOf, via: Ids = "") -> NearestProfiles:
    """Which profiles of a system a lens may be marked for, and what each would correct wrongly."""
    world = collection.world()
    return nearest_profiles(world.lens(lens), world.mount(mount), [world.adapter(id_) for id_ in ids_in(via)])


@router.get("/code/read")
def get_code_read(mount: Id, digits: _Digits, collection: CollectionOf) -> ReadCode:
    """What stands on a flange: which profile a body believes, which lenses that may be."""
    world = collection.world()
    try:
        return read_code(world.mount(mount), digits, world.gear.lenses)
    except ValueError as error:
        raise NotPossibleError("digits", str(error)) from None


@router.get("/code/template", response_class=Response)
def get_code_template(mount: Id, digits: _Digits, collection: CollectionOf) -> Response:
    """The template of a code at true size, as SVG."""
    try:
        data = template_svg(collection.world().mount(mount), digits)
    except ValueError as error:
        raise NotPossibleError("digits", str(error)) from None
    return attached(data, f"tropeion-{mount}-{digits}.svg", "image/svg+xml")
