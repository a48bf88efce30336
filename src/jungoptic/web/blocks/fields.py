"""The typed fields of blocks and their pictures, and what is told of them."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Literal

from pydantic import BaseModel, Field, field_validator

from jungoptic.core.frames.asked import Asked
from jungoptic.core.frames.pace import Sitting
from jungoptic.core.pictures.just_taken import JustTaken
from jungoptic.core.plan.findings import Finding, Verdict

from ..schemas import Fields, Out, ShortText, Stored

#: The most pictures of a block: a quarter of an hour on ones at 24 a second.
MOST_PICTURES = 21_600
#: The number of a picture within its block.
Number = Annotated[int, Field(ge=1, le=1_000_000)]
Source = Literal["camera", "simulated", "card"]


class BlockIn(Fields):
    """A new block; a second try with the same id makes no second one."""

    id: uuid.UUID | None = None
    name: ShortText = ""


class BlockEdit(Fields):
    """Changes of a block, made against the revision that was seen. `order`: its pictures in the
    order of the film; those left out are dropped, and can be taken in again."""

    revision: int
    name: ShortText | None = None
    order: Annotated[list[Number], Field(max_length=MOST_PICTURES)] | None = None
    reference: Number | None = None

    @field_validator("order")
    @classmethod
    def _once(cls, order: list[int] | None) -> list[int] | None:
        if order is not None and len(set(order)) < len(order):
            raise ValueError("names a picture twice")
        return order


class ExposureRow(Out):
    """A picture as it stands in its block. `verdict`: of what was told when it was taken; None
    where it has another neighbour by now, or none."""

    number: int
    source: Source
    taken_at: datetime.datetime
    verdict: Verdict | None


class BlockOut(Stored):
    """A block with its pictures in the order of the film. `first`: which picture of the film its
    first is; `dropped`: pictures that are not shown."""

    name: str
    plate_id: uuid.UUID
    begun_at: datetime.datetime
    first: int
    reference: int | None
    width_px: int
    height_px: int
    exposures: list[ExposureRow]
    dropped: list[int]


class BlocksOut(BaseModel):
    """All blocks of a plate; the frames that pictures are taken for, by the sheet or (not `begun`)
    by the usual hold, and the days at the table that its pictures tell of. `trouble`: why its sheet
    cannot be computed."""

    blocks: list[BlockOut]
    taken: list[int]
    begun: bool
    trouble: str
    frames: int
    fps: float
    sat: list[Sitting]
    aspect: float


class SatOut(BaseModel):
    """The days at the table that the pictures of a plate tell of, and the production's clock, ""
    where it has none."""

    days: list[Sitting]
    time_zone: str


class ExposureOut(BaseModel):
    """What a picture says. `told`: what was measured, None where it has nothing to be compared
    with or it cannot be (`problem`)."""

    number: int
    picture: int
    source: Source
    taken_at: datetime.datetime
    asked: Asked
    told: JustTaken | None
    findings: list[Finding]
    problem: str


class PutOut(BaseModel):
    """One thing to put back: what, and how far in words."""

    what: str
    way: str


class RebuiltOut(BaseModel):
    """A set that is built again against a picture of it: what to move, the largest first (nothing:
    it lies on it), and the findings on the two."""

    moves: list[PutOut]
    findings: list[Finding]


class TakenOut(BaseModel):
    """A picture that is safe on the disk, and its block. `elsewhere`: another window has changed
    the block since."""

    exposure: ExposureOut
    block: BlockOut
    elsewhere: bool
