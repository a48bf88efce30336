"""From what is stored or sent to the values the core computes with."""

from __future__ import annotations

import copy
import json
import uuid
from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from django.db.models import Count, Prefetch, prefetch_related_objects
from django.db.models.fields.json import KT
from pydantic import BaseModel

from jungoptic.core import plan as core
from jungoptic.core.lockoff.group import LOCKED
from jungoptic.core.plan import tricks as decisions
from jungoptic.core.plan.cue import Cue, LevelKey
from jungoptic.core.plan.kit import LensMeasure, MoveRig
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.stage.support import CARRYING

from ..crud import fields_out
from ..documents import CARD_PLAN, VERSION
from ..kit.api import kit_out
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
from ..productions.models import Production
from .fields import CameraFields, Hazard, PlateFields, ShotFields, StandInFields
from .models import Plate, Shot
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

    def seconds_of(self, plate: PlateFields) -> float:
        """How long the view stands on the screen that a plate is a piece of."""
        views = (v for v in self.shot.views if v.id == _id(plate.view_id))
        return next(views, self.shot).screen_time_s


class KeptPlan(Plan):
    """A plan as a set card froze it: see `core.Shot.old_rules`."""

    old_rules: bool = False


def _id(value: uuid.UUID | None) -> str | None:
    return None if value is None else str(value)


def to_core(plan: Plan, old_rules: bool = False) -> core.Shot:
    """The core's shot for a plan, judged by the rules of today or by those before."""
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
        old_rules=old_rules,
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


def recipe_hazards(plate: Plate) -> list[str]:
    """The hazards that a plate's recipe brings: those of the recipe and those of its own pass."""
    if plate.use is None:
        return []
    content = plate.use.as_applied
    own = [p["hazards"] for p in content["passes"] if p["key"] == plate.pass_key]
    return list(dict.fromkeys([*content["hazards"], *(key for keys in own for key in keys)]))


def recipe_right(plate: Plate) -> list[str]:
    """What a plate's recipe says must be right, and the marks of its own pass."""
    if plate.use is None:
        return []
    content = plate.use.as_applied
    own = [p["marks"] for p in content["passes"] if p["key"] == plate.pass_key]
    return list(dict.fromkeys([*(m for marks in own for m in marks), *content["right"]]))


#: Cards with takes of a plate, newest first, with what was planned on them; one query for many.
FILMED = "filmed_cards"


def with_takes() -> Prefetch[Any, Any, Any]:
    """What `filmed` asks for, read for all plates of all shots at once."""
    return Prefetch("plates__cards", _cards_with_takes(), to_attr=FILMED)


def _cards_with_takes() -> Any:
    cards = Plate._meta.get_field("cards").related_model
    assert cards is not None
    assert not isinstance(cards, str)
    return (
        cards._default_manager.annotate(take_count=Count("takes"))
        .filter(take_count__gt=0)
        .annotate(as_filmed=KT("plan__plates__0"), plan_version=KT("plan__version"))
        .defer("plan", "content")
        .order_by("-created_at", "id")
    )


def filmed(plate: Plate) -> dict[str, Any] | None:
    """How many takes a plate has, and the shared decisions of its newest card with any."""
    cards = getattr(plate, FILMED, None)
    if cards is None:
        cards = list(_cards_with_takes().filter(plate=plate))
    if not cards:
        return None
    was = cards[0].as_filmed
    plate_then = (json.loads(was) if isinstance(was, str) else was) or {}
    version = int(cards[0].plan_version or 1)
    (was,) = CARD_PLAN.read({VERSION: version, "plates": [plate_then]})["plates"]
    return {
        "takes": sum(card.take_count for card in cards),
        "slate": cards[0].slate,
        "values": {name: was[name] for name in LOCKED if name in was},
    }


def plate_json(plate: Plate) -> dict[str, Any]:
    """A stored plate as the plan holds it, revision included."""
    return {
        **fields_out(plate, PlateFields),
        "recipe_hazards": recipe_hazards(plate),
        "recipe_right": recipe_right(plate),
        "filmed": filmed(plate),
    }


def plan_json(
    shot: Shot, plate_id: uuid.UUID | None = None, kit: dict[str, Any] | None = None
) -> dict[str, Any]:
    """The stored shot as a plan in plain JSON values; with `plate_id` only that plate and the
    kit it uses, which is what a set card freezes. `kit` (from `bare_kit`) spares reading it for
    every shot."""
    if not _read_before(shot):
        prefetch_related_objects([shot], "plates__use", "stand_ins", with_takes())
    kit = bare_kit(shot.production) if kit is None else copy.copy(kit)
    plates = [plate_json(p) for p in shot.plates.all()]
    if plate_id is not None:
        used = next((p for p in plates if p["id"] == str(plate_id)), {})
        # What stands in the same lock-off or across the same line, for its strip and checklist.
        lines = [s for one in (shot.splits, *(v["splits"] for v in shot.views)) for s in one]
        near = {pid for s in lines for pid in (s["first_id"], s["second_id"])}
        others = [
            p
            for p in plates
            if p is not used
            and used
            and p["view_id"] == used["view_id"]
            and (
                (p["lock_group"] and p["lock_group"] == used["lock_group"])
                or {p["id"], used["id"]} <= near
            )
        ]
        plates = [used, *others] if used else []
        kit["bodies"] = [
            {**b, "modes": [m for m in b["modes"] if m["id"] == used.get("mode_id")]}
            for b in kit["bodies"]
            if b["id"] == used.get("body_id")
        ]
        kit["lenses"] = [x for x in kit["lenses"] if x["id"] == used.get("lens_id")]
        placed = {lamp["lamp_id"] for lamp in used.get("lamps", [])}
        kit["lamps"] = [x for x in kit["lamps"] if x["id"] in placed]
        kit["rooms"] = [r for r in kit["rooms"] if r["id"] == used.get("room_id")]
        kit = carrying(kit)
        kit["supports"] = _named(kit["supports"], used.get("support_id"))
        kit["cords"] = []
        kit["cloths"] = _named(kit["cloths"], used.get("cloth_id"))

    return {
        "shot": {n: getattr(shot, n) for n in ShotFields.model_fields},
        "plates": [_bare(p) for p in plates],
        "stand_ins": [_bare(fields_out(s, StandInFields)) for s in shot.stand_ins.all()],
        **kit,
    }


def carrying(kit: dict[str, Any]) -> dict[str, Any]:
    """A kit with those of its rigs alone that rules of a plate ask for: that a camera rides on."""
    return {**kit, "rigs": [r for r in kit["rigs"] if r["axis"] in CARRYING]}


def _named(rows: list[dict[str, Any]], wanted: object) -> list[dict[str, Any]]:
    """The one that a plate names; all of them where it takes what will do."""
    return rows if wanted is None else [r for r in rows if r["id"] == wanted]


def _read_before(shot: Shot) -> bool:
    """Whether a shot has come with all of this, as one of many has."""
    read = getattr(shot, "_prefetched_objects_cache", {})
    if not {"plates", "stand_ins"} <= read.keys():
        return False
    return all(hasattr(plate, FILMED) for plate in read["plates"])


def bare_kit(production: Production) -> dict[str, Any]:
    """The kit of a production as plans hold it: without revisions."""
    kit = {name: [_bare(row) for row in rows] for name, rows in kit_out(production).items()}
    for body in kit["bodies"]:
        body["modes"] = [_bare(mode) for mode in body["modes"]]
    return kit


def _bare(row: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in row.items() if k != "revision"}


def load(plan: dict[str, Any]) -> core.Shot:
    """The core's shot for a plan as stored in JSON."""
    kept = KeptPlan.model_validate(plan)
    return to_core(kept, kept.old_rules)
