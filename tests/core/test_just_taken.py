"""A picture just taken, against the one before and the block's first: measured on pictures whose
every fault is known, and judged; what a sheet asks before it; the days that its times tell of."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace
from itertools import pairwise
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.just_taken import delivered_across, judge_just_taken
from jungoptic.core.frames.asked import Ask, Asked, Asking, carried, frames_taken
from jungoptic.core.frames.pace import AWAY_S, Sitting, progress, sittings, worked_by
from jungoptic.core.frames.picture import boxes_of
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.just_taken import Against, JustTaken, Place
from jungoptic.core.pictures.taking import against, just_taken
from jungoptic.core.pictures.tone import to_light, to_record
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.sheet import Column, Lapse, Leg, Mark, Sheet
from jungoptic.core.plan.standins import measured_points
from jungoptic.core.plan.world import Move

from .examples import ANSA, MILL, shot
from .test_run import FULL, HIGH, WIDE, seen

POSE = Asked(2, 2, 1, (Ask("Heron", "part", "a new pose"),))


def grained(picture: Any, seed: int, noise: float = 0.003) -> Any:
    dice = np.random.default_rng(seed)
    return np.clip(picture + dice.normal(0.0, noise, picture.shape), 0, 1).astype(np.float32)


def lit(picture: Any, factor: Any) -> Any:
    """The picture in so much more light; a factor for all of it, or one a pixel."""
    return to_record(to_light(picture) * factor)


def puppet(picture: Any, x: int, y: int = 120) -> Any:
    picture = picture.copy()
    picture[y : y + 60, x : x + 40] = 0.7
    return picture


def verdicts(told: JustTaken, ask: Asked = POSE, wide: float = FULL) -> dict[str, Finding]:
    return {f.key: f for f in judge_just_taken(wide, told, ask)}


class TestMeasured:
    @given(
        percent=st.floats(-20, 20), seed=st.integers(0, 500), x=st.floats(-3, 3), y=st.floats(-2, 2)
    )
    @settings(max_examples=25)
    def test_light_and_shift_are_those_that_were_put_in(self, percent, seed, x, y):
        now = grained(lit(seen(round(x, 2), round(y, 2)), 1.0 + percent / 100.0), seed)
        told = against(grained(seen(), seed + 1), now)
        # Tiles of a picture that lies elsewhere hold a little of what was beside them.
        assert told.light_percent == pytest.approx(percent, abs=0.7)
        assert told.shift is not None
        # A small pixel is four of full HD: to a fifth of one of those.
        assert told.shift[0] * WIDE == pytest.approx(x, abs=0.05)
        assert told.shift[1] * WIDE == pytest.approx(y, abs=0.05)

    @pytest.mark.parametrize("third", [0, 1, 2])
    def test_a_side_that_is_darker_is_told_by_itself(self, third):
        factor = np.ones((HIGH, WIDE), np.float32)
        factor[:, third * 160 : (third + 1) * 160] = 0.986
        told = against(grained(seen(), 1), grained(lit(seen(), factor), 2))
        assert told.thirds_percent[third] == pytest.approx(-1.4, abs=0.25)
        others = [p for i, p in enumerate(told.thirds_percent) if i != third]
        assert others == pytest.approx([0.0, 0.0], abs=0.2)

    @given(x=st.integers(20, 400), y=st.integers(10, 190), by=st.integers(2, 12))
    @settings(max_examples=20)
    def test_what_moved_lies_where_it_moved(self, x, y, by):
        before = grained(puppet(seen(), x, y), 1)
        told = just_taken(grained(puppet(seen(), min(x + by, WIDE - 41), y), 2), before)
        assert not told.same
        largest = told.changed[0]
        assert largest.left * WIDE <= x + 60
        assert largest.right * WIDE >= x - 20
        assert largest.top * HIGH <= y + 60
        assert largest.bottom * HIGH >= y
        assert told.part < 0.1

    def test_light_and_a_knock_are_no_change_of_what_stands(self):
        now = grained(lit(seen(1.5, -0.75), 1.06), 3)
        told = just_taken(now, grained(seen(), 4))
        inner = [p for p in told.changed if p.left > 0.05 and p.right < 0.95]
        assert inner == []

    @given(seed=st.integers(0, 10_000), noise=st.floats(0.0, 0.01))
    @settings(max_examples=25)
    def test_grain_alone_is_the_same_picture(self, seed, noise):
        assert just_taken(grained(seen(), seed, noise), grained(seen(), seed + 1, noise)).same

    def test_the_first_picture_is_compared_with_nothing(self):
        told = just_taken(seen(), None)
        assert told == JustTaken()
        assert not told.same
        assert judge_just_taken(FULL, told, POSE) == []

    def test_pictures_of_two_sizes_are_refused(self):
        with pytest.raises(Impossible, match="one size"):
            just_taken(seen(), seen()[:-2])

    def test_nothing_to_hold_on_to_is_said(self):
        flat = np.full((HIGH, WIDE), 0.4, np.float32)
        told = just_taken(grained(flat, 1), grained(flat, 2), grained(flat, 3))
        assert told.before is not None
        assert told.before.shift is None
        assert "Nothing was found" in verdicts(told)["taken-stands"].sentence


class TestJudged:
    def test_an_even_step_holds(self):
        told = just_taken(grained(puppet(seen(), 104), 1), grained(puppet(seen(), 100), 2))
        found = verdicts(told)
        assert {f.verdict for f in found.values()} == {Verdict.HOLDS}
        assert "Heron" in found["taken-moved"].sentence

    @pytest.mark.parametrize(("factor", "word"), [(1.05, "brighter"), (0.95, "darker")])
    def test_a_flicker_strains_and_says_which_way(self, factor, word):
        told = just_taken(grained(lit(puppet(seen(), 104), factor), 1), grained(seen(), 2))
        light = verdicts(told)["taken-light"]
        assert light.verdict is Verdict.STRAINS
        assert word in light.sentence

    def test_light_that_crept_is_told_against_the_blocks_first(self):
        first = seen()
        before, now = lit(first, 1.095), lit(puppet(first, 100), 1.1)
        told = just_taken(grained(now, 1), grained(before, 2), grained(first, 3))
        light = verdicts(told)["taken-light"]
        assert light.verdict is Verdict.STRAINS
        assert "slowly" in light.sentence

    def test_a_lamp_that_plays_is_no_flicker(self):
        told = just_taken(grained(lit(seen(), 1.4), 1), grained(seen(), 2))
        plays = Asked(2, 2, 1, (Ask("Practical", "lamp", "to 60 %"),), lights=True)
        assert "taken-side" not in verdicts(told, plays)
        assert verdicts(told, plays)["taken-light"].verdict is Verdict.HOLDS

    def test_a_knock_is_told_in_delivered_pixels_with_its_way(self):
        told = just_taken(grained(seen(0.15), 1), grained(seen(), 2), grained(seen(), 3))
        stands = verdicts(told)["taken-stands"]
        assert stands.verdict is Verdict.STRAINS
        assert "since the one before" in stands.sentence
        assert "right" in stands.sentence
        # 0.15 small pixels are 0.6 of full HD.
        assert stands.workings[0].result.value == pytest.approx(0.6, abs=0.08)

    def test_what_was_knocked_earlier_stays_told(self):
        told = just_taken(grained(seen(-0.5), 1), grained(seen(-0.5), 2), grained(seen(), 3))
        stands = verdicts(told)["taken-stands"]
        assert "earlier" in stands.sentence
        assert "left" in stands.sentence

    def test_after_a_flash_and_a_knock_that_is_over_all_is_well(self):
        first, knocked = seen(), lit(seen(0.5), 1.06)
        told = just_taken(grained(seen(), 1), grained(knocked, 2), grained(first, 3))
        found = verdicts(told)
        assert found["taken-light"].verdict is Verdict.HOLDS
        assert found["taken-stands"].verdict is Verdict.HOLDS
        assert "taken-side" not in found

    def test_a_camera_that_moves_by_its_chart_is_not_asked_to_stand(self):
        told = just_taken(grained(seen(2.0), 1), grained(seen(), 2))
        assert set(verdicts(told, Asked(2, 2, 1, (), camera=True))) <= {
            "taken-light",
            "taken-side",
        }

    def test_a_forgotten_move_strains_only_where_one_is_asked(self):
        told = just_taken(grained(seen(), 1), grained(seen(), 2))
        assert verdicts(told)["taken-moved"].verdict is Verdict.STRAINS
        assert verdicts(told, Asked(2, 2, 1, ()))["taken-moved"].verdict is Verdict.HOLDS

    def test_a_hand_that_was_left_in_reaches_in_from_an_edge(self):
        hand = seen().copy()
        hand[100:220, :170] = 0.75
        told = just_taken(grained(hand, 1), grained(seen(), 2))
        moved = verdicts(told)["taken-moved"]
        assert moved.verdict is Verdict.STRAINS
        assert "left" in moved.sentence

    def test_a_time_lapse_may_show_whatever_passes(self):
        told = just_taken(grained(puppet(seen(), 0), 1), grained(seen(), 2))
        assert "taken-moved" not in verdicts(told, Asked(2, 2, 1, (), free=True))

    @given(
        light=st.floats(-90, 300),
        right=st.floats(-0.5, 0.5),
        part=st.floats(0, 1),
        wide=st.floats(100, 8000),
    )
    @settings(max_examples=60)
    def test_whatever_is_measured_every_sentence_can_be_said(self, light, right, part, wide):
        step = Against(light, (light, None, light / 2), (right, -right))
        place = Place(0.0, 0.2, part, 0.9, part)
        for told in (
            JustTaken(step, None, (place,), part),
            JustTaken(None, step),
            JustTaken(step, step, (), 0.0),
            JustTaken(Against(None, (None, None, None), None), None, (place,), part),
        ):
            for finding in judge_just_taken(wide, told, POSE):
                assert finding.sentence[0].isupper() or finding.sentence[0].isdigit()
                assert "nan" not in finding.sentence
                for working in finding.workings:
                    assert math.isfinite(working.result.value)

    def test_a_recording_that_sees_more_than_is_delivered_counts_more_pixels(self):
        whole = shot()
        assert delivered_across(whole, MILL) >= whole.delivery.width_px


class TestAsked:
    def told(self, *columns: Column, number: int, lapse: Lapse | None = None) -> Asked:
        sheet = Sheet(columns, lapse=lapse)
        whole = shot()
        return Asking(whole, sheet, sheet_report(whole, MILL, sheet)).of(number)

    def test_poses_moves_and_holds_by_picture(self):
        part = Column("part-1", "Heron", "part", (Mark(1, "folded"), Mark(5, every=2)))
        piece = Column("piece-1", "Eyes", "piece", (Mark(1, "open"), Mark(7, "shut")))
        first = self.told(part, piece, number=1)
        assert (first.frame, first.held) == (1, 4)
        assert [a.words for a in first.asks] == ["folded", "open"]
        third = self.told(part, piece, number=3)
        assert (third.frame, third.held) == (7, 2)
        assert {(a.column, a.words) for a in third.asks} == {
            ("Heron", "a new pose"),
            ("Eyes", "shut"),
        }
        assert third.moving == "Heron and Eyes"

    def test_a_charted_move_is_told_since_the_picture_before(self):
        # On twos, a move of a millimetre a frame goes two before each picture.
        part = Column("part-1", "Heron", "part", (Mark(1, every=2),))
        axis = Column("axis-1", "Layer", "axis", axis="layer", legs=(Leg(2, 40, 40.0, "even"),))
        told = self.told(part, axis, number=5)
        assert told.frame == 5
        ways = {a.column: a.words for a in told.asks}
        assert ways["Layer"] == "1.00 mm on"
        assert not told.camera

    def test_beyond_its_last_picture_a_sheet_asks_nothing(self):
        part = Column("part-1", "Heron", "part", (Mark(1),))
        told = self.told(part, number=2)
        assert (told.frame, told.asks, told.moving) == (None, (), "")

    @pytest.mark.parametrize(("hold", "second"), [(1, 2), (2, 3), (4, 5)])
    def test_with_nothing_on_the_sheet_pictures_are_held_as_usual(self, hold, second):
        whole, sheet = shot(), Sheet((Column("words-1", "Sound", "words", (Mark(9, "wind"),)),))
        report = sheet_report(whole, MILL, sheet)
        taken = frames_taken(report, hold)
        assert taken[:2] == (1, second)
        told = Asking(whole, sheet, report, taken).of(2)
        assert (told.frame, told.held, told.moving) == (second, hold, "")
        begun = Sheet((Column("part-1", "Heron", "part", (Mark(1, every=3),)),))
        report = sheet_report(whole, MILL, begun)
        assert frames_taken(report, hold) == report.taken

    def test_a_camera_that_is_moved_says_so(self):
        push = Column("axis-1", "Slider", "axis", axis="push", legs=(Leg(2, 10, 50.0),))
        assert self.told(push, number=1).camera
        whole, sheet = shot(move=Move(pan_deg=5.0)), Sheet()
        assert Asking(whole, sheet, sheet_report(whole, ANSA, sheet)).of(1).camera
        walk = self.told(number=1, lapse=Lapse(path_right_m=3.0))
        assert (walk.camera, walk.free) == (True, True)
        assert not self.told(number=1, lapse=Lapse()).camera
        # The sheet alone, whatever the story's camera does.
        for sheet, moves in (
            (Sheet((push,)), True),
            (Sheet((replace(push, legs=(Leg(2, 10, 0.0),)),)), False),
            (Sheet((replace(push, axis="layer"),)), False),
            (Sheet(lapse=Lapse(path_ahead_m=1.0)), True),
            (Sheet(lapse=Lapse()), False),
        ):
            assert carried(shot(), MILL, sheet) is moves


def times(*seconds: float, day: int = 1) -> list[datetime.datetime]:
    begun = datetime.datetime(2026, 10, day, 9, 0, tzinfo=datetime.UTC)
    return [begun + datetime.timedelta(seconds=s) for s in seconds]


class TestSittings:
    def test_a_minute_a_picture_is_sixty_an_hour(self):
        found = sittings(times(*range(0, 3600, 60)))
        assert found == [Sitting(datetime.date(2026, 10, 1), 1, 60, pytest.approx(1.0))]

    def test_lunch_is_no_work(self):
        found = sittings(times(0, 60, 120, 120 + 3 * AWAY_S, 180 + 3 * AWAY_S))
        assert [s.hours for s in found] == [pytest.approx(5 / 60)]

    def test_a_picture_taken_again_on_another_day_parts_the_first_day(self):
        when = times(0, 60, 120, 180)
        when[1] = times(0, day=2)[0]
        found = sittings(when)
        assert [(s.day.day, s.first, s.last) for s in found] == [(1, 1, 1), (1, 3, 4), (2, 2, 2)]

    @given(gaps=st.lists(st.floats(1, 5000), max_size=40))
    @settings(max_examples=50)
    def test_all_pictures_are_in_one_sitting_each_and_take_time(self, gaps):
        when = times(*np.cumsum([0.0, *gaps]))
        found = sittings(when)
        inside = sorted(n for s in found for n in range(s.first, s.last + 1))
        assert inside == list(range(1, len(when) + 1))
        assert all(s.hours > 0.0 for s in found)
        for a, b in pairwise(sorted(found, key=lambda s: s.first)):
            assert b.first == a.last + 1

    def test_no_picture_is_no_day(self):
        assert sittings([]) == []

    def test_pictures_become_frames_by_the_sheet(self):
        sat = [Sitting(datetime.date(2026, 10, 1), 1, 3, 1.0)]
        (day,) = worked_by(sat, taken=(1, 5, 9, 13), frames=16)
        assert (day.first, day.last, day.hours) == (1, 12, 1.0)
        far = progress([day], 16, 24.0, (1, 5, 9, 13))
        assert (far.made, far.pictures_left, far.pictures_per_h) == (12, 1, 3.0)

    def test_pictures_beyond_the_sheet_are_none_of_its_work(self):
        sat = [
            Sitting(datetime.date(2026, 10, 1), 3, 6, 2.0),
            Sitting(datetime.date(2026, 10, 2), 7, 8, 1.0),
        ]
        (day,) = worked_by(sat, taken=(1, 5, 9, 13), frames=16)
        assert (day.first, day.last, day.hours) == (9, 16, 1.0)

    def test_a_usual_day_is_two_to_three_seconds_of_film_an_hour(self):
        """Common practice: 2 to 3 s of film an hour at 24 a second, on ones."""
        each = 3600.0 / (2.5 * 24.0)
        found = sittings(times(*(each * n for n in range(120))))
        assert sum(s.hours for s in found) == pytest.approx(5.0 / 2.5)


def test_the_picture_is_compared_in_small(tmp_path):
    """What is measured is told in parts of the picture: a larger copy says the same."""
    large = [cv2.resize(x, (960, 540), interpolation=cv2.INTER_CUBIC) for x in (seen(), seen(1.0))]
    told = against(*(grained(x, n) for n, x in enumerate(large)))
    assert told.shift is not None
    assert told.shift[0] * WIDE == pytest.approx(1.0, abs=0.06)


class TestPosed:
    def test_a_figure_before_a_plain_wall_that_steps_aside_knocks_no_camera(self):
        plain = np.full((HIGH, WIDE), 0.4, np.float32)
        pair = [grained(puppet(plain, x), x) for x in (200, 204)]
        told = against(pair[0], pair[1], moving=[(0.35, 0.3, 0.6, 0.8)])
        assert told.shift is None

    @given(x=st.floats(-2, 2), left=st.floats(0.0, 0.6), top=st.floats(0.0, 0.5))
    @settings(max_examples=15)
    def test_the_rest_of_the_set_still_tells(self, x, left, top):
        """Whatever is posed where it may be, the set beside it says how far the camera went."""
        before = puppet(seen(), int(left * WIDE) + 30, int(top * HIGH) + 30)
        now = puppet(seen(round(x, 2)), int(left * WIDE) + 50, int(top * HIGH) + 40)
        box = (left, top, left + 0.3, top + 0.5)
        told = against(grained(before, 1), grained(now, 2), moving=[box])
        assert told.shift is not None
        assert told.shift[0] * WIDE == pytest.approx(x, abs=0.06)

    def test_boxes_hold_what_is_posed_and_nothing_else(self):
        """Checked against the camera: the corners of the house lie in its box, larger by a part."""
        whole = shot()
        column = Column("part-1", "Mill", "part", (Mark(1, every=1),), thing_id="house")
        (box,) = boxes_of(whole, MILL, [column], [], 1)
        camera = whole.world.camera(whole.delivery)
        house = next(s for s in whole.stand_ins if s.id == "house")
        wide, high = whole.delivery.width_px, whole.delivery.height_px
        at = camera.project(measured_points(house).points, wide, high) / (wide, high)
        left, top = at.min(axis=0)
        right, bottom = at.max(axis=0)
        assert box[0] == pytest.approx(left - 0.15 * (right - left), abs=1e-6)
        assert box[3] == pytest.approx(bottom + 0.15 * (bottom - top), abs=1e-6)

    def test_a_column_that_names_nothing_may_pose_anything_but_the_ground(self):
        column = Column("part-1", "Anything", "part", (Mark(1, every=1),))
        assert len(boxes_of(shot(), MILL, [column], [], 1)) == 2
        words = Column("words-1", "Sound", "words", (Mark(1, "wind"),))
        assert boxes_of(shot(), MILL, [words], [], 1) == []

    def test_what_lies_outside_the_picture_takes_nothing_from_it(self):
        told = against(grained(seen(), 1), grained(seen(1.0), 2), moving=[(-3.0, -1.0, -0.5, 0.4)])
        assert told.shift is not None
