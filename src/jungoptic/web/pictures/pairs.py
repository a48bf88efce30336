"""Two pictures laid on each other, as work behind the scenes: somebody waits beside it."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb

Frame = Annotated[int, Field(ge=1, le=100_000_000)]


class Two(BaseModel, extra="forbid"):
    """Two pictures, each by one of the frames that can be looked at."""

    first_id: uuid.UUID
    first_frame: Frame = 1
    second_id: uuid.UUID
    second_frame: Frame = 1


def _lay(work: Work[Two]) -> None:
    # What measures pictures is large, and a web process never needs it.
    from .laying import lay

    lay(work)


PAIR = Kind("pair", "Two pictures on each other", Verb.VIEW, Two, _lay, queue="short", warm=True)
