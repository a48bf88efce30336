"""A clip frame by frame, against its plate: what nobody sees on a small screen and everybody in the
cut."""

from __future__ import annotations

from collections.abc import Iterable

from ..lockoff.clean import frames_for, is_clean, noise_gain
from ..pictures.ran import Ran
from ..plan.findings import Finding, Quantity, Verdict, Working, banded, worst_first
from ..plan.mirrored import placed_for
from ..plan.plate import TIMELESS, Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..words import quantities as say
from ..words.sentences import listed
from .heard import judge_heard
from .limits import LIGHT_HOLDS, LIGHT_STRAINS
from .stands import judge_stands
from .steady import judge_steady
from .strayed import FRAME, judge_strayed
from .turned import judge_spin, judge_turn

#: A frame that stands out by less nobody sees, and by less the light can be evened out in post
#: (judgement).
SWING_HOLDS, SWING_STRAINS = 1.0, 12.0
#: The same of a pulse, to each side: it lies over everything, all the time (judgement).
PULSE_HOLDS, PULSE_STRAINS = 0.4, 6.0
#: Frames taken twice, of all: that much post can draw anew (judgement).
DOUBLES_STRAIN = 0.02
#: Frames that must stand still for a clean plate to be taken from them (judgement).
CALM_HOLDS_S, CALM_FRAMES = 1.0, 8
#: Frames laid over each other as they came make a sharp picture where the camera strayed by less
#: than this part of the width, and a median means something of more frames than these (judgement).
LIES, FEW_FRAMES = 0.001, 4
#: Mains, and how well a period must agree with what they make of a rate.
MAINS_HZ, AGREES = (50.0, 60.0), 0.04
#: The thirds of a picture.
THIRDS = ("left", "middle", "right")
SOURCE = "Brightness of 32 x 18 places of every frame, by their middle; the limits are judgement."


def judge_ran(
    shot: Shot,
    plate: Plate,
    ran: Ran,
    fps: float | None,
    carried: bool = False,
    begins: int | None = None,
) -> list[Finding]:
    """What a clip of a plate that came at `fps` frames a second says frame by frame, worst first.
    `carried`: its sheet has the camera move though the story's stands; `begins`: the frame (from 1)
    in which somebody says that the shot begins. Raises Impossible for a plan
    that cannot be."""
    case = Case.of(shot, plate)
    story = shot
    # What post places is filmed by a camera that stands, whatever the story's does.
    shot = placed_for(shot, plate)
    locked = shot.move.stands and not carried
    found: list[Finding | None] = []
    if locked:
        found += [*_lights(plate, ran, fps), judge_stands(shot, case, plate, ran)]
    else:
        found.append(judge_steady(shot, case, ran))
    if plate.kind not in TIMELESS:
        found.append(_doubles(ran))
    if is_clean(plate) and locked:
        found.append(_clean(ran, fps))
    if locked:
        found += judge_strayed(shot, plate, case, ran)
        found += [judge_turn(plate, ran), judge_spin(plate, ran, fps)]
    found += judge_heard(story, plate, ran, fps, begins)
    return worst_first([one for one in found if one is not None])


def _lights(plate: Plate, ran: Ran, fps: float | None) -> list[Finding | None]:
    """Fire makes its own light, and lamps that play are meant to change."""
    if plate.kind == "element" or plate.cues:
        return []
    return [_swing(plate, ran, fps), _third(plate, ran), _drift(ran)]


def _swing(plate: Plate, ran: Ran, fps: float | None) -> Finding | None:
    if ran.light is None:
        return Finding(
            "run-light",
            "Light, frame by frame",
            Verdict.HOLDS,
            "Nothing was found: too much of the picture moves, or it is too dark, for its light to "
            "be told.",
        )
    if ran.pulse_frames is not None and ran.pulse_percent > PULSE_HOLDS:
        return _pulse(ran, ran.pulse_frames, fps)
    size = abs(ran.light.percent)
    verdict = banded(size, SWING_HOLDS, SWING_STRAINS)
    told = f"Frame {ran.light.frame:,} is {percent(ran.light.percent)} than those before it"
    if verdict is Verdict.HOLDS:
        sentence = f"Even: no frame stands out by more than {max(size, 0.1):.1f} %."
    elif plate.kind in TIMELESS:
        sentence = (
            f"{told}: a shirt, a curtain or the sun. Stand where you stood, in dark clothes, and "
            "take it again."
        )
    else:
        sentence = (
            f"{told}: an automatic exposure, a lamp, or a flash of the sun. Lock the exposure; "
            + (
                "post can even it out."
                if verdict is Verdict.STRAINS
                else "go again, for post cannot even out so much."
            )
        )
    return _light("run-light", "Light, frame by frame", verdict, sentence, ran.light.frame, size)


def _light(key: str, title: str, verdict: Verdict, said: str, frame: int, size: float) -> Finding:
    return Finding(
        key,
        title,
        verdict,
        said,
        (
            Working(
                "|light of the frame / middle of the three before − 1|, the smaller of that and "
                "the same against the one before",
                (Quantity("n", FRAME, float(frame), ""),),
                Quantity("p", "stands out by", size, "%"),
                SOURCE,
            ),
        ),
    )


def percent(value: float) -> str:
    """A change of light in words."""
    return f"{abs(value):.1f} % {'brighter' if value > 0 else 'darker'}"


def _pulse(ran: Ran, period: float, fps: float | None) -> Finding:
    verdict = banded(ran.pulse_percent, PULSE_HOLDS, PULSE_STRAINS)
    mains = next((hz for hz in MAINS_HZ if fps and _makes(hz, fps, period)), None)
    why = (
        f"as lamps on {mains:g} Hz mains do at {say.rate(fps)}: expose for whole pulses, "
        f"{say.shutter(1.0 / (2.0 * mains))} or {say.shutter(1.0 / mains)}, or change the lamp."
        if mains is not None and fps
        else "look for a lamp on a dimmer, a fan before a lamp, or a screen in the room."
    )
    return Finding(
        "run-light",
        "Light, frame by frame",
        verdict,
        f"The light pulses by {ran.pulse_percent:.1f} % to each side, once in {period:.1f} frames, "
        + why,
        (
            Working(
                "rate / |2 · mains − nearest whole number of rates|",
                (
                    Quantity("f", "frames a second", fps or 0.0, ""),
                    Quantity("T", "frames from crest to crest", period, ""),
                ),
                Quantity("p", "pulse, to each side", ran.pulse_percent, "%"),
                "Lamps pulse twice a period of the mains (common practice); the strongest line of "
                "the light's spectrum.",
            ),
        ),
    )


def _makes(mains_hz: float, fps: float, period: float) -> bool:
    """Whether mains seen at a rate come and go in so many frames."""
    pulses = 2.0 * mains_hz
    beat = abs(pulses - round(pulses / fps) * fps)
    return beat > 0.0 and abs(fps / beat / period - 1.0) < AGREES


def _third(plate: Plate, ran: Ran) -> Finding | None:
    """One side of the picture by itself: only where nobody walks through it."""
    if plate.kind not in TIMELESS or len(ran.thirds) < len(THIRDS) or ran.light is None:
        return None
    number = max(range(3), key=lambda i: abs(ran.thirds[i].percent))
    worst = ran.thirds[number]
    size = abs(worst.percent)
    if size <= max(SWING_HOLDS, 1.5 * abs(ran.light.percent)):
        return None
    return _light(
        "run-side",
        "Light on one side",
        banded(size, SWING_HOLDS, SWING_STRAINS),
        f"The {THIRDS[number]} third is {percent(worst.percent)} in frame {worst.frame:,} and the "
        "rest is not: stand back from that side, in dark clothes.",
        worst.frame,
        size,
    )


def _drift(ran: Ran) -> Finding | None:
    if ran.drift_stops is None:
        return None
    size = abs(ran.drift_stops)
    verdict = banded(size, LIGHT_HOLDS, LIGHT_STRAINS)
    way = "brighter" if ran.drift_stops > 0 else "darker"
    if verdict is Verdict.HOLDS:
        sentence = "As bright at its end as at its beginning."
    else:
        sentence = (
            f"It ends {size:.2f} stop{'' if size <= 1.0 else 's'} {way} than it begins: a cloud, "
            "the hour, a lamp that warms up, or an automatic exposure. "
            + (
                "A slow grade takes it out."
                if verdict is Verdict.STRAINS
                else "Lock the exposure and go again."
            )
        )
    return Finding(
        "run-drift",
        "Light from first to last",
        verdict,
        sentence,
        (
            Working(
                "log2(light of the last tenth / light of the first)",
                (),
                Quantity("Δ", "brighter", ran.drift_stops, "stops"),
                SOURCE,
            ),
        ),
    )


def frames_told(findings: Iterable[Finding]) -> list[int]:
    """The frames (from 1) that findings speak of."""
    inputs = (q for f in findings for w in f.workings for q in w.inputs)
    return sorted({round(q.value) for q in inputs if q.name == FRAME})


def _doubles(ran: Ran) -> Finding:
    key, title = "run-doubles", "Frames taken twice"
    if ran.doubled == 0:
        return Finding(key, title, Verdict.HOLDS, "None.")
    some = _named(ran.doubles, ran.doubled)
    many = ran.doubled > DOUBLES_STRAIN * ran.frames
    one = ran.doubled == 1
    return Finding(
        key,
        title,
        Verdict.BREAKS if many else Verdict.STRAINS,
        f"Frame{'' if one else 's'} {some} {'shows' if one else 'show'} the same as the one before "
        "while something moves: the recorder lost what belonged there. "
        + (
            "Movement stutters; use another card or another application, and go again."
            if many
            else "Post can draw them anew from their neighbours."
        ),
        (
            Working(
                "frames that differ from the one before by less than 15 % of what their neighbours "
                "do, where those move",
                (Quantity("n", FRAME, float(ran.doubles[0]), ""),),
                Quantity("d", "taken twice", float(ran.doubled), ""),
                "By the places that differ most; the limits are judgement.",
            ),
        ),
    )


def _named(frames: tuple[int, ...], count: int, most: int = 5) -> str:
    some = [f"{frame:,}" for frame in frames[:most]]
    return listed([*some, f"{count - len(some):,} more"] if count > len(some) else some)


def _clean(ran: Ran, fps: float | None) -> Finding:
    """What moved in a plate where nothing should; and what of it can be used."""
    key, title = "run-clean", "Is it clean?"
    first, last = ran.calm or (1, 0)
    still, rate = last - first + 1, fps or 24.0
    average = "" if ran.grain is None else _average(still)
    if still >= ran.frames:
        return Finding(key, title, Verdict.HOLDS, f"Nothing moves in it.{average}")
    enough = still >= CALM_HOLDS_S * rate
    verdict = Verdict.STRAINS if enough or still >= CALM_FRAMES else Verdict.BREAKS
    return Finding(
        key,
        title,
        verdict,
        (
            f"Something moves in it, but not from frame {first:,} to {last:,}: use those."
            + (average if enough else " That is short; go again if nobody has to wait for it.")
            if verdict is Verdict.STRAINS
            else f"Something moves in it all the time; only {still:,} frames on end are still. "
            "Everybody out, and go again"
            + ("; the median takes out who passes through." if clears(ran) else ".")
        ),
    )


def clears(ran: Ran) -> bool:
    """Whether the median of its frames shows the place without who passes through: something moves
    in it, and its camera stands."""
    told = ran.lost <= ran.frames // 2 and ran.wander <= LIES
    return told and ran.frames > FEW_FRAMES and any(ran.first)


def _average(still: int) -> str:
    """How much quieter the mean of its frames is."""
    wanted = frames_for(10.0)
    frames = min(still, wanted)
    return f" The mean of {frames:,} frames is {noise_gain(frames):.0f} times quieter than one."
