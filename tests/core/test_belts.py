"""Layers and belts: image speed, what has to be painted, pulleys from one shaft."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.frames.belts import ENDS_M, Belt, belts_of
from jungoptic.core.frames.follows import chart_of
from jungoptic.core.frames.picture import Moved
from jungoptic.core.frames.sheet_report import sheet_report
from jungoptic.core.plan.sheet import Column, Leg, Sheet
from jungoptic.core.plan.shot import Shot
from jungoptic.core.plan.standins import StandIn

from .examples import MILL
from .stages import one

TABLE = replace(MILL, kind="puppet", scale=10.0)
#: World metres: hedge, trees and hills stand 0.8, 1.6 and 3.2 m from the lens on the table.
HEDGE = StandIn("hedge", "Hedge", "card", 0.0, 8.0, 0.0, 30.0, 1.5, plate_id="mill")
TREES = replace(HEDGE, id="trees", name="Trees", y_m=16.0)
HILLS = replace(HEDGE, id="hills", name="Hills", y_m=32.0)


def band(key: str, way: float, first: int = 2, frames: int = 48, **more: object) -> Column:
    legs = (Leg(first, frames, way, "even"),)
    kind = {"axis": "belt", "thing_id": key, **more}
    return Column(key, key.title(), "axis", legs=legs, **kind)  # type: ignore[arg-type]


def scene(**changes: object) -> Shot:
    level = {"tilt_deg": 0.0, "pan_deg": 0.0}
    return one(TABLE, stand_ins=(HEDGE, TREES, HILLS), **{**level, **changes})


def belts(*columns: Column, **changes: object) -> dict[str, Belt]:
    shot = scene(**changes)
    moved = [Moved(c, chart_of(shot, shot.plates[0], c)) for c in columns]
    return {b.key: b for b in belts_of(shot, shot.plates[0], moved)}


def test_carried_equally_fast_they_pass_in_the_inverse_ratio_of_their_distances():
    """Common practice of the multiplane; and f_px v / d by hand."""
    found = belts(band("hedge", 240), band("trees", 240), band("hills", 240))
    assert list(found) == ["hedge", "trees", "hills"]
    assert found["trees"].step_px == pytest.approx(found["hedge"].step_px / 2)
    assert found["hills"].step_px == pytest.approx(found["hedge"].step_px / 4)
    focal_px = 32.0 / 24.9 * 1920
    assert found["hedge"].step_px == pytest.approx(focal_px * 0.005 / 0.8, rel=1e-6)
    # They look as far away as they are, and one size of pulley drives them.
    assert found["hills"].looks_m == pytest.approx(3.2)
    assert [b.ratio for b in found.values()] == pytest.approx([1.0, 1.0, 1.0])


def test_the_picture_itself_goes_as_fast():
    """Against the projection of the carried thing, frame by frame."""
    seen = replace(TREES, width_m=2.0)  # its corners are in the picture
    shot = one(TABLE, stand_ins=(seen,), tilt_deg=0.0)
    column = band("trees", 240)
    report = sheet_report(shot, shot.plates[0], Sheet((column,)))
    stepped = next(s for s in report.steps if s.thing.id == "trees")
    assert report.belts[0].step_px == pytest.approx(stepped.step_px, rel=0.02)


def test_pulleys_are_as_their_ways():
    """Half the way by half the pulley on one shaft; what then looks twice as far as it stands."""
    found = belts(band("hedge", 240), band("trees", 120))
    assert found["trees"].ratio == pytest.approx(0.5)
    assert found["trees"].looks_m == pytest.approx(3.2)
    back = belts(band("hedge", 240), band("trees", -120))
    assert back["trees"].ratio is None  # one shaft turns both the same way round
    eased = belts(band("hedge", 240), band("trees", 120, frames=24))
    assert eased["trees"].ratio is None


def test_what_is_painted_is_what_the_frame_shows_of_it():
    """Against a walk over the frames: every place of the roll that ever comes before the lens."""
    shot = scene()
    found = belts(band("trees", 900))["trees"]
    camera = shot.world.camera(shot.delivery)
    wide = 16.0 * camera.sensor_width_mm / camera.focal_mm / 10.0
    way = np.linspace(0.0, 0.9, 49)
    seen_from, seen_to = (-wide / 2 - way).min(), (wide / 2 - way).max()
    assert found.roll_m == pytest.approx(seen_to - seen_from + 2 * ENDS_M, abs=1e-6)
    assert found.way_m == pytest.approx(0.9)
    # There and back it needs no more of it.
    twice = band("trees", 900)
    twice = replace(twice, legs=(*twice.legs, Leg(60, 48, -900.0, "even")))
    assert belts(twice)["trees"].roll_m == pytest.approx(found.roll_m)


def test_what_goes_nowhere_or_carries_nothing_is_no_belt():
    assert belts(band("hedge", 0.0), band("trees", 9.0, thing_id=None)) == {}
    assert belts(band("hedge", 240, axis="line")) == {}
    behind = replace(HEDGE, y_m=-3.0)
    shot = one(TABLE, stand_ins=(behind,), tilt_deg=0.0)
    moved = [Moved(c, chart_of(shot, shot.plates[0], c)) for c in (band("hedge", 240),)]
    assert belts_of(shot, shot.plates[0], moved) == ()


def test_a_lens_turned_along_the_layer_sees_no_end_of_it():
    found = belts(band("hedge", 240), pan_deg=80.0)
    assert found == {} or found["hedge"].roll_m is None
