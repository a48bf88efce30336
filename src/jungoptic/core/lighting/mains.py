"""What lamps draw, and whether the circuits of a room carry it. Never a substitute for an
electrician."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from ..checks_on_input import positive
from ..plan.kit import Room
from ..plan.plate import Plate
from ..plan.shot import Shot

#: Continuous load of a circuit, as a part of its rating (NFPA 70, 210.20(A), from memory; other
#: countries have their own code).
CONTINUOUS = 0.8
#: Longest that the packing of circuits may take, seconds; what was best by then counts.
PACKING_S = 0.5
CAUTIONS = (
    "Local code and the label on the fuse box decide, not this sum; other things may hang on the "
    "same circuit.",
    "Unroll cable drums, keep plugs off wet ground, never tape over a breaker that trips.",
    "New circuits, generators and fixed wiring: a licensed electrician only.",
)


@dataclass(frozen=True)
class Circuit:
    """One circuit with the lamps (their numbers) that hang on it."""

    number: int
    amperes: float
    limit_a: float
    lamps: tuple[int, ...]


@dataclass(frozen=True)
class MainsLoad:
    """Lamps shared out over the circuits. `over_a`: what does not find a place within the limit,
    in all; 0 when everything does."""

    watts: float
    amperes: float
    circuits: tuple[Circuit, ...]
    over_a: float
    cautions: tuple[str, ...] = CAUTIONS


def amperes(watts: float, volts: float) -> float:
    """Current, W / V; lamps with poor power factors draw more (their label says).

    Raises Impossible unless mains voltage is above zero.
    """
    return watts / positive("mains voltage", volts)


def mains_load(shot: Shot, plate: Plate) -> MainsLoad | None:
    """Lamps of the plate on the circuits of its room; None without mains or without lamps that draw
    any. Dimmers are not counted on: a lamp may be turned up."""
    room = shot.kit.room(plate.room_id)
    if room is None or room.mains_hz is None:
        return None
    drawn = []
    for number, placed in enumerate(plate.lamps):
        lamp = shot.kit.lamp(placed.lamp_id)
        if lamp is not None and lamp.watts > 0:
            drawn.append((number, amperes(lamp.watts, room.volts), lamp.watts))
    if not drawn:
        return None
    circuits, over = shared_out([(n, a) for n, a, _ in drawn], room)
    return MainsLoad(sum(w for _, _, w in drawn), sum(a for _, a, _ in drawn), circuits, over)


def shared_out(drawn: list[tuple[int, float]], room: Room) -> tuple[tuple[Circuit, ...], float]:
    """Lamps (number, amperes) on the circuits of a room so that as little as possible goes over the
    limits: (circuits, amperes over the limit in all).

    Largest first, each on the circuit with most left, is quick and spreads them evenly; where that
    does not fit, which lamp goes where is packed as a whole number program (SciPy's HiGHS).
    """
    count = max(room.circuits, 1)
    limit = CONTINUOUS * room.circuit_a
    ranked = sorted(drawn, key=lambda x: (-x[1], x[0]))
    on: list[list[tuple[int, float]]] = [[] for _ in range(count)]
    for number, current in ranked:
        at = min(range(count), key=lambda i: sum(a for _, a in on[i]))
        on[at].append((number, current))
    if _over(on, limit) > 1e-9 and len(drawn) > count > 1:
        on = min(on, _packed(ranked, count, limit), key=lambda c: _over(c, limit))
    circuits = tuple(
        Circuit(i + 1, sum(a for _, a in own), limit, tuple(sorted(n for n, _ in own)))
        for i, own in enumerate(on)
    )
    return circuits, _over(on, limit)


def _over(on: list[list[tuple[int, float]]], limit: float) -> float:
    return sum(max(sum(a for _, a in own) - limit, 0.0) for own in on)


def _packed(
    ranked: list[tuple[int, float]], count: int, limit: float
) -> list[list[tuple[int, float]]]:
    """Lamps in falling order on `count` circuits, with the least over the limit in all."""
    currents, alike = np.unique([round(a, 6) for _, a in ranked], return_counts=True)
    shares = _assigned(tuple(currents.tolist()), tuple(alike.tolist()), count, limit)
    left = {c: [x for x in ranked if round(x[1], 6) == c] for c in currents.tolist()}
    return [
        [left[c].pop() for c, n in zip(currents.tolist(), own, strict=True) for _ in range(n)]
        for own in shares
    ]


@lru_cache(maxsize=128)
def _assigned(
    currents: tuple[float, ...], alike: tuple[int, ...], count: int, limit: float
) -> tuple[tuple[int, ...], ...]:
    """How many lamps of each current hang on each circuit."""
    kinds, size = len(currents), len(currents) * count
    # How many of each kind on each circuit, then what each circuit carries too much.
    cost = np.concatenate([np.zeros(size), np.ones(count)])
    every = np.zeros((kinds, size + count))
    loads = np.zeros((count, size + count))
    for c in range(count):
        for k in range(kinds):
            every[k, c * kinds + k] = 1.0
            loads[c, c * kinds + k] = currents[k]
        loads[c, size + c] = -1.0
    found = milp(
        cost,
        integrality=np.concatenate([np.ones(size), np.zeros(count)]),
        bounds=Bounds(0.0, np.concatenate([np.tile(alike, count), np.full(count, np.inf)])),
        constraints=[
            LinearConstraint(every, alike, alike),
            LinearConstraint(loads, -np.inf, limit),
        ],
        options={"time_limit": PACKING_S},
    )
    if found.x is None:
        return ((*alike,), *(((0,) * kinds),) * (count - 1))
    counts = np.rint(found.x[:size]).astype(int).reshape(count, kinds)
    return tuple(tuple(row) for row in counts.tolist())
