"""What the shutter does to movement: blur, steps, lean, and lamps that pulse."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..plan.plate import TIMELESS
from ..plan.standins import StandIn
from ..stage.case import Case
from ..stage.motion import frame_at
from ..words.quantities import degrees, percent, pixels, shutter
from .trying import best, remedy, sentence_of

#: Blur within a third of the world camera's is not told apart; beyond twice or under half it is
#: seen at once (judgement).
BLUR_HOLDS_TO = 1.33
BLUR_STRAINS_TO = 2.0
#: Differences in blur shorter than this are not seen, in pixels at 1920 wide (judgement).
BLUR_SEEN_PX = 2.0
#: A thing whose smears leave gaps of more than half its width seems to jump (judgement).
GAP_TO_WIDTH = 0.5
#: Lean of an upright by rolling readout that is not seen, and that still passes (judgement).
LEAN_HOLDS_DEG = 0.5
LEAN_STRAINS_DEG = 2.0
#: Exposure off a whole number of pulses, as a part of it: banding not seen; seen by some
#: (judgement, from common practice).
PULSE_HOLDS = 0.01
PULSE_STRAINS = 0.05
#: With this many pulses in one exposure what is left over hardly shows (judgement).
MANY_PULSES = 6


@dataclass(frozen=True)
class Fastest:
    """The fastest thing of a plate: who, when, and in played pixels per frame."""

    stand_in: StandIn
    step_px: float
    width_px: float
    frame: int


def fastest(case: Case) -> Fastest | None:
    """The point of this plate that crosses the picture fastest; None when all stand still."""
    motion = case.motion
    if motion.still:
        return None
    i = int(np.argmax(motion.fastest_px))
    owner = next(s for s in case.shot.stand_ins if s.id == motion.owners[i])
    return Fastest(
        owner,
        float(motion.fastest_px[i]),
        float(motion.widths_px[i]),
        frame_at(case.shot, float(motion.fastest_part[i])),
    )


def blur_ratio(case: Case) -> float:
    """Blur of this plate over that of the world camera, of anything that moves in both: by shutter
    angle and by the rate missed. 0 where frames are taken one by one."""
    if case.plate.kind in TIMELESS:
        return 0.0
    stage = case.stage
    return (
        case.plate.shutter_deg / case.shot.world.shutter_deg * stage.needed_fps / stage.capture_fps
    )


def judge_blur(case: Case) -> Finding | None:
    """Whether moving things smear as they do in the world camera; None when nothing moves."""
    quick = fastest(case)
    if quick is None:
        return None
    world_px = quick.step_px * case.shot.world.shutter_deg / 360.0
    ratio = blur_ratio(case)
    stage_px = world_px * ratio
    seen = BLUR_SEEN_PX * case.shot.delivery.width_px / 1920.0
    one_by_one = case.plate.kind in TIMELESS
    if abs(stage_px - world_px) <= seen:
        verdict = Verdict.HOLDS
    elif one_by_one:
        # What is taken frame by frame never smears by itself; it can be added in post.
        verdict = Verdict.STRAINS
    else:
        off = max(ratio, 1.0 / ratio) - 1.0
        verdict = banded(off / case.relaxed, BLUR_HOLDS_TO - 1.0, BLUR_STRAINS_TO - 1.0)
    who = f"{quick.stand_in.name} smears over {pixels(world_px)} in the story (frame {quick.frame})"
    if one_by_one:
        sentence = f"{who}; frames taken one by one are sharp" + (
            "." if verdict is Verdict.HOLDS else ": add the blur in post, or move while exposing."
        )
    else:
        sentence = f"{who} and over {pixels(stage_px)} here."
    return Finding(
        key="blur",
        title="Motion blur",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="b = step · angle / 360 · rate needed / rate recorded",
                inputs=(
                    Quantity("step", "movement per played frame", quick.step_px, "px"),
                    Quantity(
                        "a_w", "shutter of the world camera", case.shot.world.shutter_deg, "°"
                    ),
                    Quantity("a", "shutter here", case.plate.shutter_deg, "°"),
                    Quantity("need", "rate needed", case.stage.needed_fps, "fps"),
                    Quantity("rec", "rate recorded", case.stage.capture_fps, "fps"),
                    Quantity("b_w", "blur in the world camera", world_px, "px"),
                ),
                result=Quantity("b", "blur in this plate", stage_px, "px"),
                source="Image speed times exposure time (kinematics).",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _blur_remedies(case, verdict),
    )


def _blur_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    stage = case.stage
    wanted = case.shot.world.shutter_deg * stage.capture_fps / stage.needed_fps
    angle = min(360.0, round(wanted, 1))
    return best(
        [
            remedy(
                case,
                judge_blur,
                before,
                {"shutter_deg": angle},
                f"Set the shutter to {degrees(angle)}.",
                lambda t: f"{sentence_of(judge_blur, t)} {shutter(t.stage.exposure_s)} each.",
            )
        ]
    )


def judge_step(case: Case) -> Finding | None:
    """Whether the fastest thing seems to jump from frame to frame; None when nothing moves."""
    quick = fastest(case)
    if quick is None:
        return None
    world_blur = quick.step_px * case.shot.world.shutter_deg / 360.0
    blur = world_blur * blur_ratio(case)
    gap = max(quick.step_px - blur, 0.0)
    widths = gap / quick.width_px if quick.width_px > 0 else math.inf
    verdict = banded(widths / case.relaxed, GAP_TO_WIDTH, math.inf)
    sentence = (
        f"{quick.stand_in.name} goes {pixels(quick.step_px)} from frame to frame at its fastest "
        f"(frame {quick.frame}), {percent(quick.step_px / max(quick.width_px, 1e-9))} of its width"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": it seems to jump. Slow it down, let more blur join the steps, or let the eye "
            "follow it."
        )
    )
    return Finding(
        key="step",
        title="Step per frame",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="gap = step − blur, as a part of the width of the thing",
                inputs=(
                    Quantity("step", "movement per played frame", quick.step_px, "px"),
                    Quantity("b", "blur in this plate", blur, "px"),
                    Quantity("w", "width of the thing in the picture", quick.width_px, "px"),
                ),
                result=Quantity("g", "gap in widths", widths, ""),
                source="Kinematics; half a width is a judgement.",
            ),
        ),
    )


def lean_deg(case: Case) -> float | None:
    """Lean of an upright thing by rolling readout, in degrees; None while the readout is unknown or
    nothing moves. skew = readout * share of the rows * image speed on set, over the height."""
    quick, readout = fastest(case), case.choice.mode.readout_ms
    if quick is None or readout is None or case.plate.kind in TIMELESS:
        return None
    speed = quick.step_px * case.stage.needed_fps
    skew = readout / 1000.0 * min(case.stage.crop_down, 1.0) * speed
    return math.degrees(math.atan(skew / case.shot.delivery.height_px))


def judge_skew(case: Case) -> Finding | None:
    """Whether the rows are read fast enough for what moves."""
    lean = lean_deg(case)
    if lean is None:
        return None
    mode, quick = case.choice.mode, fastest(case)
    assert quick is not None
    verdict = banded(lean / case.relaxed, LEAN_HOLDS_DEG, LEAN_STRAINS_DEG)
    sentence = (
        f"Read row by row in {mode.readout_ms:.3g} ms, uprights of {quick.stand_in.name} lean "
        f"{lean:.2f}° at its fastest; other plates and the world do not."
    )
    return Finding(
        key="skew",
        title="Rolling readout",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="lean = atan(readout · rows used · speed / picture height)",
                inputs=(
                    Quantity("r", "readout of all rows", mode.readout_ms or 0.0, "ms"),
                    Quantity("rows", "share of the rows used", case.stage.crop_down, ""),
                    Quantity("v", "speed", quick.step_px * case.stage.needed_fps, "px/s"),
                    Quantity("h", "picture height", float(case.shot.delivery.height_px), "px"),
                ),
                result=Quantity("lean", "lean of an upright", lean, "°"),
                source="Geometry of a readout that takes time.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _skew_remedies(case, verdict),
    )


def _skew_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    ways: list[Remedy | None] = []
    now = case.choice.mode.readout_ms or 0.0
    for body in case.shot.kit.bodies:
        for mode in body.modes:
            if mode.readout_ms is not None and mode.readout_ms < now:
                ways.append(
                    remedy(
                        case,
                        judge_skew,
                        before,
                        {"body_id": body.id, "mode_id": mode.id},
                        f"Film it with {body.name}, {mode.name}.",
                    )
                )
    return best(ways, most=2)


def pulse_error(exposure_s: float, mains_hz: float) -> tuple[float, float]:
    """(how far an exposure is from a whole number of mains pulses, as a part of that number; the
    number of pulses in it). Lamps pulse twice per cycle: safe exposures are n / (2 f). Common
    practice."""
    pulses = exposure_s * 2.0 * mains_hz
    whole = max(round(pulses), 1)
    return abs(pulses - whole) / whole, pulses


def pulsing_lamps(case: Case) -> list[str]:
    """Names of the lamps placed on this stage that pulse with the mains."""
    found = (case.shot.kit.lamp(p.lamp_id) for p in case.plate.lamps)
    return list(dict.fromkeys(lamp.name for lamp in found if lamp and not lamp.flicker_free))


def judge_flicker(case: Case) -> Finding | None:
    """Whether the exposure takes in whole pulses of the mains; None without pulsing lamps or
    mains."""
    room = case.shot.kit.room(case.plate.room_id)
    names = pulsing_lamps(case)
    if room is None or room.mains_hz is None or not names:
        return None
    time_s = case.stage.exposure_s
    off, pulses = pulse_error(time_s, room.mains_hz)
    if pulses < 1.0 - PULSE_STRAINS:
        verdict = Verdict.BREAKS
    else:
        verdict = banded(off, PULSE_HOLDS, PULSE_STRAINS)
        if verdict is Verdict.BREAKS and pulses >= MANY_PULSES:
            verdict = Verdict.STRAINS
    said = f"{names[0]} pulses {2 * room.mains_hz:.0f} times a second; {shutter(time_s)} takes in "
    said += f"{pulses:.2f} pulses"
    sentence = said + (
        "."
        if verdict is Verdict.HOLDS
        else ": less than one, so frames differ in brightness; only lamps on direct current or "
        "high frequency will do."
        if pulses < 1.0 - PULSE_STRAINS
        else ": brightness may drift in slow waves."
    )
    return Finding(
        key="flicker",
        title="Lamps that pulse",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="pulses = t · 2 f",
                inputs=(
                    Quantity("t", "exposure time", time_s, "s"),
                    Quantity("f", "mains", room.mains_hz, "Hz"),
                    Quantity("off", "off a whole number by", off, ""),
                ),
                result=Quantity("n", "pulses in one exposure", pulses, ""),
                source="Lamps on alternating current pulse twice per cycle (common practice).",
            ),
        ),
        remedies=()
        if case.trial or verdict is Verdict.HOLDS
        else _flicker_remedies(case, verdict, room.mains_hz),
    )


def safe_angle(fps: float, mains_hz: float, wanted_deg: float) -> float | None:
    """The shutter angle nearest `wanted_deg` whose exposure is a whole number of pulses; None when
    even 360 degrees is too short."""
    one = 360.0 * fps / (2.0 * mains_hz)
    if one > 360.0 + 1e-9:
        return None
    most = math.floor(360.0 / one + 1e-9)
    return one * min(max(round(wanted_deg / one), 1), most)


def _flicker_remedies(case: Case, before: Verdict, mains_hz: float) -> tuple[Remedy, ...]:
    ways: list[Remedy | None] = []
    angle = safe_angle(case.stage.capture_fps, mains_hz, case.plate.shutter_deg)
    if angle is not None:
        ways.append(
            remedy(
                case,
                judge_flicker,
                before,
                {"shutter_deg": round(angle, 2)},
                f"Set the shutter to {degrees(angle)}.",
                lambda t: f"{shutter(t.stage.exposure_s)}: whole pulses.",
            )
        )
    ways.append(
        Remedy(
            "Light it with lamps on direct current or high frequency.",
            "They do not pulse.",
            Verdict.HOLDS,
        )
    )
    return best(ways)
