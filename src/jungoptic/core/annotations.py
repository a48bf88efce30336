"""Marks on a sketch or a scout still that mean something, and what crosses what.

Picture points are pixels of the picture, origin top left. A matte line is a polyline below which
everything real must stay. Where a camera is known, planned or worked out from one thing of known
distance and height, a crossing is also said in metres and degrees.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from .camera import Array, Camera
from .checks_on_input import positive
from .coverage import at_distance, rays
from .findings import Finding, Quantity, Remedy, Verdict, Working
from .polyline import dense
from .quantities import degrees, length, pixels
from .standins import StandIn, outlines

LayerKind = Literal["matte", "holdout", "remove", "split", "action", "tracking", "reference"]
#: What each layer is for, in the words of the trade.
LAYERS: Mapping[str, tuple[str, str]] = {
    "matte": ("Matte line", "nothing may cross it: below is real, above is added"),
    "holdout": ("Hold-out", "stands in front and has to be cut out"),
    "remove": ("Remove in post", "cable, rod, sign: painted or patched out"),
    "split": ("Split", "two takes meet here"),
    "action": ("Action path", "where somebody or something moves"),
    "tracking": ("Tracking marker", "put there or found there, to track by"),
    "reference": ("Reference point", "of known place or size"),
}
#: Pairs whose crossings cost work.
WATCHED: tuple[tuple[LayerKind, LayerKind], ...] = (
    ("action", "matte"),
    ("action", "split"),
    ("split", "matte"),
)
#: Clearance under a matte line that nobody worries about, in pixels (judgement).
CLEAR_PX = 4.0
#: How far remedies look: metres aside, degrees up.
REACH_TILT_DEG = 25.0


@dataclass(frozen=True)
class Drawn:
    """One mark: a polyline of pixels (n, 2). `distance_m` from the camera and `height_m` where
    they are known."""

    id: str
    kind: LayerKind
    name: str
    points: tuple[tuple[float, float], ...]
    distance_m: float | None = None
    height_m: float | None = None

    @property
    def array(self) -> Array:
        """The points as (n, 2)."""
        return np.array(self.points, dtype=np.float64).reshape(-1, 2)

    @property
    def label(self) -> str:
        """Its name, or what it is."""
        return self.name or LAYERS[self.kind][0]


@dataclass(frozen=True)
class Crossing:
    """Where two marks cross: their ids and the place in pixels."""

    first_id: str
    second_id: str
    x_px: float
    y_px: float


def segments_cross(a: Array, b: Array) -> Array:
    """Crossing points (n, 2) of polylines `a` (p, 2) and `b` (q, 2).

    Segments are half-open (start in, end out), so a crossing at a shared vertex counts once; the
    last point of each line is in. Parallel overlaps count as none.
    """
    if len(a) < 2 or len(b) < 2:
        return np.empty((0, 2))
    p, r = a[:-1, None, :], np.diff(a, axis=0)[:, None, :]
    q, s = b[None, :-1, :], np.diff(b, axis=0)[None, :, :]

    def cross(u: Array, v: Array) -> Array:
        found: Array = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
        return found

    turn = cross(r, s)
    # Nearly parallel counts as parallel: where they would meet is noise.
    lengths = np.hypot(r[..., 0], r[..., 1]) * np.hypot(s[..., 0], s[..., 1])
    meets = np.abs(turn) > 1e-9 * np.maximum(lengths, 1e-12)
    divisor = np.where(meets, turn, 1.0)
    t, u = cross(q - p, s) / divisor, cross(q - p, r) / divisor
    last_a = np.arange(len(a) - 1)[:, None] == len(a) - 2
    last_b = np.arange(len(b) - 1)[None, :] == len(b) - 2
    hit = meets & (t >= 0) & (u >= 0)
    hit &= (t < 1) | (last_a & (t <= 1))
    hit &= (u < 1) | (last_b & (u <= 1))
    points: Array = (p + t[..., None] * r)[hit]
    return points


def crossings(marks: tuple[Drawn, ...]) -> tuple[Crossing, ...]:
    """Every crossing between an action path, a matte line and a split, left to right."""
    found = []
    for first_kind, second_kind in WATCHED:
        for first in (m for m in marks if m.kind == first_kind):
            for second in (m for m in marks if m.kind == second_kind):
                for x, y in segments_cross(first.array, second.array):
                    found.append(Crossing(first.id, second.id, float(x), float(y)))
    return tuple(sorted(found, key=lambda c: c.x_px))


def line_y(line: Array, xs: Array) -> Array:
    """Height of a matte line (n, 2) at `xs`: the lowest of its pieces there, NaN beside its ends.

    "Lowest" is the largest y, since a line that folds back forbids everything above its lowest
    piece.
    """
    best = np.full(len(xs), np.nan)
    for (x0, y0), (x1, y1) in itertools.pairwise(line):
        low, high = min(x0, x1), max(x0, x1)
        inside = (xs >= low) & (xs <= high)
        if not inside.any():
            continue
        along = (xs - x0) / (x1 - x0) if x1 != x0 else np.ones(len(xs))
        here = y0 + (y1 - y0) * along if x1 != x0 else np.full(len(xs), max(y0, y1))
        best = np.where(inside, np.fmax(best, here), best)
    return best


def above_line(points_px: Array, line: Array, width_px: float, height_px: float) -> float:
    """How far the worst point (n, 2) that is inside the picture rises above the matte line, in
    pixels; negative is the clearance left; -inf when nothing of it is over or under the line."""
    inside = (
        (points_px[:, 0] >= 0)
        & (points_px[:, 0] <= width_px)
        & (points_px[:, 1] <= height_px)
        & np.isfinite(points_px).all(axis=1)
    )
    points = points_px[inside]
    if not len(points):
        return -math.inf
    # A point above the picture's edge crosses as far as the edge; more cannot be seen.
    over = line_y(line, points[:, 0]) - np.maximum(points[:, 1], 0.0)
    over = over[np.isfinite(over)]
    return float(over.max()) if len(over) else -math.inf


@dataclass(frozen=True)
class Still:
    """A picture with its camera: `planned` is the shot's own, otherwise worked out from a thing."""

    width_px: float
    height_px: float
    camera: Camera
    planned: bool


def camera_from_thing(mark: Drawn, width_px: float, height_px: float) -> Still | None:
    """The camera of a still in which one thing of known height stands at a known distance.

    The thing's drawn height gives the angle of view: f_px = h_px · D / H, for a camera held about
    level and the horizon near the middle. None when the mark says neither. Source: similar
    triangles.
    """
    if mark.distance_m is None or mark.height_m is None or len(mark.points) < 2:
        return None
    drawn = float(np.ptp(mark.array[:, 1]))
    if drawn < 1.0:
        return None
    focal_px = drawn * positive("distance", mark.distance_m) / positive("height", mark.height_m)
    sensor = 36.0
    return Still(
        width_px,
        height_px,
        Camera(
            sensor_width_mm=sensor,
            sensor_height_mm=sensor * height_px / width_px,
            focal_mm=focal_px * sensor / width_px,
            position_m=(0.0, 0.0, 0.0),
        ),
        planned=False,
    )


@dataclass(frozen=True)
class Solid:
    """Something with a place in the world that must respect the matte line: points (n, 3)."""

    id: str
    name: str
    points_m: Array
    height_m: float
    distance_m: float
    held_out: bool = False


def solid_of_stand_in(stand_in: StandIn, held_out: bool = False) -> Solid:
    """A stand-in as what may cross a line: its outline, finely divided."""
    lines = [_dense3(line) for line in outlines(stand_in)]
    return Solid(
        stand_in.id,
        stand_in.name,
        np.concatenate(lines),
        stand_in.height_m,
        stand_in.y_m,
        held_out,
    )


def _dense3(line: Array, parts: int = 12) -> Array:
    """Points along a polyline (n, 3), each segment in equal parts."""
    steps = np.linspace(0.0, 1.0, parts, endpoint=False)[None, :, None]
    fine = line[:-1, None, :] + np.diff(line, axis=0)[:, None, :] * steps
    return np.concatenate([fine.reshape(-1, 3), line[-1:]])


def solid_of_mark(mark: Drawn, still: Still) -> Solid | None:
    """A drawn thing put at its distance in the world.

    Without a distance the foot of the drawing is taken to stand on the ground; None where that is
    at or above the horizon, or where the camera's height is not known.
    """
    if len(mark.points) < 2:
        return None
    points = mark.array
    distance = mark.distance_m
    if distance is None:
        if not still.planned:
            return None
        foot = points[np.argmax(points[:, 1])][None, :]
        ray = rays(still.camera, foot, still.width_px, still.height_px)[0]
        if ray[2] >= -1e-6 or ray[1] <= 0:
            return None
        distance = float(-still.camera.position_m[2] / ray[2] * ray[1])
    placed = at_distance(still.camera, dense(points), distance, still.width_px, still.height_px)
    placed = placed[np.isfinite(placed).all(axis=1)]
    if len(placed) < 2:
        return None
    tall = mark.height_m or float(np.ptp(placed[:, 2]))
    return Solid(mark.id, mark.label, placed, tall, distance, mark.kind == "holdout")


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
