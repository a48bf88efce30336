"""A zoom, made in post: what the story shows is checked against OpenCV with a longer focal length
at every frame, what it asks of a stage against the arithmetic of a crop."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core import thin_lens
from jungoptic.core.breakdown.recipes import BY_KEY
from jungoptic.core.breakdown.recipes.tricks import tricks_for
from jungoptic.core.cards.card import card_lines
from jungoptic.core.filmed.rough import placed as laid
from jungoptic.core.judging.depth import measure
from jungoptic.core.judging.move import zoom_smear
from jungoptic.core.judging.numbers import asked
from jungoptic.core.judging.view import takes as view_takes
from jungoptic.core.lockoff.divider import shown_at
from jungoptic.core.lockoff.roto import motion_px
from jungoptic.core.lockoff.strips import crossings, strip
from jungoptic.core.lockoff.throw import flight
from jungoptic.core.plan import Move, Shot
from jungoptic.core.plan.mirrored import as_recorded
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.report.shot_report import plate_report
from jungoptic.core.stage.in_frame import as_at_tightest, in_story
from jungoptic.render.picture import recordable

from .any_shot import any_shots
from .examples import ANSA, MILL, shot
from .stages import case_of, findings, one
from .test_locked import THROW
from .twins import case_of as twin_case
from .twins import twins

ZOOMS = st.one_of(st.floats(0.2, 0.95), st.floats(1.05, 6.0))
EASES = st.sampled_from(["even", "in", "out", "both"])


def by_opencv(found: Shot, part: float, points: np.ndarray) -> np.ndarray:
    """The story's picture of points by a camera with the focal length that the zoom has then."""
    camera = found.move.moved(found.world.camera(found.delivery), part)
    gone = {
        "even": part,
        "in": part**2,
        "out": 1 - (1 - part) ** 2,
        "both": part**2 * (3 - 2 * part),
    }
    focal = found.world.focal_mm * found.move.zoom ** gone[found.move.ease]
    wide, high = found.delivery.width_px, found.delivery.height_px
    per_mm = wide / found.world.sensor_width_mm
    matrix = np.array([[focal * per_mm, 0, wide / 2], [0, focal * per_mm, high / 2], [0, 0, 1]])
    shift = -camera.axes @ np.asarray(camera.position_m)
    pixels, _ = cv2.projectPoints(points, cv2.Rodrigues(camera.axes)[0], shift, matrix, None)
    return pixels.reshape(-1, 2)


class TestWhatTheStoryShows:
    @given(ZOOMS, EASES, st.floats(-1.0, 1.0), st.floats(-4.0, 4.0))
    @settings(max_examples=25, deadline=None)
    def test_every_frame_is_opencv_s_with_the_focal_length_of_that_frame(self, zoom, ease, up, pan):
        found = one(MILL, move=Move(up_m=abs(up), pan_deg=pan, zoom=zoom, ease=ease))
        seen = in_story(found)
        assert seen.mesh is not None
        for frame in (0, 50, seen.frames - 1):
            points = seen.to_world(
                seen.at[:, :, frame], np.full(len(seen.at), frame, dtype=np.intp)
            )
            ahead = seen.at[:, 2, frame] > 0.1
            wanted = by_opencv(found, float(seen.parts[frame]), points[ahead])
            assert seen.pixels[ahead][:, :, frame] == pytest.approx(wanted, rel=1e-6, abs=1e-3)

    @given(any_shots(), ZOOMS)
    @settings(max_examples=40, deadline=None)
    def test_the_last_frame_is_that_of_a_lens_so_much_longer(self, found, zoom):
        """Of any shot: what is in the picture, how near, and where its edges lie."""
        zoomed = in_story(replace(found, move=replace(found.move, zoom=zoom)))
        world = replace(found.world, focal_mm=found.world.focal_mm * zoom)
        longer = in_story(replace(found, world=world, move=replace(found.move, zoom=1.0)))
        last, end = zoomed.frames - 1, longer.frames - 1
        for name in ("shows", "near_m", "far_m", "left_px", "top_px", "right_px", "bottom_px"):
            ours, theirs = getattr(zoomed, name)[:, last], getattr(longer, name)[:, end]
            assert np.asarray(ours, float) == pytest.approx(
                np.asarray(theirs, float), rel=1e-6, abs=1e-3, nan_ok=True
            )

    def test_an_even_zoom_grows_by_the_same_part_at_every_frame(self):
        zooms = Move(zoom=4.0, ease="even").zooms(np.linspace(0.0, 1.0, 49))
        assert zooms is not None
        steps = zooms[1:] / zooms[:-1]
        assert steps == pytest.approx(np.full(48, 4.0 ** (1 / 48)))

    def test_one_that_does_not_zoom_is_told_as_before(self):
        assert Move(pan_deg=3.0).zooms(np.linspace(0.0, 1.0, 5)) is None
        assert Move().still
        assert Move(zoom=2.0).stands
        assert not Move(zoom=2.0).still


class TestWhatItAsksOfAStage:
    @given(ZOOMS)
    def test_the_widest_view_is_filmed_and_the_tightest_has_the_fewest_pixels(self, zoom):
        """By the arithmetic of a crop: 1,920 delivered pixels of a sensor part so wide."""
        case = case_of(one(MILL, move=Move(zoom=zoom)))
        first = case.stage.pinhole_mm / 32.0
        widest, tightest = first / min(zoom, 1.0), first / max(zoom, 1.0)
        assert case.stage.crop_across == pytest.approx(widest)
        recorded = 4096 * min(widest, 1.0)
        assert case.stage.pixels_across == pytest.approx(recorded * tightest / widest)
        assert case.stage.coc_mm == pytest.approx(2.0 * 24.9 * tightest / 1920, rel=1e-9)

    @given(st.floats(3.5, 6.0))
    @settings(max_examples=10, deadline=None)
    def test_what_it_would_take_is_enough(self, zoom):
        """A mode so wide, or so much less of a zoom, leaves as many pixels as strain."""
        case = case_of(one(MILL, move=Move(zoom=zoom)))
        other, _ = view_takes(case, 1.0)
        wide = int(re.search(r"mode ([\d,]+) px", other).group(1).replace(",", ""))
        assert wide / 4096 * case.stage.pixels_across >= 0.65 * 1920 * 0.999
        assert "lens" not in other
        less = float(re.search(r"zoom of ([\d.]+) times", other).group(1))
        left = case_of(one(MILL, move=Move(zoom=less))).stage.pixels_across
        assert left == pytest.approx(0.65 * 1920, rel=0.02)

    def test_a_zoom_out_needs_a_lens_as_short_as_its_last_view(self):
        said = findings(one(MILL, move=Move(zoom=0.5)))["view"]
        assert said.verdict.value == "breaks"
        assert "too long" in said.sentence

    def test_pixels_are_told_at_both_ends(self):
        said = findings(one(MILL, move=Move(zoom=2.0)))["view"]
        assert "where the zoom has closed in, of" in said.sentence
        assert "at its widest" in said.sentence
        assert findings(one(MILL))["view"].sentence.endswith("%).")

    @given(st.floats(1.5, 6.0), EASES)
    @settings(max_examples=20, deadline=None)
    def test_a_departure_shows_as_large_as_the_zoom_makes_it(self, zoom, ease):
        """A camera that stands elsewhere, compared by OpenCV at the last frame."""
        found = one(
            MILL, move=Move(zoom=zoom, ease=ease), plate_axis_height_m=0.15, plate_tilt_deg=3.0
        )
        case = case_of(found)
        rows = np.flatnonzero(case.compared.frames == case.seen.frames - 1)
        here = case.stage_pixels[rows]
        camera = case.stage.camera
        grown = replace(found, move=replace(found.move, zoom=zoom))
        scaled = replace(
            grown,
            world=replace(
                grown.world,
                focal_mm=camera.focal_mm,
                sensor_width_mm=camera.sensor_width_mm,
                height_m=camera.position_m[2],
            ),
        )
        points = case.plate.on_stage(case.compared.points[rows])
        assert here == pytest.approx(by_opencv(scaled, 1.0, points), rel=1e-6, abs=1e-3)

    @given(st.floats(1.2, 5.0))
    @settings(max_examples=10, deadline=None)
    def test_a_reframe_comes_before_the_zoom(self, zoom):
        """What only a shift would mend is mended at every frame, however close."""
        case = case_of(one(MILL, move=Move(zoom=zoom)))
        world, closer = case.compared.world_px, case.compared.closer
        assert closer is not None
        shifted = world + np.array([7.0, -4.0]) * closer[:, None]
        plain, fitted = case.compared.apart(world, shifted)
        assert plain.max_px == pytest.approx(math.hypot(7, 4) * closer.max())
        assert fitted.max_px < 1e-6
        move = case.compared.reframe(shifted, np.arange(len(world)))
        assert (move.shift_x_px, move.shift_y_px) == pytest.approx((-7.0, 4.0), abs=1e-6)
        left = case.compared.off_px(shifted, move, np.arange(len(world)))
        assert left == pytest.approx(np.zeros(len(world)), abs=1e-6)


class TestSharpness:
    hedge = StandIn("hedge", "Hedge", "box", -1.2, 4.0, 0, 0.6, 1.4, 0.3, 0, "mill")

    @given(st.floats(1.2, 6.0), EASES, st.sampled_from([None, 20.0, 25.0]), st.floats(4.0, 22.0))
    @settings(max_examples=30, deadline=None)
    def test_the_worst_blur_is_that_of_the_worst_frame(self, zoom, ease, focus, stop):
        """Lens equation at every frame by itself (Hecht, ch. 5), over what two pixels of that
        frame's view are on the sensor."""
        found = one(
            MILL,
            stand_ins=(*shot().stand_ins, self.hedge),
            move=Move(zoom=zoom, ease=ease),
            plate_focus_world_m=focus,
            plate_f_number=stop,
        )
        case = case_of(found)
        stage, seen = case.stage, case.seen
        rows = seen.numbers(case.own)
        worst = 0.0
        for frame in range(seen.frames):
            zooms = zoom ** _eased(frame / (seen.frames - 1), ease)
            allowed = 2.0 * stage.camera.sensor_width_mm / zooms / 1920
            for ends in (seen.near_m, seen.far_m):
                for away in ends[rows, frame]:
                    if math.isnan(away):
                        continue
                    disc = thin_lens.blur_disc(
                        stage.focal_mm, stop, stage.focus_m * 1000.0, away / 12.0 * 1000.0
                    )
                    worst = max(worst, float(disc) / allowed)
        measured = asked(measure, case)
        assert measured is not None
        assert float(measured.short) == pytest.approx(worst, rel=1e-3)

    @given(
        st.lists(st.floats(1.0, 30.0), min_size=2, max_size=12),
        st.floats(1.1, 8.0),
    )
    def test_no_other_focus_leaves_less(self, depths, zoom):
        """Against every focus on a fine grid."""
        near = np.sort(np.array(depths))[None]
        far = near * 1.5
        zooms = np.linspace(1.0, zoom, near.shape[1])
        asked_near, asked_far = as_at_tightest(near, far, zooms, None)
        ours = (1.0 / asked_near.min() - 1.0 / asked_far.max()) / 2.0
        part = zooms / zooms.max()
        grid = np.linspace(1.0 / far.max(), 1.0 / near.min(), 4001)[:, None, None]
        worst = np.maximum(part * (1.0 / near - grid), part * (grid - 1.0 / far)).max(axis=(1, 2))
        assert ours <= worst.min() + 1e-9
        assert ours == pytest.approx(worst.min(), abs=1e-3)

    def test_what_only_the_wide_view_shows_may_be_softer(self):
        """A hedge that the zoom leaves behind: with the tightest view's blur disc it would not
        hold, and nobody sees it there."""
        found = one(
            MILL,
            stand_ins=(*shot().stand_ins, self.hedge),
            move=Move(zoom=6.0),
            plate_f_number=11.0,
            plate_focus_world_m=25.0,
        )
        case = case_of(found)
        assert case.stage.ends is not None
        near = case.stage.ends[0]
        assert near.at_m < near.world_m
        assert near.thing.name == "Hedge"


class TestMotion:
    @given(ZOOMS, EASES)
    @settings(max_examples=15, deadline=None)
    def test_nothing_moves_on_set_because_of_it(self, zoom, ease):
        case = case_of(one(MILL, move=Move(zoom=zoom, ease=ease)))
        assert case.motion.still
        said = findings(case.shot)
        assert not {"blur", "step", "skew"} & said.keys()

    def test_who_walks_is_filmed_as_fast_as_the_delivered_picture_shows(self):
        """Half way through an even zoom of 4 he is twice as large, and goes twice as far."""
        walker = StandIn("a", "Ansa", "figure", 0, 15, 0, 0.5, 1.7, 0, 0, "ansa", 1.2, 90.0)
        plain = case_of(one(ANSA, stand_ins=(walker,)))
        closer = case_of(one(ANSA, stand_ins=(walker,), move=Move(zoom=4.0, ease="even")))
        before, after = plain.motion.fastest, closer.motion.fastest
        assert before is not None
        assert after is not None
        part = (after.frame - 1) / (closer.shot.frames - 1)
        assert after.step_px == pytest.approx(before.step_px * 4.0**part, rel=0.01)
        # The rows are read of the widest view: no lean grows by cutting it down.
        assert closer.motion.sideways is not None
        assert plain.motion.sideways is not None
        assert closer.motion.sideways.step_px == pytest.approx(
            plain.motion.sideways.step_px, rel=0.01
        )

    def test_its_smear_is_what_the_sides_grow_by_while_the_shutter_is_open(self):
        """By hand: 6 s of an even zoom of 8 at 24 a second and 180 degrees are 143 steps of
        1.4648 %, of 960 pixels, half of them exposed: 7.03 pixels."""
        smear, _ = zoom_smear(one(MILL, move=Move(zoom=8.0, ease="even")))
        assert smear == pytest.approx(960 * (8 ** (1 / 143) - 1) / 2)
        assert smear == pytest.approx(7.03, abs=0.01)
        said = findings(one(MILL, move=Move(zoom=8.0, ease="even")))["move"]
        assert "the zoom closes in 8 times, made in post" in said.sentence
        assert "smear over 7" in said.sentence

    def test_a_slow_one_asks_for_no_smear(self):
        said = findings(one(MILL, move=Move(zoom=0.97)))["move"]
        assert "opens out" in said.sentence
        assert "smear" not in said.sentence


class TestRecordings:
    @given(ZOOMS, EASES, st.floats(0.0, 1.0), st.floats(-4.0, 4.0), st.floats(8.0, 30.0))
    @settings(max_examples=40, deadline=None)
    def test_a_point_is_found_where_the_widest_view_was_recorded(self, zoom, ease, part, x, y):
        """OpenCV with the lens on the stage, all of its sensor."""
        found = one(MILL, move=Move(zoom=zoom, ease=ease), plate_lens_id="l20", plate_drop_m=1.0)
        case = case_of(found)
        point = np.array([[x, y, 1.0]])
        (shown,) = by_opencv(found, part, point)
        place = laid(found, case.plate, case, (4096, 2160), 1920, part)
        assert place is not None
        there = place @ np.array([*(shown - 0.5), 1.0]) + 0.5
        per_mm = 4096 / 24.9
        focal = case.stage.pinhole_mm * per_mm
        matrix = np.array([[focal, 0, 2048.0], [0, focal, 1080.0], [0, 0, 1.0]])
        camera = case.stage.camera
        shift = -camera.axes @ np.asarray(camera.position_m)
        recorded, _ = cv2.projectPoints(
            case.plate.on_stage(point), cv2.Rodrigues(camera.axes)[0], shift, matrix, None
        )
        assert there == pytest.approx(recorded.reshape(2), abs=0.05)

    @given(ZOOMS)
    @settings(max_examples=10, deadline=None)
    def test_the_camera_of_the_day_films_the_widest_view_all_along(self, zoom):
        found = one(MILL, move=Move(zoom=zoom))
        planned, filmed = case_of(found), recordable(found, MILL)
        assert filmed.shot.move.still
        assert filmed.stage.crop_across == pytest.approx(planned.stage.crop_across)
        assert filmed.stage.focus_m == pytest.approx(planned.stage.focus_m)
        assert as_recorded(one(MILL), MILL) == one(MILL)


def _eased(part: float, ease: str) -> float:
    return {
        "even": part,
        "in": part**2,
        "out": 1 - (1 - part) ** 2,
        "both": part**2 * (3 - 2 * part),
    }[ease]


class TestLinesBetweenPlates:
    @given(st.floats(1.1, 4.0), EASES)
    @settings(max_examples=15, deadline=None)
    def test_they_are_joined_before_it_and_nobody_comes_nearer(self, zoom, ease):
        """A line and its feather zoom with the plates: the tape on the floor stays where it is, and
        who is clear of it, or over it, is so at every frame."""
        plain, zoomed = twins(), twins(move=Move(zoom=zoom, ease=ease))
        before, after = (strip(twin_case(s, "left"), s.splits[0]) for s in (plain, zoomed))
        for a, b in zip(before, after, strict=True):
            assert (b.left_m, b.right_m) == pytest.approx((a.left_m, a.right_m), abs=2e-3)
        for a in crossings(twin_case(plain, "left"), plain.splits[0]):
            same = [
                b
                for b in crossings(twin_case(zoomed, "left"), zoomed.splits[0])
                if (b.stand_in_id, b.part) == (a.stand_in_id, a.part)
            ]
            assert same
            assert (same[0].over_px > 0) == (a.over_px > 0)

    def test_they_are_drawn_where_the_picture_shows_them(self):
        found = twins(move=Move(zoom=3.0))
        (line, feather), (end, wide) = (
            shown_at(found, found.splits[0], frame, 1920, 804) for frame in (1, found.frames)
        )
        assert end == pytest.approx((line - [960, 402]) * 3.0 + [960, 402])
        assert wide == pytest.approx(3.0 * feather)

    def test_a_flight_crosses_its_line_at_the_same_frame(self):
        """Both are of the plates; only where the picture shows them is as close as it is then."""
        thrown = replace(twins().splits[0], throw=THROW)
        plain, zoomed = twins(splits=(thrown,)), twins(splits=(thrown,), move=Move(zoom=3.0))
        before, after = flight(plain, thrown), flight(zoomed, thrown)
        assert before is not None
        assert after is not None
        assert after.crosses_frame == before.crosses_frame
        step = 6
        closer = 3.0 ** _eased((THROW.frame + step - 1) / (zoomed.frames - 1), "both")
        wanted = (np.array(before.path_px[step]) - [960, 402]) * closer + [960, 402]
        assert np.array(after.path_px[step]) == pytest.approx(wanted, abs=0.2)

    def test_cutting_by_hand_is_as_much_work_with_it(self):
        walker = StandIn("a", "Ansa", "figure", 0, 15, 0, 0.5, 1.7, 0, 0, "ansa", 1.2, 90.0)
        plain = one(ANSA, stand_ins=(walker,))
        zoomed = replace(plain, move=Move(zoom=1.5))
        assert motion_px(zoomed, ANSA)[0] == pytest.approx(motion_px(plain, ANSA)[0], rel=0.02)


def test_the_recipe_closes_in_once():
    """Applied where nothing zooms, it decides the zoom; where something does, it leaves it."""
    recipe = BY_KEY["zoom-to-life"]
    found = one(MILL)
    decided = tricks_for(found, recipe, {}, ["wide", "near"], lambda: "made")
    assert decided.zoom == 3.0
    assert "a zoom of 3 times, made in post" in decided.words
    again = replace(found, move=Move(zoom=2.0))
    assert tricks_for(again, recipe, {}, ["wide"], lambda: "made").zoom == 1.0
    assert tricks_for(found, recipe, {}, [], lambda: "made").zoom == 1.0


def test_the_card_says_that_nobody_zooms_on_set():
    def told(zoom: float) -> list[str]:
        case = case_of(one(MILL, move=Move(zoom=zoom)))
        lines = card_lines(case, plate_report(case.shot, case.plate, remedies=False))
        return [f"{line.value}: {line.detail}" for line in lines if line.label == "Zoom"]

    assert told(1.0) == []
    assert told(1.6) == ["in post: framed for the widest view; the story closes in 1.6 times"]
    assert told(0.5) == ["in post: framed for the widest view; the story begins 2 times closer"]
