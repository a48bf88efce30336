"""How smoothly the moves of a sheet go in the picture."""

from __future__ import annotations

from collections.abc import Sequence

from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.shot import Shot
from ..stage.tolerance import relaxed
from ..words.quantities import pixels
from .chart import calmer, jolt_of
from .picture import Moved, Steps

#: A change of pace from one frame to the next that the eye does not take for a jerk, and one that
#: it surely does, at 1920 wide (judgement).
JOLT_HOLDS_PX, JOLT_STRAINS_PX = 2.0, 12.0
#: What steps less than this stands still in the picture.
SEEN_PX = 0.005


def scaled(shot: Shot, at_1920: float) -> float:
    """Pixels of a picture 1920 wide as those of this shot's, in which more may pass where nobody
    looks closely."""
    return at_1920 * shot.delivery.width_px / 1920.0 * relaxed(shot)


def jolts(shot: Shot, moved: Sequence[Moved], steps: Sequence[Steps]) -> Finding | None:
    """What is said of the sharpest change of pace in the picture; None where nothing moves."""
    worst = max(steps, key=lambda s: s.jolt_px, default=None)
    if worst is None or worst.step_px <= SEEN_PX:
        return None
    allowed = scaled(shot, JOLT_HOLDS_PX)
    verdict = banded(worst.jolt_px, allowed, scaled(shot, JOLT_STRAINS_PX))
    return Finding(
        "sheet-jolt",
        "Smoothness",
        verdict,
        f"{worst.thing.name} changes its pace by {pixels(worst.jolt_px)} a frame at frame "
        f"{worst.jolt_frame}"
        + (
            "; the eye does not see that."
            if verdict is Verdict.HOLDS
            else f": a jerk. {_smoother(moved, worst, allowed)}"
        ),
        (
            Working(
                "j = (p₊ − p) − (p − p₋)",
                (Quantity("a", "not seen as a jerk", allowed, "px"),),
                Quantity("j", "change of pace in a frame", worst.jolt_px, "px"),
                "Second difference of the places in the picture; 2 px at 1920 wide is a judgement.",
            ),
        ),
    )


def _smoother(moved: Sequence[Moved], worst: Steps, allowed: float) -> str:
    """What takes a jerk out of the stretch of a move that lies there."""
    there = [
        (m.column.name, leg)
        for m in moved
        if not m.column.follows
        for leg in m.column.legs
        if leg.way and leg.first - 1 <= worst.jolt_frame <= leg.first + leg.frames - 1
    ]
    if not there:
        return "Let the move ease there, or take longer for it."
    name, leg = max(there, key=lambda one: jolt_of(one[1]))
    other = calmer(leg, worst.jolt_frame, allowed / worst.jolt_px)
    if other is None:
        return f"{name} goes too far for its frames: give it a shorter way, or many more of them."
    if other.frames == leg.frames:
        return f"Let {name} ease there over {other.ramp_frames} frames or more."
    return f"Give {name} {other.frames} frames for it rather than {leg.frames}, or a shorter way."
