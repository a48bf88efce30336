"""The production's own pace: what its logged hours say of the table of defaults."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..plan.findings import Quantity, Working
from .effort import Phase, ShotEffort

#: How many logged results count as much as the default (judgement).
PRIOR = 4.0


@dataclass(frozen=True)
class Pace:
    """How this production's hours compare with the table: `factor` 1.2 is a fifth slower.

    `n` logged results; `mean` their own mean ratio; `working` shows the way.
    """

    phase: Phase
    n: int
    mean: float
    factor: float
    working: Working


def pace(phase: Phase, logged: Sequence[tuple[float, float]]) -> Pace:
    """The pace from pairs (estimated, actual) hours of finished work.

    The mean of the logarithms of actual / estimated is pulled towards zero by n / (n + 4), so one
    bad day does not double every estimate. Pairs that are not positive are left out. Source:
    shrinkage of a mean towards a prior (James and Stein 1961; any text on empirical Bayes); the
    weight of four is judgement.
    """
    logs = [math.log(actual / guess) for guess, actual in logged if guess > 0 and actual > 0]
    n = len(logs)
    mean = sum(logs) / n if n else 0.0
    factor = math.exp(n / (n + PRIOR) * mean)
    return Pace(
        phase,
        n,
        math.exp(mean),
        factor,
        Working(
            formula="exp( n / (n + k) · mean of ln(actual / estimated) )",
            inputs=(
                Quantity("n", "finished pieces logged", float(n), ""),
                Quantity("k", "weight of the table", PRIOR, ""),
                Quantity("r", "their mean ratio", math.exp(mean), ""),
            ),
            result=Quantity("p", "pace", factor, ""),
            source="Shrinkage of a mean towards a prior (James and Stein 1961); k is judgement.",
        ),
    )


def paced(effort: ShotEffort, set_factor: float, post_factor: float) -> ShotEffort:
    """The same estimates at the production's own pace."""
    factors = {"set": set_factor, "post": post_factor}
    return ShotEffort(
        tuple(
            replace(
                part,
                lines=tuple(replace(x, hours=x.hours.times(factors[x.phase])) for x in part.lines),
            )
            for part in effort.parts
        )
    )
