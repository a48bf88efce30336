"""Set cards: issued, listed, printed, with the board that is held up before a take."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from django.db.models import Count
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from ninja import Query, Router
from ninja.security import django_auth
from pydantic import Field

from jungoptic.core.board.number import Paper

from .. import crud, saving
from ..calc.api import NotationFields
from ..permissions import Verb, enter
from ..plans.api import plates_of
from ..schemas import Conflict, Fields
from ..storage import served
from .boards import board_pdf
from .cards import issue
from .crew import CameByLink, enter_card, holding_for
from .crew_api import code_for
from .fields import CardEdit
from .files import settle
from .pdf import card_pdf
from .ticks import tick, ticks_out
from .told import CardOut, CardRow, Ticked, card_out, card_row, cards_of, takes_of

router = Router(tags=["takes"])


@router.post("/{uuid:production_id}/plates/{uuid:plate_id}/cards", response=CardOut)
def issue_card(
    request: HttpRequest,
    production_id: uuid.UUID,
    plate_id: uuid.UUID,
    notation: Query[NotationFields],
) -> Any:
    """Issue a set card for a plate as it is planned now, in the crew's own notation."""
    production = enter(request, production_id, Verb.FILM)
    plate = plates_of(production).get(pk=plate_id)
    return card_out(issue(request.user, plate, notation.core()))


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/cards", response=list[CardRow])
def list_cards(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """The newest 200 cards of a shot."""
    production = enter(request, production_id, Verb.VIEW)
    cards = cards_of(production).filter(plate__shot_id=shot_id)
    return [card_row(c, c.logged) for c in cards.annotate(logged=Count("takes"))[:200]]


@router.get(
    "/{uuid:production_id}/cards/{uuid:pk}", auth=[django_auth, CameByLink()], response=CardOut
)
def get_card(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A card with its takes and what is ticked."""
    hand = enter_card(request, production_id, pk, Verb.VIEW)
    return card_out(cards_of(hand.production).get(pk=pk))


@router.get(
    "/{uuid:production_id}/cards/{uuid:pk}/picture",
    auth=[django_auth, CameByLink()],
    response=bytes,
)
def card_picture(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> FileResponse:
    """The developed picture on a card."""
    hand = enter_card(request, production_id, pk, Verb.VIEW)
    name = cards_of(hand.production).get(pk=pk).picture
    if not name:
        raise Http404("No picture of its plan was developed before this card was issued.")
    return served(name, "image/webp", "The picture of this card is gone.")


class TickIn(Fields):
    """A line of the card's list, as it stands there, and whether it is seen to."""

    item: Annotated[str, Field(min_length=1, max_length=500)]
    done: bool


@router.post(
    "/{uuid:production_id}/cards/{uuid:pk}/ticks",
    auth=[django_auth, CameByLink()],
    response=list[Ticked],
)
def tick_line(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: TickIn
) -> Any:
    """Tick a line of a card's list, or clear it; what is ticked by then."""
    hand = enter_card(request, production_id, pk, Verb.FILM)
    card = cards_of(hand.production).get(pk=pk)
    tick(hand, card, payload.item, payload.done)
    return ticks_out(card)


@router.get(
    "/{uuid:production_id}/cards/{uuid:pk}/pdf",
    auth=[django_auth, CameByLink()],
    response=bytes,
)
def print_card(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """The card as an A5 PDF, with the code of its crew link where one holds and the asker might
    hand it on."""
    hand = enter_card(request, production_id, pk, Verb.VIEW)
    card = cards_of(hand.production).get(pk=pk)
    link = holding_for(card) if hand.may_hand_on else None
    code = None if link is None else code_for(request, link)
    response = HttpResponse(card_pdf(card, link, code), content_type="application/pdf")
    return _named(response, f"card-{card.slate}.pdf")


def _named(response: HttpResponse, name: str) -> HttpResponse:
    safe = "".join(c if c.isascii() and (c.isalnum() or c in "-.") else "_" for c in name)
    response["Content-Disposition"] = f'inline; filename="{safe}"'
    return response


@router.get("/{uuid:production_id}/cards/{uuid:pk}/board", response=bytes)
def print_board(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, paper: Paper = "A4"
) -> HttpResponse:
    """The board of a card as a PDF: held up before a take, it says which card the take is of and
    where the camera stands."""
    card = cards_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    address = request.build_absolute_uri(f"/productions/{production_id}/cards/{pk}")
    response = HttpResponse(board_pdf(card, paper, address), content_type="application/pdf")
    return _named(response, f"board-{card.slate}-{paper}.pdf")


@router.patch("/{uuid:production_id}/cards/{uuid:pk}", response={200: CardOut, 409: Conflict})
def edit_card(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: CardEdit
) -> Any:
    """Say how large the board of a card came out of the printer. What its pictures tell of the
    camera grows or shrinks with it."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        answer = crud.change(
            request, production_id, cards_of, pk, payload, card_out, verb=Verb.FILM
        )
        for take in takes_of(production).filter(card=pk):
            settle(request.user, production, take)
    return answer
