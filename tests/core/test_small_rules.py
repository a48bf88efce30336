"""Exposure, scale, light, air, sun, counting: each against its published value."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta, timezone

import ephem
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import exposure, haze, light, moves, scale, stopmotion, sun, timelapse
from jungoptic.core.counting import frames_in


class TestExposure:
    # ISO 2720:1974, incident light, flat receptor, C = 250 lx s: worked by hand.
    @pytest.mark.parametrize(
        ("stop", "time_s", "iso", "lux"), [(8, 1 / 48, 400, 1920), (16, 1 / 96, 800, 7680)]
    )
    def test_light_needed(self, stop, time_s, iso, lux):
        assert exposure.illuminance_lux(stop, time_s, iso) == pytest.approx(lux)

    def test_half_shutter_at_24(self):
        # Definition of the shutter angle.
        assert exposure.exposure_s(24, 180) == pytest.approx(1 / 48)

    def test_a_shutter_past_the_full_circle(self):
        with pytest.raises(ValueError, match="360"):
            exposure.exposure_s(24, 361)

    def test_light_stop_gathers_every_loss(self):
        # Common practice: 1:1 costs two stops, ND 0.6 two more, T4.2 glass at f/4 a seventh.
        assert exposure.light_stop(4, 1.0, t_over_f=1.05, nd_stops=2) == pytest.approx(16.8)

    def test_one_stop_open_is_one_stop_brighter(self):
        change = exposure.exposure_change_stops(8, 0.02, 400, 8 / math.sqrt(2), 0.02, 400)
        assert change == pytest.approx(1.0)
        assert exposure.stops_between(500, 1000) == pytest.approx(-1.0)


class TestScale:
    # Froude similarity, frame rates as tabled in miniature handbooks (from memory).
    @pytest.mark.parametrize(("s", "fps"), [(2, 33.9), (4, 48), (8, 67.9), (16, 96)])
    def test_gravity_at_24(self, s, fps):
        assert scale.capture_fps(24, s) == pytest.approx(fps, abs=0.06)

    def test_gravity_at_25(self):
        assert scale.capture_fps(25, 4) == pytest.approx(50)

    @given(st.floats(1, 200), st.floats(0.5, 20))
    def test_a_fall_takes_the_right_number_of_frames(self, s, height):
        # A model falls height / S in t = sqrt(2 h / g): at the scaled rate that is as many
        # frames as the full-size fall at playback rate.
        g = 9.80665
        world = 24 * math.sqrt(2 * height / g)
        model = scale.capture_fps(24, s) * math.sqrt(2 * (height / s) / g)
        assert model == pytest.approx(world)

    def test_a_pulled_model(self):
        # 12 m/s at 1:12 and normal rate is 1 m/s on the table; twice the rate, twice the speed.
        assert scale.model_speed_m_s(12, 12, 24, 24) == pytest.approx(1.0)
        assert scale.model_speed_m_s(12, 12, 48, 24) == pytest.approx(2.0)

    def test_time_on_set_shrinks_by_the_root(self):
        assert scale.set_duration_s(6, scale.capture_fps(24, 9), 24) == pytest.approx(2.0)


class TestLight:
    def test_fall_off(self):
        # Inverse square: 2 m and 1 m deep, 4 m and 1 m deep.
        assert light.falloff_stops(2, 1) == pytest.approx(1.17, abs=0.005)
        assert light.falloff_stops(4, 1) == pytest.approx(0.64, abs=0.005)

    @given(st.floats(0.1, 20), st.floats(0.05, 4))
    def test_the_distance_for_a_fall_off_gives_it(self, depth, stops):
        distance = light.lamp_distance_for_falloff_m(depth, stops)
        assert light.falloff_stops(distance, depth) == pytest.approx(stops)

    def test_tungsten_to_daylight(self):
        # Filter tables: 3200 K to 5600 K is -134 mired.
        assert light.mired_shift(3200, 5600) == pytest.approx(-133.9, abs=0.05)

    def test_shadow_at_45_degrees_is_as_long_as_the_thing(self):
        assert light.shadow_length_m(1.7, 45) == pytest.approx(1.7)
        assert light.shadow_length_m(1.7, 0) == math.inf
        assert light.shadow_length_m(1.7, 90) == 0.0
        with pytest.raises(ValueError, match="elevation"):
            light.shadow_length_m(1.7, 91)

    def test_the_sun_softens_by_a_hundredth(self):
        # The sun is 0.533 deg wide: 9.3 mm of soft edge per metre of throw.
        size = 2 * math.tan(math.radians(0.533 / 2))
        assert light.penumbra_m(1.0, size, 1.0) == pytest.approx(0.0093, abs=5e-5)


class TestAir:
    def test_koschmieder(self):
        # Koschmieder's law at 2 % contrast: b = 3.912 / V.
        assert 1 - haze.transmission(2000, 10_000) == pytest.approx(0.54, abs=0.005)
        assert haze.transmission(1.0, 3.912) == pytest.approx(math.exp(-1), abs=1e-4)

    def test_the_meteorological_version(self):
        # 5 % contrast: b = 2.996 / V (WMO No. 8, from memory).
        assert haze.transmission(10_000, 10_000, 0.05) == pytest.approx(0.05)
        with pytest.raises(ValueError, match="contrast"):
            haze.transmission(1, 1, 1.0)


class TestSun:
    def test_the_worked_example_of_the_spa_report(self):
        # NREL/TP-560-34302, table A5.1 and section 4: zenith 50.11162, azimuth 194.34024.
        when = datetime(2003, 10, 17, 12, 30, 30, tzinfo=timezone(timedelta(hours=-7)))
        got = sun.sun_position(when, 39.742476, -105.1786, 1830.14, 82_000, 11)
        assert 90 - got.elevation_deg == pytest.approx(50.11162, abs=1e-4)
        assert got.azimuth_deg == pytest.approx(194.34024, abs=1e-4)

    @pytest.mark.parametrize("hour", [7, 12, 17])
    def test_against_ephem(self, hour):
        when = datetime(2026, 5, 3, hour, tzinfo=UTC)
        place = ephem.Observer()
        place.lat, place.lon, place.pressure, place.temp = "52.6", "1.7", 1013.25, 12
        place.date = when.replace(tzinfo=None)
        reference = ephem.Sun(place)
        got = sun.sun_position(when, 52.6, 1.7)
        assert got.elevation_deg == pytest.approx(math.degrees(reference.alt), abs=0.02)
        assert got.azimuth_deg == pytest.approx(math.degrees(reference.az), abs=0.02)

    def test_a_time_without_zone_is_refused(self):
        with pytest.raises(ValueError, match="time zone"):
            sun.sun_position(datetime(2026, 5, 3), 52.6, 1.7)
        with pytest.raises(ValueError, match="latitude"):
            sun.sun_position(datetime(2026, 5, 3, tzinfo=UTC), 91, 1.7)


class TestCounting:
    def test_four_seconds_at_thirty(self):
        assert timelapse.photo_count(4, 30) == 120

    def test_float_noise_adds_no_frame(self):
        assert timelapse.photo_count(0.1, 30) == 3

    def test_holds(self):
        assert stopmotion.exposure_count(2, 24) == 48
        assert stopmotion.exposure_count(2, 24, hold=2) == 24
        assert stopmotion.exposure_count(1, 25, hold=2) == 13
        with pytest.raises(ValueError, match="hold"):
            stopmotion.exposure_count(1, 24, hold=0)


class TestMoves:
    def test_a_ramped_crank(self):
        # 1, 2, ... 10 turns a frame and back: 55 turns each way, none lost.
        up = [float(n) for n in range(1, 11)]
        assert sum(moves.quantise(up, 1.0)) == 55
        assert sum(moves.quantise([-n for n in reversed(up)], 1.0)) == -55

    @given(st.lists(st.floats(-1e3, 1e3), max_size=60), st.floats(0.01, 10))
    def test_the_total_is_never_off_by_more_than_half_a_step(self, increments, step):
        wanted = taken = 0.0
        for increment, steps in zip(increments, moves.quantise(increments, step), strict=True):
            wanted += increment
            taken += steps * step
            assert abs(wanted - taken) <= step / 2 + 1e-6


class TestFrames:
    @pytest.mark.parametrize(
        ("seconds", "fps", "frames"),
        # Half a frame goes up, as in the browser: 2.5 s at 25 fps are 62.5.
        [(2.5, 25, 63), (4, 24, 96), (0.5, 25, 13), (0.001, 24, 1), (3.02, 50, 151)],
    )
    def test_frames_of_a_shot(self, seconds, fps, frames):
        assert frames_in(seconds, fps) == frames
