"""A developed picture of a plate, or of the story: from decisions to pixels in one call."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.mirrored import as_recorded
from jungoptic.core.plan.plate import PlacedLamp, Plate
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.views import seen_from_own
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.rooms import room_fit

from .air import hazed
from .clean import cleaned
from .engine import Stage
from .film import recorded
from .staged import film_of, on_sensor, staged
from .world import FILM, filmed_world

Tell = Callable[[int, int], None]

#: Rays a pixel, by how wide the picture is asked for.
SAMPLES_SMALL, SAMPLES_LARGE, SMALL_PX = 8, 16, 480
#: More of a view than this beside the sensor is worth a word, as a part of its size.
BEYOND = 1.005
UNLIT = "No lamp shines on this stage yet: it is shown in even light, at a normal exposure."
NO_ROOM = "No room is chosen: the floor goes on for ever, and no wall gives light back."
NO_CAMERA = "choose a body, a mode and a lens first; there is nothing to film it with."
OUTSIDE = "A lamp stands outside the room: its wall keeps the light away."
OUTSIDE_SEVERAL = "{} lamps stand outside the room: its walls keep their light away."
TOO_LONG = (
    "The lens is too long for this view: the sensor has {:.0%} of its width, the rest stays black."
)
TOO_LOW = "The sensor is too low for this view: it has {:.0%} of its height, the rest stays black."
AS_FILMED = "Shown as it is filmed; post makes it smaller and lays it where it belongs."
MIRRORED = "Shown mirrored, as post will have it."


@dataclass(frozen=True)
class Picture:
    """A picture (h, w, 3), 0..255, and what a person should know when looking at it."""

    pixels: NDArray[np.uint8]
    remarks: tuple[str, ...]


def develop(
    shot: Shot,
    plate: Plate | None,
    part: float = 0.0,
    width: int = SMALL_PX,
    seed: int = 0,
    tell: Tell | None = None,
) -> Picture:
    """Film `plate` at a part (0..1) of the shot; without one the story, as if it were real.

    `width` in pixels; the same plan, seed and width give the same picture. `tell` hears how many
    of how many steps are done and may raise to stop. Raises Impossible where a plan cannot be
    filmed, NoEngine where the engine is not installed.
    """
    samples = SAMPLES_SMALL if width <= SMALL_PX else SAMPLES_LARGE
    remarks: list[str] = []
    case = None if plate is None else filmable(shot, plate)
    delivered = shot.delivery if case is None else case.shot.delivery
    if case is not None and case.shot.placing is not None:
        # As many pixels as the story's picture, whatever shape its own frame has.
        width = max(round(width * math.sqrt(delivered.aspect / shot.delivery.aspect)), 16)
    height = max(round(width / delivered.aspect), 2)
    if case is None:
        scene, film = filmed_world(shot, part), FILM
    else:
        scene, film = staged(case, part), film_of(case, part)
        remarks = told_of(case)
    layers = Stage(scene, width, height).seen(samples, seed, tell)
    light = cleaned(layers)
    if case is not None:
        light = light * on_sensor(case, width, height, part)[..., None]
    if case is None and shot.visibility_m is not None and scene.sky is not None:
        light = hazed(light, layers.depth_m, shot.visibility_m, scene.sky)
    found = recorded(light, film, seed)
    if plate is not None and plate.flop:
        found = found[:, ::-1]
        remarks.append(MIRRORED)
    if case is not None and case.shot.placing is not None:
        remarks.append(AS_FILMED)
    return Picture(shown(found), tuple(remarks))


def shown(picture: NDArray[np.float32]) -> NDArray[np.uint8]:
    """A picture 0..1 as numbers 0..255."""
    found: NDArray[np.uint8] = (picture * 255.0 + 0.5).astype(np.uint8)
    return found


def filmable(shot: Shot, plate: Plate) -> Case:
    """The plate with its camera and all numbers of its sheet. Raises Impossible without one."""
    case = Case.of(seen_from_own(shot, plate), plate)
    if case is None:
        raise Impossible(NO_CAMERA, "lens_id")
    return case


def recordable(shot: Shot, plate: Plate) -> Case:
    """The plate as the day's camera records it, focused as planned: before a zoom is made in post,
    which is the widest of the story's views all along. Raises Impossible without a camera."""
    planned = filmable(shot, plate)
    if planned.shot.move.zoom == 1.0:
        return planned
    focus_m = planned.stage.focus_m * plate.scale
    if plate.focus_world_m is None and math.isfinite(focus_m):
        plate = replace(plate, focus_world_m=focus_m)
    return filmable(as_recorded(shot, plate), plate)


def lit_by(case: Case) -> list[PlacedLamp]:
    """The lamps that shine on a stage; where there are none it is shown in even light."""
    kit = case.shot.kit
    return [p for p in case.plate.lamps if p.level > 0.0 and kit.lamp(p.lamp_id) is not None]


def told_of(case: Case) -> list[str]:
    """What a person should know who looks at a picture of a plate."""
    stage, lit = case.stage, lit_by(case)
    found: list[str] = []
    if stage.crop_across > BEYOND:
        found.append(TOO_LONG.format(1.0 / stage.crop_across))
    elif stage.crop_down > BEYOND:
        found.append(TOO_LOW.format(1.0 / stage.crop_down))
    if not lit:
        return [*found, UNLIT]
    fit = room_fit(case)
    if fit is None:
        found.append(NO_ROOM)
    elif fit.ceiling_m is not None:
        outside = [
            p
            for p in lit
            if not (
                fit.left_m < p.x_m < fit.right_m
                and fit.rear_m < p.y_m < fit.front_m
                and fit.floor_m < p.z_m < fit.ceiling_m
            )
        ]
        if outside:
            found.append(OUTSIDE if len(outside) == 1 else OUTSIDE_SEVERAL.format(len(outside)))
    return found
