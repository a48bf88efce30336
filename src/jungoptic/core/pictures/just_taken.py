"""What is measured of a picture that has just been taken; `taking` measures it."""

from __future__ import annotations

from dataclasses import dataclass

#: Left, top, right and bottom, parts of a picture.
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Against:
    """A picture against another of the same set. `light_percent`: by how much brighter all of it
    is, by the middle of its places; `thirds_percent` the same of its left, middle and right third.
    `shift`: how far what stands has moved, right and down, parts of the picture's width. None
    where it cannot be told."""

    light_percent: float | None
    thirds_percent: tuple[float | None, float | None, float | None]
    shift: tuple[float, float] | None


@dataclass(frozen=True)
class Place:
    """A stretch of the picture that has changed: its edges as parts of the picture, and the part
    of the picture that changed in it."""

    left: float
    top: float
    right: float
    bottom: float
    part: float


@dataclass(frozen=True)
class JustTaken:
    """A picture against the one `before` it and the `reference` of its block (None: there is none).
    `changed`: where it differs from the one before, the largest first, once light and shift are
    taken out; `part`: how much of the picture that is."""

    before: Against | None = None
    reference: Against | None = None
    changed: tuple[Place, ...] = ()
    part: float = 0.0

    @property
    def same(self) -> bool:
        """Whether nothing has changed since the one before."""
        return self.before is not None and not self.changed
