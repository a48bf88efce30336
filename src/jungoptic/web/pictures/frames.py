"""One frame measured, and a key tried on it, as work behind the scenes: somebody waits."""

from __future__ import annotations

import uuid
from typing import Literal

from pydantic import BaseModel, model_validator

from ..jobs.work import Kind, Work
from ..permissions import Verb
from .pairs import Area, Frame, Part

Colour = Literal["green", "blue", "red", "white", "sky", "black"]


class OneFrame(BaseModel, extra="forbid"):
    """A frame that can be looked at. `colour` of the cloth: as planned unless told, "none" for
    none. `area`: left, top, right and bottom, parts of the picture; all of it unless told. What the
    matte keeps less than `low` of goes, and more than `high` of stays whole."""

    picture_id: uuid.UUID
    frame: Frame = 1
    colour: Colour | Literal["none"] | None = None
    area: Area | None = None
    low: Part = 0.0
    high: Part = 1.0

    @model_validator(mode="after")
    def _ordered(self) -> OneFrame:
        if self.low >= self.high:
            raise ValueError("low must be below high.")
        return self


def _measure(work: Work[OneFrame]) -> None:
    # What measures pictures is large, and a web process never needs it.
    from .frame_measured import measure

    measure(work)


FRAME = Kind("frame", "One frame measured", Verb.VIEW, OneFrame, _measure, "short", warm=True)
