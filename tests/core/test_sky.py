"""The sun over places and days, against the worked example of its source and another library."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace
from zoneinfo import ZoneInfo

import ephem
import numpy as np
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.plan.findings import Verdict
from jungoptic.core.sky.day import clock_of, skyline, sun_day
from jungoptic.core.sky.daylight import air_mass, direct_lux, ground_lux
from jungoptic.core.sky.horizon import horizon_at
from jungoptic.core.sky.nightly import clear_sky_lux, night_plan
from jungoptic.core.sky.track import sun_track
from jungoptic.core.sky.windows import light_windows
from jungoptic.core.sun import sun_position

from .examples import MILL
from .stages import YARD, case_of, findings, one

UTC = datetime.UTC
DATE = datetime.date(2026, 6, 21)


class TestTrack:
    def test_worked_example_of_the_report(self):
        # NREL/TP-560-34302: 2003-10-17 12:30:30 UTC-7, 39.742476 N 105.1786 W, 1830.14 m, 820 mbar,
        # 11 C: zenith 50.11162, azimuth 194.34024.
        when = datetime.datetime(2003, 10, 17, 19, 30, 30, tzinfo=UTC).timestamp()
        found = sun_track(np.array([when]), 39.742476, -105.1786, 82_000.0, 11.0)
        assert 90.0 - found.elevation_deg[0] == pytest.approx(50.11162, abs=1e-3)
        assert found.azimuth_deg[0] == pytest.approx(194.34024, abs=1e-3)

    @settings(max_examples=40, deadline=None)
    @given(
        st.datetimes(datetime.datetime(2000, 1, 1), datetime.datetime(2045, 1, 1)),
        st.floats(-66.0, 66.0),
        st.floats(-180.0, 180.0),
    )
    def test_it_is_the_whole_algorithm(self, when, latitude, longitude):
        when = when.replace(tzinfo=UTC)
        found = sun_track(np.array([when.timestamp()]), latitude, longitude)
        exact = sun_position(when, latitude, longitude)
        assert found.elevation_deg[0] == pytest.approx(exact.elevation_deg, abs=1e-3)
        turn = (found.azimuth_deg[0] - exact.azimuth_deg + 180.0) % 360.0 - 180.0
        assert abs(turn) * math.cos(math.radians(exact.elevation_deg)) < 1e-3

    @pytest.mark.parametrize("month", [1, 4, 7, 10])
    def test_rise_and_set_are_ephems(self, month):
        date = datetime.date(2026, month, 15)
        day = sun_day(YARD, date)
        place = ephem.Observer()
        place.lat, place.lon, place.elevation, place.pressure = "52.6", "1.7", 0, 0
        # The Nautical Almanac's rule: no pressure, the horizon lowered by 34 minutes of arc.
        place.horizon = "-0:34"
        place.date = f"{date} 00:00:00"
        for mine, theirs in (
            (day.rise, place.next_rising(ephem.Sun())),
            (day.set, place.next_setting(ephem.Sun())),
        ):
            exact = theirs.datetime().replace(tzinfo=UTC).timestamp()
            assert abs(mine - exact) < 20.0

    @pytest.mark.parametrize("latitude", ["66.3", "69.5", "-67.0", "12.0"])
    @pytest.mark.parametrize("zone", ["UTC", "Asia/Tokyo", "America/Los_Angeles"])
    @pytest.mark.parametrize("day", [5, 40, 110, 160, 171, 205, 290, 355])
    def test_rise_and_set_are_found_in_any_place_and_clock(self, latitude, zone, day):
        # Every crossing that ephem lists within the place's own day, also where the day begins
        # with the sun up.
        date = datetime.date(2026, 1, 1) + datetime.timedelta(days=day)
        room = replace(YARD, latitude_deg=float(latitude), time_zone=zone)
        found = sun_day(room, date)
        place = ephem.Observer()
        place.lat, place.lon, place.elevation, place.pressure = latitude, "1.7", 0, 0
        place.horizon = "-0:34"
        start = datetime.datetime.combine(date, datetime.time(), ZoneInfo(zone))
        end = start + datetime.timedelta(days=1)
        for mine, listed, last in (
            (found.rise, place.next_rising, False),
            (found.set, place.next_setting, True),
        ):
            place.date = ephem.Date(start.astimezone(UTC))
            times = []
            try:
                while True:
                    at = listed(ephem.Sun())
                    when = at.datetime().replace(tzinfo=UTC)
                    if when >= end:
                        break
                    times.append(when.timestamp())
                    place.date = ephem.Date(at + ephem.minute)
            except (ephem.NeverUpError, ephem.AlwaysUpError):
                pass
            if not times:
                # It only grazes the horizon: within a minute of arc either may be right.
                continue
            assert mine is not None
            # Low over the horizon a hundredth of a degree takes a minute or more.
            assert abs(mine - times[-1 if last else 0]) < 120.0

    def test_nonsense_is_refused(self):
        with pytest.raises(ValueError, match="time"):
            sun_track(np.array([]), 0.0, 0.0)
        with pytest.raises(ValueError, match="Latitude"):
            sun_track(np.array([0.0]), 91.0, 0.0)


class TestDay:
    def test_noon_of_the_solstice_is_latitude_and_tilt(self):
        # 90 - 52.6 + 23.44 (any almanac), and a little refraction.
        assert sun_day(YARD, DATE).highest_deg == pytest.approx(60.84, abs=0.05)

    def test_hours_are_those_of_the_places_own_clock(self):
        day = sun_day(YARD, DATE)
        noon = next(h for h in day.hours if h.clock == "13")
        # Summer time: the sun is in the south a little before one.
        assert noon.azimuth_deg == pytest.approx(180.0, abs=6.0)

    def test_golden_and_blue_hours_lie_around_rise_and_set(self):
        day = sun_day(YARD, datetime.date(2026, 11, 28))
        assert len(day.golden) == 2
        assert len(day.blue) == 2
        assert day.blue[0].end == pytest.approx(day.golden[0].start, abs=61)
        assert day.golden[0].start < day.rise < day.golden[0].end
        # Each blue hour takes two degrees: some 15 minutes at this latitude.
        assert all(8 < b.minutes < 25 for b in day.blue)

    def test_a_day_of_23_hours(self):
        day = sun_day(YARD, datetime.date(2027, 3, 28))
        assert 12 * 60 < day.usable_min < 13 * 60

    def test_the_midnight_sun_and_the_polar_night(self):
        north = replace(YARD, latitude_deg=75.0)
        up = sun_day(north, DATE)
        assert up.rise is None
        assert up.set is None
        assert up.usable_min == pytest.approx(1440, abs=1)
        down = sun_day(north, datetime.date(2026, 12, 21))
        assert down.path == ()
        assert down.usable_min == 0

    def test_what_rises_on_the_skyline_takes_its_minutes(self):
        walled = replace(YARD, horizon=((0.0, 20.0), (180.0, 20.0)))
        assert sun_day(walled, DATE).usable_min < sun_day(YARD, DATE).usable_min - 120

    def test_a_place_without_coordinates_is_refused_in_a_sentence(self):
        with pytest.raises(ValueError, match="latitude"):
            sun_day(replace(YARD, latitude_deg=None), DATE)
        with pytest.raises(ValueError, match="time zone"):
            sun_day(replace(YARD, time_zone="Mars/Olympus"), DATE)


class TestAir:
    @given(st.floats(0.0, 90.0))
    def test_the_air_mass_is_pvlibs(self, up):
        theirs = pvlib.atmosphere.get_relative_airmass(90.0 - up, model="kastenyoung1989")
        assert air_mass(up) == pytest.approx(theirs, rel=1e-9)

    def test_light_goes_faster_than_the_sine_of_the_height_when_the_sun_is_low(self):
        up = np.linspace(1.0, 20.0, 20)
        by_sine = np.log2(np.sin(np.radians(up[1:])) / np.sin(np.radians(up[:-1])))
        direct = direct_lux(up) * np.sin(np.radians(up))
        assert (np.log2(direct[1:] / direct[:-1]) > by_sine).all()
        assert (np.diff(ground_lux(up)) > 0.0).all()
        assert ground_lux(-1.0) == 0.0


class TestHorizon:
    def test_straight_lines_all_the_way_round(self):
        mask = ((350.0, 10.0), (10.0, 20.0), (180.0, 0.0))
        found = horizon_at(mask, np.array([0.0, 350.0, 95.0, 370.0]))
        np.testing.assert_allclose(found, [15.0, 10.0, 10.0, 20.0])

    @given(
        st.lists(st.tuples(st.floats(0, 359), st.floats(0, 60)), max_size=8),
        st.floats(-720, 720),
    )
    def test_it_never_leaves_what_was_typed(self, mask, azimuth):
        found = horizon_at(tuple(mask), np.array([azimuth]))[0]
        heights = [h for _, h in mask] or [0.0]
        assert min(heights) - 1e-9 <= found <= max(heights) + 1e-9

    def test_the_drawn_skyline_closes(self):
        drawn = skyline(replace(YARD, horizon=((90.0, 12.0), (200.0, 3.0))))
        assert drawn[0][1] == drawn[-1][1]


class TestWindows:
    def test_every_window_matches_by_the_whole_algorithm(self):
        found = light_windows(YARD, DATE, 30, 35.0, 40.0)
        assert found.found
        for window in found.found[::7]:
            for t in (window.start + 60, (window.start + window.end) / 2, window.end - 60):
                when = datetime.datetime.fromtimestamp(t, UTC)
                sun = sun_position(when, 52.6, 1.7)
                assert abs(sun.elevation_deg - 35.0) <= 3.05
            middle = datetime.datetime.fromtimestamp((window.start + window.end) / 2, UTC)
            azimuth = sun_position(middle, 52.6, 1.7).azimuth_deg
            # Pointed there, the camera has the sun where the story has it.
            off = (azimuth - window.heading_deg - 40.0 + 180.0) % 360.0 - 180.0
            assert abs(off) < 0.5

    def test_morning_and_afternoon_and_no_more(self):
        per_day: dict[datetime.date, int] = {}
        for w in light_windows(YARD, DATE, 20, 30.0, None).found:
            date = datetime.datetime.fromtimestamp(w.start, ZoneInfo("Europe/London")).date()
            per_day[date] = per_day.get(date, 0) + 1
        assert set(per_day.values()) == {2}

    def test_the_strip_counts_the_same_minutes(self):
        found = light_windows(YARD, DATE, 10, 30.0, None)
        strip = sum(sum(row) for row in found.strip)
        assert strip == pytest.approx(sum(w.minutes for w in found.found), rel=0.02)

    def test_winter_says_that_the_sun_stays_too_low(self):
        found = light_windows(YARD, datetime.date(2026, 11, 25), 60, 40.0, None)
        assert found.found == ()
        assert "does not come up to 40°" in found.fails[0]
        assert "weather" in found.fails[-1]

    def test_a_camera_that_cannot_turn_has_fewer(self):
        free = light_windows(YARD, DATE, 20, 35.0, 40.0)
        fixed = light_windows(YARD, DATE, 20, 35.0, 40.0, 90.0)
        assert len(fixed.found) < len(free.found)
        for window in fixed.found:
            assert abs((window.azimuth_deg - 130.0 + 180) % 360 - 180) <= 10.0

    def test_a_mask_takes_windows_away(self):
        east = replace(YARD, horizon=((0.0, 0.0), (60.0, 50.0), (150.0, 50.0), (170.0, 0.0)))
        assert len(light_windows(east, DATE, 10, 30.0, None).found) == 10
        assert len(light_windows(YARD, DATE, 10, 30.0, None).found) == 20

    @pytest.mark.parametrize("days", [0, 401])
    def test_too_many_days_are_refused(self, days):
        with pytest.raises(ValueError, match="400"):
            light_windows(YARD, DATE, days, 30.0, None)


class TestFinding:
    SUNNY = {"key_kind": "sun", "key_from_deg": 40.0, "key_elevation_deg": 30.0}

    def outdoors(self, date, **changes):
        """The mill in the yard on a day."""
        return one(MILL, plate_room_id="yard", plate_film_on=date, **{**self.SUNNY, **changes})

    def test_a_day_that_suits_names_times_and_heading(self):
        found = findings(self.outdoors(DATE))["sun"]
        assert found.verdict is Verdict.HOLDS
        assert "camera to" in found.sentence
        assert "if it shines" in found.sentence

    def test_midwinter_breaks_and_offers_the_next_day(self):
        found = findings(self.outdoors(datetime.date(2026, 12, 20)))["sun"]
        assert found.verdict is Verdict.BREAKS
        later = found.remedies[0].changes["film_on"]
        assert findings(self.outdoors(later))["sun"].verdict is Verdict.HOLDS

    def test_where_it_never_comes_that_high_a_lamp_is_advised(self):
        high = self.outdoors(datetime.date(2026, 12, 20), key_elevation_deg=70.0)
        found = findings(high)["sun"]
        assert found.remedies[0].changes == {}
        assert "70°" in found.remedies[0].effect

    def test_lamps_rooms_and_stories_without_sun_are_left_alone(self):
        assert "sun" not in findings(self.outdoors(None))
        assert "sun" not in findings(self.outdoors(DATE, key_kind="lamp"))
        assert "sun" not in findings(
            one(MILL, plate_room_id="garage", plate_film_on=DATE, **self.SUNNY)
        )


class TestNight:
    def test_a_high_sun_gives_about_a_hundred_thousand_lux(self):
        # Common practice: bright sun is 100,000 lx, the sunny 16 rule's light.
        assert clear_sky_lux(60.0) == pytest.approx(113_000, rel=0.1)
        assert clear_sky_lux(-1.0) == 0.0

    @given(st.floats(0.5, 89.0), st.floats(0.1, 0.9))
    def test_it_grows_with_height(self, high, part):
        assert clear_sky_lux(high * part) < clear_sky_lux(high)

    def test_nd_brings_the_sun_down_to_the_stop(self):
        case = case_of(one(MILL, key_from_deg=5.0, key_elevation_deg=35.0))
        plan = night_plan(case)
        stage = case.stage
        exact = math.log2(clear_sky_lux(35.0) / stage.lux_needed) + 2.0
        assert plan.nd_stops == pytest.approx(exact)
        assert plan.back_light
        # A daylight scene to a camera balanced for tungsten: bluer.
        assert plan.mired > 0

    def test_the_sky_in_the_frame_and_how_to_lose_it(self):
        level = night_plan(case_of(one(MILL, tilt_deg=0.0)))
        assert level.sky_share == pytest.approx(0.5, abs=0.01)
        down = night_plan(case_of(one(MILL, tilt_deg=-level.tilt_out_deg - 0.05)))
        assert down.sky_share == pytest.approx(0.0, abs=0.003)

    def test_a_moon_in_front_is_warned_of(self):
        found = night_plan(case_of(one(MILL, key_from_deg=150.0, key_elevation_deg=30.0)))
        assert not found.back_light
        assert "Turn the set" in found.advice[0]


def test_nd_is_said_in_all_not_on_top_of_what_is_there():
    plans = [
        night_plan(case_of(one(MILL, key_elevation_deg=40.0, plate_nd_stops=nd)))
        for nd in (0.0, 1.0, 3.0)
    ]
    # The same sun, stop, shutter and ISO: the same ND, however much was there.
    assert len({round(p.nd_stops, 6) for p in plans}) == 1


@pytest.mark.parametrize(
    ("names", "named"),
    [
        (("Asia/Tokyo", "Europe/London"), "Asia/Tokyo"),
        (("", "Europe/London"), "Europe/London"),
        (("Nowhere/Else", "Europe/London"), "Europe/London"),
        (("../etc/passwd", ""), "UTC"),
        ((), "UTC"),
    ],
)
def test_a_day_goes_by_the_clock_that_is_known(names, named):
    assert clock_of(*names).key == named
