"""Hours and advice, against what the trade knows and by properties."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.breakdown import advisor
from jungoptic.core.breakdown.advisor import AS_IT_IS, OWNED, SUBJECTS, Facts, rank, turns
from jungoptic.core.breakdown.economy import economy
from jungoptic.core.breakdown.recipes import BOOK, BY_KEY
from jungoptic.core.cost import effort
from jungoptic.core.cost.effort import Hours, Job, roto_keys, shot_effort, what_if
from jungoptic.core.cost.pace import pace
from jungoptic.core.cost.shapes import shapes_for, shapes_of
from jungoptic.core.cost.work import Work
from jungoptic.core.lockoff.roto import roto_plan
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.stage.coverage import coverage

from .examples import shot
from .twins import ANNA, case_of, changed, twins


def job(cut="none", kind="live", seconds=4.0, **work) -> Job:
    return Job("p", "P", kind, Work(cut, **work), seconds, 24.0)


def test_a_hero_composite_of_ten_layers_takes_one_or_two_days():
    # Common practice of low-budget post: one or two full days (8 to 16 h) for about ten layers.
    layers = [job("key", "screen"), job("key", "screen"), job("roto", shapes=2)]
    layers += [job("split"), job("split"), job("luma", "element"), job("luma", "element")]
    layers += [job(kind="miniature", tracked=True), job(kind="still"), job(kind="still")]
    total = shot_effort(layers).post
    assert 8 <= total.likely <= 16
    assert total.low < 10 < total.high


def test_stop_motion_makes_two_to_three_seconds_an_hour():
    # Common practice: 2 to 3 s of film a working hour at 24 fps; so two minutes is 40 to 60 h.
    frames = next(
        x for x in effort.estimate(job(kind="puppet", seconds=120)).lines if x.rate == "frames"
    )
    assert frames.hours.low == pytest.approx(40)
    assert frames.hours.high == pytest.approx(60)
    twos = effort.estimate(replace(job(kind="puppet", seconds=120), hold=2))
    assert next(x for x in twos.lines if x.rate == "frames").hours.low == pytest.approx(20)


@pytest.mark.parametrize(
    ("frames", "every", "keying", "fresh", "between"),
    [
        # By hand: frames 0..96, every 4th.
        (97, 4, "nth", 25, 0),
        # 96/4 = 24 gaps: halved five times gives 32 gaps, 33 shapes, of which two are the ends.
        (97, 4, "bisect", 2, 31),
        (1, 4, "nth", 1, 0),
        (1, 4, "bisect", 1, 0),
        (2, 4, "bisect", 2, 0),
        (3, 1, "bisect", 2, 1),
        (10, 1, "nth", 10, 0),
    ],
)
def test_roto_keys_by_hand(frames, every, keying, fresh, between):
    assert roto_keys(frames, every, keying) == (fresh, between)


@given(st.integers(1, 5000), st.integers(1, 60))
def test_no_cadence_draws_more_shapes_than_frames_or_leaves_a_gap(frames, every):
    for keying in ("nth", "bisect"):
        fresh, between = roto_keys(frames, every, keying)
        assert 1 <= fresh + between <= max(frames, 2)
        if frames > 1:
            gaps = fresh + between - 1
            # Bisecting a gap of whole frames leaves none longer than asked, rounded up.
            assert math.ceil((frames - 1) / gaps) <= every


@given(st.floats(0.1, 60), st.integers(1, 8))
def test_hours_grow_with_time_and_shapes(seconds, shapes):
    for cut in ("key", "roto", "split", "luma", "none"):
        short = effort.estimate(job(cut, seconds=seconds, shapes=shapes))
        longer = effort.estimate(job(cut, seconds=seconds * 2, shapes=shapes + 1))
        for phase in ("set", "post"):
            a, b = getattr(short, phase), getattr(longer, phase)
            assert a.low <= a.likely <= a.high
            assert b.likely >= a.likely


def test_a_shared_lock_off_saves_its_set_up():
    one = replace(job(), lock="A")
    apart = shot_effort([job(), job()]).set.likely
    together = shot_effort([one, replace(one, id="q")]).set.likely
    saved = effort.BY_KEY["setup-live"].likely_min + effort.BY_KEY["references"].likely_min
    assert apart - together == pytest.approx((saved - effort.BY_KEY["pass"].likely_min) / 60)


def test_screen_or_roto_turns_over_with_length():
    # Common practice: short and simple is cut by hand, long and detailed wants a screen.
    brief, long = what_if(job(seconds=0.5)), what_if(job("roto", seconds=20, shapes=5))

    def total(ways, cut):
        return next(w.set.likely + w.post.likely for w in ways if w.cut == cut)

    assert total(brief, "roto") < total(brief, "key")
    assert total(long, "key") < total(long, "roto")
    assert [w.set.likely + w.post.likely for w in long] == sorted(
        w.set.likely + w.post.likely for w in long
    )


def test_pace_without_logs_is_the_table():
    assert pace("post", []).factor == 1.0


def test_pace_by_hand():
    # Four results, each twice the estimate, weigh as much as the table: exp(4/8 · ln 2) = √2.
    found = pace("post", [(1, 2), (2, 4), (3, 6), (0.5, 1)])
    assert found.n == 4
    assert found.mean == pytest.approx(2.0)
    assert found.factor == pytest.approx(math.sqrt(2.0))
    assert {q.symbol for q in found.working.inputs} == {"n", "k", "r"}


@given(st.lists(st.tuples(st.floats(0.1, 50), st.floats(0.1, 50)), min_size=1, max_size=60))
def test_pace_lies_between_the_table_and_what_was_logged(pairs):
    found = pace("set", pairs)
    low, high = sorted((1.0, found.mean))
    assert low - 1e-9 <= found.factor <= high + 1e-9


def test_pace_leaves_out_what_cannot_be():
    assert pace("set", [(0, 3), (1, 0), (1, -2)]).n == 0


def test_hours_add_up():
    assert Hours.total([Hours(1, 2, 3), Hours(1, 1, 1)]) == Hours(2, 3, 4)


# --- the advisor


def test_safety_comes_first():
    facts = Facts(shows=frozenset({"performer", "fire"}))
    found = rank(facts)
    assert found[0].recipe == "fire-by-light"
    real = next(o for o in found if o.recipe == AS_IT_IS)
    assert real.danger == 4
    assert real.set.likely + real.post.likely < found[0].set.likely + found[0].post.likely
    assert found[0].decided_by == "safer"


def test_a_twin_is_split_and_a_crowd_is_tiled():
    # Common practice.
    assert rank(Facts(shows=frozenset({"performer", "double"})))[0].recipe in {
        "twin-split",
        "flopped-double",
    }
    assert rank(Facts(shows=frozenset({"crowd"}), people=8))[0].recipe == "small-crowd"


def test_too_few_people_rule_it_out_and_say_so():
    found = rank(Facts(shows=frozenset({"crowd"}), people=3))
    tiles = next(o for o in found if o.recipe == "small-crowd")
    assert not tiles.suitable
    assert "8 people" in tiles.blocked[0]


def test_without_a_screen_the_cut_costs_hours():
    facts = Facts(shows=frozenset({"performer", "place"}))
    with_screen = {o.recipe: o for o in rank(facts)}
    without = {o.recipe: o for o in rank(replace(facts, screen_fits=False))}
    a, b = with_screen["actor-in-miniature"], without["actor-in-miniature"]
    assert b.post.likely > a.post.likely
    assert any("cut out by hand" in w for w in b.against)


def test_what_is_filmed_once_serves_many():
    facts = Facts(shows=frozenset({"place", "performer"}))
    once = next(o for o in rank(facts) if o.recipe == "actor-in-miniature")
    often = next(o for o in rank(replace(facts, seen_again=4)) if o.recipe == "actor-in-miniature")
    assert often.set.likely == pytest.approx(once.set.likely / 4)


def test_what_would_change_the_ranking_is_true():
    facts = Facts(shows=frozenset({"performer", "place"}))
    found = turns(facts)
    assert found
    moving = next(t for t in found if t.change == "a moving camera")
    assert rank(replace(facts, camera="moving"))[0].recipe == moving.first
    assert moving.first != rank(facts)[0].recipe


@given(
    shows=st.sets(st.sampled_from(sorted(SUBJECTS)), min_size=1, max_size=4),
    owned=st.sets(st.sampled_from(sorted(OWNED))),
    seconds=st.floats(0.1, 60),
    camera=st.sampled_from(["locked", "moving"]),
    screen=st.booleans(),
)
def test_any_facts_are_ranked_in_order(shows, owned, seconds, camera, screen):
    facts = Facts(
        shows=frozenset(shows),
        owned=frozenset(owned),
        seconds=seconds,
        camera=camera,
        screen_fits=screen,
    )
    found = rank(facts)
    keys = [tuple(measure(o) for _, measure in advisor._ORDER) for o in found]
    assert keys == sorted(keys)
    for o in found:
        assert set(o.covers) | set(o.lacks) == facts.wanted
        assert camera in BY_KEY[o.recipe].camera or o.blocked


def test_nonsense_facts_are_refused():
    for facts, words in (
        (Facts(shows=frozenset()), "at least one"),
        (Facts(shows=frozenset({"dragon"})), "dragon"),
        (Facts(camera="flying"), "locked or moving"),
        (Facts(seconds=0), "positive"),
        (Facts(seconds=math.nan), "positive"),
    ):
        with pytest.raises(ValueError, match=words):
            rank(facts)


def test_every_recipe_can_be_found_by_the_advisor():
    for recipe in BOOK:
        facts = Facts(shows=recipe.shows & set(SUBJECTS), people=20, camera=min(recipe.camera))
        assert any(o.recipe == recipe.key for o in rank(facts)), recipe.key


# --- coverage and economy


def test_coverage_of_a_level_camera_by_similar_triangles():
    camera = shot(tilt_deg=0.0, height_m=1.5).world.camera(shot().delivery)
    seen = coverage(camera, 10.0)
    # 24.9 mm wide at 32 mm: 7.781 m at 10 m; 10.427 mm high: 3.258 m, half of it above 1.5 m.
    assert seen.width_m == pytest.approx(24.9 / 32 * 10)
    assert seen.top_m == pytest.approx(1.5 + 24.9 * 804 / 1920 / 32 * 5)
    assert seen.bottom_m == 0.0


def test_coverage_edges_project_onto_the_picture_edges():
    world = shot(tilt_deg=7.0, height_m=2.0)
    camera = world.world.camera(world.delivery)
    seen = coverage(camera, 12.0)
    px = camera.project(
        [(seen.left_m, 12.0, seen.top_m), (seen.right_m, 12.0, seen.top_m)], 1920, 804
    )
    assert px[:, 1] == pytest.approx([0, 0], abs=1e-6)
    assert px[:, 0] == pytest.approx([0, 1920], abs=1e-6)


def test_a_camera_turned_aside_is_refused():
    camera = shot(pan_deg=85.0).world.camera(shot().delivery)
    with pytest.raises(ValueError, match="turned too far"):
        coverage(camera, 10.0)


def test_economy_speaks_with_the_shots_own_numbers():
    found = {
        a.key: a.sentence
        for a in economy(shot(), Facts(seconds=9, seen_again=3), BY_KEY["twin-split"])
    }
    assert {"whole-once", "move-rocks", "only-what-is-seen", "brief", "hide-join"} <= set(found)
    assert "3 shots" in found["whole-once"]
    nearest = min(s.y_m for s in shot().stand_ins if s.kind != "ground")
    assert f"({nearest:.2f} m)" in found["only-what-is-seen"]
    plain = economy(shot(stand_ins=()), Facts(seconds=2))
    assert plain == ()
    assert any(a.key == "film-once" for a in economy(shot(), Facts(), BY_KEY["fire-element"]))


class TestShapes:
    def test_a_walking_person_is_a_dozen_shapes_and_a_bottle_one_or_two(self):
        """Common practice of cutting out by hand: limbs are shapes of their own."""
        assert shapes_for([("figure", True)]) == 12
        assert shapes_for([("box", False)]) in (1, 2)
        assert shapes_for([("card", True)]) == 1
        assert shapes_for([("ground", False)]) == shapes_for([]) == 1
        assert shapes_for([("figure", True), ("box", False)]) == 14

    def test_what_nobody_looks_at_closely_is_not_cut_out(self):
        tree = StandIn("t", "Tree", "card", 0, 9, matters="none")
        walker = StandIn("w", "Walker", "figure", 0, 5, speed_m_s=1.2)
        assert shapes_of([tree, walker]) == 12

    def test_a_soft_edge_costs_in_hours_too(self):
        hard, hair = (
            effort.estimate(replace(job("roto", shapes=3), edge=edge)).post.likely
            for edge in ("hard", "hair")
        )
        assert hair > hard

    def test_the_lock_off_room_and_hours_say_the_same(self):
        """As planned, each by its own way."""
        walker = replace(ANNA, speed_m_s=1.2)
        found = changed(twins(walker, splits=()), "left", cut="roto", key_every=6, edge="soft")
        plan = roto_plan(case_of(found, "left"))
        assert plan is not None
        own = Job("left", "Half A", "live", Work("roto", 12), found.screen_time_s, 24.0,
                  key_every=6, edge="soft")  # fmt: skip
        assert plan.shapes == 12
        assert plan.planned == Hours.total([x.hours for x in effort.cut_lines(own)])
