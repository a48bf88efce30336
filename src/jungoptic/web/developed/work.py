"""Developing as work behind the scenes: somebody waits beside it."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from django.http import Http404
from pydantic import BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb
from ..plans.models import Shot
from .keeping import Subject, keep, plate_of

#: How wide pictures may be asked for, pixels.
Width = Literal[480, 960]


class Wanted(BaseModel, extra="forbid"):
    """Which picture: a plate of a shot, or without one the story of a view, at a frame from 1."""

    shot_id: uuid.UUID
    plate_id: uuid.UUID | None = None
    view_id: uuid.UUID | None = None
    frame: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    width: Width = 480


def _develop(work: Work[Wanted]) -> None:
    wanted = work.params
    shot = Shot.objects.filter(pk=wanted.shot_id, production=work.production).first()
    if shot is None:
        raise Http404
    subject = Subject(plate_of(shot, wanted.plate_id), wanted.view_id, wanted.frame)
    made = keep(shot, subject, wanted.width, lambda done, of: work.tell(done, of + 1, "steps"))
    work.keep({"developed": str(made.pk)})


DEVELOP = Kind(
    "develop", "A developed picture", Verb.VIEW, Wanted, _develop, queue="short", warm=True
)
