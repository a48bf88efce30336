"""Having a file read by a child process."""

from __future__ import annotations

import json
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

from .refusal import Refusal

SOURCE = Path(__file__).resolve().parents[3]
#: Seconds that a child may take, and that somebody waits for the one before to end.
LONGEST_S, QUEUE_S = 30.0, 60.0
#: One file at a time in every web process: several at once would take memory from everybody.
_ONE = threading.Semaphore(1)


class Busy(Exception):
    """Others' files are being read; asking again in a moment will do."""


def read(task: str, data: bytes, **options: Any) -> tuple[dict[str, Any], list[bytes]]:
    """What a file holds: facts, and blobs of bytes.

    Raises Refusal for a file that is refused, or that kills its reader; Busy when too many wait.
    """
    if not _ONE.acquire(timeout=QUEUE_S):
        raise Busy("Other files are being read just now; try again in a minute.")
    try:
        done = subprocess.run(
            [sys.executable, "-m", "jungoptic.web.reading", task, json.dumps(options)],
            input=data,
            capture_output=True,
            timeout=LONGEST_S,
            env={"PYTHONPATH": str(SOURCE), "LC_ALL": "C.UTF-8"},
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise Refusal("The file takes too long to read; make it smaller or export it again.") from (
            None
        )
    finally:
        _ONE.release()
    line, _, rest = done.stdout.partition(b"\n")
    if done.returncode != 0 or not line:
        raise Refusal("The file cannot be read: whatever opens it, breaks. Export it again.")
    told = json.loads(line)
    if "refused" in told["head"]:
        raise Refusal(told["head"]["refused"])
    blobs, at = [], 0
    for size in told["sizes"]:
        blobs.append(rest[at : at + size])
        at += size
    return told["head"], blobs
