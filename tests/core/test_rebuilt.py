"""A set built again: what to move, checked by filming the plan with a camera that stands otherwise
and by doing what is told."""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.pair import Pair
from jungoptic.core.filmed.rebuilt import put_back
from jungoptic.core.pictures.align import Alignment, Exposure
from jungoptic.core.stage.case import Case

from .examples import ANSA, shot

WIDE, HIGH = 1920, 804
SAME = Exposure(0.0, 0.0)


def told(lies: Alignment, light: Exposure | None = SAME) -> list[tuple[str, str]]:
    pair = Pair(lies, light, WIDE, HIGH)
    return [(put.what, put.way) for put in put_back(shot(), ANSA, pair)]


def lying(**how: float) -> Alignment:
    base = {"dx_px": 0.0, "dy_px": 0.0, "rotation_deg": 0.0, "scale": 1.0, "residual": 0.0}
    return Alignment(**{**base, **how})


def test_what_lies_on_it_asks_for_nothing():
    assert told(lying(dx_px=0.1, scale=1.00005)) == []


@given(aside_mm=st.floats(-60, 60), pan=st.floats(-1.0, 1.0))
@settings(max_examples=40)
def test_a_camera_that_stands_aside_or_is_turned_is_told_back(aside_mm, pan):
    """By the pinhole: what stands at the distance that is focused at moves by f x / d, and by
    f tan of a small turn."""
    case = Case.of(shot(), ANSA)
    assert case is not None
    focal, away = case.stage.camera.focal_px(WIDE), case.stage.focus_m
    # A camera too far right shows everything farther left.
    for px in (-aside_mm / 1000.0 * focal / away, -focal * math.tan(math.radians(pan))):
        if abs(px) <= 0.3:
            continue
        ((what, way),) = told(lying(dx_px=px))
        assert what == "camera"
        assert ("to the left" in way) == (px < 0.0)
        degrees = float(re.search(r"turned ([\d.]+)°", way).group(1))
        assert degrees == pytest.approx(math.degrees(math.atan(abs(px) / focal)), abs=0.006)
        millimetres = re.search(r"^([\d.,]+) mm", way)
        if millimetres is not None:
            expected = abs(px) * away / focal * 1000.0
            assert float(millimetres.group(1)) == pytest.approx(expected, rel=0.02, abs=0.6)


@pytest.mark.parametrize(
    ("lies", "words"),
    [
        (lying(dy_px=4.0), "down"),
        (lying(dy_px=-4.0), "up"),
        (lying(rotation_deg=0.5), "clockwise"),
        (lying(rotation_deg=-0.5), "anticlockwise"),
        (lying(scale=1.01), "back by"),
        (lying(scale=0.99), "nearer by"),
    ],
)
def test_each_way_is_told(lies, words):
    ((what, way),) = told(lies)
    assert what == "camera"
    assert words in way


def test_a_camera_that_is_too_near_by_a_tenth_is_told_so():
    case = Case.of(shot(), ANSA)
    assert case is not None
    # What is seen from nine tenths of a distance is larger by a ninth.
    ((_, way),) = told(lying(scale=1.0 / 0.9))
    said = float(re.search(r"back by ([\d.,]+) (?:mm|m)", way).group(1).replace(",", ""))
    expected = 0.1 * case.stage.focus_m
    assert said in (pytest.approx(expected, rel=0.02), pytest.approx(expected * 1000, rel=0.02))


@pytest.mark.parametrize(
    ("light", "ways"),
    [
        (Exposure(0.3, 0.0), ["0.30 stop down"]),
        (Exposure(-0.3, 12.0), ["0.30 stop up", "12 mired cooler"]),
        (Exposure(0.01, -2.0), []),
        (None, []),
    ],
)
def test_the_light_is_told_too(light, ways):
    assert told(lying(), light) == [("light", way) for way in ways]


def test_the_largest_comes_first():
    assert "down" in told(lying(dx_px=1.0, dy_px=9.0))[0][1]


def test_without_a_kit_it_is_told_in_pixels():
    from dataclasses import replace

    bare = replace(ANSA, body_id=None, mode_id=None, lens_id=None)
    pair = Pair(lying(dx_px=5.0), SAME, WIDE, HIGH)
    (put,) = put_back(shot(plates=(bare,)), bare, pair)
    assert put.way == "to the right, by 5.0 pixels of the picture"
