"""Time-lapse: how many photographs to take."""

from __future__ import annotations

from .counting import frames_to_fill


def photo_count(seconds: float, fps: float) -> int:
    """Photographs that fill `seconds` of screen time at `fps`, rounded up."""
    return frames_to_fill(seconds, fps)
