"""A camera that takes stills and sequences: the protocol, and a simulated one that films a plate of
a plan, with faults on request: what looks for faults is tested on pictures whose truth is known.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.in_frame import part_at
from jungoptic.render.clean import cleaned
from jungoptic.render.engine import Stage
from jungoptic.render.film import Film, recorded
from jungoptic.render.picture import recordable
from jungoptic.render.scene import LAMP, Eye, Pose, Scene, Solid
from jungoptic.render.shapes import limb
from jungoptic.render.staged import film_of, staged

from .faults import Faults

#: (h, w, 3), 0..1 as recorded.
Picture = NDArray[np.float32]
#: Rays a pixel.
SAMPLES = 9
#: What strays over a line: a sleeve.
SLEEVE = (0.22, 0.235, 0.26)


class Camera(Protocol):
    """What anything that takes pictures can do."""

    def still(self, frame: int = 1) -> Picture:
        """The picture (h, w, 3), 0..1 as recorded, of a frame from 1."""

    def sequence(self, frames: Sequence[int]) -> Iterator[Picture]:
        """Pictures of several frames, in the order asked for."""


@dataclass
class SimulatedCamera:
    """Films a plate of a plan. The same plan, size, seed and faults give the same pictures."""

    shot: Shot
    plate: Plate
    width: int = 480
    seed: int = 0
    faults: Faults = field(default_factory=Faults)
    #: What somebody holds up before it, in metres of the stage.
    held: tuple[Solid, ...] = ()
    #: Of all that the body records, not only of what is delivered of it.
    whole: bool = False
    _taken: dict[int, Picture] = field(default_factory=dict, init=False, repr=False)

    @property
    def height(self) -> int:
        """Of its pictures, pixels."""
        if self.whole:
            mode = self._case(False).choice.mode
            return max(round(self.width * mode.height_px / mode.width_px), 2)
        return max(round(self.width / self.shot.delivery.aspect), 2)

    def still(self, frame: int = 1) -> Picture:
        """The picture of a frame. Raises Impossible for a plate that cannot be filmed, NoEngine
        where the engine is not installed."""
        frame = self.faults.taken(frame)
        if frame not in self._taken:
            self._taken[frame] = self._take(frame)
        return self._taken[frame]

    def sequence(self, frames: Sequence[int]) -> Iterator[Picture]:
        """Pictures of several frames, one at a time."""
        for frame in frames:
            yield self.still(frame)

    def level(self, frame: int) -> float:
        """By how much flicker has the light of a frame changed: see `Faults.level`."""
        return self.faults.level(frame, self.seed)

    def _take(self, frame: int) -> Picture:
        wrong = frame >= self.faults.since
        case = self._case(wrong)
        part = part_at(case.shot, frame)
        scene = staged(case, part)
        scene = replace(scene, solids=(*scene.solids, *self.held))
        film = film_of(case)
        if self.whole:
            mode = case.choice.mode
            wide = mode.sensor_width_mm
            sensor = wide, wide * mode.height_px / mode.width_px
            scene = replace(scene, eye=replace(scene.eye, sensor_mm=sensor))
            film = replace(film, across_px=mode.width_px)
        if wrong:
            scene, film = self._spoiled(scene, film, frame)
        layers = Stage(scene, self.width, self.height).seen(SAMPLES, self.seed)
        light = cleaned(layers) * np.float32(self.level(frame))
        return recorded(light, film, self.seed * 100_003 + frame)

    def _case(self, wrong: bool) -> Case:
        plate = self.faults.lit(self.plate) if wrong else self.plate
        return recordable(self.shot, plate)

    def _spoiled(self, scene: Scene, film: Film, frame: int) -> tuple[Scene, Film]:
        faults, eye = self.faults, scene.eye
        off = faults.aimed(frame, self.seed)
        eye = replace(eye, pose=_aside(eye.pose, off), closing=_aside(eye.closing, off))
        if faults.focus_m is not None:
            eye = replace(eye, sharp_m=faults.focus_m)
        if faults.stops:
            # A stop more light, and a pupil wider by the root of it.
            wider = 2.0 ** (faults.stops / 2.0)
            eye = replace(eye, pupil_m=eye.pupil_m * wider)
            film = replace(film, stop=film.stop / wider)
        solids = scene.solids
        if faults.elbow_px > 0.0:
            solids = (*solids, _elbow(eye, faults.elbow_px / self.width))
        return replace(scene, solids=solids, eye=eye), film


def _aside(pose: Pose, off: tuple[float, float]) -> Pose:
    """Looking so far aside (pan, tilt), degrees."""
    return replace(pose, pan_deg=pose.pan_deg + off[0], tilt_deg=pose.tilt_deg + off[1])


def _elbow(eye: Eye, part: float) -> Solid:
    """An arm that reaches in from the left edge of the picture over a part of its width, where the
    camera is sharp."""
    right, _, ahead = eye.pose.axes
    far = min(eye.sharp_m, 50.0)
    wide = far * eye.sensor_mm[0] / eye.picture_mm
    middle = np.asarray(eye.pose.at_m) + ahead * far
    thick = 0.02 * wide
    tip = middle + right * ((part - 0.5) * wide - thick)
    return Solid(LAMP, *limb(middle - right * wide, tip, thick, thick), SLEEVE, smooth=True)
