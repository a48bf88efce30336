"""How things move through the picture: pixels per frame of points, under a moving camera too."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import SHOULDER_FRACTION, StandIn, measured_points


@dataclass(frozen=True)
class Motion:
    """Image motion of named points in the world picture, in delivered pixels per played frame.

    `fastest_px` and `slowest_px` (n,) are the largest and smallest over the frames each point is
    ahead of the camera; `fastest_part` (n,) says when (0..1); `owners` index `stand_ins`;
    `widths_px` (n,) is how wide its owner then appears.
    """

    names: tuple[str, ...]
    owners: tuple[str, ...]
    fastest_px: Array
    slowest_px: Array
    fastest_part: Array
    widths_px: Array

    @property
    def still(self) -> bool:
        """Whether nothing moves at all."""
        return not len(self.names) or not bool(np.nanmax(self.fastest_px, initial=0.0) > 1e-9)


def frame_parts(shot: Shot) -> Array:
    """Every frame of the shot as a part (0..1) of its time, both ends included."""
    return np.linspace(0.0, 1.0, shot.frames) if shot.frames > 1 else np.zeros(1)


def frame_at(shot: Shot, part: float) -> int:
    """The frame (from 1) shown at `part` of the screen time."""
    return 1 + round(part * (shot.frames - 1))


def some_parts(shot: Shot, most: int) -> Array:
    """Evenly some of `frame_parts`, from the first on: about `most` of them."""
    parts = frame_parts(shot)
    found: Array = parts[:: max(len(parts) // most, 1)]
    return found


def velocity(stand_in: StandIn) -> Array:
    """World velocity (3,) of a thing, m/s."""
    ahead = stand_in.after(1.0)
    return np.array([ahead.x_m - stand_in.x_m, ahead.y_m - stand_in.y_m, 0.0])


def gone_m(shot: Shot, stand_in: StandIn, parts: Array) -> Array:
    """How far a thing has gone (f, 3) after parts (f,) of the screen time, world metres."""
    gone: Array = (parts * shot.screen_time_s)[:, None] * velocity(stand_in)
    return gone


def velocities(stand_ins: tuple[StandIn, ...], counts: list[int]) -> Array:
    """World velocity (n, 3) in m/s of every point, `counts` points for each stand-in."""
    rows = []
    for stand_in, count in zip(stand_ins, counts, strict=True):
        rows += [velocity(stand_in)] * count
    return np.array(rows, dtype=np.float64).reshape(-1, 3)


def image_motion(shot: Shot, plate: Plate | None = None) -> Motion:
    """How the points of `plate`'s stand-ins (of all of them without one) move in the world
    picture. The story's own camera and times: what every plate has to show."""
    own = tuple(
        s
        for s in shot.stand_ins
        if s.kind != "ground" and (plate is None or s.plate_id == plate.id)
    )
    found = [measured_points(s) for s in own]
    counts = [len(p.names) for p in found]
    names = tuple(n for p in found for n in p.names)
    owners = tuple(s.id for s, c in zip(own, counts, strict=True) for _ in range(c))
    count = len(names)
    nothing = np.zeros(count)
    if not count or (shot.move.still and not any(s.speed_m_s for s in own)):
        return Motion(names, owners, nothing, nothing, nothing, np.full(count, np.inf))
    points = np.concatenate([p.points for p in found])
    speed = velocities(own, counts)
    delivery = shot.delivery
    w, h = delivery.width_px, delivery.height_px
    base = shot.world.camera(delivery)
    one = 1.0 / shot.frames
    parts = frame_parts(shot) * (1.0 - one)
    before, after = (
        shot.move.along(base, at).project(
            points + speed * (at[:, None, None] * shot.screen_time_s), w, h
        )[0]
        for at in (parts, parts + one)
    )
    with np.errstate(invalid="ignore"):
        steps = np.hypot(*np.moveaxis(after - before, -1, 0))
    widths = _widths(own, counts, before)
    seen = np.isfinite(steps)
    high = np.where(seen, steps, -1.0)
    at = high.argmax(axis=0)
    column = np.arange(count)
    slowest = np.where(seen, steps, np.inf).min(axis=0)
    return Motion(
        names,
        owners,
        np.maximum(high[at, column], 0.0),
        np.where(np.isfinite(slowest), slowest, 0.0),
        parts[at],
        widths[at, column],
    )


def _widths(own: tuple[StandIn, ...], counts: list[int], pixels: Array) -> Array:
    """How wide the owner of each point appears (f, n): its points' spread across, or for a figure
    the shoulders its height goes with."""
    found = np.zeros(pixels.shape[:2])
    start = 0
    for stand_in, count in zip(own, counts, strict=True):
        of_it = pixels[:, start : start + count]
        across, down = np.moveaxis(np.ptp(of_it, axis=1), -1, 0)
        wide = np.maximum(across, SHOULDER_FRACTION * down) if stand_in.kind == "figure" else across
        found[:, start : start + count] = wide[:, None]
        start += count
    return found
