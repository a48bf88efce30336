"""Stills of a board held at a slant, as a simulated lens that bends lines shows them: what a lens
is measured by."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from jungoptic.core.board import paper
from jungoptic.core.pictures.bend import Bend
from jungoptic.core.pictures.tone import to_record

from .held_up import FINE, SOFT_PX, sheet

#: (h, w), 0..1 as recorded.
Picture: TypeAlias = NDArray[np.float32]
#: A pixel is averaged from so many on a side.
PARTS = 3
#: What is behind the board, as recorded.
BEHIND = 0.35
#: Where the middle of the board is, parts of half the picture right of and below its middle, and
#: how it is turned, degrees about the lines across, up and ahead: into every corner, each another
#: way.
HELD = (
    ((0.0, 0.0), (28.0, 0.0, 0.0)),
    ((0.0, 0.0), (0.0, -28.0, 90.0)),
    ((-0.62, -0.5), (22.0, 22.0, 0.0)),
    ((0.62, -0.5), (-22.0, 24.0, 90.0)),
    ((-0.62, 0.5), (24.0, -20.0, 90.0)),
    ((0.62, 0.5), (-20.0, -24.0, 0.0)),
    ((-0.66, 0.0), (0.0, 30.0, 0.0)),
    ((0.66, 0.0), (-8.0, -30.0, 90.0)),
    ((0.0, 0.45), (-30.0, 6.0, 90.0)),
)


def held_at_a_slant(
    bend: Bend, wide: int, high: int, number: int = 1, noise: float = 0.01, seed: int = 1
) -> Iterator[Picture]:
    """Nine stills (high, wide) of an A4 board with a number, through a lens that bends lines so.
    Raises Impossible for a number that no board has."""
    printed = sheet(number)
    dice = np.random.default_rng(seed)
    # As far away as makes the paper two thirds as high as the picture.
    focal_px = bend.focal_px(wide)
    away = focal_px * paper.HIGH_MM / (0.66 * high)
    for (right, below), turns in HELD:
        middle = np.array([right * wide / 2.0, below * high / 2.0, focal_px]) * away / focal_px
        ink, part = _drawn(printed, bend, wide, high, middle, _turned(*turns))
        found = BEHIND * (1.0 - part) + ink + dice.normal(0.0, noise, (high, wide))
        yield np.clip(found, 0.0, 1.0).astype(np.float32)


def _turned(across: float, up: float, ahead: float) -> Any:
    turns = [np.array([across, 0.0, 0.0]), np.array([0.0, up, 0.0]), np.array([0.0, 0.0, ahead])]
    x, y, z = (cv2.Rodrigues(np.radians(turn))[0] for turn in turns)
    return x @ y @ z


def _drawn(
    printed: Picture, bend: Bend, wide: int, high: int, middle: Any, turned: Any
) -> tuple[Any, Any]:
    """(ink, how much of each pixel the paper takes)."""
    size = wide * PARTS, high * PARTS
    x, y = np.meshgrid((np.arange(size[0]) + 0.5) / PARTS, (np.arange(size[1]) + 0.5) / PARTS)
    rays = _unbent(x, y, bend, wide, high)
    # From the picture's plane to millimetres of the sheet: a ray meets the paper where it does.
    corner = middle + turned @ np.array([-paper.WIDE_MM / 2.0, -paper.HIGH_MM / 2.0, 0.0])
    to_picture = np.column_stack([turned[:, 0], turned[:, 1], corner])
    laid = np.linalg.inv(to_picture)
    across, down, part = (
        laid[i, 0] * rays[0] + laid[i, 1] * rays[1] + laid[i, 2] for i in range(3)
    )
    u, v = (np.asarray(one / part * FINE - 0.5, np.float32) for one in (across, down))
    found = []
    for one in (printed, np.ones_like(printed)):
        seen = cv2.remap(one, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)
        seen = cv2.resize(seen, (wide, high), interpolation=cv2.INTER_AREA)
        found.append(cv2.GaussianBlur(seen, (0, 0), SOFT_PX))
    return found[0], found[1]


def _unbent(x: Any, y: Any, bend: Bend, wide: int, high: int) -> tuple[Any, Any]:
    """The rays (right and down, parts of the way ahead) that a lens shows at places of its picture:
    r of r (1 + k1 r^2 + k2 r^4), by going round until it stays."""
    focal_px = bend.focal_px(wide)
    away = bend.away_px(wide)
    seen = (x - wide / 2.0 - away[0]) / focal_px, (y - high / 2.0 - away[1]) / focal_px
    far = np.hypot(*seen)
    # Which r it is of hangs on how far out alone: worked out once along the diagonal.
    known = np.linspace(0.0, float(far.max()), 2048)
    r = known.copy()
    for _ in range(40):
        r = known / (1.0 + bend.k1 * r**2 + bend.k2 * r**4)
    r = np.interp(far, known, r)
    times = np.divide(r, far, out=np.ones_like(r), where=far > 0.0)
    return seen[0] * times, seen[1] * times


def even(bend: Bend, wide: int, high: int, noise: float = 0.005, seed: int = 2) -> Picture:
    """White paper out of focus that fills the picture, as recorded: darker by cos^4 of the angle
    towards its corners (natural vignetting; Ray, Applied Photographic Optics, from memory)."""
    focal_px = bend.focal_px(wide)
    y, x = np.mgrid[0:high, 0:wide]
    angle = np.arctan(np.hypot(x + 0.5 - wide / 2.0, y + 0.5 - high / 2.0) / focal_px)
    light = 0.4 * np.cos(angle) ** 4
    grain = np.random.default_rng(seed).normal(0.0, noise, light.shape)
    shown: Picture = np.clip(to_record(light) + grain, 0.0, 1.0).astype(np.float32)
    return shown
