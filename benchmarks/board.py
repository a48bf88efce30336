"""The Board of 300 shots, and a sketch drawn from the Frame, against an empty request."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .timing import medians

ROUNDS = 12
SHOTS = 1000


def measure() -> str:
    """The table as Markdown. Leaves the demo with many more shots than it had."""
    from django.test import Client

    from jungoptic.web.accounts.models import User
    from jungoptic.web.board import cutting
    from jungoptic.web.kept.models import KeptAnswer
    from jungoptic.web.plans.bridge import load
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json
    from jungoptic.web.productions.models import Production
    from jungoptic.web.sketches.render import sketch

    user = User.objects.get(username="supervisor")
    production = Production.objects.get()
    first = list(Shot.objects.values_list("pk", flat=True))
    mill = load(plan_json(Shot.objects.get(number="2")))
    while (missing := SHOTS - Shot.objects.count()) > 0:
        cutting.duplicate(user, production, first[:missing])
    client = Client()
    client.force_login(user)
    path = f"/api/productions/{production.pk}"
    ids = "&".join(f"shots={pk}" for pk in Shot.objects.values_list("pk", flat=True)[:20])

    def get(address: str) -> Callable[[], Any]:
        return lambda: client.get(path + address)

    def afresh() -> Any:
        KeptAnswer.objects.all().delete()
        return client.get(f"{path}/board/verdicts?{ids}")

    cases: dict[str, Callable[[], Any]] = {
        "empty authenticated request": lambda: client.get("/api/session"),
        f"the Board of {SHOTS:,} shots": get("/board"),
        "verdicts of 20 shots, computed": afresh,
        "verdicts of 20 shots, nothing changed": get(f"/board/verdicts?{ids}"),
        f"hours of {SHOTS:,} shots": get("/hours"),
        f"continuity of {SHOTS:,} shots": get("/continuity"),
        "the recipe book": lambda: client.get("/api/recipes"),
        "a sketch drawn from the Frame (no request)": lambda: sketch(mill),
    }
    times = medians(cases, ROUNDS)
    base = times["empty authenticated request"]
    rows = "\n".join(f"| {name} | {t * 1000:.0f} | {t / base:.0f} |" for name, t in times.items())
    return (
        f"## The Board of {SHOTS:,} shots\n\n"
        f"The demo's shots copied until there are {SHOTS:,}, {ROUNDS} rounds, each case in turn, "
        "through Django's test client. The browser asks for the Board once and then for verdicts, "
        "20 shots at a time.\n\n"
        "| case | median ms | ratio to the empty request |\n| --- | ---: | ---: |\n" + rows
    )
