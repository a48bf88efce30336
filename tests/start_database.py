"""Starts the tests' own PostgreSQL cluster before Django reads its settings.

Loaded with `-p` (see pyproject.toml), so a bare `pytest` works too.
"""

from __future__ import annotations

import atexit
import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "tools"))

from cluster import Cluster

if "JUNGOPTIC_DB_PORT" not in os.environ:
    _cluster = Cluster("test", durable=False)
    os.environ.update(_cluster.start().env())
    atexit.register(_cluster.stop)
os.environ.setdefault("JUNGOPTIC_DEMO", "1")
# The browser driver's event loop runs in the same thread as the database calls of a test.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")
