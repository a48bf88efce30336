"""Does the mode keep colour edges as fine as the delivered picture?"""

from __future__ import annotations

from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.on_side import modes_for
from ..screens.codecs import CHROMA_STEP, PITCH_HOLDS, PITCH_STRAINS
from ..stage.case import Case
from .numbers import asked
from .rule import Measured, Numbers, Rule, ranked, verdict_of
from .way import Way


def judge_recording(case: Case) -> Finding | None:
    """Whether the mode keeps colour edges as fine as the delivered picture."""
    measured = asked(measure, case)
    if measured is None:
        return None
    mode, delivered = case.choice.mode, case.shot.delivery.width_px
    pitch = float(measured.short) + PITCH_HOLDS
    verdict = verdict_of(measured)
    bits = (
        "" if mode.bit_depth >= 10 else " At 8 bits light the screen well and grade after keying."
    )
    sentence = (
        f"{mode.name} keeps one colour sample in {pitch:.1f} delivered pixels"
        + (
            ": edges stay as fine as the picture."
            if verdict is Verdict.HOLDS
            else ": fine hair goes."
        )
        + bits
    )

    return RULE.finding(
        verdict=verdict,
        sentence=sentence,
        workings=(
            pitch_working(mode.subsampling, float(delivered), case.stage.pixels_across, pitch),
        ),
    )


def pitch_working(subsampling: str, delivered: float, recorded: float, pitch: float) -> Working:
    """How the pitch of the colour samples comes about: delivered pixels to one, of a picture
    `recorded` pixels across the delivered view."""
    return Working(
        formula="pitch = samples per chroma sample · delivered / recorded",
        inputs=(
            Quantity(
                "n", f"{subsampling}, across or down", float(max(CHROMA_STEP[subsampling])), ""
            ),
            Quantity("W", "delivered across", delivered, "px"),
            Quantity("R", "recorded across the delivered view", recorded, "px"),
        ),
        result=Quantity("p", "chroma pitch", pitch, "px"),
        source="Chroma subsampling (ITU-R BT.601 and after); the limits are judgement.",
    )


def measure(n: Numbers) -> Measured | None:
    """Delivered pixels to one colour sample; None without a screen."""
    if n.plate.kind != "screen":
        return None
    step = n.of_setup("chroma step", lambda s: float(max(CHROMA_STEP[s.mode.subsampling])))
    pitch = step * n.shot.delivery.width_px / n.pixels
    return Measured(ranked(pitch, PITCH_HOLDS, PITCH_STRAINS), pitch - PITCH_HOLDS)


def _ways(case: Case) -> list[Way]:
    return [
        Way(f"Record with {body.name}, {other.name}.", {"body_id": body.id, "mode_id": other.id})
        for body in case.shot.kit.bodies
        for other in modes_for(case.plate, body)
        if other.id != case.choice.mode.id
    ]


RULE = Rule(
    key="recording",
    title="Recording",
    name="recording for a key",
    speak=judge_recording,
    ways=_ways,
    axes=frozenset({"scale", "setup"}),
    measure=measure,
    otherwise="A mode with full chroma, or one twice as wide.",
)
