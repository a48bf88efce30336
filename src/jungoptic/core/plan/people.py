"""Who is filmed, and who works on set."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .loan import OURS, Loan

#: What somebody does: is filmed, moves a rig or the camera in a take, poses what is animated.
Role = Literal["performer", "driver", "animator"]


@dataclass(frozen=True)
class Person:
    """Somebody by name: how tall, shoes on, what they do, how far in over a set an animator
    poses things (None: unknown), and when they are there."""

    id: str
    name: str
    height_m: float = 1.7
    roles: tuple[Role, ...] = ("performer",)
    reach_m: float | None = None
    loan: Loan = OURS
