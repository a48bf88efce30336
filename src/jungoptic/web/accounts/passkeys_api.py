"""Passkeys and spare codes of one's own, the second step at the door, the password once more."""

from __future__ import annotations

import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import Field

from ..journal import writing as journal
from ..permissions import signed_in
from ..records import Refused
from ..schemas import Fields, Name, Out, Problem
from . import devices, passkeys, second, sure
from .api import Session, told
from .devices_api import WithPassword
from .guard import PerAddress, PerPerson, from_our_page, own_password

router = Router(tags=["accounts"])

#: Where a session keeps the challenge that a new passkey is to answer.
MAKING = "making a passkey"
Answer = Annotated[dict[str, Any], Field(max_length=20)]


class PasskeyOut(Out):
    """A passkey of one's own."""

    id: int
    name: str
    made_at: datetime.datetime
    used_at: datetime.datetime | None


class Passkeys(Out):
    """One's passkeys, how many spare codes are left, and why there can be none here."""

    items: list[PasskeyOut]
    codes_left: int
    why_not: str


class NewPasskey(Fields):
    """A browser's answer with a new passkey, and what to call it."""

    name: Name
    credential: Answer


class PasskeyMade(Out):
    """The new passkey and, with the first one, spare codes: shown this once."""

    passkey: PasskeyOut
    codes: list[str]


class SpareCodes(Out):
    """Spare codes, shown this once."""

    codes: list[str]


class SecondStep(Fields):
    """A browser's answer with a passkey, or a spare code."""

    credential: Answer | None = None
    code: Annotated[str, Field(max_length=60)] = ""


@router.post(
    "/session/passkey",
    auth=None,
    response={200: Session, 403: Problem, 422: Problem, 429: Problem},
    throttle=[PerAddress("30/m")],
)
def second_step(request: HttpRequest, payload: SecondStep) -> Session:
    """Come in by a passkey or a spare code, after the right password."""
    from_our_page(request)
    user, challenge = second.waiting(request)
    try:
        if payload.code:
            passkeys.use_code(user, payload.code)
        else:
            site = passkeys.site_of(request)
            passkeys.check(user, site, challenge, payload.credential or {})
    except Refused:
        journal.write(user, None, "account", user.pk, "wrong passkey")
        raise
    second.over(request)
    devices.enter(request, user)
    journal.write(user, None, "account", user.pk, "signed in")
    return told(request)


@router.get("/account/sure", response={204: None})
def ask_sure(request: HttpRequest) -> Any:
    """Whether one has shown lately enough who one is; 403 with the field `proof` otherwise."""
    sure.demand(request)
    return Status(204, None)


@router.post(
    "/account/sure",
    response={204: None, 422: Problem, 429: Problem},
    throttle=[PerPerson("10/m")],
)
def be_sure(request: HttpRequest, payload: WithPassword) -> Any:
    """Show who one is, by the password."""
    own_password(signed_in(request), payload.password)
    sure.shown(request)
    return Status(204, None)


@router.get("/account/passkeys", response=Passkeys)
def list_passkeys(request: HttpRequest) -> Any:
    """One's passkeys, oldest first."""
    me = signed_in(request)
    return {
        "items": list(me.passkeys.all()),
        "codes_left": me.spare_codes.count(),
        "why_not": passkeys.why_not(request),
    }


@router.post("/account/passkeys/begin", response=dict[str, Any], throttle=[PerPerson("30/m")])
def begin_passkey(request: HttpRequest) -> Any:
    """What the browser is asked to make a passkey by."""
    sure.demand(request)
    options, request.session[MAKING] = passkeys.to_make(
        signed_in(request), passkeys.site_of(request)
    )
    return options


@router.post(
    "/account/passkeys", response={200: PasskeyMade, 422: Problem}, throttle=[PerPerson("30/m")]
)
def add_passkey(request: HttpRequest, payload: NewPasskey) -> Any:
    """Keep a new passkey: from now on the password alone does not let one in."""
    sure.demand(request)
    me, site = signed_in(request), passkeys.site_of(request)
    challenge = request.session.pop(MAKING, "")
    if not challenge:
        raise Refused("credential", "Begin again: this was not asked for here, or is used up.")
    first = not passkeys.wanted(me)
    made = passkeys.add(me, site, challenge, payload.credential, payload.name)
    journal.write(me, None, "account", me.pk, "passkey added")
    return {"passkey": made, "codes": passkeys.new_codes(me) if first else []}


@router.delete("/account/passkeys/{int:passkey_id}", response={204: None})
def remove_passkey(request: HttpRequest, passkey_id: int) -> Any:
    """Take a passkey away; gone already is as good."""
    sure.demand(request)
    me = signed_in(request)
    if passkeys.take_away(me, pk=passkey_id):
        journal.write(me, None, "account", me.pk, "passkey removed")
    return Status(204, None)


@router.post(
    "/account/passkeys/codes",
    response={200: SpareCodes, 422: Problem},
    throttle=[PerPerson("10/m")],
)
def renew_codes(request: HttpRequest) -> Any:
    """New spare codes; those of before stop working."""
    sure.demand(request)
    me = signed_in(request)
    if not passkeys.wanted(me):
        raise Refused("passkey", "Spare codes stand in for a passkey: make one first.")
    journal.write(me, None, "account", me.pk, "spare codes renewed")
    return {"codes": passkeys.new_codes(me)}
