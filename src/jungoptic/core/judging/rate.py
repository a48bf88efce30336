"""Is the camera fast enough for the motion at this scale?"""

from __future__ import annotations

import math

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.on_side import modes_for
from ..plan.plate import TIMELESS
from ..stage.case import Case
from ..stage.rates import slowed_by_rate
from ..words.quantities import percent, rate, scale
from .limits import RATE_HOLDS_TO, RATE_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_rate(case: Case) -> Finding | None:
    """Whether the mode records the rate that the motion at this scale needs; None where frames
    are taken one by one."""
    stage, plate = case.stage, case.plate
    measured = asked(measure, case)
    if measured is None:
        return None
    mode = stage.choice.mode
    beyond = plate.capture_fps is not None and not (
        mode.min_fps * 0.999 <= plate.capture_fps <= mode.max_fps * 1.001
    )
    factor = max(stage.needed_fps / stage.capture_fps, stage.capture_fps / stage.needed_fps)
    verdict = verdict_of(measured)
    if beyond:
        sentence = (
            f"{rate(stage.capture_fps)} is outside what {mode.name} records "
            f"({rate(mode.min_fps)} to {rate(mode.max_fps)})."
        )
    elif plate.motion == "still":
        sentence = f"{rate(stage.capture_fps)} recorded; nothing moves."
    elif verdict is Verdict.HOLDS:
        sentence = f"{rate(stage.needed_fps)} needed, {rate(stage.capture_fps)} recorded."
    else:
        sentence = (
            f"{rate(stage.needed_fps)} needed, {rate(stage.capture_fps)} recorded: movement looks "
            f"{factor:.2f} times too "
            + ("fast." if stage.capture_fps < stage.needed_fps else "slow.")
        )
    slowest = case.shot.time.slowest
    slowed = slowest != 1.0 and slowed_by_rate(plate)
    if slowed:
        how = "slowed to" if slowest < 1.0 else "sped up to"
        sentence += f" The story is {how} {percent(slowest)} at its slowest."
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula=("fps · √S" if plate.motion == "gravity" else "fps")
                + (" / slowest" if slowed else ""),
                inputs=(
                    Quantity("fps", "playback rate", case.shot.delivery.fps, "fps"),
                    Quantity("S", "scale", plate.scale, ""),
                    *([Quantity("slowest", "of the story", slowest, "")] if slowed else []),
                    Quantity("max", "fastest in this mode", mode.max_fps, "fps"),
                ),
                result=Quantity("need", "capture rate needed", stage.needed_fps, "fps"),
                source="Froude similarity (model testing) for motion driven by gravity; other "
                "motion plays back as recorded, and is pulled at the model's speed.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    stage, plate = case.stage, case.plate

    def effect(tried: Case) -> str:
        return f"{rate(tried.stage.capture_fps)} recorded of {rate(tried.stage.needed_fps)} needed."

    ways: list[Way] = [Way("Record at the derived rate.", {"capture_fps": None}, effect)]
    for body in case.shot.kit.bodies:
        for mode in modes_for(plate, body):
            if mode.id != plate.mode_id and mode.max_fps > stage.choice.mode.max_fps:
                ways.append(
                    Way(
                        f"Record on {body.name}, {mode.name}.",
                        {"body_id": body.id, "mode_id": mode.id, "capture_fps": None},
                        effect,
                    )
                )
    if plate.motion == "gravity":
        most = stage.choice.mode.max_fps * case.shot.time.slowest
        largest = math.floor((most / case.shot.delivery.fps) ** 2)
        if 1 <= largest < plate.scale:
            ways.append(
                Way(
                    f"Build larger, at {scale(largest)}.",
                    {"scale": float(largest), "capture_fps": None},
                    effect,
                )
            )
    return ways


def measure(n: Numbers) -> Measured | None:
    """How far the recorded rate is from the needed one; None where frames are taken one by one."""
    if n.plate.kind in TIMELESS:
        return None
    capture, needed = n.capture_fps, n.needed_fps
    off = (np.maximum(needed / capture, capture / needed) - 1.0) / n.relaxed
    if n.plate.motion == "still":
        # Nothing moves that could be too fast or too slow.
        off = 0.0 * off
    slowest = n.of_setup("slowest rate", lambda s: s.mode.min_fps) * 0.999
    quickest = n.of_setup("quickest rate", lambda s: s.mode.max_fps) * 1.001
    beyond = n.rate_decided & ((capture < slowest) | (capture > quickest))
    ranks = ranked(off, RATE_HOLDS_TO - 1.0, RATE_STRAINS_TO - 1.0)
    return Measured(np.where(beyond, 2, ranks), off)


def takes(case: Case, short: float) -> tuple[str, str]:
    """A quicker mode, or a larger model."""
    stage = case.stage
    needed = stage.needed_fps / (1.0 + (RATE_STRAINS_TO - 1.0) * case.relaxed)
    largest = (stage.capture_fps * case.shot.time.slowest / case.shot.delivery.fps) ** 2
    larger = f", or build at {scale(math.floor(largest))}" if largest >= 1 else ""
    return f"A mode that records {rate(needed)}{larger}.", f"{percent(short)} too slow"


RULE = Rule(
    key="rate",
    title="Capture rate",
    name="capture rate",
    speak=judge_rate,
    ways=_ways,
    axes=frozenset({"scale", "setup", "slowdown"}),
    measure=measure,
    takes=takes,
)
