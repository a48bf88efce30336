"""Lamps that play: their curves, on simulated lamps, and as a table for a dimmer."""

from __future__ import annotations

import re
import uuid
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel

from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.cue import SAFE_FLASHES, Curve
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.playing import playing, together
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.case import Case
from jungoptic.devices.dimmer import SimulatedLamp, played

from ..permissions import Verb, enter
from ..records import Refused
from ..schemas import Within
from ..tables import csv_response
from .api import PlateQuestion, stored_plate

router = Router(tags=["calculators"])
files = Router(tags=["plans"])
PLATE = "/{uuid:production_id}/shots/{uuid:pk}/plates/{uuid:plate_id}"


class CuesQuestion(PlateQuestion):
    """One plate, and the lamps that play on it: how slowly they follow, how many steps they
    have."""

    response_s: Annotated[float, Within(0, 5)] = 0.0
    steps: Annotated[int, Within(1, 65535)] = 255


class CueAnswer(BaseModel):
    """One lamp: levels 0..1 by frame as asked and as the simulated lamp shows them, and the most
    flashes in any one second, which begins at `first_frame`."""

    name: str
    beat: str
    begins_s: float
    levels: list[float]
    shown: list[float]
    flashes: int
    first_frame: int
    safe: bool


class CuesAnswer(BaseModel):
    """Every lamp that plays, and all of them together on the action (None for fewer than two)."""

    fps: float
    lamps: list[CueAnswer]
    together: CueAnswer | None
    safe_flashes: int
    cautions: list[str]


def _one(found: Curve, shown: list[float], name: str, beat: str = "", begins_s: float = 0.0) -> Any:
    return CueAnswer(
        name=name,
        beat=beat,
        begins_s=begins_s,
        levels=[round(float(v), 4) for v in found.levels],
        shown=[round(v, 4) for v in shown],
        flashes=found.flashes,
        first_frame=found.first_frame,
        safe=found.safe,
    )


def _played(shot: Shot, plate: Plate, response_s: float, steps: int) -> CuesAnswer:
    try:
        lamps = playing(shot, plate)
    except Impossible as error:
        raise Refused("cue", f"{error}") from error
    try:
        case = Case.of(shot, plate)
    except Impossible:
        case = None
    whole = together(lamps, None if case is None else lighting(case))

    def shown(found: Curve) -> list[float]:
        levels = [float(v) for v in found.levels]
        return played(SimulatedLamp(response_s, steps), levels, found.fps)

    return CuesAnswer(
        fps=shot.delivery.fps if whole is None else whole.fps,
        lamps=[_one(x.curve, shown(x.curve), x.name, x.beat, x.begins_s) for x in lamps],
        together=None
        if whole is None or len(lamps) < 2
        else _one(whole, shown(whole), "all together"),
        safe_flashes=SAFE_FLASHES,
        cautions=[] if whole is None else list(whole.cautions),
    )


@router.post("/cues", response=CuesAnswer)
def play_cues(request: HttpRequest, payload: CuesQuestion) -> Any:
    """What the lamps of a plate play, as curves on simulated dimmable lamps. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    return _played(shot, plate, payload.response_s, payload.steps)


@files.get(PLATE + "/cue.csv", response=bytes)
def cue_table(
    request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID, plate_id: uuid.UUID
) -> HttpResponse:
    """The stored cues of a plate as a table: frame, seconds, and of each lamp the level in percent
    and in 8-bit steps, as many dimmers count them."""
    production = enter(request, production_id, Verb.VIEW)
    _, shot, plate = stored_plate(production, pk, plate_id)
    answer = _played(shot, plate, 0.0, 255)
    if not answer.lamps:
        raise Refused("cue", "This plate has no interactive light yet.")
    several = len(answer.lamps) > 1
    heads: list[str] = []
    for i, lamp in enumerate(answer.lamps, start=1):
        name = re.sub("[^a-z0-9]+", "_", lamp.name.lower()).strip("_")
        before = f"{i}_{name}_" if several else ""
        heads += [f"{before}level_percent", f"{before}level_8bit"]
    rows = zip(*(lamp.levels for lamp in answer.lamps), strict=True)
    return csv_response(
        "light-cue.csv",
        ("frame", "seconds", *heads),
        (
            (
                i + 1,
                f"{i / answer.fps:.4f}",
                *(x for level in levels for x in (f"{level * 100:.1f}", round(level * 255))),
            )
            for i, levels in enumerate(rows)
        ),
    )
