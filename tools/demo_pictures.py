"""`make demo-pictures`: develops the pictures that come with the demo again."""

from __future__ import annotations

import sys

from throwaway import database


def main() -> int:
    """Make them all, in a throw-away demo."""
    with database():
        from jungoptic.web.demo import pictures
        from jungoptic.web.productions.models import Production

        pictures.make(Production.objects.get())
    return 0


if __name__ == "__main__":
    sys.exit(main())
