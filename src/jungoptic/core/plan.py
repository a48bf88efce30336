"""The decisions a plan is made of. Values only; everything else is derived from them.

World values are in the story's own metres. A plate's values are in stage metres, except
`focus_world_m`, which names a distance in the story.
"""

from __future__ import annotations

import datetime
import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal, TypeVar

import numpy as np

from .camera import Array, Camera, CameraPath, axes_along
from .checks_on_input import finite, not_negative, positive
from .decisions import Beat, Crowd, Edge, Filmed, Markers, RampKey, Reframe, Rig, Split
from .lighting.cue import Cue
from .matching import WorldView
from .moves import Ease, ease_of, eased
from .standins import NamedPoints, StandIn, measured_points, slices_of

T = TypeVar("T")
#: Miniature: built to scale. Screen: in front of an even backing. Live: at life size, as it is.
#: Puppet: animated frame by frame. Element: fire, smoke or water over black. Still: a photograph,
#: painting or sky.
PlateKind = Literal["miniature", "screen", "live", "puppet", "element", "still"]
#: Kinds without real time: their rate on set says nothing.
TIMELESS: frozenset[str] = frozenset({"puppet", "still"})
Motion = Literal["still", "gravity", "powered"]
#: Panel, bounce: an even disc. Bank: an even strip. Fresnel: a beam. Bulb, practical: all round.
#: Sun: from very far away.
LampKind = Literal["panel", "bank", "fresnel", "bulb", "sun", "bounce", "practical"]
SwatchKind = Literal[
    "skin", "wardrobe", "prop", "foliage", "smoke", "glass", "metal", "hair", "flame"
]
ScreenColour = Literal["green", "blue", "black", "white", "sky", "red"]
#: What a camera is balanced to unless a plate says otherwise, kelvin.
DAYLIGHT_K = 5600.0
#: How wide the sun is, degrees (mean; any almanac).
SUN_DEG = 0.533


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
    from its first row to its last (None: unknown); `bitrate_mbps` in megabits a second (None:
    unknown); `long_gop`: frames are told by their neighbours."""

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
    bit_depth: int = 8
    subsampling: str = "4:2:0"
    bitrate_mbps: float | None = None
    long_gop: bool = False


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
    #: Moves its sensor to steady the picture; can be started without being touched.
    stabiliser: bool = True
    remote: bool = True


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
    """A lamp that can be set up. `lux_at_1m` on its axis (a bounce gives back what falls on it
    instead; the sun keeps it at any distance); `size_m` across what shines, along its longer side,
    `width_m` along the other (None: as its kind); `beam_deg`: full angle at half its intensity
    (None: as its kind); `flicker_free`: runs on direct current or high frequency; `count` owned
    alike."""

    id: str
    name: str
    lux_at_1m: float
    size_m: float = 0.2
    watts: float = 0.0
    temperature_k: float = 5600.0
    flicker_free: bool = True
    count: int = 1
    loan: Loan = OURS
    kind: LampKind = "panel"
    width_m: float | None = None
    beam_deg: float | None = None


@dataclass(frozen=True)
class Room:
    """A place to film in, metres. `height_m` None: open air, lit by the sky. `mains_hz` None: no
    mains; else `circuits` of `circuit_a` amperes at `volts`. `latitude_deg` and `longitude_deg`
    (north and east positive) place it under the sun, `time_zone` names its clock, and `horizon`
    lists (azimuth, elevation) in degrees of what rises above the skyline."""

    id: str
    name: str
    length_m: float
    width_m: float
    height_m: float | None = None
    mains_hz: float | None = None
    loan: Loan = OURS
    volts: float = 230.0
    circuit_a: float = 16.0
    circuits: int = 1
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    time_zone: str = "UTC"
    horizon: tuple[tuple[float, float], ...] = ()

    @property
    def under_the_sun(self) -> bool:
        """Whether the sun shines in, and from where can be known."""
        return (
            self.height_m is None
            and self.latitude_deg is not None
            and self.longitude_deg is not None
        )


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
    """A lamp on this stage, stage metres; `level` is its dimmer (0..1). It is aimed at the action
    unless `aim_*` says where. `gel` names one of `lighting.gels`. `size_m`: what shines instead of
    the lamp itself, the opening in a black card or a frame of diffusion before it. `upright`: its
    longer side stands."""

    lamp_id: str
    x_m: float
    y_m: float
    z_m: float
    level: float = 1.0
    aim_x_m: float | None = None
    aim_y_m: float | None = None
    aim_z_m: float | None = None
    gel: str = ""
    size_m: float | None = None
    upright: bool = True

    @property
    def at(self) -> tuple[float, float, float]:
        """Where it stands."""
        return self.x_m, self.y_m, self.z_m

    @property
    def aim(self) -> tuple[float, float, float] | None:
        """Where it is aimed; None: at the action."""
        if self.aim_x_m is None or self.aim_y_m is None or self.aim_z_m is None:
            return None
        return self.aim_x_m, self.aim_y_m, self.aim_z_m


@dataclass(frozen=True)
class Swatch:
    """A colour that stands before the screen: what it is of, and sRGB 0..255 as picked from a
    still or by hand."""

    name: str
    kind: SwatchKind
    red: int
    green: int
    blue: int


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
    screen_colour: ScreenColour = "green"
    #: How far the screen runs forward over the floor.
    screen_sweep_m: float = 0.0
    #: Colours of what stands before the screen.
    swatches: tuple[Swatch, ...] = ()
    #: Interactive light that one of the lamps plays.
    cue: Cue | None = None
    #: What the camera is balanced to.
    white_k: float = DAYLIGHT_K
    #: Which way the camera of an open-air stage looks, degrees from north; None: free to turn.
    heading_deg: float | None = None
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
    #: What its recipe says must be right, and its marks.
    recipe_right: tuple[str, ...] = ()
    #: Plates of one lock-off have the same word here.
    lock_group: str = ""
    #: Takes that are logged already.
    filmed: Filmed | None = None
    #: Filmed the other way round and mirrored in post.
    flop: bool = False
    #: What post does with it: how it is cut, its shapes, the frames between keys, its edge.
    cut: Literal["none", "split", "key", "luma", "roto"] = "none"
    shapes: int = 1
    key_every: int = 4
    edge: Edge = "hard"
    tracked: bool = False
    takes_planned: int = 4
    rig: Rig | None = None
    crowd: Crowd | None = None
    markers: Markers | None = None
    ramp: tuple[RampKey, ...] = ()

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
    #: Sun: hard, without fall-off, on its own way over the sky. Empty: not decided.
    key_kind: Literal["", "sun", "lamp"] = ""
    #: Key side over shadow side, stops.
    key_ratio_stops: float | None = None
    #: Angle that the key is wide, seen from the action; None: the sun's, unknown otherwise.
    key_size_deg: float | None = None
    #: Colour of the key, to a camera balanced to daylight.
    key_temperature_k: float | None = None
    #: Key side against a normal exposure, stops; a moonlit night lies under it.
    key_level_stops: float = 0.0
    splits: tuple[Split, ...] = ()
    reframe: Reframe | None = None
    beats: tuple[Beat, ...] = ()
    #: Left and right are exchanged: how a plate that is mirrored in post sees the story.
    flopped: bool = False

    @property
    def key_angle_deg(self) -> float | None:
        """How wide the story's key is: what makes its shadows hard or soft."""
        if self.key_size_deg is not None:
            return self.key_size_deg
        return SUN_DEG if self.key_kind == "sun" else None

    @property
    def base_tolerance_px(self) -> float:
        """Mismatch nobody notices in a still and serious shot, in delivered pixels: 2 at 1920 wide
        unless set (judgement). `tolerance.allowed` says what movement and brevity add."""
        if self.tolerance_px is not None:
            return self.tolerance_px
        return 2.0 * self.delivery.width_px / 1920.0

    @cached_property
    def _made(self) -> dict[str, Any]:
        return {}

    def once(self, key: str, make: Callable[[], T]) -> T:
        """What `make` gives, worked out the first time it is asked for under `key`: for what all
        plates of the shot need. A changed shot is another one and begins anew."""
        if key not in self._made:
            self._made[key] = make()
        found: T = self._made[key]
        return found

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
    def depths_m(self) -> dict[str, Array]:
        """By stand-in the depths (n,) of its measured points along the world camera's axis, those
        ahead of it, metres."""
        if not self.stand_ins:
            return {}
        points = [measured_points(s).points for s in self.stand_ins]
        every = self.world.camera(self.delivery).to_camera(np.concatenate(points))[:, 2]
        parts = [every[own] for own in slices_of(points)]
        return {s.id: part[part > 0.01] for s, part in zip(self.stand_ins, parts, strict=True)}

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
