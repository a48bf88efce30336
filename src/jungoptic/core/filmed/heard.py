"""What is heard in a clip against the beats of its plate: the clap, and where sounds begin."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..lockoff.beats import BeatLine, beat_sheet, capture_of
from ..pictures.heard import Heard
from ..pictures.ran import Ran
from ..plan.findings import Finding, Quantity, Verdict, Working, worst_first
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..words.sentences import listed
from .strayed import FRAME

#: A sound belongs to a beat from so much before it to so much after it, seconds (judgement).
NEAR_S = 0.5
#: Two clocks that part by less than this part of a frame from clap to clap run alike (judgement).
ALIKE_FRAMES = 0.5
#: At most so many are named in a sentence.
NAMED = 4
CLAP_KEY, CLAP_TITLE = "run-clap", "Clap"
BEAT_KEY, BEAT_TITLE = "run-beats", "Beats, by the clap"
SOURCE = (
    "A clap is a sharp sound: 20 dB above what was before within 12 ms, and 10 dB down again "
    "within 80 ms (judgement). It is told to some 2 ms (common practice)."
)


@dataclass(frozen=True)
class Clap:
    """A sharp sound that can have been the board: when it begins, seconds from the first picture,
    and the frame (from 1) that is shown then."""

    at_s: float
    frame: int


def claps_in(ran: Ran | None, fps: float | None) -> tuple[Clap, ...]:
    """All that can have been the board in a clip, in order; none where nobody listened."""
    if ran is None or ran.heard is None or not fps:
        return ()
    return tuple(Clap(one.at_s, frame_at(one.at_s, fps)) for one in ran.heard.as_sharp)


def judge_heard(
    shot: Shot, plate: Plate, ran: Ran, fps: float | None, begins: int | None = None
) -> list[Finding]:
    """What is heard in a clip of a plate that plays at `fps` frames a second; `begins`: the frame
    (from 1) in which somebody says that the shot begins. Nothing where it has no sound."""
    heard = ran.heard
    if heard is None or not fps:
        return []
    beats = _beats_of(shot, plate)
    found = [judge_clap(heard, fps, cued=any(line.cue for line in beats))]
    starts_s = _starts_s(heard, fps, begins)
    if beats and starts_s is not None:
        found.append(_judge_beats(shot, plate, ran, beats, fps, starts_s, begins is not None))
    return worst_first(found)


def frame_at(seconds: float, fps: float) -> int:
    """The frame (from 1) that is shown then."""
    return max(math.floor(seconds * fps + 1e-6) + 1, 1)


def _beats_of(shot: Shot, plate: Plate) -> list[BeatLine]:
    sheet = beat_sheet(shot)
    return [] if sheet is None else [one for one in sheet.beats if one.plate_id == plate.id]


def _starts_s(heard: Heard, fps: float, begins: int | None) -> float | None:
    """When the shot begins in the clip, seconds; None where nothing says so."""
    if begins is not None:
        return (begins - 1) / fps
    return heard.claps[0].at_s if heard.claps else None


def judge_clap(heard: Heard, fps: float, cued: bool) -> Finding:
    """Where the board was clapped. `cued`: sounds are played for this plate."""
    claps = heard.claps
    if not claps:
        if cued:
            said = (
                "No clap is heard in it, so nothing says where its cues fall: before the next take "
                "clap a board that camera and microphone hear."
            )
        else:
            said = "Nothing was found: no sharp sound is in it that could be a clap."
        return Finding(CLAP_KEY, CLAP_TITLE, Verdict.STRAINS if cued else Verdict.HOLDS, said)
    told = [f"{one.at_s:.3f} s in, at frame {frame_at(one.at_s, fps):,}" for one in claps]
    said = f"Clapped {' and again '.join(told)}."
    more = len(heard.as_sharp) - len(claps)
    if more > 0:
        said += (
            f" {more:,} more {'sound is' if more == 1 else 'sounds are'} as sharp: listen whether "
            "this was the board."
        )
    return Finding(
        CLAP_KEY,
        CLAP_TITLE,
        Verdict.HOLDS,
        said,
        tuple(
            Working(
                "where the sound begins to stand above what was before it",
                (
                    Quantity("n", FRAME, float(frame_at(one.at_s, fps)), ""),
                    Quantity("r", "frames a second", fps, ""),
                    Quantity("d", "louder than what was before", one.above_db, "dB"),
                ),
                Quantity("t", "seconds from the first picture", one.at_s, "s"),
                SOURCE,
            )
            for one in claps
        ),
    )


def _judge_beats(
    shot: Shot,
    plate: Plate,
    ran: Ran,
    beats: list[BeatLine],
    fps: float,
    starts_s: float,
    said: bool,
) -> Finding:
    """Where the beats of the sheet fall in the clip; of those that a sound is played for, whether
    one begins there."""
    heard = () if ran.heard is None else ran.heard.begin_s
    # Frames of the clip that a frame of the story takes, where nothing ramps.
    per_shown = capture_of(shot, plate) / shot.delivery.fps
    due = {one.beat_id: starts_s + (one.recorded_frame - 1.0) / fps for one in beats}
    frame = {one.beat_id: frame_at(due[one.beat_id], fps) for one in beats}
    inside = [one for one in beats if frame[one.beat_id] <= ran.frames]
    beyond = [one.name for one in beats if frame[one.beat_id] > ran.frames]
    silent: list[str] = []
    off: list[tuple[float, BeatLine]] = []
    for one in inside:
        if not one.cue:
            continue
        near = min(heard, key=lambda at: abs(at - due[one.beat_id]), default=math.inf)
        late_s = near - due[one.beat_id]
        if abs(late_s) > NEAR_S:
            silent.append(one.name)
        else:
            off.append((late_s * fps / per_shown, one))
    late = [(by, one) for by, one in off if round(abs(by)) > one.allowed]
    parts, verdict = [], Verdict.STRAINS if silent or beyond else Verdict.HOLDS
    if late:
        worst, line = max(late, key=lambda pair: abs(pair[0]))
        frames = round(abs(worst))
        parts.append(
            f"{line.name} is heard {frames:,} frame{'' if frames == 1 else 's'} "
            f"{'late' if worst > 0 else 'early'} ({line.allowed} allowed): start the device that "
            "plays it on the clap, or go again."
        )
        verdict = Verdict.BREAKS if frames > 2 * line.allowed + 1 else Verdict.STRAINS
    if silent:
        parts.append(f"Nothing is heard to begin at {listed(silent[:NAMED])}.")
    if off and not late:
        parts.append("What is played for it is heard where the sheet has it.")
    by = "By the frame in which the shot begins," if said else "By the clap,"
    falls = [f"{one.name} is at frame {frame[one.beat_id]:,}" for one in inside[:NAMED]]
    if len(inside) > NAMED:
        falls.append(f"{len(inside) - NAMED} more follow")
    if beyond:
        falls.append(f"it ends before {listed(beyond[:NAMED])}")
    parts.append(f"{by} {listed(falls)}.")
    return Finding(
        BEAT_KEY,
        BEAT_TITLE,
        verdict,
        " ".join(parts),
        tuple(_due(one, starts_s, due[one.beat_id], frame[one.beat_id]) for one in inside[:NAMED]),
    )


def _due(line: BeatLine, starts_s: float, due_s: float, frame: int) -> Working:
    return Working(
        "seconds = start + (recorded frame − 1) / rate",
        (
            Quantity("s", "the shot begins, seconds into the clip", starts_s, "s"),
            Quantity("f", f"{line.name}, recorded frame", line.recorded_frame, ""),
            Quantity("n", FRAME, float(frame), ""),
        ),
        Quantity("t", "seconds into the clip", due_s, "s"),
        "The beat sheet of the shot. Sound takes 3 ms for a metre (ISO 9613-1, from memory).",
    )


def judge_two(first: Heard | None, second: Heard | None, fps: float | None) -> Finding | None:
    """How two devices that heard the same claps lie to each other; None where not both did."""
    if first is None or second is None or not fps or not first.claps or not second.claps:
        return None
    one, two = first.claps, second.claps
    away_s = two[0].at_s - one[0].at_s
    frames = abs(away_s) * fps
    said = (
        "Their claps lie together: begin both files at once."
        if frames < ALIKE_FRAMES
        else f"The clap comes {abs(away_s):.3f} s ({frames:.1f} frames) "
        f"{'later' if away_s > 0 else 'earlier'} in the second: begin it as much "
        f"{'earlier' if away_s > 0 else 'later'} than the first."
    )
    verdict = Verdict.HOLDS
    workings = [
        Working(
            "clap of the second − clap of the first",
            (
                Quantity("a", "clap of the first", one[0].at_s, "s"),
                Quantity("b", "clap of the second", two[0].at_s, "s"),
            ),
            Quantity("Δ", "later in the second", away_s, "s"),
            SOURCE,
        )
    ]
    if len(one) == len(two) == 2:
        length = one[1].at_s - one[0].at_s
        drift = (two[1].at_s - two[0].at_s) - length
        if abs(drift) * fps < ALIKE_FRAMES:
            said += f" Over the {length:.1f} s to the second clap they run alike."
        elif abs(drift) > 0.01 * length:
            said += (
                " Their second claps are not the same: clap at the end of both, in the same take."
            )
        else:
            said += (
                f" Over the {length:.1f} s to the second clap the second "
                f"{'runs behind' if drift > 0 else 'runs ahead'} by {abs(drift) * fps:.1f} frames: "
                f"play it {abs(drift) / length:.3%} {'faster' if drift > 0 else 'slower'}."
            )
            verdict = Verdict.STRAINS
        workings.append(
            Working(
                "(d − b) − (c − a)",
                (
                    Quantity("c", "second clap of the first", one[1].at_s, "s"),
                    Quantity("d", "second clap of the second", two[1].at_s, "s"),
                ),
                Quantity("δ", "the clocks part by", drift, "s"),
                "Two claps tell whether two clocks drift (common practice).",
            )
        )
    return Finding("pair-claps", "Claps of both", verdict, said, tuple(workings))
