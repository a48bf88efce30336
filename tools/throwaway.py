"""A throw-away demo for benchmarks and pictures: test cluster, demo data, server, Chromium."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "src"), str(ROOT / "tools")]


@contextmanager
def database() -> Iterator[None]:
    """The demo production in a database that the next run makes anew."""
    from cluster import Cluster

    cluster = Cluster("test", durable=False)
    files = tempfile.TemporaryDirectory()
    os.environ.update(cluster.start().env())
    os.environ.update(
        JUNGOPTIC_DB_NAME="postgres",
        JUNGOPTIC_DEMO="1",
        # A server of its own finds the files there too.
        JUNGOPTIC_DATA_DIR=files.name,
        DJANGO_SETTINGS_MODULE="jungoptic.web.settings",
        # The browser driver's event loop runs in the thread that also asks the database.
        DJANGO_ALLOW_ASYNC_UNSAFE="1",
    )
    import django
    from django.conf import settings
    from django.test.utils import get_runner, setup_test_environment

    try:
        django.setup()
        setup_test_environment()
        # Left behind on purpose: stopping the cluster closes every connection.
        get_runner(settings)(verbosity=0, interactive=False).setup_databases()
        from jungoptic.web.demo import load

        load()
        yield
    finally:
        cluster.stop()
        files.cleanup()


@contextmanager
def server() -> Iterator[str]:
    """The address of a live server on the database of this process."""
    from django.contrib.staticfiles.handlers import StaticFilesHandler
    from django.test.testcases import LiveServerThread

    thread = LiveServerThread("127.0.0.1", StaticFilesHandler, connections_override={})
    thread.daemon = True
    thread.start()
    thread.is_ready.wait()
    try:
        yield f"http://127.0.0.1:{thread.port}"
    finally:
        thread.terminate()


@contextmanager
def demo_server() -> Iterator[str]:
    """The address of the demo's own web server (gunicorn), as `make demo` runs it, on the database
    of this process: for timing, since it shares no lock with what drives the browser."""
    import serve
    from django.db import connection

    door = serve.hold(0)
    name = str(connection.settings_dict["NAME"])
    env = {**os.environ, "JUNGOPTIC_DB_NAME": name, "PYTHONPATH": str(ROOT / "src")}
    family = serve.Family(env)
    try:
        family.start("web server", *serve.web_server(door.fileno()), keep=(door.fileno(),))
        address = f"http://127.0.0.1:{door.getsockname()[1]}"
        serve.wait_until_answering(address, family)
        yield address
    finally:
        family.stop()
        door.close()


@contextmanager
def chromium() -> Iterator[Any]:
    """Debian's Chromium, headless."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--no-sandbox", "--disable-gpu", "--disable-quic"],
        )
        yield browser
        browser.close()


def open_demo(page: Any, address: str) -> None:
    """Sign in to the demo and open its shots."""
    page.goto(address)
    page.get_by_role("button", name="Open the demo production").click()
    page.get_by_text("Shots in story order").wait_for()
