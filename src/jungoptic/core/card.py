"""The set card: the numbers the crew holds, the lock-off checklist, and the cautions.

An issued card keeps these words for good, so they are formatted here, once, with their units.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from . import quantities as say
from .hazards import Hazard, cautions_for
from .judging.case import Case
from .lamps import lamp_names
from .plan import Plate
from .report import PlateReport
from .staging import mirror_for

#: Seconds of clean plate to roll with everything as for the take (common practice).
CLEAN_PLATE_S = "20 to 30 s"


@dataclass(frozen=True)
class CardLine:
    """One number: which hand needs it, what it is, the value, and a word on how to take it."""

    group: str
    label: str
    value: str
    detail: str = ""


def card_lines(case: Case, report: PlateReport) -> list[CardLine]:
    """The numbers in the order hands work on set: position, glass, time, light, backing."""
    stage, plate = case.stage, case.plate
    choice = stage.choice
    lines = [
        CardLine(
            "Camera stands",
            "Lens axis height",
            say.length(stage.axis_m),
            "above the model's ground" if plate.scale != 1 else "above the floor here",
        )
    ]
    mark = next((m for m in report.marks if m.stand_in_id == report.mark_id), None)
    if mark is not None:
        assumed = " (lens length assumed)" if stage.front_assumed else ""
        lines += [
            CardLine(
                "Camera stands",
                f"Sensor mark to {mark.name}",
                say.length(mark.from_sensor_m),
                "level, along the floor",
            ),
            CardLine(
                "Camera stands",
                f"Lens front to {mark.name}",
                say.length(mark.from_front_m),
                "level, along the floor" + assumed,
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
    if plate.drop_m > 0:
        lines.append(
            CardLine(
                "Camera stands", "Camera base", say.length(plate.drop_m), "below the model's ground"
            )
        )
    lines += _standing(case)
    lines += [
        CardLine("Glass", "Body", choice.body.name, choice.mode.name),
        CardLine("Glass", "Lens", choice.lens.name, f"{stage.focal_mm:.3g} mm"),
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
    if plate.kind == "screen" and plate.screen_width_m > 0:
        lines.append(
            CardLine(
                "Backing",
                "Screen",
                f"{say.length(plate.screen_width_m)} × {say.length(plate.screen_height_m)}",
                f"{say.length(plate.screen_gap_m)} behind the action",
            )
        )
    for placed, called in zip(plate.lamps, lamp_names(case.shot, plate), strict=True):
        if called is None:
            continue
        side = "right" if placed.x_m >= 0 else "left"
        lines.append(
            CardLine(
                "Light",
                called,
                f"{say.length(placed.y_m)} ahead",
                f"{say.length(abs(placed.x_m))} {side} of the line, {say.length(placed.z_m)} up"
                + (f", at {say.percent(placed.level)}" if placed.level < 1 else ""),
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
    if not move.still:
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


def checklist(plate: Plate) -> list[str]:
    """What to lock and check before the slate (common practice), by kind of plate."""
    items = [
        "Tripod on hard floor, sandbag hung, feet taped round",
        "Focus by the tape, then manual; ring taped",
        "Stop, shutter, ISO and white balance manual; read them back aloud",
        "Stabiliser and automatic sharpening off",
        "Remote release or self-timer: nobody touches the camera",
        f"Clean plate: {CLEAN_PLATE_S} with everything as for the take",
        "Slate with this card's number; photograph the tape on the marks",
        "Grey card and reference ball in the hero light",
    ]
    if plate.kind == "miniature":
        items.insert(1, "Axis height taped from the model's ground, not from the floor")
        items.append("Lights-off plate before anything moves")
        if plate.focus_passes > 1:
            items.append(f"{plate.focus_passes} focus passes, same lock-off, same light")
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
