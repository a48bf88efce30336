"""Two pictures laid on each other, as work behind the scenes: somebody waits beside it."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import AfterValidator, BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb

Frame = Annotated[int, Field(ge=1, le=100_000_000)]
Part = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]


def _has_size(area: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    left, top, right, bottom = area
    if right - left < 0.01 or bottom - top < 0.01:
        raise ValueError("The area is too small to measure: draw it larger.")
    return area


#: Left, top, right and bottom, parts of the picture.
Area = Annotated[tuple[Part, Part, Part, Part], AfterValidator(_has_size)]


class Two(BaseModel, extra="forbid"):
    """Two pictures, each by one of the frames that can be looked at. `area`: the part of both that
    is laid on each other; all of it unless told."""

    first_id: uuid.UUID
    first_frame: Frame = 1
    second_id: uuid.UUID
    second_frame: Frame = 1
    area: Area | None = None


def _lay(work: Work[Two]) -> None:
    # What measures pictures is large, and a web process never needs it.
    from .laying import lay

    lay(work)


PAIR = Kind("pair", "Two pictures on each other", Verb.VIEW, Two, _lay, queue="short", warm=True)
