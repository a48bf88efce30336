"""What the Board has done behind the scenes."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb
from . import cutting


class Chosen(BaseModel, extra="forbid"):
    """Shots."""

    ids: Annotated[list[uuid.UUID], Field(min_length=1, max_length=500)]


def _duplicate(work: Work[Chosen]) -> None:
    ids = work.params.ids
    step = cutting.duplicate(
        work.user, work.production, ids, lambda done: work.tell(done, len(ids), "shots")
    )
    work.keep({"step": None if step.step is None else str(step.step.pk)})


DUPLICATE = Kind("duplicate", "Copies of shots", Verb.PLAN, Chosen, _duplicate)
