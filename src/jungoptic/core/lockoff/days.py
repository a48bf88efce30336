"""Is one lock-off filmed on one day?"""

from __future__ import annotations

import datetime
from dataclasses import dataclass, replace

import numpy as np

from ..angles import towards
from ..impossible import Impossible
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.kit import Room
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..sky.day import day_track
from ..sky.horizon import shines
from ..stage.case import Case
from ..words.quantities import degrees
from .drift import TURN_DEG
from .group import beside_of, group_of


@dataclass(frozen=True)
class DaysApart:
    """A pass that is filmed on another day than the first of its lock-off. `sun_deg`: how near the
    sun comes to where it stood at the best time of its day; None without sun. `clock_min`: how much
    earlier (below 0) or later it does."""

    name: str
    day: datetime.date
    first: str
    first_day: datetime.date
    sun_deg: float | None
    clock_min: float

    @property
    def verdict(self) -> Verdict:
        """Nights between strain a lock-off; a sun that never comes back breaks it."""
        gone = self.sun_deg is not None and self.sun_deg > TURN_DEG
        return Verdict.BREAKS if gone else Verdict.STRAINS

    @property
    def sentence(self) -> str:
        """What that means for the lock-off."""
        nights = abs((self.day - self.first_day).days)
        said = (
            f"{self.name} is filmed on {self.day:%-d %B}, {self.first} on {self.first_day:%-d %B}: "
            f"the lock-off has to stand untouched for {nights} "
            f"{'night' if nights == 1 else 'nights'}."
        )
        if self.sun_deg is None:
            return said
        if self.sun_deg > TURN_DEG:
            return (
                f"{said} The sun then comes no nearer than {degrees(self.sun_deg)} to where it "
                "stood: its shadows do not join."
            )
        shift = round(self.clock_min)
        when = (
            "at the same time of day"
            if abs(shift) < 1
            else f"{abs(shift)} min {'later' if shift > 0 else 'earlier'} by the clock"
        )
        return (
            f"{said} The sun comes within {degrees(self.sun_deg)} of where it stood {when}, if the "
            "sky is as clear."
        )


def days_apart(
    name: str,
    day: datetime.date,
    first: str,
    first_day: datetime.date,
    sun_room: Room | None,
) -> DaysApart | None:
    """What it means that a pass is filmed on another day than the first; None on the same day.
    `sun_room`: where the sun lights them, None under lamps or indoors."""
    if day == first_day:
        return None
    bare = DaysApart(name, day, first, first_day, None, 0.0)
    if sun_room is None:
        return bare
    try:
        then, now = day_track(sun_room, first_day), day_track(sun_room, day)
    except Impossible:
        return bare
    shining = np.flatnonzero(shines(sun_room.horizon, then.azimuth_deg, then.elevation_deg))
    if not len(shining):
        return bare
    middle = int(shining[len(shining) // 2])
    before = towards(then.azimuth_deg, then.elevation_deg)[middle]
    apart = towards(now.azimuth_deg, now.elevation_deg) @ before
    nearest = int(apart.argmax())
    return replace(
        bare,
        sun_deg=float(np.degrees(np.arccos(min(float(apart[nearest]), 1.0)))),
        clock_min=float(nearest - middle),
    )


def sun_room(room: Room | None, key_kind: str, lamps: bool) -> Room | None:
    """A room where the sun lights what is filmed; None indoors, under lamps, or where the place is
    not known."""
    if room is None or not room.under_the_sun or key_kind == "lamp" or lamps:
        return None
    return room


def sun_room_of(shot: Shot, plate: Plate) -> Room | None:
    """The same of a plate."""
    return sun_room(shot.kit.room(plate.room_id), shot.key_kind, bool(plate.lamps))


def first_dated(shot: Shot, plate: Plate) -> tuple[str, datetime.date] | None:
    """What a plate's day is held against, with its day: the first pass of its lock-off here that
    has one; for that one itself, what another shot films from the same set-up. None without."""
    lead = next((p for p in group_of(shot, plate) if p.film_on is not None), None)
    if lead is not None and lead.film_on is not None and lead.id != plate.id:
        return lead.name, lead.film_on
    others = beside_of(shot, plate)
    return next(((b.called, b.plate.film_on) for b in others if b.plate.film_on is not None), None)


def judge_days(case: Case) -> Finding | None:
    """Whether a pass is filmed on the day of its lock-off; None without days, or on that day."""
    shot, plate = case.shot, case.plate
    first = first_dated(shot, plate)
    if first is None or plate.film_on is None:
        return None
    found = days_apart(plate.name, plate.film_on, *first, sun_room_of(shot, plate))
    if found is None:
        return None
    workings: tuple[Working, ...] = ()
    if found.sun_deg is not None:
        workings = (
            Working(
                formula="angle between the sun in the middle of the first day's shining and the "
                "sun at any minute of the other day, least",
                inputs=(Quantity("limit", "a shadow is seen to have moved", TURN_DEG, "°"),),
                result=Quantity("a", "nearest", found.sun_deg, "°"),
                source="NREL SPA; the limit is judgement.",
            ),
        )
    return RULE.finding(found.verdict, found.sentence, workings)


def _ways(case: Case) -> list[Way]:
    first = first_dated(case.shot, case.plate)
    if first is None:
        return []
    name, day = first
    return [Way(f"Film it on {day:%-d %B %Y}, with {name}.", {"film_on": day}, alone=True)]


RULE = Rule(
    key="days",
    title="Days of the lock-off",
    name="days of the lock-off",
    speak=judge_days,
    ways=_ways,
    of_shot=True,
    quiet=True,
    otherwise="All its passes on one day.",
)
