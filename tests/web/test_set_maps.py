"""Set maps through the API: kept with the sheet, computed, found by tapes, and on paper."""

from __future__ import annotations

import csv
import io

import pytest

from jungoptic.web.frames.models import Sheet
from jungoptic.web.plans.models import StandIn
from tests.conftest import new_id

from .test_frames import HERON, files_of, keep, question

QUAY = {"key": "quay", "name": "Quay", "x_m": 0.3, "y_m": 1.4, "opens": "rolls"}
EDGES = {"left_m": -0.9, "right_m": 0.9, "near_m": 0.8, "far_m": 1.9}
MAP = {**EDGES, "sides": ["left", "far"], "pieces": [QUAY]}


@pytest.fixture
def table(stage):
    """The plate of the stage as an animated one, on a table."""
    stage.plate.kind = "puppet"
    stage.plate.table_m = 0.8
    stage.plate.save()
    return stage


def asked(stage, **sheet):
    return stage.api.post("/calc/set-map", question(stage, **sheet))


def test_a_map_is_kept_with_its_sheet_and_changes_nothing_else_of_it(table):
    keep(table, columns=[HERON])
    kept = keep(table, 1, set_map=MAP).json()
    assert kept["set_map"]["pieces"][0]["width_m"] == 0.3
    assert kept["columns"][0]["name"] == "Heron"
    assert keep(table, 2, columns=[]).json()["set_map"] == kept["set_map"]
    assert keep(table, 3, set_map=None).json()["set_map"] is None


@pytest.mark.parametrize(
    ("wrong", "told"),
    [
        ({"pieces": [QUAY, QUAY]}, "one and the same"),
        ({"pieces": [{**QUAY, "width_m": -1}]}, "width_m"),
        ({"pieces": [{**QUAY, "x_m": "NaN"}]}, "x_m"),
        ({"pieces": [{**QUAY, "opens": "flies"}]}, "opens"),
        ({"pieces": [{**QUAY, "key": f"q-{i}"} for i in range(61)]}, "60"),
        ({"sides": ["above"]}, "sides"),
        ({"left_m": 1e9}, "left_m"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(table, wrong, told):
    answer = keep(table, set_map={**MAP, **wrong})
    assert answer.status_code == 422
    assert told in answer.content.decode()
    assert not Sheet.objects.exists()


def test_what_a_map_comes_to(table):
    answer = asked(table, columns=[HERON], set_map=MAP).json()
    assert answer["edges"] == EDGES
    assert answer["open_sides"] == ["left", "far"]
    rows = {row["key"]: row for row in answer["rows"]}
    assert {"camera", "quay"} <= set(rows)
    assert [p["key"] for p in answer["laid"]] == ["quay"]
    assert {f["key"] for f in answer["findings"]} >= {"set-reach", "set-tapes", "set-fixed"}
    assert answer["arm"]["reach_m"] == 0.65
    assert answer["angles"][0]["plate_id"] == str(table.plate.pk)
    assert {"table", "stand", "piece-rolls"} <= {s["role"] for s in answer["drawing"]["shapes"]}
    # Edges the wrong way round are the same edges.
    turned = {**MAP, "left_m": 0.9, "right_m": -0.9}
    assert asked(table, set_map=turned).json()["edges"] == EDGES


def test_two_tapes_say_where_a_piece_stands(table):
    answer = asked(table, set_map=MAP).json()
    row = next(r for r in answer["rows"] if r["key"] == "quay")
    tapes = {name: row[name] for name in ("from_left_m", "from_right_m")}
    body = {**question(table), **tapes}
    del body["sheet"]
    place = table.api.post("/calc/set-map/place", body).json()
    assert (place["x_m"], place["y_m"]) == pytest.approx((0.3, 1.4), abs=1e-6)
    assert place["error_m"] == pytest.approx(row["error_m"])
    apart = table.api.post("/calc/set-map/place", {**body, "from_left_m": 0.01, "from_right_m": 9})
    assert apart.status_code == 422
    assert "do not meet" in apart.content.decode()


def test_a_stage_without_kit_says_what_to_choose(table):
    table.plate.lens = None
    table.plate.save()
    answer = asked(table, set_map=MAP)
    assert answer.status_code == 422
    assert "Choose a body" in answer.content.decode()
    for kind in ("csv", "pdf"):
        assert table.api.get(f"{files_of(table)}/set-map.{kind}").status_code == 422


def test_the_map_as_a_table_and_on_paper(table):
    keep(table, set_map={**MAP, "pieces": [{**QUAY, "note": "pins under it"}]})
    text = table.api.get(f"{files_of(table)}/set-map.csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(text)))
    assert rows[0]["name"].startswith("Camera")
    quay = next(r for r in rows if r["name"] == "Quay")
    assert (float(quay["right_m"]), quay["words"]) == (0.3, "pins under it")
    page = table.api.get(f"{files_of(table)}/set-map.pdf")
    assert page["Content-Type"] == "application/pdf"
    assert page.content.startswith(b"%PDF")


def test_a_plate_without_a_map_has_one_all_the_same(table):
    assert table.api.get(f"{files_of(table)}/set-map.pdf").content.startswith(b"%PDF")
    answer = asked(table).json()
    assert answer["laid"] == []
    assert answer["edges"]["right_m"] > answer["edges"]["left_m"]


def test_pieces_to_begin_with_are_the_things_of_the_story(table):
    thing = StandIn.objects.create(
        shot=table.shot,
        plate=table.plate,
        name="Boathouse",
        kind="box",
        x_m=1.0,
        y_m=9.0,
        width_m=2.0,
        height_m=2.0,
        depth_m=2.0,
    )
    begin = asked(table).json()["begin_with"]
    assert str(thing.pk) in {p["thing_id"] for p in begin}
    laid = asked(table, set_map={"pieces": begin}).json()["laid"]
    own = next(p for p in laid if p["thing_id"] == str(thing.pk))
    assert own["width_m"] == pytest.approx(2.0 / table.plate.scale)
    # A thing that is gone leaves its piece where it was put.
    begin[0]["thing_id"] = new_id()
    assert asked(table, set_map={"pieces": begin}).json()["laid"][0]["thing_id"] is None


def test_a_copy_of_the_shot_has_its_map_with_its_own_things(table):
    begin = asked(table).json()["begin_with"]
    keep(table, set_map={"pieces": begin or [QUAY]})
    copy = table.api.post(f"{table.path}/board/duplicate", {"ids": [str(table.shot.pk)]})
    assert copy.status_code == 200
    made = Sheet.objects.exclude(plate_id=table.plate.pk).get()
    assert len(made.set_map["pieces"]) == len(begin or [QUAY])
    for one in made.set_map["pieces"]:
        if one["thing_id"]:
            assert StandIn.objects.get(pk=one["thing_id"]).shot_id == made.shot_id
