"""What lamps give at the action: those placed on a stage, or those owned at a usual distance."""

from __future__ import annotations

from ..checks_on_input import not_negative, positive
from ..plan.kit import Kit, Lamp
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..words.quantities import about
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


def light_of(shot: Shot, plate: Plate, screen_y_m: float | None = None) -> StageLight | None:
    """The light on this stage from the lamps placed there; None without lamps or action."""
    return stage_light(shot, plate, lamp_names(shot, plate), screen_y_m)


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


def lux_owned(kit: Kit, plate: Plate, depth_m: float) -> float:
    """What all owned lamps together give at `usual_distance_m`; 0 without lamps. Lamps on loan
    count only on the plate's day, when it has one."""
    distance = usual_distance_m(plate, depth_m)
    return sum(
        lamp.count * lux_from(lamp.lux_at_1m, lamp.size_m, distance)
        for lamp in kit.lamps
        if there(lamp, plate)
    )


def there(lamp: Lamp, plate: Plate) -> bool:
    """Whether the lamp is there on the plate's day."""
    return plate.film_on is None or lamp.loan.covers(plate.film_on)


def light_there(
    shot: Shot, plate: Plate, depth_m: float, light: StageLight | None = None
) -> tuple[float, str] | None:
    """Light at the action and where the number comes from: a reading, the lamps placed, or all
    lamps owned; `light` is that of the lamps placed. None when nothing is known, or the plate
    shines or is lit by the sky."""
    if plate.light_lux is not None:
        return plate.light_lux, "as metered"
    if light is not None and light.lux > 0:
        return light.lux, "from the lamps placed"
    room = shot.kit.room(plate.room_id)
    if plate.kind in ("still", "element") or room is None or room.height_m is None:
        return None
    owned = lux_owned(shot.kit, plate, depth_m)
    if owned <= 0:
        return None
    return owned, f"from all lamps owned at {about(usual_distance_m(plate, depth_m))}"
