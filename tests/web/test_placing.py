"""A plate that is placed in post: its card, its takes, its table, what a drag is told, and what
other doors of the house make of it."""

from __future__ import annotations

import csv
import io
import json

import pytest

from jungoptic.web.plans.models import Plate, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.models import SetCard

from ..conftest import Stage
from .test_views import fresh, shot_path


@pytest.fixture
def pose(stage: Stage) -> Stage:
    """Somebody on the mill's stairs, filmed in a garage."""
    kit = {n: getattr(stage.plate, n) for n in ("body", "mode", "lens")}
    stage.pose = Plate.objects.create(
        shot=stage.shot,
        name="Miller",
        kind="screen",
        position=2,
        ground_m=4.0,
        drop_m=1.0,
        placed_in_post=True,
        placed_from_m=5.0,
        screen_width_m=2.5,
        screen_height_m=2.4,
        **kit,
    )
    StandIn.objects.create(
        shot=stage.shot, plate=stage.pose, name="Miller", kind="figure", x_m=-3, y_m=21, z_m=4.0
    )
    return stage


def table(stage: Stage, plate: Plate):
    return stage.api.client.get(f"/api{shot_path(stage)}/plates/{plate.pk}/in-post.csv")


def asked(stage: Stage, **more) -> dict:
    """The plate's part of the answer to the whole shot."""
    plan = json.loads(json.dumps(plan_json(fresh(stage)), default=str))
    answer = stage.api.post("/calc/shot", {**plan, "selected": str(stage.pose.pk), **more})
    assert answer.status_code == 200, answer.content
    found = answer.json()
    return next(p for p in found["plates"] if p["plate_id"] == str(stage.pose.pk)) | {
        "depths": found["depths"]
    }


def test_its_table_has_every_frame_and_another_plate_none(pose):
    answer = table(pose, pose.pose)
    rows = list(csv.DictReader(io.StringIO(answer.content.decode())))
    assert [int(row["frame"]) for row in rows] == list(range(1, 97))
    # High up and to the left of the middle, and made much smaller than it was recorded.
    assert 0 < float(rows[0]["middle_x_px"]) < 960
    assert 0 < float(rows[0]["middle_y_px"]) < 402
    assert 0 < float(rows[0]["size_percent"]) < 60
    refused = table(pose, pose.plate)
    assert refused.status_code == 422
    assert "not placed in post" in refused.json()["fields"]["plate_id"]


def test_a_drag_is_told_the_picture_and_a_rest_what_post_does(pose):
    rest = asked(pose)
    assert rest["in_post"]["from_m"] == pytest.approx(5.0)
    assert rest["in_post"]["carried"]
    filmed = next(d for d in rest["depths"] if d["filmed_m"] is not None)["filmed_m"]
    assert filmed[0] == pytest.approx(rest["in_post"]["from_m"], abs=0.3)
    drag = asked(pose, workings="none", remedies=False)
    assert drag["in_post"] is None
    assert drag["picture"] == rest["picture"]
    # Looked at as another plate, nothing is filmed elsewhere.
    other = asked(pose, selected=str(pose.plate.pk))
    assert [d["filmed_m"] for d in other["depths"]] == [None] * len(other["depths"])


def test_its_card_says_from_where_and_its_take_is_judged_by_it(pose):
    made = pose.api.post(f"{pose.path}/plates/{pose.pose.pk}/cards", {})
    assert made.status_code == 200, made.content
    card = SetCard.objects.get(pk=made.json()["id"])
    lines = {one["label"]: one for one in card.shown["lines"] if one["group"] == "Placed in post"}
    assert set(lines) == {"Lens to the middle of it", "Looked at", "Framing", "On its mark"}
    assert "from below" in lines["Looked at"]["detail"]
    planned = card.shown["planned"]
    # Sixteen metres nearer than the story has it.
    assert planned["distance_m"] < 5.5
    take = {"distance_m": planned["distance_m"], "axis_height_m": planned["axis_height_m"]}
    logged = pose.api.post(f"{pose.path}/cards/{card.pk}/takes", take)
    assert logged.status_code == 200, logged.content
    page = pose.api.get(f"{pose.path}/takes/{logged.json()['id']}").json()
    assert {f["verdict"] for f in page["report"]["findings"]} == {"holds"}
    high = {**take, "axis_height_m": planned["axis_height_m"] + 0.5}
    spoilt = pose.api.post(f"{pose.path}/cards/{card.pk}/takes", high)
    page = pose.api.get(f"{pose.path}/takes/{spoilt.json()['id']}").json()
    assert "breaks" in {f["verdict"] for f in page["report"]["findings"]}


def test_other_doors_answer_too(pose):
    rows = list(
        csv.DictReader(
            io.StringIO(pose.api.client.get(f"/api{shot_path(pose)}/plates.csv").content.decode())
        )
    )
    column = "placed in post, filmed from (m)"
    assert [row[column] == "" for row in rows] == [True, False]
    own = f"?plate={pose.pose.pk}"
    assert pose.api.client.get(f"/api{shot_path(pose)}/bench.pdf{own}").status_code == 200
    (row,) = pose.api.get(f"{pose.path}/board").json()["rows"]
    assert row["number"] == "1"


@pytest.mark.parametrize("value", [0.0, -1.0, 2e6, "near"])
def test_a_distance_that_cannot_be_is_refused_by_its_name(pose, value):
    body = {"revision": 1, "placed_from_m": value}
    answer = pose.api.patch(f"{pose.path}/plates/{pose.pose.pk}", body)
    assert answer.status_code == 422
    assert "placed_from_m" in answer.json()["fields"]
