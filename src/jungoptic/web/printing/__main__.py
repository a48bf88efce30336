"""The child: HTML on its standard input, the PDF on its standard output."""

from __future__ import annotations

import resource
import sys

from .pages import document


def main() -> int:
    """Print one document and end."""
    memory, seconds = int(sys.argv[1]), int(sys.argv[2])
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 2))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    html = sys.stdin.buffer.read().decode()
    try:
        pdf = document(html).write_pdf()
    except MemoryError:
        return 1
    sys.stdout.buffer.write(pdf)
    sys.stdout.buffer.flush()
    return 0


if __name__ == "__main__":
    sys.exit(main())
