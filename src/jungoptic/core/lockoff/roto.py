"""Cutting out by hand: how often a shape has to be drawn so that it follows what moves, and what
that costs."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..cost.effort import Hours, Job, Keying, cut_lines, line, roto_keys
from ..cost.shapes import EDGES, shapes_of
from ..cost.work import Work
from ..judging.limits import ROTO_HOLDS_TO, ROTO_SLOW_PX, ROTO_STRAINS_TO
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.tricks import Edge
from ..stage.case import Case
from ..stage.in_frame import in_story, own_things
from ..words.quantities import pixels

#: What smears farther than this between two frames, at 1920 wide, has no hard edge (judgement).
SOFT_FROM_PX = 4.0
EDGE_NAMES: dict[Edge, str] = {
    "hard": "hard edge",
    "soft": "soft edge",
    "hair": "hair, fur, leaves",
}
#: A key shape farther apart than this is never wise (judgement).
LONGEST = 24
#: A limb swings by this much, as often a second (an easy walk; judgement), and a gesture; who
#: stands or sits breathes and shifts.
SWING_M, SWING_HZ = 0.25, 1.0
IDLE_M, IDLE_HZ = 0.012, 0.3


@dataclass(frozen=True)
class RotoPlan:
    """Cutting one plate by hand. `edge`: as decided, or soft where movement blurs it; `bend_px`:
    how far a frame bends away from a straight way between its neighbours, at the worst point;
    `every`: frames between keys so that straight ways in between stay within `allowed_px`; hours by
    cadence for the shapes of the plate."""

    plate_id: str
    frames: int
    shapes: int
    edge: Edge
    fastest_px: float
    bend_px: float
    allowed_px: float
    every: int
    planned_every: int
    blur_px: float
    nth: Hours
    bisect: Hours
    nth_keys: int
    bisect_keys: int
    #: As it is planned: what Hours counts.
    planned: Hours


def interval_for(bend_px: float, allowed_px: float, longest: int = LONGEST) -> int:
    """Frames between keys: a way with the second difference a leaves its chord of n frames by
    a n^2 / 8, so n = sqrt(8 e / a). Source: error of linear interpolation (any text on numerical
    analysis)."""
    if bend_px <= 0:
        return longest
    return min(max(math.floor(math.sqrt(8.0 * allowed_px / bend_px) + 1e-9), 1), longest)


def roto_plan(case: Case) -> RotoPlan | None:
    """The plan for what this plate's things need; None where nothing is cut by hand."""
    plate, shot = case.plate, case.shot
    if plate.cut != "roto":
        return None
    fastest, bend = motion_px(shot, plate)
    blur = fastest * plate.shutter_deg / 360.0
    # What is blurred may be off by a part of its blur before it is seen.
    allowed = shot.base_tolerance_px + 0.25 * blur
    every = interval_for(bend, allowed)
    frames = shot.frames
    smeared = blur > SOFT_FROM_PX * shot.delivery.width_px / 1920.0
    edge: Edge = "soft" if smeared and plate.edge == "hard" else plate.edge
    shapes = plate.shapes or shapes_of(own_things(shot, plate))
    factor = EDGES[edge] * shapes
    keys = {k: roto_keys(frames, every, k) for k in ("nth", "bisect")}

    def hours(keying: Keying) -> Hours:
        fresh, between = keys[keying]
        found = line("roto-key", fresh * factor).hours
        return found + line("roto-between", between * factor).hours

    return RotoPlan(
        plate.id,
        frames,
        shapes,
        edge,
        round(fastest, 2),
        round(bend, 3),
        round(allowed, 2),
        every,
        plate.key_every,
        round(blur, 2),
        hours("nth"),
        hours("bisect"),
        sum(keys["nth"]),
        sum(keys["bisect"]),
        Hours.total([x.hours for x in cut_lines(_job(shot, plate, shapes))]),
    )


def _job(shot: Shot, plate: Plate, shapes: int) -> Job:
    return Job(
        plate.id,
        plate.name,
        plate.kind,
        Work("roto", shapes),
        shot.screen_time_s,
        shot.delivery.fps,
        key_every=plate.key_every,
        keying=plate.keying,
        edge=plate.edge,
    )


def motion_px(shot: Shot, plate: Plate) -> tuple[float, float]:
    """The fastest step and the largest second difference of anything of a plate while it is in the
    picture, pixels per frame: the path of the whole thing, and for figures the swing of a limb,
    or what stirs in who stands."""
    # Shapes are drawn on the plate, before a zoom is made of it.
    own, seen = own_things(shot, plate), in_story(shot).before_zoom
    fastest = float(np.nan_to_num(seen.steps.fastest_px[seen.numbers(own)]).max(initial=0.0))
    bend = 0.0
    if seen.frames > 2:
        # The camera does not move before the shot begins, nor after it has ended.
        # What comes past the lens lies at infinity on its way, and is not there.
        with np.errstate(invalid="ignore"):
            bent = np.diff(seen.pixels, n=2, axis=2) * seen.share**2
        shown = seen.there[:, 2:] & seen.there[:, 1:-1] & seen.there[:, :-2]
        mine = np.isin(seen.points_of, seen.numbers(own))
        second = np.where(shown, np.hypot(bent[:, 0], bent[:, 1]), 0.0)[mine]
        bend = float(second.max(initial=0.0))
    for thing in own:
        (row,) = seen.numbers([thing])
        if thing.kind != "figure" or not seen.shows[row].any():
            continue
        lively = bool(thing.speed_m_s or thing.reach_m)
        swing = (thing.reach_m or SWING_M) if lively else IDLE_M
        often = SWING_HZ if lively else IDLE_HZ
        turn = 2.0 * math.pi * often * shot.time.fastest / shot.delivery.fps
        nearest = max(float(np.nanmin(seen.near_m[row])), 0.3)
        px_per_m = shot.world.camera(shot.delivery).focal_px(shot.delivery.width_px) / nearest
        fastest = max(fastest, swing * turn * px_per_m)
        bend = max(bend, swing * turn * turn * px_per_m)
    return fastest, bend


def _edge(plate: Plate, plan: RotoPlan) -> str:
    blurred = ", as it moves" if plan.edge != plate.edge else ""
    return EDGE_NAMES[plan.edge] + blurred + ("," if blurred else "")


def judge_roto(case: Case) -> Finding | None:
    """Whether the planned interval between keys suits the movement; None where nothing is cut by
    hand. Shapes that only move slowly need a key every second frame or fewer."""
    plan = roto_plan(case)
    if plan is None:
        return None
    plate = case.plate
    slow = plan.fastest_px <= ROTO_SLOW_PX
    verdict = Verdict.HOLDS
    words = (
        f"{plan.shapes} {'shape' if plan.shapes == 1 else 'shapes'} with a "
        f"{_edge(plate, plan)} on {plan.frames} {'frame' if plan.frames == 1 else 'frames'}; "
        f"the fastest moves {pixels(plan.fastest_px)} a frame, so a key {_every(plan.every)} "
        f"follows within {pixels(plan.allowed_px)}: {plan.nth_keys} "
        f"{'key' if plan.nth_keys == 1 else 'keys'} in step or {plan.bisect_keys} by "
        f"halving, about {min(plan.nth.likely, plan.bisect.likely):.1f} h."
    )
    planned = f"about {plan.planned.likely:.1f} h"
    if plate.key_every > ROTO_HOLDS_TO * plan.every:
        verdict = (
            Verdict.BREAKS if plate.key_every > ROTO_STRAINS_TO * plan.every else Verdict.STRAINS
        )
        words += f" Planned is {_every(plate.key_every)}, {planned}: the shape slips in between."
    elif plate.key_every < 2 and slow and plan.every >= 2:
        verdict = Verdict.STRAINS
        words += f" Planned is every frame, {planned}: slow shapes drawn afresh each frame boil."
    elif plate.key_every * 3 < plan.every:
        words += f" Planned is {_every(plate.key_every)}, {planned}: more work than it needs."
    return Finding(
        key="roto",
        title="Cutting by hand",
        verdict=verdict,
        sentence=words,
        workings=(
            Working(
                formula="n = √(8 e / a)",
                inputs=(
                    Quantity("e", "what may be off", plan.allowed_px, "px"),
                    Quantity("a", "second difference", plan.bend_px, "px"),
                ),
                result=Quantity("n", "frames between keys", float(plan.every), ""),
                source="Error of linear interpolation; hours per key are judgement.",
            ),
        ),
    )


def _every(n: int) -> str:
    if n == 1:
        return "every frame"
    return f"every {'2nd' if n == 2 else '3rd' if n == 3 else f'{n}th'} frame"


def _ways(case: Case) -> list[Way]:
    plan = roto_plan(case)
    if plan is None:
        return []
    hours = min(plan.nth.likely, plan.bisect.likely)
    return [
        Way(
            f"A key {_every(plan.every)}.",
            {"key_every": plan.every},
            f"About {hours:.1f} h, within {pixels(plan.allowed_px)}.",
        )
    ]


RULE = Rule(
    key="roto",
    title="Cutting by hand",
    name="cutting by hand",
    speak=judge_roto,
    ways=_ways,
    of_shot=True,
    otherwise="A screen behind what is cut out, or a framing that its edge does not cross.",
)
