"""Is the camera fast enough for the motion at this scale?"""

from __future__ import annotations

import math

from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..plan.plate import TIMELESS
from ..stage.case import Case
from ..words.quantities import rate, scale
from .trying import best, remedy

#: Retiming by up to a fifth passes for natural motion; more shows as light, toy-like movement
#: (judgement).
HOLDS_TO = 1.02
STRAINS_TO = 1.2


def judge_rate(case: Case) -> Finding | None:
    """Whether the mode records the rate that the motion at this scale needs; None where frames
    are taken one by one."""
    stage, plate = case.stage, case.plate
    if plate.kind in TIMELESS:
        return None
    mode = stage.choice.mode
    beyond = plate.capture_fps is not None and not (
        mode.min_fps * 0.999 <= plate.capture_fps <= mode.max_fps * 1.001
    )
    factor = max(stage.needed_fps / stage.capture_fps, stage.capture_fps / stage.needed_fps)
    off = (factor - 1.0) / case.relaxed
    verdict = Verdict.BREAKS if beyond else banded(off, HOLDS_TO - 1.0, STRAINS_TO - 1.0)
    if beyond:
        sentence = (
            f"{rate(stage.capture_fps)} is outside what {mode.name} records "
            f"({rate(mode.min_fps)} to {rate(mode.max_fps)})."
        )
    elif verdict is Verdict.HOLDS:
        sentence = f"{rate(stage.needed_fps)} needed, {rate(stage.capture_fps)} recorded."
    else:
        sentence = (
            f"{rate(stage.needed_fps)} needed, {rate(stage.capture_fps)} recorded: movement looks "
            f"{factor:.2f} times too "
            + ("fast." if stage.capture_fps < stage.needed_fps else "slow.")
        )
    return Finding(
        key="rate",
        title="Capture rate",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="fps · √S" if plate.motion == "gravity" else "fps",
                inputs=(
                    Quantity("fps", "playback rate", case.shot.delivery.fps, "fps"),
                    Quantity("S", "scale", plate.scale, ""),
                    Quantity("max", "fastest in this mode", mode.max_fps, "fps"),
                ),
                result=Quantity("need", "capture rate needed", stage.needed_fps, "fps"),
                source="Froude similarity (model testing) for motion driven by gravity; other "
                "motion plays back as recorded, and is pulled at the model's speed.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _remedies(case, verdict),
    )


def _remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    stage, plate = case.stage, case.plate

    def effect(tried: Case) -> str:
        return f"{rate(tried.stage.capture_fps)} recorded of {rate(tried.stage.needed_fps)} needed."

    ways: list[Remedy | None] = [
        remedy(
            case, judge_rate, before, {"capture_fps": None}, "Record at the derived rate.", effect
        )
    ]
    for body in case.shot.kit.bodies:
        for mode in body.modes:
            if mode.id != plate.mode_id and mode.max_fps > stage.choice.mode.max_fps:
                ways.append(
                    remedy(
                        case,
                        judge_rate,
                        before,
                        {"body_id": body.id, "mode_id": mode.id, "capture_fps": None},
                        f"Record on {body.name}, {mode.name}.",
                        effect,
                    )
                )
    if plate.motion == "gravity":
        largest = math.floor((stage.choice.mode.max_fps / case.shot.delivery.fps) ** 2)
        if 1 <= largest < plate.scale:
            ways.append(
                remedy(
                    case,
                    judge_rate,
                    before,
                    {"scale": float(largest), "capture_fps": None},
                    f"Build larger, at {scale(largest)}.",
                    effect,
                )
            )
    return best(ways, most=3)
