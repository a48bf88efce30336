"""What was stored by every version before is read today: cards open, takes are judged as they were.

The fixtures were written by the versions of the application that they are named after.
"""

from __future__ import annotations

import copy
import json
from pathlib import Path

import pytest

from jungoptic.core.cards.takes import Taken, judge_take
from jungoptic.web import documents
from jungoptic.web.blocks.answers import measures
from jungoptic.web.blocks.models import Exposure
from jungoptic.web.documents import CARD, CARD_PLAN, JOURNAL, KINDS, STEP, TooNew
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.bridge import load
from jungoptic.web.recipes import book
from jungoptic.web.takes.files import facts
from jungoptic.web.takes.models import SetCard, Take
from jungoptic.web.takes.told import CardContent

KEPT = Path(__file__).parents[1] / "fixtures" / "documents"
CARDS = ["card_first", "card_with_tapes", "card_with_tricks", "card_now"]


def kept(name: str):
    return json.loads((KEPT / f"{name}.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("name", CARDS)
class TestCards:
    def test_what_stands_on_it_has_todays_form(self, name):
        CardContent.model_validate(CARD.read(kept(name)["content"]))

    def test_its_take_is_judged_as_before(self, name):
        card = kept(name)
        shot = load(CARD_PLAN.read(card["plan"]))
        found = judge_take(shot, shot.plates[0], Taken(**card["take"]["readings"]))
        was = card["take"]["report"]
        assert str(found.verdict) == was["verdict"]
        assert found.advice == was["advice"]
        then = [(d["name"], d["planned"], d["actual"], d["verdict"]) for d in was["departures"]]
        assert then == [(d.name, d.planned, d.actual, str(d.verdict)) for d in found.departures]

    def test_it_opens_prints_and_takes_a_take(self, name, stage):
        card = kept(name)
        stored = SetCard.objects.create(
            board=7,
            plate=stage.plate,
            slate=card["slate"],
            content=card["content"],
            plan=card["plan"],
        )
        path = f"{stage.path}/cards/{stored.pk}"
        answer = stage.api.get(path)
        assert answer.status_code == 200, answer.content
        assert stage.api.get(f"{path}/pdf")["Content-Type"] == "application/pdf"
        take = stage.api.post(f"{path}/takes", card["take"]["readings"]).json()
        page = stage.api.get(f"{stage.path}/takes/{take['id']}").json()
        assert page["report"]["verdict"] == card["take"]["report"]["verdict"]
        # What is stored stays as the crew saw it.
        stored.refresh_from_db()
        assert (stored.content, stored.plan) == (card["content"], card["plan"])
        assert Take.objects.filter(card=stored).count() == 1


@pytest.mark.parametrize("name", ["recipe_first", "recipe_now"])
def test_a_recipe_that_was_applied_is_still_that_recipe(name):
    recipe = book.thawed(kept(name))
    assert recipe.passes
    assert {p["key"] for p in kept(name)["passes"]} == {p.key for p in recipe.passes}
    assert book.thawed(book.frozen(recipe)) == recipe


@pytest.mark.parametrize("name", ["step_first", "step_now"])
def test_a_step_tells_what_it_did(name):
    stored = kept(name)
    ops = STEP.read({"ops": stored} if isinstance(stored, list) else stored)["ops"]
    assert {op["op"] for op in ops} <= {"make", "change"}
    assert {"shot", "plate", "standin"} <= {op["model"] for op in ops}
    assert all(op["after"] for op in ops)


def test_the_journal_is_read():
    entry = JOURNAL.read(kept("journal_first"))
    assert entry["kind"] == "plate"
    assert entry["after"]["name"]


@pytest.mark.parametrize("name", ["facts_first"])
def test_what_a_file_said_is_still_told(name):
    found = facts(Picture(facts=kept(name)))
    assert found is not None
    assert (found.kind, found.width_px, found.missing) == ("clip", 4096, ())
    assert found.readings == {}


def test_what_was_measured_of_a_picture_is_still_told():
    found = measures(Exposure(told=kept("taken_first")))
    assert found is not None
    assert (found.before.shift, found.same) == ((0.00002, -0.00001), False)


class TestLifting:
    @pytest.mark.parametrize("kind", KINDS, ids=lambda k: k.name)
    def test_what_is_written_now_comes_back_as_it_is(self, kind):
        document = {"a": [1, {"b": 2}], "bodies": [], "marks": [], "cautions": []}
        stored = kind.stamped(document)
        assert stored["version"] == kind.current
        assert kind.read(stored) == document

    @pytest.mark.parametrize("kind", KINDS, ids=lambda k: k.name)
    def test_reading_leaves_what_is_stored_alone(self, kind):
        card = kept("card_first")
        stored = {"card": card["content"], "plan": card["plan"]}.get(kind.name[:4], {"x": [1]})
        before = copy.deepcopy(stored)
        kind.read(stored)
        assert stored == before

    def test_later_ones_are_refused_in_words(self):
        with pytest.raises(TooNew, match="later version"):
            CARD.read({"version": CARD.current + 1})

    def test_every_kind_is_counted(self):
        declared = {v for v in vars(documents).values() if isinstance(v, documents.Kind)}
        assert declared == set(KINDS)

    def test_an_old_codec_says_by_its_name_whether_frames_hang_together(self):
        modes = [{"codec": "8-bit long-GOP"}, {"codec": "intra"}, {"codec": "x", "long_gop": True}]
        (body,) = CARD_PLAN.read({"bodies": [{"modes": modes}]})["bodies"]
        assert [m["long_gop"] for m in body["modes"]] == [True, False, True]

    def test_passes_that_focused_for_themselves_still_do(self):
        """Plates of one lock-off focus together since; a card of before is judged as then."""
        plates = [
            {"lock_group": "A", "focus_world_m": None},
            {"lock_group": "A", "focus_world_m": 3.0},
            {"lock_group": "", "focus_world_m": None},
        ]
        found = CARD_PLAN.read({"version": 3, "plates": plates})["plates"]
        assert [p["pass_for"] for p in found] == ["focus", "", ""]

    def test_rooms_of_before_give_no_light_back(self):
        """What walls give back is counted since; a card of before is judged as then."""
        found = CARD_PLAN.read({"version": 4, "rooms": [{"name": "Garage"}]})["rooms"]
        assert [room["reflectance"] for room in found] == [0.0]

    def test_zooms_of_before_are_set_by_the_width_alone(self):
        """Height and padding count since; a card of before is judged as then."""
        assert CARD_PLAN.read({"version": 5})["zooms_across"]
        assert not CARD_PLAN.read(CARD_PLAN.stamped({})).get("zooms_across")
