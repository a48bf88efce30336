"""The Bench on one page of A4: Frame, depth rail, Stage, sheet and findings of one plate."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from django.template.loader import render_to_string
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from jungoptic.core.cards.card import card_lines
from jungoptic.core.drawings.rail import FARTHEST_M, NEAREST_M
from jungoptic.core.plan import Plate, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.report.shot_report import PlateReport, ShotReport, report
from jungoptic.core.stage.case import Case
from jungoptic.core.words import quantities as say
from jungoptic.core.words.outlines import Outline

from ..print_drawing import drawing_svg
from ..records import Refused

FRAME_MM, RAIL_MM, STAGE_MM = (176.0, 74.0), (176.0, 30.0), (88.0, 62.0)
#: The findings that fit on the page; what holds is left out first.
MOST_FINDINGS = 7
#: Things on the rail take this many lines in turn.
ROWS = 7
#: Distances written along the rail.
MARKED_M = (0.1, 0.3, 1.0, 3.0, 10.0, 30.0, 100.0, 1000.0)


def _svg(size: tuple[float, float], box: str, inside: list[str]) -> SafeString:
    width, height = size
    return mark_safe(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="{box}" font-family="DejaVu Sans">{"".join(inside)}</svg>'
    )


def _paths(outlines: tuple[Outline, ...], look: str) -> list[str]:
    return [
        f'<polyline points="{" ".join(f"{x},{y}" for x, y in path)}" {look}/>'
        for outline in outlines
        for path in outline.paths
    ]


def frame_svg(shot: Shot, found: ShotReport, plate: PlateReport) -> SafeString:
    """The Frame: the world dotted, the other plates grey, this plate black, its departures red."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    margin = w * 0.03
    pen = w / FRAME_MM[0]
    inside = [
        f'<clipPath id="seen"><rect x="{-margin}" y="{-margin}" width="{w + 2 * margin}" '
        f'height="{h + 2 * margin}"/></clipPath><g clip-path="url(#seen)" fill="none">'
    ]
    inside += _paths(
        found.world.outlines,
        f'stroke="#888" stroke-width="{0.2 * pen}" stroke-dasharray="{0.6 * pen} {0.8 * pen}"',
    )
    for other in found.plates:
        if other.picture is not None and other is not plate:
            inside += _paths(other.picture.outlines, f'stroke="#999" stroke-width="{0.25 * pen}"')
    if plate.picture is not None:
        inside += _paths(plate.picture.outlines, f'stroke="#111" stroke-width="{0.4 * pen}"')
    inside += [
        f'<line x1="{x.from_x_px}" y1="{x.from_y_px}" x2="{x.to_x_px}" y2="{x.to_y_px}" '
        f'stroke="#b3261e" stroke-width="{0.4 * pen}"/>'
        for x in plate.whiskers
    ]
    if found.world.horizon is not None:
        left, right = found.world.horizon
        inside.append(
            f'<line x1="0" y1="{left}" x2="{w}" y2="{right}" stroke="#888" '
            f'stroke-width="{0.2 * pen}" stroke-dasharray="{2 * pen} {pen}"/>'
        )
    inside.append(
        f'</g><rect width="{w}" height="{h}" fill="none" stroke="#111" stroke-width="{0.4 * pen}"/>'
    )
    box = f"{-margin} {-margin} {w + 2 * margin} {h + 2 * margin}"
    return _svg(FRAME_MM, box, inside)


def rail_svg(shot: Shot, found: ShotReport, plate: PlateReport) -> SafeString | None:
    """The depth rail: what is sharp, what must be, and where things stand, world distances."""
    rail = plate.rail
    if rail is None:
        return None
    width, height = RAIL_MM
    line = height - 8.0

    def at(metres: float) -> float:
        inside = min(max(metres, NEAREST_M), FARTHEST_M)
        part = math.log(inside / NEAREST_M) / math.log(FARTHEST_M / NEAREST_M)
        return 2.0 + part * (width - 4.0)

    inside = [
        f'<rect x="{at(p.near_m):.2f}" y="2" width="{max(at(p.far_m) - at(p.near_m), 0.3):.2f}" '
        f'height="{line - 2:.2f}" fill="#e9e4d8"/><line x1="{at(p.focus_m):.2f}" y1="2" '
        f'x2="{at(p.focus_m):.2f}" y2="{line}" stroke="#111" stroke-width=".3"/>'
        for p in rail.passes
    ]
    inside.append(
        f'<line x1="2" y1="{line}" x2="{width - 2}" y2="{line}" stroke="#111" stroke-width=".3"/>'
    )
    for metres in MARKED_M:
        inside.append(
            f'<line x1="{at(metres):.2f}" y1="{line}" x2="{at(metres):.2f}" y2="{line + 1.2}" '
            f'stroke="#111" stroke-width=".2"/><text x="{at(metres):.2f}" y="{line + 4}" '
            f'font-size="2.3" text-anchor="middle">{escape(say.about(metres))}</text>'
        )
    names = {s.id: s.name for s in shot.stand_ins if s.plate_id == plate.plate_id}
    own = [d for d in found.depths if d.stand_in_id in names]
    for row, depth in enumerate(sorted(own, key=lambda d: d.near_m)):
        y = 3.5 + (row % ROWS) * 2.7
        near, far = depth.filmed_m or (depth.near_m, depth.far_m)
        inside.append(
            f'<line x1="{at(near):.2f}" y1="{y}" '
            f'x2="{max(at(far), at(near) + 0.8):.2f}" y2="{y}" stroke="#111" '
            f'stroke-width="1"/><text x="{at(near) - 1:.2f}" y="{y + 0.8}" '
            f'font-size="2.3" text-anchor="end">{escape(names[depth.stand_in_id])}</text>'
        )
    return _svg(RAIL_MM, f"0 0 {width} {height}", inside)


def bench_html(shot: Shot, plate: Plate, title: str, at: float = 0.0) -> str:
    """The page of one plate of a shot. Raises Refused while it has no stage."""
    found = report(shot, at=at, selected=plate.id)
    one = next(p for p in found.plates if p.plate_id == plate.id)
    case = Case.of(shot, plate)
    if case is None or one.elevation is None or one.plan is None or one.study is None:
        raise Refused(
            "lens_id", f"{plate.name} has no stage yet: choose a body, a mode and a lens first."
        )
    groups: dict[str, list[Any]] = {}
    for line in card_lines(case, one):
        groups.setdefault(line.group, []).append(line)
    return render_to_string(
        "calc/bench.html",
        {
            "title": title,
            "plate": plate.name,
            "scale": say.scale(plate.scale),
            "frame_number": found.frame,
            "moment": at > 0,
            "frame": frame_svg(shot, found, one),
            "rail": rail_svg(shot, found, one),
            "drawings": [
                mark_safe(drawing_svg(asdict(d), *STAGE_MM)) for d in (one.elevation, one.plan)
            ],
            "groups": groups.items(),
            "findings": one.findings[:MOST_FINDINGS],
            "more": len(one.findings) - MOST_FINDINGS,
            "counts": [(v, sum(f.verdict is v for f in one.findings)) for v in reversed(Verdict)],
            "tape": [s for s in one.study.sensitivities if s.advice == "tape"],
        },
    )
