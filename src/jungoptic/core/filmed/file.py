"""A file that a plate's camera wrote, against the plan: what a person would find out in post.

What it says of lens, stop, time and rate becomes readings of the take, which are judged as typed
ones are; this judges what no tape can read.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from ..judging.recording import pitch_working
from ..pictures.facts import Facts
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot
from ..screens.codecs import CHROMA_STEP, PITCH_HOLDS, PITCH_STRAINS, chroma_pitch_px
from ..stage.case import Case
from ..words import quantities as say

#: Two rates closer than this are the same rate: clocks of cameras are better by far.
SAME_RATE = 5e-4
#: A gap between frames this much longer than usual was a frame that never came; less is a clock
#: that runs unevenly, and below the first nobody sees it (judgement).
UNEVEN_HOLDS, UNEVEN_STRAINS = 0.1, 0.5
#: Shapes of picture further apart than this are different cut-outs of the sensor.
SAME_SHAPE = 0.01
#: A camera that stands turned by this much on its side.
ON_ITS_SIDE = (90, 270)


def readings_of(facts: Facts, planned_fps: float, played_fps: float) -> dict[str, float]:
    """What a file tells of the readings of its take, by their names. The rate of a clip counts
    where it can be trusted: a camera that slows down by itself writes the rate of playing, so that
    a file which plays at `played_fps` says nothing of a plate filmed at another."""
    found = facts.readings
    if (
        facts.kind == "clip"
        and facts.fps is not None
        and not _slowed(facts, planned_fps, played_fps)
    ):
        found["capture_fps"] = facts.fps
    return found


def _same(a: float, b: float) -> bool:
    return abs(a - b) <= SAME_RATE * b


def _slowed(facts: Facts, planned_fps: float, played_fps: float) -> bool:
    return (
        facts.fps is not None
        and _same(facts.fps, played_fps)
        and not _same(planned_fps, played_fps)
    )


#: How each reading is called and said, and how far apart two of it may lie and be the same: cameras
#: round what they write, and rings are read between their marks.
READ: dict[str, tuple[str, Callable[[float], str], float]] = {
    "focal_mm": ("Focal length", lambda v: f"{v:.4g} mm", 0.02),
    "f_number": ("Stop", say.stop, 0.06),
    "exposure_s": ("Exposure time", say.shutter, 0.06),
    "iso": ("ISO", lambda v: f"{v:g}", 0.02),
    "capture_fps": ("Rate", say.rate, SAME_RATE),
}


def judge_typed(typed: Mapping[str, float | None], told: Mapping[str, float]) -> list[Finding]:
    """Readings that somebody typed, by their names, against what the file says: one of them is
    wrong, and nobody but the crew knows which."""
    found = []
    for name, (word, said, apart) in READ.items():
        mine, files = typed.get(name), told.get(name)
        if mine is None or files is None or abs(mine - files) <= apart * files:
            continue
        sentence = f"{said(mine)} was read off, the file says {said(files)}: one of them is wrong."
        found.append(Finding(f"file-typed-{name}", word, Verdict.STRAINS, sentence))
    return found


def judge_file(shot: Shot, plate: Plate, facts: Facts) -> list[Finding]:
    """What a file says against the plan of its plate, worst first; of a plate without body, mode
    and lens only what needs none of them. Raises Impossible for a plan that cannot be."""
    case = Case.of(shot, plate)
    found = [_evenness(facts), _fields(facts), _numbers(facts), *_locked(facts)]
    if case is not None:
        # A photograph on a plate that rolls is no recording of it.
        if facts.kind != "still" or plate.kind in TIMELESS:
            found += [_size(case, facts), _depth(case, facts), _chroma(case, facts)]
        found += [
            _groups(case, facts),
            _rate(case, facts),
            _length(case, facts),
        ]
    return worst_first([one for one in found if one is not None])


def recorded_across(case: Case, wide: float) -> float:
    """Pixels across the delivered view of a picture of the plate's camera that is `wide` across."""
    return case.stage.pixels_across * wide / case.choice.mode.width_px


def across_px(shot: Shot, case: Case | None) -> float:
    """Delivered pixels that a picture of a plate's camera is wide, whatever it counts itself; those
    of the delivery where the plate has no body, mode and lens."""
    delivered = float(shot.delivery.width_px)
    return delivered if case is None else delivered / recorded_across(case, 1.0)


def _size(case: Case, facts: Facts) -> Finding:
    mode, delivered = case.choice.mode, case.shot.delivery.width_px
    told = f"{facts.width_px:,} x {facts.height_px:,} pixels"
    planned = f"{mode.width_px:,} x {mode.height_px:,}"
    across = recorded_across(case, facts.width_px)
    verdict, sentence = Verdict.HOLDS, f"{told}, as planned."
    if (facts.width_px > facts.height_px) != (mode.width_px > mode.height_px):
        lies = case.plate.on_side
        verdict = Verdict.STRAINS if lies else Verdict.BREAKS
        sentence = (
            f"{told}, as a camera on its side writes it: turn it by 90° "
            f"{'anticlockwise' if lies == 'left' else 'clockwise'} before anything is laid over it "
            "or measured in it."
            if lies
            else f"{told}: filmed on its side, where {mode.name} is {planned}."
        )
    elif (facts.width_px, facts.height_px) != (mode.width_px, mode.height_px):
        shape = facts.width_px / facts.height_px / (mode.width_px / mode.height_px) - 1.0
        if across < delivered:
            verdict = Verdict.BREAKS
            sentence = (
                f"{told}, not {planned}: {across:,.0f} of them for the {delivered:,} delivered."
            )
        elif abs(shape) > SAME_SHAPE:
            verdict = Verdict.STRAINS
            sentence = (
                f"{told}, not {planned}: another shape, so another part of the sensor; the lens "
                "may have seen another angle. Compare what is in frame."
            )
        else:
            verdict = Verdict.STRAINS
            sentence = f"{told}, not {planned} as planned; still {across:,.0f} for {delivered:,}."
    return Finding(
        "file-size",
        "Size of the picture",
        verdict,
        sentence,
        (
            Working(
                "recorded across the delivered view · file / mode",
                (
                    Quantity(
                        "R", "planned across the delivered view", case.stage.pixels_across, "px"
                    ),
                    Quantity("F", "file", float(facts.width_px), "px"),
                    Quantity("M", "mode", float(mode.width_px), "px"),
                ),
                Quantity("r", "recorded across the delivered view", across, "px"),
                "Common practice: a picture is never blown up in post.",
            ),
        ),
    )


def _depth(case: Case, facts: Facts) -> Finding | None:
    """Bits: those that carry anything."""
    bits = facts.used_bits or facts.bit_depth
    if bits is None:
        return None
    planned = case.choice.mode.bit_depth
    if bits >= planned:
        return Finding("file-bits", "Bits", Verdict.HOLDS, f"{bits} bits, {planned} planned.")
    inside = f" in a file of {facts.bit_depth}" if facts.used_bits else ""
    after = (
        " Light the screen evenly and grade after keying."
        if case.plate.kind == "screen"
        else " Strong grading will show steps in skies and walls."
    )
    return Finding(
        "file-bits",
        "Bits",
        Verdict.STRAINS,
        f"{bits} bits{inside}, {planned} planned: another recording mode was on.{after}",
    )


def _chroma(case: Case, facts: Facts) -> Finding | None:
    """Chroma samples. What was lost in recording cannot be had back; it matters where colour cuts
    the edge."""
    planned, delivered = case.choice.mode.subsampling, float(case.shot.delivery.width_px)
    if facts.subsampling not in CHROMA_STEP or planned not in CHROMA_STEP:
        return None
    steps, wanted = CHROMA_STEP[facts.subsampling], CHROMA_STEP[planned]
    if steps == wanted:
        told = f"{facts.subsampling}, as planned."
        return Finding("file-chroma", "Colour samples", Verdict.HOLDS, told)
    coarser = any(a > b for a, b in zip(steps, wanted, strict=True))
    across = recorded_across(case, facts.width_px)
    pitch = max(chroma_pitch_px(facts.subsampling, across, delivered))
    verdict = Verdict.STRAINS if coarser else Verdict.HOLDS
    after = "." if coarser else ": finer."
    if case.plate.kind == "screen" and coarser:
        verdict = banded(pitch, PITCH_HOLDS, PITCH_STRAINS)
        fine = "edges stay as fine as the picture" if verdict is Verdict.HOLDS else "fine hair goes"
        after = f": a colour sample in {pitch:.1f} delivered pixels, {fine}."
    return Finding(
        "file-chroma",
        "Colour samples",
        verdict,
        f"{facts.subsampling}, not {planned} as planned{after}",
        (pitch_working(facts.subsampling, delivered, across, pitch),),
    )


def _groups(case: Case, facts: Facts) -> Finding | None:
    """Frames told by their neighbours, where the plan has each stand alone."""
    if facts.kind != "clip" or facts.key_every is None:
        return None
    if facts.key_every == 1:
        return Finding("file-groups", "Frames", Verdict.HOLDS, "Every frame stands alone.")
    planned = case.choice.mode.long_gop
    told = f"One frame in {facts.key_every} stands alone"
    return Finding(
        "file-groups",
        "Frames",
        Verdict.HOLDS if planned else Verdict.STRAINS,
        f"{told}, as the mode does."
        if planned
        else f"{told}; in {case.choice.mode.name} all do: another recording mode was on, and fast "
        "movement and noise are kept worse.",
    )


def _rate(case: Case, facts: Facts) -> Finding | None:
    """Only what the reading of the rate cannot say: see `readings_of`."""
    planned, played = case.stage.capture_fps, case.shot.delivery.fps
    if facts.kind != "clip" or facts.fps is None or case.plate.kind in TIMELESS:
        return None
    if not _slowed(facts, planned, played):
        return None
    return Finding(
        "file-rate",
        "Rate of the file",
        Verdict.STRAINS,
        f"The file plays at {say.rate(facts.fps)}, the plan films at {say.rate(planned)}. A camera "
        "that slows down by itself writes it so; if it was left at "
        f"{say.rate(played)}, go again. The file cannot tell.",
    )


def _length(case: Case, facts: Facts) -> Finding | None:
    """Enough frames for the shot: one filmed is one delivered, whatever the rate. A clean plate
    shows nothing of its own, and a few frames of it do."""
    if facts.kind != "clip" or case.plate.kind in TIMELESS or not case.own:
        return None
    wanted, there = case.shot.frames, facts.frames
    if there >= wanted:
        return Finding(
            "file-length",
            "Length",
            Verdict.HOLDS,
            f"{there:,} frames for a shot of {wanted:,}.",
        )
    # People act where they stand.
    moving = not case.motion.still or any(s.kind == "figure" for s in case.own)
    return Finding(
        "file-length",
        "Length",
        Verdict.BREAKS if moving else Verdict.STRAINS,
        f"{there:,} frames for a shot of {wanted:,}: "
        + (
            "the action ends before the shot does."
            if moving
            else "nothing moves in it, so it can be held or run again."
        ),
    )


def _evenness(facts: Facts) -> Finding | None:
    if facts.kind != "clip" or facts.uneven is None:
        return None
    off = facts.uneven
    if off <= UNEVEN_HOLDS:
        return Finding("file-even", "Frame times", Verdict.HOLDS, "Frames come evenly.")
    return Finding(
        "file-even",
        "Frame times",
        Verdict.STRAINS if off <= UNEVEN_STRAINS else Verdict.BREAKS,
        "Frames do not come evenly: one comes "
        + (f"{off:.1f} frames" if off > UNEVEN_STRAINS else f"{say.percent(off)} of a frame")
        + " late or early. "
        + (
            "Movement will jump where one is missing, and sound and other plates drift. "
            if off > UNEVEN_STRAINS
            else ""
        )
        + "Record at a constant rate, with an application that can lock it.",
        (
            Working(
                "largest |time between two frames − usual time| / usual time",
                (Quantity("f", "frames a second on the average", facts.fps or 0.0, ""),),
                Quantity("u", "departure", off, ""),
                "Times of frames as the file has them; the limits are judgement.",
            ),
        ),
    )


def _fields(facts: Facts) -> Finding | None:
    if not facts.interlaced:
        return None
    return Finding(
        "file-fields",
        "Fields",
        Verdict.BREAKS,
        "The clip is interlaced: each frame holds two moments, line by line, and no edge of "
        "anything that moves can be cut. Record progressive.",
    )


def _numbers(facts: Facts) -> Finding | None:
    """Numbers that a sequence leaves out."""
    if facts.kind != "sequence":
        return None
    if not facts.missing:
        told = f"{facts.frames:,} pictures, no number left out."
        return Finding("file-numbers", "Numbers", Verdict.HOLDS, told)
    some = ", ".join(str(n) for n in facts.missing[:5])
    more = f" and {len(facts.missing) - 5} more" if len(facts.missing) > 5 else ""
    return Finding(
        "file-numbers",
        "Numbers",
        Verdict.STRAINS,
        f"The numbers leave out {some}{more}: taken out on purpose, or not copied?",
    )


def _locked(facts: Facts) -> list[Finding]:
    """What the camera changed on the way, in the words of whoever read it."""
    return [
        Finding(f"file-remark-{n}", "On the way", Verdict.STRAINS, remark)
        for n, remark in enumerate(facts.remarks)
    ]
