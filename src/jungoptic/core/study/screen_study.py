"""What is worth knowing about the screen of one plate beyond its findings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..drawings.light_maps import screen_map
from ..judging.limits import VIEW_COVERED_TO
from ..lighting.contours import LightMap
from ..plan.on_side import modes_for
from ..screens.codecs import Recording, cheapest_that_holds, recording
from ..screens.colours import SCREENS, ScreenChoice, choose
from ..screens.lit import lit_screen, shadows_there
from ..screens.screen_light import ScreenLight
from ..screens.shadows import ScreenShadow
from ..stage.backing import Backing, backing
from ..stage.case import Case
from ..stage.sharpest import sharpest_disc_mm


@dataclass(frozen=True)
class ScreenStudy:
    """The screen in numbers. `rgb`: how it looks when lit. `centre_x_m` and `distance_m` place it;
    `needed` is (left, right, bottom, top) of what the action covers on it; `blur_px`: how far its
    texture blurs; `covered`: part of the frame that the screen fills, `garbage`: the rest, to be
    cut away by a garbage matte; `action`: part of the frame that the action's envelope takes.
    `cheapest`: the mode that holds with the least storage."""

    rgb: tuple[int, int, int]
    centre_x_m: float
    distance_m: float
    width_m: float
    height_m: float
    needed: tuple[float, float, float, float]
    lit: ScreenLight | None
    map: LightMap | None
    shadows: tuple[ScreenShadow, ...]
    blur_px: float
    covered: float
    garbage: float
    action: float
    recordings: tuple[Recording, ...]
    cheapest: str | None
    choices: tuple[ScreenChoice, ...]
    #: How high above the ground its lower edge hangs.
    foot_m: float = 0.0


def screen_study(case: Case) -> ScreenStudy | None:
    """The study of a screen plate; None for others."""
    screen = backing(case)
    if screen is None:
        return None
    covered, action = _shares(case, screen)
    recordings = recordings_of(case)
    cheapest = cheapest_that_holds(recordings)
    return ScreenStudy(
        SCREENS[case.plate.screen_colour],
        screen.centre_x_m,
        screen.distance_m,
        case.plate.screen_width_m,
        case.plate.screen_height_m,
        (screen.left_m, screen.right_m, screen.bottom_m, screen.top_m),
        lit_screen(case),
        screen_map(case),
        shadows_there(case),
        _blur_px(case, screen),
        covered,
        1.0 - covered,
        action,
        recordings,
        None if cheapest is None else cheapest.mode_id,
        choose(case.plate.swatches),
        case.plate.screen_foot_m,
    )


def _blur_px(case: Case, screen: Backing) -> float:
    stage = case.stage
    reach = screen.distance_m - stage.camera.position_m[1]
    if reach * 1000.0 <= stage.focal_mm / stage.choice.lens.pupil_ratio:
        return 0.0
    return sharpest_disc_mm(stage, reach) * case.shot.delivery.width_px / stage.tightest_mm


def _shares(case: Case, screen: Backing) -> tuple[float, float]:
    """(part of the frame before the screen, part within the action's envelope), by a grid of rays
    to the screen's plane; rays that meet the floor before it need its sweep."""
    plate, camera = case.plate, case.shot.move.at_widest(case.stage.camera)
    columns, rows = 96, 54
    a = (np.arange(columns) + 0.5) / columns - 0.5
    b = (np.arange(rows) + 0.5) / rows - 0.5
    right, down, forward = camera.axes
    across = camera.sensor_width_mm / camera.focal_mm
    high = camera.sensor_height_mm / camera.focal_mm
    way = (forward + a[None, :, None] * across * right + b[:, None, None] * high * down).reshape(
        -1, 3
    )
    x0, y0, z0 = camera.position_m
    with np.errstate(divide="ignore", invalid="ignore"):
        gone = (screen.distance_m - y0) / way[:, 1]
        x, z = x0 + gone * way[:, 0], z0 + gone * way[:, 2]
        floor = np.where(way[:, 2] < 0, -z0 / way[:, 2], np.inf)
        on_floor = floor < gone
        y_floor = y0 + floor * way[:, 1]
        x_floor = x0 + floor * way[:, 0]
        half = plate.screen_width_m / 2.0
        hangs = (np.abs(x - screen.centre_x_m) <= half) & (z <= plate.screen_top_m)
        hangs &= z >= plate.screen_foot_m
        lies = (np.abs(x_floor - screen.centre_x_m) <= half) & (
            y_floor >= screen.distance_m - plate.screen_sweep_m
        )
        there = (gone > 0) & np.where(on_floor, lies, hangs)
        within = (gone > 0) & (x >= screen.left_m) & (x <= screen.right_m)
        within &= (z >= screen.bottom_m) & (z <= screen.top_m)
    return float(there.mean()), float(within.mean())


def recordings_of(case: Case) -> tuple[Recording, ...]:
    """Every mode owned, as this plate would be recorded with it and the lens in hand, from where
    the camera stands. Hair is told at the farthest of the action that is in the picture."""
    stage, delivery = case.stage, case.shot.delivery
    focus = stage.focus_m if np.isfinite(stage.focus_m) else 10.0
    away = focus if stage.far_m is None else stage.far_m
    per_px = stage.tightest_mm / delivery.width_px
    pixel_mm = per_px * away * 1000.0 / stage.pinhole_mm
    lit = lit_screen(case)
    spread = 2.0 / 3.0 if lit is None or not np.isfinite(lit.spread_stops) else lit.spread_stops
    take_s = stage.set_duration_s + 10.0
    found = []
    for body in case.shot.kit.bodies:
        for mode in modes_for(case.plate, body):
            tried = case.tried({"body_id": body.id, "mode_id": mode.id})
            if tried is None:
                continue
            there = tried.stage
            crop = max(there.crop_across, there.crop_down) * (1.0 + 2.0 * case.shot.padding)
            found.append(
                recording(
                    mode,
                    body.name,
                    there.pixels_across,
                    delivery.width_px,
                    pixel_mm,
                    take_s,
                    spread,
                    sees_all=crop <= VIEW_COVERED_TO,
                )
            )
    return tuple(found)
