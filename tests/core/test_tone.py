"""The Frame in tone: faces as bright as their lamps make them, whole, soft and in order."""

from __future__ import annotations

import math
from contextlib import suppress
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from shapely import MultiPoint, Polygon, unary_union

from jungoptic.core.drawings.tone import tones
from jungoptic.core.impossible import Impossible
from jungoptic.core.lighting.facing import on_faces
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.shine import illuminance
from jungoptic.core.lighting.sources import sources_of
from jungoptic.core.plan import Lamp, PlacedLamp, StandIn
from jungoptic.core.report.shot_report import report
from jungoptic.core.stage.case import Case

from .any_shot import any_shots
from .examples import ANSA, MILL
from .stages import FULL, case_of, one

#: A bulb: the same to all sides, so that the inverse square and the cosine are all there is.
BULB = Lamp("bulb", "Bulb", 400.0, 0.0, 60.0, kind="bulb")
LIT = replace(FULL, lamps=(*FULL.lamps, BULB))
#: A box of the mill's stage, 1:12, its front square to the camera.
BOX = StandIn("house", "Mill", "box", 0.0, 24.0, 0.0, 6.0, 6.0, 6.0, 0.0, "mill")


def stage(*lamps, things=(BOX,), plate=MILL, **changes):
    shot = one(replace(plate, lamps=lamps), stand_ins=things, **changes)
    return replace(shot, kit=LIT)


def faces(shot, part=0.0):
    return [t for t in tones(case_of(shot), part) if t.kind == "face"]


def light_of(grey):
    """Light, 1 for white in normal light, of what is shown (IEC 61966-2-1)."""
    return ((grey + 0.055) / 1.055) ** 2.4 if grey > 0.04045 else grey / 12.92


def test_a_face_is_as_bright_as_a_meter_on_it_reads():
    # The bulb stands 1 m before the middle of the box's front: E = I / d^2, of which a box gives
    # back 0.35, against the light of a normal exposure.
    shot = stage(PlacedLamp("bulb", 0.0, 1.0, 0.25))
    (seen,) = [t for t in faces(shot) if t.grey > 0.0]
    told = 0.35 * 400.0 / case_of(shot).stage.lux_needed
    assert light_of(seen.grey) == pytest.approx(min(told, 1.0), rel=0.01)


def test_the_side_that_faces_the_lamp_is_the_brighter_one():
    turned = replace(BOX, heading_deg=45.0)
    left = faces(stage(PlacedLamp("bulb", -1.5, 1.0, 0.3), things=(turned,)))
    right = faces(stage(PlacedLamp("bulb", 1.5, 1.0, 0.3), things=(turned,)))

    def by_side(found):
        return sorted((np.mean([p[0] for p in t.paths[0]]), t.grey) for t in found)

    (_, a), (_, b) = by_side(left)
    (_, c), (_, d) = by_side(right)
    assert a > b
    assert d > c


def test_a_figure_is_round():
    ansa = StandIn("figure", "Ansa", "figure", 0.0, 6.0, 0.0, 0.5, 1.7, 0.0, 0.0, "ansa")
    found = faces(stage(PlacedLamp("bulb", -3.0, 5.0, 1.0), things=(ansa,), plate=ANSA))
    across = sorted((np.mean([p[0] for p in t.paths[0]]), t.grey) for t in found)
    greys = [grey for _, grey in across]
    assert len(greys) == 5
    assert greys == sorted(greys, reverse=True)
    assert greys[0] > greys[-1]


def test_faces_together_are_the_thing_as_it_is_outlined():
    # What a box shows is the hull of its corners; what a figure shows is its outline.
    shot = stage(PlacedLamp("bulb", 0.3, 1.0, 0.3), things=(replace(BOX, heading_deg=30.0),))
    case = case_of(shot)
    shown = unary_union([Polygon(p) for t in faces(shot) for p in t.paths])
    corners = [(x, y, z) for x in (-3.0, 3.0) for y in (0.0, 6.0) for z in (0.0, 6.0)]
    turn = math.radians(30.0)
    at = np.array(
        [
            (
                x * math.cos(turn) + y * math.sin(turn),
                24.0 - x * math.sin(turn) + y * math.cos(turn),
                z,
            )
            for x, y, z in corners
        ]
    )
    hull = MultiPoint(case.stage.camera.project(at / 12.0, 1920, 804)).convex_hull
    assert shown.symmetric_difference(hull).area < 0.005 * hull.area


def test_what_is_out_of_focus_or_moves_is_soft():
    near = replace(BOX, id="near", y_m=9.0, width_m=1.0, depth_m=1.0)
    shot = stage(
        PlacedLamp("bulb", 0.3, 0.5, 0.3),
        things=(BOX, near),
        plate=replace(MILL, f_number=2.8, focus_world_m=24.0),
    )
    soft = {t.stand_in_id: t.soft_px for t in faces(shot)}
    assert soft["near"][0] > 5.0 * max(soft["house"][0], 0.1)
    passing = stage(
        PlacedLamp("bulb", 0.3, 0.5, 0.3), things=(replace(BOX, speed_m_s=8.0, course_deg=90.0),)
    )
    across, down = faces(passing)[0].soft_px
    assert across > down
    # Half open at 24 a second: half of what it goes in a frame, as wide as a bell over root 12.
    case = case_of(passing)
    focal = case.stage.camera.focal_px(1920)
    gone = 8.0 / 12.0 / 24.0 * case.plate.shutter_deg / 360.0 * focal / (24.0 / 12.0)
    assert across == pytest.approx(gone / math.sqrt(12.0), rel=0.12)


def test_what_is_cut_out_has_no_floor_and_no_shadow():
    kinds = {t.kind for t in tones(case_of(stage(PlacedLamp("bulb", 0.5, 1.0, 1.0))))}
    assert kinds == {"face", "floor", "shadow"}
    keyed = stage(PlacedLamp("bulb", 0.5, 1.0, 1.0), plate_cut="key")
    assert {t.kind for t in tones(case_of(keyed))} == {"face"}


def test_air_takes_what_is_far():
    clear = stage(PlacedLamp("bulb", 0.0, 1.0, 0.25, level=0.1))
    (a, b) = (faces(s)[0].grey for s in (clear, replace(clear, visibility_m=60.0)))
    assert a < b


def test_before_there_are_lamps_the_storys_key_lights_it():
    turned = replace(BOX, heading_deg=45.0)

    def sides(from_deg):
        shot = stage(things=(turned,), key_from_deg=from_deg, key_elevation_deg=20.0)
        found = sorted((np.mean([p[0] for p in t.paths[0]]), t.grey) for t in faces(shot))
        return [grey for _, grey in found]

    left, right = sides(-100.0), sides(100.0)
    assert left[0] > left[1]
    assert right[1] > right[0]


def test_a_mirrored_plate_is_mirrored_in_tone():
    shot = stage(PlacedLamp("bulb", -1.5, 1.0, 0.3), plate_flop=True)
    (plate,) = report(shot, tone=True).plates
    (same,) = report(replace(shot, plates=(replace(shot.plates[0], flop=False),)), tone=True).plates
    assert plate.tones
    assert same.tones
    assert report(shot).plates[0].tones == ()


def test_many_faces_at_once_are_lit_as_one_by_one():
    shot = stage(PlacedLamp("panel", 0.5, 0.3, 0.6), PlacedLamp("fresnel", -0.8, 0.5, 0.4))
    case = case_of(shot)
    sources = sources_of(shot, case.plate, fine=False)
    dice = np.random.default_rng(2)
    points = dice.uniform((-1.0, 6.0, 0.0), (1.0, 9.0, 1.0), (20, 3))
    normals = dice.normal(size=(20, 3))
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    found = on_faces(sources, points, normals)
    for i in range(20):
        each = illuminance(sources, points[i : i + 1], normals[i])[:, 0]
        assert found[:, i] == pytest.approx(each, rel=1e-6, abs=1e-9)


@settings(max_examples=40, deadline=None)
@given(any_shots())
def test_any_shot_has_tones(shot):
    for plate in shot.plates:
        with suppress(Impossible):
            _has_tones(Case.of(shot, plate))


def _has_tones(case):
    if case is not None:
        found = tones(case, 0.5)
        assert [t.far_m for t in found] == sorted((t.far_m for t in found), reverse=True)
        for tone in found:
            assert 0.0 <= tone.grey <= 1.0
            assert all(math.isfinite(v) and v >= 0.0 for v in tone.soft_px)
            assert all(len(path) > 3 for path in tone.paths)
        light = lighting(case)
        assert light is None or light.room_lux >= 0.0
