"""One more camera of a shot."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

from .standins import StandIn
from .tricks import Beat, RampKey, Reframe, Split
from .world import Move, WorldCamera


@dataclass(frozen=True)
class View:
    """One more camera of the shot: where it stands and what it looks at, world metres and degrees
    from the first camera (`right_m`, `ahead_m`, `turned_deg` + to the right), and its own time."""

    id: str
    name: str
    world: WorldCamera
    move: Move = field(default_factory=Move)
    screen_time_s: float = 2.0
    right_m: float = 0.0
    ahead_m: float = 0.0
    turned_deg: float = 0.0
    splits: tuple[Split, ...] = ()
    reframe: Reframe | None = None
    beats: tuple[Beat, ...] = ()
    story_speed: float = 1.0
    story_speed_keys: tuple[RampKey, ...] = ()

    def from_here(self, thing: StandIn) -> StandIn:
        """The thing as this view's camera has it before it: x to its right, y ahead of it."""
        turn = math.radians(self.turned_deg)
        c, s = math.cos(turn), math.sin(turn)
        right, ahead = thing.x_m - self.right_m, thing.y_m - self.ahead_m
        return replace(
            thing,
            x_m=right * c - ahead * s,
            y_m=right * s + ahead * c,
            heading_deg=thing.heading_deg - self.turned_deg,
            course_deg=thing.course_deg - self.turned_deg,
        )

    def in_world(self, thing: StandIn) -> StandIn:
        """The inverse of `from_here`: a thing told from this view's camera, as the shot has it."""
        turn = math.radians(self.turned_deg)
        c, s = math.cos(turn), math.sin(turn)
        return replace(
            thing,
            x_m=self.right_m + thing.x_m * c + thing.y_m * s,
            y_m=self.ahead_m - thing.x_m * s + thing.y_m * c,
            heading_deg=thing.heading_deg + self.turned_deg,
            course_deg=thing.course_deg + self.turned_deg,
        )
