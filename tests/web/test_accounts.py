"""Signing in and out, password rules, and what strangers learn."""

from __future__ import annotations

import pytest

from jungoptic.web.config import Config
from tests.conftest import PASSWORD, Api, make_person

pytestmark = pytest.mark.django_db


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


def test_guessing_is_slowed_down():
    codes = [
        Api().post("/session", {"username": "ansa", "password": str(i)}).status_code
        for i in range(40)
    ]
    assert codes[0] == 403
    assert codes[-1] == 429


@pytest.mark.parametrize(
    ("password", "why"),
    [
        ("short", "too short"),
        ("1234567890123", "numeric"),
        ("password123", "common"),
        ("ilse-the-twin", "similar"),
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
    real = Config.from_env({"JUNGOPTIC_SECRET_KEY": "x"})
    assert not real.demo
    assert not real.open_sign_up


@pytest.mark.parametrize(
    ("env", "named"),
    [
        ({}, "SECRET_KEY"),
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
    assert client.post("/").status_code == 405


def test_old_sessions_are_forgotten():
    from django.contrib.sessions.models import Session

    from jungoptic.web.accounts.tasks import forget_expired_sessions

    Session.objects.create(session_key="old", session_data="", expire_date="2020-01-01T00:00:00Z")
    forget_expired_sessions(0)
    assert not Session.objects.filter(pk="old").exists()
