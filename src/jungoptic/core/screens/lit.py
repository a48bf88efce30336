"""Light, lamps and shadows on the screen of a plate, worked out once."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..camera import Array
from ..lighting.on_stage import screen_y_m
from ..lighting.sources import Source, sources_of
from ..lighting.stage_light import lights_screen
from ..plan.plate import PlacedLamp
from ..plan.standins import outlines
from ..stage.backing import backing
from ..stage.case import Case
from .screen_light import ScreenLight, ScreenShadow, screen_light, screen_shadows


def sources(case: Case) -> tuple[Source, ...]:
    """The lamps of the stage, coarsely: the screen is large and far."""
    return case.once("sources", lambda: sources_of(case.shot, case.plate, fine=False))


def lit_screen(case: Case) -> ScreenLight | None:
    """Light on the screen behind the action; None without screen or lamps."""

    def make() -> ScreenLight | None:
        screen = backing(case)
        if screen is None or not case.plate.lamps or case.plate.screen_colour == "sky":
            return None
        return screen_light(sources(case), case.plate, screen)

    return case.once("lit screen", make)


def screen_lamps(case: Case) -> list[int]:
    """Numbers of the lamps aimed at the screen."""
    y = screen_y_m(case)
    return [i for i in range(len(case.plate.lamps)) if lights_screen(case.plate, i, y)]


def screen_spread(case: Case, lamps: tuple[PlacedLamp, ...]) -> float | None:
    """Evenness in stops with other lamps, without deriving the stage anew."""
    screen = backing(case)
    plate = replace(case.plate, lamps=lamps)
    if screen is None:
        return None
    lit = screen_light(sources_of(case.shot, plate, fine=False), plate, screen)
    return None if lit is None else lit.spread_stops


def action_outline(case: Case) -> Array:
    """Points (n, 3) of everything that plays before the screen, stage metres."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    lines = [line for s in own for line in outlines(s)]
    return case.plate.on_stage(np.concatenate(lines)) if lines else np.empty((0, 3))


def shadows_there(case: Case) -> tuple[ScreenShadow, ...]:
    """Shadows of the action that fall on the screen where the frame shows it behind the action;
    what throws them may be out of frame."""
    screen, lit = backing(case), lit_screen(case)
    points = action_outline(case)
    if screen is None or lit is None or not len(points):
        return ()
    return tuple(
        s
        for s in screen_shadows(sources(case), points, screen, lit)
        if s.right_m > lit.left_m
        and s.left_m < lit.right_m
        and s.top_m > lit.bottom_m
        and s.bottom_m < lit.top_m
    )
