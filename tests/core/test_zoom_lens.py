"""A zoom that nobody has set is set so that its picture just has all of the story's."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.judging.view import takes
from jungoptic.core.plan import Kit, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import Body, Mode
from jungoptic.core.plan.world import Delivery

from .examples import ANSA, CINEMA, prime, shot
from .stages import case_of, findings

ANY_ZOOM = replace(prime(28), id="zoom", name="Zoom", focal_min_mm=2.0, focal_max_mm=300.0)
DELIVERIES = st.sampled_from([(1920, 804), (1920, 1080), (1080, 1080), (1080, 1920)])
SENSORS = st.tuples(st.floats(8, 40), st.floats(6, 30))


def with_zoom(
    delivery: tuple[int, int],
    sensor: tuple[float, float] = (24.9, 13.1),
    padding: float = 0.0,
    **more: object,
) -> Shot:
    """A performer before a body with that sensor and one zoom."""
    wide, high = sensor
    mode = Mode("4k", "4K", wide, high, 4000, round(4000 * high / wide), 1, 60, 800, 200, 3200)
    kit = Kit((Body("cinema", "Body", CINEMA.axis_height_mm, 44, modes=(mode,)),), (ANY_ZOOM,))
    plate = replace(ANSA, lens_id="zoom", **more)
    return shot(delivery=Delivery(*delivery, 24.0), plates=(plate,), kit=kit, padding=padding)


@given(DELIVERIES, SENSORS, st.floats(0, 0.2), st.sampled_from(["", "left"]))
def test_it_sees_all_of_any_picture_with_its_padding_and_no_more(delivery, sensor, padding, side):
    found = with_zoom(delivery, sensor, padding, on_side=side)
    stage, world = case_of(found).stage, found.world
    mode = stage.choice.mode
    # Reference: the corners of the padded picture, as rays, through OpenCV's camera.
    per_mm = mode.width_px / mode.sensor_width_mm
    inner = np.diag([stage.pinhole_mm * per_mm, stage.pinhole_mm * per_mm, 1.0])
    half = world.sensor_width_mm / 2.0 / world.focal_mm * (1.0 + 2.0 * padding)
    corners = np.array([[half, half / found.delivery.aspect, 1.0]])
    at, _ = cv2.projectPoints(corners, np.zeros(3), np.zeros(3), inner, np.zeros(4))
    right, down = at[0, 0] / per_mm
    of_its_sensor = max(2 * right / mode.sensor_width_mm, 2 * down / mode.sensor_height_mm)
    assert of_its_sensor == pytest.approx(1.0, rel=1e-6)
    assert "too long" not in findings(found)["view"].sentence


def test_a_sixteen_by_nine_picture_from_a_mode_that_is_wider_than_that():
    view = findings(with_zoom((1920, 1080)))["view"]
    assert view.verdict is Verdict.HOLDS
    # By hand: all of 13.1 mm is needed for the height, 16 ninths of it across.
    assert f"{4000 * 13.1 * 16 / 9 / 24.9:,.0f} px across" in view.sentence


def test_what_would_do_is_told_both_ways_round():
    found = with_zoom((1080, 1920))
    lenses = (replace(ANY_ZOOM, focal_min_mm=100.0),)
    found = replace(found, kit=replace(found.kit, lenses=lenses))
    case = case_of(found)
    assert findings(found)["view"].verdict is Verdict.BREAKS
    told, _ = takes(case, 1.0)
    assert "with the camera on its side" in told
    upright, lying = (float(w) for w in told.split() if w[0].isdigit())
    for focal, side in ((upright, ""), (lying, "left")):
        for longer, short in ((0.0, False), (focal * 0.05, True)):
            lens = replace(ANY_ZOOM, focal_min_mm=focal + longer, focal_max_mm=focal + longer)
            plates = (replace(found.plates[0], on_side=side),)
            tried = replace(found, kit=replace(found.kit, lenses=(lens,)), plates=plates)
            said = findings(tried)["view"]
            assert ("too long" in said.sentence) is short, said.sentence


def test_a_card_of_before_goes_by_the_width_alone():
    found = with_zoom((1920, 1080), padding=0.1)
    before = case_of(replace(found, zooms_across=True)).stage
    assert before.crop_across == pytest.approx(1.0)
    assert case_of(found).stage.focal_mm < before.focal_mm
