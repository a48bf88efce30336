"""At the door: where a request comes from, how often it may try, and whose page asks."""

from __future__ import annotations

from typing import Any

from axes.utils import reset
from django.core.cache import caches
from django.core.exceptions import ValidationError
from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.throttling import AnonRateThrottle, UserRateThrottle
from ninja.utils import check_csrf

from ..callers import address_of
from ..journal import writing as journal
from ..records import Refused
from . import names
from .models import User

#: Words of the product that everybody would try first.
OURS = ("jungoptic", "heronatthelock", "lockkeeper")


class PerAddress(AnonRateThrottle):
    """So many tries of an address, counted for all processes together."""

    cache = caches["shared"]

    def get_ident(self, request: HttpRequest) -> str:
        """The address that a proxy of ours vouches for."""
        return address_of(request)


class PerPerson(UserRateThrottle):
    """So many tries of somebody who is signed in."""

    cache = caches["shared"]


def account_of(request: HttpRequest, credentials: dict[str, Any] | None = None) -> str:
    """The account that somebody tries to enter, however its name is written."""
    return names.key(str((credentials or {}).get("username", "")))


def forget_tries(user: User) -> None:
    """Wrong passwords count no more: an account that they closed opens again."""
    # They are counted under what tells one name from another; see `account_of`.
    reset(username=user.name_key)


def own_password(user: User, password: str, field: str = "password") -> None:
    """Raise `Refused`, naming `field`, for what is not the password of this person."""
    if not user.check_password(password):
        journal.write(user, None, "account", user.pk, "wrong password")
        raise Refused(field, "This is not your password.")


def from_our_page(request: HttpRequest) -> None:
    """Refuse what does not carry our page's token (HttpError): another site's form could otherwise
    sign somebody in or out."""
    if check_csrf(request) is not None:
        raise HttpError(403, "This did not come from our own page, or it is old: load it again.")


class NotOurWords:
    """A password validator: nothing that is printed in our own papers."""

    def validate(self, password: str, user: Any = None) -> None:
        """Raise ValidationError for a password made of the product's own words."""
        bare = "".join(c for c in password.casefold() if c.isalnum())
        if any(word in bare for word in OURS):
            raise ValidationError("This password is made of words that everybody here knows.")

    def get_help_text(self) -> str:
        """What is asked for."""
        return "Your password must not be made of this product's own words."
