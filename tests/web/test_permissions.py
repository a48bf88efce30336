"""Who may do what: every endpoint, for every role, from one table."""

from __future__ import annotations

import io
import json

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from jungoptic.web.api import api
from jungoptic.web.blocks.models import Block, Exposure
from jungoptic.web.breakdown.models import KeptThread, OwnRecipe, Thread
from jungoptic.web.demo.shots import edit_list
from jungoptic.web.developed.models import Developed, DryRun
from jungoptic.web.frames.models import Sheet
from jungoptic.web.kit.models import Cloth, Cord, Lamp, MoveRig, Person, Room, Support
from jungoptic.web.middleware import PART
from jungoptic.web.permissions import Verb, may
from jungoptic.web.pictures.models import Picture, PictureFile
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.productions import invitations
from jungoptic.web.productions.models import Membership
from jungoptic.web.recipes import book
from jungoptic.web.rough.models import Rough
from jungoptic.web.sketches.api import draw_for
from jungoptic.web.sketches.models import Annotation
from jungoptic.web.takes import crew
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.models import SetCard, Take
from tests.conftest import Api, make_person

from .test_documents import kept

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
LAMP = {"name": "Panel", "lux_at_1m": 2000}
RIG = {"name": "Slider", "axis": "track"}
SUPPORT = {"name": "Tripod", "lowest_mm": 450, "highest_mm": 1650}
PERSON = {"name": "Anna"}
CORD = {"name": "Thread", "diameter_mm": 0.2}
CLOTH = {"name": "Green cloth", "width_m": 3, "length_m": 6}
MOVE = {"key": "axis-1", "name": "Slider", "kind": "axis", "axis": "track"}
ROOM = {"name": "Garage", "length_m": 6, "width_m": 5}
EDIT = {"revision": 1, "name": "N"}
MARK = {"layer": "matte", "points": [[0, 0.5], [1, 0.5]]}
#: Stands for a file to be sent.
FILE = {"a file": "see `call`"}
#: Stands for a part of a file, and for a file that is sent as it is.
PARTS = {"a part": "see `call`"}
WHOLE = {"a whole file": "see `call`"}
MAPPING = json.dumps({"number": "number", "title": "title"})
_OUT = io.BytesIO()
Image.new("RGB", (16, 16)).save(_OUT, "PNG")
PNG = _OUT.getvalue()
#: A picture with something in it to hold on to.
_OUT = io.BytesIO()
_NOISE = Image.effect_noise((40, 24), 120).resize((320, 192), Image.Resampling.BICUBIC)
_NOISE.convert("RGB").save(_OUT, "PNG")
TEXTURED = _OUT.getvalue()

#: A line that stands on every card.
TICKED = "Grey card and reference ball in the hero light"

#: method, path after the production, body, and the right it takes.
TABLE = [
    ("get", "", None, Verb.VIEW),
    ("patch", "", EDIT, Verb.OWN),
    ("post", "/remove", {"name": "A film"}, Verb.OWN),
    ("post", "/restore", None, Verb.OWN),
    ("get", "/members", None, Verb.VIEW),
    ("patch", "/members/{member}", {"role": "viewer"}, Verb.OWN),
    ("delete", "/members/{member}", None, Verb.OWN),
    ("post", "/members/{member}/password-link", None, Verb.OWN),
    ("get", "/invitations", None, Verb.OWN),
    ("post", "/invitations", {"role": "crew"}, Verb.OWN),
    ("delete", "/invitations/{invitation}", None, Verb.OWN),
    ("get", "/crew-links", None, Verb.FILM),
    ("post", "/crew-links", {"film_on": "2026-06-20"}, Verb.FILM),
    ("delete", "/crew-links/{link}", None, Verb.FILM),
    ("get", "/history", None, Verb.OWN),
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
    ("get", "/lenses/{lens}/stills", None, Verb.VIEW),
    ("get", "/lenses/{lens}/board", None, Verb.VIEW),
    ("post", "/lamps", LAMP, Verb.PLAN),
    ("patch", "/lamps/{lamp}", EDIT, Verb.PLAN),
    ("delete", "/lamps/{lamp}", None, Verb.PLAN),
    ("post", "/rooms", ROOM, Verb.PLAN),
    ("patch", "/rooms/{room}", EDIT, Verb.PLAN),
    ("delete", "/rooms/{room}", None, Verb.PLAN),
    ("post", "/rigs", RIG, Verb.PLAN),
    ("patch", "/rigs/{rig}", EDIT, Verb.PLAN),
    ("delete", "/rigs/{rig}", None, Verb.PLAN),
    ("post", "/supports", SUPPORT, Verb.PLAN),
    ("patch", "/supports/{support}", EDIT, Verb.PLAN),
    ("delete", "/supports/{support}", None, Verb.PLAN),
    ("post", "/persons", PERSON, Verb.PLAN),
    ("patch", "/persons/{person}", EDIT, Verb.PLAN),
    ("delete", "/persons/{person}", None, Verb.PLAN),
    ("post", "/cords", CORD, Verb.PLAN),
    ("patch", "/cords/{cord}", EDIT, Verb.PLAN),
    ("delete", "/cords/{cord}", None, Verb.PLAN),
    ("post", "/cloths", CLOTH, Verb.PLAN),
    ("patch", "/cloths/{cloth}", EDIT, Verb.PLAN),
    ("delete", "/cloths/{cloth}", None, Verb.PLAN),
    ("get", "/plates/{plate}/sheet", None, Verb.VIEW),
    ("get", "/at-table", None, Verb.VIEW),
    ("patch", "/plates/{plate}/sheet", {"revision": 1, "columns": []}, Verb.PLAN),
    ("get", "/shots/{shot}/plates/{plate}/sheet.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/set-map.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/set-map.pdf", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/sheet.pdf", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/chart.csv?column=axis-1", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/chart.gcode?column=axis-1", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/chart.pdf?column=axis-1", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/lapse.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/strip.pdf?column=axis-1", None, Verb.VIEW),
    ("post", "/replan", {"without": ["{lens}"]}, Verb.VIEW),
    ("get", "/shots/{shot}/bench.pdf?plate={plate}", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/cue.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/in-post.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/plates/{plate}/windows.ics?date=2026-06-20", None, Verb.VIEW),
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
    ("patch", "/cards/{card}", {"revision": 1, "ruler_mm": 99}, Verb.FILM),
    ("post", "/cards/{card}/ticks", {"item": TICKED, "done": True}, Verb.FILM),
    ("get", "/cards/{card}/pdf", None, Verb.VIEW),
    ("get", "/cards/{card}/picture", None, Verb.VIEW),
    ("get", "/cards/{card}/board", None, Verb.VIEW),
    ("post", "/cards/{card}/takes", {}, Verb.FILM),
    ("get", "/takes/{take}", None, Verb.VIEW),
    ("patch", "/takes/{take}", {"revision": 1, "note": "n"}, Verb.FILM),
    ("delete", "/takes/{take}", None, Verb.FILM),
    ("get", "/shots/{shot}/plates.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/takes.csv", None, Verb.VIEW),
    ("get", "/shots/{shot}/export.json", None, Verb.VIEW),
    ("get", "/board", None, Verb.VIEW),
    ("get", "/board/verdicts?shots={shot}", None, Verb.VIEW),
    ("post", "/board/order", {"ids": ["{shot}"]}, Verb.PLAN),
    ("post", "/board/remove", {"ids": ["{shot}"]}, Verb.PLAN),
    ("get", "/lockoffs", None, Verb.VIEW),
    ("post", "/lockoffs/rename", {"name": "hall", "to": "stairs"}, Verb.PLAN),
    ("post", "/board/duplicate", {"ids": ["{shot}"]}, Verb.PLAN),
    ("post", "/board/split", {"id": "{shot}", "at_s": 1}, Verb.PLAN),
    ("post", "/board/merge", {"ids": ["{shot}", "{second}"]}, Verb.PLAN),
    ("post", "/board/set", {"ids": ["{shot}"], "place": "P"}, Verb.PLAN),
    ("get", "/steps", None, Verb.VIEW),
    ("get", "/recipes", None, Verb.VIEW),
    ("post", "/shots/{shot}/recipes/save", {"name": "Ours"}, Verb.PLAN),
    ("patch", "/recipes/{own}", EDIT, Verb.PLAN),
    ("delete", "/recipes/{own}", None, Verb.PLAN),
    ("get", "/recipes/{own}/drawings", None, Verb.VIEW),
    ("post", "/shots/{shot}/recipes/preview", {"recipe": "twin-split"}, Verb.VIEW),
    ("post", "/shots/{shot}/recipes/apply", {"recipe": "twin-split"}, Verb.PLAN),
    ("post", "/shots/{shot}/advice", {"shows": ["double"]}, Verb.VIEW),
    ("get", "/hours", None, Verb.VIEW),
    ("get", "/shots/{shot}/effort", None, Verb.VIEW),
    ("post", "/shots/{shot}/hours", {"phase": "post", "hours": 2}, Verb.FILM),
    ("get", "/shots/{shot}/cautions", None, Verb.VIEW),
    ("post", "/shots/{shot}/cautions/{hazard}/read", {"name": "Per"}, Verb.FILM),
    ("get", "/days", None, Verb.VIEW),
    ("get", "/continuity", None, Verb.VIEW),
    ("post", "/threads", {"name": "Flag"}, Verb.PLAN),
    ("patch", "/threads/{thread}", EDIT, Verb.PLAN),
    ("delete", "/threads/{thread}", None, Verb.PLAN),
    ("post", "/threads/{thread}/kept", {"shot_id": "{shot}"}, Verb.PLAN),
    ("delete", "/kept/{kept}", None, Verb.PLAN),
    ("get", "/shots/{shot}/sketches", None, Verb.VIEW),
    ("post", "/shots/{shot}/sketches", FILE, Verb.PLAN),
    ("post", "/shots/{shot}/sketches/frame", {}, Verb.PLAN),
    ("post", "/sketches/{sketch}/redraw", None, Verb.PLAN),
    ("patch", "/sketches/{sketch}", {"revision": 1, "title": "T"}, Verb.PLAN),
    ("delete", "/sketches/{sketch}", None, Verb.PLAN),
    ("get", "/sketches/{sketch}/picture", None, Verb.VIEW),
    ("get", "/sketches/{sketch}/report", None, Verb.VIEW),
    ("get", "/shots/{shot}/sketches.pdf", None, Verb.VIEW),
    ("post", "/sketches/{sketch}/annotations", MARK, Verb.PLAN),
    ("patch", "/annotations/{mark}", EDIT, Verb.PLAN),
    ("delete", "/annotations/{mark}", None, Verb.PLAN),
    ("post", "/import/table/read", FILE, Verb.VIEW),
    ("post", "/import/table/preview", FILE, Verb.VIEW),
    ("post", "/import/table/apply", FILE, Verb.PLAN),
    ("post", "/import/edit/preview", FILE, Verb.VIEW),
    ("post", "/import/edit/apply", FILE, Verb.PLAN),
    ("get", "/export/board.csv", None, Verb.VIEW),
    ("get", "/export/board.otio", None, Verb.VIEW),
    ("get", "/shots/{shot}/developed", None, Verb.VIEW),
    ("get", "/developed/{developed}/picture", None, Verb.VIEW),
    ("get", "/shots/{shot}/dry-runs", None, Verb.VIEW),
    ("get", "/dry-runs/{run}/picture?which=story", None, Verb.VIEW),
    ("get", "/dry-runs/{run}/findings", None, Verb.VIEW),
    ("get", "/shots/{shot}/pictures", None, Verb.VIEW),
    ("get", "/shots/{shot}/rough", None, Verb.VIEW),
    ("get", "/rough/{rough}/file?which=composite", None, Verb.VIEW),
    ("get", "/pictures", None, Verb.VIEW),
    ("post", "/pictures", {"name": "P", "files": [{"name": "a", "size": 1}]}, Verb.FILM),
    ("get", "/pictures/{film}", None, Verb.VIEW),
    ("patch", "/pictures/{film}", {"revision": 1, "note": "n"}, Verb.FILM),
    ("get", "/pictures/{film}/look?frame=1", None, Verb.VIEW),
    ("get", "/pictures/{film}/rows", None, Verb.VIEW),
    ("get", "/pictures/{film}/strip", None, Verb.VIEW),
    ("get", "/pictures/{film}/strip/{first}", None, Verb.VIEW),
    ("get", "/filed", None, Verb.VIEW),
    ("post", "/pictures/{film}/by-board", {}, Verb.FILM),
    ("get", "/filmed?shots={shot}", None, Verb.VIEW),
    ("get", "/pictures/{film}/files/{file}", None, Verb.VIEW),
    ("head", "/uploads/{coming}", None, Verb.FILM),
    ("patch", "/uploads/{coming}", PARTS, Verb.FILM),
    ("delete", "/pictures/{unsent}", None, Verb.FILM),
    ("get", "/plates/{plate}/blocks", None, Verb.VIEW),
    ("get", "/plates/{plate}/sat", None, Verb.VIEW),
    ("post", "/plates/{plate}/blocks", {"name": "Again"}, Verb.FILM),
    ("patch", "/blocks/{block}", EDIT, Verb.FILM),
    ("delete", "/blocks/{unused}", None, Verb.FILM),
    ("post", "/blocks/{block}/exposures", WHOLE, Verb.FILM),
    ("get", "/blocks/{block}/exposures/{first}", None, Verb.VIEW),
    ("post", "/blocks/{block}/exposures/{first}/rebuilt", WHOLE, Verb.FILM),
    ("get", "/blocks/{block}/exposures/{first}/look", None, Verb.VIEW),
    ("get", "/blocks/{block}/exposures/{first}/file", None, Verb.VIEW),
    ("get", "/plates/{plate}/asked/{first}", None, Verb.VIEW),
    ("get", "/plates/{plate}/finder/look?width=64", None, Verb.VIEW),
    ("get", "/jobs", None, Verb.VIEW),
    ("post", "/jobs", {"kind": "breakdown-pdf"}, Verb.VIEW),
    ("post", "/jobs", {"kind": "duplicate", "params": {"ids": ["{shot}"]}}, Verb.PLAN),
    ("get", "/jobs/{job}", None, Verb.VIEW),
    ("get", "/jobs/{job}/file", None, Verb.VIEW),
    # Whoever asked may stop it too; here that is an owner.
    ("post", "/jobs/{job}/cancel", None, Verb.OWN),
]
#: Undo and redo belong to whoever made the step; see test_breakdown.
OWN_STEPS = [("post", "/steps/{step}/undo"), ("post", "/steps/{step}/redo")]


#: What was measured of a clip of one frame.
ROWS = {
    "frames": 1,
    "fps": 24.0,
    **{k: [[0, 0]] for k in ("light", "left", "middle", "right", "across", "down", "moved")},
}


def _pictures(stage, card):
    """A picture that is here, one that is being sent, and one to be removed."""
    film, coming, unsent = (
        Picture.objects.create(production=stage.production, name="P", looks=[1]) for _ in range(3)
    )
    held_up = kept("board_first")
    held_up["seen"]["found"]["number"] = card.board
    read = {"state": "read", "facts": kept("facts_first"), "ran": kept("ran_first")}
    strip = {"frames": 1, "wide": 16, "high": 9, "fps": 24.0, "loud": []}
    Picture.objects.filter(pk=film.pk).update(**read, board=held_up, strip=strip)
    default_storage.save(film.strip_sheet(1), ContentFile(PNG))
    default_storage.save(film.rows, ContentFile(json.dumps(ROWS).encode()))
    default_storage.save(film.look(1), ContentFile(PNG))
    stored = default_storage.save("pictures/x", ContentFile(PNG))
    rows = [
        PictureFile.objects.create(picture=film, name="x", size=len(PNG), stored=stored),
        PictureFile.objects.create(picture=coming, name="x", size=100),
    ]
    return {"film": film.pk, "file": rows[0].pk, "coming": rows[1].pk, "unsent": unsent.pk}


def _blocks(stage):
    """A block with a picture, and one without any."""
    block, unused = (
        Block.objects.create(shot=stage.shot, plate_id=stage.plate.pk, order=order)
        for order in ([1], [])
    )
    name = default_storage.save("blocks/x.png", ContentFile(TEXTURED))
    Exposure.objects.create(block=block, number=1, stored=name, proxy=name, size=len(TEXTURED))
    return {"block": block.pk, "unused": unused.pk, "first": 1}


def filled(body, ids):
    """The body with the ids that it names."""
    text = json.dumps(body)
    for name, pk in ids.items():
        text = text.replace("{" + name + "}", str(pk))
    return json.loads(text)


def call(api, method, path, body, ids):
    """One row of the table, as a file where it is one that takes a file."""
    path = path.format(**ids)
    if body is PARTS:
        more = {"content_type": PART, "HTTP_UPLOAD_OFFSET": "0"}
        return api.client.generic("PATCH", f"/api{path}", b"x", **more)
    if body is WHOLE:
        return api.client.generic("POST", f"/api{path}", TEXTURED, content_type=PART)
    if body is not FILE:
        return api.call(method, path, filled(body, ids))
    name, data = "x.png", PNG
    if "/import/table" in path:
        name, data = "x.csv", b"number,title\n7,Seven\n"
    elif "/import/edit" in path:
        name, data = "x.edl", edit_list().encode()
    form = {"file": SimpleUploadedFile(name, data), "mapping": MAPPING}
    return api.client.post(f"/api{path}", form)


def paths(stage) -> dict[str, str]:
    """The ids that the table's paths name."""
    card = issue(stage.owner, stage.plate)
    member = make_person("grip")
    Membership.objects.create(production=stage.production, user=member, role="crew")
    take = Take.objects.create(card=card, number=1)
    bare = Plate.objects.create(shot=stage.shot, name="Bare", kind="live", lock_group="hall")
    second = Shot.objects.create(
        production=stage.production,
        number="2",
        title="Second",
        delivery_width_px=1920,
        delivery_height_px=804,
        playback_fps=24,
    )
    recipe = book.frozen(book.remembered(stage.shot, "Ours", ""))
    own = OwnRecipe.objects.create(production=stage.production, name="Ours", content=recipe)
    thread = Thread.objects.create(production=stage.production, name="Flag")
    sketch = draw_for(stage.owner, stage.shot, "Frame")
    frame = {"shot": stage.shot, "width_px": 1, "height_px": 1, "stamp": "x"}
    Sheet.objects.create(shot=stage.shot, plate_id=stage.plate.pk, columns=[MOVE], lapse={})
    file = default_storage.save("developed/x.webp", ContentFile(PNG))
    SetCard.objects.filter(pk=card.pk).update(picture=file)
    return {
        **_pictures(stage, card),
        **_blocks(stage),
        "developed": Developed.objects.create(**frame, picture=file).pk,
        "run": DryRun.objects.create(**frame, composite=file, story=file).pk,
        "rough": Rough.objects.create(**frame, composite=file, told=kept("rough_first")).pk,
        "second": second.pk,
        "own": own.pk,
        "thread": thread.pk,
        "kept": KeptThread.objects.create(thread=thread, shot=stage.shot).pk,
        "sketch": sketch.pk,
        "mark": Annotation.objects.create(sketch=sketch, layer="split", points=[[0, 0]]).pk,
        "hazard": "lamps",
        "body": stage.plate.body_id,
        "mode": stage.plate.mode_id,
        "lens": stage.plate.lens_id,
        "lamp": Lamp.objects.create(production=stage.production, name="P", lux_at_1m=900).pk,
        "room": _under_the_sun(stage).pk,
        "rig": MoveRig.objects.create(production=stage.production, **RIG).pk,
        "support": Support.objects.create(production=stage.production, **SUPPORT).pk,
        "person": Person.objects.create(production=stage.production, **PERSON).pk,
        "cord": Cord.objects.create(production=stage.production, **CORD).pk,
        "cloth": Cloth.objects.create(production=stage.production, **CLOTH).pk,
        "shot": stage.shot.pk,
        "plate": stage.plate.pk,
        "bare": bare.pk,
        "stand_in": stage.stand_in.pk,
        "card": card.pk,
        "take": take.pk,
        "member": member.pk,
        "invitation": invitations.make(stage.owner, stage.production, "crew", "", 7).pk,
        "link": crew.make(stage.owner, stage.production, 7, card=card).pk,
        "job": stage.api.work(stage.path, "breakdown-pdf")["id"],
    }


def _under_the_sun(stage) -> Room:
    """A room with a sky, in which the plate has light to play and a sun to match; post places what
    it films."""
    room = Room.objects.create(
        production=stage.production,
        name="R",
        length_m=6,
        width_m=5,
        latitude_deg=50,
        longitude_deg=2,
    )
    stage.plate.room, stage.plate.cue = room, {"kind": "fire"}
    stage.plate.placed_in_post = True
    stage.plate.save()
    Shot.objects.filter(pk=stage.shot.pk).update(key_elevation_deg=30.0, key_from_deg=40.0)
    return room


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
            answer = call(Api(person), method, stage.path + path, body, ids)
            transaction.set_rollback(True)
        allowed = may(None if role == "nobody" else role, verb)
        want = {200, 204} if allowed else {404} if role == "nobody" else {403}
        assert answer.status_code in want, (role, method, path, answer.content[:300])
        if not allowed and method != "head":
            assert answer.json()["message"]


def test_the_table_knows_every_endpoint_of_a_production():
    described = {
        (method, path.removeprefix("/api/productions/{production_id}"))
        for path, item in api.get_openapi_schema()["paths"].items()
        if path.startswith("/api/productions/{production_id}")
        for method in item
    }
    shape = lambda path: [p if not p.startswith("{") else "{}" for p in path.split("/")]  # noqa: E731
    known = [(method, shape(path.split("?")[0])) for method, path, _, _ in TABLE]
    known += [(method, shape(path)) for method, path in OWN_STEPS]
    for method, path in described:
        assert (method, shape(path)) in known, f"{method} {path} has no row in the table"


def test_nothing_answers_without_a_session(stage):
    ids = paths(stage)
    for method, path, body, _ in TABLE:
        answer = call(Api(), method, stage.path + path, body, ids)
        assert answer.status_code == 401, (method, path)
        # Whoever asks for the head of an answer gets no more of it.
        assert method == "head" or "Sign in" in answer.json()["message"]


def test_calculators_want_a_session_too(db):
    for name in ("shot", "planner", "compare", "replan"):
        assert Api().post(f"/calc/{name}", {}).status_code == 401


#: What somebody may who came by a link to the card: a role of its own.
BY_LINK = {
    ("get", "/cards/{card}"),
    ("get", "/cards/{card}/pdf"),
    ("get", "/cards/{card}/picture"),
    ("post", "/cards/{card}/ticks"),
    ("post", "/cards/{card}/takes"),
}


def by_link(stage, **opens):
    """A device without an account, on which a crew link was opened."""
    link = crew.make(stage.owner, stage.production, 7, **opens)
    api = Api()
    answer = api.post("/crew", {"key": crew.key(link), "name": "Per"})
    assert answer.status_code == 200, answer.content
    return api


def test_every_endpoint_for_who_came_by_a_crew_link(stage, stranger_stage):
    from django.db import transaction

    ids = paths(stage)
    other = issue(stage.owner, Plate.objects.get(pk=ids["plate"]))
    foreign = issue(stranger_stage.owner, stranger_stage.plate)
    api = by_link(stage, card=SetCard.objects.get(pk=ids["card"]))
    for method, path, body, _ in TABLE:
        with transaction.atomic():
            answer = call(api, method, stage.path + path, body, ids)
            transaction.set_rollback(True)
        allowed = (method, path) in BY_LINK
        want = {200} if allowed else {401, 404}
        assert answer.status_code in want, (method, path, answer.content[:300])
        if allowed:
            # Another card of the production, and a card of another production.
            for where, card in ((stage.path, other.pk), (stranger_stage.path, foreign.pk)):
                answer = call(api, method, where + path, body, {**ids, "card": card})
                assert answer.status_code == 404, (method, path)
