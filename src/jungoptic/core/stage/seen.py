"""What a camera's picture shows of every thing, at every frame.

Worked out once for a camera's path, and shared by all rules: what must be sharp, lit evenly, free
of shadows or in agreement is what the frame shows, with the picture kept around it, while camera
and things move.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, NamedTuple, TypeVar

import numpy as np

from ..camera import Array, CameraPath
from ..plan.standins import StandIn
from ..slices import runs_of
from .clip import NEAREST_M, Cuts, Flags, Tunnel, clipped
from .solids import Mesh, Numbers
from .spots import spots_px, velocities
from .spread import Laid, Spread

T = TypeVar("T")

#: So many things worked out of one story are kept.
MOST_MADE = 64


class Spell(NamedTuple):
    """Frames on end, from 0, both included."""

    first: int
    last: int


@dataclass(frozen=True)
class Steps:
    """Movement in the picture from one played frame to the next, of what is in it, delivered
    pixels, each (t, f): the fastest and the slowest of a thing's points, and the way (2, t, f) of
    its middle. NaN where nothing of a thing is in the picture."""

    fastest_px: Array
    slowest_px: Array
    drift_px: Array


class Parted(NamedTuple):
    """What is at rest and what moves, seen apart, and which things (t,) do."""

    rest: Seen
    moves: Seen
    goes: Flags


@dataclass(frozen=True)
class Seen:
    """What f frames of a camera show of t things, padding included. World metres and delivered
    pixels (the delivered frame is 0..width; what is kept around it lies outside).

    `shows` (t, f): anything of it is in the picture; `near_m` and `far_m` (t, f): along the lens
    axis, of what is in the picture, NaN where nothing is; `left_px`, `top_px`, `right_px` and
    `bottom_px` (t, f): its box there.
    """

    things: tuple[StandIn, ...]
    path: CameraPath
    #: Story time of every frame, seconds, and the part of the screen time gone by then.
    seconds: Array
    parts: Array
    #: Part of the way from one entry to the next that a played frame takes.
    share: float
    width_px: float
    height_px: float
    mesh: Mesh | None
    #: The things' points, and where the picture cuts their things.
    spread: Spread | Laid
    cuts: Cuts
    shows: Flags
    near_m: Array
    far_m: Array
    left_px: Array
    top_px: Array
    right_px: Array
    bottom_px: Array
    #: Before a camera that stands still, unless there is little to see.
    parted: Parted | None = None
    #: What has been worked out of this; see `once`.
    made: dict[str, Any] = field(default_factory=dict, compare=False, repr=False, init=False)

    def once(self, key: str, make: Callable[[], T]) -> T:
        """What `make` gives, worked out the first time it is asked for under `key`: for what
        several plates, and changes of them, need of the same story."""
        kept: T | None = self.made.get(key)
        if kept is None:
            kept = make()
            if len(self.made) >= MOST_MADE:
                self.made.clear()
            self.made[key] = kept
        return kept

    @property
    def at(self) -> Array:
        """The things' points (n, 3, f) in the camera's axes."""
        return self.spread.at

    @property
    def pixels(self) -> Array:
        """The same (n, 2, f) in the picture."""
        return self.spread.pixels

    @property
    def there(self) -> Flags:
        """Which of them (n, f) are in it."""
        return self.spread.there

    @property
    def frames(self) -> int:
        """How many frames are told apart: one where nothing moves, some of a very long shot."""
        return len(self.seconds)

    def number(self, frame: int) -> int:
        """What a frame told apart is called: its number in the shot, from 1."""
        if self.frames < 2:
            return 1
        played = round((self.frames - 1) / self.share)
        return 1 + round(frame * (played - 1) / (self.frames - 1))

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return {thing.id: i for i, thing in enumerate(self.things)}

    def number_of(self, thing: StandIn) -> int:
        """The row of a thing."""
        return self._numbers[thing.id]

    @cached_property
    def ever(self) -> Flags:
        """Which things (t,) are ever in the picture."""
        found: Flags = np.any(self.shows, axis=1)
        return found

    def numbers(self, things: Sequence[StandIn]) -> Numbers:
        """The rows of these things."""
        kept = self._rows.get(id(things))
        if kept is not None and kept[0] is things:
            return kept[1]
        found = np.array([self._numbers[thing.id] for thing in things], dtype=np.intp)
        if isinstance(things, tuple):
            # The things are kept with their rows, so that no others can get their identity.
            if len(self._rows) >= MOST_MADE:
                self._rows.clear()
            self._rows[id(things)] = things, found
        return found

    @cached_property
    def _rows(self) -> dict[int, tuple[Sequence[StandIn], Numbers]]:
        return {}

    @property
    def points_of(self) -> Numbers:
        """The things (n,) that the points belong to."""
        return np.empty(0, dtype=np.intp) if self.mesh is None else self.mesh.points_of

    def spells(self, things: Sequence[StandIn], shown: bool = True) -> list[Spell]:
        """When anything of `things` is in the picture (or, not `shown`, nothing is)."""
        there = self.shows[self.numbers(things)].any(axis=0) == shown
        return [Spell(a, b - 1) for a, b in runs_of(there)]

    def some(self, most: int) -> Numbers:
        """At most so many frames, evenly apart."""
        last = self.frames - 1
        return np.linspace(0, last, min(most, last + 1)).round().astype(np.intp)

    def spots(
        self, things: Sequence[StandIn], looks: Numbers | None = None
    ) -> tuple[Array, Numbers]:
        """Points (n, 3), world metres, that bound what is in the picture of `things`, and the frame
        (n,) of each; at all frames or only at `looks`, in order."""
        wanted = np.zeros(len(self.things), dtype=bool)
        wanted[self.numbers(things)] = True
        if self.mesh is None:
            return np.empty((0, 3)), np.empty(0, dtype=np.intp)
        rows = np.flatnonzero(wanted[self.mesh.points_of])
        there, cuts = self.spread.shown(rows, looks), self.cuts
        cut = wanted[cuts.things]
        if looks is not None:
            use = np.zeros(self.frames, dtype=bool)
            use[looks] = True
            cut &= use[cuts.frames]
        which, when = np.nonzero(there)
        if looks is not None:
            when = looks[when]
        frames = np.concatenate([when, cuts.frames[cut]])
        at = np.concatenate([self.spread.spots(rows[which], when), cuts.at[cut]])
        return self.to_world(at, frames), frames

    def bounds(self, things: Sequence[StandIn], looks: Numbers) -> Array:
        """The points of `spots` without their frames, those that stay where they are once."""
        if self.parted is None:
            return self.spots(things, looks)[0]
        still = [thing for thing in things if not thing.speed_m_s]
        moves = [thing for thing in things if thing.speed_m_s]
        found = self.parted.rest.spots(still)[0], self.parted.moves.spots(moves, looks)[0]
        return np.concatenate(found)

    def to_world(self, at: Array, frames: Numbers) -> Array:
        """Points (p, 3) in the camera's axes at `frames` (p,) as world metres."""
        turned = np.einsum("pi,pij->pj", at, self.path.axes[frames])
        world: Array = turned + self.path.positions_m[frames]
        return world

    def ahead_of(self, things: Sequence[StandIn], radius_m: float) -> Array:
        """How far along the lens axis the nearest of `things` is (f,) that is in the picture or
        less than `radius_m` from the axis: what a lens so thick runs into; inf with none."""
        nearest = np.full(self.frames, np.inf)
        rows = self.numbers(things)
        if self.mesh is None or not len(rows):
            return nearest
        if self.parted is not None:
            still = [thing for thing in things if not thing.speed_m_s]
            moves = [thing for thing in things if thing.speed_m_s]
            of_both: Array = np.fmin(
                self.parted.rest.ahead_of(still, radius_m),
                self.parted.moves.ahead_of(moves, radius_m),
            )
            return of_both
        within, cuts = clipped(self.mesh, self.at, Tunnel(radius_m))
        mine = np.isin(self.points_of, rows)[:, None] & within
        nearest = np.where(mine, self.at[:, 2], np.inf).min(axis=0)
        cut = np.isin(cuts.things, rows)
        np.minimum.at(nearest, cuts.frames[cut], cuts.at[cut, 2])
        found: Array = np.fmin(nearest, np.fmin.reduce(self.near_m[rows], axis=0))
        return found

    @cached_property
    def size_px(self) -> Array:
        """How wide and high (2, t, f) all of a thing is that lies ahead, what is outside the
        picture too."""
        if self.mesh is None:
            return np.empty((2, 0, self.frames))
        if self.parted is not None:
            rest, moves, goes = self.parted
            two = np.empty((2, len(self.things), self.frames))
            two[:, ~goes], two[:, goes] = rest.size_px, moves.size_px
            return two
        ahead = (self.at[:, 2] >= NEAREST_M)[:, None]
        starts = self.mesh.starts
        low = np.minimum.reduceat(np.where(ahead, self.pixels, np.inf), starts, axis=0)
        high = np.maximum.reduceat(np.where(ahead, self.pixels, -np.inf), starts, axis=0)
        found: Array = (high - low).transpose(1, 0, 2)
        return found

    @cached_property
    def steps(self) -> Steps:
        """How what is in the picture moves in it."""
        f = self.frames
        if f < 2 or self.mesh is None:
            still = np.where(self.shows, 0.0, np.nan)
            return Steps(still, still, np.stack([still, still]))
        if self.parted is not None:
            return self._with_rest(self.parted)
        starts = self.mesh.starts
        # From the last frame there is no next: it goes on as it came.
        with np.errstate(invalid="ignore"):
            way = np.diff(self.pixels, axis=2)
        way = np.concatenate([way, way[:, :, -1:]], axis=2) * self.share
        ahead = self.at[:, 2] >= NEAREST_M
        there = self.there & ahead[:, [*range(1, f), f - 2]]
        length = np.hypot(way[:, 0], way[:, 1])
        fast = np.maximum.reduceat(np.where(there, length, -np.inf), starts, axis=0)
        slow = np.minimum.reduceat(np.where(there, length, np.inf), starts, axis=0)
        count = np.add.reduceat(there, starts, axis=0, dtype=float)
        moved = np.where(there[:, None], way, 0.0)
        drift = np.ascontiguousarray(np.add.reduceat(moved, starts, axis=0).transpose(1, 0, 2))
        self._with_cuts(fast, slow, count, drift)
        none = count == 0
        fast[none] = slow[none] = np.nan
        with np.errstate(invalid="ignore"):
            return Steps(fast, slow, drift / count)

    def _with_rest(self, parted: Parted) -> Steps:
        """The same of what moves, with what is at rest."""
        rest, moves, goes = np.where(self.shows, 0.0, np.nan), parted.moves.steps, parted.goes
        fast, slow, drift = rest.copy(), rest.copy(), np.stack([rest, rest])
        fast[goes], slow[goes] = moves.fastest_px, moves.slowest_px
        drift[:, goes] = moves.drift_px
        return Steps(fast, slow, drift)

    def _with_cuts(self, fast: Array, slow: Array, count: Array, drift: Array) -> None:
        """The same of where the picture cuts things: what is there, and where it is a frame on."""
        f, cuts = self.frames, self.cuts
        last = cuts.frames == f - 1
        then = np.where(last, f - 2, cuts.frames + 1)
        speed = velocities(self.things)[cuts.things]
        wait = (self.seconds[then] - self.seconds[cuts.frames])[:, None]
        world = self.to_world(cuts.at, cuts.frames) + wait * speed
        at = np.einsum("pi,pji->pj", world - self.path.positions_m[then], self.path.axes[then])
        use = at[:, 2] >= NEAREST_M
        way = self._flat(at[use], then[use]) - self._flat(cuts.at[use], cuts.frames[use])
        way *= np.where(last[use], -self.share, self.share)[:, None]
        where = (cuts.things * f + cuts.frames)[use]
        length = np.hypot(way[:, 0], way[:, 1])
        np.maximum.at(fast.reshape(-1), where, length)
        np.minimum.at(slow.reshape(-1), where, length)
        np.add.at(count.reshape(-1), where, 1.0)
        np.add.at(drift[0].reshape(-1), where, way[:, 0])
        np.add.at(drift[1].reshape(-1), where, way[:, 1])

    def _flat(self, at: Array, frames: Numbers) -> Array:
        """Points (p, 3) in the camera's axes at `frames` (p,) as delivered pixels (p, 2)."""
        return spots_px(self.path, at, frames, self.width_px, self.height_px)

    @property
    def before_zoom(self) -> Seen:
        """The same in pixels of the picture as the shot begins, which a zoom in post then cuts
        down: how things move on set. What is in the picture stays so."""
        zooms = self.path.zooms
        # Not kept where it is the same: nothing that holds itself is put away at once.
        return self if zooms is None else self.once("before zoom", lambda: self._unzoomed(zooms))

    def _unzoomed(self, zooms: Array) -> Seen:
        middle = np.array((self.width_px / 2.0, self.height_px / 2.0))[:, None]
        pixels = middle + (self.pixels - middle) / zooms
        return replace(
            self, path=replace(self.path, zooms=None), spread=Spread(self.at, pixels, self.there)
        )
