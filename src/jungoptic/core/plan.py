"""The decisions a plan is made of. Values only; everything else is derived from them.

World values are in the story's own metres. A plate's values are in stage metres, except
`focus_world_m`, which names a distance in the story.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from .camera import Array, Camera
from .checks_on_input import finite, not_negative, positive
from .matching import WorldView
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
class Mode:
    """One way a body records: the part of the sensor it uses and what it writes."""

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


@dataclass(frozen=True)
class Body:
    """A camera body. `axis_height_mm`: from its base to the lens axis, support included;
    `flange_mm`: from the lens mount to the sensor mark."""

    id: str
    name: str
    axis_height_mm: float
    flange_mm: float
    modes: tuple[Mode, ...] = ()


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

    @property
    def is_zoom(self) -> bool:
        """Whether the focal length can be chosen."""
        return self.focal_max_mm > self.focal_min_mm


@dataclass(frozen=True)
class Kit:
    """Everything that may be chosen from."""

    bodies: tuple[Body, ...] = ()
    lenses: tuple[Lens, ...] = ()


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

    @property
    def tolerance(self) -> float:
        """Mismatch nobody notices, in delivered pixels: 2 at 1920 wide unless set (judgement)."""
        if self.tolerance_px is not None:
            return self.tolerance_px
        return 2.0 * self.delivery.width_px / 1920.0

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
