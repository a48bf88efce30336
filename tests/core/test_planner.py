"""The planner: its table of all candidates against the judgements one by one, and its answers."""

from __future__ import annotations

import datetime
import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.core.judging import findings_of, judge_plate
from jungoptic.core.plan import Cloth, Kit, Loan, Move, Plate, Shot, Support, Swatch
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.kit import LensMeasure, MoveRig
from jungoptic.core.plan.tricks import RampKey
from jungoptic.core.planner import replan, search
from jungoptic.core.planner.axes import at_index
from jungoptic.core.planner.misses import BREAK
from jungoptic.core.planner.replan import uses
from jungoptic.core.planner.search import ranking, verdict_now
from jungoptic.core.planner.space import Setup, Space, Wishes, setups, setups_of, space_for
from jungoptic.core.planner.table import Table
from jungoptic.core.stage.case import Case

from .examples import ANSA, CINEMA, KIT, MILL, STAND_INS, STILLS, prime, shot
from .stages import FULL, PANEL, TUBES, one, placed

#: One place for every verdict, so that a test can say which rule disagrees.
RANK = {Verdict.HOLDS: 0, Verdict.STRAINS: 1, Verdict.BREAKS: 2}
#: Wishes that weigh nothing.
NOTHING = {"quality": 0.0, "changes": 0.0, "light": 0.0}


def judged(found: Shot) -> dict[str, int]:
    """Ranks of the first plate, rule by rule, from the judgements themselves."""
    case = Case.of(found, found.plates[0])
    assert case is not None
    return {f.key: RANK[f.verdict] for f in findings_of(replace(case))}


def from_table(found: Shot) -> dict[str, int]:
    """The same from the planner's table of one candidate."""
    plate = found.plates[0]
    setup = next(
        s
        for s in setups_of(plate, setups(found))
        if (s.body.id, s.mode.id, s.lens.id) == (plate.body_id, plate.mode_id, plate.lens_id)
    )
    space = Space(
        (setup,),
        (plate.scale,),
        (1.0,),
        (plate.shutter_deg,),
        (plate.f_number,),
        (plate.iso,),
        (plate.focus_passes,),
        plate.capture_fps,
    )
    return {r.key: int(r.ranks.max()) for r in Table(found, plate, space).rules}


def candidate(plate: Plate, space: Space, index: tuple[int, ...]) -> Plate:
    """The plate planned as one candidate of a search, at its own rate."""
    setup = space.setups[index[0]]
    return replace(
        plate,
        body_id=setup.body.id,
        mode_id=setup.mode.id,
        lens_id=setup.lens.id,
        scale=space.scales[index[1]],
        shutter_deg=space.shutters[index[3]],
        f_number=space.stops[index[4]],
        iso=space.isos[index[5]],
        focus_passes=space.passes[index[6]],
    )


ZOOM = replace(prime(24), id="zoom", name="Zoom", focal_min_mm=24.0, focal_max_mm=70.0)
PUPIL = replace(prime(28), id="pupil", length_mm=72.0, pupil_from_mount_mm=40.0)
#: Lenses that were measured, and are not what their rings say.
TRUE = replace(
    prime(35), id="true", name="Measured", measured=(LensMeasure(35.0, 36.4, k1=-0.3, k2=0.1),)
)
TRUE_ZOOM = replace(
    ZOOM,
    id="true zoom",
    name="Measured zoom",
    measured=(LensMeasure(24.0, 24.9, k1=-0.4), LensMeasure(60.0, 57.5, k1=0.2)),
)
MANY = replace(FULL, lenses=(*KIT.lenses, ZOOM, PUPIL, TRUE, TRUE_ZOOM))
#: The same with what holds a camera and what is hung; none of it does for every stage.
GRIP = replace(
    MANY,
    rigs=(MoveRig("crane", "Jib", "crane", travel=900.0),),
    supports=(
        Support("tripod", "Tripod", 450.0, 1650.0),
        Support("slider", "Slider", 80.0, 400.0, turns_about=None, travel_mm=800.0),
        Support("rail", "Rail head", 500.0, 1500.0, "pupil", 120.0, None, lifts=True),
    ),
    cloths=(Cloth("green", "Green cloth", 3.0, 5.0), Cloth("board", "Board", 1.2, 2.4, stiff=True)),
)
MODES = [("cinema", "4k"), ("stills", "uhd"), ("stills", "fast")]
COAT = Swatch("Coat", "wardrobe", 40, 120, 60)
#: Lamps as a person might have them: none, one, two that pulse, a screen lit from both sides.
LAMPS = (
    (),
    (placed(y=1.2),),
    (placed("tubes"), placed(x=0.5)),
    (
        placed("fresnel", -1.0, 0.8, 0.9),
        replace(placed("bank", -1.2, 15.0, 1.2), aim_x_m=2.0, aim_y_m=17.4, aim_z_m=1.4),
        replace(placed("bank", 5.0, 15.0, 1.2), aim_x_m=3.0, aim_y_m=17.4, aim_z_m=1.4, level=0.5),
    ),
)
RUNNER = replace(STAND_INS[3], speed_m_s=1.2, course_deg=100.0)


@st.composite
def plans(draw: st.DrawFn) -> Shot:
    """A shot with one plate, decided at random within what a person might do."""
    body, mode = draw(st.sampled_from(MODES))
    kind = draw(st.sampled_from(["miniature", "screen", "live", "puppet", "element", "still"]))
    base = MILL if draw(st.booleans()) else ANSA
    plate = replace(
        base,
        kind=kind,
        scale=draw(st.sampled_from([1.0, 4.0, 8.0, 12.0, 24.0])),
        body_id=body,
        mode_id=mode,
        lens_id=draw(st.sampled_from([lens.id for lens in MANY.lenses])),
        f_number=draw(st.sampled_from([2.0, 2.8, 5.6, 8.0, 11.0, 16.0, 22.0])),
        focus_passes=draw(st.sampled_from([1, 1, 2, 3])),
        focus_world_m=draw(st.sampled_from([None, None, 12.0, 30.0])),
        motion=draw(st.sampled_from(["still", "powered", "gravity"])),
        capture_fps=draw(st.sampled_from([None, None, 25.0, 48.0, 100.0])),
        shutter_deg=draw(st.sampled_from([45.0, 90.0, 172.8, 180.0, 360.0])),
        iso=draw(st.sampled_from([100.0, 800.0, 3200.0])),
        nd_stops=draw(st.sampled_from([0.0, 2.0])),
        drop_m=draw(st.sampled_from([0.0, 0.02, 0.1])),
        table_m=draw(st.sampled_from([None, 0.05, 0.8])),
        mirror=draw(st.booleans()),
        setback_m=draw(st.sampled_from([0.0, 0.0, 0.01])),
        tilt_deg=draw(st.sampled_from([None, None, 3.4])),
        axis_height_m=draw(st.sampled_from([None, None, 0.13, 1.5])),
        light_lux=draw(st.sampled_from([None, None, 900.0])),
        lamps=draw(st.sampled_from(LAMPS)),
        room_id=draw(st.sampled_from([None, "garage", "yard"])),
        room_turned=draw(st.booleans()),
        screen_gap_m=draw(st.sampled_from([0.5, 2.0])),
        screen_sweep_m=draw(st.sampled_from([0.0, 3.0])),
        screen_colour=draw(st.sampled_from(["green", "blue", "black", "sky"])),
        swatches=draw(st.sampled_from([(), (COAT,)])),
        white_k=draw(st.sampled_from([5600.0, 3200.0])),
        heading_deg=draw(st.sampled_from([None, 90.0])),
        film_on=draw(st.sampled_from([None, datetime.date(2026, 6, 20)])),
        support_id=draw(st.sampled_from([None, None, "tripod", "slider", "rail"])),
        on_side=draw(st.sampled_from(["", "", "left", "right"])),
        turns_about=draw(st.sampled_from(["socket", "mark", "pupil"])),
        slide_mm=draw(st.sampled_from([0.0, 60.0])),
        screen_foot_m=draw(st.sampled_from([0.0, 0.0, 0.6])),
    )
    return shot(
        kit=draw(st.sampled_from([MANY, GRIP])),
        plates=(plate,),
        stand_ins=(*STAND_INS[:3], draw(st.sampled_from([STAND_INS[3], RUNNER]))),
        move=draw(
            st.sampled_from(
                [Move(), Move(), Move(right_m=1.5), Move(away_m=3, up_m=-0.3), Move(pan_deg=6.0)]
            )
        ),
        padding=draw(st.sampled_from([0.0, 0.05])),
        realism=draw(st.sampled_from([1, 2, 3])),
        screen_time_s=draw(st.sampled_from([0.5, 4.0])),
        story_speed=draw(st.sampled_from([1.0, 1.0, 0.5, 2.0])),
        story_speed_keys=draw(st.sampled_from([(), (), (RampKey(5, 0.25), RampKey(9, 1.0))])),
        focal_mm=draw(st.sampled_from([24.0, 32.0, 50.0])),
        key_kind=draw(st.sampled_from(["", "sun", "lamp"])),
        key_from_deg=draw(st.sampled_from([None, 40.0, -130.0])),
        key_elevation_deg=draw(st.sampled_from([None, 12.0, 55.0])),
        key_ratio_stops=draw(st.sampled_from([None, 2.0])),
        key_size_deg=draw(st.sampled_from([None, 6.0])),
        key_temperature_k=draw(st.sampled_from([None, 4300.0])),
        key_level_stops=draw(st.sampled_from([0.0, -2.0])),
    )


class TestTableAgainstJudgements:
    @given(plans())
    @settings(max_examples=250, suppress_health_check=[HealthCheck.too_slow])
    def test_every_rule_says_the_same(self, found):
        try:
            one_by_one = judged(found)
        except ValueError:
            assert verdict_now(found, found.plates[0]) is Verdict.BREAKS
            return
        table = from_table(found)
        assert set(one_by_one) <= set(table)
        # The table also asks what has nothing to say here; it must then hold.
        assert {k: v for k, v in table.items() if v} == {k: v for k, v in one_by_one.items() if v}
        worst = max(one_by_one.values())
        assert RANK[verdict_now(found, found.plates[0]) or Verdict.HOLDS] == worst

    def test_a_rule_of_many_candidates_is_the_rule_of_each(self):
        found = one(MILL, plate_room_id="garage", stand_ins=(*STAND_INS[:3], RUNNER))
        plate = found.plates[0]
        space = Space(
            setups(found)[:6],
            (8.0, 12.0),
            (1.0,),
            (90.0, 180.0),
            (2.8, 11.0),
            (400.0, 800.0),
            (1, 2),
        )
        table = Table(found, plate, space)
        for index in itertools.product(*(range(n) for n in space.shape)):
            setup, tried = space.setups[index[0]], candidate(plate, space, index)
            want = judged(replace(found, plates=(tried,)))
            got = {r.key: int(at_index(r.ranks, index)) for r in table.rules}
            # A search may not propose an ISO that the mode does not have; nothing else differs.
            if not at_index(table.possible, index):
                assert not setup.mode.min_iso <= tried.iso <= setup.mode.max_iso
            assert {k: v for k, v in got.items() if k in want} == {
                k: v for k, v in want.items() if k in got
            }
            assert not any(v for k, v in got.items() if k not in want)


def with_grip(found: Shot) -> Shot:
    """The shot with supports in its kit."""
    return replace(found, kit=replace(found.kit, supports=GRIP.supports, rigs=GRIP.rigs))


class TestSearch:
    @pytest.mark.parametrize(
        "found",
        [
            with_grip(one(MILL, plate_table_m=0.4, move=Move(right_m=12.0))),
            one(MILL, plate_room_id="garage", plate_drop_m=0.05),
            one(MILL, plate_motion="gravity", stand_ins=(*STAND_INS[:3], RUNNER)),
            one(ANSA, plate_room_id="garage", plate_lamps=(placed("tubes", y=15.0),)),
            one(ANSA, move=Move(right_m=1.0), plate_f_number=2.8),
        ],
    )
    def test_nothing_among_all_candidates_is_better_by_the_judgements(self, found):
        """Every candidate of a small kit, each planned and judged by itself: none breaks or strains
        fewer rules than the best way. The judges know nothing of the planner's table."""
        small = Kit((CINEMA, STILLS), (prime(20), prime(50, 0.45)), (PANEL, TUBES), FULL.rooms)
        grip = {"supports": found.kit.supports, "rigs": found.kit.rigs}
        found = replace(found, kit=replace(small, **grip))
        plate = found.plates[0]
        space = replace(
            space_for(found, plate, Wishes(keep_scale=True)),
            stops=(4.0, 11.0, 22.0),
            isos=(400.0, 800.0),
            passes=(1, 2),
        )
        fewest = (99, 99)
        for index in np.ndindex(space.shape):
            setup, slow = space.setups[index[0]], space.slowdowns[index[2]]
            tried = candidate(plate, space, index)
            if not setup.mode.min_iso <= tried.iso <= setup.mode.max_iso:
                continue
            if slow != 1.0:
                at_speed = Case.of(replace(found, plates=(tried,)), tried)
                assert at_speed is not None
                tried = replace(tried, capture_fps=at_speed.stage.capture_fps * slow)
            ranks = list(judged(replace(found, plates=(tried,))).values())
            fewest = min(fewest, (ranks.count(2), ranks.count(1)))
        best = search(found, plate, space=space).ways[0]
        assert (len(best.broken), len(best.strained)) == fewest

    def test_every_candidate_is_counted_in_the_ranking(self):
        found = one(MILL, plate_room_id="garage", plate_drop_m=0.05)
        table = Table(found, found.plates[0], space_for(found, found.plates[0], Wishes()))
        code = ranking(table.rules, table.possible, table.space.shape)
        assert code.shape == table.space.shape
        best = search(found, found.plates[0], Wishes()).ways[0]
        assert len(best.broken) * BREAK + len(best.strained) * 1e3 == code.min()

    def test_the_axes_of_a_rule_are_those_it_hangs_on(self):
        found = one(MILL, plate_room_id="garage", stand_ins=(*STAND_INS[:3], RUNNER))
        table = Table(found, found.plates[0], space_for(found, found.plates[0], Wishes()))
        names = ("setup", "scale", "slowdown", "shutter", "stop", "iso", "passes")
        for ranked in table.rules:
            spans = {n for n, size in zip(names, ranked.ranks.shape, strict=True) if size > 1}
            # Where the camera stands goes with the setup and the scale.
            assert spans - {"setup", "scale"} <= ranked.rule.axes

    def test_what_it_proposes_does_what_it_says(self):
        found = one(MILL, plate_room_id="garage", plate_drop_m=0.05)
        answer = search(found, found.plates[0])
        assert answer.candidates > 10_000
        for way in answer.ways:
            tried = replace(found, plates=(replace(found.plates[0], **way.changes),))
            ranks = judged(tried)
            assert {k for k, r in ranks.items() if r == 2} == set(way.broken)
            assert {k for k, r in ranks.items() if r == 1} == set(way.strained)
            case = Case.of(tried, tried.plates[0])
            assert case is not None
            assert case.stage.pixels_across == pytest.approx(way.pixels_across)
            assert case.stage.lux_needed == pytest.approx(way.lux_needed)

    def test_wishes_change_the_order(self):
        found = one(MILL, plate_room_id="garage", plate_drop_m=0.05)
        by = {
            name: search(found, found.plates[0], Wishes(**{**NOTHING, name: 3.0})).ways[0]
            for name in NOTHING
        }
        assert by["light"].lux_needed < by["quality"].lux_needed
        assert len(by["changes"].changes) <= len(by["light"].changes)
        assert by["quality"].pixels_across >= by["light"].pixels_across * 0.9

    def test_own_kit_only_leaves_borrowed_things_out(self):
        lent = replace(prime(28), loan=Loan(borrowed=True))
        found = replace(one(MILL), kit=Kit((CINEMA,), (lent, prime(20))))
        every = search(found, found.plates[0]).ways
        own = search(found, found.plates[0], Wishes(own_only=True)).ways
        assert "28 mm prime" in {w.lens for w in every}
        assert {w.lens for w in own} == {"20 mm prime"}

    def test_nothing_to_film_with(self):
        empty = replace(one(MILL), kit=Kit())
        assert search(empty, empty.plates[0]).ways == ()

    def test_more_than_can_be_searched_is_said(self):
        lenses = tuple(replace(prime(28), id=f"l{i}") for i in range(4000))
        huge = replace(one(MILL), kit=Kit((CINEMA, STILLS), lenses))
        with pytest.raises(ValueError, match="thin out the kit"):
            search(huge, huge.plates[0])


class TestReplan:
    def test_a_plate_that_used_what_is_gone_is_planned_anew(self):
        base = shot(kit=FULL)
        found = list(replan([("s", base)], frozenset({"l28"})))
        assert [c.uses for c in found] == [True, True]
        for change in found:
            assert change.instead is not None
            assert change.instead.lens != "28 mm prime"
            assert change.after is change.instead.verdict

    def test_without_the_only_lens_everything_breaks(self):
        base = replace(shot(), kit=Kit((CINEMA,), (prime(28),)))
        assert {c.after for c in replan([("s", base)], frozenset({"l28"}))} == {Verdict.BREAKS}

    def test_lamps_and_rooms_count_for_those_that_do_not_name_them(self):
        # The mill is lit by what is owned; without the panels it is short of light.
        base = one(MILL, plate_room_id="garage", plate_drop_m=0.05, plate_iso=800.0)
        base = replace(base, kit=replace(base.kit, lamps=(replace(PANEL, count=60), TUBES)))
        before = verdict_now(base, base.plates[0])
        (change,) = replan([("s", base)], frozenset({"panel"}))
        assert not change.uses
        assert change.before is before
        assert RANK[change.after or Verdict.HOLDS] > RANK[before or Verdict.HOLDS]

    def test_bodies_and_lenses_count_only_for_those_that_use_them(self):
        base = shot(kit=FULL)
        for thing in (*FULL.bodies, *FULL.lenses):
            gone = frozenset({thing.id})
            left = replace(base, kit=FULL.without(gone))
            for plate in base.plates:
                if not uses(plate, gone):
                    assert verdict_now(left, plate) is verdict_now(base, plate)

    def test_whole_plans_every_plate(self):
        found = list(replan([("s", shot(kit=FULL))], whole=True))
        assert all(change.instead is not None for change in found)

    def test_nothing_taken_changes_nothing(self):
        assert not any(c.changed for c in replan([("s", shot(kit=FULL))]))

    def test_a_plate_without_kit_has_no_verdict(self):
        bare = shot(kit=FULL, plates=(Plate("p", "P", "live"),))
        assert verdict_now(bare, bare.plates[0]) is None


class TestLoans:
    LENT = replace(
        prime(28),
        loan=Loan(True, datetime.date(2026, 11, 1), datetime.date(2026, 11, 29)),
    )

    @pytest.mark.parametrize(
        ("day", "verdict"),
        [
            (None, Verdict.STRAINS),
            (datetime.date(2026, 11, 1), Verdict.HOLDS),
            (datetime.date(2026, 11, 29), Verdict.HOLDS),
            (datetime.date(2026, 11, 30), Verdict.BREAKS),
            (datetime.date(2026, 10, 31), Verdict.BREAKS),
        ],
    )
    def test_both_days_are_included(self, day, verdict):
        found = replace(one(MILL, plate_film_on=day), kit=Kit((CINEMA,), (self.LENT,)))
        assert judged(found)["loan"] == RANK[verdict]

    def test_the_remedy_names_a_day_on_which_all_is_there(self):
        late = one(MILL, plate_film_on=datetime.date(2026, 12, 5))
        case = Case.of(replace(late, kit=Kit((CINEMA,), (self.LENT,))), late.plates[0])
        assert case is not None
        loan = next(f for f in judge_plate(case) if f.key == "loan")
        assert loan.remedies[0].changes == {"film_on": datetime.date(2026, 11, 29)}
        assert loan.sentence.endswith("this plate is filmed on 5 December.")
        # In another year the day alone would be read wrongly.
        case = Case.of(
            replace(case.shot, plates=()), replace(case.plate, film_on=datetime.date(2027, 4, 10))
        )
        assert case is not None
        loan = next(f for f in judge_plate(case) if f.key == "loan")
        assert "until 29 November 2026 only; this plate is filmed on 10 April 2027" in loan.sentence
        assert loan.remedies[0].sentence == "Film it on 29 November 2026."

    def test_a_lamp_that_is_not_there_gives_no_light(self):
        gone = replace(PANEL, loan=Loan(True, last=datetime.date(2026, 11, 1)))
        found = one(MILL, plate_room_id="garage", plate_film_on=datetime.date(2026, 11, 2))
        found = replace(found, kit=replace(found.kit, lamps=(gone,)))
        assert "light" not in judged(found)


def test_a_setup_with_anything_lent_is_borrowed():
    lent = replace(CINEMA, loan=Loan(borrowed=True))
    assert Setup(lent, lent.modes[0], prime(28)).borrowed
    assert not Setup(CINEMA, CINEMA.modes[0], prime(28)).borrowed
