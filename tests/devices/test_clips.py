"""Clips written and read again, and the board that is clapped in them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import pytest

from jungoptic.core.pictures.tone import luma
from jungoptic.devices.clapped import Clap, heard, record
from jungoptic.media.clip import RATE_HZ, frames_of, sound_of, with_sound, written
from jungoptic.media.kinds import Unreadable
from jungoptic.media.sound import heard as heard_in


@dataclass
class Even:
    """A camera before a wall that grows brighter, odd sides."""

    wide: int = 161
    high: int = 91

    def still(self, frame=1):
        return np.full((self.high, self.wide, 3), 0.2 + 0.01 * frame, np.float32)

    def sequence(self, frames):
        return (self.still(f) for f in frames)


@pytest.mark.parametrize(("ending", "near"), [(".mkv", 0.002), (".webm", 0.02)])
def test_what_is_written_is_read_again(tmp_path, ending, near):
    path = tmp_path / f"clip{ending}"
    assert record(path, Even(), 12, 24.0) == 12
    found = list(frames_of(path))
    assert [f.shape for f in found] == [(90, 160, 3)] * 12
    for number, frame in enumerate(found, 1):
        assert frame.mean() == pytest.approx(0.2 + 0.01 * number, abs=near)
    assert len(sound_of(path)) == 0


@pytest.mark.parametrize("ending", [".mkv", ".webm"])
@pytest.mark.parametrize("late_s", [0.0, 0.05, -0.1])
def test_the_clap_is_heard_when_it_is(tmp_path, ending, late_s):
    path = tmp_path / f"clip{ending}"
    record(path, Even(), 48, 24.0, Clap(0.8, late_s))
    sound = sound_of(path)
    assert len(sound) / RATE_HZ == pytest.approx(2.0, abs=0.03)
    # Two milliseconds: what a clap can be told to (common practice).
    assert np.argmax(np.abs(sound) > 0.2) / RATE_HZ == pytest.approx(0.8 + late_s, abs=0.002)


@pytest.mark.parametrize("ending", [".mkv", ".webm"])
def test_what_listens_finds_the_clap_and_where_sound_is_silent_nothing(tmp_path, ending):
    path, silent = tmp_path / f"clip{ending}", tmp_path / f"silent{ending}"
    record(path, Even(), 48, 24.0, Clap(0.8, 0.05))
    hearing = heard_in(path)
    assert hearing is not None
    assert [one.at_s for one in hearing.done().claps] == pytest.approx([0.85], abs=0.003)
    assert len(hearing.loud_db) == pytest.approx(2000, abs=30)
    record(silent, Even(), 12, 24.0)
    assert heard_in(silent) is None


def test_sound_is_laid_under_pictures_that_stay_as_they_are(tmp_path):
    path = tmp_path / "clip.webm"
    record(path, Even(), 36, 24.0)
    before = list(frames_of(path))
    with_sound(path, heard(Clap(0.6), 1.5))
    after = list(frames_of(path))
    assert len(after) == len(before)
    assert all((a == b).all() for a, b in zip(after, before, strict=True))
    assert np.argmax(np.abs(sound_of(path)) > 0.2) / RATE_HZ == pytest.approx(0.6, abs=0.003)
    assert [p.name for p in tmp_path.iterdir()] == ["clip.webm"]
    with pytest.raises(ValueError, match=r"webm"):
        with_sound(tmp_path / "clip.mov", np.zeros(9, np.float32))


def test_the_stick_is_down_from_the_clap_on(tmp_path):
    path = tmp_path / "clip.mkv"
    record(path, Even(320, 180), 48, 24.0, Clap(1.0))
    frames = [luma(f) for f in frames_of(path)]
    # Where the raised stick ends, on the right above the board, it is dark until it falls.
    dark = [bool((f[20:48, 200:214] < 0.15).any()) for f in frames]
    assert dark[20:22] == [True, True]
    assert not any(dark[25:])
    # Before and after, the board is not in the picture.
    assert frames[5].std() < 0.01
    assert frames[40].std() < 0.01


def test_the_same_clip_sounds_the_same_and_an_early_one_has_no_clap():
    assert (heard(Clap(), 2.0, 4) == heard(Clap(), 2.0, 4)).all()
    assert np.abs(heard(Clap(at_s=5.0), 2.0)).max() < 0.05
    assert np.abs(heard(replace(Clap(), at_s=-1.0), 2.0)).max() < 0.05


def test_what_is_no_clip_is_said_in_words(tmp_path):
    lie = tmp_path / "lie.webm"
    lie.write_bytes(b"not a clip at all" * 100)
    with pytest.raises(Unreadable, match="cannot be read as a clip"):
        list(frames_of(lie))
    with pytest.raises(Unreadable, match="cannot be read"):
        sound_of(tmp_path / "gone.webm")
    with pytest.raises(ValueError, match="must end in"):
        written(tmp_path / "clip.txt", [], 24.0)
    torn = tmp_path / "torn.mkv"
    record(torn, Even(), 24, 24.0)
    torn.write_bytes(torn.read_bytes()[: torn.stat().st_size // 3])
    assert len(_until_it_breaks(torn)) < 24
    silent = tmp_path / "sound.mkv"
    written(silent, Even().sequence(range(3)), 24.0)
    assert len(sound_of(silent)) == 0


def _until_it_breaks(path):
    found = []
    try:
        for frame in frames_of(path):
            found.append(frame)
    except Unreadable:
        pass
    return found
