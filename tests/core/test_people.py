"""Who is filmed and who is needed on set: there on the day, once, tall enough, within reach."""

from __future__ import annotations

import datetime
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Point

from jungoptic.core.judging.people import deepest_m
from jungoptic.core.plan import Crowd, Loan, Move, Person, Plate, Rig, Shot
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.planner.replan import replan
from jungoptic.core.report.shot_report import report

from .examples import ANSA, MILL, STAND_INS
from .stages import case_of, one

OCTOBER = Loan(True, datetime.date(2026, 10, 3), datetime.date(2026, 10, 9))
ANNA = Person("anna", "Anna", 1.68)
TOVE = Person("tove", "Tove", 1.75, ("driver",))
NILS = Person("nils", "Nils", 1.80, ("animator", "driver"), 0.7)
PLAYED = replace(STAND_INS[3], person_id="anna")


def played(*people: Person, **more: object) -> Shot:
    """Anna before a screen, with these people in the kit."""
    found = one(ANSA, **{"stand_ins": (PLAYED,), **more})
    return replace(found, kit=replace(found.kit, people=people))


def said(found: Shot) -> Finding | None:
    """What is said of the people of the first plate, with remedies."""
    plate = found.plates[0]
    told = report(found, selected=plate.id, remedies=True).plates[0].findings
    return next((f for f in told if f.key == "people"), None)


def verdict(found: Shot) -> Verdict:
    """How that stands; it has to say something."""
    finding = said(found)
    assert finding is not None
    return finding.verdict


class TestFilmed:
    def test_nobody_by_name_is_not_asked_about(self):
        assert said(one(ANSA)) is None
        assert said(played(TOVE)) is None

    @pytest.mark.parametrize(
        ("day", "answer"),
        [
            (None, Verdict.STRAINS),
            (datetime.date(2026, 10, 2), Verdict.BREAKS),
            (datetime.date(2026, 10, 3), Verdict.HOLDS),
            (datetime.date(2026, 10, 9), Verdict.HOLDS),
            (datetime.date(2026, 10, 10), Verdict.BREAKS),
        ],
    )
    def test_both_days_are_included(self, day, answer):
        found = played(replace(ANNA, loan=OCTOBER), plate_film_on=day)
        finding = said(found)
        assert finding is not None
        assert finding.verdict is answer
        if answer is not Verdict.HOLDS:
            (way,) = (r for r in finding.remedies if "film_on" in r.changes)
            assert OCTOBER.covers(way.changes["film_on"])

    def test_one_person_twice_in_a_plate(self):
        other = replace(PLAYED, id="other", x_m=-2.0)
        finding = said(played(ANNA, stand_ins=(PLAYED, other)))
        assert finding is not None
        assert finding.verdict is Verdict.BREAKS
        assert "a pass of its own" in finding.sentence

    def test_a_figure_is_no_taller_than_who_stands_for_it(self):
        assert verdict(played(ANNA)) is Verdict.HOLDS
        short = said(played(replace(ANNA, height_m=1.5)))
        assert short is not None
        assert short.verdict is Verdict.STRAINS
        (way,) = (r for r in short.remedies if r.things)
        assert way.things[PLAYED.id] == {"height_m": 1.5}
        # Somebody taller may sit or kneel.
        assert verdict(played(replace(ANNA, height_m=1.9))) is Verdict.HOLDS

    def test_filmed_at_half_size_a_child_is_a_giant(self):
        """Similar triangles: at 1:2 who is 1.5 m tall stands for 3 m in the story."""
        giant = replace(PLAYED, height_m=3.0)
        child = replace(ANNA, height_m=1.5)
        assert verdict(played(child, stand_ins=(giant,), plate_scale=2.0)) is Verdict.HOLDS
        taller = replace(giant, height_m=3.2)
        found = said(played(child, stand_ins=(taller,), plate_scale=2.0))
        assert found is not None
        assert "Anna is 3.000 m tall in the story, filmed at 1:2" in found.sentence

    def test_who_is_away_is_told_where_they_are_needed(self):
        found = played(ANNA, TOVE)
        (change,) = replan([("s", found)], frozenset({"anna"}))
        assert change.after is Verdict.BREAKS
        (change,) = replan([("s", found)], frozenset({"tove"}))
        assert change.after is change.before


class TestCrowd:
    def test_a_crowd_takes_those_who_are_there(self):
        crowd = {"plate_crowd": Crowd(people=2), "stand_ins": STAND_INS[:0]}
        late = Person("late", "Late", loan=OCTOBER)
        day = datetime.date(2026, 11, 1)
        assert said(played(ANNA, late, **crowd)) is None
        finding = said(played(ANNA, late, plate_film_on=day, **crowd))
        assert finding is not None
        assert "takes 2 people in a pass; 1 is known to be there on 1 November" in (
            finding.sentence
        )
        # Where nobody who is filmed is known by name, nothing is asked.
        assert said(played(TOVE, **crowd)) is None


PUPPET = Plate(
    "p",
    "Puppet",
    "puppet",
    scale=6.0,
    **{k: getattr(MILL, k) for k in ("body_id", "mode_id", "lens_id")},
)


def table(x_m: float, y_m: float, wide_m: float = 9.0, deep_m: float = 12.0) -> Shot:
    """A puppet at a place of a set at 1:6."""
    ground = StandIn("g", "Set", "ground", 0.0, 10.0, 0.0, wide_m, 0.0, deep_m, 0.0, "p")
    puppet = StandIn("q", "Puppet", "figure", x_m, y_m, 0.0, plate_id="p")
    found = one(PUPPET, stand_ins=(ground, puppet))
    return replace(found, kit=replace(found.kit, people=(NILS,)))


class TestHands:
    @settings(max_examples=60)
    @given(st.floats(-7.0, 7.0), st.floats(8.0, 24.0))
    def test_how_deep_a_puppet_stands(self, x, y):
        """Against shapely: the distance to the edge of the set's outline, outside negative."""
        deep = deepest_m(case_of(table(x, y)))
        assert deep is not None
        outline = MultiPoint([(-4.5, 10), (4.5, 10), (-4.5, 22), (4.5, 22)]).convex_hull
        away = outline.exterior.distance(Point(x, y)) / 6.0
        if outline.contains(Point(x, y)):
            assert deep.inside_m == pytest.approx(away, abs=1e-9)
        else:
            assert -away - 1e-9 <= deep.inside_m <= 1e-9

    def test_an_arm_that_is_too_short(self):
        # 4.5 m in the story, 0.75 m on the table, from either side; 0.7 m is his reach.
        far = said(table(0.0, 16.0))
        assert far is not None
        assert far.verdict is Verdict.STRAINS
        assert "750 mm inside the set; the longest arm reaches 700 mm" in far.sentence
        assert verdict(table(1.0, 16.0)) is Verdict.HOLDS

    def test_an_animator_who_is_away(self):
        found = table(1.0, 16.0)
        gone = replace(found, kit=found.kit.without(frozenset({"nils"})))
        assert verdict(gone) is Verdict.BREAKS

    def test_a_take_has_as_many_hands_as_it_needs(self):
        rig = Rig("lamp", "rod")
        more = {"plate_rig": rig, "move": Move(right_m=1.0)}
        both = said(played(ANNA, TOVE, **more))
        assert both is not None
        assert both.sentence == "The rig and the camera each take a pair of hands; free: Tove."
        assert verdict(played(ANNA, TOVE, NILS, **more)) is Verdict.HOLDS
        # Who is filmed has no hands free.
        busy = replace(ANNA, roles=("driver", "performer"))
        alone = said(played(busy, plate_rig=rig))
        assert alone is not None
        assert "The rig takes a pair of hands, and no driver is free." in alone.sentence
        # Where no driver is known, nobody is asked for.
        assert verdict(played(ANNA, **more)) is Verdict.HOLDS
