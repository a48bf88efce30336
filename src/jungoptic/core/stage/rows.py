"""Points of things at the frames whose picture shows them: what two cameras are compared at."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..camera import Array
from ..plan.standins import StandIn
from .clip import Flags
from .seen import Seen
from .solids import Numbers

#: How far outside the delivered frame a point may lie and still count, as a part of its size.
#: What nobody sees cannot mismatch.
EDGE = 0.05
#: At how many frames of a longer shot pictures are compared, evenly along it.
LOOKS = 33


class Once(NamedTuple):
    """Of rows (r,) of which many say the same: those (u,) that are `first` with it, and which of
    these each row is `like` (r,)."""

    first: Numbers
    like: Numbers


class Rows(NamedTuple):
    """Points, each at one of the story's `frames` (r,), and the number (r,) of what it is of.
    `places` (u, 3): where they lie, world metres. `once`: which lie in the same place at many
    frames, told only before a camera that stands still; None: every row has a place of its own."""

    frames: Numbers
    places: Array
    named: Numbers
    once: Once | None = None

    def joined(self, others: Rows, named_from: int) -> Rows:
        """These and others, whose numbers begin at `named_from`; of the others none is taken to be
        like another."""
        once = self.once
        if once is not None:
            more = np.arange(len(others.frames), dtype=np.intp)
            once = Once(
                np.concatenate([once.first, more + len(self.frames)]),
                np.concatenate([once.like, more + len(once.first)]),
            )
        return Rows(
            np.concatenate([self.frames, others.frames]),
            np.concatenate([self.places, others.places]),
            np.concatenate([self.named, others.named + named_from]),
            once,
        )


def looks_at(found: Seen, own: tuple[StandIn, ...]) -> Numbers:
    """The frames at which pictures are compared: `LOOKS` evenly along the shot, and those where
    things enter and leave the picture."""
    last = found.frames - 1
    if last < LOOKS:
        return np.arange(last + 1, dtype=np.intp)
    shows = found.shows[found.numbers(own)]
    before = np.nonzero(shows[:, 1:] != shows[:, :-1])[1]
    evenly = np.linspace(0, last, LOOKS).round().astype(np.intp)
    return np.unique(np.concatenate([evenly, before, before + 1]))


def in_picture(found: Seen, looks: Numbers, points: list[Array], speeds: list[Array]) -> Rows:
    """Points at every frame looked at whose picture has them, or nearly."""
    if not points:
        nothing = np.empty(0, dtype=np.intp)
        return Rows(nothing, np.empty((0, 3)), nothing)
    every, speed = np.concatenate(points), np.concatenate(speeds)
    seconds = found.seconds[looks]

    def inside(which: Flags, at: Numbers) -> Flags:
        moved = every[which][None] + found.seconds[at, None, None] * speed[which][None]
        pixels, _ = found.path.at(at).project(moved, found.width_px, found.height_px)
        size = np.array([found.width_px, found.height_px])
        with np.errstate(invalid="ignore"):
            near = (pixels >= -EDGE * size) & (pixels <= (1.0 + EDGE) * size)
        shown: Flags = np.all(near, axis=2)
        return shown

    goes: Flags = np.any(speed != 0.0, axis=1)
    # Before a camera that stands still, what is at rest is looked at once.
    still = found.frames > 1 and found.path.stays
    if still:
        kept = np.empty((len(looks), len(every)), dtype=bool)
        kept[:, goes], kept[:, ~goes] = inside(goes, looks), inside(~goes, looks[:1])
    else:
        kept = inside(np.ones(len(every), dtype=bool), looks)
    which, number = np.nonzero(kept)
    once = None
    if still:
        # What goes is elsewhere at every look; what is at rest is there at each as at the first.
        moved, resting = goes[number], kept[0] & ~goes
        rest = np.flatnonzero(~moved & (which == 0))
        like = np.empty(len(number), dtype=np.intp)
        like[~moved] = (np.cumsum(resting) - 1)[number[~moved]]
        like[moved] = len(rest) + np.arange(np.count_nonzero(moved))
        once = Once(np.concatenate([rest, np.flatnonzero(moved)]), like)
    first = slice(None) if once is None else once.first
    places = every[number[first]] + seconds[which[first], None] * speed[number[first]]
    return Rows(looks[which], places, number, once)


def at_the_edge(found: Seen, looks: Numbers, own: tuple[StandIn, ...]) -> Rows:
    """Where a thing that is not all in the picture runs out of it: a wall that fills the frame has
    no corner there, and must lie right all the same."""
    cuts = found.cuts
    wanted = np.zeros(len(found.things), dtype=bool)
    wanted[found.numbers(own)] = True
    looked = np.zeros(found.frames, dtype=bool)
    looked[looks] = True
    rows = np.flatnonzero(wanted[cuts.things] & looked[cuts.frames])
    frames = cuts.frames[rows]
    return Rows(frames, found.to_world(cuts.at[rows], frames), cuts.things[rows])
