"""Where a camera turns and from where it is measured: parallax of a pan, pupils, and tapes."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from jungoptic.core import optics, thin_lens
from jungoptic.core.cards.takes import Taken, judge_take, planned_numbers
from jungoptic.core.judging.turning import arm_m, shift
from jungoptic.core.plan import Kit, Move, Plate
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.stage.compared import compared
from jungoptic.core.stage.turning import wander_m

from .examples import ANSA, MILL, prime
from .stages import case_of, findings, one
from .twins import ANNA, BETH, LEFT, twins

#: A lens whose entrance pupil lies 48 mm before the sensor mark of the cinema body (flange 44 mm).
LONG = prime(28, length_mm=60.0, pupil_from_mount_mm=4.0)
NEAR = StandIn("post", "Post", "box", 0.0, 3.6, 0.9, 0.3, 1.0, 0.3, plate_id="mill")
FAR = StandIn("hill", "Hill", "card", 0.0, 120.0, 0.0, 300.0, 30.0, plate_id="mill")


def panned(**changes: object):
    """A pan of 20 degrees over a table at 1:12, the camera under its sensor mark."""
    found = one(
        MILL,
        stand_ins=(NEAR, FAR),
        move=Move(pan_deg=20.0, ease="even"),
        plate_drop_m=0.05,
        plate_lens_id=LONG.id,
        **{"plate_turns_about": "mark", "tilt_deg": 0.0, **changes},
    )
    kit = Kit(found.kit.bodies, (LONG,), found.kit.lamps, found.kit.rooms)
    return replace(found, kit=kit, plates=(*found.plates, ANSA))


class TestParallax:
    def test_over_a_hundred_pixels_on_a_table_at_one_to_twelve(self):
        # Baseline x sin(turn) x focal length in pixels over the distance: 48 mm, 20 degrees,
        # 300 mm away, 28 mm over the used width.
        case = case_of(panned())
        found = shift(case, 0.048, 0.0)
        assert found is not None
        assert found.px > 100.0
        assert found.name.startswith("Post")
        by_hand = 0.048 * math.sin(math.radians(20.0)) * 32.0 / 24.9 * 1920 / 0.3
        assert found.px == pytest.approx(by_hand, rel=0.25)

    def test_by_hand_for_a_point_straight_ahead_at_the_end(self):
        # The pupil swings round the mark: by b (sin a, cos a - 1) to the right and ahead.
        off = wander_m(panned(), np.array([0.0, 6.0]), 0.048, 0.0)
        a = math.radians(20.0)
        assert off[1] == pytest.approx([0.048 * math.sin(a), 0.048 * (math.cos(a) - 1.0), 0.0])

    def test_a_tilt_lifts_a_lens_that_stands_over_its_head(self):
        tilted = one(MILL, move=Move(tilt_deg=30.0), tilt_deg=0.0)
        off = wander_m(tilted, np.array([0.0, 6.0]), 0.0, 0.1)
        a = math.radians(30.0)
        assert off[1] == pytest.approx([0.0, -0.1 * math.sin(a), 0.1 * (math.cos(a) - 1.0)])

    def test_it_breaks_and_a_slide_mends_it(self):
        found = findings(panned())["turning"]
        assert found.verdict is Verdict.BREAKS
        assert "sensor mark, 48.0 mm behind the entrance pupil: Post" in found.sentence
        slid = next(r for r in found.remedies if "slide_mm" in r.changes)
        assert slid.changes == {"slide_mm": 48.0}
        assert findings(panned(plate_slide_mm=48.0))["turning"].verdict is Verdict.HOLDS

    def test_a_camera_on_its_pupil_or_without_a_turn_is_not_asked(self):
        assert "turning" not in findings(panned(plate_turns_about="pupil"))
        assert "turning" not in findings(one(MILL, move=Move(right_m=1.0)))

    def test_a_shot_of_one_plate_has_nothing_to_shift_against(self):
        alone = panned()
        assert "turning" not in findings(replace(alone, plates=alone.plates[:1]))

    def test_the_socket_of_the_body_counts(self):
        found = panned(plate_turns_about="socket")
        body = replace(found.kit.bodies[0], socket_mm=20.0)
        known = replace(found, kit=replace(found.kit, bodies=(body, *found.kit.bodies[1:])))
        assert arm_m(case_of(known)) == pytest.approx((0.028, 0.0))
        assert arm_m(case_of(found)) == pytest.approx((0.048, 0.0))
        assert "taken to be under the sensor mark" in findings(found)["turning"].sentence

    @given(st.floats(-0.2, 0.2), st.floats(-60, 60), st.floats(0.0, 0.3))
    @settings(max_examples=30, deadline=None)
    def test_the_pupil_keeps_its_distance_from_what_it_turns_about(self, ahead, pan, above):
        found = one(MILL, move=Move(pan_deg=pan, tilt_deg=20.0), pan_deg=15.0, roll_deg=30.0)
        off = wander_m(found, np.linspace(0.0, 6.0, 7), ahead, above)
        # Its arm at the start, by the story's own first direction.
        tilt, turn = math.radians(3.0), math.radians(15.0)
        level = np.array([math.sin(turn), math.cos(turn), 0.0])
        arm = ahead * (level * math.cos(tilt) + np.array([0, 0, math.sin(tilt)]))
        arm += above * (np.array([0, 0, math.cos(tilt)]) - level * math.sin(tilt))
        lengths = np.linalg.norm(off + arm, axis=1)
        assert lengths == pytest.approx(math.hypot(ahead, above))


RATIOS = st.floats(0.4, 2.5)


class TestPupils:
    """A lens as two principal planes and two pupils, traced by its defining equations: Newton's
    x x' = f^2 for image planes, and the pupils as images of each other with magnification P."""

    @staticmethod
    def traced(focal: float, ratio: float, from_pupil: float) -> tuple[float, float]:
        """(magnification, image distance from the exit pupil), mm, for an object so far from the
        entrance pupil."""
        # The entrance pupil is imaged onto the exit pupil P times as large: it lies f (1 - 1/P)
        # before the front principal plane, the exit pupil f (P - 1)... behind the rear one.
        object_to_principal = from_pupil + focal * (1.0 - 1.0 / ratio)
        image = brentq(
            lambda v: 1.0 / object_to_principal + 1.0 / v - 1.0 / focal, focal * 1.0000001, 1e9
        )
        exit_pupil = focal * (1.0 - ratio)
        return image / object_to_principal, image - exit_pupil

    @given(st.floats(10, 200), RATIOS, st.floats(1.5, 80))
    @settings(max_examples=80, deadline=None)
    def test_magnification_and_image_distance(self, focal, ratio, times):
        u = times * focal * max(1.0, 1.0 / ratio)
        m, from_exit = self.traced(focal, ratio, u)
        assert thin_lens.magnification(focal, u, ratio) == pytest.approx(m, rel=1e-6)
        # f (P + m) from the exit pupil; seen from the entrance pupil the angle is P times that.
        assert thin_lens.pinhole(focal, m, ratio) == pytest.approx(from_exit / ratio, rel=1e-6)
        assert thin_lens.pinhole(focal, m, ratio) == pytest.approx(m * u, rel=1e-6)

    @given(st.floats(10, 200), RATIOS, st.floats(2, 60), st.floats(1.05, 20), st.floats(1.4, 22))
    @settings(max_examples=80, deadline=None)
    def test_the_blur_disc_is_the_cone_from_the_exit_pupil(self, focal, ratio, times, more, stop):
        u = times * focal * max(1.0, 1.0 / ratio)
        x = u * more
        _, sensor = self.traced(focal, ratio, u)
        _, sharp = self.traced(focal, ratio, x)
        # The exit pupil is P f / N wide; the cone to the sharp image is cut by the sensor.
        cone = ratio * focal / stop * abs(sensor - sharp) / sharp
        got = optics.blur_disc_mm(focal, stop, u / 1000.0, x / 1000.0, ratio)
        assert got == pytest.approx(cone, rel=1e-5)

    @given(st.floats(10, 200), RATIOS, st.floats(2, 60), st.floats(1.4, 22))
    @settings(max_examples=80, deadline=None)
    def test_the_ends_of_the_depth_blur_by_the_disc(self, focal, ratio, times, stop):
        u = times * focal * max(1.0, 1.0 / ratio) / 1000.0
        depth = optics.depth_of_field(focal, stop, u, 0.02, ratio)
        assert optics.blur_disc_mm(focal, stop, u, depth.near_m, ratio) == pytest.approx(0.02)
        if math.isfinite(depth.far_m):
            assert optics.blur_disc_mm(focal, stop, u, depth.far_m, ratio) == pytest.approx(0.02)

    @given(st.floats(12, 80), RATIOS, st.floats(0.6, 20))
    @settings(max_examples=40, deadline=None)
    def test_a_zoom_matches_the_view_with_any_pupil(self, pinhole, ratio, focus):
        focal = thin_lens.matching_focal(pinhole, focus * 1000.0, ratio)
        m = thin_lens.magnification(focal, focus * 1000.0, ratio)
        assert thin_lens.pinhole(focal, m, ratio) == pytest.approx(pinhole)


class TestTapes:
    def test_height_of_mark_and_front_on_a_tilted_camera(self):
        # s sin(tilt) and s cos(tilt): trigonometry of a straight lens.
        known = panned(tilt_deg=20.0)
        stage = case_of(known).stage
        sine, cosine = math.sin(math.radians(20.0)), math.cos(math.radians(20.0))
        assert stage.axis_m - stage.mark_height_m == pytest.approx(0.048 * sine)
        assert stage.front_height_m - stage.axis_m == pytest.approx((0.104 - 0.048) * sine)
        assert stage.front_level_m == pytest.approx(0.104 * cosine)

    def test_a_take_taped_at_the_mark_is_the_plan_when_it_says_so(self):
        shot = one(ANSA, tilt_deg=8.0)
        plan = planned_numbers(case_of(shot))
        result = judge_take(shot, shot.plates[0], Taken(axis_height_m=plan.axis_height_m))
        match = next(f for f in result.findings if f.key == "mismatch")
        assert match.sentence.startswith("Off by 0.0 px")

    def test_new_plates_turn_about_the_socket(self):
        assert Plate("p", "P", "live").turns_about == "socket"


class TestWhatIsCompared:
    """A pass of a lock-off must agree where the others film the same room; who is cut out of it
    need not."""

    def test_what_stands_just_outside_the_frame_is_not_compared(self):
        # Within the twentieth of a frame beside it, where points of what is seen still count.
        shot = one(ANSA)
        half = shot.world.sensor_width_mm / 2.0 / shot.world.focal_mm
        beside = StandIn("ida", "Ida", "figure", half * 10.0 * 1.06 + 0.3, 10.0, plate_id="ansa")
        names = {n.split(":")[0] for n in compared(replace(shot, stand_ins=(beside,)), ANSA).names}
        assert "Ida" not in names
        within = replace(beside, x_m=half * 10.0 - 0.1)
        names = {n.split(":")[0] for n in compared(replace(shot, stand_ins=(within,)), ANSA).names}
        assert "Ida" in names

    def test_a_half_that_shows_the_room_is_compared_at_what_its_partners_film(self):
        wall = StandIn("wall", "Wall", "card", 0.0, 3.5, 0.0, 3.4, 2.4, plate_id="clean")
        shot = twins(ANNA, BETH, wall)
        names = {n.split(":")[0] for n in compared(shot, LEFT).names}
        assert {"Anna", "Beth", "Wall at the edge of the frame"} <= names
        keyed = {n.split(":")[0] for n in compared(shot, replace(LEFT, cut="key")).names}
        assert keyed == {"Anna"} or keyed == {"Anna", "Anna at the edge of the frame"}

    def test_a_still_sky_has_no_corners_to_match(self):
        sky = StandIn("sky", "Sky", "card", 0.0, 400.0, 0.0, 900.0, 300.0, plate_id="mill")
        assert compared(one(MILL, stand_ins=(sky,)), replace(MILL, kind="still")).names == ()

    def test_a_performer_cut_out_of_a_cloth_does_not_answer_for_the_ground(self):
        names = compared(one(ANSA), ANSA).names
        assert names
        assert all(n.startswith("Ansa") for n in names)

    def test_a_set_answers_for_the_feet_that_stand_on_it(self):
        names = compared(one(MILL), MILL).names
        assert "Ansa: feet" in names
        assert "Ansa: eyes" not in names
