"""A whole production as the Board needs it, in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections import defaultdict
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Count, Prefetch, Q

from jungoptic.core import continuity, effort
from jungoptic.core.hazards import cautions_for
from jungoptic.core.plan import Plate as CorePlate
from jungoptic.core.progress import PlateState
from jungoptic.core.recipes import Work

from ..plans.bridge import recipe_hazards
from ..plans.models import Plate, Shot
from ..productions.models import Production
from .models import KeptThread, LoggedHours, Thread

#: Cautions that every set has; they ask for no reading of their own on the Board.
USUAL = {"lamps", "stands"}


def full_plates() -> Any:
    """Plates with their recipe and the counts of their cards and takes, in order."""
    circled = Q(cards__takes__circled=True)
    return (
        Plate.objects.select_related("use")
        .annotate(
            card_count=Count("cards", distinct=True),
            take_count=Count("cards__takes", distinct=True),
            circled_count=Count("cards__takes", filter=circled, distinct=True),
        )
        # Counting drops the order that the model has by itself.
        .order_by("position", "created_at", "id")
    )


def full_shots(production: Production) -> Any:
    """The shots with everything that the Board shows of them."""
    return Shot.objects.filter(production=production).prefetch_related(
        Prefetch("plates", full_plates()),
        "recipe_uses",
        "sketches",
        "logged_hours",
        "read_cautions",
    )


def job_of(plate: Plate, shot: Shot) -> effort.Job:
    """A plate as work."""
    return effort.Job(
        id=str(plate.pk),
        name=plate.name,
        kind=plate.kind,
        work=Work(plate.cut, plate.shapes, plate.paint_share, plate.tracked, plate.takes_planned),
        seconds=shot.screen_time_s,
        fps=shot.playback_fps,
        lock=plate.lock_group,
        key_every=plate.key_every,
        keying=plate.keying,
        hold=plate.hold,
    )


def state_of(plate: Plate) -> PlateState:
    """How far a plate from `full_plates` is."""
    return PlateState(
        name=plate.name,
        required=plate.required,
        has_kit=bool(plate.body_id and plate.mode_id and plate.lens_id),
        cards=plate.card_count,
        takes=plate.take_count,
        circled=plate.circled_count,
    )


def hazards_of(plates: Any) -> dict[str, list[str]]:
    """Hazard key -> names of the plates that bring it."""
    found: dict[str, list[str]] = defaultdict(list)
    for plate in plates:
        bare = CorePlate(
            id="",
            name=plate.name,
            kind=plate.kind,
            hazards=tuple(plate.hazards),
            recipe_hazards=tuple(recipe_hazards(plate)),
        )
        for hazard in cautions_for(bare):
            found[hazard.key].append(plate.name)
    return dict(found)


def seen_of(shot: Shot) -> continuity.Seen:
    """A shot as continuity sees it."""
    return continuity.Seen(
        id=str(shot.pk),
        name=f"shot {shot.number}",
        place=shot.place,
        time_of_day=shot.time_of_day,
        camera_bearing_deg=shot.camera_bearing_deg,
        key_from_deg=shot.key_from_deg,
        key_elevation_deg=shot.key_elevation_deg,
        light_note=shot.light_note,
    )


@dataclass
class Loaded:
    """A production's breakdown: shots, their hours by the table, pace, threads."""

    production: Production
    shots: list[Shot]
    raw: dict[uuid.UUID, effort.ShotEffort]
    set_pace: effort.Pace
    post_pace: effort.Pace
    threads: list[Thread] = field(default_factory=list)
    kept: list[KeptThread] = field(default_factory=list)

    def effort_of(self, shot: Shot) -> effort.ShotEffort:
        """The shot's hours at the production's own pace."""
        return effort.paced(self.raw[shot.pk], self.set_pace.factor, self.post_pace.factor)

    def continuity_of(self, shot: Shot) -> list[Any]:
        """Findings of threads and of the light side."""
        found = list(judged_threads(self, shot))
        side = continuity.judge_light_side(seen_of(shot), [seen_of(s) for s in self.shots])
        return found if side is None else [*found, side]


def judged_threads(loaded: Loaded, shot: Shot) -> tuple[Any, ...]:
    """Findings of the threads of one shot."""
    return continuity.judge_threads(
        seen_of(shot),
        [core_thread(t) for t in loaded.threads],
        [
            continuity.Kept(
                str(k.thread_id), str(k.shot_id), str(k.plate_id) if k.plate_id else None, k.excuse
            )
            for k in loaded.kept
        ],
    )


def core_thread(thread: Thread) -> continuity.Thread:
    """A stored thread (shots prefetched) as the core reads it."""
    return continuity.Thread(
        str(thread.pk),
        thread.name,
        thread.kind,
        frozenset(thread.places),
        frozenset(str(s.pk) for s in thread.shots.all()),
    )


def load_breakdown(production: Production) -> Loaded:
    """Everything, in a number of queries that does not grow with the shots."""
    shots = list(full_shots(production))
    raw = {s.pk: effort.shot_effort([job_of(p, s) for p in s.plates.all()]) for s in shots}
    pairs: dict[str, list[tuple[float, float]]] = {"set": [], "post": []}
    for shot in shots:
        for entry in shot.logged_hours.all():
            guess = guessed(raw[shot.pk], entry)
            if guess is not None:
                pairs[entry.phase].append((guess, entry.hours))
    return Loaded(
        production,
        shots,
        raw,
        effort.pace("set", pairs["set"]),
        effort.pace("post", pairs["post"]),
        list(Thread.objects.filter(production=production).prefetch_related("shots")),
        list(KeptThread.objects.filter(thread__production=production)),
    )


def guessed(found: effort.ShotEffort, entry: LoggedHours) -> float | None:
    """What the table says of the piece that hours were logged for."""
    wanted = str(entry.plate_id) if entry.plate_id else ""
    part = next((p for p in found.parts if p.id == wanted), None)
    return None if part is None else getattr(part, entry.phase).likely
