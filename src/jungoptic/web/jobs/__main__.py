"""The process of one job, with a limit of memory: `python -m jungoptic.web.jobs ID BYTES`."""

from __future__ import annotations

import os
import resource
import sys


def main() -> int:
    """Do one job and end."""
    memory = int(sys.argv[2])
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jungoptic.web.settings")
    import django

    django.setup()
    from .carry import carry_out

    carry_out(sys.argv[1], aside=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
