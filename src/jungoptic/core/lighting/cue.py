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
    """Slow swells with quicker, weaker flicker on them: noise that falls with frequency."""
    rng = np.random.default_rng(cue.seed)
    total = np.zeros_like(t)
    weight = 0.0
    for k in range(1, 7):
        frequency = max(cue.per_s, 0.05) * 0.5 * k * rng.uniform(0.8, 1.25)
        size = 1.0 / k
        total += size * np.sin(2.0 * math.pi * (frequency * t + rng.uniform()))
        weight += size
    # Fire dips deep and seldom, and mostly burns bright.
    return np.asarray(1.0 - (0.5 - 0.5 * total / weight * 1.6).clip(0.0, 1.0) ** 1.5)


def _lightning(cue: Cue, t: Array, fps: float) -> Array:
    """Strokes at uneven times, each a leader and one or two echoes that die away in a tenth of a
    second."""
    rng = np.random.default_rng(cue.seed)
    total = np.zeros_like(t)
    at = rng.exponential(0.3 / max(cue.per_s, 0.05))
    while at <= (t[-1] if len(t) else 0.0) + 1e-9:
        for echo in range(int(rng.integers(1, 4))):
            begin = at + echo * rng.uniform(0.08, 0.16)
            start = math.floor(begin * fps) / fps
            size = rng.uniform(0.55, 1.0) if echo else 1.0
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


def flashes(levels: Array, fps: float) -> tuple[int, int]:
    """(most flashes in any one second, its first frame from 1). A flash is a pair of opposing
    changes of at least a tenth of full light with the darker below 0.8. Source: ITU-R BT.1702 (from
    memory)."""
    # Turning points first: changes are counted from trough to peak, not frame by frame.
    turns: list[int] = []
    last, way = float(levels[0]), 0
    for i in range(1, len(levels)):
        step = float(levels[i]) - last
        if way >= 0 and step <= -FLASH_STEP and min(last, float(levels[i])) < FLASH_DARK:
            turns.append(i)
            way, last = -1, float(levels[i])
        elif way <= 0 and step >= FLASH_STEP and min(last, float(levels[i])) < FLASH_DARK:
            turns.append(i)
            way, last = 1, float(levels[i])
        elif (way >= 0 and step > 0) or (way <= 0 and step < 0):
            last = float(levels[i])
    if not turns:
        return 0, 1
    begins = np.array(turns)
    ends = np.searchsorted(begins, begins + max(round(fps), 1), side="left")
    pairs = (ends - np.arange(len(begins))) // 2
    most = int(pairs.argmax())
    return (int(pairs[most]), int(begins[most]) + 1) if pairs[most] else (0, 1)


def table(found: Curve) -> list[tuple[int, float, float]]:
    """(frame from 1, seconds, level in percent) of every frame."""
    return [
        (i + 1, round(i / found.fps, 4), round(float(level) * 100.0, 1))
        for i, level in enumerate(found.levels)
    ]
