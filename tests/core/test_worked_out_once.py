"""What is worked out once for many things says of each what it says of that thing alone."""

from __future__ import annotations

import pickle
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from shapely import MultiPoint, Polygon

from jungoptic.core.camera import Camera
from jungoptic.core.drawings.stage.common import footprints
from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.shine import OneSpot, illuminance
from jungoptic.core.lighting.sources import source_of, sources_of
from jungoptic.core.lighting.stage_shadows import stage_shadows
from jungoptic.core.matching import fit_similarities, fit_similarity
from jungoptic.core.plan import Move, Shot
from jungoptic.core.plan.kit import Lamp
from jungoptic.core.plan.plate import PlacedLamp
from jungoptic.core.plan.standins import StandIn, outlines, strokes
from jungoptic.core.stage import looking
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.in_frame import in_story
from jungoptic.core.stage.looking import Look
from jungoptic.core.words.outlines import drawn

from .any_shot import any_shots

FEW = settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))

#: All that is told of every thing at every frame.
OF_THINGS = ("shows", "near_m", "far_m", "left_px", "top_px", "right_px", "bottom_px", "size_px")


def standing_still(shot: Shot) -> Shot:
    """The shot with a camera that does not move."""
    return replace(shot, move=Move(), screen_time_s=max(shot.screen_time_s, 0.5))


def look_at(shot: Shot) -> Look:
    """How the story's camera looks at a shot."""
    camera = shot.world.camera(shot.delivery)
    return Look(camera, shot.delivery, shot.move, shot.time, shot.padding)


def case_of(shot: Shot) -> Case:
    """The case of a shot's first plate; another shot is asked for where it cannot be built."""
    try:
        case = Case.of(shot, shot.plates[0])
    except Impossible:
        case = None
    assume(case is not None)
    return case


class TestWhatStandsStill:
    @FEW
    @given(any_shots())
    def test_it_is_seen_as_at_every_frame(self, found: Shot):
        shot = standing_still(found)
        moves = [bool(s.speed_m_s) for s in shot.stand_ins]
        assume(any(moves) and not all(moves))
        look, things = look_at(shot), shot.stand_ins
        with pytest.MonkeyPatch.context() as patched:
            patched.setattr(looking, "LEAST_PARTED", 0)
            once = looking.seen(look, things)
        assert once.parted is not None
        # Frame by frame, whether it moves or not.
        every = looking._seen(look, looking._path(look, True), things)
        for name in OF_THINGS:
            np.testing.assert_allclose(getattr(once, name), getattr(every, name), atol=1e-9)
        for name in ("at", "pixels", "there"):
            np.testing.assert_allclose(getattr(once, name), getattr(every, name), atol=1e-6)
        for name in ("fastest_px", "slowest_px", "drift_px"):
            mine, theirs = (getattr(of.steps, name) for of in (once, every))
            np.testing.assert_allclose(mine, theirs, atol=1e-6)
        np.testing.assert_allclose(once.ahead_of(things, 0.1), every.ahead_of(things, 0.1))
        looks = once.some(5)
        for asked in (None, looks):
            # The same spots, in whatever order.
            mine, theirs = (
                np.unique(np.round(np.column_stack(of.spots(things, asked)), 6), axis=0)
                for of in (once, every)
            )
            np.testing.assert_allclose(mine, theirs, atol=2e-6)
        ends = once.bounds(things, looks), every.spots(things, looks)[0]
        if len(ends[1]):
            for end in (np.min, np.max):
                np.testing.assert_allclose(end(ends[0], axis=0), end(ends[1], axis=0), atol=1e-9)

    @FEW
    @given(any_shots())
    def test_its_points_are_compared_as_at_every_frame(self, found: Shot):
        shot = standing_still(found)
        case = case_of(shot)
        view = case.compared
        assert len(view.points) == len(view.frames) == len(view.named)
        path = view.seen.path
        for row in range(0, len(view.frames), 7):
            frame = int(view.frames[row])
            camera = replace(path.camera, position_m=tuple(path.positions_m[frame]))
            (px,) = camera.project(view.points[row : row + 1], *_size(shot))
            np.testing.assert_allclose(view.world_px[row], px, rtol=1e-7, atol=1e-6)

    @FEW
    @given(any_shots(), st.floats(-2.0, 2.0))
    def test_what_was_kept_of_before_does_not_show(self, found: Shot, way: float):
        shot = standing_still(found)
        assume(shot.stand_ins)
        first, *rest = shot.stand_ins
        for things in (
            shot.stand_ins,
            (replace(first, x_m=first.x_m + way), *rest),
            shot.stand_ins,
        ):
            moved = replace(shot, stand_ins=things)
            kept = in_story(moved)
            for cache in (looking._part_kept, looking._path):
                cache.cache_clear()
            anew = looking.seen(look_at(moved), things)
            for name in OF_THINGS:
                np.testing.assert_array_equal(getattr(kept, name), getattr(anew, name))


def _size(shot: Shot) -> tuple[int, int]:
    return shot.delivery.width_px, shot.delivery.height_px


class TestManyThings:
    @FEW
    @given(any_shots())
    def test_each_is_drawn_as_alone(self, found: Shot):
        camera = found.world.camera(found.delivery)
        every = {s.id: strokes(s) for s in found.stand_ins}
        together = drawn(camera, every, *_size(found))
        alone = [drawn(camera, {name: own}, *_size(found))[0] for name, own in every.items()]
        assert list(together) == alone

    @FEW
    @given(any_shots())
    def test_their_outlines_from_above_hold_them_and_no_more(self, found: Shot):
        case = case_of(found)
        every = footprints(case)
        for thing, hull, side in zip(
            every.things, every.hulls(), every.from_the_side(), strict=True
        ):
            points = case.plate.on_stage(np.concatenate(outlines(thing)))
            if len(hull) > 2:
                flat = MultiPoint(np.stack([points[:, 1], -points[:, 0]], axis=1)).convex_hull
                # Points of a drawing are told to a hundredth of a millimetre.
                edge = 2e-5 * max(flat.length, 1e-3)
                assert Polygon(hull).symmetric_difference(flat).area <= edge
            low, high = points.min(axis=0), points.max(axis=0)
            assert side == (low[1], high[1], low[2], high[2])

    @FEW
    @given(any_shots())
    def test_each_throws_its_own_shadow(self, found: Shot):
        case = case_of(found)
        shadows = stage_shadows(case)
        assume(shadows)
        plate = case.plate
        key = lighting(case).key
        (lamp,) = (s for s in sources_of(case.shot, plate, fine=False) if s.number == key)
        assume(not lamp.parallel)
        by_id = {thing.id: thing for thing in case.shot.stand_ins}
        for shadow in shadows:
            thing = by_id[shadow.stand_in_id]
            foot = (thing.z_m - plate.ground_m) / plate.scale
            assert shadow.middle.lengths == tuple(map(len, outlines(thing)))
            assert (shadow.reach[:, 2] == foot).all()
            points = plate.on_stage(np.concatenate(outlines(thing)))
            # Similar triangles, where the lamp stands well above what throws the shadow.
            clear = lamp.at_m[2] - points[:, 2] > 0.2 * (lamp.at_m[2] - foot)
            part = (lamp.at_m[2] - foot) / (lamp.at_m[2] - points[clear, 2])
            falls = lamp.at_m + (points[clear] - lamp.at_m) * part[:, None]
            np.testing.assert_allclose(shadow.middle.points[clear], falls, atol=1e-9)


class TestFit:
    @pytest.mark.parametrize("count", [1, 2, 3, 8, 100, 129, 5_000, 20_000])
    def test_one_picture_is_fitted_as_one_of_many(self, count: int):
        rng = np.random.default_rng(count)
        source = rng.normal(900.0, 400.0, (count, 2))
        target = source * 1.01 + rng.normal(0.0, 3.0, (count, 2))
        moved, move = fit_similarity(source, target)
        use = np.ones((1, count), dtype=bool)
        many = fit_similarities(source[None], target[None], use)
        np.testing.assert_array_equal(moved, many.moved[0])
        assert move == many.move(0)

    def test_whatever_its_points_are_told_in(self):
        corners = np.array([[0, 0], [1920, 0], [1920, 1080]])
        moved, move = fit_similarity(corners, corners[:, ::-1] + 4)
        whole = fit_similarity(corners.astype(float), corners[:, ::-1] + 4.0)
        np.testing.assert_array_equal(moved, whole[0])
        assert move == whole[1]


LAMPS = (
    Lamp("open", "Open face", 900.0, size_m=0.1, kind="open"),
    Lamp("soft", "Soft box", 700.0, size_m=1.2, kind="soft"),
    Lamp("bank", "Bank", 700.0, size_m=1.2, width_m=0.2, kind="bank"),
    Lamp("bulb", "Bulb", 90.0, size_m=0.06, kind="bulb"),
    Lamp("sun", "Sun", 90_000.0, kind="sun"),
)
NEAR = st.floats(-3.0, 3.0)


class TestOneSpot:
    @FEW
    @given(
        st.lists(st.tuples(st.sampled_from(LAMPS), NEAR, NEAR, NEAR), min_size=1, max_size=4),
        st.tuples(NEAR, NEAR, NEAR),
        st.lists(st.tuples(NEAR, NEAR, NEAR), min_size=1, max_size=3),
    )
    def test_it_meters_as_every_point_does(self, lamps, at, ways):
        sources = tuple(
            source_of(i, lamp, PlacedLamp(lamp.id, *place), (0.0, 2.0, 0.5), True)
            for i, (lamp, *place) in enumerate(lamps)
        )
        point = np.array([at])
        spot = OneSpot(sources, point)
        for way in (None, *ways):
            normal = None if way is None else np.array(way) / max(np.linalg.norm(way), 1e-9)
            np.testing.assert_array_equal(
                spot.on(normal), illuminance(sources, point, normal)[:, 0]
            )


class TestKeptByTheThing:
    def test_a_thing_is_told_from_another_by_what_it_is(self):
        one, same = (StandIn("a", "A", "box", 1.0, 5.0) for _ in range(2))
        assert one == same
        assert hash(one) == hash(same)
        assert replace(one, x_m=1.1) != one
        assert len({one, same, replace(one, x_m=1.1)}) == 2

    def test_no_hash_goes_to_another_process_whose_words_have_others(self):
        one = StandIn("a", "A", "box", 1.0, 5.0)
        hash(one)
        there = pickle.loads(pickle.dumps(one))
        assert there == one
        assert vars(there) == vars(replace(one))


def test_a_camera_that_stays_is_where_it_is():
    camera = Camera(24.9, 14.0, 35.0, (1.0, -2.0, 1.6), 20.0, -5.0, 3.0)
    path = Move().along(camera, np.linspace(0.0, 1.0, 7))
    np.testing.assert_allclose(path.axes, np.broadcast_to(camera.axes, (7, 3, 3)), atol=1e-15)
    np.testing.assert_array_equal(path.positions_m, np.tile(camera.position_m, (7, 1)))
    with pytest.raises(ValueError, match="read-only"):
        path.axes[0, 0, 0] = 1.0
