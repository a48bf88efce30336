"""A core drawing set down for print: the same primitives as on the screen, as SVG."""

from __future__ import annotations

from typing import Any

from django.utils.html import escape

from jungoptic.core.words import quantities as say

#: Print size of a drawing on an A5 card, in millimetres.
WIDTH_MM, HEIGHT_MM = 124.0, 62.0

LOOKS = {
    "ground": 'stroke="#777" stroke-width=".3"',
    "camera": 'fill="#333"',
    "lens": 'fill="#777"',
    "mark": 'stroke="#fff" stroke-width=".4"',
    "support": 'stroke="#333" stroke-width=".6"',
    "ray": 'stroke="#999" stroke-width=".2"',
    "axis": 'stroke="#999" stroke-width=".2" stroke-dasharray="2 1"',
    "focus": 'stroke="#000" stroke-width=".4" stroke-dasharray=".8 .8"',
    "screen": 'stroke="#333" stroke-width="1"',
    "wall": 'stroke="#555" stroke-width=".7"',
    "table": 'stroke="#555" stroke-width=".3"',
    "lamp": 'fill="#333"',
    "beam": 'stroke="#777" stroke-width=".25" stroke-dasharray=".6 .9"',
    "way": 'stroke="#000" stroke-width=".4"',
    "path": 'stroke="#000" stroke-width=".6" stroke-dasharray="1.6 .8"',
    "fixed": 'stroke="#000" stroke-width=".5"',
    "tape": 'stroke="#7d4e00" stroke-width=".2" stroke-dasharray="1.2 .5"',
    "eyeline": 'stroke="#333" stroke-width=".25" stroke-dasharray=".5 .5"',
    "shadow": 'fill="#000" fill-opacity=".14"',
    "penumbra": 'fill="#000" fill-opacity=".06"',
    "sweep": 'fill="#000" fill-opacity=".05" stroke="#555" stroke-width=".2"',
    "sun": 'stroke="#b07a10" stroke-width=".8"',
    "keepout": 'fill="#b07a10" fill-opacity=".18"',
    "tapeline": 'stroke="#7d4e00" stroke-width=".6"',
    "armspan": 'stroke="#333" stroke-width=".35" stroke-dasharray=".8 .5"',
    "crowd0": 'fill="#fff" stroke="#333" stroke-width=".25"',
    "crowd1": 'fill="#ddd" stroke="#333" stroke-width=".25"',
    "crowd2": 'fill="#aaa" stroke="#333" stroke-width=".25"',
    "crowd3": 'fill="#666" stroke="#333" stroke-width=".25"',
    "beyond": 'fill="#b3261e" fill-opacity=".13"',
    "stand": 'stroke="#111" stroke-width=".9"',
    "pose": 'fill="#000"',
    "piece": 'stroke="#111" stroke-width=".35"',
    "piece-rolls": 'stroke="#111" stroke-width=".35" stroke-dasharray="1.6 .5"',
    "piece-trap": 'stroke="#111" stroke-width=".35" stroke-dasharray=".5 .5"',
    "lacking": 'stroke="#b3261e" stroke-width="1.2" stroke-dasharray="1 .6"',
}
#: Drawn with a fill of their own.
FILLED = frozenset(
    {"camera", "lens", "lamp", "shadow", "penumbra", "sweep", "keepout", "beyond", "pose"}
    | {f"crowd{n}" for n in range(4)}
)
THING = 'stroke="#333" stroke-width=".3"'


def drawing_svg(
    drawing: dict[str, Any], width_mm: float = WIDTH_MM, height_mm: float = HEIGHT_MM
) -> str:
    """A core drawing as SVG at print size, with dimension lines and a scale bar."""
    u0, v0, u1, v1 = drawing["bounds"]
    pad = 9.0
    scale = min((width_mm - 2 * pad) / (u1 - u0), (height_mm - 2 * pad) / (v1 - v0))
    left = (width_mm - (u1 - u0) * scale) / 2
    bottom = height_mm - (height_mm - (v1 - v0) * scale) / 2

    def at(point: list[float]) -> tuple[float, float]:
        return left + (point[0] - u0) * scale, bottom - (point[1] - v0) * scale

    parts = []
    for shape in drawing["shapes"]:
        points = " ".join(f"{x:.2f},{y:.2f}" for x, y in map(at, shape["points"]))
        look = LOOKS.get(shape["role"], THING)
        tag = "polygon" if shape["closed"] else "polyline"
        filled = shape["role"] in FILLED
        fill = "" if filled else ' fill="#e9e4d8"' if shape["closed"] else ' fill="none"'
        parts.append(f'<{tag} points="{points}" {look}{fill}/>')
    for dim in drawing["dimensions"]:
        (x0, y0), (x1, y1) = at(dim["start"]), at(dim["end"])
        upright = abs(x1 - x0) < abs(y1 - y0)
        shift = -3.5 * dim["lift"]
        if upright:
            x0, x1 = x0 + shift, x1 + shift
        else:
            y0, y1 = y0 + shift, y1 + shift
        text = escape(f"{say.length(dim['value_m'])} {dim['label']}")
        x, y = (x0 + x1) / 2, (y0 + y1) / 2
        parts.append(
            f'<line x1="{x0:.2f}" y1="{y0:.2f}" x2="{x1:.2f}" y2="{y1:.2f}" '
            'stroke="#7d4e00" stroke-width=".3"/>'
        )
        for px, py in ((x0, y0), (x1, y1)):
            dx, dy = (0.8, 0.0) if upright else (0.0, 0.8)
            parts.append(
                f'<line x1="{px - dx:.2f}" y1="{py - dy:.2f}" x2="{px + dx:.2f}" '
                f'y2="{py + dy:.2f}" stroke="#7d4e00" stroke-width=".3"/>'
            )
        if dim["editable"]:  # the lens axis: its words stand clear above the camera
            place, anchor = f'x="{x0 - 2:.2f}" y="{y1 - 3:.2f}"', "start"
        elif upright:
            place, anchor = f'x="{x + 1:.2f}" y="{y:.2f}"', "start"
        else:
            drop = 3.2 if dim["lift"] < 0 else -0.8
            place, anchor = f'x="{x:.2f}" y="{y + drop:.2f}"', "middle"
        parts.append(
            f'<text {place} text-anchor="{anchor}" font-size="2.6" fill="#111">{text}</text>'
        )
    for note in drawing["notes"]:
        x, y = at(note["at"])
        parts.append(
            f'<text x="{x:.2f}" y="{y - 1:.2f}" text-anchor="middle" font-size="2.3" '
            f'fill="#444">{escape(note["text"])}</text>'
        )
    bar = scale_bar_m(40.0 / scale)
    parts.append(
        f'<path d="M3 {height_mm - 3:.2f}v-1.2v1.2h{bar * scale:.2f}v-1.2" '
        'stroke="#222" stroke-width=".35" fill="none"/>'
        f'<text x="3" y="{height_mm - 5:.2f}" font-size="2.4">{say.length(bar)}</text>'
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width_mm}mm" height="{height_mm}mm" '
        f'viewBox="0 0 {width_mm} {height_mm}" font-family="DejaVu Sans">{"".join(parts)}</svg>'
    )


def scale_bar_m(longest_m: float) -> float:
    """The longest of 1, 2, 5 times a power of ten that is no longer than `longest_m`."""
    exponent = 10.0 ** int(f"{longest_m:e}".split("e")[1])
    return next(k * exponent for k in (5.0, 2.0, 1.0) if k * exponent <= longest_m * 1.0001)
