"""A clip frame by frame: measured on pictures whose every fault is known, and judged."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import cache
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.run import clears, frames_told, judge_ran
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.ran import Ran
from jungoptic.core.pictures.run import Grain, Measuring, Run, small_size, tiles_of
from jungoptic.core.pictures.sequence import duplicates, flicker
from jungoptic.core.pictures.telling import drawn, told
from jungoptic.core.pictures.tone import to_light
from jungoptic.core.plan import Move
from jungoptic.core.plan.cue import Cue
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.tricks import DividerKey, Split
from jungoptic.core.timelapse import crop_left

from .examples import ANSA, shot

WIDE, HIGH = 480, 270
#: One small pixel is four of full HD.
FULL = 1920.0


def texture(seed: int = 1, wide: int = 900, high: int = 500) -> Any:
    """A set with much to hold on to, brightness as recorded."""
    dice = np.random.default_rng(seed)
    small = dice.uniform(0.15, 0.6, (high // 5, wide // 5)).astype(np.float32)
    return cv2.resize(small, (wide, high), interpolation=cv2.INTER_CUBIC)


SET = texture()


@cache
def seen(x: float = 0.0, y: float = 0.0) -> Any:
    """The set as a camera sees it that has moved it right and down, small pixels: by the phase of
    its spectrum, so that no filter makes it softer."""
    high, wide = SET.shape
    u = np.fft.fftfreq(wide)[None, :]
    v = np.fft.fftfreq(high)[:, None]
    moved = np.fft.ifft2(np.fft.fft2(SET) * np.exp(-2j * math.pi * (u * x + v * y))).real
    found: Any = moved[100 : 100 + HIGH, 200 : 200 + WIDE].astype(np.float32)
    found.flags.writeable = False
    return found


def measured(frames: Any, noise: float = 0.01, seed: int = 3) -> Run:
    dice = np.random.default_rng(seed)
    measuring = Measuring()
    for frame in frames:
        grain = dice.normal(0.0, noise, frame.shape) if noise else 0.0
        measuring.take(np.clip(frame + grain, 0.0, 1.0).astype(np.float32))
    return measuring.done()


def walker(frame: Any, left: int, wide: int = 90) -> Any:
    """Somebody who covers most of the height."""
    frame = frame.copy()
    frame[40:, max(left, 0) : max(left + wide, 0)] = 0.75
    return frame


def bands(down: float = 0.0) -> Any:
    """An even wall above an even floor."""
    edge = np.clip(np.arange(HIGH) - 140.0 - down, 0.0, 1.0)
    found = np.repeat((0.42 + 0.04 * edge)[:, None], WIDE, axis=1)
    return found.astype(np.float32)


def outline(frame: Any, middle: float, wide: float) -> Any:
    """A head and shoulders, so wide across the shoulders, before a frame."""
    large = np.repeat(np.repeat(frame, 4, axis=0), 4, axis=1)
    parts = [((middle, 215.0), (wide, 90.0)), ((middle, 85.0), (0.35 * wide, 0.5 * wide))]
    for (x, y), (across, up) in parts:
        place, size = (round(4 * x), round(4 * y)), (round(2 * across), round(2 * up))
        cv2.ellipse(large, place, size, 0.0, 0.0, 360.0, 0.5, -1)
    return cv2.resize(large, (WIDE, HIGH), interpolation=cv2.INTER_AREA)


class TestWhetherItStands:
    @pytest.mark.parametrize(
        ("x", "y"), [(0.15, 0.0), (-0.15, 0.05), (0.5, 0.4), (2.2, -1.0), (9.0, 3.0)]
    )
    def test_a_bump_is_told_to_a_hundredth_of_a_pixel(self, x: float, y: float) -> None:
        run = measured([seen()] * 6 + [seen(x, y)] * 6)
        off = run.shift * FULL
        assert off[:6] == pytest.approx(np.zeros((6, 2)), abs=0.05)
        # Slopes tell half a pixel less well: a large bump is told to half a percent.
        slack = max(0.05, 0.006 * 4 * math.hypot(x, y))
        assert np.median(off[6:], axis=0) == pytest.approx([4 * x, 4 * y], abs=slack)
        ran = told(run)
        assert [jump.frame for jump in ran.jumps] == [7]
        assert ran.jumps[0].stays

    def test_who_walks_through_does_not_move_the_picture(self) -> None:
        frames = [walker(seen(), -90 + 12 * n) for n in range(44)]
        ran = told(measured(frames))
        assert ran.jumps == ()
        assert ran.wander * FULL < 0.15
        assert ran.lost == 0

    def test_a_bump_behind_a_walker_is_found(self) -> None:
        frames = [walker(seen(0.15 if n >= 20 else 0.0), -90 + 12 * n) for n in range(44)]
        ran = told(measured(frames))
        assert [jump.frame for jump in ran.jumps] == [21]
        assert ran.jumps[0].right * FULL == pytest.approx(0.6, abs=0.08)

    def test_a_nudge_that_comes_back_is_told_once(self) -> None:
        frames = [seen(0.4 if n == 12 else 0.0) for n in range(30)]
        ran = told(measured(frames))
        assert [(jump.frame, jump.stays) for jump in ran.jumps] == [(13, False)]

    def test_a_long_way_is_followed(self) -> None:
        way = [(n * 1.7, math.sin(n / 5.0) * 4.0) for n in range(60)]
        run = measured([seen(x, y) for x, y in way])
        assert run.shift[:, 0] * WIDE == pytest.approx([x for x, _ in way], abs=0.4)
        assert run.shift[:, 1] * WIDE == pytest.approx([y for _, y in way], abs=0.4)

    def test_light_that_changes_is_no_movement(self) -> None:
        run = measured([seen() * (1.0 + 0.1 * math.sin(n)) for n in range(30)])
        assert np.abs(run.shift * FULL).max() < 0.1

    def test_an_even_wall_tells_nothing(self) -> None:
        run = measured([np.full((HIGH, WIDE), 0.5, np.float32)] * 8)
        assert np.isnan(run.shift[1:]).all()
        assert told(run).lost == 7

    @settings(deadline=None, max_examples=6)
    @given(st.floats(-3.0, 3.0), st.floats(-3.0, 3.0), st.integers(0, 1000))
    def test_a_level_edge_alone_tells_nothing(self, x: float, y: float, seed: int) -> None:
        # Along an edge nothing tells how far it moved: no number, instead of one out of the grain.
        run = measured([bands()] * 2 + [bands(y)] * 2, seed=seed)
        assert np.isnan(run.shift[1:]).all()

    @pytest.mark.parametrize("pace", [0.0, 1.5, -4.0])
    def test_somebody_who_is_nearly_all_there_is_moves_no_camera(self, pace: float) -> None:
        # A walk towards the lens before an even wall; the rest of the picture is one level edge.
        frames = [outline(bands(), 200.0 + pace * n, 40.0 + 1.3 * n) for n in range(48)]
        ran = told(measured(frames, noise=0.004))
        assert ran.lost > 24 or max(ran.wander, *map(abs, ran.creep)) * FULL < 1.0
        assert all(math.hypot(jump.right, jump.down) * FULL < 1.0 for jump in ran.jumps)

    @settings(deadline=None, max_examples=8)
    @given(st.floats(-40.0, 40.0), st.floats(-25.0, 25.0), st.integers(0, 1000))
    def test_any_shift_is_found(self, x: float, y: float, seed: int) -> None:
        run = measured([seen(), seen(), seen(x, y)], seed=seed)
        assert run.shift[2] * FULL == pytest.approx([4 * x, 4 * y], abs=0.45)


class TestLight:
    def test_a_frame_that_stands_out(self) -> None:
        # As recorded 3 % is 2.2 times as much in light, above the foot of the curve.
        frames = [walker(seen(), -90 + 12 * n) * (1.03 if n == 20 else 1.0) for n in range(44)]
        run = measured(frames)
        ran = told(run)
        assert ran.light is not None
        assert ran.light.frame == 21
        # The reference: the same told by one number a frame, of places that nobody crosses.
        plain = flicker([(1.0 if n != 20 else 1.03) ** (1 / 0.45) for n in range(44)])
        assert ran.light.percent == pytest.approx(plain.worst_percent, rel=0.45)
        assert ran.light.percent > 3.0
        assert abs(ran.drift_stops or 0.0) < 0.01

    def test_the_side_that_flickers(self) -> None:
        frames = []
        for n in range(24):
            frame = seen().copy()
            if n == 9:
                frame[:, : WIDE // 3] *= 0.97
            frames.append(frame)
        ran = told(measured(frames))
        assert ran.thirds[0].frame == 10
        assert ran.thirds[0].percent < -3.0
        assert max(abs(t.percent) for t in ran.thirds[1:]) < 1.0
        assert ran.light is not None
        assert abs(ran.light.percent) < 1.0

    @pytest.mark.parametrize(("period", "found"), [(6.0, 6.0), (7.3, 7.3), (24.0, 24.0)])
    def test_a_pulse_and_its_period(self, period: float, found: float) -> None:
        frames = [seen() * (1.0 + 0.02 * math.sin(2 * math.pi * n / period)) for n in range(144)]
        ran = told(measured(frames))
        assert ran.pulse_frames == pytest.approx(found, rel=0.03)
        assert ran.pulse_percent == pytest.approx(4.5, rel=0.35)

    def test_a_face_that_fills_the_picture_is_no_light_that_changes(self) -> None:
        dice = np.random.default_rng(6)
        frames = [seen()]
        for _ in range(20):
            frame = seen().copy()
            # As large as two thirds of the picture, and never twice in one place.
            left = int(dice.integers(20, 140))
            frame[:, left : left + 320] = texture(int(dice.integers(0, 99)))[:HIGH, :320] * 1.3
            frames.append(frame)
        ran = told(measured(frames))
        assert ran.light is None
        said = judged(ran)["run-light"]
        assert said.verdict is Verdict.HOLDS
        assert "Nothing was found" in said.sentence

    def test_steady_light_has_none(self) -> None:
        ran = told(measured([seen()] * 60))
        assert ran.pulse_percent < 0.2
        assert ran.light is not None
        assert abs(ran.light.percent) < 0.5
        assert ran.calm == (1, 60)

    def test_a_cloud(self) -> None:
        ran = told(measured([seen() * (1.0 - 0.1 * n / 47) for n in range(48)]))
        # The middle frames of its first and last tenth, of a wall as bright as the set is.
        code = np.array([0.375 * (1.0 - 0.1 * n / 47) for n in (1.5, 45.5)], np.float32)
        one, two = to_light(code)
        assert ran.drift_stops == pytest.approx(math.log2(two / one), rel=0.03)


class TestFramesTakenTwice:
    def test_one_in_the_midst_of_movement(self) -> None:
        dice = np.random.default_rng(2)
        frames = []
        for n in range(40):
            frame = walker(seen(), 8 * n) + dice.normal(0.0, 0.01, (HIGH, WIDE))
            frames.append(frames[-1] if n in (17, 30) else frame)
        run = measured(frames, noise=0.0)
        assert run.doubles == [17, 30]
        # As the contract's function says of the same frames.
        assert duplicates([np.repeat(f[..., None], 3, axis=2) for f in frames]) == [17, 30]

    def test_a_scene_that_stands_is_written_again_and_nothing_was_lost(self) -> None:
        run = measured([seen()] * 20, noise=0.0)
        assert run.doubles == []
        assert told(run).doubled == 0


class TestGrain:
    @pytest.mark.parametrize("sigma", [0.004, 0.01, 0.03])
    def test_it_is_measured_where_nothing_moves(self, sigma: float) -> None:
        dice = np.random.default_rng(4)
        grain = Grain()
        for n in range(50):
            frame = walker(seen(), 8 * n)
            if grain.wants:
                grain.take((frame + dice.normal(0.0, sigma, frame.shape)).astype(np.float32))
            else:
                grain.skip()
        assert grain.rms == pytest.approx(sigma, rel=0.12)

    def test_nothing_is_said_of_a_single_frame(self) -> None:
        grain = Grain()
        grain.take(seen())
        assert grain.rms is None


class TestWhatIsKept:
    def test_places_in_which_something_was(self) -> None:
        frames = [walker(seen(), 300 if n >= 30 else -200) for n in range(80)]
        ran = told(measured(frames))
        first = np.array(ran.first).reshape(ran.rows, ran.columns)
        # It stands there for most of the clip: what is seen without it counts.
        assert set(first[5:, 21:25].ravel()) == {1}
        assert (first[:, :18] == 0).all()
        assert ran.calm == (31, 80)

    def test_what_stands_there_half_of_the_time_came_later(self) -> None:
        frames = [walker(seen(), 300 if n >= 20 else -200) for n in range(40)]
        first = np.array(told(measured(frames)).first).reshape(18, 32)
        assert set(first[5:, 21:25].ravel()) == {21}

    def test_a_long_clip_keeps_its_memory_flat(self, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setattr("jungoptic.core.pictures.run.REMEMBERED", 16)
        run = measured([seen()] * 50)
        assert run.stride == 4
        assert len(run.moved) <= 16
        assert run.frames == len(run.shift) == 50
        assert told(run).looked == len(run.moved)

    def test_its_drawing_has_so_many_steps_at_most(self) -> None:
        rows = drawn(measured([seen()] * 50), most=20)
        assert {len(row) for row in rows.values()} == {20}
        assert all(low <= high for row in rows.values() for low, high in row if low is not None)
        assert set(rows) == {"light", "left", "middle", "right", "across", "down", "moved"}

    def test_frames_of_two_sizes_are_refused(self) -> None:
        measuring = Measuring()
        with pytest.raises(Impossible, match="no frames"):
            measuring.done()
        measuring.take(seen())
        with pytest.raises(Impossible, match="one size"):
            measuring.take(seen()[:200])

    @pytest.mark.parametrize(("wide", "high"), [(8, 8), (40, 9), (9, 400), (270, 480), (2, 2)])
    def test_every_shape_of_frame_is_measured(self, wide: int, high: int) -> None:
        dice = np.random.default_rng(1)
        run = measured([dice.uniform(0, 1, (high, wide))] * 3, noise=0.02)
        assert run.moved.shape[1:] == tiles_of(wide, high)[::-1]
        told(run)
        assert max(small_size(wide * 50, high * 50)) <= 480


def ran_of(**changes: Any) -> Ran:
    """A clip without a fault, but for what is changed."""
    steady = replace(told(measured([seen()] * 30, noise=0.004)), grain=0.004)
    return replace(steady, **changes)


def judged(ran: Ran, plate: Any = ANSA, whole: Any = None, fps: float = 24.0) -> dict[str, Finding]:
    return {f.key: f for f in judge_ran(whole or shot(), plate, ran, fps)}


@pytest.mark.parametrize(
    ("changes", "wanted"),
    [
        ({}, False),
        ({"first": (0, 3)}, True),
        ({"first": (0, 3), "wander": 0.01}, False),
        ({"first": (0, 3), "lost": 20}, False),
        ({"first": (0, 3), "frames": 4}, False),
    ],
)
def test_a_median_takes_out_who_passes_before_a_camera_that_stands(
    changes: dict[str, Any], wanted: bool
) -> None:
    assert clears(ran_of(**changes)) is wanted


class TestJudging:
    def test_a_clip_without_a_fault_holds(self) -> None:
        found = judged(ran_of())
        assert set(found) == {"run-light", "run-drift", "run-stands", "run-doubles"}
        assert {f.verdict for f in found.values()} == {Verdict.HOLDS}

    def test_a_jump_says_where_which_way_and_what_was_touched(self) -> None:
        frames = [seen(0.3 if n >= 12 else 0.0, -0.02) for n in range(30)]
        found = judged(told(measured(frames)))["run-stands"]
        assert found.verdict is Verdict.STRAINS
        assert "jumps" in found.sentence
        assert "right at frame 13 and stays there: the tripod or the head" in found.sentence
        assert frames_told([found]) == [13]
        puppet = replace(ANSA, kind="puppet")
        at_the_table = judged(told(measured(frames)), puppet)["run-stands"]
        assert "the support or the table" in at_the_table.sentence

    def test_a_head_that_sags(self) -> None:
        found = judged(told(measured([seen(0.0, 0.02 * n) for n in range(60)])))["run-stands"]
        assert "creeps" in found.sentence
        assert "px down from first to last" in found.sentence

    def test_a_hand_on_the_camera(self) -> None:
        dice = np.random.default_rng(8)
        found = judged(told(measured([seen(*dice.normal(0, 0.2, 2)) for _ in range(60)])))
        assert "creeps" not in found["run-stands"].sentence
        assert found["run-stands"].verdict is not Verdict.HOLDS

    def test_a_move_is_steadied_at_the_cost_of_its_edges(self) -> None:
        dice = np.random.default_rng(5)
        # Small pixels: 240 are 1920.
        stirred = dice.normal(0.0, 0.8, (48, 2))
        way = [(1.2 * n + x, 0.01 * n * n + y) for n, (x, y) in enumerate(stirred)]
        ran = told(measured([seen(x, y) for x, y in way]))
        assert ran.scatter is not None
        # The reference: the scatter that was put in, less what a parabola takes along.
        for put_in, found in zip(np.abs(stirred).max(axis=0), ran.scatter, strict=True):
            assert found * WIDE == pytest.approx(put_in, rel=0.35)
        panned = shot(move=Move(pan_deg=8.0))
        bare = replace(ANSA, lens_id=None)
        finding = judged(ran, bare, panned)["run-steady"]
        assert finding.verdict is Verdict.STRAINS
        right, down = (part * 1920.0 for part in ran.scatter)
        left = crop_left([[right, down]], 1920.0, panned.delivery.height_px)
        assert finding.workings[0].result.value == pytest.approx(left)
        assert f"{left * 1920:,.0f} px of 1,920 px" in finding.sentence
        # What the lens sees beyond the delivered picture is used up first.
        assert judged(ran, ANSA, panned)["run-steady"].workings[0].result.value >= left
        assert "run-stands" not in judged(ran, ANSA, panned)
        # Post moves what it places: its camera has to stand.
        placed = replace(ANSA, placed_in_post=True)
        assert "run-stands" in judged(ran, placed, replace(panned, plates=(placed,)))
        smooth = told(measured([seen(1.2 * n, 0.01 * n * n) for n in range(48)]))
        assert judged(smooth, bare, panned)["run-steady"].verdict is Verdict.HOLDS

    def test_a_move_that_was_measured_before_this_was_asked_is_not_judged(self) -> None:
        panned = shot(move=Move(pan_deg=8.0))
        assert "run-steady" not in judged(replace(ran_of(), scatter=None), ANSA, panned)
        short = judged(told(measured([seen(n) for n in range(6)])), ANSA, panned)["run-steady"]
        assert "it is short" in short.sentence

    def test_lamps_on_mains_are_named(self) -> None:
        # 100 pulses a second at 24 frames: four left over, one crest in six frames; common
        # practice. At 25 none are left, and 60 Hz at 24 gives none either.
        pulsing = ran_of(pulse_frames=6.0, pulse_percent=3.0)
        found = judged(pulsing)["run-light"]
        assert "lamps on 50 Hz mains do at 24" in found.sentence
        assert "1/100 s or 1/50 s" in found.sentence
        assert found.verdict is Verdict.STRAINS
        odd = judged(ran_of(pulse_frames=9.0, pulse_percent=3.0))["run-light"]
        assert "dimmer" in odd.sentence
        thirty = judged(ran_of(pulse_frames=3.0, pulse_percent=3.0), fps=30.0)["run-light"]
        assert "50 Hz" in thirty.sentence

    def test_light_that_is_meant_to_change_is_not_judged(self) -> None:
        swinging = ran_of(pulse_frames=6.0, pulse_percent=30.0, drift_stops=2.0)
        for plate in (replace(ANSA, kind="element"), replace(ANSA, cue=Cue("fire"))):
            assert "run-light" not in judged(swinging, plate)
            assert "run-drift" not in judged(swinging, plate)

    def test_a_camera_that_moves_by_plan_is_not_asked_to_stand(self) -> None:
        whole = shot()
        moving = replace(whole, move=replace(whole.move, pan_deg=20.0))
        found = judged(told(measured([seen(n * 2.0) for n in range(30)])), whole=moving)
        assert set(found) == {"run-doubles", "run-steady"}
        assert found["run-steady"].verdict is Verdict.HOLDS

    def test_nor_is_one_that_its_sheet_carries(self) -> None:
        walked = told(measured([seen(n * 2.0) for n in range(30)]))
        found = {f.key for f in judge_ran(shot(), ANSA, walked, 24.0, carried=True)}
        assert found == {"run-doubles", "run-steady"}
        assert "run-stands" in {f.key for f in judge_ran(shot(), ANSA, walked, 24.0)}

    def test_doubles_few_and_many(self) -> None:
        few = judged(ran_of(frames=500, doubles=(38,), doubled=1))["run-doubles"]
        assert few.verdict is Verdict.STRAINS
        assert few.sentence.startswith("Frame 38 shows the same")
        many = judged(ran_of(frames=100, doubles=tuple(range(3, 11)), doubled=8))["run-doubles"]
        assert many.verdict is Verdict.BREAKS
        assert "3, 4, 5, 6, 7 and 3 more" in many.sentence
        # A puppet on twos is held on purpose.
        puppet = replace(ANSA, kind="puppet")
        assert "run-doubles" not in judged(ran_of(doubles=(2,), doubled=1), puppet)

    def test_a_clean_plate(self) -> None:
        clean = replace(ANSA, name="Clean plate", motion="still")
        holds = judged(ran_of(), clean)["run-clean"]
        assert holds.verdict is Verdict.HOLDS
        assert "The mean of 30 frames is 5 times quieter" in holds.sentence
        crossed = judged(ran_of(frames=240, calm=(101, 200)), clean)["run-clean"]
        assert crossed.verdict is Verdict.STRAINS
        assert "from frame 101 to 200: use those" in crossed.sentence
        assert judged(ran_of(frames=240, calm=(1, 4)), clean)["run-clean"].verdict is Verdict.BREAKS
        assert "run-clean" not in judged(ran_of())

    @settings(deadline=None, max_examples=40)
    @given(
        st.floats(0.0, 0.2),
        st.floats(-1.0, 1.0),
        st.floats(-50.0, 50.0),
        st.integers(0, 100),
        st.integers(0, 30),
    )
    def test_any_clip_is_said_in_sentences(
        self, wander: float, drift: float, percent: float, doubled: int, lost: int
    ) -> None:
        plain = STEADY
        assert plain.light is not None
        ran = replace(
            plain,
            wander=wander,
            drift_stops=drift,
            light=replace(plain.light, percent=percent),
            doubled=doubled,
            doubles=tuple(range(2, 2 + doubled)),
            lost=lost,
        )
        for finding in judge_ran(shot(), ANSA, ran, 24.0):
            assert finding.sentence[-1] == "."
            assert "nan" not in finding.sentence
        worse = replace(ran, wander=wander * 2.0)
        ranks = [judged(r)["run-stands"].verdict.rank for r in (ran, worse)]
        assert ranks == sorted(ranks)


STEADY = ran_of()


class TestDividers:
    def line(self, x: float = 0.5, **more: Any) -> Split:
        key = DividerKey(1, ((x, 0.0), (x, 1.0)))
        given = {"first_id": ANSA.id, "keys": (key,), "feather_px": 16.0, **more}
        return Split("s", "Divider", **given)

    def found(self, left: int, wide: int, split: Split) -> Finding:
        """Somebody is there from frame 11 to 20 of 60."""
        frames = [walker(seen(), left, wide) if 10 <= n < 20 else seen() for n in range(60)]
        ran = told(measured(frames, noise=0.004))
        return judged(ran, whole=replace(shot(), splits=(split,)))["run-split-s"]

    def test_who_stays_and_who_crosses(self) -> None:
        # The divider stands in the middle of 480; the plate owns what lies left of it.
        stays = self.found(30, 60, self.line())
        assert stays.verdict is Verdict.HOLDS
        assert "clear of it" in stays.sentence
        crosses = self.found(180, 120, self.line())
        assert crosses.verdict is Verdict.BREAKS
        assert "first at frame 11" in crosses.sentence
        assert "further to the right it would be clear of this half" in crosses.sentence
        assert frames_told([crosses]) == [11]

    def test_the_other_half(self) -> None:
        right = self.line(first_id=None, second_id=ANSA.id)
        assert self.found(380, 60, right).verdict is Verdict.HOLDS
        crosses = self.found(180, 120, right)
        assert crosses.verdict is Verdict.BREAKS
        assert "further to the left" in crosses.sentence

    def test_a_line_that_wanders_is_taken_where_it_runs_then(self) -> None:
        keys = (
            DividerKey(1, ((0.9, 0.0), (0.9, 1.0))),
            DividerKey(40, ((0.2, 0.0), (0.2, 1.0))),
        )
        # At frame 11 the line still runs at 0.72 of the width.
        assert self.found(180, 60, self.line(keys=keys)).verdict is Verdict.HOLDS
        early = (replace(keys[0], frame=1), replace(keys[1], frame=5))
        assert self.found(180, 60, self.line(keys=early)).verdict is Verdict.BREAKS

    def test_a_zoom_in_post_comes_after_the_join(self) -> None:
        """What is over the line as it was filmed is so by as much, however close the zoom ends."""
        frames = [walker(seen(), 180, 120) if 10 <= n < 20 else seen() for n in range(60)]
        ran = told(measured(frames, noise=0.004))
        whole = replace(shot(), splits=(self.line(),))
        closer = replace(whole, move=replace(whole.move, zoom=3.0))
        plain, zoomed = (judged(ran, whole=w)["run-split-s"] for w in (whole, closer))
        assert zoomed.sentence == plain.sentence
        assert zoomed.verdict is Verdict.BREAKS

    def test_nobody_in_it(self) -> None:
        whole = replace(shot(), splits=(self.line(),))
        assert "Nothing moves" in judged(STEADY, whole=whole)["run-split-s"].sentence
        bare = replace(shot(), splits=(self.line(keys=()),))
        assert "run-split-s" not in judged(STEADY, whole=bare)
