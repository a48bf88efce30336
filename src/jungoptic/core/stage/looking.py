"""Looking at a shot: what a camera's path shows of every thing, worked out for all frames."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ..camera import Array, Camera, CameraPath
from ..plan.standins import StandIn
from ..plan.story_time import StoryTime
from ..plan.world import Delivery, Move
from .clip import Cuts, Flags, View, clipped
from .seen import Parted, Seen
from .solids import Mesh, mesh_of
from .spots import spots_px, to_pixels, velocities
from .spread import Laid, Spread, laid

#: So many frames of a moving shot are told apart, evenly along it; 200 seconds at 24 a second have
#: no more.
MOST_FRAMES = 4_801
#: So many cameras are kept with what they saw of what is at rest, or of what moves, and how large
#: that may be, frames times things: some three megabytes.
CAMERAS, LARGEST_KEPT = 8, 10_000
#: Frames times things below which looking apart at what is at rest takes longer than it saves.
LEAST_PARTED = 600


@dataclass(frozen=True)
class Look:
    """How a camera looks at a shot: where it begins (world metres), its move, the story's time, and
    how much picture is kept around the delivered one, as a part of it, each side."""

    camera: Camera
    delivery: Delivery
    move: Move
    time: StoryTime
    padding: float


class Path(NamedTuple):
    """f frames of a look: the camera at each, the story's seconds, the parts of the screen time
    gone by, and `Seen.share`."""

    along: CameraPath
    seconds: Array
    parts: Array
    share: float

    @property
    def first(self) -> Path:
        """Its first frame alone."""
        none = np.zeros(1, dtype=np.intp)
        return Path(self.along.at(none), self.seconds[:1], self.parts[:1], self.share)


@lru_cache(maxsize=2 * CAMERAS)
def _parts(count: int) -> Array:
    """So many parts of a time, evenly from its beginning to its end."""
    found = np.linspace(0.0, 1.0, count)
    found.setflags(write=False)
    return found


@lru_cache(maxsize=2 * CAMERAS)
def _path(look: Look, moves: bool) -> Path:
    """All frames told apart, which is one where nothing `moves`."""
    frames = look.time.frames
    # A single frame lasts from its beginning to its end.
    parts = _parts(min(max(frames, 2), MOST_FRAMES)) if moves else np.zeros(1)
    along = look.move.along(look.camera, parts)
    return Path(along, look.time.at(parts), parts, (len(parts) - 1.0) / frames)


def seen(look: Look, things: tuple[StandIn, ...]) -> Seen:
    """What a look shows of `things`, which move on as the story's seconds do."""
    goes = np.array([bool(thing.speed_m_s) for thing in things], dtype=bool)
    moves = not look.move.still or bool(goes.any())
    few = look.time.frames * len(things) < LEAST_PARTED
    if not look.move.still or goes.all() or not goes.any() or few:
        return _seen(look, _path(look, moves), things)
    # A camera that stands still shows what is at rest as it shows it at one frame.
    resting, moving = np.flatnonzero(~goes), np.flatnonzero(goes)
    once = _part(look, tuple(things[i] for i in resting), True)
    apart = _part(look, tuple(things[i] for i in moving), False)
    return _together(look, things, goes, once, apart)


def _part(look: Look, things: tuple[StandIn, ...], first: bool) -> Seen:
    large = (1 if first else look.time.frames) * len(things) > LARGEST_KEPT
    return (_part_kept.__wrapped__ if large else _part_kept)(look, things, first)


@lru_cache(maxsize=CAMERAS)
def _part_kept(look: Look, things: tuple[StandIn, ...], first: bool) -> Seen:
    """Kept: what is dragged is at rest or moves, and the other part stays as it is."""
    path = _path(look, True)
    return _seen(look, path.first if first else path, things)


def _seen(look: Look, path: Path, things: tuple[StandIn, ...]) -> Seen:
    along, seconds, parts, share = path
    width_px, height_px = float(look.delivery.width_px), float(look.delivery.height_px)
    f = len(seconds)
    if not things:
        nothing = np.empty((0, f))
        empty = np.empty((0, 3, f)), np.empty((0, 2, f)), np.empty((0, f), dtype=bool)
        return Seen(
            things, along, seconds, parts, share, width_px, height_px, None, Spread(*empty),
            Cuts.joined([]),
            empty[2], *(nothing,) * 6,
        )  # fmt: skip
    mesh = mesh_of(things)
    at = _in_axes(mesh, along, seconds, things)
    there, cuts = clipped(mesh, at, _view(along, look.padding))
    pixels = to_pixels(along, at, width_px, height_px)
    ends = []
    cut_px = spots_px(along, cuts.at, cuts.frames, width_px, height_px)
    where = cuts.things * f + cuts.frames
    for values, cut in (
        (pixels[:, 0], cut_px[:, 0]),
        (pixels[:, 1], cut_px[:, 1]),
        (at[:, 2], cuts.at[:, 2]),
    ):
        for of, empty_is in ((np.minimum, np.inf), (np.maximum, -np.inf)):
            end = of.reduceat(np.where(there, values, empty_is), mesh.starts, axis=0)
            of.at(end.reshape(-1), where, cut)
            ends.append(end)
    left, right, top, bottom, near, far = ends
    shows = np.isfinite(near)
    for end in ends:
        end[~shows] = np.nan
    return Seen(
        things, along, seconds, parts, share, width_px, height_px, mesh, Spread(at, pixels, there),
        cuts, shows, near, far, left, top, right, bottom,
    )  # fmt: skip


def _together(
    look: Look, things: tuple[StandIn, ...], goes: Flags, once: Seen, apart: Seen
) -> Seen:
    """What is at rest, seen at one frame, repeated for all, and what `goes` (t,)."""
    along, seconds, parts, share = _path(look, True)
    f = len(seconds)
    resting, moving = np.flatnonzero(~goes), np.flatnonzero(goes)
    mesh = mesh_of(things)
    rows = goes[mesh.points_of]
    cuts = Cuts.joined(
        [
            Cuts(
                np.repeat(once.cuts.at, f, axis=0),
                np.repeat(resting[once.cuts.things], f),
                np.tile(np.arange(f, dtype=np.intp), len(once.cuts.things)),
            ),
            Cuts(apart.cuts.at, moving[apart.cuts.things], apart.cuts.frames),
        ]
    )
    of_things = {
        name: laid(getattr(once, name), getattr(apart, name), goes, f)
        for name in ("shows", "near_m", "far_m", "left_px", "top_px", "right_px", "bottom_px")
    }
    return Seen(
        things=things, path=along, seconds=seconds, parts=parts, share=share,
        width_px=once.width_px, height_px=once.height_px, mesh=mesh,
        spread=Laid(once.spread, apart.spread, rows, f), cuts=cuts, **of_things,
        parted=Parted(once, apart, goes),
    )  # fmt: skip


def _in_axes(mesh: Mesh, path: CameraPath, seconds: Array, things: tuple[StandIn, ...]) -> Array:
    """The things' points in the camera's axes (n, 3, f)."""
    f = len(seconds)
    axes = path.axes.transpose(2, 1, 0).reshape(3, 3 * f)
    at: Array = (mesh.points @ axes).reshape(-1, 3, f)
    at -= np.einsum("fjc,fc->jf", path.axes, path.positions_m)
    speed = _velocities(things)
    if speed.any():
        at += ((speed @ axes).reshape(-1, 3, f) * seconds)[mesh.points_of]
    return at


@lru_cache(maxsize=2 * CAMERAS)
def _velocities(things: tuple[StandIn, ...]) -> Array:
    """`velocities`, kept: while a camera is dragged, things go as they went."""
    found = velocities(things)
    found.setflags(write=False)
    return found


def _view(path: CameraPath, padding: float) -> View:
    camera, kept = path.camera, (1.0 + 2.0 * padding) / 2.0
    closer: Array | float = 1.0 if path.zooms is None else path.zooms
    return View(
        camera.sensor_width_mm / camera.focal_mm * kept / closer,
        camera.sensor_height_mm / camera.focal_mm * kept / closer,
    )
