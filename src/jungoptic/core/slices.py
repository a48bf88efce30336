"""Where parts lie that are laid end to end."""

from __future__ import annotations

import itertools
from collections.abc import Sequence, Sized


def slices_of(parts: Sequence[Sized]) -> list[slice]:
    """Where each of `parts` lies when all are laid end to end: one transform of everything costs
    less than one for each."""
    ends = itertools.accumulate(map(len, parts), initial=0)
    return list(itertools.starmap(slice, itertools.pairwise(ends)))
