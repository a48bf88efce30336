"""The map of light over a stage, and a year of light-match windows, each against one bare
evaluation over as many numbers, and both through the API."""

from __future__ import annotations

import itertools
import json
from collections.abc import Callable
from typing import Any

import numpy as np

from .timing import medians

ROUNDS = 25
LAMPS, COLUMNS, ROWS = 8, 200, 120
MINUTES = 365 * 1440


def measure() -> str:
    """The tables as Markdown."""
    return f"## Light over a stage\n\n{_map()}\n\n## A year of light-match windows\n\n{_year()}"


def _table(times: dict[str, float], base: str) -> str:
    rows = "\n".join(
        f"| {name} | {t * 1000:.1f} | {t / times[base]:.1f} |" for name, t in times.items()
    )
    return f"| case | median ms | ratio to the bare evaluation |\n| --- | ---: | ---: |\n{rows}"


def _client() -> Any:
    from django.test import Client

    from jungoptic.web.accounts.models import User

    client = Client()
    client.force_login(User.objects.get(username="supervisor"))
    return client


def _asker(client: Any, path: str, bodies: Any) -> Callable[[], Any]:
    def ask() -> Any:
        answer = client.post(path, next(bodies), content_type="application/json")
        assert answer.status_code == 200, answer.content[:300]
        return answer

    return ask


def _map() -> str:
    from jungoptic.core.drawings.light_maps import stage_map
    from jungoptic.core.drawings.stage.above import plan
    from jungoptic.core.stage.case import Case
    from jungoptic.web.plans.bridge import load
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    sent = plan_json(Shot.objects.get(number="2"))
    panel = next(x["id"] for x in sent["lamps"] if x["name"] == "LED panel")
    mill = next(p for p in sent["plates"] if p["kind"] == "miniature")
    # Eight panels round the set, near enough that each must be taken as a surface.
    mill["lamps"] = [
        {
            "lamp_id": panel,
            "x_m": 2.2 * float(np.sin(a)),
            "y_m": 2.1 + 2.2 * float(np.cos(a)),
            "z_m": 1.0,
        }
        for a in np.linspace(0.3, 5.9, LAMPS)
    ]
    shot = load(sent)
    plate = next(p for p in shot.plates if p.id == mill["id"])

    def mapped() -> Any:
        case = Case.of(shot, plate)
        assert case is not None
        return stage_map(case, plan(case), COLUMNS, ROWS)

    rng = np.random.default_rng(1)
    points = rng.uniform(0.0, 5.0, (COLUMNS * ROWS, 3))
    lamps = rng.uniform(0.0, 5.0, (LAMPS, 3))

    def bare() -> Any:
        # Inverse square and both cosines of every lamp at every point, each lamp one point.
        away = points[None, :, :] - lamps[:, None, :]
        d2 = (away * away).sum(axis=2)
        return (np.abs(away[..., 1]) * np.abs(away[..., 2]) / d2 / d2).sum(axis=0)

    client = _client()
    body = json.dumps({**sent, "remedies": False, "selected": mill["id"]})
    with_map = json.dumps({**sent, "remedies": False, "selected": mill["id"], "light_map": True})
    times = medians(
        {
            "bare: inverse square and two cosines": bare,
            "the map with its contours, lamps as surfaces": mapped,
            "the shot through the API, without the map": _asker(
                client, "/api/calc/shot", itertools.repeat(body)
            ),
            "the shot through the API, with the map": _asker(
                client, "/api/calc/shot", itertools.repeat(with_map)
            ),
        },
        ROUNDS,
        warm=3,
    )
    return (
        f"{COLUMNS} x {ROWS} points, {LAMPS} lamps. Aim: an answer through the API within "
        "150 ms.\n\n" + _table(times, "bare: inverse square and two cosines")
    )


def _year() -> str:
    import datetime

    from jungoptic.core.plan import Room
    from jungoptic.core.sky.track import sun_track
    from jungoptic.core.sky.windows import light_windows
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    sent = json.loads(json.dumps(plan_json(Shot.objects.get(number="13")), default=str))
    plate = next(p for p in sent["plates"] if p["name"] == "Day plate")
    day = datetime.date(2026, 11, 25)
    begun = float(np.datetime64("2026-11-25", "s").astype(np.int64))
    times = begun + np.arange(MINUTES, dtype=np.float64) * 60.0
    hour = (times / 240.0) % 360.0

    def bare() -> Any:
        # Elevation from an hour angle and one declination: a sine, a cosine and an arc sine.
        h = np.radians(hour)
        return np.degrees(np.arcsin(0.79 * np.sin(0.2) + 0.61 * np.cos(0.2) * np.cos(h)))

    # Never the same place twice, so that nothing kept from before answers.
    places = itertools.count()

    def room() -> Room:
        longitude = 1.0 + next(places) * 1e-4
        return Room("y", "Yard", 20, 10, latitude_deg=52.6, longitude_deg=longitude)

    def tracked() -> Any:
        return sun_track(times, 52.6, 1.0 + next(places) * 1e-4)

    def bodies() -> Any:
        for i in itertools.count():
            rooms = [
                {**r, "longitude_deg": 1.0 + i * 1e-4} if r["id"] == plate["room_id"] else r
                for r in sent["rooms"]
            ]
            yield json.dumps(
                {
                    **sent,
                    "rooms": rooms,
                    "plate_id": plate["id"],
                    "date": day.isoformat(),
                    "days": 365,
                }
            )

    found = medians(
        {
            "bare: one elevation formula": bare,
            "the sun at every minute of a year": tracked,
            "windows of a year": lambda: light_windows(room(), day, 365, 35.0, 5.0),
            "windows, the day and day for night through the API": _asker(
                _client(), "/api/calc/sky", bodies()
            ),
        },
        ROUNDS,
        warm=3,
    )
    return (
        f"{MINUTES:,} minutes, a place that was never asked before each time. Aim: an answer "
        "through the API within 150 ms.\n\n" + _table(found, "bare: one elevation formula")
    )
