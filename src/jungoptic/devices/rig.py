"""A motion rig: it turns its motor where a program of G-code says, and what it moves follows."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.kit import TURNING, MoveRig

#: A letter and its number, and a remark in brackets.
_WORD, _REMARK = re.compile(r"([A-Z])\s*([-+]?\d*\.?\d+)"), re.compile(r"\([^)]*\)")


@dataclass(frozen=True)
class Stop:
    """Where the rig has come: how far what it moves has gone, millimetres or degrees, whether it
    waits there for a picture (or runs on), and how long it took to get there, seconds (0: as fast
    as it can)."""

    reached: float
    waits: bool
    took_s: float = 0.0


class MotionRig(Protocol):
    """What can be told to move by a program."""

    def run(self, program: str) -> Iterator[Stop]:
        """Carry a program out, stop by stop."""


@dataclass
class SimulatedRig:
    """A stand-in with everything that makes a real rig awkward: whole steps, gears with play, and
    an end to its way (`middle`: where on it the move begins, 0 to 1)."""

    rig: MoveRig
    middle: float = 0.0

    def run(self, program: str) -> Iterator[Stop]:
        """Carry out G0, G1, G4, G90, G91, G92, M0 and M2 (ISO 6983-1); other words are passed over.

        Raises Impossible at a line that names another axis, or goes beyond the end of the rig.
        """
        letter = "A" if self.rig.axis in TURNING else "X"
        motor, origin, moved = 0.0, 0.0, 0.0
        relative, feed, took = False, 0.0, 0.0
        slack: float | None = None
        for number, line in enumerate(program.splitlines(), start=1):
            words = dict(_WORD.findall(_REMARK.sub("", line).upper()))
            if not words:
                continue
            codes = {f"{a}{float(b):g}" for a, b in words.items() if a in "GM"}
            feed = float(words.get("F", feed))
            if "G91" in codes or "G90" in codes:
                relative = "G91" in codes
            wrong = {"X", "Y", "Z", "A", "B", "C"} & words.keys() - {letter}
            if wrong:
                raise Impossible(f"Line {number} moves {wrong.pop()}; this rig has {letter}.")
            if "G92" in codes:
                origin = motor - float(words.get(letter, 0.0))
            elif letter in words:
                told = float(words[letter])
                to = motor + told if relative else origin + told
                steps = round((to - motor) / self.rig.step)
                to = motor + steps * self.rig.step
                way = abs(to - motor)
                took = way / feed * 60.0 if "G1" in codes and feed else 0.0
                if to != motor:
                    moved, slack = self._pulled(to - motor, moved, slack)
                motor = to
                self._within(moved, number)
                if "G1" in codes:
                    yield Stop(moved, False, took)
            elif "G4" in codes:
                yield Stop(moved, False, float(words.get("P", 0.0)) / 1000.0)
            if "M0" in codes:
                yield Stop(moved, True)
            if "M2" in codes:
                return

    def _pulled(self, way: float, moved: float, slack: float | None) -> tuple[float, float]:
        """Where what it moves comes to when the motor turns by `way`, and how far the motor then is
        from pulling forwards: having turned round it has the play of the gears to go first."""
        play = self.rig.play_steps * self.rig.step
        if slack is None:
            # The move before ended against its gears.
            slack = 0.0 if way > 0.0 else play
        if way > 0.0:
            return moved + max(way - slack, 0.0), max(slack - way, 0.0)
        return moved - max(-way - (play - slack), 0.0), min(slack - way, play)

    def _within(self, moved: float, number: int) -> None:
        travel = self.rig.travel
        if travel is None:
            return
        low, high = -self.middle * travel, (1.0 - self.middle) * travel
        if not low - 1e-6 <= moved <= high + 1e-6:
            raise Impossible(f"Line {number} goes to {moved:g}: {self.rig.name} ends before that.")
