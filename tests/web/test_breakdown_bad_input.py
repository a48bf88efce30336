"""Whatever is sent to the breakdown: a clear refusal, nothing changed, never a server error."""

from __future__ import annotations

import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.web.plans.models import Plate, Shot, StandIn
from tests.conftest import Stage

#: Values of every wrong kind.
ODD = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**20), 10**20),
    st.floats(allow_nan=False, allow_infinity=False),
    st.text(max_size=30),
    st.lists(st.integers(), max_size=3),
    st.dictionaries(st.text(max_size=5), st.integers(), max_size=2),
)
NAMES = """
    ids before id at_s place time_of_day film_on recipe passes things name effect phase
    hours plate_id shows camera people owned realism seen_again kind note places shot_ids
    shot_id excuse layer points distance_m height_m title revision
"""
FIELDS = st.sampled_from(NAMES.split())
POSTS = (
    "/board/order",
    "/board/remove",
    "/board/duplicate",
    "/board/split",
    "/board/merge",
    "/board/set",
    "/shots/{shot}/recipes/preview",
    "/shots/{shot}/recipes/apply",
    "/shots/{shot}/recipes/save",
    "/shots/{shot}/advice",
    "/shots/{shot}/hours",
    "/shots/{shot}/cautions/lamps/read",
    "/threads",
    "/shots/{shot}/sketches/frame",
)


def state() -> str:
    """Everything planned, as text."""
    rows = [
        list(model.objects.order_by("pk").values_list("pk", "revision"))
        for model in (Shot, Plate, StandIn)
    ]
    return json.dumps(rows, default=str)


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(body=st.dictionaries(FIELDS, ODD, max_size=5))
@pytest.mark.parametrize("path", POSTS)
def test_odd_bodies_are_refused_and_change_nothing(stage: Stage, path, body):
    before = state()
    answer = stage.api.post(stage.path + path.format(shot=stage.shot.pk), body)
    assert answer.status_code in {200, 404, 422}, (path, body, answer.content[:300])
    told = answer.json()
    if answer.status_code != 200:
        assert told["message"]
        assert state() == before


@pytest.mark.parametrize(
    "raw",
    [b"", b"{", b"[]", b'"x"', b"\xff\xfe", b'{"ids": [1, 2', b"null", b"1e999", b"[" * 200_000],
)
@pytest.mark.parametrize("path", ["/board/order", "/shots/{shot}/advice", "/threads"])
def test_what_is_no_json_is_refused(stage: Stage, path, raw):
    address = f"/api{stage.path}{path.format(shot=stage.shot.pk)}"
    answer = stage.api.client.post(address, raw, content_type="application/json")
    assert answer.status_code in {400, 422}, answer.content
    assert answer.json()["message"]


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("key_from_deg", 400, "360 or less"),
        ("camera_bearing_deg", "north", "must be a number"),
        ("key_elevation_deg", -91, "-90 or more"),
        ("light_note", "x" * 301, "300 characters or fewer"),
        ("edit_name", "x" * 121, "120 characters or fewer"),
        ("facts", {"shows": ["performer"], "people": -1}, "1 or more"),
        ("facts", {"nonsense": 1}, "is not a field"),
        ("facts", "performer", ""),
    ],
)
def test_new_fields_of_a_shot_are_checked(stage: Stage, field, value, words):
    answer = stage.api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, field: value})
    assert answer.status_code == 422
    assert words in answer.json()["message"]
    assert any(name.startswith(field) for name in answer.json()["fields"])


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("cut", "scissors", "must be one of"),
        ("shapes", 0, "1 or more"),
        ("key_every", 241, "240 or less"),
        ("keying", "often", "must be one of"),
        ("paint_share", 1.1, "1 or less"),
        ("takes_planned", 2.5, "whole number"),
        ("hold", 0, "1 or more"),
        ("film_on", "2026-02-30", ""),
        ("film_on", "soon", ""),
        ("lock_group", "x" * 21, "20 characters or fewer"),
        ("why", "x" * 401, "400 characters or fewer"),
        ("kind", "hologram", "must be one of"),
        ("recipe_hazards", [], "is not a field"),
    ],
)
def test_new_fields_of_a_plate_are_checked(stage: Stage, field, value, words):
    answer = stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, field: value})
    assert answer.status_code == 422, answer.content
    assert words in answer.json()["message"]
    stage.plate.refresh_from_db()
    assert stage.plate.revision == 1


def test_new_fields_are_kept_and_given_back(stage: Stage):
    values = {
        "cut": "roto",
        "shapes": 3,
        "key_every": 2,
        "keying": "nth",
        "paint_share": 0.25,
        "tracked": True,
        "takes_planned": 7,
        "film_on": "2026-12-05",
        "lock_group": "B",
        "why": "Because.",
        "required": False,
        "kind": "puppet",
        "hold": 2,
    }
    path = f"{stage.path}/plates/{stage.plate.pk}"
    saved = stage.api.patch(path, {"revision": 1, **values}).json()
    again = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}").json()["plates"][0]
    for name, value in values.items():
        assert saved[name] == value, name
        assert again[name] == value, name


@pytest.mark.parametrize(
    "name", ["../../etc/passwd", "a\x00b.csv", "x" * 300 + ".csv", "", "é.csv"]
)
def test_odd_file_names_do_no_harm(stage: Stage, name):
    from django.core.files.uploadedfile import SimpleUploadedFile

    file = SimpleUploadedFile(name or "x", b"number,title\n7,Seven\n")
    mapping = json.dumps({"number": "number", "title": "title"})
    answer = stage.api.client.post(
        f"/api{stage.path}/import/table/apply", {"file": file, "mapping": mapping}
    )
    assert answer.status_code in {200, 422}, answer.content
    if answer.status_code == 200:
        assert len(answer.json()["step"]["label"]) <= 120
