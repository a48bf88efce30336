"""The points at which a plate's camera is compared with the story's: what it films and what touches
it, as far as the story shows them, at every frame."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..camera import Array, Camera
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.standins import (
    NamedPoints,
    StandIn,
    body_points,
    measured_points,
    reference_points,
)
from .in_frame import in_story, own_things
from .seen import Seen, velocities

#: How far outside the delivered frame a point may lie and still count, as a part of its size.
#: What nobody sees cannot mismatch.
EDGE = 0.05
#: A foot this near a thing of the plate stands on it or leans at it, world metres (judgement).
TOUCHES_M = 0.3
#: Where nothing is named yet: ground and people are looked at from here to there, world metres.
UNKNOWN_M = (2.0, 10.0)


@dataclass(frozen=True)
class Compared:
    """Points that two cameras must agree on: `points` (r, 3) in world metres, each at its frame
    (`frames`, counted from 0 in the story's `path`) and with its name; `world_px` (r, 2): where the
    story has them."""

    seen: Seen
    frames: NDArray[np.intp]
    points: Array
    names: tuple[str, ...]

    @cached_property
    def world_px(self) -> Array:
        """Where the story's camera has them (r, 2), delivered pixels."""
        return self._project(self.points, self.seen.path.positions_m, self.seen.path.axes)

    def through(
        self, shot: Shot, plate: Plate, camera: Camera, wander_m: Array | None = None
    ) -> Array:
        """Where a stage's `camera` has them (r, 2) as it makes the shot's move, off it by
        `wander_m` (f, 3) stage metres; NaN behind it."""
        seen = self.seen
        parts = seen.seconds / shot.screen_time_s
        path = shot.move.along(camera, parts, plate.scale)
        slopes = (
            camera.focal_mm / camera.sensor_width_mm * seen.width_px,
            camera.focal_mm / camera.sensor_height_mm * seen.height_px,
        )
        positions = path.positions_m if wander_m is None else path.positions_m + wander_m
        return self._project(plate.on_stage(self.points), positions, path.axes, slopes)

    def first(self) -> Compared:
        """The points of the first frame that has any."""
        rows = np.flatnonzero(self.frames == self.frames.min(initial=self.seen.frames))
        return replace(
            self,
            frames=self.frames[rows],
            points=self.points[rows],
            names=tuple(self.names[i] for i in rows),
        )

    def _project(
        self,
        points: Array,
        positions: Array,
        axes: Array,
        slopes: tuple[float, float] | None = None,
    ) -> Array:
        away = points - positions[self.frames]
        turned = np.einsum("ri,rji->rj", away, axes[self.frames])
        camera, seen = self.seen.path.camera, self.seen
        if slopes is None:
            slopes = (
                camera.focal_mm / camera.sensor_width_mm * seen.width_px,
                camera.focal_mm / camera.sensor_height_mm * seen.height_px,
            )
        depth = np.where(turned[:, 2] > 1e-12, turned[:, 2], np.nan)
        middle = np.array([seen.width_px / 2.0, seen.height_px / 2.0])
        pixels: Array = middle + turned[:, :2] / depth[:, None] * np.array(slopes)
        return pixels


def compared(shot: Shot, plate: Plate) -> Compared:
    """Where the cameras of story and plate must agree."""
    if shot.old_rules:
        return shot.once("all compared", lambda: _all(shot))
    key = f"compared {plate.id} {plate.kind} {plate.cut} {plate.ground_m} {plate.lock_group}"
    return shot.once(key, lambda: _compared(shot, plate))


def _compared(shot: Shot, plate: Plate) -> Compared:
    found = in_story(shot)
    own = tuple(s for s in _set_of(shot, plate) if not (plate.kind == "still" and _flat(s)))
    points, speeds, names = [], [], []
    for thing in (*own, *(s for s in _touching(shot, plate) if s not in own)):
        measured = measured_points(thing)
        if thing in own:
            measured = NamedPoints.joined([measured, body_points(thing)])
        keep = slice(None) if thing in own else _feet(thing)
        points.append(measured.points[keep])
        speeds.append(np.repeat(velocities([thing]), len(points[-1]), axis=0))
        names += list(measured.names[keep])
    if stands_whole(plate):
        ground, told = _ground(shot, plate, found)
        points.append(ground)
        speeds.append(np.zeros_like(ground))
        names += told
    rows = _in_picture(found, points, speeds, names)
    edges = _at_the_edge(found, own)
    return Compared(
        found,
        np.concatenate([rows.frames, edges.frames]),
        np.concatenate([rows.points, edges.points]),
        rows.names + edges.names,
    )


def _all(shot: Shot) -> Compared:
    """Every point of the shot as it begins, with ground and people from the nearest to the
    farthest: see `Shot.old_rules`."""
    found = in_story(shot)
    own = [measured_points(s) for s in shot.stand_ins]
    ahead = [depths for depths in shot.depths_m.values() if len(depths)]
    near, far = UNKNOWN_M
    if ahead:
        near = max(min(float(d.min()) for d in ahead), 0.1)
        far = max(float(d.max()) for d in ahead)
    half = shot.world.sensor_width_mm / 2.0 / shot.world.focal_mm
    every = NamedPoints.joined([*own, reference_points(near, max(far, near * 1.5), half)])
    rows = _in_picture(found, [every.points], [np.zeros_like(every.points)], list(every.names))
    first = np.flatnonzero(rows.frames == 0)
    return Compared(
        found, rows.frames[first], rows.points[first], tuple(rows.names[i] for i in first)
    )


def stands_whole(plate: Plate) -> bool:
    """Whether a plate's own ground shows in the picture: what is cut out of its surroundings leaves
    them behind."""
    if plate.cut in ("key", "luma", "roto"):
        return False
    return plate.kind in ("miniature", "live", "puppet")


def _set_of(shot: Shot, plate: Plate) -> tuple[StandIn, ...]:
    """What a plate's picture is made of: its own things and, where it is not cut out of them, those
    that the other passes of its lock-off film in the same place."""
    own = own_things(shot, plate)
    if not plate.lock_group or not stands_whole(plate):
        return own
    others = [p for p in shot.plates if p.lock_group == plate.lock_group and p.id != plate.id]
    return own + tuple(s for p in others for s in own_things(shot, p))


def _flat(thing: StandIn) -> bool:
    return thing.kind == "card"


def _feet(thing: StandIn) -> slice:
    """Its lowest points among those measured."""
    return slice(0, {"figure": 1, "card": 2, "box": 4}.get(thing.kind, 0))


def _touching(shot: Shot, plate: Plate) -> list[StandIn]:
    """What of other plates stands on or against what this one films."""
    own = [s for s in shot.stand_ins_of(plate) if s.matters != "none"]
    return [
        other
        for other in shot.stand_ins
        if other.plate_id != plate.id
        and other.plate_id is not None
        and other.kind != "ground"
        and other.matters in ("full", "soft")
        and any(_touch(other, thing) for thing in own)
    ]


def _touch(other: StandIn, thing: StandIn) -> bool:
    """Whether the foot of `other` comes near what `thing` is, as the shot begins."""
    turn = np.radians(thing.heading_deg)
    away = np.array([other.x_m - thing.x_m, other.y_m - thing.y_m])
    c, s = np.cos(turn), np.sin(turn)
    right, deep = away @ (c, -s), away @ (s, c)
    aside = abs(right) - thing.width_m / 2.0
    past = max(-deep, deep - thing.depth_m)
    top = thing.z_m + (0.0 if thing.kind == "ground" else thing.height_m)
    over = max(thing.z_m - other.z_m, other.z_m - top)
    return bool(max(aside, past, over) <= TOUCHES_M)


def _ground(shot: Shot, plate: Plate, found: Seen) -> tuple[Array, list[str]]:
    """A 3 x 3 grid on the ground that the plate shows, from its nearest to its farthest thing, and
    people on it while nothing that is named is in frame."""
    rows = found.numbers(_set_of(shot, plate))
    near, far = UNKNOWN_M
    named = bool(found.shows[rows].any())
    if named:
        near = max(float(np.nanmin(found.near_m[rows])), 0.1)
        far = float(np.nanmax(found.far_m[rows]))
    far = max(far, near * 1.5)
    half = shot.world.sensor_width_mm / 2.0 / shot.world.focal_mm
    ahead = reference_points(near, far, half)
    if named:
        ahead = ahead.where(ahead.points[:, 2] == 0.0)
    pan = math.radians(shot.world.pan_deg)
    x, y, z = ahead.points.T
    points = np.stack(
        [
            y * math.sin(pan) + x * math.cos(pan),
            y * math.cos(pan) - x * math.sin(pan),
            z + plate.ground_m,
        ],
        axis=1,
    )
    return points, list(ahead.names)


@dataclass(frozen=True)
class _Rows:
    frames: NDArray[np.intp]
    points: Array
    names: tuple[str, ...]


def _in_picture(found: Seen, points: list[Array], speeds: list[Array], names: list[str]) -> _Rows:
    """Named points at every frame whose picture has them, or nearly."""
    if not names:
        return _Rows(np.empty(0, dtype=np.intp), np.empty((0, 3)), ())
    at = np.concatenate(points)[None] + found.seconds[:, None, None] * np.concatenate(speeds)[None]
    pixels, _ = found.path.project(at, found.width_px, found.height_px)
    size = np.array([found.width_px, found.height_px])
    with np.errstate(invalid="ignore"):
        inside = ((pixels >= -EDGE * size) & (pixels <= (1.0 + EDGE) * size)).all(axis=2)
    frames, which = np.nonzero(inside)
    return _Rows(frames, at[frames, which], tuple(names[i] for i in which))


def _at_the_edge(found: Seen, own: tuple[StandIn, ...]) -> _Rows:
    """Where a thing that is not all in the picture runs out of it: a wall that fills the frame has
    no corner there, and must lie right all the same."""
    wanted = np.zeros(len(found.things), dtype=bool)
    wanted[found.numbers(own)] = True
    cuts = found.cuts
    rows = np.flatnonzero(wanted[cuts.things])
    names = tuple(f"{found.things[i].name} at the edge of the frame" for i in cuts.things[rows])
    return _Rows(cuts.frames[rows], found.to_world(cuts.at[rows], cuts.frames[rows]), names)
