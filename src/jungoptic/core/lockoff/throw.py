"""A thing thrown across the line: its flight, and where the line must be meanwhile."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..impossible import Impossible
from ..plan.shot import Shot
from ..plan.tricks import DividerKey, Split, Throw
from .divider import line_at, over_px

#: Standard acceleration of free fall, m/s2 (ISO 80000-3, CGPM 1901).
G = 9.80665
#: How far the line keeps ahead of the thing, beside half the feather, pixels (judgement).
AHEAD_PX = 30.0


@dataclass(frozen=True)
class Flight:
    """The throw that takes a thing there in that time, without air. Path in pixels by frame; the
    frame at which it crosses the divider (None: it never does); frames out of the picture."""

    split_id: str
    speed_m_s: float
    up_deg: float
    aside_deg: float
    apex_m: float
    apex_frame: int
    seconds: float
    first_frame: int
    path_px: tuple[tuple[float, float], ...]
    crosses_frame: int | None
    outside: tuple[int, ...]
    landing_m_s: float


def positions_m(throw: Throw, fps: float, story_s: Array | None = None) -> Array:
    """Where it is at every frame from the release on (frames + 1, 3), world metres; `story_s`
    (frames + 1,): how much of the story's time has gone by then, where that does not run as life
    does. Raises Impossible for a flight of no frames. Source: uniformly accelerated motion."""
    if throw.frames < 1:
        raise Impossible("A throw takes at least one frame.", "frames")
    t = np.arange(throw.frames + 1) / fps if story_s is None else story_s
    start = np.array([throw.from_x_m, throw.from_y_m, throw.from_z_m])
    velocity = launch_m_s(throw, throw.frames / float(t[-1]))
    found: Array = start + t[:, None] * velocity - (0.5 * G * t**2)[:, None] * np.array([0, 0, 1.0])
    return found


def launch_m_s(throw: Throw, fps: float) -> Array:
    """The velocity (3,) it leaves the hand with: v = (B - A) / t + g t / 2 upwards."""
    seconds = throw.frames / fps
    way = np.array(
        [
            throw.to_x_m - throw.from_x_m,
            throw.to_y_m - throw.from_y_m,
            throw.to_z_m - throw.from_z_m,
        ]
    )
    found: Array = way / seconds + np.array([0.0, 0.0, G * seconds / 2.0])
    return found


def _story_s(shot: Shot, throw: Throw) -> Array:
    """Story seconds (frames + 1,) gone since the release at every frame."""
    frames = throw.frame + np.arange(throw.frames)
    steps = np.array([shot.time.speed_at(int(frame)) for frame in frames])
    return np.concatenate([[0.0], np.cumsum(steps)]) / shot.delivery.fps


def flight(shot: Shot, split: Split) -> Flight | None:
    """The flight of a split's thrown thing through the story's picture; None without one."""
    throw = split.throw
    if throw is None:
        return None
    times = _story_s(shot, throw)
    seconds = float(times[-1])
    v = launch_m_s(throw, throw.frames / seconds)
    seen = _seen(shot, throw)
    shown = _zoomed(shot, throw, seen)
    rise = min(max(float(v[2]) / G, 0.0), seconds)
    apex = throw.from_z_m + float(v[2]) * rise - G * rise * rise / 2.0
    w, h = shot.delivery.width_px, shot.delivery.height_px
    outside = tuple(
        throw.frame + i
        for i, (x, y) in enumerate(shown)
        if not (0 <= x <= w and 0 <= y <= h)  # NaN is outside as well
    )
    return Flight(
        split.id,
        float(np.linalg.norm(v)),
        math.degrees(math.atan2(v[2], math.hypot(v[0], v[1]))),
        math.degrees(math.atan2(v[0], v[1])),
        apex,
        throw.frame + round(float(np.interp(rise, times, np.arange(len(times))))),
        seconds,
        throw.frame,
        tuple((round(float(x), 1), round(float(y), 1)) for x, y in np.nan_to_num(shown)),
        _crossing(shot, split, seen),
        outside,
        float(np.linalg.norm(v - np.array([0.0, 0.0, G * seconds]))),
    )


def _parts(shot: Shot, throw: Throw) -> Array:
    """The frames of a flight (frames + 1,) as parts of the screen time."""
    parts: Array = (throw.frame - 1.0 + np.arange(throw.frames + 1)) / max(shot.frames - 1, 1)
    return parts


def _zoomed(shot: Shot, throw: Throw, seen: Array) -> Array:
    """The path as a zoom shows it, every place at its own frame."""
    zooms = shot.move.zooms(_parts(shot, throw))
    if zooms is None:
        return seen
    middle = np.array([shot.delivery.width_px, shot.delivery.height_px]) / 2.0
    shown: Array = middle + (seen - middle) * zooms[:, None]
    return shown


def _seen(shot: Shot, throw: Throw) -> Array:
    """The path in the story's picture (frames + 1, 2), pixels, before a zoom."""
    path = positions_m(throw, shot.delivery.fps, _story_s(shot, throw))
    camera = shot.world.camera(shot.delivery)
    seen_from = replace(shot.move, zoom=1.0).along(camera, _parts(shot, throw))
    w, h = shot.delivery.width_px, shot.delivery.height_px
    return seen_from.project(path[:, None, :], w, h)[0][:, 0]


def _crossing(shot: Shot, split: Split, seen: Array) -> int | None:
    """The first frame at which the thing is past the line it was thrown towards."""
    throw = split.throw
    if throw is None or not split.keys or not np.isfinite(seen).all():
        return None
    first = throws_to_second(split, seen)
    w, h = shot.delivery.width_px, shot.delivery.height_px
    for i, point in enumerate(seen):
        line = line_at(split, throw.frame + i, w, h)
        past = over_px(point[None, :], line, first, split.upright, split.feather_px)[0]
        if past > 0:
            return throw.frame + i
    return None


def throws_to_second(split: Split, path_px: Sequence[Sequence[float]] | Array) -> bool:
    """Whether the thing flies from the first side to the second."""
    axis = 0 if split.upright else 1
    return bool(path_px[-1][axis] >= path_px[0][axis])


def following(shot: Shot, split: Split) -> Split | None:
    """The split with keys that keep the line ahead of the thing until it has landed, then put it
    back: the half that threw shows all of the flight. None where it never reaches the line."""
    throw = split.throw
    if throw is None or not split.keys:
        return None
    seen = _seen(shot, throw)
    if not np.isfinite(seen).all() or _crossing(shot, split, seen) is None:
        return None
    w, h = shot.delivery.width_px, shot.delivery.height_px
    first = throws_to_second(split, seen)
    size = np.array([w, h])
    axis = 0 if split.upright else 1
    keep = split.feather_px / 2.0 + AHEAD_PX
    start = line_at(split, throw.frame, w, h)
    keys = [k for k in split.keys if k.frame < throw.frame]
    shift, shifts = 0.0, []
    for point in seen:
        past = float(over_px(point[None, :], start, first, split.upright)[0])
        shift = max(shift, past + keep)
        shifts.append(shift)
    for i in _corners(shifts):
        moved = start.copy()
        moved[:, axis] += shifts[i] if first else -shifts[i]
        keys.append(_key(throw.frame + i, moved / size))
    # It has landed: from the next frame on the other half shows who stands there.
    keys.append(_key(throw.frame + throw.frames + 1, start / size))
    keys += [k for k in split.keys if k.frame > throw.frame + throw.frames + 1]
    return replace(split, keys=tuple(keys))


def _key(frame: int, points: Array) -> DividerKey:
    return DividerKey(frame, tuple((round(float(x), 5), round(float(y), 5)) for x, y in points))


def _corners(values: list[float], slack_px: float = 4.0) -> list[int]:
    """Indices that straight lines between follow `values` from above or within `slack_px`."""
    kept = [0]
    last = len(values) - 1
    while kept[-1] < last:
        a = kept[-1]
        for b in range(last, a, -1):
            line = np.interp(np.arange(a, b + 1), [a, b], [values[a], values[b]])
            if all(line >= np.array(values[a : b + 1]) - slack_px) or b == a + 1:
                kept.append(b)
                break
    return kept
