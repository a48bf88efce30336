"""The child: takes a file from its standard input, and gives back what is in it.

What it writes: one line of JSON (`head`, and the sizes of what follows), then the bytes.
"""

from __future__ import annotations

import json
import resource
import sys
from collections.abc import Callable
from typing import Any

from .refusal import Refusal

#: Bytes of memory that reading may take; what needs more is refused.
MEMORY = {"picture": 1 << 30, "edit-list": 1 << 30}
#: Seconds of processor time.
SECONDS = 20

Read = tuple[dict[str, Any], list[bytes]]


def _picture(data: bytes, _: dict[str, Any]) -> Read:
    from .picture import read

    found = read(data)
    head = {"suffix": found.suffix, "width_px": found.width_px, "height_px": found.height_px}
    return head, [found.data, found.thumb]


def _edit_list(data: bytes, options: dict[str, Any]) -> Read:
    from .edit_list import read

    clips, notes = read(options["name"], data, options["fps"])
    return {"clips": [vars(c) for c in clips], "notes": notes}, []


TASKS: dict[str, Callable[[bytes, dict[str, Any]], Read]] = {
    "picture": _picture,
    "edit-list": _edit_list,
}


def main() -> int:
    """Read one file and end."""
    task, options = sys.argv[1], json.loads(sys.argv[2])
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY[task], MEMORY[task]))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS + 2))
    # It has nothing to write anywhere.
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    blobs: list[bytes] = []
    try:
        head, blobs = TASKS[task](sys.stdin.buffer.read(), options)
    except Refusal as refusal:
        head = {"refused": refusal.sentence}
    except (MemoryError, RecursionError):
        head = {"refused": "The file takes more memory to read than it may; make it smaller."}
    out = sys.stdout.buffer
    line = json.dumps({"head": head, "sizes": [len(b) for b in blobs]})
    out.write(line.encode() + b"\n" + b"".join(blobs))
    out.flush()
    return 0


if __name__ == "__main__":
    sys.exit(main())
