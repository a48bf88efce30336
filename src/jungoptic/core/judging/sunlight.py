"""Does the sun shine as the story's sun does, on the day of filming?"""

from __future__ import annotations

import datetime

from ..impossible import Impossible
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..sky.day import azimuth_amid, day_track, days_after, place_of, spans, zone_of
from ..sky.windows import TOLERANCE_DEG, light_windows, matching
from ..stage.case import Case
from ..words.quantities import degrees
from .limits import SUN_HOLDS_MIN, SUN_STRAINS_MIN
from .rule import Rule
from .way import Way

#: How many days ahead a better day is sought.
AHEAD_DAYS = 120


def judge_sunlight(case: Case) -> Finding | None:
    """Minutes on the plate's day in which the sun stands as high as the story's key; None for
    plates indoors, with lamps, without a day or a place."""
    shot, plate = case.shot, case.plate
    room = shot.kit.room(plate.room_id)
    if (
        room is None
        or not room.under_the_sun
        or plate.lamps
        or plate.film_on is None
        or plate.kind in ("still", "element")
        or shot.key_kind != "sun"
        or shot.key_elevation_deg is None
        or shot.key_elevation_deg <= 0.0
    ):
        return None
    try:
        zone, (latitude, longitude) = zone_of(room), place_of(room)
        track = day_track(room, plate.film_on)
    except Impossible as error:
        return RULE.finding(Verdict.STRAINS, f"{error}")
    good = matching(track, room, shot.key_elevation_deg, shot.key_from_deg, plate.heading_deg)
    found = spans(track.times, good)
    minutes = sum(s.minutes for s in found)
    verdict = banded(-minutes, -SUN_HOLDS_MIN, -SUN_STRAINS_MIN)
    day = f"{plate.film_on:%-d %B}"
    highest = float(track.elevation_deg.max())
    if found:
        parts = []
        for span in found:
            times = [
                datetime.datetime.fromtimestamp(t, zone).strftime("%H:%M")
                for t in (span.start, span.end)
            ]
            words = f"{times[0]} to {times[1]}"
            if plate.heading_deg is None and shot.key_from_deg is not None:
                heading = (azimuth_amid(track, span) - shot.key_from_deg) % 360.0
                words += f" with the camera to {heading:.0f}°"
            parts.append(words)
        sentence = (
            f"On {day} the sun of the {room.name} stands {degrees(shot.key_elevation_deg)} up from "
            + " and from ".join(parts)
            + f": {minutes:.0f} minutes, if it shines."
        )
    elif highest < shot.key_elevation_deg - TOLERANCE_DEG:
        sentence = (
            f"On {day} the sun of the {room.name} comes up to {degrees(highest)}; the story's "
            f"stands {degrees(shot.key_elevation_deg)} up."
        )
    else:
        sentence = (
            f"On {day} the sun never stands {degrees(shot.key_elevation_deg)} up on the side that "
            f"this camera needs, clear of the skyline of the {room.name}."
        )
    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="minutes with |sun's elevation − story's| ≤ 3°, above the skyline",
                inputs=(
                    Quantity("e", "story's key, elevation", shot.key_elevation_deg, "°"),
                    Quantity("φ", "latitude", latitude, "°"),
                    Quantity("λ", "longitude", longitude, "°"),
                    Quantity("max", "highest on that day", highest, "°"),
                ),
                result=Quantity("t", "minutes that match", minutes, "min"),
                source="NREL SPA (Reda & Andreas, NREL/TP-560-34302); tolerance and limits are "
                "judgement.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    shot, plate = case.shot, case.plate
    room = shot.kit.room(plate.room_id)
    if room is None or plate.film_on is None or shot.key_elevation_deg is None:
        return []
    ways: list[Way] = []
    if plate.heading_deg is not None:
        ways.append(Way("Let model and camera turn to the sun.", {"heading_deg": None}))
    try:
        windows = light_windows(
            room,
            days_after(plate.film_on, 1),
            AHEAD_DAYS,
            shot.key_elevation_deg,
            shot.key_from_deg,
            plate.heading_deg,
        )
    except Impossible:
        # Past the last year that the sun is told for.
        return ways
    zone = zone_of(room)
    minutes: dict[datetime.date, float] = {}
    for window in windows.found:
        date = datetime.datetime.fromtimestamp(window.start, zone).date()
        minutes[date] = minutes.get(date, 0.0) + window.minutes
    later = next((d for d, m in minutes.items() if m >= SUN_HOLDS_MIN), None)
    if later is not None:
        ways.append(
            Way(f"Film it on {later:%-d %B %Y}, the next day that suits.", {"film_on": later})
        )
    ways.append(
        Way(
            "Film it in the shade or under cloud and light it with a lamp of the sun's angle.",
            effect=windows.fails[0] if windows.fails else "",
            promises=Verdict.STRAINS,
            last=True,
        )
    )
    return ways


RULE = Rule(
    key="sun",
    title="Sun",
    name="sun",
    speak=judge_sunlight,
    ways=_ways,
    otherwise="Another day or another place: see its windows.",
)
