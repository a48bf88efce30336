"""A small plot of time against size as SVG: points, and the straight line that fits them best."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

WIDTH, HEIGHT, PAD = 420, 260, 52


@dataclass(frozen=True)
class Series:
    """Points (size, time) with what they are."""

    name: str
    unit: str
    points: list[tuple[float, float]]


def plot(path: Path, title: str, series: tuple[Series, ...]) -> None:
    """Draw every series beside the others and write the file."""
    whole = WIDTH * len(series)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {whole} {HEIGHT}" '
        f'font-family="sans-serif" font-size="12"><rect width="{whole}" height="{HEIGHT}" '
        f'fill="#fdfcf7"/><text x="12" y="18" font-weight="bold">{title}</text>'
    ]
    for i, one in enumerate(series):
        parts.append(f'<g transform="translate({i * WIDTH} 0)">{_chart(one)}</g>')
    path.write_text("".join(parts) + "</svg>\n")


def _chart(one: Series) -> str:
    xs, ys = (np.array([p[k] for p in one.points]) for k in (0, 1))
    most_x, most_y = xs.max() * 1.05, ys.max() * 1.1
    slope, start = np.polyfit(xs, ys, 1)
    fitted = 1.0 - ((ys - slope * xs - start) ** 2).sum() / ((ys - ys.mean()) ** 2).sum()

    def at(x: float, y: float) -> tuple[float, float]:
        return (
            PAD + x / most_x * (WIDTH - 2 * PAD),
            HEIGHT - PAD - y / most_y * (HEIGHT - 2 * PAD),
        )

    (x0, y0), (x1, y1) = at(0, max(start, 0)), at(most_x, start + slope * most_x)
    left, bottom = at(0, 0)
    right, top = at(most_x, most_y)
    marks = "".join(
        f'<circle cx="{u:.1f}" cy="{v:.1f}" r="4" fill="#7d4e00"/><text x="{u:.1f}" '
        f'y="{v - 8:.1f}" text-anchor="middle">{y:.3g}</text><text x="{u:.1f}" '
        f'y="{bottom + 16}" text-anchor="middle" fill="#555">{x:.4g}</text>'
        for (x, y), (u, v) in ((p, at(*p)) for p in one.points)
    )
    return (
        f'<path d="M{left} {top}V{bottom}H{right}" fill="none" stroke="#333"/>'
        f'<path d="M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}" stroke="#999" stroke-dasharray="5 4"/>'
        f'{marks}<text x="{(left + right) / 2}" y="{HEIGHT - 14}" text-anchor="middle">{one.name}'
        f'</text><text x="{left}" y="{top - 8}">{one.unit}; fits a line to {fitted:.3f} (R²)</text>'
    )
