"""Several cameras in one shot: each judged on what it shows, from where it stands."""

from __future__ import annotations

import cmath
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.camera import Camera
from jungoptic.core.impossible import Impossible
from jungoptic.core.lockoff.throw import flight
from jungoptic.core.plan import (
    Move,
    Plate,
    Shot,
    View,
    WorldCamera,
    all_views,
    check_shot,
    in_view,
    seen_from_own,
    whole_time_s,
)
from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.core.plan.tricks import Beat, RampKey, Split, Throw
from jungoptic.core.planner import Wishes, search
from jungoptic.core.planner.kit_choices import kit_choices
from jungoptic.core.planner.replan import replan
from jungoptic.core.planner.search import verdict_now
from jungoptic.core.remedies.outcome import tried
from jungoptic.core.remedies.pairs import pairs
from jungoptic.core.remedies.standing import standing
from jungoptic.core.remedies.whole import ways_out
from jungoptic.core.report.judged import judged
from jungoptic.core.report.shot_report import plate_report, report
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.derive import choose, derive
from jungoptic.core.stage.rates import needed_fps

from .any_shot import any_shots
from .examples import ANSA, MILL, USES, shot
from .stages import FULL

CLOSE = View("close", "Close-up", WorldCamera(24.9, 75.0, 1.5), screen_time_s=1.5)
FACE = Plate("face", "Face", "live", view_id="close", **USES)
HEAD = StandIn("head", "Ansa, near", "figure", 0.0, 2.0, 0.0, 0.5, 1.7, plate_id="face")


def cut(**changes: object) -> Shot:
    """The invented shot with a close-up of its heroine cut in."""
    found = shot(kit=FULL)
    return replace(
        found,
        plates=(*found.plates, FACE),
        stand_ins=(*found.stand_ins, HEAD),
        views=(replace(CLOSE, **changes),),  # type: ignore[arg-type]
    )


@st.composite
def with_views(draw: st.DrawFn) -> Shot:
    """A random shot with a second camera anywhere, and plates and things of its own."""
    first, other = draw(any_shots(plates=1)), draw(any_shots(plates=2))
    view = View(
        "v",
        "Other",
        other.world,
        other.move,
        other.screen_time_s,
        draw(st.floats(-8, 8)),
        draw(st.floats(-8, 8)),
        draw(st.floats(-180, 180)),
        story_speed=other.story_speed,
        story_speed_keys=other.story_speed_keys,
    )
    plates = tuple(replace(p, id=f"v{p.id}", view_id="v") for p in other.plates)
    things = tuple(
        replace(s, id=f"v{s.id}", plate_id=None if s.plate_id is None else f"v{s.plate_id}")
        for s in other.stand_ins
    )
    return replace(
        first,
        plates=(*first.plates, *plates),
        stand_ins=(*first.stand_ins, *things),
        views=(view,),
    )


class TestWhereItStands:
    @given(
        st.floats(-9, 9), st.floats(-9, 9), st.floats(-180, 180), st.floats(-60, 60),
        st.floats(-20, 20), st.floats(-5, 5), st.floats(1, 30), st.floats(-90, 90),
    )  # fmt: skip
    def test_its_picture_is_that_of_a_camera_standing_there(
        self, right, ahead, turned, pan, tilt, x, y, heading
    ):
        """Against the pinhole camera itself, put at that place of the shot's world and panned by
        both turns."""
        box = StandIn("b", "Box", "box", x, y, 0.2, 1.0, 2.0, 0.6, heading)
        world = WorldCamera(24.9, 35.0, 1.5, tilt, pan)
        view = View("v", "V", world, right_m=right, ahead_m=ahead, turned_deg=turned)
        whole = shot(stand_ins=(box,), plates=())
        seen = in_view(replace(whole, views=(view,)), "v")
        there = Camera(
            24.9, 24.9 / whole.delivery.aspect, 35.0, (right, ahead, 1.5), pan + turned, tilt
        )
        size = whole.delivery.width_px, whole.delivery.height_px
        want = there.project(measured_points(box).points, *size)
        own = seen.world.camera(seen.delivery)
        got = own.project(measured_points(seen.stand_ins[0]).points, *size)
        assert got == pytest.approx(want, rel=1e-6, abs=1e-4, nan_ok=True)

    @given(st.floats(-9, 9), st.floats(-9, 9), st.floats(-180, 180), st.floats(0, 3))
    def test_who_walks_walks_the_same_way(self, right, ahead, turned, seconds):
        """Going and then looking is looking and then going; by complex numbers."""
        walker = StandIn("w", "W", "figure", 1.0, 6.0, speed_m_s=1.3, course_deg=40.0)
        view = View("v", "V", CLOSE.world, right_m=right, ahead_m=ahead, turned_deg=turned)
        went = view.from_here(walker).after(seconds)
        gone = walker.after(seconds)
        # A turn of the camera to the right turns what it sees to the left.
        seen = complex(gone.x_m - right, gone.y_m - ahead) * cmath.exp(1j * math.radians(turned))
        assert complex(went.x_m, went.y_m) == pytest.approx(seen, abs=1e-9)

    @given(st.floats(-9, 9), st.floats(-9, 9), st.floats(-180, 180))
    def test_what_is_told_from_it_comes_back_from_the_world(self, right, ahead, turned):
        box = StandIn("b", "Box", "box", 1.5, 4.0, 0.2, heading_deg=20.0, course_deg=70.0)
        view = View("v", "V", CLOSE.world, right_m=right, ahead_m=ahead, turned_deg=turned)
        back = view.from_here(view.in_world(box))
        assert (back.x_m, back.y_m) == pytest.approx((box.x_m, box.y_m), abs=1e-9)
        assert (back.heading_deg, back.course_deg) == pytest.approx((20.0, 70.0))

    def test_the_key_comes_from_the_same_side_of_the_world(self):
        """Common practice: turn the camera by a right angle, and a key from the right is ahead."""
        whole = replace(cut(turned_deg=90.0), key_from_deg=90.0)
        assert in_view(whole, "close").key_from_deg == pytest.approx(0.0)
        assert in_view(whole, None).key_from_deg == 90.0


class TestWhatBelongsToIt:
    def test_each_has_its_own_plates_and_things_and_the_scenery(self):
        tree = StandIn("tree", "Tree", "card", 0.0, 20.0)
        whole = replace(cut(ahead_m=4.0), stand_ins=(*cut().stand_ins, tree))
        first, close = all_views(whole)
        assert {p.id for p in first.plates} == {p.id for p in shot().plates}
        assert [p.id for p in close.plates] == ["face"]
        assert "head" not in {s.id for s in first.stand_ins}
        assert {s.id: s.y_m for s in close.stand_ins} == pytest.approx({"head": -2.0, "tree": 16.0})
        assert first.views == close.views == ()

    def test_a_shot_of_one_camera_is_given_back(self):
        one = shot()
        assert in_view(one, "gone") is one
        assert seen_from_own(one, replace(MILL, view_id="gone")) is one
        assert whole_time_s(one) == one.screen_time_s

    def test_a_plate_of_a_view_that_is_gone_is_the_first_cameras(self):
        whole = replace(cut(), plates=(*cut().plates, replace(FACE, id="lost", view_id="gone")))
        assert "lost" in {p.id for p in in_view(whole, None).plates}

    def test_time_is_its_own(self):
        whole = cut(story_speed=0.5, story_speed_keys=(RampKey(10, 1.0),))
        assert whole_time_s(whole) == pytest.approx(whole.screen_time_s + 1.5)
        assert in_view(whole, "close").frames == 36
        assert needed_fps(in_view(whole, "close"), FACE) == pytest.approx(48.0)
        assert needed_fps(in_view(whole, None), MILL) == needed_fps(shot(kit=FULL), MILL)

    def test_a_thrown_things_close_up_is_judged_against_its_own_view(self):
        """The flight is that of the view's camera: nearer by half, twice as large a way."""
        throw = Throw(-0.5, 3.0, 1.2, 0.5, 3.0, 1.2, 1, 12)
        line = Split("s", "line", "face", None, throw=throw)
        near = replace(throw, from_y_m=1.5, to_y_m=1.5)
        wide = in_view(cut(splits=(line,)), "close")
        close = in_view(cut(splits=(replace(line, throw=near),)), "close")
        ways = [flight(found, found.splits[0]) for found in (wide, close)]
        spans = [np.ptp([p[0] for p in way.path_px]) for way in ways if way is not None]
        assert spans[1] / spans[0] == pytest.approx(2.0, rel=1e-3)
        assert in_view(cut(splits=(line,)), None).splits == shot().splits

    def test_what_makes_no_sense_is_refused_in_any_view(self):
        with pytest.raises(Impossible, match="ends below the ground"):
            check_shot(cut(move=Move(up_m=-3.0)))
        with pytest.raises(Impossible, match="story's speed"):
            check_shot(cut(story_speed=0.0))


class TestEveryDoorKnowsIt:
    """Whatever is asked of a plate of the whole shot is what its view alone answers."""

    @given(with_views())
    def test_judging(self, whole: Shot):
        for plate in whole.plates:
            alone = in_view(whole, plate.view_id)
            assert judged(whole, plate, False) == judged(alone, plate, False)
            assert verdict_now(whole, plate) == verdict_now(alone, plate)
            case, own = self._case(whole, plate), self._case(alone, plate)
            assert (case is None) == (own is None)
            if case is not None and own is not None:
                assert case.stage == own.stage
                choice = choose(whole.kit, plate)
                assert choice is not None
                assert derive(whole, plate, choice) == derive(alone, plate, choice)

    @staticmethod
    def _case(found: Shot, plate: Plate) -> Case | None:
        try:
            return Case.of(found, plate)
        except Impossible:
            return None

    def test_ways_out_planning_and_reports(self):
        whole = cut(ahead_m=-1.0, turned_deg=15.0)
        alone = in_view(whole, "close")
        bare = replace(FACE, body_id=None, lens_id=None, mode_id=None)
        assert kit_choices(whole, bare) == kit_choices(alone, bare)
        wishes = Wishes(keep_scale=True)
        assert search(whole, FACE, wishes, most=2) == search(alone, FACE, wishes, most=2)
        for finding in standing(alone, FACE).findings[:3]:
            assert ways_out(whole, FACE, finding) == ways_out(alone, FACE, finding)
            assert pairs(whole, FACE, finding, 0, 2) == pairs(alone, FACE, finding, 0, 2)
            assert len(tried(whole, FACE, finding)) == len(tried(alone, FACE, finding))
        told = report(whole, False, selected="face")
        assert [p.plate_id for p in told.plates] == ["face"]
        assert told.world == report(alone, False).world == report(whole, False, view="close").world
        assert report(whole, False).world == report(in_view(whole, None), False).world
        assert plate_report(whole, FACE, False).stage == plate_report(alone, FACE, False).stage
        changes = {c.plate_id: c.before for c in replan([("", whole)])}
        assert changes["face"] == verdict_now(alone, FACE)
        assert changes["ansa"] == verdict_now(in_view(whole, None), ANSA)

    def test_beats_of_one_are_not_the_others(self):
        whole = cut(beats=(Beat("b", "She turns", 12, "face"),))
        assert in_view(whole, None).beats == ()
        assert [b.name for b in in_view(whole, "close").beats] == ["She turns"]
