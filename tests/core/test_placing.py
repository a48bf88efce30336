"""What is filmed near and placed in post, against OpenCV's camera, SciPy's fit, and plain
trigonometry."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from jungoptic.core.filmed import rough
from jungoptic.core.judging.placed import departs, looks_down_deg
from jungoptic.core.plan import Delivery, Move, Plate, Room, Shot, StandIn, WorldCamera
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.laid import laid
from jungoptic.core.plan.mirrored import as_told, placed_for, seen_by
from jungoptic.core.plan.placing import KEPT_AROUND, nearest_m
from jungoptic.core.plan.standins import body_points, measured_points
from jungoptic.core.report.judged import judged
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.told import to_story
from jungoptic.core.study.in_post import in_post, laid_at

from .examples import ANSA, MILL, USES
from .stages import FULL

#: A lamp-bearer high on a lock gate, seen from below, and small in the picture.
HIGH = StandIn("bearer", "Bearer", "figure", 4.0, 26.0, 7.0, 0.5, 1.7, 0.0, 0.0, "pose")
POSE = Plate(
    "pose",
    "Pose",
    "screen",
    f_number=5.6,
    ground_m=7.0,
    # On a stage of planks, with the camera on the floor beside it.
    drop_m=6.0,
    screen_width_m=2.5,
    screen_height_m=2.2,
    screen_sweep_m=1.5,
    placed_in_post=True,
    **USES,
)
WORLD = WorldCamera(24.9, 28.0, 1.6, tilt_deg=6.0)
DELIVERY = Delivery(1920, 804, 24.0)


def shot_of(thing=HIGH, plate=POSE, **changes) -> Shot:
    """A shot of one thing that is placed in post."""
    rest = {"delivery": DELIVERY, "world": WORLD, "kit": FULL, **changes}
    return Shot(stand_ins=(thing,), plates=(plate,), **rest)


def case_of(shot: Shot) -> Case:
    case = Case.of(shot, shot.plates[0])
    assert case is not None
    return case


def points_of(thing: StandIn):
    return np.concatenate([measured_points(thing).points, body_points(thing).points])


def opencv_px(camera, points, width, height):
    """Where OpenCV's pinhole has points (n, 3): axes right, down, ahead, as ours are told."""
    turn = np.asarray(camera.axes)
    at = -turn @ np.asarray(camera.position_m)
    focal = camera.focal_mm / camera.sensor_width_mm * width
    inside = np.array([[focal, 0, width / 2.0], [0, focal, height / 2.0], [0, 0, 1.0]])
    found, _ = cv2.projectPoints(points, cv2.Rodrigues(turn)[0], at, inside, None)
    return found[:, 0]


def best_fit(source, target):
    """The least squares similarity, by SciPy's general solver, and what it leaves."""

    def off(p):
        a, b, x, y = p
        moved = source @ np.array([[a, b], [-b, a]]) + (x, y)
        return (moved - target).ravel()

    found = least_squares(off, np.array([1.0, 0.0, 0.0, 0.0]), x_scale=(1e-3, 1e-3, 1.0, 1.0))
    return found.x, np.hypot(*off(found.x).reshape(-1, 2).T)


things = st.builds(
    lambda kind, x, y, z, tall, turn, speed, course: StandIn(
        "t", "T", kind, x, y, z, 0.3 * tall, tall, 0.4 * tall, turn, "pose", speed, course
    ),
    st.sampled_from(["figure", "box", "card"]),
    st.floats(-8, 8),
    st.floats(8, 60),
    st.floats(-2, 12),
    st.floats(0.5, 3.0),
    st.floats(-180, 180),
    st.sampled_from([0.0, 0.0, 1.5]),
    st.floats(-180, 180),
)
shots = st.builds(
    lambda thing, from_m, walks, flop, move, tilt, tall: shot_of(
        thing,
        replace(
            POSE,
            ground_m=thing.z_m,
            placed_from_m=from_m,
            walks_on_set=walks,
            flop=flop,
            axis_height_m=tall,
        ),
        world=replace(WORLD, tilt_deg=tilt),
        move=move,
        screen_time_s=1.0,
    ),
    things,
    st.sampled_from([None, 4.0, 7.5]),
    st.booleans(),
    st.booleans(),
    st.sampled_from([Move(), Move(right_m=1.0), Move(away_m=3.0, pan_deg=4.0)]),
    st.floats(-5, 15),
    st.sampled_from([None, 1.2]),
)


@settings(max_examples=80, deadline=None)
@given(shots)
def test_how_it_is_laid_in_is_what_opencv_and_scipy_say(shot):
    plate = shot.plates[0]
    own = seen_by(shot, plate)
    assume(own.placing is not None)
    case = case_of(shot)
    told = departs(case)
    assume(told is not None)
    part, worst = told
    thing = shot.stand_ins[0]
    camera = shot.move.moved(shot.world.camera(shot.delivery), part)
    there = opencv_px(camera, points_of(thing.after(shot.time.after(part))), 1920, 804)
    # What its stage has of it: on its mark, or on its way.
    filmed_thing = own.stand_ins[0].after(own.time.after(part))
    w, h = own.delivery.width_px, own.delivery.height_px
    spots = points_of(filmed_thing)
    if plate.flop:
        # The story's left shoulder is the right one of who plays it in the mirrored half.
        spots = points_of(filmed_thing.mirrored()) * (-1.0, 1.0, 1.0)
    filmed = opencv_px(case.stage.camera, plate.on_stage(spots), w, h)
    if plate.flop:
        filmed[:, 0] = w - filmed[:, 0]
    inside = (there > (-96, -40.2)) & (there < (2016, 844.2))
    rows = inside.all(axis=1)
    fit, left = best_fit(filmed[rows], there[rows])
    assert worst.off_px == pytest.approx(left.max(), abs=2e-3 * max(1.0, left.max()))
    assert worst.move.scale == pytest.approx(math.hypot(fit[0], fit[1]), rel=1e-3)
    if not plate.flop:
        at = to_story(case, part) @ (filmed[rows][0][0], filmed[rows][0][1], 1.0)
        assert at[:2] == pytest.approx(there[rows][0], abs=left.max() + 0.01)


@settings(max_examples=60, deadline=None)
@given(shots)
def test_its_frame_holds_it_with_room_and_counts_the_storys_pixels(shot):
    own = seen_by(shot, shot.plates[0])
    assume(own.placing is not None)
    placing, thing = own.placing, own.stand_ins[0]
    camera = own.world.camera(own.delivery)
    w, h = own.delivery.width_px, own.delivery.height_px
    times = [placing.part] if placing.carried else np.linspace(0, 1, 25)
    spots = np.concatenate([points_of(thing.after(own.time.after(p))) for p in times])
    at = camera.project(spots, w, h)
    keep = KEPT_AROUND * 0.99
    assert (at >= (w * keep - 1, h * keep - 1)).all()
    assert (at <= (w * (1 - keep) + 1, h * (1 - keep) + 1)).all()
    laid_in = laid(own, camera, placing.part)
    assume(laid_in is not None)
    # Whole pixels: a frame of few is rounded.
    assert laid_in.move.scale == pytest.approx(1.0, abs=0.02)


class TestWhereItIsFilmedFrom:
    def test_the_line_of_sight_is_the_storys(self):
        case = case_of(shot_of())
        placing = case.shot.placing
        middle = np.array([4.0, 26.0, 7.85])
        away = middle - (0.0, 0.0, 1.6)
        assert placing.story_m == pytest.approx(np.linalg.norm(away), abs=0.02)
        down = -math.degrees(math.atan2(away[2], math.hypot(away[0], away[1])))
        assert placing.down_deg == pytest.approx(down, abs=0.05)
        assert looks_down_deg(case) == pytest.approx(down, abs=0.05)
        # The lens lies below the gate's top by as much as a line so steep falls.
        fall = placing.from_m * math.sin(math.radians(-down))
        assert case.stage.ideal_axis_m == pytest.approx(0.85 - fall, abs=0.01)

    def test_from_where_the_storys_camera_stands_nothing_departs(self):
        # In the middle of the picture, where turning the camera to it changes nothing either.
        tilt = math.degrees(math.atan2(7.0 + 1.7 / 2 - 1.6, 26.0))
        shot = shot_of(replace(HIGH, x_m=0.0), world=replace(WORLD, tilt_deg=tilt))
        there = seen_by(shot, POSE).placing.story_m
        far = replace(POSE, placed_from_m=there)
        found = case_of(replace(shot, plates=(far,)))
        assert departs(found)[1].off_px == pytest.approx(0.0, abs=1e-6)

    def test_as_near_as_nobody_notices_and_no_nearer(self):
        box = StandIn("cart", "Cart", "box", 0.0, 30.0, 0.0, 2.0, 2.0, 4.0, 20.0, "pose")
        shot = shot_of(box, replace(POSE, ground_m=0.0))
        placing = seen_by(shot, POSE).placing
        least = nearest_m(placing)
        assert 4.0 < least < placing.story_m

        def off(from_m):
            near = replace(shot.plates[0], placed_from_m=from_m)
            return departs(case_of(replace(shot, plates=(near,))))[1].off_px

        assert off(least) <= 2.0 < off(least * 0.97)
        # It falls with the distance, all the way.
        offs = [off(d) for d in np.linspace(6.0, placing.story_m, 8)]
        assert offs == sorted(offs, reverse=True)

    def test_a_performer_is_not_offered_from_under_her_nose(self):
        far = replace(HIGH, x_m=0.0, y_m=300.0, z_m=0.0)
        shot = shot_of(far, replace(POSE, ground_m=0.0))
        size = np.linalg.norm(np.ptp(points_of(far), axis=0))
        assert seen_by(shot, shot.plates[0]).placing.from_m >= 2.0 * size

    def test_a_camera_that_stands_too_high_is_told_by_how_many_degrees(self):
        shot = shot_of(plate=replace(POSE, axis_height_m=1.5, tilt_deg=-8.0, placed_from_m=4.0))
        found = {f.key: f for f in judged(shot, shot.plates[0], remedies=False).findings}["placed"]
        assert found.verdict is not Verdict.HOLDS
        assert "more down on it than the story's" in found.sentence

    def test_what_is_never_in_the_picture_is_filmed_as_ever(self):
        behind = replace(HIGH, y_m=-10.0)
        shot = shot_of(behind)
        assert seen_by(shot, POSE) is shot
        found = judged(shot, shot.plates[0], remedies=False)
        assert "in_frame" in {f.key for f in found.findings if f.verdict is Verdict.BREAKS}
        assert "placed" not in {f.key for f in found.findings}

    def test_a_crowd_is_not_placed(self):
        from jungoptic.core.plan.tricks import Crowd

        shot = shot_of(plate=replace(POSE, crowd=Crowd()))
        assert seen_by(shot, shot.plates[0]).placing is None


def placing_of(plate=POSE):
    shot = shot_of(plate=plate)
    found = seen_by(shot, plate).placing
    assert found is not None
    return found


class TestOneStageOfItsOwn:
    def test_asked_again_it_is_the_same(self):
        shot = shot_of()
        own = placed_for(shot, POSE)
        assert placed_for(own, POSE) is own
        assert as_told(own) is shot
        assert placed_for(own, replace(POSE, placed_in_post=False)) is shot

    def test_mirrored_and_back(self):
        flopped = replace(POSE, flop=True)
        shot = shot_of(plate=flopped)
        own = seen_by(shot, flopped)
        assert own.flopped
        assert as_told(own) is shot
        again = seen_by(own, replace(flopped, flop=False))
        assert not again.flopped
        assert again.placing is not None

    def test_a_lock_off_is_filmed_from_one_place(self):
        lead = replace(POSE, lock_group="A")
        clean = replace(POSE, id="clean", name="Clean", placed_in_post=False, lock_group="A")
        shot = replace(shot_of(plate=lead), plates=(lead, clean))
        both = [Case.of(shot, plate) for plate in (lead, clean)]
        assert both[0].stage.camera == both[1].stage.camera

    def test_its_outline_lies_where_the_story_has_it(self):
        shot = shot_of()
        told = report(shot, selected="pose")
        mine = np.concatenate([p for o in told.plates[0].picture.outlines for p in o.paths])
        story = np.concatenate([p for o in told.world.outlines for p in o.paths])
        assert mine.shape == story.shape
        assert np.hypot(*(mine - story).T).max() < 2.5

    def test_pixels_are_the_storys_own(self):
        # Twice as near, half as many are left of the same lens; recorded over delivered.
        near, far = (case_of(shot_of(plate=replace(POSE, placed_from_m=d))) for d in (7, 14))
        assert far.stage.pixels_across == pytest.approx(near.stage.pixels_across / 2, rel=0.03)
        shared = near.shot.delivery.height_px / far.shot.delivery.height_px
        assert shared == pytest.approx(1.0, abs=0.02)


class TestCarried:
    WALK = replace(HIGH, speed_m_s=2.0, course_deg=90.0, x_m=-4.0)

    def test_post_moves_what_stays_on_its_mark(self):
        shot = shot_of(self.WALK, screen_time_s=2.0)
        rows = laid_at(case_of(shot))
        # The first frame shows it as it starts, the last 4 m on, each by the story's camera.
        camera = shot.world.camera(shot.delivery)

        def middle(thing):
            spots = points_of(thing)
            at = (spots.min(axis=0) + spots.max(axis=0)) / 2.0
            return camera.project(at[None], 1920, 804)[0]

        for row, seconds in ((rows[0], 0.0), (rows[-1], 2.0)):
            there = middle(self.WALK.after(seconds))
            assert (row.x_px, row.y_px) == pytest.approx(there, abs=2.0)
        assert [row.frame for row in rows] == list(range(1, 49))

    def test_it_smears_in_the_story_and_not_as_filmed(self):
        told = in_post(case_of(shot_of(self.WALK, screen_time_s=2.0)))
        # 2 m/s at 27 m through 28 mm on 24.9 mm, 24 frames a second, half of each exposed.
        rough_px = 2.0 / 24.0 * 0.5 * 28.0 / 24.9 * 1920 / 26.5
        assert told.smear_px == pytest.approx(rough_px, rel=0.1)

    def test_going_its_way_on_set_needs_a_wider_frame(self):
        still = seen_by(shot := shot_of(self.WALK), shot.plates[0])
        goes = replace(POSE, walks_on_set=True, placed_from_m=still.placing.from_m)
        walks = seen_by(shot := shot_of(self.WALK, goes), goes)
        assert walks.delivery.width_px > 1.5 * still.delivery.width_px
        assert walks.stand_ins[0].speed_m_s == 2.0


class TestWhatPostAdds:
    def test_softness_of_what_it_stands_in(self):
        house = StandIn("house", "House", "box", -5, 25, 0, 6, 7, 6, 0, "mill")
        soft = replace(MILL, f_number=2.0, focus_world_m=9.0)
        shot = replace(shot_of(), plates=(POSE, soft), stand_ins=(HIGH, house))
        told = in_post(case_of(shot))
        stage = Case.of(shot, soft).stage
        focal, u = stage.focal_mm / 1000.0, 9.0 / 12.0
        x = placing_of().story_m / 12.0
        disc = focal**2 / 2.0 * abs(x - u) / (x * (u - focal))
        px = disc * 1000.0 / stage.camera.sensor_width_mm * 1920
        assert told.soften_px == pytest.approx(px, rel=0.02)
        assert told.softer_name == "Mill"

    def test_haze_by_its_distance_in_the_story(self):
        told = in_post(case_of(shot_of(visibility_m=200.0)))
        story_m = placing_of().story_m
        assert told.haze == pytest.approx(1.0 - 0.02 ** (story_m / 200.0), rel=1e-6)


class TestWaysOut:
    def test_a_room_too_short_is_answered_with_it(self):
        plain = replace(ANSA, room_id="garage", screen_width_m=2.0, screen_height_m=2.2)
        plain = replace(plain, screen_gap_m=1.0, ground_m=0.9)
        thing = StandIn("figure", "Ansa", "figure", 2.6, 15.4, 0.9, 0.5, 1.68, 0, 0, "ansa")
        shot = shot_of(thing, plain, world=replace(WORLD, tilt_deg=0.0))
        found = {f.key: f for f in judged(shot, plain).findings}["room"]
        assert found.verdict is Verdict.BREAKS
        way = next(r for r in found.remedies if r.changes.get("placed_in_post"))
        after = replace(plain, **way.changes)
        then = judged(replace(shot, plates=(after,)), after, remedies=False)
        assert then.by_key["room"].verdict is Verdict.HOLDS
        assert then.by_key["placed"].verdict is Verdict.HOLDS

    def test_a_lens_too_long_may_stand_farther_back(self):
        near = replace(POSE, placed_from_m=4.0, lens_id="l50")
        shot = shot_of(plate=near)
        found = judged(shot, near).by_key["view"]
        assert found.verdict is Verdict.BREAKS
        way = next(r for r in found.remedies if "placed_from_m" in r.changes)
        then = replace(near, **way.changes)
        assert judged(replace(shot, plates=(then,)), then).by_key["view"].verdict is Verdict.HOLDS

    def test_what_is_not_cut_out_is_asked_how(self):
        live = replace(POSE, kind="live")
        found = judged(shot := shot_of(plate=live), shot.plates[0]).by_key["placed"]
        assert found.verdict is Verdict.STRAINS
        assert "cut out" in found.sentence

    def test_a_room_that_is_not_chosen_offers_nothing_of_it(self):
        room = Room("barn", "Barn", 60.0, 20.0, 6.0)
        plain = replace(ANSA, room_id="barn")
        shot = replace(shot_of(HIGH, plain), kit=replace(FULL, rooms=(room,)))
        found = judged(shot, plain).by_key["room"]
        assert not any(r.changes.get("placed_in_post") for r in found.remedies)


def test_a_recording_is_laid_where_the_story_has_it():
    # A white spot in a recording where the stage's camera has the head comes out at the story's.
    shot = shot_of()
    case = case_of(shot)
    mode = case.choice.mode
    size = mode.width_px, mode.height_px
    place = rough.placed(shot, POSE, case, size, 1920, 0.0)
    head = np.array([[4.0, 26.0, 8.7]])
    there = shot.world.camera(shot.delivery).project(head, 1920, 804)[0]
    on_film = place @ (there[0] - 0.5, there[1] - 0.5, 1.0)
    spot = points_of(case.shot.stand_ins[0])[2]
    w, h = case.shot.delivery.width_px, case.shot.delivery.height_px
    filmed = case.stage.camera.project(POSE.on_stage(spot[None]), w, h)[0]
    per_px = mode.width_px * case.stage.crop_across / w
    centred = (filmed - (w / 2, h / 2)) * per_px + (size[0] / 2 - 0.5, size[1] / 2 - 0.5)
    # To what seeing it from nearer costs here.
    assert on_film == pytest.approx(centred, abs=(departs(case)[1].off_px + 0.01) * per_px)


def test_laid_in_behind_nothing_it_is_keyed():
    shot = shot_of()
    (piece,) = rough.laid_in(shot)
    assert piece.how == "key"
    assert piece.near_m == 26.0
