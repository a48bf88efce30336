"""A person, taken along and forgotten: everything about them as a file, an account ended."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from django.apps import apps
from django.db import transaction

from ..journal import writing as journal
from ..journal.models import Entry
from ..productions import bin, people
from ..records import Refused, plain
from . import devices
from .guard import forget_tries
from .models import User

#: What else names a person: the model, how they stand in it, and what is told of each.
ELSEWHERE = {
    "cards_issued": ("takes.SetCard", "issued_by", ("slate", "created_at")),
    "takes_logged": ("takes.Take", "logged_by", ("card__slate", "number", "created_at", "note")),
    "pictures_sent": ("pictures.Picture", "sent_by", ("name", "created_at", "note")),
    "frames_taken": ("blocks.Exposure", "taken_by", ("number", "taken_at")),
    "hours_logged": ("breakdown.LoggedHours", "by", ("phase", "hours")),
    "cautions_read": ("breakdown.ReadCaution", "by", ("hazard", "name", "at")),
}


def told(user: User) -> Iterator[str]:
    """Everything that is kept about a person, as one JSON document in pieces: the account, where
    they belong, their devices, what carries their name, and what the journal holds of them."""
    yield "{"
    for name, rows in _parts(user).items():
        yield f"{json.dumps(name)}: {json.dumps(rows, default=str)},\n"
    yield '"journal": ['
    names = ("at", "address", "production_id", "kind", "record_id", "action", "before", "after")
    entries = Entry.objects.filter(user_id=user.pk).order_by("id").values(*names)
    for n, row in enumerate(entries.iterator(chunk_size=500)):
        yield (",\n" if n else "\n") + json.dumps(row, default=str)
    yield "]}\n"


def _parts(user: User) -> dict[str, Any]:
    memberships = user.memberships.select_related("production")
    parts: dict[str, Any] = {
        "account": {
            "name": user.username,
            "made": plain(user.date_joined),
            "last_sign_in": plain(user.last_login),
        },
        "productions": [
            {"name": m.production.name, "role": m.role, "joined": plain(m.joined_at)}
            for m in memberships
        ],
        "devices": list(
            user.open_sessions.values("began_at", "seen_at", "address", "device").order_by("id")
        ),
        "passkeys": list(user.passkeys.values("name", "made_at", "used_at")),
    }
    for name, (model, field, values) in ELSEWHERE.items():
        rows = apps.get_model(model).objects.filter(**{field: user})
        parts[name] = list(rows.values(*values))
    return parts


def erase(user: User) -> None:
    """End an account: the journal keeps what was done and names nobody, what was made stays without
    a name, and productions that nobody else belongs to go to the bin.

    Raises `Refused` where others would be left without an owner.
    """
    with transaction.atomic():
        user = User.objects.select_for_update().get(pk=user.pk)
        owned = list(bin.owned(user).filter(removed_at=None))
        alone = [p for p in owned if not p.memberships.exclude(user=user).exists()]
        left = [p.name for p in owned if p not in alone and not people.others_own(p, user.pk)]
        if left:
            raise Refused(
                "account",
                f"Others belong to {', '.join(left[:5])} and nobody else owns it: make somebody "
                "an owner, or delete it, before you go.",
            )
        for membership in user.memberships.select_related("production"):
            people.take_back(membership.production, user)
        for production in alone:
            bin.lay_in(user, production)
        journal.write(user, None, "account", user.pk, "erased")
        number = user.pk
        devices.end(user)
        forget_tries(user)
        user.delete()
        journal.forget(number)
