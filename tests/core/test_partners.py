"""Takes against the takes they must join."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace

import cv2
import ephem
import numpy as np
import pytest

from jungoptic.core.cards.partners import FilmedTake, judge_partner
from jungoptic.core.cards.takes import Taken, judge_take, planned_numbers
from jungoptic.core.plan.findings import Verdict

from .examples import MILL
from .twins import case_of, changed, twins

SHOT = twins()
LEFT_PLAN = planned_numbers(case_of(SHOT, "left"))


def take(plate="left", at=None, found=SHOT, **readings):
    """A take of one half."""
    own = next(p for p in found.plates if p.id == plate)
    return FilmedTake(f"{own.name}, take 1", found, own, Taken(**readings), at)


def value(finding, formula):
    return next(w for w in finding.workings if formula in w.formula).result.value


class TestCamera:
    def test_as_planned_they_join(self):
        found = judge_partner(take(), take("right"))
        assert found.verdict is Verdict.HOLDS
        assert found.title == "Beside Half B, take 1"

    def test_moved_alike_they_join_though_neither_is_as_planned(self):
        high = LEFT_PLAN.axis_height_m + 0.05
        mine, theirs = take(axis_height_m=high), take("right", axis_height_m=high)
        assert judge_partner(mine, theirs).verdict is Verdict.HOLDS
        alone = {f.key: f for f in judge_take(SHOT, mine.plate, mine.taken).findings}
        assert alone["mismatch"].verdict is not Verdict.HOLDS

    @pytest.mark.parametrize("tilt", [0.05, 0.3, 2.0])
    def test_a_tilt_between_them_moves_all_of_the_picture(self, tilt):
        # A turn t moves the middle of the picture by f tan t, more towards its edges.
        mine, theirs = take(tilt_deg=LEFT_PLAN.tilt_deg + tilt), take("right")
        found = judge_partner(mine, theirs)
        camera = case_of(SHOT, "left").stage.camera
        middle = camera.focal_px(1920) * math.tan(math.radians(tilt))
        apart = value(found, "this take")
        assert middle * 0.9 < apart < middle * 1.6
        # Halves that meet at a hard line: a pixel at 1920 wide.
        assert (found.verdict is Verdict.HOLDS) == (apart <= 1.0)

    def test_it_is_what_opencv_projects_through_both(self):
        mine, theirs = take(tilt_deg=LEFT_PLAN.tilt_deg + 1.0), take("right")
        case = case_of(SHOT, "left")
        points = case.compared.points
        pixels = []
        for tilt in (1.0, 0.0):
            camera = replace(case.stage.camera, tilt_deg=case.stage.camera.tilt_deg + tilt)
            # The sensor mark stays where it was: the pupil before it swings.
            reach = case.stage.sensor_to_pupil_m
            swing = reach * (
                math.sin(math.radians(camera.tilt_deg))
                - math.sin(math.radians(case.stage.camera.tilt_deg))
            )
            at = np.array(camera.position_m) + np.array([0.0, 0.0, swing])
            f = np.array(
                [
                    [camera.focal_px(1920), 0.0, 960.0],
                    [0.0, camera.focal_mm / camera.sensor_height_mm * 804, 402.0],
                    [0.0, 0.0, 1.0],
                ]
            )
            turn, _ = cv2.Rodrigues(camera.axes)
            moved = camera.axes @ -at
            found, _ = cv2.projectPoints(points, turn, moved, f, None)
            pixels.append(found[:, 0])
        apart = np.hypot(*(pixels[0] - pixels[1]).T).max()
        assert value(judge_partner(mine, theirs), "this take") == pytest.approx(apart, rel=0.02)


class TestLight:
    def test_a_third_of_a_stop_shows_along_a_line_and_not_beside_a_clean_plate(self):
        dark = {"f_number": LEFT_PLAN.f_number * 2.0 ** (0.3 / 2.0)}
        half = judge_partner(take(**dark), take("right"))
        assert half.verdict is Verdict.STRAINS
        assert "0.3 stops darker than the other" in half.sentence
        clean = judge_partner(take(**dark), take("clean"))
        assert "darker" not in clean.sentence

    def test_rates_count_between_what_moves(self):
        fast = {"capture_fps": LEFT_PLAN.capture_fps * 1.1}
        assert judge_partner(take(**fast), take("right")).verdict is Verdict.BREAKS
        assert judge_partner(take(**fast), take("clean")).verdict is Verdict.HOLDS

    def test_focus_apart_is_said(self):
        near = {"focus_tape_m": LEFT_PLAN.focus_tape_m * 0.8}
        found = judge_partner(take(**near), take("right"))
        assert found.verdict is Verdict.STRAINS
        assert "focus at" in found.sentence


class TestSun:
    NOON = datetime.datetime(2026, 6, 21, 12, 0, tzinfo=datetime.UTC).timestamp()

    @pytest.mark.parametrize("minutes", [2, 15, 90])
    def test_it_has_turned_as_far_as_ephem_says(self, minutes):
        yard = SHOT
        for plate in ("left", "right"):
            yard = changed(yard, plate, room_id="yard")
        later = self.NOON + minutes * 60.0
        found = judge_partner(take(at=later, found=yard), take("right", self.NOON, yard))
        place = ephem.Observer()
        place.lat, place.lon, place.elevation, place.pressure = "52.6", "1.7", 0, 1010
        stood = []
        for at in (self.NOON, later):
            place.date = ephem.Date(datetime.datetime.fromtimestamp(at, datetime.UTC))
            sun = ephem.Sun(place)
            stood.append((sun.az, sun.alt))
        turned = math.degrees(ephem.separation(*stood))
        working = next(w for w in found.workings if "turn" in w.formula)
        assert working.inputs[0].value == pytest.approx(turned, abs=0.05)
        assert found.verdict is (
            Verdict.HOLDS if turned < 2.0 else Verdict.STRAINS if turned < 5.0 else Verdict.BREAKS
        )

    def test_indoors_the_clock_does_not_matter(self):
        found = judge_partner(take(at=self.NOON), take("right", self.NOON + 9_000.0))
        assert found.verdict is Verdict.HOLDS


def test_takes_that_need_not_join_are_not_compared():
    other = replace(MILL, id="mill")
    assert judge_partner(take(), FilmedTake("Mill", SHOT, other, Taken())) is None
    freed = changed(SHOT, "clean", lock_group="")
    assert judge_partner(take(found=freed), take("clean", found=freed)) is None


def test_a_take_that_does_not_join_is_to_be_gone_again():
    mine = take(tilt_deg=LEFT_PLAN.tilt_deg + 2.0)
    found = judge_partner(mine, take("right"))
    report = judge_take(SHOT, mine.plate, mine.taken, [found])
    assert report.verdict is Verdict.BREAKS
    assert "the join with Half B, take 1" in report.advice
