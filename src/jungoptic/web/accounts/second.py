"""The second step at the door: the password was right, a passkey is still to be shown."""

from __future__ import annotations

import time
from typing import Any

from django.http import HttpRequest
from django.utils.crypto import constant_time_compare
from ninja.errors import HttpError

from . import passkeys
from .models import User

#: Where a session keeps who stands at the door, and how long the door waits, seconds.
WAITING, HOLDS_S = "second", 5 * 60
#: So many wrong answers, and it begins with the password again.
TRIES = 5
BEGIN_AGAIN = "This took too long, or was tried too often: begin with your password again."


def begin(request: HttpRequest, user: User) -> dict[str, Any]:
    """Somebody whose password is right stands at the door: what their browser is asked. Empty
    where the site was asked by a number: a spare code is left then."""
    options: dict[str, Any] = {}
    challenge = ""
    if not passkeys.why_not(request):
        options, challenge = passkeys.to_answer(user, passkeys.site_of(request))
    request.session[WAITING] = {
        "user": user.pk,
        "password": user.get_session_auth_hash(),
        "challenge": challenge,
        "until": time.time() + HOLDS_S,
        "tries": 0,
    }
    return options


def waiting(request: HttpRequest) -> tuple[User, str]:
    """Who stands at the door, and the challenge to answer; counts the try. HttpError where nobody
    does, or not any more."""
    held = request.session.get(WAITING)
    if held is None or time.time() > held["until"] or held["tries"] >= TRIES:
        request.session.pop(WAITING, None)
        raise HttpError(403, BEGIN_AGAIN)
    request.session[WAITING] = {**held, "tries": held["tries"] + 1}
    user = User.objects.filter(pk=held["user"], is_active=True).first()
    if user is None or not constant_time_compare(user.get_session_auth_hash(), held["password"]):
        raise HttpError(403, BEGIN_AGAIN)
    return user, held["challenge"]


def over(request: HttpRequest) -> None:
    """The door is passed, or left."""
    request.session.pop(WAITING, None)
