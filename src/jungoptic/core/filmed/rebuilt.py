"""A set that is built again: a new picture of it against the one it is to continue, told as what to
move, and which way, until the two lie on each other."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..pictures.align import Alignment
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from .limits import APART_HOLDS, LIGHT_HOLDS
from .pair import WARMER_HOLDS, Pair


@dataclass(frozen=True)
class Put:
    """One thing to put back: what, and how far in words."""

    what: str
    way: str


def put_back(shot: Shot, plate: Plate, pair: Pair, per_px: float = 1.0) -> list[Put]:
    """What to move so that the second picture of a plate comes to lie on the first, the largest
    first; `per_px` delivered pixels to one of theirs. A picture cannot tell a camera that stands
    aside from one that is turned: both ways are told, at the distance it is focused at.

    Raises Impossible for a plan that cannot be.
    """
    case = Case.of(shot, plate)
    focal = away = None
    if case is not None:
        focal = case.stage.camera.focal_px(shot.delivery.width_px)
        away = case.stage.focus_m
    half = math.hypot(pair.wide, pair.high) / 2.0 * per_px
    found = _camera(pair.lies, per_px, half, focal, away)
    return [put for _, put in sorted(found, key=lambda one: -one[0])] + _light(pair)


def _camera(
    lies: Alignment, per_px: float, half: float, focal: float | None, away: float | None
) -> list[tuple[float, Put]]:
    found = []
    # What shows farther right was left of where it is now: the camera is too far left.
    for px, names in (
        (lies.dx_px * per_px, ("to the right", "to the left")),
        (lies.dy_px * per_px, ("down", "up")),
    ):
        if abs(px) > APART_HOLDS:
            word = names[0] if px > 0.0 else names[1]
            found.append((abs(px), Put("camera", _aside(abs(px), word, focal, away))))
    turn = math.radians(abs(lies.rotation_deg)) * half
    if turn > APART_HOLDS:
        word = "clockwise" if lies.rotation_deg > 0.0 else "anticlockwise"
        turned = f"lean it {abs(lies.rotation_deg):.2f}° {word}, as seen from behind"
        found.append((turn, Put("camera", turned)))
    grow = abs(lies.scale - 1.0) * half
    if grow > APART_HOLDS:
        nearer = lies.scale < 1.0
        far = "" if away is None else f" by {say.length(abs(1.0 - 1.0 / lies.scale) * away)}"
        word = "nearer" if nearer else "back"
        found.append((grow, Put("camera", f"{word}{far}, or look at the focus and the zoom")))
    return found


def _aside(px: float, word: str, focal: float | None, away: float | None) -> str:
    if focal is None or away is None:
        return f"{word}, by {px:.1f} pixels of the picture"
    turn = math.degrees(math.atan(px / focal))
    return f"{say.length(px / focal * away)} {word}, or turned {turn:.2f}° that way"


def _light(pair: Pair) -> list[Put]:
    light = pair.light
    if light is None:
        return []
    found = []
    if abs(light.stops) > LIGHT_HOLDS:
        word = "down" if light.stops > 0.0 else "up"
        found.append(Put("light", f"{abs(light.stops):.2f} stop {word}"))
    if abs(light.mired) > WARMER_HOLDS:
        word = "cooler" if light.mired > 0.0 else "warmer"
        found.append(Put("light", f"{abs(light.mired):.0f} mired {word}"))
    return found
