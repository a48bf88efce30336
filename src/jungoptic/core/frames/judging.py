"""What a supervisor would say of a sheet before the first picture is taken."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..judging.limits import GAP_TO_WIDTH
from ..plan.findings import Finding, Quantity, Verdict, Working, banded
from ..plan.plate import TIMELESS, Plate
from ..plan.sheet import POSED, Column
from ..plan.shot import Shot
from ..stage.tolerance import relaxed
from ..words.quantities import pixels, seconds
from .chart import Chart
from .follows import CAMERA, CARRIES
from .picture import Moved, Steps
from .smoothness import SEEN_PX, jolts, scaled
from .timing import STOP_S, Stretch, changed_at

#: Steps of a rig that nobody sees in the picture, and those that make a slow move tremble, at 1920
#: wide (judgement: half a pixel).
ROUGH_HOLDS_PX, ROUGH_STRAINS_PX = 0.5, 1.5


def judged(
    shot: Shot,
    plate: Plate,
    columns: Sequence[Column],
    moved: Sequence[Moved],
    steps: Sequence[Steps],
    taken: Sequence[int],
    stops: Sequence[Stretch],
    by_story: Sequence[Moved] = (),
) -> list[Finding]:
    """Every finding of a sheet: of its `columns`, its `moved` axes and those that go `by_story`,
    with what they do in the picture, the pictures `taken` and where it `stops`."""
    posed = [c for c in columns if c.kind in POSED and c.marks]
    camera = [m for m in (*moved, *by_story) if m.column.axis in CAMERA and not m.chart.still]
    found = [
        _stops(shot, stops) if posed or moved else None,
        _late(shot, columns),
        _on_twos(shot, posed, camera),
        _beats(shot, plate, taken) if posed else None,
        _jumps(shot, [] if camera else posed, steps) if plate.kind in TIMELESS else None,
        jolts(shot, moved, steps) if moved else None,
        _off(shot, moved, steps),
        *(one for m in moved for one in _rig(shot, plate, m)),
    ]
    if any(m.chart.rig is not None for m in moved):
        found.append(_rough(shot, moved, steps))
    return [f for f in found if f is not None]


def _stops(shot: Shot, stops: Sequence[Stretch]) -> Finding:
    if not stops:
        return Finding(
            "sheet-stops",
            "Stops",
            Verdict.HOLDS,
            f"No picture stands for longer than {seconds(STOP_S)}.",
        )
    longest = max(stops, key=lambda s: s.frames)
    held = longest.frames / shot.delivery.fps
    more = f"; {len(stops) - 1} more such stretches" if len(stops) > 1 else ""
    return Finding(
        "sheet-stops",
        "Stops",
        Verdict.STRAINS,
        f"Nothing moves from frame {longest.first} to {longest.last} ({seconds(held)}){more}: it "
        "reads as a stop. Keep something alive in it, a blink or a breath, unless the stop is "
        "meant.",
        (
            Working(
                "t = frames / rate",
                (
                    Quantity("n", "frames that one picture stands", longest.frames, ""),
                    Quantity("fps", "shown at", shot.delivery.fps, "fps"),
                ),
                Quantity("t", "it stands for", held, "s"),
                "Half a second is a judgement.",
            ),
        ),
    )


def _late(shot: Shot, columns: Sequence[Column]) -> Finding | None:
    late = [(c.name, m.frame) for c in columns for m in c.marks if m.frame > shot.frames]
    if not late:
        return None
    name, frame = min(late, key=lambda one: one[1])
    return Finding(
        "sheet-late",
        "After the end",
        Verdict.STRAINS,
        f"{len(late)} {'mark stands' if len(late) == 1 else 'marks stand'} after the last frame, "
        f"{shot.frames}; the first at frame {frame} of {name}. Move them, or make the shot longer.",
    )


def _on_twos(shot: Shot, posed: Sequence[Column], axes: Sequence[Moved]) -> Finding | None:
    """A camera that moves at every frame, by `axes`, over a puppet that does not."""
    if not axes or not posed:
        return None
    moving = set().union(*(m.chart.moved_at for m in axes))
    every = {f for f in moving if f - 1 in moving}
    worst: tuple[int, Column] | None = None
    for column in posed:
        changes = set(changed_at(column, shot.frames))
        held = len(every - changes)
        if held and changes & every and (worst is None or held > worst[0]):
            worst = held, column
    if worst is None:
        return None
    held, column = worst
    return Finding(
        "sheet-twos",
        "Held under a moving camera",
        Verdict.STRAINS,
        f"The camera moves at every frame while {column.name} keeps its pose for {held} of them: "
        "against the moving picture it seems to stick and jump. Pose it on ones while the camera "
        "moves, or move the camera on the same frames as the pose.",
    )


def _beats(shot: Shot, plate: Plate, taken: Sequence[int]) -> Finding | None:
    own = [b for b in shot.beats if b.plate_id in (None, plate.id) and b.frame <= shot.frames]
    at = set(taken)
    held = [b for b in own if b.frame not in at]
    if not own:
        return None
    if not held:
        return Finding(
            "sheet-beats",
            "Beats on the sheet",
            Verdict.HOLDS,
            f"{len(own)} {'beat falls' if len(own) == 1 else 'beats fall'} on a new picture.",
        )
    first = min(held, key=lambda b: b.frame)
    before = max(f for f in taken if f < first.frame)
    return Finding(
        "sheet-beats",
        "Beats on the sheet",
        Verdict.STRAINS,
        f"{first.name} is at frame {first.frame}, where the picture of frame {before} still "
        "stands: put a mark there, or move the beat.",
    )


def _jumps(shot: Shot, posed: Sequence[Column], steps: Sequence[Steps]) -> Finding | None:
    """Animated pictures never smear, so that steps are not joined by blur. What is `posed` keeps
    its place as long as its pose; under a moving camera nothing does."""
    hold: dict[str, int] = {}
    for column in posed:
        if column.thing_id:
            gaps = [max(m.every, 1) for m in column.marks]
            hold[column.thing_id] = max([hold.get(column.thing_id, 1), *gaps])
    moving = [s for s in steps if s.step_px > SEEN_PX and s.width_px > 0.0]
    if not moving:
        return None

    def gap(s: Steps) -> float:
        return s.step_px * hold.get(s.thing.id, 1) / s.width_px

    worst = max(moving, key=gap)
    every = hold.get(worst.thing.id, 1)
    step, width = worst.step_px * every, gap(worst)
    verdict = banded(width, GAP_TO_WIDTH * relaxed(shot), math.inf)
    held = f" on {_ones(every)}" if every > 1 else ""
    return Finding(
        "sheet-step",
        "Steps in the picture",
        verdict,
        f"{worst.thing.name} goes {pixels(step)} from picture to picture{held} at its fastest "
        f"(frame {worst.frame}), {width * 100:.0f} % of its width"
        + (
            "."
            if verdict is Verdict.HOLDS
            else ": with no blur to join the steps it seems to jump. Pose it on ones, or slower."
        ),
        (
            Working(
                "g = step · hold / width",
                (
                    Quantity("step", "from frame to frame", worst.step_px, "px"),
                    Quantity("hold", "frames a pose stands", every, ""),
                    Quantity("width", "of it in the picture", worst.width_px, "px"),
                ),
                Quantity("g", "gap in widths", width, ""),
                "Kinematics; a picture taken of what stands still has no blur. Half a width is a "
                "judgement.",
            ),
        ),
    )


def _ones(every: int) -> str:
    names = {1: "ones", 2: "twos", 3: "threes", 4: "fours"}
    return names.get(every, f"every {every}")


def _off(shot: Shot, moved: Sequence[Moved], steps: Sequence[Steps]) -> Finding | None:
    """Whether the charts show what the story's own picture shows."""
    told = [m for m in moved if m.column.axis in CAMERA or m.column.axis in CARRIES]
    if not told or not steps:
        return None
    worst = max(steps, key=lambda s: s.off_px)
    allowed = shot.base_tolerance_px * relaxed(shot)
    verdict = banded(worst.off_px, allowed, 2.0 * allowed)
    return Finding(
        "sheet-off",
        "Against the story's move",
        verdict,
        f"As charted {worst.thing.name} is at most {pixels(worst.off_px)} from where the story has "
        "it"
        + (
            "."
            if verdict is Verdict.HOLDS
            else f"; {pixels(allowed)} pass. Let the chart follow the story, or write its move "
            "into the shot: plates filmed by the story's move will not fit this one."
        ),
    )


def _rig(shot: Shot, plate: Plate, moved: Moved) -> list[Finding]:
    chart, name = moved.chart, moved.column.name
    found = []
    if chart.beyond > 1e-9:
        found.append(
            Finding(
                "sheet-beyond",
                f"{name}: after the end",
                Verdict.STRAINS,
                f"{_way(chart.beyond, chart)} of {name} come after the last frame, {shot.frames}.",
            )
        )
    rig = chart.rig
    if rig is None:
        return found
    if rig.travel is not None:
        verdict = banded(chart.travel, rig.travel, rig.travel)
        found.append(
            Finding(
                "sheet-travel",
                f"{name}: travel",
                verdict,
                f"{name} uses {_way(chart.travel, chart)} of the {_way(rig.travel, chart)} that "
                f"{rig.name} has"
                + (
                    "."
                    if verdict is Verdict.HOLDS
                    else f": {_way(chart.travel - rig.travel, chart)} too many."
                ),
            )
        )
    if rig.per_s is not None and plate.kind not in TIMELESS and chart.moved_at:
        fastest = float(abs(chart.increments).max()) * shot.delivery.fps
        verdict = banded(fastest, rig.per_s, rig.per_s)
        found.append(
            Finding(
                "sheet-speed",
                f"{name}: speed",
                verdict,
                f"{name} runs at {_way(fastest, chart)} a second at its fastest; {rig.name} does "
                f"{_way(rig.per_s, chart)}"
                + ("." if verdict is Verdict.HOLDS else ": slow the move, or film it slower."),
            )
        )
    return found


def _rough(shot: Shot, moved: Sequence[Moved], steps: Sequence[Steps]) -> Finding | None:
    worst = max(steps, key=lambda s: s.rough_px, default=None)
    if worst is None or max(s.step_px for s in steps) <= SEEN_PX:
        return None
    allowed = scaled(shot, ROUGH_HOLDS_PX)
    verdict = banded(worst.rough_px, allowed, scaled(shot, ROUGH_STRAINS_PX))
    charts = [m.chart for m in moved if m.chart.rig is not None]
    cure = "Rigs with finer steps, or a faster move, are smoother."
    if len(charts) == 1 and charts[0].rig is not None and worst.rough_px > allowed:
        fine = charts[0].rig.step * allowed / worst.rough_px
        cure = f"Steps of {_way(fine, charts[0])} or finer do."
    return Finding(
        "sheet-rough",
        "Whole steps",
        verdict,
        f"Whole steps of the rigs put {worst.thing.name} {pixels(worst.rough_px)} off at most"
        + ("." if verdict is Verdict.HOLDS else f": a slow move trembles. {cure}"),
    )


def _way(value: float, chart: Chart) -> str:
    shown = f"{value:.1f}" if value >= 1.0 else f"{value:.2g}"
    shown = shown.rstrip("0").rstrip(".") if "." in shown else shown
    return f"{shown}{'°' if chart.unit == 'deg' else ' mm'}"
