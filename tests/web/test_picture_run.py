"""Clips measured frame by frame, behind the scenes, and what becomes of it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.storage import default_storage
from django.utils import timezone

from jungoptic.devices.clapped import Clap, record
from jungoptic.media.kinds import Unreadable
from jungoptic.web import documents
from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.jobs.models import Job, State
from jungoptic.web.pictures import tasks
from jungoptic.web.pictures.models import Picture
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import make_stage, new_id
from tests.conftest import sent as streamed
from tests.media.made import clip, photograph, set_clip

from .test_documents import kept
from .test_pictures import sent


def measured(stage: Any, picture: Any) -> Any:
    """The picture after the work that is waiting for it."""
    job = Job.objects.get(kind="measure", params__picture_id=picture["id"], state=State.WAITING)
    carry_out(job.pk)
    return stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()


@pytest.fixture
def bumped(stage: Any, tmp_path: Path) -> Any:
    """A clip on the stage's plate whose camera was touched at its 15th frame."""
    path = set_clip(tmp_path / "A001.mp4", shifts=[(0.0, 0.0)] * 14 + [(6.0, 0.0)] * 16)
    return sent(stage, path, plate_id=str(stage.plate.pk))


def test_a_clip_is_measured_after_it_was_read(stage, bumped):
    assert bumped["state"] == "read"
    assert not bumped["measured"]
    assert (bumped["measuring"]["part"], bumped["ran"], bumped["unmeasured"]) == (0.0, None, "")
    rows = stage.api.get(f"{stage.path}/pictures/{bumped['id']}/rows")
    assert rows.status_code == 404
    now = measured(stage, bumped)
    assert now["measured"]
    assert now["measuring"] is None
    found = {f["key"]: f for f in now["findings"]}
    assert "right at frame 15 and stays there" in found["run-stands"]["sentence"]
    assert now["verdict"] in ("strains", "breaks")
    # The frame that is spoken of can be looked at, with those from all over it.
    assert 15 in now["looks"]
    assert len(now["looks"]) > len(bumped["looks"])
    look = stage.api.get(f"{stage.path}/pictures/{bumped['id']}/look?frame=15")
    assert look["Content-Type"] == "image/jpeg"
    rows = stage.api.get(f"{stage.path}/pictures/{bumped['id']}/rows").json()
    assert (rows["frames"], len(rows["across"]), len(rows["moved"])) == (30, 30, 30)
    assert rows["across"][29][0] * 960 == pytest.approx(6.0, abs=0.2)
    # It is written down, by nobody's hand.
    assert stage.api.get(f"{stage.path}/pictures/{bumped['id']}").json()["revision"] == 3


class Still:
    """A camera before a wall."""

    def still(self, frame=1):
        return np.full((90, 160, 3), 0.4, np.float32)

    def sequence(self, frames):
        return (self.still(f) for f in frames)


def test_what_is_heard_is_told_and_laid_beside_another(stage, tmp_path):
    ids = []
    for name, at_s in (("A", 0.5), ("B", 0.75)):
        path = tmp_path / f"{name}001.mkv"
        record(path, Still(), 48, 24.0, Clap(at_s))
        ids.append(measured(stage, sent(stage, path, plate_id=str(stage.plate.pk))))
    found = {f["key"]: f for f in ids[0]["findings"]}
    assert "at frame 13" in found["run-clap"]["sentence"]
    assert ids[0]["ran"]["heard"]["sharp"][0]["at_s"] == pytest.approx(0.5, abs=0.003)
    rows = stage.api.get(f"{stage.path}/pictures/{ids[0]['id']}/rows").json()
    loud = [high for _, high in rows["loud"]]
    assert len(loud) == 480
    # Two seconds in 480 steps: the board is clapped in the 120th.
    assert int(np.argmax([-100 if v is None else v for v in loud])) in range(118, 124)
    params = {"first_id": ids[0]["id"], "second_id": ids[1]["id"]}
    job = stage.api.work(stage.path, "pair", **params)
    # Two walls with nothing on them do not lie on each other; the board was heard by both.
    assert job["result"]["changed"] is None
    assert "nothing in these two pictures is alike" in job["result"]["apart"]
    claps = [f for f in job["result"]["findings"] if f["key"] == "pair-claps"]
    assert "(6.0 frames) later in the second" in claps[0]["sentence"]


def test_a_camera_that_its_sheet_carries_is_not_asked_to_stand(stage, bumped):
    """A hyperlapse of a shot that stands in the story."""
    measured(stage, bumped)
    # Nothing worse than what it was measured for.
    picture = Picture.objects.get()
    mode = stage.plate.mode
    picture.facts.update(width_px=mode.width_px, height_px=mode.height_px)
    picture.save()
    url = f"{stage.path}/pictures/{bumped['id']}"
    sheet = f"{stage.path}/plates/{stage.plate.pk}/sheet"
    verdicts = []
    for revision, path, asked in ((0, 0.0, True), (1, 4.0, False)):
        lapse = {"interval_s": 5.0, "exposure_s": 0.5, "path_right_m": path}
        answer = stage.api.patch(sheet, {"revision": revision, "lapse": lapse})
        assert answer.status_code == 200, answer.content
        keys = {f["key"] for f in stage.api.get(url).json()["findings"]}
        assert ("run-stands" in keys) is asked
        assert ("run-steady" in keys) is not asked
        listed = stage.api.get(f"{stage.path}/pictures?plate_id={stage.plate.pk}").json()
        verdicts.append(listed["pictures"][0]["verdict"])
        assert verdicts[-1] == stage.api.get(url).json()["verdict"]
    assert verdicts == ["breaks", "strains"]


def test_the_list_says_how_far_it_is(stage, bumped, django_assert_max_num_queries):
    Job.objects.filter(kind="measure").update(state=State.RUNNING, part=0.5, seen_at=timezone.now())
    url = f"{stage.path}/pictures?plate_id={stage.plate.pk}"
    with django_assert_max_num_queries(26):
        (row,) = stage.api.get(url).json()["pictures"]
    assert row["measuring"]["part"] == 0.5
    # Whoever wants it no more stops it, and asks for it again.
    job = row["measuring"]["job_id"]
    assert stage.api.post(f"{stage.path}/jobs/{job}/cancel", {}).status_code == 200
    Job.objects.filter(pk=job).update(state=State.CANCELLED)
    (row,) = stage.api.get(url).json()["pictures"]
    assert (row["measuring"], row["measured"]) == (None, False)
    done = stage.api.work(stage.path, "measure", picture_id=bumped["id"])
    assert done["state"] == "done", done["problem"]
    assert stage.api.get(url).json()["pictures"][0]["measured"]


def test_a_take_is_judged_by_it_and_the_board_says_so(stage, tmp_path):
    stage.shot.screen_time_s = 0.5
    stage.shot.save()
    card = issue(stage.owner, stage.plate)
    stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
    take = Take.objects.get()
    path = set_clip(tmp_path / "A.mp4", shifts=[(0.0, 0.0)] * 6 + [(14.0, 0.0)] * 10)
    picture = sent(stage, path, take_id=str(take.pk))
    url = f"{stage.path}/filmed?shots={stage.shot.pk}&shots={new_id()}"
    before = stage.api.get(url).json()
    measured(stage, picture)
    report = stage.api.get(f"{stage.path}/takes/{take.pk}").json()["report"]
    keys = {f["key"] for f in report["findings"]}
    assert {"run-stands", "run-light", "file-size"} <= keys
    (row,) = stage.api.get(url).json()
    assert (row["id"], row["take_id"]) == (str(stage.shot.pk), str(take.pk))
    assert row["verdict"] == "breaks"
    assert before[0]["verdict"] == "breaks"
    # Another production sees nothing of it.
    other = make_stage(stage.owner, "Other")
    assert stage.api.get(f"{other.path}/filmed?shots={stage.shot.pk}").json() == []
    # In the bin it counts for nothing.
    changes = {"revision": Picture.objects.get().revision, "put_away": True}
    stage.api.patch(f"{stage.path}/pictures/{picture['id']}", changes)
    report = stage.api.get(f"{stage.path}/takes/{take.pk}").json()["report"]
    assert "run-stands" not in {f["key"] for f in report["findings"]}


def test_the_take_that_counts_is_the_circled_one(stage):
    card = issue(stage.owner, stage.plate)
    for _ in range(2):
        stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
    first, second = Take.objects.order_by("number")
    # Filmed at another stop by far, which the later take was not.
    Take.objects.filter(pk=first.pk).update(iso=25600.0)
    url = f"{stage.path}/filmed?shots={stage.shot.pk}"
    assert stage.api.get(url).json()[0]["take_id"] == str(second.pk)
    Take.objects.filter(pk=first.pk).update(circled=True)
    (row,) = stage.api.get(url).json()
    assert (row["take_id"], row["verdict"]) == (str(first.pk), "breaks")
    assert "take 1" in row["name"]


def test_a_folder_of_stills_is_measured_too(stage, tmp_path):
    paths = [photograph(tmp_path / f"P{n:03}.jpg") for n in range(1, 5)]
    now = measured(stage, sent(stage, *paths, name="P"))
    assert now["ran"]["frames"] == 4
    # Hung nowhere, it is held against nothing.
    assert now["findings"] == []


def test_what_has_one_frame_or_none_here_is_not_measured(stage, tmp_path):
    still = sent(stage, photograph(tmp_path / "P.jpg"))
    assert not Job.objects.filter(kind="measure").exists()
    job = stage.api.work(stage.path, "measure", picture_id=still["id"])
    assert "no more than one frame" in job["problem"]
    job = stage.api.work(stage.path, "measure", picture_id=new_id())
    assert "no such picture" in job["problem"]


def test_why_it_could_not_be_measured_is_said(stage, tmp_path, monkeypatch):
    picture = sent(stage, clip(tmp_path / "A.mp4"))

    def broken(*args: Any) -> Any:
        raise Unreadable("Not even two frames can be decoded.")

    monkeypatch.setattr("jungoptic.media.run.measured", broken)
    now = measured(stage, picture)
    assert now["unmeasured"] == "Not even two frames can be decoded."
    assert (now["state"], now["measured"]) == ("read", False)


def test_read_once_more_it_is_measured_once_more(stage, bumped):
    assert measured(stage, bumped)["measured"]
    stage.api.work(stage.path, "look-at", picture_id=bumped["id"])
    again = stage.api.get(f"{stage.path}/pictures/{bumped['id']}").json()
    assert not again["measured"]
    assert measured(stage, bumped)["measured"]


def test_what_was_measured_is_kept_as_long_as_its_picture(stage, bumped):
    measured(stage, bumped)
    picture = Picture.objects.get()
    tasks.empty()
    assert default_storage.exists(picture.rows)
    picture.delete()
    tasks.empty()
    assert not default_storage.exists(picture.rows)


def test_a_document_of_the_first_version_is_read_today(stage, bumped):
    """Written when it was first kept; the numbers of a clip whose camera was touched."""
    assert kept("ran_now")["version"] == documents.RAN.current
    assert documents.RAN.read(kept("ran_first"))["scatter"] is None
    Picture.objects.update(ran=kept("ran_first"))
    now = stage.api.get(f"{stage.path}/pictures/{bumped['id']}").json()
    assert now["ran"]["frames"] == 30
    assert "at frame 15" in {f["key"]: f for f in now["findings"]}["run-stands"]["sentence"]


def test_rows_are_json_that_any_reader_reads(stage, bumped):
    measured(stage, bumped)
    with default_storage.open(Picture.objects.get().rows) as file:
        rows = json.load(file)
    values = np.array(rows["across"], dtype=float)
    assert values.shape == (30, 2)
    assert (values[:, 0] <= values[:, 1]).all()


def test_one_quiet_frame_is_made_of_those_that_stand_still(stage, bumped):
    job = stage.api.work(stage.path, "average", picture_id=bumped["id"], first=16, last=30)
    assert (job["state"], job["result"]) == ("done", {"frames": 15})
    assert job["file_name"] == "A001 quiet.png"
    file = streamed(stage.api.client.get(f"/api{stage.path}/jobs/{job['id']}/file"))
    mean = cv2.imdecode(np.frombuffer(file, np.uint8), cv2.IMREAD_UNCHANGED)
    assert (mean.shape, mean.dtype) == ((540, 960, 3), np.uint16)
    job = stage.api.work(
        stage.path, "average", picture_id=bumped["id"], first=1, last=30, way="median"
    )
    assert (job["state"], job["result"]) == ("done", {"frames": 25})
    assert job["file_name"] == "A001 clean.png"
    beyond = stage.api.work(stage.path, "average", picture_id=bumped["id"], first=31, last=40)
    assert "A001 has 30 frames" in beyond["problem"]
    body = {"kind": "average", "params": {"picture_id": bumped["id"], "first": 3, "last": 2}}
    assert stage.api.post(f"{stage.path}/jobs", body).status_code == 422
