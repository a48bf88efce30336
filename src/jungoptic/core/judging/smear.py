"""How movement smears on a plate against the world camera."""

from __future__ import annotations

from ..plan.plate import TIMELESS
from ..plan.shot import Shot
from .rule import Number, Numbers


def smear_ratio(n: Numbers) -> Number:
    """Blur of this plate over that of the world camera, of anything that moves in both: by shutter
    angle and by the rate missed. 0 where frames are taken one by one."""
    if n.plate.kind in TIMELESS:
        return 0.0
    return n.shutter_deg / n.shot.world.shutter_deg * n.needed_fps / n.capture_fps


def filmed_share(shot: Shot, frame: int) -> float:
    """Part of the way from a played frame to the next that one filmed frame covers: all of it where
    the story runs slowest, less where it is played faster than it was filmed."""
    return shot.time.slowest / shot.time.speed_at(frame)
