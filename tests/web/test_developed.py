"""Developed pictures and dry runs of a stored plan: asked for, kept, replaced, told when they are
old, and swept away."""

from __future__ import annotations

import datetime
import io
import math
import os
from pathlib import Path

import numpy as np
import pytest
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.utils import timezone
from PIL import Image

from jungoptic.media.clip import frames_of
from jungoptic.render.engine import MISSING, available
from jungoptic.web.developed import clip, keeping, tasks
from jungoptic.web.developed.change import Change, changed
from jungoptic.web.developed.models import FOLDER, Developed, DryRun
from jungoptic.web.jobs.kinds import KINDS
from jungoptic.web.jobs.work import Cancelled
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.plans.stored import plan_json
from tests.conftest import make_stage, new_id

engine = pytest.mark.skipif(not available(), reason=MISSING)


@pytest.fixture
def small(monkeypatch):
    """Pictures small enough for a test."""
    real, whole = keeping.develop, keeping.dry_run.run
    close = keeping.closely
    monkeypatch.setattr(keeping, "develop", lambda *a, **k: real(*a[:3], 48, **k))
    monkeypatch.setattr(keeping.dry_run, "run", lambda s, p, w, **k: whole(s, p, 48, **k))
    monkeypatch.setattr(keeping, "closely", lambda *a, **k: close(*a[:5], (48, 26), **k))
    monkeypatch.setattr(clip, "CLIP_PX", 48)


def files() -> list[str]:
    folder = Path(settings.MEDIA_ROOT) / FOLDER
    return sorted(p.name for p in folder.iterdir()) if folder.exists() else []


def page(stage):
    return stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/developed").json()


def develop(stage, **more):
    params = {"shot_id": str(stage.shot.pk), "plate_id": str(stage.plate.pk), **more}
    return stage.api.work(stage.path, "develop", **params)


def picture_in(answer) -> Image.Image:
    assert answer.status_code == 200, answer.content
    return Image.open(io.BytesIO(b"".join(answer.streaming_content)))


@engine
@pytest.mark.usefixtures("small")
class TestDeveloping:
    def test_a_plate_is_developed_and_shown(self, stage):
        job = develop(stage)
        assert job["state"] == "done", job["problem"]
        one = page(stage)["pictures"][0]
        assert one["id"] == job["result"]["developed"]
        assert (one["plate_id"], one["frame"], one["current"]) == (str(stage.plate.pk), 1, True)
        answer = stage.api.get(f"{stage.path}/developed/{one['id']}/picture")
        assert picture_in(answer).size == (one["width_px"], one["height_px"])
        assert answer["Content-Type"] == "image/webp"
        assert "immutable" in answer["Cache-Control"]

    def test_the_story_is_developed_without_a_plate(self, stage):
        assert develop(stage, plate_id=None)["state"] == "done"
        assert page(stage)["pictures"][0]["plate_id"] is None

    def test_a_changed_plan_makes_it_old_and_undone_makes_it_stand_again(self, stage):
        develop(stage)
        for value, current in ((8.0, False), (16.0, True)):
            Plate.objects.filter(pk=stage.plate.pk).update(f_number=value)
            assert page(stage)["pictures"][0]["current"] is current

    def test_a_newer_one_takes_its_place_and_its_file(
        self, stage, django_capture_on_commit_callbacks
    ):
        develop(stage)
        with django_capture_on_commit_callbacks(execute=True):
            develop(stage)
        assert Developed.objects.count() == 1
        assert len(files()) == 1

    def test_other_frames_stand_beside_it(self, stage):
        develop(stage)
        develop(stage, frame=24)
        assert [p["frame"] for p in page(stage)["pictures"]] == [24, 1]

    def test_a_plan_that_cannot_be_filmed_says_why(self, stage):
        Plate.objects.filter(pk=stage.plate.pk).update(lens=None)
        job = develop(stage)
        assert job["state"] == "failed"
        assert "choose a body, a mode and a lens" in job["problem"]
        assert files() == []

    def test_a_place_is_looked_at_closely_beside_the_whole(
        self, stage, django_capture_on_commit_callbacks
    ):
        develop(stage)
        with django_capture_on_commit_callbacks(execute=True):
            for at in ([0.5, 0.5], [0.25, 1.0]):
                job = develop(stage, at=at)
                assert job["state"] == "done", job["problem"]
        close, whole = page(stage)["pictures"]
        assert (close["at"], whole["at"]) == ([0.25, 1.0], [])
        answer = stage.api.get(f"{stage.path}/developed/{close['id']}/picture")
        assert picture_in(answer).size == (48, 26)
        assert len(files()) == 2

    def test_a_place_that_no_card_keeps_is_refused(self, stage):
        job = develop(stage, plate_id=None, at=[0.5, 0.5])
        assert (job["state"], job["problem"]) == (
            "failed",
            "No card keeps the story: name the plate that is recorded.",
        )
        asked = {"shot_id": str(stage.shot.pk), "plate_id": str(stage.plate.pk), "at": [0.5, 1.5]}
        answer = stage.api.post(f"{stage.path}/jobs", {"kind": "develop", "params": asked})
        assert answer.status_code == 422

    def test_a_plate_that_is_gone_is_named(self, stage):
        job = develop(stage, plate_id=new_id())
        assert (job["state"], job["problem"]) == (
            "failed",
            "This shot has no such plate any more.",
        )

    def test_a_shot_of_others_is_none_of_ours(self, stage):
        other = make_stage(stage.owner, "Other")
        job = stage.api.work(stage.path, "develop", shot_id=str(other.shot.pk))
        assert job["problem"] == "This production has no such shot any more."
        develop(other)
        theirs = Developed.objects.get().pk
        assert stage.api.get(f"{stage.path}/developed/{theirs}/picture").status_code == 404


@engine
@pytest.mark.usefixtures("small")
class TestWhatWouldBe:
    """The plan with a change that nobody has made yet, in the place of nothing."""

    def test_it_is_the_picture_of_the_plan_so_changed(self, stage):
        change = {"changes": {"scale": 6.0, "f_number": 4.0}}
        told = develop(stage, change=change)
        assert told["state"] == "done", told["problem"]
        develop(stage)
        as_planned, would_be = page(stage)["pictures"]
        assert as_planned["change"] == {}
        assert would_be["change"]["changes"] == change["changes"]
        assert would_be["current"] is as_planned["current"] is True
        pixels = {
            one["id"]: np.asarray(
                picture_in(stage.api.get(f"{stage.path}/developed/{one['id']}/picture"))
            )
            for one in (as_planned, would_be)
        }
        # One seed, one picture: it is the same to the pixel once the change is made.
        Plate.objects.filter(pk=stage.plate.pk).update(**change["changes"])
        develop(stage)
        made = page(stage)["pictures"][0]
        after = np.asarray(
            picture_in(stage.api.get(f"{stage.path}/developed/{made['id']}/picture"))
        )
        assert (after == pixels[would_be["id"]]).all()
        assert (after != pixels[as_planned["id"]]).any()
        assert not Plate.objects.get(pk=stage.plate.pk).revision > 1

    def test_another_change_stands_beside_it_and_the_same_takes_its_place(
        self, stage, django_capture_on_commit_callbacks
    ):
        for change in ({"f_number": 4.0}, {"iso": 800.0}, {"f_number": 4.0}):
            with django_capture_on_commit_callbacks(execute=True):
                develop(stage, change={"changes": change})
        assert [p["change"]["changes"] for p in page(stage)["pictures"]] == [
            {"f_number": 4.0},
            {"iso": 800.0},
        ]
        assert len(files()) == 2

    def test_things_and_the_shot_are_changed_too(self, stage):
        thing = str(stage.stand_in.pk)
        change = {"things": {thing: {"x_m": 2.0}}, "shot": {"camera_height_m": 2.2}}
        assert develop(stage, change=change)["state"] == "done"
        whole = changed(plan_json(stage.shot), str(stage.plate.pk), Change(**change))
        assert (whole.world.height_m, whole.stand_ins[0].x_m) == (2.2, 2.0)

    def test_what_a_lock_off_shares_goes_to_its_other_plates(self, stage):
        stage.plate.lock_group = "A"
        stage.plate.save()
        other = Plate.objects.get(pk=stage.plate.pk)
        other.pk, other.name = new_id(), "Half B"
        other.save(force_insert=True)
        for alone in (False, True):
            change = Change(changes={"iso": 1600.0, "note": "x"}, alone=alone)
            whole = changed(plan_json(stage.shot), str(stage.plate.pk), change)
            by_id = {p.id: p for p in whole.plates}
            assert by_id[str(stage.plate.pk)].iso == 1600.0
            assert (by_id[str(other.pk)].iso == 1600.0) is not alone

    @pytest.mark.parametrize(
        ("change", "words"),
        [
            ({"changes": {"scale": -1.0}}, "scale must be"),
            ({"changes": {"colour": 3}}, "colour is not decided here"),
            ({"shot": {"id": "x"}}, "id is not decided here"),
            ({"changes": {"lamps": "none"}}, "lamps"),
        ],
    )
    def test_what_cannot_be_is_said(self, stage, change, words):
        job = develop(stage, change=change)
        assert job["state"] == "failed"
        assert words in job["problem"]
        assert develop(stage, plate_id=None, change={"changes": {"iso": 100.0}})["problem"] == (
            "The story is not changed: name the plate that would be."
        )


@engine
@pytest.mark.usefixtures("small")
class TestDryRun:
    def ask(self, stage, **more):
        return stage.api.work(stage.path, "dry-run", shot_id=str(stage.shot.pk), **more)

    def page(self, stage):
        return stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/dry-runs").json()

    def test_all_plates_are_put_together_beside_the_story(self, stage):
        StandIn.objects.filter(pk=stage.stand_in.pk).update(y_m=8.0, z_m=0.0, width_m=3, height_m=3)
        job = self.ask(stage)
        assert job["state"] == "done", job["problem"]
        told = self.page(stage)
        run = told["runs"][0]
        assert run["id"] == job["result"]["dry_run"]
        assert run["current"] is True
        assert [t["name"] for t in run["things"]] == ["Mill"]
        assert told["views"][0]["id"] is None
        for which in ("composite", "story"):
            path = f"{stage.path}/dry-runs/{run['id']}/picture?which={which}"
            assert picture_in(stage.api.get(path)).size == (run["width_px"], run["height_px"])
        wrong = stage.api.get(f"{stage.path}/dry-runs/{run['id']}/picture?which=shot")
        assert wrong.status_code == 422

    def test_moments_of_a_shot_are_filmed_from_its_first_to_its_last_frame(self, stage):
        Shot.objects.filter(pk=stage.shot.pk).update(screen_time_s=2.0)
        job = self.ask(stage, moments=3)
        assert job["state"] == "done", job["problem"]
        frames = [run["frame"] for run in self.page(stage)["runs"]]
        last = self.page(stage)["views"][0]["frames"]
        assert sorted(frames) == [1, 1 + round((last - 1) / 2), last]
        stage.shot.refresh_from_db()
        assert keeping.moments_of(stage.shot, None, 8)[-1] == last
        # A shot of two frames has no more moments.
        Shot.objects.filter(pk=stage.shot.pk).update(screen_time_s=2.0 / 24.0)
        stage.shot.refresh_from_db()
        assert keeping.moments_of(stage.shot, None, 5) == [1, 2]

    def test_it_is_replaced_and_told_when_old(self, stage, django_capture_on_commit_callbacks):
        self.ask(stage)
        with django_capture_on_commit_callbacks(execute=True):
            self.ask(stage)
        assert DryRun.objects.count() == 1
        assert len(files()) == 2
        Plate.objects.filter(pk=stage.plate.pk).update(f_number=8.0)
        assert self.page(stage)["runs"][0]["current"] is False

    def test_what_does_not_hold_is_told_of_the_plan_as_it_is_now(self, stage):
        StandIn.objects.filter(pk=stage.stand_in.pk).update(y_m=8.0, z_m=0.0, width_m=3, height_m=3)
        self.ask(stage)
        path = f"{stage.path}/dry-runs/{DryRun.objects.get().pk}/findings"
        now = {one["key"]: one for one in stage.api.get(path).json()}
        assert "light" not in now
        Plate.objects.filter(pk=stage.plate.pk).update(light_lux=1.0)
        (dark,) = (one for one in stage.api.get(path).json() if one["key"] == "light")
        assert (dark["plate_id"], dark["verdict"]) == (str(stage.plate.pk), "breaks")
        assert len(dark["boxes"]) == 1
        other = make_stage(stage.owner, "Other")
        assert other.api.get(path.replace(stage.path, other.path)).status_code == 404

    def test_it_is_filmed_as_a_clip(self, stage, tmp_path, django_capture_on_commit_callbacks):
        Shot.objects.filter(pk=stage.shot.pk).update(screen_time_s=5.0)
        self.ask(stage)
        for _ in range(2):
            with django_capture_on_commit_callbacks(execute=True):
                job = stage.api.work(stage.path, "dry-run-clip", shot_id=str(stage.shot.pk))
            assert job["state"] == "done", job["problem"]
        # The newer one takes the place of the older, and of no picture.
        reel, still = self.page(stage)["runs"]
        assert (reel["id"], reel["frame"], reel["current"]) == (
            job["result"]["dry_run"],
            None,
            True,
        )
        assert still["frame"] == 1
        assert len(files()) == 4
        # 120 frames are more than a clip is made of: every second one, half as many a second.
        frames = self.page(stage)["views"][0]["frames"]
        fps = frames / 5.0
        assert reel["fps"] == pytest.approx(fps / math.ceil(frames / clip.MOST_FILMED))
        for which in ("composite", "story"):
            path = f"{stage.path}/dry-runs/{reel['id']}/picture?which={which}"
            answer = stage.api.get(path)
            assert answer["Content-Type"] == "video/webm"
            file = tmp_path / f"{which}.webm"
            file.write_bytes(b"".join(answer.streaming_content))
            shown = list(frames_of(file))
            assert len(shown) / reel["fps"] == pytest.approx(5.0, abs=1.0 / reel["fps"])
            assert shown[0].shape == (reel["height_px"], reel["width_px"], 3)
        # Its findings are those of the shot as it begins.
        answer = stage.api.get(f"{stage.path}/dry-runs/{reel['id']}/findings")
        assert answer.status_code == 200

    def test_a_clip_is_given_up_between_two_pictures(self, stage):
        told = []

        def tell(done, of):
            told.append((done, of))
            if done == 2:
                raise Cancelled

        with pytest.raises(Cancelled):
            clip.run_clip(stage.shot, None, tell)
        assert [done for done, _ in told] == [0, 1, 2]
        assert (DryRun.objects.count(), files()) == (0, [])

    @pytest.mark.parametrize("kind", ["dry-run", "dry-run-clip"])
    def test_without_any_camera_it_says_what_to_choose(self, stage, kind):
        Plate.objects.filter(pk=stage.plate.pk).update(lens=None)
        job = stage.api.work(stage.path, kind, shot_id=str(stage.shot.pk))
        assert job["state"] == "failed"
        assert "choose body, mode and lens" in job["problem"]


def test_a_machine_without_the_engine_says_what_to_install(stage, monkeypatch, tmp_path):
    monkeypatch.setenv("DRJIT_LIBLLVM_PATH", str(tmp_path / "none.so"))
    assert "libllvm19" in page(stage)["missing"]
    job = develop(stage)
    assert job["state"] == "failed"
    assert "libllvm19" in job["problem"]


@pytest.mark.parametrize("params", [{"width": 7}, {"frame": 0}, {"plate_id": "x"}, {"more": 1}])
def test_what_it_cannot_be_is_named(stage, params):
    asked = {"kind": "develop", "params": {"shot_id": str(stage.shot.pk), **params}}
    answer = stage.api.post(f"{stage.path}/jobs", asked)
    assert answer.status_code == 422
    assert f"params.{next(iter(params))}" in answer.json()["fields"]


def test_files_that_nothing_refers_to_are_swept(stage):
    kept = default_storage.save(f"{FOLDER}/kept.webp", ContentFile(b"x"))
    lost = default_storage.save(f"{FOLDER}/lost.webp", ContentFile(b"x"))
    young = default_storage.save(f"{FOLDER}/young.webp", ContentFile(b"x"))
    Developed.objects.create(
        shot=stage.shot, width_px=1, height_px=1, stamp="x", picture=kept, remarks=[]
    )
    old = (timezone.now() - datetime.timedelta(days=3)).timestamp()
    for name in (kept, lost):
        os.utime(default_storage.path(name), (old, old))
    tasks.sweep_developed(0)
    assert files() == sorted(Path(name).name for name in (kept, young))


def test_somebody_waits_beside_a_picture_and_comes_back_for_a_dry_run():
    assert (KINDS["develop"].queue, KINDS["develop"].warm) == ("short", True)
    assert KINDS["dry-run"].queue == KINDS["dry-run-clip"].queue == "long"
