"""Long work: asked for once, watched, stopped, cut off, kept for a day, and gone with its
production."""

from __future__ import annotations

import datetime
import json
from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.management import call_command
from django.db import connection
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from jungoptic.core import planner
from jungoptic.render.engine import MISSING, available
from jungoptic.web.exchange.breakdown_pdf import BREAKDOWN
from jungoptic.web.jobs import again, carry, kinds, tasks, warm
from jungoptic.web.jobs.models import FOLDER, Job, State
from jungoptic.web.jobs.work import CARRY, Kind, Nothing
from jungoptic.web.management.commands import work
from jungoptic.web.permissions import Verb
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.printing import child as printing
from jungoptic.web.productions.models import Membership, Production
from tests.conftest import Api, make_person, make_stage, new_id


def ask(stage, kind="breakdown-pdf", **more):
    return stage.api.post(f"{stage.path}/jobs", {"kind": kind, **more})


def watch(stage, pk):
    return stage.api.get(f"{stage.path}/jobs/{pk}").json()


@pytest.fixture
def kind(monkeypatch):
    """A kind of work for a test: what it does is put into `do`."""

    def made(do):
        one = Kind("test", "A test", Verb.VIEW, Nothing, do)
        monkeypatch.setitem(kinds.KINDS, "test", one)

    return made


class TestAsking:
    def test_the_same_id_asks_once(self, stage):
        pk = new_id()
        first, second = ask(stage, id=pk), ask(stage, id=pk)
        assert first.json()["id"] == second.json()["id"] == pk
        assert Job.objects.count() == 1
        told = first.json()
        assert (told["state"], told["name"], told["mine"], told["asked_by"]) == (
            "waiting",
            "Breakdown on paper",
            True,
            "owner",
        )

    def test_an_id_of_another_production_is_taken(self, stage):
        pk = new_id()
        ask(stage, id=pk)
        other = make_stage(stage.owner, "Other")
        assert ask(other, id=pk).status_code == 422

    def test_what_it_cannot_be_is_named(self, stage):
        unknown = ask(stage, kind="coffee")
        assert unknown.status_code == 422
        assert "breakdown-pdf" in unknown.json()["message"]
        wrong = ask(stage, kind="duplicate", params={"ids": ["x"]})
        assert wrong.status_code == 422
        assert "params.ids.0" in wrong.json()["fields"]
        assert ask(stage, params={"more": 1}).status_code == 422

    def test_one_person_takes_no_more_than_a_share(self, stage):
        for _ in range(4):
            assert ask(stage).status_code == 200
        full = ask(stage)
        assert full.status_code == 429
        assert "let one end first" in full.json()["message"]
        # Somebody else is not kept from anything.
        person = make_person("crew")
        Membership.objects.create(production=stage.production, user=person, role="crew")
        body = {"kind": "breakdown-pdf"}
        assert Api(person).post(f"{stage.path}/jobs", body).status_code == 200

    def test_a_viewer_gets_paper_and_no_copies(self, stage):
        person = make_person("viewer")
        Membership.objects.create(production=stage.production, user=person, role="viewer")
        api = Api(person)
        copies = {"kind": "duplicate", "params": {"ids": [str(stage.shot.pk)]}}
        assert api.post(f"{stage.path}/jobs", copies).status_code == 403
        job = ask(stage).json()
        assert api.get(f"{stage.path}/jobs/{job['id']}").json()["mine"] is False
        assert api.post(f"{stage.path}/jobs/{job['id']}/cancel").status_code == 403
        own = api.post(f"{stage.path}/jobs", {"kind": "breakdown-pdf"}).json()
        assert api.post(f"{stage.path}/jobs/{own['id']}/cancel").json()["state"] == "cancelled"


class TestDoing:
    def test_copies_are_made_as_one_step(self, stage):
        job = stage.api.work(stage.path, "duplicate", ids=[str(stage.shot.pk)])
        assert job["state"] == "done"
        assert Shot.objects.filter(variant_of=stage.shot).count() == 1
        assert stage.api.post(f"{stage.path}/steps/{job['result']['step']}/undo").status_code == 200
        assert Shot.objects.filter(variant_of=stage.shot).count() == 0

    def test_every_plate_is_followed_as_the_core_does(self, stage):
        lens = str(stage.plate.lens_id)
        job = stage.api.work(stage.path, "replan", **{"without": [lens]})
        plan = load(plan_json(Shot.objects.select_related("production").get()))
        want = list(planner.replan([("", plan)], frozenset({lens})))
        assert [c["plate"] for c in job["result"]["changes"]] == [c.plate for c in want]
        assert [c["after"] for c in job["result"]["changes"]] == [c.after for c in want]
        same = stage.api.post(f"{stage.path}/replan", {"without": [lens]}).json()
        assert job["result"] == json.loads(json.dumps(same))

    def test_it_tells_how_far_it_is(self, stage, kind):
        seen = []

        def do(work):
            for done in range(4):
                work._told = 0.0
                work.tell(done, 4, "things")
                seen.append(watch(stage, work.job.pk))

        kind(do)
        job = stage.api.work(stage.path, "test")
        assert [(one["part"], one["told"]) for one in seen] == [
            (0.0, "0 of 4 things"),
            (0.25, "1 of 4 things"),
            (0.5, "2 of 4 things"),
            (0.75, "3 of 4 things"),
        ]
        assert {one["state"] for one in seen} == {"running"}
        assert (job["state"], job["part"]) == ("done", 1.0)

    def test_it_stops_when_nobody_wants_it(self, stage, kind):
        after = []

        def do(work):
            stage.api.post(f"{stage.path}/jobs/{work.job.pk}/cancel")
            work.tell(0, 2, "things")
            after.append("went on")

        kind(do)
        assert stage.api.work(stage.path, "test")["state"] == "cancelled"
        assert after == []

    def test_it_stops_with_its_production(self, stage, kind):
        after = []

        def do(work):
            Production.objects.all().delete()
            work.tell(0, 2, "things")
            after.append("went on")

        kind(do)
        pk = ask(stage, kind="test").json()["id"]
        carry.carry_out(pk)
        assert after == []
        assert not Job.objects.exists()

    @pytest.mark.parametrize(
        ("error", "said"),
        [
            (printing.TooLarge("Print fewer."), "Print fewer."),
            (MemoryError(), "more memory than it may"),
            (KeyError("ours"), "went wrong on our side"),
        ],
    )
    def test_what_goes_wrong_is_said(self, stage, kind, error, said):
        def do(work):
            raise error

        kind(do)
        job = stage.api.work(stage.path, "test")
        assert job["state"] == "failed"
        assert said in job["problem"]

    def test_a_job_is_done_once(self, stage, kind):
        times = []
        kind(times.append)
        job = stage.api.work(stage.path, "test")
        carry.carry_out(job["id"])
        carry.carry_out(new_id())
        assert len(times) == 1


class TestKeeping:
    def test_a_worker_that_is_gone_is_told(self, stage):
        job = ask(stage).json()
        long_ago = timezone.now() - datetime.timedelta(minutes=2)
        Job.objects.filter(pk=job["id"]).update(state=State.RUNNING, seen_at=long_ago)
        told = watch(stage, job["id"])
        assert told["state"] == "failed"
        assert "cut off" in told["problem"]
        stopped = stage.api.post(f"{stage.path}/jobs/{job['id']}/cancel").json()
        assert stopped["state"] == "cancelled"

    def test_the_file_goes_to_members_only(self, stage):
        job = stage.api.work(stage.path, "breakdown-pdf")
        file = f"{stage.path}/jobs/{job['id']}/file"
        assert stage.api.get(file).getvalue().startswith(b"%PDF")
        assert Api(make_person("nobody")).get(file).status_code == 404
        waiting = ask(stage).json()["id"]
        assert stage.api.get(f"{stage.path}/jobs/{waiting}/file").status_code == 404
        default_storage.delete(Job.objects.get(pk=job["id"]).file)
        gone = stage.api.get(file)
        assert gone.status_code == 404
        assert "ask for it again" in gone.json()["message"]

    def test_a_day_is_over(self, stage):
        job = stage.api.work(stage.path, "breakdown-pdf")
        stored = Job.objects.get(pk=job["id"]).file
        young = default_storage.save(f"{FOLDER}/young", ContentFile(b"x"))
        assert tasks.forget() == 0
        Job.objects.update(asked_at=timezone.now() - datetime.timedelta(days=2))
        assert stage.api.get(f"{stage.path}/jobs/{job['id']}").status_code == 404
        assert stage.api.get(f"{stage.path}/jobs").json() == []
        assert tasks.forget() == 1
        # The file is a day old too by then; one that was only just kept is left.
        path = default_storage.path(stored)
        _grow_old(path)
        tasks.forget()
        assert not default_storage.exists(stored)
        assert default_storage.exists(young)

    def test_the_list_does_not_grow_by_queries(self, stage, django_assert_max_num_queries):
        for _ in range(3):
            stage.api.work(stage.path, "breakdown-pdf")
        with django_assert_max_num_queries(8):
            rows = stage.api.get(f"{stage.path}/jobs").json()
        assert [row["state"] for row in rows] == ["done"] * 3


def _grow_old(path):
    import os
    import time

    then = time.time() - 2 * 86_400
    os.utime(path, (then, then))


@pytest.mark.django_db(transaction=True)
class TestInAProcessOfItsOwn:
    @pytest.fixture(autouse=True)
    def own_folder(self, settings, monkeypatch):
        monkeypatch.setenv("JUNGOPTIC_DATA_DIR", str(Path(settings.MEDIA_ROOT).parent))

    def test_a_real_child_prints_it(self):
        stage = make_stage(make_person("owner"))
        pk = str(
            Job.objects.create(
                production=stage.production, asked_by=stage.owner, kind="breakdown-pdf"
            ).pk
        )
        tasks.carry(pk)
        job = Job.objects.get(pk=pk)
        assert (job.state, job.part) == ("done", 1.0), job.problem
        with default_storage.open(job.file) as file:
            assert file.read(4) == b"%PDF"

    def test_a_job_nobody_wants_ends_its_process(self):
        stage = make_stage(make_person("owner"))
        job = Job.objects.create(
            production=stage.production, asked_by=stage.owner, kind="breakdown-pdf", cancel=True
        )
        tasks.carry(str(job.pk))
        job.refresh_from_db()
        assert job.state == "cancelled"

    def test_a_warm_one_does_one_job_after_another(self, monkeypatch):
        """Here it prints instead of developing: what it does is the same."""
        hand = warm.Hand()
        monkeypatch.setattr(tasks, "HAND", hand)
        monkeypatch.setitem(kinds.KINDS, "breakdown-pdf", replace(BREAKDOWN, warm=True))
        stage = make_stage(make_person("owner"))
        made = [
            Job.objects.create(
                production=stage.production, asked_by=stage.owner, kind="breakdown-pdf", **more
            )
            for more in ({}, {}, {"cancel": True}, {})
        ]
        seen = []
        for job in made:
            tasks.carry(str(job.pk))
            job.refresh_from_db()
            seen.append((job.state, hand._child.pid, hand._child.poll()))
        assert [state for state, _, _ in seen] == ["done", "done", "cancelled", "done"]
        # The one that nobody wanted took its process along; the next was given a new one.
        assert seen[0][1] == seen[1][1] == seen[2][1] != seen[3][1]
        assert seen[3][2] is None
        # One that holds too much memory is let go, and another takes its place.
        monkeypatch.setattr(warm, "LARGEST", 1)
        last = Job.objects.create(
            production=stage.production, asked_by=stage.owner, kind="breakdown-pdf"
        )
        tasks.carry(str(last.pk))
        last.refresh_from_db()
        assert last.state == "done"
        assert hand._child.pid != seen[3][1]
        hand._child.stdin.close()
        assert hand._child.wait(timeout=60) == 0

    @pytest.mark.skipif(not available(), reason=MISSING)
    def test_one_that_has_begun_makes_the_engine_ready_and_waits(self, monkeypatch, tmp_path):
        monkeypatch.setenv("DRJIT_CACHE_DIR", str(tmp_path))
        hand = warm.Hand()
        hand.begin(tasks.MEMORY)
        child = hand._child
        # The first job goes to it; here to one that is gone meanwhile.
        assert hand.give(new_id(), tasks.MEMORY) is child
        child.stdin.close()
        assert child.wait(timeout=120) == 0
        # What the engine has compiled is there.
        assert any(tmp_path.iterdir())

    @pytest.mark.parametrize(
        ("queues", "begins"), [("short,housekeeping", True), ("long", False), ("", True)]
    )
    def test_a_worker_begins_with_what_somebody_will_wait_for(self, queues, begins, monkeypatch):
        begun, called = [], []
        monkeypatch.setattr(work, "HAND", SimpleNamespace(begin=begun.append))
        monkeypatch.setattr(work, "call_command", lambda *told: called.append(told))
        call_command("work", *([f"--queues={queues}"] if queues else []), "--name=x")
        assert begun == [tasks.MEMORY] * begins
        given = [f"--queues={queues}"] if queues else []
        assert called == [("procrastinate", "worker", *given, "--name=x")]

    def test_out_of_memory_takes_nobody_along(self, monkeypatch):
        monkeypatch.setattr(tasks, "MEMORY", 1 << 26)
        stage = make_stage(make_person("owner"))
        job = Job.objects.create(
            production=stage.production, asked_by=stage.owner, kind="breakdown-pdf"
        )
        tasks.carry(str(job.pk))
        job.refresh_from_db()
        assert job.state == "failed"
        assert "too much memory" in job.problem


class TestPrinting:
    def test_a_document_that_is_too_large_is_refused(self):
        small = printing.Limit(300 << 20, 1)
        with pytest.raises(printing.TooLarge, match="print fewer"):
            printing.pdf("<p>x</p>" * 400_000, small)

    def test_a_card_that_is_too_large_says_so(self, stage, monkeypatch):
        Plate.objects.update(room=None)
        card = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()
        monkeypatch.setattr(printing, "PAGE", printing.Limit(1 << 26, 1))
        monkeypatch.setattr(printing.pdf, "__defaults__", (printing.Limit(1 << 26, 1),))
        answer = stage.api.get(f"{stage.path}/cards/{card['id']}/pdf")
        assert answer.status_code == 422
        assert "print fewer" in answer.json()["message"]


class TestTakenUp:
    """A worker may be killed, and the database go, between asking and beginning."""

    @pytest.fixture
    def job(self, stage):
        pk = ask(stage).json()["id"]
        Job.objects.filter(pk=pk).update(asked_at=timezone.now() - datetime.timedelta(minutes=2))
        return Job.objects.get(pk=pk)

    def rows(self, job):
        return ProcrastinateJob.objects.filter(args__job_id=str(job.pk))

    def test_what_nobody_does_is_begun_again_once(self, job):
        assert again.take_up() == 1
        (row,) = self.rows(job)
        assert (row.status, row.queue_name, row.task_name) == ("todo", "long", CARRY)
        assert again.take_up() == 0

    @pytest.mark.parametrize(
        ("status", "heard", "begun"),
        [
            ("failed", None, 1),
            ("doing", None, 1),
            ("doing", datetime.timedelta(minutes=5), 1),
            ("doing", datetime.timedelta(seconds=5), 0),
        ],
    )
    def test_a_worker_that_lives_is_left_alone(self, job, status, heard, begun):
        again.take_up()
        with connection.cursor() as raw:
            worker = None
            if heard is not None:
                raw.execute(
                    "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (%s) RETURNING id",
                    [timezone.now() - heard],
                )
                (worker,) = raw.fetchone()
            raw.execute(
                "UPDATE procrastinate_jobs SET status = %s::procrastinate_job_status, "
                "worker_id = %s",
                [status, worker],
            )
        assert again.take_up() == begun
        assert self.rows(job).count() == 1 + begun

    def test_what_waits_in_order_has_ended_or_is_unwanted_is_no_matter(self, job):
        for change in (
            {"asked_at": timezone.now()},
            {"cancel": True},
            {"state": State.RUNNING},
            {"state": State.DONE},
        ):
            before = {name: getattr(job, name) for name in change}
            Job.objects.filter(pk=job.pk).update(**change)
            assert again.take_up() == 0, change
            Job.objects.filter(pk=job.pk).update(**before)
        assert again.take_up() == 1
