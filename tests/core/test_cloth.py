"""A cloth as it was filmed and the key tried on it, on pictures whose every fault is known."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.filmed.cloth import judge_cloth, judge_key, judge_levels, none_found
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures import cloth_map
from jungoptic.core.pictures.keying import cloth
from jungoptic.core.pictures.screen import ScreenMeasure, evenness, patches
from jungoptic.core.pictures.tone import to_record
from jungoptic.core.pictures.trial import Levels, Trial, despilled, levels, tried
from jungoptic.core.plan.findings import Verdict

from .examples import ANSA, MILL

WIDE, HIGH = 960, 540
LIGHT = {"green": (0.03, 0.30, 0.05), "blue": (0.03, 0.06, 0.32)}


def figure(hole: bool = False) -> Any:
    """Somebody: a head, shoulders, strands of hair; (h, w) of 1."""
    kept = np.zeros((HIGH, WIDE), np.float32)
    cv2.ellipse(kept, (480, 200), (45, 60), 0, 0, 360, (1.0,), -1)
    cv2.rectangle(kept, (400, 250), (560, HIGH), (1.0,), -1)
    for k in range(20):
        cv2.line(kept, (440 + 4 * k, 150), (420 + 6 * k, 100), (1.0,), 1)
    if hole:
        cv2.circle(kept, (480, 400), 20, (0.0,), -1)
    return kept


def filmed(
    colour: str = "green",
    across: float = 0.0,
    down: float = 0.0,
    noise: float = 0.006,
    spill: float = 0.0,
    soft: float = 0.7,
    hole: bool = False,
    bright: float = 1.0,
) -> tuple[Any, Any]:
    """(picture as recorded, what of it should be kept): somebody before a cloth that gets darker by
    so many stops to the right and down."""
    y, x = np.mgrid[0:HIGH, 0:WIDE].astype(np.float32)
    fall = 2.0 ** -(across * x / WIDE + down * y / HIGH)
    back = np.stack([bright * part * fall for part in LIGHT[colour]], axis=2)
    kept = cv2.GaussianBlur(figure(hole), (0, 0), soft)
    front = np.array([0.35, 0.22, 0.16]) + spill * np.array(LIGHT[colour])
    light = back * (1.0 - kept[..., None]) + front * kept[..., None]
    grain = np.random.default_rng(1).normal(0.0, noise, light.shape)
    picture = np.clip(to_record(light.astype(np.float32)) + grain, 0.0, 1.0)
    return picture.astype(np.float32), kept


class TestTheKey:
    @pytest.mark.parametrize("colour", ["green", "blue"])
    def test_a_good_cloth_keeps_who_stands_before_it(self, colour: str) -> None:
        picture, wanted = filmed(colour)
        kept, trial = tried(picture, colour)
        assert float(np.abs(kept - wanted).mean()) < 0.006
        assert trial.kept == pytest.approx(float((wanted > 0.9).mean()), abs=0.004)
        assert trial.cloth == pytest.approx(float((wanted < 0.1).mean()), abs=0.01)
        assert trial.holes < 0.002
        assert trial.veil < 0.03
        assert {f.verdict for f in judge_key(colour, trial, 1.0)} == {Verdict.HOLDS}

    def test_a_hole_is_found_and_cloth_between_arm_and_body_is_none(self) -> None:
        _, trial = tried(filmed(hole=True)[0])
        assert trial.holes > 0.004
        found = {f.key: f for f in judge_key("green", trial, 1.0)}
        assert "shows through" in found["key-holes"].sentence
        picture, kept = filmed()
        open_arm = kept.copy()
        # As large as a hand on the hip leaves open.
        open_arm[300:420, 440:520] = 0.0
        back = filmed()[0]
        bare = np.array(to_record(np.array(LIGHT["green"], np.float32)[None, None])[0, 0])
        picture = np.where(open_arm[..., None] > 0, back, bare).astype(np.float32)
        assert tried(picture)[1].holes < 0.01

    def test_edges_are_as_wide_as_the_lens_made_them(self) -> None:
        # A Gaussian edge goes from a tenth to nine tenths over 2.563 of its sigma; skin, which is
        # redder than green, is told from the cloth before it covers it, so the matte is narrower.
        found = []
        for sigma in (1.5, 3.0, 5.0):
            _, trial = tried(filmed(soft=sigma, noise=0.002)[0])
            assert trial.edge_px is not None
            assert 1.0 * sigma < trial.edge_px < 2.7 * sigma
            found.append(trial.edge_px)
        assert found == sorted(found)
        wide = judge_key("green", Trial(0.5, 0.4, 0.0, 0.0, 6.0, 0.0), 1.0)
        assert next(f for f in wide if f.key == "key-edge").verdict is Verdict.STRAINS
        # Delivered at half of it, they are half as wide.
        fine = judge_key("green", Trial(0.5, 0.4, 0.0, 0.0, 6.0, 0.0), 0.5)
        assert next(f for f in fine if f.key == "key-edge").verdict is Verdict.HOLDS

    def test_spill_is_measured_and_taken_off(self) -> None:
        plain, _ = tried(filmed()[0])[1], None
        picture = filmed(spill=0.55)[0]
        assert plain.spill < 0.01
        figure_only = figure() > 0.99
        over = picture[..., 1] - np.maximum(picture[..., 0], picture[..., 2])
        assert over[figure_only].mean() > -0.05
        clean = despilled(picture, "green")
        assert (clean[..., 1] <= np.maximum(clean[..., 0], clean[..., 2]) + 1e-6).all()
        assert np.array_equal(clean[..., [0, 2]], picture[..., [0, 2]])
        assert np.array_equal(despilled(picture, "black"), picture)

    def test_grain_is_named_where_it_makes_the_veil(self) -> None:
        picture = filmed(noise=0.045)[0]
        _, trial = tried(picture)
        grain = evenness(picture, cloth(picture)).noise
        veil = {f.key: f for f in judge_key("green", trial, 1.0, grain)}["key-veil"]
        assert veil.verdict is not Verdict.HOLDS
        assert "grain, above all" in veil.sentence

    def test_the_matte_is_drawn_tighter_on_demand(self) -> None:
        picture = filmed(noise=0.03)[0]
        loose, tight = tried(picture)[1], tried(picture, low=0.2, high=0.9)[1]
        assert tight.veil < loose.veil
        for low, high in ((0.5, 0.5), (0.6, 0.2), (-0.1, 1.0), (0.0, 1.1)):
            with pytest.raises(Impossible, match="low must be below high"):
                tried(picture, low=low, high=high)

    def test_without_a_cloth_everything_stays(self) -> None:
        grey = np.full((90, 160, 3), 0.4, np.float32)
        kept, trial = tried(grey, "green")
        assert (kept == 1.0).all()
        assert (trial.cloth, trial.edge_px) == (0.0, None)
        assert none_found("green", planned=True).verdict is Verdict.BREAKS
        assert none_found("sky", planned=False).verdict is Verdict.HOLDS
        with pytest.raises(Impossible, match="colour must be one of"):
            cloth(grey, "pink")

    def test_grey_with_a_tint_is_no_cloth(self) -> None:
        door = np.full((90, 160, 3), 0.3, np.float32)
        door[..., 2] = 0.34
        assert not cloth(door, "blue").any()
        assert (tried(door, "blue")[0] == 1.0).all()

    def test_what_shines_over_black(self) -> None:
        picture = np.full((HIGH, WIDE, 3), 0.01, np.float32)
        cv2.circle(picture, (300, 300), 60, (0.9, 0.6, 0.2), -1)
        kept, trial = tried(picture, "black")
        assert kept[300, 300] == 1.0
        assert kept[50, 50] == 0.0
        assert trial.cloth > 0.9
        keys = {f.key for f in judge_key("black", trial, 1.0)}
        assert "key-spill" not in keys


class TestTheCloth:
    @pytest.mark.parametrize(
        ("across", "down", "bright", "dark"),
        [
            (1.0, 0.0, "on the left", "on the right"),
            (-1.0, 0.0, "on the right", "on the left"),
            (0.0, 1.0, "at the top", "at the bottom"),
            (0.9, 0.9, "at the top on the left", "at the bottom on the right"),
        ],
    )
    def test_it_is_said_where_it_is_bright_and_where_dark(
        self, across: float, down: float, bright: str, dark: str
    ) -> None:
        picture = filmed(across=across, down=down)[0]
        there = cloth(picture)
        assert cloth_map.places(patches(picture, there)) == (bright, dark)
        measured = evenness(picture, there)
        assert measured.range_stops == pytest.approx(abs(across) + abs(down), abs=0.25)
        even = judge_cloth("green", measured, (bright, dark), 0.5)[0]
        assert f"brightest {bright}, darkest {dark}" in even.sentence

    def test_areas_add_up_to_the_mean_and_lie_on_the_cloth(self) -> None:
        picture = filmed(across=1.2)[0]
        found = patches(picture, cloth(picture))
        areas = cloth_map.areas(found)
        assert len(areas) >= 16
        columns: dict[float, list[float]] = {}
        for area in areas:
            assert 0.0 <= area.left < area.right <= 1.0
            assert 0.0 <= area.top < area.bottom <= 1.0
            columns.setdefault(area.left, []).append(area.stops)
        means = [float(np.mean(columns[left])) for left in sorted(columns)]
        assert means == sorted(means, reverse=True)

    def test_lines_of_equal_light_run_where_the_light_is_equal(self) -> None:
        picture = filmed(across=1.2, noise=0.002)[0]
        lines = cloth_map.lines(patches(picture, cloth(picture)))
        assert {round(line.stops, 2) for line in lines} >= {-0.25, 0.0, 0.25}
        for line in lines:
            xs = [x for x, _ in line.points]
            # The light falls to the right alone: each line stands upright.
            assert max(xs) - min(xs) < 0.06
            assert all(0.0 <= v <= 1.0 for point in line.points for v in point)

    def test_a_part_of_a_picture_is_enough(self) -> None:
        small = np.full((3, 3, 3), 0.5, np.float32)
        assert cloth_map.lines(patches(small)) == []
        assert len(cloth_map.areas(patches(small))) >= 1

    @pytest.mark.parametrize(
        ("level", "verdict", "words"),
        [
            (0.2, "strains", "full of noise"),
            (0.5, "holds", "as a cloth"),
            (0.9, "strains", "pales"),
        ],
    )
    def test_its_level(self, level: float, verdict: str, words: str) -> None:
        found = judge_cloth("green", ScreenMeasure(0.1, 0.4, 2.0, 0.0), ("", ""), level)
        one = next(f for f in found if f.key == "cloth-level")
        assert (str(one.verdict), words in one.sentence) == (verdict, True)

    def test_clipped_of_two_hues_and_grainy(self) -> None:
        bad = ScreenMeasure(0.1, 0.4, 50.0, 0.1, 0.05)
        found = {f.key: f for f in judge_cloth("green", bad, ("", ""), 0.5)}
        assert found["cloth-level"].verdict is Verdict.BREAKS
        assert "two fabrics" in found["cloth-hue"].sentence
        assert "lower ISO" in found["cloth-grain"].sentence
        # Of a wall only its evenness counts.
        assert {f.key for f in judge_cloth("sky", bad, ("", ""), 0.5)} == {"cloth-even"}


class TestLevels:
    def test_what_is_clipped_and_what_is_black(self) -> None:
        picture = np.full((100, 100, 3), 0.4, np.float32)
        picture[:20], picture[90:] = 1.0, 0.0
        found = levels(picture)
        assert (found.clipped, found.crushed) == pytest.approx((0.2, 0.1))
        assert (found.shining, found.burnt) == pytest.approx((0.2, 1.0))
        said = {f.key: f for f in judge_levels(MILL, found)}
        assert said["levels-clipped"].verdict is Verdict.BREAKS
        assert said["levels-crushed"].verdict is Verdict.HOLDS

    def test_of_fire_the_flame_counts(self) -> None:
        fire = MILL.__class__("f", "Flames", "element")
        (burnt,) = judge_levels(fire, Levels(0.1, 0.8, 0.12, 0.83))
        assert burnt.verdict is Verdict.BREAKS
        assert "83 % of what shines is clipped" in burnt.sentence
        (dark,) = judge_levels(fire, Levels(0.0, 1.0, 0.0, 0.0))
        assert "Nothing shines" in dark.sentence

    def test_a_black_cloth_is_meant_to_be_black(self) -> None:
        black = ANSA.__class__("f", "Sparks", "screen", screen_colour="black")
        assert {f.key for f in judge_levels(black, Levels(0, 0.9, 0, 0))} == {"levels-clipped"}

    @given(st.floats(0, 1), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
    def test_any_levels_are_said(self, a: float, b: float, c: float, d: float) -> None:
        for finding in judge_levels(None, Levels(a, b, c, d)):
            assert finding.sentence[-1] in ".?"
