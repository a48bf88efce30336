"""Is the rig seen, does it bear the weight, and what would serve better?"""

from __future__ import annotations

import math
from dataclasses import replace

from ...plan.findings import Finding, Quantity, Remedy, Verdict, Working
from ...plan.tricks import Rig
from ...stage.case import Case
from ...words.quantities import percent, pixels
from .kinds import BY_KIND, COLOURS, KINDS
from .seen import FAINT, SAFETY, RigSeen, chosen, working_load_kg

PEOPLE = (
    "People are never hung, pulled or lifted by this tool's numbers: licensed riggers only, and "
    "local codes."
)


def judge_rig(case: Case) -> Finding | None:
    """How much of the rig is seen, and what it costs to remove; None without a rig."""
    rig = case.plate.rig
    if rig is None:
        return None
    thing = next((s for s in case.shot.stand_ins if s.id == rig.thing_id), None)
    if thing is None:
        return Finding(
            "rig", "Rig", Verdict.STRAINS, "Choose the thing that the rig moves, then it is drawn."
        )
    if thing.kind == "figure":
        return Finding("rig", "Rig", Verdict.BREAKS, PEOPLE)
    found = chosen(case, rig)
    if found is None:
        return Finding("rig", "Rig", Verdict.STRAINS, f"{thing.name} cannot be carried by a rig.")
    verdict = verdict_of(found)
    return Finding(
        key="rig",
        title="Rig",
        verdict=verdict,
        sentence=said(found, thing.name, case.shot.frames),
        workings=(
            Working(
                formula="w = d · f / D;  left = w / max(1, b + min(w, 1)) · contrast",
                inputs=(
                    Quantity("w", "thickness in the picture", found.thick_px, "px"),
                    Quantity("b", "sideways while the shutter is open", found.blur_px, "px"),
                    Quantity("d", "thickness", found.diameter_mm, "mm"),
                ),
                result=Quantity("left", "of its contrast left", found.strength, ""),
                source="Similar triangles and area sampling; 4 % and 12 % are judgement.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _ways(case, rig, found),
    )


#: Thinner lines are not sold by the spool, hundredths of a millimetre (common practice).
THINNEST = 5


def verdict_of(found: RigSeen) -> Verdict:
    """Hidden holds; what a screen or a clean plate takes away strains; the rest breaks."""
    if not found.possible:
        return Verdict.BREAKS
    if found.frames == 0 and found.hides == 0:
        return Verdict.HOLDS
    if found.backing == "screen" or (found.backing == "clean" and not found.before):
        return Verdict.STRAINS
    return Verdict.STRAINS if found.strength <= FAINT and found.hides == 0 else Verdict.BREAKS


def said(found: RigSeen, thing: str, frames: int) -> str:
    """What is seen of a rig, in a sentence."""
    if not found.possible:
        return f"{found.name}: only {found.only}; {thing} does more than that."
    if found.thick_px <= 0:
        return f"{found.name}: nothing of it is seen; {found.note}."
    words = f"{found.name} of {found.diameter_mm:g} mm at {thing} is {pixels(found.thick_px)} thick"
    if found.blur_px >= 0.5:
        words += f" and smeared over {pixels(found.blur_px)}"
    words += f"; {percent(found.strength)} of its contrast is left"
    if found.frames == 0:
        return (
            words + ": hidden."
            if found.hides == 0
            else (words + f", and it covers {found.hides * 100:.0f} % of the thing.")
        )
    words += f", seen on {found.frames} of {frames} frames."
    if found.hides:
        words += f" It covers {found.hides * 100:.0f} % of the thing."
    if found.before:
        words += f" It passes in front of {', '.join(found.before)}, where no clean plate helps."
    elif found.backing == "clean":
        words += f" The clean plate takes it away: about {found.hours.likely:.1f} h."
    elif found.backing == "screen":
        words += " The screen takes most of it away."
    else:
        words += f" There is no clean plate: painted by hand, about {found.hours.likely:.1f} h."
    return words


def _hidden_mm(case: Case, rig: Rig, most_mm: float) -> float:
    """The thickest such line, below `most_mm`, that is not noticed on any frame, found by halving
    to a hundredth of a millimetre; 0 where none that can be had is thin enough, or where it
    need not be thinner."""

    def hidden(hundredths: int) -> bool:
        seen = chosen(case, replace(rig, diameter_mm=hundredths / 100.0))
        return seen is not None and seen.possible and seen.frames == 0

    low, high = THINNEST, math.ceil(most_mm * 100.0)
    if high <= low or hidden(high) or not hidden(low):
        return 0.0
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if hidden(middle) else (low, middle)
    return low / 100.0


def _ways(case: Case, rig: Rig, now: RigSeen) -> tuple[Remedy, ...]:
    thing = next(s.name for s in case.shot.stand_ins if s.id == rig.thing_id)
    before = verdict_of(now)
    tries: list[tuple[str, Rig]] = []
    if now.thick_px > 0 and rig.colour != "matched":
        tries.append(
            (
                f"{now.name} {COLOURS['matched']}: dull it and turn it out of the key.",
                replace(rig, colour="matched"),
            )
        )
    if now.thick_px > 0 and now.strength > 0 and not now.hides:
        for colour in dict.fromkeys((rig.colour, "matched")):
            other = replace(rig, colour=colour, rated_kg=None)
            thin = _hidden_mm(case, other, now.diameter_mm)
            if thin > 0.0:
                words = f"A thinner one, {thin:g} mm"
                words += f" and {COLOURS[colour]}" if colour != rig.colour else ""
                other = replace(other, diameter_mm=thin)
                tries.append((f"{words}; ask what it is rated for.", other))
    for kind in KINDS:
        if kind.key != rig.kind:
            colour = "clear" if kind.key == "line" else rig.colour
            other = replace(rig, kind=kind.key, colour=colour, diameter_mm=None, rated_kg=None)
            tries.append((f"{kind.name} instead: {kind.note}.", other))
    found: list[tuple[int, float, Remedy]] = []
    for words, changed in tries:
        after = chosen(case, changed)
        if after is None or not after.possible:
            continue
        verdict = verdict_of(after)
        cheaper = after.hours.likely < 0.7 * now.hours.likely
        if verdict.rank < before.rank or (verdict is before and cheaper):
            found.append(
                (
                    verdict.rank,
                    after.hours.likely,
                    Remedy(words, said(after, thing, case.shot.frames), verdict, {"rig": changed}),
                )
            )
    found.sort(key=lambda f: f[:2])
    return tuple(r for _, _, r in found[:4])


def judge_load(case: Case) -> Finding | None:
    """Whether the line bears what hangs on it; None where nothing hangs, or a person does."""
    rig = case.plate.rig
    if rig is None or not BY_KIND[rig.kind].carries or rig.kind == "hand":
        return None
    thing = next((s for s in case.shot.stand_ins if s.id == rig.thing_id), None)
    if thing is None or thing.kind == "figure":
        return None
    under = "; nobody stands or passes under it"
    if rig.rated_kg is None:
        return Finding(
            "load",
            "Working load",
            Verdict.STRAINS,
            f"{thing.name} weighs {rig.weight_kg:g} kg. What its {BY_KIND[rig.kind].name.lower()} "
            f"is rated for is not known: it has to be rated for {rig.weight_kg * SAFETY:g} kg or "
            f"more{under}.",
        )
    allowed = working_load_kg(rig.rated_kg)
    holds = rig.weight_kg <= allowed + 1e-9
    remedies: tuple[Remedy, ...] = ()
    if not holds and not case.trial:
        # Rounded up: rounded down it would not hold.
        need = math.ceil(rig.weight_kg * SAFETY * 100.0 - 1e-6) / 100.0
        stronger = replace(rig, rated_kg=need)
        remedies = (
            Remedy(
                f"A line rated for {need:g} kg or more; see what thickness that is.",
                f"Its working load is then {working_load_kg(need):g} kg.",
                Verdict.HOLDS,
                {"rig": stronger},
            ),
            Remedy(
                f"A lighter {thing.name.lower()}: {allowed:g} kg at most.",
                "Thin card or foam on a wire frame.",
                Verdict.HOLDS,
                {"rig": replace(rig, weight_kg=allowed)},
            ),
        )
    return Finding(
        key="load",
        title="Working load",
        verdict=Verdict.HOLDS if holds else Verdict.BREAKS,
        sentence=f"{thing.name} weighs {rig.weight_kg:g} kg; a line rated for {rig.rated_kg:g} kg "
        f"carries {allowed:.3g} kg with a factor of {SAFETY:g}{under}. Never people.",
        workings=(
            Working(
                formula="working load = rated strength / 5",
                inputs=(Quantity("r", "rated strength", rig.rated_kg, "kg"),),
                result=Quantity("l", "working load", allowed, "kg"),
                source="5:1, lifting practice (OSHA 1910.184, ASME B30.9; from memory). Knots take "
                "half of it.",
            ),
        ),
        remedies=remedies,
    )
