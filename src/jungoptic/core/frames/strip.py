"""A strip of marks at true size, to stick along a slider or round a crank: where it stands at each
frame. Laid out in pieces that fit on paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from ..checks_on_input import positive

#: Marks closer than this cannot be told apart by a pencil line; numbers need so much, mm.
LEAST_APART_MM, NUMBER_MM = 0.3, 4.0
#: Numbers stand in so many rows, so that more of them fit.
NUMBER_ROWS = 3


@dataclass(frozen=True)
class Tick:
    """A mark `at_mm` from the start of its piece, for a frame; `row` of its number (0 nearest the
    edge), None where no number fits. `back`: it goes the other way then."""

    at_mm: float
    frame: int
    row: int | None
    back: bool


@dataclass(frozen=True)
class StripPiece:
    """A piece of the strip from `from_mm` to `to_mm` of the whole way."""

    from_mm: float
    to_mm: float
    ticks: tuple[Tick, ...]


@dataclass(frozen=True)
class Strip:
    """All pieces, how much each is laid over the next, and the frames whose marks fall together
    with one before."""

    pieces: tuple[StripPiece, ...]
    overlap_mm: float
    together: tuple[int, ...]


def strip(places_mm: Sequence[float], piece_mm: float = 250.0, overlap_mm: float = 10.0) -> Strip:
    """The strip of an axis that stands at `places_mm` at each frame (from 1).

    A frame at which it has not moved gets no mark of its own. Raises Impossible unless a piece is
    longer than what it is laid over the next.
    """
    positive("piece", piece_mm - overlap_mm)
    low, high = min(places_mm, default=0.0), max(places_mm, default=0.0)
    ticks: list[tuple[float, int, bool]] = []
    together: list[int] = []
    before, back = None, False
    for frame, place in enumerate(places_mm, start=1):
        if before is not None and place == before:
            continue
        back = back if before is None else place < before
        if before is not None and abs(place - before) < LEAST_APART_MM and ticks[-1][2] == back:
            together.append(frame)
        ticks.append((place, frame, back))
        before = place
    across = piece_mm - overlap_mm
    count = max(ceil((high - low - overlap_mm) / across - 1e-9), 1)
    pieces = []
    for number in range(count):
        start = low + number * across
        end = min(start + piece_mm, high) if number == count - 1 else start + piece_mm
        own = [t for t in ticks if start - 1e-9 <= t[0] <= end + 1e-9]
        pieces.append(StripPiece(start, end, _numbered(own, start)))
    return Strip(tuple(pieces), overlap_mm, tuple(together))


def _numbered(ticks: Sequence[tuple[float, int, bool]], start: float) -> tuple[Tick, ...]:
    """Marks with the rows their numbers fit in, those of one way apart from those of the other."""
    ends = {(back, row): float("-inf") for back in (False, True) for row in range(NUMBER_ROWS)}
    found = []
    for place, frame, back in sorted(ticks):
        at = place - start
        row = next((r for r in range(NUMBER_ROWS) if ends[back, r] <= at - NUMBER_MM), None)
        if row is not None:
            ends[back, row] = at
        found.append(Tick(at, frame, row, back))
    return tuple(found)
