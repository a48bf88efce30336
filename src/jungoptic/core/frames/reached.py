"""What a sheet poses on a set, and how far each pose is from where somebody can stand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..camera import Array
from ..judging.people import there
from ..plan.people import Person
from ..plan.set_map import Opens, Side
from ..plan.sheet import POSED, Sheet
from ..plan.standins import StandIn
from ..stage.case import Case
from .follows import chart_of, told_by_story
from .laid_out import SetEdges, StandingPiece
from .picture import Moved, middles_of
from .reaching import MOST_PLACES, USUAL_REACH_M, arms_m, can_open, places_to_stand, shoulder_m
from .timing import changed_at

#: Poses of one thing that stand this near to one another are reached alike, metres.
SAME_M = 0.005
#: The most places of one thing that are asked about.
MOST_POSES = 240
#: A hand comes down on what it poses: the straight of an arm ends this far above it (judgement).
HAND_M = 0.12
#: A set is looked over in at most so many squares along its longer side.
SQUARES = 28


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
    frame `first`."""

    thing_id: str
    name: str
    poses: int
    away_m: float | None
    frame: int
    beyond: int
    first: int | None
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


#: An answer asks of at most so many arms whether a piece is in their way.
TESTS = 6_000_000


@dataclass(frozen=True)
class Fineness:
    """How finely a set is looked over, so that a large one is answered in time too: places of each
    thing that is posed, places to stand, and squares along the longer side of the set."""

    poses: int
    stands: int
    squares: int

    @staticmethod
    def of(things: int, pieces: int) -> Fineness:
        """For so many things that are posed among so many pieces."""
        asked = TESTS / (pieces + 1)
        poses = min(max(int(asked / (MOST_PLACES * max(things, 1))), 4), MOST_POSES)
        stands = min(max(int(asked / (poses * max(things, 1))), 40), MOST_PLACES)
        squares = min(max(int(math.sqrt(asked / stands)), 8), SQUARES)
        return Fineness(poses, stands, squares)


def _distances(
    case: Case,
    arm: Arm,
    places: Array,
    posed: Posed,
    blocks: Sequence[StandingPiece],
    most: int,
) -> Array:
    """How far each pose is from where somebody can stand (f,): each place that differs once, of
    very many `most`, the others as the one beside them."""
    keys = np.round(posed.at / SAME_M)
    _, first, back = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    back = back.ravel()
    if len(first) > most:
        chosen = np.linspace(0, len(first) - 1, most).round().astype(int)
        nearest = np.searchsorted(chosen, np.arange(len(first))).clip(0, most - 1)
        first, back = first[chosen], nearest[back]
    hands = posed.at[first] + (0.0, 0.0, HAND_M)
    shoulder = shoulder_m(case.plate, arm.height_m)
    away = arms_m(places, hands, shoulder, blocks, posed.thing.id)
    found: Array = away[back]
    return found


def reached_from(
    case: Case,
    arm: Arm,
    laid: Sequence[StandingPiece],
    places: Array,
    posed: Posed,
    fine: Fineness,
) -> Reached:
    """How far the poses of a thing are from `places` to stand at."""
    away = _distances(case, arm, places, posed, laid, fine.poses)
    worst = int(away.argmax())
    beyond = np.nonzero(away > arm.reach_m)[0]
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
        places=tuple(different)[:MOST_POSES],
    )


@dataclass(frozen=True)
class WayIn:
    """A piece that lets somebody nearer, how it `opens`, and how far the farthest pose is then."""

    name: str
    opens: Opens
    away_m: float


#: So many pieces beside a thing are asked whether they let somebody in, with so many of its poses.
WAYS, WAY_POSES = 6, 12


def way_in(
    case: Case,
    arm: Arm,
    edges: SetEdges,
    sides: Sequence[Side],
    laid: Sequence[StandingPiece],
    posed: Posed,
    away_m: float,
) -> WayIn | None:
    """The piece whose opening brings somebody nearest to all poses of a thing, nearer than
    `away_m`; None where none does."""
    at = posed.at[:, :2].mean(axis=0)
    can = [piece for piece in laid if can_open(piece, edges, sides)]
    can.sort(key=lambda piece: math.dist(piece.place(0.0, piece.depth_m / 2.0), at))
    best: WayIn | None = None
    for piece in can[:WAYS]:
        rest = [p for p in laid if p is not piece]
        places = places_to_stand(case, edges, sides, [piece])
        then = float(_distances(case, arm, places, posed, rest, WAY_POSES).max())
        if then < min(away_m, math.inf if best is None else best.away_m):
            best = WayIn(piece.name, piece.opens, then)
    return best


def beyond_arms(
    case: Case,
    arm: Arm,
    edges: SetEdges,
    laid: Sequence[StandingPiece],
    places: Array,
    squares: int = SQUARES,
) -> tuple[tuple[float, float, float], ...]:
    """Squares of the set, by their lower left corner and side, where no arm gets to what stands on
    the ground or on a piece."""
    wide, deep = edges.right_m - edges.left_m, edges.far_m - edges.near_m
    side = max(wide, deep) / squares
    if side <= 0.0:
        return ()
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
