"""What a camera shows, against shapely's clipping of pictures, SciPy's linear programs, and points
followed one by one."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from scipy.optimize import linprog
from shapely import MultiPoint, Polygon, box
from shapely.ops import unary_union

from jungoptic.core.camera import Camera
from jungoptic.core.plan import Move, Shot
from jungoptic.core.plan.standins import StandIn, outlines
from jungoptic.core.stage import looking
from jungoptic.core.stage.clip import NEAREST_M
from jungoptic.core.stage.in_frame import in_story
from jungoptic.core.stage.seen import Seen
from jungoptic.core.stage.solids import solid_of

from .any_shot import any_shots
from .examples import MILL, STAND_INS, shot
from .stages import one

FEW = settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])


def ahead(ring: np.ndarray) -> np.ndarray:
    """A face in camera axes with what is too near cut off (one plane, Sutherland and Hodgman)."""
    kept = []
    for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        if a[2] >= NEAREST_M:
            kept.append(a)
        if (a[2] >= NEAREST_M) != (b[2] >= NEAREST_M):
            kept.append(a + (b - a) * (NEAREST_M - a[2]) / (b[2] - a[2]))
    return np.array(kept).reshape(-1, 3)


def camera_at(found: Seen, frame: int) -> tuple[np.ndarray, np.ndarray]:
    """Position and axes of the camera at a frame."""
    return found.path.positions_m[frame], found.path.axes[frame]


def slopes(found: Seen, padding: float, frame: int) -> tuple[float, float]:
    """How far the padded picture reaches to each side of its middle, per metre of depth."""
    camera, kept = found.path.camera, (1.0 + 2.0 * padding) / 2.0
    if found.path.zooms is not None:
        kept /= found.path.zooms[frame]
    return (
        camera.sensor_width_mm / camera.focal_mm * kept,
        camera.sensor_height_mm / camera.focal_mm * kept,
    )


def by_shapely(found: Seen, thing: StandIn, frame: int, padding: float) -> Polygon | None:
    """What is in the picture of a thing, as slopes right and down; None where nothing is."""
    position, axes = camera_at(found, frame)
    points, topology = solid_of(thing.after(float(found.seconds[frame])))
    at = (points - position) @ axes.T
    across, down = slopes(found, padding, frame)
    frame_box = box(-across, -down, across, down)
    parts = []
    for face in topology.faces:
        ring = ahead(at[list(face)])
        if len(ring) >= 3:
            parts.append(MultiPoint(ring[:, :2] / ring[:, 2:]).convex_hull.intersection(frame_box))
    whole = unary_union(parts)
    return None if whole.is_empty else whole


def by_program(
    found: Seen, thing: StandIn, frame: int, padding: float
) -> tuple[float, float] | None:
    """Nearest and farthest of a solid within the view, as two linear programs over the ways to mix
    its corners; None where no mixture lies within."""
    position, axes = camera_at(found, frame)
    points, _ = solid_of(thing.after(float(found.seconds[frame])))
    x, y, z = ((points - position) @ axes.T).T
    across, down = slopes(found, padding, frame)
    outside = np.stack([-x - across * z, x - across * z, -y - down * z, y - down * z, -z])
    limits = np.array([0.0, 0.0, 0.0, 0.0, -NEAREST_M])
    ends = []
    for sign in (1.0, -1.0):
        solved = linprog(
            sign * z,
            A_ub=outside,
            b_ub=limits,
            A_eq=np.ones((1, len(z))),
            b_eq=[1.0],
            bounds=(0.0, None),
        )
        if solved.status == 2:
            return None
        assert solved.status == 0
        ends.append(sign * solved.fun)
    return ends[0], ends[1]


def holds_camera(found: Seen, thing: StandIn, frame: int) -> bool:
    """Whether the camera stands in a solid, of which it then sees the inside, or in its plane."""
    position = found.path.positions_m[frame]
    points, topology = solid_of(thing.after(float(found.seconds[frame])))
    low, high = points.min(axis=0) - 0.03, points.max(axis=0) + 0.03
    if thing.kind == "box" or thing.heading_deg:
        reach = np.linalg.norm(points - points.mean(axis=0), axis=1).max() + 0.03
        near = np.linalg.norm(position - points.mean(axis=0)) <= reach
        return bool(near and thing.kind == "box") or edge_on(points - position, topology.faces[0])
    return bool(((position >= low) & (position <= high)).all())


def edge_on(points: np.ndarray, face: tuple[int, ...]) -> bool:
    """Whether the eye lies in the plane of a face."""
    a, b, c = points[list(face[:: max(len(face) // 3, 1)][:3])]
    normal = np.cross(b - a, c - a)
    return bool(abs(normal @ a) <= 1e-6 * max(np.linalg.norm(normal), 1e-12))


class TestAgainstReferences:
    @given(any_shots(plates=1))
    @FEW
    def test_what_is_in_the_picture_is_what_shapely_leaves_of_it(self, found: Shot):
        assume(found.stand_ins)
        seen = in_story(found)
        w, h = seen.width_px, seen.height_px
        for row, thing in enumerate(found.stand_ins):
            for frame in {0, seen.frames // 2, seen.frames - 1}:
                across, down = slopes(seen, 0.0, frame)
                want = by_shapely(seen, thing, frame, found.padding)
                size = (
                    0.0
                    if want is None
                    else max(want.bounds[2] - want.bounds[0], want.bounds[3] - want.bounds[1])
                )
                # What only touches the picture's edge is in it or not, by a rounding.
                if want is None or (size > 1e-6 and not seen.shows[row, frame]):
                    assert want is None or size < 1e-6
                    continue
                if not seen.shows[row, frame]:
                    continue
                left, top, right, bottom = want.bounds
                got = (
                    seen.left_px[row, frame],
                    seen.top_px[row, frame],
                    seen.right_px[row, frame],
                    seen.bottom_px[row, frame],
                )
                px = [
                    (left / across / 2 + 0.5) * w,
                    (top / down / 2 + 0.5) * h,
                    (right / across / 2 + 0.5) * w,
                    (bottom / down / 2 + 0.5) * h,
                ]
                assert got == pytest.approx(px, abs=1e-3, rel=1e-6)

    @given(any_shots(plates=1))
    @FEW
    def test_nearest_and_farthest_are_what_a_linear_program_finds(self, found: Shot):
        assume(found.stand_ins)
        seen = in_story(found)
        for row, thing in enumerate(found.stand_ins):
            for frame in {0, seen.frames - 1}:
                want = by_program(seen, thing, frame, found.padding)
                if want is None or holds_camera(seen, thing, frame):
                    continue
                if not seen.shows[row, frame]:
                    # Touched by its edge alone.
                    assert want[1] - want[0] < 1e-3 * want[1]
                    continue
                got = seen.near_m[row, frame], seen.far_m[row, frame]
                assert got == pytest.approx(want, rel=1e-5, abs=1e-5)

    @given(any_shots(plates=1))
    @FEW
    def test_steps_are_what_points_followed_one_by_one_make(self, found: Shot):
        assume(found.stand_ins)
        seen = in_story(found)
        assume(seen.frames > 3)
        steps = seen.steps
        for row, thing in enumerate(found.stand_ins):
            frame = seen.frames // 2
            points, _ = solid_of(thing)
            lengths = []
            pictures = []
            for at in (frame, frame + 1):
                part = float(seen.parts[at])
                camera = found.move.moved(found.world.camera(found.delivery), part)
                gone = np.array(
                    [
                        getattr(thing.after(float(seen.seconds[at])), name) - getattr(thing, name)
                        for name in ("x_m", "y_m", "z_m")
                    ]
                )
                pictures.append(camera.project(points + gone, seen.width_px, seen.height_px))
            inside = seen.there[seen.points_of == row, frame]
            lengths = np.hypot(*(pictures[1] - pictures[0]).T)[inside]
            lengths = lengths[np.isfinite(lengths)] * (1.0 - 1.0 / found.frames)
            if len(lengths):
                assert steps.fastest_px[row, frame] >= lengths.max() * (1 - 1e-6) - 1e-6
                assert steps.slowest_px[row, frame] <= lengths.min() * (1 + 1e-6) + 1e-6


class TestCloseUp:
    """A person 1.7 m tall, 1.2 m from an 85 mm lens at eye height: head and shoulders."""

    CLOSE = {"focal_mm": 85.0, "height_m": 1.55, "tilt_deg": 0.0, "padding": 0.0}
    PERSON = StandIn("ida", "Ida", "figure", 0.0, 1.2, 0.0, 0.5, 1.7, plate_id="ansa")

    def test_feet_that_are_out_of_frame_are_not_in_it(self):
        seen = in_story(shot(stand_ins=(self.PERSON,), **self.CLOSE))
        spots, _ = seen.spots([self.PERSON])
        half = 24.9 / 1920 * 804 / 2 / 85 * 1.2
        assert spots[:, 2].min() == pytest.approx(1.55 - half)
        assert spots[:, 2].max() == pytest.approx(1.55 + half, abs=0.06)
        assert seen.shows.all()

    def test_a_cloth_whose_corners_are_all_outside_fills_the_picture(self):
        cloth = StandIn("c", "Cloth", "card", 0.0, 3.0, 0.0, 4.0, 3.0)
        seen = in_story(shot(stand_ins=(cloth,), **self.CLOSE))
        box_px = [v[0, 0] for v in (seen.left_px, seen.top_px, seen.right_px, seen.bottom_px)]
        assert box_px == pytest.approx([0.0, 0.0, 1920.0, 804.0])
        assert not seen.there.any()

    def test_who_walks_in_enters_and_leaves(self):
        # 3 m/s across a picture 24.9 / 85 * 6 = 1.76 m wide at 6 m, from 3 m to the left.
        runner = StandIn("r", "R", "figure", -3.0, 6.0, 0.0, 0.5, 1.7, 0, 0, "ansa", 3.0, 90.0)
        found = shot(stand_ins=(runner,), screen_time_s=2.0, **self.CLOSE)
        (spell,) = in_story(found).spells([runner])
        wide, half = 24.9 / 85 * 6.0 / 2, 0.13 * 1.7
        enters, leaves = ((3.0 + side * (wide + half)) / 3.0 for side in (-1, 1))
        assert spell.first == math.ceil(enters / 2.0 * 47)
        assert spell.last == math.floor(leaves / 2.0 * 47)


class TestEverything:
    def test_more_padding_never_hides_anything(self):
        for padding in (0.0, 0.1, 0.3):
            wide = in_story(shot(padding=padding, move=Move(pan_deg=40.0)))
            wider = in_story(shot(padding=padding + 0.1, move=Move(pan_deg=40.0)))
            assert (wider.shows >= wide.shows).all()
            near = np.nan_to_num(wide.near_m, nan=np.inf)
            assert (np.nan_to_num(wider.near_m, nan=np.inf) <= near + 1e-9).all()

    def test_what_is_drawn_of_a_thing_lies_within_its_solid(self):
        for thing in STAND_INS:
            points, topology = solid_of(thing)
            lines = np.concatenate(outlines(thing))
            camera = Camera(24.9, 10.4, 32.0, (0.0, 0.0, 1.5))
            hulls = [camera.project(points[list(face)], 1920, 804) for face in topology.faces]
            whole = unary_union([MultiPoint(h).convex_hull for h in hulls]).buffer(0.01)
            assert all(whole.covers(p) for p in MultiPoint(camera.project(lines, 1920, 804)).geoms)

    def test_nothing_at_all_is_an_answer(self):
        empty = in_story(shot(stand_ins=()))
        assert empty.shows.shape == (0, 1)
        assert empty.spells([]) == []
        assert empty.spots([])[0].shape == (0, 3)
        assert empty.steps.fastest_px.shape == (0, 1)


class TestVeryLongShots:
    def test_some_frames_of_an_hour_are_told_apart_and_keep_their_numbers(self):
        person = StandIn(
            "p",
            "P",
            "figure",
            -40.0,
            30.0,
            0,
            0.5,
            1.7,
            plate_id="mill",
            speed_m_s=0.02,
            course_deg=90.0,
        )
        hour = one(MILL, screen_time_s=3600.0, stand_ins=(person,))
        some = in_story(hour)
        assert some.frames == looking.MOST_FRAMES
        assert (some.number(0), some.number(some.frames - 1)) == (1, hour.frames)
        # All 86,400 frames, which nobody keeps.
        most = looking.MOST_FRAMES
        look = looking.Look(
            hour.world.camera(hour.delivery), hour.delivery, hour.move, hour.time, hour.padding
        )
        try:
            looking.MOST_FRAMES = 100_000
            looking._path.cache_clear()
            every = looking.seen(look, hour.stand_ins)
        finally:
            looking.MOST_FRAMES = most
            looking._path.cache_clear()
        assert every.frames == hour.frames
        fast, slow = (float(np.nanmax(s.steps.fastest_px)) for s in (some, every))
        assert fast == pytest.approx(slow, rel=2e-3)
        spells = [
            [(s.number(x.first), s.number(x.last)) for x in s.spells([person])]
            for s in (some, every)
        ]
        # To the frames left out between two that are told apart.
        np.testing.assert_allclose(spells[0], spells[1], atol=hour.frames / most + 1)

    def test_a_short_shot_calls_its_frames_what_they_are(self):
        walk = StandIn("p", "P", "figure", 0.0, 8.0, 0, 0.5, 1.7, plate_id="mill", speed_m_s=0.5)
        for seconds in (1.0 / 24.0, 0.5, 6.0):
            short = one(MILL, screen_time_s=seconds, stand_ins=(walk,))
            found = in_story(short)
            numbers = [found.number(i) for i in range(found.frames)]
            assert sorted(set(numbers)) == list(range(1, short.frames + 1))
