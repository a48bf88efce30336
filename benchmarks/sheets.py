"""An exposure sheet of ten thousand rows: computed, and scrolled in Chromium."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from .timing import medians

ROUNDS = 9
LONG_S = 420.0
#: Turns of the wheel, and how far each goes, pixels.
TURNS, TURN_PX = 120, 900

# Tasks that hold the page up for longer than 50 ms, as the browser itself counts them.
WATCH = """
() => {
  window.long = [];
  new PerformanceObserver((list) => {
    for (const one of list.getEntries()) window.long.push(one.duration);
  }).observe({ type: 'longtask', buffered: false });
}
"""


def measure() -> str:
    """The tables as Markdown. Leaves shot 6 very long."""
    from jungoptic.web.plans.models import Shot

    times = _computed()
    Shot.objects.filter(number="6").update(screen_time_s=LONG_S)
    base = times["empty authenticated request"]
    rows = "\n".join(f"| {name} | {t * 1000:.1f} | {t / base:.1f} |" for name, t in times.items())
    frames, worst, count = _scrolled()
    return (
        "## An exposure sheet\n\n"
        f"Demo shot 6, its wing on a crank, {ROUNDS} rounds, each case in turn, through Django's "
        "test client.\n\n"
        "| case | median ms | ratio to the empty request |\n| --- | ---: | ---: |\n"
        f"{rows}\n\n"
        f"Scrolled in Chromium through {frames:,} rows, {TURNS} turns of the wheel: {count} tasks "
        f"of more than 50 ms, the longest {worst:.0f} ms (aim: none)."
    )


#: The parts of a stored sheet that are asked about.
PARTS = ("columns", "worked", "set_map")


def _computed() -> dict[str, float]:
    from django.test import Client

    from jungoptic.web.accounts.models import User
    from jungoptic.web.frames.models import Sheet
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    shot = Shot.objects.get(number="6")
    plate = shot.plates.get(name="Animation")
    sheet = Sheet.objects.get(plate_id=plate.pk)
    client = Client()
    client.force_login(User.objects.get(username="supervisor"))

    def asker(seconds: float, what: str = "sheet") -> Callable[[], Any]:
        shot.screen_time_s = seconds
        body = json.dumps(
            {
                **plan_json(shot),
                "plate_id": str(plate.pk),
                "sheet": {name: getattr(sheet, name) for name in PARTS},
            },
            default=str,
        )

        def ask() -> Any:
            answer = client.post(f"/api/calc/{what}", body, content_type="application/json")
            assert answer.status_code == 200, answer.content[:300]
            return answer

        return ask

    return medians(
        {
            "empty authenticated request": lambda: client.get("/api/session"),
            "a sheet of 120 frames": asker(5.0),
            f"a sheet of {round(LONG_S * 24):,} frames": asker(LONG_S),
            "the set map under 120 frames": asker(5.0, "set-map"),
        },
        ROUNDS,
    )


def _scrolled() -> tuple[int, float, int]:
    from throwaway import chromium, demo_server, open_demo

    with demo_server() as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        open_demo(page, address)
        page.get_by_role("link", name="The heron unfolds its wings").click()
        rooms = page.get_by_role("navigation", name="Rooms of the shot")
        rooms.get_by_role("link", name="Frames").click()
        page.locator('[data-cell="part-1:1"]').wait_for()
        page.get_by_text(f"{round(LONG_S * 24)} frames").first.wait_for()
        sheet = page.get_by_test_id("sheet")
        sheet.hover()
        # What the page does to open is done by then.
        page.wait_for_load_state("networkidle")
        page.evaluate(WATCH)
        for _ in range(TURNS):
            page.mouse.wheel(0, TURN_PX)
            page.evaluate("() => new Promise((done) => requestAnimationFrame(done))")
        at = sheet.evaluate("e => e.scrollTop")
        assert at > TURN_PX, at
        page.wait_for_timeout(300)
        long: list[float] = page.evaluate("() => window.long")
        frames = int(sheet.get_attribute("aria-rowcount") or 1) - 1
    return frames, max(long, default=0.0), len(long)
