"""Frames in a stretch of time, counted so that float noise never adds one."""

from __future__ import annotations

import math

from .checks_on_input import finite, not_negative, positive


def frames_to_fill(seconds: float, fps: float) -> int:
    """Whole frames that fill `seconds` at `fps`: rounded up, but not for 1e-9 of a frame.

    Raises Impossible unless frame rate is above zero and seconds is zero or more.
    """
    return math.ceil(_frames(seconds, fps) - 1e-9)


def frames_in(seconds: float, fps: float) -> int:
    """Delivered frames of a shot that lasts `seconds` at `fps`: to the nearest, half a frame up (so
    2.5 s at 25 fps are 63), at least one. The browser counts alike (`OpenShot.frames`). Raises
    Impossible for a negative time or no rate."""
    return max(1, math.floor(_frames(seconds, fps) + 0.5))


def _frames(seconds: float, fps: float) -> float:
    # Two numbers may each be finite and their product not.
    return finite("frames", not_negative("seconds", seconds) * positive("frame rate", fps))
