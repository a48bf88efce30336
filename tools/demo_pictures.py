"""`make demo-pictures`: develops the pictures that come with the demo again, and films its clips;
with `films` only those."""

from __future__ import annotations

import sys

from throwaway import database


def main() -> int:
    """Make them all, in a throw-away demo."""
    with database():
        from jungoptic.web.demo import films, pictures
        from jungoptic.web.productions.models import Production

        production = Production.objects.get()
        films.make(production)
        if "films" not in sys.argv:
            pictures.make(production)
    return 0


if __name__ == "__main__":
    sys.exit(main())
