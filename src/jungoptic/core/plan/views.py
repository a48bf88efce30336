"""Several cameras in one shot: a wide, a close-up, an insert, cut together.

Things stand in the shot's own world, told from its first camera. What belongs to a view (its lines
with their throws, the cut of the picture, its beats), and the area of a plate's crowd, are told
from the view's own camera.
"""

from __future__ import annotations

from dataclasses import replace

from .plate import Plate
from .shot import Shot
from .view import View


def in_view(shot: Shot, view_id: str | None) -> Shot:
    """What one view shows, as a shot of its own with that view's camera, time, plates and things,
    seen from there. None, or an id that no view has, is the first camera. A shot without further
    views is given back as it is."""
    if not shot.views:
        return shot
    view = next((v for v in shot.views if v.id == view_id), None)
    return shot.once(f"view:{None if view is None else view.id}", lambda: _alone(shot, view))


def seen_from_own(shot: Shot, plate: Plate) -> Shot:
    """The shot as the view of one of its plates shows it."""
    return in_view(shot, plate.view_id) if shot.views else shot


def all_views(shot: Shot) -> tuple[Shot, ...]:
    """Every view as a shot of its own, the first camera's first."""
    return (in_view(shot, None), *(in_view(shot, v.id) for v in shot.views))


def whole_time_s(shot: Shot) -> float:
    """How long the shot stands on the screen, all its views together, seconds."""
    return shot.screen_time_s + sum(v.screen_time_s for v in shot.views)


def _alone(shot: Shot, view: View | None) -> Shot:
    known = {v.id for v in shot.views}
    wanted = None if view is None else view.id

    def of_view(plate: Plate) -> str | None:
        return plate.view_id if plate.view_id in known else None

    plates = tuple(p for p in shot.plates if of_view(p) == wanted)
    # What no plate films is scenery, there for every camera.
    filmed, here = {p.id for p in shot.plates}, {p.id for p in plates}
    things = tuple(s for s in shot.stand_ins if s.plate_id in here or s.plate_id not in filmed)
    beside = tuple(b for b in shot.beside if not (b.here and of_view(b.plate) == wanted))
    if view is None:
        return replace(shot, views=(), plates=plates, stand_ins=things, beside=beside)
    key = shot.key_from_deg
    return replace(
        shot,
        views=(),
        plates=plates,
        beside=beside,
        stand_ins=tuple(view.from_here(s) for s in things),
        world=view.world,
        move=view.move,
        screen_time_s=view.screen_time_s,
        key_from_deg=None if key is None else key - view.turned_deg,
        splits=view.splits,
        reframe=view.reframe,
        beats=view.beats,
        story_speed=view.story_speed,
        story_speed_keys=view.story_speed_keys,
    )
