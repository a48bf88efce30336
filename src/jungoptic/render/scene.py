"""A scene as plain values: what stands where, what shines, and who looks at it. Metres throughout.

Everything an engine needs and nothing it does not: a scene may be sent to another process, kept, or
compared with another one.
"""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Rgb = tuple[float, float, float]

#: What a solid belongs to, beside the stand-ins by their ids.
ROOM, FLOOR, TABLE, CLOTH, LAMP = "room", "floor", "table", "cloth", "lamp"


@dataclass(frozen=True)
class Solid:
    """A body of triangles: `vertices` (n, 3) and `faces` (m, 3), anticlockwise from outside. It
    gives back `reflectance` of the light, matt; `smooth`: its faces stand for a round body.
    `carried_m`: how far it goes while the shutter is open. `of`: what it belongs to. With `ball_m`
    it is a ball so large about its one vertex, which stands still; `mirror`: polished, not matt."""

    of: str
    vertices: Array
    faces: NDArray[np.intp]
    reflectance: Rgb
    smooth: bool = False
    carried_m: tuple[float, float, float] = (0.0, 0.0, 0.0)
    ball_m: float = 0.0
    mirror: bool = False


@dataclass(frozen=True)
class Shining:
    """A face (triangles, the side that their order shows) or, with `radius_m`, a ball about its
    one vertex that shines. `radiance`: in lux per steradian across it, by colour; off its axis it
    falls with cos^`power`, 0 for paper."""

    of: str
    vertices: Array
    faces: NDArray[np.intp]
    radiance: Rgb
    power: float = 0.0
    radius_m: float = 0.0


@dataclass(frozen=True)
class Pose:
    """Where the middle of the entrance pupil is and how the camera is turned: pan + to the right,
    tilt + up, roll + clockwise seen from behind, degrees."""

    at_m: tuple[float, float, float]
    pan_deg: float = 0.0
    tilt_deg: float = 0.0
    roll_deg: float = 0.0

    @property
    def axes(self) -> tuple[Array, Array, Array]:
        """Right, down and ahead, unit vectors (3,)."""
        pan, tilt, roll = (math.radians(v) for v in (self.pan_deg, self.tilt_deg, self.roll_deg))
        level = np.array([math.sin(pan), math.cos(pan), 0.0])
        right = np.array([math.cos(pan), -math.sin(pan), 0.0])
        ahead = level * math.cos(tilt) + np.array([0.0, 0.0, math.sin(tilt)])
        down = np.cross(ahead, right)
        # Turned clockwise seen from behind, what was right goes down.
        c, s = math.cos(roll), math.sin(roll)
        return right * c + down * s, down * c - right * s, ahead


@dataclass(frozen=True)
class Eye:
    """The camera as an engine needs it: `pose` as the shutter opens, `closing` as it closes.
    `sensor_mm`: what is used of the sensor, across and down; `picture_mm`: from the lens to it, by
    which the picture grows; `pupil_m`: radius of the entrance pupil, 0 for a pinhole; `sharp_m`:
    what is that far ahead of it is sharp."""

    pose: Pose
    closing: Pose
    sensor_mm: tuple[float, float]
    picture_mm: float
    pupil_m: float = 0.0
    sharp_m: float = 1e4


@dataclass(frozen=True)
class Rolling:
    """A sensor that is read line by line: the line at the top of the picture is open from `first`
    on, the one at its foot from `last` on, in times of an open shutter after that of a whole
    picture would open. With `upright` lines stand, and are those at its left and its right."""

    first: float
    last: float
    upright: bool = False


@dataclass(frozen=True)
class Scene:
    """What is filmed. `sky`: light from all around, lux per steradian by colour, seen where nothing
    stands. `rolling`: how lines are read one after the other; None: all at once."""

    solids: tuple[Solid, ...]
    shining: tuple[Shining, ...]
    eye: Eye
    sky: Rgb | None = None
    rolling: Rolling | None = None

    @property
    def moves(self) -> bool:
        """Whether anything goes on while the shutter is open."""
        return self.eye.pose != self.eye.closing or any(any(s.carried_m) for s in self.solids)

    @cached_property
    def key(self) -> str:
        """The same for scenes that look the same, to the last bit."""
        told = hashlib.blake2b(repr((self.eye, self.sky, self.rolling)).encode(), digest_size=16)
        bodies: tuple[Solid | Shining, ...] = (*self.solids, *self.shining)
        for body in bodies:
            for field in fields(body):
                value = getattr(body, field.name)
                if isinstance(value, np.ndarray):
                    told.update(f"{field.name} {value.shape}".encode())
                    told.update(np.ascontiguousarray(value).tobytes())
                else:
                    told.update(f"{field.name} {value!r}".encode())
        return told.hexdigest()


@dataclass(frozen=True)
class Layers:
    """What an engine gives back, each (h, w, ...) and float32. `light`: radiance by colour, lux per
    steradian; `noise`: the variance of its brightness; `colour`, `facing` and `depth_m`: what each
    pixel shows first, its reflectance, which way it faces and how far away it is."""

    light: NDArray[np.float32]
    noise: NDArray[np.float32]
    colour: NDArray[np.float32]
    facing: NDArray[np.float32]
    depth_m: NDArray[np.float32]
