"""The planner against one bare formula, a whole production planned anew, and how both grow."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from .growth import Series, plot
from .timing import medians

ROUNDS = 25
CANDIDATES = 50_000
SHOTS, PLATES = 100, 6
PLOT = "benchmarks-growth.svg"


def measure(docs: Path) -> str:
    """The tables as Markdown; draws the growth beside them. Leaves the demo with many shots."""
    from jungoptic.web.plans.bridge import load
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    shot = load(plan_json(Shot.objects.get(number="2")))
    searched, growth = _search(shot)
    replanned, sizes = _replan()
    plot(
        docs / PLOT,
        "Time against size; a straight line through the middle of each",
        (
            Series("planner: candidates, in thousands", "ms", growth),
            Series("production planned anew: plates", "s", sizes),
        ),
    )
    return (
        "## Planner\n\n"
        f"{searched}\n\n"
        "## A whole production planned anew\n\n"
        f"{replanned}\n\n"
        f"![Time grows in a straight line with candidates and with plates]({PLOT})"
    )


def _space(shot: Any, plate: Any, wanted: int) -> Any:
    """About so many candidates: the usual search, its list of ISOs lengthened or cut."""
    from jungoptic.core.planner.space import Wishes, space_for

    usual = space_for(shot, plate, Wishes())
    rest = math.prod(usual.shape) // len(usual.isos)
    count = max(1, round(wanted / rest))
    return replace(usual, isos=tuple(float(i) for i in np.linspace(200, 3200, count)))


def _depth(rows: int) -> Callable[[], Any]:
    """The bare evaluation of the depth-of-field formula over that many rows."""
    rng = np.random.default_rng(1)
    focal = rng.uniform(20, 85, rows)
    stop = rng.uniform(2, 22, rows)
    focus = rng.uniform(500, 5000, rows)
    coc = np.full(rows, 0.026)

    def evaluate() -> Any:
        k = coc * stop / focal
        q = 1.0 - focal / focus
        return focal / (1.0 - q * (1.0 - k)), focal / (1.0 - q * (1.0 + k))

    return evaluate


def _search(shot: Any) -> tuple[str, list[tuple[float, float]]]:
    from jungoptic.core.planner import search

    plate = shot.plates[0]
    space = _space(shot, plate, CANDIDATES)
    found = search(shot, plate, space=space)
    rows, rules = found.candidates, len(found.rules)
    bare = _depth(rows)
    times = medians(
        {
            "bare": bare,
            "search": lambda: search(shot, plate, space=space),
        },
        ROUNDS,
    )
    per_bare = times["bare"] / rows
    per_rule = times["search"] / rows / rules
    growth = []
    for wanted in (12_500, 25_000, 50_000, 100_000, 200_000):
        sized = _space(shot, plate, wanted)
        case = {"search": lambda sized=sized: search(shot, plate, space=sized)}
        growth.append((math.prod(sized.shape) / 1000, medians(case, 7)["search"] * 1000))
    table = (
        f"Demo shot 2's miniature: {rows:,} candidates, {rules} rules each, ranked, worded, with "
        f"near misses; {ROUNDS} rounds, in turn with one bare vectorised NumPy evaluation of the "
        "depth-of-field formula over as many rows. Aims: at most 3 times the bare formula per "
        "candidate and rule; under 50 ms in all.\n\n"
        "| case | median ms | ns for a candidate and a rule | ratio |\n"
        "| --- | ---: | ---: | ---: |\n"
        f"| depth of field, bare | {times['bare'] * 1000:.2f} | {per_bare * 1e9:.1f} | 1.00 |\n"
        f"| planner, all rules | {times['search'] * 1000:.1f} | {per_rule * 1e9:.1f} | "
        f"{per_rule / per_bare:.2f} |"
    )
    return table, growth


def _fill(production: Any, shots: int) -> None:
    """Bring the production to so many shots of `PLATES` plates each, from its own."""
    from jungoptic.web.accounts.models import User
    from jungoptic.web.board import cutting
    from jungoptic.web.plans.models import Plate, Shot

    user = User.objects.get(username="supervisor")
    rich = Shot.objects.get(number="2")
    Shot.objects.filter(production=production).exclude(pk=rich.pk).delete()
    plates = list(rich.plates.all())
    for i in range(PLATES - len(plates)):
        twin = plates[i % len(plates)]
        copy = Plate.objects.get(pk=twin.pk)
        copy.pk, copy._state.adding, copy.name = None, True, f"{twin.name} {i}"
        copy.save()
        for thing in twin.stand_ins.all():
            thing.pk, thing._state.adding, thing.plate, thing.looks_at = None, True, copy, None
            thing.save()
    while (missing := shots - Shot.objects.filter(production=production).count()) > 0:
        ids = list(Shot.objects.filter(production=production).values_list("pk", flat=True))
        cutting.duplicate(user, production, ids[:missing])


def _replan() -> tuple[str, list[tuple[float, float]]]:
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from jungoptic.web.accounts.models import User
    from jungoptic.web.kit.models import Lens
    from jungoptic.web.plans.models import Plate
    from jungoptic.web.productions.models import Production

    production = Production.objects.get()
    client = Client()
    client.force_login(User.objects.get(username="supervisor"))
    lens = str(Lens.objects.get(name="28 mm prime").pk)
    path = f"/api/productions/{production.pk}/replan"

    def ask(body: dict[str, Any]) -> Callable[[], Any]:
        def asked() -> Any:
            answer = client.post(path, body, content_type="application/json")
            assert answer.status_code == 200, answer.content
            return answer

        return asked

    sizes, queries = [], []
    cases: dict[str, Callable[[], Any]] = {}
    for shots in (13, 25, 50, SHOTS):
        _fill(production, shots)
        cases = {
            "empty authenticated request": lambda: client.get("/api/session"),
            "a lens lent out: its plates planned anew, the others judged": ask({"without": [lens]}),
            "every plate planned anew": ask({"whole": True}),
        }
        with CaptureQueriesContext(connection) as seen:
            cases["every plate planned anew"]()
        queries.append(len(seen))
        last = medians(cases, 3)
        count = Plate.objects.filter(shot__production=production).count()
        sizes.append((float(count), last["every plate planned anew"]))
    base = last["empty authenticated request"]
    rows = "\n".join(
        f"| {name} | {seconds:.2f} | {seconds / base:.0f} |" for name, seconds in last.items()
    )
    table = (
        f"{SHOTS} shots of {PLATES} plates (demo shot 2 copied), the demo's kit, through Django's "
        "test client, each case in turn. Aim: every plate in under 3 s, with a number of SQL "
        f"queries that does not grow: {', '.join(str(q) for q in queries)} queries for "
        f"{', '.join(f'{int(n)}' for n, _ in sizes)} plates.\n\n"
        "| case | median s | ratio to the empty request |\n| --- | ---: | ---: |\n" + rows
    )
    return table, sizes
