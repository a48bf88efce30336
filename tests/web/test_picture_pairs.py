"""Two pictures laid on each other, behind the scenes."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from tests.conftest import make_stage, new_id
from tests.conftest import sent as streamed
from tests.media.made import still

from .test_pictures import sent


def laid(stage: Any, one: Any, two: Any) -> Any:
    wanted = {"first_id": one["id"], "second_id": two["id"]}
    return stage.api.work(stage.path, "pair", **wanted)


def test_a_clean_plate_against_its_take(stage, tmp_path):
    clean = sent(stage, still(tmp_path / "clean.jpg"))
    take = sent(stage, still(tmp_path / "take.jpg", (3.0, -1.5), 0.25, arm=True))
    job = laid(stage, clean, take)
    assert job["state"] == "done", job["problem"]
    found = {f["key"]: f for f in job["result"]["findings"]}
    assert "lies 3.0" in found["pair-place"]["sentence"]
    assert "px right and 1.5" in found["pair-place"]["sentence"]
    assert found["pair-place"]["workings"][0]["result"]["value"] == pytest.approx(3.35, abs=0.2)
    light = found["pair-light"]["workings"][0]["result"]["value"]
    assert light == pytest.approx(0.25, abs=0.03)
    # What changed is drawn where the arm is, and hardly elsewhere.
    file = streamed(stage.api.client.get(f"/api{stage.path}/jobs/{job['id']}/file"))
    drawn = np.asarray(Image.open(io.BytesIO(file)))
    assert drawn.shape == (540, 960, 4)
    assert drawn[230:390, 20:190, 3].mean() > 150
    assert drawn[:, 400:, 3].mean() < 10
    assert 0.05 < job["result"]["changed"] < 0.2


def test_the_same_picture_lies_on_itself(stage, tmp_path):
    one = sent(stage, still(tmp_path / "a.jpg"))
    job = laid(stage, one, one)
    assert {f["verdict"] for f in job["result"]["findings"]} == {"holds"}


def test_what_cannot_be_laid_on_each_other_is_said(stage, tmp_path):
    one = sent(stage, still(tmp_path / "a.jpg"))
    Image.new("RGB", (540, 960), "grey").save(tmp_path / "tall.jpg")
    tall = sent(stage, tmp_path / "tall.jpg")
    assert "two shapes do not lie" in laid(stage, one, tall)["problem"]
    Image.new("RGB", (960, 540), "grey").save(tmp_path / "even.jpg")
    even = sent(stage, tmp_path / "even.jpg")
    assert "too even" in laid(stage, even, even)["problem"]
    assert "alike" in laid(stage, one, even)["problem"]
    frame = {"first_id": one["id"], "second_id": one["id"], "second_frame": 7}
    assert "no frame 7" in stage.api.work(stage.path, "pair", **frame)["problem"]
    other = make_stage(stage.owner, "Other")
    assert "no such picture" in laid(other, one, one)["problem"]
    assert "no such picture" in laid(stage, one, {"id": new_id()})["problem"]
