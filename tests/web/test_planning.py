"""Planning, cards, takes and exports through the API, against the core's own answers."""

from __future__ import annotations

import csv
import io
import json
import uuid

import pytest
from django.core.management import call_command

from jungoptic.core.report.shot_report import report
from jungoptic.web.demo import PRODUCTION, load
from jungoptic.web.plans.bridge import load as to_core
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.print_drawing import scale_bar_m
from jungoptic.web.printing.pages import document
from jungoptic.web.productions.models import Production
from jungoptic.web.takes.models import SetCard, Take
from jungoptic.web.takes.pdf import card_html
from tests.conftest import Api
from tests.kept_demo import lay_demo


def issue(stage) -> dict:
    answer = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards")
    assert answer.status_code == 200, answer.content
    return answer.json()


class TestCalculator:
    def test_it_answers_what_the_core_computes(self, stage):
        plan = plan_json(stage.shot)
        got = stage.api.post("/calc/shot", plan).json()["plates"][0]
        want = report(to_core(plan)).plates[0]
        assert got["verdict"] == want.verdict
        assert got["stage"]["axis_m"] == pytest.approx(1.5 / 12)
        assert [f["sentence"] for f in got["findings"]] == [f.sentence for f in want.findings]

    def test_it_asks_the_database_for_the_session_only(self, stage, django_assert_num_queries):
        plan = plan_json(stage.shot)
        with django_assert_num_queries(2):
            stage.api.post("/calc/shot", plan)

    def test_infinity_becomes_null(self, stage):
        plan = plan_json(stage.shot)
        plan["plates"][0].update(scale=1.0, f_number=22.0)
        stage_numbers = stage.api.post("/calc/shot", plan).json()["plates"][0]["stage"]
        assert stage_numbers["depth_far_m"] is None

    def test_what_cannot_be_built_is_said(self, stage):
        plan = plan_json(stage.shot)
        plan["plates"][0].update(focus_world_m=0.02)
        got = stage.api.post("/calc/shot", plan).json()["plates"][0]
        assert got["findings"][0]["key"] == "impossible"
        assert got["stage"] is None


class TestLists:
    def test_queries_do_not_grow_with_rows(self, stage, django_assert_max_num_queries):
        for i in range(30):
            shot = Shot.objects.create(
                production=stage.production,
                number=str(i),
                title="T",
                delivery_width_px=1920,
                delivery_height_px=804,
                playback_fps=24,
            )
            StandIn.objects.create(shot=shot, name="S", kind="box")
        with django_assert_max_num_queries(6):
            page = stage.api.get(f"{stage.path}/shots?limit=10").json()
        assert (len(page["items"]), page["count"]) == (10, 31)
        with django_assert_max_num_queries(6):
            stage.api.get("/productions")
        with django_assert_max_num_queries(13):
            stage.api.get(f"{stage.path}/kit")

    def test_pages_have_bounds(self, stage):
        assert stage.api.get(f"{stage.path}/shots?limit=0").status_code == 422
        assert stage.api.get(f"{stage.path}/shots?limit=x").status_code == 422

    def test_a_new_production_belongs_to_its_maker(self, stage):
        made = stage.api.post("/productions", {"name": "Second"}).json()
        assert made["role"] == "owner"
        names = [p["name"] for p in stage.api.get("/productions").json()["items"]]
        assert names == ["A film", "Second"]


class TestCards:
    def test_a_card_freezes_its_numbers(self, stage):
        card = issue(stage)
        assert card["slate"] == "1A-1"
        stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": 1, "scale": 6})
        again = stage.api.get(f"{stage.path}/cards/{card['id']}").json()
        assert again["content"] == card["content"]
        assert issue(stage)["slate"] == "1A-2"

    def test_cautions_are_on_every_card(self, stage):
        stage.plate.hazards = ["fire"]
        stage.plate.save()
        keys = [h["key"] for h in issue(stage)["content"]["cautions"]]
        assert keys == ["lamps", "fire"]

    def test_no_card_without_kit(self, stage):
        stage.plate.lens = None
        stage.plate.save()
        answer = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards")
        assert answer.status_code == 422
        assert SetCard.objects.count() == 0

    def test_it_prints(self, stage):
        card = issue(stage)
        answer = stage.api.get(f"{stage.path}/cards/{card['id']}/pdf")
        assert answer["Content-Type"] == "application/pdf"
        assert answer.content.startswith(b"%PDF")
        for page in document(card_html(SetCard.objects.get(pk=card["id"]))).pages:
            # A5 is 148 x 210 mm (ISO 216); CSS counts 96 px to the inch.
            assert page.width * 25.4 / 96 == pytest.approx(148, abs=0.1)
            assert page.height * 25.4 / 96 == pytest.approx(210, abs=0.1)

    def test_markup_in_names_is_only_text(self, stage):
        stage.plate.name = "<script>alert(1)</script>"
        stage.plate.save()
        card = issue(stage)
        assert stage.api.get(f"{stage.path}/cards/{card['id']}/pdf").status_code == 200

    @pytest.mark.parametrize(
        ("longest", "bar"), [(0.99, 0.5), (1.0, 1.0), (3.4, 2.0), (0.06, 0.05)]
    )
    def test_scale_bars_are_round(self, longest, bar):
        assert scale_bar_m(longest) == pytest.approx(bar)


class TestTakes:
    def log(self, stage, card, **readings):
        return stage.api.post(f"{stage.path}/cards/{card['id']}/takes", readings)

    def test_a_take_as_planned_is_kept(self, stage):
        take = self.log(stage, issue(stage), circled=True).json()
        page = stage.api.get(f"{stage.path}/takes/{take['id']}").json()
        assert page["report"]["verdict"] == "holds"
        assert page["take"]["circled"] is True
        assert page["take"]["logged_by"] == "owner"

    def test_departures_are_judged_against_the_card_not_the_present_plan(self, stage):
        card = issue(stage)
        stage.api.patch(
            f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "camera_height_m": 3}
        )
        take = self.log(stage, card, axis_height_m=0.16).json()
        page = stage.api.get(f"{stage.path}/takes/{take['id']}").json()
        assert page["report"]["departures"][0]["planned"] == "124 mm"
        assert page["report"]["advice"].startswith("Go again")

    def test_depth_to_infinity_is_still_json(self, stage):
        stage.plate.scale, stage.plate.f_number = 1.0, 22.0
        stage.plate.save()
        take = self.log(stage, issue(stage), f_number=22.0).json()
        page = stage.api.get(f"{stage.path}/takes/{take['id']}")
        parsed = json.loads(page.content, parse_constant=lambda word: pytest.fail(word))
        assert "infinity" in parsed["report"]["departures"][0]["cost"]

    def test_numbers_count_up_and_a_retry_logs_once(self, stage):
        card = issue(stage)
        body = {"id": "0b9f6a0e-3c4e-4a55-9d8e-6d3f6a1b2c3d", "note": "one"}
        numbers = [self.log(stage, card, **body).json()["number"] for _ in range(2)]
        assert numbers == [1, 1]
        assert self.log(stage, card).json()["number"] == 2

    def test_a_reading_no_lens_can_have(self, stage):
        answer = self.log(stage, issue(stage), focus_tape_m=0.05)
        assert answer.status_code == 422
        assert "cannot focus there" in answer.json()["message"]
        assert Take.objects.count() == 0

    def test_passes_of_a_lock_off_are_held_against_each_other(self, stage):
        stage.plate.lock_group, stage.plate.focus_world_m = "A", 22.0
        stage.plate.save()
        other = Plate.objects.get(pk=stage.plate.pk)
        other.pk, other.name, other.position = uuid.uuid4(), "Clean pass", 2.0
        other.save(force_insert=True)
        first = self.log(stage, issue(stage)).json()
        path = f"{stage.path}/takes/{first['id']}"
        alone = stage.api.get(path).json()["report"]
        assert not any(f["key"].startswith("partner") for f in alone["findings"])
        card = stage.api.post(f"{stage.path}/plates/{other.pk}/cards").json()
        self.log(stage, card, axis_height_m=0.16)
        found = {f["key"]: f for f in stage.api.get(path).json()["report"]["findings"]}
        beside = found[f"partner-{other.pk}"]
        assert beside["verdict"] == "breaks"
        assert beside["title"].startswith("Beside Clean pass, ")
        # A better take of it is circled: that one counts.
        self.log(stage, card, circled=True)
        report = stage.api.get(path).json()["report"]
        assert report["verdict"] == "holds"
        rows = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/takes.csv").content.decode()
        told = [r["verdict"] for r in csv.DictReader(io.StringIO(rows))]
        assert told == ["holds", "breaks", "holds"]

    def test_a_correction_judges_again(self, stage):
        take = self.log(stage, issue(stage), axis_height_m=0.16).json()
        path = f"{stage.path}/takes/{take['id']}"
        stage.api.patch(path, {"revision": 1, "axis_height_m": None})
        assert stage.api.get(path).json()["report"]["verdict"] == "holds"


class TestExport:
    def test_plates_as_csv(self, stage):
        stage.plate.name = "=HYPERLINK(1)"
        stage.plate.save()
        answer = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/plates.csv")
        (row,) = csv.DictReader(io.StringIO(answer.content.decode("utf-8")))
        assert float(row["lens axis height (m)"]) == pytest.approx(0.125)
        assert row["plate"] == "'=HYPERLINK(1)"  # a spreadsheet must not run it
        assert row["verdict"] == "holds"

    def test_takes_as_csv(self, stage):
        card = issue(stage)
        body = {"axis_height_m": 0.16, "note": 'höher, "quoted"'}
        stage.api.post(f"{stage.path}/cards/{card['id']}/takes", body)
        answer = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/takes.csv")
        (row,) = csv.DictReader(io.StringIO(answer.content.decode("utf-8")))
        assert row["note"] == 'höher, "quoted"'
        assert (row["tilt (deg)"], row["verdict"]) == ("", "breaks")

    def test_json_reads_back_into_the_same_answer(self, stage):
        answer = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/export.json")
        body = json.loads(answer.content)
        plan = {k: body[k] for k in ("shot", "plates", "stand_ins", "bodies", "lenses")}
        assert report(to_core(plan)).plates[0].verdict == "holds"


@pytest.mark.django_db
class TestDemo:
    def test_it_loads_once_and_shows_what_it_should(self):
        assert load() is True
        assert load() is False
        production = Production.objects.get(name=PRODUCTION)
        two, three = (production.shots.get(number=n) for n in ("2", "3"))
        mill, ansa = report(to_core(plan_json(two))).plates
        floor = next(f for f in mill.findings if f.key == "floor")
        assert floor.verdict == "breaks"
        assert floor.remedies[0].verdict == "holds"
        assert ansa.verdict == "holds"
        broken = [
            f.key
            for p in report(to_core(plan_json(three))).plates
            for f in p.findings
            if f.verdict != "holds"
        ]
        assert broken == ["split"], "only Ilse's elbow"
        assert Take.objects.filter(card__plate__shot=three).count() == 1

    def test_the_roles_of_the_demo_people(self):
        lay_demo()
        from jungoptic.web.accounts.models import User

        def role(name: str) -> str:
            api = Api(User.objects.get(username=name))
            return api.get("/productions").json()["items"][0]["role"]

        roles = {name: role(name) for name in ("supervisor", "friend", "visitor")}
        assert roles == {"supervisor": "owner", "friend": "crew", "visitor": "viewer"}


@pytest.mark.django_db
def test_no_migration_is_missing():
    call_command("makemigrations", "--check", "--dry-run", verbosity=0)
