"""The judgement on takes: by the plan of their card, by their files, and beside the takes that they
must join."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable
from typing import Any, NamedTuple

from django.db.models import Prefetch, Q, QuerySet

from jungoptic.core.cards.partners import FilmedTake, judge_partner
from jungoptic.core.cards.takes import Taken, TakeReport, judge_take
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import Plate as CorePlate
from jungoptic.core.plan import Shot as CoreShot

from ..frames.models import Sheet
from ..kept import answers as kept
from ..kept.versions import Rows, versions
from ..plans.lockoffs import plates_in
from ..plans.models import Plate
from ..productions.models import Production
from .fields import READINGS
from .files import against_its_files, frozen
from .models import SetCard, Take
from .told import takes_of


class Logged(NamedTuple):
    """A stored take, and what was filmed by the plan of its card."""

    take: Take
    filmed: FilmedTake


def called_take(take: Take) -> str:
    """A take by its plate and slate."""
    return f"{take.card.plate.name}, {take.card.slate} take {take.number}"


def _as_filmed(take: Take, plan: tuple[CoreShot, CorePlate]) -> FilmedTake:
    return FilmedTake(
        called_take(take),
        *plan,
        Taken(**{name: getattr(take, name) for name in READINGS}),
        take.created_at.timestamp(),
        take.card.plate.lock_group,
    )


def logged(takes: Iterable[Take]) -> list[Logged]:
    """Takes with the plans that `judged` holds them against, each read once."""
    plans: dict[uuid.UUID, tuple[CoreShot, CorePlate]] = {}
    found = []
    for take in takes:
        if take.card_id not in plans:
            plans[take.card_id] = frozen(take.card)
        found.append(Logged(take, _as_filmed(take, plans[take.card_id])))
    return found


def _among(production: Production, shots: Collection[uuid.UUID]) -> QuerySet[Take]:
    names = plates_in(production.pk).filter(shot__in=shots).values("lock_group")
    takes = takes_of(production).filter(
        Q(card__plate__shot__in=shots)
        | Q(card__plate__lock_group__in=names, card__plate__shot__removed_at=None)
    )
    found: QuerySet[Take] = takes.order_by("created_at", "id")
    return found


def _whole(takes: QuerySet[Take]) -> list[Logged]:
    # A card has its plan, which is large: takes of one card share it.
    cards = Prefetch("card", SetCard.objects.select_related("plate"))
    shared = takes.select_related(None).select_related("logged_by")
    return logged(shared.prefetch_related(cards, "pictures__files"))


def takes_among(production: Production, shots: Collection[uuid.UUID]) -> list[Logged]:
    """Every take of some shots, oldest first, and those of other shots that are filmed from the
    same lock-offs."""
    return _whole(_among(production, shots))


def _partners(mine: Take, counting: Iterable[Take]) -> list[Take]:
    """Those `counting` that a take must join: of every other plate of its shot and of its
    lock-off."""
    plate = mine.card.plate
    return [
        x
        for x in counting
        if x.card.plate_id != plate.pk
        and (
            x.card.plate.shot_id == plate.shot_id
            or (plate.lock_group and x.card.plate.lock_group == plate.lock_group)
        )
    ]


def those_that_count(among: Iterable[Take]) -> list[Take]:
    """Of every plate the take that counts: the last that is circled, else the last."""
    ordered = sorted(among, key=lambda x: (x.card.plate.position, x.circled, x.created_at))
    return list({one.card.plate_id: one for one in ordered}.values())


def judged(mine: Logged, among: list[Logged]) -> TakeReport:
    """The judgement on a stored take, from its card's frozen plan and beside those `among` the
    takes of its shot that it must join."""
    shot, plate = mine.filmed.shot, mine.filmed.plate
    found = against_its_files(mine.take, shot, plate)
    filmed = {one.take.pk: one.filmed for one in among}
    for other in _partners(mine.take, those_that_count(one.take for one in among)):
        try:
            one = judge_partner(mine.filmed, filmed[other.pk])
        except Impossible:
            # Readings that cannot be are told on their own take.
            continue
        if one is not None:
            found.append(one)
    return judge_take(shot, plate, mine.filmed.taken, found)


def rows_among(production: Production, shots: Collection[uuid.UUID]) -> list[Take]:
    """The takes that `takes_among` finds, without what is large in them."""
    takes = _among(production, shots).select_related("card__plate")
    return list(takes.defer(*(f"card__{name}" for name in ("content", "plan"))))


def verdicts(
    production: Production, takes: Collection[Take], among: Collection[Take]
) -> dict[uuid.UUID, dict[str, Any]]:
    """Verdict and advice of takes, by their ids, beside those `among` the rows of their shots:
    worked out, or kept from when nothing had changed."""
    counting = those_that_count(among)
    partners = {take.pk: _partners(take, counting) for take in takes}

    def work(missing: list[uuid.UUID]) -> dict[uuid.UUID, dict[str, Any]]:
        beside = {other.pk for pk in missing for other in partners[pk]}
        whole = _whole(takes_of(production).filter(pk__in=beside.union(missing)))
        reports = {one.take.pk: judged(one, whole) for one in whole if one.take.pk in missing}
        return {pk: {"verdict": one.verdict, "advice": one.advice} for pk, one in reports.items()}

    return kept.of_each(_sources(takes, partners), "take", work)


def _sources(
    takes: Collection[Take], partners: dict[uuid.UUID, list[Take]]
) -> dict[uuid.UUID, dict[str, Any]]:
    """What stands in all that takes are judged by."""
    every = [*takes, *(one for own in partners.values() for one in own)]
    plates = {one.card.plate_id for one in every}
    of_take, of_card, of_plate, of_sheet, of_pictures = versions(
        Rows(Take, {one.pk for one in every}),
        Rows(SetCard, {one.card_id for one in every}),
        Rows(Plate, plates),
        Rows(Sheet, plates, "plate_id"),
        Rows(Take._meta.get_field("pictures").related_model, {one.pk for one in takes}, "take_id"),
    )

    def told(take: Take) -> list[Any]:
        card = take.card
        return [of_take.get(take.pk), of_card.get(take.card_id), of_plate.get(card.plate_id)]

    return {
        take.pk: {
            "take": told(take),
            "sheet": of_sheet.get(take.card.plate_id),
            "pictures": of_pictures.get(take.pk),
            "beside": [told(other) for other in partners[take.pk]],
        }
        for take in takes
    }
