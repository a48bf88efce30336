"""Where straight lines enter and leave a box that stands along the axes."""

from __future__ import annotations

import numpy as np

from .camera import Array


def through_box(starts: Array, ways: Array, low: Array, high: Array) -> tuple[Array, Array]:
    """How far along each line it enters and leaves a box, in parts of its way (n,) and (n,); the
    first is above the last where it never meets it.

    `starts` and `ways` are (n, k), or one (k,) for all lines; `low` and `high` (k,) are the box's
    corners. Slab method (Kay and Kajiya 1986).
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        a, b = (low - starts) / ways, (high - starts) / ways
    # A line along a side is between the two sides everywhere, or nowhere.
    along = np.abs(ways) < 1e-12
    inside = (starts >= low) & (starts <= high)
    first = np.where(along, np.where(inside, -np.inf, np.inf), np.minimum(a, b))
    last = np.where(along, np.where(inside, np.inf, -np.inf), np.maximum(a, b))
    return first.max(axis=-1), last.min(axis=-1)
