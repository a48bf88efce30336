"""What the board in a picture is good for, where a person asks."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpRequest
from ninja import Router

from .. import saving
from ..permissions import Verb, enter
from ..records import Refused, values_of
from ..schemas import Out
from ..takes.files import settle
from ..takes.judging import called_take
from ..takes.told import takes_of
from .answers import PictureWhole, open_jobs, whole
from .api import listed, pictures_of
from .fields import PLACES
from .filing import file_it, filed_lately, in_order, its_card
from .work import find_camera

router = Router(tags=["pictures"])


class FiledPicture(Out):
    """A picture that was filed by its board: on which shot it hangs now, and how it is called
    where it hangs."""

    id: uuid.UUID
    name: str
    shot_id: uuid.UUID
    shot: str
    where: str


@router.get("/{uuid:production_id}/filed", response=list[FiledPicture])
def filed(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """Where pictures went that were filed by their boards within a day, the last first."""
    found = []
    for picture in filed_lately(enter(request, production_id, Verb.VIEW)):
        take = picture.take
        plate: Any = picture.plate if take is None else take.card.plate
        told = {
            "id": picture.pk,
            "name": picture.name,
            "shot_id": plate.shot_id,
            "shot": f"{plate.shot.number} {plate.shot.title}",
            "where": plate.name if take is None else called_take(take),
        }
        found.append(told)
    return found


@router.post("/{uuid:production_id}/pictures/{uuid:pk}/by-board", response=PictureWhole)
def file_by_board(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Hang a picture on a take of the card whose board was held up in it, wherever it hung."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        picture = pictures_of(production).select_for_update(of=("self",)).get(pk=pk)
        if its_card(picture) is None:
            raise Refused("board", "No card of this production has the board of this picture.")
        hung, left = values_of(picture, list(PLACES)), picture.take_id
        for name in PLACES:
            setattr(picture, name, None)
        file_it(request.user, picture, hung)
        if picture.take_id is None and picture.plate_id is None:
            raise Refused("role", "Only what the plate's camera recorded is filed by its board.")
        picture.revision += 1
        picture.save()
        if picture.take is not None:
            in_order(request.user, production, picture.take.card)
        for take in takes_of(production).filter(pk__in=[left, picture.take_id]):
            settle(request.user, production, take)
        find_camera(production, picture, request.user)
    jobs = open_jobs(production)
    return whole(listed(pictures_of(production)).get(pk=pk), jobs)
