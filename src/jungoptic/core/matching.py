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


def fit_similarity(
    source: Array, target: Array, closer: Array | None = None
) -> tuple[Array, Similarity]:
    """Least-squares similarity (no mirror) from `source` to `target`, both (n, 2) and finite; of
    points that are shown `closer` (n,) times as large afterwards, for what is then seen of them.

    Returns the moved source and the move. Source: Umeyama 1991, in its 2-D complex form.
    """
    if closer is None:
        return _fit_all(source, target)
    use = np.ones((1, len(source)), dtype=bool)
    found = fit_similarities(source[None], target[None], use, closer[None] ** 2)
    return found.moved[0], found.move(0)


def _fit_all(source: Array, target: Array) -> tuple[Array, Similarity]:
    """`fit_similarities` of one picture and all of its points alike, without what that can do
    beside: asked at every move of a hand, of very many points."""
    # One row each, which NumPy adds up as it does many.
    both = (np.ascontiguousarray(v, dtype=np.float64) for v in (source, target))
    a, b = (v.view(np.complex128).reshape(1, -1) for v in both)
    count = max(float(len(source)), 1e-300)
    a0, b0 = a.sum(axis=1) / count, b.sum(axis=1) / count
    da, db = a - a0, b - b0
    spread = (np.abs(da) ** 2).sum(axis=1)
    along = np.multiply(db, np.conj(da)).sum(axis=1)
    turn = along / spread if spread[0] > 0.0 else np.ones(1, dtype=np.complex128)
    moved = turn * da + b0
    one = Similarities(turn, b0 - turn * a0, np.empty((1, 0, 2)))
    return moved.view(np.float64).reshape(-1, 2), one.move(0)


@dataclass(frozen=True)
class Similarities:
    """Moves of p pictures: `turn` and `shift` (p,) as factors and shifts of x + iy, and where the
    points (p, n, 2) then lie."""

    turn: NDArray[np.complex128]
    shift: NDArray[np.complex128]
    moved: Array

    def move(self, picture: int) -> Similarity:
        """One of them."""
        turn, shift = complex(self.turn[picture]), complex(self.shift[picture])
        angle = math.degrees(math.atan2(turn.imag, turn.real))
        return Similarity(abs(turn), angle, shift.real, shift.imag)


def fit_similarities(
    source: Array, target: Array, use: NDArray[np.bool_], weights: Array | None = None
) -> Similarities:
    """`fit_similarity` of many pictures (p, n, 2) at once, each by the points (p, n) to `use`, as
    much as their `weights` say (p, n; None: all alike)."""
    a = np.where(use, source[..., 0] + 1j * source[..., 1], 0.0)
    b = np.where(use, target[..., 0] + 1j * target[..., 1], 0.0)
    heavy = np.ones(use.shape) if weights is None else np.where(use, weights, 0.0)
    count = np.maximum(np.where(use, heavy, 0.0).sum(axis=1), 1e-300)
    a0, b0 = (heavy * a).sum(axis=1) / count, (heavy * b).sum(axis=1) / count
    da, db = np.where(use, a - a0[:, None], 0.0), np.where(use, b - b0[:, None], 0.0)
    spread = (heavy * np.abs(da) ** 2).sum(axis=1)
    along = (heavy * db * np.conj(da)).sum(axis=1)
    # One place may be turned and grown as one likes: it is left as it is.
    turn = np.where(spread > 0.0, along / np.where(spread > 0.0, spread, 1.0), 1.0 + 0.0j)
    moved = turn[:, None] * da + b0[:, None]
    return Similarities(turn, b0 - turn * a0, np.stack([moved.real, moved.imag], axis=-1))


def distances(world_px: Array, stage_px: Array, fit: bool = False) -> Mismatch:
    """Mismatch of two pixel lists (n, 2); rows with a NaN in either are left out."""
    plain, fitted = plain_and_fitted(world_px, stage_px)
    return fitted if fit else plain


def plain_and_fitted(
    world_px: Array, stage_px: Array, closer: Array | None = None
) -> tuple[Mismatch, Mismatch]:
    """`distances` without and with the fit, in one go; of points that are shown `closer` (n,) times
    as large after the fit, in pixels as shown."""
    found = plain_and_moved(world_px, stage_px, closer)
    return found[0], found[1]


def plain_and_moved(
    world_px: Array, stage_px: Array, closer: Array | None = None
) -> tuple[Mismatch, Mismatch, Similarity | None]:
    """The same with the move that fits best; None where too few points are there to find one."""
    rows = np.flatnonzero(np.isfinite(world_px + stage_px).all(axis=1))
    if not len(rows):
        nothing = Mismatch(math.nan, math.nan, -1)
        return nothing, nothing, None
    target, source, shown = world_px, stage_px, closer
    if len(rows) < len(world_px):
        target, source = world_px[rows], stage_px[rows]
        shown = None if closer is None else closer[rows]
    fitted, move = fit_similarity(source, target, shown)
    plain, left = source - target, fitted - target
    if shown is not None:
        plain, left = plain * shown[:, None], left * shown[:, None]
    return _measured(plain, rows), _measured(left, rows), move if len(rows) > 1 else None


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
