"""Optics against published formulas and worked values, and properties that must hold."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from jungoptic.core import optics

focals = st.floats(8, 600)
stops = st.floats(1, 45)
discs = st.floats(0.002, 0.1)
distances = st.floats(0.05, 500)


class TestPublishedValues:
    """Thin-lens values, worked by hand from the textbook formulas (e.g. Hecht, Optics, ch. 5)."""

    def test_hyperfocal_of_50_mm_f8(self):
        # f^2 / (N c) + f = 2500 / 0.24 + 50 mm
        assert optics.hyperfocal_m(50, 8, 0.03) == pytest.approx(10.4667, abs=5e-4)

    def test_depth_at_3_m(self):
        depth = optics.depth_of_field(50, 8, 3.0, 0.03)
        assert depth.near_m == pytest.approx(2.338, abs=1e-3)
        assert depth.far_m == pytest.approx(4.185, abs=1e-3)

    def test_depth_at_half_a_metre(self):
        depth = optics.depth_of_field(50, 8, 0.5, 0.03)
        assert depth.near_m == pytest.approx(0.4793, abs=1e-4)
        assert depth.far_m == pytest.approx(0.5226, abs=1e-4)

    def test_angle_of_view_of_a_50_mm_on_36_mm(self):
        assert optics.angle_of_view_deg(36, 50) == pytest.approx(39.60, abs=0.005)

    def test_angle_of_view_narrows_at_half_a_metre(self):
        m = optics.magnification(50, 0.5)
        assert m == pytest.approx(1 / 9)
        assert optics.angle_of_view_deg(36, 50, m) == pytest.approx(35.90, abs=0.005)

    # Born & Wolf, Principles of Optics, 8.5.2: radius of the first dark ring 1.22 lambda N.
    @pytest.mark.parametrize(("f_number", "micrometres"), [(16, 21.5), (22, 29.5)])
    def test_airy_disc_in_green_light(self, f_number, micrometres):
        assert optics.airy_disc_mm(f_number) * 1000 == pytest.approx(micrometres, abs=0.05)

    def test_defocus_and_diffraction_add_as_squares(self):
        # Common approximation: independent blurs add in quadrature (3, 4, 5).
        assert optics.total_blur_mm(0.03, 0.04) == pytest.approx(0.05)

    def test_life_size_costs_two_stops(self):
        # Common practice: at 1:1 a symmetrical lens works at twice its marked f-number.
        assert optics.effective_f_number(8, 1.0) == pytest.approx(16.0)

    def test_life_size_is_four_focal_lengths_from_the_sensor(self):
        # Thin lens: u = v = 2 f.
        assert optics.object_distance_m(50, 0.2) == pytest.approx(0.1)

    def test_the_classical_disc_of_full_frame(self):
        # Common practice: 0.03 mm is 36 mm / 1200.
        assert optics.coc_from_delivery_mm(36, 2400) == pytest.approx(0.03)


class TestRefusals:
    def test_inside_the_focal_length(self):
        with pytest.raises(ValueError, match="inside its focal length"):
            optics.magnification(50, 0.04)

    def test_nearer_than_four_focal_lengths(self):
        with pytest.raises(ValueError, match="four focal lengths"):
            optics.object_distance_m(50, 0.19)

    @pytest.mark.parametrize("bad", [0.0, -1.0, math.nan, math.inf])
    def test_nonsense_numbers(self, bad):
        with pytest.raises(ValueError, match="focal length"):
            optics.hyperfocal_m(bad, 8, 0.03)
        with pytest.raises(ValueError, match="f-number"):
            optics.depth_of_field(50, bad, 3, 0.03)
        with pytest.raises(ValueError, match="circle of confusion"):
            optics.depth_of_field(50, 8, 3, bad)

    def test_more_than_a_thousand_passes(self):
        with pytest.raises(ValueError, match="focus passes would be needed"):
            optics.focus_passes(400, 1.4, 0.5, 50.0, 0.003)

    def test_a_far_limit_nearer_than_the_near_one(self):
        with pytest.raises(ValueError, match="far distance"):
            optics.focus_passes(50, 8, 2.0, 1.0, 0.02)


@given(focals, stops, distances, discs)
def test_depth_straddles_the_focus(focal, stop, distance, disc):
    assume(distance * 1000 > focal * 1.05)
    depth = optics.depth_of_field(focal, stop, distance, disc)
    assert 0 < depth.near_m < distance < depth.far_m


@given(focals, stops, distances, discs)
def test_blur_at_both_limits_is_exactly_the_disc(focal, stop, distance, disc):
    assume(distance * 1000 > focal * 1.05)
    depth = optics.depth_of_field(focal, stop, distance, disc)
    near = optics.blur_disc_mm(focal, stop, distance, depth.near_m)
    assert near == pytest.approx(disc, rel=1e-6)
    if math.isfinite(depth.far_m) and depth.far_m < 1e5:
        far = optics.blur_disc_mm(focal, stop, distance, depth.far_m)
        assert far == pytest.approx(disc, rel=1e-4)


@given(focals, stops, discs)
def test_focused_at_the_hyperfocal_distance_infinity_is_just_sharp(focal, stop, disc):
    distance = optics.hyperfocal_m(focal, stop, disc)
    blur = optics.blur_disc_mm(focal, stop, distance, math.inf)
    assert blur == pytest.approx(disc, rel=1e-9)
    depth = optics.depth_of_field(focal, stop, distance, disc)
    assert depth.near_m == pytest.approx(distance / 2, rel=1e-6)


@given(focals, distances)
def test_tape_and_object_distance_are_inverse(focal, distance):
    assume(distance * 1000 > focal * 2)
    tape = optics.sensor_distance_m(focal, distance)
    assert optics.object_distance_m(focal, tape) == pytest.approx(distance, rel=1e-6)


@given(focals, stops, st.floats(0.2, 5), st.floats(1.0, 40), discs)
def test_focus_passes_cover_without_gaps_and_no_fewer_would_do(focal, stop, near, ratio, disc):
    assume(near * 1000 > focal * 1.5)
    far = near * ratio
    # Beyond a thousand passes it is refused, which has a test of its own.
    assume(math.log(ratio * 1.5) * focal / (disc * stop) < 900)
    passes = optics.focus_passes(focal, stop, near, far, disc)
    assert passes[0].near_m <= near * (1 + 1e-9)
    assert passes[-1].far_m >= far * (1 - 1e-9)
    for a, b in pairwise(passes):
        assert a.far_m >= b.near_m * (1 - 1e-9)
        assert a.focus_m < b.focus_m
    # Greedy from the far end reaches farthest with each pass, so it needs the fewest.
    k, q, count = disc * stop / focal, 1 - focal / (far * 1000), 0
    q_near = 1 - focal / (near * 1000)
    while q > q_near * (1 + 1e-9) or count == 0:
        q = q * (1 - k) / (1 + k) if k < 1 else 0.0
        count += 1
    assert len(passes) == count


@given(focals, st.floats(0.2, 5), st.floats(1.01, 40), discs)
def test_the_stop_needed_just_covers(focal, near, ratio, disc):
    assume(near * 1000 > focal * 1.5)
    far = near * ratio
    stop = optics.stop_needed(focal, near, far, disc)
    assume(0.5 < stop < 1000)
    depth = optics.depth_of_field(focal, stop, optics.best_focus_m(near, far), disc)
    assert depth.near_m == pytest.approx(near, rel=1e-6)
    assert depth.far_m == pytest.approx(far, rel=1e-4)


def test_a_pass_to_infinity():
    (one,) = optics.focus_passes(28, 16, 3.0, math.inf, 0.03)
    assert one.near_m <= 3.0
    assert one.far_m == math.inf


@given(st.floats(1, 60))
def test_marked_stops_bracket(f_number):
    assert optics.next_stop_down(f_number) >= f_number * 0.98
    assert optics.next_stop_open(f_number) <= f_number * 1.02
