"""What must recur from shot to shot: threads, and the side the light comes from."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ..angles import angle_between_deg
from ..judging.limits import NEAR_TO_DEG, SAME_TO_DEG
from ..plan.findings import Finding, Quantity, Verdict, Working, banded


@dataclass(frozen=True)
class Thread:
    """Something that must recur: attached to places or to single shots by id."""

    id: str
    name: str
    kind: str
    places: frozenset[str]
    shot_ids: frozenset[str]


@dataclass(frozen=True)
class Kept:
    """A thread that a shot (or one plate of it) takes care of; `excuse` says why it may be
    missing instead."""

    thread_id: str
    shot_id: str
    plate_id: str | None = None
    excuse: str = ""


@dataclass(frozen=True)
class Seen:
    """What continuity needs to know of a shot. Directions in degrees.

    `camera_bearing_deg`: which way the camera looks in the place, clockwise from the place's
    north. `key_from_deg`: where the key comes from seen from the camera, 0 ahead (back light), 90
    from the right, 180 from behind the camera. `light_note` explains a deliberate difference.
    """

    id: str
    name: str
    place: str = ""
    time_of_day: str = ""
    camera_bearing_deg: float | None = None
    key_from_deg: float | None = None
    key_elevation_deg: float | None = None
    light_note: str = ""

    @property
    def key_bearing_deg(self) -> float | None:
        """Where in the world the key comes from, clockwise from north, 0 to 360."""
        if self.camera_bearing_deg is None or self.key_from_deg is None:
            return None
        return (self.camera_bearing_deg + self.key_from_deg) % 360.0


def belongs(thread: Thread, shot: Seen) -> bool:
    """Whether the thread must be kept in the shot."""
    return shot.id in thread.shot_ids or (bool(shot.place) and shot.place in thread.places)


def judge_threads(
    shot: Seen, threads: Sequence[Thread], kept: Sequence[Kept]
) -> tuple[Finding, ...]:
    """One finding per thread that belongs to the shot: kept, excused, or lacking."""
    answers = []
    for thread in threads:
        if not belongs(thread, shot):
            continue
        mine = [k for k in kept if k.thread_id == thread.id and k.shot_id == shot.id]
        excuse = next((k.excuse for k in mine if k.excuse), "")
        if excuse:
            verdict, sentence = Verdict.HOLDS, f"{thread.name} may be missing here: {excuse}"
        elif mine:
            plates = sum(k.plate_id is not None for k in mine)
            where = f"in {plates} plate{'s' if plates > 1 else ''}" if plates else "in this shot"
            verdict, sentence = Verdict.HOLDS, f"{thread.name} is kept {where}."
        else:
            verdict = Verdict.STRAINS
            sentence = f"{thread.name} is in no plate of this shot yet; say which one shows it."
        answers.append(Finding(f"thread:{thread.id}", thread.name, verdict, sentence))
    return tuple(answers)


def lit_apart(shots: Sequence[Seen]) -> list[Seen]:
    """Of shots of one place and time those that `judge_light_side` needs to hear of, in order: of
    many that are lit from the same side two, so that each of these still has another."""
    count: Counter[tuple[float | None, float | None]] = Counter()
    found = []
    for shot in shots:
        side = shot.key_bearing_deg, shot.key_elevation_deg
        count[side] += 1
        if side[0] is not None and count[side] <= 2:
            found.append(shot)
    return found


def judge_light_side(shot: Seen, others: Sequence[Seen]) -> Finding | None:
    """Whether the key comes from where it comes from in the other shots of this place and time.

    None when nothing can be compared. The shot is held against the one it disagrees with most.
    """
    mine = shot.key_bearing_deg
    if mine is None or not shot.place:
        return None
    rivals = [
        (other, bearing)
        for other in others
        if other.id != shot.id
        and other.place == shot.place
        and other.time_of_day == shot.time_of_day
        and (bearing := other.key_bearing_deg) is not None
    ]
    if not rivals:
        return None
    height = shot.key_elevation_deg or 0.0

    def off(rival: tuple[Seen, float]) -> float:
        other, bearing = rival
        known = shot.key_elevation_deg is not None and other.key_elevation_deg is not None
        mine_up, its_up = (height, other.key_elevation_deg or 0.0) if known else (0.0, 0.0)
        return angle_between_deg(mine, mine_up, bearing, its_up)

    worst = max(rivals, key=off)
    apart = off(worst)
    verdict = banded(apart, SAME_TO_DEG, NEAR_TO_DEG)
    other, bearing = worst
    sentence = (
        f"The key comes from {mine:.0f}° here and from {bearing:.0f}° in {other.name}, the same "
        f"place{' at ' + shot.time_of_day if shot.time_of_day else ''}: {apart:.0f}° apart."
    )
    explained = shot.light_note or other.light_note
    if verdict is not Verdict.HOLDS and explained:
        verdict, sentence = Verdict.HOLDS, f"{sentence} Explained: {explained}"
    return Finding(
        key="light-side",
        title="Light side",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="camera bearing + key seen from the camera; angle between the two "
                "directions",
                inputs=(
                    Quantity("B", "camera bearing", shot.camera_bearing_deg or 0.0, "°"),
                    Quantity("k", "key from, seen from the camera", shot.key_from_deg or 0.0, "°"),
                    Quantity("e", "key elevation", height, "°"),
                ),
                result=Quantity("a", "apart", apart, "°"),
                source="Spherical law of cosines; the limits of 20° and 45° are judgement.",
            ),
        ),
    )
