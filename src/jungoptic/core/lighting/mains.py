"""What lamps draw, and whether the circuits of a room carry it. Never a substitute for an
electrician."""

from __future__ import annotations

from dataclasses import dataclass

from ..checks_on_input import positive
from ..plan.kit import Room
from ..plan.plate import Plate
from ..plan.shot import Shot

#: Continuous load of a circuit, as a part of its rating (NFPA 70, 210.20(A), from memory; other
#: countries have their own code).
CONTINUOUS = 0.8
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
    """Largest first, each on the circuit with most left: (circuits, amperes over the limit)."""
    limit = CONTINUOUS * room.circuit_a
    loads = [0.0] * max(room.circuits, 1)
    lamps: list[list[int]] = [[] for _ in loads]
    for number, current in sorted(drawn, key=lambda x: (-x[1], x[0])):
        at = min(range(len(loads)), key=lambda i: loads[i])
        loads[at] += current
        lamps[at].append(number)
    circuits = tuple(
        Circuit(i + 1, load, limit, tuple(sorted(own)))
        for i, (load, own) in enumerate(zip(loads, lamps, strict=True))
    )
    return circuits, sum(max(load - limit, 0.0) for load in loads)
