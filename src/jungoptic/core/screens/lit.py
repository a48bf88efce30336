"""Light, lamps and shadows on the screen of a plate, worked out once."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..camera import Array
from ..lighting.on_stage import screen_y_m
from ..lighting.shine import Source
from ..lighting.sources import sources_of
from ..lighting.stage_light import lights_screen
from ..plan.plate import PlacedLamp, Plate
from ..plan.standins import hull_points
from ..stage.backing import Backing, backing
from ..stage.case import Case
from ..stage.spots import velocities
from .screen_light import ScreenLight, screen_light
from .shadows import ScreenShadow, screen_shadows

#: At how many moments of a walk its shadow is looked at.
MOMENTS = 5


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


def stays_dark(case: Case) -> bool:
    """Whether lamps are placed and none of them reaches a screen that has to be lit: one with a
    colour to key, and not in the open air."""
    room = case.shot.kit.room(case.plate.room_id)
    open_air = room is not None and room.open_air
    keyed = backing(case) is not None and case.plate.screen_colour not in ("sky", "black")
    return keyed and not open_air and bool(case.plate.lamps) and lit_screen(case) is None


def at_screen(
    lamp: PlacedLamp, screen: Backing, plate: Plate, before_m: float, beside: float
) -> PlacedLamp:
    """A lamp so far before the screen, aimed at the place `beside` its middle, in half widths to
    the right; level unless it was aimed up or down."""
    return replace(
        lamp,
        y_m=round(screen.distance_m - before_m, 2),
        aim_x_m=round(screen.centre_x_m + beside * plate.screen_width_m / 2.0, 2),
        aim_y_m=round(screen.distance_m, 2),
        aim_z_m=lamp.z_m if lamp.aim_z_m is None else lamp.aim_z_m,
    )


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


def _action(case: Case) -> list[list[Array]]:
    """Points (n, 3) that bound each thing that plays before the screen, at some moments of the
    shot, stage metres."""
    own = [s for s in case.shot.stand_ins_of(case.plate) if s.kind != "ground"]
    walks = any(s.speed_m_s for s in own)
    times = case.seen.seconds[case.seen.some(MOMENTS)] if walks else np.zeros(1)
    way = velocities(own)
    return [
        [case.plate.on_stage(hull_points(s) + at * v) for s, v in zip(own, way, strict=True)]
        for at in times
    ]


def shadows_there(case: Case) -> tuple[ScreenShadow, ...]:
    """Shadows of the action that fall on the screen where the frame shows it behind the action;
    what throws them may be out of frame."""
    screen, lit = backing(case), lit_screen(case)
    if screen is None or lit is None:
        return ()

    def make() -> tuple[ScreenShadow, ...]:
        lamps = sources_of(case.shot, case.plate, fine=True)
        return screen_shadows(lamps, _action(case), screen, lit)

    return case.once("screen shadows", make)
