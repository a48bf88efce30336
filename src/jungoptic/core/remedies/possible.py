"""Whether a change can be carried out at all, whatever the rules say of its picture."""

from __future__ import annotations

from ..lighting.owned import LAMP_CLEAR_M
from ..plan.plate import TIMELESS, PlacedLamp, Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.rooms import room_fit

#: A set is not built higher than this only to get the camera below its ground (judgement).
MOST_DROP_M = 1.2
#: Places of lamps are told to the centimetre: one moved up to a wall may stand half of that nearer.
NEARLY_M = 0.0051


def can_be(before: Plate, after: Case) -> bool:
    """Whether a plate as it would be can be filmed: a stop that the lens has, an ISO that the mode
    has, lamps inside the room, a camera base that some support reaches, focus passes only of what
    stays where it is. What was so before is no reason against a change."""
    plate = after.plate
    return (
        _in_range(
            before.f_number,
            plate.f_number,
            after.choice.lens.widest_stop,
            after.choice.lens.smallest_stop,
        )
        and _in_range(before.iso, plate.iso, after.choice.mode.min_iso, after.choice.mode.max_iso)
        and (plate.drop_m <= max(before.drop_m, MOST_DROP_M))
        and (plate.focus_passes <= max(before.focus_passes, 1) or stays(after.shot, plate))
        and _lamps_fit(before, after)
    )


def _in_range(before: float, after: float, least: float, most: float) -> bool:
    return after == before or least * 0.999 <= after <= most * 1.001


def stays(shot: Shot, plate: Plate) -> bool:
    """Whether what a plate films is the same in a second pass: nothing moves or breathes, and the
    camera stands; whatever it is where frames are taken one by one."""
    if plate.kind in TIMELESS:
        return True
    things = shot.stand_ins_of(plate)
    moving = any(s.speed_m_s or s.reach_m or s.kind == "figure" for s in things)
    return shot.move.stands and not moving


def _lamps_fit(before: Plate, after: Case) -> bool:
    """Whether lamps that are new or moved stand inside the room."""
    moved = [lamp for lamp in after.plate.lamps if lamp not in before.lamps]
    fit = room_fit(after) if moved else None
    if fit is None:
        return True

    clear = LAMP_CLEAR_M - NEARLY_M

    def inside(lamp: PlacedLamp) -> bool:
        return (
            fit.left_m + clear <= lamp.x_m <= fit.right_m - clear
            and fit.rear_m + clear <= lamp.y_m <= fit.front_m - clear
            and fit.floor_m <= lamp.z_m
            and (fit.ceiling_m is None or lamp.z_m <= fit.ceiling_m - clear)
        )

    kinds = {lamp.id: lamp.kind for lamp in after.shot.kit.lamps}
    return all(inside(lamp) or kinds.get(lamp.lamp_id) == "sun" for lamp in moved)
