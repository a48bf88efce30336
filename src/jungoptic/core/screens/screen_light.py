"""Light on a screen, what it throws back on the action, and shadows that fall on it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..camera import Array
from ..lighting.shine import Source, illuminance
from ..plan.plate import Plate, ScreenColour

if TYPE_CHECKING:
    from ..stage.backing import Backing

#: Part of the light that a screen gives back, of the colours its paint or cloth has (judgement).
REFLECTANCE: dict[ScreenColour, float] = {
    "green": 0.3,
    "blue": 0.15,
    "black": 0.03,
    "white": 0.8,
    "sky": 0.0,
    "red": 0.2,
}
#: The screen looks towards the camera.
FACING = np.array([0.0, -1.0, 0.0])


@dataclass(frozen=True)
class ScreenLight:
    """Light over the part of the screen behind the action: `level_lux` its geometric mean,
    `spread_stops` brightest over darkest. `left_m`, `right_m`, `bottom_m`, `top_m`: that part."""

    level_lux: float
    spread_stops: float
    left_m: float
    right_m: float
    bottom_m: float
    top_m: float


def behind_action(plate: Plate, backing: Backing) -> tuple[float, float, float, float] | None:
    """(left, right, bottom, top) of the screen that is there behind what is in frame of the action;
    None without any."""
    half = plate.screen_width_m / 2.0
    left = max(backing.left_m, backing.centre_x_m - half)
    right = min(backing.right_m, backing.centre_x_m + half)
    top = min(backing.top_m, plate.screen_top_m)
    bottom = max(backing.bottom_m, plate.screen_foot_m)
    return (left, right, bottom, top) if right > left and top > bottom else None


def on_screen(
    sources: tuple[Source, ...],
    left: float,
    right: float,
    bottom: float,
    top: float,
    y_m: float,
    columns: int,
    rows: int,
) -> tuple[Array, Array, Array]:
    """(xs, zs, lux (rows, columns)) over an upright rectangle of the screen."""
    xs, zs = np.linspace(left, right, columns), np.linspace(bottom, top, rows)
    grid = np.stack(
        [np.tile(xs, rows), np.full(rows * columns, y_m), np.repeat(zs, columns)], axis=1
    )
    lux = illuminance(sources, grid, FACING).sum(axis=0)
    return xs, zs, lux.reshape(rows, columns)


def screen_light(sources: tuple[Source, ...], plate: Plate, backing: Backing) -> ScreenLight | None:
    """Level and evenness behind the action; None without lamps, light or screen there."""
    part = behind_action(plate, backing)
    if part is None or not sources:
        return None
    left, right, bottom, top = part
    _, _, lux = on_screen(sources, left, right, bottom, top, backing.distance_m, 17, 13)
    low, high = float(lux.min()), float(lux.max())
    if high <= 1e-6:
        return None
    level = float(np.exp(np.log(np.maximum(lux, 1e-9)).mean()))
    spread = math.log2(high / low) if low > 0.0 else math.inf
    return ScreenLight(level, spread, left, right, bottom, top)


def corner_factor(a: float, b: float, distance: float) -> float:
    """Form factor from a small patch to a parallel rectangle a by b with one corner straight before
    it: the part of the light leaving the patch that reaches the rectangle, and so the light from an
    even rectangle of exitance 1 on the patch. Source: Howell, A Catalog of Radiation Heat Transfer
    Configuration Factors, B-4 (from memory; checked by numerical integration)."""
    x, y = a / distance, b / distance
    p, q = math.hypot(1.0, x), math.hypot(1.0, y)
    return (x / p * math.atan(y / p) + y / q * math.atan(x / q)) / (2.0 * math.pi)


def form_factor(left: float, right: float, bottom: float, top: float, distance: float) -> float:
    """The same to a rectangle anywhere in the parallel plane, its edges told from the point
    straight before the patch."""

    def signed(a: float, b: float) -> float:
        return (
            math.copysign(1.0, a) * math.copysign(1.0, b) * corner_factor(abs(a), abs(b), distance)
        )

    return signed(right, top) - signed(left, top) - signed(right, bottom) + signed(left, bottom)


def spill_lux(
    level_lux: float, plate: Plate, backing: Backing, at: tuple[float, float, float]
) -> float:
    """Light that the lit screen throws on an edge of the action that faces it: reflectance times
    level times form factor, the screen taken as even."""
    half = plate.screen_width_m / 2.0
    gap = max(backing.distance_m - at[1], 0.05)
    factor = form_factor(
        backing.centre_x_m - half - at[0],
        backing.centre_x_m + half - at[0],
        plate.screen_foot_m - at[2],
        plate.screen_top_m - at[2],
        gap,
    )
    return REFLECTANCE[plate.screen_colour] * level_lux * factor
