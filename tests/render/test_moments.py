"""The moments of a shot filmed one after the other, what stands still only once."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.impossible import Impossible
from jungoptic.core.stage.case import Case
from jungoptic.render import dry_run
from jungoptic.render.dry_run import moments, run
from jungoptic.render.memory import Memory
from jungoptic.render.staged import staged

from .test_dry_run import PANEL, shot_of

pytestmark = pytest.mark.usefixtures("engine")
WIDE = 96


def moving(**changes):
    """Two plates; the near box goes to the right, the far one stands."""
    shot = shot_of(**changes)
    near, far = shot.stand_ins
    return replace(shot, stand_ins=(replace(near, speed_m_s=1.0, course_deg=90.0), far))


def scenes_looked_at(monkeypatch) -> list[str]:
    """The scenes that the engine is given from now on, by their keys."""
    looked: list[str] = []
    real = dry_run.Stage

    def stage(scene, *rest):
        looked.append(scene.key)
        return real(scene, *rest)

    monkeypatch.setattr(dry_run, "Stage", stage)
    return looked


def test_a_moment_is_the_picture_of_that_frame():
    shot = moving()
    frames = [1, shot.frames]
    for frame, (composite, story) in zip(frames, moments(shot, frames, WIDE), strict=True):
        part = (frame - 1) / max(shot.frames - 1, 1)
        alone = run(shot, part, composite.shape[1])
        assert composite.shape[0] % 2 == 0
        high = min(alone.story.shape[0], story.shape[0])
        # Clips have an even number of rows, which a picture need not: as near as that lets it be.
        apart = np.abs(alone.story[:high].astype(int) - story[:high].astype(int))
        assert np.median(apart) <= 3


def test_what_stands_still_is_filmed_once(monkeypatch):
    shot = moving()
    looked = scenes_looked_at(monkeypatch)
    list(moments(shot, [1, shot.frames // 2, shot.frames], WIDE))
    # The plate of the box that goes and the story three times, that of the other one once.
    assert len(looked) == 3 + 3 + 1
    assert len(set(looked)) == len(looked)


def test_grain_is_new_in_every_frame_and_light_is_not():
    shot = shot_of({"iso": 25_600.0}, {})
    one, two = (composite.astype(int) for composite, _ in moments(shot, [1, 2], WIDE))
    lit = one > 10
    assert (one != two)[lit].mean() > 0.03
    assert np.abs(one.mean() - two.mean()) < 0.5


def test_no_plate_with_a_camera_is_refused():
    with pytest.raises(Impossible, match="no plate"):
        list(moments(shot_of({"lens_id": None}, {"lens_id": None}), [1], WIDE))


def test_scenes_that_look_the_same_have_the_same_key():
    shot = shot_of()

    def key(plan):
        case = Case.of(plan, plan.plates[0])
        assert case is not None
        return staged(case).key

    assert key(shot) == key(shot_of())
    others = [
        shot_of({"lamps": (replace(PANEL, level=0.5),)}, {}),
        shot_of({"lamps": (replace(PANEL, z_m=2.3),)}, {}),
        replace(shot, world=replace(shot.world, height_m=1.5)),
        replace(shot, stand_ins=(replace(shot.stand_ins[0], width_m=1.1), shot.stand_ins[1])),
        replace(shot, stand_ins=shot.stand_ins[1:]),
    ]
    keys = [key(shot), *map(key, others)]
    assert len(set(keys)) == len(keys)


def test_what_is_new_takes_the_place_of_what_was():
    memory, made = Memory(), []

    def at(place, key):
        return memory.of(place, key, lambda: made.append((place, key)) or len(made))

    assert [at("a", 1), at("a", 1), at("b", 1), at("a", 2), at("a", 1)] == [1, 1, 2, 3, 4]
    assert made == [("a", 1), ("b", 1), ("a", 2), ("a", 1)]
