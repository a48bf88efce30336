"""From what is stored or sent to the values the core computes with."""

from __future__ import annotations

import math
import uuid
from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Any

from pydantic import BaseModel, Field

from jungoptic.core import plan as core
from jungoptic.core.plan import tricks as decisions
from jungoptic.core.plan.cue import Cue, LevelKey
from jungoptic.core.plan.kit import LensMeasure, MoveRig
from jungoptic.core.plan.standins import StandIn

from ..kit.fields import (
    BodyFields,
    ClothFields,
    CordFields,
    LampFields,
    LensFields,
    LoanFields,
    ModeFields,
    PersonFields,
    RigFields,
    RoomFields,
    SupportFields,
)
from .fields import CameraFields, Hazard, PlateFields, ShotFields, StandInFields
from .trick_fields import to_markers, to_reframe, to_split


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


class PlanRig(RigFields):
    """A rig that moves, with its id."""

    id: uuid.UUID


class PlanSupport(SupportFields):
    """A support with its id."""

    id: uuid.UUID


class PlanCloth(ClothFields):
    """A cloth with its id."""

    id: uuid.UUID


class PlanCord(CordFields):
    """A thread or line with its id."""

    id: uuid.UUID


class PlanPerson(PersonFields):
    """A person with their id."""

    id: uuid.UUID


class FilmedFields(BaseModel):
    """That a plate has takes: how many, on which card, and what its lock-off then had."""

    takes: int
    slate: str
    values: dict[str, float | bool | str | None]


class PlanPlate(PlateFields):
    """A plate with its id, and what its recipe and its takes bring."""

    id: uuid.UUID
    recipe_hazards: list[Hazard] = []
    recipe_right: list[str] = []
    filmed: FilmedFields | None = None


class PlanStandIn(StandInFields):
    """A stand-in with its id."""

    id: uuid.UUID


#: The most plates that a plan tells of its lock-offs elsewhere.
MOST_BESIDE = 100


class PlanBeside(BaseModel):
    """A plate of another shot, or (`here`) of another view of this one, that is in one of its
    lock-offs; and what its stage comes to, None for infinity."""

    plate: PlanPlate
    shot: Annotated[str, Field(max_length=200)]
    here: bool = False
    numbers: dict[str, Annotated[float, Field(allow_inf_nan=False)] | None] = {}


class Plan(BaseModel):
    """A whole shot with the kit it may use: everything a computation needs and nothing stored."""

    shot: ShotFields
    plates: list[PlanPlate] = []
    stand_ins: list[PlanStandIn] = []
    bodies: list[PlanBody] = []
    lenses: list[PlanLens] = []
    lamps: list[PlanLamp] = []
    rooms: list[PlanRoom] = []
    rigs: list[PlanRig] = []
    supports: list[PlanSupport] = []
    cloths: list[PlanCloth] = []
    cords: list[PlanCord] = []
    people: list[PlanPerson] = []
    beside: Annotated[list[PlanBeside], Field(max_length=MOST_BESIDE)] = []

    def seconds_of(self, plate: PlateFields) -> float:
        """How long the view stands on the screen that a plate is a piece of."""
        views = (v for v in self.shot.views if v.id == _id(plate.view_id))
        return next(views, self.shot).screen_time_s


class KeptPlan(Plan):
    """A plan as a set card froze it: see `core.Shot.old_rules` and `zooms_across`."""

    old_rules: bool = False
    zooms_across: bool = False


def _id(value: uuid.UUID | None) -> str | None:
    return None if value is None else str(value)


def to_core(plan: Plan) -> core.Shot:
    """The core's shot for a plan, judged by the rules of today."""
    return core.Shot(
        **_story(plan.shot),
        stand_ins=tuple(_stand_in(s) for s in plan.stand_ins),
        plates=tuple(core_plate(p) for p in plan.plates),
        kit=core.Kit(
            bodies=tuple(_body(b) for b in plan.bodies),
            lenses=tuple(_lens(x) for x in plan.lenses),
            lamps=tuple(_owned(core.Lamp, x) for x in plan.lamps),
            rooms=tuple(_room(r) for r in plan.rooms),
            rigs=tuple(_owned(MoveRig, r) for r in plan.rigs),
            supports=tuple(_owned(core.Support, x) for x in plan.supports),
            cloths=tuple(_owned(core.Cloth, x) for x in plan.cloths),
            cords=tuple(_owned(core.Cord, x) for x in plan.cords),
            people=tuple(_person(x) for x in plan.people),
        ),
        beside=tuple(_beside(one) for one in plan.beside),
    )


def with_changes(
    shot: core.Shot,
    story: ShotFields | None,
    plates: Iterable[PlanPlate],
    stand_ins: Iterable[PlanStandIn],
) -> core.Shot | None:
    """A shot of the core with some records of its plan changed: the same that `to_core` makes of
    the whole plan; None where one of them is not in it."""
    own = {p.id: p for p in map(core_plate, plates)}
    things = {s.id: s for s in map(_stand_in, stand_ins)}
    if not own.keys() <= {p.id for p in shot.plates}:
        return None
    if not things.keys() <= {s.id for s in shot.stand_ins}:
        return None
    return replace(
        shot,
        plates=tuple(own.get(p.id, p) for p in shot.plates),
        stand_ins=tuple(things.get(s.id, s) for s in shot.stand_ins),
        **({} if story is None else _story(story)),
    )


def _beside(one: PlanBeside) -> core.Beside:
    numbers = {name: math.inf if v is None else v for name, v in one.numbers.items()}
    return core.Beside(core_plate(one.plate), one.shot, one.here, numbers)


def _stand_in(fields: PlanStandIn) -> StandIn:
    return StandIn(
        id=str(fields.id),
        name=fields.name,
        kind=fields.kind,
        x_m=fields.x_m,
        y_m=fields.y_m,
        z_m=fields.z_m,
        width_m=fields.width_m,
        height_m=fields.height_m,
        depth_m=fields.depth_m,
        heading_deg=fields.heading_deg,
        plate_id=_id(fields.plate_id),
        speed_m_s=fields.speed_m_s,
        course_deg=fields.course_deg,
        looks_at_id=_id(fields.looks_at_id),
        person_id=_id(fields.person_id),
        reach_m=fields.reach_m,
        matters=fields.matters,
    )


def _story(shot: ShotFields) -> dict[str, Any]:
    """What a shot itself decides."""
    return {
        "delivery": core.Delivery(
            shot.delivery_width_px, shot.delivery_height_px, shot.playback_fps
        ),
        **_camera(shot),
        "tolerance_px": shot.tolerance_px,
        "padding": shot.padding,
        "realism": 3 if shot.facts is None else shot.facts.realism,
        "visibility_m": shot.visibility_m,
        "key_from_deg": shot.key_from_deg,
        "key_elevation_deg": shot.key_elevation_deg,
        "key_kind": shot.key_kind,
        "key_ratio_stops": shot.key_ratio_stops,
        "key_size_deg": shot.key_size_deg,
        "key_temperature_k": shot.key_temperature_k,
        "key_level_stops": shot.key_level_stops,
        "views": tuple(
            core.View(
                id=view.id,
                name=view.name,
                right_m=view.stands_right_m,
                ahead_m=view.stands_ahead_m,
                turned_deg=view.turned_deg,
                **_camera(view),
            )
            for view in shot.views
        ),
    }


def _camera(fields: CameraFields) -> dict[str, Any]:
    """What a shot and each of its further views decide about camera, time and picture."""
    return {
        "world": core.WorldCamera(
            sensor_width_mm=fields.sensor_width_mm,
            focal_mm=fields.focal_mm,
            height_m=fields.camera_height_m,
            tilt_deg=fields.tilt_deg,
            pan_deg=fields.pan_deg,
            roll_deg=fields.roll_deg,
            shutter_deg=fields.shutter_deg,
        ),
        "move": core.Move(
            right_m=fields.move_right_m,
            away_m=fields.move_away_m,
            up_m=fields.move_up_m,
            pan_deg=fields.move_pan_deg,
            tilt_deg=fields.move_tilt_deg,
            ease=fields.move_ease,
            zoom=fields.move_zoom,
        ),
        "screen_time_s": fields.screen_time_s,
        "story_speed": fields.story_speed,
        "story_speed_keys": tuple(
            decisions.RampKey(**k.model_dump()) for k in fields.story_speed_keys
        ),
        "splits": tuple(to_split(s.model_dump()) for s in fields.splits),
        "reframe": to_reframe(None if fields.reframe is None else fields.reframe.model_dump()),
        "beats": tuple(decisions.Beat(**b.model_dump()) for b in fields.beats),
    }


#: Fields of a plate that the core's stages are derived from.
CORE_PLATE = set(core.Plate.__dataclass_fields__)
#: Those of them that name another record.
IDS = ("id", "body_id", "mode_id", "lens_id", "room_id", "view_id", "support_id", "cloth_id")


def to_cue(values: dict[str, Any] | None) -> Cue | None:
    """What a lamp plays, from how it is stored; None for nothing."""
    if values is None:
        return None
    keys = tuple(LevelKey(**key) for key in values.get("keys", []))
    return Cue(**{**values, "keys": keys})


def core_plate(plate: PlanPlate) -> core.Plate:
    values = plate.model_dump(include=CORE_PLATE)
    for name in IDS:
        values[name] = _id(values[name])
    values["lamps"] = tuple(core.PlacedLamp(**lamp) for lamp in values["lamps"])
    values["cue"] = to_cue(values["cue"])
    values["more_cues"] = tuple(filter(None, map(to_cue, values["more_cues"])))
    values["swatches"] = tuple(core.Swatch(**swatch) for swatch in values["swatches"])
    for name in ("hazards", "recipe_hazards", "recipe_right"):
        values[name] = tuple(values[name])
    for name, kind in (("rig", decisions.Rig), ("crowd", decisions.Crowd)):
        values[name] = None if values[name] is None else kind(**values[name])
    values["markers"] = to_markers(values["markers"])
    values["ramp"] = tuple(decisions.RampKey(**key) for key in values["ramp"])
    filmed = values["filmed"]
    values["filmed"] = None if filmed is None else decisions.Filmed(**filmed)
    return core.Plate(**values)


def _body(body: PlanBody) -> core.Body:
    return core.Body(
        id=str(body.id),
        name=body.name,
        loan=_loan(body),
        axis_height_mm=body.axis_height_mm,
        flange_mm=body.flange_mm,
        socket_mm=body.socket_mm,
        stabiliser=body.stabiliser,
        remote=body.remote,
        modes=tuple(
            core.Mode(id=str(m.id), **m.model_dump(exclude={"id", "codec"})) for m in body.modes
        ),
    )


#: How a loan is told in the kit; the core keeps the three together.
LOAN = set(LoanFields.model_fields)


def _loan(thing: LoanFields) -> core.Loan:
    return core.Loan(thing.borrowed, thing.loan_first, thing.loan_last)


def _owned(kind: Any, thing: Any) -> Any:
    """A lamp, rig, support, cloth or cord of the core."""
    return kind(id=str(thing.id), loan=_loan(thing), **thing.model_dump(exclude={"id", *LOAN}))


def _person(person: PlanPerson) -> core.Person:
    values = person.model_dump(exclude={"id", "roles", *LOAN})
    roles = tuple(person.roles)
    return core.Person(id=str(person.id), loan=_loan(person), roles=roles, **values)


def _room(room: PlanRoom) -> core.Room:
    points = tuple((p.azimuth_deg, p.elevation_deg) for p in room.horizon)
    values = room.model_dump(exclude={"id", "horizon", *LOAN})
    return core.Room(id=str(room.id), loan=_loan(room), horizon=points, **values)


def room_of(values: dict[str, Any]) -> core.Room:
    """A room of the core from a room as the API tells it."""
    return _room(PlanRoom(**{k: v for k, v in values.items() if k != "revision"}))


def _lens(lens: PlanLens) -> core.Lens:
    values = lens.model_dump(exclude={"id", "measured", *LOAN})
    measured = tuple(LensMeasure(**one.model_dump()) for one in lens.measured)
    return core.Lens(id=str(lens.id), loan=_loan(lens), measured=measured, **values)


def lens_of(values: dict[str, Any]) -> core.Lens:
    """A lens of the core from a lens as the API tells it."""
    return _lens(PlanLens(**{k: v for k, v in values.items() if k != "revision"}))


def load(plan: dict[str, Any]) -> core.Shot:
    """The core's shot for a plan as stored in JSON."""
    kept = KeptPlan.model_validate(plan)
    return replace(to_core(kept), old_rules=kept.old_rules, zooms_across=kept.zooms_across)
