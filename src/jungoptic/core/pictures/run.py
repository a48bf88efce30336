"""A clip or a sequence frame by frame: its light, whether what should stand stands, what moves
where, frames taken twice. Frames come one after another and are let go: memory stays flat.

Frames are small and grey: (h, w) brightness as recorded, 0..1, `COMPARED_PX` wide at most.
"""

from __future__ import annotations

import warnings
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import cast

import cv2
import numpy as np

from ..camera import Array
from ..impossible import Impossible
from .laying import compared_size, smaller
from .sequence import COMPARED_PX, SAME, SAME_PART
from .standing import Standing
from .tone import Flags, Picture, to_light
from .turn import Turn, turn_of

#: A frame is looked at in so many tiles across and down.
TILES = (32, 18)
#: Frames whose tiles are remembered; of a longer clip every second one, then every fourth.
REMEMBERED = 8192
#: A tile whose brightness, as recorded, stands off its usual one by this and by so many times its
#: grain has something before it.
MOVED, GRAINS = 0.012, 6.0
#: The light of a tile says something from here to here, as recorded.
DIM, BRIGHT = 0.06, 0.94
#: Places whose light changed by as much, to these stops, agree on it; so many of them must.
ALIKE_STOPS, MOST_ALIKE = 0.08, 0.35
#: Light is lost in grain below this, a part of full scale.
DARK = 1e-4
#: So many frames before and after tell how much frames differ there, and that something moves, as
#: recorded.
BESIDE, MOVING = 4, 0.004
#: Grain is measured between two frames out of so many.
GRAIN_EVERY = 24


@dataclass(frozen=True)
class Run:
    """What was measured, one row a frame. `light` (n,): stops against the first frame, by the
    middle of all places, so that who walks through does not count; `thirds` (n, 3): the same of the
    left, the middle and the right. `shift` (n, 2): how far the picture has moved against the first
    frame, a part of its width, right and down; NaN where nothing told. `apart` (n,): how much a
    frame differs from the one before in the places that differ most, as recorded; NaN for the
    first.

    `moved` (m, rows, columns): whether something stands or goes there that is not there for most of
    the clip, for every `stride`-th frame. `grain`: root mean square of what differs from frame to
    frame where nothing moves, as recorded; None where no two frames could be compared. `turn`: of
    what spins; None where nothing comes round again.
    """

    light: Array
    thirds: Array
    shift: Array
    apart: Array
    moved: Flags
    stride: int
    grain: float | None
    turn: Turn | None = None

    @property
    def frames(self) -> int:
        """How many there are."""
        return len(self.light)

    @property
    def doubles(self) -> list[int]:
        """Frames (from 0) that are the same as the one before though something moved before and
        after: where nothing does, a recorder writes the same frame again and loses none."""
        if self.frames < 2:
            return []
        apart = self.apart[1:]
        beside = np.full((2 * BESIDE, len(apart)), np.nan)
        for n in range(1, BESIDE + 1):
            beside[2 * n - 2, n:], beside[2 * n - 1, :-n] = apart[:-n], apart[n:]
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", RuntimeWarning)
            usual = np.nanmedian(beside, axis=0)
        same = (apart <= np.maximum(SAME, SAME_PART * usual)) & (usual > MOVING)
        return [int(i) + 1 for i in np.flatnonzero(same)]


def small_size(wide: int, high: int) -> tuple[int, int]:
    """(wide, high) at which frames of a size are measured."""
    return compared_size(high, wide, COMPARED_PX)


def tiles_of(wide: int, high: int) -> tuple[int, int]:
    """(columns, rows) that such frames are looked at in."""
    across, down = TILES if wide >= high else TILES[::-1]
    return min(across, wide), min(down, high)


@dataclass
class Measuring:
    """Takes frames one after another; `done` tells what they were."""

    _light: list[float] = field(default_factory=list)
    _thirds: list[list[float]] = field(default_factory=list)
    _apart: list[float] = field(default_factory=list)
    _kept: list[Picture] = field(default_factory=list)
    _stride: int = 1
    _still: Standing | None = None
    _before: Picture | None = None
    _first: Picture | None = None

    def take(self, frame: Picture) -> None:
        """The next frame (h, w). Raises Impossible for one of another size."""
        if self._before is not None and frame.shape != self._before.shape:
            raise Impossible("the frames must be one size.", "frame")
        high, wide = frame.shape
        size = tiles_of(wide, high)
        tiles = smaller(frame, size)
        if self._first is None or self._still is None:
            self._first, self._still = tiles, Standing()
        gains = brighter(self._first, tiles)
        self._light.append(agreed(gains))
        self._thirds.append([agreed(part) for part in np.array_split(gains, 3, axis=1)])
        self._still.follow(frame, size)
        if self._before is None:
            self._apart.append(float("nan"))
        else:
            away = smaller(cast(Picture, cv2.absdiff(frame, self._before)), size)
            self._apart.append(_most(away))
        self._keep(tiles)
        self._before = frame

    def _keep(self, tiles: Picture) -> None:
        number = len(self._light) - 1
        if number % self._stride:
            return
        self._kept.append(tiles.astype(np.float16))
        if len(self._kept) >= REMEMBERED:
            self._kept, self._stride = self._kept[::2], self._stride * 2

    def done(self, grain: float | None = None) -> Run:
        """What all frames together are; `grain` is measured on whole frames, see `Grain`. Raises
        Impossible without any."""
        if self._still is None:
            raise Impossible("there are no frames.", "frames")
        evened = _evened(np.stack(self._kept), self._light[:: self._stride])
        return Run(
            np.array(self._light),
            np.array(self._thirds),
            np.array(self._still.path),
            np.array(self._apart),
            _moved(evened),
            self._stride,
            grain,
            turn_of(evened) if self._stride == 1 else None,
        )


def brighter(first: Picture, tiles: Picture) -> Array:
    """How much brighter each tile is, stops; NaN where it says nothing."""
    good = (np.minimum(first, tiles) > DIM) & (np.maximum(first, tiles) < BRIGHT)
    one, two = (np.maximum(to_light(x), DARK) for x in (first, tiles))
    found: Array = np.where(good, np.log2(two / one), np.nan)
    return found


def agreed(values: Array) -> float:
    """What most of them say; NaN where too few agree, since something fills the picture."""
    told = values[np.isfinite(values)]
    if len(told) == 0:
        return float("nan")
    middle = float(np.median(told))
    alike = np.abs(told - middle) < ALIKE_STOPS
    return middle if alike.mean() >= MOST_ALIKE else float("nan")


def _most(away: Picture) -> float:
    """The tile that differs most but for one in a hundred."""
    flat = away.ravel()
    place = round(0.99 * (len(flat) - 1))
    return float(np.partition(flat, place)[place])


def _evened(tiles: Picture, light: list[float]) -> Picture:
    """Tiles (m, rows, columns), the light of all evened out."""
    stops = np.nan_to_num(np.array(light[: len(tiles)]))
    # As recorded a stop is a factor too, above the foot of the curve.
    factor = (2.0 ** (0.45 * stops))[:, None, None].astype(np.float32)
    found: Picture = tiles.astype(np.float32) / factor
    return found


def _moved(evened: Picture) -> Flags:
    """Where (m, rows, columns) tiles differ from what they show for most of the clip."""
    # Of what it shows half of the time each, what it shows at first.
    ordered = np.sort(evened, axis=0)
    low, high = ordered[(len(ordered) - 1) // 2], ordered[len(ordered) // 2]
    usual = np.where(np.abs(evened[0] - low) <= np.abs(evened[0] - high), low, high)
    away = np.abs(evened - usual)
    grain = 1.4826 * np.median(away, axis=0)
    found: Flags = away > np.maximum(MOVED, np.minimum(GRAINS * grain, 4.0 * MOVED))
    return found


#: The part of a frame that grain is measured in, and what it leaves of the square of a normal
#: spread: 1 - 2 c phi(c) / 0.8 at c = 1.2816.
CALM, CALM_RMS = 0.8, 0.4377


class Grain:
    """What differs from one whole frame to the next where nothing moves: frames (h, w) of
    brightness as recorded, two neighbours out of `GRAIN_EVERY`."""

    def __init__(self) -> None:
        self._told: list[float] = []
        self._before: Picture | None = None
        self._number = 0

    @property
    def wants(self) -> bool:
        """Whether the next frame is one of those looked at."""
        return self._number % GRAIN_EVERY < 2

    def skip(self) -> None:
        """The next frame is not looked at."""
        self._number += 1

    def take(self, frame: Picture) -> None:
        """The next frame."""
        if self._number % GRAIN_EVERY and self._before is not None:
            away = np.abs(frame - self._before)
            # Those that differ least: what moves does not count.
            calm = away[away <= np.percentile(away, 100.0 * CALM)]
            self._told.append(float(np.sqrt(np.mean(calm**2) / CALM_RMS / 2.0)))
            self._before = None
        else:
            self._before = frame
        self._number += 1

    @property
    def rms(self) -> float | None:
        """Root mean square of the grain, as recorded; None before two frames were compared."""
        return float(np.median(self._told)) if self._told else None


def stretches(calm: Flags) -> Iterator[tuple[int, int]]:
    """(first, behind the last) of every run of marked frames (n,)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], calm, [False]]).astype(np.int8)))
    yield from zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True)
