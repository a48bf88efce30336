"""Does the key on this stage stand as the story's key does: side, ratio to fill, fall-off?"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from ..angles import angle_between_deg, turn_deg
from ..lighting.on_stage import lighting
from ..lighting.stage_light import LampLight, StageLight
from ..lighting.story_key import towards_key
from ..plan.findings import Finding, Quantity, Remedy, Verdict, Working, banded
from ..plan.plate import PlacedLamp
from ..stage.case import Case
from ..words.quantities import about, degrees, length, lux, stops
from .limits import NEAR_TO_DEG, SAME_TO_DEG
from .trying import Judge, remedy, sought

#: Ratio of key to fill, stops (judgement).
RATIO_HOLDS = 0.5
RATIO_STRAINS = 1.5
#: Fall-off across a set that the sun is said to light, stops (judgement).
FALLOFF_HOLDS = 0.5
FALLOFF_STRAINS = 1.0
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


# --- side --------------------------------------------------------------------------------------


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

    return Finding(
        key="key-side",
        title="Light side",
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
        remedies=sought(case, verdict, ways),
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


# --- ratio -------------------------------------------------------------------------------------


def judge_ratio(case: Case) -> Finding | None:
    """Whether the shadow side is as deep as the story's."""
    found, wanted = key_of(case), case.shot.key_ratio_stops
    if found is None or wanted is None:
        return None
    light, key = found
    have = math.inf if light.ratio_stops is None else light.ratio_stops
    verdict = banded(abs(have - wanted) / case.relaxed, RATIO_HOLDS, RATIO_STRAINS)
    if math.isinf(have):
        verdict = Verdict.STRAINS
        sentence = (
            "No lamp fills the shadow side: it gets what the walls throw back, which nobody has "
            f"measured. The story wants it {stops(wanted)} under the key side."
        )
    else:
        sentence = (
            f"The shadow side lies {stops(have)} under the key side; the story wants "
            f"{stops(wanted)}."
        )

    def ways() -> list[Remedy | None]:
        fills = {x.number for x in light.lamps if x.role == "fill"}
        if not fills or wanted <= 0.01:
            return []
        # (key + fill) / fill = 2^wanted gives the fill that is needed.
        needed = key.face_lux / (2.0**wanted - 1.0)
        factor = needed / max(light.shadow_side_lux, 1e-9)
        changed = tuple(
            replace(x, level=round(min(x.level * factor, 1.0), 3)) if i in fills else x
            for i, x in enumerate(case.plate.lamps)
        )
        highest = max(case.plate.lamps[i].level for i in fills)
        return [
            remedy(
                case,
                judge_ratio,
                verdict,
                {"lamps": changed},
                f"Set the fill to {min(highest * factor, 1.0) * 100:.0f} %.",
            )
        ]

    return Finding(
        key="ratio",
        title="Key to fill",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="r = log₂((key + fill) / fill)",
                inputs=(
                    Quantity("key", "key, face on", key.face_lux, "lx"),
                    Quantity("fill", "on the shadow side", light.shadow_side_lux, "lx"),
                ),
                result=Quantity("r", "ratio", have, "stops"),
                source="Lighting ratio (key plus fill to fill), common practice; the limits of "
                "0.5 and 1.5 stops are judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )


# --- fall-off ----------------------------------------------------------------------------------


def judge_falloff(case: Case) -> Finding | None:
    """Whether the key falls off across the set as it should: the sun does not fall off at all."""
    found = key_of(case)
    if found is None or case.shot.key_kind != "sun" or case.shot.key_from_deg is None:
        return None
    light, key = found
    if math.isinf(light.key_far_m):
        return None
    verdict = banded(light.falloff_stops / case.relaxed, FALLOFF_HOLDS, FALLOFF_STRAINS)
    sentence = (
        f"{key.name} stands {length(light.key_near_m)} to {length(light.key_far_m)} from what it "
        "lights: "
    )
    if math.isinf(light.falloff_stops):
        sentence += "a part of the set gets nothing of it; the sun has no fall-off."
    elif verdict is Verdict.HOLDS:
        sentence += f"{stops(light.falloff_stops)} of fall-off across the set pass for the sun."
    else:
        sentence += f"{stops(light.falloff_stops)} of fall-off across the set; the sun has none."

    def effect(tried: Case) -> str:
        now = lighting(tried)
        if now is None or math.isinf(now.falloff_stops):
            return ""
        return f"{stops(now.falloff_stops)} of fall-off. {left(now, light)}"

    def ways() -> list[Remedy | None]:
        found: list[Remedy | None] = []
        for part in (1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 6.0):
            found.append(farther(case, light, key, judge_falloff, verdict, part, effect))
            if (way := found[-1]) is not None and way.verdict is Verdict.HOLDS:
                break
        return found

    return Finding(
        key="falloff",
        title="Fall-off",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="fall-off = log₂(E nearest / E farthest), about 2 log₂(far / near)",
                inputs=(
                    Quantity("near", "key to the nearest point", light.key_near_m, "m"),
                    Quantity("far", "key to the farthest point", light.key_far_m, "m"),
                ),
                result=Quantity("f", "fall-off", light.falloff_stops, "stops"),
                source="Inverse square, with the lamp's own size and beam; 0.5 and 1 stop are "
                "judgement.",
            ),
        ),
        remedies=sought(case, verdict, ways),
    )


def left(now: StageLight | None, before: StageLight) -> str:
    """What the light at the action comes to, and was."""
    if now is None or now.lux <= 0 or before.lux <= 0:
        return ""
    return f"{lux(now.lux)} at the action then, {lux(before.lux)} now."


def farther(
    case: Case,
    light: StageLight,
    key: LampLight,
    judge: Judge,
    before: Verdict,
    part: float,
    effect: Callable[[Case], str],
) -> Remedy | None:
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
    return remedy(
        case,
        judge,
        before,
        {"lamps": tuple(changed)},
        f"{key.name} to {about(key.distance_m * part)} on the same line"
        + (", the others dimmed with it." if others else "."),
        effect,
    )
