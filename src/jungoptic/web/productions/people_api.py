"""Members and invitations."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Status

from ..accounts import resets, sure
from ..accounts.guard import PerAddress, from_our_page
from ..journal import writing as journal
from ..permissions import Verb, enter, signed_in
from ..records import Refused
from ..schemas import Fields, KeyIn, Out, ShortText, Within
from . import invitations, people
from .models import Invitation, Membership, Role

router = Router(tags=["people"])
door = Router(tags=["people"])


class Member(Out):
    """Somebody who belongs to a production. `why_no_reset`: why the asker may make no link for a
    new password of theirs; owners are told."""

    id: int
    name: str
    role: Role
    joined_at: datetime.datetime | None
    you: bool
    why_no_reset: str


class RoleIn(Fields):
    """A role."""

    role: Role


class PasswordLink(Out):
    """The key of a one-time link, and for how long it holds."""

    key: str
    holds_h: int


class InvitationIn(Fields):
    """A place to be kept for somebody, for so many days."""

    role: Role
    note: ShortText = ""
    days: Annotated[int, Within(1, 30)] = 7


class InvitationOut(Out):
    """An invitation; `key` makes its link while it holds, `why_not` says why it does not."""

    id: uuid.UUID
    role: Role
    note: str
    made_by: str
    made_at: datetime.datetime
    expires_at: datetime.datetime
    why_not: str
    used_by: str
    key: str


class Invited(Out):
    """What an invitation is to; `why_not`: why it does not hold any more."""

    production: str
    role: Role
    by: str
    expires_at: datetime.datetime
    why_not: str


class Joined(Out):
    """The production that somebody belongs to now."""

    production_id: uuid.UUID
    role: Role


def _member(request: HttpRequest, member: Membership, owner: bool) -> dict[str, Any]:
    me = signed_in(request)
    return {
        "id": member.user_id,
        "name": member.user.username,
        "role": member.role,
        "joined_at": member.joined_at,
        "you": member.user_id == me.pk,
        "why_no_reset": people.why_no_reset(me, member.user) if owner else "",
    }


def _name(user: Any) -> str:
    return "" if user is None else user.username


def _invitation(one: Invitation) -> dict[str, Any]:
    names = ("id", "role", "note", "made_at", "expires_at", "why_not")
    return {
        **{name: getattr(one, name) for name in names},
        "made_by": _name(one.made_by),
        "used_by": _name(one.used_by),
        "key": "" if one.why_not else invitations.key(one),
    }


@router.get("/{uuid:production_id}/members", response=list[Member])
def list_members(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """Everybody who belongs to a production, owners first."""
    production = enter(request, production_id, Verb.VIEW)
    rows = list(production.memberships.select_related("user").order_by("user__username"))
    owner = any(m.user_id == request.user.pk and m.role == Role.OWNER for m in rows)
    rows.sort(key=lambda m: -invitations.WORTH[Role(m.role)])
    return [_member(request, m, owner) for m in rows]


@router.patch("/{uuid:production_id}/members/{int:user_id}", response=Member)
def set_role(request: HttpRequest, production_id: uuid.UUID, user_id: int, payload: RoleIn) -> Any:
    """Give a member another role."""
    production = enter(request, production_id, Verb.OWN)
    return _member(
        request, people.set_role(request.user, production, user_id, payload.role), owner=True
    )


@router.delete("/{uuid:production_id}/members/{int:user_id}", response={204: None})
def remove_member(request: HttpRequest, production_id: uuid.UUID, user_id: int) -> Any:
    """Let a member go; everybody may leave by themselves."""
    own = request.user.pk == user_id
    production = enter(request, production_id, Verb.VIEW if own else Verb.OWN)
    people.remove(request.user, production, user_id)
    return Status(204, None)


@router.post("/{uuid:production_id}/members/{int:user_id}/password-link", response=PasswordLink)
def make_password_link(request: HttpRequest, production_id: uuid.UUID, user_id: int) -> Any:
    """A link by which a member who forgot the password sets a new one, once."""
    production = enter(request, production_id, Verb.OWN)
    sure.demand(request)
    user, me = people.of(production, user_id).user, signed_in(request)
    if reason := people.why_no_reset(me, user):
        raise Refused("member", reason)
    journal.write(me, production.pk, "member", user_id, "password link")
    return {"key": resets.made(user, me), "holds_h": resets.HOLDS_H}


@router.get("/{uuid:production_id}/invitations", response=list[InvitationOut])
def list_invitations(request: HttpRequest, production_id: uuid.UUID) -> Any:
    """The newest hundred invitations, those that hold with what makes their link."""
    production = enter(request, production_id, Verb.OWN)
    rows = production.invitations.select_related("made_by", "used_by")
    return [_invitation(one) for one in rows[:100]]


@router.post("/{uuid:production_id}/invitations", response=InvitationOut)
def invite(request: HttpRequest, production_id: uuid.UUID, payload: InvitationIn) -> Any:
    """Keep a place for somebody; the link is yours to hand on."""
    production = enter(request, production_id, Verb.OWN)
    sure.demand(request)
    return _invitation(invitations.make(request.user, production, **payload.model_dump()))


@router.delete("/{uuid:production_id}/invitations/{uuid:pk}", response={204: None})
def withdraw_invitation(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Nobody comes in by this one any more."""
    invitations.withdraw(request.user, enter(request, production_id, Verb.OWN), pk)
    return Status(204, None)


@door.post("/invited", auth=None, response=Invited, throttle=[PerAddress("30/m")])
def look_at_invitation(request: HttpRequest, payload: KeyIn) -> Any:
    """What an invitation is to, for whoever has its link."""
    from_our_page(request)
    found = invitations.read(payload.key)
    return {
        "production": found.production.name,
        "role": found.role,
        "by": _name(found.made_by),
        "expires_at": found.expires_at,
        "why_not": found.why_not,
    }


@door.post("/invited/accept", response=Joined, throttle=[PerAddress("30/m")])
def accept_invitation(request: HttpRequest, payload: KeyIn) -> Any:
    """Become a member, as whoever is signed in."""
    member = invitations.accept(signed_in(request), payload.key)
    return {"production_id": member.production_id, "role": member.role}
