"""Frames one after another as a composite asks for them."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from jungoptic.media.following import following
from jungoptic.media.kinds import Unreadable
from jungoptic.media.reading import facts_of, sequence_of

from .made import clip, photograph, still


def wanders(pictures) -> list[int]:
    """Where the bar of the made clips stands in each picture, pixels from the left."""
    found = []
    for picture in pictures:
        red = picture[70, :, 0].astype(int) - picture[70, :, 2]
        found.append(round(float(np.mean(np.nonzero(red > red.max() / 2)[0]))))
    return found


@pytest.fixture
def film(tmp_path: Path) -> Path:
    return clip(tmp_path / "A.mp4", count=24, options={"g": "12"})


def test_each_comes_as_often_as_it_is_wanted(film):
    facts = facts_of(film)
    every = wanders(following([film], facts, range(1, 25), 320))
    assert every == sorted(every)
    assert len(set(every)) == 24
    some = wanders(following([film], facts, [5, 5, 6, 9, 9, 9], 320))
    assert some == [every[4], every[4], every[5], every[8], every[8], every[8]]


def test_after_its_end_the_last_is_held(film):
    facts = facts_of(film)
    every = wanders(following([film], facts, range(20, 31), 320))
    assert len(every) == 11
    assert every[4:] == [every[4]] * 7
    assert len(wanders(following([film], facts, [400, 401], 320))) == 2


def test_a_frame_that_the_recorder_lost_shows_the_one_before(tmp_path):
    times = [round(n * 1000 / 24) for n in range(12) if n not in (4, 5)]
    film = clip(tmp_path / "B.mkv", codec="ffv1", count=10, times=times)
    every = wanders(following([film], facts_of(film), range(1, 13), 320))
    assert every[3] == every[4] == every[5]
    assert every[6] > every[3]


def test_a_sequence_and_a_still_are_followed_too(tmp_path):
    paths = [still(tmp_path / f"f{n:03}.png", stops=n / 4) for n in range(5)]
    facts = sequence_of(paths, [p.name for p in paths])
    assert len({p.tobytes() for p in following(paths, facts, [1, 2, 3, 4, 5, 9], 64)}) == 5
    one = photograph(tmp_path / "one.jpg")
    shown = list(following([one], facts_of(one), [1, 2, 300], 64))
    assert len(shown) == 3
    assert max(shown[0].shape) <= 64


def test_what_cannot_be_decoded_is_said(film):
    facts = facts_of(film)
    film.write_bytes(film.read_bytes()[:400])
    with pytest.raises(Unreadable):
        list(following([film], facts, [1], 320))


def test_nothing_wanted_is_nothing_given(film):
    assert list(following([film], facts_of(film), [], 320)) == []
