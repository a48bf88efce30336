"""Crew links: made and withdrawn by members, opened by anybody who has one."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from ..accounts import sure
from ..accounts.guard import PerAddress, from_our_page
from ..permissions import Verb, enter
from ..records import Refused
from ..schemas import Fields, KeyIn, Out, Within
from . import crew
from .code import Code, code_of
from .models import CrewLink
from .told import cards_of

router = Router(tags=["crew links"])
door = Router(tags=["crew links"])


class CrewLinkIn(Fields):
    """What a link shall open, a card or a filming date, and for how many days."""

    card_id: uuid.UUID | None = None
    film_on: datetime.date | None = None
    days: Annotated[int, Within(1, 90)] = 7


class PhoneCode(Out):
    """A code for phones: a path of unit squares, `side` of them wide and high."""

    side: int
    path: str


class CrewLinkOut(Out):
    """A link: what it opens, who made it, how often a device was let in; its address and code while
    it holds, why it does not otherwise."""

    id: uuid.UUID
    opens: str
    card_id: uuid.UUID | None
    film_on: datetime.date | None
    cards: int
    made_by: str
    made_at: datetime.datetime
    expires_at: datetime.datetime
    why_not: str
    opened: int
    opened_at: datetime.datetime | None
    address: str
    code: PhoneCode | None


class CrewOpening(KeyIn):
    """What stands behind the # of a link, and the name that goes beside what is logged."""

    name: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f\x7f]+$")]


class CrewWhat(Out):
    """What a link opens."""

    production: str
    opens: str
    until: datetime.datetime
    name: str


class CrewCard(Out):
    """A card in the list that a link opens."""

    id: uuid.UUID
    production_id: uuid.UUID
    slate: str
    shot: str
    plate: str
    scale: float
    takes: int
    ticked: int
    lines: int


class CrewDay(CrewWhat):
    """What a link opened on this device shows; `why_not`: why it shows nothing any more."""

    why_not: str
    cards: list[CrewCard]


class CrewOut(Schema):
    """Everything that was opened on this device, and the name it was opened under."""

    name: str
    links: list[CrewDay]


def address_of(request: HttpRequest, link: CrewLink) -> str:
    """The address that opens a link."""
    return request.build_absolute_uri(f"/crew#{crew.key(link)}")


def code_for(request: HttpRequest, link: CrewLink) -> Code:
    """The code that a phone reads."""
    return code_of(address_of(request, link))


def _plates(link: CrewLink) -> int:
    """How many cards a link lists: one for every plate."""
    return int(crew.cards_by(link).order_by().values("plate").distinct().count())


def _link(request: HttpRequest, link: CrewLink) -> dict[str, Any]:
    names = ("id", "card_id", "film_on", "made_at", "expires_at", "why_not", "opened", "opened_at")
    holds = not link.why_not
    return {
        **{name: getattr(link, name) for name in names},
        "opens": crew.opens(link),
        "cards": _plates(link) if holds else 0,
        "made_by": "" if link.made_by is None else link.made_by.username,
        "address": address_of(request, link) if holds else "",
        "code": code_for(request, link) if holds else None,
    }


@router.get("/{uuid:production_id}/crew-links", response=list[CrewLinkOut])
def list_links(
    request: HttpRequest, production_id: uuid.UUID, card_id: uuid.UUID | None = None
) -> Any:
    """The newest fifty links of a production, or those of one card that hold."""
    production = enter(request, production_id, Verb.FILM)
    rows = production.crew_links.select_related("card", "made_by")
    if card_id is not None:
        rows = rows.filter(card=card_id)
    found = [link for link in rows[:50] if card_id is None or not link.why_not]
    return [_link(request, link) for link in found]


@router.post("/{uuid:production_id}/crew-links", response=CrewLinkOut)
def make_link(request: HttpRequest, production_id: uuid.UUID, payload: CrewLinkIn) -> Any:
    """Make a link to a card, or to the cards of a filming date."""
    production = enter(request, production_id, Verb.FILM)
    sure.demand(request)
    if (payload.card_id is None) == (payload.film_on is None):
        raise Refused("card_id", "Name what it opens: one card, or one filming date.")
    card = None
    if payload.card_id is not None:
        card = cards_of(production).get(pk=payload.card_id)
    return _link(request, crew.make(request.user, production, payload.days, card, payload.film_on))


@router.delete("/{uuid:production_id}/crew-links/{uuid:pk}", response={204: None})
def withdraw_link(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """It opens nothing any more, from this moment on."""
    crew.withdraw(request.user, enter(request, production_id, Verb.FILM), pk)
    return Status(204, None)


def _what(link: CrewLink, name: str) -> dict[str, Any]:
    return {
        "production": link.production.name,
        "opens": crew.opens(link),
        "until": link.expires_at,
        "name": name,
    }


@door.post("/crew/look", auth=None, response=CrewWhat, throttle=[PerAddress("60/m")])
def look_at_link(request: HttpRequest, payload: KeyIn) -> Any:
    """What a link opens, before anybody gives a name."""
    from_our_page(request)
    return _what(crew.read(payload.key), crew.typed_name(request))


@door.post("/crew", auth=None, response=CrewOut, throttle=[PerAddress("60/m")])
def open_link(request: HttpRequest, payload: CrewOpening) -> Any:
    """Open a link on this device, under a name."""
    from_our_page(request)
    crew.let_in(request, payload.key, payload.name)
    return _everything(request)


@door.get("/crew", auth=None, response=CrewOut)
def what_is_open(request: HttpRequest) -> Any:
    """Everything that was opened on this device."""
    return _everything(request)


@door.delete("/crew", auth=None, response={204: None})
def leave_crew(request: HttpRequest) -> Any:
    """Forget on this device what was opened."""
    from_our_page(request)
    crew.leave(request)
    return Status(204, None)


def _everything(request: HttpRequest) -> dict[str, Any]:
    name = crew.typed_name(request)
    links = [
        {
            **_what(link, name),
            "why_not": link.why_not,
            "cards": [] if link.why_not else _cards(link),
        }
        for link in crew.kept(request)
    ]
    return {"name": name, "links": links}


def _cards(link: CrewLink) -> list[dict[str, Any]]:
    return [
        {
            "id": card.pk,
            "production_id": link.production_id,
            "slate": card.slate,
            **{name: content[name] for name in ("shot", "plate", "scale")},
            "takes": len(card.takes.all()),
            "ticked": len(card.ticks.all()),
            "lines": len(content["checklist"]),
        }
        for card in crew.newest_by(link)
        for content in (card.shown,)
    ]
