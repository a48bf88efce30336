"""Is there a floor of the screen under feet that are in frame?"""

from __future__ import annotations

import numpy as np

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..stage.backing import backing
from ..stage.case import Case
from ..stage.spots import velocities
from ..words.quantities import length
from .rule import Rule
from .way import Way

#: The sweep reaches this far before the feet (judgement).
SWEEP_MARGIN_M = 0.3


def judge_sweep(case: Case) -> Finding | None:
    """Feet in the picture need the screen under them."""
    found, plate = _needed(case), case.plate
    if found is None:
        return None
    distance, nearest, needed = found
    short = needed - plate.screen_sweep_m
    verdict = Verdict.HOLDS if short <= 1e-9 else Verdict.STRAINS
    if verdict is Verdict.HOLDS:
        sentence = (
            f"Feet are in the picture and stand on the screen's sweep ({length(needed)} needed)."
        )
    else:
        sentence = (
            f"Feet are in the picture: run the screen {length(needed)} forward over the floor "
            f"({length(plate.screen_sweep_m)} now), or cut the feet out by hand."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="sweep = screen distance − nearest foot + 300 mm",
                inputs=(
                    Quantity("d", "screen distance", distance, "m"),
                    Quantity("y", "nearest foot in the picture", nearest, "m"),
                ),
                result=Quantity("s", "sweep needed", needed, "m"),
                source="Geometry; feet in frame need a floor sweep (common practice).",
            ),
        ),
    )


def _needed(case: Case) -> tuple[float, float, float] | None:
    """Screen distance, nearest foot in the picture and how far the screen has to run forward,
    metres; None without feet in the picture or without a screen."""
    screen, plate = backing(case), case.plate
    if screen is None or plate.screen_width_m <= 0.0:
        return None
    feet = [s for s in case.own if s.kind == "figure"]
    if not feet:
        return None
    seen, shot = case.seen, case.shot
    at = np.array([(s.x_m, s.y_m, s.z_m) for s in feet])[None]
    at = at + seen.seconds[:, None, None] * velocities(feet)[None]
    w, h = shot.delivery.width_px, shot.delivery.height_px
    pixels, _ = seen.path.project(at, w, h)
    with np.errstate(invalid="ignore"):
        shown = ((pixels >= 0) & (pixels <= (w, h))).all(axis=2)
    if not shown.any():
        return None
    at = plate.on_stage(at)
    nearest = float(at[shown, 1].min())
    needed = round(screen.distance_m - nearest + SWEEP_MARGIN_M, 2)
    return screen.distance_m, nearest, needed


def _ways(case: Case) -> list[Way]:
    found = _needed(case)
    if found is None:
        return []
    way = f"Lay {length(found[2])} of it on the floor, without a crease at the turn."
    return [Way(way, {"screen_sweep_m": found[2]})]


RULE = Rule(
    key="sweep",
    title="Floor",
    name="floor of the screen",
    speak=judge_sweep,
    ways=_ways,
    otherwise="A longer floor of the screen, or feet out of frame.",
)
