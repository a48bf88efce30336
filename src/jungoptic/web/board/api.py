"""The Board: every shot of a production in story order, and what is done to several at once."""

from __future__ import annotations

import datetime
import uuid
from collections.abc import Callable
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router
from pydantic import Field

from ..breakdown.loading import load_breakdown
from ..breakdown.steps_api import StepOut, StepsOut, step_out, steps_out
from ..developed.shot_picture import Of
from ..permissions import Verb, enter
from ..productions.models import Production
from ..records import Refused
from ..schemas import Fields, HoursRange, Out, Within
from ..steps import Recorder
from . import board, cutting

router = Router(tags=["board"])
#: The most shots that a Board holds, and the most that can be judged in one go.
MOST_SHOTS = 2000
JUDGED_AT_ONCE = 40


class BoardPlate(Out):
    """A plate as a symbol: what is in front of its lens, and how far it is (0 to 4)."""

    id: uuid.UUID
    name: str
    kind: str
    required: bool
    step: int
    lock_group: str
    film_on: datetime.date | None


class BoardRecipe(Out):
    """A recipe in use."""

    key: str
    name: str


class BoardPicture(Out):
    """The sketch that stands for a shot; its revision tells when to fetch it anew."""

    id: uuid.UUID
    revision: int


class Remark(Out):
    """A finding of continuity, short."""

    title: str
    verdict: str
    sentence: str


class BoardRow(Out):
    """One shot on the Board."""

    id: uuid.UUID
    revision: int
    number: str
    title: str
    action: str
    place: str
    time_of_day: str
    screen_time_s: float
    views: int
    variant_of: uuid.UUID | None
    sketch: BoardPicture | None
    recipes: list[BoardRecipe]
    plates: list[BoardPlate]
    set_hours: HoursRange
    post_hours: HoursRange
    logged: float
    readiness: float
    next: str
    forgotten: list[str]
    unread_cautions: int
    continuity: list[Remark]


class BoardOut(Out):
    """All of the Board but the computed verdicts."""

    rows: list[BoardRow]
    steps: StepsOut


class ShotPictureOut(Out):
    """A picture of the simulated camera that stands for a shot: all its plates put together, the
    story were it real, or one of its plates. `current`: of the plan as it is now."""

    of: Of
    id: uuid.UUID
    current: bool


class RowVerdict(Out):
    """The worst finding of a shot's plates, and so the next thing to do; no verdict while it has
    no plates. With the developed picture that stands for the shot, where there is one."""

    id: uuid.UUID
    next: str
    verdict: str | None
    title: str
    sentence: str
    plates: dict[uuid.UUID, str]
    #: By plate what was not asked, since something is not decided yet.
    unasked: dict[uuid.UUID, list[str]]
    picture: ShotPictureOut | None


@router.get("/{uuid:production_id}/board", response=BoardOut)
def read_board(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The Board. Its queries do not grow with the shots."""
    production = enter(request, production_id, Verb.VIEW)
    loaded = load_breakdown(production)
    return {
        "rows": [board.row(loaded, shot) for shot in loaded.shots[:MOST_SHOTS]],
        "steps": steps_out(request.user, production),
    }


class Wanted(Fields):
    """Shots whose verdicts are wanted."""

    shots: Annotated[list[uuid.UUID], Field(min_length=1, max_length=JUDGED_AT_ONCE)]


@router.get("/{uuid:production_id}/board/verdicts", response=list[RowVerdict])
def read_verdicts(
    request: HttpRequest,
    production_id: uuid.UUID,
    wanted: Query[Wanted],
) -> Any:
    """The worst finding of each named shot, computed."""
    return board.verdicts(enter(request, production_id, Verb.VIEW), wanted.shots)


Ids = Annotated[list[uuid.UUID], Field(min_length=1, max_length=500)]


class Chosen(Fields):
    """Shots."""

    ids: Ids


class Reorder(Chosen):
    """Shots to put before another one; none: at the end."""

    before: uuid.UUID | None = None


class SplitAt(Fields):
    """A moment of a shot to split it at."""

    id: uuid.UUID
    at_s: Annotated[float, Within(0, 3600)]


class SetTogether(Chosen):
    """What several shots get alike; only what is named is changed."""

    place: Annotated[str, Field(max_length=120)] | None = None
    time_of_day: Annotated[str, Field(max_length=40)] | None = None
    film_on: datetime.date | None = None


class Done(Out):
    """The step that was made; none when nothing had to change."""

    step: StepOut | None


def _do(
    request: HttpRequest, production_id: uuid.UUID, work: Callable[[Production], Recorder]
) -> dict[str, Any]:
    step = work(enter(request, production_id, Verb.PLAN))
    return {"step": None if step.step is None else step_out(step.step)}


@router.post("/{uuid:production_id}/board/order", response=Done)
def reorder(request: HttpRequest, production_id: uuid.UUID, payload: Reorder) -> Any:
    """Move shots in story order."""
    if payload.before in payload.ids:
        raise Refused("before", "A shot cannot stand before itself.")
    return _do(
        request,
        production_id,
        lambda p: board.reorder(request.user, p, payload.ids, payload.before),
    )


@router.post("/{uuid:production_id}/board/remove", response=Done)
def remove(request: HttpRequest, production_id: uuid.UUID, payload: Chosen) -> Any:
    """Put shots away; undo fetches them back with everything."""
    return _do(request, production_id, lambda p: board.put_away(request.user, p, payload.ids))


@router.post("/{uuid:production_id}/board/duplicate", response=Done)
def duplicate(request: HttpRequest, production_id: uuid.UUID, payload: Chosen) -> Any:
    """Copy shots as variants."""
    return _do(request, production_id, lambda p: cutting.duplicate(request.user, p, payload.ids))


@router.post("/{uuid:production_id}/board/split", response=Done)
def split(request: HttpRequest, production_id: uuid.UUID, payload: SplitAt) -> Any:
    """Split a shot in two."""
    return _do(
        request, production_id, lambda p: cutting.split(request.user, p, payload.id, payload.at_s)
    )


@router.post("/{uuid:production_id}/board/merge", response=Done)
def merge(request: HttpRequest, production_id: uuid.UUID, payload: Chosen) -> Any:
    """Make one shot of several."""
    return _do(request, production_id, lambda p: cutting.merge(request.user, p, payload.ids))


@router.post("/{uuid:production_id}/board/set", response=Done)
def set_together(request: HttpRequest, production_id: uuid.UUID, payload: SetTogether) -> Any:
    """Give several shots the same place, time of day, or day of filming."""
    changes = payload.model_dump(exclude_unset=True, exclude={"ids"})
    if changes.get("place", "") is None or changes.get("time_of_day", "") is None:
        raise Refused("place", "Leave it out, or give it a text; it may be empty.")
    return _do(
        request,
        production_id,
        lambda p: board.set_together(request.user, p, payload.ids, changes),
    )
