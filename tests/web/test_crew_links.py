"""Crew links: a card or a day in the hand without an account, and nothing else."""

from __future__ import annotations

import base64
import datetime
import io
import random
import re
import uuid

import cv2
import numpy as np
import pytest
from django.utils import timezone
from PIL import Image

from jungoptic.web.journal.models import Entry
from jungoptic.web.middleware import PART
from jungoptic.web.pictures import hands
from jungoptic.web.pictures.models import Picture
from jungoptic.web.plans.models import Plate
from jungoptic.web.productions.models import Membership
from jungoptic.web.takes import crew
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.code import code_of
from jungoptic.web.takes.models import CrewLink, SetCard, Take, Tick
from jungoptic.web.takes.pdf import card_html
from tests.conftest import PASSWORD, Api, make_person

pytestmark = pytest.mark.django_db
DAY = datetime.date(2026, 6, 20)


@pytest.fixture
def card(stage) -> SetCard:
    """A card of the stage's plate, which is filmed on the day."""
    Plate.objects.filter(pk=stage.plate.pk).update(film_on=DAY)
    return issue(stage.owner, stage.plate)


def make(stage, **opens) -> CrewLink:
    return crew.make(stage.owner, stage.production, opens.pop("days", 7), **opens)


def opened(link: CrewLink, name: str = "Per", api: Api | None = None) -> Api:
    """A device on which the link is open."""
    api = api or Api()
    answer = api.post("/crew", {"key": crew.key(link), "name": name})
    assert answer.status_code == 200, answer.content
    return api


def of_card(stage, card: SetCard) -> str:
    return f"{stage.path}/cards/{card.pk}"


class TestWhatItOpens:
    def test_one_card_to_see_tick_and_log_takes_on(self, stage, card):
        link = make(stage, card=card)
        what = Api().post("/crew/look", {"key": crew.key(link)}).json()
        assert what["opens"] == f"card {card.slate}"
        per = opened(link)
        assert per.get(of_card(stage, card)).json()["slate"] == card.slate
        take = per.post(f"{of_card(stage, card)}/takes", {"f_number": 11, "circled": True}).json()
        assert (take["number"], take["f_number"]) == (1, 11)
        assert take["logged_by"] == "Per, by crew link"
        entry = Entry.objects.get(kind="take", action="made")
        assert (entry.who, entry.user_id) == ("Per, by crew link", None)
        # The member sees whose it is, there and in the table for post.
        page = stage.api.get(f"{stage.path}/takes/{take['id']}").json()
        assert page["take"]["logged_by"] == "Per, by crew link"
        table = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/takes.csv").content.decode()
        assert "Per, by crew link" in table

    def test_the_newest_card_of_every_plate_of_a_day(self, stage, card):
        newer = issue(stage.owner, stage.plate)
        later = Plate.objects.create(
            shot=stage.shot,
            name="Sky",
            kind="live",
            film_on=DAY + datetime.timedelta(days=1),
            body=stage.plate.body,
            mode=stage.plate.mode,
            lens=stage.plate.lens,
        )
        tomorrow = issue(stage.owner, later)
        per = opened(make(stage, film_on=DAY))
        (day,) = per.get("/crew").json()["links"]
        assert [c["slate"] for c in day["cards"]] == [newer.slate]
        assert per.get(of_card(stage, newer)).status_code == 200
        # An older card of the day is still there for what was logged on it; another day's is not.
        assert per.get(of_card(stage, card)).status_code == 200
        assert per.get(of_card(stage, tomorrow)).status_code == 404
        # A plate that moves to the day comes with it.
        Plate.objects.filter(pk=later.pk).update(film_on=DAY)
        assert per.get(of_card(stage, tomorrow)).status_code == 200
        (day,) = per.get("/crew").json()["links"]
        assert [c["slate"] for c in day["cards"]] == [newer.slate, tomorrow.slate]

    def test_two_links_on_one_device(self, stage, stranger_stage, card):
        other = issue(stranger_stage.owner, stranger_stage.plate)
        per = opened(make(stage, card=card))
        opened(make(stranger_stage, card=other), api=per)
        names = [link["production"] for link in per.get("/crew").json()["links"]]
        assert names == ["Another film", "A film"]
        assert per.get(of_card(stage, card)).status_code == 200
        assert per.get(of_card(stranger_stage, other)).status_code == 200
        # A link of one production opens nothing under the other's address.
        assert per.get(of_card(stranger_stage, card)).status_code == 404
        assert per.delete("/crew").status_code == 204
        assert per.get("/crew").json() == {"name": "", "links": []}
        assert per.get(of_card(stage, card)).status_code == 401

    def test_a_removed_shot_takes_its_cards_along(self, stage, card):
        per = opened(make(stage, card=card))
        assert stage.api.delete(f"{stage.path}/shots/{stage.shot.pk}").status_code == 204
        assert per.get(of_card(stage, card)).status_code == 404

    def test_it_shows_no_members_and_gives_no_more_than_was_asked(self, stage, card):
        per = opened(make(stage, card=card))
        for path in ("", "/members", "/shots", f"/shots/{stage.shot.pk}", "/board", "/crew-links"):
            assert per.get(f"{stage.path}{path}").status_code == 401, path
        assert per.get("/productions").status_code == 401
        assert per.post("/calc/shot", {}).status_code == 401
        # A take is not taken over by its id.
        take = Take.objects.create(card=issue(stage.owner, stage.plate), number=1)
        answer = per.post(f"{of_card(stage, card)}/takes", {"id": str(take.pk)})
        assert answer.status_code == 422
        assert not card.takes.exists()


class TestItEnds:
    def test_withdrawn_it_says_so_at_once(self, stage, card):
        link = make(stage, card=card)
        per = opened(link)
        path = f"{stage.path}/crew-links/{link.pk}"
        assert stage.api.delete(path).status_code == 204
        assert stage.api.delete(path).status_code == 204
        for answer in (
            per.get(of_card(stage, card)),
            per.post(f"{of_card(stage, card)}/takes", {}),
            per.post(f"{of_card(stage, card)}/ticks", {"item": "x", "done": True}),
        ):
            assert answer.status_code == 403
            assert "withdrawn" in answer.json()["message"]
        (told,) = per.get("/crew").json()["links"]
        assert (told["cards"], "withdrawn" in told["why_not"]) == ([], True)
        again = Api().post("/crew", {"key": crew.key(link), "name": "Per"})
        assert again.status_code == 422
        assert not card.takes.exists()

    def test_expired_too(self, stage, card):
        link = make(stage, card=card)
        per = opened(link)
        CrewLink.objects.filter(pk=link.pk).update(expires_at=timezone.now())
        answer = per.get(of_card(stage, card))
        assert (answer.status_code, "expired" in answer.json()["message"]) == (403, True)

    def test_deleting_the_production_leaves_nothing_to_open(self, stage, card):
        link = make(stage, card=card)
        per = opened(link)
        stage.production.delete()
        assert per.get(of_card(stage, card)).status_code == 404
        assert per.get("/crew").json()["links"] == []
        assert Api().post("/crew/look", {"key": crew.key(link)}).status_code == 422

    def test_a_second_device_knows_nothing_of_the_first(self, stage, card):
        opened(make(stage, card=card))
        assert Api().get(of_card(stage, card)).status_code == 401


class TestBesideAnAccount:
    def test_a_member_goes_by_their_role(self, stage, card):
        api = opened(make(stage, card=card), api=Api(stage.owner))
        take = api.post(f"{of_card(stage, card)}/takes", {}).json()
        assert take["logged_by"] == "owner"

    def test_somebody_with_an_account_elsewhere_comes_by_the_link(self, stage, card):
        per = make_person("per")
        assert Api(per).get(of_card(stage, card)).status_code == 404
        api = opened(make(stage, card=card), "Per with an account", Api(per))
        take = api.post(f"{of_card(stage, card)}/takes", {}).json()
        assert take["logged_by"] == "Per with an account, by crew link"

    def test_a_device_that_opens_one_is_still_seen_and_signed_out(self, stage, card):
        phone, desk = Api(), Api()
        for api in (phone, desk):
            api.post("/session", {"username": "owner", "password": PASSWORD})
        opened(make(stage, card=card), api=phone)
        assert len(desk.get("/devices").json()) == 2
        assert desk.delete("/devices").status_code == 204
        assert phone.get(stage.path).status_code == 401

    def test_a_viewer_may_not_make_nor_see_links(self, stage, card):
        ilse = make_person("ilse")
        Membership.objects.create(production=stage.production, user=ilse, role="viewer")
        make(stage, card=card)
        assert Api(ilse).get(f"{stage.path}/crew-links").status_code == 403
        # Nor read one off the paper.
        printed = Api(ilse).get(f"{of_card(stage, card)}/pdf")
        with_code = stage.api.get(f"{of_card(stage, card)}/pdf")
        assert printed.status_code == with_code.status_code == 200
        assert len(with_code.content) > len(printed.content) + 500


class TestMaking:
    def test_a_card_or_a_day_and_not_both(self, stage, card):
        both = {"card_id": str(card.pk), "film_on": "2026-06-20"}
        for body in ({}, both):
            answer = stage.api.post(f"{stage.path}/crew-links", body)
            assert answer.status_code == 422
            assert "one card, or one filming date" in answer.json()["message"]

    def test_bad_input(self, stage, stranger_stage, card):
        foreign = issue(stranger_stage.owner, stranger_stage.plate)
        for body, status in (
            ({"card_id": str(foreign.pk)}, 404),
            ({"card_id": str(uuid.uuid4())}, 404),
            ({"film_on": "20.6."}, 422),
            ({"film_on": "2026-06-20", "days": 0}, 422),
            ({"film_on": "2026-06-20", "days": 1000}, 422),
        ):
            assert stage.api.post(f"{stage.path}/crew-links", body).status_code == status, body
        link = make(stage, card=card)
        for name in ("", "  ", "x" * 61, "a\nb", "a\x00b", None):
            answer = Api().post("/crew", {"key": crew.key(link), "name": name})
            assert answer.status_code == 422, name
        for key in ("x", "", crew.key(link)[:-1], "\u2603"):
            assert Api().post("/crew/look", {"key": key}).status_code == 422

    def test_what_is_told_of_a_link(self, stage, card):
        # Of two cards of a plate the newest is listed.
        issue(stage.owner, stage.plate)
        body = {"film_on": "2026-06-20", "days": 3}
        made = stage.api.post(f"{stage.path}/crew-links", body).json()
        assert (made["opens"], made["cards"], made["opened"]) == ("the cards of 2026-06-20", 1, 0)
        key = made["address"].split("/crew#")[1]
        for _ in range(2):
            Api().post("/crew", {"key": key, "name": "Per"})
        (told,) = stage.api.get(f"{stage.path}/crew-links").json()
        assert (told["opened"], told["made_by"]) == (2, "owner")
        days = datetime.datetime.fromisoformat(told["expires_at"]) - timezone.now()
        assert 2.9 < days.total_seconds() / 86400 <= 3
        stage.api.delete(f"{stage.path}/crew-links/{told['id']}")
        (told,) = stage.api.get(f"{stage.path}/crew-links").json()
        assert (told["address"], told["code"]) == ("", None)
        actions = Entry.objects.filter(kind="crew link").values_list("action", flat=True)
        assert sorted(actions) == ["made", "opened", "opened", "withdrawn"]

    def test_so_many_and_no_more(self, stage, card, monkeypatch):
        monkeypatch.setattr(crew, "MOST_OPEN", 1)
        make(stage, card=card)
        answer = stage.api.post(f"{stage.path}/crew-links", {"film_on": "2026-06-20"})
        assert answer.status_code == 422


class TestTheCode:
    def test_a_phone_reads_the_address_off_the_paper(self, stage, card):
        """Read back by OpenCV's own reader (ISO/IEC 18004): this link, and fifty like it.

        Its newer reader: the older one misses three of a hundred perfect drawings.
        """
        chance = random.Random(18004)
        keys = [crew.key(make(stage, card=card))]
        for _ in range(50):
            number, seal = (base64.urlsafe_b64encode(chance.randbytes(n)) for n in (16, 32))
            keys.append(f"{number.decode().rstrip('=')}.{seal.decode().rstrip('=')}")
        for key in keys:
            address = f"https://films.example/crew#{key}"
            code = code_of(address)
            assert _read(code.side, code.path) == address

    def test_it_stands_on_the_card_only_where_a_link_holds(self, stage, card):
        assert crew.holding_for(card) is None
        day = make(stage, film_on=DAY)
        assert crew.holding_for(SetCard.objects.get(pk=card.pk)) == day
        own = make(stage, card=card)
        assert crew.holding_for(card) == own
        code = code_of("https://films.example/crew#x")
        html = card_html(card, own, code)
        assert code.path in html
        assert "Opens this card without an account" in html
        assert "the cards of 20 June 2026" in card_html(card, day, code)
        assert "On a phone" not in card_html(card)
        CrewLink.objects.update(expires_at=timezone.now())
        assert crew.holding_for(card) is None


def _read(side: int, path: str, module: int = 8) -> str:
    cells = np.full((side + 8, side + 8), 255, np.uint8)
    for x, y in re.findall(r"M(\d+) (\d+)h1v1h-1z", path):
        cells[int(y) + 4, int(x) + 4] = 0
    drawn = np.kron(cells, np.ones((module, module), np.uint8))
    return cv2.QRCodeDetectorAruco().detectAndDecode(drawn)[0]


class TestTicks:
    def test_they_are_the_same_on_every_device(self, stage, card):
        per = opened(make(stage, card=card))
        first, second, *_ = card.shown["checklist"]
        path = f"{of_card(stage, card)}/ticks"
        assert [t["item"] for t in per.post(path, {"item": first, "done": True}).json()] == [first]
        stage.api.post(path, {"item": second, "done": True})
        told = {t["item"]: t["by"] for t in per.get(of_card(stage, card)).json()["ticks"]}
        assert told == {first: "Per, by crew link", second: "owner"}
        (link,) = per.get("/crew").json()["links"]
        assert (link["cards"][0]["ticked"], link["cards"][0]["lines"]) == (
            2,
            len(card.shown["checklist"]),
        )
        stage.api.post(path, {"item": first, "done": False})
        assert [t["item"] for t in per.get(of_card(stage, card)).json()["ticks"]] == [second]

    def test_twice_is_once(self, stage, card):
        (item, *_) = card.shown["checklist"]
        path = f"{of_card(stage, card)}/ticks"
        for done in (True, True, False, False, True):
            assert stage.api.post(path, {"item": item, "done": done}).status_code == 200
        assert Tick.objects.filter(card=card).count() == 1
        assert Entry.objects.filter(action__in=("ticked", "cleared")).count() == 3

    def test_only_what_stands_on_the_card(self, stage, card):
        path = f"{of_card(stage, card)}/ticks"
        for item, status in (("Bring cake", 422), ("", 422), ("x" * 501, 422)):
            assert stage.api.post(path, {"item": item, "done": True}).status_code == status


class TestStills:
    def photo(self) -> bytes:
        out = io.BytesIO()
        Image.new("RGB", (64, 48), (90, 120, 60)).save(out, "PNG")
        return out.getvalue()

    def asked(self, take: Take, size: int, **more) -> dict:
        files = [{"name": "set.png", "size": size}]
        return {"name": "set", "take_id": str(take.pk), "role": "reference", "files": files, **more}

    def test_a_photograph_of_a_take_comes_in_whole(self, stage, card):
        per = opened(make(stage, card=card))
        take = Take.objects.get(pk=per.post(f"{of_card(stage, card)}/takes", {}).json()["id"])
        data = self.photo()
        made = per.post(f"{stage.path}/pictures", self.asked(take, len(data)))
        assert made.status_code == 200, made.content
        (file,) = made.json()["files"]
        where = f"/api{stage.path}/uploads/{file['id']}"
        assert per.client.head(where)["Upload-Offset"] == "0"
        more = {"content_type": PART, "HTTP_UPLOAD_OFFSET": "0"}
        assert per.client.generic("PATCH", where, data, **more).status_code == 204
        picture = Picture.objects.get(take=take)
        assert (picture.state, picture.sent_as, picture.sent_by) == ("here", "Per", None)
        told = stage.api.get(f"{stage.path}/pictures/{picture.pk}").json()
        assert told["sent_by"] == "Per, by crew link"

    def test_nothing_but_stills_of_these_takes(self, stage, card, monkeypatch):
        per = opened(make(stage, card=card))
        take = Take.objects.create(card=card, number=1)
        other = Take.objects.create(card=issue(stage.owner, stage.plate), number=1)
        path = f"{stage.path}/pictures"
        assert per.post(path, self.asked(other, 100)).status_code == 404
        bare = {"name": "x", "files": [{"name": "a.png", "size": 1}]}
        assert per.post(path, bare).status_code == 404
        on_plate = {**bare, "plate_id": str(stage.plate.pk)}
        assert per.post(path, on_plate).status_code == 404
        for body in (
            self.asked(take, hands.LARGEST_STILL + 1),
            self.asked(take, 1, elsewhere=True),
            self.asked(take, 1) | {"files": [{"name": f"{n}.png", "size": 1} for n in range(21)]},
        ):
            answer = per.post(path, body)
            assert answer.status_code == 422, answer.content
        monkeypatch.setattr(hands, "MOST_BY_LINK", 150)
        assert per.post(path, self.asked(take, 100)).status_code == 200
        assert per.post(path, self.asked(take, 100)).status_code == 422
        # A member's files do not count for it, nor it for a member.
        assert stage.api.post(path, self.asked(take, 100)).status_code == 200
        # Somebody else's file is not to be written into.
        theirs = Picture.objects.filter(sent_as="").get().files.get()
        Picture.objects.filter(pk=theirs.picture_id).update(take=other)
        assert per.client.head(f"/api{stage.path}/uploads/{theirs.pk}").status_code == 404
