"""Cases timed side by side."""

from __future__ import annotations

import gc
import statistics
import time
from collections.abc import Callable, Mapping
from typing import Any


def cpu_ms(case: Callable[[], Any], rounds: int) -> float:
    """Median milliseconds of processor time of a case, the thread's own."""
    times = []
    for _ in range(rounds):
        begun = time.thread_time()
        case()
        times.append(time.thread_time() - begun)
    return statistics.median(times) * 1000.0


def medians(
    cases: Mapping[str, Callable[[], Any]],
    rounds: int,
    warm: int = 1,
    clock: Callable[[], float] = time.perf_counter,
) -> dict[str, float]:
    """Median seconds of each case by a clock, taken in turn for so many rounds, after `warm` of its
    own."""
    times: dict[str, list[float]] = {name: [] for name in cases}
    for case in cases.values():
        for _ in range(warm):
            case()
    # As the server does when it has loaded.
    gc.collect()
    gc.freeze()
    for _ in range(rounds):
        for name, case in cases.items():
            begun = clock()
            case()
            times[name].append(clock() - begun)
    return {name: statistics.median(t) for name, t in times.items()}
