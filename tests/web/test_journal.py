"""The journal: who, when, from where; it only grows, and outlives what it tells of."""

from __future__ import annotations

import pytest
from django.core.management import CommandError, call_command
from django.db import DatabaseError, transaction
from django.test import Client

from jungoptic.web.journal.models import Entry
from jungoptic.web.journal.writing import forget
from jungoptic.web.plans.models import Shot
from tests.conftest import PASSWORD, Api, make_person

pytestmark = pytest.mark.django_db


def told(**wanted) -> list[Entry]:
    """Entries, newest first."""
    return list(Entry.objects.filter(**wanted))


def retitle(stage) -> None:
    path = f"{stage.path}/shots/{stage.shot.pk}"
    assert stage.api.patch(path, {"revision": 1, "title": "Tide"}).status_code == 200


class TestWhatIsToldOf:
    def test_an_edit_says_who_when_and_from_where(self, stage):
        client = Client(REMOTE_ADDR="10.1.2.3")
        client.force_login(stage.owner)
        path = f"/api{stage.path}/shots/{stage.shot.pk}"
        answer = client.patch(path, {"revision": 1, "title": "Tide"}, "application/json")
        (entry,) = told(kind="shot", action="edited")
        assert (entry.user_id, entry.who) == (stage.owner.pk, stage.owner.username)
        assert entry.address == "10.1.2.3"
        assert entry.request == answer["X-Request-Id"]
        assert (entry.before, entry.after) == ({"title": "Mill"}, {"title": "Tide"})
        assert entry.production_id == stage.production.pk

    def test_steps_their_undo_and_redo(self, stage):
        body = {"ids": [str(stage.shot.pk)]}
        step = stage.api.post(f"{stage.path}/board/duplicate", body).json()["step"]
        for way in ("undo", "redo"):
            answer = stage.api.post(f"{stage.path}/steps/{step['id']}/{way}")
            assert answer.status_code == 200, answer.content
        assert [e.action for e in reversed(told(kind="step"))] == ["undone", "redone"]
        (undone,) = told(kind="step", action="undone")
        assert undone.after["label"] == "Duplicate as variant"
        assert {"shot", "plate"} <= {t["model"] for t in undone.after["touched"]}

    def test_a_picture_drawn_anew(self, stage):
        made = stage.api.post(f"{stage.path}/shots/{stage.shot.pk}/sketches/frame", {}).json()
        answer = stage.api.post(f"{stage.path}/sketches/{made['id']}/redraw", {})
        assert answer.status_code == 200, answer.content
        assert told(kind="sketch", action="redrawn")

    def test_coming_and_going(self):
        make_person("ansa")
        api = Api()
        api.post("/session", {"username": "ansa", "password": "wrong"})
        api.post("/session", {"username": "nobody", "password": "wrong"})
        api.post("/session", {"username": "ansa", "password": PASSWORD})
        api.post("/password", {"old": "wrong", "new": PASSWORD + "s"})
        api.post("/password", {"old": PASSWORD, "new": PASSWORD + "s"})
        api.delete("/session")
        found = [(e.who, e.action) for e in reversed(told(kind="account"))]
        assert found == [
            ("ansa", "wrong password"),
            ("", "wrong password"),
            ("ansa", "signed in"),
            ("ansa", "wrong password"),
            ("ansa", "new password"),
            ("ansa", "signed out"),
        ]

    def test_refusals(self, stage):
        visitor, stranger = make_person("visitor"), make_person("stranger")
        stage.production.memberships.create(user=visitor, role="viewer")
        Api(visitor).post(f"{stage.path}/shots", {"number": "2", "title": "x"})
        Api(stranger).get(f"{stage.path}/shots")
        first, second = reversed(told(action="refused"))
        assert (first.who, first.after["wanted"]) == ("visitor", "plan")
        assert (second.who, second.after) == ("stranger", None)


class TestItOnlyGrows:
    def test_it_outlives_the_production_and_the_person(self, stage):
        retitle(stage)
        pk, name = stage.production.pk, stage.owner.username
        stage.production.delete()
        stage.owner.delete()
        assert not Shot.objects.exists()
        (entry,) = told(kind="shot", action="edited")
        assert (entry.production_id, entry.who) == (pk, name)

    @pytest.mark.parametrize(
        "change",
        [
            lambda rows: rows.update(who="somebody else"),
            lambda rows: rows.update(after={"title": "forged"}),
            lambda rows: rows.update(production_id=None),
            lambda rows: rows.delete(),
            lambda rows: rows._raw_delete(rows.db),
        ],
        ids=["who", "what", "where", "deleted", "deleted without asking"],
    )
    def test_the_database_refuses_any_change(self, stage, change):
        retitle(stage)
        with pytest.raises(DatabaseError, match="only grows"), transaction.atomic():
            change(Entry.objects.all())
        assert told(kind="shot", action="edited")

    def test_a_person_can_be_forgotten_and_nothing_else(self, stage):
        retitle(stage)
        (before,) = told(kind="shot", action="edited")
        assert forget(stage.owner.pk) == len(told(user_id=stage.owner.pk))
        (after,) = told(kind="shot", action="edited")
        assert (after.who, after.address) == (f"person {stage.owner.pk}", "")
        assert (after.at, after.before, after.after) == (before.at, before.before, before.after)
        # And it is closed again.
        with pytest.raises(DatabaseError, match="only grows"), transaction.atomic():
            Entry.objects.update(who="x")

    def test_the_command(self, stage, capsys):
        retitle(stage)
        call_command("forget_in_journal", stage.owner.username.upper())
        assert "no longer say who" in capsys.readouterr().out
        assert not told(who=stage.owner.username)
        with pytest.raises(CommandError, match="nobody called"):
            call_command("forget_in_journal", "nobody")
