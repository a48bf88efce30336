"""From a stage's picture to the story's: mirrored back, and laid in where post places it."""

from __future__ import annotations

import numpy as np

from ..camera import Array
from ..matching import Similarity
from ..plan.laid import laid
from .case import Case


def to_story(case: Case, part: float) -> Array | None:
    """What takes a place in the picture that a stage films (delivered pixels of its own shot) to
    where the story's picture has it after a part (0..1) of the screen time: a matrix (3, 3); None
    where a piece that is placed in post is not in the picture then."""
    found = np.eye(3)
    if case.plate.flop:
        found = mirrored_px(case.shot.delivery.width_px)
    if case.shot.placing is None:
        return found
    laid_in = laid(case.shot, case.stage.camera, part, case.plate)
    return None if laid_in is None else matrix_of(laid_in.move) @ found


def mirrored_px(width_px: float) -> Array:
    """Left and right of a picture exchanged, as a matrix (3, 3)."""
    return np.array([[-1.0, 0.0, width_px], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])


def zoom_px(closer: float, width_px: float, height_px: float) -> Array:
    """A picture shown `closer` times as large about its middle, as a matrix (3, 3)."""
    x, y = width_px / 2.0 * (1.0 - closer), height_px / 2.0 * (1.0 - closer)
    return np.array([[closer, 0.0, x], [0.0, closer, y], [0.0, 0.0, 1.0]])


def centred(step: float) -> Array:
    """From pixels as drawn to pixels `step` times as fine, by their centres: a matrix (3, 3)."""
    return np.array([[step, 0.0, step / 2.0], [0.0, step, step / 2.0], [0.0, 0.0, 1.0]])


def matrix_of(move: Similarity) -> Array:
    """A move in post as a matrix (3, 3)."""
    turn, shift = move.turn, move.shift
    return np.array(
        [[turn.real, -turn.imag, shift.real], [turn.imag, turn.real, shift.imag], [0.0, 0.0, 1.0]]
    )
