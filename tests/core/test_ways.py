"""Ways out as rules name them: tried by the rule alone, offered by family, as a last resort, or for
what they gain; and what nobody can carry out."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jungoptic.core.judging.rule import Rule
from jungoptic.core.judging.trying import case_with, helps, offered, trials, ways_out
from jungoptic.core.judging.way import Way
from jungoptic.core.plan import Move, PlacedLamp
from jungoptic.core.plan.findings import Finding, Remedy, Verdict
from jungoptic.core.remedies.outcome import outcome
from jungoptic.core.remedies.pairs import MOST, _in_words, pairs
from jungoptic.core.remedies.possible import MOST_DROP_M, can_be, stays
from jungoptic.core.remedies.standing import RULES_BY_KEY, standing
from jungoptic.core.remedies.whole import borrowed_or_rewritten
from jungoptic.core.remedies.whole import ways_out as whole_ways
from jungoptic.core.report import judged
from jungoptic.core.stage.case import Case

from .examples import ANSA, MILL, STAND_INS
from .stages import case_of, one, placed


def by_iso(case: Case) -> Finding:
    """A made-up rule: wants ISO 800, puts up with half of it."""
    iso = case.plate.iso
    verdict = Verdict.HOLDS if iso >= 800 else Verdict.STRAINS if iso >= 400 else Verdict.BREAKS
    return RULE.finding(verdict, f"ISO {iso:g}.")


def rule(*ways: Way) -> Rule:
    return Rule(key="iso", title="ISO", name="iso", speak=by_iso, ways=lambda case: ways)


RULE = rule()


def iso(value: float, **more) -> Way:
    return Way(f"ISO {value:g}", {"iso": value}, **more)


@pytest.fixture
def case() -> Case:
    return case_of(one(MILL, plate_iso=100.0))


class TestTrying:
    def test_only_what_helps_is_kept_best_first(self, case):
        found = trials(case, rule(iso(200), iso(400), iso(800)), Verdict.BREAKS)
        assert [t.remedy.sentence for t in found] == ["ISO 800", "ISO 400"]
        assert [t.remedy.verdict for t in found] == [Verdict.HOLDS, Verdict.STRAINS]
        # Told in the rule's own words unless the way has its own.
        assert found[0].remedy.effect == "ISO 800."

    def test_what_holds_is_not_mended(self, case):
        assert trials(case, rule(iso(800)), Verdict.HOLDS) == []

    def test_of_a_family_the_mildest_that_does_most(self, case):
        family = [iso(v, family="more") for v in (400, 800, 1600, 3200)]
        (remedy,) = offered(trials(case, rule(*family), Verdict.BREAKS))
        assert remedy.sentence == "ISO 800"

    def test_a_last_resort_only_where_nothing_else_helps(self, case):
        last = Way("Light it otherwise.", promises=Verdict.STRAINS, last=True)
        finding = by_iso(case)
        assert [r.sentence for r in ways_out(case, rule(iso(800), last), finding)] == ["ISO 800"]
        assert [r.sentence for r in ways_out(case, rule(iso(200), last), finding)] == [
            "Light it otherwise."
        ]

    def test_advice_promises_what_it_says_and_no_less(self, case):
        better = Way("Borrow one.", effect="It is there then.", promises=Verdict.STRAINS)
        trial = helps(case, rule(), better, Verdict.BREAKS)
        assert trial is not None
        assert (trial.remedy.changes, trial.remedy.effect) == ({}, "It is there then.")
        assert helps(case, rule(), better, Verdict.STRAINS) is None

    def test_worth_it_although_the_verdict_stays(self, case):
        more = iso(200, gains=lambda t: t.plate.iso > 150, order=lambda t: -t.plate.iso)
        less = iso(120, gains=lambda t: t.plate.iso > 150)
        found = trials(case, rule(less, more), Verdict.BREAKS)
        assert [t.remedy.sentence for t in found] == ["ISO 200"]
        assert found[0].order == -200

    def test_nonsense_is_no_way(self, case):
        nobodys = Way("A lens that nobody has", {"lens_id": "none"})
        assert case_with(case, nobodys) is None
        assert helps(case, rule(), nobodys, Verdict.BREAKS) is None

    def test_changes_of_shot_and_things_reach_the_case(self, case):
        way = Way("Higher", shot={"camera_height_m": 3.0}, things={STAND_INS[0].id: {"x_m": 9.0}})
        tried = case_with(case, way)
        assert tried is not None
        assert tried.shot.world.height_m == 3.0
        moved = next(s for s in tried.shot.stand_ins if s.id == STAND_INS[0].id)
        assert moved.x_m == 9.0
        assert case.shot.world.height_m != 3.0, "the first is left alone"


class TestWhatCanBe:
    @pytest.mark.parametrize(
        ("changes", "possible"),
        [
            ({"f_number": 16.0}, True),
            ({"f_number": 1.0}, False),
            ({"f_number": 180.0}, False),
            ({"iso": 800.0}, True),
            ({"iso": 500_000.0}, False),
            ({"drop_m": MOST_DROP_M}, True),
            ({"drop_m": 4.5}, False),
        ],
    )
    def test_numbers_stay_within_what_is_owned_and_built(self, changes, possible):
        before = one(MILL).plates[0]
        tried = case_of(one(MILL)).tried(changes)
        assert tried is not None
        assert can_be(before, tried) is possible

    def test_what_was_so_before_is_no_reason_against(self):
        odd = replace(one(MILL).plates[0], f_number=180.0, drop_m=4.5)
        tried = case_of(one(odd)).tried({"shutter_deg": 90.0})
        assert tried is not None
        assert can_be(odd, tried)

    def test_a_second_focus_pass_wants_what_stays(self):
        still = one(MILL)
        assert stays(still, still.plates[0])
        walked = tuple(replace(s, speed_m_s=1.0) for s in STAND_INS)
        moving = one(MILL, stand_ins=walked)
        assert not stays(moving, moving.plates[0])
        assert not stays(one(MILL, move=Move(right_m=1.0)), MILL)
        # A person breathes; a puppet is taken frame by frame.
        person = one(ANSA)
        assert not stays(person, person.plates[0])
        puppet = one(ANSA, plate_kind="puppet")
        assert stays(puppet, puppet.plates[0])
        tried = case_of(person).tried({"focus_passes": 2})
        assert tried is not None
        assert not can_be(person.plates[0], tried)

    @pytest.mark.parametrize(
        ("at", "inside"), [((0.5, 1.0, 0.5), True), ((50.0, 1.0, 0.5), False), ((0, 1, 9), False)]
    )
    def test_a_lamp_stands_in_the_room(self, at, inside):
        shot = one(MILL, plate_room_id="garage", plate_table_m=0.8)
        tried = case_of(shot).tried({"lamps": (PlacedLamp("panel", *at),)})
        assert tried is not None
        assert can_be(shot.plates[0], tried) is inside


class TestAsAWhole:
    def test_a_lamp_far_outside_is_not_offered_though_its_rule_would(self):
        shot = one(
            MILL,
            plate_room_id="garage",
            plate_table_m=0.8,
            plate_lamps=(placed(x=0.3, y=0.6),),
            key_kind="sun",
            key_from_deg=60.0,
            key_elevation_deg=40.0,
        )
        plate = shot.plates[0]
        told = standing(shot, plate)
        assert told.case is not None
        refused = 0
        for finding in told.findings:
            if finding.verdict is Verdict.HOLDS:
                continue
            offered_now = {r.sentence for r in whole_ways(shot, plate, finding)}
            for trial in trials(told.case, RULES_BY_KEY[finding.key], finding.verdict):
                if trial.way.promises is None:
                    result = outcome(shot, plate, trial.remedy, finding.key)
                    if not result.possible or result.gained:
                        refused += 1
                        assert trial.remedy.sentence not in offered_now
        assert refused, "the example no longer shows anything"

    def test_two_changes_together_where_one_is_not_enough(self):
        # The rate that falling water asks for, takes light that is not there without more ISO.
        found = []
        for lux in (1000.0, 2000.0, 4000.0, 8000.0):
            shot = one(
                MILL,
                plate_motion="gravity",
                plate_capture_fps=25.0,
                plate_light_lux=lux,
                plate_drop_m=0.05,
            )
            plate = shot.plates[0]
            rate = next(f for f in judged(shot, plate).findings if f.key == "rate")
            for remedy in rate.remedies:
                if "With it:" in remedy.sentence:
                    found.append((shot, plate, rate, remedy))
        assert found
        for shot, plate, rate, remedy in found:
            assert {"iso"} < set(remedy.changes)
            assert outcome(shot, plate, remedy, rate.key).better
            # What is said of it is said of both changes together.
            done = standing(replace(shot, plates=(p := replace(plate, **remedy.changes),)), p)
            assert done.by_key["rate"].sentence in remedy.effect

    def test_two_moves_of_one_lamp_are_told_as_the_last_place(self):
        lamp = placed("panel", 1.0, 2.0, 1.0)
        plate = replace(MILL, lamps=(lamp,))
        shot = one(plate)

        def moved(words: str, **place: float) -> Remedy:
            lamps = (replace(lamp, **place),)
            return Remedy(words, "", Verdict.HOLDS, {"lamps": lamps})

        aside, up = moved("Aside.", x_m=-1.5), moved("Up.", x_m=-1.5, z_m=2.2)
        told = _in_words(shot, plate, aside, up)
        assert told.endswith(": 2.000 m ahead of the lens, 1.500 m left, 2.200 m up.")
        assert "Aside." not in told
        # Where the second dims it too, or does something else, both are told.
        for other in (
            moved("Dimmed.", x_m=-1.5, z_m=2.2, level=0.5),
            Remedy("ISO.", "", Verdict.HOLDS, {"iso": 800.0}),
            moved("Nothing more.", x_m=-1.5),
        ):
            assert _in_words(shot, plate, aside, other) == f"Aside. With it: {other.sentence}"

    def test_two_changes_that_each_do_a_part(self):
        """Of the light that is missing ISO alone makes up some, and the stop some."""
        found = []
        for lux in (8.0, 30.0, 100.0):
            shot = one(ANSA, plate_light_lux=lux, plate_f_number=8.0)
            plate = shot.plates[0]
            light = standing(shot, plate).by_key["light"]
            if light.verdict is Verdict.HOLDS:
                continue
            single = [r for r in whole_ways(shot, plate, light) if len(r.changes) == 1]
            both = [
                trial.remedy
                for _, trial in pairs(shot, plate, light, 0, MOST).found
                if {"iso", "f_number"} <= set(trial.remedy.changes)
            ]
            found += [(shot, plate, light, remedy) for remedy in both if not single]
        assert found
        for shot, plate, light, remedy in found:
            done = replace(plate, **remedy.changes)
            after = standing(replace(shot, plates=(done,)), done).by_key["light"]
            assert after.verdict is remedy.verdict
            assert after.verdict.rank < light.verdict.rank
            for name in remedy.changes:
                only = replace(plate, **{name: remedy.changes[name]})
                alone = standing(replace(shot, plates=(only,)), only).by_key["light"]
                assert alone.verdict is light.verdict

    def test_pairs_in_batches_are_the_same_as_at_once(self):
        shot = one(MILL, plate_light_lux=80.0, plate_room_id="garage", plate_motion="gravity")
        plate = shot.plates[0]
        for finding in standing(shot, plate).findings:
            if finding.verdict is Verdict.HOLDS:
                continue
            whole = pairs(shot, plate, finding, 0, MOST)
            begin, more, found, steps = 0, True, [], 0
            while more:
                part = pairs(replace(shot), plate, finding, begin, 5)
                found += [t.remedy for _, t in part.found]
                assert part.tried - begin <= 5
                begin, more, steps = part.tried, part.more, steps + 1
            assert begin == whole.tried <= MOST
            # Nobody goes on for ever.
            assert not pairs(shot, plate, finding, MOST, 5).more
            assert not pairs(shot, plate, finding, MOST - 2, 5).more
            told = [r.sentence for r in found]
            assert all(t.remedy.sentence in told for _, t in whole.found)

    def test_every_rule_can_say_what_it_would_take(self):
        assert [k for k, rule in RULES_BY_KEY.items() if not (rule.takes or rule.otherwise)] == []

    def test_what_it_would_take_where_nothing_does(self):
        shot = one(MILL, plate_light_lux=0.01)
        plate = shot.plates[0]
        light = standing(shot, plate).by_key["light"]
        assert "to borrow" in borrowed_or_rewritten(shot, plate, light)
        bare = replace(shot, plates=(replace(plate, lens_id=None),))
        assert borrowed_or_rewritten(bare, bare.plates[0], light) == ""
