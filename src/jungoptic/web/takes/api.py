"""Set cards and the takes logged on them."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime
from typing import Any, NamedTuple

from django.db.models import Count, Max
from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema

from jungoptic.core.cards.card_line import CardLine
from jungoptic.core.cards.partners import FilmedTake, judge_partner
from jungoptic.core.cards.takes import Taken, TakeReport, judge_take
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.marks import Eyeline, FixedPoint
from jungoptic.core.words.drawing import Drawing

from .. import crud, saving
from ..calc.api import NotationFields
from ..permissions import Verb, enter
from ..plans.api import plates_of
from ..productions.models import Production
from ..schemas import Conflict, Stored
from .cards import issue
from .fields import READINGS, TakeEdit, TakeFields, TakeIn
from .files import against_its_files, frozen
from .models import SetCard, Take
from .pdf import card_pdf

router = Router(tags=["takes"])


class CardFinding(Schema):
    """A finding that did not hold when the card was issued."""

    title: str
    verdict: Verdict
    sentence: str


class Planned(Schema):
    """The planned numbers a take is held against."""

    axis_height_m: float
    distance_m: float | None
    tilt_deg: float
    focal_mm: float
    focus_tape_m: float | None
    f_number: float
    exposure_s: float
    iso: float
    capture_fps: float


class CardReader(Schema):
    """Who had read a caution when the card was issued, and when."""

    name: str
    at: str


class CardCaution(Schema):
    """A hazard on a card, as it stood when the card was issued."""

    key: str
    name: str
    cautions: list[str]
    read_by: list[CardReader] = []


class CardThread(Schema):
    """Something that must recur, and what this plate has to do about it."""

    name: str
    note: str
    task: str


class CardMark(Schema):
    """A mark on a card; cards from before tapes were laid have none."""

    stand_in_id: str
    name: str
    from_sensor_m: float
    from_front_m: float
    aside_m: float
    height_m: float
    from_left_m: float | None = None
    from_right_m: float | None = None
    foot_m: float | None = None
    weak: bool = False


class CardContent(Schema):
    """What stands on a card."""

    shot: str
    action: str
    plate: str
    kind: str
    scale: float
    note: str
    verdict: Verdict
    lines: list[CardLine]
    marks: list[CardMark]
    fixed: list[FixedPoint] = []
    eyelines: list[Eyeline] = []
    notation: NotationFields = NotationFields()
    findings: list[CardFinding]
    checklist: list[str]
    cautions: list[CardCaution]
    threads: list[CardThread] = []
    elevation: Drawing | None
    plan: Drawing | None
    planned: Planned


class CardRow(Stored):
    """A card in a list."""

    plate_id: uuid.UUID
    slate: str
    issued_by: str | None
    created_at: datetime
    take_count: int


class TakeOut(Stored, TakeFields):
    """A logged take. `from_file`: the readings that a file of its camera filled in."""

    from_file: list[str]
    card_id: uuid.UUID
    number: int
    slate: str
    logged_by: str | None
    created_at: datetime


class CardOut(CardRow):
    """A card, whole, with its takes."""

    shot_id: uuid.UUID
    content: CardContent
    takes: list[TakeOut]


class TakePage(Schema):
    """A take with the judgement on it."""

    take: TakeOut
    shot_id: uuid.UUID
    shot: str
    plate: str
    planned: Planned
    report: TakeReport


def _cards_of(production: Production) -> Any:
    return SetCard.objects.filter(plate__shot__production=production).select_related(
        "issued_by", "plate"
    )


def takes_of(production: Production) -> Any:
    """The takes of a production."""
    return Take.objects.filter(card__plate__shot__production=production).select_related(
        "card__plate__shot", "logged_by"
    )


def _name(user: Any) -> str | None:
    return None if user is None else user.get_username()


def take_out(take: Take) -> dict[str, Any]:
    """A take, ready for JSON."""
    return {
        **crud.fields_out(take, TakeFields),
        "from_file": take.from_file,
        "card_id": str(take.card_id),
        "number": take.number,
        "slate": take.card.slate,
        "logged_by": _name(take.logged_by),
        "created_at": take.created_at.isoformat(),
    }


def _card_row(card: SetCard, takes: int) -> dict[str, Any]:
    return {
        "id": str(card.pk),
        "revision": card.revision,
        "plate_id": str(card.plate_id),
        "slate": card.slate,
        "issued_by": _name(card.issued_by),
        "created_at": card.created_at.isoformat(),
        "take_count": takes,
    }


def _card_out(card: SetCard) -> dict[str, Any]:
    takes = [take_out(t) for t in card.takes.select_related("card", "logged_by")]
    return {
        **_card_row(card, len(takes)),
        "shot_id": str(card.plate.shot_id),
        "content": card.shown,
        "takes": takes,
    }


@router.post("/{uuid:production_id}/plates/{uuid:plate_id}/cards", response=CardOut)
def issue_card(
    request: HttpRequest,
    production_id: uuid.UUID,
    plate_id: uuid.UUID,
    notation: Query[NotationFields],
) -> Any:
    """Issue a set card for a plate as it is planned now, in the crew's own notation."""
    production = enter(request, production_id, Verb.FILM)
    plate = plates_of(production).get(pk=plate_id)
    return _card_out(issue(request.user, plate, notation.core()))


@router.get("/{uuid:production_id}/shots/{uuid:shot_id}/cards", response=list[CardRow])
def list_cards(request: HttpRequest, production_id: uuid.UUID, shot_id: uuid.UUID) -> Any:
    """The newest 200 cards of a shot."""
    production = enter(request, production_id, Verb.VIEW)
    cards = _cards_of(production).filter(plate__shot_id=shot_id)
    return [_card_row(c, c.logged) for c in cards.annotate(logged=Count("takes"))[:200]]


@router.get("/{uuid:production_id}/cards/{uuid:pk}", response=CardOut)
def get_card(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A card with its takes."""
    return _card_out(_cards_of(enter(request, production_id, Verb.VIEW)).get(pk=pk))


@router.get("/{uuid:production_id}/cards/{uuid:pk}/pdf", response=bytes)
def print_card(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """The card as an A5 PDF."""
    card = _cards_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    response = HttpResponse(card_pdf(card), content_type="application/pdf")
    safe = "".join(c if c.isascii() and (c.isalnum() or c == "-") else "_" for c in card.slate)
    response["Content-Disposition"] = f'inline; filename="card-{safe}.pdf"'
    return response


@router.post("/{uuid:production_id}/cards/{uuid:card_id}/takes", response=TakeOut)
def log_take(
    request: HttpRequest, production_id: uuid.UUID, card_id: uuid.UUID, payload: TakeIn
) -> Any:
    """Log a take on a card. The same id a second time logs it once."""

    def prepare(production: Production, values: dict[str, Any]) -> dict[str, Any]:
        card = _cards_of(production).select_for_update(of=("self",)).get(pk=card_id)
        # Judged once before it is kept: a reading that no lens can have is refused by name.
        _judge(card, values)
        last = card.takes.aggregate(last=Max("number"))["last"] or 0
        return {**values, "card": card, "number": last + 1, "logged_by": request.user}

    return take_out(crud.make(request, production_id, Take, payload, prepare, verb=Verb.FILM))


@router.get("/{uuid:production_id}/takes/{uuid:pk}", response=TakePage)
def get_take(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Any:
    """A take, what its departures cost, and whether to go again."""
    take = takes_of(enter(request, production_id, Verb.VIEW)).get(pk=pk)
    content, among = take.card.shown, takes_beside(take)
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
    )


class Logged(NamedTuple):
    """A stored take, and what was filmed by the plan of its card."""

    take: Take
    filmed: FilmedTake


def logged(takes: Iterable[Take]) -> list[Logged]:
    """Takes with the plans that `judged` holds them against, each read once."""
    return [Logged(take, _as_filmed(take)) for take in takes]


def takes_beside(take: Take) -> list[Logged]:
    """Every take of a take's shot, itself with them."""
    shot = take.card.plate.shot_id
    takes = Take.objects.filter(card__plate__shot=shot).select_related("card__plate")
    return logged(takes.prefetch_related("pictures"))


def _partners(mine: Logged, among: list[Logged]) -> list[Logged]:
    """Of every other plate the take that counts."""
    plate = mine.take.card.plate_id
    return those_that_count([x for x in among if x.take.card.plate_id != plate])


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
