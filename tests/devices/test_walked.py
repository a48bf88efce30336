"""A plate photographed along the path of its time-lapse, before land far beyond it: held against
where things stand, and what steadying it takes against what was put in."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from scipy.signal import savgol_filter

from jungoptic.core.pictures.run import Measuring
from jungoptic.core.pictures.sequence import shift_px
from jungoptic.core.pictures.telling import told
from jungoptic.core.pictures.tone import luma
from jungoptic.core.plan import StandIn
from jungoptic.core.plan.sheet import Lapse
from jungoptic.devices.faults import Faults
from jungoptic.devices.landscape import landscape
from jungoptic.devices.walked import Walked
from tests.core.examples import MILL, shot
from tests.core.stages import FULL

TOWER = StandIn("tower", "Tower", "box", 0.5, 60.0, 0.0, 3.0, 9.0, 3.0, plate_id=MILL.id)
WALL = replace(MILL, scale=1.0, lamps=())
PLAN = replace(shot(plates=(WALL,), stand_ins=(TOWER,)), kit=FULL)


def walked(aim: str | None = "tower", **faults) -> Walked:
    lapse = Lapse(12.0, 0.5, path_right_m=12.0, path_ahead_m=10.0, aim_id=aim)
    return Walked(PLAN, WALL, lapse, 640, 4, Faults(**faults))


def test_the_aim_stays_in_its_place_and_grows_as_it_is_walked_to():
    walk = walked()
    last = PLAN.frames
    ends = []
    for number in (1, last):
        tower = next(t for t in walk.finder(number)._tones(1.0, False) if t.stand_in_id == "tower")
        x = np.concatenate([np.array(path)[:, 0] for path in tower.paths])
        ends.append((float(x.mean()), float(np.ptp(x))))
    (first, wide), (then, wider) = ends
    assert then == pytest.approx(first, abs=0.02 * PLAN.delivery.width_px)
    # Similar triangles: as much nearer, so much larger; it is turned a little as well.
    away, nearer = 60.0, math.hypot(50.0, 11.5)
    assert wider / wide == pytest.approx(away / nearer, rel=0.15)


def test_far_land_goes_by_how_the_camera_turns_alone():
    camera = PLAN.world.camera(PLAN.delivery)
    one = landscape(camera, 640, 268)
    carried = landscape(replace(camera, position_m=(40.0, 30.0, camera.position_m[2])), 640, 268)
    assert (one == carried).all()
    turned = landscape(replace(camera, pan_deg=camera.pan_deg + 0.3), 640, 268)
    right, down = shift_px(one, turned)
    assert right == pytest.approx(-math.tan(math.radians(0.3)) * camera.focal_px(640.0), abs=0.25)
    assert down == pytest.approx(0.0, abs=0.1)


@pytest.mark.parametrize("unsteady", [0.1, 0.3])
def test_what_hands_put_in_is_what_steadying_finds(unsteady):
    walk = walked(unsteady_deg=unsteady)
    measuring = Measuring()
    for number in range(1, 61):
        small = cv2.resize(luma(walk.still(number)), (480, 201), interpolation=cv2.INTER_AREA)
        measuring.take(small)
    found = told(measuring.done()).scatter
    assert found is not None
    off = np.array([walk.finder(n).off_px(n) for n in range(1, 61)]) / walk.width
    # What a parabola through its neighbours takes along is no scatter.
    put_in = np.abs(off - savgol_filter(off, 25, 2, axis=0)).max(axis=0)
    assert found == pytest.approx(put_in, rel=0.25)
    assert max(found) > 0.001


def test_hands_that_shake_are_the_same_hands_again():
    one, two = walked(unsteady_deg=0.3), walked(unsteady_deg=0.3)
    assert (one.still(5) == two.still(5)).all()
    assert Faults(unsteady_deg=0.3).aimed(5, 4) != Faults(unsteady_deg=0.3).aimed(6, 4)
    aside, up = np.array([Faults(unsteady_deg=0.3).aimed(n, 4) for n in range(1, 500)]).T
    for off in (aside, up):
        assert 0.29 < np.abs(off).max() <= 0.3
        # Even between both ends: a third of the square of the farthest.
        assert np.var(off) == pytest.approx(0.3**2 / 3.0, rel=0.15)
