"""What was filmed of a shot, put together behind the scenes and told."""

from __future__ import annotations

import datetime
import io
import os
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.utils import timezone
from PIL import Image

from jungoptic.core.pictures.bend import Bend, bent
from jungoptic.media.clip import frames_of
from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.jobs.kinds import KINDS
from jungoptic.web.jobs.models import Job, State
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.models import Plate, StandIn
from jungoptic.web.rough import choosing, tasks
from jungoptic.web.rough.models import FOLDER, MOST, Rough
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import sent as streamed
from tests.media.made import clip

from .test_documents import kept
from .test_pictures import sent

GREEN = (0.15, 0.55, 0.2)


def recorded(path: Path, kind: str) -> Path:
    """What the stage's camera records: a bright set, or somebody before a green cloth."""
    picture = np.full((540, 1024, 3), 0.6 if kind == "set" else GREEN, np.float32)
    if kind == "person":
        picture[200:420, 480:540] = (0.8, 0.3, 0.25)
    dice = np.random.default_rng(4)
    picture = np.clip(picture + dice.normal(0, 0.004, picture.shape), 0, 1)
    Image.fromarray((picture * 255 + 0.5).astype(np.uint8)).save(path)
    return path


@pytest.fixture
def person(stage: Any) -> Plate:
    """A plate of somebody before a cloth, beside the stage's miniature; half a second long."""
    stage.shot.screen_time_s = 0.5
    stage.shot.save()
    body = {"body": stage.plate.body, "mode": stage.plate.mode, "lens": stage.plate.lens}
    screen = {"screen_width_m": 6.0, "screen_height_m": 6.0}
    return Plate.objects.create(shot=stage.shot, name="Ansa", kind="screen", **screen, **body)


def filmed(stage: Any, plate: Plate, path: Path, **more: Any) -> Any:
    picture = sent(stage, path, plate_id=str(plate.pk), **more)
    assert picture["state"] == "read", picture["problem"]
    return picture


def put(stage: Any, kind: str = "rough", **params: Any) -> Job:
    """The job after it was carried out."""
    wanted = {"shot_id": str(stage.shot.pk), **params}
    answer = stage.api.post(f"{stage.path}/jobs", {"kind": kind, "params": wanted})
    assert answer.status_code == 200, answer.content
    carry_out(answer.json()["id"])
    return Job.objects.get(pk=answer.json()["id"])


def page(stage: Any) -> Any:
    return stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/rough").json()


def shown(stage: Any, rough: Any, which: str = "composite") -> Any:
    answer = stage.api.get(f"{stage.path}/rough/{rough['id']}/file?which={which}")
    assert answer.status_code == 200
    return np.asarray(Image.open(io.BytesIO(streamed(answer))).convert("RGB"), np.float32) / 255


def test_before_anything_is_filmed_it_says_what_is_missing(stage, person):
    found = page(stage)
    assert [(p["name"], p["how"], p["pictures"]) for p in found["plates"]] == [
        ("Miniature", "whole", []),
        ("Ansa", "key", []),
    ]
    assert (found["roughs"], found["problem"]) == ([], "")
    job = put(stage)
    assert job.state == State.FAILED
    assert "Nothing that can be laid in is filmed of this shot yet" in job.problem


def test_somebody_is_keyed_over_the_set_and_judged(stage, person, tmp_path):
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    filmed(stage, person, recorded(tmp_path / "ansa.png", "person"))
    job = put(stage)
    assert job.state == State.DONE, job.problem
    (rough,) = page(stage)["roughs"]
    assert rough["current"]
    assert (rough["frame"], rough["width_px"], rough["height_px"]) == (1, 960, 402)
    assert [layer["name"] for layer in rough["layers"]] == ["set", "ansa"]
    found = shown(stage, rough)
    # The set fills the picture; somebody stands in the middle of it, and no green is left.
    assert found[20, 20] == pytest.approx([0.6] * 3, abs=0.03)
    assert found[201, 480, 0] > found[201, 480, 1] + 0.3
    assert (found[..., 1] - found[..., 0]).max() < 0.06
    assert shown(stage, rough, "planned").shape == (402, 960, 3)
    keys = {f["key"]: f["verdict"] for f in rough["findings"]}
    assert keys["rough-hole"] == "holds"
    assert rough["answer"].startswith("It works")


def test_what_is_not_filmed_is_named_and_left_grey(stage, person, tmp_path):
    filmed(stage, person, recorded(tmp_path / "ansa.png", "person"))
    put(stage)
    (rough,) = page(stage)["roughs"]
    assert rough["hole"] > 0.5
    assert rough["answer"] == "Not whole yet: nothing is filmed of Miniature."
    assert shown(stage, rough)[20, 20].std() < 0.01


def test_a_plate_can_be_left_out_and_another_take_chosen(stage, person, tmp_path):
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    one = filmed(stage, person, recorded(tmp_path / "ansa.png", "person"))
    empty = filmed(stage, person, recorded(tmp_path / "empty.png", "cloth"))
    put(stage, picks=[{"plate_id": str(person.pk), "left_out": True}])
    (rough,) = page(stage)["roughs"]
    assert shown(stage, rough)[201, 480] == pytest.approx([0.6] * 3, abs=0.03)
    layer = rough["layers"][1]
    assert (layer["left_out"], layer["picture_id"]) == (True, None)
    # The newest counts; the other can be asked for.
    plates = {p["name"]: p for p in page(stage)["plates"]}
    assert [p["id"] for p in plates["Ansa"]["pictures"]] == [empty["id"], one["id"]]
    put(stage, picks=[{"plate_id": str(person.pk), "picture_id": one["id"]}])
    (rough,) = page(stage)["roughs"]
    assert not rough["layers"][1]["counted"]
    assert shown(stage, rough)[201, 480, 0] > 0.7


def test_the_circled_take_counts_and_what_counted_before_is_told(stage, person, tmp_path):
    card = issue(stage.owner, person)
    for n in (1, 2):
        stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
        take = Take.objects.get(number=n)
        sent(stage, recorded(tmp_path / f"t{n}.png", "person"), take_id=str(take.pk))
    put(stage)
    (rough,) = page(stage)["roughs"]
    assert rough["layers"][1]["name"].endswith("take 2: t2")
    assert rough["current"]
    first = Take.objects.get(number=1)
    body = {"revision": first.revision, "circled": True}
    assert stage.api.patch(f"{stage.path}/takes/{first.pk}", body).status_code == 200
    found = page(stage)
    assert found["plates"][1]["pictures"][0]["name"].endswith("take 1: t1")
    assert not found["roughs"][0]["current"]


def test_a_plan_that_has_moved_on_is_told(stage, tmp_path):
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    put(stage)
    assert page(stage)["roughs"][0]["current"]
    stage.plate.f_number = 11.0
    stage.plate.save()
    assert not page(stage)["roughs"][0]["current"]


def test_where_a_clip_begins_can_be_said_and_holds_are_told(stage, tmp_path):
    stage.shot.screen_time_s = 0.5
    stage.shot.save()
    size = {"size": (1024, 540), "options": {"g": "4"}}
    picture = filmed(stage, stage.plate, clip(tmp_path / "A.mp4", count=20, **size))
    body = {"revision": picture["revision"], "begins": 15}
    answer = stage.api.patch(f"{stage.path}/pictures/{picture['id']}", body)
    assert answer.json()["begins"] == 15
    put(stage, frame=3)
    (rough,) = page(stage)["roughs"]
    assert rough["layers"][0]["shown"] == 17
    (told,) = page(stage)["plates"][0]["pictures"]
    assert (told["begins"], told["told"], told["frames"]) == (15, True, 20)
    short = next(f for f in rough["findings"] if f["key"] == "rough-end")
    assert "ends 6 frames before the shot, which has 12" in short["sentence"]
    # Begun elsewhere, it is not what was put together.
    assert rough["current"]
    body = {"revision": answer.json()["revision"], "begins": None}
    answer = stage.api.patch(f"{stage.path}/pictures/{picture['id']}", body)
    after = page(stage)
    assert after["plates"][0]["pictures"][0]["begins"] == 1
    assert not after["roughs"][0]["current"]
    for wrong in (0, -1, 1.5, "x"):
        body = {"revision": answer.json()["revision"], "begins": wrong}
        refused = stage.api.patch(f"{stage.path}/pictures/{picture['id']}", body)
        assert refused.status_code == 422


class TestWhereItBegins:
    def test_after_the_board_as_late_as_leaves_enough(self):
        held_up = Picture(board=kept("board_first"))
        assert choosing.begins_of(held_up, 100, 60) == 41
        assert choosing.begins_of(held_up, 100, 200) == 8
        assert choosing.begins_of(Picture(board=None), 100, 60) == 1
        # A board at the end says nothing of the beginning.
        assert choosing.begins_of(held_up, 12, 4) == 1
        assert choosing.begins_of(Picture(begins=300), 100, 60) == 100


def test_all_of_it_as_a_clip(stage, person, tmp_path):
    size = {"size": (1024, 540), "options": {"g": "4"}}
    filmed(stage, stage.plate, clip(tmp_path / "A.mp4", count=20, **size))
    filmed(stage, person, recorded(tmp_path / "ansa.png", "person"))
    job = put(stage, "rough-clip")
    assert job.state == State.DONE, job.problem
    (reel,) = page(stage)["roughs"]
    assert reel["frame"] is None
    answer = stage.api.get(f"{stage.path}/rough/{reel['id']}/file?which=composite")
    assert answer["Content-Type"] == "video/webm"
    film = tmp_path / "out.webm"
    film.write_bytes(streamed(answer))
    frames = list(frames_of(film))
    assert len(frames) == stage.shot.screen_time_s * 24
    assert frames[0].shape == (402, 960, 3)
    # The clip's bar wanders behind somebody who stands still.
    assert np.abs(frames[0] - frames[-1]).max() > 0.3
    assert frames[6][201, 480, 0] > frames[6][201, 480, 1] + 0.25
    assert stage.api.get(f"{stage.path}/rough/{reel['id']}/file?which=planned").status_code == 404


@pytest.mark.parametrize(
    ("params", "field"),
    [
        ({"frame": 0}, "params.frame"),
        ({"width": 7}, "params.width"),
        ({"picks": [{"plate_id": "x"}]}, "params.picks.0.plate_id"),
        ({"picks": [{"low": 0.5, "high": 0.4}]}, "params.picks.0"),
        ({"more": 1}, "params.more"),
    ],
)
def test_what_it_cannot_be_is_named(stage, params, field):
    for pick in params.get("picks", []):
        pick.setdefault("plate_id", str(stage.plate.pk))
    wanted = {"shot_id": str(stage.shot.pk), **params}
    answer = stage.api.post(f"{stage.path}/jobs", {"kind": "rough", "params": wanted})
    assert answer.status_code == 422
    assert any(name.startswith(field) for name in answer.json()["fields"])


def test_of_another_production_nothing_goes_in(stage, stranger_stage, tmp_path):
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    wanted = {"shot_id": str(stage.shot.pk)}
    body = {"kind": "rough", "params": wanted}
    answer = stranger_stage.api.post(f"{stranger_stage.path}/jobs", body)
    carry_out(answer.json()["id"])
    job = Job.objects.get(pk=answer.json()["id"])
    assert (job.state, Rough.objects.count()) == (State.FAILED, 0)
    assert "no such shot" in job.problem
    put(stage)
    rough = Rough.objects.get()
    path = f"{stranger_stage.path}/rough/{rough.pk}/file?which=composite"
    assert stranger_stage.api.get(path).status_code == 404


def test_a_file_that_is_gone_is_said_and_nothing_is_left(stage, tmp_path):
    picture = filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    stored = Picture.objects.get(pk=picture["id"]).files.get().stored
    default_storage.delete(stored)
    job = put(stage)
    assert job.state == State.FAILED
    assert "cannot be opened" in job.problem
    assert Rough.objects.count() == 0


def test_only_the_newest_are_kept(stage, tmp_path):
    stage.shot.screen_time_s = 1.0
    stage.shot.save()
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    first = None
    for frame in (1, 1, *range(2, MOST + 2)):
        put(stage, frame=frame)
        first = first or Rough.objects.get().composite
    assert Rough.objects.count() == MOST
    assert not Rough.objects.filter(frame=1).exists()
    assert first is not None


def test_files_that_nothing_refers_to_are_swept(stage):
    kept_file, lost = (
        default_storage.save(f"{FOLDER}/{name}.webp", ContentFile(b"x")) for name in ("a", "b")
    )
    Rough.objects.create(
        shot=stage.shot, width_px=1, height_px=1, stamp="x", composite=kept_file, told={}
    )
    old = (timezone.now() - datetime.timedelta(days=3)).timestamp()
    for name in (kept_file, lost):
        os.utime(default_storage.path(name), (old, old))
    tasks.sweep_rough(0)
    assert default_storage.exists(kept_file)
    assert not default_storage.exists(lost)


def test_what_was_told_of_the_first_is_told_still(stage):
    Rough.objects.create(
        shot=stage.shot, frame=1, width_px=960, height_px=402, stamp="x", told=kept("rough_first")
    )
    (rough,) = page(stage)["roughs"]
    assert rough["answer"].startswith("It works")
    assert [layer["name"] for layer in rough["layers"]] == ["S002 on green", "S002 mill"]


def test_somebody_waits_beside_a_still_and_comes_back_for_a_clip():
    assert (KINDS["rough"].queue, KINDS["rough"].warm) == ("short", True)
    assert KINDS["rough-clip"].queue == "long"


def test_holes_and_mirrors_are_laid_where_they_belong(stage, tmp_path):
    """A mirrored plate shows left what it filmed right."""
    picture = np.full((540, 1024, 3), 0.2, np.float32)
    picture[:, 700:] = 0.8
    path = tmp_path / "half.png"
    cv2.imwrite(str(path), (picture * 255).astype(np.uint8))
    stage.plate.flop = True
    stage.plate.save()
    filmed(stage, stage.plate, path)
    put(stage)
    found = shown(stage, page(stage)["roughs"][0])
    assert found[200, 100].mean() > 0.7
    assert found[200, 900].mean() < 0.3


def test_lines_that_the_lens_bent_are_laid_straight(stage, person, tmp_path):
    """A dark line along the top, as a lens that bends shows it: once the lens was measured, the
    composite has it straight."""
    lens, mode = stage.plate.lens, stage.plate.mode
    bend = Bend(-0.25, 0.0, 0.0, 0.0, lens.focal_min_mm, mode.sensor_width_mm)
    picture = np.full((540, 1024, 3), 153, np.uint8)
    along = [(x, 130.0) for x in range(-100, 1125, 5)]
    path = np.round(bent(along, bend, 1024, 540) * 16).astype(np.int32)
    cv2.polylines(picture, [path], False, (20, 20, 20), 5, cv2.LINE_AA, 4)
    Image.fromarray(picture).save(tmp_path / "line.png")
    filmed(stage, stage.plate, tmp_path / "line.png")

    def bows() -> float:
        """By how much the line bows in the newest composite, pixels."""
        assert put(stage).state == State.DONE
        grey = shown(stage, page(stage)["roughs"][0])[:201].mean(axis=2)
        dark = np.clip(0.5 - grey, 0.0, None)
        at = (dark * np.arange(len(grey))[:, None]).sum(axis=0) / dark.sum(axis=0)
        return float(np.ptp(at[30:-30]))

    before = bows()
    lens.measured = [{"marked_mm": 28.0, "focal_mm": 28.0, "k1": -0.25}]
    lens.save()
    assert not page(stage)["roughs"][0]["current"]
    assert before > 4.0
    assert bows() < 0.15 * before


def test_what_is_placed_in_post_lies_small_where_the_story_has_it(stage, person, tmp_path):
    """Filmed from six metres, it is laid in where a pinhole has it at twenty-one."""
    Plate.objects.filter(pk=person.pk).update(placed_in_post=True, placed_from_m=6.0)
    StandIn.objects.create(
        shot=stage.shot, plate=person, name="Ansa", kind="figure", x_m=2.0, y_m=21.0
    )
    filmed(stage, stage.plate, recorded(tmp_path / "set.png", "set"))
    # The lens's own middle looks at the middle of her: six metres off she is so many pixels high.
    film = np.full((540, 1024, 3), GREEN, np.float32)
    high = round(1.7 * 28.0 / 6.0 / 24.9 * 1024)
    film[270 - high // 2 : 270 + high // 2, 500:524] = (0.8, 0.3, 0.25)
    Image.fromarray((film * 255 + 0.5).astype(np.uint8)).save(tmp_path / "near.png")
    filmed(stage, person, tmp_path / "near.png")
    job = put(stage)
    assert job.state == State.DONE, job.problem
    (rough,) = page(stage)["roughs"]
    found = shown(stage, rough)
    red = found[..., 0] - found[..., 1] > 0.15
    rows, columns = np.nonzero(red)
    # Story: 32 mm on 24.9 mm, 1.5 m up, tilted up by 3 degrees; 960 pixels wide.
    focal, tilt = 32.0 / 24.9 * 960, np.radians(3.0)
    ahead = 21.0 * np.cos(tilt) + (0.85 - 1.5) * np.sin(tilt)
    below = -((0.85 - 1.5) * np.cos(tilt) - 21.0 * np.sin(tilt))
    assert columns.mean() == pytest.approx(480 + focal * 2.0 / ahead, abs=2.0)
    assert rows.mean() == pytest.approx(201 + focal * below / ahead, abs=3.0)
    assert np.ptp(rows) == pytest.approx(1.7 / ahead * focal, abs=4.0)
