"""What the demo's crew has filmed: clips, one as planned, others not, and stills."""

from __future__ import annotations

import pytest

from jungoptic.core.board.lens import measured
from jungoptic.web.demo import films, lens_stills, load, picked
from jungoptic.web.pictures.answers import told
from jungoptic.web.pictures.models import Picture
from jungoptic.web.takes.files import board


def test_its_clips_are_held_against_the_plan(db):
    assert load()
    pictures = list(Picture.objects.prefetch_related("files"))
    found = {one["name"]: one for one in told(pictures, {})}
    stills = lens_stills.names()
    names = {one.name for one in (*films.FILMS, *films.PHOTOS)} | set(stills)
    assert set(found) == names | {picked.OLD}
    verdicts = {name: str(one["verdict"]) for name, one in found.items()}
    clips = {"K004 clean": "holds", "K004 hand": "breaks", "K003 rehearsal": "breaks"}
    clips["K007 first take"] = "strains"
    clips["K003 half A"] = "breaks"
    clips["S001 sea wall"] = "strains"
    assert verdicts == {
        **clips,
        **dict.fromkeys([*(one.name for one in films.PHOTOS), *stills, picked.OLD], "None"),
        # Its marks say that it stood as planned.
        picked.MARKED: "holds",
        # And its balls that the key comes from where the story wants it.
        picked.BALLED: "holds",
    }
    for film in films.FILMS:
        facts = found[film.name]["facts"]
        assert facts.frames == film.frames - len(film.lost)
        assert (facts.width_px, facts.height_px) == film.size
        # All over it, and those that something is said of.
        assert 12 <= len(found[film.name]["looks"]) <= 24
        assert found[film.name]["measured"]
    # The lens that was filmed is found in its stills again.
    of_lens = Picture.objects.filter(lens__name=lens_stills.LENS).order_by("created_at")
    boards = [board(one) for one in of_lens]
    assert [one is None for one in boards] == [False] * 9 + [True]
    really = lens_stills.REALLY
    lens = measured([one.found for one in boards if one is not None], really.sensor_width_mm, 20.0)
    assert lens.pinhole_mm == pytest.approx(really.pinhole_mm, rel=0.004)
    assert lens.k1 == pytest.approx(really.k1, abs=0.015)
