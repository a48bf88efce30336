"""What a dimmable lamp does over the shot, frame by frame.

The curves are made from a seed, so that the same shot flickers alike in every plate. Source: common
practice; no quantity of anything that burns is ever needed for it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..checks_on_input import positive
from ..counting import frames_in
from ..impossible import Impossible
from ..plan.cue import Cue

#: More flashes in any second than this, and some people can be made ill (ITU-R BT.1702, from
#: memory).
SAFE_FLASHES = 3


#: A flash: up and down again by at least this part of full light, from or to under 0.8 of it (same
#: source).
FLASH_STEP = 0.1


FLASH_DARK = 0.8


#: Longer curves than this are not worked out: ten minutes at 240 a second.
MOST_FRAMES = 144_000
#: A stroke of lightning is gone after this, seconds: exp(-35) of it is left.
STROKE_S = 1.75
#: Strokes of a harmless storm: no more than `SAFE_FLASHES` in so many seconds.
APART_S = 1.25

PHOTOSENSITIVE = (
    "Flashing light can cause seizures: tell everybody on set beforehand what will flash and how "
    "fast, let people leave, keep 3 to 30 flashes a second off faces.",
    "The finished picture is bound by the same limit; the channel's own test decides.",
)


@dataclass(frozen=True)
class Curve:
    """Levels 0..1 by frame (n,), from frame 1. `flashes`: most in any one second; `first_frame`:
    where that second begins, from 1."""

    fps: float
    levels: Array
    flashes: int
    first_frame: int
    cautions: tuple[str, ...]

    @property
    def safe(self) -> bool:
        """Whether it stays within what is held to be harmless."""
        return self.flashes <= SAFE_FLASHES


def curve(cue: Cue, seconds: float, fps: float) -> Curve:
    """The levels of a cue over `seconds` at `fps`. Raises Impossible for levels the wrong way
    round, or a shot longer than ten minutes."""
    positive("screen time", seconds)
    positive("rate", fps)
    if not 0.0 <= cue.low <= cue.high <= 1.0:
        raise Impossible("The dimmer runs from low to high, both between 0 and 1.", "low")
    if seconds > 600.0:
        raise Impossible("A cue lasts at most ten minutes.", "seconds")
    n = frames_in(seconds, fps)
    if n > MOST_FRAMES:
        raise Impossible(
            f"A cue of {n:,} frames is longer than any lamp plays ({MOST_FRAMES:,} at most).", "fps"
        )
    times = np.arange(n) / fps
    if cue.kind == "drawn":
        levels = _drawn(cue, times)
        most, first = flashes(levels, fps)
        return Curve(fps, levels, most, first, PHOTOSENSITIVE if most else ())
    end = cue.at_s + cue.lasts_s if cue.lasts_s > 0.0 else math.inf
    inside = (times >= cue.at_s - 1e-9) & (times < end - 1e-9)
    shape = np.zeros(n)
    if inside.any():
        made = {
            "fire": _fire,
            "lightning": _lightning,
            "passing": _passing,
            "snap": _snap,
        }[cue.kind]
        shape[inside] = made(cue, times[inside] - cue.at_s, fps)
    rest = cue.low if cue.kind in ("fire", "snap") else 0.0 if cue.kind == "lightning" else cue.low
    levels = np.where(inside, cue.low + (cue.high - cue.low) * np.clip(shape, 0.0, 1.0), rest)
    most, first = flashes(levels, fps)
    return Curve(fps, levels, most, first, PHOTOSENSITIVE if most else ())


def _fire(cue: Cue, t: Array, fps: float) -> Array:
    """Slow swells with quicker, weaker flicker on them: noise that falls with frequency. The
    flicker is weakened until it is harmless, unless a livelier fire is asked for."""
    rng = np.random.default_rng(cue.seed)
    waves = []
    for k in range(1, 7):
        frequency = max(cue.per_s, 0.05) * 0.5 * k * rng.uniform(0.8, 1.25)
        waves.append(np.sin(2.0 * math.pi * (frequency * t + rng.uniform())))
    for weaker in range(1, 8):
        sizes = np.arange(1, 7, dtype=np.float64) ** -weaker
        total = sizes @ waves / sizes.sum()
        # Fire dips deep and seldom, and mostly burns bright.
        shape = np.asarray(1.0 - (0.5 - 0.5 * total * 1.6).clip(0.0, 1.0) ** 1.5)
        if cue.per_s > SAFE_FLASHES or flashes(shape, fps)[0] <= SAFE_FLASHES:
            break
    return shape


def _lightning(cue: Cue, t: Array, fps: float) -> Array:
    """Strokes at uneven times, each a leader and one or two echoes that die away in a tenth of a
    second. What would be too much for one second is left out, unless a livelier storm is asked
    for."""
    rng = np.random.default_rng(cue.seed)
    total = np.zeros_like(t)
    at = rng.exponential(0.3 / max(cue.per_s, 0.05))
    lit: list[float] = []
    while at <= (t[-1] if len(t) else 0.0) + 1e-9:
        for echo in range(int(rng.integers(1, 4))):
            begin = at + echo * rng.uniform(0.08, 0.16)
            start = math.floor(begin * fps) / fps
            size = rng.uniform(0.55, 1.0) if echo else 1.0
            if cue.per_s <= SAFE_FLASHES and sum(start - s < APART_S for s in lit) >= SAFE_FLASHES:
                continue
            lit = [*lit[-SAFE_FLASHES:], start]
            own = slice(*np.searchsorted(t, (start, start + STROKE_S)))
            total[own] = np.maximum(total[own], size * np.exp(-(t[own] - start) / 0.05))
        at += max(rng.exponential(1.0 / max(cue.per_s, 0.05)), 0.25)
    return total


def _passing(cue: Cue, t: Array, fps: float) -> Array:
    """A lamp that drives by at even speed: inverse square of its distance, nearest at half its
    time; sqrt(3) nearest distances away at the ends, so a quarter as bright there."""
    period = 1.0 / max(cue.per_s, 0.02)
    part = (t % period) / period
    away = (part * 2.0 - 1.0) * math.sqrt(3.0)
    found: Array = (1.0 / (1.0 + away * away) - 0.25) / 0.75
    return found


def _snap(cue: Cue, t: Array, fps: float) -> Array:
    """A hand snaps and light is there: one frame to full, over, and settling; `per_s` sets how
    quickly it settles."""
    settle = np.exp(-t * max(cue.per_s, 0.1))
    found: Array = 0.75 + 0.25 * settle * np.cos(2.0 * math.pi * t * 2.0)
    return found


def _drawn(cue: Cue, times: Array) -> Array:
    """Straight from key to key, the first before and the last after; all dark without any. Where
    two keys stand at one moment the later one is the level from there on."""
    if not cue.keys:
        return np.zeros_like(times)
    keys = sorted(cue.keys, key=lambda key: key.at_s)
    # Told to the microsecond, so that a key on a frame is met on that frame.
    at = np.round([cue.at_s + key.at_s for key in keys], 6)
    levels = np.array([key.level for key in keys])
    after = np.searchsorted(at, np.round(times, 6), side="right")
    low, high = np.maximum(after - 1, 0), np.minimum(after, len(keys) - 1)
    wide = at[high] - at[low]
    part = np.where(wide > 0.0, (times - at[low]) / np.where(wide > 0.0, wide, 1.0), 0.0)
    found: Array = levels[low] + (levels[high] - levels[low]) * part.clip(0.0, 1.0)
    return found


def flashes(levels: Array, fps: float) -> tuple[int, int]:
    """(most flashes in any one second, its first frame from 1). A flash is a pair of opposing
    changes of at least a tenth of full light with the darker below 0.8; a change is the whole swing
    from one extreme to the next, however many frames it takes, and counts where it arrives.
    Source: ITU-R BT.1702 and WCAG 2.3.1, general flash (from memory)."""
    turns = extremes(levels, FLASH_STEP)
    ends = np.asarray(levels, dtype=np.float64)[turns]
    arrive = np.array(turns[1:], dtype=np.intp)[np.minimum(ends[1:], ends[:-1]) < FLASH_DARK]
    if len(arrive) < 2:
        return 0, 1
    after = np.searchsorted(arrive, arrive + max(round(fps), 1), side="left")
    pairs = (after - np.arange(len(arrive))) // 2
    most = int(pairs.argmax())
    return (int(pairs[most]), int(arrive[most]) + 1) if pairs[most] else (0, 1)


def extremes(levels: Array, swing: float) -> list[int]:
    """Where a curve turns (indices), peaks and troughs in turn that lie at least `swing` apart,
    with the ends of its first and last such swing."""
    values = np.asarray(levels, dtype=np.float64)
    # Rising values are followed to their peak; falling ones are the same upside down.
    turns: list[int] = []
    way, at, low, high = 0.0, 0, 0, 0
    # A float's last digits do not make a swing too small.
    enough = swing - 1e-9
    for i, value in enumerate(values.tolist()):
        if way:
            if way * (value - values[at]) > 0.0:
                at = i
            elif way * (values[at] - value) >= enough:
                turns.append(at)
                way, at = -way, i
            continue
        low = i if value < values[low] else low
        high = i if value > values[high] else high
        if values[high] - values[low] >= enough:
            turns.append(min(low, high))
            way, at = (1.0 if high > low else -1.0), i
    return [*turns, at] if way else []


def table(found: Curve) -> list[tuple[int, float, float]]:
    """(frame from 1, seconds, level in percent) of every frame."""
    return [
        (i + 1, round(i / found.fps, 4), round(float(level) * 100.0, 1))
        for i, level in enumerate(found.levels)
    ]
