"""Move charts: whole steps, play, curves, what they do in the picture, and strips at true size."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import moves
from jungoptic.core.frames.chart import along_legs, charted, leg_increments, round_mm
from jungoptic.core.frames.follows import chart_of, story_way, told_by_story
from jungoptic.core.frames.gcode import program
from jungoptic.core.frames.picture import Moved, steps_of
from jungoptic.core.frames.strip import strip
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.kit import MoveRig
from jungoptic.core.plan.sheet import Column, CurvePoint, Leg, Sheet
from jungoptic.core.plan.world import Move

from .examples import MILL, shot

#: A wheel whose crank moves it by 1/50 of a revolution a turn, in whole turns.
WHEEL = MoveRig("wheel", "Geared wheel", "crank", per_turn=360.0 / 50.0, steps_per_turn=1)
LEGS = st.builds(
    Leg,
    first=st.integers(1, 60),
    frames=st.integers(1, 60),
    way=st.floats(-500.0, 500.0),
    ease=st.sampled_from(["even", "in", "out", "both"]),
    ramp_frames=st.integers(0, 20),
)


def test_a_geared_wheel_is_ramped_up_and_back_by_the_turn():
    """Common practice: 1, 2, ... 10 turns of the crank a frame, a turn being 1/50 revolution, and
    the same way back: 55 turns each way."""
    way = 55 * WHEEL.per_turn
    out = Leg(2, 10, way, "in", ramp_frames=10)
    back = Leg(12, 10, -way, "out", ramp_frames=10)
    wanted, beyond = along_legs((out, back), 24)
    chart = charted("crank", wanted, WHEEL, beyond)
    assert chart.steps[1:11] == tuple(range(1, 11))
    assert chart.steps[11:21] == tuple(range(-10, 0))
    assert sum(s for s in chart.steps if s > 0) == 55
    assert chart.travel == pytest.approx(55 / 50 * 360)
    assert chart.turns_round == [12]
    assert (beyond, chart.error) == (0.0, pytest.approx(0.0, abs=1e-9))


@given(st.lists(LEGS, max_size=4), st.floats(0.01, 5.0), st.integers(1, 400), st.floats(0.0, 3.0))
def test_whole_steps_are_never_more_than_half_a_step_off(legs, per_turn, steps, play):
    rig = MoveRig("r", "Slider", "track", per_turn, steps, backlash=play)
    wanted, beyond = along_legs(legs, 100)
    chart = charted("track", wanted, rig)
    assert chart.error <= rig.step * (0.5 + 1e-6) + 1e-9
    ends = sum(leg.way for leg in legs if leg.first - 1 + leg.frames <= 100)
    if beyond == 0.0:
        assert wanted[-1] == pytest.approx(ends, abs=1e-6)
    # Play is added at reversals alone, all of it and in the new direction.
    extra = np.array(chart.turned) - np.array(chart.steps)
    assert set(np.abs(extra).tolist()) <= {0, rig.play_steps}
    assert not (extra * np.sign(chart.steps) < 0).any()


def test_a_curve_that_rises_next_to_nothing_is_drawn_without_a_step():
    leg = Leg(1, 10, 100.0, curve=(CurvePoint(0.2, 2.2e-311),))
    parts = leg_increments(leg)
    assert parts[:2] == pytest.approx([0.0, 0.0], abs=1e-9)
    assert sum(parts) == pytest.approx(100.0)


def test_a_drawn_curve_passes_its_points_and_does_not_overshoot():
    leg = Leg(1, 20, 100.0, curve=(CurvePoint(0.5, 0.9), CurvePoint(0.25, 0.2)))
    at = np.cumsum(leg_increments(leg))
    assert at[-1] == pytest.approx(100.0)
    assert at[4] == pytest.approx(20.0)
    assert at[9] == pytest.approx(90.0)
    assert (np.diff(at) >= -1e-9).all()
    with pytest.raises(Impossible, match="one moment"):
        leg_increments(Leg(1, 20, 1.0, curve=(CurvePoint(0.5, 0.1), CurvePoint(0.5, 0.9))))


def test_what_lies_after_the_last_frame_is_told():
    wanted, beyond = along_legs((Leg(91, 20, 40.0, "even"),), 100)
    assert wanted[-1] == pytest.approx(20.0)
    assert beyond == pytest.approx(20.0)
    assert along_legs((Leg(200, 5, 3.0),), 100)[1] == pytest.approx(3.0)
    with pytest.raises(Impossible, match="frame 1 or later"):
        along_legs((Leg(0, 5, 3.0),), 100)


def test_a_stage_goes_the_storys_way_divided_by_its_scale():
    """Scaling a view scales every distance alike and no angle (similar triangles)."""
    found = shot(move=Move(right_m=2.4, pan_deg=10.0, ease="both"))
    track = story_way(found, MILL, "track", None)
    pan = story_way(found, MILL, "pan", None)
    assert track is not None
    assert pan is not None
    assert track[-1] == pytest.approx(2400.0 / MILL.scale)
    assert pan[-1] == pytest.approx(10.0)
    assert np.diff(track) == pytest.approx(
        np.array(moves.eased_increments(2400.0 / MILL.scale, found.frames - 1, "both"))
    )
    assert {c.axis for c in told_by_story(found, MILL, Sheet())} == {"track", "pan"}
    own = Sheet((Column("a", "Slider", "axis", axis="track", follows=True),))
    assert {c.axis for c in told_by_story(found, MILL, own)} == {"pan"}
    assert story_way(found, MILL, "crank", None) is None


def test_a_track_at_right_angles_steps_by_focal_length_over_distance():
    """Image speed of a layer: f_px v / d (pinhole projection; any text on photogrammetry)."""
    found = shot(plates=(MILL,))
    camera = found.world.camera(found.delivery)
    column = Column("t", "Slider", "axis", axis="track", legs=(Leg(2, 40, 40.0, "even"),))
    steps = steps_of(found, MILL, [Moved(column, chart_of(found, MILL, column))])
    assert steps
    focal_px = camera.focal_px(found.delivery.width_px)
    for one in steps:
        expected = moves.layer_px_per_frame(focal_px, MILL.scale / 1000.0, one.away_m, 1.0)
        assert one.step_px == pytest.approx(expected, rel=0.03)
    near, far = steps[0], steps[-1]
    assert near.step_px >= far.step_px
    # An even move begins with a jerk as large as its step; the story's camera stands still.
    assert near.jolt_px == pytest.approx(near.step_px, rel=0.05)
    assert near.off_px == pytest.approx(40 * near.step_px, rel=0.05)


def test_what_follows_the_story_is_where_the_story_has_it():
    found = shot(move=Move(right_m=1.0, up_m=0.5, tilt_deg=-4.0))
    follow = [
        Moved(c, chart_of(found, MILL, c)) for c in told_by_story(found, MILL, Sheet()) if c.follows
    ]
    assert len(follow) == 3
    assert all(s.off_px < 1e-6 for s in steps_of(found, MILL, follow))
    coarse = MoveRig("c", "Coarse slider", "track", per_turn=5.0)

    with_rig = replace(found, kit=replace(found.kit, rigs=(coarse,)))
    column = Column("t", "Slider", "axis", axis="track", rig_id="c", follows=True)
    chart = chart_of(with_rig, MILL, column)
    assert chart.rig is coarse
    rough = steps_of(with_rig, MILL, [Moved(column, chart)])
    assert max(s.rough_px for s in rough) > 0.1
    # A rig of another axis is no rig for this one.
    assert chart_of(with_rig, MILL, replace(column, axis="crane")).rig is None


@given(
    st.lists(st.floats(-300.0, 900.0), min_size=1, max_size=80),
    st.floats(60.0, 280.0),
    st.floats(0.0, 20.0),
)
def test_every_frame_that_moved_has_its_mark_on_the_strip(places, piece, overlap):
    found = strip(places, piece, overlap)
    moved = {i for i, p in enumerate(places, start=1) if i == 1 or p != places[i - 2]}
    seen = {}
    for part in found.pieces:
        assert part.to_mm - part.from_mm <= piece + 1e-9
        for tick in part.ticks:
            assert -1e-6 <= tick.at_mm <= part.to_mm - part.from_mm + 1e-6
            seen.setdefault(tick.frame, part.from_mm + tick.at_mm)
    assert set(seen) == moved
    assert all(seen[f] == pytest.approx(places[f - 1], abs=1e-6) for f in moved)
    rows = [(part.from_mm, t.back, t.row, t.at_mm) for part in found.pieces for t in part.ticks]
    for start, back, row, at in rows:
        if row is not None:
            near = [r for r in rows if r[:3] == (start, back, row) and abs(r[3] - at) < 4.0 - 1e-9]
            assert len(near) == 1
    assert found.pieces[0].from_mm == min(places)
    assert found.pieces[-1].to_mm >= max(places) - 1e-6


def test_a_strip_round_a_crank_is_as_long_as_its_arc():
    """Arc length = angle (rad) x radius."""
    assert round_mm(np.array([360.0]), 40.0)[0] == pytest.approx(2 * math.pi * 40.0)
    with pytest.raises(Impossible):
        strip([0.0, 1.0], 10.0, 10.0)


def test_a_program_says_its_units_and_stops_for_every_picture():
    """Words of ISO 6983-1: G21 millimetres, G90 from one place, M0 stop, M2 end."""
    chart = charted("track", np.array([0.0, 1.0, 3.0]))
    text = program(chart, "Slider (new)\nM2", 24.0, real_time=False).splitlines()
    assert text[0] == "(Slider  new  M2: millimetres, from where it begins)"
    assert {"G21", "G90"} <= set(text)
    assert [line for line in text if line.startswith("G0")] == [
        "G0 X0.0000",
        "G0 X1.0000",
        "G0 X3.0000",
    ]
    assert text.count("M0") == 3
    assert text[-1] == "M2"
    runs = program(chart, "Slider", 24.0, real_time=True)
    assert "M0" not in runs
    # 2 mm in a 24th of a second are 2880 mm a minute.
    assert "G1 X3.0000 F2880.000" in runs


def test_a_crank_swings_its_arm_and_a_turntable_its_corners():
    """Arc = angle (rad) x radius, seen at f_px / distance."""
    found = shot(plates=(MILL,))
    focal_px = found.world.camera(found.delivery).focal_px(found.delivery.width_px)

    def fastest(column: Column) -> float:
        moved = Moved(column, chart_of(found, MILL, column))
        steps = {s.thing.id: s for s in steps_of(found, MILL, [moved])}
        assert steps["house"].off_px < 1e-6, "the story has no say in what turns"
        assert 20.0 < steps["house"].away_m < 26.0
        return steps["house"].step_px

    even = (Leg(2, 20, 40.0, "even"),)
    arm = fastest(Column("c", "Arm", "axis", axis="crank", legs=even, thing_id="house", arm_mm=80))
    swung = math.radians(2.0) * 80.0 / 1000.0 * MILL.scale
    assert arm == pytest.approx(focal_px * swung / 28.0, rel=0.02)
    table = fastest(Column("t", "Table", "axis", axis="turntable", legs=even, thing_id="house"))
    reach = math.hypot(3.25, 3.0)
    assert table == pytest.approx(focal_px * math.radians(2.0) * reach / 23.0, rel=0.2)


def test_a_hand_counts_turns_where_their_parts_are_easily_said():
    wanted = np.array([0.0, 1.0, 2.5])
    quarters = charted("track", wanted, MoveRig("q", "Q", "track", 1.0, 4))
    assert (quarters.counted_in, quarters.counts) == ("turns", [0.0, 1.0, 1.5])
    clicks = charted("track", wanted, MoveRig("c", "C", "track", 1.0, 10))
    assert (clicks.counted_in, clicks.counts) == ("steps", [0.0, 10.0, 15.0])
    bare = charted("pan", wanted)
    assert (bare.counted_in, bare.counts) == ("deg", [0.0, 1.0, 1.5])


def test_two_charts_of_one_axis_carry_each_other():
    found = shot(plates=(MILL,))

    def fastest(*ways: float) -> float:
        columns = [
            Column(f"t{i}", "Slider", "axis", axis="track", legs=(Leg(2, 40, way, "even"),))
            for i, way in enumerate(ways)
        ]
        moved = [Moved(c, chart_of(found, MILL, c)) for c in columns]
        return steps_of(found, MILL, moved)[0].step_px

    assert fastest(10.0, 30.0) == pytest.approx(fastest(40.0))
    assert fastest(40.0, -40.0) == pytest.approx(0.0, abs=1e-9)
