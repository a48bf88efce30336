"""What a file says of itself: how it was recorded, and what the camera wrote beside the picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

#: One picture, moving pictures with their times, or numbered pictures without.
FileKind = Literal["still", "clip", "sequence"]


@dataclass(frozen=True)
class Facts:
    """Of a still, a clip, or a numbered sequence. None (and "" for a word): the file does not say.

    Sizes are of the picture as it is shown, upright; `turned_deg` (clockwise) is how far the file
    asks for it to be turned. `fps`: as its frames come, on the average; `uneven`: the largest
    departure of the time between two frames from the usual one, as a part of it. `key_every`: the
    most frames from one that stands alone to the next (1: all stand alone). `used_bits`: how many
    of `bit_depth` carry anything, where that can be told. `missing`: numbers that a sequence
    leaves out.
    """

    kind: FileKind
    codec: str
    width_px: int
    height_px: int
    container: str = ""
    bit_depth: int | None = None
    used_bits: int | None = None
    subsampling: str = ""
    colour: str = ""
    frames: int = 1
    fps: float | None = None
    uneven: float | None = None
    key_every: int | None = None
    interlaced: bool = False
    turned_deg: int = 0
    duration_s: float | None = None
    bitrate_mbps: float | None = None
    sound_hz: int | None = None
    #: As the camera's clock had it: ISO 8601, with a zone where it said one.
    shot_at: str = ""
    focal_mm: float | None = None
    f_number: float | None = None
    exposure_s: float | None = None
    iso: float | None = None
    missing: tuple[int, ...] = ()
    remarks: tuple[str, ...] = ()

    @property
    def readings(self) -> dict[str, float]:
        """What it says that a crew would else read off the camera, by the names of a take."""
        names = ("focal_mm", "f_number", "exposure_s", "iso")
        found = {name: getattr(self, name) for name in names}
        return {name: value for name, value in found.items() if value is not None}
