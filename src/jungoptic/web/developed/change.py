"""A plan as it would be with one change: what a way out or a way of the planner makes of it."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from typing import Annotated, Any

from pydantic import BaseModel, Field, JsonValue, ValidationError

from jungoptic.core import plan as core
from jungoptic.core.plan.findings import Remedy, Verdict
from jungoptic.core.remedies.applied import applied

from ..errors import in_a_sentence
from ..naming import in_words
from ..plans.bridge import load
from ..plans.fields import PlateFields, ShotFields, StandInFields
from ..records import Refused

#: So many decisions are changed at once at most: more is another plan.
MOST = 60
Decisions = Annotated[dict[str, JsonValue], Field(max_length=MOST)]


class Change(BaseModel, extra="forbid"):
    """Decisions by name as a remedy has them: of the plate, of the shot (in its view), and of
    stand-ins by id. `alone`: what a lock-off shares stays as it is with its other plates."""

    changes: Decisions = {}
    shot: Decisions = {}
    things: Annotated[dict[str, Decisions], Field(max_length=MOST)] = {}
    alone: bool = False

    @property
    def key(self) -> str:
        """What tells it from any other; "" where nothing changes."""
        if not (self.changes or self.shot or self.things):
            return ""
        text = json.dumps(self.model_dump(mode="json"), sort_keys=True)
        return hashlib.sha256(text.encode()).hexdigest()[:32]


def changed(plan: dict[str, Any], plate_id: str, change: Change) -> core.Shot:
    """The shot of a plan with a change to one of its plates. Raises Refused where it names what
    nobody decides, or is out of bounds."""
    before = load(plan)
    if not change.key:
        return before
    plate = next(p for p in plan["plates"] if p["id"] == plate_id)
    _known(change)
    views = plan["shot"].get("views", [])
    seen = next((v for v in views if v["id"] == plate.get("view_id")), None)
    shot = (
        {**plan["shot"], **change.shot}
        if seen is None
        else {**plan["shot"], "views": [{**v, **(change.shot if v is seen else {})} for v in views]}
    )
    otherwise = {
        **plan,
        "shot": shot,
        "plates": [{**p, **(change.changes if p is plate else {})} for p in plan["plates"]],
        "stand_ins": [{**s, **change.things.get(s["id"], {})} for s in plan["stand_ins"]],
    }
    try:
        after = load(otherwise)
    except ValidationError as error:
        raise Refused("change", f"{in_a_sentence(dict(error.errors()[0]))}.") from error
    mine = next(p for p in after.plates if p.id == plate_id)
    # What the core does not know of a plate, such as a note, shows in no picture.
    decided = {n: getattr(mine, n) for n in change.changes if hasattr(mine, n)}
    remedy = Remedy("", "", Verdict.HOLDS, decided, alone=change.alone)
    was = next(p for p in before.plates if p.id == plate_id)
    # What its lock-off shares goes to all of it, as it does where somebody decides so.
    return applied(replace(after, plates=before.plates), was, remedy)


def _known(change: Change) -> None:
    """Raises Refused for what is no decision."""
    for names, fields in (
        (change.changes, PlateFields.model_fields),
        (change.shot, ShotFields.model_fields),
        *((names, StandInFields.model_fields) for names in change.things.values()),
    ):
        for name in names:
            if name not in fields:
                raise Refused("change", f"{in_words(name)[0]} is not decided here.")
