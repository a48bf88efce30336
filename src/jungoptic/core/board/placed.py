"""Where a board has to be for a camera to see it whole, and large enough to be measured."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..camera import Camera
from . import paper
from .number import TIMES, Paper
from .seen import WAYS, WELL_PX_PER_MM, Way

#: At least this part of the picture is left free round a board.
FREE = 0.03
#: A board that is looked at under a slant needs this many pixels a millimetre times the sine of
#: that angle (tried).
SLANTED_PX_PER_MM = 0.42
SIZES: tuple[Paper, ...] = ("A4", "A3")
#: Finely near the ground, where miniatures are, and by steps that a box can be found for above.
_HEIGHTS_M = [mm / 1000.0 for mm in (*range(20, 200, 20), *range(200, 2001, 50))]


@dataclass(frozen=True)
class Placed:
    """A board on its mark: how, on which paper, its lower edge so far above the stage's ground, and
    how many pixels of the recording a millimetre of it comes to."""

    way: Way
    paper: Paper
    up_m: float
    px_per_mm: float

    @property
    def fineness(self) -> float:
        """Pixels to a millimetre of an A4 sheet in its place."""
        return self.px_per_mm * TIMES[self.paper]


def corners_of(size: Paper, way: Way, up_m: float = 0.0) -> NDArray[np.float64]:
    """The four corners (4, 3) of the sheet, metres from the mark."""
    return laid(paper.from_foot_m(paper.ENDS_MM, size), way, up_m)


def laid(flat: NDArray[np.float64], way: Way, up_m: float = 0.0) -> NDArray[np.float64]:
    """Places on the sheet (n, 2), from the middle of its lower edge, as (n, 3) metres from the
    mark: on the floor the paper's own up is away from the camera, on its edge it is up."""
    nothing = np.zeros(len(flat))
    if way == "lying":
        return np.column_stack([flat[:, 0], flat[:, 1], nothing + up_m])
    return np.column_stack([flat[:, 0], nothing, flat[:, 1] + up_m])


def place(camera: Camera, width_px: int, height_px: int) -> Placed | None:
    """How to put a board on the mark (the origin of the `camera`'s metres) so that it is seen
    whole: on the floor if that will do, flat or upright as it is seen squarer, else upright on
    something, as low as it can be; the smaller paper where it is large enough in the picture. None
    where it cannot be seen whole on the mark at all."""

    def seen(size: Paper, way: Way, up_m: float) -> Placed | None:
        return _seen(camera, width_px, height_px, size, way, up_m)

    for size in SIZES:
        floor = [one for way in WAYS if (one := seen(size, way, 0.0)) and _well(camera, one)]
        if floor:
            return max(floor, key=lambda one: _square(camera, one))
    rough: Placed | None = None
    for up_m in (0.0, *_HEIGHTS_M):
        for size in SIZES:
            found = seen(size, "standing", up_m)
            if found is None:
                continue
            if _well(camera, found):
                return found
            if rough is None or _better(found, rough):
                rough = found
    return rough


def _better(found: Placed, than: Placed) -> bool:
    return found.fineness > 1.01 * than.fineness


def _seen(
    camera: Camera, wide: int, high: int, size: Paper, way: Way, up_m: float
) -> Placed | None:
    ends = camera.project(corners_of(size, way, up_m), wide, high)
    free = np.array([FREE * wide, FREE * high])
    if not np.isfinite(ends).all() or (ends < free).any() or (ends > (wide, high) - free).any():
        return None
    middle = corners_of(size, way, up_m).mean(axis=0)
    away = math.dist(camera.position_m, middle)
    return Placed(way, size, up_m, camera.focal_px(wide) / away / 1000.0)


def _square(camera: Camera, found: Placed) -> float:
    """The sine of the angle that it is looked at under."""
    away = np.asarray(camera.position_m) - np.array([0.0, 0.0, found.up_m])
    across = away[2] if found.way == "lying" else away[1]
    return abs(float(across)) / float(np.linalg.norm(away))


def _well(camera: Camera, found: Placed) -> bool:
    slanted = found.fineness * _square(camera, found)
    return found.fineness >= WELL_PX_PER_MM and slanted >= SLANTED_PX_PER_MM
