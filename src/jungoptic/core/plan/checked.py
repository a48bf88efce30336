"""A shot whose numbers make no sense is refused, by name."""

from __future__ import annotations

import math

from ..checks_on_input import finite, not_negative, positive
from ..impossible import Impossible
from .shot import Shot
from .standins import StandIn
from .views import all_views


def check_shot(shot: Shot) -> None:
    """Refuse a shot whose numbers make no sense, naming the field in a sentence (Impossible)."""
    positive("delivery width", shot.delivery.width_px, "delivery_width_px")
    positive("delivery height", shot.delivery.height_px, "delivery_height_px")
    positive("delivery rate", shot.delivery.fps, "playback_fps")
    not_negative("padding", shot.padding)
    for view in all_views(shot):
        _check_view(view)
    for stand_in in shot.stand_ins:
        if _makes_sense(stand_in):
            continue
        for name in ("x_m", "y_m", "z_m", "heading_deg"):
            finite(f"{stand_in.name}: {name}", getattr(stand_in, name), name)
        for name in ("width_m", "height_m", "depth_m"):
            not_negative(f"{stand_in.name}: {name}", getattr(stand_in, name), name)
    for plate in shot.plates:
        positive(f"{plate.name}: scale", plate.scale, "scale")
        finite(f"{plate.name}: ground", plate.ground_m, "ground_m")
        positive(f"{plate.name}: stop", plate.f_number, "f_number")
        if plate.placed_from_m is not None:
            positive(f"{plate.name}: filmed from", plate.placed_from_m, "placed_from_m")
        if plate.tilt_deg is not None and not math.isfinite(plate.tilt_deg):
            raise Impossible(f"{plate.name}: tilt must be a finite number of degrees.", "tilt_deg")


def _makes_sense(thing: StandIn) -> bool:
    """Whether there is nothing to say of a thing: asked of very many, of which all are right."""
    where = thing.x_m + thing.y_m + thing.z_m + thing.heading_deg
    sizes = thing.width_m, thing.depth_m, thing.height_m
    return math.isfinite(where) and min(sizes) >= 0.0 and math.isfinite(sum(sizes))


def _check_view(shot: Shot) -> None:
    not_negative("camera height", shot.world.height_m, "camera_height_m")
    positive("the story's speed", shot.story_speed, "story_speed")
    for key in shot.story_speed_keys:
        positive(f"the story's speed at frame {key.frame}", key.speed, "story_speed_keys")
    positive("the zoom", shot.move.zoom, "move_zoom")
    if shot.world.height_m + shot.move.up_m < 0:
        raise Impossible(
            "The camera move ends below the ground: crane up, or start higher.", "move_up_m"
        )
    if not -89.0 <= shot.world.tilt_deg + shot.move.tilt_deg <= 89.0:
        raise Impossible("The camera move tilts past straight up or down.", "move_tilt_deg")
