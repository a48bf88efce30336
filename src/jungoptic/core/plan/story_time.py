"""How the story's time runs in a shot: real, slowed, sped up, or changing on the way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..camera import Array
from .tricks import RampKey

#: A clock runs on after the shot as it ran at its end, for this many screen times.
BEYOND = 1000.0


@dataclass(frozen=True)
class StoryTime:
    """`speed`: seconds of the story to one on the screen, from the first of `frames` on; at a key
    another speed begins."""

    screen_time_s: float
    frames: int
    speed: float = 1.0
    keys: tuple[RampKey, ...] = ()

    @cached_property
    def _steps(self) -> tuple[Array, Array]:
        """Parts of the screen time at which a speed begins, from 0 on, and those speeds."""
        at = {0.0: self.speed}
        for key in sorted(self.keys, key=lambda k: k.frame):
            part = (key.frame - 1) / max(self.frames - 1, 1)
            if part < 1.0 or self.frames == 1:
                at[min(max(part, 0.0), 1.0)] = key.speed
        return np.array(list(at)), np.array(list(at.values()))

    @property
    def real(self) -> bool:
        """Whether it runs as life does."""
        return bool((self._steps[1] == 1.0).all())

    @property
    def even(self) -> bool:
        """Whether it runs at one speed."""
        return len(set(self._steps[1].tolist())) == 1

    @property
    def slowest(self) -> float:
        """The slowest speed that is ever shown."""
        return float(self._steps[1].min())

    @property
    def fastest(self) -> float:
        """The fastest speed that is ever shown."""
        return float(self._steps[1].max())

    def after(self, part: float) -> float:
        """Story seconds after a part of the screen time."""
        return float(self.at(np.array([part]))[0])

    def at(self, parts: Array) -> Array:
        """Story seconds after parts (n,) of the screen time."""
        if self.real:
            plain: Array = parts * self.screen_time_s
            return plain
        begin, speeds = self._steps
        begin = np.append(begin, BEYOND)
        gone = np.concatenate([[0.0], np.cumsum(np.diff(begin) * speeds)])
        found: Array = np.interp(parts, begin, gone) * self.screen_time_s
        return found

    @property
    def whole_s(self) -> float:
        """Seconds of the story that the shot shows."""
        return self.after(1.0)

    def speed_at(self, frame: int) -> float:
        """The speed from a frame (from 1) to the next."""
        part = (frame - 1) / max(self.frames - 1, 1)
        begin, speeds = self._steps
        return float(speeds[max(int(np.searchsorted(begin, part + 1e-9, side="right")) - 1, 0)])
