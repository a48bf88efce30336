"""The decisions a plan is made of. Values only; everything else is derived from them.

World values are in the story's own metres. A plate's values are in stage metres, except
`focus_world_m`, which names a distance in the story. The names most asked for are gathered here for
who uses the core from outside; inside the core each comes from its own file.
"""

from .beside import Beside
from .checked import check_shot
from .cue import Cue, LevelKey
from .grip import Cloth, Cord, Support
from .kit import Body, Kit, Lamp, LampKind, Lens, Mode, Room
from .loan import OURS, Loan
from .people import Person
from .plate import (
    DAYLIGHT_K,
    TIMELESS,
    Motion,
    PlacedLamp,
    Plate,
    PlateKind,
    ScreenColour,
    Swatch,
    SwatchKind,
)
from .shot import SUN_DEG, Shot
from .standins import StandIn
from .tricks import (
    Aspect,
    Beat,
    Crowd,
    DividerKey,
    Filmed,
    Markers,
    RampKey,
    Reframe,
    ReframeKey,
    Rig,
    Split,
    Throw,
)
from .view import View
from .views import all_views, in_view, seen_from_own, whole_time_s
from .world import Delivery, Move, WorldCamera

__all__ = [
    "DAYLIGHT_K",
    "OURS",
    "SUN_DEG",
    "TIMELESS",
    "Aspect",
    "Beat",
    "Beside",
    "Body",
    "Cloth",
    "Cord",
    "Crowd",
    "Cue",
    "Delivery",
    "DividerKey",
    "Filmed",
    "Kit",
    "Lamp",
    "LampKind",
    "Lens",
    "LevelKey",
    "Loan",
    "Markers",
    "Mode",
    "Motion",
    "Move",
    "Person",
    "PlacedLamp",
    "Plate",
    "PlateKind",
    "RampKey",
    "Reframe",
    "ReframeKey",
    "Rig",
    "Room",
    "ScreenColour",
    "Shot",
    "Split",
    "StandIn",
    "Support",
    "Swatch",
    "SwatchKind",
    "Throw",
    "View",
    "WorldCamera",
    "all_views",
    "check_shot",
    "in_view",
    "seen_from_own",
    "whole_time_s",
]
