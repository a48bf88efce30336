"""The beat sheet of a shot: what happens at which frame in which plate, on set and on the screen,
with ramps, and sounds played from another device."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..checks_on_input import positive
from ..impossible import Impossible
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.plate import Plate
from ..plan.shot import Shot
from ..plan.tricks import Beat, RampKey
from ..stage.case import Case
from ..stage.derive import choose, derive
from ..stage.rates import slowed_by_rate

#: Speed of sound at 20 degrees C, m/s (ISO 9613-1 reference conditions; from memory).
SOUND_M_S = 343.2


@dataclass(frozen=True)
class BeatLine:
    """One beat: its frame in the story, and in its plate the recorded frame and the seconds on set
    after the clap. `error` frames against the beat it goes with, None where it stands alone."""

    beat_id: str
    name: str
    plate_id: str | None
    frame: int
    seconds: float
    recorded_frame: float
    set_s: float
    with_name: str
    error: int | None
    allowed: int
    holds: bool
    cue: bool


@dataclass(frozen=True)
class CueLine:
    """A sound cue of one plate: when the other device plays it after its own clap, and how fast it
    has to play so that lips or steps fit the rate recorded at."""

    beat_id: str
    name: str
    set_s: float
    speed: float


@dataclass(frozen=True)
class BeatSheet:
    """All beats in story order; by plate how much is recorded for the shot, and the cues."""

    beats: tuple[BeatLine, ...]
    cues: tuple[CueLine, ...]
    #: Plate id, frames recorded for the shot, seconds on set.
    recorded: tuple[tuple[str, float, float], ...]
    advice: tuple[str, ...]


def played_frames(
    frames: int,
    ramp: tuple[RampKey, ...],
    per_frame: float,
    story: Callable[[int], float] = lambda frame: 1.0,
) -> list[float]:
    """Recorded frames that have passed when each story frame (1..frames) is shown.

    Before the first key what was filmed plays so that the story runs at its own speed (`per_frame`
    recorded for each shown, times `story` of a frame where that speed changes); from a key on at
    that part of it. Raises Impossible for a speed that is not positive.
    """
    positive("recorded frames per shown frame", per_frame)
    for key in ramp:
        positive(f"speed at frame {key.frame}", key.speed)
    keys = sorted(ramp, key=lambda k: k.frame)
    found, gone = [], 0.0
    for frame in range(1, frames + 1):
        found.append(gone)
        speed = next((k.speed for k in reversed(keys) if k.frame <= frame), 1.0)
        gone += per_frame * speed * story(frame)
    return found


def rate_of(shot: Shot, plate: Plate) -> float:
    """Recorded frames for each shown one that lets the story run at its own speed: its capture rate
    over what gravity or the motor asks for, by the playback rate."""
    choice = choose(shot.kit, plate)
    if choice is None:
        return 1.0
    try:
        stage = derive(shot, plate, choice)
    except Impossible:
        return 1.0
    return stage.capture_fps / stage.needed_fps


def recorded_frames(shot: Shot, plate: Plate) -> list[float]:
    """Recorded frames of a plate that have passed when each frame of the shot is shown: what its
    ramp and the story's time ask for. Raises Impossible for a speed that is not positive."""
    per_frame = rate_of(shot, plate)
    return played_frames(shot.frames, plate.ramp, per_frame, _faster(shot, plate))


def _faster(shot: Shot, plate: Plate) -> Callable[[int], float]:
    """How much faster than at its slowest the story runs at a frame, where it was filmed so."""
    if shot.time.even or not slowed_by_rate(plate):
        return lambda frame: 1.0
    return lambda frame: shot.time.speed_at(frame) / shot.time.slowest


def capture_of(shot: Shot, plate: Plate) -> float:
    """The rate a plate is filmed at."""
    choice = choose(shot.kit, plate)
    if choice is None:
        return shot.delivery.fps
    try:
        return derive(shot, plate, choice).capture_fps
    except Impossible:
        return shot.delivery.fps


def beat_sheet(shot: Shot) -> BeatSheet | None:
    """The beat sheet; None without beats. A beat of a frame beyond the shot is kept, and told."""
    return shot.once("beats", lambda: _sheet(shot)) if shot.beats else None


def _sheet(shot: Shot) -> BeatSheet:
    by_id = {b.id: b for b in shot.beats}
    plates = {p.id: p for p in shot.plates}
    tables: dict[str, tuple[list[float], float]] = {}
    lines, cues = [], []
    last = max([shot.frames, *(b.frame for b in shot.beats)])
    for beat in sorted(shot.beats, key=lambda b: b.frame):
        plate = plates.get(beat.plate_id or "")
        recorded, capture = float(beat.frame - 1), shot.delivery.fps
        if plate is not None:
            if plate.id not in tables:
                tables[plate.id] = (
                    played_frames(last + 1, plate.ramp, rate_of(shot, plate), _faster(shot, plate)),
                    capture_of(shot, plate),
                )
            recorded, capture = tables[plate.id][0][beat.frame - 1], tables[plate.id][1]
        other = by_id.get(beat.with_id or "")
        error = (
            None if other is None or other.id == beat.id else beat.frame - (other.frame + beat.gap)
        )
        lines.append(
            BeatLine(
                beat.id,
                beat.name,
                None if plate is None else plate.id,
                beat.frame,
                (beat.frame - 1) / shot.delivery.fps,
                round(recorded + 1, 2),
                recorded / capture,
                "" if other is None else other.name,
                error,
                beat.allowed,
                (error is None or abs(error) <= beat.allowed) and beat.frame <= shot.frames,
                beat.cue,
            )
        )
        if beat.cue and plate is not None:
            table = tables[plate.id][0]
            shown = table[beat.frame] - table[beat.frame - 1]
            cues.append(
                CueLine(beat.id, beat.name, recorded / capture, capture / shot.delivery.fps / shown)
            )
    every = tuple(
        (pid, round(table[shot.frames - 1] + 1, 1), table[shot.frames - 1] / capture)
        for pid, (table, capture) in tables.items()
    )
    return BeatSheet(tuple(lines), tuple(cues), every, _advice(bool(cues), shot.delivery.fps))


def _advice(cues: bool, fps: float) -> tuple[str, ...]:
    if not cues:
        return ()
    return (
        "The sound plays from a device of its own, never from the camera; its first sound is a "
        "clap that the camera hears and sees.",
        "Clap once more at the end: two claps tell whether the two clocks drift.",
        f"Three metres of air delay the sound by {3.0 / SOUND_M_S * fps:.1f} frames: keep the "
        "device near the performer.",
    )


def judge_beats(case: Case) -> Finding | None:
    """Whether the beats of this plate come when they must; None without beats of its own."""
    sheet = beat_sheet(case.shot)
    if sheet is None:
        return None
    own = [b for b in sheet.beats if b.plate_id == case.plate.id]
    if not own:
        return None
    late = [b for b in own if not b.holds]
    if not late:
        tied = [b for b in own if b.error is not None]
        return Finding(
            "beats",
            "Timing",
            Verdict.HOLDS,
            f"{len(own)} {'beat' if len(own) == 1 else 'beats'}"
            + (f", {len(tied)} tied to other plates, all within what is allowed." if tied else "."),
        )
    worst = _worst(late)
    if worst.error is None or abs(worst.error) <= worst.allowed:
        words = f"{worst.name} comes at frame {worst.frame}, after the shot has ended."
    else:
        words = (
            f"{worst.name} comes {abs(worst.error)} frames too "
            f"{'late' if worst.error > 0 else 'early'} for {worst.with_name} ({worst.allowed} "
            "allowed)."
        )
    return Finding(
        key="beats",
        title="Timing",
        verdict=Verdict.BREAKS,
        sentence=words,
        workings=(
            Working(
                formula="error = frame − (frame of the other + gap)",
                inputs=(
                    Quantity("f", "its frame", float(worst.frame), ""),
                    Quantity("a", "allowed", float(worst.allowed), "frames"),
                ),
                result=Quantity("e", "error", float(worst.error or 0), "frames"),
                source="Arithmetic.",
            ),
        ),
    )


def _at(beat: Beat, frame: int) -> Beat:
    return replace(beat, frame=frame)


def _in_step(shot: Shot) -> tuple[Beat, ...]:
    """The beats with each that is off put where the one it goes with asks; beats that ask for one
    another in a ring end wherever they are then."""
    beats = {b.id: b for b in shot.beats}
    for _ in beats:
        for beat in list(beats.values()):
            other = beats.get(beat.with_id or "")
            if other is None or other.id == beat.id:
                continue
            to = other.frame + beat.gap
            if abs(beat.frame - to) > beat.allowed:
                beats[beat.id] = _at(beat, to)
    return tuple(beats.values())


def _broken(shot: Shot) -> set[str]:
    sheet = beat_sheet(shot)
    return set() if sheet is None else {b.beat_id for b in sheet.beats if not b.holds}


def _worst(late: list[BeatLine]) -> BeatLine:
    return max(late, key=lambda b: abs(b.error or 0))


def _ways(case: Case) -> list[Way]:
    """The late beat moved, what it goes with moved, or all put in step: none that leaves another
    beat worse."""
    shot, sheet = case.shot, beat_sheet(case.shot)
    late = [b for b in sheet.beats if b.plate_id == case.plate.id and not b.holds] if sheet else []
    if not late:
        return []
    worst = _worst(late)
    wrong = worst.error or 0
    beat = next(b for b in shot.beats if b.id == worst.beat_id)
    other = next((b for b in shot.beats if b.id == beat.with_id), None)
    tries = [_at(beat, min(beat.frame - wrong, shot.frames))]
    if other is not None and wrong:
        tries.append(_at(other, other.frame + wrong))
    found = []
    for one in tries:
        beats = tuple(one if b.id == one.id else b for b in shot.beats)
        was = next(b.frame for b in shot.beats if b.id == one.id)
        said = f"{abs(one.frame - was)} frames {'later' if one.frame > was else 'earlier'}"
        effect = f"{said} in its plate." if one.plate_id else f"{said}."
        found.append(_put(shot, beats, f"{one.name} at frame {one.frame}.", effect))
    together = _in_step(shot)
    words = ", ".join(f"{b.name} at {b.frame}" for b in together if b not in shot.beats)
    found.append(_put(shot, together, "Put all beats in step.", f"{words}.", last=True))
    return [way for way in found if way is not None]


def _put(
    shot: Shot, beats: tuple[Beat, ...], words: str, effect: str, last: bool = False
) -> Way | None:
    if beats == shot.beats or any(b.frame < 1 for b in beats):
        return None
    if _broken(replace(shot, beats=beats)) - _broken(shot):
        return None
    return Way(words, effect=effect, shot={"beats": beats}, last=last)


RULE = Rule(
    key="beats",
    title="Timing",
    name="timing",
    speak=judge_beats,
    ways=_ways,
    of_shot=True,
    otherwise="The beat on another frame, or another rate.",
)
