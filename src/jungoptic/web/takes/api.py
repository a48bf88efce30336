"""Takes logged on set cards, and the judgement on them."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable
from typing import Any, NamedTuple

from django.db.models import Max, Q
from django.http import HttpRequest
from ninja import Router, Schema
from ninja.security import django_auth

from jungoptic.core.cards.partners import FilmedTake, judge_partner
from jungoptic.core.cards.takes import Taken, TakeReport, judge_take
from jungoptic.core.impossible import Impossible

from .. import crud, saving
from ..permissions import Verb, enter
from ..plans.lockoffs import plates_in
from ..productions.models import Production
from ..records import Refused
from ..schemas import Conflict
from .crew import CameByLink, enter_card
from .fields import READINGS, TakeEdit, TakeIn
from .files import against_its_files, frozen
from .models import SetCard, Take
from .told import Planned, TakeOut, cards_of, take_out, takes_of

router = Router(tags=["takes"])


class TakePage(Schema):
    """A take with the judgement on it."""

    take: TakeOut
    shot_id: uuid.UUID
    shot: str
    plate: str
    planned: Planned
    report: TakeReport


@router.post(
    "/{uuid:production_id}/cards/{uuid:card_id}/takes",
    auth=[django_auth, CameByLink()],
    response=TakeOut,
)
def log_take(
    request: HttpRequest, production_id: uuid.UUID, card_id: uuid.UUID, payload: TakeIn
) -> Any:
    """Log a take on a card. The same id a second time logs it once."""

    hand = enter_card(request, production_id, card_id, Verb.FILM)

    def values() -> dict[str, Any]:
        given = payload.model_dump(exclude={"id"})
        card = cards_of(hand.production).select_for_update(of=("self",)).get(pk=card_id)
        # Judged once before it is kept: a reading that no lens can have is refused by name.
        _judge(card, given)
        last = card.takes.aggregate(last=Max("number"))["last"] or 0
        who = {"logged_by": hand.account, "logged_as": hand.typed}
        return {**given, "card": card, "number": last + 1, **who}

    take = saving.create(hand.user, hand.production, Take, values, payload.id)
    if take.card_id != card_id:
        raise Refused("id", "This id is taken; make a new one.")
    return take_out(take)


@router.get("/{uuid:production_id}/takes/{uuid:pk}", response=TakePage)
def get_take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A take, what its departures cost, and whether to go again."""
    production = enter(request, production_id, Verb.VIEW)
    take = takes_of(production).get(pk=pk)
    content, among = take.card.shown, takes_among(production, [take.card.plate.shot_id])
    mine = next(x for x in among if x.take.pk == take.pk)
    return {
        "take": take_out(take),
        "shot_id": take.card.plate.shot_id,
        "shot": content["shot"],
        "plate": content["plate"],
        "planned": content["planned"],
        "report": judged(mine, among),
    }


@router.patch("/{uuid:production_id}/takes/{uuid:pk}", response={200: TakeOut, 409: Conflict})
def edit_take(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, payload: TakeEdit
) -> Any:
    """Correct a take: a reading, the note, the circle."""

    def prepare(production: Production, changes: dict[str, Any]) -> dict[str, Any]:
        take = takes_of(production).get(pk=pk)
        readings = {name: getattr(take, name) for name in READINGS}
        _judge(take.card, {**readings, **changes})
        number = changes.get("number", take.number)
        if number != take.number:
            if take.card.takes.filter(number=number).exists():
                raise Refused(
                    "number", f"This card has a take {number} already; number that one first."
                )
            changes["by_board"] = False
        # What somebody reads off is no longer the file's.
        left = [name for name in take.from_file if name not in changes]
        return changes if left == take.from_file else {**changes, "from_file": left}

    return crud.change(
        request, production_id, takes_of, pk, payload, take_out, prepare, verb=Verb.FILM
    )


@router.delete("/{uuid:production_id}/takes/{uuid:pk}", response={204: None})
def remove_take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """Remove a take. Its pictures stay, with its plate."""
    production = enter(request, production_id, Verb.FILM)
    with saving.writing(production):
        for take in takes_of(production).filter(pk=pk):
            take.pictures.update(take=None, plate=take.card.plate)
        return crud.drop(request, production_id, takes_of, pk, verb=Verb.FILM)


def _judge(card: SetCard, values: dict[str, Any]) -> TakeReport:
    shot, plate = frozen(card)
    return judge_take(shot, plate, Taken(**{n: values.get(n) for n in READINGS}))


def _as_filmed(take: Take) -> FilmedTake:
    shot, plate = frozen(take.card)
    return FilmedTake(
        f"{take.card.plate.name}, {take.card.slate} take {take.number}",
        shot,
        plate,
        Taken(**{name: getattr(take, name) for name in READINGS}),
        take.created_at.timestamp(),
        take.card.plate.lock_group,
    )


class Logged(NamedTuple):
    """A stored take, and what was filmed by the plan of its card."""

    take: Take
    filmed: FilmedTake


def logged(takes: Iterable[Take]) -> list[Logged]:
    """Takes with the plans that `judged` holds them against, each read once."""
    return [Logged(take, _as_filmed(take)) for take in takes]


def takes_among(production: Production, shots: Collection[uuid.UUID]) -> list[Logged]:
    """Every take of some shots, oldest first, and those of other shots that are filmed from the
    same lock-offs."""
    names = plates_in(production.pk).filter(shot__in=shots).values("lock_group")
    takes = takes_of(production).filter(
        Q(card__plate__shot__in=shots)
        | Q(card__plate__lock_group__in=names, card__plate__shot__removed_at=None)
    )
    ordered = takes.select_related("card__plate").order_by("created_at", "id")
    return logged(ordered.prefetch_related("pictures__files"))


def _partners(mine: Logged, among: list[Logged]) -> list[Logged]:
    """Of every other plate of its shot and of its lock-off the take that counts."""
    plate = mine.take.card.plate
    return those_that_count(
        x
        for x in among
        if x.take.card.plate_id != plate.pk
        and (
            x.take.card.plate.shot_id == plate.shot_id
            or (plate.lock_group and x.take.card.plate.lock_group == plate.lock_group)
        )
    )


def those_that_count(among: Iterable[Logged]) -> list[Logged]:
    """Of every plate the take that counts: the last that is circled, else the last."""
    ordered = sorted(
        among, key=lambda x: (x.take.card.plate.position, x.take.circled, x.take.created_at)
    )
    return list({one.take.card.plate_id: one for one in ordered}.values())


def judged(mine: Logged, among: list[Logged]) -> TakeReport:
    """The judgement on a stored take, from its card's frozen plan and beside those `among` the
    takes of its shot that it must join."""
    shot, plate = mine.filmed.shot, mine.filmed.plate
    found = against_its_files(mine.take, shot, plate)
    for other in _partners(mine, among):
        try:
            one = judge_partner(mine.filmed, other.filmed)
        except Impossible:
            # Readings that cannot be are told on their own take.
            continue
        if one is not None:
            found.append(one)
    return judge_take(shot, plate, mine.filmed.taken, found)
