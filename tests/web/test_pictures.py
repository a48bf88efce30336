"""Pictures come in: in parts, taken up again, kept, read, held against the plan, put away."""

from __future__ import annotations

import datetime
import hashlib
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest
from django.core.files.storage import default_storage
from django.utils import timezone

from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.jobs.models import Job, State
from jungoptic.web.middleware import PART
from jungoptic.web.pictures import disk, tasks
from jungoptic.web.pictures.models import Picture, PictureFile
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import Api, make_stage, new_id
from tests.media.made import clip, photograph


@pytest.fixture
def take(stage: Any) -> Take:
    """A take of the stage's plate, half a second long, everything as planned."""
    stage.shot.screen_time_s = 0.5
    stage.shot.save()
    card = issue(stage.owner, stage.plate)
    stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
    return Take.objects.get()


def named(stage: Any, *paths: Path, **more: Any) -> Any:
    """A picture to come, of files on this disk."""
    files = [{"name": p.name, "size": p.stat().st_size} for p in paths]
    name = more.pop("name", paths[0].stem)
    return stage.api.post(f"{stage.path}/pictures", {"name": name, "files": files, **more})


def part(stage: Any, file: str, data: bytes, offset: int) -> Any:
    return stage.api.client.generic(
        "PATCH",
        f"/api{stage.path}/uploads/{file}",
        data,
        content_type=PART,
        HTTP_UPLOAD_OFFSET=str(offset),
        HTTP_TUS_RESUMABLE="1.0.0",
    )


def how_far(stage: Any, file: str) -> int:
    answer = stage.api.client.head(f"/api{stage.path}/uploads/{file}")
    assert answer.status_code == 200
    assert answer["Cache-Control"] == "no-store"
    return int(answer["Upload-Offset"])


def sent(stage: Any, *paths: Path, look: bool = True, **more: Any) -> Any:
    """A picture that has arrived, and was looked at."""
    answer = named(stage, *paths, **more)
    assert answer.status_code == 200, answer.content
    picture = answer.json()
    for file, path in zip(picture["files"], paths, strict=True):
        assert part(stage, file["id"], path.read_bytes(), 0).status_code == 204
    if look:
        carry_out(Job.objects.get(params__picture_id=picture["id"], state=State.WAITING).pk)
    return stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()


def as_planned(path: Path) -> Path:
    """A clip as the stage's mode records: 4096 x 2160, 8 bits, 4:2:0, as long as the shot."""
    return clip(path, count=12, size=(4096, 2160), options={"g": "1", "preset": "ultrafast"})


class TestSending:
    def test_a_file_comes_in_parts_and_goes_on_where_it_stopped(self, stage, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        data = path.read_bytes()
        picture = named(stage, path).json()
        (file,) = picture["files"]
        assert (picture["state"], file["received"], how_far(stage, file["id"])) == ("coming", 0, 0)
        first = part(stage, file["id"], data[:1000], 0)
        assert (first.status_code, first["Upload-Offset"]) == (204, "1000")
        # Sent once more, or from elsewhere: refused, with where to go on.
        for offset in (0, 500, 1001, 5000):
            wrong = part(stage, file["id"], data[offset : offset + 10], offset)
            assert (wrong.status_code, wrong["Upload-Offset"]) == (409, "1000")
        assert how_far(stage, file["id"]) == 1000
        assert part(stage, file["id"], data[1000:], 1000).status_code == 204
        found = stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()
        assert (found["state"], found["reading"], found["coming"]) == ("here", True, [])

    def test_what_a_killed_server_wrote_and_did_not_count_is_sent_anew(self, stage, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        data = path.read_bytes()
        (file,) = named(stage, path).json()["files"]
        part(stage, file["id"], data[:1000], 0)
        row = PictureFile.objects.get(pk=file["id"])
        with disk.incoming(row).open("ab") as out:
            out.write(b"half a piece that nobody counted")
        assert how_far(stage, file["id"]) == 1000
        part(stage, file["id"], data[1000:], 1000)
        assert disk.incoming(row).read_bytes() == data
        # A disk that lost what was counted is told as it is.
        (other,) = named(stage, path).json()["files"]
        part(stage, other["id"], data[:1000], 0)
        disk.incoming(PictureFile.objects.get(pk=other["id"])).write_bytes(data[:400])
        lost = part(stage, other["id"], data[1000:1100], 1000)
        assert (lost.status_code, lost["Upload-Offset"]) == (409, "400")
        assert how_far(stage, other["id"]) == 400

    def test_what_cannot_be_sent_is_named(self, stage, tmp_path, settings):
        path = clip(tmp_path / "A001.mp4")
        (file,) = named(stage, path).json()["files"]
        over = part(stage, file["id"], path.read_bytes() + b"x", 0)
        assert over.status_code == 422
        assert "these are more" in over.json()["message"]
        nowhere = stage.api.client.generic(
            "PATCH", f"/api{stage.path}/uploads/{file['id']}", b"x", content_type=PART
        )
        assert nowhere.status_code == 422
        for offset in ("²", "-1", "1e3", "9" * 40):
            odd = stage.api.client.generic(
                "PATCH",
                f"/api{stage.path}/uploads/{file['id']}",
                b"x",
                content_type=PART,
                HTTP_UPLOAD_OFFSET=offset,
            )
            assert odd.status_code == 422
        settings.PART_LIMIT = 10
        assert part(stage, file["id"], b"0" * 11, 0).status_code == 413
        assert how_far(stage, file["id"]) == 0
        assert stage.api.client.head(f"/api{stage.path}/uploads/{new_id()}").status_code == 404

    def test_two_windows_never_write_into_one_file(self, stage, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        (file,) = named(stage, path).json()["files"]
        from jungoptic.web.pictures.uploads import _alone

        with _alone(PictureFile.objects.get(pk=file["id"])):
            answer = part(stage, file["id"], b"x", 0)
        assert answer.status_code == 423
        assert how_far(stage, file["id"]) == 0

    def test_the_same_id_names_one_picture(self, stage, tmp_path):
        path, pk = clip(tmp_path / "A001.mp4"), new_id()
        first, again = named(stage, path, id=pk).json(), named(stage, path, id=pk).json()
        assert first == again
        assert PictureFile.objects.count() == 1

    def test_a_production_holds_so_much(self, stage, tmp_path, settings):
        path = clip(tmp_path / "A001.mp4")
        settings.PICTURE_QUOTA = path.stat().st_size + 10
        assert named(stage, path).status_code == 200
        full = named(stage, path)
        assert full.status_code == 422
        assert "do not fit" in full.json()["fields"]["files"]
        # What lies on the crew's own disk takes nothing.
        where = {"path": "/mnt/reel/A001.mp4", "sha256": "AB" * 32}
        files = [{"name": "A001.mp4", "size": 10**10, **where}]
        elsewhere = stage.api.post(
            f"{stage.path}/pictures", {"name": "A001", "elsewhere": True, "files": files}
        )
        assert elsewhere.status_code == 200
        assert elsewhere.json()["files"][0]["sha256"] == "ab" * 32
        assert elsewhere.json()["state"] == "read"
        nowhere = {"name": "A", "elsewhere": True, "files": [{"name": "A", "size": 1}]}
        assert stage.api.post(f"{stage.path}/pictures", nowhere).status_code == 422
        listed = stage.api.get(f"{stage.path}/pictures").json()
        assert listed["quota"] == {
            "used": path.stat().st_size,
            "most": path.stat().st_size + 10,
        }
        assert len(listed["pictures"]) == 2

    def test_a_person_fills_so_much_in_all_productions_together(self, stage, tmp_path, settings):
        path = clip(tmp_path / "A001.mp4")
        size = path.stat().st_size
        settings.PERSON_QUOTA = size + 10
        other = Api(stage.owner)
        production = other.post("/productions", {"name": "The Ferry"}).json()["id"]
        first = named(SimpleNamespace(api=other, path=f"/productions/{production}"), path)
        assert first.status_code == 200, first.content
        full = named(stage, path)
        assert full.status_code == 422
        assert full.json()["fields"]["files"].startswith("Your pictures take 0.0 of")
        told = other.get("/account").json()
        assert (told["pictures_bytes"], told["pictures_most"]) == (size, size + 10)

    def test_a_disk_without_room_refuses_before_anything_is_sent(
        self, stage, tmp_path, monkeypatch
    ):
        monkeypatch.setattr(disk, "room_for", lambda size: False)
        answer = named(stage, clip(tmp_path / "A001.mp4"))
        assert answer.status_code == 422
        assert "no room" in answer.json()["message"]

    def test_bounds_of_what_may_be_named(self, stage):
        for files in ([], [{"name": "", "size": 1}], [{"name": "a", "size": 0}]):
            body = {"name": "A", "files": files}
            assert stage.api.post(f"{stage.path}/pictures", body).status_code == 422
        large = {"name": "A", "files": [{"name": "a", "size": 20 * 1000**3 + 1}]}
        refused = stage.api.post(f"{stage.path}/pictures", large)
        assert refused.status_code == 422
        assert "20 that can be sent" in refused.json()["message"]


class TestReading:
    def test_a_clip_as_planned_fills_the_take(self, stage, take, tmp_path):
        path = as_planned(tmp_path / "A001.mp4")
        found = sent(stage, path, take_id=str(take.pk))
        assert (found["state"], found["verdict"]) == ("read", "holds")
        assert found["facts"]["width_px"] == 4096
        assert found["looks"] == list(range(1, 13))
        assert (found["look_width_px"], found["look_height_px"]) == (1920, 1012)
        look = stage.api.get(f"{stage.path}/pictures/{found['id']}/look?frame=1")
        assert look["Content-Type"] == "image/jpeg"
        assert (
            stage.api.get(f"{stage.path}/pictures/{found['id']}/look?frame=13").status_code == 404
        )
        page = stage.api.get(f"{stage.path}/takes/{take.pk}").json()
        assert (page["take"]["from_file"], page["take"]["capture_fps"]) == (["capture_fps"], 24.0)
        keys = {f["key"] for f in page["report"]["findings"]}
        assert {"file-size", "file-length", "file-even"} <= keys

    def test_the_file_is_kept_byte_for_byte_under_the_name_of_what_is_in_it(self, stage, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        found = sent(stage, path)
        (file,) = found["files"]
        digest = hashlib.sha256(path.read_bytes()).hexdigest()
        assert file["sha256"] == digest
        row = PictureFile.objects.get()
        assert row.stored == f"pictures/{stage.production.pk}/{digest}"
        got = stage.api.get(f"{stage.path}/pictures/{found['id']}/files/{file['id']}")
        assert b"".join(got.streaming_content) == path.read_bytes()
        assert not disk.incoming(row).exists()
        # The same file once more is kept once, and said.
        twin = sent(stage, path, name="Again")
        assert twin["same_as"] == "A001"
        assert len({f.stored for f in PictureFile.objects.all()}) == 1

    def test_what_a_photograph_says_fills_the_readings_of_its_take(self, stage, take, tmp_path):
        tags = {0x829A: (1, 48), 0x829D: (16, 1), 0x8827: 800, 0x920A: (35, 1)}
        found = sent(stage, photograph(tmp_path / "a.jpg", tags), take_id=str(take.pk))
        take.refresh_from_db()
        assert take.from_file == ["exposure_s", "f_number", "focal_mm", "iso"]
        assert (take.focal_mm, take.f_number, take.iso) == (35.0, 16.0, 800.0)
        page = stage.api.get(f"{stage.path}/takes/{take.pk}").json()
        lens = next(d for d in page["report"]["departures"] if d["name"] == "Focal length")
        assert (lens["planned"], lens["actual"]) == ("28 mm", "35 mm")
        # Somebody looks at the lens: it is his reading now, and stays when the file goes.
        path = f"{stage.path}/takes/{take.pk}"
        stage.api.patch(path, {"revision": take.revision, "focal_mm": 28.0})
        take.refresh_from_db()
        assert take.from_file == ["exposure_s", "f_number", "iso"]
        # Now one of them is wrong, and that is said.
        report = stage.api.get(path).json()["report"]["findings"]
        typed = next(f for f in report if f["key"] == "file-typed-focal_mm")
        assert "28 mm was read off, the file says 35 mm" in typed["sentence"]
        picture = f"{stage.path}/pictures/{found['id']}"
        away = stage.api.patch(picture, {"revision": found["revision"], "put_away": True})
        assert away.status_code == 200, away.content
        take.refresh_from_db()
        assert (take.focal_mm, take.f_number, take.from_file) == (28.0, None, [])
        # Back out of the bin, and what it says is back.
        back = {"revision": away.json()["revision"], "put_away": False}
        stage.api.patch(picture, back)
        take.refresh_from_db()
        assert (take.focal_mm, take.f_number) == (28.0, 16.0)

    def test_a_picture_for_reference_says_nothing_of_the_take(self, stage, take, tmp_path):
        tags = {0x920A: (4, 1), 0x829D: (18, 10)}
        found = sent(
            stage, photograph(tmp_path / "phone.jpg", tags), take_id=str(take.pk), role="reference"
        )
        take.refresh_from_db()
        assert (take.from_file, found["verdict"], found["findings"]) == ([], None, [])
        asked = {"revision": found["revision"], "role": "recorded"}
        stage.api.patch(f"{stage.path}/pictures/{found['id']}", asked)
        take.refresh_from_db()
        assert take.focal_mm == 4.0

    def test_readings_that_no_lens_can_have_are_left_open(self, stage, take, tmp_path):
        tags = {0x920A: (4900, 1), 0x829D: (3000, 1)}
        sent(stage, photograph(tmp_path / "odd.jpg", tags), take_id=str(take.pk))
        take.refresh_from_db()
        # f/3000 lies outside what a take can hold; a focus inside the lens cannot be.
        assert take.f_number is None
        assert stage.api.get(f"{stage.path}/takes/{take.pk}").status_code == 200

    def test_a_sequence_is_one_picture(self, stage, tmp_path):
        paths = [photograph(tmp_path / f"F_{n:04}.JPG", {0x8827: 400}) for n in (1, 2, 4)]
        found = sent(stage, *paths, plate_id=str(stage.plate.pk))
        assert (found["facts"]["kind"], found["file_count"], found["looks"]) == (
            "sequence",
            3,
            [1, 2, 3],
        )
        numbers = next(f for f in found["findings"] if f["key"] == "file-numbers")
        assert "leave out 3" in numbers["sentence"]
        assert found["verdict"] == "breaks"

    @pytest.mark.parametrize(
        ("data", "words"),
        [
            (b"\0" * 5000, "zeros"),
            (b"not a recording at all" * 50, "no recording"),
            (b"PK\x03\x04" + bytes(500), "archive"),
        ],
    )
    def test_what_cannot_be_read_is_said_and_kept(self, stage, take, tmp_path, data, words):
        path = tmp_path / "A001.mov"
        path.write_bytes(data)
        found = sent(stage, path, take_id=str(take.pk))
        assert (found["state"], found["facts"], found["verdict"]) == ("refused", None, None)
        assert words in found["problem"]
        (row,) = PictureFile.objects.all()
        with default_storage.open(row.stored) as kept:
            assert kept.read() == data
        assert stage.api.get(f"{stage.path}/takes/{take.pk}").status_code == 200
        # It can be tried again; the answer is the same.
        again = stage.api.work(stage.path, "look-at", picture_id=found["id"])
        assert again["state"] == "done"

    def test_a_reader_that_was_killed_is_asked_again_and_then_left_to_a_person(
        self, stage, tmp_path
    ):
        found = sent(stage, clip(tmp_path / "A001.mp4"), look=False)
        Job.objects.update(state=State.FAILED)
        assert tasks.look_again() == 0
        late = timezone.now() - datetime.timedelta(hours=1)
        Picture.objects.update(updated_at=late)
        told = stage.api.get(f"{stage.path}/pictures/{found['id']}").json()
        assert (told["reading"], "cut off" in told["problem"]) == (False, True)
        assert tasks.look_again() == 1
        assert tasks.look_again() == 0
        Job.objects.update(state=State.FAILED)
        assert tasks.look_again() == 0
        job = stage.api.work(stage.path, "look-at", picture_id=found["id"])
        assert job["state"] == "done"
        assert Picture.objects.get().state == "read"

    def test_reading_takes_nothing_of_anybodys_share(self, stage, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        for _ in range(5):
            sent(stage, path, look=False)
        body = {"kind": "breakdown-pdf"}
        assert stage.api.post(f"{stage.path}/jobs", body).status_code == 200


class TestPlaces:
    def test_a_picture_hangs_in_one_place_of_its_production(self, stage, take, tmp_path):
        path = clip(tmp_path / "A001.mp4")
        both = named(stage, path, take_id=str(take.pk), plate_id=str(stage.plate.pk))
        assert both.status_code == 422
        other = make_stage(stage.owner, "Other")
        for name, pk in (
            ("plate_id", other.plate.pk),
            ("shot_id", other.shot.pk),
            ("lens_id", other.plate.lens_id),
            ("take_id", new_id()),
        ):
            refused = named(stage, path, **{name: str(pk)})
            assert refused.status_code == 422
            assert name in refused.json()["fields"]
        lens = named(stage, path, lens_id=str(stage.plate.lens_id)).json()
        asked = f"{stage.path}/pictures?lens_id={stage.plate.lens_id}"
        assert [p["id"] for p in stage.api.get(asked).json()["pictures"]] == [lens["id"]]

    def test_moved_from_take_to_plate_the_readings_follow(self, stage, take, tmp_path):
        found = sent(stage, photograph(tmp_path / "a.jpg", {0x8827: 1600}), take_id=str(take.pk))
        path = f"{stage.path}/pictures/{found['id']}"
        moved = stage.api.patch(
            path, {"revision": found["revision"], "plate_id": str(stage.plate.pk)}
        )
        assert (moved.json()["take_id"], moved.json()["plate_id"]) == (None, str(stage.plate.pk))
        take.refresh_from_db()
        assert (take.iso, take.from_file) == (None, [])
        stale = stage.api.patch(path, {"revision": found["revision"], "name": "X"})
        assert stale.status_code == 409
        back = {"revision": moved.json()["revision"], "take_id": str(take.pk)}
        assert stage.api.patch(path, back).status_code == 200
        take.refresh_from_db()
        assert take.iso == 1600.0

    def test_a_take_that_is_removed_leaves_its_pictures_with_the_plate(self, stage, take, tmp_path):
        found = sent(stage, clip(tmp_path / "A001.mp4"), take_id=str(take.pk))
        assert stage.api.delete(f"{stage.path}/takes/{take.pk}").status_code == 204
        left = stage.api.get(f"{stage.path}/pictures/{found['id']}").json()
        assert (left["take_id"], left["plate_id"]) == (None, str(stage.plate.pk))

    def test_the_page_of_a_shot_has_everything_in_few_queries(
        self, stage, take, tmp_path, django_assert_max_num_queries
    ):
        path = clip(tmp_path / "A001.mp4")
        sent(stage, path, take_id=str(take.pk))
        sent(stage, path, plate_id=str(stage.plate.pk))
        sent(stage, path, shot_id=str(stage.shot.pk))
        sent(stage, path, name="Loose")
        page = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/pictures").json()
        assert len(page["pictures"]) == 3
        (plate,) = page["plates"]
        assert plate["card_id"] == str(take.card_id)
        assert [t["number"] for t in plate["takes"]] == [1]
        assert plate["takes"][0]["verdict"] == "breaks"
        card = f"{stage.path}/cards/{take.card_id}"
        for n in range(4):
            stage.api.post(f"{card}/takes", {})
            sent(stage, path, take_id=str(Take.objects.latest("created_at").pk), look=n == 0)
        with django_assert_max_num_queries(38) as few:
            stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/pictures")
        count = len(few.captured_queries)
        for _ in range(6):
            stage.api.post(f"{card}/takes", {})
            sent(stage, path, take_id=str(Take.objects.latest("created_at").pk), look=False)
        with django_assert_max_num_queries(count):
            stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/pictures")

    def test_what_was_recorded_leaves_the_house_with_its_take(self, stage, take, tmp_path):
        found = sent(stage, photograph(tmp_path / "a.jpg", {0x8827: 1600}), take_id=str(take.pk))
        digest = found["files"][0]["sha256"]
        shot = f"{stage.path}/shots/{stage.shot.pk}"
        table = stage.api.get(f"{shot}/takes.csv").content.decode()
        assert digest in table
        assert "a.jpg" in table
        exported = stage.api.get(f"{shot}/export.json").json()["takes"][0]
        assert exported["from_file"] == ["iso"]
        assert exported["files"][0]["sha256"] == digest


class TestBin:
    def test_only_what_lies_in_the_bin_is_removed_for_good(self, stage, tmp_path):
        found = sent(stage, clip(tmp_path / "A001.mp4"))
        path = f"{stage.path}/pictures/{found['id']}"
        assert stage.api.delete(path).status_code == 422
        stage.api.patch(path, {"revision": found["revision"], "put_away": True})
        assert stage.api.delete(path).status_code == 204
        assert Picture.objects.count() == 0

    def test_what_never_arrived_is_removed_at_once(
        self, stage, tmp_path, django_capture_on_commit_callbacks
    ):
        path = clip(tmp_path / "A001.mp4")
        picture = named(stage, path).json()
        part(stage, picture["files"][0]["id"], path.read_bytes()[:100], 0)
        row = PictureFile.objects.get()
        assert disk.incoming(row).exists()
        with django_capture_on_commit_callbacks(execute=True):
            gone = stage.api.delete(f"{stage.path}/pictures/{picture['id']}")
        assert gone.status_code == 204
        assert not disk.incoming(row).exists()

    def test_the_bin_is_emptied_after_a_month(self, stage, tmp_path, settings):
        kept = sent(stage, clip(tmp_path / "A001.mp4"))
        found = sent(stage, clip(tmp_path / "A002.mp4", count=12))
        path = f"{stage.path}/pictures/{found['id']}"
        stage.api.patch(path, {"revision": found["revision"], "put_away": True})
        assert tasks.empty() == 0
        ago = timezone.now() - datetime.timedelta(days=31)
        Picture.objects.filter(pk=found["id"]).update(put_away_at=ago)
        stored = PictureFile.objects.get(picture=found["id"]).stored
        _older(Path(settings.MEDIA_ROOT))
        assert tasks.empty() == 1
        assert not default_storage.exists(stored)
        # The one that is in use keeps its file and everything to look at.
        row = PictureFile.objects.get(picture=kept["id"])
        assert default_storage.exists(row.stored)
        assert default_storage.exists(row.picture.look(1))


def _older(folder: Path) -> None:
    """Every file below, as if it had lain there for two days."""
    import os

    for path in folder.rglob("*"):
        os.utime(path, (0, path.stat().st_mtime - 2 * 86400))
