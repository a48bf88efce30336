"""One thing predicted and measured, and how they are told side by side."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Rule:
    """What is measured: `allowed` is how far prediction and picture may lie apart, in `unit` or
    with `relative` as a part of what is predicted."""

    key: str
    name: str
    unit: str
    allowed: float
    relative: bool = False


@dataclass(frozen=True)
class Reading:
    """One measurement of a rule on a plan: what the core says and what the picture shows."""

    rule: Rule
    plan: int
    predicted: float
    measured: float

    @property
    def off(self) -> float:
        """How far they lie apart, as the rule tells it."""
        gap = self.measured - self.predicted
        if not self.rule.relative:
            return gap
        return gap / self.predicted if self.predicted else math.copysign(math.inf, gap)

    @property
    def good(self) -> bool:
        """Whether that is near enough."""
        return abs(self.off) <= self.rule.allowed


PLACE = Rule("place", "Place of a named point", "px", 0.05)
PARALLAX = Rule("parallax", "Parallax over a move", "px", 0.1)
SHARP = Rule("sharp", "Blur at the limits of sharpness", "of the disc", 0.01, True)
DISC = Rule("disc", "Blur disc anywhere", "of the disc", 0.01, True)
SMEAR = Rule("smear", "Smear of what moves", "of its length", 0.05, True)
LEAN = Rule("lean", "Lean by a rolling shutter", "of the lean", 0.05, True)
LUX = Rule("lux", "Light at the action, panels and bulbs", "of the light", 0.01, True)
SPOT_LUX = Rule("spot-lux", "Light at the action, beams", "of the light", 0.04, True)
ROOM = Rule("room", "Light that a room gives back", "stop", 0.05)
GREY = Rule("grey", "Exposure of a grey card", "stop", 0.05)
FALL = Rule("fall-off", "Fall-off across the set", "stop", 0.1)
SHADOW = Rule("shadow", "Length of a shadow", "of its length", 0.05, True)
EDGE = Rule("edge", "Soft edge of a shadow", "of its width", 0.05, True)
CLOTH = Rule("cloth", "Evenness of the screen", "stop", 0.1)
HAZE = Rule("haze", "Light that haze lets through", "of the light", 0.02, True)
THREAD = Rule("thread", "Thickness of a thread", "of its thickness", 0.1, True)
FAINT = Rule("faint", "Contrast left of a moving thread", "of the contrast", 0.1, True)
RULES = (
    *(PLACE, PARALLAX, SHARP, DISC, SMEAR, LEAN, LUX, SPOT_LUX, ROOM),
    *(GREY, FALL, SHADOW, EDGE, CLOTH, HAZE, THREAD, FAINT),
)


def table(readings: Iterable[Reading]) -> str:
    """What was found, rule by rule, as Markdown."""
    found = list(readings)
    lines = [
        "| Rule | Readings | Worst | Typical | Allowed | |",
        "| --- | ---: | ---: | ---: | ---: | --- |",
    ]
    for rule in RULES:
        own = [abs(r.off) for r in found if r.rule == rule]
        if not own:
            continue
        worst, typical = max(own), math.sqrt(sum(v * v for v in own) / len(own))

        def say(value: float, rule: Rule = rule) -> str:
            return f"{value:.2%}" if rule.relative else f"{value:.3f} {rule.unit}"

        verdict = "holds" if worst <= rule.allowed else "**breaks**"
        lines.append(
            f"| {rule.name} | {len(own)} | {say(worst)} | {say(typical)} | {say(rule.allowed)} |"
            f" {verdict} |"
        )
    return "\n".join(lines)
