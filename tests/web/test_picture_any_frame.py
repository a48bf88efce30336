"""Any frame of a clip, and the part of a picture that is measured."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from django.core.files.storage import default_storage
from PIL import Image

from jungoptic.core.pictures.sequence import shift_px
from jungoptic.web.pictures import looking
from jungoptic.web.pictures.models import Picture
from tests.conftest import make_stage, new_id
from tests.conftest import sent as streamed
from tests.media.made import set_clip, still

from .test_pictures import sent


def shown(stage: Any, picture: Any, frame: int) -> Any:
    return stage.api.work(stage.path, "show-frame", picture_id=picture["id"], frame=frame)


def grey(picture: Any, frame: int) -> Any:
    with default_storage.open(Picture.objects.get(pk=picture["id"]).look(frame), "rb") as file:
        return np.asarray(Image.open(io.BytesIO(file.read())).convert("L"), np.float32) / 255.0


@pytest.fixture
def going(stage: Any, tmp_path: Any) -> Any:
    """A clip that goes two pixels to the right in every frame."""
    path = set_clip(tmp_path / "A001.mp4", shifts=[(2.0 * n, 0.0) for n in range(60)])
    return sent(stage, path, plate_id=str(stage.plate.pk))


class TestAnyFrame:
    def test_it_is_the_one_that_was_asked_for(self, stage, going):
        assert 8 not in going["looks"]
        job = shown(stage, going, 8)
        assert job["state"] == "done", job["problem"]
        assert job["result"] == {"frame": 8}
        now = stage.api.get(f"{stage.path}/pictures/{going['id']}").json()
        assert now["looks"] == sorted({*going["looks"], 8})
        assert now["revision"] > going["revision"]
        url = f"/api{stage.path}/pictures/{going['id']}/look?frame=8"
        assert streamed(stage.api.client.get(url))[:2] == b"\xff\xd8"
        # The reference: what was put into the clip, seven frames of two pixels.
        assert shift_px(grey(going, 1), grey(going, 8)) == pytest.approx((14.0, 0.0), abs=0.3)
        assert shown(stage, going, 8)["state"] == "done"

    def test_it_is_kept_when_the_file_is_read_once_more(self, stage, going):
        shown(stage, going, 8)
        Picture.objects.filter(pk=going["id"]).update(picked_in=8)
        again = stage.api.work(stage.path, "look-at", picture_id=going["id"])
        assert again["state"] == "done", again["problem"]
        now = stage.api.get(f"{stage.path}/pictures/{going['id']}").json()
        assert 8 in now["looks"]
        assert (now["picked_in"], now["state"]) == (8, "read")

    def test_what_there_is_not_is_said(self, stage, going, tmp_path, monkeypatch):
        assert "has 60 frames" in shown(stage, going, 61)["problem"]
        one = sent(stage, still(tmp_path / "one.jpg"))
        assert "no more than one frame" in shown(stage, one, 1)["problem"]
        assert "no such picture" in shown(stage, {"id": new_id()}, 2)["problem"]
        assert "no such picture" in shown(make_stage(stage.owner, "Other"), going, 8)["problem"]
        monkeypatch.setattr(looking, "MOST", len(going["looks"]))
        assert "and no more" in shown(stage, going, 8)["problem"]
        for nothing in (0, -3, 1.5, "x"):
            body = {"kind": "show-frame", "params": {"picture_id": going["id"], "frame": nothing}}
            assert stage.api.post(f"{stage.path}/jobs", body).status_code == 422


class TestAPart:
    def laid(self, stage, one, two, area=None):
        wanted = {"first_id": one["id"], "second_id": two["id"], "area": area}
        return stage.api.work(stage.path, "pair", **wanted)

    def test_only_what_lies_in_it_is_laid_on_each_other(self, stage, tmp_path):
        clean = sent(stage, still(tmp_path / "clean.jpg"))
        take = sent(stage, still(tmp_path / "take.jpg", (3.0, -1.5), arm=True))
        whole = self.laid(stage, clean, take)["result"]
        # To the right of the arm, which reaches to 220 of 960.
        job = self.laid(stage, clean, take, [0.3, 0.1, 1.0, 0.9])
        assert job["state"] == "done", job["problem"]
        found = job["result"]
        said = {f["key"]: f for f in found["findings"]}
        assert said["pair-place"]["workings"][0]["result"]["value"] == pytest.approx(3.35, abs=0.2)
        assert whole["changed"] > 0.05 > 0.01 > found["changed"]
        file = streamed(stage.api.client.get(f"/api{stage.path}/jobs/{job['id']}/file"))
        drawn = np.asarray(Image.open(io.BytesIO(file)))
        # Drawn over the whole picture, nothing outside of the part.
        assert drawn.shape == (540, 960, 4)
        assert drawn[:, :287, 3].max() == 0

    def test_where_the_arm_is_it_is_found(self, stage, tmp_path):
        clean = sent(stage, still(tmp_path / "clean.jpg"))
        take = sent(stage, still(tmp_path / "take.jpg", arm=True))
        found = self.laid(stage, clean, take, [0.0, 0.2, 0.6, 0.9])["result"]
        # The arm: 220 x 220 of 576 x 378.
        assert found["changed"] == pytest.approx(220 * 220 / (576 * 378), abs=0.05)

    def test_a_part_too_small_is_said(self, stage, tmp_path):
        one = sent(stage, still(tmp_path / "a.jpg"))
        params = {"first_id": one["id"], "second_id": one["id"], "area": [0.5, 0.5, 0.505, 0.9]}
        answer = stage.api.post(f"{stage.path}/jobs", {"kind": "pair", "params": params})
        assert answer.status_code == 422
        assert "draw it larger" in answer.content.decode()
