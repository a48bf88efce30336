"""A full disk: said so, nothing half written, everything still read; orphans are swept by night."""

from __future__ import annotations

import errno
import io
import os
import time

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import OperationalError
from django.http import Http404
from PIL import Image
from psycopg.errors import DiskFull

from jungoptic.web.sketches import tasks
from jungoptic.web.sketches.models import FOLDER, Sketch
from jungoptic.web.storage import served_clip


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 40), "red").save(out, "PNG")
    return out.getvalue()


def send(stage):
    path = f"/api{stage.path}/shots/{stage.shot.pk}/sketches"
    file = io.BytesIO(picture())
    file.name = "x.png"
    return stage.api.client.post(path, {"file": file, "title": "x"})


@pytest.fixture
def media(settings, tmp_path):
    settings.MEDIA_ROOT = tmp_path
    return tmp_path


def files(media) -> list[str]:
    return [p.name for p in media.rglob("*") if p.is_file()]


def full(*_):
    raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))


class TestFullDisk:
    def test_a_picture_is_refused_and_leaves_nothing(self, stage, media, monkeypatch):
        kept = send(stage).json()
        before = files(media)
        with monkeypatch.context() as patched:
            patched.setattr(os, "fsync", full)
            answer = send(stage)
        assert answer.status_code == 507
        assert "disk is full" in answer.json()["message"]
        assert files(media) == before
        assert Sketch.objects.count() == 1
        # Reading goes on, and so does writing when there is room again.
        got = stage.api.get(f"{stage.path}/sketches/{kept['id']}/picture")
        assert got.status_code == 200
        assert send(stage).status_code == 200

    def test_the_second_file_takes_the_first_along(self, stage, media, monkeypatch):
        real, calls = default_storage.save, []

        def second_fails(name, content):
            calls.append(name)
            return full() if len(calls) == 2 else real(name, content)

        monkeypatch.setattr(default_storage, "save", second_fails)
        assert send(stage).status_code == 507
        assert len(calls) == 2
        assert files(media) == []

    def test_the_databases_disk_too(self, stage, monkeypatch):
        from jungoptic.web.plans import api

        def away(shot):
            raise OperationalError("could not extend file") from DiskFull("could not extend file")

        monkeypatch.setattr(api, "shot_out", away)
        assert stage.api.get(f"{stage.path}/shots").status_code == 507

    def test_other_troubles_of_files_are_our_fault(self, stage, media, monkeypatch):
        def denied(*_):
            raise PermissionError(errno.EACCES, "no")

        monkeypatch.setattr(os, "fsync", denied)
        stage.api.client.raise_request_exception = False
        assert send(stage).status_code == 500
        assert files(media) == []


class TestWholeFiles:
    def test_a_taken_name_is_never_written_over(self, media):
        first = default_storage.save("a/b.txt", ContentFile(b"one"))
        second = default_storage.save("a/b.txt", ContentFile(b"two"))
        assert first != second
        with default_storage.open(first) as file:
            assert file.read() == b"one"
        assert sorted(files(media)) == sorted(n.rpartition("/")[2] for n in (first, second))


class TestMissing:
    def test_papers_are_printed_without_it(self, stage, media):
        sketch = Sketch.objects.get(pk=send(stage).json()["id"])
        default_storage.delete(sketch.picture.name)
        default_storage.delete(sketch.thumb.name)
        answer = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/sketches.pdf")
        assert answer.status_code == 200
        assert answer["Content-Type"] == "application/pdf"
        assert stage.api.work(stage.path, "breakdown-pdf")["state"] == "done"


class TestSweeping:
    def test_what_nothing_refers_to_goes_after_a_day(self, stage, media):
        sketch = Sketch.objects.get(pk=send(stage).json()["id"])
        old = default_storage.save(f"{FOLDER}/old.png", ContentFile(b"x"))
        part = media / FOLDER / ".part-abc"
        part.write_bytes(b"x")
        young = default_storage.save(f"{FOLDER}/young.png", ContentFile(b"x"))
        then = time.time() - 2 * 86_400
        for name in (old, f"{FOLDER}/.part-abc", sketch.picture.name):
            os.utime(media / name, (then, then))
        assert sorted(tasks.sweep()) == sorted([old, f"{FOLDER}/.part-abc"])
        assert default_storage.exists(young)
        assert default_storage.exists(sketch.picture.name)
        assert tasks.sweep() == []

    def test_without_a_folder_there_is_nothing_to_do(self, db, media):
        assert tasks.sweep() == []
        tasks.sweep_orphans(0)


@pytest.mark.django_db
class TestParts:
    """A browser moves through a clip part by part. Source: RFC 9110, section 14."""

    def ask(self, rf, media, part=None):
        name = "clips/one.webm"
        if not default_storage.exists(name):
            default_storage.save(name, ContentFile(b"0123456789"))
        headers = {} if part is None else {"Range": part}
        return served_clip(rf.get("/", headers=headers), name, "gone")

    @pytest.mark.parametrize(
        ("part", "data", "told"),
        [
            ("bytes=0-", b"0123456789", "bytes 0-9/10"),
            ("bytes=2-5", b"2345", "bytes 2-5/10"),
            ("bytes=7-99", b"789", "bytes 7-9/10"),
            ("bytes=9-9", b"9", "bytes 9-9/10"),
            ("bytes=-3", b"789", "bytes 7-9/10"),
            ("bytes=-30", b"0123456789", "bytes 0-9/10"),
        ],
    )
    def test_a_part_is_what_was_asked_for(self, rf, media, part, data, told):
        answer = self.ask(rf, media, part)
        assert (answer.status_code, answer.content) == (206, data)
        assert answer["Content-Range"] == told
        assert answer["Content-Type"] == "video/webm"

    @pytest.mark.parametrize(
        "part", [None, "", "bytes=", "bytes=-", "bytes=a-b", "bytes=1-2,4-5", "lines=1-2", "2-5"]
    )
    def test_what_is_no_part_gets_the_whole(self, rf, media, part):
        answer = self.ask(rf, media, part)
        assert answer.status_code == 200
        assert b"".join(answer.streaming_content) == b"0123456789"
        answer.close()
        assert answer["Accept-Ranges"] == "bytes"

    @pytest.mark.parametrize("part", ["bytes=10-", "bytes=5-4", "bytes=-0", "bytes=99-100"])
    def test_a_part_that_is_not_there_is_said_so(self, rf, media, part):
        answer = self.ask(rf, media, part)
        assert (answer.status_code, answer["Content-Range"]) == (416, "bytes */10")

    def test_a_file_that_is_gone_is_said_so(self, rf, media):
        with pytest.raises(Http404, match="gone"):
            served_clip(rf.get("/"), "clips/none.webm", "gone")
