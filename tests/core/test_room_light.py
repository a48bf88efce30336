"""What a room gives back of its light: against the integrating sphere, and by what must hold."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.room_light import Walls, given_back, walls_of
from jungoptic.core.lighting.sources import source_of
from jungoptic.core.plan import Lamp, PlacedLamp, Room
from jungoptic.core.plan.findings import Verdict

from .examples import MILL
from .stages import FULL, case_of, findings, one, placed

BULB = Lamp("bulb", "Bulb", 100.0, 0.0, 60.0, kind="bulb")
PANEL = Lamp("panel", "Panel", 1000.0, 0.4, 60.0)
CUBE = Walls((-2.0, -2.0, -2.0), (2.0, 2.0, 2.0), 0.5)
WAYS = np.concatenate([np.eye(3), -np.eye(3)])


def lamp(kind=BULB, x=0.0, y=0.0, z=0.0, aim=(0.0, 0.0, -1.0)):
    return source_of(0, kind, PlacedLamp(kind.id, x, y, z), aim, False)


@pytest.mark.parametrize("part", [0.1, 0.3, 0.5, 0.8])
def test_in_the_middle_of_a_cube_it_is_nearly_the_sphere(part):
    # Sumpner 1892: in a sphere with an area A that gives back a part of it, light F from a lamp
    # comes to F part / (A (1 - part)) everywhere. A cube differs by little in its middle.
    found = given_back(replace(CUBE, reflectance=part), (lamp(),), np.zeros(3), WAYS)[0]
    sphere = 4.0 * math.pi * 100.0 * part / (96.0 * (1.0 - part))
    assert found == pytest.approx(np.full(6, found[0]), rel=1e-6)
    assert found[0] == pytest.approx(sphere, rel=0.1)


def test_nothing_is_lost_and_nothing_made():
    # What all walls keep is what the lamp gives: (1 - part) of what falls on them, in all.
    dice = np.random.default_rng(1)
    spots, ways, areas = [], [], []
    for axis in range(3):
        for sign in (-1.0, 1.0):
            at = dice.uniform(-2.0, 2.0, (1500, 3))
            at[:, axis] = sign * 1.999
            spots.append(at)
            ways.append(-sign * np.eye(3)[axis])
            areas.append(16.0)
    back = 0.0
    for at, way, area in zip(spots, ways, areas, strict=True):
        each = [given_back(CUBE, (lamp(),), p, way[None])[0, 0] for p in at[::30]]
        back += area * float(np.mean(each))
    lumens = 4.0 * math.pi * 100.0
    assert 0.5 * (lumens + back) == pytest.approx(lumens, rel=0.06)


@given(st.floats(0.02, 0.9), st.floats(-1.5, 1.5), st.floats(-1.5, 1.5))
def test_brighter_walls_give_more_and_twice_the_lamp_gives_twice(part, x, y):
    at = np.array([0.3, -0.4, 0.2])
    one_lamp = lamp(PANEL, x, y, 1.0, (0.0, 0.0, -1.0))
    darker, brighter = (
        given_back(replace(CUBE, reflectance=p), (one_lamp,), at, WAYS) for p in (part, part * 1.1)
    )
    assert (brighter > darker).all()
    both = given_back(replace(CUBE, reflectance=part), (one_lamp, one_lamp), at, WAYS)
    assert both.sum(axis=0) == pytest.approx(2.0 * darker[0])


def test_a_larger_room_of_one_shape_gives_less_by_its_area():
    large = Walls((-4.0, -4.0, -4.0), (4.0, 4.0, 4.0), 0.5)
    here, there = (given_back(w, (lamp(),), np.zeros(3), WAYS)[0, 0] for w in (CUBE, large))
    assert here == pytest.approx(4.0 * there, rel=1e-6)


def test_a_lamp_outside_the_room_gives_nothing():
    assert given_back(CUBE, (lamp(BULB, 3.0),), np.zeros(3), WAYS).max() == 0.0


ROOM = Room("room", "Shed", 6.0, 5.0, 2.5)
KEY, FILL = placed("panel", 1.2, 0.6, 0.9), placed("panel", -1.2, 0.6, 0.6)


def shed(*lamps, part=0.5, **changes):
    plate = replace(MILL, lamps=lamps, room_id="room", table_m=0.8)
    room = replace(ROOM, reflectance=part)
    return replace(one(plate, **changes), kit=replace(FULL, rooms=(room,)))


def test_a_white_shed_is_brighter_than_a_black_one_and_says_why():
    black, white = shed(KEY, part=0.0), shed(KEY, part=0.75)
    assert walls_of(case_of(black)) is None
    dark, light = lighting(case_of(black)), lighting(case_of(white))
    assert light.lux == pytest.approx(dark.lux + light.room_lux)
    assert light.room_lux > 0.0
    assert dark.ratio_stops is None
    assert light.ratio_stops == pytest.approx(
        math.log2((light.key_lamp.face_lux + light.room_shadow_lux) / light.room_shadow_lux)
    )
    (told,) = (
        w
        for w in findings(white)["light"].workings
        if w.result.name == "more than from the lamps alone"
    )
    assert told.result.value == pytest.approx(math.log2(light.lux / dark.lux))


def test_the_shadow_side_says_which_way_it_faces():
    alone = findings(shed(KEY, key_ratio_stops=2.0))["ratio"]
    filled = findings(shed(KEY, replace(FILL, level=0.2), key_ratio_stops=2.0))["ratio"]
    assert "facing away from the key" in alone.sentence
    assert "facing the fill" in filled.sentence
    nobody = findings(shed(KEY, part=0.0, key_ratio_stops=2.0))["ratio"]
    assert "no room is told" in nobody.sentence


def test_the_fill_is_dimmed_for_what_the_room_fills_already():
    strong = findings(shed(KEY, FILL, part=0.2, key_ratio_stops=2.5))["ratio"]
    assert strong.verdict is not Verdict.HOLDS
    (way,) = (r for r in strong.remedies if "fill" in r.sentence)
    assert way.verdict is Verdict.HOLDS


def test_in_the_open_air_and_on_old_cards_no_wall_counts():
    yard = Room("room", "Yard", 20.0, 12.0)
    shot = shed(KEY)
    open_air = replace(shot, kit=replace(shot.kit, rooms=(yard,)))
    assert lighting(case_of(open_air)).room_lux == 0.0
    assert lighting(case_of(replace(shot, old_rules=True))).room_lux == 0.0


def test_a_lamp_that_plays_does_not_count_with_its_room():
    steady = lighting(case_of(shed(KEY)))
    both = lighting(case_of(shed(KEY, replace(FILL, role="played"))))
    assert both.room_lux == pytest.approx(steady.room_lux)
