"""The board in a picture: looked for, measured, and the clip filed where it says that it belongs.
Loaded where files are read, which is never in a web process."""

from __future__ import annotations

import dataclasses
import datetime
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from django.db import transaction
from django.db.models import Max

from jungoptic.core.board.seen import Found, Seen
from jungoptic.core.board.standing import focal_of, stood
from jungoptic.core.filmed.board import focal_gone_by
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.plan.plate import TIMELESS
from jungoptic.core.stage.case import Case
from jungoptic.media.board import searched

from .. import documents, saving
from ..jobs.work import Work
from ..records import Refused
from ..takes.files import COUNTS, board, facts, frozen, settle
from ..takes.models import SetCard, Take
from .answers import Plans
from .models import Picture
from .work import Which, picture_of

#: A take that was logged by hand within this of when its clip was filmed is the same take.
SAME_TAKE = datetime.timedelta(minutes=10)
#: Told of a board that no card of the production has.
UNKNOWN = "a card of another production, or one that was removed"


def board_in(picture: Picture, paths: Sequence[Path], read: Facts) -> dict[str, Any] | None:
    """The board in a picture, as it is stored; None where none is seen."""
    found = searched(paths, read)
    if found is None:
        return None
    card = card_of(picture, found.found.number)
    return _stored(_measured(picture, card, read, Seen(found.frame, found.found)), card)


def _stored(seen: Seen, card: SetCard | None) -> dict[str, Any]:
    called = UNKNOWN if card is None else card.slate
    return documents.BOARD.stamped({"seen": dataclasses.asdict(seen), "called": called})


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


def _case(picture: Picture, card: SetCard | None) -> Case | None:
    """The plan that a board is measured by: that of the card whose board it is, else of where the
    picture hangs."""
    try:
        plan = Plans().of(picture) if card is None else frozen(card)
        return None if plan is None else Case.of(*plan)
    except Impossible:
        return None


def _measured(picture: Picture, card: SetCard | None, read: Facts, seen: Seen) -> Seen:
    """What a board says of the camera, by the sensor and the lens that are planned."""
    case = _case(picture, card)
    if case is None:
        return Seen(seen.frame, seen.found)
    return measured_by(case, read.focal_mm, seen.frame, seen.found)


def measured_by(case: Case, file_mm: float | None, frame: int, found: Found) -> Seen:
    """What a board says of the camera of a plate; `file_mm`: the focal length in the file."""
    wide = case.choice.mode.sensor_width_mm
    longer = case.stage.pinhole_mm / case.stage.focal_mm
    measured = focal_of(found, wide)
    from_file = None if file_mm is None else file_mm * longer
    gone_by = focal_gone_by(case.stage.pinhole_mm, from_file, measured)
    if gone_by is None:
        return Seen(frame, found)
    focal, told = gone_by
    lying, standing = (stood(found, way, wide, focal) for way in ("lying", "standing"))
    best = [one for one in (lying, standing) if one is not None]
    return Seen(
        frame=frame,
        found=found,
        lying=None if lying is None else lying[0],
        standing=None if standing is None else standing[0],
        rms_px=min((one[1] for one in best), default=0.0),
        focal_mm=focal,
        focal_told=told if best else "",
        focal_measured_mm=None if measured is None else measured[0],
        focal_off_mm=0.0 if measured is None else measured[1],
    )


def measured_again(work: Work[Which]) -> None:
    """Work out once more where the camera stood, by the plan of where the picture hangs now."""
    picture = picture_of(work, work.params.picture_id)
    seen, read = board(picture), facts(picture)
    if seen is None or read is None:
        raise Refused("picture_id", "No board was seen in this picture.")
    card = card_of(picture, seen.found.number)
    again = _stored(_measured(picture, card, read, seen), card)
    with saving.writing(work.production), transaction.atomic():
        fresh = Picture.objects.select_for_update(of=("self",)).filter(pk=picture.pk).first()
        if fresh is None or fresh.board != picture.board or fresh.board == again:
            return
        fresh.board = again
        fresh.revision += 1
        fresh.save()
        saving.write_down(work.user, work.production, fresh, "measured")
        if fresh.take is not None:
            settle(work.user, work.production, fresh.take)


def file_it(user: Any, picture: Picture) -> None:
    """Hang a picture on a take of the card whose board was held up in it, unless it hangs on one
    already or somewhere else: on the take that was logged as it was filmed, or on a new one. Called
    within a transaction that writes into the production; the picture is saved by the caller."""
    seen = board(picture)
    card = None if seen is None else card_of(picture, seen.found.number)
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
