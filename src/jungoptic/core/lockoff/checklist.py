"""The lock-off checklist of one plate: from its numbers, its body, its place, and its recipe."""

from __future__ import annotations

import datetime
import math
from dataclasses import dataclass

from ..impossible import Impossible
from ..plan.kit import Room
from ..sky.day import zone_of
from ..stage.case import Case
from ..words.quantities import degrees, length, rate, shutter, stop
from .clean import clean_of, is_clean
from .days import sun_room_of
from .drift import SunDrift, sun_drift
from .group import beside_of, group_of

#: So many plates of other shots are named, the rest counted.
MOST_NAMED = 4


@dataclass(frozen=True)
class CheckItem:
    """One thing to lock or do: what, and the value to read back."""

    what: str
    value: str = ""


def drift_of(case: Case) -> SunDrift | None:
    """How long the sun leaves for this plate's lock-off; None indoors, under lamps, or without day
    or place."""
    room = sun_room_of(case.shot, case.plate)
    if room is None or case.plate.film_on is None:
        return None
    try:
        return sun_drift(room, case.plate.film_on)
    except Impossible:
        return None


def lock_items(case: Case) -> tuple[CheckItem, ...]:
    """What to lock before the slate, with the values that are read back aloud (common practice);
    what body, place and recipe ask for besides."""
    stage, plate, body = case.stage, case.plate, case.choice.body
    shared = len(group_of(case.shot, plate)) > 1 or bool(beside_of(case.shot, plate))
    focus = " and ".join(
        "infinity"
        if math.isinf(p.focus_m)
        else f"{length(p.focus_m + stage.sensor_to_pupil_m)} from the sensor mark"
        for p in stage.passes
    )
    found = [
        CheckItem("Tripod on hard floor, sandbag hung, each foot ringed with tape"),
        CheckItem(
            "Lens axis height and tilt", f"{length(stage.mark_height_m)}, {degrees(stage.tilt_deg)}"
        ),
        CheckItem("Focus manual, ring taped", focus),
        CheckItem("Stop fixed, ring taped", stop(plate.f_number)),
        CheckItem("Rate and shutter", f"{rate(stage.capture_fps)}, {shutter(stage.exposure_s)}"),
        CheckItem("ISO fixed", f"{plate.iso:g}"),
        CheckItem("White balance by number", f"{plate.white_k:.0f} K"),
        CheckItem("Automatic sharpening, noise reduction and lens correction off"),
    ]
    if case.choice.lens.is_zoom:
        found.insert(3, CheckItem("Zoom ring taped", f"{stage.marked_mm:.3g} mm"))
    if body.stabiliser:
        found.append(CheckItem(f"Stabiliser of {body.name} off, and the lens's own"))
    found.append(
        CheckItem("Start by remote release: nobody touches the camera")
        if body.remote
        else CheckItem(
            f"{body.name} has no remote: self-timer, or start once and let it run through all "
            "passes without a stop"
        )
    )
    if plate.nd_stops > 0:
        found.append(CheckItem("ND stays on", f"{plate.nd_stops:g} stops"))
    drift = drift_of(case)
    if drift is not None and shared:
        room = case.shot.kit.room(plate.room_id)
        found.append(
            CheckItem(
                "All passes of this lock-off within",
                f"{drift.minutes:.0f} min of each other about {_clock(drift.around, room)}: then "
                f"the sun has changed {drift.by}",
            )
        )
    elif drift is None and shared:
        found.append(CheckItem("Curtains shut, lamps left on between passes, dimmers read"))
    if is_clean(plate):
        found.append(CheckItem("Nobody and nothing of them in the picture, nor their shadows"))
    elif clean_of(case.shot, plate) is not None or shared:
        found.append(CheckItem("Clean plate of this lock-off before the tripod moves"))
    found += _elsewhere(case)
    found += [CheckItem(words) for words in plate.recipe_right]
    return tuple(found)


def _elsewhere(case: Case) -> list[CheckItem]:
    """What other shots film from the same set-up: what it has to stand like, and wait for."""
    others = beside_of(case.shot, case.plate)
    filmed = [b.called for b in others if b.plate.filmed is not None]
    waiting = [b.called for b in others if b.plate.filmed is None]
    found = []
    if filmed:
        found.append(CheckItem("Stands as it stood for", _few(filmed)))
    if waiting:
        found.append(CheckItem("Nothing is moved before this is filmed too", _few(waiting)))
    return found


def _few(names: list[str]) -> str:
    more = len(names) - MOST_NAMED
    return ", ".join(names[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")


def _clock(seconds: float, room: Room | None) -> str:
    if room is None:
        return ""
    return datetime.datetime.fromtimestamp(seconds, zone_of(room)).strftime("%H:%M")
