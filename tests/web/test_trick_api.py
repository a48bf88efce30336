"""Lock-offs, splits, crowds, rigs through the API: kept, computed, on cards, never a 500."""

from __future__ import annotations

import json
import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.core.lockoff.joins import judge_joins
from jungoptic.core.stage.case import Case
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import SetCard, Take

from ..conftest import Stage


@pytest.fixture
def twins(stage: Stage) -> Stage:
    """Two live halves and a clean plate on one lock-off, each with a figure."""
    first = stage.plate
    common = {"kind": "live", "scale": 1.0, "lock_group": "A", "focus_world_m": 3.0}
    Plate.objects.filter(pk=first.pk).update(name="Half A", cut="split", **common)
    first.refresh_from_db()
    kit = {"body": first.body, "mode": first.mode, "lens": first.lens}
    same = {n: getattr(first, n) for n in ("f_number", "iso", "shutter_deg", "drop_m", "table_m")}
    stage.half_b = Plate.objects.create(
        shot=stage.shot, name="Half B", position=2, cut="split", **common, **kit, **same
    )
    stage.clean = Plate.objects.create(
        shot=stage.shot, name="Clean plate", position=3, motion="still", **common, **kit, **same
    )
    StandIn.objects.filter(shot=stage.shot).delete()
    for plate, name, x in ((first, "Anna", -0.8), (stage.half_b, "Beth", 0.8)):
        StandIn.objects.create(
            shot=stage.shot, plate=plate, name=name, kind="figure", x_m=x, y_m=3.0, height_m=1.5
        )
    return stage


def split_of(stage, **more) -> dict:
    return {
        "id": str(uuid.uuid4()),
        "name": "the line",
        "first_id": str(stage.plate.pk),
        "second_id": str(stage.half_b.pk),
        "upright": True,
        "feather_px": 20.0,
        "keys": [{"frame": 1, "points": [[0.5, 0.0], [0.5, 1.0]]}],
        "shine_m": None,
        "throw": None,
        **more,
    }


def shot_path(stage) -> str:
    return f"{stage.path}/shots/{stage.shot.pk}"


def fresh(stage) -> Shot:
    return Shot.objects.select_related("production").get(pk=stage.shot.pk)


def ask(stage, plate, what="tricks", **more):
    plan = json.loads(json.dumps(plan_json(fresh(stage)), default=str))
    return stage.api.post(f"/calc/{what}", {**plan, "plate_id": str(plate.pk), **more})


class TestKept:
    def test_dividers_reframes_and_beats_reach_the_core(self, twins):
        throw = {
            "from_x_m": -0.8, "from_y_m": 3.0, "from_z_m": 1.2,
            "to_x_m": 0.8, "to_y_m": 3.0, "to_z_m": 1.1, "frame": 5, "frames": 12,
        }  # fmt: skip
        beat = {
            "id": str(uuid.uuid4()), "name": "Thrown", "frame": 5, "plate_id": str(twins.plate.pk),
            "with_id": None, "gap": 0, "allowed": 2, "cue": True,
        }  # fmt: skip
        sent = {
            "splits": [split_of(twins, throw=throw, shine_m=0.7)],
            "reframe": {
                "aspects": [{"name": "Upright", "width_px": 1080, "height_px": 1920}],
                "keys": [{"frame": 1, "x": 0.4, "y": 0.5, "closer": 1.2, "shake_px": 3.0}],
                "shake_px": 4.0,
            },
            "beats": [beat],
        }
        answer = twins.api.patch(shot_path(twins), {"revision": 1, **sent})
        assert answer.status_code == 200, answer.content
        whole = twins.api.get(shot_path(twins)).json()["shot"]
        assert {k: whole[k] for k in sent} == sent
        core = load(plan_json(fresh(twins)))
        assert core.splits[0].keys[0].points == ((0.5, 0.0), (0.5, 1.0))
        assert core.splits[0].throw is not None
        assert core.splits[0].throw.frames == 12
        assert core.reframe is not None
        assert core.reframe.keys[0].closer == 1.2
        assert core.beats[0].cue

    def test_rig_crowd_markers_and_ramp_of_a_plate(self, twins):
        sent = {
            "rig": {
                "thing_id": None, "kind": "rod", "weight_kg": 0.3, "diameter_mm": 5.0,
                "rated_kg": 20.0, "colour": "matched", "turns_per_s": 2.0, "shine_m": 0.75,
            },
            "crowd": {
                "people": 6, "wanted": 20, "left_m": -4.0, "right_m": 4.0, "near_m": 8.0,
                "far_m": 12.0, "spacing_m": 0.9, "row_m": 1.5, "ground_m": 0.0, "wardrobe": 2,
                "poses": 2,
            },
            "markers": {
                "surface_id": None, "insert": True, "size_mm": 12.0, "spacing_m": 0.3,
                "colour": [1, 2, 3], "surface": [200, 210, 220],
            },
            "ramp": [{"frame": 10, "speed": 0.5}],
            "flop": True,
            "edge": "hair",
        }  # fmt: skip
        answer = twins.api.patch(f"{twins.path}/plates/{twins.plate.pk}", {"revision": 1, **sent})
        assert answer.status_code == 200, answer.content
        assert {k: answer.json()[k] for k in sent} == sent
        plate = load(plan_json(fresh(twins))).plates[0]
        assert plate.rig is not None
        assert (plate.rig.rated_kg, plate.rig.shine_m) == (20.0, 0.75)
        assert plate.markers is not None
        assert plate.markers.surface == (200, 210, 220)
        assert plate.ramp[0].speed == 0.5

    @pytest.mark.parametrize(
        ("change", "words"),
        [
            ({"keys": [{"frame": 1, "points": [[0.5, 0.0]]}]}, "2"),
            (
                {
                    "keys": [
                        {"frame": 3, "points": [[0.5, 0], [0.5, 1]]},
                        {"frame": 3, "points": [[0.4, 0], [0.4, 1]]},
                    ]
                },
                "move one of them",
            ),
            ({"feather_px": -1}, "0"),
            ({"first_id": "me"}, "first_id"),
            ({"keys": [{"frame": 0, "points": [[0.5, 0], [0.5, 1]]}]}, "1"),
        ],
    )
    def test_a_divider_that_cannot_be_is_refused_in_words(self, twins, change, words):
        body = {"revision": 1, "splits": [split_of(twins, **change)]}
        answer = twins.api.patch(shot_path(twins), body)
        assert answer.status_code == 422
        assert words in json.dumps(answer.json())
        assert fresh(twins).splits == []

    def test_one_plate_on_both_sides_and_an_area_that_is_none(self, twins):
        same = split_of(twins, second_id=str(twins.plate.pk))
        answer = twins.api.patch(shot_path(twins), {"revision": 1, "splits": [same]})
        assert answer.status_code == 422
        assert "choose another" in answer.json()["message"]
        crowd = {"left_m": 3.0, "right_m": 1.0}
        answer = twins.api.patch(
            f"{twins.path}/plates/{twins.plate.pk}", {"revision": 1, "crowd": crowd}
        )
        assert answer.status_code == 422
        assert "make left the smaller" in answer.json()["message"]


class TestComputed:
    def test_tricks_of_a_plate(self, twins):
        twins.api.patch(shot_path(twins), {"revision": 1, "splits": [split_of(twins)]})
        answer = ask(twins, twins.half_b)
        assert answer.status_code == 200, answer.content
        told = answer.json()
        (group,) = told["groups"]
        assert len(group["plate_ids"]) == 3
        assert told["checklist"][0]["what"].startswith("Tripod")
        assert told["clean"]["plate_id"] == str(twins.clean.pk)
        (split,) = told["splits"]
        assert split["side"] == "second"
        assert len(split["marks"]) == 6
        assert "f_number" in told["locked"]

    def test_without_kit_it_says_what_is_missing(self, twins):
        Plate.objects.filter(pk=twins.half_b.pk).update(lens=None)
        answer = ask(twins, twins.half_b)
        assert answer.status_code == 422
        assert "lens" in answer.json()["message"]

    def test_the_report_draws_the_line_and_names_the_lock(self, twins):
        twins.api.patch(shot_path(twins), {"revision": 1, "splits": [split_of(twins)]})
        plan = json.loads(json.dumps(plan_json(fresh(twins)), default=str))
        found = twins.api.post("/calc/shot", plan).json()
        assert "divider" in {m["role"] for m in found["marks"]}
        assert found["locks"][0]["key"] == "A"
        keys = {f["key"] for p in found["plates"] for f in p["findings"]}
        assert {"split", "lock"} <= keys

    def test_a_remedy_can_be_sent_back_as_it_came(self, twins):
        StandIn.objects.filter(name="Beth").update(reach_m=0.7)
        twins.api.patch(shot_path(twins), {"revision": 1, "splits": [split_of(twins)]})
        plan = json.loads(json.dumps(plan_json(fresh(twins)), default=str))
        found = twins.api.post("/calc/shot", plan).json()
        (finding,) = (
            f
            for p in found["plates"]
            for f in p["findings"]
            if f["key"] == "split" and f["verdict"] == "breaks"
        )
        remedy = next(r for r in finding["remedies"] if r["shot"])
        answer = twins.api.patch(shot_path(twins), {"revision": 2, **remedy["shot"]})
        assert answer.status_code == 200, answer.content
        core = load(plan_json(fresh(twins)))
        case = Case.of(core, core.plates[1])
        assert case is not None
        after = {f.key: f for f in judge_joins(case)}["split"]
        assert after.verdict == remedy["verdict"]


class TestFilmed:
    def log(self, stage, plate):
        card = issue(stage.owner, Plate.objects.get(pk=plate.pk))
        Take.objects.create(card=card, number=1, logged_by=stage.owner)
        return card

    def test_a_filmed_plate_says_so_and_a_change_orphans_it(self, twins):
        card = self.log(twins, twins.plate)
        whole = twins.api.get(shot_path(twins)).json()
        filmed = {p["name"]: p["filmed"] for p in whole["plates"]}
        assert filmed["Half A"]["takes"] == 1
        assert filmed["Half A"]["slate"] == card.slate
        assert filmed["Half A"]["values"]["f_number"] == twins.plate.f_number
        assert filmed["Half B"] is None
        for plate in (twins.plate, twins.half_b, twins.clean):
            Plate.objects.filter(pk=plate.pk).update(f_number=22.0)
        core = load(plan_json(fresh(twins)))
        case = Case.of(core, core.plates[0])
        assert case is not None
        finding = {f.key: f for f in judge_joins(case)}["lock"]
        assert finding.verdict == "breaks"
        assert card.slate in finding.sentence
        assert finding.remedies[0].changes["f_number"] == twins.plate.f_number

    def test_verdicts_of_many_shots_cost_no_more_queries(self, twins):
        path = f"{twins.path}/board/verdicts?"
        counts = []
        for _ in range(2):
            ids = Shot.objects.values_list("pk", flat=True)
            with CaptureQueriesContext(connection) as caught:
                answer = twins.api.get(path + "&".join(f"shots={pk}" for pk in ids))
            assert answer.status_code == 200
            counts.append(len(caught))
            twins.api.post(f"{twins.path}/board/duplicate", {"ids": [str(twins.shot.pk)]})
        assert counts[0] == counts[1]

    def test_reading_takes_costs_one_query_for_all_plates(self, twins):
        counts = []
        for _ in range(2):
            with CaptureQueriesContext(
                connection,
            ) as caught:
                twins.api.get(shot_path(twins))
            counts.append(len(caught))
            for plate in (twins.plate, twins.half_b, twins.clean):
                self.log(twins, plate)
        assert counts[0] == counts[1]


def test_a_card_carries_strip_checklist_and_beats(twins):
    beat = {
        "id": str(uuid.uuid4()), "name": "Beth turns", "frame": 25,
        "plate_id": str(twins.half_b.pk), "with_id": None, "gap": 0, "allowed": 1, "cue": True,
    }  # fmt: skip
    twins.api.patch(shot_path(twins), {"revision": 1, "splits": [split_of(twins)], "beats": [beat]})
    issue(twins.owner, Plate.objects.get(pk=twins.half_b.pk))
    card = SetCard.objects.get()
    groups = [line["group"] for line in card.content["lines"]]
    names = [mark["name"] for mark in card.content["marks"]]
    assert sum(name.startswith("Strip, ") for name in names) == 4
    assert "Beth: feet no nearer" in names
    assert "Timing" in groups
    # Each group stands together on the card.
    runs = [g for i, g in enumerate(groups) if i == 0 or groups[i - 1] != g]
    assert len(runs) == len(set(runs))
    assert any("Clean plate of this lock-off" in item for item in card.content["checklist"])
    assert "keepout" in {s["role"] for s in card.content["plan"]["shapes"]}
    pdf = twins.api.get(f"{twins.path}/cards/{card.pk}/pdf")
    assert pdf.status_code == 200
    assert pdf.content.startswith(b"%PDF")
    # The frozen plan still opens, and is judged as the plate it is of.
    assert load(card.plan).plates[0].id == str(twins.half_b.pk)


def test_a_variant_keeps_its_tricks_on_its_own_plates(twins):
    twins.api.patch(shot_path(twins), {"revision": 1, "splits": [split_of(twins)]})
    figure = StandIn.objects.get(name="Anna")
    box = StandIn.objects.create(shot=twins.shot, plate=twins.plate, name="Key", kind="box")
    Plate.objects.filter(pk=twins.plate.pk).update(
        rig={"thing_id": str(box.pk), "kind": "thread", "weight_kg": 0.1}
    )
    answer = twins.api.post(f"{twins.path}/board/duplicate", {"ids": [str(twins.shot.pk)]})
    assert answer.status_code == 200, answer.content
    copy = Shot.objects.exclude(pk=twins.shot.pk).get()
    own = {str(p.pk) for p in copy.plates.all()}
    assert {copy.splits[0]["first_id"], copy.splits[0]["second_id"]} <= own
    rig = copy.plates.get(name="Half A").rig
    assert rig["thing_id"] == str(copy.stand_ins.get(name="Key").pk)
    assert rig["thing_id"] != str(box.pk)
    assert figure.shot_id == twins.shot.pk


ANY = st.recursive(
    st.none() | st.booleans() | st.floats(-1e6, 1e6) | st.text(max_size=8),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(
            st.sampled_from(["id", "keys", "frame", "points", "throw", "kind", "people", "closer"]),
            inner,
            max_size=4,
        )
    ),
    max_leaves=8,
)


@settings(max_examples=40, suppress_health_check=list(HealthCheck))
@given(ANY, st.sampled_from(["splits", "reframe", "beats"]))
def test_whatever_is_sent_for_a_shot_is_answered(twins, value, field):
    answer = twins.api.patch(shot_path(twins), {"revision": 1, field: value})
    assert answer.status_code in (200, 409, 422)


NUMBERS = st.floats(-1.0, 2.0)
LINES = st.lists(
    st.builds(
        lambda frame, points: {"frame": frame, "points": points},
        st.integers(1, 300),
        st.lists(st.tuples(NUMBERS, NUMBERS).map(list), min_size=2, max_size=6),
    ),
    max_size=4,
    unique_by=lambda key: key["frame"],
)


@settings(max_examples=40, suppress_health_check=list(HealthCheck))
@given(
    LINES,
    st.booleans(),
    st.sampled_from(["thread", "rod", "hand", "magnet", "turntable", "sled", "line"]),
    st.integers(1, 20),
    st.floats(0.5, 900),
    st.floats(1, 500),
    st.booleans(),
)
def test_any_tricks_are_answered(twins, keys, upright, kind, people, near, size, flop):
    plan = json.loads(json.dumps(plan_json(fresh(twins)), default=str))
    split = split_of(twins, keys=keys, upright=upright)
    plan["shot"]["splits"] = [split]
    plan["shot"]["reframe"] = {"keys": [{"frame": 1, "x": 0.1, "y": 0.9, "closer": 3.0}]}
    plate = plan["plates"][0]
    plate["rig"] = {"thing_id": plan["stand_ins"][0]["id"], "kind": kind}
    plate["crowd"] = {"people": people, "near_m": near, "far_m": near + 5}
    plate["markers"] = {"size_mm": size}
    plate |= {"tracked": True, "cut": "roto", "flop": flop}
    for what, body in (
        ("shot", {**plan, "selected": plate["id"]}),
        ("tricks", {**plan, "plate_id": plate["id"]}),
    ):
        answer = twins.api.post(f"/calc/{what}", body)
        assert answer.status_code in (200, 422), answer.content
        if answer.status_code == 422:
            assert answer.json()["message"]


def test_splitting_and_merging_a_shot_keep_the_frames_of_its_tricks(twins):
    beats = [
        {"id": str(uuid.uuid4()), "name": name, "frame": frame, "plate_id": None}
        for name, frame in (("early", 10), ("late", 60))
    ]
    keys = [{"frame": f, "points": [[x, 0.0], [x, 1.0]]} for f, x in ((1, 0.4), (60, 0.6))]
    speeds = [{"frame": 10, "speed": 2.0}, {"frame": 60, "speed": 0.25}]
    sent = {
        "splits": [split_of(twins, keys=keys)],
        "beats": beats,
        "story_speed": 0.5,
        "story_speed_keys": speeds,
    }
    assert twins.api.patch(shot_path(twins), {"revision": 1, **sent}).status_code == 200
    shot = fresh(twins)
    half = 48 / shot.playback_fps
    answer = twins.api.post(f"{twins.path}/board/split", {"id": str(shot.pk), "at_s": half})
    assert answer.status_code == 200, answer.content
    second = Shot.objects.exclude(pk=shot.pk).get()
    assert [b["frame"] for b in fresh(twins).beats] == [10]
    assert [b["frame"] for b in second.beats] == [12]
    assert [k["frame"] for k in second.splits[0]["keys"]] == [1, 12]
    # What the first half ended with, the second begins with.
    assert fresh(twins).story_speed_keys == speeds[:1]
    assert [(k["frame"], k["speed"]) for k in second.story_speed_keys] == [(1, 2.0), (12, 0.25)]
    answer = twins.api.post(f"{twins.path}/board/merge", {"ids": [str(shot.pk), str(second.pk)]})
    assert answer.status_code == 200, answer.content
    assert sorted(b["frame"] for b in fresh(twins).beats) == [10, 60]
    assert fresh(twins).story_speed == 0.5
    assert fresh(twins).story_speed_keys == speeds
