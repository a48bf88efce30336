"""A small invented shot that many core tests share: a mill at 1:12 and a performer."""

from __future__ import annotations

from dataclasses import replace

from jungoptic.core.plan import (
    Body,
    Delivery,
    Kit,
    Lens,
    Mode,
    Plate,
    Shot,
    WorldCamera,
)
from jungoptic.core.plan.standins import StandIn

CINEMA = Body(
    "cinema",
    "Cinema body",
    axis_height_mm=105,
    flange_mm=44,
    modes=(Mode("4k", "4K", 24.9, 13.1, 4096, 2160, 1, 60, 800, 200, 3200),),
)
STILLS = Body(
    "stills",
    "Stills body",
    axis_height_mm=62,
    flange_mm=18,
    modes=(
        Mode("uhd", "UHD", 36, 20.25, 3840, 2160, 24, 30, 100, 100, 12800),
        Mode("fast", "HD fast", 36, 20.25, 1920, 1080, 24, 120, 100, 100, 12800),
    ),
)


def prime(focal: float, close_m: float = 0.25, **more: float) -> Lens:
    """A prime lens of this focal length."""
    return Lens(f"l{focal:g}", f"{focal:g} mm prime", focal, focal, 2.0, 22.0, close_m, **more)


KIT = Kit((CINEMA, STILLS), (prime(20), prime(28), prime(50, 0.45), prime(85, 0.85)))
USES = {"body_id": "cinema", "mode_id": "4k", "lens_id": "l28"}
MILL = Plate("mill", "Mill", "miniature", scale=12.0, f_number=16.0, **USES)
ANSA = Plate(
    "ansa",
    "Ansa",
    "screen",
    f_number=5.6,
    screen_width_m=3.0,
    screen_height_m=3.0,
    **USES,
)
STAND_INS = (
    StandIn("house", "Mill", "box", -5, 25, 0, 6.5, 7, 6, 12, "mill"),
    StandIn("bridge", "Bridge", "box", 3.2, 15, 0, 6, 0.9, 1.4, 0, "mill"),
    StandIn("flat", "Flat", "ground", 0, 9, 0, 16, 0, 24, 0, "mill"),
    StandIn("figure", "Ansa", "figure", 2.6, 15.4, 0.9, 0.5, 1.68, 0, 0, "ansa"),
)


def shot(**changes: object) -> Shot:
    """The shot, with fields of the shot or of the world camera changed."""
    base = Shot(
        delivery=Delivery(1920, 804, 24.0),
        world=WorldCamera(24.9, 32.0, 1.5, tilt_deg=3.0),
        screen_time_s=6.0,
        stand_ins=STAND_INS,
        plates=(MILL, ANSA),
        kit=KIT,
    )
    world = {k: v for k, v in changes.items() if k in WorldCamera.__dataclass_fields__}
    rest = {k: v for k, v in changes.items() if k not in world}
    return replace(base, world=replace(base.world, **world), **rest)  # type: ignore[arg-type]


def with_plate(plate: Plate, **changes: object) -> Shot:
    """The shot with only this plate, changed."""
    return shot(plates=(replace(plate, **changes),))  # type: ignore[arg-type]
