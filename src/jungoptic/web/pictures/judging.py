"""The plans that pictures are held against, and what is found of pictures by them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import Any

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import seen_from_own
from jungoptic.core.plan.findings import Finding, worst, worst_first

from ..frames.models import Sheet
from ..kept import answers as kept
from ..kept.versions import Rows, versions
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..takes.files import carried, findings_of, frozen, lit, read
from ..takes.models import SetCard
from .filing import its_card
from .models import Picture


class Plans:
    """The plans that pictures are held against, each read once: of a take the one its card froze,
    of a plate today's."""

    def __init__(self) -> None:
        self._cards: dict[Any, SetCard] = {}
        self._of_cards: dict[Any, Any] = {}
        self._of_plates: dict[Any, Any] = {}
        self._boards: dict[Any, Any] = {}
        self._carried: dict[str, bool] = {}
        self._today: dict[Any, dict[str, Any]] = {}

    def findings(self, picture: Picture) -> list[Finding]:
        """What a picture's file says against its plan; nothing for one that does not count."""
        found = read(picture, self.card(picture))
        plan = self.of(picture) if found is not None or picture.balls else None
        if plan is None:
            return []
        shot, plate = plan
        files = [] if found is None else [found]
        return worst_first(findings_of(shot, plate, files, self._moves) + lit(picture, shot, plate))

    def _moves(self, shot: Any, plate: Any) -> bool:
        if plate.id not in self._carried:
            self._carried[plate.id] = carried(shot, plate)
        return self._carried[plate.id]

    def card(self, picture: Picture) -> Any:
        """The card that a picture's board is held against: its take's, else that whose board it
        is."""
        if picture.take is not None:
            # What is large in it is fetched once, and not before it is asked for.
            return self._cards.setdefault(picture.take.card_id, picture.take.card)
        if picture.board is not None and picture.pk not in self._boards:
            self._boards[picture.pk] = its_card(picture)
        return self._boards.get(picture.pk)

    def of(self, picture: Picture) -> Any:
        """The plan that a picture is held against: a shot and its plate; None for none."""
        if picture.take is not None:
            card = self.card(picture)
            if card.pk not in self._of_cards:
                self._of_cards[card.pk] = frozen(card)
            return self._of_cards[card.pk]
        if picture.plate_id is not None:
            if picture.plate_id not in self._of_plates:
                self._of_plates[picture.plate_id] = self._planned(picture.plate)
            return self._of_plates[picture.plate_id]
        return None

    def today(self, plate: Any) -> dict[str, Any]:
        """The plan of a plate's shot as it is now."""
        if plate.shot_id not in self._today:
            self._today[plate.shot_id] = plan_json(Shot.everything.get(pk=plate.shot_id))
        return self._today[plate.shot_id]

    def _planned(self, plate: Any) -> Any:
        """A plate as it is planned now, in what the view shows that it is a piece of; None where
        its shot cannot be worked out."""
        try:
            plan = load(self.today(plate))
        except Impossible:
            return None
        own = next((one for one in plan.plates if one.id == str(plate.pk)), None)
        return None if own is None else (seen_from_own(plan, own), own)


def verdicts(pictures: Sequence[Picture]) -> dict[uuid.UUID, str | None]:
    """The worst that is found of each picture, None where nothing is: worked out, or kept from when
    nothing had changed."""
    plans, by_id = Plans(), {one.pk: one for one in pictures}

    def work(missing: list[uuid.UUID]) -> dict[uuid.UUID, str | None]:
        found = {pk: plans.findings(by_id[pk]) for pk in missing}
        return {pk: str(worst(own)) if own else None for pk, own in found.items()}

    return kept.of_each(_sources(plans, pictures), "picture", work)


def _sources(plans: Plans, pictures: Sequence[Picture]) -> dict[uuid.UUID, dict[str, Any]]:
    """What stands in all that pictures are judged by."""
    cards = {one.pk: card for one in pictures if (card := plans.card(one)) is not None}
    plates = {
        one.pk: one.plate_id if one.take is None else one.take.card.plate_id for one in pictures
    }
    of_picture, of_card, of_sheet = versions(
        Rows(Picture, {one.pk for one in pictures}),
        Rows(SetCard, {card.pk for card in cards.values()}),
        Rows(Sheet, set(plates.values()) - {None}, "plate_id"),
    )
    return {
        one.pk: {
            "picture": of_picture.get(one.pk),
            "card": of_card.get(cards[one.pk].pk) if one.pk in cards else None,
            "sheet": of_sheet.get(plates[one.pk]),
            "plan": None if one.plate is None else plans.today(one.plate),
        }
        for one in pictures
    }
