"""One clean turn in a clip of something that spins: how many frames it takes, and from which frame
it can be looped."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array
from .tone import Picture

#: What comes round again is as far from itself as this part of what any two frames are apart, at
#: most; and in between it was at least so far from itself (judgement).
SAME, OTHERWISE = 0.4, 0.7
#: A turn takes so many frames at least, and the clip holds so many turns.
LEAST_FRAMES, LEAST_TURNS = 6, 1.15
#: A place moves when its brightness, as recorded, varies by so much; so many of all must.
VARIES, LEAST_PART = 0.012, 0.01
#: Places are gone through so many at a time.
AT_ONCE = 64


@dataclass(frozen=True)
class Turn:
    """A turn: how many `frames` it takes; the frames (from 1) `first` to `last` that loop best; and
    how far the first after the last lies from the first, in steps from one frame to the next: at
    one or less the seam is no larger than any other step."""

    frames: float
    first: int
    last: int
    seam: float


def turn_of(tiles: Picture) -> Turn | None:
    """The turn in frames (n, rows, columns) of brightness as recorded, their light evened out; None
    where nothing comes round again."""
    flat = tiles.reshape(len(tiles), -1).astype(np.float32)
    if len(flat) < LEAST_FRAMES * LEAST_TURNS:
        return None
    flat = flat - flat.mean(axis=0)
    moving = flat.std(axis=0) > VARIES
    if moving.mean() < LEAST_PART:
        return None
    flat = flat[:, moving]
    apart = _apart(flat)
    period = _period(apart)
    if period is None:
        return None
    period = round(period, 3)
    whole = round(period)
    seams = ((flat[whole:] - flat[:-whole]) ** 2).mean(axis=1, dtype=np.float64)
    step = float(np.median(((flat[1:] - flat[:-1]) ** 2).mean(axis=1, dtype=np.float64)))
    best = int(np.argmin(seams))
    seam = float(np.sqrt(seams[best] / step)) if step > 0.0 else 0.0
    return Turn(period, best + 1, best + whole, round(seam, 3))


def _apart(flat: Array | Picture) -> Array:
    """How far frames so many apart lie from each other, as a part of how far any two do (n,)."""
    n = len(flat)
    size = 1 << (2 * n - 1).bit_length()
    alike, squares = np.zeros(n), np.zeros(n)
    for begin in range(0, flat.shape[1], AT_ONCE):
        part = flat[:, begin : begin + AT_ONCE]
        power = np.abs(np.fft.rfft(part, size, axis=0)) ** 2
        # What two frames have in common, for every distance at once (Wiener and Khinchin).
        alike += np.fft.irfft(power.sum(axis=1), size)[:n]
        squares += (part**2).sum(axis=1, dtype=np.float64)
    summed = np.concatenate([[0.0], np.cumsum(squares)])
    lags = np.arange(n)
    both = summed[n - lags] + summed[n] - summed[lags]
    mean = (both - 2.0 * alike) / (n - lags)
    usual = 2.0 * squares.mean()
    found: Array = np.sqrt(np.maximum(mean, 0.0) / usual)
    return found


def _period(apart: Array) -> float | None:
    """The first distance at which frames are the same again, to a part of a frame."""
    # As many frames must be left as say something of a seam.
    most = int(len(apart) / LEAST_TURNS)
    away = np.flatnonzero(apart[:most] >= OTHERWISE)
    if len(away) == 0:
        return None
    for lag in range(max(int(away[0]) + 1, LEAST_FRAMES), min(most, len(apart) - 1)):
        # Squares of small distances make a parabola about the turn: a turn that ends between two
        # frames is far from both.
        before, at, after = (float(v) ** 2 for v in apart[lag - 1 : lag + 2])
        if at > min(before, after, OTHERWISE**2):
            continue
        bend = before - 2.0 * at + after
        aside = 0.5 * (before - after) / bend if bend > 0.0 else 0.0
        if at - 0.25 * (before - after) * aside <= SAME**2:
            return lag + aside
    return None
