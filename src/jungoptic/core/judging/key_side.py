"""Does the key stand where the story's key stands?"""

from __future__ import annotations

import math
from dataclasses import replace

from ..angles import angle_between_deg, turn_deg
from ..lighting.owned import LAMP_CLEAR_M
from ..lighting.sources import shining_size
from ..lighting.stage_light import LampLight, StageLight
from ..lighting.story_key import towards_key
from ..plan.findings import Finding, Quantity, Working, banded
from ..plan.plate import PlacedLamp
from ..stage.case import Case
from ..stage.rooms import room_fit
from ..words.quantities import degrees, length
from .lamps import NEAREST_M, along, key_of, with_lamp
from .limits import NEAR_TO_DEG, SAME_TO_DEG
from .rule import Rule
from .way import Way


def side(from_deg: float) -> str:
    """`from the left, behind us`: in words, because a number of degrees is easily mistaken."""
    turn = turn_deg(from_deg)
    across = "right" if turn > 0 else "left"
    size = abs(turn)
    if size < 15.0:
        return "from behind the action"
    if size > 165.0:
        return "from behind the camera"
    depth = "behind the action" if size < 75.0 else "in front" if size > 105.0 else "the side"
    return f"from the {across}" if depth == "the side" else f"from the {across}, {depth}"


def swing(turn: float) -> str:
    """`30° clockwise from above`: how far a lamp is to be turned about the action."""
    return f"{abs(turn):.0f}° {'clockwise' if turn > 0 else 'counter-clockwise'} from above"


def lift(rise: float) -> str:
    """`12° higher`: and how far up or down."""
    return f"{abs(rise):.0f}° {'higher' if rise > 0 else 'lower'}"


def judge_key_side(case: Case) -> Finding | None:
    """Whether the key stands where the story's key stands, seen from the camera."""
    shot, found = case.shot, key_of(case)
    if found is None or shot.key_from_deg is None:
        return None
    key = found[1]
    wanted_up = key.elevation_deg if shot.key_elevation_deg is None else shot.key_elevation_deg
    apart = angle_between_deg(key.from_deg, key.elevation_deg, shot.key_from_deg, wanted_up)
    verdict = banded(apart / case.relaxed, SAME_TO_DEG, NEAR_TO_DEG)
    sentence = (
        f"{key.name} lights the action {side(key.from_deg)}, {degrees(key.elevation_deg)} up; the "
        f"story's key comes {side(shot.key_from_deg)}, {degrees(wanted_up)} up: "
        f"{apart:.0f}° apart."
    )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="a = arccos(sin e₁ sin e₂ + cos e₁ cos e₂ cos(k₁ − k₂))",
                inputs=(
                    Quantity("k₁", "key on this stage, from", key.from_deg, "°"),
                    Quantity("e₁", "its elevation", key.elevation_deg, "°"),
                    Quantity("k₂", "story's key, from", shot.key_from_deg, "°"),
                    Quantity("e₂", "its elevation", wanted_up, "°"),
                ),
                result=Quantity("a", "apart", apart, "°"),
                source="Spherical law of cosines; the limits of 20° and 45° are judgement.",
            ),
        ),
    )


def stand_of(lamp: PlacedLamp) -> str:
    """Where a lamp stands, as a tape tells it from below the lens."""
    depth = f"{length(abs(lamp.y_m))} {'ahead of' if lamp.y_m >= 0 else 'behind'} the lens"
    across = f"{length(abs(lamp.x_m))} {'right' if lamp.x_m >= 0 else 'left'}"
    return f"{depth}, {across}, {length(lamp.z_m)} up"


def at_direction(
    at: tuple[float, float, float], from_deg: float, up_deg: float, distance_m: float
) -> tuple[float, float, float]:
    """Where a lamp stands so that its light reaches `at` from there (bearing from straight ahead
    of the stage, elevation), to the centimetre."""
    x, y, z = (at + distance_m * towards_key(from_deg, up_deg)).tolist()
    return round(x, 2), round(y, 2), round(z, 2)


def _turned(
    case: Case, light: StageLight, key: LampLight, from_deg: float, up_deg: float
) -> tuple[PlacedLamp, ...]:
    lamp = case.plate.lamps[key.number]
    distance = max(math.dist(light.at_m, lamp.at), NEAREST_M)
    x, y, z = at_direction(light.at_m, from_deg, up_deg, distance)
    return with_lamp(case, key.number, x_m=x, y_m=y, z_m=z)


def _inside_room(case: Case, light: StageLight, lamp: PlacedLamp) -> list[tuple[PlacedLamp, str]]:
    """The lamp on its line as far from the action as walls and ceiling let it stand: dimmed by the
    inverse square, or behind an opening that keeps its angle and with it light and edges. Nothing
    where nothing is in the way, or nothing fits."""
    fit = room_fit(case)
    if fit is None:
        return []
    low = (fit.left_m, fit.rear_m, fit.floor_m)
    high = (fit.right_m, fit.front_m, math.inf if fit.ceiling_m is None else fit.ceiling_m)
    part = 1.0
    for at, to, least, most in zip(light.at_m, lamp.at, low, high, strict=True):
        if to > most - LAMP_CLEAR_M:
            part = min(part, (most - LAMP_CLEAR_M - at) / (to - at)) if to > at else 0.0
        elif to < least + LAMP_CLEAR_M:
            part = min(part, (least + LAMP_CLEAR_M - at) / (to - at)) if to < at else 0.0
    if part >= 1.0 or part * math.dist(light.at_m, lamp.at) < NEAREST_M:
        return []
    there = replace(lamp, **along(light.at_m, lamp, part))  # type: ignore[arg-type]
    level = round(max(lamp.level * part**2, 0.01), 3)
    found = [(replace(there, level=level), f"dimmed to {level * 100:.0f} %")]
    model = case.shot.kit.lamp(lamp.lamp_id)
    if model is not None and model.kind != "sun":
        across = round(part * math.sqrt(math.prod(shining_size(model, lamp))), 4)
        card = f"behind a {length(across)} opening in a black card"
        found.append((replace(there, size_m=max(across, 0.001)), card))
    return found


def _ways(case: Case) -> list[Way]:
    """The key about the action and up or down to where the story's stands; nearer on the same line
    where wall or ceiling is in the way."""
    shot, found = case.shot, key_of(case)
    if found is None or shot.key_from_deg is None:
        return []
    light, key = found
    wanted_up = key.elevation_deg if shot.key_elevation_deg is None else shot.key_elevation_deg
    turn = turn_deg(shot.key_from_deg - key.from_deg)
    rise = wanted_up - key.elevation_deg
    bearing = key.from_deg + turn + shot.world.pan_deg
    moved = _turned(case, light, key, bearing, wanted_up)
    lamp = moved[key.number]
    there = f"Move {key.name} {swing(turn)} about the action and {lift(rise)}"
    words = f"{there}: {stand_of(lamp)}."
    ways = [Way(words, {"lamps": moved})]
    for nearer, how in _inside_room(case, light, lamp):
        words = (
            f"{there}, as far away as walls and ceiling let it stand, {how}: {stand_of(nearer)}."
        )
        lamps = tuple(nearer if i == key.number else x for i, x in enumerate(case.plate.lamps))
        ways.append(Way(words, {"lamps": lamps}))
    return ways


RULE = Rule(
    key="key-side",
    title="Light side",
    name="light side",
    speak=judge_key_side,
    ways=_ways,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
