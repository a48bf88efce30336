"""What is impossible is said; a mistake of ours is owned, found by its id, and never a finding."""

from __future__ import annotations

import json
import logging
from dataclasses import replace

import pytest
from django.db import OperationalError
from django.test import Client

from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import Delivery, Shot, WorldCamera, check_shot
from jungoptic.web import health
from jungoptic.web.logs import WithRequest, written_down
from jungoptic.web.settings import LOGGING

from .any_question import any_question


def question(stage, **shot: object) -> dict[str, object]:
    """The stage's plan as the calculator of a shot takes it."""
    from jungoptic.web.plans.stored import plan_json

    plan = json.loads(json.dumps(plan_json(stage.shot), default=str))
    return {**plan, "shot": {**plan["shot"], **shot}}


class TestImpossible:
    def test_what_makes_no_sense_names_the_field_and_the_cure(self, stage):
        answer = stage.api.post("/calc/shot", question(stage, move_up_m=-5.0))
        assert answer.status_code == 422
        said = answer.json()
        assert (
            said["message"] == "The camera move ends below the ground: crane up, or start higher."
        )
        assert said["fields"] == {"move_up_m": said["message"]}

    def test_the_core_says_which_decision_it_concerns(self):
        shot = Shot(Delivery(1920, 1080, 0.0), WorldCamera(24.9, 35.0, 1.5))
        with pytest.raises(Impossible) as caught:
            check_shot(shot)
        assert caught.value.field == "playback_fps"

    def test_optics_that_cannot_be_are_a_finding_of_that_plate(self, stage):
        asked = question(stage)
        asked["plates"][0]["focus_world_m"] = 0.05
        answer = stage.api.post("/calc/shot", asked)
        assert answer.status_code == 200
        (plate,) = answer.json()["plates"]
        assert plate["findings"][0]["title"] == "Cannot be built"


class TestOurFault:
    @pytest.mark.parametrize("mistake", [ValueError("slip"), ZeroDivisionError(), KeyError("x")])
    def test_a_mistake_is_no_finding(self, stage, monkeypatch, caplog, mistake):
        from jungoptic.core import judging

        def broken(case: object) -> None:
            raise mistake

        rule = replace(judging.RULES[0], speak=broken)
        monkeypatch.setattr(judging, "RULES", (rule,))
        answer = stage.api.post("/calc/shot", question(stage))
        assert answer.status_code == 500
        said = answer.json()
        assert "on our side" in said["message"]
        # What the person reads finds the line in the log.
        assert answer["X-Request-Id"] in said["message"]
        assert any(r.exc_info and r.exc_info[1] is mistake for r in caplog.records)

    def test_so_it_is_outside_the_api(self, stage, monkeypatch):
        from jungoptic.web import views

        def broken(*_: object) -> None:
            raise ZeroDivisionError

        monkeypatch.setattr(views, "render", broken)
        answer = Client(raise_request_exception=False).get("/productions")
        assert answer.status_code == 500
        assert answer["X-Request-Id"] in answer.json()["message"]


class TestAway:
    def test_a_database_that_is_away_is_said_so(self, stage, monkeypatch):
        def away(*_: object, **__: object) -> None:
            raise OperationalError("connection refused")

        monkeypatch.setattr("jungoptic.web.plans.api.shots_of", away)
        answer = stage.api.get(f"{stage.path}/shots")
        assert answer.status_code == 503
        assert answer["Retry-After"] == "5"
        assert "nothing was changed" in answer.json()["message"]

    def test_alive_asks_nobody(self, django_assert_num_queries, db):
        with django_assert_num_queries(0):
            assert Client().get("/api/health/live").json() == {"ok": True}

    def test_ready_tells_what_the_jobs_do(self, db):
        from procrastinate.contrib.django import app

        from jungoptic.web.accounts.tasks import forget_expired_sessions

        told = Client().get("/api/health/ready").json()
        assert told == {"ok": True, "waiting": 0, "running": 0, "failed": 0, "overdue": False}
        assert app is not None
        forget_expired_sessions.defer(timestamp=0)
        told = Client().get("/api/health/ready").json()
        assert (told["waiting"], told["overdue"]) == (1, False)

    def test_a_job_that_nobody_takes_is_overdue(self, db, monkeypatch):
        from datetime import timedelta

        from jungoptic.web.accounts.tasks import forget_expired_sessions

        forget_expired_sessions.defer(timestamp=0)
        monkeypatch.setattr(health, "OVERDUE", timedelta(seconds=-1))
        assert Client().get("/api/health/ready").json()["overdue"] is True


class TestNoJson:
    @pytest.mark.parametrize(
        "path", ["/session", "/accounts", "/productions", "/calc/shot", "/calc/planner"]
    )
    @pytest.mark.parametrize("body", [b"", b"--x\r\n", b'{"a": 1}'])
    def test_a_form_where_json_is_read_is_refused(self, stage, path, body):
        answer = stage.api.client.post(
            f"/api{path}", body, content_type="multipart/form-data; boundary=x"
        )
        assert answer.status_code in (400, 415, 422)
        assert set(answer.json()) == {"message", "fields"}


class TestLogs:
    def test_every_answer_leaves_one_line(self, stage, caplog):
        with caplog.at_level(logging.INFO, logger="jungoptic.requests"):
            stage.api.get("/productions")
        (line,) = [r for r in caplog.records if r.name == "jungoptic.requests"]
        assert (line.method, line.path, line.status) == ("GET", "/api/productions", 200)
        assert line.user == stage.owner.pk
        assert line.ms > 0

    def test_a_slow_calculation_is_told_louder(self, rf, caplog, monkeypatch):
        monkeypatch.setattr("jungoptic.web.logs.SLOW_S", -1.0)
        from django.http import HttpResponse

        with caplog.at_level(logging.WARNING, logger="jungoptic.requests"):
            written_down(lambda _: HttpResponse())(rf.post("/api/calc/shot"))
        assert [r.message for r in caplog.records] == ["slow calculation"]

    def test_a_line_is_json_and_carries_the_request(self):
        from pythonjsonlogger.json import JsonFormatter

        record = logging.LogRecord("jungoptic", logging.INFO, "", 0, "done", None, None)
        record.ms = 3.5
        assert WithRequest().filter(record)
        line = json.loads(JsonFormatter(LOGGING["formatters"]["json"]["format"]).format(record))
        assert (line["message"], line["ms"], line["request_id"]) == ("done", 3.5, "")


@pytest.mark.parametrize("block", range(8))
def test_any_plan_that_the_forms_accept_is_answered(stage, block):
    """Whatever the schemas let through gets an answer or is refused in a sentence; nothing of it is
    our mistake. The plans are read off the schemas, so a new field is tried from its first day."""
    for seed in range(block * 12, block * 12 + 12):
        answer = stage.api.post("/calc/shot", any_question(seed))
        assert answer.status_code in (200, 422), (seed, answer.json())


class TestDescription:
    """What the API says of itself is how it answers."""

    def test_every_endpoint_says_how_an_error_answers(self, stage):
        schema = stage.api.get("/openapi.json").json()
        problem = {"$ref": "#/components/schemas/Problem"}
        for path, operations in schema["paths"].items():
            for operation in operations.values():
                for status in ("4XX", "5XX"):
                    told = operation["responses"][status]["content"]["application/json"]
                    assert told["schema"] == problem, path
        assert set(schema["components"]["schemas"]["Problem"]["properties"]) == {
            "message",
            "fields",
        }

    def test_files_say_their_kind(self, stage):
        schema = stage.api.get("/openapi.json").json()
        for path, kind in (
            ("/export/board.csv", "text/csv"),
            ("/shots/{shot_id}/sketches.pdf", "application/pdf"),
            ("/shots/{pk}/plates.csv", "text/csv"),
        ):
            (found,) = [
                o["get"] for p, o in schema["paths"].items() if p.endswith(path) and "get" in o
            ]
            assert list(found["responses"]["200"]["content"]) == [kind]
            answer = stage.api.get(
                f"{stage.path}{path.format(pk=stage.shot.pk, shot_id=stage.shot.pk)}"
            )
            assert answer["Content-Type"].partition(";")[0] == kind

    @pytest.mark.parametrize("path", ["/api/none", "/api/%0A", "/api/a%0Ab/%9B", "/api//"])
    def test_an_address_that_is_none_answers_json(self, client, db, path):
        answer = client.get(path)
        assert answer.status_code == 404
        assert answer.json()["message"]
