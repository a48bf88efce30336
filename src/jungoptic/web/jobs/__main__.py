"""The process of one job, with a limit of memory: `python -m jungoptic.web.jobs ID BYTES`; with `-`
for the id, of those that it reads, one a line, until there are no more, and with `ready` behind
that, with the rendering engine loaded before the first."""

from __future__ import annotations

import os
import resource
import sys


def main() -> int:
    """Do what there is to do and end."""
    memory = int(sys.argv[2])
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jungoptic.web.settings")
    import django

    django.setup()
    from .carry import carry_out
    from .warm import READY

    if sys.argv[1] != "-":
        carry_out(sys.argv[1], aside=True)
        return 0
    # Others may wait for this machine meanwhile: the desk comes first.
    os.nice(10)
    if READY in sys.argv[3:]:
        from jungoptic.render.warming import ready

        ready()
    from django.db import close_old_connections

    for line in sys.stdin:
        close_old_connections()
        carry_out(line.strip(), aside=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
