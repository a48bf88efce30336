"""The lamps of a plate that play: each one's curve, when it begins, and all of them together."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..plan.cue import Cue
from ..plan.plate import Plate
from ..plan.shot import Shot
from .cue import Curve, curve, flashes
from .lamps import lamp_names
from .stage_light import StageLight

#: A cue is worked out over this much of a shot, and at this rate, at most.
LONGEST_S, FASTEST_FPS = 600.0, 240.0


@dataclass(frozen=True)
class Playing:
    """One lamp that plays. `number`: of the lamp on the stage, None when it is gone; `beat`: what
    it begins with, "" for the shot's first frame; `begins_s`: when, from that frame."""

    cue: Cue
    number: int | None
    name: str
    beat: str
    begins_s: float
    curve: Curve


def begun(shot: Shot, cue: Cue) -> tuple[Cue, str]:
    """The cue told from the shot's first frame, and the beat that it begins with ("" for none, or
    one that is gone)."""
    beat = next((b for b in shot.beats if cue.beat_id and b.id == cue.beat_id), None)
    if beat is None:
        return cue, ""
    return replace(cue, at_s=cue.at_s + (beat.frame - 1) / shot.delivery.fps), beat.name


def playing(shot: Shot, plate: Plate) -> tuple[Playing, ...]:
    """Every lamp of a plate that plays, over the shot at the rate it is shown at. Raises Impossible
    for levels the wrong way round."""
    names = lamp_names(shot, plate)
    seconds = min(shot.screen_time_s, LONGEST_S)
    fps = min(shot.delivery.fps, FASTEST_FPS)
    found = []
    for cue in plate.cues:
        told, beat = begun(shot, cue)
        number = plate.lamp_of(cue)
        name = None if number is None else names[number]
        curved = curve(told, seconds, fps)
        found.append(Playing(cue, number, name or "a lamp", beat, told.at_s, curved))
    return tuple(found)


def together(lamps: tuple[Playing, ...], light: StageLight | None) -> Curve | None:
    """What lamps that play give together, 1 being all of them at full: each by its light on the
    action, or alike while that is not known. None without any."""
    if not lamps:
        return None
    there = {} if light is None else {x.number: x.meter_lux for x in light.lamps}
    weights = np.array([there.get(x.number, 0.0) if x.number is not None else 0.0 for x in lamps])
    if weights.sum() <= 0.0:
        weights = np.ones(len(lamps))
    levels: Array = weights @ np.stack([x.curve.levels for x in lamps]) / weights.sum()
    fps = lamps[0].curve.fps
    most, first = flashes(levels, fps)
    cautions = next((x.curve.cautions for x in lamps if x.curve.cautions), ())
    return Curve(fps, levels, most, first, cautions)
