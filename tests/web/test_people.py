"""Members, roles, invitations and links for a new password: who comes in, and who cannot."""

from __future__ import annotations

import datetime
import time
from dataclasses import replace

import pytest
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from jungoptic.web.accounts import api as accounts
from jungoptic.web.accounts import devices, resets
from jungoptic.web.accounts.models import OpenSession, User
from jungoptic.web.journal.models import Entry
from jungoptic.web.productions import invitations
from jungoptic.web.productions.models import Invitation, Membership
from jungoptic.web.takes import crew
from tests.conftest import PASSWORD, Api, make_person, make_stage

pytestmark = pytest.mark.django_db


def member(stage, name: str, role: str) -> User:
    """Somebody who belongs to the production."""
    person = make_person(name)
    Membership.objects.create(production=stage.production, user=person, role=role)
    return person


def role_of(stage, person: User) -> str | None:
    """A person's role, None where they do not belong."""
    found = stage.production.memberships.filter(user=person).first()
    return found and found.role


def invite(stage, role: str = "crew", **more) -> dict:
    answer = stage.api.post(f"{stage.path}/invitations", {"role": role, **more})
    assert answer.status_code == 200, answer.content
    return answer.json()


class TestMembers:
    def test_everybody_sees_who_belongs_and_only_owners_why_not(self, stage):
        per = member(stage, "per", "viewer")
        told = Api(per).get(f"{stage.path}/members").json()
        assert [(m["name"], m["role"], m["you"]) for m in told] == [
            ("owner", "owner", False),
            ("per", "viewer", True),
        ]
        assert {m["why_no_reset"] for m in told} == {""}

    def test_another_role_works_at_once(self, stage):
        per = member(stage, "per", "viewer")
        edit = {"revision": 1, "title": "T"}
        path = f"{stage.path}/shots/{stage.shot.pk}"
        assert Api(per).patch(path, edit).status_code == 403
        answer = stage.api.patch(f"{stage.path}/members/{per.pk}", {"role": "crew"})
        assert answer.json()["role"] == "crew"
        assert Api(per).patch(path, edit).status_code == 200
        assert stage.api.delete(f"{stage.path}/members/{per.pk}").status_code == 204
        assert Api(per).get(path).status_code == 404
        # Gone already is as good.
        assert stage.api.delete(f"{stage.path}/members/{per.pk}").status_code == 204

    def test_there_is_always_an_owner(self, stage):
        path = f"{stage.path}/members/{stage.owner.pk}"
        for answer in (stage.api.patch(path, {"role": "crew"}), stage.api.delete(path)):
            assert answer.status_code == 422
            assert "make somebody else one first" in answer.json()["message"]
        per = member(stage, "per", "owner")
        assert stage.api.delete(path).status_code == 204
        assert role_of(stage, stage.owner) is None
        assert Api(per).patch(f"{stage.path}/members/{per.pk}", {"role": "crew"}).status_code == 422

    def test_somebody_may_leave_but_not_throw_out(self, stage):
        per, ilse = member(stage, "per", "viewer"), member(stage, "ilse", "crew")
        assert Api(per).delete(f"{stage.path}/members/{ilse.pk}").status_code == 403
        assert Api(per).delete(f"{stage.path}/members/{per.pk}").status_code == 204
        assert [e.action for e in Entry.objects.filter(kind="member")] == ["left"]

    def test_nobody_is_no_role(self, stage):
        answer = stage.api.patch(f"{stage.path}/members/{stage.owner.pk}", {"role": "king"})
        assert answer.status_code == 422
        assert stage.api.patch(f"{stage.path}/members/999999", {"role": "crew"}).status_code == 404
        huge = 10**30
        assert stage.api.delete(f"{stage.path}/members/{huge}").status_code == 204

    def test_what_who_leaves_has_handed_out_ends_with_them(self, stage):
        per = member(stage, "per", "owner")
        key = Api(per).post(f"{stage.path}/invitations", {"role": "owner"}).json()["key"]
        link = crew.make(per, stage.production, 7, film_on=datetime.date(2026, 6, 20))
        assert (
            stage.api.patch(f"{stage.path}/members/{per.pk}", {"role": "viewer"}).status_code == 200
        )
        assert "withdrawn" in Api().post("/invited", {"key": key}).json()["why_not"]
        link.refresh_from_db()
        assert link.why_not


class TestInvitations:
    def test_a_link_lets_in_one_person(self, stage):
        made = invite(stage, note="Per, camera")
        assert (made["why_not"], made["note"]) == ("", "Per, camera")
        per, ilse = make_person("per"), make_person("ilse")
        what = Api().post("/invited", {"key": made["key"]}).json()
        assert (what["production"], what["role"], what["by"]) == ("A film", "crew", "owner")
        answer = Api(per).post("/invited/accept", {"key": made["key"]})
        assert answer.json() == {"production_id": str(stage.production.pk), "role": "crew"}
        assert role_of(stage, per) == "crew"
        # Once more by the same person finds the same place; nobody else comes in.
        assert Api(per).post("/invited/accept", {"key": made["key"]}).status_code == 200
        second = Api(ilse).post("/invited/accept", {"key": made["key"]})
        assert second.status_code == 422
        assert "used already" in second.json()["message"]
        (listed,) = stage.api.get(f"{stage.path}/invitations").json()
        assert (listed["used_by"], listed["key"]) == ("per", "")

    def test_who_left_does_not_come_back_by_an_old_link(self, stage):
        made, per = invite(stage), make_person("per")
        Api(per).post("/invited/accept", {"key": made["key"]})
        stage.api.delete(f"{stage.path}/members/{per.pk}")
        assert Api(per).post("/invited/accept", {"key": made["key"]}).status_code == 422
        assert role_of(stage, per) is None

    def test_withdrawn_and_expired_ones_let_nobody_in(self, stage):
        per = make_person("per")
        withdrawn, old = invite(stage), invite(stage)
        path = f"{stage.path}/invitations/{withdrawn['id']}"
        assert stage.api.delete(path).status_code == 204
        assert stage.api.delete(path).status_code == 204
        Invitation.objects.filter(pk=old["id"]).update(expires_at=timezone.now())
        for made, word in ((withdrawn, "withdrawn"), (old, "expired")):
            answer = Api(per).post("/invited/accept", {"key": made["key"]})
            assert answer.status_code == 422
            assert word in answer.json()["message"]
        assert role_of(stage, per) is None

    @pytest.mark.parametrize("key", ["x", "", "a.b", "\u00e9" * 40, "A" * 3000, "="])
    def test_what_is_no_key_is_refused(self, key, stage):
        answer = Api().post("/invited", {"key": key})
        assert answer.status_code == 422
        assert answer.json()["message"]

    def test_a_key_of_another_kind_opens_nothing(self, stage):
        link = crew.make(stage.owner, stage.production, 7, film_on=datetime.date(2026, 6, 20))
        assert Api().post("/invited", {"key": crew.key(link)}).status_code == 422
        made = Invitation.objects.get(pk=invite(stage)["id"])
        answer = Api().post("/crew", {"key": invitations.key(made), "name": "Per"})
        assert answer.status_code == 422

    def test_nobody_loses_a_better_role(self, stage):
        per = member(stage, "per", "crew")
        viewer, owner = invite(stage, "viewer"), invite(stage, "owner")
        answer = Api(per).post("/invited/accept", {"key": viewer["key"]})
        assert answer.status_code == 422
        assert "already, as crew" in answer.json()["message"]
        assert Api(per).post("/invited/accept", {"key": owner["key"]}).json()["role"] == "owner"
        # What was refused is left for somebody else.
        assert Api().post("/invited", {"key": viewer["key"]}).json()["why_not"] == ""

    def test_it_lets_an_account_be_made_where_nobody_else_may(self, stage, monkeypatch):
        monkeypatch.setattr(accounts, "CONFIG", replace(accounts.CONFIG, open_sign_up=False))
        body = {"username": "per", "password": "tide-and-lantern"}
        refused = Api().post("/accounts", body)
        assert refused.status_code == 403
        assert "invitation" in refused.json()["message"]
        assert Api().post("/accounts", {**body, "invitation": "x"}).status_code == 422
        key = invite(stage)["key"]
        api = Api()
        assert api.post("/accounts", {**body, "invitation": key}).json()["user"] == "per"
        assert api.get(stage.path).json()["role"] == "crew"
        # Asking once more finds the same place.
        assert api.post("/invited/accept", {"key": key}).status_code == 200
        second = Api().post("/accounts", {**body, "username": "ilse", "invitation": key})
        assert second.status_code == 422
        assert not User.objects.filter(username="ilse").exists()

    def test_so_many_and_no_more(self, stage, monkeypatch):
        monkeypatch.setattr(invitations, "MOST_OPEN", 2)
        invite(stage), invite(stage)
        answer = stage.api.post(f"{stage.path}/invitations", {"role": "crew"})
        assert answer.status_code == 422
        assert "withdraw some" in answer.json()["message"]
        for days in (0, 31):
            body = {"role": "crew", "days": days}
            assert stage.api.post(f"{stage.path}/invitations", body).status_code == 422

    def test_it_needs_an_account_and_our_own_page(self, stage):
        key = invite(stage)["key"]
        assert Api().post("/invited/accept", {"key": key}).status_code == 401
        strict = Client(enforce_csrf_checks=True)
        for path in ("invited", "crew/look", "password/link"):
            answer = strict.post(f"/api/{path}", {"key": key}, "application/json")
            assert answer.status_code == 403, path


class TestNewPasswordByLink:
    def make(self, stage, person: User) -> str:
        answer = stage.api.post(f"{stage.path}/members/{person.pk}/password-link")
        assert answer.status_code == 200, answer.content
        return answer.json()["key"]

    def test_it_sets_one_password_once(self, stage):
        per = member(stage, "per", "crew")
        elsewhere = Api()
        elsewhere.post("/session", {"username": "per", "password": PASSWORD})
        key = self.make(stage, per)
        # Signing in is a use too: a link made before it holds no more, so make it after.
        assert Api().post("/password/link", {"key": key}).json() == {"user": "per"}
        weak = Api().post("/password/by-link", {"key": key, "new": "password"})
        assert weak.status_code == 422
        assert "new" in weak.json()["fields"]
        api = Api()
        answer = api.post("/password/by-link", {"key": key, "new": "tide-and-lantern"})
        assert answer.json()["user"] == "per"
        assert api.get(f"{stage.path}").status_code == 200
        # Signed out everywhere else; the old password and the link are worth nothing.
        assert elsewhere.get(f"{stage.path}").status_code == 401
        again = Api().post("/password/by-link", {"key": key, "new": "another-tide-table"})
        assert again.status_code == 422
        assert "used already" in again.json()["message"]
        old = Api().post("/session", {"username": "per", "password": PASSWORD})
        assert old.status_code == 403

    def test_an_account_closed_by_wrong_tries_opens_again(self, stage):
        per = member(stage, "Per", "crew")
        for _ in range(9):
            Api().post("/session", {"username": "per", "password": "wrong"})
        right = Api().post("/session", {"username": "per", "password": PASSWORD})
        assert right.status_code == 429
        body = {"key": self.make(stage, per), "new": "tide-and-lantern"}
        assert Api().post("/password/by-link", body).status_code == 200
        answer = Api().post("/session", {"username": "per", "password": "tide-and-lantern"})
        assert answer.status_code == 200

    def test_nobody_gets_into_what_they_do_not_own(self, stage):
        """Otherwise whoever makes a production and invites somebody could sign in as them."""
        per = member(stage, "per", "owner")
        other = make_stage(per, "Per's own film")
        answer = stage.api.post(f"{stage.path}/members/{per.pk}/password-link")
        assert answer.status_code == 422
        assert "do not own" in answer.json()["message"]
        (told,) = [m for m in stage.api.get(f"{stage.path}/members").json() if m["name"] == "per"]
        assert told["why_no_reset"] == answer.json()["message"]
        # Owning both, there is nothing to be gained.
        Membership.objects.create(production=other.production, user=stage.owner, role="owner")
        assert self.make(stage, per)

    def test_a_link_ends_when_they_come_to_belong_elsewhere(self, stage):
        per = member(stage, "per", "crew")
        key = self.make(stage, per)
        make_stage(per, "Per's own film")
        answer = Api().post("/password/by-link", {"key": key, "new": "tide-and-lantern"})
        assert answer.status_code == 422
        per.refresh_from_db()
        assert per.check_password(PASSWORD)

    def test_nor_for_oneself_nor_for_who_runs_the_server(self, stage):
        boss = member(stage, "boss", "crew")
        User.objects.filter(pk=boss.pk).update(is_superuser=True)
        for person in (stage.owner, boss):
            path = f"{stage.path}/members/{person.pk}/password-link"
            assert stage.api.post(path).status_code == 422

    def test_it_expires_and_cannot_be_made_up(self, stage, monkeypatch):
        key = self.make(stage, member(stage, "per", "crew"))
        for wrong in (key[:-1], key + "x", "x", key.swapcase()):
            assert Api().post("/password/link", {"key": wrong}).status_code == 422
        monkeypatch.setattr(resets, "HOLDS_H", -1)
        answer = Api().post("/password/link", {"key": key})
        assert "expired" in answer.json()["message"]

    def test_whoever_runs_the_server_makes_one_for_anybody(self, capsys, db):
        person = make_person("ansa")
        make_stage(person)
        call_command("password_link", "ANSA")
        key = capsys.readouterr().out.strip().removeprefix("/new-password#")
        assert (
            Api().post("/password/by-link", {"key": key, "new": "tide-and-lantern"}).status_code
            == 200
        )
        with pytest.raises(CommandError):
            call_command("password_link", "nobody")


class TestDevices:
    def sign_in(self, device: str) -> Api:
        api = Api()
        api.client = Client(headers={"user-agent": device})
        answer = api.post("/session", {"username": "ansa", "password": PASSWORD})
        assert answer.status_code == 200
        return api

    def test_seen_and_ended(self, db):
        make_person("ansa")
        desk, phone, lost = (self.sign_in(name) for name in ("desk", "phone", "lost"))
        told = desk.get("/devices").json()
        assert {d["device"]: d["here"] for d in told} == {
            "desk": True,
            "phone": False,
            "lost": False,
        }
        which = next(d["id"] for d in told if d["device"] == "lost")
        assert desk.delete(f"/devices/{which}").status_code == 204
        assert lost.get("/devices").status_code == 401
        assert phone.get("/devices").status_code == 200
        assert desk.delete("/devices").status_code == 204
        assert phone.get("/devices").status_code == 401
        assert [d["device"] for d in desk.get("/devices").json()] == ["desk"]

    def test_one_that_was_signed_in_on_long_ago_is_signed_out(self, db, settings, monkeypatch):
        make_person("ansa")
        desk = self.sign_in("desk")
        now = time.time()
        # Used now and then it stays signed in, though not for ever.
        monkeypatch.setattr(devices.time, "time", lambda: now + settings.SESSION_AT_MOST - 60)
        assert desk.get("/session").json()["user"] == "ansa"
        monkeypatch.setattr(devices.time, "time", lambda: now + settings.SESSION_AT_MOST + 60)
        assert desk.get("/session").json()["user"] is None
        assert desk.get("/devices").status_code == 401
        assert OpenSession.objects.count() == 0

    def test_nobody_ends_somebody_elses(self, db):
        make_person("ansa")
        desk = self.sign_in("desk")
        (own,) = desk.get("/devices").json()
        stranger = Api(make_person("per"))
        assert stranger.delete(f"/devices/{own['id']}").status_code == 204
        assert desk.get("/devices").status_code == 200
        # Nor is one's own device ended but by signing out.
        assert desk.delete(f"/devices/{own['id']}").status_code == 204
        assert desk.get("/devices").status_code == 200

    def test_signing_out_and_a_new_password_end_them(self, db):
        make_person("ansa")
        desk, phone = self.sign_in("desk"), self.sign_in("phone")
        phone.delete("/session")
        assert [d["device"] for d in desk.get("/devices").json()] == ["desk"]
        phone = self.sign_in("phone")
        body = {"old": PASSWORD, "new": "tide-and-lantern"}
        assert desk.post("/password", body).status_code == 200
        assert phone.get("/devices").status_code == 401
        assert [d["device"] for d in desk.get("/devices").json()] == ["desk"]
        assert OpenSession.objects.count() == 1
