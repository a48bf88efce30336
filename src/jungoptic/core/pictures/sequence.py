"""Frames of a sequence against each other: flicker, bumps, frames taken twice."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike
from scipy.signal import savgol_filter

from ..camera import Array
from ..impossible import Impossible
from .align import shifted
from .laying import smaller
from .tone import Picture, as_picture, luma, same_size

#: Frames that tell what a frame should look like: those before it.
BEFORE = 3
#: Light that changes over so many frames is a fade, not a flicker.
TREND = 9
#: Frames are compared at most so wide, in so many tiles across.
COMPARED_PX, TILES = 480, 16
#: Tiles that differ by less, in the mean and as recorded, are the same; and by less than this part
#: of what frames usually differ by.
SAME, SAME_PART = 2e-4, 0.15


@dataclass(frozen=True)
class Flicker:
    """`worst_frame` (from 0) is the one that stands out most, by `worst_percent` of the light;
    `rms_percent`: how much frames stand off the light's slow course, root mean square."""

    worst_frame: int
    worst_percent: float
    rms_percent: float


def flicker(levels: ArrayLike) -> Flicker:
    """Flicker of a row of brightnesses (n,), one a frame, light of any unit above zero. A fade is
    none.

    A frame stands out by what it differs both from the one before it and from the middle of the
    three before it: so the frame after a flash does not.

    Raises Impossible unless there are two frames and all are above zero.
    """
    given = np.asarray(levels, dtype=np.float64)
    if given.ndim != 1 or len(given) < 2:
        raise Impossible("levels must hold two frames at least.", "levels")
    if not (np.isfinite(given).all() and (given > 0.0).all()):
        raise Impossible("levels must all be above zero.", "levels")
    logs = np.log(given)
    off = np.array([_stands_out(logs, i) for i in range(len(logs))])
    worst = int(np.argmax(np.abs(off) > np.abs(off).max() - 1e-12))
    return Flicker(worst, abs(math.expm1(off[worst])) * 100.0, _rms(logs) * 100.0)


def _stands_out(logs: Array, i: int) -> float:
    """What a frame differs by, natural logarithm; the first is told by those after it."""
    near, others = (i - 1, logs[max(i - BEFORE, 0) : i]) if i else (1, logs[1 : BEFORE + 1])
    apart = float(logs[i] - logs[near]), float(logs[i] - np.median(others))
    return min(apart, key=abs)


def _rms(logs: Array) -> float:
    """Root mean square about a straight line through the frames around each."""
    around = min(TREND, len(logs) if len(logs) % 2 else len(logs) - 1)
    if around < 3:
        return float(np.abs(np.diff(logs)).max()) / 2.0
    rest = logs - savgol_filter(logs, around, 1)
    # Each frame is a part of its own line: what that hides is given back.
    return float(np.sqrt(np.mean(rest**2) / (1.0 - 1.0 / around)))


def shift_px(a: ArrayLike, b: ArrayLike) -> tuple[float, float]:
    """How far `b` has moved against `a`, (right, down) in pixels: two pictures (h, w, 3) of one
    size, as recorded. What moves in them by itself does not count.

    Raises Impossible for two sizes, and where nothing in the two is alike.
    """
    first, second = as_picture("a", a), as_picture("b", b)
    same_size(first, second)
    if np.array_equal(first, second):
        return 0.0, 0.0
    return shifted(luma(first), luma(second))


def duplicates(frames: Iterable[ArrayLike]) -> list[int]:
    """Frames (from 0) that are the same as the one before: pictures (h, w, 3) as recorded, one
    size, one after the other. Told by the tiles that differ most, so that a small thing that moves
    in a picture that stands still counts; and against what grain makes frames differ by.

    Raises Impossible for frames of several sizes.
    """
    before: Picture | None = None
    apart: list[float] = []
    for number, frame in enumerate(frames):
        now = _compared(as_picture(f"frame {number + 1}", frame))
        if before is not None:
            same_size(before, now)
            apart.append(_apart(before, now))
        before = now
    if not apart:
        return []
    limit = max(SAME, SAME_PART * float(np.percentile(apart, 75.0)))
    return [i + 1 for i, value in enumerate(apart) if value <= limit]


def _compared(picture: Picture) -> Picture:
    high, wide = picture.shape[:2]
    part = min(COMPARED_PX / wide, 1.0)
    return smaller(picture, (min(COMPARED_PX, wide), max(round(high * part), 2)))


def _apart(a: Picture, b: Picture) -> float:
    """The difference of the tile that differs most but for one in a hundred, as recorded."""
    away = np.abs(a - b).mean(axis=2)
    side = max(away.shape[1] // TILES, 1)
    tiles = cv2.resize(
        away,
        (max(away.shape[1] // side, 1), max(away.shape[0] // side, 1)),
        interpolation=cv2.INTER_AREA,
    )
    return float(np.percentile(tiles, 99.0))
