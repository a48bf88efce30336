"""The screen behind the action: where it hangs and how much of it the action needs."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.standins import outlines
from .case import Case

#: Room kept around the action so that an elbow does not leave the screen (common practice).
MARGIN_M = 0.15


#: Where camera or action moves, the screen is asked at these parts of the screen time.
MOMENTS = (0.0, 0.25, 0.5, 0.75, 1.0)


@dataclass(frozen=True)
class Backing:
    """Where the screen hangs and how large it must be, in stage metres.

    `left_m`, `right_m` and `top_m` bound what the lens sees of the action, thrown onto the
    screen from the entrance pupil.
    """

    distance_m: float
    centre_x_m: float
    left_m: float
    right_m: float
    top_m: float

    @property
    def width_m(self) -> float:
        """Width needed when the screen hangs centred on the action."""
        return self.right_m - self.left_m


def backing(case: Case) -> Backing | None:
    """The screen plane and what it must cover; None for plates without screen or action."""
    return case.once("backing", lambda: _backing(case))


def _backing(case: Case) -> Backing | None:
    plate = case.plate
    own = [s for s in case.shot.stand_ins_of(plate) if s.kind != "ground"]
    if plate.kind != "screen" or not own:
        return None
    moving = not case.shot.move.still or any(s.speed_m_s for s in own)
    parts = MOMENTS if moving else (0.0,)
    own_at = [[s.after(part * case.shot.screen_time_s) for s in own] for part in parts]
    farthest = max(s.y_m + s.depth_m for things in own_at for s in things) / plate.scale
    distance = farthest + plate.screen_gap_m
    lefts, rights, tops = [], [], []
    for part, things in zip(parts, own_at, strict=True):
        camera = case.shot.move.moved(case.stage.camera, part, plate.scale)
        camera_x, camera_y, camera_z = camera.position_m
        for line in (line for s in things for line in outlines(s)):
            at = plate.on_stage(line)
            ahead = at[:, 1] - camera_y
            if (ahead <= 0.05).any():
                return None
            throw = (distance - camera_y) / ahead
            x = camera_x + (at[:, 0] - camera_x) * throw
            z = camera_z + (at[:, 2] - camera_z) * throw
            lefts.append(float(x.min()) - MARGIN_M)
            rights.append(float(x.max()) + MARGIN_M)
            tops.append(float(z.max()) + MARGIN_M)
    left, right = min(lefts), max(rights)
    return Backing(distance, (left + right) / 2.0, left, right, max(tops))
