"""Bad input: a clear message naming the field, nothing changed, never a 500."""

from __future__ import annotations

import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.web.naming import in_words
from tests.conftest import Api, new_id

BAD_NUMBERS = ["letters", "", None, [], {}, 0, -1, 1e308, float("nan"), float("inf"), "1e5x"]


@pytest.mark.parametrize("value", BAD_NUMBERS, ids=repr)
@pytest.mark.parametrize(
    ("kind", "field"), [("plates", "scale"), ("plates", "f_number"), ("shots", "focal_mm")]
)
def test_bad_numbers_are_refused_by_name(kind, field, value, stage):
    record = stage.plate if kind == "plates" else stage.shot
    before = getattr(record, field)
    # Python's own JSON writes NaN and Infinity bare, as some clients do.
    body = json.dumps({"revision": 1, field: value})
    answer = stage.api.client.patch(
        f"/api{stage.path}/{kind}/{record.pk}", body, content_type="application/json"
    )
    assert answer.status_code == 422, answer.content
    assert field in answer.json()["fields"]
    # In a sentence by what a person calls it.
    assert answer.json()["message"].lower().startswith(f"{in_words(field)[0]} ")
    record.refresh_from_db()
    assert (getattr(record, field), record.revision) == (before, 1)


@pytest.mark.parametrize(
    ("field", "words", "unit"),
    [
        ("shutter_deg", "shutter", "°"),
        ("speed_m_s", "speed", " m/s"),
        ("capture_fps", "capture rate", " fps"),
        ("focal_mm", "focal length", " mm"),
        ("f_number", "stop", ""),
        ("room_id", "room", ""),
        ("screen_gap_m", "screen gap", " m"),
    ],
)
def test_fields_are_called_as_people_call_them(field, words, unit):
    assert in_words(field) == (words, unit)


def test_a_name_of_ten_thousand_characters(stage):
    answer = stage.api.patch(
        f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "name": "x" * 10_000}
    )
    assert answer.status_code == 422
    assert "120 characters" in answer.json()["fields"]["name"]


def test_an_empty_name(stage):
    answer = stage.api.post("/productions", {"name": "   "})
    assert answer.status_code == 422
    assert "must not be empty" in answer.json()["fields"]["name"]


def test_a_null_byte(stage):
    answer = stage.api.patch(
        f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "note": "a\0b"}
    )
    assert answer.status_code == 422


def test_unknown_fields_are_named(stage):
    answer = stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "colour": 1})
    assert answer.status_code == 422
    assert "colour" in answer.json()["fields"]


@pytest.mark.parametrize("path", ["/shots/{}", "/cards/{}", "/takes/{}", "/cards/{}/pdf"])
def test_unknown_ids(path, stage):
    answer = stage.api.get(stage.path + path.format(new_id()))
    assert answer.status_code == 404
    assert answer.json()["message"]


def test_unknown_production_and_address(stage):
    assert stage.api.get(f"/productions/{new_id()}").status_code == 404
    assert stage.api.get("/nowhere").status_code == 404
    assert stage.api.get(f"{stage.path}/shots/not-an-id").status_code == 404


def test_another_productions_ids(stage, stranger_stage):
    theirs = stranger_stage
    for path in (f"/shots/{theirs.shot.pk}", f"/shots/{theirs.shot.pk}/cards"):
        assert stage.api.get(stage.path + path).status_code in {200, 404}
    assert stage.api.get(f"{stage.path}/shots/{theirs.shot.pk}").status_code == 404
    assert stage.api.get(f"{stage.path}/shots/{theirs.shot.pk}/cards").json() == []
    own = f"{stage.path}/plates/{stage.plate.pk}"
    for field in ("lens_id", "body_id", "mode_id"):
        value = str(getattr(theirs.plate, field))
        answer = stage.api.patch(own, {"revision": 1, field: value})
        assert answer.status_code == 422
        assert field in answer.json()["fields"]
    answer = stage.api.patch(
        f"{stage.path}/stand-ins/{stage.stand_in.pk}",
        {"revision": 1, "plate_id": str(theirs.plate.pk)},
    )
    assert answer.status_code == 422
    edited = stage.api.patch(f"{stage.path}/plates/{theirs.plate.pk}", {"revision": 1, "note": "x"})
    assert edited.status_code == 404


def test_an_expired_session_says_so(stage):
    stage.api.client.session.flush()
    answer = stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "note": "x"})
    assert answer.status_code == 401
    assert "kept" in answer.json()["message"]


def test_an_oversize_body(stage):
    answer = stage.api.patch(
        f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "note": "x" * 2_000_000}
    )
    assert answer.status_code == 413
    assert "1,000 kB" in answer.json()["message"]


@pytest.mark.parametrize("raw", ["{", "[]", '"text"', "null", "\xff\xfe"])
def test_bodies_that_are_not_what_is_asked(raw, stage):
    answer = stage.api.client.patch(
        f"/api{stage.path}/plates/{stage.plate.pk}",
        raw.encode("latin-1"),
        content_type="application/json",
    )
    assert answer.status_code in {400, 422}
    assert answer.json()["message"]


def test_ranges_upside_down(stage):
    lens = f"{stage.path}/lenses/{stage.plate.lens_id}"
    answer = stage.api.patch(lens, {"revision": 1, "focal_min_mm": 200})
    assert answer.status_code == 422
    assert "upside down" in answer.json()["fields"]["focal_max_mm"]


def test_edits_need_the_csrf_token(stage):
    from django.test import Client

    client = Client(enforce_csrf_checks=True)
    client.force_login(stage.owner)
    answer = client.patch(
        f"/api{stage.path}/plates/{stage.plate.pk}",
        {"revision": 1, "note": "x"},
        content_type="application/json",
    )
    assert answer.status_code == 403
    assert answer.json()["message"]


numbers = st.one_of(
    st.floats(allow_nan=True, allow_infinity=True),
    st.integers(-(10**12), 10**12),
    st.sampled_from(["", "abc", "1e400", None, True, [], {}]),
)


@settings(
    max_examples=120,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
@given(
    shot=st.dictionaries(
        st.sampled_from(
            [
                "focal_mm",
                "tilt_deg",
                "pan_deg",
                "camera_height_m",
                "sensor_width_mm",
                "delivery_width_px",
                "delivery_height_px",
                "playback_fps",
            ]
        ),
        numbers,
        max_size=3,
    ),
    plate=st.dictionaries(
        st.sampled_from(
            [
                "scale",
                "f_number",
                "focus_world_m",
                "focus_passes",
                "capture_fps",
                "shutter_deg",
                "axis_height_m",
                "drop_m",
                "tilt_deg",
                "setback_m",
                "light_lux",
                "screen_width_m",
                "screen_gap_m",
                "nd_stops",
                "iso",
            ]
        ),
        numbers,
        max_size=4,
    ),
    stand_in=st.dictionaries(
        st.sampled_from(["x_m", "y_m", "z_m", "width_m", "height_m", "depth_m", "heading_deg"]),
        numbers,
        max_size=3,
    ),
)
def test_the_calculator_never_stumbles(shot, plate, stand_in, stage):
    from jungoptic.web.plans.stored import plan_json

    plan = plan_json(stage.shot)
    plan["shot"].update(shot)
    plan["plates"][0].update(plate)
    plan["plates"][0]["kind"] = "screen"
    plan["stand_ins"][0].update(stand_in)
    body = json.dumps(plan, default=str)
    answer = stage.api.client.post("/api/calc/shot", body, content_type="application/json")
    assert answer.status_code in {200, 422}, answer.content
    parsed = json.loads(answer.content, parse_constant=lambda word: pytest.fail(word))
    assert parsed.get("plates") or parsed["message"]


def test_reading_needs_no_write(db):
    assert Api().get("/health").json() == {"ok": True}
