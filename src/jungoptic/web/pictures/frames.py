"""One frame measured, and a key tried on it, as work behind the scenes: somebody waits."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from ..jobs.work import Kind, Work
from ..permissions import Verb
from .pairs import Frame

Part = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
Colour = Literal["green", "blue", "red", "white", "sky", "black"]


class OneFrame(BaseModel, extra="forbid"):
    """A frame that can be looked at. `colour` of the cloth: as planned unless told, "none" for
    none. `area`: left, top, right and bottom, parts of the picture; all of it unless told. What the
    matte keeps less than `low` of goes, and more than `high` of stays whole."""

    picture_id: uuid.UUID
    frame: Frame = 1
    colour: Colour | Literal["none"] | None = None
    area: tuple[Part, Part, Part, Part] | None = None
    low: Part = 0.0
    high: Part = 1.0

    @model_validator(mode="after")
    def _ordered(self) -> OneFrame:
        if self.low >= self.high:
            raise ValueError("low must be below high.")
        if self.area is not None:
            left, top, right, bottom = self.area
            if right - left < 0.01 or bottom - top < 0.01:
                raise ValueError("The area is too small to measure: draw it larger.")
        return self


def _measure(work: Work[OneFrame]) -> None:
    # What measures pictures is large, and a web process never needs it.
    from .frame_measured import measure

    measure(work)


FRAME = Kind("frame", "One frame measured", Verb.VIEW, OneFrame, _measure, "short", warm=True)
