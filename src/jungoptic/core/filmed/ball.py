"""The light that a ball showed when it was held up on the set, against the story's key."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..angles import angle_between_deg, turn_deg
from ..judging.key_side import lift, side, swing
from ..judging.lamps import key_of
from ..judging.limits import (
    HARD_HOLDS,
    HARD_STRAINS,
    NEAR_TO_DEG,
    RATIO_HOLDS,
    RATIO_STRAINS,
    SAME_TO_DEG,
)
from ..picked.seen import BallKind, ByBall
from ..pictures.lit import Light
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words.quantities import degrees, stops

SIDE, EDGE, RATIO = (
    "Light side, by the ball",
    "Shadow edge, by the ball",
    "Shadow side, by the ball",
)
SOURCE = (
    "Law of reflection on a mirror ball (Debevec 1998), Lambert's law on a grey one; the camera "
    "turned as planned. ± holds nine errors of ten, the circle being traced to a pixel or so."
)
#: A turn or a rise of less than this is not worth a hand on a lamp.
SLIGHT_DEG = 3.0
#: Two balls show the same lamp where what they say lies no farther apart than 30 degrees.
SAME_LAMP = math.cos(math.radians(30.0))


@dataclass(frozen=True)
class LightFrom:
    """A light that a ball shows, as the story's key is told: `from_deg` 0 from ahead of the camera
    as the shot begins, 90 from its right, 180 from behind it; the rest as of `Light`. `told`: the
    side in words."""

    from_deg: float
    elevation_deg: float
    off_deg: float
    size_deg: float | None
    at_most: bool
    stops: float | None
    told: str


@dataclass(frozen=True)
class BallSays:
    """What a ball says: see `ByBall`; the key comes first among its lights. `guessed`: some were
    burnt out, and the one that shows most was taken for it. `wanted_from_deg` and
    `wanted_elevation_deg`: the story's key, as far as it is decided."""

    kind: BallKind
    lights: tuple[LightFrom, ...]
    ratio_stops: float | None
    problem: str
    guessed: bool
    wanted_from_deg: float | None
    wanted_elevation_deg: float | None


def said_by_balls(case: Case | None, balls: Sequence[ByBall]) -> list[BallSays]:
    """What each ball says, as the plate's camera stands as the shot begins; without a camera only
    why that is nothing. Which of several lamps that are burnt out on a chrome one is the key a grey
    one beside it tells."""
    if case is None:
        return [BallSays(by.kind, (), None, by.problem, False, None, None) for by in balls]
    grey = next((by.lights[0] for by in balls if by.kind == "grey" and by.lights), None)
    return [_said(case, by, grey) for by in balls]


def _said(case: Case, by: ByBall, grey: Light | None) -> BallSays:
    lights = list(by.lights)
    unclear = by.kind == "chrome" and len(lights) > 1 and lights[0].stops is None
    if unclear and grey is not None:
        nearest = max(lights, key=lambda one: float(np.dot(one.towards, grey.towards)))
        unclear = float(np.dot(nearest.towards, grey.towards)) < SAME_LAMP
        if not unclear:
            lights.remove(nearest)
            lights.insert(0, nearest)
    found = tuple(_from(case, one) for one in lights)
    wanted = case.shot.key_from_deg, case.shot.key_elevation_deg
    return BallSays(by.kind, found, by.ratio_stops, by.problem, unclear, *wanted)


def _from(case: Case, light: Light) -> LightFrom:
    camera = case.stage.camera
    x, y, z = np.asarray(light.towards) @ camera.axes
    bearing = turn_deg(math.degrees(math.atan2(x, y)) - camera.pan_deg)
    up = math.degrees(math.asin(float(np.clip(z, -1.0, 1.0))))
    told = side(bearing)
    return LightFrom(bearing, up, light.off_deg, light.size_deg, light.at_most, light.stops, told)


def judge_balls(shot: Shot, plate: Plate, balls: Sequence[ByBall]) -> list[Finding]:
    """What balls that were held up say of the light of a plate, worst first. Raises Impossible for
    a plan that cannot be."""
    case = Case.of(shot, plate) if balls else None
    if case is None:
        return []
    says = said_by_balls(case, balls)
    mute = [one for one in says if one.problem]
    found: list[Finding | None] = [
        Finding(
            "ball-side",
            SIDE,
            Verdict.STRAINS,
            f"The {one.kind} ball says nothing of the light: {one.problem}",
        )
        for one in mute[:1]
    ]
    # A mirror shows the lamps themselves; what a grey ball says of their side is coarser.
    told = sorted((one for one in says if one.lights), key=lambda one: one.kind != "chrome")
    if told:
        found[:0] = [_side(case, told[0])]
    found += [_edge(case, one) for one in told if one.kind == "chrome"]
    found += [_ratio(case, one) for one in told if one.kind == "grey"]
    first: dict[str, Finding] = {}
    for one in found:
        # What one ball says is not taken back by another that says nothing.
        if one is not None:
            first.setdefault(one.key, one)
    return worst_first(list(first.values()))


def _side(case: Case, says: BallSays) -> Finding:
    key, shot = says.lights[0], case.shot
    sentence = (
        f"By the {says.kind} ball the key comes {key.told}, {_up(key.elevation_deg)} "
        f"(± {degrees(max(key.off_deg, 0.5))})"
    )
    inputs = [
        Quantity("k₁", "key by the ball, from", key.from_deg, "°"),
        Quantity("e₁", "its elevation", key.elevation_deg, "°"),
    ]
    if shot.key_from_deg is None:
        sentence += "; the story's key is not decided, so there is nothing to hold it against."
        working = Working("light as the ball shows it", tuple(inputs), inputs[0], SOURCE)
        return Finding("ball-side", SIDE, Verdict.HOLDS, sentence, (working,))
    wanted_up = key.elevation_deg if shot.key_elevation_deg is None else shot.key_elevation_deg
    apart = angle_between_deg(key.from_deg, key.elevation_deg, shot.key_from_deg, wanted_up)
    # What nobody can tell from the ball is not held against the crew.
    verdict = banded(max(apart - key.off_deg, 0.0) / case.relaxed, SAME_TO_DEG, NEAR_TO_DEG)
    sentence += (
        f"; the story's comes {side(shot.key_from_deg)}, {_up(wanted_up)}: {apart:.0f}° apart."
    )
    if verdict is not Verdict.HOLDS:
        sentence += _cure(turn_deg(shot.key_from_deg - key.from_deg), wanted_up - key.elevation_deg)
    planned = key_of(case)
    if planned is not None:
        lamp = planned[1]
        off = angle_between_deg(key.from_deg, key.elevation_deg, lamp.from_deg, lamp.elevation_deg)
        if off > key.off_deg + SLIGHT_DEG:
            sentence += f" The plan has {lamp.name} {off:.0f}° from there"
            sentence += ", if the ball was held where the action is."
    if says.guessed:
        sentence += (
            " Lamps are burnt out on the ball, and the one that shows most is taken for the key: a "
            "grey ball beside it, or a few stops less exposure, would tell."
        )
    inputs += [
        Quantity("k₂", "story's key, from", shot.key_from_deg, "°"),
        Quantity("e₂", "its elevation", wanted_up, "°"),
    ]
    working = Working(
        "a = arccos(sin e₁ sin e₂ + cos e₁ cos e₂ cos(k₁ − k₂))",
        tuple(inputs),
        Quantity("a", "apart", apart, "°"),
        SOURCE,
    )
    return Finding("ball-side", SIDE, verdict, sentence, (working,))


def _up(elevation_deg: float) -> str:
    where = "up" if elevation_deg >= 0.0 else "below level"
    return f"{degrees(abs(elevation_deg))} {where}"


def _cure(turn: float, rise: float) -> str:
    ways = []
    if abs(turn) >= SLIGHT_DEG:
        ways.append(f"{swing(turn)} about the action")
    if abs(rise) >= SLIGHT_DEG:
        ways.append(lift(rise))
    return f" Move it {' and '.join(ways)}." if ways else ""


def _edge(case: Case, says: BallSays) -> Finding | None:
    key, wanted = says.lights[0], case.shot.key_angle_deg
    have = key.size_deg
    if have is None or wanted is None or wanted <= 0.0:
        return None
    times = math.log2(have / wanted)
    if key.at_most and times > 0.0:
        # It may be anything below: that is told, and nothing is held against it.
        sentence = (
            f"On the chrome ball the key is no wider than {have:.2g}°: too small there, or too "
            f"bright, to tell whether it is as hard as the story's, {wanted:.2g}°."
        )
        verdict = Verdict.HOLDS
    else:
        verdict = banded(abs(times) / case.relaxed, HARD_HOLDS, HARD_STRAINS)
        sentence = (
            f"On the chrome ball the key is {have:.2g}° wide, the story's {wanted:.2g}°: shadow "
            "edges "
        )
        if verdict is Verdict.HOLDS:
            sentence += "agree."
        elif times > 0.0:
            sentence += f"are {2**times:.1f} times softer. Make it smaller, or move it away."
        else:
            sentence += f"are {2**-times:.1f} times harder. Diffuse it wider, or move it nearer."
    working = Working(
        "Ω of all it shows at half its brightness or more, as a round light: "
        "a = 2 arccos(1 − Ω / 2π)",
        (Quantity("w", "the story's key", wanted, "°"),),
        Quantity("a", "how wide it looks from the ball", have, "°"),
        SOURCE + " Twice and four times are judgement.",
    )
    return Finding("ball-edge", EDGE, verdict, sentence, (working,))


def _ratio(case: Case, says: BallSays) -> Finding | None:
    have, wanted = says.ratio_stops, case.shot.key_ratio_stops
    if wanted is None:
        return None
    filled = len(says.lights) > 1
    which = "facing the fill" if filled else "facing away from the key"
    if have is None:
        sentence = (
            "On the grey ball the side away from the key is black: nothing fills it. The story "
            f"wants it {stops(wanted)} under the key side."
        )
        return Finding("ball-ratio", RATIO, Verdict.STRAINS, sentence)
    verdict = banded(abs(have - wanted) / case.relaxed, RATIO_HOLDS, RATIO_STRAINS)
    sentence = (
        f"On the grey ball the shadow side, {which}, lies {stops(have)} under the key side; "
        f"the story wants {stops(wanted)}."
    )
    if verdict is not Verdict.HOLDS:
        sentence += " More fill, or a wall nearer." if have > wanted else " Less fill."
    working = Working(
        "r = log₂((key + fill) / fill)",
        (Quantity("w", "the story's", wanted, "stops"),),
        Quantity("r", "ratio", have, "stops"),
        SOURCE,
    )
    return Finding("ball-ratio", RATIO, verdict, sentence, (working,))
