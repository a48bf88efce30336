"""The sheet, a chart and a strip of marks on paper."""

from __future__ import annotations

from dataclasses import dataclass

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from jungoptic.core.frames.chart import Chart
from jungoptic.core.frames.sheet_report import ColumnReport, SheetReport
from jungoptic.core.frames.strip import Strip, StripPiece, strip
from jungoptic.core.frames.timing import in_order
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.sheet import Column
from jungoptic.core.words import quantities as say

from ..records import Refused

#: Frames of one page, in two blocks beside each other, and the columns that fit.
PAGE_FRAMES, BLOCK_FRAMES, PAGE_COLUMNS = 100, 50, 6
#: The most pages that are printed of one sheet, and the longest strip.
MOST_FRAMES, MOST_PIECES = 4_000, 60
PIECE_MM, OVERLAP_MM = 250.0, 10.0
#: How large a curve is printed, and how tall a piece of a strip.
CURVE_MM, STRIP_MM = (180.0, 52.0), 26.0
#: Paper beside the ends of a piece, for the numbers of their marks.
EDGE_MM = 3.0


@dataclass(frozen=True)
class Row:
    """One frame on paper: `picture` its number, None where the one before is held; `second`: a
    second of film ends with it."""

    frame: int
    picture: int | None
    cells: tuple[str, ...]
    beat: str
    second: bool


def _number(value: float) -> str:
    """A number as short as it is exact enough."""
    return f"{value:.2f}".rstrip("0").rstrip(".") if abs(value) >= 5e-3 else ""


def _cells(found: ColumnReport, frames: int) -> list[str]:
    """What one column says at every frame: what is new by name or a dot, a line while it holds."""
    if found.moved is not None:
        return [_number(count) for count in found.moved.chart.counts]
    if found.levels:
        shown, before = [], ""
        for level in found.levels:
            now = f"{level * 100:.0f} %"
            shown.append(now if now != before else "|")
            before = now
        return shown
    names = {m.frame: m.name for m in in_order(found.column)}
    changed, begun = set(found.changed), False
    cells = []
    for frame in range(1, frames + 1):
        begun = begun or frame in changed
        new = names.get(frame) or ("●" if frame in changed else "")
        cells.append(new or ("|" if begun else ""))
    return cells


def _head(found: ColumnReport) -> str:
    if found.moved is None:
        return found.column.name
    unit = found.moved.chart.counted_in
    return f"{found.column.name}, {'°' if unit == 'deg' else unit}"


def sheet_html(title: str, plate: Plate, found: SheetReport, beats: dict[int, str]) -> str:
    """The exposure sheet, page by page; `beats` of the shot by frame. Raises Refused for one too
    long for paper."""
    if found.frames > MOST_FRAMES:
        raise Refused(
            "plate",
            f"This sheet has {found.frames} frames; {MOST_FRAMES} can be printed. Take it as CSV.",
        )
    taken = {frame: i for i, frame in enumerate(found.taken, start=1)}
    columns = list(found.columns)
    groups = [columns[i : i + PAGE_COLUMNS] for i in range(0, len(columns), PAGE_COLUMNS)] or [[]]
    every = max(round(found.fps), 1)
    pages = []
    for group in groups:
        cells = [_cells(c, found.frames) for c in group]
        rows = [
            Row(
                frame,
                taken.get(frame),
                tuple(c[frame - 1] for c in cells),
                beats.get(frame, ""),
                frame % every == 0,
            )
            for frame in range(1, found.frames + 1)
        ]
        for first in range(0, found.frames, PAGE_FRAMES):
            own = rows[first : first + PAGE_FRAMES]
            pages.append(
                {
                    "heads": [_head(c) for c in group],
                    "blocks": [b for b in (own[:BLOCK_FRAMES], own[BLOCK_FRAMES:]) if b],
                    "first": first + 1,
                    "last": first + len(own),
                }
            )
    return render_to_string(
        "frames/sheet.html",
        {
            "title": title,
            "plate": plate.name,
            "pages": pages,
            "frames": found.frames,
            "fps": say.rate(found.fps),
            "pictures": len(found.taken),
            "held": [(n, count) for n, count in found.holds.items()],
            "beats": bool(beats),
        },
    )


def curve_svg(chart: Chart) -> SafeString:
    """Where an axis is over the frames, as a line."""
    wide, high = CURVE_MM
    places = [0.0, *(float(v) for v in chart.reached)]
    low, high_value = min(places), max(places)
    span = (high_value - low) or 1.0
    across = max(len(places) - 1, 1)
    points = " ".join(
        f"{4 + i / across * (wide - 8):.2f},{high - 6 - (v - low) / span * (high - 12):.2f}"
        for i, v in enumerate(places)
    )
    return mark_safe(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}mm" height="{high}mm" '
        f'viewBox="0 0 {wide} {high}" font-family="DejaVu Sans" font-size="2.6">'
        f'<line x1="4" y1="{high - 6}" x2="{wide - 4}" y2="{high - 6}" stroke="#888" '
        f'stroke-width=".2"/><polyline points="{points}" fill="none" stroke="#111" '
        f'stroke-width=".5"/><text x="4" y="{high - 2}">frame 1</text>'
        f'<text x="{wide - 4}" y="{high - 2}" text-anchor="end">frame {len(places) - 1}</text>'
        f'<text x="4" y="4">{_number(high_value) or 0}{_unit(chart)}</text></svg>'
    )


def _unit(chart: Chart) -> str:
    return "°" if chart.unit == "deg" else " mm"


def chart_html(title: str, plate: Plate, column: Column, chart: Chart) -> str:
    """The chart of one move: its curve, and its numbers. Raises Refused for one too long for
    paper."""
    count = len(chart.wanted)
    if count > MOST_FRAMES:
        raise Refused(
            "column",
            f"This chart has {count} frames; {MOST_FRAMES} can be printed. Take it as CSV.",
        )
    rig = chart.rig
    total, rows = 0.0, []
    for i, own in enumerate(chart.counts):
        total += own
        rows.append(
            {
                "frame": i + 1,
                "way": _number(own) or "0",
                "total": _number(total) or "0",
                "at": _number(float(chart.reached[i])) or "0",
                "round": i + 1 in chart.turns_round,
                "rest": not own,
            }
        )
    return render_to_string(
        "frames/chart.html",
        {
            "title": title,
            "plate": plate.name,
            "name": column.name,
            "curve": curve_svg(chart),
            "counted": chart.counted_in,
            "unit": "degrees" if chart.unit == "deg" else "mm",
            "rig": rig,
            "turn": None if rig is None else f"{rig.per_turn:g}",
            "play": rig is not None and rig.play_steps > 0,
            "rows": rows,
            "travel": _number(chart.travel) or "0",
        },
    )


def _piece_svg(piece: StripPiece, number: int, last: bool) -> SafeString:
    """One piece of a strip, its edge in the middle: marks on the way out above, back below."""
    length = piece.to_mm - piece.from_mm
    middle = STRIP_MM / 2
    inside = [
        f'<rect x="0" y="0" width="{length}" height="{STRIP_MM}" fill="none" stroke="#888" '
        'stroke-width=".15" stroke-dasharray="2 1.5"/>',
        f'<line x1="0" y1="{middle}" x2="{length}" y2="{middle}" stroke="#111" '
        'stroke-width=".25"/>',
    ]
    for tick in piece.ticks:
        way = 1 if tick.back else -1
        row = 0 if tick.row is None else tick.row
        end = middle + way * (2.0 if tick.row is None else 3.0 + row * 3.0)
        inside.append(
            f'<line x1="{tick.at_mm:.3f}" y1="{middle}" x2="{tick.at_mm:.3f}" y2="{end:.2f}" '
            'stroke="#111" stroke-width=".15"/>'
        )
        if tick.row is not None:
            base = end + (2.4 if tick.back else -0.4)
            inside.append(
                f'<text x="{tick.at_mm:.3f}" y="{base:.2f}" font-size="2.4" '
                f'text-anchor="middle">{tick.frame}</text>'
            )
    if not last:
        inside.append(
            f'<line x1="{length - OVERLAP_MM}" y1="0" x2="{length - OVERLAP_MM}" y2="{STRIP_MM}" '
            f'stroke="#888" stroke-width=".2"/><text x="{length - 1}" y="{STRIP_MM - 1}" '
            f'font-size="2" text-anchor="end" fill="#555">glue {number + 1} here</text>'
        )
    inside.append(f'<text x="1" y="{STRIP_MM - 1}" font-size="2" fill="#555">piece {number}</text>')
    return mark_safe(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{length + 2 * EDGE_MM:.3f}mm" '
        f'height="{STRIP_MM}mm" viewBox="{-EDGE_MM} 0 {length + 2 * EDGE_MM:.3f} {STRIP_MM}" '
        f'font-family="DejaVu Sans">{"".join(inside)}</svg>'
    )


#: A line of 100 mm, so that whoever prints can measure whether the printer kept the size.
RULER = mark_safe(
    '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="6mm" viewBox="0 0 100 6">'
    '<line x1="0" y1="3" x2="100" y2="3" stroke="#111" stroke-width=".25"/>'
    + "".join(
        f'<line x1="{x}" y1="{1 if x % 50 == 0 else 2}" x2="{x}" y2="5" stroke="#111" '
        'stroke-width=".2"/>'
        for x in range(0, 101, 10)
    )
    + "</svg>"
)


def strip_html(
    title: str, plate: Plate, column: Column, places_mm: list[float], radius_mm: float | None
) -> str:
    """The marks of a move at true size. Raises Refused for a way too long for paper."""
    found: Strip = strip(places_mm, PIECE_MM, OVERLAP_MM)
    if len(found.pieces) > MOST_PIECES:
        metres = (max(places_mm) - min(places_mm)) / 1000.0
        raise Refused(
            "column",
            f"{column.name} goes {metres:.1f} m: too long for a strip of paper. Mark it with a "
            "tape from the chart.",
        )
    last = len(found.pieces)
    return render_to_string(
        "frames/strip.html",
        {
            "title": title,
            "plate": plate.name,
            "name": column.name,
            "pieces": [
                _piece_svg(piece, i, i == last) for i, piece in enumerate(found.pieces, start=1)
            ],
            "ruler": RULER,
            "radius": None if radius_mm is None else f"{radius_mm:g}",
            "together": len(found.together),
            "overlap": f"{OVERLAP_MM:g}",
        },
    )
