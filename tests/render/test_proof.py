"""A small fixed sample of `make proof`, and that a wrong factor in the core does not pass it."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from dataclasses import replace

import pytest

from jungoptic.core import exposure, haze, optics, thin_lens
from jungoptic.core.camera import Camera
from jungoptic.core.lighting import sources, stage_light
from proof import geometry, lights, lines, rolling
from proof.__main__ import measured
from proof.plans import random_case
from proof.reading import RULES, Reading, table

pytestmark = pytest.mark.usefixtures("engine")
#: Plans that between them let every rule be measured.
SAMPLE = (1, 5, 9)


@pytest.fixture(scope="module")
def readings() -> list[Reading]:
    """Everything measured of the sample."""
    return [reading for plan in SAMPLE for reading in measured(plan)]


@pytest.mark.parametrize("rule", RULES, ids=lambda rule: rule.key)
def test_the_picture_shows_what_the_core_predicts(rule, readings):
    own = [r for r in readings if r.rule == rule]
    assert own, f"the sample does not measure {rule.name}"
    assert [r for r in own if not r.good] == []


def test_the_table_names_what_breaks(readings):
    worst = replace(readings[0], measured=readings[0].predicted + 9.0)
    assert "**breaks**" in table([*readings, worst])
    assert "**breaks**" not in table(readings)


def times(factor):
    """A function whose number comes out wrong by a factor."""
    return lambda right: lambda *a, **k: right(*a, **k) * factor


def wider(right):
    def depth(*a, **k):
        found = right(*a, **k)
        return replace(found, near_m=found.near_m * 0.97)

    return depth


#: What is made wrong, how, and which measurement has to notice.
WRONG = (
    (Camera, "project", times(1.001), geometry.places, "place"),
    (thin_lens, "blur_disc", times(1.05), geometry.blurs, "disc"),
    (optics, "depth_of_field", wider, geometry.blurs, "sharp"),
    (geometry, "smear_ratio", times(1.12), geometry.smears, "smear"),
    (rolling, "lean_deg", times(1.12), rolling.leans, "lean"),
    (sources, "_on_axis_cd", times(1.06), lights.meters, "lux"),
    (exposure, "illuminance_lux", times(1.1), lights.meters, "grey"),
    (stage_light, "shadow_length_m", times(1.08), lights.shadows, "shadow"),
    (stage_light, "_penumbra", times(1.08), lights.shadows, "edge"),
    (sources, "_beam_power", times(1.5), lights.meters, "fall-off"),
    (haze, "extinction_per_m", times(1.2), lines.airs, "haze"),
    (lines, "wire_px", times(1.15), lines.threads, "thread"),
    (lines, "left_of", times(1.15), lines.threads, "faint"),
)


@pytest.fixture
def nothing_kept() -> Iterator[None]:
    """What the core has worked out before is forgotten, and what it works out here too."""
    kept = [
        function
        for name, module in sys.modules.items()
        if name.startswith("jungoptic.core.")
        for function in vars(module).values()
        if hasattr(function, "cache_clear")
    ]
    for function in kept:
        function.cache_clear()
    yield
    for function in kept:
        function.cache_clear()


@pytest.mark.parametrize(
    ("where", "name", "spoil", "measure", "key"), WRONG, ids=[x[1] for x in WRONG]
)
def test_a_wrong_factor_is_found(monkeypatch, nothing_kept, where, name, spoil, measure, key):
    monkeypatch.setattr(where, name, spoil(getattr(where, name)))
    found = [r for plan in SAMPLE for r in measure(plan, random_case(plan))]
    assert any(r.rule.key.endswith(key) and not r.good for r in found)
