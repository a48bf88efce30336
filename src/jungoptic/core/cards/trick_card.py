"""What a set card says of tricks: marks of strips and crowds, the rig, the clean plate, beats and
what a mirrored half must hide."""

from __future__ import annotations

from ..impossible import Impossible
from ..lockoff.beats import beat_sheet
from ..lockoff.clean import clean_plan, is_clean
from ..lockoff.crowd.study import crowd_plan
from ..lockoff.flop import handed
from ..lockoff.group import group_of
from ..lockoff.rigs.kinds import BY_KIND, COLOURS
from ..lockoff.rigs.seen import SAFETY, chosen
from ..lockoff.strips import floor_marks, side_of
from ..lockoff.throw import flight
from ..lockoff.tracked import marker_plan
from ..plan.mirrored import as_told
from ..stage.case import Case
from ..stage.marks import Mark, mark_at
from ..study.in_post import in_post
from ..words import quantities as say
from .card_line import CardLine


def trick_lines(case: Case) -> list[CardLine]:
    """Card lines of every trick that this plate is part of; none that makes no sense."""
    found: list[CardLine] = []
    for lines in (_placed, _clean, _throw, _crowd, _rig, _markers, _beats, _flop):
        try:
            found += lines(case)
        except Impossible:
            continue
    return found


def _placed(case: Case) -> list[CardLine]:
    found = in_post(case)
    if found is None:
        return []
    group = "Placed in post"
    away = say.length(found.from_m)
    lines = [
        CardLine(
            group,
            "Lens to the middle of it",
            away,
            f"along the line of sight; safe from {say.length(found.least_m)} on, the story has it "
            f"{say.length(found.story_m)} away",
        ),
        CardLine(
            group,
            "Looked at",
            say.degrees(abs(found.down_deg)),
            "level with it"
            if abs(found.down_deg) < 0.05
            else "from above"
            if found.down_deg > 0
            else "from below",
        ),
        CardLine(
            group,
            "Framing",
            "as large as the frame allows",
            "all of it, hair and hands too; the lens need not match the story's",
        ),
    ]
    if found.carried:
        lines.append(CardLine(group, "On its mark", "stays there", "post moves it along its way"))
    return lines


def _clean(case: Case) -> list[CardLine]:
    if not is_clean(case.plate):
        return []
    plan = clean_plan(case, False)
    count = plan.tiles[0] * plan.tiles[1] * plan.places
    return [
        CardLine(
            "Clean plate",
            "Roll",
            say.seconds(plan.seconds),
            f"nobody in frame; {plan.frames:,} frames, {plan.gain:.0f} times quieter",
        ),
        CardLine("Clean plate", "Tiles", f"{count}", plan.tiles_why),
    ]


def _throw(case: Case) -> list[CardLine]:
    told = as_told(case.shot)
    found = []
    for split in told.splits:
        flown = flight(told, split)
        if flown is None or side_of(split, case.plate.id) is None:
            continue
        landed = flown.first_frame + len(flown.path_px) - 1
        found.append(
            CardLine(
                "Throw",
                "In the air",
                f"frame {flown.first_frame} to {landed}",
                f"{say.length(flown.apex_m)} high in the middle, {say.seconds(flown.seconds)}",
            )
        )
    return found


def _crowd(case: Case) -> list[CardLine]:
    plan = crowd_plan(case)
    if plan is None:
        return []
    return [
        CardLine(
            "Crowd",
            "In all",
            f"{plan.achieved}",
            f"{len(plan.laid.tiles)} passes, about {plan.minutes:.0f} min; who stands where is in "
            "the marks",
        )
    ]


def trick_marks(case: Case) -> list[Mark]:
    """Marks on the floor that tricks need: the ends of keep-out strips, how near feet may come, and
    everybody of a crowd, pass by pass."""
    try:
        return [*_strip_marks(case), *_crowd_marks(case)]
    except Impossible:
        return []


def _strip_marks(case: Case) -> list[Mark]:
    near = {p.id for p in group_of(case.shot, case.plate)}
    return [
        mark_at(case, f"strip:{split.id}:{mark.name}", mark.name, mark.x_m, mark.y_m)
        for split in case.shot.splits
        if {split.first_id, split.second_id} & near
        for mark in floor_marks(case, split)
    ]


def _crowd_marks(case: Case) -> list[Mark]:
    plan = crowd_plan(case)
    if plan is None:
        return []
    places, scale = plan.laid.places, case.plate.scale
    cast = sorted(plan.looks.looks, key=lambda x: (places[x.place].tile, x.person))
    return [
        mark_at(
            case,
            f"crowd:{look.place}",
            f"Pass {places[look.place].tile + 1}: friend {look.person + 1}, clothes "
            f"{chr(65 + look.wardrobe)}, pose {look.pose + 1}",
            places[look.place].x_m / scale,
            places[look.place].y_m / scale,
        )
        for look in cast
    ]


def _rig(case: Case) -> list[CardLine]:
    rig = case.plate.rig
    seen = None if rig is None else chosen(case, rig)
    if rig is None or seen is None:
        return []
    thick = f"{seen.diameter_mm:g} mm, {COLOURS[rig.colour]}; " if seen.diameter_mm else ""
    found = [CardLine("Rig", "By", seen.name, f"{thick}{seen.note}")]
    kind = BY_KIND[rig.kind]
    if rig.rated_kg is not None and kind.loaded:
        beware = "Eyes away from its line" if kind.pulls else "Nobody under it"
        found.append(
            CardLine(
                "Rig",
                "Working load",
                f"{rig.rated_kg / SAFETY:.3g} kg",
                f"rated {rig.rated_kg:g} kg, factor {SAFETY:g}; it weighs {rig.weight_kg:g} kg. "
                f"{beware}, never people on it",
            )
        )
    return found


def _markers(case: Case) -> list[CardLine]:
    plan = marker_plan(case)
    if plan is None or case.plate.markers is None:
        return []
    markers = case.plate.markers
    apart = "corners and edges" if markers.insert else f"{say.length(markers.spacing_m)} apart"
    return [
        CardLine("Markers", f"On {plan.surface}", f"{plan.count} of {markers.size_mm:g} mm", apart)
    ]


def _beats(case: Case) -> list[CardLine]:
    sheet = beat_sheet(case.shot)
    if sheet is None:
        return []
    return [
        CardLine(
            "Timing",
            beat.name,
            f"{say.seconds(beat.set_s)} after the clap",
            f"frame {beat.frame}" + (", cued by sound" if beat.cue else ""),
        )
        for beat in sheet.beats
        if beat.plate_id == case.plate.id
    ]


def _flop(case: Case) -> list[CardLine]:
    if not case.plate.flop:
        return []
    told = as_told(case.shot)
    return [
        CardLine("Mirrored half", one.what, "other way", one.do) for one in handed(told, case.plate)
    ]
