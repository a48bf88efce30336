"""The rows of the Board, and what is done to several shots at once."""

from __future__ import annotations

import datetime
import hashlib
import json
import uuid
from dataclasses import dataclass
from typing import Any

from django.core.cache import cache

from jungoptic.core.breakdown.progress import PlateState, next_thing, readiness
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import check_shot
from jungoptic.core.plan.findings import Finding, Verdict, worst_first
from jungoptic.core.report.judged import judged

from ..breakdown.loading import USUAL, Loaded, full_shots, hazards_of, state_of
from ..kit.api import kit_out
from ..plans.bridge import load, plan_json, with_takes
from ..plans.models import Plate, RecipeUse, Shot, StandIn
from ..productions.models import Production
from ..recipes.book import forgotten
from ..records import Record, Refused
from ..schemas import MOST_POSITION, after
from ..steps import Recorder, decisions, recording

#: A finding of the Board lives this long between two looks at it, in seconds.
KEEP_S = 24 * 3600
#: Positions closer than this are numbered anew.
SMALLEST_GAP = 1e-6


@dataclass(frozen=True)
class Standing:
    """How far a shot from `full_shots` is: its plates and recipes, required passes without a
    plate, and how many of its hazards, the usual ones left out, nobody has acknowledged."""

    plates: list[Plate]
    uses: list[RecipeUse]
    states: list[PlateState]
    missing: list[str]
    unread: int

    @staticmethod
    def of(shot: Shot) -> Standing:
        """Read off what is loaded already."""
        plates, uses = list(shot.plates.all()), list(shot.recipe_uses.all())
        read = {caution.hazard for caution in shot.read_cautions.all()}
        return Standing(
            plates,
            uses,
            [state_of(p) for p in plates],
            [name for use in uses for name in forgotten(use, plates)],
            len(set(hazards_of(plates)) - USUAL - read),
        )

    def next(self, worst: Verdict | None) -> str:
        """The next thing to do; `worst` is the worst verdict, None while it is not computed."""
        return next_thing(self.states, bool(self.uses), self.missing, worst, self.unread)


def row(loaded: Loaded, shot: Shot) -> dict[str, Any]:
    """One shot as the Board shows it; verdicts come separately, since they are computed."""
    standing = Standing.of(shot)
    on_set, in_post = loaded.hours_of(shot)
    sketch = next(iter(shot.sketches.all()), None)
    return {
        "id": shot.pk,
        "revision": shot.revision,
        "number": shot.number,
        "title": shot.title,
        "action": shot.action,
        "place": shot.place,
        "time_of_day": shot.time_of_day,
        "screen_time_s": shot.screen_time_s,
        "variant_of": shot.variant_of_id,
        "sketch": None if sketch is None else {"id": sketch.pk, "revision": sketch.revision},
        "recipes": [{"key": u.recipe, "name": u.name} for u in standing.uses],
        "plates": [
            {
                "id": p.pk,
                "name": p.name,
                "kind": p.kind,
                "required": p.required,
                "step": int(state.step),
                "lock_group": p.lock_group,
                "film_on": p.film_on,
            }
            for p, state in zip(standing.plates, standing.states, strict=True)
        ],
        "set_hours": on_set,
        "post_hours": in_post,
        "logged": sum(entry.hours for entry in shot.logged_hours.all()),
        "readiness": readiness(standing.states),
        "next": standing.next(None),
        "forgotten": standing.missing,
        "unread_cautions": standing.unread,
        "continuity": [f for f in loaded.continuity_of(shot) if f.verdict != Verdict.HOLDS],
    }


def verdicts(production: Production, ids: list[uuid.UUID]) -> list[dict[str, Any]]:
    """The worst finding of each shot, computed, or kept from when nothing had changed."""
    kit = kit_out(production)
    found = []
    rows = Shot.objects.filter(production=production, pk__in=ids).select_related("production")
    for shot in full_shots(rows, "stand_ins", with_takes()):
        plan = plan_json(shot, kit=kit)
        text = json.dumps(plan, sort_keys=True, default=str)
        key = "board:" + hashlib.sha256(text.encode()).hexdigest()
        answer = cache.get(key)
        if answer is None:
            answer = _judged(plan)
            cache.set(key, answer, KEEP_S)
        worst = None if answer["verdict"] is None else Verdict(answer["verdict"])
        found.append({"id": shot.pk, "next": Standing.of(shot).next(worst), **answer})
    return found


def _judged(plan: dict[str, Any]) -> dict[str, Any]:
    try:
        shot = load(plan)
        check_shot(shot)
        plates = [judged(shot, plate, remedies=False) for plate in shot.plates]
    except Impossible as error:
        return {
            "verdict": "breaks",
            "title": "Cannot be built",
            "sentence": str(error),
            "plates": {},
        }
    names = {p["id"]: p["name"] for p in plan["plates"]}
    every = [(names[p.plate_id], f) for p in plates for f in p.findings]
    worst: Finding | None = None
    owner = ""
    if every:
        worst = worst_first([f for _, f in every])[0]
        owner = next(name for name, f in every if f is worst)
    quiet = worst is None or worst.verdict is Verdict.HOLDS
    return {
        "verdict": None if worst is None else str(worst.verdict),
        "title": "" if quiet or worst is None else f"{owner}: {worst.title}",
        "sentence": "" if quiet or worst is None else worst.sentence,
        "plates": {p.plate_id: str(p.verdict) for p in plates},
    }


# --- what is done to several shots at once -----------------------------------------------------


def _chosen(production: Production, ids: list[uuid.UUID]) -> list[Shot]:
    """The named shots in story order; `Refused` when one is not there."""
    found = list(
        Shot.objects.filter(production=production, pk__in=ids).select_for_update(of=("self",))
    )
    if len(found) != len(set(ids)):
        raise Refused("ids", "One of these shots is no longer there; the Board has been changed.")
    return found


def reorder(
    user: Any, production: Production, ids: list[uuid.UUID], before: uuid.UUID | None
) -> Recorder:
    """Move shots, kept in their order, before another one, or to the end."""
    with recording(user, production, "Reorder") as step:
        moving = _chosen(production, ids)
        rest = [s for s in Shot.objects.filter(production=production) if s.pk not in set(ids)]
        place = next((i for i, s in enumerate(rest) if s.pk == before), len(rest))
        if before is not None and place == len(rest):
            raise Refused("before", "The shot to put them before is no longer there.")
        low = rest[place - 1].position if place > 0 else None
        high = rest[place].position if place < len(rest) else None
        wanted = [*rest[:place], *moving, *rest[place:]]
        now = list(Shot.objects.filter(production=production).values_list("pk", flat=True))
        if [s.pk for s in wanted] == now:
            return step
        positions = _places(low, high, len(moving))
        if positions is None:
            # The gap was halved too often: number all of them anew.
            moving, positions = wanted, [float(i) for i in range(1, len(wanted) + 1)]
        for shot, position in zip(moving, positions, strict=True):
            step.change(shot, position=position)
    return step


def _places(low: float | None, high: float | None, count: int) -> list[float] | None:
    """`count` positions between two neighbours (None: no neighbour there), in order; None when
    there is no room left there."""
    if low is None and high is None:
        low = 0.0
    if high is None:
        found = [(low or 0.0) + i for i in range(1, count + 1)]
    elif low is None:
        found = [high - i for i in range(count, 0, -1)]
    else:
        gap = (high - low) / (count + 1)
        found = [] if gap < SMALLEST_GAP else [low + gap * i for i in range(1, count + 1)]
    fits = found and found[0] >= -MOST_POSITION and found[-1] <= MOST_POSITION
    return found if fits else None


def put_away(user: Any, production: Production, ids: list[uuid.UUID]) -> Recorder:
    """Remove shots so that undo can fetch them back."""
    label = "Remove a shot" if len(ids) == 1 else f"Remove {len(ids)} shots"
    with recording(user, production, label) as step:
        for shot in _chosen(production, ids):
            step.put_away(shot)
    return step


def _copied(record: Record) -> dict[str, Any]:
    return {n: getattr(record, n) for n in decisions(record)}


def _copy(step: Recorder, shot: Shot, **changes: Any) -> Shot:
    """A shot with copies of its recipes, plates and stand-ins; cards and takes stay behind."""
    twin = step.make(Shot, **{**_copied(shot), **changes})
    uses: dict[Any, RecipeUse] = {}
    plates: dict[Any, Plate] = {}
    for use in shot.recipe_uses.all():
        uses[use.pk] = step.make(RecipeUse, **{**_copied(use), "shot_id": twin.pk})
    for plate in shot.plates.all():
        use_id = uses[plate.use_id].pk if plate.use_id in uses else None
        plates[plate.pk] = step.make(
            Plate, **{**_copied(plate), "shot_id": twin.pk, "use_id": use_id}
        )
    twins: dict[Any, StandIn] = {}
    looks = [(s.pk, s.looks_at_id) for s in shot.stand_ins.all() if s.looks_at_id]
    for stand_in in shot.stand_ins.all():
        plate_id = plates[stand_in.plate_id].pk if stand_in.plate_id in plates else None
        own = {"shot_id": twin.pk, "plate_id": plate_id, "looks_at_id": None}
        twins[stand_in.pk] = step.make(StandIn, **{**_copied(stand_in), **own})
    # A look goes to the copy of what it went to; both must be there first.
    for pk, seen in looks:
        if seen in twins:
            step.change(twins[pk], looks_at_id=twins[seen].pk)
    renamed = {str(pk): str(copy.pk) for pk, copy in (*plates.items(), *twins.items())}
    step.change(twin, splits=_renamed(twin.splits, renamed), beats=_renamed(twin.beats, renamed))
    for plate in plates.values():
        own = {name: _renamed(getattr(plate, name), renamed) for name in ("rig", "markers")}
        step.change(plate, **own)
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
    found = _places(shot.position, after, 1)
    # No room: beside it all the same; the order by age then decides.
    return shot.position if found is None else found[0]


def duplicate(user: Any, production: Production, ids: list[uuid.UUID]) -> Recorder:
    """Copy shots as variants: to try another way without touching the first."""
    with recording(user, production, "Duplicate as variant") as step:
        for shot in _chosen(production, ids):
            _copy(
                step,
                shot,
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
        (shot,) = _chosen(production, [pk])
        if not 0.04 <= at_s <= shot.screen_time_s - 0.04:
            raise Refused(
                "at_s",
                f"Split between 0.04 s and {shot.screen_time_s - 0.04:g} s of this shot's "
                f"{shot.screen_time_s:g} s.",
            )
        frames = round(at_s * shot.playback_fps)
        second = _copy(
            step,
            shot,
            number=_free_number(production, shot.number),
            screen_time_s=round(shot.screen_time_s - at_s, 6),
            position=_between(production, shot),
            edit_name="",
            **_shifted(shot, -frames),
        )
        for plate in second.plates.all():
            if plate.ramp:
                step.change(plate, ramp=_later(plate.ramp, -frames))
        step.change(
            shot,
            screen_time_s=at_s,
            story_speed_keys=[k for k in shot.story_speed_keys if k["frame"] <= max(frames, 1)],
            beats=[b for b in shot.beats if b["frame"] <= max(frames, 1)],
        )
    return step


def merge(user: Any, production: Production, ids: list[uuid.UUID]) -> Recorder:
    """Make one shot of several neighbours: the first keeps its world; plates of the others, with
    their cards and takes, move to it."""
    with recording(user, production, f"Merge {len(ids)} shots") as step:
        first, *others = _chosen(production, ids)
        if not others:
            raise Refused("ids", "Choose two shots or more to merge.")
        whole = sum(s.screen_time_s for s in (first, *others))
        actions = [s.action for s in (first, *others) if s.action]
        last = max((p.position for p in first.plates.all()), default=0.0)
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
        for number, other in enumerate(others, start=2):
            for use in other.recipe_uses.all():
                step.change(use, shot_id=first.pk)
            for plate in other.plates.all():
                last = after(last)
                # A lock-off of the other shot is not one of this shot, even under the same letter.
                group = f"{number}.{plate.lock_group}"[:20] if plate.lock_group else ""
                step.change(plate, shot_id=first.pk, position=last, lock_group=group)
            for stand_in in other.stand_ins.all():
                step.change(stand_in, shot_id=first.pk)
            step.put_away(other)
        step.change(
            first,
            screen_time_s=min(whole, 3600.0),
            splits=splits[:6],
            beats=beats[:60],
            story_speed_keys=_changes(speeds, first.story_speed)[:40],
            action="\n".join(actions)[:2000],
        )
    return step


def _changes(speeds: dict[int, float], now: float) -> list[dict[str, Any]]:
    """Speeds from frames on as keys: only where the speed changes, beginning with `now`."""
    found = []
    for frame, speed in sorted(speeds.items()):
        if speed != now:
            found.append({"frame": frame, "speed": speed})
        now = speed
    return found


def set_together(
    user: Any, production: Production, ids: list[uuid.UUID], changes: dict[str, Any]
) -> Recorder:
    """Give several shots the same place, time of day, or day of filming."""
    with recording(user, production, "Change several shots") as step:
        for shot in _chosen(production, ids):
            own = {k: v for k, v in changes.items() if k in {"place", "time_of_day"}}
            if own:
                step.change(shot, **own)
            if "film_on" in changes:
                day: datetime.date | None = changes["film_on"]
                for plate in shot.plates.all():
                    step.change(plate, film_on=day)
    return step
