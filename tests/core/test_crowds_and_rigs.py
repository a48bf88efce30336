"""Crowds, rigs, reframes, cutting by hand, markers, beats."""

from __future__ import annotations

import datetime
import itertools
import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linear_sum_assignment

from jungoptic.core.cards.card import card_lines
from jungoptic.core.cards.trick_card import trick_marks
from jungoptic.core.cost.effort import BY_KEY
from jungoptic.core.lockoff import tracked
from jungoptic.core.lockoff.beats import SOUND_M_S, beat_sheet, played_frames
from jungoptic.core.lockoff.crowd.looks import assign, costs
from jungoptic.core.lockoff.crowd.places import grid, lay_out, screen_rows
from jungoptic.core.lockoff.crowd.study import crowd_plan, minutes
from jungoptic.core.lockoff.reframe import reframe_plan, window
from jungoptic.core.lockoff.rigs.kinds import KINDS
from jungoptic.core.lockoff.rigs.seen import chosen, left_of, rigs_of, wire_px, working_load_kg
from jungoptic.core.lockoff.rigs.shine import reflectance
from jungoptic.core.lockoff.rigs.spin import spin
from jungoptic.core.lockoff.roto import interval_for, roto_plan
from jungoptic.core.lockoff.tracked import colour_difference, marker_plan, on_surface
from jungoptic.core.plan import Cord, Delivery, Loan, Move, Plate
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.core.plan.tricks import (
    Aspect,
    Beat,
    Crowd,
    Markers,
    RampKey,
    Reframe,
    ReframeKey,
    Rig,
)
from jungoptic.core.report.shot_report import plate_report, report

from .twins import ANNA, CLEAN, LEFT, UPRIGHT, case_of, changed, joined, twins

CROWD = Crowd(8, 40, -5.5, 5.5, 12.0, 18.4, 0.9, 1.6, 0.0, 3, 3)


def crowded(crowd: Crowd = CROWD, **more):
    """A shot with a crowd from above."""
    values = {"height_m": 3.0, "tilt_deg": -4.0, "focal_mm": 28.0, **more}
    return changed(twins(splits=(), **values), "left", crowd=crowd)


class TestCrowd:
    def test_no_two_passes_overlap_in_the_picture(self):
        laid = lay_out(crowded(), CROWD)
        assert len(laid.places) >= 40
        for tile in laid.tiles:
            own = [p for p in laid.places if p.tile == tile.number]
            assert 0 < len(own) <= 8
            for p in own:
                assert tile.left_px <= p.left_px
                assert p.right_px <= tile.right_px

    @settings(max_examples=25)
    @given(
        st.integers(1, 12), st.integers(1, 60), st.floats(0.6, 2.0), st.floats(6.0, 20.0),
        st.floats(0.0, 6.0),
    )  # fmt: skip
    def test_that_holds_for_any_crowd(self, people, wanted, spacing, near, deep):
        crowd = Crowd(people, wanted, -4, 4, near, near + deep, spacing, 1.5)
        laid = lay_out(crowded(), crowd)
        assert len(laid.places) + laid.lost + laid.outside <= 1600
        assert sum(t.people for t in laid.tiles) == len(laid.places)
        for a, b in itertools.pairwise(laid.tiles):
            assert a.right_px == b.left_px
        for p in laid.places:
            tile = laid.tiles[p.tile]
            assert tile.left_px - 0.11 <= p.left_px <= p.right_px <= tile.right_px + 0.11
            assert tile.people <= people

    def test_everybody_is_where_the_camera_says(self):
        found = crowded()
        for place in lay_out(found, CROWD).places[::7]:
            ((x, y),) = found.world.camera(found.delivery).project(
                np.array([(place.x_m, place.y_m, 0.0)]), 1920, 804
            )
            assert place.foot_px == pytest.approx((x, y), abs=0.06)

    def test_a_mirrored_plate_has_its_crowd_on_the_other_side_of_the_stage(self):
        east = replace(CROWD, left_m=0.5, wanted=12)
        found = crowded(east)
        plain, flopped = (
            crowd_plan(case_of(changed(found, "left", flop=f), "left")) for f in (0, 1)
        )
        assert min(p.x_m for p in plain.laid.places) >= 0.5
        assert max(p.x_m for p in flopped.laid.places) <= -0.5
        spots = {(round(-x, 3), round(y, 3)) for x, y, _ in grid(east)}
        assert {(round(p.x_m, 3), round(p.y_m, 3)) for p in flopped.laid.places} <= spots

    def test_a_higher_lens_shows_more_of_the_heads_behind(self):
        low = lay_out(crowded(height_m=1.5, tilt_deg=0.0), CROWD).rows
        high = lay_out(crowded(), CROWD).rows
        assert low[1].head_shows == 0.0
        assert high[1].head_shows > 0.5

    def test_the_assignment_of_each_pass_is_the_best_there_is(self):
        """Against every permutation, on small crowds."""
        crowd = Crowd(4, 12, -3, 3, 12.0, 15.0, 1.2, 1.5, 0.0, 2, 2)
        laid = lay_out(crowded(crowd), crowd)
        looks = assign(laid, crowd, 1920.0)
        done: list = []
        total = 0.0
        for tile in laid.tiles:
            own = [p for p in laid.places if p.tile == tile.number]
            options = [
                [(person, tile.number % 2, (pose + person + tile.number) % 2) for pose in range(2)]
                for person in range(4)
            ]
            table, _ = costs(own, options, done, 1920.0)
            best = min(
                sum(table[i, c] for i, c in enumerate(order))
                for order in itertools.permutations(range(4), len(own))
            )
            rows, columns = linear_sum_assignment(table)
            assert table[rows, columns].sum() == pytest.approx(best)
            total += best
            mine = [x for x in looks.looks if laid.places[x.place].tile == tile.number]
            assert len({x.person for x in mine}) == len(mine)
            done += [(laid.places[x.place], x) for x in mine]
        assert looks.cost == pytest.approx(total)

    def test_repeats_lie_farther_apart_than_by_chance(self):
        crowd = replace(CROWD, wardrobe=1, poses=1)
        laid = lay_out(crowded(crowd), crowd)
        looks = assign(laid, crowd, 1920.0)
        assert looks.nearest_px is not None
        chance = np.random.default_rng(5)
        for _ in range(30):
            cast: list[int] = []
            for tile in laid.tiles:
                cast += chance.permutation(8)[: tile.people].tolist()
            nearest = min(
                math.dist(p.foot_px, q.foot_px)
                for (p, a), (q, b) in itertools.combinations(zip(laid.places, cast, strict=True), 2)
                if a == b
            )
            assert looks.nearest_px > nearest

    def test_more_clothes_leave_fewer_repeats(self):
        counts = []
        for sets in (1, 2, 5):
            crowd = replace(CROWD, wardrobe=sets, poses=1)
            counts.append(assign(lay_out(crowded(crowd), crowd), crowd, 1920.0).repeats)
        assert counts[0] > counts[1] > counts[2] == 0

    def test_minutes_come_from_the_one_table(self):
        each = BY_KEY["pass"].likely_min + 2 * BY_KEY["take"].likely_min
        assert minutes(5, 4) == 5 * each + 4 * BY_KEY["change"].likely_min

    def test_too_few_break_and_remedies_help(self):
        few = replace(CROWD, spacing_m=2.0, row_m=3.0)
        finding = joined(crowded(few), "left")["crowd"]
        assert finding.verdict is Verdict.BREAKS
        for remedy in finding.remedies:
            found = crowded(remedy.changes.get("crowd", few))
            found = replace(
                found,
                world=replace(found.world, height_m=remedy.shot.get("camera_height_m", 3.0)),
            )
            assert joined(found, "left")["crowd"].verdict is remedy.verdict
        assert finding.remedies

    def test_an_area_that_is_none_is_a_sentence(self):
        finding = joined(crowded(replace(CROWD, left_m=9.0)), "left")["crowd"]
        assert "make left the smaller number" in finding.sentence

    def test_before_a_screen_each_row_has_its_lens(self):
        """Similar triangles: feet are seen under the same angle."""
        case = case_of(crowded(), "left")
        laid = lay_out(case.shot, CROWD)
        for row in screen_rows(case, laid, 0.0, 6.0):
            assert row.lens_m / row.film_m == pytest.approx(3.0 / row.world_m)
            assert row.shrink == pytest.approx(6.0 / row.world_m)
        (near, *_) = screen_rows(case, laid, 0.0, 100.0)
        assert (near.lens_m, near.off_deg) == (3.0, 0.0)

    def test_plan_picture_and_card_show_it(self):
        found = crowded()
        plate = plate_report(found, found.plates[0], selected=True)
        assert plate.plan is not None
        plan = crowd_plan(case_of(found, "left"))
        assert plan is not None
        assert sum(s.role.startswith("crowd") for s in plate.plan.shapes) == plan.achieved
        marks = report(found, selected="left").marks
        assert {m.text for m in marks if m.role == "pass" and m.text} == {
            f"pass {n + 1}" for n in range(len(plan.laid.tiles))
        }
        lines = card_lines(case_of(found, "left"), plate)
        assert any(line.group == "Crowd" for line in lines)
        marks = trick_marks(case_of(found, "left"))
        assert len(marks) == plan.achieved
        assert marks[0].name == "Pass 1: friend 1, clothes A, pose 1"


LAMP = StandIn("lamp", "Lantern", "box", -0.75, 3.0, 1.0, 0.18, 0.3, 0.18, plate_id="left")
RIG = Rig("lamp", "thread", 0.45, 0.8, 4.0)


def hung(rig: Rig = RIG, lamp: StandIn = LAMP, **more):
    """A lantern on a thread."""
    return changed(twins(lamp, ANNA, splits=(), **more), "left", rig=rig)


class TestRig:
    def test_pixels_of_a_wire(self):
        """Similar triangles: 0.5 mm at 2 m with 2,000 px of focal length is half a pixel."""
        assert wire_px(0.0005, 2.0, 2000.0) == pytest.approx(0.5)
        found = hung()
        case = case_of(found, "left")
        seen = chosen(case, RIG)
        assert seen is not None
        focal = case.stage.camera.focal_mm / case.stage.camera.sensor_width_mm * 1920
        # The rig hangs from the middle of the top, at the thing's own distance.
        assert seen.thick_px == pytest.approx(0.0008 * focal / 3.0, rel=1e-3)

    def test_what_is_left_is_what_a_sensor_averages(self):
        """A dark line moving over pixels, sampled finely and averaged."""
        for thick, blur in ((0.3, 0.0), (0.3, 5.0), (0.8, 3.0), (3.0, 2.0), (2.0, 8.0), (0.9, 0.6)):
            fine = 400
            covered = np.zeros(40 * fine)
            steps = max(int(blur * fine), 1)
            for i in range(steps):
                start = int(10 * fine + i)
                covered[start : start + int(thick * fine)] += 1.0 / steps
            # The darkest pixel, over all places of the pixel grid.
            darkest = max(
                covered[o : o + 39 * fine].reshape(39, fine).mean(axis=1).max()
                for o in range(0, fine, 20)
            )
            assert left_of(thick, blur) == pytest.approx(darkest, abs=0.01)

    def test_frames_taken_one_by_one_do_not_smear_a_thread(self):
        moving = replace(LAMP, speed_m_s=0.8)
        live, puppet = hung(lamp=moving), hung(lamp=moving)
        puppet = changed(puppet, "left", kind="puppet")
        seen = [chosen(case_of(s, "left"), s.plates[0].rig) for s in (live, puppet)]
        assert seen[0].blur_px > 1.0
        assert seen[1].blur_px == 0.0
        assert seen[1].strength > seen[0].strength

    def test_a_thread_that_pulls_runs_ahead_of_the_thing_and_hides_nothing_by_moving(self):
        for course in (90.0, 270.0, 60.0):
            pulled = replace(LAMP, speed_m_s=0.8, course_deg=course, z_m=0.0)
            found = hung(lamp=pulled)
            rig = replace(found.plates[0].rig, kind="sled")
            seen = chosen(case_of(found, "left"), rig)
            assert seen.blur_px == pytest.approx(0.0, abs=0.05)

    def test_the_thinner_line_offered_is_the_thickest_that_is_hidden(self):
        for lamp in (LAMP, replace(LAMP, speed_m_s=0.3), replace(LAMP, y_m=5.0)):
            found = hung(lamp=lamp)
            finding = joined(found, "left")["rig"]
            (thinner,) = [r for r in finding.remedies if r.sentence.startswith("A thinner one")][:1]
            offered = thinner.changes["rig"]
            assert f"{offered.diameter_mm:g} mm" in thinner.sentence
            a_little = replace(offered, diameter_mm=offered.diameter_mm + 0.01)
            seen = [chosen(case_of(found, "left"), rig) for rig in (offered, a_little)]
            assert seen[0].frames == 0
            assert seen[1].frames > 0
            # What it is rated for is nobody's to guess.
            assert offered.rated_kg is None
        # Where dulling it is enough, nobody is told to buy a thinner one as well.
        quick = hung(lamp=replace(LAMP, speed_m_s=0.4))
        ways = [r.sentence for r in joined(quick, "left")["rig"].remedies]
        assert any("in the tone" in way for way in ways)
        assert not any(way.startswith("A thinner one") and "in the tone" in way for way in ways)
        # Nothing that can be had is thin enough this near the lens.
        near = joined(hung(lamp=replace(LAMP, y_m=0.4)), "left")["rig"]
        assert not any(r.sentence.startswith("A thinner one") for r in near.remedies)

    def test_faster_things_hide_thinner_lines(self):
        still = chosen(case_of(hung(), "left"), RIG)
        quick = replace(LAMP, speed_m_s=0.4)
        moving = chosen(case_of(hung(lamp=quick), "left"), RIG)
        assert still is not None
        assert moving is not None
        assert still.blur_px == 0.0
        # 0.4 m/s for half of 1/24 s.
        focal = 32.0 / 24.9 * 1920
        assert moving.blur_px == pytest.approx(0.4 / 48 * focal / 3.0, rel=0.01)
        assert moving.strength < still.strength

    def test_a_thread_before_a_face_breaks_and_remedies_hold(self):
        face = replace(ANNA, x_m=-0.7, y_m=3.6, height_m=1.7)
        found = changed(twins(LAMP, face, splits=()), "left", rig=RIG)
        finding = joined(found, "left")["rig"]
        assert finding.verdict is Verdict.BREAKS
        assert "in front of Anna" in finding.sentence
        assert finding.remedies
        for remedy in finding.remedies:
            after = joined(changed(found, "left", **remedy.changes), "left")["rig"]
            assert after.verdict is remedy.verdict
            assert after.sentence == remedy.effect

    def test_a_clean_plate_makes_it_cheap(self):
        found = hung(replace(RIG, diameter_mm=3.0))
        with_clean = chosen(case_of(found, "left"), found.plates[0].rig)
        alone = replace(found, plates=tuple(p for p in found.plates if p is not CLEAN))
        alone = replace(alone, plates=(alone.plates[0],))
        without = chosen(case_of(alone, "left"), found.plates[0].rig)
        assert with_clean is not None
        assert without is not None
        assert with_clean.hours.likely < without.hours.likely / 2
        assert joined(found, "left")["rig"].verdict is Verdict.STRAINS
        assert joined(alone, "left")["rig"].verdict is Verdict.BREAKS

    def test_side_by_side_and_what_cannot_be(self):
        every = {r.kind: r for r in rigs_of(case_of(hung(), "left"), RIG)}
        assert set(every) == {k.key for k in KINDS}
        # In the air neither magnet, sled nor turntable serves.
        assert not any(every[k].possible for k in ("magnet", "sled", "turntable"))
        low = replace(LAMP, z_m=0.0)
        on_floor = {r.kind: r for r in rigs_of(case_of(hung(lamp=low), "left"), RIG)}
        assert on_floor["magnet"].possible
        assert on_floor["magnet"].hours.likely == 0.0
        assert not on_floor["hand"].shadow

    def test_what_a_polished_table_gives_back(self):
        """Fresnel's equations for an index of 1.5 (Hecht, Optics, chapter 4): 4 % straight on,
        hardly more at 45 degrees, 9 % at 60, 39 % at 80, all at a graze; at Brewster's angle
        half of the light that swings along the surface."""
        angles = np.radians([0.0, 45.0, 60.0, 80.0, 90.0])
        told = reflectance(np.cos(angles))
        assert told == pytest.approx([0.04, 0.050, 0.089, 0.388, 1.0], abs=1e-3)
        brewster = math.atan(1.5)
        across = math.sin(brewster - (math.pi / 2 - brewster)) ** 2
        assert reflectance(np.array(math.cos(brewster))) == pytest.approx(across / 2.0)
        # Water gives 2 % straight down.
        assert reflectance(np.array(1.0), 1.33) == pytest.approx(0.02, abs=1e-3)

    def test_a_rod_is_seen_in_the_table_too(self):
        """Its image stands as far below the top as the rod above it (law of reflection)."""
        table = StandIn("table", "Table", "box", 0.0, 2.0, 0.0, 3.0, 0.75, 3.0)
        lamp = replace(LAMP, y_m=4.5, z_m=0.8)
        rod = Rig("lamp", "rod", 0.45, shine_m=0.75)
        found = changed(twins(lamp, table, ANNA, splits=()), "left", rig=rod)
        case = case_of(found, "left")
        with_image = chosen(case, rod)
        without = chosen(case, replace(rod, shine_m=None))
        assert (without.reflected, without.reflected_frames) == (None, 0)
        assert with_image.reflected_frames == found.frames
        assert with_image.hours.likely > without.hours.likely
        assert "Its image in what shines" in joined(found, "left")["rig"].sentence
        # By hand: from the lens to the image of the rod's nearest place, and what comes back there.
        lens = np.array(case.stage.camera.position_m)
        image_z = 2 * 0.75 - (0.8 + 0.15)
        to = np.array([-0.75, 4.5, image_z]) - lens
        back = float(reflectance(np.array(-to[2] / np.linalg.norm(to))))
        assert with_image.reflected == pytest.approx(back, rel=0.05)
        # Under a lens that is lower than the top nothing of it is seen, nor beside the table.
        for far in (replace(table, y_m=30.0), replace(table, x_m=9.0)):
            other = changed(twins(lamp, far, ANNA, splits=()), "left", rig=rod)
            assert chosen(case_of(other, "left"), rod).reflected == 0.0
            assert "nothing of it is seen" in joined(other, "left")["rig"].sentence
        # Turned by a right angle about its front, the table runs away to the side.
        turned = replace(table, x_m=-1.0, y_m=4.0, width_m=4.0, depth_m=1.0, heading_deg=-90.0)
        aside = replace(turned, x_m=-3.0)
        for one, seen in ((turned, True), (aside, False)):
            other = changed(twins(lamp, one, ANNA, splits=()), "left", rig=rod)
            assert (chosen(case_of(other, "left"), rod).reflected > 0.0) is seen
        high = replace(rod, shine_m=40.0)
        assert chosen(case, high).reflected == 0.0
        # What is before a screen is keyed, what lies in the floor is not.
        screen = changed(found, "left", kind="screen")
        assert joined(screen, "left")["rig"].verdict is Verdict.BREAKS
        dry = changed(screen, "left", rig=replace(rod, shine_m=None))
        assert joined(dry, "left")["rig"].verdict is Verdict.STRAINS

    def test_a_pull_thread_runs_ahead_and_may_jam(self):
        slides = replace(LAMP, z_m=0.0, speed_m_s=0.5, course_deg=90.0)
        rig = Rig("lamp", "pull", 0.45, 0.2, 2.0)
        found = hung(rig, slides)
        seen = chosen(case_of(found, "left"), rig)
        assert seen.possible
        # It runs along its own course, so that moving smears none of it away.
        assert seen.blur_px == pytest.approx(0.0, abs=0.05)
        load = joined(found, "left")["load"]
        assert load.verdict is Verdict.BREAKS
        assert "pulls 0.4 kg" in load.sentence
        assert "whips" in load.sentence
        assert joined(hung(replace(rig, rated_kg=2.25), slides), "left")["load"].verdict is (
            Verdict.HOLDS
        )
        assert not chosen(case_of(hung(rig), "left"), rig).possible

    def test_an_upright_mirror_hides_what_carries_a_thing(self):
        floats = replace(LAMP, y_m=9.0, z_m=0.3)
        rig = Rig("lamp", "mirror", 0.45)
        seen = chosen(case_of(hung(rig, floats), "left"), rig)
        assert seen.possible
        # At 45 degrees a sheet is 1.414 times as wide as what it hides; its edges show.
        assert f"{math.sqrt(2.0) * floats.width_m * 1000:.0f} mm by 300 mm high" in seen.note
        focal = 32.0 / 24.9 * 1920
        near = floats.y_m - floats.width_m / 2.0
        assert seen.thick_px == pytest.approx(0.003 * focal / near, rel=1e-3)
        for other in (replace(floats, z_m=0.0), replace(floats, speed_m_s=0.2)):
            assert not chosen(case_of(hung(rig, other), "left"), rig).possible
        # A patch of ground lies flat, whatever height it was given: it stands on that.
        for height, stands in ((0.3, True), (0.0, False)):
            lawn = StandIn("lawn", "Lawn", "ground", 0.0, 8.0, height, 9.0, 1.7, 4.0)
            found = changed(twins(floats, lawn, splits=()), "left", rig=rig)
            assert chosen(case_of(found, "left"), rig).possible is not stands

    def test_five_to_one(self):
        # Lifting practice, 5:1 (OSHA 1910.184, ASME B30.9; from memory).
        assert working_load_kg(10.0) == 2.0
        assert joined(hung(), "left")["load"].verdict is Verdict.HOLDS
        heavy = joined(hung(replace(RIG, weight_kg=0.81)), "left")["load"]
        assert heavy.verdict is Verdict.BREAKS
        for remedy in heavy.remedies:
            after = joined(hung(remedy.changes["rig"]), "left")["load"]
            assert after.verdict is Verdict.HOLDS
        # 1.40625 kg need 7.03125 kg: said to the hundredth above, never under it.
        odd = joined(hung(replace(RIG, weight_kg=1.40625)), "left")["load"].remedies[0]
        assert odd.changes["rig"].rated_kg == 7.04
        assert joined(hung(odd.changes["rig"]), "left")["load"].verdict is Verdict.HOLDS
        unknown = joined(hung(replace(RIG, rated_kg=None)), "left")["load"]
        assert unknown.verdict is Verdict.STRAINS
        assert "rated for 2.25 kg" in unknown.sentence

    def test_a_line_that_is_owned_is_offered_where_it_bears(self):
        """Rated for 6 kg it carries 1.2 kg, for 4 kg 0.8 kg: 5:1 as above."""
        thread = Cord("t", "Black thread", 0.18, 4.0)
        line = Cord("l", "Clear line", 0.3, 6.0, clear=True)
        heavy = replace(RIG, weight_kg=0.81, rated_kg=None)
        found = hung(heavy)
        found = replace(found, kit=replace(found.kit, cords=(thread, line)))
        (way,) = joined(found, "left")["load"].remedies
        assert "Clear line: 0.3 mm, rated for 6 kg" in way.sentence
        after = way.changes["rig"]
        assert (after.diameter_mm, after.rated_kg, after.colour) == (0.3, 6.0, "clear")
        assert joined(hung(after), "left")["load"].verdict is Verdict.HOLDS
        # A rod is no line, and what is lent on the day is not offered.
        rod = hung(replace(heavy, kind="rod"))
        rod = replace(rod, kit=replace(rod.kit, cords=(line,)))
        assert not joined(rod, "left")["load"].remedies
        day = datetime.date(2026, 10, 3)
        lent = replace(line, loan=Loan(last=datetime.date(2026, 10, 2)))
        late = replace(found, kit=replace(found.kit, cords=(lent,)))
        late = changed(late, "left", film_on=day)
        assert not joined(late, "left")["load"].remedies

    def test_never_people(self):
        found = hung(replace(RIG, thing_id="anna"))
        finding = joined(found, "left")["rig"]
        assert finding.verdict is Verdict.BREAKS
        assert "licensed riggers only" in finding.sentence
        # No numbers, no load, no remedy.
        assert finding.remedies == ()
        assert "load" not in joined(found, "left")
        assert rigs_of(case_of(found, "left"), found.plates[0].rig) == ()

    def test_a_spin_by_the_frame(self):
        # Arithmetic: 60 fps at 5 turns a second are 12 frames a turn, played as 2 a second at 24.
        one = spin(5.0, 60.0, 24.0)
        assert (one.frames_per_turn, one.whole, one.played_turns_per_s) == (12.0, True, 2.0)
        assert one.smooth_to == pytest.approx(0.4)
        quick = spin(7.0, 24.0, 24.0)
        assert quick.jumps
        assert not quick.whole
        assert quick.needed_fps == 42.0
        with pytest.raises(ValueError, match="turns per second"):
            spin(0.0, 24.0, 24.0)


UPRIGHT_916 = Aspect("Upright", 720, 1280)


class TestReframe:
    def test_windows_by_hand(self):
        found = twins(reframe=Reframe((UPRIGHT_916,), (ReframeKey(1, 0.5, 0.5, 1.0),)))
        assert found.reframe is not None
        left, top, right, bottom = window(found, found.reframe, UPRIGHT_916, 1)
        assert (top, bottom) == (0.0, 804.0)
        assert right - left == pytest.approx(804 * 9 / 16)
        assert (left + right) / 2 == 960.0

    @given(st.floats(0, 1), st.floats(0, 1), st.floats(1, 5), st.floats(0, 100))
    def test_it_never_leaves_the_picture_and_keeps_its_shape(self, x, y, closer, shake):
        reframe = Reframe((UPRIGHT_916,), (ReframeKey(1, x, y, closer),), shake)
        found = twins(reframe=reframe, padding=0.02)
        # What padding does not take of the shake is taken from both sides of the cut.
        eaten = max(shake - 0.02 * 1920, 0.0)
        if 2 * eaten >= 804 * 9 / 16 / closer:
            with pytest.raises(ValueError, match="shake is larger"):
                window(found, reframe, UPRIGHT_916, 1)
            return
        left, top, right, bottom = window(found, reframe, UPRIGHT_916, 1)
        assert left >= -1e-6
        assert top >= -1e-6
        assert right <= 1920 + 1e-6
        assert bottom <= 804 + 1e-6
        assert (right - left) / (bottom - top) == pytest.approx(9 / 16)

    def test_shake_comes_by_keys_and_padding_takes_it_first(self):
        keys = (ReframeKey(1), ReframeKey(11, shake_px=60.0))
        found = twins(reframe=Reframe((), keys), padding=0.01)
        assert found.reframe is not None
        own = Aspect("own", 1920, 804)
        # Half of sixty pixels in the middle, of which 19.2 lie in the padding.
        left, _, right, _ = window(found, found.reframe, own, 6)
        assert right - left == pytest.approx(1920 - 2 * (30.0 - 19.2))

    def test_what_nobody_sees_needs_no_mask(self):
        keys = (ReframeKey(1, 0.5, 0.5, 2.0),)
        plan = reframe_plan(twins(reframe=Reframe((), keys)))
        assert plan is not None
        # Half as wide and half as high: three quarters of the picture are never seen.
        assert plan.saved == pytest.approx(0.75, abs=0.02)
        (cut,) = plan.cuts
        assert (cut.across_px, cut.share) == (960.0, 0.5)
        # An upright line through the middle is seen for half its length.
        assert dict(cut.line_saved)["s"] == pytest.approx(0.5, abs=0.05)

    def test_who_falls_out_is_named(self):
        plan = reframe_plan(twins(reframe=Reframe((UPRIGHT_916,))))
        assert plan is not None
        assert plan.cuts[1].lost == ("Anna", "Beth")

    def test_pixels_are_the_plates_own(self):
        found = twins(reframe=Reframe((), (ReframeKey(1, 0.5, 0.5, 3.0),)))
        finding = joined(found, "left")["reframe"]
        recorded = case_of(found, "left").stage.pixels_across
        want = recorded / 3.0 / 1920
        assert finding.workings[0].result.value == pytest.approx(want)
        assert finding.verdict is (Verdict.STRAINS if want > 0.7 else Verdict.BREAKS)


class TestRoto:
    @given(st.floats(0.05, 20.0), st.floats(0.5, 8.0))
    def test_straight_ways_between_keys_stay_within_what_is_allowed(self, bend, allowed):
        """A parabola against its chords: the error of linear interpolation."""
        n = interval_for(bend, allowed)
        t = np.arange(n + 1)
        way = 0.5 * bend * t**2
        chord = np.interp(t, [0, n], way[[0, n]])
        if n > 1:
            assert np.abs(way - chord).max() <= allowed + 1e-9

    def cut(self, thing: StandIn, **more):
        return changed(twins(thing, splits=()), "left", cut="roto", **more)

    def test_slow_shapes_need_no_key_on_every_frame(self):
        slow = replace(ANNA, speed_m_s=0.0, reach_m=0.0)
        finding = joined(self.cut(slow, key_every=1), "left")["roto"]
        assert finding.verdict is Verdict.STRAINS
        assert "boil" in finding.sentence
        (remedy,) = finding.remedies
        assert remedy.changes["key_every"] >= 2
        after = joined(self.cut(slow, **remedy.changes), "left")["roto"]
        assert after.verdict is Verdict.HOLDS

    def test_a_walk_needs_more_keys_than_a_sliding_box(self):
        walker = replace(ANNA, speed_m_s=1.2)
        box = replace(walker, kind="box")
        walking, sliding = (roto_plan(case_of(self.cut(thing), "left")) for thing in (walker, box))
        assert walking is not None
        assert sliding is not None
        assert walking.every < sliding.every
        assert walking.nth.likely > sliding.nth.likely

    def test_edges_cost(self):
        hard, hair = (
            roto_plan(case_of(self.cut(ANNA, edge=edge), "left")) for edge in ("hard", "hair")
        )
        assert hard is not None
        assert hair is not None
        assert hair.nth.likely == pytest.approx(2.5 * hard.nth.likely)
        assert "roto" not in joined(twins(), "left")

    def test_what_smears_has_no_hard_edge(self):
        slow, quick = (
            roto_plan(case_of(self.cut(replace(ANNA, kind="box", speed_m_s=v)), "left"))
            for v in (0.02, 3.0)
        )
        assert (slow.edge, quick.edge) == ("hard", "soft")
        assert quick.blur_px > 4.0 > slow.blur_px
        finding = joined(self.cut(replace(ANNA, kind="box", speed_m_s=3.0)), "left")["roto"]
        assert "soft edge, as it moves," in finding.sentence

    def test_too_few_keys_slip(self):
        quick = replace(ANNA, speed_m_s=2.0, reach_m=0.6)
        assert joined(self.cut(quick, key_every=24), "left")["roto"].verdict is Verdict.BREAKS


WALL = StandIn("wall", "Wall", "card", 0.0, 4.0, 0.0, 6.0, 3.0, plate_id="left")


class TestMarkers:
    def plan(self, markers: Markers, **more):
        found = changed(twins(WALL, splits=(), **more), "left", markers=markers, tracked=True)
        return found, marker_plan(case_of(found, "left"))

    def test_size_in_the_picture(self):
        _, plan = self.plan(Markers("wall", size_mm=20.0))
        assert plan is not None
        focal = 32.0 / 24.9 * 1920
        assert plan.largest_px == pytest.approx(0.02 * focal / 4.0, abs=0.01)

    @given(st.floats(-60, 60), st.floats(0.4, 4.0), st.floats(2.5, 12.0), st.booleans())
    def test_what_lies_or_stands_aslant_is_foreshortened(self, heading, high, away, lies):
        """Against a circle of the marker's size through OpenCV's own projection."""
        kind = "ground" if lies else "card"
        found = replace(WALL, kind=kind, y_m=away, heading_deg=heading, width_m=1.0, height_m=1.0)
        shot = twins(found, splits=())
        shot = replace(shot, world=replace(shot.world, height_m=high))
        case = case_of(shot, "left")
        places = tracked.grid(found, 0.25, False)
        _, sizes = tracked._through(case, found, places, 0.02)
        camera = case.stage.camera
        right, down, forward = camera.axes
        turn, _ = cv2.Rodrigues(np.stack([right, down, forward]))
        shift = -np.stack([right, down, forward]) @ np.array(camera.position_m)
        f, (w, h) = camera.focal_px(1920), (1920, shot.delivery.height_px)
        inner = np.array([[f, 0, w / 2], [0, f, h / 2], [0, 0, 1.0]])
        round_it = np.linspace(0, 2 * math.pi, 60, endpoint=False)
        ring = 0.01 * np.stack([np.cos(round_it), np.sin(round_it)], axis=1)
        for place, size in zip(places, sizes[0], strict=True):
            if np.isnan(size):
                continue
            at = case.plate.on_stage(on_surface(found, place + ring))
            drawn, _ = cv2.projectPoints(at, turn, shift, inner, None)
            (_, axes, _) = cv2.fitEllipseDirect((drawn[:, 0] * 8).astype(np.float32))
            assert size == pytest.approx(min(axes) / 8, rel=0.03, abs=0.1)

    def test_on_a_box_they_are_on_its_front(self):
        box = replace(WALL, kind="box", depth_m=2.0)
        shot = changed(twins(box, splits=()), "left", markers=Markers("wall", size_mm=20.0))
        plan = marker_plan(case_of(shot, "left"))
        # A box is placed by the foot of its front, 4 m away here; its depth runs on from there.
        front = measured_points(box).points[:, 1].min()
        assert front == pytest.approx(4.0)
        assert plan.largest_px == pytest.approx(0.02 * 32.0 / 24.9 * 1920 / front, abs=0.01)
        turned = replace(shot, stand_ins=(replace(box, heading_deg=180.0),))
        assert marker_plan(case_of(turned, "left")).fewest == 0

    def test_what_it_proposes_holds_through_the_move(self):
        move = Move(away_m=-3.0, pan_deg=10.0)
        found, _ = self.plan(Markers("wall", size_mm=5.0, spacing_m=3.0), move=move)
        finding = joined(found, "left")["markers"]
        assert finding.verdict is Verdict.BREAKS
        (remedy,) = finding.remedies
        after = changed(found, "left", **remedy.changes)
        assert joined(after, "left")["markers"].verdict is remedy.verdict
        better = marker_plan(case_of(after, "left"))
        assert better is not None
        assert better.fewest >= 6
        assert better.smallest_px >= 8.0 - 1e-6

    def test_colour_stands_off(self):
        _, pale = self.plan(Markers("wall", colour=(45, 165, 75), surface=(40, 170, 70)))
        assert pale is not None
        assert pale.apart_lab < 30
        assert colour_difference(pale.best_rgb, (40, 170, 70)) > 60
        # CIELAB of white against black is 100 (CIE 15).
        assert colour_difference((255, 255, 255), (0, 0, 0)) == pytest.approx(100.0, abs=0.01)

    def test_a_card_has_its_corners_and_edges(self):
        _, plan = self.plan(Markers("wall", insert=True))
        assert plan is not None
        assert plan.count == 8
        assert any("Matt card" in line for line in plan.advice)

    def test_without_anything_to_be_on_it_says_what_to_add(self):
        bare = changed(twins(ANNA, splits=()), "left", tracked=True, markers=None)
        finding = joined(bare, "left")["markers"]
        assert finding.remedies == ()
        assert "Give it a stand-in for the wall" in finding.sentence
        walled = changed(twins(ANNA, WALL, splits=()), "left", tracked=True, markers=None)
        assert "Give it" not in joined(walled, "left")["markers"].sentence

    def test_a_plate_to_be_tracked_asks_for_them(self):
        found = changed(twins(WALL, splits=()), "left", tracked=True)
        finding = joined(found, "left")["markers"]
        assert finding.verdict is Verdict.STRAINS
        (remedy,) = finding.remedies
        after = joined(changed(found, "left", **remedy.changes), "left")["markers"]
        assert after.verdict is Verdict.HOLDS


class TestBeats:
    def test_ramps_count_recorded_frames(self):
        # Normal speed for two frames, half for two, then double.
        ramp = (RampKey(3, 0.5), RampKey(5, 2.0))
        assert played_frames(6, ramp, 1.0) == [0.0, 1.0, 2.0, 2.5, 3.0, 5.0]
        assert played_frames(3, (), 2.0) == [0.0, 2.0, 4.0]
        with pytest.raises(ValueError, match="speed at frame 2"):
            played_frames(3, (RampKey(2, 0.0),), 1.0)

    def test_a_beat_on_set_follows_the_capture_rate(self):
        fast = Plate(**{**vars(LEFT), "capture_fps": 48.0})
        found = twins(beats=(Beat("a", "Throw", 25, "left", cue=True),), plates=(fast,), splits=())
        sheet = beat_sheet(found)
        assert sheet is not None
        (beat,) = sheet.beats
        # One second into the story: recorded frame 49 at 48 fps, one second after the clap.
        assert (beat.recorded_frame, beat.set_s) == (49.0, 1.0)
        assert sheet.cues[0].speed == 1.0

    def test_tied_beats_must_meet(self):
        beats = (
            Beat("a", "Thrown", 10, "left"),
            Beat("b", "Caught", 24, "right", with_id="a", gap=11, allowed=1),
        )
        found = twins(beats=beats)
        finding = joined(found, "right")["beats"]
        assert finding.verdict is Verdict.BREAKS
        assert "3 frames too late for Thrown" in finding.sentence
        remedy, thrown = finding.remedies
        assert thrown.sentence == "Thrown at frame 13."
        after = replace(found, **remedy.shot)
        assert joined(after, "right")["beats"].verdict is Verdict.HOLDS
        assert "beats" not in joined(found, "clean")

    def test_a_beat_after_the_end_is_told(self):
        found = twins(beats=(Beat("a", "Late", 999, "left"),))
        assert "after the shot has ended" in joined(found, "left")["beats"].sentence

    def test_ways_are_tried_and_nobody_else_comes_late_for_them(self):
        beats = (
            Beat("throw", "Throw", 60, "left"),
            Beat("land", "Lands", 60, "right", "throw", 12),
            Beat("look", "Looks", 60, "left", "land", 0),
        )
        found = twins(beats=beats)
        finding = joined(found, "right")["beats"]
        sentences = [r.sentence for r in finding.remedies]
        # At 72 it lands in time, but the look would then be late; thrown at 48 all is well.
        assert sentences == ["Throw at frame 48."]
        done = replace(found, **finding.remedies[0].shot)
        assert {joined(done, p)["beats"].verdict for p in ("left", "right")} == {Verdict.HOLDS}

    def test_beats_that_hang_on_one_another_are_put_in_step_together(self):
        beats = (
            Beat("a", "Clap", 10, "left"),
            Beat("b", "Turn", 40, "right", "a", 12),
            Beat("c", "Step", 40, "left", "b", 12),
            Beat("d", "Fall", 144, "right", "c", 6),
        )
        finding = joined(twins(beats=beats), "right")["beats"]
        (together,) = finding.remedies
        assert together.sentence == "Put all beats in step."
        assert [b.frame for b in together.shot["beats"]] == [10, 22, 34, 40]
        assert "Turn at 22" in together.effect
        # A ring cannot be put in step: nothing is offered.
        ring = (
            Beat("a", "Clap", 10, "left", "b", 12, 0),
            Beat("b", "Turn", 60, "left", "a", 12, 0),
        )
        assert joined(twins(beats=ring), "left")["beats"].remedies == ()

    def test_a_beat_after_the_end_is_brought_into_the_shot(self):
        found = twins(beats=(Beat("a", "Late", 999, "left"),))
        (remedy,) = joined(found, "left")["beats"].remedies
        assert remedy.shot["beats"][0].frame == found.frames
        # One that has to come after the end cannot be; what it goes with comes sooner.
        tied = (Beat("a", "Hit", 140, "left"), Beat("b", "Door", 100, "right", "a", 30))
        (sooner,) = joined(twins(beats=tied), "right")["beats"].remedies
        assert sooner.sentence == "Hit at frame 70."

    def test_sound_takes_its_time(self):
        # 343 m/s (air at 20 degrees; any acoustics text): three metres are 0.2 frames at 24.
        assert pytest.approx(0.21, abs=0.005) == 3.0 / SOUND_M_S * 24


def test_nothing_of_it_changes_a_plain_shot():
    plain = twins(splits=())
    keys = set(joined(plain, "left"))
    assert keys == {"lock"}
    assert report(plain).marks == ()
    assert Delivery(1920, 804, 24.0) == plain.delivery
    assert UPRIGHT.keys
