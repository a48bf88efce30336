"""Where the pieces of a set stand on their stage, its edges, and the tapes that find all of it
again. Stage metres: to the right, and ahead of below the lens."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..camera import Array
from ..plan.plate import PlacedLamp
from ..plan.set_map import Opens, SetMap, SetPiece, Side
from ..plan.standins import StandIn, measured_points
from ..stage.case import Case
from ..stage.marks import fixed_points, mark_at
from ..stage.rooms import room_fit

#: What a tape is read and held to (judgement: half a centimetre over a few metres).
TAPE_M = 0.005
#: A place seen from above: to the right, and ahead.
Place = tuple[float, float]
#: A set goes on beyond what stands on it (judgement), and is at least so wide and deep.
BEYOND_M, LEAST_M = 0.05, 0.4
#: The set of a plate in which nothing stands yet: to each side, and from here to there.
EMPTY = (-0.4, 0.4, 0.6, 1.2)


@dataclass(frozen=True)
class StandingPiece:
    """A piece as it stands: the middle of its front, its foot above the ground, its sizes, turned
    about that middle. `key` is the piece's own, empty for a thing of the story that is no piece of
    the map."""

    key: str
    name: str
    thing_id: str | None
    x_m: float
    y_m: float
    foot_m: float
    width_m: float
    depth_m: float
    height_m: float
    turn_deg: float
    opens: Opens = ""

    @property
    def top_m(self) -> float:
        """How high above the ground its top is."""
        return self.foot_m + self.height_m

    def place(self, right_m: float, ahead_m: float) -> tuple[float, float]:
        """A place given along its own width and depth."""
        turn = math.radians(self.turn_deg)
        c, s = math.cos(turn), math.sin(turn)
        return self.x_m + right_m * c + ahead_m * s, self.y_m - right_m * s + ahead_m * c

    def holds(self, x_m: Array, y_m: Array) -> NDArray[np.bool_]:
        """Which places (n,) lie over it."""
        turn = math.radians(self.turn_deg)
        c, s = math.cos(turn), math.sin(turn)
        right = (x_m - self.x_m) * c - (y_m - self.y_m) * s
        ahead = (x_m - self.x_m) * s + (y_m - self.y_m) * c
        over: NDArray[np.bool_] = (
            (np.abs(right) <= self.width_m / 2.0) & (ahead >= 0.0) & (ahead <= self.depth_m)
        )
        return over

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """Its outline from above: front left, front right, back right, back left."""
        half, deep = self.width_m / 2.0, self.depth_m
        return tuple(
            self.place(x, y) for x, y in ((-half, 0.0), (half, 0.0), (half, deep), (-half, deep))
        )


@dataclass(frozen=True)
class SetEdges:
    """The edges of a set, seen from above."""

    left_m: float
    right_m: float
    near_m: float
    far_m: float

    @property
    def outline(self) -> tuple[Place, Place, Place, Place]:
        """Its corners: near left, near right, far right, far left."""
        return (
            (self.left_m, self.near_m),
            (self.right_m, self.near_m),
            (self.right_m, self.far_m),
            (self.left_m, self.far_m),
        )

    def line(self, side: Side) -> tuple[Place, Place]:
        """One edge, from corner to corner."""
        near_left, near_right, far_right, far_left = self.outline
        return {
            "near": (near_left, near_right),
            "far": (far_left, far_right),
            "left": (near_left, far_left),
            "right": (near_right, far_right),
        }[side]

    def inside_m(self, x_m: float, y_m: float) -> float:
        """How far a place is inside its nearest edge; minus: outside."""
        return min(x_m - self.left_m, self.right_m - x_m, y_m - self.near_m, self.far_m - y_m)


def laid_out(case: Case, pieces: Sequence[SetPiece]) -> tuple[StandingPiece, ...]:
    """The pieces of a map as they stand, then what else of the story stands on this set."""
    things = {s.id: s for s in case.shot.stand_ins_of(case.plate)}
    found = [_laid(case, piece, things.get(piece.thing_id or "")) for piece in pieces]
    named = {piece.thing_id for piece in pieces}
    found += [
        _thing(case, thing, "", thing.name, "")
        for thing in things.values()
        if thing.kind in ("box", "card") and thing.id not in named
    ]
    return tuple(found)


def _laid(case: Case, piece: SetPiece, thing: StandIn | None) -> StandingPiece:
    if thing is not None:
        return _thing(case, thing, piece.key, piece.name, piece.opens)
    return StandingPiece(
        piece.key,
        piece.name,
        None,
        piece.x_m,
        piece.y_m,
        piece.foot_m,
        piece.width_m,
        piece.depth_m,
        piece.height_m,
        piece.turn_deg,
        piece.opens,
    )


def _thing(case: Case, thing: StandIn, key: str, name: str, opens: Opens) -> StandingPiece:
    scale = case.plate.scale
    return StandingPiece(
        key,
        name,
        thing.id,
        thing.x_m / scale,
        thing.y_m / scale,
        (thing.z_m - case.plate.ground_m) / scale,
        thing.width_m / scale,
        (0.0 if thing.kind == "card" else thing.depth_m) / scale,
        thing.height_m / scale,
        thing.heading_deg,
        opens,
    )


def edges_of(case: Case, told: SetMap, laid: Sequence[StandingPiece]) -> SetEdges:
    """The edges of a set: as told, else as what stands on it needs."""
    points = [
        case.plate.on_stage(measured_points(s).points)[:, :2]
        for s in case.shot.stand_ins_of(case.plate)
        if s.kind in ("figure", "ground")
    ]
    points += [np.array(piece.corners) for piece in laid]
    if points:
        every: Array = np.concatenate(points)
        (left, near), (right, far) = every.min(axis=0) - BEYOND_M, every.max(axis=0) + BEYOND_M
    else:
        left, right, near, far = EMPTY
    left, right = _at_least(told.left_m, told.right_m, float(left), float(right))
    near, far = _at_least(told.near_m, told.far_m, float(near), float(far))
    return SetEdges(left, right, near, far)


def _at_least(
    low: float | None, high: float | None, usual_low: float, usual_high: float
) -> tuple[float, float]:
    """Two edges that are told or usual, the usual one moved out where both would lie too near."""
    if low is not None and high is not None:
        return min(low, high), max(low, high)
    if low is not None:
        return low, max(usual_high, low + LEAST_M)
    if high is not None:
        return min(usual_low, high - LEAST_M), high
    more = max(LEAST_M - (usual_high - usual_low), 0.0) / 2.0
    return usual_low - more, usual_high + more


@dataclass(frozen=True)
class Taped:
    """One line of a set map: what it is, its two tapes along the ground, its place, how high (its
    foot, its own height), how it is turned, and how far off its place may come out when the tapes
    are read to half a centimetre (None: they cross too flatly to find it). `words`: what else to
    set there."""

    key: str
    name: str
    kind: str
    from_left_m: float
    from_right_m: float
    x_m: float
    y_m: float
    foot_m: float
    height_m: float
    turn_deg: float
    error_m: float | None
    words: str = ""


def taped(case: Case, laid: Sequence[StandingPiece]) -> tuple[Taped, ...]:
    """The camera, every lamp, every piece of the map and everybody who stands on this set, with
    tapes from its two fixed points."""
    aside, behind = case.stage.mark_behind_m
    camera = case.stage.camera
    found = [
        _taped(
            case,
            ("camera", "Camera, at its sensor mark", "camera"),
            (-aside, -(case.plate.setback_m + behind)),
            foot_m=camera.position_m[2],
            turn_deg=camera.pan_deg,
            words=f"lens axis that high; tilt {case.stage.tilt_deg:+.1f}°"
            + ("; the tapes begin beside it" if begins_beside_camera(case) else ""),
        )
    ]
    found += [
        _taped(
            case,
            (lamp.key or f"lamp-{i}", f"Lamp {i}: {_lamp_name(case, lamp)}", "lamp"),
            (lamp.x_m, lamp.y_m),
            foot_m=lamp.z_m,
            words=f"dimmer at {lamp.level * 100:.0f} %" + (f", {lamp.gel}" if lamp.gel else ""),
        )
        for i, lamp in enumerate(case.plate.lamps, start=1)
    ]
    found += [
        _taped(
            case,
            (p.key or p.thing_id or p.name, p.name, "piece" if p.key else "thing"),
            (p.x_m, p.y_m),
            foot_m=p.foot_m,
            height_m=p.height_m,
            turn_deg=p.turn_deg,
        )
        for p in laid
    ]
    found += [
        _taped(
            case,
            (s.id, s.name, "figure"),
            (s.x_m / case.plate.scale, s.y_m / case.plate.scale),
            foot_m=(s.z_m - case.plate.ground_m) / case.plate.scale,
            height_m=s.height_m / case.plate.scale,
            turn_deg=s.heading_deg,
            words="as the shot begins",
        )
        for s in case.shot.stand_ins_of(case.plate)
        if s.kind == "figure"
    ]
    return tuple(found)


def begins_beside_camera(case: Case) -> bool:
    """Whether an end of the tapes lies beside the lens, because nobody chose it and no room's
    corner does: then nothing finds the camera by them, and it has to be there first."""
    return room_fit(case) is None and not all(end.chosen for end in fixed_points(case))


def _lamp_name(case: Case, placed: PlacedLamp) -> str:
    lamp = case.shot.kit.lamp(placed.lamp_id)
    return "gone from the kit" if lamp is None else lamp.name


def _taped(
    case: Case,
    who: tuple[str, str, str],
    at: tuple[float, float],
    foot_m: float,
    height_m: float = 0.0,
    turn_deg: float = 0.0,
    words: str = "",
) -> Taped:
    mark = mark_at(case, who[0], who[1], *at)
    return Taped(
        *who,
        from_left_m=mark.from_left_m,
        from_right_m=mark.from_right_m,
        x_m=at[0],
        y_m=at[1],
        foot_m=foot_m,
        height_m=height_m,
        turn_deg=turn_deg,
        error_m=place_error_m(case, *at),
        words=words,
    )


def place_error_m(case: Case, x_m: float, y_m: float) -> float | None:
    """How far off a place comes out (root mean square) when both tapes are read to `TAPE_M`; None
    where they cross at less than `WEAK_DEG`.

    e = t sqrt(2) / sin(crossing): error of an intersection of two distances (plane surveying, from
    memory).
    """
    mark = mark_at(case, "", "", x_m, y_m)
    if mark.weak:
        return None
    return TAPE_M * math.sqrt(2.0) / math.sin(math.radians(mark.crossing_deg))
