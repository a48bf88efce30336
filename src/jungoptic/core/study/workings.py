"""How each number of a stage came about: the working behind every figure on the sheet.

Keys are the names that the sheet uses. A number that was decided rather than derived says so in
its source, so that nobody looks for a formula where a person chose.
"""

from __future__ import annotations

import math

from .. import exposure
from ..plan.findings import Quantity, Working
from ..stage.case import Case
from ..stage.rates import real_time_fps, slowed_by_rate
from ..stage.tape import mark_of

MM = 1000.0
THIN_LENS = "Thin-lens equation, any optics text."
TRIANGLES = "Similar triangles: every distance and height divides by the scale."


def _q(symbol: str, name: str, value: float, unit: str = "") -> Quantity:
    return Quantity(symbol, name, value, unit)


def stage_workings(case: Case) -> dict[str, Working]:
    """Workings by the name of the number, lengths in the unit beside them."""
    return {**_position(case), **_glass(case), **_time_and_light(case)}


def _position(case: Case) -> dict[str, Working]:
    stage, plate, world = case.stage, case.plate, case.shot.world
    decided = plate.axis_height_m is not None
    found = {
        "axis_m": Working(
            "axis = max((H − G) / S, lowest this body reaches)",
            (
                _q("H", "world camera height", world.height_m * MM, "mm"),
                _q("G", "world height of this ground", plate.ground_m * MM, "mm"),
                _q("S", "scale", plate.scale),
                _q("low", "lowest this body reaches", stage.floor_axis_m * MM, "mm"),
            ),
            _q("axis", "lens axis above this ground", stage.axis_m * MM, "mm"),
            "Decided on the sheet." if decided else TRIANGLES,
        ),
        "tilt_deg": Working(
            "tilt on stage = tilt in the world",
            (_q("t", "world tilt", world.tilt_deg, "°"),),
            _q("tilt", "tilt here", stage.tilt_deg, "°"),
            "Decided on the sheet."
            if plate.tilt_deg is not None
            else "Angles do not change with scale.",
        ),
    }
    mark = mark_of(case)
    if mark is not None:
        away = mark.y_m / plate.scale
        turn = math.radians(stage.camera.pan_deg)
        tape = away + plate.setback_m + stage.mark_behind_m[1]
        inputs = (
            _q("y", f"{mark.name}, away in the world", mark.y_m, "m"),
            _q("S", "scale", plate.scale),
            _q("b", "set back", plate.setback_m * MM, "mm"),
            _q("p", "sensor mark to entrance pupil", stage.sensor_to_pupil_m * MM, "mm"),
            _q("t", "tilt", stage.tilt_deg, "°"),
            _q("a", "camera turned from the line ahead", stage.camera.pan_deg, "°"),
        )
        assumed = " The pupil of a thin lens is assumed." if stage.pupil_assumed else ""
        found["mark_tape_m"] = Working(
            "tape = y / S + b + p cos t cos a",
            inputs,
            _q("tape", "level, from the sensor mark", tape * MM, "mm"),
            TRIANGLES + assumed,
        )
        front = tape - stage.front_level_m * math.cos(turn)
        found["mark_front_m"] = Working(
            "tape from the front = tape from the sensor mark − (sensor mark to front) cos t cos a",
            (
                *inputs,
                _q("f", "sensor mark to lens front", stage.sensor_to_front_m * MM, "mm"),
            ),
            _q("tape", "level, from the lens front", front * MM, "mm"),
            "Subtraction." + (" The lens length is assumed." if stage.front_assumed else ""),
        )
    return found


def _glass(case: Case) -> dict[str, Working]:
    stage, plate = case.stage, case.plate
    lens, mode = stage.choice.lens, stage.choice.mode
    focal = _q("f", "focal length", stage.focal_mm, "mm")
    focus = _q("u", "focus from the entrance pupil", stage.focus_m * MM, "mm")
    coc = _q("c", "blur disc nobody notices", stage.coc_mm, "mm")
    stop = _q("N", "stop", plate.f_number)
    if plate.focus_world_m is not None:
        why = "Decided on the sheet."
    elif stage.near_m is None:
        why = "Nothing of this plate must be sharp: infinity."
    else:
        why = "The focus that blurs both ends alike is the harmonic mean; any optics text."
    depth = "Sharp where the blur disc at the sensor is c or less; exact at close focus."
    passes = _q("n", "focus passes", float(len(stage.passes)))
    ratio = _q("P", "pupil ratio", lens.pupil_ratio)
    return {
        "focal_mm": Working(
            "1/f = 1/D + 1/(P u),  D = f_world · W_mode / W_world, kept within the lens",
            (
                _q("f_world", "world focal length", case.shot.world.focal_mm, "mm"),
                _q("W_mode", "sensor width used", mode.sensor_width_mm, "mm"),
                _q("W_world", "world sensor width", case.shot.world.sensor_width_mm, "mm"),
                ratio,
                focus,
            ),
            _q("f", "mark on the ring", stage.marked_mm, "mm"),
            ("A prime has the one it has." if not lens.is_zoom else THIN_LENS)
            + (f" Measured, this mark is worth {stage.focal_mm:.4g} mm." if lens.measured else ""),
        ),
        "focus_tape_m": Working(
            "u = 2 near far / (near + far);  tape = u + (sensor mark to pupil)",
            (
                _q("near", "nearest that must be sharp", (stage.near_m or math.inf) * MM, "mm"),
                _q("far", "farthest that must be sharp", (stage.far_m or math.inf) * MM, "mm"),
                focus,
                _q("p", "sensor mark to entrance pupil", stage.sensor_to_pupil_m * MM, "mm"),
            ),
            _q("tape", "from the sensor mark", stage.focus_tape_m * MM, "mm"),
            why,
        ),
        "focus_front_m": Working(
            "tape from the front = tape from the sensor mark − (sensor mark to front)",
            (
                _q("tape", "from the sensor mark", stage.focus_tape_m * MM, "mm"),
                _q("l", "sensor mark to lens front", stage.sensor_to_front_m * MM, "mm"),
            ),
            _q("front", "from the lens front", stage.focus_front_m * MM, "mm"),
            "Subtraction.",
        ),
        "depth_near_m": Working(
            "near: x with 1 − f/(P x) = (1 − f/(P u)) (1 − k),  k = c N / (f P)",
            (focal, stop, coc, ratio, focus, passes),
            _q("near", "nearest sharp", stage.depth_near_m * MM, "mm"),
            depth,
        ),
        "depth_far_m": Working(
            "far: x with 1 − f/(P x) = (1 − f/(P u)) (1 + k); infinity where that reaches 1",
            (focal, stop, coc, ratio, focus, passes),
            _q("far", "farthest sharp", stage.depth_far_m * MM, "mm"),
            depth,
        ),
        "pixels_across": Working(
            "pixels left = mode width · crop,  crop = (W_world / f_world) · f (1 + m/P) / W_mode",
            (
                _q("w", "mode width", float(mode.width_px), "px"),
                _q("crop", "crop across", stage.crop_across),
                _q("m", "magnification", stage.magnification),
            ),
            _q("px", "left across the delivered frame", stage.pixels_across, "px"),
            "Ray geometry: ratio of the tangents of the half angles of view.",
        ),
    }


def _time_and_light(case: Case) -> dict[str, Working]:
    stage, plate, shot = case.stage, case.plate, case.shot
    fps, own = shot.delivery.fps, slowed_by_rate(plate)
    if plate.capture_fps is not None:
        why = "Decided on the sheet."
    elif plate.motion == "gravity":
        why = "Froude similarity: falling things look right at √S times the rate."
    else:
        why = "Pulled, powered or performed: the playback rate, and the speed divides by S."
    return {
        "capture_fps": Working(
            "needed = playback · √S for gravity, playback otherwise, / slowest for what runs by "
            "itself; at most what the mode records",
            (
                _q("p", "playback", fps, "fps"),
                _q("S", "scale", plate.scale),
                _q("slowest", "the story's speed", shot.time.slowest),
                _q("need", "needed", stage.needed_fps, "fps"),
                _q("most", "fastest of the mode", stage.choice.mode.max_fps, "fps"),
            ),
            _q("rate", "capture rate", stage.capture_fps, "fps"),
            why,
        ),
        "exposure_s": Working(
            "t = angle / 360 / rate",
            (
                _q("angle", "shutter", plate.shutter_deg, "°"),
                _q("rate", "capture rate", stage.capture_fps, "fps"),
            ),
            _q("t", "exposure time", stage.exposure_s, "s"),
            "Definition of the shutter angle.",
        ),
        "set_duration_s": Working(
            "time on set = T · playback / rate at the story's own speed",
            (
                _q(
                    "T",
                    "the story's seconds" if own else "screen time",
                    shot.time.whole_s if own else shot.screen_time_s,
                    "s",
                ),
                _q("p", "playback", fps, "fps"),
                _q("real", "rate at the story's own speed", real_time_fps(shot, plate), "fps"),
            ),
            _q("t", "action on set", stage.set_duration_s, "s"),
            "What falls or moves by itself takes the story's seconds, by √S where it falls; what "
            "is pulled takes the screen's.",
        ),
        "lux_needed": Working(
            "E = C T² / (t · ISO) · 2^K,  T = N (1 + m/P) · T/f · √2^ND",
            (
                _q("C", "calibration", exposure.FLAT_RECEPTOR_LUX_S, "lx·s"),
                _q("N", "stop", plate.f_number),
                _q("m", "magnification", stage.magnification),
                _q("P", "pupil ratio", stage.choice.lens.pupil_ratio),
                _q("T/f", "T-stop over f-stop", stage.choice.lens.t_over_f),
                _q("ND", "neutral density", plate.nd_stops, "stops"),
                _q("t", "exposure time", stage.exposure_s, "s"),
                _q("ISO", "sensitivity", plate.iso),
                _q("K", "story's key against a normal exposure", shot.key_level_stops, "stops"),
            ),
            _q("E", "light needed", stage.lux_needed, "lx"),
            "ISO 2720, flat receptor; effective f-number: Ray, Applied Photographic Optics "
            "(from memory).",
        ),
    }


def study_workings() -> dict[str, Working]:
    """What stands behind the tables beside the Stage drawing: formulas, no single result."""

    def rule(formula: str, source: str, *inputs: Quantity) -> Working:
        return Working(formula, inputs, _q("", "see the table", math.nan), source)

    return {
        "tapes": rule(
            "left = |mark − left point|,  right = |mark − right point|, on the floor",
            "Two circles meet in one place ahead (plane geometry). Under 20° of crossing a slip "
            "moves the mark far (judgement).",
        ),
        "eyelines": rule(
            "mark = eyes + (target − eyes) / S · reach / length;  error = atan(0.1 m / reach)",
            "Straight sight; eyes at 0.936 of the height (figure drawing, common practice).",
        ),
        "sensitivities": rule(
            "px per unit = |project(moved a hundredth of a unit each way)| / two hundredths, "
            "before and after the best reframe;  allowed = tolerance / px per unit",
            "Pinhole projection. What is usually missed by (1 cm, half a degree, 2 % of a focal "
            "length) is a judgement.",
        ),
        "cover": rule(
            "needed width = distance · (tan right + tan left) over the whole move, with padding; "
            "bare = rays of the padded frame that meet neither set nor screen",
            "Ray geometry, at 96 × 40 places of the frame.",
        ),
        "details": rule(
            "pixel on the model = distance · sensor width used / image distance / delivered width; "
            "worth building = the larger of two pixels and the blur disc",
            "Similar triangles; two samples a cycle (sampling theorem).",
        ),
    }
