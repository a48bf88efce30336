"""The clean plate: how long to roll it, when, in how many tiles, and which stills go with it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..impossible import Impossible
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words.quantities import rate
from .group import group_of

#: Usual length of a clean plate, seconds (common practice).
USUAL_S = (20.0, 30.0)
#: How much quieter than the take it should be, so that grain is put back rather than doubled
#: (judgement).
QUIETER = 10.0
#: Neighbouring tiles of a moving camera lie over one another by this part (common practice).
OVERLAP = 0.25
#: A travelling camera's clean plate is taken from so many places (common practice).
PLACES = 3


@dataclass(frozen=True)
class CleanPlan:
    """The clean plate of one lock-off. `frames` averaged lower the noise by `gain` (square root);
    `tiles` (columns, rows) of a camera that turns, from each of `places` of one that travels;
    `order` and `stills` in words."""

    plate_id: str
    seconds: float
    frames: int
    gain: float
    left_stops: float
    enough_s: float
    tiles: tuple[int, int]
    places: int
    tiles_why: str
    order: tuple[str, ...]
    stills: tuple[str, ...]


def noise_gain(frames: int) -> float:
    """By how much averaging `frames` frames lowers noise that differs from frame to frame: sqrt(n).
    Raises Impossible below one. Source: variance of a mean (any text on statistics)."""
    if frames < 1:
        raise Impossible("Average at least one frame.", "frames")
    return math.sqrt(frames)


def frames_for(gain: float) -> int:
    """Fewest frames whose mean is `gain` times quieter."""
    return max(math.ceil(gain * gain - 1e-9), 1)


def is_clean(plate: Plate) -> bool:
    """Whether a plate is a clean plate: nobody is in it, and it says so."""
    return plate.motion == "still" and plate.name.lower().startswith(("clean", "empty"))


def clean_of(shot: Shot, plate: Plate) -> Plate | None:
    """The clean plate of a plate's lock-off, if there is one."""
    return next((p for p in group_of(shot, plate) if is_clean(p)), None)


def tiles_for(shot: Shot) -> tuple[tuple[int, int], int, str]:
    """How many stills or plates beside and above one another (columns, rows) cover what the camera
    sees while it turns, from how many places, and why. So many of angle w that overlap by o cover
    w (1 + (n - 1)(1 - o))."""
    move = shot.move
    if move.stands:
        return (1, 1), 1, "The camera stands: one plate covers the picture."
    camera = move.at_widest(shot.world.camera(shot.delivery))
    pads = 1.0 + 2.0 * shot.padding
    wide = math.degrees(2 * math.atan(camera.sensor_width_mm * pads / 2 / camera.focal_mm))
    high = math.degrees(2 * math.atan(camera.sensor_height_mm * pads / 2 / camera.focal_mm))
    # A camera on its side pans along the height of its picture.
    roll = math.radians(shot.world.roll_deg)
    upright, aside = abs(math.cos(roll)), abs(math.sin(roll))
    pan, tilt = abs(move.pan_deg), abs(move.tilt_deg)
    across = 1 + _more(pan * upright + tilt * aside, wide)
    down = 1 + _more(pan * aside + tilt * upright, high)
    if move.length_m > 0:
        return (
            (across, down),
            PLACES,
            (
                "The camera travels: the same from its first, middle and last place, or a move "
                "that can be repeated; near and far things shift between tiles."
            ),
        )
    return (across, down), 1, "The camera turns on the spot: tiles with a quarter of overlap."


def _more(turned: float, angle: float) -> int:
    """How many tiles beside the first cover a turn, in degrees as the tile's own `angle`."""
    return math.ceil(turned / (angle * (1.0 - OVERLAP)) - 1e-9)


def clean_plan(case: Case, outdoors: bool) -> CleanPlan:
    """How to roll the clean plate of this plate's lock-off, with its capture rate."""
    shot, plate = case.shot, case.plate
    fps = case.stage.capture_fps
    wanted = frames_for(QUIETER)
    enough = wanted / fps
    seconds = min(max(enough, USUAL_S[0]), max(USUAL_S[1], enough))
    frames = max(int(seconds * fps), 1)
    gain = noise_gain(frames)
    clean = clean_of(shot, plate)
    order = []
    group = group_of(shot, plate)
    names = [p.name for p in group if clean is None or p.id != clean.id]
    if outdoors:
        order.append("Roll it twice, before and after the takes: the sun moves in between.")
    order.append(
        "After the last good take, before anything is touched"
        + (f": {', '.join(names)} come first." if names else ".")
    )
    order.append("Again at once when lamps, curtains or the tripod were touched.")
    tiles, places, why = tiles_for(shot)
    return CleanPlan(
        plate.id if clean is None else clean.id,
        seconds,
        frames,
        gain,
        math.log2(gain),
        enough,
        tiles,
        places,
        why,
        tuple(order),
        _stills(case),
    )


def _stills(case: Case) -> tuple[str, ...]:
    """Reference stills that cost a minute now and a day later (common practice)."""
    found = [
        "Grey and mirror ball where the action is",
        "Colour chart in the hero light",
        "Surface behind whatever is held, hung or stuck on, before it is fixed, three angles",
        f"The empty frame as a bracket at {rate(case.stage.capture_fps)} settings, one stop to "
        "each side",
    ]
    if not case.shot.move.stands:
        found.append("Every tile with its neighbour's edge in the picture")
    return tuple(found)
