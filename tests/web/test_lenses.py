"""A lens measured by stills that hang on it, kept with it, and gone by."""

from __future__ import annotations

import dataclasses
import math
from functools import cache
from typing import Any

import numpy as np
import pytest
from PIL import Image

from jungoptic.core.board.finding import find
from jungoptic.core.board.seen import Seen
from jungoptic.core.pictures.bend import Bend
from jungoptic.core.stage.case import Case
from jungoptic.devices.slanted import even, held_at_a_slant
from jungoptic.web import documents
from jungoptic.web.kit.models import Lens
from jungoptic.web.pictures.models import Arrival, Picture
from jungoptic.web.plans.bridge import load
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.files import frozen
from tests.conftest import Api, make_person

from .test_boards import filmed, pages_wide
from .test_pictures import sent

#: A lens marked 28 that is 29.2 mm as it is focused, on the stage's own sensor.
BEND = Bend(-0.12, 0.03, 0.05, -0.04, 29.2, 24.9)


@cache
def stills() -> tuple[Any, ...]:
    return tuple((one * 255 + 0.5).astype(np.uint8) for one in held_at_a_slant(BEND, 960, 506, 77))


@pytest.fixture
def hung(stage: Any, tmp_path: Any) -> list[Any]:
    """Nine stills of the board and one of white paper, on the stage's lens."""
    found = []
    for n, picture in enumerate(stills()):
        path = tmp_path / f"LENS_{n:02}.png"
        Image.fromarray(picture).save(path)
        found.append(sent(stage, path, lens_id=str(stage.plate.lens_id), role="reference"))
    path = tmp_path / "white.png"
    Image.fromarray((even(BEND, 480, 270) * 255 + 0.5).astype(np.uint8)).save(path)
    return [*found, sent(stage, path, lens_id=str(stage.plate.lens_id), role="reference")]


@cache
def boards() -> tuple[Any, ...]:
    """The boards in the stills, as they are stored once a still was read."""
    seen = [Seen(1, found) for one in stills() if (found := find(one)) is not None]
    return tuple(
        documents.BOARD.stamped({"seen": dataclasses.asdict(one), "called": ""}) for one in seen
    )


@pytest.fixture
def read(stage: Any) -> list[Picture]:
    """The nine stills on the stage's lens, read already."""
    common = {"production": stage.production, "lens": stage.plate.lens, "state": Arrival.READ}
    return [
        Picture.objects.create(name=f"L {n}", board=board, **common)
        for n, board in enumerate(boards())
    ]


def measured(stage: Any, **more: Any) -> Any:
    wanted = {
        "lens_id": str(stage.plate.lens_id),
        "mode_id": str(stage.plate.mode_id),
        "marked_mm": 28.0,
    }
    return stage.api.work(stage.path, "lens", **{**wanted, **more})


def test_from_stills_to_what_is_kept(stage, hung):
    assert stage.plate.mode.sensor_width_mm == BEND.sensor_width_mm
    where = f"{stage.path}/lenses/{stage.plate.lens_id}/stills"
    found = stage.api.get(where).json()
    assert [one["picture_id"] for one in found] == [one["id"] for one in hung[:9]]
    assert all(len(one["places"]) >= 8 for one in found)
    job = measured(stage, even_id=hung[9]["id"], even_stop=4.0)
    assert job["state"] == "done", job["problem"]
    answer = job["result"]
    # The simulated lens is told what it is, and the answer read off its pictures.
    assert answer["pinhole_mm"] == pytest.approx(29.2, rel=0.006)
    assert len(answer["stills"]) == 9
    assert all(one["counted"] for one in answer["stills"])
    assert len(answer["lines"]) == 10
    told = {f["key"]: f for f in answer["findings"]}
    assert {"lens-focal", "lens-fit", "lens-reach", "lens-bend", "lens-corners"} <= set(told)
    assert "inwards" in told["lens-bend"]["sentence"]
    kept = answer["measure"]
    # cos^4 of the angle at the corner of a picture 24.9 mm wide and 16:9.
    corner = math.atan(math.hypot(24.9, 24.9 * 9.0 / 16.0) / 2.0 / 29.2)
    assert kept["corner_stops"] == pytest.approx(-4.0 * math.log2(math.cos(corner)), abs=0.04)
    lens = stage.api.patch(
        f"{stage.path}/lenses/{stage.plate.lens_id}", {"revision": 1, "measured": [kept]}
    )
    assert lens.status_code == 200, lens.content
    assert lens.json()["measured"] == [kept]
    # Everything goes by it now: the plan, and the card, where the ring still says 28.
    plan = load(plan_json(stage.shot))
    assert plan.kit.lenses[0].worth_mm(28.0) == kept["focal_mm"]
    card = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()
    lines = {line["label"]: line for line in card["content"]["lines"]}
    assert lines["Lens"]["detail"] == "28 mm"
    assert lines["As measured"]["value"].startswith(f"{kept['focal_mm']:.4g}")
    assert "k1 -0." in lines["As measured"]["detail"]


def test_a_lens_focused_farther_than_the_board(stage, read):
    near = measured(stage)["result"]["measure"]
    far = measured(stage, focus_m=50.0)["result"]["measure"]
    # As focused it was as long; near the board a shorter lens is.
    assert far["focal_mm"] == pytest.approx(29.2, rel=0.006)
    assert near["focal_mm"] < far["focal_mm"]


def test_the_printed_ruler_counts_for_where_the_board_was(stage, read):
    plain = measured(stage)["result"]
    larger = measured(stage, ruler_mm=102.0)["result"]
    assert larger["pinhole_mm"] == pytest.approx(plain["pinhole_mm"], rel=1e-3)
    ratio = larger["stills"][0]["distance_m"] / plain["stills"][0]["distance_m"]
    assert ratio == pytest.approx(1.02, rel=3e-3)


def test_too_few_and_what_is_not_even_are_told_in_words(stage, read, tmp_path):
    Picture.objects.filter(pk__in=[one.pk for one in read[4:]]).update(put_away=True)
    few = measured(stage)
    assert (few["state"], "5 stills" in few["problem"]) == ("failed", True)
    Picture.objects.update(put_away=False)
    path = tmp_path / "board.png"
    Image.fromarray(stills()[0]).save(path)
    board = sent(stage, path, lens_id=str(stage.plate.lens_id), role="reference")
    answer = measured(stage, even_id=board["id"])
    assert answer["state"] == "failed"
    assert "not even" in answer["problem"]
    gone = measured(stage, mode_id="00000000-0000-4000-8000-000000000000")
    assert "recording mode" in gone["problem"]


def test_others_see_nothing_of_it(stage, read, stranger_stage):
    path = f"{stage.path}/lenses/{stage.plate.lens_id}"
    stranger = Api(make_person("nobody"))
    assert stranger.get(f"{path}/stills").status_code == 404
    assert stranger.get(f"{path}/board").status_code == 404
    foreign = f"{stage.path}/lenses/{stranger_stage.plate.lens_id}"
    assert stage.api.get(f"{foreign}/stills").status_code == 404
    theirs = measured(stage, lens_id=str(stranger_stage.plate.lens_id))
    assert theirs["state"] == "failed"
    strange = measured(stage, mode_id=str(stranger_stage.plate.mode_id))
    assert "recording mode" in strange["problem"]


@pytest.mark.parametrize(("paper", "wide"), [("A4", 595.3), ("A3", 841.9)])
def test_its_board_is_printed_true_to_size(stage, paper, wide):
    answer = stage.api.get(f"{stage.path}/lenses/{stage.plate.lens_id}/board?paper={paper}")
    assert answer["Content-Type"] == "application/pdf"
    assert pages_wide(answer.content) == pytest.approx([wide], abs=0.3)


@pytest.mark.parametrize(
    ("measure", "says"),
    [
        ({"marked_mm": 28, "focal_mm": 80}, "half and twice"),
        ({"marked_mm": 0, "focal_mm": 28}, "must be 1 or more"),
        ({"marked_mm": 28}, "is missing"),
        ({"marked_mm": 28, "focal_mm": 28, "k1": 9}, "must be 5 or less"),
    ],
)
def test_what_cannot_be_is_refused_by_its_field(stage, measure, says):
    answer = stage.api.patch(
        f"{stage.path}/lenses/{stage.plate.lens_id}", {"revision": 1, "measured": [measure]}
    )
    assert answer.status_code == 422
    assert says.lower() in answer.content.decode().lower()
    assert Lens.objects.get(pk=stage.plate.lens_id).measured == []


def test_a_mark_is_measured_once(stage):
    twice = [{"marked_mm": 28, "focal_mm": 28.5}, {"marked_mm": 28, "focal_mm": 28.6}]
    answer = stage.api.patch(
        f"{stage.path}/lenses/{stage.plate.lens_id}", {"revision": 1, "measured": twice}
    )
    assert answer.status_code == 422
    assert "measured once" in answer.content.decode()


def test_a_board_is_read_through_the_lens_as_it_is_known_today(stage, tmp_path):
    """The card was issued before the lens was measured: what the lens is does not hang on that."""
    card = issue(stage.owner, stage.plate)
    picture = filmed(stage, card, tmp_path / "A.mp4", zoomed=1.05)
    before = picture["board"]
    assert before["focal_told"] in ("plan", "board")
    found = [{"marked_mm": 28.0, "focal_mm": 29.4, "k1": -0.001}]
    answer = stage.api.patch(
        f"{stage.path}/lenses/{stage.plate.lens_id}", {"revision": 1, "measured": found}
    )
    assert answer.status_code == 200
    job = stage.api.work(stage.path, "board-again", picture_id=picture["id"])
    assert job["state"] == "done", job["problem"]
    after = stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()["board"]
    ratio = 29.4 / 28.0
    plan = Case.of(*frozen(card))
    assert plan is not None
    assert after["focal_mm"] == pytest.approx(plan.stage.pinhole_mm * ratio, rel=0.01)
    stored = Picture.objects.get(pk=picture["id"]).board
    assert stored["seen"]["straightened"] is True
    told = {
        f["key"]: f
        for f in stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()["findings"]
    }
    assert "as the lens was measured" in told["board-stood"]["workings"][0]["source"]
