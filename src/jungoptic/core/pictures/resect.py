"""Where a camera stood, from points whose places are known and where they lie in its picture."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import least_squares
from scipy.stats import norm
from scipy.stats import t as student

from ..camera import Array, Camera, turns_of
from ..checks_on_input import positive
from ..impossible import Impossible
from .tone import Flags

#: A mark in a picture is never found better than this, pixels.
LEAST_PX = 0.05
#: Focal lengths that are tried when none is told, parts of the sensor's width.
TRIED = np.geomspace(0.3, 12.0, 24)
#: The points of a picture that lie this nearly in one line tell nothing.
LINE = 1e-3
#: A focal length less certain than this, part of itself, is better told than measured.
FOCAL_UNSURE = 0.05


@dataclass(frozen=True)
class Sigma:
    """How uncertain what was found is, one standard deviation each, so that
    1.65 of them hold nine errors of ten: `position_m` (x, y, z), turns
    in degrees, `focal_mm` (0 where it was told)."""

    position_m: tuple[float, float, float]
    pan_deg: float
    tilt_deg: float
    roll_deg: float
    focal_mm: float


@dataclass(frozen=True)
class Resection:
    """A camera found, root mean square of what its points are off in the picture, and how uncertain
    it is. `covariance`: of x, y, z, pan, tilt, roll and focal length together, in the units of
    `sigma`; empty where only those are known."""

    camera: Camera
    rms_px: float
    sigma: Sigma
    covariance: tuple[tuple[float, ...], ...] = ()

    @property
    def focal_unsure(self) -> bool:
        """Whether the focal length has to be told for the rest to mean something."""
        return self.sigma.focal_mm > FOCAL_UNSURE * self.camera.focal_mm


def camera(
    points_m: ArrayLike,
    pixels: ArrayLike,
    width_px: float,
    height_px: float,
    sensor_width_mm: float,
    focal_mm: float | None = None,
    distortion: ArrayLike | None = None,
    least_px: float = LEAST_PX,
) -> Resection:
    """The camera that puts `points_m` (n, 3), world metres, at `pixels` (n, 2) of a picture so
    large. Four points are enough where `focal_mm` (the pinhole distance) is told, and where it is
    not as long as they lie in a plane that is seen at a slant; six otherwise. `distortion`: k1, k2
    and so on, as OpenCV numbers them; `least_px`: a mark is found no better than this.

    Raises Impossible for too few points, points in one line, numbers that are none, and where no
    camera sees them all.

    Source: Terzakis and Lourakis 2020 (SQPNP) to begin with, then least squares of all that is
    asked for, in pixels; uncertainty s^2 (J'J)^-1, s no smaller than a mark can be found.
    """
    positive("sensor width", sensor_width_mm)
    positive("picture width", width_px)
    positive("picture height", height_px)
    if focal_mm is not None:
        positive("focal length", focal_mm)
    points, seen = _rows(points_m, pixels, focal_mm is None)
    bent = _bent(distortion)
    per_mm = width_px / sensor_width_mm
    middle = np.array([width_px, height_px]) / 2.0
    starts = [focal_mm] if focal_mm is not None else list(TRIED * sensor_width_mm)
    # Metres of any size are told apart alike when the points are about one across.
    centre, size = points.mean(axis=0), float(np.ptp(points, axis=0).max())
    asked = _Seen((points - centre) / size, seen, per_mm, middle, bent, focal_mm)
    best: tuple[float, Array] | None = None
    for rough, start in sorted(_starts(asked, starts), key=_cost)[:6]:
        if best is not None and rough > 1e3 * (best[0] + 1.0):
            continue
        cost, values = asked.fitted(start)
        if best is None or cost < best[0]:
            best = cost, values
    if best is None:
        raise Impossible("no camera sees these points there: is one of them mixed up?", "pixels")
    return _told(
        best[1],
        asked,
        centre,
        size,
        (sensor_width_mm, sensor_width_mm * height_px / width_px),
        least_px,
    )


def _cost(start: tuple[float, Array]) -> float:
    return start[0]


def _rows(points_m: ArrayLike, pixels: ArrayLike, with_focal: bool) -> tuple[Array, Array]:
    points = np.asarray(points_m, dtype=np.float64)
    seen = np.asarray(pixels, dtype=np.float64)
    if points.ndim != 2 or points.shape[1] != 3:
        raise Impossible("points must be rows of three numbers.", "points_m")
    if seen.shape != (len(points), 2):
        raise Impossible("every point needs a place in the picture.", "pixels")
    good = np.isfinite(points).all(axis=1) & np.isfinite(seen).all(axis=1)
    points, seen = points[good], seen[good]
    if len(points) < 4:
        raise Impossible(f"four points at least are needed, not {len(points)}.", "points_m")
    spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
    if spread[1] < LINE * max(spread[0], 1e-12):
        raise Impossible("the points lie in one line: take one well beside it.", "points_m")
    flat = spread[2] < LINE * spread[0]
    if with_focal and not flat and len(points) < 6:
        raise Impossible(
            "six points are needed where the focal length is not told, or four in one plane.",
            "points_m",
        )
    return points, seen


def _bent(distortion: ArrayLike | None) -> Array:
    if distortion is None:
        return np.zeros(5)
    found = np.atleast_1d(np.asarray(distortion, dtype=np.float64)).ravel()
    if len(found) > 14 or not np.isfinite(found).all():
        raise Impossible("distortion must be up to 14 numbers.", "distortion")
    long = next(n for n in (4, 5, 8, 12, 14) if n >= len(found))
    return np.concatenate([found, np.zeros(long - len(found))])


def matrix_of(focal_px: float, middle: Array) -> Array:
    """A pinhole's matrix (3, 3), as OpenCV asks for it."""
    return np.array([[focal_px, 0.0, middle[0]], [0.0, focal_px, middle[1]], [0.0, 0.0, 1.0]])


@dataclass(frozen=True)
class _Seen:
    """Points (n, 3), about one across, and where they lie in the picture (n, 2), pixels; pixels to
    a millimetre of sensor, the middle of the picture, how the lens bends lines, and the focal
    length where it is told. A camera is seven parameters: turn (3,), place (3,), and the logarithm
    of the focal length in millimetres, which counts where none is told."""

    points: Array
    pixels: Array
    per_mm: float
    middle: Array
    bent: Array
    focal_mm: float | None

    @property
    def free(self) -> int:
        """How many of the parameters are asked for."""
        return 7 if self.focal_mm is None else 6

    def off(self, values: Array) -> Array:
        """What the points are off in the picture (2n,), pixels; those behind the camera far off."""
        told, _, behind = self._projected(values)
        off = np.where(behind[:, None], 1e4, told - self.pixels)
        found: Array = np.clip(np.nan_to_num(off, nan=1e4), -1e6, 1e6).ravel()
        return found

    def slopes(self, values: Array) -> Array:
        """How fast that changes with what is asked for (2n, `free`)."""
        _, told, behind = self._projected(values)
        # With the logarithm of the focal length both focal lengths in pixels grow by themselves.
        longer = told[:, 6:8].sum(axis=1, keepdims=True) * self._focal_px(values)
        found: Array = np.concatenate([told[:, :6], longer], axis=1)[:, : self.free]
        found[np.repeat(behind, 2)] = 0.0
        return np.clip(np.nan_to_num(found), -1e9, 1e9)

    def fitted(self, start: Array) -> tuple[float, Array]:
        """(half the sum of squares, parameters) where a rough solution leads to."""
        rest = start[self.free :]

        def with_rest(values: Array) -> Array:
            return np.concatenate([values, rest])

        fit = least_squares(
            lambda values: self.off(with_rest(values)),
            start[: self.free],
            jac=lambda values: self.slopes(with_rest(values)),
            x_scale="jac",
            method="lm",
        )
        return float(fit.cost), with_rest(fit.x)

    def _focal_px(self, values: Array) -> float:
        told = self.focal_mm
        return self.per_mm * (math.exp(min(max(values[6], -3.0), 9.0)) if told is None else told)

    def _projected(self, values: Array) -> tuple[Array, Array, Flags]:
        """Where the points show (n, 2), what changes that (2n, ..., as OpenCV has it: turn, place,
        two focal lengths and more), and which of them lie behind the camera."""
        matrix = matrix_of(self._focal_px(values), self.middle)
        told, slopes = cv2.projectPoints(self.points, values[:3], values[3:6], matrix, self.bent)
        turned = cv2.Rodrigues(values[:3])[0]
        behind = (self.points @ turned.T + values[3:6])[:, 2] <= 1e-9
        places: Array = np.asarray(told, dtype=np.float64).reshape(-1, 2)
        return places, np.asarray(slopes, dtype=np.float64), behind


def _starts(seen: _Seen, focals_mm: list[float]) -> list[tuple[float, Array]]:
    """(sum of squares, parameters) of every rough solution."""
    found = []
    points = seen.points
    spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
    ways = [cv2.SOLVEPNP_SQPNP] + ([cv2.SOLVEPNP_IPPE] if spread[2] < LINE * spread[0] else [])
    for focal in focals_mm:
        matrix = matrix_of(focal * seen.per_mm, seen.middle)
        for way in ways:
            try:
                _, turns, places, _ = cv2.solvePnPGeneric(
                    points, seen.pixels, matrix, seen.bent, flags=way
                )
            except cv2.error:
                continue
            for turn, place in zip(turns, places, strict=True):
                start = np.concatenate([turn.ravel(), place.ravel(), [math.log(focal)]])
                if not np.isfinite(start).all():
                    continue
                cost = float((seen.off(start) ** 2).sum())
                if math.isfinite(cost):
                    found.append((cost, start))
    return found


def _told(
    values: Array,
    seen: _Seen,
    centre: Array,
    size: float,
    sensor_mm: tuple[float, float],
    least_px: float,
) -> Resection:
    """The camera of a solution and its uncertainty, by how little its numbers may change before the
    points leave their places."""

    def numbers(v: Array) -> Array:
        turned: Array = np.asarray(cv2.Rodrigues(v[:3])[0], dtype=np.float64)
        place = -turned.T @ v[3:6] * size + centre
        focal = math.exp(v[6]) if seen.focal_mm is None else seen.focal_mm
        return np.array([*place, *turns_of(turned), focal])

    off = seen.off(values)
    over = max(len(off) - seen.free, 1)
    # Of few points the scatter itself is uncertain: as much wider as nine of ten ask for.
    wider = float(student.ppf(0.95, over) / norm.ppf(0.95))
    spread = max(float(off @ off) / over * wider**2, least_px**2)

    def moved(i: int, step: float) -> Array:
        found: Array = values.copy()
        found[i] += step
        return found

    steps = 1e-6 * np.maximum(np.abs(values), 1.0)[: seen.free]
    turns = np.stack(
        [
            (numbers(moved(i, step)) - numbers(moved(i, -step))) / (2.0 * step)
            for i, step in enumerate(steps)
        ],
        axis=1,
    )
    slopes = seen.slopes(values)
    covariance = turns @ (np.linalg.pinv(slopes.T @ slopes) * spread) @ turns.T
    sure = np.sqrt(np.maximum(np.diag(covariance), 0.0))
    x, y, z, pan, tilt, roll, focal = (float(v) for v in numbers(values))
    found = Camera(*sensor_mm, focal, (x, y, z), pan, tilt, roll)
    rms = math.sqrt(float(off @ off) / len(seen.points))
    if rms > 1e3:
        raise Impossible("no camera sees these points there: is one of them mixed up?", "pixels")
    place = float(sure[0]), float(sure[1]), float(sure[2])
    return Resection(
        found,
        rms,
        Sigma(
            place,
            float(sure[3]),
            float(sure[4]),
            float(sure[5]),
            0.0 if seen.focal_mm is not None else float(sure[6]),
        ),
        tuple(tuple(float(v) for v in row) for row in covariance),
    )
