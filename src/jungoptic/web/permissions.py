"""The one place that answers "may they?" and "which production?"."""

from __future__ import annotations

import uuid
from enum import StrEnum
from typing import Any

from django.http import Http404
from ninja.errors import HttpError

from .accounts.models import User
from .journal import writing as journal
from .productions.models import Membership, Production, Role


class Verb(StrEnum):
    """What somebody wants to do in a production."""

    VIEW = "view"
    FILM = "film"  # issue cards, log takes
    PLAN = "plan"  # shots, plates, stand-ins, kit
    OWN = "own"  # the production itself and its members


ALLOWED: dict[str, frozenset[Verb]] = {
    Role.OWNER: frozenset(Verb),
    Role.CREW: frozenset({Verb.VIEW, Verb.FILM, Verb.PLAN}),
    Role.VIEWER: frozenset({Verb.VIEW}),
}


def signed_in(request: Any) -> User:
    """Whoever is signed in; every endpoint that asks has made sure that somebody is."""
    user = request.user
    assert isinstance(user, User)
    return user


def may(role: str | None, verb: Verb) -> bool:
    """Whether a member with `role` may do `verb`; None is no member."""
    return role is not None and verb in ALLOWED.get(role, frozenset())


def enter(request: Any, production_id: uuid.UUID, verb: Verb) -> Production:
    """The production if the signed-in user may do `verb` in it.

    A stranger gets 404, as for a production that does not exist; a member without the right
    gets 403.
    """
    membership = (
        Membership.objects.select_related("production")
        .filter(production_id=production_id, user_id=request.user.pk)
        .first()
    )
    if membership is None:
        journal.write(request.user, production_id, "production", production_id, "refused")
        raise Http404("There is no such production, or you do not belong to it.")
    if membership.production.removed_at is not None:
        raise Http404(
            "This production lies in the bin; an owner can fetch it back from the list of "
            "productions."
        )
    if not may(membership.role, verb):
        told = {"role": membership.role, "wanted": str(verb), "path": request.path[:200]}
        journal.write(
            request.user, production_id, "production", production_id, "refused", after=told
        )
        raise HttpError(
            403, f"As {membership.role} you may not do this; ask an owner of the production."
        )
    return membership.production
