"""Calculators without memory: a plan goes in, every number and drawing comes out."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from jungoptic.core.hazards import HAZARDS
from jungoptic.core.report import report

from .answers import ShotAnswer, shot_answer
from .bridge import Plan, to_core

router = Router(tags=["calculators"])


class Question(Plan):
    """A plan; `remedies` may be left out while a number is being dragged."""

    remedies: bool = True


@router.post("/shot", response=ShotAnswer)
def calculate_shot(request: HttpRequest, payload: Question) -> Any:
    """Derive and judge every plate of a shot. Nothing is stored."""
    return shot_answer(report(to_core(payload), payload.remedies))


class HazardOut(Schema):
    """A hazard that can be marked on a plate, and its cautions."""

    key: str
    name: str
    cautions: list[str]


@router.get("/hazards", response=list[HazardOut])
def list_hazards(request: HttpRequest) -> Any:
    """The table of hazards."""
    return list(HAZARDS)
