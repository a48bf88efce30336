"""Light, sun and screens through the API: kept, computed, taken along, and never a 500."""

from __future__ import annotations

import csv
import datetime
import io
import json
import uuid

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from icalendar import Calendar
from PIL import Image

from jungoptic.core.sun import sun_position
from jungoptic.core.words.quantities import Notation, written_in
from jungoptic.web.kit.models import Lamp, Room
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.cards import issue

CUE = {"kind": "lightning", "lamp": 0, "low": 0, "high": 1, "per_s": 1, "seed": 3}
STORY = {
    "key_kind": "sun",
    "key_from_deg": 40.0,
    "key_elevation_deg": 30.0,
    "key_ratio_stops": 2.0,
    "key_size_deg": 5.0,
    "key_temperature_k": 4300.0,
    "key_level_stops": -1.0,
}


@pytest.fixture
def lit(stage):
    """The stage in a garage with three panels, and a yard under the sun."""
    stage.garage = Room.objects.create(
        production=stage.production,
        name="Garage",
        length_m=6,
        width_m=5.4,
        height_m=2.4,
        mains_hz=50,
    )
    stage.yard = Room.objects.create(
        production=stage.production,
        name="Yard",
        length_m=22,
        width_m=12,
        latitude_deg=52.6,
        longitude_deg=1.7,
        time_zone="Europe/London",
    )
    stage.lamp = Lamp.objects.create(
        production=stage.production, name="Panel", lux_at_1m=2600, size_m=0.45, watts=90, count=3
    )
    lamp = {"lamp_id": str(stage.lamp.pk), "x_m": 1.0, "y_m": 1.2, "z_m": 0.9, "level": 1.0}
    Plate.objects.filter(pk=stage.plate.pk).update(room=stage.garage, table_m=0.8, lamps=[lamp])
    Shot.objects.filter(pk=stage.shot.pk).update(**STORY)
    stage.plate.refresh_from_db()
    return stage


def plan_of(stage) -> dict:
    return plan_json(Shot.objects.select_related("production").get(pk=stage.shot.pk))


def ask(stage, what, **more):
    plan = json.loads(json.dumps(plan_of(stage), default=str))
    return stage.api.post(f"/calc/{what}", {**plan, "plate_id": str(stage.plate.pk), **more})


class TestKept:
    def test_the_storys_light_reaches_the_core(self, lit):
        path = f"{lit.path}/shots/{lit.shot.pk}"
        sent = {**STORY, "key_kind": "lamp", "key_level_stops": -2.0}
        assert lit.api.patch(path, {"revision": 1, **sent}).status_code == 200
        core = load(plan_of(lit))
        assert {name: getattr(core, name) for name in sent} == sent

    def test_what_stands_before_a_lamp_and_before_a_screen(self, lit):
        lamp = {
            "lamp_id": str(lit.lamp.pk),
            "x_m": 1.0,
            "y_m": 1.2,
            "z_m": 0.9,
            "level": 0.5,
            "aim_x_m": 0.0,
            "aim_y_m": 2.0,
            "aim_z_m": 0.1,
            "gel": "blue-4",
            "size_m": 0.025,
            "upright": False,
            "key": "lamp-by-the-door",
            "role": "practical",
        }
        sent = {
            "lamps": [lamp],
            "white_k": 3200.0,
            "screen_colour": "blue",
            "screen_sweep_m": 2.0,
            "heading_deg": 120.0,
            "swatches": [{"name": "Coat", "kind": "wardrobe", "red": 9, "green": 90, "blue": 50}],
            "cue": {
                **CUE,
                "at_s": 0.5,
                "lasts_s": 0,
                "lamp_key": "lamp-by-the-door",
                "beat_id": None,
                "keys": [],
            },
        }
        answer = lit.api.patch(f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, **sent})
        assert answer.status_code == 200, answer.content
        whole = lit.api.get(f"{lit.path}/shots/{lit.shot.pk}").json()["plates"][0]
        assert {k: whole[k] for k in sent} == sent
        plate = load(plan_of(lit)).plates[0]
        assert plate.lamps[0].aim == (0.0, 2.0, 0.1)
        assert plate.swatches[0].green == 90

    @pytest.mark.parametrize(
        ("values", "field", "words"),
        [
            ({"latitude_deg": 95}, "latitude_deg", "90"),
            ({"latitude_deg": 50, "longitude_deg": None}, "longitude_deg", "come together"),
            ({"time_zone": "Mars/Olympus"}, "time_zone", "Europe/London"),
            ({"circuits": 0}, "circuits", "1"),
            ({"horizon": [{"azimuth_deg": 400, "elevation_deg": 2}]}, "horizon", "360"),
        ],
    )
    def test_a_place_that_cannot_be_is_refused_by_name(self, lit, values, field, words):
        path = f"{lit.path}/rooms/{lit.yard.pk}"
        answer = lit.api.patch(path, {"revision": 1, **values})
        assert answer.status_code == 422
        ((name, sentence),) = answer.json()["fields"].items()
        assert field in name
        assert words in sentence

    def test_a_cue_the_wrong_way_round_is_refused(self, lit):
        path = f"{lit.path}/plates/{lit.plate.pk}"
        cue = {**CUE, "low": 0.9, "high": 0.2}
        answer = lit.api.patch(path, {"revision": 1, "cue": cue})
        assert answer.status_code == 422
        assert "low" in answer.json()["message"]

    def test_a_plan_from_before_has_no_light_and_still_computes(self, lit):
        plan = json.loads(json.dumps(plan_of(lit), default=str))
        for name in STORY:
            if name not in ("key_from_deg", "key_elevation_deg"):
                plan["shot"].pop(name)
        for name in ("white_k", "screen_colour", "swatches", "cue", "heading_deg"):
            plan["plates"][0].pop(name)
        for room in plan["rooms"]:
            for name in ("volts", "circuit_a", "circuits", "time_zone", "horizon"):
                room.pop(name)
        answer = lit.api.post("/calc/shot", plan)
        assert answer.status_code == 200, answer.content


class TestShot:
    def test_the_selected_plate_gets_its_light_and_on_request_a_map(self, lit):
        plan = json.loads(json.dumps(plan_of(lit), default=str))
        plain = lit.api.post("/calc/shot", {**plan, "selected": str(lit.plate.pk)}).json()
        mapped = lit.api.post(
            "/calc/shot", {**plan, "selected": str(lit.plate.pk), "light_map": True}
        ).json()
        light = plain["plates"][0]["light"]
        assert light["lamps"][0]["name"] == "Panel"
        assert plain["plates"][0]["light_map"] is None
        bands = mapped["plates"][0]["light_map"]["bands"]
        assert bands[0]["low_stops"] < bands[-1]["high_stops"]
        assert plain["plates"][0]["study"]["mains"]["watts"] == 90
        assert plain["plates"][0]["shadows"]

    def test_remedies_that_move_lamps_can_be_stored_as_they_come(self, lit):
        plan = json.loads(json.dumps(plan_of(lit), default=str))
        plan["shot"]["key_from_deg"] = -120
        findings = lit.api.post("/calc/shot", plan).json()["plates"][0]["findings"]
        side = next(f for f in findings if f["key"] == "key-side")
        changes = side["remedies"][0]["changes"]
        answer = lit.api.patch(f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, **changes})
        assert answer.status_code == 200, answer.content


class TestLightThisPlate:
    def test_proposals_can_be_stored_as_they_come(self, lit):
        ways = ask(lit, "light-plate").json()
        assert ways
        assert ways[0]["words"][0].startswith("Key: Panel")
        answer = lit.api.patch(
            f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, "lamps": ways[0]["lamps"]}
        )
        assert answer.status_code == 200, answer.content

    def test_without_kit_it_says_what_is_missing(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(lens=None)
        answer = ask(lit, "light-plate")
        assert answer.status_code == 422
        assert "lens" in answer.json()["message"]


class TestCue:
    def test_curves_and_what_lamps_make_of_them(self, lit):
        assert ask(lit, "cues").json()["lamps"] == []
        Plate.objects.filter(pk=lit.plate.pk).update(cue=CUE)
        quick, slow = (ask(lit, "cues", response_s=response).json() for response in (0.0, 0.3))
        (fast,), (lazy,) = quick["lamps"], slow["lamps"]
        assert quick["together"] is None
        assert len(fast["levels"]) == 96
        assert fast["levels"] == lazy["levels"]
        assert max(lazy["shown"]) < max(fast["shown"])
        assert fast["safe"] == (fast["flashes"] <= quick["safe_flashes"])

    def test_several_play_and_a_curve_by_hand_waits_for_its_beat(self, lit):
        keys = [{"at_s": 0, "level": 0}, {"at_s": 0, "level": 1}]
        beat = str(uuid.uuid4())
        drawn = {**CUE, "kind": "drawn", "lamp": 1, "beat_id": beat, "keys": keys}
        lit.shot.beats = [{"id": beat, "name": "Opens", "frame": 49}]
        lit.shot.save()
        patch = {"revision": 1, "cue": CUE, "more_cues": [drawn]}
        answer = lit.api.patch(f"{lit.path}/plates/{lit.plate.pk}", patch)
        assert answer.status_code == 200, answer.content
        assert answer.json()["more_cues"][0]["keys"] == keys
        told = ask(lit, "cues").json()
        assert [x["beat"] for x in told["lamps"]] == ["", "Opens"]
        levels = told["lamps"][1]["levels"]
        assert (levels[47], levels[48]) == (0, 1)
        assert told["together"]["flashes"] >= 0
        path = f"{lit.path}/shots/{lit.shot.pk}/plates/{lit.plate.pk}/cue.csv"
        rows = list(csv.DictReader(io.StringIO(lit.api.get(path).content.decode())))
        columns = [name for name in rows[0] if name.startswith("2_")]
        assert len(columns) == 2
        assert [int(r[columns[1]]) for r in rows] == [round(v * 255) for v in levels]

    def test_keys_out_of_bounds_are_refused_by_name(self, lit):
        cue = {**CUE, "kind": "drawn", "keys": [{"at_s": 0, "level": 1.5}]}
        answer = lit.api.patch(f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, "cue": cue})
        assert answer.status_code == 422
        assert "cue.keys.0.level" in answer.json()["fields"]

    def test_the_stored_cue_leaves_as_a_table(self, lit):
        path = f"{lit.path}/shots/{lit.shot.pk}/plates/{lit.plate.pk}/cue.csv"
        assert lit.api.get(path).status_code == 422
        Plate.objects.filter(pk=lit.plate.pk).update(cue=CUE)
        answer = lit.api.get(path)
        rows = list(csv.DictReader(io.StringIO(answer.content.decode())))
        assert len(rows) == 96
        assert rows[0]["frame"] == "1"
        assert all(0 <= int(r["level_8bit"]) <= 255 for r in rows)
        assert max(float(r["level_percent"]) for r in rows) > 50


class TestSky:
    def test_the_day_the_windows_and_the_night(self, lit):
        answer = ask(lit, "sky", date="2026-06-20", days=30, room_id=str(lit.yard.pk))
        assert answer.status_code == 200, answer.content
        sky = answer.json()
        assert sky["offset_s"] == 3600
        assert sky["looked_for_deg"] == 30.0
        assert len(sky["windows"]["strip"]) == 30
        assert sky["windows"]["found"][0]["heading_deg"] is not None
        assert sky["night"]["advice"]

    @pytest.mark.parametrize(("room", "words"), [(None, "latitude"), ("garage", "latitude")])
    def test_a_place_without_sun_says_what_to_do(self, lit, room, words):
        more = {} if room is None else {"room_id": str(lit.garage.pk)}
        answer = ask(lit, "sky", date="2026-06-20", **more)
        assert answer.status_code == 422
        assert words in answer.json()["message"]

    def test_windows_leave_as_a_calendar(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(room=lit.yard, lamps=[])
        base = f"{lit.path}/shots/{lit.shot.pk}/plates/{lit.plate.pk}/windows.ics"
        answer = lit.api.get(f"{base}?date=2026-06-20&days=10")
        assert answer.status_code == 200, answer.content
        events = Calendar.from_ical(answer.content).walk("VEVENT")
        assert len(events) == 20
        first = events[0]
        start = first["DTSTART"].dt
        assert start.tzinfo is not None
        middle = start + (first["DTEND"].dt - start) / 2
        # The worked-out sun stands where the window says.
        assert sun_position(middle, 52.6, 1.7).elevation_deg == pytest.approx(30.0, abs=0.7)
        assert "Camera to" in first["DESCRIPTION"]
        assert "weather" in first["DESCRIPTION"]
        # In another place the same day is another; a place without sun says so.
        elsewhere = lit.api.get(f"{base}?date=2026-06-20&days=10&room_id={lit.garage.pk}")
        assert elsewhere.status_code == 422
        assert "latitude" in elsewhere.json()["message"]
        assert lit.api.get(f"{base}?date=soon").status_code == 422
        assert lit.api.get(f"{base}?date=9999-12-31&days=400").status_code in (200, 422)


class TestScreens:
    def test_the_made_example_is_a_picture_for_every_mode(self, lit):
        pictures = set()
        for depth, subsampling in ((8, "4:2:0"), (10, "4:2:2"), (10, "4:4:4")):
            answer = lit.api.get(
                f"/calc/recording-example.png?bit_depth={depth}&subsampling={subsampling}"
            )
            picture = Image.open(io.BytesIO(answer.content))
            assert picture.size == (960, 320)
            pictures.add(answer.content)
        assert len(pictures) == 3
        assert lit.api.get("/calc/recording-example.png?subsampling=4:1:1").status_code == 422

    def test_errors_of_the_example(self, lit):
        found = lit.api.get("/calc/recording-errors?modes=8 4:2:0&modes=10 4:4:4").json()
        assert found[0]["error"] > found[1]["error"]
        assert lit.api.get("/calc/recording-errors?modes=fine").status_code == 422

    def test_the_screens_study_comes_with_the_shot(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(
            kind="screen", scale=1, screen_width_m=12, screen_height_m=9, room=None
        )
        plan = json.loads(json.dumps(plan_of(lit), default=str))
        answer = lit.api.post("/calc/shot", {**plan, "selected": str(lit.plate.pk)}).json()
        screen = answer["plates"][0]["study"]["screen"]
        assert screen["recordings"][0]["name"] == "4K"
        assert screen["covered"] + screen["garbage"] == pytest.approx(1.0)

    def test_what_each_backdrop_costs(self, lit):
        found = ask(lit, "backdrops").json()
        assert {b["key"] for b in found} == {"key", "roto", "sky", "snow", "black"}


def test_the_card_carries_lamps_as_they_are_set(lit):
    lamp = {**lit.plate.lamps[0], "gel": "orange-2", "size_m": 0.02}
    second = {**lit.plate.lamps[0], "x_m": -1.0, "y_m": -0.4, "level": 0.2}
    Plate.objects.filter(pk=lit.plate.pk).update(lamps=[lamp, second], white_k=4300)
    lines = issue(lit.owner, Plate.objects.get(pk=lit.plate.pk)).content["lines"]
    told = {x["label"]: x for x in lines}
    assert told["White balance"]["value"] == "4300 K"
    assert "half orange" in told["Panel 1"]["detail"]
    assert "opening in black card" in told["Panel 1"]["detail"]
    assert told["Panel 2"]["value"] == "400 mm behind"
    assert "under" in told["Lights-off pass"]["value"]


def test_a_cue_puts_its_caution_on_the_card_and_on_the_day(lit):
    Plate.objects.filter(pk=lit.plate.pk).update(cue=CUE)
    card = issue(lit.owner, Plate.objects.get(pk=lit.plate.pk)).content
    told = {x["label"]: x for x in card["lines"]}
    assert told["Interactive light"]["value"] == "lightning"
    assert "on Panel" in told["Interactive light"]["detail"]
    assert "Flashing light" in {c["name"] for c in card["cautions"]}
    found = lit.api.get(f"{lit.path}/shots/{lit.shot.pk}/cautions").json()
    assert "strobe" in json.dumps(found)


NUMBERS = st.one_of(
    st.none(), st.booleans(), st.integers(-(10**9), 10**9), st.floats(), st.text(max_size=6)
)
ANY = st.recursive(
    NUMBERS, lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=5), x, max_size=3)
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.sampled_from(["cues", "sky", "light-plate", "backdrops"]),
    st.sampled_from(
        ["plates", "response_s", "steps", "date", "days", "elevation_deg", "room_id", "lamps"]
    ),
    ANY,
)
def test_no_body_brings_it_down(lit, what, field, value):
    plan = json.loads(json.dumps(plan_of(lit), default=str))
    base = {
        "sky": {**plan, "plate_id": str(lit.plate.pk), "date": "2026-06-20"},
    }.get(what, {**plan, "plate_id": str(lit.plate.pk)})
    try:
        body = json.loads(json.dumps({**base, field: value}, allow_nan=False))
    except ValueError:
        return
    answer = lit.api.post(f"/calc/{what}", body)
    assert answer.status_code in (200, 422), answer.content
    if answer.status_code == 422:
        assert answer.json()["message"]


def test_dates_of_the_strip_are_days_of_the_place(lit):
    with written_in(Notation()):
        sky = ask(lit, "sky", date="2026-06-20", days=3, room_id=str(lit.yard.pk)).json()
    assert sky["windows"]["first"] == "2026-06-20"
    assert datetime.date.fromisoformat(sky["day"]["date"]) == datetime.date(2026, 6, 20)
