"""The depth rail, what is worth a tape, the workings behind numbers, and how they are written."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core import optics, scale
from jungoptic.core.cards.card import card_lines
from jungoptic.core.drawings.rail import FARTHEST_M, NEAREST_M, rail
from jungoptic.core.judging.breathing import enlargements
from jungoptic.core.plan import Move
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.report.shot_report import plate_report, report, study
from jungoptic.core.study.sensitivity import sensitivities
from jungoptic.core.study.workings import stage_workings
from jungoptic.core.words import quantities as say

from .examples import ANSA, MILL
from .stages import case_of, findings, one, placed


class TestRail:
    def test_the_blur_curve_is_the_blur_disc_in_delivered_pixels(self):
        case = case_of(one(MILL))
        found = rail(case)
        stage = case.stage
        for metres, pixels in zip(found.distances_m[::9], found.blur_px[::9], strict=True):
            if metres / 12 * 1000 <= stage.focal_mm:
                assert pixels is None
                continue
            disc = optics.blur_disc_mm(stage.focal_mm, 16.0, stage.focus_m, metres / 12)
            whole = math.hypot(disc, stage.airy_mm)
            assert pixels == pytest.approx(whole / stage.camera.sensor_width_mm * 1920)

    def test_at_the_ends_of_the_sharp_range_the_disc_is_what_nobody_notices(self):
        # c is two delivered pixels; diffraction comes on top.
        case = case_of(one(MILL))
        (sharp,) = rail(case).passes
        stage = case.stage
        disc = optics.blur_disc_mm(stage.focal_mm, 16.0, stage.focus_m, sharp.near_m / 12)
        assert disc / stage.camera.sensor_width_mm * 1920 == pytest.approx(2.0, rel=1e-6)

    def test_distances_run_evenly_on_a_log_axis(self):
        found = rail(case_of(one(MILL))).distances_m
        steps = np.diff(np.log(found))
        assert (found[0], found[-1]) == pytest.approx((NEAREST_M, FARTHEST_M))
        np.testing.assert_allclose(steps, steps[0])

    # Koschmieder: V = 10 km and d = 2 km leave 46 % (domain sheet's check value).
    def test_haze(self):
        found = rail(case_of(one(MILL, visibility_m=10_000.0)))
        at = int(np.argmin(np.abs(np.array(found.distances_m) - 2000)))
        assert found.haze[at] == pytest.approx(
            1 - math.exp(-3.912e-4 * found.distances_m[at]), abs=1e-3
        )
        assert rail(case_of(one(MILL))).haze == ()

    def test_drift_is_inverse_to_distance(self):
        # Multiplane rule: speeds go with the inverse distance.
        found = rail(case_of(one(MILL, move=Move(right_m=2.4, ease="even"))))
        products = np.array(found.drift_px) * np.array(found.distances_m)
        np.testing.assert_allclose(products, 32.0 / 24.9 * 1920 * 2.4 / 144)

    def test_every_pass_has_its_band_in_world_metres(self):
        deep = one(MILL, plate_f_number=4.0, plate_focus_passes=3)
        case = case_of(deep)
        found = rail(case)
        assert len(found.passes) == len(case.stage.passes) > 1
        assert found.passes[0].near_m == pytest.approx(case.stage.passes[0].near_m * 12)

    def test_depths_say_where_things_lie_and_how_much_air_is_before_them(self):
        hazy = report(one(MILL, visibility_m=500.0))
        house = next(d for d in hazy.depths if d.stand_in_id == "house")
        assert house.air == pytest.approx(1 - math.exp(-3.912 / 500 * house.near_m), rel=1e-3)
        assert report(one(MILL)).depths[0].air == 0.0


class TestSensitivities:
    def test_each_is_what_moving_the_camera_really_does(self):
        shot = one(MILL, plate_drop_m=0.05)
        case = case_of(shot)
        found = {s.key: s for s in sensitivities(case)}
        points = case.plate.on_stage(case.compared.points)
        camera = case.stage.camera
        base = camera.project(points, 1920, 804)
        engraved = case.stage.focal_mm + 0.01
        # The thin lens focused on the same thing: f / (1 - f/u) times the sensor's own.
        refocused = engraved / (1.0 - engraved / (case.stage.focus_m * 1000.0))
        for key, moved in (
            ("height", replace(camera, position_m=(0.0, 0.0, camera.position_m[2] + 1e-4))),
            ("tilt", replace(camera, tilt_deg=camera.tilt_deg + 0.01)),
            ("focal", replace(camera, focal_mm=refocused)),
        ):
            unit = {"height": 0.01, "tilt": 0.01, "focal": 0.01}[key]
            off = np.nanmax(np.hypot(*(moved.project(points, 1920, 804) - base).T)) / unit
            assert found[key].px_per_unit == pytest.approx(off, rel=0.02)

    def test_the_scale_magnifies_every_slip(self):
        small = {s.key: s for s in sensitivities(case_of(one(MILL, plate_drop_m=0.05)))}
        full = {s.key: s for s in sensitivities(case_of(one(MILL, plate_scale=1.0)))}
        ratio = small["height"].px_per_unit / full["height"].px_per_unit
        assert ratio == pytest.approx(12, rel=0.05)
        # An angle is an angle at any scale.
        assert small["tilt"].px_per_unit == pytest.approx(full["tilt"].px_per_unit, rel=0.05)

    def test_what_a_reframe_takes_out_is_not_worth_a_tape(self):
        found = {s.key: s for s in sensitivities(case_of(one(ANSA)))}
        assert found["roll"].fitted_px_per_unit < 0.01 * found["roll"].px_per_unit
        assert found["roll"].advice == "ignore"
        assert found["roll"].allowed > 10

    def test_worst_first(self):
        found = sensitivities(case_of(one(MILL, plate_drop_m=0.05)))
        costs = [s.fitted_px_per_unit * s.slip for s in found]
        assert costs == sorted(costs, reverse=True)
        assert found[0].advice == "tape"


class TestBreathing:
    def test_passes_are_scaled_onto_the_first(self):
        # A thin lens's image distance grows by (1 + m): f u / (u - f).
        deep = one(MILL, plate_f_number=4.0, plate_focus_passes=3)
        case = case_of(deep)
        images = [28 * p.focus_m * 1000 / (p.focus_m * 1000 - 28) for p in case.stage.passes]
        assert enlargements(case) == pytest.approx([images[0] / d for d in images])
        found = findings(deep)["passes"]
        assert "pass 2 by" in found.sentence

    def test_a_single_pass_has_nothing_to_lie_on(self):
        assert "passes" not in findings(one(MILL))


class TestWorkings:
    def test_each_result_is_the_number_on_the_sheet(self):
        case = case_of(one(MILL, plate_room_id="garage"))
        stage = case.stage
        found = {key: w.result.value for key, w in stage_workings(case).items()}
        assert found["axis_m"] == pytest.approx(stage.axis_m * 1000)
        assert found["focus_tape_m"] == pytest.approx(stage.focus_tape_m * 1000)
        assert found["focus_front_m"] == pytest.approx(stage.focus_front_m * 1000)
        assert found["depth_near_m"] == pytest.approx(stage.depth_near_m * 1000)
        assert found["pixels_across"] == pytest.approx(stage.pixels_across)
        assert found["lux_needed"] == pytest.approx(stage.lux_needed)
        assert found["exposure_s"] == pytest.approx(stage.exposure_s)
        marks = plate_report(one(MILL), MILL).marks
        assert found["mark_tape_m"] == pytest.approx(marks[0].from_sensor_m * 1000)
        assert found["mark_front_m"] == pytest.approx(marks[0].from_front_m * 1000)

    def test_the_inputs_lead_to_the_result_by_hand(self):
        found = stage_workings(case_of(one(MILL, plate_motion="gravity", plate_nd_stops=1.0)))

        def inputs(key: str) -> dict[str, float]:
            return {q.symbol: q.value for q in found[key].inputs}

        axis = inputs("axis_m")
        assert found["axis_m"].result.value == pytest.approx(
            max((axis["H"] - axis["G"]) / axis["S"], axis["low"])
        )
        tape = inputs("mark_tape_m")
        assert found["mark_tape_m"].result.value == pytest.approx(
            tape["y"] * 1000 / tape["S"] + tape["b"] + tape["p"] * math.cos(math.radians(tape["t"]))
        )
        lux = inputs("lux_needed")
        t_stop = lux["N"] * (1 + lux["m"] / lux["P"]) * lux["T/f"] * 2 ** (lux["ND"] / 2)
        assert found["lux_needed"].result.value == pytest.approx(
            lux["C"] * t_stop**2 / (lux["t"] * lux["ISO"])
        )
        rate = inputs("capture_fps")
        assert rate["need"] == pytest.approx(scale.capture_fps(rate["p"], rate["S"]))
        depth = inputs("depth_near_m")
        k = depth["c"] * depth["N"] / depth["f"]
        near = depth["f"] / (1 - (1 - depth["f"] / depth["u"]) * (1 - k))
        assert found["depth_near_m"].result.value == pytest.approx(near, rel=1e-6)

    def test_what_was_decided_says_so(self):
        found = stage_workings(
            case_of(one(MILL, plate_axis_height_m=0.2, plate_focus_world_m=20.0))
        )
        assert found["axis_m"].source == found["focus_tape_m"].source == "Decided on the sheet."

    def test_the_selected_plate_gets_its_study_and_no_other(self):
        found = report(one(MILL), selected="mill")
        assert found.plates[0].study is not None
        assert found.plates[0].rail is not None
        assert {"tapes", "cover", "details", "axis_m"} <= set(found.plates[0].workings)
        assert report(one(MILL)).plates[0].study is None
        dragging = report(one(MILL), remedies=False, selected="mill").plates[0]
        assert dragging.rail is not None
        assert dragging.study is None
        assert study(case_of(one(MILL))).fixed[0].name


class TestNotation:
    # 1 in = 25.4 mm exactly, 1 ft = 0.3048 m exactly (international yard, 1959).
    @pytest.mark.parametrize(
        ("metres", "shown"),
        [
            (1.6764, "5' 6\""),
            (1.6891, "5' 6 1/2\""),
            (0.3048, "1'"),
            (0.0254, '1"'),
            (0.0127, '1/2"'),
            (0.0914, '3 19/32"'),
            (-0.0254, '-1"'),
            (0.0, '0"'),
            (0.0002, '0.0079"'),
            (60.96, "200'"),
        ],
    )
    def test_feet_and_inches(self, metres, shown):
        assert say.feet(metres) == shown

    @given(st.floats(0.001, 30))
    def test_a_tape_in_inches_is_never_off_by_more_than_half_its_finest_mark(self, metres):
        text = say.feet(metres)
        foot, _, inch = text.partition("'") if "'" in text else ("0", "", text)
        total = float(foot) * 12
        for part in inch.replace('"', "").split():
            top, _, bottom = part.partition("/")
            total += float(top) / float(bottom or 1)
        finest = 1 / 16 if metres >= 0.3048 else 1 / 32
        assert abs(total * 0.0254 - metres) <= finest / 2 * 0.0254 + 1e-9 or metres < 0.0254 / 32

    # Third stops as engraved on lenses and meters (common practice).
    @pytest.mark.parametrize(
        ("stop", "shown"),
        [
            (5.6, "f/5.6"), (6.3, "f/5.6⅓"), (7.1, "f/5.6⅔"), (8, "f/8"), (1.8, "f/1.4⅔"),
            (11, "f/11"), (13, "f/11⅓"), (22, "f/22"), (5.9, "f/5.9"), (0.7, "f/0.7"),
        ],
    )  # fmt: skip
    def test_stops_in_thirds(self, stop, shown):
        with say.written_in(say.Notation(stop="thirds")):
            assert say.stop(stop) == shown
        assert say.stop(stop) == f"f/{stop:.3g}"

    def test_foot_candles(self):
        # 1 fc is 10.764 lx: one lumen on a square foot.
        with say.written_in(say.Notation(light="footcandles")):
            assert say.lux(1076.39) == "100 fc"
            assert say.lux(50) == "4.6 fc"
        assert say.lux(1076.39) == "1,080 lx"

    def test_it_lasts_for_its_block_only_even_when_something_fails(self):
        def fail() -> None:
            with say.written_in(say.Notation(length="feet")):
                assert say.length(1.6764) == "5' 6\""
                raise RuntimeError

        with pytest.raises(RuntimeError):
            fail()
        assert say.length(1.6764) == "1.676 m"

    def test_findings_and_cards_are_worded_in_it(self):
        shot = one(MILL, plate_lamps=(placed(),), plate_table_m=0.8, move=Move(right_m=2.0))
        with say.written_in(say.Notation("feet", "footcandles", "thirds")):
            found = plate_report(shot, shot.plates[0])
            lines = {line.label: line.value for line in card_lines(case_of(shot), found)}
        floor = next(f for f in found.findings if f.key == "floor")
        assert '"' in floor.sentence
        assert "mm" not in floor.sentence
        assert lines["Table top"] == "2' 7 1/2\""
        assert lines["Light at the action"].endswith("fc")
        assert lines["Camera move"] == '6 9/16"'
        assert lines["Panel"].endswith("ahead")

    def test_two_lamps_alike_are_told_apart(self):
        shot = one(MILL, plate_lamps=(placed(), placed(x=0.5), placed("tubes")))
        labels = [x.label for x in card_lines(case_of(shot), plate_report(shot, shot.plates[0]))]
        assert {"Panel 1", "Panel 2", "Tubes"} <= set(labels)


def test_a_small_set_whose_screen_follows_the_performer():
    # The screen must hold the whole walk, thrown onto it from the lens.
    still = one(ANSA, plate_screen_width_m=1.5)
    walking = replace(
        still,
        stand_ins=tuple(
            replace(s, speed_m_s=0.6) if s.id == "figure" else s for s in still.stand_ins
        ),
    )
    assert findings(still)["backing"].verdict is not Verdict.BREAKS
    assert findings(walking)["backing"].verdict is Verdict.BREAKS
