"""The typed fields of an exposure sheet; see `core.plan.sheet`. Columns are kept as JSON, so ids
are text."""

from __future__ import annotations

import datetime
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from jungoptic.core.moves import Ease
from jungoptic.core.plan import sheet as core
from jungoptic.core.plan.kit import RigAxis

from ..plans.trick_fields import MOST_FRAME, Frame, Id, Label
from ..schemas import Fields, Within
from .set_fields import SetMapFields

#: The most columns, marks of one column, and days of one sheet.
MOST_COLUMNS, MOST_MARKS, MOST_DAYS = 24, 20_000, 400
#: The most frames that all moves of a column take together.
MOST_MOVED = 100_000

Key = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[0-9a-z-]+$")]


class MarkFields(Fields):
    """What begins at a frame; `every`: a new pose each so many frames, 0: one that is held."""

    frame: Frame
    name: Annotated[str, Field(max_length=60)] = ""
    every: Annotated[int, Within(0, 240)] = 0


class PieceFields(Fields):
    """A replacement of a column's own set."""

    key: Annotated[str, Field(min_length=1, max_length=20)]
    name: Annotated[str, Field(max_length=60)] = ""


class CurvePointFields(Fields):
    """A point that a drawn curve passes, as parts of a move's frames and of its way."""

    at: Annotated[float, Within(0, 1)]
    gone: Annotated[float, Within(-4, 5)]


class LegFields(Fields):
    """One stretch of a move: `way` in millimetres or degrees, in `frames` parts, the first of them
    before frame `first`."""

    first: Frame = 2
    frames: Annotated[int, Within(1, 100_000)] = 24
    way: Annotated[float, Within(-1_000_000, 1_000_000)] = 0.0
    ease: Ease = "both"
    ramp_frames: Annotated[int, Within(0, 10_000)] = 0
    curve: Annotated[list[CurvePointFields], Field(max_length=40)] = []

    @model_validator(mode="after")
    def _moments_differ(self) -> LegFields:
        at = sorted(p.at for p in self.curve)
        if any(b - a < 1e-6 for a, b in pairwise(at)):
            raise ValueError("Two points of the curve lie at one moment: remove one of them")
        return self


class ColumnFields(Fields):
    """One column of a sheet; see `core.plan.sheet.Column`."""

    key: Key
    name: Label
    kind: Literal["part", "piece", "axis", "words", "note"]
    marks: Annotated[list[MarkFields], Field(max_length=MOST_MARKS)] = []
    pieces: Annotated[list[PieceFields], Field(max_length=60)] = []
    axis: RigAxis = "track"
    rig_id: Id | None = None
    legs: Annotated[list[LegFields], Field(max_length=60)] = []
    follows: bool = False
    thing_id: Id | None = None
    arm_mm: Annotated[float, Within(1, 10_000)] | None = None

    @model_validator(mode="after")
    def _frames_differ(self) -> ColumnFields:
        if len({m.frame for m in self.marks}) < len(self.marks):
            raise ValueError(f"{self.name} has two marks at one frame: keep one of them")
        if sum(leg.frames for leg in self.legs) > MOST_MOVED:
            raise ValueError(f"The moves of {self.name} take more than {MOST_MOVED} frames")
        return self


def _keys_differ(columns: list[ColumnFields]) -> list[ColumnFields]:
    if len({c.key for c in columns}) < len(columns):
        raise ValueError("Two columns are one and the same: remove one of them")
    return columns


class WorkedFields(Fields):
    """A day at the table: frames made in so many hours."""

    day: datetime.date
    first: Frame
    last: Frame
    hours: Annotated[float, Within(0.05, 24)]

    @model_validator(mode="after")
    def _in_order(self) -> WorkedFields:
        if self.last < self.first:
            raise ValueError("The first frame made comes before the last: exchange them")
        return self


class LapseFields(Fields):
    """How a plate is photographed at intervals; see `core.plan.sheet.Lapse`."""

    interval_s: Annotated[float, Within(0.1, 86_400)] = 5.0
    exposure_s: Annotated[float, Within(0.0001, 3600)] = 0.5
    path_right_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    path_ahead_m: Annotated[float, Within(-10_000, 10_000)] = 0.0
    aim_id: Id | None = None
    held: core.Held = "tripod"
    photo_mb: Annotated[float, Within(0.01, 10_000)] = 25.0
    card_gb: Annotated[float, Within(0.1, 100_000)] = 64.0


Columns = Annotated[
    list[ColumnFields], Field(max_length=MOST_COLUMNS), AfterValidator(_keys_differ)
]
Days = Annotated[list[WorkedFields], Field(max_length=MOST_DAYS)]


class SatFields(Fields):
    """A day at the table that a camera tells of: pictures of the film, counted from 1, and how many
    hours they took."""

    day: datetime.date
    first: Frame
    last: Frame
    hours: Annotated[float, Within(0, 24)]

    @model_validator(mode="after")
    def _in_order(self) -> SatFields:
        if self.last < self.first:
            raise ValueError("The first picture comes before the last")
        return self


class ReferenceFields(Fields):
    """A clip or a sequence whose frames stand beside the rows: its first one at row `at`, which may
    lie before the sheet begins. It is named without being bound: one that is put away and fetched
    back stands there again."""

    picture_id: Id
    at: Annotated[int, Field(ge=-MOST_FRAME, le=MOST_FRAME)] = 1


class SheetFields(Fields):
    """The exposure sheet of one plate."""

    columns: Columns = []
    worked: Days = []
    lapse: LapseFields | None = None
    set_map: SetMapFields | None = None
    reference: ReferenceFields | None = None

    def core(self) -> core.Sheet:
        """The sheet as the core takes it."""
        return core.Sheet(
            tuple(to_column(c) for c in self.columns),
            tuple(core.Worked(w.day, w.first, w.last, w.hours) for w in self.worked),
            None if self.lapse is None else core.Lapse(**self.lapse.model_dump()),
            None if self.set_map is None else self.set_map.core(),
        )


class SheetEdit(Fields):
    """Changes of a sheet, against the revision that was seen; 0: none is stored yet."""

    revision: Annotated[int, Field(ge=0)]
    columns: Columns | None = None
    worked: Days | None = None
    lapse: LapseFields | None = None
    set_map: SetMapFields | None = None
    reference: ReferenceFields | None = None


def to_column(fields: ColumnFields) -> core.Column:
    """A column as the core takes it."""
    values = fields.model_dump(exclude={"marks", "pieces", "legs"})
    return core.Column(
        **values,
        marks=tuple(core.Mark(m.frame, m.name, m.every) for m in fields.marks),
        pieces=tuple(core.Piece(p.key, p.name) for p in fields.pieces),
        legs=tuple(_leg(leg) for leg in fields.legs),
    )


def _leg(fields: LegFields) -> core.Leg:
    curve = tuple(core.CurvePoint(p.at, p.gone) for p in fields.curve)
    return core.Leg(**fields.model_dump(exclude={"curve"}), curve=curve)


def column_fields(column: core.Column) -> ColumnFields:
    """A column that the core proposes, as it is sent and stored."""
    return ColumnFields.model_validate(column, from_attributes=True)
