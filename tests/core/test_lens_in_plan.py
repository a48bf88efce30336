"""A lens that was measured, in all that reads it: the plan, the planner, pictures, boards."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.board.finding import find
from jungoptic.core.board.lens import measured
from jungoptic.core.board.standing import stood
from jungoptic.core.camera import Camera
from jungoptic.core.cards.takes import Taken, as_taken, judge_take, planned_numbers
from jungoptic.core.drawings.overlays import plate_marks
from jungoptic.core.filmed.lens import judge_lens, measure_of
from jungoptic.core.impossible import Impossible
from jungoptic.core.judging.bend import bow_px
from jungoptic.core.judging.numbers import numbers_of
from jungoptic.core.pictures.bend import Bend, bent
from jungoptic.core.pictures.straight import straight
from jungoptic.core.pictures.tone import to_record
from jungoptic.core.pictures.vignetting import vignetting
from jungoptic.core.plan import View
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import Kit, Lens, LensMeasure
from jungoptic.core.stage.bent import bend_of
from tests.boards import seen

from .examples import ANSA, CINEMA, STILLS, prime
from .stages import case_of, findings, one
from .test_lens_measured import SENSOR_MM, nine
from .test_planner import from_table, judged

LONGER = LensMeasure(28.0, 29.4, 0.1, k1=-0.1, k2=0.01)


def shot_with(*lenses: Lens, plate: Any = ANSA, **changes: Any) -> Any:
    return replace(one(replace(plate, **changes)), kit=Kit((CINEMA, STILLS), lenses))


class TestMarkAndWorth:
    ZOOM = replace(
        prime(24),
        id="zoom",
        focal_max_mm=70.0,
        measured=(LensMeasure(24.0, 24.6), LensMeasure(50.0, 49.0), LensMeasure(70.0, 67.9)),
    )

    def test_between_two_measured_settings_in_proportion(self) -> None:
        assert self.ZOOM.worth_mm(24.0) == pytest.approx(24.6)
        assert self.ZOOM.worth_mm(37.0) == pytest.approx(37.0 * (24.6 / 24.0 + 0.98) / 2.0)
        assert prime(28).worth_mm(28.0) == 28.0

    @given(st.floats(24.0, 70.0))
    def test_there_and_back(self, marked: float) -> None:
        assert self.ZOOM.marked_mm(self.ZOOM.worth_mm(marked)) == pytest.approx(marked, rel=1e-6)

    def test_a_zoom_bends_as_measured_only_near_where_it_was(self) -> None:
        assert self.ZOOM.measured_at(52.0) is self.ZOOM.measured[1]
        assert self.ZOOM.measured_at(37.0) is None
        assert replace(prime(28), measured=(LONGER,)).measured_at(28.0) is LONGER


class TestThePlan:
    def test_a_longer_lens_sees_less_and_its_ring_says_the_same(self) -> None:
        plain = case_of(shot_with(prime(28))).stage
        longer = case_of(shot_with(replace(prime(28), measured=(LONGER,)))).stage
        same = case_of(shot_with(replace(prime(29.4), id="l28"))).stage
        assert (longer.marked_mm, longer.focal_mm) == (28.0, pytest.approx(29.4))
        assert longer.crop_across == pytest.approx(same.crop_across)
        assert longer.crop_across > plain.crop_across * 1.04
        assert (
            planned_numbers(case_of(shot_with(replace(prime(28), measured=(LONGER,))))).focal_mm
            == 28.0
        )

    def test_a_take_that_reads_the_mark_off_is_as_planned(self) -> None:
        found = shot_with(replace(prime(28), measured=(LONGER,)))
        case = case_of(found)
        planned = planned_numbers(case)
        taken = as_taken(case, planned, Taken(focal_mm=28.0))
        assert taken.stage.focal_mm == pytest.approx(29.4)
        report = judge_take(found, found.plates[0], Taken(focal_mm=28.0))
        assert next(d for d in report.departures if d.name == "Focal length").planned == "28 mm"

    @pytest.mark.parametrize("decided", [None, 32.0])
    @pytest.mark.parametrize("zoom", [False, True])
    def test_the_planner_judges_as_the_judge(self, zoom: bool, decided: float | None) -> None:
        lens = replace(
            TestMarkAndWorth.ZOOM, id="l28", measured=(LensMeasure(30.0, 31.2, k1=-0.2),)
        )
        if not zoom:
            lens = replace(prime(28), measured=(LONGER,))
        found = shot_with(lens, prime(50, 0.45), focal_mm=decided)
        found = replace(found, kit=replace(found.kit, lenses=(prime(50, 0.45), lens)))
        beside = replace(found.plates[0], id="beside", lens_id="l50", focal_mm=None)
        found = replace(found, plates=(*found.plates, beside))
        ours, theirs = judged(found), from_table(found)
        assert "bend" in ours
        assert {key: theirs[key] for key in ours if key in theirs} == {
            key: ours[key] for key in ours if key in theirs
        }
        assert theirs["bend"] == ours["bend"]


class TestStraightLines:
    @settings(deadline=None, max_examples=40)
    @given(st.floats(-0.25, 0.15), st.floats(-0.05, 0.05), st.floats(18.0, 60.0))
    def test_the_bow_is_that_of_a_line_along_the_edge(
        self, k1: float, k2: float, focal: float
    ) -> None:
        lens = replace(prime(28), measured=(LensMeasure(28.0, 28.0, k1=k1, k2=k2),))
        case = case_of(shot_with(lens))
        case = replace(
            case, shot=replace(case.shot, world=replace(case.shot.world, focal_mm=focal))
        )
        # The reference: OpenCV bends the line itself, through the story's own camera.
        world, delivery = case.shot.world, case.shot.delivery
        wide, high = delivery.width_px, delivery.height_px
        per_px = world.sensor_width_mm / world.focal_mm / wide
        line = np.array([[x, -high / 2.0] for x in (-wide / 2.0, 0.0, wide / 2.0)]) * per_px
        rays = np.column_stack([line, np.ones(3)])
        told, _ = cv2.projectPoints(
            rays, np.zeros(3), np.zeros(3), np.eye(3), np.array([k1, k2, 0.0, 0.0])
        )
        y = told.reshape(-1, 2)[:, 1] / per_px
        bow = float(np.asarray(bow_px(numbers_of(case))))
        # At its ends nearer the middle than halfway along: a barrel.
        assert bow == pytest.approx(y[0] - y[1], abs=1e-6)

    def test_what_was_never_measured_is_not_judged(self) -> None:
        found = shot_with(prime(28))
        assert "bend" not in findings(found)

    def test_the_frame_shows_what_a_straight_frame_becomes(self) -> None:
        lens = replace(prime(28), measured=(replace(LONGER, k1=-0.3),))
        (mark,) = [m for m in plate_marks(case_of(shot_with(lens)), 0.0, True) if m.role == "bent"]
        path = np.array(mark.path)
        # A barrel: its corners lie nearer the middle than its sides bulge.
        top = path[:17, 1]
        assert top[0] > top[8] + 2.0
        assert not [
            m for m in plate_marks(case_of(shot_with(prime(28))), 0.0, True) if m.role == "bent"
        ]

    def test_it_strains_where_it_meets_what_another_lens_filmed(self) -> None:
        lens = replace(prime(28), measured=(replace(LONGER, k1=-0.5),))
        found = shot_with(lens, prime(50, 0.45))
        told = findings(found)["bend"]
        # One plate alone has nothing to fit.
        assert told.verdict is Verdict.HOLDS
        assert "barrel. Nothing is filmed yet" in told.sentence
        same = replace(found.plates[0], id="same", name="Same")
        told = findings(replace(found, plates=(*found.plates, same)))["bend"]
        assert told.verdict is Verdict.HOLDS
        assert "they fit each other" in told.sentence
        other = replace(same, lens_id="l50")
        told = findings(replace(found, plates=(*found.plates, other)))["bend"]
        assert told.verdict is Verdict.STRAINS
        assert "barrel; more than" in told.sentence
        elsewhere = replace(other, view_id="close")
        close = View("close", "Close", world=found.world)
        apart = replace(found, plates=(*found.plates, elsewhere), views=(close,))
        assert findings(apart)["bend"].verdict is Verdict.HOLDS
        calm = shot_with(replace(prime(28), measured=(replace(LONGER, k1=0.0, k2=0.0),)))
        assert "nobody sees that" in findings(calm)["bend"].sentence

    def test_a_zoom_fits_itself_only_where_it_is_set_alike(self) -> None:
        zoom = replace(
            TestMarkAndWorth.ZOOM, id="l28", measured=(LensMeasure(30.0, 30.0, k1=-0.5),)
        )
        found = shot_with(zoom, focal_mm=30.0)
        beside = replace(found.plates[0], id="other")
        assert findings(replace(found, plates=(*found.plates, beside)))["bend"].verdict is (
            Verdict.HOLDS
        )
        wider = replace(beside, focal_mm=26.0)
        assert findings(replace(found, plates=(*found.plates, wider)))["bend"].verdict is (
            Verdict.STRAINS
        )

    @settings(deadline=None, max_examples=10)
    @given(st.floats(-0.3, 0.2), st.floats(-0.1, 0.1), st.floats(-0.3, 0.3), st.floats(-0.3, 0.3))
    def test_straight_is_what_the_library_makes_straight(
        self, k1: float, k2: float, right: float, down: float
    ) -> None:
        bend = Bend(k1, k2, right, down, 20.0, 24.0)
        dice = np.random.default_rng(1)
        picture = cv2.resize(
            dice.uniform(0.0, 1.0, (18, 32)).astype(np.float32),
            (320, 180),
            interpolation=cv2.INTER_CUBIC,
        )
        px = 320 / 24.0
        seen_by = np.array(
            [[20 * px, 0, 159.5 + right * px], [0, 20 * px, 89.5 + down * px], [0, 0, 1]]
        )
        wanted = np.array([[20 * px, 0, 159.5], [0, 20 * px, 89.5], [0, 0, 1]])
        theirs = cv2.undistort(picture, seen_by, np.array([k1, k2, 0.0, 0.0]), None, wanted)
        ours = straight(picture, bend)
        inside = np.zeros_like(ours, bool)
        inside[25:-25, 25:-25] = True
        # OpenCV rounds places to a thirty-second of a pixel.
        assert np.abs(ours - theirs)[inside].max() < 0.02

    def test_nothing_bent_stays(self) -> None:
        picture = np.random.default_rng(2).uniform(0, 1, (40, 60, 3)).astype(np.float32)
        assert (
            np.abs(straight(picture, Bend(0.0, 0.0, 0.0, 0.0, 20.0, 24.0)) - picture).max() < 1e-6
        )

    def test_a_board_seen_through_a_bent_lens_tells_where_the_camera_stood(self) -> None:
        camera = Camera(24.0, 13.5, 18.0, (0.0, -0.9, 0.5), 0.0, -12.0, 0.0)
        plain = find(seen(camera, 1920, 1080, way="standing", up_m=0.3))
        assert plain is not None
        bend = Bend(-0.15, 0.02, 0.1, -0.05, 18.0, 24.0)
        moved = bent(np.asarray(plain.places), bend, plain.width_px, plain.height_px)
        found = replace(plain, places=tuple(map(tuple, moved.tolist())))
        without, counted = (stood(found, "standing", 24.0, 18.0, b) for b in (None, bend))
        assert counted is not None
        assert without is not None
        assert counted[0].distance_m == pytest.approx(0.9, abs=0.003)
        assert counted[0].height_m == pytest.approx(0.2, abs=0.01)
        assert abs(without[0].distance_m - 0.9) > 3.0 * abs(counted[0].distance_m - 0.9)
        assert counted[1] < without[1]


class TestKept:
    def test_what_is_kept_is_focused_at_infinity(self) -> None:
        seen_by = measured(nine(18.0 * (1.0 + 18.0 / 402.0)), SENSOR_MM, 18.0)
        lens = prime(18)
        found = measure_of(lens, seen_by, 18.0, focus_m=0.420)
        # A thin lens of 18 mm focused 420 mm away stands 18 (1 + 18 / 402) mm from the sensor.
        assert found.focal_mm == pytest.approx(18.0, rel=0.003)
        told = {f.key: f for f in judge_lens(lens, seen_by, found)}
        assert told["lens-focal"].verdict is Verdict.HOLDS
        assert told["lens-focal"].sentence.startswith("Its 18 mm are ")

    def test_a_mark_that_cannot_be_asks_for_the_sensor(self) -> None:
        seen_by = measured(nine(), SENSOR_MM * 1.5, 18.0)
        lens = prime(18)
        (worst, *_) = judge_lens(lens, seen_by, measure_of(lens, seen_by, 18.0))
        assert worst.key == "lens-focal"
        assert worst.verdict is Verdict.BREAKS
        assert "width of the sensor" in worst.sentence

    def test_the_plate_s_bend_is_as_focused(self) -> None:
        case = case_of(shot_with(replace(prime(28), measured=(LONGER,))))
        found = bend_of(case)
        assert found is not None
        assert found.pinhole_mm == case.stage.pinhole_mm
        assert bend_of(case_of(shot_with(prime(28)))) is None


class TestDarkCorners:
    def even(self, focal: float, slope: float = 0.0, power: float = 4.0) -> Any:
        """White paper through a lens of a sensor 36 x 20.25: cos^4 of the angle off the axis
        (natural vignetting; Ray, Applied Photographic Optics, from memory)."""
        y, x = np.mgrid[0:270, 0:480]
        right, below = (x + 0.5 - 240.0) * 36.0 / 480.0, (y + 0.5 - 135.0) * 36.0 / 480.0
        angle = np.arctan(np.hypot(right, below) / focal)
        light = 0.35 * np.cos(angle) ** power * 2.0 ** (slope * right / 36.0)
        noise = np.random.default_rng(4).normal(0.0, 0.002, light.shape)
        return to_record(np.repeat((light + noise)[..., None], 3, axis=2).astype(np.float32))

    @pytest.mark.parametrize("focal", [18.0, 28.0, 50.0])
    @pytest.mark.parametrize("slope", [0.0, 0.6])
    def test_cosine_to_the_fourth(self, focal: float, slope: float) -> None:
        found = vignetting(self.even(focal, slope))
        corner = math.atan(math.hypot(18.0, 10.125) / focal)
        assert found.corner_stops == pytest.approx(-4.0 * math.log2(math.cos(corner)), abs=0.05)
        assert found.lit_stops == pytest.approx(slope, abs=0.03)

    def test_what_is_not_even_says_so(self) -> None:
        picture = self.even(28.0)
        picture[100:200, 100:300] *= 0.5
        with pytest.raises(Impossible, match="not even"):
            vignetting(picture)
        with pytest.raises(Impossible, match="burnt out"):
            vignetting(np.ones((90, 160, 3), np.float32))
        with pytest.raises(Impossible, match="too dark"):
            vignetting(np.full((90, 160, 3), 0.02, np.float32))
