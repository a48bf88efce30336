"""Whatever is planned is answered, and every remedy of a trick gives the verdict it promises."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace
from typing import get_args

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.core.lockoff.group import LOCKED
from jungoptic.core.lockoff.joins import judge_joins
from jungoptic.core.plan import Move, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import Beat, Crowd, DividerKey, Filmed, Markers, Rig, RigKind, Throw
from jungoptic.core.report.tricks import tricks
from jungoptic.core.stage.case import Case

from .twins import ANNA, BETH, LEFT, UPRIGHT, case_of, changed, joined, twins

PART = st.floats(-0.2, 1.2)
POINTS = st.lists(st.tuples(PART, PART), min_size=2, max_size=4).map(tuple)
KEYS = st.lists(
    st.builds(DividerKey, st.integers(1, 150), POINTS),
    min_size=1,
    max_size=3,
    unique_by=lambda k: k.frame,
).map(tuple)
LAMP = StandIn("lamp", "Lantern", "box", 0.0, 3.0, 0.9, 0.2, 0.3, 0.2, plate_id="left")


def figures(draw) -> tuple[StandIn, ...]:
    found = []
    for one in (ANNA, BETH):
        found.append(
            replace(
                one,
                x_m=draw(st.floats(-2, 2)),
                y_m=draw(st.floats(1.0, 6.0)),
                reach_m=draw(st.sampled_from([0.0, 0.3, 0.8])),
                speed_m_s=draw(st.sampled_from([0.0, 0.0, 0.4])),
                course_deg=draw(st.sampled_from([90.0, 270.0, 0.0])),
            )
        )
    lamp = replace(
        LAMP,
        x_m=draw(st.floats(-1, 1)),
        y_m=draw(st.floats(0.6, 6.0)),
        z_m=draw(st.sampled_from([0.0, 0.9])),
        speed_m_s=draw(st.sampled_from([0.0, 0.5])),
    )
    return (*found, lamp)


@st.composite
def shots(draw) -> Shot:
    """A kitchen with everything in it that a trick may ask for."""
    throw = None
    if draw(st.booleans()):
        at = st.floats(-1.5, 1.5)
        frames = draw(st.integers(1, 40))
        throw = Throw(draw(at), 2.5, 1.2, draw(at), 2.5, 1.1, draw(st.integers(1, 60)), frames)
    split = replace(
        UPRIGHT,
        keys=draw(KEYS),
        feather_px=draw(st.floats(0, 80)),
        upright=draw(st.booleans()),
        shine_m=draw(st.sampled_from([None, 0.7])),
        throw=throw,
    )
    lit = draw(st.booleans())
    beats = tuple(
        Beat(
            name,
            f"Beat {name}",
            draw(st.integers(1, 160)),
            draw(st.sampled_from(["left", "right", None])),
            draw(st.sampled_from([None, "a", "b", "c"])),
            draw(st.integers(-10, 30)),
            draw(st.integers(0, 3)),
        )
        for name in "abc"[: draw(st.integers(0, 3))]
    )
    found = twins(
        *figures(draw),
        splits=(split,),
        beats=beats,
        move=draw(st.sampled_from([Move(), Move(right_m=0.5), Move(pan_deg=6.0)])),
        key_from_deg=60.0 if lit else None,
        key_elevation_deg=35.0 if lit else None,
    )
    rig = Rig(
        "lamp",
        draw(st.sampled_from(get_args(RigKind))),
        draw(st.floats(0.05, 3.0)),
        draw(st.sampled_from([None, 0.3, 2.0])),
        draw(st.sampled_from([None, 2.0, 20.0])),
        draw(st.sampled_from(["plain", "matched", "clear"])),
        shine_m=draw(st.sampled_from([None, 0.0, 0.75])),
    )
    crowd = Crowd(
        draw(st.integers(1, 9)), draw(st.integers(1, 30)), -3, 3, draw(st.floats(4, 9)), 12.0
    )
    markers = Markers("lamp", draw(st.booleans()), draw(st.floats(2, 60)), draw(st.floats(0.05, 1)))
    if draw(st.booleans()):
        day = datetime.date(2026, draw(st.integers(1, 12)), 21)
        for plate in ("left", "right", "clean"):
            takes = draw(st.integers(1, 8))
            found = changed(found, plate, room_id="yard", film_on=day, takes_planned=takes)
    return changed(
        found,
        "left",
        rig=rig,
        crowd=crowd,
        markers=markers,
        tracked=True,
        cut="roto",
        key_every=draw(st.integers(1, 30)),
        flop=draw(st.booleans()),
    )


def applied(found: Shot, plate: str, remedy) -> Shot:
    """The shot after a remedy, as the Bench would take it."""
    things = tuple(replace(s, **remedy.things.get(s.id, {})) for s in found.stand_ins)
    height = remedy.shot.get("camera_height_m")
    world = found.world if height is None else replace(found.world, height_m=height)
    rest = {k: v for k, v in remedy.shot.items() if k != "camera_height_m"}
    return changed(replace(found, stand_ins=things, world=world, **rest), plate, **remedy.changes)


@settings(max_examples=8, suppress_health_check=list(HealthCheck))
@given(shots())
def test_every_plate_is_answered_and_every_remedy_keeps_its_word(found):
    for plate in found.plates:
        case = Case.of(found, plate)
        assert case is not None
        for finding in judge_joins(case):
            for remedy in finding.remedies:
                if not (remedy.changes or remedy.shot or remedy.things):
                    continue
                tried = replace(case_of(applied(found, plate.id, remedy), plate.id))
                after = next((f for f in judge_joins(tried) if f.key == finding.key), None)
                got = Verdict.HOLDS if after is None else after.verdict
                assert got is remedy.verdict, (finding.key, remedy.sentence)
        told = tricks(case)
        for study in told.splits:
            for mark in study.marks:
                assert all(
                    math.isfinite(v)
                    for v in (mark.x_m, mark.y_m, mark.from_left_m, mark.from_right_m)
                )


@settings(max_examples=25, suppress_health_check=list(HealthCheck))
@given(
    st.dictionaries(
        st.sampled_from(["f_number", "iso", "shutter_deg", "white_k", "tilt_deg", "setback_m"]),
        st.floats(1, 80),
        max_size=4,
    )
)
def test_a_lock_off_is_always_found_again(values):
    """However one plate departs, taking everything over brings it back."""
    was = {name: getattr(LEFT, name) for name in LOCKED}
    found = changed(changed(twins(), "left", filmed=Filmed(1, "A-1", was)), "right", **values)
    finding = joined(found, "right")["lock"]
    if finding.verdict is Verdict.HOLDS:
        return
    (remedy,) = finding.remedies
    after = changed(found, "right", **remedy.changes)
    assert joined(after, "right")["lock"].verdict is Verdict.HOLDS
    assert case_of(after, "right").stage.camera == case_of(after, "left").stage.camera
