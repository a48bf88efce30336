"""Points of things as a camera has them, at every frame."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from ..camera import Array
from .clip import Flags
from .solids import Numbers


@dataclass(frozen=True)
class Spread:
    """n points at f frames: `at` (n, 3, f) in the camera's axes, `pixels` (n, 2, f) in the picture,
    and which of them are in it: `there` (n, f)."""

    at: Array
    pixels: Array
    there: Flags

    def shown(self, rows: Numbers, looks: Numbers | None) -> Flags:
        """Which of some points are in the picture, at all frames or at `looks`."""
        there = self.there[rows]
        return there if looks is None else there[:, looks]

    def spots(self, rows: Numbers, frames: Numbers) -> Array:
        """Points (p, 3) of these rows (p,), each at its frame (p,)."""
        found: Array = self.at[rows, :, frames]
        return found


@dataclass(frozen=True)
class Laid:
    """The same before a camera that stands still: what is at `rest`, at one frame that stands for
    all `frames`, and what `moves`; `goes` (n,) says which points do. They are laid together only
    where all are asked for: most of it would be the same again and again."""

    rest: Spread | Laid
    moves: Spread | Laid
    goes: Flags
    frames: int

    @cached_property
    def at(self) -> Array:
        found: Array = self._all("at")
        return found

    @cached_property
    def pixels(self) -> Array:
        found: Array = self._all("pixels")
        return found

    @cached_property
    def there(self) -> Flags:
        found: Flags = self._all("there")
        return found

    def _all(self, name: str) -> Any:
        return laid(getattr(self.rest, name), getattr(self.moves, name), self.goes, self.frames)

    @cached_property
    def _own(self) -> Numbers:
        """The row (n,) of each point in its own part."""
        found = np.empty(len(self.goes), dtype=np.intp)
        found[self.goes] = np.arange(np.count_nonzero(self.goes))
        found[~self.goes] = np.arange(len(self.goes) - np.count_nonzero(self.goes))
        return found

    def shown(self, rows: Numbers, looks: Numbers | None) -> Flags:
        """See `Spread.shown`."""
        goes, own = self.goes[rows], self._own[rows]
        found = np.empty((len(rows), self.frames if looks is None else len(looks)), dtype=bool)
        found[~goes] = self.rest.there[own[~goes]]
        found[goes] = self.moves.shown(own[goes], looks)
        return found

    def spots(self, rows: Numbers, frames: Numbers) -> Array:
        """See `Spread.spots`."""
        goes, own = self.goes[rows], self._own[rows]
        found = np.empty((len(rows), 3))
        found[~goes] = self.rest.at[own[~goes], :, 0]
        found[goes] = self.moves.spots(own[goes], frames[goes])
        return found


def laid(rest: Any, moves: Any, goes: Flags, frames: int) -> Any:
    """An array of both, its last axis the frames: `rest` has one, which stands for all."""
    found = np.empty((len(goes), *rest.shape[1:-1], frames), dtype=rest.dtype)
    found[~goes], found[goes] = rest, moves
    return found
