"""The whole plan of a crowd: places, passes, looks, minutes, and what is wrong with it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ...cost.effort import BY_KEY
from ...judging.limits import CROWD_APART, CROWD_BREAKS_UNDER, HEAD_SHOWS
from ...judging.rule import Rule
from ...judging.way import Way
from ...plan.findings import Finding, Quantity, Verdict, Working
from ...plan.tricks import Crowd
from ...stage.case import Case
from ...stage.rooms import room_fit
from ...words.quantities import length, pixels
from .looks import Looks, assign
from .places import Laid, ScreenRow, lay_out, screen_rows

#: Takes of one pass of a crowd.
TAKES = 2


@dataclass(frozen=True)
class CrowdPlan:
    """A crowd laid out and cast, how many it comes to, how long it takes on set, and for a crowd
    before a screen how each row is filmed."""

    plate_id: str
    laid: Laid
    looks: Looks
    achieved: int
    minutes: float
    screen: tuple[ScreenRow, ...]
    finding: Finding


def crowd_plan(case: Case) -> CrowdPlan | None:
    """The crowd of a plate; None without one. Raises Impossible for an area that is none."""
    plate = case.plate
    # Kept with the shot: its judgement, the plan and the picture ask for it, each with a case.
    hangs_on = (plate.crowd, plate.kind, plate.takes_planned, plate.screen_gap_m, plate.room_id)
    key = f"crowd:{plate.id}:{hangs_on}"
    return case.shot.once(key, lambda: _crowd_plan(case))


def _crowd_plan(case: Case) -> CrowdPlan | None:
    crowd = case.plate.crowd
    if crowd is None:
        return None
    width = float(case.shot.delivery.width_px)
    laid = lay_out(case.shot, crowd)
    looks = assign(laid, crowd, width)
    rows: tuple[ScreenRow, ...] = ()
    if case.plate.kind == "screen" and laid.rows:
        rows = screen_rows(case, laid, crowd.ground_m, _farthest(case))
    return CrowdPlan(
        case.plate.id,
        laid,
        looks,
        len(laid.places),
        minutes(len(laid.tiles), looks.changes, case.plate.takes_planned),
        rows,
        _finding(case, crowd, laid, looks),
    )


def minutes(tiles: int, changes: int, takes: int = TAKES) -> float:
    """Minutes on set for that many passes and changes of clothes, once the lock-off stands."""
    each = BY_KEY["pass"].likely_min + min(takes, TAKES) * BY_KEY["take"].likely_min
    return tiles * each + changes * BY_KEY["change"].likely_min


def _farthest(case: Case) -> float:
    """How far from the lens a person can stand before the screen of this plate."""
    fit = room_fit(case)
    if fit is None:
        return float("inf")
    return max(fit.front_m - case.plate.screen_gap_m, 1.0)


def _finding(case: Case, crowd: Crowd, laid: Laid, looks: Looks) -> Finding:
    width = float(case.shot.delivery.width_px)
    have = len(laid.places)
    near = looks.nearest_px is not None and looks.nearest_px < CROWD_APART * width
    hidden = [r for r in laid.rows if r.head_shows < HEAD_SHOWS]
    words = (
        f"{crowd.people} people in {len(laid.tiles)} passes and {len(laid.rows)} rows come to "
        f"{have}; {crowd.wanted} are wanted."
    )
    if laid.lost:
        words += f" {laid.lost} would stand across two passes and are left out."
    if near:
        words += (
            f" The same look is seen twice {pixels(looks.nearest_px or 0.0)} apart: closer than a "
            "fifth of the picture."
        )
    if hidden:
        words += (
            f" From row {laid.rows.index(hidden[0]) + 1} on heads hide behind those in front "
            f"(lens at {length(case.shot.world.height_m)})."
        )
    verdict = Verdict.HOLDS
    if have < CROWD_BREAKS_UNDER * crowd.wanted:
        verdict = Verdict.BREAKS
    elif have < crowd.wanted or near or hidden:
        verdict = Verdict.STRAINS
    return Finding(
        key="crowd",
        title="Crowd",
        verdict=verdict,
        sentence=words,
        workings=(
            Working(
                formula="people in all = sum over the passes of those whose edges stay inside it",
                inputs=(
                    Quantity("n", "people", float(crowd.people), ""),
                    Quantity("t", "passes", float(len(laid.tiles)), ""),
                    Quantity("lost", "across two passes", float(laid.lost), ""),
                    Quantity("out", "outside the picture", float(laid.outside), ""),
                ),
                result=Quantity("all", "people in all", float(have), ""),
                source="Pinhole projection of a 1.7 m person 0.6 m wide; looks by linear "
                "assignment (Kuhn 1955). The fifth of the picture is judgement.",
            ),
        ),
    )


def judge_crowd(case: Case) -> Finding | None:
    """Whether few people come to as many as are wanted; None without a crowd."""
    plan = crowd_plan(case)
    return None if plan is None else plan.finding


def _ways(case: Case) -> list[Way]:
    """Closer, deeper, more clothes, a higher lens, a wider area: worth it also where they only come
    nearer to what is wanted."""
    crowd, now = case.plate.crowd, crowd_plan(case)
    if crowd is None or now is None:
        return []

    def people(tried: Case) -> int:
        plan = crowd_plan(tried)
        return 0 if plan is None else plan.achieved

    def way(words: str, other: Crowd | None = None, height_m: float | None = None) -> Way:
        return Way(
            words,
            {} if other is None else {"crowd": other},
            shot={} if height_m is None else {"camera_height_m": height_m},
            gains=lambda t: people(t) > now.achieved + 2,
            order=lambda t: -people(t),
        )

    ways = []
    for factor in (0.9, 0.8, 0.7, 0.6):
        spacing = round(max(crowd.spacing_m * factor, 0.65), 2)
        if spacing < crowd.spacing_m:
            ways.append(way(f"Stand {length(spacing)} apart.", replace(crowd, spacing_m=spacing)))
    deeper = round(crowd.far_m + 2.0 * crowd.row_m, 2)
    ways.append(way(f"Fill back to {length(deeper)}.", replace(crowd, far_m=deeper)))
    more = max(crowd.wardrobe + 1, 3)
    ways.append(way(f"Bring {more} sets of clothes each.", replace(crowd, wardrobe=more)))
    for rise in (0.5, 1.0, 2.0):
        up = round(case.shot.world.height_m + rise, 2)
        ways.append(way(f"Raise the lens to {length(up)}.", height_m=up))
    wide = replace(crowd, left_m=crowd.left_m - 2.0, right_m=crowd.right_m + 2.0)
    ways.append(way("Make the area 2 m wider to each side.", wide))
    return ways


RULE = Rule(
    key="crowd",
    title="Crowd",
    name="crowd",
    speak=judge_crowd,
    ways=_ways,
    of_shot=True,
    otherwise="More friends, more passes, or a smaller crowd.",
)
