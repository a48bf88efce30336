"""What holds a camera and what is hung: heights, ways and turns against what is owned."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from shapely.geometry import box

from jungoptic.core.breakdown.recipes import BY_KEY as RECIPES
from jungoptic.core.breakdown.recipes.apply import fill
from jungoptic.core.cards.card import card_lines
from jungoptic.core.judging.backing import backing_verdict
from jungoptic.core.judging.cloth import covers
from jungoptic.core.judging.support import best
from jungoptic.core.plan import Cloth, Loan, Move, Plate, Shot, Support
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.kit import MoveRig
from jungoptic.core.planner.replan import replan, uses
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.backing import backing
from jungoptic.core.stage.hung import hangings
from jungoptic.core.stage.support import asked_of

from .any_shot import any_shots
from .examples import ANSA, CINEMA, MILL, STAND_INS
from .stages import case_of, one

#: What shops rent and garages hold: a tripod of 0.45 to 1.65 m, a low stand (common practice).
TRIPOD = Support("tripod", "Tripod", 450.0, 1650.0)
LOW = Support("low", "Low stand", 120.0, 160.0)
SLIDER = Support("slider", "Slider", 300.0, 1500.0, travel_mm=800.0)
JIB = Support("jib", "Jib", 300.0, 2600.0, travel_mm=0.0, lifts=True)
RAIL = Support("rail", "Rail head", 450.0, 1650.0, "pupil", 120.0)
GREEN = Cloth("green", "Green cloth", 3.0, 6.0)
BOARD = Cloth("board", "Green board", 1.5, 1.5, stiff=True)
BLUE = Cloth("blue", "Blue cloth", 3.0, 3.0, "blue")
LENT = Loan(True, datetime.date(2026, 10, 3), datetime.date(2026, 10, 9))


def owning(found: Shot, *things: Support | Cloth | MoveRig) -> Shot:
    """The shot with these in its kit."""
    kit = replace(
        found.kit,
        supports=tuple(x for x in things if isinstance(x, Support)),
        cloths=tuple(x for x in things if isinstance(x, Cloth)),
        rigs=tuple(x for x in things if isinstance(x, MoveRig)),
    )
    return replace(found, kit=kit)


def said(found: Shot, key: str = "support") -> Finding | None:
    """What a rule says of the first plate, with its remedies."""
    plate = found.plates[0]
    told = report(found, selected=plate.id, remedies=True).plates[0].findings
    return next((f for f in told if f.key == key), None)


def on(support: Support | None, found: Shot) -> Finding:
    """What the support rule says of a stage that stands on one."""
    finding = said(owning(found, *([] if support is None else [support])))
    assert finding is not None
    return finding


def at_height(height_m: float, **more: object) -> Shot:
    """A performer filmed with the lens so high, level unless told."""
    return one(ANSA, height_m=height_m, **{"tilt_deg": 0.0, "plate_ground_m": 0.0, **more})


class TestSupport:
    @settings(max_examples=60)
    @given(
        st.floats(0.6, 3.0),
        st.floats(-40.0, 40.0),
        st.sampled_from([0.0, 12.0, -20.0]),
        st.sampled_from([None, 40.0]),
    )
    def test_the_base_lies_where_a_rigid_body_has_it(self, height, tilt, socket, pupil):
        """Against SciPy's rotations: from the entrance pupil back along the lens axis to the
        socket, and down to the base."""
        body = replace(CINEMA, socket_mm=socket)
        found = at_height(height, tilt_deg=tilt)
        lens = replace(found.kit.lenses[1], length_mm=72.0, pupil_from_mount_mm=pupil)
        kit = replace(found.kit, bodies=(body,), lenses=(lens,))
        case = case_of(replace(found, kit=kit))
        stage = case.stage
        turned = Rotation.from_euler("x", tilt, degrees=True)
        arm = np.array([0.0, socket / 1000.0 - stage.sensor_to_pupil_m, -0.105])
        base = np.array(stage.camera.position_m) + turned.apply(arm)
        assert asked_of(case).base_m == pytest.approx(base[2], abs=1e-9)

    @pytest.mark.parametrize(
        ("height", "verdict"),
        [
            (1.50, Verdict.HOLDS),
            # 105 mm from base to axis: 1.755 m is the highest, 0.555 m the lowest.
            (1.754, Verdict.HOLDS),
            (1.77, Verdict.STRAINS),
            (2.25, Verdict.STRAINS),
            (2.27, Verdict.BREAKS),
            (0.556, Verdict.HOLDS),
            (0.50, Verdict.STRAINS),
        ],
    )
    def test_a_tripod_goes_from_its_lowest_to_its_highest(self, height, verdict):
        assert on(TRIPOD, at_height(height)).verdict is verdict

    def test_it_says_what_to_do(self):
        high = on(TRIPOD, at_height(2.0))
        assert "1.895 m above the floor, 245 mm higher than it goes" in high.sentence
        assert "firm platform" in high.sentence
        low = on(TRIPOD, at_height(0.4))
        assert "155 mm lower than it goes" in low.sentence
        assert "boxes or a sandbag" in low.sentence
        assert "firm platform" not in on(TRIPOD, at_height(3.0)).sentence

    def test_nothing_is_asked_where_no_support_is_known(self):
        assert said(at_height(9.0)) is None
        assert said(owning(at_height(1.5, plate_kind="still"), TRIPOD)) is None
        assert said(owning(one(MILL, plate_mirror=True), TRIPOD)) is None
        # How far down a cut-out goes is not known; the floor under a table is.
        assert said(owning(one(MILL, plate_drop_m=0.1), TRIPOD)) is None
        below = on(TRIPOD, one(MILL, plate_drop_m=0.1, plate_table_m=0.8))
        assert "lies on the table" in below.sentence

    def test_what_lies_on_the_ground_needs_none(self):
        # A mill at 1:12 asks for the axis 125 mm up: the base is 20 mm above the table.
        finding = on(TRIPOD, one(MILL, plate_table_m=0.8))
        assert finding.verdict is Verdict.HOLDS
        assert "lies on the table" in finding.sentence
        # Not while it pans, nor where the plate names what it stands on.
        turning = on(LOW, one(MILL, plate_table_m=0.8, move=Move(pan_deg=8.0)))
        assert turning.verdict is Verdict.STRAINS
        named = on(TRIPOD, one(MILL, plate_support_id="tripod"))
        assert named.verdict is Verdict.STRAINS

    def test_a_table_is_stood_on_or_beside(self):
        """Base 0.82 m above the floor, 20 mm above a table of 0.8 m: the tripod stands beside it,
        the low stand on one of 0.69 m."""
        beside = on(TRIPOD, one(MILL, plate_table_m=0.8, plate_support_id="tripod"))
        assert beside.verdict is Verdict.HOLDS
        assert "819 mm above the floor" in beside.sentence
        higher = one(MILL, plate_table_m=0.8, plate_axis_height_m=0.25, plate_support_id="low")
        assert "144 mm above the table" in on(LOW, higher).sentence

    def test_a_set_is_raised_to_where_a_stand_reaches(self):
        found = one(MILL, move=Move(pan_deg=8.0))
        finding = on(TRIPOD, found)
        assert finding.verdict is Verdict.STRAINS
        (way,) = (r for r in finding.remedies if "table_m" in r.changes)
        after = on(TRIPOD, replace(found, plates=(replace(MILL, **way.changes),)))
        assert after.verdict is Verdict.HOLDS

    def test_a_table_too_high_is_lowered(self):
        found = one(MILL, plate_table_m=2.2, plate_support_id="tripod")
        finding = on(TRIPOD, found)
        assert finding.verdict is Verdict.STRAINS
        (way,) = (r for r in finding.remedies if "table_m" in r.changes)
        assert way.changes["table_m"] == pytest.approx(1.63)

    @pytest.mark.parametrize("support", [TRIPOD, SLIDER])
    def test_a_way_is_carried_or_not(self, support):
        """Two metres in the story are two on a stage at life size, 167 mm at 1:12."""
        live = on(support, at_height(1.2, move=Move(right_m=1.2, away_m=1.6)))
        assert live.verdict is Verdict.BREAKS
        assert "2.000 m level" in live.sentence
        assert ("stays where it stands" in live.sentence) == (support is TRIPOD)
        small = on(support, one(MILL, plate_table_m=0.8, move=Move(right_m=2.0)))
        assert small.verdict is (Verdict.HOLDS if support is SLIDER else Verdict.BREAKS)

    def test_a_counted_slider_carries_what_stands_on_a_tripod(self):
        found = one(MILL, plate_table_m=0.8, move=Move(right_m=2.0))
        slider = MoveRig("s", "Counted slider", "track", travel=300.0)
        finding = said(owning(found, TRIPOD, slider))
        assert finding is not None
        assert finding.verdict is Verdict.HOLDS
        assert "the Counted slider carries it 167 mm" in finding.sentence
        wheel = MoveRig("w", "Wheel", "crank", travel=300.0)
        finding = said(owning(found, TRIPOD, wheel))
        assert finding is not None
        assert finding.verdict is Verdict.BREAKS

    def test_a_model_built_smaller_moves_less(self):
        found = one(MILL, plate_table_m=0.8, move=Move(right_m=12.0), plate_drop_m=0.05)
        finding = on(SLIDER, found)
        assert finding.verdict is Verdict.BREAKS
        (way,) = (r for r in finding.remedies if r.changes.get("scale"))
        assert way.changes["scale"] == math.ceil(12.0 / 0.8)

    def test_what_lifts_goes_between_its_ends(self):
        up = at_height(1.2, move=Move(up_m=1.0))
        assert on(TRIPOD, up).verdict is Verdict.BREAKS
        assert "rises 1.000 m" in on(TRIPOD, up).sentence
        assert on(JIB, up).verdict is Verdict.HOLDS
        # 1.2 - 0.105 + 1.7 is past its 2.6 m.
        higher = on(JIB, at_height(1.2, move=Move(up_m=1.7)))
        assert higher.verdict is Verdict.STRAINS
        assert "195 mm higher" in higher.sentence
        # Going down is told from where it ends.
        down = on(JIB, at_height(1.2, move=Move(up_m=-0.9)))
        assert "lower than it goes" in down.sentence
        column = MoveRig("c", "Column", "crane", travel=1000.0)
        carried = said(owning(up, TRIPOD, column))
        assert carried is not None
        assert carried.verdict is Verdict.HOLDS

    def test_a_head_turns_as_the_plate_does(self):
        pan = {"move": Move(pan_deg=20.0)}
        still = replace(TRIPOD, turns_about=None)
        assert on(still, at_height(1.5)).verdict is Verdict.HOLDS
        assert "no head that turns" in on(still, at_height(1.5, **pan)).sentence
        assert on(TRIPOD, at_height(1.5, **pan)).verdict is Verdict.HOLDS
        pupil = at_height(1.5, plate_turns_about="pupil", **pan)
        assert "its head turns about the tripod socket" in on(TRIPOD, pupil).sentence
        assert on(RAIL, pupil).verdict is Verdict.HOLDS
        # A rail can be set over the socket as well.
        assert on(RAIL, at_height(1.5, **pan)).verdict is Verdict.HOLDS

    def test_a_camera_is_slid_as_far_as_the_rail_goes(self):
        far = at_height(1.5, plate_slide_mm=84.0, move=Move(pan_deg=20.0))
        assert "slid 84.0 mm on it, which it does not let it" in on(TRIPOD, far).sentence
        assert on(RAIL, far).verdict is Verdict.HOLDS
        assert on(replace(RAIL, slide_mm=40.0), far).verdict is Verdict.BREAKS

    def test_only_what_is_there_on_the_day_counts(self):
        lent = replace(TRIPOD, loan=LENT)
        there = at_height(1.5, plate_film_on=datetime.date(2026, 10, 4))
        assert on(lent, there).verdict is Verdict.HOLDS
        gone = on(lent, at_height(1.5, plate_film_on=datetime.date(2026, 10, 14)))
        assert gone.verdict is Verdict.BREAKS
        assert "14 October" in gone.sentence

    def test_lending_the_only_one_is_told(self):
        found = owning(at_height(1.5), TRIPOD)
        (change,) = replan([("s", found)], frozenset({"tripod"}))
        assert not change.uses
        assert change.after is Verdict.BREAKS
        named = replace(ANSA, support_id="tripod", cloth_id="green")
        assert uses(named, frozenset({"tripod"}))
        assert uses(named, frozenset({"green"}))
        left = replace(found, kit=found.kit.without(frozenset({"tripod"})))
        assert "all of them are lent" in (said(left) or pytest.fail("silent")).sentence

    def test_the_card_says_what_to_bring_and_how_high(self):
        found = owning(at_height(1.5), LOW, TRIPOD)
        case = case_of(found)
        whole = report(found, selected="ansa").plates[0]
        (line,) = (x for x in card_lines(case, whole) if x.label == "Stands on")
        assert line.value == "Tripod"
        assert line.detail == "base 1.395 m above the floor"

    @settings(max_examples=40)
    @given(any_shots(plates=1))
    def test_another_support_never_holds_worse(self, found):
        """Owning more can only help, and what is said to hold does so by its own numbers."""
        more = replace(found, kit=replace(found.kit, supports=(*found.kit.supports, TRIPOD)))
        plate = found.plates[0]
        before, after = said(found), said(more)
        if plate.support_id is None and before is not None and after is not None:
            assert after.verdict.rank <= before.verdict.rank
        if after is None or after.verdict is not Verdict.HOLDS:
            return
        held = best(case_of(more))
        assert held is not None
        if held.holding is None:
            assert held.lies
            return
        one_of, way = held.holding.support, held.asks
        ends = (way.base_m, way.base_m + way.rises_m) if one_of.lifts else (way.base_m,)
        for end in ends:
            above = end - held.holding.raised_m
            assert one_of.lowest_mm - 2.1 <= above * 1000.0 <= one_of.highest_mm + 2.1


def hung(found: Shot, *cloths: Cloth) -> Finding | None:
    """What is said of the cloth of a screen."""
    return said(owning(found, *cloths), "cloth")


def screen(**more: object) -> Shot:
    """A performer before a screen of 3 by 3 m."""
    return one(ANSA, **{"plate_screen_width_m": 3.0, "plate_screen_height_m": 3.0, **more})


class TestCloth:
    @settings(max_examples=80)
    @given(*[st.floats(0.2, 6.0)] * 4)
    def test_a_cloth_gives_what_lies_within_it_either_way(self, wide, high, across, long):
        """Against shapely: the screen's rectangle, upright or or turned, in the cloth's."""
        cloth = box(0.0, 0.0, across, long)
        fits = cloth.covers(box(0, 0, wide, high)) or cloth.covers(box(0, 0, high, wide))
        shorts = [h.short_m(wide, high, 0.0) for h in hangings(Cloth("c", "C", across, long))]
        assert (min(shorts) <= 0.0) == fits

    def test_three_by_six_hangs_three_and_lies_three(self):
        """A cloth of 3 by 6 m hung 3 m high leaves a floor of 3 m (common practice)."""
        enough = hung(screen(plate_screen_sweep_m=3.0), GREEN)
        assert enough is not None
        assert enough.verdict is Verdict.HOLDS
        short = hung(screen(plate_screen_sweep_m=3.2), GREEN)
        assert short is not None
        assert short.verdict is Verdict.BREAKS
        assert "200 mm too small" in short.sentence

    def test_it_is_turned_on_its_side(self):
        wide = hung(screen(plate_screen_width_m=5.5, plate_screen_height_m=2.8), GREEN)
        assert wide is not None
        assert wide.verdict is Verdict.HOLDS
        assert "on its side" in wide.sentence

    def test_a_board_has_no_floor(self):
        size = {"plate_screen_width_m": 1.2, "plate_screen_height_m": 1.4}
        hangs, lies = hung(screen(**size), BOARD), hung(screen(plate_screen_sweep_m=1.0), BOARD)
        assert hangs is not None
        assert hangs.verdict is Verdict.HOLDS
        assert lies is not None
        assert "stiff" in lies.sentence

    def test_colours_are_those_owned(self):
        blue = hung(screen(plate_screen_colour="blue"), GREEN)
        assert blue is not None
        assert "No blue cloth is there" in blue.sentence
        named = hung(screen(plate_screen_colour="blue", plate_cloth_id="green"), GREEN, BLUE)
        assert named is not None
        assert "is green; this screen is to be blue" in named.sentence
        # The sky is nobody's, and a white wall will do.
        assert hung(screen(plate_screen_colour="sky"), GREEN) is None
        assert hung(screen(plate_screen_colour="white"), GREEN) is None
        assert hung(screen()) is None

    def test_one_that_is_not_there_on_the_day(self):
        lent = replace(GREEN, loan=LENT)
        gone = hung(screen(plate_film_on=datetime.date(2026, 11, 1)), lent)
        assert gone is not None
        assert "on 1 November" in gone.sentence
        left = owning(screen(), GREEN)
        bare = replace(left, kit=left.kit.without(frozenset({"green"})))
        finding = said(bare, "cloth")
        assert finding is not None
        assert finding.verdict is Verdict.BREAKS

    def test_a_screen_too_small_is_hung_from_what_is_owned(self):
        small = screen(plate_screen_width_m=0.5, plate_screen_height_m=1.0)
        found = said(owning(small, GREEN), "backing")
        assert found is not None
        assert found.verdict is Verdict.BREAKS
        (way,) = (r for r in found.remedies if r.changes.get("cloth_id") == "green")
        after = replace(small.plates[0], **way.changes)
        told = owning(replace(small, plates=(after,)), GREEN)
        for key in ("backing", "cloth"):
            finding = said(told, key)
            assert finding is not None
            assert finding.verdict is Verdict.HOLDS

    def test_recipes_take_the_cloth_that_is_owned(self):
        recipe = RECIPES["actor-in-miniature"]
        found = owning(shot_bare(), Cloth("small", "Small cloth", 2.4, 2.2))
        (plate,) = (n for n in fill(found, recipe) if n.recipe_pass.kind == "screen")
        assert plate.fields["screen_width_m"] == 2.4
        assert plate.fields["screen_height_m"] == pytest.approx(2.2)

    def test_the_card_says_what_it_is_cut_from(self):
        found = owning(screen(), GREEN, TRIPOD)
        whole = report(found, selected="ansa").plates[0]
        (line,) = (x for x in card_lines(case_of(found), whole) if x.label == "Cut from")
        assert (line.value, line.detail) == ("Green cloth", "3.000 m × 6.000 m, upright")


def shot_bare() -> Shot:
    """The story with nothing planned."""
    return replace(one(ANSA), plates=(), stand_ins=STAND_INS[:0])


#: A face: nothing of the performer below the shoulders is in the picture.
FACE: dict[str, object] = {
    "height_m": 1.55,
    "tilt_deg": 0.0,
    "focal_mm": 85.0,
    "plate_lens_id": "l85",
    "plate_ground_m": 0.0,
    "stand_ins": (replace(STAND_INS[3], x_m=0.0, y_m=3.0, z_m=0.0),),
}


class TestLowerEdge:
    def test_a_close_up_needs_no_cloth_down_to_the_floor(self):
        needed = backing(case_of(screen(**FACE)))
        assert needed is not None
        assert needed.bottom_m > 0.8
        # A board of 1.5 m stands too low on the ground, and is right where it is hung higher.
        size = {"plate_screen_width_m": 1.5, "plate_screen_height_m": 1.5}
        low = said(screen(**FACE, **size), "backing")
        assert low is not None
        assert low.verdict is Verdict.BREAKS
        (way,) = (r for r in low.remedies if "screen_foot_m" in r.changes)
        assert way.changes["screen_foot_m"] <= needed.bottom_m
        hangs = screen(**FACE, **size, plate_screen_foot_m=way.changes["screen_foot_m"])
        assert backing_verdict(case_of(hangs)) is Verdict.HOLDS

    def test_hung_too_high_it_breaks(self):
        high = said(screen(**FACE, plate_screen_foot_m=1.4), "backing")
        assert high is not None
        assert high.verdict is Verdict.BREAKS
        assert "from 1.400 m up" in high.sentence

    def test_a_board_that_is_owned_is_offered_where_it_covers(self):
        case = case_of(owning(screen(**FACE, plate_screen_width_m=0.2), BOARD))
        assert [c.id for c, _ in covers(case)] == ["board"]

    @settings(max_examples=40)
    @given(st.floats(0.0, 3.0), st.floats(0.1, 3.0))
    def test_it_covers_what_shapely_says(self, foot, high):
        found = screen(**FACE, plate_screen_foot_m=foot, plate_screen_height_m=high)
        case = case_of(found)
        needed = backing(case)
        assert needed is not None
        wide = found.plates[0].screen_width_m / 2.0
        hangs = box(needed.centre_x_m - wide, foot, needed.centre_x_m + wide, foot + high)
        wanted = box(needed.left_m, needed.bottom_m, needed.right_m, needed.top_m)
        covered = hangs.buffer(1e-9).covers(wanted)
        assert (backing_verdict(case) is not Verdict.BREAKS) == covered


def test_any_plate_keeps_what_it_names():
    plate = Plate("p", "P", "live")
    assert plate.support_id is None
    assert plate.cloth_id is None
    assert replace(plate, screen_foot_m=0.5, screen_height_m=2.0).screen_top_m == 2.5
