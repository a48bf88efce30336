"""Verdicts kept for every process, and what is read for many shots at once."""

from __future__ import annotations

import datetime

import pytest
from django.db import models
from django.utils import timezone

from jungoptic.web.board import board
from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.kept import answers
from jungoptic.web.kept.models import KeptAnswer
from jungoptic.web.kit.models import Lens
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.productions.models import Production
from tests.conftest import Api
from tests.kept_demo import lay_demo


@pytest.fixture
def judged(monkeypatch):
    """How often a shot was judged."""
    times = []
    real = board._judged

    def counted(plan):
        times.append(plan["shot"]["number"])
        return real(plan)

    monkeypatch.setattr(board, "_judged", counted)
    return times


def ask(stage):
    return stage.api.get(f"{stage.path}/board/verdicts?shots={stage.shot.pk}").json()


class TestKeeping:
    def test_a_shot_is_judged_once_until_anything_changes(self, stage, judged):
        first = ask(stage)
        assert ask(stage) == first
        assert judged == ["1"]
        Plate.objects.filter(pk=stage.plate.pk).update(scale=6)
        ask(stage)
        assert len(judged) == 2
        Lens.objects.update(name="Another name")
        ask(stage)
        assert judged == ["1", "1", "1"]
        # As it was before, it is still known.
        Plate.objects.filter(pk=stage.plate.pk).update(scale=12)
        Lens.objects.update(name="28 mm")
        assert ask(stage) == first
        assert len(judged) == 3

    def test_another_build_judges_anew(self, stage, judged, monkeypatch):
        ask(stage)
        monkeypatch.setattr(answers, "build", lambda: "another")
        ask(stage)
        assert len(judged) == 2

    def test_the_build_is_told_by_its_text(self, tmp_path, monkeypatch):
        folder = tmp_path / "jungoptic" / "web" / "kept"
        folder.mkdir(parents=True)
        (tmp_path / "jungoptic" / "core").mkdir()
        rule = tmp_path / "jungoptic" / "core" / "rule.py"
        rule.write_text("LIMIT = 1")
        monkeypatch.setattr(answers, "__file__", str(folder / "answers.py"))
        before = answers.build.__wrapped__()
        assert answers.build.__wrapped__() == before
        rule.write_text("LIMIT = 2")
        assert answers.build.__wrapped__() != before

    def test_questions_and_plans_do_not_mix(self):
        kit = {"lenses": [1]}
        one, two = answers.keys([{"shot": 1, **kit}, {"shot": 2, **kit}], "a")
        assert one != two
        assert answers.keys([{"shot": 1, **kit}], "b") != [one]
        assert answers.keys([{"shot": 1, "lenses": [1]}], "a") == [one]
        assert answers.keys([{"shot": 1, "lenses": [2]}], "a") != [one]

    def test_two_at_once_keep_the_same(self, db):
        answers.put({"k": {"verdict": "holds"}})
        answers.put({"k": {"verdict": "holds"}, "l": 1})
        assert answers.get(["k", "l", "m"]) == {"k": {"verdict": "holds"}, "l": 1}

    def test_old_ones_go_and_those_beyond_the_most(self, db, monkeypatch):
        monkeypatch.setattr(answers, "MOST", 2)
        now = timezone.now()
        for name, hours in (("a", 24 * 8), ("b", 3), ("c", 2), ("d", 1)):
            KeptAnswer.objects.create(key=name, answer="1")
            at = now - datetime.timedelta(hours=hours)
            KeptAnswer.objects.filter(key=name).update(at=at)
        assert answers.forget() == 2
        assert set(KeptAnswer.objects.values_list("key", flat=True)) == {"c", "d"}
        assert answers.forget() == 0


class TestReading:
    """What is shown of many shots is read once, and nothing is fetched a second time for one."""

    @pytest.fixture
    def told(self, db, monkeypatch):
        lay_demo()
        production = Production.objects.get()

        def late(record, *args, **options):
            raise AssertionError(f"{type(record).__name__}: {options.get('fields')} read late")

        monkeypatch.setattr(models.Model, "refresh_from_db", late)
        return Api(production.memberships.first().user), f"/productions/{production.pk}"

    @pytest.mark.parametrize(
        "path",
        ["board", "hours", "days", "continuity", "export/board.csv", "export/board.otio"],
    )
    def test_nothing_is_read_late(self, told, path):
        api, production = told
        answer = api.get(f"{production}/{path}")
        assert answer.status_code == 200, answer.content

    def test_nor_for_paper_and_verdicts(self, told):
        api, production = told
        asked = api.post(f"{production}/jobs", {"kind": "breakdown-pdf"}).json()
        carry_out(asked["id"])
        job = api.get(f"{production}/jobs/{asked['id']}").json()
        assert job["state"] == "done", job["problem"]
        ids = "&".join(f"shots={pk}" for pk in Shot.objects.values_list("pk", flat=True)[:14])
        assert api.get(f"{production}/board/verdicts?{ids}").status_code == 200

    def test_hours_of_one_shot_read_that_and_the_logged_ones(self, told, monkeypatch):
        api, production = told
        want = {str(s.pk): s for s in Shot.objects.all()}
        shot = Shot.objects.get(number="7")
        seen = []
        real = board.full_shots
        from jungoptic.web.breakdown import loading

        def counted(*args, **options):
            found = real(*args, **options)
            seen.append({s.number for s in found})
            return found

        monkeypatch.setattr(loading, "full_shots", counted)
        whole = loading.load_breakdown(shot.production)
        answer = api.get(f"{production}/shots/{shot.pk}/effort").json()
        logged = {s.number for s in want.values() if s.logged_hours.exists()}
        assert seen[1] == logged | {"7"}
        assert seen[1] < seen[0]
        # At the same pace as when every shot is read.
        assert answer["set"]["likely"] == pytest.approx(whole.effort_of(shot).set.likely)
