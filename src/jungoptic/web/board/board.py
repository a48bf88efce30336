"""The rows of the Board, and what is done to several shots at once."""

from __future__ import annotations

import datetime
import uuid
from dataclasses import dataclass
from typing import Any

from jungoptic.core.breakdown.progress import PlateState, next_thing, readiness
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import check_shot
from jungoptic.core.plan.findings import Finding, Verdict, worst_first
from jungoptic.core.report.judged import judged

from ..breakdown.loading import USUAL, Loaded, full_shots, hazards_of, state_of
from ..developed.shot_picture import ShotPicture, shot_pictures
from ..kept import answers as kept
from ..plans.bridge import load
from ..plans.models import Plate, RecipeUse, Shot
from ..plans.stored import bare_kit, carrying, elsewhere, plan_json, with_takes
from ..plans.views import whole_seconds
from ..productions.models import Production
from ..recipes.book import forgotten
from ..records import Refused
from ..schemas import MOST_POSITION
from ..steps import Recorder, recording

#: Counts up with the form of what is kept, so that nothing of an older form is read.
FORM = 2
#: What is stored of shots, by their ids.
Plans = dict[uuid.UUID, dict[str, Any]]
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
        "screen_time_s": whole_seconds(shot),
        "views": 1 + len(shot.views),
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


def _plans(production: Production, ids: list[uuid.UUID]) -> tuple[list[Shot], Plans]:
    """Some shots with all that belongs to them, and their plans."""
    kit = carrying(bare_kit(production))
    rows = Shot.objects.filter(production=production, pk__in=ids).select_related("production")
    shots = full_shots(rows, with_takes(), whole=True)
    beside = elsewhere(shots, kit)
    return shots, {shot.pk: plan_json(shot, kit=kit, beside=beside[shot.pk]) for shot in shots}


def pictures(production: Production, ids: list[uuid.UUID]) -> dict[uuid.UUID, ShotPicture]:
    """The developed pictures that stand for some shots."""
    return shot_pictures(_plans(production, ids)[1])


def verdicts(production: Production, ids: list[uuid.UUID]) -> list[dict[str, Any]]:
    """The worst finding of each shot, computed, or kept from when nothing had changed, and the
    developed picture that stands for it."""
    shots, plans = _plans(production, ids)
    answers = kept.of_each(
        plans, f"board {FORM}", lambda missing: {pk: _judged(plans[pk]) for pk in missing}
    )
    found = []
    shown = shot_pictures(plans)
    for shot in shots:
        answer = answers[shot.pk]
        worst = None if answer["verdict"] is None else Verdict(answer["verdict"])
        next_one, picture = Standing.of(shot).next(worst), shown.get(shot.pk)
        found.append({"id": shot.pk, "next": next_one, "picture": picture, **answer})
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
            "unasked": {},
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
        "unasked": {p.plate_id: [u.title for u in p.unasked] for p in plates if p.unasked},
    }


# --- what is done to several shots at once -----------------------------------------------------


def chosen(production: Production, ids: list[uuid.UUID]) -> list[Shot]:
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
        moving = chosen(production, ids)
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
        positions = places(low, high, len(moving))
        if positions is None:
            # The gap was halved too often: number all of them anew.
            moving, positions = wanted, [float(i) for i in range(1, len(wanted) + 1)]
        for shot, position in zip(moving, positions, strict=True):
            step.change(shot, position=position)
    return step


def places(low: float | None, high: float | None, count: int) -> list[float] | None:
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
        for shot in chosen(production, ids):
            step.put_away(shot)
    return step


def set_together(
    user: Any, production: Production, ids: list[uuid.UUID], changes: dict[str, Any]
) -> Recorder:
    """Give several shots the same place, time of day, or day of filming."""
    with recording(user, production, "Change several shots") as step:
        for shot in chosen(production, ids):
            own = {k: v for k, v in changes.items() if k in {"place", "time_of_day"}}
            if own:
                step.change(shot, **own)
            if "film_on" in changes:
                day: datetime.date | None = changes["film_on"]
                for plate in shot.plates.all():
                    step.change(plate, film_on=day)
    return step
