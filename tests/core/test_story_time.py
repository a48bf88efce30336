"""The story's time: slowed, sped up, on a ramp. By its own arithmetic, by the same shot in real
time, and by what is known of cameras."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from jungoptic.core.impossible import Impossible
from jungoptic.core.lockoff.beats import beat_sheet
from jungoptic.core.lockoff.throw import G, flight
from jungoptic.core.plan import Move
from jungoptic.core.plan.checked import check_shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.story_time import StoryTime
from jungoptic.core.plan.tricks import Beat, RampKey, Throw
from jungoptic.core.remedies.standing import standing
from jungoptic.core.stage.in_frame import in_story
from jungoptic.core.stage.motion import image_motion

from .examples import ANSA, MILL
from .stages import case_of, findings, one
from .twins import UPRIGHT, changed, joined, twins
from .twins import case_of as twin_case

KEYS = st.lists(st.builds(RampKey, st.integers(1, 120), st.floats(0.05, 8)), max_size=5)
WALKER = StandIn("walker", "Walker", "figure", -1.0, 6.0, 0.0, 0.5, 1.75, plate_id="ansa",
                 speed_m_s=1.2, course_deg=90.0)  # fmt: skip


class TestClock:
    @given(st.floats(0.2, 20), st.floats(0.05, 8), KEYS, st.floats(0, 1))
    def test_it_adds_up_the_speeds(self, seconds, speed, keys, part):
        """Against SciPy's integral of the speed over the screen time."""
        frames = max(round(seconds * 24), 1)
        time = StoryTime(seconds, frames, speed, tuple(keys))
        begins = sorted({0.0, *((k.frame - 1) / max(frames - 1, 1) for k in keys)})

        def now(at: float) -> float:
            found = speed
            for key in sorted(keys, key=lambda k: k.frame):
                if (key.frame - 1) / max(frames - 1, 1) <= at:
                    found = key.speed
            return found

        inner = [b for b in begins if 0.0 < b < part] or None
        want, _ = quad(now, 0.0, part, points=inner, limit=200)
        if frames > 1:
            assert time.after(part) == pytest.approx(want * seconds, rel=1e-6, abs=1e-9)
            assert time.slowest <= time.speed_at(1) <= time.fastest

    @given(st.floats(0.2, 20), st.lists(st.floats(0, 1), min_size=1, max_size=9))
    def test_real_time_is_the_screens(self, seconds, parts):
        time = StoryTime(seconds, round(seconds * 24))
        assert time.real
        assert (time.at(np.array(parts)) == np.array(parts) * seconds).all()

    def test_speeds_that_make_no_sense_are_refused_by_name(self):
        with pytest.raises(Impossible) as told:
            check_shot(one(MILL, story_speed=0.0))
        assert told.value.field == "story_speed"
        with pytest.raises(Impossible):
            check_shot(one(MILL, story_speed_keys=(RampKey(3, -1.0),)))


class TestWhatIsSeen:
    @given(st.sampled_from([0.25, 0.5, 2.0, 3.0]))
    def test_slowed_it_is_the_shorter_story_over_more_frames(self, speed):
        """The same way through the picture as in real time, over the time the story takes."""
        slowed = one(ANSA, stand_ins=(WALKER,), screen_time_s=4.0, story_speed=speed)
        real = replace(slowed, screen_time_s=4.0 * speed, story_speed=1.0)
        a, b = in_story(slowed), in_story(real)
        for of in ("left_px", "right_px", "near_m"):
            ends = [getattr(x, of)[0, [0, -1]] for x in (a, b)]
            assert np.allclose(ends[0], ends[1], equal_nan=True)
        steps = [image_motion(x, x.plates[0]).fastest.step_px for x in (slowed, real)]
        assert steps[0] == pytest.approx(speed * steps[1], rel=0.05)

    def test_the_camera_moves_in_the_time_of_the_screen(self):
        push = one(ANSA, stand_ins=(WALKER,), move=Move(away_m=1.0), story_speed=0.5)
        path = in_story(push).path.positions_m
        assert path[-1][1] - path[0][1] == pytest.approx(1.0)


class TestRate:
    @pytest.mark.parametrize(
        ("speed", "needed", "on_set"),
        [(1.0, 24.0, 4.0), (0.5, 48.0, 2.0), (0.25, 96.0, 1.0), (2.0, 12.0, 8.0)],
    )
    def test_slow_motion_is_filmed_faster(self, speed, needed, on_set):
        """Common practice: half speed at 24 a second is filmed at 48, and takes half as long."""
        stage = case_of(one(ANSA, screen_time_s=4.0, story_speed=speed)).stage
        assert stage.needed_fps == pytest.approx(needed)
        assert stage.set_duration_s == pytest.approx(on_set)

    def test_a_scaled_fall_multiplies_with_it(self):
        case = case_of(one(MILL, plate_motion="gravity", story_speed=0.5, screen_time_s=4.0))
        # sqrt(12) for the scale, twice for the story; two seconds of it by sqrt(12).
        assert case.stage.needed_fps == pytest.approx(24.0 * 12**0.5 * 2.0)
        assert case.stage.set_duration_s == pytest.approx(2.0 / 12**0.5)

    def test_what_is_pulled_on_a_model_is_pulled_slower(self):
        case = case_of(one(MILL, plate_motion="powered", story_speed=0.5, screen_time_s=4.0))
        assert case.stage.needed_fps == 24.0
        assert case.stage.set_duration_s == pytest.approx(4.0)

    def test_a_clean_plate_is_rolled_as_what_moves_in_its_lock_off(self):
        slow = replace(twins(), story_speed=0.5)
        rates = {p.id: twin_case(slow, p.id).stage.capture_fps for p in slow.plates}
        assert rates == {"left": 48.0, "right": 48.0, "clean": 48.0}
        assert joined(slow, "clean")["lock"].verdict is Verdict.HOLDS
        # A rate of its own is nobody's movement too fast.
        odd = changed(twins(), "clean", capture_fps=30.0)
        rate = next(f for f in standing(odd, odd.plates[2]).findings if f.key == "rate")
        assert rate.verdict is Verdict.HOLDS
        assert "nothing moves" in rate.sentence

    def test_intended_slow_motion_is_no_mistake(self):
        slow = one(ANSA, plate_capture_fps=48.0, story_speed=0.5)
        assert findings(slow)["rate"].verdict is Verdict.HOLDS
        assert "slowed to 50 %" in findings(slow)["rate"].sentence
        real = replace(slow, story_speed=1.0)
        assert findings(real)["rate"].verdict is Verdict.BREAKS
        missed = one(ANSA, plate_capture_fps=24.0, story_speed=0.5)
        assert "2.00 times too fast" in findings(missed)["rate"].sentence

    @given(st.floats(0.1, 1.0), st.floats(0.1, 1.0))
    def test_a_ramp_asks_for_its_slowest_and_takes_the_whole_story(self, first, then):
        shot = one(
            ANSA, screen_time_s=4.0, story_speed=first, story_speed_keys=(RampKey(49, then),)
        )
        stage = case_of(shot).stage
        assert stage.needed_fps == pytest.approx(24.0 / min(first, then))
        frames = shot.frames
        turn = 48 / (frames - 1)
        assert stage.set_duration_s == pytest.approx(4.0 * (first * turn + then * (1 - turn)))

    def test_faster_parts_of_a_ramp_smear_less_and_seem_to_jump(self):
        """What is filmed at 48 and shown at full speed is every second frame: half of the smear, so
        a gap between steps (kinematics)."""
        walk = replace(WALKER, speed_m_s=6.0, y_m=4.0, width_m=0.1)
        even = one(ANSA, stand_ins=(walk,), screen_time_s=2.0)
        ramped = replace(even, story_speed_keys=(RampKey(30, 0.5),))
        told = [findings(x)["step"] for x in (even, ramped)]
        blurs = [f.workings[0].inputs[1].value for f in told]
        assert blurs[1] == pytest.approx(blurs[0] / 2.0, rel=0.1)


class TestTricks:
    def test_a_slowed_throw_falls_as_slowly_as_it_is_shown(self):
        throw = Throw(-0.5, 3.0, 1.2, 0.5, 3.0, 1.2, frame=10, frames=24)
        split = replace(UPRIGHT, throw=throw)
        real, slow = (
            flight(replace(twins(splits=(split,)), story_speed=s), split) for s in (1.0, 0.5)
        )
        assert (real.seconds, slow.seconds) == (pytest.approx(1.0), pytest.approx(0.5))
        # Free fall: it rises g t^2 / 8 over the hands.
        assert slow.apex_m - 1.2 == pytest.approx(G * 0.25 / 8.0)
        assert real.apex_m - 1.2 == pytest.approx(G / 8.0)
        assert slow.apex_frame == real.apex_frame == 22

    def test_beats_are_recorded_in_the_storys_time(self):
        shot = replace(twins(), beats=(Beat("b", "Turns", 49, "left", cue=True),))
        half = beat_sheet(replace(shot, story_speed=0.5))
        (line,) = half.beats
        # Two seconds on the screen are one of the story; filmed at 48, its forty-eighth frame on.
        assert line.set_s == pytest.approx(1.0)
        assert line.recorded_frame == pytest.approx(49.0)
        # Lips fit when the sound is played twice as fast (common practice).
        assert half.cues[0].speed == pytest.approx(2.0)
        ramp = beat_sheet(replace(shot, story_speed_keys=(RampKey(25, 0.5),)))
        (line,) = ramp.beats
        # A second of it in real time and one at half speed: a second and a half.
        assert line.set_s == pytest.approx(1.5)
