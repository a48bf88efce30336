"""Lock-offs of the production: named once, shared by shots, told on both sides, counted once."""

from __future__ import annotations

import importlib
import uuid

import pytest
from django.apps import apps

from jungoptic.core.plan import in_view
from jungoptic.core.report.judged import judged
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.lockoffs import free_name
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take

from ..conftest import Api, Stage, make_kit, make_person
from .test_breakdown import apply, row, undo
from .test_views import view

SAME = ("body_id", "mode_id", "lens_id", "f_number", "iso", "shutter_deg", "drop_m", "table_m")


def make_shot(stage: Stage, number: str, position: float, production=None) -> Shot:
    return Shot.objects.create(
        production=production or stage.production,
        number=number,
        title=f"Shot {number}",
        delivery_width_px=1920,
        delivery_height_px=804,
        playback_fps=24,
        position=position,
    )


@pytest.fixture
def pair(stage: Stage) -> Stage:
    """A live plate of shot 1 and one of shot 2, filmed from one set-up."""
    common = {"kind": "live", "scale": 1.0, "lock_group": "hall", "focus_world_m": 3.0}
    Plate.objects.filter(pk=stage.plate.pk).update(name="Walk", **common)
    stage.plate.refresh_from_db()
    stage.other = make_shot(stage, "2", 2)
    # The same camera in the story.
    for name in ("camera_height_m", "tilt_deg", "focal_mm", "sensor_width_mm"):
        setattr(stage.other, name, getattr(stage.shot, name))
    stage.other.save()
    same = {name: getattr(stage.plate, name) for name in SAME}
    stage.second = Plate.objects.create(
        shot=stage.other, name="Empty", position=1, motion="still", **common, **same
    )
    return stage


def whole(stage: Stage, shot: Shot) -> dict:
    answer = stage.api.get(f"{stage.path}/shots/{shot.pk}")
    assert answer.status_code == 200, answer.content
    return answer.json()


def lock(shot: Shot, plate: Plate):
    """What is said of a plate's lock-off, of the shot as it is stored; None: nothing."""
    plan = load(plan_json(Shot.objects.get(pk=shot.pk)))
    own = next(p for p in plan.plates if p.id == str(plate.pk))
    found = judged(in_view(plan, own.view_id), own).findings
    return next((f for f in found if f.key == "lock"), None)


class TestTold:
    def test_a_shot_is_told_of_what_another_films_from_its_set_up(self, pair):
        (told,) = whole(pair, pair.shot)["beside"]
        assert told["shot"] == "shot 2"
        assert told["plate"]["name"] == "Empty"
        assert not told["here"]
        assert told["numbers"]["axis_height_m"] > 0
        assert lock(pair.shot, pair.plate).sentence == "Shared with Empty of shot 2."
        assert lock(pair.other, pair.second).sentence == "Shared with Walk of shot 1."

    def test_a_departure_is_told_on_both_sides_and_on_the_board(self, pair):
        before = verdict_of(pair, pair.shot)
        Plate.objects.filter(pk=pair.second.pk).update(iso=400)
        here, there = lock(pair.shot, pair.plate), lock(pair.other, pair.second)
        assert here.verdict == there.verdict == "breaks"
        assert here.sentence.startswith("ISO is 800, where Empty of shot 2 has 400.")
        assert there.sentence.startswith("ISO is 400, where Walk of shot 1 has 800.")
        assert before["title"] != "Lock-off"
        assert verdict_of(pair, pair.shot)["sentence"] == here.sentence

    def test_what_the_client_sends_back_is_judged_alike(self, pair):
        Plate.objects.filter(pk=pair.second.pk).update(f_number=11)
        plan = plan_json(Shot.objects.get(pk=pair.shot.pk))
        plan["beside"] = whole(pair, pair.shot)["beside"]
        answer = pair.api.post("/calc/shot", plan).json()
        found = next(f for f in answer["plates"][0]["findings"] if f["key"] == "lock")
        assert "Empty of shot 2 has f/11" in found["sentence"]
        assert answer["locks"][0]["beside"] == ["Empty of shot 2"]

    def test_another_production_s_lock_off_of_that_name_is_its_own(self, pair):
        stranger = Api(make_person("stranger"))
        made = stranger.post("/productions", {"name": "Other"})
        assert made.status_code == 200, made.content
        from jungoptic.web.productions.models import Production

        theirs = Production.objects.get(pk=made.json()["id"])
        shot = make_shot(pair, "9", 1, theirs)
        Plate.objects.create(shot=shot, name="Spy", kind="live", lock_group="hall", position=1)
        assert [b["plate"]["name"] for b in whole(pair, pair.shot)["beside"]] == ["Empty"]
        listed = pair.api.get(f"{pair.path}/lockoffs").json()
        assert "Spy" not in str(listed)
        refused = stranger.post(f"{pair.path}/lockoffs/rename", {"name": "hall", "to": "x"})
        assert refused.status_code == 404

    def test_a_removed_shot_is_told_of_no_more(self, pair):
        pair.api.delete(f"{pair.path}/shots/{pair.other.pk}")
        assert whole(pair, pair.shot)["beside"] == []
        undo(pair)
        assert len(whole(pair, pair.shot)["beside"]) == 1

    def test_views_of_one_shot_share_too(self, pair):
        pair.api.patch(f"{pair.path}/shots/{pair.shot.pk}", {"revision": 1, "views": [view()]})
        Plate.objects.filter(pk=pair.second.pk).update(
            shot=pair.shot, view_id=uuid.UUID(view()["id"]), iso=400
        )
        assert [b["shot"] for b in whole(pair, pair.shot)["beside"]] == [
            "the first camera",
            "Close-up",
        ]
        assert "Empty of Close-up has 400" in lock(pair.shot, pair.plate).sentence
        assert "Walk of the first camera has 800" in lock(pair.shot, pair.second).sentence

    def test_a_card_keeps_what_its_plate_is_filmed_beside(self, pair):
        card = issue(pair.owner, pair.plate)
        assert [b["shot"] for b in card.plan["beside"]] == ["shot 2"]
        Plate.objects.filter(pk=pair.plate.pk).update(lock_group="")
        pair.plate.refresh_from_db()
        assert issue(pair.owner, pair.plate).plan["beside"] == []


def verdict_of(stage: Stage, shot: Shot) -> dict:
    """What the Board says is worst of a shot."""
    (found,) = stage.api.get(f"{stage.path}/board/verdicts?shots={shot.pk}").json()
    return found


class TestNames:
    def test_recipes_begin_lock_offs_of_their_own(self, stage):
        shots = [make_shot(stage, number, n) for n, number in enumerate(("2", "3"), start=2)]
        for shot in shots:
            apply(stage, shot, "twin-split")
        named = [set(s.plates.values_list("lock_group", flat=True)) for s in shots]
        assert named == [{"2-A"}, {"3-A"}]
        # A name that somebody has taken already is left to them.
        Plate.objects.filter(pk=stage.plate.pk).update(lock_group="4-A")
        fourth = make_shot(stage, "4", 4)
        apply(stage, fourth, "twin-split", passes=["a", "b"])
        assert set(fourth.plates.values_list("lock_group", flat=True)) == {"4-A2"}
        # What is applied again goes where its plates are, whatever that is called by now.
        Plate.objects.filter(shot=fourth).update(lock_group="stairs")
        done = apply(stage, fourth, "twin-split", passes=["a", "b", "clean"])
        assert set(fourth.plates.values_list("lock_group", flat=True)) == {"stairs"}
        assert done["outcome"]["changes"] == []

    def test_a_recipe_of_one_s_own_keeps_letters_and_no_names(self, pair):
        made = pair.api.post(
            f"{pair.path}/shots/{pair.shot.pk}/recipes/save",
            {"name": "Mine", "effect": "As here."},
        )
        assert made.status_code == 200, made.content
        third = make_shot(pair, "3", 3)
        apply(pair, third, made.json()["key"])
        assert set(third.plates.values_list("lock_group", flat=True)) == {"3-A"}

    def test_a_variant_is_another_set_up_a_second_half_the_same(self, pair):
        pair.api.post(f"{pair.path}/board/duplicate", {"ids": [str(pair.shot.pk)]})
        copy = Shot.objects.get(variant_of=pair.shot)
        assert copy.plates.get(name="Walk").lock_group == f"{copy.number}-hall"
        pair.api.post(f"{pair.path}/board/split", {"id": str(pair.shot.pk), "at_s": 2.0})
        half = Shot.objects.get(number="1b", variant_of=None) if copy.number != "1b" else None
        half = half or Shot.objects.exclude(pk__in=[pair.shot.pk, copy.pk, pair.other.pk]).get()
        assert half.plates.get(name="Walk").lock_group == "hall"

    def test_shots_that_are_merged_keep_their_set_ups(self, pair):
        ids = [str(pair.shot.pk), str(pair.other.pk)]
        assert pair.api.post(f"{pair.path}/board/merge", {"ids": ids}).status_code == 200
        merged = Shot.objects.get(production=pair.production)
        assert set(merged.plates.values_list("lock_group", flat=True)) == {"hall"}

    def test_a_lock_off_is_renamed_in_every_shot_and_undone(self, pair):
        path = f"{pair.path}/lockoffs/rename"
        answer = pair.api.post(path, {"name": "hall", "to": "The hall"})
        (told,) = answer.json()
        assert told["name"] == "The hall"
        assert [s["number"] for s in told["shots"]] == ["1", "2"]
        assert set(Plate.objects.values_list("lock_group", flat=True)) == {"The hall"}
        undo(pair)
        assert set(Plate.objects.values_list("lock_group", flat=True)) == {"hall"}

    @pytest.mark.parametrize(
        ("body", "field", "why"),
        [
            ({"name": "hall", "to": "stairs"}, "to", "Another lock-off"),
            ({"name": "attic", "to": "roof"}, "name", "no lock-off of that name"),
            ({"name": "hall", "to": " "}, "to", ""),
            ({"name": "hall", "to": "x" * 21}, "to", ""),
        ],
    )
    def test_a_name_that_cannot_be_is_refused(self, pair, body, field, why):
        taken = {"shot": pair.other, "name": "Other", "kind": "live", "position": 2}
        Plate.objects.create(**taken, lock_group="stairs")
        answer = pair.api.post(f"{pair.path}/lockoffs/rename", body)
        assert answer.status_code == 422
        assert why in answer.json()["fields"][field]
        assert Plate.objects.filter(lock_group="hall").count() == 2

    def test_names_are_never_too_long_and_always_free(self):
        taken: set[str] = set()
        for number in ("3", "x" * 20, "10B"):
            for _ in range(12):
                name = free_name(taken, number, "A")
                assert len(name) <= 20
                assert name not in taken
                taken.add(name)
        assert {"3-A", "3-A2", "10B-A"} <= taken

    def test_equal_letters_of_different_shots_become_different_lock_offs(self, pair):
        # As stored before: every shot had its own "A".
        Plate.objects.filter(pk__in=[pair.plate.pk, pair.second.pk]).update(lock_group="A")
        third = make_shot(pair, "3", 3)
        kept = Plate.objects.create(
            shot=third, name="Lone", kind="live", lock_group="B", position=1
        )
        migration = importlib.import_module(
            "jungoptic.web.plans.migrations.0018_lockoffs_of_the_production"
        )
        migration.told_apart(apps, None)
        for plate, name in ((pair.plate, "1-A"), (pair.second, "2-A"), (kept, "B")):
            plate.refresh_from_db()
            assert plate.lock_group == name


class TestCounted:
    def test_a_set_up_is_counted_once_in_the_production(self, pair):
        def hours() -> dict:
            return pair.api.get(f"{pair.path}/hours").json()["whole"]["set"]

        shared = hours()
        Plate.objects.filter(pk=pair.second.pk).update(lock_group="")
        alone = hours()
        assert shared["likely"] < alone["likely"]
        Plate.objects.filter(pk=pair.second.pk).update(lock_group="hall")
        path = f"{pair.path}/shots/{{}}/effort"
        first = pair.api.get(path.format(pair.shot.pk)).json()["parts"][0]
        second = pair.api.get(path.format(pair.other.pk)).json()["parts"][0]
        assert first["stands_for"] == ""
        assert second["stands_for"] == "1"
        assert "setup-live" in [line["rate"] for line in first["lines"]]
        assert second["lines"][0]["rate"] == "pass"
        # Read alone or with all the others, a shot has the same hours.
        listed = pair.api.get(f"{pair.path}/hours").json()["shots"]
        for one, answer in zip(listed, (first, second), strict=True):
            whole_shot = pair.api.get(path.format(one["key"])).json()
            assert one["set"] == whole_shot["set"]
            assert answer["set"]["likely"] <= one["set"]["likely"]
        assert row(pair, pair.other.pk)["set_hours"]["likely"] == listed[1]["set"]["likely"]

    def test_another_shot_s_day_is_told(self, pair):
        Plate.objects.filter(pk=pair.plate.pk).update(film_on="2026-12-05")
        Plate.objects.filter(pk=pair.second.pk).update(film_on="2026-12-07")
        days = {d["day"]: d for d in pair.api.get(f"{pair.path}/days").json()}
        (told,) = days["2026-12-07"]["parted"]
        assert "Empty is filmed on 7 December, Walk of shot 1 on 5 December" in told["sentence"]
        assert days["2026-12-07"]["plates"][0]["stands_for"] == "1"

    def test_takes_are_held_against_those_of_the_other_shot(self, pair):
        one = Take.objects.create(card=issue(pair.owner, pair.plate), number=1)
        two = Take.objects.create(card=issue(pair.owner, pair.second), number=1, iso=1600)
        path = f"{pair.path}/takes/{{}}"
        found = pair.api.get(path.format(two.pk)).json()["report"]["findings"]
        beside = next(f for f in found if f["key"] == f"partner-{pair.plate.pk}")
        assert "brighter than the other" in beside["sentence"]
        assert beside["title"] == f"Beside Walk, {one.card.slate} take 1"
        listed = pair.api.get(f"{pair.path}/shots/{pair.other.pk}/pictures").json()
        assert [len(p["takes"]) for p in listed["plates"]] == [1]
        worst = pair.api.get(f"{pair.path}/filmed?shots={pair.other.pk}").json()
        assert [w["id"] for w in worst] == [str(pair.other.pk)]
        Plate.objects.filter(pk=pair.second.pk).update(lock_group="elsewhere")
        found = pair.api.get(path.format(two.pk)).json()["report"]["findings"]
        assert f"partner-{pair.plate.pk}" not in [f["key"] for f in found]


def test_shots_without_a_shared_set_up_are_read_as_fast_as_before(
    pair, django_assert_max_num_queries
):
    production = pair.production
    lone = make_shot(pair, "7", 7)
    kit = make_kit(production)
    Plate.objects.create(shot=lone, name="Lone", kind="live", position=1, lock_group="7-A", **kit)
    shot = Shot.objects.select_related("production").get(pk=lone.pk)
    with django_assert_max_num_queries(15):
        plan_json(shot)
    bare = make_shot(pair, "8", 8)
    shot = Shot.objects.select_related("production").get(pk=bare.pk)
    with django_assert_max_num_queries(14):
        plan_json(shot)
