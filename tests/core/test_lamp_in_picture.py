"""Lamps that stand in the picture of their own stage, against OpenCV's projection and boxes cut by
rays."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.lighting.in_picture import lamps_in_picture
from jungoptic.core.plan import Lamp, Move, PlacedLamp
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.planner.place_lamps import light_plate

from .examples import ANSA, MILL
from .stages import FULL, case_of, findings, one
from .test_camera import opencv_pixels

BULB = Lamp("bulb", "Bulb", 90.0, 0.0, 8.0, kind="bulb")
LIT = replace(FULL, lamps=(*FULL.lamps, BULB))
KEY = "lamp-in-picture"
SPOT = st.floats(-3.0, 3.0)


def stage(*lamps, plate=MILL, **changes):
    return replace(one(replace(plate, lamps=lamps), **changes), kit=LIT)


def found(*lamps, **changes):
    return findings(stage(*lamps, **changes)).get(KEY)


def inside_box(eye, at, low, high):
    """Whether the way from `eye` to `at` enters a box with sides along x, y, z before it arrives
    (slabs, Kay and Kajiya 1986)."""
    with np.errstate(divide="ignore", over="ignore"):
        a, b = (low - eye) / (at - eye), (high - eye) / (at - eye)
    enters, leaves = np.minimum(a, b).max(), np.maximum(a, b).min()
    return enters <= leaves and 0.0 < enters < 1.0


@settings(max_examples=150, deadline=None)
@given(x=SPOT, y=st.floats(0.3, 4.0), z=st.floats(0.02, 2.0))
def test_a_bulb_is_in_the_picture_where_its_projection_is(x, y, z):
    # Nothing else stands there: only the projection decides.
    shot = stage(PlacedLamp("bulb", x, y, z), stand_ins=())
    case = case_of(shot)
    px = opencv_pixels(case.stage.camera, np.array([[x, y, z]]), 1920, 804)[0]
    pad = shot.padding * np.array([1920, 804])
    around = bool(((px >= -pad) & (px <= np.array([1920, 804]) + pad)).all())
    delivered = bool(((px >= 0) & (px <= (1920, 804))).all())
    seen = lamps_in_picture(case)
    assert bool(seen) is around
    if seen:
        assert seen[0].delivered is delivered


@settings(max_examples=150, deadline=None)
@given(x=st.floats(-1.5, 1.0), y=st.floats(0.5, 6.0), z=st.floats(0.05, 1.2))
def test_what_stands_before_a_lamp_hides_it(x, y, z):
    # The mill's house at 1:12, turned straight; its front stands at its y.
    house = replace(one().stand_ins[0], heading_deg=0.0)
    case = case_of(stage(PlacedLamp("bulb", x, y, z), stand_ins=(house,)))
    eye = np.array(case.stage.camera.position_m)
    width, deep, high = house.width_m / 12, house.depth_m / 12, house.height_m / 12
    corner = np.array([house.x_m / 12 - width / 2, house.y_m / 12, 0.0])
    at = np.array([x, y, z])
    hidden = inside_box(eye, at, corner, corner + np.array([width, deep, high]))
    px = opencv_pixels(case.stage.camera, at[None], 1920, 804)[0]
    delivered = bool(((px >= 0) & (px <= (1920, 804))).all())
    seen = [s for s in lamps_in_picture(case) if s.delivered]
    assert bool(seen) is (delivered and not hidden)


def test_a_plate_kept_whole_breaks_and_says_when():
    # Straight ahead of a camera 1.5 / 12 m high, beside the house.
    lamp = PlacedLamp("panel", 0.1, 1.0, 0.2)
    whole = found(lamp)
    assert whole.verdict is Verdict.BREAKS
    assert "stands in the picture" in whole.sentence
    assert "kept whole" in whole.sentence
    for way in whole.remedies:
        assert way.verdict is Verdict.HOLDS
    # Walking past it, it is lost on the way.
    passing = found(lamp, move=Move(away_m=20.0))
    assert "from frame 1 to" in passing.sentence


def test_what_is_meant_to_be_seen_is_not_asked_about():
    assert found(PlacedLamp("panel", 0.1, 1.0, 0.2, role="practical")) is None
    assert found(PlacedLamp("panel", 0.1, -1.0, 0.2)) is None
    assert found(PlacedLamp("panel", 0.1, 1.0, 0.2), old_rules=True) is None


def test_it_may_stand_on_the_other_side_of_a_join():
    lamp = PlacedLamp("panel", 0.1, 1.0, 0.2)
    half = found(lamp, plate_cut="split", plate_lock_group="A")
    assert half.verdict is Verdict.STRAINS
    assert "another pass" in half.sentence


@pytest.mark.parametrize(("x", "y", "verdict"), [(0.2, 14.0, "holds"), (2.6, 14.0, "breaks")])
def test_before_a_cloth_it_is_masked_off_unless_it_covers_the_action(x, y, verdict):
    # The figure stands at 2.6 m to the right, 15.4 m away.
    lamp = found(PlacedLamp("panel", x, y, 1.9), plate=ANSA)
    assert lamp.verdict.value == verdict


def test_behind_the_cloth_it_is_hidden():
    screened = replace(ANSA, screen_width_m=3.0, screen_height_m=4.0)
    assert found(PlacedLamp("panel", 2.9, 18.0, 1.5), plate=screened) is None
    assert found(PlacedLamp("panel", 2.9, 17.0, 1.5), plate=screened) is not None


def test_light_this_plate_keeps_lamps_out_of_it():
    shot = stage(key_from_deg=40.0, key_elevation_deg=25.0)
    (best, *_) = light_plate(case_of(shot))
    lit = replace(shot, plates=(replace(shot.plates[0], lamps=best.lamps),))
    assert KEY not in findings(lit)
