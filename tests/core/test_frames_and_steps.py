"""Frame by frame: increments of a move, play taken up, layers, paces, steps round a target."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import moves, stopmotion, timelapse
from jungoptic.core.camera import Camera
from jungoptic.core.impossible import Impossible

EASES = ("even", "in", "out", "both")
wholes = st.integers(1, 400)


class TestIncrements:
    def test_a_crank_turned_by_count(self):
        # Common practice: 1, 2, ... 10 turns a frame and back, 55 turns each way.
        up = [float(n) for n in range(1, 11)]
        assert moves.eased_increments(55, 10, "in", 10) == pytest.approx(up)
        assert moves.eased_increments(55, 10, "out", 10) == pytest.approx(up[::-1])
        assert moves.eased_increments(110, 20, "both", 10) == pytest.approx(up + up[::-1])

    def test_steady_between_the_ramps(self):
        got = moves.eased_increments(9, 8, "both", 3)
        assert got == pytest.approx([0.5, 1, 1.5, 1.5, 1.5, 1.5, 1, 0.5])
        assert moves.eased_increments(9, 3, "even", 2) == pytest.approx([3, 3, 3])

    @given(st.floats(-1e4, 1e4), wholes, st.sampled_from(EASES), st.integers(0, 100))
    def test_they_sum_to_the_distance(self, distance, frames, ease, ramp):
        got = moves.eased_increments(distance, frames, ease, ramp)
        assert len(got) == frames
        assert math.fsum(got) == pytest.approx(distance, rel=1e-12, abs=1e-12)
        # No frame goes back.
        assert all(part * math.copysign(1.0, distance) >= -1e-9 for part in got)

    @given(wholes, st.integers(0, 100))
    def test_out_is_in_the_other_way_round(self, frames, ramp):
        back = moves.eased_increments(1.0, frames, "out", ramp)[::-1]
        assert moves.eased_increments(1.0, frames, "in", ramp) == pytest.approx(back)
        both = moves.eased_increments(1.0, frames, "both", ramp)
        assert both == pytest.approx(both[::-1])

    @given(wholes, st.sampled_from(EASES))
    def test_without_a_ramp_they_add_up_to_the_curve(self, frames, ease):
        got = np.cumsum(moves.eased_increments(2.0, frames, ease))
        want = [2.0 * moves.eased((i + 1) / frames, ease) for i in range(frames)]
        assert got == pytest.approx(want)

    @pytest.mark.parametrize(
        ("values", "field"),
        [((1, 0, "in"), "frames"), ((1, 2.5, "in"), "frames"), ((math.nan, 2, "in"), "distance")],
    )
    def test_nonsense_is_named(self, values, field):
        with pytest.raises(ValueError, match=field):
            moves.eased_increments(*values)
        with pytest.raises(ValueError, match="ramp"):
            moves.eased_increments(1, 2, "in", -1)


class TestPlay:
    def test_it_is_taken_up_after_every_reversal(self):
        assert moves.take_up([3, 2, -1, -4, 0, -1, 2], 5) == [3, 2, -6, -4, 0, -1, 7]
        # Standing still is no reversal, and the first way is not one either.
        assert moves.take_up([0, -2, 0, -2], 5) == [0, -2, 0, -2]
        assert moves.take_up([], 5) == []

    @given(st.lists(st.integers(-50, 50), max_size=60), st.integers(0, 20))
    def test_a_rig_with_that_play_ends_where_it_should(self, steps, play):
        """The rig's nut lies between two flanks of the screw; only what goes beyond moves it."""
        first = next((s for s in steps if s), 0)
        screw = nut = 0
        # Before the first frame the play is on the far side of the first way.
        slack = play if first > 0 else 0
        for wanted, taken in zip(steps, moves.take_up(steps, play), strict=True):
            screw += taken
            slack += taken
            moved = slack - play if slack > play else min(slack, 0)
            slack -= moved
            nut += moved
            assert moved == wanted
        assert nut == sum(steps)

    def test_less_than_no_play_is_refused(self):
        with pytest.raises(ValueError, match="backlash"):
            moves.take_up([1], -1)


class TestLayers:
    @given(st.floats(1, 50), st.floats(0.01, 3), st.floats(0.3, 30))
    def test_against_a_camera_that_goes_by(self, focal_mm, speed, distance):
        camera = Camera(36, 20.25, focal_mm)
        after = Camera(36, 20.25, focal_mm, (speed / 24, 0, 0))
        point = np.array([[0.1, distance, 0.0]])
        (before_px,), (after_px,) = (c.project(point, 1920, 1080) for c in (camera, after))
        got = moves.layer_px_per_frame(camera.focal_px(1920), speed, distance, 24)
        assert before_px[0] - after_px[0] == pytest.approx(got)

    def test_speeds_in_the_inverse_ratio_of_distances(self):
        # Common practice of the multiplane: twice as far moves half as fast in the picture.
        near, far = (moves.layer_px_per_frame(1500, 0.2, d, 24) for d in (1.0, 2.0))
        assert near == pytest.approx(2 * far)
        with pytest.raises(ValueError, match="distance"):
            moves.layer_px_per_frame(1500, 0.2, 0, 24)


def test_two_minutes_take_forty_to_sixty_hours():
    # Common practice: two to three seconds of film an hour at 24 a second.
    assert stopmotion.hours(120, 3) == pytest.approx(40)
    assert stopmotion.hours(120, 2) == pytest.approx(60)
    assert stopmotion.hours(120) == pytest.approx(48)
    with pytest.raises(ValueError, match="pace"):
        stopmotion.hours(1, 0)
    with pytest.raises(ValueError, match="seconds"):
        stopmotion.hours(-1)


class TestWalkingRound:
    def test_sixty_degrees_where_the_step_is_the_distance(self):
        # Euclid, Elements IV.15: the side of a hexagon is the radius.
        assert timelapse.step_deg(5, 5) == pytest.approx(60)
        assert timelapse.step_deg(0, 5) == 0

    @given(st.floats(1e-4, 1), st.floats(1, 500))
    def test_both_stations_are_as_far_away(self, step, distance):
        turn = math.radians(timelapse.step_deg(step, distance))
        stations = [(0.0, -distance), (distance * math.sin(turn), -distance * math.cos(turn))]
        assert math.dist(*stations) == pytest.approx(step, rel=1e-6)

    def test_nonsense_is_named(self):
        with pytest.raises(ValueError, match="step"):
            timelapse.step_deg(11, 5)
        with pytest.raises(ValueError, match="distance"):
            timelapse.step_deg(1, 0)


class TestSteadying:
    def test_the_axis_that_loses_most_decides(self):
        # 1 - 2 * 96 / 1920 = 0.9 across, 1 - 2 * 108 / 1080 = 0.8 down.
        assert timelapse.crop_left([(96, 0), (-10, 108)], 1920, 1080) == pytest.approx(0.8)
        assert timelapse.crop_left([(-96, 20)], 1920, 1080) == pytest.approx(0.9)
        assert timelapse.crop_left([], 1920, 1080) == 1.0
        assert timelapse.crop_left([(2000, 0)], 1920, 1080) == 0.0

    @given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-60, 60)), min_size=1, max_size=20))
    def test_every_picture_covers_what_is_left(self, offsets):
        left = timelapse.crop_left(offsets, 960, 540)
        half = np.array([960, 540]) * left / 2
        for right, down in offsets:
            # A picture moved so far still reaches each edge of the crop about the middle.
            assert abs(right) + half[0] <= 480 + 1e-9
            assert abs(down) + half[1] <= 270 + 1e-9

    def test_nonsense_is_named(self):
        with pytest.raises(ValueError, match="offset"):
            timelapse.crop_left([(math.nan, 0)], 960, 540)
        with pytest.raises(ValueError, match="width"):
            timelapse.crop_left([], 0, 540)


@pytest.mark.parametrize("wrong", [math.inf, -math.inf, math.nan, 1.5, -1])
def test_what_is_no_whole_number_is_refused_in_words(wrong):
    with pytest.raises(Impossible, match="whole number"):
        moves.eased_increments(1.0, wrong, "even")
    with pytest.raises(Impossible, match="ramp frames"):
        moves.eased_increments(1.0, 10, "both", wrong)
    with pytest.raises(Impossible, match="backlash"):
        moves.take_up([1, -1], wrong)
    with pytest.raises(Impossible, match="hold"):
        stopmotion.exposure_count(2.0, 24.0, wrong)


def test_a_time_and_a_rate_that_come_to_no_number_are_refused():
    with pytest.raises(Impossible, match="frames"):
        stopmotion.exposure_count(1e300, 1e300)
