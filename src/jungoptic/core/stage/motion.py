"""How a plate's things move through the picture, as far as it shows them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import SHOULDER_FRACTION, StandIn
from .in_frame import in_story, own_things
from .seen import Seen
from .solids import Numbers


@dataclass(frozen=True)
class Moment:
    """A thing at its worst: delivered pixels a played frame, how wide it is along its way in the
    picture, and the frame (from 1)."""

    stand_in: StandIn
    step_px: float
    width_px: float
    frame: int


@dataclass(frozen=True)
class Motion:
    """Movement of a plate's things in the story's picture, of what is in frame: what crosses it
    `fastest`, what jumps farthest for its width (`jumping`), what goes `sideways` fastest (its
    middle: what only comes nearer stays where it is) and what goes up or down fastest (`upwards`).
    None of them where nothing is ever in frame.

    All are as a plate films them, without what a zoom in post adds, in pixels as delivered
    (`sideways`, `upwards`: of the widest view, of which the rows are read). `slowest_px`: of
    anything at any frame, as the story shows it, zoom and all."""

    fastest: Moment | None
    jumping: Moment | None
    sideways: Moment | None
    slowest_px: float
    upwards: Moment | None = None

    @property
    def still(self) -> bool:
        """Whether nothing moves at all."""
        return self.fastest is None or self.fastest.step_px <= 1e-9


NOTHING = Motion(None, None, None, 0.0)


def image_motion(shot: Shot, plate: Plate) -> Motion:
    """How `plate`'s things move in the world picture: the story's own camera and times, which every
    plate has to show."""
    found = in_story(shot)
    own = own_things(shot, plate)
    return found.once(f"motion {plate.id}", lambda: _motion(found, own, shot.move.widest))


def _motion(found: Seen, own: tuple[StandIn, ...], widest: float) -> Motion:
    rows = found.numbers(own)
    if not found.shows[rows].any():
        return NOTHING
    filmed = found.before_zoom
    closer = found.path.closer
    fast = _or_none(filmed.steps.fastest_px[rows] * closer)
    wide = _along_the_way(filmed, own, rows) * closer
    drift = filmed.steps.drift_px[:, rows] * widest
    with np.errstate(divide="ignore", invalid="ignore"):
        jump = np.where(fast > 0.0, fast / wide, fast)
    aside, up = (_or_none(np.abs(way)) for way in drift)

    def worst(of: Array, step: Array) -> Moment:
        thing, frame = divmod(int(of.argmax()), of.shape[1])
        px = max(float(step[thing, frame]), 0.0)
        return Moment(own[thing], px, float(wide[thing, frame]), found.number(frame))

    # NaN where all that is in frame is gone a frame later.
    slowest = np.nan_to_num(float(np.fmin.reduce(found.steps.slowest_px[rows], axis=None)))
    return Motion(worst(fast, fast), worst(jump, fast), worst(aside, aside), slowest, worst(up, up))


def _or_none(px: Array) -> Array:
    """Minus one where nothing is in the picture."""
    return np.where(np.isnan(px), -1.0, px)


def _along_the_way(found: Seen, own: tuple[StandIn, ...], rows: Numbers) -> Array:
    """How wide each thing is (t, f) along the way it goes in the picture, the part outside the
    picture too."""
    across, down = found.size_px[:, rows]
    figure = np.array([s.kind == "figure" for s in own])[:, None]
    across = np.where(figure, shoulders(across, down), across)
    return along_way(across, down, found.steps.drift_px[:, rows])


def shoulders(across: Array, down: Array) -> Array:
    """How wide a figure is whose points lie so far apart across and down the picture: it is round,
    and at least its shoulders wide."""
    wide: Array = np.maximum(across, SHOULDER_FRACTION * down)
    return wide


def along_way(across: Array, down: Array, way: Array) -> Array:
    """How wide what is so large across and down is along its `way` (2, ...); what goes nowhere, by
    its smaller side. All in pixels."""
    way = np.abs(way)
    length = np.hypot(way[0], way[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        # As far as a box of that size goes along its way until it covers itself no more.
        along = np.fmin(across * length / way[0], down * length / way[1])
    width: Array = np.where(np.isfinite(along), along, np.minimum(across, down))
    return width
