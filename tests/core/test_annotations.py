"""Marks on pictures: crossings against brute force, matte lines against projection by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString

from jungoptic.core.breakdown.annotations import judge_still
from jungoptic.core.breakdown.sketch_marks import (
    Drawn,
    above_line,
    crossings,
    line_y,
    segments_cross,
)
from jungoptic.core.breakdown.stills import camera_from_thing
from jungoptic.core.camera import Camera
from jungoptic.core.plan.standins import StandIn

W, H = 1920.0, 804.0
CAMERA = Camera(24.9, 24.9 * 804 / 1920, 32.0, (0.0, 0.0, 1.5), tilt_deg=3.0)
#: Quarters of a pixel: finer than anybody draws.
quarters = st.tuples(st.integers(0, 7680), st.integers(0, 3216)).map(lambda p: (p[0] / 4, p[1] / 4))
points = st.lists(quarters, min_size=2, max_size=7, unique=True)


def level_line(y: float, kind="matte", name="") -> Drawn:
    return Drawn("line", kind, name, ((0.0, y), (W, y)))


@settings(max_examples=150)
@given(points, points)
def test_crossings_agree_with_shapely(a, b):
    ours = segments_cross(np.array(a), np.array(b))
    theirs = LineString(a).intersection(LineString(b))
    distinct = {(round(x, 3), round(y, 3)) for x, y in ours}
    if theirs.is_empty:
        # Rounding may let a touching end in or out; nothing else may differ.
        assert all(LineString(b).distance(LineString(a)) < 1e-6 for _ in distinct)
        return
    parts = list(getattr(theirs, "geoms", [theirs]))
    if any(p.geom_type != "Point" for p in parts):
        return  # overlapping pieces: counted as none by us, as a line by shapely
    found = np.array(sorted(distinct)).reshape(-1, 2)
    for p in parts:
        assert len(found)
        assert np.hypot(found[:, 0] - p.x, found[:, 1] - p.y).min() < 0.01
    assert len(distinct) <= len(parts) + sum(
        1 for x, y in distinct if min(math.hypot(p.x - x, p.y - y) for p in parts) < 0.01
    )


def test_a_crossing_at_a_vertex_counts_once():
    path = np.array([(0.0, 0.0), (10.0, 10.0), (20.0, 0.0)])
    line = np.array([(0.0, 10.0), (10.0, 10.0), (20.0, 10.0)])
    assert len(segments_cross(path, np.array([(10.0, 0.0), (10.0, 20.0)]))) == 1
    assert len(segments_cross(path, line)) == 1


def test_paths_over_lines_are_counted_and_named():
    matte = level_line(300.0, name="Roof line")
    action = Drawn(
        "walk", "action", "Ansa's walk", ((100, 400), (300, 200), (500, 400), (700, 100))
    )
    split = Drawn("split", "split", "Split", ((400, 0), (400, 804)))
    tracking = Drawn("dot", "tracking", "", ((0, 0), (1920, 804)))
    found = crossings((matte, action, split, tracking))
    assert [(c.first_id, c.second_id) for c in found].count(("walk", "line")) == 3
    assert [(c.first_id, c.second_id) for c in found].count(("walk", "split")) == 1
    assert [(c.first_id, c.second_id) for c in found].count(("split", "line")) == 1
    assert [c.x_px for c in found] == sorted(c.x_px for c in found)
    report = judge_still((matte, action, split, tracking), W, H)
    sentence = next(f.sentence for f in report.findings if f.key == "cross:walk:line")
    assert "Ansa's walk crosses roof line 3 times" in sentence
    assert report.camera_known == "no"


def test_the_line_under_a_fold_is_the_lowest():
    folded = np.array([(0.0, 100.0), (200.0, 100.0), (200.0, 300.0), (100.0, 300.0)])
    assert line_y(folded, np.array([150.0, 50.0, 250.0]))[:2] == pytest.approx([300.0, 100.0])
    assert np.isnan(line_y(folded, np.array([250.0]))[0])


def test_above_line_by_hand():
    line = np.array([(0.0, 300.0), (W, 300.0)])
    assert above_line(np.array([(500.0, 262.0), (500.0, 700.0)]), line, W, H) == 38.0
    assert above_line(np.array([(500.0, 400.0)]), line, W, H) == -100.0
    assert above_line(np.array([(-5.0, 0.0)]), line, W, H) == -math.inf
    # What is above the picture crosses as far as its edge.
    assert above_line(np.array([(500.0, -400.0)]), line, W, H) == 300.0


def poplar(x: float = 2.0) -> StandIn:
    return StandIn("poplar", "Poplar", "box", x, 31.0, 0.0, 1.2, 7.4, 0.0, 0.0)


def line_under_its_top(by_px: float) -> Drawn:
    top = CAMERA.project([(2.0, 31.0, 7.4)], W, H)[0]
    return Drawn("line", "matte", "Matte line", ((0.0, top[1] + by_px), (W, top[1] + by_px)))


def test_the_poplar_above_the_line_and_its_ways_out():
    report = judge_still((line_under_its_top(38.0),), W, H, CAMERA, (poplar(),))
    (found,) = report.findings
    assert found.verdict == "breaks"
    assert found.sentence == (
        "Poplar is 7.400 m tall at 31.00 m: its top is 38.0 px above matte line."
    )
    words = [r.sentence for r in found.remedies]
    assert any(w.startswith("Tilt ") and w.endswith(" up.") for w in words)
    assert "Plan Poplar as a hold-out." in words
    # 38 px at a focal length of 32/24.9·1920 = 2467 px is a little under a degree of tilt.
    tilt = float(next(w for w in words if w.startswith("Tilt")).split()[1].rstrip("°"))
    assert 0.8 <= tilt <= 1.0
    tilted = replace(CAMERA, tilt_deg=CAMERA.tilt_deg + tilt)
    assert not [
        f
        for f in judge_still((line_under_its_top(38.0),), W, H, tilted, (poplar(),)).findings
        if f.verdict == "breaks"
    ]


def test_a_line_that_ends_is_cleared_by_walking_aside():
    top = CAMERA.project([(2.0, 31.0, 7.4)], W, H)[0]
    short = Drawn("line", "matte", "", ((0.0, top[1] + 38), (top[0] + 60, top[1] + 38)))
    (found,) = judge_still((short,), W, H, CAMERA, (poplar(),)).findings
    move = next(r for r in found.remedies if r.sentence.startswith("Move"))
    metres = float(move.sentence.split()[3])
    assert "left" in move.sentence  # the tree then stands farther right in the picture
    # Its left edge has to come past the end of the line: 60 px plus half of its 1.2 m.
    px_per_m = 32 / 24.9 * W / (31.0 * math.cos(math.radians(3)))
    assert metres == pytest.approx(60 / px_per_m + 0.6, abs=0.2)
    moved = replace(CAMERA, position_m=(-metres, 0.0, 1.5))
    assert not judge_still((short,), W, H, moved, (poplar(),)).findings


def test_a_planned_hold_out_only_strains():
    line = line_under_its_top(38.0)
    mark = Drawn("h", "holdout", "poplar", ((900, 100), (950, 100)))
    (found,) = judge_still((line, mark), W, H, CAMERA, (poplar(),)).findings
    assert found.verdict == "strains"
    assert "planned as a hold-out" in found.sentence


def test_what_stays_under_holds_and_says_by_how_much():
    (found,) = judge_still((line_under_its_top(-50.0),), W, H, CAMERA, (poplar(),)).findings
    assert found.verdict == "holds"
    assert "50.0 px under" in found.sentence
    (close,) = judge_still((line_under_its_top(-2.0),), W, H, CAMERA, (poplar(),)).findings
    assert close.verdict == "strains"


def test_a_drawn_thing_with_its_distance_gets_its_height():
    base, top = CAMERA.project([(2.0, 31.0, 0.0), (2.0, 31.0, 7.4)], W, H)
    drawn = Drawn("t", "reference", "Poplar", (tuple(base), tuple(top)), distance_m=31.0)
    line = line_under_its_top(38.0)
    (found,) = judge_still((line, drawn), W, H, CAMERA).findings
    assert "7.400 m tall at 31.00 m" in found.sentence
    assert "38.0 px above" in found.sentence
    # Without a distance its foot on the ground gives it.
    (same,) = judge_still((line, replace(drawn, distance_m=None)), W, H, CAMERA).findings
    assert same.sentence == found.sentence


def test_a_still_without_a_plan_gets_its_camera_from_one_known_thing():
    # A pole of 3 m at 12 m drawn 250 px tall: f = 250 · 12 / 3 = 1000 px.
    pole = Drawn("pole", "reference", "Pole", ((500, 300), (500, 550)), 12.0, 3.0)
    still = camera_from_thing(pole, 2000.0, 1000.0)
    assert still is not None
    assert still.camera.focal_mm / still.camera.sensor_width_mm * 2000 == pytest.approx(1000)
    line = Drawn("line", "matte", "", ((0, 340), (2000, 340)))
    report = judge_still((pole, line), 2000, 1000)
    assert report.camera_known == "thing"
    (found,) = report.findings
    assert "40.0 px above" in found.sentence
    tilt = next(r for r in found.remedies if r.sentence.startswith("Tilt"))
    assert float(tilt.sentence.split()[1].rstrip("°")) == pytest.approx(
        math.degrees(math.atan(0.2) - math.atan(0.16)), abs=0.15
    )
    assert camera_from_thing(replace(pole, height_m=None), 2000, 1000) is None
    assert judge_still((replace(pole, height_m=None), line), 2000, 1000).camera_known == "no"


@settings(max_examples=60, deadline=None)
@given(
    x=st.floats(-8, 8),
    y=st.floats(3, 60),
    tall=st.floats(0.3, 20),
    at=st.floats(5, 795),
    slope=st.floats(-0.3, 0.3),
)
def test_a_way_out_that_is_offered_works(x, y, tall, at, slope):
    thing = StandIn("t", "Thing", "box", x, y, 0.0, 1.0, tall, 0.5, 10.0)
    line = Drawn("line", "matte", "", ((0.0, at - slope * 960), (W, at + slope * 960)))
    for found in judge_still((line,), W, H, CAMERA, (thing,)).findings:
        if found.verdict != "breaks":
            continue
        for r in found.remedies:
            number = r.sentence.split()
            if number[0] == "Move":
                side = -1 if number[-1] == "left." else 1
                camera = replace(CAMERA, position_m=(side * (float(number[3]) + 0.051), 0.0, 1.5))
            elif number[0] == "Tilt":
                camera = replace(CAMERA, tilt_deg=3.0 + float(number[1].rstrip("°")) + 0.051)
            else:
                continue
            after = judge_still((line,), W, H, camera, (thing,)).findings
            assert all("above" not in f.sentence or _slight(f.sentence) for f in after)


def _slight(sentence: str) -> bool:
    """A hair's breadth above, from the rounding of the printed number."""
    return float(sentence.split(" px above")[0].split()[-1].replace(",", "")) < 3.0


def test_an_empty_picture_says_nothing():
    assert judge_still((), W, H).findings == ()
    with pytest.raises(ValueError, match="picture width"):
        judge_still((), 0, 10)
