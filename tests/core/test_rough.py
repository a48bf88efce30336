"""A rough composite by the plan: what lies where, which frame is shown when, and what it says."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed import rough_judged as judging
from jungoptic.core.filmed.pair import Pair
from jungoptic.core.filmed.rough import cut_to, keyed_from, laid_in, placed, post_move, shown_when
from jungoptic.core.lockoff.pieces import pieces, side_matte
from jungoptic.core.pictures.align import Alignment, Exposure
from jungoptic.core.pictures.fitting import cut, fitted
from jungoptic.core.pictures.keying import matte
from jungoptic.core.pictures.masking import before_cloth
from jungoptic.core.pictures.trial import Trial
from jungoptic.core.plan import Plate, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.tricks import RampKey, Reframe, ReframeKey
from jungoptic.core.stage.case import Case

from .examples import ANSA, MILL, shot, with_plate
from .twins import CLEAN, LEFT, RIGHT, twins


def cased(found: Shot, plate: Plate) -> Case:
    case = Case.of(found, plate)
    assert case is not None
    return case


def applied(place: Any, x: float, y: float) -> Any:
    return place @ np.array([x, y, 1.0])


class TestWhereItLies:
    @given(
        st.floats(-3.0, 3.0),
        st.floats(6.0, 60.0),
        st.floats(0.0, 6.0),
        st.sampled_from(["l28", "l20"]),
        st.sampled_from([480, 960, 1920]),
        st.sampled_from([(4096, 2160), (2048, 1080), (1366, 720)]),
    )
    @settings(max_examples=60)
    def test_what_the_camera_records_of_the_miniature_is_shown_where_the_story_has_it(
        self, x, y, z, lens, width, size
    ):
        """Through OpenCV's camera model and the thin lens equation 1/f = 1/u + 1/v."""
        found = with_plate(MILL, lens_id=lens, tilt_deg=None)
        plate = found.plates[0]
        case = cased(found, plate)
        stage, world = case.stage, found.world
        focal = case.choice.lens.focal_min_mm
        # A stage's distances count from the entrance pupil, which a thin lens is.
        v = 1.0 / (1.0 / focal - 1.0 / (stage.focus_m * 1000.0))
        # The point in the story, and where it stands on the stage.
        tilt = np.radians(world.tilt_deg)
        right, up, ahead = x, z - world.height_m, y
        eye = np.array(
            [
                right,
                -(up * np.cos(tilt) - ahead * np.sin(tilt)),
                up * np.sin(tilt) + ahead * np.cos(tilt),
            ]
        )
        if eye[2] < 1.0:
            return
        here = eye / plate.scale
        wide, high = size
        fx = v / case.choice.mode.sensor_width_mm * wide
        lens_matrix = np.array([[fx, 0, wide / 2], [0, fx, high / 2], [0, 0, 1]])
        recorded, _ = cv2.projectPoints(here[None], np.zeros(3), np.zeros(3), lens_matrix, None)
        wanted_fx = world.focal_mm / world.sensor_width_mm * width
        delivered = (
            eye[0] / eye[2] * wanted_fx + width / 2,
            eye[1] / eye[2] * wanted_fx + width / found.delivery.aspect / 2,
        )
        place = placed(found, plate, case, size, width)
        # Pixels are told by their middles.
        told = applied(place, delivered[0] - 0.5, delivered[1] - 0.5) + 0.5
        assert np.allclose(told, recorded[0, 0], atol=0.02 * wide / 1920)

    def test_a_mirrored_plate_is_turned_round(self):
        found = with_plate(replace(MILL, flop=True))
        plain = with_plate(MILL)
        one, two = (
            placed(f, f.plates[0], cased(f, f.plates[0]), (4096, 2160), 960) for f in (plain, found)
        )
        for x, y in ((0.0, 0.0), (700.0, 100.0), (959.0, 401.0)):
            assert np.allclose(applied(one, x, y), applied(two, 959.0 - x, y), atol=1e-6)

    def test_a_camera_too_high_is_moved_back_as_post_would(self):
        """Where a point of the story is recorded by a camera that stands elsewhere, there the map
        looks for it, to what the best move in post leaves."""
        found = with_plate(MILL, axis_height_m=0.16, tilt_deg=3.0)
        plate = found.plates[0]
        case = cased(found, plate)
        assert post_move(case) is not None
        plain, fitted_px = case.matched
        assert fitted_px.max_px < plain.max_px
        place = placed(found, plate, case, (4096, 2160), 1920)
        across = 4096 * case.stage.crop_across / 1920
        world = case.compared.world_px
        stage = case.stage_pixels
        rows = np.isfinite(world + stage).all(axis=1)
        there = np.array([applied(place, *(p - 0.5)) for p in world[rows]]) + 0.5
        filmed = (stage[rows] - [960.0, 402.0]) * across + [2048.0, 1080.0]
        off = np.hypot(*(there - filmed).T) / across
        assert off.max() == pytest.approx(fitted_px.max_px, rel=0.02)

    def test_one_that_stands_as_planned_is_left_alone(self):
        assert post_move(cased(shot(), ANSA)) is None

    def test_without_a_camera_it_is_as_wide_as_the_recording(self):
        found = with_plate(MILL, lens_id=None)
        place = placed(found, found.plates[0], None, (1920, 1080), 960)
        assert np.allclose(applied(place, -0.5, -0.5), (-0.5, (1080 - 804) / 2 - 0.5))
        assert np.allclose(applied(place, 959.5, 401.5), (1919.5, (1080 + 804) / 2 - 0.5))


class TestFitting:
    def test_a_picture_shrunk_keeps_its_light(self):
        rng = np.random.default_rng(1)
        fine = np.repeat(rng.random((200, 300, 1), dtype=np.float32), 3, axis=2)
        place = np.array([[3.0, 0.0, 1.0], [0.0, 3.0, 1.0]])
        shown, there = fitted(fine, place, 100, 66)
        assert there.min() > 0.99
        assert shown.mean() == pytest.approx(fine.mean(), abs=0.005)
        # Grain averages out: what lies under each pixel counts, not one in nine.
        assert shown.std() < fine.std() / 2.2

    def test_beyond_the_recording_there_is_nothing(self):
        place = np.array([[1.0, 0.0, -20.0], [0.0, 1.0, 0.0]])
        _, there = fitted(np.ones((50, 60, 3), np.float32), place, 60, 50)
        assert there[:, :19].max() == 0.0
        assert there[:, 21:].min() == 1.0

    def test_a_cut_is_what_lies_within_it(self):
        ramp = np.repeat(np.linspace(0, 1, 200, dtype=np.float32)[None, :, None], 100, axis=0)
        shown = cut(np.repeat(ramp, 3, axis=2), (0.25, 0.25, 0.75, 0.75))
        assert shown[50, 1, 0] == pytest.approx(0.25, abs=0.01)
        assert shown[50, -2, 0] == pytest.approx(0.75, abs=0.01)
        assert cut(shown, None) is shown

    def test_the_shots_own_reframe_is_what_is_cut(self):
        assert cut_to(shot(), 1) is None
        closer = shot(reframe=Reframe(keys=(ReframeKey(1, 0.5, 0.5, 2.0),)))
        assert cut_to(closer, 1) == pytest.approx((0.25, 0.25, 0.75, 0.75))


class TestWhatIsShownWhen:
    def test_what_rolls_at_its_own_rate_shows_frame_after_frame(self):
        assert shown_when(shot(), ANSA) == list(range(144))

    def test_a_puppet_is_held_as_its_sheet_says(self):
        puppet = with_plate(MILL, kind="puppet")
        assert shown_when(puppet, puppet.plates[0], [1, 3, 5, 9])[:10] == [
            *(0, 0, 1, 1, 2, 2, 2, 2, 3, 3),
        ]
        # Without a sheet it is animated on ones.
        assert shown_when(puppet, puppet.plates[0])[:3] == [0, 1, 2]

    def test_a_ramp_is_obeyed(self):
        found = with_plate(ANSA, ramp=(RampKey(49, 0.5),))
        numbers = shown_when(found, found.plates[0])
        assert numbers[:49] == list(range(49))
        assert numbers[49:55] == [48, 49, 49, 50, 50, 51]

    @given(st.lists(st.tuples(st.integers(2, 140), st.floats(0.1, 4.0)), max_size=4))
    @settings(max_examples=40)
    def test_any_ramp_is_what_its_speeds_add_up_to(self, keys):
        """By NumPy's running sum; what is shown never runs back."""
        ramp = tuple(RampKey(f, s) for f, s in dict(keys).items())
        found = with_plate(ANSA, ramp=ramp)
        numbers = shown_when(found, found.plates[0])
        speeds = np.ones(144)
        for key in sorted(ramp, key=lambda k: k.frame):
            speeds[key.frame - 1 :] = key.speed
        gone = np.concatenate([[0.0], np.cumsum(speeds)[:-1]])
        assert np.abs(np.array(numbers) - gone).max() < 1.0
        assert (np.diff(numbers) >= 0).all()


class TestWhatGoesIn:
    def test_a_performer_is_keyed_over_the_miniature(self):
        told = [(p.plate.id, p.how, p.colour) for p in laid_in(shot())]
        assert told == [("mill", "whole", ""), ("ansa", "key", "green")]

    def test_halves_each_have_their_side_and_their_clean_plate_repeats_them(self):
        assert [(p.plate.id, p.how) for p in laid_in(twins())] == [
            ("left", "side"),
            ("right", "side"),
        ]

    def test_behind_what_is_cut_out_the_clean_plate_is_the_picture(self):
        found = twins(plates=(replace(LEFT, cut="roto"), CLEAN), splits=())
        assert {p.plate.id: p.how for p in laid_in(found)} == {"left": "outline", "clean": "whole"}
        # Beside a take that is kept whole it is another take of the same.
        whole = twins(plates=(replace(LEFT, cut="none"), CLEAN), splits=())
        assert [p.id for p in pieces(whole)] == ["left"]

    def test_what_nothing_is_filmed_of_is_not_what_lies_behind(self):
        sky = Plate("sky", "Sky", "still")
        found = shot(plates=(MILL, ANSA, sky))
        assert {p.plate.id: p.how for p in laid_in(found)}["sky"] == "whole"
        only = {p.plate.id: p.how for p in laid_in(found, 0.0, {"mill", "ansa"})}
        assert (only["mill"], only["sky"]) == ("whole", "outline")

    def test_somebody_of_whom_nobody_said_where_stands_before_everything(self):
        nowhere = Plate("ben", "Ben", "screen")
        order = [p.plate.id for p in laid_in(shot(plates=(nowhere, MILL, ANSA)))]
        assert order == ["mill", "ansa", "ben"]

    def test_colours_are_those_of_the_plan(self):
        assert keyed_from(replace(ANSA, screen_colour="blue")) == "blue"
        assert keyed_from(replace(MILL, kind="element")) == "black"
        assert keyed_from(replace(MILL, kind="live", cut="luma")) == "sky"
        assert keyed_from(replace(MILL, kind="live", cut="luma", screen_colour="white")) == "white"
        assert keyed_from(MILL) == ""

    def test_the_sides_of_a_divider_make_one_whole(self):
        found = twins()
        one, two = (side_matte(found, p, 0.0, 96, 40) for p in (LEFT, RIGHT))
        assert one is not None
        assert two is not None
        assert np.allclose(one + two, 1.0)
        assert one[20, 5] == 1.0
        assert side_matte(found, CLEAN, 0.0, 96, 40) is None


GREEN, GREY = (0.15, 0.55, 0.2), (0.5, 0.45, 0.42)


def before_a_cloth(wide: int = 480, high: int = 270, **more: Any) -> tuple[Any, Any]:
    """A green cloth in the middle of a white wall, a grey figure before it; and the figure."""
    picture = np.ones((high, wide, 3), np.float32) * 0.9
    picture[40:230, 120:360] = GREEN
    figure = np.zeros((high, wide), np.float32)
    left = more.get("left", 210)
    figure[90:220, left : left + 50] = 1.0
    picture[figure > 0] = GREY
    rng = np.random.default_rng(3)
    return np.clip(picture + rng.normal(0, 0.004, picture.shape), 0, 1).astype(np.float32), figure


class TestBesideTheCloth:
    def test_the_wall_goes_and_the_figure_stays(self):
        picture, figure = before_a_cloth()
        kept = matte(picture, "green")
        assert kept[10, 10] > 0.9, "a white wall is no cloth"
        left = kept * before_cloth(picture, "green", kept)
        assert left[figure > 0].min() > 0.9
        assert left[:36].max() == 0.0
        assert left[:, :118].max() == 0.0

    def test_a_wall_that_looks_in_at_a_dent_goes_too(self):
        picture, figure = before_a_cloth()
        picture[170:231, 300:361] = 0.9
        kept = matte(picture, "green")
        left = kept * before_cloth(picture, "green", kept, figure)
        assert left[180:225, 310:350].max() < 0.05
        assert left[figure > 0].min() > 0.9

    def test_somebody_who_reaches_beyond_is_cut_where_the_cloth_ends(self):
        picture, figure = before_a_cloth(left=330)
        kept = matte(picture, "green")
        left = kept * before_cloth(picture, "green", kept, figure)
        assert left[100:210, 335:352].min() > 0.9
        assert left[100:210, 365:].max() == 0.0

    def test_without_a_cloth_or_before_a_sky_nothing_is_masked(self):
        grey = np.full((60, 80, 3), 0.4, np.float32)
        whole = np.ones((60, 80), np.float32)
        assert before_cloth(grey, "green", whole).min() == 1.0
        assert before_cloth(grey, "sky", whole).min() == 1.0


class TestWhereSomebodyStands:
    PLANNED = np.pad(np.ones((100, 40), np.float32), ((60, 42), (100, 340)))

    def test_moves_are_told_in_delivered_pixels(self):
        moved = np.roll(self.PLANNED, (5, -8), axis=(0, 1))
        told = judging.stands(moved, self.PLANNED, 2.0)
        assert told == judging.Stands(10.0, -16.0, 200.0, 200.0)

    def test_specks_and_others_do_not_count(self):
        kept = self.PLANNED.copy()
        kept[5:8, 5:8] = 1.0
        kept[150:, 400:450] = 1.0
        assert judging.stands(kept, self.PLANNED, 1.0) == judging.Stands(0.0, 0.0, 100.0, 100.0)

    def test_what_the_frame_cuts_off_is_not_told(self):
        low = np.zeros((202, 480), np.float32)
        low[120:, 100:160] = 1.0
        told = judging.stands(low, low, 1.0)
        assert told is not None
        assert (told.lower_px, told.height_px) == (None, None)
        assert told.right_px == 0.0

    def test_nothing_planned_is_nothing_said(self):
        assert judging.stands(self.PLANNED, np.zeros_like(self.PLANNED), 1.0) is None


def laid(**changes: Any) -> judging.Laid:
    base = judging.Laid("Ansa", "K1 take 2", 0, 144, True)
    return replace(base, **changes)


class TestWhatItSays:
    def test_a_clip_that_is_too_short_is_told_where_it_matters(self):
        (found,) = judging.judge_laid(laid(held=12), 1.0)
        assert found.verdict is Verdict.BREAKS
        assert found.sentence.startswith("K1 take 2 ends 12 frames before the shot, which has 144")
        (still,) = judging.judge_laid(laid(held=12, moves=False), 1.0)
        assert still.verdict is Verdict.HOLDS
        assert judging.judge_laid(laid(), 1.0) == []

    def test_a_key_says_what_is_wrong_or_that_nothing_is(self):
        clean = Trial(0.5, 0.3, 0.0, 0.0, 2.0, 0.0)
        (found,) = judging.judge_laid(laid(colour="green", trial=clean), 1.0)
        assert found.sentence == "It keys cleanly."
        bad = judging.judge_laid(laid(colour="green", trial=replace(clean, holes=0.2)), 1.0)
        assert [f.title for f in bad] == ["Ansa, holes"]
        assert bad[0].verdict is Verdict.BREAKS

    @pytest.mark.parametrize(
        ("stands", "words"),
        [
            (
                judging.Stands(0, 0, 200, 200),
                "As high as planned, on its ground",
            ),
            (judging.Stands(20, 0, 200, 200), "20 px below the planned one"),
            (judging.Stands(0, -90, 200, 200), "it stands 90 px left of where it is planned"),
            (judging.Stands(0, 0, 260, 200), "30 % higher than planned"),
            (judging.Stands(None, None, None, 200), "cannot be told from its outline"),
        ],
    )
    def test_a_place_is_told_in_words(self, stands, words):
        (found,) = judging.judge_laid(laid(stands=stands), 1.0)
        assert words.lower() in found.sentence.lower()
        assert (found.verdict is Verdict.HOLDS) == (words[0] in "Ac")

    def test_a_seam_is_judged_as_a_pair(self):
        lies = Alignment(0.0, 0.0, 0.0, 1.0, 0.0)
        even = judging.Seam("the line", "Half A", "Half B", Pair(lies, None, 960, 402))
        (good,) = judging.judge_seam(even, 2.0)
        assert good.sentence == "Half A and Half B lie on each other, and are equally bright."
        bright = replace(even, pair=Pair(lies, Exposure(0.3, 0.0), 960, 402))
        (light,) = judging.judge_seam(bright, 2.0)
        assert light.sentence.startswith("Half B is 0.30 stop brighter")
        (untold,) = judging.judge_seam(replace(even, pair=None), 2.0)
        assert "too little in common" in untold.sentence

    def test_what_no_plate_shows_is_told(self):
        assert judging.judge_hole(0.001, ()).verdict is Verdict.HOLDS
        assert judging.judge_hole(0.3, ()).verdict is Verdict.BREAKS
        missing = judging.judge_hole(0.3, ("Mill",))
        assert missing.verdict is Verdict.STRAINS
        assert "Nothing is filmed yet of Mill" in missing.sentence

    def test_the_answer_is_one_sentence(self):
        holds = judging.judge_hole(0.0, ())
        assert judging.answer([holds], ()).startswith("It works:")
        missing = judging.judge_hole(0.3, ("Mill",))
        assert judging.answer([holds, missing], ("Mill",)) == (
            "Not whole yet: nothing is filmed of Mill."
        )
        short = judging.judge_laid(laid(held=3), 1.0)
        assert judging.answer([holds, *short], ()) == (
            "Film again before the set goes: Ansa (length)."
        )
