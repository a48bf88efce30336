"""A set from above, far up: its edges, where somebody can stand, what no arm reaches, its pieces,
camera, lamps, and the two ends of the tapes. u is to the right, v ahead of the lens."""

from __future__ import annotations

import math

from ..frames.laid_out import StandingPiece
from ..frames.set_report import SetReport
from ..stage.case import Case
from ..words.drawing import Drawing, Note, Point, Shape, bounds_of
from .stage.camera import camera_from_above
from .stage.light import lamp_shapes

#: A cross at the end of a tape, and half the width of a pose's mark, as parts of the drawing.
CROSS, POSE = 0.02, 0.008


def set_drawing(case: Case, found: SetReport) -> Drawing:
    """The set map as it is drawn, on screen and on paper: its bounds hold the set, its room camera
    and ends of tapes as well."""
    edges = found.edges
    camera = _upright(camera_from_above(case, *_camera(case)))
    whole = [Shape("table", edges.outline, True), *camera]
    ends = [(end.x_m, end.y_m) for end in found.fixed]
    whole += [Shape("fixed", (end,)) for end in ends]
    whole += [Shape("piece", piece.corners, True) for piece in found.laid]
    everything = bounds_of(whole)
    bounds = bounds_of([s for s in whole if s.role in ("table", "piece")])
    size = max(bounds[2] - bounds[0], bounds[3] - bounds[1])
    shapes = [whole[0], *_squares(found)]
    shapes += [Shape("stand", edges.line(side)) for side in found.sides]
    shapes += [_piece(piece) for piece in found.laid]
    shapes += [
        Shape("pose", _diamond(x, y, size * POSE), True)
        for thing in found.reached
        for x, y in thing.places
    ]
    shapes += _upright(lamp_shapes(case, lambda x, y, z: (y, -x)))
    shapes += camera
    for x, y in ends:
        arm = size * CROSS
        shapes.append(Shape("fixed", ((x - arm, y), (x + arm, y))))
        shapes.append(Shape("fixed", ((x, y - arm), (x, y + arm))))
    posed = {thing.thing_id for thing in found.reached}
    notes = [
        Note(_middle(piece), piece.name)
        for piece in found.laid
        if piece.key or piece.thing_id not in posed
    ]
    notes += [Note(thing.places[0], thing.name) for thing in found.reached if thing.places]
    notes += [Note((end.x_m, end.y_m), end.name) for end in found.fixed]
    return Drawing("set", bounds, tuple(shapes), (), tuple(notes), everything)


def _camera(case: Case) -> tuple[float, float]:
    camera = case.stage.camera
    return camera.position_m[1], math.radians(camera.pan_deg)


def _upright(shapes: list[Shape]) -> list[Shape]:
    """Shapes of a stage's plan, whose u is ahead and v to the left, with far up."""
    return [
        Shape(s.role, tuple((-v, u) for u, v in s.points), s.closed, s.stand_in_id, s.lamp)
        for s in shapes
    ]


def _piece(piece: StandingPiece) -> Shape:
    role = f"piece-{piece.opens}" if piece.opens else "piece" if piece.key else "box"
    return Shape(role, piece.corners, True, piece.key or None)


def _middle(piece: StandingPiece) -> Point:
    return piece.place(0.0, piece.depth_m / 2.0)


def _diamond(x: float, y: float, r: float) -> tuple[Point, ...]:
    return (x, y - r), (x + r, y), (x, y + r), (x - r, y)


def _squares(found: SetReport) -> list[Shape]:
    """What no arm reaches: squares beside one another as one strip, equal strips as one block, so
    that no seams are seen between them."""
    rows: dict[float, list[tuple[float, float]]] = {}
    for x, y, side in found.cells:
        strips = rows.setdefault(y, [])
        if strips and abs(strips[-1][1] - x) < side * 0.01:
            strips[-1] = (strips[-1][0], x + side)
        else:
            strips.append((x, x + side))
    high = found.cells[0][2] if found.cells else 0.0
    right, far = found.edges.right_m, found.edges.far_m
    # A strip with where it begins and where it ends so far.
    blocks: list[tuple[float, float, float, float]] = []
    for y in sorted(rows):
        for a, b in rows[y]:
            below = next(
                (k for k in blocks if k[:2] == (a, b) and abs(k[3] - y) < high * 0.01), None
            )
            if below is None:
                blocks.append((a, b, y, y + high))
            else:
                blocks[blocks.index(below)] = (a, b, below[2], y + high)
    shapes = []
    for a, b, low, top in blocks:
        r, t = min(b, right), min(top, far)
        shapes.append(Shape("beyond", ((a, low), (r, low), (r, t), (a, t)), True))
    return shapes
