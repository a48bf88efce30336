"""One plate recomputed through the API against an empty authenticated request."""

from __future__ import annotations

import gzip
import json
import uuid
from collections.abc import Callable
from itertools import count
from typing import Any

from .timing import cpu_ms, medians

ROUNDS = 300


def measure() -> str:
    """The table as Markdown."""
    from django.test import Client

    from jungoptic.web.accounts.models import User
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    client = Client()
    client.force_login(User.objects.get(username="supervisor"))
    plan = plan_json(Shot.objects.get(number="2"))
    broken, held = plan["plates"]
    rest = {"remedies": False, "selected": broken["id"], "workings": "selected"}
    drag = {**rest, "others": False, "workings": "none"}
    cases: dict[str, Callable[[], object]] = {
        "empty authenticated request": lambda: client.get("/api/session"),
        "a shot without plates or stand-ins": _asker(client, {"shot": EMPTY}),
        "one plate that holds": _asker(client, {**plan, "plates": [held]}),
        "a stand-in dragged: the plate in hand, its stage on the screen": _dragger(
            client, plan, drag
        ),
        "the same with another tab open (no drawings of the stage)": _dragger(
            client, plan, {**drag, "drawings": False}
        ),
        "dragged with the Frame in tone": _dragger(
            client, plan, {**drag, "drawings": False, "tone": True}
        ),
        "the hand rests: both plates, with workings": _dragger(client, plan, rest),
        "the same with a table open (its study)": _dragger(client, plan, {**rest, "study": True}),
        "the ways out of one finding, opened": _asker(
            client,
            {**plan, "plates": [broken], "plate_id": broken["id"], "key": "floor"},
            "/api/calc/ways-out",
        ),
        "one plate that breaks, with the ways out of all its findings": _asker(
            client, {**plan, "plates": [broken]}
        ),
    }
    times = medians(cases, ROUNDS, warm=20)
    base = times["empty authenticated request"]
    rows = "\n".join(
        f"| {name} | {t * 1000:.2f} | {t / base:.2f} | {cpu_ms(cases[name], 30):.1f} "
        f"| {_kilobytes(cases[name]())} |"
        for name, t in times.items()
    )
    return (
        "## Recomputing one plate through the API\n\n"
        f"Demo shot 2 (seven stand-ins, whole kit in the request), {ROUNDS} rounds, each case in "
        "turn, through Django's test client. The empty request asks who is signed in: session, "
        "user, a short answer. The browser sends the plan once and then what changes. Aims: a drag "
        "at most 2.5 times, 8 CPU ms and 20 kB on the wire; at rest at most 5 times. Answers are "
        "compressed as a browser asks for them.\n\n"
        "| case | median ms | ratio to the empty request | CPU ms | kB, and as sent |\n"
        "| --- | ---: | ---: | ---: | ---: |\n" + rows
    )


def measure_growth() -> str:
    """How a drag grows with the things in the shot: the table as Markdown."""
    from django.test import Client

    from jungoptic.web.accounts.models import User
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    client = Client()
    client.force_login(User.objects.get(username="supervisor"))
    mill = plan_json(Shot.objects.get(number="2"))
    drag = {
        "remedies": False,
        "selected": mill["plates"][0]["id"],
        "others": False,
        "workings": "none",
    }
    cases: dict[str, Callable[[], object]] = {
        "empty authenticated request": lambda: client.get("/api/session")
    }
    for things in (7, 50, 200):
        plan = {**mill, "stand_ins": _more(mill["stand_ins"], things)}
        cases[f"{things} stand-ins"] = _dragger(client, plan, drag)
    times = medians(cases, 20, warm=5)
    base = times["empty authenticated request"]
    rows = "\n".join(
        f"| {name} | {t * 1000:.1f} | {t / base:.1f} | {cpu_ms(cases[name], 15):.1f} |"
        for name, t in times.items()
    )
    return (
        "## A drag among many things\n\n"
        "The same shot with posts added in rows before the mill; one of its things is dragged. "
        "Aims: time grows at most as the things do; under 40 CPU ms with 200 of them.\n\n"
        "| case | median ms | ratio to the empty request | CPU ms |\n| --- | ---: | ---: | ---: |\n"
        + rows
    )


def _more(things: list[dict[str, Any]], count: int) -> list[dict[str, Any]]:
    post = {**things[0], "width_m": 0.3, "height_m": 0.8, "depth_m": 0.3}
    added = [
        {**post, "id": str(uuid.UUID(int=i)), "name": f"Post {i}", "x_m": i % 20 - 10.0}
        | {"y_m": 12.0 + 0.2 * i}
        for i in range(count - len(things))
    ]
    return [*things, *added]


def _kilobytes(answer: Any) -> str:
    sent = len(answer.content)
    zipped = answer.get("Content-Encoding") == "gzip"
    plain = len(gzip.decompress(answer.content)) if zipped else sent
    return f"{plain / 1000:.1f}, {sent / 1000:.1f}"


APART = count()


def _dragger(client: object, plan: dict[str, Any], look: dict[str, Any]) -> Callable[[], object]:
    """The plan sent once; then a stand-in a little farther along each time, as the browser asks."""
    dragged = plan["stand_ins"][0]
    # Every case goes over places of its own: none finds there what another has worked out.
    begun, steps = dragged["x_m"] + next(APART) * 1e-6, count()
    first: Any = _asker(client, {"plan": plan, **look}, "/api/calc/kept")()
    told = gzip.decompress(first.content) if first.get("Content-Encoding") else first.content
    kept = json.loads(told)["kept"]

    def ask() -> object:
        moved = {**dragged, "x_m": begun + 1e-4 * next(steps)}
        body = {"kept": kept, "changes": {"stand_ins": [moved]}, **look}
        return _asker(client, body, "/api/calc/kept")()

    return ask


EMPTY = {"number": "1", "title": "Empty"}


def _asker(
    client: object, plan: dict[str, Any], path: str = "/api/calc/shot"
) -> Callable[[], object]:
    body = json.dumps(plan)

    def ask() -> object:
        answer = client.post(  # type: ignore[attr-defined]
            path, body, content_type="application/json", headers={"accept-encoding": "gzip"}
        )
        assert answer.status_code == 200
        return answer

    return ask
