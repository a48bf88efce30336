"""Moves: how they ease, and how they fall into whole steps of a rig."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from itertools import pairwise
from math import floor, fsum
from typing import Any, Literal

from .checks_on_input import finite, positive, whole

Ease = Literal["even", "in", "out", "both"]


def eased(part: float, ease: Ease) -> float:
    """How far a move has come (0..1) after `part` (0..1) of its time.

    even: constant speed; in: starts from rest, t^2; out: comes to rest, 1 - (1 - t)^2; both:
    3 t^2 - 2 t^3. All end at 1. Outside 0..1 it stays where it began or ended.
    """
    return float(ease_of(min(max(part, 0.0), 1.0), ease))


def ease_of(t: Any, ease: Ease) -> Any:
    """`eased` for times that lie in 0..1 already: a number, or a NumPy array of them."""
    if ease == "even":
        return t
    if ease == "in":
        return t * t
    if ease == "out":
        return 1.0 - (1.0 - t) * (1.0 - t)
    return t * t * (3.0 - 2.0 * t)


def quantise(increments: Iterable[float], step: float) -> list[int]:
    """Whole steps per frame for the wanted `increments` (same unit as `step`).

    The remainder is carried, so the running total is never off by more than half a step,
    however long the move. Summed as exact fractions: no rounding error accumulates either.

    Raises Impossible unless the step is above zero and every increment finite.
    """
    unit = Fraction(positive("step", step))
    wanted, taken, steps = Fraction(0), 0, []
    for increment in increments:
        wanted += Fraction(finite("increment", increment))
        reached = floor(wanted / unit + Fraction(1, 2))
        steps.append(reached - taken)
        taken = reached
    return steps


def eased_increments(distance: float, frames: int, ease: Ease, ramp_frames: int = 0) -> list[float]:
    """How far a move goes from each frame to the next: `frames` parts that sum to `distance`, in
    its unit.

    Without a ramp it eases as `eased` does. With one it speeds up, slows down or both evenly over
    so many frames (1, 2, 3 ... parts of its full speed) and is steady between: how a crank is
    turned by count (common practice). An even move has no ramp.

    Raises Impossible unless the distance is finite, frames and ramp are whole, there is a frame at
    least, and the ramp is 0 or more.
    """
    finite("distance", distance)
    count = whole("frames", frames, 1)
    ramp = whole("ramp frames", ramp_frames, 0, "ramp_frames")
    if ramp and ease != "even":
        speeds = [
            min(
                ramp,
                frame + 1 if ease in ("in", "both") else ramp,
                count - frame if ease in ("out", "both") else ramp,
            )
            for frame in range(count)
        ]
        total = sum(speeds)
        parts = [distance * speed / total for speed in speeds]
    else:
        gone = [distance * eased(frame / count, ease) for frame in range(count + 1)]
        parts = [after - before for before, after in pairwise(gone)]
    # What rounding leaves over goes where it is least seen: into the longest part.
    longest = max(range(count), key=lambda frame: abs(parts[frame]))
    parts[longest] += distance - fsum(parts)
    return parts


def take_up(steps: Sequence[int], backlash: int) -> list[int]:
    """Steps with the play of the gears taken up: `backlash` steps more, in the new direction, in
    the first step after each reversal. The move before is taken to have ended against its gears.

    Raises Impossible for a backlash that is no whole number, 0 or more.
    """
    play, way, taken = whole("backlash", backlash, 0), 0, []
    for step in steps:
        sign = (step > 0) - (step < 0)
        turned = sign != 0 and way not in (0, sign)
        taken.append(step + sign * play if turned else step)
        way = sign or way
    return taken


def layer_px_per_frame(focal_px: float, speed_m_s: float, distance_m: float, fps: float) -> float:
    """How far the picture of a layer moves in a frame as the camera passes it, or it the camera,
    at right angles to the lens axis: f_px v / (d fps). Layers that keep together go at speeds in
    the ratio of their distances.

    Raises Impossible unless focal length, distance and rate are above zero and the speed finite.
    Source: pinhole projection (any text on photogrammetry).
    """
    away = positive("distance", distance_m) * positive("fps", fps)
    return positive("focal length", focal_px) * finite("speed", speed_m_s) / away
