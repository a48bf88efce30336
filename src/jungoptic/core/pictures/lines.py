"""How a camera was turned and how long its lens was, from straight edges in its picture that run
along the world's own directions."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import product

import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import least_squares

from ..camera import Array, Camera, axes_along, turns_of
from ..checks_on_input import positive
from ..impossible import Impossible
from .resect import LEAST_PX, Resection, Sigma

#: The sensor width that a focal length is told for where none is known: the picture says only their
#: ratio.
FULL_FRAME_MM = 36.0
#: Where the search begins: focal lengths as parts of the sensor's width, and turns.
FOCALS = (0.5, 0.9, 1.6, 3.0)
PANS_DEG = (-75.0, -45.0, -20.0, 0.0, 20.0, 45.0, 75.0)
TILTS_DEG = (-35.0, 0.0, 35.0)
#: A segment shorter than this has no direction, pixels.
SHORTEST_PX = 2.0


def camera(
    lines_by_direction: Sequence[ArrayLike],
    width_px: float,
    height_px: float,
    known_height: float | None = None,
    sensor_width_mm: float = FULL_FRAME_MM,
) -> Resection:
    """The camera whose picture shows edges of the world so: `lines_by_direction` holds for the
    directions x (right), y (ahead) and z (up) a list of segments (2, 2) in pixels each, either way
    round. Two directions with two segments each are enough. `known_height`: how high the lens
    stood, metres; where it stood otherwise no edge tells. It looks ahead (y) more than back, and
    stands upright more than on its head.

    Raises Impossible for segments that are none, and where there are too few to tell.

    Source: vanishing points of orthogonal directions (Caprile and Torre 1990); what is made small
    is how far the ends of each segment lie from the line through its middle and vanishing point.
    """
    positive("picture width", width_px)
    positive("picture height", height_px)
    positive("sensor width", sensor_width_mm)
    ends, along = _segments(lines_by_direction)
    middle = np.array([width_px, height_px]) / 2.0
    ends = ends - middle

    def off(values: Array) -> Array:
        return _off(values, ends, along, width_px)

    best = None
    starts = product(FOCALS, PANS_DEG, TILTS_DEG)
    rough = sorted(
        (np.array([math.log(f), p, t, 0.0]) for f, p, t in starts),
        key=lambda v: float((off(v) ** 2).sum()),
    )
    for start in rough[:8]:
        fit = least_squares(off, start, x_scale=(0.3, 10.0, 10.0, 5.0), max_nfev=200)
        # Sixty sensors long is as good as no vanishing at all.
        if abs(fit.x[0]) < math.log(60.0) and (best is None or fit.cost < best.cost - 1e-12):
            best = fit
    if best is None:
        raise Impossible("these edges agree on no camera: is one in the wrong direction?", "lines")
    values = _upright(best.x)
    residual = off(values)
    over = max(len(residual) - 4, 1)
    spread = max(float(residual @ residual) / over, LEAST_PX**2)
    # Its middle is as uncertain as its ends, and moves the line as well.
    covariance = np.linalg.pinv(best.jac.T @ best.jac) * spread * 2.0
    sure = np.sqrt(np.maximum(np.diag(covariance), 0.0))
    focal = math.exp(values[0]) * sensor_width_mm
    size = sensor_width_mm, sensor_width_mm * height_px / width_px
    high = 0.0 if known_height is None else float(known_height)
    found = Camera(*size, focal, (0.0, 0.0, high), *(float(v) for v in values[1:]))
    rms = math.sqrt(float(np.mean(residual**2)))
    unknown = math.inf, math.inf, math.inf if known_height is None else 0.0
    pan, tilt, roll = (float(v) for v in sure[1:])
    return Resection(found, rms, Sigma(unknown, pan, tilt, roll, focal * float(sure[0])))


def _segments(lines_by_direction: Sequence[ArrayLike]) -> tuple[Array, Array]:
    """Ends (n, 2, 2) of all segments, and which direction (n,) each runs along."""
    if len(lines_by_direction) != 3:
        raise Impossible("edges are needed by direction: along x, along y, along z.", "lines")
    ends: list[Array] = []
    along: list[int] = []
    for number, given in enumerate(lines_by_direction):
        rows = np.asarray(given, dtype=np.float64)
        if rows.size == 0:
            continue
        if rows.ndim != 3 or rows.shape[1:] != (2, 2) or not np.isfinite(rows).all():
            raise Impossible("an edge is two ends of two numbers each.", "lines")
        long = np.linalg.norm(rows[:, 1] - rows[:, 0], axis=1) >= SHORTEST_PX
        ends += list(rows[long])
        along += [number] * int(long.sum())
    counts = np.bincount(along, minlength=3) if along else np.zeros(3, dtype=int)
    if (counts >= 2).sum() < 2:
        raise Impossible("two directions with two edges each are needed at least.", "lines")
    return np.array(ends), np.array(along)


def _off(values: Array, ends: Array, along: Array, width_px: float) -> Array:
    """How far (n,) the ends of each segment lie from the line through its middle and the vanishing
    point of its direction, pixels; `ends` are told from the middle of the picture."""
    focal = math.exp(min(max(values[0], -5.0), 5.0)) * width_px
    axes = axes_along(values[1:2], values[2:3], float(values[3]))[0]
    # The world's direction as the camera sees it, right, down, ahead: its vanishing point in the
    # picture is (f right / ahead, f down / ahead), also where that is infinitely far.
    ways = axes.T[along]
    point = np.stack([focal * ways[:, 0], focal * ways[:, 1], ways[:, 2]], axis=1)
    middle = ends.mean(axis=1)
    towards = point[:, :2] - middle * point[:, 2:3]
    length = np.maximum(np.linalg.norm(towards, axis=1), 1e-9)
    half = (ends[:, 1] - ends[:, 0]) / 2.0
    found: Array = (half[:, 0] * towards[:, 1] - half[:, 1] * towards[:, 0]) / length
    return found


def _upright(values: Array) -> Array:
    """The same camera, told so that it looks ahead and stands upright: edges say nothing of which
    way round they run."""
    pan, tilt, roll = (float(v) for v in values[1:])
    axes = axes_along(np.array([pan]), np.array([tilt]), roll)[0]
    if axes[2, 1] < 0.0:
        # Half a turn about the vertical: x and y run the other way, and look the same.
        axes = axes @ np.diag([-1.0, -1.0, 1.0])
    if axes[1, 2] > 0.0:
        # Half a turn about the line of sight across: y and z the other way, then x and y again.
        axes = axes @ np.diag([-1.0, 1.0, -1.0])
    return np.array([values[0], *turns_of(axes)])
