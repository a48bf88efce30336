"""A passkey beside the password, spare codes, and the password once more."""

from __future__ import annotations

import json
import time

import pytest
from django.core.management import call_command

from jungoptic.web.accounts import passkeys, second, sure
from jungoptic.web.accounts.models import User
from jungoptic.web.journal.models import Entry
from tests.conftest import PASSWORD, Api, make_person

from .authenticator import Device

pytestmark = pytest.mark.django_db


@pytest.fixture
def ansa() -> User:
    return make_person("ansa")


def enrolled(api: Api, device: Device, name: str = "Phone") -> dict:
    options = api.post("/account/passkeys/begin").json()
    made = api.post("/account/passkeys", {"name": name, "credential": device.makes(options)})
    assert made.status_code == 200, made.content
    return made.json()


def at_the_door(password: str = PASSWORD) -> tuple[Api, dict]:
    """Somebody whose password was right, and what is still asked."""
    api = Api()
    answer = api.post("/session", {"username": "ansa", "password": password})
    assert answer.status_code == 200, answer.content
    return api, answer.json()


class TestPasskeys:
    def test_the_password_alone_does_not_let_in_any_more(self, ansa):
        device = Device()
        enrolled(Api(ansa), device)
        api, told = at_the_door()
        assert told["user"] is None
        assert api.get("/productions").status_code == 401
        inside = api.post("/session/passkey", {"credential": device.answers(told["passkey"])})
        assert inside.status_code == 200
        assert inside.json()["user"] == "ansa"
        assert api.get("/productions").status_code == 200
        kept = ansa.passkeys.get()
        assert kept.sign_count == 1
        assert kept.used_at is not None

    def test_without_a_passkey_nothing_changes(self, ansa):
        _, told = at_the_door()
        assert told["user"] == "ansa"
        assert told["passkey"] is None

    def test_what_another_key_another_site_or_another_moment_signs_is_refused(self, ansa):
        device = Device()
        enrolled(Api(ansa), device)
        stranger = Device()
        stranger.id = device.id
        elsewhere = Device("http://testserver.elsewhere")
        elsewhere.id, elsewhere.key = device.id, device.key
        api, told = at_the_door()
        other = at_the_door()[1]["passkey"]
        for answer in (
            stranger.answers(told["passkey"]),
            elsewhere.answers(told["passkey"]),
            device.answers(other),
            {**device.answers(told["passkey"]), "id": "AAAA"},
        ):
            refused = api.post("/session/passkey", {"credential": answer})
            assert refused.status_code == 422
            assert refused.json()["fields"] == {"credential": passkeys.NOT_RIGHT}
        assert api.get("/session").json()["user"] is None

    def test_a_copy_of_a_device_that_counts_apart_is_refused(self, ansa):
        device = Device()
        enrolled(Api(ansa), device)
        for _ in range(2):
            api, told = at_the_door()
            api.post("/session/passkey", {"credential": device.answers(told["passkey"])})
        device.used = 0
        api, told = at_the_door()
        copied = api.post("/session/passkey", {"credential": device.answers(told["passkey"])})
        assert copied.status_code == 422

    def test_nobody_tries_for_ever(self, ansa):
        device = Device()
        enrolled(Api(ansa), device)
        api, told = at_the_door()
        for _ in range(second.TRIES):
            assert api.post("/session/passkey", {"code": "no"}).status_code == 422
        right = {"credential": device.answers(told["passkey"])}
        late = api.post("/session/passkey", right)
        assert late.status_code == 403
        assert "begin with your password" in late.json()["message"]
        assert Entry.objects.filter(action="wrong passkey").count() == second.TRIES

    def test_the_door_waits_five_minutes_and_not_through_a_new_password(self, ansa, monkeypatch):
        device = Device()
        enrolled(Api(ansa), device)
        api, told = at_the_door()
        right = {"credential": device.answers(told["passkey"])}
        ansa.set_password("another-long-tide")
        ansa.save()
        assert api.post("/session/passkey", right).status_code == 403
        api, told = at_the_door("another-long-tide")
        now = time.time()
        monkeypatch.setattr(second.time, "time", lambda: now + second.HOLDS_S + 1)
        right = {"credential": device.answers(told["passkey"])}
        assert api.post("/session/passkey", right).status_code == 403

    def test_who_has_not_given_the_password_stands_at_no_door(self):
        assert Api().post("/session/passkey", {"code": "x"}).status_code == 403

    @pytest.mark.parametrize(
        "answer",
        [
            {},
            {"id": 5},
            {"id": "A", "rawId": "A", "type": "public-key", "response": {}},
            {"id": "é", "response": []},
            {
                "id": "AAAA",
                "rawId": "AAAA",
                "type": "public-key",
                "response": {"attestationObject": "o2", "clientDataJSON": "e30"},
            },
        ],
    )
    def test_nonsense_is_refused_and_keeps_nothing(self, ansa, answer):
        api = Api(ansa)
        api.post("/account/passkeys/begin")
        made = api.post("/account/passkeys", {"name": "Phone", "credential": answer})
        assert made.status_code == 422
        assert not ansa.passkeys.exists()
        enrolled(api, Device())
        at_door, _ = at_the_door()
        assert at_door.post("/session/passkey", {"credential": answer}).status_code == 422

    def test_an_answer_serves_once(self, ansa):
        api, device = Api(ansa), Device()
        options = api.post("/account/passkeys/begin").json()
        body = {"name": "Phone", "credential": device.makes(options)}
        assert api.post("/account/passkeys", body).status_code == 200
        assert api.post("/account/passkeys", body).status_code == 422
        assert device.makes(options)["id"] in json.dumps(
            api.post("/account/passkeys/begin").json()["excludeCredentials"]
        )

    def test_opened_by_a_number_it_says_how_to_open_it(self, ansa):
        api = Api(ansa)
        api.client.defaults["SERVER_NAME"] = "127.0.0.1"
        assert "http://localhost" in api.get("/account/passkeys").json()["why_not"]
        assert api.post("/account/passkeys/begin").status_code == 422


class TestSpareCodes:
    def test_each_lets_in_once_however_it_is_written(self, ansa):
        codes = enrolled(Api(ansa), Device())["codes"]
        assert len(set(codes)) == passkeys.SPARE
        api, _ = at_the_door()
        typed = codes[0].upper().replace("-", " ")
        assert api.post("/session/passkey", {"code": typed}).json()["user"] == "ansa"
        again, _ = at_the_door()
        assert again.post("/session/passkey", {"code": codes[0]}).status_code == 422
        assert api.get("/account/passkeys").json()["codes_left"] == passkeys.SPARE - 1

    def test_new_ones_end_the_old_and_none_stand_in_for_nothing(self, ansa):
        api = Api(ansa)
        assert api.post("/account/passkeys/codes").status_code == 422
        made = enrolled(api, Device())
        fresh = api.post("/account/passkeys/codes").json()["codes"]
        door, _ = at_the_door()
        assert door.post("/session/passkey", {"code": made["codes"][3]}).status_code == 422
        assert door.post("/session/passkey", {"code": fresh[3]}).status_code == 200
        second_one = enrolled(api, Device(), "Key")
        assert second_one["codes"] == []
        for one in (made, second_one):
            assert api.delete(f"/account/passkeys/{one['passkey']['id']}").status_code == 204
        assert not ansa.spare_codes.exists()
        assert at_the_door()[1]["user"] == "ansa"

    def test_only_a_digest_is_kept(self, ansa):
        codes = enrolled(Api(ansa), Device())["codes"]
        kept = json.dumps(list(ansa.spare_codes.values()), default=str)
        assert not any(code in kept or code.replace("-", "") in kept for code in codes)

    def test_whoever_runs_the_server_helps_who_lost_them_all(self, ansa, capsys):
        enrolled(Api(ansa), Device())
        call_command("password_link", "ansa", "--without-passkeys")
        key = capsys.readouterr().out.strip().partition("#")[2]
        api = Api()
        new = api.post("/password/by-link", {"key": key, "new": "another-long-tide"})
        assert new.json()["user"] == "ansa"

    def test_a_password_link_alone_does_not_pass_a_passkey(self, ansa, capsys):
        device = Device()
        enrolled(Api(ansa), device)
        call_command("password_link", "ansa")
        key = capsys.readouterr().out.strip().partition("#")[2]
        api = Api()
        told = api.post("/password/by-link", {"key": key, "new": "another-long-tide"}).json()
        assert told["user"] is None
        answer = {"credential": device.answers(told["passkey"])}
        assert api.post("/session/passkey", answer).json()["user"] == "ansa"


class TestStillThem:
    """What cannot be called back is asked for again where the last proof is old."""

    def guarded(self, stage) -> list[tuple[str, str, dict]]:
        inside, member = f"/productions/{stage.production.pk}", make_person("per")
        stage.production.memberships.create(user=member, role="crew")
        return [
            ("get", "/account/sure", {}),
            ("get", "/account/everything.json", {}),
            ("post", "/account/passkeys/begin", {}),
            ("post", "/account/passkeys", {"name": "x", "credential": {}}),
            ("delete", "/account/passkeys/1", {}),
            ("post", "/account/passkeys/codes", {}),
            ("post", f"{inside}/invitations", {"role": "crew"}),
            ("post", f"{inside}/crew-links", {"film_on": "2026-11-30"}),
            ("post", f"{inside}/members/{member.pk}/password-link", {}),
            ("post", f"{inside}/remove", {"name": stage.production.name}),
        ]

    def test_an_old_proof_does_not_do_and_the_password_renews_it(self, stage):
        api = stage.api
        session = api.client.session
        session[sure.SURE] = time.time() - sure.HOLDS_S - 1
        session.save()
        for method, path, body in self.guarded(stage):
            answer = api.call(method, path, body if method == "post" else None)
            assert answer.status_code == 403, path
            assert answer.json()["fields"] == {"proof": sure.Unsure.MESSAGE}
        stage.production.refresh_from_db()
        assert stage.production.removed_at is None
        assert api.post("/account/sure", {"password": "no"}).status_code == 422
        assert api.get("/account/sure").status_code == 403
        assert api.post("/account/sure", {"password": PASSWORD}).status_code == 204
        assert api.get("/account/sure").status_code == 204
        remove = f"/productions/{stage.production.pk}/remove"
        assert api.post(remove, {"name": stage.production.name}).status_code == 204

    def test_signing_in_is_a_proof(self, ansa):
        api, _ = at_the_door()
        assert api.get("/account/sure").status_code == 204
