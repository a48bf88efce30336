"""Where developed pictures stand for what they are of: on the Board, on set cards, on paper."""

from __future__ import annotations

import datetime
import io
import os

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.utils import timezone
from PIL import Image

from jungoptic.web.board import board
from jungoptic.web.developed.keeping import stamp
from jungoptic.web.developed.models import Developed, DryRun
from jungoptic.web.developed.shot_picture import shot_pictures
from jungoptic.web.exchange import breakdown_pdf
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.storage import in_document, keep_picture
from jungoptic.web.takes import pdf as card_paper
from jungoptic.web.takes import tasks
from jungoptic.web.takes.models import FOLDER, SetCard
from tests.conftest import make_stage, new_id


def drawn(grey: int = 90) -> str:
    """A picture among our data."""
    import numpy as np

    return keep_picture(f"developed/{new_id()}", np.full((10, 24, 3), grey, np.uint8))


def plan_of(stage):
    return plan_json(Shot.objects.get(pk=stage.shot.pk))


def picture(stage, plate=None, *, old=False, **more) -> Developed:
    """A picture of the plan as it is, or (`old`) of one before."""
    values = {
        "stamp": "before" if old else stamp(plan_of(stage)),
        "picture": drawn(),
        **more,
    }
    return Developed.objects.create(
        shot=stage.shot, plate=plate, width_px=24, height_px=10, **values
    )


def run(stage, *, old=False, **more) -> DryRun:
    values = {"stamp": "before" if old else stamp(plan_of(stage)), **more}
    return DryRun.objects.create(
        shot=stage.shot, width_px=24, height_px=10, composite=drawn(200), story=drawn(), **values
    )


def chosen(stage):
    return shot_pictures({stage.shot.pk: plan_of(stage)}).get(stage.shot.pk)


class TestWhichStandsForAShot:
    def test_none_where_nothing_was_developed(self, stage):
        assert chosen(stage) is None

    def test_all_plates_come_before_the_story_and_that_before_one_plate(self, stage):
        for make, of in (
            (lambda: picture(stage, stage.plate), "plate"),
            (lambda: picture(stage), "story"),
            (lambda: run(stage), "run"),
        ):
            made = make()
            found = chosen(stage)
            assert (found.of, found.id, found.current) == (of, made.pk, True)
            # An older one of the same is not shown.
            picture(stage, old=True)
            run(stage, old=True)
            assert chosen(stage).id == made.pk

    def test_the_newest_of_a_plan_that_has_moved_on_is_better_than_none(self, stage):
        run(stage)
        newest = run(stage, frame=12)
        assert chosen(stage).id == newest.pk
        Plate.objects.filter(pk=stage.plate.pk).update(f_number=8.0)
        found = chosen(stage)
        assert (found.id, found.current) == (newest.pk, False)

    def test_neither_clips_nor_changes_nor_other_views_stand_for_it(self, stage):
        run(stage, frame=None, fps=12.0)
        run(stage, view_id=new_id())
        picture(stage, view_id=new_id())
        picture(stage, stage.plate, change_key="x", change={"changes": {"iso": 100.0}})
        assert chosen(stage) is None

    def test_it_is_told_with_the_verdicts_in_as_many_queries(
        self, stage, django_assert_max_num_queries
    ):
        made = run(stage)
        path = f"{stage.path}/board/verdicts?shots={stage.shot.pk}"
        (one,) = stage.api.get(path).json()
        assert one["picture"] == {"of": "run", "id": str(made.pk), "current": True}
        shots = [stage.shot]
        for i in range(6):
            shots.append(
                Shot.objects.create(
                    production=stage.production,
                    number=f"x{i}",
                    title="T",
                    delivery_width_px=1920,
                    delivery_height_px=804,
                    playback_fps=24,
                )
            )
            Developed.objects.create(
                shot=shots[-1], width_px=1, height_px=1, stamp="x", picture=drawn()
            )
        found = board.pictures(stage.production, [shot.pk for shot in shots])
        assert [found[shot.pk].current for shot in shots] == [True, *[False] * 6]
        with django_assert_max_num_queries(2):
            shot_pictures({shot.pk: {} for shot in shots})

    def test_the_board_says_nothing_where_there_is_none(self, stage):
        (one,) = stage.api.get(f"{stage.path}/board/verdicts?shots={stage.shot.pk}").json()
        assert one["picture"] is None


class TestOnPaper:
    def paper(self, stage, monkeypatch) -> str:
        """What the breakdown is made of."""
        made = []
        monkeypatch.setattr(breakdown_pdf, "pdf", lambda html, limit: made.append(html) or b"%PDF")
        assert stage.api.work(stage.path, "breakdown-pdf")["state"] == "done"
        return made[0]

    def test_the_breakdown_shows_it_beside_the_sketch(self, stage, monkeypatch):
        assert "<img" not in self.paper(stage, monkeypatch)
        made = run(stage)
        html = self.paper(stage, monkeypatch)
        assert in_document(made.composite) in html
        assert "dry run" in html

    def test_a_plan_that_has_moved_on_is_not_printed(self, stage, monkeypatch):
        run(stage, old=True)
        assert "<img" not in self.paper(stage, monkeypatch)

    def test_a_lost_file_costs_only_itself(self, stage, monkeypatch):
        made = run(stage)
        default_storage.delete(made.composite)
        assert "<img" not in self.paper(stage, monkeypatch)

    def test_it_is_printed_in_earnest(self, stage):
        run(stage)
        job = stage.api.work(stage.path, "breakdown-pdf")
        told = stage.api.get(f"{stage.path}/jobs/{job['id']}/file").getvalue()
        assert told.startswith(b"%PDF")
        assert b"/Subtype /Image" in told


class TestOnACard:
    def issue(self, stage):
        answer = stage.api.post(f"{stage.path}/plates/{stage.plate.pk}/cards")
        assert answer.status_code == 200, answer.content
        return answer.json()

    def shown(self, stage, card):
        return stage.api.get(f"{stage.path}/cards/{card['id']}/picture")

    def test_the_picture_of_its_plan_is_on_it_for_good(self, stage):
        made = picture(stage, stage.plate)
        card = self.issue(stage)
        assert card["pictured"] is True
        # What was developed is replaced and deleted; the card keeps its own.
        default_storage.delete(made.picture)
        made.delete()
        answer = self.shown(stage, card)
        assert answer["Content-Type"] == "image/webp"
        data = io.BytesIO(b"".join(answer.streaming_content))
        assert Image.open(data).size == (24, 10)
        kept = SetCard.objects.get(pk=card["id"])
        assert in_document(kept.picture) in card_paper.card_html(kept)
        assert stage.api.get(f"{stage.path}/cards/{card['id']}/pdf").content.startswith(b"%PDF")

    @pytest.mark.parametrize(
        "more", [{"old": True}, {"change_key": "x"}, {"picture": "developed/gone.webp"}]
    )
    def test_no_other_picture_is(self, stage, more):
        picture(stage, stage.plate, **more)
        picture(stage)
        card = self.issue(stage)
        assert card["pictured"] is False
        answer = self.shown(stage, card)
        assert answer.status_code == 404
        assert "<img" not in card_paper.card_html(SetCard.objects.get(pk=card["id"]))

    def test_the_first_frame_and_the_largest_is_taken(self, stage):
        picture(stage, stage.plate, frame=24)
        picture(stage, stage.plate, frame=1)
        wanted = picture(stage, stage.plate, frame=1)
        Developed.objects.filter(pk=wanted.pk).update(width_px=960, picture=drawn(10))
        card = self.issue(stage)
        data = io.BytesIO(b"".join(self.shown(stage, card).streaming_content))
        assert Image.open(data).convert("L").getextrema() == pytest.approx((10, 10), abs=3)

    def test_nobody_else_sees_it(self, stage):
        picture(stage, stage.plate)
        card = self.issue(stage)
        other = make_stage(stage.owner, "Other")
        assert other.api.get(f"{other.path}/cards/{card['id']}/picture").status_code == 404

    def test_pictures_of_cards_that_are_gone_are_swept(self, stage):
        picture(stage, stage.plate)
        kept, gone = self.issue(stage), self.issue(stage)
        SetCard.objects.filter(pk=gone["id"]).delete()
        old = (timezone.now() - datetime.timedelta(days=3)).timestamp()
        for name in default_storage.listdir(FOLDER)[1]:
            os.utime(default_storage.path(f"{FOLDER}/{name}"), (old, old))
        tasks.sweep_cards(0)
        left = SetCard.objects.get(pk=kept["id"]).picture
        assert default_storage.listdir(FOLDER)[1] == [left.removeprefix(f"{FOLDER}/")]


def test_a_picture_in_a_document_says_what_it_is(stage):
    assert in_document(drawn()).startswith("data:image/webp;base64,")
    for name, kind in (("x.jpg", "jpeg"), ("x.jpeg", "jpeg"), ("x.png", "png")):
        stored = default_storage.save(name, ContentFile(b"x"))
        assert in_document(stored).startswith(f"data:image/{kind};base64,")
    assert in_document("sketches/none.jpg") == ""
