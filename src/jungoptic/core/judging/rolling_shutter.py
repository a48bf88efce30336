"""Are the rows read fast enough for what crosses the picture?"""

from __future__ import annotations

import numpy as np

from ..plan.findings import Finding, Quantity, Working
from ..plan.on_side import modes_for
from ..plan.plate import TIMELESS, Plate
from ..stage.case import Case
from ..stage.motion import Moment, Motion
from .limits import LEAN_HOLDS_DEG, LEAN_STRAINS_DEG
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .smear import filmed_share
from .way import Way


def lean_deg(case: Case) -> float | None:
    """Lean of an upright thing by rolling shutter, in degrees; None while the readout is unknown or
    nothing moves."""
    measured = asked(measure, case)
    if measured is None or case.choice.mode.readout_ms is None:
        return None
    return float(measured.short) * case.relaxed


def judge_skew(case: Case) -> Finding | None:
    """Whether the rows are read fast enough for what moves."""
    measured, quick, lean = (
        asked(measure, case),
        along_rows(case.plate, case.motion),
        lean_deg(case),
    )
    if measured is None or quick is None or lean is None:
        return None
    mode, verdict, lies = case.choice.mode, verdict_of(measured), case.plate.on_side != ""
    speed = quick.step_px * filmed_share(case.shot, quick.frame) * case.stage.needed_fps
    sentence = (
        f"Read row by row in {mode.readout_ms:.3g} ms, {'level lines' if lies else 'uprights'} of "
        f"{quick.stand_in.name} lean {lean:.2f}° at its fastest; other plates and the world do not."
    )
    delivered, stage = case.shot.delivery, case.stage
    used = stage.crop_across if lies else stage.crop_down
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="lean = atan(readout · rows used · speed up or down / picture width): the "
                "rows of a camera on its side run up the picture"
                if lies
                else "lean = atan(readout · rows used · speed across / picture height)",
                inputs=(
                    Quantity("r", "readout of all rows", mode.readout_ms or 0.0, "ms"),
                    Quantity("rows", "rows of the picture over those of the sensor", used, ""),
                    Quantity(
                        "v",
                        "speed up or down the picture" if lies else "speed across the picture",
                        speed,
                        "px/s",
                    ),
                    Quantity("w", "picture width", float(delivered.width_px), "px")
                    if lies
                    else Quantity("h", "picture height", float(delivered.height_px), "px"),
                ),
                result=Quantity(
                    "lean", "lean of a level line" if lies else "lean of an upright", lean, "°"
                ),
                source="Geometry of a readout that takes time.",
            ),
        ),
    )


def along_rows(plate: Plate, motion: Motion) -> Moment | None:
    """What goes fastest along the rows as they stand in the picture; None where nothing does."""
    return motion.upwards if plate.on_side else motion.sideways


def _ways(case: Case) -> list[Way]:
    ways: list[Way] = []
    now = case.choice.mode.readout_ms or 0.0
    for body in case.shot.kit.bodies:
        for mode in modes_for(case.plate, body):
            if mode.readout_ms is not None and mode.readout_ms < now:
                ways.append(
                    Way(
                        f"Film it with {body.name}, {mode.name}.",
                        {"body_id": body.id, "mode_id": mode.id},
                    )
                )
    return ways


def measure(n: Numbers) -> Measured | None:
    """Degrees of lean; None while no readout is known or nothing moves.

    skew = readout * rows of the picture over those of the sensor * image speed on set across them,
    over the picture's size along the readout: its height, or its width where the camera lies on its
    side. A picture that is larger than the sensor has fewer rows in it than its size would hold: a
    line leans as much in each of them. What only comes
    nearer grows and does not lean. A readout that is not known counts as none.
    """
    lies = n.plate.on_side != ""
    readout_ms = n.of_setup("readout", lambda s: s.mode.readout_ms or 0.0)
    quick = along_rows(n.plate, n.motion)
    if quick is None or n.motion.still or n.plate.kind in TIMELESS or not np.any(readout_ms):
        return None
    speed = quick.step_px * filmed_share(n.shot, quick.frame) * n.needed_fps
    used = n.crop_across if lies else n.crop_down
    along = n.shot.delivery.width_px if lies else n.shot.delivery.height_px
    skew = readout_ms / 1000.0 * used * speed
    lean = np.degrees(np.arctan(skew / along)) / n.relaxed
    return Measured(ranked(lean, LEAN_HOLDS_DEG, LEAN_STRAINS_DEG), lean)


RULE = Rule(
    key="skew",
    title="Rolling shutter",
    name="rolling shutter",
    speak=judge_skew,
    ways=_ways,
    axes=frozenset({"scale", "setup"}),
    measure=measure,
    otherwise="A mode that reads out faster, or slower movement.",
)
