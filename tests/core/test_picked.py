"""Marks and edges picked in a picture: cameras that OpenCV's projection made are found again."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings

from jungoptic.core.board.standing import stood_of
from jungoptic.core.camera import Camera
from jungoptic.core.filmed.marks import judge_marks, offered, readings_by_marks
from jungoptic.core.impossible import Impossible
from jungoptic.core.picked.edges import by_edges, height_by
from jungoptic.core.picked.marks import focal_by, places_of, resected, wrong_one
from jungoptic.core.picked.seen import ByMarks, Edge, PickedMark, Upright
from jungoptic.core.pictures.bend import Bend
from jungoptic.core.plan import seen_from_own
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.tape import mark_of
from jungoptic.devices.held_up import before

from .any_shot import any_shots
from .examples import MILL, shot

W, H, SENSOR = 1920, 1080, 24.0
CAMERA = Camera(SENSOR, SENSOR * H / W, 28.0, (0.15, -2.6, 1.42), -2.0, -9.0, 0.8)
#: A table 1.2 x 0.8 m, 0.74 m high, two marks on the floor, and one on the wall behind.
SET = [
    ("table, left front", -0.6, 0.2, 0.74),
    ("table, right front", 0.6, 0.2, 0.74),
    ("table, left back", -0.6, 1.0, 0.74),
    ("table, right back", 0.6, 1.0, 0.74),
    ("cross on the floor", 0.9, 1.4, 0.0),
    ("nail in the wall", -0.4, 2.2, 1.9),
]


def by_opencv(camera: Camera, points, bent=(0.0, 0.0)):
    """Where a camera shows points, parts of the picture, by OpenCV's `projectPoints`."""
    turned, focal = camera.axes, camera.focal_px(W)
    matrix = np.array([[focal, 0, W / 2], [0, focal, H / 2], [0, 0, 1.0]])
    moved = -turned @ np.array(camera.position_m)
    rows = np.asarray(points, float)
    pixels, _ = cv2.projectPoints(
        rows, cv2.Rodrigues(turned)[0], moved, matrix, np.array([*bent, 0.0, 0.0])
    )
    return pixels.reshape(-1, 2) / (W, H)


def picked(camera: Camera = CAMERA, rows=SET, bent=(0.0, 0.0)) -> tuple[PickedMark, ...]:
    places = by_opencv(camera, [row[1:] for row in rows], bent)
    return tuple(
        PickedMark(*row, float(x), float(y)) for row, (x, y) in zip(rows, places, strict=True)
    )


class TestMarks:
    @pytest.mark.parametrize("count", [4, 5, 6])
    def test_the_camera_that_opencv_projected_them_through(self, count):
        stood = stood_of(resected(picked()[:count], W, H, SENSOR, 28.0))
        assert stood.height_m == pytest.approx(1.42, abs=1e-4)
        assert stood.distance_m == pytest.approx(math.hypot(0.15, 2.6), abs=1e-4)
        assert (stood.tilt_deg, stood.roll_deg) == pytest.approx((-9.0, 0.8), abs=1e-3)

    def test_a_lens_that_bends_lines(self):
        marks, focal = picked(bent=(-0.12, 0.02)), 28.0
        bend = Bend(-0.12, 0.02, 0.0, 0.0, focal, SENSOR)
        found = resected(marks, W, H, SENSOR, focal, bend)
        assert found.camera.position_m == pytest.approx(CAMERA.position_m, abs=1e-3)
        places = places_of(found, marks, W, H, bend)
        assert places == pytest.approx(np.array([(m.x, m.y) for m in marks]), abs=1e-5)
        # Without it the camera seems to stand elsewhere.
        off = resected(marks, W, H, SENSOR, focal).camera.position_m[1] + 2.6
        assert abs(off) > 0.02

    def test_they_tell_the_focal_length_themselves(self):
        found = focal_by(picked(), W, H, SENSOR)
        assert found is not None
        assert found[0] == pytest.approx(28.0, rel=1e-3)
        assert focal_by(picked()[:3], W, H, SENSOR) is None

    def test_nine_errors_of_ten_lie_within_what_is_said(self):
        dice, held = np.random.default_rng(7), []
        for _ in range(150):
            marks = tuple(
                replace(m, x=m.x + dx / W, y=m.y + dy / H)
                for m, (dx, dy) in zip(picked(), dice.normal(0, 0.6, (6, 2)), strict=True)
            )
            stood = stood_of(resected(marks, W, H, SENSOR, 28.0))
            held.append(abs(stood.height_m - 1.42) <= stood.height_off)
            held.append(abs(stood.tilt_deg + 9.0) <= stood.tilt_off)
            held.append(abs(stood.distance_m - math.hypot(0.15, 2.6)) <= stood.distance_off)
        assert np.mean(held) > 0.86

    @pytest.mark.parametrize("wrong", range(6))
    @pytest.mark.parametrize("how", ["taped", "picked"])
    def test_the_wrong_one_is_named(self, wrong, how):
        marks = list(picked())
        one = marks[wrong]
        marks[wrong] = (
            replace(one, ahead_m=one.ahead_m + 0.3)
            if how == "taped"
            else replace(one, x=one.x + 30 / W, y=one.y - 24 / H)
        )
        found = wrong_one(tuple(marks), W, H, SENSOR, 28.0)
        assert found is not None
        assert found[0] == wrong
        assert found[1] > 5.0

    def test_where_all_agree_none_is(self):
        assert wrong_one(picked(), W, H, SENSOR, 28.0) is None
        # Of four marks nobody can say which.
        marks = picked()[:4]
        off = (replace(marks[0], x=marks[0].x + 0.02), *marks[1:])
        assert wrong_one(off, W, H, SENSOR, 28.0) is None

    def test_what_cannot_be(self):
        for marks in (picked()[:3], (picked()[0],) * 4):
            with pytest.raises(Impossible):
                resected(marks, W, H, SENSOR, 28.0)
        below = Camera(SENSOR, SENSOR * H / W, 28.0, (0.1, -2.0, -0.4), 0.0, 12.0, 0.0)
        with pytest.raises(Impossible, match="below the ground"):
            resected(picked(below), W, H, SENSOR, 28.0)


@settings(max_examples=80, deadline=None)
@given(any_shots())
def test_what_a_plan_offers_reads_as_planned(any_shot) -> None:
    """Whatever the plan: the feet and tops that it offers, picked where its camera shows them, put
    the camera where a tape reads it."""
    for plate in any_shot.plates:
        whole = seen_from_own(any_shot, plate)
        try:
            case = Case.of(whole, plate)
        except Impossible:
            continue
        if case is None or mark_of(case) is None:
            continue
        mode, camera = case.choice.mode, before(case)
        own = [
            PickedMark(o.name, o.right_m, o.ahead_m, o.up_m, o.x, o.y)
            for o in offered(case)
            if o.x is not None and o.y is not None
        ]
        points = [(m.right_m, m.ahead_m, m.up_m) for m in own]
        if not own:
            continue
        seen = camera.project(points, mode.width_px, mode.height_px) / (
            mode.width_px,
            mode.height_px,
        )
        assert seen == pytest.approx(np.array([(m.x, m.y) for m in own]), abs=1e-6)


class TestAgainstThePlan:
    def by(self, case, **moved) -> ByMarks:
        one = before(case, **moved)
        rows = [(o.name, o.right_m, o.ahead_m, o.up_m) for o in offered(case)]
        # The corners of a table, besides what stands there.
        rows += [(f"corner {n}", x, y, 0.0) for n, (x, y) in enumerate([(-0.3, -0.2), (0.3, 0.4)])]
        wide, high = case.choice.mode.width_px, case.choice.mode.height_px
        places = one.project([row[1:] for row in rows], wide, high)
        marks = tuple(
            PickedMark(*row, float(x) / wide, float(y) / high)
            for row, (x, y) in zip(rows, places, strict=True)
        )
        found = resected(marks, wide, high, case.choice.mode.sensor_width_mm, one.focal_mm)
        return ByMarks(stood_of(found), (), found.rms_px, wide, one.focal_mm, "plan")

    def test_a_camera_as_planned_reads_as_planned(self):
        case = Case.of(shot(), MILL)
        assert case is not None
        told = readings_by_marks(shot(), MILL, self.by(case))
        assert told["tilt_deg"] == pytest.approx(case.stage.camera.tilt_deg, abs=0.01)
        assert told["axis_height_m"] == pytest.approx(case.stage.mark_height_m, abs=1e-3)

    def test_marks_that_do_not_agree_are_not_believed(self):
        case = Case.of(shot(), MILL)
        assert case is not None
        good = self.by(case)
        bad = replace(good, rms_px=22.0, suspect="Mill, foot", suspect_px=40.0)
        assert readings_by_marks(shot(), MILL, bad) == {}
        (finding,) = judge_marks(shot(), MILL, ["a", "b", "c", "d", "e"], bad)
        assert finding.verdict == Verdict.STRAINS
        assert "Without “Mill, foot” the others do" in finding.sentence
        found = {f.key: f for f in judge_marks(shot(), MILL, ["a"] * 5, good)}
        assert found["marks-stood"].verdict == Verdict.HOLDS
        assert found["marks-roll"].sentence == "The camera was level."


#: A room: its edges from the camera's side, metres. Across, ahead and up.
ROOM = {
    "across": [((-2, 5, 0), (2, 5, 0)), ((-2, 5, 2.4), (2, 5, 2.4)), ((-1, 4, 0.74), (1, 4, 0.74))],
    "ahead": [((-2, 3, 0), (-2, 5, 0)), ((2, 3, 2.4), (2, 5, 2.4)), ((2, 3, 0), (2, 5, 0))],
    "up": [((-2, 5, 0), (-2, 5, 2.4)), ((2, 5, 0), (2, 5, 2.4))],
}


def traced(camera: Camera) -> list[Edge]:
    found = []
    for direction, edges in ROOM.items():
        for ends in edges:
            (x1, y1), (x2, y2) = by_opencv(camera, ends)
            found.append(Edge(direction, *(float(v) for v in (x1, y1, x2, y2))))
    return found


class TestEdges:
    """Criminisi, Reid and Zisserman 2000, Single View Metrology: what one picture tells."""

    @pytest.mark.parametrize(
        ("focal", "pan", "tilt", "roll", "high"),
        [
            (18.0, 20.0, -8.0, 0.0, 1.2),
            (24.0, -30.0, 6.0, 2.0, 0.5),
            (35.0, 12.0, -14.0, -3.0, 2.3),
        ],
    )
    def test_lens_turns_and_height_of_a_picture_nobody_noted(self, focal, pan, tilt, roll, high):
        camera = Camera(SENSOR, SENSOR * H / W, focal, (0.2, -1.0, high), pan, tilt, roll)
        # Somebody 1.72 m tall stands there.
        foot, top = by_opencv(camera, [(0.4, 4.2, 0.0), (0.4, 4.2, 1.72)])
        upright = Upright(1.72, *(float(v) for v in (*foot, *top)))
        found = by_edges(traced(camera), [upright], W, H)
        assert found.focal_widths == pytest.approx(focal / SENSOR, rel=1e-3)
        turns = found.pan_deg, found.tilt_deg, found.roll_deg
        assert turns == pytest.approx((pan, tilt, roll), abs=0.02)
        assert found.height_m == pytest.approx(high, abs=1e-3)
        # What is very far away at the lens's own height lies on the horizon.
        right, ahead = camera.axes[0], camera.axes[2]
        for part, at in zip((-0.5, 0.5), found.horizon, strict=True):
            way = ahead + part * SENSOR / focal * right
            far = [(way[0] * 1e7, way[1] * 1e7, high)]
            x, y = by_opencv(camera, far)[0]
            slope = found.horizon[1] - found.horizon[0]
            assert y == pytest.approx(at + slope * (x - (part + 0.5)), abs=1e-3)

    def test_things_that_differ_on_the_height_say_by_how_much(self):
        camera = Camera(SENSOR, SENSOR * H / W, 24.0, (0.0, -1.0, 1.5), 20.0, -6.0, 0.0)
        places = by_opencv(camera, [(0.3, 4.0, 0.0), (0.3, 4.0, 1.8)]).ravel()
        same = Upright(1.8, *(float(v) for v in places))
        found = by_edges(traced(camera), [same, replace(same, height_m=2.0)], W, H)
        assert found.height_m == pytest.approx(1.5 * (1 + 2.0 / 1.8) / 2, abs=1e-3)
        assert found.height_off == pytest.approx(1.5 * 0.2 / 1.8 / 2, abs=1e-3)

    def test_what_says_nothing_is_refused(self):
        edges = traced(CAMERA)
        with pytest.raises(Impossible, match="two directions"):
            by_edges([e for e in edges if e.direction == "up"], [], W, H)
        level = Camera(SENSOR, SENSOR * H / W, 28.0, (0.0, 0.0, 1.5))
        with pytest.raises(Impossible, match="below the horizon"):
            height_by(level, Upright(1.7, 0.5, 0.3, 0.5, 0.1), W, H)
        with pytest.raises(Impossible, match="above its foot"):
            height_by(level, Upright(1.7, 0.5, 0.7, 0.5, 0.9), W, H)
