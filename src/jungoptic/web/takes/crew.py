"""Crew links: one card, or the cards of one filming date, for whoever has the link.

It is a role of its own: who comes by a link sees these cards, logs takes on them, ticks their
lists and sends stills of those takes; nothing else answers. What comes in is written down with the
name that was typed.
"""

from __future__ import annotations

import datetime
import uuid
from dataclasses import dataclass
from typing import Any

from django.db.models import F
from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja.errors import HttpError
from ninja.security import APIKeyCookie

from .. import keys
from ..accounts import devices
from ..accounts.models import User
from ..journal import writing as journal
from ..permissions import Verb, enter, may
from ..productions.models import Production
from ..records import Refused
from ..saving import writing
from .models import CrewLink, SetCard

SALT = "crew link"
#: Where a session keeps what came by links.
SLOT = "crew"
#: So many links of a production hold at once, and so many a device keeps.
MOST_OPEN, MOST_KEPT = 100, 10


@dataclass(frozen=True)
class ByLink:
    """Somebody without an account, as the journal names them."""

    name: str
    pk: None = None

    def get_username(self) -> str:
        """The name that was typed, and how they came."""
        return f"{self.name}, by crew link"


@dataclass(frozen=True)
class Hand:
    """Whoever has a card in the hand. `user` is written down; `account` is None, and `typed` the
    name, for who came by a link."""

    production: Production
    user: Any
    account: User | None
    typed: str = ""
    #: Whether they might make such a link themselves: only then they are shown one.
    may_hand_on: bool = False


class CameByLink(APIKeyCookie):
    """Lets in sessions that a crew link was opened in; each endpoint then asks `enter_card`."""

    def __init__(self) -> None:
        from django.conf import settings

        self.param_name = settings.SESSION_COOKIE_NAME
        super().__init__()

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """What the session keeps, or None."""
        return request.session.get(SLOT)


def key(link: CrewLink) -> str:
    """What stands in the link."""
    return keys.made(SALT, link.pk)


def cards_by(link: CrewLink) -> Any:
    """Every card that a link opens."""
    rows = SetCard.objects.filter(
        plate__shot__production=link.production_id, plate__shot__removed_at=None
    )
    if link.card_id is not None:
        return rows.filter(pk=link.card_id)
    return rows.filter(plate__film_on=link.film_on)


def newest_by(link: CrewLink) -> list[SetCard]:
    """The cards that a link lists: of each plate the newest, in the order of the shots."""
    rows = cards_by(link).select_related("plate__shot").prefetch_related("ticks", "takes")
    order = (
        *("plate__shot__position", "plate__shot__created_at", "plate__shot_id"),
        *("plate__position", "plate__created_at", "plate_id"),
    )
    return list(rows.order_by(*order, "-created_at").distinct(*order))


def holding_for(card: SetCard) -> CrewLink | None:
    """The newest link that holds and opens a card: its own, else that of its day."""
    rows = CrewLink.objects.filter(withdrawn_at=None, expires_at__gt=timezone.now())
    own = rows.filter(card=card).first()
    day = card.plate.film_on
    if own is not None or day is None:
        return own
    return rows.filter(production=card.production_of(), film_on=day).first()


def make(
    by: Any,
    production: Production,
    days: int,
    card: SetCard | None = None,
    film_on: datetime.date | None = None,
) -> CrewLink:
    """Make a link to a card or a day. Raises `Refused` when too many hold."""
    with writing(production):
        now = timezone.now()
        if production.crew_links.filter(withdrawn_at=None, expires_at__gt=now).count() >= MOST_OPEN:
            raise Refused("card_id", f"{MOST_OPEN} crew links hold already; withdraw some first.")
        made = CrewLink.objects.create(
            production=production,
            card=card,
            film_on=film_on,
            made_by=by,
            expires_at=now + datetime.timedelta(days=days),
        )
        _write(by, made, "made", after={"opens": opens(made), "until": made.expires_at.isoformat()})
        return made


def opens(link: CrewLink) -> str:
    """What a link opens, in words."""
    return f"card {link.card.slate}" if link.card else f"the cards of {link.film_on:%Y-%m-%d}"


def _write(by: Any, link: CrewLink, action: str, **told: Any) -> None:
    journal.write(by, link.production_id, "crew link", link.pk, action, **told)


def withdraw(by: Any, production: Production, pk: Any) -> None:
    """It opens nothing any more; gone already is as good. Raises DoesNotExist."""
    with writing(production):
        link = production.crew_links.select_related("card").get(pk=pk)
        if link.why_not:
            return
        link.withdrawn_at = timezone.now()
        link.save(update_fields=["withdrawn_at"])
        _write(by, link, "withdrawn", before={"opens": opens(link)})


def read(given: str) -> CrewLink:
    """The link that a key is of. Raises `Refused` where it opens nothing."""
    rows = CrewLink.objects.select_related("production", "card")
    link = rows.filter(pk=keys.read(SALT, given)).first()
    if link is None or link.production.removed_at is not None:
        raise Refused("key", "This link is no more; ask whoever gave it to you for another.")
    if link.why_not:
        raise Refused("key", link.why_not)
    return link


def let_in(request: HttpRequest, given: str, name: str) -> CrewLink:
    """Open a link on this device, under a name. Raises `Refused` where it opens nothing."""
    link = read(given)
    kept = request.session.get(SLOT) or {}
    # Nobody who knew this device's session before goes on with it.
    before = request.session.session_key
    request.session.cycle_key()
    devices.forget(before)
    devices.remember(request)
    others = [pk for pk in kept.get("links", []) if pk != str(link.pk)]
    request.session[SLOT] = {"name": name, "links": [str(link.pk), *others][:MOST_KEPT]}
    CrewLink.objects.filter(pk=link.pk).update(opened=F("opened") + 1, opened_at=timezone.now())
    _write(ByLink(name), link, "opened", after={"opens": opens(link)})
    return link


def typed_name(request: HttpRequest) -> str:
    """The name under which links were opened on this device; "" where none was."""
    return str((request.session.get(SLOT) or {}).get("name", ""))


def kept(request: HttpRequest) -> list[CrewLink]:
    """The links that were opened on this device, those that hold no more with them."""
    wanted = (request.session.get(SLOT) or {}).get("links", [])
    rows = CrewLink.objects.select_related("production", "card")
    rows = rows.filter(pk__in=wanted, production__removed_at=None)
    return sorted(rows, key=lambda link: wanted.index(str(link.pk)))


def leave(request: HttpRequest) -> None:
    """Forget on this device what was opened."""
    request.session.pop(SLOT, None)


def enter_card(
    request: HttpRequest, production_id: uuid.UUID, card_id: uuid.UUID, verb: Verb
) -> Hand:
    """Whoever asks, if they may do `verb` with this card: a member by their role, anybody else by a
    link that opens it.

    A stranger gets 404; who has a link to it that holds no more gets 403 and the reason.
    """
    account = request.user if isinstance(request.user, User) else None
    if account is not None:
        member = account.memberships.filter(production_id=production_id).first()
        role = None if member is None else member.role
        if may(role, verb):
            production = enter(request, production_id, verb)
            return Hand(production, account, account, may_hand_on=may(role, Verb.FILM))
    for link in kept(request):
        if link.production_id != production_id or not cards_by(link).filter(pk=card_id).exists():
            continue
        if link.why_not:
            raise HttpError(403, link.why_not)
        name = typed_name(request)
        return Hand(link.production, ByLink(name), None, name)
    if account is not None:
        enter(request, production_id, verb)
    journal.write(ByLink(typed_name(request)), production_id, "card", card_id, "refused")
    raise Http404("There is no such card, or your link does not open it.")
