"""A lock-off that serves several shots: what stands in another shot is held against as if it stood
in this one."""

from __future__ import annotations

import datetime
import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.cards.card import checklist
from jungoptic.core.cards.partners import belong
from jungoptic.core.cost import effort
from jungoptic.core.lockoff.days import judge_days
from jungoptic.core.lockoff.group import (
    DERIVED,
    beside_of,
    departures,
    lock_groups,
    numbers_of,
)
from jungoptic.core.plan import Beside, Shot, View, WorldCamera, in_view
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.tricks import Filmed
from jungoptic.core.remedies.applied import applied

from .test_effort_and_advice import job
from .test_partners import take
from .twins import CLEAN, LEFT, RIGHT, case_of, changed, joined, twins

#: Decisions of a plate that a set-up shares, some of them left to follow from the rest.
DECIDED = st.fixed_dictionaries(
    {
        "f_number": st.sampled_from([4.0, 5.6]),
        "iso": st.sampled_from([400.0, 800.0]),
        "lens_id": st.sampled_from(["l28", "l50"]),
        "tilt_deg": st.sampled_from([None, 0.0, 3.0]),
        "axis_height_m": st.sampled_from([None, 1.2, 1.5]),
        "focus_world_m": st.sampled_from([2.4, 3.0]),
        "capture_fps": st.sampled_from([None, 25.0]),
        "pass_for": st.sampled_from(["", "focus", "light"]),
    }
)


def elsewhere(found: Shot, *plates: str, called: str = "shot 5") -> tuple[Beside, ...]:
    """Plates of a shot as another shot is told of them."""
    return tuple(
        Beside(p, called, False, numbers_of(found, p)) for p in found.plates if p.id in plates
    )


def alone(found: Shot, plate: str, *beside: Beside) -> Shot:
    """The shot with one of its plates, and what is beside it."""
    plates = tuple(p for p in found.plates if p.id == plate)
    return replace(found, plates=plates, splits=(), beside=beside)


@given(DECIDED, DECIDED)
def test_another_shot_is_held_against_as_a_plate_of_this_one(mine, theirs):
    together = changed(changed(twins(), "right", **mine), "left", **theirs)
    apart = alone(together, "right", *elsewhere(together, "left"))
    here = departures(together, together.plates[1])
    there = departures(apart, apart.plates[0])
    assert [(d.field, d.mine, d.theirs) for d in there] == [
        (d.field, d.mine, d.theirs) for d in here
    ]
    # Both of them tell it, and of the same things.
    back = alone(together, "left", *elsewhere(together, "right"))
    other = departures(back, back.plates[0])
    assert {d.field for d in other} == {d.field for d in here}
    finding = joined(apart, "right")["lock"]
    assert finding.verdict is (Verdict.BREAKS if here else Verdict.HOLDS)
    assert "Half A of shot 5" in finding.sentence


@given(DECIDED, DECIDED)
def test_taking_over_what_another_shot_has_heals_all_that_share_it_here(mine, theirs):
    together = changed(twins(), "left", **theirs)
    found = replace(together, plates=(RIGHT, CLEAN), splits=())
    for plate in ("right", "clean"):
        found = changed(found, plate, **{**mine, "pass_for": ""})
    found = replace(found, beside=elsewhere(together, "left"))
    finding = joined(found, "right")["lock"]
    if finding.verdict is Verdict.HOLDS:
        assert finding.remedies == ()
        return
    (remedy,) = finding.remedies
    assert remedy.sentence == "Take everything over from Half A of shot 5."
    assert not remedy.alone
    healed = applied(found, found.plates[0], remedy)
    assert joined(healed, "right")["lock"].verdict is Verdict.HOLDS
    assert joined(healed, "clean")["lock"].verdict is Verdict.HOLDS


def test_what_another_shot_has_filmed_comes_first():
    found = twins()
    filmed = changed(found, "clean", iso=400.0, filmed=Filmed(2, "5C-1", {}))
    here = alone(found, "right", *elsewhere(filmed, "left", "clean"))
    assert [d.theirs for d in departures(here, here.plates[0])] == ["400"]
    agreed = changed(here, "right", iso=400.0)
    sentence = joined(agreed, "right")["lock"].sentence
    assert "Clean plate of shot 5 is filmed: a change here orphans those takes" in sentence
    (group,) = lock_groups(here)
    assert group.beside == ("Half A of shot 5", "Clean plate of shot 5")
    assert group.beside_filmed == ("Clean plate of shot 5",)
    # Another lock-off of the same shot is none of its business.
    assert beside_of(here, replace(here.plates[0], lock_group="B")) == ()
    assert joined(changed(here, "right", lock_group="B"), "right").get("lock") is None


def test_the_checklist_says_what_it_stands_like_and_what_waits():
    found = twins()
    filmed = changed(found, "clean", filmed=Filmed(2, "5C-1", {}))
    here = alone(found, "right", *elsewhere(filmed, "left", "clean"))
    items = checklist(case_of(here, "right"))
    assert "Stands as it stood for: Clean plate of shot 5" in items
    assert "Nothing is moved before this is filmed too: Half A of shot 5" in items
    many = replace(here, beside=here.beside[:1] * 6)
    (one,) = (i for i in checklist(case_of(many, "right")) if "filmed too" in i)
    assert one.endswith("Half A of shot 5 and 2 more")


def test_a_stage_that_cannot_be_worked_out_is_held_by_its_decisions():
    found = twins()
    bare = Beside(replace(LEFT, lens_id=None), "shot 5", False, {})
    here = alone(found, "right", bare)
    (one,) = departures(here, here.plates[0])
    assert (one.field, one.theirs) == ("lens_id", "none")
    assert numbers_of(found, replace(LEFT, lens_id=None)) == {}
    assert set(numbers_of(found, LEFT)) == set(DERIVED)


def test_a_clean_plate_alone_in_its_shot_focuses_where_the_others_do_when_it_takes_over():
    found = twins()
    lone = alone(changed(found, "clean", focus_world_m=None), "clean", *elsewhere(found, "left"))
    lone = replace(lone, stand_ins=())
    assert math.isinf(case_of(lone, "clean").stage.focus_m)
    (remedy,) = joined(lone, "clean")["lock"].remedies
    assert remedy.changes == {"focus_world_m": 2.4}


def test_views_of_one_shot_are_told_of_each_other_and_not_of_themselves():
    close = View("close", "Close-up", WorldCamera(24.9, 75.0, 1.2), screen_time_s=1.0)
    found = twins()
    near = replace(RIGHT, view_id="close", iso=400.0)
    whole = replace(found, plates=(LEFT, near), views=(close,), splits=())
    whole = replace(
        whole,
        beside=tuple(
            Beside(p, called, True, numbers_of(in_view(whole, p.view_id), p))
            for p, called in ((LEFT, "the first camera"), (near, "Close-up"))
        ),
    )
    first, second = in_view(whole, None), in_view(whole, "close")
    assert [b.called for b in first.beside] == ["Half B of Close-up"]
    assert [b.called for b in second.beside] == ["Half A of the first camera"]
    assert [d.field for d in departures(second, second.plates[0])] == ["iso"]


class TestDays:
    def of(self, mine: str | None, theirs: str | None):
        day = datetime.date.fromisoformat
        found = changed(twins(), "left", film_on=theirs and day(theirs))
        here = alone(found, "right", *elsewhere(found, "left"))
        here = changed(here, "right", film_on=mine and day(mine))
        return judge_days(case_of(here, "right"))

    def test_another_shot_s_day_is_told(self):
        found = self.of("2026-12-07", "2026-12-05")
        assert found is not None
        assert found.verdict is Verdict.STRAINS
        assert "Half A of shot 5 on 5 December" in found.sentence
        assert "untouched for 2 nights" in found.sentence

    @pytest.mark.parametrize(
        ("mine", "theirs"),
        [("2026-12-05", "2026-12-05"), (None, "2026-12-05"), ("2026-12-05", None)],
    )
    def test_one_day_or_none_is_nothing_to_tell(self, mine, theirs):
        assert self.of(mine, theirs) is None


def test_a_set_up_that_another_shot_brings_is_not_made_again():
    one = replace(job(), lock="3-A")
    own = effort.shot_effort([one, replace(one, id="q")])
    beside = effort.shot_effort([one, replace(one, id="q")], standing={"3-A", "9-B"})
    saved = effort.BY_KEY["setup-live"].likely_min + effort.BY_KEY["references"].likely_min
    more = effort.BY_KEY["pass"].likely_min
    assert own.set.likely - beside.set.likely == pytest.approx((saved - more) / 60)
    assert own.post == beside.post


def test_takes_belong_by_what_their_lock_off_is_called_now():
    mine, theirs = take(), take("right")
    assert belong(mine, theirs)
    apart = replace(theirs.shot, splits=())
    mine, theirs = replace(mine, shot=apart), replace(theirs, shot=apart)
    # Two shots had a lock-off called "A" when their cards were issued: two lock-offs.
    assert not belong(replace(mine, lock="3-A"), replace(theirs, lock="5-A"))
    assert belong(replace(mine, lock="3-A"), replace(theirs, lock="3-A"))
    assert not belong(replace(mine, lock=""), replace(theirs, lock=""))
