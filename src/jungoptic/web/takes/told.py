"""Takes and cards as they are told."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from ninja import Schema

from jungoptic.core.board.placed import Placed
from jungoptic.core.cards.card_line import CardLine
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.marks import Eyeline, FixedPoint
from jungoptic.core.words.drawing import Drawing

from .. import crud
from ..calc.api import NotationFields
from ..productions.models import Production
from ..schemas import Stored
from .crew import ByLink
from .fields import CardFields, TakeFields
from .models import SetCard, Take
from .ticks import ticks_out


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
    board: Placed | None = None
    board_says: str = ""


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


class Ticked(Schema):
    """A line of the card's list that somebody has seen to."""

    item: str
    by: str
    at: datetime


class CardOut(CardRow, CardFields):
    """A card, whole, with its takes and what is ticked. `pictured`: whether a developed picture of
    its plan stands on it."""

    shot_id: uuid.UUID
    pictured: bool
    ticks: list[Ticked]
    content: CardContent
    takes: list[TakeOut]


def cards_of(production: Production) -> Any:
    """The cards of a production."""
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


def _logged_by(take: Take) -> str | None:
    return _name(ByLink(take.logged_as) if take.logged_as else take.logged_by)


def take_out(take: Take) -> dict[str, Any]:
    """A take, ready for JSON."""
    return {
        **crud.fields_out(take, TakeFields),
        "from_file": take.from_file,
        "card_id": str(take.card_id),
        "number": take.number,
        "slate": take.card.slate,
        "logged_by": _logged_by(take),
        "created_at": take.created_at.isoformat(),
    }


def card_row(card: SetCard, takes: int) -> dict[str, Any]:
    return {
        "id": str(card.pk),
        "revision": card.revision,
        "plate_id": str(card.plate_id),
        "slate": card.slate,
        "issued_by": _name(card.issued_by),
        "created_at": card.created_at.isoformat(),
        "take_count": takes,
    }


def card_out(card: SetCard) -> dict[str, Any]:
    takes = [take_out(t) for t in card.takes.select_related("card", "logged_by")]
    return {
        **card_row(card, len(takes)),
        "shot_id": str(card.plate.shot_id),
        "pictured": card.picture != "",
        "content": card.shown,
        "takes": takes,
        "ticks": ticks_out(card),
        "ruler_mm": card.ruler_mm,
    }
