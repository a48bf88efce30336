"""What a picture of a board tells, as it is kept: where it lies in the picture, and where the
camera stood by it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from .number import TIMES, Paper

#: How the board was: on the floor, or on its lower edge and plumb.
Way = Literal["lying", "standing"]
WAYS: tuple[Way, ...] = ("standing", "lying")
#: What told the focal length that a board is measured with; "" for nothing.
FocalFrom = Literal["file", "board", "plan", ""]
#: So many standard deviations hold nine errors of ten.
NINE_OF_TEN = 1.645
#: With so many pixels to a millimetre of an A4 sheet a board is measured well; with fewer it is
#: found, and its numbers are rough.
WELL_PX_PER_MM = 0.5


@dataclass(frozen=True)
class Found:
    """A board in a picture. `number` is None where it could not be read; `places` are the `corners`
    (numbers of the grid's, row by row) in a picture of `width_px` x `height_px`, pixels from its
    corner; `marks` the same of the grid's and number's outline, to be drawn."""

    number: int | None
    paper: Paper
    corners: tuple[int, ...]
    places: tuple[tuple[float, float], ...]
    outline: tuple[tuple[float, float], ...]
    width_px: int
    height_px: int
    px_per_mm: float

    @property
    def fineness(self) -> float:
        """Pixels to a millimetre of an A4 sheet in its place: what a larger sheet is good for."""
        return self.px_per_mm * TIMES[self.paper]


@dataclass(frozen=True)
class Stood:
    """Where a camera stood by a board that was so: its entrance pupil above the floor, level from
    the mark, and its turns; `aside_m` is how far the pupil lies to the right of the board's own
    straight line ahead. Each `..._off` holds nine errors of ten."""

    height_m: float
    distance_m: float
    tilt_deg: float
    roll_deg: float
    aside_m: float
    height_off: float
    distance_off: float
    tilt_off: float
    roll_off: float

    def printed(self, ruler_mm: float) -> Stood:
        """The same where the line of 100 mm on the board measures so much: everything grows
        with it, and no angle changes."""
        size = ruler_mm / 100.0
        return Stood(
            self.height_m * size,
            self.distance_m * size,
            self.tilt_deg,
            self.roll_deg,
            self.aside_m * size,
            self.height_off * size,
            self.distance_off * size,
            self.tilt_off,
            self.roll_off,
        )


@dataclass(frozen=True)
class Seen:
    """A board in what was filmed: in which frame (from 1), and what it says of the camera.

    `lying` and `standing`: where the camera stood if the board was so; None without a sensor size
    and focal length to go by, and where a camera so would have stood below the floor. `focal_mm` is
    the pinhole distance that was gone by, and `focal_told` what told it; `focal_measured_mm` what
    the board itself says of it, give or take `focal_off_mm`, None where it is too small to say.
    `straightened`: how the lens bends lines was measured, and is counted.
    """

    frame: int
    found: Found
    lying: Stood | None = None
    standing: Stood | None = None
    rms_px: float = 0.0
    focal_mm: float | None = None
    focal_told: FocalFrom = ""
    focal_measured_mm: float | None = None
    focal_off_mm: float = 0.0
    straightened: bool = False

    def stood(self, way: Way) -> Stood | None:
        """Where the camera stood if the board was so."""
        return self.lying if way == "lying" else self.standing

    def likelier(self, tilt_deg: float | None = None) -> Way | None:
        """How the board was, from how a camera is held: nearest the tilt that is planned, and
        level from side to side. None where nothing is known of where the camera stood."""
        ways: list[tuple[float, Way]] = []
        for way in WAYS:
            one = self.stood(way)
            if one is not None:
                off = one.tilt_deg - (0.0 if tilt_deg is None else tilt_deg)
                ways.append((math.hypot(off, one.roll_deg), way))
        return min(ways)[1] if ways else None
