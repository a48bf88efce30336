"""A shot's pictures on paper: clean, or with their marks numbered and the notes in the margin."""

from __future__ import annotations

from typing import Any

from django.template.loader import render_to_string
from django.utils.html import escape
from django.utils.safestring import mark_safe

from jungoptic.core.breakdown.sketch_marks import LAYERS

from ..plans.models import Shot
from ..printing.child import pdf
from ..storage import in_document
from .models import Annotation, Sketch
from .reports import report_of

#: Room for the picture on the page: wide with a margin of notes beside it, wider without, tall.
WIDEST_MM, WIDEST_CLEAN_MM, TALLEST_MM = 195.0, 265.0, 155.0

#: How each layer is drawn on paper: dash pattern, width in mm, closed or not.
DASHES = {
    "matte": ("none", 0.9),
    "holdout": ("2.5 1", 0.6),
    "remove": (".6 .9", 0.8),
    "split": ("5 1.5", 0.8),
    "action": ("none", 0.5),
    "tracking": ("none", 0.5),
    "reference": ("none", 0.5),
}


def boards_pdf(shot: Shot, with_marks: bool) -> bytes:
    """The PDF of a shot's pictures, one to a page."""
    pages = []
    widest = WIDEST_MM if with_marks else WIDEST_CLEAN_MM
    for sketch in shot.sketches.prefetch_related("annotations"):
        marks = list(sketch.annotations.all()) if with_marks else []
        pages.append(
            {
                "sketch": sketch,
                "picture": picture_address(sketch),
                "width_mm": round(min(widest, TALLEST_MM * sketch.width_px / sketch.height_px), 1),
                "overlay": mark_safe(overlay_svg(sketch, marks)) if marks else "",
                "says": [f for f in report_of(sketch).findings if f.verdict != "holds"]
                if marks
                else [],
                "notes": [
                    {
                        "number": i,
                        "layer": LAYERS[m.layer][0],
                        "name": m.name,
                        "note": m.note,
                        "size": _size(m),
                    }
                    for i, m in enumerate(marks, start=1)
                ],
            }
        )
    html = render_to_string(
        "sketches/boards.html",
        {"shot": shot, "pages": pages, "marks": with_marks, "meanings": LAYERS},
    )
    return pdf(html)


def picture_address(sketch: Sketch, thumb: bool = False) -> str:
    """The picture inside the document, as a data address; "" when its file is missing."""
    return in_document((sketch.thumb.name if thumb else sketch.picture.name) or "")


def _size(mark: Annotation) -> str:
    parts = []
    if mark.distance_m is not None:
        parts.append(f"{mark.distance_m:g} m away")
    if mark.height_m is not None:
        parts.append(f"{mark.height_m:g} m tall")
    return ", ".join(parts)


def overlay_svg(sketch: Sketch, marks: list[Annotation]) -> str:
    """The marks over the picture, numbered, in a box of 100 units by the picture's aspect."""
    tall = 100.0 * sketch.height_px / sketch.width_px
    parts: list[str] = []
    for number, mark in enumerate(marks, start=1):
        points = [(x * 100.0, y * tall) for x, y in mark.points]
        dash, width = DASHES[mark.layer]
        parts.append(_shape(mark.layer, points, dash, width * 0.4))
        x, y = points[0]
        x, y = min(max(x, 1.5), 98.5), min(max(y, 1.5), tall - 1.5)
        parts.append(
            f'<circle cx="{x:.2f}" cy="{y:.2f}" r="1.3" fill="#fdfbf6" stroke="#221f1a" '
            f'stroke-width=".2"/><text x="{x:.2f}" y="{y + 0.65:.2f}" font-size="1.8" '
            f'text-anchor="middle" fill="#221f1a">{number}</text>'
        )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 {tall:.3f}" '
        f'font-family="DejaVu Sans" role="img" aria-label="{escape(sketch.title)}">'
        f"{''.join(parts)}</svg>"
    )


def _shape(layer: str, points: list[tuple[float, float]], dash: str, width: float) -> str:
    look = (
        f'fill="none" stroke="#7d4e00" stroke-width="{width:.2f}" '
        f'stroke-dasharray="{dash}" stroke-linejoin="round"'
    )
    path = " ".join(f"{x:.2f},{y:.2f}" for x, y in points)
    if len(points) == 1 or layer == "tracking":
        return "".join(
            f'<path d="M{x - 1:.2f} {y:.2f}h2M{x:.2f} {y - 1:.2f}v2" {look}/>' for x, y in points
        )
    if layer == "holdout":
        return f'<polygon points="{path}" {look}/>'
    return f'<polyline points="{path}" {look}/>'


def document_name(shot: Shot, with_marks: bool) -> Any:
    """A file name without odd characters."""
    number = "".join(c if c.isascii() and c.isalnum() else "_" for c in shot.number)
    return f"shot-{number}-{'marked' if with_marks else 'clean'}.pdf"
