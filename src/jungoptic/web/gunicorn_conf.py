"""How gunicorn serves the application: the same for the demo and for a real server."""

from __future__ import annotations

import ctypes
import gc
import os
import signal
from typing import Any

workers = int(os.environ.get("JUNGOPTIC_WEB_WORKERS", "2"))
worker_class = "gthread"
# Loaded once, and shared by all workers.
preload_app = True
threads = 4
loglevel = "warning"
worker_tmp_dir = "/dev/shm"
# A worker is made anew now and then: whatever memory it has gathered goes with it.
max_requests = 5000
max_requests_jitter = 1000


def when_ready(server: Any) -> None:
    """What was loaded once stays: no worker looks through it for garbage, or copies it for that."""
    gc.collect()
    gc.freeze()


def post_fork(server: Any, worker: Any) -> None:
    """A master that was killed leaves no worker behind on its port (Linux).

    And the garbage of a worker is measured against its own: a full collection waits for a quarter
    as many new things as the last one found, which right after loading is hundreds of megabytes.
    """
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)
    gc.collect()
