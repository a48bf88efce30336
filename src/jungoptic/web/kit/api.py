"""The kit of a production: bodies with recording modes, lenses, lamps and rooms."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from jungoptic.core.plan import LampKind

from .. import crud
from ..permissions import Verb, enter
from ..productions.models import Production
from ..schemas import Conflict, Fields, Name, ShortText, Stored, edit_of, made_from, whole
from ..schemas import number as bounded
from .models import Body, Lamp, Lens, Mode, Room

router = Router(tags=["kit"])


class LoanFields(Fields):
    """Whether it is borrowed, and the first and last day it is there."""

    borrowed: bool = False
    loan_first: datetime.date | None = None
    loan_last: datetime.date | None = None


class BodyFields(LoanFields):
    """A body: `axis_height_mm` base to lens axis, `flange_mm` mount to sensor mark. `stabiliser`:
    it steadies its own picture; `remote`: it starts without being touched."""

    name: Name
    axis_height_mm: bounded(1, 1000)
    flange_mm: bounded(0, 200)
    stabiliser: bool = True
    remote: bool = True
    note: ShortText = ""


class ModeFields(Fields):
    """A recording mode: the sensor area it uses, its pixels, rates, coding and ISO. `long_gop`:
    frames are told by their neighbours."""

    name: Name
    sensor_width_mm: bounded(1, 100)
    sensor_height_mm: bounded(1, 100)
    width_px: whole(16, 32768)
    height_px: whole(16, 32768)
    min_fps: bounded(0.01, 100_000)
    max_fps: bounded(0.01, 100_000)
    codec: Annotated[str, Field(max_length=60)] = ""
    bit_depth: whole(8, 16) = 8
    subsampling: Literal["4:4:4", "4:2:2", "4:2:0"] = "4:2:0"
    base_iso: bounded(1, 1_000_000)
    min_iso: bounded(1, 1_000_000)
    max_iso: bounded(1, 1_000_000)
    readout_ms: bounded(0, 1000) | None = None
    bitrate_mbps: bounded(0.1, 100_000) | None = None
    long_gop: bool = False


class LensFields(LoanFields):
    """A lens; a prime has the same shortest and longest focal length."""

    name: Name
    focal_min_mm: bounded(1, 5000)
    focal_max_mm: bounded(1, 5000)
    widest_stop: bounded(0.5, 128)
    smallest_stop: bounded(0.5, 256)
    close_focus_m: bounded(0.01, 100)
    t_over_f: bounded(1, 3) = 1.0
    pupil_ratio: bounded(0.1, 10) = 1.0
    length_mm: bounded(1, 2000) | None = None
    pupil_from_mount_mm: bounded(-50, 2000) | None = None


class LampFields(LoanFields):
    """A lamp: `lux_at_1m` on its axis, `size_m` across what shines along its longer side, `width_m`
    along the other, `beam_deg` at half its intensity (null: as its kind); it pulses with the mains
    unless `flicker_free`."""

    name: Name
    lux_at_1m: bounded(0.1, 10_000_000)
    size_m: bounded(0, 20) = 0.2
    watts: bounded(0, 100_000) = 0.0
    temperature_k: bounded(1000, 20_000) = 5600.0
    flicker_free: bool = True
    count: whole(1, 500) = 1
    kind: LampKind = "panel"
    width_m: bounded(0, 20) | None = None
    beam_deg: bounded(2, 179) | None = None


class HorizonPoint(Fields):
    """How high the skyline stands in one direction, degrees; azimuth from north through east."""

    azimuth_deg: bounded(0, 360)
    elevation_deg: bounded(-10, 89)


class RoomFields(LoanFields):
    """A place to film in. `height_m` null: open air; `mains_hz` null: no mains. Latitude and
    longitude put it under the sun."""

    name: Name
    length_m: bounded(0.5, 10_000)
    width_m: bounded(0.5, 10_000)
    height_m: bounded(0.5, 1000) | None = None
    mains_hz: bounded(10, 400) | None = None
    volts: bounded(50, 500) = 230.0
    circuit_a: bounded(1, 200) = 16.0
    circuits: whole(1, 50) = 1
    latitude_deg: bounded(-90, 90) | None = None
    longitude_deg: bounded(-180, 180) | None = None
    time_zone: Annotated[str, Field(min_length=1, max_length=60)] = "UTC"
    horizon: Annotated[list[HorizonPoint], Field(max_length=120)] = []


BodyIn, BodyEdit = made_from(BodyFields, "BodyIn"), edit_of(BodyFields, "BodyEdit")
ModeIn, ModeEdit = made_from(ModeFields, "ModeIn"), edit_of(ModeFields, "ModeEdit")
LensIn, LensEdit = made_from(LensFields, "LensIn"), edit_of(LensFields, "LensEdit")
LampIn, LampEdit = made_from(LampFields, "LampIn"), edit_of(LampFields, "LampEdit")
RoomIn, RoomEdit = made_from(RoomFields, "RoomIn"), edit_of(RoomFields, "RoomEdit")


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


class KitOut(Schema):
    """The whole kit."""

    bodies: list[BodyOut]
    lenses: list[LensOut]
    lamps: list[LampOut]
    rooms: list[RoomOut]


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


def kit_out(production: Production) -> dict[str, Any]:
    """The whole kit in five queries, however large."""
    return {
        "bodies": [body_out(b) for b in production.bodies.prefetch_related("modes")],
        "lenses": [lens_out(x) for x in production.lenses.all()],
        "lamps": [lamp_out(x) for x in production.lamps.all()],
        "rooms": [room_out(r) for r in production.rooms.all()],
    }


@router.get("/{uuid:production_id}/kit", response=KitOut)
def get_kit(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """Bodies, modes, lenses, lamps and rooms."""
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
