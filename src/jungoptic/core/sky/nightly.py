"""Day for night: the sun as the moon. When, how far under, how much ND, and the sky in the way."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..angles import turn_deg
from ..checks_on_input import positive
from ..light import mired_shift
from ..plan.plate import DAYLIGHT_K
from ..stage.case import Case
from ..words.quantities import degrees, stops
from .daylight import direct_lux, sky_lux

#: How far under a normal exposure moonlight is filmed by day (common practice: 1.5 to 2.5 stops).
UNDER_STOPS = 2.0
#: White balance that turns daylight blue (common practice: tungsten).
NIGHT_K = 3400.0
#: The sun as a moon stands behind the action, so far to either side of ahead at most, degrees.
BACK_TO_DEG = 60.0


def clear_sky_lux(elevation_deg: float) -> float:
    """Light on a surface that faces the sun under a clear sky, the sky's own with it, lux; 0 with
    the sun at or below the horizon. Source: see `daylight`."""
    if elevation_deg <= 0.0:
        return 0.0
    return float(direct_lux(elevation_deg) + sky_lux(elevation_deg))


@dataclass(frozen=True)
class NightPlan:
    """How to film one plate by day as night. `nd_stops`: what to have before the lens in all, at
    this stop, shutter and ISO; negative asks for more light instead. `sky_share`: part of the frame
    above the horizon, to be replaced or kept out; `tilt_out_deg`: how far to tilt down so that none
    is left.
    """

    elevation_deg: float
    from_deg: float
    back_light: bool
    under_stops: float
    white_k: float
    mired: float
    sun_lux: float
    nd_stops: float
    sky_share: float
    tilt_out_deg: float
    advice: tuple[str, ...]


def night_plan(case: Case, under_stops: float = UNDER_STOPS, white_k: float = NIGHT_K) -> NightPlan:
    """The plan for the case's stage under the sun where the story has its moon.

    Raises Impossible unless white balance is above zero.
    """
    shot, stage = case.shot, case.stage
    positive("white balance", white_k)
    up = 35.0 if shot.key_elevation_deg is None else shot.key_elevation_deg
    side = 0.0 if shot.key_from_deg is None else shot.key_from_deg
    back = abs(turn_deg(side)) <= BACK_TO_DEG
    bright = clear_sky_lux(up)
    # Against a normal exposure: how far under it is asked for here. Glass, bellows and the ND that
    # is there already are in what is needed.
    normal = stage.lux_needed * 2.0**-case.shot.key_level_stops
    more = math.log2(bright / normal) + under_stops if bright > 0.0 else -math.inf
    there = case.plate.nd_stops
    nd = there + more
    share = sky_share(case)
    filmed = case.shot.move.at_widest(stage.camera)
    half = math.degrees(math.atan(filmed.sensor_height_mm / 2.0 / stage.pinhole_mm))
    out = max(stage.tilt_deg + half, 0.0)
    advice = []
    if not back:
        advice.append(
            "The moon stands to the side or in front: by day that looks like day. Turn the set so "
            f"that it comes within {BACK_TO_DEG:.0f}° of straight ahead."
        )
    if share > 0.001:
        advice.append(
            f"The sky fills {share * 100:.0f} % of the frame and by day is brighter than all else: "
            f"tilt down {degrees(out)} to lose it, or replace it; a treeline or wall hides it."
        )
    advice.append("No lamps seen burning by day: put them in by their own light, after dark.")
    if more > 0.3:
        advice.append(
            f"Put {stops(nd)} of ND before the lens in all; do not close the stop for it."
        )
    elif more < -0.3 and nd >= 0.0:
        advice.append(f"Leave {stops(nd)} of ND before the lens in all: the sun stands low.")
    elif more < -0.3:
        without = "Without ND, open" if there else "Open"
        advice.append(f"{without} up or raise the ISO by {stops(nd)}: the sun stands low.")
    return NightPlan(
        up,
        side,
        back,
        under_stops,
        white_k,
        mired_shift(DAYLIGHT_K, white_k),
        bright,
        nd,
        share,
        out,
        tuple(advice),
    )


def sky_share(case: Case) -> float:
    """Part of the delivered frame that lies above the horizon."""
    delivery = case.shot.delivery
    line = case.stage.camera.horizon_px(delivery.width_px, delivery.height_px)
    if line is None:
        return 1.0 if case.stage.tilt_deg > 0 else 0.0
    left, right = line
    h = float(delivery.height_px)
    # The mean of the clipped line over the width, by short steps: it may leave the frame.
    steps = 64
    total = sum(min(max(left + (right - left) * (i + 0.5) / steps, 0.0), h) for i in range(steps))
    return total / steps / h
