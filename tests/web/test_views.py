"""Several cameras in one shot: kept, refused, judged, undone, copied, cut apart, sent and read."""

from __future__ import annotations

import json
import uuid

import pytest

from jungoptic.core.plan import in_view
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.models import SetCard

from ..conftest import Stage
from ..media.made import clip
from .test_pictures import sent

CLOSE = str(uuid.UUID(int=7))


def view(**more) -> dict:
    return {
        "id": CLOSE,
        "name": "Close-up",
        "focal_mm": 75.0,
        "screen_time_s": 1.5,
        "stands_ahead_m": 4.0,
        "turned_deg": 10.0,
        **more,
    }


def shot_path(stage: Stage) -> str:
    return f"{stage.path}/shots/{stage.shot.pk}"


def fresh(stage: Stage) -> Shot:
    return Shot.objects.select_related("production").get(pk=stage.shot.pk)


@pytest.fixture
def cut(stage: Stage) -> Stage:
    """The mill, and a close-up of somebody on its bridge."""
    answer = stage.api.patch(shot_path(stage), {"revision": 1, "views": [view()]})
    assert answer.status_code == 200, answer.content
    kit = {n: getattr(stage.plate, n) for n in ("body", "mode", "lens")}
    stage.face = Plate.objects.create(
        shot=fresh(stage), name="Face", kind="live", view_id=CLOSE, position=2, **kit
    )
    StandIn.objects.create(
        shot=stage.shot, plate=stage.face, name="Ansa", kind="figure", x_m=0.4, y_m=6.5
    )
    return stage


class TestKept:
    def test_a_view_keeps_all_that_it_decides(self, cut):
        (kept,) = cut.api.get(shot_path(cut)).json()["shot"]["views"]
        assert (kept["name"], kept["focal_mm"], kept["beats"]) == ("Close-up", 75.0, [])
        core = load(plan_json(fresh(cut)))
        close = in_view(core, CLOSE)
        assert (close.world.focal_mm, close.frames) == (75.0, 36)
        assert [p.name for p in close.plates] == ["Face"]

    @pytest.mark.parametrize(
        ("views", "word"),
        [
            ([view(focal_mm=0.0)], "focal"),
            ([view(), view()], "one and the same"),
            ([view(id="close")], "id"),
            ([view(id=str(uuid.UUID(int=i))) for i in range(1, 12)], "views"),
            ([view(id=str(uuid.UUID(int=8)))], "Face is a piece of Close-up"),
            ([], "Face is a piece of Close-up"),
        ],
    )
    def test_what_cannot_be_is_refused_and_loses_nothing(self, cut, views, word):
        body = {"revision": fresh(cut).revision, "views": views}
        answer = cut.api.patch(shot_path(cut), body)
        assert answer.status_code == 422, answer.content
        assert word in json.dumps(answer.json())
        assert [v["id"] for v in fresh(cut).views] == [CLOSE]

    def test_a_plate_is_a_piece_of_a_view_of_its_own_shot(self, cut):
        path = f"{cut.path}/plates/{cut.face.pk}"
        other = cut.api.patch(path, {"revision": 1, "view_id": str(uuid.UUID(int=9))})
        assert other.status_code == 422
        assert "no such view" in other.json()["message"]
        assert cut.api.patch(path, {"revision": 1, "view_id": None}).status_code == 200
        made = {"name": "New", "kind": "live", "view_id": str(uuid.UUID(int=9))}
        assert cut.api.post(f"{shot_path(cut)}/plates", made).status_code == 422
        made["view_id"] = CLOSE
        assert cut.api.post(f"{shot_path(cut)}/plates", made).status_code == 200

    def test_things_may_stand_behind_the_first_camera(self, cut):
        """A reverse angle looks back past it."""
        made = {"name": "Ilse", "kind": "figure", "y_m": -3.0, "plate_id": str(cut.face.pk)}
        assert cut.api.post(f"{shot_path(cut)}/stand-ins", made).status_code == 200


class TestAsked:
    def test_the_bench_answers_for_the_view_in_hand(self, cut):
        plan = json.loads(json.dumps(plan_json(fresh(cut)), default=str))
        first = cut.api.post("/calc/shot", {**plan, "remedies": False}).json()
        close = cut.api.post("/calc/shot", {**plan, "remedies": False, "view_id": CLOSE}).json()
        assert [p["plate_id"] for p in first["plates"]] == [str(cut.plate.pk)]
        assert [p["plate_id"] for p in close["plates"]] == [str(cut.face.pk)]
        # 4 m nearer and turned by 10 degrees; by the cosine and the sine.
        (depth,) = close["depths"]
        assert depth["near_m"] == pytest.approx(2.5 * 0.98481 + 0.4 * 0.17365, abs=0.01)

    def test_questions_of_a_plate_are_its_views(self, cut):
        whole = json.loads(json.dumps(plan_json(fresh(cut)), default=str))
        own = str(cut.face.pk)
        tricks = cut.api.post("/calc/tricks", {**whole, "plate_id": own})
        assert tricks.status_code == 200, tricks.content
        hours = cut.api.post("/calc/backdrops", {**whole, "plate_id": own}).json()
        whole["shot"]["views"][0]["screen_time_s"] = 15.0
        longer = cut.api.post("/calc/backdrops", {**whole, "plate_id": own}).json()
        by_hand = [next(b for b in found if b["key"] == "roto") for found in (hours, longer)]
        assert by_hand[1]["post"]["likely"] > by_hand[0]["post"]["likely"] * 3

    def test_its_card_freezes_the_view(self, cut):
        answer = cut.api.post(f"{cut.path}/plates/{cut.face.pk}/cards", {})
        assert answer.status_code == 200, answer.content
        card = SetCard.objects.get(pk=answer.json()["id"])
        assert card.content["shot"] == "1 Mill, Close-up"
        # The view is changed afterwards; the card goes on as it was issued.
        body = {"revision": fresh(cut).revision, "views": [view(focal_mm=25.0)]}
        assert cut.api.patch(shot_path(cut), body).status_code == 200
        planned = card.shown["planned"]
        take = {"distance_m": planned["distance_m"], "axis_height_m": planned["axis_height_m"]}
        made = cut.api.post(f"{cut.path}/cards/{card.pk}/takes", take)
        assert made.status_code == 200, made.content
        page = cut.api.get(f"{cut.path}/takes/{made.json()['id']}").json()
        (match,) = (f for f in page["report"]["findings"] if f["key"] == "mismatch")
        assert match["verdict"] == "holds"
        assert page["plate"] == "Face"

    def test_hours_paper_and_tables_know_how_long_it_is(self, cut):
        (row,) = cut.api.get(f"{cut.path}/board").json()["rows"]
        assert (row["screen_time_s"], row["views"]) == (5.5, 2)
        assert cut.api.work(cut.path, "breakdown-pdf")["state"] == "done"
        for what in ("board.csv", "board.otio"):
            out = cut.api.client.get(f"/api{cut.path}/export/{what}")
            assert out.status_code == 200
        table = cut.api.client.get(f"/api{cut.path}/export/board.csv").content.decode()
        assert "5.5" in table
        assert cut.api.client.get(f"/api{shot_path(cut)}/plates.csv").status_code == 200
        own = f"?plate={cut.face.pk}"
        assert cut.api.client.get(f"/api{shot_path(cut)}/bench.pdf{own}").status_code == 200

    def test_a_sketch_is_drawn_from_a_view(self, cut):
        path = f"{shot_path(cut)}/sketches/frame"
        made = cut.api.post(path, {"title": "Close", "view_id": CLOSE}).json()
        first = cut.api.post(path, {"title": "Wide"}).json()
        body = {"revision": fresh(cut).revision, "views": [view(focal_mm=40.0)]}
        assert cut.api.patch(shot_path(cut), body).status_code == 200
        page = cut.api.get(f"{shot_path(cut)}/sketches").json()
        assert {s["id"]: s["stale"] for s in page["sketches"]} == {
            made["id"]: True,
            first["id"]: False,
        }
        assert [v["name"] for v in page["views"]] == ["Close-up"]
        assert cut.api.get(f"{cut.path}/sketches/{made['id']}/report").status_code == 200
        assert cut.api.post(f"{cut.path}/sketches/{made['id']}/redraw", {}).json()["stale"] is False
        lost = cut.api.post(path, {"title": "x", "view_id": str(uuid.UUID(int=3))})
        assert lost.status_code == 422


class TestSeveralAtOnce:
    def test_a_recipe_builds_one_view_and_again_the_other(self, cut):
        path = f"{shot_path(cut)}/recipes/apply"
        for view_id in (CLOSE, None, CLOSE):
            body = {"recipe": "twin-split", "view_id": view_id}
            assert cut.api.post(path, body).status_code == 200
        names = Plate.objects.filter(name="Half A").values_list("view_id", flat=True)
        assert sorted(map(str, names)) == sorted([CLOSE, "None"])
        whole = cut.api.get(shot_path(cut)).json()
        assert {r["view_id"] for r in whole["recipes"]} == {CLOSE, None}

    def test_a_variant_has_the_views_too(self, cut):
        line = {"id": str(uuid.uuid4()), "name": "line", "first_id": str(cut.face.pk)}
        body = {"revision": fresh(cut).revision, "views": [view(splits=[line])]}
        assert cut.api.patch(shot_path(cut), body).status_code == 200
        cut.api.post(f"{cut.path}/board/duplicate", {"ids": [str(cut.shot.pk)]})
        twin = Shot.objects.exclude(pk=cut.shot.pk).get()
        face = twin.plates.get(name="Face")
        assert str(face.view_id) == twin.views[0]["id"]
        assert twin.views[0]["id"] != CLOSE
        assert twin.views[0]["splits"][0]["first_id"] == str(face.pk)

    def test_a_shot_and_its_variant_are_merged_with_the_views_of_both(self, cut):
        cut.api.post(f"{cut.path}/board/duplicate", {"ids": [str(cut.shot.pk)]})
        twin = Shot.objects.exclude(pk=cut.shot.pk).get()
        ids = [str(cut.shot.pk), str(twin.pk)]
        assert cut.api.post(f"{cut.path}/board/merge", {"ids": ids}).status_code == 200
        merged = fresh(cut)
        # One camera all through, and two close-ups.
        assert merged.screen_time_s == 8.0
        assert len({v["id"] for v in merged.views}) == 2
        assert [len(in_view(load(plan_json(merged)), v["id"]).plates) for v in merged.views] == [
            1,
            1,
        ]

    def test_the_first_half_keeps_the_other_cameras(self, cut):
        body = {"recipe": "twin-split", "view_id": CLOSE}
        assert cut.api.post(f"{shot_path(cut)}/recipes/apply", body).status_code == 200
        at = {"id": str(cut.shot.pk), "at_s": 1.0}
        assert cut.api.post(f"{cut.path}/board/split", at).status_code == 200
        second = Shot.objects.exclude(pk=cut.shot.pk).get()
        assert second.views == []
        assert second.recipe_uses.count() == 0
        assert [p.name for p in second.plates.all()] == ["Miniature"]
        assert not second.stand_ins.filter(name="Ansa").exists()
        assert fresh(cut).plates.filter(name="Face").exists()

    def test_shots_of_several_cameras_are_merged_into_views(self, cut):
        other = Shot.objects.create(
            production=cut.production,
            number="2",
            title="Her hands",
            position=5.0,
            delivery_width_px=1920,
            delivery_height_px=804,
            playback_fps=24,
            focal_mm=90.0,
            screen_time_s=3.0,
        )
        hands = Plate.objects.create(shot=other, name="Hands", kind="live")
        ids = [str(cut.shot.pk), str(other.pk)]
        assert cut.api.post(f"{cut.path}/board/merge", {"ids": ids}).status_code == 200
        merged = fresh(cut)
        assert merged.screen_time_s == 4.0
        assert [(v["name"], v["focal_mm"]) for v in merged.views] == [
            ("Close-up", 75.0),
            ("2 Her hands", 90.0),
        ]
        hands.refresh_from_db()
        assert str(hands.view_id) == merged.views[1]["id"]
        (row,) = cut.api.get(f"{cut.path}/board").json()["rows"]
        assert row["screen_time_s"] == 8.5
        undone = cut.api.get(f"{cut.path}/board").json()["steps"]["undo"]
        assert cut.api.post(f"{cut.path}/steps/{undone['id']}/undo").status_code == 200
        assert len(fresh(cut).views) == 1

    def test_an_edit_that_comes_back_changes_nothing(self, cut):
        from .test_exchange_of_breakdowns import post

        out = cut.api.client.get(f"/api{cut.path}/export/board.otio").content
        shown = post(cut, "edit/preview", out, "back.otio").json()
        assert [(r["fate"], r["changes"]) for r in shown["rows"]] == [("same", [])] or [
            c["field"] for r in shown["rows"] for c in r["changes"]
        ] == ["Name in the edit"]

    def test_the_whole_shot_leaves_with_its_views(self, cut):
        out = json.loads(cut.api.client.get(f"/api{shot_path(cut)}/export.json").content)
        assert out["shot"]["views"][0]["id"] == CLOSE
        assert {p["name"]: p["view_id"] for p in out["plates"]} == {
            "Miniature": None,
            "Face": CLOSE,
        }


def test_what_was_filmed_is_held_against_the_view_that_its_plate_is_a_piece_of(cut, tmp_path):
    path = clip(tmp_path / "A.mp4", count=24)
    picture = sent(cut, path, plate_id=str(cut.face.pk))
    found = {f["key"]: f["sentence"] for f in picture["findings"]}
    # A second and a half, and not as long as the mill stands.
    assert found["file-length"].startswith("24 frames for a shot of 36")
