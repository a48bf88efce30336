"""A chart as a program of a motion rig, in words that any reader of G-code knows (ISO 6983-1)."""

from __future__ import annotations

from .chart import Chart


def program(chart: Chart, name: str, fps: float, real_time: bool) -> str:
    """The program of one axis: places in millimetres on X, or degrees on A, from where it begins.

    Between pictures it goes to each place and stops until it is told to go on (M0); in `real_time`
    it goes without a stop, each part at the feed (units a minute) that fills a frame. The play of
    the gears is in the places: they are what the motor turns to.
    """
    letter = "A" if chart.unit == "deg" else "X"
    unit = "degrees" if chart.unit == "deg" else "millimetres"
    step = 1.0 if chart.rig is None else chart.rig.step
    ways = (
        list(chart.increments) if chart.rig is None else [turned * step for turned in chart.turned]
    )
    safe = "".join(c if c.isalnum() or c in " .,-" else " " for c in name)
    lines = [
        f"({safe}: {unit}, from where it begins)",
        "(the play of the gears is taken up in the places)",
        "G21",
        "G90",
        f"G92 {letter}0",
    ]
    place = 0.0
    for i, way in enumerate(ways):
        place += way
        lines.append(f"(frame {i + 1})")
        if real_time and way:
            lines.append(f"G1 {letter}{place:.4f} F{abs(way) * fps * 60.0:.3f}")
        elif real_time:
            lines.append(f"G4 P{1000.0 / fps:.3f}")
        else:
            lines += [f"G0 {letter}{place:.4f}", "M0"]
    return "\n".join([*lines, "M2", ""])
