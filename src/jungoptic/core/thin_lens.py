"""Formulas of a lens for numbers and arrays alike, unguarded: nonsense gives NaN or infinity.

A lens is thin but for its pupils: `pupil_ratio` P is exit over entrance pupil, 1 for a thin lens.
Distances are told from the entrance pupil, which lies f (1 - 1 / P) before the front principal
plane; for P = 1 they are the same. Source: Ray, Applied Photographic Optics (from memory).

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


def magnification(focal: N, focus: N, pupil_ratio: N | float = 1.0) -> N:
    """Image over object size, f / (u - f / P)."""
    found: N = focal / (focus - focal / pupil_ratio)
    return found


def pinhole(focal: N, magnification: N, pupil_ratio: N | float = 1.0) -> N:
    """How far behind a pinhole at the entrance pupil the picture would be as large,
    f (1 + m / P)."""
    found: N = focal * (1.0 + magnification / pupil_ratio)
    return found


def matching_focal(pinhole: N, focus: N, pupil_ratio: N | float = 1.0) -> N:
    """Focal length whose picture, focused at `focus`, is as large as `pinhole` makes it:
    1 / f = 1 / pinhole + 1 / (P u)."""
    found: N = 1.0 / (1.0 / pinhole + 1.0 / (pupil_ratio * focus))
    return found


def working_stop(f_number: N, magnification: N, pupil_ratio: N) -> N:
    """Effective f-number N (1 + m / P)."""
    return f_number * (1.0 + magnification / pupil_ratio)


def airy_disc(working_stop: N, wavelength_nm: float = MID_VISIBLE_NM) -> N:
    """Diameter of the Airy disc to its first dark ring, 2.44 lambda N."""
    return 2.44 * wavelength_nm * 1e-6 * working_stop


def blur_disc(focal: N, f_number: N, focus: N, at: N, pupil_ratio: N | float = 1.0) -> N:
    """Defocus disc of a point `at` a distance, focused at `focus`:
    (f^2 / N) |x - u| / (x (u - f / P)), written so that either may be infinite."""
    blur = focal * focal / f_number * abs(1.0 / focus - 1.0 / at)
    found: N = blur / (1.0 - focal / pupil_ratio / focus)
    return found


def spread(focal: N, f_number: N, coc: N, pupil_ratio: N | float = 1.0) -> N:
    """k = c N / (f P). With q = 1 - f / (P x) a pass focused at q_u is sharp from q_u (1 - k) to
    q_u (1 + k)."""
    found: N = coc * f_number / focal / pupil_ratio
    return found


def depth_span(focal: N, near: N, far: N, pupil_ratio: N | float = 1.0) -> N:
    """How much focus passes have to cover: log(q far / q near), q = 1 - f / (P x)."""
    reach = focal / pupil_ratio
    found: N = np.log((1.0 - reach / far) / (1.0 - reach / near))
    return found


def passes_needed(span: N, k: N) -> N:
    """Fewest focus passes whose depths cover a `depth_span`. One pass reaches
    log((1 + k) / (1 - k)), and everything from k = 1 on."""
    narrow = np.minimum(k, 1.0 - 1e-16)
    one = np.where(k < 1.0, np.log((1.0 + k) / (1.0 - narrow)), np.inf)
    return np.maximum(1.0, np.ceil(span / one - 1e-9))  # type: ignore[return-value]
