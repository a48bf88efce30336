"""A take against the takes it must join: the other passes of its lock-off, and the halves it is
split against. Both are held against each other as they were filmed, not as they were planned."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .. import exposure
from ..angles import angle_between_deg
from ..impossible import Impossible
from ..judging.limits import DRIFT_STRAINS_TO, TAKE_STOPS_HOLD, TAKE_STOPS_STRAIN
from ..lockoff.days import sun_room_of
from ..lockoff.drift import LEVEL_STOPS, TURN_DEG
from ..lockoff.order import drift_limit
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.kit import Room
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..sky.daylight import ground_lux
from ..sky.track import sun_track
from ..stage.case import Case
from ..words import quantities as say
from .takes import Planned, Taken, as_taken, planned_numbers

#: Focus of two takes that look alike, as a part of the distance (judgement: about what two people
#: read off the same tape).
FOCUS_APART = 0.02
#: A camera so many times farther off than what is not seen is beyond mending.
OFF_STRAINS_TO = 4.0


@dataclass(frozen=True)
class FilmedTake:
    """A take with the plan that its card was issued with. `called`: plate and slate; `at`: seconds
    since 1970 UTC, None where that is not known; `lock`: what its lock-off is called by now, None:
    as on its card."""

    called: str
    shot: Shot
    plate: Plate
    taken: Taken
    at: float | None = None
    lock: str | None = None

    @property
    def lock_off(self) -> str:
        """What its lock-off is called; nothing without one."""
        return self.plate.lock_group if self.lock is None else self.lock


@dataclass(frozen=True)
class _Both:
    """Both takes as cases, and what the plan of the first allows between them."""

    mine: Case
    theirs: Case
    my_plan: Planned
    their_plan: Planned
    limit_px: float
    limit_stops: float


def joined_at(shot: Shot, plate_id: str, other_id: str) -> bool:
    """Whether two plates are split against each other."""
    pair = {plate_id, other_id}
    return any({s.first_id, s.second_id} == pair for s in shot.splits)


def belong(mine: FilmedTake, theirs: FilmedTake) -> bool:
    """Whether two takes must join."""
    same = mine.lock_off and mine.lock_off == theirs.lock_off
    return bool(same) or joined_at(mine.shot, mine.plate.id, theirs.plate.id)


def judge_partner(mine: FilmedTake, theirs: FilmedTake) -> Finding | None:
    """What keeps a take from joining another; None where they need not join, or a plan lacks kit.
    Raises Impossible for readings that are."""
    both = _both(mine, theirs)
    if both is None:
        return None
    parts = [
        part
        for part in (
            _camera(both),
            _focus(both),
            _light(both, mine.taken, theirs.taken),
            _rate(both, mine.taken, theirs.taken),
            _sun(mine, theirs),
        )
        if part is not None
    ]
    verdict = max((v for v, _, _ in parts), key=lambda v: v.rank, default=Verdict.HOLDS)
    said = [words for v, words, _ in parts if v is not Verdict.HOLDS]
    sentence = (
        f"{'; '.join(said)}." if said else "All that they share agrees within what is not seen."
    )
    return Finding(
        key=f"partner-{theirs.plate.id}",
        title=f"Beside {theirs.called}",
        verdict=verdict,
        sentence=sentence[0].upper() + sentence[1:],
        workings=tuple(working for _, _, working in parts),
    )


_Part = tuple[Verdict, str, Working]


def _both(mine: FilmedTake, theirs: FilmedTake) -> _Both | None:
    if not belong(mine, theirs):
        return None
    cases = [Case.of(take.shot, take.plate) for take in (mine, theirs)]
    if cases[0] is None or cases[1] is None:
        return None
    first, second = cases[0], cases[1]
    plans = planned_numbers(first), planned_numbers(second)
    split = next(
        (
            s
            for s in first.shot.splits
            if {s.first_id, s.second_id} == {mine.plate.id, theirs.plate.id}
        ),
        None,
    )
    px, stops = first.shot.base_tolerance_px, TAKE_STOPS_HOLD
    if split is not None:
        limit = drift_limit(first, split, None)
        px, stops = limit.px, limit.light_stops
    return _Both(
        as_taken(first, plans[0], mine.taken),
        as_taken(second, plans[1], theirs.taken),
        *plans,
        px,
        stops,
    )


def _camera(both: _Both) -> _Part | None:
    """How far the same points lie apart in both pictures; None where post mirrors one of them."""
    mine, theirs = both.mine, both.theirs
    if mine.shot.flopped != theirs.shot.flopped:
        return None
    points = mine.compared
    there = points.through(mine.shot, theirs.plate, theirs.stage.camera)
    plain, fitted = mine.compared.apart(there, mine.stage_pixels)
    if math.isnan(plain.max_px):
        return None
    verdict = banded(plain.max_px, both.limit_px, both.limit_px * OFF_STRAINS_TO)
    words = f"the camera stood elsewhere: {say.pixels(plain.max_px)} apart at most"
    if verdict is Verdict.BREAKS and fitted.max_px <= both.limit_px:
        verdict = Verdict.STRAINS
    if verdict is not Verdict.HOLDS:
        words += (
            f", {say.pixels(fitted.max_px)} after a reframe, where {say.pixels(both.limit_px)} pass"
        )
    return (
        verdict,
        words,
        Working(
            "largest |this take − the other|, the same points through both cameras as filmed",
            (
                Quantity("limit", "not seen", both.limit_px, "px"),
                Quantity("fit", "after the best reframe", fitted.max_px, "px"),
            ),
            Quantity("d", "apart", plain.max_px, "px"),
            "Pinhole projection; the limit is the plan's.",
        ),
    )


def _focus(both: _Both) -> _Part | None:
    if "focus" in (both.mine.plate.pass_for, both.theirs.plate.pass_for):
        return None
    a, b = both.mine.stage.focus_m, both.theirs.stage.focus_m
    if math.isinf(a) or math.isinf(b):
        apart = 0.0 if a == b else math.inf
    else:
        apart = abs(a - b) / max(a, b)
    focus = [("infinity" if math.isinf(x) else say.length(x)) for x in (a, b)]
    return (
        Verdict.HOLDS if apart <= FOCUS_APART else Verdict.STRAINS,
        f"focus at {focus[0]} here and {focus[1]} there: what both show is not as sharp",
        Working(
            "|a − b| / the farther",
            (Quantity("limit", "looks alike", FOCUS_APART, ""),),
            Quantity("d", "focus apart", apart, ""),
            "Reading of a tape (judgement).",
        ),
    )


def _light(both: _Both, mine: Taken, theirs: Taken) -> _Part | None:
    if "light" in (both.mine.plate.pass_for, both.theirs.plate.pass_for):
        return None
    a, b = both.theirs, both.mine
    change = exposure.exposure_change_stops(
        a.stage.light_stop,
        theirs.exposure_s or both.their_plan.exposure_s,
        theirs.iso or both.their_plan.iso,
        b.stage.light_stop,
        mine.exposure_s or both.my_plan.exposure_s,
        mine.iso or both.my_plan.iso,
    )
    return (
        banded(abs(change), both.limit_stops, TAKE_STOPS_STRAIN),
        f"exposed {say.stops(change)} {'brighter' if change > 0 else 'darker'} than the other",
        Working(
            "log2( (t ISO / T²) here / (t ISO / T²) there )",
            (Quantity("limit", "not seen", both.limit_stops, "stops"),),
            Quantity("Δ", "apart", change, "stops"),
            "Reciprocity of stop, time and ISO (ISO 2720).",
        ),
    )


def _rate(both: _Both, mine: Taken, theirs: Taken) -> _Part | None:
    """Different rates move differently; a still picture does not move."""
    if "still" in (both.mine.plate.motion, both.theirs.plate.motion):
        return None
    a = mine.capture_fps or both.my_plan.capture_fps
    b = theirs.capture_fps or both.their_plan.capture_fps
    apart = abs(math.log2(a / b))
    return (
        banded(apart, 0.001, 0.03),
        f"filmed at {say.rate(a)} here and {say.rate(b)} there",
        Working(
            "|log2(a / b)|",
            (Quantity("a", "here", a, "fps"), Quantity("b", "there", b, "fps")),
            Quantity("d", "rates apart", apart, ""),
            "Common practice: both halves at one rate.",
        ),
    )


def _sun(mine: FilmedTake, theirs: FilmedTake) -> _Part | None:
    """How far the sun has gone between two takes in the open air."""
    rooms = [sun_room_of(take.shot, take.plate) for take in (mine, theirs)]
    room: Room | None = rooms[0]
    if room is None or rooms[1] is None or mine.at is None or theirs.at is None:
        return None
    assert room.latitude_deg is not None
    assert room.longitude_deg is not None
    try:
        track = sun_track(np.array([mine.at, theirs.at]), room.latitude_deg, room.longitude_deg)
    except Impossible:
        return None
    stood = zip(track.azimuth_deg.tolist(), track.elevation_deg.tolist(), strict=True)
    turned = angle_between_deg(*next(stood), *next(stood))
    lux = np.maximum(ground_lux(track.elevation_deg), 1e-6)
    stops = abs(math.log2(float(lux[0] / lux[1])))
    minutes = abs(mine.at - theirs.at) / 60.0
    share = max(turned / TURN_DEG, stops / LEVEL_STOPS)
    later = f"{minutes:.0f} min" if minutes < 600 else f"{minutes / 1440:.1f} days"
    return (
        banded(share, 1.0, DRIFT_STRAINS_TO),
        f"{later} apart: the sun has turned {say.degrees(turned)} and the light on the ground "
        f"changed by {say.stops(stops)}",
        Working(
            "the larger of turn / 2° and change / 0.1 stop",
            (
                Quantity("a", "sun turned", turned, "°"),
                Quantity("l", "light on level ground", stops, "stops"),
                Quantity("t", "between them", minutes, "min"),
            ),
            Quantity("s", "of what passes", share, ""),
            "NREL SPA; clear sky; 2° and 0.1 stop are judgement.",
        ),
    )
