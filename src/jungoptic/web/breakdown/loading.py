"""A whole production as the Board needs it, in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, cast

from django.db.models import BooleanField, Count, ExpressionWrapper, Prefetch, Q

from jungoptic.core.breakdown import continuity
from jungoptic.core.breakdown.progress import PlateState
from jungoptic.core.cards.hazards import cautions_for
from jungoptic.core.cost import effort, pace
from jungoptic.core.cost.shapes import shapes_of
from jungoptic.core.cost.work import Cut, Work
from jungoptic.core.counting import frames_in
from jungoptic.core.frames.lapse import lasts_s
from jungoptic.core.frames.timing import pictures_asked
from jungoptic.core.plan import Plate as CorePlate
from jungoptic.core.plan import PlateKind
from jungoptic.core.plan.findings import Finding
from jungoptic.core.plan.tricks import Edge

from ..frames.sheets import fields_in
from ..plans.bridge import to_cue
from ..plans.lockoffs import first_shots, names_in
from ..plans.models import Plate, RecipeUse, Shot, StandIn
from ..plans.stored import recipe_hazards
from ..plans.views import seconds_of
from ..productions.models import Production
from .models import KeptThread, LoggedHours, Thread

#: Cautions that every set has; they ask for no reading of their own on the Board.
USUAL = {"lamps", "stands"}


#: What of a shot, its plates and its things is shown of many shots at once. Most of the time that
#: it takes to read them goes into what is read and never looked at.
OF_A_SHOT = (
    *("production_id", "revision", "number", "title", "action", "place", "position", "created_at"),
    *("screen_time_s", "playback_fps", "time_of_day", "camera_bearing_deg", "light_note"),
    *("key_from_deg", "key_elevation_deg", "edit_name", "variant_of_id", "views"),
)
OF_A_PLATE = (
    *("shot_id", "name", "kind", "position", "created_at", "body_id", "mode_id", "lens_id"),
    *("room_id", "hazards", "cue", "more_cues", "use_id", "pass_key", "why", "required"),
    *("lock_group", "film_on", "cut", "shapes", "key_every", "keying", "paint_share", "tracked"),
    *("takes_planned", "hold", "edge", "view_id", "pass_for"),
)
#: Whether a shot's first camera moves: then every frame of it is a picture.
MOVES = ExpressionWrapper(
    ~Q(move_right_m=0, move_away_m=0, move_up_m=0, move_pan_deg=0, move_tilt_deg=0),
    output_field=BooleanField(),
)
OF_A_THING = ("shot_id", "plate_id", "kind", "matters", "speed_m_s", "reach_m", "created_at")


def full_shots(shots: Any, *more: Any, whole: bool = False) -> list[Shot]:
    """The shots of a queryset with everything that the Board shows of them, in a fixed number of
    queries: recipes, plates in order with the counts of their cards and takes, the rest, and what
    `more` prefetches. `whole`: with all that their plans hold."""
    circled = Q(cards__takes__circled=True)
    plates = Plate.objects.annotate(
        card_count=Count("cards", distinct=True),
        take_count=Count("cards__takes", distinct=True),
        circled_count=Count("cards__takes", filter=circled, distinct=True),
        # Counting drops the order that the model has by itself.
    ).order_by("position", "created_at", "id")
    things = StandIn.objects.all()
    shots = shots.annotate(camera_moves=MOVES)
    if not whole:
        shots, plates = shots.only(*OF_A_SHOT), plates.only(*OF_A_PLATE)
        things = things.only(*OF_A_THING)
    found = list(
        shots.prefetch_related(
            Prefetch("plates", plates),
            Prefetch("recipe_uses", RecipeUse.objects.defer("written")),
            "sketches",
            Prefetch("stand_ins", things),
            "logged_hours",
            "read_cautions",
            "sheets",
            *more,
        )
    )
    for shot in found:
        # A recipe's text is long: read once for the shot, not once more for each of its plates.
        uses = {use.pk: use for use in shot.recipe_uses.all()}
        for plate in shot.plates.all():
            plate.use = uses.get(plate.use_id)
    return found


def job_of(plate: Plate, shot: Any) -> effort.Job:
    """A plate of a shot from `full_shots` as work: by its exposure sheet where it has one."""
    return effort.Job(
        **_by_sheet(plate, shot),
        id=str(plate.pk),
        name=plate.name,
        kind=cast(PlateKind, plate.kind),
        work=Work(
            cast(Cut, plate.cut),
            plate.shapes or shapes_of(s for s in shot.stand_ins.all() if s.plate_id == plate.pk),
            plate.paint_share,
            plate.tracked,
            plate.takes_planned,
        ),
        seconds=seconds_of(shot, plate),
        fps=shot.playback_fps,
        lock=plate.lock_group,
        key_every=plate.key_every,
        keying=cast(effort.Keying, plate.keying),
        hold=plate.hold,
        again=plate.pass_for != "",
        edge=cast(Edge, plate.edge),
    )


def _by_sheet(plate: Plate, shot: Any) -> dict[str, Any]:
    """What the exposure sheet of a plate says of its hours."""
    stored = next((s for s in shot.sheets.all() if s.plate_id == plate.pk), None)
    if stored is None:
        return {}
    sheet = fields_in(stored).core()
    frames = frames_in(seconds_of(shot, plate), shot.playback_fps)
    pictures = pictures_asked(sheet, frames, shot.camera_moves and plate.view_id is None)
    lapse = None if sheet.lapse is None else lasts_s(sheet.lapse, frames)
    return {"pictures": pictures, "lapse_s": lapse}


def state_of(plate: Any) -> PlateState:
    """How far a plate from `full_shots` is."""
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
            cue=to_cue(plate.cue or next(iter(plate.more_cues), None)),
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
    set_pace: pace.Pace
    post_pace: pace.Pace
    threads: list[Thread] = field(default_factory=list)
    kept: list[KeptThread] = field(default_factory=list)
    #: By lock-off the shot that sets it up, and its number.
    set_up: dict[str, tuple[uuid.UUID, str]] = field(default_factory=dict)

    def stands_for(self, plate: Plate) -> str:
        """The number of the shot whose set-up a plate of another is filmed from; else nothing."""
        pk, number = self.set_up.get(plate.lock_group, (plate.shot_id, ""))
        return "" if pk == plate.shot_id else number

    def effort_of(self, shot: Shot) -> effort.ShotEffort:
        """The shot's hours at the production's own pace."""
        return pace.paced(self.raw[shot.pk], self.set_pace.factor, self.post_pace.factor)

    def hours_of(self, shot: Shot) -> tuple[effort.Hours, effort.Hours]:
        """The shot's hours on set and in post at the production's own pace, without their lines."""
        raw = self.raw[shot.pk]
        return raw.set.times(self.set_pace.factor), raw.post.times(self.post_pace.factor)

    @cached_property
    def seen(self) -> dict[uuid.UUID, continuity.Seen]:
        """Every shot as continuity sees it."""
        return {s.pk: seen_of(s) for s in self.shots}

    @cached_property
    def _neighbours(self) -> dict[tuple[str, str], list[continuity.Seen]]:
        """The shots of each place and time of day: only they can disagree about the light."""
        found: dict[tuple[str, str], list[continuity.Seen]] = defaultdict(list)
        for seen in self.seen.values():
            found[seen.place, seen.time_of_day].append(seen)
        return {where: continuity.lit_apart(there) for where, there in found.items()}

    @cached_property
    def _core_threads(self) -> list[continuity.Thread]:
        return [core_thread(t) for t in self.threads]

    @cached_property
    def _core_kept(self) -> list[continuity.Kept]:
        return [
            continuity.Kept(
                str(k.thread_id), str(k.shot_id), str(k.plate_id) if k.plate_id else None, k.excuse
            )
            for k in self.kept
        ]

    def threads_of(self, shot: Shot) -> tuple[Finding, ...]:
        """Findings of the threads of one shot."""
        return continuity.judge_threads(self.seen[shot.pk], self._core_threads, self._core_kept)

    def light_of(self, shot: Shot) -> Finding | None:
        """The finding of the light side of one shot."""
        seen = self.seen[shot.pk]
        return continuity.judge_light_side(seen, self._neighbours[seen.place, seen.time_of_day])

    def belonging(self, shot: Shot) -> list[str]:
        """Ids of the threads that a shot must keep."""
        seen = self.seen[shot.pk]
        return [t.id for t in self._core_threads if continuity.belongs(t, seen)]

    def continuity_of(self, shot: Shot) -> list[Finding]:
        """Findings of threads and of the light side."""
        side = self.light_of(shot)
        return [*self.threads_of(shot), *([] if side is None else [side])]


def core_thread(thread: Thread) -> continuity.Thread:
    """A stored thread (shots prefetched) as the core reads it."""
    return continuity.Thread(
        str(thread.pk),
        thread.name,
        thread.kind,
        frozenset(thread.places),
        frozenset(str(s.pk) for s in thread.shots.all()),
    )


def load_breakdown(production: Production, only: uuid.UUID | None = None) -> Loaded:
    """Everything, in a number of queries that does not grow with the shots. `only` one shot, where
    that is asked about: then also those that have hours logged, which the pace comes from."""
    rows = Shot.objects.filter(production=production)
    if only is not None:
        logged = LoggedHours.objects.filter(shot__production=production).values("shot_id")
        rows = rows.filter(Q(pk=only) | Q(pk__in=logged))
    shots = full_shots(rows)
    first = first_shots(production.pk, names_in(shots))
    raw = {s.pk: _effort(s, _standing(s, first)) for s in shots}
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
        pace.pace("set", pairs["set"]),
        pace.pace("post", pairs["post"]),
        list(Thread.objects.filter(production=production).prefetch_related("shots")),
        list(KeptThread.objects.filter(thread__production=production)),
        first,
    )


def _standing(shot: Shot, first: dict[str, tuple[uuid.UUID, str]]) -> set[str]:
    """The lock-offs of a shot that another one sets up."""
    names = {plate.lock_group for plate in shot.plates.all()} & first.keys()
    return {name for name in names if first[name][0] != shot.pk}


def _effort(shot: Shot, standing: Collection[str]) -> effort.ShotEffort:
    """The hours of a shot by the table, where other shots set some of its lock-offs up."""
    return effort.shot_effort([job_of(p, shot) for p in shot.plates.all()], standing=standing)


def guessed(found: effort.ShotEffort, entry: LoggedHours) -> float | None:
    """What the table says of the piece that hours were logged for."""
    wanted = str(entry.plate_id) if entry.plate_id else ""
    part = next((p for p in found.parts if p.id == wanted), None)
    return None if part is None else getattr(part, entry.phase).likely
