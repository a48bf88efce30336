"""`make demo-pictures`: develops the pictures that come with the demo again, films its clips and
takes its stills of a lens and the pictures of its animation; with `films`, `lens`, `pictures` or
`table` only those; with `changed` the pictures of shots whose plan has changed, with `missing`
films that are not there yet."""

from __future__ import annotations

import sys

from throwaway import database


def main() -> int:
    """Make them all, in a throw-away demo."""
    with database():
        from jungoptic.web.demo import films, lens_stills, pictures, table_frames
        from jungoptic.web.productions.models import Production

        production = Production.objects.get()
        wanted = set(sys.argv[1:]) or {"films", "lens", "pictures", "table"}
        if "lens" in wanted:
            lens_stills.make()
        if "table" in wanted:
            table_frames.make(production)
        if wanted & {"films", "missing"}:
            films.make(production, missing="missing" in wanted)
        if wanted & {"pictures", "changed"}:
            pictures.make(production, changed="pictures" not in wanted)
    return 0


if __name__ == "__main__":
    sys.exit(main())
