"""Stills read at the size at which they are looked at."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from PIL import Image

from jungoptic.media import stills
from jungoptic.media.kinds import Unreadable

from .made import photograph, still


@pytest.mark.parametrize("suffix", [".jpg", ".png"])
def test_a_small_one_is_the_mean_of_what_it_covers(tmp_path, suffix):
    """Against OpenCV's own reading, made smaller by area."""
    path = still(tmp_path / "one.jpg")
    if suffix == ".png":
        Image.open(path).save(tmp_path / "one.png")
        path = tmp_path / "one.png"
    small = stills.small(path, 320)
    whole = cv2.cvtColor(cv2.imread(str(path)), cv2.COLOR_BGR2RGB).astype(np.float32) / 255.0
    expected = cv2.resize(whole, (320, 180), interpolation=cv2.INTER_AREA)
    assert small.shape == expected.shape
    assert np.abs(small - expected).mean() < 0.004
    assert small.mean() == pytest.approx(expected.mean(), abs=5e-4)


def test_a_small_one_stands_upright_and_is_never_made_larger(tmp_path):
    turned = photograph(tmp_path / "turned.jpg", {0x0112: 6})
    whole = stills.read(turned)
    assert stills.small(turned, 10_000).shape == whole.shape
    broken = tmp_path / "broken.jpg"
    broken.write_bytes(turned.read_bytes()[:400])
    with pytest.raises(Unreadable):
        stills.small(broken, 100)
