"""Marks and edges picked in a picture: kept, worked out, and gone by for the take."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image, ImageDraw

from jungoptic.core.stage.case import Case
from jungoptic.devices.held_up import before
from jungoptic.web.demo import picked as demo
from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.jobs.models import Job, State
from jungoptic.web.journal.models import Entry
from jungoptic.web.pictures.answers import Plans
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.models import Plate
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.files import balled, edged, frozen, marked
from jungoptic.web.takes.models import SetCard, Take

from .test_documents import kept
from .test_pictures import sent

#: Taped from the mark of the mill: right, ahead, up, metres.
TAPED = [
    ("left of the table", -0.35, -0.2, 0.0),
    ("right of the table", 0.4, -0.25, 0.0),
    ("back of the table", 0.3, 0.5, 0.0),
    ("a peg", -0.3, 0.35, 0.22),
    ("the chimney", 0.1, 0.1, 0.3),
]


@pytest.fixture
def card(stage: Any) -> SetCard:
    """A card of the stage's plate: a camera 125 mm above a table, 1.7 m from a mill."""
    return issue(stage.owner, stage.plate)


@pytest.fixture
def take(stage: Any, card: SetCard) -> Take:
    stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
    return Take.objects.get()


def still(path: Path, size: tuple[int, int]) -> Path:
    Image.fromarray(np.full((size[1], size[0], 3), 90, np.uint8)).save(path)
    return path


def marks(card: SetCard, count: int = 5, **moved: float) -> list[dict[str, Any]]:
    """Where the card's camera, moved, shows what was taped."""
    case = Case.of(*frozen(card))
    assert case is not None
    mode = case.choice.mode
    seen = before(case, **moved).project([row[1:] for row in TAPED], mode.width_px, mode.height_px)
    parts = seen / (mode.width_px, mode.height_px)
    return [
        {
            "name": name,
            "right_m": right,
            "ahead_m": ahead,
            "up_m": up,
            "x": round(float(x), 6),
            "y": round(float(y), 6),
        }
        for (name, right, ahead, up), (x, y) in zip(TAPED[:count], parts[:count], strict=True)
    ]


def picture_of(stage: Any, card: SetCard, tmp_path: Path, **where: Any) -> Any:
    case = Case.of(*frozen(card))
    assert case is not None
    size = case.choice.mode.width_px, case.choice.mode.height_px
    return sent(stage, still(tmp_path / "A.png", size), **where)


def pick(stage: Any, picture: Any, **picked: Any) -> Any:
    """The picture once what was picked in it is worked out."""
    path = f"{stage.path}/pictures/{picture['id']}"
    now = stage.api.get(path).json()["revision"]
    answer = stage.api.patch(path, {"revision": now, **picked})
    assert answer.status_code == 200, answer.content
    for job in Job.objects.filter(kind="board-again", state=State.WAITING):
        carry_out(job.pk)
        job.refresh_from_db()
        assert (job.state, job.problem) == (State.DONE, "")
    return stage.api.get(path).json()


def balled_still(path: Path, level: int = 225) -> tuple[Path, dict[str, Any]]:
    """A chrome ball in the middle of a still, a lamp left of its middle, and its outline."""
    size = 1920, 1080
    shown = Image.new("RGB", size, (40, 40, 40))
    x, y, radius = size[0] / 2, size[1] / 2, size[1] / 6
    pen = ImageDraw.Draw(shown)
    pen.ellipse((x - radius, y - radius, x + radius, y + radius), (25, 25, 25))
    left, top = x - 0.5 * radius, y - 0.3 * radius
    pen.ellipse((left - 20, top - 20, left + 20, top + 20), (level, level, level))
    shown.save(path)
    return path, {"kind": "chrome", "x": 0.5, "y": 0.5, "radius": radius / size[0]}


class TestBalls:
    def test_a_ball_on_a_reference_still_says_where_the_key_is(self, stage, card, take, tmp_path):
        path, ball = balled_still(tmp_path / "ball.png")
        picture = sent(stage, path, take_id=str(take.pk), role="reference")
        told = pick(stage, picture, balls=[ball])
        (says,) = told["by_balls"]
        assert (says["kind"], says["problem"], says["guessed"]) == ("chrome", "", False)
        # Twice the slope of its face, to the left of the lens and behind it.
        assert says["lights"][0]["told"] == "from the left, in front"
        assert says["lights"][0]["stops"] == 0.0
        found = {f["key"]: f for f in told["findings"]}
        assert "By the chrome ball the key comes from the left" in found["ball-side"]["sentence"]
        # The take is told by it, though the picture is there for reference only.
        page = stage.api.get(f"{stage.path}/takes/{take.pk}").json()
        assert "ball-side" in {f["key"] for f in page["report"]["findings"]}
        gone = pick(stage, picture, balls=[])
        assert (gone["by_balls"], gone["findings"]) == ([], [])

    def test_a_ball_that_says_nothing_says_why(self, stage, card, take, tmp_path):
        path, ball = balled_still(tmp_path / "ball.png", level=26)
        picture = sent(stage, path, take_id=str(take.pk))
        told = pick(stage, picture, balls=[ball])
        assert "shows no lamp" in told["by_balls"][0]["problem"]
        found = {f["key"]: f for f in told["findings"]}
        assert found["ball-side"]["verdict"] == "strains"

    def test_of_no_plate_nobody_knows_how_its_camera_looked(self, stage, tmp_path):
        path, ball = balled_still(tmp_path / "ball.png")
        told = pick(stage, sent(stage, path), balls=[ball])
        (says,) = told["by_balls"]
        assert "hang the picture on a take or a plate with a lens" in says["problem"]
        assert (says["lights"], told["findings"]) == ([], [])
        # Nor of a plate without a camera, and once it has one it is read once more.
        lens = stage.plate.lens_id
        Plate.objects.update(lens=None)
        bare = pick(stage, sent(stage, path, plate_id=str(stage.plate.pk)), balls=[ball])
        assert "with a lens" in bare["by_balls"][0]["problem"]
        Plate.objects.update(lens=lens)
        where = f"{stage.path}/pictures/{bare['id']}"
        asked = {"kind": "look-at", "params": {"picture_id": bare["id"]}}
        carry_out(stage.api.post(f"{stage.path}/jobs", asked).json()["id"])
        assert stage.api.get(where).json()["by_balls"][0]["lights"] != []

    @pytest.mark.parametrize(
        ("wrong", "field"),
        [({"radius": 0.0}, "radius"), ({"x": 1.2}, "x"), ({"kind": "glass"}, "kind")],
    )
    def test_what_is_no_ball_is_refused_by_its_field(
        self, stage, card, take, tmp_path, wrong, field
    ):
        path, ball = balled_still(tmp_path / "ball.png")
        picture = sent(stage, path, take_id=str(take.pk))
        where = f"{stage.path}/pictures/{picture['id']}"
        body = {"revision": stage.api.get(where).json()["revision"], "balls": [{**ball, **wrong}]}
        answer = stage.api.patch(where, body)
        assert answer.status_code == 422
        assert field in str(answer.json())


class TestMarks:
    def test_they_say_where_the_camera_stood_and_the_take_goes_by_it(
        self, stage, card, take, tmp_path
    ):
        picture = picture_of(stage, card, tmp_path, take_id=str(take.pk))
        told = pick(stage, picture, marks=marks(card, up=0.02, tilted=1.0))
        assert told["by_marks"]["problem"] == ""
        assert (told["mark"], told["of_shot"]) == ("Mill", str(stage.shot.pk))
        take.refresh_from_db()
        case = Case.of(*frozen(card))
        assert case is not None
        assert take.tilt_deg == pytest.approx(case.stage.camera.tilt_deg + 1.0, abs=0.01)
        assert {"axis_height_m", "tilt_deg", "distance_m"} <= set(take.from_file)
        said = {f["key"]: f for f in told["findings"]}
        assert said["marks-stood"]["verdict"] == "holds"
        assert "By 5 marks in the picture" in said["marks-stood"]["sentence"]
        assert said["marks-roll"]["verdict"] == "holds"
        # Taken away again, they say nothing any more.
        gone = pick(stage, picture, marks=[])
        assert gone["by_marks"] is None
        take.refresh_from_db()
        assert (take.axis_height_m, take.from_file) == (None, [])
        assert Entry.objects.filter(kind="picture", action="measured").count() == 2

    def test_a_wrong_tape_is_named_and_nothing_is_read_off_it(self, stage, card, take, tmp_path):
        picture = picture_of(stage, card, tmp_path, take_id=str(take.pk))
        wrong = marks(card)
        wrong[3]["up_m"] += 0.08
        told = pick(stage, picture, marks=wrong)
        assert told["by_marks"]["suspect"] == "a peg"
        finding = next(f for f in told["findings"] if f["key"] == "marks-stood")
        assert finding["verdict"] == "strains"
        assert "Without “a peg” the others do" in finding["sentence"]
        take.refresh_from_db()
        assert take.axis_height_m is None

    def test_what_was_taped_is_held_against_them(self, stage, card, take, tmp_path):
        Take.objects.filter(pk=take.pk).update(axis_height_m=0.4)
        picture = picture_of(stage, card, tmp_path, take_id=str(take.pk))
        pick(stage, picture, marks=marks(card))
        take.refresh_from_db()
        assert take.axis_height_m == 0.4
        page = stage.api.get(f"{stage.path}/takes/{take.pk}").json()
        said = {f["key"]: f["sentence"] for f in page["report"]["findings"]}
        sentence = said["board-typed-axis_height_m"]
        assert "400 mm was read off, the marks in the picture say" in sentence

    def test_too_few_and_no_plan_say_so(self, stage, card, tmp_path):
        picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
        told = pick(stage, picture, marks=marks(card)[:3])
        assert "four points" in told["by_marks"]["problem"]
        moved = pick(stage, picture, plate_id=None, marks=marks(card))
        assert "hang the picture on a take or a plate" in moved["by_marks"]["problem"]
        # Hung where there is a plan, they are worked out by it.
        back = pick(stage, picture, plate_id=str(stage.plate.pk))
        assert back["by_marks"]["stood"] is not None

    def test_work_for_marks_that_changed_meanwhile_leaves_them_alone(self, stage, card, tmp_path):
        picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
        path = f"{stage.path}/pictures/{picture['id']}"
        for count in (4, 5):
            now = stage.api.get(path).json()
            # Who looks meanwhile is told that it is being worked out.
            assert now["reading"] == (count == 5)
            stage.api.patch(path, {"revision": now["revision"], "marks": marks(card, count)})
        for job in Job.objects.filter(state=State.WAITING).order_by("asked_at"):
            carry_out(job.pk)
        assert len(stage.api.get(path).json()["by_marks"]["places"]) == 5

    def test_work_that_ends_while_it_is_asked_after_is_not_told_as_over(
        self, stage, card, tmp_path, monkeypatch
    ):
        """Whoever watches would look no more, and never see what came of it."""
        picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
        path = f"{stage.path}/pictures/{picture['id']}"
        now = stage.api.get(path).json()
        stage.api.patch(path, {"revision": now["revision"], "marks": marks(card)})
        job = Job.objects.get(kind="board-again", state=State.WAITING)
        judged = Plans.findings

        def meanwhile(self, row):
            carry_out(job.pk)
            return judged(self, row)

        monkeypatch.setattr(Plans, "findings", meanwhile)
        told = stage.api.get(path).json()
        assert (told["by_marks"], told["reading"]) == (None, True)
        told = stage.api.get(path).json()
        assert (told["by_marks"]["problem"], told["reading"]) == ("", False)

    @pytest.mark.parametrize(
        "wrong",
        [
            {"x": 1.2},
            {"y": -0.1},
            {"right_m": 1e9},
            {"name": ""},
            {"up_m": None},
            {"more": 1},
        ],
    )
    def test_bad_marks_are_refused_in_words(self, stage, card, tmp_path, wrong):
        picture = picture_of(stage, card, tmp_path)
        path = f"{stage.path}/pictures/{picture['id']}"
        one = {**marks(card)[0], **wrong}
        answer = stage.api.patch(path, {"revision": picture["revision"], "marks": [one]})
        assert answer.status_code == 422
        assert answer.json()["fields"]
        many = [marks(card)[0]] * 41
        answer = stage.api.patch(path, {"revision": picture["revision"], "marks": many})
        assert answer.status_code == 422

    def test_the_same_place_four_times_is_no_answer(self, stage, card, tmp_path):
        picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
        told = pick(stage, picture, marks=[marks(card)[0]] * 4)
        assert told["by_marks"]["stood"] is None
        assert "one line" in told["by_marks"]["problem"]

    def test_the_plan_offers_places(self, stage, card, tmp_path):
        picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
        offered = {o["name"]: o for o in picture["offered"]}
        corner = offered["Mill: bottom front left corner"]
        assert (corner["ahead_m"], corner["up_m"]) == (0.0, 0.0)
        assert corner["right_m"] < 0.0


class TestEdges:
    def test_a_photograph_of_1911_says_how_it_was_taken(self, stage, tmp_path):
        """The demo draws it with a camera that nobody tells the edges."""
        path = tmp_path / "1911.jpg"
        demo.photograph().save(path)
        edges, uprights = demo.edges()
        picture = sent(stage, path, role="reference", shot_id=str(stage.shot.pk))
        told = pick(
            stage,
            picture,
            edges=[asdict(one) for one in edges],
            uprights=[asdict(one) for one in uprights],
        )
        by, camera = told["by_edges"], demo.OF_1911
        widths = camera.focal_mm / camera.sensor_width_mm
        assert abs(by["focal_widths"] - widths) <= by["focal_off"] + 0.01
        assert by["tilt_deg"] == pytest.approx(camera.tilt_deg, abs=0.25)
        assert by["roll_deg"] == pytest.approx(camera.roll_deg, abs=0.25)
        assert by["height_m"] == pytest.approx(camera.position_m[2], abs=0.03)
        assert told["by_marks"] is None

    def test_too_few_say_so(self, stage, tmp_path):
        picture = sent(stage, still(tmp_path / "B.png", (160, 90)))
        edges, uprights = demo.edges()
        told = pick(stage, picture, edges=[asdict(edges[0])])
        assert "two directions" in told["by_edges"]["problem"]
        above = {**asdict(uprights[0]), "foot_y": 0.1, "top_y": 0.05}
        told = pick(stage, picture, edges=[asdict(e) for e in edges], uprights=[above])
        assert "below the horizon" in told["by_edges"]["problem"]


def shape(document: dict[str, Any]) -> dict[str, Any]:
    """What is in a stored document, without its values."""
    return {
        name: [set(one) for one in value] if name == "balls" else set(value or {})
        for name, value in document.items()
        if name != "version"
    }


def test_the_kept_document_reads_for_ever(stage, card, tmp_path):
    """As it is stored today; a later build lifts it."""
    picture = picture_of(stage, card, tmp_path, plate_id=str(stage.plate.pk))
    edges, _ = demo.edges()
    pick(stage, picture, marks=marks(card), edges=[asdict(e) for e in edges])
    still, ball = balled_still(tmp_path / "B.png")
    pick(stage, sent(stage, still, plate_id=str(stage.plate.pk)), balls=[ball])
    second = kept("picked_second")
    stored = [one.picked for one in Picture.objects.order_by("created_at")]
    assert shape(second) == {**shape(stored[0]), "balls": shape(stored[1])["balls"]}
    lit = balled(Picture(picked=second, balls=[{}]))
    assert [(one.kind, len(one.lights)) for one in lit] == [("chrome", 1)]
    first = kept("picked_first")
    assert balled(Picture(picked=first)) == ()
    one = Picture(picked=first, marks=[{"name": "a"}])
    by, taken = marked(one), edged(one)
    assert by is not None
    assert by.by.stood is not None
    assert by.by.stood.height_m == 0.125
    assert taken is not None
    assert taken.height_m == 1.56
