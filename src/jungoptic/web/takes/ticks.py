"""The list of a card, ticked by whoever stands at the set: the same for every device."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from .. import saving
from ..records import Refused
from .crew import Hand
from .models import SetCard, Tick


def tick(hand: Hand, card: SetCard, item: str, done: bool) -> None:
    """Tick a line, or clear it; a second time changes nothing. Raises `Refused` for what does not
    stand on the card."""
    if item not in card.shown["checklist"]:
        raise Refused("item", "This line does not stand on the card.")
    with saving.writing(hand.production):
        there = card.ticks.filter(item=item).first()
        if done == (there is not None):
            return
        told = {"item": item[:200]}
        if there is None:
            name = hand.user.get_username()
            Tick.objects.create(card=card, item=item, by=name, at=timezone.now())
            saving.write_down(hand.user, hand.production, card, "ticked", after=told)
        else:
            there.delete()
            saving.write_down(hand.user, hand.production, card, "cleared", before=told)


def ticks_out(card: SetCard) -> list[dict[str, Any]]:
    """The lines that are ticked, by whom and when."""
    return [{"item": t.item, "by": t.by, "at": t.at.isoformat()} for t in card.ticks.all()]
