"""Decisions about tricks: dividers, throws, crowds, rigs, reframing, markers, beats.

Points of a picture are parts of it (0..1 from the left and from the top), so that they outlive a
change of delivery. Frames are delivered frames, counted from 1.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

Edge = Literal["hard", "soft", "hair"]
RigKind = Literal["thread", "line", "rod", "hand", "magnet", "turntable", "sled", "pull", "mirror"]
RigColour = Literal["plain", "matched", "clear"]


@dataclass(frozen=True)
class DividerKey:
    """Where a divider runs at one frame: from its first end to its last, parts of the picture."""

    frame: int
    points: tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class Throw:
    """A thing thrown from one place (x, y, z) in the story to another, in free flight."""

    from_x_m: float
    from_y_m: float
    from_z_m: float
    to_x_m: float
    to_y_m: float
    to_z_m: float
    frame: int = 1
    frames: int = 12


@dataclass(frozen=True)
class Split:
    """Two plates of one picture and the line between them. `first_id` is left of it (above it when
    not `upright`), `second_id` right of it. `shine_m`: height of a surface that mirrors."""

    id: str
    name: str
    first_id: str | None = None
    second_id: str | None = None
    upright: bool = True
    feather_px: float = 16.0
    keys: tuple[DividerKey, ...] = ()
    shine_m: float | None = None
    throw: Throw | None = None


@dataclass(frozen=True)
class ReframeKey:
    """The window that is cut out of the picture at one frame: its middle as parts of the picture,
    how many times closer, and how much shake is put on afterwards, pixels to each side."""

    frame: int
    x: float = 0.5
    y: float = 0.5
    closer: float = 1.0
    shake_px: float = 0.0


@dataclass(frozen=True)
class Aspect:
    """Another shape that the shot is delivered in, pixels."""

    name: str
    width_px: int
    height_px: int


@dataclass(frozen=True)
class Reframe:
    """What is cut out of the picture before anything is masked. `shake_px`: put on afterwards all
    through, to each side, beside that of the keys."""

    aspects: tuple[Aspect, ...] = ()
    keys: tuple[ReframeKey, ...] = ()
    shake_px: float = 0.0


@dataclass(frozen=True)
class Beat:
    """Something that happens at a frame. With `with_id` it must come `gap` frames after that beat,
    give or take `allowed`. `cue`: a sound is played for it on set."""

    id: str
    name: str
    frame: int
    plate_id: str | None = None
    with_id: str | None = None
    gap: int = 0
    allowed: int = 1
    cue: bool = False


@dataclass(frozen=True)
class RampKey:
    """From this frame of the story on, what was filmed plays at this part of its own speed: 1 as
    filmed, 0.5 half as fast."""

    frame: int
    speed: float


@dataclass(frozen=True)
class Rig:
    """What carries or pushes a thing. `diameter_mm` None: as its kind; `rated_kg`: what the line is
    rated to break at (None: unknown); `turns_per_s`: how fast it spins on set; `shine_m`: height of
    a surface that mirrors it, world metres (None: nothing does)."""

    thing_id: str | None = None
    kind: RigKind = "thread"
    weight_kg: float = 0.5
    diameter_mm: float | None = None
    rated_kg: float | None = None
    colour: RigColour = "plain"
    turns_per_s: float = 0.0
    shine_m: float | None = None


@dataclass(frozen=True)
class Crowd:
    """A crowd of few people filmed several times. The area is in world metres; `wardrobe` and
    `poses` are what each of them can change."""

    people: int = 8
    wanted: int = 40
    left_m: float = -6.0
    right_m: float = 6.0
    near_m: float = 8.0
    far_m: float = 14.0
    spacing_m: float = 0.9
    row_m: float = 1.5
    ground_m: float = 0.0
    wardrobe: int = 2
    poses: int = 3


@dataclass(frozen=True)
class Markers:
    """Tracking markers on a thing, or a card whose picture is replaced (`insert`): size and
    spacing, colours as sRGB 0..255."""

    surface_id: str | None = None
    insert: bool = False
    size_mm: float = 20.0
    spacing_m: float = 0.5
    colour: tuple[int, ...] = (230, 120, 30)
    surface: tuple[int, ...] = (40, 170, 70)


@dataclass(frozen=True)
class Filmed:
    """That takes of a plate are logged, and the shared values that its card was issued with."""

    takes: int
    slate: str
    values: Mapping[str, Any] = field(default_factory=dict)
