"""Links that let somebody in: an id, signed by the server's own secret.

Nothing that is stored opens anything, and the same link can be shown again while it holds. Links
carry their key behind the `#`, which browsers send to nobody: it stands in no log on the way.
"""

from __future__ import annotations

import base64
import binascii
import uuid

from django.core.signing import BadSignature, Signer

from .records import Refused


def made(kind: str, pk: uuid.UUID) -> str:
    """The key of the record `pk`; `kind` keeps one kind of link from passing for another."""
    short = base64.urlsafe_b64encode(pk.bytes).rstrip(b"=").decode()
    return Signer(sep=".", salt=kind).sign(short)


def read(kind: str, key: str) -> uuid.UUID:
    """The record that a key is of. Raises `Refused` for one that this server did not make."""
    try:
        short = Signer(sep=".", salt=kind).unsign(key)
        return uuid.UUID(bytes=base64.urlsafe_b64decode(short + "=="))
    except (BadSignature, binascii.Error, ValueError) as error:
        raise Refused(
            "key", "This link is not whole: copy it to its very end, or ask for another."
        ) from error
