"""One clean turn of what spins, on pictures whose turn is known."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.turned import judge_spin, judge_turn
from jungoptic.core.pictures.turn import Turn, _apart, turn_of
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.tricks import Rig

from .examples import ANSA
from .test_run import measured, ran_of

DICE = np.random.default_rng(7)
DISC = cv2.resize(DICE.uniform(0.1, 0.7, (6, 6)).astype(np.float32), (96, 96))


def spun(count: int, period: float, drift: float = 0.0, parts: int = 1, grain: float = 0.004):
    """Frames (n, 18, 32) of a painted disc that turns once in `period` frames; `drift`: it goes
    aside by so many pixels in all; `parts`: it looks the same so many times a turn."""
    dice = np.random.default_rng(3)
    disc = DISC
    if parts > 1:
        turned = [
            cv2.warpAffine(
                DISC, cv2.getRotationMatrix2D((47.5, 47.5), 360.0 * k / parts, 1), (96, 96)
            )
            for k in range(parts)
        ]
        disc = np.mean(turned, axis=0)
    inside = np.hypot(*(np.mgrid[:96, :96] - 47.5)) < 40
    frames = []
    for n in range(count):
        turn = cv2.getRotationMatrix2D((47.5, 47.5), 360.0 * n / period, 1.0)
        turn[0, 2] += drift * n / count
        face = cv2.warpAffine(disc, turn, (96, 96))
        whole = np.full((108, 192), 0.3, np.float32)
        whole[6:102, 48:144] = np.where(inside, face, 0.3)
        small = cv2.resize(whole, (32, 18), interpolation=cv2.INTER_AREA)
        frames.append(small + dice.normal(0.0, grain, small.shape))
    return np.array(frames, np.float32)


@given(st.floats(15.0, 60.0), st.floats(1.3, 3.5))
@example(16.5, 1.3)
@example(15.5, 2.5)
@settings(max_examples=25)
def test_the_frames_of_a_turn_are_counted(period: float, turns: float):
    found = turn_of(spun(round(period * turns) + 2, period))
    assert found is not None
    assert found.frames == pytest.approx(period, abs=0.2)
    assert found.last - found.first + 1 == round(found.frames)
    # Half a frame is left between a turn and whole frames, at most.
    assert found.seam < 1.0


@given(st.floats(12.0, 15.0), st.floats(1.3, 3.5))
@example(12.5, 2.3)
@example(12.5, 1.3)
@settings(max_examples=25)
def test_a_turn_that_ends_between_frames_that_lie_far_apart_is_told_by_whole_ones(
    period: float, turns: float
):
    """From one frame to the next everything on this disc is somewhere else: half a frame beside a
    turn may be no turn at all, but what is told is one, or several."""
    found = turn_of(spun(round(period * turns) + 2, period))
    if found is not None:
        several = round(found.frames / period)
        assert several >= 1
        assert found.frames == pytest.approx(several * period, abs=0.2)
        assert found.seam < 1.0


def test_less_than_a_turn_and_what_stands_or_walks_away_is_none():
    assert turn_of(spun(40, 48.0)) is None
    assert turn_of(np.full((60, 18, 32), 0.4, np.float32)) is None
    gone = np.full((80, 18, 32), 0.3, np.float32)
    for n in range(80):
        gone[n, 4:16, n * 26 // 80 : n * 26 // 80 + 5] = 0.7
    assert turn_of(gone) is None
    assert turn_of(np.zeros((3, 18, 32), np.float32)) is None


def test_what_looks_the_same_three_times_a_turn_is_told_by_the_third():
    found = turn_of(spun(120, 60.0, parts=3))
    assert found is not None
    assert found.frames == pytest.approx(20.0, abs=0.2)


def test_the_seam_of_a_disc_that_wanders_is_wider():
    even, loose = (turn_of(spun(130, 50.0, drift)) for drift in (0.0, 8.0))
    assert even is not None
    assert loose is not None
    assert loose.seam > 2.0 * even.seam


@given(st.integers(0, 1000))
@settings(max_examples=20)
def test_how_far_apart_is_that_of_all_pairs(seed: int):
    rows = np.random.default_rng(seed).normal(0.0, 1.0, (17, 70))
    rows -= rows.mean(axis=0)
    brute = [((rows[k:] - rows[: 17 - k]) ** 2).sum() / (17 - k) for k in range(17)]
    usual = 2.0 * (rows**2).sum(axis=1).mean()
    assert _apart(rows) == pytest.approx(np.sqrt(np.array(brute) / usual), abs=1e-6)


def test_a_clip_is_told_with_its_turn():
    big = [cv2.resize(frame, (480, 270), interpolation=cv2.INTER_CUBIC) for frame in spun(70, 30.0)]
    run = measured(big)
    assert run.turn is not None
    assert run.turn.frames == pytest.approx(30.0, abs=0.2)


SPINS = replace(ANSA, rig=Rig("figure", "rod", turns_per_s=0.5))


@pytest.mark.parametrize(
    ("seam", "verdict"),
    [(0.3, Verdict.HOLDS), (2.5, Verdict.STRAINS), (9.0, Verdict.BREAKS)],
)
def test_a_seam_is_judged_by_the_step_from_frame_to_frame(seam, verdict):
    found = judge_turn(SPINS, ran_of(turn=Turn(48.0, 3, 50, seam)))
    assert found is not None
    assert found.verdict is verdict
    assert found.sentence.startswith("Frames 3 to 50 are one turn")


def test_only_what_is_planned_to_turn_is_asked_about():
    turn = Turn(48.0, 3, 50, 0.3)
    assert judge_turn(ANSA, ran_of(turn=turn)) is None
    assert judge_spin(ANSA, ran_of(turn=turn), 24.0) is None
    nothing = judge_turn(SPINS, ran_of(turn=None))
    assert nothing is not None
    assert nothing.sentence.startswith("Nothing was found")


@pytest.mark.parametrize(
    ("frames", "verdict", "word"),
    [
        (48.0, Verdict.HOLDS, "as fast as planned"),
        (24.2, Verdict.HOLDS, "as 2 parts that look the same"),
        (52.0, Verdict.STRAINS, "8% too slow"),
        (38.0, Verdict.BREAKS, "21% too fast"),
    ],
)
def test_it_turns_as_fast_as_planned(frames, verdict, word):
    # Half a turn a second at 24 frames a second is 48 frames to a turn.
    found = judge_spin(SPINS, ran_of(turn=Turn(frames, 1, round(frames), 0.3)), 24.0)
    assert found is not None
    assert found.verdict is verdict
    assert word in found.sentence
