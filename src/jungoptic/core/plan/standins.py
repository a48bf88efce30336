"""The shapes of stand-ins: points that are measured, and outlines that are drawn.

All in world metres, shape (n, 3). A figure is a person with the eyes at 0.936 of the height and
a head an eighth of it (proportions from figure drawing, common practice)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Literal

import numpy as np

from ..camera import Array
from ..words.strokes import Strokes

StandInKind = Literal["figure", "box", "card", "ground"]
#: What the rules ask of a thing. Full: all. Soft: it may be out of focus. Scenery: it matters to
#: the plate it is filmed in alone. None: it is drawn, and nothing is asked.
Matters = Literal["full", "soft", "scenery", "none"]


EYE_FRACTION = 0.936


HEAD_FRACTION = 0.125


#: Shoulder width of a figure as a part of its height (common practice).
SHOULDER_FRACTION = 0.26


@dataclass(frozen=True)
class StandIn:
    """Something that stands in the world at a real distance, in simple form.

    The foot of its front-facing middle is at (x, y, z). `depth_m` runs away from the camera for
    a box and a ground patch; `heading_deg` turns it about its foot, + to the right.
    `plate_id` names the plate it is filmed in; None is scenery for reference only. It moves at
    `speed_m_s` along `course_deg` (0 away from the camera, 90 to the right); a figure may look at
    the stand-in `looks_at_id`.
    """

    id: str
    name: str
    kind: StandInKind
    x_m: float
    y_m: float
    z_m: float = 0.0
    width_m: float = 0.5
    height_m: float = 1.7
    depth_m: float = 0.0
    heading_deg: float = 0.0
    plate_id: str | None = None
    speed_m_s: float = 0.0
    course_deg: float = 90.0
    looks_at_id: str | None = None
    #: How far arms and what they hold go beyond the body to each side.
    reach_m: float = 0.0
    matters: Matters = "full"
    #: Who of the production it stands for; None: nobody by name.
    person_id: str | None = None

    def __hash__(self) -> int:
        # Asked for again and again: what follows from a thing is kept by the thing.
        found: int | None = self.__dict__.get("_hash")
        if found is None:
            found = hash(tuple(getattr(self, name) for name in self.__dataclass_fields__))
            object.__setattr__(self, "_hash", found)
        return found

    def __getstate__(self) -> dict[str, Any]:
        # Words have another hash in every process.
        return {name: value for name, value in self.__dict__.items() if name != "_hash"}

    def after(self, seconds: float) -> StandIn:
        """Where it is `seconds` of story time after the shot began."""
        if not self.speed_m_s or not seconds:
            return self
        turn = math.radians(self.course_deg)
        gone = self.speed_m_s * seconds
        return replace(
            self, x_m=self.x_m + gone * math.sin(turn), y_m=self.y_m + gone * math.cos(turn)
        )

    @property
    def top_m(self) -> float:
        """How high its top is: a patch of ground lies flat."""
        return self.z_m + (0.0 if self.kind == "ground" else self.height_m)

    def outside_m(self, x_m: Any, y_m: Any) -> Any:
        """How far places (of any shape) lie outside of its footprint, seen from above; negative
        within it."""
        turn = math.radians(self.heading_deg)
        right, away = x_m - self.x_m, y_m - self.y_m
        aside = np.abs(right * math.cos(turn) - away * math.sin(turn)) - self.width_m / 2.0
        deep = right * math.sin(turn) + away * math.cos(turn)
        return np.maximum(aside, np.maximum(-deep, deep - self.depth_m))

    def mirrored(self) -> StandIn:
        """The same with left and right exchanged, about the upright plane ahead."""
        return replace(
            self, x_m=-self.x_m, heading_deg=-self.heading_deg, course_deg=-self.course_deg
        )


@dataclass(frozen=True)
class NamedPoints:
    """Points (n, 3) with a name for each, so that a finding can say which one is worst."""

    points: Array
    names: tuple[str, ...]

    @staticmethod
    def joined(parts: list[NamedPoints]) -> NamedPoints:
        """All parts in one list; an empty list gives no points."""
        if not parts:
            return NamedPoints(np.empty((0, 3)), ())
        return NamedPoints(
            np.concatenate([p.points for p in parts]), tuple(n for p in parts for n in p.names)
        )

    def where(self, keep: np.ndarray) -> NamedPoints:
        """Only the points that `keep` (n,) marks True."""
        return NamedPoints(
            self.points[keep], tuple(n for n, k in zip(self.names, keep, strict=True) if k)
        )


def _placed(stand_in: StandIn, local: Array) -> Array:
    """Points given about the foot (right, away, up) to world points."""
    turn = math.radians(stand_in.heading_deg)
    c, s = math.cos(turn), math.sin(turn)
    x = local[:, 0] * c + local[:, 1] * s
    y = -local[:, 0] * s + local[:, 1] * c
    return np.stack([stand_in.x_m + x, stand_in.y_m + y, stand_in.z_m + local[:, 2]], axis=1)


_CORNERS = np.array([(sx, sy, sz) for sz in (0.0, 1.0) for sy in (0.0, 1.0) for sx in (-0.5, 0.5)])


_CORNER_NAMES = tuple(
    f"{vertical} {depth} {side} corner"
    for vertical in ("bottom", "top")
    for depth in ("front", "back")
    for side in ("left", "right")
)


_CARD = _CORNERS[[0, 1, 4, 5]]


_CARD_NAMES = ("bottom left corner", "bottom right corner", "top left corner", "top right corner")


_GROUND = _CORNERS[[0, 1, 2, 3]]


_GROUND_NAMES = (
    "front left corner",
    "front right corner",
    "back left corner",
    "back right corner",
)


_FIGURE = np.array([(0.0, 0.0, 0.0), (0.0, 0.0, EYE_FRACTION), (0.0, 0.0, 1.0)])


_FIGURE_NAMES = ("feet", "eyes", "top of the head")


@lru_cache(maxsize=2048)
def measured_points(stand_in: StandIn) -> NamedPoints:
    """The points of one stand-in that two cameras must agree on, named "Ansa: feet" and so on."""
    size = np.array([stand_in.width_m, stand_in.depth_m, stand_in.height_m])
    local: Array
    names: tuple[str, ...]
    if stand_in.kind == "figure":
        local, names = _FIGURE * stand_in.height_m, _FIGURE_NAMES
    elif stand_in.kind == "card":
        local, names = _CARD * size * (1.0, 0.0, 1.0), _CARD_NAMES
    elif stand_in.kind == "ground":
        local, names = _GROUND * size, _GROUND_NAMES
    else:
        local, names = _CORNERS * size, _CORNER_NAMES
    return NamedPoints(
        _placed(stand_in, local), tuple(f"{stand_in.name}: {name}" for name in names)
    )


#: A body is this deep from the chest to the back, as a part of its height (common practice).
DEEP_FRACTION = 0.14


_BODY_POINTS = np.array(
    [
        (-SHOULDER_FRACTION / 2.0, 0.0, 0.8),
        (SHOULDER_FRACTION / 2.0, 0.0, 0.8),
        (0.0, -DEEP_FRACTION / 2.0, 0.7),
        (0.0, DEEP_FRACTION / 2.0, 0.7),
    ]
)


_BODY_POINT_NAMES = ("left shoulder", "right shoulder", "chest", "back")


@lru_cache(maxsize=2048)
def body_points(stand_in: StandIn) -> NamedPoints:
    """Points of a figure's body: from another side or height they lie otherwise to one another,
    which those on its axis do not. Empty for other things."""
    if stand_in.kind != "figure":
        return NamedPoints.joined([])
    return NamedPoints(
        _placed(stand_in, _BODY_POINTS * stand_in.height_m),
        tuple(f"{stand_in.name}: {name}" for name in _BODY_POINT_NAMES),
    )


def _figure_outline() -> tuple[Array, Array]:
    """Body and head of a standing figure of height 1, in (right, up) of its height."""
    half = [
        (0.02, 0.0),
        (0.085, 0.0),
        (0.08, 0.03),
        (0.075, 0.28),
        (0.095, 0.47),
        (0.085, 0.6),
        (0.105, 0.46),
        (0.13, 0.46),
        (SHOULDER_FRACTION / 2, 0.78),
        (0.10, 0.82),
        (0.03, 0.845),
        (0.03, 0.875),
    ]
    left = [(-x, z) for x, z in reversed(half)]
    crotch = [(0.0, 0.46)]
    body = [*half, *left, *crotch, half[0]]
    turn = np.linspace(0.0, 2.0 * math.pi, 17)
    head = np.stack(
        [
            0.052 * np.sin(turn),
            1.0 - HEAD_FRACTION / 2 + HEAD_FRACTION / 2 * np.cos(turn),
        ],
        axis=1,
    )
    return np.array(body), head


_BODY, _HEAD = _figure_outline()


#: The outer outline of body and head together: which of their points lie on its hull. Written down,
#: since a library that finds them takes longer to load than a picture to draw.
_ON_RIM = (1, 7, 8, 29, 28, 27, 26, 41, 40, 39, 15, 16, 22)
_RIM: Array = np.concatenate([_BODY, _HEAD])[list(_ON_RIM)]


_BOX_PATHS = (
    (0, 1, 3, 2, 0),
    (4, 5, 7, 6, 4),
    (0, 4),
    (1, 5),
    (2, 6),
    (3, 7),
)


@lru_cache(maxsize=2048)
def outlines(stand_in: StandIn) -> tuple[Array, ...]:
    """Polylines (n, 3) that draw the stand-in; a figure always faces along its heading."""
    return tuple(_lines(stand_in))


@lru_cache(maxsize=2048)
def strokes(stand_in: StandIn) -> Strokes:
    """The same lines end to end."""
    return Strokes.of(outlines(stand_in))


@lru_cache(maxsize=2048)
def hull_points(stand_in: StandIn) -> Array:
    """The few points (n, 3) whose convex hull holds all that is drawn of a stand-in: they bound
    its shadows."""
    if stand_in.kind == "figure":
        flat = _RIM * stand_in.height_m
        return _placed(stand_in, np.stack([flat[:, 0], np.zeros(len(flat)), flat[:, 1]], axis=1))
    return measured_points(stand_in).points


def _lines(stand_in: StandIn) -> list[Array]:
    size = np.array([stand_in.width_m, stand_in.depth_m, stand_in.height_m])
    if stand_in.kind == "figure":
        return [
            _placed(
                stand_in,
                np.stack([flat[:, 0], np.zeros(len(flat)), flat[:, 1]], axis=1) * stand_in.height_m,
            )
            for flat in (_BODY, _HEAD)
        ]
    corners = _placed(stand_in, _CORNERS * size)
    if stand_in.kind == "card":
        return [corners[[0, 1, 5, 4, 0]]]
    if stand_in.kind == "ground":
        return [corners[[0, 1, 3, 2, 0]], *_ground_lines(corners)]
    return [corners[list(path)] for path in _BOX_PATHS]


def _ground_lines(corners: Array) -> list[Array]:
    """Two inner lines each way, so that a ground patch reads as ground."""
    lines = []
    for part in (1 / 3, 2 / 3):
        across = corners[0] + (corners[2] - corners[0]) * part
        across_end = corners[1] + (corners[3] - corners[1]) * part
        along = corners[0] + (corners[1] - corners[0]) * part
        along_end = corners[2] + (corners[3] - corners[2]) * part
        lines += [np.stack([across, across_end]), np.stack([along, along_end])]
    return lines


def reference_points(near_m: float, far_m: float, half_width_at: float) -> NamedPoints:
    """A 3 x 3 ground grid from near to far and a 1.7 m figure at near, middle and far.

    `half_width_at` is the visible half width per metre of distance; the grid stays inside it.
    Distances in metres along y.
    """
    middle = 2.0 * near_m * far_m / (near_m + far_m)
    points, names = [], []
    for depth, depth_name in ((near_m, "near"), (middle, "middle"), (far_m, "far")):
        for side, side_name in ((-0.8, "left"), (0.0, "centre"), (0.8, "right")):
            points.append((side * half_width_at * depth, depth, 0.0))
            names.append(f"ground, {depth_name} {side_name}")
        points.append((0.0, depth, 1.7))
        names.append(f"head of a 1.7 m figure, {depth_name}")
    return NamedPoints(np.array(points), tuple(names))
