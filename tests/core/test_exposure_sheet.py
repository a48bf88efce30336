"""Exposure sheets: which frames need a picture, holds, stops, findings, and how far work is."""

from __future__ import annotations

import datetime
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import stopmotion
from jungoptic.core.frames.chart import along_legs, calmer, jolt_of
from jungoptic.core.frames.cutting import part_of
from jungoptic.core.frames.follows import blink, to_begin_with
from jungoptic.core.frames.pace import Sitting, progress
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.frames.timing import (
    changed_at,
    holds,
    in_order,
    pictures,
    pictures_asked,
    stops,
)
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.cue import Cue
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import MoveRig
from jungoptic.core.plan.plate import PlacedLamp
from jungoptic.core.plan.sheet import Column, Leg, Mark, Sheet, Worked
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import Beat
from jungoptic.core.plan.world import Move
from jungoptic.core.stage.motion import image_motion

from .examples import MILL, shot
from .stages import FULL

MARKS = st.lists(
    st.builds(Mark, st.integers(1, 140), st.sampled_from(["", "up", "down"]), st.integers(0, 5)),
    max_size=8,
    unique_by=lambda m: m.frame,
)
PUPPET = replace(MILL, kind="puppet")
DAY = datetime.date(2026, 10, 3)


def name_at(column: Column, frame: int) -> str:
    """What a column holds at a frame."""
    return next((m.name for m in reversed(in_order(column)) if m.frame <= frame), "")


def column(*marks: Mark, kind: str = "part", **more: object) -> Column:
    return Column("c", "Heron", kind, marks=marks, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize("hold", [1, 2, 3])
@pytest.mark.parametrize("frames", [1, 24, 120, 121])
def test_on_ones_twos_and_threes_as_many_pictures_as_the_formula_says(hold, frames):
    """Common practice: pictures = seconds x rate / hold, rounded up."""
    taken = pictures([changed_at(column(Mark(1, every=hold)), frames)], frames)
    assert len(taken) == stopmotion.exposure_count(frames / 24.0, 24.0, hold)


def test_a_mark_holds_until_the_next():
    heron = column(Mark(1, "rest"), Mark(9, every=2), Mark(15, "open"))
    assert changed_at(heron, 20) == [1, 9, 11, 13, 15]
    assert changed_at(heron, 10) == [1, 9]
    assert [name_at(heron, f) for f in (1, 8, 9, 14, 15, 20)] == [
        "rest",
        "rest",
        "",
        "",
        "open",
        "open",
    ]
    # Of two marks at one frame the later written counts.
    assert name_at(column(Mark(1, "a"), Mark(1, "b")), 1) == "b"
    assert name_at(column(Mark(5, "a")), 4) == ""


@given(st.lists(MARKS, max_size=3), st.integers(1, 120))
def test_every_frame_is_shown_by_one_picture(columns, frames):
    changes = [changed_at(column(*marks), frames) for marks in columns]
    taken = pictures(changes, frames)
    assert taken[0] == 1
    assert taken == sorted(set(taken))
    assert taken[-1] <= frames
    counted = holds(taken, frames)
    assert sum(n * count for n, count in counted.items()) == frames
    assert sum(counted.values()) == len(taken)
    for marks, change in zip(columns, changes, strict=True):
        asked = sum(len(range(m.frame, frames + 1, m.every or frames + 1)) for m in marks)
        assert len(change) <= asked
    for stop in stops(taken, frames, 24.0):
        assert stop.frames > 12
        assert not set(range(stop.first + 1, stop.last + 1)) & set(taken)


def test_a_stop_longer_than_half_a_second_is_told():
    found = shot(plates=(PUPPET,))
    sheet = Sheet((column(Mark(1, every=1), Mark(30, "rest"), Mark(60, every=1)),))
    told = sheet_report(found, PUPPET, sheet)
    stop = next(f for f in told.findings if f.key == "sheet-stops")
    assert stop.verdict is Verdict.STRAINS
    assert "frame 30 to 59 (1.2 s)" in stop.sentence
    lively = Sheet((column(Mark(1, every=2)),))
    assert all(f.verdict is Verdict.HOLDS for f in sheet_report(found, PUPPET, lively).findings)


def test_a_shot_too_long_for_a_sheet_says_so():
    found = shot(plates=(PUPPET,), screen_time_s=3600.0)
    with pytest.raises(Impossible, match="split it"):
        sheet_report(found, PUPPET, Sheet())


def test_a_sheet_with_nothing_on_it_judges_nothing():
    told = sheet_report(shot(plates=(PUPPET,)), PUPPET, Sheet())
    assert told.taken == (1,)
    assert told.findings == ()
    assert not told.begun
    begun = to_begin_with(shot(plates=(PUPPET,)), PUPPET, 2)
    assert [c.kind for c in begun][-1] == "words"
    assert begun[0].marks == (Mark(1, every=2),)


@pytest.mark.parametrize("hold", [1, 2, 3])
def test_the_work_of_a_sheet_with_nothing_on_it_is_that_of_poses_held_as_usual(hold):
    whole, words = shot(plates=(PUPPET,)), Column("w", "Sound", "words", (Mark(9, "wind"),))
    nothing = sheet_report(whole, PUPPET, Sheet((words,)), hold=hold)
    held = sheet_report(whole, PUPPET, Sheet((column(Mark(1, every=hold)),)), hold=7)
    assert (nothing.begun, held.begun) == (False, True)
    assert nothing.progress == held.progress
    # Whoever took the first twelve pictures has so many fewer to go.
    sat = [Sitting(DAY, 1, 12, 0.5)]
    left = sheet_report(whole, PUPPET, Sheet((words,)), DAY, sat, hold).progress
    assert left.pictures_left == nothing.progress.pictures_left - 12
    assert left.pictures_per_h == pytest.approx(24.0)


def test_a_camera_on_ones_over_a_puppet_on_twos():
    found = shot(plates=(PUPPET,), move=Move(right_m=1.0, ease="both"))
    told = sheet_report(found, PUPPET, Sheet((column(Mark(1, every=2)),)))
    # What the story's camera does fills its own column, and asks for a picture a frame.
    assert [c.column.key for c in told.columns if c.by_story] == ["story-track"]
    assert len(told.taken) == found.frames
    # Whether the sheet or the story moves the camera, the puppet sticks under it.
    assert "sheet-twos" in {f.key for f in told.findings}
    charted = Column("t", "Slider", "axis", axis="track", follows=True)
    both = sheet_report(found, PUPPET, Sheet((column(Mark(1, every=2)), charted)))
    twos = next(f for f in both.findings if f.key == "sheet-twos")
    assert twos.verdict is Verdict.STRAINS
    ones = sheet_report(found, PUPPET, Sheet((column(Mark(1, every=1)), charted)))
    assert "sheet-twos" not in {f.key for f in ones.findings}


def test_what_walks_on_twos_steps_twice_as_far_and_under_a_moving_camera_not():
    walks = replace(shot().stand_ins[0], speed_m_s=2.0, course_deg=90.0, plate_id="mill")
    found = shot(plates=(PUPPET,), stand_ins=(walks,))

    def step(of, every: int) -> float:
        heron = Column("c", "Heron", "part", marks=(Mark(1, every=every),), thing_id=walks.id)
        told = sheet_report(of, PUPPET, Sheet((heron,)))
        finding = next(f for f in told.findings if f.key == "sheet-step")
        return finding.workings[0].result.value

    assert step(found, 2) == pytest.approx(2.0 * step(found, 1))
    tracked = replace(found, move=Move(right_m=0.5))
    assert step(tracked, 2) == pytest.approx(step(tracked, 1))


KINDS = {"figure": (0.5, 1.7, 0.0), "box": (1.2, 0.8, 0.6), "card": (0.4, 1.5, 0.0)}


@given(
    st.sampled_from(sorted(KINDS)),
    st.floats(-1.5, 1.5),
    st.floats(0.0, 2.0),
    st.floats(0.0, 180.0),
    st.floats(2.0, 8.0),
    st.floats(-4.0, 1.0),
)
def test_a_sheet_and_the_bench_tell_steps_by_the_same_width(kind, x, speed, course, pan, tilt):
    wide, high, deep = KINDS[kind]
    thing = StandIn("t", "Heron", kind, x, 12.0, 0.6, wide, high, deep, 0.0, "mill", speed, course)
    whole = shot(
        plates=(PUPPET,),
        stand_ins=(thing,),
        screen_time_s=2.0,
        move=Move(pan_deg=pan, tilt_deg=tilt, ease="even"),
    )
    (told,) = sheet_report(whole, PUPPET, Sheet()).steps
    at = image_motion(whole, PUPPET).fastest
    assert at is not None
    # A sheet's moves end on the last frame and the story's with the end of it, and the Bench looks
    # at more points of a figure.
    assert told.step_px == pytest.approx(at.step_px, rel=0.08)
    assert told.width_px == pytest.approx(at.width_px, rel=0.08)


def test_a_figure_under_a_fast_pan_seems_to_jump():
    """Measured on its axis it has no width of its own across."""
    ansa = replace(shot().stand_ins[3], plate_id="mill")
    found = shot(plates=(PUPPET,), stand_ins=(ansa,), move=Move(pan_deg=50.0), screen_time_s=1.0)
    heron = Column("c", "Heron", "part", marks=(Mark(1, every=1),), thing_id=ansa.id)
    told = {f.key: f for f in sheet_report(found, PUPPET, Sheet((heron,))).findings}
    assert told["sheet-step"].verdict is Verdict.STRAINS
    slow = replace(found, move=Move(pan_deg=2.0))
    told = {f.key: f for f in sheet_report(slow, PUPPET, Sheet((heron,))).findings}
    assert told["sheet-step"].verdict is Verdict.HOLDS


def test_a_beat_on_a_held_picture_is_told():
    found = shot(plates=(PUPPET,), beats=(Beat("b", "Wing opens", 8),))
    held = sheet_report(found, PUPPET, Sheet((column(Mark(1, every=2)),)))
    beats = next(f for f in held.findings if f.key == "sheet-beats")
    assert beats.verdict is Verdict.STRAINS
    assert "frame 8, where the picture of frame 7" in beats.sentence
    hit = sheet_report(found, PUPPET, Sheet((column(Mark(1, every=2), Mark(8, "open")),)))
    assert next(f for f in hit.findings if f.key == "sheet-beats").verdict is Verdict.HOLDS


def test_rigs_have_an_end_and_a_speed():
    rig = MoveRig("s", "Slider", "track", per_turn=1.0, travel=100.0, per_s=20.0)
    kit = replace(FULL, rigs=(rig,))
    slides = Column("t", "Slider", "axis", axis="track", rig_id="s", legs=(Leg(2, 48, 150.0),))
    found = shot(plates=(PUPPET,), kit=kit)
    told = {f.key: f for f in sheet_report(found, PUPPET, Sheet((slides,))).findings}
    assert told["sheet-travel"].verdict is Verdict.BREAKS
    assert "150 mm of the 100 mm" in told["sheet-travel"].sentence
    # Between pictures there is all the time in the world.
    assert "sheet-speed" not in told
    live = replace(PUPPET, kind="miniature")
    rolling = shot(plates=(live,), kit=kit)
    told = {f.key: f for f in sheet_report(rolling, live, Sheet((slides,))).findings}
    assert told["sheet-speed"].verdict is Verdict.BREAKS


def test_a_jerk_is_told_with_the_ramp_that_mends_it():
    found = shot(plates=(PUPPET,))
    hard = Column("t", "Slider", "axis", axis="track", legs=(Leg(20, 10, 200.0, "even"),))
    told = {f.key: f for f in sheet_report(found, PUPPET, Sheet((hard,))).findings}
    assert told["sheet-jolt"].verdict is not Verdict.HOLDS
    assert "frame 19" in told["sheet-jolt"].sentence or "frame 29" in told["sheet-jolt"].sentence
    # The story's camera stands still.
    assert told["sheet-off"].verdict is Verdict.BREAKS


@given(
    st.sampled_from(["even", "in", "out", "both"]),
    st.floats(20.0, 400.0),
    st.integers(6, 30),
    st.integers(0, 3),
)
def test_what_is_told_against_a_jerk_takes_it_out(ease, way, frames, ramp):
    wall = StandIn("w", "Wall", "card", 0.0, 12.0, 0.0, 3.0, 2.0, 0.0, 0.0, "mill")
    found = shot(plates=(PUPPET,), stand_ins=(wall,), screen_time_s=12.0)
    leg = Leg(20, frames, way, ease, ramp)

    def smooth(leg: Leg):
        slides = Column("t", "Slider", "axis", axis="track", legs=(leg,))
        report = sheet_report(found, PUPPET, Sheet((slides,)))
        return next(f for f in report.findings if f.key == "sheet-jolt"), report.steps[0]

    told, worst = smooth(leg)
    if told.verdict is Verdict.HOLDS:
        return
    other = calmer(leg, worst.jolt_frame, told.workings[0].inputs[0].value / worst.jolt_px)
    if other is None:
        assert "goes too far" in told.sentence
        return
    assert str(other.ramp_frames if other.frames == frames else other.frames) in told.sentence
    assert other.way == way
    # A wall across the picture, its places go as the camera does; its corners enter and leave.
    calm = smooth(other)[1]
    assert calm.jolt_px <= told.workings[0].inputs[0].value * 1.02


def test_the_shortest_ramp_that_does_is_told():
    """Of 1, 2, ... r parts a frame, the whole of r (n + 1 - r) parts (common practice)."""
    hard = Leg(2, 24, 240.0, "even")
    eased = calmer(hard, 1, 0.25)
    assert eased is not None
    assert (eased.ramp_frames, jolt_of(eased)) == (5, pytest.approx(240.0 / (5 * 20)))
    assert jolt_of(replace(eased, ramp_frames=4)) > 0.25 * jolt_of(hard)
    # What only comes to rest starts short.
    stop = Leg(2, 24, 240.0, "out")
    assert calmer(stop, 1, 0.3).frames == 24
    assert calmer(stop, 25, 0.9).frames > 24
    # However long it is, it is told without trying every length.
    long = Leg(2, 20_000, 1e6, "both")
    assert calmer(long, 1, 0.25).frames == pytest.approx(40_000, abs=1)
    for part in (0.001, 1e-9, 5e-324, 0.0):
        assert calmer(long, 1, part) is None
    assert calmer(Leg(2, 1, 5e-324, "even"), 1, 0.5) is None


def test_lamps_that_play_fill_their_column():
    placed = PlacedLamp("panel", 1.0, 1.0, 1.0, key="a")
    plate = replace(PUPPET, lamps=(placed,), cue=Cue("lightning", lamp_key="a", lasts_s=1.0))
    found = shot(plates=(plate,), kit=FULL)
    told = sheet_report(found, plate, Sheet())
    lamp = next(c for c in told.columns if c.column.kind == "lamp")
    assert lamp.by_story
    assert len(lamp.levels) == found.frames
    assert set(lamp.changed) <= set(told.taken)


def test_marks_and_moves_after_the_end():
    found = shot(plates=(PUPPET,))
    last = found.frames
    sheet = Sheet(
        (
            column(Mark(1, every=1), Mark(last + 5, "late")),
            Column("t", "Slider", "axis", axis="track", legs=(Leg(last - 4, 10, 10.0, "even"),)),
        )
    )
    told = {f.key: f.sentence for f in sheet_report(found, PUPPET, sheet).findings}
    assert f"frame {last + 5} of Heron" in told["sheet-late"]
    assert "5 mm of Slider" in told["sheet-beyond"]


def test_a_blink_takes_a_quarter_of_a_second():
    """A blink lasts 0.1 to 0.4 s (Schiffman 2000, from memory)."""
    for fps in (12.0, 24.0, 25.0, 30.0, 60.0):
        marks = blink(10, fps)
        assert [m.name for m in marks] == ["half", "shut", "half", "open"]
        assert 0.1 <= (marks[-1].frame - marks[0].frame) / fps <= 0.4
        assert [m.frame for m in marks] == sorted({m.frame for m in marks})


def test_two_minutes_are_forty_to_sixty_hours_until_pace_is_measured():
    """Common practice: 2 to 3 s of film an hour at 24 a second."""
    told = progress((), 2880, 24.0, range(1, 2881))
    assert 40.0 <= told.hours_left <= 60.0
    assert told.hours_left == pytest.approx(stopmotion.hours(120.0))
    # On twos there are half as many pictures to take.
    assert progress((), 2880, 24.0, range(1, 2881, 2)).hours_left == pytest.approx(24.0)
    assert (told.measured, told.done_on, told.frames_left) == (False, None, 2880)


def test_days_worked_tell_pace_and_the_day_it_is_done():
    days = (Worked(DAY, 1, 24, 4.0), Worked(DAY + datetime.timedelta(days=7), 25, 48, 4.0))
    told = progress(days, 120, 24.0, range(1, 121, 2))
    # 24 pictures of two frames in 8 hours.
    assert told.pictures_per_h == pytest.approx(3.0)
    assert told.film_s_per_h == pytest.approx(0.25)
    assert (told.made, told.frames_left, told.pictures_left) == (48, 72, 36)
    assert told.hours_left == pytest.approx(12.0)
    assert told.days_left == 3
    assert told.done_on == DAY + datetime.timedelta(days=28)
    late = progress(days, 120, 24.0, range(1, 121, 2), DAY + datetime.timedelta(days=30))
    assert late.done_on == DAY + datetime.timedelta(days=51)
    done = progress((Worked(DAY, 1, 120, 9.0),), 120, 24.0, range(1, 121))
    assert (done.frames_left, done.days_left, done.done_on) == (0, 0, DAY)
    with pytest.raises(Impossible):
        progress((Worked(DAY, 9, 3, 1.0),), 120, 24.0, [])


LEGS = st.lists(
    st.builds(
        Leg,
        first=st.integers(1, 80),
        frames=st.integers(1, 40),
        way=st.floats(-90.0, 90.0),
        ease=st.sampled_from(["even", "in", "out", "both"]),
    ),
    max_size=3,
)


@given(MARKS, LEGS, st.integers(1, 119))
def test_a_sheet_cut_in_two_goes_on_as_it_did(marks, legs, cut):
    whole = Column("c", "Heron", "part", marks=tuple(marks), legs=tuple(legs))
    first, second = part_of(whole, 1, cut), part_of(whole, cut + 1, 120)
    assert changed_at(first, cut) == [f for f in changed_at(whole, 120) if f <= cut]
    later = [f - cut for f in changed_at(whole, 120) if f > cut]
    # What holds over the cut begins the second half.
    assert {1, *changed_at(second, 120 - cut)} == {1, *later}
    for frame in range(1, 121 - cut):
        assert name_at(second, frame) == name_at(whole, cut + frame)
    along, beyond = along_legs(whole.legs, 120)
    one, _ = along_legs(first.legs, cut)
    two, over = along_legs(second.legs, 120 - cut)
    assert one == pytest.approx(along[:cut], abs=1e-6)
    assert one[-1] + two == pytest.approx(along[cut:], abs=1e-6)
    assert over == pytest.approx(0.0, abs=1e-9)
    assert beyond >= 0.0


@given(st.lists(MARKS, max_size=3), LEGS)
def test_pictures_are_counted_alike_with_and_without_the_plan(columns, legs):
    found = shot(plates=(PUPPET,), screen_time_s=5.0)
    sheet = Sheet(
        (
            *(Column(f"c{i}", "Heron", "part", marks=tuple(m)) for i, m in enumerate(columns)),
            Column("t", "Slider", "axis", axis="track", legs=tuple(legs)),
        )
    )
    asked = pictures_asked(sheet, found.frames, camera_moves=False)
    told = len(sheet_report(found, PUPPET, sheet).taken)
    if asked is None:
        assert told == 1
    elif all(leg.ease == "even" and leg.way for leg in legs):
        assert asked == told
    else:
        # An ease may stand still for a frame.
        assert asked >= told
    assert pictures_asked(sheet, 120, camera_moves=True) in (None, 120)
