"""Where in the picture a finding is to be seen: against the world camera's own projection."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import PlacedLamp
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.plan.standins import StandIn, hull_points
from jungoptic.core.remedies.standing import standing
from jungoptic.core.report import report
from jungoptic.core.report.places import _named, finding_places
from jungoptic.core.stage.in_frame import part_at

from .any_shot import any_shots
from .examples import ANSA, MILL
from .stages import case_of, one


def box_of(shot, thing, part):
    """What the story's camera has of a thing at a moment, cut off at the picture's edges."""
    camera = shot.move.moved(shot.world.camera(shot.delivery), part)
    pixels = camera.project(hull_points(thing.after(shot.time.after(part))), 1.0, 1.0)
    return np.clip([*pixels.min(axis=0), *pixels.max(axis=0)], 0.0, 1.0)


class TestThings:
    def test_what_a_sentence_names_is_circled_where_the_camera_has_it(self):
        """Out of focus: a box near the lens and one far away."""
        near = StandIn("near", "Cup", "box", -0.3, 1.2, 1.3, 0.3, 0.3, 0.1, 0, "ansa")
        far = StandIn("far", "Cupboard", "box", 1.5, 9.0, 0.6, 1.2, 1.5, 0.3, 0, "ansa")
        shot = one(ANSA, stand_ins=(near, far), plate_kind="live", plate_f_number=2.0, tilt_deg=0.0)
        (depth,) = (p for p in finding_places(shot) if p.key == "depth")
        assert depth.verdict is Verdict.BREAKS
        for box, thing in zip(sorted(depth.boxes), (near, far), strict=True):
            assert box == pytest.approx(box_of(shot, thing, 0.0), abs=2e-3)

    def test_a_name_within_another_is_not_it(self):
        things = [StandIn(n, n, "box", 0, 5) for n in ("Door", "Door frame", "Mill")]
        assert [t.name for t in _named("Door frame smears.", things)] == ["Door frame"]
        both = _named("Door frame hides Door.", things)
        assert {t.name for t in both} == {"Door", "Door frame"}
        assert _named("Needs 300 lx.", things) == []

    def test_light_is_circled_on_all_that_is_lit(self):
        lamps = (PlacedLamp("panel", 0.5, 1.0, 0.5, 0.01),)
        shot = one(MILL, plate_lamps=lamps)
        places = {p.key: p for p in finding_places(shot)}
        assert places["light"].verdict is Verdict.BREAKS
        (around,) = places["light"].boxes
        boxes = [box_of(shot, t, 0.0) for t in shot.stand_ins_of(shot.plates[0])]
        boxes = [b for b in boxes if b[2] > b[0] and b[3] > b[1]]
        assert around[0] == pytest.approx(min(b[0] for b in boxes), abs=2e-3)
        assert around[2] == pytest.approx(max(b[2] for b in boxes), abs=2e-3)

    def test_where_it_departs_most_is_circled(self):
        """The lens axis stands where the body lets it, too high: points near the lens go most."""
        shot = one(MILL, plate_scale=24.0)
        (off,) = (p for p in finding_places(shot) if p.key == "mismatch")
        ((left, top, right, bottom),) = off.boxes
        named = re.search(r"worst at (.+?)\.", off.sentence)[1]
        whiskers = report(shot, selected="mill").plates[0].whiskers
        (worst,) = (w for w in whiskers if w.name == named)
        assert left <= worst.from_x_px / 1920.0 <= right
        assert top <= worst.from_y_px / 804.0 <= bottom

    def test_a_lamp_in_the_picture_is_circled(self):
        lamp = PlacedLamp("panel", 0.1, 14.0, 2.0)
        shot = one(ANSA, plate_kind="live", plate_lamps=(lamp,), tilt_deg=0.0)
        places = {p.key: p for p in finding_places(shot)}
        ((left, top, right, bottom),) = places["lamp-in-picture"].boxes
        x, y = case_of(shot).stage.camera.project([lamp.at], 1.0, 1.0)[0]
        assert left < x < right
        assert top < y < bottom


@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
@given(any_shots())
def test_all_that_does_not_hold_is_told_and_lies_in_the_picture(shot):
    for frame in (1, shot.frames):
        try:
            found = finding_places(shot, part_at(shot, frame))
        except Impossible:
            return
        told = {(p.plate_id, p.key) for p in found}
        bad = {
            (plate.id, f.key)
            for plate in shot.plates
            for f in standing(shot, plate).findings
            if f.verdict is not Verdict.HOLDS
        }
        assert told == bad
        assert [p.verdict.rank for p in found] == sorted(
            (p.verdict.rank for p in found), reverse=True
        )
        for place in found:
            for left, top, right, bottom in place.boxes:
                assert 0.0 <= left <= right <= 1.0
                assert 0.0 <= top <= bottom <= 1.0


def test_where_nothing_can_be_filmed_that_is_said_without_a_place():
    (told,) = finding_places(one(MILL, plate_lens_id=None))
    assert told.key == "kit"
    assert told.boxes == ()
    assert finding_places(replace(one(MILL), plates=())) == ()
