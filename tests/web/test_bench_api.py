"""The Bench on the server: rooms, lamps and moves kept; planner, comparing, what-if, printing."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jungoptic.core import planner
from jungoptic.core.report.shot_report import plate_report, report
from jungoptic.web.board import cutting
from jungoptic.web.calc.bench_pdf import bench_html
from jungoptic.web.kit.models import Lamp, Lens, Room
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.printing.pages import document
from jungoptic.web.takes.models import SetCard
from tests.conftest import Api, new_id
from tests.kept_demo import lay_demo

from .test_permissions import LAMP, ROOM


@pytest.fixture
def lit(stage):
    """The stage with a room, a lamp and a second lens in its kit."""
    production = stage.production
    stage.room = Room.objects.create(
        production=production, name="Garage", length_m=6, width_m=5, height_m=2.4, mains_hz=50
    )
    stage.lamp = Lamp.objects.create(
        production=production, name="Panel", lux_at_1m=2600, size_m=0.4, count=3
    )
    stage.wide = Lens.objects.create(
        production=production,
        name="20 mm",
        focal_min_mm=20,
        focal_max_mm=20,
        widest_stop=2,
        smallest_stop=22,
        close_focus_m=0.2,
    )
    return stage


def plan_of(stage) -> dict:
    return plan_json(Shot.objects.select_related("production").get(pk=stage.shot.pk))


class TestKept:
    def test_a_lamp_told_in_short_is_stored_whole(self, lit):
        lamp = {"lamp_id": str(lit.lamp.pk), "x_m": 0.5, "y_m": 1, "z_m": 1.5}
        path = f"{lit.path}/plates/{lit.plate.pk}"
        answer = lit.api.patch(path, {"revision": lit.plate.revision, "lamps": [lamp]}).json()
        lit.plate.refresh_from_db()
        # The same words as the answer has, so that sending it back changes nothing.
        assert lit.plate.lamps == answer["lamps"]
        again = lit.api.patch(path, {"revision": answer["revision"], "lamps": answer["lamps"]})
        kept = lit.plate.lamps
        lit.plate.refresh_from_db()
        assert again.status_code == 200
        assert lit.plate.lamps == kept

    def test_room_lamps_and_tape_ends_come_back_as_they_were_sent(self, lit):
        lamp = {"lamp_id": str(lit.lamp.pk), "x_m": 0.5, "y_m": 1.2, "z_m": 0.8, "level": 0.5}
        changes = {
            "room_id": str(lit.room.pk),
            "room_turned": True,
            "room_behind_m": 0.4,
            "table_m": 0.8,
            "mirror": True,
            "lamps": [lamp],
            "fix_left_x_m": -1.5,
        }
        path = f"{lit.path}/plates/{lit.plate.pk}"
        answer = lit.api.patch(path, {"revision": 1, **changes})
        assert answer.status_code == 200, answer.content
        whole = lit.api.get(f"{lit.path}/shots/{lit.shot.pk}").json()["plates"][0]
        kept = {**whole, "lamps": [{k: whole["lamps"][0][k] for k in lamp}]}
        assert {k: kept[k] for k in changes} == changes

    def test_a_move_and_a_walk_reach_the_core(self, lit):
        sent = {"move_right_m": 2.0, "move_pan_deg": -5.0, "move_ease": "in", "padding": 0.04}
        lit.api.patch(f"{lit.path}/shots/{lit.shot.pk}", {"revision": 1, **sent})
        walk = {"revision": 1, "speed_m_s": 1.4, "course_deg": 270}
        lit.api.patch(f"{lit.path}/stand-ins/{lit.stand_in.pk}", walk)
        core = load(plan_of(lit))
        assert (core.move.right_m, core.move.pan_deg, core.move.ease) == (2.0, -5.0, "in")
        assert core.padding == 0.04
        assert core.stand_ins[0].speed_m_s == 1.4

    def test_realism_is_told_once_for_advice_and_rules(self, lit):
        facts = {"shows": ["place"], "realism": 1}
        lit.api.patch(f"{lit.path}/shots/{lit.shot.pk}", {"revision": 1, "facts": facts})
        assert load(plan_of(lit)).realism == 1

    def test_loans_reach_the_core_and_run_forwards(self, lit):
        path = f"{lit.path}/lenses/{lit.wide.pk}"
        bad = {"loan_first": "2026-11-29", "loan_last": "2026-11-01"}
        answer = lit.api.patch(path, {"revision": 1, "borrowed": True, **bad})
        assert answer.status_code == 422
        assert "ends before it begins" in answer.json()["fields"]["loan_last"]
        good = {"loan_first": "2026-11-01", "loan_last": "2026-11-29"}
        assert lit.api.patch(path, {"revision": 1, "borrowed": True, **good}).status_code == 200
        lens = next(x for x in load(plan_of(lit)).kit.lenses if x.name == "20 mm")
        assert lens.loan.borrowed
        assert lens.loan.last is not None
        assert lens.loan.last.isoformat() == "2026-11-29"

    @pytest.mark.parametrize(
        ("body", "field"),
        [
            ({"lamps": [{"lamp_id": new_id(), "x_m": 0, "y_m": 1, "z_m": 1}]}, "lamps"),
            ({"room_id": new_id()}, "room_id"),
            ({"lamps": [{"x_m": 0}]}, "lamps.0.lamp_id"),
            ({"table_m": -1}, "table_m"),
            ({"mirror": "maybe"}, "mirror"),
            ({"lamps": [{}] * 25}, "lamps"),
        ],
    )
    def test_what_makes_no_sense_is_named(self, lit, body, field):
        answer = lit.api.patch(f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, **body})
        assert answer.status_code == 422
        assert field in answer.json()["fields"]
        lit.plate.refresh_from_db()
        assert lit.plate.revision == 1

    def test_another_productions_room_and_stand_in_are_refused(self, lit, stranger_stage):
        theirs = Room.objects.create(
            production=stranger_stage.production, name="R", length_m=6, width_m=5
        )
        path = f"{lit.path}/plates/{lit.plate.pk}"
        assert lit.api.patch(path, {"revision": 1, "room_id": str(theirs.pk)}).status_code == 422
        path = f"{lit.path}/stand-ins/{lit.stand_in.pk}"
        look = {"revision": 1, "looks_at_id": str(stranger_stage.stand_in.pk)}
        assert "looks_at_id" in lit.api.patch(path, look).json()["fields"]

    def test_lamps_and_rooms_are_made_once_and_removed(self, stage):
        for many, body in (("lamps", LAMP), ("rooms", ROOM)):
            pk = new_id()
            made = [stage.api.post(f"{stage.path}/{many}", {**body, "id": pk}) for _ in range(2)]
            assert [m.json()["id"] for m in made] == [pk, pk]
            assert stage.api.delete(f"{stage.path}/{many}/{pk}").status_code == 204
            assert stage.api.get(f"{stage.path}/kit").json()[many] == []

    def test_a_removed_room_leaves_its_plates_asking(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(room=lit.room)
        lit.api.delete(f"{lit.path}/rooms/{lit.room.pk}")
        lit.plate.refresh_from_db()
        assert lit.plate.room_id is None

    def test_a_variant_keeps_who_looks_at_whom(self, lit):
        other = StandIn.objects.create(
            shot=lit.shot, name="Gate", kind="box", looks_at=lit.stand_in
        )
        cutting.duplicate(lit.owner, lit.production, [lit.shot.pk])
        twin = Shot.objects.get(variant_of=lit.shot)
        copy = twin.stand_ins.get(name="Gate")
        assert copy.looks_at == twin.stand_ins.get(name="Mill")
        assert copy.looks_at_id != other.looks_at_id


class TestCalculator:
    def test_a_moment_and_the_selected_plate(self, lit):
        plan = plan_of(lit)
        plan["shot"]["move_right_m"] = 2.0
        asked = {**plan, "at": 1.0, "selected": str(lit.plate.pk)}
        got = lit.api.post("/calc/shot", asked).json()
        want = report(load(plan), at=1.0, selected=str(lit.plate.pk))
        assert got["frame"] == want.frame == 96
        assert got["plates"][0]["rail"]["scale"] == 12
        assert got["plates"][0]["workings"]["axis_m"]["result"]["unit"] == "mm"
        assert got["grips"][0]["x_px"] == pytest.approx(want.grips[0].x_px)

    def test_sentences_follow_the_notation(self, lit):
        plan = {**plan_of(lit), "notation": {"length": "feet"}}
        plan["shot"]["camera_height_m"] = 1.0
        floor = next(
            f
            for f in lit.api.post("/calc/shot", plan).json()["plates"][0]["findings"]
            if f["key"] == "floor"
        )
        assert '"' in floor["sentence"]
        assert (
            lit.api.post("/calc/shot", {**plan, "notation": {"length": "ells"}}).status_code == 422
        )

    def test_the_planner_answers_as_the_core_does(self, lit):
        plan = plan_of(lit)
        plan["plates"][0]["room_id"] = str(lit.room.pk)
        asked = {**plan, "plate_id": str(lit.plate.pk), "wishes": {"keep_scale": True, "light": 3}}
        got = lit.api.post("/calc/planner", asked)
        assert got.status_code == 200, got.content
        core = load(plan)
        want = planner.search(
            core, core.plates[0], planner.Wishes(keep_scale=True, light=3.0), most=8
        )
        assert got.json()["candidates"] == want.candidates
        assert [w["changes"] for w in got.json()["ways"]] == [w.changes for w in want.ways]

    def test_what_it_proposes_can_be_saved_as_it_is(self, lit):
        asked = {**plan_of(lit), "plate_id": str(lit.plate.pk)}
        way = lit.api.post("/calc/planner", asked).json()["ways"][0]
        answer = lit.api.patch(
            f"{lit.path}/plates/{lit.plate.pk}", {"revision": 1, **way["changes"]}
        )
        assert answer.status_code == 200, answer.content

    def test_comparing_lays_several_decisions_side_by_side(self, lit):
        plan = plan_of(lit)
        ways = [{}, {"lens_id": str(lit.wide.pk)}, {"scale": 8, "f_number": 11}]
        asked = {**plan, "plate_id": str(lit.plate.pk), "candidates": ways}
        got = lit.api.post("/calc/compare", asked).json()
        core = load(plan)
        for answer, way in zip(got, ways, strict=True):
            tried = replace(core.plates[0], **way)
            want = plate_report(replace(core, plates=(tried,)), tried, False)
            assert want.stage is not None
            assert answer["verdict"] == want.verdict
            assert answer["stage"]["pixels_across"] == pytest.approx(want.stage.pixels_across)

    @pytest.mark.parametrize(
        ("candidates", "field"),
        [([{"colour": 1}], "colour"), ([{"scale": 0}], "scale"), ([{}] * 4, "candidates")],
    )
    def test_comparing_nonsense_names_it(self, lit, candidates, field):
        asked = {**plan_of(lit), "plate_id": str(lit.plate.pk), "candidates": candidates}
        answer = lit.api.post("/calc/compare", asked)
        assert answer.status_code == 422
        assert field in answer.json()["fields"]

    def test_a_plate_that_is_not_in_the_plan(self, lit):
        for name, more in (("planner", {}), ("compare", {"candidates": [{}]})):
            answer = lit.api.post(f"/calc/{name}", {**plan_of(lit), "plate_id": new_id(), **more})
            assert answer.status_code == 422
            assert "plate_id" in answer.json()["fields"]

    @given(
        st.dictionaries(
            st.sampled_from(
                ["scale", "lamps", "room_id", "table_m", "focus_world_m", "film_on", "mirror"]
            ),
            st.one_of(
                st.none(),
                st.floats(allow_nan=False, allow_infinity=False),
                st.text(max_size=6),
                st.booleans(),
                st.lists(
                    st.dictionaries(st.text(max_size=3), st.integers(), max_size=2), max_size=2
                ),
            ),
            max_size=4,
        )
    )
    @settings(
        max_examples=60,
        suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
    )
    def test_random_decisions_never_break_the_server(self, lit, changes):
        plan = plan_of(lit)
        asked = {**plan, "plate_id": str(lit.plate.pk)}
        compared = lit.api.post("/calc/compare", {**asked, "candidates": [changes]})
        assert compared.status_code in {200, 422}, compared.content
        asked["plates"] = [{**plan["plates"][0], **changes}]
        for name in ("planner", "shot"):
            body = (
                asked if name == "planner" else {k: v for k, v in asked.items() if k != "plate_id"}
            )
            answer = lit.api.post(f"/calc/{name}", body)
            assert answer.status_code in {200, 422}, answer.content


class TestWaysOut:
    """One finding opened: its ways out, as the core tries them."""

    def asked(self, lit, key, **changes):
        plan = plan_of(lit)
        plan["plates"][0] |= changes
        question = {**plan, "plate_id": str(lit.plate.pk), "key": key}
        return plan, lit.api.post("/calc/ways-out", question)

    def test_they_are_the_reports_own(self, lit):
        low = {"f_number": 2.0, "iso": 100, "scale": 16, "light_lux": 10.0}
        (told,) = report(load({**plan_of(lit), "plates": [plan_of(lit)["plates"][0] | low]})).plates
        offered = {f.key: [r.sentence for r in f.remedies] for f in told.findings}
        assert any(offered.values())
        for key, want in offered.items():
            got = self.asked(lit, key, **low)[1].json()["remedies"]
            assert [r["sentence"] for r in got] == want

    def test_a_rule_that_holds_or_has_nothing_to_say_has_none(self, lit):
        for key in ("crowd", "no such rule"):
            assert self.asked(lit, key)[1].json() == {"remedies": [], "otherwise": ""}

    def test_where_nothing_mends_it_it_says_what_it_would_take(self, lit):
        _, answer = self.asked(lit, "light", light_lux=0.01)
        got = answer.json()
        assert not any(r["changes"] for r in got["remedies"])
        assert got["remedies"] or got["otherwise"]

    def test_pairs_are_tried_some_at_a_time_until_there_are_no_more(self, lit):
        plan = plan_of(lit)
        plan["plates"][0] |= {"light_lux": 30.0, "f_number": 16.0, "iso": 100}
        question = {**plan, "plate_id": str(lit.plate.pk), "key": "light"}
        tried, more, found = 0, True, []
        while more:
            got = lit.api.post("/calc/pairs-out", {**question, "begin": tried}).json()
            assert tried <= got["tried"] <= got["of"]
            assert got["tried"] > tried or not got["more"]
            tried, more = got["tried"], got["more"]
            found += got["remedies"]
        assert any({"iso", "f_number"} <= set(r["changes"]) for r in found)
        nothing = {"remedies": [], "tried": 0, "of": got["of"], "more": False}
        assert lit.api.post("/calc/pairs-out", {**question, "key": "nothing"}).json() == nothing
        past = lit.api.post("/calc/pairs-out", {**question, "begin": got["of"] + 1})
        assert past.status_code == 422

    def test_a_plate_that_is_not_in_the_plan(self, lit):
        plan = {**plan_of(lit), "plate_id": str(lit.shot.pk), "key": "depth"}
        answer = lit.api.post("/calc/ways-out", plan)
        assert answer.status_code == 422
        assert "plate_id" in answer.json()["fields"]


class TestWithout:
    def test_a_lens_lent_out(self, lit):
        body = {"without": [str(lit.plate.lens_id)]}
        got = lit.api.post(f"{lit.path}/replan", body).json()
        assert got["shots"] == 1
        (change,) = got["changes"]
        assert (change["uses"], change["number"], change["before"]) == (True, "1", "holds")
        assert change["instead"]["lens"] == "20 mm"
        plan = {**plan_of(lit), "taken": body}
        (same,) = lit.api.post("/calc/replan", plan).json()
        assert same["instead"] == change["instead"]

    def test_it_stores_nothing(self, lit):
        lit.api.post(f"{lit.path}/replan", {"without": [str(lit.plate.lens_id)], "whole": True})
        lit.plate.refresh_from_db()
        assert lit.plate.revision == 1
        assert lit.plate.lens_id is not None

    def test_queries_do_not_grow_with_shots_and_plates(self, lit):
        def queries() -> int:
            with CaptureQueriesContext(
                connection,
            ) as seen:
                answer = lit.api.post(f"{lit.path}/replan", {"whole": True})
            assert answer.status_code == 200
            return len(seen)

        few = queries()
        for _ in range(3):
            ids = list(Shot.objects.values_list("pk", flat=True))
            cutting.duplicate(lit.owner, lit.production, ids)
        for shot in Shot.objects.all():
            Plate.objects.create(
                shot=shot, name="Second", kind="live", body=lit.plate.body, mode=lit.plate.mode
            )
        assert Shot.objects.count() == 8
        assert queries() == few

    def test_only_the_shots_that_were_asked_for(self, lit):
        assert lit.api.post(f"{lit.path}/replan", {"shots": []}).json()["shots"] == 0
        assert lit.api.post(f"{lit.path}/replan", {"shots": [new_id()]}).json()["changes"] == []
        assert lit.api.post(f"{lit.path}/replan", {"without": ["x"]}).status_code == 422


class TestPaper:
    def path(self, stage, **more) -> str:
        query = "&".join(f"{k}={v}" for k, v in {"plate": stage.plate.pk, **more}.items())
        return f"{stage.path}/shots/{stage.shot.pk}/bench.pdf?{query}"

    def test_the_bench_is_one_page_of_a4(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(
            room=lit.room,
            table_m=0.8,
            lamps=[{"lamp_id": str(lit.lamp.pk), "x_m": 0.4, "y_m": 1, "z_m": 1, "level": 1}] * 3,
        )
        answer = lit.api.get(self.path(lit, at=0.5, length="feet"))
        assert answer.content.startswith(b"%PDF")
        core = load(plan_of(lit))
        (page,) = document(bench_html(core, core.plates[0], "1 Mill")).pages
        # A4 is 210 x 297 mm (ISO 216); CSS counts 96 px to the inch.
        assert page.width * 25.4 / 96 == pytest.approx(297, abs=0.1)
        assert page.height * 25.4 / 96 == pytest.approx(210, abs=0.1)

    def test_every_planned_plate_of_the_demo_fits_on_its_page(self, db):
        lay_demo()
        for number in ("2", "3", "8", "9", "13"):
            shot = Shot.objects.select_related("production").get(number=number)
            core = load(plan_json(shot))
            for plate in core.plates:
                assert len(document(bench_html(core, plate, str(shot))).pages) == 1, (
                    number,
                    plate.name,
                )

    def test_a_plate_without_kit_or_of_another_shot(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(lens=None)
        answer = lit.api.get(self.path(lit))
        assert answer.status_code == 422
        assert "no stage yet" in answer.json()["message"]
        assert lit.api.get(self.path(lit, plate=new_id())).status_code == 422
        assert lit.api.get(self.path(lit, at=2)).status_code == 422

    def test_a_card_speaks_the_crews_own_units_for_good(self, lit):
        path = f"{lit.path}/plates/{lit.plate.pk}/cards?length=feet&stop=thirds"
        card = lit.api.post(path).json()
        values = {line["label"]: line["value"] for line in card["content"]["lines"]}
        assert values["Lens axis height"] == '4 7/8"'
        again = lit.api.get(f"{lit.path}/cards/{card['id']}").json()["content"]
        assert again["notation"]["length"] == "feet"
        assert lit.api.get(f"{lit.path}/cards/{card['id']}/pdf").status_code == 200

    def test_a_card_from_before_tapes_and_eyelines_still_opens(self, lit):
        made = lit.api.post(f"{lit.path}/plates/{lit.plate.pk}/cards").json()
        card = SetCard.objects.get(pk=made["id"])
        for name in ("fixed", "eyelines", "notation", "version"):
            del card.content[name]
        for mark in card.content["marks"]:
            for name in ("from_left_m", "from_right_m", "foot_m", "weak"):
                del mark[name]
        # Such a card was frozen with a plan that knew neither rooms nor moves.
        for name in ("lamps", "rooms", "version"):
            del card.plan[name]
        del card.plan["shot"]["move_right_m"], card.plan["shot"]["facts"]
        del card.plan["plates"][0]["lamps"]
        SetCard.objects.filter(pk=card.pk).update(content=card.content, plan=card.plan)
        answer = lit.api.get(f"{lit.path}/cards/{card.pk}")
        assert answer.status_code == 200, answer.content
        assert answer.json()["content"]["marks"][0]["from_left_m"] is None
        assert lit.api.get(f"{lit.path}/cards/{card.pk}/pdf").status_code == 200
        take = lit.api.post(f"{lit.path}/cards/{card.pk}/takes", {"axis_height_m": 0.13}).json()
        assert lit.api.get(f"{lit.path}/takes/{take['id']}").status_code == 200

    def test_a_card_carries_only_what_stands_on_its_stage(self, lit):
        Plate.objects.filter(pk=lit.plate.pk).update(
            room=lit.room,
            lamps=[{"lamp_id": str(lit.lamp.pk), "x_m": 0.4, "y_m": 1, "z_m": 1, "level": 0.5}],
        )
        made = lit.api.post(f"{lit.path}/plates/{lit.plate.pk}/cards").json()
        plan = SetCard.objects.get(pk=made["id"]).plan
        assert [x["name"] for x in plan["lamps"]] == ["Panel"]
        assert [r["name"] for r in plan["rooms"]] == ["Garage"]
        labels = [line["label"] for line in made["content"]["lines"]]
        assert "Panel" in labels
        assert "Room" in labels


def test_the_whole_shot_still_leaves_as_json(lit):
    Plate.objects.filter(pk=lit.plate.pk).update(room=lit.room)
    answer = lit.api.get(f"{lit.path}/shots/{lit.shot.pk}/export.json")
    body = json.loads(answer.content)
    names = ("shot", "plates", "stand_ins", "bodies", "lenses", "lamps", "rooms")
    assert load({k: body[k] for k in names}).kit.rooms[0].name == "Garage"


def test_a_visitor_plans_nothing_but_may_ask(db):
    lay_demo()
    from jungoptic.web.accounts.models import User

    api = Api(User.objects.get(username="visitor"))
    production = api.get("/productions").json()["items"][0]["id"]
    kit = api.get(f"/productions/{production}/kit").json()
    without = {"without": [kit["lenses"][1]["id"]]}
    found = api.post(f"/productions/{production}/replan", without).json()
    assert {c["number"] for c in found["changes"] if c["uses"]} >= {"2", "3"}
