"""What was picked in a picture, and what it says of the camera, as it is kept.

Places in a picture are parts of its width and height from its top left corner, so that they hold
whatever size it is looked at in.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..board.seen import Stood
from ..pictures.lit import Light

#: What told the focal length that marks are measured with; "" for nothing.
MarksFocal = Literal["file", "marks", "plan", ""]
#: The world's own directions that an edge can run along, seen from the camera.
Direction = Literal["across", "ahead", "up"]
#: What a ball is: a mirror, or matt.
BallKind = Literal["chrome", "grey"]
DIRECTIONS: tuple[Direction, ...] = ("across", "ahead", "up")
#: Marks whose camera puts them farther off than this, a part of the picture's width, do not agree.
AGREE = 0.003


@dataclass(frozen=True)
class PickedMark:
    """A place on the set whose tapes are known and where it lies in the picture (`x`, `y`): metres
    to the right of the mark that tapes are laid to, ahead of it (away from the camera), and above
    the stage's ground."""

    name: str
    right_m: float
    ahead_m: float
    up_m: float
    x: float
    y: float


@dataclass(frozen=True)
class ByMarks:
    """What picked marks say of the camera. `stood` is None where no camera sees them so; `places`:
    where the camera found has them, in the order of the marks; `rms_px` what they are off.

    `focal_mm` is the pinhole distance that was gone by; `focal_measured_mm` what the marks say of
    it themselves, give or take `focal_off_mm`, None where they are too few. `suspect` is the mark
    without which the others agree, `suspect_px` off where they put it; "" for none.
    `straightened`: how the lens bends lines was measured, and is counted. `problem`: why there is
    nothing.
    """

    stood: Stood | None = None
    places: tuple[tuple[float, float], ...] = ()
    rms_px: float = 0.0
    width_px: int = 0
    focal_mm: float | None = None
    focal_told: MarksFocal = ""
    focal_measured_mm: float | None = None
    focal_off_mm: float = 0.0
    suspect: str = ""
    suspect_px: float = 0.0
    straightened: bool = False
    problem: str = ""

    @property
    def agree(self) -> bool:
        """Whether the marks fit one camera well enough to be believed."""
        return self.stood is not None and self.rms_px <= AGREE * self.width_px


@dataclass(frozen=True)
class Edge:
    """A straight edge that runs along one of the world's own directions: its two ends in the
    picture, either way round."""

    direction: Direction
    x1: float
    y1: float
    x2: float
    y2: float


@dataclass(frozen=True)
class Upright:
    """Something of known height that stands plumb on the ground: its foot and top in the
    picture."""

    height_m: float
    foot_x: float
    foot_y: float
    top_x: float
    top_y: float


@dataclass(frozen=True)
class ByEdges:
    """What traced edges say of the camera of a picture that is whole. `focal_widths`: the pinhole
    distance in widths of its sensor; `pan_deg`: how far it looked to the right of what counts as
    ahead. Each `..._off` holds nine errors of ten. `height_m`: of the lens above the ground, None
    where nothing of known height was traced; `height_off`: how far the things traced differ on it.
    `horizon`: where it lies at the left and the right of the picture. `problem`: why there is
    nothing."""

    focal_widths: float | None = None
    focal_off: float = 0.0
    pan_deg: float = 0.0
    tilt_deg: float = 0.0
    roll_deg: float = 0.0
    pan_off: float = 0.0
    tilt_off: float = 0.0
    roll_off: float = 0.0
    height_m: float | None = None
    height_off: float = 0.0
    rms_px: float = 0.0
    horizon: tuple[float, float] = (0.0, 0.0)
    problem: str = ""


@dataclass(frozen=True)
class PickedBall:
    """A ball whose outline was traced in a picture: its middle, and its radius as a part of the
    picture's width."""

    kind: BallKind
    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class ByBall:
    """What a traced ball says of the light, in the camera's own axes: its `lights`, brightest
    first; of a grey one key side over shadow side (None where nothing reaches that, and of a chrome
    one). `problem`: why there is nothing."""

    kind: BallKind
    lights: tuple[Light, ...] = ()
    ratio_stops: float | None = None
    problem: str = ""
