"""The screen behind the action: where it hangs and how much of it the action needs."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .case import Case
from .spots import velocities

#: Room kept around the action so that an elbow does not leave the screen (common practice).
MARGIN_M = 0.15


@dataclass(frozen=True)
class Backing:
    """Where the screen hangs and how large it must be, in stage metres.

    `left_m`, `right_m`, `bottom_m` and `top_m` bound what is in frame of the action at any time,
    thrown onto the screen from the entrance pupil.
    """

    distance_m: float
    centre_x_m: float
    left_m: float
    right_m: float
    bottom_m: float
    top_m: float

    @property
    def width_m(self) -> float:
        """Width needed when the screen hangs centred on the action."""
        return self.right_m - self.left_m


def backing(case: Case) -> Backing | None:
    """The screen plane and what it must cover; None for plates without screen or action."""
    return case.once("backing", lambda: _backing(case))


def _backing(case: Case) -> Backing | None:
    plate, shot, seen = case.plate, case.shot, case.seen
    rows = seen.numbers(case.own)
    if plate.kind != "screen" or not seen.shows[rows].any():
        return None
    # Behind the farthest that anything goes while it is in frame.
    backs = np.array([s.y_m + s.depth_m for s in case.own])[:, None]
    backs = backs + velocities(case.own)[:, 1:2] * seen.seconds
    farthest = float(backs[seen.shows[rows]].max()) / plate.scale
    distance = farthest + plate.screen_gap_m
    world, frames = seen.spots(case.own)
    at = plate.on_stage(world)
    path = shot.move.along(case.stage.camera, seen.parts, plate.scale)
    eye = path.positions_m[frames]
    ahead = at[:, 1] - eye[:, 1]
    if (ahead <= 0.05 / plate.scale).any():
        # Looking aside, a screen across the view is no backing.
        return None
    thrown = eye + (at - eye) * ((distance - eye[:, 1]) / ahead)[:, None]
    left, right = float(thrown[:, 0].min()) - MARGIN_M, float(thrown[:, 0].max()) + MARGIN_M
    bottom = max(float(thrown[:, 2].min()) - MARGIN_M, 0.0)
    return Backing(
        distance, (left + right) / 2.0, left, right, bottom, float(thrown[:, 2].max()) + MARGIN_M
    )
