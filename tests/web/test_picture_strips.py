"""Small pictures of every frame, and what stands beside the rows of a sheet."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.core.files.storage import default_storage
from PIL import Image

from jungoptic.devices.clapped import Clap, heard
from jungoptic.media.clip import with_sound
from jungoptic.web.frames.models import Sheet
from jungoptic.web.pictures import stripping, tasks
from jungoptic.web.pictures.models import Picture
from tests.conftest import make_stage
from tests.conftest import sent as streamed
from tests.media.made import clip, photograph, still

from .test_pictures import sent


def drawn(stage: Any, picture: Any) -> Any:
    return stage.api.work(stage.path, "strip", picture_id=picture["id"])


def strip_of(stage: Any, picture: Any) -> Any:
    return stage.api.get(f"{stage.path}/pictures/{picture['id']}/strip")


def sheet_of(stage: Any, picture: Any, number: int) -> Any:
    url = f"/api{stage.path}/pictures/{picture['id']}/strip/{number}"
    return np.asarray(Image.open(io.BytesIO(streamed(stage.api.client.get(url)))).convert("RGB"))


@pytest.fixture
def long(stage: Any, tmp_path: Path) -> Any:
    """A hundred and twenty frames, through which a bright bar wanders from left to right."""
    return sent(stage, clip(tmp_path / "A001.mp4", count=120), plate_id=str(stage.plate.pk))


def test_every_frame_has_a_small_picture(stage, long):
    assert strip_of(stage, long).status_code == 404
    job = drawn(stage, long)
    assert (job["state"], job["result"]) == ("done", {"frames": 120}), job["problem"]
    told = strip_of(stage, long).json()
    assert (told["frames"], told["fps"], told["loud"]) == (120, 24.0, [])
    assert (told["wide"], told["high"], told["across"], told["down"]) == (160, 90, 10, 10)
    first, second = (sheet_of(stage, long, n) for n in (1, 2))
    assert first.shape == second.shape == (900, 1600, 3)

    def bar(frame: int) -> float:
        """Where the bar is, 0..1: the reddest column of the small picture."""
        sheet, within = (first, second)[(frame - 1) // 100], (frame - 1) % 100
        row, column = divmod(within, 10)
        cell = sheet[row * 90 : row * 90 + 90, column * 160 : column * 160 + 160].astype(float)
        line = (cell[..., 0] - cell[..., 2])[32:42].mean(axis=0)
        return float(
            (np.arange(160) * np.clip(line, 20, None)).sum() / np.clip(line, 20, None).sum()
        )

    places = [bar(frame) for frame in (1, 30, 60, 100, 101, 120)]
    assert places == sorted(places)
    # What comes after the last is black.
    assert second[200:].max() < 12
    url = f"{stage.path}/pictures/{long['id']}/strip"
    assert stage.api.get(f"{url}/3").status_code == 404
    assert stage.api.get(f"{url}/0").status_code == 404


def test_it_says_how_loud_each_frame_is(stage, tmp_path):
    path = clip(tmp_path / "clap.webm", "libvpx-vp9", count=72)
    with_sound(path, heard(Clap(1.0), 3.0))
    picture = sent(stage, path)
    drawn(stage, picture)
    told = strip_of(stage, picture).json()
    assert len(told["loud"]) == told["frames"]
    # The reference: the clap that was put in, a second after the first picture.
    assert int(np.argmax(told["loud"])) == pytest.approx(told["fps"] * 1.0, abs=1)
    assert max(told["loud"]) > np.median(told["loud"]) + 15


def test_pictures_in_a_row_too_and_only_so_many_of_a_long_one(stage, long, tmp_path, monkeypatch):
    paths = [photograph(tmp_path / f"DUSK_{n}.JPG") for n in range(1, 7)]
    row = sent(stage, *paths)
    drawn(stage, row)
    assert strip_of(stage, row).json()["frames"] == 6
    monkeypatch.setattr(stripping, "MOST", 50)
    drawn(stage, long)
    assert strip_of(stage, long).json()["frames"] == 50


def test_what_cannot_be_is_said_and_what_is_not_used_is_swept(stage, long, tmp_path):
    one = sent(stage, still(tmp_path / "one.jpg"))
    assert "no more than one frame" in drawn(stage, one)["problem"]
    assert "no such picture" in drawn(make_stage(stage.owner, "Other"), long)["problem"]
    drawn(stage, long)
    row = Picture.objects.get(pk=long["id"])
    tasks.empty()
    assert all(default_storage.exists(row.strip_sheet(n)) for n in (1, 2))


class TestBesideASheet:
    def keep(self, stage, revision=0, **changes):
        url = f"{stage.path}/plates/{stage.plate.pk}/sheet"
        return stage.api.patch(url, {"revision": revision, **changes})

    def test_it_is_kept_with_the_sheet(self, stage, long):
        beside = {"picture_id": long["id"], "at": -11}
        kept = self.keep(stage, reference=beside)
        assert kept.status_code == 200, kept.content
        assert kept.json()["reference"] == beside
        assert self.keep(stage, 1, columns=[]).json()["reference"] == beside
        assert self.keep(stage, 2, reference=None).json()["reference"] is None

    def test_another_production_s_shows_nothing(self, stage, long):
        drawn(stage, long)
        other = make_stage(stage.owner, "Other")
        assert self.keep(other, reference={"picture_id": long["id"], "at": 1}).status_code == 200
        assert strip_of(other, long).status_code == 404

    def test_what_makes_no_sense_is_refused(self, stage, long):
        for wrong in ({"at": 10**7}, {"at": 1.5}, {"picture_id": "x"}, {"more": 1}):
            beside = {"picture_id": long["id"], "at": 1, **wrong}
            assert self.keep(stage, reference=beside).status_code == 422
        assert not Sheet.objects.exists()
