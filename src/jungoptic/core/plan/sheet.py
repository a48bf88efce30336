"""The decisions of an exposure sheet: what changes at which frame, and how far what is moved goes.

Frames are delivered frames of the plate's view, counted from 1. A mark in a column holds until the
next one, as a line drawn down a paper sheet does.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Literal

from ..moves import Ease
from .kit import RigAxis
from .set_map import SetMap

#: A puppet or a part of it; a set of replacements; an axis that moves by counted steps; sounds and
#: words; notes; a lamp that plays, which fills itself.
ColumnKind = Literal["part", "piece", "axis", "words", "note", "lamp"]

#: Columns whose marks ask for a new picture.
POSED: frozenset[ColumnKind] = frozenset({"part", "piece"})


@dataclass(frozen=True)
class Mark:
    """What begins at a frame of a column and lasts until the next mark: a pose, a piece or words by
    name. `every`: a new pose each so many frames from here on; 0: one that is held."""

    frame: int
    name: str = ""
    every: int = 0


@dataclass(frozen=True)
class Piece:
    """A replacement out of a column's own set: a mouth, an eye."""

    key: str
    name: str = ""


@dataclass(frozen=True)
class CurvePoint:
    """A point that a drawn curve passes: the part of a move's frames gone by, and of its way."""

    at: float
    gone: float


@dataclass(frozen=True)
class Leg:
    """One stretch of a move. It goes `way` (millimetres or degrees, minus is back) in `frames`
    parts, the first of them before frame `first` is taken. `curve`: points that it passes instead
    of easing."""

    first: int = 2
    frames: int = 1
    way: float = 0.0
    ease: Ease = "both"
    ramp_frames: int = 0
    curve: tuple[CurvePoint, ...] = ()


@dataclass(frozen=True)
class Column:
    """One column of a sheet.

    Of an axis: `axis` is what moves, `rig_id` by which rig of the kit, `legs` how far. `follows`:
    its way is the story's own, the camera's or that of `thing_id`, divided by the scale. `thing_id`
    is what a turntable, a crank, a layer, a belt or a line moves; `arm_mm` how far from its hinge
    the part that is seen reaches.
    """

    key: str
    name: str
    kind: ColumnKind
    marks: tuple[Mark, ...] = ()
    pieces: tuple[Piece, ...] = ()
    axis: RigAxis = "track"
    rig_id: str | None = None
    legs: tuple[Leg, ...] = ()
    follows: bool = False
    thing_id: str | None = None
    arm_mm: float | None = None


@dataclass(frozen=True)
class Worked:
    """A day at the table: frames `first` to `last` were made in so many hours."""

    day: datetime.date
    first: int
    last: int
    hours: float


#: How a camera is held that is carried on between photographs: by hand, by hand over marks on the
#: ground with a point kept in the finder, on a tripod over them.
Held = Literal["hand", "marks", "tripod"]


@dataclass(frozen=True)
class Lapse:
    """A plate that is photographed at intervals, and carried on between photographs where it has a
    path: metres to the right and ahead of where the first is taken. `aim_id`: the thing that is
    kept in its place in the picture. `photo_mb` megabytes a photograph, `card_gb` gigabytes a
    card."""

    interval_s: float = 5.0
    exposure_s: float = 0.5
    path_right_m: float = 0.0
    path_ahead_m: float = 0.0
    aim_id: str | None = None
    held: Held = "tripod"
    photo_mb: float = 25.0
    card_gb: float = 64.0


@dataclass(frozen=True)
class Sheet:
    """The exposure sheet of one plate; `lapse`: how it is photographed at intervals, None where it
    is not; `set_map`: where the pieces of its set stand, None while nobody drew one."""

    columns: tuple[Column, ...] = ()
    worked: tuple[Worked, ...] = ()
    lapse: Lapse | None = None
    set_map: SetMap | None = None
