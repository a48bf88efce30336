"""The kit through the API: made, changed, removed, and what that does to plates."""

from __future__ import annotations

import pytest

from jungoptic.web.journal.models import Entry
from jungoptic.web.kit.models import Body, Lens, Mode
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.stored import plan_json
from tests.conftest import new_id

from .test_permissions import BODY, LENS, MODE


def test_a_body_with_its_modes(stage):
    body = stage.api.post(f"{stage.path}/bodies", {**BODY, "id": new_id()}).json()
    mode = stage.api.post(f"{stage.path}/bodies/{body['id']}/modes", MODE).json()
    kit = stage.api.get(f"{stage.path}/kit").json()
    (mine,) = [b for b in kit["bodies"] if b["id"] == body["id"]]
    assert [m["id"] for m in mine["modes"]] == [mode["id"]]
    assert mode["subsampling"] == "4:2:0"


def test_long_gop_is_what_the_mode_says_and_not_read_out_of_a_name(stage):
    told = {**MODE, "codec": "no-gop intra"}
    body = stage.api.post(f"{stage.path}/bodies", BODY).json()
    for long_gop in (False, True):
        answer = stage.api.post(
            f"{stage.path}/bodies/{body['id']}/modes", {**told, "long_gop": long_gop}
        )
        assert answer.status_code == 200
        plan = load(plan_json(stage.shot))
        (mine,) = [b for b in plan.kit.bodies if b.id == body["id"]]
        assert mine.modes[-1].long_gop is long_gop


def test_lenses_come_shortest_first(stage):
    for focal in (85, 20, 50):
        stage.api.post(
            f"{stage.path}/lenses", {**LENS, "focal_min_mm": focal, "focal_max_mm": focal}
        )
    kit = stage.api.get(f"{stage.path}/kit").json()
    assert [x["focal_min_mm"] for x in kit["lenses"]] == [20, 28, 50, 85]


def test_a_removed_lens_leaves_its_plates_asking(stage):
    answer = stage.api.delete(f"{stage.path}/lenses/{stage.plate.lens_id}")
    assert answer.status_code == 204
    whole = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}").json()
    assert whole["plates"][0]["lens_id"] is None
    assert Entry.objects.filter(kind="lens", action="removed").exists()


def test_removing_twice_is_no_error(stage):
    path = f"{stage.path}/lenses/{stage.plate.lens_id}"
    assert [stage.api.delete(path).status_code for _ in range(2)] == [204, 204]


def test_a_removed_body_takes_its_modes_along(stage):
    stage.api.delete(f"{stage.path}/bodies/{stage.plate.body_id}")
    assert Mode.objects.count() == 0
    stage.plate.refresh_from_db()
    assert (stage.plate.body_id, stage.plate.mode_id) == (None, None)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"min_fps": 100}, "max_fps"),
        ({"min_iso": 10_000}, "max_iso"),
        ({"subsampling": "4:1:1"}, "subsampling"),
        ({"bit_depth": 4}, "bit_depth"),
        ({"width_px": 0}, "width_px"),
    ],
)
def test_a_mode_that_cannot_be(stage, changes, field):
    answer = stage.api.patch(
        f"{stage.path}/modes/{stage.plate.mode_id}", {"revision": 1, **changes}
    )
    assert answer.status_code == 422
    assert field in answer.json()["fields"]
    assert Mode.objects.get(pk=stage.plate.mode_id).revision == 1


def test_unknown_lengths_may_be_said_and_unsaid(stage):
    path = f"{stage.path}/lenses/{stage.plate.lens_id}"
    said = stage.api.patch(path, {"revision": 1, "length_mm": 72, "pupil_from_mount_mm": 40})
    assert said.json()["length_mm"] == 72
    unsaid = stage.api.patch(path, {"revision": 2, "length_mm": None})
    assert unsaid.json()["length_mm"] is None
    assert Lens.objects.get(pk=stage.plate.lens_id).pupil_from_mount_mm == 40


def test_a_mode_of_another_productions_body(stage, stranger_stage):
    path = f"{stage.path}/bodies/{stranger_stage.plate.body_id}/modes"
    assert stage.api.post(path, MODE).status_code == 404
    assert Body.objects.get(pk=stranger_stage.plate.body_id).modes.count() == 1


def test_stale_kit_edits_show_what_is_there(stage):
    path = f"{stage.path}/bodies/{stage.plate.body_id}"
    stage.api.patch(path, {"revision": 1, "axis_height_mm": 90})
    answer = stage.api.patch(path, {"revision": 1, "axis_height_mm": 80})
    assert answer.status_code == 409
    assert answer.json()["current"]["axis_height_mm"] == 90
    assert answer.json()["current"]["modes"]


def test_renaming_a_production(stage):
    renamed = stage.api.patch(stage.path, {"revision": 1, "name": "The tide"})
    assert renamed.json()["name"] == "The tide"
    stale = stage.api.patch(stage.path, {"revision": 1, "name": "The ebb"})
    assert stale.status_code == 409
    assert stale.json()["current"]["name"] == "The tide"


def test_a_shot_removed_takes_its_plates_along(stage):
    stage.api.delete(f"{stage.path}/shots/{stage.shot.pk}")
    assert stage.api.get(f"{stage.path}/shots").json()["count"] == 0


def test_what_the_api_says_of_itself(stage):
    described = stage.api.get("/openapi.json").json()
    assert described["info"]["title"] == "Jungoptic"
    assert "ShotAnswer" in described["components"]["schemas"]
