"""`make screenshots`: takes the pictures of docs/screenshots/ again, from the demo data; with names
behind it (`python tools/screenshots.py frames-paper`) only those."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from throwaway import ROOT, chromium, database, open_demo, server

FOLDER = ROOT / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def mill(page: Any) -> None:
    """The Bench with the plate that breaks."""
    page.get_by_role("link", name="The tide mill, wide").click()
    page.get_by_test_id("drawing-elevation").wait_for()


def wheel(page: Any) -> None:
    """The planner at a plate that needs a faster body, three ways laid side by side."""
    page.get_by_role("link", name="The spring tide breaks the wheel").click()
    page.get_by_role("tab", name="Planner").click()
    for i in (1, 2, 3):
        page.locator(f'[data-way="{i}"]').get_by_label("compare").check()
    page.get_by_test_id("compared").get_by_text("Pixels left across").wait_for()
    page.get_by_role("region", name="Side by side").scroll_into_view_if_needed()
    page.get_by_test_id("planner-count").scroll_into_view_if_needed()


def dry_run(page: Any) -> None:
    """All plates of a shot put together, beside the story; where they part most is circled."""
    room("The tide mill, wide", "Dry run", "What does not hold")(page)
    page.get_by_role("button", name=re.compile("match with the world camera")).click()


def develop() -> None:
    """What the simulated camera has to make before it is shown."""
    from jungoptic.web.developed import keeping
    from jungoptic.web.plans.models import Shot

    def tell(done: int, of: int) -> None:
        print(f"developing: {done} of {of}")

    shot = Shot.objects.get(title="The tide mill, wide")
    keeping.run(shot, None, 1, 960, tell)


def wings(page: Any) -> None:
    """The exposure sheet of the heron's wings, the chart of the crank beside it."""
    room("The heron unfolds its wings", "Frames", "What it comes to")(page)
    page.get_by_role("columnheader", name="Wing").click()
    page.get_by_test_id("move-curve").wait_for()
    page.get_by_test_id("move-curve").scroll_into_view_if_needed()


def marsh(page: Any) -> None:
    """The heron's set from above: what no arm reaches, and the bank that rolls out."""
    room("The heron unfolds its wings", "Frames", "What it comes to")(page)
    page.get_by_role("link", name="Its set map").click()
    page.get_by_text("Roll Reed bank out").wait_for()


def plate(title: str, name: str, tab: str) -> Callable[[Any], None]:
    """A plate of a shot with one of the tables under the Frame."""

    def go(page: Any) -> None:
        page.get_by_role("link", name=title).click()
        page.get_by_role("button", name=re.compile(f"^{name}")).click()
        page.get_by_role("tab", name=tab, exact=True).click()

    return go


def lock_off(title: str, name: str, part: str, ready: str) -> Callable[[Any], None]:
    """A part of a shot's Lock-off, seen from one of its plates."""

    def go(page: Any) -> None:
        page.get_by_role("link", name=title).click()
        rooms = page.get_by_role("navigation", name="Rooms of the shot")
        rooms.get_by_role("link", name="Lock-off").click()
        parts = page.get_by_role("navigation", name="Tricks and plates")
        parts.get_by_role("button", name=re.compile(name)).click()
        parts.get_by_role("button", name=re.compile(part)).click()
        page.get_by_test_id(ready).wait_for()

    return go


def table(page: Any) -> None:
    """Pictures of the heron taken at the table, the one at which somebody leaned on it in hand."""
    room("The heron unfolds its wings", "Frames", "What it comes to")(page)
    page.get_by_role("link", name="Take its pictures").click()
    page.get_by_role("combobox", name="Camera").select_option(label="the simulated one")
    page.get_by_label("as planned").check()
    page.get_by_test_id("film").evaluate("(list) => list.scrollTo(0, 19 * 58)")
    page.get_by_role("button", name="Picture 23: strains").click()
    page.locator('[data-testid="said"][data-picture="23"]').wait_for()
    page.locator('[data-layer="outlines"] path').first.wait_for(state="attached")


def lens(page: Any) -> None:
    """The demo's widest lens, measured by its stills."""
    production_room("Kit", "Add a lens")(page)
    own = page.get_by_role("group", name="20 mm prime", exact=True)
    own.get_by_role("link", name="Measure it").click()
    page.get_by_text("corners of the board").nth(8).wait_for()
    page.get_by_label("White paper, for the corners").select_option("L20 white")
    page.get_by_role("button", name="Measure it").click()
    page.get_by_test_id("job-lens").wait_for()
    # Playwright holds this thread.
    with ThreadPoolExecutor(1) as pool:
        pool.submit(_work).result()
    page.get_by_test_id("lens-answer").wait_for()
    page.get_by_text("findings hold").click()


def card(page: Any) -> None:
    """The issued card of shot 3."""
    page.get_by_role("link", name="the twins argue").click()
    page.get_by_role("link", name=re.compile("^card 3A-1")).click()
    page.get_by_text("Lock off").wait_for()


def take(page: Any) -> None:
    """The logged take."""
    card(page)
    page.get_by_role("link", name=re.compile("what it costs")).click()
    page.get_by_role("region", name="Verdict").wait_for()


def board(page: Any) -> None:
    """The Board with its verdicts in."""
    page.get_by_text("Mend what breaks").first.wait_for()


def room(title: str, name: str, ready: str) -> Callable[[Any], None]:
    """A room of a shot."""

    def go(page: Any) -> None:
        page.get_by_role("link", name=title).click()
        rooms = page.get_by_role("navigation", name="Rooms of the shot")
        rooms.get_by_role("link", name=name).click()
        page.get_by_text(ready).first.wait_for()

    return go


def production_room(name: str, ready: str) -> Callable[[Any], None]:
    """A room of the production."""

    def go(page: Any) -> None:
        rooms = page.get_by_role("navigation", name="Rooms of the production")
        rooms.get_by_role("link", name=name).click()
        page.get_by_text(ready).first.wait_for()

    return go


def filmed(page: Any) -> None:
    """A cloth of shot 8, measured: its light as a map."""
    room("from the kitchen door", "Pictures", "What the file says")(page)
    page.get_by_role("button", name="Measure this frame").click()
    page.get_by_test_id("job-frame").wait_for()
    # Playwright holds this thread.
    with ThreadPoolExecutor(1) as pool:
        pool.submit(_work).result()
    page.get_by_test_id("cloth-map").wait_for()
    page.get_by_role("heading", name="S008 cloth").scroll_into_view_if_needed()


def together(page: Any) -> None:
    """What was filmed of shot 2 put together, beside the plan."""
    room("The tide mill, wide", "Pictures", "Put together")(page)
    page.get_by_role("link", name="Put together").click()
    page.get_by_role("button", name="Put this frame together").click()
    page.get_by_test_id("job-rough").wait_for()
    # Playwright holds this thread.
    with ThreadPoolExecutor(1) as pool:
        pool.submit(_work).result()
    page.get_by_test_id("answer").wait_for()
    page.get_by_text("findings hold").click()


def _work() -> None:
    """Do what waits to be done."""
    from django.db import connection

    from jungoptic.web.jobs.carry import carry_out
    from jungoptic.web.jobs.models import Job, State

    for job in Job.objects.filter(state=State.WAITING):
        carry_out(job.pk)
    connection.close()


def picked(page: Any) -> None:
    """The photograph of 1911, its edges traced."""
    room("The photograph of 1911", "Pictures", "The shot as a whole")(page)
    page.get_by_role("link", name="Where it was taken from").click()
    page.get_by_test_id("taken").wait_for()
    page.get_by_test_id("horizon").wait_for()


VIEWS: tuple[tuple[str, str, tuple[int, int], Callable[[Any], None]], ...] = (
    ("bench-breaks-paper", "paper", DESK, mill),
    ("bench-planner-paper", "paper", DESK, wheel),
    ("people-paper", "paper", DESK, production_room("People", "Nela")),
    ("dry-run-paper", "paper", DESK, dry_run),
    ("frames-paper", "paper", DESK, wings),
    ("board-paper", "paper", DESK, board),
    ("set-map-paper", "paper", DESK, marsh),
    (
        "lockoff-split-paper",
        "paper",
        DESK,
        lock_off("the twins argue", "Half B", "Split", "crossings"),
    ),
    ("pictures-dim", "dim", DESK, filmed),
    ("camera-paper", "paper", DESK, table),
    ("lens-paper", "paper", DESK, lens),
    ("method-paper", "paper", DESK, room("the twins argue", "Method", "What would change")),
    ("picked-paper", "paper", DESK, picked),
    ("sketches-paper", "paper", DESK, room("The heron flies", "Sketches", "Poplar is 7.400 m")),
    ("continuity-paper", "paper", DESK, production_room("Continuity", "Light side, place")),
    ("hours-paper", "paper", DESK, production_room("Hours and days", "Cautions of the day")),
    ("together-paper", "paper", DESK, together),
    ("card-phone-dim", "dim", PHONE, card),
    ("take-paper", "paper", DESK, take),
)


def main() -> int:
    """Take them all, or those that are named."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    wanted = [view for view in VIEWS if not sys.argv[1:] or view[0] in sys.argv[1:]]
    with database(), server() as address, chromium() as browser:
        if any(go is dry_run for *_, go in wanted):
            develop()
        for name, theme, (width, height), go in wanted:
            context = browser.new_context(
                viewport={"width": width, "height": height}, locale="en-GB"
            )
            page = context.new_page()
            page.add_init_script(f"localStorage.setItem('jungoptic.theme', '{theme}')")
            open_demo(page, address)
            go(page)
            page.wait_for_timeout(600)
            # Ways out that are still being tried are dim.
            page.locator("[aria-busy=true]").first.wait_for(state="detached")
            page.screenshot(path=FOLDER / f"{name}.png")
            context.close()
            print(f"docs/screenshots/{name}.png")
    return 0


if __name__ == "__main__":
    sys.exit(main())
