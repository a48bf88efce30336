"""The kit of a production: bodies with recording modes, lenses, lamps, rooms, rigs and grip."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from .. import crud
from ..permissions import Verb, enter
from ..productions.models import Production
from ..schemas import Conflict, Stored
from .fields import (
    BodyEdit,
    BodyFields,
    BodyIn,
    ClothEdit,
    ClothFields,
    ClothIn,
    CordEdit,
    CordFields,
    CordIn,
    LampEdit,
    LampFields,
    LampIn,
    LensEdit,
    LensFields,
    LensIn,
    ModeEdit,
    ModeFields,
    ModeIn,
    PersonEdit,
    PersonFields,
    PersonIn,
    RigEdit,
    RigFields,
    RigIn,
    RoomEdit,
    RoomFields,
    RoomIn,
    SupportEdit,
    SupportFields,
    SupportIn,
)
from .models import Body, Cloth, Cord, Lamp, Lens, Mode, MoveRig, Person, Room, Support

router = Router(tags=["kit"])


class ModeOut(Stored, ModeFields):
    """A stored mode."""


class BodyOut(Stored, BodyFields):
    """A stored body with its modes."""

    modes: list[ModeOut]


class LensOut(Stored, LensFields):
    """A stored lens."""


class LampOut(Stored, LampFields):
    """A stored lamp."""


class RoomOut(Stored, RoomFields):
    """A stored room."""


class RigOut(Stored, RigFields):
    """A stored rig that moves."""


class SupportOut(Stored, SupportFields):
    """A stored support."""


class ClothOut(Stored, ClothFields):
    """A stored cloth."""


class CordOut(Stored, CordFields):
    """A stored thread or line."""


class PersonOut(Stored, PersonFields):
    """A stored person."""


class KitOut(Schema):
    """The whole kit."""

    bodies: list[BodyOut]
    lenses: list[LensOut]
    lamps: list[LampOut]
    rooms: list[RoomOut]
    rigs: list[RigOut]
    supports: list[SupportOut]
    cloths: list[ClothOut]
    cords: list[CordOut]
    people: list[PersonOut]


def body_out(body: Body) -> dict[str, Any]:
    """A body and its modes, ready for JSON."""
    modes = [crud.fields_out(mode, ModeFields) for mode in body.modes.all()]
    return {**crud.fields_out(body, BodyFields), "modes": modes}


def mode_out(mode: Mode) -> dict[str, Any]:
    """A mode, ready for JSON."""
    return crud.fields_out(mode, ModeFields)


def lens_out(lens: Lens) -> dict[str, Any]:
    """A lens, ready for JSON."""
    return crud.fields_out(lens, LensFields)


def lamp_out(lamp: Lamp) -> dict[str, Any]:
    """A lamp, ready for JSON."""
    return crud.fields_out(lamp, LampFields)


def room_out(room: Room) -> dict[str, Any]:
    """A room, ready for JSON."""
    return crud.fields_out(room, RoomFields)


def rig_out(rig: MoveRig) -> dict[str, Any]:
    """A rig, ready for JSON."""
    return crud.fields_out(rig, RigFields)


def support_out(support: Support) -> dict[str, Any]:
    """A support, ready for JSON."""
    return crud.fields_out(support, SupportFields)


def cloth_out(cloth: Cloth) -> dict[str, Any]:
    """A cloth, ready for JSON."""
    return crud.fields_out(cloth, ClothFields)


def cord_out(cord: Cord) -> dict[str, Any]:
    """A thread or line, ready for JSON."""
    return crud.fields_out(cord, CordFields)


def person_out(person: Person) -> dict[str, Any]:
    """A person, ready for JSON."""
    return crud.fields_out(person, PersonFields)


def kit_out(production: Production) -> dict[str, Any]:
    """The whole kit in ten queries, however large."""
    return {
        "bodies": [body_out(b) for b in production.bodies.prefetch_related("modes")],
        "lenses": [lens_out(x) for x in production.lenses.all()],
        "lamps": [lamp_out(x) for x in production.lamps.all()],
        "rooms": [room_out(r) for r in production.rooms.all()],
        "rigs": [rig_out(r) for r in production.rigs.all()],
        "supports": [support_out(x) for x in production.supports.all()],
        "cloths": [cloth_out(x) for x in production.cloths.all()],
        "cords": [cord_out(x) for x in production.cords.all()],
        "people": [person_out(x) for x in production.persons.all()],
    }


@router.get("/{uuid:production_id}/kit", response=KitOut)
def get_kit(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """Bodies, modes, lenses, lamps, rooms, rigs, supports, cloths, cords and people."""
    return kit_out(enter(request, production_id, Verb.VIEW))


def _bodies(production: Production) -> Any:
    return Body.objects.filter(production=production)


def _modes(production: Production) -> Any:
    return Mode.objects.filter(body__production=production)


def _lenses(production: Production) -> Any:
    return Lens.objects.filter(production=production)


def _lamps(production: Production) -> Any:
    return Lamp.objects.filter(production=production)


def _rooms(production: Production) -> Any:
    return Room.objects.filter(production=production)


def _rigs(production: Production) -> Any:
    return MoveRig.objects.filter(production=production)


def _supports(production: Production) -> Any:
    return Support.objects.filter(production=production)


def _cloths(production: Production) -> Any:
    return Cloth.objects.filter(production=production)


def _cords(production: Production) -> Any:
    return Cord.objects.filter(production=production)


def _people(production: Production) -> Any:
    return Person.objects.filter(production=production)


def _of_production(production: Production, values: dict[str, Any]) -> dict[str, Any]:
    return {**values, "production": production}


@router.post("/{uuid:production_id}/bodies", response=BodyOut)
def make_body(request: HttpRequest, production_id: uuid.UUID, payload: BodyIn) -> Any:
    """Add a body."""
    return body_out(crud.make(request, production_id, Body, payload, _of_production))


@router.patch("/{uuid:production_id}/bodies/{uuid:pk}", response={200: BodyOut, 409: Conflict})
def edit_body(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    payload: BodyEdit,
) -> Any:
    """Change a body."""
    return crud.change(request, production_id, _bodies, pk, payload, body_out)


@router.delete("/{uuid:production_id}/bodies/{uuid:pk}", response={204: None})
def remove_body(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a body; plates that used it ask for another."""
    return crud.drop(request, production_id, _bodies, pk)


@router.post("/{uuid:production_id}/bodies/{uuid:body_id}/modes", response=ModeOut)
def make_mode(
    request: HttpRequest,
    production_id: uuid.UUID,
    body_id: uuid.UUID,
    payload: ModeIn,
) -> Any:
    """Add a recording mode to a body."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        return {**values, "body": _bodies(production).get(pk=body_id)}

    return mode_out(crud.make(request, production_id, Mode, payload, prepare))


@router.patch("/{uuid:production_id}/modes/{uuid:pk}", response={200: ModeOut, 409: Conflict})
def edit_mode(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    payload: ModeEdit,
) -> Any:
    """Change a recording mode."""
    return crud.change(request, production_id, _modes, pk, payload, mode_out)


@router.delete("/{uuid:production_id}/modes/{uuid:pk}", response={204: None})
def remove_mode(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a recording mode."""
    return crud.drop(request, production_id, _modes, pk)


@router.post("/{uuid:production_id}/lenses", response=LensOut)
def make_lens(request: HttpRequest, production_id: uuid.UUID, payload: LensIn) -> Any:
    """Add a lens."""
    return lens_out(crud.make(request, production_id, Lens, payload, _of_production))


@router.patch("/{uuid:production_id}/lenses/{uuid:pk}", response={200: LensOut, 409: Conflict})
def edit_lens(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    payload: LensEdit,
) -> Any:
    """Change a lens."""
    return crud.change(request, production_id, _lenses, pk, payload, lens_out)


@router.delete("/{uuid:production_id}/lenses/{uuid:pk}", response={204: None})
def remove_lens(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a lens; plates that used it ask for another."""
    return crud.drop(request, production_id, _lenses, pk)


@router.post("/{uuid:production_id}/lamps", response=LampOut)
def make_lamp(request: HttpRequest, production_id: uuid.UUID, payload: LampIn) -> Any:
    """Add a lamp."""
    return lamp_out(crud.make(request, production_id, Lamp, payload, _of_production))


@router.patch("/{uuid:production_id}/lamps/{uuid:pk}", response={200: LampOut, 409: Conflict})
def edit_lamp(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    payload: LampEdit,
) -> Any:
    """Change a lamp."""
    return crud.change(request, production_id, _lamps, pk, payload, lamp_out)


@router.delete("/{uuid:production_id}/lamps/{uuid:pk}", response={204: None})
def remove_lamp(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a lamp; stages it stood on go without."""
    return crud.drop(request, production_id, _lamps, pk)


@router.post("/{uuid:production_id}/rooms", response=RoomOut)
def make_room(request: HttpRequest, production_id: uuid.UUID, payload: RoomIn) -> Any:
    """Add a room."""
    return room_out(crud.make(request, production_id, Room, payload, _of_production))


@router.patch("/{uuid:production_id}/rooms/{uuid:pk}", response={200: RoomOut, 409: Conflict})
def edit_room(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    payload: RoomEdit,
) -> Any:
    """Change a room."""
    return crud.change(request, production_id, _rooms, pk, payload, room_out)


@router.delete("/{uuid:production_id}/rooms/{uuid:pk}", response={204: None})
def remove_room(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a room; plates planned in it ask for another."""
    return crud.drop(request, production_id, _rooms, pk)


@router.post("/{uuid:production_id}/rigs", response=RigOut)
def make_rig(request: HttpRequest, production_id: uuid.UUID, payload: RigIn) -> Any:
    """Add a rig that moves."""
    return rig_out(crud.make(request, production_id, MoveRig, payload, _of_production))


@router.patch("/{uuid:production_id}/rigs/{uuid:pk}", response={200: RigOut, 409: Conflict})
def edit_rig(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: RigEdit
) -> Any:
    """Change a rig."""
    return crud.change(request, production_id, _rigs, pk, payload, rig_out)


@router.delete("/{uuid:production_id}/rigs/{uuid:pk}", response={204: None})
def remove_rig(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a rig; charts made for it go on without."""
    return crud.drop(request, production_id, _rigs, pk)


@router.post("/{uuid:production_id}/supports", response=SupportOut)
def make_support(request: HttpRequest, production_id: uuid.UUID, payload: SupportIn) -> Any:
    """Add a support."""
    return support_out(crud.make(request, production_id, Support, payload, _of_production))


@router.patch("/{uuid:production_id}/supports/{uuid:pk}", response={200: SupportOut, 409: Conflict})
def edit_support(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: SupportEdit
) -> Any:
    """Change a support."""
    return crud.change(request, production_id, _supports, pk, payload, support_out)


@router.delete("/{uuid:production_id}/supports/{uuid:pk}", response={204: None})
def remove_support(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a support; plates that stood on it take another that will do."""
    return crud.drop(request, production_id, _supports, pk)


@router.post("/{uuid:production_id}/cloths", response=ClothOut)
def make_cloth(request: HttpRequest, production_id: uuid.UUID, payload: ClothIn) -> Any:
    """Add a cloth."""
    return cloth_out(crud.make(request, production_id, Cloth, payload, _of_production))


@router.patch("/{uuid:production_id}/cloths/{uuid:pk}", response={200: ClothOut, 409: Conflict})
def edit_cloth(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: ClothEdit
) -> Any:
    """Change a cloth."""
    return crud.change(request, production_id, _cloths, pk, payload, cloth_out)


@router.delete("/{uuid:production_id}/cloths/{uuid:pk}", response={204: None})
def remove_cloth(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a cloth; plates that hung it take another that will do."""
    return crud.drop(request, production_id, _cloths, pk)


@router.post("/{uuid:production_id}/cords", response=CordOut)
def make_cord(request: HttpRequest, production_id: uuid.UUID, payload: CordIn) -> Any:
    """Add a thread or line."""
    return cord_out(crud.make(request, production_id, Cord, payload, _of_production))


@router.patch("/{uuid:production_id}/cords/{uuid:pk}", response={200: CordOut, 409: Conflict})
def edit_cord(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: CordEdit
) -> Any:
    """Change a thread or line."""
    return crud.change(request, production_id, _cords, pk, payload, cord_out)


@router.delete("/{uuid:production_id}/cords/{uuid:pk}", response={204: None})
def remove_cord(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a thread or line; rigs keep the thickness and rating that they were given."""
    return crud.drop(request, production_id, _cords, pk)


@router.post("/{uuid:production_id}/persons", response=PersonOut)
def make_person(request: HttpRequest, production_id: uuid.UUID, payload: PersonIn) -> Any:
    """Add a person."""
    return person_out(crud.make(request, production_id, Person, payload, _of_production))


@router.patch("/{uuid:production_id}/persons/{uuid:pk}", response={200: PersonOut, 409: Conflict})
def edit_person(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: PersonEdit
) -> Any:
    """Change a person."""
    return crud.change(request, production_id, _people, pk, payload, person_out)


@router.delete("/{uuid:production_id}/persons/{uuid:pk}", response={204: None})
def remove_person(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a person; figures that stood for them stand for nobody."""
    return crud.drop(request, production_id, _people, pk)
