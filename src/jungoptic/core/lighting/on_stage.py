"""What several judgements ask of the light on a stage, worked out once."""

from __future__ import annotations

from ..stage.backing import backing
from ..stage.case import Case
from .lamps import light_of
from .room_light import walls_of
from .stage_light import StageLight


def screen_y_m(case: Case) -> float | None:
    """How far away the screen hangs, so that lamps aimed at it are told apart; None without."""
    screen = backing(case)
    return None if screen is None else screen.distance_m


def lighting(case: Case) -> StageLight | None:
    """The light on the case's stage; None without lamps or action."""
    return case.once(
        "light", lambda: light_of(case.shot, case.plate, screen_y_m(case), walls_of(case))
    )
