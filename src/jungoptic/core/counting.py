"""Frames in a stretch of time, counted so that float noise never adds one."""

from __future__ import annotations

import math

from .checks_on_input import not_negative, positive


def frames_to_fill(seconds: float, fps: float) -> int:
    """Whole frames that fill `seconds` at `fps`: rounded up, but not for 1e-9 of a frame."""
    return math.ceil(not_negative("seconds", seconds) * positive("frame rate", fps) - 1e-9)
