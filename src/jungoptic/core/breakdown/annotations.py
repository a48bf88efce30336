"""What crosses a matte line, a split or a path on a sketch, with its ways out."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ..camera import Array, Camera
from ..checks_on_input import positive
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working
from ..plan.standins import StandIn
from ..words.quantities import degrees, length, pixels
from .sketch_marks import Crossing, Drawn, above_line, crossings
from .stills import Solid, Still, camera_from_thing, solid_of_mark, solid_of_stand_in

#: Clearance under a matte line that nobody worries about, in pixels (judgement).
CLEAR_PX = 4.0


#: How far remedies look: metres aside, degrees up.
REACH_TILT_DEG = 25.0


def judge_matte(solid: Solid, line: Drawn, still: Still) -> Finding | None:
    """Whether a thing stays below a matte line as this camera sees it, and what would clear it.

    None when it is nowhere near the line (beside its ends, or out of the picture).
    """
    over = _over(still.camera, solid, line.array, still)
    if over == -math.inf:
        return None
    title = f"{solid.name} and {line.label}"
    place = f"{solid.name} is {length(solid.height_m)} tall at {length(solid.distance_m)}"
    if over <= 0:
        close = -over < CLEAR_PX
        return Finding(
            key=f"matte:{line.id}:{solid.id}",
            title=title,
            verdict=Verdict.STRAINS if close else Verdict.HOLDS,
            sentence=f"{place}: its top stays {pixels(-over)} under {line.label.lower()}.",
            workings=(_working(solid, still, over),),
        )
    return Finding(
        key=f"matte:{line.id}:{solid.id}",
        title=title,
        verdict=Verdict.STRAINS if solid.held_out else Verdict.BREAKS,
        sentence=f"{place}: its top is {pixels(over)} above {line.label.lower()}"
        + ("; it is planned as a hold-out." if solid.held_out else "."),
        workings=(_working(solid, still, over),),
        remedies=_ways_out(solid, line.array, still),
    )


def _over(camera: Camera, solid: Solid, line: Array, still: Still) -> float:
    seen = camera.project(solid.points_m, still.width_px, still.height_px)
    return above_line(seen, line, still.width_px, still.height_px)


def _ways_out(solid: Solid, line: Array, still: Still) -> tuple[Remedy, ...]:
    """Move aside, tilt up, or plan to cut it out. The line stays where it is in the picture."""
    found: list[Remedy] = []
    here = still.camera.position_m
    reach = max(4.0, 0.6 * solid.distance_m)

    def moved(aside: float) -> Camera:
        return replace(still.camera, position_m=(here[0] + aside, here[1], here[2]))

    def tilted(up: float) -> Camera:
        return replace(still.camera, tilt_deg=still.camera.tilt_deg + up)

    sides = []
    for sign, word in ((-1.0, "left"), (1.0, "right")):
        far = _least(lambda v, s=sign: _over(moved(s * v), solid, line, still), reach)  # type: ignore[misc]
        if far is not None:
            sides.append((far, word, sign))
    if sides:
        far, word, sign = min(sides)
        found.append(
            Remedy(
                f"Move the camera {far:.1f} m {word}.",
                _effect(_over(moved(sign * far), solid, line, still)),
                Verdict.HOLDS,
            )
        )
    up = _least(lambda v: _over(tilted(v), solid, line, still), REACH_TILT_DEG)
    if up is not None:
        found.append(
            Remedy(
                f"Tilt {degrees(up)} up.",
                _effect(_over(tilted(up), solid, line, still)) + " Everything else sinks with it.",
                Verdict.HOLDS,
            )
        )
    if not solid.held_out:
        found.append(
            Remedy(
                f"Plan {solid.name} as a hold-out.",
                "It is cut out by hand over the line; see the hours of a hold-out.",
                Verdict.STRAINS,
            )
        )
    return tuple(found)


def _effect(over: float) -> str:
    if over == -math.inf:
        return "It no longer meets the line."
    return f"Its top is then {pixels(-over)} under the line."


def _least(over: Callable[[float], float], reach: float) -> float | None:
    """The smallest step from 0 to `reach` that clears, in tenths rounded up; None without one.

    Looked for at 200 steps, because clearing need not be monotonic, then narrowed down.
    """
    steps = np.linspace(reach / 200.0, reach, 200)
    first = next((i for i, v in enumerate(steps) if over(float(v)) <= 0), None)
    if first is None:
        return None
    low, high = (float(steps[first - 1]) if first else 0.0), float(steps[first])
    for _ in range(20):
        middle = (low + high) / 2.0
        low, high = (low, middle) if over(middle) <= 0 else (middle, high)
    rounded = math.ceil(high * 10.0 - 1e-9) / 10.0
    return rounded if over(rounded) <= 0 else high


def _working(solid: Solid, still: Still, over: float) -> Working:
    camera = still.camera
    focal_px = camera.focal_px(still.width_px)
    return Working(
        formula="f_px · size / distance, by the camera's height and tilt",
        inputs=(
            Quantity("f", "focal length in pixels", focal_px, "px"),
            Quantity("d", "distance", solid.distance_m, "m"),
            Quantity("H", "height", solid.height_m, "m"),
            Quantity("h", "lens height", camera.position_m[2], "m"),
            Quantity("t", "tilt", camera.tilt_deg, "°"),
        ),
        result=Quantity("over", "above the line", over, "px"),
        source="Pinhole projection (ray geometry)"
        + ("." if still.planned else "; camera worked out from one thing of known size."),
    )


def judge_paths(marks: tuple[Drawn, ...], found: tuple[Crossing, ...]) -> tuple[Finding, ...]:
    """One finding per pair of marks that cross, with how often."""
    by_id = {m.id: m for m in marks}
    pairs: dict[tuple[str, str], list[Crossing]] = {}
    for one in found:
        pairs.setdefault((one.first_id, one.second_id), []).append(one)
    answers = []
    for (first_id, second_id), hits in pairs.items():
        first, second = by_id[first_id], by_id[second_id]
        times = "once" if len(hits) == 1 else f"{len(hits)} times"
        where = ", ".join(f"x {h.x_px:.0f}" for h in hits[:4])
        kinds = {first.kind, second.kind}
        cure = (
            "Move the path, or plan the moving split and its frames."
            if "split" in kinds and "action" in kinds
            else "Lower the path, raise the line, or plan a hold-out for those frames."
            if "action" in kinds
            else "End the split at the matte line, so that each join has one owner."
        )
        answers.append(
            Finding(
                key=f"cross:{first_id}:{second_id}",
                title=f"{first.label} and {second.label}",
                verdict=Verdict.STRAINS if kinds == {"split", "matte"} else Verdict.BREAKS,
                sentence=f"{first.label} crosses {second.label.lower()} {times} ({where}). {cure}",
            )
        )
    return tuple(answers)


@dataclass(frozen=True)
class StillReport:
    """What the marks on one picture say: crossings, findings, and how the camera is known."""

    crossings: tuple[Crossing, ...]
    findings: tuple[Finding, ...]
    camera_known: Literal["planned", "thing", "no"]


def judge_still(
    marks: tuple[Drawn, ...],
    width_px: float,
    height_px: float,
    planned: Camera | None = None,
    stand_ins: tuple[StandIn, ...] = (),
) -> StillReport:
    """Everything the marks on a picture say.

    With `planned`, the picture is the shot's own Frame and its stand-ins are held against the
    matte lines too; a hold-out mark with a stand-in's name makes it planned. Otherwise the first
    mark with distance and height gives the camera.

    Raises Impossible unless picture width and picture height are above zero.
    """
    positive("picture width", width_px)
    positive("picture height", height_px)
    found = crossings(marks)
    findings = list(judge_paths(marks, found))
    still = Still(width_px, height_px, planned, True) if planned is not None else None
    known: Literal["planned", "thing", "no"] = "planned"
    if still is None:
        still = next(
            (s for m in marks if (s := camera_from_thing(m, width_px, height_px)) is not None), None
        )
        known = "no" if still is None else "thing"
    lines = [m for m in marks if m.kind == "matte" and len(m.points) > 1]
    if still is not None and lines:
        held = {m.name.strip().lower() for m in marks if m.kind == "holdout" and m.name.strip()}
        solids = [
            solid_of_stand_in(s, s.name.strip().lower() in held)
            for s in stand_ins
            if s.kind != "ground" and planned is not None
        ]
        names = {s.name.strip().lower() for s in solids}
        for mark in marks:
            if mark.kind not in {"holdout", "reference"} or mark.name.strip().lower() in names:
                continue
            solid = solid_of_mark(mark, still)
            if solid is not None:
                solids.append(solid)
        for line in lines:
            findings += [f for s in solids if (f := judge_matte(s, line, still)) is not None]
    findings.sort(key=lambda f: -f.verdict.rank)
    return StillReport(found, tuple(findings), known)
