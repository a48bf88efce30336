"""The points at which a plate's camera is compared with the story's: what it films and what touches
it, as far as the story shows them, at every frame."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from ..camera import Array, Camera, CameraPath
from ..matching import (
    Mismatch,
    Similarity,
    fit_similarity,
    plain_and_fitted,
    plain_and_moved,
)
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
from .rows import Once, at_the_edge, in_picture, looks_at
from .seen import Seen
from .spots import spots_px, velocities

#: A foot this near a thing of the plate stands on it or leans at it, world metres (judgement).
TOUCHES_M = 0.3
#: Where nothing is named yet: ground and people are looked at from here to there, world metres.
UNKNOWN_M = (2.0, 10.0)


@dataclass(frozen=True)
class Compared:
    """Points that two cameras must agree on, each at its frame (`frames` (r,), counted from 0 in
    the story's path) and with its name (`named` (r,), numbers in `labels`); `world_px` (r, 2):
    where the story has them. `places` (u, 3): where they lie, world metres; see `Rows`.

    Pictures part smoothly, so they are compared at some frames evenly along the shot, and at
    those where things enter and leave the picture."""

    seen: Seen
    frames: NDArray[np.intp]
    places: Array
    labels: tuple[str, ...]
    named: NDArray[np.intp]
    #: The frames that were looked at.
    looks: NDArray[np.intp]
    #: Which rows are of the same place, told only before a camera that stands still.
    once: Once | None = None

    def name(self, row: int) -> str:
        """What the point of a row is."""
        return self.labels[int(self.named[row])]

    def frame(self, row: int) -> int:
        """The frame (from 1) that the point of a row is at."""
        return self.seen.number(int(self.frames[row]))

    @cached_property
    def points(self) -> Array:
        """Where each row's point (r, 3) lies, world metres."""
        return self.places if self.once is None else self.places[self.once.like]

    @property
    def names(self) -> tuple[str, ...]:
        """The name of every row."""
        return tuple(self.labels[i] for i in self.named)

    @cached_property
    def world_px(self) -> Array:
        """Where the story's camera has them (r, 2), delivered pixels."""
        return self._project(self.places, self.seen.path, self.once)

    def through(
        self, shot: Shot, plate: Plate, camera: Camera, wander_m: Array | None = None
    ) -> Array:
        """Where a stage's `camera` has them (r, 2) as it makes the shot's move, off it by
        `wander_m` (f, 3) stage metres; NaN behind it."""
        seen = self.seen
        path = shot.move.along(camera, seen.parts, plate.scale)
        if wander_m is not None:
            path = replace(path, positions_m=path.positions_m + wander_m)
        if shot.move.still and wander_m is None:
            return self._project(plate.on_stage(self.places), path, self.once)
        return self._project(plate.on_stage(self.points), path, None)

    def first(self) -> Compared:
        """The points of the first frame that has any."""
        rows = np.flatnonzero(self.frames == self.frames.min(initial=self.seen.frames))
        return replace(
            self,
            frames=self.frames[rows],
            places=self.points[rows],
            named=self.named[rows],
            once=None,
        )

    def _project(
        self,
        places: Array,
        path: CameraPath,
        once: Once | None,
    ) -> Array:
        frames = self.frames
        if once is not None:
            frames = frames[once.first]
        away = places - path.positions_m[frames]
        if len(path.axes) == 1:
            turned = away @ path.axes[0].T
        else:
            turned = np.einsum("ri,rji->rj", away, path.axes[frames])
        found = spots_px(path, turned, frames, self.seen.width_px, self.seen.height_px)
        return found if once is None else found[once.like]

    @cached_property
    def closer(self) -> Array | None:
        """How much closer a zoom in post shows the rows (r,) than the shot began; None without."""
        zooms = self.seen.path.zooms
        return None if zooms is None else zooms[self.frames]

    def apart(self, there_px: Array, here_px: Array) -> tuple[Mismatch, Mismatch]:
        """How far the rows lie apart in two pictures (r, 2), before and after the best reframe of
        what is `here_px`."""
        return plain_and_fitted(self._begins(there_px), self._begins(here_px), self.closer)

    def laid_over(self, here_px: Array) -> tuple[Mismatch, Mismatch, Similarity | None]:
        """How far the rows of a picture (r, 2) lie from where the story has them, before and after
        the best reframe; and that reframe, None where too little is in view to find one."""
        return plain_and_moved(self._begins(self.world_px), self._begins(here_px), self.closer)

    def reframe(self, here_px: Array, rows: NDArray[np.intp]) -> Similarity:
        """The move that lays these rows of a picture where the story has them, at their best, in
        pixels as the shot begins: a zoom comes after it."""
        here, there = (self._begins(px)[rows] for px in (here_px, self.world_px))
        return fit_similarity(here, there, None if self.closer is None else self.closer[rows])[1]

    def off_px(self, here_px: Array, by: Similarity, rows: NDArray[np.intp]) -> Array:
        """How far (p,) from where the story has them a reframe lays these rows of a picture, as a
        zoom then shows it."""
        here, there = (self._begins(px)[rows] @ (1.0, 1.0j) for px in (here_px, self.world_px))
        off: Array = np.abs(here * by.turn + by.shift - there)
        return off if self.closer is None else off * self.closer[rows]

    def _begins(self, px: Array) -> Array:
        """Places in a picture (r, 2), pixels, as they lie before a zoom."""
        if self.closer is None:
            return px
        middle = np.array([self.seen.width_px, self.seen.height_px]) / 2.0
        begins: Array = middle + (px - middle) / self.closer[:, None]
        return begins


def compared(shot: Shot, plate: Plate) -> Compared:
    """Where the cameras of story and plate must agree."""
    if shot.old_rules:
        return shot.once("all compared", lambda: _all(shot))
    beside = [p.id for p in _partners(shot, plate)]
    key = f"compared {plate.id} {plate.kind} {plate.cut} {plate.ground_m} {beside}"
    return in_story(shot).once(key, lambda: _compared(shot, plate))


def _compared(shot: Shot, plate: Plate) -> Compared:
    found = in_story(shot)
    own = tuple(
        thing
        for thing in _set_of(shot, plate)
        if not (plate.kind == "still" and _flat(thing)) and _ever_seen(found, thing)
    )
    points: list[Array] = []
    names: list[str] = []
    mine = {thing.id for thing in own}
    touching = [s for s in _touching(shot, plate) if s.id not in mine and _ever_seen(found, s)]
    things = (*own, *touching)
    for thing in things:
        measured = _points_of(thing) if thing.id in mine else measured_points(thing)
        keep = slice(None) if thing.id in mine else _feet(thing)
        points.append(measured.points[keep])
        names += measured.names[keep]
    speeds = [np.repeat(velocities(things), [len(p) for p in points], axis=0)]
    if stands_whole(plate):
        ground, told = _ground(shot, plate, found)
        points.append(ground)
        speeds.append(np.zeros_like(ground))
        names += told
    looks = looks_at(found, own)
    rows = in_picture(found, looks, points, speeds)
    rows = rows.joined(at_the_edge(found, looks, own), len(names))
    return Compared(
        found,
        rows.frames,
        rows.places,
        (*names, *(f"{thing.name} at the edge of the frame" for thing in found.things)),
        rows.named,
        looks,
        rows.once,
    )


def _ever_seen(found: Seen, thing: StandIn) -> bool:
    """A thing just outside the frame has points at its edge that nobody sees."""
    return bool(found.ever[found.number_of(thing)])


@lru_cache(maxsize=2048)
def _points_of(thing: StandIn) -> NamedPoints:
    """All points of a thing that two cameras must agree on."""
    return NamedPoints.joined([measured_points(thing), body_points(thing)])


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
    half = shot.world.sensor_width_mm / 2.0 / shot.world.focal_mm / shot.move.widest
    every = NamedPoints.joined([*own, reference_points(near, max(far, near * 1.5), half)])
    first = np.zeros(1, dtype=np.intp)
    rows = in_picture(found, first, [every.points], [np.zeros_like(every.points)])
    return Compared(found, rows.frames, rows.places, every.names, rows.named, first, rows.once)


def stands_whole(plate: Plate) -> bool:
    """Whether a plate's own ground shows in the picture: what is cut out of its surroundings leaves
    them behind."""
    if plate.cut in ("key", "luma", "roto"):
        return False
    return plate.kind in ("miniature", "live", "puppet")


def _set_of(shot: Shot, plate: Plate) -> tuple[StandIn, ...]:
    """What a plate's picture is made of: its own things and, where it is not cut out of them, those
    that the other passes of its lock-off film in the same place."""
    others = _partners(shot, plate)
    return own_things(shot, plate) + tuple(s for p in others for s in own_things(shot, p))


def _partners(shot: Shot, plate: Plate) -> list[Plate]:
    """The other passes of its lock-off, of a plate that shows the place they share."""
    if not plate.lock_group or not stands_whole(plate):
        return []
    return [p for p in shot.plates if p.lock_group == plate.lock_group and p.id != plate.id]


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
    over = max(thing.z_m - other.z_m, other.z_m - thing.top_m)
    return bool(max(thing.outside_m(other.x_m, other.y_m), over) <= TOUCHES_M)


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
    half = shot.world.sensor_width_mm / 2.0 / shot.world.focal_mm / shot.move.widest
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
