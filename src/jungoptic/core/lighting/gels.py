"""Colour filters for lamps: what they shift and what they cost."""

from __future__ import annotations

from dataclasses import dataclass

from ..light import mired_shift


@dataclass(frozen=True)
class Gel:
    """A filter before a lamp: `mired` is added to the lamp's own (negative: bluer), `loss_stops`
    is what it takes."""

    key: str
    name: str
    mired: float
    loss_stops: float


#: Shifts and losses as sold under these generic names (common practice, from memory: makers differ
#: by a tenth; a colour meter decides).
GELS: tuple[Gel, ...] = (
    Gel("", "no gel", 0.0, 0.0),
    Gel("blue-8", "eighth blue", -12.0, 0.3),
    Gel("blue-4", "quarter blue", -30.0, 0.5),
    Gel("blue-2", "half blue", -68.0, 0.9),
    Gel("blue-34", "three-quarter blue", -100.0, 1.1),
    Gel("blue-1", "full blue", -137.0, 1.4),
    Gel("orange-8", "eighth orange", 20.0, 0.1),
    Gel("orange-4", "quarter orange", 42.0, 0.3),
    Gel("orange-2", "half orange", 81.0, 0.5),
    Gel("orange-34", "three-quarter orange", 131.0, 0.6),
    Gel("orange-1", "full orange", 159.0, 0.7),
)
BY_KEY = {gel.key: gel for gel in GELS}


def gel_of(key: str) -> Gel:
    """The gel called `key`; no gel for a name that is not known."""
    return BY_KEY.get(key, GELS[0])


def kelvin(mired: float) -> float:
    """A colour temperature from mired; the bluest that can be told is 50,000 K, since a blue gel on
    a blue lamp leaves the scale."""
    return 1e6 / max(mired, 20.0)


def gelled_k(temperature_k: float, key: str) -> float:
    """Colour temperature behind a gel: 1e6 / (1e6 / T + mired)."""
    return kelvin(1e6 / temperature_k + gel_of(key).mired)


def gel_for(temperature_k: float, wanted_k: float) -> Gel:
    """The single gel that brings a lamp nearest to a colour temperature, in mired."""
    shift = mired_shift(temperature_k, wanted_k)
    return min(GELS, key=lambda gel: abs(gel.mired - shift))
