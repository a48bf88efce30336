"""Camera moves, movement in the picture, and what a shutter makes of it."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.camera import Camera
from jungoptic.core.judging.flicker import pulse_error, safe_angle
from jungoptic.core.judging.move import walk
from jungoptic.core.judging.rolling_shutter import lean_deg
from jungoptic.core.moves import eased
from jungoptic.core.plan import Move
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.in_frame import frame_at, in_story
from jungoptic.core.stage.motion import image_motion
from jungoptic.core.stage.tolerance import allowed

from .examples import ANSA, MILL, STAND_INS, shot
from .stages import TRACK, case_of, findings, one

EASES = ("even", "in", "out", "both")


class TestEase:
    @pytest.mark.parametrize("ease", EASES)
    def test_begins_at_nothing_ends_at_all_and_never_turns_back(self, ease):
        way = [eased(t, ease) for t in np.linspace(0, 1, 101)]
        assert way[0] == 0.0
        assert way[-1] == 1.0
        assert all(b >= a for a, b in pairwise(way))

    def test_from_rest_to_rest_is_at_half_way_at_half_time(self):
        # Symmetric polynomial ease: half the way at half the time, half as fast again there.
        assert eased(0.5, "both") == 0.5
        assert (eased(0.501, "both") - eased(0.499, "both")) / 0.002 == pytest.approx(1.5, rel=1e-3)


class TestMove:
    @given(
        st.floats(-3, 3),
        st.floats(-3, 3),
        st.floats(-1, 1),
        st.floats(-40, 40),
        st.floats(-20, 20),
        st.sampled_from(EASES),
        st.floats(1, 24),
    )
    @settings(max_examples=60)
    def test_all_frames_at_once_are_the_frames_one_by_one(
        self, right, away, up, pan, tilt, ease, scale
    ):
        move = Move(right, away, up, pan, tilt, ease)
        camera = Camera(24.9, 10.4, 32.0, (0.0, 0.0, 1.5 / scale), 5.0, 3.0, 2.0)
        points = np.array([(-1.0, 9.0, 0.0), (2.0, 15.0, 3.0), (0.0, 30.0, 7.0)]) / scale
        parts = np.linspace(0, 1, 7)
        many, _ = move.along(camera, parts, scale).project(points, 1920, 804)
        for part, pixels in zip(parts, many, strict=True):
            alone = move.moved(camera, float(part), scale).project(points, 1920, 804)
            np.testing.assert_allclose(pixels, alone, atol=1e-6)

    def test_a_moved_camera_sees_what_opencv_says(self):
        # OpenCV's projectPoints as the reference for pan, tilt and position at the end of a move.
        camera = Move(1.0, 2.0, 0.3, 12.0, -5.0).moved(Camera(24.9, 14.0, 32.0, (0, 0, 1.5)), 1.0)
        points = np.array([(0.5, 9.0, 0.4), (-2.0, 14.0, 2.0)])
        focal = 32.0 / 24.9 * 1920
        matrix = np.array([[focal, 0, 960], [0, 32.0 / 14.0 * 1080, 540], [0, 0, 1.0]])
        turn = cv2.Rodrigues(camera.axes)[0]
        shift = -camera.axes @ np.asarray(camera.position_m)
        want, _ = cv2.projectPoints(points, turn, shift, matrix, None)
        np.testing.assert_allclose(camera.project(points, 1920, 1080), want[:, 0], atol=1e-6)

    def test_the_move_on_stage_is_the_move_divided_by_the_scale(self):
        moving = one(MILL, move=Move(right_m=3.0, ease="even"), plate_drop_m=0.05)
        steps = walk(case_of(moving))
        assert steps.length_m == pytest.approx(3.0 / 12)
        assert len(steps.parts) == 144
        # Matched all along: every frame agrees with the world camera.
        assert steps.off_px.max() < 1e-6

    def test_the_worst_frame_is_named(self):
        # The axis stands 60 mm high on the stage: the nearer the camera gets, the more it shows.
        push = one(
            ANSA, move=Move(away_m=9.0, ease="even"), plate_axis_height_m=1.56, plate_ground_m=0.0
        )
        found = findings(push)["move"]
        assert found.verdict is not Verdict.HOLDS
        steps = walk(case_of(push))
        worst = frame_at(push, float(steps.parts[steps.off_px.argmax()]))
        assert worst > 72
        assert f"worst at frame {worst}: " in found.sentence

    def test_a_crane_down_below_the_floor_of_the_lens_breaks_at_its_end(self):
        down = one(MILL, move=Move(up_m=-0.8, ease="even"), plate_drop_m=0.03)
        found = findings(down)["move"]
        assert found.verdict is Verdict.BREAKS
        assert "at frame 144 the lens axis should be" in found.sentence

    def test_a_push_into_the_set_is_refused(self):
        into = one(MILL, move=Move(away_m=14.9, ease="even"), plate_drop_m=0.05)
        assert findings(into)["move"].verdict is Verdict.BREAKS
        assert "of the lens front" in findings(into)["move"].sentence

    def test_a_locked_camera_has_no_move_to_judge(self):
        assert "move" not in findings(one(MILL))

    def test_a_move_below_the_ground_is_said_in_a_sentence(self):
        with pytest.raises(ValueError, match="below the ground"):
            report(shot(move=Move(up_m=-2.0)))


class TestMotion:
    def test_a_slider_drifts_by_the_multiplane_rule(self):
        # f_px v / d: pinhole projection, the rule of multiplane cameras.
        moving = one(MILL, move=Move(right_m=1.2, ease="even"))
        motion = image_motion(moving, moving.plates[0])
        focal_px = 32.0 / 24.9 * 1920
        per_frame = 1.2 / moving.frames
        # The nearest of what is in frame goes fastest: the bridge, where the picture cuts it.
        assert motion.fastest is not None
        assert motion.fastest.stand_in.name == "Bridge"
        seen = in_story(moving)
        (bridge,) = seen.numbers([motion.fastest.stand_in])
        depth = float(np.nanmin(seen.near_m[bridge]))
        assert motion.fastest.step_px == pytest.approx(focal_px * per_frame / depth, rel=1e-3)

    def test_brute_force_over_the_frames_finds_the_same(self):
        walker = StandIn("w", "Walker", "figure", -2, 9, 0, 0.5, 1.7, 0, 0, "ansa", 1.4, 60.0)
        moving = one(ANSA, stand_ins=(walker,), move=Move(right_m=1.0, pan_deg=8.0))
        motion = image_motion(moving, moving.plates[0])
        camera = moving.world.camera(moving.delivery)
        steps = []
        for frame in range(moving.frames):
            pair = []
            for part in (frame, frame + 1):
                t = part / moving.frames
                now = walker.after(t * moving.screen_time_s)
                eyes = np.array([[now.x_m, now.y_m, 1.59]])
                pair.append(moving.move.moved(camera, t).project(eyes, 1920, 804)[0])
            steps.append(math.dist(*pair))
        # The core looks at as many moments, spread over the same time, and at all of the outline.
        assert motion.fastest is not None
        assert motion.fastest.step_px == pytest.approx(max(steps), rel=0.05)
        assert motion.slowest_px == pytest.approx(min(steps), rel=0.05)

    def test_what_stands_still_under_a_locked_camera_does_not_move(self):
        assert image_motion(one(MILL), MILL).still


class TestTolerance:
    def test_two_pixels_at_1920_for_a_still_and_serious_shot(self):
        assert allowed(one(MILL), image_motion(one(MILL), MILL)).px == 2.0

    def test_it_grows_with_the_blur_of_what_moves_least(self):
        moving = one(MILL, move=Move(right_m=40.0, ease="even"))
        found = allowed(moving, image_motion(moving, moving.plates[0]))
        assert found.px == pytest.approx(max(2.0, found.blur_px / 4))
        assert found.px > 2.0

    @pytest.mark.parametrize(("seconds", "times"), [(4.0, 1.0), (0.8, 1.25), (0.2, 2.0)])
    def test_it_grows_for_brief_shots(self, seconds, times):
        brief = one(MILL, screen_time_s=seconds)
        assert allowed(brief, image_motion(brief, MILL)).px == pytest.approx(2.0 * times)

    def test_a_stylised_shot_is_judged_more_kindly(self):
        high = {"plate_axis_height_m": 1.5 / 12 + 0.001}
        strict = findings(one(MILL, realism=3, **high))["mismatch"].verdict
        kind = findings(one(MILL, realism=1, **high))["mismatch"].verdict
        assert kind.rank <= strict.rank
        assert allowed(one(MILL, realism=1), image_motion(one(MILL), MILL)).px == 6.0

    def test_its_working_multiplies_out(self):
        moving = one(MILL, move=TRACK, screen_time_s=0.8, realism=2)
        found = allowed(moving, image_motion(moving, moving.plates[0]))
        values = {q.symbol: q.value for q in found.working.inputs}
        by_hand = max(values["T₀"], values["b"] / 4) * values["brevity"] * values["realism"]
        assert found.working.result.value == pytest.approx(by_hand)


RUNNER = replace(STAND_INS[3], speed_m_s=3.0, course_deg=90.0)


class TestShutter:
    def test_blur_is_speed_times_exposure(self):
        # A 180 degree shutter smears over half of the step (kinematics).
        found = findings(one(ANSA, stand_ins=(RUNNER,)))["blur"]
        values = {q.symbol: q.value for q in found.workings[0].inputs}
        assert values["b_w"] == pytest.approx(values["step"] / 2)
        assert found.verdict is Verdict.HOLDS

    def test_a_short_shutter_is_told_and_its_remedy_matches_the_world(self):
        found = findings(one(ANSA, stand_ins=(RUNNER,), plate_shutter_deg=45.0))["blur"]
        assert found.verdict is Verdict.BREAKS
        assert found.remedies[0].changes == {"shutter_deg": 180.0}

    def test_a_model_filmed_too_slowly_smears_more(self):
        falling = one(
            MILL,
            stand_ins=(replace(STAND_INS[0], speed_m_s=6.0),),
            plate_motion="gravity",
            plate_capture_fps=24.0,
        )
        values = {q.symbol: q.value for q in findings(falling)["blur"].workings[0].inputs}
        result = findings(falling)["blur"].workings[0].result.value
        assert result == pytest.approx(values["b_w"] * math.sqrt(12))

    def test_frames_taken_one_by_one_do_not_smear(self):
        puppet = one(MILL, stand_ins=(replace(STAND_INS[0], speed_m_s=6.0),), plate_kind="puppet")
        assert "one by one" in findings(puppet)["blur"].sentence

    def test_a_fast_narrow_thing_seems_to_jump(self):
        dart = StandIn("d", "Dart", "box", -2, 6, 1, 0.05, 0.05, 0.05, 0, "ansa", 12.0, 90.0)
        assert findings(one(ANSA, stand_ins=(dart,)))["step"].verdict is Verdict.STRAINS

    def test_rolling_readout_leans_by_readout_times_speed(self):
        slow = replace(one(ANSA, stand_ins=(RUNNER,)).kit.bodies[0].modes[0], readout_ms=20.0)
        base = one(ANSA, stand_ins=(RUNNER,))
        body = replace(base.kit.bodies[0], modes=(slow,))
        rolling = replace(base, kit=replace(base.kit, bodies=(body, *base.kit.bodies[1:])))
        case = case_of(rolling)
        assert case.motion.sideways is not None
        step = case.motion.sideways.step_px
        by_hand = math.degrees(math.atan(0.020 * case.stage.crop_down * step * 24 / 804))
        assert lean_deg(case) == pytest.approx(by_hand)
        # Half as high a sensor that takes as long: each of its rows waits twice as long for the
        # next, also where the picture is higher than the sensor.
        for part in (2.0, 8.0):
            low = replace(slow, sensor_height_mm=slow.sensor_height_mm / part)
            bodies = (replace(body, modes=(low,)), *base.kit.bodies[1:])
            lower = case_of(replace(base, kit=replace(base.kit, bodies=bodies)))
            assert lower.stage.crop_down == pytest.approx(part * case.stage.crop_down)
            leans = lean_deg(lower)
            assert leans is not None
            assert math.tan(math.radians(leans)) == pytest.approx(
                part * math.tan(math.radians(by_hand))
            )

    # Common practice: at 24 fps 172.8 degrees (1/50 s) is safe with 50 Hz mains, 144 degrees
    # (1/60 s) with 60 Hz; at 25 fps 180 degrees is safe with 50 Hz.
    @pytest.mark.parametrize(
        ("fps", "mains", "wanted", "angle"),
        [(24, 50, 180, 172.8), (24, 60, 150, 144.0), (25, 50, 180, 180.0), (30, 60, 180, 180.0)],
    )
    def test_angles_that_are_safe_with_mains(self, fps, mains, wanted, angle):
        assert safe_angle(fps, mains, wanted) == pytest.approx(angle)
        assert pulse_error(angle / 360 / fps, mains)[0] < 1e-9

    def test_too_fast_for_any_whole_pulse(self):
        assert safe_angle(120, 50, 180) is None


class TestPicturesOfAMoment:
    def test_the_picture_at_the_end_shows_the_camera_there(self):
        moving = one(ANSA, move=Move(right_m=1.0, ease="even"), stand_ins=(RUNNER,))
        start, end = (report(moving, at=at) for at in (0.0, 1.0))
        assert (start.frame, end.frame) == (1, moving.frames)
        camera = moving.move.moved(moving.world.camera(moving.delivery), 1.0)
        foot = RUNNER.after(moving.screen_time_s)
        want = camera.project(np.array([[foot.x_m, foot.y_m, foot.z_m]]), 1920, 804)[0]
        assert (end.grips[0].x_px, end.grips[0].y_px) == pytest.approx(tuple(want))
        assert end.plates[0].picture is not None
        assert end.plates[0].picture.outlines != start.plates[0].picture.outlines  # type: ignore[union-attr]

    def test_frames_are_counted_from_one(self):
        still = one(MILL, screen_time_s=1.0)
        assert [frame_at(still, p) for p in (0.0, 0.5, 1.0)] == [1, 13, 24]
