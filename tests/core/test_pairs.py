"""Two pictures of one camera: what is said of what lies between them."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.filmed.pair import Pair, delivered_per_px, judge_pair
from jungoptic.core.pictures.align import Alignment, Exposure
from jungoptic.core.plan.findings import Finding, Verdict

from .examples import ANSA, shot


def said(
    dx: float = 0.0,
    dy: float = 0.0,
    turn: float = 0.0,
    scale: float = 1.0,
    stops: float = 0.0,
    mired: float = 0.0,
    common: float = 0.9,
    per_px: float = 1.0,
) -> dict[str, Finding]:
    lies = Alignment(dx, dy, turn, scale, 0.01, common)
    found = judge_pair(Pair(lies, Exposure(stops, mired), 1920, 1080), per_px)
    return {f.key: f for f in found}


def test_what_lies_on_each_other_holds() -> None:
    found = said(dx=0.1)
    assert {f.verdict for f in found.values()} == {Verdict.HOLDS}
    assert found["pair-place"].sentence == "Both lie on each other to 0.10 px."
    assert found["pair-light"].sentence == "Equally bright."


@pytest.mark.parametrize(
    ("moved", "words", "why"),
    [
        ({"dx": 2.4, "dy": -0.6}, "lies 2.40 px right and 0.60 px up", "start by remote"),
        ({"dx": -2.4}, "lies 2.40 px left, 2.40 px at", "start by remote"),
        ({"turn": 0.05}, "is turned 0.050° clockwise", "sits loose"),
        ({"turn": -0.05}, "is turned 0.050° anticlockwise", "sits loose"),
        ({"scale": 1.002}, "is 0.20 % larger, 2.20 px at", "lenses breathe"),
        ({"scale": 0.998}, "is 0.20 % smaller", "lenses breathe"),
    ],
)
def test_what_moved_is_named_with_what_makes_it_on_set(
    moved: dict[str, float], words: str, why: str
) -> None:
    one = said(**moved)["pair-place"]
    assert one.verdict is Verdict.STRAINS
    assert words in one.sentence
    assert why in one.sentence
    assert "Post can lay it back" in one.sentence


def test_a_corner_goes_as_far_as_turn_and_growth_together_take_it() -> None:
    # Half the diagonal of 1920 x 1080 is 1101.5 px.
    half = math.hypot(1920, 1080) / 2
    one = said(dx=3.0, dy=4.0, turn=0.1, scale=1.001)["pair-place"]
    far = 5.0 + half * math.hypot(math.radians(0.1), 0.001)
    assert one.workings[0].result.value == pytest.approx(far)
    assert said(dx=15.0)["pair-place"].verdict is Verdict.BREAKS
    # In delivered pixels: half as many of them.
    assert said(dx=15.0, per_px=0.5)["pair-place"].verdict is Verdict.STRAINS


def test_light_and_its_colour() -> None:
    assert said(stops=0.04)["pair-light"].verdict is Verdict.HOLDS
    darker = said(stops=-0.2)["pair-light"]
    assert darker.verdict is Verdict.STRAINS
    assert "0.20 stop darker" in darker.sentence
    assert "1.20 stops brighter" in said(stops=1.2)["pair-light"].sentence
    assert said(stops=1.2)["pair-light"].verdict is Verdict.BREAKS
    warm = said(mired=12.0)["pair-colour"]
    assert warm.verdict is Verdict.STRAINS
    assert "12 mired warmer: the white balance" in warm.sentence


def test_what_cannot_be_told_is_left_out_or_said() -> None:
    lies = Alignment(0.0, 0.0, 0.0, 1.0, 0.01, 0.1)
    keys = {f.key for f in judge_pair(Pair(lies, None, 1920, 1080))}
    assert keys == {"pair-place", "pair-common"}


def test_delivered_pixels_to_one_of_a_recording() -> None:
    # 4096 across the sensor, of which the delivered view takes nearly all; looked at 1920 wide.
    whole = delivered_per_px(shot(), ANSA, 4096)
    assert delivered_per_px(shot(), ANSA, 1920) == pytest.approx(whole * 4096 / 1920)
    assert 0.4 < whole < 0.6


far = st.floats(-500, 500)


@given(far, far, st.floats(-5, 5), st.floats(0.8, 1.2), st.floats(-6, 6), st.floats(-300, 300))
def test_any_pair_is_said_in_sentences(
    dx: float, dy: float, turn: float, scale: float, stops: float, mired: float
) -> None:
    found = said(dx, dy, turn, scale, stops, mired)
    for finding in found.values():
        assert finding.sentence.endswith(".")
        assert "nan" not in finding.sentence
    # Further apart is never better.
    ranks = [said(dx * k)["pair-place"].verdict.rank for k in (0.0, 0.5, 1.0)]
    assert ranks == sorted(ranks)
