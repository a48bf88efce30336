"""`make bench`: measures side by side in one run and writes docs/benchmarks.md.

Ratios are what counts: seconds depend on the machine and on what else it does.
"""

from __future__ import annotations

import os
import sys
from datetime import date
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "src"), str(ROOT / "tools")]


def main() -> int:
    """Run both measurements on a throw-away database."""
    from cluster import Cluster

    cluster = Cluster("test", durable=False)
    os.environ.update(cluster.start().env())
    os.environ.update(
        JUNGOPTIC_DB_NAME="postgres",
        JUNGOPTIC_DEMO="1",
        DJANGO_SETTINGS_MODULE="jungoptic.web.settings",
        DJANGO_ALLOW_ASYNC_UNSAFE="1",
    )
    import django
    from django.test.utils import get_runner, setup_test_environment

    django.setup()
    setup_test_environment()
    runner = get_runner(django.conf.settings)(verbosity=0, interactive=False)
    # Left behind on purpose: stopping the cluster closes every connection, and the next run makes
    # the test database anew.
    runner.setup_databases()
    try:
        from . import dragging, recompute

        sections = [recompute.measure(), dragging.measure()]
    finally:
        cluster.stop()
    text = (
        "# Benchmarks\n\n"
        f"Written by `make bench` on {date.today().isoformat()}, "
        f"{os.cpu_count()} processors. Every figure of a table comes from the same run, the cases "
        "taken in turn, so that the ratios hold when the machine's speed drifts.\n\n"
        + "\n\n".join(sections)
        + "\n"
    )
    (ROOT / "docs" / "benchmarks.md").write_text(text)
    print(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
