"""Where the camera stood by four or more marks of the set that were picked in its picture."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..board.seen import NINE_OF_TEN
from ..impossible import Impossible
from ..pictures.bend import Bend, bent
from ..pictures.resect import Resection, camera
from .seen import PickedMark

Array = NDArray[np.float64]
#: A hand picks a mark no better than this, a part of the picture's width (half a pixel of what is
#: looked at).
PICKED = 0.5 / 1920.0
#: With so many marks too many, one that is wrong can be told from the others.
SPARE = 1
#: No more marks than this are left out in turn.
MOST_LEFT_OUT = 12
#: A mark is the wrong one where the others agree this much better without it.
BETTER = 0.35


def resected(
    marks: tuple[PickedMark, ...],
    width_px: int,
    height_px: int,
    sensor_width_mm: float,
    focal_mm: float | None = None,
    bend: Bend | None = None,
) -> Resection:
    """The camera that has the marks where they were picked in a picture so large; `focal_mm` is the
    pinhole distance, and `bend` how its lens bends lines, where that was measured. Raises
    Impossible where none does, or where they are too few."""
    points = np.array([(m.right_m, m.ahead_m, m.up_m) for m in marks]).reshape(-1, 3)
    seen = np.array([(m.x * width_px, m.y * height_px) for m in marks]).reshape(-1, 2)
    away = 0.0 if bend is None else bend.away_px(width_px)
    found = camera(
        points,
        seen - away,
        width_px,
        height_px,
        sensor_width_mm,
        focal_mm,
        None if bend is None else (bend.k1, bend.k2, 0.0, 0.0),
        least_px=PICKED * width_px,
    )
    if found.camera.position_m[2] <= 0.0:
        raise Impossible(
            "by these marks the camera would have stood below the ground: is one of them mixed up?",
            "marks",
        )
    return found


def places_of(
    found: Resection,
    marks: tuple[PickedMark, ...],
    width_px: int,
    height_px: int,
    bend: Bend | None = None,
) -> Array:
    """Where a camera has the marks (n, 2), parts of the picture; NaN behind it."""
    points = np.array([(m.right_m, m.ahead_m, m.up_m) for m in marks])
    places = found.camera.project(points, width_px, height_px)
    if bend is not None:
        places = bent(places, replace(bend, pinhole_mm=found.camera.focal_mm), width_px, height_px)
    told: Array = places / np.array([width_px, height_px])
    return told


def focal_by(
    marks: tuple[PickedMark, ...], width_px: int, height_px: int, sensor_width_mm: float
) -> tuple[float, float] | None:
    """(pinhole distance, how much of it holds nine errors of ten) by the marks alone; None where
    they are too few or too flat to say."""
    try:
        found = resected(marks, width_px, height_px, sensor_width_mm)
    except Impossible:
        return None
    if found.focal_unsure:
        return None
    return found.camera.focal_mm, NINE_OF_TEN * found.sigma.focal_mm


def wrong_one(
    marks: tuple[PickedMark, ...],
    width_px: int,
    height_px: int,
    sensor_width_mm: float,
    focal_mm: float,
    bend: Bend | None = None,
) -> tuple[int, float] | None:
    """(which mark, from 0; pixels that it lies off where the others put it): the one without which
    the others agree far better; None where there is none, or too few to say."""
    if not 4 + SPARE <= len(marks) <= MOST_LEFT_OUT:
        return None
    size = width_px, height_px, sensor_width_mm, focal_mm, bend
    try:
        whole = resected(marks, *size).rms_px
    except Impossible:
        whole = float("inf")
    if whole <= 2.0 * PICKED * width_px:
        return None
    found: list[tuple[float, int, float]] = []
    for number in range(len(marks)):
        others = marks[:number] + marks[number + 1 :]
        try:
            left = resected(others, *size)
        except Impossible:
            continue
        one = places_of(left, (marks[number],), width_px, height_px, bend)[0] - (
            marks[number].x,
            marks[number].y,
        )
        off = float(np.hypot(one[0] * width_px, one[1] * height_px))
        found.append((left.rms_px, number, off))
    if len(found) < 2:
        return None
    (best, number, off), (second, *_) = sorted(found)[:2]
    # Of five marks any four agree fairly well: the others without it must be clearly the best.
    clear = best < BETTER * min(whole, second)
    return (number, off) if clear and np.isfinite(off) else None
