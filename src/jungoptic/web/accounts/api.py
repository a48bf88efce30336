"""Sign in, sign out, sign up, change the password."""

from __future__ import annotations

from typing import Annotated, Any

from django.conf import settings
from django.contrib.auth import authenticate, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from ..config import CONFIG
from ..journal import writing as journal
from ..productions import invitations
from ..records import Refused
from ..schemas import Fields, Problem
from . import devices, names, passkeys, second, sure
from .guard import PerAddress, PerPerson, from_our_page, own_password
from .models import User

router = Router(tags=["accounts"])

#: Where demo mode starts; shown on its sign-in page and nowhere else.
DEMO_USER, DEMO_PASSWORD = "supervisor", "heron-at-the-lock"

UserName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[\w.@+-]+$")]
Password = Annotated[str, Field(min_length=1, max_length=200)]


class Session(Schema):
    """Who is signed in, if anybody; and what the sign-in page may offer."""

    user: str | None
    demo_user: str | None = None
    demo_password: str | None = None
    may_sign_up: bool
    #: The password was right, and a passkey is still to be shown: what the browser is asked; empty
    #: where only a spare code will do.
    passkey: dict[str, Any] | None = None


class Credentials(Fields):
    """A user name and a password."""

    username: UserName
    password: Password


class Account(Credentials):
    """A new account; with the key of an invitation it can be made where nobody else may, and is
    a member's at once."""

    invitation: Annotated[str, Field(max_length=2000)] = ""


class NewPassword(Fields):
    """The old password and the new one."""

    old: Password
    new: Password


def told(request: HttpRequest, passkey: dict[str, Any] | None = None) -> Session:
    """Who is signed in, and what the sign-in page may offer or still has to ask."""
    get_token(request)
    user = request.user
    return Session(
        user=user.get_username() if user.is_authenticated else None,
        demo_user=DEMO_USER if CONFIG.demo else None,
        demo_password=DEMO_PASSWORD if CONFIG.demo else None,
        may_sign_up=CONFIG.open_sign_up,
        passkey=passkey,
    )


def checked(password: str, user: User, field: str) -> None:
    """Raise `Refused` for a password that is too easy to guess."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Refused(field, " ".join(error.messages)) from error


@router.get("/session", auth=None, response=Session)
def session(request: HttpRequest) -> Session:
    """Who is signed in."""
    devices.remember(request)
    return told(request)


@router.post(
    "/session",
    auth=None,
    response={200: Session, 403: Problem, 429: Problem},
    throttle=[PerAddress("30/m")],
)
def sign_in(request: HttpRequest, payload: Credentials) -> Session:
    """Sign in. The same answer for a wrong name and a wrong password; an account that is being
    guessed at is closed for a while, for everybody."""
    from_our_page(request)
    name = names.key(payload.username)
    tried = User.objects.filter(name_key=name).first()
    known = name if tried is None else tried.username
    user = authenticate(request, username=known, password=payload.password)
    if user is None:
        journal.write(tried, None, "account", tried and tried.pk, "wrong password")
    if getattr(request, "axes_locked_out", False):
        minutes = int(settings.AXES_COOLOFF_TIME.total_seconds() // 60)
        raise HttpError(429, f"Too many wrong tries; this account opens again in {minutes} min.")
    if user is None:
        raise HttpError(403, "User name and password do not belong together.")
    assert isinstance(user, User)
    if passkeys.wanted(user):
        return told(request, second.begin(request, user))
    devices.enter(request, user)
    journal.write(user, None, "account", user.pk, "signed in")
    return told(request)


@router.delete("/session", auth=None, response=Session)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    from_our_page(request)
    if request.user.is_authenticated:
        journal.write(request.user, None, "account", request.user.pk, "signed out")
        devices.forget(request.session.session_key)
    logout(request)
    return told(request)


@router.post(
    "/accounts",
    auth=None,
    response={200: Session, 403: Problem, 422: Problem, 429: Problem},
    throttle=[PerAddress("10/h")],
)
def sign_up(request: HttpRequest, payload: Account) -> Session:
    """Make an account and sign in, where the server allows it or an invitation holds."""
    from_our_page(request)
    if payload.invitation:
        invitations.holding(payload.invitation)
    elif not CONFIG.open_sign_up:
        raise HttpError(
            403, "New accounts are made by invitation: ask an owner of a production for a link."
        )
    user = User(username=names.check(payload.username))
    checked(payload.password, user, "password")
    user.set_password(payload.password)
    try:
        with transaction.atomic():
            user.save()
            if payload.invitation:
                # One account for each: whoever passes the link on gives nothing away.
                invitations.accept(user, payload.invitation)
    except IntegrityError as error:
        raise Refused("username", "This user name is taken.") from error
    devices.enter(request, user)
    journal.write(user, None, "account", user.pk, "signed up")
    return told(request)


@router.post(
    "/password",
    response={200: Session, 422: Problem, 429: Problem},
    throttle=[PerPerson("10/m")],
)
def change_password(request: HttpRequest, payload: NewPassword) -> Session:
    """Change one's own password; other devices are signed out."""
    user = request.user
    assert isinstance(user, User)
    own_password(user, payload.old, "old")
    checked(payload.new, user, "new")
    user.set_password(payload.new)
    user.save(update_fields=["password"])
    devices.end(user, but=request.session.session_key)
    devices.forget(request.session.session_key)
    update_session_auth_hash(request, user)
    sure.shown(request)
    devices.remember(request)
    journal.write(user, None, "account", user.pk, "new password")
    return told(request)
