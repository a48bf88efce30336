"""Two pictures laid over each other: known shifts, turns and growths, light and colour, against
scikit-image and colour-science."""

from __future__ import annotations

import math
import warnings

import cv2
import numpy as np
import pytest
from skimage.registration import phase_cross_correlation

from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures import align
from jungoptic.core.pictures.align import between, changed, exposure, laid_back
from jungoptic.core.pictures.sequence import shift_px
from jungoptic.core.pictures.tone import brightest, to_light, to_record

RIM = 32


def textured(seed, high, wide):
    """A picture with detail of every size."""
    dice = np.random.default_rng(seed)
    found = np.zeros((high, wide, 3), np.float32)
    for soft in (1.5, 4.0, 12.0, 40.0):
        grain = dice.normal(size=(high, wide, 3)).astype(np.float32)
        found += cv2.GaussianBlur(grain, (0, 0), soft) * soft
    return np.clip(found / found.std() * 0.15 + 0.45, 0.02, 0.98)


def moved(picture, dx, dy, turn_deg=0.0, scale=1.0):
    """The picture turned clockwise and grown about its centre, then moved, by OpenCV, whose own
    turns count the other way round."""
    high, wide = picture.shape[:2]
    middle = (wide / 2 - 0.5, high / 2 - 0.5)
    warp = cv2.getRotationMatrix2D(middle, -turn_deg, scale)
    warp[:, 2] += dx, dy
    size = (wide, high)
    return cv2.warpAffine(picture, warp, size, flags=cv2.INTER_LANCZOS4, borderMode=4)


def pair(seed, high, wide, *move):
    """A picture, and the same moved, with something new beyond every edge."""
    whole = textured(seed, high + 2 * RIM, wide + 2 * RIM)
    inner = slice(RIM, RIM + high), slice(RIM, RIM + wide)
    return whole[inner].copy(), np.clip(moved(whole, *move)[inner], 0.0, 1.0)


def grainy(picture, seed, part=0.01):
    dice = np.random.default_rng(seed)
    return np.clip(picture + dice.normal(0.0, part, picture.shape), 0.0, 1.0).astype(np.float32)


@pytest.mark.parametrize("seed", range(4))
def test_a_take_against_its_clean_plate(seed):
    # 1 % noise, a performer over 30 %, other light: shift .03 px, turn .003 degrees, scale 1e-4.
    dice = np.random.default_rng(seed)
    high, wide = (804, 1920) if seed < 2 else (540, 960)
    dx, dy = dice.uniform(-8, 8, 2)
    turn, scale, stops = dice.uniform(-0.5, 0.5), 1 + dice.uniform(-0.01, 0.01), dice.uniform(-1, 1)
    a, b = pair(seed, high, wide, dx, dy, turn, scale)
    b = to_record(to_light(b) * np.float32(2.0**stops))
    left = int(dice.uniform(0.1, 0.5) * wide)
    b[high // 7 :, left : left + wide * 36 // 100] = textured(seed + 9, high, wide)[
        high // 7 :, : wide * 36 // 100
    ]
    a, b = grainy(a, 1), grainy(b, 2)
    found = between(a, b)
    assert found.dx_px == pytest.approx(dx, abs=0.03)
    assert found.dy_px == pytest.approx(dy, abs=0.03)
    assert found.rotation_deg == pytest.approx(turn, abs=0.003)
    assert found.scale == pytest.approx(scale, abs=1e-4)
    back, there = laid_back(b, found)
    assert exposure(a, back, there).stops == pytest.approx(stops, abs=0.02)


@pytest.mark.parametrize(
    ("move", "size"),
    [
        ((90.0, -30.0), (400, 700)),
        ((4.0, 2.0, 20.0, 1.15), (400, 700)),
        ((3.3, -2.6, 1.0, 1.02), (120, 160)),
    ],
)
def test_far_moves_and_small_pictures(move, size):
    a, b = pair(5, *size, *move)
    dx, dy, turn, scale = (*move, 0.0, 1.0)[:4]
    found = between(a, b)
    assert (found.dx_px, found.dy_px) == pytest.approx((dx, dy), abs=0.05)
    assert found.rotation_deg == pytest.approx(turn, abs=0.02)
    assert found.scale == pytest.approx(scale, abs=5e-4)


def test_there_and_back_again():
    a, b = pair(6, 300, 500, 5.0, -3.0, 0.4, 1.01)
    there, back = between(a, b), between(b, a)
    assert back.scale * there.scale == pytest.approx(1.0, abs=1e-4)
    assert back.rotation_deg == pytest.approx(-there.rotation_deg, abs=5e-3)


def test_a_picture_lies_on_itself_and_a_mask_says_where_to_look():
    a, b = pair(7, 240, 400, 6.0, 0.0)
    same = between(a, a)
    assert (same.dx_px, same.dy_px, same.residual) == pytest.approx((0.0, 0.0, 0.0), abs=1e-6)
    # The left half stands still, the right half has moved: the mask decides.
    b[:, :200] = a[:, :200]
    left, right = np.zeros((240, 400), bool), np.zeros((240, 400), bool)
    left[:, :190], right[:, 215:] = True, True
    assert between(a, b, left).dx_px == pytest.approx(0.0, abs=0.02)
    assert between(a, b, right).dx_px == pytest.approx(6.0, abs=0.05)


def test_nothing_alike_is_said():
    with pytest.raises(Impossible, match="alike"):
        between(textured(1, 200, 300), textured(2, 200, 300))
    with pytest.raises(Impossible, match="even"):
        between(np.full((60, 80, 3), 0.5), np.full((60, 80, 3), 0.5))
    with pytest.raises(Impossible, match="one size"):
        between(textured(1, 60, 80), textured(1, 60, 90))
    with pytest.raises(Impossible, match="marks nothing"):
        between(textured(1, 60, 80), textured(1, 60, 80), np.zeros((60, 80)))
    with pytest.raises(Impossible, match="numbers"):
        between(np.full((60, 80, 3), math.nan), textured(1, 60, 80))


@pytest.mark.parametrize("stops", [-2.0, -0.3, 0.0, 0.1, 1.2])
def test_light(stops):
    a = textured(8, 200, 300) * 0.7
    b = to_record(to_light(a) * np.float32(2.0**stops))
    found = exposure(grainy(a, 1), grainy(b, 2))
    assert found.stops == pytest.approx(stops, abs=0.02)
    assert found.mired == pytest.approx(0.0, abs=0.7)
    light = to_light(a)
    assert exposure(light, light * 2.0**stops, linear=True).stops == pytest.approx(stops, abs=1e-4)


@pytest.mark.parametrize("kelvin", [4000.0, 5000.0, 5600.0, 8000.0])
def test_colour_against_the_planckian_locus(kelvin):
    # A white lit by a black body, by colour-science, against one lit by D65 (6504 K, beside it).
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

    def white(xy):
        xyz = colour.xy_to_XYZ(xy)
        return colour.XYZ_to_RGB(xyz, "ITU-R BT.709")

    there = white(colour.CCT_to_xy(kelvin, "Kang 2002"))
    d65 = white(np.array([0.3127, 0.3290]))
    a = to_light(textured(9, 120, 160)) * 0.5
    b = a * (there / d65).astype(np.float32)
    found = exposure(to_record(a), to_record(b))
    assert found.mired == pytest.approx(1e6 / kelvin - 1e6 / 6504.0, abs=4.0)


def test_what_has_changed_is_marked_where_it_has():
    a, b = pair(10, 300, 500, 2.4, -1.2)
    b = to_record(to_light(b) * np.float32(1.2))
    b[100:160, 200:280] = 0.9
    found = changed(a, b)
    assert np.median(found[110:150, 210:270]) > 0.2
    found[90:170, 190:290] = 0.0
    assert np.percentile(found, 99) < 0.05


@pytest.mark.parametrize("shift", [(0.0, 0.0), (3.0, -2.0), (0.4, 0.7), (-11.3, 6.2)])
def test_a_bump_as_scikit_image_finds_it(shift):
    # Guizar-Sicairos and others 2008; its shift brings the second back over the first.
    a, b = pair(11, 270, 480, *shift)
    a, b = grainy(a, 1), grainy(b, 2)
    found = shift_px(a, b)
    assert found == pytest.approx(shift, abs=0.03)
    flat = (a.mean(axis=2), b.mean(axis=2))
    window = np.outer(np.hanning(270), np.hanning(480))
    flat = tuple((x - x.mean()) * window for x in flat)
    (down, right), *_ = phase_cross_correlation(*flat, upsample_factor=50, normalization=None)
    assert found == pytest.approx((-right, -down), abs=0.3)


def test_what_walks_through_the_picture_is_no_bump():
    a, b = pair(12, 270, 480, 0.0, 0.0)
    walker = textured(13, 200, 120)
    a[70:, 100:220], b[70:, 130:250] = walker, walker
    assert shift_px(grainy(a, 1), grainy(b, 2)) == pytest.approx((0.0, 0.0), abs=0.05)


def test_in_a_large_picture_lit_brighter_nothing_has_changed():
    """Two million places: a straight line through them is not lost in their number."""
    first = textured(9, 1080, 1920) * 0.8
    same = changed(first, first, between(first, first))
    assert same.max() == pytest.approx(0.0, abs=1e-3)
    brighter = first * 1.1
    away = changed(first, brighter, between(first, brighter))
    assert np.percentile(away, 99.0) < 0.01


@pytest.mark.parametrize("seed", [1, 2])
def test_some_places_tell_the_light_as_all_do(seed, monkeypatch):
    """A large picture is asked at places all over it; all of them say the same to 0.002 stop."""
    a, _ = pair(seed, 1080, 1920, 0.0, 0.0)
    b = to_record(to_light(a) * np.float32((1.3, 1.2, 1.1)))
    # Stripes as far apart as places could be, and somebody who covers a third.
    b[:, ::10] *= np.float32(0.97)
    b[:, 600:1200] = textured(seed + 5, 1080, 600)
    a, b = grainy(a, 1), grainy(b, 2)
    some = exposure(a, b)
    monkeypatch.setattr(align, "PLACES", a.size)
    every = exposure(a, b)
    assert some.stops == pytest.approx(every.stops, abs=0.002)
    assert some.mired == pytest.approx(every.mired, abs=0.5)
    assert some.common == every.common


def test_the_line_through_pixels_is_the_one_of_numpy():
    dice = np.random.default_rng(4)
    x = dice.uniform(0.0, 1.0, 50_000)
    y = 1.07 * x - 0.02 + dice.normal(0.0, 0.01, x.shape)
    assert align._line(x, y) == pytest.approx(tuple(np.polyfit(x, y, 1)), rel=1e-9)


def test_the_brightest_colour_of_each_place():
    picture = textured(3, 40, 60)
    assert (brightest(picture) == picture.max(axis=2)).all()
