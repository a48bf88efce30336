"""Threads, light sides, readiness."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.angles import angle_between_deg
from jungoptic.core.breakdown.continuity import (
    Kept,
    Seen,
    Thread,
    judge_light_side,
    judge_threads,
    lit_apart,
)
from jungoptic.core.breakdown.progress import PlateState, Step, next_thing, readiness
from jungoptic.core.plan.findings import Verdict

FLAG = Thread("flag", "Flag on the mill roof", "thing", frozenset({"Mill"}), frozenset())
COAT = Thread("coat", "Torn coat", "costume", frozenset(), frozenset({"7"}))


def test_a_thread_of_a_place_is_asked_of_every_shot_there():
    (found,) = judge_threads(Seen("2", "2", "Mill"), [FLAG, COAT], [])
    assert found.verdict == "strains"
    assert "in no plate" in found.sentence
    assert judge_threads(Seen("3", "3", "Kitchen"), [FLAG, COAT], []) == ()
    (coat,) = judge_threads(Seen("7", "7", ""), [FLAG, COAT], [])
    assert coat.title == "Torn coat"


def test_a_kept_or_excused_thread_holds():
    shot = Seen("2", "2", "Mill")
    (kept,) = judge_threads(shot, [FLAG], [Kept("flag", "2", "p1"), Kept("flag", "2", "p2")])
    assert kept.verdict == "holds"
    assert "in 2 plates" in kept.sentence
    (excused,) = judge_threads(shot, [FLAG], [Kept("flag", "2", excuse="roof out of frame")])
    assert excused.sentence.endswith("roof out of frame")
    (elsewhere,) = judge_threads(shot, [FLAG], [Kept("flag", "9", "p1")])
    assert elsewhere.verdict == "strains"


def seen(name, bearing, key, up=30.0, note="", time="dawn", place="Mill"):
    return Seen(name, f"shot {name}", place, time, bearing, key, up, note)


@pytest.mark.parametrize(
    ("bearing", "key", "verdict"),
    [
        # Camera east, key from its left is north: the same as camera north, key ahead.
        (90.0, -90.0, "holds"),
        (90.0, -60.0, "strains"),
        (90.0, 90.0, "breaks"),
        (450.0, -90.0, "holds"),
    ],
)
def test_light_side_turns_with_the_camera(bearing, key, verdict):
    found = judge_light_side(seen("b", bearing, key, 0.0), [seen("a", 0.0, 0.0, 0.0)])
    assert found is not None
    assert found.verdict == verdict


def test_light_side_is_only_compared_where_it_can_be():
    a = seen("a", 0.0, 0.0)
    assert judge_light_side(a, [a]) is None
    assert judge_light_side(a, [seen("b", None, 20.0)]) is None
    assert judge_light_side(a, [seen("b", 0.0, 120.0, time="dusk")]) is None
    assert judge_light_side(a, [seen("b", 0.0, 120.0, place="Kitchen")]) is None
    assert judge_light_side(seen("c", 0.0, None), [a]) is None


def test_a_difference_may_be_explained():
    a = seen("a", 0.0, 0.0)
    found = judge_light_side(seen("b", 0.0, 170.0, note="the lamp of the quay"), [a])
    assert found is not None
    assert found.verdict == "holds"
    assert "the lamp of the quay" in found.sentence


def test_angle_between_known_directions():
    assert angle_between_deg(0, 0, 90, 0) == pytest.approx(90)
    assert angle_between_deg(0, 90, 123, 90) == pytest.approx(0, abs=1e-5)
    # Corner of a cube: directions (1,0,0) and (1,1,1)/√3 are 54.7356 degrees apart.
    assert angle_between_deg(0, 0, 45, 35.26439) == pytest.approx(54.7356, abs=1e-4)


@given(*(st.floats(-360, 720), st.floats(-90, 90)) * 2)
def test_the_angle_is_symmetric_and_bounded(a, b, c, d):
    one = angle_between_deg(a, b, c, d)
    assert 0 <= one <= 180
    assert one == pytest.approx(angle_between_deg(c, d, a, b), abs=1e-6)


def plate(name="P", required=True, kit=True, cards=0, takes=0, circled=0):
    return PlateState(name, required, kit, cards, takes, circled)


def test_readiness_counts_required_plates():
    assert readiness([]) == 0
    assert readiness([plate(kit=False)]) == 0
    done = plate(cards=1, takes=2, circled=1)
    assert readiness([done]) == 1
    assert readiness([done, plate(required=False, kit=False)]) == 1
    assert readiness([done, plate()]) == pytest.approx((4 + 1) / 8)
    assert plate(takes=1).step is Step.FILMED


def test_the_next_thing_follows_the_work():
    assert next_thing([], False) == "Choose a way to build it"
    assert next_thing([], True) == "Add its plates"
    two = [plate("Take"), plate("Clean plate")]
    assert next_thing(two, True, ["Clean plate"]) == "Add the forgotten plate: Clean plate"
    assert next_thing([plate("Take", kit=False)], True) == "Choose camera and lens: Take"
    assert next_thing(two, True, worst=Verdict.BREAKS) == "Mend what breaks"
    assert next_thing(two, True, unread_cautions=2) == "Read and acknowledge the cautions"
    assert next_thing(two, True) == "Issue the set card: Take"
    assert next_thing([plate("Take", cards=1), plate("Clean")], True) == "Film: Take"
    assert next_thing([plate("Take", cards=1, takes=3)], True) == "Circle a take: Take"
    filmed = [plate("Take", cards=1, takes=3, circled=1), plate("Extra", required=False)]
    assert next_thing(filmed, True) == "Everything required is filmed"
    # What broke before it was filmed is of no use to mend afterwards.
    assert next_thing([plate("Take", takes=1)], True, worst=Verdict.BREAKS) == "Circle a take: Take"


SIDES = st.sampled_from([None, 0.0, 40.0, 120.0, 250.0])


@given(
    st.lists(
        st.tuples(
            SIDES, SIDES, st.sampled_from([None, 0.0, 30.0]), st.sampled_from(["", "a lamp"])
        ),
        max_size=9,
    )
)
def test_those_lit_apart_say_what_all_say(drawn):
    place = [
        Seen(f"s{i}", f"shot {i}", "Quay", "dusk", bearing, key, up, note)
        for i, (bearing, key, up, note) in enumerate(drawn)
    ]
    few = lit_apart(place)
    assert len(few) <= len(place)
    for one in place:
        assert judge_light_side(one, few) == judge_light_side(one, place)
