"""Pictures taken one by one: safe, measured, in order, taken again, put in, dropped and fetched
back; whatever comes in that is no picture; and the simulated camera at the table."""

from __future__ import annotations

import datetime
import io
import uuid
from typing import Any

import cv2
import numpy as np
import pytest
from django.core.files.storage import default_storage
from django.utils import timezone
from PIL import Image

from jungoptic.core.impossible import Impossible
from jungoptic.web.blocks import answers, eyes, tasks
from jungoptic.web.blocks.models import FOLDER, Block, Exposure
from jungoptic.web.frames.models import Sheet
from jungoptic.web.kit.models import Room
from jungoptic.web.middleware import PART
from jungoptic.web.pictures.room import used_by_production
from tests.media.made import raw

SET = cv2.resize(
    np.random.default_rng(2).uniform(60, 150, (54, 96, 3)).astype(np.float32),
    (640, 360),
    interpolation=cv2.INTER_CUBIC,
)


def picture(puppet: int | None = None, light: float = 1.0, kind: str = ".jpg") -> bytes:
    """A set with a puppet that stands so far right."""
    found = SET.copy()
    if puppet is not None:
        found[120:200, puppet : puppet + 50] = 190
    done, data = cv2.imencode(kind, np.clip(found * light, 0, 255).astype(np.uint8))
    assert done
    return bytes(data)


@pytest.fixture
def block(stage) -> Any:
    marks = [{"frame": 1, "name": "", "every": 2}]
    column = {"key": "part-1", "name": "Heron", "kind": "part", "marks": marks}
    Sheet.objects.create(shot=stage.shot, plate_id=stage.plate.pk, columns=[column])
    answer = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/blocks", {"name": "First"})
    assert answer.status_code == 200, answer.content
    return answer.json()


def send(stage: Any, block: Any, data: bytes, **how: Any) -> Any:
    query = "&".join(f"{k}={v}" for k, v in how.items())
    path = f"/api{stage.path}/blocks/{block['id']}/exposures?{query}"
    return stage.api.client.generic("POST", path, data, content_type=PART)


def taken(stage: Any, block: Any, data: bytes, **how: Any) -> Any:
    answer = send(stage, block, data, **how)
    assert answer.status_code == 200, answer.content
    return answer.json()


def listed(stage: Any) -> Any:
    return stage.api.get(f"{stage.path}/plates/{stage.plate.pk}/blocks").json()


def order(block: Any) -> list[int]:
    return [e["number"] for e in block["exposures"]]


def keys(exposure: Any) -> dict[str, Any]:
    return {f["key"]: f for f in exposure["findings"]}


class TestTaken:
    def test_it_is_on_the_disk_and_shown_before_it_is_told_of(self, stage, block):
        data = picture(100)
        told = taken(stage, block, data, revision=1)
        assert told["exposure"]["number"] == 1
        assert told["exposure"]["findings"] == []
        assert (told["block"]["width_px"], told["block"]["height_px"]) == (640, 360)
        kept = Exposure.objects.get()
        with default_storage.open(kept.stored) as file:
            assert file.read() == data
        path = f"{stage.path}/blocks/{block['id']}/exposures/1"
        look = stage.api.get(f"{path}/look")
        assert look["Content-Type"] == "image/jpeg"
        assert Image.open(io.BytesIO(b"".join(look.streaming_content))).size == (640, 360)
        whole = stage.api.get(f"{path}/file")
        assert b"".join(whole.streaming_content) == data
        assert used_by_production(stage.production) == kept.size > len(data)

    def test_it_is_measured_against_the_one_before_and_the_first(self, stage, block):
        for x in (100, 106):
            taken(stage, block, picture(x))
        told = taken(stage, block, picture(112, light=1.04))["exposure"]
        found = keys(told)
        assert found["taken-light"]["verdict"] == "strains"
        assert "brighter" in found["taken-light"]["sentence"]
        assert found["taken-stands"]["verdict"] == "holds"
        assert found["taken-moved"]["verdict"] == "holds"
        assert told["asked"]["frame"] == 5
        assert told["asked"]["asks"][0]["words"] == "a new pose"
        rows = listed(stage)["blocks"][0]["exposures"]
        assert [r["verdict"] for r in rows] == [None, "holds", "strains"]

    def test_a_forgotten_move_is_told(self, stage, block):
        taken(stage, block, picture(100))
        told = taken(stage, block, picture(100))["exposure"]
        assert keys(told)["taken-moved"]["verdict"] == "strains"
        assert told["told"]["changed"] == []

    def test_a_second_try_makes_no_second_picture(self, stage, block):
        pk = uuid.uuid4()
        first = taken(stage, block, picture(100), id=pk)
        again = taken(stage, block, picture(100), id=pk)
        assert first["exposure"]["number"] == again["exposure"]["number"]
        assert Exposure.objects.count() == 1

    def test_an_id_of_another_block_is_refused(self, stage, block):
        other = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/blocks", {}).json()
        pk = uuid.uuid4()
        taken(stage, block, picture(100), id=pk)
        assert send(stage, other, picture(100), id=pk).status_code == 422

    @pytest.mark.parametrize("kind", [".png", ".tiff", ".webp"])
    def test_stills_of_other_kinds_come_in_too(self, stage, block, kind):
        taken(stage, block, picture(100))
        told = taken(stage, block, picture(104, kind=kind), source="card")["exposure"]
        assert told["source"] == "card"
        assert "taken-moved" in keys(told)

    def test_a_raw_file_is_developed(self, stage, block, tmp_path):
        told = taken(stage, block, raw(tmp_path / "a.dng").read_bytes(), source="card")
        assert told["block"]["width_px"] == 64

    def test_a_card_says_when(self, stage, block):
        out = io.BytesIO()
        exif = Image.Exif()
        exif.get_ifd(0x8769)[0x9003] = "2026:10:17 14:03:20"
        Image.new("RGB", (64, 36), (90, 80, 70)).save(out, "JPEG", exif=exif)
        told = taken(stage, block, out.getvalue(), source="card")["exposure"]
        assert told["taken_at"].startswith("2026-10-17T14:03:20")

    def test_without_a_sheet_pictures_are_held_as_usual(self, stage, block):
        Sheet.objects.all().delete()
        type(stage.plate).objects.filter(pk=stage.plate.pk).update(hold=2)
        for x in (100, 106):
            told = taken(stage, block, picture(x))["exposure"]
        assert told["asked"]["frame"] == 3
        whole = listed(stage)
        assert (whole["begun"], whole["taken"][:3]) == (False, [1, 3, 5])


class TestOrder:
    @pytest.fixture
    def three(self, stage, block) -> Any:
        for x in (100, 106, 112):
            block = taken(stage, block, picture(x))["block"]
        return block

    def test_instead_of_one(self, stage, three):
        told = taken(stage, three, picture(107), instead=2, revision=three["revision"])
        assert order(told["block"]) == [1, 4, 3]
        assert told["block"]["dropped"] == [2]
        assert told["exposure"]["picture"] == 2
        assert told["elsewhere"] is False

    def test_the_first_of_a_block_taken_again_is_compared_with_nothing(self, stage, three):
        told = taken(stage, three, picture(101), instead=1)
        assert order(told["block"]) == [4, 2, 3]
        assert told["exposure"]["findings"] == []

    @pytest.mark.parametrize(("after", "expected"), [(0, [4, 1, 2, 3]), (2, [1, 2, 4, 3])])
    def test_put_in(self, stage, three, after, expected):
        assert order(taken(stage, three, picture(103), after=after)["block"]) == expected

    def test_dropped_and_fetched_back(self, stage, three):
        path = f"{stage.path}/blocks/{three['id']}"
        answer = stage.api.patch(path, {"revision": three["revision"], "order": [1, 3]})
        assert (order(answer.json()), answer.json()["dropped"]) == ([1, 3], [2])
        # Its neighbour is another by now: it was measured anew.
        assert answer.json()["exposures"][1]["verdict"] == "holds"
        assert Exposure.objects.get(number=3).before == 1
        told = stage.api.get(f"{path}/exposures/3").json()
        assert keys(told)["taken-moved"]["verdict"] == "holds"
        back = {"revision": answer.json()["revision"], "order": [1, 2, 3]}
        assert order(stage.api.patch(path, back).json()) == [1, 2, 3]

    def test_an_order_that_cannot_be_is_refused(self, stage, three):
        path = f"{stage.path}/blocks/{three['id']}"
        for wrong in ([1, 1], [1, 9], [0]):
            answer = stage.api.patch(path, {"revision": three["revision"], "order": wrong})
            assert answer.status_code == 422, wrong
        assert order(listed(stage)["blocks"][0]) == [1, 2, 3]

    def test_a_stale_change_is_told_what_stands(self, stage, three):
        answer = stage.api.patch(
            f"{stage.path}/blocks/{three['id']}", {"revision": 1, "order": [1]}
        )
        assert answer.status_code == 409
        assert order(answer.json()["current"]) == [1, 2, 3]

    def test_two_windows_lose_no_picture(self, stage, three):
        seen = three["revision"]
        taken(stage, three, picture(118), revision=seen)
        told = taken(stage, three, picture(124), revision=seen)
        assert told["elsewhere"] is True
        assert order(told["block"]) == [1, 2, 3, 4, 5]

    def test_others_than_the_first_few_are_measured_as_they_are_looked_at(self, stage, three):
        path = f"{stage.path}/blocks/{three['id']}"
        for x in range(118, 142, 4):
            three = taken(stage, three, picture(x))["block"]
        back = {"revision": three["revision"], "order": list(range(9, 0, -1))}
        rows = stage.api.patch(path, back).json()["exposures"]
        assert sum(row["verdict"] is not None for row in rows) == 4
        stage.api.get(f"{path}/exposures/9")
        told = stage.api.get(f"{path}/exposures/2").json()
        assert told["told"]["before"] is not None
        assert told["picture"] == 8

    def test_what_the_others_are_compared_with_can_be_said(self, stage, three):
        path = f"{stage.path}/blocks/{three['id']}"
        answer = stage.api.patch(path, {"revision": three["revision"], "reference": 3})
        assert answer.json()["reference"] == 3
        wrong = {"revision": answer.json()["revision"], "reference": 8}
        assert stage.api.patch(path, wrong).status_code == 422
        none = {"revision": answer.json()["revision"], "reference": None}
        assert stage.api.patch(path, none).json()["reference"] == 1

    def test_blocks_follow_one_another_in_the_film(self, stage, three):
        second = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/blocks", {}).json()
        assert second["first"] == 4
        told = taken(stage, second, picture(118))["exposure"]
        assert told["picture"] == 4
        assert told["asked"]["frame"] == 7

    def test_only_a_block_without_pictures_can_be_removed(self, stage, three):
        assert stage.api.delete(f"{stage.path}/blocks/{three['id']}").status_code == 422
        empty = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/blocks", {}).json()
        assert stage.api.delete(f"{stage.path}/blocks/{empty['id']}").status_code == 204
        assert len(listed(stage)["blocks"]) == 1

    def test_the_days_are_told_by_the_times(self, stage, three):
        begun = datetime.datetime(2026, 10, 17, 18, 0, tzinfo=datetime.UTC)
        for exposure in Exposure.objects.all():
            when = begun + datetime.timedelta(seconds=60 * exposure.number)
            Exposure.objects.filter(pk=exposure.pk).update(taken_at=when)
        (day,) = listed(stage)["sat"]
        assert (day["first"], day["last"]) == (1, 3)
        assert day["hours"] == pytest.approx(3 / 60, abs=0.001)


def test_a_sheet_that_cannot_be_computed_stops_nobody(stage, block, monkeypatch):
    real = answers.sheet_report

    def refusing(shot: Any, plate: Any, sheet: Any) -> Any:
        if sheet.columns:
            raise Impossible("A move begins at frame 1 or later.", "first")
        return real(shot, plate, sheet)

    monkeypatch.setattr(answers, "sheet_report", refusing)
    assert listed(stage)["trouble"] == "A move begins at frame 1 or later."
    told = taken(stage, block, picture(100))
    assert told["exposure"]["asked"]["asks"] == []


class TestRefused:
    @pytest.mark.parametrize(
        "data", [b"", b"nothing", b"\xff\xd8\xff" + b"x" * 400, picture(100)[:3000]]
    )
    def test_what_is_no_picture_leaves_nothing(self, stage, block, data):
        answer = send(stage, block, data)
        assert answer.status_code == 422, answer.content
        assert answer.json()["message"]
        assert not Exposure.objects.exists()
        assert listed(stage)["blocks"][0]["exposures"] == []

    def test_another_size_is_refused_with_the_cure(self, stage, block):
        taken(stage, block, picture(100))
        out = io.BytesIO()
        Image.new("RGB", (320, 180)).save(out, "JPEG")
        answer = send(stage, block, out.getvalue())
        assert answer.status_code == 422
        assert "another block" in answer.json()["message"]

    def test_a_full_quota_says_so(self, stage, block, settings):
        settings.PICTURE_QUOTA = 1000
        answer = send(stage, block, picture(100))
        assert answer.status_code == 422
        assert not Exposure.objects.exists()

    def test_an_eye_that_dies_is_started_again(self, stage, block, monkeypatch):
        taken(stage, block, picture(100))
        assert eyes.EYE._child is not None
        eyes.EYE._child.kill()
        eyes.EYE._child.wait()
        taken(stage, block, picture(106))

    def test_an_eye_that_never_answers_is_ended(self, stage, block, monkeypatch):
        monkeypatch.setattr(eyes, "LONGEST_S", 0.0)
        assert send(stage, block, picture(100)).status_code == 422
        assert not Exposure.objects.exists()
        monkeypatch.setattr(eyes, "LONGEST_S", 30.0)
        taken(stage, block, picture(100))

    def test_neighbours_that_are_gone_from_the_disk_stop_nobody(self, stage, block):
        for x in (100, 106, 112):
            block = taken(stage, block, picture(x))["block"]
        default_storage.delete(Exposure.objects.get(number=3).stored)
        told = taken(stage, block, picture(118))["exposure"]
        assert told["told"]["before"] is None
        assert told["told"]["reference"] is not None
        # What is gone itself says so where it would have to be measured anew.
        path = f"{stage.path}/blocks/{block['id']}"
        back = {"revision": listed(stage)["blocks"][0]["revision"], "order": [1, 3, 4]}
        assert stage.api.patch(path, back).status_code == 200
        assert stage.api.get(f"{path}/exposures/3").json()["problem"]

    def test_a_missing_file_is_told(self, stage, block):
        taken(stage, block, picture(100))
        kept = Exposure.objects.get()
        default_storage.delete(kept.proxy)
        path = f"{stage.path}/blocks/{block['id']}/exposures"
        assert stage.api.get(f"{path}/1/look").status_code == 404
        assert stage.api.get(f"{path}/7").status_code == 404


class TestSimulated:
    def look(self, stage: Any, **how: Any) -> Any:
        query = "&".join(f"{k}={v}" for k, v in how.items())
        path = f"{stage.path}/plates/{stage.plate.pk}/finder/look?width=320&{query}"
        answer = stage.api.get(path)
        assert answer.status_code == 200, answer.content
        return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)

    def test_it_shows_the_pose_that_the_sheet_asks_for(self, stage, block):
        first, tenth = self.look(stage, picture=1), self.look(stage, picture=10)
        assert first.shape[1] == 320
        assert np.abs(first.astype(int) - tenth).max() > 20
        forgot = self.look(stage, picture=2, forgot="true")
        assert np.array_equal(forgot, first)

    def test_its_faults_are_found_when_they_are_taken(self, stage, block):
        def shown(**how: Any) -> bytes:
            done, data = cv2.imencode(".png", self.look(stage, **how))
            assert done
            return bytes(data)

        taken(stage, block, shown(picture=1, seed=1), source="simulated")
        told = taken(stage, block, shown(picture=2, seed=2, light=0.06), source="simulated")
        assert keys(told["exposure"])["taken-light"]["verdict"] == "strains"

    @pytest.mark.parametrize("how", ["width=9", "knock_deg=90", "light=-1", "picture=0"])
    def test_what_cannot_be_is_refused(self, stage, how):
        path = f"{stage.path}/plates/{stage.plate.pk}/finder/look?{how}"
        assert stage.api.get(path).status_code == 422

    def test_a_plate_without_kit_says_what_it_lacks(self, stage):
        bare = stage.api.post(
            f"{stage.path}/shots/{stage.shot.pk}/plates", {"name": "Bare", "kind": "live"}
        ).json()
        answer = stage.api.get(f"{stage.path}/plates/{bare['id']}/finder/look")
        assert answer.status_code == 422
        assert answer.json()["message"]


def test_dropped_pictures_go_for_good_after_a_month(stage, block):
    for x in (100, 106):
        block = taken(stage, block, picture(x))["block"]
    stage.api.patch(
        f"{stage.path}/blocks/{block['id']}", {"revision": block["revision"], "order": [2]}
    )
    assert tasks.empty() == 0
    Block.objects.update(updated_at=timezone.now() - datetime.timedelta(days=31))
    assert tasks.empty() == 1
    assert [e.number for e in Exposure.objects.all()] == [2]
    # The files of what is gone lie for a day yet: a save may still be going on.
    assert len(default_storage.listdir(f"{FOLDER}/{stage.production.pk}")[1]) == 4


class TestRebuilt:
    def sent(self, stage: Any, block: Any, data: bytes) -> Any:
        path = f"/api{stage.path}/blocks/{block['id']}/exposures/1/rebuilt"
        return stage.api.client.generic("POST", path, data, content_type=PART)

    def moved(self, right: float, light: float = 1.0) -> bytes:
        warp = np.array([[1.0, 0.0, right], [0.0, 1.0, 0.0]])
        found = cv2.warpAffine(SET, warp, (640, 360), borderMode=cv2.BORDER_REFLECT) * light
        done, data = cv2.imencode(".jpg", np.clip(found, 0, 255).astype(np.uint8))
        assert done
        return bytes(data)

    def test_what_to_move_is_told_and_nothing_is_kept(self, stage, block):
        taken(stage, block, self.moved(0.0))
        told = self.sent(stage, block, self.moved(6.0, 1.05)).json()
        assert told["moves"][0]["what"] == "camera"
        assert "to the right" in told["moves"][0]["way"]
        assert told["moves"][1]["what"] == "light"
        assert told["moves"][1]["way"].endswith("down")
        assert Exposure.objects.count() == 1

    def test_a_set_as_it_stood_asks_for_nothing(self, stage, block):
        taken(stage, block, self.moved(0.0))
        told = self.sent(stage, block, self.moved(0.0)).json()
        assert told["moves"] == []
        assert {f["verdict"] for f in told["findings"]} == {"holds"}

    def test_another_set_and_another_shape_are_refused(self, stage, block):
        taken(stage, block, self.moved(0.0))
        other = np.random.default_rng(99).uniform(0, 255, (360, 640, 3)).astype(np.uint8)
        small = np.full((100, 100, 3), 90, np.uint8)
        for wrong in (cv2.imencode(".png", x)[1].tobytes() for x in (other, small)):
            assert self.sent(stage, block, wrong).status_code == 422

    def test_a_larger_picture_of_the_same_set_is_compared_too(self, stage, block):
        taken(stage, block, self.moved(0.0))
        large = cv2.resize(SET, (1280, 720), interpolation=cv2.INTER_CUBIC)
        data = cv2.imencode(".jpg", np.clip(large, 0, 255).astype(np.uint8))[1].tobytes()
        assert self.sent(stage, block, data).json()["moves"] == []

    def test_no_picture_is_refused(self, stage, block):
        taken(stage, block, self.moved(0.0))
        assert self.sent(stage, block, b"nothing").status_code == 422


class TestAtTheTable:
    def test_nothing_is_animated_yet(self, stage):
        assert stage.api.get(f"{stage.path}/at-table").json() == []

    def test_days_blocks_and_what_is_left(self, stage, block):
        for i in range(6):
            taken(stage, block, picture(100 + 20 * i))
        begun = datetime.datetime(2026, 10, 17, 18, 0, tzinfo=datetime.UTC)
        for i, one in enumerate(Exposure.objects.order_by("number")):
            one.taken_at = begun + datetime.timedelta(minutes=6 * i)
            one.save()
        stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/blocks", {"name": "Rebuilt"})
        (told,) = stage.api.get(f"{stage.path}/at-table").json()
        assert told["taken"] == 6
        assert told["plate"] == stage.plate.name
        # Ten pictures an hour, as six minutes a picture are.
        assert told["progress"]["measured"]
        assert told["progress"]["pictures_per_h"] == pytest.approx(10.0)
        assert told["progress"]["hours_left"] == pytest.approx((told["pictures"] - 6) / 10.0)
        assert [(d["day"], d["first"], d["last"]) for d in told["days"]] == [("2026-10-17", 1, 6)]
        assert told["days"][0]["hours"] == pytest.approx(0.6)
        assert [(b["name"], b["pictures"]) for b in told["blocks"]] == [
            ("First", 6),
            ("Rebuilt", 0),
        ]
        assert told["blocks"][0]["ended"] == "2026-10-17"
        assert told["blocks"][1]["ended"] is None
        assert told["rebuild"]["low"] < told["rebuild"]["likely"] < told["rebuild"]["high"]

    @pytest.mark.parametrize(
        ("room", "production", "days"),
        [
            ("", "", ["2026-10-17", "2026-10-18"]),
            # From half past seven in the evening there, and half past eight in the morning.
            ("America/New_York", "", ["2026-10-17"]),
            ("", "Asia/Tokyo", ["2026-10-18"]),
            ("America/New_York", "Asia/Tokyo", ["2026-10-17"]),
        ],
    )
    def test_a_day_ends_at_midnight_where_it_is_filmed(self, stage, block, room, production, days):
        """By the clock of the room, else by that of the production, else UTC."""
        stage.production.time_zone = production
        stage.production.save()
        if room:
            stage.plate.room = Room.objects.create(
                production=stage.production, name="Shed", length_m=5, width_m=4, time_zone=room
            )
            stage.plate.save()
        for i in range(4):
            taken(stage, block, picture(100 + 20 * i))
        begun = datetime.datetime(2026, 10, 17, 23, 30, tzinfo=datetime.UTC)
        for i, one in enumerate(Exposure.objects.order_by("number")):
            one.taken_at = begun + datetime.timedelta(minutes=12 * i)
            one.save()
        (told,) = stage.api.get(f"{stage.path}/at-table").json()
        assert [d["day"] for d in told["days"]] == days
        assert [d["day"] for d in listed(stage)["sat"]] == days
        assert (told["blocks"][0]["begun"], told["blocks"][0]["ended"]) == (days[0], days[-1])

    def test_a_puppet_without_a_picture_goes_by_its_usual_hold(self, stage):
        stage.plate.kind = "puppet"
        stage.plate.hold = 2
        stage.plate.save()
        day = {"day": "2026-10-18", "first": 1, "last": 24, "hours": 2}
        sheet = f"{stage.path}/plates/{stage.plate.pk}/sheet"
        assert stage.api.patch(sheet, {"revision": 0, "worked": [day]}).status_code == 200
        (told,) = stage.api.get(f"{stage.path}/at-table").json()
        frames = round(stage.shot.screen_time_s * stage.shot.playback_fps)
        assert told["pictures"] == (frames + 1) // 2
        assert told["days"] == [{**day, "hours": 2.0, "by_hand": True}]
        assert told["progress"]["pictures_per_h"] == pytest.approx(6.0)

    def test_a_plate_that_is_gone_is_not_told(self, stage, block):
        stage.api.delete(f"{stage.path}/plates/{stage.plate.pk}?revision=1")
        assert stage.api.get(f"{stage.path}/at-table").json() == []
