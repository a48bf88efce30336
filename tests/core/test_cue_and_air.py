"""Interactive light, the simulated lamp that plays it, and haze as layers."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.cards.card import card_lines
from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.cue import curve, flashes, table
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.playing import playing, together
from jungoptic.core.plan import PlacedLamp
from jungoptic.core.plan.cue import CUE_NAMES, Cue, LevelKey
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import Beat
from jungoptic.core.report.shot_report import plate_report
from jungoptic.core.study.air import CARD_STEP, air_of, smoke_for, tint_of
from jungoptic.devices.dimmer import SimulatedLamp, played

from .examples import ANSA, MILL, shot
from .stages import case_of, one

KINDS = st.sampled_from(["fire", "lightning", "passing", "snap"])


class TestCurves:
    @given(KINDS, st.floats(0, 0.5), st.floats(0.5, 1), st.floats(0.1, 12), st.integers(0, 50))
    def test_levels_stay_between_low_and_high(self, kind, low, high, per_s, seed):
        found = curve(Cue(kind, 0, low, high, per_s, seed=seed), 4.0, 24.0)
        assert len(found.levels) == 96
        assert found.levels.min() >= min(low, 0.0) - 1e-9
        assert found.levels.max() <= high + 1e-9

    def test_the_same_seed_flickers_alike(self):
        a, b = (curve(Cue("fire", seed=3), 4.0, 24.0).levels for _ in range(2))
        assert np.array_equal(a, b)
        assert not np.array_equal(a, curve(Cue("fire", seed=4), 4.0, 24.0).levels)

    def test_a_passing_lamp_is_the_inverse_square(self):
        # Nearest at half its time; sqrt(3) distances aside at the ends, a quarter as bright.
        found = curve(Cue("passing", low=0.0, high=1.0, per_s=0.25), 4.0, 25.0).levels
        assert found[50] == pytest.approx(1.0, abs=1e-6)
        aside = (25 / 100 * 2 - 1) * math.sqrt(3)
        assert found[25] == pytest.approx((1 / (1 + aside**2) - 0.25) / 0.75, abs=1e-6)

    def test_a_snap_is_there_in_its_frame_and_not_before(self):
        found = curve(Cue("snap", low=0.0, high=0.8, at_s=1.0), 3.0, 24.0).levels
        assert found[23] == 0.0
        assert found[24] > 0.7
        assert abs(found[-1] - 0.6) < 0.02

    def test_lightning_is_dark_between_strokes(self):
        found = curve(Cue("lightning", low=0.0, high=1.0, per_s=0.6, seed=2), 10.0, 24.0).levels
        assert (found < 0.05).mean() > 0.5
        assert found.max() > 0.9

    def test_nonsense_is_refused(self):
        with pytest.raises(ValueError, match="low to high"):
            curve(Cue("fire", low=0.9, high=0.1), 1.0, 24.0)
        with pytest.raises(ValueError, match="ten minutes"):
            curve(Cue("fire"), 601.0, 24.0)

    def test_the_table_has_every_frame(self):
        rows = table(curve(Cue("fire"), 2.0, 24.0))
        assert [r[0] for r in rows] == list(range(1, 49))
        assert rows[24][1] == pytest.approx(1.0)


class TestFlashes:
    @pytest.mark.parametrize("hertz", [1, 2, 3, 4, 6, 12])
    def test_square_waves_are_counted(self, hertz):
        # ITU-R BT.1702 (from memory): a flash is a pair of opposing changes.
        t = np.arange(96) / 48.0
        levels = np.where((t * hertz) % 1.0 < 0.5, 1.0, 0.0)
        most, first = flashes(levels, 48.0)
        assert abs(most - hertz) <= 1
        assert first >= 1

    @pytest.mark.parametrize("fps", [24.0, 60.0, 240.0])
    @pytest.mark.parametrize("hertz", [1, 2, 3, 4, 5])
    def test_swells_are_counted_however_many_frames_they_take(self, hertz, fps):
        # WCAG 2.3.1 (from memory): changes between extremes, not from frame to frame.
        t = np.arange(int(3 * fps)) / fps
        for level in (np.sin, np.cos, lambda x: -np.cos(x)):
            assert flashes(0.5 + 0.4 * level(t * 2 * math.pi * hertz), fps)[0] == hertz

    @given(st.lists(st.floats(0, 1), min_size=2, max_size=60), st.integers(1, 9))
    def test_slower_frames_between_change_nothing_in_a_second(self, levels, between):
        # The same curve with more frames drawn straight between those there were.
        fine = np.interp(
            np.arange((len(levels) - 1) * between + 1) / between, np.arange(len(levels)), levels
        )
        assert flashes(fine, 200.0 * between)[0] == flashes(np.array(levels), 200.0)[0]

    @pytest.mark.parametrize("kind", CUE_NAMES)
    @pytest.mark.parametrize("per_s", [0.5, 1.5, 3.0])
    def test_no_pattern_flashes_too_often_unless_it_is_asked_to(self, kind, per_s):
        for seed in range(30):
            cue = Cue(kind, per_s=per_s, seed=seed, low=0.0, high=1.0)
            assert curve(cue, 6.0, 24.0).safe, seed

    def test_slow_swells_and_tiny_ones_are_none(self):
        t = np.arange(240) / 24.0
        assert flashes(np.full(100, 0.4), 24.0)[0] == 0
        assert flashes(0.5 + 0.04 * np.sin(t * 60), 24.0)[0] == 0
        assert flashes(0.5 + 0.4 * np.sin(t * 2 * math.pi * 0.4), 24.0)[0] <= 1

    def test_a_change_between_bright_levels_is_none(self):
        levels = np.tile([0.85, 1.0], 48)
        assert flashes(levels, 24.0)[0] == 0

    def test_a_lively_storm_is_not_called_safe(self):
        wild = curve(Cue("lightning", low=0.0, high=1.0, per_s=8.0), 6.0, 48.0)
        assert not wild.safe
        assert any("seizures" in c for c in wild.cautions)


class TestSimulatedLamp:
    def test_diodes_follow_at_once_in_steps(self):
        shown = played(SimulatedLamp(steps=10), [0.0, 0.34, 0.36, 1.0], 24.0)
        assert shown == pytest.approx([0.0, 0.3, 0.4, 1.0])

    def test_a_filament_follows_by_its_time_constant(self):
        # One time constant: 63 % (1 - 1/e).
        lamp = SimulatedLamp(response_s=0.1, steps=1000)
        assert played(lamp, [1.0] * 3, 30.0)[-1] == pytest.approx(1 - math.exp(-1), abs=1e-3)

    @given(st.lists(st.floats(0, 1), min_size=1, max_size=60), st.floats(0, 1))
    def test_it_never_overshoots(self, levels, response):
        shown = played(SimulatedLamp(response_s=response), levels, 24.0)
        assert max(shown) <= max(levels) + 0.5 / 255
        assert len(shown) == len(levels)

    def test_it_refuses_what_no_dimmer_takes(self):
        with pytest.raises(ValueError, match="0 to 1"):
            SimulatedLamp().set_level(1.2)
        with pytest.raises(ValueError, match="forwards"):
            SimulatedLamp().level_after(-1.0)


class TestAir:
    def test_two_kilometres_of_ten(self):
        # Koschmieder, 2 % contrast: 1 - exp(-3.912 x 2 / 10) = 54 %.
        far = tuple(
            s if s.id != "house" else s.__class__("house", "Mill", "card", 0, 2000, 0, 50, 50)
            for s in shot().stand_ins
        )
        air = air_of(shot(stand_ins=far, visibility_m=10_000.0))
        assert air.veils[-1].opacity == pytest.approx(0.54, abs=0.005)

    @given(st.floats(50.0, 5000.0), st.lists(st.floats(3.0, 900.0), max_size=9))
    def test_farther_is_never_clearer_and_cards_make_up_the_difference(self, visibility, away):
        card = StandIn("0", "", "card", 0.0, 0.0, 0.0, 0.5, 3.0)
        things = tuple(
            replace(card, id=f"{i}", name=f"{i}", y_m=y) for i, y in enumerate(sorted(away))
        )
        air = air_of(shot(stand_ins=things, visibility_m=visibility))
        opacities = [v.opacity for v in air.veils]
        assert opacities == sorted(opacities)
        through = 1.0 if not air.veils else air.veils[0].contrast_left
        behind = 0
        for veil in air.veils:
            # The cards before a layer, one over another, give it its own haze to within a step.
            while behind < len(air.cards) and air.cards[behind].distance_m <= veil.distance_m:
                through *= 1.0 - air.cards[behind].opacity
                behind += 1
            assert abs(through - veil.contrast_left) <= CARD_STEP + 1e-9
        assert behind == len(air.cards)

    def test_a_layer_in_between_is_on_the_side_that_it_looks_like(self):
        """By hand: of 10, 40 and 48 m in 400 m of air the last two look alike."""
        card = StandIn("0", "", "card", 0.0, 0.0, 0.0, 0.5, 3.0)
        away = {"a": 10.0, "b": 40.0, "c": 48.0}
        things = tuple(replace(card, id=n, name=n, y_m=y) for n, y in away.items())
        (between,) = air_of(shot(stand_ins=things, visibility_m=400.0)).cards
        assert (between.before, between.behind) == ("a", "b")
        assert between.distance_m == pytest.approx(20.0, rel=0.01)

    def test_what_is_out_of_frame_is_no_layer(self):
        aside = StandIn("0", "Barn", "card", 400.0, 60.0, 0.0, 5.0, 3.0)
        assert air_of(shot(stand_ins=(aside,), visibility_m=400.0)).veils == ()

    def test_clear_air_needs_nothing(self):
        assert air_of(shot()) is None
        assert smoke_for(case_of(one(MILL))) is None

    def test_a_scaled_set_wants_the_same_air_in_a_twelfth_of_the_way(self):
        case = case_of(one(MILL, visibility_m=600.0))
        smoke = smoke_for(case)
        # b d alike: the visibility shrinks with the scale.
        assert smoke.visibility_m == pytest.approx(50.0)
        assert smoke.per_m == pytest.approx(3.912 / 50.0, rel=1e-3)
        assert smoke.depth_m == case.stage.far_m
        assert smoke.through == pytest.approx(math.exp(-smoke.per_m * smoke.depth_m))
        assert "smoke detectors" in smoke.cautions[0]

    def test_the_tint_is_warm_at_dawn_and_pale_before_the_sun(self):
        dawn = tint_of(shot(key_from_deg=10.0, key_elevation_deg=3.0))
        noon = tint_of(shot(key_from_deg=180.0, key_elevation_deg=50.0))
        red, blue = int(dawn[1:3], 16), int(dawn[5:7], 16)
        assert red > blue
        assert int(noon[1:3], 16) < int(noon[5:7], 16)
        night = tint_of(shot(key_from_deg=180.0, key_elevation_deg=50.0, key_level_stops=-3.0))
        assert int(night[1:3], 16) < int(noon[1:3], 16)


def test_a_card_tells_each_group_in_one_piece():
    # The crew reads a group and goes on; a group that comes twice is a line that is missed.
    case = case_of(one(ANSA, plate_lamps=(PlacedLamp("panel", 1.0, 14.0, 2.0),)))
    groups = [line.group for line in card_lines(case, plate_report(case.shot, case.plate))]
    assert len({g for g, _ in itertools.groupby(groups)}) == len(list(itertools.groupby(groups)))


class TestWhichLampPlays:
    A, B = (PlacedLamp("panel", x, 1.0, 0.5, key=key) for x, key in ((0.4, "a"), (-0.4, "b")))

    def on(self, lamps: tuple[PlacedLamp, ...], cue: Cue) -> str:
        """What the card says the cue plays on."""
        found = one(MILL, plate_lamps=lamps, plate_cue=cue)
        case = case_of(found)
        lines = card_lines(case, plate_report(found, found.plates[0]))
        return next(x.detail for x in lines if x.label == "Interactive light").split(",")[0]

    def test_it_stays_the_same_when_others_come_and_go(self):
        cue = Cue("fire", lamp=1, lamp_key="b")
        other = PlacedLamp("fresnel", 0.0, 2.0, 1.0, key="c")
        for lamps, number in (((self.A, self.B), 1), ((self.B,), 0), ((other, self.A, self.B), 2)):
            plate = one(MILL, plate_lamps=lamps, plate_cue=cue).plates[0]
            assert plate.lamp_of(plate.cue) == number
            assert plate.lamps[number] is self.B

    def test_a_lamp_that_is_gone_is_not_another(self):
        plate = one(MILL, plate_lamps=(self.A,), plate_cue=Cue("fire", lamp_key="b")).plates[0]
        assert plate.lamp_of(plate.cue) is None
        assert self.on((self.A,), Cue("fire", lamp_key="b")) == "on a lamp"

    def test_a_cue_from_before_lamps_had_names_plays_by_number(self):
        old = tuple(replace(lamp, key="") for lamp in (self.A, self.B))
        plate = one(MILL, plate_lamps=old, plate_cue=Cue("fire", lamp=1)).plates[0]
        assert plate.lamp_of(plate.cue) == 1
        gone = one(MILL, plate_lamps=old[:1], plate_cue=Cue("fire", lamp=1)).plates[0]
        assert gone.lamp_of(gone.cue) is None


SOME_KEYS = st.lists(
    st.builds(LevelKey, st.floats(0, 4).map(lambda v: round(v, 3)), st.floats(0, 1)), max_size=8
)


class TestDrawnByHand:
    @given(SOME_KEYS, st.floats(0, 2), st.sampled_from([12.0, 24.0, 25.0]))
    def test_it_goes_straight_from_key_to_key(self, keys, at, fps):
        """Against NumPy's interpolation, where no two keys stand at one moment."""
        keys = list({k.at_s: k for k in keys}.values())
        levels = curve(Cue("drawn", at_s=at, keys=tuple(keys)), 6.0, fps).levels
        if not keys:
            assert not levels.any()
            return
        keys.sort(key=lambda k: k.at_s)
        times = np.arange(len(levels)) / fps
        want = np.interp(times, [at + k.at_s for k in keys], [k.level for k in keys])
        # A key between two frames may be a microsecond off.
        assert np.allclose(levels, want, atol=2e-3)

    def test_a_switch_is_two_keys_at_one_moment(self):
        keys = (LevelKey(0, 0.1), LevelKey(1.0, 0.1), LevelKey(1.0, 0.9))
        levels = curve(Cue("drawn", keys=keys), 2.0, 24.0).levels
        assert levels[23] == pytest.approx(0.1)
        assert levels[24] == pytest.approx(0.9)
        assert levels[-1] == pytest.approx(0.9)

    def test_its_flashes_are_counted(self):
        keys = tuple(LevelKey(i * 0.1, i % 2) for i in range(20))
        assert curve(Cue("drawn", keys=keys), 2.0, 50.0).flashes == 5


class TestSeveralThatPlay:
    A = PlacedLamp("fresnel", -1.0, -1.0, 2.0, key="a")
    B = PlacedLamp("fresnel", 1.0, -1.0, 2.0, key="b")
    ON = tuple(
        LevelKey(at, level) for at, level in ((0, 0), (0.2, 0), (0.2, 1), (0.4, 1), (0.4, 0))
    )

    def shot(self, *cues: Cue, **more):
        found = one(MILL, plate_lamps=(self.A, self.B), plate_cue=cues[0], **more)
        return replace(found, plates=(replace(found.plates[0], more_cues=cues[1:]),))

    def test_a_beat_begins_it_and_is_followed(self):
        cue = Cue("drawn", at_s=0.5, lamp_key="b", beat_id="opens", keys=self.ON)
        for frame in (1, 25, 49):
            shot = self.shot(cue, beats=(Beat("opens", "The door opens", frame),))
            (told,) = playing(shot, shot.plates[0])
            assert (told.beat, told.number) == ("The door opens", 1)
            assert told.begins_s == pytest.approx((frame - 1) / 24.0 + 0.5)
            # Dark for a fifth of a second, then lit: the first frame at or after it.
            first = int(np.flatnonzero(told.curve.levels)[0])
            assert first == math.ceil((told.begins_s + 0.2) * 24.0 - 1e-9)
        gone = self.shot(cue)
        (told,) = playing(gone, gone.plates[0])
        assert (told.beat, told.begins_s) == ("", 0.5)

    def test_two_that_flash_in_turn_flash_twice_as_often(self):
        first = tuple(LevelKey(i * 0.25, float(i % 2)) for i in range(12))
        later = replace(Cue("drawn", lamp_key="b", keys=first), at_s=0.0)
        shot = self.shot(Cue("drawn", lamp_key="a", keys=first), later)
        lamps = playing(shot, shot.plates[0])
        assert together(lamps, None).flashes == lamps[0].curve.flashes == 2
        # One up while the other goes down: nothing is left of it.
        against = tuple(replace(k, level=1.0 - k.level) for k in first)
        shot = self.shot(lamps[0].cue, Cue("drawn", lamp_key="b", keys=against))
        assert together(playing(shot, shot.plates[0]), None).flashes == 0

    def test_together_each_counts_by_its_light(self):
        shot = self.shot(
            Cue("snap", lamp_key="a", high=0.5), Cue("drawn", lamp_key="b", keys=self.ON)
        )
        plate = shot.plates[0]
        light = lighting(case_of(shot))
        told = playing(shot, plate)
        whole = together(told, light)
        lux = [light.lamps[i].meter_lux for i in (0, 1)]
        want = sum(w * x.curve.levels for w, x in zip(lux, told, strict=True)) / sum(lux)
        assert np.allclose(whole.levels, want)
        # Where nothing else lights the action, the brighter of them is its key.
        assert sorted(x.role for x in light.lamps) == ["key", "played"]
        lines = card_lines(case_of(shot), plate_report(shot, plate))
        said = [(x.value, x.detail) for x in lines if x.label == "Interactive light"]
        assert [v for v, _ in said] == ["light at a snap", "a curve by hand", "all together"]
        assert said[1][1].startswith("on Fresnel 2, 0 % to 100 %, at most 1 flash in")

    def test_nothing_plays(self):
        shot = one(MILL)
        assert playing(shot, shot.plates[0]) == ()
        assert together((), None) is None


class TestLongCues:
    def test_flashes_of_a_long_cue_are_those_of_its_seconds(self):
        # Counted here the slow way, second by second.
        rng = np.random.default_rng(5)
        levels = np.repeat((rng.random(400) > 0.6) * 1.0, 6)
        most, first = flashes(levels, 24.0)
        turns = [i for i in range(1, len(levels)) if levels[i] != levels[i - 1]]
        want = [sum(b <= t < b + 24 for t in turns) // 2 for b in turns]
        assert most == max(want)
        assert first == turns[want.index(max(want))] + 1

    def test_a_stroke_is_worked_out_only_while_it_shines(self):
        cue = Cue(kind="lightning", per_s=20.0, low=0.0, high=1.0)
        quick, long = curve(cue, 20.0, 24.0), curve(cue, 600.0, 240.0)
        assert len(long.levels) == 144_000
        assert 0.0 < quick.levels.mean() < 1.0
        assert np.isfinite(long.levels).all()

    def test_more_frames_than_any_lamp_plays_are_refused(self):
        with pytest.raises(Impossible, match="longer than any lamp plays"):
            curve(Cue("fire"), 600.0, 1000.0)
