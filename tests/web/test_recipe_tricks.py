"""Applying a recipe through the API: its trick is set up with its plates, and undone with them."""

from __future__ import annotations

import uuid

import pytest

from jungoptic.core.stage.case import Case
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json

from ..conftest import Stage


@pytest.fixture
def empty(stage: Stage) -> Stage:
    """A shot with nothing in it yet."""
    Plate.objects.filter(shot=stage.shot).delete()
    StandIn.objects.filter(shot=stage.shot).delete()
    Shot.objects.filter(pk=stage.shot.pk).update(camera_height_m=1.3, tilt_deg=-1.0)
    stage.shot.refresh_from_db()
    return stage


def apply(stage: Stage, recipe: str, what: str = "apply", **more):
    path = f"{stage.path}/shots/{stage.shot.pk}/recipes/{what}"
    answer = stage.api.post(path, {"recipe": recipe, **more})
    assert answer.status_code == 200, answer.content
    return answer.json()


def fresh(stage: Stage) -> Shot:
    return Shot.objects.select_related("production").get(pk=stage.shot.pk)


def undo(stage: Stage, applied: dict) -> None:
    path = f"{stage.path}/steps/{applied['step']['id']}/undo"
    assert stage.api.post(path).status_code == 200


def test_a_split_has_its_line_and_its_beats(empty):
    shown = apply(empty, "twin-split", "preview")
    assert "a line between Half A and Half B" in shown["tricks"]
    assert fresh(empty).splits == []
    done = apply(empty, "twin-split")
    assert done["outcome"]["tricks"] == shown["tricks"]
    shot = fresh(empty)
    ids = {p.name: str(p.pk) for p in shot.plates.all()}
    (line,) = shot.splits
    assert (line["first_id"], line["second_id"]) == (ids["Half A"], ids["Half B"])
    assert [b["plate_id"] for b in shot.beats] == [ids["Half A"], ids["Half B"]]
    assert shot.beats[1]["with_id"] == shot.beats[0]["id"]
    again = apply(empty, "twin-split")
    assert again["outcome"]["tricks"] == []
    assert fresh(empty).splits == [line]
    undo(empty, done)
    shot = fresh(empty)
    assert (shot.splits, shot.beats, shot.plates.count(), shot.stand_ins.count()) == ([], [], 0, 0)


def test_a_second_pass_that_comes_later_gets_its_line(empty):
    """The first half alone has nothing to be split from."""
    apply(empty, "twin-split", passes=["a"])
    assert fresh(empty).splits == []
    apply(empty, "twin-split", passes=["a", "b"])
    assert len(fresh(empty).splits) == 1


def test_what_is_removed_and_applied_again_is_there_once(empty):
    apply(empty, "twin-split")
    half = Plate.objects.get(name="Half B")
    assert empty.api.delete(f"{empty.path}/plates/{half.pk}").status_code == 204
    assert StandIn.objects.filter(shot=empty.shot).count() == 1
    apply(empty, "twin-split")
    assert StandIn.objects.filter(shot=empty.shot).count() == 2


def test_a_throw_flies_and_lands_on_its_beat(empty):
    apply(empty, "moving-split")
    shot = fresh(empty)
    throw = shot.splits[0]["throw"]
    assert [b["frame"] for b in shot.beats] == [throw["frame"], throw["frame"] + throw["frames"]]
    core = load(plan_json(shot))
    assert core.splits[0].throw is not None


@pytest.mark.parametrize(
    ("recipe", "plate", "field"),
    [
        ("unseen-hand", "Object with the hand at its edges", "rig"),
        ("wire-rod-rig", "Rig take", "rig"),
        ("picture-insert", "Take with a plain card", "markers"),
        ("small-crowd", "Tiles of the crowd", "crowd"),
        ("flopped-double", "Side B, positions swapped", "flop"),
    ],
)
def test_other_tricks_are_decisions_of_their_plate(empty, recipe, plate, field):
    apply(empty, recipe)
    made = Plate.objects.get(shot=empty.shot, name=plate)
    value = getattr(made, field)
    assert value
    told = empty.api.get(f"{empty.path}/shots/{empty.shot.pk}").json()["plates"]
    assert next(p[field] for p in told if p["id"] == str(made.pk)) == value
    if field in ("rig", "markers"):
        thing = value["thing_id" if field == "rig" else "surface_id"]
        assert StandIn.objects.get(pk=thing).plate_id == made.pk
    # Whatever it decides can be computed.
    core = load(plan_json(fresh(empty)))
    for one in core.plates:
        assert Case.of(core, one) is not None


def test_focus_passes_are_known_as_such(empty):
    apply(empty, "split-focus")
    assert {p.pass_for for p in Plate.objects.filter(shot=empty.shot)} == {"focus"}
    core = load(plan_json(fresh(empty)))
    focus = [Case.of(core, p).stage.focus_m for p in core.plates]
    assert focus[0] != focus[1]
    answer = empty.api.post("/calc/shot", {**plan_json(fresh(empty)), "remedies": False})
    assert answer.json()["unshared"]["focus"] == ["focus_passes", "focus_world_m"]


def test_a_zoom_is_decided_once_and_undone_with_its_plates(empty):
    shown = apply(empty, "zoom-to-life", "preview")
    assert "a zoom of 3 times, made in post" in shown["tricks"]
    assert fresh(empty).move_zoom == 1.0
    done = apply(empty, "zoom-to-life")
    shot = fresh(empty)
    assert shot.move_zoom == 3.0
    assert [p.placed_in_post for p in shot.plates.order_by("position")] == [False, True]
    Shot.objects.filter(pk=shot.pk).update(move_zoom=2.5)
    assert apply(empty, "zoom-to-life")["outcome"]["tricks"] == []
    assert fresh(empty).move_zoom == 2.5
    Shot.objects.filter(pk=shot.pk).update(move_zoom=3.0)
    undo(empty, done)
    assert (fresh(empty).move_zoom, fresh(empty).plates.count()) == (1.0, 0)


def test_in_a_view_it_is_the_views_and_stands_before_its_camera(empty):
    close = str(uuid.UUID(int=5))
    body = {"revision": fresh(empty).revision, "views": [{"id": close, "turned_deg": 90.0}]}
    assert empty.api.patch(f"{empty.path}/shots/{empty.shot.pk}", body).status_code == 200
    apply(empty, "twin-split", view_id=close)
    shot = fresh(empty)
    assert (shot.splits, shot.beats) == ([], [])
    (view,) = shot.views
    assert (len(view["splits"]), len(view["beats"])) == (1, 2)
    apply(empty, "zoom-to-life", view_id=close)
    assert (fresh(empty).move_zoom, fresh(empty).views[0]["move_zoom"]) == (1.0, 3.0)
    # The camera looks to the right of the first one: so that is where they stand.
    assert all(s.x_m > 1.0 and abs(s.y_m) < s.x_m for s in shot.stand_ins.all())
