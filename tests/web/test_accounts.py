"""Signing in and out, password rules, and what strangers learn."""

from __future__ import annotations

import os
import secrets
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest
from django.test import Client

from jungoptic.web import callers
from jungoptic.web.config import Config
from tests.conftest import PASSWORD, Api, make_person

pytestmark = pytest.mark.django_db
ROOT = Path(__file__).resolve().parents[2]


def test_in_and_out():
    make_person("ansa")
    api = Api()
    assert api.get("/session").json()["user"] is None
    signed = api.post("/session", {"username": "ansa", "password": PASSWORD})
    assert signed.json()["user"] == "ansa"
    assert api.get("/session").json()["user"] == "ansa"
    assert api.delete("/session").json()["user"] is None
    assert api.get("/productions").status_code == 401


def test_a_wrong_name_and_a_wrong_password_look_alike():
    make_person("ansa")
    wrong_password = Api().post("/session", {"username": "ansa", "password": "x"})
    wrong_name = Api().post("/session", {"username": "nobody", "password": "x"})
    assert wrong_password.status_code == wrong_name.status_code == 403
    assert wrong_password.json() == wrong_name.json()


def tries(name: str, count: int, **headers: str) -> list[int]:
    body = {"username": name, "password": "wrong"}
    return [
        Client(headers=headers)
        .post("/api/session", body, content_type="application/json")
        .status_code
        for _ in range(count)
    ]


class TestGuessing:
    def test_an_account_closes_for_a_while_whatever_address_it_is_tried_from(self):
        make_person("ansa")
        codes = [
            Client(REMOTE_ADDR=f"10.0.0.{i}")
            .post(
                "/api/session",
                {"username": "ansa", "password": "wrong"},
                content_type="application/json",
            )
            .status_code
            for i in range(12)
        ]
        assert codes[:7] == [403] * 7
        assert set(codes[8:]) == {429}
        right = Api().post("/session", {"username": "ansa", "password": PASSWORD})
        assert right.status_code == 429
        assert "15 min" in right.json()["message"]
        # Nobody else is kept out.
        make_person("ilse")
        ilse = Api().post("/session", {"username": "ilse", "password": PASSWORD})
        assert ilse.status_code == 200

    def test_writing_the_name_otherwise_counts_for_the_same_account(self):
        make_person("ansa")
        names = ("ansa", "ANSA", "Ansa", "\uff41nsa")
        codes = [tries(name, 3) for name in names]
        assert codes[-1][-1] == 429

    def test_an_address_is_slowed_down_whatever_it_says_of_itself(self):
        codes = []
        for i in range(40):
            codes += tries(f"nobody{i}", 1, x_forwarded_for=f"1.2.3.{i}")
        assert codes[0] == 403
        assert codes[-1] == 429

    def test_a_right_password_starts_the_count_anew(self):
        make_person("ansa")
        for _ in range(3):
            assert set(tries("ansa", 6)) == {403}
            right = Api().post("/session", {"username": "ansa", "password": PASSWORD})
            assert right.status_code == 200

    def test_signing_up_and_changing_the_password_have_limits_too(self):
        made = [
            Api().post("/accounts", {"username": f"x{i}", "password": "short"}).status_code
            for i in range(12)
        ]
        assert made[-1] == 429
        api = Api(make_person("ansa"))
        changed = [
            api.post("/password", {"old": "no", "new": PASSWORD + "s"}).status_code
            for _ in range(12)
        ]
        assert changed[0] == 422
        assert changed[-1] == 429

    @pytest.mark.parametrize(
        ("proxies", "told", "want"),
        [
            (0, "6.6.6.6", "10.0.0.1"),
            (1, "6.6.6.6, 7.7.7.7", "7.7.7.7"),
            (2, "6.6.6.6, 7.7.7.7, 8.8.8.8", "7.7.7.7"),
            (2, "8.8.8.8", "10.0.0.1"),
            (1, "", "10.0.0.1"),
        ],
    )
    def test_only_our_own_proxies_are_believed(self, rf, monkeypatch, proxies, told, want):
        monkeypatch.setattr(callers, "CONFIG", replace(callers.CONFIG, trusted_proxies=proxies))
        request = rf.get("/", REMOTE_ADDR="10.0.0.1", HTTP_X_FORWARDED_FOR=told)
        assert callers.address_of(request) == want


class TestOurOwnPage:
    """Another site's form can neither sign in nor out nor up."""

    @pytest.mark.parametrize(
        ("method", "path"), [("post", "session"), ("delete", "session"), ("post", "accounts")]
    )
    def test_without_our_token_nothing_happens(self, method, path):
        make_person("ansa")
        client = Client(enforce_csrf_checks=True)
        body = {"username": "ansa" if path == "session" else "new", "password": PASSWORD}
        call = getattr(client, method)
        answer = call(f"/api/{path}", body, content_type="application/json")
        assert answer.status_code == 403
        assert "own page" in answer.json()["message"]
        token = client.get("/api/session").cookies["csrftoken"].value
        answer = call(
            f"/api/{path}", body, content_type="application/json", headers={"x-csrftoken": token}
        )
        assert answer.status_code == 200, answer.content

    @pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", ""])
    @pytest.mark.parametrize("path", ["session", "accounts", "productions", "calc/shot"])
    def test_only_json_is_read(self, kind, path):
        client = Client()
        client.force_login(make_person("ansa"))
        answer = client.generic("POST", f"/api/{path}", b'{"username": "a"}', kind)
        assert answer.status_code == 415
        assert "JSON" in answer.json()["message"]


class TestNames:
    @pytest.mark.parametrize("again", ["ansa", "ANSA", "Ansa", "\uff21nsa"])
    def test_one_name_is_one_person_however_it_is_written(self, again):
        made = Api().post("/accounts", {"username": "Ansa", "password": PASSWORD})
        assert made.status_code == 200
        answer = Api().post("/accounts", {"username": again, "password": PASSWORD})
        assert answer.status_code == 422
        assert "taken" in answer.json()["fields"]["username"]
        signed = Api().post("/session", {"username": again, "password": PASSWORD})
        assert signed.json()["user"] == "Ansa"

    @pytest.mark.parametrize("name", ["\u0430nsa", "ans\u03b1", "p\u0430ypal"])
    def test_look_alikes_from_two_alphabets_are_refused(self, name):
        answer = Api().post("/accounts", {"username": name, "password": PASSWORD})
        assert answer.status_code == 422
        assert "alphabets" in answer.json()["fields"]["username"]

    @pytest.mark.parametrize(
        "name", ["\u0410\u043d\u043d\u0430", "\u03b1\u03bd\u03bd\u03b1", "Zo\u00eb-2"]
    )
    def test_every_alphabet_is_welcome(self, name):
        answer = Api().post("/accounts", {"username": name, "password": PASSWORD})
        assert answer.status_code == 200, answer.content


@pytest.mark.parametrize(
    ("password", "why"),
    [
        ("short", "too short"),
        ("1234567890123", "numeric"),
        ("password123", "common"),
        ("ilse-the-twin", "similar"),
        ("Heron at the Lock!", "everybody here knows"),
        ("my-Jungoptic-2026", "everybody here knows"),
    ],
)
def test_password_rules(password, why):
    answer = Api().post("/accounts", {"username": "ilse-the-twin", "password": password})
    assert answer.status_code == 422
    assert why in answer.json()["fields"]["password"]


def test_sign_up_then_a_taken_name():
    made = Api().post("/accounts", {"username": "ilse", "password": PASSWORD})
    assert made.json()["user"] == "ilse"
    again = Api().post("/accounts", {"username": "ilse", "password": PASSWORD})
    assert again.status_code == 422
    assert "taken" in again.json()["fields"]["username"]


def test_changing_the_password():
    api = Api(make_person("ansa"))
    wrong = api.post("/password", {"old": "x", "new": PASSWORD + "s"})
    assert "old" in wrong.json()["fields"]
    weak = api.post("/password", {"old": PASSWORD, "new": "short"})
    assert "new" in weak.json()["fields"]
    done = api.post("/password", {"old": PASSWORD, "new": "another-long-tide"})
    assert done.json()["user"] == "ansa"  # this device stays signed in
    fresh = Api().post("/session", {"username": "ansa", "password": "another-long-tide"})
    assert fresh.status_code == 200


def test_the_demo_account_is_offered_in_demo_mode_only():
    assert Api().get("/session").json()["demo_user"] == "supervisor"
    real = Config.from_env({"JUNGOPTIC_SECRET_KEY": "x" * 50})
    assert not real.demo
    assert not real.open_sign_up


@pytest.mark.parametrize(
    ("env", "named"),
    [
        ({}, "SECRET_KEY"),
        ({"JUNGOPTIC_SECRET_KEY": "x" * 49}, "SECRET_KEY has 49"),
        ({"JUNGOPTIC_DEMO": "maybe"}, "DEMO"),
        ({"JUNGOPTIC_DEMO": "1", "JUNGOPTIC_DB_PORT": "x"}, "DB_PORT"),
    ],
)
def test_settings_say_which_variable_is_wrong(env, named):
    with pytest.raises(ValueError, match=f"JUNGOPTIC_{named}"):
        Config.from_env(env)


def test_the_page_and_its_headers(client):
    answer = client.get("/productions/anything")
    assert answer.status_code == 200
    assert b'id="app"' in answer.content
    assert "frame-ancestors 'none'" in answer["Content-Security-Policy"]
    assert "csrftoken" in answer.cookies
    assert "geolocation=()" in answer["Permissions-Policy"]
    assert client.post("/").status_code == 405


def test_how_the_api_is_spoken_to_is_for_members():
    for path in ("docs", "openapi.json"):
        assert Client().get(f"/api/{path}").status_code == 401
        assert Api(make_person(f"reads-{path}")).client.get(f"/api/{path}").status_code == 200


class TestBehindHttps:
    """Settings of a real server, in a process of its own."""

    def django(self, *args: str) -> subprocess.CompletedProcess[str]:
        env = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
            "PYTHONPATH": str(ROOT / "src"),
            "JUNGOPTIC_BEHIND_HTTPS": "1",
            "JUNGOPTIC_DEMO": "0",
            "JUNGOPTIC_DEBUG": "0",
            "JUNGOPTIC_SECRET_KEY": secrets.token_urlsafe(60),
            "JUNGOPTIC_ALLOWED_HOSTS": "films.example",
        }
        # For tests with a browser, and never for a server.
        env.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
        command = [sys.executable, "-m", "django", *args]
        return subprocess.run(command, env=env, capture_output=True, text=True, check=False)

    def test_djangos_own_list_for_deployment_finds_nothing(self):
        """Source: the deployment checklist of Django (`check --deploy`)."""
        done = self.django("check", "--deploy", "--fail-level", "WARNING")
        assert done.returncode == 0, done.stdout + done.stderr

    def test_plain_http_is_sent_on_and_cookies_are_bound_to_the_host(self):
        told = (
            "import django; django.setup()\n"
            "from django.test import Client\n"
            "c = Client(SERVER_NAME='films.example')\n"
            "print(c.get('/').status_code, c.get('/', secure=True).status_code)\n"
            "a = c.get('/', secure=True)\n"
            "print(a['Strict-Transport-Security'], *sorted(a.cookies))\n"
            "print(a.cookies['__Host-csrftoken'].OutputString())\n"
        )
        done = self.django("shell", "-v", "0", "-c", told)
        first, second, third, *_ = done.stdout.splitlines()
        assert first == "301 200", done.stderr
        assert second == "max-age=31536000 __Host-csrftoken"
        # RFC 6265bis, 4.1.3.2: secure, of the whole host, and without a domain.
        assert "Secure" in third
        assert "Path=/" in third
        assert "Domain" not in third


def test_old_sessions_are_forgotten():
    from django.contrib.sessions.models import Session

    from jungoptic.web.accounts.tasks import forget_expired_sessions

    Session.objects.create(session_key="old", session_data="", expire_date="2020-01-01T00:00:00Z")
    forget_expired_sessions(0)
    assert not Session.objects.filter(pk="old").exists()
