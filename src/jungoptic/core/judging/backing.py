"""Is the screen behind the performer large enough for what moves in front of it?"""

from __future__ import annotations

from dataclasses import dataclass

from ..findings import Finding, Quantity, Remedy, Verdict, Working
from ..quantities import length, scale
from ..standins import outlines
from .case import Case, best, remedy

#: Room kept around the action so that an elbow does not leave the screen (common practice).
MARGIN_M = 0.15
#: Screen-to-subject distance under which spill and shadows usually trouble a key
#: (common practice).
USUAL_GAP_M = 2.0
#: Where camera or action moves, the screen is asked at these parts of the screen time.
MOMENTS = (0.0, 0.25, 0.5, 0.75, 1.0)


@dataclass(frozen=True)
class Backing:
    """Where the screen hangs and how large it must be, in stage metres.

    `left_m`, `right_m` and `top_m` bound what the lens sees of the action, thrown onto the
    screen from the entrance pupil.
    """

    distance_m: float
    centre_x_m: float
    left_m: float
    right_m: float
    top_m: float

    @property
    def width_m(self) -> float:
        """Width needed when the screen hangs centred on the action."""
        return self.right_m - self.left_m


def backing(case: Case) -> Backing | None:
    """The screen plane and what it must cover; None for plates without screen or action."""
    return case.once("backing", lambda: _backing(case))


def backing_verdict(case: Case) -> Verdict | None:
    """The verdict of `judge_backing` without its words."""
    plate, needed = case.plate, backing(case)
    if needed is None or plate.screen_width_m <= 0 or plate.screen_height_m <= 0:
        return None
    if plate.screen_width_m < needed.width_m or plate.screen_height_m < needed.top_m:
        return Verdict.BREAKS
    return Verdict.STRAINS if plate.screen_gap_m < USUAL_GAP_M else Verdict.HOLDS


def _backing(case: Case) -> Backing | None:
    plate = case.plate
    own = [s for s in case.shot.stand_ins_of(plate) if s.kind != "ground"]
    if plate.kind != "screen" or not own:
        return None
    moving = not case.shot.move.still or any(s.speed_m_s for s in own)
    parts = MOMENTS if moving else (0.0,)
    own_at = [[s.after(part * case.shot.screen_time_s) for s in own] for part in parts]
    farthest = max(s.y_m + s.depth_m for things in own_at for s in things) / plate.scale
    distance = farthest + plate.screen_gap_m
    lefts, rights, tops = [], [], []
    for part, things in zip(parts, own_at, strict=True):
        camera = case.shot.move.moved(case.stage.camera, part, plate.scale)
        camera_x, camera_y, camera_z = camera.position_m
        for line in (line for s in things for line in outlines(s)):
            at = plate.on_stage(line)
            ahead = at[:, 1] - camera_y
            if (ahead <= 0.05).any():
                return None
            throw = (distance - camera_y) / ahead
            x = camera_x + (at[:, 0] - camera_x) * throw
            z = camera_z + (at[:, 2] - camera_z) * throw
            lefts.append(float(x.min()) - MARGIN_M)
            rights.append(float(x.max()) + MARGIN_M)
            tops.append(float(z.max()) + MARGIN_M)
    left, right = min(lefts), max(rights)
    return Backing(distance, (left + right) / 2.0, left, right, max(tops))


def judge_backing(case: Case) -> Finding | None:
    """Whether the screen covers the action with a margin, and hangs far enough away."""
    plate = case.plate
    needed, verdict = backing(case), backing_verdict(case)
    if needed is None or verdict is None:
        return None
    if verdict is Verdict.BREAKS:
        sentence = (
            f"The action needs {length(needed.width_m)} × {length(needed.top_m)} of screen at "
            f"{length(needed.distance_m)}; this one is {length(plate.screen_width_m)} × "
            f"{length(plate.screen_height_m)}."
        )
    elif verdict is Verdict.STRAINS:
        sentence = (
            f"The screen covers the action but hangs {length(plate.screen_gap_m)} behind it; "
            f"under {length(USUAL_GAP_M)} spill and shadows usually trouble the key."
        )
    else:
        sentence = (
            f"The screen covers the action ({length(needed.width_m)} × {length(needed.top_m)} "
            f"needed); the rest of the frame is garbage matte."
        )
    return Finding(
        key="backing",
        title="Screen",
        verdict=verdict,
        sentence=sentence,
        workings=(
            Working(
                formula="size on the screen = size · screen distance / subject distance, plus "
                "150 mm all round",
                inputs=(
                    Quantity("d", "screen distance", needed.distance_m, "m"),
                    Quantity("gap", "screen behind the action", plate.screen_gap_m, "m"),
                    Quantity("S", f"scale ({scale(plate.scale)})", plate.scale, ""),
                    Quantity("top", "height needed", needed.top_m, "m"),
                ),
                result=Quantity("width", "width needed", needed.width_m, "m"),
                source="Similar triangles; margin and 2 m gap are common practice.",
            ),
        ),
        remedies=() if case.trial or verdict is Verdict.HOLDS else _remedies(case, verdict),
    )


def _remedies(case: Case, before: Verdict) -> tuple[Remedy, ...]:
    plate = case.plate
    ways = [
        remedy(
            case,
            judge_backing,
            before,
            {"screen_gap_m": gap},
            f"Hang the screen {length(gap)} behind the action.",
        )
        for gap in (2.0, 2.5, 1.5, 1.0)
        if gap != plate.screen_gap_m
    ]
    return best(ways, most=2)
