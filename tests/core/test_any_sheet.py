"""Whatever is put on a sheet of whatever shot is answered, in numbers that are numbers."""

from __future__ import annotations

import math
import typing
from dataclasses import replace

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.core.frames.gcode import program
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.frames.strip import strip
from jungoptic.core.plan.kit import MoveRig, RigAxis
from jungoptic.core.plan.sheet import Column, CurvePoint, Leg, Mark, Sheet
from jungoptic.core.plan.views import seen_from_own

from .any_shot import any_shots

AXES = typing.get_args(RigAxis)


@st.composite
def sheets(draw: st.DrawFn, things: tuple[str, ...], frames: int) -> Sheet:
    """A sheet with anything on it, some of it after the end of the shot."""
    columns = []
    for number in range(draw(st.integers(0, 4))):
        kind = draw(st.sampled_from(["part", "piece", "axis", "axis", "words", "note"]))
        marks = st.builds(
            Mark, st.integers(1, frames + 9), st.sampled_from(["", "a"]), st.integers(0, 4)
        )
        curve = st.builds(CurvePoint, st.sampled_from([0.2, 0.5]), st.floats(-2.0, 3.0))
        legs = st.builds(
            Leg,
            st.integers(1, frames + 5),
            st.integers(1, 60),
            st.floats(-5000.0, 5000.0),
            st.sampled_from(["even", "in", "out", "both"]),
            st.integers(0, 9),
            st.lists(curve, max_size=2, unique_by=lambda p: p.at).map(tuple),
        )
        columns.append(
            Column(
                f"c{number}",
                "A column",
                kind,
                tuple(draw(st.lists(marks, max_size=4))),
                axis=draw(st.sampled_from(AXES)),
                rig_id=draw(st.sampled_from([None, *AXES])),
                legs=tuple(draw(st.lists(legs, max_size=3))),
                follows=draw(st.booleans()),
                thing_id=draw(st.sampled_from([None, "gone", *things])),
                arm_mm=draw(st.sampled_from([None, 80.0])),
            )
        )
    return Sheet(tuple(columns))


@settings(max_examples=120, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.data())
def test_any_sheet_of_any_shot_is_answered(data):
    shot = data.draw(any_shots())
    rigs = tuple(
        MoveRig(axis, axis, axis, 2.0, 8, 400.0, backlash=0.6, per_s=30.0) for axis in AXES
    )
    shot = replace(shot, kit=replace(shot.kit, rigs=rigs))
    plate = data.draw(st.sampled_from(shot.plates))
    own = seen_from_own(shot, plate)
    sheet = data.draw(sheets(tuple(s.id for s in own.stand_ins_of(plate)), own.frames))
    found = sheet_report(own, plate, sheet)
    assert found.taken[0] == 1
    assert sum(n * count for n, count in found.holds.items()) == own.frames
    for step in found.steps:
        numbers = (step.away_m, step.width_px, step.step_px, step.jolt_px, step.off_px)
        assert all(math.isfinite(v) and v >= 0.0 for v in (*numbers, step.rough_px))
        assert 1 <= step.frame <= own.frames
        assert 1 <= step.jolt_frame <= own.frames
    for finding in found.findings:
        assert "nan" not in finding.sentence
        assert "inf" not in finding.sentence
    for column in found.columns:
        assert all(1 <= frame <= own.frames for frame in column.changed)
        if column.moved is not None:
            chart = column.moved.chart
            assert len(chart.wanted) == len(chart.reached) == own.frames
            assert chart.axis == (chart.rig.axis if chart.rig else chart.axis)
            assert program(chart, "move", 24.0, real_time=True).endswith("M2\n")
            places = [float(v) for v in chart.reached]
            assert strip(places).pieces
