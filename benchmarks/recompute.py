"""One plate recomputed through the API against an empty authenticated request."""

from __future__ import annotations

import json
from collections.abc import Callable
from itertools import count

from .timing import medians

ROUNDS = 300


def measure() -> str:
    """The table as Markdown."""
    from django.test import Client

    from jungoptic.web.accounts.models import User
    from jungoptic.web.plans.bridge import plan_json
    from jungoptic.web.plans.models import Shot

    client = Client()
    client.force_login(User.objects.get(username="supervisor"))
    plan = plan_json(Shot.objects.get(number="2"))
    broken, held = plan["plates"]
    cases: dict[str, Callable[[], object]] = {
        "empty authenticated request": lambda: client.get("/api/session"),
        "a shot without plates or stand-ins": _asker(client, {"shot": EMPTY}),
        "one plate that holds": _asker(client, {**plan, "plates": [held]}),
        "one plate that breaks, while dragging (no remedies)": _dragger(
            client, {**plan, "plates": [broken], "remedies": False, "selected": broken["id"]}
        ),
        "the same while another plate is looked at (no drawings)": _asker(
            client, {**plan, "plates": [broken], "remedies": False}
        ),
        "the hand rests: the same with its study": _asker(
            client,
            {
                **plan,
                "plates": [broken],
                "remedies": False,
                "study": True,
                "selected": broken["id"],
            },
        ),
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
    rows = "\n".join(f"| {name} | {t * 1000:.2f} | {t / base:.2f} |" for name, t in times.items())
    return (
        "## Recomputing one plate through the API\n\n"
        f"Demo shot 2 (seven stand-ins, whole kit in the request), {ROUNDS} rounds, each case in "
        "turn, through Django's test client. The empty request asks who is signed in: session, "
        "user, a short answer. Aim: at most 3 times at the median.\n\n"
        "| case | median ms | ratio to the empty request |\n| --- | ---: | ---: |\n" + rows
    )


def _dragger(client: object, plan: dict) -> Callable[[], object]:
    """The same with a stand-in a little farther along each time."""
    dragged = plan["stand_ins"][0]
    begun, steps = dragged["x_m"], count()

    def ask() -> object:
        plan["stand_ins"][0] = {**dragged, "x_m": begun + 1e-4 * next(steps)}
        return _asker(client, plan)()

    return ask


EMPTY = {"number": "1", "title": "Empty"}


def _asker(client: object, plan: dict, path: str = "/api/calc/shot") -> Callable[[], object]:
    body = json.dumps(plan)

    def ask() -> object:
        answer = client.post(path, body, content_type="application/json")  # type: ignore[attr-defined]
        assert answer.status_code == 200
        return answer

    return ask
