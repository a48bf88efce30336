"""Screens, keys and recordings: against reference libraries, standards and cases worked by hand."""

from __future__ import annotations

import itertools
import math
import warnings
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point, box

from jungoptic.core.cost.effort import Job
from jungoptic.core.cost.work import Work
from jungoptic.core.judging.screen_lamps import on_what_is_seen
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.sources import source_of
from jungoptic.core.plan import Lamp, PlacedLamp, Swatch
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.screens import codecs, colours
from jungoptic.core.screens.backdrops import backdrops
from jungoptic.core.screens.hair import example, hair_over, recorded, subsampled
from jungoptic.core.screens.lit import lit_screen, screen_spread
from jungoptic.core.screens.screen_light import (
    ScreenLight,
    corner_factor,
    form_factor,
    spill_lux,
)
from jungoptic.core.screens.shadows import screen_shadows
from jungoptic.core.stage.backing import Backing, backing
from jungoptic.core.study.screen_study import recordings_of, screen_study

from .examples import ANSA, CINEMA, STILLS
from .stages import FULL, case_of, findings, one

BYTES = st.integers(0, 255)
#: The performer of the examples stands 15.4 m away, the screen 2 m behind.
SCREEN_Y, MIDDLE_X = 17.4, 2.94


def side(x, aim_x=MIDDLE_X, y=16.0, z=1.4, level=1.0, lamp="bank"):
    """A lamp aimed at the screen."""
    return PlacedLamp(lamp, x, y, z, level, aim_x_m=aim_x, aim_y_m=SCREEN_Y, aim_z_m=z)


KEY = PlacedLamp("fresnel", 4.5, 13.0, 3.0)


def screened(*lamps, **changes):
    """The performer before a screen lit by these."""
    return one(ANSA, plate_lamps=lamps, **changes)


class TestEvenness:
    def test_one_lamp_at_the_side_is_uneven_and_two_are_less(self):
        one_side = lit_screen(case_of(screened(side(1.2))))
        both = lit_screen(case_of(screened(side(1.2), side(4.7))))
        assert both.spread_stops < one_side.spread_stops

    def test_it_is_the_brightest_over_the_darkest(self):
        case = case_of(screened(side(1.2), KEY))
        found = findings(case.shot)["evenness"]
        assert f"{lit_screen(case).spread_stops:.1f}"[:3] in found.sentence

    def test_a_remedy_says_what_it_gives(self):
        # Two banks close together before the middle: a hot spot.
        shot = screened(side(2.7, y=16.9), side(3.2, y=16.9), KEY)
        case = case_of(shot)
        found = findings(shot)["evenness"]
        assert found.verdict is not Verdict.HOLDS
        assert found.remedies
        for remedy in found.remedies:
            lamps = remedy.changes["lamps"]
            assert f"→ {screen_spread(case, lamps):.1f}".removesuffix(".0") in remedy.effect
        assert any("apart" in r.sentence or "farther" in r.sentence for r in found.remedies)

    def test_without_lamps_of_its_own_that_is_what_it_asks_for(self):
        low = PlacedLamp("fresnel", 2.0, 14.0, 0.4)
        found = findings(screened(low))["evenness"]
        assert "two lamps" in found.remedies[0].sentence


class TestLevel:
    @pytest.mark.parametrize("level", [0.02, 1.0])
    def test_dimmed_to_the_key_it_holds(self, level):
        lamps = (side(1.2, level=level), side(4.7, level=level))
        dim = replace(KEY, level=0.02)
        found = findings(screened(dim, *lamps))["screen-level"]
        if found.verdict is not Verdict.HOLDS:
            assert found.remedies[0].verdict.rank < found.verdict.rank


class TestLampsOfTheScreen:
    """Their light is kept off the action (common practice): it comes from the sides, where the
    story has none."""

    @given(st.floats(-4.0, 4.0), st.floats(-3.0, 1.9), st.floats(0.3, 3.0))
    def test_it_is_the_brightest_patch_that_the_camera_sees(self, x, y, z):
        """Of all patches turned at least edge on to the camera, tried one by one."""
        lamp = side(MIDDLE_X + x, y=15.4 + y, z=z)
        light = lighting(case_of(screened(replace(lamp, role="screen"), KEY)))
        (told,) = (one for one in light.lamps if one.role == "screen")
        way = np.array(lamp.at) - light.at_m
        way /= np.linalg.norm(way)
        across, up = np.radians(np.arange(-90, 91, 1.0)), np.radians(np.arange(-90, 91, 1.0))
        across, up = (grid.ravel() for grid in np.meshgrid(across, up))
        # The camera looks straight ahead, so that what it sees faces back.
        normals = np.stack(
            [np.sin(across) * np.cos(up), -np.cos(across) * np.cos(up), np.sin(up)], axis=1
        )
        best = told.face_lux * max(float((normals @ way).max()), 0.0)
        assert on_what_is_seen(told) == pytest.approx(best, rel=2e-3, abs=1e-6)

    def test_beside_the_action_they_are_a_second_light_and_a_way_out_takes_it_off(self):
        own = tuple(
            PlacedLamp(
                "bank", MIDDLE_X + way * 1.6, 15.4, 1.4, 1.0,
                aim_x_m=MIDDLE_X - way * 0.75, aim_y_m=SCREEN_Y, aim_z_m=1.4, role="screen",
            )
            for way in (-1.0, 1.0)
        )  # fmt: skip
        shot = screened(*own, replace(KEY, level=0.1))
        found = findings(shot)["screen-lamps"]
        assert found.verdict is Verdict.BREAKS
        assert "over the key" in found.sentence
        moved = [r for r in found.remedies if r.changes]
        assert moved
        for remedy in moved:
            plate = replace(shot.plates[0], **remedy.changes)
            after = findings(replace(shot, plates=(plate,)))["screen-lamps"]
            assert after.verdict.rank < found.verdict.rank
            assert after.verdict is remedy.verdict

    @pytest.mark.parametrize(
        ("under", "verdict"),
        [(2.2, "holds"), (1.9, "strains"), (0.1, "strains"), (-0.1, "breaks")],
    )
    def test_a_fourth_of_the_key_holds_and_as_much_breaks(self, under, verdict):
        x, y, z = lighting(case_of(screened(KEY))).at_m
        own = PlacedLamp("bank", x - 1.5, y, z, 0.1, role="screen")
        lux = {a.role: a.face_lux for a in lighting(case_of(screened(own, KEY))).lamps}
        key = replace(KEY, level=lux["screen"] / lux["key"] * 2.0**under)
        found = findings(screened(own, key))["screen-lamps"]
        assert found.verdict.value == verdict
        assert f"{abs(under):.1f} stops {'over' if under < 0 else 'under'}" in found.sentence

    def test_a_card_of_before_is_judged_as_it_was(self):
        own = PlacedLamp("bank", 1.4, 15.4, 1.4, role="screen")
        shot = screened(own, KEY)
        assert "screen-lamps" in findings(shot)
        assert "screen-lamps" not in findings(replace(shot, old_rules=True))
        assert "screen-lamps" not in findings(screened(own))


class TestSpill:
    @pytest.mark.parametrize(("a", "b", "d"), [(1, 1, 1), (3, 0.5, 2), (0.2, 4, 0.7)])
    def test_the_corner_factor_is_the_integral(self, a, b, d):
        # F = integral of cos^2 / (pi r^2) over the rectangle, 1,500 x 1,500 patches.
        x = (np.arange(1500) + 0.5) / 1500 * a
        y = (np.arange(1500) + 0.5) / 1500 * b
        r2 = x[None, :] ** 2 + y[:, None] ** 2 + d * d
        exact = float((d * d / (math.pi * r2 * r2)).mean()) * a * b
        assert corner_factor(a, b, d) == pytest.approx(exact, rel=1e-5)

    def test_everything_before_it_is_one_and_straight_sides_add(self):
        assert form_factor(-1e4, 1e4, -1e4, 1e4, 1.0) == pytest.approx(1.0, abs=1e-3)
        whole = form_factor(-1, 2, -0.5, 3, 2)
        parts = form_factor(-1, 0.7, -0.5, 3, 2) + form_factor(0.7, 2, -0.5, 3, 2)
        assert whole == pytest.approx(parts)

    def test_it_falls_with_the_gap(self):
        spills = []
        for gap in (1.0, 2.0, 4.0):
            case = case_of(screened(plate_screen_gap_m=gap))
            spills.append(spill_lux(1000.0, case.plate, backing(case), (2.6, 15.4, 1.7)))
        assert spills[0] > spills[1] > spills[2]

    def test_too_near_it_strains_and_farther_it_holds(self):
        lamps = [replace(side(x), aim_y_m=15.9, y_m=14.9) for x in (0.8, 5.0)]
        found = findings(screened(replace(KEY, level=0.03), *lamps, plate_screen_gap_m=0.5))[
            "spill"
        ]
        assert found.verdict is not Verdict.HOLDS
        assert "behind the action" in found.remedies[0].sentence


class TestShadow:
    def test_a_low_frontal_lamp_throws_it_and_a_high_side_one_does_not(self):
        front = findings(screened(PlacedLamp("fresnel", 2.6, 12.0, 1.6)))["screen-shadow"]
        assert front.verdict is Verdict.BREAKS
        aside = findings(screened(PlacedLamp("fresnel", -2.0, 14.0, 2.0)))["screen-shadow"]
        assert aside.verdict is Verdict.HOLDS

    def test_the_screens_own_light_drowns_it(self):
        lamp = PlacedLamp("panel", 2.6, 12.0, 1.6, level=0.05)
        lamps = tuple(side(x, y=16.6) for x in (1.0, 4.9))
        assert findings(screened(lamp, *lamps))["screen-shadow"].verdict is Verdict.HOLDS

    @pytest.mark.parametrize("lamp_m", [0.02, 0.4, 1.2])
    @pytest.mark.parametrize("away_m", [0.8, 2.5, 9.0])
    def test_a_soft_lamp_throws_the_part_of_it_that_is_hidden(self, lamp_m, away_m):
        # A card 0.4 m wide and high, 3 m before a round lamp, the screen behind it: what the
        # middle of the shadow loses is the area of the lamp's disc behind the card (shapely).
        lamp = Lamp("disc", "Disc", 1000.0, lamp_m)
        placed = PlacedLamp("disc", 0.0, 0.0, 0.0)
        source = source_of(0, lamp, placed, (0.0, 9.0, 0.0), True)
        card = np.array([[x, 3.0, z] for x in (-0.2, 0.2) for z in (-0.2, 0.2)])
        wall = Backing(3.0 + away_m, 0.0, -0.01, 0.01, -0.01, 0.01)
        lit = ScreenLight(1.0, 0.0, -0.01, 0.01, -0.01, 0.01)
        (found,) = screen_shadows((source,), [[card]], wall, lit)
        half = 0.2 * (3.0 + away_m) / away_m
        disc = Point(0.0, 0.0).buffer(lamp_m / 2.0, 256)
        share = disc.intersection(box(-half, -half, half, half)).area / disc.area
        assert found.hidden == pytest.approx(share, abs=0.06)
        if share > 0.999:
            assert found.darker_stops == math.inf

    def test_a_large_lamp_softens_the_shadow_away(self):
        hard, soft = (
            findings(screened(PlacedLamp("panel", 2.6, 12.0, 1.6, size_m=size)))["screen-shadow"]
            for size in (None, 2.0)
        )
        assert hard.verdict is Verdict.BREAKS
        assert soft.workings[0].result.value < hard.workings[0].result.value
        assert "soft shadow" in soft.sentence


class TestFloor:
    def test_feet_in_the_picture_need_the_sweep(self):
        shot = screened(tilt_deg=-4.0)
        found = findings(shot)["sweep"]
        assert found.verdict is Verdict.STRAINS
        needed = found.remedies[0].changes["screen_sweep_m"]
        assert needed == pytest.approx(2.0 + 0.3)
        again = screened(tilt_deg=-4.0, plate_screen_sweep_m=needed)
        assert findings(again)["sweep"].verdict is Verdict.HOLDS

    def test_without_feet_there_is_nothing_to_say(self):
        assert "sweep" not in findings(screened(tilt_deg=12.0, focal_mm=85.0))


class TestColours:
    @given(BYTES, BYTES, BYTES)
    def test_lab_is_that_of_the_reference_library(self, r, g, b):
        # colour-science, CIE 15 with D65 (IEC 61966-2-1).
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import colour

            xyz = colour.sRGB_to_XYZ(np.array([r, g, b]) / 255.0)
            white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
            exact = colour.XYZ_to_Lab(xyz, white)
        np.testing.assert_allclose(colours.lab((r, g, b)), exact, atol=0.06)

    @pytest.mark.parametrize(("matrix", "name"), [("709", "ITU-R BT.709"), ("601", "ITU-R BT.601")])
    @given(BYTES, BYTES, BYTES)
    def test_ycbcr_is_that_of_the_reference_library(self, matrix, name, r, g, b):
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import colour

            exact = colour.RGB_to_YCbCr(
                np.array([r, g, b]) / 255.0,
                K=colour.WEIGHTS_YCBCR[name],
                in_legal=False,
                out_legal=False,
                out_bits=8,
            )
        np.testing.assert_allclose(colours.ycbcr((r, g, b), matrix), exact, atol=1e-9)

    def test_coefficients_of_the_standards(self):
        # ITU-R BT.709: 0.2126, 0.7152, 0.0722; BT.601: 0.299, 0.587, 0.114.
        for matrix, exact in (("709", (0.2126, 0.7152, 0.0722)), ("601", (0.299, 0.587, 0.114))):
            for channel in range(3):
                rgb = [0.0, 0.0, 0.0]
                rgb[channel] = 255.0
                assert colours.ycbcr(tuple(rgb), matrix)[0] == pytest.approx(exact[channel])

    @pytest.mark.parametrize(
        ("swatch", "screens"),
        [
            # Facts of the trade (common practice): foliage goes on blue, a blue coat on green,
            # flame and smoke on black, dark hair anywhere but black.
            (Swatch("Ivy", "foliage", 60, 110, 45), {"blue"}),
            (Swatch("Coat", "wardrobe", 35, 60, 150), {"green"}),
            (Swatch("Torch", "flame", 250, 180, 70), {"black"}),
            (Swatch("Smoke", "smoke", 200, 200, 205), {"black"}),
            (Swatch("Face", "skin", 205, 160, 135), {"green", "blue"}),
        ],
    )
    def test_the_first_choice_is_the_trades(self, swatch, screens):
        assert colours.choose([swatch])[0].screen in screens

    def test_the_worst_swatch_decides_and_is_named(self):
        coat = Swatch("Moss coat", "wardrobe", 60, 130, 70)
        face = Swatch("Face", "skin", 205, 160, 135)
        found = {c.screen: c for c in colours.choose([face, coat])}
        assert found["green"].score < found["blue"].score
        assert "Moss coat" in found["green"].reason

    def test_the_finding_warns_and_offers_another_screen(self):
        coat = Swatch("Moss coat", "wardrobe", 60, 130, 70)
        found = findings(screened(plate_swatches=(coat,)))["screen-colour"]
        assert found.verdict is not Verdict.HOLDS
        assert "Moss coat" in found.sentence
        assert found.remedies[0].changes["screen_colour"] == "blue"
        assert any("Change Moss coat" in r.sentence for r in found.remedies)

    @given(BYTES, BYTES, BYTES)
    def test_any_colour_finds_an_order(self, r, g, b):
        found = colours.choose([Swatch("x", "prop", r, g, b)])
        assert len(found) == len(colours.SCREENS)
        assert all(0.0 <= c.score <= 1.0 for c in found)


class TestRecording:
    def test_chroma_pitch_worked_by_hand(self):
        # 3840 recorded 4:2:0 for 1920 delivered: 2 x 1920 / 3840 = 1 pixel both ways.
        assert codecs.chroma_pitch_px("4:2:0", 3840, 1920) == (1.0, 1.0)
        # 1920 recorded 4:2:2: 2 pixels across, 1 down; 4:4:4: 1 and 1.
        assert codecs.chroma_pitch_px("4:2:2", 1920, 1920) == (2.0, 1.0)
        assert codecs.chroma_pitch_px("4:4:4", 1920, 1920) == (1.0, 1.0)

    def test_code_values(self):
        # ITU-R BT.709: 16..235 in 8 bits is 220 values, 64..940 in 10 bits 877.
        assert codecs.code_values(8) == 220
        assert codecs.code_values(10) == 877
        assert codecs.code_values(10, 1.0) > 3 * codecs.code_values(8, 1.0)

    def test_storage(self):
        # 400 Mb/s for 60 s: 24,000 Mb = 3,000 MB = 3 GB.
        assert codecs.storage_gb(400.0, 60.0) == pytest.approx(3.0)

    def test_subsampling_worked_by_hand(self):
        plane = np.array([[0.0, 4.0, 8.0, 8.0], [0.0, 0.0, 8.0, 8.0]])
        # 4:2:2: pairs across average to 2, 8 / 0, 8; read back by straight lines between the
        # middles of the pairs: 2, 3.5, 6.5, 8.
        np.testing.assert_allclose(subsampled(plane, "4:2:2")[0], [2.0, 3.5, 6.5, 8.0])
        # 4:2:0: blocks of four average to 1 and 8.
        np.testing.assert_allclose(subsampled(plane, "4:2:0"), [[1.0, 2.75, 6.25, 8.0]] * 2)
        np.testing.assert_allclose(subsampled(plane, "4:4:4"), plane)

    def test_ten_bits_of_everything_give_the_picture_back(self):
        picture, _ = hair_over("green")
        assert np.abs(recorded(picture, 10, "4:4:4") - picture).max() < 0.5
        assert np.abs(recorded(picture, 8, "4:4:4") - picture).max() < 2.0

    def test_less_colour_leaves_a_worse_matte(self):
        errors = [example("green", 10, s).error for s in ("4:4:4", "4:2:2", "4:2:0")]
        assert errors[0] < errors[1] < errors[2]
        assert example("green", 8, "4:2:0").error >= errors[2] * 0.98

    def test_a_bare_screen_is_clear_and_a_whole_head_is_solid(self):
        found = example("blue", 10, "4:4:4")
        assert found.matte[found.truth == 0.0].mean() < 0.06
        assert found.matte[found.truth == 1.0].mean() > 0.97

    def test_the_finding_and_its_way_out(self):
        coarse = replace(STILLS.modes[1], subsampling="4:2:0")
        fine = replace(CINEMA.modes[0], subsampling="4:2:2", bit_depth=10)
        kit = replace(
            FULL,
            bodies=(replace(CINEMA, modes=(fine,)), replace(STILLS, modes=(coarse,))),
        )
        shot = replace(screened(plate_body_id="stills", plate_mode_id="fast"), kit=kit)
        found = findings(shot)["recording"]
        assert found.verdict is not Verdict.HOLDS
        assert "Cinema body" in found.remedies[0].sentence

    def test_the_cheapest_that_holds(self):
        made = [
            codecs.recording(
                replace(STILLS.modes[0], id=i, subsampling=s, bitrate_mbps=rate),
                "b",
                px,
                1920,
                1.0,
                10.0,
                0.5,
            )
            for i, s, rate, px in (
                ("rich", "4:4:4", 800.0, 3840),
                ("lean", "4:2:0", 100.0, 3840),
                ("poor", "4:2:0", 50.0, 1920),
            )
        ]
        assert codecs.cheapest_that_holds(made).mode_id == "lean"
        assert codecs.cheapest_that_holds(made[2:]) is None


class TestRecordings:
    @pytest.mark.parametrize("lens", [lens.id for lens in FULL.lenses])
    def test_it_says_what_the_rule_says_with_the_lens_in_hand(self, lens):
        """Each mode as the study has it, and as the plate is judged when it is chosen."""
        shot = screened(plate_lens_id=lens)
        told = {r.mode_id: r for r in recordings_of(case_of(shot))}
        assert told
        for body in shot.kit.bodies:
            for mode in body.modes:
                chosen = screened(plate_lens_id=lens, plate_body_id=body.id, plate_mode_id=mode.id)
                found, case = findings(chosen), case_of(chosen)
                pixels = case.stage.pixels_across
                step = max(codecs.CHROMA_STEP[mode.subsampling])
                assert max(told[mode.id].pitch_px) == pytest.approx(step * 1920 / pixels)
                missing = "too long" in found["view"].sentence
                assert ("too little" in told[mode.id].remark) is missing
                holds = found["recording"].verdict is Verdict.HOLDS and not missing
                assert told[mode.id].holds is holds


class TestStudy:
    def test_shares_of_the_frame(self):
        found = screen_study(
            case_of(screened(plate_screen_width_m=60.0, plate_screen_height_m=40.0))
        )
        assert found.covered > 0.5
        small = screen_study(case_of(screened()))
        assert small.garbage == pytest.approx(1.0 - small.covered)
        assert 0.0 < small.action < small.covered

    def test_texture_blurs_more_when_open(self):
        wide, small = (
            screen_study(case_of(screened(plate_f_number=n))).blur_px for n in (2.0, 11.0)
        )
        assert wide > small

    def test_every_mode_is_weighed(self):
        found = screen_study(case_of(screened()))
        assert [r.mode_id for r in found.recordings] == ["4k", "uhd", "fast"]

    def test_other_plates_have_none(self):
        assert screen_study(case_of(one())) is None


class TestCost:
    JOB = Job("a", "A", "screen", Work(cut="key", shapes=4, takes=4), 6.0, 24.0)

    def test_all_ways_are_costed_cheapest_first(self):
        found = backdrops(self.JOB)
        assert {b.key for b in found} == {"key", "roto", "sky", "snow", "black"}
        totals = [b.set.likely + b.post.likely for b in found]
        assert totals == sorted(totals)

    def test_roto_grows_with_shapes_and_a_key_does_not(self):
        more = replace(self.JOB, work=replace(self.JOB.work, shapes=12))
        few, many = ({b.key: b for b in backdrops(j)} for j in (self.JOB, more))
        assert many["roto"].post.likely > few["roto"].post.likely
        assert many["key"].post.likely == few["key"].post.likely


def test_screens_are_told_apart_from_one_another():
    by_colour = [c for c in colours.SCREENS if c in colours.BY_COLOUR]
    for one_screen, other in itertools.combinations(by_colour, 2):
        swatch = Swatch("s", "prop", *colours.SCREENS[other])
        assert colours.separation(swatch, one_screen).score > 0.9
