"""Does the key stand where the story's key stands?"""

from __future__ import annotations

import math

from ..angles import angle_between_deg, turn_deg
from ..lighting.stage_light import LampLight, StageLight
from ..lighting.story_key import towards_key
from ..plan.findings import Finding, Quantity, Remedy, Working, banded
from ..plan.plate import PlacedLamp
from ..stage.case import Case
from ..words.quantities import degrees, length
from .lamps import NEAREST_M, along, key_of, with_lamp
from .limits import NEAR_TO_DEG, SAME_TO_DEG
from .rule import Rule
from .trying import remedy, ways_out


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


def judge_key_side(case: Case) -> Finding | None:
    """Whether the key stands where the story's key stands, seen from the camera."""
    shot, found = case.shot, key_of(case)
    if found is None or shot.key_from_deg is None:
        return None
    light, key = found
    wanted_up = key.elevation_deg if shot.key_elevation_deg is None else shot.key_elevation_deg
    apart = angle_between_deg(key.from_deg, key.elevation_deg, shot.key_from_deg, wanted_up)
    verdict = banded(apart / case.relaxed, SAME_TO_DEG, NEAR_TO_DEG)
    turn = turn_deg(shot.key_from_deg - key.from_deg)
    rise = wanted_up - key.elevation_deg
    sentence = (
        f"{key.name} lights the action {side(key.from_deg)}, {degrees(key.elevation_deg)} up; the "
        f"story's key comes {side(shot.key_from_deg)}, {degrees(wanted_up)} up: "
        f"{apart:.0f}° apart."
    )

    def ways() -> list[Remedy | None]:
        bearing = key.from_deg + turn + shot.world.pan_deg
        moved = _turned(case, light, key, bearing, wanted_up)
        lamp = moved[key.number]
        swing = f"{abs(turn):.0f}° {'clockwise' if turn > 0 else 'counter-clockwise'} from above"
        lift = f"{abs(rise):.0f}° {'higher' if rise > 0 else 'lower'}"
        tries = [
            (
                moved,
                f"Move {key.name} {swing} about the action and {lift}: {stand_of(lamp)}.",
            )
        ]
        fitting = _under_ceiling(case, light, lamp, key.number)
        if fitting is not None:
            tries.append(
                (
                    fitting,
                    f"Bring {key.name} nearer on the same line, under the ceiling: "
                    f"{stand_of(fitting[key.number])}.",
                )
            )
        return [
            remedy(
                case,
                judge_key_side,
                verdict,
                {"lamps": lamps},
                words,
            )
            for lamps, words in tries
        ]

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
        remedies=ways_out(case, verdict, ways),
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


def _under_ceiling(
    case: Case, light: StageLight, lamp: PlacedLamp, number: int
) -> tuple[PlacedLamp, ...] | None:
    """The lamps with one on the line of `lamp`, as far as the ceiling lets it stand; None where the
    ceiling does not matter."""
    room = case.shot.kit.room(case.plate.room_id)
    if room is None or room.height_m is None:
        return None
    ceiling = room.height_m - (case.plate.table_m or 0.0) - 0.1
    rise = lamp.z_m - light.at_m[2]
    if lamp.z_m <= ceiling or rise <= 0.0:
        return None
    part = (ceiling - light.at_m[2]) / rise
    return with_lamp(case, number, **along(light.at_m, lamp, part)) if part > 0.1 else None


RULE = Rule(
    key="key-side",
    title="Light side",
    name="light side",
    speak=judge_key_side,
    otherwise="Lamps placed anew: see what Light this plate proposes.",
)
