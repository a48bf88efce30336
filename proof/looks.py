"""Instruments: what is read off pictures, by nothing but their pixels."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from jungoptic.render.engine import Part, Stage
from jungoptic.render.scene import Eye, Pose, Scene, Shining, Solid
from jungoptic.render.shapes import ball, quad

Array = NDArray[np.float64]
#: A meter's card is white all through, so that what it gives back is what falls on it.
WHITE = (1.0, 1.0, 1.0)


def look(
    scene: Scene,
    width: int,
    height: int,
    bounces: int,
    samples: int,
    seed: int = 0,
    part: Part | None = None,
) -> NDArray[np.float32]:
    """The light (h, w, 3) of a scene in one pass; `samples` is best a square number."""
    stage = Stage(scene, width, height, bounces, part, aside=False)
    return stage.seen(samples, seed, passes=1).light


@dataclass(frozen=True)
class Spot:
    """A point of light in a picture: its middle in pixels from the top left corner, and the
    variance of its light about that, across and down (pixels squared)."""

    x_px: float
    y_px: float
    across: float
    down: float


def spot_of(
    eye: Eye,
    at: Array,
    near_px: tuple[float, float],
    width: int,
    radius_px: float = 3.0,
    reach: int = 12,
    samples: int = 324,
    seed: int = 0,
) -> Spot | None:
    """A dot at `at`, looked for near a pixel of a picture `width` wide; None where it is not seen.
    The spread of the dot itself and of the pixels is taken out; a dot much smaller than this is
    lost in the engine's single precision."""
    height = round(width * eye.sensor_mm[1] / eye.sensor_mm[0])
    left, top = int(near_px[0]) - reach, int(near_px[1]) - reach
    if left < 0 or top < 0 or left + 2 * reach > width or top + 2 * reach > height:
        return None
    depth = float((at - np.asarray(eye.pose.at_m)) @ eye.pose.axes[2])
    pixel_m = depth * eye.sensor_mm[0] / eye.picture_mm / width
    dot = Shining("dot", *ball(at, (1e-9,) * 3), WHITE, radius_m=radius_px * pixel_m)
    scene = Scene((), (dot,), eye)
    part = (left, top, 2 * reach, 2 * reach)
    light = look(scene, width, height, 0, samples, seed, part)[..., 0]
    return read_spot(light.astype(np.float64), left, top, radius_px)


def read_spot(light: Array, left: int, top: int, radius_px: float = 0.0) -> Spot | None:
    """The middle and the spread of the light (h, w) in a part of a picture."""
    total = float(light.sum())
    if total <= 0.0:
        return None
    y, x = np.mgrid[0 : light.shape[0], 0 : light.shape[1]] + 0.5
    mx, my = float((light * x).sum()) / total, float((light * y).sum()) / total
    own = 1.0 / 12.0 + radius_px**2 / 4.0
    across = float((light * (x - mx) ** 2).sum()) / total - own
    down = float((light * (y - my) ** 2).sum()) / total - own
    return Spot(left + mx, top + my, across, down)


def disc_px(spot: Spot) -> float:
    """The width of an even disc with that spread: its variance is a sixteenth of its square."""
    return math.sqrt(max(8.0 * (spot.across + spot.down), 0.0))


def facing_eye(at: Array, towards: Array, away_m: float, wide_m: float) -> Eye:
    """A pinhole `away_m` before a place, that sees `wide_m` of it, square on."""
    t = towards / np.linalg.norm(towards)
    pan = math.degrees(math.atan2(-t[0], -t[1]))
    tilt = math.degrees(math.asin(min(max(-t[2], -1.0), 1.0)))
    x, y, z = (float(v) for v in at + t * away_m)
    pose = Pose((x, y, z), pan, tilt)
    return Eye(pose, pose, (wide_m, wide_m), away_m)


def card(at: Array, towards: Array, wide_m: float) -> Solid:
    """A square white card that faces a way."""
    n = towards / np.linalg.norm(towards)
    side = np.cross(n, (0.0, 0.0, 1.0))
    length = float(np.linalg.norm(side))
    side = side / length if length > 1e-9 else np.array([1.0, 0.0, 0.0])
    up = np.cross(side, n)
    corners = [
        at + wide_m / 2.0 * (a * side + b * up) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    ]
    return Solid("card", *quad(*corners), WHITE)


def lux(
    scene: Scene, at: Array, towards: Array, bounces: int = 1, seed: int = 0, wide_m: float = 0.01
) -> float:
    """What a flat meter at a place reads that faces `towards`: the light that a white card gives
    back there, times pi."""
    eye = facing_eye(at, towards, wide_m * 2.0, wide_m / 2.0)
    looked = replace(scene, solids=(*scene.solids, card(at, towards, wide_m)), eye=eye)
    return math.pi * float(look(looked, 6, 6, bounces, 4096, seed).mean(axis=(0, 1)) @ LUMA)


LUMA = np.array([0.2126, 0.7152, 0.0722])


def brightness(light: NDArray[np.float32]) -> Array:
    """Of a picture (h, w, 3), its luminance (h, w)."""
    found: Array = light.astype(np.float64) @ LUMA
    return found
