"""Time-lapse and hyperlapse: photographs, time, cards, steps in the picture, and what is left."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import moves, timelapse
from jungoptic.core.frames.lapse import SCATTER, lapse_report
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import Mode
from jungoptic.core.plan.sheet import Lapse, Sheet
from jungoptic.core.plan.world import Delivery

from .examples import MILL, shot

LIFE = replace(MILL, kind="still", scale=1.0)
WIDE = Mode("raw", "Photographs", 36.0, 24.0, 6000, 4000, 0.1, 5.0, 100, 100, 6400)


def told(lapse: Lapse, mode: Mode | None = WIDE, **changes: object):
    return lapse_report(shot(plates=(LIFE,), **changes), LIFE, lapse, mode)


def test_four_seconds_at_thirty_are_a_hundred_and_twenty_photographs():
    """Common practice: photographs = seconds x rate."""
    found = told(
        Lapse(interval_s=5.0, exposure_s=0.5, photo_mb=25.0, card_gb=2.0),
        screen_time_s=4.0,
        delivery=Delivery(1920, 1080, 30.0),
    )
    assert found.photos == timelapse.photo_count(4.0, 30.0) == 120
    assert found.lasts_s == pytest.approx(119 * 5.0 + 0.5)
    assert found.faster == 150.0
    assert (found.storage_gb, found.cards) == (3.0, 2)


def test_a_step_across_the_view_shifts_by_focal_length_over_distance():
    """f_px v / d, as a layer of a set (pinhole projection)."""
    found = told(Lapse(path_right_m=14.3))
    assert found.photos == 144
    assert found.step_m == pytest.approx(0.1)
    base = shot()
    focal_px = base.world.camera(base.delivery).focal_px(base.delivery.width_px)
    for gone in found.gone:
        shift = moves.layer_px_per_frame(focal_px, 0.1, gone.away_m, 1.0)
        assert gone.step_px == pytest.approx(shift, rel=0.05)
    assert found.turn_deg == 0.0
    near = found.gone[0]
    assert found.glides_m == pytest.approx(0.1 * 0.015 * 1920 / near.step_px)


def test_a_walk_round_its_aim_turns_by_the_step_over_the_distance():
    """Seen from a place at right angles to the aim a step s turns the view by about s / d; see
    `timelapse.step_deg`, exact where both places are as far away."""
    found = told(Lapse(path_right_m=1.43, aim_id="bridge"))
    # The bridge lies 15 m ahead and 3.2 m to the right.
    around = timelapse.step_deg(0.01, math.hypot(15.0, 3.2))
    assert found.turn_deg == pytest.approx(around, rel=0.1)
    first, last = found.guide
    assert first == pytest.approx(last, abs=0.01)
    bridge = next(g for g in found.gone if g.thing.id == "bridge")
    free = next(g for g in told(Lapse(path_right_m=1.43)).gone if g.thing.id == "bridge")
    assert bridge.step_px < 0.3 * free.step_px


@given(st.sampled_from(["hand", "marks", "tripod"]))
def test_steadying_takes_twice_the_worst_offset_from_each_axis(held):
    """1 - 2 max offset: a picture must cover the frame wherever it lies."""
    found = told(Lapse(held=held))
    assert found.left == pytest.approx(1.0 - 2.0 * SCATTER[held])
    assert found.left_px == pytest.approx(6000 * found.left)
    crop = {f.key: f for f in found.findings}["lapse-crop"]
    assert crop.verdict is Verdict.HOLDS
    small = {f.key: f for f in told(Lapse(held=held), None).findings}["lapse-crop"]
    assert small.verdict is not Verdict.HOLDS


def test_a_camera_needs_time_between_photographs():
    def verdict(**lapse: float) -> Verdict:
        return {f.key: f for f in told(Lapse(**lapse)).findings}["lapse-time"].verdict

    assert verdict(interval_s=5.0, exposure_s=0.5) is Verdict.HOLDS
    assert verdict(interval_s=2.0, exposure_s=1.8) is Verdict.STRAINS
    assert verdict(interval_s=2.0, exposure_s=3.0) is Verdict.BREAKS
    with pytest.raises(Impossible):
        told(Lapse(interval_s=0.0))


def test_what_moves_flows_only_while_the_shutter_stays_open():
    """Common practice: open for half of the interval."""
    walks = tuple(replace(s, speed_m_s=1.4) for s in shot().stand_ins)
    for exposed, wanted in ((2.5, Verdict.HOLDS), (1.0, Verdict.STRAINS), (0.1, Verdict.BREAKS)):
        found = told(Lapse(exposure_s=exposed), stand_ins=walks)
        assert {f.key: f for f in found.findings}["lapse-flow"].verdict is wanted
    assert "lapse-flow" not in {f.key for f in told(Lapse()).findings}


def test_every_frame_of_a_time_lapse_is_a_picture():
    found = sheet_report(shot(plates=(LIFE,)), LIFE, Sheet(lapse=Lapse()))
    assert len(found.taken) == found.frames == 144
    assert found.stops == ()


@given(
    st.floats(0.1, 600.0),
    st.floats(-200.0, 200.0),
    st.floats(-200.0, 200.0),
    st.sampled_from([None, "gone", "house", "bridge"]),
)
def test_any_walk_is_answered(interval, right, ahead, aim):
    found = told(Lapse(interval, 0.1, right, ahead, aim))
    numbers = (found.step_m, found.turn_deg, found.pace_m_min, found.left_px)
    assert all(math.isfinite(v) and v >= 0.0 for v in numbers)
    assert all(math.isfinite(g.step_px) and math.isfinite(g.away_m) for g in found.gone)
    assert found.places_m[-1] == pytest.approx(found.path_m)


def test_a_path_on_a_miniature_is_as_long_as_its_tape():
    """Similar triangles: a step on a set at 1:12 shows what twelve of it show in the world."""
    small = lapse_report(shot(plates=(MILL,)), MILL, Lapse(path_right_m=0.5), WIDE)
    large = lapse_report(shot(plates=(LIFE,)), LIFE, Lapse(path_right_m=6.0), WIDE)
    for one, other in zip(small.gone, large.gone, strict=True):
        assert one.step_px == pytest.approx(other.step_px)
        assert one.away_m == pytest.approx(other.away_m / 12.0)
    assert small.glides_m == pytest.approx((large.glides_m or 0.0) / 12.0)
