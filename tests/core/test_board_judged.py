"""A board that a camera saw, against the plan of its plate."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings

from jungoptic.core.board.seen import Found, Seen, Stood
from jungoptic.core.cards.takes import Taken, judge_take, planned_numbers
from jungoptic.core.filmed.board import (
    Held,
    focal_gone_by,
    judge_board,
    judge_taped,
    readings_by_board,
    stood_by,
    way_of,
)
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import seen_from_own
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.tape import mark_of
from jungoptic.devices.held_up import before

from .any_shot import any_shots
from .examples import ANSA, MILL, shot

FOUND = Found(7, "A4", tuple(range(12)), ((0.0, 0.0),) * 12, ((0.0, 0.0),) * 4, 1920, 1080, 1.2)


def held(case: Case, ruler_mm: float = 100.0, number: int | None = 7, **moved: float) -> Held:
    """What a board tells of the plate's own camera, moved, without an error: it stood."""
    one = before(case, **moved)
    x, y, z = one.position_m
    stood = Stood(
        z, math.hypot(x, y), one.tilt_deg, one.roll_deg, x, 0.002, 0.003, 0.08, 0.05
    ).printed(10_000.0 / ruler_mm)
    seen = Seen(3, replace(FOUND, number=number), None, stood, 0.08, one.focal_mm, "plan")
    return Held(seen, ruler_mm=ruler_mm)


def case_of(plate: Any = MILL) -> Case:
    found = Case.of(shot(), plate)
    assert found is not None
    return found


@settings(max_examples=120, deadline=None)
@given(any_shots())
def test_a_camera_as_planned_reads_as_planned(any_shot) -> None:
    """Whatever the plan: height, distance and tilt by the board are those that a tape reads."""
    for plate in any_shot.plates:
        whole = seen_from_own(any_shot, plate)
        try:
            case = Case.of(whole, plate)
        except Impossible:
            continue
        if case is None or mark_of(case) is None:
            continue
        told = readings_by_board(whole, plate, held(case))
        plan = planned_numbers(case)
        assert told["axis_height_m"] == pytest.approx(plan.axis_height_m, abs=1e-6)
        assert told["tilt_deg"] == pytest.approx(plan.tilt_deg, abs=1e-6)
        if "distance_m" in told and mark_ahead(case):
            assert told["distance_m"] == pytest.approx(plan.distance_m, rel=1e-6, abs=1e-6)
        # A board found says something, whatever the plan.
        assert judge_board(whole, plate, held(case))


def mark_ahead(case: Case) -> bool:
    """A mark behind the camera is at no distance ahead of it."""
    mark = mark_of(case)
    assert mark is not None
    return mark.y_m / case.plate.scale > case.stage.camera.position_m[1]


def test_a_camera_that_stood_too_high_and_too_near() -> None:
    case = case_of(ANSA)
    told = readings_by_board(shot(), ANSA, held(case, up=0.03, back=-0.2, tilted=-0.5))
    plan = planned_numbers(case)
    assert told["axis_height_m"] == pytest.approx(plan.axis_height_m + 0.03, abs=1e-3)
    assert plan.distance_m is not None
    assert told["distance_m"] == pytest.approx(plan.distance_m - 0.2, abs=1e-3)
    assert told["tilt_deg"] == pytest.approx(plan.tilt_deg - 0.5)
    report = judge_take(shot(), ANSA, Taken(**told))
    assert {d.name for d in report.departures} >= {"Lens axis height", "Distance to the mark"}


def test_what_a_board_cannot_tell_is_left_to_the_tape() -> None:
    """Seen squarely, height and tilt go together: neither is filled in, and both are said."""
    sure = held(case_of(ANSA))
    one = sure.seen.standing
    assert one is not None
    unsure = replace(sure, seen=replace(sure.seen, standing=replace(one, tilt_off=1.1)))
    assert set(readings_by_board(shot(), ANSA, unsure)) == {"distance_m"}
    told = {f.key: f.sentence for f in judge_board(shot(), ANSA, unsure)}["board-stood"]
    assert "both are left to the tape" in told
    told = {f.key: f.sentence for f in judge_board(shot(), ANSA, sure)}["board-stood"]
    assert "left to the tape" not in told


def test_the_printer_s_size_counts() -> None:
    case = case_of()
    for ruler in (94.0, 100.0, 103.0):
        one = stood_by(case, held(case, ruler_mm=ruler))
        assert one is not None
        assert one.height_m == pytest.approx(before(case).position_m[2])
        assert one.distance_off == pytest.approx(0.003)


def test_a_leaning_camera() -> None:
    case = case_of()
    level = {f.key: f for f in judge_board(shot(), MILL, held(case))}
    assert level["board-roll"].verdict is Verdict.HOLDS
    (roll,) = (f for f in judge_board(shot(), MILL, held(case, rolled=2.0)) if "roll" in f.key)
    assert roll.verdict is Verdict.STRAINS
    assert "2.0° to the right" in roll.sentence
    # Trigonometry, by hand: 1 / (cos 2° + 24.9 / 10.43 · sin 2°) of a picture 1920 x 804 wide.
    camera = case.stage.camera
    shape = camera.sensor_width_mm / camera.sensor_height_mm
    left = 1 / (math.cos(math.radians(2)) + shape * math.sin(math.radians(2)))
    assert f"{100 * left:.0f} %" in roll.sentence


def test_how_the_board_was_can_be_said() -> None:
    case = case_of()
    one = held(case)
    assert way_of(case, one) == "standing"
    assert way_of(case, replace(one, way="lying")) == "lying"
    # If it had lain, no camera would have seen it so: nothing is told.
    assert stood_by(case, replace(one, way="lying")) is None
    assert readings_by_board(shot(), MILL, replace(one, way="lying")) == {}
    assert judge_board(shot(), MILL, replace(one, way="lying")) == []


def test_the_board_of_another_card() -> None:
    case = case_of()
    other = replace(held(case), elsewhere="4A-2")
    (finding,) = judge_board(shot(), MILL, other)
    assert finding.verdict is Verdict.BREAKS
    assert "4A-2" in finding.sentence
    assert readings_by_board(shot(), MILL, other) == {}


def test_a_small_board_is_rough() -> None:
    one = held(case_of())
    small = replace(one, seen=replace(one.seen, found=replace(FOUND, px_per_mm=0.4)))
    found = {f.key: f for f in judge_board(shot(), MILL, small)}
    assert found["board-stood"].verdict is Verdict.STRAINS
    assert "A3" in found["board-stood"].sentence


@pytest.mark.parametrize(
    ("planned", "file", "measured", "told"),
    [
        (35.0, None, None, (35.0, "plan")),
        (35.0, 40.0, (35.0, 0.1), (40.0, "file")),
        (35.0, None, (35.2, 0.5), (35.0, "plan")),
        (35.0, None, (38.0, 0.5), (38.0, "board")),
        (None, None, (38.0, 0.5), (38.0, "board")),
        (None, None, None, None),
    ],
)
def test_which_focal_length_is_gone_by(planned, file, measured, told) -> None:
    assert focal_gone_by(planned, file, measured) == told


def test_a_lens_set_otherwise_is_a_reading() -> None:
    case = case_of()
    one = held(case)
    zoomed = replace(one, seen=replace(one.seen, focal_mm=33.0, focal_told="board"))
    told = readings_by_board(shot(), MILL, zoomed)
    assert told["focal_mm"] == pytest.approx(33.0 * case.stage.focal_mm / case.stage.pinhole_mm)


def test_what_was_taped_against_the_board() -> None:
    told = {"axis_height_m": 1.2, "distance_m": 2.0, "tilt_deg": -5.0}
    assert judge_taped({"axis_height_m": 1.205, "distance_m": 2.01}, told) == []
    assert judge_taped({"axis_height_m": None}, told) == []
    height, tilt = judge_taped({"axis_height_m": 1.3, "tilt_deg": -4.0}, told)
    assert "1.300 m was read off, the board says 1.200 m" in height.sentence
    assert tilt.key == "board-typed-tilt_deg"


def test_a_plate_without_a_lens() -> None:
    bare = replace(MILL, lens_id=None)
    assert Case.of(shot(), bare) is None
    assert judge_board(shot(), bare, held(case_of())) == []
    assert readings_by_board(shot(), bare, held(case_of())) == {}
