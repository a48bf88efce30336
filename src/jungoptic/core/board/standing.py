"""Where the camera stood by a board that it saw."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..impossible import Impossible
from ..pictures.bend import Bend
from ..pictures.resect import Resection, camera
from . import paper
from .placed import laid
from .seen import NINE_OF_TEN, Found, Stood, Way

Array = NDArray[np.float64]
#: Fewer pixels to a millimetre of an A4 sheet say nothing of the focal length.
FOCAL_PX_PER_MM = 1.0


def stood(
    found: Found,
    way: Way,
    sensor_width_mm: float,
    focal_mm: float,
    bend: Bend | None = None,
) -> tuple[Stood, float] | None:
    """(where the camera stood by a board that was so, the root mean square of what its corners are
    off in the picture), `focal_mm` being the pinhole distance and `bend` how its lens bends lines,
    where that was measured. None where the camera would have stood below the floor, or no camera
    sees a board so. Raises Impossible for numbers that none are."""
    try:
        seen = _resected(found, way, sensor_width_mm, focal_mm, bend)
    except Impossible as error:
        if error.field in ("pixels", "points_m"):
            return None
        raise
    if seen.camera.position_m[2] <= 0.0:
        return None
    return stood_of(seen), seen.rms_px


def stood_of(seen: Resection) -> Stood:
    """Where a camera stood that was found by places told from the mark, z up from the ground."""
    x, y, z = seen.camera.position_m
    away = math.hypot(x, y)
    # Along the level line from the mark to the pupil: the place is least sure along it.
    along = np.zeros(len(seen.covariance))
    along[:2] = (x / away, y / away) if away > 0.0 else (1.0, 0.0)
    spread = np.asarray(seen.covariance)
    distance_off = math.sqrt(max(float(along @ spread @ along), 0.0))
    sure = seen.sigma
    return Stood(
        height_m=z,
        distance_m=away,
        tilt_deg=seen.camera.tilt_deg,
        roll_deg=seen.camera.roll_deg,
        aside_m=x,
        height_off=NINE_OF_TEN * sure.position_m[2],
        distance_off=NINE_OF_TEN * distance_off,
        tilt_off=NINE_OF_TEN * sure.tilt_deg,
        roll_off=NINE_OF_TEN * sure.roll_deg,
    )


def focal_of(found: Found, sensor_width_mm: float) -> tuple[float, float] | None:
    """(pinhole distance in millimetres, how much of it holds nine errors of ten) by the board
    alone; None where it is too small in the picture, or too square to the lens, to tell."""
    if found.fineness < FOCAL_PX_PER_MM:
        return None
    try:
        seen = _resected(found, "lying", sensor_width_mm, None, None)
    except Impossible:
        return None
    if seen.focal_unsure:
        return None
    return seen.camera.focal_mm, NINE_OF_TEN * seen.sigma.focal_mm


def _resected(
    found: Found,
    way: Way,
    sensor_width_mm: float,
    focal_mm: float | None,
    bend: Bend | None,
) -> Resection:
    flat = paper.from_foot_m(paper.corners_mm()[list(found.corners)], found.paper)
    away = 0.0 if bend is None else bend.away_px(found.width_px)
    return camera(
        laid(flat, way),
        np.asarray(found.places) - away,
        found.width_px,
        found.height_px,
        sensor_width_mm,
        focal_mm,
        None if bend is None else (bend.k1, bend.k2, 0.0, 0.0),
    )
