"""A plan sent once and asked about again: the same answers as the whole plan gets."""

from __future__ import annotations

import copy
import random

import pytest

from jungoptic.web.calc import kept_api
from jungoptic.web.plans.bridge import Plan
from jungoptic.web.plans.models import Shot
from jungoptic.web.plans.stored import plan_json
from tests.conftest import Api


@pytest.fixture
def plan(stage):
    return plan_json(Shot.objects.select_related("production").get(pk=stage.shot.pk))


def ask(stage, **body):
    return stage.api.post("/calc/kept", body)


@pytest.mark.parametrize("seed", range(6))
def test_changes_answer_as_the_whole_plan_does(stage, plan, seed):
    rng = random.Random(seed)
    name = ask(stage, plan=plan).json()["kept"]
    changed = copy.deepcopy(plan)
    changes: dict = {}
    if rng.random() < 0.8:
        thing = changed["stand_ins"][0]
        thing["x_m"], thing["speed_m_s"] = rng.uniform(-3, 3), rng.choice([0.0, 1.2])
        changes["stand_ins"] = [thing]
    if rng.random() < 0.6:
        plate = changed["plates"][0]
        plate["scale"], plate["f_number"] = rng.choice([6, 12, 24]), rng.choice([5.6, 16])
        changes["plates"] = [plate]
    if rng.random() < 0.6:
        changed["shot"]["camera_height_m"] = rng.uniform(0.3, 2.5)
        changes["shot"] = changed["shot"]
    look = {
        "selected": changed["plates"][0]["id"],
        "remedies": False,
        "study": rng.random() < 0.5,
        "at": rng.random(),
    }
    got = ask(stage, kept=name, changes=changes, **look).json()
    want = stage.api.post("/calc/shot", {**changed, **look}).json()
    assert got.pop("kept") == name
    assert want.pop("kept") == ""
    assert got == want


def test_what_is_left_out_is_not_said_otherwise(stage, plan):
    """A drag's answer is a part of the whole one."""
    own = plan["plates"][0]
    twin = {**own, "id": own["id"][:-4] + "0000", "name": "Twin"}
    plan["plates"].append(twin)
    whole = {"selected": own["id"], "remedies": False}
    full = ask(stage, plan=plan, **whole).json()
    part = ask(
        stage, kept=full["kept"], others=False, drawings=False, workings="none", **whole
    ).json()
    assert [p["plate_id"] for p in full["plates"]] == [own["id"], twin["id"]]
    (one,) = part["plates"]
    assert one["elevation"] is one["plan"] is one["study"] is None
    assert one["workings"] == {}
    assert all(finding["workings"] == [] for finding in one["findings"])
    told = full["plates"][0]
    assert [f["sentence"] for f in one["findings"]] == [f["sentence"] for f in told["findings"]]
    same = set(told) - {"elevation", "plan", "workings", "findings", "light_map"}
    assert {k: one[k] for k in same} == {k: told[k] for k in same}
    selected = ask(stage, kept=full["kept"], workings="selected", **whole).json()["plates"]
    assert [any(f["workings"] for f in p["findings"]) for p in selected] == [True, False]


def test_what_is_not_kept_is_asked_for(stage, plan):
    assert ask(stage, kept="unknown").status_code == 412
    assert "send it whole" in ask(stage, kept="unknown").json()["message"]
    name = ask(stage, plan=plan).json()["kept"]
    stranger = {**plan["stand_ins"][0], "id": plan["plates"][0]["id"]}
    assert ask(stage, kept=name, changes={"stand_ins": [stranger]}).status_code == 412
    assert ask(stage, kept=name, changes={"plates": [{"name": "x"}]}).status_code == 422


def test_nobody_asks_of_a_plan_of_others(stage, plan, django_user_model):
    name = ask(stage, plan=plan).json()["kept"]
    other = django_user_model.objects.create_user("stranger", password="quite-some-words-1")
    assert Api(other).post("/calc/kept", {"kept": name}).status_code == 412
    assert ask(stage, kept=name).status_code == 200


def test_a_process_keeps_no_more_than_it_may(stage, plan, monkeypatch):
    monkeypatch.setattr(kept_api, "MOST_PLANS", 3)
    kept = kept_api.Kept()
    names = []
    for number in range(5):
        plan["shot"]["title"] = f"Shot {number}"
        names.append(kept.put(1, Plan.model_validate(plan))[0])
    assert [kept.get(1, name) is not None for name in names] == [False, False, True, True, True]
    monkeypatch.setattr(kept_api, "MOST_CHARACTERS", 1)
    last, _ = kept.put(2, Plan.model_validate(plan))
    assert kept.get(2, last) is not None
    assert kept.get(1, names[-1]) is None
    assert kept.get(1, last) is None
