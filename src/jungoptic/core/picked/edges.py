"""How the camera of a picture was held, by straight edges that were traced in it: for a picture
that nobody took notes of."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..board.seen import NINE_OF_TEN
from ..camera import Camera
from ..impossible import Impossible
from ..pictures.lines import FULL_FRAME_MM, camera
from .seen import DIRECTIONS, ByEdges, Edge, Upright

Array = NDArray[np.float64]
#: A foot must lie this far below the horizon to say how high the lens was, as a slope.
BELOW = 1e-3


def by_edges(
    edges: Sequence[Edge], uprights: Sequence[Upright], width_px: int, height_px: int
) -> ByEdges:
    """What edges and things of known height say of a camera, in a picture so large that was not cut
    off at one side more than at the other. Raises Impossible for edges that agree on no camera,
    for two directions with fewer than two edges each, and for things whose foot is not below the
    horizon.

    Source: `pictures.lines`; heights by Criminisi, Reid and Zisserman 2000, Single View Metrology.
    """
    size = np.array([width_px, height_px])
    rows = [
        [((e.x1, e.y1) * size, (e.x2, e.y2) * size) for e in edges if e.direction == one]
        for one in DIRECTIONS
    ]
    found = camera([np.array(one) for one in rows], width_px, height_px)
    seen, sure = found.camera, found.sigma
    heights = [height_by(seen, one, width_px, height_px) for one in uprights]
    middle = float(np.median(heights)) if heights else None
    return ByEdges(
        focal_widths=seen.focal_mm / FULL_FRAME_MM,
        focal_off=NINE_OF_TEN * sure.focal_mm / FULL_FRAME_MM,
        pan_deg=seen.pan_deg,
        tilt_deg=seen.tilt_deg,
        roll_deg=seen.roll_deg,
        pan_off=NINE_OF_TEN * sure.pan_deg,
        tilt_off=NINE_OF_TEN * sure.tilt_deg,
        roll_off=NINE_OF_TEN * sure.roll_deg,
        height_m=middle,
        height_off=0.0 if middle is None else max(abs(h - middle) for h in heights),
        rms_px=found.rms_px,
        horizon=horizon_of(seen),
    )


def _rays(seen: Camera, places: Array, width_px: int, height_px: int) -> Array:
    """Directions (n, 3) in the world that a camera sees at places (n, 2) of its picture, parts."""
    slopes = seen.slopes_px(width_px, height_px)
    flat = (places - 0.5) * np.array([width_px, height_px]) / slopes
    rays: Array = np.column_stack([flat, np.ones(len(flat))]) @ seen.axes
    return rays


def height_by(seen: Camera, upright: Upright, width_px: int, height_px: int) -> float:
    """How high above the ground a camera is that sees something of known height so, metres. Raises
    Impossible for a foot that is not below the horizon, or a top below its foot."""
    ends = np.array([(upright.foot_x, upright.foot_y), (upright.top_x, upright.top_y)])
    rays = _rays(seen, ends, width_px, height_px)
    slopes = rays[:, 2] / np.maximum(np.hypot(rays[:, 0], rays[:, 1]), 1e-12)
    foot, top = (float(s) for s in slopes)
    if foot > -BELOW:
        raise Impossible(
            "the foot of what you know the height of must lie below the horizon, on the ground.",
            "uprights",
        )
    if top <= foot + 1e-9:
        raise Impossible("its top must lie above its foot.", "uprights")
    return upright.height_m * -foot / (top - foot)


def horizon_of(seen: Camera) -> tuple[float, float]:
    """How far down the picture its horizon lies at its left and at its right, parts of its height
    (beyond it where the camera looks steeply). Raises Impossible for a camera that looks straight
    up or down."""
    right, down, ahead = seen.axes[:, 2]
    if abs(down) < 1e-6:
        raise Impossible("this camera looks straight up or down: no horizon.", "edges")
    high = seen.sensor_height_mm / seen.sensor_width_mm
    focal = seen.focal_mm / seen.sensor_width_mm

    def at(x: float) -> float:
        return float(-(right * (x - 0.5) + ahead * focal) / down / high + 0.5)

    found = at(0.0), at(1.0)
    if not all(math.isfinite(one) and abs(one) < 1e6 for one in found):
        raise Impossible("this camera looks straight up or down: no horizon.", "edges")
    return found
