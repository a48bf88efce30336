"""Lists laid along the axes of the search: setup, scale, slowdown, shutter, stop, ISO, passes.

An array spans only the axes it depends on; the others have one place.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..camera import Array

#: Where each axis lies in a full array.
SETUP, SCALE, SLOW, SHUTTER, STOP, ISO, PASSES = range(7)


def along(axis: int, values: ArrayLike) -> Array:
    """A 1-D list of values laid along one axis of a full array."""
    flat = np.asarray(values, dtype=np.float64)
    shape = [1] * 7
    shape[axis] = len(flat)
    return flat.reshape(shape)


def square(values: ArrayLike) -> Array:
    """A (setups, scales) table laid along its two axes."""
    flat = np.asarray(values, dtype=np.float64)
    return flat.reshape((*flat.shape, 1, 1, 1, 1, 1))


def at_index(values: NDArray[Any], index: tuple[int, ...]) -> float:
    """The value of a candidate in an array that spans only some of the axes."""
    # A list rather than a generator: this is asked for every number of every answer.
    at = [0 if size == 1 else i for i, size in zip(index, values.shape, strict=True)]
    return float(values[tuple(at)])
