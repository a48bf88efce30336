"""Who may send a picture: a member anywhere in the production, who came by a crew link stills of
the takes of their cards."""

from __future__ import annotations

import uuid
from typing import Any

from django.db.models import Sum
from django.http import HttpRequest

from ..permissions import Verb, enter, signed_in
from ..records import Refused
from ..takes.crew import Hand, enter_card
from ..takes.models import Take
from .models import PictureFile

#: The largest still that comes by a link, how many at once, and what a production takes in all.
LARGEST_STILL, MOST_STILLS, MOST_BY_LINK = 60_000_000, 20, 5_000_000_000


def enter_take(request: HttpRequest, production_id: uuid.UUID, take_id: Any) -> Hand:
    """Whoever asks, if they may send pictures of a take; of anything else only a member may."""
    takes = Take.objects.filter(pk=take_id, card__plate__shot__production=production_id)
    card = takes.values_list("card_id", flat=True).first()
    if card is not None:
        return enter_card(request, production_id, card, Verb.FILM)
    production, account = enter(request, production_id, Verb.FILM), signed_in(request)
    return Hand(production, account, account)


def enter_file(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID
) -> tuple[Hand, PictureFile]:
    """Whoever asks, with a file that they may send. Raises DoesNotExist where there is none."""
    files = PictureFile.objects.select_related("picture").filter(
        picture__production=production_id, picture__elsewhere=False
    )
    there = files.filter(pk=pk).first()
    hand = enter_take(request, production_id, there and there.picture.take_id)
    return hand, files.get(pk=pk)


def refuse_by_link(hand: Hand, files: list[Any], elsewhere: bool) -> None:
    """What comes by a link has bounds of its own: raises `Refused` beyond them."""
    if hand.account is not None:
        return
    if elsewhere:
        raise Refused("elsewhere", "By a crew link a file can only be sent.")
    if len(files) > MOST_STILLS or any(file.size > LARGEST_STILL for file in files):
        raise Refused(
            "files",
            f"By a crew link stills can be sent, {LARGEST_STILL // 1_000_000} MB each and "
            f"{MOST_STILLS} at once at most; clips are sent by a member.",
        )
    rows = PictureFile.objects.filter(picture__production=hand.production)
    used = rows.exclude(picture__sent_as="").aggregate(size=Sum("size"))["size"] or 0
    if used + sum(file.size for file in files) > MOST_BY_LINK:
        raise Refused(
            "files",
            f"{MOST_BY_LINK // 1_000_000_000} GB came in by crew links already; a member has to "
            "remove some, or to send this.",
        )
