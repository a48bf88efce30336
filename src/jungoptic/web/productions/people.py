"""Who belongs to a production: roles changed, people removed, and what each may do for another.

A production always has an owner; whoever leaves takes along the links that they made.
"""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from ..accounts.models import User
from ..journal import writing as journal
from ..records import Refused
from ..saving import writing
from .models import Membership, Production, Role

LAST_OWNER = "A production has at least one owner: make somebody else one first."


def of(production: Production, user_id: int) -> Membership:
    """A member of a production; raises DoesNotExist."""
    return production.memberships.select_related("user").get(user_id=user_id)


def others_own(production: Production, user_id: int) -> bool:
    """Whether a production would still have an owner without somebody."""
    owners = production.memberships.filter(role=Role.OWNER, user__is_active=True)
    return owners.exclude(user_id=user_id).exists()


def set_role(by: Any, production: Production, user_id: int, role: str) -> Membership:
    """Give a member another role. Raises `Refused` for the last owner."""
    with writing(production):
        member = of(production, user_id)
        if member.role == role:
            return member
        if member.role == Role.OWNER and not others_own(production, user_id):
            raise Refused("role", LAST_OWNER)
        before, member.role = member.role, role
        member.save(update_fields=["role"])
        if before == Role.OWNER:
            _withdraw_invitations(production, member.user)
        if role == Role.VIEWER:
            _end_links(production, member.user)
        journal.write(
            by,
            production.pk,
            "member",
            user_id,
            "edited",
            before={"role": before},
            after={"role": role},
        )
        return member


def remove(by: Any, production: Production, user_id: int) -> None:
    """Let a member go; somebody who has gone already is as good. Raises `Refused` for the last
    owner."""
    with writing(production):
        member = production.memberships.select_related("user").filter(user_id=user_id).first()
        if member is None:
            return
        if member.role == Role.OWNER and not others_own(production, user_id):
            raise Refused("role", LAST_OWNER)
        take_back(production, member.user)
        action = "left" if by is not None and by.pk == user_id else "removed"
        told = {"role": member.role}
        journal.write(by, production.pk, "member", user_id, action, before=told)
        member.delete()


def take_back(production: Production, user: User) -> None:
    """What somebody has handed out opens nothing any more."""
    _withdraw_invitations(production, user)
    _end_links(production, user)


def _withdraw_invitations(production: Production, user: User) -> None:
    open_ones = production.invitations.filter(made_by=user, used_at=None, withdrawn_at=None)
    open_ones.update(withdrawn_at=timezone.now())


def _end_links(production: Production, user: User) -> None:
    open_ones = production.crew_links.filter(made_by=user, withdrawn_at=None)
    open_ones.update(withdrawn_at=timezone.now())


def why_no_reset(by: User, user: User) -> str:
    """Why `by` may make no link for a new password of `user`, as a sentence; "" where they may.

    Whoever sets a password can sign in with it. So nothing may lie behind it that an owner does not
    own already: every production of the person must be one of theirs.
    """
    if by.pk == user.pk:
        return "Your own password you change yourself, above."
    if user.is_staff or user.is_superuser:
        return f"{user.username} runs this server; only there a new password can be set."
    theirs = Membership.objects.filter(user=user).values("production_id")
    owned = Membership.objects.filter(user=by, role=Role.OWNER).values("production_id")
    if theirs.exclude(production_id__in=owned).exists():
        return (
            f"{user.username} belongs to a production that you do not own as well, and a new "
            "password would open it. Ask whoever runs this server for a link."
        )
    return ""
