"""What goes wrong with a camera, on request."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jungoptic.core.plan.plate import Plate


@dataclass(frozen=True)
class Faults:
    """What goes wrong, each from frame `since` on. `bump_deg`: the camera is knocked aside (pan,
    tilt); `unsteady_deg`: it is aimed anew for every frame, each time off by as much at the most,
    aside and up, at random; `flicker`: light goes up and down by this part, at random; `focus_m`:
    it is focused at that distance instead; `stops`: it is open by so much more; `uneven`: the lamp
    of that number gives half its light; `elbow_px`: something reaches in from the left edge, by so
    many pixels of the picture; `dropped`: frames that were not recorded: the one before stands in
    for them."""

    since: int = 1
    bump_deg: tuple[float, float] = (0.0, 0.0)
    unsteady_deg: float = 0.0
    flicker: float = 0.0
    focus_m: float | None = None
    stops: float = 0.0
    uneven: int | None = None
    elbow_px: float = 0.0
    dropped: frozenset[int] = frozenset()

    def taken(self, frame: int) -> int:
        """The frame that is recorded where this one should be."""
        while frame > 1 and frame in self.dropped:
            frame -= 1
        return frame

    def aimed(self, frame: int, seed: int) -> tuple[float, float]:
        """How far aside and up (pan, tilt) the camera looks in a frame, degrees: the truth that
        what steadies has to find."""
        if frame < self.since:
            return 0.0, 0.0
        pan, tilt = self.bump_deg
        if not self.unsteady_deg:
            return pan, tilt
        # Dice of its own: light that flickers must not tell how the hands shook.
        aside, up = np.random.default_rng((seed, frame, 1)).uniform(-1.0, 1.0, 2)
        return pan + self.unsteady_deg * float(aside), tilt + self.unsteady_deg * float(up)

    def level(self, frame: int, seed: int) -> float:
        """By how much flicker has the light of a frame changed, 1 for not at all: the truth that
        what looks for flicker has to find."""
        if not self.flicker or frame < self.since:
            return 1.0
        dice = np.random.default_rng((seed, frame))
        return 1.0 + self.flicker * float(dice.uniform(-1.0, 1.0))

    def lit(self, plate: Plate) -> Plate:
        """The plate as its lamps shine once they are uneven."""
        number = self.uneven
        if number is None or number >= len(plate.lamps):
            return plate
        weak = replace(plate.lamps[number], level=plate.lamps[number].level / 2.0)
        return replace(plate, lamps=(*plate.lamps[:number], weak, *plate.lamps[number + 1 :]))
