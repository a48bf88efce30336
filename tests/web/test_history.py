"""Who did what, as people read it."""

from __future__ import annotations

import re
import uuid

import pytest
from django.apps import apps

from jungoptic.web.history import telling
from jungoptic.web.journal.models import Entry
from jungoptic.web.productions.models import Membership
from jungoptic.web.records import Record
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import Api, make_person

pytestmark = pytest.mark.django_db


def history(stage, **asked) -> dict:
    query = "&".join(f"{name}={value}" for name, value in asked.items())
    answer = stage.api.get(f"{stage.path}/history?{query}")
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_a_drag_is_told_in_one_line_from_its_begin_to_its_end(stage):
    path = f"{stage.path}/shots/{stage.shot.pk}"
    for n, height in enumerate((1.6, 1.7, 1.85), start=1):
        stage.api.patch(path, {"revision": n, "camera_height_m": height})
    (doing,) = history(stage)["doings"]
    assert (doing["who"], doing["what"], doing["more"]) == ("owner", "changed shot 1", 2)
    assert doing["changes"] == [{"what": "camera height", "before": "1.5 m", "after": "1.85 m"}]


def test_what_others_do_in_between_is_told_apart(stage):
    per = make_person("per")
    Membership.objects.create(production=stage.production, user=per, role="crew")
    path = f"{stage.path}/shots/{stage.shot.pk}"
    stage.api.patch(path, {"revision": 1, "title": "Tide"})
    Api(per).patch(path, {"revision": 2, "title": "Ebb"})
    stage.api.patch(path, {"revision": 3, "title": "Flood"})
    told = history(stage)["doings"]
    assert [d["who"] for d in told] == ["owner", "per", "owner"]
    assert [d["changes"][0]["before"] for d in told] == ["Ebb", "Tide", "Mill"]
    assert [d["who"] for d in history(stage, member=per.pk)["doings"]] == ["per"]


def test_what_is_gone_is_still_called_by_its_name(stage):
    thing = stage.stand_in
    stage.api.patch(f"{stage.path}/stand-ins/{thing.pk}", {"revision": 1, "name": "Old mill"})
    assert history(stage)["doings"][0]["what"] == "changed Old mill in shot 1"
    stage.api.delete(f"{stage.path}/stand-ins/{thing.pk}")
    removed, changed = history(stage)["doings"]
    assert removed["what"] == "removed stand-in Old mill"
    assert changed["what"] == "changed stand-in Mill"


def test_people_come_and_go_in_words(stage):
    per = make_person("per")
    body = {"role": "crew", "note": "Per, camera"}
    made = stage.api.post(f"{stage.path}/invitations", body).json()
    Api(per).post("/invited/accept", {"key": made["key"]})
    Api(per).delete(f"{stage.path}/members/{stage.owner.pk}")
    stage.api.patch(f"{stage.path}/members/{per.pk}", {"role": "viewer"})
    stage.api.post(f"{stage.path}/members/{per.pk}/password-link")
    Api(per).delete(f"{stage.path}/members/{per.pk}")
    Api(per).get(stage.path)
    stage.api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "title": "Tide"})
    told = [(d["who"], d["what"]) for d in history(stage, about="people")["doings"]]
    assert told == [
        ("per", "does not belong here and was refused"),
        ("per", "left the production"),
        ("owner", "made a link for a new password of per"),
        ("owner", "made per viewer"),
        ("per", "was refused what a crew may not do"),
        ("per", "joined as crew"),
        ("owner", "invited somebody as crew (Per, camera)"),
    ]
    assert len(history(stage)["doings"]) == len(told) + 1


def test_steps_and_long_texts(stage):
    body = {"ids": [str(stage.shot.pk)]}
    step = stage.api.post(f"{stage.path}/board/duplicate", body).json()["step"]
    stage.api.post(f"{stage.path}/steps/{step['id']}/undo")
    assert history(stage)["doings"][0]["what"] == "undid “Duplicate as variant”"
    stage.api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "action": "x" * 500})
    (change,) = history(stage)["doings"][0]["changes"]
    assert (change["before"], len(change["after"])) == ("nothing", 80)


def test_what_one_step_makes_is_told_in_one_line(stage):
    path = f"{stage.path}/shots/{stage.shot.pk}/recipes/apply"
    assert stage.api.post(path, {"recipe": "twin-split"}).status_code == 200
    (doing,) = history(stage)["doings"]
    assert re.fullmatch(r"took the recipe Twin.* in shot 1, and \d more", doing["what"])
    assert doing["more"] + 1 == Entry.objects.filter(production_id=stage.production.pk).count()


def test_an_empty_reading_is_as_planned(stage):
    take = Take.objects.create(card=issue(stage.owner, stage.plate), number=1)
    stage.api.patch(f"{stage.path}/takes/{take.pk}", {"revision": 1, "capture_fps": 48})
    (change,) = history(stage)["doings"][0]["changes"]
    assert change == {"what": "capture rate", "before": "as planned", "after": "48 fps"}


def test_it_is_read_page_by_page_and_nothing_twice(stage, django_assert_max_num_queries):
    path = f"{stage.path}/shots/{stage.shot.pk}"
    for n in range(1, 8):
        stage.api.patch(path, {"revision": n, "title": f"T{n}"})
        stage.api.post(f"{stage.path}/lamps", {"name": f"Lamp {n}", "lux_at_1m": 900})
    seen, older = [], None
    while True:
        with django_assert_max_num_queries(12):
            page = history(stage, limit=4, **({"older": older} if older else {}))
        seen += [d["id"] for d in page["doings"]]
        older = page["older"]
        if older is None:
            break
    assert seen == sorted(seen, reverse=True)
    assert len(seen) == Entry.objects.filter(production_id=stage.production.pk).count() == 14


def test_every_kind_that_is_written_down_has_words(db):
    """What any room writes down reads as a sentence: no names run together, no ids."""
    kinds = [m._meta.model_name for m in apps.get_models() if issubclass(m, Record)]
    assert {"setcard", "keptthread", "moverig"} <= set(kinds)
    for kind in kinds:
        for action, verb in telling.DONE.items():
            entry = Entry(kind=kind, action=action, record_id=str(uuid.uuid4()), after={})
            (doing,) = telling.tell([entry])
            said = doing.what.removeprefix(verb).split()
            assert said[0] in {"a", "an", "the", "took"}, doing.what
            assert not set(said) & {"setcard", "keptthread", "moverig", "standin", "recipeuse"}
