"""A new password by a one-time link: for who forgot theirs and has no mail to send one to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.tokens import default_token_generator
from django.core import signing

from ..records import Refused
from .models import User

SALT = "new password"
#: A link holds for so long, hours.
HOLDS_H = 24
ENDED = "This link has been used already, or has expired. Ask for another."


@dataclass(frozen=True)
class Reset:
    """Whose password may be set anew, and who made the link; None: whoever runs the server."""

    user: User
    by: User | None


def made(user: User, by: User | None) -> str:
    """The key of a link. It holds for a day, until the person next signs in or has a new
    password."""
    told = {"for": user.pk, "by": by and by.pk, "once": default_token_generator.make_token(user)}
    return signing.dumps(told, salt=SALT, compress=True)


def read(key: str) -> Reset:
    """What a link is for. Raises `Refused` for one that does not hold."""
    try:
        told: dict[str, Any] = signing.loads(key, salt=SALT, max_age=HOLDS_H * 3600)
    except signing.SignatureExpired as error:
        raise Refused("key", ENDED) from error
    except signing.BadSignature as error:
        raise Refused("key", "This link is not whole: copy it to its very end.") from error
    user = User.objects.filter(pk=told["for"], is_active=True).first()
    by = User.objects.filter(pk=told["by"], is_active=True).first()
    if user is None or (by is None and told["by"] is not None):
        raise Refused("key", ENDED)
    if not default_token_generator.check_token(user, told["once"]):
        raise Refused("key", ENDED)
    return Reset(user, by)
