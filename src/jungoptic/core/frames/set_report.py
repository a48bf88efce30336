"""What a set map comes to: where everything stands, what is within reach, and what is judged of
it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..camera import Array
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import TIMELESS, Plate
from ..plan.set_map import SetMap, Side
from ..plan.sheet import Sheet
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.marks import WEAK_DEG, FixedPoint, fixed_points
from ..words.quantities import length
from .laid_out import (
    TAPE_M,
    SetEdges,
    StandingPiece,
    Taped,
    begins_beside_camera,
    edges_of,
    laid_out,
    taped,
)
from .reached import (
    Arm,
    Fineness,
    Posed,
    Reached,
    WayIn,
    arm_of,
    beyond_arms,
    poses_of,
    reached_from,
    way_in,
)
from .reaching import LEANS_M, PERSON_M, can_open, open_sides, places_to_stand


@dataclass(frozen=True)
class SetReport:
    """A set map: its edges, the two ends of the tapes, pieces as they stand, lines with tapes, what
    is reached by whose arm (None where nothing is posed), at which sides somebody can stand, and
    what is judged, worst first. `cells`: squares of the set that no arm gets to: their lower left
    corner and their side."""

    edges: SetEdges
    fixed: tuple[FixedPoint, FixedPoint]
    laid: tuple[StandingPiece, ...]
    rows: tuple[Taped, ...]
    arm: Arm | None
    sides: tuple[Side, ...]
    reached: tuple[Reached, ...]
    findings: tuple[Finding, ...]
    cells: tuple[tuple[float, float, float], ...] = ()
    #: What lets somebody nearer to the thing that is farthest from any arm.
    way: WayIn | None = None


@dataclass(frozen=True)
class _Ground:
    """What a set map is judged on: the set as it stands, and what is posed there."""

    case: Case
    told: SetMap
    laid: tuple[StandingPiece, ...]
    edges: SetEdges
    sides: tuple[Side, ...]
    posed: list[Posed]

    @staticmethod
    def of(case: Case, sheet: Sheet) -> _Ground:
        told = sheet.set_map or SetMap()
        laid = laid_out(case, told.pieces)
        edges = edges_of(case, told, laid)
        sides = open_sides(case, edges, told.sides)
        return _Ground(case, told, laid, edges, sides, poses_of(case, sheet))

    @property
    def fine(self) -> Fineness:
        return Fineness.of(len(self.posed), len(self.laid))

    @property
    def places(self) -> Array:
        """Where somebody can stand (n, 2)."""
        return places_to_stand(self.case, self.edges, self.sides, most=self.fine.stands)


def set_report(case: Case, sheet: Sheet) -> SetReport:
    """What the set map of a sheet comes to; an empty one where none was drawn.

    Raises Impossible for a move of the sheet that makes no sense.
    """
    on = _Ground.of(case, sheet)
    edges, laid = on.edges, on.laid
    rows = taped(case, laid)
    arm = arm_of(case) if on.posed or case.plate.kind in TIMELESS else None
    reached: tuple[Reached, ...] = ()
    cells: tuple[tuple[float, float, float], ...] = ()
    found: list[Finding | None] = [
        _fixed(case, sheet.set_map),
        _crossing([r for r in rows if r.kind != "camera"] if begins_beside_camera(case) else rows),
        _over_edge(edges, laid),
        *(_shut_in(p, edges, on.sides) for p in laid if p.opens),
    ]
    way: WayIn | None = None
    if arm is not None:
        places = on.places
        cells = beyond_arms(case, arm, edges, laid, places, on.fine.squares)
        if on.posed:
            reached, way, finding = _reach(on, arm, places)
            found.append(finding)
    kept = tuple(worst_first([f for f in found if f is not None]))
    ends = fixed_points(case)
    return SetReport(edges, ends, laid, rows, arm, on.sides, reached, kept, cells, way)


def out_of_reach(shot: Shot, plate: Plate, sheet: Sheet) -> Finding | None:
    """What a sheet poses and no arm gets to, where its set has been mapped and there is such.

    Raises Impossible as `set_report` does.
    """
    case = None if sheet.set_map is None else Case.of(shot, plate)
    if case is None:
        return None
    on = _Ground.of(case, sheet)
    if not on.posed:
        return None
    finding = _reach(on, arm_of(case), on.places)[2]
    return None if finding.verdict is Verdict.HOLDS else finding


def _reach(
    on: _Ground, arm: Arm, places: Array
) -> tuple[tuple[Reached, ...], WayIn | None, Finding]:
    """How far all that is posed is, what lets somebody nearer to the farthest of it, and what is
    judged of that."""
    reached = tuple(reached_from(on.case, arm, on.laid, places, p, on.fine) for p in on.posed)
    number = max(range(len(reached)), key=lambda i: _away(reached[i]))
    worst = _away(reached[number])
    way: WayIn | None = None
    if worst > arm.reach_m:
        way = way_in(on.case, arm, on.edges, on.sides, on.laid, on.posed[number], worst)
    return reached, way, _within(arm, reached[number], way, on.told.sides, on.sides)


def _away(reached: Reached) -> float:
    return math.inf if reached.away_m is None else reached.away_m


def _within(
    arm: Arm, worst: Reached, way: WayIn | None, told: Sequence[Side], sides: Sequence[Side]
) -> Finding:
    away = worst.away_m
    verdict = Verdict.BREAKS if away is None else banded(away, arm.reach_m, arm.reach_m + LEANS_M)
    reach = length(arm.reach_m)
    if away is None:
        said = (
            f"No arm gets to {worst.name} at frame {worst.frame}"
            + (
                f": the walls leave at no side the {length(PERSON_M)} that a person needs."
                if told and not sides
                else ": nobody can stand at any side of this set."
                if not told
                else ": what stands between is in the way."
            )
            + _cure(way)
        )
    elif verdict is Verdict.HOLDS:
        said = (
            f"Everything posed is within reach: {worst.name}, the farthest, is {length(away)} from "
            + (
                f"where {arm.name}, who reaches {reach}, can stand."
                if arm.name
                else f"where somebody can stand; an arm reaches {reach}."
            )
        )
    else:
        many = (
            "its pose"
            if worst.poses == 1
            else f"all of its {worst.poses} poses"
            if worst.beyond == worst.poses
            else f"{worst.beyond} of its {worst.poses} poses, the first at frame {worst.first}"
        )
        said = (
            f"{worst.name} is {length(away)} from the nearest place to stand at frame "
            f"{worst.frame}; {arm.whose} {reach}, is short of {many}. "
            + (
                "Leaning over is how sets get bumped."
                if verdict is Verdict.STRAINS
                else "No arm gets there."
            )
            + _cure(way)
        )
    working = () if away is None else (_working(arm, worst, away),)
    return Finding("set-reach", "Reach", verdict, said, working)


def _cure(way: WayIn | None) -> str:
    if way is None:
        return (
            " Move the set, not the animator: let a piece near it roll out, cut a trap door, or "
            "make the set narrower."
        )
    how = f"Roll {way.name} out" if way.opens == "rolls" else f"Open {way.name}"
    return f" {how}: then it is {length(way.away_m)}."


def _working(arm: Arm, worst: Reached, away: float) -> Working:
    return Working(
        "spare = reach - way",
        (
            Quantity("reach", f"of {arm.name or 'a usual arm'}", arm.reach_m, "m"),
            Quantity("way", f"from where one can stand to {worst.name}", away, "m"),
        ),
        Quantity("spare", "to spare", arm.reach_m - away, "m"),
        "0.6 to 0.7 m from the edge is common practice; who reaches farther says so in the kit.",
    )


def _fixed(case: Case, told: SetMap | None) -> Finding | None:
    """Ends of tapes that do not stay where they are until the set is rebuilt."""
    if told is None or not told.pieces or not begins_beside_camera(case):
        return None
    return Finding(
        "set-fixed",
        "Ends of the tapes",
        Verdict.STRAINS,
        "The tapes begin beside the camera, and that goes when the set is struck. Choose two "
        "points that stay: corners of the table, or marks on the floor.",
    )


def _crossing(rows: Sequence[Taped]) -> Finding | None:
    weak = [row.name for row in rows if row.error_m is None]
    sure = [row for row in rows if row.error_m is not None]
    if not rows:
        return None
    if not weak:
        worst = max(sure, key=lambda row: row.error_m or 0.0)
        return Finding(
            "set-tapes",
            "Two tapes",
            Verdict.HOLDS,
            f"Two tapes find every place again; worst {worst.name}, to about "
            f"{length(worst.error_m or 0.0)} when both are read to 5 mm.",
        )
    many = f"{weak[0]} and {len(weak) - 1} more" if len(weak) > 1 else weak[0]
    return Finding(
        "set-tapes",
        "Two tapes",
        Verdict.STRAINS,
        f"The tapes to {many} cross at less than {WEAK_DEG:.0f}°: 5 mm on a tape move the place by "
        "centimetres. Choose ends farther apart, or farther to one side of it.",
    )


def _over_edge(edges: SetEdges, laid: Sequence[StandingPiece]) -> Finding | None:
    """Pieces that hang over an edge that somebody told."""
    over = [
        (-min(edges.inside_m(*corner) for corner in piece.corners), piece.name)
        for piece in laid
        if piece.key
    ]
    far = [(by, name) for by, name in over if by > TAPE_M]
    if not far:
        return None
    by, name = max(far)
    more = f", and {len(far) - 1} more" if len(far) > 1 else ""
    return Finding(
        "set-edge",
        "Edge of the set",
        Verdict.STRAINS,
        f"{name} stands {length(by)} over the edge{more}: move it, or make the set larger.",
    )


def _shut_in(piece: StandingPiece, edges: SetEdges, sides: Sequence[Side]) -> Finding | None:
    if can_open(piece, edges, sides):
        return None
    if piece.opens == "trap":
        size = f"{length(piece.width_m)} by {length(piece.depth_m)}"
        said = f"{piece.name} is {size}: nobody gets up through less than {length(PERSON_M)}."
    else:
        said = (
            f"{piece.name} is to roll out, and stands at no side that is open: what is before it "
            "has to roll first. Make it a trap door, or let that section roll too."
        )
    return Finding("set-rolls", f"Way in by {piece.name}", Verdict.STRAINS, said)
