"""Do two cameras agree? Distances in pixels between the same points in two pictures."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .camera import Array, Camera
from .checks_on_input import positive


@dataclass(frozen=True)
class Mismatch:
    """Distances between the same points in two pictures, in pixels.

    `worst_index` points into the list of points handed in; it is -1 and the sizes are NaN when
    no point is in front of both cameras.
    """

    max_px: float
    rms_px: float
    worst_index: int


@dataclass(frozen=True)
class Similarity:
    """A 2-D move a compositor can make: scale, turn (degrees, clockwise on screen), shift (px)."""

    scale: float
    rotation_deg: float
    shift_x_px: float
    shift_y_px: float

    @property
    def turn(self) -> complex:
        """Growth and turn as a factor of x + iy."""
        return self.scale * cmath.exp(1j * math.radians(self.rotation_deg))

    @property
    def shift(self) -> complex:
        """The shift as x + iy."""
        return complex(self.shift_x_px, self.shift_y_px)


def fit_similarity(source: Array, target: Array) -> tuple[Array, Similarity]:
    """Least-squares similarity (no mirror) from `source` to `target`, both (n, 2) and finite.

    Returns the moved source and the move. Source: Umeyama 1991, in its 2-D complex form.
    """
    a = source[:, 0] + 1j * source[:, 1]
    b = target[:, 0] + 1j * target[:, 1]
    a0, b0 = a.mean(), b.mean()
    spread = float(np.sum(np.abs(a - a0) ** 2))
    turn = complex(np.sum((b - b0) * np.conj(a - a0)) / spread) if spread > 0 else 1.0 + 0.0j
    moved = turn * (a - a0) + b0
    shift = complex(b0 - turn * a0)
    fitted = np.stack([moved.real, moved.imag], axis=1)
    angle = math.degrees(math.atan2(turn.imag, turn.real))
    return fitted, Similarity(abs(turn), angle, shift.real, shift.imag)


def distances(world_px: Array, stage_px: Array, fit: bool = False) -> Mismatch:
    """Mismatch of two pixel lists (n, 2); rows with a NaN in either are left out."""
    plain, fitted = plain_and_fitted(world_px, stage_px)
    return fitted if fit else plain


def plain_and_fitted(world_px: Array, stage_px: Array) -> tuple[Mismatch, Mismatch]:
    """`distances` without and with the fit, in one go."""
    rows = np.flatnonzero(np.isfinite(world_px + stage_px).all(axis=1))
    if not len(rows):
        nothing = Mismatch(math.nan, math.nan, -1)
        return nothing, nothing
    target, source = world_px[rows], stage_px[rows]
    fitted, _ = fit_similarity(source, target)
    return _measured(source - target, rows), _measured(fitted - target, rows)


def _measured(off: Array, rows: NDArray[np.intp]) -> Mismatch:
    """Largest and root-mean-square length of the offsets (n, 2), the worst named by its row."""
    squares = np.einsum("ij,ij->i", off, off)
    worst = int(squares.argmax())
    return Mismatch(
        max_px=math.sqrt(squares[worst]),
        rms_px=math.sqrt(squares.sum() / len(rows)),
        worst_index=int(rows[worst]),
    )


def mismatch(
    world: Camera,
    stage: Camera,
    scale: float,
    points_m: ArrayLike,
    width_px: float,
    height_px: float,
    fit: bool = False,
) -> Mismatch:
    """Project `points_m` (n, 3; world metres) through both cameras and compare, in pixels.

    The stage camera sees the points shrunk by `scale`. With `fit`, after the best 2-D
    similarity that a compositor could apply to the stage picture. Points behind either camera
    are left out; points outside the picture are not.

    Raises Impossible unless scale is above zero.
    """
    positive("scale", scale)
    points = np.asarray(points_m, dtype=np.float64)
    world_px = world.project(points, width_px, height_px)
    stage_px = stage.project(points / scale, width_px, height_px)
    return distances(world_px, stage_px, fit)
