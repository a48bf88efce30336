"""The calculator for a plan in hand: sent once, then only what changes is sent.

While something is dragged nearly all of a plan stays as it is. Each process keeps the plans that it
was asked about last, by whose they are and under a name made of all that is in them; a process that
does not know a name says so, and is sent the whole plan. So any number of processes may answer, and
none can answer from another's plan.
"""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router
from ninja.errors import HttpError
from pydantic import BaseModel, Field

from jungoptic.core.plan import Shot

from ..permissions import signed_in
from ..plans.bridge import Plan, PlanPlate, PlanStandIn, to_core, with_changes
from ..plans.fields import ShotFields
from .answers import ShotAnswer
from .api import Look

router = Router(tags=["calculators"])

#: How much a process keeps: plans, and the characters they were sent in. In memory a plan takes
#: some five times as many bytes.
MOST_PLANS, MOST_CHARACTERS = 64, 4_000_000


class Kept:
    """The plans asked about last, oldest first."""

    def __init__(self) -> None:
        self._plans: OrderedDict[tuple[int, str], tuple[Shot, int]] = OrderedDict()
        self._characters = 0
        self._lock = threading.Lock()

    def put(self, whose: int, plan: Plan) -> tuple[str, Shot]:
        """Keep a plan; its name, and the plan as the core takes it."""
        text = plan.model_dump_json()
        name = hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
        shot = to_core(plan)
        with self._lock:
            self._drop((whose, name))
            self._plans[whose, name] = shot, len(text)
            self._characters += len(text)
            while len(self._plans) > 1 and (
                len(self._plans) > MOST_PLANS or self._characters > MOST_CHARACTERS
            ):
                self._drop(next(iter(self._plans)))
        return name, shot

    def get(self, whose: int, name: str) -> Shot | None:
        """Somebody's plan of a name; None where this process does not have it."""
        with self._lock:
            found = self._plans.get((whose, name))
            if found is None:
                return None
            self._plans.move_to_end((whose, name))
            return found[0]

    def _drop(self, key: tuple[int, str]) -> None:
        found = self._plans.pop(key, None)
        if found is not None:
            self._characters -= found[1]


KEPT = Kept()


class Changes(BaseModel):
    """The records of a plan that are not as it was sent; each whole."""

    shot: ShotFields | None = None
    plates: Annotated[list[PlanPlate], Field(max_length=500)] = []
    stand_ins: Annotated[list[PlanStandIn], Field(max_length=500)] = []


class KeptQuestion(Look):
    """Either a whole `plan`, which is kept, or the name `kept` of one that was sent before; and
    what has changed of it since."""

    plan: Plan | None = None
    kept: Annotated[str, Field(max_length=32)] = ""
    changes: Changes = Changes()


@router.post("/kept", response=ShotAnswer)
def calculate_kept(request: HttpRequest, payload: KeptQuestion) -> Any:
    """Derive and judge a shot as `/shot` does, from a plan that is sent once. 412: this plan is not
    kept here (any more); send it whole."""
    whose = signed_in(request).pk
    if payload.plan is not None:
        name, shot = KEPT.put(whose, payload.plan)
    else:
        name = payload.kept
        found = KEPT.get(whose, name)
        if found is None:
            raise not_here()
        shot = found
    changes = payload.changes
    changed = with_changes(shot, changes.shot, changes.plates, changes.stand_ins)
    if changed is None:
        raise not_here()
    return payload.answer(changed, name)


def not_here() -> HttpError:
    return HttpError(412, "This plan is not kept here any more; send it whole.")
