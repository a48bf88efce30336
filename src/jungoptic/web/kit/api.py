"""The kit of a production: bodies with recording modes, lenses."""

from __future__ import annotations

import uuid
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema

from .. import crud
from ..permissions import Verb, enter
from ..productions.models import Production
from ..schemas import Conflict, Fields, Name, ShortText, Stored, edit_of, made_from, whole
from ..schemas import number as bounded
from .models import Body, Lens, Mode

router = Router(tags=["kit"])


class BodyFields(Fields):
    """A body: `axis_height_mm` base to lens axis, `flange_mm` mount to sensor mark."""

    name: Name
    axis_height_mm: bounded(1, 1000)
    flange_mm: bounded(0, 200)
    note: ShortText = ""


class ModeFields(Fields):
    """A recording mode: the sensor area it uses, its pixels, rates, coding and ISO."""

    name: Name
    sensor_width_mm: bounded(1, 100)
    sensor_height_mm: bounded(1, 100)
    width_px: whole(16, 32768)
    height_px: whole(16, 32768)
    min_fps: bounded(0.01, 100_000)
    max_fps: bounded(0.01, 100_000)
    codec: ShortText = ""
    bit_depth: whole(8, 16) = 8
    subsampling: Literal["4:4:4", "4:2:2", "4:2:0"] = "4:2:0"
    base_iso: bounded(1, 1_000_000)
    min_iso: bounded(1, 1_000_000)
    max_iso: bounded(1, 1_000_000)


class LensFields(Fields):
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


BodyIn, BodyEdit = made_from(BodyFields, "BodyIn"), edit_of(BodyFields, "BodyEdit")
ModeIn, ModeEdit = made_from(ModeFields, "ModeIn"), edit_of(ModeFields, "ModeEdit")
LensIn, LensEdit = made_from(LensFields, "LensIn"), edit_of(LensFields, "LensEdit")


class ModeOut(Stored, ModeFields):
    """A stored mode."""


class BodyOut(Stored, BodyFields):
    """A stored body with its modes."""

    modes: list[ModeOut]


class LensOut(Stored, LensFields):
    """A stored lens."""


class KitOut(Schema):
    """The whole kit."""

    bodies: list[BodyOut]
    lenses: list[LensOut]


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


def kit_out(production: Production) -> dict[str, Any]:
    """The whole kit in three queries, however large."""
    return {
        "bodies": [body_out(b) for b in production.bodies.prefetch_related("modes")],
        "lenses": [lens_out(x) for x in production.lenses.all()],
    }


@router.get("/{uuid:production_id}/kit", response=KitOut)
def get_kit(request: HttpRequest, production_id: uuid.UUID) -> dict[str, Any]:
    """Bodies, modes and lenses."""
    return kit_out(enter(request, production_id, Verb.VIEW))


def _bodies(production: Production) -> Any:
    return Body.objects.filter(production=production)


def _modes(production: Production) -> Any:
    return Mode.objects.filter(body__production=production)


def _lenses(production: Production) -> Any:
    return Lens.objects.filter(production=production)


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
