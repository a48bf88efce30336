"""What is heard in a clip: claps, where sounds begin, and how that lies to the beats of a sheet."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.filmed.heard import (
    BEAT_KEY,
    CLAP_KEY,
    claps_in,
    frame_at,
    judge_heard,
    judge_two,
)
from jungoptic.core.pictures.heard import Heard, Hearing, SharpSound
from jungoptic.core.pictures.ran import Ran
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.tricks import Beat

from .examples import ANSA, shot

HZ = 48_000


def clapped_at(at_s: float, seconds: float, seed: int = 0):
    """A room with a board clapped in it: a crack that loses half in some hundredths of a second
    (common practice: wood on wood in a furnished room)."""
    dice = np.random.default_rng(seed)
    found = dice.normal(0.0, 0.002, round(seconds * HZ))
    after = np.arange(max(len(found) - round(at_s * HZ), 0)) / HZ
    crack = dice.normal(0.0, 0.3, len(after)) * 0.5 ** (after / 0.012)
    found[len(found) - len(after) :] += crack
    return np.clip(found, -1.0, 1.0).astype(np.float32)


def hear(sound, starts_s: float = 0.0, piece: int = 4096) -> Heard:
    hearing = Hearing(HZ, starts_s)
    for at in range(0, len(sound), piece):
        hearing.take(np.asarray(sound[at : at + piece], np.float32))
    return hearing.done()


def voice(at_s: float, lasts_s: float, seconds: float, seed: int = 1):
    """Something that swells and goes on, as speech does."""
    dice = np.random.default_rng(seed)
    time = np.arange(round(seconds * HZ)) / HZ
    swell = np.clip((time - at_s) / 0.06, 0.0, 1.0) * np.clip((at_s + lasts_s - time) / 0.2, 0, 1)
    return (0.15 * swell * dice.normal(0.0, 1.0, len(time))).astype(np.float32)


@given(st.floats(0.1, 3.5), st.floats(-1.0, 1.0), st.integers(0, 50), st.integers(700, 50_000))
def test_a_clap_is_found_where_it_is(at_s: float, starts_s: float, seed: int, piece: int):
    found = hear(clapped_at(at_s, 4.0, seed), starts_s, piece)
    # Two milliseconds: what a clap can be told to (common practice).
    assert [one.at_s for one in found.claps] == pytest.approx([at_s + starts_s], abs=0.002)
    assert found.begin_s[0] == found.claps[0].at_s


def test_speech_begins_and_is_no_clap():
    room = clapped_at(99.0, 6.0)
    found = hear(room + voice(2.0, 1.5, 6.0))
    assert found.claps == ()
    # It swells over some hundredths of a second.
    assert found.begin_s[0] == pytest.approx(2.0, abs=0.03)
    assert len(found.begin_s) == 1


def test_the_board_at_the_end_is_the_second_clap():
    sound = clapped_at(0.7, 9.0) + clapped_at(8.2, 9.0, 5) + voice(3.0, 2.0, 9.0)
    found = hear(sound)
    assert [one.at_s for one in found.claps] == pytest.approx([0.7, 8.2], abs=0.002)
    assert len(found.begin_s) == 3


def test_what_is_far_softer_is_not_the_board():
    sound = clapped_at(1.0, 6.0) + 0.05 * clapped_at(0.4, 6.0, 3)
    assert [one.at_s for one in hear(sound).claps] == pytest.approx([1.0], abs=0.002)


@pytest.mark.parametrize("sound", [np.zeros(0), np.zeros(HZ), np.full(HZ, 0.3), np.zeros(30)])
def test_silence_and_hum_hold_no_clap(sound):
    found = hear(sound)
    assert (found.sharp, found.claps) == ((), ())


def test_frames_are_counted_from_the_first_picture():
    # A second of 24 frames: the 24th is shown until it is over.
    assert [frame_at(t, 24.0) for t in (0.0, 0.999, 1.0, -0.5)] == [1, 24, 25, 1]


BASE = Ran(
    *(240, None, (), None, None, 0.0, (), (0.0, 0.0), 0.0, 0.0, 0, (), 0, 1, 1, (0,), (0,)),
    *(240, (1, 240), None),
)


def judged(beats, found: Heard | None, fps: float = 24.0, begins=None):
    ran = replace(BASE, heard=found)
    told = judge_heard(shot(beats=tuple(beats)), ANSA, ran, fps, begins)
    return {one.key: one for one in told}


def clapped(at_s: float = 1.0, *begin_s: float) -> Heard:
    return Heard((SharpSound(at_s, -10.0, 60.0),), tuple(sorted((at_s, *begin_s))))


def test_what_can_have_been_the_board_is_told_by_frame():
    sharp = ((1.0, -12.0, 50.0), (2.0, -30.0, 30.0), (3.99, -10.0, 52.0))
    found = Heard(tuple(SharpSound(*one) for one in sharp), ())
    told = claps_in(replace(BASE, heard=found), 24.0)
    assert [(one.at_s, one.frame) for one in told] == [(1.0, 25), (3.99, 96)]
    assert claps_in(BASE, 24.0) == claps_in(None, 24.0) == ()


def cue(frame: int, allowed: int = 1, **more) -> Beat:
    return Beat("b", "Knock", frame, ANSA.id, allowed=allowed, cue=True, **more)


class TestAgainstTheSheet:
    def test_a_clip_without_sound_says_nothing(self):
        assert judged([cue(25)], None) == {}

    def test_a_cue_without_a_clap_asks_for_one(self):
        silent = Heard((), (1.0,))
        assert judged([cue(25)], silent)[CLAP_KEY].verdict is Verdict.STRAINS
        quiet = judged([], silent)[CLAP_KEY]
        assert quiet.verdict is Verdict.HOLDS
        assert quiet.sentence.startswith("Nothing was found")

    @pytest.mark.parametrize(
        ("frames", "verdict"),
        [(0, Verdict.HOLDS), (1, Verdict.HOLDS), (-1, Verdict.HOLDS), (3, Verdict.STRAINS),
         (-3, Verdict.STRAINS), (5, Verdict.BREAKS)],
    )  # fmt: skip
    def test_a_cue_is_heard_where_the_sheet_has_it(self, frames, verdict):
        # The plate is filmed at its playback rate: frame 25 comes a second after the clap.
        found = judged([cue(25)], clapped(1.0, 2.0 + frames / 24.0))[BEAT_KEY]
        assert found.verdict is verdict, found.sentence
        if verdict is not Verdict.HOLDS:
            assert f"{abs(frames)} frames {'late' if frames > 0 else 'early'}" in found.sentence
        assert "By the clap, Knock is at frame 49." in found.sentence

    def test_a_cue_that_nobody_hears_is_told(self):
        found = judged([cue(25)], clapped(1.0))[BEAT_KEY]
        assert found.verdict is Verdict.STRAINS
        assert "Nothing is heard to begin at Knock." in found.sentence

    def test_where_somebody_says_the_shot_begins_counts(self):
        found = judged([cue(25)], clapped(1.0, 3.0), begins=49)[BEAT_KEY]
        assert found.verdict is Verdict.HOLDS
        assert "By the frame in which the shot begins, Knock is at frame 73" in found.sentence

    def test_beats_that_nothing_plays_for_are_told_by_frame(self):
        beat = replace(cue(13), cue=False)
        found = judged([beat], clapped(1.0))[BEAT_KEY]
        assert (found.verdict, found.sentence) == (
            Verdict.HOLDS,
            "By the clap, Knock is at frame 37.",
        )


class TestTwoDevices:
    def test_they_are_laid_by_their_claps(self):
        told = judge_two(clapped(1.5), clapped(1.0), 24.0)
        assert told is not None
        assert "0.500 s (12.0 frames) earlier in the second" in told.sentence
        assert judge_two(clapped(1.5), None, 24.0) is None
        assert judge_two(clapped(1.5), Heard((), ()), 24.0) is None

    @given(st.floats(2.0, 600.0), st.floats(-3e-3, 3e-3))
    def test_clocks_that_part_are_told_by_two_claps(self, length: float, drift: float):
        first = Heard((SharpSound(1.0, 0.0, 60.0), SharpSound(1.0 + length, 0.0, 60.0)), ())
        second = Heard(
            (SharpSound(3.0, 0.0, 60.0), SharpSound(3.0 + length * (1.0 + drift), 0.0, 60.0)), ()
        )
        told = judge_two(first, second, 24.0)
        assert told is not None
        frames = abs(length * drift) * 24.0
        assert (told.verdict is Verdict.STRAINS) == (frames >= 0.5)
        if frames >= 0.5:
            # What runs behind has its second clap later, and is played faster.
            assert ("runs behind" in told.sentence) == (drift > 0)
