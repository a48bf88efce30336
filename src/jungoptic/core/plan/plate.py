"""The decisions of one plate. Its values are in stage metres, except `focus_world_m`, which names a
distance in the story."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..camera import Array
from .cue import Cue
from .tricks import Crowd, Edge, Filmed, Markers, RampKey, Rig

#: Miniature: built to scale. Screen: in front of an even backing. Live: at life size, as it is.
#: Puppet: animated frame by frame. Element: fire, smoke or water over black. Still: a photograph,
#: painting or sky.
PlateKind = Literal["miniature", "screen", "live", "puppet", "element", "still"]


#: Kinds without real time: their rate on set says nothing.
TIMELESS: frozenset[str] = frozenset({"puppet", "still"})


#: Kinds that are built, so that their scale and the table under them can be chosen.
BUILT: frozenset[str] = frozenset({"miniature", "puppet"})


Motion = Literal["still", "gravity", "powered"]


#: What a camera turns about when it pans and tilts. Pupil: its entrance pupil, on a rail made for
#: it. Mark: the sensor mark. Socket: the tripod socket of its body.
TurnsAbout = Literal["pupil", "mark", "socket"]


#: The side of a camera, as its operator sees it from behind, that is down. Empty: it stands.
OnSide = Literal["", "left", "right"]


SwatchKind = Literal[
    "skin", "wardrobe", "prop", "foliage", "smoke", "glass", "metal", "hair", "flame"
]


ScreenColour = Literal["green", "blue", "black", "white", "sky", "red"]


#: What a lamp is there for. Empty: told by where it stands and what it is aimed at.
LampRole = Literal["", "key", "fill", "back", "screen", "practical", "played"]


#: What a camera is balanced to unless a plate says otherwise, kelvin.
DAYLIGHT_K = 5600.0


@dataclass(frozen=True)
class PlacedLamp:
    """A lamp on this stage, stage metres; `level` is its dimmer (0..1). It is aimed at the action
    unless `aim_*` says where. `gel` names one of `lighting.gels`. `size_m`: what shines instead of
    the lamp itself, the opening in a black card or a frame of diffusion before it. `upright`: its
    longer side stands; `key`: its name on this stage, which stays when lamps come and go; `role`:
    what it is there for."""

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
    key: str = ""
    role: LampRole = ""

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


#: Another pass of a lock-off: at another focus distance, or with other lamps lit. As a rule it is
#: the picture itself, or stands empty.
PassFor = Literal["", "focus", "light"]


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
    turns_about: TurnsAbout = "socket"
    #: How far the camera is slid back on its support, so that it turns about a place ahead.
    slide_mm: float = 0.0
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
    #: What further lamps play.
    more_cues: tuple[Cue, ...] = ()
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
    #: What post does with it: how it is cut, its shapes (None: by what is cut out), the frames
    #: between keys, its edge.
    cut: Literal["none", "split", "key", "luma", "roto"] = "none"
    shapes: int | None = None
    key_every: int = 4
    keying: Literal["bisect", "nth"] = "bisect"
    edge: Edge = "hard"
    tracked: bool = False
    takes_planned: int = 4
    rig: Rig | None = None
    crowd: Crowd | None = None
    markers: Markers | None = None
    ramp: tuple[RampKey, ...] = ()
    #: The view of the shot that it is a piece of; None: the first.
    view_id: str | None = None
    #: What it is for in its lock-off beside the picture itself: that decides what it shares.
    pass_for: PassFor = ""
    #: Filmed near, as large as the frame allows, and laid into the picture in post: from how far
    #: (story metres along the line of sight; None: as near as nobody notices), and whether it goes
    #: its way on set; else it stays on its mark and post moves it.
    placed_in_post: bool = False
    placed_from_m: float | None = None
    walks_on_set: bool = False
    #: What its camera stands or rides on, and what its screen is hung from; None: whatever owned
    #: will do.
    support_id: str | None = None
    cloth_id: str | None = None
    #: How high above this stage's ground the lower edge of its screen hangs.
    screen_foot_m: float = 0.0
    #: The side of its camera that is down; empty: the camera stands.
    on_side: OnSide = ""

    @property
    def cues(self) -> tuple[Cue, ...]:
        """Everything that lamps play here."""
        return self.more_cues if self.cue is None else (self.cue, *self.more_cues)

    @property
    def screen_top_m(self) -> float:
        """How high above this stage's ground the upper edge of its screen hangs."""
        return self.screen_foot_m + self.screen_height_m

    @property
    def cut_out(self) -> bool:
        """Whether post keeps only what stands in it, or adds its light: what is beside that can be
        masked."""
        return self.kind in ("screen", "element") or self.cut in ("key", "luma", "roto")

    def lamp_of(self, cue: Cue) -> int | None:
        """The number of the lamp that plays a cue; None when it is gone."""
        if cue.lamp_key:
            keys = [lamp.key for lamp in self.lamps]
            return keys.index(cue.lamp_key) if cue.lamp_key in keys else None
        return cue.lamp if cue.lamp < len(self.lamps) else None

    def on_stage(self, points_m: Array) -> Array:
        """World points (n, 3) as they stand on this stage: from its ground, shrunk by the scale."""
        placed: Array = (points_m - np.array([0.0, 0.0, self.ground_m])) / self.scale
        return placed
