"""How fast a plate is filmed, and how long its action takes on set: by scale, and by the story's
time."""

from __future__ import annotations

from .. import scale
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot


def real_time_fps(shot: Shot, plate: Plate) -> float:
    """Capture rate that shows the motion at its own speed: sqrt(S) for gravity, playback for
    everything else."""
    if plate.motion == "gravity":
        return scale.capture_fps(shot.delivery.fps, plate.scale)
    return shot.delivery.fps


def slowed_by_rate(plate: Plate) -> bool:
    """Whether a slowed story has to be filmed faster: of what falls, and of what moves by itself.
    What is pulled on a scaled set is pulled slower instead."""
    return plate.motion == "gravity" or (plate.motion == "powered" and plate.scale == 1.0)


def needed_fps(shot: Shot, plate: Plate) -> float:
    """Capture rate the motion asks for, where the story runs slowest. Where nothing moves, what the
    other plates of its lock-off ask for: a clean plate is rolled as they are."""
    if plate.motion == "still" and plate.lock_group and not shot.old_rules:
        others = [_moving_fps(shot, p) for p in shot.plates if _moves_beside(plate, p)]
        return max(others, default=shot.delivery.fps)
    return _moving_fps(shot, plate)


def _moving_fps(shot: Shot, plate: Plate) -> float:
    rate = real_time_fps(shot, plate)
    return rate / shot.time.slowest if slowed_by_rate(plate) else rate


def _moves_beside(plate: Plate, other: Plate) -> bool:
    """Whether `other` is rolled with something moving, in the lock-off of `plate`."""
    return (
        other.lock_group == plate.lock_group
        and other.motion != "still"
        and other.kind not in TIMELESS
    )


def on_set_s(shot: Shot, plate: Plate) -> float:
    """How long the action takes on set: the story's seconds where it runs by itself."""
    seconds = shot.time.whole_s if slowed_by_rate(plate) else shot.screen_time_s
    return scale.set_duration_s(seconds, real_time_fps(shot, plate), shot.delivery.fps)
