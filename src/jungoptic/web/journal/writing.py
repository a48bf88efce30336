"""Entering something in the journal."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import connection, transaction

from ..callers import asked_from
from ..documents import JOURNAL
from ..logs import request_id
from .models import Entry

#: What somebody is called whom the journal shall not name any more.
PSEUDONYM = "person {number}"


def entry(
    user: Any, production_id: Any, kind: str, record_id: Any, action: str, **told: Any
) -> Entry:
    """An entry, not stored yet; `told` are values `before` and `after`."""
    known = user is not None and getattr(user, "pk", None) is not None
    return Entry(
        user_id=user.pk if known else None,
        # Who came by a link has a name and no account.
        who="" if user is None else str(user.get_username())[:160],
        address=asked_from(),
        request=request_id(),
        production_id=production_id,
        kind=kind,
        record_id=str(record_id or ""),
        action=action,
        version=JOURNAL.current,
        **told,
    )


def write(
    user: Any, production_id: Any, kind: str, record_id: Any, action: str, **told: Any
) -> None:
    """Enter one thing that was done."""
    entry(user, production_id, kind, record_id, action, **told).save(force_insert=True)


def write_many(entries: Iterable[Entry]) -> None:
    """Enter many things in one query."""
    Entry.objects.bulk_create(entries)


@transaction.atomic
def forget(user_id: int) -> int:
    """Replace a person by a pseudonym, in every entry; how many. Everything else stays."""
    with connection.cursor() as cursor:
        cursor.execute("set local jungoptic.maintenance = 'on'")
        done = Entry.objects.filter(user_id=user_id).update(
            who=PSEUDONYM.format(number=user_id), address=""
        )
        cursor.execute("set local jungoptic.maintenance = 'off'")
    return done
