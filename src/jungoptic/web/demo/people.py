"""Who else is in the demo: somebody asked in, and a day's cards handed out without an account."""

from __future__ import annotations

import datetime
from typing import Any

from ..productions import invitations
from ..productions.models import Production, Role
from ..takes import crew
from ..takes.crew import ByLink, Hand
from ..takes.models import SetCard
from ..takes.ticks import tick
from .shots import DAYS

#: Invented, like everything here.
HELPER = "Nela"


def lay(production: Production, owner: Any) -> None:
    """The day in the kitchen is handed out; a helper has begun to tick a card of it."""
    day = datetime.date.fromisoformat(DAYS["kitchen"])
    crew.make(owner, production, days=30, film_on=day)
    invitations.make(owner, production, Role.CREW, "Per, second camera", days=14)
    cards = SetCard.objects.filter(plate__shot__production=production, plate__film_on=day)
    card = cards.order_by("plate__shot__position", "created_at").first()
    if card is None:
        return
    hand = Hand(production, ByLink(HELPER), None, HELPER)
    for line in card.shown["checklist"][:3]:
        tick(hand, card, line, True)
