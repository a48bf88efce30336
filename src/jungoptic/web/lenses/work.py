"""Measuring a lens, as work behind the scenes: somebody waits beside it."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb


def number(low: float, high: float) -> object:
    """A number that may be asked for."""
    return Field(ge=low, le=high, allow_inf_nan=False)


class WantedLens(BaseModel, extra="forbid"):
    """A lens, by the stills that hang on it, filmed in a mode with its ring at `marked_mm`;
    `focus_m`: what it was focused at, from the front of the lens (null: at the board);
    `ruler_mm`: what the line of 100 mm on the printed board measures; `even_id`: a still of an even
    surface, taken at `even_stop`."""

    lens_id: uuid.UUID
    mode_id: uuid.UUID
    marked_mm: Annotated[float, number(1, 5000)]
    focus_m: Annotated[float, number(0.01, 10_000)] | None = None
    ruler_mm: Annotated[float, number(80, 120)] = 100.0
    even_id: uuid.UUID | None = None
    even_stop: Annotated[float, number(0.5, 256)] | None = None


def _measure(work: Work[WantedLens]) -> None:
    # What measures pictures is large, and a web process never needs it.
    from .measuring import measure

    measure(work)


LENS = Kind("lens", "Measuring a lens", Verb.VIEW, WantedLens, _measure, queue="short", warm=True)
