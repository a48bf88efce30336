"""When nothing owned will do: what the planner says it would take is what it really takes."""

from __future__ import annotations

import datetime
import re
from dataclasses import replace

import pytest

from jungoptic.core.judging.rules import RULES, name_of
from jungoptic.core.plan import Kit, Loan, Move, Plate, Shot, Swatch
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.planner import search
from jungoptic.core.planner.misses import Miss
from jungoptic.core.planner.space import Wishes

from .examples import ANSA, CINEMA, MILL, prime
from .stages import FULL, PANEL, one
from .test_planner import judged

KEPT = Wishes(keep_scale=True)
ONE_LENS = Kit((CINEMA,), (prime(28),))


def missed(found: Shot, rule: str, wishes: Wishes = KEPT) -> Miss:
    """The near miss of one rule."""
    return next(m for m in search(found, found.plates[0], wishes).misses if m.rule == rule)


def rest_planned(found: Shot, miss: Miss, **changes: object) -> Shot:
    """The shot with the rest planned as the near miss says, and what it takes besides."""
    plate = replace(found.plates[0], **{**miss.changes, **changes})  # type: ignore[arg-type]
    return replace(found, plates=(plate,))


def metres(text: str) -> float:
    """The first length in a sentence."""
    number, unit = re.search(r"([\d.]+) (mm|m)\b", text).groups()  # type: ignore[union-attr]
    return float(number) * (0.001 if unit == "mm" else 1.0)


class TestNearestMisses:
    def test_a_lens_that_is_too_long_asks_for_a_shorter_one(self):
        found = replace(one(ANSA), kit=Kit((CINEMA,), (prime(50, 0.45),)))
        answer = search(found, found.plates[0])
        assert answer.ways[0].broken == ("view",)
        (miss,) = answer.misses
        focal = float(miss.takes.split()[1])
        # With that lens it really holds, and with one a millimetre longer it does not.
        for length, holds in ((focal, True), (focal + 1.0, False)):
            owned = replace(found, kit=Kit((CINEMA,), (prime(length, 0.3),)))
            best = search(owned, owned.plates[0]).ways[0]
            assert ("view" not in best.broken) is holds

    def test_too_little_light_asks_for_so_many_lamps(self):
        dim = replace(PANEL, lux_at_1m=40.0, count=1)
        found = replace(
            one(MILL, plate_room_id="garage", plate_drop_m=0.05),
            kit=replace(FULL, bodies=(CINEMA,), lenses=(prime(28),), lamps=(dim,)),
        )
        wishes = Wishes(keep_scale=True)
        answer = search(found, found.plates[0], wishes)
        light = next(m for m in answer.misses if m.rule == "light")
        count = 1 if light.takes.startswith("One") else int(light.takes.split()[0])
        with_them = replace(found, kit=replace(found.kit, lamps=(replace(dim, count=1 + count),)))
        tried = replace(with_them, plates=(replace(found.plates[0], **light.changes),))
        assert judged(tried)["light"] == 0
        fewer = replace(found, kit=replace(found.kit, lamps=(replace(dim, count=count),)))
        assert judged(replace(fewer, plates=tried.plates))["light"] > 0

    def test_nobody_borrows_lamps_by_the_dozen(self):
        dim = replace(PANEL, lux_at_1m=15.0, count=1)
        found = replace(
            one(MILL, plate_room_id="garage", plate_drop_m=0.05),
            kit=replace(FULL, bodies=(CINEMA,), lenses=(prime(28),), lamps=(dim,)),
        )
        answer = search(found, found.plates[0], Wishes(keep_scale=True))
        light = next(m for m in answer.misses if m.rule == "light")
        assert light.takes.endswith("times the light.")

    def test_too_slow_a_body_asks_for_a_rate_or_a_larger_model(self):
        found = replace(
            one(MILL, plate_motion="gravity", plate_drop_m=0.05),
            kit=Kit((CINEMA,), (prime(28),)),
        )
        rate = next(
            m for m in search(found, found.plates[0], Wishes(keep_scale=True)).misses
            if m.rule == "rate"
        )  # fmt: skip
        fps = float(rate.takes.split(" records ")[1].split(" fps")[0])
        faster = replace(CINEMA, modes=(replace(CINEMA.modes[0], max_fps=fps + 0.01),))
        able = replace(found, kit=Kit((faster,), (prime(28),)))
        assert "rate" not in search(able, able.plates[0], Wishes(keep_scale=True)).ways[0].broken

    def test_a_room_too_short_says_by_how_much(self):
        found = one(ANSA, plate_room_id="garage")
        found = replace(found, kit=replace(found.kit, rooms=(FULL.rooms[0],)))
        room = next(m for m in search(found, found.plates[0]).misses if m.rule == "room")
        short = float(room.takes.split(" m ")[0])
        longer = replace(FULL.rooms[0], length_m=6.0 + short + 0.01, width_m=12.0, height_m=9.0)
        able = replace(found, kit=replace(found.kit, rooms=(longer,)))
        assert "room" not in search(able, able.plates[0]).ways[0].broken

    def test_when_several_things_are_missing_together_all_are_named(self):
        far = StandIn("t", "Tower", "box", 0, 40, 0, 3, 30, 3, 0, "ansa")
        found = replace(
            one(ANSA, plate_room_id="garage", stand_ins=(far,)),
            kit=Kit((CINEMA,), (prime(85, 0.85),), rooms=(FULL.rooms[0],)),
        )
        misses = search(found, found.plates[0]).misses
        assert {m.rule for m in misses} >= {"view", "room"}
        assert all(m.also for m in misses)
        # In words, not by the keys of the rules.
        assert {"view and pixels", "room"} <= {name for m in misses for name in m.also}


class TestItKeepsItsWord:
    def test_a_lens_too_high_goes_down_by_as_much_as_is_said(self):
        # 1:12 of 0.9 m is 75 mm; the body's axis lies 105 mm over its base.
        found = replace(one(MILL, height_m=0.9), kit=ONE_LENS)
        (floor,) = search(found, found.plates[0], KEPT).misses
        assert floor.rule == "floor"
        assert metres(floor.takes) == pytest.approx(0.030)
        # The picture that does not match has the same cure and is not told again.
        assert floor.also == ()
        lowered = judged(rest_planned(found, floor, drop_m=metres(floor.takes)))
        assert (lowered["floor"], lowered["mismatch"]) == (0, 0)
        assert judged(rest_planned(found, floor, drop_m=metres(floor.takes) - 0.02))["mismatch"] > 0

    def test_a_lens_that_does_not_focus_near_enough(self):
        found = replace(one(MILL, height_m=1.6), kit=Kit((CINEMA,), (prime(28, 3.0),)))
        close = missed(found, "close_focus")
        for more, rank in ((-0.001, 0), (0.01, 2)):
            nearer = prime(28, metres(close.takes) + more)
            able = replace(found, kit=Kit((CINEMA,), (nearer,)))
            assert judged(rest_planned(able, close))["close_focus"] == rank

    def test_so_many_focus_passes_and_no_fewer(self):
        deep = (
            StandIn("near", "Near", "box", 0, 4, 0, 1, 2, 1, 0, "mill"),
            StandIn("far", "Far", "box", 0, 60, 0, 10, 20, 1, 0, "mill"),
        )
        fast = replace(prime(28), smallest_stop=2.8)
        found = replace(
            one(MILL, height_m=1.6, stand_ins=deep, plate_f_number=2.8), kit=Kit((CINEMA,), (fast,))
        )
        depth = missed(found, "depth")
        count = int(depth.takes.split()[0])
        assert judged(rest_planned(found, depth, focus_passes=count))["depth"] == 0
        assert judged(rest_planned(found, depth, focus_passes=count // 2))["depth"] == 2

    def test_a_screen_of_the_size_that_is_said(self):
        found = replace(
            one(ANSA, plate_screen_width_m=0.6, plate_screen_height_m=0.8), kit=ONE_LENS
        )
        backing = missed(found, "backing")
        width, height = (metres(part) for part in backing.takes.split("×"))
        size = {"screen_width_m": width + 0.001, "screen_height_m": height + 0.001}
        assert judged(rest_planned(found, backing, **size))["backing"] == 0
        size = {"screen_width_m": width - 0.05, "screen_height_m": height}
        assert judged(rest_planned(found, backing, **size))["backing"] > 0

    def test_a_borrowed_lens_names_the_day(self):
        january = Loan(True, datetime.date(2026, 1, 1), datetime.date(2026, 1, 3))
        lent = replace(prime(28), loan=january)
        found = replace(
            one(MILL, height_m=1.6, plate_film_on=datetime.date(2026, 2, 1)),
            kit=Kit((CINEMA,), (lent,)),
        )
        loan = missed(found, "loan")
        assert loan.takes == "Film it on 3 January."
        on_the_day = rest_planned(found, loan, film_on=datetime.date(2026, 1, 3))
        assert judged(on_the_day)["loan"] == 0

    def test_what_the_judgement_would_do_is_told_with_what_it_says(self):
        coat = Swatch("Green coat", "wardrobe", 40, 170, 70)
        found = replace(one(ANSA, plate_swatches=(coat,)), kit=ONE_LENS)
        colour = missed(found, "screen-colour")
        assert colour.takes == "Use a blue screen."
        assert colour.by.startswith("Green coat lies near")
        assert judged(rest_planned(found, colour, screen_colour="blue"))["screen-colour"] == 0

    def test_a_base_in_the_floor_asks_for_a_higher_table(self):
        found = replace(one(MILL, plate_drop_m=0.1, plate_table_m=0.05), kit=ONE_LENS)
        floor = missed(found, "floor")
        assert floor.by == "50.0 mm below the floor"
        higher = rest_planned(found, floor, table_m=metres(floor.takes))
        assert judged(higher)["floor"] == 0
        assert judged(rest_planned(found, floor, table_m=metres(floor.takes) - 0.01))["floor"] == 2

    def test_a_camera_that_was_put_elsewhere_goes_back(self):
        found = replace(one(MILL, height_m=1.6, plate_axis_height_m=0.3), kit=ONE_LENS)
        match = missed(found, "mismatch")
        assert match.takes == "Put the camera back where it is derived."
        assert match.by.endswith("px apart")
        assert judged(rest_planned(found, match, axis_height_m=None))["mismatch"] == 0

    def test_where_nothing_can_be_offered_it_says_what_kind_of_thing_would_help(self):
        down = Move(up_m=-1.5)
        found = replace(one(MILL, height_m=1.6, move=down), kit=ONE_LENS)
        move = missed(found, "move")
        assert move.takes.startswith("A smaller camera move")
        assert "below its floor" in move.by


@pytest.mark.parametrize("plate", [MILL, ANSA], ids=lambda p: p.name)
def test_every_rule_that_can_break_has_a_name(plate: Plate):
    found = one(plate, plate_room_id="garage", plate_film_on=datetime.date(2026, 6, 1))
    assert set(search(found, found.plates[0]).rules) <= {r.key for r in RULES}
    assert name_of("rate") == "capture rate"
    assert name_of("not-told-yet") == "not told yet"
