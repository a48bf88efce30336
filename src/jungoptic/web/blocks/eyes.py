"""Having pictures looked at by a process beside this one: it stays, so that an answer comes while
hands are still at the table. See `jungoptic.devices.eye`."""

from __future__ import annotations

import atexit
import contextlib
import json
import os
import pickle
import select
import struct
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any

from ..reading.child import Busy

SOURCE = Path(__file__).resolve().parents[3]
#: Seconds that a question may take, that somebody waits for those before, and until it has ended.
LONGEST_S, QUEUE_S, PATIENCE_S = 30.0, 20.0, 5.0
Answer = tuple[dict[str, Any], list[bytes]]


class Unseen(Exception):
    """What was shown cannot be looked at; its sentence says why."""


class Eye:
    """One such process, started when it is first needed, and again when it has ended."""

    def __init__(self) -> None:
        self._child: subprocess.Popen[bytes] | None = None
        self._lock = threading.Lock()

    def ask(self, what: str, *arguments: Any) -> Answer:
        """Its answer to a question. Raises Unseen for what it refuses or what kills it, Busy where
        too many ask."""
        if not self._lock.acquire(timeout=QUEUE_S):
            raise Busy("Other pictures are being looked at just now; try again in a moment.")
        try:
            head, blobs = self._asked(pickle.dumps((what, arguments)))
        finally:
            self._lock.release()
        if "refused" in head:
            told = str(head["refused"])
            raise Unseen(told[:1].upper() + told[1:])
        if "failed" in head:
            raise RuntimeError(f"the eye failed: {what}")
        return head, blobs

    def _asked(self, question: bytes) -> Answer:
        child = self._there()
        assert child.stdin is not None
        try:
            child.stdin.write(struct.pack(">I", len(question)) + question)
            child.stdin.flush()
            until = time.monotonic() + LONGEST_S
            line = json.loads(self._read(struct.unpack(">I", self._read(4, until))[0], until))
            return line["head"], [self._read(size, until) for size in line["sizes"]]
        except (OSError, EOFError, TimeoutError) as error:
            self._end(kill=True)
            raise Unseen(
                "This picture cannot be read: whatever opens it, breaks or takes too long."
            ) from error

    def _there(self) -> subprocess.Popen[bytes]:
        if self._child is not None and self._child.poll() is not None:
            self._end()
        if self._child is None:
            # One thread: the pictures are small, and threads take memory.
            alone = {f"{name}_NUM_THREADS": "1" for name in ("OMP", "OPENBLAS")}
            self._child = subprocess.Popen(
                [sys.executable, "-W", "ignore", "-m", "jungoptic.devices.eye"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                bufsize=0,
                env={"PYTHONPATH": str(SOURCE), "LC_ALL": "C.UTF-8", **alone},
            )
        return self._child

    def _read(self, size: int, until: float) -> bytes:
        assert self._child is not None
        assert self._child.stdout is not None
        pipe, found = self._child.stdout.fileno(), bytearray()
        while len(found) < size:
            left = until - time.monotonic()
            if left <= 0.0 or not select.select([pipe], [], [], left)[0]:
                raise TimeoutError
            piece = os.read(pipe, min(size - len(found), 1 << 20))
            if not piece:
                raise EOFError
            found += piece
        return bytes(found)

    def _end(self, kill: bool = False) -> None:
        child, self._child = self._child, None
        if child is None:
            return
        if kill:
            child.kill()
        for pipe in (child.stdin, child.stdout):
            if pipe is not None:
                with contextlib.suppress(OSError):
                    pipe.close()
        try:
            child.wait(timeout=PATIENCE_S)
        except subprocess.TimeoutExpired:
            child.kill()
            child.wait()

    def close(self) -> None:
        """Let it go; the next question starts it again."""
        with self._lock:
            self._end()


EYE = Eye()
atexit.register(EYE.close)
