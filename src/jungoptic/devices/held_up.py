"""The printed board, held up before a simulated camera."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from jungoptic.core.board import paper
from jungoptic.core.board.number import Paper
from jungoptic.core.board.placed import corners_of
from jungoptic.core.board.seen import Way
from jungoptic.core.camera import Camera
from jungoptic.core.impossible import Impossible
from jungoptic.core.stage.at_mark import camera_at_mark
from jungoptic.core.stage.case import Case

#: (h, w) or (h, w, 3), 0..1 as recorded.
Picture: TypeAlias = NDArray[np.float32]
#: Dots a millimetre of the sheet, and the pixels that one of the picture is averaged from, a side.
FINE, PARTS = 6, 4
#: Ink is not quite black, paper not quite white.
INK, WHITE = 0.06, 0.85
#: What a lens leaves of a pixel's edge, pixels.
SOFT_PX = 0.5


@dataclass(frozen=True)
class Board:
    """A board of a number and a size, the middle of its lower edge at the origin of the `camera`'s
    metres, or `up_m` above that; `larger`: by how much the printer made it so. In the frames (from
    1) from `first` to `last`, all of them where that is None."""

    camera: Camera
    number: int
    way: Way = "lying"
    size: Paper = "A4"
    larger: float = 1.0
    up_m: float = 0.0
    first: int = 1
    last: int | None = None

    def shows(self, frame: int) -> bool:
        """Whether it is held up in a frame."""
        return self.first <= frame and (self.last is None or frame <= self.last)


def before(
    case: Case,
    right: float = 0.0,
    back: float = 0.0,
    up: float = 0.0,
    tilted: float = 0.0,
    rolled: float = 0.0,
    zoomed: float = 1.0,
) -> Camera:
    """A plate's camera as it is planned, all that it records, the plate's mark on the floor being
    the origin; metres that it stands too far `right`, `back` or `up`, degrees that it is too much
    `tilted` or `rolled`, and times its focal length is too long (`zoomed`). Raises Impossible for a
    plate without a mark."""
    one = camera_at_mark(case)
    if one is None:
        raise Impossible("there is no mark for a board to stand on.", "stand_ins")
    x, y, z = one.position_m
    return replace(
        one,
        focal_mm=one.focal_mm * zoomed,
        position_m=(x + right, y - back, z + up),
        tilt_deg=one.tilt_deg + tilted,
        roll_deg=one.roll_deg + rolled,
    )


def sheet(number: int, size: Paper = "A4") -> Picture:
    """The paper (h, w), as recorded. Raises Impossible for a number that no board has."""
    drawn = np.full((round(paper.HIGH_MM * FINE), round(paper.WIDE_MM * FINE)), WHITE, np.float32)
    for left, top, side in paper.black(number, size):
        x, y, right, below = (round(v * FINE) for v in (left, top, left + side, top + side))
        drawn[y:below, x:right] = INK
    return drawn


def with_board(picture: Picture, board: Board) -> Picture:
    """The picture (h, w) or (h, w, 3) with a board in it; nothing hides it, and no shadow falls on
    it. Raises Impossible for a number that no board has."""
    high, wide = picture.shape[:2]
    flat = corners_of(board.size, board.way, board.up_m)
    foot = np.array([0.0, 0.0, board.up_m])
    ends = board.camera.project(foot + (flat - foot) * board.larger, wide, high)
    if not np.isfinite(ends).all():
        # It reaches behind the lens.
        return picture
    laid = cv2.getPerspectiveTransform(
        (paper.ENDS_MM * FINE - 0.5).astype(np.float32), (ends * PARTS - 0.5).astype(np.float32)
    )
    size = wide * PARTS, high * PARTS
    # Seen at several times the pixels and averaged: what a pixel of a sensor does.
    printed = sheet(board.number, board.size)
    drawn = cv2.warpPerspective(printed, laid, size, flags=cv2.INTER_AREA)
    there = cv2.warpPerspective(np.ones_like(printed), laid, size)
    ink, part = (
        cv2.GaussianBlur(
            cv2.resize(one, (wide, high), interpolation=cv2.INTER_AREA), (0, 0), SOFT_PX
        )
        for one in (drawn, there)
    )
    if picture.ndim == 3:
        ink, part = ink[..., None], part[..., None]
    found: Picture = (picture * (1.0 - part) + ink).astype(np.float32)
    return found
