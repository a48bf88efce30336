"""Two pictures that should be one: how far the second has shifted, turned and grown against the
first, and by how much its light and its colour have changed.

Take against clean plate, half against half, patch still against frame, a rebuilt set against its
reference. What stands in one of them only does not count: where the two are not alike nothing is
measured.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import cast

import cv2
import numpy as np
from numpy.typing import ArrayLike

from ..camera import Array
from ..impossible import Impossible
from ..matching import fit_similarity
from .laying import (
    FLAT,
    LEAST_COMMON,
    NOT_ALIKE,
    best,
    by_shift,
    compared_size,
    laid_over,
    refined,
    smaller,
)
from .tone import (
    CLIPPED,
    LUMA,
    Flags,
    Picture,
    as_flags,
    as_picture,
    brightest,
    luma,
    same_size,
    to_light,
)

#: Less than this, as recorded, is no change.
CALM = 2.0 / 255.0
#: Light at which a ratio of two pictures says something: a part of full scale.
DIM, BRIGHT = 0.01, 0.9


@dataclass(frozen=True)
class Alignment:
    """The second picture is the first, turned (`rotation_deg`, clockwise as one looks at it) and
    grown (`scale`) about the centre of the picture, and then moved by (`dx_px`, `dy_px`), right and
    down. `residual`: what is left between them where they were compared, root mean square, 0..1 as
    recorded, light evened out. `common`: the part of the picture that was compared."""

    dx_px: float
    dy_px: float
    rotation_deg: float
    scale: float
    residual: float
    common: float = 1.0


@dataclass(frozen=True)
class Exposure:
    """The second picture against the first: `stops` brighter, and `mired` warmer. `common`: the
    part of the picture that was compared."""

    stops: float
    mired: float
    common: float = 1.0


def between(a: ArrayLike, b: ArrayLike, mask: ArrayLike | None = None) -> Alignment:
    """How `b` lies against `a`: pictures (h, w, 3) as recorded, one size; `mask` (h, w) marks where
    of `a` to compare.

    Raises Impossible for pictures of two sizes, for a mask that marks nothing, and where nothing in
    the two is alike.

    Source: see `laying`.
    """
    first, second = as_picture("a", a), as_picture("b", b)
    same_size(first, second)
    high, wide = first.shape[:2]
    where = as_flags("mask", mask, (high, wide))
    size = compared_size(high, wide)
    one, two = (smaller(luma(x), size) for x in (first, second))
    small = cv2.resize(where.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    if not small.any():
        raise Impossible("mask marks too little to compare.", "mask")
    if max(float(x.std()) for x in (one, two)) < FLAT**0.5:
        raise Impossible("the pictures are too even: there is nothing in them to hold on to.", "a")
    warp, alike = best(one, two, small)
    moved = _moved(warp, alike, size, (wide / size[0], high / size[1]))
    scale, turn, dx, dy = moved
    return Alignment(dx, dy, turn, scale, _left(one, two, warp, alike), float(alike.mean()))


def exposure(
    a: ArrayLike, b: ArrayLike, mask: ArrayLike | None = None, linear: bool = False
) -> Exposure:
    """How much brighter and warmer `b` is than `a`: aligned pictures (h, w, 3) as recorded, or of
    light where `linear`; `mask` (h, w) marks where to compare. What stands in one of them only is
    left out as long as it covers less than half.

    Warmer is told by the colour that a white of the first has in the second, as a change of
    correlated colour temperature (McCamy 1992) from that of D65.

    Raises Impossible for pictures of two sizes, for a mask that marks nothing, and where all that
    is marked is too dark or clipped.
    """
    first, second = as_picture("a", a), as_picture("b", b)
    same_size(first, second)
    where = as_flags("mask", mask, (first.shape[0], first.shape[1]))
    top = CLIPPED if not linear else math.inf
    good = where & (brightest(first) < top) & (brightest(second) < top)
    one, two = (x if linear else to_light(x) for x in (first, second))
    one, two = (cast(Picture, cv2.blur(x, (3, 3))) for x in (one, two))
    # What is beside something clipped has some of it after the blur.
    good = cv2.erode(good.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    mid = np.sqrt(np.maximum(luma(one) * luma(two), 0.0))
    good &= (mid > DIM) & ((mid < BRIGHT) | linear)
    if good.sum() < 4:
        raise Impossible("what is compared is too dark or clipped to tell.", "mask")
    some = _some(good)
    gains = _gains(one[some], two[some])
    stops = math.log2(float(LUMA @ gains))
    return Exposure(stops, _warmer(gains), float(good.mean()))


def shifted(a: Picture, b: Picture) -> tuple[float, float]:
    """How far brightness `b` (h, w) has moved against `a`, (right, down) in pixels, nothing turned
    or grown. Raises Impossible where nothing in the two is alike."""
    high, wide = a.shape
    size = compared_size(high, wide)
    one, two = smaller(a, size), smaller(b, size)
    everywhere = np.ones(one.shape, dtype=bool)
    warp, alike = refined(one, two, by_shift(one, two), everywhere, cv2.MOTION_TRANSLATION)
    if alike.mean() < LEAST_COMMON:
        raise Impossible(NOT_ALIKE, "b")
    return float(warp[0, 2]) * wide / size[0], float(warp[1, 2]) * high / size[1]


def _moved(
    warp: Array, alike: Flags, size: tuple[int, int], larger: tuple[float, float]
) -> tuple[float, float, float, float]:
    """(scale, turn, dx, dy) about the centre, in pixels of the whole picture, of a warp of the
    small one: the similarity nearest to it where they were compared."""
    rows, columns = np.nonzero(alike)
    some = np.linspace(0, len(rows) - 1, min(len(rows), 2000)).astype(int)
    points = np.stack([columns[some], rows[some]], axis=1).astype(np.float64)
    to = points @ warp[:, :2].T + warp[:, 2]
    middle = np.array(size) / 2.0
    grow = np.array(larger)
    points, to = (points + 0.5 - middle) * grow, (to + 0.5 - middle) * grow
    _, found = fit_similarity(points, to)
    return found.scale, found.rotation_deg, found.shift_x_px, found.shift_y_px


def _left(one: Picture, two: Picture, warp: Array, alike: Flags) -> float:
    """Root mean square of what is left, the second picture's light evened out."""
    laid, _ = laid_over(two, warp)
    a, b = one[alike].astype(np.float64), laid[alike].astype(np.float64)
    slope, offset = _line(b, a) if b.std() > 1e-9 else (1.0, float((a - b).mean()))
    return float(np.sqrt(np.mean((a - slope * b - offset) ** 2)))


def _line(x: Array, y: Array) -> tuple[float, float]:
    """(slope, offset) of the straight line nearest to (n,) values `y` over those of `x`, which
    differ (least squares, in closed form: millions of pixels lie on it)."""
    middle_x, middle_y = float(x.mean()), float(y.mean())
    from_middle = x - middle_x
    slope = float(from_middle @ (y - middle_y)) / float(from_middle @ from_middle)
    return slope, middle_y - slope * middle_x


#: So many places of a picture tell how much light it has: medians of more say the same.
PLACES = 200_000


def _some(flags: Flags) -> tuple[Array, Array]:
    """Rows and columns of the places that are marked, of very many `PLACES` all over them."""
    marked = np.flatnonzero(flags)
    if len(marked) > PLACES:
        marked = marked[np.linspace(0, len(marked) - 1, PLACES).astype(np.int64)]
    rows, columns = np.divmod(marked, flags.shape[1])
    return rows, columns


def _gains(one: Picture, two: Picture) -> Array:
    """How much more light (3,) of each colour the second has: the middle of the ratios, those far
    from it left out step by step."""
    floor = np.float32(DIM / 10.0)
    ratios = np.log2(np.maximum(two, floor) / np.maximum(one, floor))
    keep = np.ones(len(ratios), dtype=bool)
    green = ratios[:, 1]
    for wide in (3.0, 2.5, 2.5, 2.0, 2.0):
        middle = float(np.median(green[keep]))
        spread = 1.4826 * float(np.median(np.abs(green[keep] - middle))) + 1e-4
        keep = np.abs(green - middle) <= wide * spread
    weight = np.minimum(one[keep], two[keep]).astype(np.float64) + 1e-6
    return np.array([2.0 ** _middle(ratios[keep, i], weight[:, i]) for i in range(3)])


def _middle(values: Array, weights: Array) -> float:
    """The weighted median: bright places are measured better."""
    order = np.argsort(values)
    run = np.cumsum(weights[order])
    return float(values[order][int(np.searchsorted(run, run[-1] / 2.0))])


#: XYZ of linear BT.709 R, G and B under D65. Source: ITU-R BT.709.
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])


def _warmer(gains: Array) -> float:
    """Mired by which a white with these gains is warmer than D65's."""
    return 1e6 / _kelvin(TO_XYZ @ gains) - 1e6 / _kelvin(TO_XYZ @ np.ones(3))


def _kelvin(xyz: Array) -> float:
    """Correlated colour temperature. Source: McCamy 1992."""
    x, y = xyz[:2] / xyz.sum()
    n = (x - 0.3320) / (0.1858 - y)
    return float(np.clip(449.0 * n**3 + 3525.0 * n**2 + 6823.3 * n + 5520.33, 1000.0, 40_000.0))


def changed(a: ArrayLike, b: ArrayLike, found: Alignment | None = None) -> Picture:
    """How much each place (h, w) has changed from `a` to `b`, 0..1 as recorded, light evened out
    and the second laid over the first by `found` (measured unless given).

    Raises Impossible as `between` does.
    """
    first, second = as_picture("a", a), as_picture("b", b)
    lies = between(first, second) if found is None else found
    laid, there = laid_back(second, lies)
    one, two = (cv2.GaussianBlur(x, (0, 0), 2.0) for x in (first, laid))
    away = brightest(np.abs(two - one))
    calm = there & (away <= max(float(np.median(away[there])) * 3.0, CALM))
    for i in range(3):
        # In half the precision a straight line through so many is lost.
        a_, b_ = (x[..., i][calm].astype(np.float64) for x in (one, two))
        if len(a_) > 16 and b_.std() > 1e-6:
            slope, offset = _line(b_, a_)
            two[..., i] = two[..., i] * slope + offset
    result: Picture = np.where(there, brightest(np.abs(two - one)), 0.0).astype(np.float32)
    return result


def laid_back(picture: Picture, lies: Alignment) -> tuple[Picture, Flags]:
    """The second picture (h, w, 3) laid over the first, and where (h, w) there is any of it."""
    high, wide = picture.shape[:2]
    turn = math.radians(lies.rotation_deg)
    grow = lies.scale * np.array(
        [[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]]
    )
    middle = np.array([wide, high]) / 2.0 - 0.5
    shift = np.array([lies.dx_px, lies.dy_px])
    warp = np.concatenate([grow, (middle + shift - grow @ middle)[:, None]], axis=1)
    layers = [laid_over(np.ascontiguousarray(picture[..., i]), warp) for i in range(3)]
    return np.stack([x for x, _ in layers], axis=2), layers[0][1]
