"""The set card: the numbers the crew holds, the lock-off checklist, and the cautions.

An issued card keeps these words for good, so they are formatted here, once, with their units.
"""

from __future__ import annotations

import math

from ..judging.bend import unbent
from ..lighting.gels import gel_of
from ..lighting.lamps import lamp_names
from ..lighting.on_stage import lighting
from ..lockoff.checklist import lock_items
from ..plan.plate import Plate
from ..report.shot_report import PlateReport
from ..stage.case import Case
from ..stage.derive import mirror_for
from ..stage.turning import TURNS
from ..words import quantities as say
from .card_line import CardLine
from .cue_lines import cue_lines
from .grip import cloth_lines, support_lines
from .hazards import Hazard, cautions_for
from .trick_card import trick_lines


def card_lines(case: Case, report: PlateReport) -> list[CardLine]:
    """The numbers in the order hands work on set: position, glass, time, light, backing."""
    stage, plate = case.stage, case.plate
    choice = stage.choice
    above = "above the model's ground" if plate.scale != 1 else "above the floor here"
    lines = [
        CardLine(
            "Camera stands",
            "Lens axis height",
            say.length(stage.mark_height_m),
            f"at the sensor mark, {above}",
        )
    ]
    if abs(stage.tilt_deg) >= 0.05:
        at_front = say.length(stage.front_height_m)
        lines.append(
            CardLine("Camera stands", "Lens axis, front", at_front, f"at the lens front, {above}")
        )
    mark = next((m for m in report.marks if m.stand_in_id == report.mark_id), None)
    if mark is not None:
        assumed = " (lens length assumed)" if stage.front_assumed else ""
        panned = abs(stage.camera.pan_deg) >= 0.05
        along = "level, along the line straight ahead" if panned else "level, along the floor"
        lines += [
            CardLine(
                "Camera stands",
                f"Sensor mark to {mark.name}",
                say.length(mark.from_sensor_m),
                along,
            ),
            CardLine(
                "Camera stands",
                f"Lens front to {mark.name}",
                say.length(mark.from_front_m),
                along + assumed,
            ),
        ]
    lines.append(
        CardLine(
            "Camera stands",
            "Tilt",
            say.degrees(stage.tilt_deg),
            "level" if abs(stage.tilt_deg) < 0.05 else "up" if stage.tilt_deg > 0 else "down",
        )
    )
    lines += _turned(case) + _turning(case)
    if plate.drop_m > 0:
        lines.append(
            CardLine(
                "Camera stands", "Camera base", say.length(plate.drop_m), "below the model's ground"
            )
        )
    lines += _on_side(case) + support_lines(case) + _standing(case)
    lines += [
        CardLine("Glass", "Body", choice.body.name, choice.mode.name),
        CardLine("Glass", "Lens", choice.lens.name, f"{stage.marked_mm:.3g} mm"),
        *_measured(case),
        *_zoom(case),
        CardLine("Glass", "Stop", say.stop(plate.f_number), "fixed; tape the ring"),
    ]
    for number, one in enumerate(stage.passes, start=1):
        name = "Focus" if len(stage.passes) == 1 else f"Focus pass {number}"
        tape = one.focus_m + stage.sensor_to_pupil_m
        lines.append(
            CardLine(
                "Glass",
                name,
                say.length(tape),
                "from the sensor mark"
                if not math.isfinite(tape)
                else f"from the sensor mark; {say.length(tape - stage.sensor_to_front_m)} "
                "from the lens front",
            )
        )
    lines += [
        CardLine("Time", "Capture rate", say.rate(stage.capture_fps), choice.mode.name),
        CardLine(
            "Time",
            "Shutter",
            say.shutter(stage.exposure_s),
            f"{plate.shutter_deg:g}°",
        ),
        CardLine("Time", "Action on set", f"{stage.set_duration_s:.1f} s", "from go to stop"),
        CardLine("Light", "ISO", f"{plate.iso:g}", f"ND {plate.nd_stops:g} stops"),
        CardLine("Light", "Light at the action", say.lux(stage.lux_needed), "incident, needed"),
    ]
    lines += _light(case)
    if plate.kind == "screen" and plate.screen_width_m > 0:
        lines.append(
            CardLine(
                "Backing",
                "Screen",
                f"{say.length(plate.screen_width_m)} × {say.length(plate.screen_height_m)}",
                f"{say.length(plate.screen_gap_m)} behind the action"
                + (
                    f", its lower edge {say.length(plate.screen_foot_m)} up"
                    if plate.screen_foot_m
                    else ""
                ),
            )
        )
    if plate.kind == "screen" and plate.screen_sweep_m > 0:
        lines.append(
            CardLine("Backing", "Sweep on the floor", say.length(plate.screen_sweep_m), "no crease")
        )
    return lines + cloth_lines(case) + trick_lines(case)


def _zoom(case: Case) -> list[CardLine]:
    """That a zoom of the story is nobody's work on set."""
    move = case.shot.move
    if move.zoom == 1.0:
        return []
    times = f"{move.closes:.3g} times"
    way = f"closes in {times}" if move.zoom > 1.0 else f"begins {times} closer"
    return [CardLine("Glass", "Zoom", "in post", f"framed for the widest view; the story {way}")]


def _measured(case: Case) -> list[CardLine]:
    """What post needs to know of a lens that was measured."""
    stage = case.stage
    found = case.choice.lens.measured_at(stage.marked_mm)
    if found is None:
        return []
    return [CardLine("Glass", "As measured", f"{stage.focal_mm:.4g} mm", unbent(found))]


def _on_side(case: Case) -> list[CardLine]:
    side = case.plate.on_side
    if not side:
        return []
    return [
        CardLine(
            "Camera stands",
            "On its side",
            f"{side} side down",
            "as seen from behind it; tape the lens axis over its bracket",
        )
    ]


def _turned(case: Case) -> list[CardLine]:
    """Which way a panned camera looks from the line that its marks are told from."""
    pan = case.stage.camera.pan_deg
    if abs(pan) < 0.05:
        return []
    way = "right" if pan > 0 else "left"
    told = "from the line straight ahead, chalked through the sensor mark; marks are told from it"
    return [CardLine("Camera stands", "Turned", f"{say.degrees(abs(pan))} {way}", told)]


def _turning(case: Case) -> list[CardLine]:
    """What a camera that pans or tilts turns about."""
    move, plate = case.shot.move, case.plate
    if not (move.pan_deg or move.tilt_deg):
        return []
    slid = ""
    if plate.slide_mm:
        way = "back" if plate.slide_mm > 0 else "forward"
        slid = f"slid {say.length(abs(plate.slide_mm) / 1000.0)} {way} on its support"
    return [CardLine("Camera stands", "Turns about", f"its {TURNS[plate.turns_about]}", slid)]


def _light(case: Case) -> list[CardLine]:
    """White balance and every lamp placed: where it stands, aims, and what is before it."""
    plate = case.plate
    lines = [CardLine("Light", "White balance", f"{plate.white_k:.0f} K", "manual")]
    for placed, called in zip(plate.lamps, lamp_names(case.shot, plate), strict=True):
        if called is None:
            continue
        lamp = case.shot.kit.lamp(placed.lamp_id)
        side = "right" if placed.x_m >= 0 else "left"
        words = [
            f"{say.length(abs(placed.x_m))} {side} of the line",
            f"{say.length(placed.z_m)} up",
        ]
        if placed.level < 1:
            words.append(f"at {say.percent(placed.level)}")
        if placed.gel:
            words.append(gel_of(placed.gel).name)
        if placed.size_m is not None:
            smaller = lamp is not None and placed.size_m < lamp.size_m
            thing = "opening in black card" if smaller else "frame of diffusion"
            words.append(f"{say.length(placed.size_m)} {thing}")
        if placed.aim is not None:
            x, y, z = placed.aim
            across = "right" if x >= 0 else "left"
            words.append(
                f"aimed at {say.length(y)} ahead, {say.length(abs(x))} {across}, {say.length(z)} up"
            )
        ahead = f"{say.length(abs(placed.y_m))} {'ahead' if placed.y_m >= 0 else 'behind'}"
        lines.append(CardLine("Light", called, ahead, ", ".join(words)))
    found = lighting(case)
    lines += cue_lines(case, found)
    if found is not None and found.lights_off_stops is not None and plate.kind == "miniature":
        lines.append(
            CardLine(
                "Light",
                "Lights-off pass",
                f"{say.stops(found.lights_off_stops)} under",
                "key off, all else as for the take; leave stop, shutter and ISO alone",
            )
        )
    return lines


def _standing(case: Case) -> list[CardLine]:
    """Table, mirror, room and the way of the camera, where there are any."""
    stage, plate, move = case.stage, case.plate, case.shot.move
    group = "Camera stands"
    lines = []
    if plate.table_m is not None:
        lines.append(CardLine(group, "Table top", say.length(plate.table_m), "above the floor"))
    need = mirror_for(case.shot, plate, case.choice) if plate.mirror else None
    if need is not None:
        lines.append(
            CardLine(group, "Mirror at 45°", say.length(need.side_m), "first surface; flop in post")
        )
    room = case.shot.kit.room(plate.room_id)
    if room is not None:
        lines.append(
            CardLine(group, "Room", room.name, "turned across" if plate.room_turned else "")
        )
    if not move.stands:
        turns = [
            f"{word} {angle:+.1f}°"
            for word, angle in (("pan", move.pan_deg), ("tilt", move.tilt_deg))
            if angle
        ]
        way = [
            f"{say.length(abs(value) / plate.scale)} {word}"
            for value, word in (
                (move.right_m, "right" if move.right_m > 0 else "left"),
                (move.away_m, "ahead" if move.away_m > 0 else "back"),
                (move.up_m, "up" if move.up_m > 0 else "down"),
            )
            if value
        ]
        lines.append(
            CardLine(
                group,
                "Camera move",
                say.length(move.length_m / plate.scale),
                ", ".join([*way, *turns]) + f" in {say.seconds(stage.set_duration_s)}",
            )
        )
    return lines


def checklist(case: Case) -> list[str]:
    """What to lock and check before the slate (common practice): from the plate's own numbers, its
    body, place and recipe, and by its kind."""
    plate = case.plate
    items = [f"{i.what}: {i.value}" if i.value else i.what for i in lock_items(case)]
    items += [
        "Slate with this card's number; photograph the tape on the marks",
        "Grey card and reference ball in the hero light",
    ]
    if plate.kind == "miniature":
        items.insert(1, "Axis height taped from the model's ground, not from the floor")
        items.append("Lights-off plate before anything moves")
        # Fewer than planned where fewer reach from the nearest thing to the farthest.
        if len(case.stage.passes) > 1:
            items.append(f"{len(case.stage.passes)} focus passes, same lock-off, same light")
    if plate.kind == "puppet":
        items.insert(1, "Curtains shut, dark clothes, lamps marked and dimmers read")
        items.append("Set photographed from above with a tape, for the rebuild")
    if plate.kind == "element":
        items.insert(1, "Black behind it unlit; nothing bright clipped on the meter")
        items.append("Lens at the height and angle of the plate it goes into")
    if plate.kind == "still":
        items.append("Bracketed exposures, raw if the body can")
    if plate.kind == "screen":
        items.insert(1, "Screen lit and even before the performer steps in")
        items.append("Nothing of the screen's colour on the performer")
        items.append("Feet inside the screen or the floor sweep")
    return items


def cautions(plate: Plate) -> list[Hazard]:
    """The cautions that must stand on this card."""
    return cautions_for(plate)
