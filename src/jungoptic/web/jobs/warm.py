"""A process that does one job after another: what takes long to load is loaded once."""

from __future__ import annotations

import contextlib
import os
import subprocess
import sys
from pathlib import Path
from threading import Lock

from django.db import connection

from ..config import CONFIG

SOURCE = Path(__file__).resolve().parents[3]


def environment() -> dict[str, str]:
    """What a process of ours is told: the database at hand, which a test's is not by its
    settings."""
    # What the rendering engine compiles is kept with the rest of our data.
    compiled = CONFIG.data_dir / "engine"
    compiled.mkdir(parents=True, exist_ok=True)
    return {
        "DRJIT_CACHE_DIR": str(compiled),
        **os.environ,
        "PYTHONPATH": str(SOURCE),
        "JUNGOPTIC_DB_NAME": str(connection.settings_dict["NAME"]),
    }


def command(what: str, memory: int, *ready: str) -> list[str]:
    """How the process is started that does the job `what`, or with `-` those it reads, having made
    `ready` what pictures are developed with."""
    return [sys.executable, "-W", "ignore", "-m", "jungoptic.web.jobs", what, str(memory), *ready]


#: What a process is told that is to make that ready first.
READY = "ready"


#: Bytes of memory that a process may hold when it is given the next job.
LARGEST = 1 << 30
#: Seconds that one may take to end.
PATIENCE_S = 5.0


def resident(pid: int) -> int:
    """Bytes of memory that a process holds; 0 for one that is gone."""
    try:
        pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    except (OSError, IndexError, ValueError):
        return 0
    return pages * os.sysconf("SC_PAGE_SIZE")


class Hand:
    """One such process, started when it is first needed, again after it has been ended, and anew
    once it holds more memory than it should."""

    def __init__(self) -> None:
        self._child: subprocess.Popen[bytes] | None = None
        self._lock = Lock()

    def begin(self, memory: int) -> None:
        """Start it before there is a job, so that what takes long to load is there by then."""
        with self._lock:
            self._started(memory, READY)

    def _started(self, memory: int, *ready: str) -> subprocess.Popen[bytes]:
        self._child = subprocess.Popen(
            command("-", memory, *ready), env=environment(), stdin=subprocess.PIPE
        )
        return self._child

    def give(self, job_id: str, memory: int) -> subprocess.Popen[bytes]:
        """Hand it a job; the process that does it."""
        with self._lock:
            child = self._child
            if child is not None and (child.poll() is not None or resident(child.pid) > LARGEST):
                _let_go(child)
                child = None
            if child is None:
                child = self._started(memory)
            assert child.stdin is not None
            child.stdin.write(f"{job_id}\n".encode())
            child.stdin.flush()
            return child


def _let_go(child: subprocess.Popen[bytes]) -> None:
    """A process that waits for a job, or is gone: it ends when there is nothing more to read."""
    assert child.stdin is not None
    with contextlib.suppress(BrokenPipeError):
        child.stdin.close()
    try:
        child.wait(timeout=PATIENCE_S)
    except subprocess.TimeoutExpired:
        child.kill()
        child.wait()


HAND = Hand()
