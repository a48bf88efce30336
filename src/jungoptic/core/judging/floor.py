"""Can the lens axis be as low as the scaled world camera asks?"""

from __future__ import annotations

import math

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.on_side import modes_for
from ..plan.plate import Plate
from ..stage.case import Case
from ..stage.derive import mirror_for
from ..words.quantities import length, pixels, scale
from .mismatch import drop_needed_m, judge_mismatch, let_down, match_verdict, too_high_m
from .numbers import asked
from .placed import placed_nearer
from .rule import Measured, Numbers, Rule, verdict_of
from .way import Way


def judge_floor(case: Case) -> Finding:
    """Whether the lens axis can be as low as the scaled world camera asks."""
    stage, plate = case.stage, case.plate
    short, buried = too_high_m(case), buried_m(plate) > 0.0
    verdict = verdict_of(asked(measure, case))
    holds = verdict is Verdict.HOLDS
    by = "the mirror" if plate.mirror else "this body"
    if buried:
        sentence = (
            f"The camera base is to sit {length(plate.drop_m)} below this stage's ground, but the "
            f"floor is {length(plate.table_m or 0.0)} below it: raise the table."
        )
    elif holds:
        sentence = (
            f"The lens axis belongs {_above(stage.ideal_axis_m)} this stage's ground; {by} "
            f"reaches down to {length(max(stage.floor_axis_m, 0.0))}."
        )
    else:
        sentence = (
            f"The lens axis belongs {_above(stage.ideal_axis_m)} this stage's ground, but "
            f"{by} cannot go below {length(stage.floor_axis_m)}: {length(short)} too high."
        )
    return RULE.finding(
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
    )


def _above(height_m: float) -> str:
    return f"{length(abs(height_m))} {'below' if height_m < 0.0 else 'above'}"


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


def buried_m(plate: Plate) -> float:
    """How far below the floor the camera base would sit; 0 where it does not."""
    return max(plate.drop_m - plate.table_m - 1e-9, 0.0) if plate.table_m is not None else 0.0


def floor_rank(case: Case) -> int:
    """A base below the floor breaks. A little too high may not be seen: the pixels decide, not the
    millimetres."""
    if buried_m(case.plate) > 0.0:
        return 2
    if too_high_m(case) <= 1e-6:
        return 0
    return 1 if match_verdict(at_floor(case)) is Verdict.HOLDS else 2


def at_floor(case: Case) -> Case:
    if case.plate.axis_height_m is None:
        return case
    tried = case.tried({"axis_height_m": None})
    return tried if tried is not None else case


def _ways(case: Case) -> list[Way]:
    plate = case.plate

    def effect(tried: Case) -> str:
        after = judge_mismatch(tried)
        match = f" {after.sentence}" if after is not None else ""
        return f"Axis at {length(tried.stage.axis_m)}.{match}"

    def flopped(tried: Case) -> str:
        return effect(tried) + _mirror_note(tried)

    drop = drop_needed_m(case)
    down = {"drop_m": drop, "axis_height_m": None}
    let_down = (
        "past the table's edge, or in a cut-out of its body's size."
        if plate.table_m is not None
        else "on a lower support past its edge, or in a cut-out."
    )
    found = [
        Way(
            f"Let the camera base sit {length(drop)} below this stage's ground: {let_down}",
            down,
            effect,
        ),
        Way(
            "Film by way of a first-surface mirror at 45° on this stage's ground.",
            {"mirror": True, "axis_height_m": None},
            flopped,
        ),
        _overscan(case),
    ]
    ways = [w for w in found if w is not None and not (plate.mirror and "mirror" in w.changes)]
    for body in case.shot.kit.bodies:
        if body.id == plate.body_id or body.axis_height_mm >= case.choice.body.axis_height_mm:
            continue
        for mode in modes_for(plate, body)[:1]:
            ways.append(
                Way(
                    f"Use the {body.name}.",
                    {"body_id": body.id, "mode_id": mode.id, "axis_height_m": None},
                    effect,
                )
            )
    ways += placed_nearer(case, 0.0)
    larger = math.floor(
        (case.shot.world.height_m - plate.ground_m) * 1000.0 / case.choice.body.axis_height_mm
    )
    if 1 <= larger < plate.scale:
        ways.append(
            Way(
                f"Build larger, at {scale(larger)}.",
                {"scale": float(larger), "axis_height_m": None},
                effect,
            )
        )
    return ways


def _overscan(case: Case) -> Way | None:
    """Stay at the floor and move the picture in post: what it costs in overscan, and what is still
    off afterwards. Advice: nothing in the plan changes."""
    lowest = at_floor(case)
    found = lowest.reframe
    if found is None:
        return None
    _, fitted = lowest.matched
    after = match_verdict(lowest)
    if after is None:
        return None
    delivery = case.shot.delivery
    centre = complex(delivery.width_px, delivery.height_px) / 2.0
    moved = found.turn * centre + found.shift - centre
    used = max(case.stage.crop_across, case.stage.crop_down)
    spare = (1.0 / used - 1.0) / 2.0 * delivery.height_px
    enough = "enough" if spare >= abs(moved.imag) else "not enough: use a wider lens"
    return Way(
        "Stay at the floor and shift the picture in post.",
        effect=f"Shift of {pixels(abs(moved.imag))} up or down; this mode has {pixels(spare)} to "
        f"spare there ({enough}). Still off by {pixels(fitted.max_px)}.",
        promises=after,
    )


def measure(n: Numbers) -> Measured:
    """How much too high the lens axis must stay, metres; a base below the floor breaks."""
    short = n.of_place("too high", _short_m)
    return Measured(n.of_place("floor", lambda case: float(floor_rank(case))), short)


def _short_m(case: Case) -> float:
    """How far the base sits in the floor, else how much too high the axis stays."""
    return buried_m(case.plate) or too_high_m(case)


def takes(case: Case, short: float) -> tuple[str, str]:
    """The base let down, or a mirror; a higher table where it is in the floor already."""
    if buried_m(case.plate) > 0.0:
        return f"A table {length(case.plate.drop_m)} high.", f"{length(short)} below the floor"
    return let_down(case), f"{length(too_high_m(case))} too high"


RULE = Rule(
    key="floor",
    title="Lens floor",
    name="lens floor",
    speak=judge_floor,
    ways=_ways,
    measure=measure,
    takes=takes,
)
