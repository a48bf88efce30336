"""Deleting a production, fetching it back, erasing it; a person taken along and forgotten."""

from __future__ import annotations

import datetime
import json

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.utils import timezone

from jungoptic.web import storage
from jungoptic.web.accounts import erasing
from jungoptic.web.accounts.models import User
from jungoptic.web.journal.models import Entry
from jungoptic.web.productions import bin
from jungoptic.web.productions.models import Membership, Production
from jungoptic.web.sketches.api import draw_for
from jungoptic.web.sketches.tasks import sweep
from jungoptic.web.takes import crew
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import PASSWORD, Api, make_person, make_stage, sent

pytestmark = pytest.mark.django_db


def member(stage, name: str, role: str) -> User:
    person = make_person(name)
    Membership.objects.create(production=stage.production, user=person, role=role)
    return person


def remove(stage) -> None:
    answer = stage.api.post(f"{stage.path}/remove", {"name": "A film"})
    assert answer.status_code == 204, answer.content


def names(api: Api) -> list[str]:
    return [p["name"] for p in api.get("/productions").json()["items"]]


class TestTheBin:
    def test_its_name_is_typed(self, stage):
        for wrong in ("", "a film", "A film!"):
            answer = stage.api.post(f"{stage.path}/remove", {"name": wrong})
            assert answer.status_code == 422
            assert "A film" in answer.json()["fields"]["name"]
        assert names(stage.api) == ["A film"]
        remove(stage)
        assert names(stage.api) == []

    def test_nobody_enters_it_meanwhile(self, stage):
        per = member(stage, "per", "crew")
        card = issue(stage.owner, stage.plate)
        key = stage.api.post(f"{stage.path}/invitations", {"role": "crew"}).json()["key"]
        link = crew.make(stage.owner, stage.production, 7, card=card)
        phone = Api()
        phone.post("/crew", {"key": crew.key(link), "name": "Nela"})
        remove(stage)
        for api in (stage.api, Api(per)):
            answer = api.get(f"{stage.path}/shots/{stage.shot.pk}")
            assert answer.status_code == 404
            assert "lies in the bin" in answer.json()["message"]
            edit = api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "title": "T"})
            assert edit.status_code == 404
        assert phone.get(f"{stage.path}/cards/{card.pk}").status_code == 404
        assert phone.get("/crew").json()["links"] == []
        again = Api().post("/crew", {"key": crew.key(link), "name": "Nela"})
        assert again.status_code == 422
        assert Api(make_person("ilse")).post("/invited/accept", {"key": key}).status_code == 422

    def test_an_owner_fetches_it_back_as_it_was(self, stage):
        per, boss = member(stage, "per", "crew"), member(stage, "boss", "owner")
        remove(stage)
        (lies,) = Api(boss).get("/productions/in-the-bin").json()
        days = datetime.datetime.fromisoformat(lies["erased_at"]) - timezone.now()
        assert 29.9 < days.total_seconds() / 86400 <= 30
        assert Api(per).get("/productions/in-the-bin").json() == []
        assert Api(per).post(f"{stage.path}/restore").status_code == 404
        assert Api(make_person("ilse")).post(f"{stage.path}/restore").status_code == 404
        assert Api(boss).post(f"{stage.path}/restore").json()["role"] == "owner"
        assert names(Api(per)) == ["A film"]
        assert stage.api.get(f"{stage.path}/shots/{stage.shot.pk}").status_code == 200
        # Twice is as good.
        assert Api(boss).post(f"{stage.path}/restore").status_code == 200
        told = Entry.objects.filter(kind="production").values_list("action", flat=True)
        assert [action for action in told if action != "refused"] == ["restored", "removed"]

    def test_after_a_month_it_goes_with_its_files_and_the_journal_stays(self, stage, monkeypatch):
        monkeypatch.setattr(storage, "YOUNGEST", datetime.timedelta(seconds=-5))
        other = make_stage(make_person("stranger"), "Another film")
        drawn = [draw_for(s.owner, s.shot, "Frame").picture.name for s in (stage, other)]
        remove(stage)
        assert bin.empty() == 0
        Production.objects.filter(pk=stage.production.pk).update(
            removed_at=timezone.now() - datetime.timedelta(days=31)
        )
        assert bin.empty() == 1
        sweep()
        assert [default_storage.exists(name) for name in drawn] == [False, True]
        assert list(Production.objects.values_list("name", flat=True)) == ["Another film"]
        entries = Entry.objects.filter(production_id=stage.production.pk)
        assert "erased" in entries.values_list("action", flat=True)

    def test_so_many_of_ones_own(self, stage, settings):
        settings.PRODUCTIONS_EACH = 2
        assert stage.api.post("/productions", {"name": "Second"}).status_code == 200
        third = stage.api.post("/productions", {"name": "Third"})
        assert third.status_code == 422
        assert "You own 2 productions" in third.json()["fields"]["name"]
        told = stage.api.get("/account").json()
        assert (told["owns"], told["may_own"]) == (2, 2)
        # What lies in the bin does not count, until it is fetched back.
        remove(stage)
        assert stage.api.post("/productions", {"name": "Third"}).status_code == 200
        assert stage.api.post(f"{stage.path}/restore").status_code == 422


class TestAPerson:
    def test_takes_along_what_is_kept_of_them(self, stage):
        stage.api.post("/session", {"username": "owner", "password": PASSWORD})
        stage.api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "title": "Tide"})
        card = issue(stage.owner, stage.plate)
        Take.objects.create(card=card, number=1, logged_by=stage.owner, note="Good")
        answer = stage.api.client.get("/api/account/everything.json")
        told = json.loads(sent(answer))
        assert told["account"]["name"] == "owner"
        assert told["productions"][0]["role"] == "owner"
        assert told["takes_logged"][0]["note"] == "Good"
        assert len(told["devices"]) == 1
        edits = [e for e in told["journal"] if (e["kind"], e["action"]) == ("shot", "edited")]
        assert edits[0]["after"] == {"title": "Tide"}
        # Nothing of anybody else.
        stranger = json.loads(
            sent(Api(make_person("per")).client.get("/api/account/everything.json"))
        )
        assert (stranger["productions"], stranger["journal"]) == ([], [])

    def test_every_model_that_names_a_person_is_told_of(self):
        """A new model with somebody's name on it has to be taken along as well."""
        named = {
            (field.related_model._meta.label, field.field.name)
            for field in User._meta.get_fields(include_hidden=True)
            if field.auto_created and field.one_to_many
        }
        known = {(model, name) for model, name, _ in erasing.ELSEWHERE.values()}
        known |= {
            ("accounts.OpenSession", "user"),
            ("accounts.Passkey", "user"),
            # A digest of what only they know.
            ("accounts.SpareCode", "user"),
            ("productions.Membership", "user"),
            # Told by the journal, and without anything else of the person's.
            ("productions.Invitation", "made_by"),
            ("productions.Invitation", "used_by"),
            ("takes.CrewLink", "made_by"),
            ("takes.Tick", "user"),
            ("breakdown.BoardStep", "user"),
            ("jobs.Job", "asked_by"),
            # Django's own, and unused here.
            ("accounts.User_groups", "user"),
            ("accounts.User_user_permissions", "user"),
        }
        assert named == known

    def test_goes_and_is_named_nowhere(self, stage):
        per = member(stage, "per", "crew")
        api = Api(per)
        api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "title": "Tide"})
        card = issue(per, stage.plate)
        api.post(f"{stage.path}/cards/{card.pk}/takes", {"note": "Good"})
        (item, *_) = card.shown["checklist"]
        api.post(f"{stage.path}/cards/{card.pk}/ticks", {"item": item, "done": True})
        stage.api.patch(f"{stage.path}/members/{per.pk}", {"role": "owner"})
        link = crew.make(per, stage.production, 7, card=card)
        assert api.post("/account/erase", {"password": "wrong"}).status_code == 422
        assert api.post("/account/erase", {"password": PASSWORD}).status_code == 204
        assert api.get("/productions").status_code == 401
        assert not User.objects.filter(username="per").exists()
        link.refresh_from_db()
        assert "withdrawn" in link.why_not
        # What was made stays, without a name.
        told = stage.api.get(f"{stage.path}/cards/{card.pk}").json()
        assert (told["issued_by"], told["takes"][0]["logged_by"]) == (None, None)
        assert told["ticks"][0]["by"] == "somebody who left"
        history = stage.api.get(f"{stage.path}/history").json()["doings"]
        said = json.dumps(history)
        assert f"person {per.pk}" in said
        assert '"per"' not in said
        assert "made per owner" not in said
        assert not Entry.objects.filter(who="per").exists()
        assert not Entry.objects.filter(user_id=per.pk).exclude(address="").exists()

    def test_does_not_leave_others_without_an_owner(self, stage):
        member(stage, "per", "crew")
        answer = stage.api.post("/account/erase", {"password": PASSWORD})
        assert answer.status_code == 422
        assert "A film" in answer.json()["message"]
        assert stage.api.get(stage.path).status_code == 200

    def test_what_nobody_else_belongs_to_goes_to_the_bin(self, stage):
        name = default_storage.save("sketches/x.png", ContentFile(b"x"))
        assert stage.api.post("/account/erase", {"password": PASSWORD}).status_code == 204
        production = Production.objects.get()
        assert production.removed_at is not None
        assert default_storage.exists(name)
