"""Looking at what has arrived: as work behind the scenes, in a process that may die of it."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from pydantic import BaseModel, Field

from jungoptic.core.pictures.facts import Facts

from ..jobs.models import Job, State
from ..jobs.work import Kind, Work, ask_for
from ..permissions import Verb
from ..records import Refused
from ..takes.files import facts
from .models import Arrival, Picture

#: More bytes than these are read behind what somebody waits for.
LARGE = 500 * 1000**2


class Which(BaseModel, extra="forbid"):
    """Which picture."""

    picture_id: uuid.UUID


class AnyFrame(Which):
    """Any frame (from 1) of a picture."""

    frame: Annotated[int, Field(ge=1, le=100_000_000)]


def picture_of(work: Work[Any], pk: uuid.UUID) -> Picture:
    """A picture of the production that work is for. Raises Refused."""
    found = Picture.objects.filter(pk=pk, production=work.production)
    picture = found.select_related("take__card__plate", "plate").first()
    if picture is None:
        raise Refused("picture_id", "This production has no such picture any more.")
    return picture


def runs(picture: Picture) -> bool:
    """Whether more than one frame of it is here, and read."""
    if picture.state != Arrival.READ or picture.elsewhere:
        return False
    read = facts(picture)
    return read is not None and read.frames > 1


def running(work: Work[Any], pk: uuid.UUID) -> tuple[Picture, Facts]:
    """A picture of more than one frame, and what its file says. Raises Refused."""
    picture = picture_of(work, pk)
    read = facts(picture)
    if read is None or not runs(picture):
        raise Refused("picture_id", "There is no more than one frame of it here.")
    return picture, read


def look_at(production: Any, picture: Picture, user: Any) -> Job:
    """Have a picture looked at that has arrived."""
    size = sum(picture.files.values_list("size", flat=True))
    wanted = Which(picture_id=picture.pk)
    return ask_for(production, user, LOOK_AT, wanted, "long" if size > LARGE else "short")


def _look(work: Work[Which]) -> None:
    # What reads files is large, and a web process never needs it.
    from .looking import look

    look(work)


def _show(work: Work[AnyFrame]) -> None:
    from .looking import show

    show(work)


def measure(production: Any, picture: Picture, user: Any) -> Job:
    """Have a picture measured frame by frame."""
    return ask_for(production, user, MEASURE, Which(picture_id=picture.pk))


def _measure(work: Work[Which]) -> None:
    from .measuring import measured

    measured(work)


def find_camera(production: Any, picture: Picture, user: Any) -> Job:
    """Have it worked out once more where the camera of a picture stood. Work that has not begun
    yet will do: it looks at what is stored when it begins."""
    asked = Job.objects.filter(
        production=production,
        kind=CAMERA_AGAIN.key,
        state=State.WAITING,
        params__picture_id=str(picture.pk),
    )
    for job in asked:
        if not job.cut_off:
            return job
    return ask_for(production, user, CAMERA_AGAIN, Which(picture_id=picture.pk), "short")


def _find_camera(work: Work[Which]) -> None:
    from .standing import found_again

    found_again(work)


#: Its key is older than marks.
CAMERA_AGAIN = Kind(
    "board-again",
    "Working out where the camera stood",
    Verb.FILM,
    Which,
    _find_camera,
    queue="short",
    warm=True,
    own=True,
)
MEASURE = Kind(
    "measure",
    "Measuring it frame by frame",
    Verb.FILM,
    Which,
    _measure,
    own=True,
)
SHOW = Kind("show-frame", "Showing a frame of it", Verb.FILM, AnyFrame, _show, "short", warm=True)
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
