"""The decision that a lamp plays: fire, lightning, a passing lamp, magic that snaps on, or a curve
drawn by hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

CueKind = Literal["fire", "lightning", "passing", "snap", "drawn"]


CUE_NAMES: dict[CueKind, str] = {
    "fire": "fire nobody sees",
    "lightning": "lightning",
    "passing": "a lamp drives past",
    "snap": "light at a snap",
    "drawn": "a curve by hand",
}


@dataclass(frozen=True)
class LevelKey:
    """A level 0..1 that a drawn curve passes, so many seconds after the cue begins."""

    at_s: float
    level: float


@dataclass(frozen=True)
class Cue:
    """A pattern for one lamp: the one placed under the name `lamp_key`, or the one of that number
    on the stage where none is named (as it was told before lamps had names). `low` and `high` are
    dimmer levels 0..1; `per_s` how lively: flickers, strokes, passings a second; `at_s` when it
    begins, from the beat `beat_id` where one is named and there, else from the shot's first frame;
    `lasts_s` how long (0: to the end). A drawn cue goes straight from one of its `keys` to the next
    and holds the last."""

    kind: CueKind
    lamp: int = 0
    low: float = 0.2
    high: float = 1.0
    per_s: float = 2.0
    at_s: float = 0.0
    lasts_s: float = 0.0
    seed: int = 1
    lamp_key: str = ""
    beat_id: str | None = None
    keys: tuple[LevelKey, ...] = ()
