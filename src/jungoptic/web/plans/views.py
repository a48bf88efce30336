"""The views of a stored shot: its first camera, and those that stand in `Shot.views`."""

from __future__ import annotations

import uuid
from typing import Any

from ..records import Refused
from .models import Plate, Shot


def view_of(shot: Shot, view_id: uuid.UUID | str | None) -> dict[str, Any] | None:
    """A further view of the shot as it is stored; None for the first camera."""
    return next((v for v in shot.views if v["id"] == str(view_id)), None)


def called(shot: Shot, view_id: uuid.UUID | str | None) -> str:
    """What is written over a page about one of its plates: the shot, and a further view's name."""
    view = view_of(shot, view_id)
    return f"{shot}" if view is None else f"{shot}, {view['name']}"


def decided(shot: Shot, view_id: uuid.UUID | str | None, name: str) -> Any:
    """What a view decides, by the name of the field: what it does not decide is the shot's."""
    view = view_of(shot, view_id)
    return view[name] if view is not None and name in view else getattr(shot, name)


def seconds_of(shot: Shot, plate: Plate) -> float:
    """How long the view stands on the screen that a plate is a piece of."""
    return float(decided(shot, plate.view_id, "screen_time_s"))


def whole_seconds(shot: Shot) -> float:
    """How long the shot stands on the screen, all its views together."""
    return sum((float(v["screen_time_s"]) for v in shot.views), shot.screen_time_s)


def refuse_unknown(shot: Shot, view_id: uuid.UUID | str | None) -> None:
    """Raises Refused for a view that the shot does not have."""
    if view_id is not None and view_of(shot, view_id) is None:
        raise Refused("view_id", "There is no such view in this shot.")


def refuse_lost(shot: Shot, views: list[dict[str, Any]]) -> None:
    """Raises Refused where `views` would leave plates of the shot without their view."""
    kept = {v["id"] for v in views}
    lost = {v["id"]: v["name"] for v in shot.views if v["id"] not in kept}
    for plate in Plate.objects.filter(shot=shot, view_id__in=list(lost)):
        raise Refused(
            "views",
            f"{plate.name} is a piece of {lost[str(plate.view_id)]}: "
            "give it to another view, or remove it first.",
        )
