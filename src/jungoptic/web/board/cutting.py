"""Shots copied, cut in two, and made one of: with all that belongs to them."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from ..frames.models import Sheet
from ..frames.sheets import part_of
from ..plans.fields import MOST_BEATS, MOST_SPLITS, MOST_VIEWS, CameraFields, ViewFields
from ..plans.lockoffs import names_of_copy, names_taken
from ..plans.models import Plate, RecipeUse, Shot, StandIn
from ..plans.trick_fields import MOST_FRAME
from ..productions.models import Production
from ..records import Record, Refused, plain
from ..schemas import after
from ..steps import Recorder, decisions, recording
from .board import chosen, places

#: What makes one camera another than the next: shots that agree in it are pieces of one take.
LENS = frozenset(CameraFields.model_fields) - {
    "screen_time_s",
    "story_speed",
    "story_speed_keys",
    "splits",
    "reframe",
    "beats",
}


def _copied(record: Record) -> dict[str, Any]:
    return {n: getattr(record, n) for n in decisions(record)}


def _copy(step: Recorder, shot: Shot, other_set_up: bool, **changes: Any) -> Shot:
    """A shot with copies of its recipes, plates and stand-ins; cards and takes stay behind, and all
    of those views that `changes` leave out. Views of the copy are others than those of the shot, so
    that the two can be merged again; with `other_set_up` its lock-offs are others too, else it is
    filmed from where the shot is."""
    kept = {v["id"] for v in changes.get("views", shot.views)}
    left = {uuid.UUID(v["id"]) for v in shot.views if v["id"] not in kept}
    views: dict[uuid.UUID | None, uuid.UUID] = {uuid.UUID(pk): uuid.uuid4() for pk in kept}
    copied = [p for p in shot.plates.all() if p.view_id not in left]
    gone = {p.pk for p in shot.plates.all()} - {p.pk for p in copied}
    twin = step.make(Shot, **{**_copied(shot), **changes})
    uses: dict[Any, RecipeUse] = {}
    plates: dict[Any, Plate] = {}
    for use in shot.recipe_uses.all():
        if use.view_id not in left:
            of_twin = {"shot_id": twin.pk, "view_id": views.get(use.view_id)}
            uses[use.pk] = step.make(RecipeUse, **{**_copied(use), **of_twin})
    locks = (
        names_of_copy(names_taken(shot.production_id), twin.number, (p.lock_group for p in copied))
        if other_set_up
        else {}
    )
    for plate in copied:
        use_id = uses[plate.use_id].pk if plate.use_id in uses else None
        own: dict[str, Any] = {
            "shot_id": twin.pk,
            "use_id": use_id,
            "view_id": views.get(plate.view_id),
            "lock_group": locks.get(plate.lock_group, plate.lock_group),
        }
        plates[plate.pk] = step.make(Plate, **{**_copied(plate), **own})
    twins: dict[Any, StandIn] = {}
    things = [s for s in shot.stand_ins.all() if s.plate_id not in gone]
    looks = [(s.pk, s.looks_at_id) for s in things if s.looks_at_id]
    for stand_in in things:
        plate_id = plates[stand_in.plate_id].pk if stand_in.plate_id in plates else None
        own = {"shot_id": twin.pk, "plate_id": plate_id, "looks_at_id": None}
        twins[stand_in.pk] = step.make(StandIn, **{**_copied(stand_in), **own})
    # A look goes to the copy of what it went to; both must be there first.
    for pk, seen in looks:
        if seen in twins:
            step.change(twins[pk], looks_at_id=twins[seen].pk)
    renamed = {str(pk): str(copy.pk) for pk, copy in (*plates.items(), *twins.items())}
    renamed |= {str(pk): str(copy) for pk, copy in views.items()}
    pointing = ("splits", "beats", "views")
    step.change(twin, **{name: _renamed(getattr(twin, name), renamed) for name in pointing})
    for plate in plates.values():
        own = {name: _renamed(getattr(plate, name), renamed) for name in ("rig", "markers")}
        step.change(plate, **own)
    for sheet in Sheet.objects.filter(plate_id__in=list(plates)):
        # The days at the table stay with what was made.
        told = ("columns", "lapse", "set_map", "reference")
        own = {name: _renamed(getattr(sheet, name), renamed) for name in told}
        step.make(Sheet, shot_id=twin.pk, plate_id=plates[sheet.plate_id].pk, **own)
    return twin


def _renamed(value: Any, renamed: dict[str, str]) -> Any:
    """The same decisions about other plates and things: ids told by `renamed`."""
    if isinstance(value, dict):
        return {k: _renamed(v, renamed) for k, v in value.items()}
    if isinstance(value, list):
        return [_renamed(v, renamed) for v in value]
    return renamed.get(value, value) if isinstance(value, str) else value


def _later(rows: list[dict[str, Any]], frames: int) -> list[dict[str, Any]]:
    """Keys that many frames later. What then lies before the first frame stands on it, if nothing
    later does."""
    found = {max(r["frame"] + frames, 1): r for r in sorted(rows, key=lambda r: r["frame"])}
    return [{**row, "frame": frame} for frame, row in found.items()]


def _shifted(shot: Shot, frames: int) -> dict[str, Any]:
    """A shot's dividers, reframe, beats and changes of speed that many frames later (negative:
    earlier)."""

    def keys(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
        return _later(rows, frames)

    def throw(value: dict[str, Any] | None) -> dict[str, Any] | None:
        gone = value is None or value["frame"] + frames < 1
        return None if gone or value is None else {**value, "frame": value["frame"] + frames}

    reframe = shot.reframe
    return {
        "splits": [{**s, "keys": keys(s["keys"]), "throw": throw(s["throw"])} for s in shot.splits],
        "reframe": None if reframe is None else {**reframe, "keys": keys(reframe["keys"])},
        "beats": [
            {**b, "frame": b["frame"] + frames} for b in shot.beats if b["frame"] + frames >= 1
        ],
        "story_speed_keys": keys(shot.story_speed_keys),
    }


def _free_number(production: Production, wanted: str) -> str:
    """`wanted`, or with a letter after it where that number is taken."""
    taken = set(Shot.objects.filter(production=production).values_list("number", flat=True))
    for letter in ("", *"bcdefghijklmnopqrstuvwxyz"):
        number = f"{wanted[:18]}{letter}"
        if number not in taken:
            return number
    return wanted[:11] + uuid.uuid4().hex[:8]


def _between(production: Production, shot: Shot) -> float:
    """A position right after `shot`."""
    after = (
        Shot.objects.filter(production=production, position__gt=shot.position)
        .values_list("position", flat=True)
        .first()
    )
    found = places(shot.position, after, 1)
    # No room: beside it all the same; the order by age then decides.
    return shot.position if found is None else found[0]


def duplicate(
    user: Any,
    production: Production,
    ids: list[uuid.UUID],
    told: Callable[[int], None] = lambda _: None,
) -> Recorder:
    """Copy shots as variants: to try another way without touching the first. `told` hears how many
    have been copied."""
    with recording(user, production, "Duplicate as variant") as step:
        for number, shot in enumerate(chosen(production, ids)):
            told(number)
            _copy(
                step,
                shot,
                other_set_up=True,
                number=_free_number(production, shot.number),
                title=f"{shot.title[:108]} (variant)",
                position=_between(production, shot),
                variant_of_id=shot.pk,
                edit_name="",
            )
    return step


def split(user: Any, production: Production, pk: uuid.UUID, at_s: float) -> Recorder:
    """Split a shot in two at a moment: the second half keeps world and plates as copies."""
    with recording(user, production, "Split") as step:
        (shot,) = chosen(production, [pk])
        if not 0.04 <= at_s <= shot.screen_time_s - 0.04:
            whose = "this shot's first camera's" if shot.views else "this shot's"
            raise Refused(
                "at_s",
                f"Split between 0.04 s and {shot.screen_time_s - 0.04:g} s of {whose} "
                f"{shot.screen_time_s:g} s.",
            )
        frames = round(at_s * shot.playback_fps)
        second = _copy(
            step,
            shot,
            other_set_up=False,
            number=_free_number(production, shot.number),
            screen_time_s=round(shot.screen_time_s - at_s, 6),
            position=_between(production, shot),
            edit_name="",
            # Its other cameras have a time of their own, and stay with the first half.
            views=[],
            **_shifted(shot, -frames),
        )
        for plate in second.plates.all():
            if plate.ramp:
                step.change(plate, ramp=_later(plate.ramp, -frames))
        for sheet in second.sheets.all():
            beside = sheet.reference
            if beside is not None:
                beside = {**beside, "at": max(beside["at"] - frames, -MOST_FRAME)}
            columns = part_of(sheet.columns, frames + 1, MOST_FRAME)
            step.change(sheet, columns=columns, reference=beside)
        for sheet in shot.sheets.filter(plate_id__in=_of_first_view(shot)):
            step.change(sheet, columns=part_of(sheet.columns, 1, max(frames, 1)))
        step.change(
            shot,
            screen_time_s=at_s,
            story_speed_keys=[k for k in shot.story_speed_keys if k["frame"] <= max(frames, 1)],
            beats=[b for b in shot.beats if b["frame"] <= max(frames, 1)],
        )
    return step


def _of_first_view(shot: Shot) -> list[uuid.UUID]:
    """The plates of a shot's first camera; those of its other cameras are not cut."""
    views = {uuid.UUID(v["id"]) for v in shot.views}
    return [plate.pk for plate in shot.plates.all() if plate.view_id not in views]


def merge(user: Any, production: Production, ids: list[uuid.UUID]) -> Recorder:
    """Make one shot of several neighbours: plates of the others, with their cards and takes, move
    to the first. What the first one's camera filmed too goes on behind it; another camera becomes
    a further view."""
    with recording(user, production, f"Merge {len(ids)} shots") as step:
        first, *others = chosen(production, ids)
        if not others:
            raise Refused("ids", "Choose two shots or more to merge.")
        going_on = [o for o in others if _same_camera(first, o)]
        views, view_ids = list(first.views), {}
        for other in others:
            if other not in going_on:
                view_ids[other.pk] = uuid.uuid4()
                views.append(_as_view(other, view_ids[other.pk]))
            views += other.views
        if len(views) > MOST_VIEWS:
            raise Refused(
                "ids", f"A shot holds {MOST_VIEWS + 1} cameras at the most; merge fewer of these."
            )
        last = max((p.position for p in first.plates.all()), default=0.0)
        for other in others:
            for use in other.recipe_uses.all():
                step.change(use, shot_id=first.pk, view_id=use.view_id or view_ids.get(other.pk))
            for plate in other.plates.all():
                last = after(last)
                step.change(
                    plate,
                    shot_id=first.pk,
                    position=last,
                    view_id=plate.view_id or view_ids.get(other.pk),
                )
            for stand_in in other.stand_ins.all():
                step.change(stand_in, shot_id=first.pk)
            for sheet in other.sheets.all():
                step.change(sheet, shot_id=first.pk)
            step.put_away(other)
        actions = [s.action for s in (first, *others) if s.action]
        step.change(
            first,
            **_one_after_another(first, going_on),
            views=views,
            action="\n".join(actions)[:2000],
        )
    return step


def _same_camera(one: Shot, other: Shot) -> bool:
    return all(getattr(one, name) == getattr(other, name) for name in LENS)


def _as_view(shot: Shot, view_id: uuid.UUID) -> dict[str, Any]:
    """A shot's camera, time and picture as a further view of another shot."""
    camera = {name: plain(getattr(shot, name)) for name in CameraFields.model_fields}
    return ViewFields(id=str(view_id), name=f"{shot}"[:60], **camera).model_dump()


def _one_after_another(first: Shot, others: list[Shot]) -> dict[str, Any]:
    """Time and tricks of shots of one camera, each beginning where the one before it ends."""
    gone = first.screen_time_s
    splits, beats = list(first.splits), list(first.beats)
    speeds = {1: first.story_speed}
    speeds |= {k["frame"]: k["speed"] for k in first.story_speed_keys}
    for other in others:
        begins = round(gone * first.playback_fps)
        later = _shifted(other, begins)
        # Each runs as it ran before: what the one before it ended with ends with it.
        speeds = {frame: speed for frame, speed in speeds.items() if frame <= max(begins, 1)}
        speeds[begins + 1] = other.story_speed
        speeds |= {k["frame"]: k["speed"] for k in later["story_speed_keys"]}
        gone += other.screen_time_s
        splits += later["splits"]
        beats += later["beats"]
    return {
        "screen_time_s": min(gone, 3600.0),
        "splits": splits[:MOST_SPLITS],
        "beats": beats[:MOST_BEATS],
        "story_speed_keys": _changes(speeds, first.story_speed)[:40],
    }


def _changes(speeds: dict[int, float], now: float) -> list[dict[str, Any]]:
    """Speeds from frames on as keys: only where the speed changes, beginning with `now`."""
    found = []
    for frame, speed in sorted(speeds.items()):
        if speed != now:
            found.append({"frame": frame, "speed": speed})
        now = speed
    return found
