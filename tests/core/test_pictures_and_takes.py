"""The Frame, the Stage drawing, the set card, and the judgement on takes."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core import optics
from jungoptic.core.camera import Camera
from jungoptic.core.cards.card import card_lines, checklist
from jungoptic.core.cards.hazards import BY_KEY, HAZARDS, cautions_for
from jungoptic.core.cards.takes import Taken, judge_take, planned_numbers
from jungoptic.core.drawings.frame import draw, grips
from jungoptic.core.lighting.story_key import key_light
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn, measured_points, outlines
from jungoptic.core.report.shot_report import plate_report, report
from jungoptic.core.stage.case import Case
from jungoptic.core.words.outlines import clipped, cut_behind
from jungoptic.core.words.quantities import length, lux, shutter, stops

from .examples import ANSA, MILL, STAND_INS, shot, with_plate

FIGURE = STAND_INS[3]


class TestFrame:
    def test_world_and_derived_stage_draw_the_same_lines(self):
        one = shot()
        result = report(one)
        world = {o.stand_in_id: o.paths for o in result.world.outlines}
        for plate in result.plates:
            assert plate.picture is not None
            for outline in plate.picture.outlines:
                assert np.allclose(outline.paths[0], world[outline.stand_in_id][0], atol=0.11)
            assert plate.whiskers == ()

    def test_a_wrong_height_shows_whiskers(self):
        result = report(with_plate(MILL, axis_height_m=0.15)).plates[0]
        assert len(result.whiskers) > 5
        longest = max(
            np.hypot(w.to_x_px - w.from_x_px, w.to_y_px - w.from_y_px) for w in result.whiskers
        )
        raw = next(f for f in result.findings if f.key == "mismatch").workings[0].inputs[-2].value
        assert longest == pytest.approx(raw, abs=0.2)

    def test_what_is_behind_the_lens_is_cut_not_wrapped(self):
        camera = Camera(24.9, 10.4, 32, (0, 0, 1.5))
        line = np.array([[0.0, -5.0, 0.0], [0.0, 10.0, 0.0], [1.0, 10.0, 0.0]])
        (piece,) = cut_behind(camera, line, 0.02)
        assert piece[:, 2].min() == pytest.approx(0.02)
        around = StandIn("g", "Ground", "ground", 0, 0.01, 0, 4, 0, 30)
        picture = draw(camera, (around,), 1.0, 1920, 804)
        assert all(np.isfinite(path).all() for path in picture.outlines[0].paths)

    def test_grips_predict_how_a_foot_moves(self):
        one = shot()
        grip = next(g for g in grips(one) if g.stand_in_id == "figure")
        moved = tuple(replace(s, x_m=s.x_m + 0.1) if s.id == "figure" else s for s in one.stand_ins)
        after = next(g for g in grips(replace(one, stand_ins=moved)) if g.stand_in_id == "figure")
        assert after.x_px - grip.x_px == pytest.approx(0.1 * grip.across_px_m, rel=1e-3)
        assert grip.away_px_m < 0  # farther is higher in the picture, below the horizon

    def test_a_figure_is_as_tall_as_it_says(self):
        figure = StandIn("f", "F", "figure", 1, 5, 0.2, height_m=1.7, heading_deg=30)
        points = np.concatenate(outlines(figure))
        assert points[:, 2].max() == pytest.approx(1.9)
        assert points[:, 2].min() == pytest.approx(0.2)
        named = measured_points(figure)
        assert named.names[-1] == "F: top of the head"
        assert named.points[-1][2] == pytest.approx(1.9)

    def test_turning_a_box_keeps_its_size(self):
        box = StandIn("b", "B", "box", 0, 5, 0, 2, 1, 3, heading_deg=40)
        points = measured_points(box).points
        assert np.linalg.norm(points[1] - points[0]) == pytest.approx(2)
        assert np.linalg.norm(points[2] - points[0]) == pytest.approx(3)


class TestStageDrawing:
    def drawings(self, plate, **changes):
        result = report(with_plate(plate, **changes), selected=plate.id).plates[0]
        assert result.elevation is not None
        assert result.plan is not None
        return result.elevation, result.plan

    def test_dimensions_measure_what_they_span(self):
        for plate in (MILL, ANSA):
            for drawing in self.drawings(plate):
                for dim in drawing.dimensions:
                    span = np.hypot(*np.subtract(dim.end, dim.start))
                    assert span == pytest.approx(dim.value_m, abs=1e-9)

    def test_everything_lies_on_the_paper_and_distances_line_up(self):
        side, above = self.drawings(MILL)
        assert side.bounds[0] == above.bounds[0]
        assert side.bounds[2] == above.bounds[2]
        for drawing in (side, above):
            u0, v0, u1, v1 = drawing.bounds
            for shape in drawing.shapes:
                for u, v in shape.points:
                    assert u0 <= u <= u1
                    assert v0 <= v <= v1

    def test_the_screen_is_drawn_where_it_hangs(self):
        side, _ = self.drawings(ANSA)
        (screen,) = [s for s in side.shapes if s.role == "screen"]
        assert screen.points[0][0] == pytest.approx(15.4 + 2.0)

    def test_what_moves_is_drawn_with_its_way(self):
        walking = replace(shot(), stand_ins=(replace(FIGURE, speed_m_s=1.25, course_deg=120.0),))
        for scale in (1.0, 4.0):
            plate = replace(ANSA, scale=scale)
            drawn = report(replace(walking, plates=(plate,)), selected="ansa").plates[0].plan
            assert drawn is not None
            (way,) = [s.points for s in drawn.shapes if s.role == "way"]
            gone = math.dist(way[0], way[1])
            assert gone == pytest.approx(1.25 * walking.screen_time_s / scale)
            # Course 120 degrees: to the right and back towards the camera.
            assert way[1][0] < way[0][0]
            assert way[1][1] < way[0][1]
        _, plan = self.drawings(ANSA)
        assert "way" not in {s.role for s in plan.shapes}

    def test_right_of_the_camera_is_down_in_the_plan(self):
        _, above = self.drawings(ANSA)
        (figure,) = [s for s in above.shapes if s.stand_in_id == "figure"]
        assert np.mean([v for _, v in figure.points]) == pytest.approx(-2.6, abs=0.05)


class TestCard:
    def test_lines_name_their_units_and_origin(self):
        one = with_plate(MILL, drop_m=0.02)
        case = Case.of(one, one.plates[0])
        assert case is not None
        lines = card_lines(case, plate_report(one, one.plates[0]))
        by_label = {line.label: line for line in lines}
        # 125 mm at the entrance pupil, 29 mm before the mark; the camera looks up by 3 degrees.
        assert by_label["Lens axis height"].value == "124 mm"
        assert by_label["Lens axis, front"].value == "127 mm"
        assert "lens length assumed" in by_label["Lens front to Mill"].detail
        assert by_label["Camera base"].value == "20.0 mm"
        assert by_label["Stop"].value == "f/16"
        assert by_label["Shutter"].value == "1/48 s"

    def test_lock_off_belongs_to_the_kind_of_plate(self):
        mill, ansa = (Case.of(shot(), plate) for plate in (MILL, ANSA))
        assert mill is not None
        assert ansa is not None
        assert any("Lights-off" in item for item in checklist(mill))
        assert any("screen" in item.lower() for item in checklist(ansa))
        # The values that are read back aloud are the plate's own.
        assert "Stop fixed, ring taped: f/16" in checklist(mill)
        assert "Stop fixed, ring taped: f/5.6" in checklist(ansa)

    def test_cautions_cannot_be_left_out(self):
        marked = replace(ANSA, hazards=("fire", "fire", "unknown"))
        assert [h.key for h in cautions_for(marked)] == ["lamps", "stands", "fire"]

    def test_the_law_is_named_where_it_rules(self):
        for key in ("fire", "pyrotechnics", "fuel"):
            assert "licensed people only" in BY_KEY[key].cautions[0]
        assert "never a set" in BY_KEY["traffic"].cautions[0]

    def test_no_caution_gives_quantities(self):
        for hazard in HAZARDS:
            for caution in hazard.cautions:
                digits = [w for w in caution.split() if any(c.isdigit() for c in w)]
                # The one number is the flash rate to keep away from, with its source.
                assert hazard.key == "strobe" or not digits


class TestTakes:
    plan = with_plate(MILL)

    def judge(self, **readings):
        return judge_take(self.plan, self.plan.plates[0], Taken(**readings))

    def test_as_planned_is_kept(self):
        result = self.judge()
        assert result.verdict is Verdict.HOLDS
        assert result.advice.startswith("Keep it")
        assert result.departures == ()

    def test_reading_the_plan_back_is_no_departure(self):
        case = Case.of(self.plan, self.plan.plates[0])
        assert case is not None
        planned = planned_numbers(case)
        result = self.judge(**planned.__dict__)
        assert result.verdict is Verdict.HOLDS
        assert all(d.verdict is Verdict.HOLDS for d in result.departures)

    def test_a_high_camera_goes_again(self):
        result = self.judge(axis_height_m=0.145)
        assert result.verdict is Verdict.BREAKS
        assert result.advice.startswith("Go again")
        (row,) = result.departures
        assert (row.planned, row.actual) == ("124 mm", "145 mm")

    def test_one_stop_open(self):
        result = self.judge(f_number=11.0)
        exposed = next(f for f in result.findings if f.key == "exposure")
        # 2 log2(16 / 11), by hand
        assert exposed.workings[0].result.value == pytest.approx(1.08, abs=0.005)

    def test_focus_is_judged_by_the_tape(self):
        near = self.judge(focus_tape_m=0.4)
        sharp = next(f for f in near.findings if f.key == "depth")
        assert sharp.verdict is Verdict.BREAKS
        stage_focus = optics.object_distance_m(28, 0.4)
        used = {q.symbol: q.value for q in sharp.workings[0].inputs}
        assert used["u"] == pytest.approx(stage_focus * 1000)

    def test_a_longer_lens_than_planned_is_seen(self):
        result = self.judge(focal_mm=35.0)
        match = next(f for f in result.findings if f.key == "mismatch")
        raw = {q.symbol: q.value for q in match.workings[0].inputs}["raw"]
        assert raw > 50  # before the reframe everything is larger
        assert match.workings[0].result.value < raw / 10  # a reframe mends nearly all of it

    def test_rate_and_shutter(self):
        result = self.judge(capture_fps=30.0, exposure_s=1 / 24)
        keys = {f.key: f for f in result.findings}
        assert keys["speed"].verdict is Verdict.BREAKS
        assert keys["blur"].verdict is Verdict.BREAKS  # 450 degrees cannot be

    def test_a_split_focus_take_answers_for_its_own_pass(self):
        plan = with_plate(MILL, f_number=4.0, focus_passes=6)
        case = Case.of(plan, plan.plates[0])
        assert case is not None
        second = case.stage.passes[1].focus_m + case.stage.sensor_to_pupil_m
        result = judge_take(plan, plan.plates[0], Taken(focus_tape_m=second))
        assert next(f for f in result.findings if f.key == "depth").verdict is Verdict.HOLDS

    def test_impossible_readings_are_refused(self):
        with pytest.raises(ValueError, match="four focal lengths"):
            self.judge(focus_tape_m=0.05)
        bare = with_plate(MILL, lens_id=None)
        with pytest.raises(ValueError, match="no body, mode and lens"):
            judge_take(bare, bare.plates[0], Taken())

    @settings(max_examples=25, deadline=None)
    @given(st.floats(-0.02, 0.02), st.floats(-2, 2))
    def test_departures_together_are_never_called_better_than_good(self, up, tilt):
        result = self.judge(axis_height_m=0.125 + up, tilt_deg=3 + tilt)
        assert result.verdict is max((f.verdict for f in result.findings), key=lambda v: v.rank)


@pytest.mark.parametrize(
    ("metres", "said"),
    [
        (0.0917, "91.7 mm"),
        (0.125, "125 mm"),
        (1.5362, "1.536 m"),
        (31.4, "31.40 m"),
        (float("inf"), "infinity"),
    ],
)
def test_lengths_are_said_as_a_tape_shows_them(metres, said):
    assert length(metres) == said


def test_other_quantities():
    assert lux(7678) == "7,680 lx"
    assert shutter(1 / 48) == "1/48 s"
    assert stops(-1.0) == "1 stop"


FAR = st.floats(-6000.0, 6000.0).map(lambda v: round(v, 1))


class TestClipping:
    """Against the intersection by shapely (GEOS)."""

    window = shapely.box(-1000.0, -500.0, 2000.0, 1000.0)

    @given(st.lists(st.tuples(FAR, FAR), min_size=2, max_size=9, unique=True))
    def test_open_lines_end_where_the_window_ends(self, points):
        pieces = clipped(tuple(points), 1000.0, 500.0)
        steps = [shapely.LineString(ends) for ends in itertools.pairwise(points)]
        inside = sum(step.intersection(self.window).length for step in steps)
        found = sum(math.dist(a, b) for piece in pieces for a, b in itertools.pairwise(piece))
        assert found == pytest.approx(inside, abs=2.0)
        for piece in pieces:
            for x, y in piece:
                assert -1000.0 <= x <= 2000.0
                assert -500.0 <= y <= 1000.0

    @given(FAR, FAR, st.floats(1.0, 6000.0), st.floats(1.0, 6000.0), st.floats(0.0, 3.0))
    def test_closed_ones_stay_closed_and_keep_their_area(self, x, y, wide, high, turn):
        box = shapely.affinity.rotate(shapely.box(x, y, x + wide, y + high), turn * 60.0)
        path = tuple((round(a, 1), round(b, 1)) for a, b in box.exterior.coords)
        pieces = clipped(path, 1000.0, 500.0)
        want = shapely.Polygon(path).intersection(self.window).area
        if not pieces:
            assert want < 600.0
            return
        (ring,) = pieces
        assert ring[0] == ring[-1]
        assert len(ring) < 4 or shapely.Polygon(ring).area == pytest.approx(want, abs=600.0)

    def test_a_shadow_at_sunset_ends_near_the_picture(self):
        long = replace(shot(), key_from_deg=85.0, key_elevation_deg=1.2)
        light = key_light(long, long.world.camera(long.delivery))
        assert light is not None
        xs = [x for line in light.shadows for path in line.paths for x, _ in path]
        assert xs
        assert max(abs(x) for x in xs) <= 2.0 * long.delivery.width_px
