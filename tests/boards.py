"""Boards as a camera sees them: the paper's own squares, drawn through a homography."""

from __future__ import annotations

import cv2
import numpy as np

from jungoptic.core.board import paper
from jungoptic.core.camera import Camera
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.tape import mark_of

#: Dots a millimetre of the paper that is laid into the picture.
FINE = 6


def sheet(number: int, size: paper.Paper = "A4") -> np.ndarray:
    """The paper (h, w), 0..1: ink is not quite black, paper not quite white."""
    drawn = np.full((round(paper.HIGH_MM * FINE), round(paper.WIDE_MM * FINE)), 0.85, np.float32)
    for left, top, side in paper.black(number, size):
        x, y, right, below = (round(v * FINE) for v in (left, top, left + side, top + side))
        drawn[y:below, x:right] = 0.06
    return drawn


def seen(
    camera: Camera,
    wide: int,
    high: int,
    number: int = 12_345,
    way: str = "lying",
    size: paper.Paper = "A4",
    noise: float = 0.01,
    ground: float = 0.35,
    seed: int = 0,
    larger: float = 1.0,
) -> np.ndarray:
    """A picture (high, wide), eight bits, of a board with its lower edge's middle at the origin;
    `larger`: how much larger it was printed than it should be."""
    paper_mm = np.array(
        [[0, 0], [paper.WIDE_MM, 0], [paper.WIDE_MM, paper.HIGH_MM], [0, paper.HIGH_MM]], float
    )
    flat = paper.from_foot_m(paper_mm, size, 100.0 * larger)
    none = np.zeros(4)
    columns = (flat[:, 0], flat[:, 1], none) if way == "lying" else (flat[:, 0], none, flat[:, 1])
    ends = camera.project(np.column_stack(columns), wide, high)
    # Seen at four times the pixels and averaged: what a pixel of a sensor does.
    fine = 4
    laid = cv2.getPerspectiveTransform(
        (paper_mm * FINE - 0.5).astype(np.float32), (ends * fine - 0.5).astype(np.float32)
    )
    drawn = cv2.warpPerspective(
        sheet(number, size), laid, (wide * fine, high * fine), flags=cv2.INTER_AREA,
        borderMode=cv2.BORDER_CONSTANT, borderValue=ground,
    )  # fmt: skip
    grey = cv2.resize(drawn, (wide, high), interpolation=cv2.INTER_AREA)
    grey = cv2.GaussianBlur(grey, (0, 0), 0.5)
    grey += np.random.default_rng(seed).normal(0.0, noise, grey.shape).astype(np.float32)
    return np.clip(grey * 255.0 + 0.5, 0, 255).astype(np.uint8)


def before(case: Case, **moved: float) -> Camera:
    """A plate's camera as it is planned, the foot of a board on the plate's mark being the origin;
    `moved`: metres it stands too far `right`, `back` or `up`, degrees it is too much `tilted` or
    `rolled`, and times its focal length is too long (`zoomed`)."""
    mark = mark_of(case)
    assert mark is not None
    x, y, z = case.stage.camera.position_m
    scale = case.plate.scale
    place = (
        x - mark.x_m / scale + moved.get("right", 0.0),
        y - mark.y_m / scale - moved.get("back", 0.0),
        z + moved.get("up", 0.0),
    )
    mode, one = case.choice.mode, case.stage.camera
    return Camera(
        mode.sensor_width_mm,
        mode.sensor_width_mm * mode.height_px / mode.width_px,
        case.stage.pinhole_mm * moved.get("zoomed", 1.0),
        place,
        one.pan_deg,
        one.tilt_deg + moved.get("tilted", 0.0),
        one.roll_deg + moved.get("rolled", 0.0),
    )
