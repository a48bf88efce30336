"""A sensor that is read row by row."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.stage.case import Case
from jungoptic.render.engine import Stage
from jungoptic.render.scene import Eye, Pose, Rolling, Scene, Solid
from jungoptic.render.shapes import quad
from jungoptic.render.staged import rolling_of, staged
from proof.plans import random_case

pytestmark = pytest.mark.usefixtures("engine")
POSE = Pose((0.0, 0.0, 0.0))
EYE = Eye(POSE, POSE, (36.0, 36.0), 36.0)
SIDE = 96


def stick(gone, rolling=None, *, level=False) -> Scene:
    """A stick of a hundredth of the picture across the middle of it, a metre away, that goes so far
    (right, up) while the shutter is open."""
    a, b = (0.005, 0.3) if not level else (0.3, 0.005)
    corners = ((-a, 1.0, -b), (a, 1.0, -b), (a, 1.0, b), (-a, 1.0, b))
    body = Solid("stick", *quad(*corners), (1.0, 1.0, 1.0), carried_m=(gone[0], 0.0, gone[1]))
    return Scene((body,), (), EYE, rolling=rolling)


def seen(scene: Scene, part=None) -> np.ndarray:
    stage = Stage(scene, SIDE, SIDE, 0, part)
    return stage.seen(256, passes=1).colour[..., 0].astype(np.float64)


def middles(picture: np.ndarray) -> np.ndarray:
    """Where the stick is in each row that has all of it, parts of the picture to the right."""
    weight = picture.sum(axis=1)
    rows = weight > 0.9 * weight.max()
    return (picture[rows] @ ((np.arange(SIDE) + 0.5) / SIDE)) / weight[rows]


def test_what_goes_across_leans_by_how_long_the_rows_take():
    """Geometry: over the height that takes four open times a thing goes four times as far."""
    gone = 0.02
    upright = middles(seen(stick((gone, 0.0), Rolling(-2.0, 2.0))))
    # From the highest row that has it to the lowest one, of a picture a metre high.
    rows = len(upright) - 1
    leans = (upright[-1] - upright[0]) / (rows / SIDE)
    assert leans == pytest.approx(4.0 * gone, rel=0.03)
    # In the middle it is where it would be if all were read at once: half way.
    assert upright[rows // 2] == pytest.approx(0.5 + gone / 2.0, abs=0.002)
    at_once = middles(seen(stick((gone, 0.0))))
    assert np.ptp(at_once) < 0.002


def test_every_row_is_open_as_long_as_if_all_were_read_at_once():
    rolled, at_once = (seen(stick((0.1, 0.0), r)) for r in (Rolling(-1.0, 1.0), None))
    rows = rolled.sum(axis=1) > 0.0
    assert rolled.sum() == pytest.approx(at_once.sum(), rel=0.02)
    wide = [(picture[rows] > 0.02).sum(axis=1).mean() for picture in (rolled, at_once)]
    assert wide[0] == pytest.approx(wide[1], rel=0.08)


def test_what_stands_looks_as_if_all_were_read_at_once():
    assert (seen(stick((0.0, 0.0), Rolling(-3.0, 3.0))) == seen(stick((0.0, 0.0)))).all()


def test_a_camera_on_its_side_leans_level_lines():
    picture = seen(stick((0.0, 0.02), Rolling(2.0, -2.0, upright=True), level=True))
    columns = middles(picture.T)
    leans = (columns[-1] - columns[0]) / ((len(columns) - 1) / SIDE)
    # Going up, it is read later at the left: higher there, so that it falls to the right.
    assert leans == pytest.approx(4.0 * 0.02, rel=0.03)


def test_a_part_of_a_picture_is_read_as_it_is_in_the_whole():
    scene = stick((0.02, 0.0), Rolling(-2.0, 2.0))
    whole = middles(seen(scene))
    part = seen(scene, (0, SIDE // 4, SIDE, SIDE // 2))
    found = (part @ ((np.arange(SIDE) + 0.5) / SIDE)) / part.sum(axis=1)
    assert np.ptp(found) == pytest.approx(np.ptp(whole) * len(found) / len(whole), rel=0.08)


def read_in(case: Case, **plate) -> Case:
    kit = case.shot.kit
    modes = tuple(replace(m, readout_ms=20.0) for m in kit.bodies[0].modes)
    kit = replace(kit, bodies=(replace(kit.bodies[0], modes=modes),))
    new = replace(case.plate, **plate)
    found = Case.of(replace(case.shot, kit=kit, plates=(new,)), new)
    assert found is not None
    return found


def test_it_is_told_by_the_sheet():
    plain = random_case(0)
    assert staged(plain).rolling is None
    case = read_in(plain)
    found = staged(case).rolling
    assert found is not None
    exposure_s = case.plate.shutter_deg / 360.0 / case.stage.capture_fps
    assert found.last - found.first == pytest.approx(0.020 * case.stage.crop_down / exposure_s)
    assert found.first == -found.last
    # What is animated frame by frame stands while it is read.
    assert rolling_of(read_in(plain, kind="puppet"), 0.0) is None
    for side, sign in (("left", -1.0), ("right", 1.0)):
        lying = rolling_of(read_in(plain, on_side=side), 0.0)
        assert lying is not None
        assert lying.upright
        assert np.sign(lying.first) == sign
