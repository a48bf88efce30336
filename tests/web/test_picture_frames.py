"""One frame measured and a key tried on it, behind the scenes."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from jungoptic.web.plans.models import Plate
from tests.conftest import make_stage, new_id
from tests.conftest import sent as streamed
from tests.core.test_cloth import filmed
from tests.media.made import photograph

from .test_pictures import sent


@pytest.fixture
def cloth(stage: Any, tmp_path: Any) -> Any:
    """A photograph of somebody before a green cloth that is dark on its right."""
    Plate.objects.filter(pk=stage.plate.pk).update(kind="screen", screen_colour="green")
    path = tmp_path / "cloth.jpg"
    picture = (filmed(across=1.1)[0] * 255 + 0.5).astype(np.uint8)
    Image.fromarray(picture).save(path, quality=95, subsampling=0)
    return sent(stage, path, plate_id=str(stage.plate.pk))


def measured(stage: Any, picture: Any, **more: Any) -> Any:
    return stage.api.work(stage.path, "frame", picture_id=picture["id"], **more)


def test_a_cloth_as_its_plate_plans_it(stage, cloth):
    job = measured(stage, cloth)
    assert job["state"] == "done", job["problem"]
    found = job["result"]
    assert (found["colour"], found["frame"], found["area"]) == ("green", 1, [0.0, 0.0, 1.0, 1.0])
    said = {f["key"]: f for f in found["findings"]}
    assert "darkest on the right" in said["cloth-even"]["sentence"]
    assert {"key-holes", "key-veil", "key-edge", "key-spill", "levels-clipped"} <= set(said)
    assert found["trial"]["kept"] == pytest.approx(0.105, abs=0.02)
    assert len(found["areas"]) >= 16
    assert {line["stops"] for line in found["lines"]} >= {0.0, 0.25}
    # Coarser samples of colour change the edge more.
    coarse, finer = found["ways"]
    assert (coarse["sampling"], finer["sampling"]) == ("4:2:0", "4:2:2")
    assert coarse["lost"] > finer["lost"]
    # What is kept can be laid over anything.
    file = streamed(stage.api.client.get(f"/api{stage.path}/jobs/{job['id']}/file"))
    kept = np.asarray(Image.open(io.BytesIO(file)))
    assert kept.shape == (540, 960, 4)
    assert kept[400, 480, 3] == 255
    assert kept[100, 100, 3] == 0


def test_a_part_of_it_and_another_colour(stage, cloth):
    part = measured(stage, cloth, area=[0.0, 0.0, 0.3, 1.0])["result"]
    whole = measured(stage, cloth)["result"]

    def even(result: Any) -> float:
        one = next(f for f in result["findings"] if f["key"] == "cloth-even")
        return one["workings"][0]["result"]["value"]

    assert even(part) < 0.6 * even(whole)
    assert part["area"] == [0.0, 0.0, 0.3, 1.0]
    blue = measured(stage, cloth, colour="blue")["result"]
    none = next(f for f in blue["findings"] if f["key"] == "cloth-none")
    assert "No blue cloth was found" in none["sentence"]
    assert "trial" not in blue
    levels = measured(stage, cloth, colour="none")["result"]
    assert {f["key"] for f in levels["findings"]} == {"levels-clipped", "levels-crushed"}


def test_a_picture_of_no_plate_has_levels_and_no_cloth(stage, tmp_path):
    picture = sent(stage, photograph(tmp_path / "P.jpg"))
    found = measured(stage, picture)["result"]
    assert found["colour"] is None
    assert {f["key"] for f in found["findings"]} == {"levels-clipped", "levels-crushed"}


def test_what_cannot_be_measured_is_said(stage, cloth):
    def refused(**params: Any) -> str:
        body = {"kind": "frame", "params": {"picture_id": cloth["id"], **params}}
        answer = stage.api.post(f"{stage.path}/jobs", body)
        assert answer.status_code == 422, answer.content
        return answer.json()["message"]

    assert "low must be below high" in refused(low=0.7, high=0.6)
    assert "draw it larger" in refused(area=[0.5, 0.5, 0.505, 1.0])
    refused(area=[0.0, 0.0, 2.0, 1.0])
    refused(colour="pink")
    assert "no frame 7" in measured(stage, cloth, frame=7)["problem"]
    assert "no such picture" in measured(stage, {"id": new_id()})["problem"]
    other = make_stage(stage.owner, "Other")
    assert "no such picture" in measured(other, cloth)["problem"]
