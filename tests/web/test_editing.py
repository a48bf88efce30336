"""Autosave: revisions, conflicts, retries, the journal, and a killed server."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request

import pytest
from django.db import connection

from jungoptic.web.journal.models import Entry
from jungoptic.web.plans.models import Plate, StandIn
from tests.conftest import Api, make_person, make_stage, new_id


class TestRevisions:
    def test_an_edit_moves_the_revision_on(self, stage):
        answer = stage.api.patch(
            f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "f_number": 11}
        )
        assert answer.status_code == 200
        assert answer.json()["revision"] == 2
        assert answer.json()["f_number"] == 11

    def test_a_stale_edit_changes_nothing_and_shows_what_is_there(self, stage):
        path = f"{stage.path}/plates/{stage.plate.pk}"
        stage.api.patch(path, {"revision": 1, "note": "theirs"})
        answer = stage.api.patch(path, {"revision": 1, "note": "mine"})
        assert answer.status_code == 409
        assert answer.json()["current"]["note"] == "theirs"
        assert answer.json()["current"]["revision"] == 2
        stage.plate.refresh_from_db()
        assert stage.plate.note == "theirs"

    def test_only_named_fields_change(self, stage):
        stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "iso": 400})
        stage.plate.refresh_from_db()
        assert (stage.plate.iso, stage.plate.f_number, stage.plate.scale) == (400, 16, 12)

    def test_every_edit_is_written_down(self, stage):
        stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "iso": 400})
        entry = Entry.objects.first()
        assert entry is not None
        assert (entry.action, entry.who) == ("edited", stage.owner.username)
        assert (entry.before, entry.after) == ({"iso": 800.0}, {"iso": 400.0})

    def test_removal_keeps_what_it_was(self, stage):
        stage.api.delete(f"{stage.path}/stand-ins/{stage.stand_in.pk}")
        entry = Entry.objects.first()
        assert entry is not None
        assert entry.before["y_m"] == 20

    def test_two_windows_at_once_lose_nothing(self, transactional_db):
        stage = make_stage(make_person("owner"))
        path = f"{stage.path}/plates/{stage.plate.pk}"
        answers = []

        def window(note: str) -> None:
            answers.append(Api(stage.owner).patch(path, {"revision": 1, "note": note}))
            connection.close()

        threads = [threading.Thread(target=window, args=(f"window {i}",)) for i in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        codes = sorted(a.status_code for a in answers)
        assert codes == [200, 409, 409, 409]
        won = next(a for a in answers if a.status_code == 200).json()["note"]
        stage.plate.refresh_from_db()
        assert stage.plate.note == won


class TestCreation:
    def test_a_retry_makes_no_twin(self, stage):
        body = {"id": new_id(), "name": "Ansa", "kind": "figure", "plate_id": str(stage.plate.pk)}
        path = f"{stage.path}/shots/{stage.shot.pk}/stand-ins"
        first, second = stage.api.post(path, body), stage.api.post(path, body)
        assert first.status_code == second.status_code == 200
        assert first.json()["id"] == second.json()["id"] == body["id"]
        assert StandIn.objects.filter(name="Ansa").count() == 1

    def test_an_id_of_another_production_is_not_given_away(self, stage, stranger_stage):
        body = {"id": str(stranger_stage.stand_in.pk), "name": "X", "kind": "box"}
        answer = stage.api.post(f"{stage.path}/shots/{stage.shot.pk}/stand-ins", body)
        assert answer.status_code == 422
        assert "id" in answer.json()["fields"]

    def test_a_removed_plate_takes_what_it_films_along(self, stage):
        tree = StandIn.objects.create(shot=stage.shot, name="Tree", kind="card")
        assert stage.api.delete(f"{stage.path}/plates/{stage.plate.pk}").status_code == 204
        assert list(StandIn.objects.filter(shot=stage.shot)) == [tree]
        gone = Entry.objects.filter(action="removed", kind="standin")
        assert [entry.record_id for entry in gone] == [str(stage.stand_in.pk)]

    def test_a_plate_with_cards_stays(self, stage):
        stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards")
        answer = stage.api.delete(f"{stage.path}/plates/{stage.plate.pk}")
        assert answer.status_code == 422
        assert "set cards" in answer.json()["message"]
        assert Plate.objects.filter(pk=stage.plate.pk).exists()


def _answer(port: int, method: str, path: str, cookie: str = "", body: object = None):
    request = urllib.request.Request(
        f"http://127.0.0.1:{port}{path}",
        method=method,
        data=None if body is None else json.dumps(body).encode(),
        headers={
            "Content-Type": "application/json",
            "Cookie": cookie,
            "X-CSRFToken": dict(c.split("=", 1) for c in cookie.split("; ") if c).get(
                "csrftoken", ""
            ),
        },
    )
    with urllib.request.urlopen(request, timeout=20) as response:
        cookies = [h.split(";")[0] for h in response.headers.get_all("Set-Cookie") or []]
        return json.load(response), "; ".join(cookies)


def test_a_server_killed_right_after_saving_has_saved(transactional_db):
    stage = make_stage(make_person("owner"))
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    env = {
        **os.environ,
        "JUNGOPTIC_DB_NAME": str(connection.settings_dict["NAME"]),
        "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
    }
    command = [sys.executable, "-m", "gunicorn", "jungoptic.web.wsgi", "-b", f"127.0.0.1:{port}"]
    server = subprocess.Popen([*command, "--no-control-socket"], env=env, start_new_session=True)
    try:
        for _ in range(200):
            try:
                _, cookie = _answer(port, "GET", "/api/session")
                break
            except OSError:
                time.sleep(0.1)
        else:
            pytest.fail("the server did not start")
        cookie += f"; sessionid={stage.api.client.cookies['sessionid'].value}"
        path = f"/api{stage.path}/plates/{stage.plate.pk}"
        said, _ = _answer(port, "PATCH", path, cookie, {"revision": 1, "note": "kept"})
        assert said["revision"] == 2
    finally:
        os.killpg(server.pid, signal.SIGKILL)
        server.wait()
    stage.plate.refresh_from_db()
    assert (stage.plate.note, stage.plate.revision) == ("kept", 2)
