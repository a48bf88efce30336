"""What lamps give at the action of a stage, and what they are called there."""

from __future__ import annotations

from ..checks_on_input import not_negative, positive
from ..plan.kit import Lamp
from ..plan.plate import Plate
from ..plan.shot import Shot
from .room_light import Walls
from .stage_light import StageLight, stage_light

#: Lamps not yet placed are counted at this distance, farther for a deep set (judgement).
USUAL_DISTANCE_M = 2.0
#: Nearest that lamps come to a small set: nearer, and the fall-off across it shows (judgement).
NEAREST_M = 1.0


def lux_from(lux_at_1m: float, size_m: float, distance_m: float, level: float = 1.0) -> float:
    """Illuminance facing a round, even source, on its axis, in lux.

    E = E1 (1 + r^2) / (d^2 + r^2), r half of `size_m`: exact for a disc that shines like paper,
    and the inverse square beyond five diameters within 1 %. Source: radiative transfer of a disc
    (any illumination text, e.g. Moon, The Scientific Basis of Illuminating Engineering, from
    memory). `level` is the dimmer, 0..1.

    Raises Impossible unless light at 1 m and lamp distance are above zero and lamp size is zero
    or more.
    """
    positive("light at 1 m", lux_at_1m)
    positive("lamp distance", distance_m)
    r = not_negative("lamp size", size_m) / 2.0
    return level * lux_at_1m * (1.0 + r * r) / (distance_m * distance_m + r * r)


def light_of(
    shot: Shot, plate: Plate, screen_y_m: float | None = None, walls: Walls | None = None
) -> StageLight | None:
    """The light on this stage from the lamps placed there, and what the room gives back of it where
    `walls` are told; None without lamps or action."""
    return stage_light(shot, plate, lamp_names(shot, plate), screen_y_m, walls=walls)


def lux_placed(shot: Shot, plate: Plate) -> float | None:
    """What the lamps placed on this stage give at its action, on a flat receptor that faces the
    key; None without lamps or action."""
    found = light_of(shot, plate)
    return None if found is None else found.lux


def lamp_names(shot: Shot, plate: Plate) -> list[str | None]:
    """What each lamp on this stage is called, told apart by a number where there are several
    alike; None for one that the kit no longer has."""
    found = [shot.kit.lamp(p.lamp_id) for p in plate.lamps]
    names: list[str | None] = []
    for i, lamp in enumerate(found):
        if lamp is None:
            names.append(None)
            continue
        alike = [j for j, other in enumerate(found) if other is not None and other.id == lamp.id]
        names.append(f"{lamp.name} {alike.index(i) + 1}" if len(alike) > 1 else lamp.name)
    return names


def usual_distance_m(plate: Plate, depth_m: float) -> float:
    """Distance at which lamps not yet placed are counted: 2 m at life size; for a scaled set at
    least 1 m and twice its depth, so that it loses at most 1.2 stops across."""
    return USUAL_DISTANCE_M if plate.scale <= 1.0 else max(NEAREST_M, 2.0 * depth_m)


def there(lamp: Lamp, plate: Plate) -> bool:
    """Whether the lamp is there on the plate's day."""
    return plate.film_on is None or lamp.loan.covers(plate.film_on)
