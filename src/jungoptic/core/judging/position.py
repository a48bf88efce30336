"""Does the camera stand where the story needs it? Lens floor and mismatch in pixels."""

from __future__ import annotations

import math

from ..findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..quantities import length, pixels, scale
from .case import Case, best, remedy

#: Mismatch up to three tolerances can often be hidden by movement or brevity (judgement).
STRAINS_TO = 3.0


def off_by(case: Case) -> str:
    """How far apart the two pictures are, before and after the best reframe, in one sentence."""
    plain, fitted = case.matched
    return (
        f"Off by {pixels(plain.max_px)} at most, {pixels(fitted.max_px)} after the best "
        f"reframe in post; worst at {case.shot.world_view.points.names[fitted.worst_index]}. "
        f"Tolerance {pixels(case.shot.tolerance)}."
    )


def judge_mismatch(case: Case) -> Finding | None:
    """How far the stage camera as built puts things from where the world camera does."""
    plain, fitted = case.matched
    if plain.worst_index < 0:
        return None
    view = case.shot.world_view
    tolerance = case.shot.tolerance
    verdict = banded(fitted.max_px, tolerance, tolerance * STRAINS_TO)
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
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _match_remedies(case, verdict),
    )


def _match_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    def effect(tried: Case) -> str:
        after = judge_mismatch(tried)
        return after.sentence if after is not None else ""

    back = {"axis_height_m": None, "tilt_deg": None, "setback_m": 0.0}
    ways = [
        remedy(
            case, judge_mismatch, before, back, "Put the camera back where it is derived.", effect
        ),
        remedy(
            case,
            judge_mismatch,
            before,
            {**back, "drop_m": _drop_needed(case)},
            "Let the camera base sit below this stage's ground.",
            effect,
        ),
    ]
    return best(ways, most=2)


def _drop_needed(case: Case) -> float:
    """How far below this stage's ground the base must sit, rounded up to 5 mm."""
    short_mm = case.choice.body.axis_height_mm - case.stage.ideal_axis_m * 1000.0
    return max(0.0, math.ceil(short_mm / 5.0 - 1e-9) * 5.0 / 1000.0)


def judge_floor(case: Case) -> Finding:
    """Whether the lens axis can be as low as the scaled world camera asks."""
    stage = case.stage
    short = stage.floor_axis_m - stage.ideal_axis_m
    holds = short <= 1e-6
    verdict = Verdict.HOLDS if holds else Verdict.BREAKS
    if not holds:
        # A little too high may not be seen; the pixels decide, not the millimetres.
        seen = judge_mismatch(_at_floor(case))
        verdict = Verdict.STRAINS if seen and seen.verdict is Verdict.HOLDS else Verdict.BREAKS
    sentence = (
        f"The lens axis belongs {length(stage.ideal_axis_m)} above this stage's ground; this body "
        f"reaches down to {length(max(stage.floor_axis_m, 0.0))}."
        if holds
        else f"The lens axis belongs {length(stage.ideal_axis_m)} above this stage's ground, but "
        f"this body cannot go below {length(stage.floor_axis_m)}: {length(short)} too high."
    )
    return Finding(
        key="floor",
        title="Lens floor",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="ideal = (H − G) / S;  lowest = base-to-axis height − drop of the base",
                inputs=(
                    Quantity("H", "world camera height", case.shot.world.height_m * 1000, "mm"),
                    Quantity("G", "world height of this ground", case.plate.ground_m * 1000, "mm"),
                    Quantity("S", "scale", case.plate.scale, ""),
                    Quantity("b", "base to axis", stage.choice.body.axis_height_mm, "mm"),
                    Quantity("d", "base below the ground", case.plate.drop_m * 1000, "mm"),
                    Quantity("low", "lowest axis", stage.floor_axis_m * 1000, "mm"),
                ),
                result=Quantity("ideal", "axis height wanted", stage.ideal_axis_m * 1000, "mm"),
                source="Distances and heights divide by the scale (similar triangles).",
            ),
        ),
        remedies=() if case.trial or holds else _floor_remedies(case, verdict),
    )


def _at_floor(case: Case) -> Case:
    tried = case.tried({"axis_height_m": None})
    return tried if tried is not None else case


def _floor_remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    plate = case.plate

    def effect(tried: Case) -> str:
        after = judge_mismatch(tried)
        match = f" {after.sentence}" if after is not None else ""
        return f"Axis at {length(tried.stage.axis_m)}.{match}"

    drop = _drop_needed(case)
    ways: list[Remedy | None] = [
        remedy(
            case,
            judge_floor,
            before,
            {"drop_m": drop, "axis_height_m": None},
            f"Let the camera base sit {length(drop)} below this stage's ground: past the table's "
            "edge, or in a cut-out.",
            effect,
        )
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
    return best(ways)
