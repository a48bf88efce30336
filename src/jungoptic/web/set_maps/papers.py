"""A set map on paper."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from jungoptic.core.drawings.set_map import set_drawing
from jungoptic.core.frames.laid_out import Taped
from jungoptic.core.frames.set_report import SetReport
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.case import Case
from jungoptic.core.words import quantities as say

from ..frames.fields import SheetFields
from ..pictures.models import Arrival, Picture
from ..print_drawing import drawing_svg
from ..productions.models import Production
from ..storage import in_document
from .answers import SetAngle

#: How large the drawing is printed, millimetres.
WIDE_MM, HIGH_MM = 182.0, 150.0


def _row(row: Taped, note: str, photo: str) -> dict[str, Any]:
    return {
        "name": row.name,
        "left": say.length(row.from_left_m),
        "right": say.length(row.from_right_m),
        "sure": "flat" if row.error_m is None else f"± {say.length(row.error_m)}",
        "foot": say.length(row.foot_m) if abs(row.foot_m) >= 5e-4 else "",
        "high": say.length(row.height_m) if row.height_m else "",
        "turn": f"{row.turn_deg:+.1f}°" if abs(row.turn_deg) >= 0.05 else "",
        "words": "; ".join(w for w in (row.words, note) if w),
        "photo": photo,
    }


def notes_of(sheet: SheetFields) -> dict[str, str]:
    """What is noted of each piece of a set map, by its key."""
    return {p.key: p.note for p in (sheet.set_map.pieces if sheet.set_map else [])}


def _photos(production: Production, sheet: SheetFields) -> dict[str, str]:
    """The picture of each piece that has one that is still there, as a data address, by its key."""
    pieces = sheet.set_map.pieces if sheet.set_map else []
    asked = {p.photo_id: p.key for p in pieces if p.photo_id}
    stills = Picture.objects.filter(production=production, pk__in=asked, state=Arrival.READ)
    by_id = {str(s.pk): s for s in stills if s.looks}
    return {
        p.key: in_document(by_id[p.photo_id].look(by_id[p.photo_id].looks[0]))
        for p in pieces
        if p.photo_id in by_id
    }


def _whole(case: Case, found: SetReport) -> dict[str, Any]:
    """The drawing with everything that tapes are laid to."""
    drawing = asdict(set_drawing(case, found))
    return {**drawing, "bounds": drawing["room"]}


def map_html(
    production: Production,
    title: str,
    case: Case,
    sheet: SheetFields,
    found: SetReport,
    angles: Sequence[SetAngle],
) -> str:
    """The set map of a plate: from above, with all tapes, and what is judged of it."""
    notes = notes_of(sheet)
    photos = _photos(production, sheet)
    edges = found.edges
    return render_to_string(
        "frames/set_map.html",
        {
            "title": title,
            "plate": case.plate.name,
            "scale": say.scale(case.plate.scale),
            "drawing": mark_safe(drawing_svg(_whole(case, found), WIDE_MM, HIGH_MM)),
            "wide": say.length(edges.right_m - edges.left_m),
            "deep": say.length(edges.far_m - edges.near_m),
            "table": None if case.plate.table_m is None else say.length(case.plate.table_m),
            "left": found.fixed[0].name,
            "right": found.fixed[1].name,
            "apart": say.length(
                math.dist(
                    (found.fixed[0].x_m, found.fixed[0].y_m),
                    (found.fixed[1].x_m, found.fixed[1].y_m),
                )
            ),
            "rows": [
                _row(row, notes.get(row.key, ""), photos.get(row.key, "")) for row in found.rows
            ],
            "findings": [f for f in found.findings if f.verdict is not Verdict.HOLDS],
            "angles": angles,
        },
    )
