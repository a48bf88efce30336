"""Live frames drawn in tone, with faults whose truth is known, found by what measures pictures."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.drawings.tone import Tone, tones
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.align import exposure
from jungoptic.core.pictures.sequence import duplicates, flicker, shift_px
from jungoptic.core.pictures.tone import luma, to_light
from jungoptic.core.plan import PlacedLamp
from jungoptic.devices.faults import Faults
from jungoptic.devices.finder import Finder
from jungoptic.devices.raster import painted
from tests.core.examples import MILL, shot
from tests.core.stages import FULL, case_of

LIT = replace(MILL, lamps=(PlacedLamp("panel", 1.2, 0.6, 0.9),))


def finder(**faults):
    plan = replace(shot(plates=(LIT,)), kit=FULL)
    return Finder(plan, LIT, 480, 3, Faults(**faults))


def test_it_shows_each_face_in_its_tone():
    plan = finder()
    picture = plan.still()
    assert picture.shape == (201, 480, 3)
    seen = tones(case_of(plan.shot))
    (front,) = [t for t in seen if t.stand_in_id == "house" and t.kind == "face"][-1:]
    middle = np.mean([np.mean(p, axis=0) for p in front.paths], axis=0) / 4.0
    x, y = (round(float(v)) for v in middle)
    shown = picture[y - 2 : y + 3, x - 2 : x + 3].mean()
    assert min(abs(shown - t.grey) for t in seen if t.stand_in_id == "house") < 0.02


def test_the_nearer_hides_the_farther_and_a_shadow_takes_its_part():
    square = ((10.0, 10.0), (30.0, 10.0), (30.0, 30.0), (10.0, 30.0), (10.0, 10.0))
    inner = ((15.0, 15.0), (25.0, 15.0), (25.0, 25.0), (15.0, 25.0), (15.0, 15.0))
    back = np.full((40, 40, 3), 0.5, np.float32)
    near, far = Tone("a", "face", (inner,), 0.9, 1.0), Tone("b", "face", (square,), 0.2, 5.0)
    shade = Tone("a", "shadow", (square,), 0.25, 9.0)
    found = painted([near, far], back, 1.0)
    assert found[20, 20, 0] == pytest.approx(0.9, abs=1e-3)
    assert found[12, 12, 0] == pytest.approx(0.2, abs=1e-3)
    assert found[5, 5, 0] == 0.5
    assert painted([shade], back, 1.0)[20, 20, 0] == pytest.approx(0.5 * 0.75, abs=1e-3)
    # What is beyond the picture paints nothing.
    away = tuple((x + 900.0, y) for x, y in square)
    assert (painted([Tone("c", "face", (away,), 0.9, 1.0)], back, 1.0) == back).all()


def test_blur_spreads_a_thing_by_its_deviation():
    bar = ((100.0, 0.0), (300.0, 0.0), (300.0, 60.0), (100.0, 60.0), (100.0, 0.0))
    black = np.zeros((60, 400, 3), np.float32)
    row = painted([Tone("a", "face", (bar,), 1.0, 1.0, (8.0, 0.0))], black, 1.0)[30, :, 0]
    # The edge of an even area under a bell: its slope is the bell itself.
    slope = np.diff(row[:200].astype(float))
    at = np.arange(len(slope)) + 1.0
    middle = (slope * at).sum() / slope.sum()
    wide = np.sqrt((slope * (at - middle) ** 2).sum() / slope.sum())
    assert middle == pytest.approx(100.0, abs=0.6)
    assert wide == pytest.approx(8.0, rel=0.05)


def test_the_same_again_is_the_same():
    one, two = finder(flicker=0.05), finder(flicker=0.05)
    for frame in (1, 2, 7):
        assert (one.still(frame) == two.still(frame)).all()
    assert not (one.still(1) == one.still(2)).all()
    assert len(list(one.sequence([1, 2, 3]))) == 3


def test_a_bump_is_as_far_as_it_is():
    knocked = finder(bump_deg=(0.3, -0.2), since=5)
    told = knocked.off_px(5)
    assert shift_px(knocked.still(4), knocked.still(6)) == pytest.approx(told, abs=0.1)
    assert shift_px(knocked.still(2), knocked.still(3)) == pytest.approx((0.0, 0.0), abs=0.1)


def test_flicker_is_found_where_it_is():
    lamp = finder(flicker=0.06)
    frames = range(1, 25)
    levels = [float(to_light(luma(lamp.still(f))).mean()) for f in frames]
    truth = [lamp.level(f) for f in frames]
    assert np.corrcoef(levels, truth)[0, 1] > 0.98
    assert flicker(levels).worst_frame == flicker(truth).worst_frame


def test_a_frame_that_was_dropped_is_found():
    lost = finder(dropped=frozenset({4, 9}))
    assert duplicates(lost.sequence(range(1, 13))) == [3, 8]


def test_a_wrong_stop_is_measured():
    opened = finder(stops=0.5, since=2)
    assert exposure(opened.still(1), opened.still(2)).stops == pytest.approx(0.5, abs=0.15)


def test_drifted_focus_an_elbow_and_a_weak_lamp_are_seen():
    sharp, soft = finder().still(), finder(focus_m=0.4).still()
    assert np.abs(np.diff(luma(soft), axis=1)).max() < np.abs(np.diff(luma(sharp), axis=1)).max()
    arm = finder(elbow_px=60.0).still()
    differs = np.abs(arm - sharp).max(axis=2) > 0.05
    assert differs[:, :60].any()
    assert not differs[:, 70:].any()
    assert finder(uneven=0).still().mean() < sharp.mean()


def test_a_plate_without_kit_has_no_finder():
    bare = replace(LIT, lens_id=None)
    plan = replace(shot(plates=(bare,)), kit=FULL)
    with pytest.raises(Impossible, match="a body, a mode and a lens"):
        Finder(plan, bare).still()
