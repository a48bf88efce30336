"""Looking at what has arrived: as work behind the scenes, in a process that may die of it."""

from __future__ import annotations

import uuid
from typing import Any

from pydantic import BaseModel

from ..jobs.models import Job
from ..jobs.work import Kind, Work, ask_for
from ..permissions import Verb
from .models import Picture

#: More bytes than these are read behind what somebody waits for.
LARGE = 500 * 1000**2


class Which(BaseModel, extra="forbid"):
    """Which picture."""

    picture_id: uuid.UUID


def look_at(production: Any, picture: Picture, user: Any) -> Job:
    """Have a picture looked at that has arrived."""
    size = sum(picture.files.values_list("size", flat=True))
    wanted = Which(picture_id=picture.pk)
    return ask_for(production, user, LOOK_AT, wanted, "long" if size > LARGE else "short")


def _look(work: Work[Which]) -> None:
    # What reads files is large, and a web process never needs it.
    from .looking import look

    look(work)


def measure(production: Any, picture: Picture, user: Any) -> Job:
    """Have a picture measured frame by frame."""
    return ask_for(production, user, MEASURE, Which(picture_id=picture.pk))


def _measure(work: Work[Which]) -> None:
    from .measuring import measured

    measured(work)


MEASURE = Kind(
    "measure",
    "Measuring it frame by frame",
    Verb.FILM,
    Which,
    _measure,
    own=True,
)
LOOK_AT = Kind(
    "look-at",
    "Looking at what was filmed",
    Verb.FILM,
    Which,
    _look,
    queue="short",
    warm=True,
    own=True,
)
