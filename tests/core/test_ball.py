"""Light read off balls: what mirrors and matt spheres are known to show, and how it is judged."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.ball import judge_balls, said_by_balls
from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.picked.balls import by_balls
from jungoptic.core.picked.seen import ByBall, PickedBall
from jungoptic.core.pictures.ball import Circle, chrome, grey
from jungoptic.core.pictures.lit import Light
from jungoptic.core.pictures.tone import to_record
from jungoptic.core.plan import PlacedLamp
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.case import Case

from .stages import case_of, one

#: A ball in the middle of a picture through a lens so long that all rays run side by side.
W, H, FAR = 640, 480, 1e6
BALL = Circle(W / 2, H / 2, 160.0)


def angle_deg(a, b) -> float:
    return math.degrees(math.acos(float(np.clip(np.dot(a, b), -1.0, 1.0))))


def disc(x: float, y: float, radius: float, level: float = 0.8, over=None) -> np.ndarray:
    """A picture (h, w, 3) as recorded, with a bright disc in it."""
    rows, columns = np.mgrid[0:H, 0:W] + 0.5
    found = np.full((H, W), 0.01, np.float32) if over is None else over[..., 0].copy()
    found[np.hypot(columns - x, rows - y) < radius] = level
    return np.repeat(found[..., None], 3, axis=2)


def shaded(ball: Circle, lights, even: float = 0.05) -> np.ndarray:
    """A matt ball as recorded, under lights from far away: Lambert's cosine law."""
    rows, columns = np.mgrid[0:H, 0:W] + 0.5
    right, down = (columns - ball.x) / ball.radius, (rows - ball.y) / ball.radius
    near = -np.sqrt(np.maximum(1.0 - right**2 - down**2, 0.0))
    light = np.full((H, W), even)
    for way, level in lights:
        light += level * np.maximum(right * way[0] + down * way[1] + near * way[2], 0.0)
    light[right**2 + down**2 > 1.0] = 0.2
    return to_record(np.repeat(light[..., None], 3, axis=2).astype(np.float32))


class TestChrome:
    @pytest.mark.parametrize(
        ("part", "apart"),
        [(0.0, 0.0), (0.25881905, 30.0), (0.5, 60.0), (0.70710678, 90.0), (0.8660254, 120.0)],
    )
    def test_a_mirror_ball_turns_light_by_twice_the_slope_of_its_face(self, part, apart):
        """Debevec 1998: a mirror ball shows what lies at the angle a from the lens at sin(a / 2) of
        its radius; what is square to the view at 0.707 of it."""
        (found,) = chrome(disc(W / 2 + 160.0 * part, H / 2, 4.0), BALL, FAR)
        towards = np.array([math.sin(math.radians(apart)), 0.0, -math.cos(math.radians(apart))])
        assert angle_deg(found.towards, towards) < 0.4
        assert found.off_deg == pytest.approx(
            math.degrees(2.0 * 1.25 / 1920.0 * W / 160.0 / math.cos(math.radians(apart / 2.0))),
            rel=0.02,
        )

    @pytest.mark.parametrize("part", [0.1, 0.5, 0.8])
    def test_equal_parts_of_a_mirror_ball_show_equal_parts_of_all_around(self, part):
        """Seen from far away it is an equal-area map: a disc of a hundredth of the ball's shows a
        hundredth of the whole 4 pi."""
        (found,) = chrome(disc(W / 2 - 160.0 * part, H / 2, 16.0), BALL, FAR)
        steradians = 2.0 * math.pi * (1.0 - math.cos(math.radians(found.size_deg / 2.0)))
        assert steradians == pytest.approx(4.0 * math.pi / 100.0, rel=0.03)
        assert not found.at_most

    def test_the_weaker_of_two_lamps_is_told_in_stops_under_the_key(self):
        # Two discs of one size: a quarter of the light.
        quarter = float(to_record(np.float32([0.2]))[0])
        whole = float(to_record(np.float32([0.8]))[0])
        shown = disc(W / 2 + 60.0, H / 2, 6.0, quarter, over=disc(W / 2 - 60.0, H / 2, 6.0, whole))
        key, fill = chrome(shown, BALL, FAR)
        assert key.towards[0] < 0.0 < fill.towards[0]
        assert (key.stops, fill.stops) == (0.0, pytest.approx(2.0, abs=0.05))

    def test_the_glow_around_a_lamp_is_no_lamp(self):
        rows, columns = np.mgrid[0:H, 0:W] + 0.5
        away = np.hypot(columns - W / 2 + 60.0, rows - H / 2)
        light = 0.001 + 0.9 * (away < 5.0) + 0.2 * np.exp(-((away / 9.0) ** 2))
        shown = to_record(np.repeat(light[..., None], 3, axis=2).astype(np.float32))
        assert len(chrome(np.minimum(shown, 0.97), BALL, FAR)) == 1

    def test_beside_a_burnt_lamp_no_share_is_told(self):
        shown = disc(W / 2 + 60.0, H / 2, 9.0, 0.7, over=disc(W / 2 - 60.0, H / 2, 4.0, 1.0))
        assert [one.stops for one in chrome(shown, BALL, FAR)] == [None, None]

    def test_what_is_burnt_out_or_tiny_has_no_more_than_a_bound(self):
        (burnt,) = chrome(disc(W / 2, H / 2 - 50.0, 6.0, 1.0), BALL, FAR)
        assert (burnt.stops, burnt.at_most) == (None, True)
        (sun,) = chrome(disc(W / 2, H / 2 - 50.0, 1.0), BALL, FAR)
        assert sun.at_most
        assert sun.size_deg < 2.0

    @settings(max_examples=25, deadline=None)
    @given(
        st.floats(-0.85, 0.85), st.floats(-0.85, 0.85), st.floats(20.0, 60.0), st.floats(0.3, 1.0)
    )
    def test_where_the_ball_lies_in_the_picture_changes_nothing(self, x, y, radius, focal):
        """A light straight behind the lens shows in the middle of a ball wherever that is."""
        aside = np.array([x * (W / 2 - 70.0), y * (H / 2 - 70.0)])
        far, lens = float(np.hypot(*aside)), focal * W
        # The middle of a ball lies halfway between its rims as angles go, not in the picture.
        ends = [math.atan((far + sign * radius) / lens) for sign in (-1.0, 1.0)]
        there = aside * (lens * math.tan(sum(ends) / 2.0) / far) if far > 1e-9 else aside
        ball = Circle(W / 2 + aside[0], H / 2 + aside[1], radius)
        (found,) = chrome(disc(W / 2 + there[0], H / 2 + there[1], 3.0), ball, lens)
        ray = np.array([*there, lens])
        assert angle_deg(found.towards, -ray / np.linalg.norm(ray)) < 0.5 + found.off_deg

    @pytest.mark.parametrize(
        ("circle", "says"),
        [
            (Circle(W / 2, H / 2, 10.0), "24 pixels across"),
            (Circle(100.0, H / 2, 160.0), "in the picture"),
            (Circle(math.nan, H / 2, 160.0), "24 pixels across"),
        ],
    )
    def test_a_circle_that_cannot_be_a_ball_is_refused(self, circle, says):
        with pytest.raises(Impossible, match=says):
            chrome(disc(W / 2, H / 2, 4.0), circle, FAR)

    def test_nothing_bright_and_light_from_behind_are_said_apart(self):
        with pytest.raises(Impossible, match="nothing in it is much brighter"):
            chrome(np.full((H, W, 3), 0.4, np.float32), BALL, FAR)
        with pytest.raises(Impossible, match="so far behind the ball"):
            chrome(disc(W / 2 + 154.0, H / 2, 3.0), BALL, FAR)
        with pytest.raises(Impossible, match="focal length"):
            chrome(disc(W / 2, H / 2, 4.0), BALL, 0.0)


class TestGrey:
    def test_a_key_alone_is_found_by_lambert(self):
        way = np.array([-0.6, -0.48, -0.64])
        found = grey(shaded(BALL, [(way, 0.6)]), BALL, FAR)
        assert angle_deg(found.key.towards, way) < 0.5
        assert found.fill is None
        # 0.65 over 0.05.
        assert found.ratio_stops == pytest.approx(math.log2(13.0), abs=0.1)

    def test_key_and_fill_are_told_apart(self):
        key, fill = np.array([-0.8, -0.36, -0.48]), np.array([0.8, 0.0, -0.6])
        found = grey(shaded(BALL, [(key, 0.5), (fill, 0.12)], even=0.02), BALL, FAR)
        assert angle_deg(found.key.towards, key) < 3.0
        assert found.fill is not None
        assert angle_deg(found.fill.towards, fill) < 10.0
        assert found.fill.stops == pytest.approx(math.log2(0.5 / 0.12), abs=0.25)
        assert found.ratio_stops == pytest.approx(math.log2(0.52 / 0.14), abs=0.25)

    @pytest.mark.parametrize(
        ("picture", "says"),
        [
            (np.full((H, W, 3), 0.4, np.float32), "as bright on one side"),
            # A wall that grows darker to one side.
            (
                np.tile(np.linspace(0.42, 0.38, W, dtype=np.float32)[:, None], (H, 1, 3)),
                "as bright on one side",
            ),
            (np.ones((H, W, 3), np.float32), "burnt out"),
            (
                shaded(replace(BALL, x=W / 2 + 90.0), [((-0.8, 0.0, -0.6), 0.6)]),
                "no matt ball",
            ),
        ],
    )
    def test_what_is_no_ball_under_a_key_is_refused(self, picture, says):
        with pytest.raises(Impossible, match=says):
            grey(picture, BALL, FAR)

    def test_a_ball_that_cannot_be_read_says_why(self):
        (found,) = by_balls(
            np.full((H, W, 3), 0.4, np.float32), [PickedBall("grey", 0.5, 0.5, 0.25)], 1.0
        )
        assert (found.lights, "as bright on one side" in found.problem) == ((), True)


def lit(case: Case, from_deg: float, up_deg: float, **changes) -> Light:
    """A light from there, as the story tells it, in the axes of a plate's camera."""
    camera = case.stage.camera
    a, e = math.radians(from_deg + camera.pan_deg), math.radians(up_deg)
    way = np.array([math.sin(a) * math.cos(e), math.cos(a) * math.cos(e), math.sin(e)])
    x, y, z = (float(v) for v in camera.axes @ way)
    return replace(Light((x, y, z), 1.5), **changes)


def keyed(**changes):
    """The mill with a story's key from the left, behind us."""
    return one(**{"key_from_deg": -120.0, "key_elevation_deg": 30.0, **changes})


def said(shot, *balls: ByBall):
    return {found.key: found for found in judge_balls(shot, shot.plates[0], balls)}


class TestJudged:
    @settings(max_examples=30, deadline=None)
    @given(st.floats(-179.0, 179.0), st.floats(-20.0, 80.0), st.floats(-40.0, 40.0))
    def test_a_light_is_told_as_the_story_tells_its_key(self, from_deg, up_deg, pan):
        shot = keyed()
        shot = replace(shot, world=replace(shot.world, pan_deg=pan))
        case = case_of(shot)
        (says,) = said_by_balls(case, [ByBall("chrome", (lit(case, from_deg, up_deg),))])
        (light,) = says.lights
        assert light.from_deg == pytest.approx(from_deg, abs=1e-6)
        assert light.elevation_deg == pytest.approx(up_deg, abs=1e-6)

    def test_a_key_on_the_other_side_breaks_and_is_sent_home(self):
        shot = keyed()
        case = case_of(shot)
        wrong = said(shot, ByBall("chrome", (lit(case, 120.0, 30.0),)))["ball-side"]
        assert wrong.verdict is Verdict.BREAKS
        assert "from the right, in front" in wrong.sentence
        assert "Move it 120° clockwise from above about the action." in wrong.sentence
        right = said(shot, ByBall("chrome", (lit(case, -118.0, 33.0),)))["ball-side"]
        assert right.verdict is Verdict.HOLDS
        assert "Move" not in right.sentence

    def test_what_a_small_ball_cannot_tell_is_not_held_against_anybody(self):
        shot = keyed()
        case = case_of(shot)
        off = lit(case, -120.0, 55.0)
        assert said(shot, ByBall("chrome", (off,)))["ball-side"].verdict is Verdict.STRAINS
        unsure = replace(off, off_deg=10.0)
        assert said(shot, ByBall("chrome", (unsure,)))["ball-side"].verdict is Verdict.HOLDS

    def test_without_a_key_in_the_story_it_is_told_and_not_judged(self):
        shot = one(key_from_deg=None)
        found = said(shot, ByBall("chrome", (lit(case_of(shot), 40.0, 20.0),)))
        assert found["ball-side"].verdict is Verdict.HOLDS
        assert "not decided" in found["ball-side"].sentence

    def test_shadow_edges_go_by_how_wide_it_is_as_far_as_the_ball_tells(self):
        shot = keyed(key_kind="sun")
        case = case_of(shot)
        soft = lit(case, -120.0, 30.0, size_deg=8.0)
        found = said(shot, ByBall("chrome", (soft,)))["ball-edge"]
        assert found.verdict is Verdict.BREAKS
        assert "15.0 times softer" in found.sentence
        bound = said(shot, ByBall("chrome", (replace(soft, at_most=True),)))["ball-edge"]
        assert bound.verdict is Verdict.HOLDS
        assert "no wider than 8°" in bound.sentence
        hard = keyed(key_size_deg=40.0)
        tiny = said(hard, ByBall("chrome", (replace(soft, size_deg=1.0, at_most=True),)))
        assert tiny["ball-edge"].verdict is Verdict.BREAKS

    @pytest.mark.parametrize(
        ("have", "verdict", "word"),
        [(2.2, "holds", "2.2 stops"), (3.2, "strains", "More fill"), (0.2, "breaks", "Less fill")],
    )
    def test_the_shadow_side_goes_by_the_grey_ball(self, have, verdict, word):
        shot = keyed(key_ratio_stops=2.0)
        ball = ByBall("grey", (lit(case_of(shot), -120.0, 30.0),), have)
        found = said(shot, ball)["ball-ratio"]
        assert (str(found.verdict), word in found.sentence) == (verdict, True)

    def test_a_black_shadow_side_is_told_as_such(self):
        shot = keyed(key_ratio_stops=2.0)
        ball = ByBall("grey", (lit(case_of(shot), -120.0, 30.0),), None)
        assert "is black: nothing fills it" in said(shot, ball)["ball-ratio"].sentence

    def test_a_grey_ball_tells_which_of_two_burnt_lamps_is_the_key(self):
        shot = keyed()
        case = case_of(shot)
        wide, key = (lit(case, a, 30.0, stops=None) for a in (60.0, -115.0))
        alone = ByBall("chrome", (wide, key))
        guessed = said(shot, alone)["ball-side"]
        assert "the one that shows most is taken" in guessed.sentence
        beside = said(shot, alone, ByBall("grey", (lit(case, -125.0, 40.0),)))["ball-side"]
        assert beside.verdict is Verdict.HOLDS
        assert "shows most" not in beside.sentence

    def test_a_ball_that_says_nothing_is_told_unless_the_other_does(self):
        shot = keyed()
        mute = ByBall("grey", problem="it is burnt out.")
        assert said(shot, mute)["ball-side"].verdict is Verdict.STRAINS
        both = said(shot, mute, ByBall("chrome", (lit(case_of(shot), -120.0, 30.0),)))
        assert both["ball-side"].verdict is Verdict.HOLDS

    def test_a_lamp_that_stands_elsewhere_than_planned_is_named(self):
        shot = keyed(plate_lamps=(PlacedLamp("fresnel", 1.0, 2.0, 0.6),))
        case = case_of(shot)
        light = lighting(case)
        assert light is not None
        assert light.key_lamp is not None
        there = lit(case, light.key_lamp.from_deg, light.key_lamp.elevation_deg)
        assert "The plan has" not in said(shot, ByBall("chrome", (there,)))["ball-side"].sentence
        away = lit(case, light.key_lamp.from_deg + 40.0, light.key_lamp.elevation_deg)
        told = said(shot, ByBall("chrome", (away,)))["ball-side"].sentence
        assert "The plan has Fresnel" in told
