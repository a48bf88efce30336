"""The decisions a plan is made of. Values only; everything else is derived from them.

World values are in the story's own metres. A plate's values are in stage metres, except
`focus_world_m`, which names a distance in the story.
"""

from __future__ import annotations

import datetime
import math
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np

from .camera import Array, Camera, CameraPath, axes_along
from .checks_on_input import finite, not_negative, positive
from .matching import WorldView
from .moves import Ease, ease_of, eased
from .standins import NamedPoints, StandIn, measured_points

#: Miniature: built to scale. Screen: in front of an even backing. Live: at life size, as it is.
#: Puppet: animated frame by frame. Element: fire, smoke or water over black. Still: a photograph,
#: painting or sky.
PlateKind = Literal["miniature", "screen", "live", "puppet", "element", "still"]
#: Kinds without real time: their rate on set says nothing.
TIMELESS: frozenset[str] = frozenset({"puppet", "still"})
Motion = Literal["still", "gravity", "powered"]


@dataclass(frozen=True)
class Delivery:
    """What the finished shot is delivered as."""

    width_px: int
    height_px: int
    fps: float

    @property
    def aspect(self) -> float:
        """Width over height."""
        return self.width_px / self.height_px


@dataclass(frozen=True)
class WorldCamera:
    """The one pretended camera. Its picture is the delivered picture, edge to edge."""

    sensor_width_mm: float
    focal_mm: float
    height_m: float
    tilt_deg: float = 0.0
    pan_deg: float = 0.0
    roll_deg: float = 0.0
    shutter_deg: float = 180.0

    def camera(self, delivery: Delivery) -> Camera:
        """The pinhole camera it is: sensor height from the delivery aspect, at (0, 0, height)."""
        return Camera(
            sensor_width_mm=self.sensor_width_mm,
            sensor_height_mm=self.sensor_width_mm / delivery.aspect,
            focal_mm=self.focal_mm,
            position_m=(0.0, 0.0, self.height_m),
            pan_deg=self.pan_deg,
            tilt_deg=self.tilt_deg,
            roll_deg=self.roll_deg,
        )


@dataclass(frozen=True)
class Move:
    """How far the world camera has gone when the shot ends, world metres and degrees: track to
    the right, push away from where it began, crane up, pan to the right, tilt up."""

    right_m: float = 0.0
    away_m: float = 0.0
    up_m: float = 0.0
    pan_deg: float = 0.0
    tilt_deg: float = 0.0
    ease: Ease = "both"

    @property
    def still(self) -> bool:
        """Whether the camera stays where it is."""
        return not (self.right_m or self.away_m or self.up_m or self.pan_deg or self.tilt_deg)

    @property
    def length_m(self) -> float:
        """Straight distance from the first position to the last, world metres."""
        return math.hypot(self.right_m, self.away_m, self.up_m)

    def moved(self, camera: Camera, part: float, scale: float = 1.0) -> Camera:
        """`camera` after `part` (0..1) of the screen time, distances divided by `scale`."""
        if self.still or part <= 0.0:
            return camera
        gone = eased(part, self.ease)
        x, y, z = camera.position_m
        step = gone / scale
        return replace(
            camera,
            position_m=(
                x + self.right_m * step,
                y + self.away_m * step,
                z + self.up_m * step,
            ),
            pan_deg=camera.pan_deg + self.pan_deg * gone,
            tilt_deg=camera.tilt_deg + self.tilt_deg * gone,
        )

    def along(self, camera: Camera, parts: Array, scale: float = 1.0) -> CameraPath:
        """`moved` for many parts (f,) at once."""
        gone = ease_of(np.clip(np.asarray(parts, dtype=np.float64), 0.0, 1.0), self.ease)
        way = np.array([self.right_m, self.away_m, self.up_m]) / scale
        positions = np.asarray(camera.position_m) + gone[:, None] * way
        axes = axes_along(
            camera.pan_deg + gone * self.pan_deg,
            camera.tilt_deg + gone * self.tilt_deg,
            camera.roll_deg,
        )
        return CameraPath(camera, positions, axes)


@dataclass(frozen=True)
class Loan:
    """When a thing can be used: both dates included, None for no limit."""

    borrowed: bool = False
    first: datetime.date | None = None
    last: datetime.date | None = None

    def covers(self, day: datetime.date) -> bool:
        """Whether the thing is there on `day`."""
        return not (
            (self.first is not None and day < self.first)
            or (self.last is not None and day > self.last)
        )


OURS = Loan()


@dataclass(frozen=True)
class Mode:
    """One way a body records: the part of the sensor it uses and what it writes. `readout_ms`:
    from its first row to its last (None: unknown)."""

    id: str
    name: str
    sensor_width_mm: float
    sensor_height_mm: float
    width_px: int
    height_px: int
    min_fps: float
    max_fps: float
    base_iso: float
    min_iso: float
    max_iso: float
    readout_ms: float | None = None


@dataclass(frozen=True)
class Body:
    """A camera body. `axis_height_mm`: from its base to the lens axis, support included;
    `flange_mm`: from the lens mount to the sensor mark."""

    id: str
    name: str
    axis_height_mm: float
    flange_mm: float
    modes: tuple[Mode, ...] = ()
    loan: Loan = OURS


@dataclass(frozen=True)
class Lens:
    """A lens. `close_focus_m` is taped from the sensor mark; `length_mm` runs from the mount to
    the front rim and `pupil_from_mount_mm` from the mount to the entrance pupil (None: unknown, so
    a thin lens or a usual length is assumed, and the numbers say so)."""

    id: str
    name: str
    focal_min_mm: float
    focal_max_mm: float
    widest_stop: float
    smallest_stop: float
    close_focus_m: float
    t_over_f: float = 1.0
    pupil_ratio: float = 1.0
    length_mm: float | None = None
    pupil_from_mount_mm: float | None = None
    loan: Loan = OURS

    @property
    def is_zoom(self) -> bool:
        """Whether the focal length can be chosen."""
        return self.focal_max_mm > self.focal_min_mm


@dataclass(frozen=True)
class Lamp:
    """A lamp that can be set up. `lux_at_1m` on its axis; `size_m` across what shines;
    `flicker_free`: runs on direct current or high frequency; `count` owned alike."""

    id: str
    name: str
    lux_at_1m: float
    size_m: float = 0.2
    watts: float = 0.0
    temperature_k: float = 5600.0
    flicker_free: bool = True
    count: int = 1
    loan: Loan = OURS


@dataclass(frozen=True)
class Room:
    """A place to film in, metres. `height_m` None: open air, lit by the sky. `mains_hz` None: no
    mains."""

    id: str
    name: str
    length_m: float
    width_m: float
    height_m: float | None = None
    mains_hz: float | None = None
    loan: Loan = OURS


@dataclass(frozen=True)
class Kit:
    """Everything that may be chosen from."""

    bodies: tuple[Body, ...] = ()
    lenses: tuple[Lens, ...] = ()
    lamps: tuple[Lamp, ...] = ()
    rooms: tuple[Room, ...] = ()

    def lamp(self, lamp_id: str) -> Lamp | None:
        """The lamp with that id, if there is one."""
        return next((lamp for lamp in self.lamps if lamp.id == lamp_id), None)

    def room(self, room_id: str | None) -> Room | None:
        """The room with that id, if there is one."""
        return next((room for room in self.rooms if room.id == room_id), None)

    def without(self, ids: frozenset[str]) -> Kit:
        """The same kit with the things in `ids` gone."""
        return Kit(
            bodies=tuple(b for b in self.bodies if b.id not in ids),
            lenses=tuple(x for x in self.lenses if x.id not in ids),
            lamps=tuple(x for x in self.lamps if x.id not in ids),
            rooms=tuple(r for r in self.rooms if r.id not in ids),
        )


@dataclass(frozen=True)
class PlacedLamp:
    """A lamp on this stage, stage metres, aimed at the action; `level` is its dimmer (0..1)."""

    lamp_id: str
    x_m: float
    y_m: float
    z_m: float
    level: float = 1.0


@dataclass(frozen=True)
class Plate:
    """One piece of the shot and the decisions about its stage.

    `ground_m` is the height in the world of what this stage's floor or table stands for: a
    performer filmed on the floor may stand on a bridge in the story.
    None means "as derived": `focal_mm` (a zoom takes the focal length that matches),
    `focus_world_m` (best focus), `capture_fps`, `axis_height_m`, `tilt_deg`.
    """

    id: str
    name: str
    kind: PlateKind
    scale: float = 1.0
    ground_m: float = 0.0
    body_id: str | None = None
    mode_id: str | None = None
    lens_id: str | None = None
    focal_mm: float | None = None
    f_number: float = 5.6
    focus_world_m: float | None = None
    focus_passes: int = 1
    motion: Motion = "powered"
    capture_fps: float | None = None
    shutter_deg: float = 180.0
    iso: float = 800.0
    nd_stops: float = 0.0
    axis_height_m: float | None = None
    drop_m: float = 0.0
    tilt_deg: float | None = None
    setback_m: float = 0.0
    light_lux: float | None = None
    screen_width_m: float = 0.0
    screen_height_m: float = 0.0
    screen_gap_m: float = 2.0
    #: Height of the table top, this stage's ground, above the floor; None: filmed on the floor.
    table_m: float | None = None
    #: Filmed by way of a first-surface mirror at 45 degrees, so that the lens may be lower.
    mirror: bool = False
    lamps: tuple[PlacedLamp, ...] = ()
    room_id: str | None = None
    #: Across the room instead of along it; sensor mark to the wall behind; axis to the left wall.
    room_turned: bool = False
    room_behind_m: float | None = None
    room_left_m: float | None = None
    #: The two fixed points of the tape, stage metres from below the lens: left and right.
    fix_left_x_m: float | None = None
    fix_left_y_m: float | None = None
    fix_right_x_m: float | None = None
    fix_right_y_m: float | None = None
    film_on: datetime.date | None = None
    hazards: tuple[str, ...] = ()
    #: Hazards that its recipe brings; they cannot be taken off the plate.
    recipe_hazards: tuple[str, ...] = ()

    def on_stage(self, points_m: Array) -> Array:
        """World points (n, 3) as they stand on this stage: from its ground, shrunk by the scale."""
        placed: Array = (points_m - np.array([0.0, 0.0, self.ground_m])) / self.scale
        return placed


@dataclass(frozen=True)
class Shot:
    """A shot: one delivered picture, one world camera, stand-ins and plates."""

    delivery: Delivery
    world: WorldCamera
    screen_time_s: float = 4.0
    tolerance_px: float | None = None
    stand_ins: tuple[StandIn, ...] = ()
    plates: tuple[Plate, ...] = ()
    kit: Kit = field(default_factory=Kit)
    move: Move = Move()
    #: Picture kept around the delivered frame for reframing or shake, as a part of it, each side.
    padding: float = 0.0
    #: 3 must read as real, 2 light, 1 openly stylised.
    realism: int = 3
    visibility_m: float | None = None
    key_from_deg: float | None = None
    key_elevation_deg: float | None = None

    @property
    def base_tolerance_px(self) -> float:
        """Mismatch nobody notices in a still and serious shot, in delivered pixels: 2 at 1920 wide
        unless set (judgement). `tolerance.allowed` says what movement and brevity add."""
        if self.tolerance_px is not None:
            return self.tolerance_px
        return 2.0 * self.delivery.width_px / 1920.0

    @property
    def frames(self) -> int:
        """How many delivered frames the shot has, at least one."""
        return max(1, round(self.screen_time_s * self.delivery.fps))

    @cached_property
    def world_view(self) -> WorldView:
        """What the world camera sees of everything that cameras are compared at."""
        delivery = self.delivery
        return WorldView.of(
            self.world.camera(delivery), self.stand_ins, delivery.width_px, delivery.height_px
        )

    @cached_property
    def _points_by_plate(self) -> dict[str | None, NamedPoints]:
        owners = {s.plate_id for s in self.stand_ins}
        return {
            owner: NamedPoints.joined(
                [
                    measured_points(s)
                    for s in self.stand_ins
                    if s.plate_id == owner and s.kind != "ground"
                ]
            )
            for owner in owners
        }

    def points_of(self, plate: Plate) -> NamedPoints:
        """Measured points (world metres) of the things filmed in `plate`, ground left out."""
        return self._points_by_plate.get(plate.id, NamedPoints.joined([]))

    def stand_ins_of(self, plate: Plate) -> tuple[StandIn, ...]:
        """The stand-ins filmed in `plate`."""
        return tuple(s for s in self.stand_ins if s.plate_id == plate.id)


def check_shot(shot: Shot) -> None:
    """Refuse a shot whose numbers make no sense, naming the field in a sentence (ValueError)."""
    positive("delivery width", shot.delivery.width_px)
    positive("delivery height", shot.delivery.height_px)
    positive("delivery rate", shot.delivery.fps)
    not_negative("camera height", shot.world.height_m)
    not_negative("padding", shot.padding)
    if shot.world.height_m + shot.move.up_m < 0:
        raise ValueError("The camera move ends below the ground: crane up, or start higher.")
    if not -89.0 <= shot.world.tilt_deg + shot.move.tilt_deg <= 89.0:
        raise ValueError("The camera move tilts past straight up or down.")
    for stand_in in shot.stand_ins:
        for name in ("x_m", "y_m", "z_m", "heading_deg"):
            finite(f"{stand_in.name}: {name}", getattr(stand_in, name))
        for name in ("width_m", "height_m", "depth_m"):
            not_negative(f"{stand_in.name}: {name}", getattr(stand_in, name))
    for plate in shot.plates:
        positive(f"{plate.name}: scale", plate.scale)
        finite(f"{plate.name}: ground", plate.ground_m)
        positive(f"{plate.name}: stop", plate.f_number)
        if plate.tilt_deg is not None and not math.isfinite(plate.tilt_deg):
            raise ValueError(f"{plate.name}: tilt must be a finite number of degrees.")
