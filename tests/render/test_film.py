"""How light is recorded, against the standards that say how."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.render.film import Film, coded, curved, linear, noisy, recorded

FILM = Film(4.0, 1 / 48, 800.0, 6.0, 1920.0, 10, "4:4:4")


def test_a_normal_exposure_takes_the_light_of_the_standard():
    # ISO 2720: C N^2 / (t ISO) with C = 250 lux seconds; f/2.8, 1/50 s, ISO 100 take 980 lux.
    assert Film(2.8, 1 / 50, 100.0, 5.0, 1920.0).normal_lux == pytest.approx(980.0)


def test_a_grey_card_in_normal_light_is_where_the_curve_has_it():
    light = np.full((1, 1, 3), 0.18 * FILM.normal_lux / math.pi, dtype=np.float32)
    assert linear(light, FILM) == pytest.approx(0.18, rel=1e-6)
    # ITU-R BT.709: 1.099 L^0.45 - 0.099; 18 % comes to 0.409.
    assert curved(linear(light, FILM)) == pytest.approx(0.409, abs=5e-4)


def test_the_foot_of_the_curve_is_straight():
    # ITU-R BT.709: 4.5 L below 0.018, where it meets the curve at 0.081.
    assert curved(np.array([0.0, 0.01, 0.018])) == pytest.approx([0.0, 0.045, 0.081], abs=1e-3)


def test_what_is_too_bright_rolls_off_and_never_turns_back():
    levels = curved(np.linspace(0.0, 20.0, 2000))
    assert (np.diff(levels) >= 0.0).all()
    assert levels[-1] <= 1.0


@given(st.floats(0.02, 0.9), st.sampled_from((8, 10, 12)))
def test_bits_move_a_grey_by_half_a_step_at_most(level: float, bits: int):
    film = Film(4.0, 0.02, 800.0, 6.0, 1920.0, bits, "4:4:4")
    picture = np.full((2, 2, 3), level)
    # Y' runs over 219 steps of eight bits (ITU-R BT.709).
    assert np.abs(coded(picture, film) - level).max() <= 0.5 / 219.0 / 2 ** (bits - 8) + 1e-6


def test_colour_samples_are_shared_and_brightness_is_not():
    stripes = np.full((4, 4, 3), 0.5)
    stripes[:, ::2, 1], stripes[:, 1::2, 1] = 0.6, 0.4
    luma = np.array([0.2126, 0.7152, 0.0722])
    for samples, shared in (("4:4:4", False), ("4:2:2", True), ("4:2:0", True)):
        found = coded(stripes, Film(4.0, 0.02, 800.0, 6.0, 1920.0, 12, samples))
        assert found @ luma == pytest.approx(stripes @ luma, abs=1e-3)
        blue = found[..., 2] - found @ luma
        assert np.allclose(blue[:, 0], blue[:, 1], atol=1e-3) == shared
    odd = coded(np.full((3, 5, 3), 0.5), Film(4.0, 0.02, 800.0, 6.0, 1920.0, 8, "4:2:0"))
    assert odd.shape == (3, 5, 3)


def test_noise_is_that_of_counting():
    """Photon noise goes with the square root of the light: four times as much light, half the
    noise for its size (any text on detectors)."""
    dark, light = (noisy(np.full((200, 200, 3), v), FILM, 1) for v in (0.1, 0.4))
    assert dark.mean() == pytest.approx(0.1, rel=0.01)
    ratio = (dark.std() / dark.mean()) / (light.std() / light.mean())
    assert ratio == pytest.approx(2.0, rel=0.03)


def test_more_sensitivity_is_more_noise_and_one_seed_one_picture():
    light = np.full((60, 60, 3), 0.18 * FILM.normal_lux / math.pi, dtype=np.float32)
    fast = Film(4.0, 1 / 48 / 8, 6400.0, 6.0, 1920.0, 10, "4:4:4")
    assert recorded(light, fast, 3).std() > 2.0 * recorded(light, FILM, 3).std()
    assert (recorded(light, FILM, 3) == recorded(light, FILM, 3)).all()
    assert (recorded(light, FILM, 3) != recorded(light, FILM, 4)).any()
