"""Maps of light: over the stage at the height of the action, and over the screen."""

from __future__ import annotations

import numpy as np

from ..camera import Array
from ..lighting.contours import LightMap, light_map
from ..lighting.on_stage import lighting
from ..lighting.shine import Source, illuminance
from ..lighting.sources import sources_of
from ..screens.lit import lit_screen, sources
from ..screens.screen_light import on_screen
from ..stage.backing import backing
from ..stage.case import Case
from ..words.drawing import Drawing

#: Points along and across the stage.
COLUMNS, ROWS = 200, 120
#: Finer steps over a screen: a third of a stop is what counts there.
SCREEN_STEP, SCREEN_REACH = 1.0 / 3.0, 3.0


def grid_lux(
    found: tuple[Source, ...], us: Array, vs: Array, height_m: float, normal: Array
) -> Array:
    """Light (rows, columns) over a level rectangle of the plan, whose u runs away from the camera
    and whose v runs to its left, on a receptor that faces along `normal`."""
    points = np.stack(
        [
            np.repeat(-vs, len(us)),
            np.tile(us, len(vs)),
            np.full(len(us) * len(vs), height_m),
        ],
        axis=1,
    ).astype(np.float32)
    lux: Array = illuminance(found, points, normal).sum(axis=0).reshape(len(vs), len(us))
    return lux


def stage_map(
    case: Case, drawing: Drawing, columns: int = COLUMNS, rows: int = ROWS
) -> LightMap | None:
    """Light over the plan as drawn, against the light at the action: a flat receptor at the height
    of the action that faces the key. None without lamps or light."""
    light = lighting(case)
    if light is None or light.lux <= 0.0:
        return None
    u0, v0, u1, v1 = drawing.room if drawing.room is not None else drawing.bounds
    us, vs = np.linspace(u0, u1, columns), np.linspace(v0, v1, rows)
    found = sources_of(case.shot, case.plate, fine=False)
    key = next((s for s in found if s.number == light.key), None)
    if key is None:
        return None
    way = -key.axis if key.parallel else key.at_m - np.asarray(light.at_m)
    normal = way / max(float(np.linalg.norm(way)), 1e-9)
    return light_map(us, vs, grid_lux(found, us, vs, light.at_m[2], normal), light.lux)


def screen_map(case: Case, columns: int = 60, rows: int = 40) -> LightMap | None:
    """Light over the whole screen against its mean behind the action; u to the right from its
    middle, v up. None without lamps or screen."""
    screen, lit, plate = backing(case), lit_screen(case), case.plate
    if screen is None or lit is None or plate.screen_height_m <= 0.0:
        return None
    half = plate.screen_width_m / 2.0
    xs, zs, lux = on_screen(
        sources(case),
        screen.centre_x_m - half,
        screen.centre_x_m + half,
        plate.screen_foot_m,
        plate.screen_top_m,
        screen.distance_m,
        columns,
        rows,
    )
    return light_map(xs - screen.centre_x_m, zs, lux, lit.level_lux, SCREEN_STEP, SCREEN_REACH)
