"""Where everything lies on a board's sheet of paper.

Millimetres of an A4 sheet that stands upright, from its top left corner, right and down; an A3
sheet is the same, larger by the square root of two (ISO 216). The board stands or lies with the
middle of its lower edge on the mark, and what is measured of it is told from there.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .markers import CELLS, cells
from .number import FIRST, TIMES, Paper, markers_of

#: ISO 216.
WIDE_MM, HIGH_MM = 210.0, 297.0
#: The corners of the sheet, round from the top left.
ENDS_MM = np.array([(0.0, 0.0), (WIDE_MM, 0.0), (WIDE_MM, HIGH_MM), (0.0, HIGH_MM)])

#: The grid: squares across and down, their side and that of the marker in every white one, and
#: where its corner lies.
SQUARES = (4, 5)
SQUARE_MM, MARKER_MM = 46.0, 35.0
GRID_MM = (13.0, 8.0)
#: The three markers of the number.
NUMBER_MM, NUMBER_TOP_MM = 36.0, 245.0
NUMBER_LEFT_MM = (13.0, 55.0, 97.0)
#: Black rim and cells of a marker on a side.
_CELLS = CELLS + 2

#: (left, top, side) in millimetres.
Square = tuple[float, float, float]


def corners_mm() -> NDArray[np.float64]:
    """The corners within the grid (n, 2) in millimetres of an A4 sheet, row by row: where four
    squares meet, found in a picture better than anything else."""
    across, down = SQUARES
    return np.array(
        [
            (GRID_MM[0] + SQUARE_MM * i, GRID_MM[1] + SQUARE_MM * j)
            for j in range(1, down)
            for i in range(1, across)
        ]
    )


def number_middles_mm() -> NDArray[np.float64]:
    """The middles of the markers of the number (3, 2), left to right."""
    half = NUMBER_MM / 2.0
    return np.array([(left + half, NUMBER_TOP_MM + half) for left in NUMBER_LEFT_MM])


def from_foot_m(
    places_mm: NDArray[np.float64], paper: Paper, ruler_mm: float = 100.0
) -> NDArray[np.float64]:
    """Places of an A4 sheet (n, 2) as metres right of and above the middle of the paper's lower
    edge, on paper of that size; `ruler_mm`: what the line of 100 mm on it really measures."""
    size = TIMES[paper] * ruler_mm / 100.0 / 1000.0
    x, y = places_mm[:, 0], places_mm[:, 1]
    found: NDArray[np.float64] = np.column_stack([x - WIDE_MM / 2.0, HIGH_MM - y]) * size
    return found


def black(number: int, paper: Paper = "A4") -> list[Square]:
    """Everything black of a board's grid and number, as squares. Raises Impossible for a number
    that no board has."""
    found: list[Square] = []
    inset, marker = (SQUARE_MM - MARKER_MM) / 2.0, 0
    for row in range(SQUARES[1]):
        for column in range(SQUARES[0]):
            left, top = GRID_MM[0] + SQUARE_MM * column, GRID_MM[1] + SQUARE_MM * row
            if (row + column) % 2 == 0:
                found.append((left, top, SQUARE_MM))
            else:
                found += _marker(marker, left + inset, top + inset, MARKER_MM)
                marker += 1
    assert marker <= FIRST
    for left, one in zip(NUMBER_LEFT_MM, markers_of(number, paper), strict=True):
        found += _marker(one, left, NUMBER_TOP_MM, NUMBER_MM)
    return found


def _marker(marker: int, left: float, top: float, side: float) -> list[Square]:
    cell, inside = side / _CELLS, cells(marker)
    rim = (0, _CELLS - 1)
    return [
        (left + cell * x, top + cell * y, cell)
        for y in range(_CELLS)
        for x in range(_CELLS)
        if x in rim or y in rim or not inside[y - 1][x - 1]
    ]
