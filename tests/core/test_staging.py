"""One plate's stage: what is derived, and that the judgements say what they should."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core import optics
from jungoptic.core.judging import judge_plate
from jungoptic.core.plan import Kit, Plate, Shot
from jungoptic.core.plan.findings import Finding, Verdict, banded, worst
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.case import Case

from .examples import ANSA, CINEMA, KIT, MILL, prime, shot, with_plate


def case_of(one: Shot) -> Case:
    found = Case.of(one, one.plates[0])
    assert found is not None
    return found


def finding(one: Shot, key: str) -> Finding:
    found = {f.key: f for f in judge_plate(case_of(one))}
    return found[key]


class TestDerivedNumbers:
    def test_heights_divide_by_the_scale(self):
        assert case_of(with_plate(MILL)).stage.axis_m == pytest.approx(1.5 / 12)

    def test_a_stage_may_stand_for_higher_ground(self):
        # Ansa stands 0.9 m up on the bridge; filmed on the floor, the camera comes down with her.
        one = with_plate(ANSA, ground_m=0.9)
        assert case_of(one).stage.axis_m == pytest.approx(0.6)
        assert finding(one, "mismatch").workings[0].result.value < 1e-6
        drawing = report(one, selected="ansa").plates[0].elevation
        assert drawing is not None
        (figure,) = [s for s in drawing.shapes if s.stand_in_id == "figure"]
        assert min(v for _, v in figure.points) == pytest.approx(0.0)

    def test_tape_numbers_add_up(self):
        one = with_plate(MILL)
        stage = case_of(one).stage
        assert stage.focus_tape_m == pytest.approx(
            optics.sensor_distance_m(stage.focal_mm, stage.focus_m)
        )
        assert stage.focus_front_m + stage.sensor_to_front_m == pytest.approx(stage.focus_tape_m)

    def test_a_known_lens_is_not_assumed(self):
        known = prime(28, length_mm=72.0, pupil_from_mount_mm=40.0)
        one = replace(with_plate(MILL), kit=Kit((CINEMA,), (known,)))
        stage = case_of(one).stage
        assert not stage.front_assumed
        assert stage.sensor_to_front_m == pytest.approx(0.116)
        assert stage.sensor_to_pupil_m == pytest.approx(0.084)

    def test_the_derived_stage_sees_exactly_what_the_world_sees(self):
        one = with_plate(MILL)
        found = finding(one, "mismatch")
        assert found.verdict is Verdict.HOLDS
        assert "Every point falls" in found.sentence

    def test_a_zoom_takes_the_matching_focal_length(self):
        zoom = replace(prime(28), id="zoom", focal_min_mm=18.0, focal_max_mm=55.0)
        one = replace(with_plate(MILL, lens_id="zoom"), kit=Kit((CINEMA,), (zoom,)))
        stage = case_of(one).stage
        assert stage.crop_across == pytest.approx(1.0)
        # Close up it is shorter than the world's 32 mm, since focusing narrows the view.
        assert stage.focal_mm < 32.0

    @settings(max_examples=40)
    @given(st.floats(1, 40), st.floats(0.3, 5), st.floats(-8, 8))
    def test_any_scale_keeps_the_match_when_the_body_can_go_there(self, scale, height, tilt):
        one = shot(height_m=height, tilt_deg=tilt)
        plate = replace(MILL, scale=scale, drop_m=1.0, lens_id="l20")
        found = finding(replace(one, plates=(plate,)), "mismatch")
        assert found.verdict is Verdict.HOLDS
        assert found.workings[0].result.value < 1e-6


class TestView:
    def test_pixels_left_after_the_crop(self):
        found = finding(with_plate(MILL), "view")
        assert found.verdict is Verdict.HOLDS
        # By hand: crop = 28 (1 + m) / 32 on the same sensor width, of 4096 px.
        m = case_of(with_plate(MILL)).stage.magnification
        assert found.workings[0].result.value == pytest.approx(4096 * 28 * (1 + m) / 32)

    def test_too_long_a_lens_breaks_and_offers_shorter_ones(self):
        found = finding(with_plate(MILL, lens_id="l50"), "view")
        assert found.verdict is Verdict.BREAKS
        assert "too long" in found.sentence
        assert any("28 mm" in r.sentence for r in found.remedies)
        assert all(r.verdict is not Verdict.BREAKS for r in found.remedies)

    def test_few_pixels_strain(self):
        one = with_plate(MILL, body_id="stills", mode_id="fast", lens_id="l28")
        found = finding(one, "view")
        # 1920 px on 36 mm, cropped to 28 (1 + m) / 32 of 24.9 mm: 62 %, under 65 %.
        assert found.verdict is Verdict.BREAKS
        assert "62 %" in found.sentence or "63 %" in found.sentence
        longer = replace(one, world=shot(focal_mm=29.0).world)
        assert finding(longer, "view").verdict is Verdict.STRAINS


class TestFloor:
    def test_too_low_for_the_body_breaks(self):
        found = finding(replace(with_plate(MILL), world=shot(height_m=1.1).world), "floor")
        assert found.verdict is Verdict.BREAKS
        assert "13.3 mm too high" in found.sentence

    def test_each_remedy_does_what_it_says(self):
        one = replace(with_plate(MILL), world=shot(height_m=1.1).world)
        remedies = finding(one, "floor").remedies
        assert {r.changes.get("body_id") for r in remedies} >= {None, "stills"}
        assert any("drop_m" in r.changes for r in remedies)
        for way in remedies:
            after = replace(one, plates=(replace(MILL, **way.changes),))
            assert finding(after, "floor").verdict is way.verdict
            assert finding(after, "mismatch").verdict is Verdict.HOLDS

    def test_a_hair_too_high_only_strains(self):
        one = replace(with_plate(MILL), world=shot(height_m=1.2595).world)
        assert finding(one, "floor").verdict is Verdict.STRAINS


class TestMismatch:
    def test_a_moved_camera_names_its_worst_point(self):
        found = finding(with_plate(MILL, axis_height_m=0.14), "mismatch")
        assert found.verdict is Verdict.BREAKS
        named = found.sentence.split("worst at ")[1].split(".")[0]
        assert named.startswith(("Mill:", "Bridge:", "Ansa:", "Flat:", "ground,", "head of a 1"))
        assert found.remedies[0].changes["axis_height_m"] is None

    @settings(max_examples=25)
    @given(st.floats(0.001, 0.05))
    def test_more_departure_is_never_less_mismatch(self, up):
        def off(by: float) -> float:
            one = with_plate(MILL, axis_height_m=0.125 + by)
            return finding(one, "mismatch").workings[0].inputs[-2].value

        assert off(up * 2) >= off(up) * 0.999


class TestSharpness:
    def test_wide_open_close_up_breaks_and_stopping_down_mends_it(self):
        one = with_plate(MILL, f_number=2.8)
        found = finding(one, "depth")
        assert found.verdict is not Verdict.HOLDS
        stop_down = next(r for r in found.remedies if "Stop down" in r.sentence)
        after = with_plate(MILL, **stop_down.changes)
        assert finding(after, "depth").verdict is Verdict.HOLDS

    def test_focus_passes_mend_it_too(self):
        one = with_plate(MILL, f_number=4.0)
        way = next(r for r in finding(one, "depth").remedies if "focus passes" in r.sentence)
        after = with_plate(MILL, f_number=4.0, **way.changes)
        assert finding(after, "depth").verdict is Verdict.HOLDS
        assert len(case_of(after).stage.passes) == way.changes["focus_passes"]

    def test_too_few_passes_still_break(self):
        one = with_plate(MILL, f_number=2.0, focus_passes=2)
        assert finding(one, "depth").verdict is not Verdict.HOLDS

    def test_diffraction(self):
        # A small sensor's picture at f/22: the disc is 2.44 x 0.55 um x N.
        assert finding(with_plate(MILL, f_number=5.6), "diffraction").verdict is Verdict.HOLDS
        found = finding(with_plate(MILL, f_number=22.0), "diffraction")
        assert found.verdict is Verdict.STRAINS
        assert any("Open up" in r.sentence for r in found.remedies)

    def test_close_focus(self):
        one = with_plate(MILL, scale=120.0, drop_m=1.0)
        found = finding(one, "close_focus")
        assert found.verdict is Verdict.BREAKS
        larger = next(r for r in found.remedies if "Build larger" in r.sentence)
        after = with_plate(MILL, drop_m=1.0, **larger.changes)
        assert finding(after, "close_focus").verdict is Verdict.HOLDS

    def test_focus_inside_the_lens_is_said_not_thrown(self):
        result = report(with_plate(MILL, focus_world_m=0.1)).plates[0]
        assert result.verdict is Verdict.BREAKS
        assert "inside its focal length" in result.findings[0].sentence


class TestRateLightBacking:
    def test_gravity_asks_for_the_root_of_the_scale(self):
        found = finding(with_plate(MILL, motion="gravity"), "rate")
        assert found.verdict is Verdict.BREAKS
        assert "83.14 fps needed" in found.sentence
        assert any("Stills body, HD fast" in r.sentence for r in found.remedies)

    def test_a_rate_outside_the_mode(self):
        assert finding(with_plate(MILL, capture_fps=200.0), "rate").verdict is Verdict.BREAKS

    def test_light_is_judged_once_it_is_known(self):
        assert not any(f.key == "light" for f in judge_plate(case_of(with_plate(MILL))))
        short = finding(with_plate(MILL, light_lux=1000.0), "light")
        assert short.verdict is Verdict.BREAKS
        more_iso = next(r for r in short.remedies if "ISO" in r.sentence)
        after = with_plate(MILL, light_lux=1000.0, **more_iso.changes)
        assert finding(after, "light").verdict.rank < short.verdict.rank

    def test_the_screen_must_cover_the_action(self):
        assert finding(with_plate(ANSA), "backing").verdict is Verdict.HOLDS
        small = finding(with_plate(ANSA, screen_height_m=2.0), "backing")
        assert small.verdict is Verdict.BREAKS
        near = finding(with_plate(ANSA, screen_gap_m=1.0), "backing")
        assert near.verdict is Verdict.STRAINS

    def test_screen_size_by_similar_triangles(self):
        # A figure 1.68 m tall on 0.9 m, lens at 1.5 m, 15.4 m off; screen 2 m behind.
        top = 1.5 + (0.9 + 1.68 - 1.5) * 17.4 / 15.4 + 0.15
        value = {q.symbol: q.value for q in finding(with_plate(ANSA), "backing").workings[0].inputs}
        assert value["top"] == pytest.approx(top)


class TestReport:
    def test_without_kit_it_asks_and_offers(self):
        one = with_plate(MILL, body_id=None, mode_id=None, lens_id=None)
        result = report(one).plates[0]
        assert result.stage is None
        assert [f.key for f in result.findings] == ["kit"]
        best = result.findings[0].remedies[0]
        assert best.verdict is Verdict.HOLDS
        after = report(with_plate(MILL, **best.changes)).plates[0]
        assert after.verdict is best.verdict

    def test_with_nothing_owned_it_says_what_to_add(self):
        one = replace(with_plate(MILL), kit=Kit())
        assert "add a body" in report(one).plates[0].findings[0].sentence

    def test_an_empty_shot_answers(self):
        result = report(shot(stand_ins=(), plates=(Plate("p", "P", "live"), MILL)))
        assert result.grips == ()
        assert result.plates[1].stage is not None

    def test_dragging_leaves_remedies_out_and_verdicts_alone(self):
        one = with_plate(MILL, lens_id="l50")
        full, quick = report(one).plates[0], report(one, remedies=False).plates[0]
        assert [f.verdict for f in full.findings] == [f.verdict for f in quick.findings]
        assert not any(f.remedies for f in quick.findings)

    def test_findings_come_worst_first(self):
        ranks = [f.verdict.rank for f in report(with_plate(MILL, lens_id="l50")).plates[0].findings]
        assert ranks == sorted(ranks, reverse=True)

    def test_marks_are_taped_from_the_sensor(self):
        one = with_plate(MILL)
        result = report(one).plates[0]
        house = next(m for m in result.marks if m.name == "Mill")
        stage = result.stage
        assert stage is not None
        behind = stage.sensor_to_pupil_m * math.cos(math.radians(3.0))
        assert house.from_sensor_m == pytest.approx(25 / 12 + behind)
        assert house.aside_m == pytest.approx(-5 / 12)

    def test_nonsense_is_refused_in_a_sentence(self):
        with pytest.raises(ValueError, match="scale"):
            report(with_plate(MILL, scale=math.nan))
        with pytest.raises(ValueError, match="focal length"):
            report(shot(focal_mm=0.0))

    def test_every_finding_shows_its_working_and_source(self):
        for plate in report(shot()).plates:
            for found in plate.findings:
                assert found.workings
                assert all(w.source and w.formula for w in found.workings)


def test_verdicts_band_and_rank():
    assert banded(math.nan, 1, 2) is Verdict.BREAKS
    assert [banded(v, 1, 2) for v in (1, 1.5, 3)] == list(Verdict)
    assert worst([]) is Verdict.HOLDS
    assert KIT.bodies
