"""What a sheet poses on a set, and how far each pose is from where somebody can stand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..judging.people import there
from ..plan.people import Person
from ..plan.set_map import Side
from ..plan.sheet import POSED, Sheet
from ..plan.standins import StandIn
from ..stage.case import Case
from .follows import chart_of, told_by_story
from .laid_out import SetEdges, StandingPiece
from .picture import Moved, middles_of
from .reaching import USUAL_REACH_M, arms_m, can_open, places_to_stand, shoulder_m
from .timing import changed_at

#: Poses of one thing that stand this near to one another are reached alike, metres.
SAME_M = 0.005
#: The most places of one thing that are asked about.
MOST_PLACES = 240


@dataclass(frozen=True)
class Arm:
    """Whose arm a set map is judged by: the longest there is."""

    name: str
    reach_m: float
    height_m: float

    @property
    def whose(self) -> str:
        """As a sentence says it."""
        return f"{self.name}, who reaches" if self.name else "an arm, which reaches"


@dataclass(frozen=True)
class Reached:
    """One thing that is posed: how many poses; how far the farthest of them is from where somebody
    can stand (None: no arm gets there), at which frame; how many are beyond an arm, the first at
    frame `first`; which piece lets somebody nearer, and how far the farthest is then."""

    thing_id: str
    name: str
    poses: int
    away_m: float | None
    frame: int
    beyond: int
    first: int | None
    opened: str | None = None
    opens: str = ""
    opened_m: float | None = None
    #: Where its poses are, stage metres.
    places: tuple[tuple[float, float], ...] = ()


def arm_of(case: Case) -> Arm:
    """The longest arm of those who animate there; an arm of usual length where none is known."""
    known: list[Person] = [p for p in there(case, "animator") if p.reach_m is not None]
    if not known:
        return Arm("", USUAL_REACH_M, Person("", "").height_m)
    best = max(known, key=lambda p: p.reach_m or 0.0)
    return Arm(best.name, best.reach_m or USUAL_REACH_M, best.height_m)


@dataclass(frozen=True)
class Posed:
    """A thing that is posed: at which frames, and where it is then (f, 3), stage metres."""

    thing: StandIn
    frames: tuple[int, ...]
    at: Array


def poses_of(case: Case, sheet: Sheet) -> list[Posed]:
    """Everything that a sheet poses, or every figure of an animated plate without a sheet; each at
    places that differ."""
    shot, plate = case.shot, case.plate
    posed = [c for c in sheet.columns if c.kind in POSED and c.marks]
    if not posed and plate.kind != "puppet":
        return []
    own = [s for s in shot.stand_ins_of(plate) if s.kind in ("figure", "box")]
    figures = [s for s in own if s.kind == "figure"] or own
    axes = [c for c in (*sheet.columns, *told_by_story(shot, plate, sheet)) if c.kind == "axis"]
    moved = [Moved(c, chart_of(shot, plate, c)) for c in axes]
    found = []
    for thing in own:
        named = [c for c in posed if c.thing_id == thing.id]
        free = [c for c in posed if c.thing_id is None and thing in figures]
        asked = named or free
        if posed and not asked:
            continue
        if not posed and thing not in figures:
            continue
        middles = plate.on_stage(middles_of(shot, plate, thing, moved))
        every = range(1, len(middles) + 1)
        frames = sorted({f for c in asked for f in changed_at(c, len(middles))}) if asked else every
        if frames:
            at = middles[np.array(frames, dtype=int) - 1]
            found.append(Posed(thing, tuple(frames), at))
    return found


def _distances(
    case: Case, arm: Arm, places: Array, posed: Posed, blocks: Sequence[StandingPiece]
) -> Array:
    """How far each pose is from where somebody can stand (f,): each place that differs once."""
    keys = np.round(posed.at / SAME_M).astype(np.int64)
    _, first, back = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    if len(first) > MOST_PLACES:
        chosen = np.linspace(0, len(first) - 1, MOST_PLACES).round().astype(int)
        nearest = np.searchsorted(chosen, np.arange(len(first))).clip(0, MOST_PLACES - 1)
        first, back = first[chosen], nearest[back.ravel()]
    shoulder = shoulder_m(case.plate, arm.height_m)
    hands = posed.at[first] + (0.0, 0.0, HAND_M)
    away = arms_m(places, hands, shoulder, blocks, posed.thing.id)
    found: Array = away[back.ravel()]
    return found


def reached_from(
    case: Case,
    arm: Arm,
    edges: SetEdges,
    sides: Sequence[Side],
    laid: Sequence[StandingPiece],
    places: Array,
    posed: Posed,
) -> Reached:
    away = _distances(case, arm, places, posed, laid)
    worst = int(away.argmax())
    beyond = np.nonzero(away > arm.reach_m)[0]
    opened, opened_m, opens = None, None, ""
    if len(beyond):
        for piece in laid:
            if not can_open(piece, edges, sides):
                continue
            rest = [p for p in laid if p is not piece]
            more = places_to_stand(case, edges, sides, [piece])
            then = float(_distances(case, arm, more, posed, rest).max())
            if math.isfinite(then) and then < min(float(away.max()), opened_m or math.inf):
                opened, opened_m, opens = piece.name, then, piece.opens
    most = float(away[worst])
    different = dict.fromkeys((round(float(x), 3), round(float(y), 3)) for x, y, _ in posed.at)
    return Reached(
        posed.thing.id,
        posed.thing.name,
        len(posed.frames),
        most if math.isfinite(most) else None,
        posed.frames[worst],
        len(beyond),
        posed.frames[int(beyond[0])] if len(beyond) else None,
        opened,
        opens,
        opened_m,
        tuple(different)[:MOST_PLACES],
    )


#: A hand comes down on what it poses: the straight of an arm ends this far above it (judgement).
HAND_M = 0.12
#: The set is looked over in so many squares along its longer side.
SQUARES = 28


def beyond_arms(
    case: Case, arm: Arm, edges: SetEdges, laid: Sequence[StandingPiece], places: Array
) -> tuple[tuple[float, float, float], ...]:
    """Squares of the set, by their lower left corner and side, where no arm gets to what stands on
    the ground or on a piece."""
    wide, deep = edges.right_m - edges.left_m, edges.far_m - edges.near_m
    side = max(wide, deep) / SQUARES
    xs = edges.left_m + (np.arange(math.ceil(wide / side - 1e-9)) + 0.5) * side
    ys = edges.near_m + (np.arange(math.ceil(deep / side - 1e-9)) + 0.5) * side
    x, y = (g.ravel() for g in np.meshgrid(xs, ys))
    on = np.zeros(len(x))
    for piece in laid:
        on = np.where(piece.holds(x, y), np.maximum(on, piece.top_m), on)
    targets = np.column_stack([x, y, on + HAND_M])
    shoulder = shoulder_m(case.plate, arm.height_m)
    away = arms_m(places, targets, shoulder, laid, within_m=arm.reach_m)
    half = side / 2.0
    return tuple(
        (float(a - half), float(b - half), side)
        for a, b, d in zip(x, y, away, strict=True)
        if not math.isfinite(d)
    )
