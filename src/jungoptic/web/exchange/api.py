"""What leaves the house: plates and takes as CSV, a whole shot as JSON."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import Router

from jungoptic.core.plan import check_shot
from jungoptic.core.plan.mirrored import placed_for
from jungoptic.core.report.shot_report import plate_report

from ..permissions import Verb, enter
from ..plans.api import shots_of
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..tables import csv_response
from ..takes.fields import READINGS
from ..takes.judging import judged, takes_among
from ..takes.models import Take
from ..takes.told import take_out, takes_of

router = Router(tags=["exchange"])

#: Units in the header of each column that has one.
PLATE_COLUMNS = (
    ("plate", None),
    ("kind", None),
    ("scale (1:S)", None),
    ("body", None),
    ("mode", None),
    ("lens", None),
    ("focal length (mm)", "focal_mm"),
    ("lens axis height (m)", "axis_m"),
    ("sensor mark to first thing (m)", "mark"),
    ("tilt (deg)", "tilt_deg"),
    ("focus from sensor mark (m)", "focus_tape_m"),
    ("stop (f-number)", "f_number"),
    ("capture rate (fps)", "capture_fps"),
    ("exposure time (s)", "exposure_s"),
    ("action on set (s)", "set_duration_s"),
    ("ISO", "iso"),
    ("light needed (lx)", "lux_needed"),
    ("pixels left across (px)", "pixels_across"),
    ("sharp from (m)", "depth_near_m"),
    ("sharp to (m)", "depth_far_m"),
    ("placed in post, filmed from (m)", "placed"),
    ("verdict", None),
)
READING_HEADERS = {
    "axis_height_m": "lens axis height (m)",
    "distance_m": "sensor mark to mark (m)",
    "tilt_deg": "tilt (deg)",
    "focal_mm": "focal length (mm)",
    "focus_tape_m": "focus from sensor mark (m)",
    "f_number": "stop (f-number)",
    "exposure_s": "exposure time (s)",
    "iso": "ISO",
    "capture_fps": "capture rate (fps)",
}


def _shot(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> Shot:
    production = enter(request, production_id, Verb.VIEW)
    found: Shot = shots_of(production).select_related("production").get(pk=pk)
    return found


def _file(shot: Shot, what: str) -> str:
    number = "".join(c if c.isascii() and c.isalnum() else "_" for c in shot.number)
    return f"shot-{number}-{what}"


@router.get("/{uuid:production_id}/shots/{uuid:pk}/plates.csv", response=bytes)
def plates_csv(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """The shot's plates with their derived numbers."""
    shot = _shot(request, production_id, pk)
    core_shot = load(plan_json(shot))
    rows = []
    check_shot(core_shot)
    for plate in core_shot.plates:
        result = plate_report(core_shot, plate, False)
        stage = result.stage
        row: list[Any] = []
        for header, source in PLATE_COLUMNS:
            if source == "mark":
                row.append(_rounded(result.mark_tape_m))
            elif source == "placed":
                placing = None if stage is None else placed_for(core_shot, plate).placing
                row.append(None if placing is None else _rounded(placing.from_m / plate.scale))
            elif source in {"f_number", "iso"}:
                row.append(getattr(plate, source))
            elif source is not None:
                row.append(None if stage is None else _rounded(getattr(stage, source)))
            elif header in {"body", "mode", "lens"}:
                row.append(None if stage is None else getattr(stage.choice, header).name)
            else:
                row.append(
                    {
                        "plate": plate.name,
                        "kind": plate.kind,
                        "scale (1:S)": plate.scale,
                        "verdict": str(result.verdict),
                    }[header]
                )
        rows.append(row)
    return csv_response(_file(shot, "plates.csv"), [h for h, _ in PLATE_COLUMNS], rows)


def files_of(take: Take) -> list[Any]:
    """The files of what was recorded of a take, those in the bin left out."""
    shown = [p for p in take.pictures.all() if not p.put_away and p.role == "recorded"]
    return [file for picture in shown for file in picture.files.all()]


def _rounded(value: float | None) -> float | str | None:
    if value is None:
        return None
    return "inf" if value == float("inf") else float(f"{value:.6g}")


@router.get("/{uuid:production_id}/shots/{uuid:pk}/takes.csv", response=bytes)
def takes_csv(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """The shot's takes: readings (empty: as planned), note, circle, verdict; which readings a file
    told, and the names and checksums (SHA-256) of what was recorded."""
    shot = _shot(request, production_id, pk)
    header = ["slate", "plate", "take", "logged (UTC)", "by", "circled"]
    header += [READING_HEADERS[name] for name in READINGS] + ["verdict", "advice", "note"]
    header += ["told by the file", "files", "SHA-256"]
    rows = []
    among = takes_among(shot.production, [shot.pk])
    for one in (x for x in among if x.take.card.plate.shot_id == shot.pk):
        take, verdict = one.take, judged(one, among)
        out = take_out(take)
        rows.append(
            [
                out["slate"],
                take.card.shown["plate"],
                take.number,
                out["created_at"],
                out["logged_by"],
                "yes" if take.circled else "no",
                *(out[name] for name in READINGS),
                str(verdict.verdict),
                verdict.advice,
                take.note,
                " ".join(out["from_file"]),
                *("; ".join(getattr(f, n) for f in files_of(take)) for n in ("name", "sha256")),
            ]
        )
    return csv_response(_file(shot, "takes.csv"), header, rows)


@router.get("/{uuid:production_id}/shots/{uuid:pk}/export.json", response=dict[str, Any])
def shot_json(request: HttpRequest, production_id: uuid.UUID, pk: uuid.UUID) -> HttpResponse:
    """The whole shot: decisions, kit, and takes, in SI units with units in the names."""
    shot = _shot(request, production_id, pk)
    takes = takes_of(shot.production).filter(card__plate__shot=shot).order_by("created_at")
    body = {
        "format": "jungoptic-shot",
        "version": 1,
        **plan_json(shot),
        "takes": [
            {
                **take_out(t),
                "plate_id": str(t.card.plate_id),
                "files": [
                    {n: getattr(f, n) for n in ("name", "size", "sha256", "path")}
                    for f in files_of(t)
                ],
            }
            for t in takes.prefetch_related("pictures__files")
        ],
    }
    response = JsonResponse(body, json_dumps_params={"indent": 1, "ensure_ascii": False})
    response["Content-Disposition"] = f'attachment; filename="{_file(shot, "export.json")}"'
    return response
