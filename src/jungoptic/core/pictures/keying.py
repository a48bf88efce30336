"""A matte from the colour or the brightness of what stands behind the action."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

import cv2
import numpy as np
from numpy.typing import ArrayLike

from ..camera import Array
from ..impossible import Impossible
from .tone import Flags, Picture, as_picture, brightest, luma, to_light

#: Which colour of light a cloth is told by, and the two it is told against.
SIDES: dict[str, tuple[int, int, int]] = {
    "green": (1, 0, 2),
    "blue": (2, 0, 1),
    "red": (0, 1, 2),
}
#: Told by brightness: what is as bright as the wall goes, or what is as dark as the cloth.
BRIGHT = frozenset({"white", "sky"})
COLOURS = (*SIDES, *sorted(BRIGHT), "black")
#: A cloth gives at least this much more of its colour than of the others, a part of full scale.
LEAST = 0.02
#: Cloth is at least so much as pure as its brightest part, however dark, down to this part of it; a
#: wall is no darker than that part of its brightest (judgement).
PURE, DARKEST, WALL = 0.75, 0.04, 0.45
#: What has less of a colour of its own, as a part of that, is grey with a tint and no cloth.
LEAST_PURE = 0.25
#: What is within this part of the cloth is cloth, and within this of solid is solid: grain.
CLOTH, SOLID = 0.06, 0.05
#: A wall goes from its own brightness down to this part of it.
DARKER = 0.55
#: Over a black cloth, light of this part of full scale is solid.
SHINES = 0.18
#: The cloth's evenness is worked out at every so many pixels.
SPARSE = 8
#: Points that the cloth's evenness is fitted to.
POINTS = 4000


def matte(picture: ArrayLike, colour: str = "green", linear: bool = False) -> Picture:
    """How much of each pixel (h, w) to keep, 0..1, of a picture (h, w, 3) as recorded, or of light
    where `linear`. `colour` of what stands behind: green, blue, red by the difference of colours,
    white or sky by brightness (bright things in front get holes), black keeps what shines.

    Where there is nothing of such a cloth everything is kept.

    Raises Impossible for another colour.

    Source: the difference of colours of Vlahos (US patent 3,158,477 of 1964), in linear light, over
    the cloth's own, which is fitted by a cubic surface, so that uneven light leaves no veil.
    """
    light = _light(picture, colour, linear)
    if colour == "black":
        return _over_black(light)
    signal = _signal(light, colour)
    bare = _cloth(signal, light, colour)
    if bare is None:
        return np.ones(signal.shape, dtype=np.float32)
    floor = 0.0 if colour in SIDES else DARKER
    left = (signal / bare - floor) / (1.0 - floor)
    return _stretched(1.0 - left)


def cloth(picture: ArrayLike, colour: str = "green", linear: bool = False) -> Flags:
    """Where (h, w) a picture, given as to `matte`, surely shows the cloth itself: nowhere where
    there is none, and of a black one what is as dark as most of it. Raises Impossible for another
    colour."""
    light = _light(picture, colour, linear)
    if colour == "black":
        dark: Flags = _over_black(light) <= 0.0
        return dark
    return _surely(_signal(light, colour), light, colour)


def _light(picture: ArrayLike, colour: str, linear: bool) -> Picture:
    if colour not in COLOURS:
        raise Impossible(f"colour must be one of {', '.join(COLOURS)}.", "colour")
    shown = as_picture("picture", picture)
    return np.clip(shown if linear else to_light(shown), 0.0, None)


def _signal(light: Picture, colour: str) -> Picture:
    """What a cloth has much of: its own colour, or light."""
    return _difference(light, colour) if colour in SIDES else luma(light)


def _difference(light: Picture, colour: str) -> Picture:
    own, one, two = SIDES[colour]
    found: Picture = light[..., own] - np.maximum(light[..., one], light[..., two])
    return found


def _over_black(light: Picture) -> Picture:
    bright = brightest(light)
    floor = float(np.percentile(bright, 10.0)) * 2.0
    if floor > SHINES / 2.0:
        return np.ones(bright.shape, dtype=np.float32)
    found: Picture = np.clip((bright - floor) / (SHINES - floor), 0.0, 1.0).astype(np.float32)
    return found


def _stretched(keep: Picture) -> Picture:
    """What is nearly cloth made cloth, and what is nearly solid solid."""
    found: Picture = np.clip((keep - CLOTH) / (1.0 - CLOTH - SOLID), 0.0, 1.0).astype(np.float32)
    return found


def _cloth(signal: Picture, light: Picture, colour: str) -> Picture | None:
    """What the signal would be everywhere if nothing stood before the cloth (h, w); None where
    there is no such cloth."""
    surely = _surely(signal, light, colour)
    if surely.sum() < 16:
        return None
    rows, columns = np.nonzero(surely)
    some = np.linspace(0, len(rows) - 1, min(len(rows), POINTS)).astype(int)
    rows, columns = rows[some], columns[some]
    logs = np.log(signal[rows, columns].astype(np.float64))
    high, wide = signal.shape
    surface = _surface(columns / wide - 0.5, rows / high - 0.5, logs)
    # So smooth a surface is worked out at one place in many.
    down, across = max(round(high / SPARSE), 2), max(round(wide / SPARSE), 2)
    y, x = np.mgrid[0:down, 0:across] + 0.5
    fitted = surface(x.ravel() / across - 0.5, y.ravel() / down - 0.5).reshape(down, across)
    # Beyond the cloth a cubic may run away: no farther than what was seen.
    low, most = float(logs.min()) - 0.1, float(logs.max()) + 0.1
    few = np.exp(np.clip(fitted, low, most)).astype(np.float32)
    return cast(Picture, cv2.resize(few, (wide, high), interpolation=cv2.INTER_LINEAR))


def _surely(signal: Picture, light: Picture, colour: str) -> Flags:
    """Where it is surely the cloth: what is as purely of its colour as what has most of it, however
    dark its corners are; of a wall, what is not much darker than its brightest part."""
    strong = signal > (LEAST if colour in SIDES else 0.1)
    if strong.sum() < 16:
        return np.zeros(signal.shape, dtype=bool)
    top = float(np.percentile(signal[strong], 90.0))
    if colour in SIDES:
        pure = signal / np.maximum(light[..., SIDES[colour][0]], 1e-6)
        usual = float(np.median(pure[signal > 0.5 * top]))
        if usual < LEAST_PURE:
            return np.zeros(signal.shape, dtype=bool)
        found: Flags = (pure > PURE * usual) & (signal > DARKEST * top)
        return found
    found = signal > WALL * top
    if colour == "white":
        found &= light.max(axis=2) - light.min(axis=2) < 0.2 * light.max(axis=2)
    return found


def _surface(x: Array, y: Array, values: Array) -> Callable[[Array, Array], Array]:
    """A cubic surface through most of the values: what lies far from it is left out, step by
    step."""
    degree = 3 if len(values) > 200 else 0

    def powers(a: Array, b: Array) -> Array:
        return np.stack(
            [a**i * b**j for i in range(degree + 1) for j in range(degree + 1 - i)], axis=1
        )

    keep = np.ones(len(values), dtype=bool)
    terms = powers(x, y)
    weights: Array = np.zeros(terms.shape[1])
    for _ in range(6):
        weights = np.asarray(np.linalg.lstsq(terms[keep], values[keep], rcond=None)[0])
        away = values - terms @ weights
        spread = 1.4826 * float(np.median(np.abs(away[keep]))) + 1e-3
        # What stands before the cloth only takes away: less is left out sooner than more.
        keep = (away > -2.0 * spread) & (away < 3.0 * spread)
        if keep.sum() < 4 * terms.shape[1]:
            break
    return lambda a, b: powers(a, b) @ weights
