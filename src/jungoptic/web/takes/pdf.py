"""The set card as an A5 PDF: the same numbers and drawings as on the screen."""

from __future__ import annotations

from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from jungoptic.core.words import quantities as say

from ..print_drawing import drawing_svg
from ..printing.child import pdf
from ..storage import in_document
from .code import Code
from .models import CrewLink, SetCard


def card_pdf(card: SetCard, link: CrewLink | None = None, code: Code | None = None) -> bytes:
    """The PDF bytes of an issued card; with the `code` of a crew `link` it opens on a phone."""
    return pdf(card_html(card, link, code))


def _tapes(mark: dict[str, Any]) -> list[str]:
    """The two tapes that find a mark again; none on cards from before they were laid."""
    both = mark["from_left_m"], mark["from_right_m"]
    return [] if None in both else [say.length(t) for t in both if t is not None]


def _turned(degrees: float) -> str:
    """A look's turn in words."""
    if abs(degrees) < 0.5:
        return "straight away from the camera"
    return f"{say.degrees(abs(degrees))} to the {'right' if degrees > 0 else 'left'}"


def card_html(card: SetCard, link: CrewLink | None = None, code: Code | None = None) -> str:
    """The document of an issued card, in the notation it was issued in."""
    content = card.shown
    with say.written_in(say.Notation(**content["notation"])):
        return _filled(card, content, link, code)


def _filled(
    card: SetCard, content: dict[str, Any], link: CrewLink | None, code: Code | None
) -> str:
    groups: dict[str, list[dict[str, Any]]] = {}
    for line in content["lines"]:
        groups.setdefault(line["group"], []).append(line)
    drawings = [content[name] for name in ("elevation", "plan") if content[name]]
    marks = [
        {
            "name": m["name"],
            "ahead": say.length(m["from_sensor_m"]),
            "front": say.length(m["from_front_m"]),
            "tapes": _tapes(m),
            "aside": "on the line"
            if abs(m["aside_m"]) < 5e-4
            else f"{say.length(abs(m['aside_m']))} {'right' if m['aside_m'] > 0 else 'left'}",
            "tall": say.length(m["height_m"]) if m["height_m"] else "",
        }
        for m in content["marks"]
    ]
    fixed = content["fixed"]
    eyelines = [
        {
            **line,
            "height": say.length(line["height_m"]),
            "distance": say.length(line["distance_m"]),
            "turn": _turned(line["turn_deg"]),
            "error": say.degrees(line["error_deg"]),
        }
        for line in content["eyelines"]
    ]
    return render_to_string(
        "takes/card.html",
        {
            "card": card,
            "link": link,
            "code": code,
            "content": content,
            "picture": in_document(card.picture) if card.picture else "",
            "scale": say.scale(content["scale"]),
            "groups": groups.items(),
            "marks": marks,
            "fixed": [f["name"] for f in fixed],
            "eyelines": eyelines,
            "drawings": [(d["view"], mark_safe(drawing_svg(d))) for d in drawings],
        },
    )
