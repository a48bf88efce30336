"""The finder of a simulated camera: live frames of a plate, drawn in tone, with the same faults on
request as the camera that follows light. What it shows is rougher and comes at once."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import cv2
import numpy as np

from jungoptic.core.drawings.tone import Tone, tones
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.world import Delivery
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.in_frame import part_at
from jungoptic.render.picture import recordable
from jungoptic.render.staged import CLOTHS

from .camera import SLEEVE
from .faults import Faults
from .raster import Picture, painted

#: What is behind a stage that nobody has said anything about, as recorded.
BEHIND = 0.42
#: Grain, root mean square as recorded.
GRAIN = 0.006
#: Specks of a mottled set: a part of the picture's width.
SPECK = 1.0 / 80.0
#: The curve of a screen, nearly: light to what is recorded.
CURVE = 1.0 / 2.2


@dataclass
class Finder:
    """Shows a plate of a plan, frame by frame, `width` pixels wide. The same plan, size, seed and
    faults give the same frames."""

    shot: Shot
    plate: Plate
    width: int = 640
    seed: int = 0
    faults: Faults = field(default_factory=Faults)
    #: How much the set is mottled, as paint and cloth are, root mean square, a part of its tone.
    mottled: float = 0.0
    #: What lies beyond all that was planned, instead of an even grey.
    behind: Picture | None = None
    _drawn: dict[tuple[float, bool], tuple[Tone, ...]] = field(
        default_factory=dict, init=False, repr=False
    )

    @property
    def height(self) -> int:
        """Of its frames, pixels."""
        return max(round(self.width / self._delivered.aspect), 2)

    @cached_property
    def _delivered(self) -> Delivery:
        """The frame that its stage films, which of what is placed in post is one of its own."""
        try:
            return self._case(False).shot.delivery
        except Impossible:
            return self.shot.delivery

    def still(self, frame: int = 1, part: float | None = None) -> Picture:
        """A frame from 1, (h, w, 3), 0..1 as recorded; `part`: of the screen time gone by, None
        where the frame tells. Raises Impossible for a plate that cannot
        be filmed."""
        frame = self.faults.taken(frame)
        wrong = frame >= self.faults.since
        part = part_at(self.shot, frame) if part is None else part
        per_px = self.width / self._delivered.width_px
        found = painted(self._tones(part, wrong), self._backdrop, per_px)
        if self.mottled:
            found = found * self._mottling
        if wrong:
            found = self._spoiled(found, frame)
        dice = np.random.default_rng((self.seed, frame))
        grain = dice.standard_normal(found.shape[:2], dtype=np.float32) * np.float32(GRAIN)
        whole: Picture = np.clip(found + grain[..., None], 0.0, 1.0)
        return whole

    def sequence(self, frames: Sequence[int]) -> Iterator[Picture]:
        """Several frames, one at a time."""
        for frame in frames:
            yield self.still(frame)

    def level(self, frame: int) -> float:
        """By how much flicker has the light of a frame changed: see `Faults.level`."""
        return self.faults.level(frame, self.seed)

    def off_px(self, frame: int) -> tuple[float, float]:
        """How far a camera that looks elsewhere moves the picture of a frame, right and down,
        pixels: the truth."""
        case = self._case(False)
        focal = case.stage.camera.focal_px(self.width)
        pan, tilt = np.radians(self.faults.aimed(frame, self.seed))
        return float(-np.tan(pan) * focal), float(np.tan(tilt) * focal)

    def _tones(self, part: float, wrong: bool) -> tuple[Tone, ...]:
        key = part, wrong
        if key not in self._drawn:
            self._drawn.clear()
            self._drawn[key] = tones(self._case(wrong), part)
        return self._drawn[key]

    def _case(self, wrong: bool) -> Case:
        plate = self.plate
        if wrong:
            plate = self.faults.lit(plate)
        if wrong and self.faults.focus_m is not None:
            plate = replace(plate, focus_world_m=self.faults.focus_m * plate.scale)
        return recordable(self.shot, plate)

    @cached_property
    def _backdrop(self) -> Picture:
        if self.behind is not None:
            return self.behind
        tone = (BEHIND, BEHIND, BEHIND)
        if self.plate.kind == "screen":
            red, green, blue = CLOTHS[self.plate.screen_colour]
            tone = red**CURVE, green**CURVE, blue**CURVE
        elif self.plate.kind == "element":
            tone = (0.02, 0.02, 0.02)
        found = np.empty((self.height, self.width, 3), dtype=np.float32)
        found[:] = tone
        return found

    @cached_property
    def _mottling(self) -> Picture:
        """Paint and cloth, the same in every frame: specks of some hundredth of the picture."""
        high, wide = self.height, self.width
        dice = np.random.default_rng(7)
        across = round(1.0 / SPECK)
        coarse = dice.standard_normal((max(round(across * high / wide), 2), across))
        laid = cv2.resize(coarse.astype(np.float32), (wide, high), interpolation=cv2.INTER_CUBIC)
        found: Picture = (1.0 + self.mottled * laid)[..., None]
        return found

    def _spoiled(self, picture: Picture, frame: int) -> Picture:
        faults = self.faults
        light = self.level(frame) * 2.0**faults.stops
        if light != 1.0:
            picture = picture * np.float32(light**CURVE)
        if any(faults.aimed(frame, self.seed)):
            picture = _moved(picture, *self.off_px(frame))
        if faults.elbow_px > 0.0:
            picture = picture.copy()
            top, wide = picture.shape[0] * 2 // 5, round(faults.elbow_px)
            picture[top : top + max(picture.shape[0] // 12, 1), :wide] = (
                np.array(SLEEVE, dtype=np.float32) ** CURVE
            )
        return picture


def _moved(picture: Picture, right: float, down: float) -> Picture:
    """A picture moved by parts of pixels, its edges drawn out."""
    warp = np.array([[1.0, 0.0, right], [0.0, 1.0, down]])
    size = picture.shape[1], picture.shape[0]
    found: Picture = cv2.warpAffine(
        picture, warp, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    ).astype(np.float32)
    return found
