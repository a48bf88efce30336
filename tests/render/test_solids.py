"""What stands on a simulated stage: its shapes, and that they are where the core has them."""

from __future__ import annotations

import math

import numpy as np
import pytest

from jungoptic.core.plan.standins import StandIn, measured_points
from jungoptic.render.people import person, solids_of
from jungoptic.render.shapes import ball, box, disc, joined, limb, normals, quad
from jungoptic.render.staged import staged
from proof.plans import random_case


def area(shape) -> float:
    points, faces = shape
    a, b, c = (points[faces[:, i]] for i in range(3))
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2.0)


def volume(shape) -> float:
    """By the divergence theorem; positive where all faces look outwards."""
    points, faces = shape
    a, b, c = (points[faces[:, i]] for i in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6.0)


def test_a_many_sided_disc_has_the_area_of_a_round_one():
    shape = disc(
        np.zeros(3), np.array([0.0, 0.0, 1.0]), np.array([0.3, 0, 0]), np.array([0, 0.2, 0])
    )
    assert area(shape) == pytest.approx(math.pi * 0.3 * 0.2, rel=1e-9)
    points, faces = shape
    first = points[faces[0]]
    assert np.cross(first[1] - first[0], first[2] - first[0])[2] > 0.0


def test_bodies_look_outwards_and_hold_what_they_should():
    assert volume(box((0, 0, 0), (2, 3, 4))) == pytest.approx(24.0)
    assert area(quad((0, 0, 0), (2, 0, 0), (2, 3, 0), (0, 3, 0))) == pytest.approx(6.0)
    assert volume(ball((1, 2, 3), (1, 1, 1))) == pytest.approx(4.0 / 3.0 * math.pi, rel=0.06)
    # A limb from one place to another: a cylinder with half a ball at each end.
    told = math.pi * 0.1**2 * 1.0 + 4.0 / 3.0 * math.pi * 0.1**3
    assert volume(limb((0, 0, 0), (0, 0, 1), 0.1, 0.1)) == pytest.approx(told, rel=0.06)
    assert volume(joined([box((0, 0, 0), (1, 1, 1)), box((2, 0, 0), (3, 1, 1))])) == pytest.approx(
        2.0
    )


def test_a_ball_faces_away_from_its_middle():
    points, faces = ball((0, 0, 0), (1, 1, 1))
    used = np.unique(faces)
    along = (normals(points, faces)[used] * points[used]).sum(axis=1)
    assert (along > 0.9).all()


def test_a_person_is_as_tall_as_told_with_eyes_where_figure_drawing_has_them():
    points = np.concatenate([shape[0] for _, shape in person()])
    assert points[:, 2].max() == pytest.approx(1.0, abs=0.002)
    assert points[:, 2].min() == pytest.approx(0.0, abs=0.002)
    # Shoulders about a quarter of the height wide (common practice).
    high = points[np.abs(points[:, 2] - 0.78) < 0.03]
    assert np.ptp(high[:, 0]) == pytest.approx(0.26, abs=0.04)


def test_arms_go_out_as_far_as_told():
    thing = StandIn("a", "Ansa", "figure", 0, 5, 0, 0.5, 1.7, reach_m=0.6)
    points = np.concatenate([s.vertices for s in solids_of(thing)])
    assert np.ptp(points[:, 0]) > 1.2


@pytest.mark.parametrize("kind", ["box", "card"])
def test_corners_stand_where_the_core_measures_them(kind):
    thing = StandIn("b", "Mill", kind, 1.0, 7.0, 0.5, 2.0, 3.0, 1.5 if kind == "box" else 0.0, 25.0)
    told = measured_points(thing).points
    found = solids_of(thing)[0].vertices
    gaps = np.linalg.norm(told[:, None] - found[None], axis=2)
    assert gaps.min(axis=1).max() < 1e-9
    assert gaps.min(axis=0).max() < 1e-9


@pytest.mark.parametrize("plan", range(6))
def test_a_stage_holds_what_its_plan_says(plan):
    case = random_case(plan)
    scene = staged(case)
    ids = {s.of for s in scene.solids}
    assert {t.id for t in case.shot.stand_ins_of(case.plate)} <= ids
    lit = [p for p in case.plate.lamps if p.level > 0]
    assert len(scene.shining) == len(lit)
    assert all(np.isfinite(s.vertices).all() for s in scene.solids)
    assert (scene.sky is None) == bool(lit)
