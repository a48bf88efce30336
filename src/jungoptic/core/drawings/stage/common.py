"""What the side elevation and the plan share."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ...camera import Array
from ...plan.standins import StandIn, strokes
from ...stage.backing import backing
from ...stage.case import Case
from ...stage.rooms import RoomFit
from ...words.drawing import Dimension, Drawing, Note, Point, Shape, bounds_of
from ...words.strokes import end_to_end


def things_in_order(case: Case) -> list[StandIn]:
    """The plate's things in drawing order: the ground first, so that it hides nothing."""
    return sorted(case.shot.stand_ins_of(case.plate), key=lambda s: s.kind != "ground")


@dataclass(frozen=True)
class Footprints:
    """Things as they stand on a stage: the points (n, 3) that draw them, laid end to end, and where
    each one's are."""

    things: tuple[StandIn, ...]
    points: Array
    parts: list[slice]

    def hulls(self) -> list[tuple[Point, ...]]:
        """Their outlines from above."""
        return hulls_from_above(self.points, self.parts)

    def from_the_side(self) -> list[tuple[float, float, float, float]]:
        """Nearest, farthest, lowest and highest of each."""
        if not self.things:
            return []
        starts = [part.start for part in self.parts]
        low = np.minimum.reduceat(self.points[:, 1:], starts, axis=0)
        high = np.maximum.reduceat(self.points[:, 1:], starts, axis=0)
        ends = np.stack([low[:, 0], high[:, 0], low[:, 1], high[:, 1]], axis=1)
        return [tuple(row) for row in ends.tolist()]


def footprints(case: Case) -> Footprints:
    """All things of the plate, in drawing order."""

    def make() -> Footprints:
        things = tuple(things_in_order(case))
        points, parts = end_to_end([strokes(thing) for thing in things])
        return Footprints(things, case.plate.on_stage(points), parts)

    return case.once("footprints", make)


def as_points(us: Array, vs: Array) -> tuple[Point, ...]:
    return tuple(zip(np.round(us, 5).tolist(), np.round(vs, 5).tolist(), strict=True))


#: What belongs to the room rather than to the stage: it does not make the drawing smaller.
OF_THE_ROOM = frozenset(
    {
        "wall",
        "fixed",
        "tape",
        "support",
        "ground",
        "beam",
        "shadow",
        "penumbra",
        "sweep",
        "sun",
        "keepout",
        "way",
    }
)


def framed(
    view: str,
    shapes: list[Shape],
    dims: list[Dimension],
    notes: list[Note],
    fit: RoomFit | None,
) -> Drawing:
    """The drawing with its two rectangles: of the stage, and of the room it stands in."""
    own = [s for s in shapes if s.stand_in_id or s.role not in OF_THE_ROOM]
    return Drawing(
        view,
        bounds_of(own),
        tuple(s for s in shapes if s.role),
        tuple(dims),
        tuple(notes),
        None if fit is None else bounds_of(shapes),
    )


Flat = Callable[[float, float, float], Point]


def drawn_to_m(case: Case) -> float:
    """How far ahead the drawings go: past the farthest thing or the screen."""
    scale = case.plate.scale
    ends = [(s.y_m + s.depth_m) / scale for s in things_in_order(case) if s.kind != "ground"]
    screen = backing(case)
    if screen is not None:
        ends.append(screen.distance_m)
    if not ends:
        ends = [case.stage.focus_m if math.isfinite(case.stage.focus_m) else 3.0 / scale]
    return max(max(ends) * 1.06, case.stage.sensor_to_pupil_m * 3)


def ray_to_edge(start: Point, angle: float, far: float, top: float) -> tuple[Point, Point]:
    """A ray from the lens to the far end of the drawing, or to its top or the ground."""
    reach = far - start[0]
    if angle > 0 and start[1] + reach * math.tan(angle) > top:
        reach = (top - start[1]) / math.tan(angle)
    if angle < 0 and start[1] + reach * math.tan(angle) < 0:
        reach = -start[1] / math.tan(angle)
    return start, (start[0] + reach, start[1] + reach * math.tan(angle))


def convex_hull(points: Array) -> tuple[Point, ...]:
    """Convex outline of points (n, 2), by Andrew's monotone chain."""
    return _hull(np.round(points, 5).tobytes())


def hulls_from_above(points: Array, parts: Sequence[slice]) -> list[tuple[Point, ...]]:
    """Convex outlines of parts of points (n, 3) as a plan shows them."""
    flat = np.round(np.stack([points[:, 1], -points[:, 0]], axis=1), 5)
    return [_hull(flat[part].tobytes()) for part in parts]


@lru_cache(maxsize=4096)
def _hull(points: bytes) -> tuple[Point, ...]:
    """Kept: while one thing is dragged all others stay where they are."""
    rows: list[Point] = sorted({(x, y) for x, y in np.frombuffer(points).reshape(-1, 2).tolist()})
    if len(rows) < 3:
        return tuple(rows)

    def half(ordered: list[Point]) -> list[Point]:
        out: list[Point] = []
        for x, y in ordered:
            while len(out) > 1:
                (ox, oy), (ax, ay) = out[-2:]
                if (ax - ox) * (y - oy) - (ay - oy) * (x - ox) > 0:
                    break
                out.pop()
            out.append((x, y))
        return out[:-1]

    return tuple(half(rows) + half(rows[::-1]))
