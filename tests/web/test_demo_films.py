"""What the demo's crew has filmed: clips, one as planned, others not, and stills."""

from __future__ import annotations

from jungoptic.web.demo import films, load
from jungoptic.web.pictures.answers import told
from jungoptic.web.pictures.models import Picture


def test_its_clips_are_held_against_the_plan(db):
    assert load()
    found = {one["name"]: one for one in told(list(Picture.objects.prefetch_related("files")))}
    assert set(found) == {one.name for one in (*films.FILMS, *films.PHOTOS)}
    verdicts = {name: str(one["verdict"]) for name, one in found.items()}
    clips = {"K004 clean": "holds", "K004 hand": "breaks", "K003 rehearsal": "breaks"}
    clips["K007 first take"] = "strains"
    clips["K003 half A"] = "breaks"
    assert verdicts == {**clips, **{one.name: "None" for one in films.PHOTOS}}
    for film in films.FILMS:
        facts = found[film.name]["facts"]
        assert facts.frames == film.frames - len(film.lost)
        assert (facts.width_px, facts.height_px) == film.size
        # All over it, and those that something is said of.
        assert 12 <= len(found[film.name]["looks"]) <= 24
        assert found[film.name]["measured"]
