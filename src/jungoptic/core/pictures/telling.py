"""From the rows of a measured clip to what is kept of it, and to its drawing."""

from __future__ import annotations

import math
import warnings

import numpy as np
from numpy.typing import NDArray
from scipy.signal import savgol_filter

from ..camera import Array
from .heard import Hearing
from .ran import SMOOTH, TOLD, Jump, Ran, Swing
from .run import Run, stretches
from .sequence import flicker
from .tone import Flags

#: A step from frame to frame is a jump when it is so many times what steps usually are, and at
#: least this part of the picture's width: a fifth of a pixel in full HD.
JUMPS, LEAST_JUMP = 6.0, 1e-4
#: At most so many jumps are kept, the largest; and so many frames by number.
MOST_JUMPS, MOST_NAMED = 12, 200
#: Whether a jump lasts is told by so many frames before and after it.
AROUND = 6
#: A pulse holds so much of what the light does, and comes at least so often.
PULSES, LEAST_PULSES = 0.5, 4
#: A drawing of it has at most so many steps across.
DRAWN = 480


def told(run: Run) -> Ran:
    """What is kept of what was measured."""
    period, pulse = _pulse(run.light)
    shift = run.shift
    middle = _median(shift)
    off = np.hypot(*(shift - middle).T)
    few = min(max(run.frames // 10, 1), 24)
    doubles = run.doubles
    rows, columns = run.moved.shape[1:]
    flat = run.moved.reshape(len(run.moved), -1)
    first = np.where(flat.any(axis=0), flat.argmax(axis=0) * run.stride + 1, 0)
    return Ran(
        frames=run.frames,
        light=_swing(run.light),
        thirds=tuple(s for i in range(3) if (s := _swing(run.thirds[:, i])) is not None),
        drift_stops=_drift(run.light[:few], run.light[-few:]),
        pulse_frames=period,
        pulse_percent=pulse,
        jumps=_jumps(shift),
        creep=_apart(_median(shift[:few]), _median(shift[-few:])),
        wander=float(np.nanmax(off)) if np.isfinite(off).any() else 0.0,
        shake=_shake(shift),
        lost=int(np.isnan(shift[:, 0]).sum()),
        doubles=tuple(frame + 1 for frame in doubles[:MOST_NAMED]),
        doubled=len(doubles),
        columns=columns,
        rows=rows,
        first=tuple(int(v) for v in first),
        count=tuple(int(v) for v in flat.sum(axis=0)),
        looked=len(flat),
        calm=_calm(run),
        grain=run.grain,
        scatter=_scatter(shift),
        turn=run.turn,
    )


def _drift(start: Array, end: Array) -> float | None:
    """How much brighter the end is; None where either cannot be told."""
    one, two = (x[np.isfinite(x)] for x in (start, end))
    return float(np.median(two) - np.median(one)) if len(one) and len(two) else None


def _swing(stops: Array) -> Swing | None:
    """None where the light cannot be told throughout."""
    if len(stops) < 2 or not np.isfinite(stops).all():
        return None
    found = flicker(2.0**stops)
    worst = found.worst_frame
    near = stops[max(worst - 3, 0) : worst] if worst else stops[1:4]
    brighter = stops[worst] >= float(np.median(near))
    percent = found.worst_percent if brighter else -found.worst_percent
    return Swing(worst + 1, percent, found.rms_percent)


def _median(rows: Array) -> Array:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)
        found: Array = np.nan_to_num(np.nanmedian(rows, axis=0))
    return found


def _shake(shift: Array) -> float:
    """How far frames lie from the middle of those around each."""
    around = [_median(shift[max(i - AROUND, 0) : i + AROUND + 1]) for i in range(len(shift))]
    off = (shift - np.array(around))[np.isfinite(shift[:, 0])]
    return float(np.sqrt(np.mean((off**2).sum(axis=1)))) if len(off) else 0.0


def _scatter(shift: Array) -> tuple[float, float] | None:
    """How far frames lie at most off the smooth path among those around each (Savitzky and Golay
    1964: a parabola through them)."""
    known = np.isfinite(shift[:, 0])
    if len(shift) < SMOOTH or known.mean() < TOLD:
        return None
    frames = np.arange(len(shift))
    whole = np.column_stack([np.interp(frames, frames[known], row[known]) for row in shift.T])
    off = np.abs(whole - savgol_filter(whole, SMOOTH, 2, axis=0))[known]
    right, down = off.max(axis=0)
    return float(right), float(down)


def _apart(one: Array, two: Array) -> tuple[float, float]:
    right, down = two - one
    return float(right), float(down)


def _jumps(shift: Array) -> tuple[Jump, ...]:
    steps = np.diff(shift, axis=0)
    size = np.hypot(steps[:, 0], steps[:, 1])
    known = size[np.isfinite(size)]
    if len(known) == 0:
        return ()
    least = max(JUMPS * float(np.median(known)), LEAST_JUMP)
    found = []
    for i in np.flatnonzero(np.nan_to_num(size) > least):
        before, after = (
            _median(shift[max(i + 1 - AROUND, 0) : i + 1]),
            shift[i + 1 : i + 1 + AROUND],
        )
        # One frame that differs, and the step back: only the step away is told.
        usual = _median(before)
        back = _median(after) - usual
        stays = float(np.hypot(*back)) > 0.5 * float(size[i])
        gone = float(np.hypot(*(shift[i] - usual))) > 0.5 * float(size[i])
        if not stays and gone:
            continue
        found.append(Jump(int(i) + 2, float(steps[i, 0]), float(steps[i, 1]), stays))
    found.sort(key=lambda jump: -math.hypot(jump.right, jump.down))
    return tuple(found[:MOST_JUMPS])


def _pulse(stops: Array) -> tuple[float | None, float]:
    """(frames from one crest of the light to the next, its height in percent); None without one: by
    the strongest line of its spectrum."""
    n = len(stops)
    if n < 2 * LEAST_PULSES or not np.isfinite(stops).all():
        return None, 0.0
    at = np.arange(n)
    rest = stops - np.polyval(np.polyfit(at, stops, 1), at)
    power = np.abs(np.fft.rfft(rest * np.hanning(n))) ** 2
    power[:LEAST_PULSES] = 0.0
    total = float(power.sum())
    k = int(np.argmax(power))
    around = float(power[max(k - 2, 0) : k + 3].sum())
    if total <= 0.0 or around < PULSES * total:
        return None, 0.0
    # Between the lines of the spectrum, by the weight of its neighbours.
    places = np.arange(max(k - 2, 0), min(k + 3, len(power)))
    line = float((places * power[places]).sum() / power[places].sum())
    stop_height = math.sqrt(2.0 * float(np.mean(rest**2)) * around / total)
    return n / line, (2.0**stop_height - 1.0) * 100.0


def _calm(run: Run) -> tuple[int, int] | None:
    still: Flags = np.logical_not(run.moved.reshape(len(run.moved), -1).any(axis=1))
    found = max(stretches(still), key=lambda s: s[1] - s[0], default=None)
    if found is None:
        return None
    first, behind = found
    return first * run.stride + 1, min((behind - 1) * run.stride + 1, run.frames)


def drawn(run: Run, most: int = DRAWN) -> dict[str, list[list[float | None]]]:
    """Its rows for a drawing, at most so many steps each: [lowest, highest] of the frames in each
    step, None where nothing was told. `light`, `left`, `middle`, `right`: percent against the first
    frame; `across`, `down`: parts of the width; `moved`: the part of the picture in which something
    is that mostly is not."""
    rows = {
        "light": (2.0**run.light - 1.0) * 100.0,
        **{
            name: (2.0 ** run.thirds[:, i] - 1.0) * 100.0
            for i, name in enumerate(("left", "middle", "right"))
        },
        "across": run.shift[:, 0],
        "down": run.shift[:, 1],
        "moved": run.moved.reshape(len(run.moved), -1).mean(axis=1),
    }
    return {name: _steps(values, most) for name, values in rows.items()}


def drawn_loud(hearing: Hearing, lasts_s: float, most: int = DRAWN) -> list[list[float | None]]:
    """Loudness for a drawing over `lasts_s` seconds of pictures: decibels under the most, lowest
    and highest of each step; None where there is no sound."""
    loud, begins = hearing.loud_db, hearing.seconds(0.0)
    each = hearing.seconds(1.0) - begins
    whole = np.full(max(round(lasts_s / each), 1), np.nan, np.float32)
    first = round(begins / each)
    # Sound may begin before the first picture or after it.
    into, part = max(first, 0), loud[max(-first, 0) :]
    count = max(min(len(part), len(whole) - into), 0)
    whole[into : into + count] = part[:count]
    return _steps(whole, most)


def _steps(values: Array | NDArray[np.float32], most: int) -> list[list[float | None]]:
    # Every step lies where it is drawn: as much of the whole before it as of the drawing.
    edges = np.round(np.linspace(0, len(values), min(most, len(values)) + 1)).astype(int)
    found: list[list[float | None]] = []
    for part in np.split(values, edges[1:-1]):
        known = part[np.isfinite(part)]
        low, high = (float(known.min()), float(known.max())) if len(known) else (None, None)
        found.append([None if v is None else round(v, 7) for v in (low, high)])
    return found
