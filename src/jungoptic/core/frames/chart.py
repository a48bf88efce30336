"""The chart of one axis: how far it is moved before each frame, in whole steps of its rig."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import pi

import numpy as np
from scipy.interpolate import PchipInterpolator

from ..camera import Array
from ..impossible import Impossible
from ..moves import eased_increments, quantise, take_up
from ..plan.kit import TURNING, MoveRig, RigAxis
from ..plan.sheet import Leg

#: A turn of so many steps is counted in turns, since its parts are easily said; others in steps.
SAID_IN_TURNS = frozenset({1, 2, 4})
#: A jerk is taken out of a move in no more than so many times its frames; in more than so many
#: what they do is not tried out.
MOST_STRETCHED, MOST_TRIED = 10, 2_000


@dataclass(frozen=True)
class Chart:
    """How an axis goes, millimetres or degrees by `unit`. Each (n,), one for every frame.

    `wanted`: the place at the frame, 0 where it begins; `steps`: whole steps before the frame, and
    `turned` the same with the play of the gears taken up; `reached`: where those steps bring it.
    Without a rig there are no steps, and it is taken to reach what is wanted.
    """

    axis: RigAxis
    wanted: Array
    rig: MoveRig | None
    steps: tuple[int, ...]
    turned: tuple[int, ...]
    reached: Array
    #: How much of its legs lies beyond the last frame.
    beyond: float = 0.0

    @property
    def unit(self) -> str:
        """Degrees where it turns, else millimetres."""
        return "deg" if self.axis in TURNING else "mm"

    @property
    def still(self) -> bool:
        """Whether it never moves."""
        return not bool(np.ptp(self.wanted))

    @property
    def increments(self) -> Array:
        """How far it goes before each frame."""
        return np.diff(self.wanted, prepend=0.0)

    @property
    def counted_in(self) -> str:
        """What a hand counts: turns, or steps where their parts of a turn are not easily said; the
        unit of the way itself without a rig."""
        if self.rig is None:
            return self.unit
        return "turns" if self.rig.steps_per_turn in SAID_IN_TURNS else "steps"

    @property
    def counts(self) -> list[float]:
        """How far a hand moves it before each frame, the play taken up, in `counted_in`."""
        if self.rig is None:
            return [float(way) for way in self.increments]
        part = self.rig.steps_per_turn if self.counted_in == "turns" else 1
        return [turned / part for turned in self.turned]

    @property
    def _ways(self) -> Array:
        """How far it is really moved before each frame: whole steps with a rig."""
        return self.increments if self.rig is None else np.array(self.steps, dtype=np.float64)

    @property
    def moved_at(self) -> list[int]:
        """The frames (from 1) before which it is really moved."""
        return [int(i) + 1 for i in np.flatnonzero(self._ways)]

    @property
    def turns_round(self) -> list[int]:
        """The frames before which it is moved the other way than last."""
        signs = np.sign(self._ways)
        return [b for a, b in pairwise(self.moved_at) if signs[a - 1] != signs[b - 1]]

    @property
    def travel(self) -> float:
        """How much of its way is used, from one end to the other."""
        return float(np.ptp(np.append(self.reached, 0.0)))

    @property
    def error(self) -> float:
        """The farthest that whole steps are from what is wanted: half a step at the most."""
        return float(np.abs(self.reached - self.wanted).max(initial=0.0))


def leg_increments(leg: Leg) -> list[float]:
    """How far a leg goes in each of its frames: by its curve where it has one, else by its ease.

    A curve runs from (0, 0) to (1, 1) through its points without overshooting between them
    (monotone cubic, Fritsch and Carlson 1980). Raises Impossible for less than a frame, and for
    two points of a curve at one moment.
    """
    if not leg.curve:
        return eased_increments(leg.way, leg.frames, leg.ease, leg.ramp_frames)
    inside = sorted((p.at, p.gone) for p in leg.curve if 0.0 < p.at < 1.0)
    points = [(0.0, 0.0), *inside, (1.0, 1.0)]
    if any(b[0] - a[0] < 1e-6 for a, b in pairwise(points)):
        raise Impossible("Two points of the curve lie at one moment: remove one.", "curve")
    if leg.frames < 1:
        raise Impossible("frames must be a whole number, 1 or more.", "frames")
    at, gone = zip(*points, strict=True)
    # A step next to nothing has no slope: its harmonic mean divides past all bounds to find none.
    with np.errstate(over="ignore"):
        curve = PchipInterpolator(at, gone)
    drawn = curve(np.linspace(0.0, 1.0, leg.frames + 1)) * leg.way
    drawn[-1] = leg.way
    return [float(part) for part in np.diff(drawn)]


def jolt_of(leg: Leg) -> float:
    """The sharpest change of pace of a leg between two frames, rest before and after it, in its
    unit a frame."""
    pace = np.array([0.0, *leg_increments(leg), 0.0])
    return float(np.abs(np.diff(pace)).max())


def calmer(leg: Leg, frame: int, part: float) -> Leg | None:
    """The same way with changes of pace `part` (0..1) as sharp: where it starts or stops short at
    `frame`, with the shortest ramps that do in the same frames; else, or where none do, in about as
    few frames as do. None where even `MOST_STRETCHED` times as many are too few.

    Raises Impossible as `leg_increments` does.
    """
    limit = jolt_of(leg) * part
    if part * MOST_STRETCHED**2 < 0.1 or not limit:
        return None
    base = leg
    if _is_hard(leg, frame):
        # A ramp of r frames changes pace by the way over r (n + 1 - r), which grows to the middle.
        count = leg.frames + 1.0
        rest = count**2 - 4.0 * abs(leg.way) / limit
        ramp = 0 if rest < 0.0 else max(math.ceil((count - math.sqrt(rest)) / 2.0 - 1e-9), 2)
        base = replace(leg, ease="both", ramp_frames=0, curve=())
        if 2 <= ramp <= leg.frames // 2:
            return replace(base, ramp_frames=ramp)
    # In twice the frames it changes pace a quarter as much.
    frames = max(math.ceil(leg.frames * math.sqrt(jolt_of(base) / limit)), leg.frames + 1)
    while frames <= MOST_STRETCHED * leg.frames:
        longer = _stretched(base, frames)
        if frames > MOST_TRIED or jolt_of(longer) <= limit:
            return longer
        frames = max(frames + 1, math.floor(frames * 1.03))
    return None


def _stretched(leg: Leg, frames: int) -> Leg:
    ramp = round(leg.ramp_frames * frames / leg.frames)
    return replace(leg, frames=frames, ramp_frames=ramp)


def _is_hard(leg: Leg, frame: int) -> bool:
    """Whether a leg without a curve goes from rest to its pace, or back, from one frame to the next
    about there."""
    if leg.curve or leg.ease == "both":
        return False
    late = frame >= leg.first - 1 + leg.frames / 2.0
    return leg.ease == "even" or leg.ease == ("in" if late else "out")


def along_legs(legs: Sequence[Leg], frames: int) -> tuple[Array, float]:
    """The place (n,) at each of `frames` frames, 0 before any leg; and how much of the legs is left
    when the last of them is over. Legs at the same time add up.

    Raises Impossible as `leg_increments` does, and for a leg that begins before the first frame.
    """
    parts, beyond = np.zeros(frames), 0.0
    for leg in legs:
        if leg.first < 1:
            raise Impossible("A move begins at frame 1 or later.", "first")
        ways = np.array(leg_increments(leg))
        inside = ways[: max(frames - leg.first + 1, 0)]
        parts[leg.first - 1 : leg.first - 1 + len(inside)] += inside
        beyond += float(np.abs(ways[len(inside) :]).sum())
    return np.cumsum(parts), beyond


def charted(axis: RigAxis, wanted: Array, rig: MoveRig | None = None, beyond: float = 0.0) -> Chart:
    """The chart of an axis that is to be at `wanted` (n,) at each frame, made with `rig`."""
    if rig is None:
        return Chart(axis, wanted, None, (), (), wanted, beyond)
    steps = quantise(np.diff(wanted, prepend=0.0).tolist(), rig.step)
    reached = np.cumsum(steps) * rig.step
    turned = tuple(take_up(steps, rig.play_steps))
    return Chart(axis, wanted, rig, tuple(steps), turned, reached, beyond)


def round_mm(turned_deg: Array, radius_mm: float) -> Array:
    """How far a mark at `radius_mm` from the middle goes round with a turn, millimetres."""
    way: Array = turned_deg / 180.0 * pi * radius_mm
    return way
