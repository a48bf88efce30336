"""What a reframe in post has to work with: only the picture that was filmed."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.cards.takes import Taken, judge_take
from jungoptic.core.judging.picture_left import missing
from jungoptic.core.plan import StandIn
from jungoptic.core.plan.findings import Verdict

from .examples import ANSA, MILL
from .stages import case_of, findings, one

W, H = 1920, 804


def black_rows(case) -> tuple[int, int, int, int]:
    """Black at the left, right, top and bottom of the delivered frame, after OpenCV has moved a
    white picture as large as was filmed."""
    found = missing(case, case.stage.crop_across, case.stage.crop_down)
    wide = max(round(W / case.stage.crop_across), W)
    high = max(round(H / case.stage.crop_down), H)
    turn, angle = found.reframe, math.radians(found.reframe.rotation_deg)
    c, s = turn.scale * math.cos(angle), turn.scale * math.sin(angle)
    # From pixels of the filmed picture, whose middle is the frame's.
    off = np.array([(W - wide) / 2.0, (H - high) / 2.0])
    spin = np.array([[c, -s], [s, c]])
    shift = spin @ off + (turn.shift_x_px, turn.shift_y_px)
    matrix = np.hstack([spin, shift[:, None]])
    white = np.full((high, wide), 255, dtype=np.uint8)
    frame = cv2.warpAffine(white, matrix, (W, H), flags=cv2.INTER_NEAREST) > 0
    columns, rows = frame.all(axis=0), frame.all(axis=1)
    if not frame.all():
        # Along each edge: how deep the black goes where it is deepest.
        depth = [
            int(np.where(side.all(axis=1), 0, (~side).sum(axis=1)).max())
            for side in (
                frame[:, : W // 2],
                frame[:, W // 2 :],
                frame.T[:, : H // 2],
                frame.T[:, H // 2 :],
            )
        ]
        return tuple(depth)
    assert columns.all()
    assert rows.all()
    return 0, 0, 0, 0


@settings(max_examples=40)
@given(st.floats(-8.0, 8.0), st.floats(0.06, 0.35))
def test_it_is_what_is_black_when_the_picture_is_moved(tilt, height):
    case = case_of(one(MILL, plate_tilt_deg=tilt, plate_axis_height_m=height))
    found = missing(case, case.stage.crop_across, case.stage.crop_down)
    if found is None:
        return
    deepest = max(black_rows(case))
    if found.px < 0.5:
        assert deepest <= 1
    elif abs(found.reframe.rotation_deg) < 0.05:
        assert deepest == pytest.approx(found.px, abs=2.0)


def test_a_tilt_that_matches_after_a_shift_still_lacks_its_picture():
    # A far wall: tilting moves it straight up and down, so the reframe fits it well.
    wall = StandIn("wall", "Wall", "box", 0.0, 200.0, 0.0, 300.0, 60.0, 1.0, 0.0, "mill")
    shot = one(MILL, stand_ins=(wall,))
    level = case_of(shot)
    high = level.stage.crop_down
    # Just more than the rows kept above and below.
    spare = (1.0 / high - 1.0) / 2.0
    half = math.degrees(math.atan(level.stage.camera.sensor_height_mm / 2 / level.stage.pinhole_mm))
    found = findings(replace_tilt(shot, level.stage.tilt_deg + half * 2.0 * (spare + 0.1)))
    assert found["picture-left"].verdict is Verdict.BREAKS
    assert "missing at the bottom" in found["picture-left"].sentence
    less = findings(replace_tilt(shot, level.stage.tilt_deg + half * (spare * 0.8)))
    assert less["picture-left"].verdict is Verdict.HOLDS


def replace_tilt(shot, tilt):
    return replace(shot, plates=(replace(shot.plates[0], tilt_deg=tilt),))


def test_what_is_cut_out_needs_no_picture_around_it():
    # The performer stands clear of the bottom edge; a mill fills the frame.
    whole = findings(one(MILL, plate_axis_height_m=0.3))["picture-left"]
    assert whole.verdict is Verdict.BREAKS
    cut = findings(one(ANSA, plate_tilt_deg=6.0))
    assert cut["picture-left"].verdict is Verdict.HOLDS


def test_without_a_reframe_there_is_nothing_to_say():
    assert "picture-left" not in findings(one(MILL))
    assert "picture-left" not in findings(one(MILL, stand_ins=()))


def test_a_take_says_it_too():
    shot = one(MILL)
    found = judge_take(shot, shot.plates[0], Taken(axis_height_m=0.3))
    said = {f.key: f for f in found.findings}
    assert said["picture-left"].verdict is Verdict.BREAKS
    assert "nothing was filmed there" in said["picture-left"].sentence
