"""Everything that the Lock-off room shows of one plate and its shot: computed, nothing stored."""

from __future__ import annotations

from dataclasses import dataclass

from ..lockoff.beats import BeatSheet, beat_sheet
from ..lockoff.checklist import CheckItem, drift_of, lock_items
from ..lockoff.clean import CleanPlan, clean_plan
from ..lockoff.crowd.study import CrowdPlan, crowd_plan
from ..lockoff.drift import SunDrift
from ..lockoff.flop import Handed, handed
from ..lockoff.group import LOCKED, LockGroup, lock_groups
from ..lockoff.order import DriftLimit, PassOf, drift_limit, passes_of
from ..lockoff.reframe import ReframePlan, reframe_plan
from ..lockoff.rigs.seen import RigSeen, rigs_of
from ..lockoff.rigs.spin import Spin, spin
from ..lockoff.roto import RotoPlan, roto_plan
from ..lockoff.strips import FloorMark, Nearness, crossings, floor_marks, side_of, strip
from ..lockoff.throw import Flight, flight
from ..lockoff.tracked import MarkerPlan, marker_plan
from ..plan.mirrored import as_told
from ..stage.case import Case


@dataclass(frozen=True)
class SplitStudy:
    """One split as this plate's stage has it. `strip`: (distance, left, right), stage metres."""

    split_id: str
    side: str
    crossings: tuple[Nearness, ...]
    strip: tuple[tuple[float, float, float], ...]
    marks: tuple[FloorMark, ...]
    passes: tuple[PassOf, ...]
    limit: DriftLimit
    flight: Flight | None


@dataclass(frozen=True)
class Tricks:
    """What is known of one plate's tricks and of its shot's."""

    plate_id: str
    locked: tuple[str, ...]
    groups: tuple[LockGroup, ...]
    checklist: tuple[CheckItem, ...]
    drift: SunDrift | None
    clean: CleanPlan
    splits: tuple[SplitStudy, ...]
    handed: tuple[Handed, ...]
    crowd: CrowdPlan | None
    rigs: tuple[RigSeen, ...]
    spin: Spin | None
    reframe: ReframePlan | None
    roto: RotoPlan | None
    markers: MarkerPlan | None
    beats: BeatSheet | None


def tricks(case: Case) -> Tricks:
    """All of it for the plate of a case. Raises Impossible, with a sentence, for decisions that
    make no sense."""
    shot, plate = case.shot, case.plate
    told = as_told(shot)
    drift = drift_of(case)
    room = shot.kit.room(plate.room_id)
    rig = plate.rig
    return Tricks(
        plate_id=plate.id,
        locked=tuple(LOCKED),
        groups=lock_groups(shot),
        checklist=lock_items(case),
        drift=drift,
        clean=clean_plan(case, room is not None and room.under_the_sun and not plate.lamps),
        # A divider runs through the story's picture, not through what is laid into it.
        splits=()
        if shot.placing is not None
        else tuple(split_study(case, s.id) for s in told.splits),
        handed=handed(told, plate) if plate.flop else (),
        crowd=crowd_plan(case),
        rigs=() if rig is None else rigs_of(case, rig),
        spin=None
        if rig is None or rig.turns_per_s <= 0
        else spin(rig.turns_per_s, case.stage.capture_fps, shot.delivery.fps),
        reframe=reframe_plan(told),
        roto=roto_plan(case),
        markers=marker_plan(case),
        beats=beat_sheet(told),
    )


def split_study(case: Case, split_id: str) -> SplitStudy:
    """One split on the stage of a case, whichever side its plate is on, or on neither."""
    own = next(s for s in case.shot.splits if s.id == split_id)
    told = as_told(case.shot)
    as_drawn = next(s for s in told.splits if s.id == split_id)
    side = side_of(as_drawn, case.plate.id)
    drawn = strip(case, own)
    return SplitStudy(
        split_id,
        "" if side is None else "first" if side else "second",
        crossings(case, own),
        tuple((s.y_m, s.left_m, s.right_m) for s in drawn),
        floor_marks(case, own),
        passes_of(case, as_drawn) if as_drawn.keys else (),
        drift_limit(case, as_drawn, drift_of(case)),
        flight(told, as_drawn),
    )
