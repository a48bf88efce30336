"""A to-scale drawing as a list of primitives, in stage metres.

The core decides what is drawn and where; the browser and the PDF only set it down. In an
elevation u is the distance ahead of the lens and v the height; in a plan, laid out under it, u is
the same distance and v runs to the left of the camera.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

Point = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """A polyline or, when `closed`, a filled outline. `role` says what it means, and so how it
    looks: ground, camera, lens, ray, axis, focus, figure, box, card, screen, table, wall, lamp,
    path, tape and so on; `lacking` is what a room or a screen is short of. `stand_in_id` and
    `lamp` (its number among the lamps placed) say what is held when it is dragged."""

    role: str
    points: tuple[Point, ...]
    closed: bool = False
    stand_in_id: str | None = None
    lamp: int | None = None


@dataclass(frozen=True)
class Dimension:
    """A dimension line from `start` to `end` measuring `value_m`, with the words beside it.

    `lift` moves the line aside, in steps of a text line: + is up for a level line and to the left
    for an upright one. `editable` names the decision that a drag along it changes, if any.
    """

    start: Point
    end: Point
    value_m: float
    label: str
    lift: int = 0
    editable: str | None = None


@dataclass(frozen=True)
class Note:
    """A few words at a place."""

    at: Point
    text: str


@dataclass(frozen=True)
class Drawing:
    """Primitives, and the rectangle (u0, v0, u1, v1) that shows the stage; `room` is the one that
    shows the room around it as well, the same without a room."""

    view: str
    bounds: tuple[float, float, float, float]
    shapes: tuple[Shape, ...]
    dimensions: tuple[Dimension, ...]
    notes: tuple[Note, ...]
    room: tuple[float, float, float, float] | None = None


def bounds_of(shapes: list[Shape], margin: float = 0.06) -> tuple[float, float, float, float]:
    """The rectangle around all points of `shapes`, with a margin of a part of its larger side."""
    us = [u for shape in shapes for u, _ in shape.points]
    vs = [v for shape in shapes for _, v in shape.points]
    edge = max(max(us) - min(us), max(vs) - min(vs), 1e-6) * margin
    return min(us) - edge, min(vs) - edge, max(us) + edge, max(vs) + edge


def share_distances(upper: Drawing, lower: Drawing) -> tuple[Drawing, Drawing]:
    """The same two drawings with one range of u, so that distances line up one above the other."""

    def widened(drawing: Drawing) -> Drawing:
        u0 = min(upper.bounds[0], lower.bounds[0])
        u1 = max(upper.bounds[2], lower.bounds[2])
        bounds = (u0, drawing.bounds[1], u1, drawing.bounds[3])
        if upper.room is None or lower.room is None or drawing.room is None:
            return replace(drawing, bounds=bounds)
        r0, r1 = min(upper.room[0], lower.room[0]), max(upper.room[2], lower.room[2])
        return replace(drawing, bounds=bounds, room=(r0, drawing.room[1], r1, drawing.room[3]))

    return widened(upper), widened(lower)
