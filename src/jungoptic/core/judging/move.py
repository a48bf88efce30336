"""Does the camera move work on this stage, at every frame?"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.derive import pupil_to_front_m
from ..stage.in_frame import frame_at, frame_parts
from ..words.quantities import length, pixels, seconds
from .limits import BLUR_SEEN_PX, LENS_CLEAR_M, LENS_RADIUS_M, MISMATCH_STRAINS_TO
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of


@dataclass(frozen=True)
class Walk:
    """The move on this stage, followed over its frames; stage metres.

    `parts` (f,) of the screen time; `off_px` (f,) the largest departure after the reframe that the
    first frame with anything in it needs, NaN where nothing is compared, and `worst_name` what the
    largest of all is of; `axis_m` (f,) the height of the lens axis; `clear_m` (f,) from the lens
    front to the nearest thing in frame or in its way, inf with none; `path` (f, 3) of the entrance
    pupil.
    """

    parts: Array
    off_px: Array
    axis_m: Array
    clear_m: Array
    path: Array
    worst_name: str

    @property
    def length_m(self) -> float:
        """How far the pupil travels on set."""
        return float(np.sum(np.hypot.reduce(np.diff(self.path, axis=0), axis=1)))

    @property
    def worst(self) -> int | None:
        """The frame, from 0, that departs most; None where nothing is compared."""
        return None if np.isnan(self.off_px).all() else int(np.nanargmax(self.off_px))


def walk(case: Case) -> Walk:
    """Follow the move of a case over every frame."""
    found = from_pupil(case)
    return replace(found, clear_m=found.clear_m - pupil_to_front_m(case.choice.lens))


def from_pupil(case: Case) -> Walk:
    """The same with `clear_m` from the entrance pupil: alike for every lens that stands there."""
    return case.once("walk", lambda: _follow(case))


def _follow(case: Case) -> Walk:
    shot, plate = case.shot, case.plate
    parts = case.seen.parts
    path = shot.move.along(case.stage.camera, parts, plate.scale)
    off, name = _departures(case)
    near = case.seen.ahead_of(case.own, LENS_RADIUS_M * plate.scale)
    return Walk(
        parts=parts,
        off_px=off,
        axis_m=path.positions_m[:, 2],
        clear_m=near / plate.scale,
        path=path.positions_m,
        worst_name=name,
    )


def _departures(case: Case) -> tuple[Array, str]:
    """The largest distance (f,) between the pictures at every frame, read between those that are
    looked at, and what the largest of all is of, after the reframe that the first frame with
    anything in it needs."""
    points = case.compared
    world, stage = points.world_px, case.stage_pixels
    rows = np.flatnonzero(np.isfinite(world + stage).all(axis=1))
    frames = points.frames[rows]
    off = np.full(points.seen.frames, np.nan)
    if not len(rows):
        return off, ""
    first = rows[frames == frames.min()]
    apart = points.off_px(stage, points.reframe(stage, first), rows)
    np.fmax.at(off, frames, apart)
    off = np.interp(np.arange(len(off)), points.looks, off[points.looks])
    return off, points.name(int(rows[apart.argmax()]))


def judge_move(case: Case) -> Finding | None:
    """The move on this stage at all its frames, the worst one named; None for a locked camera."""
    shot, stage = case.shot, case.stage
    if shot.move.still:
        return None
    steps = walk(case)
    low = int(steps.axis_m.argmin())
    near = int(steps.clear_m.argmin())
    off = steps.worst
    floor_short = stage.floor_axis_m - float(steps.axis_m[low])
    measured = asked(measure, case)
    assert measured is not None
    tolerance = case.tolerance.px
    off_px = 0.0 if off is None else float(steps.off_px[off])
    departs = banded(off_px, tolerance, tolerance * MISMATCH_STRAINS_TO)
    took = stage.set_duration_s
    said = (
        f"On this stage the camera {_goes(steps.length_m)} {seconds(took)}"
        + (f" (pans {shot.move.pan_deg:+.1f}°)" if abs(shot.move.pan_deg) >= 0.05 else "")
        + (f" (tilts {shot.move.tilt_deg:+.1f}°)" if abs(shot.move.tilt_deg) >= 0.05 else "")
        + _zooms(case)
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
    if off is not None and departs is not Verdict.HOLDS:
        troubles.append(
            f"worst at frame {frame_at(shot, float(steps.parts[off]))}: "
            f"{steps.worst_name} is off by {pixels(off_px)}"
        )
    held = (
        "nothing of it is ever in frame, so its height alone is checked"
        if off is None
        else "checked along all of it, nothing departs"
        if off_px < 0.05
        else f"checked along all of it, worst {pixels(off_px)} at frame "
        f"{frame_at(shot, float(steps.parts[off]))}"
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
                    Quantity("off", "largest departure", off_px, "px"),
                    Quantity("low", "lowest axis", float(steps.axis_m[low]) * 1000, "mm"),
                    Quantity("clear", "nearest to the front", float(steps.clear_m[near]), "m"),
                    *_zoom_numbers(shot),
                ),
                result=Quantity("path", "path on this stage", steps.length_m, "m"),
                source="Similar triangles; the reframe is the one the first frame needs. A zoom "
                "goes by even ratios, z^ease, and shows a departure z times as large.",
            ),
        ),
    )


def zoom_smear(shot: Shot) -> tuple[float, int]:
    """How far the sides of the picture smear at the fastest of a zoom, delivered pixels, and at
    which frame (from 1): half the width grows from one frame to the next by as many parts as the
    zoom does, for as long as the story's shutter is open."""
    zooms = shot.move.zooms(frame_parts(shot))
    if zooms is None or len(zooms) < 2:
        return 0.0, 1
    steps = np.abs(zooms[1:] / zooms[:-1] - 1.0)
    fastest = int(steps.argmax())
    open_for = shot.world.shutter_deg / 360.0
    return float(steps[fastest]) * shot.delivery.width_px / 2.0 * open_for, fastest + 1


def _zooms(case: Case) -> str:
    """What a zoom does, and what it asks of post."""
    shot = case.shot
    if shot.move.zoom == 1.0:
        return ""
    zoom = shot.move.zoom
    does = f"closes in {zoom:.3g}" if zoom > 1.0 else f"opens out {1.0 / zoom:.3g}"
    said = f"; the zoom {does} times, made in post from the widest view"
    smear, frame = zoom_smear(shot)
    if smear >= BLUR_SEEN_PX * shot.delivery.width_px / 1920.0:
        said += (
            f"; its sides smear over {pixels(smear)} at frame {frame}, which post puts on all "
            "plates together"
        )
    return said


def _zoom_numbers(shot: Shot) -> tuple[Quantity, ...]:
    if shot.move.zoom == 1.0:
        return ()
    smear, _ = zoom_smear(shot)
    return (
        Quantity("z", "last focal length over the first", shot.move.zoom, ""),
        Quantity("b", "smear of the sides at its fastest", smear, "px"),
    )


def _goes(length_m: float) -> str:
    return f"goes {length(length_m)} in" if length_m >= 0.0005 else "stays in its place for"


def measure(n: Numbers) -> Measured | None:
    """The worst frame of the move: departure, height of the axis, what comes near the lens front;
    None for a locked camera."""
    if n.shot.move.still:
        return None
    off = n.of_place("move off", lambda case: float(np.fmax.reduce(from_pupil(case).off_px)))
    low = n.of_place(
        "move low",
        lambda case: case.stage.floor_axis_m - float(from_pupil(case).axis_m.min()),
    )
    clear = n.of_place("move clear", lambda case: float(from_pupil(case).clear_m.min()))
    near = n.of_setup("front", lambda s: pupil_to_front_m(s.lens)) - clear + LENS_CLEAR_M
    most = n.tolerance_px * MISMATCH_STRAINS_TO
    # What is never in frame cannot depart.
    departs = np.where(np.isnan(off), 0, ranked(off, n.tolerance_px, most))
    ranks = np.maximum(departs, ranked(low, 1e-6, 1e-6))
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
