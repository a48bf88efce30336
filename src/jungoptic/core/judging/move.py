"""Does the camera move work on this stage, at every frame?"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array, Camera, CameraPath
from ..matching import fit_similarity
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import measured_points
from ..stage.case import Case
from ..stage.derive import pupil_to_front_m
from ..stage.motion import frame_at, frame_parts, velocities
from ..words.quantities import length, pixels, seconds
from .limits import LENS_CLEAR_M, MISMATCH_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of


@dataclass(frozen=True)
class Walk:
    """The move on this stage, followed over its frames; stage metres.

    `parts` (f,) of the screen time; `off_px` (f,) the largest departure after the reframe that the
    first frame needs; `axis_m` (f,) the height of the lens axis; `clear_m` (f,) from the lens front
    to the nearest thing ahead; `path` (f, 3) of the entrance pupil; `worst_names` per frame, ""
    where nothing is compared.
    """

    parts: Array
    off_px: Array
    axis_m: Array
    clear_m: Array
    path: Array
    worst_names: tuple[str, ...]

    @property
    def length_m(self) -> float:
        """How far the pupil travels on set."""
        return float(np.sum(np.hypot.reduce(np.diff(self.path, axis=0), axis=1)))


def walk(case: Case) -> Walk:
    """Follow the move of a case over every frame."""
    found = from_pupil(case)
    return replace(found, clear_m=found.clear_m - pupil_to_front_m(case.choice.lens))


def from_pupil(case: Case) -> Walk:
    """The same with `clear_m` from the entrance pupil: alike for every lens that stands there."""
    return case.once("walk", lambda: follow(case.shot, case.plate, case.stage.camera, 0.0))


def follow(shot: Shot, plate: Plate, camera: Camera, front_m: float) -> Walk:
    """Follow the move of a stage `camera` over every frame; a single frame for a locked one.
    `front_m`: from the entrance pupil to the lens front."""
    w, h = shot.delivery.width_px, shot.delivery.height_px
    parts = np.zeros(1) if shot.move.still else frame_parts(shot)
    view = shot.world_view.points
    at = view.points + _speeds(shot) * (parts[:, None, None] * shot.screen_time_s)
    world_px, _ = shot.move.along(shot.world.camera(shot.delivery), parts).project(at, w, h)
    path = shot.move.along(camera, parts, plate.scale)
    stage_px, _ = path.project(plate.on_stage(at), w, h)
    off = _departures(world_px, stage_px, w, h)
    # With nothing in frame as the shot begins there is nothing to compare.
    none = not len(view.names)
    names = ("",) * len(parts) if none else tuple(view.names[i] for i in off.argmax(axis=1))
    return Walk(
        parts=parts,
        off_px=off.max(axis=1, initial=0.0),
        axis_m=path.positions_m[:, 2],
        clear_m=_clearance(shot, plate, path, front_m),
        path=path.positions_m,
        worst_names=names,
    )


def _speeds(shot: Shot) -> Array:
    """World velocity (n, 3) of every compared point; the reference points stand still."""
    own = tuple(s for s in shot.stand_ins if s.speed_m_s)
    speed = {
        name: row
        for s in own
        for name, row in zip(
            measured_points(s).names,
            velocities((s,), [len(measured_points(s).names)]),
            strict=True,
        )
    }
    still = np.zeros(3)
    names = shot.world_view.points.names
    return np.array([speed.get(name, still) for name in names]).reshape(-1, 3)


def _departures(world_px: Array, stage_px: Array, width: float, height: float) -> Array:
    """Distance (f, n) between the pictures after the reframe that the first frame needs; 0 for what
    is not in the picture."""
    both = np.logical_and.reduce(np.isfinite(world_px + stage_px), axis=2)
    first = np.flatnonzero(both[0])
    if len(first):
        _, turn = fit_similarity(stage_px[0, first], world_px[0, first])
        spin = turn.scale * np.exp(1j * math.radians(turn.rotation_deg))
        shift = complex(turn.shift_x_px, turn.shift_y_px)
    else:
        spin, shift = 1.0 + 0.0j, 0.0j
    placed = (stage_px[..., 0] + 1j * stage_px[..., 1]) * spin + shift
    off = np.abs(placed - (world_px[..., 0] + 1j * world_px[..., 1]))
    with np.errstate(invalid="ignore"):
        inside = (
            both
            & (world_px >= 0.0).all(axis=2)
            & (world_px[..., 0] <= width)
            & (world_px[..., 1] <= height)
        )
    found: Array = np.where(inside, off, 0.0)
    return found


def _clearance(shot: Shot, plate: Plate, path: CameraPath, front_m: float) -> Array:
    """From the lens front to the nearest thing ahead (f,), at every frame; inf with none."""
    things = shot.points_of(plate).points
    if not len(things):
        return np.full(len(path.positions_m), np.inf)
    _, depth = path.project(plate.on_stage(things), 1.0, 1.0)
    nearest: Array = np.where(depth > 0, depth, np.inf).min(axis=1) - front_m
    return nearest


def judge_move(case: Case) -> Finding | None:
    """The move on this stage at all its frames, the worst one named; None for a locked camera."""
    shot, stage = case.shot, case.stage
    if shot.move.still:
        return None
    steps = walk(case)
    low = int(steps.axis_m.argmin())
    near = int(steps.clear_m.argmin())
    off = int(steps.off_px.argmax())
    floor_short = stage.floor_axis_m - float(steps.axis_m[low])
    measured = asked(measure, case)
    assert measured is not None
    tolerance = case.tolerance.px
    departs = banded(float(steps.off_px[off]), tolerance, tolerance * MISMATCH_STRAINS_TO)
    took = stage.set_duration_s
    said = (
        f"On this stage the camera goes {length(steps.length_m)} in {seconds(took)}"
        + (f" (pans {shot.move.pan_deg:+.1f}°)" if shot.move.pan_deg else "")
        + (f" (tilts {shot.move.tilt_deg:+.1f}°)" if shot.move.tilt_deg else "")
    )
    troubles = []
    if floor_short > 1e-6:
        troubles.append(
            f"at frame {frame_at(shot, float(steps.parts[low]))} the lens axis should be "
            f"{length(float(steps.axis_m[low]))} up, {length(floor_short)} below its floor"
        )
    if steps.clear_m[near] < LENS_CLEAR_M:
        troubles.append(
            f"at frame {frame_at(shot, float(steps.parts[near]))} something comes within "
            f"{length(max(float(steps.clear_m[near]), 0.0))} of the lens front"
        )
    if departs is not Verdict.HOLDS:
        troubles.append(
            f"worst at frame {frame_at(shot, float(steps.parts[off]))}: "
            f"{steps.worst_names[off]} is off by {pixels(float(steps.off_px[off]))}"
        )
    held = (
        "nothing is in frame as the shot begins, so height and clearance alone are checked"
        if not steps.worst_names[off]
        else f"checked at all {len(steps.parts)} frames, worst "
        f"{pixels(float(steps.off_px[off]))} at frame {frame_at(shot, float(steps.parts[off]))}"
    )
    return RULE.finding(
        verdict=verdict_of(measured),
        sentence=f"{said}; {'; '.join(troubles) if troubles else held}.",
        workings=(
            Working(
                formula="path on stage = path in the world / S;  time on set = screen time · "
                "playback / capture",
                inputs=(
                    Quantity("p", "path in the world, straight", shot.move.length_m, "m"),
                    Quantity("S", "scale", case.plate.scale, ""),
                    Quantity("t", "time on set", took, "s"),
                    Quantity("off", "largest departure", float(steps.off_px[off]), "px"),
                    Quantity("low", "lowest axis", float(steps.axis_m[low]) * 1000, "mm"),
                    Quantity("clear", "nearest to the front", float(steps.clear_m[near]), "m"),
                ),
                result=Quantity("path", "path on this stage", steps.length_m, "m"),
                source="Similar triangles; the reframe is the one the first frame needs.",
            ),
        ),
    )


def measure(n: Numbers) -> Measured | None:
    """The worst frame of the move: departure, height of the axis, what comes near the lens front;
    None for a locked camera."""
    if n.shot.move.still:
        return None
    off = n.of_place("move off", lambda case: float(from_pupil(case).off_px.max()))
    low = n.of_place(
        "move low",
        lambda case: case.stage.floor_axis_m - float(from_pupil(case).axis_m.min()),
    )
    clear = n.of_place("move clear", lambda case: float(from_pupil(case).clear_m.min()))
    near = n.of_setup("front", lambda s: pupil_to_front_m(s.lens)) - clear + LENS_CLEAR_M
    most = n.tolerance_px * MISMATCH_STRAINS_TO
    ranks = np.maximum(ranked(off, n.tolerance_px, most), ranked(low, 1e-6, 1e-6))
    ranks = np.maximum(ranks, ranked(near, 0.0, 0.0))
    return Measured(ranks, np.maximum(low, near))


RULE = Rule(
    key="move",
    title="Camera move",
    name="camera move",
    speak=judge_move,
    axes=frozenset({"setup"}),
    measure=measure,
    otherwise="A smaller camera move, or a body that goes as low as the move does.",
)
