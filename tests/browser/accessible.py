"""What a page has against people who hear it, use it by keys, or see little: asked of axe-core,
which checks the WCAG 2.2 (W3C, 2023) as far as a program can."""

from __future__ import annotations

from typing import Any

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

AXE = Axe()
THEME = "(theme) => { document.documentElement.dataset.theme = theme }"
VIOLATIONS = {"resultTypes": ["violations"]}


def barriers(page: Page, impacts: tuple[str, ...] = ()) -> list[tuple[str, list[str]]]:
    """Every rule that the page breaks (of those impacts; of any), and where: as it stands, and in
    the other theme as far as colours go, since nothing else is different there."""
    now = page.evaluate("document.documentElement.dataset.theme")
    found: list[dict[str, Any]] = AXE.run(page, options=VIOLATIONS).response["violations"]
    page.evaluate(THEME, "paper" if now == "dim" else "dim")
    colours = {**VIOLATIONS, "runOnly": ["color-contrast"]}
    found += AXE.run(page, options=colours).response["violations"]
    page.evaluate(THEME, now)
    return [
        (v["id"], [n["html"][:160] for n in v["nodes"][:3]])
        for v in found
        if not impacts or v["impact"] in impacts
    ]


def no_barriers(page: Page, where: str = "") -> None:
    """Nothing on the page keeps anybody out."""
    assert barriers(page) == [], where


def nothing_serious(page: Page, where: str = "") -> None:
    """Nothing on the page keeps anybody out for good."""
    assert barriers(page, ("serious", "critical")) == [], where
