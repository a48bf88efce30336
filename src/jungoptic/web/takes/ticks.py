"""The list of a card, ticked by whoever stands at the set: the same for every device."""

from __future__ import annotations

from typing import Any

from .. import saving
from ..records import Refused
from .crew import ByLink, Hand
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
            Tick.objects.create(card=card, item=item, user=hand.account, ticked_as=hand.typed)
            saving.write_down(hand.user, hand.production, card, "ticked", after=told)
        else:
            there.delete()
            saving.write_down(hand.user, hand.production, card, "cleared", before=told)


def ticks_out(card: SetCard) -> list[dict[str, Any]]:
    """The lines that are ticked, by whom and when."""
    rows = card.ticks.select_related("user")
    return [{"item": t.item, "by": _by(t), "at": t.at.isoformat()} for t in rows]


def _by(one: Tick) -> str:
    if one.ticked_as:
        return ByLink(one.ticked_as).get_username()
    return "somebody who left" if one.user is None else one.user.get_username()
