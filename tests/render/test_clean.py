"""Taking grain out: what is even stays, what is grainy gets calmer, edges stay where they are."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.ndimage import uniform_filter

from jungoptic.render import clean
from jungoptic.render.clean import cleaned
from jungoptic.render.scene import Layers

TALL, WIDE = 70, 96


def seen(light: np.ndarray, noise: float) -> Layers:
    """What an engine gives of a grey wall that is darker on its right half."""
    colour = np.full((TALL, WIDE, 3), 0.5, np.float32)
    colour[:, WIDE // 2 :] = 0.1
    facing = np.zeros((TALL, WIDE, 3), np.float32)
    facing[..., 1] = -1.0
    depth = np.full((TALL, WIDE), 4.0, np.float32)
    grain = np.full((TALL, WIDE), noise, np.float32)
    return Layers(light.astype(np.float32), grain, colour, facing, depth)


def grainy(seed: int = 1, spread: float = 0.2) -> tuple[np.ndarray, Layers]:
    """The light of that wall, and what is seen of it with few rays."""
    true = seen(np.zeros((TALL, WIDE, 3)), 0.0).colour * 100.0
    dice = np.random.default_rng(seed).normal(0.0, spread * 100.0 * 0.1, (TALL, WIDE, 1))
    found = true + dice
    return true, seen(found, (spread * 10.0) ** 2)


def test_an_even_wall_stays_as_it_is():
    true, _ = grainy()
    assert cleaned(seen(true, 1e-6)) == pytest.approx(true, rel=1e-5)


def test_grain_goes_and_the_edge_stays():
    true, layers = grainy()
    found = cleaned(layers)
    assert np.std(found - true) < 0.35 * np.std(layers.light - true)
    # Beside the edge neither half is drawn into the other one.
    edge = WIDE // 2
    for column in (edge - 1, edge):
        assert found[:, column].mean() == pytest.approx(true[:, column].mean(), rel=0.1)


@pytest.mark.parametrize("rows", [1, 7, TALL])
def test_it_is_the_same_however_many_rows_are_worked_on_at_once(rows, monkeypatch):
    _, layers = grainy(2)
    before = cleaned(layers)
    monkeypatch.setattr(clean, "ROWS", rows)
    assert np.array_equal(cleaned(layers), before)


def test_grain_about_a_pixel_is_the_mean_of_nine():
    values = np.random.default_rng(3).random((TALL, WIDE)).astype(np.float32)
    assert clean._about(values) == pytest.approx(uniform_filter(values, 3), rel=1e-5)
