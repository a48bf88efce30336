"""Boards: printed for every card, found in what was filmed, and the clip filed by them."""

from __future__ import annotations

import datetime
import re
import zlib
from dataclasses import replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from django.utils import timezone
from PIL import Image

from jungoptic.core.board import finding, paper
from jungoptic.core.board.number import NUMBERS
from jungoptic.core.stage.case import Case
from jungoptic.devices.held_up import before
from jungoptic.web import documents
from jungoptic.web.jobs.carry import carry_out
from jungoptic.web.jobs.models import Job, State
from jungoptic.web.journal.models import Entry
from jungoptic.web.pictures import filing
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.takes import boards
from jungoptic.web.takes.boards import board_html, free_number
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.files import frozen
from jungoptic.web.takes.models import SetCard, Take
from tests.boards import seen
from tests.conftest import make_stage
from tests.media.made import board_clip

from .test_documents import kept
from .test_pictures import sent


@pytest.fixture
def card(stage: Any) -> SetCard:
    """A card of the stage's plate: a camera 125 mm above a table, 1.7 m from a mill."""
    stage.shot.screen_time_s = 1.0
    stage.shot.save()
    return issue(stage.owner, stage.plate)


def case_of(card: SetCard) -> Case:
    found = Case.of(*frozen(card))
    assert found is not None
    return found


def filmed(stage: Any, card: SetCard, path: Path, hang: Any = None, **more: Any) -> Any:
    """A clip in which a card's board stands on its mark, sent and looked at."""
    moved = {n: more.pop(n) for n in ("up", "back", "tilted", "rolled", "zoomed") if n in more}
    board_clip(path, before(case_of(card), **moved), more.pop("number", card.board), **more)
    return sent(stage, path, **(hang or {}))


def pages_wide(pdf: bytes) -> list[float]:
    """How wide the pages of a PDF are, in points (ISO 32000-1); its objects lie in packed
    streams."""
    found = []
    for start in re.finditer(rb"stream\r?\n", pdf):
        try:
            told = zlib.decompressobj().decompress(pdf[start.end() :])
        except zlib.error:
            continue
        found += [float(wide) for wide in re.findall(rb"/MediaBox \[0 0 ([\d.]+)", told)]
    return found


class TestTheSheet:
    def test_every_card_has_a_number_of_its_own(self, stage, card):
        again = issue(stage.owner, stage.plate)
        assert card.board != again.board
        assert 0 <= card.board < NUMBERS
        # By the card, so that it is the same on a copy of the server.
        assert free_number(stage.production, card.pk) != card.board

    def test_no_number_is_free(self, stage, card, monkeypatch):
        monkeypatch.setattr(boards, "TRIES", 1)
        with pytest.raises(boards.Refused, match="no more numbers"):
            free_number(stage.production, card.pk)

    @pytest.mark.parametrize("size", ["A4", "A3"])
    def test_what_is_printed_is_what_is_found(self, card, size):
        """The sheet's own drawing, filled as a printer fills it, read by what reads pictures."""
        html = board_html(card, size, "http://set.local/productions/x/cards/y")
        dots = 6
        drawn = np.full((297 * dots, 210 * dots), 255, np.uint8)
        (ink,) = re.findall(r'<path d="(M[^"]+z)" fill="#000"/>', html)
        for left, top, side in re.findall(r"M([\d.]+) ([\d.]+)h([\d.]+)v", ink):
            x, y, right, below = (
                round(float(v) * dots)
                for v in (left, top, float(left) + float(side), float(top) + float(side))
            )
            drawn[y:below, x:right] = 0
        found = finding.find(drawn)
        assert (found.number, found.paper) == (card.board, size)
        assert np.allclose(np.array(found.places) / dots, paper.corners_mm(), atol=0.1)
        # The code for phones, as a phone reads it (ISO/IEC 18004).
        (shift, grow, squares) = re.findall(
            r'translate\(([\d. ]+)\) scale\(([\d.]+)\)" d="([^"]+)"', html
        )[0]
        modules = [(int(x), int(y)) for x, y in re.findall(r"M(\d+) (\d+)h", squares)]
        side = max(max(pair) for pair in modules) + 2
        code = np.full((side, side), 255, np.uint8)
        for x, y in modules:
            code[y, x] = 0
        large = cv2.resize(code, None, fx=12, fy=12, interpolation=cv2.INTER_NEAREST)
        read, *_ = cv2.QRCodeDetector().detectAndDecode(
            cv2.copyMakeBorder(large, 40, 40, 40, 40, cv2.BORDER_CONSTANT, value=255)
        )
        assert read == "http://set.local/productions/x/cards/y"
        left, top = (float(v) for v in shift.split())
        assert left + float(grow) * side < paper.WIDE_MM - 6
        assert top + float(grow) * side < paper.HIGH_MM - 6

    def test_it_is_a_page_of_its_size(self, stage, card):
        for size, wide in (("A4", 595.3), ("A3", 841.9)):
            answer = stage.api.get(f"{stage.path}/cards/{card.pk}/board?paper={size}")
            assert answer["Content-Type"] == "application/pdf"
            assert f"board-{card.slate}-{size}.pdf" in answer["Content-Disposition"]
            assert pages_wide(answer.content) == [pytest.approx(wide, abs=0.2)]
        assert stage.api.get(f"{stage.path}/cards/{card.pk}/board?paper=A5").status_code == 422

    def test_the_printer_s_size_is_kept_for_the_next_card(self, stage, card):
        body = {"revision": card.revision, "ruler_mm": 97.5}
        answer = stage.api.patch(f"{stage.path}/cards/{card.pk}", body)
        assert (answer.status_code, answer.json()["ruler_mm"]) == (200, 97.5)
        assert issue(stage.owner, stage.plate).ruler_mm == 97.5
        assert stage.api.patch(f"{stage.path}/cards/{card.pk}", body).status_code == 409
        wrong = {"revision": answer.json()["revision"], "ruler_mm": 9}
        assert stage.api.patch(f"{stage.path}/cards/{card.pk}", wrong).status_code == 422


class TestFiling:
    def test_a_clip_files_itself_and_says_where_the_camera_stood(self, stage, card, tmp_path):
        picture = filmed(stage, card, tmp_path / "C0001.mp4", up=0.012, tilted=-0.5)
        take = Take.objects.get()
        assert picture["take_id"] == str(take.pk)
        assert (take.card_id, take.number, take.by_board) == (card.pk, 1, True)
        found, planned = picture["board"], card.content["planned"]
        assert (found["called"], found["card_id"]) == (card.slate, str(card.pk))
        # If it had lain, the camera would have hung above it and looked straight down.
        assert (found["way"], found["lying"]["tilt_deg"] < -80) == ("standing", True)
        assert found["frame"] in picture["looks"]
        # As a tape would have read it, marked as the file's, and judged as typed readings are.
        assert take.axis_height_m == pytest.approx(planned["axis_height_m"] + 0.012, abs=0.003)
        assert take.distance_m == pytest.approx(planned["distance_m"], rel=0.004)
        assert take.tilt_deg == pytest.approx(planned["tilt_deg"] - 0.5, abs=0.15)
        assert {"axis_height_m", "distance_m", "tilt_deg"} <= set(take.from_file)
        page = stage.api.get(f"{stage.path}/takes/{take.pk}").json()
        names = {d["name"] for d in page["report"]["departures"]}
        assert {"Lens axis height", "Distance to the mark", "Tilt"} <= names
        keys = {f["key"] for f in page["report"]["findings"]}
        assert {"board-stood", "board-roll", "mismatch"} <= keys
        told = [e.action for e in Entry.objects.filter(record_id=take.pk).order_by("at")]
        assert told == ["made", "edited"]

    def test_a_lens_that_was_set_otherwise_is_found(self, stage, card, tmp_path):
        case = case_of(card)
        near = before(case)
        # Close by and from the side the board is large enough to tell.
        place = (near.position_m[0] * 0.3 + 0.2, near.position_m[1] * 0.35, 0.3)
        one = replace(near, position_m=place, pan_deg=-20.0, tilt_deg=-15.0, focal_mm=34.0)
        path = board_clip(tmp_path / "A.mp4", one, card.board)
        picture = sent(stage, path)
        assert picture["board"]["focal_told"] == "board"
        take = Take.objects.get()
        assert take.focal_mm == pytest.approx(
            34.0 * case.stage.focal_mm / case.stage.pinhole_mm, rel=0.03
        )

    def test_a_board_at_the_end_counts_too(self, stage, card, tmp_path):
        picture = filmed(stage, card, tmp_path / "A.mp4", held=(150, 168), count=168)
        assert picture["board"]["frame"] >= 150
        assert picture["take_id"]

    def test_the_ruler_of_the_card_counts(self, stage, card, tmp_path):
        picture = filmed(stage, card, tmp_path / "A.mp4")
        take = Take.objects.get()
        far = take.distance_m
        body = {"revision": card.revision, "ruler_mm": 98.0}
        stage.api.patch(f"{stage.path}/cards/{card.pk}", body)
        take.refresh_from_db()
        assert take.distance_m == pytest.approx(far * 0.98, rel=0.002)
        now = stage.api.get(f"{stage.path}/pictures/{picture['id']}").json()["board"]["standing"]
        was = picture["board"]["standing"]
        assert now["height_m"] == pytest.approx(was["height_m"] * 0.98)

    def test_what_somebody_says_of_the_board_counts(self, stage, card, tmp_path):
        picture = filmed(stage, card, tmp_path / "A.mp4")
        url = f"{stage.path}/pictures/{picture['id']}"
        body = {"revision": picture["revision"], "board_way": "lying"}
        now = stage.api.patch(url, body).json()
        take = Take.objects.get()
        assert take.axis_height_m > 1.5
        back = {"revision": now["revision"], "board_way": ""}
        stage.api.patch(url, back)
        take.refresh_from_db()
        assert take.axis_height_m < 0.2

    def test_takes_are_numbered_by_when_they_were_filmed(self, stage, card, tmp_path):
        for name, hour in (("C2", 12), ("C1", 10), ("C3", 14)):
            at = f"2026-05-02T{hour}:00:00Z"
            filmed(stage, card, tmp_path / f"{name}.mp4", shot_at=at, count=26)
        numbers = {p.name: p.take.number for p in Picture.objects.select_related("take")}
        assert numbers == {"C1": 1, "C2": 2, "C3": 3}
        # What somebody has numbered stays: it stands on a slate.
        take = Picture.objects.get(name="C1").take
        url = f"{stage.path}/takes/{take.pk}"
        page = stage.api.get(url).json()["take"]
        taken = stage.api.patch(url, {"revision": page["revision"], "number": 3})
        assert (taken.status_code, "take 3 already" in taken.json()["message"]) == (422, True)
        now = stage.api.patch(url, {"revision": page["revision"], "number": 9}).json()
        assert now["number"] == 9
        at = "2026-05-02T09:00:00Z"
        filmed(stage, card, tmp_path / "C0.mp4", shot_at=at, count=26)
        numbers = {p.name: p.take.number for p in Picture.objects.select_related("take")}
        assert numbers == {"C0": 2, "C2": 3, "C3": 10, "C1": 9}

    def test_the_take_that_was_logged_meanwhile_gets_it(self, stage, card, tmp_path):
        for _ in range(2):
            stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {"axis_height_m": 0.2})
        first, second = Take.objects.order_by("number")
        noon = datetime.datetime(2026, 5, 2, 12, tzinfo=datetime.UTC)
        Take.objects.filter(pk=first.pk).update(created_at=noon - datetime.timedelta(hours=1))
        Take.objects.filter(pk=second.pk).update(created_at=noon + datetime.timedelta(minutes=2))
        picture = filmed(stage, card, tmp_path / "A.mp4", shot_at="2026-05-02T12:00:00Z")
        assert picture["take_id"] == str(second.pk)
        assert Take.objects.count() == 2
        # What was taped stays, and that the board says otherwise is said.
        page = stage.api.get(f"{stage.path}/takes/{second.pk}").json()
        assert page["take"]["axis_height_m"] == 0.2
        said = {f["key"]: f["sentence"] for f in page["report"]["findings"]}
        assert "200 mm was read off, the board says" in said["board-typed-axis_height_m"]

    def test_a_clip_on_the_wrong_take_says_so(self, stage, card, tmp_path):
        other = issue(stage.owner, stage.plate)
        stage.api.post(f"{stage.path}/cards/{other.pk}/takes", {})
        take = Take.objects.get()
        hang = {"take_id": str(take.pk)}
        picture = filmed(stage, card, tmp_path / "A.mp4", hang)
        assert picture["take_id"] == str(take.pk)
        (finding,) = (f for f in picture["findings"] if f["key"] == "board-card")
        assert card.slate in finding["sentence"]
        take.refresh_from_db()
        assert take.distance_m is None
        # Filed by its board, it is told by that card's plan.
        filed = stage.api.post(f"{stage.path}/pictures/{picture['id']}/by-board").json()
        right = Take.objects.get(card=card)
        assert filed["take_id"] == str(right.pk)
        assert right.distance_m is not None
        assert "board-card" not in {f["key"] for f in filed["findings"]}
        job = Job.objects.get(kind="board-again", state=State.WAITING)
        carry_out(job.pk)
        job.refresh_from_db()
        assert (job.state, job.problem) == (State.DONE, "")

    def test_a_clip_on_the_wrong_plate_says_so(self, stage, card, tmp_path):
        """It is not held against the plan of a plate that its board was not before."""
        other = Plate.objects.create(
            shot=stage.shot,
            name="Another",
            kind="live",
            body=stage.plate.body,
            mode=stage.plate.mode,
            lens=stage.plate.lens,
        )
        told = filmed(stage, card, tmp_path / "A.mp4", {"plate_id": str(other.pk)})
        assert (told["take_id"], told["board"]["elsewhere"]) == (None, True)
        keys = {f["key"] for f in told["findings"]}
        assert "board-card" in keys
        assert "board-stood" not in keys

    def test_where_a_clip_of_the_library_went_is_told(self, stage, card, tmp_path):
        asked = f"{stage.path}/filed"
        assert stage.api.get(asked).json() == []
        picture = filmed(stage, card, tmp_path / "C0001.mp4")
        (told,) = stage.api.get(asked).json()
        assert (told["id"], told["name"]) == (picture["id"], "C0001")
        assert told["where"] == f"{stage.plate.name}, {card.slate} take 1"
        assert told["shot_id"] == str(stage.shot.pk)
        (entry,) = Entry.objects.filter(kind="picture", action="filed")
        assert entry.before["take_id"] is None
        assert entry.after["take_id"] == picture["take_id"]
        # Of what somebody has taken down again, or put away, nothing is told.
        path = f"{stage.path}/pictures/{picture['id']}"
        body = {"revision": picture["revision"], "put_away": True}
        assert stage.api.patch(path, body).status_code == 200
        assert stage.api.get(asked).json() == []
        # Nor of what was sent to its take.
        filmed(stage, card, tmp_path / "C0002.mp4", {"take_id": picture["take_id"]})
        assert stage.api.get(asked).json() == []

    def test_nothing_leads_to_a_shot_that_was_removed(self, stage, card, tmp_path):
        filmed(stage, card, tmp_path / "C0001.mp4")
        kept = filmed(stage, card, tmp_path / "C0002.mp4")
        asked = f"{stage.path}/filed"
        assert len(stage.api.get(asked).json()) == 2
        # One hangs on its plate, as a still does.
        Picture.objects.filter(pk=kept["id"]).update(take=None, plate=stage.plate)
        Shot.objects.filter(pk=stage.shot.pk).update(removed_at=timezone.now())
        assert stage.api.get(asked).json() == []

    def test_what_was_filed_yesterday_is_no_news(self, stage, card, tmp_path, monkeypatch):
        filmed(stage, card, tmp_path / "C0001.mp4")
        monkeypatch.setattr(filing, "LATELY", datetime.timedelta(0))
        assert stage.api.get(f"{stage.path}/filed").json() == []

    def test_clips_filed_by_hand_are_numbered_by_their_time_too(self, stage, card, tmp_path):
        other = issue(stage.owner, stage.plate)
        stage.api.post(f"{stage.path}/cards/{other.pk}/takes", {})
        hang = {"take_id": str(Take.objects.get().pk)}
        filmed(stage, card, tmp_path / "C2.mp4", shot_at="2026-05-02T12:00:00Z", count=26)
        early = filmed(
            stage, card, tmp_path / "C1.mp4", hang, shot_at="2026-05-02T10:00:00Z", count=26
        )
        filed = stage.api.post(f"{stage.path}/pictures/{early['id']}/by-board")
        assert filed.status_code == 200
        numbers = {p.name: p.take.number for p in Picture.objects.select_related("take")}
        assert numbers == {"C1": 1, "C2": 2}

    def test_where_somebody_hung_it_otherwise_it_stays(self, stage, card, tmp_path):
        lens = stage.plate.lens_id
        for n, hang in enumerate(({"lens_id": str(lens)}, {"role": "reference"})):
            picture = filmed(stage, card, tmp_path / f"{n}.mp4", hang)
            assert picture["take_id"] is None
            assert picture["board"]["called"] == card.slate
            last = stage.api.post(f"{stage.path}/pictures/{picture['id']}/by-board")
            assert last.status_code == (422 if "role" in hang else 200)
        assert Take.objects.count() == 1

    def test_a_photograph_is_no_take_of_what_rolls(self, stage, card, tmp_path):
        path = tmp_path / "P.png"
        Image.fromarray(seen(before(case_of(card)), 1920, 1012, card.board, "standing")).save(path)
        stage.plate.kind = "live"
        stage.plate.save()
        picture = sent(stage, path)
        assert (picture["take_id"], picture["plate_id"]) == (None, str(stage.plate.pk))
        assert {"board-stood"} <= {f["key"] for f in picture["findings"]}

    def test_another_production_s_board(self, stage, card, tmp_path):
        theirs = make_stage(stage.owner, "Another film")
        picture = filmed(theirs, card, tmp_path / "A.mp4")
        assert (picture["take_id"], picture["board"]["card_id"]) == (None, None)
        assert "another production" in picture["board"]["called"]
        assert picture["board"]["way"] is None

    def test_a_thumb_over_the_number(self, stage, card, tmp_path):
        one = before(case_of(card))
        picture = seen(one, 1920, 1012, card.board, "standing")
        x, y = one.project(np.array([[0.0, 0.0, 0.03]]), 1920, 1012)[0]
        cv2.circle(picture, (int(x), int(y)), 40, 128, -1)
        path = tmp_path / "P.png"
        Image.fromarray(picture).save(path)
        told = sent(stage, path, plate_id=str(stage.plate.pk))
        assert (told["board"]["called"], told["board"]["way"]) == ("", "standing")
        assert told["plate_id"] == str(stage.plate.pk)

    def test_no_board_is_no_board(self, stage, card, tmp_path):
        path = tmp_path / "P.png"
        Image.fromarray(np.full((90, 160), 90, np.uint8)).save(path)
        assert sent(stage, path)["board"] is None
        picture = Picture.objects.get()
        asked = stage.api.work(stage.path, "board-again", picture_id=str(picture.pk))
        assert (asked["state"], "No board" in asked["problem"]) == ("failed", True)


def test_the_kept_document_reads_for_ever(stage, card, tmp_path):
    """As it is stored today; a later build lifts it."""
    filmed(stage, card, tmp_path / "A.mp4")
    stored = Picture.objects.get().board
    assert stored["version"] == kept("board_now")["version"] == 2
    assert set(kept("board_now")["seen"]) == set(stored["seen"])
    for name in ("board_first", "board_now"):
        before = kept(name)
        Picture.objects.update(board=before)
        picture = stage.api.get(f"{stage.path}/pictures/{Picture.objects.get().pk}").json()
        assert picture["board"]["px_per_mm"] == before["seen"]["found"]["px_per_mm"]
    # Before, nothing was said of how lenses bend lines, and nothing was counted.
    assert documents.BOARD.read(kept("board_first"))["seen"]["straightened"] is False
