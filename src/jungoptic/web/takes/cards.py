"""Issuing a set card: the numbers of this moment, frozen for good."""

from __future__ import annotations

import uuid
from dataclasses import asdict
from typing import Any

from django.core.files import File
from django.core.files.storage import default_storage
from pydantic import TypeAdapter

from jungoptic.core.cards.board_line import board_place, board_says
from jungoptic.core.cards.card import card_lines, cautions, checklist
from jungoptic.core.cards.takes import planned_numbers
from jungoptic.core.cards.trick_card import trick_marks
from jungoptic.core.report.shot_report import plate_report
from jungoptic.core.stage.case import Case
from jungoptic.core.words import quantities as say

from .. import documents, saving
from ..breakdown.continuity import threads_for
from ..developed.keeping import stamp
from ..plans.bridge import load
from ..plans.models import Plate
from ..plans.stored import plan_json
from ..plans.views import called
from ..records import Refused
from .boards import free_number
from .models import FOLDER, SetCard

_JSON = TypeAdapter(dict[str, Any])


def issue(user: Any, plate: Plate, notation: say.Notation = say.METRIC) -> SetCard:
    """Freeze the plate as it is planned now into a new card with the next slate, its words in
    `notation`.

    Raises `Refused` while the plate has no body, mode and lens.
    """
    with saving.writing(plate.shot.production):
        return _issued(user, plate, notation)


def _issued(user: Any, plate: Plate, notation: say.Notation) -> SetCard:
    # The lock keeps two people who press at once from getting the same slate.
    plate = (
        Plate.objects.select_for_update(of=("self",))
        .select_related("shot__production")
        .get(pk=plate.pk)
    )
    shot = plate.shot
    # Kept is what its takes are judged by; judged, as on the Bench, is the whole shot.
    plan = plan_json(shot, plate.pk)
    whole = plan_json(shot)
    core_shot = load(whole)
    core_plate = next(p for p in core_shot.plates if p.id == str(plate.pk))
    case = Case.of(core_shot, core_plate)
    if case is None:
        raise Refused("lens_id", "Choose a body, a mode and a lens before issuing a card.")
    with say.written_in(notation):
        report = plate_report(core_shot, core_plate, selected=True)
        lines = card_lines(case, report)
        board = board_place(case)
        board_line = board_says(board)
        marks = [asdict(mark) for mark in (*report.marks, *trick_marks(case))]
    letters = [str(pk) for pk in shot.plates.values_list("pk", flat=True)]
    letter = chr(ord("A") + min(letters.index(str(plate.pk)), 25))
    slate = f"{shot.number}{letter}-{plate.cards.count() + 1}"
    read: dict[str, list[dict[str, str]]] = {}
    for one in shot.read_cautions.all():
        read.setdefault(one.hazard, []).append({"name": one.name, "at": one.at.isoformat()})
    content = {
        "shot": called(shot, plate.view_id),
        "action": shot.action,
        "plate": plate.name,
        "kind": plate.kind,
        "scale": plate.scale,
        "note": plate.note,
        "verdict": report.verdict,
        "lines": [asdict(line) for line in lines],
        "marks": marks,
        "findings": [
            {"title": f.title, "verdict": f.verdict, "sentence": f.sentence}
            for f in report.findings
            if f.verdict != "holds"
        ],
        "checklist": checklist(case),
        "cautions": [
            {**asdict(hazard), "read_by": read.get(hazard.key, [])}
            for hazard in cautions(core_plate)
        ],
        "threads": threads_for(shot, plate),
        "elevation": asdict(report.elevation) if report.elevation else None,
        "plan": asdict(report.plan) if report.plan else None,
        "fixed": [asdict(point) for point in report.study.fixed] if report.study else [],
        "eyelines": [asdict(line) for line in report.study.eyelines] if report.study else [],
        "notation": asdict(notation),
        "planned": asdict(planned_numbers(case)),
        "board": None if board is None else asdict(board),
        "board_says": board_line,
    }
    # Through JSON once: what is stored is what is shown, with infinities as null.
    content = _JSON.validate_json(_JSON.dump_json(content))
    last = SetCard.objects.filter(plate__shot__production=shot.production).first()
    values = {
        "plate": plate,
        "slate": slate,
        "issued_by": user,
        "content": documents.CARD.stamped(content),
        "plan": documents.CARD_PLAN.stamped(plan),
        # The same printer prints this one.
        "ruler_mm": 100.0 if last is None else last.ruler_mm,
        "picture": _pictured(plate, whole),
    }
    card_id = uuid.uuid4()
    values["board"] = free_number(shot.production, card_id)
    return saving.create(user, shot.production, SetCard, values, card_id)


def _pictured(plate: Plate, plan: dict[str, Any]) -> str:
    """A copy of the developed picture of the plate as it is planned now, for good: where it lies;
    "" where none was made of this plan, or its file is gone."""
    as_planned = plate.developed.filter(change_key="", at=[], stamp=stamp(plan))
    one = as_planned.order_by("frame", "-width_px").first()
    if one is None:
        return ""
    try:
        with default_storage.open(one.picture, "rb") as file:
            stored: str = default_storage.save(f"{FOLDER}/{uuid.uuid4()}.webp", File(file))
    except FileNotFoundError:
        return ""
    return stored
