"""What a recipe decides beside its plates: each carries out the trick it is named for."""

from __future__ import annotations

from dataclasses import replace
from itertools import count

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.breakdown.recipes import BOOK, BY_KEY
from jungoptic.core.breakdown.recipes.apply import fill
from jungoptic.core.breakdown.recipes.tricks import Placed, Tricks, tricks_for
from jungoptic.core.cost.effort import Job, estimate
from jungoptic.core.cost.work import Work
from jungoptic.core.lockoff.crowd.places import lay_out
from jungoptic.core.lockoff.group import departures
from jungoptic.core.lockoff.joins import judge_joins
from jungoptic.core.lockoff.throw import flight
from jungoptic.core.plan import Plate, Shot, WorldCamera
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.core.remedies.applied import applied
from jungoptic.core.remedies.standing import standing
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.derive import choose, derive

from .examples import KIT, USES, shot

#: Cameras that somebody plans a split or a throw with.
CAMERAS = st.builds(
    lambda focal, height, tilt: WorldCamera(24.9, focal, height, tilt),
    st.sampled_from([20.0, 28.0, 35.0, 50.0, 75.0]),
    st.floats(0.6, 1.9),
    st.floats(-4.0, 3.0),
)
WITH_LINES = sorted(r.key for r in BOOK if r.lines)


def built(key: str, camera: WorldCamera | None = None) -> tuple[Shot, Tricks]:
    """An empty shot after a recipe was applied to it, as the application does it."""
    empty = shot(stand_ins=(), plates=(), kit=KIT)
    if camera is not None:
        empty = replace(empty, world=camera)
    recipe = BY_KEY[key]
    new = fill(empty, recipe)
    names = Plate.__dataclass_fields__
    plates = []
    for n in new:
        fields = {k: v for k, v in n.fields.items() if k in names}
        plates.append(Plate(id=n.recipe_pass.key, **fields))
    things = tuple(s for n in new for s in n.stand_ins)
    placed = {n.recipe_pass.key: Placed(n.recipe_pass.key, n.stand_ins) for n in new}
    ids = (f"new {i}" for i in count())
    tricks = tricks_for(empty, recipe, placed, list(placed), lambda: next(ids))
    plates = [
        replace(p, rig=tricks.rigs.get(p.id), markers=tricks.markers.get(p.id)) for p in plates
    ]
    made = replace(
        empty,
        plates=tuple(plates),
        stand_ins=things,
        splits=tricks.splits,
        beats=tricks.beats,
    )
    return made, tricks


def middle_px(found: Shot, thing: StandIn) -> np.ndarray:
    size = found.delivery.width_px, found.delivery.height_px
    points = measured_points(thing).points
    return found.world.camera(found.delivery).project(points, *size).mean(axis=0)


class TestLines:
    @pytest.mark.parametrize("key", [k for k in WITH_LINES if BY_KEY[k].lines[0].upright])
    @given(camera=CAMERAS)
    def test_each_side_has_its_own_people(self, key, camera):
        """By projecting the people: those of the first pass left of the line, the others right."""
        found, _ = built(key, camera)
        (line,) = found.splits
        at = line.keys[0].points[0][0] * found.delivery.width_px
        for plate_id, side in ((line.first_id, -1), (line.second_id, 1)):
            for thing in (s for s in found.stand_ins if s.plate_id == plate_id):
                assert side * (middle_px(found, thing)[0] - at) > 0

    @pytest.mark.parametrize("key", WITH_LINES)
    def test_nobody_crosses_it_as_it_is_placed(self, key):
        found, tricks = built(key)
        for plate in found.plates:
            case = Case.of(found, plate)
            if case is None:
                continue
            crossing = {f.key: f for f in judge_joins(case)}.get("split")
            assert crossing is None or crossing.verdict is not Verdict.BREAKS, crossing
        assert any("a line between" in word for word in tricks.words)

    def test_a_line_that_is_there_is_not_drawn_again(self):
        found, _ = built("twin-split")
        placed = {
            p.id: Placed(p.id, tuple(s for s in found.stand_ins if s.plate_id == p.id))
            for p in found.plates
        }
        again = tricks_for(found, BY_KEY["twin-split"], placed, [], lambda: "x")
        assert (again.splits, again.beats, again.words) == ((), (), ())
        more = tricks_for(found, BY_KEY["twin-split"], placed, ["b"], lambda: "x")
        assert more.splits == ()


class TestThrow:
    @given(CAMERAS)
    def test_it_flies_from_one_pair_of_hands_to_the_other(self, camera):
        found, _ = built("moving-split", camera)
        (line,) = found.splits
        throw = line.throw
        assert throw is not None
        ends = {s.plate_id: s for s in found.stand_ins}
        assert (throw.from_x_m, throw.to_x_m) == (ends["a"].x_m, ends["b"].x_m)
        way = flight(found, line)
        assert way is not None
        # Between two hands at one height a thing in free fall rises g t² / 8 (any mechanics book).
        seconds = throw.frames / found.delivery.fps
        assert way.apex_m - throw.from_z_m == pytest.approx(9.80665 * seconds**2 / 8.0, rel=1e-3)

    def test_its_beats_are_the_hand_and_the_landing(self):
        found, _ = built("moving-split")
        leaves, lands = found.beats
        throw = found.splits[0].throw
        assert throw is not None
        assert leaves.frame == throw.frame
        assert lands.frame == throw.frame + throw.frames
        assert (lands.with_id, lands.gap) == (leaves.id, throw.frames)
        assert (leaves.plate_id, lands.plate_id) == ("a", "b")

    def test_a_shot_shorter_than_the_throw_keeps_its_beats_inside(self):
        short = replace(shot(stand_ins=(), plates=(), kit=KIT), screen_time_s=0.25)
        recipe = BY_KEY["moving-split"]
        placed = {n.recipe_pass.key: Placed(n.recipe_pass.key, n.stand_ins)
                  for n in fill(short, recipe)}  # fmt: skip
        decided = tricks_for(short, recipe, placed, list(placed), lambda: "x")
        assert all(1 <= b.frame <= short.frames for b in decided.beats)


class TestMirrored:
    def test_the_second_side_is_ticked_and_stands_the_other_way_round_on_set(self):
        """In the picture it is on the right; on the stage, before post mirrors it, on the left."""
        found, _ = built("flopped-double")
        plate = next(p for p in found.plates if p.id == "b")
        (thing,) = (s for s in found.stand_ins if s.plate_id == "b")
        assert plate.flop
        assert thing.x_m > 0
        case = Case.of(found, plate)
        assert case is not None
        assert case.own[0].x_m == pytest.approx(-thing.x_m)


class TestCarried:
    def test_what_carries_is_on_the_thing_it_carries(self):
        for key, kind in (
            ("unseen-hand", "hand"),
            ("wire-rod-rig", "thread"),
            ("pulled-model", "line"),
        ):
            found, tricks = built(key)
            (rig,) = tricks.rigs.values()
            thing = next(s for s in found.stand_ins if s.id == rig.thing_id)
            assert (rig.kind, thing.kind) == (kind, "box")

    def test_the_card_whose_picture_is_replaced_has_the_markers(self):
        found, tricks = built("picture-insert")
        (markers,) = tricks.markers.values()
        assert markers.insert
        assert next(s.kind for s in found.stand_ins if s.id == markers.surface_id) == "card"

    @pytest.mark.parametrize("focal", [20.0, 28.0, 50.0])
    def test_a_small_crowd_has_marks_for_all_it_is_to_be(self, focal):
        found, _ = built("small-crowd", WorldCamera(24.9, focal, 2.2, -3.0))
        crowd = next(p.crowd for p in found.plates if p.id == "tiles")
        assert crowd is not None
        assert len(lay_out(found, crowd).places) == crowd.wanted


class TestWhatALockOffShares:
    @pytest.mark.parametrize("recipe", BOOK, ids=lambda r: r.key)
    def test_nothing_departs_in_any_recipe(self, recipe):
        found, _ = built(recipe.key)
        for plate in found.plates:
            assert departures(found, plate) == ()

    def test_focus_passes_share_everything_but_focus(self):
        found, _ = built("split-focus")
        near, far = found.plates
        stages = []
        for plate in (near, far):
            choice = choose(found.kit, plate)
            assert choice is not None
            stages.append(derive(found, plate, choice))
        assert stages[0].focus_m < stages[1].focus_m
        other = replace(found, plates=(near, replace(far, iso=far.iso * 2.0)))
        assert [d.field for d in departures(other, other.plates[1])] == ["iso"]
        typed = replace(found, plates=(near, replace(far, focus_world_m=9.0)))
        assert departures(typed, typed.plates[1]) == ()

    @given(st.floats(2.0, 5.0), st.floats(5.0, 12.0))
    def test_one_focus_for_all_of_a_lock_off_that_follows_them(self, near, far):
        """Best between the nearest and the farthest of all its passes: the harmonic mean (depth of
        field, any optics book), wherever they are moved."""
        common = {"kind": "live", "lock_group": "A", **USES}
        plates = tuple(Plate(name, name, **common) for name in ("one", "two", "clean"))  # type: ignore[arg-type]
        cards = tuple(
            StandIn(n, n, "card", 0.0, y, 0.0, 1.0, 1.5, plate_id=n)
            for n, y in (("one", near), ("two", far))
        )
        found = shot(stand_ins=cards, plates=plates, kit=KIT, height_m=0.8, tilt_deg=0.0)
        got = []
        for plate in plates:
            choice = choose(found.kit, plate)
            assert choice is not None
            got.append(derive(found, plate, choice).focus_m)
        want = 2.0 * near * far / (near + far)
        assert got == pytest.approx([want] * 3, rel=1e-6)
        assert departures(found, plates[1]) == ()
        # As cards of before were judged: each by its own things.
        old = replace(found, old_rules=True)
        choice = choose(old.kit, plates[0])
        assert choice is not None
        assert derive(old, plates[0], choice).focus_m == pytest.approx(near, rel=1e-6)

    def test_a_way_out_of_a_focus_pass_leaves_the_others_focus(self):
        found, _ = built("split-focus")
        near, far = found.plates
        for finding in standing(found, near).findings:
            for remedy in finding.remedies:
                after = applied(found, near, remedy)
                assert after.plates[1].focus_world_m == far.focus_world_m


class TestHoursOnce:
    def test_another_light_of_an_animation_is_no_animation(self):
        """Common practice: a light pass is exposed pose by pose while the animation stands."""
        take = Job("a", "Animation", "puppet", Work(takes=1), 4.0, 24.0, "A")
        light = replace(take, id="b", again=True)
        rates = [{x.rate for x in estimate(j, j.again).lines} for j in (take, light)]
        assert "frames" in rates[0]
        assert "frames" not in rates[1]
        assert estimate(light, True).set.likely < 0.1 * estimate(take).set.likely
