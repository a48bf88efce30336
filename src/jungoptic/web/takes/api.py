"""Takes logged on set cards, and the judgement on them."""

from __future__ import annotations

import uuid
from typing import Any

from django.db.models import Max
from django.http import HttpRequest
from ninja import Router, Schema
from ninja.security import django_auth

from jungoptic.core.cards.takes import Taken, TakeReport, judge_take

from .. import crud, saving
from ..permissions import Verb, enter
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict
from .crew import CameByLink, enter_card
from .fields import READINGS, TakeEdit, TakeIn
from .files import frozen
from .judging import judged, takes_among
from .models import SetCard, Take
from .told import Planned, TakeOut, cards_of, take_out, takes_of

router = Router(tags=["takes"])


class TakePage(Schema):
    """A take with the judgement on it."""

    take: TakeOut
    shot_id: uuid.UUID
    shot: str
    plate: str
    planned: Planned
    report: TakeReport


@router.post(
    "/{uuid:production_id}/cards/{uuid:card_id}/takes",
    auth=[django_auth, CameByLink()],
    response=TakeOut,
)
def log_take(
    request: HttpRequest, production_id: uuid.UUID, card_id: uuid.UUID, payload: TakeIn
) -> Any:
    """Log a take on a card. The same id a second time logs it once."""

    hand = enter_card(request, production_id, card_id, Verb.FILM)

    def values() -> dict[str, Any]:
        given = payload.model_dump(exclude={"id"})
        card = cards_of(hand.production).select_for_update(of=("self",)).get(pk=card_id)
        # Judged once before it is kept: a reading that no lens can have is refused by name.
        _judge(card, given)
        last = card.takes.aggregate(last=Max("number"))["last"] or 0
        who = {"logged_by": hand.account, "logged_as": hand.typed}
        return {**given, "card": card, "number": last + 1, **who}

    take = saving.create(hand.user, hand.production, Take, values, payload.id)
    if take.card_id != card_id:
        raise Refused("id", "This id is taken; make a new one.")
    return take_out(take)


@router.get("/{uuid:production_id}/takes/{uuid:pk}", response=TakePage)
def get_take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A take, what its departures cost, and whether to go again."""
    production = enter(request, production_id, Verb.VIEW)
    take = takes_of(production).get(pk=pk)
    content, among = take.card.shown, takes_among(production, [take.card.plate.shot_id])
    mine = next(x for x in among if x.take.pk == take.pk)
    return {
        "take": take_out(take),
        "shot_id": take.card.plate.shot_id,
        "shot": content["shot"],
        "plate": content["plate"],
        "planned": content["planned"],
        "report": judged(mine, among),
    }


@router.patch("/{uuid:production_id}/takes/{uuid:pk}", response={200: TakeOut, 409: Conflict})
def edit_take(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: TakeEdit
) -> Any:
    """Correct a take: a reading, the note, the circle."""

    def prepare(production: Production, changes: dict[str, Any]) -> dict[str, Any]:
        take = takes_of(production).get(pk=pk)
        readings = {name: getattr(take, name) for name in READINGS}
        _judge(take.card, {**readings, **changes})
        number = changes.get("number", take.number)
        if number != take.number:
            if take.card.takes.filter(number=number).exists():
                raise Refused(
                    "number", f"This card has a take {number} already; number that one first."
                )
            changes["by_board"] = False
        # What somebody reads off is no longer the file's.
        left = [name for name in take.from_file if name not in changes]
        return changes if left == take.from_file else {**changes, "from_file": left}

    return crud.change(
        request, production_id, takes_of, pk, payload, take_out, prepare, verb=Verb.FILM
    )


@router.delete("/{uuid:production_id}/takes/{uuid:pk}", response={204: None})
def remove_take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a take. Its pictures stay, with its plate."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        for take in takes_of(production).filter(pk=pk):
            take.pictures.update(take=None, plate=take.card.plate)
        return crud.drop(request, production_id, takes_of, pk, verb=Verb.FILM)


def _judge(card: SetCard, values: dict[str, Any]) -> TakeReport:
    shot, plate = frozen(card)
    return judge_take(shot, plate, Taken(**{n: values.get(n) for n in READINGS}))
