"""The kit of a production: bodies with their modes, lenses, lamps, rooms, rigs, grip and people."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db import models
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import BaseModel

from .. import crud
from ..permissions import Verb, enter
from ..productions.models import Production
from ..records import Record
from ..schemas import Conflict, Fields, Stored, edit_of, made_from
from .fields import (
    BodyFields,
    ClothFields,
    CordFields,
    LampFields,
    LensFields,
    ModeFields,
    ModeIn,
    PersonFields,
    RigFields,
    RoomFields,
    SupportFields,
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


@dataclass(frozen=True)
class Shelf:
    """One kind of thing in the kit: where its records stand, and how one is told, added, changed
    and removed. `path` ends its addresses, and is what a production calls its records; `called`
    names one in words (`adds` where one that is added is named otherwise), `gone` says what its
    removal leaves behind; `in_kit` is its list in the kit, where that is not called as `path`."""

    path: str
    one: str
    model: type[Record]
    fields: type[Fields]
    response: type[BaseModel]
    called: str
    gone: str = ""
    adds: str = ""
    in_kit: str = ""
    #: How a record of it is told; None: by its fields.
    told: Callable[[Any], dict[str, Any]] | None = None
    #: Its records in a production; None: those that the production calls by `path`.
    rows: Callable[[Production], models.QuerySet[Any]] | None = None

    def of(self, production: Production) -> models.QuerySet[Any]:
        """Its records in a production."""
        if self.rows is not None:
            return self.rows(production)
        found: models.QuerySet[Any] = getattr(production, self.path).all()
        return found

    def out(self, record: models.Model) -> dict[str, Any]:
        """A record, ready for JSON."""
        return crud.fields_out(record, self.fields) if self.told is None else self.told(record)

    @property
    def name(self) -> str:
        """What its schemas are called by."""
        return self.response.__name__.removesuffix("Out")


def body_out(body: Body) -> dict[str, Any]:
    """A body and its modes, ready for JSON."""
    return {**crud.fields_out(body, BodyFields), "modes": [MODES.out(m) for m in body.modes.all()]}


def lens_out(lens: Lens) -> dict[str, Any]:
    """A lens, ready for JSON."""
    return crud.fields_out(lens, LensFields)


def room_out(room: Room) -> dict[str, Any]:
    """A room, ready for JSON."""
    return crud.fields_out(room, RoomFields)


def _bodies(production: Production) -> models.QuerySet[Any]:
    return production.bodies.prefetch_related("modes")


def _modes(production: Production) -> models.QuerySet[Any]:
    return Mode.objects.filter(body__production=production)


#: Modes stand with their body, and are changed by themselves.
MODES = Shelf("modes", "mode", Mode, ModeFields, ModeOut, "a recording mode", rows=_modes)
SHELVES = (
    Shelf(
        "bodies",
        "body",
        Body,
        BodyFields,
        BodyOut,
        "a body",
        "plates that used it ask for another",
        told=body_out,
        rows=_bodies,
    ),
    Shelf(
        "lenses", "lens", Lens, LensFields, LensOut, "a lens", "plates that used it ask for another"
    ),
    Shelf("lamps", "lamp", Lamp, LampFields, LampOut, "a lamp", "stages it stood on go without"),
    Shelf(
        "rooms", "room", Room, RoomFields, RoomOut, "a room", "plates planned in it ask for another"
    ),
    Shelf(
        "rigs",
        "rig",
        MoveRig,
        RigFields,
        RigOut,
        "a rig",
        "charts made for it go on without",
        adds="a rig that moves",
    ),
    Shelf(
        "supports",
        "support",
        Support,
        SupportFields,
        SupportOut,
        "a support",
        "plates that stood on it take another that will do",
    ),
    Shelf(
        "cloths",
        "cloth",
        Cloth,
        ClothFields,
        ClothOut,
        "a cloth",
        "plates that hung it take another that will do",
    ),
    Shelf(
        "cords",
        "cord",
        Cord,
        CordFields,
        CordOut,
        "a thread or line",
        "rigs keep the thickness and rating that they were given",
    ),
    Shelf(
        "persons",
        "person",
        Person,
        PersonFields,
        PersonOut,
        "a person",
        "figures that stood for them stand for nobody",
        in_kit="people",
    ),
)


def kit_out(production: Production) -> dict[str, Any]:
    """The whole kit in ten queries, however large."""
    return {
        shelf.in_kit or shelf.path: [shelf.out(one) for one in shelf.of(production)]
        for shelf in SHELVES
    }


@router.get("/{uuid:production_id}/kit", response=KitOut)
def get_kit(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """Bodies, modes, lenses, lamps, rooms, rigs, supports, cloths, cords and people."""
    return kit_out(enter(request, production_id, Verb.VIEW))


def _called(endpoint: Callable[..., Any], name: str, words: str, payload: Any = None) -> None:
    """What the description of the API says of an endpoint that a shelf makes."""
    endpoint.__name__, endpoint.__doc__ = name, words
    if payload is not None:
        endpoint.__annotations__["payload"] = payload


def _adding(shelf: Shelf) -> None:
    def make(request: HttpRequest, production_id: uuid.UUID, payload: Any) -> Any:
        def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
            return {**values, "production": production}

        return shelf.out(crud.make(request, production_id, shelf.model, payload, prepare))

    words = f"Add {shelf.adds or shelf.called}."
    _called(make, f"make_{shelf.one}", words, made_from(shelf.fields, f"{shelf.name}In"))
    router.post(f"/{{uuid:production_id}}/{shelf.path}", response=shelf.response)(make)


def _changing(shelf: Shelf) -> None:
    path = f"/{{uuid:production_id}}/{shelf.path}/{{uuid:pk}}"

    def edit(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: Any) -> Any:
        return crud.change(request, production_id, shelf.of, pk, payload, shelf.out)

    words = f"Change {shelf.called}."
    _called(edit, f"edit_{shelf.one}", words, edit_of(shelf.fields, f"{shelf.name}Edit"))
    router.patch(path, response={200: shelf.response, 409: Conflict})(edit)

    def remove(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
        return crud.drop(request, production_id, shelf.of, pk)

    gone = f"; {shelf.gone}" if shelf.gone else ""
    _called(remove, f"remove_{shelf.one}", f"Remove {shelf.called}{gone}.")
    router.delete(path, response={204: None})(remove)


@router.post("/{uuid:production_id}/bodies/{uuid:body_id}/modes", response=ModeOut)
def make_mode(
    request: HttpRequest,
    production_id: uuid.UUID,
    body_id: uuid.UUID,
    payload: ModeIn,
) -> Any:
    """Add a recording mode to a body."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        return {**values, "body": production.bodies.get(pk=body_id)}

    return MODES.out(crud.make(request, production_id, Mode, payload, prepare))


for _shelf in SHELVES:
    _adding(_shelf)
for _shelf in (*SHELVES, MODES):
    _changing(_shelf)
