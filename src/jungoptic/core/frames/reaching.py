"""What whoever animates reaches from where they can stand round a set, or in an opened piece of it.
Stage metres.

An arm is taken as a straight line from the shoulder, above the edge, to the hand, a little above
what is posed; what stands in that line is in its way.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.plate import Plate
from ..plan.set_map import Side
from ..slabs import through_box
from ..stage.case import Case
from ..stage.rooms import room_fit
from .laid_out import SetEdges, StandingPiece

#: How far in over a set somebody poses things, from its edge: 0.6 to 0.7 m (common practice).
USUAL_REACH_M = 0.65
#: So much farther by leaning over the set (judgement).
LEANS_M = 0.1
#: Heights of shoulder and knee as parts of a person's own (Drillis and Contini 1966, from memory).
SHOULDER, KNEE = 0.818, 0.285
#: Nobody stands nearer than this to the middle of the camera or of a lamp's stand (judgement), and
#: a person needs so much between a set and a wall, or in a trap door (judgement).
CAMERA_CLEAR_M, LAMP_CLEAR_M, PERSON_M = 0.4, 0.3, 0.45
#: Places to stand are tried this close to one another, and never more of them than that.
STEP_M, MOST_PLACES = 0.02, 400
#: A piece is at an edge when it comes this near to it.
AT_EDGE_M = 0.05


def shoulder_m(plate: Plate, height_m: float) -> float:
    """How high above this stage's ground the shoulder of somebody is: standing at a table, kneeling
    where the set stands on the floor."""
    if plate.table_m is None:
        return (SHOULDER - KNEE) * height_m
    return SHOULDER * height_m - plate.table_m


def open_sides(case: Case, edges: SetEdges, sides: Sequence[Side]) -> tuple[Side, ...]:
    """Those of `sides` with room for a person between the set and the walls."""
    fit = room_fit(case)
    if fit is None:
        return tuple(sides)
    free: dict[Side, float] = {
        "left": edges.left_m - fit.left_m,
        "right": fit.right_m - edges.right_m,
        "near": edges.near_m - fit.rear_m,
        "far": fit.front_m - edges.far_m,
    }
    return tuple(side for side in sides if free[side] >= PERSON_M)


def places_to_stand(
    case: Case,
    edges: SetEdges,
    sides: Sequence[Side],
    opened: Sequence[StandingPiece] = (),
    most: int = MOST_PLACES,
) -> Array:
    """Places (n, 2) along the open `sides` of a set and round its `opened` pieces, clear of camera
    and lamps; about `most` of them."""
    lines = [edges.line(side) for side in sides]
    for piece in opened:
        c = piece.corners
        lines += [(c[i], c[(i + 1) % 4]) for i in range(4)]
    if not lines:
        return np.empty((0, 2))
    ends = np.array(lines)
    lengths = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    step = max(STEP_M, float(lengths.sum()) / most)
    rows = []
    for (a, b), long in zip(ends, lengths, strict=True):
        parts = np.linspace(0.0, 1.0, int(long / step) + 2)[:, None]
        rows.append(a + parts * (b - a))
    places: Array = np.concatenate(rows)
    camera = np.asarray(case.stage.camera.position_m)[:2]
    clear = [(camera, CAMERA_CLEAR_M)]
    clear += [(np.array([p.x_m, p.y_m]), LAMP_CLEAR_M) for p in case.plate.lamps]
    for middle, radius in clear:
        places = places[np.hypot(*(places - middle).T) >= radius]
    return places


def arms_m(
    places: Array,
    targets: Array,
    shoulder: float,
    blocks: Sequence[StandingPiece],
    own: str | None = None,
    within_m: float = np.inf,
) -> Array:
    """How far each target (t, 3) is from the nearest of `places` (n, 2) from which an arm gets to
    it past `blocks`, along the ground (t,); infinite where none within `within_m` does. The block
    of the thing `own` is not in its own way."""
    found = np.full(len(targets), np.inf)
    if len(places) == 0 or len(targets) == 0:
        return found
    away = np.hypot(
        places[:, None, 0] - targets[None, :, 0], places[:, None, 1] - targets[None, :, 1]
    )
    who, what = np.nonzero(away <= within_m)
    if len(who) == 0:
        return found
    starts = np.column_stack([places[who], np.full(len(who), shoulder)])
    free = np.ones(len(who), dtype=bool)
    for block in blocks:
        if block.height_m > 0.0 and (own is None or block.thing_id != own):
            free &= ~_meets(block, starts, targets[what])
    np.minimum.at(found, what[free], away[who[free], what[free]])
    return found


def _meets(block: StandingPiece, starts: Array, ends: Array) -> NDArray[np.bool_]:
    """Whether straight lines (n, 3) each pass through a block."""
    turn = np.radians(block.turn_deg)
    c, s = np.cos(turn), np.sin(turn)
    # Rows: the block's own right, away and up.
    axes = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    at = (starts - (block.x_m, block.y_m, block.foot_m)) @ axes.T
    way = (ends - starts) @ axes.T
    # What only grazes its top is not in the way; a card is no thinner than this.
    thin = 1e-6
    low = np.array([-block.width_m / 2.0 - thin, -thin, thin])
    high = np.array([block.width_m / 2.0 + thin, block.depth_m + thin, block.height_m - thin])
    first, last = through_box(at, way, low, high)
    hit: NDArray[np.bool_] = np.maximum(first, 0.0) < np.minimum(last, 1.0)
    return hit


def can_open(piece: StandingPiece, edges: SetEdges, sides: Sequence[Side]) -> bool:
    """Whether somebody gets in by a piece: a trap door as large as a person, or a section that
    stands at an open side and so can be rolled out."""
    if piece.opens == "trap":
        return min(piece.width_m, piece.depth_m) >= PERSON_M
    if piece.opens != "rolls":
        return False
    corners = np.array(piece.corners)
    to = {
        "left": corners[:, 0].min() - edges.left_m,
        "right": edges.right_m - corners[:, 0].max(),
        "near": corners[:, 1].min() - edges.near_m,
        "far": edges.far_m - corners[:, 1].max(),
    }
    return any(to[side] <= AT_EDGE_M for side in sides)
