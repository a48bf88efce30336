"""A picture fitted into another: shrunk, moved, turned and mirrored by an affine map, and cut."""

from __future__ import annotations

import cv2
import numpy as np

from ..camera import Array
from .tone import Picture


def fitted(recorded: Picture, place: Array, width: int, height: int) -> tuple[Picture, Picture]:
    """A recording (h, w, 3) as it lies in a picture of `width` x `height`, and where that has
    anything of it, 0..1. `place` (2, 3): where each of its pixels lies in the recording."""
    step = float(np.sqrt(abs(np.linalg.det(place[:, :2]))))
    if step > 1.0:
        # Shrunk first, by what lies under each pixel: taking one in many would shimmer.
        high, wide = recorded.shape[:2]
        size = max(round(wide / step), 2), max(round(high / step), 2)
        across, down = size[0] / wide, size[1] / high
        recorded = np.asarray(cv2.resize(recorded, size, interpolation=cv2.INTER_AREA), np.float32)
        shrink = np.array([[across, 0, across / 2 - 0.5], [0, down, down / 2 - 0.5], [0, 0, 1.0]])
        place = (shrink @ np.vstack([place, [0.0, 0.0, 1.0]]))[:2]
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    ones = np.ones(recorded.shape[:2], np.float32)
    there = cv2.warpAffine(ones, place, (width, height), flags=flags)
    shown = cv2.warpAffine(
        recorded, place, (width, height), flags=flags, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(shown, np.float32), np.asarray(there, np.float32)


def cut(picture: Picture, box: tuple[float, ...] | None) -> Picture:
    """What lies within left, top, right and bottom, parts of a picture (h, w, 3), as large as that;
    the picture as it is for None."""
    if box is None:
        return picture
    left, top, right, bottom = box
    high, wide = picture.shape[:2]
    across, down = right - left, bottom - top
    place = np.array(
        [
            [across, 0.0, left * wide + across / 2.0 - 0.5],
            [0.0, down, top * high + down / 2.0 - 0.5],
        ]
    )
    return fitted(picture, place, wide, high)[0]
