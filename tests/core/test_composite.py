"""Laying plates over each other: the algebra of compositing, and what plates must show of it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.pictures.composite import Layer, divided, laid, stops_apart


def flat(value: float, size=(4, 6)) -> np.ndarray:
    return np.full((*size, 3), value, dtype=np.float32)


def layer(value: float, alpha: float, far: float, adds: bool = False) -> Layer:
    size = (4, 6)
    return Layer(
        "x", flat(value), np.full(size, alpha, np.float32), np.full(size, far, np.float32), adds
    )


parts = st.floats(0.0, 1.0)


@given(parts, parts, parts, parts)
def test_over_is_porter_and_duff(a: float, alpha: float, b: float, beta: float):
    """Porter and Duff 1984, Compositing digital images: c = a alpha + (1 - alpha) b beta, and what
    is covered is alpha + (1 - alpha) beta."""
    found = laid([layer(b, beta, 9.0), layer(a, alpha, 3.0)])
    assert found.picture == pytest.approx(a * alpha + (1.0 - alpha) * b * beta, abs=1e-5)
    assert found.covered == pytest.approx(alpha + (1.0 - alpha) * beta, abs=1e-5)


@given(st.permutations([(0.1, 2.0), (0.5, 5.0), (0.9, 8.0)]))
def test_what_is_nearer_covers_whatever_comes_first(order):
    found = laid([layer(value, 1.0, far) for value, far in order])
    assert found.picture == pytest.approx(0.1)


def test_two_things_that_stand_one_behind_the_other_in_places():
    left = np.ones((4, 6), np.float32)
    far = np.full((4, 6), 5.0, np.float32)
    near = far.copy()
    near[:, 3:], near[:, :3] = 2.0, 8.0
    found = laid([Layer("a", flat(0.2), left, far), Layer("b", flat(0.7), left, near)])
    assert found.picture[:, :3] == pytest.approx(0.2)
    assert found.picture[:, 3:] == pytest.approx(0.7)


def test_light_of_an_element_is_added_and_black_adds_nothing():
    base = layer(0.3, 1.0, np.inf)
    assert laid([base, layer(0.5, 1.0, np.inf, adds=True)]).picture == pytest.approx(0.8)
    assert laid([base, layer(0.0, 1.0, np.inf, adds=True)]).picture == pytest.approx(0.3)


def test_what_no_plate_shows_is_told():
    half = np.zeros((4, 6), np.float32)
    half[:, :3] = 1.0
    found = laid([Layer("a", flat(0.9), half, np.full((4, 6), 3.0, np.float32))], empty=0.35)
    assert found.hole == pytest.approx(0.5)
    assert found.picture[:, 3:] == pytest.approx(0.35)


@given(st.floats(-5.0, 12.0), st.floats(0.0, 8.0))
def test_the_two_sides_of_a_divider_make_a_whole(at: float, feather: float):
    left = divided((4, 6), np.full(4, at), feather)
    assert ((left >= 0.0) & (left <= 1.0)).all()
    found = laid(
        [
            Layer("base", flat(0.0), np.ones((4, 6), np.float32), np.full((4, 6), np.inf)),
            Layer("a", flat(1.0), left, np.full((4, 6), 3.0, np.float32)),
        ]
    )
    assert found.picture[..., 0] == pytest.approx(left)


def test_a_hard_divider_covers_as_much_as_lies_left_of_it():
    assert divided((1, 10), np.array([3.5]), 0.0).sum() == pytest.approx(3.5)


@given(st.floats(-3.0, 3.0))
def test_a_stop_is_twice_the_light(stops: float):
    where = np.ones((4, 6), np.float32)
    assert stops_apart(flat(0.2 * 2.0**stops), flat(0.2), where) == pytest.approx(stops, abs=1e-4)


def test_black_and_nowhere_cannot_be_told():
    where = np.ones((4, 6), np.float32)
    assert stops_apart(flat(0.0), flat(0.2), where) is None
    assert stops_apart(flat(0.1), flat(0.2), where * 0.0) is None


def test_layers_of_two_sizes_and_none_are_refused():
    with pytest.raises(ValueError, match="nothing"):
        laid([])
    odd = Layer("x", flat(0.1, (3, 3)), np.ones((3, 3), np.float32), np.ones((3, 3), np.float32))
    with pytest.raises(ValueError, match="one size"):
        laid([layer(0.1, 1.0, 2.0), odd])
