"""Who did what in a production."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from ninja import Router

from ..journal.models import Entry
from ..permissions import Verb, enter
from ..schemas import Out, Within
from .telling import tell

router = Router(tags=["people"])

#: What is about people and links, and not about the film.
PEOPLE = ("member", "invitation", "crew link")


class ChangeTold(Out):
    """A field that changed, in words."""

    what: str
    before: str
    after: str


class DoingTold(Out):
    """Something that somebody did. `more`: entries of the journal that are told with it."""

    id: int
    at: datetime.datetime
    who: str
    address: str
    what: str
    changes: list[ChangeTold]
    more: int


class History(Out):
    """Doings, newest first; `older` asks for those before them, null at the end."""

    doings: list[DoingTold]
    older: int | None


@router.get("/{uuid:production_id}/history", response=History)
def history(
    request: HttpRequest,
    production_id: uuid.UUID,
    older: Annotated[int, Within(1, 2**62)] | None = None,
    member: Annotated[int, Within(1, 2**62)] | None = None,
    about: Literal["all", "people"] = "all",
    limit: Annotated[int, Within(1, 200)] = 100,
) -> Any:
    """Who did what, when and from where: all of it, or of one member, or about people and links."""
    enter(request, production_id, Verb.OWN)
    rows = Entry.objects.filter(production_id=production_id)
    if older is not None:
        rows = rows.filter(pk__lt=older)
    if member is not None:
        rows = rows.filter(user_id=member)
    if about == "people":
        rows = rows.filter(kind__in=PEOPLE) | rows.filter(action="refused")
    found = list(rows[: limit + 1])
    shown = found[:limit]
    more = shown[-1].pk if len(found) > limit else None
    return {"doings": tell(shown), "older": more}
