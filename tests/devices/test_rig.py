"""The simulated rig goes where charts say, in whole steps, in spite of the play of its gears."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.frames.chart import charted
from jungoptic.core.frames.gcode import program
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.kit import MoveRig
from jungoptic.devices.rig import SimulatedRig


@settings(max_examples=60)
@given(
    st.lists(st.floats(-30.0, 30.0), min_size=1, max_size=60),
    st.sampled_from([0.25, 1.0, 3.6]),
    st.sampled_from([1, 4, 200]),
    st.floats(0.0, 4.0),
)
def test_the_play_that_a_chart_takes_up_is_what_the_gears_lose(ways, per_turn, steps, play):
    rig = MoveRig("s", "Slider", "track", per_turn, steps, backlash=play)
    chart = charted("track", np.cumsum(ways), rig)
    text = program(chart, "Slider", 24.0, real_time=False)
    stops = list(SimulatedRig(rig).run(text))
    assert len(stops) == len(ways)
    assert all(stop.waits for stop in stops)
    assert [s.reached for s in stops] == pytest.approx(chart.reached.tolist(), abs=1e-3 * steps)


def test_without_taking_up_the_play_it_falls_short():
    rig = MoveRig("s", "Slider", "track", 1.0, 4, backlash=1.0)
    there = "G21\nG90\nG0 X10\nM0\nG0 X5\nM0\nM2\n"
    assert [s.reached for s in SimulatedRig(rig).run(there)] == [10.0, 6.0]


def test_in_real_time_each_frame_takes_its_time():
    rig = MoveRig("h", "Geared head", "pan", 3.0, 12)
    chart = charted("pan", np.array([0.0, 1.0, 1.0, 3.0]), rig)
    text = program(chart, "Pan", 24.0, real_time=True)
    stops = list(SimulatedRig(rig).run(text))
    assert [s.took_s for s in stops] == pytest.approx([1 / 24] * 4, abs=1e-5)
    assert [s.reached for s in stops] == [0.0, 1.0, 1.0, 3.0]


def test_it_refuses_what_it_cannot_do_by_the_line():
    rig = MoveRig("s", "Slider", "track", 1.0, 1, travel=100.0)
    with pytest.raises(Impossible, match="Line 2 goes to 120: Slider ends"):
        list(SimulatedRig(rig).run("G90\nG0 X120\nM0"))
    with pytest.raises(Impossible, match="Line 1 moves Z; this rig has X"):
        list(SimulatedRig(rig).run("G0 Z3"))
    half = SimulatedRig(rig, middle=0.5)
    assert [s.reached for s in half.run("G91 (a remark G0 X9)\nG0 X-50\nM0\nnonsense\nM2\nM0")] == [
        -50
    ]
