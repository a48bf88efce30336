"""Stop-motion: how many pictures to take, and how long that takes."""

from __future__ import annotations

from .checks_on_input import not_negative, positive, whole
from .counting import frames_to_fill


def exposure_count(seconds: float, fps: float, hold: int = 1) -> int:
    """Pictures that fill `seconds` at `fps` when each is held for `hold` frames, rounded up.

    Raises Impossible for a negative time, no rate, or a hold that is no whole number from 1.
    """
    return -(-frames_to_fill(seconds, fps) // whole("hold", hold, 1))


def hours(seconds: float, pace_s_per_h: float = 2.5) -> float:
    """Working hours that `seconds` of animation take at a pace in seconds of film an hour.

    Two to three seconds an hour at 24 a second is a usual amateur pace, so that two minutes take 40
    to 60 hours (common practice). Raises Impossible for a negative time or no pace.
    """
    return not_negative("seconds", seconds) / positive("pace", pace_s_per_h)
