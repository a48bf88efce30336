"""Scale and time: how fast to run the camera and to pull the model.

Source: Froude similarity (model testing) for motion driven by gravity; kinematics otherwise.
"""

from __future__ import annotations

import math

from .checks_on_input import positive
from .impossible import Impossible


def capture_fps(playback_fps: float, scale: float) -> float:
    """Capture rate for motion driven by gravity, fps * sqrt(S); `scale` is the denominator.

    Raises Impossible unless playback rate and scale are above zero.
    """
    return positive("playback rate", playback_fps) * math.sqrt(positive("scale", scale))


def model_speed_m_s(
    story_speed_m_s: float, scale: float, capture_fps: float, playback_fps: float
) -> float:
    """Speed of a pulled or powered model on set, v / S * (capture / playback), in m/s.

    Raises Impossible unless scale and rates are above zero and the speed is finite.
    """
    positive("scale", scale)
    positive("capture rate", capture_fps)
    positive("playback rate", playback_fps)
    if not math.isfinite(story_speed_m_s):
        raise Impossible(
            f"story speed must be a finite number, not {story_speed_m_s!r}.", "story_speed_m_s"
        )
    return story_speed_m_s / scale * (capture_fps / playback_fps)


def set_duration_s(story_s: float, capture_fps: float, playback_fps: float) -> float:
    """How long the action lasts on set so that it fills `story_s` on screen, in seconds.

    Raises Impossible unless screen time, capture rate and playback rate are above zero.
    """
    positive("screen time", story_s)
    return story_s * positive("playback rate", playback_fps) / positive("capture rate", capture_fps)
