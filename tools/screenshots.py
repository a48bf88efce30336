"""`make screenshots`: takes the pictures of docs/screenshots/ again, from the demo data."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from typing import Any

from throwaway import ROOT, chromium, database, open_demo, server

FOLDER = ROOT / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def mill(page: Any) -> None:
    """The Bench with the plate that breaks."""
    page.get_by_role("link", name="The tide mill, wide").click()
    page.get_by_test_id("drawing-elevation").wait_for()


def mended(page: Any) -> None:
    """The same after its remedy, a stand-in selected, the working of a number open."""
    mill(page)
    page.locator('[data-finding="floor"]').get_by_role("button", name="Do this").first.click()
    page.get_by_role("button", name=re.compile(r"^Sluice bridge \d")).click()
    page.locator('[data-finding="depth"]').get_by_text("working").click()


def kit(page: Any) -> None:
    """The kit."""
    page.get_by_role("link", name="Kit", exact=True).click()
    page.get_by_role("button", name="Add a lens").wait_for()


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


VIEWS: tuple[tuple[str, str, tuple[int, int], Callable[[Any], None]], ...] = (
    ("bench-breaks-paper", "paper", DESK, mill),
    ("bench-mended-dim", "dim", DESK, mended),
    ("kit-paper", "paper", DESK, kit),
    ("card-phone-dim", "dim", PHONE, card),
    ("card-tablet-paper", "paper", (820, 1180), card),
    ("take-paper", "paper", DESK, take),
)


def main() -> int:
    """Take them all."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with database(), server() as address, chromium() as browser:
        for name, theme, (width, height), go in VIEWS:
            context = browser.new_context(
                viewport={"width": width, "height": height}, locale="en-GB"
            )
            page = context.new_page()
            page.add_init_script(f"localStorage.setItem('jungoptic.theme', '{theme}')")
            open_demo(page, address)
            go(page)
            page.wait_for_timeout(600)
            page.screenshot(path=FOLDER / f"{name}.png")
            context.close()
            print(f"docs/screenshots/{name}.png")
    return 0


if __name__ == "__main__":
    sys.exit(main())
