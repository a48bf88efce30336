"""Does the camera stand where the story needs it? Lens floor and mismatch in pixels."""

from __future__ import annotations

import math

import numpy as np

from ..matching import fit_similarity
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..stage.case import Case
from ..stage.derive import mirror_for
from ..words.quantities import length, pixels, scale
from .trying import best, remedy

#: Mismatch up to three tolerances can often be hidden by movement or brevity (judgement).
STRAINS_TO = 3.0


def off_by(case: Case) -> str:
    """How far apart the two pictures are, before and after the best reframe, in one sentence."""
    plain, fitted = case.matched
    return (
        f"Off by {pixels(plain.max_px)} at most, {pixels(fitted.max_px)} after the best "
        f"reframe in post; worst at {case.shot.world_view.points.names[fitted.worst_index]}. "
        f"Tolerance {pixels(case.tolerance.px)}."
    )


def _match_verdict(case: Case) -> Verdict | None:
    """None where nothing is in view that could differ."""
    _, fitted = case.matched
    if fitted.worst_index < 0:
        return None
    return banded(fitted.max_px, case.tolerance.px, case.tolerance.px * STRAINS_TO)


def judge_mismatch(case: Case) -> Finding | None:
    """How far the stage camera as built puts things from where the world camera does."""
    plain, fitted = case.matched
    verdict = _match_verdict(case)
    if verdict is None:
        return None
    view = case.shot.world_view
    if plain.max_px < 0.05:
        sentence = "Every point falls where the world camera puts it."
    else:
        sentence = off_by(case)
    return Finding(
        key="mismatch",
        title="Match with the world camera",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="|project(world camera, p) − project(stage camera, p / S)|, largest over "
                "stand-ins, a 3 × 3 ground grid and 1.7 m figures, after the best scale, turn "
                "and shift",
                inputs=(
                    Quantity("S", "scale", case.plate.scale, ""),
                    Quantity("n", "points in frame", float(len(view.points.names)), ""),
                    Quantity("h_w", "axis height derived", case.stage.ideal_axis_m * 1000, "mm"),
                    Quantity("h_s", "axis height as built", case.stage.axis_m * 1000, "mm"),
                    Quantity("t_w", "world tilt", case.shot.world.tilt_deg, "°"),
                    Quantity("t_s", "tilt as built", case.stage.tilt_deg, "°"),
                    Quantity("b", "set back", case.plate.setback_m * 1000, "mm"),
                    Quantity("raw", "largest before the reframe", plain.max_px, "px"),
                    Quantity("rms", "root mean square after it", fitted.rms_px, "px"),
                ),
                result=Quantity("max", "largest after the reframe", fitted.max_px, "px"),
                source="Pinhole projection; least-squares similarity (Umeyama 1991).",
            ),
            case.tolerance.working,
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _match_remedies(case, verdict),
    )


def _match_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    back = {"axis_height_m": None, "tilt_deg": None, "setback_m": 0.0}
    drop_m = _drop_needed(case)
    ways = [remedy(case, judge_mismatch, before, back, "Put the camera back where it is derived.")]
    if drop_m > 0:
        words = f"Let the camera base sit {length(drop_m)} below this stage's ground."
        ways.append(remedy(case, judge_mismatch, before, {**back, "drop_m": drop_m}, words))
    return best(ways, most=2)


def _drop_needed(case: Case) -> float:
    """How far below this stage's ground the base must sit, rounded up to 5 mm."""
    short_mm = case.choice.body.axis_height_mm - case.stage.ideal_axis_m * 1000.0
    return max(0.0, math.ceil(short_mm / 5.0 - 1e-9) * 5.0 / 1000.0)


def judge_floor(case: Case) -> Finding:
    """Whether the lens axis can be as low as the scaled world camera asks."""
    stage, plate = case.stage, case.plate
    short = stage.floor_axis_m - stage.ideal_axis_m
    buried = plate.table_m is not None and plate.drop_m > plate.table_m + 1e-9
    holds = short <= 1e-6 and not buried
    verdict = Verdict.HOLDS if holds else Verdict.BREAKS
    if not holds and not buried:
        # A little too high may not be seen; the pixels decide, not the millimetres.
        seen = _match_verdict(_at_floor(case))
        verdict = Verdict.STRAINS if seen is Verdict.HOLDS else Verdict.BREAKS
    by = "the mirror" if plate.mirror else "this body"
    if buried:
        sentence = (
            f"The camera base is to sit {length(plate.drop_m)} below this stage's ground, but the "
            f"floor is {length(plate.table_m or 0.0)} below it: raise the table."
        )
    elif holds:
        sentence = (
            f"The lens axis belongs {length(stage.ideal_axis_m)} above this stage's ground; {by} "
            f"reaches down to {length(max(stage.floor_axis_m, 0.0))}."
        )
    else:
        sentence = (
            f"The lens axis belongs {length(stage.ideal_axis_m)} above this stage's ground, but "
            f"{by} cannot go below {length(stage.floor_axis_m)}: {length(short)} too high."
        )
    return Finding(
        key="floor",
        title="Lens floor",
        verdict=verdict,
        sentence=sentence + _mirror_note(case),
        workings=(
            Working(
                formula="ideal = (H − G) / S;  lowest = base-to-axis height − drop of the base, or "
                "the middle of the mirror",
                inputs=(
                    Quantity("H", "world camera height", case.shot.world.height_m * 1000, "mm"),
                    Quantity("G", "world height of this ground", plate.ground_m * 1000, "mm"),
                    Quantity("S", "scale", plate.scale, ""),
                    Quantity("b", "base to axis", stage.choice.body.axis_height_mm, "mm"),
                    Quantity("d", "base below the ground", plate.drop_m * 1000, "mm"),
                    Quantity("low", "lowest axis", stage.floor_axis_m * 1000, "mm"),
                ),
                result=Quantity("ideal", "axis height wanted", stage.ideal_axis_m * 1000, "mm"),
                source="Distances and heights divide by the scale (similar triangles).",
            ),
        ),
        remedies=() if case.trial or holds else _floor_remedies(case, verdict),
    )


def _mirror_note(case: Case) -> str:
    if not case.plate.mirror:
        return ""
    need = mirror_for(case.shot, case.plate, case.choice)
    if need is None:
        return " This view is too wide for a mirror at 45°."
    return (
        f" Mirror: {length(need.side_m)} of first-surface glass at 45°; the picture comes out "
        "mirrored, so flop it in post."
    )


def _at_floor(case: Case) -> Case:
    if case.plate.axis_height_m is None:
        return case
    tried = case.tried({"axis_height_m": None})
    return tried if tried is not None else case


def _floor_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    plate = case.plate

    def effect(tried: Case) -> str:
        after = judge_mismatch(tried)
        match = f" {after.sentence}" if after is not None else ""
        return f"Axis at {length(tried.stage.axis_m)}.{match}"

    def flopped(tried: Case) -> str:
        return effect(tried) + _mirror_note(tried)

    drop = _drop_needed(case)
    down = {"drop_m": drop, "axis_height_m": None}
    let_down = (
        "past the table's edge, or in a cut-out of its body's size."
        if plate.table_m is not None
        else "on a lower support past its edge, or in a cut-out."
    )
    ways: list[Remedy | None] = [
        remedy(
            case,
            judge_floor,
            before,
            down,
            f"Let the camera base sit {length(drop)} below this stage's ground: {let_down}",
            effect,
        ),
        None
        if plate.mirror
        else remedy(
            case,
            judge_floor,
            before,
            {"mirror": True, "axis_height_m": None},
            "Film by way of a first-surface mirror at 45° on this stage's ground.",
            flopped,
        ),
        _overscan(case, before),
    ]
    for body in case.shot.kit.bodies:
        if body.id == plate.body_id or body.axis_height_mm >= case.choice.body.axis_height_mm:
            continue
        for mode in body.modes[:1]:
            ways.append(
                remedy(
                    case,
                    judge_floor,
                    before,
                    {"body_id": body.id, "mode_id": mode.id, "axis_height_m": None},
                    f"Use the {body.name}.",
                    effect,
                )
            )
    larger = math.floor(
        (case.shot.world.height_m - plate.ground_m) * 1000.0 / case.choice.body.axis_height_mm
    )
    if 1 <= larger < plate.scale:
        ways.append(
            remedy(
                case,
                judge_floor,
                before,
                {"scale": float(larger), "axis_height_m": None},
                f"Build larger, at {scale(larger)}.",
                effect,
            )
        )
    return best(ways, most=5)


def _overscan(case: Case, before: Verdict) -> Remedy | None:
    """Stay at the floor and move the picture in post: what it costs in overscan, and what is still
    off afterwards. Advice: nothing in the plan changes."""
    at_floor = _at_floor(case)
    view = case.shot.world_view.world_px
    rows = np.isfinite(view + at_floor.stage_pixels).all(axis=1)
    if rows.sum() < 2:
        return None
    _, turn = fit_similarity(at_floor.stage_pixels[rows], view[rows])
    _, fitted = at_floor.matched
    after = _match_verdict(at_floor)
    if after is None or after.rank >= before.rank:
        return None
    delivery = case.shot.delivery
    centre = complex(delivery.width_px, delivery.height_px) / 2.0
    spin = turn.scale * np.exp(1j * math.radians(turn.rotation_deg))
    moved = spin * centre + complex(turn.shift_x_px, turn.shift_y_px) - centre
    used = max(case.stage.crop_across, case.stage.crop_down)
    spare = (1.0 / used - 1.0) / 2.0 * delivery.height_px
    enough = "enough" if spare >= abs(moved.imag) else "not enough: use a wider lens"
    return Remedy(
        sentence="Stay at the floor and shift the picture in post.",
        effect=f"Shift of {pixels(abs(moved.imag))} up or down; this mode has {pixels(spare)} to "
        f"spare there ({enough}). Still off by {pixels(fitted.max_px)}.",
        verdict=after,
    )
