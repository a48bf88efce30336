"""Whatever somebody plans is answered, and what nobody sees decides nothing."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest
from hypothesis import HealthCheck, assume, given, settings

from jungoptic.core.cards.card import card_lines
from jungoptic.core.impossible import Impossible
from jungoptic.core.judging import findings_of
from jungoptic.core.plan import Move, Shot
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.report.judged import judged
from jungoptic.core.report.shot_report import report
from jungoptic.core.report.tricks import tricks
from jungoptic.core.stage.backing import backing
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.in_frame import in_story

from .any_shot import any_shots
from .examples import ANSA
from .stages import findings, one

MANY = settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.too_slow])
SOME = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])


def case_or_none(found: Shot, number: int = 0) -> Case | None:
    """The case of a plate; None where its optics are impossible."""
    try:
        return Case.of(found, found.plates[number])
    except Impossible:
        return None


@given(any_shots())
@MANY
def test_any_shot_is_answered_in_whole_sentences(found):
    answer = report(found, selected=found.plates[0].id, remedies=False, with_study=True)
    for plate, told in zip(found.plates, answer.plates, strict=True):
        assert told.findings
        for finding in told.findings:
            assert finding.sentence[0].isupper() or finding.sentence[0].isdigit()
            assert finding.sentence.endswith(".")
            assert "nan" not in finding.sentence.lower().split()
            assert " -" not in finding.sentence or "°" in finding.sentence, finding.sentence
        case = case_or_none(found, found.plates.index(plate))
        if case is not None:
            tricks(case)
            assert card_lines(case, told)


#: Behind every camera of `any_shots`, too high for any tilt.
BEHIND = StandIn("far", "Never seen", "box", 0.0, -4000.0, 3000.0, 3.0, 3.0, 3.0, 0.0, "p0")


@given(any_shots(plates=1))
@MANY
def test_what_is_never_in_frame_decides_nothing_that_is_seen(found):
    both = replace(found, stand_ins=(*found.stand_ins, BEHIND))
    assume(not in_story(both).shows[-1].any())
    before, after = case_or_none(found), case_or_none(both)
    assume(before is not None and after is not None)
    assert before is not None
    assert after is not None
    # A stage whose camera is tilted otherwise shows something else.
    assume(not after.seen.shows[-1].any())
    seen_rules = {"depth", "close_focus", "blur", "step", "skew", "mismatch", "move", "view"}
    seen_rules |= {"backing", "evenness", "falloff", "passes", "diffraction"}
    was, now = (
        {f.key: (f.verdict, f.sentence) for f in findings_of(case) if f.key in seen_rules}
        for case in (before, after)
    )
    assert was == now


@given(any_shots(plates=1))
@MANY
def test_a_thing_that_may_be_soft_never_asks_for_depth(found):
    soft = replace(found, stand_ins=tuple(replace(s, matters="soft") for s in found.stand_ins))
    case = case_or_none(soft)
    assume(case is not None)
    assert case is not None
    assert case.stage.near_m is None
    assert "depth" not in {f.key for f in findings_of(case)}


class TestOrdinaryShots:
    """What a supervisor would say of shots that a beginner plans."""

    def test_nothing_in_frame_is_said_and_where_it_is(self):
        behind = StandIn("ida", "Ida", "figure", 0.0, -3.0, plate_id="ansa")
        found = findings(one(ANSA, stand_ins=(behind,)))["in_frame"]
        assert found.verdict is Verdict.BREAKS
        assert found.sentence == (
            "Nothing of this plate is ever in frame: Ida stands behind the camera."
        )

    def test_who_comes_into_frame_later_is_told_when(self):
        walker = StandIn("ida", "Ida", "figure", -9.0, 8.0, plate_id="ansa", speed_m_s=2.0)
        found = findings(one(ANSA, stand_ins=(walker,)))["in_frame"]
        assert found.verdict is Verdict.HOLDS
        assert "nothing from frame 1 to" in found.sentence

    def test_a_walk_towards_the_lens_leaves_focus_and_says_who_and_when(self):
        walker = StandIn(
            "ida", "Ida", "figure", 0.0, 9.0, plate_id="ansa", speed_m_s=1.35, course_deg=180.0
        )
        shot = one(ANSA, stand_ins=(walker,), plate_lens_id="l50", plate_f_number=2.8)
        found = findings(shot)["depth"]
        assert found.verdict is Verdict.BREAKS
        assert "(Ida, frame 144)" in found.sentence
        # Somebody at the lens can follow her; passes of what moves cannot be filmed.
        (pull,) = [r for r in found.remedies if r.sentence.startswith("Pull the focus")]
        assert pull.sentence.startswith("Pull the focus with Ida: 8.967 m at frame 1, ")
        assert not pull.changes
        # At its start it is far from the worst.
        standing = one(
            ANSA,
            stand_ins=(replace(walker, speed_m_s=0.0),),
            plate_lens_id="l50",
            plate_f_number=2.8,
        )
        assert findings(standing)["depth"].verdict is Verdict.HOLDS

    def test_a_pan_past_a_table_does_not_count_what_it_leaves(self):
        near = StandIn("cup", "Cup", "box", 0.0, 0.8, 1.45, 0.1, 0.12, 0.1, plate_id="ansa")
        far = StandIn("ida", "Ida", "figure", 9.0, 12.0, plate_id="ansa")
        pan = one(ANSA, stand_ins=(near, far), move=Move(pan_deg=37.0))
        case = Case.of(pan, pan.plates[0])
        assert case is not None
        assert case.stage.ends is not None
        nearest, farthest = case.stage.ends
        assert (nearest.thing.name, farthest.thing.name) == ("Cup", "Ida")
        assert farthest.frame > nearest.frame

    @pytest.mark.parametrize(("focal", "whole"), [(11.0, True), (85.0, False)])
    def test_a_close_up_needs_cloth_behind_head_and_shoulders_alone(self, focal, whole):
        ida = StandIn("ida", "Ida", "figure", 0.0, 3.5, plate_id="ansa")
        shot = one(ANSA, stand_ins=(ida,), focal_mm=focal, tilt_deg=0.0, height_m=1.5)
        case = Case.of(shot, shot.plates[0])
        assert case is not None
        needed = backing(case)
        assert needed is not None
        assert (needed.bottom_m == 0.0) is whole
        assert ("sweep" in findings(shot)) is whole


@given(any_shots())
@SOME
def test_no_sentence_has_a_power_of_ten_or_says_anything_twice(shot):
    for plate in shot.plates:
        for finding in judged(shot, plate).findings:
            said = [finding.sentence]
            for remedy in finding.remedies:
                said += [remedy.sentence, remedy.effect]
            for sentence in said:
                assert not re.search(r"\d[eE][-+]?\d|\binf\b|\bnan\b|None", sentence), sentence
                assert not re.search(r"(?<![\d.,])0 % (other|of its)", sentence), sentence
            ways = [r.sentence for r in finding.remedies]
            assert len(set(ways)) == len(ways), ways
