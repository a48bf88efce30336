"""One frame of many, as work behind the scenes: a clean plate to keep."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from ..jobs.work import Kind, Work
from ..permissions import Verb
from .pairs import Frame


class Stretch(BaseModel, extra="forbid"):
    """Frames of a picture, from the first to the last (from 1): `mean` for one with less grain,
    where nothing moves in them; `median` for one without what only passes through."""

    picture_id: uuid.UUID
    first: Frame = 1
    last: Annotated[int, Field(ge=1, le=100_000_000)]
    way: Literal["mean", "median"] = "mean"

    @model_validator(mode="after")
    def _ordered(self) -> Stretch:
        if self.last < self.first:
            raise ValueError("The last frame comes before the first.")
        return self


def _average(work: Work[Stretch]) -> None:
    # What reads files is large, and a web process never needs it.
    from .averaging import average

    average(work)


AVERAGE = Kind("average", "One frame of many", Verb.FILM, Stretch, _average)
