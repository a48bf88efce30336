"""A camera on its side: a sensor that stands, and rows that run up the picture."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.camera import Camera
from jungoptic.core.filmed.file import judge_file
from jungoptic.core.judging.rolling_shutter import lean_deg
from jungoptic.core.lockoff.group import departures
from jungoptic.core.pictures.bend import bent
from jungoptic.core.plan import Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import LensMeasure, Mode
from jungoptic.core.plan.on_side import in_picture, mode_for, modes_for, turned
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.world import Delivery
from jungoptic.core.planner.kit_choices import kit_choices
from jungoptic.core.report.judged import judged
from jungoptic.core.stage.bent import bend_of

from .any_shot import any_shots
from .examples import ANSA, prime
from .stages import case_of, findings, one
from .test_filed import GOOD
from .twins import changed, twins

UPRIGHT = Delivery(1080, 1920, 24.0)
#: Turns a picture as the camera writes it upright, and how the camera is rolled then.
SIDES = pytest.mark.parametrize(("side", "roll_deg"), [("left", -90.0), ("right", 90.0)])


def standing(shot: Shot) -> Shot:
    """The same with bodies whose sensors are built to stand, and nobody lies on a side: what the
    core says of that it says of any sensor."""
    bodies = tuple(
        replace(body, modes=tuple(turned(mode) for mode in body.modes)) for body in shot.kit.bodies
    )
    plates = tuple(replace(p, on_side="") for p in shot.plates)
    return replace(shot, kit=replace(shot.kit, bodies=bodies), plates=plates)


@settings(max_examples=40)
@given(any_shots(), st.sampled_from(["left", "right"]))
def test_it_is_a_sensor_that_stands_in_every_rule_but_the_rows(shot, side):
    lies = replace(shot, plates=tuple(replace(p, on_side=side) for p in shot.plates))
    stands = standing(lies)
    for plate, other in zip(lies.plates, stands.plates, strict=True):
        mine = judged(lies, plate, remedies=False).findings
        theirs = judged(stands, other, remedies=False).findings
        rows = {"skew"}
        assert [f for f in mine if f.key not in rows] == [f for f in theirs if f.key not in rows]


@SIDES
@given(st.floats(-2, 2), st.floats(3, 20), st.floats(0, 4), st.floats(-20, 20), st.floats(-10, 10))
def test_a_picture_written_lying_is_turned_upright(side, roll_deg, x, y, z, pan, tilt):
    # The file of a camera that is rolled by 90 degrees, turned back: anticlockwise where its left
    # side is down.
    at = np.array([[x, y, z]])
    wide, high = 4096, 2160
    lying = Camera(24.9, 13.1, 28.0, (0, 0, 1.5), pan, tilt, roll_deg).project(at, wide, high)
    upright = Camera(13.1, 24.9, 28.0, (0, 0, 1.5), pan, tilt).project(at, high, wide)
    right, down = lying[0]
    back = (down, wide - right) if side == "left" else (high - down, right)
    assert upright[0] == pytest.approx(back, abs=1e-6)


@SIDES
def test_a_lens_bends_about_the_place_on_the_sensor_that_it_bends_about(side, roll_deg):
    # The reference: OpenCV through the lying camera with its own middle, its picture turned.
    measure = LensMeasure(28.0, 28.0, k1=-0.12, k2=0.02, right_mm=0.31, down_mm=-0.17)
    found = one(replace(ANSA, on_side=side))
    body = found.kit.bodies[0]
    # Square sites.
    square = tuple(replace(m, sensor_height_mm=24.9 * 2160 / 4096) for m in body.modes)
    kit = replace(
        found.kit,
        bodies=(replace(body, modes=square), *found.kit.bodies[1:]),
        lenses=(replace(prime(28), measured=(measure,)),),
    )
    found = replace(found, delivery=UPRIGHT, kit=kit)
    case = case_of(found)
    bend = bend_of(case)
    assert bend is not None
    mode = case.choice.mode
    high, wide = mode.width_px, mode.height_px
    focal = bend.pinhole_mm / mode.sensor_height_mm * wide
    per_mm = wide / mode.sensor_height_mm
    inner = np.array(
        [
            [focal, 0.0, wide / 2.0 + measure.right_mm * per_mm],
            [0.0, focal, high / 2.0 + measure.down_mm * per_mm],
            [0.0, 0.0, 1.0],
        ]
    )
    # Places of the upright picture, as the lying sensor sees their rays.
    places = np.array([[0.1, 0.2], [0.7, 0.4], [0.9, 0.9]]) * np.array([high, wide])
    x, y = ((places - np.array([high, wide]) / 2.0) / focal).T
    rays = np.column_stack([-y, x] if side == "left" else [y, -x])
    there, _ = cv2.projectPoints(
        np.column_stack([rays, np.ones(3)]),
        np.zeros(3),
        np.zeros(3),
        inner,
        np.array([measure.k1, measure.k2, 0.0, 0.0]),
    )
    right, down = there.reshape(-1, 2).T
    back = np.column_stack([down, wide - right] if side == "left" else [high - down, right])
    assert bent(places, bend, high, wide) == pytest.approx(back, abs=1e-6)


@given(st.floats(-3, 3), st.floats(-3, 3))
def test_both_sides_are_half_a_turn_apart(right, down):
    assert in_picture("", right, down) == (right, down)
    one_way, other = in_picture("left", right, down), in_picture("right", right, down)
    assert one_way == (-other[0], -other[1])
    assert math.hypot(*one_way) == pytest.approx(math.hypot(right, down))


class TestRows:
    #: Falls past a camera that stands still.
    CASE = StandIn("x", "Crate", "box", 0.0, 6.0, 1.0, 0.4, 0.4, 0.4, plate_id="ansa")

    def lean(self, side: str, readout_ms: float = 20.0, **thing: Any) -> float | None:
        found = one(replace(ANSA, on_side=side), stand_ins=(replace(self.CASE, **thing),))
        body = found.kit.bodies[0]
        modes = tuple(replace(m, readout_ms=readout_ms) for m in body.modes)
        bodies = (replace(body, modes=modes), *found.kit.bodies[1:])
        found = replace(found, kit=replace(found.kit, bodies=bodies), screen_time_s=1.0)
        return lean_deg(case_of(replace(found, delivery=UPRIGHT)))

    def test_what_crosses_does_not_lean_uprights(self):
        crossing = {"speed_m_s": 2.0, "course_deg": 90.0, "x_m": -0.8}
        standing_up, lying = self.lean("", **crossing), self.lean("left", **crossing)
        assert standing_up is not None
        assert standing_up > 0.2
        # Its middle goes level across: nothing of it moves along the rows.
        assert lying is not None
        assert lying < standing_up / 10.0

    def test_a_level_line_that_rises_leans_as_its_columns_are_read_one_after_another(self):
        # Towards the lens and out of its way: what it does in the picture is mostly to sink.
        coming = {"speed_m_s": 3.0, "course_deg": 180.0, "z_m": 0.0, "height_m": 0.2}
        found = self.lean("right", **coming)
        assert found is not None
        assert found > 0.1
        # Read twice as fast it leans half as much.
        assert math.tan(math.radians(self.lean("right", 10.0, **coming) or 0.0)) == pytest.approx(
            math.tan(math.radians(found)) / 2.0, rel=1e-6
        )
        # Reference: each column shows the line where it is when that column is read.
        case = self._case(coming)
        quick, stage = case.motion.upwards, case.stage
        assert quick is not None
        speed = quick.step_px * stage.needed_fps
        columns = np.arange(0.0, UPRIGHT.width_px)
        # Where on the sensor a column is, in parts of its rows; what is beside it is not read.
        rows = 0.5 + (columns / UPRIGHT.width_px - 0.5) * stage.crop_across
        read = (rows >= 0.0) & (rows <= 1.0)
        slope = np.polyfit(columns[read], speed * 0.020 * rows[read], 1)[0]
        assert found == pytest.approx(math.degrees(math.atan(slope)), rel=0.02)

    def _case(self, thing: dict[str, Any]) -> Any:
        found = one(replace(ANSA, on_side="right"), stand_ins=(replace(self.CASE, **thing),))
        return case_of(replace(found, screen_time_s=1.0, delivery=UPRIGHT))


class TestWays:
    def test_a_tall_picture_is_filmed_with_the_camera_on_its_side(self):
        found = replace(one(ANSA), delivery=UPRIGHT)
        found = replace(found, world=replace(found.world, sensor_width_mm=13.1, focal_mm=29.3))
        view = findings(found)["view"]
        assert view.verdict is Verdict.BREAKS
        turn = next(r for r in view.remedies if r.changes == {"on_side": "left"})
        assert "left across" in turn.effect
        after = changed(found, "ansa", on_side="left")
        assert findings(after)["view"].verdict is Verdict.HOLDS
        # Where all of it is seen already, nothing is to be had by turning.
        tight = replace(found, world=replace(found.world, focal_mm=60.0))
        assert all("on_side" not in r.changes for r in findings(tight)["view"].remedies)
        # And a wide one with the camera standing.
        back = one(replace(ANSA, on_side="left"))
        ways = [r for r in findings(back)["view"].remedies if r.changes == {"on_side": ""}]
        assert [w.sentence for w in ways] == ["Stand the camera upright."]

    def test_the_kit_for_a_tall_picture_is_chosen_with_the_camera_on_its_side(self):
        found = replace(one(replace(ANSA, lens_id=None)), delivery=UPRIGHT)
        found = replace(found, world=replace(found.world, sensor_width_mm=13.1, focal_mm=29.3))
        chosen = kit_choices(found, found.plates[0])[0]
        assert chosen.changes["on_side"] == "left"
        assert "on its side" in chosen.sentence
        after = changed(found, "ansa", **chosen.changes)
        assert findings(after)["view"].verdict is Verdict.HOLDS
        # A sensor that is built to stand stands.
        upright = kit_choices(standing(found), found.plates[0])[0]
        assert "on_side" not in upright.changes
        # And of a wide picture nobody lays the camera down.
        wide = one(replace(ANSA, lens_id=None))
        assert "on_side" not in kit_choices(wide, wide.plates[0])[0].changes

    def test_one_lock_off_has_one_side_down(self):
        found = changed(twins(), "right", on_side="left")
        told = {d.field: d for d in departures(found, found.plates[1])}
        assert (told["on_side"].mine, told["on_side"].theirs) == ("left", "none: it stands")
        both = changed(found, "left", on_side="left")
        assert departures(both, both.plates[1]) == ()


def test_a_file_that_lies_is_to_be_turned():
    tall = replace(one(replace(ANSA, on_side="left")), delivery=UPRIGHT)
    said = {f.key: f for f in judge_file(tall, tall.plates[0], GOOD)}["file-size"]
    assert said.verdict is Verdict.STRAINS
    assert "turn it by 90° anticlockwise" in said.sentence
    upright = replace(GOOD, width_px=2160, height_px=4096)
    said = {f.key: f for f in judge_file(tall, tall.plates[0], upright)}["file-size"]
    assert said.verdict is Verdict.HOLDS


def test_modes_turn_and_say_so():
    mode = Mode("m", "4K", 24.9, 13.1, 4096, 2160, 1, 60, 800, 200, 3200)
    lies = turned(mode)
    assert (lies.width_px, lies.height_px, lies.sensor_width_mm) == (2160, 4096, 13.1)
    assert lies.name == "4K, on its side"
    assert mode_for(ANSA, mode) is mode
    body = one(ANSA).kit.bodies[0]
    assert modes_for(ANSA, body) == body.modes
    assert modes_for(replace(ANSA, on_side="left"), body) == tuple(map(turned, body.modes))
