"""The light on a stage against the story's: side, hardness, colour, ratio, fall-off, level; maps,
shadows, cut-outs, mains, and lamps placed by the core itself."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.drawings.light_maps import stage_map
from jungoptic.core.drawings.stage.above import plan
from jungoptic.core.judging.key_side import at_direction
from jungoptic.core.judging.unasked import unasked
from jungoptic.core.lighting.contours import light_map
from jungoptic.core.lighting.mains import CONTINUOUS, mains_load, shared_out
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.shine import illuminance
from jungoptic.core.lighting.silhouette import cut_outs
from jungoptic.core.lighting.sources import sources_of
from jungoptic.core.lighting.stage_light import direction
from jungoptic.core.lighting.stage_shadows import shadows_in_frame, stage_shadows
from jungoptic.core.plan import Lamp, PlacedLamp, StandIn
from jungoptic.core.plan.cue import Cue
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.planner.place_lamps import light_plate
from jungoptic.core.screens.lit import lit_screen

from .examples import ANSA, MILL
from .stages import FRESNEL, FULL, GARAGE, PANEL, case_of, findings, one

#: The mill's action on its stage: the middle of the house, at 1:12.
AT = (-5.0 / 12, 25.0 / 12, 3.5 / 12)


def key(from_deg=40.0, up=30.0, distance=2.0, lamp="panel", **more):
    """A lamp that lights the mill from there."""
    return PlacedLamp(lamp, *at_direction(AT, from_deg, up, distance), **more)


def lit(*lamps, **shot):
    """The mill with these lamps, in the garage."""
    return one(MILL, plate_lamps=lamps, plate_room_id="garage", plate_table_m=0.8, **shot)


class TestWhatTheMeterFinds:
    @given(st.floats(-170, 170), st.floats(5, 80), st.floats(0.5, 5.0))
    def test_direction_and_distance_come_back(self, side, up, distance):
        x, y, z = at_direction((0.0, 0.0, 0.0), side, up, distance)
        turn, rise = direction(np.array([x, y, z]), 0.0)
        off = math.radians(abs((turn - side + 180) % 360 - 180)) * math.cos(math.radians(up))
        # A lamp is placed to the centimetre.
        assert off * distance < 0.02
        assert math.radians(abs(rise - up)) * distance < 0.02

    def test_the_key_is_the_brightest_of_those_that_light_the_action(self):
        # A bright lamp for the screen, and one that plays, are not the key.
        weak, strong = key(140.0, level=0.3), key(-140.0)
        for role in ("screen", "played", "practical", "fill", "back"):
            light = lighting(case_of(lit(weak, replace(strong, role=role))))
            assert [x.role for x in light.lamps] == ["key", role]
        light = lighting(case_of(lit(replace(weak, role="key"), strong)))
        assert [x.role for x in light.lamps] == ["key", "fill"]
        alone = lighting(case_of(lit(replace(strong, role="practical"))))
        assert alone.key == 0
        assert lighting(case_of(lit(replace(strong, role="screen")))).key is None

    def test_a_lamp_that_plays_comes_on_top(self):
        cue = Cue("fire", lamp=1)
        steady = lighting(case_of(lit(key(140.0))))
        both = lit(key(140.0), key(-140.0))
        played = lighting(case_of(replace(both, plates=(replace(both.plates[0], cue=cue),))))
        assert [x.role for x in played.lamps] == ["key", "played"]
        assert played.lux == pytest.approx(steady.lux)
        assert played.ratio_stops is None

    @given(st.floats(-100, -60), st.floats(0.1, 1.0))
    def test_what_lights_the_cloth_lights_the_action_too(self, side, level):
        # Added up here lamp by lamp: the meter faces the key; the shadow side faces the camera.
        cloth = key(side, 10.0, level=level, role="screen")
        main = key(140.0)
        light = lighting(case_of(lit(main, cloth)))
        at = np.array([light.at_m])
        shot = lit(main, cloth)
        towards = (np.array(main.at) - at[0]) / np.linalg.norm(np.array(main.at) - at[0])
        sources = sources_of(shot, shot.plates[0])
        assert light.lux == pytest.approx(float(illuminance(sources, at, towards).sum()))
        shadow = float(illuminance(sources, at, np.array([0.0, -1.0, 0.0]))[1, 0])
        assert light.shadow_side_lux == pytest.approx(shadow)

    def test_the_strongest_is_the_key_and_the_far_side_the_back_light(self):
        light = lighting(case_of(lit(key(140.0), key(-150.0, level=0.2), key(10.0, level=0.1))))
        assert light is not None
        assert [x.role for x in light.lamps] == ["key", "fill", "back"]
        assert light.key == 0

    def test_ratio_is_key_and_fill_over_fill(self):
        # Key three times the fill: 4:1, two stops (common practice).
        light = lighting(case_of(lit(key(140.0), key(-140.0, level=1 / 3))))
        assert light is not None
        assert light.ratio_stops == pytest.approx(2.0, abs=0.01)

    def test_without_the_key_so_much_is_left(self):
        case = case_of(lit(key(140.0), key(-140.0, level=0.25)))
        light = lighting(case)
        assert light is not None
        assert light.lights_off_stops is not None
        without = lighting(case_of(lit(key(140.0, level=0.0), key(-140.0, level=0.25))))
        assert without is not None
        # The meter keeps facing where the key was.
        kept = light.lamps[1].meter_lux
        assert light.lights_off_stops == pytest.approx(math.log2(light.lux / kept))

    def test_lamps_on_the_screen_do_not_light_the_action(self):
        at = (2.6, 15.4, 1.7)
        own = PlacedLamp("panel", *at_direction(at, 140.0, 30.0, 2.0))
        screen = PlacedLamp("bank", 1.0, 16.0, 1.5, aim_x_m=2.6, aim_y_m=17.4, aim_z_m=1.5)
        alone = lighting(case_of(one(ANSA, plate_lamps=(own,))))
        both = lighting(case_of(one(ANSA, plate_lamps=(own, screen))))
        assert alone is not None
        assert both is not None
        assert both.lux == alone.lux
        assert both.lamps[1].role == "screen"

    def test_penumbra_grows_with_the_way_and_the_size(self):
        near, far = (lighting(case_of(lit(key(up=u)))) for u in (60.0, 20.0))
        assert near is not None
        assert far is not None
        assert near.lamps[0].penumbra_m < far.lamps[0].penumbra_m


class TestSide:
    def test_where_the_story_has_it(self):
        shot = lit(key(40.0, 30.0), key_from_deg=40.0, key_elevation_deg=30.0)
        assert findings(shot)["key-side"].verdict is Verdict.HOLDS

    def test_on_the_wrong_side_it_breaks_and_the_remedy_turns_it(self):
        shot = lit(key(-60.0, 30.0), key_from_deg=40.0, key_elevation_deg=30.0)
        found = findings(shot)["key-side"]
        assert found.verdict is Verdict.BREAKS
        assert found.remedies[0].verdict is Verdict.HOLDS
        assert "100° clockwise" in found.remedies[0].sentence
        lamp = found.remedies[0].changes["lamps"][0]
        turn, up = direction(np.array(lamp.at) - np.array(AT), 0.0)
        assert turn == pytest.approx(40.0, abs=1.0)
        assert up == pytest.approx(30.0, abs=1.0)

    def test_a_pan_leaves_the_story_where_it_is(self):
        shot = lit(key(40.0, 30.0), key_from_deg=20.0, key_elevation_deg=30.0, pan_deg=20.0)
        assert findings(shot)["key-side"].verdict is Verdict.HOLDS

    def test_too_high_for_the_ceiling_it_comes_nearer(self):
        shot = lit(key(-90.0, 20.0, 2.5), key_from_deg=40.0, key_elevation_deg=60.0)
        found = findings(shot)["key-side"]
        assert any("ceiling" in r.sentence for r in found.remedies)

    def test_nothing_is_said_before_the_story_is(self):
        assert not {"key-side", "hardness", "ratio", "falloff"} & set(findings(lit(key())))


class TestHardness:
    def test_the_sun_wants_an_opening_of_9_3_mm_a_metre(self):
        # 0.533 degrees: 25 mm at 2.7 m (any almanac).
        shot = lit(key(distance=2.7), key_kind="sun")
        found = findings(shot)["hardness"]
        assert found.verdict is Verdict.BREAKS
        opening = found.remedies[0]
        assert opening.changes["lamps"][0].size_m == pytest.approx(2.7 * 0.0093, abs=2e-4)
        assert "25.1 mm opening" in opening.sentence
        assert opening.verdict is Verdict.HOLDS

    def test_too_hard_asks_for_a_frame(self):
        shot = lit(key(distance=2.0, lamp="fresnel"), key_kind="lamp", key_size_deg=25.0)
        found = findings(shot)["hardness"]
        assert found.verdict is Verdict.BREAKS
        assert "diffusion" in found.remedies[0].sentence

    def test_a_scaled_set_wants_the_same_angle(self):
        # Domain rule: the same angle, so the same ratio of size to distance, whatever the scale.
        angle = lighting(case_of(lit(key(distance=2.0)))).lamps[0].size_deg
        shot = lit(key(distance=2.0), key_size_deg=angle)
        assert findings(shot)["hardness"].verdict is Verdict.HOLDS


class TestColour:
    def test_tungsten_in_daylight_is_134_mired_warm(self):
        shot = lit(key(lamp="fresnel"), key_temperature_k=5600.0)
        found = findings(shot)["colour"]
        assert found.verdict is Verdict.BREAKS
        assert "134 mired warmer" in found.sentence
        assert found.remedies[0].changes == {"white_k": 3200.0}
        assert any("Full blue" in r.sentence for r in found.remedies)

    def test_a_mixed_fill_strains_whatever_the_balance(self):
        shot = lit(key(140.0, lamp="fresnel"), key(-140.0, level=0.9))
        found = findings(shot)["colour"]
        assert found.verdict is Verdict.STRAINS
        assert "no balance suits both" in found.sentence
        assert found.remedies[0].verdict is Verdict.HOLDS


class TestRatio:
    @pytest.mark.parametrize("level", [0.9, 0.02])
    def test_the_fill_is_set_to_the_storys(self, level):
        shot = lit(key(140.0), key(-140.0, level=level), key_ratio_stops=2.0)
        found = findings(shot)["ratio"]
        assert found.verdict is not Verdict.HOLDS
        changed = found.remedies[0].changes["lamps"]
        assert changed[1].level == pytest.approx(1 / 3, abs=0.01)

    def test_no_fill_is_not_called_good(self):
        assert findings(lit(key(140.0), key_ratio_stops=2.0))["ratio"].verdict is Verdict.STRAINS


class TestFallOff:
    def test_it_is_the_inverse_square_of_the_distances(self):
        wide = replace(FULL, lamps=(Lamp("bulb", "Bulb", 800.0, 0.05, kind="bulb"),))
        light = lighting(case_of(replace(lit(key(distance=4.0, lamp="bulb")), kit=wide)))
        about = 2 * math.log2(light.key_far_m / light.key_near_m)
        assert light.falloff_stops == pytest.approx(about, abs=1e-6)

    def test_a_lamp_too_near_goes_farther(self):
        shot = lit(key(-170.0, 20.0, 1.0), key_kind="sun", key_from_deg=190.0)
        found = findings(shot)["falloff"]
        assert found.verdict is Verdict.BREAKS
        far = found.remedies[0].changes["lamps"][0]
        assert math.dist(far.at, AT) > 1.2
        assert "stop" in found.remedies[0].effect


class TestLevel:
    def test_a_moonlit_story_needs_less(self):
        day, night = (findings(lit(key(), key_level_stops=k))["light"] for k in (0.0, -2.0))
        needs = [
            float(f.sentence.split("Needs ")[1].split(" lx")[0].replace(",", ""))
            for f in (day, night)
        ]
        assert needs[0] / needs[1] == pytest.approx(4.0, rel=0.01)
        assert "2 stops under" in night.sentence


class TestMains:
    def test_eighty_percent_of_sixteen_amperes(self):
        # NFPA 70 210.20(A), from memory: 12.8 A of 16 A for continuous load.
        assert pytest.approx(12.8) == CONTINUOUS * GARAGE.circuit_a

    def test_five_of_650_w_are_too_much_for_one_circuit(self):
        lamps = tuple(key(angle, lamp="fresnel") for angle in range(0, 300, 60))
        shot = lit(*lamps)
        load = mains_load(shot, shot.plates[0])
        assert load.amperes == pytest.approx(5 * 650 / 230)
        found = findings(shot)["mains"]
        assert found.verdict is Verdict.BREAKS
        assert "licensed electrician" in found.sentence
        two = replace(shot.kit, rooms=(replace(GARAGE, circuits=2),))
        assert findings(replace(shot, kit=two))["mains"].verdict is Verdict.HOLDS

    @given(st.lists(st.floats(0.1, 10.0), min_size=1, max_size=12), st.integers(1, 4))
    def test_every_lamp_hangs_on_one_circuit(self, currents, circuits):
        shared, over = shared_out(list(enumerate(currents)), replace(GARAGE, circuits=circuits))
        assert sorted(i for c in shared for i in c.lamps) == list(range(len(currents)))
        assert sum(c.amperes for c in shared) == pytest.approx(sum(currents))
        assert (over > 0) == any(c.amperes > c.limit_a for c in shared)

    def test_largest_first_would_raise_a_false_alarm(self):
        # 12.8 A each: 6.4 + 6.4 and 4.8 + 4.0 + 4.0 fit; largest first ends with 14.4 A.
        currents = [6.4, 6.4, 4.8, 4.0, 4.0]
        shared, over = shared_out(list(enumerate(currents)), replace(GARAGE, circuits=2))
        assert over == 0.0
        assert sorted(c.lamps for c in shared) == [(0, 1), (2, 3, 4)]

    @settings(max_examples=60)
    @given(st.lists(st.integers(5, 120), min_size=1, max_size=7), st.integers(1, 3))
    def test_no_other_sharing_out_carries_more(self, tenths, circuits):
        # All ways of hanging them, tried one by one.
        currents = [t / 10.0 for t in tenths]
        room = replace(GARAGE, circuits=circuits)
        _, over = shared_out(list(enumerate(currents)), room)
        ways = itertools.product(range(circuits), repeat=len(currents))
        limit = CONTINUOUS * room.circuit_a
        best = min(
            sum(
                max(sum(a for a, on in zip(currents, way, strict=True) if on == c) - limit, 0.0)
                for c in range(circuits)
            )
            for way in ways
        )
        assert over == pytest.approx(best, abs=1e-4)

    def test_no_mains_no_sum(self):
        assert "mains" not in findings(one(MILL, plate_lamps=(key(),), plate_room_id="yard"))


class TestMaps:
    def test_lines_of_a_point_are_circles_of_the_inverse_square(self):
        us = vs = np.linspace(-3.0, 3.0, 161)
        u, v = np.meshgrid(us, vs)
        lux = 1000.0 / (u**2 + v**2 + 0.01)
        found = light_map(us, vs, lux, 1000.0)
        by_level = {round(line.stops, 2): line.path for line in found.lines}
        # A stop under: sqrt(2) away.
        for stops in (-1.0, -2.0):
            radii = [math.hypot(*p) for p in by_level[stops]]
            assert np.allclose(radii, math.sqrt(2.0**-stops - 0.01), atol=0.01)

    def test_bands_fill_the_whole_map(self):
        from shapely.geometry import Polygon

        case = case_of(lit(key(140.0), key(-120.0, level=0.4)))
        found = stage_map(case, plan(case), 60, 40)
        assert found is not None
        area = 0.0
        for band in found.bands:
            shape = Polygon()
            for path in band.paths:
                # Even-odd: holes come as paths of their own.
                shape = shape.symmetric_difference(Polygon(path).buffer(0))
            area += shape.area
        u0, v0, u1, v1 = plan(case).room
        assert area == pytest.approx((u1 - u0) * (v1 - v0), rel=1e-3)

    def test_at_the_action_it_is_zero(self):
        case = case_of(lit(key(140.0)))
        found = stage_map(case, plan(case))
        assert found.zero_lux == lighting(case).lux
        assert found.low_stops < 0 < found.high_stops

    def test_without_light_there_is_no_map(self):
        case = case_of(one(MILL))
        assert stage_map(case, plan(case)) is None
        with pytest.raises(ValueError, match="no light"):
            light_map(np.arange(3.0), np.arange(3.0), np.ones((3, 3)), 0.0)


class TestShadows:
    def test_length_is_height_over_tangent(self):
        sun = Lamp("sun", "Sun", 80_000.0, kind="sun")
        kit = replace(FULL, lamps=(sun,))
        lamp = PlacedLamp("sun", *at_direction(AT, 90.0, 30.0, 5.0))
        out = replace(lit(lamp).plates[0], room_id=None)
        case = case_of(replace(lit(lamp), kit=kit, plates=(out,)))
        house = next(s for s in stage_shadows(case) if s.stand_in_id == "house")
        tip = house.middle.points[:, 0].min()
        left = (-5 - 3.25) / 12
        # 7 m at 1:12, light from the right: the left edge throws 0.583 / tan 30 to the left.
        assert left - tip == pytest.approx(7 / 12 / math.tan(math.radians(30.0)), rel=0.01)

    def test_the_soft_part_surrounds_the_middle_one(self):
        for shadow in stage_shadows(case_of(lit(key(90.0, 40.0)))):
            core = shadow.middle.points
            assert shadow.reach[:, 0].min() < core[:, 0].min() + 1e-9
            assert np.ptp(shadow.reach[:, 1]) > np.ptp(core[:, 1])

    def test_they_lie_in_the_frame_and_on_the_plan(self):
        case = case_of(lit(key(90.0, 40.0)))
        assert {o.stand_in_id for o in shadows_in_frame(case)} == {"house", "bridge"}
        roles = [s.role for s in plan(case).shapes]
        assert roles.index("penumbra") < roles.index("shadow") < roles.index("lamp")

    def test_a_bank_is_drawn_at_true_size_standing_or_lying(self):
        sizes = {}
        for upright in (True, False):
            case = case_of(lit(key(90.0, 40.0, lamp="bank", upright=upright)))
            head = next(s for s in plan(case).shapes if s.role == "lamp").points
            sizes[upright] = max(math.dist(a, b) for a in head for b in head)
        assert sizes[False] == pytest.approx(1.2, abs=0.01)
        assert sizes[True] < 0.4

    def test_cut_outs_are_the_performers_at_scale(self):
        case = case_of(lit(key(90.0, 30.0)))
        (ansa,) = cut_outs(case.shot, case.plate, lighting(case))
        assert ansa.height_m == pytest.approx(1.68 / 12)
        assert (ansa.x_m, ansa.y_m, ansa.z_m) == pytest.approx((2.6 / 12, 15.4 / 12, 0.9 / 12))
        elevation = lighting(case).lamps[0].elevation_deg
        assert ansa.shadow_m == pytest.approx(0.14 / math.tan(math.radians(elevation)))
        assert cut_outs(case.shot, ANSA, None) == ()


def lit_screen_of(shot, lamps):
    """The light on the screen with these lamps; None where none reaches it."""
    plate = replace(shot.plates[0], lamps=lamps)
    return lit_screen(case_of(replace(shot, plates=(plate,))))


class TestLightThisPlate:
    def test_what_it_proposes_is_what_the_findings_say(self):
        shot = lit(key_from_deg=140.0, key_elevation_deg=25.0, key_ratio_stops=2.0)
        case = case_of(shot)
        best, *others = light_plate(case)
        assert best.misses == () or best.verdict is not Verdict.HOLDS
        for way in (best, *others):
            after = findings(replace(shot, plates=(replace(case.plate, lamps=way.lamps),)))
            worst = max(
                after[k].verdict.rank
                for k in ("light", "key-side", "ratio", "mains", "room")
                if k in after
            )
            assert worst <= way.verdict.rank
            assert after["key-side"].verdict is Verdict.HOLDS

    def test_it_stays_inside_the_room_and_the_kit(self):
        for way in light_plate(case_of(lit(key_from_deg=100.0, key_elevation_deg=30.0))):
            assert max(p.z_m for p in way.lamps) <= 2.4 - 0.8
            for lamp in FULL.lamps:
                assert sum(p.lamp_id == lamp.id for p in way.lamps) <= lamp.count

    def test_a_screen_gets_lamps_of_its_own(self):
        shot = one(ANSA, plate_room_id="yard", key_from_deg=150.0, key_elevation_deg=30.0)
        best = light_plate(case_of(shot))[0]
        assert [x.role for x in best.light.lamps].count("screen") == 2
        # Each is placed for what it is meant for, and does that.
        assert [x.role for x in best.lamps] == [x.role for x in best.light.lamps]

    @pytest.mark.parametrize(
        ("count", "roles"),
        [
            (1, ["key"]),
            (2, ["fill", "key"]),
            (3, ["key", "screen", "screen"]),
            (4, ["fill", "key", "screen", "screen"]),
        ],
    )
    def test_lamps_owned_one_by_one_serve_as_well_as_several_alike(self, count, roles):
        """A screen that has to be keyed comes before the fill: dark it keys not at all (common
        practice)."""
        lamps = tuple(replace(PANEL, id=f"panel{i}", count=1) for i in range(count))
        near = StandIn("figure", "Ansa", "figure", 0.0, 3.0, 0.0, 0.5, 1.68, 0, 0, "ansa")
        shot = one(
            ANSA, plate_room_id=None, key_from_deg=40.0, key_elevation_deg=30.0, stand_ins=(near,)
        )
        shot = replace(shot, kit=replace(FULL, lamps=lamps), key_ratio_stops=2.0)
        ways = light_plate(case_of(shot))
        assert sorted(p.role for p in ways[0].lamps) == roles
        assert len({p.lamp_id for p in ways[0].lamps}) == len(roles)
        # What differs in nothing but the lamp's name is one way, not several.
        assert len({way.words for way in ways}) == len(ways) == 1
        dark = "Screen: no lamp is left that would light it." in ways[0].misses
        assert dark is ("screen" not in roles and not lit_screen_of(shot, ways[0].lamps))
        # So that they light alike, the brighter of two is dimmed to the other.
        if count == 4:
            kit = replace(FULL, lamps=(*lamps[:3], replace(lamps[3], lux_at_1m=3000.0)))
            best = light_plate(case_of(replace(shot, kit=kit)))[0]
            given = [
                p.level * kit.lamp(p.lamp_id).lux_at_1m for p in best.lamps if p.role == "screen"
            ]
            assert given[0] == pytest.approx(given[1], rel=0.02)

    def test_a_screen_that_no_lamp_reaches_is_not_said_to_hold(self):
        """Dark green is not green: how it keys is not known until something lights it."""
        near = StandIn("figure", "Ansa", "figure", 0.0, 3.0, 0.0, 0.5, 1.68, 0, 0, "ansa")
        # Behind the performer, its beam towards us.
        away = PlacedLamp("fresnel", 0.3, 3.8, 2.0)
        shot = one(ANSA, plate_room_id="garage", plate_lamps=(away,), stand_ins=(near,))
        asked = {u.key: u for u in unasked(case_of(shot))}
        assert asked["screen-light"].needs.startswith("No lamp placed reaches the screen")
        assert "screen-level" not in findings(shot)
        own = PlacedLamp("panel", 1.0, 3.5, 1.5, aim_x_m=0.0, aim_y_m=5.0, aim_z_m=1.5)
        for other in (
            {"lamps": (away, own)},
            # Where nothing is placed yet the lamps owned are counted; the sky may light a yard.
            {"lamps": ()},
            {"room_id": "yard"},
            {"screen_colour": "black"},
        ):
            changed = replace(shot, plates=(replace(shot.plates[0], **other),))
            assert "screen-light" not in {u.key for u in unasked(case_of(changed))}

    def test_what_is_keyed_out_gets_a_light_from_behind_out_of_frame(self):
        spot = replace(FRESNEL, id="small", name="Small spot", size_m=0.1, count=2)
        kit = replace(FULL, lamps=(*FULL.lamps, spot))
        near = StandIn("figure", "Ansa", "figure", 0.0, 3.0, 0.9, 0.5, 1.68, 0, 0, "ansa")
        shot = one(ANSA, plate_room_id="yard", key_from_deg=150.0, focal_mm=50.0, stand_ins=(near,))
        shot = replace(shot, kit=kit)
        best = light_plate(case_of(shot))[0]
        (back,) = (p for p in best.lamps if p.role == "back")
        camera = case_of(shot).stage.camera
        x, y = camera.project(np.array([back.at]), 1920.0, 804.0)[0]
        assert not (0.0 <= x <= 1920.0 and 0.0 <= y <= 804.0)
        seen = next(x for x in best.light.lamps if x.role == "back")
        assert abs(seen.from_deg) < 75.0
        assert seen.elevation_deg > 30.0

    def test_nothing_to_light_and_nothing_to_light_with(self):
        assert light_plate(case_of(one(MILL, stand_ins=()))) == ()
        bare = replace(lit(), kit=replace(FULL, lamps=()))
        assert light_plate(case_of(bare)) == ()

    @settings(max_examples=15)
    @given(st.floats(-179, 179), st.floats(5, 70))
    def test_from_any_side_it_finds_the_nearest(self, side, up):
        case = case_of(lit(key_from_deg=side, key_elevation_deg=up))
        ways = light_plate(case)
        assert ways
        ranks = [w.verdict.rank for w in ways]
        assert ranks[0] == min(ranks)


def test_names_of_the_kit_are_used():
    light = lighting(case_of(lit(key(lamp="fresnel"), key(20.0), key(60.0))))
    assert [x.name for x in light.lamps] == [FRESNEL.name, f"{PANEL.name} 1", f"{PANEL.name} 2"]
