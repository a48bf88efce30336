"""Where parts lie that are laid end to end, and where what is true goes on without a break."""

from __future__ import annotations

import itertools
from collections.abc import Sequence, Sized

import numpy as np
from numpy.typing import NDArray


def slices_of(parts: Sequence[Sized]) -> list[slice]:
    """Where each of `parts` lies when all are laid end to end: one transform of everything costs
    less than one for each."""
    ends = itertools.accumulate(map(len, parts), initial=0)
    return list(itertools.starmap(slice, itertools.pairwise(ends)))


def runs_of(flags: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Runs of True in flags (n,): the first of each, and one past its last."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]])))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]
