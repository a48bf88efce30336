"""What must be true of every plan: drawings are to scale, remedies do what they say, nothing that a
person may decide brings the computation down, and a scaled stage shows the same picture."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from jungoptic.core.cards.card import card_lines
from jungoptic.core.drawings.stage.above import plan
from jungoptic.core.drawings.stage.elevation import elevation
from jungoptic.core.judging import RULES, findings_of, judge_plate
from jungoptic.core.plan import Move, Plate, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.report.shot_report import plate_report, report, study
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.derive import floor_tape_m
from jungoptic.core.stage.rooms import room_fit

from .examples import ANSA, MILL, STAND_INS
from .stages import case_of, one, placed
from .test_planner import plans

MANY = settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])


def cased(shot: Shot) -> Case:
    """The case of the plan; examples that cannot be built are left out."""
    try:
        case = Case.of(shot, shot.plates[0])
    except ValueError:
        assume(False)
        raise
    assert case is not None
    return case


class TestDrawings:
    @given(plans())
    @MANY
    def test_every_dimension_measures_what_it_says(self, shot):
        case = cased(shot)
        for drawing in (elevation(case), plan(case)):
            for dim in drawing.dimensions:
                assert math.dist(dim.start, dim.end) == pytest.approx(dim.value_m, abs=1e-4)

    @given(plans())
    @MANY
    def test_everything_of_the_stage_lies_on_the_paper(self, shot):
        case = cased(shot)
        for drawing in (elevation(case), plan(case)):
            u0, v0, u1, v1 = drawing.bounds
            for shape in drawing.shapes:
                if shape.role in {"figure", "box", "card", "camera", "lens", "lamp", "screen"}:
                    for u, v in shape.points:
                        assert u0 <= u <= u1
                        assert v0 <= v <= v1
            if room_fit(case) is not None:
                assert drawing.room is not None
                assert drawing.room[0] <= u0
                assert drawing.room[2] >= u1

    def test_the_camera_is_drawn_to_size_on_its_support(self):
        case = case_of(one(MILL, plate_table_m=0.8, plate_drop_m=0.0))
        found = {s.role: s for s in elevation(case).shapes}
        front = max(u for u, _ in found["lens"].points)
        mark = sum(u for u, _ in found["mark"].points) / 2
        # The lens tilts up by 3 degrees, so its front corner lies a little before its axis.
        assert front - mark == pytest.approx(case.stage.sensor_to_front_m, abs=0.01)
        assert found["table"].closed
        legs = [s for s in elevation(case).shapes if s.role == "support"]
        assert min(v for s in legs for _, v in s.points) == pytest.approx(-0.8)

    def test_the_way_of_the_camera_is_its_move_divided_by_the_scale(self):
        case = case_of(one(MILL, move=Move(right_m=2.4, away_m=1.2, ease="even")))
        path = next(s for s in plan(case).shapes if s.role == "path")
        assert math.dist(path.points[0], path.points[-1]) == pytest.approx(
            math.hypot(2.4, 1.2) / 12, abs=1e-4
        )
        assert not [s for s in plan(case_of(one(MILL))).shapes if s.role == "path"]

    def test_lamps_can_be_told_apart_by_whoever_drags_them(self):
        case = case_of(one(MILL, plate_lamps=(placed(), placed(x=1.0))))
        for drawing in (elevation(case), plan(case)):
            assert [s.lamp for s in drawing.shapes if s.role == "lamp"] == [0, 1]
            assert {"lamp 1", "lamp 2"} <= {n.text for n in drawing.notes}

    def test_tapes_on_the_plan_carry_their_lengths(self):
        drawn = plan(case_of(one(MILL, plate_room_id="garage")))
        tapes = [s for s in drawn.shapes if s.role == "tape"]
        assert len(tapes) == 2
        texts = {n.text for n in drawn.notes}
        for tape in tapes:
            assert f"{math.dist(*tape.points):.3f} m" in texts


class TestRemedies:
    @given(plans())
    @settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])
    def test_what_a_remedy_promises_is_what_it_gives(self, shot):
        case = cased(shot)
        for finding in judge_plate(case):
            for remedy in finding.remedies:
                if not remedy.changes:
                    continue
                assert remedy.verdict.rank < finding.verdict.rank
                plate = replace(case.plate, **remedy.changes)
                tried = Case.of(replace(shot, plates=(plate,)), plate)
                assert tried is not None
                after = {f.key: f for f in findings_of(replace(tried))}
                given_up = after.get(finding.key)
                # A rule that has nothing to say any more holds.
                assert (given_up.verdict if given_up else Verdict.HOLDS) is remedy.verdict

    @given(plans())
    @MANY
    def test_every_finding_can_be_checked_by_hand(self, shot):
        for finding in findings_of(replace(cased(shot))):
            assert finding.sentence.endswith(".")
            assert "nan" not in finding.sentence
            for working in finding.workings:
                assert working.formula
                assert working.source.endswith(".")
                assert working.inputs

    def test_every_judge_speaks_under_a_key_of_its_own(self):
        shot = one(
            MILL,
            plate_room_id="garage",
            plate_lamps=(placed("tubes"),),
            plate_focus_passes=3,
            plate_f_number=4.0,
            move=Move(right_m=1.0),
            stand_ins=tuple(replace(s, speed_m_s=1.0) for s in STAND_INS),
        )
        keys = [f.key for f in judge_plate(case_of(shot))]
        assert len(keys) == len(set(keys)) <= len(RULES)
        assert {"passes", "flicker", "room", "move", "blur", "step", "light"} <= set(keys)


class TestReports:
    @given(plans(), st.floats(0, 1))
    @MANY
    def test_any_moment_of_any_plan_is_answered(self, shot, at):
        found = report(shot, at=at, selected=shot.plates[0].id)
        (one_plate,) = found.plates
        assert 1 <= found.frame <= shot.frames
        if one_plate.study is None:
            assert one_plate.findings[0].key == "impossible"
            return
        cover = one_plate.study.cover
        for share in (
            cover.bare,
            cover.bare_left,
            cover.bare_top,
            *(s.share for s in cover.surfaces),
        ):
            assert 0 <= share <= 1
        assert all(d.pixel_mm > 0 for d in one_plate.study.details)
        assert all(s.px_per_unit >= 0 for s in one_plate.study.sensitivities)

    @given(plans())
    @MANY
    def test_dragging_says_the_same_as_resting(self, shot):
        rest, drag = (report(shot, remedies=r).plates[0] for r in (True, False))
        assert [(f.key, f.verdict, f.sentence) for f in rest.findings] == [
            (f.key, f.verdict, f.sentence) for f in drag.findings
        ]
        assert rest.picture == drag.picture

    @given(st.floats(1.0, 60.0), st.sampled_from([MILL, ANSA]))
    @MANY
    def test_a_matched_stage_shows_the_same_picture_at_any_scale(self, scale, base):
        # Similar triangles: distances over S, the same angle of view.
        shot = one(base, plate_scale=scale, plate_drop_m=1.0)
        case = cased(shot)
        np.testing.assert_allclose(case.stage_pixels, case.compared.world_px, atol=1e-6)

    @given(st.floats(1.0, 40.0))
    @MANY
    def test_marks_are_the_world_divided_by_the_scale(self, scale):
        shot = one(MILL, plate_scale=scale, plate_drop_m=1.0)
        case = cased(shot)
        for mark in plate_report(shot, shot.plates[0]).marks:
            stand_in = next(s for s in shot.stand_ins if s.id == mark.stand_in_id)
            assert mark.aside_m == pytest.approx(stand_in.x_m / scale)
            assert mark.height_m == pytest.approx(stand_in.height_m / scale)
            assert mark.from_sensor_m == pytest.approx(
                floor_tape_m(case.stage, stand_in.y_m / scale)
            )
            assert mark.from_sensor_m - mark.from_front_m == pytest.approx(
                case.stage.sensor_to_front_m * math.cos(math.radians(3.0))
            )

    @given(st.floats(-60.0, 60.0), st.floats(-30.0, 30.0), st.floats(0.0, 0.5))
    @MANY
    def test_marks_of_a_panned_camera_are_told_from_a_line_that_can_be_taped(
        self, pan, tilt, setback
    ):
        shot = one(MILL, pan_deg=pan, tilt_deg=tilt, plate_setback_m=setback, plate_drop_m=1.0)
        case = cased(shot)
        # Where the sensor mark lies: behind the pupil along the lens axis.
        stage = case.stage
        pupil, ahead = np.array(stage.camera.position_m), stage.camera.axes[2]
        sensor = pupil - stage.sensor_to_pupil_m * ahead
        front = sensor + stage.sensor_to_front_m * ahead
        for mark in plate_report(shot, shot.plates[0]).marks:
            thing = next(s for s in shot.stand_ins if s.id == mark.stand_in_id)
            at = np.array([thing.x_m, thing.y_m]) / 12.0
            assert mark.aside_m == pytest.approx(at[0] - sensor[0], abs=1e-9)
            assert mark.from_sensor_m == pytest.approx(at[1] - sensor[1], abs=1e-9)
            assert mark.from_front_m == pytest.approx(at[1] - front[1], abs=1e-9)
        lines = {x.label: x for x in card_lines(case, plate_report(shot, shot.plates[0]))}
        assert ("Turned" in lines) == (abs(pan) >= 0.05)

    def test_a_plate_without_things_has_no_marks_and_no_trouble(self):
        empty = one(MILL, stand_ins=())
        found = plate_report(empty, empty.plates[0], selected=True)
        assert found.marks == ()
        assert found.study is not None
        assert found.study.details == ()
        assert study(case_of(empty)).cover.bare == 1.0

    def test_a_bare_plate_says_what_is_missing(self):
        bare = one(Plate("p", "P", "live"))
        (found,) = report(bare, selected="p").plates
        assert found.findings[0].key == "kit"
        assert found.rail is None
        assert found.study is None
