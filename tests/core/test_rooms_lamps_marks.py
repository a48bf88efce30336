"""What stands around a stage: lamps, walls, marks, mirrors, shadows; how large a set must be."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from jungoptic.core import light
from jungoptic.core.impossible import Impossible
from jungoptic.core.judging import judge_plate
from jungoptic.core.judging.unasked import unasked
from jungoptic.core.lighting.action import action_point_m
from jungoptic.core.lighting.lamps import lux_from, lux_placed
from jungoptic.core.lighting.owned import for_action, light_there, lux_owned, owned_distance_m
from jungoptic.core.lighting.story_key import key_light, shadow_on_ground, towards_key
from jungoptic.core.mirror import mirror_need
from jungoptic.core.plan import Lamp, Room
from jungoptic.core.plan.findings import Verdict, worst
from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.core.planner.kit_choices import kit_choices
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.marks import eyelines, eyes_m, fixed_points, marks, place_from_tapes
from jungoptic.core.stage.rooms import room_fit
from jungoptic.core.study.detail import details
from jungoptic.core.study.set_extent import set_extent
from jungoptic.core.words.quantities import length

from .any_shot import any_shots
from .examples import ANSA, KIT, MILL, STAND_INS
from .stages import FULL, GARAGE, TUBES, YARD, case_of, findings, one, placed


class TestLamps:
    @pytest.mark.parametrize("distance", [0.3, 0.7, 1.0, 2.5, 8.0])
    def test_a_disc_source_by_numerical_integration(self, distance):
        # A disc that shines like paper, summed ring by ring: E = L * integral cos^4 / d^2 dA.
        size, lux = 0.6, 1000.0
        r = (np.arange(4000) + 0.5) / 4000 * size / 2
        ring = 2 * math.pi * r * (size / 2 / 4000)

        def summed(d: float) -> float:
            return float(np.sum(d * d / (d * d + r * r) ** 2 * ring))

        assert lux_from(lux, size, distance) == pytest.approx(
            lux * summed(distance) / summed(1.0), rel=1e-4
        )

    def test_beyond_five_diameters_it_is_the_inverse_square(self):
        # The five-times rule of photometry: within 1 % (common practice).
        near, far = lux_from(1000, 0.2, 1.0), lux_from(1000, 0.2, 4.0)
        assert near / far == pytest.approx(16, rel=0.01)

    def test_lamps_add_and_dim(self):
        alone = one(MILL, plate_lamps=(placed(y=1.5),))
        both = one(MILL, plate_lamps=(placed(y=1.5), replace(placed(y=1.5), level=0.5)))
        first = lux_placed(alone, alone.plates[0])
        assert first is not None
        assert lux_placed(both, both.plates[0]) == pytest.approx(1.5 * first)

    def test_a_reading_counts_before_lamps(self):
        lit = one(MILL, plate_lamps=(placed(),), plate_light_lux=640.0)
        assert light_there(case_of(lit)) == (640.0, "as metered")

    def test_all_lamps_owned_are_counted_where_none_are_placed(self):
        indoors = one(MILL, plate_room_id="garage")
        case = case_of(indoors)
        away = owned_distance_m(case)
        assert away >= 1.0
        by_hand = sum(x.count * lux_from(x.lux_at_1m, x.size_m, away) for x in FULL.lamps)
        assert lux_owned(case) == pytest.approx(by_hand)
        found = findings(indoors)["light"]
        assert "all lamps owned" in found.sentence

    def test_under_the_sky_nothing_is_known(self):
        outdoors = one(MILL, plate_room_id="yard")
        assert light_there(case_of(outdoors)) is None

    @given(st.floats(3.0, 11.0), st.floats(12.0, 70.0), st.floats(100.0, 260.0))
    def test_lamps_owned_are_told_for_where_they_can_stand(self, away, focal, side):
        """By hand: about the action in the six directions, out of the picture and in the room."""
        shot = one(ANSA, plate_room_id="hall", key_from_deg=side, key_elevation_deg=30.0)
        hall = Room("hall", "Hall", 14.0, 9.0, 5.0)
        things = tuple(replace(s, y_m=away) if s.id == "ansa" else s for s in shot.stand_ins)
        shot = replace(
            shot,
            kit=replace(shot.kit, rooms=(hall,)),
            world=replace(shot.world, focal_mm=focal),
            stand_ins=things,
        )
        case = case_of(shot)
        at = np.array(action_point_m(case.shot, case.plate))
        camera = np.array(case.stage.camera.position_m)
        half = case.stage.camera.sensor_width_mm / 2 / case.stage.camera.focal_mm
        high = case.stage.camera.sensor_height_mm / 2 / case.stage.camera.focal_mm

        def stands(distance: float) -> bool:
            for turn in (0, -45, 45, -90, 90, 180):
                for up in (30.0, 35.0):
                    a, e = math.radians(side + turn), math.radians(up)
                    way = (math.sin(a) * math.cos(e), math.cos(a) * math.cos(e), math.sin(e))
                    x, y, z = at + distance * np.array(way)
                    right, down, ahead = case.stage.camera.axes @ (np.array((x, y, z)) - camera)
                    shown = ahead > 0 and abs(right) <= half * ahead and abs(down) <= high * ahead
                    fit = room_fit(case)
                    held = fit.left_m + 0.1 <= x <= fit.right_m - 0.1
                    held &= fit.rear_m + 0.1 <= y <= fit.front_m - 0.1
                    if held and 0.1 <= z <= 4.9 and not shown:
                        return True
            return False

        tried = [2.0 * part for part in (1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 0.7, 0.5, 0.35)]
        first = next((d for d in tried if stands(d)), None)
        if first is not None:
            assert owned_distance_m(case) == pytest.approx(first)
        else:
            assert owned_distance_m(case) == pytest.approx(float(np.linalg.norm(at - camera)))

    def test_neither_the_sun_nor_a_bounce_nor_the_screens_banks_light_the_action(self):
        lamps = tuple(
            Lamp(kind, kind, 1000.0, kind=kind) for kind in ("panel", "bank", "sun", "bounce")
        )
        kit = replace(FULL, lamps=lamps)
        live = replace(one(ANSA, plate_room_id="garage", plate_kind="live"), kit=kit)
        assert [x.id for x in for_action(case_of(live))[0]] == ["panel", "bank"]
        keyed = replace(one(ANSA, plate_room_id="garage", plate_kind="screen"), kit=kit)
        assert for_action(case_of(keyed)) == ([lamps[0]], False)
        assert "less the screen's banks" in findings(keyed)["light"].sentence
        # Where there is nothing else they do for both.
        banks = replace(keyed, kit=replace(kit, lamps=lamps[1:2]))
        assert for_action(case_of(banks)) == ([lamps[1]], True)

    def test_tubes_pulse_with_the_mains(self):
        lit = {"plate_lamps": (placed("tubes"),), "plate_room_id": "garage"}
        found = findings(one(MILL, **lit))["flicker"]
        assert found.verdict is Verdict.STRAINS
        assert found.remedies[0].changes == {"shutter_deg": 172.8}
        safe = findings(one(MILL, plate_shutter_deg=172.8, **lit))["flicker"]
        assert safe.verdict is Verdict.HOLDS
        fast = findings(one(MILL, plate_motion="gravity", plate_capture_fps=120.0, **lit))
        assert fast["flicker"].verdict is Verdict.BREAKS


class TestRooms:
    def test_what_a_stage_takes_adds_up(self):
        case = case_of(one(MILL, plate_room_id="garage", plate_table_m=0.8))
        fit = room_fit(case)
        assert fit is not None
        sensor = case.stage.camera.position_m[1] - case.stage.sensor_to_pupil_m * math.cos(
            math.radians(3)
        )
        farthest = (25 + 6) / 12
        # 0.6 m behind the camera is a judgement of ours.
        assert fit.length_needed_m == pytest.approx(farthest - sensor + 0.6)
        assert fit.along_m == 6.0
        assert fit.floor_m == -0.8
        assert fit.ceiling_m == pytest.approx(1.6)

    def test_a_performer_far_off_does_not_fit_into_a_garage(self):
        found = findings(one(ANSA, plate_room_id="garage"))["room"]
        assert found.verdict is Verdict.BREAKS
        assert "too short" in found.sentence
        yard = next(r for r in found.remedies if r.changes.get("room_id") == "yard")
        assert yard.verdict is Verdict.HOLDS

    def test_what_is_lacking_is_drawn(self):
        short = one(ANSA, plate_room_id="garage", plate_screen_height_m=9.0)
        drawn = report(short, selected="ansa").plates[0]
        assert drawn.elevation is not None
        fit = room_fit(case_of(short))
        assert fit is not None
        lacking = [s.points for s in drawn.elevation.shapes if s.role == "lacking"]
        # Beyond the wall, and above the ceiling.
        assert sorted(math.dist(*points) for points in lacking) == pytest.approx(
            sorted((fit.short_m, fit.low_m))
        )
        small = report(one(ANSA, plate_screen_width_m=0.5), selected="ansa").plates[0].plan
        assert small is not None
        assert len([s for s in small.shapes if s.role == "lacking"]) == 2  # to both sides
        whole = report(one(MILL, plate_room_id="garage"), selected="mill").plates[0].elevation
        assert whole is not None
        assert whole.room is not None
        assert whole.room[2] - whole.room[0] > whole.bounds[2] - whole.bounds[0]

    def test_too_low_and_too_narrow_are_said(self):
        tall = StandIn("t", "Tower", "box", 0, 3, 0, 1.0, 3.0, 1.0, 0, "ansa")
        assert (
            "too low"
            in findings(one(ANSA, plate_room_id="garage", stand_ins=(tall,)))["room"].sentence
        )
        wide = replace(tall, height_m=1.0, width_m=6.0)
        narrow = findings(one(ANSA, plate_room_id="garage", stand_ins=(wide,)))["room"]
        assert "too narrow" in narrow.sentence

    @pytest.mark.parametrize(
        ("block", "where"),
        [
            ((0.0, 4.5, 1.0, 1.0), "at the far end"),
            ((2.0, 1.5, 1.0, 1.0), "to the nearer side"),
            ((0.0, 1.5, 1.0, 2.2), "above"),
        ],
    )
    def test_it_is_said_where_it_is_tightest(self, block, where):
        x, y, wide, high = block
        thing = StandIn("t", "Block", "box", x, y, 0, wide, high, 0.5, 0, "ansa")
        near = one(ANSA, plate_kind="live", plate_room_id="garage", stand_ins=(thing,))
        fit = room_fit(case_of(near))
        assert fit is not None
        found = findings(near)["room"]
        assert found.verdict is Verdict.HOLDS
        sides = min(x - wide / 2 - fit.left_m, fit.right_m - x - wide / 2) - 0.1
        # To the far wall, the nearer side wall, the ceiling, which the camera needs some of too:
        # 100 mm beside and above, 120 mm from axis to top are judgements of ours.
        assert fit.ceiling_m is not None
        top = max(high, case_of(near).stage.camera.position_m[2] + 0.12)
        spare = min(fit.front_m - y - 0.5, sides, fit.ceiling_m - top - 0.1)
        assert f"tightest {where}, {length(spare)} to spare." in found.sentence

    def test_turning_swaps_length_and_width(self):
        turned = room_fit(case_of(one(MILL, plate_room_id="garage", plate_room_turned=True)))
        assert turned is not None
        assert (turned.along_m, turned.across_m) == (GARAGE.width_m, GARAGE.length_m)

    def test_a_base_cannot_sit_below_the_floor(self):
        found = findings(one(MILL, plate_table_m=0.01, plate_drop_m=0.05))["floor"]
        assert found.verdict is Verdict.BREAKS
        assert "raise the table" in found.sentence


class TestMarks:
    @given(
        st.floats(-3, 3),
        st.floats(0.2, 8),
        st.floats(-4, -0.5),
        st.floats(0.5, 4),
        st.floats(-1, 0.1),
    )
    def test_two_tapes_find_the_place_again(self, x, y, left, right, back):
        ends = (left, back), (right, back)
        a, b = (math.dist((x, y), end) for end in ends)
        assert place_from_tapes(*ends, a, b) == pytest.approx((x, y), abs=1e-6)

    def test_tapes_that_do_not_meet(self):
        with pytest.raises(ValueError, match="do not meet"):
            place_from_tapes((-1, 0), (1, 0), 0.3, 0.4)
        with pytest.raises(ValueError, match="same place"):
            place_from_tapes((1, 0), (1, 0), 0.3, 0.4)

    def test_marks_of_a_plate_lead_back_into_the_picture(self):
        # Tapes to floor place, to world, to the same pixel as the story has it.
        shot = one(MILL, plate_room_id="garage", plate_drop_m=0.05)
        case = case_of(shot)
        left, right = fixed_points(case)
        camera = shot.world.camera(shot.delivery)
        for mark in marks(case):
            x, y = place_from_tapes(
                (left.x_m, left.y_m), (right.x_m, right.y_m), mark.from_left_m, mark.from_right_m
            )
            stand_in = next(s for s in shot.stand_ins if s.id == mark.stand_in_id)
            want = camera.project(np.array([[stand_in.x_m, stand_in.y_m, stand_in.z_m]]), 1920, 804)
            seen = case.stage.camera.project(np.array([[x, y, mark.foot_m]]), 1920, 804)
            np.testing.assert_allclose(seen, want, atol=1e-6)

    def test_the_ends_of_the_tape_are_the_corners_behind_the_camera(self):
        left, right = fixed_points(case_of(one(MILL, plate_room_id="garage")))
        assert right.x_m - left.x_m == pytest.approx(5.4)
        assert left.y_m == right.y_m < 0
        chosen, _ = fixed_points(
            case_of(one(MILL, plate_room_id="garage", plate_fix_left_x_m=-0.5))
        )
        assert (chosen.x_m, chosen.chosen) == (-0.5, True)

    def test_tapes_that_cross_too_flat_are_called_weak(self):
        far = one(ANSA)  # 15 m ahead of two points 2 m apart: 7 degrees
        assert marks(case_of(far))[0].weak
        near = one(ANSA, plate_fix_left_x_m=-8.0, plate_fix_right_x_m=8.0)
        assert not marks(case_of(near))[0].weak


LOOKING = tuple(replace(s, looks_at_id="house") if s.id == "figure" else s for s in STAND_INS)


class TestEyelines:
    def test_the_look_over_the_mark_lands_on_its_target(self):
        case = case_of(one(ANSA, stand_ins=LOOKING, plate_ground_m=0.9))
        (line,) = eyelines(case)
        figure, house = LOOKING[3], LOOKING[0]
        # At life size, from the bridge's ground: the mark lies on the straight way of the look.
        eyes = np.array(eyes_m(figure)) - (0, 0, 0.9)
        seen = np.array(eyes_m(house)) - (0, 0, 0.9)
        mark = np.array([line.x_m, line.y_m, line.height_m])
        way, full = mark - eyes, seen - eyes
        assert np.linalg.norm(np.cross(way, full)) == pytest.approx(0, abs=1e-9)
        assert np.linalg.norm(way) == pytest.approx(line.distance_m) == pytest.approx(3.0)

    @pytest.mark.parametrize(("reach", "degrees"), [(1.0, 5.71), (2.0, 2.86), (3.0, 1.91)])
    def test_ten_centimetres_off(self, reach, degrees):
        # atan(0.1 / reach), worked by hand.
        target = replace(STAND_INS[0], x_m=2.6 + reach, y_m=15.4, z_m=0.9 + 1.68 * 0.936 - 3.5)
        (line,) = eyelines(case_of(one(ANSA, stand_ins=(LOOKING[3], target))))
        assert line.distance_m == pytest.approx(reach)
        assert line.error_deg == pytest.approx(degrees, abs=0.005)

    def test_who_looks_at_nothing_or_at_something_gone_has_none(self):
        assert eyelines(case_of(one(ANSA))) == ()
        gone = (replace(STAND_INS[3], looks_at_id="nobody"),)
        assert eyelines(case_of(one(ANSA, stand_ins=gone))) == ()


class TestMirror:
    @given(st.floats(0.05, 0.45), st.floats(0.02, 0.15), st.floats(0.001, 0.02))
    def test_every_ray_of_the_view_meets_the_glass(self, half_view, front, radius):
        need = mirror_need(half_view, front, radius)
        # The glass runs at 45 degrees through its middle; its far edge is half a side's depth on.
        start = front + 0.015
        far = start + 2 * need.half_height_m
        beam = radius + far * half_view
        assert beam <= need.half_height_m * (1 + 1e-9)
        assert need.side_m == pytest.approx(2 * need.half_height_m * math.sqrt(2))

    def test_too_wide_a_view(self):
        with pytest.raises(ValueError, match="too wide"):
            mirror_need(0.5, 0.05, 0.01)

    def test_a_mirror_lets_the_lens_go_lower_and_says_to_flop(self):
        low = one(MILL, height_m=0.9)
        assert findings(low)["floor"].verdict is Verdict.BREAKS
        by_mirror = findings(replace(low, plates=(replace(low.plates[0], mirror=True),)))["floor"]
        assert by_mirror.verdict is Verdict.HOLDS
        assert "flop it in post" in by_mirror.sentence
        assert any(r.changes.get("mirror") for r in findings(low)["floor"].remedies)


class TestShadows:
    @given(st.floats(-180, 180), st.floats(5, 80), st.floats(0.2, 9))
    def test_shadow_length_is_height_over_the_tangent(self, azimuth, elevation, height):
        top = np.array([[1.0, 12.0, height]])
        thrown = shadow_on_ground(top, 0.0, towards_key(azimuth, elevation))[0]
        assert math.dist(thrown[:2], (1.0, 12.0)) == pytest.approx(
            light.shadow_length_m(height, elevation)
        )
        assert thrown[2] == pytest.approx(0.0, abs=1e-9)

    def test_a_light_in_the_picture_throws_shadows_towards_the_camera(self):
        lit = one(MILL, key_from_deg=0.0, key_elevation_deg=10.0)
        key = key_light(lit, lit.world.camera(lit.delivery))
        assert key is not None
        assert key.at_px is not None
        assert key.at_px[0] == pytest.approx(960, abs=0.1)
        behind = one(MILL, key_from_deg=180.0, key_elevation_deg=10.0)
        found = key_light(behind, behind.world.camera(behind.delivery))
        assert found is not None
        assert found.at_px is None
        assert len(found.shadows) == 3  # the ground itself throws none

    def test_without_a_direction_there_is_no_key(self):
        assert key_light(one(MILL), one(MILL).world.camera(one(MILL).delivery)) is None


class TestSetCover:
    def test_a_card_across_the_view_against_shapely(self):
        # The card's outline in the picture, clipped to the padded frame, as shapely has it.
        card = StandIn("c", "Backing", "card", 1.0, 10.0, 0.0, 4.0, 3.0, 0.0, 0.0, "mill")
        shot = one(MILL, stand_ins=(card,), padding=0.1, plate_drop_m=0.05)
        found = set_extent(case_of(shot))
        camera = shot.world.camera(shot.delivery)
        corners = camera.project(measured_points(card).points, 1920, 804)[[0, 1, 3, 2]]
        frame = box(-192, -80.4, 2112, 884.4)
        share = Polygon(corners).intersection(frame).area / frame.area
        assert found.surfaces[0].share == pytest.approx(share, abs=0.01)
        assert found.bare == pytest.approx(1 - share, abs=0.01)
        assert found.surfaces[0].backs

    def test_how_wide_a_backing_must_be(self):
        card = StandIn("c", "Backing", "card", 0.0, 10.0, 0.0, 4.0, 3.0, 0.0, 0.0, "ansa")
        level = one(ANSA, stand_ins=(card,), plate_kind="live", tilt_deg=0.0)
        needed = set_extent(case_of(level)).surfaces[0]
        # Width over distance as sensor width over focal length, from the lens's own pupil.
        assert needed.needed_width_m == pytest.approx(10 * 24.9 / 32, rel=1e-6)
        tracked = replace(level, move=replace(level.move, right_m=2.0))
        wider = set_extent(case_of(tracked)).surfaces[0]
        assert wider.needed_width_m == pytest.approx(needed.needed_width_m + 2.0, rel=1e-6)

    def test_a_wall_that_fills_everything_leaves_nothing_bare(self):
        wall = StandIn("w", "Wall", "card", 0.0, 8.0, -9.0, 40.0, 40.0, 0.0, 0.0, "mill")
        found = set_extent(case_of(one(MILL, stand_ins=(wall,), plate_drop_m=0.05)))
        assert found.bare == 0.0
        assert "fills the frame" in found.advice

    @pytest.mark.parametrize("kind", ["miniature", "puppet", "screen", "element", "live"])
    def test_of_what_nobody_has_drawn_nothing_is_bare(self, kind):
        plate = replace(MILL, kind=kind, screen_width_m=0.0, screen_height_m=0.0)
        found = set_extent(case_of(one(plate, stand_ins=())))
        assert (found.drawn, found.surfaces) == (False, ())
        assert "beyond" not in found.advice or kind == "screen"
        wall = StandIn("w", "Wall", "card", 0.0, 8.0, 0.0, 1.0, 1.0, 0.0, 0.0, plate.id)
        assert set_extent(case_of(one(plate, stand_ins=(wall,)))).drawn


class TestDetail:
    def test_one_pixel_on_the_model_is_what_one_pixel_measures(self):
        shot = one(MILL, plate_drop_m=0.05)
        case = case_of(shot)
        found = {d.stand_in_id: d for d in details(case)}
        bridge = found["bridge"]
        # Two points a hair apart across the view at that distance, through the stage's own camera.
        camera = case.stage.camera
        tilt = math.radians(3)
        at = np.array([0, bridge.distance_m * math.cos(tilt), bridge.distance_m * math.sin(tilt)])
        start = at + camera.position_m
        pair = camera.project(np.stack([start, start + np.array([0.001, 0, 0])]), 1920, 804)
        assert 1.0 / (pair[1, 0] - pair[0, 0]) == pytest.approx(bridge.pixel_mm, rel=1e-6)

    def test_faces_turned_away_are_never_seen(self):
        found = {d.name: d for d in details(case_of(one(MILL, plate_drop_m=0.05)))}
        assert "back" in found["Bridge"].unseen
        assert "front" not in found["Bridge"].unseen
        assert "top" not in found["Bridge"].unseen  # the camera is higher than the bridge

    def test_behind_the_camera_nothing_is_built(self):
        behind = replace(STAND_INS[0], y_m=0.01, depth_m=0.0, x_m=-40.0, heading_deg=0.0)
        found = details(case_of(one(MILL, stand_ins=(behind, STAND_INS[1]), plate_drop_m=0.05)))
        assert all(d.in_frame == 0.0 for d in found if d.stand_in_id == behind.id)


def test_the_kit_without_something():
    left = FULL.without(frozenset({"tubes", "garage"})).lamps
    assert [x.id for x in left] == ["panel", "fresnel", "bank"]
    assert FULL.lamp("tubes") is TUBES
    assert FULL.room(None) is None


class TestUnasked:
    """A supervisor does not say that it holds before the room is known (common practice)."""

    def test_a_room_that_is_not_known_is_asked_for(self):
        found = unasked(case_of(one(MILL, plate_room_id=None)))
        assert [u.key for u in found] == ["room"]
        assert found[0].needs.startswith("The stage fits in")
        assert unasked(case_of(one(MILL, plate_room_id="garage"))) == ()

    @settings(max_examples=30)
    @given(any_shots())
    def test_the_rooms_offered_are_those_that_have_room(self, found):
        for plate in found.plates:
            bare = replace(plate, room_id=None)
            try:
                case = Case.of(replace(found, plates=(bare,)), bare)
            except Impossible:
                continue
            if case is None or plate.kind == "still":
                continue
            told = next(u for u in unasked(case) if u.key == "room")
            # Each tried as a person would try it.
            whole = [
                room
                for room in found.kit.rooms
                if (tried := case.tried({"room_id": room.id})) is not None
                and {f.key: f for f in judge_plate(tried)}["room"].verdict is not Verdict.BREAKS
            ]
            assert [(r.room_id, r.name) for r in told.rooms] == [(r.id, r.name) for r in whole[:3]]
            assert all(room.name in told.needs for room in whole)
            # One that alone has room is meant, but for what is filmed where the story is.
            alone = len(whole) == 1 and plate.kind != "live"
            assert told.only_place == (whole[0].id if alone else None)

    def test_one_place_alone_is_chosen_with_the_kit(self):
        hall = replace(GARAGE, length_m=30.0, width_m=30.0, height_m=9.0)
        low = replace(GARAGE, id="shed", name="Shed", length_m=1.0, width_m=1.0)
        bare = one(ANSA, plate_room_id=None, plate_lens_id=None)
        bare = replace(bare, kit=replace(bare.kit, rooms=(hall, low)))
        chosen = kit_choices(bare, bare.plates[0])[0]
        assert chosen.changes["room_id"] == "garage"
        assert chosen.sentence.endswith(", in the Garage.")
        after = replace(bare, plates=(replace(bare.plates[0], **chosen.changes),))
        assert worst(judge_plate(case_of(after))) is chosen.verdict
        # Not where there is a choice, nor where it was chosen, nor out of the story's own place.
        for other in (
            replace(bare, kit=replace(bare.kit, rooms=(*bare.kit.rooms, YARD))),
            replace(bare, plates=(replace(bare.plates[0], room_id="shed"),)),
            replace(bare, plates=(replace(bare.plates[0], kind="live"),)),
        ):
            assert "room_id" not in kit_choices(other, other.plates[0])[0].changes

    def test_a_cloth_hangs_in_the_room_too(self):
        (told,) = unasked(case_of(one(ANSA, plate_room_id=None)))
        assert "cloth" in told.needs

    def test_a_picture_that_is_found_needs_no_room(self):
        assert unasked(case_of(one(MILL, plate_kind="still"))) == ()

    def test_a_plate_that_films_nothing_says_so(self):
        bare = one(MILL, stand_ins=(), plate_room_id="garage")
        assert [u.key for u in unasked(case_of(bare))] == ["things"]
        # The clean plate of a lock-off is asked with the others.
        clean = one(MILL, stand_ins=(), plate_room_id="garage", plate_lock_group="A")
        assert unasked(case_of(clean)) == ()

    def test_without_any_room_it_says_where_to_begin(self):
        bare = replace(one(MILL, plate_room_id=None), kit=KIT)
        assert "Add its room to the kit" in unasked(case_of(bare))[0].needs
