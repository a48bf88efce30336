"""A place of a plate pixel for pixel: a cut of the picture that the whole recording would be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jungoptic.core.stage.case import Case
from jungoptic.render.closely import FRAMES, NO_RATE, Kept, closely, kept_of
from jungoptic.render.picture import MIRRORED, develop
from proof.plans import random_case

pytestmark = pytest.mark.usefixtures("engine")
WIDE = 192


def small(flop: bool = False, mbps: float | None = 24.0) -> Case:
    """A plan whose recording has few pixels, so that all of it can be looked at."""
    case = random_case(3)
    kit = case.shot.kit
    told = {"width_px": WIDE, "height_px": 108, "bitrate_mbps": mbps}
    bodies = tuple(replace(b, modes=tuple(replace(m, **told) for m in b.modes)) for b in kit.bodies)
    # Bright enough that grain does not hide what is compared.
    plate = replace(case.plate, flop=flop, iso=100.0, lamps=())
    shot = replace(case.shot, kit=replace(kit, bodies=bodies))
    plates = tuple(plate if p.id == plate.id else p for p in shot.plates)
    found = Case.of(replace(shot, plates=plates), plate)
    assert found is not None
    return found


def first(frames, kept):
    return next(frames)


def look(case, at, size, card=first):
    return closely(case.shot, case.plate, at, card, size=size)


def close_to(one, two) -> bool:
    both = (one.astype(float), two.astype(float))
    return float(np.abs(both[0] - both[1]).mean()) < 4.0


@pytest.mark.parametrize("flop", [False, True])
def test_a_cut_is_that_part_of_the_whole(flop):
    case = small(flop)
    wide = round(WIDE * case.stage.crop_across)
    whole = develop(case.shot, case.plate, width=wide).pixels
    high = whole.shape[0]
    cut = look(case, (0.25, 0.75), (48, 24)).pixels
    left, top = round(0.25 * wide) - 24, round(0.75 * high) - 12
    assert cut.shape == (24, 48, 3)
    assert close_to(cut, whole[top : top + 24, left : left + 48])
    # At its edge it is moved in, never beyond.
    corner = look(case, (0.0, 0.0), (48, 24)).pixels
    assert close_to(corner, whole[:24, :48])


def test_what_is_mirrored_is_looked_at_where_post_has_it():
    found = look(small(True), (0.5, 0.5), (32, 16))
    assert MIRRORED in found.remarks


def test_the_card_hears_of_frames_alike_and_of_what_its_mode_keeps():
    heard = []

    def card(frames, kept):
        seen = list(frames)
        heard.append((seen, kept))
        return seen[-1]

    case = small()
    found = look(case, (0.5, 0.5), (48, 24), card)
    ((seen, kept),) = heard
    assert len(seen) == FRAMES
    assert not (seen[0] == seen[1]).all()
    mode = case.choice.mode
    assert (kept.bits, kept.samples, kept.long_gop) == (
        mode.bit_depth,
        mode.subsampling,
        mode.long_gop,
    )
    # A megabit a second and frame, by the part of its pixels that is looked at.
    share = 48 * 24 / (mode.width_px * mode.height_px)
    assert kept.bits_a_frame == pytest.approx(24e6 / case.stage.capture_fps * share)
    assert found.pixels.shape == (24, 48, 3)


def test_a_bit_rate_that_is_not_known_is_said():
    found = look(small(mbps=None), (0.5, 0.5), (32, 16))
    assert NO_RATE in found.remarks


def test_twice_the_rate_is_half_the_bits_of_a_frame():
    mode = small().choice.mode
    one, two = (kept_of(mode, fps, 1000) for fps in (24.0, 48.0))
    assert isinstance(one, Kept)
    assert isinstance(two, Kept)
    assert one.bits_a_frame == pytest.approx(2.0 * two.bits_a_frame)
