"""The typed fields of shots, plates and stand-ins: shared by saving and by the calculator."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_serializer, model_validator

from jungoptic.core.breakdown.advisor import OWNED, SUBJECTS
from jungoptic.core.cards.hazards import BY_KEY
from jungoptic.core.cost.work import Cut
from jungoptic.core.lighting.gels import GELS
from jungoptic.core.moves import Ease
from jungoptic.core.plan import PlateKind, ScreenColour, SwatchKind
from jungoptic.core.plan.cue import CueKind
from jungoptic.core.plan.plate import LampRole, OnSide, PassFor, TurnsAbout
from jungoptic.core.plan.standins import Matters

from ..schemas import (
    MOST_POSITION,
    Fields,
    LongText,
    Name,
    OneOf,
    ShortText,
    Within,
    edit_of,
    made_from,
)
from .trick_fields import (
    BeatFields,
    CrowdFields,
    Edge,
    Id,
    MarkerFields,
    RampFields,
    ReframeFields,
    RigFields,
    SplitFields,
)

#: Further cameras of one shot; lines and beats of a view.
MOST_VIEWS = 8
MOST_SPLITS, MOST_BEATS = 6, 60

Hazard = Annotated[str, OneOf(tuple(BY_KEY))]
GelKey = Annotated[str, OneOf(tuple(gel.key for gel in GELS))]
Subject = Annotated[str, OneOf(tuple(SUBJECTS))]
Owned = Annotated[str, OneOf(tuple(OWNED))]


class FactsFields(Fields):
    """What the advisor is told about a shot; screen time and rate come from the shot itself."""

    shows: Annotated[list[Subject], Field(min_length=1, max_length=len(SUBJECTS))] = ["performer"]
    camera: Literal["locked", "moving"] = "locked"
    people: Annotated[int, Within(1, 200)] = 4
    owned: Annotated[list[Owned], Field(max_length=len(OWNED))] = list(OWNED)
    realism: Annotated[int, Within(1, 3)] = 3
    screen_fits: bool = True
    night: bool = False
    seen_again: Annotated[int, Within(1, 500)] = 1


class CameraFields(Fields):
    """A world camera with its move and its time, and what is decided about its picture."""

    screen_time_s: Annotated[float, Within(0.04, 3600)] = 4.0
    sensor_width_mm: Annotated[float, Within(1, 100)] = 24.9
    focal_mm: Annotated[float, Within(1, 5000)] = 35.0
    camera_height_m: Annotated[float, Within(0, 10_000)] = 1.5
    tilt_deg: Annotated[float, Within(-89, 89)] = 0.0
    pan_deg: Annotated[float, Within(-180, 180)] = 0.0
    roll_deg: Annotated[float, Within(-180, 180)] = 0.0
    shutter_deg: Annotated[float, Within(1, 360)] = 180.0
    move_right_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    move_away_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    move_up_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    move_pan_deg: Annotated[float, Within(-180, 180)] = 0.0
    move_tilt_deg: Annotated[float, Within(-89, 89)] = 0.0
    move_ease: Ease = "both"
    move_zoom: Annotated[float, Within(0.05, 20)] = 1.0
    story_speed: Annotated[float, Within(0.01, 20)] = 1.0
    story_speed_keys: Annotated[list[RampFields], Field(max_length=40)] = []
    splits: Annotated[list[SplitFields], Field(max_length=MOST_SPLITS)] = []
    reframe: ReframeFields | None = None
    beats: Annotated[list[BeatFields], Field(max_length=MOST_BEATS)] = []


class ViewFields(CameraFields):
    """One more camera of a shot, and where it stands from the first: metres to its right and
    ahead of it, and degrees that it is turned to the right."""

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=60)] = "Close-up"
    stands_right_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    stands_ahead_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    turned_deg: Annotated[float, Within(-180, 180)] = 0.0


def _views_differ(views: list[ViewFields]) -> list[ViewFields]:
    if len({v.id for v in views}) < len(views):
        raise ValueError("Two views of a shot are one and the same: remove one of them")
    return views


class ShotFields(CameraFields):
    """A shot: its delivery and its world camera, which is its first view."""

    number: Annotated[str, Field(min_length=1, max_length=20)]
    title: Name
    action: LongText = ""
    place: ShortText = ""
    position: Annotated[float, Within(-MOST_POSITION, MOST_POSITION)] = 0.0
    delivery_width_px: Annotated[int, Within(16, 32768)] = 1920
    delivery_height_px: Annotated[int, Within(16, 32768)] = 1080
    playback_fps: Annotated[float, Within(1, 1000)] = 24.0
    tolerance_px: Annotated[float, Within(0.1, 1000)] | None = None
    time_of_day: Annotated[str, Field(max_length=40)] = ""
    camera_bearing_deg: Annotated[float, Within(-360, 360)] | None = None
    key_from_deg: Annotated[float, Within(-360, 360)] | None = None
    key_elevation_deg: Annotated[float, Within(-90, 90)] | None = None
    light_note: Annotated[str, Field(max_length=300)] = ""
    key_kind: Literal["", "sun", "lamp"] = ""
    key_ratio_stops: Annotated[float, Within(0, 12)] | None = None
    key_size_deg: Annotated[float, Within(0.01, 180)] | None = None
    key_temperature_k: Annotated[float, Within(1000, 20_000)] | None = None
    key_level_stops: Annotated[float, Within(-12, 6)] = 0.0
    padding: Annotated[float, Within(0, 0.5)] = 0.0
    visibility_m: Annotated[float, Within(1, 1_000_000)] | None = None
    edit_name: ShortText = ""
    facts: FactsFields | None = None
    views: Annotated[
        list[ViewFields], Field(max_length=MOST_VIEWS), AfterValidator(_views_differ)
    ] = []


#: What a lamp is called on its stage, so that it is known again when others come and go.
LampKey = Annotated[str, Field(max_length=36, pattern=r"^[0-9a-z-]*$")]


class LampPlace(Fields):
    """A lamp on a stage, stage metres; `level` is its dimmer. Aimed at the action unless `aim_*`
    says where; `size_m`: an opening or a frame before it; `upright`: its longer side stands;
    `role`: what it is there for."""

    lamp_id: uuid.UUID
    x_m: Annotated[float, Within(-1000, 1000)]
    y_m: Annotated[float, Within(-1000, 1000)]
    z_m: Annotated[float, Within(-100, 1000)]
    level: Annotated[float, Within(0, 1)] = 1.0
    aim_x_m: Annotated[float, Within(-1000, 1000)] | None = None
    aim_y_m: Annotated[float, Within(-1000, 1000)] | None = None
    aim_z_m: Annotated[float, Within(-100, 1000)] | None = None
    gel: GelKey = ""
    size_m: Annotated[float, Within(0.001, 20)] | None = None
    upright: bool = True
    key: LampKey = ""
    role: LampRole = ""

    @field_serializer("lamp_id")
    def _as_text(self, lamp_id: uuid.UUID) -> str:
        """Placed lamps are kept as JSON, which has no ids."""
        return str(lamp_id)


class SwatchFields(Fields):
    """A colour before the screen, sRGB 0..255."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: SwatchKind = "wardrobe"
    red: Annotated[int, Within(0, 255)]
    green: Annotated[int, Within(0, 255)]
    blue: Annotated[int, Within(0, 255)]


class LevelKeyFields(Fields):
    """A level that a drawn curve passes, so many seconds after it begins."""

    at_s: Annotated[float, Within(0, 600)] = 0.0
    level: Annotated[float, Within(0, 1)] = 0.0


class CueFields(Fields):
    """Interactive light of one lamp, by its key or else by its number on the stage, from 0; see
    `core.lighting.cue`. It begins `at_s` after the beat named, or after the shot's first frame."""

    kind: CueKind
    lamp: Annotated[int, Within(0, 23)] = 0
    low: Annotated[float, Within(0, 1)] = 0.2
    high: Annotated[float, Within(0, 1)] = 1.0
    per_s: Annotated[float, Within(0.01, 30)] = 2.0
    at_s: Annotated[float, Within(0, 600)] = 0.0
    lasts_s: Annotated[float, Within(0, 600)] = 0.0
    seed: Annotated[int, Within(0, 1_000_000)] = 1
    lamp_key: LampKey = ""
    beat_id: LampKey | None = None
    keys: Annotated[list[LevelKeyFields], Field(max_length=60)] = []

    @model_validator(mode="after")
    def _upwards(self) -> CueFields:
        if self.low > self.high:
            raise ValueError("The dimmer runs from low to high: make low the smaller one")
        return self


class PlateFields(Fields):
    """A plate: what the stage decides; null means "as derived"."""

    name: Name
    kind: PlateKind
    position: Annotated[float, Within(-MOST_POSITION, MOST_POSITION)] = 0.0
    scale: Annotated[float, Within(0.01, 10_000)] = 1.0
    ground_m: Annotated[float, Within(-10_000, 100_000)] = 0.0
    body_id: uuid.UUID | None = None
    mode_id: uuid.UUID | None = None
    lens_id: uuid.UUID | None = None
    focal_mm: Annotated[float, Within(1, 5000)] | None = None
    f_number: Annotated[float, Within(0.5, 256)] = 5.6
    focus_world_m: Annotated[float, Within(0.01, 1_000_000)] | None = None
    focus_passes: Annotated[int, Within(1, 20)] = 1
    motion: Literal["still", "gravity", "powered"] = "powered"
    capture_fps: Annotated[float, Within(0.01, 100_000)] | None = None
    shutter_deg: Annotated[float, Within(1, 360)] = 180.0
    iso: Annotated[float, Within(1, 1_000_000)] = 800.0
    nd_stops: Annotated[float, Within(0, 20)] = 0.0
    axis_height_m: Annotated[float, Within(0, 1000)] | None = None
    drop_m: Annotated[float, Within(0, 10)] = 0.0
    tilt_deg: Annotated[float, Within(-89, 89)] | None = None
    setback_m: Annotated[float, Within(-1000, 1000)] = 0.0
    turns_about: TurnsAbout = "socket"
    on_side: OnSide = ""
    slide_mm: Annotated[float, Within(-1000, 1000)] = 0.0
    light_lux: Annotated[float, Within(0.01, 1_000_000)] | None = None
    screen_width_m: Annotated[float, Within(0, 200)] = 0.0
    screen_height_m: Annotated[float, Within(0, 200)] = 0.0
    screen_gap_m: Annotated[float, Within(0, 200)] = 2.0
    screen_colour: ScreenColour = "green"
    screen_sweep_m: Annotated[float, Within(0, 200)] = 0.0
    swatches: Annotated[list[SwatchFields], Field(max_length=40)] = []
    white_k: Annotated[float, Within(1500, 20_000)] = 5600.0
    heading_deg: Annotated[float, Within(0, 360)] | None = None
    cue: CueFields | None = None
    more_cues: Annotated[list[CueFields], Field(max_length=7)] = []
    table_m: Annotated[float, Within(0, 10)] | None = None
    mirror: bool = False
    lamps: Annotated[list[LampPlace], Field(max_length=24)] = []
    room_id: uuid.UUID | None = None
    support_id: uuid.UUID | None = None
    cloth_id: uuid.UUID | None = None
    screen_foot_m: Annotated[float, Within(0, 200)] = 0.0
    room_turned: bool = False
    room_behind_m: Annotated[float, Within(0, 1000)] | None = None
    room_left_m: Annotated[float, Within(-1000, 1000)] | None = None
    fix_left_x_m: Annotated[float, Within(-1000, 1000)] | None = None
    fix_left_y_m: Annotated[float, Within(-1000, 1000)] | None = None
    fix_right_x_m: Annotated[float, Within(-1000, 1000)] | None = None
    fix_right_y_m: Annotated[float, Within(-1000, 1000)] | None = None
    hazards: Annotated[list[Hazard], Field(max_length=20)] = []
    note: LongText = ""
    use_id: uuid.UUID | None = None
    pass_key: Annotated[str, Field(max_length=40)] = ""
    why: Annotated[str, Field(max_length=400)] = ""
    required: bool = True
    lock_group: Annotated[str, Field(max_length=20)] = ""
    film_on: datetime.date | None = None
    cut: Cut = "none"
    shapes: Annotated[int, Within(1, 500)] | None = None
    key_every: Annotated[int, Within(1, 240)] = 4
    keying: Literal["bisect", "nth"] = "bisect"
    paint_share: Annotated[float, Within(0, 1)] = 0.0
    tracked: bool = False
    takes_planned: Annotated[int, Within(1, 200)] = 4
    hold: Annotated[int, Within(1, 24)] = 1
    flop: bool = False
    edge: Edge = "hard"
    rig: RigFields | None = None
    crowd: CrowdFields | None = None
    markers: MarkerFields | None = None
    ramp: Annotated[list[RampFields], Field(max_length=20)] = []
    view_id: uuid.UUID | None = None
    pass_for: PassFor = ""
    placed_in_post: bool = False
    placed_from_m: Annotated[float, Within(0.01, 1_000_000)] | None = None
    walks_on_set: bool = False


class StandInFields(Fields):
    """A stand-in: what it is, where its foot stands, how large it is; world metres."""

    name: Name
    kind: Literal["figure", "box", "card", "ground"]
    plate_id: uuid.UUID | None = None
    x_m: Annotated[float, Within(-100_000, 100_000)] = 0.0
    y_m: Annotated[float, Within(-100_000, 1_000_000)] = 5.0
    z_m: Annotated[float, Within(-10_000, 100_000)] = 0.0
    width_m: Annotated[float, Within(0.001, 100_000)] = 0.5
    height_m: Annotated[float, Within(0, 100_000)] = 1.7
    depth_m: Annotated[float, Within(0, 100_000)] = 0.0
    heading_deg: Annotated[float, Within(-360, 360)] = 0.0
    speed_m_s: Annotated[float, Within(0, 10_000)] = 0.0
    course_deg: Annotated[float, Within(-360, 360)] = 90.0
    looks_at_id: uuid.UUID | None = None
    reach_m: Annotated[float, Within(0, 20)] = 0.0
    matters: Matters = "full"
    person_id: uuid.UUID | None = None


ShotIn, ShotEdit = made_from(ShotFields, "ShotIn"), edit_of(ShotFields, "ShotEdit")
PlateIn, PlateEdit = made_from(PlateFields, "PlateIn"), edit_of(PlateFields, "PlateEdit")
StandInIn, StandInEdit = (
    made_from(StandInFields, "StandInIn"),
    edit_of(StandInFields, "StandInEdit"),
)
