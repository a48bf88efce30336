"""Who may do what: every endpoint, for every role, from one table."""

from __future__ import annotations

import pytest

from jungoptic.web.api import api
from jungoptic.web.permissions import Verb, may
from jungoptic.web.productions.models import Membership
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import Take
from tests.conftest import Api, make_person

BODY = {"name": "B", "axis_height_mm": 80, "flange_mm": 20}
MODE = {
    "name": "M",
    "sensor_width_mm": 20,
    "sensor_height_mm": 12,
    "width_px": 1920,
    "height_px": 1080,
    "min_fps": 1,
    "max_fps": 60,
    "base_iso": 100,
    "min_iso": 100,
    "max_iso": 800,
}
LENS = {
    "name": "L",
    "focal_min_mm": 35,
    "focal_max_mm": 35,
    "widest_stop": 2,
    "smallest_stop": 22,
    "close_focus_m": 0.3,
}
EDIT = {"revision": 1, "name": "N"}

#: method, path after the production, body, and the right it takes.
TABLE = [
    ("get", "", None, Verb.VIEW),
    ("patch", "", EDIT, Verb.OWN),
    ("delete", "", None, Verb.OWN),
    ("get", "/kit", None, Verb.VIEW),
    ("post", "/bodies", BODY, Verb.PLAN),
    ("patch", "/bodies/{body}", EDIT, Verb.PLAN),
    ("delete", "/bodies/{body}", None, Verb.PLAN),
    ("post", "/bodies/{body}/modes", MODE, Verb.PLAN),
    ("patch", "/modes/{mode}", EDIT, Verb.PLAN),
    ("delete", "/modes/{mode}", None, Verb.PLAN),
    ("post", "/lenses", LENS, Verb.PLAN),
    ("patch", "/lenses/{lens}", EDIT, Verb.PLAN),
    ("delete", "/lenses/{lens}", None, Verb.PLAN),
    ("get", "/shots", None, Verb.VIEW),
    ("post", "/shots", {"number": "9", "title": "T"}, Verb.PLAN),
    ("get", "/shots/{shot}", None, Verb.VIEW),
    ("patch", "/shots/{shot}", {"revision": 1, "title": "T"}, Verb.PLAN),
    ("delete", "/shots/{shot}", None, Verb.PLAN),
    ("post", "/shots/{shot}/plates", {"name": "P", "kind": "live"}, Verb.PLAN),
    ("patch", "/plates/{plate}", EDIT, Verb.PLAN),
    ("delete", "/plates/{bare}", None, Verb.PLAN),
    ("post", "/shots/{shot}/stand-ins", {"name": "S", "kind": "box"}, Verb.PLAN),
    ("patch", "/stand-ins/{stand_in}", EDIT, Verb.PLAN),
    ("delete", "/stand-ins/{stand_in}", None, Verb.PLAN),
    ("get", "/shots/{shot}/cards", None, Verb.VIEW),
    ("post", "/plates/{plate}/cards", None, Verb.FILM),
    ("get", "/cards/{card}", None, Verb.VIEW),
    ("get", "/cards/{card}/pdf", None, Verb.VIEW),
    ("post", "/cards/{card}/takes", {}, Verb.FILM),
    ("get", "/takes/{take}", None, Verb.VIEW),
    ("patch", "/takes/{take}", {"revision": 1, "note": "n"}, Verb.FILM),
    ("delete", "/takes/{take}", None, Verb.FILM),
    ("get", "/shots/{shot}/plates.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/takes.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/export.json", None, Verb.VIEW),
]


def paths(stage) -> dict[str, str]:
    """The ids that the table's paths name."""
    from jungoptic.web.plans.models import Plate

    card = issue(stage.owner, stage.plate)
    take = Take.objects.create(card=card, number=1)
    bare = Plate.objects.create(shot=stage.shot, name="Bare", kind="live")
    return {
        "body": stage.plate.body_id,
        "mode": stage.plate.mode_id,
        "lens": stage.plate.lens_id,
        "shot": stage.shot.pk,
        "plate": stage.plate.pk,
        "bare": bare.pk,
        "stand_in": stage.stand_in.pk,
        "card": card.pk,
        "take": take.pk,
    }


@pytest.mark.parametrize("role", ["owner", "crew", "viewer", "nobody"])
def test_every_endpoint_for(role, stage):
    ids = paths(stage)
    for method, path, body, verb in TABLE:
        from django.db import transaction

        person = make_person(f"{role}-{TABLE.index((method, path, body, verb))}")
        if role != "nobody":
            Membership.objects.create(production=stage.production, user=person, role=role)
        # Each call is undone, so that removing something does not starve the next row.
        with transaction.atomic():
            answer = Api(person).call(method, stage.path + path.format(**ids), body)
            transaction.set_rollback(True)
        allowed = may(None if role == "nobody" else role, verb)
        want = {200, 204} if allowed else {404} if role == "nobody" else {403}
        assert answer.status_code in want, (role, method, path, answer.content[:300])
        if not allowed:
            assert answer.json()["message"]


def test_the_table_knows_every_endpoint_of_a_production():
    described = {
        (method, path.removeprefix("/api/productions/{production_id}"))
        for path, item in api.get_openapi_schema()["paths"].items()
        if path.startswith("/api/productions/{production_id}")
        for method in item
    }
    shape = lambda path: [p if not p.startswith("{") else "{}" for p in path.split("/")]  # noqa: E731
    known = [(method, shape(path)) for method, path, _, _ in TABLE]
    for method, path in described:
        assert (method, shape(path)) in known, f"{method} {path} has no row in the table"


def test_nothing_answers_without_a_session(stage):
    ids = paths(stage)
    for method, path, body, _ in TABLE:
        answer = Api().call(method, stage.path + path.format(**ids), body)
        assert answer.status_code == 401, (method, path)
        assert "Sign in" in answer.json()["message"]


def test_calculators_want_a_session_too(db):
    assert Api().post("/calc/shot", {}).status_code == 401
