"""What a card keeps of a picture: more bits keep more, neighbours help where nothing moves."""

from __future__ import annotations

import numpy as np
import pytest

from jungoptic.media.compressed import compressed

WIDE, HIGH, COUNT = 160, 90, 8


def grainy(grain: float = 0.02, seed: int = 0):
    dice = np.random.default_rng(seed)
    y, x = np.mgrid[0:HIGH, 0:WIDE]
    plain = np.stack([0.4 + 0.2 * np.sin(x / 7), 0.4 + 0.2 * np.sin(y / 5), 0.5 + 0 * x], axis=-1)
    grains = (dice.normal(0.0, grain, (HIGH, WIDE, 1)) for _ in range(COUNT))
    return [(plain + one).astype(np.float32) for one in grains]


def off(found, frames) -> float:
    return float(np.sqrt(((found - frames[-1]) ** 2).mean()))


@pytest.mark.parametrize(("bits", "near"), [(8, 0.006), (10, 0.002)])
def test_with_bits_in_plenty_the_last_frame_comes_back(bits, near):
    frames = grainy()
    found = compressed(frames, 2e6, bits, "4:4:4", long_gop=False)
    assert found.shape == (HIGH, WIDE, 3)
    # A step of eight bits is 1/219 of the picture's range, of ten a quarter of that (BT.709).
    assert off(found, frames) < near


def test_the_fewer_bits_the_less_is_left():
    frames = grainy()
    lost = [off(compressed(frames, rate, 8, "4:4:4", False), frames) for rate in (4e5, 6e4, 1e4)]
    assert lost == sorted(lost)
    assert lost[-1] > 1.5 * lost[0]


def test_neighbours_help_where_nothing_moves():
    # Common practice: of a picture that stands long GOP needs far fewer bits for the same.
    plain = grainy(0.005)
    alone, told = (
        off(compressed(plain, 4000, 8, "4:4:4", long_gop), plain) for long_gop in (False, True)
    )
    assert told < 0.8 * alone


def test_colour_samples_are_those_asked_for():
    stripes = np.full((HIGH, WIDE, 3), 0.5, np.float32)
    stripes[:, ::2] = (0.7, 0.4, 0.5)
    kept = {s: compressed([stripes], 2e6, 10, s, False) for s in ("4:4:4", "4:2:2", "4:2:0")}
    swing = {s: float(np.ptp((f[..., 0] - f[..., 1])[40, 40:60])) for s, f in kept.items()}
    assert swing["4:4:4"] == pytest.approx(0.3, abs=0.02)
    # A pitch of two pixels has no room for stripes of one.
    assert swing["4:2:2"] < 0.1
    assert swing["4:2:0"] < 0.1


def test_what_cannot_be_is_refused():
    with pytest.raises(ValueError, match="4:1:1"):
        compressed(grainy(), 1e5, 8, "4:1:1", False)
    with pytest.raises(ValueError, match="no frame"):
        compressed([], 1e5, 8, "4:2:0", False)
