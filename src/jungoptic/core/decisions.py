"""For who uses the core from outside: decisions about tricks. Inside, see `plan.tricks`."""

from .plan.tricks import (
    Aspect,
    Beat,
    Crowd,
    DividerKey,
    Filmed,
    Markers,
    RampKey,
    Reframe,
    ReframeKey,
    Rig,
    Split,
    Throw,
)

__all__ = [
    "Aspect",
    "Beat",
    "Crowd",
    "DividerKey",
    "Filmed",
    "Markers",
    "RampKey",
    "Reframe",
    "ReframeKey",
    "Rig",
    "Split",
    "Throw",
]
