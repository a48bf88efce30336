"""Whether what should stand still stands: how far the picture has moved from its first frame, one
frame after another, whoever walks through it."""

from __future__ import annotations

from typing import cast

import cv2
import numpy as np

from ..camera import Array
from .laying import by_shift, compared_size, smaller
from .tone import Flags, Picture

#: How far the picture has moved is told at most so wide; and it may lie so far off, in such pixels,
#: before it is compared with a nearer frame.
FOLLOWED_PX, NEAR_PX = 240, 1.5
#: Slopes tell steps of so many pixels well.
HALF_PX = 0.6
#: The slope of a soft picture at a pixel, exact to the fourth order, and what lies beside it.
SLOPE = np.array([1.0, -8.0, 0.0, 8.0, -1.0]) / 12.0
BESIDE_SLOPE = np.array([0.0, 0.0, 1.0, 0.0, 0.0])
#: Contrast (squared, a pixel) below which a tile holds on to nothing.
FLAT = 2e-5
#: Slopes of the whole picture that lie so nearly along one line tell half of a movement.
LEANING = 1e-4
#: Tiles that must agree on how the picture has shifted, a part of those with something in them, and
#: to how much, in such pixels.
AGREED, AGREES_PX = 0.3, 0.12
#: A camera that turns moves the rim of its picture farther than the middle, by tan^2 of how far
#: aside it lies: a fifth with a wide lens. Tiles may differ by half of that, a part of the way.
TURNS = 0.1
#: Along each direction so many tiles at least, and such a part of those that tell it, must agree,
#: spread over such a part of the picture (the middle half of them is that far apart): else it is
#: somebody's outline that tells.
FEWEST, MAJORITY, SPREAD = 5, 0.5, 0.2


class Standing:
    """How far the picture has moved: by the gradients of a frame it is compared with (Lucas and
    Kanade 1981), tile by tile, of which those that agree count."""

    def __init__(self, stands: Flags | None = None) -> None:
        """`stands` (rows, columns): tiles in which nothing is meant to move; all unless told."""
        self._stands = stands
        self._may: Flags | None = None
        self.path: list[tuple[float, float]] = []
        self._base: Picture | None = None
        #: Where the frame compared with lies itself, small pixels.
        self._at = np.zeros(2)
        self._slopes: tuple[Picture, Picture] | None = None
        self._normal: Array | None = None
        self._last: Picture | None = None
        self._size = (1, 1)
        #: Tiles in a row, without those at the rim.
        self._across = 1

    def follow(self, frame: Picture, size: tuple[int, int]) -> None:
        """The next frame, in tiles of so many (columns, rows)."""
        high, wide = frame.shape
        small = smaller(frame, compared_size(high, wide, FOLLOWED_PX))
        soft = cast(Picture, cv2.GaussianBlur(small, (5, 5), 1.0))
        self._size = min(size[0], soft.shape[1]), min(size[1], soft.shape[0])
        if self._base is None:
            self._rest_on(soft, np.zeros(2))
            self.path.append((0.0, 0.0))
        else:
            at = self._told(soft)
            if at is None or np.abs(at - self._at).max() > NEAR_PX:
                at = self._from_the_last(soft, at)
            wide = soft.shape[1]
            self.path.append((np.nan, np.nan) if at is None else (at[0] / wide, at[1] / wide))
        self._last = soft

    def _rest_on(self, soft: Picture, at: Array) -> None:
        """Compare with this frame from now on."""
        across = cast(Picture, cv2.sepFilter2D(soft, cv2.CV_32F, SLOPE, BESIDE_SLOPE))
        down = cast(Picture, cv2.sepFilter2D(soft, cv2.CV_32F, BESIDE_SLOPE, SLOPE))
        self._base, self._slopes, self._at = soft, (across, down), at
        self._normal = self._means(across * across, across * down, down * down)

    def _means(self, *layers: Picture) -> Array:
        """Of each layer its mean in every tile: (layers, tiles). What lies at the rim moves in and
        out of the picture."""
        tiles = [smaller(x, self._size) for x in layers]
        inner = [t[1:-1, 1:-1] if min(t.shape) > 4 else t for t in tiles]
        self._across = inner[0].shape[1]
        if self._stands is not None and self._may is None:
            may = self._stands[1:-1, 1:-1] if min(tiles[0].shape) > 4 else self._stands
            self._may = may.ravel()
        return np.stack([t.ravel() for t in inner]).astype(np.float64)

    def _told(self, soft: Picture, start: Array | None = None) -> Array | None:
        """Where this frame lies; None where too few tiles agree."""
        # Laid back by whole pixels only: what lies between them would be made softer.
        whole = np.zeros(2) if start is None else np.round(start)
        for _ in range(3):
            step = self._step(_laid_back(soft, whole), whole)
            if step is None:
                return None
            at = whole + step
            if np.abs(step).max() <= HALF_PX:
                break
            whole = np.round(at)
        return self._at + at

    def _step(self, laid: Picture, whole: Array) -> Array | None:
        if self._base is None or self._slopes is None or self._normal is None:
            return None
        # Light that changed is no movement.
        away = laid * np.float32(_ratio(self._base, laid)) - self._base
        across, down = self._slopes
        right, below, square = self._means(across * away, down * away, away * away)
        xx, xy, yy = self._normal
        keep = xx + yy > FLAT
        if self._may is not None:
            keep &= self._may
        textured = int(keep.sum())
        if textured < 4:
            return None
        found = np.zeros(2)
        textures, usual = keep, xx + yy
        for _ in range(4):
            a, b, c = float(xx[keep].sum()), float(xy[keep].sum()), float(yy[keep].sum())
            flat = a * c - b * b
            # All slopes lie along one line: nothing tells how far it moved across them.
            if flat <= LEANING * (a + c) ** 2:
                return None
            u, v = float(right[keep].sum()), float(below[keep].sum())
            x, y = (b * v - c * u) / flat, (b * u - a * v) / flat
            found = np.array([x, y])
            left = square + 2.0 * (right * x + below * y)
            left += xx * x * x + 2.0 * xy * x * y + yy * y * y
            limit = 3.0 * max(float(np.median(left[keep])), 1e-8)
            keep = textures & (left <= limit)
            if keep.sum() < 3:
                return None
        # Where it was laid right, little of the contrast is left.
        agreed = keep & (left < 0.5 * usual + 1e-6)
        if agreed.sum() < AGREED * textured:
            return None
        x, y = found
        sideways = np.abs(right + xx * x + xy * y), xx
        upwards = np.abs(below + xy * x + yy * y), yy
        within = AGREES_PX + TURNS * float(np.hypot(*(whole + found)))
        return found if all(self._agree(*told, within) for told in (sideways, upwards)) else None

    def _agree(self, off: Array, told: Array, within: float) -> bool:
        """Whether enough tiles agree along one direction to `within` such pixels; a level edge
        tells nothing of the way along it. `off`: how far each stands off, times what it tells,
        `told`."""
        tells = told > FLAT / 2.0
        if self._may is not None:
            tells &= self._may
        agreed = tells & (off < within * told)
        if agreed.sum() < max(FEWEST, MAJORITY * tells.sum()):
            return False
        rows, columns = np.divmod(np.flatnonzero(agreed), self._across)
        spans = [np.subtract(*np.percentile(at, [75, 25])) for at in (columns, rows)]
        size = self._across, len(told) // self._across
        return bool(max(span / n for span, n in zip(spans, size, strict=True)) >= SPREAD)

    def _from_the_last(self, soft: Picture, guess: Array | None) -> Array | None:
        """Where it lies against the frame before, which is compared with from now on."""
        before = self.path[-1]
        if self._last is None or not np.isfinite(before).all():
            # Something else is seen: begin here, where it was last known to be.
            known = next(p for p in reversed(self.path) if np.isfinite(p[0]))
            self._rest_on(soft, np.array(known) * soft.shape[1] if guess is None else guess)
            return guess
        self._rest_on(self._last, np.array(before) * soft.shape[1])
        at = self._told(soft)
        if at is None:
            jump = by_shift(self._last, soft)[:, 2]
            at = self._told(soft, np.asarray(jump)) if np.isfinite(jump).all() else None
        return at


def _laid_back(soft: Picture, whole: Array) -> Picture:
    if not whole.any():
        return soft
    warp = np.array([[1.0, 0.0, whole[0]], [0.0, 1.0, whole[1]]])
    size = soft.shape[1], soft.shape[0]
    how = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
    laid = cv2.warpAffine(soft, warp, size, flags=how, borderMode=cv2.BORDER_REPLICATE)
    return cast(Picture, laid)


def _ratio(one: Picture, two: Picture) -> float:
    """What the second is made as bright by as the first, as recorded, by the middle of places."""
    size = (16, 9)
    a, b = (smaller(x, size) for x in (one, two))
    good = (a > 0.02) & (b > 0.02)
    return float(np.median(a[good] / b[good])) if good.any() else 1.0
