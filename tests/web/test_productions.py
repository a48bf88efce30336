"""What is decided for a whole production, and what new shots take from it."""

from __future__ import annotations

import uuid

import pytest

from jungoptic.web.productions.models import Production


def edit(stage, **changes):
    stage.production.refresh_from_db()
    return stage.api.patch(stage.path, {"revision": stage.production.revision, **changes})


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"latitude_deg": 52.6}, "longitude_deg"),
        ({"longitude_deg": 1.7}, "latitude_deg"),
        ({"latitude_deg": 91.0, "longitude_deg": 0.0}, "latitude_deg"),
        ({"time_zone": "Norfolk"}, "time_zone"),
        ({"lengths_in": "cubits"}, "lengths_in"),
    ],
)
def test_half_a_place_and_unknown_ways_of_writing_are_refused(stage, changes, field):
    answer = edit(stage, **changes)
    assert answer.status_code == 422
    assert field in answer.json()["fields"]
    made = stage.api.post("/productions", {"id": str(uuid.uuid4()), "name": "Two", **changes})
    assert made.status_code == 422
    assert Production.objects.count() == 1


def test_where_it_is_filmed_and_how_it_is_written_are_kept(stage):
    told = {
        "latitude_deg": -33.9,
        "longitude_deg": 18.4,
        "time_zone": "Africa/Johannesburg",
        "lengths_in": "feet",
        "light_in": "footcandles",
        "stops_in": "thirds",
        "shutter_in": "time",
    }
    assert edit(stage, **told).status_code == 200
    found = stage.api.get(stage.path).json()
    assert {name: found[name] for name in told} == told
    assert edit(stage, latitude_deg=None, longitude_deg=None, time_zone="").status_code == 200


class TestNewShots:
    def make(self, stage, **values):
        body = {"id": str(uuid.uuid4()), "number": "9", "title": "New", **values}
        made = stage.api.post(f"{stage.path}/shots", body)
        assert made.status_code == 200, made.content
        return made.json()

    def test_are_delivered_as_the_production_is(self, stage):
        edit(stage, delivery_width_px=1998, playback_fps=25.0)
        made = self.make(stage)
        size = made["delivery_width_px"], made["delivery_height_px"], made["playback_fps"]
        assert size == (1998, 1080, 25.0)
        assert made["sensor_width_mm"] == 24.9
        assert self.make(stage, number="10", playback_fps=30.0)["playback_fps"] == 30.0

    def test_of_an_upright_film_have_a_sensor_that_stands(self, stage):
        edit(stage, delivery_width_px=1080, delivery_height_px=1920)
        made = self.make(stage)
        # A sensor of 24.9 mm, 16 by 9, on its side.
        assert made["sensor_width_mm"] == pytest.approx(24.9 * 9 / 16, abs=0.01)
        # However narrow it is, a shot can be made.
        edit(stage, delivery_width_px=16, delivery_height_px=32768)
        assert self.make(stage, number="9A")["sensor_width_mm"] == 1.0
        # What is said counts: its shape, and its sensor.
        lying = self.make(stage, number="10", delivery_width_px=1920, delivery_height_px=1080)
        assert lying["sensor_width_mm"] == 24.9
        assert self.make(stage, number="11", sensor_width_mm=36.0)["sensor_width_mm"] == 36.0
