"""Looking at a shot: what a camera's path shows of every thing, worked out for all frames."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..camera import Array, CameraPath
from ..plan.standins import StandIn
from .clip import Cuts, View, clipped
from .seen import Seen, spots_px, to_pixels, velocities
from .solids import Mesh, mesh_of


def seen(
    path: CameraPath,
    seconds: Array,
    things: tuple[StandIn, ...],
    width_px: float,
    height_px: float,
    padding: float = 0.0,
    share: float = 1.0,
    parts: Array | None = None,
    still: bool = False,
) -> Seen:
    """What `path` (f camera positions, world metres) shows of `things`, which move on as the
    story's `seconds` (f,) do.

    `padding`: picture kept around the delivered frame, as a part of it, each side; `share`: see
    `Seen.share`; `parts` (f,) of the screen time, which go as the seconds do unless told; `still`:
    all positions and directions of `path` are the same, so that what is at rest is looked at once.
    """
    t, f = len(things), len(seconds)
    if parts is None:
        parts = seconds / max(float(seconds[-1]), 1e-12)
    if still and f > 1 and any(not thing.speed_m_s for thing in things):
        return _rest_once(path, seconds, things, width_px, height_px, padding, share, parts)
    if not t:
        nothing = np.empty((0, f))
        empty = np.empty((0, 3, f)), np.empty((0, 2, f)), np.empty((0, f), dtype=bool)
        return Seen(
            things, path, seconds, parts, share, width_px, height_px, None, *empty,
            Cuts.joined([]),
            empty[2], *(nothing,) * 6,
        )  # fmt: skip
    mesh = mesh_of(things)
    at = _in_axes(mesh, path, seconds, things)
    there, cuts = clipped(mesh, at, _view(path, padding))
    pixels = to_pixels(path, at, width_px, height_px)
    ends = []
    cut_px = spots_px(path, cuts.at, cuts.frames, width_px, height_px)
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
        things, path, seconds, parts, share, width_px, height_px, mesh, at, pixels, there,
        cuts, shows, near, far, left, top, right, bottom,
    )  # fmt: skip


def _rest_once(
    path: CameraPath,
    seconds: Array,
    things: tuple[StandIn, ...],
    width_px: float,
    height_px: float,
    padding: float,
    share: float,
    parts: Array,
) -> Seen:
    """`seen` by a camera that stands still: what is at rest at one frame, repeated for all."""
    f = len(seconds)
    goes = np.array([bool(thing.speed_m_s) for thing in things])
    resting, moving = np.flatnonzero(~goes), np.flatnonzero(goes)
    once = seen(
        path.at(np.zeros(1, dtype=np.intp)),
        seconds[:1],
        tuple(things[i] for i in resting),
        width_px, height_px, padding, share, parts[:1],
    )  # fmt: skip
    apart = seen(
        path, seconds, tuple(things[i] for i in moving), width_px, height_px, padding, share, parts
    )
    mesh = mesh_of(things)
    rows = goes[mesh.points_of]

    def laid(name: str, which: NDArray[np.bool_]) -> Any:
        """An array of both, its last axis the frames."""
        still, moves = getattr(once, name), getattr(apart, name)
        found = np.empty((len(which), *still.shape[1:-1], f), dtype=still.dtype)
        found[~which], found[which] = still, moves
        return found

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
    of_points = {name: laid(name, rows) for name in ("at", "pixels", "there")}
    of_things = {
        name: laid(name, goes)
        for name in ("shows", "near_m", "far_m", "left_px", "top_px", "right_px", "bottom_px")
    }
    return Seen(
        things=things, path=path, seconds=seconds, parts=parts, share=share, width_px=width_px,
        height_px=height_px, mesh=mesh, cuts=cuts, **of_points, **of_things, apart=apart,
        moving=moving,
    )  # fmt: skip


def _in_axes(mesh: Mesh, path: CameraPath, seconds: Array, things: tuple[StandIn, ...]) -> Array:
    """The things' points in the camera's axes (n, 3, f)."""
    f = len(seconds)
    axes = path.axes.transpose(2, 1, 0).reshape(3, 3 * f)
    at: Array = (mesh.points @ axes).reshape(-1, 3, f)
    at -= np.einsum("fjc,fc->jf", path.axes, path.positions_m)
    speed = velocities(things)
    if speed.any():
        at += ((speed @ axes).reshape(-1, 3, f) * seconds)[mesh.points_of]
    return at


def _view(path: CameraPath, padding: float) -> View:
    camera, kept = path.camera, (1.0 + 2.0 * padding) / 2.0
    closer: Array | float = 1.0 if path.zooms is None else path.zooms
    return View(
        camera.sensor_width_mm / camera.focal_mm * kept / closer,
        camera.sensor_height_mm / camera.focal_mm * kept / closer,
    )
