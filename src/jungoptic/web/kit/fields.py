"""The typed fields of kit: shared by saving, the bounds of the database and the calculators."""

from __future__ import annotations

import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from jungoptic.core.plan import LampKind
from jungoptic.core.plan.kit import USUAL_WALLS, RigAxis
from jungoptic.core.plan.people import Role
from jungoptic.core.plan.plate import ScreenColour, TurnsAbout

from ..schemas import Fields, Name, ShortText, Within, made_from


class LoanFields(Fields):
    """Whether it is borrowed, and the first and last day it is there."""

    borrowed: bool = False
    loan_first: datetime.date | None = None
    loan_last: datetime.date | None = None


class BodyFields(LoanFields):
    """A body: `axis_height_mm` base to lens axis, `flange_mm` mount to sensor mark, `socket_mm` its
    tripod socket ahead of the sensor mark. `stabiliser`: it steadies its own picture; `remote`: it
    starts without being touched."""

    name: Name
    axis_height_mm: Annotated[float, Within(1, 1000)]
    flange_mm: Annotated[float, Within(0, 200)]
    socket_mm: Annotated[float, Within(-300, 300)] | None = None
    stabiliser: bool = True
    remote: bool = True
    note: ShortText = ""


class ModeFields(Fields):
    """A recording mode: the sensor area it uses, its pixels, rates, coding and ISO. `long_gop`:
    frames are told by their neighbours."""

    name: Name
    sensor_width_mm: Annotated[float, Within(1, 100)]
    sensor_height_mm: Annotated[float, Within(1, 100)]
    width_px: Annotated[int, Within(16, 32768)]
    height_px: Annotated[int, Within(16, 32768)]
    min_fps: Annotated[float, Within(0.01, 100_000)]
    max_fps: Annotated[float, Within(0.01, 100_000)]
    codec: Annotated[str, Field(max_length=60)] = ""
    bit_depth: Annotated[int, Within(8, 16)] = 8
    subsampling: Literal["4:4:4", "4:2:2", "4:2:0"] = "4:2:0"
    base_iso: Annotated[float, Within(1, 1_000_000)]
    min_iso: Annotated[float, Within(1, 1_000_000)]
    max_iso: Annotated[float, Within(1, 1_000_000)]
    readout_ms: Annotated[float, Within(0, 1000)] | None = None
    bitrate_mbps: Annotated[float, Within(0.1, 100_000)] | None = None
    long_gop: bool = False


class LensMeasureFields(Fields):
    """What a lens was measured to be with its ring at `marked_mm`; see `core.plan.LensMeasure`."""

    marked_mm: Annotated[float, Within(1, 5000)]
    focal_mm: Annotated[float, Within(1, 5000)]
    off_mm: Annotated[float, Within(0, 1000)] | None = None
    k1: Annotated[float, Within(-5, 5)] = 0.0
    k2: Annotated[float, Within(-20, 20)] = 0.0
    right_mm: Annotated[float, Within(-10, 10)] = 0.0
    down_mm: Annotated[float, Within(-10, 10)] = 0.0
    corner_stops: Annotated[float, Within(0, 10)] | None = None
    corner_mm: Annotated[float, Within(0.1, 100)] | None = None
    corner_stop: Annotated[float, Within(0.5, 256)] | None = None

    @model_validator(mode="after")
    def _about_as_marked(self) -> LensMeasureFields:
        if not 0.5 <= self.focal_mm / self.marked_mm <= 2.0:
            raise ValueError("focal_mm must lie between half and twice what the ring says.")
        return self


def _marks_differ(measured: list[LensMeasureFields]) -> list[LensMeasureFields]:
    marks = [one.marked_mm for one in measured]
    if len(set(marks)) < len(marks):
        raise ValueError("each mark of the ring can be measured once: replace the older one.")
    return measured


def _once(roles: list[Role]) -> list[Role]:
    return sorted(set(roles))


class LensFields(LoanFields):
    """A lens; a prime has the same shortest and longest focal length. `measured`: what it was
    measured to be, each mark of its ring once."""

    name: Name
    focal_min_mm: Annotated[float, Within(1, 5000)]
    focal_max_mm: Annotated[float, Within(1, 5000)]
    widest_stop: Annotated[float, Within(0.5, 128)]
    smallest_stop: Annotated[float, Within(0.5, 256)]
    close_focus_m: Annotated[float, Within(0.01, 100)]
    t_over_f: Annotated[float, Within(1, 3)] = 1.0
    pupil_ratio: Annotated[float, Within(0.1, 10)] = 1.0
    length_mm: Annotated[float, Within(1, 2000)] | None = None
    pupil_from_mount_mm: Annotated[float, Within(-50, 2000)] | None = None
    measured: Annotated[
        list[LensMeasureFields], Field(max_length=20), AfterValidator(_marks_differ)
    ] = []


class LampFields(LoanFields):
    """A lamp: `lux_at_1m` on its axis, `size_m` across what shines along its longer side, `width_m`
    along the other, `beam_deg` at half its intensity (null: as its kind); it pulses with the mains
    unless `flicker_free`."""

    name: Name
    lux_at_1m: Annotated[float, Within(0.1, 10_000_000)]
    size_m: Annotated[float, Within(0, 20)] = 0.2
    watts: Annotated[float, Within(0, 100_000)] = 0.0
    temperature_k: Annotated[float, Within(1000, 20_000)] = 5600.0
    flicker_free: bool = True
    count: Annotated[int, Within(1, 500)] = 1
    kind: LampKind = "panel"
    width_m: Annotated[float, Within(0, 20)] | None = None
    beam_deg: Annotated[float, Within(2, 179)] | None = None


class HorizonPoint(Fields):
    """How high the skyline stands in one direction, degrees; azimuth from north through east."""

    azimuth_deg: Annotated[float, Within(0, 360)]
    elevation_deg: Annotated[float, Within(-10, 89)]


class RoomFields(LoanFields):
    """A place to film in. `height_m` null: open air; `mains_hz` null: no mains. Latitude and
    longitude put it under the sun. `reflectance`: the part of light that floor, walls and ceiling
    give back."""

    name: Name
    length_m: Annotated[float, Within(0.5, 10_000)]
    width_m: Annotated[float, Within(0.5, 10_000)]
    height_m: Annotated[float, Within(0.5, 1000)] | None = None
    mains_hz: Annotated[float, Within(10, 400)] | None = None
    volts: Annotated[float, Within(50, 500)] = 230.0
    circuit_a: Annotated[float, Within(1, 200)] = 16.0
    circuits: Annotated[int, Within(1, 50)] = 1
    latitude_deg: Annotated[float, Within(-90, 90)] | None = None
    longitude_deg: Annotated[float, Within(-180, 180)] | None = None
    time_zone: Annotated[str, Field(min_length=1, max_length=60)] = "UTC"
    horizon: Annotated[list[HorizonPoint], Field(max_length=120)] = []
    reflectance: Annotated[float, Within(0, 0.95)] = USUAL_WALLS


class RigFields(LoanFields):
    """Something that moves by counted steps; millimetres, or degrees where its axis turns. See
    `core.plan.kit.MoveRig`."""

    name: Name
    axis: RigAxis
    per_turn: Annotated[float, Within(0.0001, 100_000)] = 1.0
    steps_per_turn: Annotated[int, Within(1, 1_000_000)] = 1
    travel: Annotated[float, Within(0.01, 1_000_000)] | None = None
    backlash: Annotated[float, Within(0, 10_000)] = 0.0
    per_s: Annotated[float, Within(0.0001, 1_000_000)] | None = None
    radius_mm: Annotated[float, Within(0.5, 10_000)] | None = None


class SupportFields(LoanFields):
    """What a camera stands or rides on; see `core.plan.grip.Support`. `turns_about` null: it has no
    head; `travel_mm` null: no end."""

    name: Name
    lowest_mm: Annotated[float, Within(0, 20_000)]
    highest_mm: Annotated[float, Within(0, 20_000)]
    turns_about: TurnsAbout | None = "socket"
    slide_mm: Annotated[float, Within(0, 2000)] = 0.0
    travel_mm: Annotated[float, Within(0, 1_000_000)] | None = 0.0
    lifts: bool = False


class ClothFields(LoanFields):
    """A cloth, paper or board to hang behind the action; see `core.plan.grip.Cloth`. `stiff`: none
    of it can lie on the floor."""

    name: Name
    width_m: Annotated[float, Within(0.1, 200)]
    length_m: Annotated[float, Within(0.1, 200)]
    colour: ScreenColour = "green"
    stiff: bool = False


class CordFields(LoanFields):
    """A thread or a line on its spool; see `core.plan.grip.Cord`. `rated_kg` null: unknown."""

    name: Name
    diameter_mm: Annotated[float, Within(0.01, 50)]
    rated_kg: Annotated[float, Within(0.01, 10_000)] | None = None
    clear: bool = False


class PersonFields(LoanFields):
    """Somebody who is filmed or works on set; see `core.plan.people.Person`. `reach_m` null:
    unknown."""

    name: Name
    height_m: Annotated[float, Within(0.3, 3)] = 1.7
    roles: Annotated[list[Role], Field(max_length=3), AfterValidator(_once)] = ["performer"]
    reach_m: Annotated[float, Within(0.1, 3)] | None = None


ModeIn = made_from(ModeFields, "ModeIn")
