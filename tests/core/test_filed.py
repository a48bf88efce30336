"""A file against the plan of its plate."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jungoptic.core.filmed.file import judge_file, judge_typed, readings_of
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.plan.findings import Finding, Verdict
from jungoptic.core.plan.plate import Plate
from jungoptic.core.stage.case import Case

from .any_shot import any_shots
from .examples import ANSA, MILL, shot

#: As the mode 4K of the cinema body records: 8 bits and 4:2:0 are its defaults.
GOOD = Facts(
    "clip",
    "h264",
    4096,
    2160,
    bit_depth=8,
    subsampling="4:2:0",
    frames=500,
    fps=24.0,
    uneven=0.0,
    key_every=1,
)


def found(plate: Plate = ANSA, **changes: Any) -> dict[str, Finding]:
    return {f.key: f for f in judge_file(shot(), plate, replace(GOOD, **changes))}


def test_a_file_as_planned_holds_in_everything() -> None:
    every = found()
    assert {f.verdict for f in every.values()} == {Verdict.HOLDS}
    wanted = {"file-size", "file-bits", "file-chroma", "file-groups", "file-length", "file-even"}
    assert set(every) == wanted


@pytest.mark.parametrize(
    ("changes", "key", "verdict", "words"),
    [
        ({"width_px": 1920, "height_px": 1012}, "file-size", Verdict.BREAKS, "for the 1,920"),
        ({"width_px": 3840, "height_px": 2024}, "file-size", Verdict.STRAINS, "still 3,"),
        ({"width_px": 4096, "height_px": 3000}, "file-size", Verdict.STRAINS, "another shape"),
        ({"width_px": 2160, "height_px": 4096}, "file-size", Verdict.BREAKS, "on its side"),
        ({"used_bits": 8, "bit_depth": 10}, "file-bits", Verdict.HOLDS, "8 bits"),
        ({"key_every": 12}, "file-groups", Verdict.STRAINS, "One frame in 12"),
        ({"frames": 20}, "file-length", Verdict.BREAKS, "20 frames for a shot of"),
        ({"uneven": 0.3}, "file-even", Verdict.STRAINS, "30 % of a frame"),
        ({"uneven": 1.0}, "file-even", Verdict.BREAKS, "jump where one is missing"),
        ({"interlaced": True}, "file-fields", Verdict.BREAKS, "Record progressive"),
    ],
)
def test_what_departs_is_said(
    changes: dict[str, Any], key: str, verdict: Verdict, words: str
) -> None:
    finding = found(**changes)[key]
    assert finding.verdict is verdict
    assert words in finding.sentence


def test_a_plate_in_which_nothing_moves_can_be_held() -> None:
    # The figure acts where it stands; a mill does not.
    assert found(frames=20)["file-length"].verdict is Verdict.BREAKS
    assert found(MILL, frames=20)["file-length"].verdict is Verdict.STRAINS
    moves = tuple(replace(s, speed_m_s=0.4) if s.id == "bridge" else s for s in shot().stand_ins)
    one = judge_file(replace(shot(), stand_ins=moves), MILL, replace(GOOD, frames=20))
    assert next(f for f in one if f.key == "file-length").verdict is Verdict.BREAKS
    # A clean plate shows nothing of its own: a few frames of it do.
    nobody = replace(ANSA, id="clean")
    assert "file-length" not in {f.key for f in judge_file(shot(), nobody, GOOD)}


def _deep() -> Plate:
    """A plate of a mode with 10 bits and 4:2:2."""
    return replace(ANSA, mode_id="deep")


def test_fewer_bits_and_samples_than_planned() -> None:
    one = shot()
    body = one.kit.bodies[0]
    deep = replace(body.modes[0], id="deep", bit_depth=10, subsampling="4:2:2")
    kit = replace(one.kit, bodies=(replace(body, modes=(*body.modes, deep)),))
    every = {f.key: f for f in judge_file(replace(one, kit=kit), _deep(), GOOD)}
    assert every["file-bits"].verdict is Verdict.STRAINS
    assert "8 bits, 10 planned" in every["file-bits"].sentence
    # 4096 across for 1920: 4:2:0 still has a sample for every delivered pixel.
    assert every["file-chroma"].verdict is Verdict.HOLDS
    small = replace(GOOD, width_px=1024, height_px=540)
    assert {f.key: f.verdict for f in judge_file(replace(one, kit=kit), _deep(), small)}[
        "file-chroma"
    ] is Verdict.BREAKS
    inside = replace(GOOD, bit_depth=10, used_bits=8, subsampling="4:2:2")
    told = {f.key: f for f in judge_file(replace(one, kit=kit), _deep(), inside)}["file-bits"]
    assert "8 bits in a file of 10" in told.sentence


def test_a_camera_that_slows_down_by_itself_cannot_be_told_from_one_left_at_24() -> None:
    fast = replace(MILL, motion="gravity", scale=4.0)
    case = Case.of(shot(), fast)
    assert case is not None
    planned = case.stage.capture_fps
    assert planned == pytest.approx(24 * 4**0.5, rel=0.01)
    one = {f.key: f for f in judge_file(shot(), fast, GOOD)}["file-rate"]
    assert one.verdict is Verdict.STRAINS
    assert "cannot tell" in one.sentence
    # So it fills no reading; a rate that is neither does, and is judged as a typed one.
    assert "capture_fps" not in readings_of(GOOD, planned, 24.0)
    assert readings_of(replace(GOOD, fps=60.0), planned, 24.0)["capture_fps"] == 60.0
    assert readings_of(GOOD, 24.0, 24.0)["capture_fps"] == 24.0
    # 24 for 23.976 is another rate, and said.
    assert readings_of(GOOD, 24000 / 1001, 24000 / 1001)["capture_fps"] == 24.0


def test_what_a_photograph_says_becomes_readings() -> None:
    still = Facts("still", "JPEG", 6000, 4000, focal_mm=28.0, f_number=5.6, iso=400.0)
    assert readings_of(still, 24.0, 24.0) == {"focal_mm": 28.0, "f_number": 5.6, "iso": 400.0}
    # A photograph on a plate that rolls is no recording of it.
    assert judge_file(shot(), ANSA, still) == []
    puppet = replace(ANSA, kind="puppet")
    assert {f.key for f in judge_file(shot(), puppet, still)} == {"file-size"}


def test_a_sequence_that_leaves_numbers_out() -> None:
    one = {f.key: f for f in judge_file(shot(), ANSA, _sequence())}
    assert one["file-numbers"].verdict is Verdict.STRAINS
    assert "7, 9, 11, 12, 13 and 1 more" in one["file-numbers"].sentence
    assert one["file-remark-0"].sentence == "The ISO changes at A_0042.JPG: lock it on the camera."


def _sequence() -> Facts:
    return Facts(
        "sequence",
        "JPEG",
        4096,
        2160,
        frames=60,
        missing=(7, 9, 11, 12, 13, 14),
        remarks=("The ISO changes at A_0042.JPG: lock it on the camera.",),
    )


def test_what_was_typed_against_what_the_file_says() -> None:
    typed = {"f_number": 4.0, "focal_mm": 28.0, "iso": 800.0, "exposure_s": 1 / 48, "iso_": None}
    told = {"f_number": 5.6, "focal_mm": 28.0, "iso": 800.0, "exposure_s": 1 / 50}
    (one,) = judge_typed(typed, told)
    assert one.sentence == "f/4 was read off, the file says f/5.6: one of them is wrong."
    # A ring is read between its marks, and cameras round: f/2.83 is f/2.8.
    assert judge_typed({"f_number": 2.8}, {"f_number": 2.83}) == []


SIZES = st.integers(8, 16_384)


@st.composite
def any_facts(draw: st.DrawFn) -> Facts:
    return Facts(
        draw(st.sampled_from(["still", "clip", "sequence"])),
        "codec",
        draw(SIZES),
        draw(SIZES),
        bit_depth=draw(st.none() | st.integers(1, 16)),
        used_bits=draw(st.none() | st.integers(8, 12)),
        subsampling=draw(st.sampled_from(["", "4:0:0", "4:1:1", "4:2:0", "4:2:2", "4:4:4"])),
        frames=draw(st.integers(1, 400_000)),
        fps=draw(st.none() | st.floats(0.01, 1000)),
        uneven=draw(st.none() | st.floats(0, 100)),
        key_every=draw(st.none() | st.integers(1, 1000)),
        interlaced=draw(st.booleans()),
    )


@settings(max_examples=60, deadline=None)
@given(any_shots(), any_facts())
def test_any_file_against_any_plan_gets_sentences(one: Any, facts: Facts) -> None:
    for plate in one.plates:
        try:
            every = judge_file(one, plate, facts)
        except Impossible:
            continue
        assert len({f.key for f in every}) == len(every)
        for finding in every:
            assert finding.sentence.endswith(".")
            assert "nan" not in finding.sentence
            assert "inf" not in finding.sentence
        ranks = [f.verdict.rank for f in every]
        assert ranks == sorted(ranks, reverse=True)


@settings(max_examples=40, deadline=None)
@given(any_shots(), st.integers(2, 8))
def test_more_of_anything_is_never_worse(one: Any, times: int) -> None:
    for plate in one.plates:
        few = {f.key: f for f in judge_file(one, plate, replace(GOOD, frames=12))}
        many = {f.key: f for f in judge_file(one, plate, replace(GOOD, frames=12 * times))}
        if "file-length" in few:
            assert many["file-length"].verdict.rank <= few["file-length"].verdict.rank
