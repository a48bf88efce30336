"""Where a board is held up: whole in the picture, large enough, and as low as it can be."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from jungoptic.core.board import finding
from jungoptic.core.board.number import TIMES
from jungoptic.core.board.placed import FREE, corners_of, laid, place
from jungoptic.core.board.seen import WELL_PX_PER_MM
from jungoptic.core.camera import Camera
from jungoptic.core.cards.board_line import board_place, board_says
from jungoptic.core.stage.case import Case
from jungoptic.devices.held_up import Board, before, with_board

from .examples import ANSA, MILL, shot

W, H = 1920, 1080


def camera(height, distance, tilt, focal=35.0, aside=0.0, pan=0.0):
    return Camera(36.0, 20.25, focal, (aside, -distance, height), pan, tilt, 0.0)


def in_pixels(one: Camera, points: np.ndarray) -> np.ndarray:
    """By OpenCV's own projection."""
    turn = cv2.Rodrigues(one.axes)[0]
    place_ = -one.axes @ np.asarray(one.position_m)
    focal = one.focal_mm / one.sensor_width_mm * W
    matrix = np.array([[focal, 0, W / 2], [0, focal, H / 2], [0, 0, 1.0]])
    return cv2.projectPoints(points, turn, place_, matrix, None)[0][:, 0]


@settings(max_examples=150, deadline=None)
@given(
    st.floats(0.1, 2.5),
    st.floats(0.6, 12.0),
    st.floats(-60.0, 20.0),
    st.floats(18.0, 100.0),
    st.floats(-1.0, 1.0),
)
def test_it_is_seen_whole(height, distance, tilt, focal, aside):
    one = camera(height, distance, tilt, focal, aside)
    found = place(one, W, H)
    assume(found is not None)
    ends = in_pixels(one, corners_of(found.paper, found.way, found.up_m))
    assert (ends > 0.02 * W * np.array([1, H / W])).all()
    assert (ends < np.array([W, H]) * 0.98).all()
    # Nothing lower would do: a box less high, the same paper.
    if found.way == "standing" and found.up_m >= 0.25:
        lower = in_pixels(one, corners_of(found.paper, "standing", found.up_m - 0.05))
        free = np.array([W, H]) * FREE
        out = (lower < free).any() or (lower > np.array([W, H]) - free).any()
        rise = height - found.up_m + 0.05
        square = abs(one.position_m[1]) / math.hypot(distance, rise, aside)
        assert out or found.fineness < 1.04 * WELL_PX_PER_MM or found.fineness * square < 0.44


def test_the_four_ways_of_holding_it():
    # The floor is in frame before a camera that looks down a little.
    floor = place(camera(0.5, 2.0, -8.0), W, H)
    assert (floor.way, floor.up_m, floor.paper) == ("standing", 0.0, "A4")
    # Steeply from above a board on its edge is seen from the top: it lies.
    steep = place(camera(1.6, 0.75, -66.0), W, H)
    assert steep.way == "lying"
    # At eye height nothing of the floor is seen: it stands on something.
    eyes = place(camera(1.6, 2.5, 0.0), W, H)
    assert eyes.way == "standing"
    assert 0.7 < eyes.up_m < 1.2
    # Far away the larger paper is taken.
    assert place(camera(1.0, 4.5, -5.0), W, H).paper == "A3"


def test_nowhere_to_hold_it():
    # Beside the picture, behind the lens, and so near that it does not fit.
    assert place(camera(1.0, 3.0, 0.0, aside=4.0), W, H) is None
    assert place(camera(1.0, -3.0, 0.0), W, H) is None
    assert place(camera(0.1, 0.2, 0.0), W, H) is None
    assert "out of frame or too near" in board_says(None)


@pytest.mark.parametrize("plate", [ANSA, MILL], ids=["life size", "miniature"])
def test_the_words_of_a_card(plate):
    case = Case.of(shot(), plate)
    placed = board_place(case)
    says = board_says(placed)
    assert says.startswith(f"{placed.paper}, upright on the mark")
    assert ("far away" in says) == (placed.fineness < WELL_PX_PER_MM)


def test_it_is_found_where_the_card_has_it_held():
    """By what looks for boards, in a picture of the plate's own mode."""
    case = Case.of(shot(), MILL)
    placed = board_place(case)
    board = Board(before(case), 31, placed.way, placed.paper, up_m=placed.up_m)
    mode = case.choice.mode
    wide = 1920
    high = round(wide * mode.height_px / mode.width_px)
    picture = with_board(np.full((high, wide), 0.3, np.float32), board)
    found = finding.find(finding.grey_of(picture))
    assert (found.number, found.paper) == (31, placed.paper)
    assert found.px_per_mm * mode.width_px / wide == pytest.approx(placed.px_per_mm, rel=0.1)
    assert board.shows(1)
    assert not Board(before(case), 31, first=2, last=3).shows(4)


def test_a_sheet_in_space():
    flat = np.array([[0.1, 0.2]])
    assert laid(flat, "lying").tolist() == [[0.1, 0.2, 0.0]]
    assert laid(flat, "standing", 0.5).tolist() == [[0.1, 0.0, 0.7]]
    ends = corners_of("A3", "standing", 0.5)
    assert ends[:, 2].min() == pytest.approx(0.5)
    assert np.ptp(ends[:, 2]) == pytest.approx(0.297 * TIMES["A3"])
    assert math.isclose(np.ptp(ends[:, 0]), 0.21 * math.sqrt(2.0))


def test_a_board_behind_the_lens_is_not_drawn():
    picture = np.full((90, 160), 0.4, np.float32)
    behind = Board(camera(1.0, 0.0, 60.0), 1)
    assert (with_board(picture, behind) == picture).all()
