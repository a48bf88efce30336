"""One number, one value: Bench, Lock-off, Board, card, PDF and CSV say the same of a shot."""

from __future__ import annotations

import csv
import io
import json
import random

import pytest
from django.test import Client

from jungoptic.core.words import quantities as say
from jungoptic.web.board import board
from jungoptic.web.plans.models import Plate, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.printing.pages import document
from jungoptic.web.takes.cards import issue
from jungoptic.web.takes.pdf import card_html
from tests.kept_demo import lay_demo

RANKS = ("holds", "strains", "breaks")
#: How far a number of the CSV, written with six digits, may lie from the same number elsewhere.
SIX_DIGITS = 1e-5


def asked(client: Client, path: str, body: dict) -> dict:
    answer = client.post(path, json.dumps(body, default=str), content_type="application/json")
    assert answer.status_code == 200, answer.content
    return answer.json()


def on_paper(card) -> str:
    """All text of the printed card, blanks and soft breaks aside."""
    words = []
    for page in document(card_html(card)).pages:
        words += [box.text for box in page._page_box.descendants() if hasattr(box, "text")]
    return "".join("".join(words).split()).replace("\u00ad", "")


def bare(text: str) -> str:
    return "".join(text.split())


def shaken(shot: Shot, seed: int) -> None:
    """Other decisions, as somebody might make them."""
    chance = random.Random(seed)
    shot.screen_time_s = round(shot.screen_time_s * chance.uniform(0.5, 2.0), 2)
    shot.save()
    for plate in shot.plates.all():
        plate.f_number = chance.choice([2.8, 4.0, 5.6, 11.0, 16.0])
        plate.iso = chance.choice([200.0, 400.0, 1600.0])
        plate.shutter_deg = chance.choice([90.0, 172.8, 180.0])
        plate.nd_stops = chance.choice([0.0, 0.9])
        plate.save()


@pytest.mark.parametrize("seed", [0, 1])
def test_every_place_says_the_same(db, client, seed):
    lay_demo()
    shots = list(Shot.objects.all())
    production = shots[0].production
    client.force_login(production.memberships.first().user)
    path = f"/api/productions/{production.pk}"
    if seed:
        for shot in shots:
            shaken(shot, seed)
    boards = {v["id"]: v for v in board.verdicts(production, [s.pk for s in shots])}
    rows = {r["id"]: r for r in client.get(f"{path}/board").json()["rows"]}
    compared = 0
    for shot in shots:
        plan = plan_json(Shot.objects.get(pk=shot.pk))
        views = [None, *(v["id"] for v in plan["shot"]["views"])]
        pages = [
            asked(client, "/api/calc/shot", {**plan, "remedies": False, "view_id": view})
            for view in views
        ]
        # Told in the order of the plan, whichever view each plate is a piece of.
        by_id = {p["plate_id"]: p for page in pages for p in page["plates"]}
        bench = {"plates": [by_id[p["id"]] for p in plan["plates"]]}
        text = client.get(f"{path}/shots/{shot.pk}/plates.csv").content.decode()
        table = {row["plate"]: row for row in csv.DictReader(io.StringIO(text))}
        hours = client.get(f"{path}/shots/{shot.pk}/effort").json()
        assert rows[str(shot.pk)]["set_hours"] == pytest.approx(hours["set"])
        assert rows[str(shot.pk)]["post_hours"] == pytest.approx(hours["post"])
        worst = max((p["verdict"] for p in bench["plates"]), key=RANKS.index, default="holds")
        assert boards[shot.pk]["verdict"] == worst
        for own, told in zip(plan["plates"], bench["plates"], strict=True):
            row, stage = table[own["name"]], told["stage"]
            assert row["verdict"] == told["verdict"]
            if stage is None:
                continue
            for header, field in (
                ("capture rate (fps)", "capture_fps"),
                ("action on set (s)", "set_duration_s"),
                ("exposure time (s)", "exposure_s"),
                ("light needed (lx)", "lux_needed"),
                ("pixels left across (px)", "pixels_across"),
                ("focus from sensor mark (m)", "focus_tape_m"),
                ("lens axis height (m)", "axis_m"),
            ):
                if stage[field] is None:
                    assert row[header] in ("", "inf")
                else:
                    assert float(row[header]) == pytest.approx(stage[field], rel=SIX_DIGITS)
        # One card and one lock-off of each shot: they take the longest.
        compared += on_the_card(client, shot, plan, bench)
    assert compared > 10


def on_the_card(client: Client, shot: Shot, plan: dict, bench: dict) -> int:
    own, told = next(
        ((p, t) for p, t in zip(plan["plates"], bench["plates"], strict=True) if t["stage"]),
        (None, None),
    )
    if own is None:
        return 0
    stage = told["stage"]
    card = issue(shot.production.memberships.first().user, Plate.objects.get(pk=own["id"]))
    lines = {line["label"]: line["value"] for line in card.shown["lines"]}
    focus = next(v for k, v in lines.items() if k in ("Focus", "Focus pass 1"))
    said = {
        "Capture rate": say.rate(stage["capture_fps"]),
        "Action on set": f"{stage['set_duration_s']:.1f} s",
        "Shutter": say.shutter(stage["exposure_s"]),
        "Light at the action": say.lux(stage["lux_needed"]),
        "Stop": say.stop(own["f_number"]),
    }
    assert {k: lines[k] for k in said} == said
    first = stage["passes"][0]["focus_m"]
    if first is not None:
        assert focus == say.length(first + stage["sensor_to_pupil_m"])
    assert card.shown["verdict"] == told["verdict"], (shot, own["name"], told["findings"])
    assert card.shown["planned"]["capture_fps"] == pytest.approx(stage["capture_fps"])
    paper = on_paper(card)
    for value in (*said.values(), focus):
        assert bare(value) in paper, value
    # The Lock-off room reads back what the card says.
    study = asked(client, "/api/calc/tricks", {**plan, "plate_id": own["id"]})
    reads = {item["what"]: item["value"] for item in study["checklist"]}
    assert reads["Focus manual, ring taped"].startswith(focus)
    assert reads["Rate and shutter"] == f"{lines['Capture rate']}, {lines['Shutter']}"
    assert reads["Stop fixed, ring taped"] == lines["Stop"]
    return 1
