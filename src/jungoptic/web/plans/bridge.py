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
from ..kit.api import BodyFields, LensFields, ModeFields, kit_out
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
            )
            for s in plan.stand_ins
        ),
        plates=tuple(_plate(p) for p in plan.plates),
        kit=core.Kit(
            bodies=tuple(_body(b) for b in plan.bodies),
            lenses=tuple(_lens(x) for x in plan.lenses),
        ),
    )


#: Fields of a plate that the core's stages are derived from.
CORE_PLATE = set(core.Plate.__dataclass_fields__)


def _plate(plate: PlanPlate) -> core.Plate:
    values = plate.model_dump(include=CORE_PLATE)
    for name in ("id", "body_id", "mode_id", "lens_id"):
        values[name] = _id(values[name])
    for name in ("hazards", "recipe_hazards"):
        values[name] = tuple(values[name])
    return core.Plate(**values)


def _body(body: PlanBody) -> core.Body:
    return core.Body(
        id=str(body.id),
        name=body.name,
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


def _lens(lens: PlanLens) -> core.Lens:
    return core.Lens(id=str(lens.id), **lens.model_dump(exclude={"id"}))


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

    def bare(row: dict[str, Any]) -> dict[str, Any]:
        return {k: v for k, v in row.items() if k != "revision"}

    return {
        "shot": {n: getattr(shot, n) for n in ShotFields.model_fields if n != "facts"},
        "plates": [bare(p) for p in plates],
        "stand_ins": [bare(fields_out(s, StandInFields)) for s in shot.stand_ins.all()],
        "bodies": [{**bare(b), "modes": [bare(m) for m in b["modes"]]} for b in kit["bodies"]],
        "lenses": [bare(x) for x in kit["lenses"]],
    }


def load(plan: dict[str, Any]) -> core.Shot:
    """The core's shot for a plan as stored in JSON."""
    return to_core(Plan.model_validate(plan))
