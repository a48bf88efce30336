"""Small pictures of every frame, and how loud it is there: asked for behind the scenes, and fetched
to stand beside the rows of a sheet."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import FileResponse, Http404, HttpRequest
from ninja import Router

from ..jobs.work import Kind, Work
from ..permissions import Verb, enter
from ..schemas import Out
from .api import KEPT, file_of, pictures_of
from .models import ACROSS, DOWN, Picture
from .work import Which

router = Router(tags=["pictures"])


class StripOut(Out):
    """Small pictures of the first `frames` frames of a clip or a sequence, each `wide` x `high`
    pixels, in sheets of `across` x `down`; `fps`: its rate, null where none is known. `loud`: how
    loud each frame is, decibels under the most that a recording holds; empty without sound."""

    frames: int
    wide: int
    high: int
    across: int = ACROSS
    down: int = DOWN
    fps: float | None
    loud: list[int]


def _draw(work: Work[Which]) -> None:
    # What reads files is large, and a web process never needs it.
    from .stripping import draw

    draw(work)


STRIP = Kind("strip", "Small pictures of every frame", Verb.FILM, Which, _draw)


def _strip(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Picture:
    picture = pictures_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    if picture.strip is None:
        raise Http404("Small pictures of this one were not made yet.")
    found: Picture = picture
    return found


@router.get("/{uuid:production_id}/pictures/{uuid:pk}/strip", response=StripOut)
def strip(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """What there is of small pictures."""
    return _strip(request, production_id, pk).strip


@router.get("/{uuid:production_id}/pictures/{uuid:pk}/strip/{int:number}", response=bytes)
def strip_sheet(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, number: int
) -> FileResponse:
    """A sheet of small pictures, from 1."""
    picture = _strip(request, production_id, pk)
    if not 1 <= number <= picture.strip_sheets:
        raise Http404("There are not so many sheets of small pictures.")
    answer = file_of(picture.strip_sheet(number), content_type="image/jpeg")
    answer["Cache-Control"] = KEPT
    return answer
