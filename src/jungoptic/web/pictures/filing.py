"""A clip filed where the board in it says that it belongs."""

from __future__ import annotations

import datetime
from typing import Any

from django.db.models import Max, Q
from django.utils import timezone

from jungoptic.core.pictures.facts import Facts
from jungoptic.core.plan.plate import TIMELESS

from .. import saving
from ..journal.models import Entry
from ..records import values_of
from ..takes.files import COUNTS, board, facts
from ..takes.models import SetCard, Take
from .fields import PLACES
from .models import Picture

#: A take that was logged by hand within this of when its clip was filmed is the same take.
SAME_TAKE = datetime.timedelta(minutes=10)
#: What sorted itself is told of for so long, and of so much.
LATELY, MOST_TOLD = datetime.timedelta(days=1), 50


def card_of(picture: Picture, number: int | None) -> SetCard | None:
    """The card of a picture's production whose board has that number."""
    if number is None:
        return None
    cards = SetCard.objects.select_related("plate__shot")
    return cards.filter(
        board=number,
        plate__shot__production=picture.production_id,
        plate__shot__removed_at=None,
    ).first()


def its_card(picture: Picture) -> SetCard | None:
    """The card of a picture's production whose board was held up in it."""
    seen = board(picture)
    return None if seen is None else card_of(picture, seen.found.number)


def file_it(user: Any, picture: Picture, hung: dict[str, Any] | None = None) -> None:
    """Hang a picture on a take of the card whose board was held up in it, unless it hangs on one
    already or somewhere else: on the take that was logged as it was filmed, or on a new one. Called
    within a transaction that writes into the production; the picture is saved by the caller.
    `hung`: where it was taken down from for that, if it was."""
    before = hung or values_of(picture, list(PLACES))
    _hang(user, picture)
    after = values_of(picture, list(PLACES))
    if after != before:
        saving.write_down(user, picture.production, picture, "filed", before=before, after=after)


def filed_lately(production: Any) -> list[Picture]:
    """What was filed by its board within a day and still hangs on a take or a plate of a shot that
    is there, the last first."""
    entries = Entry.objects.filter(
        production_id=production.pk,
        kind="picture",
        action="filed",
        at__gt=timezone.now() - LATELY,
    ).values_list("record_id", flat=True)[:MOST_TOLD]
    on = Picture.objects.filter(production=production, put_away=False)
    there = Q(take__card__plate__shot__removed_at=None), Q(plate__shot__removed_at=None)
    on = on.filter(Q(take__isnull=False) & there[0] | Q(plate__isnull=False) & there[1])
    on = on.select_related("take__card__plate__shot", "plate__shot")
    found = {str(one.pk): one for one in on.filter(pk__in=set(entries))}
    return [found[pk] for pk in dict.fromkeys(entries) if pk in found]


def _hang(user: Any, picture: Picture) -> None:
    card = its_card(picture)
    if card is None or not _loose(picture, card):
        return
    read = facts(picture)
    if read is None:
        return
    if read.kind == "still" and card.plate.kind not in TIMELESS:
        # A photograph is no take of a plate that rolls.
        picture.plate, picture.shot = card.plate, None
        return
    take = _logged(card, read) or _new(user, picture, card)
    picture.take, picture.plate, picture.shot = take, None, None


def _loose(picture: Picture, card: SetCard) -> bool:
    """Whether nobody has hung it where its board does not belong."""
    if any(getattr(picture, n) != v for n, v in COUNTS.items() if n != "state"):
        return False
    if picture.take_id is not None or picture.lens_id is not None:
        return False
    return picture.plate_id in (None, card.plate_id) and picture.shot_id in (
        None,
        card.plate.shot_id,
    )


def _at(read: Facts) -> datetime.datetime | None:
    """When it was filmed; None where its clock says no zone and so no moment."""
    try:
        at = datetime.datetime.fromisoformat(read.shot_at)
    except ValueError:
        return None
    return None if at.tzinfo is None else at


def _logged(card: SetCard, read: Facts) -> Take | None:
    """The take of a card that was logged by hand as this was filmed, and has no recording yet."""
    at = _at(read)
    if at is None:
        return None
    ended = at + datetime.timedelta(seconds=read.duration_s or 0.0)
    recorded = Picture.objects.filter(take__card=card, role="recorded", put_away=False)
    free = card.takes.exclude(pk__in=recorded.values("take"))
    near = [(abs(take.created_at - ended), take.number, take) for take in free]
    near = [one for one in near if one[0] <= SAME_TAKE]
    return min(near)[2] if near else None


def _new(user: Any, picture: Picture, card: SetCard) -> Take:
    card = SetCard.objects.select_for_update(of=("self",)).get(pk=card.pk)
    last = card.takes.aggregate(last=Max("number"))["last"] or 0
    values = {"card": card, "number": last + 1, "logged_by": user, "by_board": True}
    return saving.create(user, picture.production, Take, values, None)


def in_order(user: Any, production: Any, card: SetCard) -> None:
    """Number the takes of a card that boards have made by when their clips were filmed. Those that
    somebody logged or numbered keep their numbers: they stand on slates and in notes."""
    takes = list(card.takes.filter(by_board=True).select_for_update(of=("self",)))
    times: dict[Any, str] = {}
    for picture in Picture.objects.filter(take__in=takes, role="recorded").order_by("-created_at"):
        read = facts(picture)
        times[picture.take_id] = "" if read is None else read.shot_at
    if len(takes) < 2 or not all(times.get(take.pk) for take in takes):
        return
    numbers = sorted(take.number for take in takes)
    ordered = sorted(takes, key=lambda take: (times[take.pk], take.number))
    moved = [(take, n) for take, n in zip(ordered, numbers, strict=True) if take.number != n]
    # No two takes of a card may have one number, not even for a moment.
    beyond = (card.takes.aggregate(last=Max("number"))["last"] or 0) + 1
    was = {take.pk: take.number for take, _ in moved}
    for shift in (beyond, 0):
        for take, number in moved:
            take.number = number + shift
            take.save(update_fields=["number"])
    for take, number in moved:
        take.revision += 1
        take.save(update_fields=["revision"])
        before, after = {"number": was[take.pk]}, {"number": number}
        saving.write_down(user, production, take, "edited", before=before, after=after)
