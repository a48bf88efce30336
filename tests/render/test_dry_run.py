"""Plates filmed in simulation and put together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.kit import Room
from jungoptic.core.plan.plate import PlacedLamp
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import DividerKey, Split
from jungoptic.core.stage.case import Case
from jungoptic.render.dry_run import run
from jungoptic.render.picture import AS_FILMED, develop
from proof.plans import random_case

pytestmark = pytest.mark.usefixtures("engine")
PANEL = PlacedLamp("panel", 0.0, 0.2, 2.2)


def shot_of(*plates: dict, **changes) -> Shot:
    """A shot of two boxes, each in a plate of its own, filmed alike."""
    case = random_case(0)
    level = replace(case.shot.world, height_m=1.4, pan_deg=0.0, tilt_deg=0.0, roll_deg=0.0)
    things = (
        StandIn("near", "Near box", "box", -0.8, 5.0, 0.0, 1.0, 1.5, 1.0, 0.0, "a"),
        StandIn("far", "Far box", "box", 0.8, 8.0, 0.0, 1.5, 2.0, 1.0, 0.0, "b"),
    )
    alike = {
        "kind": "live",
        "scale": 1.0,
        "axis_height_m": None,
        "lamps": (PANEL,),
        "nd_stops": 0.0,
        "iso": 1600.0,
        "f_number": 2.8,
    }
    own = tuple(
        replace(case.plate, id=key, name=f"Plate {key}", **{**alike, **more})
        for key, more in zip("ab", plates or ({}, {}), strict=False)
    )
    values = {"world": level, "stand_ins": things, "plates": own, "move": type(case.shot.move)()}
    return replace(case.shot, visibility_m=None, **{**values, **changes})


def by_name(found) -> dict:
    return {thing.name: thing for thing in found.things}


def test_both_things_are_there_and_told():
    found = run(shot_of(), width=160)
    assert found.composite.shape == found.story.shape
    assert found.composite.shape[1] == 160
    assert set(by_name(found)) == {"Near box", "Far box"}
    assert found.hole == pytest.approx(0.0, abs=1e-3)
    left, _, right, _ = by_name(found)["Near box"].box
    assert left < right < 0.55


def test_a_stop_of_filter_is_a_stop_of_difference():
    """A neutral density of one stop halves the light (common practice)."""
    plain = by_name(run(shot_of(), width=160))
    dark = by_name(run(shot_of({"nd_stops": 1.0}, {}), width=160))
    assert plain["Near box"].stops - dark["Near box"].stops == pytest.approx(1.0, abs=0.1)
    assert plain["Far box"].stops == pytest.approx(dark["Far box"].stops, abs=0.1)


def test_a_picture_of_cut_out_things_alone_leaves_holes():
    found = run(shot_of({"cut": "roto"}, {"cut": "roto"}), width=160)
    assert found.hole > 0.3


def test_a_plate_that_is_kept_whole_shows_its_room():
    room = {"room_id": "room", "room_behind_m": 1.0}
    kit = replace(random_case(0).shot.kit, rooms=(Room("room", "Garage", 12.0, 6.0, 3.0),))
    built = run(shot_of({"cut": "roto"}, {**room, "kind": "miniature"}, kit=kit), width=160)
    assert any("shows the walls" in remark for remark in built.remarks)
    # What is filmed live in a room is filmed in the place of the story.
    there = run(shot_of({"cut": "roto"}, room, kit=kit), width=160)
    assert not any("shows the walls" in remark for remark in there.remarks)


def test_a_divider_gives_each_plate_its_side():
    line = (DividerKey(1, ((0.5, 0.0), (0.5, 1.0))),)
    split = Split("s", "Split", "a", "b", feather_px=0.0, keys=line)
    bright = run(shot_of({}, {"nd_stops": 5.0}, splits=(split,)), width=160).composite
    # The ground is in both plates; the right half comes from the one that is five stops darker.
    low = bright[int(bright.shape[0] * 0.85) :].mean(axis=(0, 2))
    assert low[20:70].mean() > 2.0 * low[90:140].mean()


def test_a_plate_without_a_camera_is_named_and_none_at_all_refused():
    found = run(shot_of({"lens_id": None}, {}), width=160)
    assert any(remark.startswith("Plate a is left out") for remark in found.remarks)
    with pytest.raises(Impossible, match="no plate of this shot"):
        run(shot_of({"lens_id": None}, {"body_id": None}), width=160)


def test_a_plate_without_lamps_is_shown_and_its_brightness_says_nothing():
    found = run(shot_of({"lamps": ()}, {}), width=160)
    assert by_name(found)["Near box"].stops is None
    assert by_name(found)["Far box"].stops is not None
    assert any(r.startswith("Plate a has no lamps yet") for r in found.remarks)


def test_passes_for_focus_are_not_laid_in_twice():
    one = run(shot_of({}, {}), width=120)
    again = shot_of({}, {})
    twin = replace(again.plates[0], id="c", pass_for="light", nd_stops=6.0)
    two = run(replace(again, plates=(*again.plates, twin)), width=120)
    assert (one.composite == two.composite).all()


def test_what_is_told_on_the_way_ends_at_the_end():
    heard: list[tuple[int, int]] = []
    run(shot_of(), width=96, tell=lambda done, of: heard.append((done, of)))
    assert [done for done, _ in heard] == sorted(done for done, _ in heard)
    assert max(done for done, _ in heard) <= heard[0][1]
    assert np.diff([of for _, of in heard]).any() == np.False_


def test_it_can_be_stopped_on_the_way():
    class Stop(Exception):
        pass

    def tell(done: int, of: int) -> None:
        if done == 1:
            raise Stop

    with pytest.raises(Stop):
        run(shot_of(), width=96, tell=tell)


@pytest.mark.parametrize("flop", [False, True])
def test_what_is_placed_in_post_lies_where_the_story_has_it(flop):
    """Filmed from half as far, it covers what it covers filmed from where the story stands."""
    far = {"cut": "roto", "flop": flop}
    near = {**far, "placed_in_post": True, "placed_from_m": 4.5}
    without = run(shot_of({}, {"lens_id": None}), width=160).composite.astype(float)
    masks = []
    for plate in (far, near):
        found = run(shot_of({}, plate), width=160).composite.astype(float)
        masks.append(np.abs(found - without).max(axis=2) > 12.0)
    plain, laid = masks
    assert plain.sum() > 200
    # Whole pixels of a small picture, and another perspective of the box's depth, at its rim.
    assert (plain & laid).sum() / (plain | laid).sum() > 0.85


def test_what_is_placed_in_post_is_developed_in_a_frame_of_its_own():
    shot = shot_of({}, {"cut": "roto", "placed_in_post": True, "placed_from_m": 4.5})
    found = develop(shot, shot.plates[1], 0.0, 96)
    own = Case.of(shot, shot.plates[1]).shot.delivery
    high, wide = found.pixels.shape[:2]
    assert wide / high == pytest.approx(own.aspect, rel=0.05)
    # As many pixels as the story's picture of that width.
    assert wide * high == pytest.approx(96 * 96 / shot.delivery.aspect, rel=0.1)
    assert AS_FILMED in found.remarks
