"""The real interface in Debian's Chromium, against the live server with the demo production."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from django.core.cache import caches
from django.db import connection
from playwright.sync_api import Browser, BrowserContext, Locator, Page, TimeoutError, expect

from jungoptic.web.accounts.api import DEMO_USER
from jungoptic.web.accounts.models import User
from jungoptic.web.plans.models import Shot
from tests.conftest import Api
from tests.kept_demo import lay_demo

#: A machine that does other work beside these tests may be slow; none is waited for longer than it
#: takes.
expect.set_options(timeout=30_000)
ROOT = Path(__file__).resolve().parents[2]
#: Long work has a process of its own, and on a busy machine takes many times what it takes on a
#: quiet one.
LONG_MS = 180_000


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What fails in a browser is tried once more; what then passes is listed as unsteady, to be
    mended next (see `tests/conftest.py`)."""
    for item in items:
        if "tests/browser/" in item.nodeid:
            item.add_marker(pytest.mark.flaky(reruns=1))


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    """Debian's browser; nothing is downloaded."""
    return {
        **browser_type_launch_args,
        "executable_path": "/usr/bin/chromium",
        "args": [
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            # A camera that shows a moving test picture, and may be used.
            "--use-fake-device-for-media-stream",
            "--use-fake-ui-for-media-stream",
        ],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    """The desk's size."""
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def one_context(
    browser: Browser,
    browser_context_args: dict[str, Any],
    live_server: Any,
    django_db_setup: None,
) -> Iterator[BrowserContext]:
    """One for all tests of a process: scripts are fetched and compiled once. It goes, with all its
    connections, before the server and the database do."""
    context = browser.new_context(**browser_context_args)
    yield context
    context.close()
    browser.close()


#: What a page may leave behind on a device.
LEFT_BEHIND = "local_storage,indexeddb,cache_storage,service_workers,file_systems"


@pytest.fixture
def context(one_context: BrowserContext, live_server: Any) -> Iterator[BrowserContext]:
    """As new: of what the tests before did nothing is left but the scripts in its cache."""
    yield one_context
    for page in one_context.pages:
        page.close()
    one_context.unroute_all()
    one_context.set_offline(False)
    one_context.clear_permissions()
    one_context.clear_cookies()
    page = one_context.new_page()
    told = {"origin": live_server.url, "storageTypes": LEFT_BEHIND}
    one_context.new_cdp_session(page).send("Storage.clearDataForOrigin", told)
    page.close()


#: What a browser says of what our own policy keeps from the page.
POLICY = "Content Security Policy"


@pytest.fixture
def desk(page: Page, live_server: Any) -> Page:
    """Signed in to the demo, on the list of productions. Fails the test when the page throws, any
    answer is a server error, or our policy keeps something from it."""
    lay_demo(judged=True)
    wrong: list[str] = []
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on("console", lambda said: wrong.append(said.text) if POLICY in said.text else None)
    page.on(
        "response",
        lambda r: wrong.append(f"{r.status} {r.url}") if r.status >= 500 else None,
    )
    page.set_default_timeout(60_000)
    enter(page.context, live_server.url)
    page.goto(live_server.url)
    page.get_by_role("heading", name="Productions").wait_for()
    yield page
    assert wrong == []


def enter(context: BrowserContext, url: str) -> None:
    """Sign in as the demo's supervisor, who has just shown the password. The sign-in page has tests
    of its own."""
    session = Api(User.objects.get(username=DEMO_USER)).client.session
    context.add_cookies([{"name": "sessionid", "value": session.session_key or "", "url": url}])


@pytest.fixture
def worker(live_server: Any, settings: Any) -> Iterator[None]:
    """Whoever does long work, in a process of its own as it is in earnest."""
    env = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
        "PYTHONPATH": str(ROOT / "src"),
        "JUNGOPTIC_DB_NAME": connection.settings_dict["NAME"],
        "JUNGOPTIC_DATA_DIR": str(Path(settings.MEDIA_ROOT).parent),
    }
    command = (sys.executable, "-W", "ignore", "-m", "django", "procrastinate", "worker")
    child = subprocess.Popen(command, env=env, stdin=subprocess.DEVNULL, start_new_session=True)
    yield
    # With what it has begun: nobody waits for work that a test has left behind.
    os.killpg(child.pid, signal.SIGKILL)
    child.wait()


@pytest.fixture
def mill(desk: Page) -> Page:
    """The Bench of shot 2, where the miniature breaks."""
    open_shot(desk, "The tide mill, wide")
    return desk


def follow(page: Page, link: Locator) -> None:
    """Go where a link leads. Rows of the Board grow while verdicts come in: one that moved from
    under the pointer between press and release is pressed again, as a person would."""
    address = link.get_attribute("href")
    link.click()
    try:
        page.wait_for_url(f"**{address}", timeout=5_000)
    except TimeoutError:
        link.click()
        page.wait_for_url(f"**{address}")


@pytest.fixture(autouse=True)
def no_tries_yet(live_server: Any) -> None:
    """Nobody has tried to enter from this address: what is counted in the database outlives a
    test."""
    caches["shared"].clear()


def open_shot(page: Page, title: str) -> None:
    """A shot's Bench, by its address. The way over the Board has tests of its own."""
    shot = Shot.objects.get(title__contains=title)
    at = urlsplit(page.url)
    page.goto(f"{at.scheme}://{at.netloc}/productions/{shot.production_id}/shots/{shot.pk}")
    page.get_by_test_id("drawing-elevation").wait_for()


def plate_button(page: Page, name: str) -> Locator:
    """The plate of that name in the list beside the picture."""
    return page.get_by_role("button", name=re.compile(f"^{name}"))


def until(page: Page, expression: str, arg: Any = None, timeout: float = LONG_MS) -> None:
    """Wait until that is true in the page. Playwright's own way asks first by the debugger and then
    by `eval` in the page, which our policy keeps from it: it works where nothing has to be waited
    for."""
    end = time.monotonic() + timeout / 1000
    while not page.evaluate(expression, arg):
        if time.monotonic() > end:
            pytest.fail(f"it did not come about: {expression}")
        page.wait_for_timeout(50)


def saved(page: Page) -> None:
    """Wait until everything is on the server: what was done last has been painted, so that the
    mark does not still speak of what was saved before it."""
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => setTimeout(done)))")
    expect(page.get_by_test_id("saved-mark")).to_have_text("Saved")


def add_puppet(desk: Page) -> None:
    """A plate of a puppet with a figure in it, on the Bench of an empty shot."""
    desk.get_by_label("Add a plate").select_option("puppet")
    plate_button(desk, "Puppet").wait_for()
    desk.get_by_label("Add a stand-in").select_option("figure")
    desk.get_by_role("button", name=re.compile(r"^Figure \d")).wait_for()
    saved(desk)


def first_shot(desk: Page) -> None:
    """A new production with a body and a lens, and the Bench of its first, empty shot."""
    desk.get_by_label("A new production").fill("Second film")
    desk.get_by_role("button", name="Make it").click()
    desk.get_by_text("No shots yet").wait_for()
    desk.get_by_role("link", name="Kit", exact=True).click()
    desk.get_by_role("button", name="Add a body").click()
    desk.get_by_role("button", name="17.3 mm wide").click()
    desk.get_by_text("17.3 mm wide, 3840 × 2160").first.wait_for()
    desk.get_by_role("button", name="Add a lens").click()
    # A zoom: the shortest that is typed over a prime's is all there is of it.
    for at, text in enumerate(("14 mm", "35 mm")):
        focal = desk.get_by_label("Focal length").nth(at)
        focal.fill(text)
        focal.press("Enter")
    saved(desk)
    desk.get_by_role("link", name="Second film").click()
    desk.get_by_label("What we see").fill("A tower at dusk")
    desk.get_by_role("button", name="Add the shot").click()
    desk.get_by_role("link", name="A tower at dusk").click()
