"""A made picture of hair over a screen, and what recordings leave of the matte pulled from it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..camera import Array
from ..plan.plate import ScreenColour
from .codecs import CHROMA_STEP
from .colours import LUMA, SCREENS, ycbcr

WIDTH, HEIGHT = 240, 160
#: The picture is drawn this much finer, then averaged: hair thinner than a pixel.
FINER = 4
HAIR_RGB = (92.0, 60.0, 40.0)
SKIN_RGB = (205.0, 160.0, 135.0)
#: Narrow-range offsets and spans in parts of full scale (ITU-R BT.709).
Y_LOW, Y_SPAN, C_SPAN = 16 / 256, 219 / 256, 224 / 256


@dataclass(frozen=True)
class Example:
    """Arrays (HEIGHT, WIDTH): the picture as recorded (.., 3) in 0..255, the matte pulled from it
    and the true one, both 0..1; `error` is their root mean square difference along the edge."""

    picture: Array
    matte: Array
    truth: Array
    error: float


@lru_cache(maxsize=8)
def hair_over(screen: ScreenColour, finer: int = 1) -> tuple[Array, Array]:
    """(picture (h, w, 3) 0..255, true coverage (h, w) 0..1): a head with strands against a screen,
    drawn from a fixed seed, `finer` (1, 2 or 4) times as fine as it is delivered."""
    high, wide = HEIGHT * FINER, WIDTH * FINER
    rng = np.random.default_rng(52)
    ys, xs = np.mgrid[0:high, 0:wide].astype(np.float64)
    head = ((xs - 0.3 * wide) / (0.19 * wide)) ** 2 + ((ys - 0.62 * high) / (0.42 * high)) ** 2
    cover = (head < 1.0).astype(np.float64)
    skin = ((xs - 0.27 * wide) / (0.13 * wide)) ** 2 + ((ys - 0.72 * high) / (0.3 * high)) ** 2
    along = np.linspace(0.0, 1.0, 260)
    for _ in range(110):
        start = rng.uniform(-1.9, 0.9)
        x0 = 0.3 * wide + 0.18 * wide * math.cos(start)
        y0 = 0.62 * high + 0.4 * high * math.sin(start)
        length = rng.uniform(0.12, 0.5) * wide
        bend, droop = rng.normal(0.0, 0.5), rng.uniform(0.0, 0.5)
        turn = start + bend * along
        px = x0 + length * along * np.cos(turn)
        py = y0 + length * along * np.sin(turn) + droop * length * along**2
        thick = rng.uniform(0.8, 3.4)
        for x, y, part in zip(px, py, along, strict=True):
            radius = thick * (1.0 - 0.7 * part) / 2.0 + 0.5
            x1, x2 = int(x - radius), math.ceil(x + radius)
            y1, y2 = int(y - radius), math.ceil(y + radius)
            if x1 < 0 or y1 < 0 or x2 >= wide or y2 >= high:
                break
            cover[y1:y2, x1:x2] = 1.0
    back = np.array(SCREENS[screen], dtype=np.float64)
    shade = 1.0 - 0.08 * (xs / wide)
    colour = np.where((skin < 1.0)[..., None], np.array(SKIN_RGB), np.array(HAIR_RGB))
    fine = cover[..., None] * colour + (1.0 - cover[..., None]) * back * shade[..., None]
    step = FINER // finer
    return _smaller(fine, step, step), _smaller(cover, step, step)


def _smaller(picture: Array, across: int, down: int) -> Array:
    """Box average over blocks of (down, across)."""
    h, w = picture.shape[0] // down, picture.shape[1] // across
    blocks = picture[: h * down, : w * across].reshape(h, down, w, across, *picture.shape[2:])
    found: Array = blocks.mean(axis=(1, 3))
    return found


def _larger(plane: Array, across: int, down: int) -> Array:
    """Back to full size, straight lines between the samples that lie at the blocks' middles."""
    for axis, times in ((0, down), (1, across)):
        if times == 1:
            continue
        n = plane.shape[axis]
        at = np.clip((np.arange(n * times) + 0.5) / times - 0.5, 0.0, n - 1.0)
        low = np.minimum(np.floor(at).astype(int), max(n - 2, 0))
        part = at - low
        shape = [1, 1]
        shape[axis] = -1
        a, b = np.take(plane, low, axis=axis), np.take(plane, np.minimum(low + 1, n - 1), axis=axis)
        plane = a + (b - a) * part.reshape(shape)
    return plane


def subsampled(plane: Array, subsampling: str) -> Array:
    """A chroma plane as recorded and read back: block averages, straight lines between them."""
    across, down = CHROMA_STEP[subsampling]
    return _larger(_smaller(plane, across, down), across, down)


def _planes(picture: Array) -> tuple[Array, Array, Array]:
    return picture[..., 0], picture[..., 1], picture[..., 2]


def recorded(picture: Array, bit_depth: int, subsampling: str, noise: float = 0.0) -> Array:
    """R'G'B' 0..255 after Y'CbCr (BT.709), narrow range, `bit_depth` bits and subsampling. Without
    compression: what a codec takes comes on top. `noise`: of the sensor, in parts of full scale."""
    kr, kb = LUMA["709"]
    rgb = picture / 255.0
    if noise > 0.0:
        rgb = rgb + np.random.default_rng(7).normal(0.0, noise, rgb.shape)
    y, cb, cr = ycbcr(_planes(rgb * 255.0))
    steps = float(2**bit_depth)

    def coded(plane: Array, low: float, span: float) -> Array:
        codes: Array = np.round((low + plane * span) * steps) / steps
        return (codes - low) / span

    y = coded(y, Y_LOW, Y_SPAN)
    cb, cr = (coded(subsampled(p, subsampling), 0.5, C_SPAN) for p in (cb, cr))
    r = y + 2.0 * (1.0 - kr) * cr
    b = y + 2.0 * (1.0 - kb) * cb
    g = (y - kr * r - kb * b) / (1.0 - kr - kb)
    return np.clip(np.stack([r, g, b], axis=-1), 0.0, 1.0) * 255.0


def matte_of(picture: Array, screen: ScreenColour) -> Array:
    """Coverage 0..1 by colour difference: how much the screen's channel stands over the larger of
    the others, against a bare screen (Petro Vlahos's principle; Smith and Blinn 1996, Blue Screen
    Matting, from memory). For screens without a colour, by brightness."""
    back = np.array(SCREENS[screen], dtype=np.float64)
    channel = {"green": 1, "blue": 2, "red": 0}.get(screen)
    if channel is None:
        luma = ycbcr(_planes(picture))[0] * 255.0
        bare, other = float(ycbcr(SCREENS[screen])[0]) * 255.0, 70.0
        found: Array = np.clip((luma - bare) / (other - bare), 0.0, 1.0)
        return found
    others = [c for c in range(3) if c != channel]
    over = picture[..., channel] - np.maximum(picture[..., others[0]], picture[..., others[1]])
    bare = float(back[channel] - max(back[others[0]], back[others[1]])) * 0.96
    shown: Array = 1.0 - np.clip(over / bare, 0.0, 1.0)
    return shown


@lru_cache(maxsize=32)
def example(screen: ScreenColour, bit_depth: int, subsampling: str, finer: int = 1) -> Example:
    """The made picture recorded one way, `finer` times as wide as it is delivered, brought down to
    that, and the matte pulled from it."""
    picture, _ = hair_over(screen, finer)
    _, truth = hair_over(screen)
    kept = recorded(picture, bit_depth, subsampling, noise=0.004)
    if finer > 1:
        kept = _smaller(kept, finer, finer)
    matte = matte_of(kept, screen)
    # Where the truth is neither bare nor whole.
    edge = (truth > 0.02) & (truth < 0.98)
    error = float(np.sqrt(((matte - truth)[edge] ** 2).mean()))
    return Example(kept, matte, truth, error)
