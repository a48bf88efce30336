"""How lamps shine, against closed forms, numerical integration and the laws of illumination."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import dblquad

from jungoptic.core.light import mired_shift
from jungoptic.core.lighting.gels import GELS, gel_for, gelled_k
from jungoptic.core.lighting.lamps import lux_from
from jungoptic.core.lighting.shine import angular_size_deg, illuminance
from jungoptic.core.lighting.sources import (
    BOUNCE_REFLECTANCE,
    DIFFUSION_LEFT,
    beam_power,
    source_of,
    sources_of,
)
from jungoptic.core.plan import Lamp, PlacedLamp

from .examples import MILL
from .stages import FULL, one

DISC = Lamp("disc", "Disc", 1000.0, 0.5)
STRIP = Lamp("strip", "Strip", 1000.0, 1.2, kind="bank", width_m=0.3)
SPOT = Lamp("spot", "Spot", 9000.0, 0.15, kind="fresnel", beam_deg=40.0)
AHEAD = (0.0, 100.0, 0.0)
FACING = np.array([0.0, -1.0, 0.0])


def lit(lamp, points, normal=FACING, fine=True, **changes):
    """Light of one lamp at the origin that looks along y."""
    placed = PlacedLamp(lamp.id, 0.0, 0.0, 0.0, **changes)
    return illuminance((source_of(0, lamp, placed, AHEAD, fine),), np.array(points), normal)[0]


def flux_lm(lamp, **changes):
    """All the light a lamp gives out: what passes through a sphere of 50 m around it."""
    # Gauss nodes in the cosine: exact for powers of it.
    nodes, weights = np.polynomial.legendre.leggauss(400)
    sine = np.sqrt(1.0 - nodes**2)
    points = 50.0 * np.stack([sine, nodes, np.zeros_like(nodes)], axis=1)
    face_on = lit(lamp, points, None, **changes)
    return 2.0 * math.pi * 50.0**2 * float(face_on @ weights)


class TestDisc:
    @given(st.floats(0.3, 20.0))
    def test_on_its_axis_it_is_the_exact_disc(self, distance):
        # Radiative transfer of a disc that shines like paper: E = E1 (1 + r^2) / (d^2 + r^2).
        (found,) = lit(DISC, [(0, distance, 0)])
        exact = lux_from(1000.0, 0.5, distance)
        # Beyond five sizes it is one point: half a percent, as the inverse square law has it.
        assert found == pytest.approx(exact, rel=0.012 if distance > 2.5 else 1e-3)

    @pytest.mark.parametrize(("aside", "ahead"), [(0.0, 0.5), (0.3, 0.5), (1.0, 1.0), (0.6, 2.0)])
    def test_beside_its_axis_it_is_footes_formula(self, aside, ahead):
        # Foote 1915, a disc over a parallel plane (from memory): E = M/2 (1 - (h^2 + b^2 - a^2) /
        # sqrt((h^2 + b^2 + a^2)^2 - 4 a^2 b^2)).
        a = 0.25
        exitance = 1000.0 * (1.0 + a * a) / (a * a)
        h2, b2 = ahead**2, aside**2
        under = math.sqrt((h2 + b2 + a * a) ** 2 - 4.0 * a * a * b2)
        exact = exitance / 2.0 * (1.0 - (h2 + b2 - a * a) / under)
        (found,) = lit(DISC, [(aside, ahead, 0)])
        assert found == pytest.approx(exact, rel=5e-3)

    def test_the_coarse_points_are_within_a_twentieth_of_a_stop_two_sizes_away(self):
        points = [(x, y, 0.1) for x in (-0.5, 0.0, 0.7) for y in (1.0, 1.5, 2.0)]
        fine, coarse = lit(DISC, points), lit(DISC, points, fine=False)
        assert np.abs(np.log2(fine / coarse)).max() < 0.05


class TestStrip:
    @pytest.mark.parametrize("point", [(0.0, 0.6, 0.0), (0.4, 1.0, 0.3), (0.0, 2.0, -0.8)])
    def test_it_is_the_integral_over_its_face(self, point):
        # Numerical integration over 240 x 60 patches of a Lambertian rectangle, upright.
        z = (np.arange(240) + 0.5) / 240 * 1.2 - 0.6
        x = (np.arange(60) + 0.5) / 60 * 0.3 - 0.15
        px, pz = np.meshgrid(x, z)

        def integral(at):
            d2 = (at[0] - px) ** 2 + at[1] ** 2 + (at[2] - pz) ** 2
            return float((at[1] ** 2 / d2**2).mean())

        exact = 1000.0 * integral(point) / integral((0.0, 1.0, 0.0))
        (found,) = lit(STRIP, [point])
        assert found == pytest.approx(exact, rel=2e-3)

    def test_it_reaches_wide_of_its_short_side_when_laid_down(self):
        beside = [(1.0, 0.6, 0.0)]
        assert lit(STRIP, beside, upright=False)[0] > lit(STRIP, beside, upright=True)[0]


class TestLaws:
    @given(st.floats(3.01, 12.0), st.floats(1.1, 3.0))
    def test_inverse_square_far_away(self, distance, times):
        near, far = lit(DISC, [(0, distance, 0)])[0], lit(DISC, [(0, distance * times, 0)])[0]
        assert near / far == pytest.approx(times**2, rel=1e-6)

    @given(st.floats(0.1, 2.9), st.sampled_from((DISC, STRIP, SPOT)))
    def test_a_receptor_on_the_axis_that_faces_the_lamp_faces_its_middle(self, distance, lamp):
        there = [(0.0, distance, 0.0)]
        assert lit(lamp, there, None)[0] == pytest.approx(lit(lamp, there)[0], rel=1e-9)

    @given(st.floats(6.5, 15.0))
    def test_a_narrow_beam_is_a_point_only_from_afar(self, sizes):
        """So far away a beam of 22 degrees is still seen part by part: its intensity at the angle
        of every part, summed one by one."""
        beam = replace(SPOT, beam_deg=22.0)
        source = source_of(0, beam, PlacedLamp(beam.id, 0.0, 0.0, 0.0), AHEAD, True)
        at = np.array([0.0, sizes * beam.size_m, 0.0])
        way = at - source.offsets_m
        reach = np.linalg.norm(way, axis=1)
        cosine = way[:, 1] / reach
        told = source.intensity_cd * source.weights * cosine ** (source.power + 1.0) / reach**2
        assert lit(beam, [at])[0] == pytest.approx(float(told.sum()), rel=1e-6)

    @given(st.floats(0.0, 89.0))
    def test_cosine_law_of_the_receptor(self, turned):
        # Lambert: light on a receptor falls with the cosine of the angle it is turned by.
        t = math.radians(turned)
        normal = np.array([math.sin(t), -math.cos(t), 0.0])
        (found,) = lit(DISC, [(0, 10.0, 0)], normal)
        assert found == pytest.approx(lit(DISC, [(0, 10.0, 0)])[0] * math.cos(t), rel=1e-9)

    def test_a_receptor_that_looks_away_gets_nothing(self):
        assert lit(DISC, [(0, 3.0, 0)], -FACING)[0] == 0.0
        assert lit(DISC, [(0, -3.0, 0)], -FACING)[0] == 0.0

    @pytest.mark.parametrize("beam", [20.0, 40.0, 60.0, 100.0])
    def test_a_beam_is_half_as_strong_at_half_its_angle(self, beam):
        lamp = replace(SPOT, beam_deg=beam)
        t = math.radians(beam / 2.0)
        middle, edge = lit(lamp, [(0, 8.0, 0), (8 * math.sin(t), 8 * math.cos(t), 0)], None)
        assert edge / middle == pytest.approx(0.5, rel=1e-6)

    def test_120_degrees_is_lamberts_law(self):
        assert beam_power(120.0) == 1.0

    def test_a_bulb_shines_to_all_sides(self):
        bulb = Lamp("bulb", "Bulb", 100.0, 0.06, kind="bulb")
        found = lit(bulb, [(0, 2, 0), (2, 0, 0), (0, -2, 0), (0, 0, 2)], None)
        np.testing.assert_allclose(found, 25.0, rtol=1e-6)

    def test_the_sun_does_not_fall_off(self):
        sun = Lamp("sun", "Sun", 80_000.0, kind="sun")
        near, far = lit(sun, [(0, 1, 0), (30, 500, 10)], None)
        assert near == far

    @pytest.mark.parametrize(("up", "mass"), [(90.0, 1.0), (30.0, 1.994), (10.0, 5.58)])
    def test_a_low_sun_shines_through_more_air(self, up, mass):
        # Air masses: Kasten and Young 1989, their table; 0.21 of what is left goes in each (RP-21,
        # from memory).
        sun = Lamp("sun", "Sun", 80_000.0, kind="sun")
        e = math.radians(up)
        placed = PlacedLamp("sun", 0.0, -50.0 * math.cos(e), 50.0 * math.sin(e))
        source = source_of(0, sun, placed, (0.0, 0.0, 0.0), True)
        assert source.intensity_cd == pytest.approx(
            80_000.0 * math.exp(-0.21 * (mass - 1.0)), rel=2e-3
        )

    def test_several_lamps_add(self):
        shot = one(MILL, plate_lamps=(PlacedLamp("panel", 1, 1, 1), PlacedLamp("panel", -1, 1, 1)))
        both = illuminance(sources_of(shot, shot.plates[0]), np.array([[0.0, 2.0, 0.5]]))
        assert both.sum() == pytest.approx(2.0 * both[0, 0], rel=0.5)
        assert both.shape == (2, 1)


class TestWhatStandsBefore:
    def test_an_opening_passes_light_by_its_area(self):
        # Far away: (25 mm / 500 mm)^2 of the light.
        whole, through = lit(DISC, [(0, 10.0, 0)])[0], lit(DISC, [(0, 10.0, 0)], size_m=0.025)[0]
        assert through / whole == pytest.approx(0.0025, rel=1e-6)

    def test_25_mm_at_2_7_m_is_as_wide_as_the_sun(self):
        # The sun is 0.533 degrees wide, 9.3 mm for every metre (any almanac).
        placed = PlacedLamp("disc", 0.0, 0.0, 0.0, size_m=0.0251)
        source = source_of(0, DISC, placed, AHEAD, True)
        assert angular_size_deg(source, np.array([0.0, 2.7, 0.0])) == pytest.approx(0.533, abs=2e-3)

    def test_diffusion_is_larger_and_takes_light(self):
        framed = lit(SPOT, [(0, 10.0, 0)], size_m=1.0)[0]
        assert framed < 0.5 * lit(SPOT, [(0, 10.0, 0)])[0]

    def test_a_bounce_gives_back_what_falls_on_it(self):
        card = Lamp("card", "Card", 1.0, 1.0, kind="bounce")
        kit = replace(FULL, lamps=(DISC, card))
        lamps = (
            PlacedLamp("disc", 0.0, 2.0, 0.0, aim_x_m=0.0, aim_y_m=0.0, aim_z_m=0.0),
            PlacedLamp("card", 0.0, 0.0, 0.0, aim_x_m=0.0, aim_y_m=9.0, aim_z_m=0.0),
        )
        shot = replace(one(MILL, plate_lamps=lamps), kit=kit)
        # What falls on all of its face, by numerical integration.
        lamp = source_of(0, DISC, lamps[0], (0.0, 0.0, 0.0), True)
        up = np.array([0.0, 1.0, 0.0])
        total, _ = dblquad(
            lambda turn, r: (
                r
                * illuminance(
                    (lamp,), np.array([[r * math.cos(turn), 0.0, r * math.sin(turn)]]), up
                )[0, 0]
            ),
            0.0,
            0.5,
            0.0,
            2.0 * math.pi,
            epsabs=0.1,
        )
        _, given_back = illuminance(sources_of(shot, shot.plates[0]), np.array([[0.0, 8.0, 0.0]]))
        # A disc that shines like paper, far away: its flux over pi, over the distance squared.
        expected = BOUNCE_REFLECTANCE * total / math.pi / 64
        assert given_back[0] == pytest.approx(expected, rel=0.01)

    @pytest.mark.parametrize("beam", [12.0, 40.0, 120.0])
    def test_a_frame_gives_out_what_it_lets_through_of_a_beam(self, beam):
        # Flux of both through a sphere far away, by numerical integration.
        spot = replace(SPOT, beam_deg=beam)
        through = flux_lm(spot, size_m=1.0) / flux_lm(spot)
        assert through == pytest.approx(DIFFUSION_LEFT, rel=0.02)

    @pytest.mark.parametrize("kind", ["bulb", "practical"])
    def test_a_frame_never_gives_out_more_than_falls_on_it(self, kind):
        bulb = Lamp("bulb", "Bulb", 1000.0, 0.0, kind=kind)
        assert flux_lm(bulb, size_m=0.6) < 0.5 * DIFFUSION_LEFT * flux_lm(bulb)

    def test_there_is_no_sun_in_a_room(self):
        sun = Lamp("sun", "Sun", 80_000.0, kind="sun")
        kit = replace(FULL, lamps=(sun,))
        for room, count in (("garage", 0), ("yard", 1), (None, 1)):
            lamp = PlacedLamp("sun", 3.0, 0.0, 3.0)
            shot = replace(one(MILL, plate_lamps=(lamp,), plate_room_id=room), kit=kit)
            assert len(sources_of(shot, shot.plates[0])) == count


class TestGels:
    def test_full_blue_takes_tungsten_to_daylight(self):
        # 3200 K to 5600 K is -134 mired (handbook table); full blue is sold as about that.
        assert mired_shift(3200, 5600) == pytest.approx(-134, abs=0.5)
        assert gel_for(3200, 5600).key == "blue-1"
        assert gelled_k(3200, "blue-1") == pytest.approx(5600, rel=0.02)

    @given(st.floats(2500.0, 7000.0), st.floats(2500.0, 7000.0))
    def test_no_other_gel_comes_nearer(self, has, wants):
        chosen = gel_for(has, wants)
        shift = mired_shift(has, wants)
        assert abs(chosen.mired - shift) == min(abs(g.mired - shift) for g in GELS)

    def test_an_unknown_gel_is_none(self):
        assert gelled_k(5600, "moss") == pytest.approx(5600)
