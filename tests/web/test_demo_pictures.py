"""The pictures that come with the demo are of the very plans that it has."""

from __future__ import annotations

import json

import pytest
from django.core.files.storage import default_storage

from jungoptic.web.demo import pictures
from jungoptic.web.developed.keeping import stamp
from jungoptic.web.developed.models import Developed, DryRun
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.productions.models import Production
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.kept_demo import lay_demo

pytestmark = pytest.mark.django_db
AGAIN = "Run `make demo-pictures` and commit what it made."


@pytest.fixture
def demo() -> Production:
    lay_demo()
    return Production.objects.get()


def test_every_shot_has_its_pictures_from_the_start(demo):
    listed = json.loads(pictures.LIST.read_text())
    for shot in demo.shots.all():
        own = listed[shot.number]
        assert own["plan"] == pictures.digest(plan_json(shot)), f"shot {shot.number}. {AGAIN}"
        assert shot.developed.count() == len(own["pictures"])
    told = sum(len(x["pictures"]) + bool(x["run"]) for x in listed.values())
    assert Developed.objects.count() + DryRun.objects.count() == told > 30
    for one in Developed.objects.all():
        with default_storage.open(one.picture, "rb") as file:
            assert file.read(12)[8:] == b"WEBP"


def test_they_are_small_enough_to_come_along():
    """Three megabytes in all."""
    assert sum(file.stat().st_size for file in pictures.HERE.iterdir()) < 3 << 20


def test_ids_and_days_do_not_tell_plans_apart_and_all_else_does(demo):
    shot = demo.shots.first()
    told = pictures.digest(plan_json(shot))
    shot.focal_mm += 1
    assert pictures.digest(plan_json(shot)) != told
    one, two = (
        {"id": f"0000000{i}-0000-0000-0000-000000000000", "on": f"2026-01-0{i}"} for i in (1, 2)
    )
    assert pictures.digest(one) == pictures.digest(two)
    twice = {"a": one["id"], "b": one["id"]}
    assert pictures.digest(twice) != pictures.digest({"a": one["id"], "b": two["id"]})


def test_a_take_takes_no_picture_away(demo):
    """What was filmed of a plate changes nothing that a picture of the plan shows."""
    shot = demo.shots.get(number="2")
    now, told = stamp(plan_json(shot)), pictures.digest(plan_json(shot))
    plate = shot.plates.get(name="Mill miniature")
    Take.objects.create(card=issue(shot.production.memberships.first().user, plate), number=1)
    filmed = plan_json(demo.shots.get(number="2"))
    assert any(one["filmed"] for one in filmed["plates"])
    assert (stamp(filmed), pictures.digest(filmed)) == (now, told)


def test_a_plan_that_has_changed_gets_no_picture_of_the_old_one(demo):
    Developed.objects.all().delete()
    shot = demo.shots.get(number="2")
    shot.camera_height_m += 0.5
    shot.save()
    pictures.lay(demo)
    assert not shot.developed.exists()
    assert Developed.objects.exists()
