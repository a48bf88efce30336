"""What can be written can be read: every write at its bounds, then every list; and the database
holds what the schemas hold."""

from __future__ import annotations

import threading
import uuid

import pytest
from django.db import IntegrityError, connection, connections, transaction

from jungoptic.web.kit.fields import BodyFields, LampFields, LensFields, ModeFields, RoomFields
from jungoptic.web.kit.models import Body, Lamp, Lens, Mode, Room
from jungoptic.web.plans.fields import PlateFields, ShotFields, StandInFields
from jungoptic.web.plans.models import Plate, Shot, StandIn
from jungoptic.web.productions.fields import ProductionFields
from jungoptic.web.productions.models import Production
from jungoptic.web.schemas import MOST_POSITION, bounds_of
from jungoptic.web.sketches.fields import AnnotationFields
from jungoptic.web.sketches.models import Annotation
from jungoptic.web.takes.fields import TakeFields
from jungoptic.web.takes.models import Take
from tests.conftest import Api, make_person, make_stage, new_id

HELD = [
    (Body, BodyFields),
    (Mode, ModeFields),
    (Lens, LensFields),
    (Lamp, LampFields),
    (Room, RoomFields),
    (Shot, ShotFields),
    (Plate, PlateFields),
    (StandIn, StandInFields),
    (Take, TakeFields),
    (Annotation, AnnotationFields),
    (Production, ProductionFields),
]
#: Everything of a production that is read as a whole.
LISTS = (
    "/shots",
    "/kit",
    "/board",
    "/hours",
    "/days",
    "/continuity",
    "/steps",
    "/export/board.csv",
    "/export/board.otio",
)


def test_positions_at_their_bound_can_be_put_in_order_and_read(stage):
    """A shot at a million and a re-ordering made every list answer 422 to every member."""
    ids = [stage.shot.pk]
    for position in (MOST_POSITION, -MOST_POSITION, MOST_POSITION):
        made = stage.api.post(
            f"{stage.path}/shots",
            {"number": f"{len(ids) + 1}", "title": "x", "position": position},
        )
        assert made.status_code == 200, made.content
        ids.append(uuid.UUID(made.json()["id"]))
    for order in ([ids[0]], [ids[2], ids[1]], [ids[3]]):
        answer = stage.api.post(f"{stage.path}/board/order", {"ids": [str(i) for i in order]})
        assert answer.status_code == 200, answer.content
        listed = stage.api.get(f"{stage.path}/shots")
        assert listed.status_code == 200, listed.content
        assert listed.json()["items"][-1]["id"] == str(order[-1])
    for path, body in (
        ("duplicate", {"ids": [str(ids[1])]}),
        ("split", {"id": str(ids[1]), "at_s": 1.0}),
        ("merge", {"ids": [str(ids[1]), str(ids[3])]}),
    ):
        assert stage.api.post(f"{stage.path}/board/{path}", body).status_code == 200, path
    assert stage.api.get(f"{stage.path}/shots").status_code == 200


@pytest.mark.parametrize("end", [0, 1], ids=["lowest", "highest"])
def test_every_write_at_its_bounds_leaves_every_list_readable(stage, end):
    def at_bounds(fields, keep=()):
        return {n: b[end] for n, b in bounds_of(fields).items() if n not in keep}

    wrote = 0
    for path, fields, own in (
        ("bodies", BodyFields, {"name": "b"}),
        ("lenses", LensFields, {"name": "l"}),
        ("lamps", LampFields, {"name": "p"}),
        ("rooms", RoomFields, {"name": "r"}),
        ("shots", ShotFields, {"number": "9", "title": "t"}),
        (f"shots/{stage.shot.pk}/plates", PlateFields, {"name": "p", "kind": "screen"}),
        (f"shots/{stage.shot.pk}/stand-ins", StandInFields, {"name": "s", "kind": "box"}),
    ):
        answer = stage.api.post(f"{stage.path}/{path}", {**at_bounds(fields), **own})
        # Rules between fields may refuse; they name one.
        assert answer.status_code in (200, 422), (path, answer.content)
        assert answer.status_code == 200 or answer.json()["fields"], path
        wrote += answer.status_code == 200
    assert wrote >= 6
    every = "&".join(f"shots={pk}" for pk in Shot.objects.values_list("pk", flat=True))
    for path in (*LISTS, f"/board/verdicts?{every}"):
        answer = stage.api.get(stage.path + path)
        assert answer.status_code == 200, (path, answer.content)
    for shot in Shot.objects.all():
        assert stage.api.get(f"{stage.path}/shots/{shot.pk}").status_code == 200


@pytest.mark.parametrize(("model", "fields"), HELD, ids=lambda v: getattr(v, "__name__", ""))
def test_the_database_holds_every_bound_of_the_schema(db, model, fields):
    (held,) = [c for c in model._meta.constraints if c.name.endswith("_within_bounds")]
    names = {name.rpartition("__")[0] for name, _ in _leaves(held.condition)}
    own = {f.name for f in model._meta.concrete_fields}
    assert names == {n for n in bounds_of(fields) if n in own}
    assert names


def _leaves(q):
    for child in q.children:
        if isinstance(child, tuple):
            yield child
        else:
            yield from _leaves(child)


def test_what_slips_past_the_schema_is_stopped_by_the_database(stage):
    with pytest.raises(IntegrityError, match="within_bounds"), transaction.atomic():
        Shot.objects.filter(pk=stage.shot.pk).update(position=2 * MOST_POSITION)


def test_an_answer_that_does_not_fit_its_schema_is_our_fault(stage, monkeypatch, caplog):
    from jungoptic.web.plans import api

    monkeypatch.setattr(api, "shot_out", lambda shot: {"id": "no id"})
    stage.api.client.raise_request_exception = False
    answer = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}")
    assert answer.status_code == 500
    assert "our side" in answer.json()["message"]
    assert "pydantic" not in answer.content.decode().lower()


class TestSameId:
    def test_a_retry_gives_back_what_is_there(self, stage):
        body = {"id": new_id(), "number": "7", "title": "Once"}
        first = stage.api.post(f"{stage.path}/shots", body)
        again = stage.api.post(f"{stage.path}/shots", {**body, "title": "Twice"})
        assert (first.status_code, again.status_code) == (200, 200)
        assert again.json() == first.json()

    def test_another_productions_id_is_refused(self, stage, db):
        other = make_stage(make_person("else"), "Else")
        body = {"id": str(other.shot.pk), "number": "7", "title": "x"}
        answer = stage.api.post(f"{stage.path}/shots", body)
        assert answer.status_code == 422
        assert "taken" in answer.json()["message"]

    def test_one_put_away_is_refused_as_taken(self, stage):
        pk = str(stage.shot.pk)
        assert stage.api.delete(f"{stage.path}/shots/{pk}").status_code == 204
        answer = stage.api.post(f"{stage.path}/shots", {"id": pk, "number": "7", "title": "x"})
        assert answer.status_code == 422


def together(calls):
    """Run them at the same moment, each with a connection of its own; their answers."""
    gate, found = threading.Barrier(len(calls)), [None] * len(calls)

    def run(i, call):
        try:
            gate.wait()
            found[i] = call()
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=(i, c)) for i, c in enumerate(calls)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def told(answer):
    """The status of an answer, and what it says where it refuses."""
    why = "" if answer.status_code == 200 else f": {answer.content.decode()[:300]}"
    return f"{answer.status_code}{why}"


@pytest.mark.django_db(transaction=True)
class TestAtTheSameMoment:
    def test_many_who_put_shots_in_order_never_wait_for_one_another_for_ever(self):
        stage = make_stage(person := make_person("many"))
        shots = [stage.shot] + [
            Shot.objects.create(
                production=stage.production,
                number=f"{i}",
                title="x",
                position=i,
                delivery_width_px=1920,
                delivery_height_px=804,
                playback_fps=24,
            )
            for i in range(2, 9)
        ]
        ids = [str(s.pk) for s in shots]

        def reorder(i):
            some = [ids[(i + k * 3) % 8] for k in range(3)]
            body = {"ids": list(dict.fromkeys(some))}
            return Api(person).post(f"{stage.path}/board/order", body).status_code

        answers = [
            a for _ in range(6) for a in together([lambda i=i: reorder(i) for i in range(8)])
        ]
        assert set(answers) == {200}
        assert Api(person).get(f"{stage.path}/shots").json()["count"] == 8

    def test_edits_takes_and_orders_of_one_production_do_not_deadlock(self):
        stage = make_stage(person := make_person("many"))
        card = Api(person).post(f"{stage.path}/plates/{stage.plate.pk}/cards").json()

        def take():
            return told(Api(person).post(f"{stage.path}/cards/{card['id']}/takes", {}))

        def issue():
            path = f"{stage.path}/plates/{stage.plate.pk}/cards"
            return told(Api(person).post(path))

        def order():
            body = {"ids": [str(stage.shot.pk)]}
            return told(Api(person).post(f"{stage.path}/board/order", body))

        for _ in range(4):
            assert set(together([take, issue, order, take, issue, order])) == {"200"}
        assert Take.objects.count() == 8

    def test_the_same_id_at_the_same_moment_is_made_once(self):
        stage = make_stage(person := make_person("many"))
        body = {"id": new_id(), "number": "7", "title": "Once"}
        make = [lambda: Api(person).post(f"{stage.path}/shots", body).status_code] * 6
        assert set(together(make)) == {200}
        assert Shot.objects.filter(pk=body["id"]).count() == 1
        whole = {"id": new_id(), "name": "A film of one"}
        make = [lambda: Api(person).post("/productions", whole).status_code] * 4
        assert set(together(make)) == {200}
        assert connection.vendor == "postgresql"
