"""The key of a stage, and lamps moved or changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..lighting.on_stage import lighting
from ..lighting.stage_light import LampLight, StageLight
from ..plan.plate import PlacedLamp
from ..stage.case import Case
from ..words.quantities import about, lux
from .way import Way

#: No lamp is tried nearer than this when a remedy moves it.
NEAREST_M = 0.3


def key_of(case: Case) -> tuple[StageLight, LampLight] | None:
    """The light on the stage and its key; None without one."""
    found = lighting(case)
    key = None if found is None else found.key_lamp
    return None if found is None or key is None else (found, key)


def with_lamp(case: Case, number: int, **changes: object) -> tuple[PlacedLamp, ...]:
    """The plate's lamps with one changed."""
    return tuple(
        replace(lamp, **changes) if i == number else lamp  # type: ignore[arg-type]
        for i, lamp in enumerate(case.plate.lamps)
    )


def along(at: tuple[float, float, float], lamp: PlacedLamp, part: float) -> dict[str, float]:
    """The lamp that many times as far from `at` on the same line, as fields to change."""
    x, y, z = (round(a + (b - a) * part, 2) for a, b in zip(at, lamp.at, strict=True))
    return {"x_m": x, "y_m": y, "z_m": z}


def left(now: StageLight | None, before: StageLight) -> str:
    """What the light at the action comes to, and was."""
    if now is None or now.lux <= 0 or before.lux <= 0:
        return ""
    return f"{lux(now.lux)} at the action then, {lux(before.lux)} now."


def farther(
    case: Case,
    light: StageLight,
    key: LampLight,
    part: float,
    effect: Callable[[Case], str],
) -> Way:
    """The key that many times as far away on the same line, and what else lights the action dimmed
    with it, so that it stays the key."""
    changed = []
    roles = {x.number: x.role for x in light.lamps}
    for i, lamp in enumerate(case.plate.lamps):
        if i == key.number:
            lamp = replace(lamp, **along(light.at_m, lamp, part))  # type: ignore[arg-type]
        elif roles.get(i) in ("fill", "back"):
            lamp = replace(lamp, level=round(lamp.level / part**2, 3))
        changed.append(lamp)
    others = any(r in ("fill", "back") for r in roles.values())
    return Way(
        f"{key.name} to {about(key.distance_m * part)} on the same line"
        + (", the others dimmed with it." if others else "."),
        {"lamps": tuple(changed)},
        effect,
        family="farther",
    )
