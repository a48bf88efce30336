"""What is kept of a clip that was measured frame by frame: enough to judge it, and to draw it."""

from __future__ import annotations

from dataclasses import dataclass

from .heard import Heard
from .turn import Turn

#: A path is smooth over so many frames, a second of film; and told by such a part of them at least.
SMOOTH, TOLD = 25, 0.8


@dataclass(frozen=True)
class Swing:
    """The light of a clip or of a third of it, frame by frame: the frame (from 1) that stands out
    most, by how many percent (+ brighter), and how much frames stand off its slow course, root mean
    square."""

    frame: int
    percent: float
    rms_percent: float


@dataclass(frozen=True)
class Jump:
    """The picture moved between a frame (from 1) and the one before, parts of its width, right and
    down. `stays`: it did not come back."""

    frame: int
    right: float
    down: float
    stays: bool


@dataclass(frozen=True)
class Ran:
    """A clip, measured. Frames count from 1.

    `light`: of the whole; `thirds`: left, middle and right. `drift_stops`: its end against its
    beginning. `pulse_frames`: the light comes and goes in so many frames, by `pulse_percent` to
    each side; None: it does not.

    `jumps`, largest first; `creep` (right, down): its last frames against its first; `wander`: how
    far it ever lies from where it usually does; `shake`: how far it lies from the middle of the
    frames around each, root mean square; all parts of its width. `lost`: frames in which too
    little stood to tell.

    `doubles`: frames taken twice, the first of them; `doubled`: how many. `first` and `count`: of
    each of `columns` x `rows` tiles, row by row, the first frame (0: none) in which something was
    there that mostly is not, and in how many of the `looked` frames. `calm`: the longest stretch,
    first and last, in which nothing was. `grain`: root mean square as recorded, 0..1.
    """

    frames: int
    light: Swing | None
    thirds: tuple[Swing, ...]
    drift_stops: float | None
    pulse_frames: float | None
    pulse_percent: float
    jumps: tuple[Jump, ...]
    creep: tuple[float, float]
    wander: float
    shake: float
    lost: int
    doubles: tuple[int, ...]
    doubled: int
    columns: int
    rows: int
    first: tuple[int, ...]
    count: tuple[int, ...]
    looked: int
    calm: tuple[int, int] | None
    grain: float | None
    #: How far at most it lies off a smooth path, right or left and up or down, parts of its width:
    #: what steadying takes off each side. None where too little stood to tell.
    scatter: tuple[float, float] | None = None
    #: What is heard in it; None where it has no sound.
    heard: Heard | None = None
    #: The turn of what spins in it; None where nothing comes round again.
    turn: Turn | None = None

    @property
    def told_frames(self) -> list[int]:
        """Frames that something is said of: worth a look."""
        found = [self.light.frame] if self.light else []
        found += [jump.frame for jump in self.jumps[:3]] + list(self.doubles[:3])
        return sorted({min(max(frame, 1), self.frames) for frame in found})
