"""Lock-offs, clean plates, dividers, throws, mirrored halves."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace

import cv2
import ephem
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, MultiPoint, Point, Polygon, box

from jungoptic.core.cards.card import checklist
from jungoptic.core.cards.trick_card import trick_marks
from jungoptic.core.lockoff.clean import clean_plan, frames_for, noise_gain, tiles_for
from jungoptic.core.lockoff.divider import line_at, over_px, resampled, sides_at
from jungoptic.core.lockoff.drift import TURN_DEG, drift_minutes, sun_drift
from jungoptic.core.lockoff.extent import extents
from jungoptic.core.lockoff.group import LOCKED, departures, lock_groups, orphans
from jungoptic.core.lockoff.order import drift_limit, passes_of
from jungoptic.core.lockoff.strips import crossings, floor_marks, strip, strip_at
from jungoptic.core.lockoff.throw import G, flight, following, launch_m_s, positions_m
from jungoptic.core.plan import Move
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.mirrored import mirrored
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import DividerKey, Filmed, Rig, Split, Throw
from jungoptic.core.report.shot_report import plate_report, report
from jungoptic.core.report.tricks import tricks
from jungoptic.core.sky.track import sun_track
from jungoptic.core.stage.marks import place_from_tapes

from .stages import YARD
from .twins import ANNA, BETH, CLEAN, LEFT, RIGHT, UPRIGHT, case_of, changed, joined, twins

REACHING = replace(BETH, reach_m=0.52)
THROW = Throw(-0.55, 2.4, 1.3, 0.55, 2.4, 1.2, frame=10, frames=11)


class TestLockGroup:
    def test_plates_that_agree_hold_and_are_listed(self):
        found = twins()
        (group,) = lock_groups(found)
        assert group.plate_ids == ("left", "right", "clean")
        assert group.differences == ()
        assert joined(found, "right")["lock"].verdict is Verdict.HOLDS

    @pytest.mark.parametrize(
        ("field", "value", "name"),
        [
            ("f_number", 8.0, "stop"),
            ("iso", 400.0, "ISO"),
            ("white_k", 3200.0, "white balance"),
            ("shutter_deg", 90.0, "shutter"),
            ("lens_id", "l50", "lens"),
            ("tilt_deg", 2.0, "tilt"),
            ("axis_height_m", 1.3, "lens axis height"),
            ("focus_world_m", 2.9, "focus"),
            ("capture_fps", 30.0, "capture rate"),
            ("nd_stops", 1.0, "ND"),
        ],
    )
    def test_each_departure_is_named_and_taken_back(self, field, value, name):
        found = changed(twins(), "right", **{field: value})
        assert departures(found, found.plates[1])[0].name == name
        finding = joined(found, "right")["lock"]
        assert finding.verdict is Verdict.BREAKS
        (remedy,) = finding.remedies
        assert remedy.alone
        assert joined(changed(found, "right", **remedy.changes), "right")["lock"].verdict is (
            Verdict.HOLDS
        )

    def test_a_clean_plate_of_which_nobody_says_focuses_with_the_others(self):
        # Nothing stands in it: by itself it would focus at infinity, as cards of before do.
        found = changed(twins(), "clean", focus_world_m=None)
        assert departures(found, found.plates[2]) == ()
        old = replace(found, old_rules=True)
        (one,) = departures(old, old.plates[2])
        assert (one.name, one.mine) == ("focus", "infinity")
        # A pass that is there for its focus has its own.
        own = changed(found, "clean", pass_for="focus")
        assert departures(own, own.plates[2]) == ()
        assert case_of(own, "clean").stage.focus_m == math.inf

    def test_saying_what_is_derived_anyway_is_no_departure(self):
        found = twins()
        axis = case_of(found, "left").stage.axis_m
        assert departures(changed(found, "right", axis_height_m=axis), found.plates[1]) == ()

    def test_a_change_orphans_the_takes_of_that_plate(self):
        was = {name: getattr(LEFT, name) for name in LOCKED}
        found = changed(twins(), "left", filmed=Filmed(3, "3A-1", was))
        assert joined(found, "left")["lock"].verdict is Verdict.HOLDS
        assert "Half A is filmed" in joined(found, "right")["lock"].sentence
        for plate in ("left", "right", "clean"):
            found = changed(found, plate, f_number=8.0)
        (gone,) = orphans(found, found.plates[0])
        assert (gone.name, gone.mine, gone.theirs) == ("stop", "f/8", "f/5.6")
        finding = joined(found, "left")["lock"]
        assert finding.verdict is Verdict.BREAKS
        assert "3 takes of card 3A-1" in finding.sentence
        # All plates go back together; no matter which of them is changed first.
        assert not finding.remedies[0].alone if finding.remedies else True

    def test_the_filmed_plate_leads(self):
        was = {name: getattr(LEFT, name) for name in LOCKED}
        found = changed(changed(twins(), "right", filmed=Filmed(1, "B", was)), "left", iso=400.0)
        assert [d.name for d in departures(found, found.plates[0])] == ["ISO"]
        assert departures(found, found.plates[1]) == ()


class TestChecklist:
    def test_values_are_the_plates_own_and_follow_body_and_recipe(self):
        found = changed(twins(), "left", recipe_right=("Nobody crosses the strip.",))
        items = checklist(case_of(found, "left"))
        assert "Stop fixed, ring taped: f/5.6" in items
        assert "White balance by number: 5600 K" in items
        assert any("Stabiliser of Cinema body off" in i for i in items)
        assert "Nobody crosses the strip." in items
        bare = replace(found.kit.bodies[0], stabiliser=False, remote=False)
        kit = replace(found.kit, bodies=(bare, *found.kit.bodies[1:]))
        items = checklist(case_of(replace(found, kit=kit), "left"))
        assert not any("Stabiliser" in i for i in items)
        assert any("no remote" in i for i in items)

    def test_under_the_sun_it_says_for_how_long(self):
        found = changed(twins(), "left", room_id="yard", film_on=datetime.date(2026, 6, 21))
        drift = sun_drift(YARD, datetime.date(2026, 6, 21))
        assert drift is not None
        (item,) = (i for i in checklist(case_of(found, "left")) if "All passes" in i)
        assert f"within: {drift.minutes:.0f} min" in item


class TestSunDrift:
    def test_the_sun_turns_a_quarter_of_a_degree_a_minute_at_the_most(self):
        # 360 degrees in 24 h along its circle, times the cosine of its declination (about 0 at an
        # equinox): 0.25 degrees a minute, so two degrees take eight minutes. Any almanac.
        times = (
            np.arange(0.0, 86400.0, 60.0)
            + datetime.datetime(2026, 3, 20, tzinfo=datetime.UTC).timestamp()
        )
        track = sun_track(times, 0.0, 0.0)
        turned, _ = drift_minutes(track.azimuth_deg, track.elevation_deg)
        noon = int(track.elevation_deg.argmax())
        assert turned[noon - 60] == pytest.approx(TURN_DEG / 0.25, abs=1)

    def test_low_sun_changes_in_level_before_it_turns(self):
        drift = sun_drift(YARD, datetime.date(2026, 12, 21))
        assert drift is not None
        assert drift.worst_min < drift.best_min
        assert sun_drift(replace(YARD, latitude_deg=80.0), datetime.date(2026, 12, 21)) is None

    def test_passes_that_take_longer_break_and_say_so(self):
        found = twins()
        for plate in ("left", "right", "clean"):
            found = changed(
                found, plate, room_id="yard", film_on=datetime.date(2026, 6, 21), takes_planned=12
            )
        finding = joined(found, "right")["drift"]
        assert finding.verdict is Verdict.BREAKS
        # Lamps do not move.
        lit = replace(found, key_kind="lamp")
        assert "drift" not in joined(lit, "right")

    def outside(self, takes: int):
        found = twins()
        for plate in ("left", "right", "clean"):
            found = changed(
                found,
                plate,
                room_id="yard",
                film_on=datetime.date(2026, 6, 21),
                takes_planned=takes,
            )
        return found

    def test_fewer_takes_of_the_second_pass_keep_their_word(self):
        for many in range(2, 13):
            found = self.outside(many)
            finding = joined(found, "right")["drift"]
            for remedy in finding.remedies:
                if not remedy.changes:
                    continue
                done = changed(found, "right", **remedy.changes)
                assert joined(done, "right")["drift"].verdict is remedy.verdict
                # One take more would not do.
                more = {"takes_planned": remedy.changes["takes_planned"] + 1}
                worse = joined(changed(found, "right", **more), "right")["drift"].verdict
                assert worse.rank > remedy.verdict.rank
            # The first half's own takes are over by then: its plate only says whose.
            told = joined(found, "left")["drift"].remedies
            assert all(not r.changes for r in told)
            assert [r.sentence for r in told] == [r.sentence for r in finding.remedies]

    def test_five_degrees_of_sun_strain_and_more_break(self):
        # A quarter of a degree a minute: 2° are about 9 min, 5° about 22 min.
        found = {n: joined(self.outside(n), "right")["drift"] for n in (1, 2, 3)}
        needed = {n: float(f.sentence.split()[3]) for n, f in found.items()}
        for n, finding in found.items():
            turned = 0.23 * needed[n]
            assert (turned > 5.2) == (finding.verdict is Verdict.BREAKS)
        assert found[1].verdict is Verdict.STRAINS
        assert found[3].verdict is Verdict.BREAKS


class TestCleanPlate:
    def test_averaging_lowers_noise_by_the_square_root(self):
        """Variance of a mean, on synthetic frames."""
        noise = np.random.default_rng(3).normal(0.0, 10.0, (144, 90, 160))
        for n in (4, 16, 64, 144):
            measured = noise[0].std() / noise[:n].mean(axis=0).std()
            assert measured == pytest.approx(noise_gain(n), rel=0.03)
        assert noise_gain(100) == 10.0
        assert frames_for(10.0) == 100
        with pytest.raises(ValueError, match="at least one"):
            noise_gain(0)

    def test_twenty_to_thirty_seconds_are_usual(self):
        # Common practice.
        plan = clean_plan(case_of(twins(), "clean"), False)
        assert 20.0 <= plan.seconds <= 30.0
        assert plan.frames == 480
        assert plan.gain == pytest.approx(math.sqrt(480))
        assert plan.enough_s == pytest.approx(100 / 24)
        # Time-lapse speed: few frames a second, so longer.
        slow = changed(twins(), "clean", capture_fps=2.0)
        assert clean_plan(case_of(slow, "clean"), False).seconds == pytest.approx(50.0)

    def test_a_turning_camera_needs_tiles(self):
        assert tiles_for(twins())[0] == (1, 1)
        assert tiles_for(twins(move=Move(right_m=1.0)))[:2] == ((1, 1), 3)

    @given(st.floats(0.1, 170.0), st.floats(0.0, 60.0), st.sampled_from([0.0, 90.0]))
    def test_tiles_cover_what_a_turning_camera_sees(self, pan, tilt, roll):
        shot = twins(move=Move(pan_deg=pan, tilt_deg=tilt))
        shot = replace(shot, world=replace(shot.world, roll_deg=roll))
        camera = shot.world.camera(shot.delivery)
        (across, down), places, _ = tiles_for(shot)
        assert places == 1
        if roll:
            pan, tilt = tilt, pan
        for count, turned, size in (
            (across, pan, camera.sensor_width_mm),
            (down, tilt, camera.sensor_height_mm),
        ):
            angle = math.degrees(2 * math.atan(size * (1 + 2 * shot.padding) / 2 / camera.focal_mm))
            # Laid one after the other, each a quarter over the last; one fewer would not do.
            covered = [angle + n * 0.75 * angle for n in (count - 1, count - 2)]
            assert covered[0] >= turned + angle - 1e-6
            assert count == 1 or covered[1] < turned + angle

    def test_out_of_doors_it_is_rolled_twice(self):
        assert "twice" in clean_plan(case_of(twins(), "clean"), True).order[0]


class TestDivider:
    def test_it_goes_straight_between_keys(self):
        split = replace(
            UPRIGHT,
            keys=(
                DividerKey(1, ((0.25, 0.0), (0.25, 1.0))),
                DividerKey(11, ((0.75, 0.0), (0.5, 1.0))),
            ),
        )
        assert line_at(split, 6, 1000, 500).tolist() == [[500.0, 0.0], [375.0, 500.0]]
        assert line_at(split, 0, 1000, 500)[0, 0] == 250.0
        assert line_at(split, 99, 1000, 500)[0, 0] == 750.0

    def test_keys_with_unlike_points_are_resampled(self):
        split = replace(
            UPRIGHT,
            keys=(
                DividerKey(1, ((0.2, 0.0), (0.2, 1.0))),
                DividerKey(3, ((0.4, 0.0), (0.4, 0.5), (0.4, 1.0))),
            ),
        )
        assert line_at(split, 2, 1000, 500)[:, 0] == pytest.approx(300.0)

    def test_a_fold_has_two_sides(self):
        line = np.array([(0.0, 0.0), (10.0, 4.0), (2.0, 6.0), (8.0, 10.0)])
        low, high = sides_at(line, np.array([5.0, -3.0, 12.0]))
        assert low.tolist() == [6.0, 0.0, 8.0]
        assert high.tolist() == [6.0, 0.0, 8.0]
        zig = np.array([(0.0, 0.0), (10.0, 6.0), (2.0, 4.0), (8.0, 10.0)])
        low, high = sides_at(zig, np.array([5.0]))
        assert low[0] < high[0]

    @pytest.mark.parametrize("rise", [0.0, 1e-310, 1e-9])
    def test_a_line_drawn_flat_has_no_slope_to_overflow(self, rise):
        line = np.array([(0.0, rise), (800.0, 0.0)])
        low, high = sides_at(line, np.array([rise, 300.0]))
        assert (low[0], high[0]) == (0.0, 800.0)
        assert low[1] == high[1]

    @given(st.floats(0.1, 0.9), st.floats(0.1, 0.9), st.floats(-400, 400), st.floats(0, 60))
    def test_what_is_over_for_one_side_is_clear_for_the_other(self, a, b, x, feather):
        line = np.array([(a * 1000, 0.0), (b * 1000, 500.0)])
        point = np.array([(500 + x, 250.0)])
        first = over_px(point, line, True, True, feather)[0]
        second = over_px(point, line, False, True, feather)[0]
        assert first + second == pytest.approx(feather, abs=1e-6)

    def test_lying_dividers_part_above_from_below(self):
        line = np.array([(0.0, 200.0), (1000.0, 200.0)])
        assert over_px(np.array([(500.0, 230.0)]), line, True, upright=False)[0] == 30.0

    def test_a_feather_lies_across_a_leaning_line(self):
        # 3-4-5: a point 40 px to the right of a line that leans by 3 in 4 is 32 px away from it.
        line = np.array([(100.0, 0.0), (400.0, 400.0)])
        point = np.array([(250.0 + 40.0, 200.0)])
        assert over_px(point, line, True)[0] == pytest.approx(32.0)
        assert over_px(point, line, True, feather_px=20.0)[0] == pytest.approx(42.0)
        assert over_px(point, line, False, feather_px=20.0)[0] == pytest.approx(-22.0)

    def test_resampling_keeps_ends_and_length(self):
        line = np.array([(0.0, 0.0), (3.0, 4.0), (3.0, 10.0)])
        found = resampled(line, 12)
        assert found[[0, -1]].tolist() == [[0.0, 0.0], [3.0, 10.0]]
        steps = np.hypot(*np.diff(found, axis=0).T)
        assert steps == pytest.approx(1.0, abs=0.05)


class TestStrip:
    def test_the_strip_is_where_opencv_sees_the_line(self):
        """Both edges of the strip, at every depth and height, against `cv2.projectPoints`."""
        found = replace(twins(), splits=(replace(UPRIGHT, feather_px=60.0),))
        case = case_of(found, "left")
        camera = case.stage.camera
        focal = camera.focal_mm / camera.sensor_width_mm * 1920
        matrix = np.array([[focal, 0, 960.0], [0, focal, 402.0], [0, 0, 1.0]])
        rotation, _ = cv2.Rodrigues(camera.axes)
        shift = -camera.axes @ np.asarray(camera.position_m)
        for one in strip(case, found.splits[0]):
            margin = 0.0  # Nobody reaches or walks here.
            points = np.array(
                [
                    (x, one.y_m, z)
                    for x in (one.left_m + margin, one.right_m - margin)
                    for z in (0.4, 1.0)
                ]
            )
            pixels = cv2.projectPoints(points, rotation, shift, matrix, None)[0][:, 0, 0]
            assert pixels == pytest.approx([930, 930, 990, 990], abs=0.01)

    @given(
        st.floats(0.0, 1.0),
        st.floats(0.0, 1.0),
        st.floats(-2.5, 2.5),
        st.floats(0.4, 6.0),
        st.floats(-25.0, 25.0),
        st.floats(0.0, 1.2),
    )
    @settings(max_examples=60, deadline=None)
    def test_how_far_somebody_is_over_is_what_shapely_finds(self, top, bottom, x, y, roll, reach):
        """The hull of the body, cut by the picture; farthest past a straight line, across it."""
        keys = (DividerKey(1, ((top, 0.0), (bottom, 1.0))),)
        anna = replace(ANNA, x_m=x, y_m=y, reach_m=reach)
        base = replace(twins(anna), splits=(replace(UPRIGHT, keys=keys, feather_px=0.0),))
        found = replace(base, world=replace(base.world, roll_deg=roll))
        case = case_of(found, "left")
        a, b = (top * 1920, 0.0), (bottom * 1920, 804.0)
        # Beyond the picture the line goes on upright.
        line = LineString([(a[0], -1e5), a, b, (b[0], 1e5)])
        left = Polygon([(-1e6, -1e5), (a[0], -1e5), a, b, (b[0], 1e5), (-1e6, 1e5)])
        got = {c.part: c.over_px for c in crossings(case, found.splits[0])}
        for extent in extents(found, case.plate, anna, None):
            seen = case.stage.camera.project(extent.corners, 1920, 804)
            if np.isnan(seen).any():
                continue
            shown = MultiPoint(seen).convex_hull.intersection(box(0, 0, 1920, 804))
            if shown.is_empty or shown.area < 1.0:
                continue
            past = shown.difference(left)
            if past.is_empty:
                want = -line.distance(shown)
            else:
                corners = [p for g in getattr(past, "geoms", [past]) for p in g.exterior.coords]
                want = max(line.distance(Point(p)) for p in corners)
            assert got[extent.part] == pytest.approx(want, abs=0.02)

    def test_a_body_before_the_whole_picture_is_over_any_line(self):
        near = replace(ANNA, x_m=0.0, y_m=0.4, reach_m=0.0)
        found = twins(near)
        found = replace(found, world=replace(found.world, focal_mm=200.0))
        case = case_of(found, "left")
        (body,) = crossings(case, found.splits[0])
        # All of the second half is covered.
        assert body.over_px == pytest.approx(960.0 + UPRIGHT.feather_px / 2.0)

    def test_who_is_behind_the_camera_is_nowhere_near_the_line(self):
        behind = twins(replace(ANNA, y_m=-3.0))
        assert crossings(case_of(behind, "left"), behind.splits[0]) == ()

    def test_the_worst_frame_of_a_walk_is_found_between_those_looked_at_first(self):
        walker = replace(ANNA, x_m=-2.0, y_m=4.0, reach_m=0.0, speed_m_s=0.3, course_deg=90.0)
        found = replace(twins(walker), screen_time_s=6.0)
        case = case_of(found, "left")
        (worst, *_) = crossings(case, found.splits[0])
        by_frame = [
            over_px(
                case.stage.camera.project(
                    extents(found, case.plate, walker.after(f / 143 * 6.0), None)[0].corners,
                    1920,
                    804,
                ),
                line_at(found.splits[0], f + 1, 1920, 804),
                True,
                True,
                found.splits[0].feather_px,
            ).max()
            for f in range(144)
        ]
        assert worst.over_px == pytest.approx(max(by_frame), abs=0.5)

    @given(st.floats(0.3, 0.7), st.floats(0.3, 0.7), st.floats(1.0, 9.0))
    def test_a_leaning_line_is_covered_at_every_height(self, top, bottom, y):
        keys = (DividerKey(1, ((top, 0.0), (bottom, 1.0))),)
        found = replace(twins(), splits=(replace(UPRIGHT, keys=keys, feather_px=0.0),))
        case = case_of(found, "left")
        one = strip_at(case, found.splits[0], y, 0.0, 1.3)
        assert one is not None
        for z in np.linspace(0.05, 1.25, 7):
            for x, first in ((one.left_m, True), (one.right_m, False)):
                seen = case.stage.camera.project(np.array([(x, y, z)]), 1920, 804)
                line = line_at(found.splits[0], 1, 1920, 804)
                assert over_px(seen, line, first)[0] <= 7.0

    def test_floor_marks_come_back_through_the_camera_and_the_tapes(self):
        found = twins(ANNA, REACHING)
        case = case_of(found, "right")
        report_ = plate_report(found, found.plates[1], selected=True)
        assert report_.study is not None
        left, right = report_.study.fixed
        marks = floor_marks(case, UPRIGHT)
        assert len(marks) == 6
        for mark in marks:
            again = place_from_tapes(
                (left.x_m, left.y_m), (right.x_m, right.y_m), mark.from_left_m, mark.from_right_m
            )
            assert again == pytest.approx((mark.x_m, mark.y_m), abs=1e-6)
        edge = next(m for m in marks if m.name.startswith("Strip, right edge, near"))
        ((x, _),) = case.stage.camera.project(np.array([(edge.x_m, edge.y_m, 0.9)]), 1920, 804)
        focal = case.stage.camera.focal_mm / case.stage.camera.sensor_width_mm * 1920
        # Half the feather, and what a gesture of 2 m/s smears in half of 1/48 s.
        smear = 2.0 / 48 / 2 * focal / edge.y_m
        assert x - 960 == pytest.approx(8 + smear, abs=0.5)

    def test_feet_marks_keep_the_arms_out(self):
        found = twins(ANNA, REACHING)
        (mark,) = (m for m in floor_marks(case_of(found, "right"), UPRIGHT) if "Beth" in m.name)
        there = replace(REACHING, x_m=mark.x_m + 1e-6)
        worst = max(
            c.over_px
            for c in crossings(case_of(twins(ANNA, there), "right"), UPRIGHT)
            if c.part in ("body", "reach")
        )
        assert worst == pytest.approx(0.0, abs=0.6)

    def test_the_plan_and_the_card_carry_it(self):
        found = twins(ANNA, REACHING)
        report_ = plate_report(found, found.plates[1], selected=True)
        assert report_.plan is not None
        assert {"keepout", "tapeline"} <= {s.role for s in report_.plan.shapes}
        marks = trick_marks(case_of(found, "right"))
        assert [m.name for m in marks] == [
            m.name for m in floor_marks(case_of(found, "right"), UPRIGHT)
        ]


class TestCrossing:
    def test_an_elbow_over_the_line_breaks_and_every_remedy_does_what_it_says(self):
        found = twins(ANNA, REACHING)
        finding = joined(found, "right")["split"]
        assert finding.verdict is Verdict.BREAKS
        assert "An arm of Beth crosses the line" in finding.sentence
        done = 0
        for remedy in finding.remedies:
            if not (remedy.shot or remedy.things):
                continue
            things = tuple(replace(s, **remedy.things.get(s.id, {})) for s in found.stand_ins)
            after = replace(found, stand_ins=things, **remedy.shot)
            assert joined(after, "right")["split"].verdict is remedy.verdict, remedy.sentence
            assert joined(after, "left")["split"].verdict is not Verdict.BREAKS
            done += 1
        assert done >= 3

    def test_how_far_over_is_what_the_camera_sees(self):
        case = case_of(twins(ANNA, REACHING), "right")
        worst = crossings(case, UPRIGHT)[0]
        focal = case.stage.camera.focal_mm / case.stage.camera.sensor_width_mm * 1920
        smear = 2.0 / 48 / 2
        x = 0.75 - 0.25 - 0.52 - smear
        assert worst.over_px == pytest.approx(-x * focal / 2.4 + 8, abs=0.1)
        assert worst.over_m == pytest.approx(-x + 8 * 2.4 / focal, abs=1e-3)

    def test_shadows_and_reflections_strain(self):
        far = replace(BETH, y_m=5.0)
        lit = twins(far, key_from_deg=90.0, key_elevation_deg=20.0, height_m=2.2, tilt_deg=-20.0)
        shadow = [c for c in crossings(case_of(lit, "right"), UPRIGHT) if c.part == "shadow"]
        assert shadow
        assert shadow[0].over_px > 0
        assert joined(lit, "right")["split"].verdict is Verdict.STRAINS
        shiny = replace(UPRIGHT, shine_m=0.75)
        parts = {c.part for c in crossings(case_of(twins(tilt_deg=-12.0), "right"), shiny)}
        assert "reflection" in parts

    def test_a_walk_over_the_line_names_its_frame(self):
        found = twins(ANNA, replace(BETH, speed_m_s=0.15, course_deg=270.0))
        worst = crossings(case_of(found, "right"), UPRIGHT)[0]
        assert worst.over_px > 0
        assert worst.frame == found.frames
        assert 0.0 < worst.share < 1.0

    def test_sides_and_lines_that_are_not_there(self):
        assert "split" not in joined(twins(), "clean")
        assert joined(replace(twins(), splits=(Split("s", "x", "left"),)), "left")[
            "split"
        ].verdict is (Verdict.STRAINS)

    def test_order_and_drift_of_the_passes(self):
        found = twins()
        case = case_of(found, "left")
        passes = passes_of(case, UPRIGHT)
        assert [p.name for p in passes] == ["Half A", "Half B", "Clean plate"]
        assert [p.done_min for p in passes] == [28.0, 56.0, 64.0]
        limit = drift_limit(case, UPRIGHT, None)
        assert limit.needed_min == 36.0
        soft = drift_limit(case, replace(UPRIGHT, feather_px=100.0), None)
        assert soft.light_stops > limit.light_stops


class TestThrow:
    def test_free_flight_by_the_book(self):
        """Projectile without air, g = 9.80665 m/s2 (CGPM 1901): straight up and down for one second
        takes off with g/2 and rises g/8."""
        up = Throw(0, 3, 1.0, 0, 3, 1.0, frame=1, frames=24)
        assert launch_m_s(up, 24.0) == pytest.approx([0, 0, G / 2])
        path = positions_m(up, 24.0)
        assert path[12, 2] - 1.0 == pytest.approx(G / 8)
        # Range on the level: v^2 sin(2a) / g (any mechanics text).
        far = Throw(0, 3, 0, 4.0, 3, 0, frame=1, frames=20)
        v = launch_m_s(far, 24.0)
        angle = math.atan2(v[2], v[0])
        assert np.dot(v, v) * math.sin(2 * angle) / G == pytest.approx(4.0)

    @given(st.floats(-2, 2), st.floats(0, 2), st.floats(-2, 2), st.floats(0, 2), st.integers(2, 40))
    def test_it_lands_where_it_was_sent(self, x0, z0, x1, z1, frames):
        throw = Throw(x0, 3.0, z0, x1, 3.0, z1, 1, frames)
        path = positions_m(throw, 24.0)
        assert path[0] == pytest.approx([x0, 3.0, z0])
        assert path[-1] == pytest.approx([x1, 3.0, z1])
        # Second differences are g, everywhere.
        bend = np.diff(path[:, 2], 2) * 24.0**2
        assert bend == pytest.approx(-G)

    def test_the_line_runs_ahead_and_comes_back(self):
        found = replace(twins(), splits=(replace(UPRIGHT, throw=THROW),))
        flown = flight(found, found.splits[0])
        assert flown is not None
        assert flown.crosses_frame is not None
        finding = joined(found, "left")["throw"]
        assert finding.verdict is Verdict.BREAKS
        follow = following(found, found.splits[0])
        assert follow is not None
        after = replace(found, splits=(follow,))
        again = flight(after, follow)
        assert again is not None
        assert again.crosses_frame is None
        landed = THROW.frame + THROW.frames
        assert line_at(follow, landed + 1, 1, 1)[0, 0] == pytest.approx(0.5)
        assert line_at(follow, THROW.frame, 1, 1)[0, 0] == pytest.approx(0.5)
        assert joined(after, "left")["throw"].verdict is finding.remedies[0].verdict
        # Who catches stays out until then, so the line may pass over that place.
        assert joined(after, "right")["split"].verdict is Verdict.HOLDS

    def test_too_high_a_throw_leaves_the_picture_and_a_flatter_one_does_not(self):
        high = replace(THROW, frames=26)
        found = replace(twins(), splits=(replace(UPRIGHT, throw=high),))
        finding = joined(found, "left")["throw"]
        assert "out of the picture" in finding.sentence
        flat = next(r for r in finding.remedies if "flatter" in r.sentence)
        after = flight(found, flat.shot["splits"][0])
        assert after is not None
        assert after.outside == ()
        # It still crosses, so the line must run ahead of it as well.
        assert "run ahead" in flat.sentence
        assert flat.verdict is Verdict.HOLDS

    def test_the_shot_must_last_that_long(self):
        found = replace(twins(), splits=(replace(UPRIGHT, throw=replace(THROW, frame=140)),))
        finding = joined(found, "left")["throw"]
        assert "ends before" in finding.sentence
        sooner = finding.remedies[-1]
        assert sooner.sentence.startswith(f"Throw at frame {found.frames - THROW.frames}")
        after = joined(replace(found, **sooner.shot), "left")["throw"]
        assert after.verdict is sooner.verdict is Verdict.HOLDS


class TestFlopped:
    def test_twice_is_the_shot_again(self):
        found = twins(
            key_from_deg=40.0, key_elevation_deg=30.0, pan_deg=5.0, move=Move(1.0, pan_deg=3.0)
        )
        again = mirrored(mirrored(found))
        assert again == found

    def test_the_picture_is_the_same_and_the_stage_is_mirrored(self):
        found = twins(ANNA, REACHING, pan_deg=3.0, roll_deg=1.0)
        flopped = changed(found, "right", flop=True)
        plain, other = (plate_report(f, f.plates[1], selected=True) for f in (found, flopped))
        assert plain.picture is not None
        assert other.picture is not None
        for a, b in zip(plain.picture.outlines, other.picture.outlines, strict=True):
            for p, q in zip(a.paths, b.paths, strict=True):
                # The same points; a mirrored figure is walked round the other way.
                for x, y in p:
                    assert np.abs(np.array(q) - (x, y)).max(axis=1).min() < 0.25
        assert other.marks[0].aside_m == pytest.approx(-plain.marks[0].aside_m)
        by_key = {f.key: f.verdict for f in plain.findings}
        assert {f.key: f.verdict for f in other.findings if f.key != "lock"} == {
            k: v for k, v in by_key.items() if k != "lock"
        }

    def test_eyelines_are_mirrored_and_what_betrays_it_is_listed(self):
        looking = replace(BETH, looks_at_id="anna")
        found = twins(ANNA, looking, key_from_deg=60.0, key_elevation_deg=30.0)
        flopped = changed(found, "right", flop=True)
        plain, other = (plate_report(f, f.plates[1], selected=True) for f in (found, flopped))
        assert plain.study is not None
        assert other.study is not None
        assert other.study.eyelines[0].turn_deg == pytest.approx(-plain.study.eyelines[0].turn_deg)
        told = tricks(case_of(flopped, "right"))
        words = " ".join(h.what + h.do for h in told.handed)
        assert "comes from the left" in words
        assert "parting" in words
        assert tricks(case_of(found, "right")).handed == ()

    def test_what_is_drawn_over_the_picture_stays_where_the_story_has_it(self):
        """Arms, and the line of a rig, of a mirrored plate come back with its picture."""
        lamp = StandIn("lamp", "Lamp", "box", 0.4, 2.6, 0.9, 0.2, 0.3, 0.2, plate_id="right")
        found = changed(twins(ANNA, REACHING, lamp), "right", rig=Rig("lamp", "rod"))
        plain, other = (
            {m.role: np.array(m.path) for m in report(f, selected="right").marks}
            for f in (found, changed(found, "right", flop=True))
        )
        for role in ("reach", "rig"):
            for x, y in plain[role]:
                assert np.abs(other[role] - (x, y)).max(axis=1).min() < 0.25, role

    def test_it_crosses_the_same_line(self):
        found = twins(ANNA, REACHING)
        flopped = changed(found, "right", flop=True)
        a = crossings(case_of(found, "right"), found.splits[0])[0]
        case = case_of(flopped, "right")
        b = crossings(case, case.shot.splits[0])[0]
        assert (a.over_px, a.part) == (pytest.approx(b.over_px), b.part)


def test_the_picture_shows_line_feather_reach_and_flight():
    found = replace(twins(ANNA, REACHING), splits=(replace(UPRIGHT, throw=THROW),))
    roles = [m.role for m in report(found, at=0.07).marks]
    assert roles.count("feather") == 2
    assert {"divider", "reach", "flight", "thrown"} <= set(roles)
    assert {CLEAN.id, RIGHT.id} < set(report(found).locks[0].plate_ids)


class TestDays:
    JUNE, NEXT, DECEMBER = (
        datetime.date(2026, 6, 21),
        datetime.date(2026, 6, 22),
        datetime.date(2026, 12, 21),
    )

    def filmed(self, first, second, **more):
        found = changed(twins(), "left", film_on=first, **more)
        return changed(found, "right", film_on=second, **more)

    def test_on_one_day_or_without_days_there_is_nothing_to_say(self):
        for first, second in ((self.JUNE, self.JUNE), (None, self.JUNE), (self.JUNE, None)):
            assert "days" not in joined(self.filmed(first, second), "right")
        assert "days" not in joined(self.filmed(self.JUNE, self.NEXT), "left")

    def test_indoors_a_night_between_strains_it(self):
        found = joined(self.filmed(self.JUNE, self.NEXT, room_id="garage"), "right")["days"]
        assert found.verdict is Verdict.STRAINS
        assert "untouched for 1 night." in found.sentence
        assert "sun" not in found.sentence

    def test_the_next_day_the_sun_comes_back_and_in_december_it_does_not(self):
        near = joined(self.filmed(self.JUNE, self.NEXT, room_id="yard"), "right")["days"]
        assert near.verdict is Verdict.STRAINS
        far = joined(self.filmed(self.JUNE, self.DECEMBER, room_id="yard"), "right")["days"]
        assert far.verdict is Verdict.BREAKS
        # Between the solstices its way lies 2 x 23.44 degrees apart (any almanac).
        assert far.workings[0].result.value == pytest.approx(46.9, abs=0.3)
        (way,) = far.remedies
        assert way.changes == {"film_on": self.JUNE}

    @settings(max_examples=20)
    @given(st.integers(1, 180))
    def test_it_is_the_difference_of_declinations(self, later):
        # The same hour angle brings it as near as it comes (ephem's declinations).
        day = self.JUNE + datetime.timedelta(days=later)
        found = joined(self.filmed(self.JUNE, day, room_id="yard"), "right")["days"]
        down = []
        for date in (self.JUNE, day):
            sun = ephem.Sun()
            sun.compute(f"{date} 12:00:00")
            down.append(math.degrees(sun.dec))
        assert found.workings[0].result.value == pytest.approx(abs(down[0] - down[1]), abs=0.35)
