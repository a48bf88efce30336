"""Exposure: light needed, exposure time, and differences in stops."""

from __future__ import annotations

import math

from .checks_on_input import not_negative, positive
from .impossible import Impossible

#: Incident-light calibration for a flat receptor, lux seconds. Source: ISO 2720:1974.
FLAT_RECEPTOR_LUX_S = 250.0


def illuminance_lux(
    f_number: float, exposure_s: float, iso: float, calibration: float = FLAT_RECEPTOR_LUX_S
) -> float:
    """Illuminance for a normal exposure, E = C N^2 / (t ISO), in lux. Source: ISO 2720.

    `f_number` is what passes light: the T-stop, or the effective f-number close up.

    Raises Impossible unless f-number, exposure time, ISO and calibration are above zero.
    """
    positive("f-number", f_number)
    positive("exposure time", exposure_s)
    positive("ISO", iso)
    positive("calibration", calibration)
    return calibration * f_number * f_number / (exposure_s * iso)


def exposure_s(fps: float, shutter_deg: float) -> float:
    """Exposure time of one frame in seconds, (angle / 360) / fps; angle in 0..360 degrees.

    Raises Impossible unless rate and angle are above zero, the angle 360 at most.
    """
    positive("frame rate", fps)
    positive("shutter angle", shutter_deg)
    if shutter_deg > 360.0:
        raise Impossible(
            f"a shutter angle cannot exceed 360 degrees, not {shutter_deg!r}.", "shutter_deg"
        )
    return shutter_deg / 360.0 / fps


def light_stop(
    f_number: float,
    magnification: float = 0.0,
    pupil_ratio: float = 1.0,
    t_over_f: float = 1.0,
    nd_stops: float = 0.0,
) -> float:
    """The stop that governs light: f-number with bellows, glass loss and ND folded in.

    N (1 + m/P) * (T/f) * 2^(nd/2). Depth of field keeps using the plain f-number.

    Raises Impossible unless f-number, T/f ratio and pupil ratio are above zero and
    magnification and ND are zero or more.
    """
    positive("f-number", f_number)
    positive("T/f ratio", t_over_f)
    positive("pupil ratio", pupil_ratio)
    not_negative("magnification", magnification)
    not_negative("ND", nd_stops)
    return f_number * (1.0 + magnification / pupil_ratio) * t_over_f * math.pow(2.0, nd_stops / 2.0)


def stops_between(have: float, need: float) -> float:
    """log2(have / need): positive when there is more than needed.

    Raises Impossible unless light there is and light needed are above zero.
    """
    return math.log2(positive("light there is", have) / positive("light needed", need))


def exposure_change_stops(
    planned_stop: float,
    planned_s: float,
    planned_iso: float,
    actual_stop: float,
    actual_s: float,
    actual_iso: float,
) -> float:
    """How much brighter (+) or darker (-) the actual settings record the same light, in stops."""
    planned = planned_s * planned_iso / planned_stop**2
    actual = actual_s * actual_iso / actual_stop**2
    return stops_between(actual, planned)
