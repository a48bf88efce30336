"""Whether it is still them: a device left open should not give away what cannot be called back."""

from __future__ import annotations

import time

from django.http import HttpRequest

#: Where a session keeps when its person last showed who they are.
SURE = "sure"
#: That is believed for so long, seconds: one sitting at the desk.
HOLDS_S = 30 * 60


class Unsure(Exception):
    """What is asked for wants the password once more; nothing was changed."""

    MESSAGE = "To be sure that it is you: give your password once more, then this goes on."


def shown(request: HttpRequest) -> None:
    """Somebody has just shown who they are."""
    request.session[SURE] = time.time()


def demand(request: HttpRequest) -> None:
    """Go on only for who has shown lately who they are. Raises `Unsure`."""
    if time.time() - float(request.session.get(SURE, 0.0)) > HOLDS_S:
        raise Unsure
