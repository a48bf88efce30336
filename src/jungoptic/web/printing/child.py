"""Having a document printed by a child process."""

from __future__ import annotations

import subprocess
import sys
import threading
from dataclasses import dataclass
from pathlib import Path

from ..reading.child import Busy

SOURCE = Path(__file__).resolve().parents[3]
#: Two documents at a time in every process, and so long somebody waits for a turn, seconds.
_TWO, QUEUE_S = threading.Semaphore(2), 20.0


@dataclass(frozen=True)
class Limit:
    """What a document may take: bytes of memory, seconds of processor time."""

    memory: int
    seconds: int


#: A page or a few, while somebody waits; a book, made behind the scenes.
PAGE, BOOK = Limit(1 << 30, 30), Limit(3 << 30, 900)


class TooLarge(Exception):
    """A document took more than it may; the text is for a person."""


def pdf(html: str, limit: Limit = PAGE) -> bytes:
    """The PDF bytes of a document; pictures must lie in it as data addresses.

    Raises TooLarge where it takes more memory or time than it may, Busy when too many wait.
    """
    if not _TWO.acquire(timeout=QUEUE_S):
        raise Busy("Other pages are being printed just now; try again in a moment.")
    try:
        done = subprocess.run(
            [
                *(sys.executable, "-W", "ignore", "-m", "jungoptic.web.printing"),
                *(str(limit.memory), str(limit.seconds)),
            ],
            input=html.encode(),
            capture_output=True,
            timeout=3 * limit.seconds,
            env={"PYTHONPATH": str(SOURCE), "LC_ALL": "C.UTF-8"},
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise TooLarge("These pages take too long to print; print fewer of them.") from None
    finally:
        _TWO.release()
    if done.returncode != 0 or not done.stdout.startswith(b"%PDF"):
        raise TooLarge("These pages take more than may be printed at once; print fewer of them.")
    return done.stdout
