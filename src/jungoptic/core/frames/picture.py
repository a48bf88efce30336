"""What moves of a sheet do in the picture: how far things step, and how far they are from where the
story has them. World metres and delivered pixels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array, Camera, CameraPath, axes_along
from ..moves import ease_of
from ..plan.mirrored import as_recorded
from ..plan.plate import Plate
from ..plan.sheet import Column
from ..plan.shot import Shot
from ..plan.standins import StandIn, measured_points
from ..stage.clip import Flags
from ..stage.in_frame import frame_parts
from ..stage.motion import along_way, shoulders
from ..stage.spots import velocities
from .chart import Chart
from .follows import CAMERA, CARRIES

#: Steps are followed over this many frames of a sheet; what comes later goes on alike.
MOST_FRAMES = 2_400


@dataclass(frozen=True)
class Steps:
    """One thing of the plate at its fastest: pixels from the frame before, at frame `frame`; the
    sharpest change of pace between two frames, at `jolt_frame`; and at its farthest from where the
    story has it and from where its moves would bring it without whole steps. How far away it is,
    and how wide along its way in the picture then."""

    thing: StandIn
    away_m: float
    width_px: float
    step_px: float
    frame: int
    jolt_px: float
    jolt_frame: int
    off_px: float
    rough_px: float


@dataclass(frozen=True)
class Moved:
    """A column with its chart."""

    column: Column
    chart: Chart


def steps_of(shot: Shot, plate: Plate, moved: Sequence[Moved]) -> list[Steps]:
    """What the charts do with every thing of a plate that is ever in the picture, nearest first."""
    frames = min(shot.frames, MOST_FRAMES)
    camera = shot.world.camera(shot.delivery)
    paths = [
        _path(shot, plate, camera, moved, how, frames) for how in ("reached", "wanted", "story")
    ]
    found = []
    for thing in shot.stand_ins_of(plate):
        at = [
            path.project(_places(shot, plate, thing, moved, how, frames), *_size(shot))
            for path, how in zip(paths, ("reached", "wanted", "story"), strict=True)
        ]
        told = _told(shot, thing, *at)
        if told is not None:
            found.append(told)
    return sorted(found, key=lambda s: s.away_m)


#: Somebody's arms, and a pose that reaches out: a box is made larger by this part to each side.
REACHES = 0.15


def boxes_of(
    shot: Shot, plate: Plate, columns: Sequence[Column], moved: Sequence[Moved], frame: int
) -> list[tuple[float, float, float, float]]:
    """Where what the columns of a sheet pose or move is in the picture that is taken at a frame
    from 1: left, top, right and bottom, parts of it. A column that names no thing may pose any of
    the plate's."""
    shot = as_recorded(shot, plate)
    camera = shot.world.camera(shot.delivery)
    frames = min(max(frame, 1), min(shot.frames, MOST_FRAMES))
    path = _path(shot, plate, camera, moved, "reached", frames)
    size = _size(shot)
    own = [s for s in shot.stand_ins_of(plate) if s.plate_id == plate.id and s.kind != "ground"]
    posed = [c for c in columns if c.kind in ("part", "piece") or c.thing_id is not None]
    named = {c.thing_id for c in posed}
    found = []
    for thing in own:
        if thing.id not in named and None not in named:
            continue
        places = _places(shot, plate, thing, moved, "reached", frames)
        pixels, _ = path.project(places, *size)
        at = pixels[-1]
        at = at[np.isfinite(at).all(axis=1)]
        if len(at):
            low, high = at.min(axis=0) / size, at.max(axis=0) / size
            more = REACHES * (high - low)
            (left, top), (right, bottom) = low - more, high + more
            found.append((float(left), float(top), float(right), float(bottom)))
    return found


def middles_of(shot: Shot, plate: Plate, thing: StandIn, moved: Sequence[Moved]) -> Array:
    """The middle of a thing (f, 3) in the pictures of a sheet, as its moves bring it there; world
    metres. What comes after `MOST_FRAMES` is not followed."""
    points = _places(shot, plate, thing, moved, "reached", min(shot.frames, MOST_FRAMES))
    middles: Array = (points.min(axis=1) + points.max(axis=1)) / 2.0
    return middles


def _size(shot: Shot) -> tuple[float, float]:
    return float(shot.delivery.width_px), float(shot.delivery.height_px)


def _ways(chart: Chart, how: str, frames: int) -> Array:
    way = chart.wanted if how == "wanted" else chart.reached
    return way[:frames]


def _path(
    shot: Shot, plate: Plate, camera: Camera, moved: Sequence[Moved], how: str, frames: int
) -> CameraPath:
    """The story's camera as the charts move it; axes without a chart go as the story has them."""
    story = shot.move.along(camera, frame_parts(shot)[:frames])
    if how == "story":
        return story
    positions = story.positions_m.copy()
    gone = ease_of(frame_parts(shot)[:frames], shot.move.ease)
    pan = camera.pan_deg + gone * shot.move.pan_deg
    tilt = camera.tilt_deg + gone * shot.move.tilt_deg
    for axis in {m.column.axis for m in moved} & CAMERA.keys():
        # Two charts of one axis carry each other.
        way = sum(_ways(m.chart, how, frames) for m in moved if m.column.axis == axis)
        if axis == "pan":
            pan = camera.pan_deg + way
        elif axis == "tilt":
            tilt = np.clip(camera.tilt_deg + way, -89.9, 89.9)
        else:
            number = ("track", "push", "crane").index(axis)
            positions[:, number] = camera.position_m[number] + way / 1000.0 * plate.scale
    return replace(story, positions_m=positions, axes=axes_along(pan, tilt, camera.roll_deg))


def _places(
    shot: Shot, plate: Plate, thing: StandIn, moved: Sequence[Moved], how: str, frames: int
) -> Array:
    """Where the points of a thing are (f, p, 3) at every frame."""
    points = measured_points(thing).points
    camera = shot.world.camera(shot.delivery)
    course = velocities([thing])[0]
    seconds = shot.time.at(frame_parts(shot)[:frames])
    own = [m for m in moved if m.column.thing_id == thing.id]
    carried = next((m for m in own if m.column.axis in CARRIES), None)
    gone: Array
    if how == "story" or carried is None:
        gone = seconds[:, None] * course
    else:
        speed = float(np.linalg.norm(course))
        along = course / speed if speed else camera.axes[0]
        way = _ways(carried.chart, how, frames) / 1000.0 * plate.scale
        gone = way[:, None] * along
    placed: Array = points + gone[:, None, :]
    # What turns goes as it is charted in the story too: the story has no say in it.
    turns = "wanted" if how == "story" else how
    table = next((m for m in own if m.column.axis == "turntable"), None)
    if table is not None:
        placed = _turned(thing, points, _ways(table.chart, turns, frames)) + gone[:, None, :]
    crank = next((m for m in own if m.column.axis == "crank" and m.column.arm_mm), None)
    if crank is not None:
        arm = (crank.column.arm_mm or 0.0) / 1000.0 * plate.scale
        angle = np.radians(_ways(crank.chart, turns, frames))[:, None]
        # The end of the arm, as it swings before the camera.
        swing = arm * (np.cos(angle) * camera.axes[0] - np.sin(angle) * camera.axes[1])
        hinge = placed.mean(axis=1)
        placed = np.concatenate([placed, (hinge + swing)[:, None, :]], axis=1)
    return placed


def _turned(thing: StandIn, points: Array, turned_deg: Array) -> Array:
    """Points of a thing (p, 3) turned about its middle (f, p, 3); seen from above clockwise, as a
    pan to the right."""
    turn = np.radians(turned_deg)[:, None]
    x, y = points[:, 0] - thing.x_m, points[:, 1] - thing.y_m
    found: Array = np.stack(
        [
            thing.x_m + x * np.cos(turn) + y * np.sin(turn),
            thing.y_m - x * np.sin(turn) + y * np.cos(turn),
            np.broadcast_to(points[:, 2], (len(turned_deg), len(points))),
        ],
        axis=-1,
    )
    return found


def _told(
    shot: Shot,
    thing: StandIn,
    reached: tuple[Array, Array],
    wanted: tuple[Array, Array],
    story: tuple[Array, Array],
) -> Steps | None:
    pixels, depths = reached
    wide, high = _size(shot)
    x, y = pixels[..., 0], pixels[..., 1]
    with np.errstate(invalid="ignore"):
        there = (x >= 0) & (x <= wide) & (y >= 0) & (y <= high)
    if not there.any():
        return None
    # What comes past the lens lies at infinity on its way, and is not there.
    with np.errstate(invalid="ignore"):
        way, change = np.diff(pixels, axis=0), np.diff(wanted[0], n=2, axis=0)
    step = np.where(there[1:], np.hypot(way[..., 0], way[..., 1]), 0.0)
    # How smooth a move is, is asked of the move; what whole steps do to it is told apart.
    jolt = np.where(there[1:-1], np.hypot(change[..., 0], change[..., 1]), 0.0)
    at = int(np.nan_to_num(step).max(axis=1).argmax()) if len(step) else 0
    hard = int(np.nan_to_num(jolt).max(axis=1).argmax()) if len(jolt) else 0
    return Steps(
        thing=thing,
        away_m=float(np.where(there, depths, np.inf).min()),
        width_px=_wide(thing, pixels[at], way[at] if len(way) else np.zeros_like(pixels[at])),
        step_px=_most(step),
        frame=at + 2 if len(step) else 1,
        jolt_px=_most(jolt),
        jolt_frame=hard + 2 if len(jolt) else 1,
        off_px=_apart(pixels, story[0], there),
        rough_px=_apart(pixels, wanted[0], there),
    )


def _wide(thing: StandIn, pixels: Array, way: Array) -> float:
    """How wide a thing with its points (p, 2) in the picture is along the way of its middle, when
    each goes so far (p, 2)."""
    ahead = np.isfinite(pixels).all(axis=1)
    if not ahead.any():
        return 0.0
    across, down = np.ptp(pixels[ahead], axis=0)
    if thing.kind == "figure":
        across = shoulders(across, down)
    goes = ahead & np.isfinite(way).all(axis=1)
    middle = way[goes].mean(axis=0) if goes.any() else np.zeros(2)
    return float(along_way(across, down, middle))


def _most(px: Array) -> float:
    return float(np.nan_to_num(px).max(initial=0.0))


def _apart(one: Array, two: Array, there: Flags) -> float:
    apart = np.hypot(*(one - two).transpose(2, 0, 1))
    return _most(np.where(there, apart, 0.0))
