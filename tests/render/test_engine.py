"""Following light: what must be so whatever the plan."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan.plate import PlacedLamp
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.stage.case import Case
from jungoptic.render import engine as engine_module
from jungoptic.render.engine import NoEngine, Stage, matte
from jungoptic.render.lamps import lamps_of, tint
from jungoptic.render.picture import MIRRORED, NO_ROOM, OUTSIDE, UNLIT, develop
from jungoptic.render.scene import Eye, Pose, Scene
from jungoptic.render.staged import staged
from jungoptic.render.warming import ready
from jungoptic.render.world import filmed_world
from proof.looks import lux
from proof.plans import LAMPS, random_case

EYE = Eye(Pose((0.0, 0.0, 1.0)), Pose((0.0, 0.0, 1.0)), (36.0, 20.0), 35.0)
pytestmark = pytest.mark.usefixtures("engine")


def changed(case: Case, **plate) -> Case:
    new = replace(case.plate, **plate)
    found = Case.of(replace(case.shot, plates=(new,)), new)
    assert found is not None
    return found


@pytest.mark.parametrize("lamp", [x for x in LAMPS if x.kind != "sun"], ids=lambda x: x.id)
def test_a_metre_before_a_lamp_there_is_what_its_maker_says(lamp):
    plate = replace(random_case(0).plate, lamps=(PlacedLamp(lamp.id, 0.0, 0.0, 1.0),))
    kit = random_case(0).shot.kit
    at = np.array([0.0, 1.0, 1.0])
    shining, _ = lamps_of(kit, plate, at, under_sky=False)
    found = lux(Scene((), shining, EYE), at, np.array([0.0, -1.0, 0.0]))
    assert found == pytest.approx(lamp.lux_at_1m, rel=0.01)


def test_the_sun_overhead_gives_its_number_and_less_when_it_is_low():
    """IES RP-21: what one air mass leaves, exp(-0.21) (from memory)."""
    case = random_case(0)
    at = np.array([0.0, 2.0, 0.5])
    found = []
    for x, z in ((0.0, 100.5), (math.sqrt(3.0) * 50.0, 50.5)):
        plate = replace(case.plate, lamps=(PlacedLamp("sun", x, 2.0, z),))
        shining, _ = lamps_of(case.shot.kit, plate, at, under_sky=True)
        way = np.array([x, 2.0, z]) - at
        found.append(lux(Scene((), shining, EYE), at, way))
    assert found[0] == pytest.approx(90_000.0, rel=0.01)
    # At 30 degrees the air mass is 1.994 (Kasten and Young 1989).
    assert found[1] / found[0] == pytest.approx(math.exp(-0.21 * 0.994), rel=0.01)


def test_a_white_card_gives_back_what_falls_on_it():
    """A disc that shines like paper: E = M r^2 / (d^2 + r^2) on its axis (any illumination
    text)."""
    case = random_case(0)
    kit = replace(
        case.shot.kit, lamps=(*LAMPS, replace(LAMPS[0], id="card", kind="bounce", size_m=1.0))
    )
    lamps = (
        PlacedLamp("bulb", 0.0, 0.0, 1.0),
        PlacedLamp("card", 0.0, 3.0, 1.0, aim_x_m=0.0, aim_y_m=0.0, aim_z_m=1.0),
    )
    plate = replace(case.plate, lamps=lamps)
    target = np.array([0.0, 0.0, 1.0])
    shining, cards = lamps_of(kit, plate, target, under_sky=False)
    # The bulb throws 300 / 9 lux on the middle of the card, a little less on its rim.
    at = np.array([0.0, 1.0, 1.0])
    direct = lux(Scene((), shining, EYE), at, np.array([0.0, 1.0, 0.0]), bounces=1)
    with_card = lux(Scene(cards, shining, EYE), at, np.array([0.0, 1.0, 0.0]), bounces=2)
    assert direct == pytest.approx(0.0, abs=1e-6)
    told = 0.8 * 300.0 / 9.0 * 0.5**2 / (2.0**2 + 0.5**2)
    assert with_card == pytest.approx(told, rel=0.04)


def test_a_lamp_is_warm_or_cool_and_never_brighter_for_it():
    for kelvin in (2900.0, 5600.0, 9000.0):
        assert tint(kelvin, 5600.0) @ [0.2126, 0.7152, 0.0722] == pytest.approx(1.0)
    assert tint(2900.0, 5600.0)[0] > tint(2900.0, 5600.0)[2]
    assert tint(5600.0, 5600.0) == pytest.approx([1.0, 1.0, 1.0])


def test_one_seed_one_picture():
    case = random_case(3)
    first, again, other = (
        develop(case.shot, case.plate, 0.0, 96, seed).pixels for seed in (1, 1, 2)
    )
    assert (first == again).all()
    assert (first != other).any()


def test_a_camera_inside_a_box_shows_a_box():
    case = random_case(1)
    around = StandIn("in", "Box", "box", 0.0, -40.0, 0.0, 90.0, 60.0, 90.0, 0.0, "plate")
    shot = replace(case.shot, stand_ins=(around,))
    found = develop(shot, case.plate, 0.0, 96)
    assert found.pixels.shape[2] == 3
    assert np.isfinite(found.pixels).all()


def test_nothing_in_frame_and_no_lamp_still_give_a_picture():
    case = random_case(2)
    shot = replace(case.shot, stand_ins=(), plates=(replace(case.plate, lamps=()),))
    found = develop(shot, shot.plates[0], 0.0, 96)
    assert UNLIT in found.remarks
    # Even light at a normal exposure: nothing but the light from all around, at full scale.
    assert found.pixels.mean() > 200


def test_without_a_camera_it_says_what_to_choose():
    case = random_case(2)
    plate = replace(case.plate, lens_id=None)
    with pytest.raises(Impossible, match="choose a body"):
        develop(replace(case.shot, plates=(plate,)), plate)


def test_what_a_person_should_know_is_said():
    case = random_case(0)
    assert NO_ROOM in develop(case.shot, case.plate, 0.0, 48).remarks
    far = PlacedLamp("panel", 30.0, 1.0, 1.0)
    inside = changed(case, room_id="room", lamps=(far,))
    assert OUTSIDE in develop(inside.shot, inside.plate, 0.0, 48).remarks
    flopped = changed(case, flop=True)
    assert MIRRORED in develop(flopped.shot, flopped.plate, 0.0, 48).remarks


def test_what_a_lens_too_long_throws_beside_the_sensor_stays_black():
    case = random_case(0)
    long = replace(case.choice.lens, focal_min_mm=120.0, focal_max_mm=120.0)
    kit = replace(case.shot.kit, lenses=(long,))
    plate = replace(case.plate, lamps=())
    shot = replace(case.shot, kit=kit, plates=(plate,))
    found = develop(shot, plate, 0.0, 96)
    assert any("too long for this view" in remark for remark in found.remarks)
    assert found.pixels[:, :4].max() <= 16
    assert found.pixels[20:-20, 46:50].mean() > 40


def test_a_room_gives_light_back():
    """Walls brighten what no lamp reaches."""
    case = random_case(0)
    lit = changed(case, room_id="room", lamps=(PlacedLamp("panel", 1.0, 0.5, 1.5),))
    dark, light = (
        Stage(staged(lit, room=room), 64, 36).seen(64).light.mean() for room in (False, True)
    )
    assert light > dark


def test_a_matte_is_what_the_thing_covers():
    case = changed(random_case(0), lamps=())
    scene = staged(case, pinhole=True)
    thing = case.shot.stand_ins[0].id
    everything = frozenset(s.of for s in scene.solids)
    one, most = (matte(scene, of, 96, 54) for of in (frozenset({thing}), everything))
    assert one.min() >= 0.0
    assert one.max() <= 1.0 + 1e-4
    assert (one <= most + 1e-3).all()
    assert matte(scene, frozenset(), 96, 54).max() == 0.0


def test_the_story_is_lit_from_where_its_key_is():
    case = random_case(4)
    post = StandIn("c", "Post", "box", 0.0, 6.0, 0.0, 0.6, 3.0, 0.6)
    level = replace(case.shot.world, height_m=1.6, pan_deg=0.0, tilt_deg=0.0, roll_deg=0.0)
    shot = replace(case.shot, stand_ins=(post,), world=replace(level, focal_mm=28.0))
    found = []
    for side in (95.0, -95.0):
        lit = replace(shot, key_from_deg=side, key_elevation_deg=25.0, key_ratio_stops=3.0)
        light = Stage(filmed_world(lit), 96, 54).seen(64).light.mean(axis=2)[30:]
        found.append(light[:, 10:38].mean() - light[:, 58:86].mean())
    # From the right it throws its shadow to the left, from the left to the right.
    assert found[0] < 0.0 < found[1]


def test_a_machine_without_the_engine_says_what_to_install(monkeypatch, tmp_path):
    monkeypatch.setenv("DRJIT_LIBLLVM_PATH", str(tmp_path / "none.so"))
    assert not engine_module.available()
    with pytest.raises(NoEngine, match="libllvm19"):
        engine_module.warmed()
    assert ready() is None


def test_made_ready_it_has_looked_through_a_lens_at_what_lamps_light():
    seen = ready()
    assert seen is not None
    # The floor is seen to where it ends, 8.5 metres ahead and below; lit, and behind it nothing.
    assert seen.depth_m.max() == pytest.approx(math.hypot(8.5, 1.5), rel=0.05)
    assert seen.light[seen.depth_m > 0.0].mean() > 0.0
