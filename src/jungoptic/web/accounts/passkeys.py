"""Passkeys: a second thing to show at the door, beside the password.

W3C Web Authentication, level 2; the checks of its section 7 are the library's. Whoever loses every
passkey comes in by a spare code, once each, or is helped by whoever runs the server.
"""

from __future__ import annotations

import base64
import ipaddress
import json
import secrets
from typing import Any, NamedTuple

import webauthn
from cbor2 import CBORError
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import salted_hmac
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import PublicKeyCredentialDescriptor

from ..records import Refused
from .models import Passkey, SpareCode, User

#: So many passkeys of a person, and spare codes made at once.
MOST, SPARE = 12, 10
#: What the library raises at an answer that is not whole or not right.
WRONG = (WebAuthnException, CBORError, ValueError, TypeError, KeyError, IndexError, AttributeError)
NO_NAME = (
    "Passkeys belong to the name of a site, and this page was opened by a number. Open it by its "
    "name, on this machine as http://localhost with the same port."
)
NOT_RIGHT = "This passkey was not accepted: begin once more, with one of this account."


class Site(NamedTuple):
    """Whose passkeys they are: the name of the site, and the address of its pages."""

    name: str
    origin: str


def site_of(request: HttpRequest) -> Site:
    """The site that was asked. Raises `Refused` where it was asked by a number."""
    if why := why_not(request):
        raise Refused("passkey", why)
    host = request.get_host()
    return Site(host.partition(":")[0], f"{request.scheme}://{host}")


def why_not(request: HttpRequest) -> str:
    """Why there can be no passkeys here; empty where there can."""
    name = request.get_host()
    bare = name[1:].partition("]")[0] if name.startswith("[") else name.partition(":")[0]
    try:
        ipaddress.ip_address(bare)
    except ValueError:
        return ""
    return NO_NAME


def wanted(user: User) -> bool:
    """Whether a password alone does not let this person in."""
    return user.passkeys.exists()


def to_make(user: User, site: Site) -> tuple[dict[str, Any], str]:
    """What a browser is asked to make a passkey by, and the challenge that it is to answer."""
    options = webauthn.generate_registration_options(
        rp_id=site.name,
        rp_name="Jungoptic",
        user_name=user.username,
        # Tells nothing of the person, and is the same for each of their passkeys.
        user_id=salted_hmac("passkey", str(user.pk), algorithm="sha256").digest(),
        exclude_credentials=_known(user),
    )
    return json.loads(webauthn.options_to_json(options)), bytes_to_base64url(options.challenge)


def to_answer(user: User, site: Site) -> tuple[dict[str, Any], str]:
    """What a browser is asked to show a passkey by, and the challenge that it is to answer."""
    options = webauthn.generate_authentication_options(
        rp_id=site.name, allow_credentials=_known(user)
    )
    return json.loads(webauthn.options_to_json(options)), bytes_to_base64url(options.challenge)


def add(user: User, site: Site, challenge: str, credential: dict[str, Any], name: str) -> Passkey:
    """Keep a new passkey. Raises `Refused` for one that does not answer the challenge."""
    try:
        found = webauthn.verify_registration_response(
            credential=credential,
            expected_challenge=base64url_to_bytes(challenge),
            expected_rp_id=site.name,
            expected_origin=site.origin,
        )
    except WRONG as error:
        raise Refused("credential", "The browser's answer was not whole: begin again.") from error
    with transaction.atomic():
        User.objects.select_for_update().get(pk=user.pk)
        if user.passkeys.count() >= MOST:
            raise Refused("passkey", f"{MOST} passkeys are enough: take one away first.")
        if Passkey.objects.filter(credential=found.credential_id).exists():
            raise Refused("credential", "This passkey is known already.")
        return Passkey.objects.create(
            user=user,
            name=name,
            credential=found.credential_id,
            public_key=found.credential_public_key,
            sign_count=found.sign_count,
        )


def check(user: User, site: Site, challenge: str, credential: dict[str, Any]) -> None:
    """Whether a passkey of theirs answers the challenge; raises `Refused` where none does."""
    try:
        kept = user.passkeys.get(credential=base64url_to_bytes(str(credential["id"])))
        found = webauthn.verify_authentication_response(
            credential=credential,
            expected_challenge=base64url_to_bytes(challenge),
            expected_rp_id=site.name,
            expected_origin=site.origin,
            credential_public_key=bytes(kept.public_key),
            credential_current_sign_count=kept.sign_count,
        )
    except (*WRONG, Passkey.DoesNotExist) as error:
        raise Refused("credential", NOT_RIGHT) from error
    kept.sign_count, kept.used_at = found.new_sign_count, timezone.now()
    kept.save(update_fields=["sign_count", "used_at"])


def take_away(user: User, **which: Any) -> bool:
    """Forget passkeys, all or those that `which` names, and with the last one the spare codes;
    whether there were any."""
    with transaction.atomic():
        gone, _ = user.passkeys.filter(**which).delete()
        if not user.passkeys.exists():
            user.spare_codes.all().delete()
    return bool(gone)


def new_codes(user: User) -> list[str]:
    """Spare codes, shown this once; those of before stop working."""
    codes = [_grouped(base64.b32encode(secrets.token_bytes(10)).decode()) for _ in range(SPARE)]
    with transaction.atomic():
        user.spare_codes.all().delete()
        SpareCode.objects.bulk_create(SpareCode(user=user, digest=_digest(c)) for c in codes)
    return codes


def use_code(user: User, code: str) -> None:
    """Use up a spare code; raises `Refused` for one that does not hold."""
    if not user.spare_codes.filter(digest=_digest(code)).delete()[0]:
        raise Refused("code", "This spare code does not hold: each one works once.")


def _known(user: User) -> list[PublicKeyCredentialDescriptor]:
    return [PublicKeyCredentialDescriptor(id=bytes(k.credential)) for k in user.passkeys.all()]


def _digest(code: str) -> str:
    # Eighty random bits need no slow hash.
    bare = "".join(c for c in code.upper() if c.isalnum())
    return salted_hmac("spare code", bare, algorithm="sha256").hexdigest()


def _grouped(code: str) -> str:
    return "-".join(code[i : i + 4] for i in range(0, len(code), 4)).lower()
