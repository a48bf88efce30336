"""What a lens has bent, made straight: as a pinhole would have shown it."""

from __future__ import annotations

from functools import lru_cache
from typing import Any, cast

import cv2
import numpy as np

from .bend import Bend, bent
from .tone import Picture


def straight(picture: Picture, bend: Bend) -> Picture:
    """A picture (h, w) or (h, w, 3) of all that the sensor shows, made straight, as large; what the
    lens did not show is the nearest that it did."""
    high, wide = picture.shape[:2]
    across, down = _maps(bend, wide, high)
    laid: Any = cv2.remap(picture, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return cast(Picture, laid)


@lru_cache(maxsize=8)
def _maps(bend: Bend, wide: int, high: int) -> tuple[Picture, Picture]:
    # Pixels count from the picture's corner here, from the middle of the first one in OpenCV.
    x, y = np.meshgrid(np.arange(wide) + 0.5, np.arange(high) + 0.5)
    there = bent(np.stack([x, y], axis=-1), bend, wide, high) - 0.5
    return (
        np.ascontiguousarray(there[..., 0], np.float32),
        np.ascontiguousarray(there[..., 1], np.float32),
    )
