"""Whatever lamps, gels, screens, skies and stories a person sets up, the core answers, and its
numbers keep to the laws."""

from __future__ import annotations

import datetime
import math
import re
from dataclasses import replace

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from jungoptic.core.judging import findings_of
from jungoptic.core.lighting.gels import GELS
from jungoptic.core.lighting.on_stage import lighting
from jungoptic.core.lighting.shine import illuminance
from jungoptic.core.lighting.sources import sources_of
from jungoptic.core.plan import Kit, Lamp, PlacedLamp, Swatch
from jungoptic.core.planner.place_lamps import light_plate
from jungoptic.core.report.shot_report import ShotReport, report

from .examples import ANSA, KIT, MILL, shot
from .stages import GARAGE, YARD, case_of

SLOW = settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
KINDS = ("panel", "bank", "fresnel", "bulb", "sun", "bounce", "practical")
LAMPS = tuple(
    Lamp(kind, kind.capitalize(), 3000.0, 0.0 if kind == "bulb" else 0.6, 300.0, kind=kind, count=3)
    for kind in KINDS
)
near = st.floats(-4.0, 20.0)
PLACED = st.builds(
    PlacedLamp,
    lamp_id=st.sampled_from([*KINDS, "gone"]),
    x_m=near,
    y_m=near,
    z_m=st.floats(-1.0, 5.0),
    level=st.floats(0.0, 1.0),
    aim_x_m=st.none() | near,
    aim_y_m=st.none() | near,
    aim_z_m=st.none() | near,
    gel=st.sampled_from([g.key for g in GELS]),
    size_m=st.none() | st.floats(0.001, 3.0),
    upright=st.booleans(),
)
BYTE = st.integers(0, 255)


@st.composite
def lit(draw):
    """A miniature or a screen plate with wild light."""
    base = draw(st.sampled_from([MILL, ANSA]))
    days = st.dates(datetime.date(1990, 1, 1), datetime.date(2300, 1, 1))
    plate = replace(
        base,
        lamps=tuple(draw(st.lists(PLACED, max_size=4))),
        room_id=draw(st.sampled_from([None, "garage", "yard"])),
        film_on=draw(st.none() | days),
        heading_deg=draw(st.none() | st.floats(0, 360)),
        white_k=draw(st.floats(1500, 20_000)),
        screen_colour=draw(st.sampled_from(["green", "blue", "black", "white", "sky", "red"])),
        screen_width_m=draw(st.sampled_from([0.0, 3.0, 12.0])),
        screen_sweep_m=draw(st.floats(0, 5)),
        swatches=tuple(
            draw(
                st.lists(
                    st.builds(
                        Swatch,
                        st.just("x"),
                        st.sampled_from(["skin", "smoke", "glass", "hair"]),
                        BYTE,
                        BYTE,
                        BYTE,
                    ),
                    max_size=3,
                )
            )
        ),
    )
    return shot(
        plates=(plate,),
        kit=Kit(KIT.bodies, KIT.lenses, LAMPS, (GARAGE, YARD)),
        key_kind=draw(st.sampled_from(["", "sun", "lamp"])),
        key_from_deg=draw(st.none() | st.floats(-360, 360)),
        key_elevation_deg=draw(st.none() | st.floats(-90, 90)),
        key_ratio_stops=draw(st.none() | st.floats(0, 12)),
        key_size_deg=draw(st.none() | st.floats(0.01, 180)),
        key_temperature_k=draw(st.none() | st.floats(1000, 20_000)),
        key_level_stops=draw(st.floats(-12, 6)),
        visibility_m=draw(st.none() | st.floats(1, 1e6)),
    )


@given(lit())
@SLOW
def test_every_story_and_every_lamp_is_answered(found):
    answer = report(found, selected=found.plates[0].id, light_map=True)
    # As the API would send it.
    assert TypeAdapter(ShotReport).dump_json(answer)
    for finding in answer.plates[0].findings:
        assert not re.search(r"\b(nan|inf)\b", finding.sentence), finding.sentence


@given(lit())
@SLOW
def test_light_is_never_negative_and_dimming_is_linear(found):
    plate = found.plates[0]
    points = np.array([[0.0, 2.0, 0.3], [2.6, 15.4, 1.7], [-3.0, 5.0, 0.0]])
    full = illuminance(sources_of(found, plate), points)
    assert (full >= 0.0).all()
    dimmed = replace(plate, lamps=tuple(replace(x, level=x.level / 2) for x in plate.lamps))
    halved = illuminance(sources_of(found, dimmed), points)
    sources = sources_of(found, plate)
    rows = [i for i, source in enumerate(sources) if source.lamp.kind != "bounce"]
    np.testing.assert_allclose(halved[rows], full[rows] / 2.0, rtol=1e-9, atol=1e-12)


@given(lit())
@SLOW
def test_the_meter_is_never_brighter_than_all_lamps_face_on(found):
    light = lighting(case_of(found))
    if light is None:
        return
    for lamp in light.lamps:
        assert lamp.meter_lux <= lamp.face_lux * (1 + 1e-9) + 1e-9
        assert -90.0 <= lamp.elevation_deg <= 90.0
        assert -180.0 <= lamp.from_deg <= 180.0
    assert light.lux <= sum(x.face_lux for x in light.lamps) * (1 + 1e-9) + 1e-9
    if light.ratio_stops is not None:
        assert light.ratio_stops >= 0.0
    assert light.falloff_stops >= 0.0 or math.isinf(light.falloff_stops)


@given(lit())
@settings(max_examples=12, suppress_health_check=[HealthCheck.too_slow])
def test_proposals_only_use_what_is_owned(found):
    case = case_of(found)
    for way in light_plate(case):
        for lamp in found.kit.lamps:
            assert sum(p.lamp_id == lamp.id for p in way.lamps) <= lamp.count
        tried = replace(case, plate=replace(case.plate, lamps=way.lamps))
        ranks = [f.verdict.rank for f in findings_of(tried) if f.key in {"light", "key-side"}]
        assert all(r <= way.verdict.rank for r in ranks)
