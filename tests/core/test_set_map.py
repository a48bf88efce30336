"""Set maps: tapes that find every piece again, and what an arm reaches from round a set."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.drawings.set_map import set_drawing
from jungoptic.core.frames.laid_out import TAPE_M, StandingPiece, edges_of, laid_out, place_error_m
from jungoptic.core.frames.reached import MOST_POSES, SQUARES, TESTS, Fineness
from jungoptic.core.frames.reaching import (
    CAMERA_CLEAR_M,
    PERSON_M,
    USUAL_REACH_M,
    arms_m,
    can_open,
    open_sides,
    places_to_stand,
    shoulder_m,
)
from jungoptic.core.frames.set_report import SetReport, set_report
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.people import Person
from jungoptic.core.plan.plate import PlacedLamp, Plate
from jungoptic.core.plan.set_map import SetMap, SetPiece
from jungoptic.core.plan.sheet import Column, Mark, Sheet
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.marks import fixed_points, place_from_tapes

from .examples import MILL
from .stages import FULL, case_of, one

#: A table 0.9 m high, its tapes from two corners far apart.
PUPPET = replace(
    MILL,
    kind="puppet",
    scale=1.0,
    table_m=0.9,
    fix_left_x_m=-1.5,
    fix_left_y_m=0.0,
    fix_right_x_m=1.5,
    fix_right_y_m=0.0,
)
TABLE = SetMap(left_m=-1.0, right_m=1.0, near_m=1.0, far_m=2.2)
HERON = StandIn("heron", "Heron", "figure", 0.0, 1.6, 0.0, 0.2, 0.3, plate_id="mill")


def stage(heron: StandIn = HERON, *more: StandIn, plate: Plate = PUPPET, **changes: object) -> Case:
    return case_of(one(plate, stand_ins=(heron, *more), **changes))


def told(case: Case, set_map: SetMap = TABLE, *columns: Column) -> SetReport:
    return set_report(case, Sheet(columns, set_map=set_map))


def finding(report: SetReport, key: str) -> Finding:
    return next(f for f in report.findings if f.key == key)


def piece(**values: object) -> SetPiece:
    return SetPiece(**{"key": "quay", "name": "Quay", **values})  # type: ignore[arg-type]


def block(**values: object) -> StandingPiece:
    own = {"width_m": 0.4, "depth_m": 0.2, "height_m": 0.5, "turn_deg": 0.0, "foot_m": 0.0}
    return StandingPiece("b", "Block", None, **{"x_m": 0.0, "y_m": 1.2, **own, **values})  # type: ignore[arg-type]


class TestTapes:
    @given(st.floats(-3, 3), st.floats(0.5, 6))
    def test_two_tapes_find_the_place_again(self, x, y):
        case = stage()
        row = next(
            r for r in told(case, SetMap(pieces=(piece(x_m=x, y_m=y),))).rows if r.key == "quay"
        )
        left, right = ((p.x_m, p.y_m) for p in fixed_points(case))
        again = place_from_tapes(left, right, row.from_left_m, row.from_right_m)
        assert again == pytest.approx((x, y), abs=1e-6)

    @pytest.mark.parametrize(("x", "y"), [(0.0, 1.5), (0.8, 0.9), (-2.0, 3.0), (0.3, 3.5)])
    def test_how_far_off_a_place_comes_out_is_what_chance_makes_of_it(self, x, y):
        """Both tapes off by chance, 5 mm each way, twenty thousand times."""
        case = stage()
        left, right = (np.array([p.x_m, p.y_m]) for p in fixed_points(case))
        off = np.random.default_rng(3).normal(0.0, TAPE_M, (20_000, 2))
        a = math.dist(left, (x, y)) + off[:, 0]
        b = math.dist(right, (x, y)) + off[:, 1]
        base = math.dist(left, right)
        along = (a**2 - b**2 + base**2) / (2 * base)
        up = np.sqrt(a**2 - along**2)
        # Both ends lie at the same distance ahead here.
        away = np.hypot(left[0] + along - x, left[1] + up - y)
        assert place_error_m(case, x, y) == pytest.approx(np.sqrt((away**2).mean()), rel=0.03)

    def test_a_place_between_both_ends_is_not_found_by_them(self):
        assert place_error_m(stage(), 0.0, 0.02) is None
        assert place_error_m(stage(), -1.5, 0.0) is None
        report = told(stage(), SetMap(pieces=(piece(x_m=0.0, y_m=0.05),)))
        assert finding(report, "set-tapes").verdict is Verdict.STRAINS
        assert {r.name for r in report.rows if r.error_m is None} >= {"Quay"}
        # Ends well behind the lens find camera and pieces alike.
        far = replace(PUPPET, fix_left_y_m=-1.5, fix_right_y_m=-1.5)
        report = told(stage(plate=far), SetMap(pieces=(piece(x_m=0.0, y_m=1.0),)))
        assert finding(report, "set-tapes").verdict is Verdict.HOLDS

    def test_camera_and_lamps_are_on_the_map(self):
        lamp = PlacedLamp("panel", 0.7, 0.4, 1.3, level=0.4, key="k")
        case = stage(plate=replace(PUPPET, lamps=(lamp,)))
        rows = {r.key: r for r in told(case).rows}
        assert set(rows) == {"camera", "k", "heron"}
        assert rows["camera"].y_m < 0.0  # the sensor mark lies behind the entrance pupil
        assert rows["camera"].foot_m == case.stage.camera.position_m[2]
        assert "40 %" in rows["k"].words
        assert rows["k"].from_right_m == pytest.approx(math.dist((1.5, 0.0), (0.7, 0.4)))

    def test_tapes_that_begin_beside_the_camera_are_not_to_find_it(self):
        beside = replace(
            PUPPET, fix_left_x_m=None, fix_left_y_m=None, fix_right_x_m=None, fix_right_y_m=None
        )
        report = told(stage(plate=beside))
        camera = next(r for r in report.rows if r.kind == "camera")
        assert camera.error_m is None
        assert "begin beside it" in camera.words
        assert finding(report, "set-tapes").verdict is Verdict.HOLDS
        empty = told(stage(replace(HERON, plate_id=None), plate=beside))
        assert "set-tapes" not in {f.key for f in empty.findings}
        # Ends that stay are to find it too.
        level = replace(PUPPET, fix_left_y_m=-0.1, fix_right_y_m=-0.1)
        told_of = finding(told(stage(plate=level)), "set-tapes")
        assert told_of.verdict is Verdict.STRAINS
        assert "Camera" in told_of.sentence

    def test_ends_that_go_with_the_camera_are_told(self):
        bare = replace(PUPPET, fix_left_x_m=None, fix_left_y_m=None)
        with_piece = SetMap(pieces=(piece(),))
        keys = {f.key for f in told(stage(plate=bare), with_piece).findings}
        assert "set-fixed" in keys
        assert "set-fixed" not in {f.key for f in told(stage(), with_piece).findings}


class TestPieces:
    def test_a_piece_of_the_story_stands_where_the_story_has_it(self):
        house = StandIn("house", "House", "box", 2.4, 18.0, 0, 6, 4.8, 3.6, 10, "mill")
        case = stage(HERON, house, plate=replace(PUPPET, scale=12.0))
        own = laid_out(case, (piece(thing_id="house", x_m=9.0, opens="rolls"),))
        assert len(own) == 1
        assert (own[0].x_m, own[0].y_m, own[0].width_m) == pytest.approx((0.2, 1.5, 0.5))
        assert own[0].opens == "rolls"
        # A thing that is no piece stands there all the same; one that is gone leaves its piece.
        assert [p.key for p in laid_out(case, ())] == [""]
        assert laid_out(case, (piece(thing_id="gone", x_m=0.3),))[0].x_m == 0.3

    def test_edges_are_as_told_and_else_hold_what_stands_there(self):
        case = stage()
        told_edges = edges_of(case, TABLE, ())
        assert (told_edges.left_m, told_edges.far_m) == (-1.0, 2.2)
        laid = laid_out(case, (piece(x_m=1.0, y_m=3.0, width_m=0.4, depth_m=0.3),))
        usual = edges_of(case, SetMap(), laid)
        assert usual.right_m == pytest.approx(1.25)
        assert usual.far_m == pytest.approx(3.35)
        assert usual.inside_m(*laid[0].corners[2]) == pytest.approx(0.05)
        # One edge told inside of the usual other one still leaves a set.
        assert edges_of(case, SetMap(left_m=5.0), laid).right_m > 5.0

    def test_an_empty_set_has_edges_too(self):
        case = case_of(one(PUPPET, stand_ins=()))
        edges = edges_of(case, SetMap(), ())
        assert edges.right_m > edges.left_m
        assert told(case, SetMap()).reached == ()

    def test_a_piece_over_the_edge_is_told(self):
        report = told(stage(), replace(TABLE, pieces=(piece(x_m=0.95, y_m=1.2, width_m=0.3),)))
        assert "100 mm over the edge" in finding(report, "set-edge").sentence


class TestReach:
    @given(st.floats(-0.9, 0.9), st.floats(1.05, 2.15))
    def test_nothing_in_the_way_it_is_the_nearest_edge(self, x, y):
        case = stage()
        edges = edges_of(case, TABLE, ())
        places = places_to_stand(case, edges, ("left", "right", "far"))
        found = arms_m(places, np.array([[x, y, 0.1]]), 0.5, ())[0]
        assert found == pytest.approx(min(x + 1.0, 1.0 - x, 2.2 - y), abs=0.002)

    @given(
        st.floats(-0.9, 0.9),
        st.floats(1.05, 2.15),
        st.floats(0, 360),
        st.floats(0.05, 0.7),
        st.floats(0.0, 0.3),
    )
    def test_an_arm_past_a_block_is_as_walked_along_it(self, x, y, turn, high, foot):
        """Against a walk along the arm, step by step."""
        wall = block(turn_deg=turn, height_m=high, foot_m=foot, x_m=0.1, y_m=1.4)
        place, target, shoulder = np.array([-1.0, 1.3]), np.array([x, y, 0.1]), 0.45
        free = np.isfinite(arms_m(place[None], target[None], shoulder, (wall,))[0])
        part = np.linspace(0.0, 1.0, 4001)[:, None]
        walk = np.append(place, shoulder) + part * (target - np.append(place, shoulder))
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        dx, dy = walk[:, 0] - 0.1, walk[:, 1] - 1.4
        right, ahead = dx * c - dy * s, dx * s + dy * c

        def hit(more: float) -> bool:
            return bool(
                (
                    (np.abs(right) < 0.2 + more)
                    & (ahead > -more)
                    & (ahead < 0.2 + more)
                    & (walk[:, 2] < foot + high + more)
                    & (walk[:, 2] > foot - more)
                ).any()
            )

        # Where it grazes a side by less than a step of the walk, either may be said.
        assert free == (not hit(0.0)) or hit(0.002) != hit(-0.002)

    def test_what_stands_between_sends_round_it(self):
        low, high = block(height_m=0.05, width_m=2.0), block(height_m=0.9, width_m=2.0)
        case = stage()
        places = places_to_stand(case, edges_of(case, TABLE, ()), ("near",))
        at = np.array([[0.6, 1.5, 0.1]])
        assert arms_m(places, at, 0.5, (low,))[0] == pytest.approx(0.5, abs=0.01)
        assert np.isinf(arms_m(places, at, 0.5, (high,))[0])
        assert np.isinf(arms_m(np.empty((0, 2)), at, 0.5, ())[0])
        # A thing is not in its own way.
        own = replace(high, thing_id="heron")
        assert np.isfinite(arms_m(places, at, 0.5, (own,), "heron")[0])

    def test_nobody_stands_where_camera_or_lamp_stand(self):
        lamp = PlacedLamp("panel", 1.0, 1.6, 1.3)
        case = stage(plate=replace(PUPPET, lamps=(lamp,), setback_m=0.0))
        near = SetMap(left_m=-1.0, right_m=1.0, near_m=0.1, far_m=2.2)
        places = places_to_stand(case, edges_of(case, near, ()), near.sides)
        camera = np.asarray(case.stage.camera.position_m)[:2]
        assert np.hypot(*(places - camera).T).min() >= CAMERA_CLEAR_M
        assert np.hypot(*(places - (1.0, 1.6)).T).min() >= 0.3

    def test_a_wall_close_by_leaves_no_side(self):
        case = stage(plate=replace(PUPPET, room_id="garage", room_left_m=1.0 + PERSON_M / 2))
        edges = edges_of(case, TABLE, ())
        assert "left" not in open_sides(case, edges, TABLE.sides)
        assert "right" in open_sides(case, edges, TABLE.sides)
        assert open_sides(stage(), edges, TABLE.sides) == TABLE.sides

    def test_shoulders_stand_at_a_table_and_kneel_at_a_floor(self):
        """Drillis and Contini 1966, from memory: of 1.75 m, shoulder at 1.432 m, knee 0.499 m."""
        assert shoulder_m(PUPPET, 1.75) == pytest.approx(1.432 - 0.9, abs=0.001)
        assert shoulder_m(replace(PUPPET, table_m=None), 1.75) == pytest.approx(0.933, abs=0.001)

    @pytest.mark.parametrize(
        ("deep", "verdict"),
        [(0.64, Verdict.HOLDS), (0.70, Verdict.STRAINS), (0.80, Verdict.BREAKS)],
    )
    def test_an_arm_reaches_as_far_in_as_is_usual(self, deep, verdict):
        """Common practice: 0.6 to 0.7 m in from the edge."""
        assert 0.6 <= USUAL_REACH_M <= 0.7
        wide = replace(TABLE, left_m=-3.0, right_m=3.0, far_m=4.0)
        case = stage(replace(HERON, y_m=4.0 - deep))
        report = told(case, replace(wide, sides=("far",)))
        assert finding(report, "set-reach").verdict is verdict
        assert report.reached[0].away_m == pytest.approx(deep, abs=0.01)

    def test_longer_arms_reach_what_shorter_ones_do_not(self):
        wide = replace(TABLE, left_m=-3.0, right_m=3.0, far_m=4.0, sides=("far",))
        kit = replace(FULL, people=(Person("n", "Nils", 1.8, ("animator",), 0.85),))
        case = case_of(replace(one(PUPPET, stand_ins=(replace(HERON, y_m=3.2),)), kit=kit))
        found = finding(told(case, wide), "set-reach")
        assert found.verdict is Verdict.HOLDS
        assert "Nils" in found.sentence

    def test_every_pose_is_asked_about_and_only_those(self):
        """A puppet that walks away from the edge: posed on twos, it is out of reach from where it
        is farther in than an arm."""
        walker = replace(HERON, x_m=0.0, y_m=3.9, speed_m_s=0.2, course_deg=180.0)
        wide = replace(TABLE, left_m=-3.0, right_m=3.0, far_m=4.0, sides=("far",))
        column = Column("c", "Heron", "part", (Mark(1, every=2),), thing_id="heron")
        case = stage(walker)
        found = told(case, wide, column).reached[0]
        frames = np.arange(1, case.shot.frames + 1, 2)
        middle = 3.9 + 0.2 * 0  # it stands at its foot's middle: as deep as it is posed
        away = 4.0 - (middle - 0.2 * (frames - 1) / case.shot.delivery.fps)
        assert found.poses == len(frames)
        assert found.beyond == pytest.approx((away > USUAL_REACH_M).sum(), abs=2)
        assert found.first == pytest.approx(frames[away > USUAL_REACH_M][0], abs=4)
        assert found.frame == frames[-1]
        nobody = Column("c", "Other", "part", (Mark(1, every=2),), thing_id="else")
        assert told(case, wide, nobody).reached == ()

    def test_a_section_that_rolls_out_lets_somebody_in(self):
        wide = replace(TABLE, left_m=-3.0, right_m=3.0, far_m=4.0, sides=("far",))
        far_in = stage(replace(HERON, y_m=2.6))
        section = piece(x_m=0.0, y_m=2.9, width_m=0.8, depth_m=1.1, height_m=0.4, opens="rolls")
        report = told(far_in, replace(wide, pieces=(section,)))
        found = finding(report, "set-reach")
        assert found.verdict is Verdict.BREAKS
        assert "Roll Quay out: then it is 300 mm" in found.sentence
        assert report.way is not None
        assert report.way.away_m == pytest.approx(0.3, abs=0.02)

    def test_a_section_in_the_middle_does_not_roll_and_a_trap_door_opens(self):
        wide = replace(TABLE, left_m=-3.0, right_m=3.0, far_m=4.0, sides=("far",))
        far_in = stage(replace(HERON, y_m=2.6))
        middle = piece(x_m=0.0, y_m=2.9, width_m=0.8, depth_m=0.6, height_m=0.0, opens="rolls")
        report = told(far_in, replace(wide, pieces=(middle,)))
        assert "Roll Quay" not in finding(report, "set-reach").sentence
        assert finding(report, "set-rolls").verdict is Verdict.STRAINS
        trap = replace(middle, opens="trap")
        report = told(far_in, replace(wide, pieces=(trap,)))
        assert "Open Quay: then it is 300 mm" in finding(report, "set-reach").sentence
        small = replace(trap, width_m=0.3)
        report = told(far_in, replace(wide, pieces=(small,)))
        assert "nobody gets up" in finding(report, "set-rolls").sentence

    def test_a_set_without_any_size_has_no_squares(self):
        point = SetMap(left_m=0.0, right_m=0.0, near_m=1.0, far_m=1.0)
        report = told(stage(), point)
        assert report.cells == ()
        assert report.reached[0].away_m is not None

    def test_a_crowded_set_is_looked_over_more_coarsely(self):
        """The number of arms that are asked about stays bounded, whatever stands there."""
        for things, pieces in ((1, 3), (1, 260), (40, 60), (200, 260)):
            fine = Fineness.of(things, pieces)
            asked = (fine.poses * max(things, 1) + fine.squares**2) * fine.stands * (pieces + 1)
            assert asked <= 3 * TESTS or fine.poses == 4
        assert Fineness.of(1, 5) == Fineness(MOST_POSES, 400, SQUARES)

    def test_two_hundred_things_and_sixty_sections_are_answered(self):
        crowd = [
            replace(HERON, id=f"h{i}", x_m=-0.9 + 0.009 * i, y_m=1.1 + 0.005 * i)
            for i in range(200)
        ]
        pieces = tuple(
            piece(key=f"p-{i}", x_m=-0.9 + 0.03 * i, y_m=2.0, width_m=0.02, opens="rolls")
            for i in range(60)
        )
        report = told(stage(HERON, *crowd), replace(TABLE, pieces=pieces))
        assert len(report.reached) == 201

    def test_no_side_at_all_is_told(self):
        report = told(stage(), replace(TABLE, sides=()))
        assert finding(report, "set-reach").verdict is Verdict.BREAKS
        assert "nobody can stand" in finding(report, "set-reach").sentence
        assert report.reached[0].away_m is None

    def test_a_plate_that_nobody_poses_is_not_asked(self):
        live = replace(PUPPET, kind="miniature")
        report = told(stage(plate=live))
        assert report.arm is None
        assert "set-reach" not in {f.key for f in report.findings}

    def test_squares_out_of_reach_lie_in_the_middle(self):
        wide = SetMap(left_m=-1.5, right_m=1.5, near_m=1.0, far_m=4.0)
        report = told(stage(), wide)
        assert report.cells
        for x, y, side in report.cells:
            inside = report.edges.inside_m(x + side / 2, y + side / 2)
            # Nobody stands before the lens, and so the near edge is out of reach there.
            assert inside > USUAL_REACH_M - 0.02 or abs(x) < 1.5


def test_can_open_only_what_opens():
    edges = edges_of(stage(), TABLE, ())
    at_edge = block(y_m=2.0, opens="rolls")
    assert can_open(at_edge, edges, ("far",))
    assert not can_open(at_edge, edges, ("left",))
    assert not can_open(replace(at_edge, opens=""), edges, ("far",))


def test_the_drawing_holds_everything_and_far_is_up():
    lamp = PlacedLamp("panel", 0.7, 0.4, 1.3)
    case = stage(plate=replace(PUPPET, lamps=(lamp,)))
    wide = SetMap(left_m=-2.0, right_m=2.0, near_m=1.0, far_m=4.0, pieces=(piece(opens="rolls"),))
    drawing = set_drawing(case, told(case, wide))
    roles = {s.role for s in drawing.shapes}
    assert {"table", "beyond", "stand", "piece-rolls", "pose", "camera", "lamp", "fixed"} <= roles
    u0, v0, u1, v1 = drawing.bounds
    for shape in drawing.shapes:
        if shape.role in ("table", "beyond", "stand", "piece-rolls"):
            assert all(u0 <= u <= u1 and v0 <= v <= v1 for u, v in shape.points)
    camera = next(s for s in drawing.shapes if s.role == "camera")
    table = next(s for s in drawing.shapes if s.role == "table")
    assert max(v for _, v in camera.points) < min(v for _, v in table.points)
    # What is beyond an arm lies inside the table.
    for strip in (s for s in drawing.shapes if s.role == "beyond"):
        assert all(-2.0 - 1e-9 <= u <= 2.0 + 1e-9 for u, _ in strip.points)
