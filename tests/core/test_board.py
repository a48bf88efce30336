"""The board that logs itself: its number, its sheet, and what a picture of it tells.

Checked against OpenCV's own board, and against pictures whose camera is known. Aimed at, with 1 %
noise and the focal length known, at 0.7 pixels a millimetre or more: distance 0.15 %, height 7 mm,
tilt 0.3 degrees, with an uncertainty that covers nine errors of ten.
"""

from __future__ import annotations

import math
from functools import cache

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.board import finding, markers, number, paper
from jungoptic.core.board.seen import Found, Seen, Stood
from jungoptic.core.board.standing import focal_of, stood
from jungoptic.core.camera import Camera
from jungoptic.core.impossible import Impossible
from tests.boards import seen

W, H = 1920, 1080


def test_every_marker_is_the_dictionary_s_own():
    """OpenCV, DICT_4X4_1000, which is what finds them."""
    words = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_1000)
    assert markers.COUNT == len(words.bytesList) == 1000
    for one in range(markers.COUNT):
        drawn = cv2.aruco.generateImageMarker(words, one, 6)[1:5, 1:5] > 0
        assert (np.array(markers.cells(one)) == drawn).all(), one
    with pytest.raises(ValueError, match="0 to 999"):
        markers.cells(1000)


def test_the_grid_is_the_library_s_own():
    words = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_1000)
    grid = cv2.aruco.CharucoBoard(paper.SQUARES, paper.SQUARE_MM, paper.MARKER_MM, words)
    dots = 12
    theirs = grid.generateImage((184 * dots, 230 * dots), marginSize=0) > 127
    ours = np.ones((297 * dots, 210 * dots), bool)
    for left, top, side in paper.black(7):
        x, y, right, below = (round(v * dots) for v in (left, top, left + side, top + side))
        ours[y:below, x:right] = False
    left, top = (round(v * dots) for v in paper.GRID_MM)
    part = ours[top : top + 230 * dots, left : left + 184 * dots]
    # Edges of cells fall between dots.
    assert (part != theirs).mean() < 0.004
    corners = grid.getChessboardCorners()[:, :2] + paper.GRID_MM
    assert np.allclose(corners, paper.corners_mm())


@given(st.integers(0, number.NUMBERS - 1), st.sampled_from(["A4", "A3"]))
def test_a_number_comes_back(n, size):
    assert number.code_of(number.markers_of(n, size)) == number.Code(n, size)


@given(
    st.integers(0, number.NUMBERS - 1),
    st.sampled_from(["A4", "A3"]),
    st.integers(0, 2),
    st.integers(0, 999),
)
def test_a_marker_misread_is_no_other_board(n, size, at, wrong):
    """But for the check's own half, which only tells the paper, and one digit in 989."""
    right = number.markers_of(n, size)
    misread = [*right]
    misread[at] = wrong
    found = number.code_of(misread)
    if wrong == right[at]:
        assert found == number.Code(n, size)
    elif abs(wrong - right[at]) != number.BASE // 2:
        assert found is None


def test_a_number_that_no_board_has():
    for n in (-1, number.NUMBERS):
        with pytest.raises(Impossible):
            number.markers_of(n)
    assert number.code_of([10, 11]) is None
    assert number.code_of([3, 11, 500]) is None


def test_places_are_told_from_the_lower_edge():
    foot = np.array([[paper.WIDE_MM / 2, paper.HIGH_MM], [0.0, 0.0]])
    assert np.allclose(paper.from_foot_m(foot, "A4"), [[0, 0], [-0.105, 0.297]])
    # A3 is 297 mm wide and 420 high (ISO 216).
    assert np.allclose(paper.from_foot_m(foot, "A3")[1], [-0.1485, 0.42], atol=2e-4)
    assert np.allclose(paper.from_foot_m(foot, "A4", 98.0)[1], [-0.1029, 0.29106])


def camera(height, distance, focal=35.0, off=0.0, roll=0.0, about=0.0, wide=W, high=H):
    """A camera over the board's foot, looking at it, but for `off` degrees up and right."""
    tilt = -math.degrees(math.atan2(height - 0.1, distance))
    turn = math.radians(about)
    place = distance * math.sin(turn), -distance * math.cos(turn), height
    sensor = 36.0, 36.0 * high / wide
    return Camera(*sensor, focal, place, -about + off, tilt + off, roll)


#: Where a board is seen from: height, distance, focal length, how much turned away, and how it is.
SEEN = [
    (1.5, 1.2, 35.0, 0.0, "lying"),
    (1.2, 1.0, 24.0, 20.0, "lying"),
    (0.9, 0.8, 28.0, -15.0, "lying"),
    (1.4, 1.1, 50.0, 8.0, "lying"),
    (1.7, 1.6, 50.0, 0.0, "lying"),
    (1.3, 2.0, 50.0, 10.0, "standing"),
    (0.8, 1.5, 35.0, -25.0, "standing"),
    (0.3, 1.2, 28.0, 5.0, "standing"),
    (1.6, 2.4, 85.0, 0.0, "standing"),
    (0.6, 2.2, 50.0, 15.0, "standing"),
]


@cache
def found_at(i: int) -> tuple[Camera, Found]:
    height, distance, focal, about, way = SEEN[i]
    one = camera(height, distance, focal, off=2.0, roll=0.7, about=about)
    found = finding.find(seen(one, W, H, 1000 * i + 7, way, seed=i))
    assert found is not None, SEEN[i]
    return one, found


@pytest.mark.parametrize("i", range(len(SEEN)))
def test_a_board_is_found_and_read(i):
    one, found = found_at(i)
    assert (found.number, found.paper, len(found.corners)) == (1000 * i + 7, "A4", 12)
    assert (found.width_px, found.height_px) == (W, H)
    flat = paper.from_foot_m(paper.corners_mm(), "A4")
    none = np.zeros(len(flat))
    lying = SEEN[i][4] == "lying"
    columns = (flat[:, 0], flat[:, 1], none) if lying else (flat[:, 0], none, flat[:, 1])
    off = np.array(found.places) - one.project(np.column_stack(columns), W, H)
    assert np.sqrt((off**2).sum(axis=1).mean()) < 0.3
    # Its outline is told to a pixel or so, to be drawn.
    away = math.dist(one.position_m, (0.0, 0.0, 0.0))
    assert found.px_per_mm == pytest.approx(one.focal_mm * W / 36.0 / away / 1000.0, rel=0.25)


def test_a_number_may_have_the_same_marker_twice():
    """Both digits the same, or one and the check: one card in three hundred."""
    for n in (244 * number.BASE + 244, 844 * number.BASE + 456):
        assert len(set(number.markers_of(n))) == 2
        found = finding.find(seen(camera(1.2, 1.0), W, H, n))
        assert found is not None
        assert found.number == n


@pytest.mark.parametrize("i", range(len(SEEN)))
def test_where_the_camera_stood(i):
    one, found = found_at(i)
    height, distance, focal, _, way = SEEN[i]
    told, rms = stood(found, way, 36.0, focal)
    assert rms < 0.3
    assert told.distance_m == pytest.approx(distance, rel=0.0025)
    assert told.height_m == pytest.approx(height, abs=0.007)
    assert told.tilt_deg == pytest.approx(one.tilt_deg, abs=0.3)
    assert told.roll_deg == pytest.approx(one.roll_deg, abs=0.3)
    assert told.aside_m == pytest.approx(one.position_m[0], abs=0.02)


def test_nine_errors_of_ten_are_covered():
    within = []
    for i, (height, distance, focal, _, way) in enumerate(SEEN):
        one, found = found_at(i)
        told, _ = stood(found, way, 36.0, focal)
        within += [
            abs(told.distance_m - distance) <= told.distance_off,
            abs(told.height_m - height) <= told.height_off,
            abs(told.tilt_deg - one.tilt_deg) <= told.tilt_off,
        ]
    assert np.mean(within) >= 0.85
    # And is no wider than it has to be.
    assert told.distance_off < 0.01 * distance


def test_the_half_of_the_errors_is_small():
    off = []
    for i, (_, distance, focal, _, way) in enumerate(SEEN):
        told, _ = stood(found_at(i)[1], way, 36.0, focal)
        off.append(abs(told.distance_m / distance - 1.0))
    assert np.median(off) < 0.001


def test_how_the_board_was_follows_from_how_a_camera_is_held():
    for i, (*_, focal, _, way) in enumerate(SEEN):
        one, found = found_at(i)
        both = {w: stood(found, w, 36.0, focal) for w in ("lying", "standing")}
        known = {w: None if b is None else b[0] for w, b in both.items()}
        told = Seen(1, found, known["lying"], known["standing"])
        assert told.likelier(one.tilt_deg) == way
    assert Seen(1, found).likelier() is None


def test_a_larger_sheet_and_a_printer_that_shrinks():
    one = camera(1.4, 1.8, 35.0)
    found = finding.find(seen(one, W, H, 55, size="A3"))
    assert (found.number, found.paper) == (55, "A3")
    told, _ = stood(found, "lying", 36.0, 35.0)
    assert told.distance_m == pytest.approx(1.8, rel=0.0025)
    shrunk = finding.find(seen(one, W, H, 55, size="A3", larger=0.97))
    told, _ = stood(shrunk, "lying", 36.0, 35.0)
    assert told.distance_m == pytest.approx(1.8 / 0.97, rel=0.003)
    true = told.printed(97.0)
    assert isinstance(true, Stood)
    assert true.distance_m == pytest.approx(1.8, rel=0.003)
    assert (true.tilt_deg, true.tilt_off) == (told.tilt_deg, told.tilt_off)


def test_the_focal_length_where_the_board_is_large_enough():
    close = camera(0.9, 0.6, 35.0, about=30.0)
    found = finding.find(seen(close, W, H, 9))
    assert found.px_per_mm > 1.5
    focal, off = focal_of(found, 36.0)
    assert focal == pytest.approx(35.0, abs=max(off, 0.3))
    assert off < 1.5
    # Far away it cannot be told, and square to the lens neither.
    assert focal_of(found_at(4)[1], 36.0) is None or found_at(4)[1].px_per_mm >= 1.0
    square = Camera(36.0, 20.25, 35.0, (0.0, 0.13, 1.0), 0.0, -89.0)
    flat = finding.find(seen(square, W, H, 9))
    told = focal_of(flat, 36.0)
    assert told is None or told[1] > 0.5


def test_a_turned_sheet_is_read_too():
    """Laid down the wrong way round, or on its side."""
    for about in (90.0, 180.0, 235.0):
        one = camera(1.3, 0.9, 35.0, about=about)
        found = finding.find(seen(one, W, H, 4321))
        assert found.number == 4321
        told, _ = stood(found, "lying", 36.0, 35.0)
        assert told.distance_m == pytest.approx(0.9, rel=0.0025)


def test_nothing_is_found_where_there_is_none():
    dice = np.random.default_rng(1)
    noise = dice.integers(0, 255, (540, 960)).astype(np.uint8)
    assert finding.find(cv2.GaussianBlur(noise, (0, 0), 3)) is None
    assert finding.find(np.full((90, 160), 90, np.uint8)) is None
    # A board of squares alone, without a marker, is somebody else's.
    squares = (np.indices((540, 960)) // 60).sum(axis=0) % 2 * 200
    assert finding.find(squares.astype(np.uint8)) is None


def test_what_covers_a_part_of_it():
    one = camera(1.3, 1.0, 35.0)
    picture = seen(one, W, H, 77)
    place = one.project(np.array([[0.0, 0.03, 0.0]]), W, H)[0]
    covered = picture.copy()
    cv2.circle(covered, (int(place[0]), int(place[1])), 30, 128, -1)
    found = finding.find(covered)
    # A thumb over the number: where the camera stood is told all the same.
    assert found.number is None
    told, _ = stood(found, "lying", 36.0, 35.0)
    assert told.distance_m == pytest.approx(1.0, rel=0.004)


def test_a_picture_of_any_kind():
    drawn = np.random.default_rng(3).uniform(0.0, 0.9, (90, 60)).astype(np.float32)
    assert finding.grey_of(drawn).dtype == np.uint8
    colour = np.repeat(drawn[..., None], 3, axis=2)
    assert np.abs(finding.grey_of(colour).astype(int) - finding.grey_of(drawn)).max() <= 1
    eight = (drawn * 255).astype(np.uint8)
    assert (finding.grey_of(eight) == eight).all()


def test_which_frames_are_looked_at():
    assert list(finding.frames_to_scan(1, None)) == [1]
    assert list(finding.frames_to_scan(10, None)) == [1, 2, 3, 8, 9, 10]
    long = list(finding.frames_to_scan(24 * 60, 24.0))
    assert long[0] == 1
    assert long[-1] == 24 * 60
    assert all(n <= 48 or n > 24 * 58 for n in long)
    assert list(finding.frames_to_scan(7, 24.0)) == sorted({1, 6, 7, 2})


def test_a_sensor_that_is_none():
    with pytest.raises(Impossible, match="sensor"):
        stood(found_at(0)[1], "lying", 0.0, 35.0)
