"""What lamps give that are owned and not placed yet: where in this room they can stand out of the
picture, and which of them there are for the action."""

from __future__ import annotations

import math

import numpy as np

from ..angles import towards
from ..camera import Array
from ..plan.kit import Lamp
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.clip import Flags
from ..stage.rooms import room_fit
from ..words.quantities import about
from .action import action_point_m
from .lamps import lux_from, there, usual_distance_m
from .stage_light import StageLight

#: A lamp's stand keeps this far from walls and ceiling (judgement).
LAMP_CLEAR_M = 0.1
#: Where the key comes from while the story does not say: from the right, in front, above.
USUAL_FROM_DEG, USUAL_UP_DEG = 135.0, 35.0
#: Key over fill while the story does not say, stops.
USUAL_RATIO_STOPS = 2.0
#: Lamps not placed yet stand about the action in these directions, the story's first, and at these
#: parts of their usual distance: nearer only where the room is too small.
AROUND_DEG = (0.0, -45.0, 45.0, -90.0, 90.0, 180.0)
FARTHER = (1.0, 1.4, 2.0, 2.8, 4.0, 5.6)
NEARER = (0.7, 0.5, 0.35)

Bounds = tuple[float, float]


def wanted_key(shot: Shot) -> tuple[float, float]:
    """Where the key comes from and how high it stands, degrees: the story's, or the usual."""
    return (
        USUAL_FROM_DEG if shot.key_from_deg is None else shot.key_from_deg,
        USUAL_UP_DEG if shot.key_elevation_deg is None else shot.key_elevation_deg,
    )


def wanted_ratio(shot: Shot) -> float:
    """Key over fill, stops: the story's, or the usual."""
    return USUAL_RATIO_STOPS if shot.key_ratio_stops is None else shot.key_ratio_stops


def room_box(case: Case) -> tuple[Bounds, Bounds, Bounds]:
    """What a lamp may stand in along x, y and z, stage metres."""
    fit = room_fit(case)
    if fit is None:
        return (-20.0, 20.0), (-20.0, 40.0), (-(case.plate.table_m or 0.0) + 0.1, 6.0)
    top = math.inf if fit.ceiling_m is None else fit.ceiling_m - LAMP_CLEAR_M
    return (
        (fit.left_m + LAMP_CLEAR_M, fit.right_m - LAMP_CLEAR_M),
        (fit.rear_m + LAMP_CLEAR_M, fit.front_m - LAMP_CLEAR_M),
        (fit.floor_m + 0.1, min(top, 6.0)),
    )


def for_action(case: Case) -> tuple[list[Lamp], bool]:
    """The lamps owned that can light the action in a room, and whether that is all of them: those
    that are there on the day, no sun and no bounce, and before a screen not the banks that light
    it, as long as there are others."""
    lamps = [x for x in case.shot.kit.lamps if there(x, case.plate)]
    if case.shot.old_rules:
        return lamps, True
    lamps = [x for x in lamps if x.kind not in ("sun", "bounce")]
    others = [x for x in lamps if x.kind != "bank"]
    spared = case.plate.kind == "screen" and 0 < len(others) < len(lamps)
    return (others, False) if spared else (lamps, True)


def owned_distance_m(case: Case) -> float:
    """How far from the action lamps stand that are not placed yet: the usual distance, or the first
    beyond it at which one is out of the picture and inside the room; beside the camera where there
    is none."""
    return case.once("lamps owned stand", lambda: _distance(case))


def _distance(case: Case) -> float:
    usual = usual_distance_m(case.plate, case.depth_m)
    at = action_point_m(case.shot, case.plate)
    if at is None or case.shot.old_rules:
        return usual
    shot = case.shot
    story, up = wanted_key(shot)
    bearings = story + np.array([*AROUND_DEG, *AROUND_DEG]) + shot.world.pan_deg
    ups = np.array([up] * len(AROUND_DEG) + [USUAL_UP_DEG] * len(AROUND_DEG))
    ways = towards(bearings, ups)
    parts = np.array([*FARTHER, *NEARER])
    spots = np.array(at) + usual * parts[:, None, None] * ways
    good = _can_stand(case, spots.reshape(-1, 3)).reshape(len(parts), -1).any(axis=1)
    if good.any():
        return usual * float(parts[good.argmax()])
    return max(math.dist(at, case.stage.camera.position_m), usual * NEARER[-1])


def _can_stand(case: Case, spots: Array) -> Flags:
    """Which spots (n, 3) are inside the room and out of the padded picture as the move begins and
    ends."""
    low, high = np.array(room_box(case)).T
    found: Flags = ((spots >= low) & (spots <= high)).all(axis=1)
    w, h = case.shot.delivery.width_px, case.shot.delivery.height_px
    pad = case.shot.padding * np.array([w, h])
    for part in (0.0, 1.0):
        camera = case.shot.move.moved(case.stage.camera, part, case.plate.scale)
        seen = camera.project(spots, w, h)
        with np.errstate(invalid="ignore"):
            found = found & ~((seen >= -pad) & (seen <= np.array([w, h]) + pad)).all(axis=1)
    return found


def lux_owned(case: Case) -> float:
    """What the lamps owned for the action give together where they can stand; 0 without any."""
    distance = owned_distance_m(case)
    return sum(
        lamp.count * lux_from(lamp.lux_at_1m, lamp.size_m, distance) for lamp in for_action(case)[0]
    )


def light_there(case: Case, light: StageLight | None = None) -> tuple[float, str] | None:
    """Light at the action and where the number comes from: a reading, the lamps placed, or those
    owned; `light` is that of the lamps placed. None when nothing is known, or the plate shines or
    is lit by the sky."""
    plate = case.plate
    if plate.light_lux is not None:
        return plate.light_lux, "as metered"
    if light is not None and light.lux > 0:
        return light.lux, "from the lamps placed"
    room = case.shot.kit.room(plate.room_id)
    if plate.kind in ("still", "element") or room is None or room.open_air:
        return None
    owned = lux_owned(case)
    if owned <= 0:
        return None
    which = "all lamps owned" if for_action(case)[1] else "the lamps owned, less the screen's banks"
    return owned, f"from {which} at {about(owned_distance_m(case))}"
