"""Room for pictures: what a production and a person may fill, and what the disk still takes."""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.conf import settings
from django.db.models import Sum

from ..accounts.models import User
from . import disk
from .models import PictureFile


def used_by_production(production: Any) -> int:
    """Bytes that the pictures of a production take up, or will once they are here; those that were
    taken one by one too."""
    return _bytes({"picture__production": production}, {"block__shot__production": production})


def used_by_person(user: User) -> int:
    """The same of all that a person has sent and taken, in any production."""
    return _bytes({"picture__sent_by": user}, {"taken_by": user})


def why_not(production: Any, user: User | None, size: int) -> str:
    """Why `size` bytes more do not fit; empty where they do. `user`: who sends them; None came by a
    link, and fills the production alone."""
    for whose, used, most in (
        ("This production's pictures", used_by_production(production), settings.PICTURE_QUOTA),
        ("Your pictures", 0 if user is None else used_by_person(user), settings.PERSON_QUOTA),
    ):
        if used + size > most:
            return (
                f"{whose} take {used / 1e9:,.1f} of {most / 1e9:,.0f} GB; {size / 1e9:,.1f} more "
                "do not fit."
            )
    if not disk.room_for(size):
        return "The server's disk has no room for this; whoever runs it has to make some."
    return ""


def _bytes(sent: dict[str, Any], taken: dict[str, Any]) -> int:
    files = PictureFile.objects.filter(picture__elsewhere=False, **sent)
    frames = apps.get_model("blocks.Exposure").objects.filter(**taken)
    return sum(int(rows.aggregate(size=Sum("size"))["size"] or 0) for rows in (files, frames))
