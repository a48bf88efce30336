"""Recipes, the Board, hours, cautions and continuity through the API."""

from __future__ import annotations

import datetime
import uuid

import pytest
from django.test.utils import CaptureQueriesContext

from jungoptic.core.breakdown.recipes import BOOK, BY_KEY
from jungoptic.web.plans.models import Plate, RecipeUse, Shot, StandIn
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import Api, Stage, make_person


def board(stage: Stage) -> dict:
    return stage.api.get(stage.path + "/board").json()


def row(stage: Stage, pk=None) -> dict:
    return next(r for r in board(stage)["rows"] if r["id"] == str(pk or stage.shot.pk))


def undo(stage: Stage) -> dict:
    step = stage.api.get(stage.path + "/steps").json()["undo"]
    answer = stage.api.post(f"{stage.path}/steps/{step['id']}/undo")
    assert answer.status_code == 200, answer.content
    return answer.json()


def redo(stage: Stage) -> dict:
    step = stage.api.get(stage.path + "/steps").json()["redo"]
    answer = stage.api.post(f"{stage.path}/steps/{step['id']}/redo")
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.fixture
def empty_shot(stage: Stage) -> Shot:
    return Shot.objects.create(
        production=stage.production,
        number="2",
        title="Twins",
        delivery_width_px=1920,
        delivery_height_px=804,
        playback_fps=24,
        position=2,
    )


def recipe_path(stage: Stage, shot: Shot, what: str) -> str:
    return f"{stage.path}/shots/{shot.pk}/recipes/{what}"


def apply(stage: Stage, shot: Shot, key: str, **more):
    answer = stage.api.post(recipe_path(stage, shot, "apply"), {"recipe": key, **more})
    assert answer.status_code == 200, answer.content
    return answer.json()


# --- the book


def test_the_book_is_whole_and_drawn(stage: Stage):
    book = stage.api.get("/recipes").json()
    assert [r["key"] for r in book["recipes"]] == [r.key for r in BOOK]
    assert len(book["references"]) == 5
    fire = next(r for r in book["recipes"] if r["key"] == "fire-element")
    assert any("licensed" in w for c in fire["cautions"] for w in c["cautions"])
    found = stage.api.get("/recipes?words=pendulum").json()["recipes"]
    assert [r["key"] for r in found] == ["wire-rod-rig"]
    drawn = stage.api.get("/recipes/twin-split/drawings").json()
    assert [d["pass_key"] for d in drawn] == ["a", "b"]
    assert drawn[0]["plan"]["shapes"]
    missing = stage.api.get("/recipes/nonsense/drawings")
    assert missing.status_code == 422
    assert "no recipe called" in missing.json()["message"]


def test_applying_fills_the_shot_and_undo_empties_it(stage: Stage, empty_shot: Shot):
    preview = stage.api.post(
        recipe_path(stage, empty_shot, "preview"), {"recipe": "twin-split"}
    ).json()
    assert preview["added"] == ["Half A", "Half B", "Clean plate"]
    assert Plate.objects.filter(shot=empty_shot).count() == 0

    done = apply(stage, empty_shot, "twin-split")
    assert done["outcome"]["added"] == preview["added"]
    plates = list(Plate.objects.filter(shot=empty_shot))
    assert [p.name for p in plates] == preview["added"]
    assert {p.lock_group for p in plates} == {"2-A"}
    assert all(p.body_id and p.mode_id and p.lens_id and p.why for p in plates)
    assert StandIn.objects.filter(shot=empty_shot).count() == 2

    undo(stage)
    assert Plate.objects.filter(shot=empty_shot).count() == 0
    assert StandIn.objects.filter(shot=empty_shot).count() == 0
    assert RecipeUse.objects.filter(shot=empty_shot).count() == 0
    redo(stage)
    assert [p.name for p in Plate.objects.filter(shot=empty_shot)] == preview["added"]
    again = {p.name: p.use_id for p in Plate.objects.filter(shot=empty_shot)}
    assert len(set(again.values())) == 1
    assert None not in again.values()


def test_applying_again_adds_what_is_missing_and_spares_edits(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    half = Plate.objects.get(shot=empty_shot, name="Half A")
    stage.api.patch(
        f"{stage.path}/plates/{half.pk}", {"revision": 1, "f_number": 8.0, "name": "Ansa"}
    )
    Plate.objects.get(shot=empty_shot, name="Clean plate").delete()
    assert row(stage, empty_shot.pk)["forgotten"] == ["Clean plate"]
    assert row(stage, empty_shot.pk)["next"] == "Add the forgotten plate: Clean plate"

    preview = stage.api.post(
        recipe_path(stage, empty_shot, "preview"), {"recipe": "twin-split"}
    ).json()
    assert preview["added"] == ["Clean plate"]
    spared = {c["field"]: c for c in preview["changes"]}
    assert spared["f_number"]["edited"]
    assert spared["f_number"]["now"] == 8.0
    assert spared["name"]["recipe"] == "Half A"

    apply(stage, empty_shot, "twin-split")
    half.refresh_from_db()
    assert (half.name, half.f_number) == ("Ansa", 8.0)
    assert Plate.objects.filter(shot=empty_shot, name="Clean plate").exists()
    assert RecipeUse.objects.filter(shot=empty_shot).count() == 1
    nothing = apply(stage, empty_shot, "twin-split")
    assert nothing["outcome"]["added"] == []
    assert nothing["step"] is None


def test_a_pass_that_comes_later_is_filmed_with_the_same_camera(stage: Stage, empty_shot: Shot):
    from jungoptic.web.kit.models import Lens

    wider = Lens.objects.get()
    wider.pk, wider.name, wider.focal_min_mm, wider.focal_max_mm = uuid.uuid4(), "9 mm", 9, 9
    wider.save(force_insert=True)
    apply(stage, empty_shot, "twin-split", passes=["a", "b"])
    # The person chooses another lens for the lock-off than the book would.
    Plate.objects.filter(shot=empty_shot).update(lens=wider)
    apply(stage, empty_shot, "twin-split")
    assert Plate.objects.get(shot=empty_shot, name="Clean plate").lens_id == wider.pk


def test_what_a_recipe_wrote_and_nobody_edited_is_brought_up_to_date(stage, empty_shot):
    apply(stage, empty_shot, "twin-split")
    use = RecipeUse.objects.get(shot=empty_shot)
    half = Plate.objects.get(shot=empty_shot, name="Half A")
    # As if the book had said otherwise when it was applied.
    use.written["a"]["takes_planned"] = 2
    use.save()
    Plate.objects.filter(pk=half.pk).update(takes_planned=2)
    done = apply(stage, empty_shot, "twin-split")
    half.refresh_from_db()
    assert half.takes_planned == BY_KEY["twin-split"].passes[0].work.takes
    assert [c["field"] for c in done["outcome"]["changes"]] == ["takes_planned"]
    undo(stage)
    half.refresh_from_db()
    assert half.takes_planned == 2


def test_recipes_combine_and_keep_their_lock_offs_apart(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    apply(stage, empty_shot, "wire-rod-rig", passes=["take", "clean", "rig"])
    groups = set(Plate.objects.filter(shot=empty_shot).values_list("lock_group", flat=True))
    assert groups == {"2-A", "2-A2"}
    assert [r["key"] for r in row(stage, empty_shot.pk)["recipes"]] == [
        "twin-split",
        "wire-rod-rig",
    ]


def test_undo_refuses_to_lose_a_card_or_an_edit(stage: Stage, empty_shot: Shot):
    step = apply(stage, empty_shot, "twin-split")["step"]
    issue(stage.owner, Plate.objects.filter(shot=empty_shot).first())
    answer = stage.api.post(f"{stage.path}/steps/{step['id']}/undo")
    assert answer.status_code == 422
    assert "issued set cards" in answer.json()["message"]
    assert Plate.objects.filter(shot=empty_shot).count() == 3


def test_undo_and_redo_bring_later_edits_along(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    half = Plate.objects.get(shot=empty_shot, name="Half A")
    stage.api.patch(f"{stage.path}/plates/{half.pk}", {"revision": 1, "film_on": "2026-12-05"})
    undo(stage)
    redo(stage)
    assert Plate.objects.get(pk=half.pk).film_on == datetime.date(2026, 12, 5)


def test_a_step_cannot_be_undone_twice_or_by_others(stage: Stage, empty_shot: Shot):
    step = apply(stage, empty_shot, "twin-split")["step"]
    friend = make_person("friend")
    stage.production.memberships.create(user=friend, role="crew")
    assert Api(friend).post(f"{stage.path}/steps/{step['id']}/undo").status_code == 404
    undo(stage)
    answer = stage.api.post(f"{stage.path}/steps/{step['id']}/undo")
    assert answer.status_code == 422


def test_bad_recipe_requests_are_refused_in_words(stage: Stage, empty_shot: Shot, stranger_stage):
    for body, words in (
        ({"recipe": "nonsense"}, "no recipe called"),
        ({"recipe": "own:nonsense"}, "no recipe called"),
        ({"recipe": f"own:{stage.shot.pk}"}, "no recipe called"),
        ({"recipe": "twin-split", "passes": ["a", "zzz"]}, "no pass called zzz"),
        ({"recipe": "twin-split", "passes": ["a"] * 100}, "Passes must be 60 or fewer"),
        ({}, "Recipe is missing"),
    ):
        answer = stage.api.post(recipe_path(stage, empty_shot, "apply"), body)
        assert answer.status_code == 422, body
        assert words in answer.json()["message"]
    theirs = f"{stage.path}/shots/{stranger_stage.shot.pk}/recipes/apply"
    assert stage.api.post(theirs, {"recipe": "twin-split"}).status_code == 404


def test_own_recipes_are_saved_used_renamed_and_removed(stage: Stage, empty_shot: Shot):
    path = recipe_path(stage, stage.shot, "save")
    own = stage.api.post(path, {"name": "Our mill", "effect": "The mill as we do it."}).json()
    assert own["family_name"] == "Your own"
    assert [p["name"] for p in own["passes"]] == ["Miniature"]
    assert own["passes"][0]["settings"]["scale"] == 12
    apply(stage, empty_shot, own["key"])
    copy = Plate.objects.get(shot=empty_shot)
    assert (copy.scale, copy.f_number) == (12, 16)
    box = StandIn.objects.get(shot=empty_shot)
    assert (box.width_m, box.height_m) == (6, 7)
    drawn = stage.api.get(f"{stage.path}/recipes/{own['own']['id']}/drawings")
    assert drawn.json()[0]["plan"]["shapes"]
    renamed = stage.api.patch(
        f"{stage.path}/recipes/{own['own']['id']}", {"revision": 1, "name": "The mill, ours"}
    )
    assert renamed.json()["name"] == "The mill, ours"
    stale = stage.api.patch(
        f"{stage.path}/recipes/{own['own']['id']}", {"revision": 1, "name": "Late"}
    )
    assert stale.status_code == 409
    assert stage.api.delete(f"{stage.path}/recipes/{own['own']['id']}").status_code == 204
    assert stage.api.get(stage.path + "/recipes").json() == []
    # The shot keeps the text it was built by.
    assert row(stage, empty_shot.pk)["recipes"] == [{"key": own["key"], "name": "Our mill"}]
    refused = stage.api.post(
        recipe_path(
            stage,
            Shot.objects.create(
                production=stage.production,
                number="9",
                title="Bare",
                delivery_width_px=1920,
                delivery_height_px=804,
                playback_fps=24,
            ),
            "save",
        ),
        {"name": "Nothing"},
    )
    assert refused.status_code == 422


# --- advice


def test_advice_ranks_and_says_why(stage: Stage):
    path = f"{stage.path}/shots/{stage.shot.pk}/advice"
    answer = stage.api.post(path, {"shows": ["performer", "fire"], "people": 3}).json()
    assert answer["options"][0]["recipe"] == "fire-by-light"
    assert answer["options"][0]["decided_by"] == "safer"
    assert answer["turns"]
    assert any("Mill (20.00 m)" in a["sentence"] for a in answer["economy"])
    for body in ({"shows": []}, {"shows": ["dragon"]}, {"people": 0}, {"realism": 9}):
        assert stage.api.post(path, body).status_code == 422


def test_facts_are_kept_with_the_shot(stage: Stage):
    facts = {"shows": ["crowd"], "people": 8}
    saved = stage.api.patch(
        f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "facts": facts}
    ).json()
    assert saved["facts"]["shows"] == ["crowd"]
    assert saved["facts"]["camera"] == "locked"


# --- the Board


def test_the_board_needs_no_more_queries_for_more_shots(stage: Stage, django_assert_num_queries):
    from django.db import connection

    # Where a lock-off is, it is asked whose set-up it is.
    Plate.objects.filter(pk=stage.plate.pk).update(lock_group="1-A")
    with CaptureQueriesContext(connection) as few:
        board(stage)
    for i in range(12):
        shot = Shot.objects.create(
            production=stage.production,
            number=f"x{i}",
            title="T",
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24,
        )
        apply(stage, shot, "twin-split")
    with CaptureQueriesContext(connection) as many:
        assert len(board(stage)["rows"]) == 13
    assert len(many) <= len(few)


def test_verdicts_agree_with_the_bench_and_follow_changes(stage: Stage):
    path = f"{stage.path}/board/verdicts?shots={stage.shot.pk}"
    (one,) = stage.api.get(path).json()
    whole = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/export.json").json()
    plan = {k: whole[k] for k in ("shot", "plates", "stand_ins", "bodies", "lenses")}
    asked = stage.api.post("/calc/shot", plan).json()["plates"][0]
    assert one["plates"] == {str(stage.plate.pk): asked["verdict"]}
    # No room is chosen: neither of them says that it was asked about.
    assert [u["title"] for u in asked["unasked"]] == ["Room"]
    assert one["unasked"] == {str(stage.plate.pk): ["Room"]}
    before = stage.plate.revision
    stage.api.patch(f"{stage.path}/plates/{stage.plate.pk}", {"revision": before, "f_number": 1.4})
    (after,) = stage.api.get(path).json()
    assert (after["verdict"], after["sentence"]) != (one["verdict"], one["sentence"])
    assert stage.api.get(f"{stage.path}/board/verdicts").status_code == 422
    many = "&".join(f"shots={stage.shot.pk}" for _ in range(41))
    assert stage.api.get(f"{stage.path}/board/verdicts?{many}").status_code == 422


def order(stage: Stage) -> str:
    return "".join(r["number"] for r in board(stage)["rows"])


@pytest.fixture
def five(stage: Stage) -> dict[str, Shot]:
    stage.shot.delete()
    return {
        n: Shot.objects.create(
            production=stage.production,
            number=n,
            title=f"Shot {n}",
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24,
            position=float(ord(n)),
        )
        for n in "abcde"
    }


@pytest.mark.parametrize(
    ("moved", "before", "result"),
    [("d", "b", "adbce"), ("ab", None, "cdeab"), ("ea", "c", "baecd"), ("a", "b", "abcde")],
)
def test_reordering(stage: Stage, five, moved, before, result):
    answer = stage.api.post(
        stage.path + "/board/order",
        {
            "ids": [str(five[m].pk) for m in moved],
            "before": None if before is None else str(five[before].pk),
        },
    )
    assert answer.status_code == 200, answer.content
    assert order(stage) == result
    if result != "abcde":
        undo(stage)
        assert order(stage) == "abcde"
        redo(stage)
        assert order(stage) == result


def test_moving_back_and_forth_never_runs_out_of_room(stage: Stage, five):
    # Each move halves a gap; when none is left, all are numbered anew.
    want = list("abcde")
    for i in range(60):
        moved, before = ("a", "c") if i % 2 else ("b", "a")
        stage.api.post(
            stage.path + "/board/order",
            {"ids": [str(five[moved].pk)], "before": str(five[before].pk)},
        )
        want.remove(moved)
        want.insert(want.index(before), moved)
        assert order(stage) == "".join(want)
    assert len(set(Shot.objects.values_list("position", flat=True))) == 5


def test_a_step_never_overwrites_an_edit_made_meanwhile(stage: Stage):
    from jungoptic.web.steps import recording

    stale = Shot.objects.get(pk=stage.shot.pk)
    path = f"{stage.path}/shots/{stage.shot.pk}"
    stage.api.patch(path, {"revision": 1, "title": "Typed meanwhile"})
    with recording(stage.owner, stage.production, "Move") as step:
        step.change(stale, position=9.0)
    now = Shot.objects.get(pk=stage.shot.pk)
    assert (now.title, now.position, now.revision) == ("Typed meanwhile", 9.0, 3)


def test_a_failed_step_leaves_nothing_behind(stage: Stage):
    from jungoptic.web.breakdown.models import BoardStep
    from jungoptic.web.steps import recording

    def fail() -> None:
        with recording(stage.owner, stage.production, "X") as step:
            step.change(stage.shot, title="Half done")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fail()
    assert Shot.objects.get(pk=stage.shot.pk).title == "Mill"
    assert not BoardStep.objects.exists()


def test_old_steps_are_let_go(stage: Stage, monkeypatch):
    from jungoptic.web import steps
    from jungoptic.web.breakdown.models import BoardStep

    monkeypatch.setattr(steps, "KEPT_STEPS", 3)
    for i in range(6):
        ids = [str(stage.shot.pk)]
        stage.api.post(stage.path + "/board/set", {"ids": ids, "place": f"Place {i}"})
    assert BoardStep.objects.count() == 3
    undo(stage)
    assert Shot.objects.get(pk=stage.shot.pk).place == "Place 4"


def test_removed_shots_come_back_whole(stage: Stage, five):
    card = issue(stage.owner, _with_plate(stage, five["b"]))
    Take.objects.create(card=card, number=1)
    stage.api.post(stage.path + "/board/remove", {"ids": [str(five["b"].pk)]})
    assert order(stage) == "acde"
    assert stage.api.get(f"{stage.path}/shots/{five['b'].pk}").status_code == 404
    assert stage.api.get("/productions").json()["items"][0]["shot_count"] == 4
    undo(stage)
    assert order(stage) == "abcde"
    assert stage.api.get(f"{stage.path}/shots/{five['b'].pk}/cards").json()


def _with_plate(stage: Stage, shot: Shot) -> Plate:
    from jungoptic.web.kit.models import Lens, Mode

    mode, lens = Mode.objects.get(), Lens.objects.get()
    return Plate.objects.create(
        shot=shot, name="P", kind="live", body=mode.body, mode=mode, lens=lens
    )


def test_the_shot_list_removes_the_same_way(stage: Stage, five):
    assert stage.api.delete(f"{stage.path}/shots/{five['c'].pk}").status_code == 204
    assert order(stage) == "abde"
    undo(stage)
    assert order(stage) == "abcde"


def test_a_variant_is_a_whole_copy(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    answer = stage.api.post(stage.path + "/board/duplicate", {"ids": [str(empty_shot.pk)]}).json()
    (made,) = answer["step"]["made"]
    copy = Shot.objects.get(pk=made)
    assert (copy.number, copy.title) == ("2b", "Twins (variant)")
    assert copy.variant_of_id == empty_shot.pk
    assert [p.name for p in copy.plates.all()] == [p.name for p in empty_shot.plates.all()]
    assert {p.use.shot_id for p in copy.plates.all()} == {copy.pk}
    assert {s.plate.shot_id for s in copy.stand_ins.all()} == {copy.pk}
    assert order(stage) == "122b"
    undo(stage)
    assert order(stage) == "12"
    redo(stage)
    assert Shot.objects.get(pk=made).plates.count() == 3


def test_splitting_divides_the_time(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    path = stage.path + "/board/split"
    answer = stage.api.post(path, {"id": str(empty_shot.pk), "at_s": 1.5}).json()
    second = Shot.objects.get(pk=answer["step"]["made"][0])
    empty_shot.refresh_from_db()
    assert (empty_shot.screen_time_s, second.screen_time_s) == (1.5, 2.5)
    assert second.plates.count() == 3
    assert order(stage) == "122b"
    undo(stage)
    empty_shot.refresh_from_db()
    assert empty_shot.screen_time_s == 4.0
    for at in (0, 4.0, 99):
        refused = stage.api.post(path, {"id": str(empty_shot.pk), "at_s": at})
        assert refused.status_code == 422
        assert "Split between" in refused.json()["message"]


def test_merging_moves_plates_with_their_takes(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    plate = empty_shot.plates.first()
    Take.objects.create(card=issue(stage.owner, plate), number=1)
    ids = [str(stage.shot.pk), str(empty_shot.pk)]
    stage.api.post(stage.path + "/board/merge", {"ids": ids})
    assert order(stage) == "1"
    merged = row(stage)
    assert [p["name"] for p in merged["plates"]] == [
        "Miniature",
        "Half A",
        "Half B",
        "Clean plate",
    ]
    assert merged["screen_time_s"] == 8.0
    assert {p["lock_group"] for p in merged["plates"]} == {"", "2-A"}
    plate.refresh_from_db()
    assert plate.cards.get().takes.count() == 1
    undo(stage)
    assert order(stage) == "12"
    assert empty_shot.plates.count() == 3
    alone = stage.api.post(stage.path + "/board/merge", {"ids": ids[:1]})
    assert alone.status_code == 422


def test_several_shots_get_the_same_place_and_day(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    ids = [str(stage.shot.pk), str(empty_shot.pk)]
    path = stage.path + "/board/set"
    stage.api.post(path, {"ids": ids, "place": "Mill", "film_on": "2026-12-05"})
    assert {r["place"] for r in board(stage)["rows"]} == {"Mill"}
    days = {p["film_on"] for r in board(stage)["rows"] for p in r["plates"]}
    assert days == {"2026-12-05"}
    undo(stage)
    assert {r["place"] for r in board(stage)["rows"]} == {""}
    assert stage.api.post(path, {"ids": ids, "place": None}).status_code == 422
    assert stage.api.post(path, {"ids": ids, "film_on": "tomorrow"}).status_code == 422


def test_undo_refuses_what_somebody_changed_since(stage: Stage):
    ids = [str(stage.shot.pk)]
    stage.api.post(stage.path + "/board/set", {"ids": ids, "place": "Mill"})
    shot = Shot.objects.get(pk=stage.shot.pk)
    stage.api.patch(f"{stage.path}/shots/{shot.pk}", {"revision": shot.revision, "place": "Quay"})
    step = stage.api.get(stage.path + "/steps").json()["undo"]
    answer = stage.api.post(f"{stage.path}/steps/{step['id']}/undo")
    assert answer.status_code == 422
    assert "place was changed since" in answer.json()["message"]
    assert Shot.objects.get(pk=shot.pk).place == "Quay"


def test_board_requests_that_make_no_sense(stage: Stage, stranger_stage: Stage):
    mine, theirs = str(stage.shot.pk), str(stranger_stage.shot.pk)
    for path, body in (
        ("order", {"ids": [theirs]}),
        ("order", {"ids": [mine], "before": theirs}),
        ("order", {"ids": [mine], "before": mine}),
        ("order", {"ids": []}),
        ("remove", {"ids": [mine, theirs]}),
        ("merge", {"ids": [mine, theirs]}),
        ("split", {"id": theirs, "at_s": 1}),
        ("duplicate", {"ids": [theirs]}),
    ):
        answer = stage.api.post(f"{stage.path}/board/{path}", body)
        assert answer.status_code == 422, (path, body, answer.content)
        assert answer.json()["message"]
    assert Shot.objects.get(pk=mine).removed_at is None


# --- hours


def test_hours_add_up_by_shot_recipe_and_day(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    Plate.objects.filter(shot=empty_shot).update(film_on="2026-12-05")
    found = stage.api.get(stage.path + "/hours").json()
    whole = found["whole"]
    for group in ("shots", "recipes"):
        total = sum(t["set"]["likely"] for t in found[group])
        assert total == pytest.approx(whole["set"]["likely"])
        total = sum(t["post"]["likely"] for t in found[group])
        assert total == pytest.approx(whole["post"]["likely"])
    days = {t["name"]: t for t in found["days"]}
    assert set(days) == {"2026-12-05", "No day yet"}
    assert days["2026-12-05"]["plates"] == 3
    assert {t["name"] for t in found["recipes"]} >= {"Twin, static split", "No recipe"}
    assert found["table"][0]["low_min"] > 0


def test_logged_hours_pull_the_estimates(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    path = f"{stage.path}/shots/{empty_shot.pk}"
    before = stage.api.get(path + "/effort").json()
    half = next(p for p in before["parts"] if p["name"] == "Half A")
    body = {"plate_id": half["plate_id"], "phase": "post", "hours": half["post"]["likely"] * 2}
    after = stage.api.post(path + "/hours", body).json()
    pace = next(p for p in after["pace"] if p["phase"] == "post")
    # One result of twice the estimate against a weight of four: 2 ** (1/5).
    assert pace["n"] == 1
    assert pace["factor"] == pytest.approx(2 ** (1 / 5))
    assert after["post"]["likely"] == pytest.approx(before["post"]["likely"] * 2 ** (1 / 5))
    assert after["set"] == before["set"]
    logged = next(p for p in after["parts"] if p["name"] == "Half A")["logged"]
    assert logged[0]["by"] == "owner"
    twice = stage.api.post(path + "/hours", {**body, "hours": 1.0}).json()
    assert len(next(p for p in twice["parts"] if p["name"] == "Half A")["logged"]) == 1
    gone = stage.api.post(path + "/hours", {**body, "hours": None}).json()
    assert gone["pace"][1]["n"] == 0
    for wrong in (
        {"plate_id": None, "phase": "set", "hours": 1},
        {"plate_id": str(stage.plate.pk), "phase": "set", "hours": 1},
        {"phase": "post", "hours": 0},
        {"phase": "lunch", "hours": 1},
    ):
        assert stage.api.post(path + "/hours", wrong).status_code == 422


def test_ways_to_cut_are_costed_side_by_side(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "wire-rod-rig")
    part = stage.api.get(f"{stage.path}/shots/{empty_shot.pk}/effort").json()["parts"][0]
    assert {w["cut"] for w in part["ways"]} == {"key", "roto", "split", "luma"}
    costs = [w["set"]["likely"] + w["post"]["likely"] for w in part["ways"]]
    assert costs == sorted(costs)


# --- cautions


def test_a_recipes_cautions_cannot_be_taken_off(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "fire-element")
    element = Plate.objects.get(shot=empty_shot, name="Element over black")
    path = f"{stage.path}/plates/{element.pk}"
    stage.api.patch(path, {"revision": element.revision, "hazards": []})
    for body in ({"use_id": None}, {"pass_key": "light"}):
        element.refresh_from_db()
        refused = stage.api.patch(path, {"revision": element.revision, **body})
        assert refused.status_code == 422
    cautions = stage.api.get(f"{stage.path}/shots/{empty_shot.pk}/cautions").json()
    fire = next(c for c in cautions if c["key"] == "fire")
    assert any("licensed people only" in w for w in fire["cautions"])
    assert "Element over black" in fire["plates"]
    card = issue(stage.owner, element)
    assert {"fire", "fuel", "water"} <= {c["key"] for c in card.content["cautions"]}
    assert b"fire" in stage.api.get(f"{stage.path}/cards/{card.pk}").content


def test_reading_a_caution_is_written_down_by_name_and_time(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "fire-element")
    path = f"{stage.path}/shots/{empty_shot.pk}/cautions"
    unread = row(stage, empty_shot.pk)["unread_cautions"]
    assert row(stage, empty_shot.pk)["next"] == "Read and acknowledge the cautions"
    answer = stage.api.post(path + "/fire/read", {"name": "Per"}).json()
    fire = next(c for c in answer if c["key"] == "fire")
    assert fire["read_by"][0]["name"] == "Per"
    assert fire["read_by"][0]["at"].startswith(str(datetime.datetime.now(datetime.UTC).date()))
    stage.api.post(path + "/fire/read", {"name": "Per"})
    stage.api.post(path + "/fire/read", {"name": "Ilse"})
    assert row(stage, empty_shot.pk)["unread_cautions"] == unread - 1
    fire = next(c for c in stage.api.get(path).json() if c["key"] == "fire")
    assert [r["name"] for r in fire["read_by"]] == ["Per", "Ilse"]
    card = issue(stage.owner, Plate.objects.get(shot=empty_shot, name="Element over black"))
    frozen = next(c for c in card.content["cautions"] if c["key"] == "fire")
    assert [r["name"] for r in frozen["read_by"]] == ["Per", "Ilse"]
    assert stage.api.post(path + "/animals/read", {"name": "Per"}).status_code == 422
    assert stage.api.post(path + "/fire/read", {"name": " "}).status_code == 422


def test_a_day_says_that_a_lock_off_was_begun_on_another(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "twin-split")
    first, second = list(Plate.objects.filter(shot=empty_shot, lock_group="2-A"))[:2]
    Plate.objects.filter(pk=first.pk).update(film_on="2026-12-05")
    Plate.objects.filter(pk=second.pk).update(film_on="2026-12-07")
    days = {d["day"]: d for d in stage.api.get(stage.path + "/days").json()}
    assert days["2026-12-05"]["parted"] == []
    (parted,) = days["2026-12-07"]["parted"]
    assert parted["plate_id"] == str(second.pk)
    assert parted["verdict"] == "strains"
    assert f"{second.name} is filmed on 7 December" in parted["sentence"]
    assert "untouched for 2 nights" in parted["sentence"]
    assert "sun" not in parted["sentence"]
    # In the open air it also says how near the sun comes to where it stood.
    yard = {"name": "Yard", "length_m": 20, "width_m": 20, "height_m": None, "mains_hz": None}
    place = {"latitude_deg": 52.6, "longitude_deg": 1.7, "time_zone": "Europe/London"}
    room = stage.api.post(f"{stage.path}/rooms", {**yard, **place}).json()["id"]
    Plate.objects.filter(shot=empty_shot).update(room=room, lamps=[])
    Plate.objects.filter(pk=second.pk).update(film_on="2027-06-21")
    days = {d["day"]: d for d in stage.api.get(stage.path + "/days").json()}
    (parted,) = days["2027-06-21"]["parted"]
    assert parted["verdict"] == "breaks"
    assert "its shadows do not join" in parted["sentence"]


def test_a_day_carries_the_cautions_of_its_plates(stage: Stage, empty_shot: Shot):
    apply(stage, empty_shot, "fire-element")
    Plate.objects.filter(shot=empty_shot).update(film_on="2026-12-05")
    days = stage.api.get(stage.path + "/days").json()
    assert [d["day"] for d in days] == ["2026-12-05", None]
    assert {"fire", "lamps"} <= {c["key"] for c in days[0]["cautions"]}
    assert "fire" not in {c["key"] for c in days[1]["cautions"]}
    assert days[0]["plates"][0]["shot"] == "2 Twins"
    path = f"{stage.path}/shots/{empty_shot.pk}/cautions/fire/read"
    stage.api.post(path, {"name": "Per"})
    fire = next(
        c for c in stage.api.get(stage.path + "/days").json()[0]["cautions"] if c["key"] == "fire"
    )
    assert [r["name"] for r in fire["read_by"]] == ["Per"]


# --- continuity


def test_threads_are_asked_of_shots_and_kept(stage: Stage, empty_shot: Shot):
    Shot.objects.filter(pk=empty_shot.pk).update(place="Mill")
    made = stage.api.post(
        stage.path + "/threads", {"name": "Flag", "places": ["Mill"], "shot_ids": []}
    ).json()
    assert row(stage, empty_shot.pk)["continuity"][0]["title"] == "Flag"
    assert row(stage)["continuity"] == []
    kept = stage.api.post(
        f"{stage.path}/threads/{made['id']}/kept", {"shot_id": str(empty_shot.pk)}
    ).json()
    assert row(stage, empty_shot.pk)["continuity"] == []
    stage.api.delete(f"{stage.path}/kept/{kept['id']}")
    stage.api.post(
        f"{stage.path}/threads/{made['id']}/kept",
        {"shot_id": str(empty_shot.pk), "excuse": "out of frame"},
    )
    whole = stage.api.get(stage.path + "/continuity").json()
    shot = next(s for s in whole["shots"] if s["id"] == str(empty_shot.pk))
    assert "out of frame" in shot["threads"][0]["sentence"]
    edited = stage.api.patch(
        f"{stage.path}/threads/{made['id']}",
        {"revision": 1, "places": [], "shot_ids": [str(stage.shot.pk)]},
    ).json()
    assert edited["shot_ids"] == [str(stage.shot.pk)]
    assert row(stage)["continuity"][0]["title"] == "Flag"
    stale = stage.api.patch(f"{stage.path}/threads/{made['id']}", {"revision": 1, "name": "X"})
    assert stale.status_code == 409
    assert stale.json()["current"]["shot_ids"] == [str(stage.shot.pk)]
    other = stage.api.post(
        f"{stage.path}/threads/{made['id']}/kept",
        {"shot_id": str(empty_shot.pk), "plate_id": str(stage.plate.pk)},
    )
    assert other.status_code == 422
    assert stage.api.delete(f"{stage.path}/threads/{made['id']}").status_code == 204


def test_light_sides_of_a_place_are_compared(stage: Stage, empty_shot: Shot):
    for shot, key in ((stage.shot, 0.0), (empty_shot, 120.0)):
        Shot.objects.filter(pk=shot.pk).update(
            place="Mill", camera_bearing_deg=10.0, key_from_deg=key
        )
    (found,) = row(stage)["continuity"]
    assert found["title"] == "Light side"
    assert found["verdict"] == "breaks"
    assert "120° apart" in found["sentence"]
    shot = Shot.objects.get(pk=stage.shot.pk)
    stage.api.patch(
        f"{stage.path}/shots/{shot.pk}",
        {"revision": shot.revision, "light_note": "the lamp on the quay"},
    )
    assert row(stage)["continuity"] == []


def test_a_set_card_tells_what_must_recur(stage: Stage):
    from jungoptic.web.breakdown.models import KeptThread, Thread

    Shot.objects.filter(pk=stage.shot.pk).update(place="Mill")
    flag, lamp, coat = (
        Thread.objects.create(production=stage.production, name=name, places=places)
        for name, places in (("Flag", ["Mill"]), ("Lamp", ["Mill"]), ("Coat", ["Quay"]))
    )
    KeptThread.objects.create(thread=flag, shot=stage.shot, plate=stage.plate)
    card = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()
    found = {t["name"]: t["task"] for t in card["content"]["threads"]}
    assert found == {
        "Flag": "must be in this plate",
        "Lamp": "is in no plate of this shot yet: put it in, or say why not",
    }
    KeptThread.objects.create(thread=lamp, shot=stage.shot, excuse="out of frame")
    coat.shots.add(stage.shot)
    other = Plate.objects.create(shot=stage.shot, name="Other", kind="live")
    KeptThread.objects.create(thread=coat, shot=stage.shot, plate=other)
    card = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()
    found = {t["name"]: t["task"] for t in card["content"]["threads"]}
    assert found["Lamp"] == "may be missing: out of frame"
    assert found["Coat"] == "is kept in Other"
    assert stage.api.client.get(f"/api{stage.path}/cards/{card['id']}/pdf").status_code == 200
