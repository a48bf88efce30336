"""A dimmable lamp: the protocol, and a simulated one that answers as slowly and coarsely as real
ones do."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Protocol


class DimmableLamp(Protocol):
    """A lamp that takes levels 0..1 and tells the level it really shows."""

    def set_level(self, level: float) -> None:
        """Ask for a level from now on. Raises ValueError outside 0..1."""

    def level_after(self, seconds: float) -> float:
        """The level shown once `seconds` more have gone by."""


@dataclass
class SimulatedLamp:
    """A lamp that takes `steps` levels and follows with a time constant: near nothing for a panel
    of diodes, about a tenth of a second for a filament (common practice)."""

    response_s: float = 0.0
    steps: int = 255
    _asked: float = field(default=0.0, init=False)
    _shown: float = field(default=0.0, init=False)

    def set_level(self, level: float) -> None:
        """Ask for a level; it is rounded to the steps that the lamp has."""
        if not 0.0 <= level <= 1.0:
            raise ValueError(f"A dimmer takes levels from 0 to 1, not {level!r}.")
        self._asked = round(level * self.steps) / self.steps

    def level_after(self, seconds: float) -> float:
        """The level shown after `seconds`, by 1 - exp(-t / response)."""
        if seconds < 0.0:
            raise ValueError("Time runs forwards.")
        part = 1.0 if self.response_s <= 0.0 else 1.0 - math.exp(-seconds / self.response_s)
        self._shown += (self._asked - self._shown) * part
        return self._shown


def played(lamp: DimmableLamp, levels: Sequence[float], fps: float) -> list[float]:
    """What the lamp shows at the end of every frame while the levels are sent, one a frame."""
    shown = []
    for level in levels:
        lamp.set_level(level)
        shown.append(lamp.level_after(1.0 / fps))
    return shown
