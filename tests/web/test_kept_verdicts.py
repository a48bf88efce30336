"""Verdicts on takes and pictures are kept as long as nothing they come from has changed."""

from __future__ import annotations

from typing import Any

import pytest

from jungoptic.web.kept.models import KeptAnswer
from jungoptic.web.kept.versions import Rows, versions
from jungoptic.web.pictures import judging as of_pictures
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.takes import judging
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.media.made import photograph

from .test_pictures import sent


def seen(stage: Any) -> tuple[dict[str, Any], dict[str, Any]]:
    """What the page of the shot says of takes and of pictures, by their ids."""
    page = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/pictures").json()
    takes = {t["id"]: (t["verdict"], t["advice"]) for p in page["plates"] for t in p["takes"]}
    return takes, {one["id"]: one["verdict"] for one in page["pictures"]}


def afresh(stage: Any) -> tuple[dict[str, Any], dict[str, Any]]:
    """The same worked out anew, one by one: the reference."""
    among = judging.takes_among(stage.production, [stage.shot.pk])
    reports = {str(one.take.pk): judging.judged(one, among) for one in among}
    takes = {pk: (str(one.verdict), one.advice) for pk, one in reports.items()}
    listed = seen(stage)[1]
    path = f"{stage.path}/pictures"
    return takes, {pk: stage.api.get(f"{path}/{pk}").json()["verdict"] for pk in listed}


@pytest.fixture
def joined(stage: Any) -> Any:
    """Two plates with a card each."""
    other = Plate.objects.get(pk=stage.plate.pk)
    other.pk, other.name, other.position = None, "Beside it", 1
    other.save(force_insert=True)
    stage.cards = [issue(stage.owner, plate) for plate in (stage.plate, other)]
    for card in stage.cards:
        stage.api.post(f"{stage.path}/cards/{card.pk}/takes", {})
    return stage


def test_after_every_change_the_page_says_what_holds_now(joined, tmp_path):
    stage, cards = joined, [f"{joined.path}/cards/{card.pk}/takes" for card in joined.cards]
    first, second = Take.objects.order_by("card__plate__position")
    by_take = f"{stage.path}/takes/{first.pk}"
    still = sent(stage, photograph(tmp_path / "a.jpg", {0x8827: 6400}), take_id=str(first.pk))
    hung = sent(stage, photograph(tmp_path / "b.jpg", {0x8827: 100}), plate_id=str(stage.plate.pk))
    by_picture = f"{stage.path}/pictures/{still['id']}"
    by_plate = f"{stage.path}/plates/{stage.plate.pk}"

    def revised(path: str, **changes: Any) -> None:
        if path == by_plate:
            row: Any = Plate.objects.get(pk=stage.plate.pk)
            revision = row.revision
        else:
            found = stage.api.get(path).json()
            revision = found.get("take", found)["revision"]
        answer = stage.api.patch(path, {"revision": revision, **changes})
        assert answer.status_code == 200, answer.content

    told = [seen(stage)]
    steps = [
        lambda: revised(by_take, axis_height_m=0.4),
        lambda: revised(f"{stage.path}/takes/{second.pk}", tilt_deg=-20.0),
        lambda: stage.api.post(cards[1], {"tilt_deg": 5.0}),
        lambda: revised(f"{stage.path}/takes/{second.pk}", circled=True),
        lambda: revised(by_picture, role="reference"),
        lambda: revised(by_picture, role="recorded", take_id=None, plate_id=str(stage.plate.pk)),
        lambda: revised(by_plate, iso=100.0),
        lambda: revised(f"{stage.path}/pictures/{hung['id']}", put_away=True),
        lambda: stage.api.delete(by_take),
    ]
    for step in steps:
        step()
        told.append(seen(stage))
        assert told[-1] == afresh(stage)
    # They are no steps that say the same before and after.
    heard = [n for n in range(len(steps)) if told[n] != told[n + 1]]
    assert {0, 1, 2, 4, 8} <= set(heard)


def test_nothing_is_worked_out_twice(joined, tmp_path, monkeypatch):
    take = Take.objects.first()
    assert take is not None
    sent(joined, photograph(tmp_path / "a.jpg", {0x8827: 6400}), take_id=str(take.pk))
    before = seen(joined)
    assert KeptAnswer.objects.exists()

    def never(*_: Any) -> None:
        raise AssertionError("worked out again")

    monkeypatch.setattr(judging, "judged", never)
    monkeypatch.setattr(of_pictures.Plans, "findings", never)
    assert seen(joined) == before


def test_whatever_is_written_into_a_row_tells_it_from_before(stage):
    def now() -> dict[Any, str]:
        (found,) = versions(Rows(Plate, [stage.plate.pk]))
        return found

    before = now()
    Plate.objects.filter(pk=stage.plate.pk).update(note="by no hand")
    assert now().keys() == before.keys()
    assert now() != before
    assert now() == now()
    # Several questions at once, and what nothing was asked of.
    asked = Rows(Plate, []), Rows(Shot, [stage.shot.pk]), Rows(Plate, [stage.shot.pk], "shot_id")
    none, shot, plates = versions(*asked)
    assert none == {}
    assert shot.keys() == plates.keys() == {stage.shot.pk}
    assert plates[stage.shot.pk] == now()[stage.plate.pk]
    assert versions(Rows(Plate, [])) == [{}]
