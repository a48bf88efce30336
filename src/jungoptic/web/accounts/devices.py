"""Where somebody is signed in: the sessions of a person, seen and ended."""

from __future__ import annotations

import time
from typing import Any

from django.conf import settings
from django.contrib.auth import login, logout
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

from ..callers import address_of
from . import sure
from .models import OpenSession, User

#: Where a session keeps when somebody signed in.
BEGAN = "began"
#: Who checks passwords; the other backend only counts wrong ones.
BACKEND = "django.contrib.auth.backends.ModelBackend"


def enter(request: HttpRequest, user: User) -> None:
    """Sign somebody in on this device, and remember it."""
    login(request, user, backend=BACKEND)
    request.session[BEGAN] = time.time()
    sure.shown(request)
    remember(request)


def remember(request: HttpRequest) -> None:
    """This device is in use by whoever is signed in on it, and stays signed in for another while;
    one that was signed in on long ago is signed out."""
    user = request.user
    if not isinstance(user, User):
        return
    began = request.session.setdefault(BEGAN, time.time())
    if time.time() - began > settings.SESSION_AT_MOST:
        end(user, key=request.session.session_key)
        logout(request)
        return
    # What is stored anew holds for its whole time again.
    request.session.modified = True
    if request.session.session_key is None:
        request.session.save()
    told = {
        "user": user,
        "address": address_of(request)[:64],
        "device": str(request.META.get("HTTP_USER_AGENT", ""))[:300],
    }
    OpenSession.objects.update_or_create(key=request.session.session_key, defaults=told)


def forget(key: str | None) -> None:
    """The device with this session is signed out."""
    OpenSession.objects.filter(key=key).delete()


def of(user: User) -> list[OpenSession]:
    """The devices on which somebody is signed in now, the one in use last first."""
    alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    return list(OpenSession.objects.filter(user=user, key__in=alive))


def end(user: User, but: str | None = None, **which: Any) -> int:
    """Sign a person out: everywhere, but on the device with the session `but`; `which` narrows it
    down. How many devices that were."""
    found = OpenSession.objects.filter(user=user, **which).exclude(key=but or "")
    keys = list(found.values_list("key", flat=True))
    for key in keys:
        SessionStore(key).delete()
    OpenSession.objects.filter(key__in=keys).delete()
    return len(keys)


def sweep() -> int:
    """Forget devices whose session has run out."""
    alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    return OpenSession.objects.exclude(key__in=alive).delete()[0]
