"""A lens measured: its focal length, its middle and how it bends lines, from stills of a board that
was held up at a slant in many places of the picture.

Source: Zhang 2000, as OpenCV has it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..checks_on_input import positive
from ..impossible import Impossible
from ..pictures.resect import matrix_of
from . import paper
from .seen import NINE_OF_TEN, Found

Array = NDArray[np.float64]
#: Stills that a lens is measured by at least, and corners of the board in each.
FEWEST, CORNERS = 5, 8
#: A still this many times as far off as they usually are, and by so many pixels of a picture 1920
#: wide, was stirred or soft: it is left out.
STRAY, STRAY_PX = 3.0, 0.4
#: Lenses longer than this many widths of the sensor bend so little that only one number of it can
#: be told, and not where their middle is.
LONG = 70.0 / 36.0
#: Boards that all face the same way to so many degrees tell nothing of a focal length (Zhang 2000:
#: parallel planes add nothing to each other).
TURNED_DEG = 15.0
#: No corner is ever found better, pixels.
LEAST_PX = 0.05


@dataclass(frozen=True)
class Still:
    """A board as a still of it shows it: how far from the entrance pupil it was, how much it was
    turned from square to the lens, what its corners are off (root mean square, pixels), and whether
    it counted."""

    distance_m: float
    slant_deg: float
    rms_px: float
    counted: bool = True


@dataclass(frozen=True)
class LensSeen:
    """A lens by its stills. `pinhole_mm`: how far behind a pinhole the picture would be as large,
    as it was focused; `k1`, `k2`, `right_mm` and `down_mm` as `plan.kit.LensMeasure` has them; each
    `..._off` holds nine errors of ten. `reach`: how far from the middle corners were seen, a part
    of the half diagonal; `stills` in the order they came."""

    pinhole_mm: float
    pinhole_off: float
    k1: float
    k2: float
    right_mm: float
    down_mm: float
    middle_off: float
    rms_px: float
    reach: float
    sensor_width_mm: float
    width_px: int
    height_px: int
    stills: tuple[Still, ...]

    @property
    def counted(self) -> tuple[Still, ...]:
        """The stills that it was measured by."""
        return tuple(one for one in self.stills if one.counted)

    @property
    def distance_m(self) -> float:
        """How far away the board was, in the middle of those that counted."""
        return float(np.median([one.distance_m for one in self.counted]))


def measured(
    founds: Sequence[Found], sensor_width_mm: float, focal_mm: float, ruler_mm: float = 100.0
) -> LensSeen:
    """The lens that saw these boards, on a sensor so wide; `focal_mm`: what its ring says, to begin
    with; `ruler_mm`: what the line of 100 mm on the paper really measures. Raises Impossible for
    too few stills, stills of several sizes, boards that were all held alike, and where no lens sees
    them so."""
    positive("sensor width", sensor_width_mm)
    positive("focal length", focal_mm)
    sizes = {(one.width_px, one.height_px) for one in founds}
    if len(sizes) > 1:
        told = " and ".join(f"{wide} × {high}" for wide, high in sorted(sizes))
        raise Impossible(f"the stills must be one size, not {told}.", "pictures")
    keep = [n for n, one in enumerate(founds) if len(one.corners) >= CORNERS]
    if len(keep) < FEWEST:
        raise Impossible(
            f"{FEWEST} stills with the board well in the picture are needed, not {len(keep)}: nine "
            "are good.",
            "pictures",
        )
    wide = founds[0].width_px
    if _turned([founds[n] for n in keep], sensor_width_mm, focal_mm) < TURNED_DEG:
        raise Impossible(
            "the board was held alike in all of them, which says nothing of the focal length: turn "
            "it by a third of a right angle, each time another way.",
            "pictures",
        )
    fit = _fitted(founds, keep, sensor_width_mm, focal_mm, ruler_mm)
    stray = max(STRAY * float(np.median(fit.rms)), STRAY_PX * wide / 1920.0)
    good = [n for n, rms in zip(keep, fit.rms, strict=True) if rms <= stray]
    stills = dict(zip(keep, fit.stills(False), strict=True))
    if FEWEST <= len(good) < len(keep):
        fit = _fitted(founds, good, sensor_width_mm, focal_mm, ruler_mm)
        keep = good
    stills.update(zip(keep, fit.stills(True), strict=True))
    nothing = Still(math.nan, math.nan, math.nan, False)
    reach = max(_reach(founds[n], fit.middle) for n in keep)
    return replace(
        fit.lens, reach=reach, stills=tuple(stills.get(n, nothing) for n in range(len(founds)))
    )


@dataclass(frozen=True)
class _Fit:
    lens: LensSeen
    #: Where its middle is in the picture, pixels from the corner.
    middle: tuple[float, float]
    rms: list[float]
    places: list[tuple[Array, Array]]

    def stills(self, counted: bool) -> list[Still]:
        return [
            Still(*_stood(turn, place), rms, counted)
            for (turn, place), rms in zip(self.places, self.rms, strict=True)
        ]


def _stood(turn: Array, place: Array) -> tuple[float, float]:
    """(metres to the middle of the grid, degrees that the board was turned from square)."""
    turned: Any = cv2.Rodrigues(turn)[0]
    middle = turned @ _MIDDLE + place.ravel()
    # Square to the line of sight, wherever in the picture it was.
    square = abs(float(turned[:, 2] @ middle)) / float(np.linalg.norm(middle))
    return float(np.linalg.norm(middle)), math.degrees(math.acos(min(square, 1.0)))


def _turned(founds: Sequence[Found], width_mm: float, focal_mm: float) -> float:
    """The largest angle between two of the boards, degrees, as a lens with that focal length and
    straight lines would see them."""
    normals = []
    for one in founds:
        focal = focal_mm * one.width_px / width_mm
        matrix = matrix_of(focal, np.array([one.width_px, one.height_px]) / 2.0)
        points, seen = _points(one, 100.0), np.asarray(one.places, np.float64)
        good, turn, _ = cv2.solvePnP(points, seen, matrix, np.zeros(5), flags=cv2.SOLVEPNP_IPPE)
        if good:
            turned: Any = cv2.Rodrigues(turn)[0]
            normals.append(turned[:, 2])
    if len(normals) < 2:
        return 0.0
    alike = np.abs(np.array(normals) @ np.array(normals).T)
    return math.degrees(math.acos(min(float(alike.min()), 1.0)))


def _points(found: Found, ruler_mm: float) -> Array:
    flat = paper.from_foot_m(paper.corners_mm()[list(found.corners)], found.paper, ruler_mm)
    return np.column_stack([flat[:, 0], -flat[:, 1], np.zeros(len(flat))])


_GRID = paper.from_foot_m(paper.corners_mm(), "A4")
_MIDDLE = np.array([0.0, -float(_GRID[:, 1].mean()), 0.0])


def _fitted(
    founds: Sequence[Found], keep: Sequence[int], width_mm: float, focal_mm: float, ruler_mm: float
) -> _Fit:
    chosen = [founds[n] for n in keep]
    wide, high = chosen[0].width_px, chosen[0].height_px
    per_mm = wide / width_mm
    start = matrix_of(focal_mm * per_mm, np.array([wide, high]) / 2.0)
    flags = (
        cv2.CALIB_USE_INTRINSIC_GUESS
        | cv2.CALIB_FIX_ASPECT_RATIO
        | cv2.CALIB_ZERO_TANGENT_DIST
        | cv2.CALIB_FIX_K3
    )
    long = focal_mm > LONG * width_mm
    if long:
        flags |= cv2.CALIB_FIX_K2 | cv2.CALIB_FIX_PRINCIPAL_POINT
    points = [_points(one, ruler_mm).astype(np.float32) for one in chosen]
    seen = [np.asarray(one.places, np.float32) for one in chosen]
    try:
        rms, matrix, bent, turns, places, off, _, each = cv2.calibrateCameraExtended(
            points, seen, (wide, high), start, np.zeros(5), flags=flags
        )
    except cv2.error as error:
        raise Impossible(
            "no lens sees these boards so: is the sensor's width right?", "sensor_width_mm"
        ) from error
    focal_px = float(matrix[0, 0])
    if not (math.isfinite(rms) and 0.1 < focal_px / per_mm / focal_mm < 10.0):
        raise Impossible(
            "no lens near that mark sees these boards so: is the sensor's width right?",
            "sensor_width_mm",
        )
    # OpenCV goes by the scatter; of few corners that are found well it is too small.
    wider = NINE_OF_TEN * max(LEAST_PX / max(float(rms), 1e-9), 1.0)
    spread = np.nan_to_num(off.ravel()) * wider
    k1, k2 = float(bent.ravel()[0]), float(bent.ravel()[1])
    middle = float(matrix[0, 2]), float(matrix[1, 2])
    lens = LensSeen(
        pinhole_mm=focal_px / per_mm,
        # With one scale for both ways the first of them says nothing.
        pinhole_off=float(max(spread[0], spread[1])) / per_mm,
        k1=k1,
        k2=k2,
        right_mm=(middle[0] - wide / 2.0) / per_mm,
        down_mm=(middle[1] - high / 2.0) / per_mm,
        middle_off=0.0 if long else float(max(spread[2], spread[3])) / per_mm,
        rms_px=float(rms),
        reach=0.0,
        sensor_width_mm=width_mm,
        width_px=wide,
        height_px=high,
        stills=(),
    )
    pairs = [
        (np.asarray(turn, np.float64), np.asarray(place, np.float64))
        for turn, place in zip(turns, places, strict=True)
    ]
    return _Fit(lens, middle, [float(x) for x in each.ravel()], pairs)


def _reach(found: Found, middle: tuple[float, float]) -> float:
    half = math.hypot(found.width_px, found.height_px) / 2.0
    away = np.asarray(found.places) - np.array(middle)
    return float(np.linalg.norm(away, axis=1).max()) / half
