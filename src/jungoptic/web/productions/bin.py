"""The bin for productions: out of everybody's way at once, gone for good after a month."""

from __future__ import annotations

import datetime
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from ..accounts.models import User
from ..journal import writing as journal
from ..records import Refused
from ..saving import writing
from .models import Membership, Production, Role

#: How long a production lies there.
KEPT_FOR = datetime.timedelta(days=30)


def owned(user: User) -> Any:
    """The productions that somebody owns, those in the bin with them."""
    return Production.objects.filter(memberships__user=user, memberships__role=Role.OWNER)


def refuse_more(user: User) -> None:
    """Raise `Refused` where somebody owns as many productions as one person may."""
    most = settings.PRODUCTIONS_EACH
    if owned(user).filter(removed_at=None).count() >= most:
        raise Refused(
            "name",
            f"You own {most} productions, the most that one person may have here. Delete one that "
            "is done, or ask somebody else to own it.",
        )


def remove(by: User, production: Production, name: str) -> None:
    """Lay a production into the bin. Raises `Refused` where `name` is not its name."""
    if name.strip() != production.name:
        raise Refused("name", f"Type its name as it stands: {production.name}")
    lay_in(by, production)


def lay_in(by: User, production: Production) -> None:
    """The same without asking; twice is as good."""
    with writing(production):
        done = Production.objects.filter(pk=production.pk, removed_at=None).update(
            removed_at=timezone.now()
        )
        if done:
            told = {"name": production.name}
            journal.write(by, production.pk, "production", production.pk, "removed", before=told)


def restore(by: User, pk: Any) -> Membership:
    """Fetch a production back out of the bin. Raises DoesNotExist for who does not own it,
    `Refused` where they own too many."""
    rows = Membership.objects.select_related("production")
    member = rows.get(production=pk, user=by, role=Role.OWNER)
    with writing(member.production):
        member = rows.get(pk=member.pk)
        production = member.production
        if production.removed_at is not None:
            refuse_more(by)
            production.removed_at = None
            production.save(update_fields=["removed_at", "updated_at"])
            journal.write(by, production.pk, "production", production.pk, "restored")
    return member


def empty() -> int:
    """Erase what has lain in the bin for a month; how many. Its files go with the next sweep."""
    gone = Production.objects.filter(removed_at__lt=timezone.now() - KEPT_FOR)
    count = 0
    for pk, name in list(gone.values_list("pk", "name")):
        with transaction.atomic():
            # Fetched back in this very moment, it stays.
            found = gone.select_for_update(of=("self",)).filter(pk=pk).first()
            if found is None:
                continue
            journal.write(None, pk, "production", pk, "erased", before={"name": name})
            found.delete()
            count += 1
    return count
