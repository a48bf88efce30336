"""For who uses the core from outside: the shapes of stand-ins. Inside, see `plan.standins`."""

from .plan.standins import (
    NamedPoints,
    StandIn,
    StandInKind,
    hull_points,
    measured_points,
    outlines,
    reference_points,
)

__all__ = [
    "NamedPoints",
    "StandIn",
    "StandInKind",
    "hull_points",
    "measured_points",
    "outlines",
    "reference_points",
]
