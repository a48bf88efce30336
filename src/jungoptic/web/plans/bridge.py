"""From what is stored or sent to the values the core computes with."""

from __future__ import annotations

import copy
import uuid
from typing import Any

from django.db.models import prefetch_related_objects
from pydantic import BaseModel

from jungoptic.core import plan as core
from jungoptic.core.standins import StandIn

from ..crud import fields_out
from ..kit.api import (
    BodyFields,
    LampFields,
    LensFields,
    LoanFields,
    ModeFields,
    RoomFields,
    kit_out,
)
from .fields import Hazard, PlateFields, ShotFields, StandInFields
from .models import Plate, Shot


class PlanMode(ModeFields):
    """A mode with its id."""

    id: uuid.UUID


class PlanBody(BodyFields):
    """A body with its id and modes."""

    id: uuid.UUID
    modes: list[PlanMode] = []


class PlanLens(LensFields):
    """A lens with its id."""

    id: uuid.UUID


class PlanLamp(LampFields):
    """A lamp with its id."""

    id: uuid.UUID


class PlanRoom(RoomFields):
    """A room with its id."""

    id: uuid.UUID


class PlanPlate(PlateFields):
    """A plate with its id, and the hazards that its recipe brings."""

    id: uuid.UUID
    recipe_hazards: list[Hazard] = []


class PlanStandIn(StandInFields):
    """A stand-in with its id."""

    id: uuid.UUID


class Plan(BaseModel):
    """A whole shot with the kit it may use: everything a computation needs and nothing stored."""

    shot: ShotFields
    plates: list[PlanPlate] = []
    stand_ins: list[PlanStandIn] = []
    bodies: list[PlanBody] = []
    lenses: list[PlanLens] = []
    lamps: list[PlanLamp] = []
    rooms: list[PlanRoom] = []


def _id(value: uuid.UUID | None) -> str | None:
    return None if value is None else str(value)


def to_core(plan: Plan) -> core.Shot:
    """The core's shot for a plan."""
    shot = plan.shot
    return core.Shot(
        delivery=core.Delivery(shot.delivery_width_px, shot.delivery_height_px, shot.playback_fps),
        world=core.WorldCamera(
            sensor_width_mm=shot.sensor_width_mm,
            focal_mm=shot.focal_mm,
            height_m=shot.camera_height_m,
            tilt_deg=shot.tilt_deg,
            pan_deg=shot.pan_deg,
            roll_deg=shot.roll_deg,
            shutter_deg=shot.shutter_deg,
        ),
        screen_time_s=shot.screen_time_s,
        tolerance_px=shot.tolerance_px,
        stand_ins=tuple(
            StandIn(
                id=str(s.id),
                name=s.name,
                kind=s.kind,
                x_m=s.x_m,
                y_m=s.y_m,
                z_m=s.z_m,
                width_m=s.width_m,
                height_m=s.height_m,
                depth_m=s.depth_m,
                heading_deg=s.heading_deg,
                plate_id=_id(s.plate_id),
                speed_m_s=s.speed_m_s,
                course_deg=s.course_deg,
                looks_at_id=_id(s.looks_at_id),
            )
            for s in plan.stand_ins
        ),
        plates=tuple(core_plate(p) for p in plan.plates),
        kit=core.Kit(
            bodies=tuple(_body(b) for b in plan.bodies),
            lenses=tuple(_lens(x) for x in plan.lenses),
            lamps=tuple(_owned(core.Lamp, x) for x in plan.lamps),
            rooms=tuple(_owned(core.Room, r) for r in plan.rooms),
        ),
        move=core.Move(
            right_m=shot.move_right_m,
            away_m=shot.move_away_m,
            up_m=shot.move_up_m,
            pan_deg=shot.move_pan_deg,
            tilt_deg=shot.move_tilt_deg,
            ease=shot.move_ease,
        ),
        padding=shot.padding,
        realism=3 if shot.facts is None else shot.facts.realism,
        visibility_m=shot.visibility_m,
        key_from_deg=shot.key_from_deg,
        key_elevation_deg=shot.key_elevation_deg,
    )


#: Fields of a plate that the core's stages are derived from.
CORE_PLATE = set(core.Plate.__dataclass_fields__)


def core_plate(plate: PlanPlate) -> core.Plate:
    values = plate.model_dump(include=CORE_PLATE)
    for name in ("id", "body_id", "mode_id", "lens_id", "room_id"):
        values[name] = _id(values[name])
    values["lamps"] = tuple(core.PlacedLamp(**lamp) for lamp in values["lamps"])
    for name in ("hazards", "recipe_hazards"):
        values[name] = tuple(values[name])
    return core.Plate(**values)


def _body(body: PlanBody) -> core.Body:
    return core.Body(
        id=str(body.id),
        name=body.name,
        loan=_loan(body),
        axis_height_mm=body.axis_height_mm,
        flange_mm=body.flange_mm,
        modes=tuple(
            core.Mode(
                id=str(m.id),
                **m.model_dump(exclude={"id", "codec", "bit_depth", "subsampling"}),
            )
            for m in body.modes
        ),
    )


#: How a loan is told in the kit; the core keeps the three together.
LOAN = set(LoanFields.model_fields)


def _loan(thing: LoanFields) -> core.Loan:
    return core.Loan(thing.borrowed, thing.loan_first, thing.loan_last)


def _owned(kind: Any, thing: Any) -> Any:
    """A lens, lamp or room of the core."""
    return kind(id=str(thing.id), loan=_loan(thing), **thing.model_dump(exclude={"id", *LOAN}))


def _lens(lens: PlanLens) -> core.Lens:
    found: core.Lens = _owned(core.Lens, lens)
    return found


def recipe_hazards(plate: Plate) -> list[str]:
    """The hazards that a plate's recipe brings: those of the recipe and those of its own pass."""
    if plate.use is None:
        return []
    content = plate.use.content
    own = [p["hazards"] for p in content["passes"] if p["key"] == plate.pass_key]
    return list(dict.fromkeys([*content["hazards"], *(key for keys in own for key in keys)]))


def plate_json(plate: Plate) -> dict[str, Any]:
    """A stored plate as the plan holds it, revision included."""
    return {**fields_out(plate, PlateFields), "recipe_hazards": recipe_hazards(plate)}


def plan_json(
    shot: Shot, plate_id: uuid.UUID | None = None, kit: dict[str, Any] | None = None
) -> dict[str, Any]:
    """The stored shot as a plan in plain JSON values; with `plate_id` only that plate and the
    kit it uses, which is what a set card freezes. `kit` spares reading it for every shot."""
    prefetch_related_objects([shot], "plates__use", "stand_ins")
    kit = kit_out(shot.production) if kit is None else copy.copy(kit)
    plates = [plate_json(p) for p in shot.plates.all()]
    if plate_id is not None:
        plates = [p for p in plates if p["id"] == str(plate_id)]
        used = plates[0] if plates else {}
        kit["bodies"] = [
            {**b, "modes": [m for m in b["modes"] if m["id"] == used.get("mode_id")]}
            for b in kit["bodies"]
            if b["id"] == used.get("body_id")
        ]
        kit["lenses"] = [x for x in kit["lenses"] if x["id"] == used.get("lens_id")]
        placed = {lamp["lamp_id"] for lamp in used.get("lamps", [])}
        kit["lamps"] = [x for x in kit["lamps"] if x["id"] in placed]
        kit["rooms"] = [r for r in kit["rooms"] if r["id"] == used.get("room_id")]

    def bare(row: dict[str, Any]) -> dict[str, Any]:
        return {k: v for k, v in row.items() if k != "revision"}

    return {
        "shot": {n: getattr(shot, n) for n in ShotFields.model_fields},
        "plates": [bare(p) for p in plates],
        "stand_ins": [bare(fields_out(s, StandInFields)) for s in shot.stand_ins.all()],
        "bodies": [{**bare(b), "modes": [bare(m) for m in b["modes"]]} for b in kit["bodies"]],
        "lenses": [bare(x) for x in kit["lenses"]],
        "lamps": [bare(x) for x in kit["lamps"]],
        "rooms": [bare(r) for r in kit["rooms"]],
    }


def load(plan: dict[str, Any]) -> core.Shot:
    """The core's shot for a plan as stored in JSON."""
    return to_core(Plan.model_validate(plan))
