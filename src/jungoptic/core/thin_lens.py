"""Formulas of a thin lens for numbers and arrays alike, unguarded: nonsense gives NaN or infinity.

`optics` holds the same formulas with their checks, for single numbers; the planner asks these of
every candidate at once. Lengths in millimetres on either side of the lens.
"""

from __future__ import annotations

from typing import TypeVar

import numpy as np

from .camera import Array

N = TypeVar("N", float, Array)

#: Wavelength in the middle of the visible band, where the eye is most sensitive, in nm.
MID_VISIBLE_NM = 550.0


def magnification(focal: N, focus: N) -> N:
    """Image over object size, f / (u - f)."""
    return focal / (focus - focal)


def matching_focal(pinhole: N, focus: N) -> N:
    """Focal length whose picture, focused at `focus`, lies `pinhole` behind it: 1/f = 1/P + 1/u."""
    return 1.0 / (1.0 / pinhole + 1.0 / focus)


def working_stop(f_number: N, magnification: N, pupil_ratio: N) -> N:
    """Effective f-number N (1 + m / P)."""
    return f_number * (1.0 + magnification / pupil_ratio)


def airy_disc(working_stop: N, wavelength_nm: float = MID_VISIBLE_NM) -> N:
    """Diameter of the Airy disc to its first dark ring, 2.44 lambda N."""
    return 2.44 * wavelength_nm * 1e-6 * working_stop


def blur_disc(focal: N, f_number: N, focus: N, at: N) -> N:
    """Defocus disc of a point `at` a distance, focused at `focus`: (f^2 / N) |x - u| / (x (u - f)),
    written so that either may be infinite."""
    return focal * focal / f_number * abs(1.0 / focus - 1.0 / at) / (1.0 - focal / focus)


def spread(focal: N, f_number: N, coc: N) -> N:
    """k = c N / f. With q = 1 - f / x a pass focused at q_u is sharp from q_u (1 - k) to
    q_u (1 + k)."""
    return coc * f_number / focal


def depth_span(focal: N, near: N, far: N) -> N:
    """How much focus passes have to cover: log(q far / q near), q = 1 - f / x."""
    found: N = np.log((1.0 - focal / far) / (1.0 - focal / near))
    return found


def passes_needed(span: N, k: N) -> N:
    """Fewest focus passes whose depths cover a `depth_span`. One pass reaches
    log((1 + k) / (1 - k)), and everything from k = 1 on."""
    narrow = np.minimum(k, 1.0 - 1e-16)
    one = np.where(k < 1.0, np.log((1.0 + k) / (1.0 - narrow)), np.inf)
    return np.maximum(1.0, np.ceil(span / one - 1e-9))  # type: ignore[return-value]
