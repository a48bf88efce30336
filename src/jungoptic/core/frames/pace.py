"""How far the work has come, how fast it goes, and when it will be done."""

from __future__ import annotations

import datetime
import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import median

from ..impossible import Impossible
from ..plan.sheet import Worked

#: Pictures an hour until it is measured: 2.5 s of film at 24 a second on ones (common practice: 2
#: to 3 s); and hours at the table on a day (judgement).
USUAL_PICTURES_H, USUAL_DAY_H = 2.5 * 24.0, 6.0


#: Whoever takes no picture for so long has gone from the table (judgement), seconds.
AWAY_S = 1200.0


@dataclass(frozen=True)
class Sitting:
    """What a camera tells of a day at the table: pictures `first` to `last` of the film, counted
    from 1, were taken in so many hours."""

    day: datetime.date
    first: int
    last: int
    hours: float


def sittings(times: Sequence[datetime.datetime]) -> list[Sitting]:
    """Days at the table by when each picture of a film was taken, in the film's order; pictures on
    end are one sitting. What lies longer than `AWAY_S` between two pictures is no work, and what
    was done before a day's first picture took as long as the usual one."""
    by_day: dict[datetime.date, list[int]] = {}
    for number, when in enumerate(times, start=1):
        by_day.setdefault(when.date(), []).append(number)
    found = []
    for day, numbers in sorted(by_day.items()):
        order = sorted(times[n - 1] for n in numbers)
        gaps = [(b - a).total_seconds() for a, b in pairwise(order)]
        worked = [gap for gap in gaps if gap <= AWAY_S]
        usual = median(worked) if worked else 3600.0 / USUAL_PICTURES_H
        each = (sum(worked) + usual * (len(numbers) - len(worked))) / len(numbers)
        begun = numbers[0]
        for n, after in pairwise([*numbers, 0]):
            if after != n + 1:
                hours = max(each * (n - begun + 1) / 3600.0, 1e-6)
                found.append(Sitting(day, begun, n, hours))
                begun = after
    return found


def worked_by(sat: Sequence[Sitting], taken: Sequence[int], frames: int) -> list[Worked]:
    """Sittings as days of a sheet of `frames` frames, whose pictures are taken at the frames
    `taken`; pictures beyond its last count as none of it."""
    found = []
    for one in sat:
        if one.first > len(taken):
            continue
        last = min(one.last, len(taken))
        end = taken[last] - 1 if last < len(taken) else frames
        # What was taken beyond the end took its time too, and none of it is of this sheet.
        part = (last - one.first + 1) / (one.last - one.first + 1)
        found.append(Worked(one.day, taken[one.first - 1], end, one.hours * part))
    return found


@dataclass(frozen=True)
class Progress:
    """How far a sheet has come. `made`: frames that stand; `pictures_left`: still to take;
    `pictures_per_h`: measured or (not `measured`) the usual, and `film_s_per_h` the same in seconds
    of this film; `days_left` at the hours of a usual day of this sheet; `done_on`: the day it will
    be done if the days come as they have so far, None before the first."""

    made: int
    frames_left: int
    pictures_left: int
    pictures_per_h: float
    film_s_per_h: float
    measured: bool
    hours_left: float
    days_left: int
    done_on: datetime.date | None


def progress(
    worked: Sequence[Worked],
    frames: int,
    fps: float,
    taken: Sequence[int],
    today: datetime.date | None = None,
) -> Progress:
    """How far the days worked have brought a sheet of `frames` frames, whose pictures are taken at
    the frames `taken`. A frame made twice counts once as made, and each time as work. `today`: no
    day to come is before it.

    Raises Impossible for a day of no hours, or one that ends before it begins.
    """
    for day in worked:
        if day.last < day.first or day.first < 1:
            raise Impossible("The first frame made comes before the last.", "worked")
        if not day.hours > 0.0:
            raise Impossible("A day at the table has some hours.", "worked")
    made = {f for day in worked for f in range(day.first, min(day.last, frames) + 1)}
    left = sum(frame not in made for frame in taken)
    spent = sum(day.hours for day in worked)
    took = sum(day.first <= frame <= day.last for day in worked for frame in taken)
    pace = took / spent if took else USUAL_PICTURES_H
    days = sorted({day.day for day in worked})
    per_day = spent / len(days) if days else USUAL_DAY_H
    hours_left = left / pace
    days_left = math.ceil(hours_left / per_day - 1e-9)
    done_on = None
    if days:
        apart = (days[-1] - days[0]).days / (len(days) - 1) if len(days) > 1 else 1.0
        ahead = min(round(days_left * apart), 36_500)
        done_on = days[-1]
        if left:
            done_on = max(days[-1], today or days[-1]) + datetime.timedelta(days=ahead)
    return Progress(
        made=len(made),
        frames_left=frames - len(made),
        pictures_left=left,
        pictures_per_h=pace,
        film_s_per_h=pace * frames / (len(taken) * fps) if taken else 0.0,
        measured=bool(took),
        hours_left=hours_left,
        days_left=days_left,
        done_on=done_on,
    )
