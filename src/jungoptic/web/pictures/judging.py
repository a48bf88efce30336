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
from ..kept.versions import versions
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
            return picture.take.card
        if picture.board is not None and picture.pk not in self._boards:
            self._boards[picture.pk] = its_card(picture)
        return self._boards.get(picture.pk)

    def of(self, picture: Picture) -> Any:
        """The plan that a picture is held against: a shot and its plate; None for none."""
        if picture.take is not None:
            card = picture.take.card
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
    plans = Plans()
    keys = _keys(plans, pictures)
    answers = kept.get(keys.values())
    new = {}
    for picture in pictures:
        key = keys[picture.pk]
        if key not in answers:
            found = plans.findings(picture)
            answers[key] = new[key] = str(worst(found)) if found else None
    kept.put(new)
    return {pk: answers[key] for pk, key in keys.items()}


def _keys(plans: Plans, pictures: Sequence[Picture]) -> dict[uuid.UUID, str]:
    """What tells one state of all that pictures are judged by from another."""
    cards = {one.pk: card for one in pictures if (card := plans.card(one)) is not None}
    plates = {one.plate_id for one in pictures} | {card.plate_id for card in cards.values()}
    of_card = versions(SetCard, {card.pk for card in cards.values()})
    of_sheet = versions(Sheet, plates - {None}, "plate_id")
    of_picture = versions(Picture, [one.pk for one in pictures])

    def told(one: Picture) -> dict[str, Any]:
        card = cards.get(one.pk)
        plate_id = one.plate_id if card is None else card.plate_id
        return {
            "picture": of_picture.get(one.pk),
            "card": None if card is None else of_card.get(card.pk),
            "sheet": of_sheet.get(plate_id),
            "plan": None if one.plate is None else plans.today(one.plate),
        }

    found = kept.keys([told(one) for one in pictures], "picture")
    return dict(zip((one.pk for one in pictures), found, strict=True))
