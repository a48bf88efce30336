"""Haze: what is far away fades into the light of the air."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .scene import Rgb

#: What is left of a contrast at the distance that is called the visibility (meteorology's older
#: convention; Koschmieder's law).
LEFT = 0.02


def hazed(
    light: NDArray[np.float32], depth_m: NDArray[np.float32], visibility_m: float, air: Rgb
) -> NDArray[np.float32]:
    """Radiance (h, w, 3) seen through haze that lets a contrast of 2 % be told at `visibility_m`,
    with the light `air` of the air itself. Where nothing is, there is only air."""
    far = np.where(depth_m > 0.0, depth_m, np.inf)[..., None]
    kept = np.exp(far * math.log(LEFT) / visibility_m)
    found = light * kept + np.asarray(air) * (1.0 - kept)
    return found.astype(np.float32)
