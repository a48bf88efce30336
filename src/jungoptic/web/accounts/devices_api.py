"""Devices on which one is signed in, and a new password by a one-time link."""

from __future__ import annotations

import datetime
from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.db import transaction
from django.http import HttpRequest, StreamingHttpResponse
from ninja import Router, Status

from ..journal import writing as journal
from ..permissions import signed_in
from ..pictures import room
from ..productions import bin, people
from ..records import Refused
from ..schemas import Fields, KeyIn, Out, Problem
from . import devices, erasing, passkeys, resets, second, sure
from .api import Password, Session, checked, told
from .guard import PerAddress, PerPerson, forget_tries, from_our_page, own_password

router = Router(tags=["accounts"])


class Device(Out):
    """A device on which somebody is signed in; `here`: the one that asks."""

    id: int
    began_at: datetime.datetime
    seen_at: datetime.datetime
    address: str
    device: str
    here: bool


class PasswordByLink(KeyIn):
    """What stands behind the # of a link, and the new password."""

    new: Password


class Whose(Out):
    """Whose password a link sets."""

    user: str


@router.get("/devices", response=list[Device])
def list_devices(request: HttpRequest) -> Any:
    """Where one is signed in."""
    devices.remember(request)
    here = request.session.session_key
    names = ("id", "began_at", "seen_at", "address", "device")
    return [
        {**{name: getattr(one, name) for name in names}, "here": one.key == here}
        for one in devices.of(signed_in(request))
    ]


@router.delete("/devices/{int:device_id}", response={204: None})
def end_device(request: HttpRequest, device_id: int) -> Any:
    """Sign out on one other device; gone already is as good."""
    me = signed_in(request)
    if devices.end(me, but=request.session.session_key, pk=device_id):
        journal.write(me, None, "account", me.pk, "device ended")
    return Status(204, None)


@router.delete("/devices", response={204: None})
def end_devices(request: HttpRequest) -> Any:
    """Sign out everywhere but here."""
    me = signed_in(request)
    if devices.end(me, but=request.session.session_key):
        journal.write(me, None, "account", me.pk, "devices ended")
    return Status(204, None)


def _held(key: str) -> resets.Reset:
    """What a link is for, if whoever made it might still make it."""
    found = resets.read(key)
    if found.by is not None and people.why_no_reset(found.by, found.user):
        raise Refused("key", resets.ENDED)
    return found


@router.post("/password/link", auth=None, response=Whose, throttle=[PerAddress("30/m")])
def look_at_password_link(request: HttpRequest, payload: KeyIn) -> Any:
    """Whose password a link sets."""
    from_our_page(request)
    return {"user": _held(payload.key).user.username}


@router.post(
    "/password/by-link",
    auth=None,
    response={200: Session, 422: Problem},
    throttle=[PerAddress("30/m")],
)
def set_password_by_link(request: HttpRequest, payload: PasswordByLink) -> Session:
    """Set a new password by a one-time link, and sign in here, with a passkey where there is one;
    every other device is signed out, and an account that was closed by wrong tries opens again."""
    from_our_page(request)
    with transaction.atomic():
        user = _held(payload.key).user
        # Two who open the link at once: one is first.
        user = type(user).objects.select_for_update().get(pk=user.pk)
        user = _held(payload.key).user
        checked(payload.new, user, "new")
        user.set_password(payload.new)
        user.save(update_fields=["password"])
        devices.end(user)
        journal.write(user, None, "account", user.pk, "password by link")
    forget_tries(user)
    if passkeys.wanted(user):
        return told(request, second.begin(request, user))
    devices.enter(request, user)
    return told(request)


class AccountOut(Out):
    """Of how many productions one is an owner, and may be; bytes of the pictures that one has sent
    and taken, and may."""

    owns: int
    may_own: int
    pictures_bytes: int
    pictures_most: int


class WithPassword(Fields):
    """The password once more, for what cannot be taken back."""

    password: Password


@router.get("/account", response=AccountOut)
def get_account(request: HttpRequest) -> Any:
    """What one owns and fills, and how much of it one may."""
    me = signed_in(request)
    return {
        "owns": bin.owned(me).filter(removed_at=None).count(),
        "may_own": settings.PRODUCTIONS_EACH,
        "pictures_bytes": room.used_by_person(me),
        "pictures_most": settings.PERSON_QUOTA,
    }


@router.get("/account/everything.json", response=dict[str, Any])
def everything(request: HttpRequest) -> StreamingHttpResponse:
    """Everything that is kept about oneself, as a file."""
    sure.demand(request)
    told_of = erasing.told(signed_in(request))
    answer = StreamingHttpResponse(told_of, content_type="application/json")
    answer["Content-Disposition"] = 'attachment; filename="everything-about-me.json"'
    answer["Cache-Control"] = "no-store"
    return answer


@router.post("/account/erase", response={204: None}, throttle=[PerPerson("10/m")])
def erase_account(request: HttpRequest, payload: WithPassword) -> Any:
    """End one's account, for good."""
    me = signed_in(request)
    own_password(me, payload.password)
    erasing.erase(me)
    logout(request)
    return Status(204, None)
