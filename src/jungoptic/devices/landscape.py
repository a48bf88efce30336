"""Land that is far beyond all that was planned: a town along the horizon, under clouds. It turns
with the camera and comes no nearer, so that pictures taken along a path hang together."""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np

from jungoptic.core.camera import Camera
from jungoptic.core.stage.coverage import rays

from .raster import Picture

#: It is drawn once over these angles, degrees, so finely; what looks farther sees it mirrored.
AROUND, BELOW, ABOVE, FINE = 100.0, 6.0, 50.0, 0.05
#: How wide and high its houses are, degrees, and how bright they, sky and water, as recorded.
WIDE, HIGH, HOUSES = (0.5, 2.4), (0.3, 2.6), (0.16, 0.36)
SKY, ZENITH, WATER = 0.62, 0.4, 0.2
#: Clouds: how large, degrees, and how much they change the sky.
CLOUDS, CLOUDED = (9.0, 3.0), 0.07


def landscape(camera: Camera, width: int, height: int, seed: int = 0) -> Picture:
    """What a camera sees of it, (h, w, 3), 0..1 as recorded."""
    x, y = np.meshgrid(np.arange(width) + 0.5, np.arange(height) + 0.5)
    pixels = np.stack([x.ravel(), y.ravel()], axis=1)
    right, ahead, up = rays(camera, pixels, float(width), float(height)).T
    bearing = np.degrees(np.arctan2(right, ahead))
    rise = np.degrees(np.arctan2(up, np.hypot(right, ahead)))
    across, down = (bearing + AROUND) / FINE, (ABOVE - rise) / FINE
    seen = cv2.remap(
        _painted(seed),
        across.reshape(height, width).astype(np.float32),
        down.reshape(height, width).astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REFLECT,
    )
    found: Picture = np.repeat(seen[..., None], 3, axis=2)
    return found


@lru_cache(maxsize=1)
def _painted(seed: int) -> Picture:
    """All of it, (angles up, angles around)."""
    dice = np.random.default_rng(seed)
    wide, high = round(2.0 * AROUND / FINE), round((ABOVE + BELOW) / FINE)
    rise = (ABOVE - (np.arange(high) + 0.5) * FINE)[:, None]
    sky = SKY + (ZENITH - SKY) * np.clip(rise / ABOVE, 0.0, 1.0)
    coarse = dice.standard_normal((round(high * FINE / CLOUDS[1]), round(wide * FINE / CLOUDS[0])))
    clouds = cv2.resize(coarse.astype(np.float32), (wide, high), interpolation=cv2.INTER_CUBIC)
    found: Picture = (np.where(rise > 0.0, sky, WATER) + CLOUDED * clouds * (rise > 0.0)).astype(
        np.float32
    )
    left, ground = 0.0, round(ABOVE / FINE)
    while left < wide:
        right = left + float(dice.uniform(*WIDE)) / FINE
        top = ground - float(dice.uniform(*HIGH)) / FINE
        found[round(top) : ground, round(left) : round(right)] = dice.uniform(*HOUSES)
        left = right
    return found
