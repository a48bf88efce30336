"""Does a lamp, or the bounce beside it, stand in the picture?"""

from __future__ import annotations

import math
from dataclasses import replace

from ..lighting.in_picture import LampSeen, lamps_in_picture
from ..lighting.on_stage import lighting
from ..lighting.owned import room_box
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import PlacedLamp
from ..stage.case import Case
from ..words.quantities import length, percent
from ..words.sentences import listed
from .in_frame import told
from .lamps import left
from .rule import Rule
from .way import Way

#: Steps by which a lamp is tried farther up, down, aside or nearer to the camera: parts of its
#: distance from the camera.
STEPS = (0.1, 0.2, 0.35, 0.5, 0.75, 1.0, 1.5)


def judge_lamp_in_picture(case: Case) -> Finding | None:
    """Whether a lamp that is not meant to be seen is; None where none is, or nothing is judged."""
    if case.shot.old_rules:
        return None
    found = lamps_in_picture(case)
    if not found:
        return None
    worst = _worst(case, found)
    others = [x.name for x in found if x is not worst]
    more = f" {listed(others)} too." if others else ""
    return RULE.finding(
        verdict=_verdict(case, worst),
        sentence=_sentence(case, worst) + more,
        workings=(
            Working(
                formula="seen: a part of what shines lies inside the picture, and nothing of the "
                "stage stands before it",
                inputs=(
                    Quantity("n", "lamps on this stage", float(len(case.plate.lamps)), ""),
                    Quantity("p", "padding kept on each side", case.shot.padding, ""),
                    Quantity("m", "lamps seen", float(len(found)), ""),
                ),
                result=Quantity("h", "of the picture's height, at most", worst.high, ""),
                source="Central projection; rays against faces (Moeller and Trumbore 1997). Stands "
                "and cables are not asked about.",
            ),
        ),
    )


def _verdict(case: Case, lamp: LampSeen) -> Verdict:
    if case.plate.cut_out:
        if lamp.covers:
            return Verdict.BREAKS
        return Verdict.STRAINS if case.plate.kind == "element" else Verdict.HOLDS
    if not lamp.delivered or _divided(case):
        return Verdict.STRAINS
    return Verdict.BREAKS


def _divided(case: Case) -> bool:
    """Whether this plate meets others of its lock-off along a line."""
    group = case.plate.lock_group
    return bool(group) and any(p.cut == "split" for p in case.shot.plates if p.lock_group == group)


def _worst(case: Case, found: tuple[LampSeen, ...]) -> LampSeen:
    return max(found, key=lambda x: (_verdict(case, x).rank, x.delivered, x.high))


def _sentence(case: Case, lamp: LampSeen) -> str:
    at = list(lamp.spells)
    whole = case.seen.frames == 1 or (at[0].first, at[0].last) == (1, case.shot.frames)
    when = "" if whole else " " + told(at, int)
    size = f", {percent(lamp.high)} of its height" if lamp.high >= 0.005 else ""
    if not lamp.delivered:
        return f"{lamp.name} stands in what is kept around the picture{when}: any reframe shows it."
    said = f"{lamp.name} stands in the picture{when}{size}"
    if not case.plate.cut_out:
        also = (
            ": the join must give that part to another pass."
            if _divided(case)
            else ": this plate is kept whole, so it shows."
        )
        return said + also
    if lamp.covers:
        return said + ", before what is filmed: no matte brings that back."
    if case.plate.kind == "element":
        return said + ", beside what is filmed: its light is added too unless it is masked."
    return said + ", beside what is filmed: mask it off in post."


def _ways(case: Case) -> list[Way]:
    """The lamps seen raised, moved out or back towards the camera, or said to be meant."""
    found = lamps_in_picture(case)
    if not found:
        return []
    light = lighting(case)
    eye = case.stage.camera.position_m
    middle = eye[0] if light is None else light.at_m[0]
    reach = max(0.2, *(math.dist(eye, case.plate.lamps[x.number].at) for x in found))
    name = listed([x.name for x in found])
    top = room_box(case)[2][1]
    ways: list[Way] = []

    def effect(tried: Case) -> str:
        return "" if light is None else left(lighting(tried), light)

    for part in STEPS:
        step = round(reach * part, 2)
        for family, words, way in (
            ("up", f"Raise {name} by {length(step)}.", (0.0, 0.0, 1.0)),
            ("aside", f"Move {name} {length(step)} outwards.", (1.0, 0.0, 0.0)),
            (
                "back",
                f"Move {name} {length(step)} towards the camera's end of the stage.",
                (0.0, -1.0, 0.0),
            ),
        ):
            moved = tuple(
                _moved(lamp, middle, step, way) if i in {x.number for x in found} else lamp
                for i, lamp in enumerate(case.plate.lamps)
            )
            if family != "up" or max(lamp.z_m for lamp in moved) <= top:
                ways.append(Way(words, {"lamps": moved}, effect, family=family))
    ways.append(
        Way(
            f"Say that {name} {'is' if len(found) == 1 else 'are'} meant to be seen: practicals.",
            {
                "lamps": tuple(
                    replace(lamp, role="practical") if i in {x.number for x in found} else lamp
                    for i, lamp in enumerate(case.plate.lamps)
                )
            },
            effect,
            last=True,
        )
    )
    return ways


def _moved(
    lamp: PlacedLamp, middle_m: float, step: float, way: tuple[float, float, float]
) -> PlacedLamp:
    """A lamp `step` along `way`: outwards from the middle, ahead, up."""
    out, ahead, up = way
    side = math.copysign(out, lamp.x_m - middle_m)
    return replace(
        lamp,
        x_m=round(lamp.x_m + side * step, 2),
        y_m=round(lamp.y_m + ahead * step, 2),
        z_m=round(lamp.z_m + up * step, 2),
    )


RULE = Rule(
    key="lamp-in-picture",
    title="Lamp in picture",
    name="lamp in the picture",
    speak=judge_lamp_in_picture,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
    quiet=True,
)
