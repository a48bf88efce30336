"""How much of a sensor a delivered picture takes."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.plan.formats import usual_width_mm, width_used_mm
from jungoptic.core.plan.world import Delivery


# The same values as in frontend/src/lib/shot/formats.test.ts.
@pytest.mark.parametrize(
    ("sensor", "delivery", "used"),
    [
        ((24.9, 14.00625), (1920, 1080), 24.9),
        ((24.9, 13.1), (1920, 1080), 23.29),
        ((24.9, 13.1), (1920, 804), 24.9),
        ((36.0, 24.0), (1080, 1080), 24.0),
        ((24.9, 14.00625), (1080, 1920), 14.01),
        ((24.9, 13.1), (1080, 1920), 13.1),
    ],
)
def test_widths_by_hand(sensor, delivery, used):
    assert width_used_mm(*sensor, Delivery(*delivery, 24.0)) == pytest.approx(used, abs=0.005)


@given(st.floats(5, 60), st.floats(5, 60), st.integers(100, 4000), st.integers(100, 4000))
def test_nothing_larger_of_that_shape_lies_on_the_sensor(wide, high, width_px, height_px):
    delivery = Delivery(width_px, height_px, 24.0)
    used = width_used_mm(wide, high, delivery)
    # Reference: widths are tried one after another, level and, of an upright picture, lying.
    tried = np.linspace(0.0, 60.0, 6001)
    fits = (tried <= wide) & (tried / delivery.aspect <= high)
    if delivery.aspect < 1.0:
        fits |= (tried <= high) & (tried / delivery.aspect <= wide)
    assert used == pytest.approx(tried[fits].max(), abs=0.011)


def test_a_new_shot_begins_with_the_same_sensor_standing_or_lying():
    assert usual_width_mm(Delivery(1920, 1080, 24.0)) == 24.9
    assert usual_width_mm(Delivery(1920, 804, 24.0)) == 24.9
    assert usual_width_mm(Delivery(1080, 1920, 24.0)) == pytest.approx(24.9 * 9 / 16, abs=0.005)
