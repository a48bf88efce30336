"""Invitations: a link, copied by hand, that makes whoever opens it first a member."""

from __future__ import annotations

import datetime
from typing import Any

from django.utils import timezone

from .. import keys
from ..accounts.models import User
from ..journal import writing as journal
from ..records import Refused
from ..saving import writing
from .models import Invitation, Membership, Production, Role

SALT = "invitation"
#: So many of a production wait at once.
MOST_OPEN = 50
#: What a role is worth, so that nobody loses one by opening a link.
WORTH = {Role.VIEWER: 0, Role.CREW: 1, Role.OWNER: 2}


def key(invitation: Invitation) -> str:
    """What stands in the link of an invitation."""
    return keys.made(SALT, invitation.pk)


def make(by: Any, production: Production, role: str, note: str, days: int) -> Invitation:
    """Keep a place for somebody. Raises `Refused` when too many wait."""
    with writing(production):
        now = timezone.now()
        waiting = production.invitations.filter(
            used_at=None, withdrawn_at=None, expires_at__gt=now
        ).count()
        if waiting >= MOST_OPEN:
            raise Refused("role", f"{MOST_OPEN} invitations wait already; withdraw some first.")
        made = Invitation.objects.create(
            production=production,
            role=role,
            note=note,
            made_by=by,
            expires_at=now + datetime.timedelta(days=days),
        )
        told = {"role": role, "note": note, "until": made.expires_at.isoformat()}
        journal.write(by, production.pk, "invitation", made.pk, "made", after=told)
        return made


def withdraw(by: Any, production: Production, pk: Any) -> None:
    """Nobody comes in by this one any more; gone already is as good. Raises DoesNotExist."""
    with writing(production):
        found = production.invitations.get(pk=pk)
        if found.why_not:
            return
        found.withdrawn_at = timezone.now()
        found.save(update_fields=["withdrawn_at"])
        told = {"role": found.role, "note": found.note}
        journal.write(by, production.pk, "invitation", pk, "withdrawn", before=told)


def read(given: str) -> Invitation:
    """The invitation that a key is of. Raises `Refused` where there is none."""
    rows = Invitation.objects.select_related("production", "made_by")
    found = rows.filter(pk=keys.read(SALT, given)).first()
    if found is None or found.production.removed_at is not None:
        raise Refused("key", "This invitation is no more; ask for another.")
    return found


def holding(given: str) -> Invitation:
    """The same, where somebody can still come in by it. Raises `Refused` with the reason."""
    found = read(given)
    if found.why_not:
        raise Refused("key", f"{found.why_not} Ask for another.")
    return found


def accept(user: User, given: str) -> Membership:
    """Make somebody a member, or give a member the better role; whoever has used it before finds
    their place again. Raises `Refused` where it does not hold any more."""
    production = read(given).production
    with writing(production):
        found = read(given)
        member = production.memberships.filter(user=user).first()
        if found.used_by_id == user.pk and member is not None:
            return member
        holding(given)
        if member is not None and WORTH[Role(member.role)] >= WORTH[Role(found.role)]:
            raise Refused(
                "key",
                f"You belong to {production.name} already, as {member.role}; this invitation is "
                "left for somebody else.",
            )
        before = None if member is None else {"role": member.role}
        if member is None:
            member = Membership(production=production, user=user)
        member.role = found.role
        member.save()
        found.used_at, found.used_by = timezone.now(), user
        found.save(update_fields=["used_at", "used_by"])
        told = {"role": found.role, "note": found.note}
        journal.write(user, production.pk, "member", user.pk, "joined", before=before, after=told)
        return member
