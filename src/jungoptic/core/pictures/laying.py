"""Laying one picture over another: the warp that makes most of them alike.

A warp (2, 3) takes pixels of the first picture to those of the second, numbered from the middle of
the first pixel, as OpenCV does.

Source: features of Lowe 2004 (SIFT), a similarity through those that agree (Fischler and Bolles
1981), refined by enhanced correlation (Evangelidis and Psarakis 2008).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

import cv2
import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..impossible import Impossible
from .tone import Flags, Picture

#: Pictures are compared at most so wide: half of full HD.
WIDE_PX = 960
#: Features, their least contrast, and how much nearer the best match must be than the next.
FEATURES, CONTRAST, RATIO = 1500, 0.02, 0.75
#: With fewer that agree the features say nothing.
LEAST_AGREED = 10
#: Places where the two pictures go together like this are the same thing.
ALIKE = 0.7
#: Places with less contrast than this, squared, are flat.
FLAT = 1e-6
#: So near to an edge nothing is compared.
RIM_PX = 6
#: Less than this part of what is asked about in common is no measure.
LEAST_COMMON = 0.06
#: What is said of a pair that has nothing in common.
NOT_ALIKE = "nothing in these two pictures is alike: is it the right pair?"


def compared_size(high: int, wide: int, most: int = WIDE_PX) -> tuple[int, int]:
    """(wide, high) at which pictures so large are compared: `most` pixels on a side."""
    part = min(most / max(high, wide), 1.0)
    return max(round(wide * part), 2), max(round(high * part), 2)


def smaller(picture: Picture, size: tuple[int, int]) -> Picture:
    """A picture (h, w) at another size, each new pixel the mean of what it covers."""
    if size == (picture.shape[1], picture.shape[0]):
        return picture
    return cast(Picture, cv2.resize(picture, size, interpolation=cv2.INTER_AREA))


def best(one: Picture, two: Picture, where: Flags) -> tuple[Array, Flags]:
    """The warp (2, 3) from pixels of `one` to those of `two`, numbered from the middle of the first
    one, that makes most of them alike; and where (h, w) they are.

    Raises Impossible where nothing in the two is alike.
    """
    # Each way to begin is worked out only where those before it led nowhere.
    starts: tuple[Callable[[], Array | None], ...] = (
        lambda: _by_features(one, two, where),
        lambda: np.eye(2, 3),
        lambda: by_shift(one, two),
    )
    found: tuple[Array, Flags] | None = None
    for begin in starts:
        start = begin()
        if start is None:
            continue
        warp, alike = refined(one, two, start, where)
        if found is None or alike.sum() > 1.2 * found[1].sum():
            found = warp, alike
        if found[1].sum() > 0.2 * where.sum():
            break
    assert found is not None
    if found[1].sum() < LEAST_COMMON * where.sum():
        raise Impossible(NOT_ALIKE, "b")
    return found


def _eight_bit(picture: Picture) -> NDArray[np.uint8]:
    low, high = np.percentile(picture, (0.5, 99.5))
    spread = max(float(high - low), 1e-6)
    told = (picture - low) / spread * 255.0
    found: NDArray[np.uint8] = np.clip(told, 0.0, 255.0).astype(np.uint8)
    return found


def _by_features(one: Picture, two: Picture, where: Flags) -> Array | None:
    """The warp that most features agree on; None where too few do."""
    sift = cv2.SIFT.create(nfeatures=FEATURES, contrastThreshold=CONTRAST)
    marked = where.astype(np.uint8) * np.uint8(255)
    here, told = sift.detectAndCompute(_eight_bit(one), marked)
    there, also = sift.detectAndCompute(_eight_bit(two), None)
    if told is None or also is None or min(len(here), len(there)) < LEAST_AGREED:
        return None
    pairs = cv2.BFMatcher(cv2.NORM_L2).knnMatch(told, also, k=2)
    good = [p[0] for p in pairs if len(p) == 2 and p[0].distance < RATIO * p[1].distance]
    if len(good) < LEAST_AGREED:
        return None
    points = np.array([here[m.queryIdx].pt for m in good])
    to = np.array([there[m.trainIdx].pt for m in good])
    warp, agreed = cv2.estimateAffinePartial2D(
        points, to, method=cv2.RANSAC, ransacReprojThreshold=2.0, maxIters=5000, confidence=0.999
    )
    if warp is None or int(agreed.sum()) < LEAST_AGREED:
        return None
    found: Array = np.asarray(warp, dtype=np.float64)
    return found


def by_shift(one: Picture, two: Picture) -> Array:
    """A shift alone, by the phase of the two pictures' spectra."""
    high, wide = one.shape
    window = cv2.createHanningWindow((wide, high), cv2.CV_32F)
    flat = [x - cv2.GaussianBlur(x, (0, 0), max(high, wide) / 16.0) for x in (one, two)]
    (dx, dy), _ = cv2.phaseCorrelate(flat[0], flat[1], window)
    return np.array([[1.0, 0.0, dx], [0.0, 1.0, dy]])


def refined(
    one: Picture,
    two: Picture,
    start: Array,
    where: Flags,
    how: int = cv2.MOTION_AFFINE,
) -> tuple[Array, Flags]:
    """A warp made exact, first through pictures made softer; and where the two are alike."""
    warp = start
    alike = _alike(one, two, warp, where)
    for soft in (9, 5, 5):
        if alike.sum() < 0.1 * LEAST_COMMON * where.sum():
            return warp, alike
        better = _correlated(one, two, warp, alike, soft, how)
        found = _alike(one, two, better, where)
        if found.sum() < 0.9 * alike.sum():
            break
        warp, alike = better, found
    return warp, alike


def _correlated(
    one: Picture, two: Picture, warp: Array, alike: Flags, soft: int, how: int
) -> Array:
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-7)
    marked = alike.astype(np.uint8) * np.uint8(255)
    everything = np.full(two.shape, 255, dtype=np.uint8)
    try:
        _, found = cv2.findTransformECCWithMask(
            one, two, marked, everything, warp.astype(np.float32), how, stop, soft
        )
    except cv2.error:
        return warp
    return np.asarray(found, dtype=np.float64) if np.isfinite(found).all() else warp


def laid_over(two: Picture, warp: Array, linear: bool = False) -> tuple[Picture, Flags]:
    """The second picture laid over the first, and where there is any of it."""
    size = two.shape[1], two.shape[0]
    how = (cv2.INTER_LINEAR if linear else cv2.INTER_CUBIC) | cv2.WARP_INVERSE_MAP
    laid = cv2.warpAffine(two, warp, size, flags=how, borderMode=cv2.BORDER_REPLICATE)
    # Near an edge the softened pictures hold what the edge made up.
    rim = min(RIM_PX, min(size) // 8)
    inner = np.zeros_like(two)
    inner[rim : size[1] - rim, rim : size[0] - rim] = 1.0
    there = cv2.warpAffine(inner, warp, size, flags=how, borderValue=0)
    return cast(Picture, laid), (there > 0.99) & (inner > 0.0)


def _alike(one: Picture, two: Picture, warp: Array, where: Flags) -> Flags:
    """Where (h, w) the pictures go together: their correlation around every pixel."""
    laid, there = laid_over(two, warp, linear=True)
    high, wide = one.shape
    side = max(round(max(high, wide) / 64.0) | 1, 5)
    box = (side, side)
    one, laid = (cast(Picture, cv2.GaussianBlur(x, (0, 0), 1.0)) for x in (one, laid))
    a, b = cv2.blur(one, box), cv2.blur(laid, box)
    aa = cv2.blur(one * one, box) - a * a
    bb = cv2.blur(laid * laid, box) - b * b
    ab = cv2.blur(one * laid, box) - a * b
    with np.errstate(divide="ignore", invalid="ignore"):
        together = ab / np.sqrt(np.maximum(aa * bb, 1e-12))
    good = (together > ALIKE) & (aa > FLAT) & (bb > FLAT)
    near = np.ones((max(side // 2, 1),) * 2, np.uint8)
    good = cv2.erode(good.astype(np.uint8), near) > 0
    found: Flags = good & there & where
    return found
