"""Putting together what was filmed, as work behind the scenes: a still that somebody waits for, and
a clip."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from ..jobs.work import Kind, Work
from ..permissions import Verb

Part = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
#: How wide stills may be asked for, and how wide clips are, pixels.
Width = Literal[960, 1920]
CLIP_PX = 960
#: More plates than this no shot has.
MOST_PLATES = 100


class Pick(BaseModel, extra="forbid"):
    """How a plate goes in: which picture of it (null: that of the take that counts), or not at all.
    Of a key: what the matte keeps less than `low` of goes, more than `high` of stays whole."""

    plate_id: uuid.UUID
    picture_id: uuid.UUID | None = None
    left_out: bool = False
    low: Part = 0.0
    high: Part = 1.0

    @model_validator(mode="after")
    def _ordered(self) -> Pick:
        if self.low >= self.high:
            raise ValueError("low must be below high.")
        return self


class WantedRough(BaseModel, extra="forbid"):
    """Which view of a shot (null: the first camera's), at a frame from 1, and what of its plates;
    those not named go in by what counts of them."""

    shot_id: uuid.UUID
    view_id: uuid.UUID | None = None
    frame: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    width: Width = 960
    picks: Annotated[list[Pick], Field(max_length=MOST_PLATES)] = []


class WantedClip(BaseModel, extra="forbid"):
    """Which view of a shot, and what of its plates."""

    shot_id: uuid.UUID
    view_id: uuid.UUID | None = None
    picks: Annotated[list[Pick], Field(max_length=MOST_PLATES)] = []


def _still(work: Work[WantedRough]) -> None:
    # What opens and measures pictures is large, and a web process never needs it.
    from .keeping import still

    still(work)


def _clip(work: Work[WantedClip]) -> None:
    from .keeping import clip

    clip(work)


ROUGH = Kind(
    "rough",
    "What was filmed, put together",
    Verb.VIEW,
    WantedRough,
    _still,
    queue="short",
    warm=True,
)
ROUGH_CLIP = Kind(
    "rough-clip", "What was filmed, put together as a clip", Verb.VIEW, WantedClip, _clip
)
