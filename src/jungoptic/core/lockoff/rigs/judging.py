"""Is the rig seen, does it bear the weight, and what would serve better?"""

from __future__ import annotations

import math
from dataclasses import replace

from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.findings import Finding, Quantity, Verdict, Working
from ...plan.grip import Cord
from ...plan.standins import StandIn
from ...plan.tricks import Rig, RigKind
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
    thing = _thing(case, rig)
    if thing is None:
        return RIG.finding(
            Verdict.STRAINS, "Choose the thing that the rig moves, then it is drawn."
        )
    if thing.kind == "figure":
        return RIG.finding(Verdict.BREAKS, PEOPLE)
    found = chosen(case, rig)
    if found is None:
        return RIG.finding(Verdict.STRAINS, f"{thing.name} cannot be carried by a rig.")
    verdict = verdict_of(found)
    return RIG.finding(
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
    )


#: Thinner lines are not sold by the spool, hundredths of a millimetre (common practice).
THINNEST = 5


def verdict_of(found: RigSeen) -> Verdict:
    """Hidden holds; what a screen or a clean plate takes away strains; the rest breaks."""
    if not found.possible:
        return Verdict.BREAKS
    if found.frames == 0 and found.reflected_frames == 0 and found.hides == 0:
        return Verdict.HOLDS
    if found.backing == "clean" and not found.before:
        return Verdict.STRAINS
    # A screen takes away what is before it, and nothing that lies in the floor.
    image = found.reflected or 0.0
    left = image if found.backing == "screen" else max(found.strength, image)
    hides = found.hides if found.backing != "screen" else 0.0
    return Verdict.STRAINS if left <= FAINT and hides == 0 else Verdict.BREAKS


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
        hidden = (
            ": hidden."
            if found.hides == 0
            else f", and it covers {percent(found.hides)} of the thing."
        )
        return words + hidden + _mirrored(found)
    words += f", seen on {found.frames} of {frames} frames."
    if found.hides:
        words += f" It covers {percent(found.hides)} of the thing."
    if found.before:
        words += f" It passes in front of {', '.join(found.before)}, where no clean plate helps."
    elif found.backing == "clean":
        words += f" The clean plate takes it away: about {found.hours.likely:.1f} h."
    elif found.backing == "screen":
        words += " The screen takes most of it away."
    else:
        words += f" There is no clean plate: painted by hand, about {found.hours.likely:.1f} h."
    return words + _mirrored(found)


def _mirrored(found: RigSeen) -> str:
    """What of a rig is seen in the surface that shines, where one does."""
    if found.reflected is None:
        return ""
    if found.reflected <= 0.0:
        return " In what shines nothing of it is seen."
    told = f" Its image in what shines keeps {percent(found.reflected)} of its contrast"
    if found.reflected_frames == 0:
        return f"{told}: hidden."
    return f"{told}, seen on {found.reflected_frames} frames."


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


def _rig_ways(case: Case) -> list[Way]:
    """Dulled, thinner, or another rig; worth it also where it only saves hours."""
    rig = case.plate.rig
    thing = None if rig is None else _thing(case, rig)
    if rig is None or thing is None or thing.kind == "figure":
        return []
    now = chosen(case, rig)
    if now is None:
        return []

    def hours(tried: Case) -> float:
        seen = None if tried.plate.rig is None else chosen(tried, tried.plate.rig)
        return math.inf if seen is None else seen.hours.likely

    tries: list[tuple[str, Rig]] = []
    tries += [(f"{hung_on(cord)}.", spun(rig, cord)) for cord in spools(case, rig)]
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
    return [
        Way(
            words,
            {"rig": changed},
            gains=lambda t: hours(t) < 0.7 * now.hours.likely,
            order=hours,
        )
        for words, changed in tries
        if _possible(case, changed)
    ]


#: Kinds that are a thread or a line.
CORDED: frozenset[RigKind] = frozenset({"thread", "line", "sled", "pull"})


def spools(case: Case, rig: Rig) -> tuple[Cord, ...]:
    """The threads and lines owned that a rig could use instead, there on its day."""
    if rig.kind not in CORDED:
        return ()
    kit = case.shot.kit
    there = kit.there(kit.cords, case.plate.film_on)
    return tuple(c for c in there if (c.diameter_mm, c.rated_kg) != (rig.diameter_mm, rig.rated_kg))


def hung_on(cord: Cord) -> str:
    """A thread or line that is owned, in words."""
    rated = "rating unknown" if cord.rated_kg is None else f"rated for {cord.rated_kg:g} kg"
    return f"Take the {cord.name}: {cord.diameter_mm:g} mm, {rated}"


def spun(rig: Rig, cord: Cord) -> Rig:
    """The rig with a thread or line that is owned."""
    colour = "clear" if cord.clear else "plain" if rig.colour == "clear" else rig.colour
    return replace(rig, diameter_mm=cord.diameter_mm, rated_kg=cord.rated_kg, colour=colour)


def _possible(case: Case, rig: Rig) -> bool:
    after = chosen(case, rig)
    return after is not None and after.possible


def _thing(case: Case, rig: Rig) -> StandIn | None:
    """What the rig moves."""
    return next((s for s in case.shot.stand_ins if s.id == rig.thing_id), None)


def judge_load(case: Case) -> Finding | None:
    """Whether the line bears what hangs on it; None where nothing hangs, or a person does."""
    rig = case.plate.rig
    kind = None if rig is None else BY_KIND[rig.kind]
    if rig is None or kind is None or not kind.loaded:
        return None
    thing = _thing(case, rig)
    if thing is None or thing.kind == "figure":
        return None
    # What is dragged can jam, and then all of its weight hangs on the thread, and more.
    under = (
        "; eyes away from its line: it whips"
        if kind.pulls
        else "; nobody stands or passes under it"
    )
    if rig.rated_kg is None:
        return LOAD.finding(
            Verdict.STRAINS,
            f"{thing.name} weighs {rig.weight_kg:g} kg. What its {kind.name.lower()} "
            f"is rated for is not known: it has to be rated for {rig.weight_kg * SAFETY:g} kg or "
            f"more{under}.",
        )
    allowed = working_load_kg(rig.rated_kg)
    holds = rig.weight_kg <= allowed + 1e-9
    return LOAD.finding(
        verdict=Verdict.HOLDS if holds else Verdict.BREAKS,
        sentence=f"{thing.name} weighs {rig.weight_kg:g} kg; a line rated for {rig.rated_kg:g} kg "
        f"{'pulls' if kind.pulls else 'carries'} {allowed:.3g} kg with a factor of {SAFETY:g}"
        f"{under}. Never people.",
        workings=(
            Working(
                formula="working load = rated strength / 5",
                inputs=(Quantity("r", "rated strength", rig.rated_kg, "kg"),),
                result=Quantity("l", "working load", allowed, "kg"),
                source="5:1, lifting practice (OSHA 1910.184, ASME B30.9; from memory). Knots take "
                "half of it.",
            ),
        ),
    )


def _load_ways(case: Case) -> list[Way]:
    rig = case.plate.rig
    thing = None if rig is None else _thing(case, rig)
    if rig is None or thing is None:
        return []
    owned = [
        Way(f"{hung_on(cord)}.", {"rig": spun(rig, cord)})
        for cord in spools(case, rig)
        if cord.rated_kg is not None and working_load_kg(cord.rated_kg) >= rig.weight_kg
    ]
    if rig.rated_kg is None:
        return owned
    allowed = working_load_kg(rig.rated_kg)
    # Rounded up: rounded down it would not hold.
    need = math.ceil(rig.weight_kg * SAFETY * 100.0 - 1e-6) / 100.0
    return [
        *owned,
        Way(
            f"A line rated for {need:g} kg or more; see what thickness that is.",
            {"rig": replace(rig, rated_kg=need)},
            f"Its working load is then {working_load_kg(need):g} kg.",
        ),
        Way(
            f"A lighter {thing.name.lower()}: {allowed:g} kg at most.",
            {"rig": replace(rig, weight_kg=allowed)},
            "Thin card or foam on a wire frame.",
        ),
    ]


RIG = Rule(
    key="rig",
    title="Rig",
    name="rig",
    speak=judge_rig,
    ways=_rig_ways,
    of_shot=True,
    otherwise="A thinner line, or one that hangs where a clean plate shows what it hides.",
)


LOAD = Rule(
    key="load",
    title="Working load",
    name="working load",
    speak=judge_load,
    ways=_load_ways,
    of_shot=True,
    otherwise="A line that is rated for more, or something lighter on it.",
)
