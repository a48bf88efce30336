"""A cloth as filmed, mattes, and sequences, on pictures whose truth is known."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.keying import COLOURS, matte
from jungoptic.core.pictures.screen import evenness, patches
from jungoptic.core.pictures.sequence import duplicates, flicker, shift_px
from jungoptic.core.pictures.tone import to_light, to_record

H, W = 360, 640
CLOTHS = {
    "green": (0.06, 0.42, 0.1),
    "blue": (0.04, 0.1, 0.45),
    "red": (0.45, 0.05, 0.05),
    "white": (0.82, 0.82, 0.8),
    "sky": (0.7, 0.75, 0.82),
    "black": (0.004, 0.004, 0.004),
}
#: Skin, a grey coat and dark hair: light.
PEOPLE = ((0.35, 0.21, 0.14), (0.12, 0.12, 0.13), (0.02, 0.015, 0.012))


def lit(colour, stops_across=0.0, stops_down=0.0):
    """A cloth (light) that gets brighter to the right and down by so many stops."""
    y, x = np.mgrid[0:H, 0:W]
    grow = stops_across * ((x + 0.5) / W - 0.5) + stops_down * ((y + 0.5) / H - 0.5)
    return (np.array(colour) * 2.0 ** grow[..., None]).astype(np.float32)


def grainy(picture, part=0.01, seed=1):
    dice = np.random.default_rng(seed)
    return np.clip(picture + dice.normal(0, part, picture.shape), 0, 1).astype(np.float32)


class TestCloth:
    @pytest.mark.parametrize("stops", [0.0, 0.3, 1.0, 2.0])
    def test_its_range_is_that_of_its_light(self, stops):
        # A part of the range lies in the outermost half patch on either side.
        cloth = to_record(lit(CLOTHS["green"], stops) * 0.8)
        assert evenness(cloth).range_stops == pytest.approx(stops, abs=0.03)
        assert evenness(grainy(cloth)).range_stops == pytest.approx(stops, abs=0.07)

    def test_only_what_is_asked_about_counts(self):
        cloth = lit(CLOTHS["green"], 2.0)
        part = np.zeros((H, W), bool)
        part[:, W // 4 : W // 2] = True
        by_mask, by_box = (
            evenness(to_record(cloth), area) for area in (part, (W // 4, 0, W // 2, H))
        )
        assert by_mask == by_box
        assert by_mask.range_stops == pytest.approx(0.5, abs=0.05)

    def test_level_hue_and_clipping(self):
        flat = to_record(lit(CLOTHS["green"]))
        found = evenness(flat)
        assert found.level == pytest.approx(float((flat @ [0.2126, 0.7152, 0.0722]).mean()))
        assert (found.hue_spread_deg, found.clipped) == (pytest.approx(0.0, abs=1e-6), 0.0)
        flat[: H // 4] = 1.0
        assert evenness(flat).clipped == pytest.approx(0.25)
        # Green on the left, bluish green on the right: the angle between them in the plane of
        # equal energy.
        two = lit(CLOTHS["green"])
        two[:, W // 2 :] = (0.06, 0.42, 0.25)
        angles = []
        for r, g, b in (CLOTHS["green"], (0.06, 0.42, 0.25)):
            angles.append(math.degrees(math.atan2((g - b) * math.sqrt(3) / 2, r - (g + b) / 2)))
        assert evenness(to_record(two)).hue_spread_deg == pytest.approx(
            angles[0] - angles[1] if angles[0] > angles[1] else angles[1] - angles[0], abs=0.5
        )
        assert evenness(to_record(lit(CLOTHS["white"]))).hue_spread_deg == 0.0

    @pytest.mark.parametrize("part", [0.004, 0.01, 0.03])
    def test_its_grain(self, part):
        found = evenness(grainy(np.full((H, W, 3), 0.4, np.float32), part))
        # Of brightness, of which green makes the most.
        assert found.noise == pytest.approx(part * math.hypot(0.2126, 0.7152, 0.0722), rel=0.05)

    def test_more_light_alike_everywhere_changes_its_level_only(self):
        cloth = lit(CLOTHS["blue"], 1.0, 0.5) * 0.5
        one, two = evenness(to_record(cloth)), evenness(to_record(cloth * 1.7))
        assert two.range_stops == pytest.approx(one.range_stops, abs=1e-3)
        assert two.level > one.level

    def test_patches_are_where_they_are(self):
        found = patches(to_record(lit(CLOTHS["green"], 1.0)))
        assert found.stops.shape == (H // found.side_px, W // found.side_px)
        assert (np.diff(found.stops, axis=1) > 0).all()

    def test_what_cannot_be_measured_is_said(self):
        with pytest.raises(Impossible, match="black"):
            evenness(np.zeros((40, 60, 3)))
        with pytest.raises(Impossible, match="outside"):
            evenness(np.ones((40, 60, 3)), (100, 0, 200, 40))
        with pytest.raises(Impossible, match="as large"):
            evenness(np.ones((40, 60, 3)), np.ones((4, 6)))


def scene(colour, stops=0.0):
    """(light, true matte) of people before a cloth, their edges soft over a pixel or two."""
    cloth = lit(CLOTHS[colour], stops, stops / 2)
    true = np.zeros((H, W), np.float32)
    front = np.zeros((H, W, 3), np.float32)
    for i, own in enumerate(PEOPLE):
        left = 80 + 180 * i
        true[60:, left : left + 110] = 1.0
        front[:, left - 30 : left + 150] = own
    true = cv2.GaussianBlur(true, (0, 0), 1.0)
    if colour == "black":
        return front * 4.0 * true[..., None], true
    return cloth * (1 - true[..., None]) + front * true[..., None], true


class TestMatte:
    @pytest.mark.parametrize("colour", ["green", "blue", "red", "white", "sky"])
    @pytest.mark.parametrize("stops", [0.0, 1.0])
    def test_people_are_kept_and_the_cloth_goes(self, colour, stops):
        light, true = scene(colour, stops)
        if colour == "red":
            # Skin is reddish: it gets no red cloth behind it.
            light, true = light[:, 200:], true[:, 200:]
        found = matte(grainy(to_record(light), 0.004), colour)
        inside = cv2.erode(true, np.ones((9, 9))) > 0.99
        outside = cv2.dilate(true, np.ones((9, 9))) < 0.01
        assert found[inside].mean() > 0.97
        assert found[outside].mean() < 0.02
        assert np.percentile(found[outside], 99) < 0.15

    @pytest.mark.parametrize("colour", ["green", "blue"])
    def test_an_edge_is_where_it_is(self, colour):
        # Half of a pixel covered is about half kept: the edge moves by less than half a pixel.
        light, true = scene(colour)
        found = matte(to_record(light), colour)
        assert abs(float(found.sum() - true.sum())) / (6 * (H - 60)) < 0.5

    def test_uneven_light_leaves_no_veil(self):
        light, true = scene("green", 2.0)
        found = matte(to_record(light), "green")
        outside = cv2.dilate(true, np.ones((9, 9))) < 0.01
        assert found[outside].mean() < 0.01

    def test_over_black_what_shines_is_kept(self):
        light, _ = scene("black")
        found = matte(to_record(light), "black")
        assert found[100:, 90:180].min() == 1.0
        assert found[:40].max() == 0.0

    @pytest.mark.parametrize("colour", COLOURS)
    @given(st.integers(0, 2**31 - 1))
    def test_it_is_always_between_nothing_and_all(self, colour, seed):
        picture = np.random.default_rng(seed).random((12, 16, 3), dtype=np.float32)
        found = matte(picture, colour)
        assert found.shape == (12, 16)
        assert found.dtype == np.float32
        assert 0.0 <= found.min() <= found.max() <= 1.0

    def test_without_such_a_cloth_everything_is_kept(self):
        grey = np.full((60, 80, 3), 0.4, np.float32)
        assert matte(grey, "green").min() == 1.0
        assert matte(grey * 0.1, "white").min() == 1.0
        with pytest.raises(Impossible, match="colour must be"):
            matte(grey, "mauve")


class TestFlicker:
    @given(st.integers(5, 60), st.floats(-0.3, 0.3).filter(lambda x: abs(x) > 0.002), st.data())
    def test_a_frame_that_stands_out_is_found(self, count, part, data):
        at = data.draw(st.integers(0, count - 1))
        levels = np.full(count, 80.0)
        levels[at] *= 1.0 + part
        found = flicker(levels)
        assert found.worst_frame == at
        assert found.worst_percent == pytest.approx(abs(part) * 100, rel=1e-6)

    def test_a_step_is_where_it_begins_and_a_fade_is_none(self):
        levels = np.concatenate([np.full(20, 1.0), np.full(20, 1.05)])
        assert flicker(levels).worst_frame == 20
        assert flicker(levels).worst_percent == pytest.approx(5.0)
        fade = flicker(np.linspace(1.0, 1.5, 100))
        assert fade.rms_percent < 0.01
        assert fade.worst_percent < 0.6

    @pytest.mark.parametrize("part", [0.002, 0.01, 0.04])
    def test_random_flicker_is_as_large_as_it_is(self, part):
        dice = np.random.default_rng(3)
        levels = 50.0 * (1.0 + dice.normal(0, part, 400)) * np.linspace(1, 2, 400)
        assert flicker(levels).rms_percent == pytest.approx(part * 100, rel=0.08)

    def test_of_any_unit(self):
        levels = 1.0 + np.random.default_rng(4).normal(0, 0.01, 50)
        one, two = flicker(levels), flicker(levels * 1234.5)
        assert two.worst_frame == one.worst_frame
        assert (two.worst_percent, two.rms_percent) == pytest.approx(
            (one.worst_percent, one.rms_percent)
        )

    @pytest.mark.parametrize("levels", [[], [1.0], [1.0, 0.0], [1.0, math.nan], [[1.0, 2.0]]])
    def test_what_is_no_row_of_light_is_said(self, levels):
        with pytest.raises(Impossible):
            flicker(levels)

    def test_two_and_three_frames(self):
        assert flicker([1.0, 1.02]).worst_percent == pytest.approx(2.0, rel=0.02)
        assert flicker([1.0, 1.02, 1.0]).worst_frame == 1


def frames(count, seed=5):
    """A thing that moves 3 px a frame before a still background."""
    dice = np.random.default_rng(seed)
    back = cv2.GaussianBlur(dice.random((120, 200, 3)).astype(np.float32), (0, 0), 2.0)
    for i in range(count):
        now = back.copy()
        now[50:64, 10 + 3 * i : 24 + 3 * i] = 0.9
        yield now


class TestDuplicates:
    def test_a_frame_taken_twice_is_found_in_a_still_picture(self):
        row = list(frames(12))
        row[5] = row[4].copy()
        row[9] = row[8].copy()
        assert duplicates(row) == [5, 9]
        assert duplicates(iter(row)) == [5, 9]
        assert duplicates(frames(12)) == []

    def test_on_twos(self):
        row = [frame for frame in frames(6) for _ in range(2)]
        assert duplicates(row) == [1, 3, 5, 7, 9, 11]

    def test_grain_does_not_hide_that_nothing_was_taken_anew(self):
        row = [grainy(frame, 0.01, i) for i, frame in enumerate(frames(12))]
        row[6] = np.round(row[5] * 255) / 255
        assert duplicates(row) == [6]
        # Nothing moves, and every frame is a new one.
        still = next(frames(1))
        assert duplicates(grainy(still, 0.01, i) for i in range(8)) == []

    def test_none_and_frames_of_two_sizes(self):
        assert duplicates([]) == []
        assert duplicates(frames(1)) == []
        with pytest.raises(Impossible, match="one size"):
            duplicates([np.zeros((20, 30, 3)), np.zeros((20, 31, 3))])


def test_a_shift_of_nothing_is_said():
    assert shift_px(np.zeros((40, 60, 3)), np.zeros((40, 60, 3))) == (0.0, 0.0)
    with pytest.raises(Impossible, match="alike"):
        shift_px(grainy(np.full((90, 120, 3), 0.4), 0.1, 1), next(frames(1))[:90, :120])


@given(st.floats(0.0, 1.0))
def test_light_and_recording_are_each_others_inverse(value):
    # ITU-R BT.709: 0.018 of light is 0.081 of the recording, 0.18 is 0.409.
    there = to_record(np.float32([[value]]))
    assert to_light(there)[0, 0] == pytest.approx(value, abs=1e-4)
    assert to_record(np.float32([0.018, 0.18])) == pytest.approx([0.081, 0.409], abs=5e-4)
